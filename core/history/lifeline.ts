// A file's moments along time: what can be looked at, where it stands on a strip of some width, and which moment
// somebody means who types a date. All times are milliseconds since 1970.
import { endOfDay, parse, set, subDays, subHours, subMinutes, subMonths, subWeeks, subYears } from 'date-fns'
import type { HistoryVersion } from '../contract'
import { fromGerman } from './said-times'

export type Moment =
  | {
      kind: 'version'
      id: string
      at: number
      version: HistoryVersion
      /** Versions saved by themselves in one run before it, which it stands for. */
      folded: HistoryVersion[]
    }
  | { kind: 'point'; id: string; at: number; toSeq: number }
  | { kind: 'now'; id: 'now'; at: number }

/**
 * @param versions newest first, as a file's facts have them
 * @param points of the draft that is open
 * @param unfolded ids of versions whose runs are shown one by one
 * @returns oldest first, `now` last
 */
export function momentsOf(
  versions: readonly HistoryVersion[],
  points: readonly { toSeq: number; at: string }[],
  now: number,
  unfolded: ReadonlySet<string> = new Set(),
): Moment[] {
  const moments: Moment[] = []
  let run: HistoryVersion[] = []
  const oldestFirst = versions.toReversed()
  for (const [index, version] of oldestFirst.entries()) {
    const next = oldestFirst[index + 1]
    const goesOn =
      version.reason === 'by itself' &&
      next?.reason === 'by itself' &&
      next.author.id === version.author.id &&
      !version.label
    if (goesOn) {
      run.push(version)
      continue
    }
    if (unfolded.has(version.id))
      for (const one of run)
        moments.push({ kind: 'version', id: one.id, at: Date.parse(one.at), version: one, folded: [] })
    moments.push({
      kind: 'version',
      id: version.id,
      at: Date.parse(version.at),
      version,
      folded: unfolded.has(version.id) ? [] : run,
    })
    run = []
  }
  for (const { toSeq, at } of points) moments.push({ kind: 'point', id: `point ${toSeq}`, at: Date.parse(at), toSeq })
  moments.sort((a, b) => a.at - b.at)
  moments.push({ kind: 'now', id: 'now', at: Math.max(now, moments.at(-1)?.at ?? now) })
  return moments
}

/** The stretch of time that is shown. */
export interface View {
  from: number
  to: number
}
/** The closest that a strip is looked at. */
export const closest = 2 * 60_000

/** Everything, with a little room at both ends. */
export function viewOfAll(moments: readonly Moment[]): View {
  const [first, last] = [moments[0]?.at ?? 0, moments.at(-1)?.at ?? 0]
  const span = Math.max(closest, last - first)
  return { from: last - span * 1.02, to: last + span * 0.02 }
}

/** Zooms around a moment that stays where it is; @param factor below 1 comes closer */
export function zoomed({ from, to }: View, factor: number, around: number, all: View): View {
  const span = Math.min(Math.max((to - from) * factor, closest), all.to - all.from)
  const share = (around - from) / (to - from)
  return within({ from: around - span * share, to: around + span * (1 - share) }, all)
}
export const panned = ({ from, to }: View, by: number, all: View): View => within({ from: from + by, to: to + by }, all)

function within({ from, to }: View, all: View): View {
  const span = Math.min(to - from, all.to - all.from)
  const start = Math.min(Math.max(from, all.from), all.to - span)
  return { from: start, to: start + span }
}
/** The view moved, no more than it must be, so that a time is in it. */
export function showing(view: View, at: number, all: View): View {
  const margin = (view.to - view.from) * 0.04
  if (at < view.from + margin) return panned(view, at - view.from - margin, all)
  if (at > view.to - margin) return panned(view, at - view.to + margin, all)
  return view
}

/** 0 … 1 */
export const placeIn = ({ from, to }: View, at: number): number => (at - from) / (to - from)

/** The moment that is nearest to a time. */
export function nearest(moments: readonly Moment[], at: number): Moment | undefined {
  let best: Moment | undefined
  for (const moment of moments) if (!best || Math.abs(moment.at - at) < Math.abs(best.at - at)) best = moment
  return best
}
/** The state of the file at a time: the last moment that is not later; the first one before there was any. */
export const stateAt = (moments: readonly Moment[], at: number): Moment | undefined =>
  moments.findLast((moment) => moment.at <= at) ?? moments[0]

const minute = 60_000
const steps: [ms: number, unit: 'minute' | 'hour' | 'day' | 'month' | 'year', by: number][] = [
  [minute, 'minute', 1],
  [5 * minute, 'minute', 5],
  [15 * minute, 'minute', 15],
  [60 * minute, 'hour', 1],
  [6 * 60 * minute, 'hour', 6],
  [24 * 60 * minute, 'day', 1],
  [7 * 24 * 60 * minute, 'day', 7],
  [30 * 24 * 60 * minute, 'month', 1],
  [91 * 24 * 60 * minute, 'month', 3],
  [365 * 24 * 60 * minute, 'year', 1],
]
export interface Tick {
  at: number
  unit: 'minute' | 'hour' | 'day' | 'month' | 'year'
}
/** Where the strip is ruled: round times, at most `most` of them, in this machine's own time zone. */
export function ticksOf({ from, to }: View, most: number): Tick[] {
  const [, unit, by] = steps.find(([ms]) => (to - from) / ms <= most) ?? steps.at(-1)!
  const at = new Date(from)
  at.setMilliseconds(0)
  at.setSeconds(0)
  if (unit === 'minute') at.setMinutes(Math.floor(at.getMinutes() / by) * by)
  else at.setMinutes(0)
  if (unit === 'hour') at.setHours(Math.floor(at.getHours() / by) * by)
  else if (unit !== 'minute') at.setHours(0)
  // Weeks are ruled on Mondays.
  if (unit === 'day' && by === 7) at.setDate(at.getDate() - ((at.getDay() + 6) % 7))
  if (unit === 'month' || unit === 'year') at.setDate(1)
  if (unit === 'month') at.setMonth(Math.floor(at.getMonth() / by) * by)
  if (unit === 'year') at.setMonth(0)
  const ticks: Tick[] = []
  while (at.getTime() <= to && ticks.length <= most + 2) {
    if (at.getTime() >= from) ticks.push({ at: at.getTime(), unit })
    if (unit === 'minute') at.setMinutes(at.getMinutes() + by)
    else if (unit === 'hour') at.setHours(at.getHours() + by)
    else if (unit === 'day') at.setDate(at.getDate() + by)
    else if (unit === 'month') at.setMonth(at.getMonth() + by)
    else at.setFullYear(at.getFullYear() + by)
  }
  return ticks
}

/** How tall a mark is, 0 … 1, for how much changed: ten times as much is a step higher. */
export const heightOf = (weight: number | null): number =>
  weight === null ? 0.3 : Math.min(1, 0.2 + 0.2 * Math.log10(1 + weight))

const weekdays = ['sunday', 'monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday']
const dateForms = [
  'yyyy-MM-dd',
  'd.M.yyyy',
  'd/M/yyyy',
  'd MMM yyyy',
  'd MMMM yyyy',
  'MMM d yyyy',
  'MMMM d yyyy',
  'd MMM',
  'd MMMM',
  'MMM d',
  'MMMM d',
  'd.M.',
]
const ago = { minute: subMinutes, hour: subHours, day: subDays, week: subWeeks, month: subMonths, year: subYears }

/**
 * The time that somebody means: "last Tuesday 14:00", "yesterday", "3 days ago", "14 Oct 9:30", "2026-10-14".
 * In German, too: "letzten Dienstag 14:00", "vor 3 Tagen", "14. Okt. 2026".
 * A day without a time is meant to its end, and a day without a year is the last such day.
 * @returns null when nothing is understood
 */
export function parseMoment(typed: string, now: Date): Date | null {
  let text = fromGerman(typed.trim().toLowerCase().replace(/,/g, ' ').replace(/\s+/g, ' '))
  if (!text) return null
  if (text === 'now') return now
  const back = /^(\d+|an?|one) (minute|hour|day|week|month|year)s? ago$/.exec(text)
  if (back) return ago[back[2] as keyof typeof ago](now, /\d/.test(back[1]!) ? Number(back[1]) : 1)
  let time: { hours: number; minutes: number } | null = null
  const clock = /(?:^| )(?:at )?(\d{1,2})(?::(\d{2})| ?(am|pm)|:(\d{2}) ?(am|pm))$/.exec(text)
  if (clock) {
    const half = clock[3] ?? clock[5]
    const hours = (Number(clock[1]) % (half ? 12 : 24)) + (half === 'pm' ? 12 : 0)
    const minutes = Number(clock[2] ?? clock[4] ?? 0)
    if (Number(clock[1]) > 24 || minutes > 59) return null
    time = { hours, minutes }
    text = text.slice(0, clock.index).trim()
  }
  const day = dayOf(text, now)
  if (!day) return null
  const meant = time ? set(day, { ...time, seconds: 59, milliseconds: 999 }) : endOfDay(day)
  // A time of today that is still to come was yesterday's.
  if (text === '' && meant > now) return subDays(meant, 1)
  return meant > now ? now : meant
}

function dayOf(text: string, now: Date): Date | null {
  if (text === '' || text === 'today' || text === 'this morning') return now
  if (text === 'yesterday') return subDays(now, 1)
  const weekday = weekdays.findIndex((name) => {
    const said = text.replace(/^(last|on) /, '')
    return said.length >= 3 && name.startsWith(said)
  })
  if (weekday >= 0) return subDays(now, (now.getDay() - weekday + 7) % 7 || 7)
  if (text === 'last week') return subWeeks(now, 1)
  if (text === 'last month') return subMonths(now, 1)
  if (text === 'last year') return subYears(now, 1)
  for (const form of dateForms) {
    const found = parse(text, form, now)
    if (Number.isNaN(found.getTime()) || found.getFullYear() < 1000) continue
    return !form.includes('yyyy') && found > now ? subYears(found, 1) : found
  }
  return null
}
