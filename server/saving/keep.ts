// The one way in. Saving, bringing in and restoring, and every later entrance, come through
// `keepVersion`: bytes, a place or a file, the version they were based on and a key that makes
// a repetition harmless. Either a new version is there with its content, in one transaction,
// or nothing is and the refusal says what is there now.

import { createHash } from 'node:crypto'
import pLimit from 'p-limit'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Composition, Reason, Saved, Version } from '../../core/contract'
import { isReadOtherwise, saidAsText, saidIn, typeReadAs } from '../../core/formats/csv/said'
import { fileType, isCsv, mayGoOnAs, nameAs, typeOfName } from '../../core/formats/types'
import { nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { type Quotas, refuseOver } from '../counts/quotas'
import { EntryRow } from '../files/entity'
import { entryById } from '../files/entries'
import { folderAt } from '../files/folders'
import { acceptName, isNameTaken, nameTaken } from '../files/names'
import { waitedFor } from '../jobs/quiet'
import { noteComposition, takeNumber } from '../naming/counters'
import { absent, Refusal, sqlState } from '../refusal'
import { type Received, receivedHere } from '../requests/upload'
import { requireRole, requireRoleAt, requireRoleIn } from '../rights/service'
import { refuseType } from '../shares/types'
import { execute, select } from '../sql/rows'
import { inOneStatement, inTransaction } from '../sql/transaction'
import { singleBlock, storeContent } from '../storage/content'
import { versionAlone, versionById } from '../versions/read'

export interface Keeping {
  personId: string
  bytes: Buffer | Received
  reason: Reason
  key: string
  /** SHA-256 in hexadecimal that the sender computed, if it did. */
  sha256?: string
  /** When it was made, for the demo data's past; now otherwise. */
  at?: Date
  /** Whatever types the share takes: what an office has is taken over as it is. */
  anyType?: true
  draft?: { id: string; seq: number; epoch: number; writerId: string | null; head: Buffer | null }
  target: { place: NewPlace } | NextOf
}

/** Which file it is the next version of. */
export interface NextOf {
  fileId: string
  baseId: string
  /** The type that the file goes on as. */
  type?: string
  /** How a list was written, as `dialectAsText` says it. */
  writtenAs?: string
}

/** Where a new file goes. */
export interface NewPlace {
  shareId: string
  folderId: string | null
  /** Folders below that place; those that are missing are made. */
  path?: readonly string[]
  name: string
  composition?: Composition
  /** The version that it is a copy of. */
  originId?: string
}

/**
 * Adds a version.
 * @throws Refusal name-refused, name-taken, newer-version, checksum-differs, not-allowed, not-found, no-room
 */
export const keepVersion = (database: DataSource, quotas: Quotas, keeping: Keeping): Promise<Saved> =>
  saving('fileId' in keeping.target ? keeping.target.fileId : keeping.key, () =>
    keep(database, quotas, {
      ...keeping,
      bytes: Buffer.isBuffer(keeping.bytes) ? receivedHere(keeping.bytes) : keeping.bytes,
    }),
  )

/**
 * Adds several new files, all or none, with whatever else belongs to them.
 * @throws Refusal as `keepVersion`, for the first that cannot be
 */
export async function keepFiles(
  database: DataSource,
  quotas: Quotas,
  keepings: readonly (Keeping & { target: { place: NewPlace } })[],
  also: (manager: EntityManager, saved: readonly Saved[]) => Promise<void>,
): Promise<Saved[]> {
  const ready = keepings.map((keeping) => ({
    ...keeping,
    bytes: Buffer.isBuffer(keeping.bytes) ? receivedHere(keeping.bytes) : keeping.bytes,
  }))
  for (const keeping of ready) await refuseWithoutRoom(database.manager, quotas, keeping)
  let at = 0
  try {
    return await inTransaction(database, async (manager) => {
      const saved: Saved[] = []
      for (at = 0; at < ready.length; at++) saved.push(await addFile(manager, ready[at]!, ready[at]!.target.place))
      await also(manager, saved)
      return saved
    })
  } catch (error) {
    if (!isNameTaken(error)) throw error
    const { personId, target } = ready[at]!
    const { shareId, folderId, name } = target.place
    throw await nameTaken(database.manager, personId, shareId, folderId, name)
  }
}

/**
 * Saves of one file wait for each other anyway, by its row's lock: here they do so without holding a connection that
 * reading needs, and all saves together never have them all.
 */
const atOnce = pLimit(6)
const turns = new Map<string, Promise<unknown>>()
async function saving<T>(file: string, work: () => Promise<T>): Promise<T> {
  const before = turns.get(file)
  const mine = (before ?? Promise.resolve()).catch(() => {}).then(() => atOnce(() => waitedFor(work)))
  turns.set(file, mine)
  try {
    return await mine
  } finally {
    if (turns.get(file) === mine) turns.delete(file)
  }
}

/** What is kept, received whole. */
type Ready = Keeping & { bytes: Received }

/** What a request asks for, in one digest: the same key with another one is another request. */
function requestDigest({ bytes, reason, target, draft }: Ready): Buffer {
  const what = 'place' in target ? { ...target.place, composition: undefined } : target
  return createHash('sha256')
    .update(bytes.digest)
    .update(JSON.stringify([reason, Object.entries(what).sort(([a], [b]) => (a < b ? -1 : 1)), draft?.id ?? null]))
    .digest()
}

async function keep(database: DataSource, quotas: Quotas, keeping: Ready): Promise<Saved> {
  const { digest } = keeping.bytes
  if (keeping.sha256 && keeping.sha256 !== digest.toString('hex'))
    throw new Refusal('checksum-differs', say('problem.the-file-changed-on-its-way-here'))
  try {
    const { target } = keeping
    await refuseWithoutRoom(database.manager, quotas, keeping)
    if ('fileId' in target) return await addToFile(database, keeping, target)
    return await inTransaction(database, (manager) => addFile(manager, keeping, target.place))
  } catch (error) {
    if (isNameTaken(error) && 'place' in keeping.target) {
      const { shareId, folderId, name, path } = keeping.target.place
      await requireRoleIn(database.manager, keeping.personId, { shareId, folderId }, 'edit')
      const at = path?.length
        ? await inTransaction(database, (manager) => folderAt(manager, keeping.personId, shareId, folderId, path))
        : folderId
      throw await nameTaken(database.manager, keeping.personId, shareId, at, name)
    }
    // The same request arrived twice at the same instant and the other one won.
    if (sqlState(error) === '23505' && String(error).includes('request_key')) {
      const earlier = await madeBy(database.manager, keeping)
      if (earlier) return earlier
    }
    throw error
  }
}

/** A repeated request finds what it made, however full it is by now. @throws Refusal no-room */
async function refuseWithoutRoom(manager: EntityManager, quotas: Quotas, keeping: Ready): Promise<void> {
  if (quotas.share === null && quotas.person === null) return
  const { target, personId, bytes } = keeping
  if (await madeBy(manager, keeping)) return
  const shareId =
    'place' in target ? target.place.shareId : (await manager.findOneBy(EntryRow, { id: target.fileId }))?.shareId
  // Whose it is not to save is told so, and nothing of how full it is.
  if (!shareId) return
  if ('place' in target) await requireRoleIn(manager, personId, target.place, 'edit')
  else await requireRoleAt(manager, personId, target.fileId, 'edit')
  await refuseOver(manager, quotas, { shareId, personId, size: bytes.size })
}

/** What `next_version` in the database answers; see its migration. */
const NextVersionRow = z.discriminatedUnion('outcome', [
  z.object({
    outcome: z.literal('added'),
    share_id: z.string(),
    folder_id: z.string().nullable(),
    name: z.string(),
    type: z.string(),
    head: z.string(),
    number: z.number(),
    at: z.date(),
    author: z.string(),
  }),
  z.object({ outcome: z.literal('newer'), head: z.string() }),
  z.object({ outcome: z.enum(['made', 'not found', 'not allowed']) }),
])
type NextVersionRow = z.output<typeof NextVersionRow>

async function addToFile(
  database: DataSource,
  keeping: Ready,
  { fileId, baseId, type: goesOnAs, writtenAs }: NextOf,
): Promise<Saved> {
  const { personId, reason, draft, bytes } = keeping
  const { digest } = bytes
  const block = bytes.held && (await singleBlock(bytes.held))
  const next = (manager: EntityManager): Promise<NextVersionRow[]> =>
    select(
      manager,
      NextVersionRow,
      'select * from next_version($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17)',
      [
        fileId,
        baseId,
        uuidv7(),
        keeping.key,
        personId,
        digest,
        bytes.size,
        keeping.at ?? null,
        reason,
        draft?.id ?? null,
        draft?.seq ?? 0,
        draft?.epoch ?? 0,
        draft?.writerId ?? null,
        draft?.head ?? null,
        block?.bytes ?? null,
        block?.packed ?? null,
        requestDigest(keeping),
      ],
    )
  const isOther = goesOnAs !== undefined && (await typeOfFile(database.manager, fileId)) !== goesOnAs
  const [row] = isOther
    ? await asAnotherType(database, keeping, { fileId, type: goesOnAs }, next)
    : block && !writtenAs
      ? await inOneStatement(database, next)
      : await inTransaction(database, async (manager) => {
          await storeContent(manager, bytes)
          const rows = await next(manager)
          if (writtenAs && rows[0]?.outcome === 'added') await readAsWritten(manager, fileId, writtenAs)
          return rows
        })
  if (!row) throw new Error('next_version gave no row.')
  switch (row.outcome) {
    case 'made':
      return (await madeBy(database.manager, keeping))!
    case 'not found':
      throw absent()
    case 'not allowed':
      await requireRoleAt(database.manager, personId, fileId, 'edit')
      throw new Refusal('not-allowed', say('problem.you-may-not-change-files-in-this'))
    case 'newer': {
      const there = versionAlone(await versionById(database.manager, row.head))
      throw new Refusal(
        'newer-version',
        say('problem.saved-version-meanwhile', { authorName: there.author.name, number: there.number }),
        {
          head: there,
        },
      )
    }
  }
  const { share_id: shareId, folder_id: folderId, name, type, head: id, number, at, author } = row
  const version: Version = {
    id,
    fileId,
    number,
    sha256: digest.toString('hex'),
    size: bytes.size,
    type,
    author: { id: personId, name: author },
    at: at.toISOString(),
    baseId,
    reason,
  }
  return { file: { id: fileId, kind: 'file', shareId, folderId, name, type, head: version, children: null }, version }
}

/**
 * Somebody may have said of a list that it is read otherwise, which whoever wrote this version of it did not know: read that
 * way it would hold other numbers and dates than were entered. So what is said of it follows its newest version. Its row is
 * locked by `next_version`.
 */
async function readAsWritten(manager: EntityManager, fileId: string, writtenAs: string): Promise<void> {
  const { type, readAs } = await manager.findOneByOrFail(EntryRow, { id: fileId })
  if (isCsv(type) && isReadOtherwise(readAs, writtenAs))
    await manager.update(EntryRow, { id: fileId }, { readAs: saidAsText(saidIn(typeReadAs('csv', writtenAs))) })
}

const typeOfFile = async (manager: EntityManager, id: string) =>
  (await manager.findOneBy(EntryRow, { id, kind: 'file' }))?.type

/** Ends a transaction whose version was not added: the name goes back with it. */
class NotAdded extends Error {
  constructor(readonly rows: NextVersionRow[]) {
    super('No version was added.')
  }
}

/**
 * Adds a version with which the file goes on as another type, under its name with that ending.
 * @throws Refusal invalid for a type that its work cannot be, name-taken
 */
async function asAnotherType(
  database: DataSource,
  { personId, bytes, reason }: Ready,
  { fileId, type }: { fileId: string; type: string },
  next: (manager: EntityManager) => Promise<NextVersionRow[]>,
): Promise<NextVersionRow[]> {
  try {
    return await inTransaction(database, async (manager) => {
      await requireRoleAt(manager, personId, fileId, 'edit')
      await storeContent(manager, bytes)
      const entry = await manager.findOne(EntryRow, {
        where: { id: fileId, kind: 'file' },
        lock: { mode: 'for_no_key_update' },
      })
      if (!entry) throw absent()
      // What was restored was of its type before.
      const may =
        reason === 'restored' ? fileType(entry.type).kind === fileType(type).kind : mayGoOnAs(entry.type, type)
      if (!may) throw new Refusal('invalid', say('problem.cannot-go-on-as', { name: entry.name, type }))
      const name = acceptName(nameAs(entry.name, type))
      if (reason !== 'restored') await refuseType(manager, entry.shareId, name, type)
      try {
        await manager.update(EntryRow, { id: fileId }, { name, nameKey: nameKey(name), type })
      } catch (error) {
        if (!isNameTaken(error)) throw error
        throw await nameTaken(database.manager, personId, entry.shareId, entry.folderId, name)
      }
      const rows = await next(manager)
      if (rows[0]?.outcome !== 'added') throw new NotAdded(rows)
      return rows
    })
  } catch (error) {
    if (error instanceof NotAdded) return error.rows
    throw error
  }
}

async function addFile(manager: EntityManager, keeping: Ready, place: NewPlace): Promise<Saved> {
  const earlier = await madeBy(manager, keeping)
  if (earlier) return earlier
  const { shareId, composition, originId } = place
  await requireRoleIn(manager, keeping.personId, place, 'edit')
  const name = acceptName(place.name)
  if (!keeping.anyType) await refuseType(manager, shareId, name, typeOfName(name))
  const folderId = await folderAt(manager, keeping.personId, shareId, place.folderId, place.path ?? [])
  // A path may lead into a folder that has rights of its own.
  if (place.path?.length) await requireRoleIn(manager, keeping.personId, { shareId, folderId }, 'edit')
  if (originId) {
    const origin = await versionById(manager, originId)
    await requireRole(manager, keeping.personId, origin.realmId, 'view')
  }
  await storeContent(manager, keeping.bytes)
  const fileId = uuidv7()
  const numbered = acceptName(await takeNumber(manager, { id: fileId, shareId, folderId, name }, composition))
  const saved = await insertFile(manager, keeping, { shareId, folderId, name: numbered, fileId, originId })
  if (composition) await noteComposition(manager, keeping.personId, shareId, composition)
  // A copy of a list is written as that is.
  if (originId)
    await execute(
      manager,
      `update entry e set read_as = o.read_as from version v join entry o on o.id = v.file_id
       where e.id = $1 and v.id = $2 and o.type = e.type and o.read_as is not null`,
      [saved.file.id, originId],
    )
  return saved
}

/** Adds the file with its first version, by the database function that adds every later one, too. */
async function insertFile(
  manager: EntityManager,
  keeping: Ready,
  place: { shareId: string; folderId: string | null; name: string; fileId: string; originId: string | undefined },
): Promise<Saved> {
  const id = uuidv7()
  const { shareId, folderId, name, fileId, originId } = place
  const type = typeOfName(name)
  const { personId, reason, draft, bytes } = keeping
  const { digest } = bytes
  await manager.insert(EntryRow, {
    id: fileId,
    kind: 'file',
    shareId,
    folderId,
    name,
    nameKey: nameKey(name),
    type,
    headVersionId: id,
    createdBy: personId,
    createdAt: keeping.at ?? new Date(),
    removedAt: null,
    originVersionId: originId ?? null,
  })
  const [added] = await select(
    manager,
    z.object({ at: z.date(), author: z.string() }),
    `select add_version($1, $2, 1, $3, $4, $5, $6, $7, null, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17) as at,
       (select name from person where id = $6) as author`,
    [
      fileId,
      id,
      digest,
      bytes.size,
      type,
      personId,
      keeping.at ?? null,
      reason,
      keeping.key,
      requestDigest(keeping),
      shareId,
      folderId,
      draft?.id ?? null,
      draft?.seq ?? 0,
      draft?.epoch ?? 0,
      draft?.writerId ?? null,
      draft?.head ?? null,
    ],
  )
  const version: Version = {
    id,
    fileId,
    number: 1,
    sha256: digest.toString('hex'),
    size: bytes.size,
    type,
    author: { id: personId, name: added!.author },
    at: added!.at.toISOString(),
    baseId: null,
    reason,
  }
  return { file: { id: fileId, kind: 'file', shareId, folderId, name, type, head: version, children: null }, version }
}

/**
 * What an earlier request with this key made.
 * @throws Refusal not-found for whoever is no member any more, invalid where it was another request
 */
async function madeBy(manager: EntityManager, keeping: Ready): Promise<Saved | null> {
  const [row] = await select(
    manager,
    z.object({
      id: z.string(),
      author_id: z.string(),
      realm_id: z.string(),
      request_digest: z.instanceof(Buffer).nullable(),
    }),
    `select v.id, v.author_id, v.request_digest, e.realm_id from version v join entry e on e.id = v.file_id
       where v.request_key = $1`,
    [keeping.key],
  )
  if (!row) return null
  await requireRole(manager, keeping.personId, row.realm_id, 'view')
  if (row.author_id !== keeping.personId || (row.request_digest && !row.request_digest.equals(requestDigest(keeping))))
    throw new Refusal('invalid', say('problem.this-key-belongs-to-another-request-so'))
  const version = await versionById(manager, row.id)
  return { file: await entryById(manager, version.fileId, 'file'), version: versionAlone(version) }
}
