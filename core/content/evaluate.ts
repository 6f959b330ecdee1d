// The results of a workbook's formulas, by HyperFormula, for whoever needs them once: a file that holds none.
// The editor keeps an engine of its own and follows each edit (calc.worker.ts).
import { HyperFormula } from 'hyperformula'
import { type Cell, type CellValue, isError, largestSheet, type Workbook } from './workbook'

/** A cell's content as the engine reads it. */
export function engineContent(cell: Cell | undefined): string | number | boolean | null {
  if (!cell) return null
  if (cell.formula !== undefined) return `=${cell.formula}`
  const { value } = cell
  if (value === undefined) return null
  // An apostrophe keeps a text from being read as a number or a date.
  return typeof value === 'string' ? `'${value}` : isError(value) ? value.error : value
}
/** What the engine says a formula results in. */
export function resultOf(value: unknown): CellValue {
  if (value === null || value === undefined) return 0
  if (typeof value === 'object' && 'value' in value) return { error: String((value as { value: unknown }).value) }
  return value as CellValue
}

export function engineOf({ sheets }: Workbook): HyperFormula {
  return HyperFormula.buildFromSheets(
    Object.fromEntries(
      sheets.map(({ name, rows }) => [name, rows.map((row) => (row ? Array.from(row, engineContent) : []))]),
    ),
    {
      licenseKey: 'gpl-v3',
      maxRows: largestSheet.rows,
      maxColumns: largestSheet.columns,
      useArrayArithmetic: true,
    },
  )
}

/** @returns by sheet, `row * 16384 + column`; empty for sheets without formulas */
export function evaluate(workbook: Workbook): Map<number, CellValue>[] {
  const results = workbook.sheets.map(() => new Map<number, CellValue>())
  const hasFormula = workbook.sheets.some(({ rows }) =>
    rows.some((row) => row?.some((cell) => cell?.formula !== undefined)),
  )
  if (!hasFormula) return results
  const engine = engineOf(workbook)
  try {
    for (const [index, { name, rows }] of workbook.sheets.entries()) {
      const sheet = engine.getSheetId(name)!
      rows.forEach((row, y) =>
        row?.forEach((cell, x) => {
          if (cell?.formula !== undefined)
            results[index]!.set(y * largestSheet.columns + x, resultOf(engine.getCellValue({ sheet, row: y, col: x })))
        }),
      )
    }
  } finally {
    engine.destroy()
  }
  return results
}
