// The pages of a document beside the work in it, as they come to paper; saved as a PDF.
import { Maximize2, Minimize2, X } from 'lucide-react'
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import type { PaperStandard } from '../../core/contract'
import { nameAs } from '../../core/formats/types'
import { Refused } from '../api/call'
import { Choice } from '../design/choice'
import { Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { T, t, told } from '../words/all'
import { language } from '../words/language'
import type { DraftSession } from '../work/session'
import { askForPages, type Pages } from './ask'
import { PdfPages } from './pages'

/** What was written meanwhile is set when the hands rest; milliseconds. */
const rest = 250

export function PaperBeside({
  session,
  name,
  number,
  onClose,
}: {
  session: DraftSession
  name: string
  /** Of the version that the work is based on. */
  number: number | null
  onClose: () => void
}) {
  const panel = useRef<HTMLElement>(null)
  const scroll = useRef<HTMLElement>(null)
  const edits = useSyncExternalStore(session.subscribe, () => session.state.reach.edit.seq)
  const [standard, setStandard] = useState<PaperStandard>('plain')
  const [wide, setWide] = useState(false)
  const [room, setRoom] = useState(0)
  const [pages, setPages] = useState<Pages | null>(null)
  const [fault, setFault] = useState('')
  /** The pages are of the work as it is: nothing older is saved as if it were. */
  const [isNow, setNow] = useState(false)
  useEffect(() => panel.current?.focus(), [])
  useEffect(() => {
    const own = scroll.current!
    const watching = new ResizeObserver(([entry]) => setRoom(entry!.contentRect.width))
    watching.observe(own)
    return () => watching.disconnect()
  }, [])
  const head = session.state.head?.id ?? null
  /** What is being set; whoever writes on waits for it, so that no more than one of them is under way. */
  const under = useRef<Promise<void>>(Promise.resolve())
  // biome-ignore lint/correctness/useExhaustiveDependencies: set anew after each edit
  useEffect(() => {
    let gone = false
    setNow(false)
    const set = async () => {
      const present = gone ? null : session.present()
      if (!present) return
      try {
        const day = new Intl.DateTimeFormat(language, { dateStyle: 'long' }).format(new Date())
        const body = { json: present.state, versionId: head, name, number, day, language, standard }
        const found = await askForPages(body)
        // Also those of a moment ago are shown while somebody writes on.
        setPages(found)
        setFault('')
        if (!gone) setNow(true)
      } catch (error) {
        if (!gone) setFault(error instanceof Refused ? told(error.problem) : t('common.this-did-not-work-try-again'))
      }
    }
    const late = setTimeout(() => {
      under.current = under.current.then(set)
    }, rest)
    return () => {
      gone = true
      clearTimeout(late)
    }
  }, [session, edits, head, name, number, standard])
  const save = () => {
    if (!pages) return
    const address = URL.createObjectURL(new Blob([pages.pdf as BlobPart], { type: 'application/pdf' }))
    const link = document.createElement('a')
    link.href = address
    link.download = nameAs(name, 'pdf')
    link.click()
    URL.revokeObjectURL(address)
  }
  const width = Math.max(120, Math.min(wide ? 900 : 520, room - 40))
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
      <div className="flex flex-wrap items-end gap-x-3 gap-y-2 border-b bg-paper px-4 py-2">
        <div className="min-w-0 flex-1 basis-40">
          <h2 className="text-[17px] font-semibold">{t('paper.on-pages')}</h2>
          <p className="text-[13px] leading-[18px] text-soft" role="status">
            {pages ? t('paper.pages', { pages: pages.facts.pages }) : !fault && t('paper.setting')}
          </p>
        </div>
        <IconButton label={wide ? t('paper.beside') : t('paper.wider')} onClick={() => setWide(!wide)}>
          {wide ? <Minimize2 /> : <Maximize2 />}
        </IconButton>
        <IconButton label={t('people.close-this')} onClick={onClose}>
          <X />
        </IconButton>
        <div className="flex w-full flex-wrap items-end gap-3">
          <Choice
            label={t('paper.what-for')}
            value={standard}
            choices={[
              ['plain', t('paper.plain')],
              ['archive', t('paper.archive')],
              ['accessible', t('paper.accessible')],
            ]}
            onChange={setStandard}
          />
          <Button look="main" className="h-9" disabled={!pages || !isNow} onClick={save}>
            {t('paper.save-pdf')}
          </Button>
        </div>
      </div>
      <section
        ref={scroll}
        className="relative min-h-0 flex-1 overflow-auto p-5"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it is gone through by the keys
        tabIndex={0}
        aria-label={t('paper.its-pages')}
      >
        {fault && (
          <p role="alert" className="mb-4 text-rust">
            {fault}
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
        {pages && room > 0 && <PdfPages pdf={pages.pdf} width={width} />}
      </section>
    </section>
  )
}
