import type { EntityManager } from 'typeorm'
import type { z } from 'zod'
import { type Drill, DrillReport, type NewDrill } from '../../core/contract'

/** Keeps what a recovery drill found; the same one twice is kept once. */
export async function keepDrill(
  manager: EntityManager,
  personId: string,
  { id, deviceId, deviceName, report }: z.infer<typeof NewDrill>,
): Promise<Drill> {
  await manager.query(
    `insert into drill (id, person_id, device_id, device_name, report) values ($1, $2, $3, $4, $5) on conflict (id) do nothing`,
    [id, personId, deviceId, deviceName, JSON.stringify(report)],
  )
  return (await drillsOf(manager, personId, id))[0]!
}

/** A person's drills, the last one first. */
export async function drillsOf(manager: EntityManager, personId: string, id?: string): Promise<Drill[]> {
  const rows: (Omit<Drill, 'at'> & { at: Date })[] = await manager.query(
    `select id, at, device_id as "deviceId", device_name as "deviceName", report from drill
     where person_id = $1 and ($2::uuid is null or id = $2) order by at desc limit 50`,
    [personId, id ?? null],
  )
  return rows.map((row) => ({ ...row, at: row.at.toISOString(), report: DrillReport.parse(row.report) }))
}
