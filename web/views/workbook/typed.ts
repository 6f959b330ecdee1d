// What somebody types on this page as the cell that it means: numbers as their language writes them, results as what they
// are made of shows.
import { readTyped } from '../../../core/content/formula-entry'
import { formatOfResult } from '../../../core/content/formula-format'
import { type Cell, cellAt, type Workbook } from '../../../core/content/workbook'
import { language } from '../../words/language'

/** @param sheet that the cell is on */
export function typedCell(entry: string, before: Cell | undefined, { sheets }: Workbook, sheet: number): Cell | null {
  const read = readTyped(entry, before, { comma: language === 'de' })
  // Lines are shown as lines where a cell wraps.
  const cell =
    typeof read?.value === 'string' && read.value.includes('\n') && !read.style?.wrap
      ? { ...read, style: { ...read.style, wrap: true as const } }
      : read
  if (cell?.formula === undefined || cell.style?.format !== undefined) return cell
  const format = formatOfResult(cell.formula, (named, row, column) => {
    const on = named === null ? sheets[sheet] : sheets.find(({ name }) => name.toLowerCase() === named.toLowerCase())
    return cellAt(on, row, column)?.style?.format
  })
  return format === undefined ? cell : { ...cell, style: { ...cell.style, format } }
}
