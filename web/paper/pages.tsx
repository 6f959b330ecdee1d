// Pages of a PDF under each other, drawn as they come to sight.
import type { PDFDocumentProxy } from 'pdfjs-dist'
import { useEffect, useRef, useState } from 'react'
import { t } from '../words/all'
import type { Hit } from './find-in-pages'
import { openPdf } from './open-pdf'

const looks: Record<Shown, string> = {
  below: 'flex w-max min-w-full flex-col items-center gap-4',
  facing: 'mx-auto grid w-max grid-cols-[auto_auto] gap-x-1 gap-y-4',
  many: 'flex flex-wrap justify-center gap-4',
}

/** Of a page as it is seen where nothing is known of it yet: as the first one. */
interface Sheet {
  width: number
  height: number
}

export type Shown = 'below' | 'facing' | 'many'

/** @param width of a page, in pixels of CSS @param shown how the pages lie: facing ones as in a bound book, the first by itself */
export function PdfPages({
  pdf,
  width,
  shown = 'below',
  hits = [],
  hitAt = 0,
  onGo,
}: {
  pdf: Uint8Array
  width: number
  shown?: Shown
  /** What was found on them, and which of it is gone to. */
  hits?: readonly Hit[]
  hitAt?: number
  /** A page is gone to; absent where they are only looked at. */
  onGo?: (page: number) => void
}) {
  const [open, setOpen] = useState<{ document: PDFDocumentProxy; first: Sheet } | null>(null)
  useEffect(() => {
    let gone = false
    const loading = openPdf(pdf)
    void loading.promise
      .then(async (document) => {
        const { width, height } = (await document.getPage(1)).getViewport({ scale: 1 })
        if (gone) return
        setOpen((before) => {
          void before?.document.loadingTask.destroy()
          return { document, first: { width, height } }
        })
      })
      .catch(() => {})
    return () => {
      gone = true
    }
  }, [pdf])
  const last = useRef(open)
  last.current = open
  useEffect(() => () => void last.current?.document.loadingTask.destroy(), [])
  return (
    <div className={looks[shown]} data-of={open?.document.loadingTask.docId}>
      {shown === 'facing' && open && <span aria-hidden />}
      {Array.from({ length: open?.document.numPages ?? 0 }, (_, at) => (
        <PageShown
          // A page stays where it is while another version of it comes.
          key={at}
          document={open!.document}
          number={at + 1}
          first={open!.first}
          width={width}
          hits={hits}
          hitAt={hitAt}
          {...(onGo && { onGo })}
        />
      ))}
    </div>
  )
}

function PageShown({
  document,
  number,
  first,
  width,
  hits,
  hitAt,
  onGo,
}: {
  document: PDFDocumentProxy
  number: number
  first: Sheet
  width: number
  hits: readonly Hit[]
  hitAt: number
  onGo?: (page: number) => void
}) {
  const [own, setOwn] = useState<Sheet | null>(null)
  const sheet = own ?? first
  const canvas = useRef<HTMLCanvasElement>(null)
  const [inSight, setInSight] = useState(false)
  useEffect(() => {
    const own = canvas.current!
    const watching = new IntersectionObserver(([entry]) => setInSight(entry!.isIntersecting), { rootMargin: '40px' })
    watching.observe(own)
    return () => watching.disconnect()
  }, [])
  useEffect(() => {
    if (!inSight) return
    let gone = false
    let drawing: { cancel(): void } | undefined
    void (async () => {
      const page = await document.getPage(number)
      if (gone) return
      const { width: wide, height: high } = page.getViewport({ scale: 1 })
      setOwn((before) => (before?.width === wide && before.height === high ? before : { width: wide, height: high }))
      const viewport = page.getViewport({ scale: (width / wide) * Math.min(3, window.devicePixelRatio) })
      // Drawn beside, so that the page before stays to be seen until this one is whole.
      const beside = window.document.createElement('canvas')
      beside.width = Math.round(viewport.width)
      beside.height = Math.round(viewport.height)
      const task = page.render({ canvas: beside, viewport })
      drawing = task
      await task.promise
      const own = canvas.current
      if (gone || !own) return
      own.width = beside.width
      own.height = beside.height
      own.getContext('2d')!.drawImage(beside, 0, 0)
      own.dataset.drawn = String(number)
      own.dataset.of = document.loadingTask.docId
    })().catch(() => {})
    return () => {
      gone = true
      drawing?.cancel()
    }
  }, [document, number, width, inSight])
  const page = (
    <canvas
      ref={canvas}
      role="img"
      aria-label={t('paper.page-of', { page: number, pages: document.numPages })}
      className="bg-white shadow-page"
      style={{ width, height: (width / sheet.width) * sheet.height }}
    />
  )
  const scale = width / sheet.width
  if (!onGo)
    return (
      <div data-page={number} className="relative">
        {page}
        {hits.flatMap(({ page: on, boxes }, at) =>
          on === number
            ? boxes.map((box) => (
                <span
                  key={`${at} ${box.x} ${box.y}`}
                  aria-hidden
                  data-hit={at === hitAt ? 'now' : 'other'}
                  className={`pointer-events-none absolute rounded-sm mix-blend-multiply ${at === hitAt ? 'bg-accent/50' : 'bg-accent/20'}`}
                  style={{
                    left: box.x * scale - 1,
                    top: (sheet.height - box.y - box.height * 0.95) * scale,
                    width: box.width * scale + 2,
                    height: box.height * 1.2 * scale,
                  }}
                />
              ))
            : [],
        )}
      </div>
    )
  return (
    <button type="button" data-page={number} className="block rounded-sm" onClick={() => onGo(number)}>
      {page}
      <span className="block pt-1 text-center text-[12px] text-soft">{number}</span>
    </button>
  )
}
