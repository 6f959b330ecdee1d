// What a file says of stretches of its text, shown on the page: it follows what is written around it.
import type { Node } from 'prosemirror-model'
import { Plugin, PluginKey } from 'prosemirror-state'
import { Decoration, DecorationSet, type EditorView } from 'prosemirror-view'
import { type Passage, passagesIn } from '../../../core/content/passages'
import { t } from '../../words/all'
import { moment } from '../../words/formats'
import { saidAnew, takesKept } from './kept'
import { remarksIn } from './remarks'

interface Shown {
  all: DecorationSet
  /** Without those of comments that are not in the text any more. */
  visible: DecorationSet
}
const key = new PluginKey<Shown>('passages')

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
      const said = who ? `${who}: ${words}` : words
      return Decoration.inline(from, to, { nodeName: 'mark', class: 'passage-comment', title }, { said })
    }
    case 'tabs':
      return passage.every === null ? null : Decoration.node(from, to, { style: `tab-size: ${passage.every}pt` })
    // The page that is written on is one.
    case 'section':
      return null
  }
}

/** Shows what {@link showPassages} was given. What a comment is about is seen as long as that is in the text. */
export const passagesPlugin = (): Plugin =>
  new Plugin<Shown>({
    key,
    state: {
      init: () => ({ all: DecorationSet.empty, visible: DecorationSet.empty }),
      apply(change, shown, before) {
        const given: DecorationSet | undefined = change.getMeta(key)
        if (given) return { all: given, visible: given }
        if (!change.docChanged) return shown
        const all = shown.all.map(change.mapping, change.doc)
        // A comment that says something else is still about it; else one is looked for where some came or went.
        const mayCome = /^(paste|drop)$/.test(change.getMeta('uiEvent') ?? '') || change.getMeta('history$')
        const same = change.getMeta(saidAnew) || !(takesKept(change) || mayCome)
        if (same) return { all, visible: shown.visible.map(change.mapping, change.doc) }
        const [was, is] = [before.doc, change.doc].map(commentsSaid)
        const gone = all.find(undefined, undefined, ({ said }) => was!.has(said) && !is!.has(said))
        const back = all.find(undefined, undefined, ({ said }) => is!.has(said) && !was!.has(said))
        const visible = shown.visible.map(change.mapping, change.doc)
        return { all, visible: visible.remove(gone).add(change.doc, back) }
      },
    },
    props: { decorations: (state) => key.getState(state)?.visible },
  })
const commentsSaid = (doc: Node): Set<string> =>
  new Set(remarksIn(doc).flatMap(({ kind, kept }) => (kind === 'comment' ? [kept.words] : [])))

/** @param passages positions in `read`, of which the page shows a later state */
export function showPassages(view: EditorView, read: Node, passages: readonly Passage[]): void {
  const { doc, tr } = view.state
  const shown = DecorationSet.create(
    doc,
    passagesIn(passages, read, doc).flatMap((one) => decorated(one) ?? []),
  )
  view.dispatch(tr.setMeta(key, shown))
}
