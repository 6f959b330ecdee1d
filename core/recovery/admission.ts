// Who may write a draft: the server's half of the rule, without a database. A draft has one writer at a
// time. A take-over names the epoch that it saw and raises it by one; whoever writes in an older epoch is
// told what is there now and changes nothing. What an older writer still had becomes a draft of its own
// (chain.ts, forkId), which is that writer's work to make. The caller holds the draft's row locked.
import { type Digest, type Link, linkDigest } from './chain'

/** What the server's row of a draft says about its writing. */
export interface WriterRow {
  /** 0 for a draft that only tabs of a Jaula before epochs wrote. */
  epoch: number
  writerId: string | null
  /** The last record in a recovery point, and its digest. */
  pointSeq: number
  pointHead: Digest
  /** It is whole in a version of its file, as somebody said, here or elsewhere. */
  finished: boolean
}

/** Who sends, as it believes to be. */
export interface Sender {
  epoch: number
  writerId: string
}

/** taken: it is in. gap: records are missing before these. superseded: another one writes now. differs: what is there under the same numbers has other content. */
export type Verdict = 'taken' | 'gap' | 'superseded' | 'differs'

/**
 * What is finished has no writer any more: whoever still has something beyond it makes a draft of its own of that,
 * also when it was finished elsewhere (from Rescue), without another writer.
 */
const isWriter = (row: WriterRow, sender: Sender) =>
  !row.finished && row.epoch === sender.epoch && row.writerId === sender.writerId

/** Whether a sign of life, a save or a closing comes from the draft's writer. */
export const mayWrite = (row: WriterRow, sender: Sender): boolean => isWriter(row, sender)

/** The epoch that a take-over gets, or null when another one was first. Asking twice gives the same epoch. */
export function takeOver(
  row: Pick<WriterRow, 'epoch' | 'writerId' | 'finished'>,
  asked: { from: number; writerId: string },
): number | null {
  if (row.finished) return null
  if (row.writerId === asked.writerId) return row.epoch
  return row.epoch === asked.from ? row.epoch + 1 : null
}

/**
 * What records that were sent add to a draft.
 * @param after the record before the first one sent, with its digest by the sender's chain
 */
export function admit(
  row: WriterRow,
  sender: Sender,
  after: { seq: number; digest: Digest },
  lines: readonly string[],
): { verdict: 'taken'; fresh: Link[] } | { verdict: Exclude<Verdict, 'taken'> } {
  if (!isWriter(row, sender)) return { verdict: 'superseded' }
  if (after.seq > row.pointSeq) return { verdict: 'gap' }
  let { seq, digest } = after
  if (seq === row.pointSeq && digest !== row.pointHead) return { verdict: 'differs' }
  const fresh: Link[] = []
  for (const text of lines) {
    seq++
    digest = linkDigest(digest, text)
    if (seq === row.pointSeq && digest !== row.pointHead) return { verdict: 'differs' }
    if (seq > row.pointSeq) fresh.push({ seq, text, digest })
  }
  return { verdict: 'taken', fresh }
}
