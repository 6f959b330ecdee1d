import { expect, test } from 'vitest'
import { formatOfResult } from './formula-format'

const formats: Record<string, string> = {
  '0 0': '#,##0.00 [$€]',
  '0 1': 'dd/mm/yyyy',
  '0 2': '0%',
  '0 3': '@',
  '1 1': 'dd/mm/yyyy',
}
const at = (sheet: string | null, row: number, column: number) =>
  sheet === null ? formats[`${row} ${column}`] : '[$£]0'

test.each([
  ['TODAY()', 'yyyy-mm-dd'],
  ['EDATE(B1,3)', 'yyyy-mm-dd'],
  ['NOW()', 'yyyy-mm-dd hh:mm'],
  ['TODAY()-B1', undefined],
  ['A1', '#,##0.00 [$€]'],
  ['SUM(A1:A9)', '#,##0.00 [$€]'],
  ['ROUND(A1*1.2,2)', '#,##0.00 [$€]'],
  ['A1*3', '#,##0.00 [$€]'],
  ['A1/A1', undefined],
  ['Tolls!A1+1', '[$£]0'],
  ['B1+7', 'dd/mm/yyyy'],
  ['B1-B2', undefined],
  ['B1*2', undefined],
  ['MAX(B1:B9)', 'dd/mm/yyyy'],
  ['SUM(B1:B9)', undefined],
  ['C1', '0%'],
  ['A1*C1', '#,##0.00 [$€]'],
  ['C1*3', undefined],
  ['D1', undefined],
  ['COUNT(A1:A9)', undefined],
  ['A1>3', undefined],
  ['"A1"&2', undefined],
  ['SUM(A1)+LEN("x")', undefined],
  ['LEN(A1)', undefined],
])('%s shows as %s', (formula, format) => expect(formatOfResult(formula, at)).toBe(format))
