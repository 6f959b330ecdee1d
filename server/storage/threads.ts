// Where the history store's work is done: in threads, so that a large file holds up nobody.
import { Worker } from 'node:worker_threads'
import type { PackedChunk } from '../../core/history/pack'
import { type Batch, MakeJob, type StoredChunk, StoreJob, type Wanted } from './jobs'

export interface Storing {
  next(): Promise<Batch>
  pack(wanted: Wanted[]): Promise<PackedChunk[]>
  end(): void
}
export interface Making {
  feed(chunks: StoredChunk[], last: boolean): Promise<Uint8Array>
  end(): void
}
export interface Workshop {
  store(bytes: Uint8Array, plainly: boolean): Promise<Storing>
  /** @param lately chunks that were opened lately need not be opened again */
  make(frame: StoredChunk, lately: boolean): Promise<Making>
  close(): Promise<void>
}

/** Does the work where it is called. */
export const workHere: Workshop = {
  async store(bytes, plainly) {
    const job = new StoreJob(bytes, plainly)
    return {
      next: async () => job.next(),
      pack: async (wanted) => job.pack(wanted),
      end: () => {},
    }
  },
  async make(frame, lately) {
    const job = new MakeJob(frame, lately)
    return { feed: async (chunks, last) => job.feed(chunks, last), end: () => {} }
  },
  close: async () => {},
}

export type ToThread =
  | { id: number; job: number; do: 'store'; bytes: Uint8Array; plainly: boolean }
  | { id: number; job: number; do: 'make'; frame: StoredChunk; lately: boolean }
  | { id: number; job: number; do: 'next' | 'end' }
  | { id: number; job: number; do: 'pack'; wanted: Wanted[] }
  | { id: number; job: number; do: 'feed'; chunks: StoredChunk[]; last: boolean }
export type FromThread = { id: number; value?: unknown; error?: string }
type Asked = ToThread extends infer One ? (One extends ToThread ? Omit<One, 'id' | 'job'> : never) : never

/** Threads that are started when they are first needed, and again when one ended. @param script the built worker */
export function workInThreads(script: URL, threads = 2): Workshop {
  let nextId = 0
  let nextJob = 0
  interface Thread {
    worker: Worker
    waiting: Map<number, { resolve: (value: unknown) => void; reject: (error: Error) => void }>
  }
  const pool: (Thread | null)[] = Array.from({ length: threads }, () => null)
  function threadAt(index: number): Thread {
    const there = pool[index]
    if (there) return there
    const started: Thread = { worker: new Worker(script), waiting: new Map() }
    pool[index] = started
    started.worker.unref()
    started.worker.on('message', ({ id, value, error }: FromThread) => {
      const asked = started.waiting.get(id)
      started.waiting.delete(id)
      if (error === undefined) asked?.resolve(value)
      else asked?.reject(new RangeError(error))
    })
    const ended = () => {
      if (pool[index] === started) pool[index] = null
      for (const { reject } of started.waiting.values()) reject(new Error('The history thread ended.'))
      started.waiting.clear()
    }
    started.worker.on('error', ended)
    started.worker.on('exit', ended)
    return started
  }
  function open(): (what: Asked) => Promise<unknown> {
    const job = nextJob++
    const thread = threadAt(job % threads)
    return (what) =>
      new Promise((resolve, reject) => {
        const id = nextId++
        thread.waiting.set(id, { resolve, reject })
        // A whole file is handed over and not copied.
        const given =
          what.do === 'store' && what.bytes.byteLength === what.bytes.buffer.byteLength
            ? [what.bytes.buffer as ArrayBuffer]
            : []
        thread.worker.postMessage({ ...what, id, job }, given)
      })
  }
  return {
    async store(bytes, plainly) {
      const ask = open()
      await ask({ do: 'store', bytes, plainly })
      return {
        next: () => ask({ do: 'next' }) as Promise<Batch>,
        pack: (wanted) => ask({ do: 'pack', wanted }) as Promise<PackedChunk[]>,
        end: () => void ask({ do: 'end' }).catch(() => {}),
      }
    },
    async make(frame, lately) {
      const ask = open()
      await ask({ do: 'make', frame, lately })
      return {
        feed: (chunks, last) => ask({ do: 'feed', chunks, last }) as Promise<Uint8Array>,
        end: () => void ask({ do: 'end' }).catch(() => {}),
      }
    },
    async close() {
      await Promise.all(pool.map((thread) => thread?.worker.terminate()))
    },
  }
}
