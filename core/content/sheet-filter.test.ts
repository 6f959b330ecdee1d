import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { displayOf } from './display'
import { type CellView, choicesIn, columnsOf, movedFilter, passes, rowsHidden, type SheetFilter } from './sheet-filter'
import { type CellValue, cellAt, type Sheet } from './workbook'
import { anyFilter, anyHistory } from './workbook.arbitrary'
import { applyOp, applyOps, invertOp } from './workbook-ops'

const viewOf = (sheet: Sheet): CellView => ({
  textOf: (row, column) => displayOf(cellAt(sheet, row, column), 7),
  valueOf: (row, column) => {
    const cell = cellAt(sheet, row, column)
    return cell?.formula === undefined ? cell?.value : 7
  },
})
const levels: [string, CellValue | undefined, string][] = [
  ['Lock', 'Level', 'Read by'],
  ['LK07', 1.25, 'Ida'],
  ['lk07', 3.5, 'Ben'],
  ['LK12', 2, ''],
  ['Weir', undefined, 'ida'],
  ['LK9', 'dry', 'Ben'],
].map(([a, b, c]) => [a as string, b, c as string])
const view: CellView = {
  textOf: (row, column) => String(levels[row]?.[column] ?? ''),
  valueOf: (row, column) => (levels[row]?.[column] === '' ? undefined : levels[row]?.[column]),
}
const filter: SheetFilter = { area: { top: 0, left: 0, bottom: 5, right: 2 }, columns: {} }
const hiddenBy = (columns: SheetFilter['columns'], hiddenNow = new Set<number>()) =>
  rowsHidden({ ...filter, columns }, view, hiddenNow)

describe('which rows a filter hides', () => {
  test('without a condition none; by what cells show, whatever their capitals; empty cells for themselves', () => {
    expect(hiddenBy({})).toEqual([])
    expect(hiddenBy({ 0: { by: 'one of', texts: ['LK07'], empty: false } })).toEqual([3, 4, 5])
    expect(hiddenBy({ 2: { by: 'one of', texts: ['Ben'], empty: true } })).toEqual([1, 4])
  })
  test('numbers are compared with numbers alone, texts with what is shown', () => {
    const tested = (test: 'above' | 'is not' | 'at most' | 'contains' | 'begins' | 'lacks', limit: string | number) =>
      hiddenBy({ 1: { by: 'tested', tests: [{ test, with: limit }], all: true } })
    expect(tested('above', 1.25)).toEqual([1, 4, 5])
    expect(tested('at most', 2)).toEqual([2, 4, 5])
    expect(tested('is not', 2)).toEqual([3])
    expect(tested('is not', '')).toEqual([4])
    expect(tested('contains', '5')).toEqual([3, 4, 5])
    expect(tested('begins', 'D')).toEqual([1, 2, 3, 4])
    expect(tested('lacks', '.')).toEqual([1, 2])
  })
  test('of two tests all or any are to hold, and all columns', () => {
    const tests = [
      { test: 'above' as const, with: 1 },
      { test: 'below' as const, with: 3 },
    ]
    expect(hiddenBy({ 1: { by: 'tested', tests, all: true } })).toEqual([2, 4, 5])
    expect(hiddenBy({ 1: { by: 'tested', tests, all: false } })).toEqual([4, 5])
    expect(
      hiddenBy({ 1: { by: 'tested', tests, all: false }, 2: { by: 'one of', texts: ['ida'], empty: false } }),
    ).toEqual([2, 3, 4, 5])
  })
  test('what is not known here goes on hiding what it hides', () => {
    const columns = {
      0: { by: 'other' as const, kept: '<top10/>' },
      2: { by: 'one of' as const, texts: ['Ben'], empty: true },
    }
    expect(hiddenBy(columns, new Set([2]))).toEqual([1, 2, 4])
  })
})

test('a column’s choices are numbers, then texts, then empty cells, of the rows that the others let through', () => {
  expect(choicesIn(filter, 1, view, new Set())).toEqual([
    { text: '1.25', rows: 1, shown: true },
    { text: '2', rows: 1, shown: true },
    { text: '3.5', rows: 1, shown: true },
    { text: 'dry', rows: 1, shown: true },
    { text: '', rows: 1, shown: true },
  ])
  const columns = {
    0: { by: 'one of' as const, texts: ['LK07'], empty: false },
    2: { by: 'one of' as const, texts: ['ida'], empty: false },
  }
  expect(choicesIn({ ...filter, columns }, 0, view, new Set())).toEqual([
    { text: 'LK07', rows: 1, shown: true },
    { text: 'Weir', rows: 1, shown: false },
  ])
  expect(choicesIn(filter, 0, view, new Set()).map(({ text, rows }) => [text, rows])).toEqual([
    ['LK07', 2],
    ['LK9', 1],
    ['LK12', 1],
    ['Weir', 1],
  ])
})

test('choosing all that a column shows hides nothing, and choosing one of them shows exactly its rows', () => {
  fc.assert(
    fc.property(anyHistory(4), anyFilter, ({ end }, { area }) => {
      const sheet = end.sheets[0]!
      const cells = viewOf(sheet)
      const plain: SheetFilter = { area, columns: {} }
      for (let column = area.left; column <= area.right; column++) {
        const choices = choicesIn(plain, column, cells, new Set())
        expect(choices.reduce((sum, { rows }) => sum + rows, 0)).toBe(area.bottom - area.top)
        const some = (texts: readonly string[]): SheetFilter => ({
          area,
          columns: {
            [column]: { by: 'one of', texts: texts.filter((text) => text !== ''), empty: texts.includes('') },
          },
        })
        expect(rowsHidden(some(choices.map(({ text }) => text)), cells, new Set())).toEqual([])
        for (const { text, rows } of choices)
          expect(rowsHidden(some([text]), cells, new Set())).toHaveLength(area.bottom - area.top - rows)
      }
    }),
    { numRuns: 60 },
  )
})

describe('rows and columns that come and go', () => {
  test('move its area and its conditions along; without its headings it is none', () => {
    const some: SheetFilter = {
      area: { top: 2, left: 1, bottom: 9, right: 4 },
      columns: { 2: { by: 'one of', texts: ['a'], empty: false }, 4: { by: 'other', kept: '' } },
    }
    expect(movedFilter(some, 'rows', 0, 3)!.area).toMatchObject({ top: 5, bottom: 12 })
    expect(movedFilter(some, 'rows', 5, 2)!.area).toMatchObject({ top: 2, bottom: 11 })
    expect(movedFilter(some, 'rows', 2, -1)).toBeNull()
    expect(columnsOf(movedFilter(some, 'columns', 2, 1)!).map(([column]) => column)).toEqual([3, 5])
    expect(columnsOf(movedFilter(some, 'columns', 0, -3)!).map(([column]) => column)).toEqual([1])
    expect(movedFilter(some, 'columns', 1, -4)).toBeNull()
  })
  test('and what undoes that has the filter as it was', () => {
    fc.assert(
      fc.property(anyHistory(8), anyFilter, ({ end }, one) => {
        const before = applyOp(end, { op: 'filter', sheet: 0, filter: one })
        for (const axis of ['rows', 'columns'] as const)
          for (const op of [
            { op: 'remove' as const, sheet: 0, axis, at: 1, count: 2 },
            { op: 'insert' as const, sheet: 0, axis, at: 1, count: 2 },
          ]) {
            const after = applyOp(before, op)
            expect(applyOps(after, invertOp(before, op)).sheets[0]!.filter).toEqual(one)
          }
      }),
      { numRuns: 60 },
    )
  })
})

test('a test of texts is one of letters, and never of what stands for others', () => {
  fc.assert(
    fc.property(fc.string(), fc.string(), (text, wanted) => {
      const holds = (kind: 'contains' | 'lacks' | 'begins' | 'ends') =>
        passes({ by: 'tested', tests: [{ test: kind, with: wanted }], all: true }, text, text)
      expect(holds('contains')).toBe(
        text.normalize('NFC').toLowerCase().includes(wanted.normalize('NFC').toLowerCase()),
      )
      expect(holds('lacks')).toBe(!holds('contains'))
      if (holds('begins') || holds('ends')) expect(holds('contains')).toBe(true)
    }),
  )
})
