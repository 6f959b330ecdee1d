// What people do to a selection, as workbook operations.
import { placesOf } from '../../../core/content/by-letters'
import { copyFormula } from '../../../core/content/formula'
import { referenceTo } from '../../../core/content/formula-entry'
import { type Series, seriesOf } from '../../../core/content/series'
import { type Cell, type CellStyle, type CellValue, cellAt, isError, type Sheet } from '../../../core/content/workbook'
import { type CellChange, tidyCell, type WorkbookOp } from '../../../core/content/workbook-ops'
import type { Copied } from './copied'

/** A block of cells: `x`, `y` its first column and row. */
export interface Block {
  x: number
  y: number
  width: number
  height: number
}

/** A block cut down to what the sheet uses, so that whole columns stay cheap. */
export function usedPart(sheet: Sheet, block: Block, columns: number): Block {
  return {
    ...block,
    width: Math.max(0, Math.min(block.width, columns - block.x)),
    height: Math.max(0, Math.min(block.height, sheet.rows.length - block.y)),
  }
}

export function* cellsOf(block: Block): Generator<[row: number, column: number]> {
  for (let row = block.y; row < block.y + block.height; row++)
    for (let column = block.x; column < block.x + block.width; column++) yield [row, column]
}

/** A style with a part of it changed; fields set to undefined go. */
export function styled(
  cell: Cell | undefined,
  change: { [K in keyof CellStyle]?: CellStyle[K] | undefined },
): Cell | null {
  const style: Record<string, unknown> = { ...cell?.style, ...change }
  for (const key of Object.keys(style)) if (style[key] === undefined) delete style[key]
  return tidyCell({ ...cell, style: style as CellStyle }) ?? null
}

export const styleOp = (
  sheet: Sheet,
  index: number,
  block: Block,
  change: Parameters<typeof styled>[1],
): WorkbookOp => ({
  op: 'cells',
  sheet: index,
  cells: [...cellsOf(block)].map(([row, column]) => ({
    row,
    column,
    cell: styled(cellAt(sheet, row, column), change),
  })),
})

export function clearOp(sheet: Sheet, index: number, block: Block): WorkbookOp {
  const cells: CellChange[] = []
  for (const [row, column] of cellsOf(block)) {
    const cell = cellAt(sheet, row, column)
    if (cell && (cell.value !== undefined || cell.formula !== undefined))
      cells.push({ row, column, cell: cell.style ? { style: cell.style } : null })
  }
  return { op: 'cells', sheet: index, cells }
}

/** A cell as it is at another place. */
export const movedCell = (cell: Cell | undefined, byRows: number, byColumns: number): Cell | null =>
  cell ? (cell.formula !== undefined ? { ...cell, formula: copyFormula(cell.formula, byRows, byColumns) } : cell) : null

/** Numbers, then texts, then truth values, then errors; empty cells last whichever way. */
const rank = (value: CellValue | undefined) =>
  value === undefined
    ? 4
    : typeof value === 'number'
      ? 0
      : typeof value === 'string'
        ? 1
        : typeof value === 'boolean'
          ? 2
          : 3

/** A column that rows are sorted by. */
export interface SortKey {
  column: number
  down: boolean
}
/** What each row of a block is compared by in one column: its kind, and its place among those of that kind. */
function sortKeys(
  block: Block,
  column: number,
  down: boolean,
  valueAt: (row: number, column: number) => CellValue | undefined,
): { ranks: Int8Array; places: Float64Array } {
  const values = Array.from({ length: block.height }, (_, at) => valueAt(block.y + at, column))
  const texts = placesOf(values.filter((value) => typeof value === 'string'))
  const way = down ? -1 : 1
  return {
    ranks: Int8Array.from(values, (value) => (value === undefined ? rank(value) : way * rank(value))),
    places: Float64Array.from(values, (value) =>
      value === undefined || isError(value) ? 0 : way * (typeof value === 'string' ? texts.get(value)! : Number(value)),
    ),
  }
}
/** Sorts the rows of a block by its columns: by the first, where that is equal by the next; equal rows keep their order. */
export function sortOp(
  sheet: Sheet,
  index: number,
  block: Block,
  by: readonly SortKey[],
  valueAt: (row: number, column: number) => CellValue | undefined,
): WorkbookOp {
  const keys = by.map(({ column, down }) => sortKeys(block, column, down, valueAt))
  const sorted = Array.from(
    Uint32Array.from({ length: block.height }, (_, at) => at).sort((a, b) => {
      for (const { ranks, places } of keys) {
        const order = ranks[a]! - ranks[b]! || places[a]! - places[b]!
        if (order) return order
      }
      return a - b
    }),
    (at) => block.y + at,
  )
  const cells: CellChange[] = []
  sorted.forEach((from, i) => {
    const to = block.y + i
    if (from === to) return
    for (let column = block.x; column < block.x + block.width; column++)
      cells.push({ row: to, column, cell: movedCell(cellAt(sheet, from, column), to - from, 0) })
  })
  return { op: 'cells', sheet: index, cells }
}

/**
 * Fills a larger block that holds another: as its rows of values go on, or with itself again.
 * @param how `series` as they go on, where they do; `same` what is there again
 */
export function fillOp(
  sheet: Sheet,
  index: number,
  source: Block,
  target: Block,
  how: 'series' | 'same' = 'series',
): Extract<WorkbookOp, { op: 'cells' }> {
  const cells: CellChange[] = []
  const down = target.height > source.height
  const inSource = (row: number, column: number) =>
    row >= source.y && row < source.y + source.height && column >= source.x && column < source.x + source.width
  const lines = new Map<number, Series | null>()
  const seriesAt = (line: number): Series | null => {
    const known = lines.get(line)
    if (known !== undefined || how === 'same') return known ?? null
    const given = down
      ? Array.from({ length: source.height }, (_, at) => cellAt(sheet, source.y + at, line))
      : Array.from({ length: source.width }, (_, at) => cellAt(sheet, line, source.x + at))
    const found = seriesOf(given)
    lines.set(line, found)
    return found
  }
  for (const [row, column] of cellsOf(target)) {
    if (inSource(row, column)) continue
    const goesOn = seriesAt(down ? column : row)
    if (goesOn) {
      cells.push({ row, column, cell: goesOn(down ? row - source.y : column - source.x) })
      continue
    }
    const fromRow = source.y + ((((row - source.y) % source.height) + source.height) % source.height)
    const fromColumn = source.x + ((((column - source.x) % source.width) + source.width) % source.width)
    const cell = cellAt(sheet, fromRow, fromColumn)
    cells.push({ row, column, cell: movedCell(cell, row - fromRow, column - fromColumn) })
  }
  return { op: 'cells', sheet: index, cells }
}

/**
 * Cells over a block, or over a larger one that they fit into evenly, which they are repeated over.
 * @param target where they go, from its first cell on @param size rows and columns of what there is
 * @param cellFor what comes of one of them at a place
 */
export function tiledOp(
  index: number,
  target: Block,
  { height, width }: { height: number; width: number },
  cellFor: (fromRow: number, fromColumn: number, row: number, column: number) => Cell | null,
  /** The row that the so many rows after the first are put into. */
  rowAt: (n: number) => number = (n) => target.y + n,
): Extract<WorkbookOp, { op: 'cells' }> {
  const tall = target.height > height && target.height % height === 0 ? target.height : height
  const wide = target.width > width && target.width % width === 0 ? target.width : width
  const cells: CellChange[] = []
  for (const [n, column] of cellsOf({ x: target.x, y: 0, width: wide, height: tall })) {
    const row = rowAt(n)
    cells.push({ row, column, cell: cellFor(n % height, (column - target.x) % width, row, column) })
  }
  return { op: 'cells', sheet: index, cells }
}

/**
 * What was copied, put somewhere in another way.
 * @param how `values`: what its cells show, and nothing that calculates; `looks`: how they look, over what is there;
 * `turned`: its rows as columns
 */
export function pastedOp(
  sheet: Sheet,
  index: number,
  target: Block,
  { cells, results, x, rows }: Copied,
  how: 'values' | 'looks' | 'turned',
  rowAt?: (n: number) => number,
): Extract<WorkbookOp, { op: 'cells' }> {
  const [height, width] = [cells.length, Math.max(0, ...cells.map((row) => row.length))]
  if (how === 'turned')
    return tiledOp(
      index,
      target,
      { height: width, width: height },
      (down, right, row, column) => movedCell(cells[right]?.[down], row - rows[right]!, column - x - down),
      rowAt,
    )
  const put = (down: number, right: number, row: number, column: number): Cell | null => {
    const [from, before] = [cells[down]?.[right], cellAt(sheet, row, column)]
    if (how === 'looks') {
      const { style: _, ...bare } = before ?? {}
      return tidyCell({ ...bare, ...(from?.style && { style: from.style }) }) ?? null
    }
    const value = from?.formula === undefined ? from?.value : results[down]?.[right]
    // How a number is written is a part of what it says, where nothing is said of that yet.
    const format = before?.style?.format ?? from?.style?.format
    const style = { ...before?.style, ...(format !== undefined && { format }) }
    return tidyCell({ ...(value !== undefined && { value }), style }) ?? null
  }
  return tiledOp(index, target, { height, width }, put, rowAt)
}

/** Rows and columns of one step with an arrow key. */
export const arrowSteps: Readonly<Record<string, readonly [number, number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}
/** Whether a cell holds something to go to. */
const isFilled = (cell: Cell | undefined): boolean => cell?.value !== undefined || cell?.formula !== undefined

/**
 * Where a key goes that goes on to the edge of what is filled: through cells of one kind to the last of them, or to the next
 * one that is; past the last one to the end of what is used.
 * @param step rows and columns of one step @param used rows and columns
 */
export function edgeFrom(
  sheet: Sheet,
  from: { row: number; column: number },
  [down, right]: readonly [number, number],
  used: { rows: number; columns: number },
): { row: number; column: number } {
  const along = down ? from.row : from.column
  const way = down || right
  const last = Math.max(0, down ? used.rows - 1 : used.columns - 1)
  const at = (line: number) => (down ? cellAt(sheet, line, from.column) : cellAt(sheet, from.row, line))
  const to = (line: number) => (down ? { row: line, column: from.column } : { row: from.row, column: line })
  const within = (line: number) => line >= 0 && line <= last
  if (way > 0 && along >= last) return to(along)
  let line = along + way
  if (within(line) && isFilled(at(along)) && isFilled(at(line))) {
    while (within(line + way) && isFilled(at(line + way))) line += way
    return to(line)
  }
  while (within(line) && !isFilled(at(line))) line += way
  return to(Math.min(last, Math.max(0, line)))
}

/**
 * What a block is filled with by a key: its first row goes down, or its first column to the right; of one row or column the
 * one before it.
 * @returns null where there is nothing before it
 */
export function fillKeyOp(
  sheet: Sheet,
  index: number,
  block: Block,
  way: 'down' | 'right',
): ReturnType<typeof fillOp> | null {
  const down = way === 'down'
  const one = down ? block.height === 1 : block.width === 1
  if (one && (down ? block.y : block.x) === 0) return null
  const source = down
    ? { ...block, y: one ? block.y - 1 : block.y, height: 1 }
    : { ...block, x: one ? block.x - 1 : block.x, width: 1 }
  const target = down ? { ...source, height: one ? 2 : block.height } : { ...source, width: one ? 2 : block.width }
  return fillOp(sheet, index, source, target, 'same')
}

/**
 * The cells that a sum at a place would be of: the numbers directly above it, or else those directly before it.
 * @param isNumber whether a cell shows a number
 * @returns null where there are none
 */
export function numbersBefore(
  { row, column }: { row: number; column: number },
  isNumber: (row: number, column: number) => boolean,
): { top: number; left: number; bottom: number; right: number } | null {
  let top = row
  while (top > 0 && isNumber(top - 1, column)) top--
  if (top < row) return { top, left: column, bottom: row - 1, right: column }
  let left = column
  while (left > 0 && isNumber(row, left - 1)) left--
  return left < column ? { top: row, left, bottom: row, right: column - 1 } : null
}

/**
 * Sums of a block: of several rows below each column that has numbers; of one row behind it.
 * @param block cut down to what is used
 * @returns none where there are no numbers or no room
 */
export function sumsOp(
  sheet: Sheet,
  index: number,
  block: Block,
  isNumber: (row: number, column: number) => boolean,
): Extract<WorkbookOp, { op: 'cells' }> {
  const cells: CellChange[] = []
  const put = (row: number, column: number, area: { top: number; left: number; bottom: number; right: number }) => {
    if (isFilled(cellAt(sheet, row, column))) return
    const style = cellAt(sheet, row, column)?.style ?? cellAt(sheet, area.bottom, area.right)?.style
    cells.push({ row, column, cell: { formula: `SUM(${referenceTo(area, null)})`, ...(style && { style }) } })
  }
  const any = (rows: readonly number[], columns: readonly number[]) =>
    rows.some((row) => columns.some((column) => isNumber(row, column)))
  const lines = (from: number, count: number) => Array.from({ length: count }, (_, at) => from + at)
  if (block.height > 1) {
    // A last row that is empty is where the sums are to be.
    const columns = lines(block.x, block.width)
    const empty = columns.every((column) => !isFilled(cellAt(sheet, block.y + block.height - 1, column)))
    const bottom = block.y + block.height - (empty ? 2 : 1)
    for (const column of columns)
      if (any(lines(block.y, bottom - block.y + 1), [column]))
        put(bottom + 1, column, { top: block.y, left: column, bottom, right: column })
  } else if (block.width > 1) {
    const empty = !isFilled(cellAt(sheet, block.y, block.x + block.width - 1))
    const right = block.x + block.width - (empty ? 2 : 1)
    if (any([block.y], lines(block.x, right - block.x + 1)))
      put(block.y, right + 1, { top: block.y, left: block.x, bottom: block.y, right })
  }
  return { op: 'cells', sheet: index, cells }
}
