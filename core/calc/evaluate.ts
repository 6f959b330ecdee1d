// The results of a workbook's formulas, for whoever needs them once: a file that holds none. The editor follows each
// edit (calc.worker.ts).
import type { CellValue, Workbook } from '../content/workbook'
import { Calculation } from './engine'
import { type FormulaSource, noSource } from './source'

/** @returns by sheet, `row * 16384 + column`; empty for sheets without formulas */
export function evaluate(workbook: Workbook, source: FormulaSource = noSource): Map<number, CellValue>[] {
  const calculation = new Calculation(workbook, [], source)
  try {
    return calculation.shown()
  } finally {
    calculation.close()
  }
}
