import { EditorState } from 'prosemirror-state'
import { Decoration, DecorationSet, EditorView } from 'prosemirror-view'
import { type CSSProperties, useEffect, useRef } from 'react'
import { toast } from 'sonner'
import type { Stretch } from '../../../core/compare/document'
import { documentFromJSON, documentSchema, type Page } from '../../../core/content/document'
import type { DocumentEdit } from '../../../core/recovery/replay'
import { insertImage } from './images'
import { documentPlugins } from './plugins'

const pixels = (twips: number) => twips / 15

/** Marks what another tab did: it is in the journal already. */
export const followed = 'followed'

/**
 * A document on its page. The ProseMirror view lives as long as `json` is the same object;
 * `onEdit` is called with the steps of every change before it is shown.
 */
export function DocumentPage({
  json,
  editable,
  onEdit,
  onView,
  onChange,
  autoFocus,
  gone,
}: {
  json: unknown
  editable: boolean
  onEdit?: (edit: DocumentEdit) => void
  onView?: (view: EditorView | null) => void
  onChange?: (state: EditorState) => void
  autoFocus?: boolean
  /** Stretches of an earlier version that are not there now. */
  gone?: readonly Stretch[]
}) {
  const host = useRef<HTMLDivElement>(null)
  const handlers = useRef({ onEdit, onChange })
  handlers.current = { onEdit, onChange }
  const shown = useRef<EditorView | null>(null)
  const page = ((json as { attrs?: { page?: Page } }).attrs?.page ?? {
    width: 11906,
    height: 16838,
    top: 1440,
    right: 1440,
    bottom: 1440,
    left: 1440,
  }) as Page

  useEffect(() => {
    const view = new EditorView(host.current!, {
      state: EditorState.create({
        doc: documentFromJSON(json),
        schema: documentSchema,
        plugins: documentPlugins(editable),
      }),
      editable: () => editable,
      attributes: {
        class: 'page-text',
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': editable ? 'Document' : 'Document, read only',
        spellcheck: 'true',
      },
      dispatchTransaction(transaction) {
        const { state, transactions } = view.state.applyTransaction(transaction)
        const steps = transactions.flatMap((one) => one.steps.map((step) => step.toJSON()))
        if (steps.length && !transaction.getMeta(followed)) handlers.current.onEdit?.({ steps })
        view.updateState(state)
        handlers.current.onChange?.(state)
      },
      handlePaste: (own, event) => imagesFrom(own, event.clipboardData?.files),
      handleDrop: (own, event) => imagesFrom(own, event.dataTransfer?.files),
    })
    shown.current = view
    onView?.(view)
    handlers.current.onChange?.(view.state)
    if (autoFocus && editable) view.focus()
    return () => {
      onView?.(null)
      shown.current = null
      view.destroy()
    }
  }, [json, editable])

  useEffect(() => {
    const view = shown.current
    if (!view || !gone) return
    const marks = DecorationSet.create(
      view.state.doc,
      gone.map(({ from, to }) => Decoration.inline(from, to, { nodeName: 'del', class: 'marked-removed' })),
    )
    view.setProps({ decorations: () => marks })
    host.current!.querySelector('.marked-removed')?.scrollIntoView({ block: 'center' })
  }, [json, editable, gone])

  return (
    <div
      ref={host}
      className="mx-auto my-6 min-h-[85%] bg-sheet shadow-page"
      style={
        {
          width: pixels(page.width),
          maxWidth: 'calc(100% - 32px)',
          padding: `${pixels(page.top) * 0.75}px min(8%, ${pixels(page.right)}px) ${pixels(page.bottom)}px min(8%, ${pixels(page.left)}px)`,
          '--page-side': `min(8%, ${pixels(page.left)}px)`,
        } as CSSProperties
      }
    />
  )
}

function imagesFrom(view: EditorView, files: FileList | undefined): boolean {
  const images = [...(files ?? [])].filter((file) => file.type.startsWith('image/'))
  for (const image of images) void insertImage(view, image).then((fault) => fault && toast.error(fault))
  return images.length > 0
}
