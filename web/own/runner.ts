// Keeps the copies in folders of this computer in step while Jaula is open: soon after something was saved, moved or
// removed where they are of, when somebody comes back to the window, and now and then.
import type { News } from '../../core/contract'
import { onHeard } from '../api/call'
import { keepInStep } from './keep-in-step'
import { ownCopies } from './store'

/** After the last of several things that happened; milliseconds. */
const settled = 1500
const nowAndThen = 300_000

const listeners = new Set<() => void>()
/** Called when one of them is otherwise than before. @returns what ends it */
export const onOwnCopies = (listener: () => void): (() => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}
const told = () => {
  for (const listener of listeners) listener()
}

/** Brings one in step, or all of one share, or all. */
export async function stepOwnCopies(
  personId: string,
  of: { id?: string; shareId?: string } = {},
  how: { whole?: boolean; over?: boolean; wait?: boolean } = {},
): Promise<void> {
  for (const copy of await ownCopies(personId)) {
    if ((of.id && copy.id !== of.id) || (of.shareId && copy.shareId !== of.shareId)) continue
    await keepInStep(copy.id, how).catch(() => {})
    told()
  }
}
export const changedOwnCopies = told

/** @returns what ends it */
export function keepOwnCopies(personId: string): () => void {
  const waiting = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
  const soon = (shareId: string) => {
    waiting.add(shareId)
    clearTimeout(timer)
    timer = setTimeout(() => {
      const shares = [...waiting]
      waiting.clear()
      for (const share of shares) void stepOwnCopies(personId, { shareId: share })
    }, settled)
  }
  const stop = onHeard((news: News) => {
    if (news.about === 'file' || news.about === 'place' || news.about === 'names') soon(news.shareId)
  })
  const all = () => void stepOwnCopies(personId).catch(() => {})
  all()
  const every = setInterval(all, nowAndThen)
  window.addEventListener('focus', all)
  return () => {
    stop()
    clearTimeout(timer)
    clearInterval(every)
    window.removeEventListener('focus', all)
  }
}
