import fc from 'fast-check'
import { expect, test } from 'vitest'
import { makeRoom } from './room'

const piece = fc.record({
  id: fc.uuid(),
  bytes: fc.integer({ min: 0, max: 1000 }),
  lastEditAt: fc.integer({ min: 0, max: 1e6 }),
  setAside: fc.boolean(),
})
const pieces = fc.uniqueArray(piece, { selector: ({ id }) => id, maxLength: 30 })

test('only what was set aside goes, in the chosen order, and no more of it than needed', () => {
  fc.assert(
    fc.property(
      pieces,
      fc.integer({ min: 0, max: 8000 }),
      fc.constantFrom('oldest', 'largest'),
      (all, limit, first) => {
        const { going, left, over } = makeRoom(all, limit, first as 'oldest' | 'largest')
        const gone = going.map((id) => all.find((one) => one.id === id)!)
        const sum = (list: typeof all) => list.reduce((total, { bytes }) => total + bytes, 0)
        const aside = all.filter(({ setAside }) => setAside)
        expect(gone.every(({ setAside }) => setAside)).toBe(true)
        expect(left).toBe(sum(all) - sum(gone))
        expect(over).toBe(Math.max(0, left - limit))
        // More than allowed is left only when nothing that may go is left.
        if (over > 0) expect(gone.length).toBe(aside.length)
        // Without the last one that went there was no room.
        if (gone.length) expect(left + gone.at(-1)!.bytes).toBeGreaterThan(limit)
        const rank = (one: (typeof all)[number]) => (first === 'oldest' ? -one.lastEditAt : one.bytes)
        const staying = aside.filter(({ id }) => !going.includes(id))
        for (const went of gone) for (const stays of staying) expect(rank(went)).toBeGreaterThanOrEqual(rank(stays))
      },
    ),
  )
})
