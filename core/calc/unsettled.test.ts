// What is said to be known without calculating is what calculating gives.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { blankWorkbook, type Cell, type Workbook } from '../content/workbook'
import { anyFormula, anyHistory, opFor } from '../content/workbook.arbitrary'
import { applyOps, type WorkbookOp } from '../content/workbook-ops'
import { Calculation, keyOf } from './engine'
import { noSource } from './source'
import { sheet } from './testing'
import { type Settled, unsettled } from './unsettled'

/** As the worker of the editor keeps it. */
function settledOf(calculation: Calculation, workbook: Workbook): Settled {
  return { workbook, source: noSource, results: calculation.shown(), ...calculation.facts() }
}
const edited = (workbook: Workbook, ...ops: WorkbookOp[]) => {
  const calculation = new Calculation(workbook)
  const found = unsettled(settledOf(calculation, workbook), ops, applyOps(workbook, ops))
  calculation.close()
  return found
}
const cells = (at: number, ...list: [row: number, column: number, cell: Cell | null][]): WorkbookOp => ({
  op: 'cells',
  sheet: at,
  cells: list.map(([row, column, cell]) => ({ row, column, cell })),
})

describe('results that nobody has calculated since an edit', () => {
  test('are not known where the edit leads, through other formulas and sheets; the others stay', () => {
    const workbook = {
      sheets: [
        sheet('Tolls', [1, '=A1+1', '=B1*2', '=F9'], [5, '=A2', '=SUM(A1:A200)']),
        sheet('All', ['=Tolls!C1', '=Tolls!B2']),
      ],
    }
    const { unknown, results, fresh } = edited(workbook, cells(0, [0, 0, { value: 7 }]))
    expect([...unknown[0]!].toSorted((a, b) => a - b)).toEqual([keyOf(0, 1), keyOf(0, 2), keyOf(1, 2)])
    expect([...unknown[1]!]).toEqual([keyOf(0, 0)])
    expect(results[0]!.get(keyOf(1, 1))).toBe(5)
    expect(results[1]!.get(keyOf(0, 1))).toBe(5)
    expect(fresh).toEqual(unknown)
  })
  test('move along with their rows', () => {
    const workbook = { sheets: [sheet('Tolls', [1, '=A1+1'], [2, '=A2+1'], [3, '=A3+1'])] }
    const insert: WorkbookOp = { op: 'insert', sheet: 0, axis: 'rows', at: 2, count: 2 }
    const { unknown, results } = edited(workbook, insert)
    expect([...unknown[0]!]).toEqual([keyOf(4, 1)])
    expect([results[0]!.get(keyOf(0, 1)), results[0]!.get(keyOf(1, 1)), results[0]!.get(keyOf(4, 1))]).toEqual([
      2, 3, 4,
    ])
  })
  test('are not known at all where sheets came or went, or a formula points at what it calculates', () => {
    const workbook = { sheets: [sheet('Tolls', [1, '=1+1', '=INDIRECT(E9)', '=OFFSET(A1,F9,0)'])] }
    expect(edited(workbook, { op: 'add sheet', at: 1, name: 'May' }).unknown[0]!.size).toBe(3)
    expect([...edited(workbook, cells(0, [8, 8, { value: 1 }])).unknown[0]!]).toEqual([keyOf(0, 2), keyOf(0, 3)])
  })
  test('whatever is done, in whatever order: what is said to be known is what calculating gives', () => {
    // Many formulas that lead to one another.
    const cell = fc.oneof(
      fc.integer({ min: -9, max: 99 }).map((value): Cell => ({ value })),
      anyFormula.map((formula): Cell => ({ formula })),
    )
    const dense = fc
      .array(fc.array(cell, { minLength: 3, maxLength: 6 }), { minLength: 8, maxLength: 20 })
      .map((rows) => ({ start: blankWorkbook(), ops: [], end: { sheets: [{ name: 'Sheet 1', widths: {}, rows }] } }))
    const cases = fc.tuple(fc.oneof(dense, anyHistory(4)), fc.array(fc.nat(100_000), { minLength: 1, maxLength: 3 }))
    let known = 0
    fc.assert(
      fc.property(cases, ([{ end: start }, acts]) => {
        const calculation = new Calculation(start)
        const settled = settledOf(calculation, start)
        let now = start
        const ops: WorkbookOp[] = []
        for (const seed of acts) {
          const [op] = fc.sample(opFor(now), { numRuns: 1, seed })
          ops.push(op!)
          now = applyOps(now, [op!])
        }
        const { results, unknown } = unsettled(settled, ops, now)
        calculation.apply(ops, now)
        const right = calculation.shown()
        calculation.close()
        for (const [index, { rows }] of now.sheets.entries())
          rows.forEach((line, row) => {
            line?.forEach((cell, column) => {
              const key = keyOf(row, column)
              if (cell?.formula === undefined || unknown[index]!.has(key)) return
              known++
              expect({ formula: cell.formula, is: results[index]!.get(key) }).toEqual({
                formula: cell.formula,
                is: right[index]!.get(key),
              })
            })
          })
      }),
      { numRuns: Number(process.env.UNSETTLED_RUNS ?? 60) },
    )
    // A check of nothing would always hold.
    expect(known).toBeGreaterThan(30)
  })
})
