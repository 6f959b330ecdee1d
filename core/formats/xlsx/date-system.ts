// Workbooks that count days from 1904 (ECMA-376 part 1, §18.17.4.1): the model counts from 1900 always.
import type { Cell, CellStyle, CellValue } from '../../content/workbook'

/** Days between the two beginnings. */
export const days1904 = 1462

/** Whether a number format shows a date or a time: colours, conditions and quoted words say nothing of that. */
export function isDateFormat(format: string | undefined): boolean {
  if (!format) return false
  const bare = format
    .replace(/"[^"]*"|\\.|_.|\*./g, '')
    // The hours, minutes and seconds of a span stand in brackets as colours do.
    .replace(/\[(?!h+\]|m+\]|s+\])[^\]]*\]/gi, '')
  return /[ymdhs]/i.test(bare.replace(/General/gi, ''))
}

/** A value as the file counts it. */
export const toFileValue = (value: CellValue, style: CellStyle | undefined, date1904: boolean): CellValue =>
  date1904 && typeof value === 'number' && isDateFormat(style?.format) ? value - days1904 : value

/** A cell as the file counts it. */
export function toFile(cell: Cell | null, date1904: boolean): Cell | null {
  if (!cell || cell.value === undefined) return cell
  const value = toFileValue(cell.value, cell.style, date1904)
  return value === cell.value ? cell : { ...cell, value }
}
