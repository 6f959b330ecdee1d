// Folders: where they lie, and how they are made and held.

import { type DataSource, type EntityManager, IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Entry } from '../../core/contract'
import { nameKey } from '../../core/naming/check'
import { announce } from '../events/announce'
import { absent } from '../refusal'
import { requireRoleIn } from '../rights/service'
import { execute, select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { EntryRow } from './entity'
import { entryById } from './entries'
import { acceptName, isNameTaken, nameTaken } from './names'

export async function trailTo(
  manager: EntityManager,
  folderId: string | null,
): Promise<{ id: string; name: string }[]> {
  if (!folderId) return []
  return select(
    manager,
    z.object({ id: z.string(), name: z.string() }),
    `with recursive up(id, name, folder_id, depth) as (
       select id, name, folder_id, 0 from entry where id = $1
       union all select e.id, e.name, e.folder_id, up.depth + 1 from entry e join up on e.id = up.folder_id where up.depth < 100)
     select id, name from up order by depth desc`,
    [folderId],
  )
}

/** @throws Refusal not-found for a folder that is not in this share any more; null is the share itself */
export async function requireFolder(manager: EntityManager, shareId: string, folderId: string | null): Promise<void> {
  if (folderId && !(await manager.existsBy(EntryRow, { id: folderId, shareId, kind: 'folder', removedAt: IsNull() })))
    throw absent()
}

/**
 * Holds a folder where it is until the transaction ends: whoever removes it waits, or has removed it already.
 * @throws Refusal not-found where it is not in this share any more
 */
async function lockFolder(manager: EntityManager, shareId: string, folderId: string | null): Promise<void> {
  if (!folderId) return
  const folder = await manager.findOne(EntryRow, {
    select: { id: true },
    where: { id: folderId, shareId, kind: 'folder', removedAt: IsNull() },
    lock: { mode: 'pessimistic_read' },
  })
  if (!folder) throw absent()
}

/**
 * The folder at the end of a path below a place; what is missing of it is made, in the caller's
 * transaction. @returns null for the share itself @throws Refusal name-refused, name-taken where a file has a folder's name
 */
export async function folderAt(
  manager: EntityManager,
  personId: string,
  shareId: string,
  folderId: string | null,
  path: readonly string[],
): Promise<string | null> {
  let at = folderId
  await lockFolder(manager, shareId, at)
  for (const wanted of path) {
    const name = acceptName(wanted)
    const find = () =>
      manager.findOne(EntryRow, {
        select: { id: true, kind: true },
        where: { shareId, folderId: at ?? IsNull(), nameKey: nameKey(name), removedAt: IsNull() },
      })
    let there = await find()
    if (!there) {
      // Whoever makes the same folder at the same instant is waited for, and its folder is taken.
      await execute(
        manager,
        `insert into entry (id, kind, share_id, folder_id, name, name_key, created_by) values ($1, 'folder', $2, $3, $4, $5, $6)
         on conflict (share_id, folder_id, name_key) where removed_at is null do nothing`,
        [uuidv7(), shareId, at, name, nameKey(name), personId],
      )
      there = await find()
      await announce(manager, { about: 'place', shareId, folderId: at })
    }
    if (there?.kind !== 'folder') throw await nameTaken(manager, personId, shareId, at, name)
    at = there.id
    await lockFolder(manager, shareId, at)
  }
  return at
}

/** @throws Refusal name-refused, name-taken, not-allowed, not-found */
export async function newFolder(
  database: DataSource,
  personId: string,
  shareId: string,
  folderId: string | null,
  wanted: string,
): Promise<Entry> {
  await requireRoleIn(database.manager, personId, { shareId, folderId }, 'edit')
  const name = acceptName(wanted)
  const id = uuidv7()
  try {
    await inTransaction(database, async (manager) => {
      await lockFolder(manager, shareId, folderId)
      await manager.insert(EntryRow, {
        id,
        kind: 'folder',
        shareId,
        folderId,
        name,
        nameKey: nameKey(name),
        type: '',
        headVersionId: null,
        createdBy: personId,
        createdAt: new Date(),
        removedAt: null,
      })
      await announce(manager, { about: 'place', shareId, folderId })
    })
  } catch (error) {
    // The database refuses a second one of a name in its place, at the same instant too.
    if (isNameTaken(error)) throw await nameTaken(database.manager, personId, shareId, folderId, name)
    throw error
  }
  return entryById(database.manager, id, 'folder')
}
