// What a Jaula before this one kept in this browser: a database of its own, whose tabs may still be open and
// never make way. Nothing of it is upgraded; drafts that no page has open are brought over whole, as chains
// of their content, and taken out there when they are on the disk here. An earlier tab that goes on with one
// all the same leaves its later records there, and they are brought over as a draft of their own.
import { type IDBPDatabase, openDB } from 'idb'
import { uuidv7 } from 'uuidv7'
import type { Composition, Reason } from '../../core/contract'
import { beyondOf } from '../../core/recovery/beyond'
import { commonLength, forkId, genesis, type Link } from '../../core/recovery/chain'
import { readEarlierForms, storedRecords } from '../../core/recovery/journal'
import type { SavePlace, StoredDraft, StoredSave } from '../../core/recovery/protocol'
import { beDevice, device, heldDrafts, readRecords } from './device'

interface EarlierDraft {
  id: string
  personId: string
  kind: StoredDraft['kind']
  bornAt: string
  baseVersionId: string | null
  fileId: string | null
  fileName: string | null
  headVersionId: string | null
  savedSeq: number
  journalSeq: number
  lastEditAt: string | null
  opening: string
  beyond: StoredDraft['beyond']
  state: 'open' | 'closed' | 'let go'
  keptUntil: string | null
}
interface EarlierSave {
  key: string
  draftId: string
  personId: string
  seq: number
  at: number
  reason: Reason
  bytes: Uint8Array
  target: (SavePlace & { composition?: Composition }) | 'own file'
}

const earlierName = 'jaula'

async function earlierDatabase(): Promise<IDBPDatabase | null> {
  const known = await indexedDB.databases?.().catch(() => null)
  if (known && !known.some(({ name }) => name === earlierName)) return null
  let made = false
  const database = await openDB(earlierName, undefined, {
    upgrade() {
      made = true
    },
    blocking(_own, _wanted, event) {
      ;(event.target as IDBDatabase).close()
    },
  })
  if (!made && database.objectStoreNames.contains('records')) return database
  database.close()
  if (made) indexedDB.deleteDatabase(earlierName)
  return null
}

/** Brings over what can be; what cannot be now is brought over the next time. */
export async function bringOver(): Promise<void> {
  const earlier = await earlierDatabase()
  if (!earlier) return
  try {
    const id = await earlier.get('device', 'id')
    if (id)
      await beDevice({
        id,
        begun: await earlier.get('device', 'begun'),
        back: await earlier.get('device', 'came back'),
      })
    const held = await heldDrafts()
    const saves = ((await earlier.getAll('saves')) as EarlierSave[]).sort((a, b) => a.at - b.at)
    for (const draft of (await earlier.getAll('drafts')) as EarlierDraft[]) {
      if (held.has(draft.id)) continue
      await bringDraft(
        earlier,
        draft,
        saves.filter(({ draftId }) => draftId === draft.id),
      )
    }
  } finally {
    earlier.close()
  }
}

async function bringDraft(earlier: IDBPDatabase, draft: EarlierDraft, waiting: readonly EarlierSave[]): Promise<void> {
  const range = IDBKeyRange.bound([draft.id, 1], [draft.id, Number.MAX_SAFE_INTEGER])
  const { links, damage } = readEarlierForms(
    await earlier.getAll('records', range),
    draft.baseVersionId,
    draft.journalSeq,
  )
  const base = ((await earlier.get('bases', draft.id)) as { bytes: Uint8Array } | undefined)?.bytes ?? null
  const there = await device.draft(draft.id)
  const first = genesis(draft.baseVersionId)
  let common = 0
  let id = draft.id
  if (there) {
    common = commonLength(links, (await readRecords(there)).links)
    if (common < links.length) id = forkId(draft.id, links[common]!.digest)
  }
  const ends = (seq: number) => links[seq - 1]?.digest ?? first
  if (!there || (common < links.length && !(await device.draft(id)))) {
    const row: StoredDraft = {
      id,
      personId: draft.personId,
      kind: draft.kind,
      bornAt: draft.bornAt,
      baseVersionId: draft.baseVersionId,
      fileId: draft.fileId,
      fileName: draft.fileName,
      headVersionId: draft.headVersionId,
      savedSeq: there ? Math.min(draft.savedSeq, common) : draft.savedSeq,
      savedHead: draft.savedSeq > 0 && draft.savedSeq <= links.length ? ends(draft.savedSeq) : null,
      // A journal that is damaged still claims all that it had, so that the gap is told.
      journalSeq: damage ? Math.max(draft.journalSeq, links.length) : links.length,
      head: damage ? first : ends(links.length),
      pointSeq: 0,
      lastEditAt: draft.lastEditAt,
      opening: draft.opening,
      beyond: there ? beyondOf(links.slice(common)) : draft.beyond,
      state: draft.state,
      keptUntil: draft.keptUntil,
      generation: uuidv7(),
      epoch: there ? 1 : 0,
      writerId: uuidv7(),
      claimed: !!there,
      model: null,
      resting: null,
      forkOf: there ? { draftId: draft.id, seq: common } : null,
      endUntold: draft.state !== 'open',
      refused: null,
      pointsOff: false,
    }
    await device.commit({
      expect: [[id, null]],
      drafts: [row],
      ...(base && { bases: [{ draftId: id, bytes: base }] }),
      records: storedRecords(id, links, first),
      saves: waiting.map((save) => saveOf(save, draft, links)),
    })
  }
  // Damaged rows stay where they are: they may be read by somebody yet.
  const done = earlier.transaction(['drafts', 'bases', 'records', 'saves'], 'readwrite', { durability: 'strict' })
  void done.objectStore('drafts').delete(draft.id)
  void done.objectStore('bases').delete(draft.id)
  if (!damage) void done.objectStore('records').delete(range)
  for (const { key } of waiting) void done.objectStore('saves').delete(key)
  await done.done
}

const saveOf = (save: EarlierSave, draft: EarlierDraft, links: readonly Link[]): StoredSave => ({
  key: save.key,
  draftId: save.draftId,
  personId: save.personId,
  order: 0,
  seq: save.seq,
  head: links[save.seq - 1]?.digest ?? null,
  epoch: 0,
  writerId: null,
  base: save.target === 'own file' && draft.headVersionId ? { version: draft.headVersionId } : null,
  at: save.at,
  reason: save.reason,
  bytes: save.bytes,
  target: save.target === 'own file' ? { fileId: draft.fileId, name: draft.fileName } : save.target,
  tries: 0,
  refused: null,
})
