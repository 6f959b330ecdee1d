// What a share or folder was at a moment, from what never goes: versions, and acts with where things were before them.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Moment, MomentDifference, PlaceChanges } from '../../core/contract'
import { differencesAt, type EntryThenAndNow } from '../../core/history/moment'
import { keptDays } from '../files/removed'
import { absent } from '../refusal'
import { requireRoleIn, requireShare, seenBy } from '../rights/service'
import { select, selectOne } from '../sql/rows'

/** Differences that are told one by one. */
const most = 2000

const Row = z.object({
  id: z.string(),
  kind: z.enum(['folder', 'file']),
  type: z.string(),
  share_id: z.string(),
  folder_id: z.string().nullable(),
  name: z.string(),
  removed_at: z.date().nullable(),
  existed: z.boolean(),
  then_share: z.string(),
  then_folder: z.string().nullable(),
  then_name: z.string(),
  then_removed: z.boolean(),
  head: z.string().nullable(),
  head_number: z.number().nullable(),
  head_at: z.date().nullable(),
  head_author: z.string().nullable(),
  head_sha256: z.string().nullable(),
  then_version: z.string().nullable(),
  then_number: z.number().nullable(),
  then_at: z.date().nullable(),
  then_author: z.string().nullable(),
  then_sha256: z.string().nullable(),
  then_size: z.string().nullable(),
  nearest: z.boolean(),
})
export type EntryAt = z.output<typeof Row>

/**
 * Every entry that is in a share, or was at the moment, as far as a person may see it: as it is, and as it was before the
 * first act after the moment.
 */
export async function entriesAt(
  manager: EntityManager,
  personId: string,
  shareId: string,
  at: Date,
): Promise<EntryAt[]> {
  const rows = await select(
    manager,
    Row,
    `select e.id, e.kind, e.type, e.share_id, e.folder_id, e.name, e.removed_at, e.created_at <= $2 and (e.kind = 'folder' or t.id is not null) as existed,
       coalesce(c.from_share, e.share_id) as then_share, case when c.act_id is null then e.folder_id else c.from_folder end as then_folder,
       coalesce(c.from_name, e.name) as then_name, coalesce(c.from_removed, e.removed_at is not null) as then_removed,
       h.id as head, h.number as head_number, h.at as head_at, ha.name as head_author, encode(h.sha256, 'hex') as head_sha256,
       t.id as then_version, t.number as then_number, t.at as then_at, ta.name as then_author, encode(t.sha256, 'hex') as then_sha256, t.size as then_size,
       exists (select from removed_version x where x.file_id = e.id and x.at <= $2 and x.number > t.number) as nearest
     from entry e ${seenBy('$3')}
     left join lateral (
       select k.* from act_change k join act a on a.id = k.act_id where k.entry_id = e.id and a.at > $2 order by a.at, a.id limit 1) c on true
     left join version h on h.id = e.head_version_id left join person ha on ha.id = h.author_id
     left join lateral (
       select v.* from version v where v.file_id = e.id and v.at <= $2 order by v.number desc limit 1) t on true
     left join person ta on ta.id = t.author_id
     where e.share_id = $1 or c.from_share = $1`,
    [shareId, at, personId],
  )
  // Where something lay there was a folder, also where that was made here later, for files of earlier times.
  const byId = new Map(rows.map((row) => [row.id, row]))
  for (const row of rows)
    for (let up = row.existed ? byId.get(row.then_folder ?? '') : undefined; up && !up.existed; ) {
      up.existed = true
      up = byId.get(up.then_folder ?? '')
    }
  return rows
}

export const thenAndNow = (row: EntryAt): EntryThenAndNow => ({
  id: row.id,
  now: {
    shareId: row.share_id,
    folderId: row.folder_id,
    name: row.name,
    removed: row.removed_at !== null,
    sha256: row.head_sha256,
  },
  then: row.existed
    ? {
        shareId: row.then_share,
        folderId: row.then_folder,
        name: row.then_name,
        removed: row.then_removed,
        sha256: row.then_sha256,
      }
    : null,
})

/** What was removed before this cannot be brought back. */
export const goneBefore = (now = new Date()): Date => new Date(now.getTime() - keptDays * 86_400_000)

function told(row: EntryAt, differs: MomentDifference['differs'], folders: string[]): MomentDifference {
  const isNew = differs.includes('new')
  const changed = differs.includes('changed')
  return {
    id: row.id,
    kind: row.kind,
    type: row.type,
    differs,
    name: isNew ? row.name : row.then_name,
    folders,
    nameNow: differs.includes('renamed') ? row.name : null,
    version:
      row.then_version && !isNew
        ? { number: row.then_number!, at: row.then_at!.toISOString(), author: row.then_author! }
        : null,
    versionNow: row.head
      ? { number: row.head_number!, at: row.head_at!.toISOString(), author: row.head_author! }
      : null,
    nearest: changed && row.nearest,
    gone: row.removed_at !== null && row.removed_at < goneBefore(),
  }
}

/** @throws Refusal not-found */
export async function momentOf(
  manager: EntityManager,
  personId: string,
  { shareId, folderId, at }: { shareId: string; folderId: string | null; at: Date },
): Promise<Moment> {
  await requireShare(manager, personId, shareId, 'view')
  const rows = new Map((await entriesAt(manager, personId, shareId, at)).map((row) => [row.id, row]))
  if (folderId && !rows.has(folderId)) throw absent()
  const found = differencesAt([...rows.values()].map(thenAndNow), { shareId, folderId })
  const counts: Moment['counts'] = { removed: 0, moved: 0, renamed: 0, changed: 0, new: 0 }
  for (const { differs } of found) for (const one of differs) counts[one]++
  return {
    differences: found.slice(0, most).map(({ id, differs, folders }) => told(rows.get(id)!, differs, folders)),
    inAll: found.length,
    counts,
  }
}

const Stretch = z.object({ at: z.date(), versions: z.number(), moves: z.number(), people: z.array(z.string()) })
/** Changes of so long are told. */
const shownFor = '400 days'

/** How much was changed in a place, by stretches of ten minutes at most, each from right before its first change on. @throws Refusal as `requireRole` */
export async function changesIn(
  manager: EntityManager,
  personId: string,
  shareId: string,
  folderId: string | null,
): Promise<PlaceChanges> {
  await requireRoleIn(manager, personId, { shareId, folderId }, 'view')
  const { since } = await selectOne(
    manager,
    z.object({ since: z.date() }),
    `select least((select created_at from share where id = $1), (select min(created_at) from entry where share_id = $1)) as since`,
    [shareId],
  )
  const rows = await select(
    manager,
    Stretch,
    `with recursive down(id) as (select $2::uuid where $2::uuid is not null
       union select e.id from entry e join down on e.folder_id = down.id),
     mine as (select e.id from entry e ${seenBy('$3')} where e.share_id = $1 and ($2::uuid is null or e.id in (select id from down))),
     changes as (
       select v.at, v.author_id as person_id, 1 as versions, 0 as moves from mine join version v on v.file_id = mine.id where v.at > now() - interval '${shownFor}'
       union all select a.at, a.person_id, 0, 1 from mine join act_change c on c.entry_id = mine.id join act a on a.id = c.act_id
         where a.at > now() - interval '${shownFor}'),
     -- What was done in one go is one stretch, whatever the clock says meanwhile: it begins after a pause.
     begun as (select *, case when at - lag(at) over (order by at) < interval '2 minutes' then 0 else 1 end as begins from changes),
     counted as (select *, sum(begins) over (order by at) as stretch from begun),
     placed as (select *, min(at) over (partition by stretch) - interval '1 millisecond' as since from counted)
     select date_bin('10 minutes', c.at, c.since) as at, sum(versions)::int as versions, sum(moves)::int as moves,
       (array_agg(distinct p.name))[1:4] as people
     from placed c join person p on p.id = c.person_id group by 1 order by 1`,
    [shareId, folderId, personId],
  )
  return { since: since.toISOString(), stretches: rows.map(({ at, ...row }) => ({ at: at.toISOString(), ...row })) }
}
