// Two versions of a workbook, compared cell by cell in their places. Rows that are the same object
// are passed over, so that comparing costs what was changed and not what is there.
import { type Cell, cellAt, type Sheet, type Workbook } from '../content/workbook'

/** More changed cells are counted and not listed. */
export const mostListed = 500

export interface CellDifference {
  sheet: string
  row: number
  column: number
  before: Cell | null
  now: Cell | null
}
export interface SheetChange {
  name: string
  state: 'changed' | 'added' | 'removed'
  /** Cells whose value or formula is another. */
  cells: number
  /** Those of them that have or had a formula. */
  formulas: number
  /** Cells of which only the look is another. */
  looks: number
}
export interface WorkbookChanges {
  cells: number
  sheets: SheetChange[]
  /** The first of them. */
  listed: CellDifference[]
}

const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b)

/** What of the newer workbook is another than in the older one. */
export function compareWorkbooks(older: Workbook, newer: Workbook): WorkbookChanges {
  const changes: WorkbookChanges = { cells: 0, sheets: [], listed: [] }
  if (older === newer) return changes
  const compare = (name: string, before: Sheet | undefined, now: Sheet | undefined) => {
    if (before === now) return
    const change: SheetChange = {
      name,
      state: before ? (now ? 'changed' : 'removed') : 'added',
      cells: 0,
      formulas: 0,
      looks: 0,
    }
    const rows = Math.max(before?.rows.length ?? 0, now?.rows.length ?? 0)
    for (let row = 0; row < rows; row++) {
      const [was, is] = [before?.rows[row], now?.rows[row]]
      if (was === is) continue
      const columns = Math.max(was?.length ?? 0, is?.length ?? 0)
      for (let column = 0; column < columns; column++) {
        const [a, b] = [cellAt(before, row, column), cellAt(now, row, column)]
        if (a === b) continue
        if (a?.formula !== b?.formula || !same(a?.value, b?.value)) {
          change.cells++
          if (a?.formula !== undefined || b?.formula !== undefined) change.formulas++
          if (changes.listed.length < mostListed)
            changes.listed.push({ sheet: name, row, column, before: a ?? null, now: b ?? null })
        } else if (!same(a?.style, b?.style)) change.looks++
      }
    }
    changes.cells += change.cells
    if (change.cells || change.looks || change.state !== 'changed') changes.sheets.push(change)
  }
  const former = new Map(older.sheets.map((sheet) => [sheet.name, sheet]))
  const present = new Set(newer.sheets.map(({ name }) => name))
  for (const sheet of newer.sheets) compare(sheet.name, former.get(sheet.name), sheet)
  for (const sheet of older.sheets) if (!present.has(sheet.name)) compare(sheet.name, sheet, undefined)
  return changes
}
