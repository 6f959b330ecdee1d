// What can go wrong with storage, to be switched on in a stand-in of it.
import { readFileSync, statSync } from 'node:fs'
import { z } from 'zod'

export const Faults = z.object({
  /** Waits so long before each answer; milliseconds. */
  slow: z.number().min(0).default(0),
  /** Takes so many bytes more, and is full then; null for as many as come. */
  room: z.number().min(0).nullable().default(null),
  /** Nothing can be written, moved or taken away. */
  readOnly: z.boolean().default(false),
  /** Goes away after so many requests, in the middle of what is done; null for never. */
  vanishes: z.number().int().min(0).nullable().default(null),
  /** Of so many files one is read with a bit that is another; 0 for none. */
  flips: z.number().int().min(0).default(0),
  /** Of so many files one is gone after it got its name; 0 for none. */
  loses: z.number().int().min(0).default(0),
  /** Its clock is so many hours ahead. */
  clock: z.number().default(0),
})
export type Faults = z.output<typeof Faults>
export const none: Faults = Faults.parse({})

/** Faults as a file says them, which is looked at again whenever it changes. */
export function faultsIn(file: string): () => Faults {
  let read = 0
  let now = none
  return () => {
    try {
      const { mtimeMs } = statSync(file)
      if (mtimeMs !== read) {
        now = Faults.parse(JSON.parse(readFileSync(file, 'utf8')))
        read = mtimeMs
      }
    } catch {
      // None that says any, or one that is being written.
    }
    return now
  }
}
