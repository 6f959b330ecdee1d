// Pages of a PDF under each other, drawn as they come to sight.
import { GlobalWorkerOptions, getDocument, type PDFDocumentProxy } from 'pdfjs-dist'
import workerAddress from 'pdfjs-dist/build/pdf.worker.min.mjs?url'
import { useEffect, useRef, useState } from 'react'
import { t } from '../words/all'

GlobalWorkerOptions.workerSrc = workerAddress

interface Sheet {
  width: number
  height: number
}

/** @param width of a page, in pixels of CSS */
export function PdfPages({ pdf, width, onShown }: { pdf: Uint8Array; width: number; onShown?: () => void }) {
  const [open, setOpen] = useState<{ document: PDFDocumentProxy; sheets: Sheet[] } | null>(null)
  useEffect(() => {
    let gone = false
    // It is handed over to the worker: a copy of it stays here to be saved.
    const loading = getDocument({ data: pdf.slice(), isEvalSupported: false })
    void loading.promise
      .then(async (document) => {
        const sheets = await Promise.all(
          Array.from({ length: document.numPages }, async (_, at) => {
            const { width: w, height: h } = (await document.getPage(at + 1)).getViewport({ scale: 1 })
            return { width: w, height: h }
          }),
        )
        if (gone) return
        setOpen((before) => {
          void before?.document.loadingTask.destroy()
          return { document, sheets }
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
    <div className="flex flex-col items-center gap-4">
      {open?.sheets.map((sheet, at) => (
        <PageShown
          // A page stays where it is while another version of it comes.
          key={at}
          document={open.document}
          number={at + 1}
          sheet={sheet}
          width={width}
          {...(onShown && { onShown })}
        />
      ))}
    </div>
  )
}

function PageShown({
  document,
  number,
  sheet,
  width,
  onShown,
}: {
  document: PDFDocumentProxy
  number: number
  sheet: Sheet
  width: number
  onShown?: () => void
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const [inSight, setInSight] = useState(false)
  useEffect(() => {
    const own = canvas.current!
    const watching = new IntersectionObserver(([entry]) => setInSight(entry!.isIntersecting), { rootMargin: '300px' })
    watching.observe(own)
    return () => watching.disconnect()
  }, [])
  const shown = useRef(onShown)
  shown.current = onShown
  useEffect(() => {
    if (!inSight) return
    let gone = false
    let drawing: { cancel(): void } | undefined
    void (async () => {
      const page = await document.getPage(number)
      if (gone) return
      const viewport = page.getViewport({ scale: (width / sheet.width) * Math.min(3, window.devicePixelRatio) })
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
      shown.current?.()
    })().catch(() => {})
    return () => {
      gone = true
      drawing?.cancel()
    }
  }, [document, number, sheet.width, width, inSight])
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={t('paper.page-of', { page: number, pages: document.numPages })}
      className="bg-white shadow-page"
      style={{ width, height: (width / sheet.width) * sheet.height }}
    />
  )
}
