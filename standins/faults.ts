// What can go wrong with a stand-in, to be switched on.
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

/** What can go wrong with a mail server. */
export const MailFaults = z.object({
  /** Answers like this instead of taking a message (RFC 5321, section 4.2): 4xx for now, 5xx for good; 0: takes it. */
  refuses: z.number().int().default(0),
  /** Waits so long before it takes a message; milliseconds. */
  slow: z.number().min(0).default(0),
  /** Takes messages to addresses with this in them, and reports that they could not be delivered; null for none. */
  bounces: z.string().nullable().default(null),
  /** Reports those to addresses with this in them as late. */
  delays: z.string().nullable().default(null),
})
export type MailFaults = z.output<typeof MailFaults>

/** What can go wrong with a printer; counts are of faces since it was started. */
export const PrinterFaults = z.object({
  /** Has paper for so many; null for as much as it needs. */
  paper: z.number().int().min(0).nullable().default(null),
  /** Jams after so many. */
  jam: z.number().int().min(0).nullable().default(null),
  coverOpen: z.boolean().default(false),
  /** So much toner is left; percent. */
  toner: z.number().int().min(0).max(100).nullable().default(null),
  /** One face takes so long; milliseconds. */
  slow: z.number().min(0).default(0),
  /** Takes nothing. */
  refuses: z.boolean().default(false),
  /** Goes away after so many, in the middle of what it prints. */
  vanishes: z.number().int().min(0).nullable().default(null),
})
export type PrinterFaults = z.output<typeof PrinterFaults>

/** Faults as a file says them, which is looked at again whenever it changes. */
export function faultsIn<T extends z.ZodType>(file: string, shape: T): () => z.output<T> {
  let read = 0
  let now = shape.parse({})
  return () => {
    try {
      const { mtimeMs } = statSync(file)
      if (mtimeMs !== read) {
        now = shape.parse(JSON.parse(readFileSync(file, 'utf8')))
        read = mtimeMs
      }
    } catch {
      // None that says any, or one that is being written.
    }
    return now
  }
}
