import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { displayOf } from './display'
import { type CellSearch, findCells, replacedCell } from './find-cells'
import type { Cell, Workbook } from './workbook'
import { anyHistory } from './workbook.arbitrary'

const search = (text: string, more: Partial<CellSearch> = {}): CellSearch => ({
  text,
  sameCase: false,
  whole: false,
  formulas: false,
  ...more,
})
const book = (...sheets: (Cell | undefined)[][][]): Workbook => ({
  sheets: sheets.map((rows, at) => ({ name: `Sheet ${at + 1}`, rows, widths: {} })),
})
const locks = book(
  [
    [{ value: 'Lock LK02' }, { value: 'lock gate' }],
    [undefined, { value: 4.5, style: { format: '0.00 "€"' } }, { formula: 'SUM(B2:B9)' }],
  ],
  [[{ value: 'LOCK' }, { value: 45000, style: { format: 'dd/mm/yyyy' } }]],
)
const results = (_sheet: number, _row: number, _column: number) => 4.5
const found = (one: CellSearch, only: number | null = null) => findCells(locks, one, results, only)

describe('cells are found', () => {
  test('by what they show and by what was typed, on all sheets or one', () => {
    expect(found(search('lock'))).toEqual([
      [0, 0, 0],
      [0, 0, 1],
      [1, 0, 0],
    ])
    expect(found(search('lock'), 1)).toEqual([[1, 0, 0]])
    expect(found(search('LOCK', { sameCase: true }))).toEqual([[1, 0, 0]])
    expect(found(search('lock', { whole: true }))).toEqual([[1, 0, 0]])
    expect(found(search('4.50 €'))).toEqual([[0, 1, 1]])
    expect(found(search('4.5', { whole: true }))).toEqual([
      [0, 1, 1],
      [0, 1, 2],
    ])
    // As a date is shown, and as it is typed.
    expect([found(search('15/03/2023')), found(search('2023-03-15'))]).toEqual([[[1, 0, 1]], [[1, 0, 1]]])
    expect(found(search('sum('))).toEqual([])
    expect(found(search('sum(', { formulas: true }))).toEqual([[0, 1, 2]])
    expect(found(search(''))).toEqual([])
  })

  test('as one would who looks at each of them', () => {
    fc.assert(
      fc.property(anyHistory(5), fc.string({ maxLength: 3 }), fc.boolean(), ({ end }, text, sameCase) => {
        const fold = (one: string) => (sameCase ? one : one.toLowerCase())
        const shown = findCells(end, search(text, { sameCase }), () => undefined, null).map(String)
        for (const [sheet, { rows }] of end.sheets.entries())
          rows.forEach((line, row) => {
            line?.forEach((cell, column) => {
              const here =
                text !== '' && cell?.value !== undefined && fold(displayOf(cell, undefined)).includes(fold(text))
              if (here) expect(shown).toContain(String([sheet, row, column]))
              if (!cell || (cell.value === undefined && cell.formula === undefined))
                expect(shown).not.toContain(String([sheet, row, column]))
            })
          })
      }),
    )
  })
})

describe('a text in the place of another', () => {
  test.each<[string, Cell, CellSearch, string, Cell | null]>([
    ['in a text, everywhere', { value: 'lock, Lock' }, search('lock'), 'gate', { value: 'gate, gate' }],
    [
      'only with the same letters',
      { value: 'lock, Lock' },
      search('Lock', { sameCase: true }),
      'gate',
      { value: 'lock, gate' },
    ],
    ['with signs that mean something elsewhere', { value: 'a.b' }, search('.'), '$&', { value: 'a$&b' }],
    ['a text with digits stays a text', { value: 'LK02' }, search('LK'), '', { value: '02' }],
    [
      'a number is one still',
      { value: 4.5, style: { format: '0.00' } },
      search('4'),
      '7',
      { value: 7.5, style: { format: '0.00' } },
    ],
    [
      'a whole text becomes what would be typed',
      { value: 'open' },
      search('open', { whole: true }),
      '12',
      { value: 12 },
    ],
    ['a formula', { formula: 'SUM(B2:B9)' }, search('B9', { formulas: true }), 'B12', { formula: 'SUM(B2:B12)' }],
    ['no formula that could not be read', { formula: 'SUM(B2:B9)' }, search('(', { formulas: true }), '', null],
    ['not what a formula results in', { formula: 'A1' }, search('4'), '7', null],
    ['letters that are longer in small', { value: 'İstanbul lock' }, search('x'), 'y', null],
  ])('%s', (_, cell, one, by, expected) => expect(replacedCell(cell, one, by)).toEqual(expected))

  test('is not found any more where it is not in what came instead', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 12 }),
        fc.string({ minLength: 1, maxLength: 2 }),
        fc.boolean(),
        (value, text, sameCase) => {
          const one = search(text, { sameCase })
          const now = replacedCell({ value }, one, '')
          if (!now) return
          const again = findCells(book([[now]]), one, () => undefined, null)
          // Taking it out may bring parts together that are it once more; then there is less to take out.
          if (again.length) expect(String(now.value).length).toBeLessThan(value.length)
        },
      ),
    )
  })
})
