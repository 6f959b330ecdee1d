// Three sequences merged: what both made of a common one. Each side is laid beside the base; between elements
// that stay, each side may have taken away, changed and put in. What only one side did is taken over, what
// both did alike is done once, and where both did something else in one place there is a conflict, in which
// everything that either has is kept.
import { matchUp } from '../content/sequence'

export interface SequenceRules<Item> {
  /** Items with the same key are the same. */
  key: (item: Item) => string
  /** 0 … 1, how likely one is the later self of the other. */
  likeness: (a: Item, b: Item) => number
  /** Merges an item that both sides changed. */
  both: (base: Item, mine: Item, theirs: Item) => Item
  /** What stands between mine and theirs where both are kept. */
  between?: (mine: Item, theirs: Item) => Item[]
}

/** A place where both did something else. The result holds the kept items at `from` … `to`. */
export interface SequenceConflict<Item> {
  from: number
  to: number
  base: Item[]
  mine: Item[]
  theirs: Item[]
}

export interface MergedSequence<Item> {
  items: Item[]
  /** For each item that both sides changed, its index in the result. */
  merged: number[]
  conflicts: SequenceConflict<Item>[]
}

export function mergeSequences<Item>(
  base: readonly Item[],
  mine: readonly Item[],
  theirs: readonly Item[],
  { key, likeness, both, between }: SequenceRules<Item>,
): MergedSequence<Item> {
  const keys = [base, mine, theirs].map((items) => items.map(key))
  const laid = (side: readonly Item[], sideKeys: readonly string[]) =>
    new Map(matchUp(keys[0]!, sideKeys, (i, j) => likeness(base[i]!, side[j]!)).pairs)
  const toMine = laid(mine, keys[1]!)
  const toTheirs = laid(theirs, keys[2]!)
  const result: MergedSequence<Item> = { items: [], merged: [], conflicts: [] }
  const { items } = result
  let m = 0
  let t = 0
  // The first element of the base since the last one that both still have.
  let from = 0
  const sameItems = (a: readonly Item[], b: readonly Item[]) =>
    a.length === b.length && a.every((item, at) => key(item) === key(b[at]!))

  /** Settles what lies before base index `until`, with both sides up to these indices. */
  const settle = (until: number, mineTo: number, theirsTo: number) => {
    const mineHas = mine.slice(m, mineTo)
    const theirsHas = theirs.slice(t, theirsTo)
    const was = base.slice(from, until)
    m = mineTo
    t = theirsTo
    const mineChanged = !sameItems(mineHas, was)
    const theirsChanged = !sameItems(theirsHas, was)
    from = until
    if (!mineChanged || sameItems(mineHas, theirsHas)) {
      items.push(...theirsHas)
      return
    }
    if (!theirsChanged) {
      items.push(...mineHas)
      return
    }
    const start = items.length
    // One took away what the other changed: the change is kept.
    const apart = mineHas.length && theirsHas.length ? (between?.(mineHas.at(-1)!, theirsHas[0]!) ?? []) : []
    items.push(...mineHas, ...apart, ...theirsHas)
    result.conflicts.push({ from: start, to: items.length, base: was, mine: mineHas, theirs: theirsHas })
  }

  for (let at = 0; at < base.length; at++) {
    const mineAt = toMine.get(at)
    const theirsAt = toTheirs.get(at)
    if (mineAt === undefined || theirsAt === undefined) continue
    settle(at, mineAt, theirsAt)
    const [was, is, other] = [base[at]!, mine[mineAt]!, theirs[theirsAt]!]
    if (key(is) === key(was)) items.push(other)
    else if (key(other) === key(was) || key(is) === key(other)) items.push(is)
    else {
      result.merged.push(items.length)
      items.push(both(was, is, other))
    }
    m = mineAt + 1
    t = theirsAt + 1
    from = at + 1
  }
  settle(base.length, mine.length, theirs.length)
  return result
}
