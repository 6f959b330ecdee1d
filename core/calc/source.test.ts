// Names, tables, arrays, sheets between sheets and other files: read from files, calculated, and moved with the cells.
import ExcelJS from 'exceljs'
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import type { CellValue, Workbook } from '../content/workbook'
import { applyOp, type WorkbookOp } from '../content/workbook-ops'
import { readXlsx } from '../formats/xlsx/read'
import { Calculation } from './engine'
import { plainNumber } from './engine-words'
import { evaluate } from './evaluate'
import { type FormulaSource, noSource, sourceAfter, tableMeeting } from './source'
import { sheet } from './testing'
import { translate } from './translate'

/** Three locks' boats and tolls, a table of them, and a sheet that asks. */
const office = (...formulas: string[]): { workbook: Workbook; source: FormulaSource } => ({
  workbook: {
    sheets: [
      sheet('Asked', ...formulas.map((formula) => [`=${formula}`])),
      sheet('Tolls', ['Lock', 'Boats', 'Toll'], ['LK03', 12, 4.5], ['LK07', 30, 4], ['LK09', 7, 6], ['All', 49, null]),
      sheet('May', [100], [7]),
      sheet('June', [200], [8]),
      sheet('July', [300], [9]),
    ],
  },
  source: {
    ...noSource,
    names: [
      { name: 'Boats', sheet: null, formula: 'Tolls!$B$2:$B$4' },
      { name: 'Rate', sheet: null, formula: '0.2' },
      { name: 'Rate', sheet: 1, formula: '0.5' },
      { name: 'ToTheRight', sheet: null, formula: 'Tolls!B1' },
      { name: 'Circle', sheet: null, formula: 'Circle+1' },
    ],
    tables: [
      {
        name: 'TollTable',
        sheet: 1,
        top: 0,
        left: 0,
        bottom: 4,
        right: 2,
        headings: 1,
        totals: 1,
        columns: ['Lock', 'Boats', 'Toll'],
      },
    ],
    others: [
      new Map([
        [
          'elsewhere',
          new Map([
            [0, 11],
            [16384, 22],
          ]),
        ],
      ]),
    ],
  },
})
const first = (...formulas: string[]): (CellValue | undefined)[] => {
  const { workbook, source } = office(...formulas)
  const [results] = evaluate(workbook, source)
  return formulas.map((_, row) => results!.get(row * 16384))
}

test.each([
  ['SUM(Boats)', 49],
  ['Rate*10', 2],
  ['Tolls!Rate*10', 5],
  ['ToTheRight', 'Boats'],
  ['SUM(TollTable[Boats])', 49],
  ['SUM(TollTable[[Boats]:[Toll]])', 63.5],
  ['COUNTA(TollTable[#All])', 14],
  ['TollTable[[#Headers],[Toll]]', 'Toll'],
  ['TollTable[[#Totals],[Boats]]', 49],
  ['SUM(TollTable[Nothing])', { error: '#REF!' }],
  ['SUM(May:July!A1)', 600],
  ['AVERAGE(May:July!A1:A2)', 104],
  ['[1]Elsewhere!A1+[1]Elsewhere!A2', 33],
  ['SUM([1]Elsewhere!A1:A3)', 33],
  ['SUMPRODUCT(Boats,TollTable[Toll])', 216],
  ['INDEX(TollTable[Lock],MATCH(MAX(Boats),Boats,0))', 'LK07'],
] as [string, CellValue][])('%s is %j', (formula, result) => {
  expect(first(formula)[0]).toEqual(result)
})
test('what the engine cannot be told is said, with what it reads', () => {
  const { workbook, source } = office('1')
  const at = { sheet: 0, row: 0, column: 3 }
  const around = { workbook, source, has: (name: string) => name === 'SUM' }
  const reads = [{ sheet: 1, top: 1, left: 1, bottom: 3, right: 1 }]
  expect(translate('LAMBDA(x,x+1)(SUM(Boats))', at, around)).toMatchObject({ unsupported: expect.any(String) })
  expect(translate('MYSTERY(Boats)', at, around)).toEqual({ unsupported: 'MYSTERY', reads, moving: false })
  expect(translate('SUM([7]Sheet1!A1)', at, around)).toMatchObject({ unsupported: '[7]Sheet1!A1' })
  // A name that leads to itself ends.
  expect(translate('Circle', at, around)).toMatchObject({ unsupported: expect.any(String) })
})
test('numbers are written without exponents, and are the same', () => {
  fc.assert(
    fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (number) => {
      expect(plainNumber(number)).toMatch(/^-?\d+(\.\d+)?$/)
      expect(Number(plainNumber(number))).toBe(number + 0)
    }),
  )
})

describe('when rows, columns and sheets come and go', () => {
  const op = fc.oneof(
    fc.record({
      op: fc.constantFrom('insert' as const, 'remove' as const),
      sheet: fc.constantFrom(1, 1, 2),
      axis: fc.constantFrom('rows' as const, 'columns' as const),
      at: fc.nat(4),
      count: fc.constantFrom(1, 2),
    }),
    fc.record({ op: fc.constant('move sheet' as const), sheet: fc.nat(4), to: fc.nat(4) }),
    fc.record({ op: fc.constant('add sheet' as const), at: fc.nat(5), name: fc.constant('New') }),
    fc.record({ op: fc.constant('rename sheet' as const), sheet: fc.constant(1), name: fc.constant('Tolls of 2026') }),
  ) as fc.Arbitrary<WorkbookOp>
  test('following them gives what calculating anew gives', () => {
    fc.assert(
      fc.property(fc.array(op, { minLength: 1, maxLength: 5 }), (ops) => {
        let { workbook, source } = office(
          'SUM(Boats)',
          'SUM(TollTable[Toll])',
          'SUM(May:July!A1)',
          'Rate',
          'INDIRECT("Tolls!B"&2)',
        )
        const calculation = new Calculation(workbook, [], source)
        let added = 0
        for (const one of ops) {
          if (one.op === 'add sheet' && added++) continue
          source = sourceAfter(source, one, workbook)
          workbook = applyOp(workbook, one)
          calculation.apply([one], workbook)
          expect(calculation.shown()).toEqual(evaluate(workbook, source))
        }
        calculation.close()
      }),
      { numRuns: 25 },
    )
  })
  test('a sum by a name grows with a row in the middle of it, and stays right', () => {
    const { workbook, source } = office('SUM(Boats)', 'SUM(TollTable[Boats])')
    const calculation = new Calculation(workbook, [], source)
    const insert: WorkbookOp = { op: 'insert', sheet: 1, axis: 'rows', at: 2, count: 1 }
    const fill: WorkbookOp = { op: 'cells', sheet: 1, cells: [{ row: 2, column: 1, cell: { value: 100 } }] }
    const after = [insert, fill].reduce(applyOp, workbook)
    calculation.apply([insert, fill], after)
    expect([0, 1].map((row) => calculation.resultOf(0, row, 0))).toEqual([149, 149])
  })
})

test('all of it is read from a file', async () => {
  const made = new ExcelJS.Workbook()
  const tolls = made.addWorksheet('Tolls')
  tolls.addTable({
    name: 'TollTable',
    ref: 'A1',
    columns: [{ name: 'Lock' }, { name: 'Boats' }],
    rows: [
      ['LK03', 12],
      ['LK07', 30],
    ],
  })
  tolls.getCell('D1').value = { formula: 'SUM(boats)+SUM(TollTable[Boats])', result: 84 }
  tolls.getRow(3).hidden = true
  made.definedNames.add('Tolls!$B$2:$B$3', 'boats')
  const parts = unzipSync(new Uint8Array((await made.xlsx.writeBuffer()) as ArrayBuffer))
  const xml = strFromU8(parts['xl/worksheets/sheet1.xml']!)
  // An array over two cells, which that program does not write.
  parts['xl/worksheets/sheet1.xml'] = strToU8(
    xml.replace(
      '</row>',
      '<c r="E1"><f t="array" ref="E1:F1">B2:B3*{1,2}</f><v>12</v></c><c r="F1"><v>24</v></c></row>',
    ),
  )
  const read = readXlsx(zipSync(parts))
  expect(read.source.names).toEqual([{ name: 'boats', sheet: null, formula: 'Tolls!$B$2:$B$3' }])
  expect(read.source.tables).toMatchObject([
    { name: 'TollTable', top: 0, bottom: 2, left: 0, right: 1, columns: ['Lock', 'Boats'] },
  ])
  expect(read.source.arrays).toEqual([{ sheet: 0, top: 0, left: 4, bottom: 0, right: 5 }])
  expect([...read.source.hidden[0]!.keys()]).toEqual([2])
  const calculation = new Calculation(read.workbook, read.results, read.source)
  expect(calculation.standing(0, 0, 3)).toBe('calculated')
  expect(calculation.standing(0, 0, 4)).toBe('kept')
  // What fills several cells is not known any more once what it reads has changed, in none of them.
  const change: WorkbookOp = { op: 'cells', sheet: 0, cells: [{ row: 1, column: 1, cell: { value: 20 } }] }
  calculation.apply([change], applyOp(read.workbook, change))
  expect(calculation.resultOf(0, 0, 3)).toBe(100)
  expect(calculation.marks().map(({ key, standing }) => [key, standing])).toEqual([
    [4, 'stale'],
    [5, 'stale'],
  ])
})

test('a table is met by an area that has a cell of it, where it is after rows and columns came', () => {
  const table = {
    sheet: 0,
    top: 2,
    left: 1,
    bottom: 5,
    right: 3,
    name: 'Tolls',
    headings: 1,
    totals: 0,
    columns: ['a', 'b', 'c'],
  }
  const source: FormulaSource = { ...noSource, tables: [table] }
  const workbook = { sheets: [{ name: 'Levels', rows: [], widths: {} }] }
  const area = (top: number, left: number, bottom: number, right: number, sheet = 0) => ({
    sheet,
    top,
    left,
    bottom,
    right,
  })
  expect(tableMeeting(source, area(0, 0, 2, 1))?.name).toBe('Tolls')
  expect(tableMeeting(source, area(0, 0, 1, 9))).toBeUndefined()
  expect(tableMeeting(source, area(0, 4, 9, 9))).toBeUndefined()
  expect(tableMeeting(source, area(2, 1, 5, 3, 1))).toBeUndefined()
  const moved = sourceAfter(source, { op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 4 }, workbook)
  expect(tableMeeting(moved, area(2, 1, 5, 3))).toBeUndefined()
  expect(tableMeeting(moved, area(9, 3, 20, 3))?.name).toBe('Tolls')
})
