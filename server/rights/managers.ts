// A share always has somebody who manages it: whoever would be the last to leave is kept.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'
import { locks, takeLock } from '../sql/locks'
import { select } from '../sql/rows'

/** Shares that nobody manages for good whose account is open. */
const unmanaged = async (manager: EntityManager): Promise<Map<string, string>> => {
  const rows = await select(
    manager,
    z.object({ id: z.string(), name: z.string() }),
    `with recursive they(share_id, id) as (
       select r.realm_id, r.subject_id from realm_right r join share s on s.id = r.realm_id where r.rank = 3 and r.until is null
       union select they.share_id, coalesce(g.person_id, g.member_group_id) from they join group_member g on g.group_id = they.id)
     select s.id, s.name from share s
     where not exists (select from they join person p on p.id = they.id where they.share_id = s.id and p.closed_at is null)
     order by s.name`,
  )
  return new Map(rows.map(({ id, name }) => [id, name]))
}

/**
 * Takes something away from somebody, alone, unless a share were then without anybody who manages it.
 * @throws Refusal last-manager
 */
export async function keepingManagers<T>(manager: EntityManager, take: () => Promise<T>): Promise<T> {
  await takeLock(manager, locks.people)
  const before = await unmanaged(manager)
  const taken = await take()
  for (const [id, name] of await unmanaged(manager))
    if (!before.has(id)) throw new Refusal('last-manager', say('problem.nobody-would-manage', { share: name }))
  return taken
}
