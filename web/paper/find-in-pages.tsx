// Words looked for on the pages: how often they are there, and where.
import { ChevronDown, ChevronUp } from 'lucide-react'
import { useEffect, useState } from 'react'
import { findText, type TextBox } from '../../core/paper/find-text'
import { Field } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { t } from '../words/all'
import { openPdf } from './open-pdf'

export interface Hit {
  /** From 1. */
  page: number
  boxes: readonly TextBox[]
}
/** More than anybody goes through. */
const most = 2000
/** Whoever types is waited for; milliseconds. */
const rest = 150

async function hitsIn(pdf: Uint8Array, words: string, gone: () => boolean): Promise<Hit[]> {
  const loading = openPdf(pdf)
  try {
    const document = await loading.promise
    const hits: Hit[] = []
    for (let page = 1; page <= document.numPages && hits.length < most && !gone(); page++) {
      const { items } = await (await document.getPage(page)).getTextContent()
      const pieces = items.flatMap((item) =>
        'str' in item
          ? [
              {
                text: item.str,
                x: item.transform[4] as number,
                y: item.transform[5] as number,
                width: item.width,
                height: item.height || Math.abs(item.transform[3] as number),
                ends: item.hasEOL,
              },
            ]
          : [],
      )
      for (const boxes of findText(pieces, words)) hits.push({ page, boxes })
    }
    return hits
  } finally {
    void loading.destroy()
  }
}

export function FindInPages({
  pdf,
  onHits,
  onGo,
  onClose,
}: {
  pdf: Uint8Array | null
  onHits: (hits: readonly Hit[], at: number) => void
  onGo: (page: number) => void
  onClose: () => void
}) {
  const [words, setWords] = useState('')
  const [hits, setHits] = useState<readonly Hit[]>([])
  const [at, setAt] = useState(0)
  useEffect(() => {
    if (!pdf || !words.trim()) {
      setHits([])
      return
    }
    let gone = false
    const late = setTimeout(
      () =>
        void hitsIn(pdf, words, () => gone).then(
          (found) => {
            if (gone) return
            setHits(found)
            setAt(0)
          },
          () => {},
        ),
      rest,
    )
    return () => {
      gone = true
      clearTimeout(late)
    }
  }, [pdf, words])
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when something else is found, or the next one is gone to
  useEffect(() => {
    onHits(hits, at)
    const hit = hits[at]
    if (hit) onGo(hit.page)
  }, [hits, at])
  // biome-ignore lint/correctness/useExhaustiveDependencies: when it is closed nothing is found any more
  useEffect(() => () => onHits([], 0), [])
  const by = (step: 1 | -1) => hits.length && setAt((at + step + hits.length) % hits.length)
  return (
    <form
      className="flex items-end gap-2 border-b bg-paper px-4 py-2"
      onSubmit={(event) => {
        event.preventDefault()
        by(1)
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && event.shiftKey) {
          event.preventDefault()
          by(-1)
        }
        if (event.key !== 'Escape') return
        event.stopPropagation()
        event.preventDefault()
        onClose()
      }}
    >
      <Field
        className="min-w-0 flex-1"
        label={t('paper.find')}
        value={words}
        autoFocus
        onChange={(event) => setWords(event.target.value)}
      />
      <span className="w-24 pb-2 text-[13px] text-soft" role="status">
        {words.trim() && t('paper.found', { at: hits.length ? at + 1 : 0, hits: hits.length })}
      </span>
      <IconButton label={t('paper.find-before')} disabled={!hits.length} onClick={() => by(-1)}>
        <ChevronUp />
      </IconButton>
      <IconButton label={t('paper.find-next')} disabled={!hits.length} onClick={() => by(1)}>
        <ChevronDown />
      </IconButton>
    </form>
  )
}
