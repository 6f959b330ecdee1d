import { LessThan } from 'typeorm'

// Who else has a file open. Each page that has it open says so every few seconds, and is told of the others.

import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { Present } from '../../core/contract'
import { announce } from '../events/announce'
import { requireRoleAt } from '../rights/service'
import { select } from '../sql/rows'
import { EntryRow, PresenceRow } from './entity'

/** A page that was silent for this long has the file open no more. */
const silence = '35 seconds'

/**
 * Notes that a page has a file open and where in it, or has it no more.
 * @returns the other people who have it open, and whether they hold unsaved work in it
 */
export async function bePresent(
  manager: EntityManager,
  personId: string,
  fileId: string,
  { pageId, leaving, place }: { pageId: string; leaving: boolean; place: string },
): Promise<Present[]> {
  await requireRoleAt(manager, personId, fileId, 'view', true)
  const page = { fileId, pageId, personId }
  let changed = false
  if (leaving) changed = !!(await manager.delete(PresenceRow, page)).affected
  else {
    // A page that says so again from the same place is no news.
    const [again] = await select(
      manager,
      z.object({ moved: z.boolean() }),
      `update presence p set at = now(), place = $4 from presence was
       where p.file_id = $1 and p.page_id = $2 and p.person_id = $3 and was.file_id = p.file_id and was.page_id = p.page_id
       returning was.place <> p.place as moved`,
      [fileId, pageId, personId, place],
    )
    if (!again)
      await manager
        .createQueryBuilder()
        .insert()
        .into(PresenceRow)
        .values({ ...page, place })
        .orIgnore()
        .execute()
    changed = !again || again.moved
  }
  if (changed) {
    const { shareId } = await manager.findOneByOrFail(EntryRow, { id: fileId })
    await announce(manager, { about: 'presence', shareId, fileId })
  }
  await manager.delete(PresenceRow, { at: LessThan(new Date(Date.now() - 300_000)) })
  return select(
    manager,
    Present,
    `select p.id, p.name, bool_or(d.id is not null) as writing, (array_agg(o.place order by o.at desc))[1] as place from presence o join person p on p.id = o.person_id
     left join draft d on d.file_id = o.file_id and d.person_id = o.person_id and d.state = 'open' and d.journal_seq > d.saved_seq
       and d.answered_at > now() - interval '${silence}'
     where o.file_id = $1 and o.person_id <> $2 and o.at > now() - interval '${silence}' group by p.id, p.name order by p.name`,
    [fileId, personId],
  )
}
