import clsx from 'clsx'
import { Popover } from 'radix-ui'
import { useEffect, useState, useSyncExternalStore } from 'react'
import type { FileFacts } from '../../../core/contract'
import { type ReachStep, reachOf } from '../../../core/recovery/reach'
import { t, told } from '../../words/all'
import { clock } from '../../words/formats'
import { KeepingNotice } from '../../work/keeping'
import type { DraftSession } from '../../work/session'
import { copyInWords } from './copy-in-words'
import { ProtectionSetting } from './protection'

const named: Record<ReachStep['step'], string> = {
  tab: t('reach.this-tab'),
  device: t('common.this-computer'),
  'shared storage': t('common.the-server'),
  copies: t('reach.copies'),
}

function words(step: ReachStep): string {
  if (step.step === 'copies') return t('reach.no-copies')
  if (step.state === 'none') return t('reach.nothing-yet')
  const until = step.until === null ? '' : clock(step.until)
  if (step.state === 'all') return until ? t('reach.everything-up-to', { until }) : t('reach.everything')
  if (step.state === 'stopped')
    return until ? t('reach.stopped-it-has-work-up-to', { until }) : t('reach.stopped-and-has-nothing-of-it-yet')
  return t('reach.up-to', { it: until || t('reach.an-earlier-change') })
}

/** How far the work has got: one sentence, and four upright bars for the four steps. */
export function ReachLine({ session, facts: file }: { session: DraftSession; facts: FileFacts | undefined }) {
  const { reach: facts } = useSyncExternalStore(session.subscribe, session.snapshot)
  // What waits too long for its confirmation becomes an alarm by the passing of time alone.
  const [now, setNow] = useState(Date.now)
  useEffect(() => {
    const watching = setInterval(() => setNow(Date.now()), 2000)
    return () => clearInterval(watching)
  }, [])
  const copies = file?.copies ?? []
  const well = copies.every(({ faults, failed }) => !faults && !failed)
  const copied = copies[0] ? { number: copies[0].number ?? 0, well } : null
  const { steps, alarm, ...reach } = reachOf({ ...facts, copied }, clock, Math.max(now, facts.edit.at ?? 0))
  const sentence = told(reach.sentence)
  return (
    <Popover.Root>
      <Popover.Trigger
        className={clsx(
          'flex min-h-6 max-w-full min-w-0 items-center gap-2 rounded text-left text-[13.5px]',
          alarm ? 'font-medium text-rust' : 'text-soft hover:text-ink',
        )}
        data-testid="reach"
        data-alarm={alarm}
        data-device={facts.journal.seq}
        data-storage={Math.max(facts.point.seq, facts.version.seq)}
      >
        <span className="flex h-4 shrink-0 items-end gap-[3px]" aria-hidden>
          {steps.map(({ step, state }) => (
            <span
              key={step}
              className={clsx(
                'w-[3px] rounded-sm',
                state === 'all'
                  ? 'h-4 bg-accent'
                  : state === 'behind'
                    ? 'h-2.5 bg-ochre'
                    : state === 'stopped'
                      ? 'h-4 bg-rust'
                      : 'h-4 bg-rule',
              )}
            />
          ))}
        </span>
        <span className="truncate" role="status" title={sentence}>
          {sentence}
        </span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={8}
          aria-label={t('reach.how-far-this-work-has-got')}
          className="z-50 w-[min(420px,calc(100vw-16px))] rounded-lg border bg-paper p-4 shadow-slip"
        >
          <p className="mb-3">{sentence}</p>
          <ol className="flex flex-col gap-2">
            {steps.map((step) => (
              <li key={step.step} className="flex gap-3">
                <span
                  className={clsx(
                    'mt-0.5 h-4 w-[3px] shrink-0 rounded-sm',
                    step.state === 'all'
                      ? 'bg-accent'
                      : step.state === 'behind'
                        ? 'bg-ochre'
                        : step.state === 'stopped'
                          ? 'bg-rust'
                          : 'bg-rule',
                  )}
                  aria-hidden
                />
                <span className="w-28 shrink-0 font-medium">{named[step.step]}</span>
                <span className="flex flex-col gap-1 text-soft">
                  {step.step === 'copies' && copies.length
                    ? copies.map((copy) => <span key={copy.place}>{copyInWords(copy)}</span>)
                    : words(step)}
                </span>
              </li>
            ))}
          </ol>
          <KeepingNotice className="mt-3" />
          <ProtectionSetting kind={session.state.kind} file={file} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
