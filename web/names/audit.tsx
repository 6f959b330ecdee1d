// The audit: how much of a share follows, what is wrong most, and the plan that puts it right.

import { useQueryClient } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import clsx from 'clsx'
import { proxy } from 'comlink'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { ActResult, Share, ShareNaming } from '../../core/contract'
import { type AuditFault, faultNames, type PlanStep } from '../../core/naming/audit'
import { checkName, splitExtension } from '../../core/naming/check'
import { saidBy } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Button } from '../design/controls'
import { NameText } from '../design/kind'
import { invalidatePlaces } from '../files/acts'
import { folderOf } from '../files/address'
import { t, told } from '../words/all'
import { digits, tenths } from '../words/formats'
import { namingWork } from '../workers/naming'
import type { AuditResult } from '../workers/naming.worker'
import { Chart } from './chart'

type Stage =
  | { at: 'reading'; done: number; total: number }
  | { at: 'done'; result: AuditResult }
  | { at: 'stopped' }
  | { at: 'failed'; reason: string }

export function Audit({ share, naming }: { share: Share; naming: ShareNaming }) {
  const client = useQueryClient()
  const [stage, setStage] = useState<Stage>({ at: 'reading', done: 0, total: 0 })
  const [round, setRound] = useState(0)
  const [done, setDone] = useState<ActResult | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: read again when somebody asks for it
  useEffect(() => {
    let gone = false
    setStage({ at: 'reading', done: 0, total: 0 })
    void (async () => {
      const material = await call('auditMaterial', { params: { shareId: share.id } })
      if (gone) return
      const total = material.files.length
      setStage({ at: 'reading', done: 0, total })
      const result = await namingWork().audit(
        material,
        naming,
        proxy((read: number) => {
          if (!gone) setStage({ at: 'reading', done: read, total })
        }),
      )
      if (gone) return
      setStage(result ? { at: 'done', result } : { at: 'stopped' })
      if (result && share.role === 'manage') {
        const { files, without, follow, earlier } = result.summary
        const names = files - without
        // That it was done is for the Desk to know; what it found stands here, whether or not that could be noted.
        await call('noteAudit', {
          params: { shareId: share.id },
          body: { names, astray: names - follow - earlier },
        }).catch(() => {})
        await client.invalidateQueries({ queryKey: keys.audits() })
      }
    })().catch(
      (error) =>
        !gone &&
        setStage({ at: 'failed', reason: error instanceof Refused ? told(error.problem) : told(saidBy(error)) }),
    )
    return () => {
      gone = true
      void namingWork().cancel()
    }
  }, [share.id, naming, round])
  const again = () => setRound(round + 1)
  const undo = async () => {
    try {
      await call('undo', { params: { actId: done!.id } }, { timeout: 300_000 })
      setDone(null)
      toast(t('names.undone-every-name-and-place-is-as'))
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('common.it-could-not-be-undone'))
    }
    await invalidatePlaces(client)
    again()
  }
  if (stage.at === 'reading')
    return (
      <Blank
        title={
          stage.total
            ? t('names.reading-of-names', { done: digits(stage.done), total: stage.total })
            : t('names.reading-the-names')
        }
        waiting
      >
        <progress className="mb-4 h-1.5 w-72 accent-accent" max={stage.total || 1} value={stage.done} />
        <div>
          <Button onClick={() => void namingWork().cancel()}>{t('names.stop')}</Button>
        </div>
      </Blank>
    )
  if (stage.at !== 'done')
    return (
      <Blank title={stage.at === 'stopped' ? t('names.the-audit-was-stopped') : t('names.the-names-could-not-be-read')}>
        {stage.at === 'failed' && <p>{stage.reason}</p>}
        <Button look="main" className="mt-3" onClick={again}>
          {t('names.audit', { shareName: share.name })}
        </Button>
      </Blank>
    )
  const { summary, milliseconds } = stage.result
  if (summary.files === 0) return <Blank title={t('names.has-no-files-yet', { shareName: share.name })} />
  const governed = summary.files - summary.without
  const follow = summary.follow + summary.earlier
  return (
    <div className="px-6 py-5">
      {done && (
        <p className="mb-4 flex items-center gap-4 rounded-md bg-wash px-4 py-2" role="status">
          {t('names.files-corrected-at-once-versions-copies-origins', { entries: done.entries })}
          <Button className="ml-auto" onClick={undo}>
            {t('names.undo-all-of-it')}
          </Button>
        </p>
      )}
      <p className="text-[20px] font-semibold">
        {governed === 0
          ? t('names.no-convention-applies-here')
          : t('names.of-names-follow', { follow: digits(follow), governed })}
        {governed > 0 && <span className="pl-2 font-normal text-soft">{Math.floor((follow / governed) * 100)} %</span>}
      </p>
      <p className="pb-4 text-[14px] text-soft">
        {summary.earlier > 0 && t('names.of-them-follow-the-version-of-the', { earlier: summary.earlier })}
        {summary.without > 0 && t('names.files-are-where-no-convention-applies', { without: summary.without })}
        {milliseconds > 500 && t('names.read-in-s', { it: tenths(milliseconds / 1000) })}
        <button type="button" className="underline" onClick={again}>
          {t('names.read-again')}
        </button>
      </p>
      {summary.differ > 0 && (
        <div className="grid gap-6 pb-6 lg:grid-cols-2">
          <Chart
            title={t('names.how-much-of-each-folder-follows')}
            bars={summary.folders.slice(0, 8).map(({ path, files, follow: good }) => ({
              label: path.join(' / ') || share.name,
              value: good,
              rest: files - good,
            }))}
            names={['follow', t('names.do-not-follow')]}
          />
          <Chart
            title={t('names.what-is-wrong-most')}
            bars={summary.faults
              .slice(0, 8)
              .map(({ about, files }) => ({ label: told(faultNames[about as AuditFault]), value: files }))}
            names={['files']}
          />
        </div>
      )}
      {summary.differ === 0 ? (
        <Blank title={t('names.there-is-nothing-to-put-right')}>
          {t('names.every-name-that-has-a-convention-follows')}
        </Blank>
      ) : (
        <Plan
          key={round}
          share={share}
          result={stage.result}
          onDone={(result) => {
            setDone(result)
            void invalidatePlaces(client)
            again()
          }}
        />
      )}
    </div>
  )
}

const stateNames = { sure: 'sure', doubtful: t('names.to-look-at'), collision: 'clash' } as const

function Plan({ share, result, onDone }: { share: Share; result: AuditResult; onDone: (done: ActResult) => void }) {
  const { steps, byHand } = result.plan
  const ordered = useMemo(() => {
    const order = { sure: 0, doubtful: 1, collision: 2 }
    return [...steps].sort((a, b) => order[a.state] - order[b.state])
  }, [steps])
  // Sure ones are taken unless somebody says no; the others only when somebody says yes.
  const [said, setSaid] = useState<ReadonlyMap<string, boolean>>(new Map())
  const [names, setNames] = useState<ReadonlyMap<string, string>>(new Map())
  const [busy, setBusy] = useState(false)
  const [refusal, setRefusal] = useState('')
  const nameOf = (step: PlanStep) => names.get(step.id) ?? step.to.name
  const taken = (step: PlanStep) => said.get(step.id) ?? step.state === 'sure'
  const going = ordered.filter((step) => taken(step) && !checkName(nameOf(step)))
  const scroller = useRef<HTMLDivElement>(null)
  const rows = useVirtualizer({
    count: ordered.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 64,
    overscan: 8,
  })
  const mayEdit = share.role !== 'view'
  const counts = (state: PlanStep['state']) => steps.filter((step) => step.state === state).length
  async function correct() {
    setBusy(true)
    setRefusal('')
    try {
      const done = await call(
        'act',
        {
          body: {
            id: uuidv7(),
            what: 'correct',
            changes: going.map((step) => ({
              id: step.id,
              from: step.from.name,
              name: nameOf(step),
              folderId: null,
              shareId: share.id,
              path: [...step.to.path],
            })),
          },
        },
        { timeout: 300_000 },
      )
      onDone(done)
    } catch (error) {
      setRefusal(error instanceof Refused ? told(error.problem) : t('names.nothing-was-changed'))
      setBusy(false)
    }
  }
  return (
    <section aria-label={t('names.correction-plan')}>
      <div className="flex items-center gap-4 border-b pb-2">
        <h2 className="text-[17px] font-semibold">{t('names.correction-plan')}</h2>
        <p className="text-[14px] text-soft">
          {t('names.sure-to-check-that-clash-for-a', {
            counts: counts('sure'),
            counts2: counts('doubtful'),
            counts3: counts('collision'),
            byHand: byHand.length,
          })}
        </p>
        {mayEdit && (
          <Button look="main" className="ml-auto" disabled={busy || !going.length} onClick={correct}>
            {busy
              ? t('names.correcting')
              : going.length
                ? t('names.correct-names', { going: going.length })
                : t('names.choose-what-to-correct')}
          </Button>
        )}
      </div>
      {refusal && (
        <p role="alert" className="py-2 text-rust">
          {refusal}
        </p>
      )}
      <div ref={scroller} className="max-h-[420px] overflow-auto">
        <div style={{ height: rows.getTotalSize() }} className="relative">
          {rows.getVirtualItems().map(({ index, start }) => {
            const step = ordered[index]!
            const [stem, ending] = splitExtension(nameOf(step))
            const fault = checkName(nameOf(step))
            return (
              <div
                key={step.id}
                ref={rows.measureElement}
                data-index={index}
                style={{ transform: `translateY(${start}px)` }}
                className="absolute inset-x-0 grid grid-cols-[20px_minmax(0,1fr)_minmax(0,1fr)] items-start gap-3 border-b py-2 md:grid-cols-[20px_minmax(0,1fr)_minmax(0,1.3fr)_84px] md:gap-4"
              >
                <input
                  type="checkbox"
                  className="mt-1 accent-accent"
                  aria-label={t('names.correct', { fromName: step.from.name })}
                  disabled={!mayEdit}
                  checked={taken(step)}
                  onChange={(event) => setSaid(new Map(said).set(step.id, event.target.checked))}
                />
                <span className="min-w-0">
                  <NameText name={step.from.name} className="block text-[13px]" />
                  <span className="text-[12px] text-soft">{step.from.path.join(' / ') || share.name}</span>
                </span>
                <span className="min-w-0">
                  <span className="flex items-center">
                    <input
                      aria-label={t('names.new-name-of', { fromName: step.from.name })}
                      className={clsx(
                        '-ml-1 h-6 min-w-32 max-w-[calc(100%-48px)] rounded border bg-transparent pl-1 font-mono text-[13px] [field-sizing:content] hover:border-rule-strong focus:bg-sheet',
                        fault ? 'border-rust' : 'border-transparent',
                      )}
                      disabled={!mayEdit}
                      value={stem}
                      dir="auto"
                      spellCheck={false}
                      onChange={(event) => setNames(new Map(names).set(step.id, event.target.value + ending))}
                    />
                    <span className="font-mono text-[13px] text-soft">{ending}</span>
                  </span>
                  <span className="block text-[12px] text-soft">
                    {step.to.path.join(' / ') === step.from.path.join(' / ')
                      ? t('names.stays-where-it-is')
                      : t('names.to-place', { place: step.to.path.join(' / ') })}
                  </span>
                  {(fault ? [fault.reason] : step.remarks)
                    .slice(0, 2)
                    .map(told)
                    .map((remark) => (
                      <span
                        key={remark}
                        className={clsx(
                          'block text-[13px] leading-[17px]',
                          step.state === 'collision' || fault ? 'text-rust' : 'text-ochre',
                        )}
                      >
                        {remark}
                      </span>
                    ))}
                </span>
                <span
                  className={clsx(
                    'pt-0.5 text-[13px]',
                    step.state === 'sure' ? 'text-accent' : step.state === 'doubtful' ? 'text-ochre' : 'text-rust',
                  )}
                >
                  {stateNames[step.state]}
                </span>
              </div>
            )
          })}
        </div>
      </div>
      {byHand.length > 0 && (
        <>
          <h3 className="pb-1 pt-6 font-semibold">{t('names.for-a-person-to-name')}</h3>
          <ul className="border-t">
            {byHand.slice(0, 200).map((finding) => (
              <li
                key={finding.file.id}
                className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.3fr)_auto] items-baseline gap-4 border-b py-1.5 text-[14px]"
              >
                <span className="min-w-0">
                  <bdi className="break-all font-mono text-[13px]">{finding.file.name}</bdi>
                  <span className="block text-[12px] text-soft">{finding.path.join(' / ') || share.name}</span>
                </span>
                <span className="text-[13px] text-soft">
                  {finding.faults
                    .filter(({ about }) => about === 'missing' || about === 'not in list')
                    .map(({ reason }) => reason)
                    .join(' ')}
                </span>
                <Link
                  className="text-accent underline"
                  to={folderOf({ shareId: share.id, folderId: finding.file.folderId, name: finding.file.name })}
                >
                  {t('common.show-it')}
                </Link>
              </li>
            ))}
          </ul>
          {byHand.length > 200 && (
            <p className="py-2 text-[14px] text-soft">{t('common.and-more', { it: byHand.length - 200 })}</p>
          )}
        </>
      )}
    </section>
  )
}
