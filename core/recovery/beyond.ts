// How much a draft's records are, counted without carrying any of them out.
import type { Beyond, JournalRecord } from '../contract'
import type { DocumentEdit, WorkbookEdit } from './replay'

export const nothingBeyond: Beyond = { edits: 0, charactersAdded: 0, charactersRemoved: 0, cells: 0 }

/** What an edit adds to the count of a draft's work. */
export function countEdit(beyond: Beyond, edit: unknown): Beyond {
  let { charactersAdded, charactersRemoved, cells } = beyond
  const { steps, ops } = edit as Partial<DocumentEdit & WorkbookEdit>
  for (const step of (steps ?? []) as { from?: number; to?: number; slice?: { content?: unknown[] } }[]) {
    charactersAdded += charactersIn(step.slice?.content)
    if (step.slice !== undefined || !('mark' in step))
      charactersRemoved += Math.max(0, (step.to ?? 0) - (step.from ?? 0))
  }
  for (const op of ops ?? []) cells += op.op === 'cells' ? op.cells.length : 1
  return { edits: beyond.edits + 1, charactersAdded, charactersRemoved, cells }
}

function charactersIn(content: unknown): number {
  if (!Array.isArray(content)) return 0
  let characters = 0
  for (const node of content as { text?: string; content?: unknown }[])
    characters += node.text?.length ?? charactersIn(node.content)
  return characters
}

/** What records add up to, by their texts. */
export const beyondOf = (links: readonly { text: string }[]): Beyond =>
  links.reduce((count, { text }) => countEdit(count, (JSON.parse(text) as JournalRecord).edit), nothingBeyond)
