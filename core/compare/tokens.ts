// A text block as words, what is between them, and leaves; and two rows of such tokens, one made of the other.
import type { Mark, Node } from 'prosemirror-model'

export interface Token {
  text: string
  /** Position in the document, and the one after it. */
  from: number
  to: number
  marks: readonly Mark[]
  /** Of an image: how large it is shown, and what it is said to show. */
  image?: { readonly width: number; readonly height: number; readonly alt: string }
  /** Of something that is said of the text: a comment, or a note at the foot of a page or at the end. */
  remark?: 'comment' | 'note'
  kind: 'word' | 'between' | 'image' | 'leaf' | 'end of paragraph'
  /** What it is compared by: of an image also what it shows. */
  key: string
}

// A number with its fraction, and a time, is one word.
const pieces = /\p{N}+(?:[.:]\p{N}+)+|[\p{L}\p{N}][\p{L}\p{N}\p{M}'’]*|\s+|[^\p{L}\p{N}\s]/gu
const isWord = /^[\p{L}\p{N}]/u

/** What a leaf that is no picture is known by. */
export const keyOfLeaf = (node: Node): string =>
  node.type.name === 'kept' ? `kept ${node.attrs.kind} ${node.attrs.words} ${node.attrs.xml}` : node.type.name

/** The tokens of a text block. @param at the position of its first letter */
export function tokensOf(block: Node, at: number): Token[] {
  const tokens: Token[] = []
  block.forEach((node, offset) => {
    const from = at + offset
    if (node.isText) {
      for (const match of node.text!.matchAll(pieces)) {
        const text = match[0]
        const start = from + match.index
        const last = tokens.at(-1)
        // A word that is half bold is one word.
        if (last?.kind === 'word' && last.to === start && isWord.test(text)) {
          last.text += text
          last.key = last.text
          last.to = start + text.length
          continue
        }
        tokens.push({
          text,
          key: text,
          from: start,
          to: start + text.length,
          marks: node.marks,
          kind: isWord.test(text) ? 'word' : 'between',
        })
      }
      return
    }
    const image = node.type.name === 'image'
    // What is kept is told by what it says, and is another one when anything of it is.
    const kept = node.type.name === 'kept'
    tokens.push({
      text: image
        ? `[image${node.attrs.alt ? `: ${node.attrs.alt}` : ''}]`
        : kept
          ? `[${node.attrs.words || '…'}]`
          : '\n',
      key: image ? `\ufffc${node.attrs.src as string}` : `\ufffc${keyOfLeaf(node)}`,
      from,
      to: from + node.nodeSize,
      marks: node.marks,
      kind: image ? 'image' : 'leaf',
      ...(kept && remarkKinds[node.attrs.kind] && { remark: remarkKinds[node.attrs.kind]! }),
      ...(image && { image: { width: node.attrs.width, height: node.attrs.height, alt: node.attrs.alt } }),
    })
  })
  return tokens
}

const remarkKinds: Readonly<Record<string, Token['remark']>> = { comment: 'comment', footnote: 'note', endnote: 'note' }

/** Where two rows of tokens differ: `older[from … to)` gave way to `newer[start … end)`. */
export interface Difference {
  from: number
  to: number
  start: number
  end: number
}

/** Steps of the search before it gives up: at this many a trace takes some nine megabytes and twenty milliseconds. */
export const mostSteps = 1500

/**
 * The fewest insertions and removals from one row to the other (E. W. Myers, An O(ND) difference algorithm and its
 * variations, 1986, section 4), gathered into differences a reader would call one: those with nothing but spaces and
 * punctuation between them.
 * @returns null when more than `mostSteps` insertions and removals are needed
 */
export function differences(older: readonly Token[], newer: readonly Token[]): Difference[] | null {
  let head = 0
  const shortest = Math.min(older.length, newer.length)
  while (head < shortest && older[head]!.key === newer[head]!.key) head++
  let tail = 0
  while (tail < shortest - head && older[older.length - 1 - tail]!.key === newer[newer.length - 1 - tail]!.key) tail++
  const ids = new Map<string, number>()
  const idsOf = (tokens: readonly Token[], past: number): Int32Array => {
    const found = new Int32Array(past - head)
    for (let at = head; at < past; at++) {
      const { key } = tokens[at]!
      let id = ids.get(key)
      if (id === undefined) ids.set(key, (id = ids.size))
      found[at - head] = id
    }
    return found
  }
  const edits = myers(idsOf(older, older.length - tail), idsOf(newer, newer.length - tail))
  if (!edits) return null
  const gathered: Difference[] = []
  for (const { from, to, start, end } of edits) {
    const next = { from: from + head, to: to + head, start: start + head, end: end + head }
    const last = gathered.at(-1)
    if (last && last.end <= next.start && onlyBetween(newer, last.end, next.start)) {
      last.to = next.to
      last.end = next.end
    } else gathered.push(next)
  }
  return gathered
}

/** At most one space or mark stands between two differences, and no end of a paragraph. */
function onlyBetween(tokens: readonly Token[], from: number, to: number): boolean {
  if (to - from > 2) return false
  for (let at = from; at < to; at++) if (tokens[at]!.kind !== 'between') return false
  return true
}

function myers(a: Int32Array, b: Int32Array): Difference[] | null {
  const [n, m] = [a.length, b.length]
  if (n === 0 || m === 0) return n + m === 0 ? [] : [{ from: 0, to: n, start: 0, end: m }]
  const most = Math.min(mostSteps, n + m)
  const offset = most + 1
  const furthest = new Int32Array(2 * most + 3)
  const trace: Int32Array[] = []
  let steps = 0
  search: for (; ; steps++) {
    if (steps > most) return null
    trace.push(furthest.slice(offset - steps - 1, offset + steps + 2))
    for (let k = -steps; k <= steps; k += 2) {
      const down = k === -steps || (k !== steps && furthest[offset + k - 1]! < furthest[offset + k + 1]!)
      let x = down ? furthest[offset + k + 1]! : furthest[offset + k - 1]! + 1
      let y = x - k
      while (x < n && y < m && a[x] === b[y]) {
        x++
        y++
      }
      furthest[offset + k] = x
      if (x >= n && y >= m) break search
    }
  }
  const found: Difference[] = []
  let [x, y] = [n, m]
  for (let step = steps; step > 0; step--) {
    const row = trace[step]!
    const middle = step + 1
    const k = x - y
    const down = k === -step || (k !== step && row[middle + k - 1]! < row[middle + k + 1]!)
    const fromK = down ? k + 1 : k - 1
    const fromX = row[middle + fromK]!
    const fromY = fromX - fromK
    const edit = down
      ? { from: fromX, to: fromX, start: fromY, end: fromY + 1 }
      : { from: fromX, to: fromX + 1, start: fromY, end: fromY }
    const next = found.at(-1)
    if (next && edit.to === next.from && edit.end === next.start) {
      next.from = edit.from
      next.start = edit.start
    } else found.push(edit)
    x = fromX
    y = fromY
  }
  return found.reverse()
}
