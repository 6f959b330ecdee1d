import fc from 'fast-check'
import { expect, test } from 'vitest'
import { checkName, nameKey, splitExtension } from './check'
import { sideListNames } from './side-lists'

test('lists are called as their spreadsheet, and by the sheet where there are several', () => {
  expect(sideListNames('Tolls 2026.xlsx', ['Rates'], ['Rates'], 'csv', [])).toEqual(['Tolls 2026.csv'])
  expect(sideListNames('Tolls 2026.xlsx', ['Rates', 'Boats'], ['Boats', 'Rates'], 'tsv', [])).toEqual([
    'Tolls 2026 Boats.tsv',
    'Tolls 2026 Rates.tsv',
  ])
  expect(sideListNames('Tolls.ods', ['Rates'], ['Rates'], 'csv', [nameKey('Tolls.csv')])).toEqual(['Tolls 2.csv'])
})
test('whatever sheets are called, each list has a name of its own that a file can have, and the ending of its type', () => {
  const sheet = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 40 })
  fc.assert(
    fc.property(
      fc.uniqueArray(sheet, { minLength: 1, maxLength: 6 }),
      fc.constantFrom('csv', 'tsv'),
      (sheets, type) => {
        const taken = new Set([nameKey('Tolls 1.csv')])
        const names = sideListNames('Tolls.xlsx', sheets, sheets, type, taken)
        expect(new Set([...names.map(nameKey), ...taken]).size).toBe(sheets.length + 1)
        for (const name of names) expect([checkName(name), splitExtension(name)[1]]).toEqual([null, `.${type}`])
      },
    ),
  )
})
