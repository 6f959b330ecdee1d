import { expect, test } from 'vitest'
import type { Workbook } from '../content/workbook'
import { applyOps } from '../content/workbook-ops'
import { resultsInPlace } from './results-in-place'
import { patchWorkbook } from './workbooks'
import { readXlsx } from './xlsx/read'
import { writeXlsx } from './xlsx/write'

const workbook: Workbook = {
  sheets: [
    {
      name: 'Tolls',
      rows: [
        [{ value: 2 }, { formula: 'A1*2', style: { bold: true } }],
        [undefined, { formula: 'NOW()' }],
      ],
      widths: {},
    },
    { name: 'Sums', rows: [[{ formula: 'SUM(Tolls!A1:B1)' }]], widths: {} },
  ],
}
const results = new Map([
  ['0 0 1', 4],
  ['1 0 0', 6],
])
const resultOf = (...at: number[]) => results.get(at.join(' '))

test('formulas are the results that they have, as they look; one without a result stays, and what it costs is told', () => {
  const { ops, lost } = resultsInPlace(workbook, resultOf)
  const { sheets } = applyOps(workbook, ops)
  expect(sheets.map(({ rows }) => rows)).toEqual([
    [
      [{ value: 2 }, { value: 4, style: { bold: true } }],
      [undefined, { formula: 'NOW()' }],
    ],
    [[{ value: 6 }]],
  ])
  expect(lost).toEqual([
    { feature: 'formulas (their results stay)', count: 2, where: ['Tolls', 'Sums'], at: [0, 0, 1] },
  ])
})

test('written into its file that has no formulas, and is otherwise as it was', () => {
  const base = writeXlsx(workbook, resultOf)
  const read = readXlsx(base)
  const { ops } = resultsInPlace(read.workbook, resultOf)
  const { bytes } = patchWorkbook(
    { base, read, ops, workbook: applyOps(read.workbook, ops), resultOf, isNew: () => false, recalculate: false },
    'xlsx',
  )
  const again = readXlsx(bytes).workbook
  expect(again.sheets[0]!.rows[0]).toEqual([{ value: 2 }, { value: 4, style: { bold: true } }])
  expect(again.sheets[1]!.rows[0]).toEqual([{ value: 6 }])
})
