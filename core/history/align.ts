/** So many earlier chunks are looked at for a new one. */
const atMost = 4

/** A chunk of a file, and its size before packing; bytes. */
export interface Standing {
  /** null for one that is new. */
  id: number | null
  size: number
}

/**
 * The chunks of an earlier version that stand where a new chunk of the next version stands: between the
 * same neighbours, and about as far from them.
 * @param now the new version's chunks
 * @param earlier the earlier version's chunks, in order
 * @returns for each new chunk a few earlier ones that stand together, in order
 */
export function counterparts(now: readonly Standing[], earlier: readonly Standing[]): Map<number, number[]> {
  // A chunk may stand several times in a file: the one meant is the next one after what was met before.
  const places = new Map<number, number[]>()
  for (const [index, { id }] of earlier.entries()) {
    if (id === null) continue
    const list = places.get(id)
    if (list) list.push(index)
    else places.set(id, [index])
  }
  const placeOf = (one: Standing | undefined, after: number) =>
    one?.id == null ? undefined : places.get(one.id)?.find((index) => index > after)
  const found = new Map<number, number[]>()
  let before = -1
  for (let index = 0; index < now.length; ) {
    const place = placeOf(now[index], before)
    if (place !== undefined) {
      before = place
      index++
      continue
    }
    // The run of chunks up to the next one that both have, further on than what was met before.
    let end = index
    let after = earlier.length
    for (; end < now.length; end++) {
      const next = placeOf(now[end], before)
      if (next === undefined) continue
      after = next
      break
    }
    const old = earlier.slice(before + 1, after)
    const stretch = sizeOf(old) / sizeOf(now.slice(index, end))
    let passed = 0
    for (let one = index; one < end; one++) {
      const { id, size } = now[one]!
      // Proportionally, because a run may have become longer or shorter.
      if (id === null) found.set(one, around(earlier, before + 1, passed * stretch, (passed + size) * stretch))
      passed += size
    }
    index = end
  }
  return found
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
