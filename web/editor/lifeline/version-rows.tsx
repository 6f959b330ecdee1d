// The rows of the version list, newest first: only those in sight are drawn, however many there are.
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react'
import type { HistoryVersion, Trace } from '../../../core/contract'
import type { Moment } from '../../../core/history/lifeline'
import { t } from '../../words/all'
import { clock, dateGroup } from '../../words/formats'
import { type ListActs, VersionRow } from './version-row'

export interface Row {
  /** null for a recovery point. */
  version: HistoryVersion | null
  folded: number
  moment: Moment
}

export function VersionRows({
  rows,
  headId,
  versions,
  chosen,
  picked,
  traced,
  unfolded,
  acts,
  onPick,
  onLook,
  onUnfold,
  onClose,
  children,
}: {
  rows: readonly Row[]
  /** The version that the work is based on, as the work itself knows it. */
  headId?: string | undefined
  /** All of them, the newest first. */
  versions: readonly HistoryVersion[]
  /** The moment on show; null is now. */
  chosen: Moment | null
  picked: readonly string[]
  traced: ReadonlyMap<string, Trace['changes'][number]> | null
  unfolded: ReadonlySet<string>
  acts: ListActs
  onPick: (versionId: string) => void
  onLook: (moment: Moment | null) => void
  onUnfold: (versionId: string) => void
  onClose: () => void
  /** What stands below the rows. */
  children: ReactNode
}) {
  const scroller = useRef<HTMLDivElement>(null)
  const newest = versions[0]
  const places = useMemo(() => new Map(versions.map(({ id }, index) => [id, index])), [versions])
  const headings = useMemo(() => {
    const days = rows.map(({ moment }) => dateGroup(moment.at))
    return days.map((day, index) => (day === days[index - 1] ? null : day))
  }, [rows])
  /** The row with the focus: it stays drawn, so that the keys have their place, wherever the list is scrolled to. */
  const [focused, setFocused] = useState<number | null>(null)
  const drawn = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    getItemKey: (index) => rows[index]!.moment.id,
    estimateSize: (index) => (headings[index] ? 58 : 32),
    overscan: 12,
    rangeExtractor: (range) => {
      const near = defaultRangeExtractor(range)
      if (focused === null || focused >= rows.length || near.includes(focused)) return near
      return focused < near[0]! ? [focused, ...near] : [...near, focused]
    },
    useFlushSync: false,
  })
  /** A row that gets the focus once it is drawn. */
  const [going, setGoing] = useState<{ to: number; align: 'auto' | 'center' } | null>(null)
  const go = (index: number, align: 'auto' | 'center' = 'auto') => {
    if (!rows.length) return
    const to = Math.max(0, Math.min(rows.length - 1, index))
    drawn.scrollToIndex(to, { align })
    setGoing({ to, align })
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: goes to the chosen row when the list opens; after that the keys do
  useEffect(() => {
    const at = rows.findIndex(({ moment }) => moment.id === (chosen?.id ?? newest?.id))
    go(at, 'center')
  }, [])
  useEffect(() => {
    if (going === null) return
    const row = scroller.current?.querySelector<HTMLElement>(`[data-index="${going.to}"] [data-row]`)
    if (!row) return
    row.focus({ preventScroll: true })
    setGoing(null)
  })
  // Rows that are measured meanwhile move the list, which may end the way to a row before it is there.
  // biome-ignore lint/correctness/useExhaustiveDependencies: for each row that is gone to; what scrolls stays the same
  useEffect(() => {
    if (going === null) return
    const again = setInterval(() => drawn.scrollToIndex(going.to, { align: going.align }), 150)
    return () => clearInterval(again)
  }, [going])

  const press = (event: React.KeyboardEvent) => {
    // What is pressed in a row's menu is the menu's.
    if (!event.currentTarget.contains(event.target as HTMLElement)) return
    if (event.key === 'Escape') return onClose()
    const at = Number((event.target as HTMLElement).closest<HTMLElement>('[data-index]')?.dataset.index ?? Number.NaN)
    const steps: Record<string, number> = {
      ArrowDown: at + 1,
      ArrowUp: at - 1,
      PageDown: at + 7,
      PageUp: at - 7,
      Home: 0,
      End: rows.length - 1,
    }
    const to = steps[event.key]
    if (to === undefined || Number.isNaN(at)) return
    event.preventDefault()
    go(to)
  }
  return (
    <div
      ref={scroller}
      role="list"
      aria-label={t('common.versions')}
      className="max-h-64 overflow-auto border-t pb-1"
      onKeyDown={press}
      onFocus={({ target }) => {
        const at = target.closest<HTMLElement>('[data-index]')?.dataset.index
        setFocused(at === undefined ? null : Number(at))
      }}
      onBlur={({ currentTarget, relatedTarget }) => {
        if (relatedTarget && !currentTarget.contains(relatedTarget)) setFocused(null)
      }}
    >
      <div className="relative" style={{ height: drawn.getTotalSize() }}>
        {drawn.getVirtualItems().map(({ index, key, start }) => {
          const { version, folded, moment } = rows[index]!
          return (
            <div
              key={key}
              ref={drawn.measureElement}
              data-index={index}
              role="listitem"
              aria-setsize={rows.length}
              aria-posinset={index + 1}
              className="absolute inset-x-0 top-0"
              style={{ transform: `translateY(${start}px)` }}
            >
              {headings[index] && <h3 className="px-4 pb-0.5 pt-2 text-[12.5px] text-soft">{headings[index]}</h3>}
              {version ? (
                <VersionRow
                  version={version}
                  isNewest={version.id === newest?.id}
                  before={versions[places.get(version.id)! + 1]}
                  isChosen={version.id === (chosen?.id ?? newest?.id)}
                  picked={picked.includes(version.id)}
                  change={traced?.get(version.id)}
                  folded={unfolded.has(version.id) ? 0 : folded}
                  acts={acts}
                  onPick={() => onPick(version.id)}
                  // What the list knows may be older than the work: then its newest is not what is shown now.
                  onLook={() =>
                    onLook(version.id === newest?.id && version.id === (headId ?? version.id) ? null : moment)
                  }
                  onUnfold={() => onUnfold(version.id)}
                />
              ) : (
                <div className={clsx('pl-10 pr-4', moment.id === chosen?.id ? 'bg-wash' : 'hover:bg-desk/60')}>
                  <button
                    type="button"
                    data-row
                    onClick={() => onLook(moment)}
                    className="w-full py-1 text-left text-[14px] text-soft hover:text-accent"
                  >
                    {t('lifeline.recovery-point-of-of-your-unsaved-work-2', { at: clock(moment.at) })}
                  </button>
                </div>
              )}
            </div>
          )
        })}
      </div>
      {children}
    </div>
  )
}
