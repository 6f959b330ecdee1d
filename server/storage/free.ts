// What no version needs any more is freed, some contents at a time beside everything else.

import type { DataSource } from 'typeorm'
import { z } from 'zod'
import { locks, tryLock } from '../sql/locks'
import { select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'

/** Contents, or chunks, that are removed while nobody can store: a few milliseconds. */
const atOnce = 200

/**
 * Frees contents that no version has, and chunks that then nothing needs: exactly those.
 * @returns how many of each; less than there are when somebody was storing all the time
 */
export async function freeUnneeded(
  database: DataSource,
  stopped: () => boolean = () => false,
): Promise<{ contents: number; chunks: number }> {
  const freed = { contents: 0, chunks: 0 }
  let candidates: number[] = []
  for (let tries = 0; tries < 100 && !stopped(); ) {
    const done = await inTransaction(database, async (manager) => {
      // Nobody waits for this: who stores goes first.
      if (!(await tryLock(manager, locks.store))) return null
      if (candidates.length) {
        const some = candidates.slice(0, atOnce)
        const rows = await select(
          manager,
          z.object({ roots: z.array(z.number()).nullable() }),
          'select roots from free_chunks($1)',
          [some],
        )
        freed.chunks += rows.length
        // What these were kept by may be needed by nothing else now.
        candidates = [...new Set([...candidates.slice(some.length), ...rows.flatMap(({ roots }) => roots ?? [])])]
        return true
      }
      const rows = await select(
        manager,
        z.object({ chunks: z.array(z.number()).nullable() }),
        'select chunks from free_contents($1)',
        [atOnce],
      )
      if (!rows.length) return false
      freed.contents += rows.length
      candidates = [...new Set(rows.flatMap(({ chunks }) => chunks ?? []))]
      return true
    })
    if (done === false) break
    if (done === null) {
      tries++
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
  }
  return freed
}
