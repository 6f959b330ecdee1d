// How much the versions of a share, and those of a person, may take. Whoever reaches it saves no further version until
// there is room; recovery points of open work are taken all the same.
import type { EntityManager } from 'typeorm'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'
import { ShareRow } from '../shares/entity'
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
  const since = await manager
    .createQueryBuilder(StorageChangeRow, 'change')
    .select('sum(change.bytes)', 'bytes')
    .where({ [key]: ownerId })
    .getRawOne<{ bytes: string | null }>()
  return Number(summed?.bytes ?? 0) + Number(since?.bytes ?? 0)
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
      say('problem.the-versions-in-use-the-that-a', { name, sayBytes: sayBytes(quotas.share) }),
    )
  }
  if (quotas.person !== null && (await taken(manager, personId, 'personId')) + size > quotas.person)
    throw new Refusal(
      'no-room',
      say('problem.your-versions-use-the-that-a-person', { sayBytes: sayBytes(quotas.person) }),
    )
}
