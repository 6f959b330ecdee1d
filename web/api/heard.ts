// Who else wants to hear the server's news, beside what is asked again for it.
import type { News } from '../../core/contract'

const listeners = new Set<(news: News) => void>()
/** @returns what ends it */
export const onHeard = (listener: (news: News) => void): (() => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}
export const heard = (news: News): void => {
  for (const listener of listeners) listener(news)
}
