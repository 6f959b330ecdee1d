import { EditorState, Plugin } from 'prosemirror-state'
import { Decoration, DecorationSet, EditorView } from 'prosemirror-view'
import { type CSSProperties, type RefObject, useEffect, useId, useRef, useState } from 'react'
import { toast } from 'sonner'
import { a4, documentFromJSON, documentSchema, type Page } from '../../../core/content/document'
import { edgesOf, type PageEdge } from '../../../core/content/edges'
import type { Passage } from '../../../core/content/passages'
import type { JournalRecord } from '../../../core/contract'
import type { StyleLook } from '../../../core/formats/docx/style-looks'
import type { DocumentEdit } from '../../../core/recovery/replay'
import { isCovered } from '../../design/focus'
import { t } from '../../words/all'
import { useSize } from '../size'
import { type EdgesDesk, PageEdges } from './edges'
import { imageView } from './image-view'
import { insertImage } from './images'
import { caretKeptUp, keptParser, keptSerializer, keptView, tellsWhatGoes } from './kept'
import { pageBeginsPlugin } from './page-begins'
import { passagesPlugin, showPassages } from './passages'
import { usePlaceKept } from './place-kept'
import { plainPlugins } from './plain'
import { documentPlugins } from './plugins'
import { looseRanges, opensRemarks } from './remarks'
import { styleCss } from './style-css'
import { selectionKept } from './text-look'
import { atRest, type How, howOf, throughHistory, UndoSteps } from './undo'

const pixels = (twips: number) => twips / 15

const noLooks: readonly StyleLook[] = []

/** Marks what another tab did: it is in the journal already. */
export const followed = 'followed'

/** Passages, and the document that they are positions in. */
export interface FileSays {
  json: unknown
  passages: readonly Passage[]
}

/** A stretch of a document that is shown apart. */
export interface Marked {
  from: number
  to: number
  className: string
}

/** A caret and a selection, and nothing that changes the document. */
const onlyLooking = new Plugin({
  filterTransaction: (transaction) => !transaction.docChanged,
  props: {
    handleDOMEvents: {
      beforeinput: (_view, event) => {
        event.preventDefault()
        return true
      },
      drop: () => true,
      paste: () => true,
      cut: () => true,
    },
    handleKeyDown: (_view, event) =>
      !event.ctrlKey &&
      !event.metaKey &&
      !event.altKey &&
      (event.key.length === 1 || /^(Enter|Backspace|Delete)$/.test(event.key)),
  },
})

/**
 * A document on its page. The ProseMirror view lives as long as `json` is the same object;
 * `onEdit` is called with the steps of every change.
 */
export function DocumentPage({
  json,
  editable,
  onEdit,
  tail,
  rested,
  onView,
  onChange,
  autoFocus,
  marked,
  looks = noLooks,
  said = null,
  onActive,
  onPicture,
  onRemark,
  desk,
  language = null,
  plain = false,
}: {
  json: unknown
  editable: boolean
  /** It is a text: lines, without looks. */
  plain?: boolean
  onEdit?: (edit: DocumentEdit, how: How) => void
  /** Records to apply on top, through the history, so that they can be undone. */
  tail?: readonly JournalRecord[]
  /** Where the cursor was. */
  rested?: readonly number[] | null
  onView?: (view: EditorView | null) => void
  onChange?: (state: EditorState) => void
  autoFocus?: boolean
  /** The page of an earlier moment: what of it differs from now. It can be selected and not changed. */
  marked?: readonly Marked[]
  /** How the styles of its file look. */
  looks?: readonly StyleLook[]
  /** What its file says of stretches of the document that was read from it. */
  said?: FileSays | null
  /** Told which of the edges is being written in, and when it is the page again. */
  onActive?: (view: EditorView | null) => void
  /** Somebody wants to say more of the picture that they selected. */
  onPicture?: () => void
  /** The same of a note or a comment. */
  onRemark?: () => void
  desk?: RefObject<EdgesDesk | null>
  /** What it is written in (BCP 47), for spelling and for who reads aloud; null for what the page around it is. */
  language?: string | null
}) {
  const host = useRef<HTMLDivElement>(null)
  const handlers = useRef({ onEdit, onChange, looks, onPicture, onRemark })
  handlers.current = { onEdit, onChange, looks, onPicture, onRemark }
  const scope = useId()
  const shown = useRef<EditorView | null>(null)
  const left = useRef<{ json: unknown; state: EditorState } | null>(null)
  const still = marked !== undefined
  const [edges, setEdges] = useState<readonly PageEdge[]>([])
  /** Of the work as it is; of what is shown apart, its own. */
  const [ofWork, setOfWork] = useState<Page | null>(null)
  const size = useSize('text')
  usePlaceKept(shown, size)
  const page = (still ? null : ofWork) ?? (json as { attrs?: { page?: Page } }).attrs?.page ?? a4

  // biome-ignore lint/correctness/useExhaustiveDependencies: a view is made anew where it may be written to or not, or shows another document; what goes on in it is its own
  useEffect(() => {
    const plugins = still
      ? [onlyLooking]
      : plain
        ? plainPlugins(editable, () => toast(t('document.plain-text-has-no-looks'), { id: 'plain' }))
        : [
            caretKeptUp,
            ...(editable ? [opensRemarks(() => handlers.current.onRemark?.()), looseRanges] : []),
            ...documentPlugins(editable, () => handlers.current.looks),
            tellsWhatGoes((sentence) => toast(sentence)),
            passagesPlugin(),
            pageBeginsPlugin(),
            selectionKept(),
          ]
    const before = !still && left.current?.json === json ? (left.current?.state ?? null) : null
    let begun: EditorState
    // Whoever may write no more, or again, sees the work as it was left, not as it was opened.
    if (before) begun = EditorState.create({ doc: before.doc, selection: before.selection, plugins })
    else {
      begun = EditorState.create({ doc: documentFromJSON(json), schema: documentSchema, plugins })
      if (tail?.length) begun = throughHistory(begun, tail)
      if (rested) begun = atRest(begun, rested)
    }
    const undoSteps = new UndoSteps()
    // Between what stands at the head and at the foot, as the Tab key goes.
    const place = (dom: Node) =>
      void host.current!.insertBefore(dom, host.current!.querySelector(':scope > .page-foot'))
    const view = new EditorView(place, {
      state: begun,
      editable: () => editable || still,
      nodeViews: { kept: keptView(editable && !still), image: imageView(editable && !still) },
      handleDoubleClickOn: (_view, _pos, node, _at, _event, direct) => {
        if (!direct || node.type.name !== 'image' || !handlers.current.onPicture) return false
        handlers.current.onPicture()
        return true
      },
      clipboardSerializer: keptSerializer,
      clipboardParser: keptParser,
      attributes: {
        class: 'page-text',
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': editable ? t('common.document') : t('document.document-read-only'),
        ...(still && { 'aria-readonly': 'true' }),
        spellcheck: String(!still),
        ...(language && { lang: language }),
      },
      dispatchTransaction(transaction) {
        const before = view.state
        undoSteps.mark(before, transaction)
        const { state, transactions } = before.applyTransaction(transaction)
        const steps = transactions.flatMap((one) => one.steps.map((step) => step.toJSON()))
        view.updateState(state)
        if (state.doc.attrs.edges !== before.doc.attrs.edges) setEdges(edgesOf(state.doc))
        if (state.doc.attrs.page !== before.doc.attrs.page) setOfWork(state.doc.attrs.page)
        if (steps.length && !transaction.getMeta(followed))
          handlers.current.onEdit?.({ steps }, howOf(transaction, before, state))
        handlers.current.onChange?.(state)
      },
      handlePaste: (own, event) => !still && !plain && imagesFrom(own, event.clipboardData?.files),
      handleDrop: (own, event) => !still && !plain && imagesFrom(own, event.dataTransfer?.files),
    })
    shown.current = view
    setEdges(edgesOf(begun.doc))
    setOfWork(begun.doc.attrs.page)
    onView?.(view)
    handlers.current.onChange?.(view.state)
    if (rested) view.dispatch(view.state.tr.scrollIntoView())
    if (autoFocus && editable && !isCovered()) view.focus()
    return () => {
      left.current = { json, state: view.state }
      onView?.(null)
      shown.current = null
      view.destroy()
    }
  }, [still ? null : json, editable, still])

  // biome-ignore lint/correctness/useExhaustiveDependencies: shown anew also when the view was made anew
  useEffect(() => {
    if (shown.current && said) showPassages(shown.current, documentFromJSON(said.json), said.passages)
  }, [said, still ? null : json, editable, still])

  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew also when the view was, which follows whether it may be written to
  useEffect(() => {
    const view = shown.current
    if (!view || !marked) return
    const doc = documentFromJSON(json)
    setEdges(edgesOf(doc))
    const marks = DecorationSet.create(
      doc,
      marked.map(({ from, to, className }) => Decoration.inline(from, to, { class: className })),
    )
    // Of the moment before only what is another is drawn anew.
    view.setProps({
      state: EditorState.create({ doc, schema: documentSchema, plugins: view.state.plugins }),
      decorations: () => marks,
    })
  }, [json, editable, marked])

  return (
    <div
      ref={host}
      data-looks={scope}
      className={`relative mx-auto my-6 min-h-[85%] bg-sheet shadow-page ${still ? 'page-then' : ''} ${still && isLong(json) ? 'page-long' : ''} ${plain ? 'page-plain' : ''}`}
      style={
        {
          // Wider than its window it is not: its lines are broken anew instead.
          ...(size !== 1 && { zoom: size }),
          width: pixels(page.width),
          maxWidth: 'calc(100% - 32px)',
          padding: `max(${pixels(page.top) * 0.75}px, var(--head-room, 0px)) min(8%, ${pixels(page.right)}px) max(${pixels(page.bottom)}px, var(--foot-room, 0px)) min(8%, ${pixels(page.left)}px)`,
          '--page-side': `min(8%, ${pixels(page.left)}px)`,
          '--new-page': JSON.stringify(t('common.new-page')),
        } as CSSProperties
      }
    >
      {looks.length > 0 && <style>{styleCss(`[data-looks="${scope}"]`, looks)}</style>}
      {/* Beside the editor's own element, which React knows nothing of. */}
      {(edges.length > 0 || (editable && !still && !plain)) && (
        <PageEdges
          edges={edges}
          looks={looks}
          editable={editable && !still}
          main={shown}
          onActive={onActive}
          desk={desk}
        />
      )}
    </div>
  )
}

/** Blocks from which on drawing all of a document is felt. */
const longFrom = 150
const isLong = (json: unknown) => ((json as { content?: unknown[] }).content?.length ?? 0) >= longFrom

function imagesFrom(view: EditorView, files: FileList | undefined): boolean {
  const images = [...(files ?? [])].filter((file) => file.type.startsWith('image/'))
  for (const image of images) void insertImage(view, image).then((fault) => fault && toast.error(fault))
  return images.length > 0
}
