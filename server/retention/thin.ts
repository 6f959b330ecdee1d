// Versions that were saved by themselves thin out, and those that the rules of retention let go, a file at a time beside
// everything else.

import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import type { RetentionRule } from '../../core/contract'
import { goneByRetention, sayRule } from '../../core/history/retention'
import { thinnedOut } from '../../core/history/thinning'
import { asKept, sameSentence } from '../../core/words/said'
import type { Work } from '../jobs/queue'
import { locks, tryLock } from '../sql/locks'
import { select, selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { freeUnneeded } from '../storage/free'
import { filesUnderRetention, historyOf, type RetainedRow as Row, retentionOfFile } from './service'

/**
 * Thins versions that were saved by themselves, and those that the rules of retention let go.
 * @returns how many versions went
 * @param now for tests
 */
export async function thinVersions(database: DataSource, now = new Date()): Promise<number> {
  const files = await select(
    database,
    z.object({ id: z.string() }),
    `select distinct file_id as id from version where reason = 'by itself' and at < $1::timestamptz - interval '1 day'`,
    [now],
  )
  let gone = 0
  const take = (fileId: string, going: (rows: Row[], rule: RetentionRule | null) => Row[], why: string) =>
    inTransaction(database, async (manager) => {
      if (!(await tryLock(manager, locks.thin))) return 0
      // It may have been held, or its rule changed, since the files were listed.
      const { rule, held } = await retentionOfFile(manager, fileId)
      if (held) return 0
      const rows = going(await historyOf(manager, fileId), rule).filter(({ kept }) => !kept)
      return rows.length
        ? removeVersions(
            manager,
            rows.map(({ id }) => id),
            why,
          )
        : 0
    })
  for (const { id } of files)
    gone += await take(id, (rows) => thinnedOut(rows, now.getTime()), 'saved by itself, thinned out')
  for (const { fileId, rule } of await filesUnderRetention(database.manager))
    gone += await take(
      fileId,
      (rows, still) => {
        if (!still || !sameSentence(sayRule(still), sayRule(rule))) return []
        const versions = rows.map(({ at, kept }) => ({ at: Date.parse(at), kept }))
        return goneByRetention(versions, rule, now.getTime()).map((index) => rows[index]!)
      },
      asKept(sayRule(rule)),
    )
  return gone
}

/** Removes versions that nobody works on or refers to, and logs each (server/sql/retention.ts). */
async function removeVersions(manager: EntityManager, ids: readonly string[], why: string): Promise<number> {
  const { gone } = await selectOne(
    manager,
    z.object({ gone: z.array(z.string()) }),
    'select remove_versions($1, $2) as gone',
    [ids, why],
  )
  return gone.length
}

/** Thins and frees every ten minutes. */
export const thinning = (database: DataSource): Work => ({
  name: 'thin',
  when: '*/10 * * * *',
  async run(stopped) {
    await thinVersions(database)
    await freeUnneeded(database, stopped)
  },
})
