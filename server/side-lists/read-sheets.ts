// What lists say of their spreadsheet, by worker threads: a file that takes more than its share of time or memory ends its
// thread, and is told.
import { DamagedFile, type Written } from '../../core/formats/refusals'
import { type SideListWay, sideLists } from '../../core/formats/side-list'
import { type Sentence, saidBy, say } from '../../core/words/said'
import { openPool, TaskEnded } from '../threads/pool'

export interface ToSheets {
  bytes: Uint8Array
  type: string
  ways: readonly SideListWay[]
}
/** A list's bytes, or null for a sheet that is not there; or why the file could not be read. */
export type ReadSheets = (asked: ToSheets) => Promise<{ lists: (Written | null)[] } | { fault: Sentence }>

/** In this thread. */
export const sheetsHere: ReadSheets = async ({ bytes, type, ways }) => {
  try {
    return { lists: sideLists(bytes, type, ways) }
  } catch (error) {
    if (error instanceof DamagedFile) return { fault: saidBy(error) }
    throw error
  }
}

/** @param script the built worker @param patience for one file; milliseconds @param threads at most */
export function sheetsInThreads(
  script: URL,
  patience = 120_000,
  threads = 1,
): { read: ReadSheets; close(): Promise<void> } {
  const pool = openPool(script, { threads, memory: 1024, patience })
  return {
    async read(asked) {
      try {
        return await pool.run<Awaited<ReturnType<ReadSheets>>>(asked)
      } catch (error) {
        if (error instanceof TaskEnded) return { fault: say('problem.list-takes-too-long') }
        throw error
      }
    },
    close: () => pool.close(),
  }
}
