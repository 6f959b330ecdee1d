// Work that nobody waits for gives way to people's: it begins when no file has come in for a moment, and after a
// while all the same. Each process knows of its own requests only, which is where they would be held up.
import { setTimeout as later } from 'node:timers/promises'

/** Nothing came in for this long: milliseconds. */
const quietFor = 600

let busy = 0
let lastAt = Number.NEGATIVE_INFINITY

/** Runs what a person waits for. */
export async function waitedFor<T>(work: () => Promise<T>): Promise<T> {
  busy++
  try {
    return await work()
  } finally {
    busy--
    lastAt = performance.now()
  }
}

/**
 * Until a moment in which background work is in nobody's way.
 * @param stopped ends the waiting at once
 * @param patience after so long it goes on whatever comes in; milliseconds
 */
export async function quiet(stopped: () => boolean = () => false, patience = 10_000): Promise<void> {
  const since = performance.now()
  while (!stopped() && performance.now() - since < patience) {
    const calm = performance.now() - lastAt
    if (busy === 0 && calm >= quietFor) return
    await later(busy ? 50 : Math.max(10, quietFor - calm))
  }
}
