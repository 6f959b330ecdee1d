import { In, IsNull } from 'typeorm'
import { HoldRow } from '../retention/entity'
import { selectOne } from '../sql/rows'
import { ActChangeRow, ActRow, EntryRow } from './entity'
// Renaming, moving, removing, bringing back and correcting are one kind of act: for each folder or
// file, the place and name it had and the ones it has afterwards. An act is carried out whole or
// not at all, and undone the same way, as an act of its own. Versions and origins hang on the
// file's id and are not touched.

import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { ActResult, Change, RemovedEntry, Role } from '../../core/contract'
import { typeOfName } from '../../core/formats/types'
import { longestPath } from '../../core/naming/advice'
import { freeName, nameKey } from '../../core/naming/check'
import { auditing } from '../audit/log'
import { announce } from '../events/service'
import { takeNumber } from '../naming/counters'
import { absent, Refusal } from '../refusal'
import { pause } from '../requests/json'
import { requireRole, requireRoles, seenBy } from '../rights/service'
import { deepestFolder } from '../sql/folder-tree'
import { execute, select } from '../sql/rows'
import { inTransaction } from '../transaction'
import { type EntryColumns, entryById, entryColumns, entryJoins, shownEntry } from './entries'
import { folderAt, trailTo } from './folders'
import { acceptName, isNameTaken, nameTaken } from './names'
import { tooDeep } from './tree'

/** Removed things can be brought back for this many days. */
export const keptDays = 30

const EntryState = z.object({
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
type EntryState = z.output<typeof EntryState>

interface Move {
  entry: EntryState
  shareId: string
  folderId: string | null
  name: string
  removed: boolean
}

type What = 'rename' | 'move' | 'remove' | 'bring back' | 'correct' | 'undo'
export interface NewActInput {
  id: string
  what: Exclude<What, 'undo'>
  changes: Change[]
}

/**
 * Carries out an act. A repeated request finds it done.
 * @throws Refusal not-allowed, not-found, changed-meanwhile, name-refused, name-taken: then nothing was changed
 */
export async function performAct(
  database: DataSource,
  personId: string,
  { id, what, changes }: NewActInput,
): Promise<ActResult> {
  const request = createHash('sha256')
    .update(JSON.stringify([what, changes]))
    .digest()
  if (changes.length > 5000) await pause()
  const made = await database.manager.findOneBy(ActRow, { id })
  if (made) {
    await requireAct(database.manager, personId, id, 'view')
    if (made.personId !== personId || (made.requestDigest && !made.requestDigest.equals(request)))
      throw new Refusal('invalid', 'This id belongs to another act, so nothing was changed.')
    return resultOf(database.manager, id, [])
  }
  return guarded(database, personId, async (manager) => {
    await mayChange(manager, personId, changes)
    await lockTrees(manager, changes)
    const entries = await locked(
      manager,
      changes.map((change) => change.id),
    )
    const moves: Move[] = []
    const renamed: ActResult['renamed'] = []
    for (const change of changes) {
      const entry = entries.get(change.id)
      if (!entry) throw absent()
      if ((entry.removed_at !== null) !== (what === 'bring back'))
        throw new Refusal(
          'changed-meanwhile',
          `${entry.name} was ${entry.removed_at ? 'removed' : 'brought back'} meanwhile. Nothing was changed.`,
        )
      if (change.from !== undefined && change.from !== entry.name)
        throw new Refusal('changed-meanwhile', `${change.from} is named ${entry.name} by now. Nothing was changed.`)
      if (what === 'bring back') {
        moves.push(...(await bringingBack(manager, entry, entries, renamed)))
        continue
      }
      if (what === 'remove') {
        moves.push({ entry, shareId: entry.share_id, folderId: entry.folder_id, name: entry.name, removed: true })
        continue
      }
      const shareId = change.shareId ?? entry.share_id
      const base =
        change.folderId === undefined ? (shareId === entry.share_id ? entry.folder_id : null) : change.folderId
      const name = change.name === undefined ? entry.name : acceptName(change.name)
      if (entry.kind === 'file' && typeOfName(name) !== entry.type)
        throw new Refusal(
          'name-refused',
          `The ending .${entry.type || '(none)'} tells other programs what ${entry.name} is. It stays.`,
          {
            fields: { name: `The ending .${entry.type} stays.` },
            freeName: entry.type ? `${name.replace(/\.[a-z0-9]{1,12}$/i, '')}.${entry.type}` : name,
          },
        )
      moves.push({ entry, shareId, folderId: base, name, removed: false })
    }
    // What was brought to another share since it was asked for is another share's.
    await requireRealms(manager, personId, moves)
    // Folders that a plan asks for are made once for all that go there.
    const paths = new Map<string, string | null>()
    for (const [index, change] of changes.entries()) {
      if (!change.path || what === 'bring back' || what === 'remove') continue
      const move = moves[index]!
      const key = JSON.stringify([move.shareId, move.folderId, change.path])
      if (!paths.has(key)) paths.set(key, await folderAt(manager, personId, move.shareId, move.folderId, change.path))
      move.folderId = paths.get(key)!
    }
    if (what === 'remove') {
      moves.push(...(await inside(manager, moves, true)))
      await refuseHeld(manager, moves)
    }
    await checkTargets(manager, moves)
    for (const move of moves)
      if (!move.removed && move.entry.kind === 'file' && move.name !== move.entry.name)
        await takeNumber(
          manager,
          { id: move.entry.id, shareId: move.shareId, folderId: move.folderId, name: move.name },
          undefined,
        )
    await carryOut(manager, personId, id, what, moves, null, request)
    return resultOf(manager, id, renamed)
  })
}

/** Undoes an act as a whole: each thing has the place and name it had. @throws Refusal changed-meanwhile when something was changed since */
export async function undoAct(database: DataSource, personId: string, actId: string): Promise<ActResult> {
  return guarded(database, personId, async (manager) => {
    const act = await manager.findOne(ActRow, { where: { id: actId }, lock: { mode: 'pessimistic_write' } })
    if (!act) throw absent()
    await requireAct(manager, personId, actId, 'edit')
    if (act.undoneBy) return resultOf(manager, act.undoneBy, [])
    const changes = await manager.findBy(ActChangeRow, { actId })
    const entries = await locked(
      manager,
      changes.map((change) => change.entryId),
    )
    await lockTrees(
      manager,
      changes.map(({ entryId, fromShare }) => ({ id: entryId, shareId: fromShare, folderId: null })),
    )
    const moves = changes.map((change): Move => {
      const entry = entries.get(change.entryId)!
      if (
        entry.name !== change.toName ||
        entry.folder_id !== change.toFolder ||
        entry.share_id !== change.toShare ||
        (entry.removed_at !== null) !== change.toRemoved
      )
        throw new Refusal(
          'changed-meanwhile',
          `${change.toName} was changed again since, so this cannot be undone as one. Nothing was changed.`,
        )
      return {
        entry,
        shareId: change.fromShare,
        folderId: change.fromFolder,
        name: change.fromName,
        removed: change.fromRemoved,
      }
    })
    // Whoever took something to another share may take that back.
    await requireRealms(manager, personId, moves, act.personId === personId)
    await refuseHeld(manager, moves)
    await checkTargets(manager, moves)
    const id = uuidv7()
    await carryOut(manager, personId, id, 'undo', moves, actId)
    await manager.update(ActRow, { id: actId }, { undoneBy: id })
    return resultOf(manager, id, [])
  })
}

/** Runs in a transaction; a name that is taken becomes a refusal that says by what. */
async function guarded(
  database: DataSource,
  personId: string,
  run: (manager: EntityManager) => Promise<ActResult>,
): Promise<ActResult> {
  try {
    return await inTransaction(database, run)
  } catch (error) {
    if (!isNameTaken(error)) throw error
    const detail = String((error as { driverError?: { detail?: string } }).driverError?.detail ?? '')
    const match =
      /\(share_id, folder_id, name_key\)=\(([0-9a-f-]{36}), ([0-9a-f-]{36}|null), (.*)\) already exists/s.exec(detail)
    if (!match) throw error
    throw await nameTaken(database.manager, personId, match[1]!, match[2] === 'null' ? null : match[2]!, match[3]!)
  }
}

async function locked(manager: EntityManager, ids: readonly string[]): Promise<Map<string, EntryState>> {
  const rows = await select(
    manager,
    EntryState,
    `select id, kind, share_id, realm_id, folder_id, name, type, removed_at, removed_in from entry where id = any($1) order by id for update`,
    [[...new Set(ids)]],
  )
  return new Map(rows.map((row) => [row.id, row]))
}

/** What names an entry says that it is there: the asker must be a member of its share, and may change things there. */
async function mayChange(manager: EntityManager, personId: string, changes: readonly Change[]): Promise<void> {
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
    if (shareId && !folderId) await requireRole(manager, personId, shareId, 'edit')
}

/**
 * Changing something is its editors' to do, where it is and where it goes. Taking it out of reach of those who have
 * rights where it is, to another share or into or out of a folder with rights of its own, is its managers'.
 */
async function requireRealms(
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
async function requireAct(manager: EntityManager, personId: string, actId: string, needed: Role): Promise<void> {
  // What it changed has been moved on since, perhaps: its rights count where it is now, and the share's where it was.
  const realms = await select(
    manager,
    z.object({ realm_id: z.string() }),
    `select e.realm_id from act_change c join entry e on e.id = c.entry_id where c.act_id = $1
     union select c.from_share from act_change c join entry e on e.id = c.entry_id where c.act_id = $1 and c.from_share <> e.share_id
     union select c.to_share from act_change c join entry e on e.id = c.entry_id where c.act_id = $1 and c.to_share <> e.share_id`,
    [actId],
  )
  await requireRoles(
    manager,
    personId,
    realms.map(({ realm_id }) => realm_id),
    needed,
  )
}

/** Moves of folders in one share come one after the other, so that no two of them make a circle between them. */
async function lockTrees(
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

async function anythingHeld(manager: EntityManager): Promise<boolean> {
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

/** What is held stays where it can be found: neither it nor what it lies in is removed. @throws Refusal not-allowed */
async function refuseHeld(manager: EntityManager, moves: readonly Move[]): Promise<void> {
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
  if (held) throw new Refusal('not-allowed', `${held.name} is held, so it cannot be removed. Nothing was changed.`)
}

/** Everything below the folders among `moves`, for what is removed with them. */
async function inside(manager: EntityManager, moves: readonly Move[], removed: boolean): Promise<Move[]> {
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
async function bringingBack(
  manager: EntityManager,
  entry: EntryState,
  known: ReadonlyMap<string, EntryState>,
  renamed: ActResult['renamed'],
): Promise<Move[]> {
  if (Date.now() - entry.removed_at!.getTime() > keptDays * 86_400_000)
    throw new Refusal('not-found', `${entry.name} was removed more than ${keptDays} days ago.`)
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
      if (at === entry.id) throw new Refusal('invalid', `${entry.name} cannot be moved into itself.`)
      if (steps > deepestFolder) throw tooDeep()
      at = above.get(at) ?? null
    }
  }
}

/** Refuses places that are not there, folders that would lie in themselves and paths that are too long. */
async function checkTargets(manager: EntityManager, moves: readonly Move[]): Promise<void> {
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
        throw new Refusal('changed-meanwhile', 'The folder it belongs in is not here any more. Nothing was changed.')
      if (folder.shareId !== move.shareId && !moves.some(({ entry }) => entry.id === folderId))
        throw new Refusal('invalid', 'The folder is in another share.')
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
        `With its folders ${move.name} would be longer than ${longestPath} letters, which many computers refuse.`,
      )
  }
}

async function carryOut(
  manager: EntityManager,
  personId: string,
  id: string,
  what: What,
  moves: readonly Move[],
  undoes: string | null,
  request: Buffer | null = null,
): Promise<void> {
  if (!moves.length) throw new Refusal('invalid', 'There is nothing to change.')
  await manager.insert(ActRow, {
    id,
    personId,
    shareId: moves[0]!.entry.share_id,
    what,
    undoes,
    requestDigest: request,
  })
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

async function resultOf(manager: EntityManager, id: string, renamed: ActResult['renamed']): Promise<ActResult> {
  const { what, entries, only, kind, removed } = await selectOne(
    manager,
    z.object({
      what: z.string(),
      entries: z.number(),
      only: z.string(),
      kind: z.enum(['folder', 'file']),
      removed: z.boolean(),
    }),
    `select a.what, count(*)::int as entries, min(c.entry_id::text) as only, min(e.kind) as kind, bool_or(e.removed_at is not null) as removed
     from act a join act_change c on c.act_id = a.id join entry e on e.id = c.entry_id where a.id = $1 group by a.id`,
    [id],
  )
  return {
    id,
    what,
    entries,
    renamed,
    ...(entries === 1 && !removed && { entry: await entryById(manager, only, kind) }),
  }
}

/** What was removed from a share and can be brought back, newest first; what is inside a removed folder is counted with it. */
export async function removedFrom(manager: EntityManager, personId: string, shareId: string): Promise<RemovedEntry[]> {
  await requireRole(manager, personId, shareId, 'view')
  const rows = await select(
    manager,
    z.custom<EntryColumns & { removed_at: Date; remover: string; inside: number }>(),
    `select ${entryColumns}, e.removed_at, r.name as remover,
       (select count(*)::int from entry i where i.removed_in = e.removed_in and i.id <> e.id and e.kind = 'folder') as inside
     ${entryJoins} ${seenBy('$2')} join person r on r.id = e.removed_by left join entry f on f.id = e.folder_id
     where e.share_id = $1 and e.removed_at > now() - interval '${keptDays} days' and (f.id is null or f.removed_in is distinct from e.removed_in)
     order by e.removed_at desc, e.name_key limit 1000`,
    [shareId, personId],
  )
  const trails = new Map<string | null, string[]>()
  const shown: RemovedEntry[] = []
  for (const row of rows) {
    if (!trails.has(row.folder_id))
      trails.set(
        row.folder_id,
        (await trailTo(manager, row.folder_id)).map(({ name }) => name),
      )
    shown.push({
      entry: shownEntry(row),
      folders: trails.get(row.folder_id)!,
      removedAt: row.removed_at.toISOString(),
      removedBy: row.remover,
      until: new Date(row.removed_at.getTime() + keptDays * 86_400_000).toISOString(),
      inside: row.inside,
    })
  }
  return shown
}
