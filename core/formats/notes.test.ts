// Notes go with a text from type to type, where a type has notes.
import type { Node } from 'prosemirror-model'
import { expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { readDocument, writeDocument } from './documents'
import { keptNote } from './flat/notes'
import { odtOf } from './odt/testing'

const { nodes, marks } = documentSchema
const run = (text: string, strong = false) => ({ text, strong, em: false })
const notesIn = (doc: Node): unknown[] => {
  const found: unknown[] = []
  doc.descendants((node) => void (node.type.name === 'kept' && found.push([node.attrs.kind, node.attrs.words])))
  return found
}
const text = (words: string) => documentSchema.text(words)
const noted = nodes.doc.create(null, [
  nodes.paragraph.create(null, [
    text('The sill'),
    nodes.kept.create(keptNote('footnote', [[run('Seen in June & July.')], [run('Twice.')]])),
    text(' is worn'),
    nodes.kept.create(keptNote('endnote', [[run('See "the" <diary>.')]])).mark([marks.raised.create()]),
    text('.'),
  ]),
])
const both = [
  ['footnote', 'Seen in June & July. Twice.'],
  ['endnote', 'See "the" <diary>.'],
]

test.each([
  ['docx', 'odt'],
  ['docx', 'rtf'],
  ['odt', 'docx'],
  ['odt', 'rtf'],
  ['rtf', 'odt'],
  ['rtf', 'docx'],
])('from %s to %s', (from, to) => {
  const first = writeDocument(noted, null, from)
  expect([first.lost, notesIn(readDocument(first.bytes, from).doc)]).toEqual([[], both])
  const { bytes, lost } = writeDocument(readDocument(first.bytes, from).doc, first.bytes, to, from)
  expect([lost, notesIn(readDocument(bytes, to).doc)]).toEqual([[], both])
  // What was written stays where it is when something else is written beside it.
  const again = readDocument(bytes, to).doc
  const more = again.copy(again.content.addToEnd(nodes.paragraph.create(null, text('More.'))))
  const second = writeDocument(more, bytes, to)
  expect([second.lost, notesIn(readDocument(second.bytes, to).doc)]).toEqual([[], both])
})

test('a note that begins with a space is as it is', () => {
  const doc = nodes.doc.create(
    null,
    nodes.paragraph.create(null, nodes.kept.create(keptNote('footnote', [[run('  So.')]]))),
  )
  const { bytes, lost } = writeDocument(doc, null, 'rtf')
  expect([lost, readDocument(bytes, 'rtf').doc.toJSON()]).toEqual([[], doc.toJSON()])
})

test('what a note is beside its words is told where it does not come along', () => {
  const bold = nodes.doc.create(
    null,
    nodes.paragraph.create(null, nodes.kept.create(keptNote('footnote', [[run('So', true)]]))),
  )
  expect(writeDocument(bold, null, 'odt').lost.map(({ feature }) => feature)).toEqual(['looks of text'])
  expect(writeDocument(bold, null, 'rtf').lost).toEqual([])
  expect(writeDocument(bold, null, 'txt').lost.map(({ feature }) => feature)).toEqual(['footnotes'])
})

test('a note of another program comes along with its words', () => {
  const bytes = odtOf(
    '<text:p>Worn<text:note text:id="jn1" text:note-class="footnote"><text:note-citation>7</text:note-citation><text:note-body><text:p text:style-name="X">Seen <text:span>in</text:span><text:s text:c="3"/>June&#8212;</text:p><text:p/></text:note-body></text:note>.</text:p>',
  )
  const { doc } = readDocument(bytes, 'odt')
  const { bytes: written, lost } = writeDocument(doc, bytes, 'docx', 'odt')
  expect(lost).toEqual([])
  expect(notesIn(readDocument(written, 'docx').doc)).toEqual([['footnote', 'Seen in June—']])
  // A second one in the same file has another id.
  const two = doc.firstChild!.copy(doc.firstChild!.content.addToEnd(noted.firstChild!.child(1)))
  const both = writeDocument(doc.copy(doc.content.replaceChild(0, two)), bytes, 'odt')
  expect([both.lost, notesIn(readDocument(both.bytes, 'odt').doc).length]).toEqual([[], 2])
})
