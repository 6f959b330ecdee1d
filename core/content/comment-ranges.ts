// What a comment that was written here is about: a mark on the words, which its file gets as the beginning and the end of
// a range (ECMA-376 part 1, §17.13.4.3 and §17.13.4.4; ISO/IEC 26300-1, §14.2). What files say of that themselves is no
// part of what is edited (passages.ts); so this is none of the text, either: two texts that differ in it alone are the same.
import { Fragment, type Mark, type Node, type ResolvedPos } from 'prosemirror-model'
import { documentSchema } from './document'
import type { Kept } from './kept'

const { about } = documentSchema.marks

/** Who wrote a comment and when, which tells it from the others; null for what is no comment that can be written about words. */
export function keyOfComment({ kind, xml }: Pick<Kept, 'kind' | 'xml'>): string | null {
  if (kind !== 'comment') return null
  if (xml.startsWith('<office:annotation')) {
    const inside = (name: string) => new RegExp(`<dc:${name}>([^<]*)</dc:${name}>`).exec(xml)?.[1]
    const [who, when] = [inside('creator'), inside('date')]
    return who !== undefined && when ? `${when} ${who}` : null
  }
  const tag = /^<w:comment\s[^>]*>/.exec(xml)?.[0] ?? ''
  const of = (name: string) => new RegExp(`\\sw:${name}="([^"]*)"`).exec(tag)?.[1]
  const [who, when] = [of('author'), of('date')]
  return who !== undefined && when ? `${when} ${who}` : null
}

export interface CommentRange {
  comment: string
  from: number
  to: number
}
/**
 * The words that comments are about; positions in the text.
 * @param known the comments that are meant: those that are in the text
 */
export function commentRanges(doc: Node, known?: ReadonlySet<string>): CommentRange[] {
  const found = new Map<string, CommentRange>()
  const there = new Set<string>(known)
  doc.descendants((node, at) => {
    if (!known && node.type.name === 'kept') there.add(keyOfComment(node.attrs as Kept) ?? '')
    for (const { type, attrs } of node.marks) {
      if (type !== about) continue
      const begun = found.get(attrs.comment)
      if (begun) begun.to = at + node.nodeSize
      else found.set(attrs.comment, { comment: attrs.comment, from: at, to: at + node.nodeSize })
    }
  })
  return [...found.values()].filter(({ comment }) => there.has(comment))
}

/** The text itself. */
export function withoutRanges(doc: Node): Node {
  const plain = (node: Node): Node => {
    if (node.isText || node.isLeaf)
      return node.marks.some(({ type }) => type === about) ? node.mark(about.removeFromSet(node.marks)) : node
    let changed = false
    const children = node.children.map((child) => {
      const now = plain(child)
      changed ||= now !== child
      return now
    })
    // Joined anew: what only differed in that is one text again.
    return changed ? node.copy(Fragment.fromArray(children)) : node
  }
  return plain(doc)
}

/** The link that a place is within: what is put in there belongs to it. */
export const linkAt = (place: ResolvedPos): readonly Mark[] =>
  place.marks().filter(({ type }) => type === documentSchema.marks.link)

/** A text with something put in at places of it; what is put in is no more than itself long. */
export function withPoints(doc: Node, points: readonly { at: number; node: Node }[]): Node {
  let now = doc
  for (const { at, node } of points.toSorted((a, b) => b.at - a.at)) {
    const place = now.resolve(at)
    if (!place.parent.inlineContent) continue
    const put = (parent: Node, depth: number): Node => {
      if (depth === place.depth)
        return parent.copy(
          parent.content
            .cut(0, place.parentOffset)
            .append(Fragment.from(node.mark(linkAt(place))))
            .append(parent.content.cut(place.parentOffset)),
        )
      const index = place.index(depth)
      return parent.copy(parent.content.replaceChild(index, put(parent.child(index), depth + 1)))
    }
    now = put(now, 0)
  }
  return now
}
