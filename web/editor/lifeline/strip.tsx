// The lifeline: time from left to right, a file's versions and recovery points on it, taller where more changed.

import clsx from 'clsx'
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react'
import {
  heightOf,
  type Moment,
  nearest,
  panned,
  placeIn,
  showing,
  type Tick,
  ticksOf,
  type View,
  viewOfAll,
  zoomed,
} from '../../../core/history/lifeline'
import { saidMoment } from '../../compare/moments'
import { t } from '../../words/all'
import { locale } from '../../words/language'

/** Pixels of the strip above its ruler. */
const tall = 34
const form = (options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(locale, options)
const day = form({ day: 'numeric', month: 'short' })
const clock = form({ hour: '2-digit', minute: '2-digit', hourCycle: 'h23' })
const forms: Record<Tick['unit'], Intl.DateTimeFormat> = {
  minute: clock,
  hour: clock,
  day,
  month: form({ month: 'short', year: 'numeric' }),
  year: form({ year: 'numeric' }),
}

export interface StripHandle {
  zoom(factor: number): void
  all(): void
}

export function Strip({
  moments,
  chosen,
  personId,
  onLook,
  onPoint,
  handle,
}: {
  moments: readonly Moment[]
  /** The moment on show. */
  chosen: Moment
  personId: string
  onLook: (moment: Moment) => void
  /** A moment under the pointer, to be told about. */
  onPoint: (moment: Moment | null) => void
  handle: RefObject<StripHandle | null>
}) {
  const strip = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(800)
  const all = useMemo(() => viewOfAll(moments), [moments])
  const [wanted, setView] = useState<View | null>(null)
  const view = wanted ?? all
  const latest = useRef({ view, all, moments })
  latest.current = { view, all, moments }
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width))
    watch.observe(strip.current!)
    return () => watch.disconnect()
  }, [])
  // The chosen moment is always in sight.
  // biome-ignore lint/correctness/useExhaustiveDependencies: moved into sight when another moment is chosen, and left where somebody put it after that
  useEffect(() => setView((now) => now && showing(now, chosen.at, latest.current.all)), [chosen.id])
  const zoom = (factor: number, around = chosen.at) => {
    const next = zoomed(latest.current.view, factor, around, latest.current.all)
    setView(next.to - next.from >= (latest.current.all.to - latest.current.all.from) * 0.999 ? null : next)
  }
  handle.current = { zoom: (factor) => zoom(factor), all: () => setView(null) }
  const timeAt = (clientX: number) => {
    const box = strip.current!.getBoundingClientRect()
    const { view: shown } = latest.current
    return shown.from + ((clientX - box.left) / box.width) * (shown.to - shown.from)
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: listens once; what it does reads the latest view
  useEffect(() => {
    const own = strip.current!
    const wheel = (event: WheelEvent) => {
      event.preventDefault()
      const { view: shown, all: whole } = latest.current
      const sideways = event.shiftKey ? event.deltaY : event.deltaX
      if (Math.abs(sideways) > Math.abs(event.shiftKey ? 0 : event.deltaY))
        setView(panned(shown, (sideways / own.clientWidth) * (shown.to - shown.from), whole))
      else zoom(Math.exp(event.deltaY / 400), timeAt(event.clientX))
    }
    // Not passive: the page behind must not scroll.
    own.addEventListener('wheel', wheel, { passive: false })
    return () => own.removeEventListener('wheel', wheel)
  }, [])

  const at = moments.findIndex(({ id }) => id === chosen.id)
  const to = (index: number) => {
    const next = moments[Math.max(0, Math.min(moments.length - 1, index))]
    if (next && next.id !== chosen.id) onLook(next)
  }
  const keys: Record<string, () => void> = {
    ArrowLeft: () => to(at - 1),
    ArrowRight: () => to(at + 1),
    PageUp: () => to(at - 10),
    PageDown: () => to(at + 10),
    Home: () => to(0),
    End: () => to(moments.length - 1),
    '+': () => zoom(0.5),
    '=': () => zoom(0.5),
    '-': () => zoom(2),
    '0': () => setView(null),
  }
  const scrub = (event: React.PointerEvent) => {
    const found = nearest(latest.current.moments, timeAt(event.clientX))
    if (found && found.id !== chosen.id) onLook(found)
  }

  // Marks that would stand on one another are one mark: the chosen one, a kept one, or the tallest.
  const marks = useMemo(() => {
    const columns = new Map<number, { moment: Moment; x: number; rank: number }>()
    for (const moment of moments) {
      const place = placeIn(view, moment.at)
      if (place < -0.01 || place > 1.01 || moment.kind === 'now') continue
      const x = place * width
      const rank =
        moment.id === chosen.id
          ? 1e12
          : moment.kind === 'version'
            ? (moment.version.label ? 1e10 : 0) + (moment.version.weight ?? 1)
            : -1
      const column = Math.round(x / 3)
      const there = columns.get(column)
      if (!there || rank > there.rank) columns.set(column, { moment, x, rank })
    }
    return [...columns.values()]
  }, [moments, view, width, chosen.id])
  const ticks = ticksOf(view, Math.max(2, Math.floor(width / 84)))
  // Labels of kept versions, where there is room beside the one before.
  let labelled = -1e9
  const nowAt = placeIn(view, moments.at(-1)!.at) * width

  return (
    <div
      ref={strip}
      role="slider"
      tabIndex={0}
      aria-label={t('lifeline.lifeline')}
      aria-orientation="horizontal"
      aria-valuemin={1}
      aria-valuemax={moments.length}
      aria-valuenow={at + 1}
      aria-valuetext={saidMoment(chosen)}
      data-from={Math.round(view.from)}
      data-to={Math.round(view.to)}
      className="relative h-[52px] min-w-0 flex-1 cursor-ew-resize touch-none select-none overflow-hidden focus-visible:outline-offset-[-2px]"
      onKeyDown={(event) => {
        const run = keys[event.key]
        if (!run || event.ctrlKey || event.metaKey || event.altKey) return
        event.preventDefault()
        event.stopPropagation()
        run()
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        scrub(event)
      }}
      onPointerMove={(event) => {
        if (event.buttons & 1) scrub(event)
        onPoint(nearest(moments, timeAt(event.clientX)) ?? null)
      }}
      onPointerLeave={() => onPoint(null)}
    >
      {ticks.map(({ at: tick, unit }) => (
        <span
          key={tick}
          aria-hidden
          className="absolute inset-y-0 whitespace-nowrap border-l pl-1 pt-[36px] text-[11.5px] leading-4 text-soft"
          style={{ left: placeIn(view, tick) * width }}
        >
          {(unit === 'hour' && new Date(tick).getHours() === 0 ? day : forms[unit]).format(tick)}
        </span>
      ))}
      <span aria-hidden className="absolute inset-x-0 border-t border-rule-strong" style={{ top: tall }} />
      {marks.map(({ moment, x }) => {
        const isChosen = moment.id === chosen.id
        if (moment.kind === 'point')
          return (
            <span
              key={moment.id}
              aria-hidden
              data-mark="point"
              className={clsx(
                'absolute size-[7px] -translate-x-1/2 rounded-full border-[1.5px]',
                isChosen ? 'border-accent bg-accent' : 'border-soft bg-paper',
              )}
              style={{ left: x, top: tall - 4 }}
            />
          )
        if (moment.kind !== 'version') return null
        const { version, folded } = moment
        const height = 5 + heightOf(version.weight) * (tall - 13)
        const mine = version.author.id === personId
        const room = version.label !== null && x - labelled > 110 && x < nowAt - 60
        if (room) labelled = x
        return (
          <span
            key={moment.id}
            aria-hidden
            data-mark={version.label ? 'kept' : folded.length ? 'folded' : 'version'}
            data-number={version.number}
          >
            {folded.length > 0 && (
              <span
                className={clsx('absolute rounded-t-[1px] opacity-35', mine ? 'bg-ink' : 'bg-plum')}
                style={{ left: x - 7, top: tall - height * 0.6, width: 5, height: height * 0.6 }}
              />
            )}
            <span
              className={clsx(
                'absolute rounded-t-[1px]',
                isChosen ? 'bg-accent' : mine ? 'bg-ink' : 'bg-plum',
                !isChosen && 'opacity-70',
              )}
              style={{ left: x - 1.5, top: tall - height, width: 3, height }}
            />
            {version.label && (
              <span
                className={clsx('absolute size-[7px] rotate-45', isChosen ? 'bg-accent' : 'bg-ochre')}
                style={{ left: x - 3.5, top: tall - height - 9 }}
              />
            )}
            {room && (
              <span
                className="absolute max-w-[104px] truncate text-[11.5px] leading-3 text-ochre"
                style={{ left: x + 7, top: 1 }}
              >
                {version.label}
              </span>
            )}
          </span>
        )
      })}
      {nowAt <= width + 4 && (
        <span
          aria-hidden
          className="absolute inset-y-0 border-l-2 border-accent"
          style={{ left: nowAt - 1, bottom: 52 - tall }}
        >
          {chosen.kind !== 'now' && (
            <span className="absolute right-1 top-0 text-[11.5px] leading-3 text-accent">{t('common.now')}</span>
          )}
        </span>
      )}
      <span
        aria-hidden
        className="absolute size-3 -translate-x-1/2 rounded-full border-2 border-paper bg-accent shadow-slip"
        style={{ left: Math.min(placeIn(view, chosen.at) * width, width - 6), top: tall - 6 }}
      />
    </div>
  )
}
