// The look of text beside a real page whose tools lag behind the keys: each key counts from what is there by then.
import { EditorState, TextSelection } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { describe, expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { documentSchema } from '../../../core/content/document'
import { editorPage } from '../../testing/page'
import { focused, show } from '../../testing/render'
import { commonLook, paragraphLookOf, selectionKept } from '../../views/document/text-look'
import { LookBeside } from './look-beside'
import { DocumentTools, toolState } from './tools'

const { nodes } = documentSchema
/** A page with a line that is selected. */
function page(): EditorView {
  const doc = nodes.doc.create(null, [nodes.paragraph.create(null, documentSchema.text('Level of LK02'))])
  const state = EditorState.create({ doc, selection: TextSelection.create(doc, 1, 6), plugins: [selectionKept()] })
  const view = editorPage({ state })
  return view
}

describe('what the tools still show', () => {
  test('is not what a size is made larger from', async () => {
    const view = page()
    const { state } = view
    await show(
      <LookBeside view={view} look={commonLook(state)} paragraph={paragraphLookOf(state)} onClose={() => {}} />,
    )
    const size = () => commonLook(view.state).size
    await expect.poll(() => document.activeElement?.tagName).toBe('INPUT')
    await userEvent.tab()
    await userEvent.keyboard('18{Enter}')
    expect(size()).toBe(18)
    await userEvent.tab()
    await userEvent.tab()
    expect(focused()).toBe('Larger text')
    await userEvent.keyboard('{Enter}{Enter}')
    expect(size()).toBe(20)
    await userEvent.tab({ shift: true })
    await userEvent.keyboard('{Enter}')
    expect(size()).toBe(19)
  })
  test('is not what a list is ended by', async () => {
    const view = page()
    const nothing = () => {}
    await show(
      <DocumentTools
        view={view}
        page={view}
        looks={[]}
        on={toolState(view.state)}
        onFind={nothing}
        onLink={nothing}
        looking={false}
        onLooks={nothing}
        pictured={false}
        onPicture={nothing}
        onTable={nothing}
        remarking={false}
        onRemarks={null}
        signing={false}
        onSigns={nothing}
        plain={false}
      />,
    )
    const list = () => view.state.doc.firstChild?.type.name
    const bullets = [...document.querySelectorAll('button')].find((one) => one.ariaLabel === 'Bullets')!
    bullets.focus()
    await userEvent.keyboard('{Enter}')
    expect(list()).toBe('bullet_list')
    bullets.focus()
    await userEvent.keyboard('{Enter}')
    expect(list()).toBe('paragraph')
  })
})
