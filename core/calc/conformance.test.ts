// Formulas whose results others have reckoned: scipy, numpy and Python for statistics, finance and elementary
// functions, a second library of functions where it agrees, and what workbooks of other programs had stored.
import { describe, expect, test } from 'vitest'
import { type Cell, type CellValue, isError, type Workbook } from '../content/workbook'
import rows from './conformance.json'
import { evaluate } from './evaluate'
import { registeredFunctions } from './functions'
import { type FormulaSource, noSource } from './source'

const near = (a: CellValue | undefined, b: CellValue): boolean =>
  typeof a === 'number' && typeof b === 'number'
    ? Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(b))
    : isError(a) && isError(b)
      ? a.error === b.error
      : a === b
/** The formulas one below the other in the second column; what they read stands in the sheets after it. */
function resultsOf(formulas: readonly string[], source: FormulaSource = noSource, ...others: Workbook['sheets']) {
  const sheet = { name: 'Formulas', widths: {}, rows: formulas.map((formula) => [undefined, { formula }]) }
  const results = evaluate({ sheets: [sheet, ...others] }, source)[0]!
  return formulas.map((_, row) => results.get(row * 16384 + 1))
}

test('a table of some hundred formulas, each with the result that its source gives', () => {
  const table = rows as [formula: string, result: CellValue, source: string][]
  expect(table.length).toBeGreaterThan(500)
  const ours = resultsOf(table.map(([formula]) => formula))
  const wrong = table.flatMap(([formula, result, source], index) =>
    near(ours[index], result) ? [] : [`${formula}: ${JSON.stringify(ours[index])}, ${source} has ${result}`],
  )
  expect(wrong).toEqual([])
  // Most functions that can be calculated are among them, and none twice for the same arguments.
  expect(new Set(table.map(([formula]) => formula)).size).toBe(table.length)
  const used = new Set(
    table.flatMap(([formula]) => [...formula.matchAll(/([A-Z][A-Z0-9.]*)\(/g)].map(([, name]) => name!)),
  )
  expect([...used].filter((name) => registeredFunctions().has(name)).length).toBeGreaterThan(250)
})

const cells = (...rows: (CellValue | null)[][]): Cell[][] =>
  rows.map((row) => row.map((value) => (value === null ? {} : { value })))
const data = {
  name: 'Data',
  widths: {},
  rows: cells(
    ['lock', 3, 46053, true],
    ['gate', 5, 46054, false],
    ['weir', null, 46080, true],
    ['LOCK', 8, 46100, { error: '#N/A' }],
    ['a*b', 1, 46120, true],
    ['', 2.5, 46130, true],
  ),
}
describe('criteria', () => {
  test.each([
    ['COUNTIF(Data!A1:A6,"lock")', 2],
    ['COUNTIF(Data!A1:A6,"<>lock")', 4],
    ['COUNTIF(Data!A1:A6,"?ate")', 1],
    ['COUNTIF(Data!A1:A6,"a~*b")', 1],
    ['COUNTIF(Data!A1:A6,"*")', 6],
    ['COUNTIF(Data!B1:B6,"")', 1],
    ['COUNTIF(Data!B1:B6,"<>")', 5],
    ['COUNTIF(Data!B1:B6,">=3")', 3],
    ['COUNTIF(Data!B1:B6,3)', 1],
    ['COUNTIF(Data!B1:B6,"3")', 1],
    ['COUNTIF(Data!C1:C6,">2026-02-01")', 4],
    ['COUNTIF(Data!D1:D6,TRUE)', 4],
    ['COUNTIF(Data!D1:D6,"#N/A")', 1],
    ['COUNTIF(Data!A1:A6,">h")', 3],
    ['SUMIF(Data!A1:A6,"lock",Data!B1)', 11],
    ['SUMIFS(Data!B1:B6,Data!A1:A6,"<>gate",Data!C1:C6,"<46100")', 3],
    ['AVERAGEIF(Data!B1:B6,">2.5")', 16 / 3],
    ['AVERAGEIF(Data!A1:A6,"nothing",Data!B1:B6)', { error: '#DIV/0!' }],
    ['COUNTIFS(Data!A1:A6,"lock",Data!B1:B5,">1")', { error: '#VALUE!' }],
    ['SUMPRODUCT((Data!A1:A4="lock")*Data!B1:B4)', 11],
    ['SUMPRODUCT(--(Data!A1:A4="lock"),Data!B1:B4)', 11],
    ['SUMPRODUCT(1/COUNTIF(Data!A1:A5,Data!A1:A5))', 4],
  ] as [string, CellValue][])('%s is %s', (formula, result) => {
    const [ours] = resultsOf([formula], noSource, data)
    expect(near(ours, result), JSON.stringify(ours)).toBe(true)
  })
})
test.each([
  ['VLOOKUP("ga*",Data!A1:B6,2,FALSE)', 5],
  ['VLOOKUP("lock",Data!A1:B6,3,FALSE)', { error: '#REF!' }],
  ['MATCH("a~*b",Data!A1:A6,0)', 5],
  ['MATCH(46099,Data!C1:C6)', 3],
  ['INDEX(Data!B1:B6,9)', { error: '#REF!' }],
  ['INDEX(Data!A1:D6,2,3)', 46054],
  ['XLOOKUP("weir",Data!A1:A6,Data!C1:C6)', 46080],
  ['_xlfn.XLOOKUP("none",Data!A1:A6,Data!C1:C6,"nowhere")', 'nowhere'],
  ['LOOKUP(46085,Data!C1:C6,Data!A1:A6)', 'weir'],
  ['INT(-4.2)', -5],
  ['(1/3)&""', '0.333333333333333'],
  ['1E-12*1', 1e-12],
  ['0.1+0.2=0.3', true],
  ['DATEDIF(46053,47000,"y")', 2],
  ['"say ""aye"""&"\\"', 'say "aye"\\'],
  ['ERROR.TYPE(Data!D4)', 7],
  ['CELL("address",Data!B3)', 'Data!$B$3'],
  ['SUM(Data!B1:B6 Data!A2:D3)', 5],
  ['SUM((Data!B1:B2,Data!B5))', 9],
  ['AREAS((Data!A1:B2,Data!D4))', 2],
  ['LET(x,Data!B1,y,x+2,x*y)', 15],
  ['INDIRECT("Data!B"&2)', 5],
  ['SUM(OFFSET(Data!B1,Data!B1-3,0,2,1))', 8],
  ['TEXTJOIN("; ",TRUE,Data!A1:A2,IF(TRUE,"x"))', 'lock; gate; x'],
  ['SUM(FREQUENCY(Data!B1:B6,{2;4}))', 5],
] as [string, CellValue][])('%s is %s', (formula, result) => {
  const [ours] = resultsOf([formula], noSource, data)
  expect(near(ours, result), JSON.stringify(ours)).toBe(true)
})
test('a range outside an array is the cell beside it', () => {
  expect(resultsOf(['Data!B1:B6*2', 'Data!B1:B6+1', 'Data!B:B&""', 'ABS(-Data!B1:B6)'], noSource, data)).toEqual([
    6,
    6,
    '',
    8,
  ])
})
test('subtotals count no subtotals, and no rows that are not shown', () => {
  const sheet = {
    name: 'Data',
    widths: {},
    rows: [[{ value: 1 }], [{ value: 2 }], [{ formula: 'SUBTOTAL(9,A1:A2)' }], [{ value: 4 }], [{ value: 8 }]],
  }
  const asked = ['SUBTOTAL(9,Data!A1:A5)', 'SUBTOTAL(109,Data!A1:A5)', 'AGGREGATE(9,5,Data!A1:A5)', 'SUM(Data!A1:A5)']
  expect(resultsOf(asked, noSource, sheet)).toEqual([15, 15, 18, 18])
  expect(
    resultsOf(['SUBTOTAL(9,Data!A1,Data!A3)', 'SUBTOTAL(9,Data!A3)', 'SUBTOTAL(2,Data!A3)'], noSource, sheet),
  ).toEqual([1, 0, 0])
  const hidden = (filtered: boolean): FormulaSource => ({
    ...noSource,
    hidden: [new Map(), new Map([[3, filtered]])],
  })
  expect(resultsOf(asked, hidden(false), sheet)).toEqual([15, 11, 14, 18])
  expect(resultsOf(asked, hidden(true), sheet)).toEqual([11, 11, 14, 18])
})
