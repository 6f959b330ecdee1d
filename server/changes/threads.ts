// Comparing versions in a thread of its own, so that a large file holds up nobody.
import type { FileState } from '../../core/compare/files'
import type { TracedPlace } from '../../core/compare/trace'
import type { KeptLines } from '../../core/history/kept-lines'
import { asKept, type Sentence, say } from '../../core/words/said'
import { openPool, TaskEnded } from '../threads/pool'

export interface Described {
  summary: Sentence
  weight: number
  /** What came and went, line by line; null for what is not read. */
  lines: KeptLines | null
}
export type ToChanges =
  | { do: 'describe'; older: FileState | null; newer: FileState }
  | { do: 'begin'; trace: string; version: FileState; place: TracedPlace }
  | { do: 'back'; trace: string; version: FileState }
  | { do: 'end'; trace: string }

export interface Comparing {
  describe(older: FileState | null, newer: FileState): Promise<Described>
  /** @returns what the place says there; null where nothing is */
  begin(trace: string, version: FileState, place: TracedPlace): Promise<string | null>
  back(trace: string, version: FileState): Promise<string | null>
  end(trace: string): void
  close(): Promise<void>
}

/**
 * One thread, because it keeps the traces that were begun.
 * @param script the built worker
 * @param patience for one answer; milliseconds
 */
export function compareInThread(script: URL, patience = 60_000): Comparing {
  const pool = openPool(script, { memory: 1024, patience })
  let closed = false
  const ask = async <T>(what: ToChanges): Promise<T> => {
    try {
      return await pool.run<T>(what)
    } catch (error) {
      // Nothing is said of what was not compared to its end.
      if (closed) throw new Error('Comparing has ended.')
      if (error instanceof TaskEnded) throw new RangeError(asKept(say('problem.this-file-is-too-large-to-be')))
      throw new RangeError((error as Error).message)
    }
  }
  return {
    describe: (older, newer) => ask({ do: 'describe', older, newer }),
    begin: (trace, version, place) => ask({ do: 'begin', trace, version, place }),
    back: (trace, version) => ask({ do: 'back', trace, version }),
    end: (trace) => void ask({ do: 'end', trace }).catch(() => {}),
    async close() {
      closed = true
      await pool.close()
    },
  }
}
