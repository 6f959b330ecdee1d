import { LessThan } from 'typeorm'

// Who else has a file open. Each page that has it open says so every few seconds, and is told of the others.

import type { EntityManager } from 'typeorm'
import { Present } from '../../core/contract'
import { announce } from '../events/announce'
import { requireRoleAt } from '../rights/service'
import { select } from '../sql/rows'
import { EntryRow, PresenceRow } from './entity'

/** A page that was silent for this long has the file open no more. */
const silence = '35 seconds'

/**
 * Notes that a page has a file open, or has it no more.
 * @returns the other people who have it open, and whether they hold unsaved work in it
 */
export async function bePresent(
  manager: EntityManager,
  personId: string,
  fileId: string,
  { pageId, leaving }: { pageId: string; leaving: boolean },
): Promise<Present[]> {
  await requireRoleAt(manager, personId, fileId, 'view', true)
  const page = { fileId, pageId, personId }
  let changed = false
  if (leaving) changed = !!(await manager.delete(PresenceRow, page)).affected
  // A page that says so again is no news.
  else if (!(await manager.update(PresenceRow, page, { at: () => 'now()' })).affected) {
    await manager.createQueryBuilder().insert().into(PresenceRow).values(page).orIgnore().execute()
    changed = true
  }
  if (changed) {
    const { shareId } = await manager.findOneByOrFail(EntryRow, { id: fileId })
    await announce(manager, { about: 'presence', shareId, fileId })
  }
  await manager.delete(PresenceRow, { at: LessThan(new Date(Date.now() - 300_000)) })
  return select(
    manager,
    Present,
    `select p.id, p.name, bool_or(d.id is not null) as writing from presence o join person p on p.id = o.person_id
     left join draft d on d.file_id = o.file_id and d.person_id = o.person_id and d.state = 'open' and d.journal_seq > d.saved_seq
       and d.answered_at > now() - interval '${silence}'
     where o.file_id = $1 and o.person_id <> $2 and o.at > now() - interval '${silence}' group by p.id, p.name order by p.name`,
    [fileId, personId],
  )
}
