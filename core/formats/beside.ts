// What a workbook's file holds beside the model, and every package of sheets can hold: it goes along where the work is
// written whole, or as another type.
import type { DefinedName } from '../calc/source'
import { type CellLook, type SheetLooks, shownLooks } from '../content/looks'
import type { Papers } from '../content/papers'
import { type Cell, largestSheet, type Sheet } from '../content/workbook'
import type { Limit } from './refusals'

export interface UsualFont {
  name: string
  /** In points. */
  size: number
}
export interface Beside {
  /** What its file said of how its sheets come to paper. */
  papers?: Papers | undefined
  names?: readonly DefinedName[] | undefined
  /** The font of cells that have none of their own. */
  usual?: UsualFont | undefined
}

/** What of a file's limits is written with what stands beside its model. */
export const notBeside = (limits: readonly Limit[]): Limit[] =>
  limits.filter(({ feature }) => !shownLooks.has(feature) && feature !== 'defined names')

export interface PlacedCell {
  column: number
  cell: Cell | undefined
  look: CellLook | undefined
}
/** The rows of a sheet in their order, each with its cells, also with those that only look. @param most it can hold */
export function rowsBeside(
  { rows }: Sheet,
  { cells, heights, hiddenRows }: SheetLooks,
  most: { rows: number; columns: number } = largestSheet,
): [row: number, line: PlacedCell[]][] {
  const byRow = new Map<number, PlacedCell[]>()
  for (const [row, line] of rows.slice(0, most.rows).entries())
    if (line)
      byRow.set(
        row,
        line.slice(0, most.columns).flatMap((cell, column) => {
          const look = cells.get(row * largestSheet.columns + column)
          return cell || look ? [{ column, cell, look }] : []
        }),
      )
  for (const [key, look] of cells) {
    const [row, column] = [Math.floor(key / largestSheet.columns), key % largestSheet.columns]
    if (row >= most.rows || column >= most.columns || column < (rows[row]?.length ?? 0)) continue
    const line = byRow.get(row)
    if (line) line.push({ column, cell: undefined, look })
    else byRow.set(row, [{ column, cell: undefined, look }])
  }
  for (const row of [...heights.keys(), ...hiddenRows]) if (row < most.rows && !byRow.has(row)) byRow.set(row, [])
  for (const line of byRow.values()) line.sort((a, b) => a.column - b.column)
  return [...byRow].sort(([a], [b]) => a - b)
}
