// A page as people see it and write on it: its head and foot, the looks of its paragraphs, the numbers of its lists.
import { createRef } from 'react'
import { expect, test } from 'vitest'
import { page as browser, userEvent } from 'vitest/browser'
import { documentSchema } from '../../../core/content/document'
import { edgesOf, type PageEdge, storyOf, wordsAtEdge } from '../../../core/content/edges'
import { replayDocument } from '../../../core/recovery/replay'
import { show } from '../../testing/render'
import { setSize } from '../size'
import type { EdgesDesk } from './edges'
import { KnownFacts } from './facts'
import { DocumentPage, type FileSays } from './page'

const { nodes } = documentSchema
const text = (words: string) => documentSchema.text(words)
const paragraph = (words: string, attrs: object = {}) => nodes.paragraph.create(attrs, words ? text(words) : [])
const story = (words: string) => ({ type: 'doc', content: [paragraph(words).toJSON()] })

/** A page that is written on, and the steps of what is done. */
async function page(
  blocks: Parameters<typeof nodes.doc.create>[1],
  edges: PageEdge[] = [],
  passages: FileSays['passages'] = [],
) {
  const doc = nodes.doc.create({ edges }, blocks)
  const desk = createRef<EdgesDesk>()
  const records: { seq: number; at: number; edit: { steps: unknown[] } }[] = []
  const { screen } = await show(
    <KnownFacts facts={{ name: '2026-10-14_LK07_Inspection', version: 4 }}>
      <DocumentPage
        json={doc.toJSON()}
        editable
        said={{ json: doc.toJSON(), passages }}
        desk={desk}
        onEdit={(edit) => records.push({ seq: records.length + 1, at: 0, edit: { steps: edit.steps as unknown[] } })}
      />
    </KnownFacts>,
  )
  await expect.element(screen.getByRole('textbox', { name: 'Document' })).toBeVisible()
  /** The document with all that was done, as a recovery would make it. */
  const now = () => replayDocument(doc, records as never).model
  const edgeWords = () =>
    Object.fromEntries(edgesOf(now()).map((one) => [`${one.edge} ${one.on}`, wordsAtEdge(storyOf(one))]))
  return { screen, desk, now, edgeWords }
}

test('a column of a table is as wide as the pointer drags it, however large its page is shown', async () => {
  await browser.viewport(1200, 700)
  const cells = ['Lock', 'Level'].map((words) => nodes.table_cell.create({ colwidth: [120] }, paragraph(words)))
  for (const size of [1, 1.5, 0.75]) {
    setSize('text', size)
    const { screen, now } = await page([nodes.table.create({}, nodes.table_row.create({}, cells)), paragraph('After.')])
    const first = () => screen.container.querySelector('td')!
    const { right, top, width } = first().getBoundingClientRect()
    expect(width).toBeCloseTo(120 * size, 0)
    const mouse = (type: string, x: number) =>
      first().dispatchEvent(
        new MouseEvent(type, { bubbles: true, clientX: x, clientY: top + 8, buttons: 1, cancelable: true }),
      )
    mouse('mousemove', right - 2)
    mouse('mousedown', right - 2)
    mouse('mousemove', right + 20)
    mouse('mousemove', right + 58)
    mouse('mouseup', right + 58)
    // The edge is where the pointer left it.
    await expect.poll(() => first().getBoundingClientRect().right).toBeCloseTo(right + 60, -0.5)
    expect(now().firstChild!.firstChild!.firstChild!.attrs.colwidth[0]).toBeCloseTo(120 + 60 / size, -0.5)
    await screen.unmount()
  }
  setSize('text', 1)
})

test('what is read, or written, stays where it is on the screen while its page becomes larger or smaller', async () => {
  await browser.viewport(900, 600)
  setSize('text', 1)
  const lines = Array.from({ length: 120 }, (_, at) => paragraph(`Reading ${at} of the gauge at LK07, below the weir.`))
  const doc = nodes.doc.create({}, lines)
  const { screen } = await show(
    <div style={{ height: 400, overflow: 'auto' }} data-testid="scroller">
      <DocumentPage json={doc.toJSON()} editable />
    </div>,
  )
  const scroller = screen.getByTestId('scroller').element() as HTMLElement
  const written = screen.getByRole('textbox', { name: 'Document' })
  await expect.element(written).toBeVisible()
  const topOf = (at: number) =>
    written.element().querySelectorAll('p')[at]!.getBoundingClientRect().top - scroller.getBoundingClientRect().top
  // Nothing has the keys: what is at the top stays there.
  ;(document.activeElement as HTMLElement | null)?.blur()
  scroller.scrollTop += topOf(50) - 4
  for (const size of [1.5, 2, 0.75, 1]) {
    setSize('text', size)
    await expect.poll(() => topOf(50)).toBeCloseTo(4, -1)
  }
  // The caret stays at its height.
  await userEvent.click(written.element().querySelectorAll('p')[56]!)
  await userEvent.keyboard('{Home}')
  await expect.poll(() => getSelection()?.anchorNode?.textContent).toContain('Reading 56')
  const was = topOf(56)
  expect(was).toBeGreaterThan(60)
  for (const size of [1.75, 3, 0.5, 1]) {
    setSize('text', size)
    await expect.poll(() => Math.abs(topOf(56) - was)).toBeLessThan(12)
  }
  setSize('text', 1)
})

test('a key is for where the caret stands, also before the browser has told that it moved', async () => {
  const { screen, now } = await page([paragraph('Paddles.'), paragraph('Mitre.')])
  const written = screen.getByRole('textbox', { name: 'Document' }).element() as HTMLElement
  written.focus()
  await expect.poll(() => getSelection()?.anchorNode?.textContent).toBe('Paddles.')
  // As where a click and a key are taken from the queue of a page that was busy.
  getSelection()!.collapse(written.querySelectorAll('p')[1]!.firstChild, 'Mitre'.length)
  const key = (name: string, keyCode: number) => {
    const event = new KeyboardEvent('keydown', { key: name, keyCode, bubbles: true, cancelable: true })
    written.dispatchEvent(event)
    return event
  }
  // Left to the browser, which takes the letter away: at the beginning of a page there would be none to take.
  expect(key('Backspace', 8).defaultPrevented).toBe(false)
  key('Enter', 13)
  expect(now().textBetween(0, now().content.size, '|')).toBe('Paddles.|Mitre|.')
})

test('the keys to both ends of the text go there at once, and select up to there with Shift', async () => {
  const { screen, now } = await page([paragraph('Paddles.'), paragraph('Mitre.')])
  const written = screen.getByRole('textbox', { name: 'Document' }).element() as HTMLElement
  written.focus()
  const key = (name: string, shiftKey = false) =>
    written.dispatchEvent(
      new KeyboardEvent('keydown', { key: name, ctrlKey: true, shiftKey, bubbles: true, cancelable: true }),
    )
  key('End')
  await expect.poll(() => getSelection()?.anchorNode?.textContent).toBe('Mitre.')
  await userEvent.keyboard('Last.')
  key('Home')
  await userEvent.keyboard('First. ')
  await expect.poll(() => now().textBetween(0, now().content.size, '|')).toBe('First. Paddles.|Mitre.Last.')
  key('End', true)
  expect(getSelection()!.toString()).toBe('Paddles.\n\nMitre.Last.')
  key('Home')
  key('End', true)
  await userEvent.keyboard('{Delete}')
  await expect.poll(() => now().textContent).toBe('')
})

test('a header is written by keys, has fields that tell the file’s facts, and undo takes it back as it came', async () => {
  const { screen, desk, edgeWords } = await page([paragraph('Paddles.')])
  expect(edgeWords()).toEqual({})
  desk.current!.enter('head')
  const head = screen.getByRole('textbox', { name: 'Page header' })
  await expect.element(head).toHaveFocus()
  await userEvent.keyboard('Canal Trust, ')
  await expect.poll(edgeWords).toEqual({ 'head all': 'Canal Trust,' })
  // Its tools are one step of the Tab key further.
  await userEvent.tab()
  await userEvent.keyboard('{Enter}')
  await screen.getByRole('menuitem', { name: 'File name' }).click()
  await expect.element(head).toHaveTextContent('Canal Trust, 2026-10-14_LK07_Inspection')
  await expect.element(head).toHaveFocus()
  await userEvent.keyboard('{Control>}z{/Control}')
  await expect.element(head).toHaveTextContent(/^Canal Trust,\s*$/)
  await userEvent.keyboard('{Escape}')
  await expect.element(screen.getByRole('textbox', { name: 'Document' })).toHaveFocus()
  await userEvent.keyboard('{Control>}z{/Control}{Control>}z{/Control}')
  await expect.poll(edgeWords).toEqual({})
})

test('the first page has a header of its own as long as somebody wishes it; the others keep theirs', async () => {
  const { screen, desk, edgeWords } = await page(
    [paragraph('Paddles.')],
    [{ edge: 'head', on: 'all', json: story('Trust') }],
  )
  desk.current!.enter('head')
  const head = screen.getByRole('textbox', { name: 'Page header' })
  await expect.element(head).toHaveFocus()
  await screen.getByRole('checkbox', { name: 'Different on the first page' }).click()
  await expect.element(head).toHaveFocus()
  await expect.poll(edgeWords).toEqual({ 'head all': 'Trust', 'head first': 'Trust', 'foot first': '' })
  await userEvent.keyboard('{End} of the title')
  await expect.poll(edgeWords).toMatchObject({ 'head all': 'Trust', 'head first': 'Trust of the title' })
  await screen.getByRole('button', { name: 'Other pages' }).click()
  await expect.element(head).toHaveTextContent(/^Trust$/)
  await screen.getByRole('checkbox', { name: 'Different on the first page' }).click()
  await expect.poll(edgeWords).toEqual({ 'head all': 'Trust' })
})

test('a paragraph stands where it says, and one that is begun behind it stands there too', async () => {
  const look = {
    before: 240,
    left: 720,
    first: -360,
    fill: '#f3e9da',
    borders: { left: { kind: 'double' as const, width: 18, space: 4, color: '#6b4a1f' } },
  }
  const { screen, now } = await page([paragraph('Payable in two halves', { look })])
  const shown = screen.getByText('Payable in two halves').element()
  const style = getComputedStyle(shown)
  expect([style.marginTop, style.marginLeft, style.textIndent]).toEqual(['16px', '48px', '-24px'])
  expect([style.borderLeftStyle, style.borderLeftColor]).toEqual(['double', 'rgb(107, 74, 31)'])
  expect(style.backgroundColor).toBe('rgb(243, 233, 218)')
  document.documentElement.classList.add('dark')
  expect(getComputedStyle(shown).backgroundColor).not.toBe('rgb(243, 233, 218)')
  document.documentElement.classList.remove('dark')
  await screen.getByRole('textbox', { name: 'Document' }).click()
  await userEvent.keyboard('{Control>}{End}{/Control}{Enter}the second later')
  await expect
    .poll(() => now().children.map(({ textContent }) => textContent))
    .toEqual(['Payable in two halves', 'the second later'])
  expect(now().child(1).attrs.look).toEqual(look)
})

test('the items of a list are numbered as their file has them', async () => {
  const list = (number: object | null, ...items: (string | [string, ReturnType<typeof nodes.ordered_list.create>])[]) =>
    nodes.ordered_list.create(
      { number },
      items.map((item) =>
        nodes.list_item.create(null, typeof item === 'string' ? [paragraph(item)] : [paragraph(item[0]), item[1]]),
      ),
    )
  const path = { format: 'decimal', before: '', after: '.', path: true }
  const { screen } = await page([
    list({ format: 'lower-alpha', before: '(', after: ')', path: false }, 'the chamber', 'the crane'),
    list(null, 'One', ['Two', list(path, 'Two, one')]),
  ])
  const marker = (words: string) =>
    getComputedStyle(screen.getByText(words, { exact: true }).element().closest('li')!, '::marker').content
  expect(marker('the crane')).toBe('"(" counter(list-item, lower-alpha) ") "')
  expect(marker('Two, one')).toBe('"" counters(list-item, ".") ". "')
  expect(marker('One')).toBe('normal')
})

test('what was put in while changes were tracked, and what a comment is about, are marked, and follow what is written', async () => {
  const { screen, now } = await page(
    [paragraph('The gate of lock 7 leaks.'), paragraph('Date\tToday')],
    [],
    [
      { kind: 'inserted', from: 10, to: 19, who: 'Priya Nandakumar', when: null },
      { kind: 'comment', from: 5, to: 9, who: 'Ben Marlowe', words: 'Which one?' },
      { kind: 'tabs', from: 27, to: 39, every: 90, stops: [] },
    ],
  )
  const marked = (of: 'ins' | 'mark') => {
    const found = screen.container.querySelector<HTMLElement>(of)
    return [found?.textContent, found?.title]
  }
  expect(marked('ins')).toEqual(['of lock 7', 'Tracked insertion by Priya Nandakumar'])
  expect(marked('mark')).toEqual(['gate', 'Comment by Ben Marlowe: Which one?'])
  await expect.element(screen.getByText('Today')).toHaveStyle({ tabSize: '120px' })
  await screen.getByText('The gate').click()
  await userEvent.keyboard('{Control>}{Home}{/Control}Now: ')
  await expect.poll(() => now().child(0).textContent).toBe('Now: The gate of lock 7 leaks.')
  expect([marked('ins')[0], marked('mark')[0]]).toEqual(['of lock 7', 'gate'])
  // They are no part of the text: undone, there is nothing more to undo.
  // What was written slowly is undone in several steps.
  await expect
    .poll(async () => {
      await userEvent.keyboard('{Control>}z{/Control}')
      return now().child(0).textContent
    })
    .toBe('The gate of lock 7 leaks.')
  expect(marked('ins')[0]).toBe('of lock 7')
})
