import type { EntityManager } from 'typeorm'
import { announce } from '../events/announce'
import { requireRole } from '../rights/service'
import { KeptVersionRow } from './entity'
import { versionById } from './read'

/** Keeps a version under a label, or no longer. @throws Refusal not-allowed, not-found */
export async function labelVersion(
  manager: EntityManager,
  personId: string,
  versionId: string,
  label: string | null,
): Promise<void> {
  const { shareId, realmId, fileId, author } = await versionById(manager, versionId)
  await requireRole(manager, personId, realmId, 'edit')
  if (label === null) await manager.delete(KeptVersionRow, { versionId })
  else
    await manager.upsert(
      KeptVersionRow,
      { versionId, label: label.normalize('NFC'), personId, at: () => 'clock_timestamp()' },
      ['versionId'],
    )
  await announce(manager, { about: 'file', shareId, fileId, versionId, authorId: author.id })
}
