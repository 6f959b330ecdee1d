import fc from 'fast-check'
import { expect, test } from 'vitest'
import { scrolledTo } from './place-kept'

const pixels = fc.integer({ min: 0, max: 30_000_000 })
const span = fc.tuple(fc.nat(50), fc.integer({ min: 120, max: 2000 }))
const room = fc.record({ before: span, now: span })

test('a cursor that was in sight is whole in sight again, at its height where there is room for that', () => {
  fc.assert(
    fc.property(
      pixels,
      fc.nat(1999),
      pixels,
      fc.integer({ min: 1, max: 60 }),
      room,
      (was, away, now, length, rooms) => {
        fc.pre(was > 0 && away >= rooms.before[0] && away < rooms.before[1] && now >= 3000)
        const to = scrolledTo(was, rooms, { before: was + away, now, length }, { before: 0, now: 0 }, 1)
        // Not under what always stays in sight, and not past the end.
        expect(now - to).toBeGreaterThanOrEqual(rooms.now[0])
        expect(now + length - to).toBeLessThanOrEqual(rooms.now[1])
        if (away >= rooms.now[0] && away + length <= rooms.now[1]) expect(now - to).toBe(away)
      },
    ),
  )
})

test('from the beginning nothing is scrolled away that has room; the cursor stays in sight', () => {
  fc.assert(
    fc.property(fc.nat(1999), fc.nat(6000), fc.integer({ min: 1, max: 60 }), room, (before, now, length, rooms) => {
      const to = scrolledTo(0, rooms, { before, now, length }, { before: 0, now: 0 }, 2)
      if (before >= rooms.before[1]) expect(to).toBe(0)
      else {
        expect(now + length - to).toBeLessThanOrEqual(rooms.now[1])
        if (now + length <= rooms.now[1]) expect(to).toBe(0)
      }
    }),
  )
})

test('where the cursor was out of sight, the line at the top stays there, with as large a share of it hidden', () => {
  const ratio = fc.constantFrom(0.5, 0.75, 1.25, 2, 3)
  fc.assert(
    fc.property(pixels, fc.nat(26), pixels, room, ratio, fc.boolean(), (was, hidden, now, rooms, by, above) => {
      fc.pre(was > 0)
      const before = above ? was + rooms.before[0] - 1 : was + rooms.before[1]
      const first = { before: was - hidden, now }
      expect(scrolledTo(was, rooms, { before, now: 9e9, length: 26 }, first, by)).toBeCloseTo(now + hidden * by, 6)
      expect(scrolledTo(was, rooms, null, first, by)).toBeCloseTo(now + hidden * by, 6)
    }),
  )
})
