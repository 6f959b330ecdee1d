// Moves what an older Jaula stored in blocks into the history store, one content at a time, beside
// everything else. Each is a transaction of its own: it can be cut off at any moment and goes on from there.
import type { DataSource } from 'typeorm'
import { moveContent } from '../versions/content'

/** Any number, the same in every process: one of them moves at a time. */
const moveLock = 4170_04

/** @returns how many contents were moved, and how many stay because their blocks are damaged */
export async function moveContents(
  database: DataSource,
  stopped: () => boolean = () => false,
): Promise<{ moved: number; damaged: number }> {
  let moved = 0
  let after = Buffer.alloc(0)
  let damaged = 0
  while (!stopped()) {
    const next = await database.transaction(async (manager) => {
      const [{ mine }] = await manager.query('select pg_try_advisory_xact_lock($1) as mine', [moveLock])
      if (!mine) return null
      const [content]: { sha256: Buffer }[] = await manager.query(
        'select sha256 from content where chunks is null and sha256 > $1 order by sha256 limit 1',
        [after],
      )
      if (!content) return null
      if (await moveContent(manager, content.sha256)) moved++
      else damaged++
      return content.sha256
    })
    if (!next) break
    after = Buffer.from(next)
  }
  return { moved, damaged }
}
