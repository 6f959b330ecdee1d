// Two versions of a document, compared by what they say.
//
// Paragraphs and tables are laid beside each other in order, by what they say and by their likeness
// (sequence.ts). Of those left over, what says nearly the same on both sides has moved; what one paragraph said and
// now two neighbours say was split, and the other way round joined. Within what belongs together words are compared
// (tokens.ts), and words that stayed are compared by their look. Tables are compared by rows, columns and cells.
//
// Bounds: see sequence.ts and tokens.ts; past them a paragraph or a stretch counts as replaced, and `coarse` says so.

import type { Node } from 'prosemirror-model'
import { aboutOfDocument, fieldsBetween } from '../content/about'
import { withoutRanges } from '../content/comment-ranges'
import type { Page } from '../content/document'
import { edgeOf, edgesOf, inOrder, type PageEdge, storyOf, wordsAtEdge } from '../content/edges'
import { sizeOf } from '../content/paper-sizes'
import { matchUp } from '../content/sequence'
import { type Said, say } from '../words/said'
import { type DocumentChanges, Findings, type PlaceKind } from './findings'
import { compareTables } from './table'
import {
  bagOf,
  extent,
  likeness,
  opening,
  shared,
  type TextBlock,
  type Unit,
  unitsOf,
  withoutImages,
  wordsIn,
} from './text-blocks'
import { compareWords } from './words-within'

export type { DocumentChanges, Place, PlaceKind, SectionChange, Stretch } from './findings'

/** Paragraphs of more words than this are taken for moved when they say nearly the same. */
const movedWords = 3
const movedFrom = 0.6
/** Left-over paragraphs on a side, past which only those that say the same are looked for elsewhere. */
const mostLeftOver = 400

/** What the newer document has and has not beside the older one. */
export function compareDocuments(was: Node, is: Node): DocumentChanges {
  const found = new Findings()
  if (was.eq(is)) return found.changes
  const [older, newer] = [withoutRanges(was), withoutRanges(is)]
  const [before, after] = [unitsOf(older), unitsOf(newer)]
  const pairs = layBeside(before, after, found)
  compareUnits(before, after, pairs, found)
  compareEdges(older, newer, found)
  if (JSON.stringify(older.attrs.page) !== JSON.stringify(newer.attrs.page))
    found.add({
      kind: 'page',
      older: null,
      newer: null,
      section: '',
      before: sayPage(older.attrs.page),
      now: sayPage(newer.attrs.page),
    })
  compareAbout(older, newer, found)
  return found.finish(before, after)
}

/** What either says of itself, each field as one place. */
function compareAbout(older: Node, newer: Node, found: Findings): void {
  const [was, is] = [aboutOfDocument(older), aboutOfDocument(newer)]
  for (const field of fieldsBetween(was, is))
    found.add({
      kind: field,
      older: null,
      newer: null,
      section: '',
      before: was?.[field] ?? '',
      now: is?.[field] ?? '',
    })
}

/** A page in words: its size, how it lies, and its margins; millimetres. */
function sayPage({ width, height, top, right, bottom, left }: Page): Said {
  const name = sizeOf(width / 20, height / 20)
  const mm = (twips: number) => Math.round((twips * 25.4) / 1440)
  return say('changes.page-is', {
    known: name !== null,
    size: name?.toUpperCase() ?? '',
    width: mm(width),
    height: mm(height),
    wide: width > height,
    top: mm(top),
    right: mm(right),
    bottom: mm(bottom),
    left: mm(left),
  })
}

/** The heads and feet of pages, each as one place. */
function compareEdges(older: Node, newer: Node, found: Findings): void {
  const [before, after] = [edgesOf(older), edgesOf(newer)]
  for (const name of inOrder([...after, ...before.filter((one) => !edgeOf(after, one))])) {
    const [was, is] = [edgeOf(before, name), edgeOf(after, name)]
    if (was && is && storyOf(was).eq(storyOf(is))) continue
    const said = (edge: PageEdge | undefined) => (edge ? wordsAtEdge(storyOf(edge)) : '')
    const kind: PlaceKind = !was ? `${name.edge} added` : !is ? `${name.edge} removed` : name.edge
    found.add({ kind, older: null, newer: null, section: '', before: said(was), now: said(is) })
  }
}

/** What a unit says, without what its images show. */
const said = (unit: Unit) => (unit.kind === 'text' ? unit.text : withoutImages(unit.key))

/** Which unit is which; those that moved are there too. @returns older and newer index */
export function layBeside(before: readonly Unit[], after: readonly Unit[], found?: Findings): [number, number][] {
  const bags = [before, after].map((units) => units.map(() => undefined as ReadonlyMap<string, number> | undefined))
  const bag = (side: 0 | 1, at: number) => (bags[side]![at] ??= bagOf(said((side ? after : before)[at]!)))
  const like = (i: number, j: number) => (before[i]!.kind === after[j]!.kind ? likeness(bag(0, i), bag(1, j)) : 0)
  const keys = (units: readonly Unit[]) => units.map(({ key }) => key)
  const { pairs, coarse } = matchUp(keys(before), keys(after), like)
  if (found) found.changes.coarse ||= coarse
  const [takenBefore, takenAfter] = [new Set(pairs.map(([i]) => i)), new Set(pairs.map(([, j]) => j))]
  const left = before.flatMap((_, at) => (takenBefore.has(at) ? [] : [at]))
  const come = after.flatMap((_, at) => (takenAfter.has(at) ? [] : [at]))
  const telling = (unit: Unit) => unit.kind === 'table' || wordsIn(unit.text) >= movedWords
  // What says exactly the same elsewhere first, then what says nearly the same.
  const waiting = new Map<string, number[]>()
  for (const at of left)
    if (telling(before[at]!)) waiting.set(before[at]!.key, [...(waiting.get(before[at]!.key) ?? []), at])
  const moved: [number, number][] = []
  for (const at of come) {
    const was = waiting.get(after[at]!.key)?.shift()
    if (was !== undefined) moved.push([was, at])
  }
  const [gone, here] = [new Set(moved.map(([i]) => i)), new Set(moved.map(([, j]) => j))]
  if (left.length <= mostLeftOver && come.length <= mostLeftOver) {
    for (const j of come) {
      if (here.has(j) || !telling(after[j]!)) continue
      let best = -1
      let bestLike = movedFrom
      for (const i of left) {
        if (gone.has(i) || !telling(before[i]!)) continue
        const value = like(i, j)
        if (value >= bestLike) [best, bestLike] = [i, value]
      }
      if (best < 0) continue
      gone.add(best)
      moved.push([best, j])
    }
  }
  return [...pairs, ...moved].sort((a, b) => a[1] - b[1])
}

function compareUnits(
  before: readonly Unit[],
  after: readonly Unit[],
  pairs: readonly [number, number][],
  found: Findings,
) {
  const toNewer = new Map(pairs)
  const toOlder = new Map(pairs.map(([i, j]) => [j, i]))
  const movedPairs = new Set(outOfOrder(pairs))
  const { changes } = found
  const text = (units: readonly Unit[], at: number) => {
    const unit = units[at]
    return unit?.kind === 'text' ? unit : null
  }
  const doneBefore = new Set<number>()
  const doneAfter = new Set<number>()
  for (const [i, j] of pairs) {
    const [was, is] = [before[i]!, after[j]!]
    doneBefore.add(i)
    doneAfter.add(j)
    const moves = movedPairs.has(j)
    if (moves) {
      changes.movedFrom.push(extent(was))
      changes.moved.push(extent(is))
      const last = changes.places.at(-1)
      const [older, newer] = [extent(was), extent(is)]
      // Neighbours that moved together moved once.
      if (
        last?.kind === 'moved' &&
        movedPairs.has(j - 1) &&
        toOlder.get(j - 1) === i - 1 &&
        !was.key.startsWith('\u0003')
      ) {
        last.older!.to = older.to
        last.newer!.to = newer.to
      } else found.add({ kind: 'moved', older, newer, section: is.section, before: was.section, now: opening(is) })
    }
    if (was.kind === 'table' || is.kind === 'table') {
      if (was.kind === 'table' && is.kind === 'table') compareTables(was, is, found)
      continue
    }
    const olders = [was]
    const newers = [is]
    // Neighbours that came or went take part when this one was split into them, or joined from them.
    if (was.key !== is.key && !moves) {
      gather(is, was, newers, (at) => (toOlder.has(at) || doneAfter.has(at) ? null : text(after, at)), j, doneAfter)
      if (newers.length === 1)
        gather(
          was,
          is,
          olders,
          (at) => (toNewer.has(at) || doneBefore.has(at) ? null : text(before, at)),
          i,
          doneBefore,
        )
    }
    compareWords(olders, newers, found)
  }
  const whole = (unit: Unit, kind: 'added' | 'removed') => {
    const at = extent(unit)
    changes[kind].push(at)
    const words = unit.kind === 'text' ? wordsIn(unit.text) : 0
    found.count(unit.section, kind === 'added' ? words : 0, kind === 'removed' ? words : 0)
    const only = unit.kind === 'text' && /^\s*\ufffc\s*$/.test(unit.text) && unit.key.includes('\u0001data:')
    found.add({
      kind: unit.kind === 'table' ? `table ${kind}` : only ? `image ${kind}` : kind,
      older: kind === 'removed' ? at : null,
      newer: kind === 'added' ? at : null,
      section: unit.section,
      before: kind === 'removed' ? opening(unit, 200) : '',
      now: kind === 'added' ? opening(unit, 200) : '',
    })
  }
  // In order: a paragraph that is gone is told where it stood, after what stands before it.
  for (const [at, unit] of after.entries()) {
    if (doneAfter.has(at)) continue
    whole(unit, 'added')
    let near = at - 1
    while (near >= 0 && !toOlder.has(near)) near--
    const place = near < 0 ? 0 : extent(before[toOlder.get(near)!]!).to
    changes.places.at(-1)!.older = { from: place, to: place }
  }
  for (const [at, unit] of before.entries()) {
    if (doneBefore.has(at)) continue
    whole(unit, 'removed')
    let near = at - 1
    while (near >= 0 && !toNewer.has(near)) near--
    const after_ = near < 0 ? 0 : extent(after[toNewer.get(near)!]!).to
    changes.places.at(-1)!.newer = { from: after_, to: after_ }
  }
}

/** Adds the neighbours of a paragraph, behind and before it, that say what its other self says beyond it. */
function gather(
  from: TextBlock,
  other: TextBlock,
  group: TextBlock[],
  free: (at: number) => TextBlock | null,
  at: number,
  done: Set<number>,
): void {
  const rest = new Map(bagOf(other.text))
  const take = (block: TextBlock) => {
    for (const [word, count] of bagOf(block.text)) rest.set(word, (rest.get(word) ?? 0) - count)
  }
  take(from)
  for (const step of [1, -1])
    for (let next = at + step; ; next += step) {
      const block = free(next)
      if (!block) break
      const words = bagOf(block.text)
      const { both } = shared(words, new Map([...rest].filter(([, count]) => count > 0)))
      const size = [...words.values()].reduce((sum, count) => sum + count, 0)
      if (size < 2 || both < 0.6 * size) break
      take(block)
      done.add(next)
      if (step > 0) group.push(block)
      else group.unshift(block)
    }
}

/** Newer indices of pairs that are not in one another's order: all but the longest run that is. */
function outOfOrder(pairs: readonly [number, number][]): number[] {
  const tails: number[] = []
  const previous = new Int32Array(pairs.length).fill(-1)
  for (const [at, [older]] of pairs.entries()) {
    let low = 0
    let high = tails.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (pairs[tails[middle]!]![0] < older) low = middle + 1
      else high = middle
    }
    if (low > 0) previous[at] = tails[low - 1]!
    tails[low] = at
  }
  const kept = new Set<number>()
  for (let at = tails.at(-1) ?? -1; at >= 0; at = previous[at]!) kept.add(at)
  return pairs.flatMap(([, newer], at) => (kept.has(at) ? [] : [newer]))
}
