// All that is known of a draft, from the device's journal and from shared storage. Both are chains: where one
// goes on from the other, the longer one is the work. Where they parted, two wrote; then the worker first makes
// a draft of its own of what only this device has, and the work is what shared storage has.
import type { Beyond, Draft, DraftContent, DraftModel, ForkOf, JournalRecord, Resting } from '../../core/contract'
import { type Digest, recordOf } from '../../core/recovery/chain'
import { putTogether } from '../../core/recovery/gathering'
import type { ReadChain } from '../../core/recovery/journal'
import type { StoredDraft } from '../../core/recovery/protocol'
import { call, isAway, Refused } from '../api/call'
import { device, readRecords } from './device'
import { onJournal, tellJournal } from './journal'

/** What is known of a draft by whoever goes on with it. */
export interface Known {
  /** All its records. */
  lines: string[]
  /** What this device keeps of these records, as it was when they were read, and how many; null for nothing. */
  seen: { generation: string; head: Digest } | null
  onDevice: number
  /** The epoch to go on from; null when nobody knows of one. */
  epoch: number | null
  headVersionId: string | null
  savedSeq: number
  savedHead: Digest | null
  pointSeq: number
  lastEditAt: string | null
  opening: string
  beyond: Beyond
  model: DraftModel | null
  resting: Resting | null
  forkOf: ForkOf | null
}

export interface Gathered extends Known {
  draftId: string
  kind: Draft['kind']
  bornAt: string
  baseVersionId: string | null
  base: Uint8Array | null
  records: JournalRecord[]
  /** The first record that could not be read; null when all could. */
  lostFrom: number | null
  from: 'device' | 'shared storage'
  /** Shared storage was asked. */
  asked: boolean
  stored: StoredDraft | null
  remote: Draft | null
  fileId: string | null
  /** Shared storage has fewer records than the newest version of the work: only that version is to be had. */
  behindVersion: boolean
  /** It is finished, as far as is known: what was in it is in a version. */
  over: boolean
  /** Edits that are known to have been made and are not here, and which device has them. */
  missing: { edits: number; deviceName: string } | null
}

/** Has the worker compare a draft with shared storage, and part it where two wrote. Answers when that is done, or soon. */
export function settleHere(draftId: string): Promise<void> {
  return new Promise((resolve) => {
    const done = () => {
      stop()
      clearTimeout(late)
      resolve()
    }
    const late = setTimeout(done, 10_000)
    const stop = onJournal((message) => message.say === 'settled' && message.draftId === draftId && done())
    tellJournal({ do: 'settle', draftId })
  })
}

/** @returns null when neither knows the draft. @throws Refused when its base cannot be had now */
export async function gatherDraft(draftId: string, again = false): Promise<Gathered | null> {
  const stored = (await device.draft(draftId).catch(() => undefined)) ?? null
  const local: ReadChain = stored ? await readRecords(stored) : { links: [], damage: null }
  let content: DraftContent | null = null
  let asked = true
  try {
    content = await call('draft', { params: { draftId } }, { timeout: 8000 })
  } catch (error) {
    if (isAway(error)) asked = false
    else if (!(error instanceof Refused && error.problem.type === 'not-found')) throw error
  }
  if (!stored && !content) return null
  const put = putTogether(stored, local, content, again)
  if (put.parted && content?.draft.mine) {
    await settleHere(draftId)
    return gatherDraft(draftId, true)
  }
  const { chain, baseVersionId } = put
  const own = put.seen && stored
  let base = own ? await device.base(draftId) : null
  if (!base && baseVersionId) base = await call('bytes', { params: { versionId: baseVersionId } })
  const remote = content?.draft ?? null
  const behindVersion = put.from === 'shared storage' && !!remote && remote.savedSeq > chain.length
  const behind = remote ? remote.journalSeq - Math.max(chain.length, remote.savedSeq) : 0
  const newest = put.from === 'device' ? own : (remote ?? own)
  return {
    draftId,
    kind: (stored ?? remote!).kind,
    bornAt: (stored ?? remote!).bornAt,
    baseVersionId,
    base,
    lines: chain.map(({ text }) => text),
    records: chain.map(({ text }) => recordOf(text)),
    lostFrom: put.lostFrom,
    from: put.from,
    seen: put.seen,
    onDevice: put.onDevice,
    epoch: put.epoch,
    asked,
    stored: own,
    remote,
    fileId: remote?.fileId ?? own?.fileId ?? null,
    headVersionId: own?.headVersionId ?? remote?.headVersionId ?? null,
    savedSeq: put.savedSeq,
    savedHead: put.savedHead,
    pointSeq: put.pointSeq,
    lastEditAt: newest?.lastEditAt ?? null,
    opening: newest?.opening ?? '',
    beyond: newest?.beyond ?? { edits: 0, charactersAdded: 0, charactersRemoved: 0, cells: 0 },
    model: own?.model ?? remote?.model ?? null,
    resting: newest?.resting ?? null,
    forkOf: own?.forkOf ?? remote?.forkOf ?? null,
    behindVersion,
    over: put.over,
    missing:
      remote?.mine && behind > 0
        ? { edits: behind, deviceName: remote.deviceName }
        : remote?.leftBehind
          ? { edits: remote.leftBehind.edits, deviceName: remote.leftBehind.deviceName }
          : null,
  }
}
