// Comparing versions in a thread of its own, so that a large file holds up nobody.
import { Worker } from 'node:worker_threads'
import type { FileState } from '../../core/compare/files'
import type { TracedPlace } from '../../core/compare/trace'

export interface Described {
  summary: string
  weight: number
}
export type ToChanges =
  | { id: number; do: 'describe'; older: FileState | null; newer: FileState }
  | { id: number; do: 'begin'; trace: string; version: FileState; place: TracedPlace }
  | { id: number; do: 'back'; trace: string; version: FileState }
  | { id: number; do: 'end'; trace: string }
export type FromChanges = { id: number; value?: unknown; error?: string }
type Asked = ToChanges extends infer One ? (One extends ToChanges ? Omit<One, 'id'> : never) : never

export interface Comparing {
  describe(older: FileState | null, newer: FileState): Promise<Described>
  /** @returns what the place says there; null where nothing is */
  begin(trace: string, version: FileState, place: TracedPlace): Promise<string | null>
  back(trace: string, version: FileState): Promise<string | null>
  end(trace: string): void
  close(): Promise<void>
}

/**
 * The thread is started when it is first needed, and again when it ended: by itself, or because a file took too long.
 * @param script the built worker
 * @param patience for one answer; milliseconds
 */
export function compareInThread(script: URL, patience = 60_000): Comparing {
  let worker: Worker | null = null
  let next = 0
  const waiting = new Map<number, { resolve: (value: unknown) => void; reject: (error: Error) => void }>()
  function start(): Worker {
    const started = new Worker(script, { resourceLimits: { maxOldGenerationSizeMb: 1024 } })
    started.unref()
    started.on('message', ({ id, value, error }: FromChanges) => {
      const asked = waiting.get(id)
      waiting.delete(id)
      if (error === undefined) asked?.resolve(value)
      else asked?.reject(new RangeError(error))
    })
    const ended = () => {
      if (worker !== started) return
      worker = null
      for (const { reject } of waiting.values()) reject(new RangeError('This file is too large to be compared.'))
      waiting.clear()
    }
    started.on('error', ended)
    started.on('exit', ended)
    return started
  }
  const ask = (what: Asked): Promise<unknown> =>
    new Promise((resolve, reject) => {
      worker ??= start()
      const asked = worker
      const id = next++
      const late = setTimeout(() => void asked.terminate(), patience)
      const settled =
        <T>(settle: (value: T) => void) =>
        (value: T) => {
          clearTimeout(late)
          settle(value)
        }
      waiting.set(id, { resolve: settled(resolve), reject: settled(reject) })
      worker.postMessage({ ...what, id })
    })
  return {
    describe: (older, newer) => ask({ do: 'describe', older, newer }) as Promise<Described>,
    begin: (trace, version, place) => ask({ do: 'begin', trace, version, place }) as Promise<string | null>,
    back: (trace, version) => ask({ do: 'back', trace, version }) as Promise<string | null>,
    end: (trace) => void ask({ do: 'end', trace }).catch(() => {}),
    async close() {
      const ending = worker
      worker = null
      // Nothing is said of what was not compared to its end.
      for (const { reject } of waiting.values()) reject(new Error('Comparing has ended.'))
      waiting.clear()
      await ending?.terminate()
    },
  }
}
