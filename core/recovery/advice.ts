// Which recovery interval? From a person's own rhythm of edits and the measured cost of a point.
//
// Edits are a renewal process: the gaps between them are independent, with the distribution F that was
// counted on the device. After a point at time 0 the next one is due at the first moment past the
// interval I at which something unsent is there: T = max(I, X), X being the wait for the first edit.
// A crash comes at any moment while the work is open, so by the renewal-reward theorem
//
//   expected edits lost = E[ ∫₀ᵀ N(t) dt ] / E[T],   N(t) = edits since the point,
//   points an hour      = 3600 / E[T].
//
// How long X is depends on how the last point came about. When it waited for an edit (X > I) a fresh
// gap follows. When the timer struck between edits, what is left of the running gap follows:
// P(left > y) = Σ h(s) (1 − F(I − s + y)), h being the density of edits within the interval. The
// distribution of X that reproduces itself is found by repetition. All on a grid of `steps` cells;
// gaps are put on it so that their mean stays exact. Worst loss: everything of one interval and of
// the two seconds that a point may take, at the fastest rate that was counted.
// (Cox, Renewal Theory, 1962, §§2.2, 4.1, 5.1.) Checked against a simulation in advice.test.ts.
import { type Sentence, say } from '../words/said'

/** Upper bounds of the cells in which gaps are counted, in seconds; the last cell has none. */
export const gapBounds = [
  0.06, 0.1, 0.15, 0.2, 0.3, 0.5, 0.8, 1.3, 2, 3, 5, 8, 13, 20, 30, 50, 80, 130, 200, 300,
] as const
/** Longer gaps are no part of a rhythm: the work lay aside. */
export const longestGap = 600

/** A person's rhythm on one device: how often each length of gap occurred. No word of the text is in it. */
export interface Rhythm {
  gaps: number[]
  /** Hours of work that were counted. */
  hours: number
}
export const emptyRhythm = (): Rhythm => ({ gaps: new Array(gapBounds.length + 1).fill(0), hours: 0 })
/** So many edits must have been counted before advice is given. */
export const fewestEdits = 200

/** Counts one gap between two edits; seconds. */
export function countGap(rhythm: Rhythm, seconds: number): Rhythm {
  if (!(seconds > 0) || seconds > longestGap) return rhythm
  const cell = gapBounds.findIndex((bound) => seconds <= bound)
  const gaps = rhythm.gaps.slice()
  gaps[cell < 0 ? gapBounds.length : cell]!++
  return { gaps, hours: rhythm.hours + seconds / 3600 }
}

/** What a point costs, as measured. */
export interface PointCost {
  bytesPerPoint: number
  bytesPerEdit: number
}

export interface IntervalFacts {
  /** Seconds. */
  interval: number
  /** Edits (about letters) lost in a crash of the device, on average. */
  expectedLost: number
  worstLost: number
  /** Seconds of work, on average. */
  expectedSeconds: number
  worstSeconds: number
  /** In a day with `hoursADay` hours of work. */
  requestsADay: number
  bytesADay: number
}

const steps = 400
/** A point is sent and confirmed within this long after it is due; seconds. */
const latency = 2

const boundsOf = (cell: number): [number, number] => [
  cell === 0 ? 0.02 : gapBounds[cell - 1]!,
  cell < gapBounds.length ? gapBounds[cell]! : longestGap,
]

interface Distribution {
  /** Share of the gaps that are at most x; within a cell they are spread evenly. */
  F: (x: number) => number
  /** The integral of F from 0 to x. */
  G: (x: number) => number
  mean: number
}

function distribution({ gaps }: Rhythm): Distribution {
  const total = gaps.reduce((sum, n) => sum + n, 0)
  const cells = gaps.map((n, cell) => ({ share: n / total, low: boundsOf(cell)[0], high: boundsOf(cell)[1] }))
  return {
    F: (x) =>
      cells.reduce((sum, { share, low, high }) => sum + share * Math.min(1, Math.max(0, (x - low) / (high - low))), 0),
    G: (x) =>
      cells.reduce(
        (sum, { share, low, high }) =>
          sum + share * (x >= high ? x - (low + high) / 2 : x > low ? (x - low) ** 2 / (2 * (high - low)) : 0),
        0,
      ),
    mean: cells.reduce((sum, { share, low, high }) => sum + (share * (low + high)) / 2, 0),
  }
}

/** What an interval means for a rhythm. @param hoursADay hours of work in a day */
export function factsOf(rhythm: Rhythm, interval: number, cost: PointCost, hoursADay: number): IntervalFacts {
  const { F, G, mean } = distribution(rhythm)
  const width = interval / steps
  const grid = Array.from({ length: steps }, (_, cell) => cell)
  // Gaps on the grid, each split between its two neighbours so that the mean stays.
  const f = grid.map((cell) =>
    cell === 0 ? G(width) / width : (G((cell + 1) * width) - 2 * G(cell * width) + G((cell - 1) * width)) / width,
  )
  const m = new Array<number>(steps).fill(0)
  for (let cell = 0; cell < steps; cell++) {
    let sum = f[cell]!
    for (let before = 0; before < cell; before++) sum += m[before]! * f[cell - before]!
    m[cell] = sum / (1 - f[0]!)
  }
  // What an edit with so much time to the point costs, with all that follow it: r + Σ (r − s) m(s).
  const waits = new Array<number>(steps + 1).fill(0)
  let [count, moment] = [0, 0]
  for (let cell = 0; cell <= steps; cell++) {
    const rest = cell * width
    waits[cell] = rest + rest * count - moment
    if (cell < steps) {
      count += m[cell]!
      moment += m[cell]! * cell * width
    }
  }
  const surviving = Array.from({ length: 2 * steps + 1 }, (_, half) => 1 - F((half + 0.5) * width))
  /** Moments past the interval, denser near it. */
  const far = Array.from({ length: 41 }, (_, i) => interval + longestGap * (i / 40) ** 3)
  const tailOf = (beyond: (y: number) => number): number => {
    let area = 0
    for (let i = 1; i < far.length; i++) area += (far[i]! - far[i - 1]!) * ((beyond(far[i]!) + beyond(far[i - 1]!)) / 2)
    return area
  }
  const fresh = { within: f, tail: tailOf((y) => 1 - F(y)) }
  let wait = fresh
  for (let round = 0; round < 12; round++) {
    const inside = wait.within.reduce((sum, p) => sum + p, 0)
    if (inside < 1e-9) break
    const h = grid.map((cell) => {
      let sum = wait.within[cell]!
      for (let first = 0; first <= cell; first++) sum += wait.within[first]! * m[cell - first]!
      return sum
    })
    const left = (half: number) => {
      let sum = 0
      for (let cell = 0; cell < steps; cell++) sum += h[cell]! * surviving[steps - cell + half - 1]!
      return Math.min(1, sum / inside)
    }
    const beyond = grid.map((cell) => left(cell))
    const leftTail = tailOf((y) => {
      let sum = 0
      for (let cell = 0; cell < steps; cell += 4) sum += 4 * h[cell]! * (1 - F(interval - cell * width + y))
      return Math.min(1, sum / inside)
    })
    wait = {
      within: grid.map(
        (cell) =>
          inside * Math.max(0, (cell === 0 ? 1 : beyond[cell - 1]!) - beyond[cell]!) +
          (1 - inside) * fresh.within[cell]!,
      ),
      tail: inside * leftTail + (1 - inside) * fresh.tail,
    }
  }
  const reward = wait.within.reduce((sum, p, cell) => sum + p * waits[steps - cell]!, 0)
  const length = interval + wait.tail
  const expectedLost = reward / length
  const fastest = fastestRate(rhythm)
  const pointsAnHour = 3600 / length
  const editsAnHour = 3600 / mean
  return {
    interval,
    expectedLost,
    worstLost: fastest * (interval + latency),
    expectedSeconds: Math.min(expectedLost * mean, interval),
    worstSeconds: interval + latency,
    requestsADay: pointsAnHour * hoursADay,
    bytesADay: (pointsAnHour * cost.bytesPerPoint + editsAnHour * cost.bytesPerEdit) * hoursADay,
  }
}

/** Edits a second in the quickest twentieth of the typing. */
function fastestRate({ gaps }: Rhythm): number {
  const total = gaps.reduce((sum, n) => sum + n, 0)
  let passed = 0
  for (const [cell, n] of gaps.entries()) {
    passed += n
    if (passed >= total * 0.05) {
      const [low, high] = boundsOf(cell)
      return 2 / (low + high)
    }
  }
  return 0
}

export interface Recommendation {
  interval: number
  reason: Sentence
}

/**
 * The longest interval with which a crash of the device costs no more than a sentence on average, or
 * the shortest there is; longer ones would only save requests that cost next to nothing.
 */
export function recommend(all: readonly IntervalFacts[]): Recommendation {
  const sentence = 80
  const sorted = [...all].sort((a, b) => a.interval - b.interval)
  const best = sorted.findLast((facts) => facts.expectedLost <= sentence) ?? sorted[0]!
  const shorter = sorted[sorted.indexOf(best) - 1]
  const lost = Math.round(best.expectedLost)
  return {
    interval: best.interval,
    reason:
      best.expectedLost > sentence
        ? say('recovery.you-type-fast-even-the-shortest-interval', { lost })
        : say('recovery.if-this-computer-were-lost-you-would', {
            lost,
            shorter: Boolean(shorter),
            max: Math.max(0, lost - Math.round(shorter?.expectedLost ?? 0)),
            it: ((shorter?.requestsADay ?? 0) / best.requestsADay).toFixed(1),
          }),
  }
}
