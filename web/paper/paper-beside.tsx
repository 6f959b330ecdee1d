// The pages of the work beside it, as they come to paper: chosen, laid onto sides, printed, and saved as a PDF.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import {
  BookOpen,
  ChevronDown,
  ChevronUp,
  LayoutGrid,
  Maximize2,
  Minimize2,
  Search,
  X,
  ZoomIn,
  ZoomOut,
} from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { largestPrint, type PaperLikes } from '../../core/contract'
import { nameAs } from '../../core/formats/types'
import { turnOf } from '../../core/paper/imposition'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { Choice } from '../design/choice'
import { Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { T, t, told } from '../words/all'
import type { DraftSession } from '../work/session'
import { ChoicesForm } from './choices-form'
import { FindInPages, type Hit } from './find-in-pages'
import { Jobs } from './jobs'
import { KeptChoices } from './kept-likes'
import { arrangementFor, keep, lastLikes, likesQuery, onPrinter, printersQuery } from './likes'
import { PdfPages, type Shown } from './pages'
import { PdfBeside } from './pdf-beside'
import { reasonWords } from './reasons'
import type { LookedAtThen } from './then'
import { useArranged } from './use-arranged'
import { usePages } from './use-pages'

/** The printers that the browser itself knows. */
const browsers = 'of this computer'

const base64 = (bytes: Uint8Array): Promise<string> =>
  new Promise((done, failed) => {
    const reader = new FileReader()
    reader.onload = () => done(String(reader.result).replace(/^data:[^,]*,/, ''))
    reader.onerror = () => failed(reader.error)
    reader.readAsDataURL(new Blob([bytes as BlobPart]))
  })

function saveAs(pdf: Uint8Array, called: string): void {
  const address = URL.createObjectURL(new Blob([pdf as BlobPart], { type: 'application/pdf' }))
  const link = document.createElement('a')
  link.href = address
  link.download = called
  link.click()
  URL.revokeObjectURL(address)
}

/** The browser's own print window, with these pages in it. */
function printHere(pdf: Uint8Array): void {
  const address = URL.createObjectURL(new Blob([pdf as BlobPart], { type: 'application/pdf' }))
  const frame = document.createElement('iframe')
  frame.className = 'fixed size-0 border-0'
  frame.title = t('paper.on-pages')
  frame.src = address
  frame.onload = () => frame.contentWindow?.print()
  document.body.append(frame)
  // It is needed while the window is open, which nothing tells the end of.
  setTimeout(() => {
    frame.remove()
    URL.revokeObjectURL(address)
  }, 600_000)
}

export function PaperBeside({
  session,
  name,
  number,
  printing,
  editable,
  looked,
  onClose,
}: {
  session: DraftSession
  name: string
  /** Of the version that the work is based on. */
  number: number | null
  /** It was opened to print: that has the keys. */
  printing: boolean
  /** Whoever looks may put something beside it. */
  editable: boolean
  /** An earlier moment is looked at: its pages are shown. */
  looked: LookedAtThen | null
  onClose: () => void
}) {
  const client = useQueryClient()
  const panel = useRef<HTMLElement>(null)
  const scroll = useRef<HTMLElement>(null)
  const printButton = useRef<HTMLButtonElement>(null)
  const [own, setOwn] = useState<PaperLikes | null>(null)
  const [choosing, setChoosing] = useState(false)
  const [wide, setWide] = useState(false)
  const [room, setRoom] = useState(0)
  const [sending, setSending] = useState(false)
  const [selected, setSelected] = useState(false)
  const [marked, setMarked] = useState(false)
  const [shown, setShown] = useState<Shown>('below')
  const [zoom, setZoom] = useState(1)
  const [finding, setFinding] = useState(false)
  const [beside, setBeside] = useState(false)
  const [found, setFound] = useState<{ hits: readonly Hit[]; at: number }>({ hits: [], at: 0 })
  const kept = useQuery(likesQuery)
  const printers = useQuery(printersQuery)
  const likes = own ?? lastLikes(kept.data, printers.data)
  const printer = printers.data?.find(({ id }) => id === likes.printerId)
  const { pages, fault, isNow, others } = usePages(
    session,
    name,
    looked ? (looked.version?.number ?? null) : number,
    likes,
    looked,
    selected,
    marked,
  )
  const arranged = useArranged(pages, likes, printer)
  const ready = !!arranged.shown && isNow && arranged.isNow && !arranged.fault
  // The keys come along; whoever prints has them on that, as soon as it can be pressed.
  useEffect(() => panel.current?.focus(), [])
  const focused = useRef(!printing)
  useEffect(() => {
    if (focused.current || !ready) return
    focused.current = true
    if (panel.current?.contains(document.activeElement)) printButton.current?.focus()
  }, [ready])
  useEffect(() => {
    const watching = new ResizeObserver(([entry]) => setRoom(entry!.contentRect.width))
    watching.observe(scroll.current!)
    return () => watching.disconnect()
  }, [])
  const change = (some: Partial<PaperLikes>) => setOwn({ ...likes, ...some })
  // As it was the last time is how it begins the next time.
  useEffect(() => {
    if (!own) return
    const late = setTimeout(() => void keep('last', own).catch(() => {}), 800)
    return () => clearTimeout(late)
  }, [own])
  const { head, file } = session.state
  const mayBeside = editable && !looked && !!file && !!head

  const save = () => {
    if (!arranged.shown) return
    const { pdf, backs } = arranged.shown
    saveAs(pdf, nameAs(name, 'pdf'))
    // What is turned by hand is two stacks.
    if (backs) saveAs(backs, nameAs(name, 'pdf').replace(/\.pdf$/, ` (${t('paper.backs')}).pdf`))
  }
  const print = async () => {
    const { shown, faces, chosen, landscape } = arranged
    if (!shown || sending) return
    if (!printer) {
      printHere(shown.pdf)
      const { backs } = shown
      // They wait for the stack, as on a printer of the office.
      if (backs)
        toast(t('paper.turn-the-stack'), {
          duration: Number.POSITIVE_INFINITY,
          action: { label: t('paper.print-backs'), onClick: () => printHere(backs) },
        })
      return
    }
    if (shown.pdf.length + (shown.backs?.length ?? 0) > largestPrint)
      return void toast.error(t('paper.too-large-to-print'))
    const how = arrangementFor(likes, printer)
    const copies = how.sides !== 'hand' && likes.copies <= (printer.now?.mostCopies ?? 1) ? likes.copies : 1
    setSending(true)
    try {
      const body = {
        key: crypto.randomUUID(),
        printerId: printer.id,
        fileId: file?.id ?? null,
        versionId: looked?.version?.id ?? head?.id ?? null,
        unsaved: looked ? !looked.version : session.unsaved,
        name,
        pdf: await base64(shown.pdf),
        backs: shown.backs && (await base64(shown.backs)),
        pages: chosen,
        faces,
        copies,
        allCopies: likes.copies,
        collate: likes.collate,
        turn: turnOf(how, how.fold ? !landscape : landscape),
        // Also the file's own, where the printer has such paper: it is not asked for what it has not.
        size: likes.paper.size ?? printer.now?.sizes.find((one) => one === pages?.facts.size) ?? null,
        landscape,
        colour: likes.colour,
      }
      await call('print', { body }, { timeout: 120_000 })
      void keep(`printer ${printer.id}`, likes)
        .then(() => client.invalidateQueries({ queryKey: keys.paperLikes() }))
        .catch(() => {})
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again'))
    } finally {
      setSending(false)
      for (const key of [keys.printing(), keys.printed()]) void client.invalidateQueries({ queryKey: key })
    }
  }
  const across = shown === 'facing' ? (room - 44) / 2 : room - 40
  const width = shown === 'many' ? 116 : Math.max(120, Math.min(wide ? 900 : 520, across)) * zoom
  const goTo = (page: number) => {
    setShown('below')
    requestAnimationFrame(() => scroll.current?.querySelector(`[data-page="${page}"]`)?.scrollIntoView())
    scroll.current?.focus()
  }
  const notices = [
    ...(printer?.fault ? [told(printer.fault)] : []),
    ...(printer?.now?.refuses ? [t('paper.takes-nothing')] : []),
    ...reasonWords(printer?.now?.reasons ?? []).map((words) => `${words}.`),
  ]
  return (
    <section
      ref={panel}
      tabIndex={-1}
      aria-label={t('paper.on-pages')}
      aria-busy={!isNow && !fault}
      className={`absolute inset-0 z-30 flex flex-col bg-desk outline-none ${wide ? '' : 'md:static md:z-auto md:w-[440px] md:max-w-[46vw] md:shrink-0 md:border-r'}`}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || event.defaultPrevented) return
        event.stopPropagation()
        onClose()
      }}
    >
      <div className="flex flex-wrap items-end gap-x-3 gap-y-2 border-b bg-paper px-4 pb-2.5 pt-2">
        <div className="min-w-0 flex-1 basis-40">
          <h2 className="text-[17px] font-semibold">{t('paper.on-pages')}</h2>
          <p className="text-[13px] leading-[18px] text-soft" role="status">
            {looked && `${t('paper.as-it-was', { number: looked.version?.number ?? 0 })} `}
            {pages
              ? t('paper.on-paper', {
                  pages: arranged.plain ? pages.facts.pages : arranged.chosen,
                  of: pages.facts.pages,
                  leaves: arranged.leaves,
                  copies: likes.copies,
                })
              : !fault && t('paper.setting')}
          </p>
        </div>
        <IconButton label={wide ? t('paper.beside') : t('paper.wider')} onClick={() => setWide(!wide)}>
          {wide ? <Minimize2 /> : <Maximize2 />}
        </IconButton>
        <IconButton label={t('people.close-this')} onClick={onClose}>
          <X />
        </IconButton>
        <div className="flex w-full flex-wrap items-end gap-x-3 gap-y-2">
          <div className="min-w-0 max-w-xs flex-1 basis-40 [&_select]:w-full">
            <Choice
              label={t('paper.printer')}
              value={printer?.id ?? browsers}
              choices={[
                ...(printers.data ?? []).map(
                  ({ id, name: called, now }) =>
                    [id, now ? called : t('paper.printer-away', { name: called })] as const,
                ),
                [browsers, t('paper.of-this-computer')] as const,
              ]}
              onChange={(id) => setOwn(onPrinter(kept.data ?? [], likes, id === browsers ? null : id))}
            />
          </div>
          <Button ref={printButton} look="main" className="h-9" disabled={!ready || sending} onClick={print}>
            {t('paper.print')}
          </Button>
          <Button className="h-9" disabled={!ready} onClick={save}>
            {t('paper.save-pdf')}
          </Button>
        </div>
        <div className="flex w-full flex-wrap items-baseline justify-between gap-x-3">
          <p className="text-[13px] leading-[18px] text-soft" role="status">
            {notices.length > 0 && <span className="text-rust">{notices.join(' ')} </span>}
            {printer?.now &&
              [
                ...(notices.length
                  ? []
                  : [t('paper.printer-state', { state: printer.now.state, waiting: printer.now.waiting })]),
                ...printer.now.supplies.flatMap(({ name: supply, level }) =>
                  level === null ? [] : [t('paper.supply', { supply, level })],
                ),
              ].join(' ')}
          </p>
          {mayBeside && (
            <button
              type="button"
              className="min-h-6 rounded text-[14px] text-accent underline underline-offset-2"
              onClick={() => setBeside(true)}
            >
              {t('paper.put-pdf-beside')}
            </button>
          )}
        </div>
        <button
          type="button"
          aria-expanded={choosing}
          className="-mb-1 flex min-w-0 flex-1 items-center gap-1.5 rounded py-1 text-left text-[14px] hover:text-accent"
          onClick={() => setChoosing(!choosing)}
        >
          {choosing ? <ChevronUp size={15} aria-hidden /> : <ChevronDown size={15} aria-hidden />}
          {t('paper.how-printed')}
        </button>
        <div className="-mb-1 -mr-2 flex items-center">
          <IconButton label={t('paper.find')} pressed={finding} onClick={() => setFinding(!finding)}>
            <Search />
          </IconButton>
          <IconButton label={t('paper.smaller')} disabled={zoom <= 0.5} onClick={() => setZoom(zoom / 1.25)}>
            <ZoomOut />
          </IconButton>
          <IconButton label={t('paper.larger')} disabled={zoom >= 4} onClick={() => setZoom(zoom * 1.25)}>
            <ZoomIn />
          </IconButton>
          <IconButton
            label={t('paper.facing')}
            pressed={shown === 'facing'}
            onClick={() => setShown(shown === 'facing' ? 'below' : 'facing')}
          >
            <BookOpen />
          </IconButton>
          <IconButton
            label={t('paper.overview')}
            pressed={shown === 'many'}
            onClick={() => setShown(shown === 'many' ? 'below' : 'many')}
          >
            <LayoutGrid />
          </IconButton>
        </div>
      </div>
      {beside && mayBeside && (
        <PdfBeside
          file={file}
          number={head.number}
          unsaved={session.unsaved}
          likes={likes}
          plain={arranged.plain}
          onClose={() => setBeside(false)}
        />
      )}
      <div className={`flex min-h-0 flex-1 flex-col ${wide ? 'md:flex-row' : ''}`}>
        {choosing && (
          <div
            className={`relative shrink-0 overflow-auto border-b bg-paper ${wide ? 'max-h-[45%] md:max-h-none md:w-[400px] md:border-b-0 md:border-r' : 'max-h-[46%]'}`}
          >
            <KeptChoices kept={kept.data ?? []} likes={likes} onUse={setOwn} />
            <ChoicesForm
              likes={likes}
              onChange={change}
              sheets={others !== null}
              several={(others ?? 0) > 0}
              printer={printer}
              sections={arranged.sections}
              fault={arranged.fault}
              plain={arranged.plain}
              selected={looked ? null : selected}
              onSelected={setSelected}
              onFile={editable && !looked && session.maySetPages ? () => session.setPages(likes.paper) : undefined}
              marked={looked ? marked : null}
              onMarked={setMarked}
            />
          </div>
        )}
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          <Jobs />
          {finding && (
            <FindInPages
              pdf={arranged.shown?.pdf ?? null}
              onHits={(hits, at) => setFound({ hits, at })}
              onGo={(page) => {
                if (shown === 'many') setShown('below')
                requestAnimationFrame(() =>
                  scroll.current?.querySelector(`[data-page="${page}"]`)?.scrollIntoView({ block: 'nearest' }),
                )
              }}
              onClose={() => {
                setFinding(false)
                scroll.current?.focus()
              }}
            />
          )}
          <section
            ref={scroll}
            className="relative min-h-0 flex-1 overflow-auto p-5"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: it is gone through by the keys
            tabIndex={0}
            aria-label={t('paper.its-pages')}
          >
            {(fault || (!choosing && arranged.fault)) && (
              <p role="alert" className="mb-4 text-rust">
                {fault || arranged.fault}
              </p>
            )}
            {pages && (pages.facts.substituted.length > 0 || pages.facts.undrawn > 0) && (
              <ul className="mb-4 text-[13px] leading-[18px] text-soft">
                {pages.facts.substituted.map(({ font, by, sameWidths }) => (
                  <li key={font}>
                    <T
                      k="paper.stands-for"
                      v={{ by: <bdi>{by}</bdi>, font: <bdi>{font}</bdi>, sameWidths: Boolean(sameWidths) }}
                    />
                  </li>
                ))}
                {pages.facts.undrawn > 0 && <li>{t('paper.undrawn', { undrawn: pages.facts.undrawn })}</li>}
              </ul>
            )}
            {arranged.shown && room > 0 && (
              <PdfPages
                pdf={arranged.shown.pdf}
                width={width}
                shown={shown}
                hits={found.hits}
                hitAt={found.at}
                {...(shown === 'many' && { onGo: goTo })}
              />
            )}
            {arranged.shown?.backs && room > 0 && (
              <section aria-label={t('paper.backs')} className="mt-6">
                <p className="mb-3 text-center text-[13px] leading-[18px] text-soft">{t('paper.then-the-backs')}</p>
                <PdfPages pdf={arranged.shown.backs} width={width} shown={shown} />
              </section>
            )}
          </section>
        </div>
      </div>
    </section>
  )
}
