// Signs that no key has, beside the tools: looked for by their names, gone through by arrows, put in where the caret is, in a text or in a cell.
import clsx from 'clsx'
import { type KeyboardEvent, useId, useMemo, useState } from 'react'
import { t } from '../words/all'
import { LookPanel } from './look-fields'
import { lastSigns, noteSign, type Sign, type SignGroup, signsLike } from './signs'

const columns = 6

/** Where the keys go from one sign to another, by rows: each group begins a row. */
function moved(groups: readonly SignGroup[], at: number, key: string): number {
  const rows: [from: number, to: number][] = []
  let from = 0
  for (const { signs } of groups) {
    for (let first = 0; first < signs.length; first += columns)
      rows.push([from + first, from + Math.min(first + columns, signs.length)])
    from += signs.length
  }
  if (!rows.length) return -1
  if (key === 'ArrowRight') return Math.min(at + 1, from - 1)
  if (key === 'ArrowLeft') return at - 1
  if (at < 0) return key === 'ArrowDown' ? 0 : -1
  const row = rows.findIndex(([first, past]) => at >= first && at < past)
  const next = rows[row + (key === 'ArrowDown' ? 1 : -1)]
  // From the first row the keys go back to what is looked for.
  if (!next) return key === 'ArrowDown' ? at : -1
  return Math.min(next[0] + at - rows[row]![0], next[1] - 1)
}

/** @param onInsert puts one in where the work is being written; the keys stay here */
export function SignsBeside({ onInsert, onClose }: { onInsert: (sign: string) => void; onClose: () => void }) {
  const list = useId()
  const [typed, setTyped] = useState('')
  /** The sign that the keys are at; none while somebody types. */
  const [at, setAt] = useState(-1)
  const [last, setLast] = useState(lastSigns)
  const [put, setPut] = useState('')
  const groups = useMemo(
    () => [...(typed.trim() || !last.length ? [] : [{ title: t('signs.last'), signs: last }]), ...signsLike(typed)],
    [typed, last],
  )
  const all = groups.flatMap(({ signs }) => signs)
  const chosen = at < 0 && typed.trim() ? 0 : at
  const insert = (one: Sign | undefined) => {
    if (!one) return
    onInsert(one.sign)
    noteSign(one.sign)
    setPut(t('signs.put-in', { name: nameOf(one) }))
  }
  const press = (event: KeyboardEvent) => {
    const { key } = event
    if (key === 'Enter') insert(all[chosen])
    // Without a sign that the keys are at, left and right go through what is typed.
    else if (key === 'ArrowDown' || key === 'ArrowUp' || (at >= 0 && (key === 'ArrowLeft' || key === 'ArrowRight'))) {
      setAt(moved(groups, at, key))
      setPut('')
    } else return
    event.preventDefault()
  }
  let index = -1
  return (
    <LookPanel label={t('signs.title')} onClose={onClose}>
      <input
        role="combobox"
        aria-expanded="true"
        aria-controls={list}
        aria-activedescendant={chosen >= 0 && all[chosen] ? `${list}-${chosen}` : undefined}
        aria-label={t('signs.find')}
        placeholder={t('signs.find')}
        className="h-9 w-full rounded-md border border-rule-strong bg-sheet px-2.5"
        value={typed}
        onChange={({ target: { value } }) => {
          setTyped(value)
          setAt(-1)
          setPut('')
          setLast(lastSigns())
        }}
        onKeyDown={press}
      />
      <p role="status" className="min-h-6 pt-1 text-[13px] leading-[18px] text-soft">
        {put || (all[chosen] ? nameOf(all[chosen]) : !all.length && t('signs.none'))}
      </p>
      <div id={list} role="listbox" aria-label={t('signs.title')}>
        {groups.map(({ title, signs }) => (
          <fieldset key={title} aria-label={title} className="pb-2">
            <p className="pb-1 pt-1.5 text-[13px] text-soft" aria-hidden>
              {title}
            </p>
            <div className="grid grid-cols-6 gap-1">
              {signs.map((one) => {
                index++
                const own = index
                return (
                  <div
                    key={one.sign}
                    id={`${list}-${own}`}
                    role="option"
                    tabIndex={-1}
                    aria-selected={own === chosen}
                    aria-label={nameOf(one)}
                    title={nameOf(one)}
                    className={clsx(
                      'grid h-8 cursor-default place-items-center rounded border text-[16px]',
                      own === chosen ? 'border-accent bg-wash' : 'border-transparent hover:bg-wash',
                    )}
                    ref={(element) => void (own === chosen && element?.scrollIntoView({ block: 'nearest' }))}
                    // The keys stay where they are.
                    onMouseDown={(event) => event.preventDefault()}
                    onClick={() => insert(one)}
                    onKeyDown={() => {}}
                  >
                    <bdi className={one.shown && 'text-soft'}>{one.shown ?? one.sign}</bdi>
                  </div>
                )
              })}
            </div>
          </fieldset>
        ))}
      </div>
    </LookPanel>
  )
}
const nameOf = ({ sign, name }: Sign): string => name || sign
