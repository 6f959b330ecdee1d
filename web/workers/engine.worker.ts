// The calculation, in a worker of its own: whoever opens, follows and saves the workbook never waits for it, and it can
// be stopped, however long it takes.
import { expose } from 'comlink'
import { Calculation, type Mark } from '../../core/calc/engine'
import type { FormulaSource } from '../../core/calc/source'
import type { CellValue, Workbook } from '../../core/content/workbook'
import { applyOps, type WorkbookOp } from '../../core/content/workbook-ops'

/** What came of a calculation. Cells by `row * 16384 + column`. */
export interface Calculated {
  /** Results that changed, by sheet, null for those that are gone; where that is null, `results` are all of them. */
  changed: [sheet: number, values: [key: number, value: CellValue | null][]][] | null
  results: Map<number, CellValue>[] | null
  marks: Mark[]
  unknown: Set<number>[]
  fresh: Set<number>[]
}

let calculation: Calculation | null = null
let workbook: Workbook = { sheets: [] }

function calculated(changed: Calculated['changed']): Calculated {
  return {
    changed,
    results: changed ? null : calculation!.shown(),
    marks: calculation!.marks(),
    ...calculation!.facts(),
  }
}

const engine = {
  /**
   * Calculates a workbook with the results that are known of it, and what was done since.
   * @param fresh results that follow from earlier edits
   */
  begin(
    base: Workbook,
    stored: (Map<number, CellValue> | undefined)[],
    source: FormulaSource,
    fresh: Set<number>[],
    ops: WorkbookOp[],
  ): Calculated {
    calculation?.close()
    calculation = new Calculation(base, stored, source)
    calculation.followed(fresh)
    workbook = applyOps(base, ops)
    if (ops.length) calculation.apply(ops, workbook)
    return calculated(null)
  },
  apply(ops: WorkbookOp[]): Calculated {
    workbook = applyOps(workbook, ops)
    const changed = calculation!.apply(ops, workbook)
    return calculated(changed && [...changed])
  },
}
export type Engine = typeof engine

expose(engine)
