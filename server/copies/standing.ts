// How copies stand, as the screen shows it: to an administrator all of them, to others those of their shares.
import { basename } from 'node:path'
import type { DataSource } from 'typeorm'
import { IsNull } from 'typeorm'
import { z } from 'zod'
import {
  type Copies,
  CopyAlarm,
  type CopyFinding,
  type CopySite,
  type CopyStanding,
  type Person,
  type Role,
} from '../../core/contract'
import { isLate } from '../../core/copies/plan'
import { fromKept } from '../../core/words/said'
import { maySee } from '../rights/service'
import { select, selectOne } from '../sql/rows'
import { told } from './by-itself'
import { CopyDrillRow, CopyPlanRow, CopySiteRow } from './entity'
import { lookAt } from './look-at'
import { type FolderPlan, folderPlans, holds, PlanRow, planIn, planOf } from './plans'
import { doingTo } from './progress'
import { coverage, historyOf } from './samples'
import { drivesThere, type Reachable } from './sites'
import { isDamagedFor, storeStands } from './store-check'
import { isTried } from './trials'

/** Findings that are told one by one. */
const mostFindings = 200

const Row = PlanRow.extend({
  site_id: z.string(),
  share_id: z.string(),
  share: z.string(),
  own: z.boolean(),
  every: z.number().nullable(),
  copied_at: z.date().nullable(),
  checked_at: z.date().nullable(),
  stood_versions: z.number().nullable(),
  bytes: z.string().nullable(),
  versions: z.number(),
  covered: z.number(),
  open_since: z.date().nullable(),
  faults: z.number().nullable(),
  unread: z.number().nullable(),
  failed_since: z.date().nullable(),
  failure: z.string().nullable(),
  wanted: z.boolean(),
})

function standing(row: z.output<typeof Row>, plans: readonly FolderPlan[], now: Date): CopyStanding {
  const doing = doingTo(row.site_id, row.share_id)
  return {
    shareId: row.share_id,
    share: row.share,
    plan: planIn(row),
    own: row.own,
    folders: plans.map(({ folderId, path, plan }) => ({ folderId, path, plan })),
    planned: row.every !== null,
    copiedAt: row.copied_at?.toISOString() ?? null,
    checkedAt: row.checked_at?.toISOString() ?? null,
    versions: row.stood_versions ?? 0,
    bytes: Number(row.bytes ?? 0),
    ofVersions: row.versions,
    covered: row.covered,
    openSince: row.open_since?.toISOString() ?? null,
    late: row.every !== null && isLate(row.every, row.open_since, now),
    faults: row.faults ?? 0,
    unread: row.unread ?? 0,
    failed:
      row.failed_since && row.failure !== null
        ? { since: row.failed_since.toISOString(), why: fromKept(row.failure) }
        : null,
    doing: doing ? { is: doing.is, done: doing.done, all: doing.all } : null,
    // What nothing is planned for any more is waited for by nobody.
    wanted: row.wanted && row.every !== null && !doing,
  }
}

/** The shares whose copies a person may look at. */
async function sharesFor(database: DataSource, { id, administrator }: Person, needed: Role): Promise<string[]> {
  const rows = await select(
    database,
    z.object({ id: z.string() }),
    `select s.id from share s where $2 or ${maySee('$1', 's.id', needed)}`,
    [id, administrator],
  )
  return rows.map((row) => row.id)
}

const Loss = z.object({
  versions: z.number(),
  doubtful: z.number(),
  of_versions: z.number(),
  files: z.number(),
  of_files: z.number(),
  since: z.date().nullable(),
})
/** What is in no copy of any site. */
async function lossOf(database: DataSource, shareIds: string[], person: Person): Promise<Copies['loss']> {
  const row = await selectOne(
    database,
    Loss,
    `with held as (
       select v.id, bool_or(coalesce(c.faults, 0) = 0 and c.unread = 0) as well from entry e join copied_file f on f.file_id = e.id join share_copy c on c.id = f.copy_id
       join version v on v.file_id = f.file_id and v.number <= f.number
       where e.share_id = any($1) and e.removed_at is null and ${holds} group by v.id),
     every_version as (
       select v.file_id, v.at, held.id is not null as held, held.well
       from entry e join version v on v.file_id = e.id left join held on held.id = v.id
       where e.share_id = any($1) and e.removed_at is null)
     select (count(*) filter (where not held))::int as versions, (count(*) filter (where not well))::int as doubtful, count(*)::int as of_versions,
       (count(distinct file_id) - count(distinct file_id) filter (where held))::int as files,
       count(distinct file_id)::int as of_files, min(at) filter (where not held) as since from every_version`,
    [shareIds],
  )
  const { drafts } = await selectOne(
    database,
    z.object({ drafts: z.number() }),
    `select count(*)::int as drafts from draft d where d.state <> 'finished' and d.journal_seq > d.saved_seq and ($2 or d.person_id = $1)`,
    [person.id, person.administrator],
  )
  return {
    versions: row.versions,
    doubtful: row.doubtful,
    ofVersions: row.of_versions,
    files: row.files,
    ofFiles: row.of_files,
    since: row.since?.toISOString() ?? null,
    drafts,
  }
}

export async function copiesFor(
  database: DataSource,
  person: Person,
  reachable: Reachable,
  now = new Date(),
): Promise<Copies> {
  const shareIds = await sharesFor(database, person, 'view')
  const rows = await select(
    database,
    Row,
    `select k.site_id, k.share_id, s.name as share, p.extent, p.hours, p.check_days, p.back_days, p.most_rate,
       p.share_id is not null as own, p.every, c.copied_at, c.checked_at, c.versions as stood_versions, c.bytes, k.versions, k.covered,
       k.open_since, c.faults, c.unread, c.failed_since, c.failure, coalesce(c.copy_wanted or c.check_wanted, false) as wanted
     from (${coverage}) k join share s on s.id = k.share_id join copy_site t on t.id = k.site_id ${planOf}
     left join share_copy c on c.id = k.copy_id where k.share_id = any($1) order by s.name_key`,
    [shareIds],
  )
  // Where a folder is, and what it is called, is told to those who may see it.
  const plans = await folderPlans(database.manager, { shareIds, seenBy: person.administrator ? null : person.id })
  const sites: CopySite[] = []
  for (const site of await database.manager.find(CopySiteRow, { order: { addedAt: 'ASC' } })) {
    const plan = await database.manager.findOneBy(CopyPlanRow, {
      siteId: site.id,
      shareId: IsNull(),
      folderId: IsNull(),
    })
    const [drilled] = await database.manager.find(CopyDrillRow, {
      where: { siteId: site.id },
      order: { at: 'DESC' },
      take: 1,
    })
    const here = await lookAt(database, site, reachable).catch((error: unknown) => ({ problem: told(error) }))
    const away = 'problem' in here
    sites.push({
      id: site.id,
      kind: site.kind,
      name: site.name,
      folder: !person.administrator ? null : away ? site.folder : here.root,
      account: person.administrator ? site.account : null,
      key: person.administrator ? site.hostKey : null,
      problem: away ? here.problem : null,
      seenAt: (away ? site.seenAt : now)?.toISOString() ?? null,
      drill: drilled
        ? {
            at: drilled.at.toISOString(),
            versions: drilled.versions,
            differ: drilled.differ,
            failure: drilled.failure === null ? null : fromKept(drilled.failure),
          }
        : null,
      trial: isTried(site.id) ? 'under way' : site.trialWanted ? 'wanted' : null,
      plan: plan && {
        extent: plan.extent,
        hours: plan.hours,
        checkDays: plan.checkDays,
        backDays: plan.backDays,
        mostRate: plan.mostRate,
      },
      shares: rows
        .filter(({ site_id }) => site_id === site.id)
        .map((row) =>
          standing(
            row,
            plans.filter(({ siteId, shareId }) => siteId === site.id && shareId === row.share_id),
            now,
          ),
        ),
    })
  }
  const known = new Set(sites.map(({ id }) => id))
  const drives = person.administrator ? await drivesThere(reachable) : []
  // Its path names what not every member of a share may see.
  const findings = await openFindings(database, await sharesFor(database, person, 'manage'))
  return {
    sites,
    drives: drives.filter(({ site }) => !site || !known.has(site)).map(({ path }) => basename(path)),
    trialDays: reachable.trialDays ?? null,
    hosts: person.administrator ? [...(reachable.hosts?.all ?? [])] : [],
    findings: findings.slice(0, mostFindings),
    findingsInAll: findings.length,
    store: await storeStands(database, person, reachable.days ?? 7, now),
    loss: await lossOf(database, shareIds, person),
    history: await historyOf(database, shareIds, now),
  }
}

const Alarm = z.object({ site_id: z.string(), site: z.string(), is: CopyAlarm.shape.is })
/**
 * The worst of each place, without looking at what exactly is in it: a copy that was not made again for longer than
 * its plan says is late, whether something changed or not.
 */
export async function alarmsFor(database: DataSource, person: Person, now = new Date()): Promise<CopyAlarm[]> {
  const rows = await select(
    database,
    Alarm,
    `select distinct on (t.added_at, t.id) t.id as site_id, t.name as site, a.is from copy_site t cross join share s ${planOf}
     left join share_copy c on c.site_id = t.id and c.share_id = s.id
     cross join lateral (select case when c.failure is not null then 'failing' when c.faults > 0 or c.unread > 0 then 'damaged'
       when p.every > 0 and coalesce(c.copied_at, p.changed_at) < $2::timestamptz - make_interval(secs => p.every * 4500 + 3600) then 'late' end as is) a
     where p.planned and a.is is not null and s.id = any($1)
     order by t.added_at, t.id, array_position(array['failing', 'damaged', 'late'], a.is)`,
    [await sharesFor(database, person, 'view'), now],
  )
  const places = rows.map(({ site_id, site, is }) => ({ siteId: site_id, site, is }))
  return (await isDamagedFor(database, person)) ? [{ siteId: null, site: '', is: 'store' }, ...places] : places
}

const Found = z.object({
  id: z.string(),
  site_id: z.string(),
  share_id: z.string(),
  share: z.string(),
  site: z.string(),
  at: z.date(),
  path: z.string(),
  is_what: z.enum(['missing', 'wrong', 'says wrong']),
  repaired: z.boolean(),
})
async function openFindings(database: DataSource, shareIds: string[]): Promise<CopyFinding[]> {
  const rows = await select(
    database,
    Found,
    `select g.id, c.site_id, c.share_id, s.name as share, t.name as site, g.at, g.path, g.is_what, g.repaired
     from copy_finding g join share_copy c on c.id = g.copy_id join share s on s.id = c.share_id join copy_site t on t.id = c.site_id
     where g.seen_at is null and c.share_id = any($1) order by g.at desc, g.path`,
    [shareIds],
  )
  return rows.map(({ site_id, share_id, is_what, at, ...row }) => ({
    ...row,
    siteId: site_id,
    shareId: share_id,
    is: is_what,
    at: at.toISOString(),
  }))
}
