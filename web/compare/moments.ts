// How a moment is said.

import type { HistoryVersion, Reason } from '../../core/contract'
import type { Moment } from '../../core/history/lifeline'
import { t, told } from '../words/all'
import { clock, moment as time } from '../words/formats'

export const reasons: Record<Reason, string> = {
  saved: t('lifeline.saved'),
  'by itself': t('lifeline.saved-by-itself'),
  restored: t('lifeline.brought-back'),
  merged: t('lifeline.combined'),
  'brought in': t('lifeline.brought-in'),
  copied: t('lifeline.copied'),
  renamed: t('lifeline.renamed'),
  'in step': t('lifeline.in-step'),
}

/** Who made it; of what came with a drive, who wrote it as it says itself, and who brought it in. */
export const saidAuthor = ({ author, from }: HistoryVersion): string =>
  from?.author ? t('lifeline.brought-in-by', { writer: from.author, authorName: author.name }) : author.name

/** "Version 12, yesterday 09:30, Ida Thornquist" */
export const saidVersion = (version: HistoryVersion): string =>
  t('lifeline.version', { number: version.number, time: time(version.at), authorName: saidAuthor(version) })

/** A moment in one line, with what it changed. */
export function saidMoment(moment: Moment): string {
  if (moment.kind === 'now') return t('lifeline.now-your-work-as-it-is')
  if (moment.kind === 'point') return t('lifeline.recovery-point-of-of-your-unsaved-work', { at: clock(moment.at) })
  const { version, folded } = moment
  const parts = [
    saidVersion(version),
    version.label && t('lifeline.kept-as', { versionLabel: version.label }),
    version.reason !== 'saved' && reasons[version.reason],
    version.from && t('lifeline.was-at', { path: version.from.path }),
    folded.length && t('lifeline.with-more-of-the-same-run', { folded: folded.length }),
  ].filter(Boolean)
  return `${parts.join(', ')}. ${version.summary === null ? '' : told(version.summary)}`
}
