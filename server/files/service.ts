import { type DataSource, type EntityManager, IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import type { Entry, FileFacts, HistoryVersion, Place, RecentFile, Version } from '../../core/contract'
import { checkName, freeName, nameKey, splitExtension } from '../../core/naming/check'
import { announce } from '../events/service'
import { absent, Refusal, sqlState } from '../refusal'
import { requireRole, shareFor } from '../shares/service'
import { inTransaction } from '../transaction'
import { EntryRow, FileUseRow } from './entity'

const versionColumns = `v.id, v.file_id, v.number, encode(v.sha256, 'hex') as sha256, v.size, v.type, v.at, v.base_version_id, v.reason,
  a.id as author_id, a.name as author_name`

interface VersionColumns {
  id: string
  file_id: string
  number: number
  sha256: string
  size: string
  type: string
  at: Date
  base_version_id: string | null
  reason: Version['reason']
  author_id: string
  author_name: string
}

function shownVersion(row: VersionColumns): Version {
  return {
    id: row.id,
    fileId: row.file_id,
    number: row.number,
    sha256: row.sha256,
    size: Number(row.size),
    type: row.type,
    author: { id: row.author_id, name: row.author_name },
    at: row.at.toISOString(),
    baseId: row.base_version_id,
    reason: row.reason,
  }
}

/** A version of a file that was not removed, with its share. */
export async function versionById(
  manager: EntityManager,
  id: string,
): Promise<Version & { shareId: string; fileName: string }> {
  const [row] = await manager.query(
    `select ${versionColumns}, e.share_id, e.name as file_name from version v join person a on a.id = v.author_id join entry e on e.id = v.file_id where v.id = $1 and e.removed_at is null`,
    [id],
  )
  if (!row) throw absent()
  return { ...shownVersion(row), shareId: row.share_id, fileName: row.file_name }
}

export const entryColumns = `e.id, e.kind, e.share_id, e.folder_id, e.name, e.type,
  case when e.kind = 'folder' then (select count(*)::int from entry c where c.folder_id = e.id and c.removed_at is null) end as children,
  v.id as v_id, v.number, encode(v.sha256, 'hex') as sha256, v.size, v.type as v_type, v.at, v.base_version_id, v.reason, a.id as author_id, a.name as author_name`
export const entryJoins =
  'from entry e left join version v on v.id = e.head_version_id left join person a on a.id = v.author_id'

export type EntryColumns = VersionColumns & {
  kind: Entry['kind']
  share_id: string
  folder_id: string | null
  name: string
  children: number | null
  v_id: string | null
  v_type: string
}

export function shownEntry(row: EntryColumns): Entry {
  return {
    id: row.id,
    kind: row.kind,
    shareId: row.share_id,
    folderId: row.folder_id,
    name: row.name,
    type: row.type,
    children: row.children,
    head: row.v_id ? shownVersion({ ...row, id: row.v_id, file_id: row.id, type: row.v_type }) : null,
  }
}

/** A folder or file that was not removed. */
export async function entryById(manager: EntityManager, id: string, kind: Entry['kind']): Promise<Entry> {
  const [row] = await manager.query(
    `select ${entryColumns} ${entryJoins} where e.id = $1 and e.kind = $2 and e.removed_at is null`,
    [id, kind],
  )
  if (!row) throw absent()
  return shownEntry(row)
}

export async function trailTo(
  manager: EntityManager,
  folderId: string | null,
): Promise<{ id: string; name: string }[]> {
  if (!folderId) return []
  const rows = await manager.query(
    `with recursive up(id, name, folder_id, depth) as (
       select id, name, folder_id, 0 from entry where id = $1
       union all select e.id, e.name, e.folder_id, up.depth + 1 from entry e join up on e.id = up.folder_id where up.depth < 100)
     select id, name from up order by depth desc`,
    [folderId],
  )
  return rows
}

/** @throws Refusal not-found for a folder that is not in this share any more; null is the share itself */
export async function requireFolder(manager: EntityManager, shareId: string, folderId: string | null): Promise<void> {
  if (folderId && !(await manager.existsBy(EntryRow, { id: folderId, shareId, kind: 'folder', removedAt: IsNull() })))
    throw absent()
}

/** A stretch of what a share (folderId null) or a folder in it holds: folders first, then files, by name. */
export async function placeContents(
  manager: EntityManager,
  personId: string,
  shareId: string,
  folderId: string | null,
  {
    offset = 0,
    limit = 2000,
    find = '',
    path = '',
  }: { offset?: number; limit?: number; find?: string; path?: string } = {},
): Promise<Place> {
  const share = await shareFor(manager, personId, shareId)
  await requireFolder(manager, shareId, folderId)
  const steps = path.split('/').filter(Boolean)
  if (steps.length) {
    let at = folderId
    for (const [index, step] of steps.entries()) {
      const [next]: { id: string }[] = await manager.query(
        `select id from entry where share_id = $1 and folder_id is not distinct from $2 and name_key = $3 and kind = 'folder' and removed_at is null`,
        [shareId, at, nameKey(step)],
      )
      if (!next)
        return {
          share,
          trail: await trailTo(manager, at),
          entries: [],
          missing: steps.slice(index),
          offset: 0,
          total: 0,
        }
      at = next.id
    }
    return placeContents(manager, personId, shareId, at, { offset, limit, find })
  }
  const here = `e.share_id = $1 and e.folder_id ${folderId ? '= $2' : 'is null and $2::uuid is null'} and e.removed_at is null`
  const held = find ? [`%${nameKey(find).replace(/[\\%_]/g, '\\$&')}%`] : []
  const which = `${here}${find ? ' and e.name_key like $3' : ''}`
  // The stretch is found in the index alone, and only its rows are joined to their versions.
  const [rows, [{ total }]]: [EntryColumns[], [{ total: number }]] = await Promise.all([
    manager.query(
      `select ${entryColumns} ${entryJoins}
       join (select id from entry e where ${which} order by e.kind desc, e.name_key offset ${offset} limit ${limit}) stretch on stretch.id = e.id
       order by e.kind desc, e.name_key`,
      [shareId, folderId, ...held],
    ),
    // What lies in a folder lies in its share: the smaller index alone has the answer.
    folderId && !find
      ? manager.query('select count(*)::int as total from entry where folder_id = $1 and removed_at is null', [
          folderId,
        ])
      : manager.query(`select count(*)::int as total from entry e where ${which}`, [shareId, folderId, ...held]),
  ])
  return { share, trail: await trailTo(manager, folderId), entries: rows.map(shownEntry), missing: [], offset, total }
}

/** Versions that come with a file's facts. */
const newestShown = 200

async function pageOfVersions(
  manager: EntityManager,
  fileId: string,
  before: number | null,
  limit: number,
): Promise<HistoryVersion[]> {
  const rows: (VersionColumns & { summary: string | null; weight: number | null; label: string | null })[] =
    await manager.query(
      `select ${versionColumns}, c.summary, c.weight, k.label
       from (select * from version where file_id = $1 and ($2::int is null or number < $2) order by number desc limit $3) v
       join person a on a.id = v.author_id
       left join version_change c on c.version_id = v.id left join kept_version k on k.version_id = v.id
       order by v.number desc`,
      [fileId, before, limit],
    )
  return rows.map((row) => ({ ...shownVersion(row), summary: row.summary, weight: row.weight, label: row.label }))
}

/** A page of a file's versions, newest first. @param before only those with a smaller number; null from the newest on */
export async function versionsOf(
  manager: EntityManager,
  personId: string,
  fileId: string,
  before: number | null,
  limit: number,
): Promise<HistoryVersion[]> {
  await requireRole(manager, personId, (await entryById(manager, fileId, 'file')).shareId, 'view')
  return pageOfVersions(manager, fileId, before, limit)
}

export async function fileFacts(manager: EntityManager, personId: string, fileId: string): Promise<FileFacts> {
  const file = await entryById(manager, fileId, 'file')
  const share = await shareFor(manager, personId, file.shareId)
  const versions = await pageOfVersions(manager, fileId, null, newestShown)
  const [{ all, stamp }]: [{ all: number; stamp: string }] = await manager.query(
    `select (select count(*)::int from version where file_id = $1) as all,
       concat_ws(' ', (select count(*) from removed_version where file_id = $1), count(*), max(k.at)) as stamp
     from version v join kept_version k on k.version_id = v.id where v.file_id = $1`,
    [fileId],
  )
  const [origin] = await manager.query(
    `select v.id, v.number, o.id as file_id, case when o.removed_at is null then o.name end as name,
       case when o.removed_at is null and o.head_version_id <> v.id then o.head_version_id end as newer
     from entry e join version v on v.id = e.origin_version_id join entry o on o.id = v.file_id
     join membership m on m.share_id = o.share_id and m.person_id = $2 where e.id = $1`,
    [fileId, personId],
  )
  const former: { name: string }[] = await manager.query(
    'select name from former_name where entry_id = $1 order by until desc',
    [fileId],
  )
  const [thinned] = await manager.query('select count(*)::int as count from removed_version where file_id = $1', [
    fileId,
  ])
  const trail = await trailTo(manager, file.folderId)
  return {
    file,
    share,
    trail,
    versions,
    versionsInAll: all,
    historyStamp: stamp,
    origin: origin
      ? {
          fileId: origin.file_id,
          versionId: origin.id,
          number: origin.number,
          name: origin.name,
          newer: origin.newer ? shownAlone(await versionById(manager, origin.newer)) : null,
        }
      : null,
    formerNames: [...new Set(former.map(({ name }) => name))].filter((name) => name !== file.name),
    thinnedOut: thinned.count,
    held: await whyHeld(manager, [fileId, ...trail.map(({ id }) => id)], share.role !== 'view'),
  }
}

const shownAlone = ({
  shareId: _,
  fileName: __,
  ...version
}: Version & { shareId: string; fileName: string }): Version => version

/** Notes up to which version of its origin a copy has taken in what changed there. @throws Refusal */
export async function setOrigin(
  manager: EntityManager,
  personId: string,
  fileId: string,
  versionId: string,
): Promise<void> {
  const file = await entryById(manager, fileId, 'file')
  await requireRole(manager, personId, file.shareId, 'edit')
  const version = await versionById(manager, versionId)
  await requireRole(manager, personId, version.shareId, 'view')
  const [, changed] = await manager.query(
    `update entry set origin_version_id = $2 where id = $1
       and (select file_id from version where id = origin_version_id) = $3`,
    [fileId, versionId, version.fileId],
  )
  if (changed === 0) throw new Refusal('invalid', 'That version is not of the file that this one was copied from.')
}

/** @param told whether the reason may be told, too */
async function whyHeld(manager: EntityManager, ids: readonly string[], told: boolean): Promise<string | null> {
  const [hold] = await manager.query('select why from retention_hold where entry_id = any($1) limit 1', [ids])
  return hold ? (told ? hold.why : 'Its share’s managers have their reason.') : null
}

/** Notes that a person opened or saved a file. */
export async function noteUse(manager: EntityManager, personId: string, fileId: string): Promise<void> {
  await manager.upsert(FileUseRow, { personId, fileId, usedAt: new Date() }, ['personId', 'fileId'])
}

export async function recentFiles(manager: EntityManager, personId: string): Promise<RecentFile[]> {
  const rows: (EntryColumns & { used_at: Date; share_name: string })[] = await manager.query(
    `select ${entryColumns}, u.used_at, s.name as share_name ${entryJoins}
     join file_use u on u.file_id = e.id and u.person_id = $1
     join share s on s.id = e.share_id join membership m on m.share_id = s.id and m.person_id = $1
     where e.removed_at is null order by u.used_at desc limit 12`,
    [personId],
  )
  const recent: RecentFile[] = []
  for (const row of rows)
    recent.push({
      file: shownEntry(row),
      share: row.share_name,
      usedAt: row.used_at.toISOString(),
      folders: (await trailTo(manager, row.folder_id)).map((folder) => folder.name),
    })
  return recent
}

/** The name as it is stored. @throws Refusal name-refused with the reason and, in `freeName`, the correction */
export function acceptName(name: string): string {
  const normal = name.normalize('NFC')
  const fault = checkName(normal)
  if (fault)
    throw new Refusal('name-refused', fault.reason, {
      fields: { name: fault.reason },
      ...(fault.correction && { freeName: fault.correction }),
    })
  return normal
}

/** The refusal for a name that exists in its place, with what is there and the next free name. */
export async function nameTaken(
  manager: EntityManager,
  shareId: string,
  folderId: string | null,
  name: string,
): Promise<Refusal> {
  const [stem] = splitExtension(nameKey(name))
  // Only names that begin alike can stand in the way of the free one.
  const rows: { id: string; name_key: string; kind: Entry['kind'] }[] = await manager.query(
    `select id, name_key, kind from entry where share_id = $1 and folder_id is not distinct from $2 and removed_at is null and starts_with(name_key, $3)`,
    [shareId, folderId, stem],
  )
  const there = rows.find((row) => row.name_key === nameKey(name))
  const title = `${there?.kind === 'folder' ? 'A folder' : 'A file'} with this name is here already.`
  return new Refusal('name-taken', title, {
    fields: { name: title },
    freeName: freeName(name.normalize('NFC'), new Set(rows.map((row) => row.name_key))),
    ...(there && { entry: await entryById(manager, there.id, there.kind) }),
  })
}

/** Whether an error is the refusal of a second entry of one name. */
export const isNameTaken = (error: unknown): boolean =>
  sqlState(error) === '23505' && String(error).includes('entry_name')

/**
 * Holds a folder where it is until the transaction ends: whoever removes it waits, or has removed it already.
 * @throws Refusal not-found where it is not in this share any more
 */
async function lockFolder(manager: EntityManager, shareId: string, folderId: string | null): Promise<void> {
  if (!folderId) return
  const [folder] = await manager.query(
    `select id from entry where id = $1 and share_id = $2 and kind = 'folder' and removed_at is null for share`,
    [folderId, shareId],
  )
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
    const find = async (): Promise<{ id: string; kind: Entry['kind'] } | undefined> =>
      (
        await manager.query(
          'select id, kind from entry where share_id = $1 and folder_id is not distinct from $2 and name_key = $3 and removed_at is null',
          [shareId, at, nameKey(name)],
        )
      )[0]
    let there = await find()
    if (!there) {
      // Whoever makes the same folder at the same instant is waited for, and its folder is taken.
      await manager.query(
        `insert into entry (id, kind, share_id, folder_id, name, name_key, created_by) values ($1, 'folder', $2, $3, $4, $5, $6)
         on conflict (share_id, folder_id, name_key) where removed_at is null do nothing`,
        [uuidv7(), shareId, at, name, nameKey(name), personId],
      )
      there = await find()
      await announce(manager, { about: 'place', shareId, folderId: at })
    }
    if (there?.kind !== 'folder') throw await nameTaken(manager, shareId, at, name)
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
  await requireRole(database.manager, personId, shareId, 'edit')
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
    if (isNameTaken(error)) throw await nameTaken(database.manager, shareId, folderId, name)
    throw error
  }
  return entryById(database.manager, id, 'folder')
}
