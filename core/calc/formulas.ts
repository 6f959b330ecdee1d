// Where a workbook has formulas, and what each of them reads.
import type { Workbook } from '../content/workbook'
import type { Area, FormulaSource } from './source'
import { type Around, type Place, type Translated, translate } from './translate'

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
