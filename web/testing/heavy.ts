// A workbook that takes long to calculate: thousands of products over thousands of rows in C, a short formula apart from
// them in E3. Its file holds a result for each.
import type { Cell, CellValue, Workbook } from '../../core/content/workbook'
import { writeXlsx } from '../../core/formats/xlsx/write'

const rows = 8000
export const heavyFormulas = 4000
export const heavy: Workbook = {
  sheets: [
    {
      name: 'Tolls',
      widths: {},
      rows: Array.from({ length: rows }, (_, row): (Cell | undefined)[] => [
        { value: row },
        { value: row % 7 },
        row < heavyFormulas ? { formula: `SUMPRODUCT($A$1:$A$${rows},$B$1:$B$${rows})+${row}` } : undefined,
        undefined,
        row === 2 ? { formula: 'F3*2' } : undefined,
        row === 2 ? { value: 21 } : undefined,
      ]),
    },
  ],
}
/** What its file says each of the products is; no calculation gives it. */
export const asItCame = 123_456
export const heavyFile = (): Uint8Array =>
  writeXlsx(heavy, (_sheet, _row, column): CellValue => (column === 4 ? 42 : asItCame))
