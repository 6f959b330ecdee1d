// Undo outlives a crash: the journal says of each record whether it began a step of undo, and which records
// were undo and redo themselves. Replaying the end of the journal through the editor's own history gives that
// history back. How much of the end that takes is found here, without the editor.
import type { JournalRecord } from '../contract'

/** What a page has to replay itself: so many steps of undo can be had back at least. */
export const undoDepth = 100

/**
 * The first record that has to go through the editor's history for its last steps to be as they were.
 * @returns its number; one past the end when there is nothing to undo or to redo
 */
export function undoFrom(records: readonly JournalRecord[], depth = undoDepth): number {
  // Each step of undo by its first record; and which step each undo and redo took or gave back, by record.
  const done: number[] = []
  let undone: number[] = []
  const touched: [at: number, first: number][] = []
  for (const { seq, did, begins } of records) {
    const step = did === 'undo' ? done.pop() : did === 'redo' ? undone.pop() : undefined
    if (did === 'undo' || did === 'redo') {
      if (step === undefined) continue
      touched.push([seq, step])
      ;(did === 'undo' ? undone : done).push(step)
    } else if (did === undefined) {
      if (begins !== false || done.length === 0) done.push(seq)
      undone = []
    }
  }
  let from = Math.min(...done.slice(-depth), ...undone, (records.at(-1)?.seq ?? 0) + 1)
  // An undo within that stretch may take back a step that began before it.
  for (let before = Number.POSITIVE_INFINITY; from < before; ) {
    before = from
    for (const [at, first] of touched) if (at >= from) from = Math.min(from, first)
  }
  return from
}
