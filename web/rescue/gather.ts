// All that is known of a draft, from the device's journal and from shared storage, with the
// records of whichever got further.
import type { Draft, DraftContent, JournalRecord } from '../../core/contract'
import { joinJournals, type ReadJournal } from '../../core/recovery/journal'
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
  /** The first record that could not be read; null when all could. */
  lostFrom: number | null
  from: 'device' | 'shared storage'
  /** How far the device's journal says that it goes. */
  deviceSeq: number
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
  const local: ReadJournal = stored ? await readRecords(draftId, 0, stored.journalSeq) : { records: [], damage: null }
  let remote: DraftContent | null = null
  try {
    remote = await call('draft', { params: { draftId } }, { timeout: 8000 })
  } catch (error) {
    if (!isAway(error) && !(error instanceof Refused && error.problem.type === 'not-found')) throw error
  }
  if (!stored && !remote) return null
  const joined = joinJournals(local, remote?.records ?? [])
  const device = stored !== null && local.records.length >= joined.records.length
  const baseVersionId = stored?.baseVersionId ?? remote?.draft.baseVersionId ?? null
  let base = stored ? await readBase(draftId) : null
  if (!base && baseVersionId) base = await call('bytes', { params: { versionId: baseVersionId } })
  return {
    draftId,
    kind: (stored ?? remote!.draft).kind,
    bornAt: (stored ?? remote!.draft).bornAt,
    baseVersionId,
    base,
    records: joined.records,
    lostFrom: joined.damage?.from ?? null,
    from: device ? 'device' : 'shared storage',
    deviceSeq: stored?.journalSeq ?? 0,
    stored: stored && { ...stored, journalSeq: joined.records.length },
    remote: remote?.draft ?? null,
    fileId: remote?.draft.fileId ?? stored?.fileId ?? null,
    savedSeq: Math.max(stored?.savedSeq ?? 0, remote?.draft.savedSeq ?? 0),
    pointSeq: remote?.draft.pointSeq ?? stored?.pointSeq ?? 0,
    lastEditAt: (device ? stored?.lastEditAt : remote?.draft.lastEditAt) ?? null,
  }
}
