// What was copied in a spreadsheet of this page last, as cells: pasted as such while the clipboard still holds its text.
import type { Cell, CellValue } from '../../../core/content/workbook'

export interface Copied {
  text: string
  /** By row and column from its first cell. */
  cells: (Cell | undefined)[][]
  /** What its formulas resulted in. */
  results: (CellValue | undefined)[][]
  /** The rows that they were in: those that a filter hid are not among them. */
  rows: number[]
  /** The column of its first cell. */
  x: number
}

let last: Copied | null = null
export const copiedCells = (): Copied | null => last
export const keepCopied = (copied: Copied): void => {
  last = copied
}
