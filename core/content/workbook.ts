// The workbook model. Everything in it is readonly data: an edit copies the row it touches and
// shares the rest, so that a workbook of hundreds of thousands of cells is edited in
// microseconds and two states of it can be compared by identity.
import { type Said, say } from '../words/said'
import type { About } from './about'
import type { EntryRule } from './entry-rules'
import type { SheetFilter } from './sheet-filter'
import type { SheetSetUp } from './sheet-set-up'

export type CellError = { readonly error: string }
export type CellValue = string | number | boolean | CellError

/** How a cell looks; a field that is absent is as usual. */
export interface CellStyle {
  readonly bold?: true
  readonly italic?: true
  readonly underline?: true
  readonly strike?: true
  /** `#rrggbb`. */
  readonly fill?: string
  readonly color?: string
  readonly align?: 'left' | 'center' | 'right'
  readonly wrap?: true
  /** A number format code (ECMA-376 part 1, §18.8.31). */
  readonly format?: string
  /** A font's name, and its size in points, where they are not the workbook's usual ones. */
  readonly font?: string
  readonly size?: number
  /** At the foot is where text stands anyway. */
  readonly vertical?: 'top' | 'middle' | 'bottom'
  /** The lines around it, each as looks.ts writes one (`lineText`): traits are compared as they are. */
  readonly top?: string
  readonly right?: string
  readonly bottom?: string
  readonly left?: string
}

/** Cells, both ends included; zero-based. */
export interface MergedArea {
  readonly top: number
  readonly left: number
  readonly bottom: number
  readonly right: number
}

/** Dates are numbers of days with a date format, as the open formats keep them. */
export interface Cell {
  /** Absent for a formula and for an empty cell that only has a style. */
  readonly value?: CellValue
  /** Without its leading equals sign. Its result is computed and not part of the model. */
  readonly formula?: string
  readonly style?: CellStyle
}

/** By column; sparse, and ends with a cell. */
export type Row = readonly (Cell | undefined)[]

export interface Sheet {
  readonly name: string
  /** Sparse, and ends with a row that has a cell. */
  readonly rows: readonly (Row | undefined)[]
  /** Column widths in pixels; columns without one are as usual. */
  readonly widths: Readonly<Record<number, number>>
  readonly frozen?: { readonly rows: number; readonly columns: number }
  /** Areas of more than one cell that are one; none overlaps another; from the first row on, in a row from the left. */
  readonly merged?: readonly MergedArea[]
  /** In points, of rows that have a height of their own. */
  readonly heights?: Readonly<Record<number, number>>
  /** Rows and columns that are not shown, in order. */
  readonly hiddenRows?: readonly number[]
  readonly hiddenColumns?: readonly number[]
  /** Which of its rows are shown by what they hold. */
  readonly filter?: SheetFilter
  /** What is to be entered into its cells; there is one at least. */
  readonly rules?: readonly EntryRule[]
  /** How it is put on paper, where that was chosen here; otherwise as its file says. */
  readonly setUp?: SheetSetUp
}

export interface Workbook {
  readonly sheets: readonly Sheet[]
  /** What its file says of itself, where that is anything. */
  readonly about?: About
}

/** ECMA-376's largest sheet. */
export const largestSheet = { rows: 1_048_576, columns: 16_384 }

export const blankSheet = (name: string): Sheet => ({ name, rows: [], widths: {} })
export const blankWorkbook = (): Workbook => ({ sheets: [blankSheet('Sheet 1')] })

export const cellAt = (sheet: Sheet | undefined, row: number, column: number): Cell | undefined =>
  sheet?.rows[row]?.[column]
/** Whether two cells hold the same and look the same. */
export function sameCell(a: Cell | null | undefined, b: Cell | null | undefined): boolean {
  if (a === b) return true
  return a?.formula === b?.formula && sameValue(a?.value, b?.value) && sameStyle(a?.style, b?.style)
}
export const sameValue = (a: CellValue | undefined, b: CellValue | undefined): boolean =>
  a === b || (isError(a) && isError(b) && a.error === b.error)
/** Whether two cells look the same. */
export function sameStyle(a: CellStyle | undefined, b: CellStyle | undefined): boolean {
  if (a === b) return true
  // Without lists of their traits: this runs for each cell of three sheets at once.
  let traits = 0
  for (const trait in a) {
    if (a[trait as keyof CellStyle] !== b?.[trait as keyof CellStyle]) return false
    traits++
  }
  for (const _ in b) traits--
  return traits === 0
}
export const isError = (value: unknown): value is CellError =>
  typeof value === 'object' && value !== null && 'error' in value

/** Rows and columns that hold something. */
export function usedSize(sheet: Sheet): { rows: number; columns: number } {
  let columns = 0
  for (const row of sheet.rows) if (row && row.length > columns) columns = row.length
  return { rows: sheet.rows.length, columns }
}

/** `A` for 0, `AA` for 26. */
export function columnName(column: number): string {
  let name = ''
  for (let rest = column + 1; rest > 0; rest = Math.floor((rest - 1) / 26))
    name = String.fromCharCode(65 + ((rest - 1) % 26)) + name
  return name
}
export function columnNumber(name: string): number {
  let number = 0
  for (const letter of name.toUpperCase()) number = number * 26 + letter.charCodeAt(0) - 64
  return number - 1
}

/** Why a sheet cannot have a name, or null when it can. */
export function sheetNameFault(name: string, others: readonly string[]): Said | null {
  if (name.trim() === '') return say('content.a-sheet-needs-a-name')
  if (name.length > 31) return say('content.the-name-of-a-sheet-has-at')
  if (/[:\\/?*[\]\u0000-\u001f]/.test(name)) return say('content.the-name-of-a-sheet-cannot-have')
  if (/^'|'$/.test(name)) return say('content.the-name-of-a-sheet-cannot-begin')
  if (others.some((other) => other.toLowerCase() === name.toLowerCase()))
    return say('content.another-sheet-has-this-name')
  return null
}

/** The first words in a workbook, to know it by. */
export function openingOfWorkbook(workbook: Workbook, longest = 80): string {
  for (const sheet of workbook.sheets)
    for (const row of sheet.rows.slice(0, 50))
      for (const cell of row ?? [])
        if (typeof cell?.value === 'string' && cell.value.trim())
          return cell.value.trim().replace(/\s+/g, ' ').slice(0, longest)
  return ''
}

export function filledCells(workbook: Workbook): number {
  let cells = 0
  for (const sheet of workbook.sheets)
    for (const row of sheet.rows)
      if (row) for (const cell of row) if (cell && (cell.value !== undefined || cell.formula !== undefined)) cells++
  return cells
}
