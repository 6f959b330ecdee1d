// What a column already holds, for who types into it the same again.
import { folded } from './sheet-filter'
import type { Sheet } from './workbook'

/** So far on either side a column is looked through. */
const mostRows = 5000
/** A longer text is nothing that is entered twice. */
const mostLetters = 120

/**
 * The texts that were entered into a column, each once, those of the nearest rows first, the one above before the one below.
 * Numbers and days are no words to be gone on with, and what formulas result in was not entered.
 */
export function knownEntries(sheet: Pick<Sheet, 'rows'>, row: number, column: number): string[] {
  const found = new Set<string>()
  const last = sheet.rows.length - 1
  const look = (at: number) => {
    const cell = sheet.rows[at]?.[column]
    if (typeof cell?.value !== 'string' || cell.formula !== undefined) return
    if (cell.value.length <= mostLetters && /\S/.test(cell.value) && !cell.value.includes('\n')) found.add(cell.value)
  }
  for (let away = 1; away <= mostRows && (row - away >= 0 || row + away <= last); away++) {
    look(row - away)
    look(row + away)
  }
  return [...found]
}

/**
 * Those that begin with what is typed, capitals or not; none where nothing is typed, or where it is all typed already.
 * @param texts in the order in which they are offered
 */
export function goingOn(texts: readonly string[], typed: string, most: number): string[] {
  const wanted = folded(typed.trimStart())
  if (!wanted) return []
  const fit: string[] = []
  for (const text of texts) {
    if (fit.length === most) break
    if (text !== typed && folded(text).startsWith(wanted)) fit.push(text)
  }
  return fit
}
