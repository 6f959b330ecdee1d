import fc from 'fast-check'
import { expect, test } from 'vitest'
import { scrolledTo } from './place-kept'

const pixels = fc.integer({ min: 0, max: 30_000_000 })
const room = fc.record({ before: fc.integer({ min: 60, max: 2000 }), now: fc.integer({ min: 60, max: 2000 }) })

test('a cursor that was in sight is whole in sight again, at its height where there is room for that', () => {
  fc.assert(
    fc.property(
      pixels,
      fc.nat(1999),
      pixels,
      fc.integer({ min: 1, max: 60 }),
      room,
      (was, away, now, length, rooms) => {
        fc.pre(away < rooms.before)
        const cursor = { before: was + away, now, length }
        const to = scrolledTo(was, rooms, cursor, { before: 0, now: 0 }, 1)
        expect(now - to).toBeGreaterThanOrEqual(0)
        expect(now + length - to).toBeLessThanOrEqual(rooms.now)
        if (away + length <= rooms.now) expect(now - to).toBe(away)
      },
    ),
  )
})

test('where the cursor was out of sight, the line at the top stays there, with as large a share of it hidden', () => {
  const ratio = fc.constantFrom(0.5, 0.75, 1.25, 2, 3)
  fc.assert(
    fc.property(
      pixels,
      fc.integer({ min: 0, max: 26 }),
      pixels,
      room,
      ratio,
      fc.boolean(),
      (was, hidden, now, rooms, by, above) => {
        const cursor = above
          ? { before: was - 1 - hidden, now: 0, length: 26 }
          : { before: was + rooms.before, now: 9e9, length: 26 }
        const first = { before: was - hidden, now }
        expect(scrolledTo(was, rooms, cursor, first, by)).toBeCloseTo(now + hidden * by, 6)
        expect(scrolledTo(was, rooms, null, first, by)).toBeCloseTo(now + hidden * by, 6)
      },
    ),
  )
})
