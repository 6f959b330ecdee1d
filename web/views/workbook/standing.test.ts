// What is said of a cell whose value is an error.
import { expect, test } from 'vitest'
import { type CellValue, largestSheet } from '../../../core/content/workbook'
import { errorNote } from './standing'
import { StillWorkbook } from './still'

const key = (row: number, column: number) => row * largestSheet.columns + column
const division: CellValue = { error: '#DIV/0!' }
const sheets = [
  {
    name: 'Tolls',
    widths: {},
    rows: [
      [
        { formula: '1/0' },
        { formula: 'SUM(A1:A9)' },
        { formula: "'Lock gates'!A1+1" },
        { value: 5 },
        { formula: 'D1' },
      ],
    ],
  },
  { name: 'Lock gates', widths: {}, rows: [[{ value: { error: '#N/A' } }]] },
]
const results = new Map<number, CellValue>([
  [key(0, 0), division],
  [key(0, 1), division],
  [key(0, 2), { error: '#N/A' }],
  [key(0, 4), 5],
])
const store = new StillWorkbook({ sheets }, [results, new Map()])

test.each([
  ['its own', 0, 0, 0, 'Divided by zero or by an empty cell'],
  ['of a cell that it reads', 0, 0, 1, 'From A1: Divided by zero or by an empty cell'],
  ['of a cell of another sheet', 0, 0, 2, "From 'Lock gates'!A1: What is looked for is not there"],
  ['that was typed', 1, 0, 0, 'What is looked for is not there'],
  ['of a number: none', 0, 0, 3, null],
  ['of a result that is none: none', 0, 0, 4, null],
  ['of an empty cell: none', 0, 7, 7, null],
])('an error %s', (_, sheet, row, column, says) => expect(errorNote(store, sheet, row, column)).toBe(says))
