// Where a run of tokens holds what an earlier run held: as copies from it, in its order, and what stands
// between. Near a change the two are looked at side by side; where they do not meet again there, as when a
// chunk begins in the middle of an earlier one, places are looked up by what stands at them.

/** What is copied from the earlier tokens, what of them is passed over, and what is put in its place. */
export interface Splice {
  copied: number
  skipped: number
  added: Uint32Array
}

/** Tokens that must be the same in a row for the two sides to have met again. */
const meeting = 6
/** So many tokens ahead, of both sides together, are looked at side by side. */
const lookAhead = 100
/** Tokens that a place is looked up by, and how many such places are tried. */
const anchored = 8
const mostTried = 32
/** Passing over this many tokens must be worth another one that is the same. */
const passedPerSame = 32

/** A token as it is compared: distances change for the length of a window after an edit, and are told apart. */
const symbolOf = (token: number) => (token < 256 ? token : token & 0xffff0000)

export function align(old: Uint32Array, now: Uint32Array): Splice[] {
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
  let places: Places | null = null
  const splices: Splice[] = []
  let i = 0
  let j = 0
  while (i < old.length || j < now.length) {
    const from = i
    while (i < old.length && j < now.length && same(i, j)) {
      i++
      j++
    }
    const met =
      i === old.length && j === now.length
        ? { i, j }
        : (sideBySide(i, j, old.length, now.length, meets) ??
          (places ??= new Places(old)).next(now, i, j) ?? { i: old.length, j: now.length })
    splices.push({ copied: i - from, skipped: met.i - i, added: now.slice(j, met.j) })
    i = met.i
    j = met.j
  }
  return splices
}

function sideBySide(
  i: number,
  j: number,
  oldEnd: number,
  nowEnd: number,
  meets: (i: number, j: number) => boolean,
): { i: number; j: number } | null {
  for (let sum = 1; sum <= lookAhead; sum++)
    for (let skip = Math.max(0, sum - (nowEnd - j)); skip <= Math.min(sum, oldEnd - i); skip++)
      if (meets(i + skip, j + sum - skip)) return { i: i + skip, j: j + sum - skip }
  return null
}

const hashBits = 15

/** The places of tokens, by the few that follow. */
class Places {
  private readonly first = new Int32Array(1 << hashBits).fill(-1)
  private readonly following: Int32Array

  constructor(private readonly old: Uint32Array) {
    this.following = new Int32Array(old.length)
    for (let at = old.length - anchored; at >= 0; at--) {
      const hash = hashAt(old, at)
      this.following[at] = this.first[hash]!
      this.first[hash] = at
    }
  }

  /** The next place of each where both say the same for long enough to go there; null when there is none. */
  next(now: Uint32Array, i: number, j: number): { i: number; j: number } | null {
    const { old } = this
    for (let to = j; to + anchored <= now.length; to++) {
      let tried = 0
      for (let from = this.first[hashAt(now, to)]!; from >= 0 && tried < mostTried; from = this.following[from]!) {
        if (from < i) continue
        tried++
        const wanted = anchored + Math.floor((from - i) / passedPerSame)
        let long = 0
        while (from + long < old.length && to + long < now.length && long < wanted) {
          if (symbolOf(old[from + long]!) !== symbolOf(now[to + long]!)) break
          long++
        }
        if (long < wanted && (long < anchored || to + long < now.length)) continue
        let back = 0
        while (from - back > i && to - back > j && symbolOf(old[from - back - 1]!) === symbolOf(now[to - back - 1]!))
          back++
        return { i: from - back, j: to - back }
      }
    }
    return null
  }
}

/** By Fowler, Noll and Vo's way of mixing (FNV-1a, RFC 9923). */
function hashAt(tokens: Uint32Array, at: number): number {
  let hash = 0x811c9dc5
  for (let index = at; index < at + anchored; index++) hash = Math.imul(hash ^ symbolOf(tokens[index]!), 0x01000193)
  return (hash ^ (hash >>> 15)) & ((1 << hashBits) - 1)
}
