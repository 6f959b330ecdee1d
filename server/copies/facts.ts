// What a copy of a share holds beside the files themselves: everything that Jaula knows of it, as it was at one moment.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { CopiedFile, CopiedFolder, CopiedVersion } from '../../core/copies/layout'
import { select } from '../sql/rows'

export interface Facts {
  share: { id: string; name: string }
  folders: CopiedFolder[]
  files: CopiedFile[]
  /** Labels by version. */
  labels: Map<string, string>
  reasons: Map<string, string>
  /** Rows of the database, as its own words are, by what has to be there first. */
  records: { table: string; row: Record<string, unknown> }[]
}

/** People that something of a share names. */
const people = `select p.id from person p where p.id in (
  select created_by from entry where share_id = $1 union select author_id from version v join entry e on e.id = v.file_id where e.share_id = $1
  union select person_id from access_grant g join realm r on r.id = g.realm_id where r.share_id = $1
  union select given_by from access_grant g join realm r on r.id = g.realm_id where r.share_id = $1
  union select m.person_id from group_member m where m.group_id in (select id from groups)
  union select k.person_id from kept_version k join version v on v.id = k.version_id join entry e on e.id = v.file_id where e.share_id = $1
  union select changed_by from controlled_list where share_id = $1
  union select cv.author_id from convention_version cv join convention c on c.id = cv.convention_id where c.share_id = $1
  union select created_by from template where share_id = $1 union select set_by from retention where share_id = $1
  union select h.person_id from retention_hold h join entry e on e.id = h.entry_id where e.share_id = $1
  union select x.author_id from removed_version x join entry e on e.id = x.file_id where e.share_id = $1
  union select id from person where administrator)`
/** Groups that may do something in it, and groups that are in those. */
const groups = `with recursive groups as (
  select g.group_id as id from access_grant g join realm r on r.id = g.realm_id where r.share_id = $1 and g.group_id is not null
  union select m.member_group_id from group_member m join groups on groups.id = m.group_id where m.member_group_id is not null)`
/** Of what was removed nothing is copied: it is gone when its days are over. */
const ofFiles = 'join entry e on e.id = t.file_id where e.share_id = $1 and e.removed_at is null'

const ofConventions =
  'join convention c on c.id = t.convention_id left join entry e on e.id = c.folder_id where c.share_id = $1 and e.removed_at is null'

/**
 * Tables of which rows belong to a share, in an order in which they can be put in again: what a row names is there before
 * it. Nothing is secret in them: people come without what they sign in with.
 */
const tables: readonly (readonly [table: string, rows: string, but?: string])[] = [
  // Links are no copy's, nor what was granted to whoever came by one; who wrote something by one is.
  ['person', `where t.id in (${people})`, "- 'password_hash'"],
  ['person_group', 'where t.id in (select id from groups)'],
  ['group_member', 'where t.group_id in (select id from groups)'],
  ['share', 'where t.id = $1'],
  ['entry', 'where t.share_id = $1 and t.removed_at is null', "- 'realm_id'"],
  [
    'realm',
    'left join entry e on e.id = t.entry_id where t.share_id = $1 and t.entry_id is not null and e.removed_at is null',
    "- 'no'",
  ],
  [
    'access_grant',
    'join realm r on r.id = t.realm_id left join entry e on e.id = r.entry_id where r.share_id = $1 and e.removed_at is null and not exists (select from person p where p.id = t.person_id and p.guest_of is not null)',
    "- 'rank'",
  ],
  ['version', ofFiles],
  ['removed_version', ofFiles],
  [
    'kept_version',
    'join version v on v.id = t.version_id join entry e on e.id = v.file_id where e.share_id = $1 and e.removed_at is null',
  ],
  [
    'taken_from',
    'join version v on v.id = t.version_id join entry e on e.id = v.file_id where e.share_id = $1 and e.removed_at is null',
  ],
  ['former_name', 'join entry e on e.id = t.entry_id where e.share_id = $1 and e.removed_at is null'],
  ['controlled_list', 'where t.share_id = $1'],
  ['convention', 'left join entry e on e.id = t.folder_id where t.share_id = $1 and e.removed_at is null'],
  ['convention_version', ofConventions],
  ['counter', ofConventions],
  [
    'counter_number',
    `${ofFiles} and exists (select from convention c left join entry f on f.id = c.folder_id where c.id = t.convention_id and f.removed_at is null)`,
  ],
  [
    'template',
    'join version v on v.id = t.version_id join entry e on e.id = v.file_id where t.share_id = $1 and e.share_id = $1 and e.removed_at is null',
  ],
  ['place_protection', 'left join entry e on e.id = t.folder_id where t.share_id = $1 and e.removed_at is null'],
  ['retention', 'left join entry e on e.id = t.folder_id where t.share_id = $1 and e.removed_at is null'],
  ['retention_hold', 'join entry e on e.id = t.entry_id where e.share_id = $1 and e.removed_at is null'],
]
const VersionFacts = z.object({
  id: z.string(),
  file_id: z.string(),
  number: z.number(),
  sha256: z.string(),
  size: z.string(),
  type: z.string(),
  at: z.date(),
  author: z.string(),
  reason: z.string(),
  label: z.string().nullable(),
})
const Named = z.object({ id: z.string(), folder_id: z.string().nullable(), name: z.string(), kind: z.string() })

/**
 * @param manager in a transaction that sees one moment
 * @param whole also all that Jaula knows of it, and not of its files alone
 * @returns null for a share that is not there
 */
export async function factsOf(manager: EntityManager, shareId: string, whole = true): Promise<Facts | null> {
  const [share] = await select(
    manager,
    z.object({ id: z.string(), name: z.string() }),
    'select id, name from share where id = $1',
    [shareId],
  )
  if (!share) return null
  const entries = await select(
    manager,
    Named,
    'select id, folder_id, name, kind from entry where share_id = $1 and removed_at is null',
    [shareId],
  )
  const versions = await select(
    manager,
    VersionFacts,
    `select v.id, v.file_id, v.number, encode(v.sha256, 'hex') as sha256, v.size, v.type, v.at, p.name as author, v.reason, k.label
     from version v join entry e on e.id = v.file_id join person p on p.id = v.author_id left join kept_version k on k.version_id = v.id
     where e.share_id = $1 and e.removed_at is null order by v.file_id, v.number`,
    [shareId],
  )
  const byFile = new Map<string, CopiedVersion[]>()
  const facts: Facts = { share, folders: [], files: [], labels: new Map(), reasons: new Map(), records: [] }
  for (const { id, file_id, number, sha256, size, type, at, author, reason, label } of versions) {
    const one = { id, number, sha256, size: Number(size), type, author, at: at.toISOString(), kept: label !== null }
    const there = byFile.get(file_id)
    if (there) there.push(one)
    else byFile.set(file_id, [one])
    if (label !== null) facts.labels.set(id, label)
    facts.reasons.set(id, reason)
  }
  for (const { id, folder_id, name, kind } of entries)
    if (kind === 'folder') facts.folders.push({ id, parentId: folder_id, name })
    else facts.files.push({ id, folderId: folder_id, name, versions: byFile.get(id) ?? [] })
  for (const [table, rows, but = ''] of whole ? tables : []) {
    // Many rows as one text: to take them over one by one takes ten times as long.
    const found = await select(
      manager,
      z.object({ rows: z.string() }),
      `${groups} select string_agg(row::text, E'\\n') as rows from (
         select to_jsonb(t) ${but} as row, row_number() over () as n from ${table} t ${rows}) every group by n / 1000`,
      [shareId],
    )
    for (const some of found)
      for (const row of some.rows.split('\n')) facts.records.push({ table, row: JSON.parse(row) })
  }
  return facts
}
