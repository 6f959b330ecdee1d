/**
 * The chunks of an earlier version that stand where a new chunk of the next version stands: between the
 * same neighbours, and about as far from them.
 * @param ids the new version's chunks, null for those that are new
 * @param earlier the earlier version's chunks, in order
 * @returns for each new chunk up to three earlier ones
 */
export function counterparts(ids: readonly (number | null)[], earlier: readonly number[]): Map<number, number[]> {
  // A chunk may stand several times in a file: the one meant is the next one after what was met before.
  const places = new Map<number, number[]>()
  for (const [index, id] of earlier.entries()) {
    const list = places.get(id)
    if (list) list.push(index)
    else places.set(id, [index])
  }
  const placeOf = (id: number | null | undefined, after: number) =>
    id == null ? undefined : places.get(id)?.find((index) => index > after)
  const found = new Map<number, number[]>()
  let before = -1
  for (let index = 0; index < ids.length; ) {
    const id = ids[index]
    const place = placeOf(id, before)
    if (place !== undefined) {
      before = place
      index++
      continue
    }
    // The run of chunks up to the next one that both have, further on than what was met before.
    let end = index
    let after = earlier.length
    for (; end < ids.length; end++) {
      const next = placeOf(ids[end], before)
      if (next === undefined) continue
      after = next
      break
    }
    const between = earlier.slice(before + 1, after)
    for (let one = index; one < end; one++) {
      if (ids[one] != null) continue
      if (!between.length) {
        // What was cut elsewhere before lies in its neighbours.
        found.set(
          one,
          [earlier[before], earlier[after]].filter((each) => each !== undefined),
        )
        continue
      }
      // Proportionally, because a run may have become longer or shorter.
      const near = Math.min(between.length - 1, Math.round(((one - index) * between.length) / (end - index)))
      found.set(
        one,
        [between[near]!, between[near + 1], between[near - 1]].filter((each) => each !== undefined),
      )
    }
    index = end
  }
  return found
}
