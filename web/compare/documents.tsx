// Two documents beside each other, as pages, with what differs marked on both; the change that is chosen comes to
// sight on both.
import type { EditorView } from 'prosemirror-view'
import { useEffect, useMemo, useRef } from 'react'
import type { StyleLook } from '../../core/formats/docx/style-looks'
import { DocumentPage, type Marked } from '../views/document/page'
import type { Comparison } from '../workers/looking-back'

type Documents = Extract<Comparison, { kind: 'document' | 'lines' }>

export function ComparedDocuments({
  found,
  older,
  newer,
  at,
}: {
  found: Documents
  older: string
  newer: string
  /** The change that is chosen; -1 for none. */
  at: number
}) {
  const { changes } = found
  const marks = useMemo(() => {
    const chosen = changes.places[at]
    const all = (list: readonly { from: number; to: number }[], className: string): Marked[] =>
      list.filter(({ from, to }) => to > from).map(({ from, to }) => ({ from, to, className }))
    const looks = changes.places.flatMap(({ kind, older: was }) => (kind === 'look' && was ? [was] : []))
    const picked = (stretch: { from: number; to: number } | null | undefined) =>
      stretch ? all([stretch], 'marked-chosen') : []
    return {
      older: [
        ...all(changes.removed, 'marked-removed'),
        ...all(changes.movedFrom, 'marked-moved'),
        ...all(looks, 'marked-look'),
        ...picked(chosen?.older),
      ],
      newer: [
        ...all(changes.added, 'marked-added'),
        ...all(changes.moved, 'marked-moved'),
        ...all(changes.look, 'marked-look'),
        ...picked(chosen?.newer),
      ],
    }
  }, [changes, at])
  const lines = found.kind === 'lines'
  return (
    <div className={`grid min-h-0 grid-rows-2 md:grid-cols-2 md:grid-rows-1 ${lines ? 'as-lines' : ''}`}>
      <Side
        title={older}
        json={found.older}
        looks={found.looks.older}
        marked={marks.older}
        at={changes.places[at]?.older?.from}
      />
      <Side
        title={newer}
        json={found.newer}
        looks={found.looks.newer}
        marked={marks.newer}
        at={changes.places[at]?.newer?.from}
        border
      />
    </div>
  )
}

function Side({
  title,
  json,
  looks,
  marked,
  at,
  border,
}: {
  title: string
  json: unknown
  looks: readonly StyleLook[]
  marked: readonly Marked[]
  at: number | undefined
  border?: boolean
}) {
  const view = useRef<EditorView | null>(null)
  useEffect(() => {
    const own = view.current
    if (!own || at === undefined) return
    const { node } = own.domAtPos(Math.min(at, own.state.doc.content.size))
    ;(node instanceof Element ? node : node.parentElement)?.scrollIntoView({ block: 'center' })
  }, [at])
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled by keys, too.
    <section tabIndex={0} aria-label={title} className={`min-h-0 overflow-auto ${border ? 'border-l' : ''}`}>
      <h2 className="sticky top-0 z-10 truncate border-b bg-desk px-4 py-1.5 text-[13px] text-soft">{title}</h2>
      <DocumentPage
        json={json}
        looks={looks}
        editable={false}
        marked={marked}
        onView={(shown) => {
          view.current = shown
        }}
      />
    </section>
  )
}
