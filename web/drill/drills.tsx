// Recovery drills: run one, see what it found, and what the earlier ones found.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { CircleAlert, CircleCheck } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import type { DraftKind, Drill, DrillReport } from '../../core/contract'
import { sayInterval } from '../../core/recovery/protection'
import { fromKept, saidBy } from '../../core/words/said'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { T, t, told } from '../words'
import { moment, tenths } from '../words/formats'
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
      setFault(error instanceof Error ? told(saidBy(error)) : t('drill.the-drill-could-not-be-run'))
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
    <section className="mb-10" aria-label={t('drill.recovery-drills')}>
      <div className="mb-3 flex items-end gap-4">
        <div className="flex-1">
          <h2 className="text-[17px] font-semibold">{t('drill.recovery-drills')}</h2>
          <p className="text-soft">{t('drill.a-scratch-page-writes-with-your-settings')}</p>
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
          {t('drill.once-a-week')}
        </label>
        <label className="flex items-center gap-2">
          <span className="sr-only">{t('drill.with-a')}</span>
          <select
            className="h-8 rounded-md border border-rule-strong bg-paper px-2"
            value={kind}
            disabled={progress !== null}
            onChange={(event) => setKind(event.target.value as DraftKind)}
          >
            <option value="document">{t('common.in-a-document')}</option>
            <option value="spreadsheet">{t('common.in-a-spreadsheet')}</option>
          </select>
        </label>
        <Button look="main" disabled={progress !== null} onClick={() => run(kind)}>
          {progress ? t('drill.running') : t('drill.run-a-drill-now')}
        </Button>
      </div>
      {progress && (
        <p className="flex items-center gap-4 rounded-md bg-wash px-4 py-3" role="status">
          {progress.stage === 'opening'
            ? t('drill.opening-the-page-of-the-drill')
            : progress.stage === 'typing'
              ? t('drill.it-writes-letters-it-is-ended-at', { letters: progress.letters })
              : t('drill.it-was-ended-getting-its-work-back')}
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
          <span className="bg-desk px-2">{t('drill.no-drill-was-run-yet-it-takes')}</span>
        </p>
      )}
      {earlier.length > 0 && (
        <details className="mt-3">
          <summary className="text-[14px] text-soft">{t('drill.earlier-drills', { earlier: earlier.length })}</summary>
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
                  {t('drill.of-letters-lost-on-this-computer', {
                    charactersLost: report.device.charactersLost,
                    charactersTyped: report.charactersTyped,
                  })}
                  {report.sharedStorage &&
                    t('drill.without-it', { charactersLost: report.sharedStorage.charactersLost })}
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}

const seconds = (ms: number) => (ms < 1000 ? `${Math.round(ms)} ms` : `${tenths(ms / 1000)} s`)

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
        {report.passed ? t('drill.passed') : t('drill.failed')}
        <span className="font-normal text-soft">
          {t('drill.in-a-on-letters-typed-in', {
            at: moment(at),
            kind: report.kind,
            deviceName,
            charactersTyped: report.charactersTyped,
            seconds: seconds(report.typedMs),
          })}
          {report.interval > 0 && t('drill.with-a-point-every', { sayInterval: sayInterval(report.interval) })}
        </span>
      </p>
      <table className="mt-3 w-full text-[14px]">
        <thead className="text-left text-[13px] text-soft">
          <tr>
            <th className="pb-1 font-normal">{t('common.where')}</th>
            <th className="pb-1 font-normal">{t('drill.would-have-been-lost')}</th>
            <th className="pb-1 font-normal">{t('drill.it-was-behind-by')}</th>
            <th className="pb-1 font-normal">{t('drill.at-most-promised')}</th>
            <th className="pb-1 font-normal">{t('drill.getting-back-took')}</th>
          </tr>
        </thead>
        <tbody>
          <Row name={t('drill.this-computer')} level={report.device} />
          {report.sharedStorage ? (
            <Row name={t('drill.server-without')} level={report.sharedStorage} />
          ) : (
            <tr className="border-t">
              <td className="py-1.5">{t('common.the-server')}</td>
              <td colSpan={4} className="text-soft">
                {t('drill.no-recovery-point-was-due-within-the')}
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {report.faults
        .map((fault) => told(fromKept(fault)))
        .map((fault) => (
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
      <td>{t('drill.letters', { charactersLost: level.charactersLost })}</td>
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: begun once when it is due, and not again because an earlier one was listed
  useEffect(() => {
    if (!due) return
    // Not while somebody has only just come in.
    const later = setTimeout(() => void run(other(last)), 10_000)
    return () => clearTimeout(later)
  }, [due])
  // Where none was ever run and none runs by itself, the Desk says that one is due.
  if (!drills.data || (!last && !settings.weeklyDrill && !progress)) return null
  return (
    <p className="text-[14px] text-soft" data-testid="drill-line">
      {progress ? (
        t('drill.the-weekly-recovery-drill-is-running')
      ) : last ? (
        <T
          k="drill.the-last-recovery-drill-failed"
          v={{
            passed: Boolean(last.report.passed),
            at: moment(last.at),
            span: (c) => <span className={last.report.passed ? 'text-accent' : 'font-medium text-rust'}>{c}</span>,
          }}
        />
      ) : (
        t('drill.no-recovery-drill-was-run-yet')
      )}{' '}
      <Link to="/rescue#drills" className="underline">
        {t('drill.drills')}
      </Link>
    </p>
  )
}
