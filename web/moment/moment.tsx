// A share or folder as it was at a moment: chosen by what was changed when, what differs from it, and the way back.
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { Moment, MomentDifference } from '../../core/contract'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button } from '../design/controls'
import { invalidatePlaces, undo } from '../files/acts'
import { t, told } from '../words/all'
import { listed } from '../words/formats'
import { DifferenceRow } from './difference-row'
import { before, TimeLine } from './time-line'

/** Rows that are shown; what is more comes along when all of it is wished. */
const shown = 500

export function MomentView() {
  const { shareId = '' } = useParams()
  const [search] = useSearchParams()
  const folderId = search.get('folder')
  const shares = useQuery(queries.shares)
  const place = useQuery({
    queryKey: keys.place(shareId, folderId, '', 0, 1),
    queryFn: () => call('place', { params: { shareId }, query: { folderId: folderId ?? undefined, limit: 1 } }),
  })
  const changes = useQuery({
    queryKey: keys.changesIn(shareId, folderId),
    queryFn: () => call('placeChanges', { params: { shareId }, query: { folderId: folderId ?? undefined } }),
  })
  const share = shares.data?.find(({ id }) => id === shareId)
  const [at, setAt] = useState<string | null>(() => {
    const said = Date.parse(search.get('at') ?? '')
    return Number.isNaN(said) ? null : new Date(said).toISOString()
  })
  const stretches = changes.data?.stretches
  // It begins right before what was changed last.
  useEffect(() => {
    const last = stretches?.at(-1)
    if (at === null && last) setAt(before(last.at))
  }, [stretches, at])
  if (changes.isError || place.isError)
    return (
      <Blank screen title={t('common.this-share-does-not-exist-or-you')}>
        <Button look="main" onClick={() => changes.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (!share || !changes.data || !place.data) return <Blank screen title={t('common.one-moment')} waiting />
  const path = [share.name, ...place.data.trail.map(({ name }) => name)]
  return (
    <main className="relative flex h-full min-w-0 flex-col overflow-auto">
      <div className="mx-auto flex w-full max-w-[1080px] flex-1 flex-col px-4 py-4 md:px-8 md:py-6">
        <div className="flex items-center gap-3">
          <Link
            to={`/files/${shareId}${folderId ? `/${folderId}` : ''}`}
            aria-label={t('common.show-it-in-its-folder')}
            className="grid size-9 shrink-0 place-items-center rounded-md hover:bg-wash"
          >
            <ArrowLeft size={18} />
          </Link>
          <h1 className="min-w-0 truncate text-[20px] font-semibold">
            {t('moment.title', { place: path.join(' / ') })}
          </h1>
        </div>
        {changes.data.stretches.length === 0 ? (
          <Blank title={t('moment.nothing-was-changed')} />
        ) : (
          <>
            <TimeLine stretches={changes.data.stretches} at={at} onAt={setAt} />
            {at && (
              <Differences
                key={at}
                shareId={shareId}
                folderId={folderId}
                at={at}
                mayChange={share.role !== 'view'}
                onDone={() => changes.refetch()}
              />
            )}
          </>
        )}
      </div>
    </main>
  )
}

/** What differs, in a sentence. */
function summary({ counts }: Moment): string {
  const parts: string[] = []
  const add = (n: number | undefined, says: (n: number) => string) => n && parts.push(says(n))
  add(counts.changed, (n) => t('moment.written-over', { n }))
  add(counts.removed, (n) => t('moment.went', { n }))
  add(counts.moved, (n) => t('moment.were-moved', { n }))
  add(counts.renamed, (n) => t('moment.were-renamed', { n }))
  add(counts.new, (n) => t('moment.are-new', { n }))
  return t('moment.since-then', { parts: listed(parts) })
}
const isNew = ({ differs }: MomentDifference) => differs.includes('new')

function Differences({
  shareId,
  folderId,
  at,
  mayChange,
  onDone,
}: {
  shareId: string
  folderId: string | null
  at: string
  mayChange: boolean
  onDone: () => void
}) {
  const client = useQueryClient()
  const found = useQuery({
    queryKey: keys.moment(shareId, folderId, at),
    placeholderData: keepPreviousData,
    queryFn: () => call('moment', { params: { shareId }, query: { at, folderId: folderId ?? undefined } }),
  })
  /** What was ticked by somebody, other than all that was. */
  const [chosen, setChosen] = useState<ReadonlySet<string> | null>(null)
  const [busy, setBusy] = useState(false)
  const usual = useMemo(
    () => new Set(found.data?.differences.filter((one) => !isNew(one) && !one.gone).map(({ id }) => id)),
    [found.data],
  )
  if (!found.data)
    return (
      <Blank
        title={found.isError ? t('common.the-server-does-not-answer-right-now') : t('common.one-moment')}
        waiting
      />
    )
  const { differences, inAll } = found.data
  if (!inAll) return <Blank title={t('moment.nothing-differs')} />
  const ticked = chosen ?? usual
  const unseen = inAll - differences.length
  const number = ticked.size + (chosen === null ? comingAlong(found.data) : 0)
  const tick = (id: string, on: boolean) => {
    const next = new Set(ticked)
    on ? next.add(id) : next.delete(id)
    setChosen(next)
  }
  const bring = async () => {
    setBusy(true)
    try {
      // What cannot come back any more keeps the rest from nothing.
      const all = chosen === null && !differences.some((one) => one.gone)
      const body = { id: uuidv7(), at, folderId, entries: all ? null : [...ticked] }
      const done = await call('toMoment', { params: { shareId }, body }, { timeout: 300_000 })
      const renamed = done.renamed
        .map(({ name, now }) => t('files.is-now-because-its-name-was-taken', { name, now }))
        .join(' ')
      toast(`${t('moment.is-as-it-was', { n: done.entries })} ${renamed}`, {
        duration: 20_000,
        action: { label: t('common.undo'), onClick: () => void undo(client, done).then(again) },
      })
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('moment.could-not'))
    }
    setBusy(false)
    setChosen(null)
    await invalidatePlaces(client)
    await again()
  }
  const again = async () => {
    onDone()
    await client.invalidateQueries({ queryKey: keys.moment(shareId) })
  }
  return (
    <>
      <p className="pt-4">{summary(found.data)}</p>
      <section aria-label={t('moment.what-differs')} className="min-h-0 flex-1 pt-3">
        <ul className="border-t">
          {mayChange && (
            <li className="border-b">
              <label className="flex min-h-10 items-center gap-3 px-1 text-[14px] text-soft">
                <input
                  type="checkbox"
                  className="size-4 shrink-0 accent-[var(--accent)]"
                  checked={usual.size > 0 && [...usual].every((id) => ticked.has(id))}
                  disabled={usual.size === 0}
                  onChange={(event) => setChosen(event.target.checked ? null : new Set())}
                />
                {t('moment.choose-all')}
              </label>
            </li>
          )}
          {differences.slice(0, shown).map((one) => (
            <DifferenceRow
              key={one.id}
              one={one}
              ticked={ticked.has(one.id)}
              onTick={mayChange ? (on) => tick(one.id, on) : null}
            />
          ))}
        </ul>
        {(unseen > 0 || differences.length > shown) && chosen === null && (
          <p className="py-2 text-soft">{t('moment.more', { n: inAll - Math.min(shown, differences.length) })}</p>
        )}
      </section>
      <div className="sticky bottom-0 -mx-1 flex flex-wrap items-center gap-x-4 gap-y-2 border-t bg-desk px-1 py-3">
        {mayChange ? (
          <>
            <Button look="main" disabled={busy || !number} onClick={() => void bring()}>
              {t('moment.bring-back', { n: number })}
            </Button>
            <p className="min-w-0 flex-1 text-[14px] text-soft">{t('moment.keeps')}</p>
          </>
        ) : (
          <p className="text-[14px] text-soft">{t('moment.viewer')}</p>
        )}
      </div>
    </>
  )
}

/** Of what is not listed, what comes along when nothing is chosen by hand: nothing that is new is ticked. */
function comingAlong({ differences, inAll, counts }: Moment): number {
  const listedNew = differences.filter(isNew).length
  return inAll - differences.length - ((counts.new ?? 0) - listedNew)
}
