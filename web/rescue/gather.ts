// All that is known of a draft, from the device's journal and from shared storage, with the
// records of whichever got further.
import type { Draft, JournalRecord } from '../../core/contract'
import type { StoredDraft } from '../../core/recovery/protocol'
import { call, isAway, Refused } from '../app/call'
import { readBase, readDraft, readRecords } from '../workers/journal-store'

export interface Gathered {
  draftId: string
  kind: Draft['kind']
  bornAt: string
  baseVersionId: string | null
  base: Uint8Array | null
  records: JournalRecord[]
  from: 'device' | 'shared storage'
  stored: StoredDraft | null
  remote: Draft | null
  fileId: string | null
  savedSeq: number
  pointSeq: number
  lastEditAt: string | null
}

/** @returns null when neither knows the draft. @throws Refused when its base cannot be had now */
export async function gatherDraft(draftId: string): Promise<Gathered | null> {
  const stored = (await readDraft(draftId).catch(() => undefined)) ?? null
  const local = stored ? await readRecords(draftId) : []
  let remote: { draft: Draft; records: JournalRecord[] } | null = null
  try {
    remote = await call('draft', { params: { draftId } }, { timeout: 8000 })
  } catch (error) {
    if (!isAway(error) && !(error instanceof Refused && error.problem.type === 'not-found')) throw error
  }
  if (!stored && !remote) return null
  const localSeq = local.at(-1)?.seq ?? 0
  const remoteSeq = remote?.records.at(-1)?.seq ?? 0
  const device = stored !== null && localSeq >= remoteSeq
  const baseVersionId = stored?.baseVersionId ?? remote?.draft.baseVersionId ?? null
  let base = stored ? await readBase(draftId) : null
  if (!base && baseVersionId) base = await call('bytes', { params: { versionId: baseVersionId } })
  return {
    draftId,
    kind: (stored ?? remote!.draft).kind,
    bornAt: (stored ?? remote!.draft).bornAt,
    baseVersionId,
    base,
    records: device ? local : remote!.records,
    from: device ? 'device' : 'shared storage',
    stored,
    remote: remote?.draft ?? null,
    fileId: remote?.draft.fileId ?? stored?.fileId ?? null,
    savedSeq: Math.max(stored?.savedSeq ?? 0, remote?.draft.savedSeq ?? 0),
    pointSeq: remote?.draft.pointSeq ?? stored?.pointSeq ?? 0,
    lastEditAt: (device ? stored?.lastEditAt : remote?.draft.lastEditAt) ?? null,
  }
}
