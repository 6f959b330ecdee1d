import fc from 'fast-check'
import { Fragment, type Node } from 'prosemirror-model'
import { expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { anyDocument, documentWithEdges } from '../../content/document.arbitrary'
import { anyEdit, edited } from '../../content/document-edits.arbitrary'
import { mapEdges } from '../../content/edges'
import { writeRtf } from './file'
import { readRtf } from './read'

const { marks, nodes } = documentSchema

/** What a text says beside its styles and lists, which say the same: and of pictures only those of two types. */
function beside(doc: Node): Node {
  const visit = (node: Node, within: Node | null, level: number): Node => {
    if (node.isLeaf) return node
    const heading = node.type === nodes.heading
    const quoted = within?.type === nodes.blockquote
    const listed = within?.type === nodes.list_item
    const usual: Record<string, unknown> = {
      before: heading ? (node.attrs.level < 3 ? 320 : 240) : 0,
      after: heading ? 100 : 140,
      line: { share: 288 },
      left: listed ? 720 * level : quoted ? 567 : 0,
      right: quoted ? 567 : 0,
      first: listed ? -360 : 0,
    }
    const children: Node[] = []
    node.forEach((child) => {
      if (child.type === nodes.image && child.attrs.src.startsWith('data:image/gif')) return
      const inner = visit(child, node, level + (/_list$/.test(node.type.name) ? 1 : 0))
      children.push(heading ? inner.mark(marks.strong.removeFromSet(inner.marks)) : inner)
    })
    if (!node.isTextblock) return node.copy(Fragment.fromArray(children))
    const said = Object.entries(node.attrs.look ?? {}).filter(
      ([name, value]) => JSON.stringify(value) !== JSON.stringify(usual[name]),
    )
    return node.type.create({ ...node.attrs, look: said.length ? Object.fromEntries(said) : null }, children)
  }
  return mapEdges(visit(doc, null, 0), (story) => visit(story, null, 0))
}

test('any document comes back, and what does not is told', () => {
  fc.assert(
    fc.property(fc.oneof({ weight: 4, arbitrary: anyDocument }, documentWithEdges), (doc) => {
      const { bytes, lost } = writeRtf(doc, null)
      const again = readRtf(bytes)
      expect(again.doc.toJSON()).toEqual(beside(doc).toJSON())
      expect(lost.map(({ feature }) => feature)).toEqual(
        JSON.stringify(doc.toJSON()).includes('image/gif') ? ['images'] : [],
      )
      expect(writeRtf(again.doc, bytes).bytes).toBe(bytes)
    }),
    { numRuns: 50 },
  )
})

test('whatever is edited in any text, the file says all of it', () => {
  fc.assert(
    fc.property(documentWithEdges, fc.array(anyEdit, { minLength: 1, maxLength: 5 }), (doc, edits) => {
      const { bytes } = writeRtf(doc, null)
      const now = edited(readRtf(bytes).doc, edits)
      const { bytes: written, lost } = writeRtf(now, bytes)
      // Only rows that are no rectangle, and halves of a letter, come out as something else; that is told.
      if (!readRtf(written).doc.eq(beside(now))) expect(lost).not.toEqual([])
      if (edits.every(({ kind }) => kind === 'join' || kind === 'restyle')) expect(lost).toEqual([])
    }),
    { numRuns: 50 },
  )
})
