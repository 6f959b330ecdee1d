import type { EntityManager } from 'typeorm'
import type { AuditMaterial, RecentPlace } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { requireRole } from '../shares/service'
import { trailTo } from './service'

/** All names in a share (folderId null) or a folder, to check a new one against. */
export async function namesIn(
  manager: EntityManager,
  personId: string,
  shareId: string,
  folderId: string | null,
): Promise<string[]> {
  await requireRole(manager, personId, shareId, 'view')
  const rows: { name: string }[] = await manager.query(
    `select name from entry where share_id = $1 and folder_id ${folderId ? '= $2' : 'is null and $2::uuid is null'} and removed_at is null`,
    [shareId, folderId],
  )
  return rows.map(({ name }) => name)
}

/** Folders this person filed in or opened from last. */
export async function recentPlaces(manager: EntityManager, personId: string): Promise<RecentPlace[]> {
  const rows: { share_id: string; share: string; folder_id: string | null }[] = await manager.query(
    `select e.share_id, s.name as share, e.folder_id from file_use u join entry e on e.id = u.file_id and e.removed_at is null
     join share s on s.id = e.share_id join membership m on m.share_id = s.id and m.person_id = $1 and m.role <> 'view'
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
  await requireRole(manager, personId, shareId, 'view')
  const [folders, files] = await Promise.all([
    manager.query(
      `select id, folder_id as "parentId", name from entry where share_id = $1 and kind = 'folder' and removed_at is null order by name_key`,
      [shareId],
    ),
    manager.query(
      `select e.id, e.folder_id, e.name, e.type, e.created_at, coalesce(i.title, '') as title from entry e left join search_file i on i.file_id = e.id
       where e.share_id = $1 and e.kind = 'file' and e.removed_at is null order by e.folder_id, e.name_key`,
      [shareId],
    ) as Promise<
      { id: string; folder_id: string | null; name: string; type: string; created_at: Date; title: string }[]
    >,
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
