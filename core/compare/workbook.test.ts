import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Workbook } from '../content/workbook'
import { anyHistory } from '../content/workbook.arbitrary'
import { applyOp, applyOps } from '../content/workbook-ops'
import { sayWorkbookChanges } from './words'
import { compareWorkbooks } from './workbook'

describe('workbooks', () => {
  test('the changes applied to the older one give the newer one', () => {
    fc.assert(
      fc.property(anyHistory(20), anyHistory(8), ({ start, end }, other) => {
        for (const [older, newer] of [
          [start, end],
          [end, start],
          [end, other.end],
        ] as const)
          expect(applyOps(older, compareWorkbooks(older, newer).ops)).toEqual(newer)
        expect(compareWorkbooks(end, structuredClone(end))).toMatchObject({ ops: [], sheets: [], cells: 0 })
      }),
      { numRuns: 150 },
    )
  })
  test('rows and columns that came, went and moved are told from cells that changed', () => {
    const rows = (from: number, to: number) =>
      Array.from({ length: to - from }, (_, at) => [
        { value: `LK${from + at}` },
        { value: (from + at) * 10 },
        { formula: `B${from + at + 1}*2` },
      ])
    const book = (...parts: Workbook['sheets'][number]['rows'][]): Workbook => ({
      sheets: [{ name: '2026', rows: parts.flat(), widths: {} }],
    })
    const older = book(rows(0, 60))
    // Two rows more at the tenth; formulas below move along with their rows.
    const wider = applyOp(older, { op: 'insert', sheet: 0, axis: 'rows', at: 10, count: 2 })
    const filled = applyOp(wider, {
      op: 'cells',
      sheet: 0,
      cells: [
        { row: 10, column: 0, cell: { value: 'BR01' } },
        { row: 11, column: 0, cell: { value: 'BR02' } },
        { row: 30, column: 1, cell: { value: 5 } },
      ],
    })
    expect(compareWorkbooks(older, filled).sheets).toEqual([
      expect.objectContaining({ rowsAdded: 2, rowsRemoved: 0, cells: 1, formulas: 0, columnsAdded: 0 }),
    ])
    const column = applyOp(filled, { op: 'insert', sheet: 0, axis: 'columns', at: 1, count: 1 })
    const named = applyOp(column, {
      op: 'cells',
      sheet: 0,
      cells: Array.from({ length: 62 }, (_, row) => ({ row, column: 1, cell: { value: `note ${row}` } })),
    })
    expect(compareWorkbooks(older, named).sheets).toEqual([
      expect.objectContaining({ columnsAdded: 1, columnsRemoved: 0, rowsAdded: 2, cells: 1 }),
    ])
    const moved = compareWorkbooks(book(rows(0, 60)), book(rows(0, 5), rows(6, 60), rows(5, 6)))
    expect(moved.sheets[0]).toMatchObject({ rowsAdded: 1, rowsRemoved: 1, rowsMoved: 1 })
    const renamed = { sheets: [{ ...older.sheets[0]!, name: 'Ledger' }] }
    expect(compareWorkbooks(older, renamed).ops).toEqual([{ op: 'rename sheet', sheet: 0, name: 'Ledger' }])
  })
  test('say in words where they differ', () => {
    const book = (...rows: string[]): Workbook => ({
      sheets: [
        {
          name: '2026',
          rows: rows.map((text) => [text[0] === '=' ? { formula: text.slice(1) } : { value: text }]),
          widths: {},
        },
      ],
    })
    expect(sayWorkbookChanges(compareWorkbooks(book('a', 'b'), book('a', 'c', '=A1')))).toBe(
      '1 row added, 1 cell changed in ‹2026›.',
    )
    expect(sayWorkbookChanges(compareWorkbooks(book('a'), book('a')))).toBe('No cells differ.')
  })
})
