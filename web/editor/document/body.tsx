import { closeHistory } from 'prosemirror-history'
import { type EditorState, TextSelection } from 'prosemirror-state'
import { DocAttrStep, Step } from 'prosemirror-transform'
import type { EditorView } from 'prosemirror-view'
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { aboutOfDocument } from '../../../core/content/about'
import { blankDocument, documentSchema, openingOf } from '../../../core/content/document'
import { noWords, wordsOfDocument } from '../../../core/content/words'
import type { JournalRecord, PaperChoices } from '../../../core/contract'
import type { StyleLook } from '../../../core/formats/docx/style-looks'
import { pageShows } from '../../../core/formats/docx/unseen'
import { familyOf, hasComments, hasNotes, hasPages, isText, typeOfWork, typeWritten } from '../../../core/formats/types'
import { pageWith } from '../../../core/paper/choices'
import { typeOfDraft } from '../../../core/recovery/draft-type'
import type { DocumentEdit } from '../../../core/recovery/replay'
import { useOffer } from '../../design/commands'
import { Blank, Button, Field } from '../../design/controls'
import { Question } from '../../design/overlay'
import { whenIdle } from '../../design/when-idle'
import { takeInDocument } from '../../views/document/choices'
import type { EdgesDesk } from '../../views/document/edges'
import { KnownFacts } from '../../views/document/facts'
import { DocumentPage, type FileSays, followed } from '../../views/document/page'
import { headingAbove } from '../../views/document/place'
import { clearLooks } from '../../views/document/text-look'
import { besideMeta, restingOf } from '../../views/document/undo'
import { SizeOnScreen } from '../../views/size-on-screen'
import { t } from '../../words/all'
import type { DraftSession } from '../../work/session'
import { codec } from '../../workers/codec'
import type { BodyProps, LookedAt } from '../body'
import { Find } from './find'
import { LookBeside } from './look-beside'
import { PagesNow } from './pages-now'
import { PictureBeside } from './picture-beside'
import { RemarksBeside, type Writing } from './remarks-beside'
import { SignsInText } from './signs-in-text'
import { TableQuestion } from './table-question'
import { ThenPage } from './then-page'
import { DocumentTools, insertTable, setLink, type ToolState, toolState, undoable } from './tools'

/** So often the page is looked for, each 50 ms, before it is given up. */
const mostTries = 1200

/** The document editor: tools, page, find. */
export function DocumentBody({
  opening,
  session,
  editable,
  looking,
  near,
  onThen,
  slip,
  onUnseen,
  onDamaged,
  onCarried,
  onGap,
  onPages,
}: BodyProps) {
  const [json, setJson] = useState<unknown>(() => (opening.bytes || opening.records ? null : blankDocument().toJSON()))
  /** How the styles of its file look. */
  const [looks, setLooks] = useState<readonly StyleLook[]>([])
  const [said, setSaid] = useState<FileSays | null>(null)
  /** The head or the foot that is being written in, in place of the page. */
  const [active, setActive] = useState<EditorView | null>(null)
  const atEdge = useRef(false)
  const desk = useRef<EdgesDesk>(null)
  const [tail, setTail] = useState<JournalRecord[]>([])
  const [view, setView] = useState<EditorView | null>(null)
  const [tools, setTools] = useState<ToolState | null>(null)
  const [finding, setFinding] = useState(false)
  const [linking, setLinking] = useState<string | null>(null)
  /** What is beside the tools: how text looks, what there is to say of a picture, signs that no key has, notes. */
  const [panel, setPanel] = useState<'looks' | 'picture' | 'signs' | 'remarks' | null>(null)
  /** A note or a comment that is begun beside the tools. */
  const [writing, setWriting] = useState<Writing>(null)
  const [asked, setAsked] = useState(0)
  const changes = useRef(new Set<() => void>()).current
  const showPicture = (shown: boolean) => setPanel(shown ? 'picture' : null)
  const [tabling, setTabling] = useState(false)
  const [language, setLanguage] = useState<string | null>(null)
  const current = useRef<EditorView | null>(null)
  current.current = view
  const panelIsOpen = useRef(false)
  panelIsOpen.current = panel !== null
  // A draft is gone on with as what its records were written on.
  const type = typeOfDraft(
    opening.records ?? [],
    opening.beginning.continued?.model ?? null,
    typeOfWork(opening.beginning.file?.name ?? null, 'document'),
    'docx',
  )
  const plain = isText(type)
  /** The file that the work is written into. */
  const container = useRef({ bytes: opening.bytes, type })
  const scrolled = useRef(0)
  /** What a file says of its text comes when the text is there. */
  const hear = useCallback(
    (bytes: Uint8Array | null) => {
      if (bytes) void codec().readPassages(bytes, type).then(setSaid)
    },
    [type],
  )

  // biome-ignore lint/correctness/useExhaustiveDependencies: read once for each opening, which has a body of its own
  useEffect(() => {
    let gone = false
    // Blank paper is there at once; what it is, for the journal to name, a moment later.
    if (json) {
      void codec()
        .readDocument(null, null)
        .then((read) => 'opened' in read && !gone && session.standsOn(read.opened.stands))
      return () => {
        gone = true
      }
    }
    void Promise.all([
      codec().readDocument(opening.bytes, opening.records, opening.beginning.continued?.model ?? null, true, type),
      opening.bytes ? codec().readStyleLooks(opening.bytes, type) : [],
      opening.bytes ? codec().readLanguage(opening.bytes, type) : null,
    ]).then(([read, looks, written]) => {
      if (gone) return
      if ('damaged' in read) return onDamaged(read.damaged)
      if (read.opened.carried) return onCarried(read.opened.carried)
      onUnseen(read.opened.limits.filter(({ feature }) => !pageShows.has(feature)))
      const lost = read.opened.replay?.lostFrom
      if (lost) onGap(lost)
      session.standsOn(read.opened.stands)
      setLooks(looks)
      setLanguage(written)
      setTail(read.opened.tail)
      setJson(read.opened.json)
      hear(opening.bytes)
    })
    return () => {
      gone = true
    }
  }, [])

  useEffect(() => {
    const pageThere = async () => {
      for (let tries = 0; !current.current && tries < mostTries; tries++)
        await new Promise((later) => setTimeout(later, 50))
      if (!current.current) throw new Error('The page is not there.')
      return current.current
    }
    session.attach({
      encode: (as) =>
        codec().writeDocument(
          current.current!.state.doc.toJSON(),
          container.current.bytes,
          as?.type ?? typeWritten(typeOfWork(session.state.file?.name ?? null, 'document'), 'document'),
          container.current.type,
          as?.text,
        ),
      textWay: async () => {
        const { bytes, type } = container.current
        return bytes && isText(type) ? codec().readTextWay(bytes) : null
      },
      show: ([at]) => {
        const view = current.current
        if (!view) return
        const { doc } = view.state
        const before = doc.resolve(Math.min(at!, doc.content.size))
        // Of a paragraph and the like its beginning; of what is in a line the place before it.
        const place = before.parent.inlineContent ? before : doc.resolve(Math.min(at! + 1, doc.content.size))
        view.dispatch(view.state.tr.setSelection(TextSelection.near(place)).scrollIntoView())
        view.focus()
      },
      follow: (edit) => {
        const view = current.current
        if (!view) return
        const change = view.state.tr.setMeta(followed, true)
        for (const step of (edit as DocumentEdit).steps) change.step(Step.fromJSON(documentSchema, step))
        view.dispatch(change)
      },
      place: () => (current.current ? headingAbove(current.current.state) : ''),
      resting: () => (current.current ? restingOf(current.current.state) : null),
      focus: () => current.current?.focus(),
      opening: () => (current.current ? openingOf(current.current.state.doc) : ''),
      takeIn: async (base, theirs, part, adopted, apply) => {
        // What is offered above the page may be pressed before the page is there.
        const view = current.current ?? (await pageThere())
        const taken = await takeInDocument(view, base, theirs, part, adopted, type, apply)
        if (adopted && theirs.bytes && 'choices' in taken) {
          container.current = { bytes: theirs.bytes, type: theirs.type ?? type }
          hear(theirs.bytes)
        }
        return taken
      },
      present: () => {
        if (!current.current) return null
        const { doc } = current.current.state
        return { state: doc.toJSON(), results: [], token: doc }
      },
      onPaper: async (_only, selected) => {
        const { doc, selection } = current.current!.state
        const part = selected && !selection.empty ? doc.cut(selection.from, selection.to) : doc
        return { kind: 'document', json: part.toJSON() }
      },
      ...(hasPages(typeWritten(type, 'document')) && {
        setPages: (choices: PaperChoices) => {
          const view = current.current
          if (!view) return
          const page = pageWith(view.state.doc.attrs.page, choices)
          view.dispatch(closeHistory(view.state.tr).step(new DocAttrStep('page', page)))
        },
      }),
      about: () => (current.current ? aboutOfDocument(current.current.state.doc) : undefined),
      setAbout: (about, begins) => {
        const view = current.current
        view?.dispatch(view.state.tr.step(new DocAttrStep('about', about)).setMeta(besideMeta, { begins }))
      },
      notOnPaper: (remarks) =>
        codec().notOnPaper(
          current.current!.state.doc.toJSON(),
          container.current.bytes,
          container.current.type,
          remarks,
        ),
      selected: () => {
        const { from, to } = current.current!.state.selection
        return { kind: 'text', from, to }
      },
      bringBack: (change) => {
        const view = current.current
        if (!view || !('steps' in change)) return
        const transaction = closeHistory(view.state.tr)
        for (const step of change.steps) transaction.step(Step.fromJSON(documentSchema, step))
        const at = Math.min(change.at + 1, transaction.doc.content.size)
        view.focus()
        view.dispatch(transaction.setSelection(TextSelection.near(transaction.doc.resolve(at))).scrollIntoView())
      },
      clues: () => (current.current ? wordsOfDocument(current.current.state.doc, 20_000) : noWords),
    })
  }, [session, hear, type])

  // The page of earlier moments stays, so that the next one is drawn over it; the first one is made ready when
  // somebody comes near the lifeline, and nothing else is going on.
  const [kept, setKept] = useState<LookedAt | null>(null)
  useEffect(() => {
    if (looking) setKept(looking)
  }, [looking])
  // biome-ignore lint/correctness/useExhaustiveDependencies: made once when the pointer comes near, so that the first look is at once
  useEffect(() => {
    if (!near || kept || !current.current) return
    return whenIdle(() => {
      const json = current.current?.state.doc.toJSON()
      if (json)
        setKept({ id: '', then: { kind: 'document', json, summary: '', gone: [], moved: [], look: [] }, present: null })
    })
  }, [near])
  const page = looking ?? kept

  // The tools follow the selection once a frame, and only when what they show has changed.
  const drawing = useRef(0)
  const shown = useRef('')
  const follow = (state: EditorState) => {
    cancelAnimationFrame(drawing.current)
    drawing.current = requestAnimationFrame(() => {
      const next = { ...toolState(state), ...(current.current && undoable(current.current.state)) }
      const key = JSON.stringify(next)
      if (key === shown.current) return
      shown.current = key
      setTools(next)
    })
  }
  // Another thing is selected: there is nothing more to say of the picture.
  const onPicture = !!tools?.picture
  useEffect(() => {
    if (!onPicture) setPanel((now) => (now === 'picture' ? null : now))
  }, [onPicture])
  const noted = hasNotes(typeWritten(type, 'document'))
  /** @param kind of one that is begun */
  const write = (kind: Writing) => {
    setWriting(kind)
    setPanel('remarks')
    setAsked((times) => times + 1)
  }
  const closeRemarks = () => {
    setWriting(null)
    setPanel(null)
  }
  useOffer([
    ...(editable
      ? [{ id: 'signs', label: t('signs.title'), group: t('common.this-file'), run: () => setPanel('signs') }]
      : []),
    {
      id: 'find',
      label: t('document.find-and-replace'),
      keys: 'Mod+F',
      group: t('common.this-file'),
      run: () => setFinding(true),
    },
    ...(editable && !plain
      ? [
          {
            id: 'link',
            label: t('common.link'),
            keys: 'Mod+K',
            group: t('common.this-file'),
            run: () => setLinking(tools?.link ?? ''),
          },
          {
            id: 'look of text',
            label: t('document.look-of-text'),
            keys: 'Alt+L',
            group: t('common.this-file'),
            run: () => setPanel('looks'),
          },
          ...(tools?.picture
            ? [
                {
                  id: 'picture',
                  label: t('document.picture'),
                  group: t('common.this-file'),
                  run: () => showPicture(true),
                },
              ]
            : []),
          {
            id: 'clear looks',
            label: t('document.clear-looks'),
            keys: 'Mod+\\',
            group: t('common.this-file'),
            run: () => {
              const own = active ?? view
              if (own) clearLooks(own.state, own.dispatch, own)
              own?.focus()
            },
          },
          ...(noted
            ? [
                {
                  id: 'remarks',
                  label: t('document.remarks'),
                  keys: 'Alt+J',
                  group: t('common.this-file'),
                  run: () => write(null),
                },
                ...(hasComments(typeWritten(type, 'document'))
                  ? [
                      {
                        id: 'write a comment',
                        label: t('document.write-a-comment'),
                        group: t('common.this-file'),
                        run: () => write('comment'),
                      },
                    ]
                  : []),
                {
                  id: 'write a footnote',
                  label: t('document.write-a-footnote'),
                  group: t('common.this-file'),
                  run: () => write('footnote'),
                },
                {
                  id: 'write an endnote',
                  label: t('document.write-an-endnote'),
                  group: t('common.this-file'),
                  run: () => write('endnote'),
                },
              ]
            : []),
          ...(['head', 'foot'] as const).map((edge) => ({
            id: `page ${edge}`,
            label: t(edge === 'head' ? 'document.go-to-the-header' : 'document.go-to-the-footer'),
            group: t('common.this-file'),
            run: () => desk.current?.enter(edge),
          })),
          {
            id: 'tab stop',
            label: t('document.insert-a-tab-stop'),
            group: t('common.this-file'),
            run: () => {
              const own = active ?? view
              if (!own) return
              own.dispatch(own.state.tr.insertText('\t').scrollIntoView())
              own.focus()
            },
          },
        ]
      : []),
  ])

  if (!json) return <Blank title={t('common.opening')} waiting />
  return (
    <div className="flex min-h-0 flex-1">
      {editable && !looking && view && tools && (
        <DocumentTools
          view={active ?? view}
          page={view}
          looks={looks}
          on={tools}
          plain={plain}
          onFind={() => setFinding(true)}
          onLink={() => setLinking(tools.link ?? '')}
          looking={panel === 'looks'}
          onLooks={() => setPanel(panel === 'looks' ? null : 'looks')}
          pictured={panel === 'picture'}
          onPicture={showPicture}
          remarking={panel === 'remarks'}
          onRemarks={noted ? () => (panel === 'remarks' ? closeRemarks() : write(null)) : null}
          signing={panel === 'signs'}
          onSigns={() => setPanel(panel === 'signs' ? null : 'signs')}
          onTable={() => setTabling(true)}
        />
      )}
      {panel === 'picture' && tools?.picture && editable && !looking && view && (
        <PictureBeside view={active ?? view} picture={tools.picture} onClose={() => setPanel(null)} />
      )}
      {panel === 'signs' && editable && !looking && view && (
        <SignsInText view={active ?? view} onClose={() => setPanel(null)} />
      )}
      {panel === 'remarks' && editable && !plain && !looking && view && (
        <RemarksBeside
          view={view}
          changes={changes}
          comments={hasComments(typeWritten(type, 'document'))}
          open={familyOf(typeWritten(type, 'document')) === 'odt'}
          writing={writing}
          onWrite={setWriting}
          asked={asked}
          onClose={closeRemarks}
        />
      )}
      {panel === 'looks' && editable && !plain && !looking && view && tools && (
        <LookBeside
          view={active ?? view}
          look={tools.look}
          paragraph={tools.paragraph}
          onClose={() => setPanel(null)}
        />
      )}
      {(!editable || looking || !tools) && <div className="w-11 shrink-0 border-r bg-paper" aria-hidden />}
      {slip}
      <div className="relative flex min-w-0 flex-1 flex-col">
        {finding && view && !looking && <Find view={view} editable={editable} onClose={() => setFinding(false)} />}
        <div
          className={`min-h-0 flex-1 overflow-auto [contain:strict] ${panel === 'remarks' ? 'remarks-beside' : ''}`}
          hidden={!!looking}
          data-testid="page-scroller"
          onScroll={(event) => {
            scrolled.current = event.currentTarget.scrollTop
          }}
        >
          <SessionFacts session={session}>
            <DocumentPage
              json={json}
              plain={plain}
              editable={editable}
              autoFocus={!slip}
              tail={tail}
              rested={session.restedAt}
              onEdit={(edit, how) => session.record(edit, how)}
              looks={looks}
              language={language}
              said={said}
              onPicture={() => editable && showPicture(true)}
              onRemark={() => write(null)}
              desk={desk}
              onActive={(own) => {
                setActive(own)
                atEdge.current = !!own
                const now = own?.state ?? current.current?.state
                if (now) follow(now)
              }}
              onView={setView}
              onChange={(state) => {
                session.moved()
                for (const tell of changes) tell()
                // Also while the keys are in what stands beside it; at an edge of the page the tools are about that.
                if (!current.current || !atEdge.current || panelIsOpen.current) follow(state)
              }}
            />
          </SessionFacts>
        </div>
        <div className="absolute bottom-2 right-5 z-10 flex items-center rounded bg-desk/90 max-sm:hidden">
          {view && !looking && <PagesNow session={session} view={view} beside={!!slip} onPages={onPages} />}
          <SizeOnScreen what="text" back={() => view?.focus()} />
        </div>
        {page && (
          <ThenPage
            plain={plain}
            looks={looks}
            looking={page}
            visible={!!looking}
            onThen={onThen}
            scrollTop={scrolled.current}
          />
        )}
      </div>
      {tabling && view && (
        <TableQuestion
          onClose={() => setTabling(false)}
          onInsert={(size) => {
            setTabling(false)
            const own = active ?? view
            insertTable(size)(own.state, own.dispatch, own)
            // Once the question has gone, which gives the keys back to where they were.
            setTimeout(() => own.focus())
          }}
        />
      )}
      {linking !== null && view && (
        <LinkQuestion
          href={linking}
          onClose={() => setLinking(null)}
          onSet={(href) => {
            setLink(active ?? view, href)
            setLinking(null)
            ;(active ?? view).focus()
          }}
        />
      )}
    </div>
  )
}

/** The name and the version that fields of the page tell; what else changes of the session draws nothing anew. */
function SessionFacts({ session, children }: { session: DraftSession; children: ReactNode }) {
  const { file, head } = useSyncExternalStore(session.subscribe, session.outline)
  const [fileName, version] = [file?.name, head?.number ?? 0]
  const facts = useMemo(
    () => ({ name: fileName ? fileName.replace(/\.[^.]+$/, '') : null, version: version + 1 }),
    [fileName, version],
  )
  return <KnownFacts facts={facts}>{children}</KnownFacts>
}

function LinkQuestion({
  href,
  onSet,
  onClose,
}: {
  href: string
  onSet: (href: string | null) => void
  onClose: () => void
}) {
  const [value, setValue] = useState(href)
  const address = /^[a-z][a-z0-9+.-]*:|^#/i.test(value)
    ? value
    : /^[^\s@]+@[^\s@]+\.\w+$/.test(value)
      ? `mailto:${value}`
      : `https://${value}`
  const fault =
    value && !/^(https?:\/\/[^\s]+|mailto:\S+@\S+|tel:\S+|#\S+)$/i.test(address)
      ? t('document.use-a-web-address-a-mail-address')
      : ''
  return (
    <Question
      title={t('document.where-does-the-link-lead')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!value || !!fault} onClick={() => onSet(address)}>
            {t('common.link')}
          </Button>
          {href && <Button onClick={() => onSet(null)}>{t('document.remove-the-link')}</Button>}
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <Field
        label={t('document.address')}
        value={value}
        fault={fault}
        onChange={(event) => setValue(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || !value || fault) return
          // The keys go back to the text with it: this one is not for that.
          event.preventDefault()
          onSet(address)
        }}
        autoFocus
      />
    </Question>
  )
}
