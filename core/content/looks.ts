// How a sheet looks beyond what can be changed here: merged cells, borders, fonts, heights, what is hidden. It is the
// file's own, stays with its places, and moves along when rows, columns and sheets do (ECMA-376 part 1, §18.3.1.55,
// §18.3.1.73, §18.8.4).
import type { SheetPaper } from './sheet-paper'
import { largestSheet } from './workbook'
import type { WorkbookOp } from './workbook-ops'

export interface BorderSide {
  readonly width: 1 | 2 | 3
  readonly line: 'solid' | 'dashed' | 'dotted' | 'double'
  /** `#rrggbb`; null as text is. */
  readonly color: string | null
}
/** Cells of one look share one object. */
export interface CellLook {
  readonly top?: BorderSide
  readonly right?: BorderSide
  readonly bottom?: BorderSide
  readonly left?: BorderSide
  readonly font?: string
  /** In points. */
  readonly size?: number
  readonly vertical?: 'top' | 'middle' | 'bottom'
}
/** Cells, both ends included; zero-based. */
export interface MergedArea {
  readonly top: number
  readonly left: number
  readonly bottom: number
  readonly right: number
}
export interface SheetLooks {
  readonly merged: readonly MergedArea[]
  /** In points, of rows that have a height of their own. */
  readonly heights: ReadonlyMap<number, number>
  readonly hiddenRows: ReadonlySet<number>
  readonly hiddenColumns: ReadonlySet<number>
  /** By `row * 16384 + column`. */
  readonly cells: ReadonlyMap<number, CellLook>
  /** How it comes to paper; absent where its file says nothing of it. */
  readonly paper?: SheetPaper
}
export const noLooks: SheetLooks = {
  merged: [],
  heights: new Map(),
  hiddenRows: new Set(),
  hiddenColumns: new Set(),
  cells: new Map(),
}
export const isPlainSheet = (looks: SheetLooks): boolean =>
  !looks.merged.length &&
  !looks.heights.size &&
  !looks.hiddenRows.size &&
  !looks.hiddenColumns.size &&
  !looks.cells.size

/** Rows and columns up to the last one that has a look. */
export function extentOf({ merged, cells }: SheetLooks): { rows: number; columns: number } {
  let [rows, columns] = [0, 0]
  for (const { bottom, right } of merged) {
    rows = Math.max(rows, bottom + 1)
    columns = Math.max(columns, right + 1)
  }
  for (const key of cells.keys()) {
    rows = Math.max(rows, Math.floor(key / largestSheet.columns) + 1)
    columns = Math.max(columns, (key % largestSheet.columns) + 1)
  }
  return { rows, columns }
}

/** Features of files that are shown, and not changed, here (formats/refusals.ts has their names). */
export const shownLooks: ReadonlySet<string> = new Set([
  'merged cells (their content stays in the first one)',
  'row heights',
  'hidden rows and columns (they become visible)',
  'cells with borders',
  'cells with a font or text size of their own',
])

type Axis = 'rows' | 'columns'
/** Where a line is after lines came (`count` above 0) or went at a place; null when it went. */
const placeAfter = (line: number, at: number, count: number): number | null =>
  line < at ? line : count < 0 && line < at - count ? null : line + count

function movedLines<T>(lines: Iterable<readonly [number, T]>, at: number, count: number): [number, T][] {
  const now: [number, T][] = []
  for (const [line, value] of lines) {
    const place = placeAfter(line, at, count)
    if (place !== null) now.push([place, value])
  }
  return now
}

function movedArea(area: MergedArea, axis: Axis, at: number, count: number): MergedArea | null {
  const [from, to] = axis === 'rows' ? [area.top, area.bottom] : [area.left, area.right]
  let first = from
  let last = to
  if (count > 0) {
    if (at <= from) first += count
    if (at <= to) last += count
  } else {
    const gone = (line: number) => Math.min(-count, Math.max(0, line - at))
    first -= gone(first)
    last -= gone(last + 1)
    if (last < first) return null
  }
  const now = axis === 'rows' ? { ...area, top: first, bottom: last } : { ...area, left: first, right: last }
  return now
}
/** Of one cell there is nothing to merge. */
const isOneCell = ({ top, left, bottom, right }: MergedArea): boolean => top === bottom && left === right

function movedPaper(paper: SheetPaper, axis: Axis, at: number, count: number): SheetPaper {
  const lines = (span: readonly [number, number] | undefined): readonly [number, number] | undefined => {
    if (!span) return undefined
    const [from, to] = span
    const now = movedArea({ top: from, bottom: to, left: 0, right: 0 }, 'rows', at, count)
    return now ? [now.top, now.bottom] : undefined
  }
  const breaks = (all: readonly number[] | undefined) =>
    all &&
    movedLines(
      all.map((line) => [line, true] as const),
      at,
      count,
    ).map(([line]) => line)
  const { areas, titleRows, titleColumns, rowBreaks, columnBreaks, ...rest } = paper
  const of = axis === 'rows' ? { titles: lines(titleRows), at: breaks(rowBreaks) } : null
  const over = axis === 'columns' ? { titles: lines(titleColumns), at: breaks(columnBreaks) } : null
  const now = {
    areas: areas?.flatMap((area) => movedArea(area, axis, at, count) ?? []),
    titleRows: of ? of.titles : titleRows,
    titleColumns: over ? over.titles : titleColumns,
    rowBreaks: of ? of.at : rowBreaks,
    columnBreaks: over ? over.at : columnBreaks,
  }
  return {
    ...rest,
    // Where all of what was to be printed is gone, it is said by nothing any more.
    ...(now.areas?.length && { areas: now.areas }),
    ...(now.titleRows && { titleRows: now.titleRows }),
    ...(now.titleColumns && { titleColumns: now.titleColumns }),
    ...(now.rowBreaks && { rowBreaks: now.rowBreaks }),
    ...(now.columnBreaks && { columnBreaks: now.columnBreaks }),
  }
}

function moved(looks: SheetLooks, axis: Axis, at: number, count: number): SheetLooks {
  const cells = new Map<number, CellLook>()
  for (const [key, look] of looks.cells) {
    const [row, column] = [Math.floor(key / largestSheet.columns), key % largestSheet.columns]
    const place = placeAfter(axis === 'rows' ? row : column, at, count)
    if (place === null) continue
    cells.set(axis === 'rows' ? place * largestSheet.columns + column : row * largestSheet.columns + place, look)
  }
  const set = (lines: ReadonlySet<number>) =>
    new Set(
      movedLines(
        [...lines].map((line) => [line, true] as const),
        at,
        count,
      ).map(([line]) => line),
    )
  return {
    merged: looks.merged.flatMap((area) => {
      const now = movedArea(area, axis, at, count)
      return now && !isOneCell(now) ? now : []
    }),
    heights: axis === 'rows' ? new Map(movedLines(looks.heights, at, count)) : looks.heights,
    hiddenRows: axis === 'rows' ? set(looks.hiddenRows) : looks.hiddenRows,
    hiddenColumns: axis === 'columns' ? set(looks.hiddenColumns) : looks.hiddenColumns,
    cells,
    ...(looks.paper && { paper: movedPaper(looks.paper, axis, at, count) }),
  }
}

/**
 * The looks of a workbook's sheets after an edit.
 * @param sheets how many there were without it
 */
export function looksAfter(looks: readonly SheetLooks[], op: WorkbookOp, sheets: number): readonly SheetLooks[] {
  switch (op.op) {
    case 'insert':
    case 'remove': {
      const own = looks[op.sheet]
      if (!own || (isPlainSheet(own) && !own.paper)) return looks
      return looks.with(op.sheet, moved(own, op.axis, op.at, op.op === 'insert' ? op.count : -op.count))
    }
    case 'add sheet':
    case 'put sheet':
      return padded(looks, sheets).toSpliced(op.at, 0, noLooks)
    case 'remove sheet':
      return padded(looks, sheets).toSpliced(op.sheet, 1)
    case 'move sheet': {
      const all = padded(looks, sheets)
      return all.toSpliced(op.sheet, 1).toSpliced(op.to, 0, all[op.sheet]!)
    }
    case 'cells':
    case 'rename sheet':
    case 'width':
    case 'freeze':
      return looks
  }
}
const padded = (looks: readonly SheetLooks[], sheets: number): SheetLooks[] =>
  Array.from({ length: sheets }, (_, index) => looks[index] ?? noLooks)

/** After edits, one after the other; what was undone at once is as it was before. @param sheets how many there were */
export function looksThrough(
  looks: readonly SheetLooks[],
  ops: readonly WorkbookOp[],
  sheets: number,
): readonly SheetLooks[] {
  let now = looks
  let count = sheets
  const past: { op: Extract<WorkbookOp, { op: 'insert' | 'remove' }>; looks: readonly SheetLooks[] }[] = []
  for (const op of ops) {
    const last = past.at(-1)
    if (op.op === 'insert' || op.op === 'remove') {
      const undoes =
        last &&
        last.op.op !== op.op &&
        last.op.sheet === op.sheet &&
        last.op.axis === op.axis &&
        last.op.at === op.at &&
        last.op.count === op.count
      if (undoes) {
        now = last.looks
        past.pop()
        continue
      }
      past.push({ op, looks: now })
    } else if (op.op === 'add sheet' || op.op === 'put sheet' || op.op === 'remove sheet' || op.op === 'move sheet')
      past.length = 0
    now = looksAfter(now, op, count)
    count += op.op === 'add sheet' || op.op === 'put sheet' ? 1 : op.op === 'remove sheet' ? -1 : 0
  }
  return now
}

/** The merged area that a cell is in. */
export const mergedAt = ({ merged }: SheetLooks, row: number, column: number): MergedArea | undefined =>
  merged.find(({ top, left, bottom, right }) => row >= top && row <= bottom && column >= left && column <= right)
