// Two people's versions of a document, merged over the version that both began from. Blocks are laid beside
// each other level by level; a text block that both changed is merged word by word. Where both did something
// else in one place, both stand there and a conflict tells of it (sequence.ts).
import { Fragment, type Mark, type Node } from 'prosemirror-model'
import { aboutOfDocument, documentAbout, mergeAbout } from '../content/about'
import { documentFromJSON } from '../content/document'
import { blankStory, edgeOf, edgesOf, inOrder, type PageEdge, storyJSON, storyOf, withEdges } from '../content/edges'
import { mergeSequences } from './sequence'

/** A place where mine and theirs stand beside each other until somebody chooses. */
export interface DocumentConflict {
  /** What stands there now; positions in the merged document. */
  from: number
  to: number
  /** As JSON of nodes: what each side has there, and what was there before. */
  base: unknown[]
  mine: unknown[]
  theirs: unknown[]
  /** Nodes are inline ones of one text block. */
  inline: boolean
}
export interface MergedDocument {
  doc: Node
  /** In the order of the document. */
  conflicts: DocumentConflict[]
}

/** A conflict by the way to its parent, until positions are known. */
interface Found extends Omit<DocumentConflict, 'from' | 'to'> {
  path: number[]
  /** Children of the parent; offsets in a text block. */
  first: number
  past: number
  /** It is about the node at the end of the path, and not about what is in it. */
  itself?: boolean
}

/** @returns mine when theirs is the base, and the other way round; the same document whichever side is mine, but for conflicts */
export function mergeDocuments(base: Node, mine: Node, theirs: Node): MergedDocument {
  const found: Found[] = []
  const edges = mergeEdges(base, mine, theirs)
  const about = mergeAbout(aboutOfDocument(base), aboutOfDocument(mine), aboutOfDocument(theirs))
  const body = (doc: Node) => documentAbout(edgesOf(doc).length ? withEdges(doc, []) : doc, null)
  const merged = mergeNodes(body(base), body(mine), body(theirs), [], found)
  const doc = documentAbout(edges.length ? withEdges(merged, edges) : merged, about)
  const conflicts = found
    .filter(({ itself }) => !itself)
    .map(({ path, first, past, itself: _, ...rest }): DocumentConflict => {
      let node = doc
      let at = 0
      for (const index of path) {
        for (let child = 0; child < index; child++) at += node.child(child).nodeSize
        node = node.child(index)
        at++
      }
      if (rest.inline) return { ...rest, from: at + first, to: at + past }
      let from = at
      for (let child = 0; child < first; child++) from += node.child(child).nodeSize
      let to = from
      for (let child = first; child < past; child++) to += node.child(child).nodeSize
      return { ...rest, from, to }
    })
  return { doc, conflicts: conflicts.sort((a, b) => a.from - b.from) }
}

/** Heads and feet of pages, each as the small document that it is. Where both wrote in one place, theirs stands behind mine. */
function mergeEdges(base: Node, mine: Node, theirs: Node): PageEdge[] {
  const [was, is, others] = [edgesOf(base), edgesOf(mine), edgesOf(theirs)]
  const merged: PageEdge[] = []
  for (const name of [...is, ...others.filter((one) => !edgeOf(is, one))]) {
    const [before, own, other] = [edgeOf(was, name), edgeOf(is, name), edgeOf(others, name)]
    const same = (a: PageEdge | undefined, b: PageEdge | undefined) => JSON.stringify(a) === JSON.stringify(b)
    const taken = same(own, before) ? other : same(other, before) || same(own, other) || !other ? own : null
    // What one took away stays where the other wrote in it.
    if (taken !== null) {
      if (taken) merged.push(taken)
    } else if (!own) merged.push(other!)
    else {
      const empty = documentFromJSON(blankStory())
      const { doc, conflicts } = mergeDocuments(before ? storyOf(before) : empty, storyOf(own), storyOf(other!))
      const both = conflicts.length > 0 ? doc.copy(storyOf(own).content.append(storyOf(other!).content)) : doc
      merged.push({ ...own, json: storyJSON(both) })
    }
  }
  return inOrder(merged)
}

const keyOf = (node: Node): string => JSON.stringify(node.toJSON())
const json = (nodes: readonly Node[]) => nodes.map((node) => node.toJSON() as unknown)

function mergeNodes(base: Node, mine: Node, theirs: Node, path: number[], found: Found[]): Node {
  const shape = shapeOf(base, mine, theirs)
  const at = found.length
  const content = mine.isTextblock
    ? mergeInline(base, mine, theirs, path, found)
    : mergeChildren(base, mine, theirs, path, found)
  if (shape.type.validContent(content)) {
    const merged = shape.type.create(shape.attrs, content, shape.marks)
    // What the block is, both made something else of: theirs waits beside it.
    if (shape.other?.type.validContent(content))
      found.push({
        path,
        first: 0,
        past: 0,
        inline: false,
        itself: true,
        base: json([base]),
        mine: json([merged]),
        theirs: json([shape.other.type.create(shape.other.attrs, content, shape.marks)]),
      })
    return merged
  }
  // Together they are nothing that a document can hold: mine stands, and theirs waits beside it.
  found.length = at
  found.push({
    path,
    first: 0,
    past: mine.isTextblock ? mine.content.size : mine.childCount,
    inline: mine.isTextblock,
    base: json(base.content.content),
    mine: json(mine.content.content),
    theirs: json(theirs.content.content),
  })
  return mine
}

/**
 * Type and attributes, each from whichever side changed it; mine where both did.
 * @returns also the shape that has theirs where both did, when there is such a place
 */
function shapeOf(base: Node, mine: Node, theirs: Node) {
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
  const type = base.type === mine.type ? theirs.type : mine.type
  const attrs: Record<string, unknown> = {}
  const others: Record<string, unknown> = {}
  let differ = mine.type !== theirs.type && base.type !== mine.type && base.type !== theirs.type
  for (const name of Object.keys(type.spec.attrs ?? {})) {
    const [was, is, other] = [base.attrs[name], mine.attrs[name], theirs.attrs[name]]
    const [mineChanged, theirsChanged] = [is !== undefined && !same(is, was), other !== undefined && !same(other, was)]
    attrs[name] = mineChanged || other === undefined ? is : other
    others[name] = theirsChanged || is === undefined ? other : is
    if (mineChanged && theirsChanged && !same(is, other)) differ = true
  }
  return {
    type,
    attrs,
    marks: mine.marks,
    other: differ ? { type: differ && theirs.type !== type ? theirs.type : type, attrs: others } : null,
  }
}

function mergeChildren(base: Node, mine: Node, theirs: Node, path: number[], found: Found[]): Fragment {
  const pending: Found[][] = []
  const { items, merged, conflicts } = mergeSequences(
    base.content.content,
    mine.content.content,
    theirs.content.content,
    {
      key: keyOf,
      likeness: likeBlocks,
      both: (was, is, other) => {
        const inside: Found[] = []
        pending.push(inside)
        return mergeNodes(was, is, other, [], inside)
      },
    },
  )
  for (const [index, inside] of pending.entries())
    for (const one of inside) {
      const at = merged[index]!
      if (one.itself) found.push({ ...one, itself: false, path, first: at, past: at + 1 })
      else found.push({ ...one, path: [...path, at, ...one.path] })
    }
  for (const { from, to, ...sides } of conflicts)
    found.push({
      path,
      first: from,
      past: to,
      inline: false,
      base: json(sides.base),
      mine: json(sides.mine),
      theirs: json(sides.theirs),
    })
  return Fragment.fromArray([...items])
}

/** Former and later selves of a block share its kind and, if it has text, words. */
function likeBlocks(a: Node, b: Node): number {
  if (a.isTextblock !== b.isTextblock || (!a.isTextblock && a.type !== b.type)) return 0
  const [was, is] = [a.textContent, b.textContent]
  if (was === is) return a.type === b.type ? 1 : 0.9
  const words = new Map<string, number>()
  const before = was.split(/\s+/).filter(Boolean)
  for (const word of before) words.set(word, (words.get(word) ?? 0) + 1)
  let same = 0
  const now = is.split(/\s+/).filter(Boolean)
  for (const word of now) {
    const left = words.get(word) ?? 0
    if (left === 0) continue
    same++
    words.set(word, left - 1)
  }
  return (2 * same) / Math.max(1, before.length + now.length)
}

/** A text block as words, what is between them, and leaves. */
function wordsOf(block: Node): Node[] {
  const words: Node[] = []
  block.forEach((node) => {
    if (!node.isText) words.push(node)
    else
      for (const [text] of node.text!.matchAll(/[\p{L}\p{N}\p{M}'’]+|\s+|[^\p{L}\p{N}\p{M}\s'’]/gu))
        words.push(block.type.schema.text(text, node.marks))
  })
  return words
}

function mergeInline(base: Node, mine: Node, theirs: Node, path: number[], found: Found[]): Fragment {
  const marks = (a: Node, b: Node, c: Node): readonly Mark[] => {
    // A mark is there when a side put it there, or both left it.
    const has = (node: Node, mark: Mark) => node.marks.some((one) => one.eq(mark))
    const all = [...a.marks, ...b.marks, ...c.marks].filter(
      (mark, at, list) => list.findIndex((one) => one.eq(mark)) === at,
    )
    const kept = all.filter((mark) => (has(b, mark) === has(a, mark) ? has(c, mark) : has(b, mark)))
    return kept.reduce<readonly Mark[]>((set, mark) => mark.addToSet(set), [])
  }
  const { items, conflicts } = mergeSequences(wordsOf(base), wordsOf(mine), wordsOf(theirs), {
    key: (node) =>
      node.isText ? `${node.text}\u0001${node.marks.map((mark) => JSON.stringify(mark.toJSON())).join()}` : keyOf(node),
    // The same word in another look is the same word.
    likeness: (a, b) => (a.isText && b.isText && a.text === b.text ? 1 : 0),
    both: (was, is, other) => (was.isText ? is.mark(marks(was, is, other)) : is),
    // Two words never become one.
    between: (a, b) =>
      /[\p{L}\p{N}]$/u.test(a.text ?? '') && /^[\p{L}\p{N}]/u.test(b.text ?? '') ? [base.type.schema.text(' ')] : [],
  })
  const offsets = [0]
  for (const item of items) offsets.push(offsets.at(-1)! + item.nodeSize)
  for (const { from, to, ...sides } of conflicts)
    found.push({
      path,
      first: offsets[from]!,
      past: offsets[to]!,
      inline: true,
      base: json(sides.base),
      mine: json(sides.mine),
      theirs: json(sides.theirs),
    })
  return Fragment.fromArray([...items])
}
