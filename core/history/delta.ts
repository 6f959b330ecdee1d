// Tokens of a stream as what differs from tokens of an earlier one.
//
// An edit of the text replaces a few tokens where it is made. The tokens after it stay as they are, but for
// the distances of those that refer back across the edit: these grow by what the edit added. So a run of
// tokens is kept as the earlier tokens that it copies, those that it adds, and where in the text before
// what it copies the same thing happened (by how much places further back are shifted). Distances then
// follow; the few that do not are listed.
import { align, type Splice } from './splices'

/** What makes a run of tokens out of an earlier one. */
export interface Delta {
  length: number
  splices: readonly Splice[]
  /** The place in the earlier text from which on the splices tell how places are shifted. */
  origin: number
  /** Before it: places, counted back from the origin, the nearest first, and how what lies there or further back is shifted. */
  before: readonly [place: number, shift: number][]
  /** Copied references whose distance does not follow, by their index in the run, in order. */
  exceptions: readonly [index: number, distance: number][]
}

export const textLength = (token: number): number => (token < 256 ? 1 : token >>> 16)
export const distanceOf = (token: number): number => token & 0xffff
/** No reference goes further back (RFC 1951 §2). */
export const furthest = 32_768

/** Where a splice begins, in tokens and in text, in the earlier run and in the new one. */
export interface Place {
  oldAt: number
  at: number
  oldText: number
  text: number
}

/** The place where each splice begins, and where what it adds begins. */
export function* placesOf(
  old: Uint32Array,
  splices: readonly Splice[],
): Generator<{ splice: Splice; begins: Place; adds: Place }> {
  let [oldAt, at, oldText, text] = [0, 0, 0, 0]
  for (const splice of splices) {
    const begins = { oldAt, at, oldText, text }
    let copied = 0
    for (const end = oldAt + splice.copied; oldAt < end; oldAt++) copied += textLength(old[oldAt]!)
    at += splice.copied
    oldText += copied
    text += copied
    yield { splice, begins, adds: { oldAt, at, oldText, text } }
    for (const end = oldAt + splice.skipped; oldAt < end; oldAt++) oldText += textLength(old[oldAt]!)
    at += splice.added.length
    for (const token of splice.added) text += textLength(token)
  }
}

/** Where the first copied token stands in the earlier text. */
export function originOf(old: Uint32Array, splices: readonly Splice[]): number {
  for (const { splice, begins } of placesOf(old, splices)) if (splice.copied > 0) return begins.oldText
  return 0
}

/** How far places of the earlier text are shifted in the new one. */
export class Shifts {
  /** From each of these places on, text is shifted so. */
  private readonly from: number[] = []
  private readonly by: number[] = []

  constructor(old: Uint32Array, { splices, origin, before }: Pick<Delta, 'splices' | 'origin' | 'before'>) {
    for (let at = before.length - 1; at >= 0; at--)
      this.add(at + 1 < before.length ? origin + before[at + 1]![0] + 1 : Number.NEGATIVE_INFINITY, before[at]![1])
    this.add(before.length ? origin + before[0]![0] + 1 : Number.NEGATIVE_INFINITY, 0)
    for (const { begins } of placesOf(old, splices))
      if (begins.oldText >= origin) this.add(begins.oldText, begins.text - begins.oldText)
  }
  private add(from: number, by: number): void {
    this.from.push(from)
    this.by.push(by)
  }
  at(place: number): number {
    let low = 0
    let high = this.from.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (this.from[middle]! <= place) low = middle
      else high = middle - 1
    }
    return this.by[low]!
  }
}

/** @param old the tokens that the delta was made from. @throws RangeError when it is none of theirs */
export function applyDelta(old: Uint32Array, delta: Delta, shifts = new Shifts(old, delta)): Uint32Array {
  const now = new Uint32Array(delta.length)
  for (const { splice, begins, adds } of placesOf(old, delta.splices)) {
    if (adds.oldAt > old.length || adds.at + splice.added.length > now.length)
      throw new RangeError('What differs is from other tokens.')
    now.set(old.subarray(begins.oldAt, adds.oldAt), begins.at)
    now.set(splice.added, adds.at)
    // References within the run stay as they are, and so do all that are further from its beginning than any goes back.
    let text = begins.oldText
    const moved = begins.text - begins.oldText
    for (let at = begins.oldAt; at < adds.oldAt && text - begins.oldText < furthest; at++) {
      const token = old[at]!
      const source = text - distanceOf(token)
      if (token > 255 && source < begins.oldText)
        now[begins.at + at - begins.oldAt] =
          (token & 0xffff0000) | ((text + moved - source - shifts.at(source)) & 0xffff)
      text += textLength(token)
    }
  }
  for (const [index, distance] of delta.exceptions) now[index] = (now[index]! & 0xffff0000) | distance
  return now
}

/** What makes one run of tokens out of another. */
export function deltaBetween(old: Uint32Array, now: Uint32Array): Delta {
  const splices = align(old, now)
  const origin = originOf(old, splices)
  const known = { length: now.length, splices, origin, before: shiftsBefore(old, now, splices, origin), exceptions: [] }
  const expected = applyDelta(old, known)
  const exceptions: [number, number][] = []
  for (let index = 0; index < now.length; index++)
    if (expected[index] !== now[index]) exceptions.push([index, distanceOf(now[index]!)])
  return { ...known, exceptions }
}

/** What references to before the origin tell of shifts there: three that agree are believed. */
function shiftsBefore(
  old: Uint32Array,
  now: Uint32Array,
  splices: readonly Splice[],
  origin: number,
): [place: number, shift: number][] {
  const seen: [place: number, shift: number][] = []
  for (const { begins, adds } of placesOf(old, splices)) {
    let text = begins.oldText
    const moved = begins.text - begins.oldText
    for (let at = begins.oldAt; at < adds.oldAt && text - origin < furthest; at++) {
      const token = old[at]!
      const source = text - distanceOf(token)
      if (token > 255 && source < origin)
        seen.push([source - origin, text + moved - distanceOf(now[begins.at + at - begins.oldAt]!) - source])
      text += textLength(token)
    }
  }
  seen.sort((a, b) => b[0] - a[0])
  const before: [number, number][] = []
  let current = 0
  for (const [at, [place, shift]] of seen.entries()) {
    if (shift === current || seen[at + 1]?.[1] !== shift || seen[at + 2]?.[1] !== shift) continue
    before.push([place, shift])
    current = shift
  }
  return before
}
