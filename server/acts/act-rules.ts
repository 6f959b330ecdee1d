// What an act may not do: what its person has no right to, what is held, what makes no tree, what no computer could name.
import type { EntityManager } from 'typeorm'
import { In } from 'typeorm'
import { z } from 'zod'
import type { Change, Role } from '../../core/contract'
import { longestPath } from '../../core/naming/advice'
import { say } from '../../core/words/said'
import { EntryRow } from '../files/entity'
import { trailTo } from '../files/folders'
import { anythingHeld, type Move } from '../files/moves'
import { tooDeep } from '../files/tree'
import { absent, Refusal } from '../refusal'
import { requireRoles, requireShare } from '../rights/service'
import { deepestFolder } from '../sql/folder-tree'
import { select } from '../sql/rows'

/** What names an entry says that it is there: the asker must be a member of its share, and may change things there. */
export async function mayChange(manager: EntityManager, personId: string, changes: readonly Change[]): Promise<void> {
  const ids = [...new Set(changes.map(({ id }) => id))]
  const rows = await select(
    manager,
    z.object({ realm_id: z.string(), found: z.number() }),
    'select realm_id, count(*)::int as found from entry where id = any($1) group by realm_id',
    [ids],
  )
  if (rows.reduce((sum, { found }) => sum + found, 0) < ids.length) throw absent()
  await requireRoles(
    manager,
    personId,
    rows.map((row) => row.realm_id),
    'edit',
  )
  for (const { shareId, folderId } of changes)
    if (shareId && !folderId) await requireShare(manager, personId, shareId, 'edit')
}

/**
 * Changing something is its editors' to do, where it is and where it goes. Taking it out of reach of those who have
 * rights where it is, to another share or into or out of a folder with rights of its own, is its managers'.
 */
export async function requireRealms(
  manager: EntityManager,
  personId: string,
  moves: readonly Move[],
  ownUndo = false,
): Promise<void> {
  const folders = [...new Set(moves.flatMap(({ folderId }) => folderId ?? []))]
  const rows = folders.length
    ? await manager.find(EntryRow, { select: { id: true, realmId: true }, where: { id: In(folders) } })
    : []
  const realmOf = new Map(rows.map(({ id, realmId }) => [id, realmId]))
  const target = ({ entry, shareId, folderId }: Move) =>
    // What has rights of its own keeps them, wherever it lies.
    entry.realm_id === entry.id && shareId === entry.share_id
      ? entry.realm_id
      : folderId
        ? realmOf.get(folderId)
        : shareId
  const realms = moves.flatMap((move) => [move.entry.realm_id, target(move) ?? []].flat())
  await requireRoles(manager, personId, [...realms, ...folders.flatMap((id) => realmOf.get(id) ?? [])], 'edit')
  if (ownUndo) return
  const left = moves.flatMap((move) => {
    const to = target(move)
    return to && to !== move.entry.realm_id ? move.entry.realm_id : []
  })
  await requireRoles(manager, personId, left, 'manage')
}

/** An act is seen by who may see all that it changed, where it was and where it is. @throws Refusal not-found, not-allowed */
export async function requireAct(manager: EntityManager, personId: string, actId: string, needed: Role): Promise<void> {
  // What it changed has been moved on since, perhaps: its rights count where it is now, and the share's where it was.
  const realms = await select(
    manager,
    z.object({ realm_id: z.string() }),
    `select e.realm_id from act_change c join entry e on e.id = c.entry_id where c.act_id = $1
     union select c.from_share from act_change c join entry e on e.id = c.entry_id where c.act_id = $1 and c.from_share <> e.share_id
     union select c.to_share from act_change c join entry e on e.id = c.entry_id where c.act_id = $1 and c.to_share <> e.share_id
     union select e.realm_id from act_version v join entry e on e.id = v.file_id where v.act_id = $1`,
    [actId],
  )
  await requireRoles(
    manager,
    personId,
    realms.map(({ realm_id }) => realm_id),
    needed,
  )
}

/** What is held stays where it can be found: neither it nor what it lies in is removed. @throws Refusal not-allowed */
export async function refuseHeld(manager: EntityManager, moves: readonly Move[]): Promise<void> {
  if (!(await anythingHeld(manager))) return
  const going = moves.filter(({ entry, removed }) => removed && !entry.removed_at).map(({ entry }) => entry.id)
  const [held] = going.length
    ? await select(
        manager,
        z.object({ name: z.string() }),
        `with recursive up(id, start, folder_id, depth) as (
           select id, id, folder_id, 0 from entry where id = any($1)
           union all select e.id, up.start, e.folder_id, up.depth + 1 from entry e join up on e.id = up.folder_id where up.depth < 100)
         select e.name from up join retention_hold h on h.entry_id = up.id join entry e on e.id = up.start limit 1`,
        [going],
      )
    : []
  if (held) throw new Refusal('not-allowed', say('problem.on-hold-cannot-be-removed', { name: held.name }))
}

/** Refuses folders that would lie in themselves, by the tree as it will be when all of the act is done. */
async function refuseCircles(manager: EntityManager, moves: readonly Move[]): Promise<void> {
  const moving = moves.filter(({ entry, removed }) => entry.kind === 'folder' && !removed)
  if (!moving.length) return
  const targets = moving.map(({ folderId }) => folderId).filter((id) => id !== null)
  const rows = await select(
    manager,
    z.object({ id: z.string(), folder_id: z.string().nullable() }),
    `with recursive up(id, folder_id) as (
       select id, folder_id from entry where id = any($1)
       union select e.id, e.folder_id from entry e join up on e.id = up.folder_id)
     select id, folder_id from up`,
    [targets],
  )
  const above = new Map(rows.map(({ id, folder_id }) => [id, folder_id]))
  for (const { entry, folderId } of moving) above.set(entry.id, folderId)
  for (const { entry } of moving) {
    let at = above.get(entry.id) ?? null
    for (let steps = 0; at; steps++) {
      if (at === entry.id)
        throw new Refusal('invalid', say('problem.cannot-be-moved-into-itself', { entryName: entry.name }))
      if (steps > deepestFolder) throw tooDeep()
      at = above.get(at) ?? null
    }
  }
}

/** Refuses places that are not there, folders that would lie in themselves and paths that are too long. */
export async function checkTargets(manager: EntityManager, moves: readonly Move[]): Promise<void> {
  const folders = [...new Set(moves.filter(({ removed }) => !removed).map(({ folderId }) => folderId))].filter(
    (id) => id !== null,
  )
  const rows = folders.length
    ? await manager.find(EntryRow, {
        select: { id: true, shareId: true, removedAt: true, kind: true },
        where: { id: In(folders) },
        lock: { mode: 'pessimistic_read' },
      })
    : []
  const there = new Map(rows.map((row) => [row.id, row]))
  const comingBack = new Set(
    moves.filter(({ removed, entry }) => !removed && entry.removed_at).map(({ entry }) => entry.id),
  )
  await refuseCircles(manager, moves)
  const lengths = new Map<string | null, number>([[null, 0]])
  for (const move of moves) {
    if (move.removed) continue
    const { folderId } = move
    if (folderId) {
      const folder = there.get(folderId)
      if (folder?.kind !== 'folder' || (folder.removedAt && !comingBack.has(folderId)))
        throw new Refusal('changed-meanwhile', say('problem.the-folder-it-belongs-in-is-not'))
      if (folder.shareId !== move.shareId && !moves.some(({ entry }) => entry.id === folderId))
        throw new Refusal('invalid', say('problem.the-folder-is-in-another-share'))
    }
    if (!lengths.has(folderId)) {
      const trail = await trailTo(manager, folderId)
      lengths.set(
        folderId,
        trail.reduce((sum, { name }) => sum + name.length + 1, 0),
      )
    }
    if (lengths.get(folderId)! + move.name.length > longestPath)
      throw new Refusal(
        'name-refused',
        say('problem.with-its-folders-would-be-longer-than', { moveName: move.name, longestPath }),
      )
  }
}
