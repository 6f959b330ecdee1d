import { openComparing } from './compare'
import type { ToChanges } from './threads'

const comparing = openComparing()

export default async function answer(message: ToChanges): Promise<unknown> {
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
