// What is done to how cells look, as workbook operations: lines around them, cells that become one, rows and columns that are
// not shown, heights and widths that fit.
import { displayOf } from '../../../core/content/display'
import { lookTraits, overlap, sides } from '../../../core/content/looks'
import {
  type Cell,
  type CellStyle,
  type CellValue,
  cellAt,
  largestSheet,
  type MergedArea,
  type Sheet,
} from '../../../core/content/workbook'
import type { CellChange, WorkbookOp } from '../../../core/content/workbook-ops'
import { type Block, cellsOf, styled } from './acts'

/** Which lines of a block. */
export type Lines = 'all' | 'around' | 'inside' | (typeof sides)[number] | 'none'

/** @param line as looks.ts writes one */
export function linesOp(sheet: Sheet, index: number, block: Block, which: Lines, line: string): WorkbookOp {
  const cells: CellChange[] = []
  const [bottom, right] = [block.y + block.height - 1, block.x + block.width - 1]
  const put = (row: number, column: number, change: Parameters<typeof styled>[1]) => {
    if (row < 0 || column < 0 || row >= largestSheet.rows || column >= largestSheet.columns) return
    const before = cellAt(sheet, row, column)
    const given = Object.keys(change) as (keyof CellStyle)[]
    if (given.every((trait) => before?.style?.[trait] === change[trait])) return
    cells.push({ row, column, cell: styled(before, change) })
  }
  for (const [row, column] of cellsOf(block)) {
    const at = { top: row === block.y, right: column === right, bottom: row === bottom, left: column === block.x }
    const change: Record<string, string | undefined> = {}
    for (const side of sides) {
      const wanted =
        which === 'none' || which === 'all'
          ? true
          : which === 'around'
            ? at[side]
            : which === 'inside'
              ? !at[side]
              : which === side && at[side]
      if (wanted) change[side] = which === 'none' ? undefined : line
    }
    if (Object.keys(change).length) put(row, column, change)
  }
  // A line that is taken away is the neighbour's, too: between two cells either of them draws it.
  if (which === 'none') {
    for (let row = block.y; row <= bottom; row++) {
      put(row, block.x - 1, { right: undefined })
      put(row, right + 1, { left: undefined })
    }
    for (let column = block.x; column <= right; column++) {
      put(block.y - 1, column, { bottom: undefined })
      put(bottom + 1, column, { top: undefined })
    }
  }
  return { op: 'cells', sheet: index, cells }
}

export const areaOf = ({ x, y, width, height }: Block): MergedArea => ({
  top: y,
  left: x,
  bottom: y + height - 1,
  right: x + width - 1,
})
/** The merged areas that a block meets. */
export const mergedIn = ({ merged = [] }: Sheet, block: Block): MergedArea[] => {
  const own = areaOf(block)
  return merged.filter((area) => overlap(area, own))
}

/**
 * A block made one cell. What its cells hold is put together in the first one, so that nothing is out of sight: one content
 * as it is, several as text, each as it is shown.
 * @returns how many contents were put together
 */
export function mergeOps(
  sheet: Sheet,
  index: number,
  block: Block,
  resultAt: (row: number, column: number) => CellValue | undefined,
): { ops: WorkbookOp[]; together: number } {
  const used = { ...block, height: Math.max(0, Math.min(block.height, sheet.rows.length - block.y)) }
  const filled: { row: number; column: number; cell: Cell }[] = []
  for (let row = used.y; row < used.y + used.height; row++)
    for (const [column, cell] of sheet.rows[row]?.entries() ?? [])
      if (
        column >= block.x &&
        column < block.x + block.width &&
        (cell?.value !== undefined || cell?.formula !== undefined)
      )
        filled.push({ row, column, cell: cell! })
  const first = cellAt(sheet, block.y, block.x)
  const others = filled.filter(({ row, column }) => row !== block.y || column !== block.x)
  const cells: CellChange[] = []
  if (others.length) {
    const [only] = filled
    const { style: _, ...content } = filled.length === 1 ? only!.cell : { value: together(filled, resultAt) }
    const style = first?.style ?? only!.cell.style
    cells.push({ row: block.y, column: block.x, cell: { ...content, ...(style && { style }) } })
    for (const { row, column, cell } of others)
      cells.push({ row, column, cell: cell.style ? { style: cell.style } : null })
  }
  return {
    ops: [
      ...(cells.length ? [{ op: 'cells' as const, sheet: index, cells }] : []),
      { op: 'merge', sheet: index, areas: [areaOf(block)] },
    ],
    together: filled.length > 1 ? filled.length : 0,
  }
}
const together = (
  filled: readonly { row: number; column: number; cell: Cell }[],
  resultAt: (row: number, column: number) => CellValue | undefined,
): string =>
  filled
    .map(({ row, column, cell }) => displayOf(cell, cell.formula === undefined ? undefined : resultAt(row, column)))
    .join(' ')

/** Hides lines, or shows those that are hidden among them and at their edges. */
export function hideOps(
  sheet: Sheet,
  index: number,
  axis: 'rows' | 'columns',
  { at, count }: { at: number; count: number },
  hidden: boolean,
): WorkbookOp[] {
  const lines = new Set(axis === 'rows' ? sheet.hiddenRows : sheet.hiddenColumns)
  let [from, to] = [at, at + count - 1]
  // Those that are hidden have no place of their own to be selected by: they come back with their neighbours.
  if (!hidden) {
    while (lines.has(from - 1)) from--
    while (lines.has(to + 1)) to++
    if (![...lines].some((line) => line >= from && line <= to)) return []
  }
  return [{ op: 'hide', sheet: index, axis, spans: [[from, to]], hidden }]
}

/** What all cells of a block have in common; undefined where they differ, null for nothing of its own. */
export type CommonLook = {
  [Trait in 'font' | 'size' | 'color' | 'fill' | 'vertical' | 'align']: NonNullable<CellStyle[Trait]> | null | undefined
} & { wrap: boolean }
/** Of a block that is larger, its first cells speak for it. */
const mostLooked = 5000
export function commonLook(sheet: Sheet, block: Block): CommonLook {
  let looked = 0
  const found: Partial<Record<keyof CellStyle, unknown>>[] = []
  for (const [row, column] of cellsOf(block)) {
    found.push(cellAt(sheet, row, column)?.style ?? {})
    if (++looked >= mostLooked) break
  }
  const common = (trait: keyof CellStyle): never => {
    const [first] = found
    const same = found.every((style) => style[trait] === first?.[trait])
    return (same ? (first?.[trait] ?? null) : undefined) as never
  }
  return {
    font: common('font'),
    size: common('size'),
    color: common('color'),
    fill: common('fill'),
    vertical: common('vertical'),
    align: common('align'),
    wrap: found.every((style) => style.wrap === true),
  }
}

/** All that a cell looks like, taken away; how its number is written is a part of what it says. */
export const noLook: Parameters<typeof styled>[1] = Object.fromEntries(
  ['bold', 'italic', 'underline', 'strike', 'fill', 'color', 'align', 'wrap', ...lookTraits].map((trait) => [
    trait,
    undefined,
  ]),
)
