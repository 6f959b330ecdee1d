import { describe, expect, test } from 'vitest'
import { displayOf, sideOf } from './display'
import type { Cell, CellValue } from './workbook'

const shown = (value: CellValue, format?: string) =>
  displayOf({ value, ...(format && { style: { format } }) } as Cell, undefined)

describe('what a cell shows', () => {
  test.each<[CellValue, string | undefined, string]>([
    [0.1 + 0.2, undefined, '0.3'],
    [1234567.891, undefined, '1234567.891'],
    [1e21, undefined, '1e+21'],
    [1234567890123456, undefined, '1.234568e+15'],
    [0.0000123456789012, undefined, '1.234568e-5'],
    [-1 / 3, undefined, '-0.333333333333'],
    [1234.5, '#,##0.00', '1,234.50'],
    [0.125, '0%', '13%'],
    [46307, 'yyyy-mm-dd', '2026-10-12'],
    [0.5, 'hh:mm', '12:00'],
    ['0012', '@', '0012'],
    [true, undefined, 'TRUE'],
    [false, '0.00', 'FALSE'],
    [{ error: '#DIV/0!' }, '0.00', '#DIV/0!'],
    ['', undefined, ''],
    // A format that means nothing leaves the number as it is.
    [12.5, '[broken', '12.5'],
  ])('%j with %s is %s', (value, format, text) => {
    expect(shown(value, format)).toBe(text)
  })
  test('a formula shows its result, and that it is being computed until then', () => {
    expect(displayOf({ formula: 'A1' }, undefined)).toBe('…')
    expect(displayOf({ formula: 'A1', style: { format: '0.0' } }, 2)).toBe('2.0')
    expect(displayOf({ formula: 'A1', value: 'old' } as Cell, 'new')).toBe('new')
    expect(displayOf(undefined, 5)).toBe('')
  })
})

test.each<[Cell | undefined, CellValue | undefined, string]>([
  [{ value: 1 }, undefined, 'right'],
  [{ value: 'a' }, undefined, 'left'],
  [{ value: true }, undefined, 'center'],
  [{ value: { error: '#N/A' } }, undefined, 'center'],
  [{ formula: 'A1' }, 4, 'right'],
  [{ formula: 'A1' }, undefined, 'left'],
  [{ value: 1, style: { align: 'left' } }, undefined, 'left'],
  [undefined, undefined, 'left'],
])('%j with %j stands %s', (cell, result, side) => {
  expect(sideOf(cell, result)).toBe(side)
})
