// What a paragraph is: text, a heading, or a named style of its file. What a style gives its words is marks of theirs, so
// that they are taken and given with it.
import type { Mark, Node } from 'prosemirror-model'
import type { Command } from 'prosemirror-state'
import { documentSchema } from '../../../core/content/document'
import type { StyleLook } from '../../../core/formats/docx/style-looks'

const { nodes, marks } = documentSchema

export interface Kind {
  /** 1 to 6; 0 for text. */
  heading: number
  /** A style of the file by its id; null for the usual one. */
  style: string | null
  /** What it gives its words. */
  marks: readonly string[]
}
export const usualKind = (heading: number): Kind => ({ heading, style: null, marks: [] })
export const kindOfLook = ({ id, heading, named, marks: own }: StyleLook): Kind => ({
  heading,
  style: named ? id : null,
  marks: own,
})

const markOf = (name: string): Mark => marks[name as 'strong'].create()

/** Makes the paragraphs of the selection paragraphs of a kind; where one cannot be it, it stays. @param looks those of the file's styles */
export const asKind =
  (kind: Kind, looks: () => readonly StyleLook[]): Command =>
  (state, dispatch) => {
    const { tr } = state
    const type = kind.heading ? nodes.heading : nodes.paragraph
    const givenTo = ({ attrs }: Node): readonly string[] => looks().find(({ id }) => id === attrs.style)?.marks ?? []
    const { from, to } = state.selection
    state.doc.nodesBetween(from, to, (node, at) => {
      if (!node.isTextblock) return true
      const $at = state.doc.resolve(at)
      if (!$at.parent.canReplaceWith($at.index(), $at.index() + 1, type)) return false
      const level = kind.heading ? { level: kind.heading } : {}
      const { align, style, look } = node.attrs
      if (node.type === type && style === kind.style && (node.attrs.level ?? 0) === kind.heading) return false
      tr.setNodeMarkup(at, type, { ...level, align, look, style: kind.style })
      const [start, end] = [at + 1, at + 1 + node.content.size]
      for (const name of givenTo(node)) if (!kind.marks.includes(name)) tr.removeMark(start, end, markOf(name))
      for (const name of kind.marks) if (!givenTo(node).includes(name)) tr.addMark(start, end, markOf(name))
      return false
    })
    if (!tr.docChanged) return false
    dispatch?.(tr.scrollIntoView())
    return true
  }

/** After a command that begins a paragraph: it goes on as the one before it was, and so do its words. */
export const inItsLook =
  (command: Command): Command =>
  (state, dispatch, view) => {
    const { $from } = state.selection
    const was = $from.parent
    return command(
      state,
      dispatch &&
        ((tr) => {
          const { $from: now } = tr.selection
          const begun = now.parent
          const plain = was.type === nodes.paragraph && begun.type === nodes.paragraph
          const { style, align, look } = was.attrs
          if (plain && begun.attrs.style === null && (style || align || look)) {
            tr.setNodeMarkup(now.before(), null, { ...begun.attrs, style, align, look })
            if (style) tr.ensureMarks(state.storedMarks ?? $from.marks())
          }
          dispatch(tr)
        }),
      view,
    )
  }
