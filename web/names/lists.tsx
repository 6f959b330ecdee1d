import { useQueryClient } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { Download, Plus, Upload } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { ControlledList, ListValue, Share, ShareNaming } from '../../core/contract'
import { listFromCsv, listToCsv } from '../../core/naming/list-csv'
import { checkListValues } from '../../core/naming/rules'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { count } from '../design/words'

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
            New list
          </Button>
        )}
      </div>
      {list ? (
        <ListEditor key={list.id} list={list} usedBy={usedBy.map(({ name }) => name)} mayChange={mayChange} />
      ) : (
        <div className="flex-1">
          <Blank title={`${share.name} has no lists yet`}>
            A list holds the values that a part of a name can have, such as the codes of locks and bridges.
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
      setFault(error instanceof Refused ? error.problem.title : 'It could not be made.')
    }
  }
  return (
    <Question
      title="A new list"
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!name.trim()} onClick={make}>
            Make it
          </Button>
          <Button look="quiet" onClick={onClose}>
            Not now
          </Button>
        </>
      }
    >
      <Field
        label="What it lists"
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
  faults?: { line: number; reason: string }[]
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
      toast(`‹${list.name}› has ${count(kept.values.length, 'value')} now.`)
    } catch (error) {
      setRefusal(error instanceof Refused ? error.problem.title : 'It could not be kept.')
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
            {usedBy.length ? `used by ${usedBy.map((name) => `‹${name}›`).join(', ')}` : 'not used by a convention yet'}
          </p>
        </div>
        <Button onClick={takeOut}>
          <Download size={16} aria-hidden />
          Take out as CSV
        </Button>
        {mayChange && (
          <>
            <Button onClick={() => chooser.current?.click()}>
              <Upload size={16} aria-hidden />
              Bring in CSV
            </Button>
            <input
              ref={chooser}
              type="file"
              accept=".csv,text/csv"
              className="hidden"
              aria-label="CSV file of values"
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
        <span>Code</span>
        <span>Label</span>
        <span>Retired</span>
      </div>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
        {values.length === 0 && (
          <p className="py-3 text-soft">No values yet. Type them here, or bring them in as CSV.</p>
        )}
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
                title={fault?.reason}
              >
                <input
                  aria-label={`Code ${index + 1}`}
                  className={clsx(field, 'font-mono text-[14px]', value.retired && 'text-soft line-through')}
                  disabled={!mayChange}
                  value={value.code}
                  onChange={(event) => set(index, { code: event.target.value })}
                />
                <input
                  aria-label={`Label of ${value.code}`}
                  className={field}
                  disabled={!mayChange}
                  value={value.label}
                  dir="auto"
                  onChange={(event) => set(index, { label: event.target.value })}
                />
                <input
                  type="checkbox"
                  aria-label={`${value.code} is retired`}
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
            Add a value
          </Button>
          <Button look="main" disabled={!dirty || faults.length > 0} onClick={() => keep(values)}>
            Keep the changes
          </Button>
          {dirty && (
            <Button look="quiet" onClick={() => setValues(list.values)}>
              Leave them
            </Button>
          )}
          <p role="alert" className="min-w-0 flex-1 text-[14px] text-rust">
            {faults[0] ? `Line ${faults[0].row + 1}: ${faults[0].reason}` : refusal}
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
      title={faults ? `${arrived.file} cannot be taken` : `Take ${arrived.file}?`}
      onClose={onClose}
      answers={
        <>
          {values && (
            <Button
              look="main"
              disabled={!added.length && !changed.length && gone.every(({ retired }) => retired)}
              onClick={() => onTake(result)}
            >
              Take it
            </Button>
          )}
          <Button look="quiet" onClick={onClose}>
            {faults ? 'Good' : 'Not now'}
          </Button>
        </>
      }
    >
      {faults ? (
        <>
          <p className="pb-2">Nothing was changed.</p>
          <ul className="max-h-60 overflow-auto text-ink" role="alert">
            {faults.slice(0, 100).map(({ line, reason }) => (
              <li key={`${line} ${reason}`} className="py-0.5">
                Line {line}: {reason}
              </li>
            ))}
          </ul>
        </>
      ) : (
        <p>
          {count(added.length, 'new value')}, {count(changed.length, 'changed value')}.{' '}
          {gone.some(({ retired }) => !retired) &&
            `${count(gone.filter(({ retired }) => !retired).length, 'value')} that ${gone.length === 1 ? 'is' : 'are'} not in the file will be retired, so that names which have ${gone.length === 1 ? 'it' : 'them'} stay readable.`}
        </p>
      )}
    </Question>
  )
}
