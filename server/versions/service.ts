// The one way in. Saving, bringing in and restoring, and every later entrance, come through
// `keepVersion`: bytes, a place or a file, the version they were based on and a key that makes
// a repetition harmless. Either a new version is there with its content, in one transaction,
// or nothing is and the refusal says what is there now.
import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import type { Reason, Saved } from '../../core/contract'
import { typeOfName } from '../../core/formats/types'
import { announce } from '../events/service'
import { acceptName, entryById, insertEntry, isNameTaken, nameTaken, noteUse, versionById } from '../files/service'
import { Refusal, sqlState } from '../refusal'
import { requireRole } from '../shares/service'
import { storeContent } from './content'

export interface Keeping {
  personId: string
  bytes: Buffer
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
  const digest = createHash('sha256').update(keeping.bytes).digest()
  if (keeping.sha256 && keeping.sha256 !== digest.toString('hex'))
    throw new Refusal('checksum-differs', 'The file changed on its way here, so it was not saved. Save again.')
  try {
    return await database.transaction(async (manager) => {
      const earlier = await madeBy(manager, keeping)
      if (earlier) return earlier
      const place = 'place' in keeping.target ? keeping.target.place : null
      const fileId = 'fileId' in keeping.target ? keeping.target.fileId : uuidv7()
      let name: string
      let number = 1
      let baseId: string | null = null
      if ('fileId' in keeping.target) {
        // The row is locked from here to the commit: two savers of one file come one after the other.
        const [locked] = await manager.query(
          "select share_id, name, head_version_id from entry where id = $1 and kind = 'file' and removed_at is null for update",
          [fileId],
        )
        // A second statement, because only it sees the version that the one who held the lock has made.
        const [newest] = locked
          ? await manager.query('select number from version where id = $1', [locked.head_version_id])
          : []
        const head = locked && { ...locked, number: newest.number }
        if (!head) throw new Refusal('not-found', 'This file is not here any more.')
        await requireRole(manager, keeping.personId, head.share_id, 'edit')
        if (head.head_version_id !== keeping.target.baseId) {
          const there = await versionById(manager, head.head_version_id)
          throw new Refusal('newer-version', `${there.author.name} saved version ${there.number} meanwhile.`, {
            head: there,
          })
        }
        name = head.name
        number = head.number + 1
        baseId = head.head_version_id
      } else {
        await requireRole(manager, keeping.personId, place!.shareId, 'edit')
        name = acceptName(place!.name)
        if (place!.folderId && (await entryById(manager, place!.folderId, 'folder')).shareId !== place!.shareId)
          throw new Refusal('not-found', 'This folder is not here any more.')
      }
      const id = uuidv7()
      await storeContent(manager, digest, keeping.bytes)
      await manager.query(
        `insert into version (id, file_id, number, sha256, size, type, author_id, at, base_version_id, reason, request_key)
         values ($1, $2, $3, $4, $5, $6, $7, coalesce($8, clock_timestamp()), $9, $10, $11)`,
        [
          id,
          fileId,
          number,
          digest,
          keeping.bytes.length,
          typeOfName(name),
          keeping.personId,
          keeping.at ?? null,
          baseId,
          keeping.reason,
          keeping.key,
        ],
      )
      if (place)
        await insertEntry(manager, {
          id: fileId,
          kind: 'file',
          shareId: place.shareId,
          folderId: place.folderId,
          name,
          type: typeOfName(name),
          headVersionId: id,
          createdBy: keeping.personId,
        })
      else await manager.query('update entry set head_version_id = $2 where id = $1', [fileId, id])
      if (keeping.draft)
        await manager.query(
          'update draft set file_id = $2, saved_seq = greatest(saved_seq, $3) where id = $1 and person_id = $4',
          [keeping.draft.id, fileId, keeping.draft.seq, keeping.personId],
        )
      await noteUse(manager, keeping.personId, fileId)
      const file = await entryById(manager, fileId, 'file')
      await announce(manager, {
        about: 'file',
        shareId: file.shareId,
        fileId,
        versionId: id,
        authorId: keeping.personId,
      })
      await announce(manager, { about: 'place', shareId: file.shareId, folderId: file.folderId })
      return { file, version: file.head! }
    })
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

async function madeBy(manager: EntityManager, keeping: Keeping): Promise<Saved | null> {
  const [row] = await manager.query('select id, author_id from version where request_key = $1', [keeping.key])
  if (!row) return null
  if (row.author_id !== keeping.personId) throw new Refusal('invalid', 'This request key was used by somebody else.')
  const version = await versionById(manager, row.id)
  const { shareId, fileName, ...shown } = version
  return { file: await entryById(manager, version.fileId, 'file'), version: shown }
}
