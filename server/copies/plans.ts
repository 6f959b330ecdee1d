// What goes where: plans of sites, what is due by them, and what one would take before it is set.
import type { DataSource, EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { CopyPreview } from '../../core/contract'
import { layOut } from '../../core/copies/layout'
import { type CopyPlan, Extent, sinceOf } from '../../core/copies/plan'
import { absent } from '../refusal'
import { select } from '../sql/rows'
import { CopyPlanRow, CopySiteRow } from './entity'
import { factsOf } from './facts'
import { lookAt } from './look-at'
import type { Reachable } from './sites'

/** Joins the plan that holds for share `s` at site `t` as `p`: its own, or the one for every share. */
export const planOf = `left join lateral (
  select * from copy_plan where site_id = t.id and (share_id = s.id or share_id is null) order by share_id nulls last limit 1) p on true`

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
  extent: Extent,
  back_days: z.number().nullable(),
  most_rate: z.number().nullable(),
})
export type Due = z.output<typeof Due>

/** Shares whose copies at a site are due to be made or read again, those that wait longest first. */
export const due = (database: DataSource, siteId: string, now: Date): Promise<Due[]> =>
  select(
    database,
    Due,
    `select id, copy, "check", extent, back_days, most_rate from (
       select s.id, p.extent, p.back_days, p.most_rate, c.copied_at,
         c.copied_at is null or c.failure is not null or c.copy_wanted or p.set_at > c.copied_at
           or case when p.hours > 0 then c.copied_at < $2::timestamptz - make_interval(hours => p.hours)
              else ${changedSince(`c.copied_at - ${stillOpen}`)} end as copy,
         c.checked_at is null or c.check_wanted or c.checked_at < $2::timestamptz - make_interval(days => p.check_days) as check
       from copy_site t cross join share s ${planOf} left join share_copy c on c.share_id = s.id and c.site_id = t.id
       where t.id = $1 and p.extent <> 'nothing') every_share
     where copy or "check" order by copied_at nulls first, id`,
    [siteId, now],
  )

/** Sets, changes or ends a plan. @throws Refusal not-found */
export async function setPlan(
  manager: EntityManager,
  personId: string,
  { siteId, shareId, plan }: { siteId: string; shareId: string | null; plan: CopyPlan | null },
): Promise<void> {
  if (!(await manager.existsBy(CopySiteRow, { id: siteId }))) throw absent()
  if (shareId !== null) {
    const there = await select(manager, z.object({ id: z.string() }), 'select id from share where id = $1', [shareId])
    if (!there.length) throw absent()
  }
  await manager.delete(CopyPlanRow, { siteId, shareId: shareId ?? IsNull() })
  if (plan)
    await manager.insert(CopyPlanRow, { id: uuidv7(), siteId, shareId, ...plan, setBy: personId, setAt: new Date() })
}

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
  { siteId, shareId, plan }: { siteId: string; shareId: string | null; plan: CopyPlan },
  reachable: Reachable,
  now = new Date(),
): Promise<CopyPreview> {
  const site = await database.manager.findOneBy(CopySiteRow, { id: siteId })
  if (!site) throw absent()
  const shares = await select(
    database,
    z.object({ id: z.string() }),
    `select s.id from share s where s.id = $1 or ($1 is null and not exists(
       select from copy_plan p where p.site_id = $2 and p.share_id = s.id))`,
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
    const { placed } = layOut(facts.folders, facts.files, plan.extent, sinceOf(plan, now))
    const there = new Set(await heldIn(database, siteId, id))
    preview.files += facts.files.length
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
  and (c.extent = 'all' or (c.extent = 'kept' and exists(select from kept_version k where k.version_id = v.id and k.at <= c.copied_at)))
  and (c.back_days is null or v.at >= c.copied_at - make_interval(days => c.back_days))))`

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
