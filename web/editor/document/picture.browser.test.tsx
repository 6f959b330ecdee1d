// A real page with a picture on it: what it shows and how large it is, by fields and by its corner; and how large a table is.
import type { Node } from 'prosemirror-model'
import { EditorState, NodeSelection } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { useState } from 'react'
import { beforeEach, describe, expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { documentSchema } from '../../../core/content/document'
import { editorPage } from '../../testing/page'
import { focused, show } from '../../testing/render'
import { imageView } from '../../views/document/image-view'
import { PictureBeside } from './picture-beside'
import { TableQuestion, type TableSize } from './table-question'
import { insertTable, toolState } from './tools'

const { nodes } = documentSchema
let source = ''
beforeEach(() => {
  const canvas = document.createElement('canvas')
  canvas.width = 300
  canvas.height = 150
  source = canvas.toDataURL('image/png')
})

/** A page with two pictures, of which the first is selected. */
function page(onChange: () => void = () => {}): EditorView {
  const image = (alt: string) => nodes.image.create({ src: source, alt, width: 200, height: 100 })
  const doc = nodes.doc.create(null, [
    nodes.paragraph.create(null, [image('The weir'), documentSchema.text(' and '), image('the lock')]),
  ])
  const state = EditorState.create({ doc, selection: NodeSelection.create(doc, 1) })
  const view: EditorView = editorPage(
    {
      state,
      nodeViews: { image: imageView(true) },
      dispatchTransaction(transaction) {
        view.updateState(view.state.apply(transaction))
        onChange()
      },
    },
    'page-text',
  )
  return view
}
const pictures = ({ state }: EditorView): Node['attrs'][] => {
  const found: Node['attrs'][] = []
  state.doc.descendants((node) => void (node.type === nodes.image && found.push(node.attrs)))
  return found.map(({ src: _, ...attrs }) => attrs)
}

async function beside() {
  let changed = () => {}
  let closed = 0
  const view = page(() => changed())
  function Beside() {
    const [, draw] = useState(0)
    changed = () => draw((n) => n + 1)
    const { picture } = toolState(view.state)
    return picture && <PictureBeside view={view} picture={picture} onClose={() => closed++} />
  }
  const { screen } = await show(<Beside />)
  const field = (name: string) => screen.getByRole('textbox', { name })
  await expect.element(field('What it shows')).toHaveFocus()
  return { view, screen, field, closed: () => closed }
}

describe('a picture', () => {
  test('is described by what is typed, with Enter, or when the keys go on; it stays selected', async () => {
    const { view, field } = await beside()
    await userEvent.keyboard('  The weir,{Shift>}{Enter}{/Shift}in spring  {Enter}')
    await expect.poll(() => pictures(view)[0]!.alt).toBe('The weir, in spring')
    await expect.element(field('What it shows')).toHaveValue('The weir, in spring')
    await userEvent.fill(field('What it shows'), 'A weir')
    await userEvent.keyboard('{Tab}')
    await expect.poll(() => pictures(view)[0]!.alt).toBe('A weir')
    expect(view.state.selection).toBeInstanceOf(NodeSelection)
    expect(pictures(view)[1]).toEqual({ alt: 'the lock', width: 200, height: 100 })
  })
  test('keeps its proportions, or not; what is no size changes nothing', async () => {
    const { view, screen, field } = await beside()
    const set = async (name: string, typed: string) => {
      await userEvent.fill(field(name), typed)
      await userEvent.keyboard('{Enter}')
    }
    await set('Width, cm', '10')
    await expect.poll(() => pictures(view)[0]).toMatchObject({ width: 378, height: 189 })
    await set('Height, cm', '2,5')
    await expect.poll(() => pictures(view)[0]).toMatchObject({ width: 188, height: 94 })
    for (const wrong of ['0', '-3', '600', 'wide', '']) await set('Width, cm', wrong)
    expect(pictures(view)[0]).toMatchObject({ width: 188, height: 94 })
    await screen.getByRole('checkbox', { name: 'Keep its proportions' }).click()
    await set('Width, cm', '10')
    await expect.poll(() => pictures(view)[0]).toMatchObject({ width: 378, height: 94 })
    await screen.getByRole('button', { name: 'As large as it came' }).click()
    await expect.poll(() => pictures(view)[0]).toMatchObject({ width: 300, height: 150 })
    await screen.getByRole('button', { name: 'As wide as the text' }).click()
    await expect.poll(() => pictures(view)[0]).toMatchObject({ width: 602, height: 301 })
    await userEvent.keyboard('{Escape}')
    expect(focused()).not.toBe('What it shows')
  })
  test('takes what was typed when it is closed, and when something else is selected', async () => {
    const { view, closed } = await beside()
    await userEvent.keyboard('Half a w{Escape}')
    await expect.poll(() => pictures(view)[0]!.alt).toBe('Half a w')
    expect(closed()).toBe(1)
  })
  test('is drawn larger by its corner, in proportion, as one change; given up, it is as it was', async () => {
    let changes = 0
    const view = page(() => changes++)
    view.focus()
    const corner = view.dom.querySelector<HTMLElement>('.picture-corner')!
    await expect.poll(() => getComputedStyle(corner).display).toBe('block')
    const drag = (to: number, end: 'pointerup' | 'pointercancel') => {
      const at = (type: string, x: number) =>
        new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: x, clientY: 10, cancelable: true })
      // A pointer of a test is none that can be held.
      corner.setPointerCapture = () => {}
      corner.dispatchEvent(at('pointerdown', 100))
      corner.dispatchEvent(at('pointermove', 100 + to / 2))
      corner.dispatchEvent(at('pointermove', 100 + to))
      corner.dispatchEvent(at(end, 100 + to))
    }
    const before = changes
    drag(60, 'pointerup')
    expect(changes - before).toBe(1)
    expect(pictures(view)[0]).toMatchObject({ width: 260, height: 130 })
    expect(view.state.selection).toBeInstanceOf(NodeSelection)
    drag(-500, 'pointerup')
    expect(pictures(view)[0]).toMatchObject({ width: 12, height: 6 })
    const then = changes
    drag(80, 'pointercancel')
    expect(changes).toBe(then)
    expect(view.dom.querySelector<HTMLImageElement>('.picture img')!.width).toBe(12)
  })
})

describe('a new table', () => {
  const asked = async () => {
    const given: TableSize[] = []
    let closed = 0
    const { screen } = await show(<TableQuestion onInsert={(size) => given.push(size)} onClose={() => closed++} />)
    await expect.element(screen.getByRole('textbox', { name: 'Columns' })).toHaveFocus()
    return { screen, given, closed: () => closed }
  }
  test('is as large as it is said, by keys alone', async () => {
    const { given } = await asked()
    await userEvent.keyboard('5{Tab}12{Tab} {Enter}')
    expect(given).toEqual([{ columns: 5, rows: 12, heads: false }])
  })
  test.each(['0', '41', '-1', '2.5', 'many', ''])('of %s columns is none', async (typed) => {
    const { screen, given } = await asked()
    await userEvent.fill(screen.getByRole('textbox', { name: 'Columns' }), typed)
    await userEvent.keyboard('{Enter}')
    expect(given).toEqual([])
    await expect.element(screen.getByText('Use a number from 1 to 40.')).toBeVisible()
    await expect.element(screen.getByRole('button', { name: 'Insert table' })).toBeDisabled()
  })
  test('stands where the caret is, which is in its first cell then', () => {
    const view = page()
    insertTable({ columns: 2, rows: 3, heads: false })(view.state, view.dispatch, view)
    const table = view.state.doc.children.find(({ type }) => type === nodes.table)!
    expect(table.childCount).toBe(3)
    expect(table.children.map((row) => [row.childCount, row.attrs.header])).toEqual([
      [2, false],
      [2, false],
      [2, false],
    ])
    expect(view.state.selection.$from.node(-1).type).toBe(nodes.table_cell)
    // In a table there is no other one.
    expect(insertTable({ columns: 1, rows: 1, heads: true })(view.state)).toBe(false)
  })
})
