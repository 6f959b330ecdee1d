/** So many earlier chunks are looked at for a new one. */
const atMost = 4

/** A chunk of a file, and its size before packing; bytes. */
export interface Standing {
  /** null for one that is new. */
  id: number | null
  size: number
}

/**
 * Finds the chunks of an earlier version that stand where a new chunk of the next version stands: between the
 * same neighbours, and about as far from them. The next version's chunks come some at a time.
 */
export class Counterparts {
  private readonly places = new Map<number, number[]>()
  /** The last earlier chunk that both have. */
  private before = -1
  /** What came since then, in chunks that went before these; bytes. */
  private passed = 0

  /** @param earlier the earlier version's chunks, in order */
  constructor(private readonly earlier: readonly Standing[]) {
    // A chunk may stand several times in a file: the one meant is the next one after what was met before.
    for (const [index, { id }] of earlier.entries()) {
      if (id === null) continue
      const list = this.places.get(id)
      if (list) list.push(index)
      else this.places.set(id, [index])
    }
  }

  /**
   * @param now the new version's next chunks
   * @param last no more come after these
   * @returns for each new chunk, by its index, a few earlier ones that stand together, in order
   */
  next(now: readonly Standing[], last: boolean): Map<number, number[]> {
    const { earlier } = this
    const found = new Map<number, number[]>()
    for (let index = 0; index < now.length; ) {
      const place = this.placeOf(now[index]!)
      if (place !== undefined) {
        this.before = place
        this.passed = 0
        index++
        continue
      }
      // The run of chunks up to the next one that both have, further on than what was met before.
      let end = index
      while (end < now.length && this.placeOf(now[end]!) === undefined) end++
      const after = end < now.length ? this.placeOf(now[end]!)! : earlier.length
      const size = sizeOf(now.slice(index, end))
      // Proportionally, because a run may have become longer or shorter; how long it is may not be known yet.
      const known = last || end < now.length
      const stretch = known ? sizeOf(earlier.slice(this.before + 1, after)) / (this.passed + size) : 1
      for (; index < end; index++) {
        const one = now[index]!
        const from = this.passed * stretch
        this.passed += one.size
        if (one.id === null) found.set(index, around(earlier, this.before + 1, from, this.passed * stretch))
      }
    }
    return found
  }
  private placeOf({ id }: Standing): number | undefined {
    return id === null ? undefined : this.places.get(id)?.find((index) => index > this.before)
  }
}

const sizeOf = (chunks: readonly Standing[]) => chunks.reduce((sum, { size }) => sum + size, 0)

/** Chunks that hold what is between two places, and what was cut elsewhere and so lies in their neighbours. */
function around(earlier: readonly Standing[], begin: number, from: number, to: number): number[] {
  let first = begin
  let passed = 0
  while (first < earlier.length - 1 && passed + earlier[first]!.size <= from) passed += earlier[first++]!.size
  let last = first
  while (last < earlier.length - 1 && passed + earlier[last]!.size < to) passed += earlier[last++]!.size
  // Of many the middle ones.
  const spare = Math.max(0, last - first + 1 - atMost)
  first += Math.ceil(spare / 2)
  last -= Math.floor(spare / 2)
  if (last - first + 1 < atMost && last < earlier.length - 1) last++
  if (last - first + 1 < atMost && first > 0) first--
  return earlier.slice(first, last + 1).flatMap(({ id }) => (id === null ? [] : [id]))
}
