// Versions that were saved by themselves thin out, and those that the rules of retention let go, a file at a time beside
// everything else.

import type { DataSource, EntityManager } from 'typeorm'
import { goneByRetention, type RetentionRule, sayRule } from '../../core/history/retention'
import { thinnedOut } from '../../core/history/thinning'
import { locks, tryLock } from '../locks'
import { freeUnneeded } from '../storage/free'
import { inTransaction } from '../transaction'
import { filesUnderRetention, historyOf, type RetainedRow as Row, retentionOfFile } from './service'

/**
 * Thins versions that were saved by themselves, and those that the rules of retention let go.
 * @returns how many versions went
 * @param now for tests
 */
export async function thinVersions(database: DataSource, now = new Date()): Promise<number> {
  const files: { id: string }[] = await database.query(
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
        if (!still || sayRule(still) !== sayRule(rule)) return []
        const versions = rows.map(({ at, kept }) => ({ at: Date.parse(at), kept }))
        return goneByRetention(versions, rule, now.getTime()).map((index) => rows[index]!)
      },
      sayRule(rule),
    )
  return gone
}

/** Removes versions that nobody works on or refers to, and logs each. */
async function removeVersions(manager: EntityManager, ids: readonly string[], why: string): Promise<number> {
  await manager.query("select set_config('jaula.retention', 'on', true)")
  const [found]: { ids: string[] | null }[] = await manager.query(
    `with going as (
       select v.id from version v where v.id = any($1)
         and not exists (select from draft d where d.base_version_id = v.id and d.state <> 'finished')
         and not exists (select from draft d where d.head_version_id = v.id and d.state <> 'finished')
         and not exists (select from kept_version k where k.version_id = v.id)
         and not exists (select from entry e where e.head_version_id = v.id or e.origin_version_id = v.id)),
     freed as (update draft set base_version_id = null where state = 'finished' and base_version_id in (select id from going)),
     logged as (insert into removed_version (id, file_id, number, sha256, size, author_id, at, reason, why)
       select id, file_id, number, sha256, size, author_id, at, reason, $2 from version where id in (select id from going))
     select array_agg(id) as ids from going`,
    [ids, why],
  )
  const going = found?.ids ?? []
  if (!going.length) return 0
  await manager.query('update draft set head_version_id = null where state = $2 and head_version_id = any($1)', [
    going,
    'finished',
  ])
  await manager.query('delete from version where id = any($1)', [going])
  return going.length
}

/** Thins and frees every ten minutes until closed. */
export function openThinner(database: DataSource, onFault: (error: unknown) => void): { close(): Promise<void> } {
  let stopping = false
  let running: Promise<unknown> = Promise.resolve()
  const timer = setInterval(() => {
    running = running
      .then(() => thinVersions(database))
      .then(() => freeUnneeded(database, () => stopping))
      .catch(onFault)
  }, 600_000)
  return {
    async close() {
      stopping = true
      clearInterval(timer)
      await running
    },
  }
}
