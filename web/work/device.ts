// The on-device journal in IndexedDB. Every commit is strict: it is answered when the bytes are on the disk,
// so that what was confirmed survives a killed browser and a power cut. Each one first reads the generations
// of the drafts that it writes, in the same transaction, and is given up when another page has raised one.
//
// It is a database of its own, not the next version of the one that an earlier Jaula had: an upgrade would wait
// for tabs of that Jaula, which do not make way (earlier.ts brings over what is in there).
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import { uuidv7 } from 'uuidv7'
import { readChain, type StoredRecord } from '../../core/recovery/journal'
import { Cleared, type Disk, type DiskChange, Superseded } from '../../core/recovery/ports'
import type { StoredDraft, StoredSave } from '../../core/recovery/protocol'

interface Schema extends DBSchema {
  drafts: { key: string; value: StoredDraft }
  bases: { key: string; value: { draftId: string; bytes: Uint8Array } }
  records: { key: [string, number, string]; value: StoredRecord }
  saves: { key: string; value: StoredSave; indexes: { draftId: string } }
  device: { key: 'id' | 'begun' | 'came back' | 'orders'; value: string | number }
}

export const journalName = 'jaula-journal'

let opened: Promise<IDBPDatabase<Schema>> | undefined
function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>(journalName, 1, {
    upgrade(database) {
      database.createObjectStore('drafts', { keyPath: 'id' })
      database.createObjectStore('bases', { keyPath: 'draftId' })
      database.createObjectStore('records', { keyPath: ['draftId', 'seq', 'digest'] })
      database.createObjectStore('device')
      database.createObjectStore('saves', { keyPath: 'key' }).createIndex('draftId', 'draftId')
    },
    // A newer Jaula in another tab wants to change the journal's form: this one makes way, and opens it anew
    // with its next commit. What it then cannot read it says.
    blocking(_own, _wanted, event) {
      ;(event.target as IDBDatabase).close()
      opened = undefined
    },
    terminated() {
      opened = undefined
    },
  }).catch((error) => {
    opened = undefined
    throw error
  })
  return opened
}

const strict = { durability: 'strict' } as const
const recordsOf = (draftId: string) => IDBKeyRange.bound([draftId], [draftId, []])

async function commit({
  expect,
  drafts = [],
  bases = [],
  records = [],
  forget = [],
  saves = [],
  endSaves = [],
}: DiskChange): Promise<void> {
  const transaction = (await database()).transaction(
    ['drafts', 'bases', 'records', 'saves', 'device'],
    'readwrite',
    strict,
  )
  const done = transaction.done.catch((error) => error as unknown)
  const stores = {
    drafts: transaction.objectStore('drafts'),
    bases: transaction.objectStore('bases'),
    records: transaction.objectStore('records'),
    saves: transaction.objectStore('saves'),
    device: transaction.objectStore('device'),
  }
  for (const [id, generation, head] of expect) {
    const there = await stores.drafts.get(id)
    if ((there?.generation ?? null) === generation && (!there || !head || there.head === head)) continue
    transaction.abort()
    await done
    throw there ? new Superseded() : new Cleared()
  }
  const wrong = (error: unknown) => error
  const writes: Promise<unknown>[] = []
  try {
    for (const id of forget) {
      writes.push(stores.drafts.delete(id), stores.bases.delete(id), stores.records.delete(recordsOf(id)))
    }
    for (const draft of drafts) writes.push(stores.drafts.put(draft))
    for (const base of bases) writes.push(stores.bases.put(base))
    for (const record of records) writes.push(stores.records.put(record))
    for (const key of endSaves) writes.push(stores.saves.delete(key))
    if (saves.length) {
      let order = Number((await stores.device.get('orders')) ?? 0)
      for (const save of saves) writes.push(stores.saves.put(save.order ? save : { ...save, order: ++order }))
      writes.push(stores.device.put(order, 'orders'))
    }
  } catch (error) {
    // What cannot even be asked for does not end the transaction by itself: what was asked before it would stay.
    for (const write of writes) write.catch(wrong)
    transaction.abort()
    await done
    throw error
  }
  // A write that fails ends the transaction, whose own error says why.
  for (const write of writes) write.catch(wrong)
  const failed = await done
  if (failed !== undefined) throw failed
}

/** What this browser keeps, as the keeper asks for it. */
export const device: Disk = {
  deviceId,
  draft: async (id) => (await database()).get('drafts', id),
  drafts: async () => (await database()).getAll('drafts'),
  rows: async (draftId) => (await database()).getAll('records', recordsOf(draftId)),
  base: async (draftId) => (await (await database()).get('bases', draftId))?.bytes ?? null,
  saves: async () => (await (await database()).getAll('saves')).sort((a, b) => a.order - b.order),
  commit,
}

/** The records of a draft on this device, in order, and where reading ended before its end. */
export const readRecords = async (row: StoredDraft) =>
  readChain(await device.rows(row.id), row.baseVersionId, { seq: row.journalSeq, digest: row.head })

/** Takes a draft off this device, with everything of it. Only for what a person or shared storage has settled. */
export const forgetDraft = (draftId: string): Promise<void> => commit({ expect: [], forget: [draftId] })

/** The bytes that a draft takes on this device: its records and what it began from. */
export async function bytesOf(draftId: string): Promise<number> {
  const base = await device.base(draftId)
  const rows = (await device.rows(draftId)) as StoredRecord[]
  return rows.reduce((sum, { text }) => sum + text.length + 200, base?.byteLength ?? 0)
}

export const lockName = (draftId: string): string => `jaula-draft-${draftId}`

/** Drafts that a live page of this browser holds. Without locks (a page without TLS) none is known to be. */
export async function heldDrafts(): Promise<Set<string>> {
  const { held = [] } = (await navigator.locks?.query()) ?? {}
  return new Set(
    held.flatMap((lock) => (lock.name?.startsWith('jaula-draft-') ? [lock.name.slice('jaula-draft-'.length)] : [])),
  )
}

/** Takes a draft's lock until released; null when another live page keeps it. @param force take it from that page */
export function holdDraft(draftId: string, force: boolean): Promise<(() => void) | null> {
  if (!navigator.locks) return Promise.resolve(() => {})
  return new Promise((resolve) => {
    const until = () => new Promise<void>((release) => resolve(() => release()))
    // A page that just ended may still be giving its lock back.
    const options = force ? { steal: true } : { signal: AbortSignal.timeout(3000) }
    navigator.locks.request(lockName(draftId), options, until).catch(() => resolve(null))
  })
}

/**
 * This browser's own id, made once. It is kept beside the journal and as durably, so that a killed
 * browser is still the device that its drafts were written on.
 */
export async function deviceId(): Promise<string> {
  const transaction = (await database()).transaction('device', 'readwrite', strict)
  let id = await transaction.store.get('id')
  if (!id) {
    id = uuidv7()
    void transaction.store.put(id, 'id')
  }
  await transaction.done
  return String(id)
}

/** Takes over what an earlier Jaula called this browser; only where it has no name yet. */
export async function beDevice(facts: { id: string; begun?: string; back?: string }): Promise<void> {
  const transaction = (await database()).transaction('device', 'readwrite', strict)
  if (!(await transaction.store.get('id'))) {
    void transaction.store.put(facts.id, 'id')
    if (facts.begun) void transaction.store.put(facts.begun, 'begun')
    if (facts.back) void transaction.store.put(facts.back, 'came back')
  }
  await transaction.done
}

/**
 * Whether this browser has shown that it keeps the journal when it is closed: a later start found what an
 * earlier one left. A private window never shows it.
 * @param sameRun whether this start belongs to the same run of the browser as the one before
 */
export async function cameBack(sameRun: boolean): Promise<boolean> {
  const transaction = (await database()).transaction('device', 'readwrite', strict)
  const begun = await transaction.store.get('begun')
  const now = new Date().toISOString()
  if (!begun) void transaction.store.put(now, 'begun')
  else if (!sameRun) void transaction.store.put(now, 'came back')
  const back = (begun && !sameRun) || (await transaction.store.get('came back')) !== undefined
  await transaction.done
  return !!back
}

/** A draft's records after one, as they are on this device now. */
export async function recordsAfter(draftId: string, after: number): Promise<StoredRecord[]> {
  return (await database()).getAll('records', IDBKeyRange.bound([draftId, after + 1], [draftId, []]))
}
