// Words in the cells of a workbook: where they are, and what a cell is with others in their place.
import { displayOf } from './display'
import { entryOf } from './entry'
import { readTyped } from './formula-entry'
import { type Cell, type CellValue, sameCell, type Workbook } from './workbook'

export interface CellSearch {
  text: string
  /** Small and capital letters differ. */
  sameCase: boolean
  /** All that a cell shows is meant, not a part of it. */
  whole: boolean
  /** Formulas are looked through, and not what they result in. */
  formulas: boolean
}
/** A cell by its sheet, row and column. */
export type FoundCell = readonly [sheet: number, row: number, column: number]

/** What a search goes through in a cell: what it shows, what was typed for it, or its formula. */
function textsOf(cell: Cell, result: () => CellValue | undefined, { formulas }: CellSearch): string[] {
  if (cell.formula !== undefined) return formulas ? [entryOf(cell)] : [displayOf(cell, result())]
  if (cell.value === undefined) return []
  if (typeof cell.value === 'string') return [cell.value]
  // A number is found as it is shown, and as it is changed.
  return [displayOf(cell, undefined), entryOf(cell)]
}

const folded = (text: string, { sameCase }: CellSearch): string => (sameCase ? text : text.toLowerCase())

/**
 * Cells that have a text, sheet by sheet and row by row.
 * @param resultOf the result of a formula @param only one sheet, or null for all
 */
export function findCells(
  { sheets }: Workbook,
  search: CellSearch,
  resultOf: (sheet: number, row: number, column: number) => CellValue | undefined,
  only: number | null,
): FoundCell[] {
  const found: FoundCell[] = []
  const sought = folded(search.text, search)
  if (!sought) return found
  const has = (text: string) => (search.whole ? folded(text, search) === sought : folded(text, search).includes(sought))
  for (const [sheet, { rows }] of sheets.entries()) {
    if (only !== null && only !== sheet) continue
    rows.forEach((line, row) => {
      line?.forEach((cell, column) => {
        if (cell && textsOf(cell, () => resultOf(sheet, row, column), search).some(has))
          found.push([sheet, row, column])
      })
    })
  }
  return found
}

/** Every place of a text in another one. */
function replaced(text: string, search: CellSearch, by: string): string {
  if (search.whole) return folded(text, search) === folded(search.text, search) ? by : text
  const sought = folded(search.text, search)
  // Some letters have another length in small: then each is looked at where it is.
  const within = folded(text, search)
  if (within.length !== text.length || !sought) return search.sameCase ? text.replaceAll(search.text, () => by) : text
  let out = ''
  let at = 0
  for (let next = within.indexOf(sought); next >= 0; next = within.indexOf(sought, at)) {
    out += text.slice(at, next) + by
    at = next + sought.length
  }
  return out + text.slice(at)
}

/**
 * A cell that was found, with another text in the place of the one that was looked for.
 * @returns null where that cannot be: what a formula results in is not written, and a formula has to be one
 */
export function replacedCell(cell: Cell, search: CellSearch, by: string): Cell | null {
  if (cell.formula !== undefined && !search.formulas) return null
  if (typeof cell.value === 'string' && cell.formula === undefined) {
    const value = replaced(cell.value, search, by)
    if (value === cell.value) return null
    // A text stays one, whatever it looks like now; where all of it was meant, it is what somebody would type.
    const now: Cell = search.whole ? (readTyped(value, cell) ?? {}) : { ...cell, value }
    return now
  }
  const entry = entryOf(cell)
  const next = replaced(entry, search, by)
  if (next === entry) return null
  const now = readTyped(next, cell) ?? {}
  // What was a formula and would be none any more is left as it is.
  if (cell.formula !== undefined && now.formula === undefined) return null
  return sameCell(now, cell) ? null : now
}
