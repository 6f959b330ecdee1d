// The page as it was at an earlier moment, where the work was: with what differs from now marked, to be read,
// selected and copied, and not changed.
import type { EditorView } from 'prosemirror-view'
import { useEffect, useLayoutEffect, useMemo, useRef } from 'react'
import { documentFromJSON } from '../../../core/content/document'
import type { StyleLook } from '../../../core/formats/docx/style-looks'
import { Phrase } from '../../../core/history/past-words'
import { placesInDocument } from '../../../core/history/where-said'
import { Blank } from '../../design/controls'
import { DocumentPage, type Marked } from '../../views/document/page'
import { t, told } from '../../words/all'
import type { BodyProps, ThenDesk } from '../body'

export function ThenPage({
  looks,
  looking,
  visible,
  onThen,
  scrollTop,
  plain,
}: {
  looks: readonly StyleLook[]
  plain: boolean
  visible: boolean
  looking: NonNullable<BodyProps['looking']>
  onThen: (desk: ThenDesk | null) => void
  /** Where the work is scrolled to: the moment is shown there. */
  scrollTop: number
}) {
  const scroller = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const { then } = looking
  const marked = useMemo(
    () =>
      then.kind === 'document'
        ? [
            ...then.gone.map((one): Marked => ({ ...one, className: 'marked-removed' })),
            ...then.moved.map((one): Marked => ({ ...one, className: 'marked-moved' })),
            ...then.look.map((one): Marked => ({ ...one, className: 'marked-look' })),
          ].filter(({ from, to }) => to > from)
        : [],
    [then],
  )
  const { sought } = looking
  const found = useMemo(
    () =>
      then.kind === 'document' && sought
        ? placesInDocument(documentFromJSON(then.json), new Phrase(sought)).map(
            ([from, to]): Marked => ({ from, to, className: 'marked-sought' }),
          )
        : [],
    [then, sought],
  )
  const shown = useMemo(() => [...marked, ...found], [marked, found])
  // Places one after the other; what touches is one place.
  const places = useMemo(() => {
    const found: number[] = []
    let last = -1
    for (const { from, to } of marked.toSorted((a, b) => a.from - b.from)) {
      if (from > last + 1) found.push(from)
      last = Math.max(last, to)
    }
    return found
  }, [marked])
  // biome-ignore lint/correctness/useExhaustiveDependencies: put where the work was when it comes to sight, and left to whoever scrolls after that
  useLayoutEffect(() => {
    if (visible && scroller.current) scroller.current.scrollTop = scrollTop
  }, [visible])
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was looked for comes to sight once, with its moment
  useEffect(() => {
    if (!visible || !found[0] || !view.current) return
    const { node } = view.current.domAtPos(found[0].from)
    ;(node instanceof Element ? node : node.parentElement)?.scrollIntoView({ block: 'center' })
  }, [looking.id, found, visible])
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when another moment is shown; who is told stays the same
  useEffect(() => {
    if (!visible) return
    let at = -1
    onThen({
      differences: places.length,
      selected() {
        const own = view.current
        const selection = document.getSelection()
        if (!own || !selection?.anchorNode || !own.dom.contains(selection.anchorNode)) {
          const { from, to } = own?.state.selection ?? { from: 0, to: 0 }
          return own && touched.current ? { kind: 'text', from, to } : null
        }
        const a = own.posAtDOM(selection.anchorNode, selection.anchorOffset)
        const b = own.posAtDOM(selection.focusNode!, selection.focusOffset)
        return { kind: 'text', from: Math.min(a, b), to: Math.max(a, b) }
      },
      step(by) {
        at = (at + by + places.length) % Math.max(1, places.length)
        const pos = places[at]
        if (pos === undefined || !view.current) return 0
        const { node } = view.current.domAtPos(pos)
        ;(node instanceof Element ? node : node.parentElement)?.scrollIntoView({ block: 'center' })
        return at + 1
      },
    })
    return () => onThen(null)
  }, [places, visible])
  /** Somebody has put the caret into this page: only then is its selection meant. */
  const touched = useRef(false)
  // biome-ignore lint/correctness/useExhaustiveDependencies: another moment begins untouched
  useEffect(() => {
    touched.current = false
  }, [looking.id])

  return (
    <div
      ref={scroller}
      className="min-h-0 flex-1 overflow-auto"
      hidden={!visible}
      data-testid="earlier-version"
      data-moment={looking.id}
      onFocusCapture={() => {
        touched.current = true
      }}
    >
      {then.kind === 'document' ? (
        <DocumentPage
          plain={plain}
          json={then.json}
          editable={false}
          marked={shown}
          looks={looks}
          onView={(shown) => {
            view.current = shown
          }}
        />
      ) : (
        <Blank title={t('common.this-moment-cannot-be-shown')}>{then.kind === 'damaged' && told(then.reason)}</Blank>
      )}
    </div>
  )
}
