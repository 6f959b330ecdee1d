import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { entryOf, readEntry } from './entry'
import { anyHistory } from './workbook.arbitrary'

describe('entries', () => {
  test.each([
    ['12,5', { value: 12.5 }],
    ['-0,25', { value: -0.25 }],
    ['1.234,50', { value: 1234.5, style: { format: '#,##0.00' } }],
    ['12,50 €', { value: 12.5, style: { format: '#,##0.00 [$€]' } }],
    ['1.234,50 €', { value: 1234.5, style: { format: '#,##0.00 [$€]' } }],
    ['12,5 %', { value: 0.125, style: { format: '0.00%' } }],
    // What is shown for a number to be changed is read as that number.
    ['1.234', { value: 1.234 }],
    ['12.5', { value: 12.5 }],
    ['LK07,5', { value: 'LK07,5' }],
  ])('%s, where a comma stands before decimals', (entry, cell) =>
    expect(readEntry(entry, undefined, { comma: true })).toEqual(cell),
  )
  test('typing back what a cell shows leaves it as it was, however numbers are written', () => {
    const piece = fc.constantFrom('1', '2', '12', '.', ',', '/', ' ', '€', '-', '%', 'Mar', '2026', "'", '=', 'EUR')
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 8 }), fc.boolean(), (pieces, comma) => {
        const cell = { value: pieces.join('') }
        if (cell.value) expect(readEntry(entryOf(cell), cell, { comma })).toEqual(cell)
        const read = readEntry(pieces.join(''), undefined, { comma })
        if (read && typeof read.value === 'number') expect(readEntry(entryOf(read), read, { comma })).toEqual(read)
      }),
      { numRuns: 2000 },
    )
  })
  test('typing back what a cell shows leaves the cell as it was', () => {
    fc.assert(
      fc.property(anyHistory(4), ({ end }) => {
        // A cell of the text format makes a text of everything that is typed into it.
        for (const sheet of end.sheets)
          for (const row of sheet.rows)
            for (const cell of row ?? [])
              if (cell && !(cell.style?.format === '@' && cell.value !== undefined && typeof cell.value !== 'string'))
                expect(readEntry(entryOf(cell), cell) ?? undefined).toEqual(cell)
      }),
    )
  })
  test.each([
    ['12', { value: 12 }],
    ['-1.5e3', { value: -1500 }],
    ['1,234', { value: 1234, style: { format: '#,##0' } }],
    ['12 %', { value: 0.12, style: { format: '0%' } }],
    ['2026-11-24', { value: 46350, style: { format: 'yyyy-mm-dd' } }],
    ['2026-02-30', { value: '2026-02-30' }],
    ['06:00', { value: 0.25, style: { format: 'hh:mm' } }],
    ['=A1+1', { formula: 'A1+1' }],
    ["'=A1", { value: '=A1' }],
    ['=', { value: '=' }],
    ['true', { value: true }],
    ['#n/a', { value: { error: '#N/A' } }],
    ['LK07', { value: 'LK07' }],
    ['', null],
    ['€12', { value: 12, style: { format: '[$€]#,##0' } }],
    ['-£1,234.5', { value: -1234.5, style: { format: '[$£]#,##0.00' } }],
    ['CHF 20.50', { value: 20.5, style: { format: '[$CHF] #,##0.00' } }],
    ['12.50 €', { value: 12.5, style: { format: '#,##0.00 [$€]' } }],
    ['5 EUR', { value: 5, style: { format: '#,##0 [$EUR]' } }],
    ['€', { value: '€' }],
    ['€12.3.4', { value: '€12.3.4' }],
    ['24/11/2026', { value: 46350, style: { format: 'dd/mm/yyyy' } }],
    ['24.11.26', { value: 46350, style: { format: 'dd.mm.yyyy' } }],
    ['24 Nov 2026', { value: 46350, style: { format: 'd mmm yyyy' } }],
    ['24. November 2026', { value: 46350, style: { format: 'd. mmm yyyy' } }],
    ['3 März 2026', { value: 46084, style: { format: 'd mmm yyyy' } }],
    ['11/24/2026', { value: '11/24/2026' }],
    ['31.2.2026', { value: '31.2.2026' }],
    ['24 locks 2026', { value: '24 locks 2026' }],
    ['12,5', { value: '12,5' }],
  ])('%s', (entry, cell) => expect(readEntry(entry, undefined)).toEqual(cell))
})
