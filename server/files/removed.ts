// What was removed and can be brought back.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { RemovedEntry } from '../../core/contract'
import { requireShare, seenBy } from '../rights/service'
import { select } from '../sql/rows'
import { type EntryColumns, entryColumns, entryJoins, shownEntry } from './entries'
import { trailTo } from './folders'

/** Removed things can be brought back for this many days. */
export const keptDays = 30

/** What was removed from a share and can be brought back, newest first; what is inside a removed folder is counted with it. */
export async function removedFrom(manager: EntityManager, personId: string, shareId: string): Promise<RemovedEntry[]> {
  await requireShare(manager, personId, shareId, 'view')
  const rows = await select(
    manager,
    z.custom<EntryColumns & { removed_at: Date; remover: string; inside: number }>(),
    `select ${entryColumns}, e.removed_at, r.name as remover,
       (select count(*)::int from entry i where i.removed_in = e.removed_in and i.id <> e.id and e.kind = 'folder') as inside
     ${entryJoins} ${seenBy('$2')} join person r on r.id = e.removed_by left join entry f on f.id = e.folder_id
     where e.share_id = $1 and e.removed_at > now() - interval '${keptDays} days' and (f.id is null or f.removed_in is distinct from e.removed_in)
     order by e.removed_at desc, e.name_key limit 1000`,
    [shareId, personId],
  )
  const trails = new Map<string | null, string[]>()
  const shown: RemovedEntry[] = []
  for (const row of rows) {
    if (!trails.has(row.folder_id))
      trails.set(
        row.folder_id,
        (await trailTo(manager, row.folder_id)).map(({ name }) => name),
      )
    shown.push({
      entry: shownEntry(row),
      folders: trails.get(row.folder_id)!,
      removedAt: row.removed_at.toISOString(),
      removedBy: row.remover,
      until: new Date(row.removed_at.getTime() + keptDays * 86_400_000).toISOString(),
      inside: row.inside,
    })
  }
  return shown
}
