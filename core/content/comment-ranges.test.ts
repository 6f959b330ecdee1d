import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { expect, test } from 'vitest'
import { compareDocuments } from '../compare/document'
import { newComment } from '../formats/note-words'
import { commentRanges, keyOfComment, withoutRanges, withPoints } from './comment-ranges'
import { documentSchema } from './document'
import { anyDocument } from './document.arbitrary'

const { nodes, marks } = documentSchema
const comment = newComment('Ida Thornquist', '2026-10-19T08:30:00Z', ['Which gate?'])
const key = keyOfComment(comment)!
const mark = marks.about.create({ comment: key })
/** Places of a text that letters are at. */
const places = (doc: Node) => {
  const found: number[] = []
  doc.descendants((node, at) => {
    if (node.isText) for (let letter = 0; letter < node.nodeSize; letter++) found.push(at + letter)
  })
  return found
}

test('in any text, what a comment is about is found, is no part of what is compared, and leaves the text as it was', () => {
  fc.assert(
    fc.property(anyDocument, fc.nat(), fc.nat(), (doc, one, other) => {
      const letters = places(doc)
      fc.pre(letters.length > 0)
      const [from, to] = [letters[one % letters.length]!, letters[other % letters.length]!].toSorted(
        (a, b) => a - b,
      ) as [number, number]
      const marked = new Transform(doc).addMark(from, to + 1, mark).doc
      // Of a comment that is not there nothing is said.
      expect(commentRanges(marked)).toEqual([])
      const said = new Transform(marked).insert(to + 1, nodes.kept.create(comment)).doc
      expect(commentRanges(said)).toEqual([{ comment: key, from, to: to + 1 }])
      expect(withoutRanges(marked).eq(doc)).toBe(true)
      expect(compareDocuments(doc, marked).places).toEqual([])
    }),
    { numRuns: 100 },
  )
})
test('points at any places of a text are where they were put, and the text around them is the same', () => {
  fc.assert(
    fc.property(anyDocument, fc.array(fc.nat(), { maxLength: 5 }), (doc, picks) => {
      const letters = places(doc)
      fc.pre(letters.length > 0)
      const at = [...new Set(picks.map((pick) => letters[pick % letters.length]!))]
      const point = nodes.kept.create(comment)
      const now = withPoints(
        doc,
        at.map((place) => ({ at: place, node: point })),
      )
      now.check()
      const back = at
        .toSorted((a, b) => a - b)
        .reduce((tr, place) => tr.delete(place, place + 1), new Transform(now)).doc
      expect(back.eq(doc)).toBe(true)
    }),
    { numRuns: 100 },
  )
})
