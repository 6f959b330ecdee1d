import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { anyDocument } from '../../content/document.arbitrary'
import { DamagedFile } from '../refusals'
import { readMarkdown } from './read'
import { writeMarkdown } from './write'

const { nodes, marks } = documentSchema
const read = (text: string) => readMarkdown(new TextEncoder().encode(text))
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes)
const p = (text: string) => nodes.paragraph.create(null, text ? documentSchema.text(text) : null)

const piece = fc.constantFrom(
  ...[
    '# Levels\n',
    '\n',
    'Lock LK07 is *dry*.\n',
    '- one\n',
    '- two\n',
    '  - deep\n',
    '1. first\n',
    '> quoted\n',
    '```js\n',
    'let a = 1\n',
    '```\n',
    '| A | B |\n',
    '| - | - |\n',
    '| 1 | 2 |\n',
    '---\n',
    '[there]: https://example.org/ "T"\n',
    'See [there] and `code`.\n',
    '    indented\n',
    '<b>raw</b>\n',
    'a\\\nb\n',
    'a  \nb\n',
    '![x](https://example.org/x.png)\n',
    '~~gone~~\n',
    '***\n',
    'Head\n====\n',
    '* * *\n',
    'no end',
  ],
)

describe('a text in Markdown', () => {
  test.each([
    [
      '# A *b*\n\ntext **c** ~~d~~ [e](https://example.org/)\n',
      'heading("A ", em("b")), paragraph("text ", strong("c"), " ", strike("d"), " ", link("e"))',
    ],
    [
      '- a\n- b\n  1. c\n',
      'bullet_list(list_item(paragraph("a")), list_item(paragraph("b"), ordered_list(list_item(paragraph("c")))))',
    ],
    ['> a\n>\n> b\n', 'blockquote(paragraph("a"), paragraph("b"))'],
    [
      '| A | B |\n| --- | --- |\n| 1 | 2 |\n',
      'table(table_row(table_cell(paragraph("A")), table_cell(paragraph("B"))), table_row(table_cell(paragraph("1")), table_cell(paragraph("2"))))',
    ],
    ['a\\\nb\n', 'paragraph("a", hard_break, "b")'],
    ['```\none\n  two\n```\n', 'paragraph("one", hard_break, "  two")'],
    ['<script>x()</script>\n', 'paragraph("<script>x()</script>")'],
    ['', 'paragraph'],
  ])('%j is what it says', (text, wanted) => {
    expect(read(text).doc.toString()).toBe(`doc(${wanted})`)
  })

  test('stays letter by letter where nothing was changed, whatever it is', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(piece, fc.string({ maxLength: 5 })), { maxLength: 14 }),
        fc.constantFrom('\n', '\r\n'),
        (parts, end) => {
          const text = parts
            .join('')
            .replace(/\r\n?|\n/g, end)
            .replaceAll('\0', '')
          const from = read(text)
          expect(textOf(writeMarkdown(from.doc, from).bytes)).toBe(text)
          // Nor where only something comes behind it.
          const more = nodes.doc.create(null, [...from.doc.content.content, p('Read by Ida.')])
          const longer = textOf(writeMarkdown(more, from).bytes)
          const lines = (of: string) => of.split(/\r\n|\n/).filter((line) => line.trim())
          expect(lines(longer)).toEqual(expect.arrayContaining(lines(text)))
          expect(lines(longer)).toHaveLength(lines(text).length + 1)
          expect(readMarkdown(new TextEncoder().encode(longer)).doc.lastChild!.textContent).toContain('Read by Ida.')
        },
      ),
      { numRuns: 600 },
    )
  })

  test('a changed block is written anew, and the others are as they were', () => {
    const text =
      '---\ntitle: x\n---\n\n* one\n* two\n\nSetext\n------\n\nold   words\n\n\n```js\nlet a\n\nlet b\n```\n\n[a]: https://example.org/\nSee [a].\n'
    const from = read(text)
    const changed = from.doc.content.content.map((node) => (node.textContent === 'old words' ? p('new words') : node))
    const { bytes } = writeMarkdown(nodes.doc.create(null, changed), from)
    expect(textOf(bytes)).toBe(text.replace('old   words', 'new words'))
    // One that comes between stands apart, and one that goes takes its letters along.
    const more = from.doc.content.content.flatMap((node) =>
      node.type === nodes.bullet_list ? [node, p('more')] : node.textContent === 'old words' ? [] : [node],
    )
    const again = textOf(writeMarkdown(nodes.doc.create(null, more), from).bytes)
    expect(again).toContain('* one\n* two\n\nmore\n')
    expect(again).not.toContain('old')
    expect(again).toContain('```js\nlet a\n\nlet b\n```\n')
    expect(readMarkdown(new TextEncoder().encode(again)).doc.textContent).toBe(nodes.doc.create(null, more).textContent)
  })

  test('code that is changed is told to be text then', () => {
    const from = read('Use `npm`.\n\nOther.\n')
    const edit = (first: string, second: string) => writeMarkdown(nodes.doc.create(null, [p(first), p(second)]), from)
    expect(edit('Use npm.', 'Another.')).toMatchObject({ lost: [] })
    expect(textOf(edit('Use npm.', 'Another.').bytes)).toBe('Use `npm`.\n\nAnother.\n')
    expect(edit('Use it.', 'Other.').lost.map(({ feature }) => feature)).toEqual(['code (its text stays)'])
  })

  test('a document written and read again is the same, or what is lost is told', () => {
    const counts = { equal: 0, another: 0 }
    fc.assert(
      fc.property(anyDocument, (doc) => {
        const { bytes, lost } = writeMarkdown(doc, null)
        if (lost.some(({ feature }) => feature.startsWith('things'))) counts.another++
        if (lost.length) return
        counts.equal++
        expect(readMarkdown(bytes).doc.toJSON()).toEqual(doc.toJSON())
      }),
      { numRuns: 200 },
    )
  })

  test('what people write comes back, and nothing of it is told as lost', () => {
    const words = fc
      .array(
        fc.constantFrom(
          'Lock',
          'LK07',
          '*',
          '_',
          '#',
          '1.',
          '-',
          '+',
          '[a]',
          '`x`',
          '<b>',
          '&amp;',
          '|',
          '~~',
          '\\',
          'a_b',
          'Über',
          '>',
          '!',
          '100%',
          '$',
          '=',
          '---',
          '2)',
        ),
        { minLength: 1, maxLength: 6 },
      )
      .map((all) => all.join(' '))
    const run = fc.tuple(words, fc.subarray(['strong', 'em'] as const)).map(([text, names]) =>
      documentSchema.text(
        text,
        names.map((name) => marks[name].create()),
      ),
    )
    const line = fc
      .array(run, { minLength: 1, maxLength: 3 })
      .map((runs) => runs.flatMap((one, at) => (at ? [documentSchema.text(' '), one] : [one])))
    const paragraph = line.map((content) => nodes.paragraph.create(null, content))
    const item = paragraph.map((one) => nodes.list_item.create(null, [one]))
    const block = fc.oneof(
      paragraph,
      fc
        .tuple(fc.integer({ min: 1, max: 6 }), line)
        .map(([level, content]) => nodes.heading.create({ level }, content)),
      fc.array(paragraph, { minLength: 1, maxLength: 2 }).map((all) => nodes.blockquote.create(null, all)),
      fc.array(item, { minLength: 1, maxLength: 3 }).map((all) => nodes.bullet_list.create(null, all)),
      fc
        .tuple(fc.integer({ min: 0, max: 12 }), fc.array(item, { minLength: 1, maxLength: 3 }))
        .map(([start, all]) => nodes.ordered_list.create({ start }, all)),
    )
    fc.assert(
      fc.property(fc.array(block, { minLength: 1, maxLength: 4 }), (blocks) => {
        const doc = nodes.doc.create(null, blocks)
        const { bytes, lost } = writeMarkdown(doc, null)
        expect([textOf(bytes), lost, readMarkdown(bytes).doc.toString()]).toEqual([textOf(bytes), [], doc.toString()])
      }),
      { numRuns: 400 },
    )
  })

  test('what is no text is refused', () => {
    expect(() => readMarkdown(Uint8Array.of(0x61, 0, 0x62))).toThrow(DamagedFile)
  })
})
