// How sheets look beyond the model, for property tests, and workbooks as files hold them.
import fc from 'fast-check'
import type { CellLook, SheetLooks } from './looks'
import type { Workbook } from './workbook'

const line = fc.record({
  width: fc.constantFrom(1 as const, 2 as const),
  line: fc.constantFrom('solid' as const, 'dashed' as const),
  color: fc.option(fc.constantFrom('#aa3311', '#0f6a5f', '#000000')),
})
const look: fc.Arbitrary<CellLook> = fc
  .record(
    {
      top: line,
      left: line,
      bottom: line,
      right: line,
      font: fc.constantFrom('Georgia', 'Grüße', 'A & B'),
      size: fc.constantFrom(8, 10.5, 24),
      vertical: fc.constantFrom('top' as const, 'middle' as const),
    },
    { requiredKeys: [] },
  )
  .filter((one) => Object.keys(one).length > 0)
export const looksOfSheet: fc.Arbitrary<SheetLooks> = fc.record({
  merged: fc.constantFrom([], [{ top: 0, left: 0, bottom: 1, right: 2 }]),
  heights: fc.constantFrom(new Map(), new Map([[2, 32.5]])),
  hiddenRows: fc.constantFrom(new Set<number>(), new Set([1, 40])),
  hiddenColumns: fc.constantFrom(new Set<number>(), new Set([3])),
  cells: fc
    .array(fc.tuple(fc.nat(50), fc.nat(9), look), { maxLength: 6 })
    .map((all) => new Map(all.map(([row, column, one]) => [row * 16384 + column, one]))),
})
/** Without empty texts, which are nothing. */
export const plain = (workbook: Workbook): Workbook => ({
  sheets: workbook.sheets.map((sheet) => ({
    ...sheet,
    rows: sheet.rows.map((row) =>
      row?.map((cell) => {
        if (cell?.value !== '') return cell
        const { value: _, ...rest } = cell
        return Object.keys(rest).length ? rest : undefined
      }),
    ),
  })),
})
/** Without what ends rows and sheets and is nothing. */
export const trimmed = (workbook: Workbook): Workbook => ({
  sheets: workbook.sheets.map((sheet) => {
    const rows = sheet.rows.map((row) => {
      const cells = [...(row ?? [])]
      while (cells.length && cells.at(-1) === undefined) cells.pop()
      return cells.length ? cells : undefined
    })
    while (rows.length && rows.at(-1) === undefined) rows.pop()
    return { ...sheet, rows }
  }),
})
