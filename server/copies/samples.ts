// How well copies covered what there is, hour by hour, for the chart of it.
import type { DataSource } from 'typeorm'
import { LessThan } from 'typeorm'
import { z } from 'zod'
import type { Copies } from '../../core/contract'
import { execute, select } from '../sql/rows'
import { CopySampleRow } from './entity'
import { holds, plannedBelow, planOf } from './plans'

/** Samples are kept so long; days. */
const keptFor = 400
/** What the chart shows; days. */
const shownFor = 60

/** What each copy that is planned holds of its share: versions in all, those in it, and since when one is not. */
export const coverage = `select t.id as site_id, s.id as share_id, c.id as copy_id,
    (select count(*)::int from entry e join version v on v.file_id = e.id where e.share_id = s.id and e.removed_at is null) as versions,
    coalesce(h.covered, 0) as covered, o.since as open_since
  from copy_site t cross join share s ${planOf}
  left join share_copy c on c.site_id = t.id and c.share_id = s.id
  left join lateral (
    select count(*)::int as covered from copied_file f join entry e on e.id = f.file_id and e.removed_at is null and e.share_id = s.id
    join version v on v.file_id = f.file_id and v.number <= f.number where f.copy_id = c.id and ${holds}) h on true
  left join lateral (
    ${plannedBelow}
    -- What is asked for since the copy was made was not missing before.
    select min(greatest(v.at, case when f.number is null and (c.copied_at is null or w.set_at > c.copied_at) then w.set_at end)) as since
    from entry e left join below b on b.id = e.folder_id
    cross join lateral (select coalesce(b.extent, p.extent, 'nothing') as extent, coalesce(b.set_at, p.set_at) as set_at) w
    join version v on v.file_id = e.id left join copied_file f on f.copy_id = c.id and f.file_id = e.id
    where e.share_id = s.id and e.removed_at is null and v.number > coalesce(f.number, 0)
      and case w.extent when 'nothing' then false when 'all' then true else v.id = e.head_version_id end) o on true
  where p.plans > 0 or c.id is not null`

/**
 * Notes how every copy stands in this hour; what was noted in it before is out of date.
 * @param anew also where it was noted in this hour already
 */
export async function takeSamples(database: DataSource, now: Date, anew: boolean): Promise<void> {
  const hour = new Date(Math.floor(now.getTime() / 3_600_000) * 3_600_000)
  if (!anew && (await database.manager.existsBy(CopySampleRow, { at: hour }))) return
  await execute(
    database,
    `insert into copy_sample (copy_id, at, versions, covered, verified, age)
     select k.copy_id, $2::timestamptz, k.versions, k.covered,
       case when c.checked_at >= $1::timestamptz - make_interval(days => coalesce(p.read_days, 7)) and c.faults = 0 then k.covered else 0 end,
       case when k.open_since is null then 0 else greatest(0, least(2000000000, extract(epoch from $1::timestamptz - k.open_since)))::int end
     from (${coverage}) k join share_copy c on c.id = k.copy_id join copy_site t on t.id = c.site_id join share s on s.id = c.share_id
     ${planOf}
     on conflict (copy_id, at) do update set versions = excluded.versions, covered = excluded.covered,
       verified = excluded.verified, age = excluded.age`,
    [now, hour],
  )
  await database.manager.delete(CopySampleRow, { at: LessThan(new Date(now.getTime() - keptFor * 86_400_000)) })
}

const Sample = z.object({
  site_id: z.string(),
  at: z.date(),
  versions: z.number(),
  covered: z.number(),
  verified: z.number(),
  age: z.number(),
})

/** By site and hour, over all of these shares. */
export async function historyOf(
  database: DataSource,
  shareIds: readonly string[],
  now: Date,
): Promise<Copies['history']> {
  const rows = await select(
    database,
    Sample,
    `select c.site_id, m.at, sum(m.versions)::int as versions, sum(m.covered)::int as covered,
       sum(m.verified)::int as verified, max(m.age) as age
     from copy_sample m join share_copy c on c.id = m.copy_id
     where c.share_id = any($1) and m.at > $2 group by c.site_id, m.at order by m.at`,
    [shareIds, new Date(now.getTime() - shownFor * 86_400_000)],
  )
  return rows.map(({ site_id, at, versions, covered, verified, age }) => ({
    siteId: site_id,
    at: at.toISOString(),
    covered: versions ? covered / versions : 1,
    verified: versions ? verified / versions : 1,
    age: age / 3600,
  }))
}
