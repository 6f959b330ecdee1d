// What a recovery drill found. A scratch page types and says what it typed and when; it is ended
// without warning; what is got back is held against what was typed.

import type { DrillReport } from '../contract'
import { asKept, say } from '../words/said'

/** The device's journal is at most this far behind; milliseconds. */
export const devicePromise = 100
/** A recovery point is at most this late beyond its interval; milliseconds. */
export const pointGrace = 2000

export interface Typed {
  /** Each letter with the time at which it was typed, in order. */
  letters: readonly { letter: string; at: number }[]
  endedAt: number
}

/** What one level lost. @returns null when what came back is not the beginning of what was typed */
export function lostOf({ letters, endedAt }: Typed, back: string): { charactersLost: number; lostMs: number } | null {
  const typed = letters.map(({ letter }) => letter).join('')
  if (!typed.startsWith(back)) return null
  const first = letters[back.length]
  return { charactersLost: letters.length - back.length, lostMs: first ? Math.max(0, endedAt - first.at) : 0 }
}

/** Puts a report together. `back` is what each level gave back, and how long that took; null where no point was due. */
export function drillReport(
  kind: DrillReport['kind'],
  typed: Typed,
  interval: number,
  device: { back: string; ms: number },
  storage: { back: string; ms: number } | null,
): DrillReport {
  const faults: string[] = []
  const level = (onDevice: boolean, { back, ms }: { back: string; ms: number }, promisedMs: number) => {
    const lost = lostOf(typed, back)
    if (!lost) faults.push(asKept(say('recovery.drill-not-what-was-typed', { device: onDevice })))
    const { charactersLost, lostMs } = lost ?? { charactersLost: typed.letters.length, lostMs: 0 }
    if (lostMs > promisedMs)
      faults.push(
        asKept(say('recovery.drill-behind', { device: onDevice, ms: Math.round(lostMs), promised: promisedMs })),
      )
    return { charactersLost, lostMs, backMs: ms, promisedMs }
  }
  const onDevice = level(true, device, devicePromise)
  const onStorage = storage && level(false, storage, interval * 1000 + pointGrace)
  return {
    kind,
    passed: faults.length === 0,
    charactersTyped: typed.letters.length,
    typedMs: typed.letters.length ? typed.endedAt - typed.letters[0]!.at : 0,
    interval,
    device: onDevice,
    sharedStorage: onStorage,
    faults,
  }
}
