// Which versions of a file stay, by their age: all of them for so long, then the last one of each hour, of each day,
// of each week, of each month. The first, the latest and every kept version stay whatever their age.

import type { RetentionRule } from '../contract'
import type { Code } from '../words/en'
import { type Said, type Sentence, say } from '../words/said'

const hour = 3_600_000
const day = 24 * hour

export interface RetainedVersion {
  /** Milliseconds since 1970. */
  at: number
  /** It has a label, or somebody works on it. */
  kept: boolean
}

/** The stretch of time that a version is the only one of, at its age; null when all stay, undefined when none does. */
function stretchOf(at: number, now: number, rule: RetentionRule): string | null | undefined {
  const age = (now - at) / day
  if (age <= rule.all) return null
  if (age <= rule.hourly) return `h${Math.floor(at / hour)}`
  if (age <= rule.daily) return `d${Math.floor(at / day)}`
  // Weeks begin on Monday (ISO 8601); 1 January 1970 was a Thursday.
  if (age <= rule.weekly) return `w${Math.floor((at / day + 3) / 7)}`
  if (rule.monthly !== null && age > rule.monthly) return undefined
  return `m${new Date(at).toISOString().slice(0, 7)}`
}

/**
 * @param versions of one file, oldest first
 * @param now milliseconds since 1970
 * @returns the indices of those that go
 */
export function goneByRetention(versions: readonly RetainedVersion[], rule: RetentionRule, now: number): number[] {
  const gone: number[] = []
  for (const [index, { at, kept }] of versions.entries()) {
    if (index === 0 || index === versions.length - 1 || kept) continue
    const stretch = stretchOf(at, now, rule)
    if (stretch === null) continue
    // The last one of its stretch stays.
    if (stretch === undefined || stretchOf(versions[index + 1]!.at, now, rule) === stretch) gone.push(index)
  }
  return gone
}

const span = (days: number): Said =>
  days % 365 === 0 && days >= 365
    ? say('history.years', { n: days / 365 })
    : days % 30 === 0 && days >= 60
      ? say('history.months', { n: days / 30 })
      : say('history.days', { n: days })

/** "All versions for 30 days, then one an hour up to 60 days, …" */
export function sayRule(rule: RetentionRule): Sentence {
  const parts = [say('history.all-for', { span: span(rule.all) })]
  const then = (code: Code, until: number, from: number) => {
    if (until > from) parts.push(say(code, { span: span(until) }))
  }
  then('history.one-an-hour', rule.hourly, rule.all)
  then('history.one-a-day', rule.daily, rule.hourly)
  then('history.one-a-week', rule.weekly, rule.daily)
  if (rule.monthly === null) parts.push(say('history.one-a-month-for-good'))
  else then('history.one-a-month', rule.monthly, rule.weekly)
  return say('history.rule', { what: parts.reduce((first, next) => say('history.then', { first, then: next })) })
}
