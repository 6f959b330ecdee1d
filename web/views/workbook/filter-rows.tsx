// Filtering a sheet: which rows it shows by what they hold, where that is said and how it is undone.
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { type ColumnFilter, columnsOf, type SheetFilter, withColumn } from '../../../core/content/sheet-filter'
import { columnName, type Sheet } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import { useOffer } from '../../design/commands'
import { t } from '../../words/all'
import type { CellSpot } from './at-cell'
import { filterArea, filterOps, grownArea, rowsShown, unfiltered } from './filter-acts'
import { FilterList } from './filter-list'
import type { GridPlace } from './grid'
import type { ShownWorkbook } from './still'

export function useFilter({
  store,
  index,
  place,
  offered,
  act,
  back,
}: {
  store: ShownWorkbook
  index: number
  place: GridPlace
  /** The workbook may be edited, and its file can hold a filter. */
  offered: boolean
  /** @returns whether it was done */
  act: (ops: WorkbookOp[]) => boolean
  /** The keyboard goes back to the cells. */
  back: () => void
}) {
  const [column, setColumn] = useState<number | null>(null)
  const spotOf = useRef<((column: number, row: number) => CellSpot | undefined) | null>(null)
  const sheet = store.workbook.sheets[index]!
  const { filter } = sheet
  const close = () => {
    setColumn(null)
    back()
  }
  // What another sheet shows is another question.
  // biome-ignore lint/correctness/useExhaustiveDependencies: closed when the sheet is another
  useEffect(() => setColumn(null), [index])
  const set = async (next: SheetFilter | null) => {
    const grown = next && grownArea(sheet, next)
    const hidden = grown && columnsOf(grown).length ? await store.hiddenBy(index, grown) : []
    const now = store.workbook.sheets[index]
    if (now) act(filterOps(now, index, grown, hidden))
  }
  const open = async (wanted: number) => {
    if (filter) {
      const { left, right } = filter.area
      if (wanted < left || wanted > right)
        return void toast(t('sheet.filter-is-elsewhere', { from: columnName(left), to: columnName(right) }))
      return setColumn(wanted)
    }
    const area = filterArea(sheet, place, place.block)
    if (!area || area.bottom === area.top) return void toast(t('sheet.nothing-to-filter'))
    const table = await store.tableWithin(index, area)
    if (table) return void toast(t('sheet.filter-in-table', { table }))
    if (act(filterOps(sheet, index, { area, columns: {} }, [])))
      setColumn(Math.min(area.right, Math.max(area.left, wanted)))
  }
  const showAll = () => {
    if (filter) act(filterOps(sheet, index, unfiltered(filter), []))
    back()
  }
  const end = () => {
    act(filterOps(sheet, index, null, []))
    close()
  }
  /** Once more by what the cells hold now, where something is filtered. */
  const again = () => {
    const is = store.workbook.sheets[index]?.filter
    if (is && columnsOf(is).length) void set(is).then(back)
  }
  const isFiltered = filter !== undefined && columnsOf(filter).length > 0
  useOffer(
    offered
      ? [
          { id: 'filter', label: t('sheet.filter-rows'), run: () => void open(place.column) },
          ...(isFiltered
            ? [
                { id: 'filter again', label: t('sheet.filter-again'), run: again },
                { id: 'all rows', label: t('sheet.show-all-rows'), run: showAll },
              ]
            : []),
          ...(filter ? [{ id: 'no filter', label: t('sheet.take-filter-away'), run: end }] : []),
        ].map((one) => ({ ...one, group: t('common.in-a-spreadsheet') }))
      : [],
  )
  const heading = (of: number) => {
    const text = filter ? textOf(store, index, filter.area.top, of) : ''
    return text || t('sheet.column', { column: columnName(of) })
  }
  const at = column !== null && filter ? spotOf.current?.(column, filter.area.top) : undefined
  const list = column !== null && filter && (
    <FilterList
      key={column}
      store={store}
      sheet={index}
      filter={filter}
      column={column}
      heading={heading(column)}
      // Out of sight its heading is above what is seen.
      at={at ?? { x: 96, y: 120, width: 96, height: 26 }}
      onChoose={(one: ColumnFilter | null) => {
        setColumn(null)
        void set(withColumn(filter, column, one)).then(back)
      }}
      onEnd={end}
      onClose={close}
    />
  )
  return { open: (wanted: number) => void open(wanted), showAll, again, list, spotOf }
}

function textOf(store: ShownWorkbook, sheet: number, row: number, column: number): string {
  const cell = store.workbook.sheets[sheet]?.rows[row]?.[column]
  const value = cell?.formula === undefined ? cell?.value : store.result(sheet, row, column)
  return typeof value === 'string' || typeof value === 'number' ? String(value).slice(0, 60) : ''
}

/** How many rows a filter shows, and all of them again. */
export function FilteredRows({ sheet, onShowAll }: { sheet: Sheet; onShowAll: (() => void) | undefined }) {
  const counted = rowsShown(sheet)
  if (!counted) return null
  return (
    <span
      className="ml-auto flex shrink-0 items-center gap-2 pl-4 text-[13px] whitespace-nowrap text-soft"
      aria-live="polite"
    >
      {t('sheet.rows-shown', { shown: counted.shown, of: counted.of })}
      {onShowAll && (
        <button
          type="button"
          className="min-h-6 rounded px-2 font-medium text-accent hover:underline"
          onClick={onShowAll}
        >
          {t('sheet.show-all-rows')}
        </button>
      )}
    </span>
  )
}
