import { EditorState, Plugin } from 'prosemirror-state'
import { Decoration, DecorationSet, EditorView } from 'prosemirror-view'
import { useEffect, useId, useRef } from 'react'
import type { Stretch } from '../../core/compare/document'
import { documentFromJSON, documentSchema } from '../../core/content/document'
import type { StyleLook } from '../../core/formats/docx/style-looks'
import { styleCss } from '../views/document/style-css'

/** A document that is only looked at, with stretches of it marked. */
export function MarkedDocument({
  json,
  marked,
  look,
  looks,
  label,
}: {
  json: unknown
  marked: readonly Stretch[]
  look: 'added' | 'removed'
  /** How the styles of its file look. */
  looks: readonly StyleLook[]
  label: string
}) {
  const scope = useId()
  const host = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const doc = documentFromJSON(json)
    const marks = DecorationSet.create(
      doc,
      marked.map(({ from, to }) =>
        Decoration.inline(from, to, { nodeName: look === 'added' ? 'ins' : 'del', class: `marked-${look}` }),
      ),
    )
    const view = new EditorView(host.current!, {
      state: EditorState.create({
        doc,
        schema: documentSchema,
        plugins: [new Plugin({ props: { decorations: () => marks } })],
      }),
      editable: () => false,
      attributes: { class: 'page-text', role: 'textbox', 'aria-readonly': 'true', 'aria-label': label },
    })
    host.current!.querySelector(`.marked-${look}`)?.scrollIntoView({ block: 'center' })
    return () => view.destroy()
  }, [json, marked, look, label])
  return (
    <div data-looks={scope} className="mx-auto max-w-[640px] bg-sheet px-10 py-8 shadow-page">
      {looks.length > 0 && <style>{styleCss(`[data-looks="${scope}"]`, looks)}</style>}
      <div ref={host} />
    </div>
  )
}
