// Whether this browser will still have the journal tomorrow, as far as it can be known: it may refuse to
// keep anything, be a private window, clear it when the disk is short of room, or never have shown yet
// that the journal outlives it. Chromium makes a private window look like any other on purpose; there
// only the journal's coming back, after the browser was closed, proves that it is kept.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { useState } from 'react'
import { keys } from '../api/keys'
import { T, t } from '../words'
import { size } from '../words/formats'
import { cameBack } from './device'

interface Keeping {
  /** The page came without TLS from another computer: the browser gives it no locks and no offline pages. */
  plain: boolean
  /** The browser keeps no journal at all. */
  refuses: boolean
  /** A private window, where the browser tells. */
  isPrivate: boolean
  /** The browser promised to clear nothing by itself; null when it cannot be asked. */
  promised: boolean | null
  /** Bytes that are free for it. */
  free: number | null
  /** The journal has outlived a closed browser before. */
  proven: boolean
}

/** A cookie without an end lives as long as this run of the browser. */
const runMark = 'jaula-run=1'

async function findOut(): Promise<Keeping> {
  const sameRun = document.cookie.split('; ').includes(runMark)
  // biome-ignore lint/suspicious/noDocumentCookie: the Cookie Store is not in every browser
  document.cookie = `${runMark}; path=/; samesite=strict`
  // Where the mark does not stay, nothing can be told apart, and nothing is proven by it.
  const marked = document.cookie.split('; ').includes(runMark)
  let refuses = false
  let proven = false
  try {
    proven = await cameBack(sameRun || !marked)
  } catch {
    refuses = true
  }
  // Firefox and Safari give private windows no folder of their own.
  const isPrivate = await Promise.resolve(navigator.storage?.getDirectory?.()).then(
    () => false,
    (error: unknown) => (error as DOMException).name === 'SecurityError',
  )
  const promised = (await navigator.storage?.persisted?.()) ?? null
  const room = await navigator.storage?.estimate?.()
  return {
    plain: !window.isSecureContext,
    refuses,
    isPrivate,
    promised,
    free: room ? (room.quota ?? 0) - (room.usage ?? 0) : null,
    proven,
  }
}

/** An alarm that stays while the browser keeps nothing, a quiet line while it is not sure that it does. */
export function KeepingNotice({ className, only }: { className: string; only?: 'alarm' | 'quiet' }) {
  const client = useQueryClient()
  const [refused, setRefused] = useState(false)
  const { data } = useQuery({ queryKey: keys.keeping(), queryFn: findOut, staleTime: 60_000 })
  if (!data) return null
  const { plain, refuses, isPrivate, promised, free, proven } = data
  if (plain || refuses || isPrivate)
    return only === 'quiet' ? null : (
      <p
        role="alert"
        className={clsx('rounded-md bg-rust-wash px-3 py-2 text-[14px] text-rust', className)}
        data-testid="keeping"
      >
        {plain
          ? t('app.this-address-is-not-protected-by-https')
          : refuses
            ? t('app.this-browser-keeps-nothing-on-this-computer')
            : t('app.this-is-a-private-window-the-browser')}
      </p>
    )
  if ((promised !== false && proven) || only === 'alarm') return null
  const ask = async () => {
    const granted = await navigator.storage.persist()
    setRefused(!granted)
    await client.invalidateQueries({ queryKey: keys.keeping() })
  }
  return (
    <p className={clsx('text-[13px] leading-[18px] text-soft', className)} data-testid="keeping">
      {promised === false && (
        <T
          k="app.this-browser-may-clear-the-unsaved-work"
          v={{
            free: Boolean(free !== null),
            free2: size(free ?? 0),
            it: refused ? (
              t('app.it-does-not-promise-to-keep-it')
            ) : (
              <button type="button" className="text-accent underline" onClick={ask}>
                {t('app.ask-it-to-keep-unsaved-work')}
              </button>
            ),
            refused: Boolean(refused),
          }}
        />
      )}
      {!proven && t('app.whether-unsaved-work-outlives-this-browser-shows')}
    </p>
  )
}
