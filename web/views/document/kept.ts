// How a page shows what its lines keep beside text: a small sign or the words themselves, and all of it when it is chosen.
import { DOMParser, DOMSerializer, type Node } from 'prosemirror-model'
import { type EditorState, Plugin, TextSelection, type Transaction } from 'prosemirror-state'
import type { EditorView, NodeView, NodeViewConstructor } from 'prosemirror-view'
import { documentSchema } from '../../../core/content/document'
import { type PageField, pageFieldOf } from '../../../core/content/fields'
import type { Kept, KeptKind } from '../../../core/content/kept'
import { isField } from '../../../core/formats/docx/fields'
import { linesSaid } from '../../../core/formats/note-words'
import { remarkOf } from '../../../core/paper/remarks'
import { t } from '../../words/all'
import { nameOfField, noFacts, type PageFacts, resultOfField } from './fields'
import { opened, sealed } from './seal'

const names: Record<KeptKind, () => string> = {
  footnote: () => t('document.kept-footnote'),
  endnote: () => t('document.kept-endnote'),
  comment: () => t('document.kept-comment'),
  removed: () => t('document.kept-removed-text'),
  equation: () => t('document.kept-equation'),
  shape: () => t('document.kept-shape'),
  chart: () => t('document.kept-chart'),
  diagram: () => t('document.kept-diagram'),
  object: () => t('document.kept-object'),
  picture: () => t('document.kept-picture'),
  symbol: () => t('document.kept-symbol'),
  ruby: () => t('document.kept-ruby'),
  tab: () => t('document.kept-tab'),
  field: () => t('document.kept-field'),
}
/** "Footnote: See the lock diary." */
export const keptInWords = (kept: Kept): string => {
  const { words } = kept
  const kind = nameOf(kept)
  return words ? t('document.kept-says', { kind, words }) : kind
}
const nameOf = (kept: Kept): string => {
  const field = pageFieldOf(kept)
  return field ? nameOfField(field) : names[kept.kind]()
}

/** Signs that a reader of papers knows; their number is counted by the page (theme.css). */
const counted = new Set<KeptKind>(['footnote', 'endnote'])
/** Whose words stand in the line themselves. */
const spoken = new Set<KeptKind>(['removed', 'equation', 'ruby'])

function face(kept: Kept, facts: () => PageFacts): HTMLElement {
  const { kind, words } = kept
  const sign = document.createElement('span')
  sign.className = 'kept-face'
  const field = pageFieldOf(kept)
  if (field || isField(kept)) {
    // In the text itself a field shows what its file says of it.
    const live = words ? null : field
    sign.textContent = live ? resultOfField(live, facts()) : words
    if (live) sign.dataset.field = live
    return sign
  }
  if (counted.has(kind)) return sign
  if (spoken.has(kind) && words) sign.textContent = words
  else if (kind === 'comment') {
    const author = remarkOf(kept)?.who ?? ''
    const initials = author.match(/(?<![\p{L}\p{N}])[\p{L}\p{N}]/gu)?.join('') ?? ''
    sign.textContent = initials.slice(0, 3).toUpperCase() || '…'
  } else {
    const name = document.createElement('span')
    name.className = 'kept-name'
    name.textContent = names[kind]()
    sign.append(name)
    if (words) sign.append(` ${words}`)
  }
  return sign
}

/** What fields say once more, when more is known. */
export function refreshFields(page: HTMLElement, facts: PageFacts): void {
  for (const sign of page.querySelectorAll<HTMLElement>('.kept-face[data-field]'))
    sign.textContent = resultOfField(sign.dataset.field as PageField, facts)
}

/** @param can whether it may be removed here @param facts what its fields come to */
export const keptView =
  (can: boolean, facts: () => PageFacts = () => noFacts): NodeViewConstructor =>
  (node) => {
    const kept = node.attrs as Kept
    const dom = document.createElement('span')
    dom.className = `kept kept-${kept.kind}`
    dom.title = keptInWords(kept)
    const sign = face(kept, facts)
    sign.setAttribute('role', 'img')
    sign.setAttribute('aria-label', keptInWords(kept))
    dom.append(sign)
    let card: HTMLElement | null = null
    const shut = () => {
      card?.remove()
      card = null
    }
    return {
      dom,
      selectNode() {
        dom.classList.add('is-chosen')
        shut()
        card = document.createElement('span')
        card.className = 'kept-card'
        card.setAttribute('role', 'status')
        const name = document.createElement('b')
        name.textContent = nameOf(kept)
        card.append(name)
        if (kept.words) card.append(document.createElement('br'), kept.words)
        const how = document.createElement('span')
        how.className = 'kept-how'
        how.textContent = !can
          ? t('document.kept-how-read-only')
          : linesSaid(kept)
            ? t('document.kept-how-said')
            : t('document.kept-how')
        card.append(how)
        dom.append(card)
        // Beside the edge of the page it opens to the other side.
        const page = dom.closest('.page-text')?.parentElement?.getBoundingClientRect()
        if (page && card.getBoundingClientRect().right > page.right) card.classList.add('to-the-left')
      },
      deselectNode() {
        dom.classList.remove('is-chosen')
        shut()
      },
      ignoreMutation: () => true,
      destroy: shut,
    } satisfies NodeView
  }

/** A change that says otherwise what is there; nothing went. */
export const saidAnew = 'said anew'

/** Things that were in a document and are not any more, wherever they went. */
function gone(before: Node, after: Node): Kept[] {
  const left = new Map<string, number>()
  const each = (doc: Node, what: (kept: Kept, key: string) => void) =>
    doc.descendants((node) => {
      if (node.type.name === 'kept')
        what(node.attrs as Kept, `${node.attrs.kind} ${node.attrs.words} ${node.attrs.xml}`)
    })
  each(after, (_kept, key) => left.set(key, (left.get(key) ?? 0) + 1))
  const found: Kept[] = []
  each(before, (kept, key) => {
    const count = left.get(key) ?? 0
    if (count) left.set(key, count - 1)
    else found.push(kept)
  })
  return found
}

/**
 * Tells by name what went with what somebody removed; cut and undo tell for themselves.
 * @param tell is given the sentence
 */
export const tellsWhatGoes = (tell: (sentence: string) => void): Plugin =>
  new Plugin({
    appendTransaction(transactions, before: EditorState, after: EditorState) {
      const typed = transactions.some((one) => takesKept(one) && !movesKept(one))
      const quiet = transactions.some(
        (one) => one.getMeta('history$') || one.getMeta('followed') || one.getMeta(saidAnew),
      )
      if (!typed || quiet) return null
      const went = gone(before.doc, after.doc)
      const [first] = went
      if (first)
        tell(
          went.length === 1
            ? t('document.kept-gone', { kind: nameOf(first), words: first.words.slice(0, 80) || 'none' })
            : t('document.kept-gone-many', { n: went.length }),
        )
      return null
    },
  })

/** Whether what it takes away may come back elsewhere: it is cut, or dragged. */
export const movesKept = (one: Transaction): boolean => /^(cut|drop)$/.test(one.getMeta('uiEvent') ?? '')

/** Whether a step took anything of it away. */
export function takesKept({ steps, docs }: Transaction): boolean {
  return steps.some((step, index) => {
    let takes = false
    step.getMap().forEach((from, to) => {
      if (to > from)
        docs[index]!.nodesBetween(from, to, (node) => {
          if (node.type.name === 'kept') takes = true
          return !takes
        })
    })
    return takes
  })
}

/** The selection as the page has it, where the editor has not heard of it yet. */
function catchUp(view: EditorView): void {
  const there = view.dom.ownerDocument.getSelection()
  const { selection, doc, tr } = view.state
  if (!there?.anchorNode || !there.focusNode || !(selection instanceof TextSelection)) return
  if (!view.dom.contains(there.anchorNode) || !view.dom.contains(there.focusNode)) return
  const anchor = doc.resolve(view.posAtDOM(there.anchorNode, there.anchorOffset))
  const head = doc.resolve(view.posAtDOM(there.focusNode, there.focusOffset))
  if (anchor.pos === selection.anchor && head.pos === selection.head) return
  if (anchor.parent.inlineContent && head.parent.inlineContent)
    view.dispatch(tr.setSelection(new TextSelection(anchor, head)))
}
/**
 * The caret of a fast hand is ahead of what the editor knows of it: an arrow would pass over what it should choose, and
 * what is pasted, or a new line, would come where the caret was.
 */
export const caretKeptUp = new Plugin({
  props: {
    handleKeyDown(view, { key, shiftKey, ctrlKey, altKey, metaKey }) {
      const moves = /^(?:ArrowLeft|ArrowRight|Enter)$/.test(key) && !view.composing
      if (moves && !shiftKey && !ctrlKey && !altKey && !metaKey) catchUp(view)
      return false
    },
    handleDOMEvents: {
      paste: (view) => {
        catchUp(view)
        return false
      },
    },
  },
})

const usual = DOMSerializer.fromSchema(documentSchema)
/** What is copied holds all of it, so that it can come into another document; to other programs it is its words. */
export const keptSerializer = new DOMSerializer(
  {
    ...usual.nodes,
    kept: (node) => [
      'span',
      { class: 'kept', 'data-kept': node.attrs.kind, 'data-sealed': sealed(JSON.stringify(node.attrs)) },
      node.attrs.words,
    ],
  },
  usual.marks,
)
/** Only what this browser copied itself is taken as more than words: a page could put anything into the clipboard. */
export const keptParser = new DOMParser(documentSchema, [
  {
    tag: 'span[data-sealed]',
    node: 'kept',
    getAttrs: (dom: HTMLElement) => {
      const text = opened(dom.dataset.sealed ?? '')
      return text === null ? false : (JSON.parse(text) as Kept)
    },
  },
  ...DOMParser.fromSchema(documentSchema).rules,
])
