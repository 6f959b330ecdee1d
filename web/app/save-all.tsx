// Saves everything that is open in this browser, whatever tab it is in. Tabs are asked over a
// broadcast channel; one that hangs does not answer and is said not to.

import { useEffect, useRef, useState } from 'react'
import { defaultType } from '../../core/formats/types'
import { saidBy } from '../../core/words/said'
import { Button } from '../design/controls'
import { KindGlyph } from '../design/kind'
import { Question } from '../design/overlay'
import { t, told } from '../words'
import { type OpenWork, openWorks, saveOpenWork } from '../work/open-works'

type Message =
  | { ask: 'who' }
  | { ask: 'save'; draftId: string }
  | { tell: 'here'; work: OpenWork }
  | { tell: 'saved'; draftId: string; result: string; ok: boolean }

const channelName = 'jaula-open-work'
/** A channel does not hear itself; but whoever opens another one of that name hears it, in this tab as in others. */
const post = (channel: BroadcastChannel, message: Message): void => channel.postMessage(message)

/** Tells whoever saves everything, in this tab or another one, what is open in this one, and saves it when asked. */
export function useAnswering(): void {
  useEffect(() => {
    const channel = new BroadcastChannel(channelName)
    channel.onmessage = ({ data }: MessageEvent<Message>) => {
      if (!('ask' in data)) return
      if (data.ask === 'who') for (const work of openWorks()) post(channel, { tell: 'here', work })
      else if (openWorks().some(({ draftId }) => draftId === data.draftId))
        void saveOpenWork(data.draftId)
          .catch((error: Error) => ({ ok: false, result: told(saidBy(error)) }))
          .then((answer) => post(channel, { tell: 'saved', draftId: data.draftId, ...answer }))
    }
    return () => channel.close()
  }, [])
}

/** What is open in the other tabs of this browser, once they have answered. */
export function useOtherTabs(): readonly OpenWork[] {
  const [works, setWorks] = useState<readonly OpenWork[]>([])
  useEffect(() => {
    const channel = new BroadcastChannel(channelName)
    channel.onmessage = ({ data }: MessageEvent<Message>) => {
      if (!('tell' in data) || data.tell !== 'here') return
      if (openWorks().some(({ draftId }) => draftId === data.work.draftId)) return
      setWorks((all) => [...all.filter(({ draftId }) => draftId !== data.work.draftId), data.work])
    }
    post(channel, { ask: 'who' })
    return () => channel.close()
  }, [])
  return works
}

type Row = OpenWork & { state: 'waiting' | 'saving' | 'done' | 'failed' | 'silent'; result: string }
const patience = 15_000

export function SaveAll({ onClose }: { onClose: () => void }) {
  // This tab's are there at once, so that the question has its answer; the other tabs tell of theirs.
  const [rows, setRows] = useState<Row[]>(() => openWorks().map((work) => ({ ...work, state: 'waiting', result: '' })))
  const [running, setRunning] = useState(false)
  const channel = useRef<BroadcastChannel | null>(null)
  const change = (draftId: string, part: Partial<Row>) =>
    setRows((all) => all.map((row) => (row.draftId === draftId ? { ...row, ...part } : row)))
  // biome-ignore lint/correctness/useExhaustiveDependencies: one channel for as long as the question is open; what it hears is about its rows alone
  useEffect(() => {
    const opened = new BroadcastChannel(channelName)
    channel.current = opened
    const hear = (message: Message) => {
      if (!('tell' in message)) return
      if (message.tell === 'here')
        setRows((all) =>
          all.some(({ draftId }) => draftId === message.work.draftId)
            ? all
            : [...all, { ...message.work, state: 'waiting', result: '' }],
        )
      else change(message.draftId, { state: message.ok ? 'done' : 'failed', result: message.result })
    }
    opened.onmessage = ({ data }) => hear(data)
    post(opened, { ask: 'who' })
    return () => {
      opened.close()
    }
  }, [])
  const save = () => {
    setRunning(true)
    for (const row of rows) {
      if (!row.unsaved || row.state === 'done') continue
      change(row.draftId, { state: 'saving', result: '' })
      post(channel.current!, { ask: 'save', draftId: row.draftId })
      setTimeout(
        () =>
          setRows((all) =>
            all.map((one) =>
              one.draftId === row.draftId && one.state === 'saving'
                ? { ...one, state: 'silent', result: t('app.no-answer-rescue-shows-what-of-it') }
                : one,
            ),
          ),
        patience,
      )
    }
  }
  const waiting = rows.filter((row) => row.unsaved && row.state !== 'done')
  const done = rows.filter((row) => row.state === 'done').length
  const total = rows.filter((row) => row.unsaved).length
  return (
    <Question
      title={t('common.save-everything-open')}
      onClose={onClose}
      answers={
        <>
          {waiting.length > 0 && (
            <Button look="main" onClick={save} disabled={rows.some((row) => row.state === 'saving')}>
              {running ? t('common.try-again') : t('app.save-all', { total })}
            </Button>
          )}
          <Button look={waiting.length ? 'quiet' : 'main'} onClick={onClose}>
            {waiting.length ? t('common.cancel') : t('common.ok')}
          </Button>
        </>
      }
    >
      {running && (
        <p role="status" className="pb-1 text-ink">
          {t('app.of-saved', { done, total })}
          <progress className="ml-3 h-1.5 w-40 accent-accent align-middle" max={total} value={done} />
        </p>
      )}
      <ul className="max-h-72 overflow-auto">
        {rows.map((row) => (
          <li key={row.draftId} className="flex items-baseline gap-2 border-b py-2 text-ink last:border-0">
            <span className="self-center">
              <KindGlyph type={defaultType[row.kind]} size={16} />
            </span>
            <span className="min-w-0 flex-1 truncate font-mono text-[14px]">{row.name}</span>
            <span
              className={
                row.state === 'failed' || row.state === 'silent' ? 'text-[14px] text-rust' : 'text-[14px] text-soft'
              }
            >
              {row.result ||
                (row.state === 'saving'
                  ? t('common.saving')
                  : row.unsaved
                    ? row.named
                      ? t('app.has-unsaved-changes')
                      : t('app.has-no-name-yet')
                    : t('app.nothing-new-to-save'))}
            </span>
          </li>
        ))}
        {rows.length === 0 && <li>{t('app.nothing-is-open-in-this-browser')}</li>}
      </ul>
    </Question>
  )
}
