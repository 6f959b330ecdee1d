import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { sameValue, type Workbook } from '../content/workbook'
import { anyHistory } from '../content/workbook.arbitrary'
import { applyOp, applyOps, type WorkbookOp } from '../content/workbook-ops'
import { inEnglish } from '../words/in-english'
import { bringBackRange, bringBackSheet, sheetNow } from './bring-back-cells'
import { sayWorkbookChanges } from './words'
import { compareWorkbooks, reversed } from './workbook'

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
  test('a column in which everything changed is that column still; results that follow are told apart', () => {
    const book = (factor: number, results = false) => {
      const rows = Array.from({ length: 400 }, (_, at) => [
        { value: `LK${at}` },
        { value: (at + 1) * factor },
        { formula: `B${at + 1}*2` },
      ])
      const found = new Map(rows.map((_, at) => [at * 16384 + 2, (at + 1) * factor * 2]))
      return { workbook: { sheets: [{ name: '2026', rows, widths: {} }] }, results: results ? [found] : [] }
    }
    const [older, newer] = [book(2, true), book(3, true)]
    const changes = compareWorkbooks(older.workbook, newer.workbook, { older: older.results, newer: newer.results })
    expect(changes.coarse).toBe(false)
    expect(changes.sheets).toMatchObject([{ cells: 400, columnsAdded: 0, rowsAdded: 0, results: 400 }])
    expect(inEnglish(sayWorkbookChanges(changes))).toBe('400 cells changed in ‹2026›; 400 results in ‹2026› follow.')
    // With rows put in above, each result is told where it stands in either version.
    const below = applyOps(newer.workbook, [{ op: 'insert', sheet: 0, axis: 'rows', at: 0, count: 2 }])
    const shifted = new Map([...newer.results[0]!].map(([key, value]) => [key + 2 * 16384, value]))
    const { following } = compareWorkbooks(older.workbook, below, { older: older.results, newer: [shifted] }).sheets[0]!
    expect(following.older).toEqual([...older.results[0]!.keys()])
    expect(following.newer).toEqual([...shifted.keys()])
  })
  test('what is brought back stands where it was, on the rows where they are now', () => {
    fc.assert(
      fc.property(
        anyHistory(8),
        fc.nat(9),
        fc.nat(4),
        fc.nat(3),
        fc.nat(3),
        ({ start, end }, top, left, tall, wide) => {
          const range = { top, left, bottom: top + tall, right: left + wide }
          const at = sheetNow(end, start, 0)
          if (at === null) {
            expect(() => bringBackRange(end, start, 0, range, 'content')).toThrow('this-sheet-is-not-there-any-more')
            const whole = applyOps(end, bringBackSheet(end, start, 0))
            expect(
              whole.sheets.some(({ rows }) => JSON.stringify(rows) === JSON.stringify(start.sheets[0]!.rows)),
            ).toBe(true)
            return
          }
          const then = start.sheets[0]!
          const back = applyOps(end, bringBackRange(end, start, 0, range, 'content')).sheets[at]!
          // Each value of the range is there again, in the order of its row.
          for (let row = top; row <= range.bottom; row++) {
            const values = Array.from({ length: wide + 1 }, (_, x) => then.rows[row]?.[left + x]?.value).filter(
              (value) => value !== undefined,
            )
            if (!values.length) continue
            const found = back.rows.some((line) => {
              let next = 0
              for (const cell of line ?? []) if (next < values.length && sameValue(cell?.value, values[next])) next++
              return next === values.length
            })
            expect(found).toBe(true)
          }
          // What stands outside of it is not touched but for the rows and columns that came in again.
          const before = end.sheets[at]!.rows.flatMap(
            (line) => line?.filter((cell) => cell?.value !== undefined) ?? [],
          ).length
          const after = back.rows.flatMap((line) => line?.filter((cell) => cell?.value !== undefined) ?? []).length
          expect(after).toBeGreaterThanOrEqual(before - (tall + 1) * (wide + 1))
          const whole = applyOps(end, bringBackSheet(end, start, 0)).sheets[at]!
          expect(whole.rows).toEqual(then.rows)
        },
      ),
      { numRuns: 150 },
    )
  })
  test('widths and what stays in sight are told, and nothing else that did not change', () => {
    const before = { sheets: [{ name: 'Tolls', rows: [[{ value: 'Lock' }]], widths: {} }] }
    const after = { sheets: [{ ...before.sheets[0]!, widths: { 0: 120, 2: 60 }, frozen: { rows: 1, columns: 0 } }] }
    const changes = compareWorkbooks(before, after)
    expect(inEnglish(sayWorkbookChanges(changes))).toBe(
      '2 columns made wider or narrower, other rows or columns stay in sight in ‹Tolls›.',
    )
    expect(applyOps(before, changes.ops)).toEqual(after)
  })
  test('merged cells, heights, what is hidden and how cells look are told', () => {
    const before: Workbook = {
      sheets: [
        {
          name: 'Tolls',
          rows: [[{ value: 'Tolls' }, { value: 2, style: { top: '1 solid' } }], [{ value: 'LK05' }]],
          widths: {},
          merged: [{ top: 4, left: 0, bottom: 4, right: 3 }],
          hiddenRows: [6],
        },
      ],
    }
    const ops: WorkbookOp[] = [
      { op: 'merge', sheet: 0, areas: [{ top: 0, left: 0, bottom: 0, right: 1 }] },
      { op: 'unmerge', sheet: 0, areas: [{ top: 4, left: 0, bottom: 4, right: 3 }] },
      { op: 'hide', sheet: 0, axis: 'columns', spans: [[3, 4]], hidden: true },
      { op: 'hide', sheet: 0, axis: 'rows', spans: [[0, 9]], hidden: false },
      { op: 'height', sheet: 0, spans: [[1, 1]], height: 40 },
      {
        op: 'cells',
        sheet: 0,
        cells: [{ row: 0, column: 1, cell: { value: 2, style: { top: '2 solid', size: 14 } } }],
      },
    ]
    const after = applyOps(before, ops)
    const changes = compareWorkbooks(before, after)
    expect(inEnglish(sayWorkbookChanges(changes))).toBe(
      'cells merged, a merged cell divided again, 2 rows and columns hidden, 1 hidden row or column shown again, 1 row made higher or lower, 1 cell looks different in ‹Tolls›.',
    )
    expect(inEnglish(sayWorkbookChanges(reversed(changes)))).toBe(
      'cells merged, a merged cell divided again, 1 row or column hidden, 2 hidden rows and columns shown again, 1 row made higher or lower, 1 cell looks different in ‹Tolls›.',
    )
    expect(applyOps(before, changes.ops)).toEqual(after)
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
    expect(inEnglish(sayWorkbookChanges(compareWorkbooks(book('a', 'b'), book('a', 'c', '=A1'))))).toBe(
      '1 row added, 1 cell changed in ‹2026›.',
    )
    expect(inEnglish(sayWorkbookChanges(compareWorkbooks(book('a'), book('a'))))).toBe('No cells differ.')
  })
})
