// A drive that is taken over: how far it is, what becomes of its files, and what somebody decides of that.
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import type { Decisions, Intake, ShownSeries } from '../../core/contract'
import { call, isAway, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Button, Field, Notice } from '../design/controls'
import { Question } from '../design/overlay'
import { useStillHere } from '../design/still-here'
import { invalidatePlaces } from '../files/acts'
import { t, told } from '../words/all'
import { digits, size } from '../words/formats'
import { driveOf, heldDrive, holdDrive, letGo } from './held-drives'
import { readDrive, sendDrive } from './read-drive'
import { SeriesRow } from './series-row'

const often = 700

export function IntakeView() {
  const { shareId = '', intakeId = '' } = useParams()
  const params = { shareId, intakeId }
  const intake = useQuery({
    queryKey: keys.intakes(shareId, intakeId),
    queryFn: () => call('intake', { params }),
    refetchInterval: ({ state }) =>
      state.data && ['looking', 'planning', 'taking'].includes(state.data.state) ? often : false,
  })
  if (intake.isError && !intake.data)
    return (
      <Blank
        screen
        title={
          intake.error instanceof Refused
            ? told(intake.error.problem)
            : t('common.the-server-does-not-answer-right-now')
        }
      >
        <Button look="main" onClick={() => intake.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (!intake.data) return <Blank screen title={t('common.one-moment')} waiting />
  return <Loaded key={intakeId} intake={intake.data} away={intake.isError} />
}

/** What this page has to do for it: the folder is on this computer. @returns whether the folder has to be chosen again */
function useOwnDrive(intake: Intake): { missing: boolean; choose: (list: FileList | null) => void } {
  const client = useQueryClient()
  const { id, share, source, state } = intake
  const [held, setHeld] = useState(() => heldDrive(id))
  const doing = source === 'browser' && (state === 'looking' || state === 'taking') ? state : null
  useEffect(() => {
    if (!doing || !held) return
    const ended = new AbortController()
    const params = { shareId: share.id, intakeId: id }
    const work = async () => {
      if (doing === 'looking') return readDrive(params, held, ended.signal)
      const gone = await sendDrive(params, held, ended.signal)
      if (!gone.length) return
      toast.error(t('drives.not-in-folder', { n: gone.length, path: gone[0]! }))
      await call('stopIntake', { params })
    }
    work()
      .catch(async (error) => {
        if (ended.signal.aborted) return
        toast.error(error instanceof Refused ? told(error.problem) : t('drives.could-not'))
        // Nothing more is sent: it says so, and can be gone on with.
        if (doing === 'taking') await call('stopIntake', { params }).catch(() => {})
      })
      .finally(() => client.invalidateQueries({ queryKey: keys.intakes(share.id) }))
    return () => ended.abort()
  }, [doing, held, id, share.id, client])
  return {
    missing: !!doing && !held,
    choose: (list) => {
      const drive = list?.length ? driveOf(list) : null
      if (!drive) return
      holdDrive(id, drive)
      setHeld(drive)
    },
  }
}

function Loaded({ intake, away }: { intake: Intake; away: boolean }) {
  const { share, state } = intake
  const params = { shareId: share.id, intakeId: intake.id }
  const client = useQueryClient()
  const navigate = useNavigate()
  const here = useStillHere()
  const own = useOwnDrive(intake)
  const [show, setShow] = useState<ShownSeries>('all')
  const [words, setWords] = useState('')
  const [asked, setAsked] = useState('')
  const [forgetting, setForgetting] = useState(false)
  const [busy, setBusy] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => setAsked(words), 250)
    return () => clearTimeout(timer)
  }, [words])
  const decided = state === 'ready' || state === 'taking' || state === 'done'
  const list = useInfiniteQuery({
    queryKey: keys.intakes(share.id, intake.id, 'series', show, asked),
    enabled: decided,
    initialPageParam: -1,
    queryFn: ({ pageParam }) =>
      call('intakeSeries', { params, query: { show, words: asked || undefined, after: pageParam } }),
    getNextPageParam: (last) => (last.series.length === 50 ? last.series.at(-1)!.no : undefined),
    refetchInterval: state === 'taking' ? 3000 : false,
  })
  // What came is in Files, and its rows say so, as soon as it is over.
  useEffect(() => {
    if (state !== 'done') return
    void client.invalidateQueries({ queryKey: keys.intakes(share.id, intake.id, 'series') })
    void invalidatePlaces(client)
  }, [state, client, share.id, intake.id])
  const attempt = async (doing: () => Promise<unknown>): Promise<boolean> => {
    setBusy(true)
    try {
      await doing()
      return true
    } catch (error) {
      toast.error(
        error instanceof Refused
          ? told(error.problem)
          : isAway(error)
            ? t('common.the-server-does-not-answer-right-now')
            : t('drives.could-not'),
      )
      return false
    } finally {
      await client.invalidateQueries({ queryKey: keys.intakes(share.id) })
      setBusy(false)
    }
  }
  const decide = (decisions: Partial<Decisions>) =>
    attempt(() => call('decideIntake', { params, body: { series: [], ...decisions } }))
  const series = list.data?.pages.flatMap((page) => page.series) ?? []
  const inAll = list.data?.pages[0]?.inAll ?? 0
  const root = intake.root.slice(intake.root.lastIndexOf('/') + 1) || intake.root
  return (
    <main className="flex h-full min-w-0 flex-col">
      {intake.problem && <Notice tone="alarm">{told(intake.problem)}</Notice>}
      {away && <Notice>{t('common.the-server-does-not-answer-right-now')}</Notice>}
      {own.missing && <ChooseAgain root={root} onChoose={own.choose} />}
      <div className="min-h-0 flex-1 overflow-auto">
        <div className="mx-auto w-full max-w-[1080px] px-4 py-4 md:px-8 md:py-6">
          <div className="flex items-center gap-3">
            <Link
              to={`/take-over/${share.id}`}
              aria-label={t('drives.back')}
              className="grid size-9 shrink-0 place-items-center rounded-md hover:bg-wash"
            >
              <ArrowLeft size={18} />
            </Link>
            <h1 className="min-w-0 text-[20px] font-semibold leading-6 [overflow-wrap:anywhere]">
              {t('drives.into', { root, place: [share.name, ...intake.into].join(' / ') })}
            </h1>
          </div>
          <Summary intake={intake} />
          {decided && (
            <>
              <div className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2 pt-4">
                <Filters intake={intake} show={show} onShow={setShow} />
                <Field
                  className="w-72"
                  label={t('drives.look-for')}
                  type="search"
                  value={words}
                  onChange={(event) => setWords(event.target.value)}
                />
              </div>
              {list.isError ? (
                <Blank title={t('common.the-server-does-not-answer-right-now')} />
              ) : list.isPending ? (
                <Blank title={t('common.one-moment')} waiting />
              ) : series.length === 0 ? (
                <Blank title={t('drives.none-of-these')} />
              ) : (
                <section aria-label={t('drives.what-becomes')} className="pt-4">
                  {state === 'ready' && (
                    <All
                      n={inAll}
                      some={series.some(({ wanted, fileId }) => wanted && !fileId)}
                      whole={series.every(({ wanted, fileId }) => wanted || fileId)}
                      disabled={busy || asked !== ''}
                      onTick={(wanted) => void decide({ all: { show, wanted } })}
                    />
                  )}
                  <ul className="border-t">
                    {series.map((one) => (
                      <SeriesRow
                        key={one.no}
                        one={one}
                        open={state === 'ready'}
                        onDecide={(what) => decide({ series: [{ no: one.no, ...what }] })}
                      />
                    ))}
                  </ul>
                  {list.hasNextPage && (
                    <Button className="mt-3" disabled={list.isFetchingNextPage} onClick={() => list.fetchNextPage()}>
                      {t('drives.show-more', { n: digits(inAll - series.length) })}
                    </Button>
                  )}
                </section>
              )}
            </>
          )}
        </div>
      </div>
      <footer className="border-t bg-paper">
        <div className="mx-auto flex w-full max-w-[1080px] flex-wrap items-center gap-3 px-4 py-3 md:px-8">
          {state === 'ready' && (
            <Button
              look="main"
              disabled={busy || !intake.planned.wanted}
              onClick={() => attempt(() => call('takeIntake', { params }))}
            >
              {intake.taken ? t('drives.go-on') : t('drives.take-over', { n: intake.planned.wanted })}
            </Button>
          )}
          {state === 'taking' && (
            <Button disabled={busy} onClick={() => attempt(() => call('stopIntake', { params }))}>
              {t('drives.stop')}
            </Button>
          )}
          {state === 'done' && (
            <Link
              to={`/files/${share.id}`}
              className="inline-flex h-8 items-center rounded-md bg-accent px-3 font-medium text-on-accent hover:brightness-110"
            >
              {t('drives.see-files')}
            </Link>
          )}
          {state === 'done' && (intake.refused > 0 || intake.taken < intake.coming) && (
            <Button disabled={busy} onClick={() => attempt(() => call('takeIntake', { params }))}>
              {t('drives.try-again')}
            </Button>
          )}
          <span className="min-w-0 flex-1 text-[13.5px] text-soft" aria-live="polite">
            {state === 'ready' && !intake.planned.wanted ? t('drives.nothing-ticked') : ''}
          </span>
          {state !== 'taking' && (
            <Button look="quiet" onClick={() => setForgetting(true)}>
              {t('drives.forget')}
            </Button>
          )}
        </div>
      </footer>
      {forgetting && (
        <Question
          title={t('drives.forget-it', { root })}
          onClose={() => setForgetting(false)}
          answers={
            <>
              <Button
                look="warning"
                disabled={busy}
                onClick={async () => {
                  if (!(await attempt(() => call('forgetIntake', { params })))) return
                  letGo(intake.id)
                  if (here()) await navigate(`/take-over/${share.id}`)
                }}
              >
                {t('drives.forget')}
              </Button>
              <Button look="quiet" onClick={() => setForgetting(false)}>
                {t('common.cancel')}
              </Button>
            </>
          }
        >
          <p>{intake.taken ? t('drives.taken-stays', { n: intake.taken }) : t('drives.drive-stays')}</p>
        </Question>
      )}
    </main>
  )
}

/** The browser gave the folder until the page was closed. */
function ChooseAgain({ root, onChoose }: { root: string; onChoose: (list: FileList | null) => void }) {
  const chooser = useRef<HTMLInputElement>(null)
  return (
    <Notice
      tone="alarm"
      actions={
        <>
          <Button onClick={() => chooser.current?.click()}>{t('drives.choose-again')}</Button>
          <input
            ref={chooser}
            type="file"
            multiple
            className="hidden"
            aria-label={t('drives.choose-again')}
            tabIndex={-1}
            {...{ webkitdirectory: '' }}
            onChange={(event) => onChoose(event.target.files)}
          />
        </>
      }
    >
      {t('drives.needs-folder', { root })}
    </Notice>
  )
}

/** What was found and what becomes of it, or how far it is, in sentences. */
function Summary({ intake }: { intake: Intake }) {
  const { state, files, bytes, read, planned, coming, taken, refused, faults } = intake
  if (state === 'looking' || state === 'planning')
    return (
      <div className="pt-4">
        <p role="status">
          {state === 'planning'
            ? t('drives.is-planned')
            : files
              ? t('drives.is-read', { read: digits(read), files: digits(files) })
              : t('drives.is-looked-through')}
        </p>
        <Progress done={state === 'planning' ? files : read} all={files} />
        <p className="max-w-[64ch] pt-3 text-[13.5px] text-soft">
          {intake.source === 'browser' ? t('drives.keep-page') : t('drives.leave-page')}
        </p>
      </div>
    )
  const told = [
    t('drives.found', { n: files, size: size(bytes) }),
    t('drives.become', { n: planned.files }),
    planned.series
      ? t('drives.with-versions', {
          series: planned.series,
          n: planned.versions + planned.doubles - planned.files + planned.series,
        })
      : '',
    planned.doubles ? t('drives.doubles', { n: planned.doubles }) : '',
    faults.litter || faults.empty ? t('drives.not-taken', { n: (faults.litter ?? 0) + (faults.empty ?? 0) }) : '',
    faults.unreadable || faults['too large']
      ? t('drives.unreadable', { n: (faults.unreadable ?? 0) + (faults['too large'] ?? 0) })
      : '',
  ].filter(Boolean)
  return (
    <div className="pt-4">
      {state !== 'ready' && (
        <>
          <p role="status" className="font-medium">
            {state === 'done'
              ? t('drives.is-done', { n: taken })
              : t('drives.is-taken', { taken: digits(taken), coming: digits(coming) })}
            {refused > 0 && <span className="text-rust"> {t('drives.were-refused', { n: refused })}</span>}
          </p>
          {state === 'taking' && <Progress done={taken + refused} all={coming} />}
          {state === 'taking' && (
            <p className="pt-2 text-[13.5px] text-soft">
              {intake.source === 'browser' ? t('drives.keep-page') : t('drives.leave-page')}
            </p>
          )}
        </>
      )}
      <p className="max-w-[76ch] pt-2 text-soft">{told.join(' ')}</p>
    </div>
  )
}

function Progress({ done, all }: { done: number; all: number }) {
  return (
    <progress
      aria-label={t('drives.how-far')}
      value={all ? done : undefined}
      max={all || 1}
      className="mt-2 block h-1.5 w-full max-w-[560px] overflow-hidden rounded-full accent-[var(--accent)]"
    />
  )
}

/** Which of the files are shown, with how many there are. */
function Filters({ intake, show, onShow }: { intake: Intake; show: ShownSeries; onShow: (show: ShownSeries) => void }) {
  const { planned, faults, refused } = intake
  const all: [ShownSeries, string, number][] = [
    ['all', t('drives.all'), planned.files],
    ['series', t('drives.several-versions'), planned.series],
    ['doubtful', t('drives.to-look-at'), planned.doubtful],
    ['by hand', t('drives.by-hand'), planned.byHand],
    ['faults', t('drives.damaged'), (faults.damaged ?? 0) + (faults.protected ?? 0)],
    ['left out', t('drives.left-out'), planned.files - planned.wanted],
    ['refused', t('drives.refused-ones'), refused],
  ]
  return (
    <fieldset className="flex flex-wrap gap-x-1 gap-y-1">
      <legend className="sr-only">{t('drives.which')}</legend>
      {all
        .filter(([what, , n]) => n > 0 || what === 'all' || what === show)
        .map(([what, label, n]) => (
          <button
            key={what}
            type="button"
            aria-pressed={show === what}
            onClick={() => onShow(what)}
            className={`h-8 rounded-md border px-2.5 ${show === what ? 'border-ink font-semibold' : 'border-transparent hover:bg-wash'}`}
          >
            {label} <span className="text-[13px] font-normal text-soft">{digits(n)}</span>
          </button>
        ))}
    </fieldset>
  )
}

function All({
  n,
  some,
  whole,
  disabled,
  onTick,
}: {
  n: number
  some: boolean
  whole: boolean
  disabled: boolean
  onTick: (on: boolean) => void
}) {
  return (
    <label className="flex items-center gap-3 px-1 pb-2">
      <input
        type="checkbox"
        className="size-4 accent-[var(--accent)]"
        ref={(box) => {
          if (box) box.indeterminate = some && !whole
        }}
        checked={whole}
        disabled={disabled}
        onChange={(event) => onTick(event.target.checked)}
      />
      {t('drives.all-of-these', { n: digits(n) })}
    </label>
  )
}
