// Versions as people see them.

import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { HistoryVersion, Version } from '../../core/contract'
import { fromKept } from '../../core/words/said'
import { absent } from '../refusal'
import { requireRoleAt } from '../rights/service'
import { select } from '../sql/rows'

const versionColumns = `v.id, v.file_id, v.number, encode(v.sha256, 'hex') as sha256, v.size, v.type, v.at, v.base_version_id, v.reason,
  a.id as author_id, a.name as author_name`

export const VersionColumns = z.object({
  id: z.string(),
  file_id: z.string(),
  number: z.number(),
  sha256: z.string(),
  size: z.string(),
  type: z.string(),
  at: z.date(),
  base_version_id: z.string().nullable(),
  reason: z.custom<Version['reason']>(),
  author_id: z.string(),
  author_name: z.string(),
})
export type VersionColumns = z.output<typeof VersionColumns>

export function shownVersion(row: VersionColumns): Version {
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

/** A version with where its file is, and whose rights it has. */
export type PlacedVersion = Version & { shareId: string; realmId: string; fileName: string }

export const versionAlone = ({ shareId: _, realmId: __, fileName: ___, ...version }: PlacedVersion): Version => version

/** A version of a file that was not removed. */
export async function versionById(manager: EntityManager, id: string): Promise<PlacedVersion> {
  const [row] = await select(
    manager,
    VersionColumns.and(z.object({ share_id: z.string(), realm_id: z.string(), file_name: z.string() })),
    `select ${versionColumns}, e.share_id, e.realm_id, e.name as file_name from version v join person a on a.id = v.author_id join entry e on e.id = v.file_id where v.id = $1 and e.removed_at is null`,
    [id],
  )
  if (!row) throw absent()
  return { ...shownVersion(row), shareId: row.share_id, realmId: row.realm_id, fileName: row.file_name }
}

/** Versions that come with a file's facts. */
export const newestShown = 200

export async function pageOfVersions(
  manager: EntityManager,
  fileId: string,
  before: number | null,
  limit: number,
): Promise<HistoryVersion[]> {
  const rows = await select(
    manager,
    z.custom<
      VersionColumns & {
        summary: string | null
        weight: number | null
        label: string | null
        path: string | null
        writer: string | null
      }
    >(),
    `select ${versionColumns}, c.summary, c.weight, k.label, t.path, t.author as writer
       from (select * from version where file_id = $1 and ($2::int is null or number < $2) order by number desc limit $3) v
       join person a on a.id = v.author_id
       left join version_change c on c.version_id = v.id left join kept_version k on k.version_id = v.id
       left join taken_from t on t.version_id = v.id order by v.number desc`,
    [fileId, before, limit],
  )
  return rows.map((row) => ({
    ...shownVersion(row),
    summary: row.summary === null ? null : fromKept(row.summary),
    weight: row.weight,
    label: row.label,
    from: row.path === null ? null : { path: row.path, author: row.writer! },
  }))
}

/** A page of a file's versions, newest first. @param before only those with a smaller number; null from the newest on */
export async function versionsOf(
  manager: EntityManager,
  personId: string,
  fileId: string,
  before: number | null,
  limit: number,
): Promise<HistoryVersion[]> {
  await requireRoleAt(manager, personId, fileId, 'view')
  return pageOfVersions(manager, fileId, before, limit)
}
