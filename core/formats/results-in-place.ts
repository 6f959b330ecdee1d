// A workbook for those who are to have numbers and no formulas: each formula is the result that it has.
import type { CellValue, Workbook } from '../content/workbook'
import type { CellChange, WorkbookOp } from '../content/workbook-ops'
import { type Limit, Limits } from './refusals'

/**
 * @param resultOf undefined for a result that is not known: such a formula stays one
 * @returns the edit that puts results in the place of formulas, and what of them is lost by that
 */
export function resultsInPlace(
  { sheets }: Workbook,
  resultOf: (sheet: number, row: number, column: number) => CellValue | undefined,
): { ops: WorkbookOp[]; lost: Limit[] } {
  const limits = new Limits()
  const ops: WorkbookOp[] = []
  for (const [at, { name, rows }] of sheets.entries()) {
    const cells: CellChange[] = []
    for (const [row, line] of rows.entries())
      for (const [column, cell] of (line ?? []).entries()) {
        if (cell?.formula === undefined) continue
        const value = resultOf(at, row, column)
        if (value === undefined) continue
        cells.push({ row, column, cell: { value, ...(cell.style && { style: cell.style }) } })
        limits.add('formulas (their results stay)', name, 1, [at, row, column])
      }
    if (cells.length) ops.push({ op: 'cells', sheet: at, cells })
  }
  return { ops, lost: limits.list() }
}
