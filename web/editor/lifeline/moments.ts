// How a moment is said.

import type { HistoryVersion, Reason } from '../../../core/contract'
import type { Moment } from '../../../core/history/lifeline'
import { clock, count, moment as time } from '../../design/words'

export const reasons: Record<Reason, string> = {
  saved: 'saved',
  'by itself': 'saved by itself',
  restored: 'brought back',
  merged: 'combined',
  'brought in': 'brought in',
  copied: 'copied',
  renamed: 'renamed',
}

/** "Version 12, yesterday 09:30, Ida Thornquist" */
export const saidVersion = (version: HistoryVersion): string =>
  `Version ${version.number}, ${time(version.at)}, ${version.author.name}`

/** A moment in one line, with what it changed. */
export function saidMoment(moment: Moment): string {
  if (moment.kind === 'now') return 'Now: your work as it is.'
  if (moment.kind === 'point') return `Recovery point of ${clock(moment.at)}, of your unsaved work.`
  const { version, folded } = moment
  const parts = [
    saidVersion(version),
    version.label && `kept as “${version.label}”`,
    version.reason !== 'saved' && reasons[version.reason],
    folded.length && `with ${count(folded.length, 'more', 'more')} of the same run`,
  ].filter(Boolean)
  return `${parts.join(', ')}. ${version.summary ?? ''}`
}
