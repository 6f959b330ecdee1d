import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { expect, test } from 'vitest'
import { a4, documentSchema } from '../../content/document'
import { edgesOf, storyJSON, withEdges } from '../../content/edges'
import { fieldCodes } from '../../content/fields'
import { keptField } from '../docx/fields'
import { writeRtf } from './file'
import { readRtf } from './read'

const { nodes, marks } = documentSchema
/** A text as another program writes it, with what the model has no place for between its letters. */
const source =
  '{\\rtf1\\ansi\\ansicpg1252\\deff0{\\fonttbl{\\f0\\froman Times;}}{\\colortbl;\\red1\\green2\\blue3;}{\\stylesheet{\\fs24 Normal;}{\\s4\\li300\\i Note;}}{\\info{\\author Ida}}\n' +
  '\\paperw11906\\paperh16838\\margl1440\\margr1440\\margt1440\\margb1440\\sectd{\\header\\pard Canal Trust\\par}\n' +
  "\\pard\\plain\\tx2000 The {\\*\\bkmkstart b}sill{\\*\\bkmkend b} of {\\b\\expnd4 lock\\'a0seven} is \\i worn\\i0 .\\par\n" +
  "\\pard\\plain\\s4\\li300\\i As said\\u8230\\'85{\\footnote\\pard In June.}\\par\n" +
  '\\trowd\\trgaph50\\clbrdrt\\brdrs\\cellx2000\\cellx4000\\pard\\intbl Lock\\cell\\pard\\intbl Level\\cell\\row\\pard\\par\n' +
  '\\pard Last.\\par}'
const bytes = Uint8Array.from(Buffer.from(source, 'latin1'))
const text = (of: Uint8Array) => Buffer.from(of).toString('latin1')
function at(doc: Node, words: string): number {
  let found = -1
  doc.descendants((node, pos) => {
    if (found < 0 && node.isText && node.text!.includes(words)) found = pos + node.text!.indexOf(words)
    return found < 0
  })
  return found
}
const like = (doc: Node, words: string, other: string) => documentSchema.text(other, doc.nodeAt(at(doc, words))!.marks)
function after(change: (tr: Transform, doc: Node) => void) {
  const { doc } = readRtf(bytes)
  const tr = new Transform(doc)
  change(tr, doc)
  const written = writeRtf(tr.doc, bytes)
  expect(readRtf(written.bytes).doc.toJSON()).toEqual(tr.doc.toJSON())
  return { rtf: text(written.bytes), lost: written.lost.map(({ feature }) => feature) }
}

test('a changed word is all that changes, wherever it stands', () => {
  const { rtf, lost } = after((tr, doc) =>
    tr.replaceWith(at(doc, 'sill'), at(doc, 'sill') + 4, like(doc, 'sill', 'gate')),
  )
  expect([rtf, lost]).toEqual([source.replace('}sill{', '}gate{'), []])
  expect(after((tr, doc) => tr.insert(at(doc, 'seven') + 5, like(doc, 'seven', 'teen – ü'))).rtf).toBe(
    source.replace('seven}', "seventeen {\\uc1\\u8211\\'96} {\\uc1\\u252\\'fc}}"),
  )
  expect(after((tr, doc) => tr.insert(at(doc, 'Lock') + 4, like(doc, 'Lock', 's'))).rtf).toBe(
    source.replace('Lock', 'Locks'),
  )
  // Behind a letter that is followed by a sign for older programs, and in place of one.
  expect(after((tr, doc) => tr.insert(at(doc, '…') + 1, like(doc, '…', 'x'))).rtf).toBe(source.replace("'85{", "'85x{"))
  expect(after((tr, doc) => tr.delete(at(doc, '…'), at(doc, '…') + 1)).rtf).toBe(source.replace("\\u8230\\'85", ''))
})

test('a word that goes leaves no control word that goes on with what follows', () => {
  const { rtf } = after((tr, doc) => tr.delete(at(doc, 'worn'), at(doc, 'worn') + 4))
  expect(rtf).toBe(source.replace('\\i worn\\i0 ', '\\i \\i0 '))
  const tight = Uint8Array.from(Buffer.from("{\\rtf1\\pard\\b\\'e9tat\\par}", 'latin1'))
  const { doc } = readRtf(tight)
  expect(text(writeRtf(new Transform(doc).delete(1, 2).doc, tight).bytes)).toBe('{\\rtf1\\pard\\b tat\\par}')
})

test('a paragraph that looks otherwise is written anew, and what goes with that is told', () => {
  const { rtf, lost } = after((tr, doc) => tr.addMark(at(doc, 'worn'), at(doc, 'worn') + 4, marks.strong.create()))
  expect(lost).toEqual(['looks of paragraphs', 'bookmarks', 'looks of text'])
  expect(rtf).toContain('\\b lock\\~seven}')
  expect(rtf).not.toContain('\\tx2000')
  // All around it is as it was.
  const from = source.indexOf('\\pard\\plain\\tx2000')
  const to = source.indexOf('\n\\pard\\plain\\s4')
  expect(rtf.startsWith(source.slice(0, from))).toBe(true)
  expect(rtf.endsWith(source.slice(to))).toBe(true)
})

test('what is new has its colours, fonts, styles and lists said in the tables of the file', () => {
  const item = nodes.list_item.create(null, nodes.paragraph.create(null, documentSchema.text('One')))
  const { rtf, lost } = after((tr, doc) =>
    tr.insert(doc.content.size, [
      nodes.heading.create({ level: 2 }, documentSchema.text('Gates')),
      nodes.ordered_list.create({ start: 4 }, item),
      nodes.paragraph.create(
        { style: 'Note' },
        documentSchema.text('So', [marks.look.create({ color: '#aa0000', fill: null, size: 9, font: 'Courier' })]),
      ),
    ]),
  )
  expect(lost).toEqual([])
  expect(rtf).toContain('{\\f0\\froman Times;}{\\f1\\fnil\\fcharset0 Courier;}}')
  expect(rtf).toContain('\\blue3;\\red170\\green0\\blue0;}')
  expect(rtf).toMatch(/\{\\s4\\li300\\i Note;\}\{\\s5[^}]*\\b[^}]*heading 2;\}\}/)
  expect(rtf).toContain('\\levelstartat4{\\leveltext')
  expect(rtf).toMatch(/\\s4\\li300\\i\s?\{\\f1\\fs18\\cf2 So\}\\par/)
})

test('blocks that go, move and come between tables', () => {
  const { rtf } = after((tr, doc) => tr.delete(doc.content.size - doc.lastChild!.nodeSize, doc.content.size))
  expect(rtf).toBe(source.replace('\n\\pard Last.\\par}', '}'))
  const cell = nodes.table_cell.create(null, nodes.paragraph.create(null, documentSchema.text('New')))
  const table = nodes.table.create(null, nodes.table_row.create(null, cell))
  const place = (doc: Node) => doc.child(0).nodeSize + doc.child(1).nodeSize
  for (const behind of [false, true]) {
    const { rtf, lost } = after((tr, doc) => tr.insert(place(doc) + (behind ? doc.child(2).nodeSize : 0), table))
    expect(lost).toEqual([])
    expect(rtf).toContain('\\trowd\\trgaph50\\clbrdrt\\brdrs\\cellx2000\\cellx4000')
  }
})

test('edges of pages and their size', () => {
  const { doc } = readRtf(bytes)
  const line = nodes.paragraph.create(null, [
    documentSchema.text('Page '),
    nodes.kept.create(keptField(fieldCodes.page, '')),
  ])
  const foot = { edge: 'foot' as const, on: 'all' as const, json: storyJSON(nodes.doc.create(null, line)) }
  const first = {
    edge: 'head' as const,
    on: 'first' as const,
    json: storyJSON(nodes.doc.create(null, nodes.paragraph.create())),
  }
  const wide = { ...a4, width: 16838, height: 11906 }
  const now = withEdges(nodes.doc.create({ ...doc.attrs, page: wide }, doc.content), [...edgesOf(doc), foot, first])
  const { bytes: written, lost } = writeRtf(now, bytes)
  const again = readRtf(written)
  expect([again.doc.toJSON(), lost]).toEqual([now.toJSON(), []])
  expect(text(written)).toContain('{\\header\\pard Canal Trust\\par}')
  expect(text(written)).toMatch(/\\titlepg/)
  // Without them it has none.
  const bare = writeRtf(withEdges(again.doc, []), written)
  expect(edgesOf(readRtf(bare.bytes).doc)).toEqual([])
  expect(text(bare.bytes)).not.toMatch(/\\titlepg|\\header|\\footer/)
})
