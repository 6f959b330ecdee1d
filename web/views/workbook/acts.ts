// What people do to a selection, as workbook operations.
import { copyFormula } from '../../../core/content/formula'
import { type Cell, type CellStyle, type CellValue, cellAt, isError, type Sheet } from '../../../core/content/workbook'
import { type CellChange, tidyCell, type WorkbookOp } from '../../../core/content/workbook-ops'

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
const collator = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' })

/** Sorts the rows of a block by one of its columns; equal rows keep their order. */
export function sortOp(
  sheet: Sheet,
  index: number,
  block: Block,
  by: number,
  down: boolean,
  valueAt: (row: number, column: number) => CellValue | undefined,
): WorkbookOp {
  const rows = Array.from({ length: block.height }, (_, i) => block.y + i)
  const keys = new Map(rows.map((row) => [row, valueAt(row, by)]))
  const sorted = rows.toSorted((a, b) => {
    const [x, y] = [keys.get(a), keys.get(b)]
    const byRank = rank(x) - rank(y)
    if (x === undefined || y === undefined) return byRank
    const order =
      byRank !== 0
        ? byRank
        : typeof x === 'string'
          ? collator.compare(x, y as string)
          : isError(x)
            ? 0
            : Number(x) - Number(y)
    return down ? -order : order
  })
  const cells: CellChange[] = []
  sorted.forEach((from, i) => {
    const to = block.y + i
    if (from === to) return
    for (let column = block.x; column < block.x + block.width; column++)
      cells.push({ row: to, column, cell: movedCell(cellAt(sheet, from, column), to - from, 0) })
  })
  return { op: 'cells', sheet: index, cells }
}

/** Repeats a block over a larger one that holds it; a run of two numbers goes on by its step. */
export function fillOp(sheet: Sheet, index: number, source: Block, target: Block): WorkbookOp {
  const cells: CellChange[] = []
  const down = target.height > source.height
  for (const [row, column] of cellsOf(target)) {
    if (row >= source.y && row < source.y + source.height && column >= source.x && column < source.x + source.width)
      continue
    const fromRow = source.y + ((((row - source.y) % source.height) + source.height) % source.height)
    const fromColumn = source.x + ((((column - source.x) % source.width) + source.width) % source.width)
    const cell = cellAt(sheet, fromRow, fromColumn)
    const line = down
      ? Array.from({ length: source.height }, (_, i) => cellAt(sheet, source.y + i, column)?.value)
      : Array.from({ length: source.width }, (_, i) => cellAt(sheet, row, source.x + i)?.value)
    if (line.length >= 2 && line.every((value) => typeof value === 'number')) {
      const step = ((line.at(-1) as number) - (line[0] as number)) / (line.length - 1)
      const distance = down ? row - source.y : column - source.x
      cells.push({
        row,
        column,
        cell: { ...cell, value: Number(((line[0] as number) + step * distance).toPrecision(14)) },
      })
    } else cells.push({ row, column, cell: movedCell(cell, row - fromRow, column - fromColumn) })
  }
  return { op: 'cells', sheet: index, cells }
}
