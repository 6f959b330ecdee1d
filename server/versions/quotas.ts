// How much the versions of a share, and those of a person, may take. Whoever reaches it saves no further version until
// there is room; recovery points of open work are taken all the same.
import type { DataSource, EntityManager } from 'typeorm'
import type { Work } from '../jobs/queue'
import { locks, tryLock } from '../locks'
import { Refusal } from '../refusal'
import { ShareRow } from '../shares/entity'
import { inTransaction } from '../transaction'
import { StorageChangeRow, StorageUseRow } from './entity'

const sayBytes = (bytes: number): string =>
  bytes < 1e9 ? `${Math.round(bytes / 1e6)} MB` : `${(bytes / 1e9).toFixed(1).replace(/\.0$/, '')} GB`

/** Bytes; null for no bound. */
export interface Quotas {
  share: number | null
  person: number | null
}

export const unbounded: Quotas = { share: null, person: null }

/** What a share or a person takes now, bytes. */
async function taken(manager: EntityManager, ownerId: string, key: 'shareId' | 'personId'): Promise<number> {
  const summed = await manager.findOneBy(StorageUseRow, { ownerId })
  const since = await manager.sum(StorageChangeRow, 'bytes' as never, { [key]: ownerId })
  return Number(summed?.bytes ?? 0) + Number(since ?? 0)
}

/** @throws Refusal no-room where a version of this size is more than the share or the person may have */
export async function refuseOver(
  manager: EntityManager,
  quotas: Quotas,
  { shareId, personId, size }: { shareId: string; personId: string; size: number },
): Promise<void> {
  if (quotas.share !== null && (await taken(manager, shareId, 'shareId')) + size > quotas.share) {
    const { name } = await manager.findOneByOrFail(ShareRow, { id: shareId })
    throw new Refusal(
      'no-room',
      `The versions in ‹${name}› take the ${sayBytes(quotas.share)} that a share may have, so this was not saved there. Recovery points go on. A manager can set a rule of retention, or an administrator can allow more.`,
    )
  }
  if (quotas.person !== null && (await taken(manager, personId, 'personId')) + size > quotas.person)
    throw new Refusal(
      'no-room',
      `Your versions take the ${sayBytes(quotas.person)} that a person may have, so this was not saved. Recovery points go on. An administrator can allow more.`,
    )
}

/** Folds what changed into the sums. */
export async function foldUse(database: DataSource): Promise<void> {
  await inTransaction(database, async (manager) => {
    if (!(await tryLock(manager, locks.count))) return
    await manager.query(
      `with gone as (delete from storage_change returning share_id, person_id, bytes),
       sums as (select owner_id, sum(bytes) as bytes from (
         select share_id as owner_id, bytes from gone union all select person_id, bytes from gone) both_of group by owner_id)
       insert into storage_use (owner_id, bytes) select owner_id, bytes from sums order by owner_id
       on conflict (owner_id) do update set bytes = storage_use.bytes + excluded.bytes`,
    )
  })
}

/** Counts each minute. */
export const counting = (database: DataSource): Work => ({
  name: 'count',
  when: '* * * * *',
  run: () => foldUse(database),
})
