import fc from 'fast-check'
import { expect, test } from 'vitest'
import { goingOn, knownEntries } from './known-entries'
import type { Cell, Row } from './workbook'

const cells: fc.Arbitrary<Cell | undefined> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.constantFrom('Lock', 'LK07', 'lk07', 'Weir', 'Weir gauge', '').map((value): Cell => ({ value })),
  },
  fc.constantFrom<Cell | undefined>(
    undefined,
    { value: 7 },
    { value: true },
    { value: 'Lock', formula: 'A1' },
    { value: 'a\nb' },
    {
      value: 'x'.repeat(121),
    },
  ),
)
const rows: fc.Arbitrary<Row[]> = fc.array(fc.array(cells, { maxLength: 3 }), { maxLength: 14 }) as never

test('what a column holds is each text that was entered into its other rows, once, the nearest first', () => {
  fc.assert(
    fc.property(rows, fc.nat(16), fc.nat(3), (sheet, row, column) => {
      const found = knownEntries({ rows: sheet }, row, column)
      const nearest = new Map<string, number>()
      sheet.forEach((cells, at) => {
        const cell = cells?.[column]
        const text = cell?.formula === undefined && typeof cell?.value === 'string' ? cell.value : ''
        if (at === row || !text || text.includes('\n') || text.length > 120) return
        nearest.set(text, Math.min(nearest.get(text) ?? Number.POSITIVE_INFINITY, Math.abs(at - row)))
      })
      expect(new Set(found)).toEqual(new Set(nearest.keys()))
      expect(found.length).toBe(nearest.size)
      const away = found.map((text) => nearest.get(text)!)
      expect(away).toEqual(away.toSorted((a, b) => a - b))
    }),
  )
})

test('of two rows as near, the one above is offered first', () => {
  const sheet = { rows: [[{ value: 'above' }], [], [{ value: 'below' }]] }
  expect(knownEntries(sheet, 1, 0)).toEqual(['above', 'below'])
})

test('what is offered begins with what is typed, in its own capitals and order, and never more than is asked for', () => {
  const text = fc.string({ unit: fc.constantFrom('l', 'L', 'ö', 'o\u0308', ' '), maxLength: 4 })
  fc.assert(
    fc.property(fc.uniqueArray(text, { maxLength: 8 }), text, fc.integer({ min: 1, max: 8 }), (texts, typed, most) => {
      const offered = goingOn(texts, typed, most)
      const plain = (one: string) => one.normalize('NFC').toLowerCase()
      const wanted = plain(typed.trimStart())
      const fit = texts.filter((one) => wanted !== '' && one !== typed && plain(one).startsWith(wanted))
      expect(offered).toEqual(fit.slice(0, most))
    }),
  )
})

test('a column of very many rows is looked through near the cell alone', () => {
  const sheet = { rows: Array.from({ length: 300_000 }, (_, at): Row => [{ value: `LK${at}` }]) }
  const found = knownEntries(sheet, 150_000, 0)
  expect(found.slice(0, 3)).toEqual(['LK149999', 'LK150001', 'LK149998'])
  expect(found.length).toBe(10_000)
})
