// Find and replace above a real document.

import fc from 'fast-check'
import { search } from 'prosemirror-search'
import { EditorState } from 'prosemirror-state'
import { EditorView } from 'prosemirror-view'
import { afterEach, describe, expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { documentSchema } from '../../../core/content/document'
import { focused, show } from '../../testing/render'
import { Find } from './find'

const views: EditorView[] = []
afterEach(() => {
  for (const view of views.splice(0)) view.destroy()
})
function viewOf(...paragraphs: string[]): EditorView {
  const doc = documentSchema.node(
    'doc',
    null,
    paragraphs.map((text) => documentSchema.node('paragraph', null, text ? [documentSchema.text(text)] : [])),
  )
  const place = document.body.appendChild(document.createElement('div'))
  const view = new EditorView(place, { state: EditorState.create({ doc, plugins: [search()] }) })
  views.push(view)
  return view
}
async function finding(view: EditorView, editable = true) {
  let closed = 0
  const { screen } = await show(<Find view={view} editable={editable} onClose={() => closed++} />)
  const field = screen.getByRole('textbox', { name: 'Find' })
  await expect.element(field).toHaveFocus()
  return { screen, field, closed: () => closed }
}
const selected = ({ state }: EditorView) => state.doc.textBetween(state.selection.from, state.selection.to)
const textOf = ({ state }: EditorView) => state.doc.textBetween(0, state.doc.content.size, '\n')
const marked = (view: EditorView) =>
  view.dom.querySelectorAll('.ProseMirror-search-match, .ProseMirror-active-search-match').length

describe('finding', () => {
  test('counts and shows each place, goes to them in a round, forward and back', async () => {
    const view = viewOf('The gate of LK07.', 'Gate and sluice.', 'No more.')
    const { screen } = await finding(view)
    await userEvent.keyboard('gate')
    await expect.element(screen.getByRole('status')).toHaveTextContent('2 found')
    expect(marked(view)).toBe(2)
    await userEvent.keyboard('{Enter}')
    expect([selected(view), view.state.selection.from]).toEqual(['gate', 5])
    await userEvent.keyboard('{Enter}')
    expect(selected(view)).toBe('Gate')
    await userEvent.keyboard('{Enter}')
    expect(view.state.selection.from).toBe(5)
    await userEvent.keyboard('{Shift>}{Enter}{/Shift}')
    expect(selected(view)).toBe('Gate')
    // The keys stay with the field: whoever looks further types no letter into the work.
    expect(focused()).toBe('Find')
  })
  test('by the same case where that is wished, and says when it is not here', async () => {
    const view = viewOf('The gate.', 'Gate.')
    const { screen } = await finding(view)
    await userEvent.keyboard('Gate')
    await screen.getByRole('checkbox').click()
    await expect.element(screen.getByRole('status')).toHaveTextContent('1 found')
    await screen.getByRole('textbox', { name: 'Find' }).fill('weir')
    await expect.element(screen.getByRole('status')).toHaveTextContent('Not here')
    await expect.element(screen.getByRole('button', { name: 'Replace all' })).toBeDisabled()
  })
  test('signs that mean something elsewhere mean themselves', async () => {
    const view = viewOf('1.5 m (of 2.0)', '105 m', '.*')
    const { screen, field } = await finding(view)
    for (const [typed, count] of [
      ['1.5', '1 found'],
      ['(of', '1 found'],
      ['.*', '1 found'],
      ['\\n', 'Not here'],
    ] as const) {
      await field.fill(typed)
      await expect.element(screen.getByRole('status')).toHaveTextContent(count)
    }
  })
  test('finds as often as the text has it, counted the plainest way', async () => {
    const view = viewOf('')
    const { screen, field } = await finding(view)
    const piece = fc.constantFrom('lock', 'weir', 'Lock', ' ', 'k', 'lo')
    await fc.assert(
      fc.asyncProperty(
        fc.array(piece, { minLength: 1, maxLength: 12 }),
        fc.constantFrom('lock', 'k', 'lo', 'kl'),
        async (pieces, typed) => {
          const text = pieces.join('')
          view.dispatch(
            view.state.tr.replaceWith(1, view.state.doc.content.size - 1, text.trim() ? documentSchema.text(text) : []),
          )
          await field.fill('')
          await field.fill(typed)
          const count = text.trim() ? text.toLowerCase().split(typed).length - 1 : 0
          await expect.element(screen.getByRole('status')).toHaveTextContent(count ? `${count} found` : 'Not here')
        },
      ),
      { numRuns: 9 },
    )
  })
})

describe('replacing', () => {
  test('one after the other, and the rest at once', async () => {
    const view = viewOf('Gate one, gate two, gate three.', 'gate four')
    const { screen } = await finding(view)
    await userEvent.keyboard('gate')
    await screen.getByRole('textbox', { name: 'Replace with' }).fill('sluice')
    await userEvent.keyboard('{Enter}{Enter}')
    await expect.poll(() => textOf(view)).toContain('sluice one')
    expect(textOf(view).match(/sluice/g)!.length).toBeGreaterThanOrEqual(1)
    await screen.getByRole('button', { name: 'Replace all' }).click()
    expect(textOf(view)).toBe('sluice one, sluice two, sluice three.\nsluice four')
    await expect.element(screen.getByRole('status')).toHaveTextContent('Not here')
  })
  test('is not offered to whoever may only look', async () => {
    const { screen } = await finding(viewOf('Read only.'), false)
    await expect.element(screen.getByRole('textbox', { name: 'Replace with' })).not.toBeInTheDocument()
    await expect.element(screen.getByRole('button', { name: 'Replace all' })).not.toBeInTheDocument()
  })
})

test('Escape closes it, gives the focus to the document and leaves nothing marked', async () => {
  const view = viewOf('The gate.')
  const { screen, closed } = await finding(view)
  await userEvent.keyboard('gate')
  await expect.poll(() => marked(view)).toBe(1)
  await userEvent.keyboard('{Escape}')
  expect(closed()).toBe(1)
  expect(document.activeElement).toBe(view.dom)
  await screen.unmount()
  expect(marked(view)).toBe(0)
})
