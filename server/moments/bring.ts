// Brings a share or folder back to what it was at a moment: what went, moved, was renamed or written over is as it was,
// what is new goes if that is wished. All of it is one act, and is undone as one.
import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { In, IsNull } from 'typeorm'
import type { ActResult } from '../../core/contract'
import { nameAs } from '../../core/formats/types'
import { differencesAt, differsIn } from '../../core/history/moment'
import { freeName, nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { checkTargets, refuseHeld, requireAct, requireRealms } from '../acts/act-rules'
import { type Restoring, restoreVersions } from '../acts/act-versions'
import { guarded, resultOf } from '../acts/acts'
import { type Quotas, refuseOver } from '../counts/quotas'
import { ActRow, EntryRow } from '../files/entity'
import { locked, lockTrees, type Move, moveAll, noteAct, wouldGoAlong } from '../files/moves'
import { keptDays } from '../files/removed'
import { Refusal } from '../refusal'
import { requireRoles, requireShare } from '../rights/service'
import { VersionRow } from '../versions/entity'
import { type EntryAt, entriesAt, goneBefore, thenAndNow } from './read'

export interface ToMoment {
  id: string
  at: string
  folderId: string | null
  /** What is brought to what it was, also what is new (it goes); null for everything but what is new. */
  entries: readonly string[] | null
}

/** What is brought back, and the folders that went with it: without them there is no place for it. */
function withFolders(rows: ReadonlyMap<string, EntryAt>, wanted: ReadonlySet<string>): Set<string> {
  const all = new Set(wanted)
  for (const id of wanted) {
    const row = rows.get(id)
    if (!row?.existed || row.then_removed) continue
    for (let at = row.then_folder; at !== null; ) {
      const folder = rows.get(at)
      if (!folder || folder.removed_at === null) break
      all.add(at)
      at = folder.existed && !folder.then_removed ? folder.then_folder : folder.folder_id
    }
  }
  return all
}

/** A folder that is new stays where something lies in it that does not go or move out: nothing goes unasked. */
async function keepWhatIsFull(manager: EntityManager, moves: Move[]): Promise<void> {
  const going = new Map(moves.filter(({ removed }) => removed).map(({ entry }) => [entry.id, entry]))
  const stay = new Set<string>()
  const keep = (folderId: string | null) => {
    for (let at = folderId; at !== null && going.has(at) && !stay.has(at); at = going.get(at)!.folder_id) stay.add(at)
  }
  for (const { entry } of await wouldGoAlong(manager, moves)) keep(entry.folder_id)
  for (const { removed, folderId } of moves) if (!removed) keep(folderId)
  for (let at = moves.length - 1; at >= 0; at--)
    if (moves[at]!.removed && stay.has(moves[at]!.entry.id)) moves.splice(at, 1)
}

/** Where each goes: what it was, under a free name where somebody else has that by now. */
async function movesFor(
  manager: EntityManager,
  rows: readonly EntryAt[],
  states: Awaited<ReturnType<typeof locked>>,
  renamed: ActResult['renamed'],
): Promise<Move[]> {
  const types = await typesOf(manager, rows)
  const moves: Move[] = []
  for (const row of rows) {
    const entry = states.get(row.id)!
    const differs = differsIn(thenAndNow(row))
    if (differs.includes('new'))
      moves.push({ entry, shareId: entry.share_id, folderId: entry.folder_id, name: entry.name, removed: true })
    else if (differs.some((one) => one !== 'changed'))
      moves.push({
        entry,
        shareId: row.then_share,
        folderId: row.then_folder,
        name: nameThen(row, types),
        removed: false,
      })
  }
  await keepWhatIsFull(manager, moves)
  const moving = new Set(moves.map(({ entry }) => entry.id))
  const taken = new Map<string, Set<string>>()
  const takenAt = async (shareId: string, folderId: string | null) => {
    const key = `${shareId} ${folderId}`
    let names = taken.get(key)
    if (!names) {
      const there = await manager.find(EntryRow, {
        select: { id: true, nameKey: true },
        where: { shareId, folderId: folderId ?? IsNull(), removedAt: IsNull() },
      })
      names = new Set(there.filter(({ id }) => !moving.has(id)).map(({ nameKey: key }) => key))
      taken.set(key, names)
    }
    return names
  }
  for (const move of moves) {
    if (move.removed) continue
    const names = await takenAt(move.shareId, move.folderId)
    const name = freeName(move.name, names)
    if (name !== move.name) renamed.push({ name: move.name, now: name })
    names.add(nameKey(name))
    move.name = name
  }
  return moves
}

/** The types of the versions that files had then. */
async function typesOf(manager: EntityManager, rows: readonly EntryAt[]): Promise<Map<string, string>> {
  const ids = rows.flatMap(({ then_version: id }) => id ?? [])
  const found = await manager.find(VersionRow, { select: { id: true, type: true }, where: { id: In(ids) } })
  return new Map(found.map(({ id, type }) => [id, type]))
}
/** A file that went on as another type since has the ending that it had. */
function nameThen({ then_name: name, then_version: version }: EntryAt, types: ReadonlyMap<string, string>): string {
  const type = version ? types.get(version) : undefined
  return type === undefined ? name : nameAs(name, type)
}

/**
 * @throws Refusal not-allowed, not-found, changed-meanwhile, no-room: then nothing was changed
 */
export async function bringToMoment(
  database: DataSource,
  quotas: Quotas,
  personId: string,
  shareId: string,
  { id, at, folderId, entries }: ToMoment,
): Promise<ActResult> {
  const request = createHash('sha256')
    .update(JSON.stringify([shareId, at, folderId, entries]))
    .digest()
  const made = await database.manager.findOneBy(ActRow, { id })
  if (made) {
    await requireAct(database.manager, personId, id, 'view')
    if (made.personId !== personId || !made.requestDigest?.equals(request))
      throw new Refusal('invalid', say('problem.this-id-belongs-to-another-act-so'))
    return resultOf(database.manager, id, [])
  }
  return guarded(database, personId, async (manager) => {
    await requireShare(manager, personId, shareId, 'edit')
    const moment = new Date(at)
    const before = new Map((await entriesAt(manager, personId, shareId, moment)).map((row) => [row.id, row]))
    const differences = differencesAt([...before.values()].map(thenAndNow), { shareId, folderId })
    const asked = entries && new Set(entries)
    const chosen = differences.filter(({ id: one, differs }) => (asked ? asked.has(one) : !differs.includes('new')))
    const wanted = withFolders(before, new Set(chosen.map((one) => one.id)))
    await lockTrees(
      manager,
      [...wanted].map((one) => ({ id: one, folderId: null })),
    )
    const states = await locked(manager, [...wanted])
    // What changed before it was locked is looked at as it is.
    const after = new Map((await entriesAt(manager, personId, shareId, moment)).map((row) => [row.id, row]))
    const rows = [...wanted].flatMap((one) => after.get(one) ?? [])
    for (const { removed_at, name } of rows)
      if (removed_at && removed_at < goneBefore())
        throw new Refusal('not-found', say('problem.removed-too-long-ago', { name, days: keptDays }))
    const renamed: ActResult['renamed'] = []
    const moves = await movesFor(manager, rows, states, renamed)
    const restoring: Restoring[] = rows.flatMap((row) =>
      differsIn(thenAndNow(row)).includes('changed')
        ? [{ fileId: row.id, name: row.name, head: row.head!, versionId: row.then_version! }]
        : [],
    )
    if (!moves.length && !restoring.length) throw new Refusal('invalid', say('problem.there-is-nothing-to-change'))
    await requireRealms(manager, personId, moves)
    await requireRoles(manager, personId, await realmsOf(manager, restoring), 'edit')
    await refuseHeld(manager, moves)
    await checkTargets(manager, moves)
    const sizes = new Map(rows.map((row) => [row.id, Number(row.then_size ?? 0)]))
    const size = restoring.reduce((sum, { fileId }) => sum + (sizes.get(fileId) ?? 0), 0)
    if (size && (quotas.share !== null || quotas.person !== null))
      await refuseOver(manager, quotas, { shareId, personId, size })
    await noteAct(manager, personId, { id, what: 'as it was', shareId, undoes: null, request })
    if (moves.length) await moveAll(manager, personId, id, moves)
    await restoreVersions(manager, personId, id, restoring)
    return resultOf(manager, id, renamed)
  })
}

async function realmsOf(manager: EntityManager, restoring: readonly Restoring[]): Promise<string[]> {
  if (!restoring.length) return []
  const rows = await manager.find(EntryRow, {
    select: { id: true, realmId: true },
    where: { id: In(restoring.map(({ fileId }) => fileId)) },
  })
  return [...new Set(rows.map(({ realmId }) => realmId))]
}
