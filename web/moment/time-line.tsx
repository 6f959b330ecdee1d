import { useId } from 'react'
import type { PlaceChanges } from '../../core/contract'
import { t } from '../words/all'
import { dayOf, listed, moment } from '../words/formats'

/** The moment right before. */
export const before = (at: string): string => new Date(Date.parse(at) - 1).toISOString()

type Stretch = PlaceChanges['stretches'][number]
/** Stretches that the line shows; an earlier moment is set exactly. */
const shown = 120
const amountOf = ({ versions, moves }: Stretch) => versions + moves

/** As an input of a day and a time has it, in the time of whoever sits there. */
function local(at: string): string {
  const one = new Date(at)
  return new Date(one.getTime() - one.getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
}

/**
 * What was changed when, one upright bar for each stretch: a moment is chosen between them. Arrows go from change to
 * change, however long nothing happened.
 */
export function TimeLine({
  stretches,
  at,
  onAt,
}: {
  stretches: readonly Stretch[]
  at: string | null
  onAt: (at: string) => void
}) {
  const id = useId()
  const some = stretches.slice(-shown)
  const most = Math.max(...some.map(amountOf))
  /** The first stretch that comes after the moment. */
  const next = at === null ? some.length - 1 : some.findIndex((one) => one.at > at)
  const index = next < 0 ? some.length : next
  const after = some[index]
  const said =
    at &&
    (after && before(after.at) === at
      ? t('moment.right-before', { at: moment(after.at) })
      : t('moment.at', { at: moment(at) }))
  return (
    <section className="pt-4">
      <div className="flex h-20 items-end gap-px border-b border-rule-strong" aria-hidden>
        {some.map((one, position) => (
          <span
            key={one.at}
            title={`${moment(one.at)}: ${amountOf(one)}`}
            className={`min-w-px flex-1 ${position >= index ? 'bg-ochre' : 'bg-accent'}`}
            style={{ height: `${Math.max(4, Math.sqrt(amountOf(one) / most) * 100)}%`, maxWidth: 28 }}
          />
        ))}
      </div>
      <input
        type="range"
        aria-label={t('moment.time-line')}
        aria-valuetext={said ?? t('moment.now')}
        className="block h-6 w-full accent-[var(--accent)]"
        style={{ maxWidth: some.length * 29 }}
        min={0}
        max={some.length - 1}
        value={Math.min(index, some.length - 1)}
        onChange={(event) => onAt(before(some[Number(event.target.value)]!.at))}
      />
      <div className="flex flex-wrap justify-between text-[13px] text-soft" style={{ maxWidth: some.length * 29 }}>
        <span>{dayOf(some[0]!.at)}</span>
        {some.length > 1 && <span>{dayOf(some.at(-1)!.at)}</span>}
      </div>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2 pt-2">
        <div className="min-w-0 flex-1 basis-64">
          <p className="text-[17px] font-semibold">{said}</p>
          {after && (
            <p className="text-[14px] text-soft">
              {t('moment.then-changed', {
                n: amountOf(after),
                people: listed(after.people.slice(0, 3)),
                more: Math.max(0, after.people.length - 3),
              })}
            </p>
          )}
        </div>
        <label htmlFor={id} className="flex items-center gap-2 text-[14px] text-soft">
          {t('moment.exactly')}
          <input
            id={id}
            type="datetime-local"
            className="h-8 rounded-md border border-rule-strong bg-sheet px-2 text-ink"
            value={at ? local(at) : ''}
            max={local(new Date().toISOString())}
            onChange={(event) => {
              const set = new Date(event.target.value)
              if (!Number.isNaN(set.getTime())) onAt(set.toISOString())
            }}
          />
        </label>
      </div>
    </section>
  )
}
