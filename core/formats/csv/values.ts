// What a field means, and how a cell is written as one. A field is a number, a date or a truth only where writing that one
// gives its letters again: "007", "1e5" and "+3" stay text, and what nobody changed is written as it was.
import { errors, isDateFormat, serialOfDate } from '../../content/entry'
import type { Cell, CellStyle, CellValue } from '../../content/workbook'
import { isError } from '../../content/workbook'
import type { CsvDialect } from './dialect'

type Signs = Pick<CsvDialect, 'decimal' | 'dates' | 'guarded'>

/** Digits that are themselves again whatever they are (IEEE 754 binary64), and as many as one can need with a part. */
const longestNumber = 15
const longestPart = 17
const pad = (number: number, digits = 2) => String(number).padStart(digits, '0')

function numberOf(text: string, decimal: string): { value: number; decimals: number } | null {
  const match = /^-?(0|[1-9]\d*)(?:([.,])(\d+))?$/.exec(text)
  if (!match || (match[2] && match[2] !== decimal)) return null
  const [, whole, , part = ''] = match
  // More digits without a part are a number that something is known by.
  const counting = `${whole}${part}`.replace(/^0+/, '').length
  if (counting > (part ? longestPart : longestNumber)) return null
  const value = Number(text.replace(',', '.'))
  return Object.is(value, -0) ? null : { value, decimals: part.length }
}

/** Dates by how they are written: the day's format, and a time behind it. */
function dateOf(text: string, dates: CsvDialect['dates']): { value: number; format: string } | null {
  const match =
    /^(?:(\d{4})-(\d{2})-(\d{2})|(\d{1,2})([./-])(\d{1,2})\5(\d{4}))(?: (\d{2}):(\d{2})(?::(\d{2}))?)?$/.exec(text)
  if (!match) return null
  const [, year, , , first, sign, second, lastYear, hours, minutes, seconds] = match
  const [ymd, [one, two]] = [year !== undefined, [first ?? '', second ?? '']]
  const [day, month] = ymd ? [match[3]!, match[2]!] : dates === 'day' ? [one, two] : [two, one]
  const serial = serialOfDate(Number(year ?? lastYear), Number(month), Number(day))
  if (serial === null) return null
  const [h, m, s] = [Number(hours ?? 0), Number(minutes ?? 0), Number(seconds ?? 0)]
  if (h > 23 || m > 59 || s > 59) return null
  const letters = (text: string, letter: string) => letter.repeat(text.length)
  const [d, mo] = [letters(day, 'd'), letters(month, 'm')]
  const date = ymd ? 'yyyy-mm-dd' : [...(dates === 'day' ? [d, mo] : [mo, d]), 'yyyy'].join(sign)
  const time = hours === undefined ? '' : seconds === undefined ? ' hh:mm' : ' hh:mm:ss'
  return { value: serial + (h * 3600 + m * 60 + s) / 86_400, format: date + time }
}

/** A number of digits and a decimal sign alone, whose digits all count: how many follow the sign; -1 for anything else. */
function plainDecimals(text: string, decimal: number): number {
  let at = text.charCodeAt(0) === 45 ? 1 : 0
  const begin = at
  const first = text.charCodeAt(at)
  let sign = -1
  for (; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === decimal && sign < 0 && at > begin) sign = at
    else if (code < 48 || code > 57) return -1
  }
  const whole = (sign < 0 ? text.length : sign) - begin
  const part = sign < 0 ? 0 : text.length - sign - 1
  const counts = whole > 0 && (whole === 1 || first !== 48) && whole + part <= longestNumber && (sign < 0 || part > 0)
  return counts ? part : -1
}

/** Fields that are no plain numbers are looked at once, as long as there are no more of them. */
const mostKnown = 20_000

/** Reads fields one after the other: the same as `cellOfField`, made for many. */
export function cellReader(signs: Signs): (text: string) => Cell | undefined {
  const decimal = signs.decimal.charCodeAt(0)
  const known = new Map<string, Cell | undefined>()
  return (text) => {
    const first = text.charCodeAt(0)
    // What begins with a letter is nearly always a word.
    if (first > 57 && first !== 84 && first !== 70) return { value: text }
    if (first === 45 || (first >= 48 && first <= 57)) {
      const decimals = plainDecimals(text, decimal)
      if (decimals >= 0) {
        const value = Number(decimals && signs.decimal !== '.' ? text.replace(signs.decimal, '.') : text)
        // Nought below nought is none, and stays text.
        if (value !== 0 || first !== 45) return decimals ? { value, style: decimalStyle(decimals) } : { value }
      }
    }
    if (known.has(text)) return known.get(text)
    const cell = cellOfField(text, signs)
    if (known.size < mostKnown) known.set(text, cell)
    return cell
  }
}

/** The cell that a field is; undefined for an empty one. */
export function cellOfField(text: string, signs: Signs): Cell | undefined {
  if (text === '') return undefined
  const cell = meant(text, signs)
  return cell && fieldOfCell(cell, cell.value, signs) === text ? cell : { value: text }
}
function meant(text: string, { decimal, dates }: Signs): Cell | null {
  const first = text.charCodeAt(0)
  // Most fields are words.
  if (text === 'TRUE' || text === 'FALSE') return { value: text === 'TRUE' }
  if (first === 35) return errors.has(text) ? { value: { error: text } } : null
  if (first !== 45 && (first < 48 || first > 57)) return null
  const number = numberOf(text, decimal)
  if (number) {
    const { value, decimals } = number
    return decimals ? { value, style: decimalStyle(decimals) } : { value }
  }
  const date = dateOf(text, dates)
  return date && { value: date.value, style: { format: date.format } }
}
/** One object for all cells of a look. */
const decimalStyles: CellStyle[] = []
const decimalStyle = (decimals: number): CellStyle =>
  (decimalStyles[decimals] ??= { format: `0.${'0'.repeat(decimals)}` })

/** Dates that are written as their format shows them; others as year, month and day. */
function dateText(serial: number, format: string): string | null {
  if (serial < 0 || serial > 2_958_465) return null
  const days = Math.floor(serial)
  const seconds = Math.round((serial - days) * 86_400)
  const date = new Date((days - 25_569) * 86_400_000 + seconds * 1000)
  const known = /^(?:[dmy]+[-./ ]?)*(?: ?hh?:mm(?::ss)?)?$/.test(format) && /[dmyh]/.test(format)
  const own = known ? format : seconds ? (days ? 'yyyy-mm-dd hh:mm:ss' : 'hh:mm:ss') : 'yyyy-mm-dd'
  let time = false
  return own.replace(/y+|m+|d+|h+|s+/g, (letters) => {
    if (letters[0] === 'h') time = true
    const number =
      letters[0] === 'y'
        ? date.getUTCFullYear()
        : letters[0] === 'd'
          ? date.getUTCDate()
          : letters[0] === 'h'
            ? date.getUTCHours()
            : letters[0] === 's'
              ? date.getUTCSeconds()
              : time
                ? date.getUTCMinutes()
                : date.getUTCMonth() + 1
    return letters[0] === 'y' && letters.length === 2 ? pad(number % 100) : pad(number, letters.length)
  })
}

/** A number in plain digits, as exact as it is. */
function numberText(value: number, format: string | undefined): string {
  const decimals = /^#?,?#?#?0(?:\.(0+))?$/.exec(format ?? '')?.[1]?.length
  // As its format shows it, where that loses nothing.
  if (decimals !== undefined && decimals <= 20 && Number(value.toFixed(decimals)) === value)
    return value.toFixed(decimals)
  const text = String(value)
  const small = /^-?(\d)(?:\.(\d+))?e-(\d+)$/.exec(text)
  return small ? value.toFixed(Math.min(100, Number(small[3]) + (small[2]?.length ?? 0))) : text
}

/**
 * How a cell is written.
 * @param value of a formula its result; undefined where it is not known
 */
export function fieldOfCell(cell: Cell | undefined, value: CellValue | undefined, { decimal }: Signs): string {
  if (value === undefined) return ''
  if (typeof value === 'string') return value
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE'
  if (isError(value)) return value.error
  const format = cell?.style?.format
  const date = isDateFormat(format) ? dateText(value, format!) : null
  return date ?? numberText(value, format).replace('.', decimal)
}

/**
 * What programs take for the beginning of a formula when they open a list, behind any apostrophes (CWE-1236, "Improper
 * Neutralization of Formula Elements in a CSV File").
 */
const formulaLike = /^'*[=+\-@\t\r]/
/** Whether a field that is a text has to stand behind an apostrophe, where the list is guarded. */
export const needsGuard = (field: string): boolean => formulaLike.test(field)

/** A field as it stands in the list. @param value what it was made of: numbers are no formulas, whatever their sign */
export const inList = (field: string, value: CellValue | undefined, { guarded }: Signs): string =>
  guarded && typeof value === 'string' && needsGuard(field) ? `'${field}` : field

/** The text that stands behind an apostrophe for safety; null for a field that is what it is. */
export const behindGuard = (field: string, { guarded }: Signs): string | null =>
  guarded && field.charCodeAt(0) === 39 && needsGuard(field) ? field.slice(1) : null

/** The cell that a field of a list is, as `cellOfField`, where the list may be guarded. */
export function cellInList(field: string, signs: Signs): Cell | undefined {
  const text = behindGuard(field, signs)
  return text === null ? cellOfField(field, signs) : { value: text }
}
