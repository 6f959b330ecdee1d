// Filters of sheets: an area whose first row is headings, and what of its rows is shown, by column. Which rows a filter
// hides is counted when it is set or applied again, and stands in the sheet as hidden rows: so files of every type hold it.
import { placesOf } from './by-letters'
import { displayOf } from './display'
import { movedArea, placeAfter } from './moved-lines'
import { type Cell, type CellValue, cellAt, isError, type MergedArea, type Sheet } from './workbook'

export const filterTests = [
  'is',
  'is not',
  'above',
  'at least',
  'below',
  'at most',
  'contains',
  'lacks',
  'begins',
  'ends',
] as const
export interface FilterTest {
  readonly test: (typeof filterTests)[number]
  /** A number is compared with numbers and dates, a text with what a cell shows; '' is an empty cell. */
  readonly with: string | number
}
/** What a column's cells are to be for their rows to be shown. */
export type ColumnFilter =
  /** As they show it, without regard to small and capital letters. */
  | { readonly by: 'one of'; readonly texts: readonly string[]; readonly empty: boolean }
  | { readonly by: 'tested'; readonly tests: readonly FilterTest[]; readonly all: boolean }
  /** What a file says that is not known here, as it says it: rows that it hides stay hidden. */
  | { readonly by: 'other'; readonly kept: string }

export interface SheetFilter {
  /** Its first row holds the headings. */
  readonly area: MergedArea
  /** By column of the sheet. */
  readonly columns: Readonly<Record<number, ColumnFilter>>
}

/** What cells show and hold, formulas with their results. */
export interface CellView {
  textOf(row: number, column: number): string
  valueOf(row: number, column: number): CellValue | undefined
}

/** @param resultOf of a formula, where it is known */
export function viewOf(sheet: Sheet, resultOf: (row: number, column: number) => CellValue | undefined): CellView {
  const valueOf = (row: number, column: number): CellValue | undefined => {
    const cell = cellAt(sheet, row, column)
    return cell?.formula === undefined ? cell?.value : resultOf(row, column)
  }
  // A format takes longer than all else, and numbers come again.
  const known = new Map<string, Map<number, string>>()
  const numberText = (cell: Cell, value: number): string => {
    const format = cell.style?.format ?? ''
    let texts = known.get(format)
    if (!texts) known.set(format, (texts = new Map()))
    let text = texts.get(value)
    if (text === undefined) texts.set(value, (text = displayOf(cell, value)))
    return text
  }
  return {
    valueOf,
    textOf(row, column) {
      const cell = cellAt(sheet, row, column)
      if (!cell) return ''
      const value = valueOf(row, column)
      return typeof value === 'number' ? numberText(cell, value) : displayOf(cell, value)
    },
  }
}

export const sameFilter = (a: SheetFilter | undefined, b: SheetFilter | undefined): boolean =>
  a === b || JSON.stringify(a && plain(a)) === JSON.stringify(b && plain(b))
const plain = ({ area: { top, left, bottom, right }, columns }: SheetFilter) => [
  [top, left, bottom, right],
  columnsOf({ columns }).map(([column, one]) => [column, ...partsOf(one)]),
]
const partsOf = (one: ColumnFilter): unknown[] =>
  one.by === 'one of'
    ? [one.texts, one.empty]
    : one.by === 'tested'
      ? [one.tests.map(({ test, with: limit }) => [test, limit]), one.all || one.tests.length === 1]
      : [one.kept]

/** Its columns that say something, from the left. */
export const columnsOf = ({ columns }: Pick<SheetFilter, 'columns'>): [number, ColumnFilter][] =>
  Object.entries(columns)
    .map(([column, one]): [number, ColumnFilter] => [Number(column), one])
    .sort(([a], [b]) => a - b)

/** A filter with another condition on a column. @param one null for none */
export function withColumn(filter: SheetFilter, column: number, one: ColumnFilter | null): SheetFilter {
  const { [column]: _, ...others } = filter.columns
  return { ...filter, columns: one ? { ...others, [column]: one } : others }
}

/** A filter once rows or columns came or went; null when its headings or all of its columns are gone. */
export function movedFilter(
  { area, columns }: SheetFilter,
  axis: 'rows' | 'columns',
  at: number,
  count: number,
): SheetFilter | null {
  if (axis === 'rows' && placeAfter(area.top, at, count) === null) return null
  const now = movedArea(area, axis, at, count)
  if (!now) return null
  if (axis === 'rows') return { area: now, columns }
  const moved: Record<number, ColumnFilter> = {}
  for (const [column, one] of columnsOf({ columns })) {
    const place = placeAfter(column, at, count)
    if (place !== null) moved[place] = one
  }
  return { area: now, columns: moved }
}

/** Letters compared as a reader would who does not mind capitals. */
export const folded = (text: string): string => text.normalize('NFC').toLowerCase()

/** Whether a cell is what a column's filter asks for; undefined where that is not known. */
export function passes(one: ColumnFilter, text: string, value: CellValue | undefined): boolean | undefined {
  if (one.by === 'other') return undefined
  if (one.by === 'one of') {
    const known = textsOf(one)
    return text === '' ? one.empty : known.has(folded(text))
  }
  const results = one.tests.map((test) => holds(test, text, value))
  return one.all ? results.every(Boolean) : results.some(Boolean)
}
const foldedTexts = new WeakMap<ColumnFilter, ReadonlySet<string>>()
function textsOf(one: Extract<ColumnFilter, { by: 'one of' }>): ReadonlySet<string> {
  let known = foldedTexts.get(one)
  if (!known) foldedTexts.set(one, (known = new Set(one.texts.map(folded))))
  return known
}

function holds({ test, with: limit }: FilterTest, text: string, value: CellValue | undefined): boolean {
  if (typeof limit === 'number') {
    const number = typeof value === 'number' ? value : null
    switch (test) {
      case 'is':
        return number === limit
      case 'is not':
        return number !== limit
      case 'above':
        return number !== null && number > limit
      case 'at least':
        return number !== null && number >= limit
      case 'below':
        return number !== null && number < limit
      case 'at most':
        return number !== null && number <= limit
      default:
        return holds({ test, with: String(limit) }, text, value)
    }
  }
  const [shown, wanted] = [folded(text), folded(limit)]
  // Above and below a text are texts alone, as letters follow one another.
  const isText = typeof value === 'string' && value !== ''
  switch (test) {
    case 'is':
      return shown === wanted
    case 'is not':
      return shown !== wanted
    case 'contains':
      return shown.includes(wanted)
    case 'lacks':
      return !shown.includes(wanted)
    case 'begins':
      return shown.startsWith(wanted)
    case 'ends':
      return shown.endsWith(wanted)
    case 'above':
      return isText && shown > wanted
    case 'at least':
      return isText && shown >= wanted
    case 'below':
      return isText && shown < wanted
    case 'at most':
      return isText && shown <= wanted
  }
}

/**
 * The rows under the headings that a filter hides, in order.
 * @param hiddenNow rows that are hidden: with a condition that is not known here they stay so
 */
export function rowsHidden(filter: SheetFilter, view: CellView, hiddenNow: ReadonlySet<number>): number[] {
  const { area } = filter
  const columns = columnsOf(filter)
  const hidden: number[] = []
  if (!columns.length) return hidden
  const unknown = columns.some(([, one]) => one.by === 'other')
  for (let row = area.top + 1; row <= area.bottom; row++)
    if ((unknown && hiddenNow.has(row)) || !passesAll(columns, view, row)) hidden.push(row)
  return hidden
}
function passesAll(columns: readonly [number, ColumnFilter][], view: CellView, row: number): boolean {
  for (const [column, one] of columns)
    if (passes(one, view.textOf(row, column), view.valueOf(row, column)) === false) return false
  return true
}

export interface Choice {
  /** As the first of them shows it; '' for empty cells. */
  text: string
  /** How many rows have it. */
  rows: number
  shown: boolean
}
/**
 * What a column's cells show, in the rows that the other columns' conditions let through: numbers and dates in their order,
 * then texts, then what is neither, empty cells last.
 */
export function choicesIn(
  filter: SheetFilter,
  column: number,
  view: CellView,
  hiddenNow: ReadonlySet<number>,
): Choice[] {
  const others = columnsOf(filter).filter(([at]) => at !== column)
  const own = filter.columns[column]
  const unknown = others.some(([, one]) => one.by === 'other')
  const found = new Map<string, Choice & { value: CellValue | undefined }>()
  for (let row = filter.area.top + 1; row <= filter.area.bottom; row++) {
    if (unknown && hiddenNow.has(row)) continue
    if (!passesAll(others, view, row)) continue
    const [text, value] = [view.textOf(row, column), view.valueOf(row, column)]
    const key = folded(text)
    const known = found.get(key)
    if (known) {
      known.rows++
      continue
    }
    const passed = own && (passes(own, text, value) ?? !hiddenNow.has(row))
    found.set(key, { text, rows: 1, shown: passed ?? true, value })
  }
  const all = [...found.values()]
  const numbers = all.filter(({ value, text }) => typeof value === 'number' && text !== '')
  const rest = all.filter(({ value, text }) => typeof value !== 'number' || text === '')
  const places = placesOf(rest.map(({ text }) => text))
  const rank = ({ text, value }: { text: string; value: CellValue | undefined }) =>
    text === '' ? 2 : isError(value) || typeof value === 'boolean' ? 1 : 0
  return [
    ...inOrder(numbers, ({ value }) => value as number),
    ...inOrder(rest, (one) => rank(one) * 2 ** 32 + places.get(one.text)!),
  ].map(({ text, rows, shown }) => ({ text, rows, shown }))
}
/** Items by a number that each of them has: all those numbers together are compared quicker than the items. */
function inOrder<T>(items: readonly T[], by: (item: T) => number): T[] {
  const keys = Float64Array.from(items, by)
  return Array.from(
    Uint32Array.from(keys, (_, at) => at).sort((a, b) => keys[a]! - keys[b]! || a - b),
    (at) => items[at]!,
  )
}

/** Rows that are hidden, and whether a filter hides them: those under its headings, where one of its columns says something. */
export function hiddenByFilter({
  filter,
  hiddenRows = [],
}: Pick<Sheet, 'filter' | 'hiddenRows'>): Map<number, boolean> {
  const hides = filter && Object.keys(filter.columns).length > 0 ? filter.area : null
  return new Map(hiddenRows.map((row) => [row, hides !== null && row > hides.top && row <= hides.bottom]))
}
const filteredOut = new WeakMap<readonly number[], { filter: SheetFilter | undefined; rows: readonly number[] }>()
/** The rows that a filter hides, in order; found once for a sheet that stays as it is, as whoever draws it asks often. */
export function rowsFilteredOut({ filter, hiddenRows }: Pick<Sheet, 'filter' | 'hiddenRows'>): readonly number[] {
  if (!filter || !hiddenRows) return []
  const known = filteredOut.get(hiddenRows)
  if (known?.filter === filter) return known.rows
  const rows = [...hiddenByFilter({ filter, hiddenRows })].flatMap(([row, filtered]) => (filtered ? [row] : []))
  filteredOut.set(hiddenRows, { filter, rows })
  return rows
}
/** A workbook without its filters, as it was before they were a part of the model. */
export const withoutFilters = <T extends { sheets: readonly Sheet[] }>(workbook: T): T => ({
  ...workbook,
  sheets: workbook.sheets.map(({ filter: _, ...sheet }) => sheet),
})
