// The lifeline as a list to be read: by date, with who, why, what changed and under which label; filtered; two of
// them picked to be compared; and where one paragraph or cell changed.
import { Mail, Route, TextSearch, X } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { FileFacts, HistoryVersion, Reason, Trace } from '../../../core/contract'
import type { Moment } from '../../../core/history/lifeline'
import { useSession } from '../../api/signed-in'
import { reasons } from '../../compare/moments'
import { Button } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import { WhatWasPrinted } from '../../paper/printed'
import { T, t } from '../../words/all'
import type { ListActs } from './version-row'
import { type Row, VersionRows } from './version-rows'

const spans = [
  ['all', t('lifeline.at-any-time'), Number.POSITIVE_INFINITY],
  ['day', t('lifeline.last-day'), 1],
  ['week', t('lifeline.last-7-days'), 7],
  ['month', t('lifeline.last-30-days'), 30],
  ['year', t('lifeline.last-year'), 365],
] as const

export function VersionList({
  facts,
  headId,
  moments,
  chosen,
  unfolded,
  onLook,
  onUnfold,
  onClose,
  acts,
}: {
  facts: FileFacts
  headId?: string | undefined
  moments: readonly Moment[]
  chosen: Moment | null
  unfolded: ReadonlySet<string>
  onLook: (moment: Moment | null) => void
  onUnfold: (versionId: string) => void
  onClose: () => void
  acts: ListActs
}) {
  const guest = useSession().person.guestOf !== undefined
  const { versions, origin, formerNames, thinnedOut, held } = facts
  const [author, setAuthor] = useState('')
  const [reason, setReason] = useState<Reason | 'labelled' | ''>('')
  const [span, setSpan] = useState<string>('all')
  const [picked, setPicked] = useState<readonly string[]>([])
  const [trace, setTrace] = useState<Trace | null>(null)
  const [tracing, setTracing] = useState(false)
  const authors = useMemo(
    () => [...new Map(versions.map(({ author: one }) => [one.id, one.name]))].sort((a, b) => a[1].localeCompare(b[1])),
    [versions],
  )
  const usedReasons = useMemo(() => [...new Set(versions.map((version) => version.reason))], [versions])
  const traced = useMemo(() => trace && new Map(trace.changes.map((one) => [one.versionId, one])), [trace])
  const days = spans.find(([key]) => key === span)![2]
  const filtered = author !== '' || reason !== '' || span !== 'all' || traced !== null
  const rows = useMemo((): Row[] => {
    const since = Date.now() - days * 86_400_000
    const fits = (version: HistoryVersion) =>
      (!author || version.author.id === author) &&
      (!reason || (reason === 'labelled' ? version.label !== null : version.reason === reason)) &&
      Date.parse(version.at) >= since &&
      (!traced || traced.has(version.id))
    if (filtered) return versions.filter(fits).map((version) => ({ version, folded: 0, moment: asMoment(version) }))
    return moments
      .toReversed()
      .flatMap((moment): Row[] =>
        moment.kind === 'version'
          ? [{ version: moment.version, folded: moment.folded.length, moment }]
          : moment.kind === 'point'
            ? [{ version: null, folded: 0, moment }]
            : [],
      )
  }, [versions, moments, author, reason, days, traced, filtered])

  const pick = (id: string) =>
    setPicked((now) => (now.includes(id) ? now.filter((one) => one !== id) : [...now.slice(-1), id]))
  const pair = picked
    .map((id) => versions.find((version) => version.id === id))
    .filter((one) => one !== undefined)
    .sort((a, b) => a.number - b.number)
  const { sent, count } = acts.sending()
  const select = 'h-7 rounded border bg-sheet px-1.5 text-[13px]'
  return (
    <div className="border-t">
      <div className="flex flex-wrap items-center gap-2 px-4 py-1.5">
        <select
          aria-label={t('lifeline.who')}
          className={select}
          value={author}
          onChange={(event) => setAuthor(event.target.value)}
        >
          <option value="">{t('lifeline.everybody')}</option>
          {authors.map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <select
          aria-label={t('common.why')}
          className={select}
          value={reason}
          onChange={(event) => setReason(event.target.value as typeof reason)}
        >
          <option value="">{t('lifeline.for-any-reason')}</option>
          {usedReasons.map((one) => (
            <option key={one} value={one}>
              {reasons[one]}
            </option>
          ))}
          <option value="labelled">{t('lifeline.kept-under-a-label')}</option>
        </select>
        <select
          aria-label={t('lifeline.when')}
          className={select}
          value={span}
          onChange={(event) => setSpan(event.target.value)}
        >
          {spans.map(([key, said]) => (
            <option key={key} value={key}>
              {said}
            </option>
          ))}
        </select>
        {traced ? (
          <span className="inline-flex h-7 items-center gap-1 rounded border border-accent bg-wash pl-2 text-[13px]">
            {trace!.changes.length === 1 && trace!.changes[0]!.before === null
              ? t('lifeline.it-never-changed-since-it-came')
              : t('lifeline.it-changed-in-versions', { changes: trace!.changes.length })}
            {trace!.until !== null && t('lifeline.followed-back-to-version', { until: trace!.until })}
            <IconButton label={t('lifeline.show-all-versions-again')} className="size-6" onClick={() => setTrace(null)}>
              <X />
            </IconButton>
          </span>
        ) : acts.onTrace ? (
          <Button
            look="quiet"
            className="h-7 text-[13px]"
            disabled={tracing}
            onMouseDown={(event) => event.preventDefault()}
            onClick={async () => {
              setTracing(true)
              setTrace(await acts.onTrace!().finally(() => setTracing(false)))
            }}
          >
            <Route size={15} aria-hidden />
            {tracing ? t('lifeline.following-it-back') : t('lifeline.where-what-is-selected-changed')}
          </Button>
        ) : null}
        {!guest && (
          <Link
            to={`/history?file=${facts.file.id}`}
            className="inline-flex h-7 items-center gap-1.5 rounded-md px-2 text-[13px] hover:bg-wash"
          >
            <TextSearch size={15} aria-hidden />
            {t('past.in-its-versions')}
          </Link>
        )}
        {sent && (
          <Button look="quiet" className="h-7 text-[13px]" onClick={sent}>
            <Mail size={15} aria-hidden />
            {t('sending.sent-count', { sent: count })}
          </Button>
        )}
        <WhatWasPrinted fileId={facts.file.id} />
        <span className="ml-auto flex items-center gap-2 text-[13px] text-soft">
          {picked.length === 1 && t('lifeline.pick-one-more-to-compare-the-two')}
          {pair.length === 2 && (
            <Button look="main" className="h-7 text-[13px]" onClick={() => acts.onCompare(pair[0]!, pair[1]!)}>
              {t('lifeline.compare-with', { number: pair[0]!.number, number2: pair[1]!.number })}
            </Button>
          )}
        </span>
      </div>
      <VersionRows
        rows={rows}
        headId={headId}
        versions={versions}
        chosen={chosen}
        picked={picked}
        traced={traced}
        unfolded={unfolded}
        acts={acts}
        onPick={pick}
        onLook={onLook}
        onUnfold={onUnfold}
        onClose={onClose}
      >
        {rows.length === 0 && (
          <p className="px-4 py-3 text-[14px] text-soft">
            {t('lifeline.no-version-is-like-that')}{' '}
            <button
              type="button"
              className="underline"
              onClick={() => {
                setAuthor('')
                setReason('')
                setSpan('all')
                setTrace(null)
              }}
            >
              {t('common.show-all')}
            </button>
          </p>
        )}
        {(origin || formerNames.length > 0 || thinnedOut > 0 || held) && (
          <p className="mt-1 flex flex-wrap gap-x-6 border-t px-4 py-1.5 text-[13.5px] text-soft" data-testid="origin">
            {origin && (
              <span>
                <T
                  k="lifeline.copied-from-version"
                  v={{
                    it: origin.name ? (
                      <Link className="font-mono text-ink underline" to={`/open/${origin.fileId}`}>
                        {origin.name}
                      </Link>
                    ) : (
                      t('lifeline.a-file-that-you-may-not-see')
                    ),
                    number: origin.number,
                  }}
                />
              </span>
            )}
            {formerNames.length > 0 && (
              <span>
                <T
                  k="lifeline.named-before"
                  v={{ formerNames: formerNames.join(', '), bdi: (c) => <bdi className="font-mono">{c}</bdi> }}
                />
              </span>
            )}
            {thinnedOut > 0 && <span>{t('lifeline.retention-removed-versions', { thinnedOut })}</span>}
            {held && <span>{t('lifeline.on-hold-retention-removes-nothing-here', { held })}</span>}
          </p>
        )}
      </VersionRows>
    </div>
  )
}

const asMoment = (version: HistoryVersion): Moment => ({
  kind: 'version',
  id: version.id,
  at: Date.parse(version.at),
  version,
  folded: [],
})
