// Several names at once: each old name beside its new one before anything happens, by the
// convention or by other words; what clashes or cannot be read is left as it is.
import { useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { useMemo, useState } from 'react'
import type { Entry, Place } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { checkName, nameKey, splitExtension } from '../../core/naming/check'
import { readyConvention } from '../../core/naming/convention'
import { readName } from '../../core/naming/reading'
import { Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import { conventionIn, useShareNaming } from '../places/place'
import { t, told } from '../words'
import { act } from './acts'

export function BulkRename({
  entries,
  place,
  onClose,
}: {
  entries: readonly Entry[]
  place: Place
  onClose: () => void
}) {
  const client = useQueryClient()
  const naming = useShareNaming(place.share.id)
  const convention = conventionIn(naming.data, place.trail)
  const ready = useMemo(
    () => (convention && naming.data ? readyConvention(convention.rules, naming.data.lists) : null),
    [convention, naming.data],
  )
  const [way, setWay] = useState<'convention' | 'words' | null>(null)
  const chosen = way ?? (convention ? 'convention' : 'words')
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const [refusal, setRefusal] = useState('')
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const rows = useMemo(() => {
    const proposed = entries.map((entry) => {
      const [stem, ending] = entry.kind === 'file' ? splitExtension(entry.name) : [entry.name, '']
      if (chosen === 'words')
        return { entry, name: from ? stem.split(from).join(to) + ending : entry.name, remarks: [] as string[] }
      if (!ready || entry.kind === 'folder') return { entry, name: entry.name, remarks: [] as string[] }
      const reading = readName(ready, stem, {
        kind: fileType(entry.type).kind,
        fallback: new Map(
          ready.parts.flatMap(({ part }) =>
            part.kind === 'date' && entry.head
              ? [
                  [
                    part.id,
                    { value: entry.head.at.slice(0, 10), from: t('files.from-when-it-was-last-saved') },
                  ] as const,
                ]
              : [],
          ),
        ),
      })
      return reading.stem === null
        ? {
            entry,
            name: null,
            remarks: reading.parts
              .filter(({ state }) => state === 'missing' || state === 'failed')
              .map(({ reason }) => reason),
          }
        : { entry, name: reading.stem + ending, remarks: reading.doubts }
    })
    const wanted = new Map<string, number>()
    for (const { name } of proposed) if (name) wanted.set(nameKey(name), (wanted.get(nameKey(name)) ?? 0) + 1)
    return proposed.map(({ entry, name, remarks }) => {
      if (name === null) return { entry, name: entry.name, state: 'unread' as const, remark: remarks[0] ?? '' }
      if (name === entry.name) return { entry, name, state: 'same' as const, remark: '' }
      const fault = checkName(name)
      if (fault) return { entry, name, state: 'refused' as const, remark: fault.reason }
      if (wanted.get(nameKey(name))! > 1)
        return { entry, name, state: 'clash' as const, remark: t('files.another-one-here-would-get-this-name') }
      return {
        entry,
        name,
        state: remarks.length ? ('doubtful' as const) : ('sure' as const),
        remark: remarks[0] ?? '',
      }
    })
  }, [entries, chosen, from, to, ready])
  const going = rows.filter(({ entry, state }) => (state === 'sure' || state === 'doubtful') && !left.has(entry.id))
  const rename = async () => {
    const problem = await act(
      client,
      'rename',
      going.map(({ entry, name }) => ({ id: entry.id, from: entry.name, name })),
      t('files.names', { going: going.length }),
    )
    if (problem) setRefusal(told(problem))
    else onClose()
  }
  return (
    <Question
      title={t('files.rename-files-and-folders', { entries: entries.length })}
      wide
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!going.length} onClick={rename}>
            {going.length ? t('files.rename', { going: going.length }) : t('files.nothing-to-rename')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <div className="mb-3 flex items-end gap-2">
        {convention && (
          <Button
            look={chosen === 'convention' ? 'main' : 'plain'}
            aria-pressed={chosen === 'convention'}
            onClick={() => setWay('convention')}
          >
            {t('files.by', { conventionName: convention.name })}
          </Button>
        )}
        <Button
          look={chosen === 'words' ? 'main' : 'plain'}
          aria-pressed={chosen === 'words'}
          onClick={() => setWay('words')}
        >
          {t('files.by-other-words')}
        </Button>
      </div>
      {chosen === 'words' && (
        <div className="mb-3 flex gap-3">
          <Field
            label={t('common.replace')}
            className="flex-1"
            value={from}
            onChange={(event) => setFrom(event.target.value)}
            autoFocus
          />
          <Field
            label={t('files.with')}
            className="flex-1"
            value={to}
            onChange={(event) => setTo(event.target.value)}
          />
        </div>
      )}
      <ul className="max-h-[46vh] overflow-auto border-t text-ink">
        {rows.map(({ entry, name, state, remark }) => (
          <li
            key={entry.id}
            className="grid grid-cols-[20px_minmax(0,1fr)_minmax(0,1fr)] items-start gap-3 border-b py-1.5 text-[14px]"
          >
            <input
              type="checkbox"
              className="mt-1 accent-accent"
              aria-label={t('files.rename-2', { entryName: entry.name })}
              disabled={state !== 'sure' && state !== 'doubtful'}
              checked={(state === 'sure' || state === 'doubtful') && !left.has(entry.id)}
              onChange={(event) => {
                const next = new Set(left)
                if (event.target.checked) next.delete(entry.id)
                else next.add(entry.id)
                setLeft(next)
              }}
            />
            <span className="break-words font-mono text-[13px]">{entry.name}</span>
            <span>
              {state === 'same' ? (
                <span className="text-soft">{t('files.stays')}</span>
              ) : (
                state !== 'unread' && <span className="break-words font-mono text-[13px]">{name}</span>
              )}
              {remark && (
                <span className={clsx('block text-[13px]', state === 'doubtful' ? 'text-ochre' : 'text-rust')}>
                  {told(remark)}
                </span>
              )}
            </span>
          </li>
        ))}
      </ul>
      {refusal && (
        <p role="alert" className="pt-2 text-rust">
          {refusal}
        </p>
      )}
    </Question>
  )
}
