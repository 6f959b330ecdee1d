// Rules of retention: set for a share or a folder by its managers, inherited by what is below, stopped by a hold on
// a file or on a folder above it. What a rule would do is told before it is set.

import type { EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Retention, RetentionPreview, RetentionRule, Version } from '../../core/contract'
import { goneByRetention } from '../../core/history/retention'
import { fromKept, say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { EntryRow } from '../files/entity'
import { trailTo } from '../files/folders'
import { Refusal } from '../refusal'
import { requireRoleAt, requireRoleIn, seenBy } from '../rights/service'
import { shareFor } from '../shares/service'
import { select, selectOne } from '../sql/rows'
import { HoldRow, RetentionRow } from './entity'

/** Entries of the log that are shown. */
const logged = 200
/** Contents whose chunks are looked at for what a rule would free; past it the rest is reckoned by these. */
const mostLookedAt = 3000

export interface RetainedRow {
  id: string
  number: number
  reason: Version['reason']
  at: string
  authorId: string
  sha256: Buffer
  size: number
  /** Has a label, was sent to somebody, or is shown by a link. */
  kept: boolean
}

/** A file's versions, oldest first. */
export async function historyOf(manager: EntityManager, fileId: string): Promise<RetainedRow[]> {
  const rows = await select(
    manager,
    z.custom<Omit<RetainedRow, 'at' | 'size'> & { at: Date; size: string }>(),
    `select v.id, v.number, v.reason, v.at, v.author_id as "authorId", v.sha256, v.size, k.version_id is not null or is_with_others(v.id) as kept
     from version v left join kept_version k on k.version_id = v.id where v.file_id = $1 order by v.number`,
    [fileId],
  )
  return rows.map((row) => ({ ...row, at: row.at.toISOString(), size: Number(row.size) }))
}

/** Folders and files of a share by what is above them: the nearest rule holds, and any hold. */
const below = `with recursive ruled as (
    select e.id, e.kind, e.share_id, coalesce(own.rule, whole.rule) as rule, h.entry_id is not null as held
    from entry e left join retention own on own.folder_id = e.id
      left join retention whole on whole.share_id = e.share_id and whole.folder_id is null
      left join retention_hold h on h.entry_id = e.id
    where e.folder_id is null and e.removed_at is null
    union all
    select e.id, e.kind, e.share_id, coalesce(own.rule, r.rule), r.held or h.entry_id is not null
    from ruled r join entry e on e.folder_id = r.id and e.removed_at is null
      left join retention own on own.folder_id = e.id left join retention_hold h on h.entry_id = e.id)`

/** Every file that a rule holds for, and no hold. */
export async function filesUnderRetention(manager: EntityManager): Promise<{ fileId: string; rule: RetentionRule }[]> {
  if (!(await manager.exists(RetentionRow))) return []
  return select(
    manager,
    z.object({ fileId: z.string(), rule: z.custom<RetentionRule>() }),
    `${below} select id as "fileId", rule from ruled where kind = 'file' and rule is not null and not held`,
  )
}

/** The rule that holds for a file at this moment, and whether a hold does; asked again before anything of it goes. */
export async function retentionOfFile(
  manager: EntityManager,
  fileId: string,
): Promise<{ rule: RetentionRule | null; held: boolean }> {
  return selectOne(
    manager,
    z.object({ rule: z.custom<RetentionRule>().nullable(), held: z.boolean() }),
    `with recursive up(id, folder_id, share_id, far) as (
       select id, folder_id, share_id, 0 from entry where id = $1
       union all select e.id, e.folder_id, e.share_id, up.far + 1 from up join entry e on e.id = up.folder_id where up.far < 100)
     select (select rule from (
         select r.rule, up.far from up join retention r on r.folder_id = up.id
         union all select r.rule, 1000000 from up join retention r on r.share_id = up.share_id and r.folder_id is null where up.far = 0) rules
       order by far limit 1) as rule,
       exists (select from up join retention_hold h on h.entry_id = up.id) as held`,
    [fileId],
  )
}

/** @param rule null takes it away: what is above holds again @throws Refusal not-allowed, not-found */
export async function setRetention(
  manager: EntityManager,
  personId: string,
  shareId: string,
  { folderId, rule }: { folderId: string | null; rule: RetentionRule | null },
): Promise<void> {
  await requireRoleIn(manager, personId, { shareId, folderId }, 'manage')
  if (!rule) await manager.delete(RetentionRow, { shareId, folderId: folderId ?? IsNull() })
  else
    await manager
      .createQueryBuilder()
      .insert()
      .into(RetentionRow)
      .values({ id: uuidv7(), shareId, folderId, rule, setBy: personId, setAt: () => 'clock_timestamp()' })
      .orUpdate(['rule', 'set_by', 'set_at'], ['share_id', 'folder_id'])
      .execute()
  await auditing(manager, { personId, shareId, what: 'retention set', facts: { folderId, rule } })
}

/** @param why null ends the hold @throws Refusal not-allowed, not-found */
export async function setHold(
  manager: EntityManager,
  personId: string,
  entryId: string,
  why: string | null,
): Promise<void> {
  await requireRoleAt(manager, personId, entryId, 'manage')
  const { shareId } = await manager.findOneByOrFail(EntryRow, { id: entryId })
  const [there] = await select(
    manager,
    z.object({ person_id: z.string(), name: z.string() }),
    'select h.person_id, p.name from retention_hold h join person p on p.id = h.person_id where h.entry_id = $1',
    [entryId],
  )
  if (there && there.person_id !== personId)
    throw new Refusal('not-allowed', say('problem.put-this-on-hold-and-is-the', { thereName: there.name }))
  if (why === null) await manager.delete(HoldRow, { entryId })
  else
    await manager
      .createQueryBuilder()
      .insert()
      .into(HoldRow)
      .values({ entryId, personId, why, at: () => 'clock_timestamp()' })
      .orUpdate(['why', 'at'], ['entry_id'], {
        overwriteCondition: { where: 'retention_hold.person_id = excluded.person_id' },
      })
      .execute()
  await auditing(manager, {
    personId,
    shareId,
    what: why === null ? 'hold lifted' : 'hold set',
    facts: { entryId, why },
  })
}

/** The rules of a share, its holds, and what went. */
export async function retentionOf(manager: EntityManager, personId: string, shareId: string): Promise<Retention> {
  const share = await shareFor(manager, personId, shareId)
  const path = async (folderId: string | null) => [
    share.name,
    ...(await trailTo(manager, folderId)).map(({ name }) => name),
  ]
  const rules = await select(
    manager,
    z.object({ folder_id: z.string().nullable(), rule: z.custom<RetentionRule>(), by: z.string(), set_at: z.date() }),
    `select r.folder_id, r.rule, p.name as by, r.set_at from retention r join person p on p.id = r.set_by
     left join entry e on e.id = r.folder_id ${seenBy('$2', 'coalesce(e.realm_id, r.share_id)')}
     where r.share_id = $1 and e.removed_at is null order by r.folder_id is not null, e.name`,
    [shareId, personId],
  )
  const holds = await select(
    manager,
    z.object({
      entry_id: z.string(),
      folder_id: z.string().nullable(),
      name: z.string(),
      why: z.string(),
      by: z.string(),
      at: z.date(),
    }),
    `select h.entry_id, e.folder_id, e.name, h.why, p.name as by, h.at from retention_hold h join entry e on e.id = h.entry_id
       join person p on p.id = h.person_id ${seenBy('$2')} where e.share_id = $1 and e.removed_at is null order by h.at desc`,
    [shareId, personId],
  )
  const gone = await selectOne(
    manager,
    z.object({ versions: z.number(), bytes: z.number() }),
    `select count(*)::int as versions, coalesce(sum(r.size), 0)::float8 as bytes from removed_version r join entry e on e.id = r.file_id ${seenBy('$2')} where e.share_id = $1`,
    [shareId, personId],
  )
  const log = await select(
    manager,
    z.object({
      name: z.string(),
      number: z.number(),
      at: z.date(),
      author: z.string(),
      removed_at: z.date(),
      why: z.string(),
    }),
    `select e.name, r.number, r.at, p.name as author, r.removed_at, r.why from removed_version r
       join entry e on e.id = r.file_id join person p on p.id = r.author_id ${seenBy('$2')}
       where e.share_id = $1 order by r.removed_at desc, r.number limit ${logged}`,
    [shareId, personId],
  )
  return {
    rules: await Promise.all(
      rules.map(async ({ folder_id, rule, by, set_at }) => ({
        folderId: folder_id,
        path: await path(folder_id),
        rule,
        by,
        at: set_at.toISOString(),
      })),
    ),
    holds: await Promise.all(
      holds.map(async ({ entry_id, folder_id, name, why, by, at }) => ({
        entryId: entry_id,
        path: [...(await path(folder_id)), name],
        why,
        by,
        at: at.toISOString(),
      })),
    ),
    gone,
    log: log.map(({ removed_at, at, why, ...row }) => ({
      ...row,
      why: fromKept(why),
      at: at.toISOString(),
      removedAt: removed_at.toISOString(),
    })),
  }
}

/** What a rule would remove now in a share or folder, where no other rule is nearer. Nothing is changed. */
export async function previewRetention(
  manager: EntityManager,
  personId: string,
  shareId: string,
  { folderId, rule }: { folderId: string | null; rule: RetentionRule | null },
  now = Date.now(),
): Promise<RetentionPreview> {
  await requireRoleIn(manager, personId, { shareId, folderId }, 'manage')
  if (!rule) throw new Refusal('invalid', say('problem.say-what-the-rule-would-be'))
  const files = await select(
    manager,
    z.object({ id: z.string(), name: z.string(), held: z.boolean() }),
    `with recursive inside as (
       select e.id, e.kind, e.name, e.id = $2 or h.entry_id is not null as at_root, h.entry_id is not null as held
       from entry e left join retention_hold h on h.entry_id = e.id left join retention r on r.folder_id = e.id
       where e.share_id = $1 and e.removed_at is null and (e.id = $2 or ($2::uuid is null and e.folder_id is null and r.id is null))
       union all
       select e.id, e.kind, e.name, i.at_root, i.held or h.entry_id is not null
       from inside i join entry e on e.folder_id = i.id and e.removed_at is null
         left join retention_hold h on h.entry_id = e.id left join retention r on r.folder_id = e.id
       where r.id is null)
     select id, name, held from inside where kind = 'file'`,
    [shareId, folderId],
  )
  const preview: RetentionPreview = {
    files: files.length,
    versions: 0,
    gone: 0,
    frees: 0,
    asFiles: 0,
    held: files.filter(({ held }) => held).length,
    months: [],
    most: [],
  }
  const months = new Map<string, { stay: number; gone: number }>()
  const going: string[] = []
  for (const { id, name, held } of files) {
    const rows = await historyOf(manager, id)
    const gone = new Set(
      held
        ? []
        : goneByRetention(
            rows.map(({ at, kept }) => ({ at: Date.parse(at), kept })),
            rule,
            now,
          ),
    )
    for (const [index, { at, size, id: versionId }] of rows.entries()) {
      const month = at.slice(0, 7)
      const count = months.get(month) ?? { stay: 0, gone: 0 }
      months.set(month, count)
      count[gone.has(index) ? 'gone' : 'stay']++
      if (!gone.has(index)) continue
      preview.asFiles += size
      going.push(versionId)
    }
    preview.versions += rows.length
    preview.gone += gone.size
    if (gone.size) preview.most.push({ fileId: id, name, versions: rows.length, gone: gone.size })
  }
  preview.most.sort((a, b) => b.gone - a.gone)
  preview.most.length = Math.min(preview.most.length, 12)
  preview.months = [...months].sort(([a], [b]) => (a < b ? -1 : 1)).map(([month, count]) => ({ month, ...count }))
  preview.frees = await freedBy(manager, going)
  return preview
}

/** Bytes of contents and chunks that nothing but these versions needs. */
async function freedBy(manager: EntityManager, versionIds: readonly string[]): Promise<number> {
  if (!versionIds.length) return 0
  const contents = await select(
    manager,
    z.object({ sha256: z.instanceof(Buffer) }),
    `select distinct v.sha256 from version v where v.id = any($1)
       and not exists (select from version o where o.sha256 = v.sha256 and not o.id = any($1))`,
    [versionIds],
  )
  const digests = contents.slice(0, mostLookedAt).map(({ sha256 }) => sha256)
  const { chunks } = await selectOne(
    manager,
    z.object({ chunks: z.number() }),
    // What these versions consist of and all that it is kept by; of that, what others consist of or are kept by stays.
    `with recursive candidate(id) as (
       select unnest(chunks) from content where sha256 = any($1)
       union select unnest(c.roots) from candidate join chunk c on c.id = candidate.id),
     needed(id) as (
       select id from candidate
       where exists (select from content o where o.chunks @> array[candidate.id] and not o.sha256 = any($1))
          or exists (select from chunk k where k.roots @> array[candidate.id] and not k.id in (select id from candidate))
       union select unnest(c.roots) from needed join chunk c on c.id = needed.id)
     select coalesce((select sum(octet_length(k.bytes)) from chunk k where k.id in (select id from candidate except select id from needed)), 0)::float8
          + coalesce((select sum(octet_length(b.bytes)) from content_block b where b.sha256 = any($1)), 0)::float8 as chunks`,
    [digests],
  )
  return Math.round(chunks * (contents.length / Math.max(1, digests.length)))
}
