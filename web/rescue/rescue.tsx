import { useQuery } from '@tanstack/react-query'
import type { Activity } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Button, Notice } from '../design/controls'
import { count, moment } from '../design/words'
import { Drills } from '../drill/drills'
import type { Piece } from '../work/pieces'
import { usePieces } from '../work/use-pieces'
import { AllAtOnce } from './all-at-once'
import { LiveRow, PieceRow } from './piece-row'
import { RefusedCopies } from './refused-copies'

/** The screen for work that was interrupted, and for work that is open somewhere right now. */
export function Rescue() {
  const { data, isPending, isError, refetch } = usePieces()
  const activity = useQuery({ queryKey: keys.activity(), queryFn: () => call('activity', {}), refetchInterval: 30_000 })
  if (isPending) return <Blank screen title="Looking for work …" waiting />
  if (isError)
    return (
      <Blank screen title="Rescue could not look everywhere">
        <Button onClick={() => refetch()}>Try again</Button>
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
      {!data.device && (
        <Notice tone="alarm">
          This device’s journal cannot be read, so only what is on shared storage is listed here.
        </Notice>
      )}
      {!data.complete && (
        <Notice tone="alarm">Shared storage does not answer, so only what this device keeps is listed here.</Notice>
      )}
      <div className="mx-auto max-w-[1120px] px-8 py-8">
        <h1 className="mb-6 text-[26px] font-semibold leading-8">Rescue</h1>
        <Part
          title="Found after an interruption"
          explanation="Work that was cut off before it was saved. Nothing here is thrown away by going on."
          empty="Nothing was interrupted."
          action={<AllAtOnce pieces={interrupted} />}
        >
          {interrupted.map((piece) => (
            <PieceRow key={piece.id} piece={piece} />
          ))}
        </Part>
        <RefusedCopies copies={data.copies} />
        <Part
          title="Open right now"
          explanation="Unsaved work on pages that are open anywhere: yours, and others’ in shares that you manage."
          empty="No unsaved work is open anywhere."
        >
          {live.map((piece) => (
            <LiveRow key={piece.id} piece={piece} />
          ))}
        </Part>
        <Part
          title="Set aside"
          explanation="Closed without saving, or let go. It is kept for its days."
          empty="Nothing was set aside."
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

const did: Record<Activity['what'], string> = {
  'looked inside': 'looked inside',
  'asked for a point': 'asked for a recovery point of',
  'saved a safe copy': 'saved a safe copy of',
}

/** Nobody looks into another's work unseen. */
function Looks({ activity }: { activity: readonly Activity[] }) {
  return (
    <section aria-label="Who looked into whose work">
      <h2 className="text-[17px] font-semibold">Who looked into whose work</h2>
      <p className="mb-2 text-soft">
        {count(activity.length, 'time')}, seen by whose work it is and by the managers of the share.
      </p>
      <ul className="border-t">
        {activity.map((one) => (
          <li key={one.id} className="grid gap-x-4 sm:grid-cols-[150px_minmax(0,1fr)] border-b py-1.5 text-[14px]">
            <span className="text-soft">{moment(one.at)}</span>
            <span>
              {one.person} {did[one.what]} {one.owner}’s work on <bdi className="font-mono">{one.name}</bdi>
              {one.share && <span className="text-soft"> in {one.share}</span>}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
