// The pieces of work that Rescue lists: what the server knows of a person's drafts and what this
// device keeps, put together by draft.
import type { Beyond, Draft, Person, Settings } from '../../core/contract'
import { phaseOf } from '../../core/recovery/life'
import type { StoredDraft } from '../../core/recovery/protocol'
import { makeRoom, type RoomPiece } from '../../core/recovery/room'
import { call, isAway } from '../app/call'
import { deviceName } from '../app/device'
import { bytesOf, forgetDraft, heldDrafts, readDrafts, readSaves } from '../workers/journal-store'

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
  /** Where its content can be had from. */
  from: 'device' | 'shared storage'
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
  /** What would be lost with the device; null when nothing is known to be. */
  beyondPoint: { beyond: Beyond | null; since: string | null } | null
}

/** @returns the last edited first, and whether shared storage and this device's journal could be asked */
export async function listPieces(personId: string): Promise<{ pieces: Piece[]; complete: boolean; device: boolean }> {
  const held = await heldDrafts()
  let local: StoredDraft[] = []
  let device = true
  try {
    local = (await readDrafts()).filter((draft) => draft.personId === personId)
  } catch {
    device = false
  }
  let remote: Draft[] = []
  let complete = true
  try {
    remote = await call('drafts', {}, { timeout: 8000 })
  } catch (error) {
    if (!isAway(error)) throw error
    complete = false
  }
  const pieces = new Map<string, Piece>()
  for (const draft of remote) {
    // What this device's journal has is this device's, and whether a page has it open is known exactly.
    const kept = local.find(({ id }) => id === draft.id)
    const ours = kept !== undefined
    const unsaved = Math.max(draft.journalSeq, kept?.journalSeq ?? 0) > Math.max(draft.savedSeq, kept?.savedSeq ?? 0)
    const live = held.has(draft.id) ? 'here' : !ours && draft.heardFrom && draft.state === 'open' ? 'elsewhere' : null
    if (!unsaved && !live) continue
    // Other people's interrupted work is theirs to find; while it is open their managers may help.
    if (!draft.mine && !live) continue
    const seq = Math.max(draft.journalSeq, kept?.journalSeq ?? 0)
    const setAside = draft.state === 'open' && kept ? kept.state : draft.state
    const phase = phaseOf(
      {
        state: setAside,
        journalSeq: seq,
        savedSeq: Math.max(draft.savedSeq, kept?.savedSeq ?? 0),
        live: live !== null,
        keptUntil: draft.keptUntil ?? kept?.keptUntil ?? null,
      },
      new Date().toISOString(),
    )
    if (phase === 'ended') continue
    // Whichever got further tells what is in it.
    const newest = kept && kept.journalSeq >= draft.journalSeq ? kept : draft
    pieces.set(draft.id, {
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
      beyondPoint: seq > draft.pointSeq ? { beyond: draft.unsent, since: draft.pointEditAt ?? draft.bornAt } : null,
      device: ours ? `${draft.deviceName} (this device)` : draft.deviceName,
      from: kept ? 'device' : 'shared storage',
      keptUntil: draft.keptUntil,
      answeredAt: draft.answeredAt,
      pointAt: draft.pointAt,
      state: live ?? (phase === 'set aside' ? (setAside as 'closed' | 'let go') : 'interrupted'),
    })
  }
  for (const draft of local) {
    if (pieces.has(draft.id) || (draft.journalSeq <= draft.savedSeq && !held.has(draft.id))) continue
    // What the server has settled as finished or let go long ago is not listed again from here.
    pieces.set(draft.id, {
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
      beyondPoint: draft.journalSeq > draft.pointSeq ? { beyond: draft.beyond, since: null } : null,
      device: `${deviceName()} (this device)`,
      from: 'device',
      keptUntil: draft.keptUntil,
      answeredAt: null,
      pointAt: null,
      state: held.has(draft.id) ? 'here' : draft.state === 'open' ? 'interrupted' : draft.state,
    })
  }
  const list = [...pieces.values()].sort((a, b) => (b.lastEditAt ?? '').localeCompare(a.lastEditAt ?? ''))
  return { pieces: list, complete, device }
}

/** Takes drafts off this device that hold nothing unsaved, or whose days are over, and makes room where it is short. */
export async function tidyDevice({ id: personId }: Person, settings: Settings): Promise<void> {
  const held = await heldDrafts()
  const waiting = new Set((await readSaves()).map((save) => save.draftId))
  const now = new Date().toISOString()
  for (const draft of await readDrafts()) {
    if (held.has(draft.id) || waiting.has(draft.id)) continue
    if (draft.journalSeq <= draft.savedSeq || (draft.keptUntil && draft.keptUntil < now)) await forgetDraft(draft.id)
  }
  const { going } = makeRoom(await devicePieces(personId), settings.deviceRoom * 1_000_000, settings.goesFirst)
  for (const id of going) if (!waiting.has(id)) await forgetDraft(id)
}

/** A person's drafts on this device with the bytes that they take here. */
async function devicePieces(personId: string): Promise<RoomPiece[]> {
  const held = await heldDrafts()
  const pieces: RoomPiece[] = []
  for (const draft of await readDrafts())
    if (draft.personId === personId)
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
  if (charactersAdded) parts.push(`${charactersAdded.toLocaleString('en')} characters written`)
  if (charactersRemoved) parts.push(`${charactersRemoved.toLocaleString('en')} removed`)
  if (cells) parts.push(`${cells.toLocaleString('en')} ${cells === 1 ? 'cell' : 'cells'} changed`)
  return parts.join(', ') || `${edits} ${edits === 1 ? 'change' : 'changes'}`
}
