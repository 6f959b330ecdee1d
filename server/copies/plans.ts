// What goes where: plans of sites, what is due by them, and what one would take before it is set.
import type { DataSource, EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { CopyPreview } from '../../core/contract'
import { layOut } from '../../core/copies/layout'
import { type CopyPlan, Extent, type Holding, holdingIn } from '../../core/copies/plan'
import { absent } from '../refusal'
import { maySee } from '../rights/service'
import { select } from '../sql/rows'
import { CopyPlanRow, CopySiteRow } from './entity'
import { factsOf } from './facts'
import { lookAt } from './look-at'
import type { Reachable } from './sites'

/**
 * Joins what is planned for share `s` at site `t` as `p`: its own plan, or the one for every share, as it was set; and of
 * all its plans, those of single folders too, whether one copies something (`planned`), when the last was set (`changed_at`)
 * and how eagerly they want it: one copy has all of them, so the most eager one says how often (`every`, `read_days`), and
 * the slowest how fast (`slowest`).
 */
export const planOf = `left join lateral (
  with share_plan as (select * from copy_plan where site_id = t.id and folder_id is null and (share_id = s.id or share_id is null)
      order by share_id nulls last limit 1),
    plans as (select extent, hours, check_days, most_rate, set_at from share_plan
      union all select k.extent, k.hours, k.check_days, k.most_rate, k.set_at from copy_plan k
        join entry e on e.id = k.folder_id and e.share_id = s.id and e.removed_at is null where k.site_id = t.id)
  select i.share_id, i.extent, i.hours, i.check_days, i.back_days, i.most_rate, i.set_at, w.* from (
    select count(*) as plans, bool_or(extent <> 'nothing') as planned, max(set_at) as changed_at,
      min(hours) filter (where extent <> 'nothing') as every, min(check_days) filter (where extent <> 'nothing') as read_days,
      min(most_rate) filter (where extent <> 'nothing') as slowest from plans) w
    left join share_plan i on true where w.plans > 0) p on true`

/** A table of the folders of share `s` in which a folder's own plan at site `t` holds: in it and below, down to the next. */
export const plannedBelow = `with recursive below(id, plan_id, extent, back_days, set_at) as (
  select e.id, k.id, k.extent, k.back_days, k.set_at from copy_plan k
    join entry e on e.id = k.folder_id and e.share_id = s.id and e.removed_at is null where k.site_id = t.id
  union all select e.id, b.plan_id, b.extent, b.back_days, b.set_at from below b
    join entry e on e.folder_id = b.id and e.kind = 'folder' and e.removed_at is null
    where not exists (select from copy_plan o where o.site_id = t.id and o.folder_id = e.id))`

/** When something of share `s` changed last after a moment that `after` says, as a condition. */
const changedSince = (after: string) => `(
  exists(select from entry e join version v on v.id = e.head_version_id where e.share_id = s.id and v.at > ${after})
  or exists(select from act a where a.share_id = s.id and a.at > ${after})
  or exists(select from act a join act_change h on h.act_id = a.id where h.to_share = s.id and a.at > ${after}))`
/** What was saved in a transaction that was open while the copy was made may not be in it. */
const stillOpen = `interval '2 minutes'`

const Due = z.object({
  id: z.string(),
  copy: z.boolean(),
  check: z.boolean(),
  extent: Extent.or(z.literal('nothing')).nullable(),
  back_days: z.number().nullable(),
  slowest: z.number().nullable(),
})
export type Due = z.output<typeof Due>

/** Shares whose copies at a site are due to be made or read again, those that wait longest first. */
export const due = (database: DataSource, siteId: string, now: Date): Promise<Due[]> =>
  select(
    database,
    Due,
    `select id, copy, "check", extent, back_days, slowest from (
       select s.id, p.extent, p.back_days, p.slowest, c.copied_at,
         c.copied_at is null or c.failure is not null or c.copy_wanted or p.changed_at > c.copied_at
           or case when p.every > 0 then c.copied_at < $2::timestamptz - make_interval(hours => p.every)
              else ${changedSince(`c.copied_at - ${stillOpen}`)} end as copy,
         c.checked_at is null or c.check_wanted or c.checked_at < $2::timestamptz - make_interval(days => p.read_days) as check
       from copy_site t cross join share s ${planOf} left join share_copy c on c.share_id = s.id and c.site_id = t.id
       where t.id = $1 and p.planned) every_share
     where copy or "check" order by copied_at nulls first, id`,
    [siteId, now],
  )

/** What a plan is for: one folder, one share, or every share without a plan of its own. */
export interface PlannedPlace {
  siteId: string
  shareId: string | null
  folderId?: string | null
}

/** Sets, changes or ends a plan. @throws Refusal not-found */
export async function setPlan(
  manager: EntityManager,
  personId: string,
  { siteId, shareId, folderId = null, plan }: PlannedPlace & { plan: CopyPlan | null },
): Promise<void> {
  if (!(await manager.existsBy(CopySiteRow, { id: siteId }))) throw absent()
  if (shareId !== null) {
    const there = await select(manager, z.object({ id: z.string() }), 'select id from share where id = $1', [shareId])
    if (!there.length) throw absent()
  }
  if (folderId !== null) await folderOfShare(manager, shareId, folderId)
  // A folder's goes with the folder, whatever share that comes to.
  const place = { siteId, shareId: folderId === null ? shareId : null, folderId }
  await manager.delete(CopyPlanRow, { siteId, shareId: place.shareId ?? IsNull(), folderId: folderId ?? IsNull() })
  if (plan) await manager.insert(CopyPlanRow, { id: uuidv7(), ...place, ...plan, setBy: personId, setAt: new Date() })
  // What holds from now on may be an older plan.
  else
    await select(
      manager,
      z.object({ id: z.string() }),
      'update share_copy set copy_wanted = true where site_id = $1 and ($2::uuid is null or share_id = $2) returning id',
      [siteId, shareId],
    )
}

/** @throws Refusal not-found for one that is not a folder of the share now */
async function folderOfShare(manager: EntityManager, shareId: string | null, folderId: string): Promise<void> {
  const there = await select(
    manager,
    z.object({ id: z.string() }),
    "select id from entry where id = $1 and share_id = $2 and kind = 'folder' and removed_at is null",
    [folderId, shareId],
  )
  if (!there.length) throw absent()
}

/** A folder with a plan of its own at a site. */
export interface FolderPlan {
  siteId: string
  shareId: string
  folderId: string
  /** From the outermost to the folder itself. */
  path: string[]
  plan: CopyPlan
}
/**
 * The plans of single folders, of those that are there.
 * @param seenBy only folders that this person may see; null for all
 */
export async function folderPlans(
  manager: EntityManager,
  {
    siteId = null,
    shareIds,
    seenBy = null,
  }: { siteId?: string | null; shareIds: readonly string[]; seenBy?: string | null },
): Promise<FolderPlan[]> {
  const rows = await select(
    manager,
    PlanRow.extend({ site_id: z.string(), share_id: z.string(), id: z.string(), path: z.array(z.string()) }),
    `select k.site_id, e.share_id, e.id, k.extent, k.hours, k.check_days, k.back_days, k.most_rate, array(
       with recursive up(name, folder_id, far) as (select e.name, e.folder_id, 0
         union all select a.name, a.folder_id, far + 1 from up join entry a on a.id = up.folder_id)
       select name from up order by far desc) as path
     from copy_plan k join entry e on e.id = k.folder_id and e.removed_at is null
     where e.share_id = any($1) and ($2::uuid is null or k.site_id = $2) and ($3::uuid is null or ${maySee('$3', 'e.realm_id')})
     order by path`,
    [shareIds, siteId, seenBy],
  )
  return rows.map(({ site_id, share_id, id, path, ...row }) => ({
    siteId: site_id,
    shareId: share_id,
    folderId: id,
    path,
    plan: planIn(row)!,
  }))
}

export const PlanRow = z.object({
  extent: Extent.or(z.literal('nothing')).nullable(),
  hours: z.number().nullable(),
  check_days: z.number().nullable(),
  back_days: z.number().nullable(),
  most_rate: z.number().nullable(),
})
/** The plan in a row of one; null where there is none. */
export const planIn = (row: z.output<typeof PlanRow>): CopyPlan | null =>
  row.extent === null
    ? null
    : {
        extent: row.extent,
        hours: row.hours!,
        checkDays: row.check_days!,
        backDays: row.back_days,
        mostRate: row.most_rate,
      }

/** All folders of a share by their paths, for whoever plans for one. */
export async function foldersOf(manager: EntityManager, shareId: string): Promise<{ id: string; path: string[] }[]> {
  return select(
    manager,
    z.object({ id: z.string(), path: z.array(z.string()) }),
    `with recursive down(id, path) as (
       select id, array[name] from entry where share_id = $1 and folder_id is null and kind = 'folder' and removed_at is null
       union all select e.id, d.path || e.name from down d join entry e on e.folder_id = d.id and e.kind = 'folder' and e.removed_at is null)
     select id, path from down order by path limit ${mostFolders}`,
    [shareId],
  )
}
/** Folders that are offered at once. */
const mostFolders = 5000

/** The shares that a plan may be about: its own, or all. */
export async function sharesOfPlan(manager: EntityManager, shareId: string | null): Promise<string[]> {
  const rows = await select(
    manager,
    z.object({ id: z.string() }),
    'select id from share where $1::uuid is null or id = $1',
    [shareId],
  )
  return rows.map(({ id }) => id)
}

/** What a plan would copy: how much of it is there already, how long the rest takes and whether there is room. */
export async function previewPlan(
  database: DataSource,
  { siteId, shareId, folderId = null, plan }: PlannedPlace & { plan: CopyPlan },
  reachable: Reachable,
  now = new Date(),
): Promise<CopyPreview> {
  const site = await database.manager.findOneBy(CopySiteRow, { id: siteId })
  if (!site) throw absent()
  if (folderId !== null) await folderOfShare(database.manager, shareId, folderId)
  const shares = await select(
    database,
    z.object({ id: z.string() }),
    `select s.id from share s where s.id = $1 or ($1 is null and not exists(
       select from copy_plan p where p.site_id = $2 and p.share_id = s.id and p.folder_id is null))`,
    [shareId, siteId],
  )
  const preview: CopyPreview = {
    files: 0,
    versions: 0,
    bytes: 0,
    there: { versions: 0, bytes: 0 },
    seconds: null,
    room: null,
  }
  for (const { id } of shares) {
    if (plan.extent === 'nothing') break
    const facts = await database.transaction('REPEATABLE READ', (manager) => factsOf(manager, id, false))
    if (!facts) continue
    // What other plans of the share are for is not this one's.
    const others = await folderPlans(database.manager, { siteId, shareIds: [id] })
    const own = new Map<string, Holding>(
      others.map((one) => [one.folderId, { extent: 'nothing', backDays: null }] as const),
    )
    if (folderId !== null) own.set(folderId, plan)
    const holding = holdingIn(facts.folders, folderId === null ? plan : { extent: 'nothing', backDays: null }, own)
    const { placed } = layOut(facts.folders, facts.files, holding, now)
    const there = new Set(await heldIn(database, siteId, id))
    preview.files += new Set(placed.map(({ fileId }) => fileId)).size
    for (const { versionId, size } of placed) {
      preview.versions++
      preview.bytes += size
      if (!there.has(versionId)) continue
      preview.there.versions++
      preview.there.bytes += size
    }
  }
  const left = preview.bytes - preview.there.bytes
  const most = plan.mostRate === null ? Number.POSITIVE_INFINITY : plan.mostRate * 1e6
  if (left === 0) preview.seconds = 0
  else if (site.rate) preview.seconds = left / Math.min(site.rate, most)
  // That it cannot be reached now is told where it stands.
  preview.room = await lookAt(database, site, reachable)
    .then((folder) => folder.room())
    .catch(() => null)
  return preview
}

/** Whether copy `c` holds version `v` (of file `v.file_id`), by its newest one in it, `f`. */
export const holds = `(v.number = f.number or (v.number < f.number
  and (f.extent = 'all' or (f.extent = 'kept' and exists(select from kept_version k where k.version_id = v.id and k.at <= c.copied_at)))
  and (f.back_days is null or v.at >= c.copied_at - make_interval(days => f.back_days))))`

/** The versions that a copy of a share holds. */
async function heldIn(database: DataSource, siteId: string, shareId: string): Promise<string[]> {
  const rows = await select(
    database,
    z.object({ id: z.string() }),
    `select v.id from share_copy c join copied_file f on f.copy_id = c.id join version v on v.file_id = f.file_id and v.number <= f.number
     where c.site_id = $1 and c.share_id = $2 and ${holds}`,
    [siteId, shareId],
  )
  return rows.map(({ id }) => id)
}
