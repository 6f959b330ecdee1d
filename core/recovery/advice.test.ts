import { describe, expect, test } from 'vitest'
import { inEnglish } from '../words/in-english'
import { fromKept } from '../words/said'
import { countGap, emptyRhythm, factsOf, gapBounds, type Rhythm, recommend } from './advice'
import { drillReport, lostOf } from './drill'

/** Numbers from 0 to 1, the same at every run (Park and Miller, 1988). */
function noise(seed: number): () => number {
  let state = seed
  return () => {
    state = (state * 48271) % 2147483647
    return state / 2147483647
  }
}

/** Typing in bursts with pauses, as gaps in seconds. */
function typing(random: () => number): number {
  const roll = random()
  if (roll < 0.85) return 0.08 + random() * 0.25
  if (roll < 0.97) return 0.4 + random() * 3
  return 4 + random() * random() * 120
}

/** Ten thousand crashes at random moments: what the worker's own rule would have lost. */
function simulate(interval: number, crashes: number): { lost: number; pointsAnHour: number } {
  const random = noise(7)
  let [time, pointAt, unsent, lost, struck, points] = [0, 0, 0, 0, 0, 0]
  const until = crashes * 60
  let crash = random() * 120
  while (time < until) {
    const next = time + typing(random)
    // A point is due when something is unsent and the interval has passed since the last one.
    for (;;) {
      const due = Math.max(pointAt + interval, time)
      if (unsent > 0 && due <= next) {
        while (crash < due) {
          lost += unsent
          struck++
          crash += random() * 120
        }
        unsent = 0
        pointAt = due
        points++
      } else break
    }
    while (crash < next) {
      lost += unsent
      struck++
      crash += random() * 120
    }
    time = next
    unsent++
  }
  return { lost: lost / struck, pointsAnHour: (points * 3600) / until }
}

const rhythm: Rhythm = (() => {
  const random = noise(3)
  let counted = emptyRhythm()
  for (let edit = 0; edit < 20_000; edit++) counted = countGap(counted, typing(random))
  return counted
})()
const cost = { bytesPerPoint: 700, bytesPerEdit: 60 }

describe('advice', () => {
  test('the formula agrees with a simulation of ten thousand crashes', () => {
    for (const interval of [5, 15, 30, 60, 300]) {
      const facts = factsOf(rhythm, interval, cost, 4)
      const { lost, pointsAnHour } = simulate(interval, 10_000)
      expect(facts.expectedLost / lost).toBeGreaterThan(0.9)
      expect(facts.expectedLost / lost).toBeLessThan(1.1)
      expect(facts.requestsADay / (pointsAnHour * 4)).toBeGreaterThan(0.9)
      expect(facts.requestsADay / (pointsAnHour * 4)).toBeLessThan(1.1)
      expect(facts.worstLost).toBeGreaterThan(facts.expectedLost)
    }
  })
  test('longer intervals lose more and cost less; the recommendation keeps a crash under a sentence', () => {
    const all = [5, 10, 15, 30, 60, 300, 900].map((interval) => factsOf(rhythm, interval, cost, 4))
    for (const [index, facts] of all.entries())
      if (index) {
        expect(facts.expectedLost).toBeGreaterThan(all[index - 1]!.expectedLost)
        expect(facts.bytesADay).toBeLessThan(all[index - 1]!.bytesADay)
      }
    const { interval, reason } = recommend(all)
    expect(all.find((facts) => facts.interval === interval)!.expectedLost).toBeLessThanOrEqual(80)
    expect(inEnglish(reason)).toContain('letters')
  })
  test('a rhythm holds counts and nothing else', () => {
    expect(rhythm.gaps).toHaveLength(gapBounds.length + 1)
    expect(rhythm.gaps.reduce((sum, n) => sum + n, 0)).toBe(20_000)
    expect(countGap(rhythm, 4000)).toBe(rhythm)
    expect(countGap(rhythm, Number.NaN)).toBe(rhythm)
  })
})

describe('a drill', () => {
  const letters = [...'protected'].map((letter, index) => ({ letter, at: index * 100 }))
  test('tells what each level lost, and fails where more than promised is lost or something else comes back', () => {
    expect(lostOf({ letters, endedAt: 850 }, 'protecte')).toEqual({ charactersLost: 1, lostMs: 50 })
    expect(lostOf({ letters, endedAt: 850 }, 'protected')).toEqual({ charactersLost: 0, lostMs: 0 })
    const good = drillReport(
      'document',
      { letters, endedAt: 850 },
      5,
      { back: 'protecte', ms: 30 },
      { back: 'prot', ms: 50 },
    )
    expect(good).toMatchObject({ passed: true, device: { charactersLost: 1 }, sharedStorage: { charactersLost: 5 } })
    const late = drillReport('document', { letters, endedAt: 900 }, 5, { back: 'prote', ms: 30 }, null)
    expect(late).toMatchObject({ passed: false, sharedStorage: null })
    expect(inEnglish(fromKept(late.faults[0]!))).toContain('This computer was 400 ms behind; 100 are promised.')
    expect(drillReport('document', { letters, endedAt: 900 }, 5, { back: 'pxotected', ms: 30 }, null).passed).toBe(
      false,
    )
  })
})
