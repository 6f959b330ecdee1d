import fc from 'fast-check'
import { expect, test } from 'vitest'
import { lettersBeside } from './letters'

const letters = fc.array(fc.constantFrom('a', 'b', 'c', ' ', ' ', '.', 'leaf {"is":"a thing"}'), { maxLength: 40 })

test('a letter is one that is the same, no letter is two, and their order stays', () => {
  fc.assert(
    fc.property(letters, letters, (older, newer) => {
      const found = [...lettersBeside(older, newer)]
      expect(found).toHaveLength(newer.length)
      let last = -1
      for (const [at, was] of found.entries()) {
        if (was < 0) continue
        expect(older[was]).toBe(newer[at])
        expect(was).toBeGreaterThan(last)
        last = was
      }
    }),
  )
})

test('what stays around an edit is itself', () => {
  fc.assert(
    fc.property(letters, letters, letters, (before, put, behind) => {
      const older = [...before, ...behind]
      expect([...lettersBeside(older, older)]).toEqual(older.map((_, at) => at))
      const found = lettersBeside(older, [...before, ...put, ...behind])
      // As many as there were have a counterpart: nothing of what stayed is lost.
      expect([...found].filter((was) => was >= 0).length).toBeGreaterThanOrEqual(before.length)
      expect([...found.slice(0, before.length)]).toEqual(before.map((_, at) => at))
    }),
  )
})
