// Stretches of a document that its file says something of without a place for it in the text: that somebody put them in
// while changes were tracked, that a comment is about them, where their tabs stop. They are shown, follow what is
// written around them, and are no part of what is edited.
import type { Node } from 'prosemirror-model'
import type { Page } from './document'

/** Where text goes on behind a tab. */
export interface TabStop {
  /** From the text's left side, in points. */
  readonly at: number
  readonly kind: 'left' | 'center' | 'right'
  readonly dots: boolean
}

export type Passage = { readonly from: number; readonly to: number } & (
  | {
      readonly kind: 'inserted'
      /** Who put it in, as the file says it; empty for nobody. */
      readonly who: string
      /** ISO 8601; null where the file does not say. */
      readonly when: string | null
    }
  | { readonly kind: 'comment'; readonly who: string; readonly words: string }
  | {
      /** A whole paragraph. */
      readonly kind: 'tabs'
      /** From its text's left side, in points: the first one, where it is of that kind; null for another. */
      readonly every: number | null
      readonly stops: readonly TabStop[]
    }
  | {
      /** What ends a part of the text that has pages, or columns, of its own. */
      readonly kind: 'section'
      readonly page: Page
      readonly columns: number
      /** Between columns; points. */
      readonly gap: number
      /** It begins on the page that the one before it ends on. */
      readonly flows: boolean
    }
)

/**
 * Passages where they are in another state of their document: what lies before or behind everything that differs is
 * where it was, and of what reaches into it the rest is left.
 * @param passages positions in `before`
 */
export function passagesIn(passages: readonly Passage[], before: Node, now: Node): Passage[] {
  const start = before.content.findDiffStart(now.content)
  if (start === null) return [...passages]
  let { a, b } = before.content.findDiffEnd(now.content)!
  // What stands twice in a row is found from both sides.
  const over = Math.max(0, start - Math.min(a, b))
  a += over
  b += over
  const moved: Passage[] = []
  const put = (passage: Passage, from: number, to: number) => {
    if (from < to) moved.push({ ...passage, from, to })
  }
  for (const passage of passages) {
    const { from, to } = passage
    if (to <= start) put(passage, from, to)
    else if (from >= a) put(passage, from + b - a, to + b - a)
    // Where it ends there is an end, whatever is written in it.
    else if (passage.kind === 'section')
      put(passage, Math.min(from, start), Math.max(to >= a ? to + b - a : b, Math.min(from, start) + 1))
    // What is said of a paragraph as a whole is true of no part of it.
    else if (passage.kind !== 'tabs') {
      put(passage, from, Math.min(to, start))
      put(passage, Math.max(from, a) + b - a, to + b - a)
    }
  }
  return moved
}
