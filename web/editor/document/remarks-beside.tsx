// The notes and comments of a text, beside the tools: all of them in its order, and the one that is selected to be said
// otherwise. What is typed is in the text with each letter, as what is typed there is.

import clsx from 'clsx'
import { MessageSquarePlus, Reply, Superscript, Trash2 } from 'lucide-react'
import type { EditorView } from 'prosemirror-view'
import { type KeyboardEvent, useEffect, useId, useLayoutEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { sayHead } from '../../../core/paper/remarks'
import { useSession } from '../../api/signed-in'
import { Button } from '../../design/controls'
import {
  chooseRemark,
  chosenRemark,
  passRemark,
  placeAnswer,
  type RemarkAt,
  type RemarkKind,
  remarksIn,
  remarkText,
  removeRemark,
  sayRemark,
  whoSaid,
  writeRemark,
} from '../../views/document/remarks'
import { LookPanel } from '../../views/look-fields'
import { t, told } from '../../words/all'
import { moment } from '../../words/formats'

export type Writing = RemarkKind | null

const nameOf = (kind: RemarkKind): string =>
  t(
    kind === 'comment'
      ? 'document.kept-comment'
      : kind === 'footnote'
        ? 'document.kept-footnote'
        : 'document.kept-endnote',
  )

/** "Footnote 2", or who said a comment and when. */
function headOf(one: RemarkAt, number: number): string {
  const said = whoSaid(one)
  return said ? told(sayHead(said, moment)) : t('document.note-number', { kind: nameOf(one.kind), number })
}

export function RemarksBeside({
  view,
  changes,
  comments,
  open,
  writing,
  asked,
  onWrite,
  onClose,
}: {
  view: EditorView
  /** Whom a change of the text, or of what is selected in it, is told. */
  changes: Set<() => void>
  /** The type of the file has a place for comments. */
  comments: boolean
  /** The file is of the open standard. */
  open: boolean
  /** One is to be written where the caret is. */
  writing: Writing
  /** How often somebody asked for it: the keys come along each time. */
  asked: number
  onWrite: (kind: Writing) => void
  onClose: () => void
}) {
  const { person } = useSession()
  const id = useId()
  const field = useRef<HTMLTextAreaElement>(null)
  const list = useRef<HTMLUListElement>(null)
  // As it is by now: what is drawn of the page lags behind the keys by a frame.
  const [, setDrawn] = useState(0)
  useEffect(() => {
    let frame = 0
    const again = () => {
      cancelAnimationFrame(frame)
      frame = requestAnimationFrame(() => setDrawn((now) => now + 1))
    }
    changes.add(again)
    return () => {
      cancelAnimationFrame(frame)
      changes.delete(again)
    }
  }, [changes])
  const remarks = remarksIn(view.state.doc)
  const chosen = chosenRemark(view.state)?.at ?? null
  const one = writing ? undefined : remarks.find(({ at }) => at === chosen)
  const kind = writing ?? one?.kind
  const said = one ? remarkText(one) : ''
  const [typed, setTyped] = useState('')
  // What is typed is as it is typed, spaces at its end too, while it comes to the same.
  const bare = (text: string) => text.replace(/[^\S\n]+/g, ' ').replace(/^ | $/gm, '')
  const shown = said !== null && bare(typed) === bare(said) ? typed : (said ?? '')
  const fresh = useRef(false)
  const type = (text: string) => {
    setTyped(text)
    if (!writing) return sayRemark(view, text)
    if (!text.trim()) return
    fresh.current = true
    if (writeRemark(view, writing, person.name, text, open)) onWrite(null)
    else toast(t('document.no-place-for-it'))
  }
  /** One that was begun and says nothing is none. */
  const leave = (): number | null => {
    const empty = fresh.current && said === '' ? (one?.at ?? null) : null
    fresh.current = false
    if (empty !== null) removeRemark(view)
    return empty
  }
  const close = () => {
    onClose()
    view.focus()
  }
  // However it is closed: nothing that is empty stays, and what is typed next takes nothing away.
  const gone = useRef(() => {})
  gone.current = () => {
    if (view.isDestroyed) return
    leave()
    passRemark(view)
  }
  // The next key needs it already.
  useLayoutEffect(() => () => gone.current(), [])
  // The keys are where something is to be typed, also where another one is begun.
  const going = useRef<number | 'new' | null>(null)
  useLayoutEffect(() => {
    const to = writing ? 'new' : going.current
    if (to === null || !field.current) return
    if (to !== 'new' && to !== chosen) return
    going.current = null
    field.current.focus()
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was typed is of one of them
  useEffect(() => setTyped(''), [writing])
  const first = useRef<HTMLButtonElement>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time it is asked for
  useLayoutEffect(() => (field.current ?? first.current)?.focus(), [asked])
  const choose = (wanted: number) => {
    const taken = leave()
    const at = taken !== null && taken < wanted ? wanted - 1 : wanted
    onWrite(null)
    going.current = at
    chooseRemark(view, at)
  }
  const write = (wanted: RemarkKind) => {
    leave()
    setTyped('')
    onWrite(wanted)
    field.current?.focus()
  }
  const step = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (!by || event.ctrlKey || event.altKey || event.metaKey) return
    const all = [...(list.current?.querySelectorAll<HTMLElement>('[data-remark]') ?? [])]
    const at = all.indexOf(document.activeElement as HTMLElement)
    if (at < 0) return
    event.preventDefault()
    all[at + by]?.focus()
  }
  const ways: readonly (readonly [RemarkKind, string])[] = [
    ...(comments ? ([['comment', t('document.write-a-comment')]] as const) : []),
    ['footnote', t('document.write-a-footnote')],
    ['endnote', t('document.write-an-endnote')],
  ]
  const numbers = { comment: 0, footnote: 0, endnote: 0 }
  const name = writing
    ? t('document.new-remark', { kind: nameOf(writing) })
    : one
      ? headOf(one, remarks.filter((other) => other.kind === one.kind && other.at <= one.at).length)
      : ''
  return (
    <LookPanel label={t('document.remarks')} onClose={close}>
      <div className="-ml-2 flex flex-col items-start pb-2">
        {ways.map(([wanted, words]) => (
          <Button
            key={wanted}
            ref={wanted === ways[0]![0] ? first : undefined}
            look="quiet"
            className="h-8 px-2 text-[14px]"
            {...(!kind && wanted === ways[0]![0] && { 'data-first': true })}
            aria-pressed={writing === wanted}
            onClick={() => write(wanted)}
          >
            {wanted === 'comment' ? <MessageSquarePlus size={16} aria-hidden /> : <Superscript size={16} aria-hidden />}
            {words}
          </Button>
        ))}
      </div>
      {kind && (
        <div className="border-t py-3">
          <label htmlFor={`${id}-words`} className="mb-1 block text-[13px] leading-[17px] text-soft">
            {name}
          </label>
          <textarea
            ref={field}
            id={`${id}-words`}
            data-first
            rows={5}
            maxLength={20_000}
            readOnly={said === null}
            className="block w-full rounded-md border border-rule-strong bg-sheet px-2.5 py-1.5"
            value={writing ? typed : shown}
            onChange={(event) => type(event.target.value)}
            onBlur={(event) => {
              // Whoever goes on to write another one has left this one, too.
              if (!event.relatedTarget || !event.currentTarget.closest('section')?.contains(event.relatedTarget))
                leave()
            }}
          />
          {said === null && <p className="pt-1 text-[13px] leading-[17px] text-soft">{t('document.remark-stays')}</p>}
          {one?.kind === 'comment' && (
            <Button
              look="quiet"
              className="-ml-2 mt-1 h-8 px-2 text-[14px]"
              onClick={() => {
                placeAnswer(view)
                write('comment')
              }}
            >
              <Reply size={15} aria-hidden />
              {t('document.answer')}
            </Button>
          )}
          {one && (
            <Button
              look="quiet"
              className="-ml-2 mt-1 h-8 px-2 text-[14px]"
              onClick={() => {
                fresh.current = false
                removeRemark(view)
                view.focus()
              }}
            >
              <Trash2 size={15} aria-hidden />
              {t('document.remove-remark')}
            </Button>
          )}
        </div>
      )}
      {remarks.length === 0 ? (
        !kind && <p className="border-t pt-3 text-[14px] text-soft">{t('document.no-remarks')}</p>
      ) : (
        <div className="border-t pt-2">
          <ul ref={list} aria-label={t('document.all-remarks')} className="-mx-2" onKeyDown={step}>
            {remarks.map((remark) => {
              const head = headOf(remark, ++numbers[remark.kind])
              const words = whoSaid(remark)?.words ?? remark.kept.words
              return (
                <li key={remark.at}>
                  <button
                    type="button"
                    data-remark
                    aria-current={remark.at === one?.at}
                    className={clsx(
                      'block w-full rounded-md px-2 py-1.5 text-left hover:bg-wash aria-[current=true]:bg-wash',
                      remark.answers && 'pl-6',
                    )}
                    onClick={() => choose(remark.at)}
                  >
                    <span className="block text-[13px] leading-[17px] text-soft">{head}</span>
                    <bdi className="line-clamp-2 text-[14px] leading-[19px]">{words || '–'}</bdi>
                  </button>
                </li>
              )
            })}
          </ul>
        </div>
      )}
    </LookPanel>
  )
}
