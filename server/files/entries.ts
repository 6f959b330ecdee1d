// Folders and files as people see them.

import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Entry } from '../../core/contract'
import { absent } from '../refusal'
import { select } from '../sql/rows'
import type { VersionColumns } from '../versions/read'
import { shownVersion } from '../versions/read'

export const entryColumns = `e.id, e.kind, e.share_id, e.folder_id, e.name, e.type,
  case when e.kind = 'folder' then entries_in(e.id)
    - (select count(*)::int from entry c where c.share_id = e.share_id and c.folder_id = e.id and c.realm_id = c.id
      and c.removed_at is null) end as children,
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
  const [row] = await select(
    manager,
    z.custom<EntryColumns>(),
    `select ${entryColumns} ${entryJoins} where e.id = $1 and e.kind = $2 and e.removed_at is null`,
    [id, kind],
  )
  if (!row) throw absent()
  return shownEntry(row)
}
