// What the keys and tools do to a document, and how undo's steps are had back, without a browser.
import fc from 'fast-check'
import { closeHistory, history, redo, redoDepth, undo, undoDepth } from 'prosemirror-history'
import type { Node } from 'prosemirror-model'
import { type Command, EditorState, NodeSelection, TextSelection, type Transaction } from 'prosemirror-state'
import { CellSelection } from 'prosemirror-tables'
import { DocAttrStep, Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { deepestList, documentSchema } from '../../../core/content/document'
import { anyDocument } from '../../../core/content/document.arbitrary'
import { EdgeStep } from '../../../core/content/edge-step'
import { blankStory, type EdgeName, edgeOf, edgesOf, storyOf, withEdges } from '../../../core/content/edges'
import type { JournalRecord } from '../../../core/contract'
import { readDocx } from '../../../core/formats/docx/read'
import type { StyleLook } from '../../../core/formats/docx/style-looks'
import { writeDocx } from '../../../core/formats/docx/write'
import { toolState } from '../../editor/document/tools'
import { choicesPlugin } from './choices'
import { asKind, type Kind, kindOfLook, usualKind } from './kinds'
import { documentPlugins, insertPageBreak, lift, sink } from './plugins'
import { atRest, besideMeta, howOf, Phrases, restingOf, throughHistory, UndoSteps } from './undo'

const { nodes, marks } = documentSchema
const p = (text: string) => nodes.paragraph.create(null, text ? documentSchema.text(text) : [])
const item = (...blocks: Node[]) => nodes.list_item.create(null, blocks)
const doc = (...blocks: Node[]) => nodes.doc.create(null, blocks)
const table = (...rows: string[][]) =>
  nodes.table.create(
    null,
    rows.map((cells) =>
      nodes.table_row.create(
        null,
        cells.map((text) => nodes.table_cell.create(null, [p(text)])),
      ),
    ),
  )
/** A state with the cursor after the first occurrence of a text. */
function at(document: Node, text: string): EditorState {
  let place = -1
  document.descendants((node, pos) => {
    const found = node.isText ? node.text!.indexOf(text) : -1
    if (place < 0 && found >= 0) place = pos + found + text.length
    return place < 0
  })
  const state = EditorState.create({ doc: document, plugins: documentPlugins(true) })
  return place < 0 ? state : state.apply(state.tr.setSelection(TextSelection.create(document, place)))
}
/** The state after a command; null where it does not apply. */
function done(state: EditorState, command: Command): EditorState | null {
  let next: EditorState | null = null
  const does = command(state, (transaction) => {
    next = state.apply(transaction)
  })
  expect(does).toBe(next !== null)
  return next
}
/** Presses a key as the editor's plugins answer it. */
function press(state: EditorState, key: string, modifiers: Partial<KeyboardEvent> = {}): EditorState {
  let now = state
  const view = {
    state,
    dispatch: (transaction: Transaction) => (now = now.apply(transaction)),
    endOfTextblock: () => true,
  }
  const event = { key, keyCode: 0, shiftKey: false, ctrlKey: false, altKey: false, metaKey: false, ...modifiers }
  for (const plugin of state.plugins)
    if (plugin.props.handleKeyDown?.call(plugin, view as never, event as never)) return now
  return now
}

describe('lists', () => {
  test('go as deep as a file can hold them and no deeper, and come out again', () => {
    let state = at(doc(nodes.bullet_list.create(null, [item(p('Gate')), item(p('Sill'))])), 'Sill')
    let depth = 1
    for (let next = done(state, sink); next; next = done(state, sink)) {
      state = next
      depth++
      expect(depth).toBeLessThanOrEqual(deepestList)
      // Each level needs an item above it to hang under.
      const at = state.selection.$from.before(-1)
      state = state.apply(state.tr.insert(at, item(p('between'))))
    }
    expect(depth).toBe(deepestList)
    expect(readDocx(writeDocx(state.doc)).doc.eq(state.doc)).toBe(true)
    for (let level = depth; level > 0; level--) state = done(state, lift)!
    expect(state.selection.$from.depth).toBe(1)
    expect(done(state, lift)).toBeNull()
  })

  test('Tab goes deeper in a list and to the next cell in a table; after Escape it leaves', () => {
    const list = at(doc(nodes.bullet_list.create(null, [item(p('Gate')), item(p('Sill'))])), 'Sill')
    expect(press(list, 'Tab').doc.eq(list.doc)).toBe(false)
    press(list, 'Escape')
    expect(press(list, 'Tab').doc.eq(list.doc)).toBe(true)
    press(list, 'a')
    const cells = at(doc(table(['Lock', 'Level'], ['LK07', '2.10'])), 'Lock')
    const next = press(cells, 'Tab')
    expect(next.doc.eq(cells.doc)).toBe(true)
    expect(next.selection.$from.parent.textContent).toBe('Level')
    const back = press(next, 'Tab', { shiftKey: true })
    expect(back.selection.$from.parent.textContent).toBe('Lock')
    const plain = at(doc(p('A paragraph')), 'A')
    expect(press(plain, 'Tab').doc.eq(plain.doc)).toBe(true)
  })
})

describe('a new page', () => {
  test('begins after the whole block that the cursor is in, and undo takes it back', () => {
    const blocks = [
      p('Before'),
      nodes.bullet_list.create(null, [item(p('Gate'))]),
      table(['Lock', 'Level']),
      p('After'),
    ]
    for (const [text, index] of [
      ['Before', 0],
      ['Gate', 1],
      ['Level', 2],
      ['After', 3],
    ] as const) {
      const state = at(doc(...blocks), text)
      const next = done(state, insertPageBreak)!
      next.doc.check()
      expect(next.doc.child(index + 1).type).toBe(nodes.page_break)
      expect(next.doc.child(index + 2).eq(p(''))).toBe(true)
      expect(next.selection.$from.index(0)).toBe(index + 2)
      expect(done(next, undo)!.doc.eq(state.doc)).toBe(true)
    }
  })
})

describe('the tools', () => {
  test('show what the cursor stands in', () => {
    const bold = documentSchema.text('firm', [
      marks.strong.create(),
      marks.link.create({ href: 'https://example.org/' }),
    ])
    const document = doc(
      nodes.heading.create({ level: 2 }, documentSchema.text('Findings')),
      nodes.blockquote.create(null, [p('They say')]),
      nodes.paragraph.create({ align: 'center' }, [documentSchema.text('It is '), bold, documentSchema.text(' now')]),
      nodes.ordered_list.create({ start: 1 }, [item(p('first'))]),
      table(['cell']),
    )
    expect(toolState(at(document, 'Find'))).toMatchObject({ block: 'Heading 2', plain: false, quote: false })
    expect(toolState(at(document, 'They'))).toMatchObject({ block: 'Quote', quote: true })
    expect(toolState(at(document, 'fir'))).toMatchObject({
      block: 'Text',
      plain: true,
      strong: true,
      em: false,
      align: 'center',
      link: 'https://example.org/',
    })
    expect(toolState(at(document, 'first'))).toMatchObject({ list: 'ordered_list', table: false })
    expect(toolState(at(document, 'cell'))).toMatchObject({ list: '', table: true, undo: false })
  })

  test('marks go on with what is typed next, and off again', () => {
    const state = at(doc(p('Gate')), 'Gate')
    const on = press(state, 'b', { ctrlKey: true, keyCode: 66 })
    expect(toolState(on).strong).toBe(true)
    const typed = on.apply(on.tr.insertText(' open'))
    expect(typed.doc.firstChild!.lastChild!.marks).toEqual([marks.strong.create()])
    expect(toolState(press(typed, 'b', { ctrlKey: true, keyCode: 66 })).strong).toBe(false)
  })
})

describe('steps of undo', () => {
  /** Types letter by letter, as the editor does, and notes for each letter how it came about. */
  function write(state: EditorState, text: string, phrases = new Phrases()): { state: EditorState; how: boolean[] } {
    const how: boolean[] = []
    let now = state
    for (const letter of text) {
      const transaction = now.tr.insertText(letter)
      if (phrases.begins(now, transaction)) closeHistory(transaction)
      const next = now.apply(transaction)
      how.push(howOf(transaction, now, next).begins ?? false)
      now = next
    }
    return { state: now, how }
  }
  const empty = () => EditorState.create({ doc: doc(p('')), plugins: [history({ newGroupDelay: 1e9 })] })

  test('end with a sentence or a clause, and with a word where neither comes', () => {
    const { state } = write(empty(), 'The gate leaks. Badly, at the mitre.')
    const steps: string[] = []
    for (let now: EditorState | null = state; now; now = undoDepth(now) ? done(now, undo) : null)
      steps.unshift(now.doc.textContent)
    expect(steps).toEqual(['', 'The gate leaks. ', 'The gate leaks. Badly, ', 'The gate leaks. Badly, at the mitre.'])
    const { state: long } = write(empty(), 'word '.repeat(40))
    expect(undoDepth(long)).toBeGreaterThan(2)
    let now: EditorState = long
    while (undoDepth(now)) {
      now = done(now, undo)!
      expect(now.doc.textContent === '' || / $/.test(now.doc.textContent)).toBe(true)
    }
  })

  test('begin anew where writing turns to deleting', () => {
    const phrases = new Phrases()
    const { state } = write(empty(), 'Gate paddle', phrases)
    const gone = state.tr.delete(state.selection.from - 1, state.selection.from)
    expect(phrases.begins(state, gone)).toBe(true)
  })

  const action = fc.oneof(
    { weight: 6, arbitrary: fc.constantFrom('a', 'gate', '. ', ', ', ' and ', 'Weir') },
    { weight: 2, arbitrary: fc.constant('delete' as const) },
    { weight: 2, arbitrary: fc.constant('undo' as const) },
    { weight: 1, arbitrary: fc.constant('redo' as const) },
    { weight: 1, arbitrary: fc.constant('from elsewhere' as const) },
    {
      weight: 3,
      arbitrary: fc.record({
        name: fc.constantFrom<EdgeName>({ edge: 'head', on: 'all' }, { edge: 'foot', on: 'all' }),
        text: fc.constantFrom('T', 'Trust', 'Page'),
        begins: fc.boolean(),
      }),
    },
    { weight: 2, arbitrary: fc.record({ title: fc.constantFrom('T', 'Trust'), begins: fc.boolean() }) },
  )
  const withBlankEdges = () => {
    const edges = (['head', 'foot'] as const).map((edge) => ({ edge, on: 'all' as const, json: blankStory() }))
    return EditorState.create({ doc: withEdges(empty().doc, edges), plugins: [history({ newGroupDelay: 1e9 })] })
  }
  test('come back as they were when the journal’s records are gone through', () => {
    fc.assert(
      fc.property(fc.array(action, { maxLength: 40 }), (actions) => {
        const undoSteps = new UndoSteps()
        const records: JournalRecord[] = []
        let now = withBlankEdges()
        const take = (transaction: Transaction) => {
          undoSteps.mark(now, transaction)
          const next = now.apply(transaction)
          records.push({
            edit: { steps: transaction.steps.map((step) => step.toJSON()) },
            ...howOf(transaction, now, next),
          } as unknown as JournalRecord)
          now = next
        }
        for (const one of actions) {
          if (one === 'undo' || one === 'redo') (one === 'undo' ? undo : redo)(now, take)
          else if (one === 'from elsewhere') take(now.tr.insertText('!', 1).setMeta('addToHistory', false))
          else if (one === 'delete') {
            const { from } = now.selection
            if (from < 2) continue
            const transaction = now.tr.delete(from - 1, from)
            take(transaction)
          } else if (typeof one === 'object' && 'title' in one) {
            for (const index of one.title.split('').keys()) {
              const about = { title: one.title.slice(0, index + 1) }
              const transaction = now.tr.step(new DocAttrStep('about', about))
              transaction.setMeta(besideMeta, { begins: one.begins && index === 0 })
              take(transaction)
            }
          } else if (typeof one === 'object') {
            const { name, text, begins } = one
            for (const [index, letter] of [...text].entries()) {
              const end = storyOf(edgeOf(edgesOf(now.doc), name)!).content.size - 1
              const inner = new Transform(storyOf(edgeOf(edgesOf(now.doc), name)!)).insert(
                end,
                documentSchema.text(letter),
              )
              const transaction = now.tr.step(new EdgeStep(name, inner.steps[0]!))
              transaction.setMeta(besideMeta, { begins: begins && index === 0 })
              take(transaction)
            }
          } else
            for (const letter of one) {
              const transaction = now.tr.insertText(letter)
              take(transaction)
            }
        }
        let back = throughHistory(withBlankEdges(), records)
        expect(back.doc.eq(now.doc)).toBe(true)
        expect([undoDepth(back), redoDepth(back)]).toEqual([undoDepth(now), redoDepth(now)])
        // Undo goes the same way back, step by step.
        while (undoDepth(now)) {
          now = done(now, undo)!
          back = done(back, undo)!
          expect(back.doc.toJSON()).toEqual(now.doc.toJSON())
        }
      }),
      { numRuns: 150 },
    )
  })
})

describe('what a paragraph is', () => {
  const look = (id: string, heading: number, own: string[]): StyleLook => ({
    id,
    name: id,
    heading,
    quote: false,
    named: true,
    usual: false,
    css: {},
    marks: own,
    offered: true,
  })
  const looks = [look('Clause', 0, ['strong']), look('Chapter', 1, []), look('Term', 0, ['em'])]
  const styled = (id: string, text: string, ...own: ('strong' | 'em')[]) =>
    nodes.paragraph.create(
      { style: id },
      documentSchema.text(
        text,
        own.map((name) => marks[name].create()),
      ),
    )
  const as = (state: EditorState, kind: Kind) =>
    done(
      state,
      asKind(kind, () => looks),
    )!

  test('a style takes what the one before gave its words, and gives its own; what somebody made bold stays', () => {
    const state = at(doc(styled('Clause', 'Sluice', 'strong'), p('x')), 'Slu')
    const term = as(state, kindOfLook(looks[2]!)).doc.child(0)
    expect([term.attrs.style, term.firstChild!.marks.map(({ type }) => type.name)]).toEqual(['Term', ['em']])
    const text = as(state, usualKind(0)).doc.child(0)
    expect([text.attrs.style, text.firstChild!.marks]).toEqual([null, []])
    const chapter = as(state, kindOfLook(looks[1]!)).doc.child(0)
    expect([chapter.type.name, chapter.attrs.level, chapter.attrs.style]).toEqual(['heading', 1, 'Chapter'])
    const bold = at(doc(nodes.paragraph.create(null, documentSchema.text('Sluice', [marks.strong.create()]))), 'Slu')
    expect(as(bold, usualKind(2)).doc.child(0).firstChild!.marks).toHaveLength(1)
    // An item of a list is no heading.
    expect(
      done(
        at(doc(nodes.bullet_list.create(null, [item(p('Sluice'))])), 'Slu'),
        asKind(usualKind(1), () => []),
      ),
    ).toBeNull()
  })
  test('Enter goes on in a style, in a list too; what is written goes on in its look', () => {
    for (const document of [
      doc(styled('Clause', 'Sluice', 'strong')),
      doc(nodes.bullet_list.create(null, [item(styled('Clause', 'Sluice', 'strong'))])),
    ]) {
      const now = press(at(document, 'Sluice'), 'Enter')
      const begun = now.selection.$from.parent
      expect([begun.attrs.style, begun.content.size]).toEqual(['Clause', 0])
      expect((now.storedMarks ?? []).map(({ type }) => type.name)).toEqual(['strong'])
    }
  })
})

describe('where the cursor rests', () => {
  test('is had back in any document, and lies in it whatever the numbers are', () => {
    fc.assert(
      fc.property(anyDocument, fc.array(fc.integer({ min: -5, max: 400 }), { maxLength: 3 }), (document, numbers) => {
        const state = EditorState.create({ doc: document })
        const rested = atRest(state, numbers)
        expect(rested.selection.to).toBeLessThanOrEqual(document.content.size)
        const again = atRest(state, restingOf(rested))
        expect(again.selection.eq(rested.selection)).toBe(true)
      }),
      { numRuns: 200 },
    )
  })
  test('cells and images that were selected are selected again', () => {
    const document = doc(table(['a', 'b'], ['c', 'd']), p('x'))
    const state = EditorState.create({ doc: document })
    const cells = CellSelection.create(document, 2, 14)
    const chosen = state.apply(state.tr.setSelection(cells))
    expect(atRest(state, restingOf(chosen)).selection.eq(cells)).toBe(true)
    const whole = NodeSelection.create(document, 0)
    expect(atRest(state, restingOf(state.apply(state.tr.setSelection(whole)))).selection.eq(whole)).toBe(true)
  })
})

test('places to choose move with the text and are gone when they are settled', () => {
  const plugin = choicesPlugin()
  const state = EditorState.create({ doc: doc(p('one two three')), plugins: [plugin] })
  type Open = { id: string; from: number; to: number }[]
  const open = (now: EditorState) => plugin.getState(now) as Open
  const meta = plugin.spec.key as never
  let now = state.apply(
    state.tr.setMeta(meta, { add: [{ id: 'x', from: 5, to: 8, inline: true, mine: [], theirs: [] }] }),
  )
  now = now.apply(now.tr.insertText('and ', 1))
  expect(open(now)).toMatchObject([{ id: 'x', from: 9, to: 12 }])
  // What is written at its edge belongs to it.
  now = now.apply(now.tr.insertText('!', 12))
  expect(now.doc.textBetween(open(now)[0]!.from, open(now)[0]!.to)).toBe('two!')
  now = now.apply(now.tr.setMeta(meta, { settle: 'x' }))
  expect(open(now)).toEqual([])
})
