import type { EntityManager } from 'typeorm'
import { announce } from '../events/service'
import { requireRole } from '../rights/service'
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
  if (label === null) await manager.query('delete from kept_version where version_id = $1', [versionId])
  else
    await manager.query(
      `insert into kept_version (version_id, label, person_id) values ($1, $2, $3)
       on conflict (version_id) do update set label = excluded.label, person_id = excluded.person_id, at = clock_timestamp()`,
      [versionId, label.normalize('NFC'), personId],
    )
  await announce(manager, { about: 'file', shareId, fileId, versionId, authorId: author.id })
}
