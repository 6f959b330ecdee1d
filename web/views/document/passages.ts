// What a file says of stretches of its text, shown on the page: it follows what is written around it.
import type { Node } from 'prosemirror-model'
import { Plugin, PluginKey } from 'prosemirror-state'
import { Decoration, DecorationSet, type EditorView } from 'prosemirror-view'
import { type Passage, passagesIn } from '../../../core/content/passages'
import { t } from '../../words/all'
import { moment } from '../../words/formats'

const key = new PluginKey<DecorationSet>('passages')

const decorated = (passage: Passage): Decoration | null => {
  const { from, to } = passage
  switch (passage.kind) {
    case 'inserted': {
      const { who, when } = passage
      const title = t('document.inserted-by', { who: who || 'none', when: when ? moment(when) : 'none' })
      return Decoration.inline(from, to, { nodeName: 'ins', class: 'passage-inserted', title })
    }
    case 'comment': {
      const { who, words } = passage
      const title = t('document.comment-about-this', { who: who || 'none', words })
      return Decoration.inline(from, to, { nodeName: 'mark', class: 'passage-comment', title })
    }
    case 'tabs':
      return passage.every === null ? null : Decoration.node(from, to, { style: `tab-size: ${passage.every}pt` })
    // The page that is written on is one.
    case 'section':
      return null
  }
}

/** Shows what {@link showPassages} was given. */
export const passagesPlugin = (): Plugin =>
  new Plugin<DecorationSet>({
    key,
    state: {
      init: () => DecorationSet.empty,
      apply: (change, shown) => change.getMeta(key) ?? shown.map(change.mapping, change.doc),
    },
    props: { decorations: (state) => key.getState(state) },
  })

/** @param passages positions in `read`, of which the page shows a later state */
export function showPassages(view: EditorView, read: Node, passages: readonly Passage[]): void {
  const { doc, tr } = view.state
  const shown = DecorationSet.create(
    doc,
    passagesIn(passages, read, doc).flatMap((one) => decorated(one) ?? []),
  )
  view.dispatch(tr.setMeta(key, shown))
}
