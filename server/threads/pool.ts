// Threads for heavy work: started when they are first needed, ended when a task takes more than its share of time or
// memory, and started anew for the next one.
import { fileURLToPath } from 'node:url'
import { Tinypool } from 'tinypool'

export interface ThreadPool {
  /**
   * Has a task done by the script's default function.
   * @param transfer buffers that are handed over and not copied
   * @throws Error that the script threw, or TaskEnded
   */
  run<T>(task: unknown, transfer?: ArrayBuffer[]): Promise<T>
  close(): Promise<void>
}

/** The task took too much time or memory, and its thread was ended. */
export class TaskEnded extends Error {}

export interface Bounds {
  /** How many threads there may be. */
  threads?: number
  /** Memory of one, megabytes. */
  memory?: number
  /** For one task; milliseconds. A thread that answers several at once is never ended for its time. */
  patience?: number
  /** Tasks that one thread answers at once. */
  together?: number
  /** Processes in place of threads: for what cannot be ended while it works. */
  processes?: boolean
}

/** A thread that did nothing for this long ends; milliseconds. */
const idle = 300_000

/** @param script the built worker, whose default function does one task */
export function openPool(
  script: URL,
  { threads = 1, memory, patience, together = 1, processes = false }: Bounds = {},
): ThreadPool {
  const pool = new Tinypool({
    filename: fileURLToPath(script),
    runtime: processes ? 'child_process' : 'worker_threads',
    ...(processes && { serialization: 'advanced' as const }),
    minThreads: 0,
    maxThreads: threads,
    concurrentTasksPerWorker: together,
    idleTimeout: idle,
    ...(memory && { resourceLimits: { maxOldGenerationSizeMb: memory } }),
  })
  let closed = false
  return {
    async run<T>(task: unknown, transfer: ArrayBuffer[] = []): Promise<T> {
      // Those that wait before it have their time first.
      const late = new AbortController()
      const signal = patience ? late.signal : undefined
      const running = pool.run(task, { transferList: transfer, ...(signal && { signal }) })
      const timer = patience && setTimeout(() => late.abort(), patience * (1 + pool.queueSize))
      try {
        return await running
      } catch (error) {
        // What the script threw is an error of the task's; what has this name or code is the thread's end.
        const { name, code } = error as { name?: string; code?: string }
        if (closed || name === 'AbortError' || code === 'ERR_WORKER_OUT_OF_MEMORY' || /[Tt]erminat/.test(String(error)))
          throw new TaskEnded('The task took too long, or too much memory.')
        throw error
      } finally {
        if (timer) clearTimeout(timer)
      }
    },
    async close() {
      closed = true
      await pool.destroy()
    },
  }
}
