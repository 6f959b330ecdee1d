// Sheets written out as people see them, for tests.
import type { Cell, CellValue, Sheet } from '../content/workbook'

/** What begins with an equals sign is a formula; null is an empty cell. */
export const sheet = (name: string, ...rows: (CellValue | string | null)[][]): Sheet => ({
  name,
  widths: {},
  rows: rows.map((row) =>
    row.map((value): Cell | undefined =>
      value === null
        ? undefined
        : typeof value === 'string' && value.startsWith('=')
          ? { formula: value.slice(1) }
          : { value },
    ),
  ),
})
