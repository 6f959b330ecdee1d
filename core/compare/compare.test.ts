import fc from 'fast-check'
import { Fragment, type Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { anyDocument } from '../content/document.arbitrary'
import { cellAt, type Workbook } from '../content/workbook'
import { anyHistory } from '../content/workbook.arbitrary'
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
  test('every listed cell differs, every other one is the same', () => {
    fc.assert(
      fc.property(anyHistory(20), ({ start: older, end: newer }) => {
        const changes = compareWorkbooks(older, newer)
        const listed = new Set(changes.listed.map(({ sheet, row, column }) => `${sheet} ${row} ${column}`))
        for (const sheet of newer.sheets) {
          const before = older.sheets.find(({ name }) => name === sheet.name)
          for (let row = 0; row < Math.max(sheet.rows.length, before?.rows.length ?? 0); row++)
            for (let column = 0; column < 30; column++) {
              const [a, b] = [cellAt(before, row, column), cellAt(sheet, row, column)]
              const differs = a?.formula !== b?.formula || JSON.stringify(a?.value) !== JSON.stringify(b?.value)
              if (changes.listed.length < 500) expect(listed.has(`${sheet.name} ${row} ${column}`)).toBe(differs)
            }
        }
      }),
      { numRuns: 100 },
    )
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
      '2 cells changed in ‹2026›, 1 of them a formula.',
    )
    expect(sayWorkbookChanges(compareWorkbooks(book('a'), book('a')))).toBe('No cells differ.')
  })
})
