// Where pages begin, shown on the page that is written on: it follows what is written around it until it is asked anew.
import { type EditorState, Plugin, PluginKey } from 'prosemirror-state'
import { Decoration, DecorationSet, type EditorView } from 'prosemirror-view'
import { documentSchema } from '../../../core/content/document'
import type { PageBreak } from '../../../core/paper/page-breaks'
import { t } from '../../words/all'

const key = new PluginKey<DecorationSet>('page-begins')

const lineOf = ({ page, at }: PageBreak, drawn: boolean): Decoration =>
  Decoration.widget(
    at,
    () => {
      const line = document.createElement('span')
      line.className = drawn ? 'page-begins' : 'page-begins page-begins-at-break'
      line.dataset.words = t('document.page-begins', { page })
      line.ariaHidden = 'true'
      return line
    },
    { side: -1, page, key: `${page} ${drawn}`, ignoreSelection: true },
  )

/** Shows what {@link showPageBegins} was given. */
export const pageBeginsPlugin = (): Plugin =>
  new Plugin<DecorationSet>({
    key,
    state: {
      init: () => DecorationSet.empty,
      apply: (change, shown) => change.getMeta(key) ?? shown.map(change.mapping, change.doc),
    },
    props: { decorations: (state) => key.getState(state) },
  })

/** @param breaks places in the document as it is */
export function showPageBegins(view: EditorView, breaks: readonly PageBreak[]): void {
  const { doc, tr } = view.state
  if (!key.getState(view.state)) return
  const shown = breaks.flatMap((one) => {
    if (one.at > doc.content.size) return []
    const place = doc.resolve(one.at)
    // The break that somebody put there is shown already.
    const before = place.depth && place.start() === one.at ? doc.resolve(place.before()).nodeBefore : place.nodeBefore
    return [lineOf(one, before?.type !== documentSchema.nodes.page_break)]
  })
  view.dispatch(tr.setMeta(key, DecorationSet.create(doc, shown)).setMeta('addToHistory', false))
}

/** The page that a place is on; from 1. */
export function pageAt(state: EditorState, at: number): number {
  let page = 1
  for (const { spec } of key.getState(state)?.find(0, at) ?? []) page = Math.max(page, spec.page)
  return page
}
