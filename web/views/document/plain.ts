// The editor of plain text: lines, and nothing that a text cannot hold.
import { baseKeymap, splitBlock } from 'prosemirror-commands'
import { dropCursor } from 'prosemirror-dropcursor'
import { history, redo, undo } from 'prosemirror-history'
import { keymap } from 'prosemirror-keymap'
import { Fragment, type Node, Slice } from 'prosemirror-model'
import { search } from 'prosemirror-search'
import { type Command, Plugin } from 'prosemirror-state'
import { documentSchema } from '../../../core/content/document'
import { choicesPlugin } from './choices'
import { caretFirst, hint, noteEscape } from './plugins'

const { nodes } = documentSchema
const endOfLine = /\r\n|\n|\r/

/** Whether a paragraph is what a line of text is: letters alone. */
function isLine(node: Node): boolean {
  const { align, style, look } = node.attrs
  if (node.type !== nodes.paragraph || align || style || look) return false
  let plain = true
  node.forEach((child) => {
    if (!child.isText || child.marks.length) plain = false
  })
  return plain
}

/** Whether all that a change brought is lines; what stayed is looked at no more. */
function onlyLines(before: Node, now: Node): boolean {
  if (before.attrs.page !== now.attrs.page || now.attrs.edges.length) return false
  let head = 0
  while (head < now.childCount && head < before.childCount && now.child(head) === before.child(head)) head++
  let end = now.childCount
  let old = before.childCount
  while (end > head && old > head && now.child(end - 1) === before.child(old - 1)) {
    end--
    old--
  }
  for (let at = head; at < end; at++) if (!isLine(now.child(at))) return false
  return true
}

const sliceOf = (text: string): Slice => {
  const lines = text
    .split(endOfLine)
    .map((line) => nodes.paragraph.create(null, line ? documentSchema.text(line) : null))
  return new Slice(Fragment.fromArray(lines), 1, 1)
}
const textOf = ({ content }: Slice): string =>
  content.textBetween(0, content.size, '\n', (leaf) => (leaf.type === nodes.hard_break ? '\n' : ''))

/** @param onRefused something was asked for that a text cannot hold */
function textOnly(onRefused: () => void): Plugin {
  return new Plugin({
    filterTransaction(transaction, state) {
      if (!transaction.docChanged || onlyLines(state.doc, transaction.doc)) return true
      onRefused()
      return false
    },
    props: {
      // What a page copied is text here, whatever it looked like there.
      handlePaste(view, event) {
        const text = event.clipboardData?.getData('text/plain')
        if (!text) return false
        view.pasteText(text)
        return true
      },
      clipboardTextParser: (text) => sliceOf(text),
      clipboardTextSerializer: textOf,
      transformPasted: (slice) => sliceOf(textOf(slice)),
    },
  })
}

/** @param onRefused something was asked for that a text cannot hold */
export function plainPlugins(editable: boolean, onRefused: () => void): Plugin[] {
  if (!editable) return [search()]
  const refuse: Command = () => {
    onRefused()
    return true
  }
  return [
    caretFirst,
    noteEscape,
    keymap({
      'Mod-z': undo,
      'Mod-y': redo,
      'Mod-Shift-z': redo,
      'Shift-Enter': splitBlock,
      'Mod-Enter': splitBlock,
      ...Object.fromEntries(['Mod-b', 'Mod-i', 'Mod-u', 'Alt-Shift-d'].map((key) => [key, refuse])),
    }),
    keymap(baseKeymap),
    history({ newGroupDelay: 700 }),
    search(),
    dropCursor({ color: 'var(--accent)', width: 2 }),
    textOnly(onRefused),
    choicesPlugin(),
    hint,
  ]
}
