// A packed text that was edited, packed again with the tokens that it was packed with (RFC 1951): what stands before the
// edit and behind it stays as it was coded, references across it reach as much further as the text grew, and only what
// the edit touched is searched for matches. So two versions of a file differ in what was written, and in nothing that a
// compressor decided otherwise, and packing takes no longer than reading.
import { DeflateMaker } from './make'
import { openDeflate } from './open'
import type { Block } from './plan'

const window = 32_768
const longest = 258
const shortest = 3
/** An edit of more than this share of a text is packed anew: little of the old coding would be left. */
const mostAnew = 0.3
/** By so much more than before may be written for a text before it is packed anew. */
const mostGrowth = 1.1
const someBytes = 512
/** Behind a difference the texts go on together where so many bytes are the same; looked for so far. */
const together = 12
const nearby = 24
const reachOf = 16_384

/** What stood in one place of the text before, and what stands there now. */
interface Hunk {
  from: number
  to: number
  start: number
  end: number
}

/**
 * @param packed the stream that `before` was unpacked from
 * @returns a stream that unpacks to `after`; null where packing anew is better, or the old stream is none
 */
export function resplice(packed: Uint8Array, before: Uint8Array, after: Uint8Array): Uint8Array | null {
  const hunks = hunksOf(before, after)
  const come = hunks.reduce((sum, { start, end }) => sum + end - start, 0)
  if (come > Math.max(someBytes, after.length * mostAnew)) return null
  const opened = tokensOf(packed)
  if (!opened) return null
  const tokens = new Tokens(after, hunks)
  let at = 0
  let index = 0
  const plan: Block[] = []
  for (const block of opened.plan) {
    const first = tokens.count
    let same = true
    for (const last = index + block.tokens; index < last; index++) {
      const token = opened.tokens[index]!
      same = tokens.carry(token, at) && same
      at += token < 256 ? 1 : token >>> 16
    }
    // What an edit at the end wrote belongs to the last block.
    if (block === opened.plan.at(-1)) same = tokens.fill(after.length) && same
    const count = tokens.count - first
    const own = block.kind === 'own' || block.kind === 'stored'
    plan.push(same || !own ? { ...block, tokens: count } : { kind: 'zlib', tokens: count })
  }
  if (at !== before.length) return null
  const made = streamOf(plan, tokens)
  const most = (packed.length * after.length * mostGrowth) / Math.max(1, before.length) + someBytes
  return made.length > most ? null : made
}

/** Where the two differ, in order; what is between is the same. */
function hunksOf(before: Uint8Array, after: Uint8Array): Hunk[] {
  const hunks: Hunk[] = []
  const suffix = commonSuffix(before, after)
  const [endBefore, endAfter] = [before.length - suffix, after.length - suffix]
  let [a, b] = [0, 0]
  for (;;) {
    while (a < endBefore && b < endAfter && before[a] === after[b]) {
      a++
      b++
    }
    if (a === endBefore && b === endAfter) return hunks
    const next = meeting(before, after, a, b, endBefore, endAfter) ?? [endBefore, endAfter]
    hunks.push({ from: a, to: next[0], start: b, end: next[1] })
    ;[a, b] = next
  }
}
function commonSuffix(a: Uint8Array, b: Uint8Array): number {
  const most = Math.min(a.length, b.length)
  let count = 0
  while (count < most && a[a.length - 1 - count] === b[b.length - 1 - count]) count++
  return count
}

/** The nearest places from which both go on with the same bytes. */
function meeting(
  before: Uint8Array,
  after: Uint8Array,
  a: number,
  b: number,
  endBefore: number,
  endAfter: number,
): [number, number] | null {
  const meet = (x: number, y: number) => {
    if (x + together > endBefore || y + together > endAfter) return false
    for (let one = 0; one < together; one++) if (before[x + one] !== after[y + one]) return false
    return true
  }
  for (let sum = 1; sum <= nearby; sum++) {
    // What was written over is as long as what is there now, mostly.
    const half = sum >> 1
    for (let off = 0; off <= half + 1; off++)
      for (const x of [half + off, half - off]) {
        const y = sum - x
        if (x >= 0 && y >= 0 && meet(a + x, b + y)) return [a + x, b + y]
      }
  }
  const key = (bytes: Uint8Array, at: number) => {
    let hash = 0
    for (let one = 0; one < together; one++) hash = (Math.imul(hash, 31) + bytes[at + one]!) | 0
    return hash
  }
  const places = new Map<number, number>()
  for (let x = Math.min(a + reachOf, endBefore - together); x >= a; x--) places.set(key(before, x), x)
  for (let y = b; y <= Math.min(b + reachOf, endAfter - together); y++) {
    const x = places.get(key(after, y))
    if (x !== undefined && meet(x, y)) return [x, y]
  }
  return null
}

function tokensOf(packed: Uint8Array): { tokens: Uint32Array; plan: readonly Block[] } | null {
  const opening = openDeflate(packed, 0)
  let tokens = new Uint32Array(Math.max(1024, packed.length))
  let count = 0
  for (let next = opening.next(); ; next = opening.next()) {
    if (next.done) return next.value && { tokens: tokens.subarray(0, count), plan: next.value.plan }
    const batch = next.value
    if (count + batch.length > tokens.length) {
      const larger = new Uint32Array(2 * tokens.length + batch.length)
      larger.set(tokens.subarray(0, count))
      tokens = larger
    }
    tokens.set(batch, count)
    count += batch.length
  }
}

function streamOf(plan: readonly Block[], tokens: Tokens): Uint8Array {
  const pieces: Uint8Array[] = []
  let length = 0
  const maker = new DeflateMaker(plan, (piece) => {
    pieces.push(piece.slice())
    length += piece.length
  })
  maker.tokens(tokens.all, 0, tokens.count)
  maker.end()
  const made = new Uint8Array(length)
  let at = 0
  for (const piece of pieces) {
    made.set(piece, at)
    at += piece.length
  }
  return made
}

/** The tokens of the text as it is now, in its order. */
class Tokens {
  all = new Uint32Array(4096)
  count = 0
  /** So much of the text has tokens. */
  private at = 0
  /** The hunk at or behind the place that is looked at. */
  private next = 0
  private readonly heads = new Int32Array(1 << 16).fill(-1)
  private hashed = -1

  constructor(
    private readonly after: Uint8Array,
    private readonly hunks: readonly Hunk[],
  ) {}

  private push(token: number): void {
    if (this.count === this.all.length) {
      const larger = new Uint32Array(2 * this.count)
      larger.set(this.all)
      this.all = larger
    }
    this.all[this.count++] = token
  }

  /** Takes over a token of the text before, if it says what stands there now. @param from where it stood @returns whether it is as it was */
  carry(token: number, from: number): boolean {
    while (this.hunks[this.next] && this.hunks[this.next]!.to <= from) this.next++
    const now = this.placeOf(from, this.next)
    if (now === null || now < this.at) return false
    if (token < 256) {
      if (this.after[now] !== token) return false
      const same = this.fill(now)
      this.push(token)
      this.at = now + 1
      return same
    }
    const length = token >>> 16
    const distance = token & 0xffff
    const source = this.placeOf(from - distance, this.hunkBehind(from - distance))
    const reach = [source === null ? distance : now - source, distance].find((one) => this.repeats(now, one, length))
    if (reach === undefined) return false
    const same = this.fill(now) && reach === distance
    this.push((length << 16) | reach)
    this.at = now + length
    return same
  }

  /** Where a place of the text before is now; null for what is not there any more. @param hunk the first that does not end before it */
  private placeOf(from: number, hunk: number): number | null {
    const own = this.hunks[hunk]
    if (own && own.from <= from && from < own.to) {
      const now = own.start + from - own.from
      return now < own.end ? now : null
    }
    const before = this.hunks[hunk - 1]
    return before ? before.end + from - before.to : from
  }
  private hunkBehind(from: number): number {
    let [low, high] = [0, this.next]
    while (low < high) {
      const middle = (low + high) >> 1
      if (this.hunks[middle]!.to <= from) low = middle + 1
      else high = middle
    }
    return low
  }

  private repeats(at: number, distance: number, length: number): boolean {
    const { after } = this
    if (distance < 1 || distance > window || distance > at || at + length > after.length) return false
    for (let one = at; one < at + length; one++) if (after[one] !== after[one - distance]) return false
    return true
  }

  /** Gives what has no tokens yet, up to a place, tokens of its own. @returns whether there was nothing */
  fill(to: number): boolean {
    if (this.at >= to) return true
    const { after, heads } = this
    const key = (at: number) =>
      (Math.imul(after[at]! | (after[at + 1]! << 8) | (after[at + 2]! << 16), 0x9e3779b1) >>> 16) & 0xffff
    for (let at = Math.max(this.hashed + 1, this.at - window); at < this.at; at++) heads[key(at)] = at
    while (this.at < to) {
      const { at } = this
      const found = at + shortest <= to ? heads[key(at)]! : -1
      let length = 0
      if (found >= 0 && at - found <= window)
        while (length < longest && at + length < to && after[found + length] === after[at + length]) length++
      this.push(length >= shortest ? (length << 16) | (at - found) : after[at]!)
      const next = at + (length >= shortest ? length : 1)
      for (let one = at; one < next; one++) heads[key(one)] = one
      this.at = next
    }
    this.hashed = this.at - 1
    return false
  }
}
