// The head and the foot of a document's pages, where they stand on paper: small documents that are written in like the
// page itself. Each step goes into the document that holds them, so that it is kept and undone with everything else.
import { ChevronDown, Plus } from 'lucide-react'
import { DocAttrStep } from 'prosemirror-transform'
import type { EditorView } from 'prosemirror-view'
import { type RefObject, useEffect, useImperativeHandle, useRef, useState } from 'react'
import { blankStory, type EdgeName, edgeKey, edgeOf, inOrder, type PageEdge } from '../../../core/content/edges'
import { type PageField, pageFields } from '../../../core/content/fields'
import type { StyleLook } from '../../../core/formats/docx/style-looks'
import { Button } from '../../design/controls'
import { Menu, MenuItem } from '../../design/overlay'
import { t } from '../../words/all'
import { EdgeText } from './edge-text'
import { useFacts } from './facts'
import { nameOfField } from './fields'

export interface EdgesDesk {
  /** Puts the caret into the head or the foot, which the document gets if it has none. */
  enter(edge: EdgeName['edge']): void
}

interface Edges {
  edges: readonly PageEdge[]
  looks: readonly StyleLook[]
  editable: boolean
  /** The view of the document that holds them. */
  main: RefObject<EditorView | null>
  /** Told which of them is being written in, and when none is. */
  onActive?: ((view: EditorView | null) => void) | undefined
  desk?: RefObject<EdgesDesk | null> | undefined
}

const setEdges = (main: EditorView, edges: readonly PageEdge[]) =>
  main.dispatch(main.state.tr.step(new DocAttrStep('edges', inOrder(edges))))

export function PageEdges({ edges, looks, editable, main, onActive, desk }: Edges) {
  const facts = useFacts()
  const ownFirst = edges.some(({ on }) => on === 'first')
  const [others, setOthers] = useState(false)
  const on = ownFirst && !others ? 'first' : 'all'
  /** Where the caret goes once it is there. */
  const [entering, setEntering] = useState<EdgeName['edge'] | null>(null)
  const enter = (edge: EdgeName['edge']) => {
    if (!main.current) return
    if (!edgeOf(edges, { edge, on })) setEdges(main.current, [...edges, { edge, on, json: blankStory() }])
    setEntering(edge)
  }
  useImperativeHandle(desk, () => ({ enter }))
  const toggleFirst = () => {
    if (!main.current) return
    const left = edges.filter((one) => one.on !== 'first')
    const first = (['head', 'foot'] as const).map(
      (edge): PageEdge => ({ edge, on: 'first', json: edgeOf(edges, { edge, on: 'all' })?.json ?? blankStory() }),
    )
    setEdges(main.current, ownFirst ? left : [...left, ...first])
  }
  return (['head', 'foot'] as const).map((edge) => {
    const name: EdgeName = { edge, on }
    const shown = edgeOf(edges, name)
    if (!shown && !editable) return null
    return (
      <Edge key={edge} edge={edge} editable={editable}>
        {shown ? (
          <EdgeText
            key={edgeKey(name)}
            shown={shown}
            facts={facts}
            looks={looks}
            editable={editable}
            main={main}
            onActive={onActive}
            focus={entering === edge}
            onFocused={() => setEntering(null)}
            tools={(view) => (
              <EdgeTools
                edge={edge}
                ownFirst={ownFirst}
                others={others}
                onOthers={(now) => {
                  setOthers(now)
                  setEntering(edge)
                }}
                onToggleFirst={() => {
                  toggleFirst()
                  setOthers(false)
                  setEntering(edge)
                }}
                view={view}
                main={main}
              />
            )}
          />
        ) : (
          <button type="button" tabIndex={-1} className="page-edge-add" onClick={() => enter(edge)}>
            <Plus className="size-3.5" aria-hidden />
            {t(edge === 'head' ? 'document.add-a-header' : 'document.add-a-footer')}
          </button>
        )}
      </Edge>
    )
  })
}

/** A margin of the page, which gives way to what stands in it. */
function Edge({ edge, editable, children }: { edge: EdgeName['edge']; editable: boolean; children: React.ReactNode }) {
  const own = useRef<HTMLElement>(null)
  useEffect(() => {
    const element = own.current!
    const page = element.parentElement!
    const side = edge === 'head' ? '--head-room' : '--foot-room'
    // Between the margins of the page, which give way on a narrow screen.
    const follow = () => {
      const { paddingLeft, paddingRight } = getComputedStyle(page)
      element.style.padding = `0 ${paddingRight} 0 ${paddingLeft}`
      page.style.setProperty(side, `${element.offsetHeight + 36}px`)
    }
    const watch = new ResizeObserver(follow)
    watch.observe(page)
    watch.observe(element)
    return () => {
      watch.disconnect()
      page.style.removeProperty(side)
    }
  }, [edge])
  return (
    <section
      ref={own}
      aria-label={t(edge === 'head' ? 'document.page-head' : 'document.page-foot')}
      className={`page-edge page-${edge} ${editable ? 'is-open' : ''}`}
    >
      {children}
    </section>
  )
}

/** What an edge offers while it is written in. */
function EdgeTools({
  edge,
  ownFirst,
  others,
  onOthers,
  onToggleFirst,
  view,
  main,
}: {
  edge: EdgeName['edge']
  ownFirst: boolean
  others: boolean
  onOthers: (others: boolean) => void
  onToggleFirst: () => void
  view: { insert(field: PageField): void; focus(): void }
  main: RefObject<EditorView | null>
}) {
  return (
    <div className="page-edge-tools" role="toolbar" aria-label={t('document.edge-tools')}>
      <b>{t('document.edge-on', { edge, on: ownFirst ? (others ? 'others' : 'first') : 'all' })}</b>
      <Menu
        align="start"
        returnTo={() => view.focus()}
        trigger={
          <Button look="quiet">
            {t('document.edge-insert')}
            <ChevronDown className="size-3.5" aria-hidden />
          </Button>
        }
      >
        {pageFields.map((field) => (
          <MenuItem key={field} onSelect={() => view.insert(field)}>
            {nameOfField(field)}
          </MenuItem>
        ))}
      </Menu>
      <label>
        <input type="checkbox" checked={ownFirst} onChange={onToggleFirst} />
        {t('document.first-page-differs')}
      </label>
      {ownFirst && (
        <Button look="quiet" onClick={() => onOthers(!others)}>
          {t(others ? 'document.to-the-first-page' : 'document.to-the-other-pages')}
        </Button>
      )}
      <Button look="quiet" onClick={() => main.current?.focus()}>
        {t('document.back-to-the-text')} <kbd>Esc</kbd>
      </Button>
    </div>
  )
}
