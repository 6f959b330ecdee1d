// Steps of undo in a document, and how they are had back after a crash. A step is a phrase: a pause, the end of
// a sentence or a clause, a turn from writing to deleting, or enough words begin another one. Each record of the
// journal says whether it began one, so that replaying the records through the same history gives the same steps.
import { closeHistory, isHistoryTransaction, redo, redoDepth, undo, undoDepth } from 'prosemirror-history'
import { type EditorState, NodeSelection, Selection, TextSelection, type Transaction } from 'prosemirror-state'
import { CellSelection } from 'prosemirror-tables'
import { DocAttrStep, Step } from 'prosemirror-transform'
import { documentSchema } from '../../../core/content/document'
import { EdgeStep } from '../../../core/content/edge-step'
import { edgeKey } from '../../../core/content/edges'
import type { JournalRecord } from '../../../core/contract'
import type { DocumentEdit } from '../../../core/recovery/replay'

/** How a change came about, for the journal. */
export type How = Pick<JournalRecord, 'did' | 'begins'>

/** Letters after which a step ends with the word. */
const longest = 60

interface Typed {
  /** What a transaction writes at one place, and how much it takes away. */
  text: string
  removed: number
}
function typedBy(transaction: Transaction): Typed | null {
  if (transaction.steps.length !== 1) return null
  const { from, to, slice } = transaction.steps[0] as unknown as {
    from?: number
    to?: number
    slice?: { content: { textBetween(a: number, b: number): string; size: number } }
  }
  if (from === undefined || to === undefined || !slice) return null
  return { text: slice.content.textBetween(0, slice.content.size), removed: to - from }
}

/** Watches one document being written, and ends a step of undo where a phrase ends. */
export class Phrases {
  private length = 0
  private deleting = false

  /** @param state before the transaction @returns whether it begins another step */
  begins(state: EditorState, transaction: Transaction): boolean {
    const typed = typedBy(transaction)
    if (!typed) return false
    const { text, removed } = typed
    const deleting = text === '' && removed > 0
    const turned = deleting !== this.deleting
    this.deleting = deleting
    if (turned && this.length > 0) {
      this.length = text.length
      return true
    }
    if (deleting || text.length !== 1) {
      this.length += Math.max(text.length, 1)
      return false
    }
    const { $from } = state.selection
    const before = $from.parent.textBetween(Math.max(0, $from.parentOffset - 3), $from.parentOffset, undefined, '￼')
    const begins =
      !/\s/.test(text) && (/[.,;:!?…)]["”’]?\s+$/.test(before) || (this.length > longest && /\s$/.test(before)))
    this.length = begins ? 1 : this.length + 1
    return begins
  }
}

/** Of a change beside the text, as at the edge of a page: whether it begins another step of undo. */
export const besideMeta = 'beside'

/** What beside the text a step changes; null for one in it. */
const besideOf = (step: Step | undefined): string | null =>
  step instanceof EdgeStep ? edgeKey(step.name) : step instanceof DocAttrStep ? step.attr : null
/**
 * Steps beside the text have no place in it, by which what belongs together is known: one that goes on is said to be part
 * of the one before.
 */
function goesOnBeside(transaction: Transaction, before: Transaction | null): boolean {
  const place = besideOf(transaction.steps[0])
  if (place === null || besideOf(before?.steps.at(-1)) !== place) return false
  transaction.setMeta('appendedTransaction', before)
  return true
}

/** Ends steps of undo in a page where they end, in its text and at its edges. */
export class UndoSteps {
  private readonly phrases = new Phrases()
  private last: Transaction | null = null
  /** @param state before the transaction, which is not applied yet */
  mark(state: EditorState, transaction: Transaction): void {
    const beside = transaction.getMeta(besideMeta) as { begins: boolean } | undefined
    const goesOn = beside && !beside.begins && goesOnBeside(transaction, this.last)
    const begins = beside ? !goesOn : transaction.docChanged && this.phrases.begins(state, transaction)
    if (begins) closeHistory(transaction)
    if (transaction.docChanged) this.last = beside ? transaction : null
  }
}

/** How a change came about that took a state to the next one. */
export function howOf(transaction: Transaction, before: EditorState, after: EditorState): How {
  if (isHistoryTransaction(transaction)) return { did: redoDepth(after) < redoDepth(before) ? 'redo' : 'undo' }
  if (transaction.getMeta('addToHistory') === false) return { did: 'taken in' }
  return { begins: undoDepth(after) !== undoDepth(before) }
}

/** Applies records through the editor's history, as they were made. */
export function throughHistory(state: EditorState, records: readonly JournalRecord[]): EditorState {
  let now = state
  let before: Transaction | null = null
  for (const { edit, did, begins } of records) {
    const { steps } = edit as DocumentEdit
    if (!steps.length) continue
    if (did === 'undo' || did === 'redo') {
      let back: Transaction | null = null
      ;(did === 'undo' ? undo : redo)(now, (transaction) => {
        back = transaction
      })
      const same =
        back && JSON.stringify((back as Transaction).steps.map((step) => step.toJSON())) === JSON.stringify(steps)
      if (back && same) {
        now = now.apply(back)
        before = null
        continue
      }
    }
    const transaction = now.tr
    for (const step of steps) transaction.step(Step.fromJSON(documentSchema, step))
    // What was not this page's own doing, and an undo of what is not known here, is not undone here either.
    if (did !== undefined) transaction.setMeta('addToHistory', false)
    else if (begins !== false) closeHistory(transaction)
    else goesOnBeside(transaction, before)
    now = now.apply(transaction)
    before = did === undefined ? transaction : null
  }
  return now
}

const kinds = { text: 0, node: 1, cells: 2 } as const

/** A selection as numbers. */
export function restingOf({ selection }: EditorState): number[] {
  if (selection instanceof CellSelection) return [selection.$anchorCell.pos, selection.$headCell.pos, kinds.cells]
  if (selection instanceof NodeSelection) return [selection.from, selection.to, kinds.node]
  return [selection.anchor, selection.head, kinds.text]
}

/** Puts the selection where it rested; the nearest place where it cannot be. */
export function atRest(state: EditorState, [anchor = 0, head = anchor, kind = 0]: readonly number[]): EditorState {
  const { doc } = state
  const inside = (at: number) => Math.max(0, Math.min(at, doc.content.size))
  try {
    const selection =
      kind === kinds.cells
        ? CellSelection.create(doc, anchor, head)
        : kind === kinds.node
          ? NodeSelection.create(doc, anchor)
          : TextSelection.between(doc.resolve(inside(anchor)), doc.resolve(inside(head)))
    return state.apply(state.tr.setSelection(selection))
  } catch {
    return state.apply(state.tr.setSelection(Selection.near(doc.resolve(inside(head)))))
  }
}
