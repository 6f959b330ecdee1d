import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { entryOf, readEntry } from './entry'
import { anyHistory } from './workbook.arbitrary'

describe('entries', () => {
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
  ])('%s', (entry, cell) => expect(readEntry(entry, undefined)).toEqual(cell))
})
