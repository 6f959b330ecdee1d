// What versions take and what lies in places is counted in lines that nobody waits for (server/sql/quotas.ts,
// place-counts.ts); here they are folded into sums.

import type { DataSource } from 'typeorm'
import type { Work } from '../jobs/queue'
import { locks, tryLock } from '../sql/locks'
import { execute } from '../sql/rows'
import { inTransaction } from '../sql/transaction'

/** Folds what changed into the sums; whoever reads meanwhile finds each line once. */
export async function foldCounts(database: DataSource): Promise<void> {
  await inTransaction(database, async (manager) => {
    if (!(await tryLock(manager, locks.count))) return
    await execute(
      manager,
      `with gone as (delete from storage_change returning share_id, person_id, bytes),
       sums as (select owner_id, sum(bytes) as bytes from (
         select share_id as owner_id, bytes from gone union all select person_id, bytes from gone) both_of group by owner_id)
       insert into storage_use (owner_id, bytes) select owner_id, bytes from sums order by owner_id
       on conflict (owner_id) do update set bytes = storage_use.bytes + excluded.bytes`,
    )
    await execute(
      manager,
      `with gone as (delete from place_change returning place_id, entries)
       insert into place_count (place_id, entries) select place_id, sum(entries) from gone group by place_id order by place_id
       on conflict (place_id) do update set entries = place_count.entries + excluded.entries`,
    )
  })
}

/** Folds each minute. */
export const counting = (database: DataSource): Work => ({
  name: 'count',
  when: '* * * * *',
  run: () => foldCounts(database),
})
