import { baseKeymap, chainCommands, exitCode, toggleMark } from 'prosemirror-commands'
import { dropCursor } from 'prosemirror-dropcursor'
import { gapCursor } from 'prosemirror-gapcursor'
import { closeHistory, history, redo, undo } from 'prosemirror-history'
import { inputRules, smartQuotes, textblockTypeInputRule, wrappingInputRule } from 'prosemirror-inputrules'
import { keydownHandler, keymap } from 'prosemirror-keymap'
import { Fragment, type Node, type ResolvedPos, Slice } from 'prosemirror-model'
import { liftListItem, sinkListItem, splitListItem } from 'prosemirror-schema-list'
import { search } from 'prosemirror-search'
import { type Command, type EditorState, Plugin, Selection, TextSelection } from 'prosemirror-state'
import { columnResizing, goToNextCell, tableEditing } from 'prosemirror-tables'
import { Decoration, DecorationSet } from 'prosemirror-view'
import { deepestList, documentSchema, storableText } from '../../../core/content/document'
import type { Kept } from '../../../core/content/kept'
import { isField } from '../../../core/formats/docx/fields'
import type { StyleLook } from '../../../core/formats/docx/style-looks'
import { t } from '../../words/all'
import { choicesPlugin } from './choices'
import { columnsAsLarge } from './column-widths'
import { asKind, inItsLook, usualKind } from './kinds'

const { nodes, marks } = documentSchema

/** The styles of the file that is written in. */
type Looks = () => readonly StyleLook[]

const listDepth = ($pos: ResolvedPos): number => {
  let depth = 0
  for (let d = $pos.depth; d > 0; d--) if ($pos.node(d).type === nodes.list_item) depth++
  return depth
}
/** Deeper into the list, as far as a file can hold it. */
export const sink: Command = (state, dispatch) =>
  listDepth(state.selection.$from) < deepestList && sinkListItem(nodes.list_item)(state, dispatch)
export const lift: Command = liftListItem(nodes.list_item)

/** A page break after the block that the cursor is in, at the top level. */
export const insertPageBreak: Command = (state, dispatch) => {
  const { $to } = state.selection
  if ($to.depth === 0) return false
  if (dispatch) {
    const at = $to.after(1)
    const tr = state.tr.insert(at, [nodes.page_break.create(), nodes.paragraph.create()])
    dispatch(tr.setSelection(TextSelection.create(tr.doc, at + 2)).scrollIntoView())
  }
  return true
}

const hardBreak: Command = chainCommands(exitCode, (state, dispatch) => {
  dispatch?.(state.tr.replaceSelectionWith(nodes.hard_break.create()).scrollIntoView())
  return true
})

/** Escape was the last key, however long ago: whoever presses Tab now means to leave. */
let escaped = false
const unlessLeaving =
  (command: Command): Command =>
  (state, dispatch, view) =>
    !escaped && command(state, dispatch, view)
export const noteEscape = new Plugin({
  props: {
    handleKeyDown(_view, { key }) {
      if (key !== 'Tab' && key !== 'Shift') escaped = key === 'Escape'
      return false
    },
    handleDOMEvents: {
      blur: () => {
        escaped = false
        return false
      },
    },
  },
})

/** To the beginning or the end of the text, and all up to there with Shift. */
const toEdge =
  (from: 'atStart' | 'atEnd', extend: boolean): Command =>
  (state, dispatch) => {
    const edge = Selection[from](state.doc)
    const selection = extend ? TextSelection.between(state.selection.$anchor, edge.$head) : edge
    dispatch?.(state.tr.setSelection(selection).scrollIntoView())
    return true
  }

/**
 * A key is for where the caret stands. The browser tells of a caret that moved a task later, and keys that wait for a
 * busy page come before that: they would be taken for where it stood, at the beginning of a page perhaps, where there
 * is nothing to take away. So it is asked at each key. The keys that go to the ends of the text go there themselves:
 * a page that is still being drawn would put the caret back where it last knew of it.
 */
export const caretFirst = new Plugin({
  props: {
    handleDOMEvents: {
      keydown(view) {
        if (!view.composing) view.dom.ownerDocument.dispatchEvent(new Event('selectionchange'))
        return false
      },
    },
    handleKeyDown: keydownHandler({
      'Ctrl-Home': toEdge('atStart', false),
      'Ctrl-End': toEdge('atEnd', false),
      'Shift-Ctrl-Home': toEdge('atStart', true),
      'Shift-Ctrl-End': toEdge('atEnd', true),
    }),
  },
})

const keys = (undo: Command, redo: Command, looks: Looks): Record<string, Command> => ({
  'Mod-b': toggleMark(marks.strong),
  'Mod-i': toggleMark(marks.em),
  'Mod-u': toggleMark(marks.underline),
  'Alt-Shift-d': toggleMark(marks.strike),
  'Mod-z': undo,
  'Mod-y': redo,
  'Mod-Shift-z': redo,
  Enter: inItsLook(chainCommands(splitListItem(nodes.list_item), baseKeymap.Enter!)),
  'Shift-Enter': hardBreak,
  'Mod-Enter': insertPageBreak,
  // In a table to the next cell, in a list deeper; elsewhere, and after Escape, out of the document, as everywhere.
  Tab: unlessLeaving(chainCommands(goToNextCell(1), sink)),
  'Shift-Tab': unlessLeaving(chainCommands(goToNextCell(-1), lift)),
  'Alt-Shift-0': asKind(usualKind(0), looks),
  ...Object.fromEntries([1, 2, 3, 4, 5, 6].map((level) => [`Alt-Shift-${level}`, asKind(usualKind(level), looks)])),
})

/** Text that came from outside, without what a file cannot hold. */
function storable(fragment: Fragment, looks: Looks): Fragment {
  const kept: Node[] = []
  fragment.forEach((node) => {
    // A field is one at the edge of a page only; elsewhere it is what it said.
    if (node.type === nodes.kept && isField(node.attrs as Kept)) {
      const { words } = node.attrs as Kept
      if (words) kept.push(documentSchema.text(words, node.marks))
    } else if (!node.isText) kept.push(inKnownStyle(node.copy(storable(node.content, looks)), looks))
    else {
      const text = storableText(node.text!)
      if (text) kept.push(documentSchema.text(text, node.marks))
    }
  })
  return Fragment.fromArray(kept)
}

/** A style of another file is none here. */
function inKnownStyle(node: Node, looks: Looks): Node {
  const { style } = node.attrs
  if (!style || looks().some(({ id, named }) => named && id === style)) return node
  return node.type.create({ ...node.attrs, style: null }, node.content, node.marks)
}

const clean = (looks: Looks) =>
  new Plugin({
    props: {
      transformPasted: (slice) => new Slice(storable(slice.content, looks), slice.openStart, slice.openEnd),
      handleTextInput: (view, from, to, text) => {
        const kept = storableText(text)
        if (kept === text) return false
        view.dispatch(view.state.tr.insertText(kept, from, to))
        return true
      },
    },
  })

export const hint = new Plugin({
  props: {
    decorations({ doc }: EditorState) {
      const only = doc.childCount === 1 ? doc.firstChild! : null
      if (!only || only.type !== nodes.paragraph || only.content.size > 0) return null
      return DecorationSet.create(doc, [
        Decoration.node(0, only.nodeSize, {
          class: 'is-empty-document',
          'data-hint': t('document.begin-to-write-it-is-protected-from'),
        }),
      ])
    },
  },
})

/** An address at the end of a line, with what ends a sentence or a bracket behind it. */
const addressAtEnd =
  /(?:^|[\s(“"])((?:https?:\/\/|www\.)[^\s<>"“”]{3,}|[^\s@<>"“”(),;:]+@[^\s@<>"“”(),;:]+\.[\p{L}]{2,})[.,;:!?…’'”)]*$/u
/** An address that somebody typed is a link once a space comes after it; undone it is text again, with the space. */
const linkWhileTyping = () =>
  new Plugin({
    props: {
      handleTextInput(view, from, to, text) {
        const $from = view.state.doc.resolve(from)
        if (text !== ' ' || from !== to || !$from.parent.inlineContent) return false
        const before = $from.parent.textBetween(0, $from.parentOffset, undefined, '\ufffc')
        const found = addressAtEnd.exec(before)
        if (!found) return false
        // What ends a sentence, and a bracket that is not opened in it, is not a part of it.
        let address = found[1]!.replace(/[.,;:!?…’']+$/u, '')
        if (address.endsWith(')') && !address.includes('(')) address = address.slice(0, -1)
        const start = $from.start() + found.index + found[0].indexOf(found[1]!)
        const end = start + address.length
        const { doc } = view.state
        if (doc.textBetween(start, end) !== address || doc.rangeHasMark(start, end, marks.link)) return false
        const href = /^https?:/i.test(address)
          ? address
          : address.includes('@')
            ? `mailto:${address}`
            : `https://${address}`
        view.dispatch(view.state.tr.insertText(' ', from, to))
        view.dispatch(closeHistory(view.state.tr).addMark(start, end, marks.link.create({ href })))
        return true
      },
    },
  })

/** Everything the document editor is made of, in the order in which keys are offered to it. */
export function documentPlugins(editable: boolean, looks: Looks = () => []): Plugin[] {
  if (!editable) return [search()]
  return [
    caretFirst,
    linkWhileTyping(),
    inputRules({
      rules: [
        ...smartQuotes,
        textblockTypeInputRule(/^(#{1,6})\s$/, nodes.heading, (match) => ({ level: match[1]!.length })),
        wrappingInputRule(/^\s*([-*])\s$/, nodes.bullet_list),
        wrappingInputRule(
          /^(\d{1,4})\.\s$/,
          nodes.ordered_list,
          (match) => ({ start: Number(match[1]) }),
          (match, node) => node.childCount + node.attrs.start === Number(match[1]),
        ),
        wrappingInputRule(/^\s*>\s$/, nodes.blockquote),
      ],
    }),
    noteEscape,
    keymap(keys(undo, redo, looks)),
    keymap(baseKeymap),
    columnsAsLarge,
    columnResizing({ cellMinWidth: 32 }),
    tableEditing(),
    history({ newGroupDelay: 700 }),
    search(),
    dropCursor({ color: 'var(--accent)', width: 2 }),
    gapCursor(),
    clean(looks),
    choicesPlugin(),
    hint,
  ]
}

/** What a file has in its text only: notes, comments and pages that begin (ECMA-376 part 1, §17.10). */
function fitsEdge(fragment: Fragment, looks: Looks): Fragment {
  const kept: Node[] = []
  fragment.forEach((node) => {
    const note = node.type === nodes.kept && /^(?:footnote|endnote|comment)$/.test(node.attrs.kind)
    if (note || node.type === nodes.page_break) return
    if (!node.isText) kept.push(inKnownStyle(node.copy(fitsEdge(node.content, looks)), looks))
    else {
      const text = storableText(node.text!)
      if (text) kept.push(documentSchema.text(text, node.marks))
    }
  })
  return Fragment.fromArray(kept)
}

/** What the editor of a head or a foot is made of: undone is in the document that holds it. */
export function edgePlugins(
  { undo, redo, leave }: Record<'undo' | 'redo' | 'leave', () => boolean>,
  looks: Looks = () => [],
): Plugin[] {
  return [
    caretFirst,
    linkWhileTyping(),
    inputRules({ rules: smartQuotes }),
    keymap({ ...keys(undo, redo, looks), 'Mod-Enter': () => true, Escape: leave }),
    keymap(baseKeymap),
    tableEditing(),
    dropCursor({ color: 'var(--accent)', width: 2 }),
    gapCursor(),
    new Plugin({
      props: {
        transformPasted: (slice) => new Slice(fitsEdge(slice.content, looks), slice.openStart, slice.openEnd),
      },
    }),
  ]
}
