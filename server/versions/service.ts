// The one way in. Saving, bringing in and restoring, and every later entrance, come through
// `keepVersion`: bytes, a place or a file, the version they were based on and a key that makes
// a repetition harmless. Either a new version is there with its content, in one transaction,
// or nothing is and the refusal says what is there now.
import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import type { Reason, Saved, Version } from '../../core/contract'
import { typeOfName } from '../../core/formats/types'
import { nameKey } from '../../core/naming/check'
import { announcing } from '../events/service'
import { acceptName, entryById, isNameTaken, nameTaken, versionById } from '../files/service'
import { Refusal, sqlState } from '../refusal'
import { requireRole } from '../shares/service'
import { storeContent } from './content'

export interface Keeping {
  personId: string
  bytes: Buffer
  /** SHA-256 of the bytes, if it was taken already. */
  digest?: Buffer
  reason: Reason
  key: string
  /** SHA-256 in hexadecimal that the sender computed, if it did. */
  sha256?: string
  /** When it was made, for the demo data's past; now otherwise. */
  at?: Date
  draft?: { id: string; seq: number }
  target: { place: { shareId: string; folderId: string | null; name: string } } | { fileId: string; baseId: string }
}

/**
 * Adds a version.
 * @throws Refusal name-refused, name-taken, newer-version, checksum-differs, not-allowed, not-found
 */
export async function keepVersion(database: DataSource, keeping: Keeping): Promise<Saved> {
  const digest = keeping.digest ?? createHash('sha256').update(keeping.bytes).digest()
  if (keeping.sha256 && keeping.sha256 !== digest.toString('hex'))
    throw new Refusal('checksum-differs', 'The file changed on its way here, so it was not saved. Save again.')
  try {
    return await database.transaction((manager) =>
      'fileId' in keeping.target
        ? addToFile(manager, keeping, keeping.target, digest)
        : addFile(manager, keeping, keeping.target.place, digest),
    )
  } catch (error) {
    if (isNameTaken(error) && 'place' in keeping.target) {
      const { shareId, folderId, name } = keeping.target.place
      throw await nameTaken(database.manager, shareId, folderId, name)
    }
    // The same request arrived twice at the same instant and the other one won.
    if (sqlState(error) === '23505' && String(error).includes('request_key')) {
      const earlier = await madeBy(database.manager, keeping)
      if (earlier) return earlier
    }
    throw error
  }
}

async function addToFile(
  manager: EntityManager,
  keeping: Keeping,
  { fileId, baseId }: { fileId: string; baseId: string },
  digest: Buffer,
): Promise<Saved> {
  // The row is locked from here to the commit: two savers of one file come one after the other.
  const [entry] = await manager.query(
    `select e.share_id, e.folder_id, e.name, e.head_version_id, m.role from entry e left join membership m on m.share_id = e.share_id and m.person_id = $2
     where e.id = $1 and e.kind = 'file' and e.removed_at is null for update of e`,
    [fileId, keeping.personId],
  )
  if (!entry?.role) throw new Refusal('not-found', 'This file is not here any more.')
  if (entry.role === 'view') await requireRole(manager, keeping.personId, entry.share_id, 'edit')
  // A second statement, because only it sees the version that the one who held the lock has made.
  const [now] = await manager.query(
    'select (select number from version where id = $1) as number, exists (select from version where request_key = $2) as made',
    [entry.head_version_id, keeping.key],
  )
  if (now.made) return (await madeBy(manager, keeping))!
  if (entry.head_version_id !== baseId) {
    const { shareId: _, fileName: __, ...there } = await versionById(manager, entry.head_version_id)
    throw new Refusal('newer-version', `${there.author.name} saved version ${there.number} meanwhile.`, { head: there })
  }
  await storeContent(manager, digest, keeping.bytes)
  return insertVersion(manager, keeping, digest, {
    id: fileId,
    shareId: entry.share_id,
    folderId: entry.folder_id,
    name: entry.name,
    number: now.number + 1,
    baseId: entry.head_version_id,
  })
}

async function addFile(
  manager: EntityManager,
  keeping: Keeping,
  place: { shareId: string; folderId: string | null; name: string },
  digest: Buffer,
): Promise<Saved> {
  const earlier = await madeBy(manager, keeping)
  if (earlier) return earlier
  await requireRole(manager, keeping.personId, place.shareId, 'edit')
  const name = acceptName(place.name)
  if (place.folderId && (await entryById(manager, place.folderId, 'folder')).shareId !== place.shareId)
    throw new Refusal('not-found', 'This folder is not here any more.')
  await storeContent(manager, digest, keeping.bytes)
  return insertVersion(manager, keeping, digest, {
    id: uuidv7(),
    shareId: place.shareId,
    folderId: place.folderId,
    name,
    number: 1,
    baseId: null,
  })
}

interface VersionedFile {
  id: string
  shareId: string
  folderId: string | null
  name: string
  /** Of the version that is added; 1 adds the file too. */
  number: number
  baseId: string | null
}

/** Adds the version, moves the file's head to it, and says so, in one statement: a save waits for each one. */
async function insertVersion(
  manager: EntityManager,
  keeping: Keeping,
  digest: Buffer,
  file: VersionedFile,
): Promise<Saved> {
  const id = uuidv7()
  const type = typeOfName(file.name)
  const { personId, reason, draft } = keeping
  const news = [
    { about: 'file', shareId: file.shareId, fileId: file.id, versionId: id, authorId: personId },
    { about: 'place', shareId: file.shareId, folderId: file.folderId },
  ] as const
  const head =
    file.number === 1
      ? `insert into entry (id, kind, share_id, folder_id, name, name_key, type, head_version_id, created_by) select $2, 'file', $16, $17, $18, $19, $6, $1, $7`
      : 'update entry set head_version_id = $1 where id = $2'
  const placing = file.number === 1 ? [file.shareId, file.folderId, file.name, nameKey(file.name)] : []
  const [added] = await manager.query(
    `with added as (
       insert into version (id, file_id, number, sha256, size, type, author_id, at, base_version_id, reason, request_key)
       values ($1, $2, $3, $4, $5, $6, $7, coalesce($8, clock_timestamp()), $9, $10, $11) returning at),
     head as (${head}),
     used as (insert into file_use (person_id, file_id) values ($7, $2) on conflict (person_id, file_id) do update set used_at = now()),
     drafted as (update draft set file_id = $2, saved_seq = greatest(saved_seq, $13) where id = $12 and person_id = $7)
     select added.at, person.name as author, ${announcing('$14')}, ${announcing('$15')} from added, person where person.id = $7`,
    [
      id,
      file.id,
      file.number,
      digest,
      keeping.bytes.length,
      type,
      personId,
      keeping.at ?? null,
      file.baseId,
      reason,
      keeping.key,
      draft?.id ?? null,
      draft?.seq ?? 0,
      ...news.map((one) => JSON.stringify(one)),
      ...placing,
    ],
  )
  const version: Version = {
    id,
    fileId: file.id,
    number: file.number,
    sha256: digest.toString('hex'),
    size: keeping.bytes.length,
    type,
    author: { id: personId, name: added.author },
    at: added.at.toISOString(),
    baseId: file.baseId,
    reason,
  }
  return {
    file: {
      id: file.id,
      kind: 'file',
      shareId: file.shareId,
      folderId: file.folderId,
      name: file.name,
      type,
      head: version,
      children: null,
    },
    version,
  }
}

async function madeBy(manager: EntityManager, keeping: Keeping): Promise<Saved | null> {
  const [row] = await manager.query('select id, author_id from version where request_key = $1', [keeping.key])
  if (!row) return null
  if (row.author_id !== keeping.personId) throw new Refusal('invalid', 'This request key was used by somebody else.')
  const version = await versionById(manager, row.id)
  const { shareId, fileName, ...shown } = version
  return { file: await entryById(manager, version.fileId, 'file'), version: shown }
}
