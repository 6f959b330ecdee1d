// From one document to another by a few replacements, for an editor that keeps its cursor and its undo where
// they are: blocks that stay are not touched, and of those that changed only what differs.
import { Fragment, type Node, Slice } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { matchUp } from './sequence'

interface Replacement {
  from: number
  to: number
  slice: Slice
}

/** @returns replacements in the order of the older document, that do not touch one another */
function between(older: Node, newer: Node, at: number, out: Replacement[]): void {
  const keys = (node: Node) => node.content.content.map((child) => JSON.stringify(child.toJSON()))
  const [was, is] = [older.content.content, newer.content.content]
  const { pairs } = matchUp(keys(older), keys(newer), (i, j) => (was[i]!.type === is[j]!.type ? 0.5 : 0))
  let [i, j, pos] = [0, 0, at]
  const whole = (toOlder: number, toNewer: number) => {
    const from = pos
    for (; i < toOlder; i++) pos += was[i]!.nodeSize
    if (pos > from || toNewer > j)
      out.push({ from, to: pos, slice: new Slice(Fragment.fromArray(is.slice(j, toNewer)), 0, 0) })
    j = toNewer
  }
  for (const [a, b] of pairs) {
    whole(a, b)
    const [before, now] = [was[a]!, is[b]!]
    if (!before.eq(now)) {
      if (!before.sameMarkup(now))
        out.push({ from: pos, to: pos + before.nodeSize, slice: new Slice(Fragment.from(now), 0, 0) })
      else if (before.isTextblock) {
        const start = before.content.findDiffStart(now.content)!
        const { a: endOlder, b: endNewer } = before.content.findDiffEnd(now.content)!
        // What is the same at both ends may overlap, as in a word that is written twice.
        const overlap = Math.max(0, start - Math.min(endOlder, endNewer))
        out.push({
          from: pos + 1 + start,
          to: pos + 1 + endOlder + overlap,
          slice: now.slice(start, endNewer + overlap),
        })
      } else between(before, now, pos + 1, out)
    }
    pos += before.nodeSize
    i++
    j++
  }
  whole(was.length, is.length)
}

/** Steps that make `newer` of `older`. */
export function transformTo(older: Node, newer: Node): Transform {
  const replacements: Replacement[] = []
  between(older, newer, 0, replacements)
  const transform = new Transform(older)
  try {
    for (const { from, to, slice } of replacements.toReversed()) transform.replace(from, to, slice)
    if (transform.doc.content.eq(newer.content)) return transform
  } catch {
    // What fits only all at once is replaced all at once.
  }
  return new Transform(older).replaceWith(0, older.content.size, newer.content)
}
