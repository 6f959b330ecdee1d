// Which rows are shown by what a column holds: chosen from what is there, or by a test.
import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { Check } from 'lucide-react'
import { useEffect, useId, useMemo, useRef, useState } from 'react'
import {
  type ColumnFilter,
  type FilterTest,
  filterTests,
  folded,
  type SheetFilter,
  type Choice as Shown,
} from '../../../core/content/sheet-filter'
import { Choice } from '../../design/choice'
import { Button } from '../../design/controls'
import { t } from '../../words/all'
import { digits } from '../../words/formats'
import { language } from '../../words/language'
import { AtCell, type CellSpot } from './at-cell'
import { chosenFilter, typedTest } from './filter-acts'
import type { ShownWorkbook } from './still'

const rowHeight = 30
const tests: readonly (readonly [FilterTest['test'], string])[] = filterTests.map((test) => [
  test,
  {
    is: t('sheet.test-is'),
    'is not': t('sheet.test-is-not'),
    above: t('sheet.test-above'),
    'at least': t('sheet.test-at-least'),
    below: t('sheet.test-below'),
    'at most': t('sheet.test-at-most'),
    contains: t('sheet.test-contains'),
    lacks: t('sheet.test-lacks'),
    begins: t('sheet.test-begins'),
    ends: t('sheet.test-ends'),
  }[test],
])

export interface FilterListProps {
  store: ShownWorkbook
  sheet: number
  filter: SheetFilter
  column: number
  /** What the column is called. */
  heading: string
  /** Where its heading is on screen. */
  at: CellSpot
  /** @param one null for all rows of this column */
  onChoose: (one: ColumnFilter | null) => void
  /** The filter goes from the sheet. */
  onEnd: () => void
  onClose: () => void
}

export function FilterList(props: FilterListProps) {
  const { filter, column, heading, at, onEnd, onClose } = props
  const own = filter.columns[column]
  const [by, setBy] = useState<'choices' | 'test'>(own?.by === 'tested' ? 'test' : 'choices')
  return (
    <AtCell
      label={t('sheet.rows-by-column', { heading })}
      at={at}
      className="max-h-[var(--radix-popover-content-available-height)] w-[min(336px,calc(100vw-16px))] overflow-y-auto"
      onClose={onClose}
    >
      <h2 className="truncate px-4 pt-3 text-[15px] font-semibold">{t('sheet.rows-by-column', { heading })}</h2>
      <fieldset className="mx-4 mt-2 mb-3 flex gap-4 text-[14px]">
        <legend className="sr-only">{t('sheet.rows-by-column', { heading })}</legend>
        {(
          [
            ['choices', t('sheet.by-choosing')],
            ['test', t('sheet.by-a-test')],
          ] as const
        ).map(([one, words]) => (
          <label key={one} className="flex items-center gap-1.5">
            <input
              type="radio"
              className="accent-accent"
              checked={by === one}
              onChange={() => setBy(one)}
              name="filter-by"
            />
            {words}
          </label>
        ))}
      </fieldset>
      {by === 'choices' ? <Choices {...props} /> : <Tests {...props} />}
      <div className="flex justify-between border-t px-1 py-1.5">
        <Button look="quiet" className="text-[13px]" onClick={onEnd}>
          {t('sheet.take-filter-away')}
        </Button>
        <Button look="quiet" className="text-[13px]" onClick={onClose}>
          {t('common.cancel')}
        </Button>
      </div>
    </AtCell>
  )
}

/** What shows the rows, and what shows all of them. */
function Answers({
  label,
  disabled,
  has,
  onAll,
}: {
  label: string
  disabled: boolean
  /** The column has a condition. */
  has: boolean
  onAll: () => void
}) {
  return (
    <div className="flex flex-wrap gap-2 px-4 pt-3 pb-3">
      <Button look="main" type="submit" disabled={disabled}>
        {label}
      </Button>
      {has && <Button onClick={onAll}>{t('sheet.all-of-this-column')}</Button>}
    </div>
  )
}

function Choices({ store, sheet, filter, column, onChoose }: FilterListProps) {
  const own = filter.columns[column]
  const [choices, setChoices] = useState<readonly Shown[] | null>(null)
  const [changed, setChanged] = useState<ReadonlyMap<string, boolean>>(new Map())
  const [text, setText] = useState('')
  const [active, setActive] = useState(0)
  const [scroller, setScroller] = useState<HTMLDivElement | null>(null)
  const list = useRef<HTMLDivElement>(null)
  const id = useId()
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the column shows when the list opens
  useEffect(() => {
    let gone = false
    void store.choices(sheet, filter, column).then((found) => !gone && setChoices(found))
    return () => {
      gone = true
    }
  }, [])
  const wanted = folded(text.trim())
  const seen = useMemo(
    () => (choices ?? []).filter((one) => !wanted || folded(one.text).includes(wanted)),
    [choices, wanted],
  )
  // What is looked for is what is shown: to find a name and press Enter is enough.
  const isShown = (one: Shown) => changed.get(one.text) ?? (wanted !== '' || one.shown)
  const all = seen.length > 0 && seen.every(isShown)
  const some = !all && seen.some(isShown)
  const set = (some: readonly Shown[], shown: boolean) => {
    const now = new Map(changed)
    for (const one of some) now.set(one.text, shown)
    setChanged(now)
  }
  // The first line is for all of them.
  const toggle = (at: number) => (at === 0 ? set(seen, !all) : set([seen[at - 1]!], !isShown(seen[at - 1]!)))
  const drawn = useVirtualizer({
    count: seen.length + 1,
    getScrollElement: () => scroller,
    estimateSize: () => rowHeight,
    overscan: 8,
    useFlushSync: false,
  })
  const go = (at: number) => {
    const to = Math.max(0, Math.min(seen.length, at))
    setActive(to)
    drawn.scrollToIndex(to)
  }
  const found = useMemo(() => new Set(seen), [seen])
  const now = (choices ?? []).map((one) => ({ text: one.text, shown: found.has(one) && isShown(one) }))
  const rows = (choices ?? []).reduce((sum, one, at) => sum + (now[at]!.shown ? one.rows : 0), 0)
  const press = (event: React.KeyboardEvent) => {
    const steps: Record<string, number> = {
      ArrowDown: active + 1,
      ArrowUp: active - 1,
      PageDown: active + 8,
      PageUp: active - 8,
      Home: 0,
      End: seen.length,
    }
    const to = steps[event.key]
    if (event.key === 'ArrowUp' && active === 0) list.current?.parentElement?.querySelector('input')?.focus()
    else if (to !== undefined) go(to)
    else if (event.key === ' ') toggle(active)
    else if (event.key === 'Enter') event.currentTarget.closest('form')?.requestSubmit()
    else return
    event.preventDefault()
  }
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (rows) onChoose(chosenFilter(now))
      }}
    >
      <div className="px-4">
        {own?.by === 'other' && <p className="mb-2 text-[13px] text-soft">{t('sheet.filter-of-the-file')}</p>}
        <input
          autoFocus
          className="h-9 w-full rounded-md border border-rule-strong bg-sheet px-2.5"
          aria-label={t('sheet.look-for')}
          placeholder={t('sheet.look-for')}
          value={text}
          onChange={(event) => {
            setText(event.target.value)
            setActive(0)
          }}
          onKeyDown={(event) => {
            if (event.key !== 'ArrowDown') return
            event.preventDefault()
            list.current?.focus()
          }}
        />
      </div>
      <div
        ref={(element) => {
          list.current = element
          setScroller(element)
        }}
        role="listbox"
        tabIndex={0}
        aria-label={t('sheet.by-choosing')}
        aria-multiselectable
        aria-activedescendant={seen.length ? `${id}-${active}` : undefined}
        className="group mx-2 mt-2 max-h-64 min-h-[90px] overflow-y-auto rounded-md"
        onKeyDown={press}
      >
        {choices === null ? (
          <p className="px-2 py-1.5 text-soft">{t('sheet.reading-the-column')}</p>
        ) : seen.length === 0 ? (
          <p className="px-2 py-1.5 text-soft">{t('sheet.no-such-entry')}</p>
        ) : (
          <div className="relative" style={{ height: drawn.getTotalSize() }}>
            {drawn.getVirtualItems().map(({ index, start }) => {
              const one = index === 0 ? null : seen[index - 1]!
              const checked = one ? isShown(one) : all
              return (
                // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are the list's, which has the focus
                <div
                  key={index}
                  id={`${id}-${index}`}
                  role="option"
                  tabIndex={-1}
                  aria-selected={checked}
                  onClick={() => {
                    setActive(index)
                    toggle(index)
                  }}
                  className={clsx(
                    'absolute inset-x-0 flex cursor-pointer items-center gap-2 rounded px-2 text-[14px]',
                    index === active &&
                      'group-focus:bg-wash group-focus:outline group-focus:-outline-offset-1 group-focus:outline-accent',
                  )}
                  style={{ top: start, height: rowHeight }}
                >
                  <span
                    className={clsx(
                      'flex size-4 shrink-0 items-center justify-center rounded-sm border',
                      checked ? 'border-accent bg-accent text-on-accent' : 'border-rule-strong bg-sheet',
                    )}
                    aria-hidden
                  >
                    {checked ? <Check className="size-3" /> : !one && some && <span className="h-0.5 w-2 bg-accent" />}
                  </span>
                  <span className={clsx('truncate', !one?.text && 'text-soft')}>
                    {one ? one.text || t('sheet.empty-cells') : t('sheet.all-n', { n: seen.length })}
                  </span>
                  {one && <span className="ml-auto pl-3 font-mono text-[12px] text-soft">{digits(one.rows)}</span>}
                </div>
              )
            })}
          </div>
        )}
      </div>
      <Answers
        label={t('sheet.show-n-rows', { n: rows })}
        disabled={!rows}
        has={own !== undefined}
        onAll={() => onChoose(null)}
      />
    </form>
  )
}

interface Typed {
  test: FilterTest['test']
  text: string
}
function Tests({ filter, column, onChoose }: FilterListProps) {
  const own = filter.columns[column]
  const given = own?.by === 'tested' ? own : null
  const [typed, setTyped] = useState<readonly Typed[]>(
    given?.tests.map(({ test, with: limit }) => ({ test, text: shownLimit(limit) })) ?? [{ test: 'is', text: '' }],
  )
  const [all, setAll] = useState(given?.all ?? true)
  const set = (at: number, part: Partial<Typed>) =>
    setTyped(typed.map((one, n) => (n === at ? { ...one, ...part } : one)))
  // To be empty, or not to be, is a test; to hold nothing is none.
  const faults = typed.map(({ test, text }) => text.trim() === '' && test !== 'is' && test !== 'is not')
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (faults.includes(true)) return
        const ways = { comma: language === 'de' }
        onChoose({ by: 'tested', tests: typed.map(({ test, text }) => typedTest(test, text, ways)), all })
      }}
    >
      <div className="flex flex-col gap-3 px-4">
        {typed.map(({ test, text }, at) => (
          <div key={at} className="flex flex-col gap-2">
            {at > 0 && (
              <Choice
                small
                label={t('sheet.both-or-either')}
                value={all ? 'all' : 'any'}
                choices={[
                  ['all', t('sheet.both-hold')],
                  ['any', t('sheet.either-holds')],
                ]}
                onChange={(one) => setAll(one === 'all')}
              />
            )}
            <div className="flex gap-2">
              <select
                aria-label={t('sheet.test')}
                className="h-9 rounded-md border border-rule-strong bg-sheet px-2 text-[14px] text-ink"
                value={test}
                onChange={(event) => set(at, { test: event.target.value as FilterTest['test'] })}
              >
                {tests.map(([one, words]) => (
                  <option key={one} value={one}>
                    {words}
                  </option>
                ))}
              </select>
              <input
                autoFocus={at === 0}
                aria-label={t('sheet.compared-with')}
                placeholder={test === 'is' || test === 'is not' ? t('sheet.empty-cells') : ''}
                className="h-9 w-full min-w-0 rounded-md border border-rule-strong bg-sheet px-2.5"
                value={text}
                onChange={(event) => set(at, { text: event.target.value })}
              />
            </div>
          </div>
        ))}
        {typed.length < 2 ? (
          <div>
            <Button look="quiet" onClick={() => setTyped([...typed, { test: 'is', text: '' }])}>
              {t('sheet.another-test')}
            </Button>
          </div>
        ) : (
          <div>
            <Button look="quiet" onClick={() => setTyped(typed.slice(0, 1))}>
              {t('sheet.one-test-only')}
            </Button>
          </div>
        )}
      </div>
      <Answers
        label={t('sheet.show-these-rows')}
        disabled={faults.includes(true)}
        has={own !== undefined}
        onAll={() => onChoose(null)}
      />
    </form>
  )
}
const shownLimit = (limit: string | number): string =>
  typeof limit === 'number' && language === 'de' ? String(limit).replace('.', ',') : String(limit)
