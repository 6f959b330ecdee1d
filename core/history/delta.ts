// Tokens of a stream as what differs from tokens of an earlier one.
//
// An edit of the text replaces a few tokens where it is made. The tokens after it stay as they are, but for
// the distances of those that refer back across the edit: these grow by what the edit added. So a run of
// tokens is kept as the earlier tokens that it copies, those that it adds, and where in the text before
// the run the same thing happened (by how much places further back are shifted). Distances then follow;
// the few that do not are listed.
import { matchesIn, rowsOfTokens, tokensOfRows } from './chunks'
import { ByteReader, ByteWriter } from './varint'

/** Tokens that must be the same in a row for the two sides to have met again. */
const meeting = 6
/** Meeting again is looked for this many tokens ahead on either side, and this often. */
const lookAhead = 300
const mostSplices = 20_000

/** What is copied from the earlier tokens, what of them is passed over, and what is put in its place. */
interface Splice {
  copied: number
  skipped: number
  added: Uint32Array
}

const symbolOf = (token: number) => (token < 256 ? token : token & 0xffff0000)
const textLength = (token: number) => (token < 256 ? 1 : token >>> 16)

/** @returns null when the two have too little in common */
function align(old: Uint32Array, now: Uint32Array): Splice[] | null {
  const same = (i: number, j: number) => symbolOf(old[i]!) === symbolOf(now[j]!)
  const meets = (i: number, j: number) => {
    for (let at = 0; at < meeting; at++) {
      const oldEnds = i + at >= old.length
      const nowEnds = j + at >= now.length
      if (oldEnds || nowEnds) return oldEnds && nowEnds
      if (!same(i + at, j + at)) return false
    }
    return true
  }
  const splices: Splice[] = []
  let i = 0
  let j = 0
  while (i < old.length || j < now.length) {
    const from = i
    while (i < old.length && j < now.length && same(i, j)) {
      i++
      j++
    }
    const copied = i - from
    let skipped = -1
    let added = 0
    for (let sum = i < old.length || j < now.length ? 1 : 0; sum <= lookAhead && skipped < 0; sum++)
      for (let skip = 0; skip <= sum; skip++)
        if (i + skip <= old.length && j + sum - skip <= now.length && meets(i + skip, j + sum - skip)) {
          skipped = skip
          added = sum - skip
          break
        }
    if (skipped < 0) {
      // They do not meet again nearby: the rest stands for itself.
      if (now.length - j > now.length / 2) return null
      skipped = old.length - i
      added = now.length - j
    }
    splices.push({ copied, skipped, added: now.slice(j, j + added) })
    if (splices.length > mostSplices) return null
    i += skipped
    j += added
  }
  return splices
}

/** Where places in the earlier text are in the new one, as far as the splices tell; both count from the run's beginning. */
class Shifts {
  private readonly from: number[] = []
  private readonly by: number[] = []
  /** Places before the run, the nearest first. @param before pairs of the first place back and its shift */
  constructor(private readonly before: readonly [number, number][]) {}

  /** From this place on, text is shifted so. */
  add(place: number, shift: number): void {
    this.from.push(place)
    this.by.push(shift)
  }
  at(place: number): number {
    if (place < 0) {
      let shift = 0
      for (const [first, by] of this.before) {
        if (place > first) break
        shift = by
      }
      return shift
    }
    let low = -1
    let high = this.from.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (this.from[middle]! <= place) low = middle
      else high = middle - 1
    }
    return low < 0 ? 0 : this.by[low]!
  }
}

/** Calls back for each copied token with where it stands in both texts, in order. */
function eachCopied(
  old: Uint32Array,
  splices: readonly Splice[],
  onCopy: (index: number, token: number, oldPlace: number, newPlace: number) => void,
  onAdded: (index: number, added: Uint32Array) => void,
  onShift?: (oldPlace: number, shift: number) => void,
): void {
  let i = 0
  let index = 0
  let oldPlace = 0
  let newPlace = 0
  for (const { copied, skipped, added } of splices) {
    onShift?.(oldPlace, newPlace - oldPlace)
    for (const end = i + copied; i < end; i++) {
      onCopy(index++, old[i]!, oldPlace, newPlace)
      oldPlace += textLength(old[i]!)
      newPlace += textLength(old[i]!)
    }
    for (const end = i + skipped; i < end; i++) oldPlace += textLength(old[i]!)
    onAdded(index, added)
    index += added.length
    for (const token of added) newPlace += textLength(token)
  }
}

/** @returns null when the tokens have too little in common */
export function tokenDelta(old: Uint32Array, now: Uint32Array): Uint8Array | null {
  const splices = align(old, now)
  if (!splices) return null
  // What the references to before the run tell of shifts there, the nearest place first.
  const seen: [place: number, shift: number][] = []
  eachCopied(
    old,
    splices,
    (index, token, oldPlace, newPlace) => {
      const place = oldPlace - (token & 0xffff)
      if (token > 255 && place < 0) seen.push([place, newPlace - (now[index]! & 0xffff) - place])
    },
    () => {},
  )
  seen.sort((a, b) => b[0] - a[0])
  const before: [number, number][] = []
  let current = 0
  for (const [at, [place, shift]] of seen.entries()) {
    if (shift === current || seen[at + 1]?.[1] !== shift || seen[at + 2]?.[1] !== shift) continue
    before.push([place, shift])
    current = shift
  }
  const shifts = new Shifts(before)
  const out = new ByteWriter()
  const exceptions = new ByteWriter()
  let exceptionCount = 0
  let lastException = 0
  eachCopied(
    old,
    splices,
    (index, token, oldPlace, newPlace) => {
      if (token < 256) return
      const place = oldPlace - (token & 0xffff)
      const expected = newPlace - place - shifts.at(place)
      const distance = now[index]! & 0xffff
      if (expected === distance) return
      exceptions.number(index - lastException)
      exceptions.number(distance)
      lastException = index
      exceptionCount++
    },
    () => {},
    (place, shift) => shifts.add(place, shift),
  )
  out.number(now.length)
  out.number(before.length)
  let lastPlace = 0
  for (const [place, shift] of before) {
    out.number(lastPlace - place)
    out.number(zigzag(shift))
    lastPlace = place
  }
  out.number(splices.length)
  for (const { copied, skipped, added } of splices) {
    out.number(copied)
    out.number(skipped)
    out.number(added.length)
    if (!added.length) continue
    const { symbols, high, low } = rowsOfTokens(added)
    out.number(symbols.length)
    for (const row of [symbols, high, low]) out.raw(row)
  }
  out.number(exceptionCount)
  out.raw(exceptions.take())
  return out.take()
}

/** @param old the tokens that the delta was made from. @throws RangeError when it is none */
export function applyTokenDelta(old: Uint32Array, delta: Uint8Array): Uint32Array {
  const reader = new ByteReader(delta)
  const now = new Uint32Array(reader.number())
  const before: [number, number][] = []
  let lastPlace = 0
  for (let left = reader.number(); left > 0; left--) {
    lastPlace -= reader.number()
    before.push([lastPlace, unzigzag(reader.number())])
  }
  const splices: Splice[] = []
  for (let left = reader.number(); left > 0; left--) {
    const copied = reader.number()
    const skipped = reader.number()
    const count = reader.number()
    if (count === 0) {
      splices.push({ copied, skipped, added: new Uint32Array(0) })
      continue
    }
    const symbols = reader.raw(reader.number())
    const matches = matchesIn(symbols)
    splices.push({
      copied,
      skipped,
      added: tokensOfRows({ count, symbols, high: reader.raw(matches), low: reader.raw(matches) }),
    })
  }
  // In the order of the tokens, which are gone through in it too.
  const exceptions: [at: number, distance: number][] = []
  let index = 0
  for (let left = reader.number(); left > 0; left--) {
    index += reader.number()
    exceptions.push([index, reader.number()])
  }
  let next = 0
  let nextAt = exceptions[0]?.[0] ?? -1
  const shifts = new Shifts(before)
  eachCopied(
    old,
    splices,
    () => {},
    () => {},
    (place, shift) => shifts.add(place, shift),
  )
  eachCopied(
    old,
    splices,
    (at, token, oldPlace, newPlace) => {
      if (token < 256) {
        now[at] = token
        return
      }
      if (at === nextAt) {
        now[at] = (token & 0xffff0000) | exceptions[next]![1]
        nextAt = exceptions[++next]?.[0] ?? -1
        return
      }
      const place = oldPlace - (token & 0xffff)
      now[at] = (token & 0xffff0000) | (newPlace - place - shifts.at(place))
    },
    (at, added) => now.set(added, at),
  )
  return now
}

const zigzag = (value: number) => (value < 0 ? -2 * value - 1 : 2 * value)
const unzigzag = (value: number) => (value % 2 ? -(value + 1) / 2 : value / 2)
