import type { FileWords } from '../../core/content/words'
import { openPool } from '../threads/pool'
import type { ReadWords } from './index-files'

const nothing: FileWords = { title: '', headings: [], sheets: [], text: '' }

/**
 * Words of files by worker threads. A file that takes more than its share of time or memory ends its thread, and is
 * found by its name alone.
 * @param patience for one file; milliseconds @param threads at most
 */
export function wordsReader(script: URL, patience = 20_000, threads = 2): { read: ReadWords; close(): Promise<void> } {
  const pool = openPool(script, { threads, memory: 768, patience })
  return {
    read: (bytes, type) => pool.run<FileWords>({ bytes, type }).catch(() => nothing),
    close: () => pool.close(),
  }
}
