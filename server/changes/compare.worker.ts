import { parentPort } from 'node:worker_threads'
import { openComparing } from './compare'
import type { FromChanges, ToChanges } from './threads'

const comparing = openComparing()

async function answer(message: ToChanges): Promise<unknown> {
  switch (message.do) {
    case 'describe':
      return comparing.describe(message.older, message.newer)
    case 'begin':
      return comparing.begin(message.trace, message.version, message.place)
    case 'back':
      return comparing.back(message.trace, message.version)
    case 'end':
      return comparing.end(message.trace)
  }
}

parentPort?.on('message', (message: ToChanges) => {
  const { id } = message
  void answer(message).then(
    (value) => parentPort!.postMessage({ id, value } satisfies FromChanges),
    (error: Error) => parentPort!.postMessage({ id, error: error.message } satisfies FromChanges),
  )
})
