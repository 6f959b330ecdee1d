// Moves what was saved, or stored by an older Jaula, from blocks into the history store, one content at a
// time, beside everything else. Each is a transaction of its own: it can be cut off at any moment and goes on from there.

import type { DataSource } from 'typeorm'
import { z } from 'zod'
import type { Work } from '../jobs/queue'
import { quiet } from '../jobs/quiet'
import { locks, tryLock } from '../sql/locks'
import { select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import type { Contents } from './content'

/**
 * @param damaged contents whose blocks are not what they should be: these stay; found ones are added
 * @param whenQuiet waited for before each of them
 * @returns how many contents were moved
 */
export async function moveContents(
  database: DataSource,
  contents: Contents,
  stopped: () => boolean = () => false,
  damaged: Set<string> = new Set(),
  whenQuiet: () => Promise<void> = async () => {},
): Promise<number> {
  let moved = 0
  while (!stopped()) {
    await whenQuiet()
    if (stopped()) break
    const next = await inTransaction(database, async (manager) => {
      if (!(await tryLock(manager, locks.move))) return null
      const [content] = await select(
        manager,
        z.object({ sha256: z.instanceof(Buffer) }),
        'select sha256 from content where chunks is null and not sha256 = any($1) order by stored_at limit 1',
        [[...damaged].map((digest) => Buffer.from(digest, 'hex'))],
      )
      if (!content) return null
      if (await contents.move(manager, content.sha256)) moved++
      else damaged.add(content.sha256.toString('hex'))
      return true
    })
    if (!next) break
  }
  return moved
}

/** Moves what was saved, soon after it was. */
export function moving(database: DataSource, contents: Contents, onFault: (error: unknown) => void): Work {
  const damaged = new Set<string>()
  return {
    name: 'move',
    when: '* * * * *',
    async run(stopped) {
      const known = damaged.size
      await moveContents(database, contents, stopped, damaged, () => quiet(stopped))
      if (damaged.size > known)
        onFault(new Error(`${damaged.size} contents are damaged and stay as they are; npm run verify names them.`))
    },
  }
}
