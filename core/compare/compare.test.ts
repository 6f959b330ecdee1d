import fc from 'fast-check'
import { Fragment, type Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { anyDocument } from '../content/document.arbitrary'
import type { Workbook } from '../content/workbook'
import { anyHistory } from '../content/workbook.arbitrary'
import { applyOp, applyOps } from '../content/workbook-ops'
import { compareDocuments } from './document'
import { sayDocumentChanges, sayWorkbookChanges } from './words'
import { compareWorkbooks } from './workbook'

const { nodes } = documentSchema
const p = (text: string) => nodes.paragraph.create(null, text ? documentSchema.text(text) : null)
const h = (text: string) => nodes.heading.create({ level: 1 }, documentSchema.text(text))
const doc = (...blocks: Node[]) => nodes.doc.create(null, blocks)
const leaf = (node: Node) => (node.isInline ? '\ufffc' : '')
const without = (node: Node, stretches: readonly { from: number; to: number }[]): string => {
  let text = ''
  let at = 0
  for (const { from, to } of [...stretches].sort((a, b) => a.from - b.from)) {
    text += node.textBetween(at, from, '', leaf)
    at = to
  }
  return text + node.textBetween(at, node.content.size, '', leaf)
}

describe('documents', () => {
  test('without what was removed and added, the two say the same', () => {
    fc.assert(
      fc.property(anyDocument, anyDocument, fc.nat(), (one, other, n) => {
        // Beside two unrelated documents also one that grew out of the other.
        const grown = new Transform(one).insert(one.content.size, Fragment.from(p('and more words'))).doc
        for (const [older, newer] of [[one, other], [one, grown], n % 2 ? [grown, one] : [one, one]] as const) {
          const changes = compareDocuments(older, newer)
          expect(without(older, changes.removed)).toBe(without(newer, changes.added))
          expect(changes.wordsAdded).toBe(changes.sections.reduce((sum, part) => sum + part.wordsAdded, 0))
        }
        expect(compareDocuments(one, one)).toMatchObject({ added: [], removed: [], wordsAdded: 0 })
      }),
      { numRuns: 60 },
    )
  })
  test('say in words where they differ', () => {
    const older = doc(h('Found'), p('The gate leaks at the mitre.'), h('To do'), p('Caulk it.'))
    const newer = doc(
      h('Found'),
      p('The lower gate leaks badly at the mitre.'),
      h('To do'),
      p('Caulk it.'),
      p('Before June.'),
    )
    const changes = compareDocuments(older, newer)
    expect(sayDocumentChanges(changes)).toBe('4 words added, in ‹Found› (+2), ‹To do› (+2).')
    expect(sayDocumentChanges(compareDocuments(newer, older))).toBe('4 words removed, in ‹Found› (−2), ‹To do› (−2).')
  })
})

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
