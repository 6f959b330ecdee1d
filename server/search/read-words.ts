import type { FileWords } from '../../core/content/words'
import { openPool } from '../threads/pool'
import type { ReadWords } from './index-files'

const nothing: FileWords = { title: '', headings: [], sheets: [], text: '' }

/**
 * Words of files by a worker thread. A file that takes more than its share of time or memory ends the thread, and is
 * found by its name alone.
 * @param patience for one file; milliseconds
 */
export function wordsReader(script: URL, patience = 20_000): { read: ReadWords; close(): Promise<void> } {
  const pool = openPool(script, { memory: 768, patience })
  return {
    read: (bytes, type) => pool.run<FileWords>({ bytes, type }).catch(() => nothing),
    close: () => pool.close(),
  }
}
