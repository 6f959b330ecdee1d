import * as fc from 'fast-check'
import { EditorState, TextSelection } from 'prosemirror-state'
import { expect, test } from 'vitest'
import { documentSchema } from '../../../core/content/document'
import { headingAbove } from './place'

test('whoever is in a document is under the last heading that says something above them', () => {
  const block = fc.record({ heading: fc.boolean(), text: fc.constantFrom('', ' ', 'Weir', 'Sluice', 'Gate') })
  fc.assert(
    fc.property(fc.array(block, { minLength: 1, maxLength: 8 }), fc.nat(7), (blocks, nth) => {
      const nodes = blocks.map(({ heading, text }) =>
        documentSchema.node(
          heading ? 'heading' : 'paragraph',
          heading ? { level: 2 } : null,
          text ? [documentSchema.text(text)] : [],
        ),
      )
      const doc = documentSchema.node('doc', null, nodes)
      const at = Math.min(nth, blocks.length - 1)
      const before = nodes.slice(0, at).reduce((size, node) => size + node.nodeSize, 0)
      const state = EditorState.create({ doc, selection: TextSelection.create(doc, before + 1) })
      const above = blocks.slice(0, at + 1).filter(({ heading, text }) => heading && text.trim())
      expect(headingAbove(state)).toBe(above.at(-1)?.text ?? '')
    }),
  )
})
