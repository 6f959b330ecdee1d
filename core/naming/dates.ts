// Dates in names. A value is an ISO 8601 date of the precision that its form can hold: 2026,
// 2026-10, 2026-10-14, 2026-W42 (section 5.2.3), or 2026-Q4, for which ISO 8601 has no form.
import type { DateForm } from '../contract/naming'

const pad = (number: number, width = 2) => String(number).padStart(width, '0')
const monthDays = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]
const daysIn = (year: number, month: number) =>
  month === 2 && year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0) ? 29 : monthDays[month - 1]!

/** Whether year, month and day are a day of the Gregorian calendar from 1000 to 9999. */
export const isDay = (year: number, month: number, day: number): boolean =>
  year >= 1000 && year <= 9999 && month >= 1 && month <= 12 && day >= 1 && day <= daysIn(year, month)

/** ISO 8601 week of a day: the week with the year's first Thursday is week 1. */
function weekOf(iso: string): { year: number; week: number } {
  const day = new Date(`${iso}T00:00:00Z`)
  const thursday = new Date(day.getTime() + (3 - ((day.getUTCDay() + 6) % 7)) * 86_400_000)
  const year = thursday.getUTCFullYear()
  return { year, week: 1 + Math.floor((thursday.getTime() - Date.UTC(year, 0, 1)) / (7 * 86_400_000)) }
}
const weeksIn = (year: number) => weekOf(`${pad(year, 4)}-12-28`).week

/** The expression that a form's text matches; its days are not checked against the calendar. */
export const formSource: Record<DateForm, string> = {
  'YYYY-MM-DD': '[1-9]\\d{3}-\\d{2}-\\d{2}',
  YYYYMMDD: '[1-9]\\d{7}',
  'YYYY-MM': '[1-9]\\d{3}-\\d{2}',
  YYYY: '[1-9]\\d{3}',
  'DD.MM.YYYY': '\\d{2}\\.\\d{2}\\.[1-9]\\d{3}',
  'MM-DD-YYYY': '\\d{2}-\\d{2}-[1-9]\\d{3}',
  'YYYY-Www': '[1-9]\\d{3}-W\\d{2}',
  'YYYY-Qq': '[1-9]\\d{3}-Q[1-4]',
}

/** The same forms letter by letter, for the automaton: d any digit, D one to nine, q one to four, else itself. */
export const formLetters: Record<DateForm, string> = {
  'YYYY-MM-DD': 'Dddd-dd-dd',
  YYYYMMDD: 'Dddddddd',
  'YYYY-MM': 'Dddd-dd',
  YYYY: 'Dddd',
  'DD.MM.YYYY': 'dd.dd.Dddd',
  'MM-DD-YYYY': 'dd-dd-Dddd',
  'YYYY-Www': 'Dddd-Wdd',
  'YYYY-Qq': 'Dddd-Qq',
}

/** A date's value in a form's precision, or null when the form needs more than the date has. */
export function valueInForm(value: string, form: DateForm): string | null {
  const day = /^(\d{4})(?:-(\d{2})(?:-(\d{2}))?)?$/.exec(value)
  if (!day) {
    if (form === 'YYYY-Www' && /^\d{4}-W\d{2}$/.test(value))
      return Number(value.slice(6)) >= 1 && Number(value.slice(6)) <= weeksIn(Number(value.slice(0, 4))) ? value : null
    if (form === 'YYYY-Qq' && /^\d{4}-Q[1-4]$/.test(value)) return value
    return form === 'YYYY' && /^\d{4}-[WQ]/.test(value) ? value.slice(0, 4) : null
  }
  const [year, month, date] = [Number(day[1]), Number(day[2] ?? 0), Number(day[3] ?? 0)]
  if (!isDay(year, month || 1, date || 1)) return null
  switch (form) {
    case 'YYYY':
      return day[1]!
    case 'YYYY-MM':
      return month ? `${day[1]}-${day[2]}` : null
    case 'YYYY-Qq':
      return month ? `${day[1]}-Q${Math.ceil(month / 3)}` : null
    case 'YYYY-Www': {
      if (!date) return null
      const week = weekOf(value)
      return week.year >= 1000 && week.year <= 9999 ? `${pad(week.year, 4)}-W${pad(week.week)}` : null
    }
    default:
      return date ? value : null
  }
}

/** Writes a value that `valueInForm` gave. */
export function writeDate(value: string, form: DateForm): string {
  const [year, month, day] = value.split('-')
  if (form === 'YYYYMMDD') return value.replaceAll('-', '')
  if (form === 'DD.MM.YYYY') return `${day}.${month}.${year}`
  if (form === 'MM-DD-YYYY') return `${month}-${day}-${year}`
  return value
}

/** Reads exactly what `writeDate` writes; null for anything else, also for days that do not exist. */
export function readDate(text: string, form: DateForm): string | null {
  // The form that most names have, without taking the text apart and together again.
  if (form === 'YYYY-MM-DD')
    return text.length === 10 &&
      text[4] === '-' &&
      text[7] === '-' &&
      isDay(Number(text.slice(0, 4)), Number(text.slice(5, 7)), Number(text.slice(8)))
      ? text
      : null
  let value = text
  if (form === 'YYYYMMDD') value = `${text.slice(0, 4)}-${text.slice(4, 6)}-${text.slice(6)}`
  if (form === 'DD.MM.YYYY') value = text.split('.').reverse().join('-')
  if (form === 'MM-DD-YYYY') value = `${text.slice(6)}-${text.slice(0, 5)}`
  const inForm = valueInForm(value, form)
  return inForm !== null && writeDate(inForm, form) === text ? inForm : null
}

/** A date found in running text, in whatever form. */
export interface FoundDate {
  from: number
  to: number
  value: string
  /** Other days that the same text can mean. */
  others: string[]
  /** Already written as ISO 8601. */
  iso: boolean
}

const months = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
]
const monthWord = `(${months.map((month) => `${month.slice(0, 3)}(?:${month.slice(3)})?`).join('|')}|sept)`
const mark = '[-._/ ]'
/** Small letters of a text, letter for letter; the text itself where that would move its letters. */
export function lowered(text: string): string {
  const small = text.toLowerCase()
  return small.length === text.length ? small : text
}

const found = new RegExp(
  `(?<![\\p{L}\\p{N}])(?:${[
    `(?<y1>(?:19|20)\\d{2})(?<s1>${mark})(?<m1>\\d{1,2})\\k<s1>(?<d1>\\d{1,2})`,
    `(?<y2>(?:19|20)\\d{2})(?<m2>0\\d|1[0-2])(?<d2>[0-2]\\d|3[01])`,
    `(?<a3>\\d{1,2})(?<s3>${mark})(?<b3>\\d{1,2})\\k<s3>(?<c3>(?:19|20)?\\d{2})`,
    `(?<d4>\\d{1,2})(?:st|nd|rd|th)?[-._ ]*${monthWord.replace('(', '(?<m4>')}[-._ ,]*(?<y4>(?:19|20)\\d{2})`,
    `${monthWord.replace('(', '(?<m5>')}[-._ ]*(?<d5>\\d{1,2})(?:st|nd|rd|th)?[-_, ]+(?<y5>(?:19|20)\\d{2})`,
    `${monthWord.replace('(', '(?<m6>')}[-._ ]*(?<y6>(?:19|20)\\d{2})`,
    `(?<y7>(?:19|20)\\d{2})[-._](?<m7>0\\d|1[0-2])`,
    `(?<y9>(?:19|20)\\d{2})-(?:w(?<w9>\\d{2})|q(?<q9>[1-4]))`,
    '(?<y8>(?:19|20)\\d{2})',
  ].join('|')})(?![\\p{L}\\p{N}])`,
  'gu',
)
const monthNumber = (word: string) => months.findIndex((month) => month.startsWith(word.slice(0, 3).toLowerCase())) + 1
const century = (year: string) => (year.length === 4 ? Number(year) : Number(year) + (Number(year) < 70 ? 2000 : 1900))

/**
 * Dates in running text, first to last, without overlaps. Day-month order is taken as day first,
 * the other order is among `others` where the calendar allows it.
 */
export function findDates(text: string): FoundDate[] {
  const results: FoundDate[] = []
  for (const match of lowered(text).matchAll(found)) {
    const g = match.groups!
    const days: string[] = []
    const add = (year: number, month: number, day: number) => {
      if (isDay(year, month, day)) days.push(`${pad(year, 4)}-${pad(month)}-${pad(day)}`)
    }
    let value: string | undefined
    if (g.y1) add(Number(g.y1), Number(g.m1), Number(g.d1))
    else if (g.y2) add(Number(g.y2), Number(g.m2), Number(g.d2))
    else if (g.a3) {
      add(century(g.c3!), Number(g.b3), Number(g.a3))
      add(century(g.c3!), Number(g.a3), Number(g.b3))
      if (g.c3!.length === 2) add(century(g.a3!.padStart(2, '0')), Number(g.b3), Number(g.c3))
    } else if (g.y4) add(Number(g.y4), monthNumber(g.m4!), Number(g.d4))
    else if (g.y5) add(Number(g.y5), monthNumber(g.m5!), Number(g.d5))
    else if (g.y6) value = `${g.y6}-${pad(monthNumber(g.m6!))}`
    else if (g.y7) value = Number(g.m7) >= 1 ? `${g.y7}-${g.m7}` : undefined
    else if (g.y9) value = g.w9 ? `${g.y9}-W${g.w9}` : `${g.y9}-Q${g.q9}`
    else if (g.y8) value = g.y8
    value ??= days[0]
    if (!value) continue
    results.push({
      from: match.index,
      to: match.index + match[0].length,
      value,
      others: [...new Set(days)].filter((day) => day !== value),
      iso: text.startsWith(value, match.index) && match[0].length === value.length,
    })
  }
  return results
}
