import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { anyDocument } from '../content/document.arbitrary'
import { anyEdit, edited } from '../content/document-edits.arbitrary'
import { inEnglish } from '../words/in-english'
import { english } from '../words/testing'
import { bringBack, bringBackLook, widened } from './bring-back'
import { compareDocuments } from './document'
import { bringOver, transformTo } from './replacements'
import { sayDocumentChanges } from './words'

const { nodes, marks } = documentSchema
const p = (text: string) => nodes.paragraph.create(null, text ? documentSchema.text(text) : null)
const h = (text: string) => nodes.heading.create({ level: 1 }, documentSchema.text(text))
const doc = (...blocks: Node[]) => nodes.doc.create(null, blocks)
const table = (...rows: string[][]) =>
  nodes.table.create(
    null,
    rows.map((cells) =>
      nodes.table_row.create(
        null,
        cells.map((text) => nodes.table_cell.create(null, p(text))),
      ),
    ),
  )
const leaf = (node: Node) => (node.isInline ? '\ufffc' : '')
const without = (node: Node, stretches: readonly { from: number; to: number }[]): string => {
  let text = ''
  let at = 0
  for (const { from, to } of [...stretches].sort((a, b) => a.from - b.from)) {
    if (from > at) text += node.textBetween(at, from, '', leaf)
    at = Math.max(at, to)
  }
  return text + node.textBetween(at, node.content.size, '', leaf)
}
const texts = (node: Node) => {
  const found: string[] = []
  node.descendants((one) => {
    if (one.isTextblock) found.push(one.textContent)
    return !one.isTextblock
  })
  return found
}
const kinds = (older: Node, newer: Node) => compareDocuments(older, newer).places.map(({ kind }) => kind)

// Related and unrelated documents, either way round.
const anyPair = fc
  .tuple(anyDocument, anyDocument, fc.array(anyEdit, { maxLength: 12 }), fc.nat(3))
  .map(([one, other, edits, which]): [Node, Node] => {
    const grown = edited(one, edits)
    return which === 0 ? [one, other] : which === 1 ? [grown, one] : [one, grown]
  })

describe('documents', () => {
  test('without what came, went and moved, the two say the same; nothing is told when nothing differs', () => {
    fc.assert(
      fc.property(anyPair, ([older, newer]) => {
        const changes = compareDocuments(older, newer)
        expect(without(older, [...changes.removed, ...changes.movedFrom])).toBe(
          without(newer, [...changes.added, ...changes.moved]),
        )
        expect(changes.wordsAdded).toBe(changes.sections.reduce((sum, part) => sum + part.wordsAdded, 0))
        expect(compareDocuments(older, older)).toMatchObject({ added: [], removed: [], places: [], otherwise: false })
        if (!older.eq(newer)) expect(changes.places.length > 0 || changes.otherwise).toBe(true)
        for (const { older: was, newer: is } of changes.places) {
          if (was) expect(was.to).toBeLessThanOrEqual(older.content.size)
          if (is) expect(is.to).toBeLessThanOrEqual(newer.content.size)
        }
      }),
      { numRuns: 160 },
    )
  })

  test('a cell that another one reaches over now is told with what was in it', () => {
    const cell = (text: string, rowspan = 1) => nodes.table_cell.create({ rowspan }, p(text))
    const rows = (...all: Node[][]) =>
      nodes.table.create(
        null,
        all.map((cells) => nodes.table_row.create(null, cells)),
      )
    const older = doc(rows([cell('upper'), cell('gate')], [cell('lower'), cell('sill')]))
    const newer = doc(rows([cell('upper'), cell('gate', 2)], [cell('lower')]))
    for (const [was, is, kind] of [
      [older, newer, 'wordsRemoved'],
      [newer, older, 'wordsAdded'],
    ] as const) {
      const changes = compareDocuments(was, is)
      expect(changes[kind]).toBe(1)
      expect(JSON.stringify(changes.places)).toContain('sill')
      expect(without(was, changes.removed)).toBe(without(is, changes.added))
    }
  })

  test('the changes applied to the older one give the newer one, with its page', () => {
    fc.assert(
      fc.property(anyPair, ([older, newer]) => {
        expect(transformTo(older, newer).doc.eq(newer)).toBe(true)
      }),
      { numRuns: 160 },
    )
  })

  test('tells moves, splits, joins, looks, rows, columns and images apart', () => {
    const found = [
      h('Found'),
      p('The gate leaks at the mitre post.'),
      p('The sill is dry and sound.'),
      p('Boards are stored.'),
    ]
    const gate = p('The gate leaks at the mitre post.')
    expect(kinds(doc(...found), doc(found[0]!, found[2]!, found[3]!, gate))).toEqual(['moved'])
    const long = p('The gate leaks at the mitre post. It was caulked in May by the crew.')
    const two = [gate, p('It was caulked in May by the crew.')]
    expect(kinds(doc(long, ...found), doc(...two, ...found))).toEqual(['split'])
    expect(kinds(doc(...two, ...found), doc(long, ...found))).toEqual(['joined'])
    const bold = nodes.paragraph.create(null, [
      documentSchema.text('The '),
      documentSchema.text('gate leaks', [marks.strong.create()]),
      documentSchema.text(' at the mitre post.'),
    ])
    const looks = compareDocuments(doc(gate), doc(bold))
    expect(english(looks.places)).toMatchObject([{ kind: 'look', before: 'gate leaks', now: 'bold' }])
    expect(looks).toMatchObject({ added: [], removed: [], look: [{ from: 5, to: 15 }] })
    expect(english(compareDocuments(doc(p('Found here')), doc(h('Found here'))).places[0])).toMatchObject({
      kind: 'look',
      now: 'paragraph → heading 1',
    })
    const levels = [
      ['Lock', 'Level', 'Date'],
      ['LK01', '2.10', '3 May'],
      ['LK07', '1.95', '4 May'],
      ['BR02', '1.80', '4 May'],
    ]
    const [head, first, second, third] = levels as [string[], string[], string[], string[]]
    expect(kinds(doc(table(...levels)), doc(table(head, first, ['LK03', '2.40', '9 May'], second, third)))).toEqual([
      'row added',
    ])
    expect(kinds(doc(table(...levels)), doc(table(head, first, third)))).toEqual(['row removed'])
    expect(kinds(doc(table(...levels)), doc(table(head, third, first, second)))).toEqual(['row moved'])
    const without1 = levels.map(([a, , c]) => [a!, c!])
    expect(kinds(doc(table(...without1)), doc(table(...levels)))).toEqual(['column added'])
    expect(kinds(doc(table(...levels)), doc(table(...without1)))).toEqual(['column removed'])
    expect(kinds(doc(table(...levels)), doc(table(head, first, ['LK07', '1.90', '4 May'], third)))).toEqual(['words'])
    const image = (src: string) =>
      nodes.paragraph.create(null, [
        documentSchema.text('Seen from the weir: '),
        nodes.image.create({ src: `data:image/png;base64,${src}`, width: 10, height: 10 }),
      ])
    expect(kinds(doc(image('AAAA')), doc(image('BBBB')))).toEqual(['image replaced'])
    expect(kinds(doc(p('a gate'), p('')), doc(p('a gate')))).toEqual([])
  })

  test('a change is one change, however many words it has', () => {
    const { places } = compareDocuments(
      doc(p('Water stood at the upper gate for two hours on Monday, then fell.')),
      doc(p('Water stood behind a lower weir for two hours on Friday, then fell.')),
    )
    expect(places.map(({ before, now }) => [before, now])).toEqual([
      ['at the upper gate', 'behind a lower weir'],
      ['Monday', 'Friday'],
    ])
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
    expect(inEnglish(sayDocumentChanges(changes))).toBe('4 words added, in ‹Found› (+2), ‹To do› (+2).')
    expect(inEnglish(sayDocumentChanges(compareDocuments(newer, older)))).toBe(
      '4 words removed, in ‹Found› (−2), ‹To do› (−2).',
    )
    const levels = table(['Lock', 'Level'], ['LK01', '2.10'])
    const grown = table(['Lock', 'Level'], ['LK01', '2.10'], ['LK02', '1.90'])
    expect(inEnglish(sayDocumentChanges(compareDocuments(doc(p('Levels'), levels), doc(p('Levels'), grown))))).toBe(
      '1 row added.',
    )
    expect(inEnglish(sayDocumentChanges(compareDocuments(doc(p('a')), doc(p('a'), p('')))))).toBe(
      'Only blank lines, page breaks or the page differ.',
    )
  })
})

describe('taking over a part', () => {
  test('all of the changes make the other document, none of them none, and each only what it says', () => {
    fc.assert(
      fc.property(anyDocument, fc.array(anyEdit, { maxLength: 8 }), fc.nat(), (base, edits, which) => {
        const theirs = edited(base, edits)
        expect(bringOver(base, theirs, { there: [], here: [] }).doc.eq(base)).toBe(true)
        const { places } = compareDocuments(base, theirs)
        const place = places[which % Math.max(1, places.length)]
        if (!place) return
        const wide = (stretch: { from: number; to: number } | null) =>
          stretch && stretch.to > stretch.from ? [stretch] : []
        let part: Node
        try {
          part = bringOver(base, theirs, { there: wide(place.older), here: wide(place.newer) }).doc
        } catch (error) {
          expect(error).toBeInstanceOf(Error)
          return
        }
        part.check()
        // Words that came nowhere are nowhere: what the part says was said by one of the two.
        const said = new Set(`${texts(base).join(' ')} ${texts(theirs).join(' ')}`.match(/[\p{L}\p{N}]+/gu) ?? [])
        for (const word of texts(part)
          .join(' ')
          .match(/[\p{L}\p{N}]+/gu) ?? [])
          expect(said.has(word)).toBe(true)
        const now = inEnglish(place.now)
        if (place.kind === 'added' && now.length > 3 && !now.endsWith('…'))
          expect(texts(part).some((text) => text.includes(now.slice(0, 20)))).toBe(true)
      }),
      { numRuns: 120 },
    )
  })
})

describe('bringing back a part', () => {
  test('what was chosen stands there as it was, and nothing else is lost', () => {
    fc.assert(
      fc.property(
        anyDocument,
        fc.array(anyEdit, { maxLength: 12 }),
        fc.nat(),
        fc.nat(40),
        (then, edits, at, length) => {
          const now = edited(then, edits)
          const from = at % (then.content.size + 1)
          const part = widened(then, { from, to: Math.min(then.content.size, from + length) })
          if (!part) return
          let result: Node
          try {
            result = bringBack(now, then, part).doc
          } catch (error) {
            // It may not fit, which is said; never is something else made of it.
            expect(error).toBeInstanceOf(Error)
            return
          }
          result.check()
          const chosen: string[] = []
          then.nodesBetween(part.from, part.to, (node, pos) => {
            if (node.isTextblock && pos >= part.from && pos + node.nodeSize <= part.to) chosen.push(node.textContent)
            return !node.isTextblock
          })
          for (const text of chosen) expect(texts(result)).toContain(text)
        },
      ),
      { numRuns: 160 },
    )
  })
  test('a paragraph comes back where it stood, a table as it was, a look alone', () => {
    const then = doc(h('Found'), p('The gate leaks.'), p('The sill is dry.'), table(['LK01', '2.10'], ['LK02', '1.90']))
    const now = doc(h('Found'), p('New on top of all.'), p('The sill is wet.'), table(['LK01', '9.99']), p('The end.'))
    const paragraph = widened(then, { from: 9, to: 9 })!
    expect(texts(bringBack(now, then, paragraph).doc).slice(0, 4)).toEqual([
      'Found',
      'The gate leaks.',
      'New on top of all.',
      'The sill is wet.',
    ])
    const whole = { from: 42, to: 42 + then.child(3).nodeSize }
    const back = bringBack(now, then, whole).doc
    expect(texts(back)).toEqual([
      'Found',
      'New on top of all.',
      'The sill is wet.',
      'LK01',
      '2.10',
      'LK02',
      '1.90',
      'The end.',
    ])
    const bold = nodes.heading.create({ level: 2 }, [
      documentSchema.text('The '),
      documentSchema.text('sill', [marks.strong.create()]),
      documentSchema.text(' is dry.'),
    ])
    const look = bringBackLook(now, doc(h('Found'), bold), { from: 8, to: 20 }).doc.child(2)
    expect(look.type.name).toBe('heading')
    expect(look.textContent).toBe('The sill is wet.')
    expect(look.child(1)).toMatchObject({ text: 'sill' })
    expect(look.child(1).marks).toHaveLength(1)
  })
})
