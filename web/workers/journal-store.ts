// The on-device journal in IndexedDB. Every commit is strict: it is answered when the bytes are
// on the disk, so that what was confirmed survives a killed browser and a power cut.
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import { uuidv7 } from 'uuidv7'
import type { JournalRecord } from '../../core/contract'
import { type ReadJournal, readJournal, type StoredRecord, storedRecord } from '../../core/recovery/journal'
import type { StoredDraft, StoredSave } from '../../core/recovery/protocol'

interface Schema extends DBSchema {
  drafts: { key: string; value: StoredDraft }
  bases: { key: string; value: { draftId: string; bytes: Uint8Array } }
  records: { key: [string, number]; value: StoredRecord }
  saves: { key: string; value: StoredSave; indexes: { draftId: string } }
  device: { key: 'id' | 'begun' | 'came back'; value: string }
}
export type JournalDatabase = IDBPDatabase<Schema>

let opened: Promise<JournalDatabase> | undefined
export function journalDatabase(): Promise<JournalDatabase> {
  opened ??= openDB<Schema>('jaula', 1, {
    upgrade(database) {
      database.createObjectStore('drafts', { keyPath: 'id' })
      database.createObjectStore('bases', { keyPath: 'draftId' })
      database.createObjectStore('records', { keyPath: ['draftId', 'seq'] })
      database.createObjectStore('device')
      database.createObjectStore('saves', { keyPath: 'key' }).createIndex('draftId', 'draftId')
    },
  }).catch((error) => {
    opened = undefined
    throw error
  })
  return opened
}

const strict = { durability: 'strict' } as const
const recordsOf = (draftId: string, after = 0) =>
  IDBKeyRange.bound([draftId, after + 1], [draftId, Number.MAX_SAFE_INTEGER])

/** Commits records with what the draft says of itself, all or nothing. `base` goes in with a draft's first records. */
export async function commitRecords(
  draft: StoredDraft,
  records: readonly JournalRecord[],
  base: Uint8Array | null,
): Promise<void> {
  const database = await journalDatabase()
  const transaction = database.transaction(['drafts', 'bases', 'records'], 'readwrite', strict)
  if (base) void transaction.objectStore('bases').put({ draftId: draft.id, bytes: base })
  for (const record of records) void transaction.objectStore('records').put(storedRecord(draft.id, record))
  void transaction.objectStore('drafts').put(draft)
  await transaction.done
}

export async function keepDraft(draft: StoredDraft): Promise<void> {
  const transaction = (await journalDatabase()).transaction('drafts', 'readwrite', strict)
  void transaction.store.put(draft)
  await transaction.done
}

export async function forgetDraft(draftId: string): Promise<void> {
  const transaction = (await journalDatabase()).transaction(['drafts', 'bases', 'records'], 'readwrite', strict)
  void transaction.objectStore('drafts').delete(draftId)
  void transaction.objectStore('bases').delete(draftId)
  void transaction.objectStore('records').delete(recordsOf(draftId))
  void transaction.objectStore('records').delete(recordsOf(asideOf(draftId)))
  await transaction.done
}

/** @param until the last record that the draft claims to have */
export async function readRecords(draftId: string, after = 0, until?: number): Promise<ReadJournal> {
  return readJournal(await (await journalDatabase()).getAll('records', recordsOf(draftId, after)), after, until)
}

const asideOf = (draftId: string) => `${draftId} set aside`
/**
 * Sets records after one aside, where they cannot be taken for what follows it: work goes on from
 * there, and what could not be read stays until the draft is forgotten.
 */
export async function setRecordsAside(draftId: string, after: number): Promise<void> {
  const transaction = (await journalDatabase()).transaction('records', 'readwrite', strict)
  for (const row of await transaction.store.getAll(recordsOf(draftId, after)))
    void transaction.store.put({ ...row, draftId: asideOf(draftId) })
  void transaction.store.delete(recordsOf(draftId, after))
  await transaction.done
}

export const readDraft = async (draftId: string): Promise<StoredDraft | undefined> =>
  (await journalDatabase()).get('drafts', draftId)
export const readDrafts = async (): Promise<StoredDraft[]> => (await journalDatabase()).getAll('drafts')
export const readBase = async (draftId: string): Promise<Uint8Array | null> =>
  (await (await journalDatabase()).get('bases', draftId))?.bytes ?? null

/** The bytes that a draft takes on this device: its records, what was set aside of it, and what it began from. */
export async function bytesOf(draftId: string): Promise<number> {
  const database = await journalDatabase()
  let bytes = (await database.get('bases', draftId))?.bytes.byteLength ?? 0
  for (const range of [recordsOf(draftId), recordsOf(asideOf(draftId))])
    for (const record of await database.getAll('records', range)) bytes += JSON.stringify(record).length
  return bytes
}

export async function keepSave(save: StoredSave): Promise<void> {
  const transaction = (await journalDatabase()).transaction('saves', 'readwrite', strict)
  void transaction.store.put(save)
  await transaction.done
}
export const readSaves = async (): Promise<StoredSave[]> =>
  (await (await journalDatabase()).getAll('saves')).sort((a, b) => a.at - b.at)

/** Takes a completed or refused save out, together with what it changed of its draft. */
export async function finishSave(key: string, draft: StoredDraft | undefined): Promise<void> {
  const transaction = (await journalDatabase()).transaction(['saves', 'drafts'], 'readwrite', strict)
  void transaction.objectStore('saves').delete(key)
  if (draft) void transaction.objectStore('drafts').put(draft)
  await transaction.done
}

export const lockName = (draftId: string): string => `jaula-draft-${draftId}`

/** Drafts that a live page of this browser holds. */
export async function heldDrafts(): Promise<Set<string>> {
  const { held = [] } = await navigator.locks.query()
  return new Set(
    held.flatMap((lock) => (lock.name?.startsWith('jaula-draft-') ? [lock.name.slice('jaula-draft-'.length)] : [])),
  )
}

/**
 * This browser's own id, made once. It is kept beside the journal and as durably, so that a killed
 * browser is still the device that its drafts were written on.
 */
export async function deviceId(): Promise<string> {
  const transaction = (await journalDatabase()).transaction('device', 'readwrite', strict)
  let id = await transaction.store.get('id')
  if (!id) {
    id = uuidv7()
    void transaction.store.put(id, 'id')
  }
  await transaction.done
  return id
}

/**
 * Whether this browser has shown that it keeps the journal when it is closed: a later start found what an
 * earlier one left. A private window never shows it.
 * @param sameRun whether this start belongs to the same run of the browser as the one before
 */
export async function cameBack(sameRun: boolean): Promise<boolean> {
  const transaction = (await journalDatabase()).transaction('device', 'readwrite', strict)
  const begun = await transaction.store.get('begun')
  const now = new Date().toISOString()
  if (!begun) void transaction.store.put(now, 'begun')
  else if (!sameRun) void transaction.store.put(now, 'came back')
  const back = (begun && !sameRun) || (await transaction.store.get('came back')) !== undefined
  await transaction.done
  return !!back
}
