// The names beside a new one: which has it, which is taken for it, which is so near that one of the
// two is likely a slip. Exact and alike names are found by key; near ones by one pass over the
// folder that gives up on a name at its second difference, so that 100,000 names take a few
// milliseconds and nothing but the names is kept.
import { nameKey, splitExtension } from './check'
import { skeleton } from './lookalike'

export interface Neighbour {
  name: string
  /** same: the database would refuse it. alike: only case, accents or look-alikes differ. near: one letter differs. */
  how: 'same' | 'alike' | 'near'
}

export class Neighbours {
  private readonly keys = new Set<string>()
  private readonly skeletons = new Map<string, string>()
  private readonly stems: string[] = []
  readonly names: readonly string[]

  /** @param names of files and folders in one place */
  constructor(names: readonly string[]) {
    this.names = names
    for (const name of names) {
      this.keys.add(nameKey(name))
      const bones = skeleton(name)
      this.skeletons.set(bones, name)
      this.stems.push(splitExtension(bones)[0])
    }
  }

  /** Whether a name is taken. @param except the file's own present name, which is not its neighbour */
  has(name: string, except?: string): boolean {
    return this.keys.has(nameKey(name)) && !(except !== undefined && nameKey(except) === nameKey(name))
  }

  /** Keys of all names, for `freeName`. */
  get taken(): ReadonlySet<string> {
    return this.keys
  }

  /** Neighbours worth a word, the worst first, at most `most`. */
  of(name: string, except?: string, most = 3): Neighbour[] {
    const own = except === undefined ? null : nameKey(except)
    const found: Neighbour[] = []
    const key = nameKey(name)
    const bones = skeleton(name)
    const alike = this.skeletons.get(bones)
    if (alike !== undefined && nameKey(alike) !== own)
      found.push({ name: alike, how: nameKey(alike) === key ? 'same' : 'alike' })
    else if (this.keys.has(key) && key !== own) found.push({ name, how: 'same' })
    const stem = splitExtension(bones)[0]
    if (stem.length < 5) return found
    for (let index = 0; index < this.stems.length && found.length < most; index++) {
      const other = this.stems[index]!
      if (Math.abs(other.length - stem.length) > 1 || other === stem) continue
      if (!nearlySame(stem, other)) continue
      const there = this.names[index]!
      if (nameKey(there) !== own) found.push({ name: there, how: 'near' })
    }
    return found
  }
}

const isDigit = (code: number) => code >= 48 && code <= 57

/**
 * Whether one letter too many, too few, another, or two exchanged make one text the other. Digits
 * that differ are meant: LK07 and LK08 are two locks.
 */
export function nearlySame(a: string, b: string): boolean {
  const [short, long] = a.length <= b.length ? [a, b] : [b, a]
  if (long.length - short.length > 1 || a === b) return false
  let from = 0
  while (from < short.length && short.charCodeAt(from) === long.charCodeAt(from)) from++
  let endShort = short.length
  let endLong = long.length
  while (endShort > from && endLong > from && short.charCodeAt(endShort - 1) === long.charCodeAt(endLong - 1)) {
    endShort--
    endLong--
  }
  for (let at = from; at < endLong; at++) if (isDigit(long.charCodeAt(at))) return false
  for (let at = from; at < endShort; at++) if (isDigit(short.charCodeAt(at))) return false
  const [left, right] = [endShort - from, endLong - from]
  if (left <= 1 && right <= 1) return true
  return left === 2 && right === 2 && short[from] === long[from + 1] && short[from + 1] === long[from]
}
