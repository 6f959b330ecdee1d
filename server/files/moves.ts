// What an act does, entry by entry: what is locked for it, what goes along with a folder, what comes back with what was
// removed, and the one place where all of it is carried out and noted.
import type { EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { z } from 'zod'
import type { ActResult } from '../../core/contract'
import { freeName, nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { announce } from '../events/announce'
import { Refusal } from '../refusal'
import { HoldRow } from '../retention/entity'
import { execute, select } from '../sql/rows'
import { ActRow, EntryRow } from './entity'
import { keptDays } from './removed'

export const EntryState = z.object({
  id: z.string(),
  kind: z.enum(['folder', 'file']),
  share_id: z.string(),
  realm_id: z.string(),
  folder_id: z.string().nullable(),
  name: z.string(),
  type: z.string(),
  removed_at: z.date().nullable(),
  removed_in: z.string().nullable(),
})

export type EntryState = z.output<typeof EntryState>

export interface Move {
  entry: EntryState
  shareId: string
  folderId: string | null
  name: string
  removed: boolean
}

export type What = 'rename' | 'move' | 'remove' | 'bring back' | 'correct' | 'undo' | 'as it was'

export async function locked(manager: EntityManager, ids: readonly string[]): Promise<Map<string, EntryState>> {
  const rows = await select(
    manager,
    EntryState,
    `select id, kind, share_id, realm_id, folder_id, name, type, removed_at, removed_in from entry where id = any($1) order by id for update`,
    [[...new Set(ids)]],
  )
  return new Map(rows.map((row) => [row.id, row]))
}

/** Moves of folders in one share come one after the other, so that no two of them make a circle between them. */
export async function lockTrees(
  manager: EntityManager,
  changes: readonly { id: string; shareId?: string | undefined; folderId?: string | null | undefined }[],
): Promise<void> {
  const moving = changes.filter(({ shareId, folderId }) => shareId !== undefined || folderId !== undefined)
  if (!moving.length) return
  await execute(
    manager,
    `select from share where id = any($2) or id in (select share_id from entry where id = any($1) and kind = 'folder')
     order by id for no key update`,
    [moving.map(({ id }) => id), moving.flatMap(({ shareId }) => shareId ?? [])],
  )
}

export async function anythingHeld(manager: EntityManager): Promise<boolean> {
  return manager.exists(HoldRow)
}

/** What lay under a hold and is moved out from under it takes the hold along. */
async function takeHoldsAlong(manager: EntityManager, moves: readonly Move[]): Promise<void> {
  if (!(await anythingHeld(manager))) return
  for (const { entry, folderId, removed } of moves) {
    if (removed || entry.removed_at || entry.folder_id === folderId || !entry.folder_id) continue
    await execute(
      manager,
      `with recursive was(id, folder_id, depth) as (
           select id, folder_id, 0 from entry where id = $2
           union all select e.id, e.folder_id, was.depth + 1 from entry e join was on e.id = was.folder_id where was.depth < 100),
         becomes(id, folder_id, depth) as (
           select id, folder_id, 0 from entry where id = $3
           union all select e.id, e.folder_id, becomes.depth + 1 from entry e join becomes on e.id = becomes.folder_id where becomes.depth < 100)
       insert into retention_hold (entry_id, person_id, why)
         select $1, h.person_id, h.why from was join retention_hold h on h.entry_id = was.id
         where not exists (select from becomes where becomes.id = h.entry_id) order by was.depth limit 1
       on conflict (entry_id) do nothing`,
      [entry.id, entry.folder_id, folderId],
    )
  }
}

/** Everything below the folders among `moves`, for what is removed with them. */
export async function inside(manager: EntityManager, moves: readonly Move[], removed: boolean): Promise<Move[]> {
  const folders = moves.filter(({ entry }) => entry.kind === 'folder').map(({ entry }) => entry.id)
  if (!folders.length) return []
  // Whoever files something into one of these folders at this moment is waited for, or finds it gone: all of them are
  // locked before anybody looks at what is in them.
  for (let known = -1, found = 0; found > known; ) {
    known = found
    const below = await select(
      manager,
      z.unknown(),
      `with recursive down(id) as (select id from entry where id = any($1)
         union select e.id from entry e join down on e.folder_id = down.id where e.kind = 'folder' and e.removed_at is null)
       select from entry e join down using (id) order by e.id for update of e`,
      [folders],
    )
    found = below.length
  }
  const rows = await select(
    manager,
    EntryState,
    `with recursive down(id) as (select id from entry where folder_id = any($1) and removed_at is null
       union select e.id from entry e join down on e.folder_id = down.id where e.removed_at is null)
     select e.id, e.kind, e.share_id, e.realm_id, e.folder_id, e.name, e.type, e.removed_at, e.removed_in from entry e join down using (id) order by e.id for update of e`,
    [folders],
  )
  const known = new Set(moves.map(({ entry }) => entry.id))
  return rows
    .filter((row) => !known.has(row.id))
    .map((entry) => ({ entry, shareId: entry.share_id, folderId: entry.folder_id, name: entry.name, removed }))
}

/** What comes back with an entry: itself and what was removed with it, under a free name, into a folder that is there. */
export async function bringingBack(
  manager: EntityManager,
  entry: EntryState,
  known: ReadonlyMap<string, EntryState>,
  renamed: ActResult['renamed'],
): Promise<Move[]> {
  if (Date.now() - entry.removed_at!.getTime() > keptDays * 86_400_000)
    throw new Refusal('not-found', say('problem.removed-too-long-ago', { name: entry.name, days: keptDays }))
  let folderId = entry.folder_id
  // A folder that was removed too gives way to the nearest one above that is there.
  while (folderId && !known.has(folderId)) {
    const above: EntryRow = await manager.findOneByOrFail(EntryRow, { id: folderId })
    if (!above.removedAt) break
    folderId = above.folderId
  }
  const taken = await manager.find(EntryRow, {
    select: { id: true, nameKey: true },
    where: { shareId: entry.share_id, folderId: folderId ?? IsNull(), removedAt: IsNull() },
  })
  const name = freeName(entry.name, new Set(taken.map(({ nameKey: key }) => key)))
  if (name !== entry.name) renamed.push({ name: entry.name, now: name })
  const back: Move[] = [{ entry, shareId: entry.share_id, folderId, name, removed: false }]
  if (entry.kind === 'folder') {
    const rows = await select(
      manager,
      EntryState,
      `with recursive down(id) as (select id from entry where folder_id = $1 and removed_in = $2
         union select e.id from entry e join down on e.folder_id = down.id where e.removed_in = $2)
       select e.id, e.kind, e.share_id, e.realm_id, e.folder_id, e.name, e.type, e.removed_at, e.removed_in from entry e join down using (id) order by e.id for update of e`,
      [entry.id, entry.removed_in],
    )
    for (const row of rows)
      if (!known.has(row.id))
        back.push({ entry: row, shareId: row.share_id, folderId: row.folder_id, name: row.name, removed: false })
  }
  return back
}

/** Notes an act before it is carried out. */
export async function noteAct(
  manager: EntityManager,
  personId: string,
  act: { id: string; what: What; shareId: string; undoes: string | null; request: Buffer | null },
): Promise<void> {
  const { id, what, shareId, undoes, request } = act
  await manager.insert(ActRow, { id, personId, shareId, what, undoes, requestDigest: request })
}

/**
 * What lies in folders that go and is not among the moves itself: it would go along. What lies in a folder that moves
 * out of them does not.
 */
export async function wouldGoAlong(manager: EntityManager, moves: readonly Move[]): Promise<Move[]> {
  const going = moves.filter(({ removed }) => removed)
  const below = await inside(manager, going, true)
  const parents = new Map(below.map(({ entry }) => [entry.id, entry.folder_id]))
  const goes = new Map(moves.map(({ entry, removed }) => [entry.id, removed]))
  return below.filter(({ entry }) => {
    if (goes.has(entry.id)) return false
    let at = entry.folder_id
    while (at !== null && !goes.has(at)) at = parents.get(at) ?? null
    return at !== null && goes.get(at)
  })
}

/** Moves everything to where it goes, and notes where it was, of an act that is noted. */
export async function moveAll(
  manager: EntityManager,
  personId: string,
  id: string,
  moves: readonly Move[],
): Promise<void> {
  const columns = [
    moves.map(({ entry }) => entry.id),
    moves.map(({ shareId }) => shareId),
    moves.map(({ folderId }) => folderId),
    moves.map(({ name }) => name),
    moves.map(({ name }) => nameKey(name)),
    moves.map(({ removed }) => removed),
  ]
  const table =
    'unnest($1::uuid[], $2::uuid[], $3::uuid[], $4::text[], $5::text[], $6::boolean[]) as t(id, share_id, folder_id, name, name_key, removed)'
  await execute(
    manager,
    `insert into act_change (act_id, entry_id, from_share, from_folder, from_name, from_removed, to_share, to_folder, to_name, to_removed)
     select $7, e.id, e.share_id, e.folder_id, e.name, e.removed_at is not null, t.share_id, t.folder_id, t.name, t.removed
     from entry e join ${table} on t.id = e.id`,
    [...columns, id],
  )
  await execute(
    manager,
    `insert into former_name (entry_id, name) select e.id, e.name from entry e join ${table} on t.id = e.id where e.name <> t.name`,
    columns,
  )
  await takeHoldsAlong(manager, moves)
  // A file that leaves a share is noted there and where it came to.
  for (const { entry, shareId, name } of moves)
    if (entry.share_id !== shareId)
      for (const at of [entry.share_id, shareId])
        await auditing(manager, {
          personId,
          shareId: at,
          what: at === shareId ? 'brought in from another share' : 'taken to another share',
          facts: { entryId: entry.id, name, from: entry.share_id, to: shareId },
        })
  // All step aside first, so that names can be exchanged within one act.
  await execute(manager, "update entry set removed_at = 'infinity' where id = any($1) and removed_at is null", [
    columns[0],
  ])
  await execute(
    manager,
    `update entry e set share_id = t.share_id, folder_id = t.folder_id, name = t.name, name_key = t.name_key,
       removed_at = case when t.removed then now() end, removed_by = case when t.removed then $7::uuid end, removed_in = case when t.removed then $8::uuid end
     from ${table} where e.id = t.id`,
    [...columns, personId, id],
  )
  // A folder takes what is in it along to another share.
  const moved = moves.filter(({ entry, shareId }) => entry.kind === 'folder' && shareId !== entry.share_id)
  for (const { entry, shareId } of moved)
    await execute(
      manager,
      `with recursive down(id) as (select id from entry where folder_id = $1 union select e.id from entry e join down on e.folder_id = down.id)
       update entry e set share_id = $2 from down where e.id = down.id`,
      [entry.id, shareId],
    )
  const places = new Map<string, { shareId: string; folderId: string | null }>()
  for (const { entry, shareId, folderId } of moves) {
    places.set(`${entry.share_id} ${entry.folder_id}`, { shareId: entry.share_id, folderId: entry.folder_id })
    places.set(`${shareId} ${folderId}`, { shareId, folderId })
  }
  // Pages ask again by share, so one word for each share is enough where many folders changed.
  const told =
    places.size > 20
      ? [...new Map([...places.values()].map((place) => [place.shareId, place])).values()]
      : places.values()
  for (const place of told) await announce(manager, { about: 'place', ...place })
  for (const shareId of new Set([...places.values()].map((place) => place.shareId)))
    await announce(manager, { about: 'names', shareId })
}

export async function carryOut(
  manager: EntityManager,
  personId: string,
  id: string,
  what: What,
  moves: readonly Move[],
  undoes: string | null,
  request: Buffer | null = null,
): Promise<void> {
  if (!moves.length) throw new Refusal('invalid', say('problem.there-is-nothing-to-change'))
  await noteAct(manager, personId, { id, what, shareId: moves[0]!.entry.share_id, undoes, request })
  await moveAll(manager, personId, id, moves)
}
