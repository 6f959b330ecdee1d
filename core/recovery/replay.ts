// A draft is a base (a version's bytes, decoded, or a blank file) and the journal's records on
// top of it. Replay applies them in order; it is the same code on the device, for recovery
// points and in tests. A record that cannot be applied ends it: what came before is recovered
// and the gap is told, because edits after a lost one would land in the wrong places.
import type { Node } from 'prosemirror-model'
import { Step } from 'prosemirror-transform'
import { documentSchema } from '../content/document'
// Journals have steps of its kind in them.
import '../content/edge-step'
import { readTyped } from '../content/formula-entry'
import { cellAt, type Workbook } from '../content/workbook'
import { applyOp, invertOp, type WorkbookOp } from '../content/workbook-ops'
import type { JournalRecord } from '../contract'

export interface DocumentEdit {
  steps: unknown[]
}

/**
 * `typing` is an entry that is still being typed: no edit yet, but kept, and made one when the
 * work is recovered before the entry was finished or given up.
 */
export interface WorkbookEdit {
  ops: WorkbookOp[]
  typing?: { sheet: number; row: number; column: number; entry: string }
}

export interface Replayed<Model> {
  model: Model
  /** The last record that is in the model; 0 for none. */
  seq: number
  /** The first record that could not be applied, or that is missing. */
  lostFrom: number | null
}

function replay<Model>(
  base: Model,
  records: readonly JournalRecord[],
  apply: (model: Model, edit: unknown, record: JournalRecord) => Model,
): Replayed<Model> {
  let model = base
  let seq = 0
  for (const record of records) {
    if (record.seq <= seq) continue
    if (record.seq !== seq + 1) return { model, seq, lostFrom: seq + 1 }
    try {
      model = apply(model, record.edit, record)
    } catch {
      return { model, seq, lostFrom: record.seq }
    }
    seq = record.seq
  }
  return { model, seq, lostFrom: null }
}

/** @param records in order, from 1; records given twice are passed over */
export function replayDocument(base: Node, records: readonly JournalRecord[]): Replayed<Node> {
  return replay(base, records, (doc, edit) => {
    let next = doc
    for (const json of (edit as DocumentEdit).steps) {
      const result = Step.fromJSON(documentSchema, json).apply(next)
      if (!result.doc) throw new Error(result.failed ?? 'step failed')
      next = result.doc
    }
    return next
  })
}

/** A change and what takes it back. */
export interface UndoStep {
  ops: WorkbookOp[]
  inverse: WorkbookOp[]
}

/** A step that was gone on with. */
export const wentOn = <T extends UndoStep>(step: T, { ops, inverse }: UndoStep): T => ({
  ...step,
  ops: [...step.ops, ...ops],
  inverse: [...inverse, ...step.inverse],
})
/** So many steps can be undone in a spreadsheet. */
export const workbookUndoDepth = 500

/**
 * @param records in order, from 1; records given twice are passed over
 * @returns with what can be undone and redone, the last one last
 */
export function replayWorkbook(
  base: Workbook,
  records: readonly JournalRecord[],
): Replayed<Workbook> & { undo: { done: UndoStep[]; undone: UndoStep[] } } {
  let typing: WorkbookEdit['typing']
  const done: UndoStep[] = []
  let undone: UndoStep[] = []
  const result = replay(base, records, (workbook, edit, { did, begins }) => {
    const { ops } = edit as WorkbookEdit
    typing = (edit as WorkbookEdit).typing
    let next = workbook
    const inverse: WorkbookOp[] = []
    for (const op of ops) {
      if (did !== 'undo' && did !== 'redo') inverse.unshift(...invertOp(next, op))
      next = applyOp(next, op)
    }
    const step = did === 'undo' ? done.pop() : did === 'redo' ? undone.pop() : undefined
    if (step) (did === 'undo' ? undone : done).push(step)
    else if (ops.length && did === undefined) {
      const last = begins === false ? done.pop() : undefined
      done.push(last ? wentOn(last, { ops, inverse }) : { ops, inverse })
      if (done.length > workbookUndoDepth) done.shift()
      undone = []
    }
    return next
  })
  const replayed = { ...result, undo: { done, undone } }
  if (!typing) return replayed
  const { sheet, row, column, entry } = typing
  const cell = readTyped(entry, cellAt(replayed.model.sheets[sheet], row, column))
  return { ...replayed, model: applyOp(replayed.model, { op: 'cells', sheet, cells: [{ row, column, cell }] }) }
}
