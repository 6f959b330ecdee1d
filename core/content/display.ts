// What a cell shows, and on which side of it.
import { format as formatNumber } from 'numfmt'
import { type Cell, type CellValue, isError } from './workbook'

/** What a cell shows. @param result a formula's result; undefined while it is computed */
export function displayOf(cell: Cell | undefined, result: CellValue | undefined): string {
  if (!cell) return ''
  const value = cell.formula !== undefined ? result : cell.value
  if (value === undefined) return cell.formula !== undefined ? '…' : ''
  if (isError(value)) return value.error
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE'
  const code = cell.style?.format
  if (typeof value === 'number') {
    if (!code) return plainNumber(value)
    try {
      return formatNumber(code, value, { dateSpanLarge: false, throws: true })
    } catch {
      return plainNumber(value)
    }
  }
  return value
}

function plainNumber(value: number): string {
  const text = String(Number(value.toPrecision(12)))
  return text.replace('-', '').length > 14 ? value.toExponential(6) : text
}

/** Which side a cell's content stands on when its style does not say. */
export function sideOf(cell: Cell | undefined, result: CellValue | undefined): 'left' | 'center' | 'right' {
  if (cell?.style?.align) return cell.style.align
  const value = cell?.formula !== undefined ? result : cell?.value
  return typeof value === 'number' ? 'right' : typeof value === 'boolean' || isError(value) ? 'center' : 'left'
}
