// The thread of the history store's work: jobs by their number, each asked for one thing at a time.
import { MakeJob, StoreJob } from './jobs'
import type { ToThread } from './threads'

const storing = new Map<number, StoreJob>()
const making = new Map<number, MakeJob>()

/** @throws RangeError for what cannot be put together again, and for a job of a thread that ended */
export default function answer(message: ToThread): unknown {
  const { job } = message
  const there = <T>(jobs: ReadonlyMap<number, T>): T => {
    const one = jobs.get(job)
    if (!one) throw new Error('The history thread ended.')
    return one
  }
  switch (message.do) {
    case 'store':
      return void storing.set(job, new StoreJob(message.bytes, message.plainly))
    case 'make':
      return void making.set(job, new MakeJob(message.frame, message.lately))
    case 'next':
      return there(storing).next()
    case 'pack':
      return there(storing).pack(message.wanted)
    case 'plain':
      return there(storing).plain(message.indexes)
    case 'feed':
      return there(making).feed(message.chunks, message.last)
    case 'end':
      storing.delete(job)
      making.delete(job)
  }
}
