// Notes and comments beside a real page: written with each letter, left, gone to; what they are about is seen as long as
// they are in the text.
import { history, redo, undo } from 'prosemirror-history'
import { EditorState, TextSelection } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { useState } from 'react'
import { describe, expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { commentRanges } from '../../../core/content/comment-ranges'
import { documentSchema } from '../../../core/content/document'
import type { Passage } from '../../../core/content/passages'
import { newComment, newNote } from '../../../core/formats/note-words'
import { type SignedIn, SignedInContext } from '../../api/signed-in'
import { editorPage } from '../../testing/page'
import { focused, show } from '../../testing/render'
import { keptView, tellsWhatGoes } from '../../views/document/kept'
import { passagesPlugin, showPassages } from '../../views/document/passages'
import { chooseRemark, looseRanges, opensRemarks, remarksIn, sayRemark } from '../../views/document/remarks'
import { RemarksBeside, type Writing } from './remarks-beside'

const { nodes } = documentSchema
const comment = newComment('Ben Marlowe', '2026-10-19T08:30:00Z', ['Since when?'])
const note = newNote('footnote', ['Lock diary.'])

/** A page with a line, a comment behind its second word, and a note at its end. */
function page(changes = new Set<() => void>()) {
  const told: string[] = []
  const doc = nodes.doc.create(null, [
    nodes.paragraph.create(null, [
      documentSchema.text('The gate'),
      nodes.kept.create(comment),
      documentSchema.text(' leaks.'),
      nodes.kept.create(note),
    ]),
  ])
  let opened = 0
  const plugins = [
    opensRemarks(() => opened++),
    looseRanges,
    tellsWhatGoes((sentence) => told.push(sentence)),
    passagesPlugin(),
    history(),
  ]
  const state = EditorState.create({ doc, selection: TextSelection.create(doc, 1), plugins })
  const view: EditorView = editorPage({
    state,
    nodeViews: { kept: keptView(true) },
    dispatchTransaction(transaction) {
      view.updateState(view.state.apply(transaction))
      for (const tell of changes) tell()
    },
  })
  return { view, told, opened: () => opened }
}
const said = ({ state }: EditorView) => remarksIn(state.doc).map(({ kept }) => kept.words)

async function beside() {
  const changes = new Set<() => void>()
  const { view, told } = page(changes)
  const hands = { ask: () => {}, toggle: () => {} }
  function Beside() {
    const [writing, setWriting] = useState<Writing>(null)
    const [asked, setAsked] = useState(0)
    const [shown, setShown] = useState(true)
    hands.ask = () => setAsked((times) => times + 1)
    hands.toggle = () => setShown((now) => !now)
    if (!shown) return null
    return (
      <SignedInContext value={{ person: { name: 'Ida Thornquist' } } as SignedIn}>
        <RemarksBeside
          view={view}
          changes={changes}
          comments
          open={false}
          writing={writing}
          asked={asked}
          onWrite={setWriting}
          onClose={() => setShown(false)}
        />
      </SignedInContext>
    )
  }
  const { screen } = await show(<Beside />)
  await expect.poll(focused).toBe('Write a comment')
  return { view, told, screen, hands }
}

describe('beside the text', () => {
  test('what is typed is in it with each letter, and one that says nothing in the end is none', async () => {
    const { view, told, screen } = await beside()
    await userEvent.keyboard('{Enter}')
    await userEvent.keyboard('Which  gate? ')
    expect(said(view)[0]).toBe('Ida Thornquist: Which gate?')
    // Spaces at the end are there while it is typed.
    await expect.element(screen.getByRole('textbox')).toHaveValue('Which  gate? ')
    await userEvent.keyboard('{Control>}a{/Control}{Backspace}')
    expect(said(view)).toHaveLength(3)
    await userEvent.keyboard('{Escape}')
    expect(said(view)).toEqual(['Ben Marlowe: Since when?', 'Lock diary.'])
    expect(view.state.selection.empty).toBe(true)
    // Nothing that was there went.
    expect(told.filter((sentence) => sentence.includes('Ben Marlowe'))).toEqual([])
  })
  test('another one is gone to from an empty one by the arrows, and it is that one', async () => {
    const { view, screen } = await beside()
    await userEvent.keyboard('{Enter}x{Backspace}')
    screen
      .getByRole('button', { name: /^Ida Thornquist/ })
      .element()
      .focus()
    await userEvent.keyboard('{ArrowDown}{ArrowDown}')
    expect(focused()).toContain('Lock diary.')
    await userEvent.keyboard('{Enter}')
    await expect.element(screen.getByRole('textbox')).toHaveValue('Lock diary.')
    expect(said(view)).toEqual(['Ben Marlowe: Since when?', 'Lock diary.'])
    await expect.element(screen.getByRole('textbox')).toHaveFocus()
    await userEvent.keyboard('{End} Page 4.')
    expect(said(view)[1]).toBe('Lock diary. Page 4.')
  })
  test('an answer comes behind the comment and the answers that it has', async () => {
    const { view, screen } = await beside()
    for (const words of ['In May.', 'In June.']) {
      chooseRemark(view, remarksIn(view.state.doc)[0]!.at)
      const answer = screen.getByRole('button', { name: 'Answer it' })
      await expect.element(answer).toBeVisible()
      answer.element().focus()
      await userEvent.keyboard('{Enter}')
      await expect.element(screen.getByRole('textbox', { name: 'New: Comment' })).toHaveFocus()
      await userEvent.keyboard(words)
    }
    expect(remarksIn(view.state.doc).map(({ kept, answers }) => [kept.words, answers])).toEqual([
      ['Ben Marlowe: Since when?', false],
      ['Ida Thornquist: In May.', true],
      ['Ida Thornquist: In June.', true],
      ['Lock diary.', false],
    ])
  })
  test('what somebody else writes meanwhile before it changes nothing of what is typed', async () => {
    const { view, screen } = await beside()
    await userEvent.keyboard('{Enter}Which')
    view.dispatch(view.state.tr.insertText('Look: ', 1).setMeta('followed', true))
    await userEvent.keyboard(' gate?')
    expect(said(view)).toEqual(['Ida Thornquist: Which gate?', 'Ben Marlowe: Since when?', 'Lock diary.'])
    await expect.element(screen.getByRole('textbox')).toHaveValue('Which gate?')
    expect(view.state.doc.textContent).toBe('Look: The gate leaks.')
  })
  test('asked for again, the keys are in it: at what is selected, or where one is begun', async () => {
    const { view, hands, screen } = await beside()
    view.focus()
    hands.ask()
    await expect.poll(focused).toBe('Write a comment')
    chooseRemark(view, remarksIn(view.state.doc)[1]!.at)
    await expect.element(screen.getByRole('textbox')).toHaveValue('Lock diary.')
    view.focus()
    hands.ask()
    await expect.element(screen.getByRole('textbox')).toHaveFocus()
  })
  test('closed by its tool, too, nothing empty stays, and what is typed next takes nothing away', async () => {
    const { view, hands, screen } = await beside()
    await userEvent.keyboard('{Enter}x{Backspace}')
    expect(said(view)).toHaveLength(3)
    hands.toggle()
    await expect.poll(() => said(view)).toEqual(['Ben Marlowe: Since when?', 'Lock diary.'])
    hands.toggle()
    chooseRemark(view, remarksIn(view.state.doc)[0]!.at)
    await expect.element(screen.getByRole('textbox')).toHaveValue('Since when?')
    hands.toggle()
    await expect.poll(() => view.state.selection.empty).toBe(true)
    view.dispatch(view.state.tr.insertText('!'))
    expect(view.state.doc.textContent).toBe('The gate! leaks.')
    expect(said(view)).toHaveLength(2)
  })
  test('one that is begun right after something was typed is undone alone', async () => {
    const { view } = await beside()
    view.dispatch(view.state.tr.insertText('Now: ', 1))
    await userEvent.keyboard('{Enter}W')
    expect(said(view)).toHaveLength(3)
    undo(view.state, view.dispatch)
    expect(said(view)).toHaveLength(2)
    expect(view.state.doc.textContent).toBe('Now: The gate leaks.')
  })
  test('an undone letter is gone from what is shown, too', async () => {
    const { view, screen } = await beside()
    chooseRemark(view, remarksIn(view.state.doc)[1]!.at)
    await expect.element(screen.getByRole('textbox')).toHaveValue('Lock diary.')
    sayRemark(view, 'Lock book.')
    await expect.element(screen.getByRole('textbox')).toHaveValue('Lock book.')
    undo(view.state, view.dispatch)
    await expect.element(screen.getByRole('textbox')).toHaveValue('Lock diary.')
  })
})

test('Enter on a sign opens it, and in the text it is a new line as ever', () => {
  const { view, opened } = page()
  chooseRemark(view, remarksIn(view.state.doc)[0]!.at)
  view.focus()
  const enter = () => view.someProp('handleKeyDown', (key) => key(view, new KeyboardEvent('keydown', { key: 'Enter' })))
  enter()
  expect(opened()).toBe(1)
  view.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, 3)))
  enter()
  expect(opened()).toBe(1)
})
test('words that a comment is about are marked as long as it is there, said by the file or here', () => {
  const { view } = page()
  const marked = () => [...view.dom.querySelectorAll('mark')].map(({ textContent }) => textContent)
  const passage: Passage = { kind: 'comment', who: 'Ben Marlowe', words: 'Since when?', from: 5, to: 9 }
  showPassages(view, view.state.doc, [passage])
  const { tr, doc } = view.state
  const mine = newComment('Ida Thornquist', '2026-10-20T08:30:00Z', ['Where?'])
  const key = '2026-10-20T08:30:00Z Ida Thornquist'
  tr.insert(doc.content.size - 1, nodes.kept.create(mine)).addMark(
    1,
    4,
    documentSchema.marks.about.create({ comment: key }),
  )
  view.dispatch(tr)
  expect(marked()).toEqual(['The', 'gate'])
  const remove = (words: string, how: string | null = null) => {
    const { at } = remarksIn(view.state.doc).find(({ kept }) => kept.words.includes(words))!
    view.dispatch(view.state.tr.delete(at, at + 1).setMeta('uiEvent', how))
  }
  // Cut and put in elsewhere they are about the same words.
  remove('Since when?', 'cut')
  remove('Where?', 'cut')
  for (const kept of [comment, mine])
    view.dispatch(
      view.state.tr.insert(view.state.doc.content.size - 1, nodes.kept.create(kept)).setMeta('uiEvent', 'paste'),
    )
  expect(marked()).toEqual(['The', 'gate'])
  remove('Since when?')
  expect(marked()).toEqual(['The'])
  remove('Where?')
  expect(marked()).toEqual([])
  expect(commentRanges(view.state.doc, new Set([key]))).toEqual([])
  undo(view.state, view.dispatch)
  expect(marked()).toEqual(['The'])
  undo(view.state, view.dispatch)
  expect(marked()).toEqual(['The', 'gate'])
  redo(view.state, view.dispatch)
  redo(view.state, view.dispatch)
  expect(marked()).toEqual([])
})
