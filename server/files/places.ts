// What lies in a place, and where people were last.

import type { EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { z } from 'zod'
import type {
  AuditMaterial,
  ChangedFile,
  ListKind,
  ListOrder,
  Place,
  RecentFile,
  RecentPlace,
} from '../../core/contract'
import { fileType, typesOf } from '../../core/formats/types'
import { nameKey } from '../../core/naming/check'
import { fromKept } from '../../core/words/said'
import { maySee, requireRoleIn, requireShare, seenBy } from '../rights/service'
import { shareFor } from '../shares/service'
import { select, selectOne } from '../sql/rows'
import { EntryRow } from './entity'
import type { EntryColumns } from './entries'
import { entryColumns, entryJoins, shownEntry } from './entries'
import { requireFolder, trailTo } from './folders'

interface Asked {
  offset?: number
  limit?: number
  find?: string
  path?: string
  order?: ListOrder
  turned?: 'true' | 'false'
  kind?: ListKind | undefined
}
const orderedBy: Record<Exclude<ListOrder, 'name'>, string> = {
  type: 'e.type',
  size: 'v.size',
  saved: 'v.at',
  by: 'lower(a.name)',
}
/** The types of a kind; of the other files, those that are not among them. */
const typesShown = (kind: ListKind): string[] =>
  kind === 'other' ? [...typesOf('document'), ...typesOf('spreadsheet')] : typesOf(kind)

const Total = z.object({ total: z.number() })

/** A stretch of what a share (folderId null) or a folder in it holds: folders first, then files, by name. */
export async function placeContents(
  manager: EntityManager,
  personId: string,
  shareId: string,
  folderId: string | null,
  { offset = 0, limit = 2000, find = '', path = '', order = 'name', turned = 'false', kind }: Asked = {},
): Promise<Place> {
  const share = await shareFor(manager, personId, shareId, folderId)
  await requireFolder(manager, shareId, folderId)
  const steps = path.split('/').filter(Boolean)
  if (steps.length) {
    let at = folderId
    for (const [index, step] of steps.entries()) {
      const [next] = await select(
        manager,
        z.object({ id: z.string() }),
        `select e.id from entry e ${seenBy('$4')} where e.share_id = $1 and e.folder_id is not distinct from $2 and e.name_key = $3 and e.kind = 'folder' and e.removed_at is null`,
        [shareId, at, nameKey(step), personId],
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
    return placeContents(manager, personId, shareId, at, { offset, limit, find, order, turned, ...(kind && { kind }) })
  }
  const hidden = await hiddenIn(manager, personId, shareId, folderId)
  const given: unknown[] = [shareId, folderId]
  const next = (value: unknown) => `$${given.push(value)}`
  const which = `e.share_id = $1 and e.folder_id ${folderId ? '= $2' : 'is null and $2::uuid is null'} and e.removed_at is null
    ${find ? `and e.name_key like ${next(`%${nameKey(find).replace(/[\\%_]/g, '\\$&')}%`)}` : ''}
    ${kind ? `and (e.kind = 'folder' or ${kind === 'other' ? 'not ' : ''}e.type = any(${next(typesShown(kind))}))` : ''}
    ${hidden.length ? `and e.id <> all(${next(hidden)})` : ''}`
  const direction = turned === 'true' ? 'desc' : 'asc'
  // Folders have no size, and nobody who saved them.
  const inOrder =
    order === 'name'
      ? `e.kind desc, e.name_key ${direction}`
      : `e.kind desc, ${orderedBy[order]} ${direction} nulls last, e.name_key`
  const ordering = entryJoins.replace('from entry e', '')
  // By name the stretch is found in the index alone, and only its rows are joined to their versions.
  const [rows, { total }] = await Promise.all([
    select(
      manager,
      z.custom<EntryColumns>(),
      `select ${entryColumns} ${entryJoins}
       join (select e.id from entry e ${order === 'name' || order === 'type' ? '' : ordering} where ${which}
         order by ${inOrder} offset ${offset} limit ${limit}) stretch on stretch.id = e.id
       order by ${inOrder}`,
      given,
    ),
    find || kind
      ? selectOne(manager, Total, `select count(*)::int as total from entry e where ${which}`, given)
      : selectOne(manager, Total, 'select entries_in($1) - $2::int as total', [folderId ?? shareId, hidden.length]),
  ])
  return { share, trail: await trailTo(manager, folderId), entries: rows.map(shownEntry), missing: [], offset, total }
}

export async function recentFiles(manager: EntityManager, personId: string): Promise<RecentFile[]> {
  const rows = await select(
    manager,
    z.custom<EntryColumns & { used_at: Date; share_name: string }>(),
    `select ${entryColumns}, u.used_at, s.name as share_name ${entryJoins}
     join file_use u on u.file_id = e.id and u.person_id = $1
     join share s on s.id = e.share_id ${seenBy('$1')}
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

/** Files that somebody else saved last, the newest first, as far as the person may see them. */
export async function changedByOthers(manager: EntityManager, personId: string): Promise<ChangedFile[]> {
  const rows = await select(
    manager,
    z.custom<EntryColumns & { share_name: string; summary: string | null }>(),
    // From the newest version on: a few are read, however many there are.
    `select ${entryColumns}, s.name as share_name, c.summary
     from version v join entry e on e.head_version_id = v.id join person a on a.id = v.author_id
     join share s on s.id = e.share_id ${seenBy('$1')} left join version_change c on c.version_id = v.id
     where v.author_id <> $1 and e.removed_at is null order by v.at desc limit 6`,
    [personId],
  )
  return Promise.all(
    rows.map(async (row) => ({
      file: shownEntry(row),
      share: row.share_name,
      folders: (await trailTo(manager, row.folder_id)).map(({ name }) => name),
      summary: row.summary === null ? null : fromKept(row.summary),
    })),
  )
}

/** What lies in a place and has rights of its own that leave this person out; everything else there has the place's. */
async function hiddenIn(
  manager: EntityManager,
  personId: string,
  shareId: string,
  folderId: string | null,
): Promise<string[]> {
  const rows = await select(
    manager,
    z.object({ id: z.string() }),
    // What is a realm is found by an index of its own, so that nothing of a large folder is read for it.
    `select e.id from entry e where e.share_id = $1 and e.folder_id ${folderId ? '= $2' : 'is null and $2::uuid is null'}
       and e.realm_id = e.id and e.removed_at is null and not ${maySee('$3')}`,
    [shareId, folderId, personId],
  )
  return rows.map(({ id }) => id)
}

/** All names in a share (folderId null) or a folder, to check a new one against. */
export async function namesIn(
  manager: EntityManager,
  personId: string,
  shareId: string,
  folderId: string | null,
): Promise<string[]> {
  await requireRoleIn(manager, personId, { shareId, folderId }, 'view')
  const rows = await manager.find(EntryRow, {
    select: { id: true, name: true },
    where: { shareId, folderId: folderId ?? IsNull(), removedAt: IsNull() },
  })
  return rows.map(({ name }) => name)
}

/** Folders this person filed in or opened from last. */
export async function recentPlaces(manager: EntityManager, personId: string): Promise<RecentPlace[]> {
  const rows = await select(
    manager,
    z.object({ share_id: z.string(), share: z.string(), folder_id: z.string().nullable() }),
    `select e.share_id, s.name as share, e.folder_id from file_use u join entry e on e.id = u.file_id and e.removed_at is null
     join share s on s.id = e.share_id ${seenBy('$1')} and may_see.rank >= 2
     where u.person_id = $1 group by e.share_id, s.name, e.folder_id order by max(u.used_at) desc limit 8`,
    [personId],
  )
  const places: RecentPlace[] = []
  for (const row of rows)
    places.push({
      shareId: row.share_id,
      share: row.share,
      folderId: row.folder_id,
      folders: (await trailTo(manager, row.folder_id)).map(({ name }) => name),
    })
  return places
}

const letter = { document: 'd', spreadsheet: 's', other: 'o' } as const

/** Every name of a share with what an audit needs to know of it. */
export async function auditMaterial(manager: EntityManager, personId: string, shareId: string): Promise<AuditMaterial> {
  await requireShare(manager, personId, shareId, 'view')
  const [folders, files] = await Promise.all([
    select(
      manager,
      z.object({ id: z.string(), parentId: z.string().nullable(), name: z.string() }),
      `select e.id, e.folder_id as "parentId", e.name from entry e ${seenBy('$2')}
       where e.share_id = $1 and e.kind = 'folder' and e.removed_at is null order by e.name_key`,
      [shareId, personId],
    ),
    select(
      manager,
      z.object({
        id: z.string(),
        folder_id: z.string().nullable(),
        name: z.string(),
        type: z.string(),
        created_at: z.date(),
        title: z.string(),
      }),
      `select e.id, e.folder_id, e.name, e.type, e.created_at, coalesce(i.title, '') as title from entry e ${seenBy('$2')} left join search_file i on i.file_id = e.id
       where e.share_id = $1 and e.kind = 'file' and e.removed_at is null order by e.folder_id, e.name_key`,
      [shareId, personId],
    ),
  ])
  return {
    folders,
    files: files.map(({ id, folder_id, name, type, created_at, title }) => [
      id,
      folder_id,
      name,
      letter[fileType(type).kind],
      created_at.toISOString(),
      title,
    ]),
  }
}
