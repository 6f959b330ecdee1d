// What the engine is given of a workbook's cells, and what it gives back.
import { HyperFormula } from 'hyperformula'
import { type Cell, type CellValue, isError, largestSheet, type Sheet, type Workbook } from '../content/workbook'
import { registeredFunctions } from './functions'
import type { EngineContext } from './functions/define'
import type { FormulaSource } from './source'

/** What the engine has a cell as. */
export type EngineContent = string | number | boolean | null
export function valueContent(value: CellValue | undefined): EngineContent {
  if (value === undefined) return null
  // An apostrophe keeps a text from being read as a number or a date.
  return typeof value === 'string' ? `'${value}` : isError(value) ? value.error : value
}

/** Of the engine's own, which no file knows: a circle, a formula that cannot be read. */
const internal = new Set(['#CYCLE!', '#ERROR!', '#LIC!'])
export const isInternal = (value: CellValue): boolean => isError(value) && internal.has(value.error)
/** What the engine says a formula results in. */
export function resultOf(value: unknown): CellValue {
  if (value === null || value === undefined) return 0
  // No file can hold what is no number: it would be read as damaged.
  if (typeof value === 'number' && !Number.isFinite(value)) return { error: '#NUM!' }
  if (typeof value === 'object' && 'value' in value) return { error: String((value as { value: unknown }).value) }
  return value as CellValue
}

const settings = {
  licenseKey: 'gpl-v3',
  maxRows: largestSheet.rows,
  maxColumns: largestSheet.columns,
  // A formula of arrays says so in its translation: everywhere, a range would spill where files have none.
  useArrayArithmetic: false,
  // Fifteen digits, as files keep them.
  precisionRounding: 14,
  dateFormats: ['YYYY-MM-DD', 'YYYY/MM/DD', 'MM/DD/YYYY', 'MM/DD/YY'],
}

/**
 * @param contents by sheet and row, what the engine is given of each cell
 * @param source as it is whenever something is calculated
 */
export function engineOf(
  { sheets }: Workbook,
  contents: EngineContent[][][],
  source: () => FormulaSource,
): HyperFormula {
  registeredFunctions()
  const context: EngineContext = {
    hidden: (name) => source().hidden[sheets.findIndex((sheet) => sheet.name === name)],
  }
  return HyperFormula.buildFromSheets(Object.fromEntries(sheets.map(({ name }, index) => [name, contents[index]!])), {
    ...settings,
    context,
  })
}
/** What the engine is given of the cells that hold no formula. */
export const plainContents = ({ rows }: Sheet): EngineContent[][] =>
  rows.map((row) =>
    row
      ? Array.from(row, (cell: Cell | undefined) => valueContent(cell?.formula === undefined ? cell?.value : undefined))
      : [],
  )
