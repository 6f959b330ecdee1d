// Results while a workbook is edited: against all of them calculated anew, and against what the file held.
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type Cell, type CellValue, isError, type Workbook } from '../content/workbook'
import { anyHistory } from '../content/workbook.arbitrary'
import { applyOp, applyOps, type WorkbookOp } from '../content/workbook-ops'
import { resultOf } from './contents'
import { Calculation, keyOf } from './engine'
import { evaluate } from './evaluate'

const shownOf = (calculation: Calculation) =>
  calculation.shown().map((results) => [...results].toSorted(([a], [b]) => a - b))

test('after any edits the results are those of the workbook calculated anew', () => {
  fc.assert(
    fc.property(anyHistory(6), ({ start, ops }) => {
      const calculation = new Calculation(start)
      let workbook = start
      let shown = calculation.shown()
      for (const op of ops) {
        workbook = applyOp(workbook, op)
        const told = calculation.apply([op], workbook)
        // What is told is what changed: a page that follows it has the same results.
        if (told)
          for (const [sheet, values] of told)
            for (const [key, value] of values)
              value === null ? shown[sheet]!.delete(key) : shown[sheet]!.set(key, value)
        else shown = calculation.shown()
        expect(shown.map((results) => [...results].toSorted(([a], [b]) => a - b))).toEqual(shownOf(calculation))
        expect(shownOf(calculation)).toEqual(evaluate(workbook).map((results) => [...results]))
      }
      calculation.close()
    }),
    { numRuns: 25 },
  )
})

const book = (...rows: (Cell | undefined)[][]): Workbook => ({ sheets: [{ name: 'S', rows, widths: {} }] })
const stored = (...values: [row: number, column: number, value: CellValue][]) => [
  new Map(values.map(([row, column, value]) => [keyOf(row, column), value])),
]
const set = (row: number, column: number, cell: Cell | null): WorkbookOp => ({
  op: 'cells',
  sheet: 0,
  cells: [{ row, column, cell }],
})
function edited(calculation: Calculation, workbook: Workbook, ...ops: WorkbookOp[]): Workbook {
  const after = applyOps(workbook, ops)
  calculation.apply(ops, after)
  return after
}

test.each(['0;0;0;@;@', '[>=', '"open', '\\\\', '[$-', '0..0', '['])(
  'a format %j is an error of its formula at most',
  (code) => {
    const cell = (formula: string) => ({ formula })
    const rows = [[cell(`TEXT(1234.5,"${code.replaceAll('"', '""')}")`), cell('1+1')]]
    const workbook: Workbook = { sheets: [{ name: 'Levels', rows, widths: {} }] }
    const calculation = new Calculation(workbook)
    expect(calculation.resultOf(0, 0, 1)).toBe(2)
    const result = calculation.resultOf(0, 0, 0)
    expect(typeof result === 'string' || isError(result)).toBe(true)
  },
)

test('what is no number is an error: a file that held it would be read as damaged', () => {
  for (const value of [Number.NaN, Infinity, -Infinity]) expect(resultOf(value)).toEqual({ error: '#NUM!' })
  expect(resultOf(-0.5)).toBe(-0.5)
})

describe('a result that came with the file', () => {
  // A2 cannot be calculated here, A3 depends on it; B2 reads B1, and the file reckons otherwise than this engine.
  const workbook = book(
    [{ value: 2 }, { value: 10 }],
    [{ formula: 'SOMETHING.ELSE(A1)' }, { formula: 'B1/3' }],
    [{ formula: 'A2+1' }, { formula: 'B2*3' }],
  )
  const came = stored([1, 0, 41], [2, 0, 42], [1, 1, 3.3333], [2, 1, 9.9999])
  const open = () => new Calculation(workbook, came)

  test('stays where it cannot be calculated, and what depends on it is calculated from it', () => {
    const calculation = open()
    expect(calculation.resultOf(0, 1, 0)).toBe(41)
    expect(calculation.standing(0, 1, 0)).toBe('kept')
    expect(calculation.resultOf(0, 2, 0)).toBe(42)
    expect(calculation.standing(0, 2, 0)).toBe('calculated')
    const after = edited(calculation, workbook, set(3, 0, { formula: 'A2*2' }))
    expect(calculation.resultOf(0, 3, 0)).toBe(82)
    expect(calculation.isNew(0, 3, 0)).toBe(true)
    // Nothing that was there is written anew by that.
    expect([1, 2].map((row) => calculation.isNew(0, row, 0))).toEqual([false, false])
    expect(after.sheets[0]!.rows).toHaveLength(4)
  })
  test('is not known any more once something that it reads has changed', () => {
    const calculation = open()
    edited(calculation, workbook, set(0, 0, { value: 3 }))
    expect(calculation.standing(0, 1, 0)).toBe('stale')
    expect(calculation.resultOf(0, 1, 0)).toBeUndefined()
    expect(calculation.anyStale).toBe(true)
  })
  test('stays as the file reckoned it until something that it reads changes', () => {
    const calculation = open()
    expect(calculation.resultOf(0, 1, 1)).toBe(3.3333)
    edited(calculation, workbook, set(4, 4, { value: 'elsewhere' }))
    expect(calculation.resultOf(0, 1, 1)).toBe(3.3333)
    edited(calculation, workbook, set(0, 1, { value: 12 }))
    expect(calculation.resultOf(0, 1, 1)).toBe(4)
    expect(calculation.resultOf(0, 2, 1)).toBe(12)
    expect(calculation.isNew(0, 2, 1)).toBe(true)
    expect(calculation.isNew(0, 1, 0)).toBe(false)
  })
  test('goes with its cell when rows are inserted, and keeps what it reads', () => {
    const calculation = open()
    const after = edited(calculation, workbook, { op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 2 })
    expect(calculation.resultOf(0, 3, 0)).toBe(41)
    expect(calculation.standing(0, 3, 0)).toBe('kept')
    expect(calculation.resultOf(0, 3, 1)).toBe(3.3333)
    expect(calculation.isNew(0, 3, 1)).toBe(false)
    edited(calculation, after, set(2, 0, { value: 5 }))
    expect(calculation.standing(0, 3, 0)).toBe('stale')
  })
  test('is not known any more when a row that it reads goes, or a cell changes together with rows', () => {
    const sums = book([{ value: 1 }], [{ value: 2 }], [{ value: 3 }], [{ formula: 'SOMETHING.ELSE(A1:A3)' }])
    const remove: WorkbookOp = { op: 'remove', sheet: 0, axis: 'rows', at: 1, count: 1 }
    const insert: WorkbookOp = { op: 'insert', sheet: 0, axis: 'columns', at: 3, count: 1 }
    for (const [ops, row] of [
      [[remove], 2],
      [[insert, set(1, 0, { value: 9 })], 3],
    ] satisfies [WorkbookOp[], number][]) {
      const calculation = new Calculation(sums, stored([3, 0, 6]))
      edited(calculation, sums, ...ops)
      expect(calculation.standing(0, row, 0)).toBe('stale')
      expect(calculation.isNew(0, row, 0)).toBe(true)
    }
    // Elsewhere, it stays.
    const calculation = new Calculation(sums, stored([3, 0, 6]))
    edited(calculation, sums, insert, set(1, 5, { value: 9 }))
    expect(calculation.standing(0, 3, 0)).toBe('kept')
  })
  test('gives way to a formula that is entered in its place', () => {
    const calculation = open()
    edited(calculation, workbook, set(1, 0, { formula: 'A1*3' }))
    expect(calculation.resultOf(0, 1, 0)).toBe(6)
    expect(calculation.resultOf(0, 2, 0)).toBe(7)
    expect(calculation.standing(0, 1, 0)).toBe('calculated')
  })
  test('an error that came with the file stays an error, and none comes of one that was none', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('A1+1', 'NOBODY.KNOWS(A1)', 'A2*2', 'SUM(A1:A3)', '1/0', 'Nothing', 'A5&"x"'), {
          minLength: 1,
          maxLength: 8,
        }),
        fc.infiniteStream(fc.oneof(fc.integer({ min: -9, max: 9 }), fc.constant({ error: '#N/A' } as CellValue))),
        (formulas, values) => {
          const rows = [[{ value: 1 } as Cell], ...formulas.map((formula) => [{ formula } as Cell])]
          const held = formulas.map((_, index) => [index + 1, 0, values.next().value] as [number, number, CellValue])
          const calculation = new Calculation(book(...rows), stored(...held))
          for (const [row, column, value] of held) {
            expect(calculation.resultOf(0, row, column)).toEqual(value)
            expect(calculation.isNew(0, row, column)).toBe(false)
          }
          // An edit that none of them reads leaves all of them.
          edited(calculation, book(...rows), set(0, 5, { value: 1 }))
          for (const [row, column, value] of held) expect(calculation.resultOf(0, row, column)).toEqual(value)
          // After one that they read no good result has become an error that only means "not here".
          edited(calculation, book(...rows), set(0, 0, { value: 7 }))
          for (const [row, column, value] of held) {
            const now = calculation.resultOf(0, row, column)
            if (!isError(value) && isError(now)) expect(now.error).not.toBe('#NAME?')
          }
          calculation.close()
        },
      ),
      { numRuns: 60 },
    )
  })
})

test('the time of day is shown as of now, and the file keeps what it held', () => {
  const workbook = book([{ formula: 'TODAY()' }, { formula: 'A1+1' }], [{ value: 1 }, { formula: 'A2+1' }])
  const calculation = new Calculation(workbook, stored([0, 0, 40000], [0, 1, 40001], [1, 1, 2]))
  expect(calculation.resultOf(0, 0, 0)).toBeGreaterThan(46000)
  expect(calculation.resultOf(0, 0, 1)).toBeGreaterThan(46001)
  edited(calculation, workbook, set(1, 0, { value: 5 }))
  expect(calculation.isNew(0, 0, 0)).toBe(false)
  expect(calculation.isNew(0, 0, 1)).toBe(false)
  expect(calculation.isNew(0, 1, 1)).toBe(true)
  expect(calculation.resultOf(0, 1, 1)).toBe(6)
})

describe('what would take all the memory that there is', () => {
  const shown = (...formulas: string[]) => {
    const workbook = book(...formulas.map((formula, at): Cell[] => [{ value: at + 1 }, { formula }]))
    const calculation = new Calculation(workbook)
    const results = formulas.map((_, row) => calculation.resultOf(0, row, 1))
    calculation.close()
    return results
  }
  test('a text longer than a cell can hold is an error, however it would come about', () => {
    const doubled = Array.from({ length: 40 }, (_, at) => `B${at + 1}&B${at + 1}`)
    const results = shown('"xxxxxxxxxx"', ...doubled, 'LEN(B12)')
    expect(results[11]).toBe('x'.repeat(20_480))
    expect(results.slice(12, 41).every((value) => JSON.stringify(value) === '{"error":"#VALUE!"}')).toBe(true)
    expect(results[41]).toBe(20_480)
    const value = { error: '#VALUE!' }
    expect(
      shown(
        'REPT("x",1000000000)',
        'REPT("ab",2.9)',
        'SUBSTITUTE(REPT("x",30000),"x",REPT("y",30000))',
        'SUBSTITUTE("aXbXc","X","-",2)',
        'SUBSTITUTE("aXbXc","X","")',
        'SUBSTITUTE("aXb","X","-",3)',
        'SUBSTITUTE("aXb","X","-",0)',
        'LEN(TEXTJOIN(",",TRUE,REPT("x",20000),REPT("y",20000)))',
      ),
    ).toEqual([value, 'abab', value, 'aXb-c', 'abc', 'aXb', value, value])
  })
  test('more cells than there is room for are not read, made or pointed at: the file’s result stays', () => {
    const formulas = [
      'SUM(A1:XFC1000000)',
      'SUM(TRANSPOSE(A1:CV50000))',
      'SUM(SEQUENCE(1000000,100))',
      'SUM(INDIRECT("A1:XFD1048576"))',
      'SUM(OFFSET(A1,0,0,1048576,16000))',
      'TEXTJOIN(",",TRUE,A:XFD)',
    ]
    for (const formula of formulas) {
      const calculation = new Calculation(book([{ value: 1 }, { formula }]), stored([0, 1, 7]))
      expect([formula, calculation.resultOf(0, 0, 1), calculation.standing(0, 0, 1)]).toEqual([formula, 7, 'kept'])
      calculation.close()
    }
    // What people write is calculated: whole columns, of which the sheet has few cells.
    expect(shown('SUM(A:A)', 'COUNT(A:A)', 'SUM(SEQUENCE(100,10))', 'SUM(TRANSPOSE(A1:A3))')).toEqual([
      10, 4, 500_500, 6,
    ])
    expect(shown('MATCH(2,$A$1:$A$1048575,0)', '1')[0]).toBe(2)
  })
})
