// How text and paragraphs look beside their style, changed: what is said of some of it changes, the rest of it stays.
import type { Mark } from 'prosemirror-model'
import { type Command, type EditorState, Plugin, PluginKey } from 'prosemirror-state'
import { Decoration, DecorationSet, type EditorView } from 'prosemirror-view'
import { documentSchema, hasMark, type Look } from '../../../core/content/document'
import { lookFrom, type ParagraphLook } from '../../../core/content/paragraph-look'

const { marks } = documentSchema
const noLook: Look = { color: null, fill: null, size: null, font: null }

/** Each trait that all of it has, null for none, undefined where it is not the same everywhere. */
export type CommonLook = { readonly [K in keyof Look]: Look[K] | undefined } & {
  readonly raised: boolean
  readonly lowered: boolean
}
const lookOf = (own: readonly Mark[]): Look => (hasMark(own, 'look')?.attrs as Look | undefined) ?? noLook

/** The marks of each stretch of what is selected, or of what is written next. */
function marksOf(state: EditorState): (readonly Mark[])[] {
  const { from, to, empty, $from } = state.selection
  if (empty) return [state.storedMarks ?? $from.marks()]
  const found: (readonly Mark[])[] = []
  state.doc.nodesBetween(from, to, (node) => {
    if (node.isText) found.push(node.marks)
  })
  return found
}
export function commonLook(state: EditorState): CommonLook {
  const all = marksOf(state)
  const first = lookOf(all[0] ?? [])
  const common: Record<string, unknown> = { ...first }
  for (const own of all.slice(1)) {
    const look = lookOf(own)
    for (const trait of Object.keys(noLook) as (keyof Look)[])
      if (look[trait] !== first[trait]) common[trait] = undefined
  }
  const each = (name: string) => all.length > 0 && all.every((own) => hasMark(own, name))
  return { ...(common as unknown as Look), raised: each('raised'), lowered: each('lowered') }
}

const withTraits = (own: readonly Mark[], traits: Partial<Look>): Mark | null => {
  const look = { ...lookOf(own), ...traits }
  return Object.values(look).every((value) => value === null) ? null : marks.look.create(look)
}

/** Text that is selected, or written next, with some traits. */
export const setLook =
  (traits: Partial<Look>): Command =>
  (state, dispatch) => {
    const { from, to, empty, $from } = state.selection
    const tr = state.tr
    if (empty) {
      const before = state.storedMarks ?? $from.marks()
      const mark = withTraits(before, traits)
      const others = before.filter((one) => one.type !== marks.look)
      dispatch?.(tr.setStoredMarks(mark ? mark.addToSet(others) : others))
      return true
    }
    state.doc.nodesBetween(from, to, (node, at) => {
      if (!node.isText) return
      const [begin, end] = [Math.max(from, at), Math.min(to, at + node.nodeSize)]
      const mark = withTraits(node.marks, traits)
      if (mark) tr.addMark(begin, end, mark)
      else tr.removeMark(begin, end, marks.look)
    })
    if (!tr.docChanged) return false
    dispatch?.(tr)
    return true
  }

/** Text as its paragraph's style has it; links stay. */
export const clearLooks: Command = (state, dispatch) => {
  const { from, to, empty, $from } = state.selection
  const tr = state.tr
  if (empty) {
    dispatch?.(tr.setStoredMarks((state.storedMarks ?? $from.marks()).filter((one) => one.type === marks.link)))
    return true
  }
  for (const type of Object.values(marks))
    if (type !== marks.link && type !== marks.about) tr.removeMark(from, to, type)
  state.doc.nodesBetween(from, to, (node, at) => {
    if (node.isTextblock && (node.attrs.look || node.attrs.align) && at >= from - 1 && at + node.nodeSize <= to + 1)
      tr.setNodeMarkup(tr.mapping.map(at), null, { ...node.attrs, look: null, align: null })
  })
  if (!tr.docChanged) return false
  dispatch?.(tr)
  return true
}

/** Paragraphs that are selected, with some of their look; what is undefined is as their style has it. */
export const setParagraphLook =
  (part: { readonly [K in keyof ParagraphLook]: ParagraphLook[K] | undefined }): Command =>
  (state, dispatch) => {
    const { from, to } = state.selection
    const tr = state.tr
    state.doc.nodesBetween(from, to, (node, at) => {
      if (!node.isTextblock) return
      const look = lookFrom({ ...(node.attrs.look as ParagraphLook | null), ...part })
      if (JSON.stringify(look) !== JSON.stringify(node.attrs.look)) tr.setNodeMarkup(at, null, { ...node.attrs, look })
    })
    if (!tr.docChanged) return false
    dispatch?.(tr)
    return true
  }
export const paragraphLookOf = ({ selection }: EditorState): ParagraphLook =>
  (selection.$from.parent.attrs.look as ParagraphLook | null) ?? {}

const key = new PluginKey<boolean>('selection-kept')
/** Shows what is selected also while the keys are elsewhere, as in the fields that change how it looks. */
export const selectionKept = (): Plugin =>
  new Plugin<boolean>({
    key,
    state: { init: () => false, apply: (change, shown) => change.getMeta(key) ?? shown },
    props: {
      decorations(state) {
        const { from, to, empty } = state.selection
        if (empty || !key.getState(state)) return null
        return DecorationSet.create(state.doc, [Decoration.inline(from, to, { class: 'selection-kept' })])
      },
    },
  })
export function keepSelection(view: EditorView, shown: boolean): void {
  if (view.isDestroyed || !key.get(view.state) || key.getState(view.state) === shown) return
  view.dispatch(view.state.tr.setMeta(key, shown).setMeta('addToHistory', false))
}
