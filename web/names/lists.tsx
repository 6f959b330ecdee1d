import { useQueryClient } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { Download, Plus, Upload } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { ControlledList, ListValue, Share, ShareNaming } from '../../core/contract'
import { listFromCsv, listToCsv } from '../../core/naming/list-csv'
import { checkListValues } from '../../core/naming/rules'
import type { Sentence } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { t, told } from '../words/all'

/** Controlled lists: values with their labels, retired ones kept for the names that have them. */
export function Lists({ share, naming, mayChange }: { share: Share; naming: ShareNaming; mayChange: boolean }) {
  const [at, setAt] = useState<string | null>(null)
  const [making, setMaking] = useState(false)
  const list = naming.lists.find(({ id }) => id === at) ?? naming.lists[0]
  const usedBy = naming.conventions.filter(({ rules }) =>
    rules.parts.some((part) => part.kind === 'list' && part.listId === list?.id),
  )
  return (
    <div className="flex h-full min-h-0 flex-col md:flex-row">
      <div className="w-full shrink-0 overflow-auto border-b px-3 py-2 md:w-56 md:border-b-0 md:border-r md:py-5 md:pl-6">
        <ul>
          {naming.lists.map((one) => (
            <li key={one.id}>
              <button
                type="button"
                aria-current={one === list ? 'true' : undefined}
                className={clsx(
                  'flex w-full items-baseline gap-2 rounded-md px-3 py-1.5 text-left',
                  one === list ? 'bg-wash font-semibold' : 'hover:bg-wash',
                )}
                onClick={() => setAt(one.id)}
              >
                <span className="min-w-0 flex-1 truncate">{one.name}</span>
                <span className="text-[13px] font-normal text-soft">{one.values.length}</span>
              </button>
            </li>
          ))}
        </ul>
        {mayChange && (
          <Button className="mt-3" onClick={() => setMaking(true)}>
            <Plus size={16} aria-hidden />
            {t('names.new-list')}
          </Button>
        )}
      </div>
      {list ? (
        <ListEditor key={list.id} list={list} usedBy={usedBy.map(({ name }) => name)} mayChange={mayChange} />
      ) : (
        <div className="flex-1">
          <Blank title={t('names.has-no-lists-yet', { shareName: share.name })}>
            {t('names.a-list-holds-the-values-that-a')}
          </Blank>
        </div>
      )}
      {making && (
        <NewList
          share={share}
          onClose={() => setMaking(false)}
          onMade={(made) => {
            setMaking(false)
            setAt(made.id)
          }}
        />
      )}
    </div>
  )
}

function NewList({
  share,
  onClose,
  onMade,
}: {
  share: Share
  onClose: () => void
  onMade: (made: ControlledList) => void
}) {
  const client = useQueryClient()
  const [name, setName] = useState('')
  const [fault, setFault] = useState('')
  const make = async () => {
    try {
      const made = await call('newList', { body: { shareId: share.id, name, values: [] } })
      await client.invalidateQueries({ queryKey: keys.naming(share.id) })
      onMade(made)
    } catch (error) {
      setFault(error instanceof Refused ? told(error.problem) : t('common.it-could-not-be-made'))
    }
  }
  return (
    <Question
      title={t('names.a-new-list')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!name.trim()} onClick={make}>
            {t('common.make-it')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <Field
        label={t('names.what-it-lists')}
        value={name}
        fault={fault}
        autoFocus
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && name.trim() && void make()}
      />
    </Question>
  )
}

interface Arrived {
  file: string
  values?: ListValue[]
  faults?: { line: number; reason: Sentence }[]
}

function ListEditor({ list, usedBy, mayChange }: { list: ControlledList; usedBy: string[]; mayChange: boolean }) {
  const client = useQueryClient()
  const [values, setValues] = useState<ListValue[]>(list.values)
  const [revision, setRevision] = useState(list.revision)
  const [refusal, setRefusal] = useState('')
  const [arrived, setArrived] = useState<Arrived | null>(null)
  const chooser = useRef<HTMLInputElement>(null)
  const scroller = useRef<HTMLDivElement>(null)
  const dirty = JSON.stringify(values) !== JSON.stringify(list.values)
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at when the list arrives, not while it is being typed in
  useEffect(() => {
    // What somebody else changed comes in unless it would undo what is being typed here.
    if (list.revision !== revision && !dirty) {
      setValues(list.values)
      setRevision(list.revision)
    }
  }, [list])
  const faults = checkListValues(values)
  const rows = useVirtualizer({
    count: values.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 38,
    overscan: 10,
  })
  const set = (row: number, part: Partial<ListValue>) =>
    setValues(values.map((value, at) => (at === row ? { ...value, ...part } : value)))
  const keep = async (next: ListValue[]) => {
    try {
      const kept = await call('changeList', {
        params: { listId: list.id },
        body: { name: list.name, values: next, revision },
      })
      setRevision(kept.revision)
      setValues(kept.values)
      setRefusal('')
      await client.invalidateQueries({ queryKey: keys.naming(list.shareId) })
      toast(t('names.has-values-now', { listName: list.name, values: kept.values.length }))
    } catch (error) {
      setRefusal(error instanceof Refused ? told(error.problem) : t('names.it-could-not-be-kept'))
    }
  }
  const takeOut = () => {
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([listToCsv(values)], { type: 'text/csv' }))
    link.download = `${list.name}.csv`
    link.click()
    setTimeout(() => URL.revokeObjectURL(link.href), 1000)
  }
  const bringIn = async (file: File) => {
    const read = listFromCsv(await file.text())
    setArrived({ file: file.name, ...read })
  }
  return (
    <section className="flex min-w-0 flex-1 flex-col px-6 py-5" aria-label={list.name}>
      <div className="flex flex-wrap items-center gap-2 pb-3">
        <div className="mr-auto">
          <h2 className="text-[17px] font-semibold">{list.name}</h2>
          <p className="text-[14px] text-soft">
            {usedBy.length
              ? t('names.used-by', { usedBy: usedBy.map((name) => `‹${name}›`).join(', ') })
              : t('names.not-used-by-a-convention-yet')}
          </p>
        </div>
        <Button onClick={takeOut}>
          <Download size={16} aria-hidden />
          {t('names.save-as-csv')}
        </Button>
        {mayChange && (
          <>
            <Button onClick={() => chooser.current?.click()}>
              <Upload size={16} aria-hidden />
              {t('names.bring-in-csv')}
            </Button>
            <input
              ref={chooser}
              type="file"
              accept=".csv,text/csv"
              className="hidden"
              aria-label={t('names.csv-file-of-values')}
              onChange={(event) => {
                const [file] = event.target.files ?? []
                if (file) void bringIn(file)
                event.target.value = ''
              }}
            />
          </>
        )}
      </div>
      <div className="grid grid-cols-[96px_minmax(0,1fr)_70px] gap-3 border-b md:grid-cols-[150px_minmax(0,1fr)_90px] pb-1.5 text-[13px] text-soft">
        <span>{t('names.code')}</span>
        <span>{t('common.label')}</span>
        <span>{t('names.no-longer-used')}</span>
      </div>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
        {values.length === 0 && <p className="py-3 text-soft">{t('names.no-values-yet-type-them-here-or')}</p>}
        <div style={{ height: rows.getTotalSize() }} className="relative">
          {rows.getVirtualItems().map(({ index, start }) => {
            const value = values[index]!
            const fault = faults.find(({ row }) => row === index)
            const field = clsx(
              'h-8 w-full rounded border bg-transparent px-2 hover:border-rule-strong focus:bg-sheet disabled:border-transparent',
              fault ? 'border-rust' : 'border-transparent',
            )
            return (
              <div
                key={index}
                style={{ transform: `translateY(${start}px)` }}
                className="absolute inset-x-0 grid h-[38px] grid-cols-[96px_minmax(0,1fr)_70px] md:grid-cols-[150px_minmax(0,1fr)_90px] items-center gap-3 border-b"
                title={fault && told(fault.reason)}
              >
                <input
                  aria-label={t('names.code-2', { it: index + 1 })}
                  className={clsx(field, 'font-mono text-[14px]', value.retired && 'text-soft line-through')}
                  disabled={!mayChange}
                  value={value.code}
                  onChange={(event) => set(index, { code: event.target.value })}
                />
                <input
                  aria-label={t('names.label-of-2', { code: value.code })}
                  className={field}
                  disabled={!mayChange}
                  value={value.label}
                  dir="auto"
                  onChange={(event) => set(index, { label: event.target.value })}
                />
                <input
                  type="checkbox"
                  aria-label={t('names.is-no-longer-used', { code: value.code })}
                  className="ml-2 justify-self-start accent-accent"
                  disabled={!mayChange}
                  checked={value.retired}
                  onChange={(event) => set(index, { retired: event.target.checked })}
                />
              </div>
            )
          })}
        </div>
      </div>
      {mayChange && (
        <div className="flex items-center gap-3 pt-3">
          <Button
            onClick={() => {
              setValues([...values, { code: '', label: '', retired: false }])
              requestAnimationFrame(() => rows.scrollToIndex(values.length))
            }}
          >
            <Plus size={16} aria-hidden />
            {t('names.add-a-value')}
          </Button>
          <Button look="main" disabled={!dirty || faults.length > 0} onClick={() => keep(values)}>
            {t('names.save-the-changes')}
          </Button>
          {dirty && (
            <Button look="quiet" onClick={() => setValues(list.values)}>
              {t('names.undo-the-changes')}
            </Button>
          )}
          <p role="alert" className="min-w-0 flex-1 text-[14px] text-rust">
            {faults[0] ? t('names.line', { it: faults[0].row + 1, reason: faults[0].reason }) : refusal}
          </p>
        </div>
      )}
      {arrived && (
        <ArrivedQuestion
          arrived={arrived}
          list={list}
          onClose={() => setArrived(null)}
          onTake={(next) => void keep(next).then(() => setArrived(null))}
        />
      )}
    </section>
  )
}

function ArrivedQuestion({
  arrived,
  list,
  onTake,
  onClose,
}: {
  arrived: Arrived
  list: ControlledList
  onTake: (values: ListValue[]) => void
  onClose: () => void
}) {
  const { values, faults } = arrived
  const before = new Map(list.values.map((value) => [value.code, value]))
  const after = new Set(values?.map(({ code }) => code))
  const added = values?.filter(({ code }) => !before.has(code)) ?? []
  const changed =
    values?.filter(
      (value) => before.has(value.code) && JSON.stringify(before.get(value.code)) !== JSON.stringify(value),
    ) ?? []
  // Names may still have a value that is not in the file: it is retired, not lost.
  const gone = list.values.filter(({ code }) => !after.has(code))
  const result = [...(values ?? []), ...gone.map((value) => ({ ...value, retired: true }))]
  return (
    <Question
      title={
        faults ? t('names.cannot-be-brought-in', { file: arrived.file }) : t('names.bring-in', { file: arrived.file })
      }
      onClose={onClose}
      answers={
        <>
          {values && (
            <Button
              look="main"
              disabled={!added.length && !changed.length && gone.every(({ retired }) => retired)}
              onClick={() => onTake(result)}
            >
              {t('names.bring-it-in')}
            </Button>
          )}
          <Button look="quiet" onClick={onClose}>
            {faults ? t('common.ok') : t('common.cancel')}
          </Button>
        </>
      }
    >
      {faults ? (
        <>
          <p className="pb-2" role="alert">
            {t('names.nothing-was-changed')}
          </p>
          <ul className="max-h-60 overflow-auto text-ink">
            {faults.slice(0, 100).map(({ line, reason }) => (
              <li key={`${line} ${told(reason)}`} className="py-0.5">
                {t('names.line-2', { line, reason })}
              </li>
            ))}
          </ul>
        </>
      ) : (
        <p>
          {t('names.new-values', { added: added.length })}, {t('names.changed-values', { changed: changed.length })}.{' '}
          {gone.some(({ retired }) => !retired) &&
            t('names.values-that-are-not-in-the-file', {
              length: gone.filter(({ retired }) => !retired).length,
              gone: gone.length,
            })}
        </p>
      )}
    </Question>
  )
}
