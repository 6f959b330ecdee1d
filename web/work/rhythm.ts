// A person's rhythm of edits and what recovery points cost, counted on this device and kept on it.
import { countGap, emptyRhythm, gapBounds, type PointCost, type Rhythm } from '../../core/recovery/advice'

const rhythmKey = 'jaula-rhythm'
const costKey = 'jaula-point-cost'
/** Counted so far and not written down. */
let counted: number[] = []
let lastAt = 0

/** Counts an edit; written down now and then, away from the typing. */
export function countEditNow(): void {
  const now = performance.now()
  if (lastAt) counted.push((now - lastAt) / 1000)
  lastAt = now
  if (counted.length >= 100) setTimeout(writeRhythm)
}

function writeRhythm(): void {
  const gaps = counted
  counted = []
  try {
    localStorage.setItem(rhythmKey, JSON.stringify(gaps.reduce(countGap, readRhythm())))
  } catch {
    // Without room for it there is no advice; nothing else depends on it.
  }
}

export function readRhythm(): Rhythm {
  try {
    const kept = JSON.parse(localStorage.getItem(rhythmKey) ?? 'null') as Rhythm | null
    if (kept?.gaps?.length === gapBounds.length + 1) return kept
  } catch {
    // Counted anew.
  }
  return emptyRhythm()
}

interface Sums {
  points: number
  edits: number
  bytes: number
}
/** Adds what a point cost: its bytes on the way to the server. */
export function countPoint(edits: number, bytes: number): void {
  try {
    const sums: Sums = JSON.parse(localStorage.getItem(costKey) ?? '{"points":0,"edits":0,"bytes":0}')
    localStorage.setItem(
      costKey,
      JSON.stringify({ points: sums.points + 1, edits: sums.edits + edits, bytes: sums.bytes + bytes }),
    )
  } catch {
    // As above.
  }
}

/** The usual size of a heartbeat with a point's frame around it, as this Jaula writes it. */
const frame = 480
export function readCost(): PointCost & { measured: number } {
  try {
    const sums = JSON.parse(localStorage.getItem(costKey) ?? 'null') as Sums | null
    if (sums && sums.points > 0)
      return {
        bytesPerPoint: frame,
        bytesPerEdit: Math.max(4, (sums.bytes - sums.points * frame) / Math.max(1, sums.edits)),
        measured: sums.points,
      }
  } catch {
    // Not measured yet.
  }
  return { bytesPerPoint: frame, bytesPerEdit: 12, measured: 0 }
}
