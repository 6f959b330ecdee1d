// What is said of a result that is not just calculated, and of one that is an error.
import type { Mark } from '../../../core/calc/engine'
import { referencesIn, referenceTo } from '../../../core/content/formula-entry'
import { type Cell, type CellValue, cellAt, isError } from '../../../core/content/workbook'
import { t } from '../../words/all'
import type { ShownWorkbook } from './still'

/** The sentence about a cell's result; null where it is as anybody would expect. */
export function noteOf(mark: Mark | undefined): string | null {
  if (!mark) return null
  const named = mark.why && /^[A-Z][A-Z0-9._]*$/.test(mark.why) ? mark.why : null
  if (mark.standing === 'kept')
    return named ? t('sheet.kept-as-it-came-not-calculated', { name: named }) : t('sheet.kept-as-it-came')
  return named ? t('sheet.not-known-not-calculated', { name: named }) : t('sheet.not-known-any-more')
}

/** What an error means (ECMA-376 part 1, §18.17.3). */
const meanings: Record<string, string> = {
  '#DIV/0!': t('sheet.error-division'),
  '#VALUE!': t('sheet.error-value'),
  '#REF!': t('sheet.error-reference'),
  '#NAME?': t('sheet.error-name'),
  '#NUM!': t('sheet.error-number'),
  '#N/A': t('sheet.error-missing'),
  '#NULL!': t('sheet.error-nothing-in-common'),
}
/** Cells that are looked through for where an error comes from. */
const mostLookedAt = 20_000

const valueAt = (store: ShownWorkbook, sheet: number, row: number, column: number): CellValue | undefined => {
  const cell = cellAt(store.workbook.sheets[sheet], row, column)
  return cell?.formula === undefined ? cell?.value : store.result(sheet, row, column)
}

/** The sentence about a cell whose value is an error, and from which of the cells that it reads it comes; null for others. */
export function errorNote(store: ShownWorkbook, sheet: number, row: number, column: number): string | null {
  const value = valueAt(store, sheet, row, column)
  const meaning = isError(value) ? meanings[value.error] : undefined
  if (!isError(value) || !meaning) return null
  const from = errorComesFrom(store, sheet, cellAt(store.workbook.sheets[sheet], row, column), value.error)
  return from ? t('sheet.error-comes-from', { place: from, meaning }) : meaning
}

function errorComesFrom(store: ShownWorkbook, home: number, cell: Cell | undefined, error: string): string | null {
  if (cell?.formula === undefined) return null
  let looked = 0
  for (const { sheet: named, area } of referencesIn(`=${cell.formula}`)) {
    const sheet =
      named === null ? home : store.workbook.sheets.findIndex(({ name }) => name.toLowerCase() === named.toLowerCase())
    const rows = store.workbook.sheets[sheet]?.rows
    if (!rows) continue
    for (let row = area.top; row <= Math.min(area.bottom, rows.length - 1); row++)
      for (let column = area.left; column <= Math.min(area.right, (rows[row]?.length ?? 0) - 1); column++) {
        if (++looked > mostLookedAt) return null
        const value = valueAt(store, sheet, row, column)
        if (isError(value) && value.error === error)
          return referenceTo({ top: row, left: column, bottom: row, right: column }, named)
      }
  }
  return null
}
