// All that is known of a draft, from the device's journal and from shared storage. Both are chains: where one
// goes on from the other, the longer one is the work. Where they parted, two wrote; then the worker first makes
// a draft of its own of what only this device has, and the work is what shared storage has.
import type { Beyond, Draft, DraftContent, DraftModel, ForkOf, JournalRecord, Resting } from '../../core/contract'
import { chainOf, commonLength, type Digest, genesis, recordOf } from '../../core/recovery/chain'
import type { Damage } from '../../core/recovery/journal'
import type { StoredDraft } from '../../core/recovery/protocol'
import { call, isAway, Refused } from '../app/call'
import { device, readRecords } from './device'
import { onJournal, tellJournal } from './journal'

export interface Gathered {
  draftId: string
  kind: Draft['kind']
  bornAt: string
  baseVersionId: string | null
  base: Uint8Array | null
  lines: string[]
  records: JournalRecord[]
  /** The first record that could not be read; null when all could. */
  lostFrom: number | null
  from: 'device' | 'shared storage'
  /** What this device keeps of these records; null for nothing. */
  seen: { generation: number; head: Digest } | null
  onDevice: number
  /** The epoch to go on from; null when nobody knows of one. */
  epoch: number | null
  /** Shared storage was asked. */
  asked: boolean
  /** Another device, or another person, has it. */
  stored: StoredDraft | null
  remote: Draft | null
  fileId: string | null
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
  let local: { links: { text: string; digest: Digest }[]; damage: Damage | null } = { links: [], damage: null }
  if (stored) local = await readRecords(stored)
  let content: DraftContent | null = null
  let asked = true
  try {
    content = await call('draft', { params: { draftId } }, { timeout: 8000 })
  } catch (error) {
    if (isAway(error)) asked = false
    else if (!(error instanceof Refused && error.problem.type === 'not-found')) throw error
  }
  if (!stored && !content) return null
  const baseVersionId = stored?.baseVersionId ?? content?.draft.baseVersionId ?? null
  const first = genesis(baseVersionId)
  const mine = chainOf(
    local.links.map(({ text }) => text),
    { seq: 0, digest: first },
  )
  const theirs = chainOf(content?.lines ?? [], { seq: 0, digest: first })
  const common = commonLength(mine, theirs)
  const standing = content?.standing
  const parted = common < Math.min(mine.length, theirs.length) || (stored && standing?.state === 'finished')
  if (stored && content?.draft.mine && parted && !again) {
    await settleHere(draftId)
    return gatherDraft(draftId, true)
  }
  // What could not be parted now is looked at as shared storage has it; what only this device has stays there.
  const fromDevice = stored !== null && !(parted && again) && mine.length >= theirs.length
  const chain = fromDevice ? mine : theirs
  const own = stored && !(parted && again) ? stored : null
  // A number says nothing of what is saved: only a digest of this very chain does.
  const saves = [
    own && { seq: own.savedSeq, head: own.savedHead },
    standing && { seq: standing.savedSeq, head: standing.savedHead },
  ].filter((one) => one !== null && one !== undefined)
  const known = saves
    .filter(({ seq, head }) => seq <= chain.length && (head === null || chain[seq - 1]?.digest === head))
    .sort((a, b) => b.seq - a.seq)[0]
  let base = own ? await device.base(draftId) : null
  if (!base && baseVersionId) base = await call('bytes', { params: { versionId: baseVersionId } })
  const remote = content?.draft ?? null
  const lost = local.damage && chain.length < local.damage.from ? local.damage.from : null
  const behind = remote ? remote.journalSeq - chain.length : 0
  const newest = fromDevice ? own : (remote ?? own)
  return {
    draftId,
    kind: (stored ?? remote!).kind,
    bornAt: (stored ?? remote!).bornAt,
    baseVersionId,
    base,
    lines: chain.map(({ text }) => text),
    records: chain.map(({ text }) => recordOf(text)),
    lostFrom: lost,
    from: fromDevice ? 'device' : 'shared storage',
    seen: own && { generation: own.generation, head: own.head },
    onDevice: own ? Math.min(mine.length, chain.length) : 0,
    epoch: standing?.epoch ?? own?.epoch ?? null,
    asked,
    stored: own,
    remote,
    fileId: remote?.fileId ?? own?.fileId ?? null,
    headVersionId: own?.headVersionId ?? remote?.headVersionId ?? null,
    savedSeq: known?.seq ?? 0,
    savedHead: known?.head ?? null,
    pointSeq: common === theirs.length ? theirs.length : (own?.pointSeq ?? 0),
    lastEditAt: newest?.lastEditAt ?? null,
    opening: newest?.opening ?? '',
    beyond: newest?.beyond ?? { edits: 0, charactersAdded: 0, charactersRemoved: 0, cells: 0 },
    model: own?.model ?? remote?.model ?? null,
    resting: newest?.resting ?? null,
    forkOf: own?.forkOf ?? remote?.forkOf ?? null,
    missing:
      remote?.mine && behind > 0
        ? { edits: behind, deviceName: remote.deviceName }
        : remote?.leftBehind
          ? { edits: remote.leftBehind.edits, deviceName: remote.leftBehind.deviceName }
          : null,
  }
}
