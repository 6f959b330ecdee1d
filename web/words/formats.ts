import { isSameDay, isSameYear, subDays } from 'date-fns'
import { t } from '.'
import { locale } from './language'

const form = (options: Intl.DateTimeFormatOptions) => {
  const made = new Intl.DateTimeFormat(locale, options)
  return (at: Date | number) => made.format(at)
}
const hours = { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' } as const
export const timeOf = form(hours)
const exact = form({ ...hours, second: '2-digit' })
const dayAndTime = form({ day: 'numeric', month: 'short', ...hours })
export const dayOfYear = form({ day: 'numeric', month: 'short' })
export const day = form({ day: 'numeric', month: 'short', year: 'numeric' })
const weekday = form({ weekday: 'long', day: 'numeric', month: 'long' })
const month = form({ month: 'long', year: 'numeric' })
const hundredths = new Intl.NumberFormat(locale, { style: 'percent' })
const numbers = new Intl.NumberFormat(locale)
const short = new Intl.NumberFormat(locale, { minimumFractionDigits: 1, maximumFractionDigits: 1 })

/** 09:41:12 today, with the day before it otherwise. */
export const clock = (at: number | Date): string => (isSameDay(at, new Date()) ? exact(at) : moment(at))

/** A moment as people say it: the time today, the day otherwise. */
export function moment(iso: string | number | Date): string {
  const at = new Date(iso)
  const now = new Date()
  if (isSameDay(at, now)) return t('common.today-at', { time: timeOf(at) })
  if (isSameDay(at, subDays(now, 1))) return t('common.yesterday-at', { time: timeOf(at) })
  return isSameYear(at, now) ? dayAndTime(at) : day(at)
}

/** The day of a moment alone, as people say it. */
export function dayOf(iso: string | number | Date): string {
  const at = new Date(iso)
  const now = new Date()
  if (isSameDay(at, now)) return t('common.today')
  return isSameDay(at, subDays(now, 1)) ? t('common.yesterday') : day(at)
}

export const digits = (value: number): string => numbers.format(value)
/** With one digit after the point. */
export const tenths = (value: number): string => short.format(value)

/** A share, in whole hundredths. */
export const percent = (share: number): string => hundredths.format(share)

export function size(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  const [value, unit] = bytes < 1e6 ? [bytes / 1e3, 'KB'] : bytes < 1e9 ? [bytes / 1e6, 'MB'] : [bytes / 1e9, 'GB']
  return `${value < 10 ? tenths(value) : digits(Math.round(value))} ${unit}`
}

/** A span of time in its largest unit, as people feel it: 9 seconds, 3 minutes. */
export function span(milliseconds: number): string {
  const seconds = Math.max(1, Math.round(milliseconds / 1000))
  const [value, unit] =
    seconds < 60
      ? [seconds, 'second']
      : seconds < 3600
        ? [seconds / 60, 'minute']
        : seconds < 86_400
          ? [seconds / 3600, 'hour']
          : [seconds / 86_400, 'day']
  return new Intl.NumberFormat(locale, { style: 'unit', unit, unitDisplay: 'long' }).format(Math.round(value))
}

/** Things in a row, the last one after an "and". */
export const listed = (things: readonly string[]): string => new Intl.ListFormat(locale).format(things)

/** This machine's sign for the control key, before a letter. */
export const withControl = (letter: string): string =>
  /Mac|iPhone|iPad/.test(navigator.userAgent) ? `⌘${letter}` : `${t('common.control')}+${letter}`

/** Under which heading a time stands in a list: the day while it is near, the month otherwise. */
export function dateGroup(iso: string | number | Date): string {
  const at = new Date(iso)
  const now = new Date()
  if (isSameDay(at, now)) return t('common.today')
  if (isSameDay(at, subDays(now, 1))) return t('common.yesterday')
  return at > subDays(now, 7) ? weekday(at) : month(at)
}

/** The end of a day as whoever chose it has it; null for none. */
export const endOfDay = (day: string): string | null => (day ? new Date(`${day}T23:59:59`).toISOString() : null)
