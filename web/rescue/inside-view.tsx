// A piece of unsaved work, looked at without opening it: beside the last version, with what differs
// marked, step by step through its recovery points. From here it is kept, from any tab or computer.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft, ChevronLeft, ChevronRight } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { entryOf } from '../../core/content/entry'
import { columnName } from '../../core/content/workbook'
import { defaultType } from '../../core/formats/types'
import { saidBy } from '../../core/words/said'
import { call, isAway, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Blank, Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { KindGlyph, NameText } from '../design/kind'
import { useStillHere } from '../design/still-here'
import { SheetView } from '../views/workbook/sheet-view'
import { WorkbookStore } from '../views/workbook/store'
import { t, told } from '../words'
import { clock, digits } from '../words/formats'
import { unnamed } from '../words/unnamed'
import { type Looked, lookInside, saveAsNext, written } from './inside'
import { MarkedDocument } from './marked-document'
import { SafeCopy } from './safe-copy'

export function InsideView() {
  const { draftId } = useParams()
  const client = useQueryClient()
  const navigate = useNavigate()
  const here = useStillHere()
  const { person } = useSession()
  /** The last record that is looked at; null follows the newest. */
  const [until, setUntil] = useState<number | null>(null)
  const [copying, setCopying] = useState(false)
  const [busy, setBusy] = useState(false)
  const looked = useQuery({
    queryKey: keys.inside(draftId, until),
    queryFn: () => lookInside(draftId!, until ?? undefined),
    placeholderData: (before) => before,
    refetchInterval: 5000,
    retry: false,
  })
  const content = useQuery({
    queryKey: keys.draft(draftId),
    queryFn: () => call('draft', { params: { draftId: draftId! } }, { timeout: 8000 }),
    refetchInterval: 2500,
    retry: false,
  })
  const points = content.data?.points ?? []
  const draft = content.data?.draft ?? looked.data?.gathered.remote ?? null
  const newest = looked.data?.gathered.records.length ?? 0
  // Moments to step through: each recovery point, then what the device has beyond the last one.
  const moments = [
    ...points.map(({ toSeq, at }) => ({
      seq: toSeq,
      label: t('rescue.recovery-point-of', { parse: clock(Date.parse(at)) }),
    })),
    ...(looked.data && newest > (points.at(-1)?.toSeq ?? 0)
      ? [{ seq: newest, label: t('rescue.what-this-computer-has-to-its-end') }]
      : []),
  ]
  const at = until === null ? moments.length - 1 : moments.findIndex(({ seq }) => seq === until)
  const step = (by: number) => {
    const to = Math.max(0, Math.min(moments.length - 1, at + by))
    setUntil(to === moments.length - 1 ? null : (moments[to]?.seq ?? null))
  }
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || document.querySelector('[role=dialog], form')) return
      if (event.key === 'ArrowLeft') step(-1)
      if (event.key === 'ArrowRight') step(1)
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  })
  if (looked.isPending) return <Blank screen title={t('rescue.looking-inside')} waiting />
  if (looked.isError || !looked.data)
    return (
      <Blank
        screen
        title={
          looked.error && isAway(looked.error)
            ? t('common.the-server-does-not-answer-right-now')
            : t('rescue.this-work-is-not-known-here')
        }
      >
        <p>{t('rescue.it-may-have-been-saved-or-closed')}</p>
        <Button look="main" className="mt-3" onClick={() => looked.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  const { gathered, inside } = looked.data
  const name = gathered.remote?.file?.name ?? gathered.stored?.fileName ?? null
  const mine = draft?.mine ?? true
  const live = draft?.heardFrom ?? false
  const next = async () => {
    setBusy(true)
    try {
      const { version } = await saveAsNext(draftId!)
      toast(t('rescue.saved-as-version', { number: version.number }))
      await client.invalidateQueries({ queryKey: keys.pieces(person.id) })
      if (here()) void navigate(`/open/${version.fileId}`)
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : told(saidBy(error)))
      setBusy(false)
    }
  }
  const ask = async () => {
    try {
      await call('askForPoint', { params: { draftId: draftId! } })
      toast(t('rescue.asked-its-computer-sends-a-recovery-point'))
      await content.refetch()
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('rescue.it-could-not-be-asked'))
    }
  }
  return (
    <main className="flex h-full flex-col overflow-auto">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-3 border-b bg-paper px-6 py-3">
        <Link
          to="/rescue"
          aria-label={t('rescue.back-to-rescue')}
          className="grid size-9 place-items-center rounded-md hover:bg-wash"
        >
          <ArrowLeft size={18} />
        </Link>
        <div className="min-w-0 flex-1">
          <h1 className="flex items-center gap-2 text-[16px] font-medium">
            <KindGlyph type={gathered.model?.type ?? defaultType[gathered.kind]} />
            {name ? <NameText name={name} /> : <em>{unnamed(gathered.kind, new Date(gathered.bornAt))}</em>}
          </h1>
          <p className="text-[14px] text-soft" data-testid="inside-summary">
            {mine ? t('rescue.your-unsaved-work') : t('rescue.unsaved-work-of', { personName: draft?.person.name })}
            {draft && t('rescue.on', { deviceName: draft.deviceName })}.{' '}
            {inside.kind !== 'damaged' && told(inside.summary)}
            {gathered.lostFrom && (
              <span className="text-rust">
                {t('rescue.the-unsaved-work-on-this-computer-is', { it: gathered.lostFrom - 1 })}
              </span>
            )}
            {live && draft?.page === 'hangs' && t('rescue.its-page-does-not-answer-what-it')}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {live && (
            <Button onClick={ask} disabled={draft?.pointWanted}>
              {draft?.pointWanted ? t('rescue.waiting-for-its-recovery-point') : t('rescue.take-a-recovery-point-now')}
            </Button>
          )}
          <Button look={live ? 'main' : 'plain'} onClick={() => setCopying(true)}>
            {t('rescue.save-a-safe-copy')}
          </Button>
          {mine && !live && (
            <>
              {gathered.fileId && until === null && !gathered.lostFrom && (
                <Button disabled={busy} onClick={next}>
                  {t('rescue.save-as-the-next-version')}
                </Button>
              )}
              <Button look="main" onClick={() => navigate(`/draft/${draftId}`)}>
                {t('rescue.go-on-with-it')}
              </Button>
            </>
          )}
        </div>
      </div>
      {moments.length > 0 && (
        <div
          className="flex items-center gap-3 border-b px-6 py-1.5 text-[14px]"
          role="group"
          aria-label={t('rescue.moments')}
        >
          <IconButton
            label={t('rescue.earlier')}
            keys="←"
            className="size-7"
            disabled={at <= 0}
            onClick={() => step(-1)}
          >
            <ChevronLeft />
          </IconButton>
          <span className="relative h-4 w-72" aria-hidden>
            <span className="absolute inset-x-0 top-1/2 border-t" />
            {moments.map(({ seq }, index) => (
              <span
                key={seq}
                className={`absolute top-0 h-4 w-[3px] rounded-sm ${index === at ? 'bg-accent' : 'bg-rule-strong'}`}
                style={{ left: `${moments.length === 1 ? 100 : (index / (moments.length - 1)) * 99}%` }}
              />
            ))}
          </span>
          <IconButton
            label={t('rescue.later')}
            keys="→"
            className="size-7"
            disabled={at >= moments.length - 1}
            onClick={() => step(1)}
          >
            <ChevronRight />
          </IconButton>
          <span role="status">
            {moments[at]?.label}
            {moments.length > 1 && t('rescue.of', { it: at + 1, moments: moments.length })}
          </span>
        </div>
      )}
      {inside.kind === 'damaged' ? (
        <Blank title={t('rescue.the-version-it-began-from-cannot-be')}>{told(inside.reason)}</Blank>
      ) : inside.kind === 'document' ? (
        <div className="grid min-h-96 flex-1 grid-rows-2 md:min-h-48 md:grid-cols-2 md:grid-rows-1">
          <Side title={inside.before ? t('rescue.the-last-version') : t('rescue.it-was-never-saved')}>
            {inside.before !== null && (
              <MarkedDocument
                json={inside.before}
                marked={inside.changes.removed}
                look="removed"
                looks={inside.looks}
                label={t('rescue.the-last-version')}
              />
            )}
          </Side>
          <Side title={t('rescue.this-work')} border>
            <MarkedDocument
              json={inside.now}
              marked={inside.changes.added}
              look="added"
              looks={inside.looks}
              label={t('rescue.this-work')}
            />
          </Side>
        </div>
      ) : (
        <Spreadsheet key={`${draftId} ${until ?? gathered.records.length}`} looked={looked.data} until={until} />
      )}
      {copying && (
        <SafeCopy
          gathered={gathered}
          name={name}
          encode={() => written(gathered, until ?? undefined)}
          onClose={() => setCopying(false)}
        />
      )}
    </main>
  )
}

function Side({ title, border, children }: { title: string; border?: boolean; children: React.ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled by keys, too.
    <section tabIndex={0} aria-label={title} className={`min-h-0 overflow-auto pb-10 ${border ? 'border-l' : ''}`}>
      <h2 className="sticky top-0 z-10 bg-desk px-6 py-2 text-[13px] text-soft">{title}</h2>
      <div className="px-6">{children}</div>
    </section>
  )
}

/** The sheet as it is in the draft, and beside it each cell that differs, before and now. */
function Spreadsheet({ looked: { gathered, inside }, until }: { looked: Looked; until: number | null }) {
  const [store, setStore] = useState<WorkbookStore | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: one store for each moment, which has a view of its own
  useEffect(() => {
    const opened = new WorkbookStore(null)
    void opened
      .open(
        gathered.base?.slice() ?? null,
        until === null ? gathered.records : gathered.records.slice(0, until),
        gathered.model,
      )
      .then(() => setStore(opened))
    return () => opened.close()
  }, [])
  if (inside.kind !== 'spreadsheet') return null
  const { listed, cells } = inside.changes
  return (
    <div className="grid min-h-96 flex-1 grid-rows-2 md:min-h-48 md:grid-cols-[minmax(0,1fr)_400px] md:grid-rows-1">
      <div className="flex min-h-0 min-w-0 flex-col" data-testid="sheet-inside">
        {store ? <SheetView store={store} editable={false} /> : <Blank title={t('common.opening')} waiting />}
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled by keys, too. */}
      <section tabIndex={0} className="min-h-0 overflow-auto border-l" aria-label={t('rescue.cells-that-differ')}>
        <table className="w-full text-[13px]">
          <thead className="sticky top-0 bg-desk text-left text-soft">
            <tr>
              <th className="px-4 py-2 font-normal">{t('rescue.cell')}</th>
              <th className="px-2 py-2 font-normal">{t('rescue.last-version')}</th>
              <th className="px-2 py-2 font-normal">{t('rescue.this-work')}</th>
            </tr>
          </thead>
          <tbody className="font-mono">
            {listed.map(({ sheet, row, column, before, now }) => (
              <tr key={`${sheet} ${row} ${column}`} className="border-t align-top">
                <td className="whitespace-nowrap px-4 py-1">
                  {columnName(column)}
                  {row + 1}
                  <span className="block font-sans text-[12px] text-soft">{sheet}</span>
                </td>
                <td className="px-2 py-1">{before && <del className="marked-removed">{entryOf(before)}</del>}</td>
                <td className="px-2 py-1">{now && <ins className="marked-added">{entryOf(now)}</ins>}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {cells > listed.length && (
          <p className="px-4 py-2 text-[13px] text-soft">
            {t('common.and-more', { it: digits(cells - listed.length) })}
          </p>
        )}
        {cells === 0 && (
          <p className="px-4 py-2 text-[14px] text-soft">{t('rescue.no-cell-differs-from-the-last-version')}</p>
        )}
      </section>
    </div>
  )
}
