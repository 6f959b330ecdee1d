import fc from 'fast-check'
import { expect, test } from 'vitest'
import { RetentionRule, usualRule } from '../contract'
import { inEnglish } from '../words/in-english'
import { goneByRetention, type RetainedVersion, sayRule } from './retention'

const day = 86_400_000
const now = Date.UTC(2026, 9, 14, 12)
const anyRule: fc.Arbitrary<RetentionRule> = fc
  .tuple(fc.array(fc.integer({ min: 1, max: 900 }), { minLength: 5, maxLength: 5 }), fc.boolean())
  .map(([days, forGood]) => {
    const [all, hourly, daily, weekly, monthly] = days.sort((a, b) => a - b) as [number, number, number, number, number]
    return { all, hourly, daily, weekly, monthly: forGood ? null : monthly }
  })
const anyVersions: fc.Arbitrary<RetainedVersion[]> = fc
  .array(fc.record({ age: fc.integer({ min: 0, max: 1500 * 24 * 60 }), kept: fc.boolean() }), { maxLength: 80 })
  .map((list) => list.map(({ age, kept }) => ({ at: now - age * 60_000, kept })).sort((a, b) => a.at - b.at))

test('the first, the latest, kept and young ones stay, one of each month stays, and doing it again takes nothing more', () => {
  fc.assert(
    fc.property(anyRule, anyVersions, (rule, versions) => {
      expect(RetentionRule.parse(rule)).toEqual(rule)
      const gone = new Set(goneByRetention(versions, rule, now))
      const stay = versions.filter((_, index) => !gone.has(index))
      for (const index of gone) {
        expect(index).toBeGreaterThan(0)
        expect(index).toBeLessThan(versions.length - 1)
        expect(versions[index]!.kept).toBe(false)
        expect(now - versions[index]!.at).toBeGreaterThan(rule.all * day)
      }
      const month = ({ at }: RetainedVersion) => new Date(at).toISOString().slice(0, 7)
      const old = rule.monthly === null ? Number.POSITIVE_INFINITY : rule.monthly * day
      for (const version of versions)
        if (now - version.at <= old)
          expect(stay.some((one) => month(one) === month(version) || one.at - version.at < 7 * day)).toBe(true)
      expect(goneByRetention(stay, rule, now)).toEqual([])
    }),
    { numRuns: 300 },
  )
})

test('thins from hours to days to weeks to months, and says so', () => {
  const hourly = Array.from({ length: 24 * 900 }, (_, at) => ({ at: now - (24 * 900 - at) * 3_600_000, kept: false }))
  const gone = new Set(goneByRetention(hourly, usualRule, now))
  const staying = (from: number, to: number) =>
    hourly.filter(({ at }, index) => !gone.has(index) && now - at > from * day && now - at <= to * day).length
  expect(staying(0, 60)).toBe(24 * 60)
  expect(staying(61, 179)).toBe(118)
  expect(staying(190, 720)).toBeGreaterThanOrEqual(75)
  expect(staying(190, 720)).toBeLessThanOrEqual(77)
  expect(staying(731, 900)).toBeLessThanOrEqual(7)
  expect(inEnglish(sayRule(usualRule))).toBe(
    'All versions for 30 days, then one an hour up to 2 months, then one a day up to 6 months, then one a week up to 2 years, then one a month for good.',
  )
})
