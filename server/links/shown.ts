// Files as pages to look at, made by worker threads: a file that takes more than its share of time or memory ends its
// thread, and is handed out unseen.
import { type ShownPage, shownPage } from '../../core/formats/page'
import { DamagedFile } from '../../core/formats/refusals'
import { openPool, TaskEnded } from '../threads/pool'

export interface ToShow {
  bytes: Uint8Array
  type: string
}
/** null for what cannot be shown. */
export type ShowPage = (asked: ToShow) => Promise<ShownPage | null>

/** In this thread. */
export const showHere: ShowPage = async ({ bytes, type }) => {
  try {
    return shownPage(bytes, type)
  } catch (error) {
    if (error instanceof DamagedFile) return null
    throw error
  }
}

/** @param script the built worker @param patience for one file; milliseconds */
export function showInThreads(script: URL, patience = 30_000): { show: ShowPage; close(): Promise<void> } {
  const pool = openPool(script, { memory: 1024, patience })
  return {
    async show(asked) {
      try {
        return await pool.run<ShownPage | null>(asked)
      } catch (error) {
        if (error instanceof TaskEnded) return null
        throw error
      }
    },
    close: () => pool.close(),
  }
}
