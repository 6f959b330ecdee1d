// What filtering does to a sheet, as workbook operations.

import { type EntryWays, readEntry } from '../../../core/content/entry'
import { spansOf } from '../../../core/content/moved-lines'
import {
  type ColumnFilter,
  type FilterTest,
  hiddenByFilter,
  rowsFilteredOut,
  type SheetFilter,
} from '../../../core/content/sheet-filter'
import { type CellValue, cellAt, type MergedArea, type Sheet } from '../../../core/content/workbook'
import type { WorkbookOp } from '../../../core/content/workbook-ops'
import type { Block } from './acts'

const isFilled = (sheet: Sheet, row: number, column: number): boolean => {
  const cell = cellAt(sheet, row, column)
  return cell?.value !== undefined || cell?.formula !== undefined
}

/** The cells around one that hang together, up to empty rows and columns; null where there is nothing. */
export function areaAround(sheet: Sheet, row: number, column: number): MergedArea | null {
  let [top, bottom, left, right] = [row, row, column, column]
  const filledRow = (at: number) => {
    for (let one = Math.max(0, left - 1); one <= right + 1; one++) if (isFilled(sheet, at, one)) return true
    return false
  }
  const filledColumn = (at: number) => {
    for (let one = Math.max(0, top - 1); one <= bottom + 1; one++) if (isFilled(sheet, one, at)) return true
    return false
  }
  for (let before = -1; before !== bottom - top + right - left; ) {
    before = bottom - top + right - left
    while (top > 0 && filledRow(top - 1)) top--
    while (filledRow(bottom + 1)) bottom++
    while (left > 0 && filledColumn(left - 1)) left--
    while (filledColumn(right + 1)) right++
  }
  // Where the cursor stands beside it there may be nothing at its edges.
  const rowEmpty = (at: number) => {
    for (let one = left; one <= right; one++) if (isFilled(sheet, at, one)) return false
    return true
  }
  const columnEmpty = (at: number) => {
    for (let one = top; one <= bottom; one++) if (isFilled(sheet, one, at)) return false
    return true
  }
  while (top < bottom && rowEmpty(top)) top++
  while (bottom > top && rowEmpty(bottom)) bottom--
  while (left < right && columnEmpty(left)) left++
  while (right > left && columnEmpty(right)) right--
  return rowEmpty(top) || bottom === top ? null : { top, left, bottom, right }
}

/** What is to be filtered: what is selected, where that is several rows, or what hangs together around the cursor. */
export function filterArea(sheet: Sheet, { row, column }: { row: number; column: number }, block: Block) {
  return block.height > 1
    ? { top: block.y, left: block.x, bottom: block.y + block.height - 1, right: block.x + block.width - 1 }
    : areaAround(sheet, row, column)
}

/**
 * Sets a filter, or takes it away.
 * @param hidden rows of its area that it hides; with none those that it hid come back
 */
export function filterOps(
  sheet: Sheet,
  index: number,
  filter: SheetFilter | null,
  hidden: readonly number[],
): WorkbookOp[] {
  const was = hiddenByFilter(sheet)
  const wanted = new Set(hidden)
  const within = (row: number) =>
    filter !== null && Object.keys(filter.columns).length > 0 && row > filter.area.top && row <= filter.area.bottom
  // Rows that somebody hid by hand stay so where no filter says anything of them.
  const shown = [...was].flatMap(([row, filtered]) => ((filtered || within(row)) && !wanted.has(row) ? [row] : []))
  const gone = hidden.filter((row) => !was.has(row))
  return [
    { op: 'filter', sheet: index, filter },
    ...(shown.length
      ? [{ op: 'hide' as const, sheet: index, axis: 'rows' as const, spans: spansOf(shown), hidden: false }]
      : []),
    ...(gone.length
      ? [{ op: 'hide' as const, sheet: index, axis: 'rows' as const, spans: spansOf(gone), hidden: true }]
      : []),
  ]
}

/** An area goes on as far as rows that came under it. */
export function grownArea(sheet: Sheet, { area, columns }: SheetFilter): SheetFilter {
  let { bottom } = area
  const filled = (row: number) => {
    for (let column = area.left; column <= area.right; column++) if (isFilled(sheet, row, column)) return true
    return false
  }
  while (filled(bottom + 1)) bottom++
  return bottom === area.bottom ? { area, columns } : { area: { ...area, bottom }, columns }
}

/**
 * What somebody chose of what a column shows.
 * @param chosen of each choice its text and whether it is to be shown @returns null where all are
 */
export function chosenFilter(chosen: readonly { text: string; shown: boolean }[]): ColumnFilter | null {
  const out = chosen.filter(({ shown }) => !shown)
  if (!out.length) return null
  // All but empty cells: that holds for what will be written, too.
  if (out.length === 1 && out[0]!.text === '') return { by: 'tested', tests: [{ test: 'is not', with: '' }], all: true }
  const texts = chosen.filter(({ shown, text }) => shown && text !== '').map(({ text }) => text)
  return { by: 'one of', texts, empty: chosen.some(({ shown, text }) => shown && text === '') }
}

const comparesNumbers = new Set<FilterTest['test']>(['is', 'is not', 'above', 'at least', 'below', 'at most'])
/** A test as somebody typed it: numbers, amounts and dates are compared as numbers where they can be. */
export function typedTest(test: FilterTest['test'], text: string, ways: EntryWays): FilterTest {
  const value: CellValue | undefined = comparesNumbers.has(test) ? readEntry(text, undefined, ways)?.value : undefined
  return { test, with: typeof value === 'number' ? value : text.trim() }
}

/** How many of its rows a filter shows. */
export function rowsShown(sheet: Sheet): { shown: number; of: number } | null {
  const { filter } = sheet
  if (!filter || !Object.keys(filter.columns).length) return null
  const of = filter.area.bottom - filter.area.top
  return { shown: of - rowsFilteredOut(sheet).length, of }
}

/** A filter without any condition. */
export const unfiltered = (filter: SheetFilter): SheetFilter => ({ area: filter.area, columns: {} })

/** The rows of a block that no filter hides, as blocks: what is done to a selection is done to what is seen of it. */
export function shownParts(sheet: Sheet, block: Block): Block[] {
  const hidden = rowsFilteredOut(sheet)
  const parts: Block[] = []
  let from = block.y
  const end = block.y + block.height
  for (let at = firstFrom(hidden, from); at < hidden.length && hidden[at]! < end; at++) {
    const row = hidden[at]!
    if (row > from) parts.push({ ...block, y: from, height: row - from })
    from = row + 1
  }
  if (from < end) parts.push({ ...block, y: from, height: end - from })
  return parts
}
/** Where the first number that is not below one stands among numbers in order. */
function firstFrom(numbers: readonly number[], least: number): number {
  let [low, high] = [0, numbers.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (numbers[middle]! < least) low = middle + 1
    else high = middle
  }
  return low
}
/** The rows of a block that are seen, in order. */
export const shownRows = (sheet: Sheet, block: Block): number[] =>
  shownParts(sheet, block).flatMap(({ y, height }) => Array.from({ length: height }, (_, at) => y + at))

/** Of the rows that are seen from one on, the one at a number, counted from zero. */
export function seenFrom(sheet: Sheet, from: number): (n: number) => number {
  const hidden = rowsFilteredOut(sheet)
  const places: number[] = []
  let at = firstFrom(hidden, from)
  return (n) => {
    while (places.length <= n) {
      let next = places.length ? places.at(-1)! + 1 : from
      for (; hidden[at] === next; at++) next++
      places.push(next)
    }
    return places[n]!
  }
}

/** Cells of rows that are seen. */
export function onlySeen<T extends Extract<WorkbookOp, { op: 'cells' }>>(sheet: Sheet, op: T): T {
  const hidden = new Set(rowsFilteredOut(sheet))
  return hidden.size ? { ...op, cells: op.cells.filter(({ row }) => !hidden.has(row)) } : op
}
