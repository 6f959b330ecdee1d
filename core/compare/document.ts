// Two versions of a document, compared by what they say. Text blocks (paragraphs, headings, cells)
// are aligned by their text, those that changed are paired with their likeliest former self, and
// within a pair words are compared. Formatting is not looked at here.
//
// Cost: the alignment is Myers' O(ND) difference (An O(ND) difference algorithm and its variations,
// 1986) as the package `diff` has it, bounded by `mostEdits`; past it the part between the common
// beginning and end counts as replaced, and `coarse` says so.
import { diffArrays, diffWordsWithSpace } from 'diff'
import type { Node } from 'prosemirror-model'

const mostEdits = 2000
/** Blocks are one another's former self when at least this share of their words is the same. */
const alike = 0.3

export interface Stretch {
  from: number
  to: number
}
export interface SectionChange {
  /** The heading it stands under; empty before the first one. */
  title: string
  wordsAdded: number
  wordsRemoved: number
}
export interface DocumentChanges {
  wordsAdded: number
  wordsRemoved: number
  /** In the order of the newer document; sections without changes are left out. */
  sections: SectionChange[]
  /** Positions in the older document of what the newer one does not have. */
  removed: Stretch[]
  /** Positions in the newer document of what the older one does not have. */
  added: Stretch[]
  coarse: boolean
}

interface Block {
  text: string
  /** Position of its first letter. */
  at: number
  section: string
}

/** Every text block with its text, in which each inline leaf stands as one letter, so that offsets are positions. */
function blocksOf(doc: Node): Block[] {
  const blocks: Block[] = []
  let section = ''
  doc.descendants((node, pos) => {
    if (!node.isTextblock) return true
    const text = node.textBetween(0, node.content.size, undefined, '\ufffc')
    if (node.type.name === 'heading') section = text.trim()
    if (text) blocks.push({ text, at: pos + 1, section })
    return false
  })
  return blocks
}

const wordsIn = (text: string): number => text.match(/[\p{L}\p{N}][\p{L}\p{N}\p{M}'’-]*|\ufffc/gu)?.length ?? 0

function likeness(a: string, b: string): number {
  const words = new Map<string, number>()
  for (const word of a.split(/\s+/)) words.set(word, (words.get(word) ?? 0) + 1)
  let same = 0
  const others = b.split(/\s+/)
  for (const word of others) {
    const left = words.get(word) ?? 0
    if (left > 0) {
      same++
      words.set(word, left - 1)
    }
  }
  return (2 * same) / (a.split(/\s+/).length + others.length)
}

/** What the newer document has and has not beside the older one. */
export function compareDocuments(older: Node, newer: Node): DocumentChanges {
  const changes: DocumentChanges = {
    wordsAdded: 0,
    wordsRemoved: 0,
    sections: [],
    removed: [],
    added: [],
    coarse: false,
  }
  if (older.eq(newer)) return changes
  const [before, after] = [blocksOf(older), blocksOf(newer)]
  const sections = new Map<string, SectionChange>()
  const section = (title: string): SectionChange => {
    let one = sections.get(title)
    if (!one) sections.set(title, (one = { title, wordsAdded: 0, wordsRemoved: 0 }))
    return one
  }
  const add = (block: Block, from: number, to: number) => {
    const words = wordsIn(block.text.slice(from, to))
    section(block.section).wordsAdded += words
    changes.wordsAdded += words
    changes.added.push({ from: block.at + from, to: block.at + to })
  }
  const remove = (block: Block, from: number, to: number, title: string) => {
    const words = wordsIn(block.text.slice(from, to))
    section(title).wordsRemoved += words
    changes.wordsRemoved += words
    changes.removed.push({ from: block.at + from, to: block.at + to })
  }
  const withinPair = (was: Block, is: Block) => {
    const pieces = diffWordsWithSpace(was.text, is.text, { maxEditLength: mostEdits })
    if (!pieces) {
      changes.coarse = true
      remove(was, 0, was.text.length, is.section)
      add(is, 0, is.text.length)
      return
    }
    let [old, now] = [0, 0]
    for (const { value, added, removed } of pieces) {
      if (removed) {
        remove(was, old, old + value.length, is.section)
        old += value.length
      } else if (added) {
        add(is, now, now + value.length)
        now += value.length
      } else {
        old += value.length
        now += value.length
      }
    }
  }
  /** Blocks that stand against each other: each new one takes the likeliest old one at or after the last one taken. */
  const replaced = (was: readonly Block[], is: readonly Block[]) => {
    let from = 0
    for (const block of is) {
      let best = -1
      let bestLikeness = alike
      for (let at = from; at < was.length && at < from + 40; at++) {
        const value = likeness(was[at]!.text, block.text)
        if (value > bestLikeness) [best, bestLikeness] = [at, value]
      }
      if (best < 0) add(block, 0, block.text.length)
      else {
        for (let at = from; at < best; at++) remove(was[at]!, 0, was[at]!.text.length, was[at]!.section)
        withinPair(was[best]!, block)
        from = best + 1
      }
    }
    for (const block of was.slice(from)) remove(block, 0, block.text.length, block.section)
  }

  let [head, tail] = [0, 0]
  const shortest = Math.min(before.length, after.length)
  while (head < shortest && before[head]!.text === after[head]!.text) head++
  while (tail < shortest - head && before.at(-1 - tail)!.text === after.at(-1 - tail)!.text) tail++
  const [midBefore, midAfter] = [before.slice(head, before.length - tail), after.slice(head, after.length - tail)]
  const runs = diffArrays(
    midBefore.map(({ text }) => text),
    midAfter.map(({ text }) => text),
    { maxEditLength: mostEdits },
  )
  if (!runs) {
    changes.coarse = true
    replaced(midBefore, midAfter)
  } else {
    let [old, now] = [0, 0]
    let pending: Block[] = []
    let arrived: Block[] = []
    for (const { value, added, removed } of runs) {
      if (removed) pending = pending.concat(midBefore.slice(old, (old += value.length)))
      else if (added) arrived = arrived.concat(midAfter.slice(now, (now += value.length)))
      else {
        replaced(pending, arrived)
        pending = []
        arrived = []
        old += value.length
        now += value.length
      }
    }
    replaced(pending, arrived)
  }
  const order = new Map([...before, ...after].map(({ section: title }, index) => [title, index]))
  changes.sections = [...sections.values()]
    .filter(({ wordsAdded, wordsRemoved }) => wordsAdded + wordsRemoved > 0)
    .sort((a, b) => (order.get(a.title) ?? 0) - (order.get(b.title) ?? 0))
  return changes
}
