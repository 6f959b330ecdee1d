import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { copyFormula, renameInFormula, shiftFormula } from './formula'
import { anyHistory } from './workbook.arbitrary'
import { applyOp, invertOp, type WorkbookOp } from './workbook-ops'

describe('workbook operations', () => {
  test('every operation is undone by its inverse, one by one back to the beginning', () => {
    fc.assert(
      fc.property(anyHistory(12), ({ start, ops, end }) => {
        const undo: WorkbookOp[][] = []
        let workbook = start
        for (const op of ops) {
          undo.push(invertOp(workbook, op))
          workbook = applyOp(workbook, op)
        }
        expect(workbook).toEqual(end)
        for (const inverse of undo.reverse()) for (const op of inverse) workbook = applyOp(workbook, op)
        expect(JSON.stringify(workbook)).toBe(JSON.stringify(start))
      }),
      { numRuns: 400 },
    )
  })

  test('operations survive the journal: JSON and back changes nothing', () => {
    fc.assert(
      fc.property(anyHistory(8), ({ start, ops, end }) => {
        const revived = JSON.parse(JSON.stringify(ops)) as WorkbookOp[]
        expect(JSON.stringify(revived.reduce((workbook, op) => applyOp(workbook, op), start))).toBe(JSON.stringify(end))
      }),
    )
  })

  test('a workbook is never changed in place', () => {
    fc.assert(
      fc.property(anyHistory(6), ({ start, ops }) => {
        const before = JSON.stringify(start)
        ops.reduce((workbook, op) => applyOp(workbook, op), start)
        expect(JSON.stringify(start)).toBe(before)
      }),
    )
  })
})

describe('references in formulas', () => {
  const shift = (formula: string, at: number, count: number, axis: 'rows' | 'columns' = 'rows', home = 'S') =>
    shiftFormula(formula, home, { sheet: 'S', axis, at, count })
  test.each([
    ['A1+A5', 2, 1, 'A1+A6'],
    ['SUM(A2:A9)', 4, 3, 'SUM(A2:A12)'],
    ['SUM(A2:A9)', 4, -2, 'SUM(A2:A7)'],
    ['A3*2', 2, -1, '#REF!*2'],
    ['SUM(A2:A4)', 1, -3, 'SUM(#REF!)'],
    ['SUM(A2:A6)', 3, -5, 'SUM(A2:A3)'],
    ['"A5"&A5', 0, 1, '"A5"&A6'],
    ['LOG10(A5)', 0, 1, 'LOG10(A6)'],
    ['T!A5+S!A5', 0, 1, 'T!A5+S!A6'],
    ['SUM(3:5)', 3, 1, 'SUM(3:6)'],
    ['SUM(A:B)', 0, 5, 'SUM(A:B)'],
    ["'It''s'!A5", 0, 1, "'It''s'!A5"],
    ['1E5+A5', 0, 1, '1E5+A6'],
    ['$A$5', 0, 1, '$A$6'],
  ])('%s with %i, %i becomes %s', (formula, at, count, expected) => expect(shift(formula, at, count)).toBe(expected))

  test('copying moves what is not fixed, and what falls off the sheet is an error', () => {
    expect(copyFormula('A1+$A1+A$1+$A$1', 2, 1)).toBe('B3+$A3+B$1+$A$1')
    expect(copyFormula('A1', -1, 0)).toBe('#REF!')
  })
  test('a sheet gets another name in every formula that names it', () => {
    expect(renameInFormula('S!A1+\'S\'!B2+"S!A1"+T!A1', 'S', "It's")).toBe("'It''s'!A1+'It''s'!B2+\"S!A1\"+T!A1")
  })
})
