// Moves what was saved, or stored by an older Jaula, from blocks into the history store, one content at a
// time, beside everything else. Each is a transaction of its own: it can be cut off at any moment and goes on from there.
import type { DataSource } from 'typeorm'
import { quiet } from '../jobs/quiet'
import { locks, tryLock } from '../locks'
import { inTransaction } from '../transaction'
import { moveContent } from './content'

/**
 * @param damaged contents whose blocks are not what they should be: these stay; found ones are added
 * @param whenQuiet waited for before each of them
 * @returns how many contents were moved
 */
export async function moveContents(
  database: DataSource,
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
      const [content]: { sha256: Buffer }[] = await manager.query(
        'select sha256 from content where chunks is null and not sha256 = any($1) order by stored_at limit 1',
        [[...damaged].map((digest) => Buffer.from(digest, 'hex'))],
      )
      if (!content) return null
      if (await moveContent(manager, content.sha256)) moved++
      else damaged.add(content.sha256.toString('hex'))
      return true
    })
    if (!next) break
  }
  return moved
}

/** Moves what is saved from now on, soon after it was, until closed. */
export function openMover(database: DataSource, onFault: (error: unknown) => void): { close(): Promise<void> } {
  let stopping = false
  let running = Promise.resolve()
  const damaged = new Set<string>()
  const move = () => {
    running = running
      .then(async () => {
        const known = damaged.size
        await moveContents(
          database,
          () => stopping,
          damaged,
          () => quiet(() => stopping),
        )
        if (damaged.size > known)
          onFault(new Error(`${damaged.size} contents are damaged and stay as they are; npm run verify names them.`))
      })
      .catch(onFault)
  }
  const timer = setInterval(move, 2000)
  return {
    async close() {
      stopping = true
      clearInterval(timer)
      await running
    },
  }
}
