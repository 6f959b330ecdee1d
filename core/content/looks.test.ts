// Looks in the model, and beside it as whoever draws or writes a sheet has them.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { lineOf, lineText, looksOf, withLooks, withoutLooks } from './looks'
import { looksOfSheet } from './looks.arbitrary'
import type { Workbook } from './workbook'
import { anyHistory } from './workbook.arbitrary'

const copy = (workbook: Workbook): Workbook => JSON.parse(JSON.stringify(workbook, (_, value) => value ?? null))
/** As it is read: holes are none. */
const read = (workbook: Workbook): Workbook => ({
  sheets: copy(workbook).sheets.map((sheet) => ({
    ...sheet,
    rows: sheet.rows.map((row) => row?.map((cell) => cell ?? undefined) ?? undefined),
  })),
})

test('a sheet that is read with its looks has them, and without them it is what it was before they were in the model', () => {
  fc.assert(
    fc.property(anyHistory(8), looksOfSheet, ({ end }, looks) => {
      const bare = withoutLooks(end)
      const was = JSON.stringify(bare)
      const [sheet] = read(bare).sheets
      const looked = withLooks(sheet!, looks)
      const { cells, ...frame } = looksOf(looked)
      expect(frame).toEqual({
        merged: looks.merged,
        heights: looks.heights,
        hiddenRows: looks.hiddenRows,
        hiddenColumns: looks.hiddenColumns,
      })
      expect([...cells].toSorted(([a], [b]) => a - b)).toEqual([...looks.cells].toSorted(([a], [b]) => a - b))
      expect(JSON.stringify(withoutLooks({ sheets: [looked, ...bare.sheets.slice(1)] }))).toBe(was)
    }),
    { numRuns: 300 },
  )
})

test('a line is what it was written as, and what is none is none', () => {
  for (const width of [1, 2, 3] as const)
    for (const line of ['solid', 'dashed', 'dotted', 'double'] as const)
      for (const color of ['#0f6a5f', null]) {
        const side = { width, line, color }
        expect(lineOf(lineText(side))).toEqual(side)
      }
  for (const text of [undefined, '', '4 solid', '1 wavy', '1 solid red', '1 solid #0F6A5F"/>'])
    expect(lineOf(text)).toBeUndefined()
})
