// What people ask of copies: to be made or read now, to be called otherwise, and that a finding was seen.
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Person } from '../../core/contract'
import { announce } from '../events/announce'
import { absent } from '../refusal'
import { maySee } from '../rights/service'
import { select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { CopySiteRow } from './entity'
import { planOf } from './plans'

/** Has copies made, or read again, before they are due: of one share, or of all that are copied there. @throws Refusal not-found */
export async function askFor(
  database: DataSource,
  { siteId, shareId, check }: { siteId: string; shareId: string | null; check: boolean },
): Promise<void> {
  await inTransaction(database, async (manager) => {
    const shares = await select(
      manager,
      z.object({ id: z.string() }),
      `select s.id from copy_site t cross join share s ${planOf}
       where t.id = $1 and ($2::uuid is null or s.id = $2) and p.planned`,
      [siteId, shareId],
    )
    if (!shares.length) throw absent()
    for (const { id } of shares) {
      await select(
        manager,
        z.object({ id: z.string() }),
        `insert into share_copy (id, share_id, site_id, copy_wanted, check_wanted) values ($1, $2, $3, not $4, $4)
         on conflict (share_id, site_id) do update set copy_wanted = share_copy.copy_wanted or excluded.copy_wanted,
           check_wanted = share_copy.check_wanted or excluded.check_wanted returning id`,
        [uuidv7(), id, siteId, check],
      )
      await announce(manager, { about: 'copies', shareId: id })
    }
  })
}

/** @throws Refusal not-found */
export async function nameSite(manager: EntityManager, id: string, name: string): Promise<void> {
  const { affected } = await manager.update(CopySiteRow, { id }, { name: name.normalize('NFC').trim() })
  if (!affected) throw absent()
}

/** Notes that somebody has seen findings: those of shares that they manage, or any as an administrator. */
export async function markSeen(
  database: DataSource,
  { id, administrator }: Person,
  ids: readonly string[],
): Promise<void> {
  await inTransaction(database, async (manager) => {
    const seen = await select(
      manager,
      z.object({ share_id: z.string() }),
      `update copy_finding g set seen_by = $1, seen_at = now() from share_copy c
       where c.id = g.copy_id and g.id = any($2) and g.seen_at is null and ($3 or ${maySee('$1', 'c.share_id', 'manage')})
       returning c.share_id`,
      [id, ids, administrator],
    )
    for (const shareId of new Set(seen.map((row) => row.share_id)))
      await announce(manager, { about: 'copies', shareId })
  })
}
