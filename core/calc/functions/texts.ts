// Numbers and dates as text and back, by number formats (ECMA-376 part 1, §18.8.31).
import { format, parseDate, parseTime, parseValue } from 'numfmt'
import { type Cells, type Definitions, Fault, fault, longestText, type Plain } from './define'

/** What a text means as a number, a date or a time; null where it means none. */
export function numberIn(text: string): number | null {
  const trimmed = text.trim()
  if (/^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$/i.test(trimmed)) return Number(trimmed)
  if (!/\d/.test(trimmed)) return null
  const found = parseValue(trimmed)
  return typeof found?.value === 'number' ? found.value : null
}
/** A value as text, numbers by fifteen digits as they stand in a cell. */
export function textOf(value: Plain): string {
  if (value === null) return ''
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE'
  if (typeof value === 'string') return value
  const rounded = Number(value.toPrecision(15))
  const size = Math.abs(rounded)
  if (rounded !== 0 && (size >= 1e21 || size < 1e-9)) {
    const [digits, exponent] = rounded.toExponential().split('e') as [string, string]
    return `${Number(Number(digits).toPrecision(6))}E${exponent[0]}${exponent.slice(1).padStart(2, '0')}`
  }
  return String(rounded)
}
const numeric = (value: Plain): number => {
  if (typeof value === 'number') return value
  if (typeof value === 'boolean') return Number(value)
  if (value === null) return 0
  return numberIn(value) ?? fault('#VALUE!')
}
/** All values of an argument, cells row after row. */
const each = (given: readonly unknown[]): Plain[] =>
  given.flatMap((one) => {
    if (one instanceof Fault) throw one
    return typeof one === 'object' && one !== null ? (one as Cells).values : [one as Plain]
  })

/** A value by a format; one that is none is an error of the formula, and of nothing else. */
function written(code: string, value: string | number): string {
  try {
    return format(code, value)
  } catch {
    return fault('#VALUE!')
  }
}
function formatted(value: Plain, code: string): string {
  const half = halfDay.exec(code)?.[0]
  if (half) {
    const text = formatted(value, code.replaceAll(half, 'AM/PM'))
    return text.replace(/([AP])M/, (_, letter: string) => (half[0] === 'a' ? letter.toLowerCase() : letter))
  }
  if (typeof value === 'string') {
    const number = numberIn(value)
    if (number === null) return written(code, value)
    return written(code, number)
  }
  if (typeof value === 'boolean') return written(code, textOf(value))
  return written(code, value ?? 0)
}
/** Half a day by its first letter only, which the library does not write. */
const halfDay = /a\/p/i
/** Half away from zero, at a place of the decimal writing. */
export function roundedTo(value: number, places: number): number {
  if (!Number.isFinite(value)) return fault('#NUM!')
  const size = Math.abs(value)
  const moved = Number(`${size.toPrecision(15)}e${places}`)
  const whole = Number.isFinite(moved) ? moved : size * 10 ** places
  return Math.sign(value) * Number(`${Math.round(whole)}e${-places}`) || 0
}
function fixed(value: number, places: number, grouped: boolean): string {
  const rounded = roundedTo(value, places)
  const [whole, part] = Math.abs(rounded)
    .toFixed(Math.max(0, Math.min(places, 100)))
    .split('.') as [string, string?]
  const shown = grouped ? whole.replace(/\B(?=(\d{3})+$)/g, ',') : whole
  return `${rounded < 0 ? '-' : ''}${shown}${part ? `.${part}` : ''}`
}
/** Where a text is cut. @param times which time the mark comes, from the end when negative */
function cut(text: string, mark: string, times: number, caseless: boolean): [from: number, to: number] | null {
  const inside = caseless ? text.toLowerCase() : text
  const wanted = caseless ? mark.toLowerCase() : mark
  if (times === 0) return fault('#VALUE!')
  if (!wanted) return times > 0 ? [0, 0] : [text.length, text.length]
  let at = times > 0 ? -wanted.length : inside.length
  for (let left = Math.abs(times); left > 0; left--) {
    at =
      times > 0
        ? inside.indexOf(wanted, at + wanted.length)
        : at <= 0
          ? -1
          : inside.lastIndexOf(wanted, at - wanted.length)
    if (at < 0) return null
  }
  return [at, at + wanted.length]
}

export const textFunctions: Definitions = {
  TEXT: { takes: 'value text', run: (value: Plain, code: string) => formatted(value, code) },
  VALUE: {
    takes: 'value',
    run: (value: Plain) => (typeof value === 'boolean' ? fault('#VALUE!') : value === null ? 0 : numeric(value)),
  },
  DATEVALUE: {
    takes: 'text',
    run: (text: string) => {
      const days = parseDate(text.trim())?.value
      return days === undefined ? fault('#VALUE!') : Math.floor(days)
    },
  },
  TIMEVALUE: {
    takes: 'text',
    run: (text: string) => {
      const time = parseTime(text.trim())?.value ?? parseDate(text.trim())?.value
      return time === undefined ? fault('#VALUE!') : time % 1
    },
  },
  NUMBERVALUE: {
    takes: 'text text? text?',
    run: (text: string, decimal = '.', group = ',') => {
      const point = decimal[0] ?? '.'
      const between = group[0] ?? ','
      if (point === between) return fault('#VALUE!')
      let plain = text.replace(/\s/g, '')
      const end = plain.indexOf(point)
      if (end >= 0 && plain.indexOf(between, end) >= 0) return fault('#VALUE!')
      plain = plain.split(between).join('').replace(point, '.')
      const percents = /%*$/.exec(plain)![0].length
      plain = plain.slice(0, plain.length - percents)
      if (plain === '') return 0
      const number = Number(plain)
      return Number.isNaN(number) ? fault('#VALUE!') : number / 100 ** percents
    },
  },
  FIXED: {
    takes: 'number number? truth?',
    run: (value: number, places = 2, plain = false) => fixed(value, Math.trunc(places), !plain),
  },
  DOLLAR: {
    takes: 'number number?',
    run: (value: number, places = 2) => {
      const text = fixed(Math.abs(value), Math.trunc(places), true)
      return value < 0 && Number(text.replaceAll(',', '')) !== 0 ? `($${text})` : `$${text}`
    },
  },
  REPT: {
    takes: 'text number',
    run: (text: string, times: number) => {
      const count = Math.trunc(times)
      return count < 0 || text.length * count > longestText ? fault('#VALUE!') : text.repeat(count)
    },
  },
  SUBSTITUTE: {
    takes: 'text text text number?',
    run: (text: string, old: string, now: string, which?: number) => {
      if (which !== undefined && which < 1) return fault('#VALUE!')
      if (old === '') return text
      const parts = text.split(old)
      if (which !== undefined) {
        const place = Math.trunc(which)
        return place >= parts.length ? text : parts.slice(0, place).join(old) + now + parts.slice(place).join(old)
      }
      return text.length + (parts.length - 1) * (now.length - old.length) > longestText
        ? fault('#VALUE!')
        : parts.join(now)
    },
  },
  JOINED: { takes: 'value', repeats: 1, run: (...all: Plain[]) => all.map(textOf).join('') },
  CONCATENATE: { takes: 'value', repeats: 1, run: (...all: Plain[]) => all.map(textOf).join('') },
  CONCAT: { takes: 'anything', repeats: 1, run: (...all) => each(all).map(textOf).join('') },
  TEXTJOIN: {
    takes: 'value truth anything',
    repeats: 1,
    run: (mark: Plain, leaveOut: boolean, ...all) =>
      each(all)
        .map(textOf)
        .filter((text) => !leaveOut || text !== '')
        .join(textOf(mark)),
  },
  TEXTBEFORE: {
    takes: 'text text number? number? number? value?',
    run: (text: string, mark: string, times = 1, caseless = 0, atEnd = 0, otherwise?: Plain) => {
      const at = cut(text, mark, Math.trunc(times), caseless === 1)
      return at ? text.slice(0, at[0]) : atEnd === 1 ? text : (otherwise ?? fault('#N/A'))
    },
  },
  TEXTAFTER: {
    takes: 'text text number? number? number? value?',
    run: (text: string, mark: string, times = 1, caseless = 0, atEnd = 0, otherwise?: Plain) => {
      const at = cut(text, mark, Math.trunc(times), caseless === 1)
      return at ? text.slice(at[1]) : atEnd === 1 ? '' : (otherwise ?? fault('#N/A'))
    },
  },
  ENCODEURL: {
    takes: 'text',
    run: (text: string) =>
      encodeURIComponent(text).replace(/[!'()*]/g, (letter) => `%${letter.charCodeAt(0).toString(16).toUpperCase()}`),
  },
}
