// From one document to another by a few replacements, for an editor that keeps its cursor and its undo where
// they are: blocks that stay are not touched, and of those that changed only what differs. All of them make the one
// document of the other exactly; some of them bring over only a part.
import { Fragment, type Node, Slice } from 'prosemirror-model'
import { DocAttrStep, Transform } from 'prosemirror-transform'
import { matchUp } from '../content/sequence'
import type { Stretch } from './findings'
import { bagOf, likeness } from './text-blocks'

interface Replacement {
  from: number
  to: number
  slice: Slice
}

/** Which changes are brought over: those that touch one of these. */
export interface Part {
  /** In the document that is changed. */
  there?: readonly Stretch[]
  /** In the document that it is changed to. */
  here?: readonly Stretch[]
}
const touches = (stretches: readonly Stretch[] | undefined, from: number, to: number) =>
  stretches?.some((one) => (one.from < to && from < one.to) || (one.from === from && one.to === to)) ?? false
const covers = (stretches: readonly Stretch[] | undefined, from: number, to: number) =>
  stretches?.some((one) => one.from <= from && to <= one.to) ?? false

/**
 * Collects replacements in the order of the older document, that do not touch one another.
 * @param at position of the older node's first child; `start` that of the newer one
 * @param part null for all of it
 */
function between(older: Node, newer: Node, at: number, start: number, part: Part | null, out: Replacement[]): void {
  const keys = (node: Node) => node.content.content.map((child) => JSON.stringify(child.toJSON()))
  const [was, is] = [older.content.content, newer.content.content]
  const bags = [was, is].map((nodes) => nodes.map(() => undefined as ReadonlyMap<string, number> | undefined))
  const bag = (side: 0 | 1, index: number) => (bags[side]![index] ??= bagOf((side ? is : was)[index]!.textContent))
  const { pairs } = matchUp(keys(older), keys(newer), (i, j) => {
    if (was[i]!.type !== is[j]!.type) return 0
    return Math.max(was[i]!.isTextblock ? 0 : 0.3, likeness(bag(0, i), bag(1, j)))
  })
  let [i, j, pos, here] = [0, 0, at, start]
  const whole = (toOlder: number, toNewer: number) => {
    const from = pos
    const hereFrom = here
    for (; i < toOlder; i++) pos += was[i]!.nodeSize
    const come: Node[] = []
    for (; j < toNewer; j++) {
      const child = is[j]!
      if (!part || touches(part.here, here, here + child.nodeSize) || touches(part.there, from, pos)) come.push(child)
      here += child.nodeSize
    }
    if (pos === from && !come.length) return
    // What only the older one has goes when it was asked for, or lies within what was.
    const goes =
      !part ||
      touches(part.there, from, pos) ||
      (covers(part.here, hereFrom - 1, here + 1) && newer.type.name !== 'doc')
    if (goes) out.push({ from, to: pos, slice: new Slice(Fragment.fromArray(come), 0, 0) })
    else if (come.length) out.push({ from, to: from, slice: new Slice(Fragment.fromArray(come), 0, 0) })
  }
  for (const [a, b] of pairs) {
    whole(a, b)
    const [before, now] = [was[a]!, is[b]!]
    const asked =
      !part || touches(part.there, pos, pos + before.nodeSize) || touches(part.here, here, here + now.nodeSize)
    if (asked && !before.eq(now)) {
      if (before.isTextblock && before.sameMarkup(now)) {
        const first = before.content.findDiffStart(now.content)!
        const { a: endOlder, b: endNewer } = before.content.findDiffEnd(now.content)!
        // What is the same at both ends may overlap, as in a word that is written twice.
        const overlap = Math.max(0, first - Math.min(endOlder, endNewer))
        out.push({
          from: pos + 1 + first,
          to: pos + 1 + endOlder + overlap,
          slice: now.slice(first, endNewer + overlap),
        })
      } else if (before.isTextblock || !before.sameMarkup(now) || before.isLeaf)
        out.push({ from: pos, to: pos + before.nodeSize, slice: new Slice(Fragment.from(now), 0, 0) })
      else between(before, now, pos + 1, here + 1, part, out)
    }
    pos += before.nodeSize
    here += now.nodeSize
    i++
    j++
  }
  whole(was.length, is.length)
}

/** Steps that make `newer` of `older`: applied to the older one they give the newer one exactly. */
export function transformTo(older: Node, newer: Node): Transform {
  const page = (transform: Transform) => {
    for (const [name, value] of Object.entries(newer.attrs))
      if (JSON.stringify(value) !== JSON.stringify(older.attrs[name])) transform.step(new DocAttrStep(name, value))
    return transform
  }
  const replacements: Replacement[] = []
  between(older, newer, 0, 0, null, replacements)
  const transform = new Transform(older)
  try {
    for (const { from, to, slice } of replacements.toReversed()) transform.replace(from, to, slice)
    if (transform.doc.content.eq(newer.content)) return page(transform)
  } catch {
    // What fits only all at once is replaced all at once.
  }
  return page(new Transform(older).replaceWith(0, older.content.size, newer.content))
}

/**
 * Brings a part of `newer` over into `older`: paragraphs, rows and tables that the part touches become as they are
 * there, and those that are not there any more come in where they stood. Nothing else is changed or taken away.
 * @throws RangeError when what is asked for cannot stand where it belongs
 */
export function bringOver(older: Node, newer: Node, part: Part): Transform {
  const replacements: Replacement[] = []
  between(older, newer, 0, 0, part, replacements)
  const transform = new Transform(older)
  for (const { from, to, slice } of replacements.toReversed()) transform.replace(from, to, slice)
  transform.doc.check()
  return transform
}
