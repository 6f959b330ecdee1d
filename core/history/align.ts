/**
 * The chunks of an earlier version that stand where a new chunk of the next version stands: between the
 * same neighbours, and about as far from them.
 * @param ids the new version's chunks, null for those that are new
 * @param earlier the earlier version's chunks, in order
 * @returns for each new chunk up to three earlier ones
 */
export function counterparts(ids: readonly (number | null)[], earlier: readonly number[]): Map<number, number[]> {
  const at = new Map(earlier.map((id, index) => [id, index]))
  const found = new Map<number, number[]>()
  let before = -1
  for (let index = 0; index < ids.length; ) {
    const id = ids[index]
    const place = id == null ? undefined : at.get(id)
    if (place !== undefined) {
      before = place
      index++
      continue
    }
    // The run of chunks up to the next one that both have, further on than what was met before.
    let end = index
    let after = earlier.length
    for (; end < ids.length; end++) {
      const next = ids[end] == null ? undefined : at.get(ids[end]!)
      if (next === undefined || next <= before) continue
      after = next
      break
    }
    const between = earlier.slice(before + 1, after)
    for (let one = index; one < end; one++) {
      if (ids[one] != null || !between.length) continue
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
