// The pieces of work that Rescue lists: what the server knows of a person's drafts and what this device keeps,
// put together by draft. What a piece says of itself is counted from what is known: the last record that any
// device told of, the last one that can be had from here, and whose device has the rest.
import type { Beyond, Draft, ForkOf, Person, Problem, Settings } from '../../core/contract'
import { beyondOf, nothingBeyond } from '../../core/recovery/beyond'
import { phaseOf } from '../../core/recovery/life'
import type { StoredDraft, StoredSave } from '../../core/recovery/protocol'
import { makeRoom, type RoomPiece } from '../../core/recovery/room'
import { call, isAway } from '../api/call'
import { t } from '../words'
import { bytesOf, device, forgetDraft, heldDrafts, readRecords, recordsAfter } from './device'
import { deviceName } from './device-name'

export interface Piece {
  id: string
  kind: Draft['kind']
  bornAt: string
  name: string | null
  where: string[]
  /** The share and folder that its points are kept in while it has no file; null: for its owner only. */
  keptIn: string[] | null
  opening: string
  lastEditAt: string | null
  beyond: Beyond
  device: string
  /** Where its content can be had from; nowhere: only another device has it. */
  from: 'device' | 'shared storage' | 'nowhere'
  /** interrupted: nobody has it open. here, elsewhere: a live page has it. closed, let go: on purpose. */
  state: 'interrupted' | 'here' | 'elsewhere' | 'closed' | 'let go'
  keptUntil: string | null
  answeredAt: string | null
  pointAt: string | null
  /** The last record that is known of it. */
  seq: number
  fileId: string | null
  person: string
  mine: boolean
  page: Draft['page']
  /** What would be lost with the device that has it, as counted at a time; null when nothing is known to be. */
  beyondPoint: { beyond: Beyond | null; since: string | null; at: string | null } | null
  /** Edits that are known to have been made and cannot be had from here, and the device that has them. */
  missing: { edits: number; deviceName: string } | null
  forkOf: ForkOf | null
  pointsOff: boolean
  /** A save of it that shared storage refused for good. */
  refused: { problem: Problem; name: string | null } | null
}

export interface Listed {
  pieces: Piece[]
  /** Copies that shared storage refused for good: their bytes are on this device. */
  copies: StoredSave[]
  /** Whether shared storage could be asked, and this device's journal. */
  complete: boolean
  device: boolean
}

export const askServer = () => call('drafts', {}, { timeout: 8000 })

/**
 * @param drafts what the server knows of the person's drafts
 * @returns the last edited first
 */
export async function listPieces(personId: string, drafts: () => Promise<Draft[]> = askServer): Promise<Listed> {
  const held = await heldDrafts()
  let local: StoredDraft[] = []
  let copies: StoredSave[] = []
  let readable = true
  try {
    local = (await device.drafts()).filter((draft) => draft.personId === personId && draft.state !== 'finished')
    copies = (await device.saves()).filter((save) => save.personId === personId && save.refused)
  } catch {
    readable = false
  }
  let remote: Draft[] = []
  let complete = true
  try {
    remote = await drafts()
  } catch (error) {
    if (!isAway(error)) throw error
    complete = false
  }
  const pieces = new Map<string, Piece>()
  for (const draft of remote) {
    const piece = await bothKnow(
      draft,
      local.find(({ id }) => id === draft.id),
      held.has(draft.id),
    )
    if (piece) pieces.set(draft.id, piece)
  }
  for (const draft of local) {
    if (pieces.has(draft.id) || draft.journalSeq === 0) continue
    if (draft.journalSeq <= draft.savedSeq && !held.has(draft.id)) continue
    pieces.set(draft.id, deviceKnows(draft, held.has(draft.id)))
  }
  const list = [...pieces.values()].sort((a, b) => (b.lastEditAt ?? '').localeCompare(a.lastEditAt ?? ''))
  return { pieces: list, copies, complete, device: readable }
}

async function bothKnow(draft: Draft, kept: StoredDraft | undefined, here: boolean): Promise<Piece | null> {
  const savedSeq = Math.max(draft.savedSeq, kept?.savedSeq ?? 0)
  // What this device's journal has is this device's, and whether a page has it open is known exactly. Another
  // device may have gone on with it since: then the epoch says so, and it is open there.
  const elsewhere = draft.heardFrom && draft.state === 'open' && (!kept || draft.epoch > kept.epoch)
  const live = here ? 'here' : elsewhere ? 'elsewhere' : null
  const seq = Math.max(draft.journalSeq, kept?.journalSeq ?? 0)
  if (seq <= savedSeq && !live) return null
  // Other people's interrupted work is theirs to find; while it is open their managers may help.
  if (!draft.mine && !live) return null
  // What was wished for here and the server does not know yet is newer than what it says.
  const setAside = kept && (draft.state === 'open' || kept.endUntold) ? kept.state : draft.state
  const keptUntil = draft.keptUntil ?? kept?.keptUntil ?? null
  const phase = phaseOf(
    { state: setAside, journalSeq: seq, savedSeq, live: live !== null, keptUntil: draft.keptUntil },
    new Date().toISOString(),
  )
  if (phase === 'ended') return null
  const onDevice = kept?.journalSeq ?? 0
  // Records that are in the version are to be had from there.
  const behindVersion = !kept && draft.pointSeq < draft.savedSeq
  const had = Math.max(onDevice, draft.pointSeq, draft.savedSeq)
  const newest = kept && onDevice >= draft.journalSeq ? kept : draft
  const missing = draft.journalSeq > had ? { edits: draft.journalSeq - had, deviceName: draft.deviceName } : null
  const ahead = kept && onDevice > draft.pointSeq
  return {
    id: draft.id,
    kind: draft.kind,
    bornAt: draft.bornAt,
    name: draft.file?.name ?? null,
    where: draft.file ? [draft.file.share, ...draft.file.folders] : [],
    keptIn: draft.keptIn,
    opening: newest.opening,
    lastEditAt: newest.lastEditAt,
    beyond: newest.beyond,
    seq,
    fileId: draft.fileId,
    person: draft.person.name,
    mine: draft.mine,
    page: draft.page,
    beyondPoint: ahead
      ? { beyond: await unsentOf(kept, draft.pointSeq), since: draft.pointEditAt ?? draft.bornAt, at: null }
      : draft.journalSeq > draft.pointSeq
        ? { beyond: draft.unsent, since: draft.pointEditAt ?? draft.bornAt, at: draft.answeredAt }
        : null,
    device: kept && !elsewhere ? t('work.this-device', { deviceName: deviceName() }) : draft.deviceName,
    from: kept && onDevice > 0 ? 'device' : draft.pointSeq > 0 && !behindVersion ? 'shared storage' : 'nowhere',
    keptUntil,
    answeredAt: draft.answeredAt,
    pointAt: draft.pointAt,
    state: live ?? (phase === 'set aside' ? (setAside as 'closed' | 'let go') : 'interrupted'),
    missing: live
      ? null
      : (missing ?? (draft.leftBehind && { edits: draft.leftBehind.edits, deviceName: draft.leftBehind.deviceName })),
    forkOf: draft.forkOf,
    pointsOff: kept?.pointsOff ?? draft.pointsOff,
    refused: kept?.refused ?? null,
  }
}

const deviceKnows = (draft: StoredDraft, here: boolean): Piece => ({
  id: draft.id,
  kind: draft.kind,
  bornAt: draft.bornAt,
  name: draft.fileName,
  where: [],
  keptIn: null,
  opening: draft.opening,
  lastEditAt: draft.lastEditAt,
  beyond: draft.beyond,
  seq: draft.journalSeq,
  fileId: draft.fileId,
  person: '',
  mine: true,
  // Whether a page answers is known from shared storage only; without it nothing is claimed.
  page: 'silent',
  beyondPoint: draft.journalSeq > draft.pointSeq ? { beyond: draft.beyond, since: null, at: null } : null,
  device: t('work.this-device', { deviceName: deviceName() }),
  from: 'device',
  keptUntil: draft.keptUntil,
  answeredAt: null,
  pointAt: null,
  state: here ? 'here' : draft.state === 'open' || draft.state === 'finished' ? 'interrupted' : draft.state,
  missing: null,
  forkOf: draft.forkOf,
  pointsOff: draft.pointsOff,
  refused: draft.refused,
})

/** What this device has of a draft beyond a record, as its journal counts. */
async function unsentOf(draft: StoredDraft, after: number): Promise<Beyond> {
  return beyondOf(await recordsAfter(draft.id, after)) ?? nothingBeyond
}

/** Makes room on this device where it is short: only what shared storage has, too, and still keeps. */
export async function tidyDevice({ id: personId }: Person, settings: Settings): Promise<void> {
  const waiting = new Set((await device.saves()).map((save) => save.draftId))
  const { going } = makeRoom(await devicePieces(personId), settings.deviceRoom * 1_000_000, settings.goesFirst)
  for (const id of going) {
    const row = await device.draft(id)
    if (!row || waiting.has(id)) continue
    const there = await call('draft', { params: { draftId: id } }).catch(() => null)
    const { links } = await readRecords(row)
    const { standing, lines } = there ?? {}
    if (!standing || standing.over || !lines || lines.length < links.length) continue
    if (links.every(({ text }, index) => lines[index] === text)) await forgetDraft(id)
  }
}

/** A person's drafts on this device with the bytes that they take here. */
async function devicePieces(personId: string): Promise<RoomPiece[]> {
  const held = await heldDrafts()
  const pieces: RoomPiece[] = []
  for (const draft of await device.drafts())
    if (draft.personId === personId && draft.state !== 'finished')
      pieces.push({
        id: draft.id,
        bytes: await bytesOf(draft.id),
        lastEditAt: Date.parse(draft.lastEditAt ?? draft.bornAt),
        setAside: draft.state !== 'open' && !held.has(draft.id),
      })
  return pieces
}

/** What a person's unsaved work takes on this device, and by how much what must stay is over what is allowed; bytes. */
export async function deviceRoom(
  { id }: Person,
  settings: Settings,
): Promise<{ taken: number; pieces: number; over: number }> {
  const pieces = await devicePieces(id)
  const { over } = makeRoom(pieces, settings.deviceRoom * 1_000_000, settings.goesFirst)
  return { taken: pieces.reduce((sum, { bytes }) => sum + bytes, 0), pieces: pieces.length, over }
}

/** What is in a piece beyond its last saved version, in words. */
export function beyondInWords({ charactersAdded, charactersRemoved, cells, edits }: Beyond): string {
  const parts: string[] = []
  if (charactersAdded) parts.push(t('work.characters-written', { n: charactersAdded }))
  if (charactersRemoved) parts.push(t('work.characters-removed', { n: charactersRemoved }))
  if (cells) parts.push(t('work.cells-changed', { n: cells }))
  return parts.join(', ') || t('work.changes', { n: edits })
}
