import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { rowsHidden, type SheetFilter, viewOf } from '../../../core/content/sheet-filter'
import { blankSheet, type Cell, type CellValue, cellAt, type Sheet } from '../../../core/content/workbook'
import { anyFilter, anyHistory } from '../../../core/content/workbook.arbitrary'
import { applyOps, invertOp, type WorkbookOp } from '../../../core/content/workbook-ops'
import { pastedOp } from './acts'
import {
  areaAround,
  chosenFilter,
  filterArea,
  filterOps,
  grownArea,
  onlySeen,
  rowsShown,
  seenFrom,
  shownParts,
  shownRows,
  typedTest,
} from './filter-acts'

const sheetOf = (rows: (CellValue | undefined)[][]): Sheet => ({
  ...blankSheet('Levels'),
  rows: rows.map((row) => row.map((value): Cell | undefined => (value === undefined ? undefined : { value }))),
})
const become = (sheet: Sheet, ops: readonly WorkbookOp[]): Sheet => applyOps({ sheets: [sheet] }, ops).sheets[0]!
const view = (sheet: Sheet) => viewOf(sheet, () => 7)

describe('what is filtered', () => {
  const sheet = sheetOf([
    [],
    [undefined, 'Lock', 'Level'],
    [undefined, 'LK07', 1.5],
    [undefined, undefined, 2],
    [undefined, 'LK12'],
    [],
    [undefined, 'Total'],
  ])
  test('hangs together around the cursor, also from beside it, up to empty rows and columns', () => {
    const area = { top: 1, left: 1, bottom: 4, right: 2 }
    expect(areaAround(sheet, 2, 1)).toEqual(area)
    expect(areaAround(sheet, 4, 3)).toEqual(area)
    expect(areaAround(sheet, 20, 20)).toBeNull()
    expect(areaAround(sheet, 6, 1)).toBeNull()
    expect(filterArea(sheet, { row: 2, column: 1 }, { x: 0, y: 2, width: 3, height: 2 })).toEqual({
      top: 2,
      left: 0,
      bottom: 3,
      right: 2,
    })
  })
  test('grows with rows that came under it', () => {
    const filter: SheetFilter = { area: { top: 1, left: 1, bottom: 2, right: 2 }, columns: {} }
    expect(grownArea(sheet, filter).area.bottom).toBe(4)
    expect(grownArea(sheet, { ...filter, area: { ...filter.area, bottom: 4 } }).area.bottom).toBe(4)
  })
})

test('a filter shows and hides exactly its rows, whatever was hidden before, and is undone to what was', () => {
  fc.assert(
    fc.property(anyHistory(6), anyFilter, anyFilter, ({ end }, first, second) => {
      let workbook = end
      for (const filter of [first, second]) {
        const sheet = workbook.sheets[0]!
        const hidden = rowsHidden(filter, view(sheet), new Set(sheet.hiddenRows))
        const ops = filterOps(sheet, 0, filter, hidden)
        const now = applyOps(workbook, ops)
        const { area } = filter
        const within = (row: number) => row > area.top && row <= area.bottom
        if (Object.keys(filter.columns).length) {
          expect(now.sheets[0]!.hiddenRows?.filter(within) ?? []).toEqual(hidden)
          expect(rowsShown(now.sheets[0]!)).toEqual({
            shown: area.bottom - area.top - hidden.length,
            of: area.bottom - area.top,
          })
        } else expect(rowsShown(now.sheets[0]!)).toBeNull()
        let back = now
        let before = workbook
        const inverse: WorkbookOp[] = []
        for (const op of ops) {
          inverse.unshift(...invertOp(before, op))
          before = applyOps(before, [op])
        }
        back = applyOps(back, inverse)
        expect(back.sheets[0]).toEqual(sheet)
        workbook = now
      }
      const gone = applyOps(workbook, filterOps(workbook.sheets[0]!, 0, null, [])).sheets[0]!
      expect(gone.filter).toBeUndefined()
      if (Object.keys(second.columns).length)
        expect(gone.hiddenRows?.some((row) => row > second.area.top && row <= second.area.bottom) ?? false).toBe(false)
    }),
    { numRuns: 80 },
  )
})

test('what is chosen is a list of what is shown; all of it is no condition, and all but empty cells holds for new ones', () => {
  const choices = [
    { text: 'LK07', shown: true },
    { text: 'LK12', shown: false },
    { text: '', shown: true },
  ]
  expect(chosenFilter(choices)).toEqual({ by: 'one of', texts: ['LK07'], empty: true })
  expect(chosenFilter(choices.map((one) => ({ ...one, shown: true })))).toBeNull()
  expect(chosenFilter(choices.map((one) => ({ ...one, shown: one.text !== '' })))).toEqual({
    by: 'tested',
    tests: [{ test: 'is not', with: '' }],
    all: true,
  })
})

test('a test compares with numbers and days where such are written, as the language writes them, and else with letters', () => {
  const ways = { comma: false }
  expect(typedTest('above', '1,250.5', ways)).toEqual({ test: 'above', with: 1250.5 })
  expect(typedTest('above', '1.250,5', { comma: true })).toEqual({ test: 'above', with: 1250.5 })
  expect(typedTest('at least', '2026-03-02', ways)).toEqual({ test: 'at least', with: 46083 })
  expect(typedTest('contains', '07', ways)).toEqual({ test: 'contains', with: '07' })
  expect(typedTest('is', ' weir ', ways)).toEqual({ test: 'is', with: 'weir' })
  expect(typedTest('is not', '', ways)).toEqual({ test: 'is not', with: '' })
})

describe('what is done to a selection is done to the rows that are seen', () => {
  const area = { top: 0, left: 0, bottom: 5, right: 1 }
  const sheet = become(sheetOf([['Lock'], ['a'], ['b'], ['a'], ['b'], ['a']]), [
    { op: 'filter', sheet: 0, filter: { area, columns: { 0: { by: 'one of', texts: ['a'], empty: false } } } },
    {
      op: 'hide',
      sheet: 0,
      axis: 'rows',
      spans: [
        [2, 2],
        [4, 4],
        [8, 8],
      ],
      hidden: true,
    },
  ])
  test('those that a filter hides are left out, those that somebody hid are not', () => {
    expect(shownRows(sheet, { x: 0, y: 1, width: 1, height: 5 })).toEqual([1, 3, 5])
    expect(shownParts(sheet, { x: 0, y: 7, width: 2, height: 3 })).toEqual([{ x: 0, y: 7, width: 2, height: 3 }])
    const cells = [1, 2, 3].map((row) => ({ row, column: 0, cell: null }))
    expect(onlySeen(sheet, { op: 'cells', sheet: 0, cells }).cells.map(({ row }) => row)).toEqual([1, 3])
  })
  test('what is pasted goes into them one after the other, its formulas with it', () => {
    const copied = {
      text: '',
      rows: [1, 3],
      x: 0,
      cells: [[{ formula: 'A1&"!"' }], [{ formula: 'A3&"!"' }]],
      results: [['x'], ['y']],
    }
    const op = pastedOp(sheet, 0, { x: 1, y: 3, width: 1, height: 1 }, copied, 'values', seenFrom(sheet, 3))
    expect(op.cells).toEqual([
      { row: 3, column: 1, cell: { value: 'x' } },
      { row: 5, column: 1, cell: { value: 'y' } },
    ])
    const turned = pastedOp(sheet, 0, { x: 1, y: 1, width: 1, height: 1 }, copied, 'turned', seenFrom(sheet, 1))
    expect(turned.cells.map(({ row, column }) => [row, column])).toEqual([
      [1, 1],
      [1, 2],
    ])
    expect(cellAt(become(sheet, [op]), 4, 1)).toBeUndefined()
  })
})
