// What a person types into a cell, and what a cell shows for editing: two directions of one
// notation. Typing back what a cell shows leaves the cell as it was.
import { filedFormula, typedFormula } from './later-functions'
import type { Cell, CellValue } from './workbook'
import { isError } from './workbook'

const numberPattern = /^[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?$/
const groupedPattern = /^[+-]?\d{1,3}(,\d{3})+(\.\d+)?$/
const percentPattern = /^[+-]?(\d+(\.\d*)?|\.\d+)\s?%$/
const datePattern = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ](\d{1,2}):(\d{2})(?::(\d{2}))?)?$/
const timePattern = /^(\d{1,2}):(\d{2})(?::(\d{2}))?$/
/** What errors are called in cells (ECMA-376 part 1, §18.17.3). */
export const errors: ReadonlySet<string> = new Set(['#NULL!', '#DIV/0!', '#VALUE!', '#REF!', '#NAME?', '#NUM!', '#N/A'])

/** Days since 1899-12-30, as the open formats count them; null for a day that does not exist. */
export function serialOfDate(year: number, month: number, day: number): number | null {
  const at = Date.UTC(year, month - 1, day)
  const date = new Date(at)
  if (date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day || year < 1900) return null
  return at / 86400_000 + 25569
}
const secondsOf = (
  hours: string | undefined,
  minutes: string | undefined,
  seconds: string | undefined,
): number | null => {
  const [h, m, s] = [Number(hours ?? 0), Number(minutes ?? 0), Number(seconds ?? 0)]
  return h < 24 && m < 60 && s < 60 ? h * 3600 + m * 60 + s : null
}

/** Whether a number format shows a date or a time: a letter of one outside its quoted text. */
export const isDateFormat = (format: string | undefined): boolean =>
  !!format && /[ymdhs]/i.test(format.replace(/"[^"]*"|\\.|\[[^\]]*\]|General/gi, ''))

/**
 * The cell that an entry means; the style it had stays, and a format that the entry asks for
 * is set where none was.
 */
export function readEntry(entry: string, before: Cell | undefined): Cell | null {
  const style = before?.style
  const withFormat = (value: CellValue, format: string): Cell => ({
    value,
    style: style?.format ? style : { ...style, format },
  })
  const plain = (value: CellValue): Cell => (style ? { value, style } : { value })
  if (entry === '') return style ? { style } : null
  if (entry.startsWith("'")) return plain(entry.slice(1))
  if (entry.startsWith('=') && entry.length > 1)
    return style ? { formula: filedFormula(entry.slice(1)), style } : { formula: filedFormula(entry.slice(1)) }
  if (style?.format === '@') return plain(entry)
  const text = entry.trim()
  if (numberPattern.test(text)) return plain(Number(text) + 0)
  if (groupedPattern.test(text))
    return withFormat(Number(text.replaceAll(',', '')), text.includes('.') ? '#,##0.00' : '#,##0')
  if (percentPattern.test(text))
    return withFormat(
      Number((Number(text.replace('%', '').trim()) / 100).toPrecision(15)),
      text.includes('.') ? '0.00%' : '0%',
    )
  const date = datePattern.exec(text)
  if (date) {
    const day = serialOfDate(Number(date[1]), Number(date[2]), Number(date[3]))
    const seconds = secondsOf(date[4], date[5], date[6])
    if (day !== null && seconds !== null)
      return withFormat(day + seconds / 86400, date[4] ? 'yyyy-mm-dd hh:mm' : 'yyyy-mm-dd')
  }
  const time = timePattern.exec(text)
  const seconds = time && secondsOf(time[1], time[2], time[3])
  if (time && seconds !== null) return withFormat(seconds! / 86400, time[3] ? 'hh:mm:ss' : 'hh:mm')
  const upper = text.toUpperCase()
  if (upper === 'TRUE' || upper === 'FALSE') return plain(upper === 'TRUE')
  if (errors.has(upper)) return plain({ error: upper })
  return plain(entry)
}

const pad = (number: number) => String(number).padStart(2, '0')

/** The entry that a cell shows when it is edited. */
export function entryOf(cell: Cell | undefined): string {
  if (!cell) return ''
  if (cell.formula !== undefined) return `=${typedFormula(cell.formula)}`
  const { value, style } = cell
  if (value === undefined) return ''
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE'
  if (isError(value)) return value.error
  if (typeof value === 'number') {
    if (isDateFormat(style?.format)) {
      const shown = dateEntry(value)
      if (shown && sameNumber(readEntry(shown, cell)?.value, value)) return shown
    }
    if (style?.format?.includes('%')) {
      const shown = `${Number((value * 100).toPrecision(15))}%`
      if (sameNumber(readEntry(shown, cell)?.value, value)) return shown
    }
    return String(value)
  }
  const read = readEntry(value, cell)
  return read?.value === value && read.formula === undefined ? value : `'${value}`
}
const sameNumber = (a: unknown, b: number) => a === b

function dateEntry(serial: number): string | null {
  if (serial < 0 || serial > 2958465) return null
  const seconds = Math.round((serial % 1) * 86400)
  const time = `${pad(Math.floor(seconds / 3600))}:${pad(Math.floor(seconds / 60) % 60)}${seconds % 60 ? `:${pad(seconds % 60)}` : ''}`
  if (serial < 1) return time
  const date = new Date((Math.floor(serial) - 25569) * 86400_000)
  const day = `${String(date.getUTCFullYear()).padStart(4, '0')}-${pad(date.getUTCMonth() + 1)}-${pad(date.getUTCDate())}`
  return seconds ? `${day} ${time}` : day
}
