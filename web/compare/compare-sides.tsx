// Two moments of a file beside each other: the list of what differs, in words, and both sides with it marked.

import { ChevronLeft, ChevronRight, X } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { type Sentence, saidBy } from '../../core/words/said'
import { Blank, Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { t, told } from '../words/all'
import { compareWork } from '../workers/compare'
import type { Comparison, MomentSource } from '../workers/looking-back'
import { cellChanges } from './cell-changes'
import { ComparedDocuments } from './documents'
import { kindOfChange, type ListedChange } from './kinds'
import { ComparedSheets } from './sheets'

export interface Compared {
  title: string
  /** null is the work as it is now. */
  source: (() => Promise<MomentSource>) | null
}

export function CompareSides({
  kind,
  older,
  newer,
  prepare,
  onBack,
}: {
  kind: 'document' | 'spreadsheet'
  older: Compared
  newer: Compared
  /** Tells the compare worker the work as it is now. */
  prepare: () => Promise<void>
  onBack: () => void
}) {
  const [found, setFound] = useState<Comparison | { kind: 'damaged'; reason: Sentence } | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: compared once for each pair of moments, which their titles tell apart; sources are made anew at every drawing
  useEffect(() => {
    let gone = false
    void (async () => {
      const [was, is] = await Promise.all([older.source!(), newer.source?.() ?? null, prepare()])
      const comparison = await compareWork().compareMoments(kind, was, is)
      if (!gone) setFound(comparison)
    })().catch((error: Error) => !gone && setFound({ kind: 'damaged', reason: saidBy(error) }))
    return () => {
      gone = true
    }
  }, [older.title, newer.title])
  return <ShownComparison found={found} older={older.title} newer={newer.title} onBack={onBack} />
}

export function ShownComparison({
  found,
  older,
  newer,
  onBack,
  children,
}: {
  found: Comparison | { kind: 'damaged'; reason: Sentence } | null
  older: string
  newer: string
  onBack: () => void
  /** What is shown for types that are not compared by meaning. */
  children?: React.ReactNode
}) {
  const [at, setAt] = useState(-1)
  const list = useRef<HTMLUListElement>(null)
  const changes = useMemo(() => (found ? changesOf(found) : []), [found])
  const go = (to: number) => setAt(changes.length ? (to + changes.length) % changes.length : -1)
  // biome-ignore lint/correctness/useExhaustiveDependencies: the list is scrolled whenever another place is chosen
  useEffect(() => {
    list.current?.querySelector('[aria-current=true]')?.scrollIntoView({ block: 'nearest' })
  }, [at])
  // biome-ignore lint/correctness/useExhaustiveDependencies: another comparison begins with no place chosen
  useEffect(() => setAt(-1), [found])
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.target instanceof HTMLInputElement) return
      const by = { n: 1, p: -1 }[event.key.toLowerCase()]
      if (!by) return
      event.preventDefault()
      setAt((now) =>
        changes.length ? (now < 0 && by < 0 ? changes.length - 1 : (now + by + changes.length) % changes.length) : -1,
      )
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [changes])
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-testid="comparison">
      <div className="flex items-center gap-3 border-b bg-paper px-4 py-2">
        <div className="min-w-0 flex-1">
          <h2 className="truncate text-[15px] font-medium">
            {older} <span className="text-soft">{t('compare.beside')}</span> {newer}
          </h2>
          <p className="truncate text-[14px] text-soft" role="status" data-testid="comparison-summary">
            {found ? told('summary' in found ? found.summary : found.reason) : t('common.comparing')}
          </p>
        </div>
        {changes.length > 0 && (
          <div className="flex items-center gap-0.5 text-[14px]">
            <IconButton label={t('compare.the-change-before')} keys="P" onClick={() => go(at < 0 ? -1 : at - 1)}>
              <ChevronLeft />
            </IconButton>
            <span className="min-w-20 text-center">
              {at < 0
                ? t('compare.changes', { changes: changes.length })
                : t('common.of', { at: at + 1, all: changes.length })}
            </span>
            <IconButton label={t('compare.the-next-change')} keys="N" onClick={() => go(at + 1)}>
              <ChevronRight />
            </IconButton>
          </div>
        )}
        <Button onClick={onBack}>
          <X size={16} aria-hidden />
          {t('common.done')}
        </Button>
      </div>
      {!found ? (
        <Blank title={t('common.comparing')} waiting />
      ) : found.kind === 'damaged' ? (
        <Blank title={t('compare.these-cannot-be-compared')}>{told(found.reason)}</Blank>
      ) : !('changes' in found) ? (
        children
      ) : (
        <div className="grid min-h-0 flex-1 grid-rows-[minmax(0,auto)_minmax(0,1fr)] md:grid-cols-[272px_minmax(0,1fr)] md:grid-rows-1">
          <ul
            ref={list}
            className="max-h-32 min-h-0 overflow-auto border-b bg-paper py-1 md:max-h-none md:border-b-0 md:border-r"
            aria-label={t('compare.what-differs')}
            onKeyDown={(event) => {
              if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
              event.preventDefault()
              const next = Math.max(0, Math.min(changes.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))
              setAt(next)
              ;(list.current?.children[next]?.firstChild as HTMLElement | null)?.focus()
            }}
          >
            {changes.slice(0, 2000).map((change, index) => (
              <li key={change.id}>
                <button
                  type="button"
                  aria-current={index === at}
                  className="w-full border-l-2 border-transparent px-3 py-1.5 text-left text-[13.5px] leading-[18px] hover:bg-wash aria-[current=true]:border-accent aria-[current=true]:bg-wash"
                  onClick={() => setAt(index)}
                >
                  <span className="flex gap-2 text-[12.5px] text-soft">
                    <span className="min-w-0 truncate">{change.where}</span>
                    {change.what && <span className="ml-auto shrink-0">{change.what}</span>}
                  </span>
                  {change.before && <del className="marked-removed break-words">{cut(change.before)}</del>}{' '}
                  {change.now && <ins className="marked-added break-words">{cut(change.now)}</ins>}
                </button>
              </li>
            ))}
            {changes.length === 0 && <li className="px-3 py-3 text-[14px] text-soft">{told(found.summary)}</li>}
          </ul>
          {found.kind === 'spreadsheet' ? (
            <ComparedSheets found={found} older={older} newer={newer} at={at} />
          ) : (
            <ComparedDocuments found={found} older={older} newer={newer} at={at} />
          )}
        </div>
      )}
    </div>
  )
}

/** Which line of a text, from 1, a position is in. */
function lineOf(json: unknown): (pos: number) => number {
  const starts: number[] = []
  let at = 0
  for (const line of (json as { content?: { content?: { text?: string }[] }[] }).content ?? []) {
    starts.push(at)
    at += 2 + (line.content?.reduce((sum, { text }) => sum + (text?.length ?? 1), 0) ?? 0)
  }
  return (pos) => Math.max(1, starts.findLastIndex((start) => start <= pos) + 1)
}

const cut = (text: string) => (text.length > 180 ? `${text.slice(0, 179)}…` : text)

function changesOf(found: Comparison | { kind: 'damaged' }): ListedChange[] {
  if (found.kind === 'spreadsheet') return cellChanges(found)
  if (found.kind !== 'document' && found.kind !== 'lines') return []
  const line = found.kind === 'lines' ? lineOf(found.newer) : null
  return found.changes.places.map((place, index) => ({
    id: String(index),
    where: line
      ? t('compare.line', { line: line(place.newer?.from ?? 0) })
      : place.section || t('common.at-the-beginning'),
    what: kindOfChange[place.kind] ?? '',
    before: place.kind === 'look' || place.kind === 'moved' ? '' : told(place.before),
    now: place.kind === 'look' ? `${told(place.before)}: ${told(place.now)}` : told(place.now),
  }))
}
