// Notes and comments of a text: where they stand, and how one is written, said otherwise or taken out.
import { closeHistory } from 'prosemirror-history'
import type { Node } from 'prosemirror-model'
import { type EditorState, NodeSelection, Plugin, TextSelection, type Transaction } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { keyOfComment, linkAt } from '../../../core/content/comment-ranges'
import { documentSchema } from '../../../core/content/document'
import type { Kept } from '../../../core/content/kept'
import { linesSaid, newComment, newNote, saying } from '../../../core/formats/note-words'
import { odtRemark } from '../../../core/formats/odt/notes'
import { type Remark, remarkOf } from '../../../core/paper/remarks'
import { movesKept, saidAnew, takesKept } from './kept'

export const remarkKinds = ['comment', 'footnote', 'endnote'] as const
export type RemarkKind = (typeof remarkKinds)[number]

export interface RemarkAt {
  at: number
  kind: RemarkKind
  kept: Kept
  /** It comes right behind another comment, which it answers. */
  answers: boolean
}

const isRemark = (node: Node | null | undefined): boolean =>
  node?.type === documentSchema.nodes.kept && (remarkKinds as readonly string[]).includes(node.attrs.kind)
const isComment = (node: Node | null | undefined): boolean => isRemark(node) && node?.attrs.kind === 'comment'
const remarkAt = (at: number, node: Node, before: Node | null | undefined): RemarkAt => ({
  at,
  kind: node.attrs.kind,
  kept: node.attrs as Kept,
  answers: isComment(node) && isComment(before),
})

/** All of a text, in its order. */
export function remarksIn(doc: Node): RemarkAt[] {
  const found: RemarkAt[] = []
  doc.descendants((node, at, parent, index) => {
    if (isRemark(node)) found.push(remarkAt(at, node, index ? parent?.child(index - 1) : null))
  })
  return found
}
/** The one that is selected. */
export function chosenRemark({ selection }: EditorState): RemarkAt | null {
  if (!(selection instanceof NodeSelection) || !isRemark(selection.node)) return null
  return remarkAt(selection.from, selection.node, selection.$from.nodeBefore)
}

/** What it says, a line each; null where it cannot be said otherwise here. */
export const remarkText = ({ kept }: RemarkAt): string | null => linesSaid(kept)?.join('\n') ?? null
/** Who said a comment and when. */
export const whoSaid = ({ kept }: RemarkAt): Remark | null => (kept.kind === 'comment' ? remarkOf(kept) : null)

export function chooseRemark(view: EditorView, at: number): void {
  if (!isRemark(view.state.doc.nodeAt(at))) return
  view.dispatch(view.state.tr.setSelection(NodeSelection.create(view.state.doc, at)).scrollIntoView())
}

/**
 * Writes one behind what is selected, and selects it; a comment is about that.
 * @param who says it @param open its file is of the open standard, which has it otherwise, and comments before their words
 * @returns whether there is a place for it
 */
export function writeRemark(view: EditorView, kind: RemarkKind, who: string, text: string, open = false): boolean {
  const { doc, selection } = view.state
  // One step of undo, however soon after what was typed before.
  const tr = closeHistory(view.state.tr)
  const about = kind === 'comment' && selection instanceof TextSelection && !selection.empty
  const place = about && open ? selection.$from : selection.$to
  if (!place.parent.inlineContent) return false
  const lines = text.split('\n')
  const made = kind === 'comment' ? newComment(who, new Date().toISOString(), lines) : newNote(kind, lines)
  const kept = open ? odtRemark(made, `j${crypto.randomUUID()}`) : made
  const node = documentSchema.nodes.kept.create(kept).mark(linkAt(place))
  if (!place.parent.canReplaceWith(place.index(), place.index(), node.type)) return false
  tr.insert(place.pos, node)
  if (about) {
    const shift = open ? 1 : 0
    const comment = keyOfComment(kept)
    tr.addMark(selection.from + shift, selection.to + shift, documentSchema.marks.about.create({ comment }))
  }
  view.dispatch(tr.setSelection(NodeSelection.create(tr.doc, place.pos)).scrollIntoView())
  return view.state.doc !== doc
}

/** Has the one that is selected say something else. */
export function sayRemark(view: EditorView, text: string): void {
  const one = chosenRemark(view.state)
  const now = one && saying(one.kept, text.split('\n'))
  if (!one || !now || now.xml === one.kept.xml) return
  const tr = view.state.tr.setNodeMarkup(one.at, null, now).setMeta(saidAnew, true)
  view.dispatch(tr.setSelection(NodeSelection.create(tr.doc, one.at)))
}

/** The caret goes behind the one that is selected: what is typed then would be in its place. */
export function passRemark(view: EditorView): void {
  const one = chosenRemark(view.state)
  if (one) view.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, one.at + 1)))
}

/** The caret goes to where an answer to the comment that is selected is written: behind those that are there. */
export function placeAnswer(view: EditorView): void {
  const one = chosenRemark(view.state)
  if (!one) return
  const { doc, tr } = view.state
  let at = one.at + 1
  while (isComment(doc.resolve(at).nodeAfter)) at++
  view.dispatch(tr.setSelection(TextSelection.create(doc, at)))
}

export function removeRemark(view: EditorView): void {
  const one = chosenRemark(view.state)
  if (one)
    view.dispatch(
      closeHistory(view.state.tr)
        .delete(one.at, one.at + 1)
        .scrollIntoView(),
    )
}

/** Where a comment goes, its words are not marked any more. */
export const looseRanges = new Plugin({
  appendTransaction(transactions, _before, after) {
    const loses = (one: Transaction) =>
      takesKept(one) && !one.getMeta(saidAnew) && !one.getMeta('followed') && !movesKept(one)
    if (!transactions.some(loses)) return null
    const { about } = documentSchema.marks
    const there = new Set(remarksIn(after.doc).map(({ kept }) => keyOfComment(kept)))
    const tr = after.tr
    after.doc.descendants((node, at) => {
      for (const mark of node.marks)
        if (mark.type === about && !there.has(mark.attrs.comment)) tr.removeMark(at, at + node.nodeSize, mark)
    })
    return tr.docChanged ? tr : null
  },
})

/** Enter on one that is selected, and a second click, go on to what it says. */
export const opensRemarks = (open: () => void): Plugin =>
  new Plugin({
    props: {
      handleKeyDown(view, { key, shiftKey, ctrlKey, altKey, metaKey }) {
        if (key !== 'Enter' || shiftKey || ctrlKey || altKey || metaKey || !chosenRemark(view.state)) return false
        open()
        return true
      },
      handleDoubleClickOn(_view, _pos, node, _at, _event, direct) {
        if (!direct || !isRemark(node)) return false
        open()
        return true
      },
    },
  })
