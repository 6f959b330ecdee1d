import { format as formatNumber } from 'numfmt'
import { isDateFormat } from '../../../core/content/entry'
import { type Cell, type CellValue, isError } from '../../../core/content/workbook'
import { t } from '../../words/all'

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

/** Formats offered by name. */
export const namedFormats: { label: string; format: string | undefined; example: string }[] = [
  { label: t('sheet.as-typed'), format: undefined, example: '1234.5' },
  { label: t('sheet.whole-number'), format: '#,##0', example: '1,235' },
  { label: t('sheet.two-decimals'), format: '#,##0.00', example: '1,234.50' },
  { label: t('sheet.percent'), format: '0%', example: '12%' },
  { label: t('common.date'), format: 'yyyy-mm-dd', example: '2026-10-14' },
  { label: t('sheet.date-and-time'), format: 'yyyy-mm-dd hh:mm', example: '2026-10-14 09:30' },
  { label: t('sheet.time'), format: 'hh:mm', example: '09:30' },
  { label: t('common.text'), format: '@', example: '0012' },
]
export { isDateFormat }
