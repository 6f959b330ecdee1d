// Where two changed how one paragraph stands, each of them is told by what it is, and either can be taken.
import { EditorState } from 'prosemirror-state'
import { EditorView } from 'prosemirror-view'
import { afterEach, expect, test } from 'vitest'
import { documentSchema } from '../../../core/content/document'
import type { ParagraphLook } from '../../../core/content/paragraph-look'
import { writeDocx } from '../../../core/formats/docx/write'
import { choicesPlugin, takeInDocument } from './choices'

const { nodes } = documentSchema
const docOf = (look: ParagraphLook | null, align: string | null = null) =>
  nodes.doc.create(null, [
    nodes.paragraph.create({ look, align }, documentSchema.text('Payable in two halves.')),
    nodes.paragraph.create(null, documentSchema.text('The gate is shut.')),
  ])
const views: EditorView[] = []
afterEach(() => {
  for (const view of views.splice(0)) view.destroy()
})
async function merged(mine: ParagraphLook | null, theirs: ParagraphLook | null, align: string | null = null) {
  const place = document.body.appendChild(document.createElement('div'))
  const view = new EditorView(place, { state: EditorState.create({ doc: docOf(mine), plugins: [choicesPlugin()] }) })
  views.push(view)
  const bytes = (look: ParagraphLook | null, where: string | null = null) => writeDocx(docOf(look, where))
  const taken = await takeInDocument(
    view,
    { bytes: bytes({ left: 567 }) },
    { bytes: bytes(theirs, align) },
    null,
    true,
    'docx',
  )
  if ('refused' in taken) throw new Error(JSON.stringify(taken.refused))
  return { view, choices: taken.choices }
}

test('both looks are told apart in words, and the one that is chosen stands', async () => {
  const { view, choices } = await merged({ left: 1134 }, { left: 1701, before: 240 })
  expect(choices.map(({ mine, theirs, mayKeepBoth }) => [mine, theirs, mayKeepBoth])).toEqual([
    [
      'paragraph, indented 2 cm left: Payable in two halves.',
      'paragraph, indented 3 cm left, with 12 pt of space before: Payable in two halves.',
      false,
    ],
  ])
  choices[0]!.choose('theirs')
  expect(view.state.doc.child(0).attrs.look).toEqual({ before: 240, left: 1701 })
})

test('a look that one of both changed is taken without a question', async () => {
  const { view, choices } = await merged({ left: 567 }, { left: 1701 })
  expect(choices).toEqual([])
  expect(view.state.doc.child(0).attrs.look).toEqual({ left: 1701 })
})
