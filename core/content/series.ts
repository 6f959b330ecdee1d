// How a row of values goes on: numbers by their step, days and months as the calendar has them, names of days and months in
// their round, codes by the number at their end.
import { isDateFormat, serialOfDate } from './entry'
import type { Cell } from './workbook'

/** The cell at a distance from the first one; it may be negative. */
export type Series = (distance: number) => Cell

const rounds: readonly string[][] = ['en-GB', 'de-DE'].flatMap((locale) =>
  (['long', 'short'] as const).flatMap((style) => {
    const day = new Intl.DateTimeFormat(locale, { weekday: style, timeZone: 'UTC' })
    const month = new Intl.DateTimeFormat(locale, { month: style, timeZone: 'UTC' })
    return [
      // 4 January 2026 is a Sunday.
      Array.from({ length: 7 }, (_, at) => day.format(Date.UTC(2026, 0, 4 + at))),
      Array.from({ length: 12 }, (_, at) => month.format(Date.UTC(2026, at))),
    ]
  }),
)
const modulo = (value: number, by: number): number => ((value % by) + by) % by
/** The step between all of them; null where it is not the same. */
function stepOf(values: readonly number[], single: number | null): number | null {
  if (values.length < 2) return single
  const step = values[1]! - values[0]!
  return values.every((value, at) => at === 0 || Math.abs(value - values[at - 1]! - step) < 1e-9) ? step : null
}

function namesGoOn(texts: readonly string[]): ((distance: number) => string) | null {
  for (const round of rounds) {
    const small = round.map((name) => name.toLowerCase())
    const places = texts.map((text) => small.indexOf(text.toLowerCase()))
    if (places.includes(-1)) continue
    const step = places.length < 2 ? 1 : modulo(places[1]! - places[0]!, round.length)
    if (!places.every((place, at) => modulo(places[0]! + step * at, round.length) === place)) continue
    const capitals = texts[0]!.length > 1 && texts[0] === texts[0]!.toUpperCase()
    const smallOnes = texts[0] === texts[0]!.toLowerCase()
    return (distance) => {
      const name = round[modulo(places[0]! + step * distance, round.length)]!
      return capitals ? name.toUpperCase() : smallOnes ? name.toLowerCase() : name
    }
  }
  return null
}

function codesGoOn(texts: readonly string[]): ((distance: number) => string) | null {
  const parts = texts.map((text) => /^(.*?)(\d{1,12})$/s.exec(text))
  const before = parts[0]?.[1]
  if (!parts.every((part) => part && part[1] === before)) return null
  const numbers = parts.map((part) => Number(part![2]))
  const step = stepOf(numbers, 1)
  if (!step) return null
  const width = parts[0]![2]!.length
  return (distance) => `${before}${String(Math.abs(numbers[0]! + step * distance)).padStart(width, '0')}`
}

/** The same day so many months on; of a shorter month the last one. */
function monthsOn(serial: number, months: number): number {
  const day = new Date((Math.floor(serial) - 25569) * 86400_000)
  const [year, month] = [day.getUTCFullYear(), day.getUTCMonth() + months]
  const last = new Date(Date.UTC(year, month + 1, 0)).getUTCDate()
  const first = new Date(Date.UTC(year, month, 1))
  const on = serialOfDate(first.getUTCFullYear(), first.getUTCMonth() + 1, Math.min(day.getUTCDate(), last))
  return (on ?? serial) + (serial % 1)
}
function datesGoOn(values: readonly number[]): (distance: number) => number {
  const days = values.map((value) => new Date((Math.floor(value) - 25569) * 86400_000))
  const months = days.map((day) => day.getUTCFullYear() * 12 + day.getUTCMonth())
  const step = stepOf(months, null)
  const whole = step && values.every((value, at) => monthsOn(values[0]!, step * at) === value)
  if (whole) return (distance) => monthsOn(values[0]!, step * distance)
  const by = values.length < 2 ? 1 : (values.at(-1)! - values[0]!) / (values.length - 1)
  return (distance) => values[0]! + by * distance
}

/** @returns how they go on, or null where they are only repeated */
export function seriesOf(cells: readonly (Cell | undefined)[]): Series | null {
  const first = cells[0]
  if (!first || cells.some((cell) => cell?.formula !== undefined || cell?.value === undefined)) return null
  const values = cells.map((cell) => cell!.value!)
  const styled = (distance: number): Pick<Cell, 'style'> => {
    const { style } = cells[modulo(distance, cells.length)]!
    return style ? { style } : {}
  }
  if (values.every((value) => typeof value === 'number')) {
    const numbers = values as number[]
    const isDate = cells.every((cell) => isDateFormat(cell!.style?.format)) && numbers.every((value) => value >= 1)
    if (isDate) {
      const goesOn = datesGoOn(numbers)
      return (distance) => ({ value: goesOn(distance), ...styled(distance) })
    }
    // One number alone is repeated.
    if (numbers.length < 2) return null
    const step = (numbers.at(-1)! - numbers[0]!) / (numbers.length - 1)
    return (distance) => ({ value: Number((numbers[0]! + step * distance).toPrecision(14)), ...styled(distance) })
  }
  if (!values.every((value) => typeof value === 'string')) return null
  const goesOn = namesGoOn(values as string[]) ?? codesGoOn(values as string[])
  return goesOn && ((distance) => ({ value: goesOn(distance), ...styled(distance) }))
}
