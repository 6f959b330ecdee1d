// Recovery drills: run one, see what it found, and what the earlier ones found.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { CircleAlert, CircleCheck } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import type { DraftKind, Drill, DrillReport } from '../../core/contract'
import { sayInterval } from '../../core/recovery/protection'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../app/session'
import { Button } from '../design/controls'
import { count, moment } from '../design/words'
import type { Progress } from './run'

export const useDrills = () => useQuery(queries.drills)

function useRun() {
  const client = useQueryClient()
  const { settings } = useSession()
  const [progress, setProgress] = useState<Progress | null>(null)
  const [fault, setFault] = useState('')
  const run = async (kind: DraftKind) => {
    setFault('')
    setProgress({ stage: 'opening', letters: 0, done: 0 })
    try {
      const { runDrill } = await import('./run')
      await runDrill(kind, settings.recoveryInterval, setProgress)
    } catch (error) {
      setFault(error instanceof Error ? error.message : 'The drill could not be run.')
    }
    setProgress(null)
    await client.invalidateQueries({ queryKey: keys.drills() })
    await client.invalidateQueries({ queryKey: keys.pieces() })
  }
  return { progress, fault, run }
}

export function Drills() {
  const client = useQueryClient()
  const { settings } = useSession()
  const drills = useDrills()
  const { progress, fault, run } = useRun()
  const [last, ...earlier] = drills.data ?? []
  const [kind, setKind] = useState<DraftKind>('document')
  return (
    <section className="mb-10" aria-label="Recovery drills">
      <div className="mb-3 flex items-end gap-4">
        <div className="flex-1">
          <h2 className="text-[17px] font-semibold">Recovery drills</h2>
          <p className="text-soft">
            A scratch page writes with your settings, is ended without warning, and is got back as real work would be.
          </p>
        </div>
        <label className="flex items-center gap-2 pb-1.5">
          <input
            type="checkbox"
            className="accent-accent"
            checked={settings.weeklyDrill}
            onChange={async (event) =>
              client.setQueryData(
                ['settings'],
                await call('setSettings', { body: { ...settings, weeklyDrill: event.target.checked } }),
              )
            }
          />
          Once a week
        </label>
        <label className="flex items-center gap-2">
          <span className="sr-only">With a</span>
          <select
            className="h-8 rounded-md border border-rule-strong bg-paper px-2"
            value={kind}
            disabled={progress !== null}
            onChange={(event) => setKind(event.target.value as DraftKind)}
          >
            <option value="document">In a document</option>
            <option value="spreadsheet">In a spreadsheet</option>
          </select>
        </label>
        <Button look="main" disabled={progress !== null} onClick={() => run(kind)}>
          {progress ? 'Running …' : 'Run a drill now'}
        </Button>
      </div>
      {progress && (
        <p className="flex items-center gap-4 rounded-md bg-wash px-4 py-3" role="status">
          {progress.stage === 'opening'
            ? 'Opening the scratch page …'
            : progress.stage === 'typing'
              ? `It writes: ${count(progress.letters, 'letter')}. It is ended at a random moment.`
              : 'It was ended. Getting its work back …'}
          <progress className="h-1.5 w-56" max={1} value={progress.done} />
        </p>
      )}
      {fault && (
        <p role="alert" className="rounded-md bg-rust-wash px-4 py-3 text-rust">
          {fault}
        </p>
      )}
      {!progress && last && <Report drill={last} />}
      {!progress && !last && drills.data && (
        <p className="bars rounded-md border px-4 py-5">
          <span className="bg-desk px-2">
            No drill was run yet. It takes less than a minute with the usual interval.
          </span>
        </p>
      )}
      {earlier.length > 0 && (
        <details className="mt-3">
          <summary className="text-[14px] text-soft">{count(earlier.length, 'earlier drill')}</summary>
          <ul className="mt-1 border-t text-[14px]">
            {earlier.map(({ id, at, deviceName, report }) => (
              <li
                key={id}
                className="grid gap-x-4 sm:grid-cols-[90px_150px_minmax(0,1fr)_minmax(0,1.4fr)] border-b py-1.5"
              >
                <span className={report.passed ? 'text-accent' : 'font-medium text-rust'}>
                  {report.passed ? 'passed' : 'failed'}
                </span>
                <span>{moment(at)}</span>
                <span className="text-soft">
                  {report.kind}, {deviceName}
                </span>
                <span className="text-soft">
                  {report.device.charactersLost} of {report.charactersTyped} letters lost on the device
                  {report.sharedStorage && `, ${report.sharedStorage.charactersLost} without it`}
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}

const seconds = (ms: number) => (ms < 1000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(1)} s`)

function Report({ drill: { at, deviceName, report } }: { drill: Drill }) {
  return (
    <div
      className={`rounded-lg border bg-paper px-5 py-4 ${report.passed ? '' : 'border-rust'}`}
      data-testid="drill-report"
    >
      <p className="flex items-center gap-2 text-[16px] font-semibold">
        {report.passed ? (
          <CircleCheck size={19} className="text-accent" aria-hidden />
        ) : (
          <CircleAlert size={19} className="text-rust" aria-hidden />
        )}
        {report.passed ? 'Passed' : 'Failed'}
        <span className="font-normal text-soft">
          {moment(at)}, in a {report.kind} on {deviceName}: {count(report.charactersTyped, 'letter')} typed in{' '}
          {seconds(report.typedMs)}
          {report.interval > 0 && `, with a point every ${sayInterval(report.interval)}`}
        </span>
      </p>
      <table className="mt-3 w-full text-[14px]">
        <thead className="text-left text-[13px] text-soft">
          <tr>
            <th className="pb-1 font-normal">Level</th>
            <th className="pb-1 font-normal">Would have been lost</th>
            <th className="pb-1 font-normal">It was behind by</th>
            <th className="pb-1 font-normal">At most promised</th>
            <th className="pb-1 font-normal">Getting back took</th>
          </tr>
        </thead>
        <tbody>
          <Row name="This device’s journal" level={report.device} />
          {report.sharedStorage ? (
            <Row name="Shared storage, without this device" level={report.sharedStorage} />
          ) : (
            <tr className="border-t">
              <td className="py-1.5">Shared storage</td>
              <td colSpan={4} className="text-soft">
                No recovery point was due within the drill; set a shorter interval to rehearse it.
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {report.faults.map((fault) => (
        <p key={fault} className="pt-2 text-rust">
          {fault}
        </p>
      ))}
    </div>
  )
}

function Row({ name, level }: { name: string; level: DrillReport['device'] }) {
  return (
    <tr className="border-t">
      <td className="py-1.5">{name}</td>
      <td>{count(level.charactersLost, 'letter')}</td>
      <td>{seconds(level.lostMs)}</td>
      <td className="text-soft">{seconds(level.promisedMs)}</td>
      <td>{seconds(level.backMs)}</td>
    </tr>
  )
}

/** The weekly drill takes turns between the kinds. */
const other = (last: Drill | undefined): DraftKind => (last?.report.kind === 'document' ? 'spreadsheet' : 'document')

const week = 7 * 86_400_000

/** One line on the Desk: when the last drill passed or failed; runs the weekly one when its time has come. */
export function DrillLine() {
  const { settings } = useSession()
  const drills = useDrills()
  const { progress, run } = useRun()
  const last = drills.data?.[0]
  const due = settings.weeklyDrill && drills.data && (!last || Date.now() - Date.parse(last.at) > week)
  useEffect(() => {
    if (!due) return
    // Not while somebody has only just come in.
    const later = setTimeout(() => void run(other(last)), 10_000)
    return () => clearTimeout(later)
  }, [due])
  if (!drills.data) return null
  return (
    <p className="text-[14px] text-soft" data-testid="drill-line">
      {progress ? (
        'The weekly recovery drill is running.'
      ) : last ? (
        <>
          The last recovery drill{' '}
          <span className={last.report.passed ? 'text-accent' : 'font-medium text-rust'}>
            {last.report.passed ? 'passed' : 'failed'}
          </span>
          , {moment(last.at)}.
        </>
      ) : (
        'No recovery drill was run yet.'
      )}{' '}
      <Link to="/rescue#drills" className="underline">
        Drills
      </Link>
    </p>
  )
}
