// How many pages and words the work has, and which of them somebody is at: as its layout has them, asked for when the hands rest.
import type { Node } from 'prosemirror-model'
import { NodeSelection } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { useEffect, useRef, useState } from 'react'
import { wordCount, wordsIn, wordsOfLeaf } from '../../../core/content/document'
import type { AskBreaks } from '../../../core/contract'
import { localeOf } from '../../../core/words/locale'
import { call, packed, Refused } from '../../api/call'
import { useSession } from '../../api/signed-in'
import { useOffer } from '../../design/commands'
import { pageAt, showPageBegins } from '../../views/document/page-begins'
import { t } from '../../words/all'
import { language } from '../../words/language'
import type { DraftSession } from '../../work/session'

/**
 * After the last key; the longer the more there is to lay out, and while something else is beside the work, as its pages,
 * which come first. Milliseconds.
 */
const rest = { words: 400, pages: 2000, beside: 6000, times: 4 } as const
/** Of what is selected no more letters are counted. */
const mostCounted = 400_000
const kept = 'jaula.page-begins'

/** The pages are as long without what is in pictures, and in what is kept as it is. */
const withoutBytes = (doc: Node): unknown =>
  JSON.parse(
    JSON.stringify(doc.toJSON(), (name, value) =>
      (name === 'src' || name === 'data') && typeof value === 'string' ? '' : value,
    ),
  )

interface Here {
  page: number
  /** Words of what is selected; null where nothing is. */
  selected: number | null
}

export function PagesNow({
  session,
  view,
  beside,
  onPages,
}: {
  session: DraftSession
  view: EditorView
  /** Something is beside the work. */
  beside: boolean
  /** Looks at the pages; absent for whoever may not. */
  onPages: (() => void) | undefined
}) {
  const guest = useSession().person.guestOf !== undefined
  const [pages, setPages] = useState<number | null>(null)
  const [words, setWords] = useState<number | null>(null)
  const [here, setHere] = useState<Here>({ page: 1, selected: null })
  const [lines, setLines] = useState(() => localStorage.getItem(kept) !== 'none')
  const shownLines = useRef(lines)
  shownLines.current = lines
  const isBeside = useRef(beside)
  isBeside.current = beside
  const look = useRef(() => {})
  look.current = () => {
    if (view.isDestroyed) return
    const { selection, doc } = view.state
    const { from, to, head } = selection
    const some = to > from && to - from <= mostCounted && !(selection instanceof NodeSelection)
    const text = some ? doc.textBetween(from, to, ' ', wordsOfLeaf) : ''
    const selected = some ? wordsIn(text) : null
    const page = pageAt(view.state, head)
    setHere((before) => (before.page === page && before.selected === selected ? before : { page, selected }))
  }
  const ask = useRef(() => {})
  useEffect(() => {
    let gone = false
    let took = 0
    let asking = false
    let counting: ReturnType<typeof setTimeout> | undefined
    let laying: ReturnType<typeof setTimeout> | undefined
    const lay = async () => {
      if (gone || view.isDestroyed || guest) return
      // What nobody sees is asked for when it is seen; what is under way is waited for.
      if (document.visibilityState !== 'visible') return
      if (asking) return later()
      asking = true
      const { doc } = view.state
      const begun = performance.now()
      try {
        const body: AskBreaks = {
          what: { kind: 'document', json: withoutBytes(doc), versionId: session.state.head?.id ?? null },
          name: session.state.file?.name ?? '',
          number: session.state.head?.number ?? null,
          day: new Intl.DateTimeFormat(localeOf(language), { dateStyle: 'long' }).format(new Date()),
          language,
        }
        const found = await call('pageBreaks', { body }, { packed: await packed(body), timeout: 120_000 })
        // What was written meanwhile is asked about anew.
        if (gone || view.isDestroyed || view.state.doc !== doc) return
        setPages(found.pages)
        showPageBegins(view, shownLines.current ? found.breaks : [])
        look.current()
      } catch (error) {
        // How many there are is not known while the server is away, or where they cannot be set; work goes on.
        if (!(error instanceof Refused)) throw error
        if (!gone) setPages(null)
      } finally {
        took = performance.now() - begun
        asking = false
      }
    }
    const later = () => {
      clearTimeout(laying)
      laying = setTimeout(() => void lay(), Math.max(isBeside.current ? rest.beside : rest.pages, took * rest.times))
    }
    const count = () => {
      clearTimeout(counting)
      counting = setTimeout(() => !gone && !view.isDestroyed && setWords(wordCount(view.state.doc)), rest.words)
    }
    const edited = () => {
      count()
      later()
    }
    let frame = 0
    const moved = () => {
      cancelAnimationFrame(frame)
      frame = requestAnimationFrame(() => look.current())
    }
    const seen = () => document.visibilityState === 'visible' && later()
    ask.current = later
    const stop = session.subscribeToEdits(edited)
    document.addEventListener('selectionchange', moved)
    document.addEventListener('visibilitychange', seen)
    edited()
    return () => {
      gone = true
      stop()
      clearTimeout(counting)
      clearTimeout(laying)
      cancelAnimationFrame(frame)
      document.removeEventListener('selectionchange', moved)
      document.removeEventListener('visibilitychange', seen)
    }
  }, [session, view, guest])
  useOffer(
    guest
      ? []
      : [
          {
            id: 'page begins',
            label: lines ? t('document.hide-where-pages-begin') : t('document.show-where-pages-begin'),
            group: t('common.this-file'),
            run: () => {
              localStorage.setItem(kept, lines ? 'none' : 'lines')
              setLines(!lines)
              if (lines) showPageBegins(view, [])
              else ask.current()
            },
          },
        ],
  )
  if (words === null) return null
  const said = [
    pages === null ? '' : lines ? t('document.page-of', { page: here.page, pages }) : t('document.pages', { pages }),
    here.selected === null
      ? t('document.words', { words })
      : t('document.words-of', { selected: here.selected, words }),
  ]
    .filter(Boolean)
    .join(' · ')
  const place = 'min-h-6 rounded px-2 py-0.5 text-[13px] leading-[18px] text-soft'
  return onPages ? (
    <button
      type="button"
      className={`${place} hover:text-ink`}
      title={t('paper.look-at-its-pages')}
      data-testid="pages-now"
      onClick={onPages}
    >
      {said}
    </button>
  ) : (
    <p className={place} data-testid="pages-now">
      {said}
    </p>
  )
}
