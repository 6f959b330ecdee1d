// When the names of a share were looked through last, and what that found; the looking is done in the browser.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { AuditFindings, AuditStanding } from '../../core/contract'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'
import { requireShare } from '../rights/service'
import { select } from '../sql/rows'
import { NameAuditRow } from './entity'

/** @throws Refusal not-found, not-allowed, invalid when more are astray than there are */
export async function noteAudit(
  manager: EntityManager,
  personId: string,
  shareId: string,
  { names, astray }: AuditFindings,
): Promise<AuditStanding> {
  await requireShare(manager, personId, shareId, 'manage')
  if (astray > names) throw new Refusal('invalid', say('problem.this-request-is-not-as-it-should'))
  await manager.upsert(NameAuditRow, { shareId, personId, names, astray, at: () => 'clock_timestamp()' }, ['shareId'])
  return (await standings(manager, personId, shareId))[0]!
}

/** The shares that a person manages and in which a convention holds, by name. */
export const auditsFor = (manager: EntityManager, personId: string): Promise<AuditStanding[]> =>
  standings(manager, personId, null)

async function standings(manager: EntityManager, personId: string, shareId: string | null): Promise<AuditStanding[]> {
  const rows = await select(
    manager,
    z.object({
      id: z.string(),
      name: z.string(),
      at: z.date().nullable(),
      by: z.string().nullable(),
      names: z.number().nullable(),
      astray: z.number().nullable(),
    }),
    `select s.id, s.name, a.at, p.name as by, a.names, a.astray
     from share s join may($1) m on m.realm_id = s.id and m.rank >= 3
     left join name_audit a on a.share_id = s.id left join person p on p.id = a.person_id
     where case when $2::uuid is null
       then exists (select from convention c where c.share_id = s.id and c.ended_at is null) else s.id = $2 end
     order by s.name_key`,
    [personId, shareId],
  )
  return rows.map(({ id, name, at, by, names, astray }) => ({
    share: { id, name },
    last: at && { at: at.toISOString(), by: by!, names: names!, astray: astray! },
  }))
}
