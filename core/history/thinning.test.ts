import fc from 'fast-check'
import { expect, test } from 'vitest'
import { thinnedOut } from './thinning'

const minute = 60_000
const version = fc.record({
  reason: fc.constantFrom('by itself' as const, 'by itself' as const, 'by itself' as const, 'saved' as const),
  authorId: fc.constantFrom('ida', 'ben'),
  gap: fc.integer({ min: 1, max: 300 }),
})
const history = fc.array(version, { minLength: 1, maxLength: 60 }).map((list) => {
  let at = Date.UTC(2026, 9, 14)
  return list.map(({ gap, ...one }, number) => ({ ...one, number, at: new Date((at += gap * minute)).toISOString() }))
})

test('only versions that were saved by themselves thin out, the last of each run and the newest never, and only once', () => {
  fc.assert(
    fc.property(history, fc.integer({ min: 0, max: 20 * 24 * 60 }), (versions, minutes) => {
      const now = Date.parse(versions.at(-1)!.at) + minutes * minute
      const gone = new Set(thinnedOut(versions, now))
      for (const [index, one] of versions.entries()) {
        const next = versions[index + 1]
        const endsRun = next?.reason !== 'by itself' || next.authorId !== one.authorId
        if (one.reason !== 'by itself' || endsRun || index === 0) expect(gone.has(one)).toBe(false)
        else if (now - Date.parse(one.at) < 24 * 60 * minute) expect(gone.has(one)).toBe(false)
      }
      const left = versions.filter((one) => !gone.has(one))
      expect(thinnedOut(left, now)).toEqual([])
      // After a week nothing of a run is left but its end.
      const late = now + 30 * 24 * 60 * minute
      const end = versions.filter((one) => !new Set(thinnedOut(versions, late)).has(one))
      for (const [index, one] of end.entries())
        if (index > 0 && one.reason === 'by itself' && end[index + 1]?.reason === 'by itself')
          expect(end[index + 1]!.authorId).not.toBe(one.authorId)
    }),
    { numRuns: 300 },
  )
})
