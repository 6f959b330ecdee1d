import { Worker } from 'node:worker_threads'
import type { FileWords } from '../../core/content/words'
import type { ReadWords } from './index-files'

/**
 * Words of files by a worker thread, which is started when it is first needed and again when it ended. A file that takes
 * more than its share of time or memory ends the thread, and is found by its name alone.
 * @param patience for one file; milliseconds
 */
export function wordsReader(script: URL, patience = 20_000): { read: ReadWords; close(): Promise<void> } {
  let worker: Worker | null = null
  let next = 0
  const waiting = new Map<number, { resolve: (words: FileWords) => void }>()
  const nothing: FileWords = { title: '', headings: [], sheets: [], text: '' }
  function start(): Worker {
    const started = new Worker(script, { resourceLimits: { maxOldGenerationSizeMb: 768 } })
    started.unref()
    started.on('message', ({ id, words }: { id: number; words: FileWords }) => {
      waiting.get(id)?.resolve(words)
      waiting.delete(id)
    })
    // A file that brings the thread down is found by its name alone.
    const ended = () => {
      if (worker !== started) return
      worker = null
      for (const { resolve } of waiting.values()) resolve(nothing)
      waiting.clear()
    }
    started.on('error', ended)
    started.on('exit', ended)
    return started
  }
  return {
    read: (bytes, type) =>
      new Promise((resolve) => {
        worker ??= start()
        const reading = worker
        const id = next++
        const late = setTimeout(() => void reading.terminate(), patience)
        waiting.set(id, {
          resolve: (words) => {
            clearTimeout(late)
            resolve(words)
          },
        })
        worker.postMessage({ id, bytes, type })
      }),
    async close() {
      await worker?.terminate()
    },
  }
}
