// The thread of the history store's work: jobs by their number, each asked for one thing at a time.
import { parentPort } from 'node:worker_threads'
import { MakeJob, StoreJob } from './jobs'
import type { FromThread, ToThread } from './threads'

const storing = new Map<number, StoreJob>()
const making = new Map<number, MakeJob>()

parentPort?.on('message', (message: ToThread) => {
  const { id, job } = message
  let answer: FromThread = { id }
  try {
    switch (message.do) {
      case 'store':
        storing.set(job, new StoreJob(message.bytes, message.plainly))
        break
      case 'make':
        making.set(job, new MakeJob(message.frame, message.lately))
        break
      case 'next':
        answer = { id, value: storing.get(job)!.next() }
        break
      case 'pack':
        answer = { id, value: storing.get(job)!.pack(message.wanted) }
        break
      case 'feed':
        answer = { id, value: making.get(job)!.feed(message.chunks, message.last) }
        break
      case 'end':
        storing.delete(job)
        making.delete(job)
    }
  } catch (error) {
    answer = { id, error: (error as Error).message }
  }
  parentPort!.postMessage(answer)
})
