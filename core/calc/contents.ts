// What the engine is given of a workbook's cells, and what it gives back.
import { HyperFormula } from 'hyperformula'
import { type Cell, type CellValue, isError, largestSheet, type Sheet, type Workbook } from '../content/workbook'
import { registeredFunctions } from './functions'
import type { EngineContext } from './functions/define'
import type { Area, FormulaSource } from './source'
import { type Around, type Place, type Translated, translate } from './translate'

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

export interface FormulaAt extends Place {
  /** As the workbook has it. */
  formula: string
  /** The area that the formula fills. */
  array: Area | null
}
/** Every formula; those that fill an area stand in its first cell. */
export function formulasOf({ sheets }: Workbook, source: FormulaSource): FormulaAt[] {
  const found: FormulaAt[] = []
  const arrays = source.arrays.filter(({ sheet, top, left }) => sheets[sheet]?.rows[top]?.[left]?.formula !== undefined)
  const byPlace = new Map(arrays.map((area) => [`${area.sheet} ${area.top} ${area.left}`, area]))
  for (const [sheet, { rows }] of sheets.entries())
    rows.forEach((line, row) => {
      line?.forEach((cell, column) => {
        if (cell?.formula !== undefined)
          found.push({
            sheet,
            row,
            column,
            formula: cell.formula,
            array: byPlace.get(`${sheet} ${row} ${column}`) ?? null,
          })
      })
    })
  return found
}

/**
 * A formula in the engine's words. One that fills several cells keeps what they hold: they are results that stand as
 * values in the file, and all of them would have to be written anew at once.
 */
export function translateAt(one: FormulaAt, around: Around): Translated {
  const { array } = one
  const found = translate(one.formula, one, around, !!array)
  if (array && (array.top !== array.bottom || array.left !== array.right))
    return { unsupported: '{ }', reads: found.reads, moving: false }
  return array && 'text' in found ? { ...found, text: `INDEX(ARRAYFORMULA(${found.text}),1,1)` } : found
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

/** @param contents by sheet and row, what the engine is given of each cell */
export function engineOf({ sheets }: Workbook, contents: EngineContent[][][], source: FormulaSource): HyperFormula {
  registeredFunctions()
  const context: EngineContext = {
    hidden: (name) => source.hidden[sheets.findIndex((sheet) => sheet.name === name)],
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
