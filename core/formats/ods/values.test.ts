import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { CellValue } from '../../content/workbook'
import { openTag } from '../odf/new-styles'
import { spannedTree } from '../opc/spanned-xml'
import { attributesOf, daysOf, serialOf, valueOf } from './values'

const through = (value: CellValue | undefined, format?: string) =>
  valueOf(spannedTree(`${openTag('cell', attributesOf(value, format))}</cell>`), () => String(value ?? ''))

test('any value comes back to the last digit, whatever its format makes of it', () => {
  const formats = fc.constantFrom(
    undefined,
    'yyyy-mm-dd',
    'hh:mm:ss',
    '[h]:mm',
    'yyyy-mm-dd hh:mm',
    '0%',
    '[$€-407] 0.00',
    '@',
  )
  fc.assert(
    fc.property(
      fc.oneof(
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.integer({ min: -10, max: 80_000 }),
        fc.boolean(),
      ),
      formats,
      (given, format) => {
        const value = given === 0 ? 0 : given
        expect(through(value, format)).toBe(value)
      },
    ),
  )
})

test.each([
  ['1899-12-30', 0],
  ['2026-11-28', 46_354],
  ['2026-11-28T12:00:00', 46_354.5],
  ['2026-11-28T06:00', 46_354.25],
  ['1582-10-15', -115_858],
  ['28.11.2026', null],
])('%s is day %j', (text, serial) => {
  expect(serialOf(text)).toBe(serial)
})
test.each([
  ['PT06H30M00S', 6.5 / 24],
  ['PT36H00M00S', 1.5],
  ['P1DT12H', 1.5],
  ['-PT12H00M00S', -0.5],
  ['PT00H00M01,500S', 1.5 / 86_400],
  ['12:00', null],
])('%s is %j days', (text, days) => {
  expect(daysOf(text)).toBe(days)
})

test('a number is said as what its format shows', () => {
  expect(attributesOf(46_354.25, 'yyyy-mm-dd hh:mm')).toEqual({
    'office:value-type': 'date',
    'office:date-value': '2026-11-28T06:00:00',
  })
  expect(attributesOf(1.5, '[h]:mm:ss')).toEqual({ 'office:value-type': 'time', 'office:time-value': 'PT36H00M00S' })
  expect(attributesOf(0.5, '0%')['office:value-type']).toBe('percentage')
  expect(attributesOf(0.5, '[$€-407] 0')['office:value-type']).toBe('currency')
  // No date has this day.
  expect(attributesOf(1e9, 'yyyy-mm-dd')).toEqual({ 'office:value-type': 'float', 'office:value': '1000000000' })
})
