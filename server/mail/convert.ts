// Files as another type, by worker threads: one that takes more than its share of time or memory ends its thread, and is told.
import { converted } from '../../core/formats/converted'
import { DamagedFile, type Written } from '../../core/formats/refusals'
import type { Language } from '../../core/words/in-language'
import { SaidError, type Sentence, saidBy, say } from '../../core/words/said'
import { openPool, TaskEnded } from '../threads/pool'

/** What pages of a version say beside its content. */
export interface OfVersion {
  name: string
  number: number
  savedAt: Date
  language: Language
}
interface ToConvert {
  bytes: Uint8Array
  from: string
  to: string
  of: OfVersion
}
/** @throws DamagedFile, TakesTooLong */
export type Convert = (asked: ToConvert) => Promise<Written>

/** A file that cannot be had as another type within its bounds. */
export class TakesTooLong extends SaidError {
  override readonly name = 'TakesTooLong'
}

/** What a thread answers: errors of a file go as what they say. */
export const convertTask = async ({
  bytes,
  from,
  to,
}: Omit<ToConvert, 'of'>): Promise<Written | { fault: Sentence }> => {
  try {
    return converted(bytes, from, to)
  } catch (error) {
    if (error instanceof DamagedFile) return { fault: saidBy(error) }
    throw error
  }
}
const orThrow = (answer: Written | { fault: Sentence }): Written => {
  if (!('fault' in answer)) return answer
  throw new DamagedFile(answer.fault)
}

/** In this thread. */
export const convertHere: Convert = async (asked) => orThrow(await convertTask(asked))

/** @param script the built worker @param patience for one file; milliseconds */
export function convertInThreads(script: URL, patience = 60_000): { convert: Convert; close(): Promise<void> } {
  const pool = openPool(script, { memory: 1024, patience })
  return {
    async convert(asked) {
      try {
        return orThrow(await pool.run<Awaited<ReturnType<typeof convertTask>>>(asked))
      } catch (error) {
        if (error instanceof TaskEnded) throw new TakesTooLong(say('problem.conversion-takes-too-long'))
        throw error
      }
    },
    close: () => pool.close(),
  }
}
