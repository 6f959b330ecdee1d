import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { displayOf } from './display'
import { readEntry } from './entry'
import { seriesOf } from './series'

const cellsOf = (...entries: string[]) => entries.map((entry) => readEntry(entry, undefined) ?? undefined)
const next = (entries: string[], from: number, count: number) => {
  const goesOn = seriesOf(cellsOf(...entries))
  return goesOn && Array.from({ length: count }, (_, at) => displayOf(goesOn(from + at), undefined))
}

describe('a row of values goes on', () => {
  test.each([
    [
      ['2', '4'],
      ['6', '8', '10'],
    ],
    [
      ['10', '7.5'],
      ['5', '2.5', '0'],
    ],
    [['LK07'], ['LK08', 'LK09', 'LK10']],
    [
      ['LK02', 'LK04'],
      ['LK06', 'LK08', 'LK10'],
    ],
    [['Gate 099'], ['Gate 100', 'Gate 101', 'Gate 102']],
    [['Monday'], ['Tuesday', 'Wednesday', 'Thursday']],
    [['Sat'], ['Sun', 'Mon', 'Tue']],
    [['MONTAG'], ['DIENSTAG', 'MITTWOCH', 'DONNERSTAG']],
    [
      ['november', 'december'],
      ['january', 'february', 'march'],
    ],
    [
      ['January', 'April'],
      ['July', 'October', 'January'],
    ],
    [['2026-11-29'], ['2026-11-30', '2026-12-01', '2026-12-02']],
    [
      ['01/11/2026', '08/11/2026'],
      ['15/11/2026', '22/11/2026', '29/11/2026'],
    ],
    [
      ['31/10/2026', '30/11/2026'],
      ['31/12/2026', '31/01/2027', '28/02/2027'],
    ],
    [
      ['15/01/2026', '15/04/2026'],
      ['15/07/2026', '15/10/2026', '15/01/2027'],
    ],
    [
      ['€5', '€7'],
      ['€9', '€11', '€13'],
    ],
  ])('%j', (given, expected) => expect(next(given, given.length, 3)).toEqual(expected))
  test.each([
    [['5']],
    [['lock']],
    [['=A1']],
    [['lock', '5']],
    [['LK07', 'gate']],
    [['Monday', '']],
    [['LK01', 'LK02', 'LK04']],
  ])('or is only repeated: %j', (given) => expect(seriesOf(cellsOf(...given))).toBeNull())
  test('backwards, too', () => {
    expect(next(['LK07'], -2, 2)).toEqual(['LK05', 'LK06'])
    expect(next(['Monday'], -2, 2)).toEqual(['Saturday', 'Sunday'])
    expect(next(['31/03/2026', '30/04/2026'], -1, 1)).toEqual(['28/02/2026'])
  })
  test('and is itself where it was made from', () => {
    const entry = fc.oneof(
      fc.integer({ min: -999, max: 999 }).map(String),
      fc.constantFrom('Monday', 'Tue', 'März', 'LK07', 'LK09'),
      fc
        .date({ min: new Date('1950-01-01'), max: new Date('2080-01-01'), noInvalidDate: true })
        .map((day) => day.toISOString().slice(0, 10)),
    )
    fc.assert(
      fc.property(entry, fc.integer({ min: 1, max: 9 }), fc.integer({ min: 2, max: 5 }), (first, step, count) => {
        const one = seriesOf(cellsOf(first))
        if (!one) return
        const made = Array.from({ length: count }, (_, at) => one(at * step))
        const goesOn = seriesOf(made)!
        for (const [at, cell] of made.entries()) expect(goesOn(at)).toEqual(cell)
      }),
    )
  })
})
