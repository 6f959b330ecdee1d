import type { EntityManager } from 'typeorm'
import type { z } from 'zod'
import { type Drill, DrillReport, type NewDrill } from '../../core/contract'
import { DrillRow } from './entity'

/** Keeps what a recovery drill found; the same one twice is kept once. */
export async function keepDrill(
  manager: EntityManager,
  personId: string,
  { id, deviceId, deviceName, report }: z.infer<typeof NewDrill>,
): Promise<Drill> {
  await manager
    .createQueryBuilder()
    .insert()
    .into(DrillRow)
    .values({ id, personId, deviceId, deviceName, report })
    .orIgnore()
    .execute()
  return (await drillsOf(manager, personId, id))[0]!
}

/** A person's drills, the last one first. */
export async function drillsOf(manager: EntityManager, personId: string, id?: string): Promise<Drill[]> {
  const rows = await manager.find(DrillRow, {
    select: { id: true, at: true, deviceId: true, deviceName: true, report: true },
    where: { personId, ...(id && { id }) },
    order: { at: 'DESC' },
    take: 50,
  })
  return rows.map((row) => ({ ...row, at: row.at.toISOString(), report: DrillReport.parse(row.report) }))
}
