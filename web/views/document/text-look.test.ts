// Looks of text and of paragraphs, changed by what the tools do, without a browser.
import fc from 'fast-check'
import type { Mark, Node } from 'prosemirror-model'
import { type Command, EditorState, TextSelection } from 'prosemirror-state'
import { expect, test } from 'vitest'
import { documentSchema, type Look } from '../../../core/content/document'
import { anyDocument } from '../../../core/content/document.arbitrary'
import { readDocument, writeDocument } from '../../../core/formats/documents'
import { clearLooks, commonLook, paragraphLookOf, setLook, setParagraphLook } from './text-look'

const { nodes, marks } = documentSchema
const red = '#a3402a'
const withText = (...texts: [words: string, look?: Partial<Look>][]) =>
  nodes.doc.create(null, [
    nodes.paragraph.create(
      null,
      texts.map(([words, look]) => documentSchema.text(words, look ? [marks.look.create(look)] : [])),
    ),
  ])
const selecting = (doc: ReturnType<typeof withText>, from: number, to: number) => {
  const state = EditorState.create({ doc })
  return state.apply(state.tr.setSelection(TextSelection.create(doc, from, to)))
}
function done(state: EditorState, command: Command): EditorState {
  let next = state
  command(state, (change) => {
    next = state.apply(change)
  })
  return next
}

test('one trait changes for all that is selected, the others stay what they are; what all have is told', () => {
  const state = selecting(withText(['Gate ', { size: 9 }], ['paddle', { color: red }], [' leaks']), 1, 12)
  expect(commonLook(state)).toEqual({
    color: undefined,
    fill: null,
    size: undefined,
    font: null,
    raised: false,
    lowered: false,
  })
  const large = done(state, setLook({ size: 18 }))
  expect(large.doc.toJSON().content[0].content).toEqual([
    {
      type: 'text',
      text: 'Gate ',
      marks: [{ type: 'look', attrs: { color: null, fill: null, size: 18, font: null } }],
    },
    {
      type: 'text',
      text: 'paddle',
      marks: [{ type: 'look', attrs: { color: red, fill: null, size: 18, font: null } }],
    },
    { type: 'text', text: ' leaks' },
  ])
  expect(commonLook(large)).toMatchObject({ size: 18, color: undefined })
  // The last trait that goes takes the look with it.
  const plain = done(done(large, setLook({ size: null })), setLook({ color: null }))
  expect(plain.doc.firstChild!.childCount).toBe(1)
})

test('with nothing selected it is what is written next', () => {
  const state = selecting(withText(['Gate']), 5, 5)
  const next = done(done(state, setLook({ color: red })), setLook({ font: 'Caladea' }))
  expect(commonLook(next)).toMatchObject({ color: red, font: 'Caladea' })
  const typed = next.apply(next.tr.insertText('s'))
  expect(typed.doc.firstChild!.lastChild!.toJSON()).toEqual({
    type: 'text',
    text: 's',
    marks: [{ type: 'look', attrs: { color: red, fill: null, size: null, font: 'Caladea' } }],
  })
})

test('a paragraph says what was chosen of it, and no more than that', () => {
  const state = selecting(withText(['Gate']), 1, 3)
  const spaced = done(
    done(state, setParagraphLook({ before: 240 })),
    setParagraphLook({ left: 720, line: { share: 360 } }),
  )
  expect(paragraphLookOf(spaced)).toEqual({ before: 240, left: 720, line: { share: 360 } })
  expect(
    done(spaced, setParagraphLook({ before: undefined, left: undefined, line: undefined })).doc.eq(state.doc),
  ).toBe(true)
})

/** Nobody selects half a letter. */
const whole = (doc: Node, at: number): number =>
  /[\udc00-\udfff]/.test(doc.resolve(at).nodeAfter?.text?.[0] ?? '') &&
  /[\ud800-\udbff]$/.test(doc.resolve(at).nodeBefore?.text ?? '')
    ? at - 1
    : at

test('any document, any stretch of it: what is set is had by all of it, cleared it is plain, and files bring it back', () => {
  const look = fc.record(
    {
      color: fc.constantFrom(red, '#0b6b5b'),
      fill: fc.constantFrom('#f7eccb', '#dfe9e3'),
      size: fc.constantFrom(8, 11.5, 24),
      font: fc.constantFrom('Caladea', 'Liberation Mono'),
    },
    { requiredKeys: [] },
  )
  fc.assert(
    fc.property(anyDocument, fc.nat(), fc.nat(), look, (doc, one, other, traits) => {
      const size = doc.content.size
      const [from, to] = [whole(doc, one % (size + 1)), whole(doc, other % (size + 1))].sort((a, b) => a - b)
      const state = EditorState.create({ doc })
      const selected = state.apply(state.tr.setSelection(TextSelection.between(doc.resolve(from!), doc.resolve(to!))))
      const set = done(selected, setLook(traits))
      expect(set.doc.textContent).toBe(doc.textContent)
      const { from: begin, to: end } = set.selection
      const text: Mark[][] = []
      const marksIn = (node: Node) => {
        text.length = 0
        if (begin < end) node.nodesBetween(begin, end, (one) => void (one.isText && text.push([...one.marks])))
        return text
      }
      for (const own of marksIn(set.doc))
        for (const [trait, value] of Object.entries(traits))
          expect(own.find((mark) => mark.type === marks.look)?.attrs[trait]).toBe(value)
      const cleared = done(set, clearLooks)
      expect(cleared.doc.textContent).toBe(doc.textContent)
      cleared.doc.check()
      for (const own of marksIn(cleared.doc)) expect(own.every((mark) => mark.type === marks.link)).toBe(true)
      const again = readDocument(writeDocument(set.doc, null, 'docx').bytes, 'docx').doc
      expect(again.textContent).toBe(set.doc.textContent)
    }),
    { numRuns: 150 },
  )
})
