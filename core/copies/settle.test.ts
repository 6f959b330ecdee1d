import fc from 'fast-check'
import { expect, test } from 'vitest'
import { nameKey } from '../naming/check'
import { type Settled, settle } from './settle'

const ids = ['a', 'b', 'c', 'd', 'e', 'f']
const isFolder = (id: string) => id < 'd'
const any: fc.Arbitrary<Settled[]> = fc.subarray(ids, { minLength: 1 }).chain((some) =>
  fc.tuple(
    ...some.map((id) =>
      fc.record({
        id: fc.constant(id),
        shareId: fc.constantFrom('one', 'two'),
        folderId: fc.constantFrom(null, ...ids),
        name: fc.constantFrom('Level.txt', 'level.TXT', 'Gauge'),
      }),
    ),
  ),
)

test('every entry has a place: after its folder, in one share with it, under a name of its own', () => {
  fc.assert(
    fc.property(any, (entries) => {
      const { settled, changed } = settle(entries, isFolder)
      expect(settled.map(({ id }) => id).sort()).toEqual(entries.map(({ id }) => id).sort())
      const before = new Map<string, Settled>()
      const names = new Set<string>()
      for (const one of settled) {
        if (one.folderId !== null) {
          expect(before.get(one.folderId)?.shareId).toBe(one.shareId)
          expect(isFolder(one.folderId)).toBe(true)
        }
        const key = `${one.shareId} ${one.folderId} ${nameKey(one.name)}`
        expect(names.has(key)).toBe(false)
        names.add(key)
        before.set(one.id, one)
      }
      const was = new Map(entries.map((one) => [one.id, one]))
      for (const one of settled)
        expect(changed.has(one.id)).toBe(JSON.stringify(one) !== JSON.stringify(was.get(one.id)))
    }),
    { numRuns: 2000 },
  )
})

test('what is settled stays as it is', () => {
  fc.assert(
    fc.property(any, (entries) => {
      const { settled } = settle(entries, isFolder)
      const again = settle(settled, isFolder)
      expect(again.settled).toEqual(settled)
      expect(again.changed.size).toBe(0)
    }),
  )
})
