import { useQuery } from '@tanstack/react-query'
import type { Activity } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Button, Notice } from '../design/controls'
import { Drills } from '../drill/drills'
import { T, t } from '../words'
import { moment } from '../words/formats'
import type { Piece } from '../work/pieces'
import { usePieces } from '../work/use-pieces'
import { AllAtOnce } from './all-at-once'
import { LiveRow, PieceRow } from './piece-row'
import { RefusedCopies } from './refused-copies'

/** The screen for work that was interrupted, and for work that is open somewhere right now. */
export function Rescue() {
  const { data, isPending, isError, refetch } = usePieces()
  const activity = useQuery({ queryKey: keys.activity(), queryFn: () => call('activity', {}), refetchInterval: 30_000 })
  if (isPending) return <Blank screen title={t('rescue.looking-for-work')} waiting />
  if (isError)
    return (
      <Blank screen title={t('rescue.rescue-could-not-look-everywhere')}>
        <Button onClick={() => refetch()}>{t('common.try-again')}</Button>
      </Blank>
    )
  const of = (...states: Piece['state'][]) => data.pieces.filter((piece) => states.includes(piece.state))
  const interrupted = of('interrupted')
  const live = of('here', 'elsewhere')
  // What hangs needs somebody first.
  live.sort((a, b) => Number(b.page === 'hangs') - Number(a.page === 'hangs'))
  const aside = of('closed', 'let go')
  return (
    <main className="relative h-full overflow-auto">
      {!data.device && <Notice tone="alarm">{t('rescue.unsaved-work-on-this-computer-cannot-be')}</Notice>}
      {!data.complete && <Notice tone="alarm">{t('rescue.the-server-does-not-answer-so-only')}</Notice>}
      <div className="mx-auto max-w-[1120px] px-8 py-8">
        <h1 className="mb-6 text-[26px] font-semibold leading-8">{t('common.rescue')}</h1>
        <Part
          title={t('rescue.found-after-an-interruption')}
          explanation={t('rescue.work-that-was-interrupted-before-it-was')}
          empty={t('rescue.nothing-was-interrupted')}
          action={<AllAtOnce pieces={interrupted} />}
        >
          {interrupted.map((piece) => (
            <PieceRow key={piece.id} piece={piece} />
          ))}
        </Part>
        <RefusedCopies copies={data.copies} />
        <Part
          title={t('rescue.open-right-now')}
          explanation={t('rescue.unsaved-work-on-pages-that-are-open')}
          empty={t('rescue.no-unsaved-work-is-open-anywhere')}
        >
          {live.map((piece) => (
            <LiveRow key={piece.id} piece={piece} />
          ))}
        </Part>
        <Part
          title={t('common.closed-without-saving')}
          explanation={t('rescue.you-can-get-it-back-until-its')}
          empty={t('rescue.nothing-was-closed-without-saving')}
        >
          {aside.map((piece) => (
            <PieceRow key={piece.id} piece={piece} />
          ))}
        </Part>
        <div id="drills">
          <Drills />
        </div>
        {!!activity.data?.length && <Looks activity={activity.data} />}
      </div>
    </main>
  )
}

function Part({
  title,
  explanation,
  empty,
  action,
  children,
}: {
  title: string
  explanation: string
  empty: string
  action?: React.ReactNode
  children: React.ReactNode[]
}) {
  return (
    <section className="mb-10" aria-label={title}>
      <div className="mb-2 flex items-end gap-4">
        <div className="flex-1">
          <h2 className="text-[17px] font-semibold">{title}</h2>
          <p className="text-soft">{explanation}</p>
        </div>
        {action}
      </div>
      {children.length === 0 ? (
        <p className="bars rounded-md border px-4 py-5">
          <span className="bg-desk px-2">{empty}</span>
        </p>
      ) : (
        <ul className="border-t">{children}</ul>
      )}
    </section>
  )
}

const did = {
  'looked inside': 'rescue.looked-inside',
  'asked for a point': 'rescue.asked-for-a-point',
  'saved a safe copy': 'rescue.saved-a-safe-copy',
} as const satisfies Record<Activity['what'], string>

/** Nobody looks into another's work unseen. */
function Looks({ activity }: { activity: readonly Activity[] }) {
  return (
    <section aria-label={t('rescue.who-looked-into-whose-work')}>
      <h2 className="text-[17px] font-semibold">{t('rescue.who-looked-into-whose-work')}</h2>
      <p className="mb-2 text-soft">{t('rescue.times-seen-by-whose-work-it-is', { activity: activity.length })}</p>
      <ul className="border-t">
        {activity.map((one) => (
          <li key={one.id} className="grid gap-x-4 sm:grid-cols-[150px_minmax(0,1fr)] border-b py-1.5 text-[14px]">
            <span className="text-soft">{moment(one.at)}</span>
            <span>
              <T
                k={did[one.what]}
                v={{
                  person: one.person,
                  owner: one.owner,
                  name: one.name,
                  bdi: (c) => <bdi className="font-mono">{c}</bdi>,
                }}
              />
              {one.share && <span className="text-soft"> {t('rescue.in', { share: one.share })}</span>}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
