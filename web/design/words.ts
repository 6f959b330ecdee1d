import { format, isSameDay, isSameYear, subDays } from 'date-fns'

/** 09:41:12 today, with the day before it otherwise. */
export const clock = (at: number | Date): string => (isSameDay(at, new Date()) ? format(at, 'HH:mm:ss') : moment(at))

/** A moment as people say it: the time today, the day otherwise. */
export function moment(iso: string | number | Date): string {
  const at = new Date(iso)
  const now = new Date()
  if (isSameDay(at, now)) return `today ${format(at, 'HH:mm')}`
  if (isSameDay(at, subDays(now, 1))) return `yesterday ${format(at, 'HH:mm')}`
  return isSameYear(at, now) ? format(at, 'd MMM, HH:mm') : format(at, 'd MMM yyyy')
}

export function size(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  const [number, unit] = bytes < 1e6 ? [bytes / 1e3, 'KB'] : bytes < 1e9 ? [bytes / 1e6, 'MB'] : [bytes / 1e9, 'GB']
  return `${number < 10 ? number.toFixed(1) : Math.round(number)} ${unit}`
}

export const count = (number: number, one: string, many = `${one}s`): string =>
  `${number.toLocaleString('en')} ${number === 1 ? one : many}`

/** This machine's sign for the control key, before a letter. */
export const withControl = (letter: string): string =>
  /Mac|iPhone|iPad/.test(navigator.userAgent) ? `⌘${letter}` : `Ctrl+${letter}`

/** Under which heading a time stands in a list: the day while it is near, the month otherwise. */
export function dateGroup(iso: string | number | Date): string {
  const at = new Date(iso)
  const now = new Date()
  if (isSameDay(at, now)) return 'Today'
  if (isSameDay(at, subDays(now, 1))) return 'Yesterday'
  if (at > subDays(now, 7)) return format(at, 'EEEE, d MMMM')
  return format(at, 'MMMM yyyy')
}
