// A copy and the file that it was copied from: what changed there since, to be taken in whole or in part.

import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { FileFacts, Version } from '../../core/contract'
import type { Sentence } from '../../core/words/said'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { cellPlaces } from '../compare/cell-changes'
import { kindOfChange } from '../compare/kinds'
import { Button, Notice } from '../design/controls'
import { NameText } from '../design/kind'
import { Question } from '../design/overlay'
import { T, t, told } from '../words/all'
import { moment } from '../words/formats'
import type { TakenPart } from '../work/content'
import { compareWork } from '../workers/compare'
import type { Comparison } from '../workers/looking-back'

type Origin = NonNullable<FileFacts['origin']>

/** Tells that the origin has changed, until it is taken in or put off. */
export function useOrigin({
  facts,
  kind,
  head,
  mayEdit,
  takeIn,
}: {
  facts: FileFacts | undefined
  kind: 'document' | 'spreadsheet'
  /** The newest version that the work is based on: what was taken in counts once it is saved. */
  head: Version | null
  mayEdit: boolean
  takeIn: (
    base: string,
    theirs: Version,
    part: TakenPart | null,
    saying: (summary: Sentence) => string,
  ) => Promise<unknown>
}) {
  const client = useQueryClient()
  const [open, setOpen] = useState(false)
  const [putOff, setPutOff] = useState<string | null>(null)
  /** What was taken in whole and is not saved yet. */
  const taken = useRef<{ versionId: string; over: string | null } | null>(null)
  const origin = facts?.origin
  // biome-ignore lint/correctness/useExhaustiveDependencies: noted once a version of this work came after what was taken in
  useEffect(() => {
    const waiting = taken.current
    if (!waiting || !head || head.id === waiting.over || !facts) return
    taken.current = null
    void call('setOrigin', { params: { fileId: facts.file.id }, body: { versionId: waiting.versionId } })
      .then(() => client.invalidateQueries({ queryKey: keys.file(facts.file.id) }))
      .catch(() => {})
  }, [head?.id])
  if (!origin?.newer || !mayEdit) return { notice: null, question: null }
  const { newer } = origin
  return {
    notice: putOff !== newer.id && taken.current?.versionId !== newer.id && (
      <Notice
        actions={
          <>
            <Button onClick={() => setOpen(true)}>{t('editor.see-what-changed')}</Button>
            <Button look="quiet" onClick={() => setPutOff(newer.id)}>
              {t('common.cancel')}
            </Button>
          </>
        }
      >
        <T
          k="editor.the-file-this-was-copied-from-has"
          v={{
            nameText: <NameText name={origin.name ?? ''} />,
            authorName: newer.author.name,
            number: newer.number,
            at: moment(newer.at),
            number2: origin.number,
          }}
        />
      </Notice>
    ),
    question: open && (
      <OriginQuestion
        origin={origin}
        newer={newer}
        kind={kind}
        onTakeIn={async (part) => {
          setOpen(false)
          const done = await takeIn(origin.versionId, newer, part, (summary) =>
            t('editor.combined-with-undo-takes-it-out-again', { originName: origin.name, summary }),
          )
          if (!done) return
          if (!part) taken.current = { versionId: newer.id, over: head?.id ?? null }
          setPutOff(newer.id)
        }}
        onClose={() => setOpen(false)}
      />
    ),
  }
}

function OriginQuestion({
  origin,
  newer,
  kind,
  onTakeIn,
  onClose,
}: {
  origin: Origin
  newer: Version
  kind: 'document' | 'spreadsheet'
  onTakeIn: (part: TakenPart | null) => void
  onClose: () => void
}) {
  const [found, setFound] = useState<Comparison | null>(null)
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set())
  // biome-ignore lint/correctness/useExhaustiveDependencies: compared once, when the question opens
  useEffect(() => {
    let gone = false
    void (async () => {
      const [was, is] = await Promise.all(
        [{ id: origin.versionId, type: origin.type }, newer].map(async ({ id, type }) => ({
          id,
          bytes: await call('bytes', { params: { versionId: id } }),
          records: null,
          type,
        })),
      )
      const comparison = await compareWork().compareMoments(kind, was!, is!)
      if (gone) return
      if (comparison.kind === 'damaged') {
        toast.error(told(comparison.reason))
        onClose()
      } else setFound(comparison)
    })().catch(() => {
      toast.error(t('editor.what-changed-there-cannot-be-shown-right'))
      onClose()
    })
    return () => {
      gone = true
    }
  }, [])
  const rows = useMemo(() => rowsOf(found), [found])
  const chosen = rows.filter((_, index) => !left.has(index))
  const part = (): TakenPart | null => {
    if (!left.size) return null
    if (found?.kind === 'spreadsheet') return { sheets: chosen.flatMap(({ sheet }) => (sheet ? [sheet] : [])) }
    return {
      stretches: {
        there: chosen.flatMap(({ older }) => (older && older.to > older.from ? [older] : [])),
        here: chosen.flatMap(({ newer: is }) => (is && is.to > is.from ? [is] : [])),
      },
    }
  }
  return (
    <Question
      wide
      title={t('editor.what-changed-in-since-it-was-copied', { originName: origin.name })}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!found || chosen.length === 0} onClick={() => onTakeIn(part())}>
            {left.size ? t('editor.bring-in-changes', { chosen: chosen.length }) : t('editor.bring-in-all-of-it')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p data-testid="origin-summary">
        {t('editor.it-is-combined-with-your-work-and', { it: found ? found.summary : t('common.comparing') })}
      </p>
      <ul
        className="mt-3 max-h-[46vh] overflow-auto rounded-md border bg-sheet text-ink"
        aria-label={t('editor.what-changed')}
      >
        {rows.map((row, index) => (
          <li key={index} className="border-b last:border-0">
            <label className="flex cursor-pointer items-start gap-3 px-3 py-2 hover:bg-wash">
              <input
                type="checkbox"
                className="mt-0.5 size-4 accent-[var(--accent)]"
                checked={!left.has(index)}
                onChange={() => {
                  const next = new Set(left)
                  if (!next.delete(index)) next.add(index)
                  setLeft(next)
                }}
              />
              <span className="min-w-0 text-[14px]">
                <span className="block text-[13px] text-soft">
                  {row.where}
                  {row.what && ` · ${row.what}`}
                </span>
                {row.before && <del className="marked-removed break-words">{row.before}</del>}{' '}
                {row.now && <ins className="marked-added break-words">{row.now}</ins>}
              </span>
            </label>
          </li>
        ))}
      </ul>
    </Question>
  )
}

interface Row {
  where: string
  what: string
  before: string
  now: string
  older?: { from: number; to: number } | null
  newer?: { from: number; to: number } | null
  sheet?: string
}

/** One line for each change of a document, and for each sheet of a workbook. */
function rowsOf(found: Comparison | null): Row[] {
  if (!found || !('changes' in found)) return []
  if (found.kind !== 'spreadsheet')
    return found.changes.places.map(({ section, kind, before, now, older, newer }) => ({
      where: section || t('common.at-the-beginning'),
      what: kindOfChange[kind] ?? (kind === 'words' ? '' : t(kind === 'added' ? 'compare.added' : 'compare.removed')),
      before: kind === 'look' ? '' : told(before),
      now: kind === 'look' ? `${told(before)}: ${told(now)}` : told(now),
      older,
      newer,
    }))
  const places = cellPlaces(found)
  return found.changes.sheets.map(({ name, state }) => {
    const own = places.filter(({ sheet }) => sheet === name)
    return {
      where: name,
      what:
        state === 'changed'
          ? t('editor.changes', { own: own.length })
          : t(state === 'added' ? 'compare.added' : 'compare.removed'),
      before: '',
      now: own
        .slice(0, 6)
        .map(({ where, what, now }) => `${where}: ${now || what}`)
        .join(' · '),
      sheet: name,
    }
  })
}
