// Where the history store's work is done: in threads, so that a large file holds up nobody.
import type { PackedChunk } from '../../core/history/pack'
import { openPool } from '../threads/pool'
import { type Batch, MakeJob, type StoredChunk, StoreJob, type Wanted } from './jobs'

export interface Storing {
  next(): Promise<Batch>
  pack(wanted: Wanted[]): Promise<PackedChunk[]>
  /** Chunks of this batch as they are before packing. */
  plain(indexes: number[]): Promise<Uint8Array[]>
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
      plain: async (indexes) => job.plain(indexes),
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
  | { job: number; do: 'store'; bytes: Uint8Array; plainly: boolean }
  | { job: number; do: 'make'; frame: StoredChunk; lately: boolean }
  | { job: number; do: 'next' | 'end' }
  | { job: number; do: 'pack'; wanted: Wanted[] }
  | { job: number; do: 'plain'; indexes: number[] }
  | { job: number; do: 'feed'; chunks: StoredChunk[]; last: boolean }
type Asked = ToThread extends infer One ? (One extends ToThread ? Omit<One, 'job'> : never) : never

/** Tasks that one thread may have waiting: it does one after the other all the same. */
const together = 64

/** Threads that each keep the jobs that were begun in them. @param script the built worker */
export function workInThreads(script: URL, threads = 2): Workshop {
  let next = 0
  const pools = Array.from({ length: threads }, () => openPool(script, { together }))
  const open = (): (<T>(what: Asked) => Promise<T>) => {
    const job = next++
    const pool = pools[job % threads]!
    return (what) => {
      // A whole file is handed over and not copied.
      const given =
        what.do === 'store' && what.bytes.byteLength === what.bytes.buffer.byteLength
          ? [what.bytes.buffer as ArrayBuffer]
          : []
      return pool.run({ ...what, job }, given)
    }
  }
  return {
    async store(bytes, plainly) {
      const ask = open()
      await ask({ do: 'store', bytes, plainly })
      return {
        next: () => ask<Batch>({ do: 'next' }),
        pack: (wanted) => ask<PackedChunk[]>({ do: 'pack', wanted }),
        plain: (indexes) => ask<Uint8Array[]>({ do: 'plain', indexes }),
        end: () => void ask({ do: 'end' }).catch(() => {}),
      }
    },
    async make(frame, lately) {
      const ask = open()
      await ask({ do: 'make', frame, lately })
      return {
        feed: (chunks, last) => ask<Uint8Array>({ do: 'feed', chunks, last }),
        end: () => void ask({ do: 'end' }).catch(() => {}),
      }
    },
    async close() {
      await Promise.all(pools.map((pool) => pool.close()))
    },
  }
}
