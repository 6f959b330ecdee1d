import fc from 'fast-check'
import { expect, test } from 'vitest'
import { byLetters, placesOf } from './by-letters'

const collator = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' })
const plain = fc.oneof(
  fc.string({ unit: fc.constantFrom(...'aAbBzZ019 '), maxLength: 8 }),
  fc.tuple(fc.constantFrom('LK', 'lk', 'Reading ', ''), fc.nat(120)).map(([name, number]) => `${name}${number}`),
)
const any = fc.oneof(
  plain,
  fc.string({ unit: 'grapheme', maxLength: 6 }),
  fc.constantFrom('Größe', 'Grosse', 'É', '-1', '1.5'),
)

test('the order is the one of the collation with numbers as numbers, also where that is not asked', () => {
  fc.assert(
    fc.property(any, any, (a, b) => {
      expect(Math.sign(byLetters(a, b))).toBe(Math.sign(collator.compare(a, b)))
    }),
    { numRuns: 5000 },
  )
  expect(['LK12', 'lk7', 'LK 9', 'Weir', 'LK07', '10', '9'].toSorted(byLetters)).toEqual([
    '9',
    '10',
    'LK 9',
    'lk7',
    'LK07',
    'LK12',
    'Weir',
  ])
})

test('places follow that order, and the same to it are at the same one', () => {
  fc.assert(
    fc.property(fc.array(any, { maxLength: 20 }), (texts) => {
      const places = placesOf(texts)
      for (const a of texts)
        for (const b of texts) expect(Math.sign(places.get(a)! - places.get(b)!)).toBe(Math.sign(byLetters(a, b)))
    }),
    { numRuns: 300 },
  )
})
