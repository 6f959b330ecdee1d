// How the result of a new formula shows, where nobody said it: dates as dates, money as money.
import { isDateFormat } from './entry'
import { partsOf } from './formula'

const dates = new Set(['TODAY', 'DATE', 'EDATE', 'EOMONTH', 'WORKDAY', 'WORKDAY.INTL', 'DATEVALUE'])
const times = new Set(['TIME', 'TIMEVALUE'])
/** Their results are of the kind of what they read. */
const keeps = new Set(
  'SUM AVERAGE MIN MAX MEDIAN ROUND ROUNDUP ROUNDDOWN ABS SUMIF SUMIFS AVERAGEIF AVERAGEIFS MINIFS MAXIFS LARGE SMALL SUBTOTAL PRODUCT IF IFERROR INDEX VLOOKUP HLOOKUP XLOOKUP'.split(
    ' ',
  ),
)
/** Of these a date results where they read dates; a sum of dates is none. */
const keepsDates = new Set(
  'MIN MAX MEDIAN MINIFS MAXIFS LARGE SMALL IF IFERROR INDEX VLOOKUP HLOOKUP XLOOKUP'.split(' '),
)

/**
 * The number format that a formula's result has by itself.
 * @param formula without its equals sign @param formatAt the format of a cell; the sheet is null for the formula's own
 * @returns undefined where none follows from it
 */
export function formatOfResult(
  formula: string,
  formatAt: (sheet: string | null, row: number, column: number) => string | undefined,
): string | undefined {
  const outer = /^\s*(?:_xlfn\.)?([A-Z][A-Z0-9.]*)\((.*)\)\s*$/is.exec(formula)
  const name = outer && isWhole(outer[2]!) ? outer[1]!.toUpperCase() : null
  if (name === 'NOW') return 'yyyy-mm-dd hh:mm'
  if (name && dates.has(name)) return 'yyyy-mm-dd'
  if (name && times.has(name)) return 'hh:mm'
  if (name && !keeps.has(name)) return undefined
  const parts = partsOf(formula)
  const formats = parts.flatMap((part) =>
    part.is === 'reference'
      ? [formatAt(part.sheet, part.reference.from.row ?? 0, part.reference.from.column ?? 0)]
      : [],
  )
  const signs = parts.flatMap((part) => (part.is === 'text' ? [part.text.replace(/"(?:[^"]|"")*"/g, '')] : [])).join('')
  // Without a function around it: sums and differences, and what is multiplied by a number.
  if (!name && /[A-Z]\(|[&<>=^]/i.test(signs)) return undefined
  const format =
    name && /^[VHX]LOOKUP$/.test(name) ? undefined : formats.find((one) => one !== undefined && one !== '@')
  if (format === undefined) return undefined
  if (isDateFormat(format)) {
    if (name) return keepsDates.has(name) ? format : undefined
    // A day and so many more is a day; what lies between two of them is a number.
    const days = formats.filter((one) => isDateFormat(one)).length
    return days === 1 && !/[*/]/.test(signs) ? format : undefined
  }
  if (format.includes('%')) return name || !/[*/]/.test(signs) ? format : undefined
  // Money by money is no money.
  if (!name && /\//.test(signs) && formats.filter((one) => one === format).length > 1) return undefined
  return format
}

/** Whether brackets that are opened in a text are closed in it, and none before. */
function isWhole(inside: string): boolean {
  let depth = 0
  for (const [sign] of inside.replace(/"(?:[^"]|"")*"/g, '').matchAll(/[()]/g)) {
    depth += sign === '(' ? 1 : -1
    if (depth < 0) return false
  }
  return depth === 0
}
