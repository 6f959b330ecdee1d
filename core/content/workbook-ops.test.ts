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
    ['SUM(A3:A1048576)', 1, 2, 'SUM(A5:A1048576)'],
    ['SUM(A5:A1048576)', 1, -2, 'SUM(A3:A1048576)'],
  ])('%s with %i, %i becomes %s', (formula, at, count, expected) => expect(shift(formula, at, count)).toBe(expected))

  test('copying moves what is not fixed, and what falls off the sheet is an error', () => {
    expect(copyFormula('A1+$A1+A$1+$A$1', 2, 1)).toBe('B3+$A3+B$1+$A$1')
    expect(copyFormula('A1', -1, 0)).toBe('#REF!')
    // A cell of another file moves along with a copy as one of this file does.
    expect(copyFormula('[1]Sheet1!A1+Dues[A1]', 1, 0)).toBe('[1]Sheet1!A2+Dues[A1]')
  })
  test('a sheet gets another name in every formula that names it', () => {
    expect(renameInFormula('S!A1+\'S\'!B2+"S!A1"+T!A1', 'S', "It's")).toBe("'It''s'!A1+'It''s'!B2+\"S!A1\"+T!A1")
  })
})

describe('what looks like a reference and is none, or is one to elsewhere', () => {
  const down = (formula: string) => shiftFormula(formula, 'S', { sheet: 'S', axis: 'rows', at: 0, count: 1 })
  test.each([
    // The columns of a table, its rows by their names, and names with brackets in them.
    'SUM(Dues[A5])',
    "SUM(Dues[[#This Row],[A5]:['[A5']]])",
    'Dues[@A5]',
    // Another file's cells do not move with this one's.
    '[1]S!A5',
    "'[2]S'!$A$5",
    "'[Dues.xlsx]S'!A5",
    // Cells of several sheets at once move with all of them or not at all.
    'SUM(S:Last!A5)',
    "SUM('S:Last one'!A5:B6)",
    'LOG10(1)',
    '"A5"',
  ])('%s stays', (formula) => expect(down(formula)).toBe(formula))
  test('what stands beside them moves', () => {
    expect(down('Dues[A5]+A5')).toBe('Dues[A5]+A6')
    expect(down("[1]S!A5+S!A5+'S'!A5")).toBe("[1]S!A5+S!A6+'S'!A6")
    expect(down('SUM(A5:B6)*[')).toBe('SUM(A6:B7)*[')
  })
  test('a sheet that gets another name is named so wherever it is meant', () => {
    expect(renameInFormula('SUM(S:Last!A5)+S!A1+[1]S!A1+"S!A1"', 's', 'Dues 2026')).toBe(
      "SUM('Dues 2026:Last'!A5)+'Dues 2026'!A1+[1]S!A1+\"S!A1\"",
    )
  })
})
