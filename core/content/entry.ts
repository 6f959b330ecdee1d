// What a person types into a cell, and what a cell shows for editing: two directions of one
// notation. Typing back what a cell shows leaves the cell as it was.
import { filedFormula, typedFormula } from './later-functions'
import type { Cell, CellValue } from './workbook'
import { isError } from './workbook'

const numberPattern = /^[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?$/
const groupedPattern = /^[+-]?\d{1,3}(,\d{3})+(\.\d+)?$/
const percentPattern = /^[+-]?(\d+(\.\d*)?|\.\d+)\s?%$/
/** As several languages write numbers: groups of three parted by dots, and a comma before the decimals. */
const commaPattern = /^[+-]?(?:\d{1,3}(?:\.\d{3})+|\d+),\d+$/
const commaPercentPattern = /^[+-]?\d+,\d+\s?%$/
/** ISO 4217 codes and the signs of currencies, before or behind their number. */
const currency = '[€£$¥]|EUR|GBP|USD|CHF|SEK|NOK|DKK|PLN|CZK|JPY'
const currencyBefore = new RegExp(`^([+-]?)(${currency})\\s?([+-]?)(\\d[\\d.,]*)$`)
const currencyBehind = new RegExp(`^([+-]?\\d[\\d.,]*)\\s?(${currency})$`)
const datePattern = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ](\d{1,2}):(\d{2})(?::(\d{2}))?)?$/
/** Day, month, year, with dots or slashes between them. */
const dayFirstPattern = /^(\d{1,2})([./])\s?(\d{1,2})\2\s?(\d{4}|\d{2})$/
const namedMonthPattern = /^(\d{1,2})(\.?) (\p{L}+)\.? (\d{4}|\d{2})$/u
const timePattern = /^(\d{1,2}):(\d{2})(?::(\d{2}))?$/
/** What errors are called in cells (ECMA-376 part 1, §18.17.3). */
export const errors: ReadonlySet<string> = new Set(['#NULL!', '#DIV/0!', '#VALUE!', '#REF!', '#NAME?', '#NUM!', '#N/A'])

/** Months by their names and short names, in the languages that are spoken here. */
const monthsByName: ReadonlyMap<string, number> = new Map(
  ['en-GB', 'de-DE'].flatMap((locale) =>
    (['long', 'short'] as const).flatMap((month) => {
      const name = new Intl.DateTimeFormat(locale, { month, timeZone: 'UTC' })
      return Array.from({ length: 12 }, (_, at): [string, number] => [
        name.format(Date.UTC(2026, at)).replace('.', '').toLowerCase(),
        at + 1,
      ])
    }),
  ),
)
/** A year of two digits is one of this century, or of the last where it would lie some thirty years ahead. */
const fullYear = (year: string): number =>
  year.length > 2 ? Number(year) : Number(year) + (Number(year) < 60 ? 2000 : 1900)

/** How somebody writes numbers. */
export interface EntryWays {
  /** A comma stands before decimals, and dots part groups of three where there is one. */
  comma: boolean
}
const usualWays: EntryWays = { comma: false }

/** A number with groups and decimals as they are written; null for what is none, or not for sure. */
function writtenNumber(
  text: string,
  { comma }: EntryWays,
): { value: number; decimals: number; grouped: boolean } | null {
  const plain =
    numberPattern.test(text) && !/e/i.test(text)
      ? text
      : comma && commaPattern.test(text)
        ? text.replaceAll('.', '').replace(',', '.')
        : !(comma && /,\d{1,2}$/.test(text)) && groupedPattern.test(text)
          ? text.replaceAll(',', '')
          : null
  if (plain === null) return null
  const grouped = /[.,].*[.,]/.test(text) || (plain !== text && !plain.includes('.'))
  return { value: Number(plain) + 0, decimals: /\.(\d+)$/.exec(plain)?.[1]?.length ?? 0, grouped }
}
const numberFormat = (decimals: number, grouped: boolean): string =>
  `${grouped ? '#,##0' : '0'}${decimals ? `.${'0'.repeat(Math.min(decimals, 9))}` : ''}`

/** An amount of money, and the format that shows it as it was written. */
function moneyOf(text: string, ways: EntryWays): { value: number; format: string } | null {
  const before = currencyBefore.exec(text)
  const behind = before ? null : currencyBehind.exec(text)
  if (!before && !behind) return null
  const [, sign = '', unit, inner = '', digits] = before ?? [undefined, '', behind![2], '', behind![1]]
  if (sign && inner) return null
  const read = writtenNumber(`${sign}${inner}${digits}`, ways)
  if (!read) return null
  // Of money there are two decimals or none.
  const amount = numberFormat(read.decimals ? 2 : 0, true)
  return {
    value: read.value,
    format: before ? `[$${unit}]${unit!.length > 1 ? ' ' : ''}${amount}` : `${amount} [$${unit}]`,
  }
}

/** A day as languages write it, the day before the month, and the format that shows it so. */
function dayOf(text: string): { value: number; format: string } | null {
  const numbers = dayFirstPattern.exec(text)
  if (numbers) {
    const [, day, sign, month, year] = numbers as unknown as [string, string, string, string, string]
    const value = serialOfDate(fullYear(year), Number(month), Number(day))
    return value === null ? null : { value, format: ['dd', 'mm', 'yyyy'].join(sign) }
  }
  const named = namedMonthPattern.exec(text)
  if (!named) return null
  const [, day, dot, name, year] = named as unknown as [string, string, string, string, string]
  const month = monthsByName.get(name.toLowerCase())
  const value = month === undefined ? null : serialOfDate(fullYear(year), month, Number(day))
  return value === null ? null : { value, format: `d${dot} mmm yyyy` }
}

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
 * The cell that an entry means, where money and dates show as they were written; the style it had stays, and a format that the entry asks for
 * is set where none was.
 */
export function readEntry(entry: string, before: Cell | undefined, ways: EntryWays = usualWays): Cell | null {
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
  if (ways.comma && commaPattern.test(text)) {
    const { value, decimals, grouped } = writtenNumber(text, ways)!
    return grouped ? withFormat(value, numberFormat(decimals, true)) : plain(value)
  }
  if (ways.comma && commaPercentPattern.test(text)) return readEntry(text.replace(',', '.'), before)
  const money = moneyOf(text, ways)
  if (money) return withFormat(money.value, money.format)
  const day = dayOf(text)
  if (day) return withFormat(day.value, day.format)
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
  // Whoever writes numbers in another way has the text back, too.
  const stays = [usualWays, { comma: true }].every((ways) => {
    const read = readEntry(value, cell, ways)
    return read?.value === value && read.formula === undefined
  })
  return stays ? value : `'${value}`
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
