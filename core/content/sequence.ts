// Two sequences laid beside each other: which element of the newer one is which of the older one, in order.
//
// Elements that are the same and occur once on each side are anchors; of these the longest increasing run is
// kept (the "patience" difference of B. Cohen; longest increasing subsequence by M. L. Fredman, 1975).
// Between anchors the same is done again; where there are none, elements are paired by likeness, by dynamic
// programming while the gap has at most `mostPairs` pairs, and by their order past that, which is coarse.

export interface Matching {
  /** Indices in the older and the newer sequence, both increasing. */
  pairs: [older: number, newer: number][]
  /** Some part was too large to be laid side by side exactly. */
  coarse: boolean
}

/** Pairs that are tried in one gap: forty thousand take some ten milliseconds. */
const mostPairs = 40_000
/** Elements are former and later selves when they are at least this like each other. */
export const alike = 0.3

/**
 * @param older keys; elements with the same key are the same
 * @param likeness 0 … 1, for elements whose keys differ
 */
export function matchUp<Key>(
  older: readonly Key[],
  newer: readonly Key[],
  likeness: (older: number, newer: number) => number,
): Matching {
  const pairs: [number, number][] = []
  let coarse = false
  // A stack instead of recursion: gaps in the order of the sequences.
  const gaps: [number, number, number, number][] = [[0, older.length, 0, newer.length]]
  while (gaps.length) {
    let [from, to, start, end] = gaps.pop()!
    while (from < to && start < end && older[from] === newer[start]) pairs.push([from++, start++])
    while (from < to && start < end && older[to - 1] === newer[end - 1]) pairs.push([--to, --end])
    if (from === to || start === end) continue
    const anchors = anchorsIn(older, newer, from, to, start, end)
    if (anchors.length) {
      let [i, j] = [from, start]
      for (const [a, b] of anchors) {
        gaps.push([i, a, j, b])
        pairs.push([a, b])
        i = a + 1
        j = b + 1
      }
      gaps.push([i, to, j, end])
      continue
    }
    if ((to - from) * (end - start) > mostPairs) {
      coarse = true
      for (let at = 0; at < Math.min(to - from, end - start); at++) pairs.push([from + at, start + at])
    } else pairs.push(...likeliest(older, newer, from, to, start, end, likeness))
  }
  pairs.sort((a, b) => a[0] - b[0])
  return { pairs, coarse }
}

/** Elements that both gaps have exactly once, as many as there are in the same order. */
function anchorsIn<Key>(
  older: readonly Key[],
  newer: readonly Key[],
  from: number,
  to: number,
  start: number,
  end: number,
): [number, number][] {
  const once = (keys: readonly Key[], first: number, past: number) => {
    const found = new Map<Key, number>()
    for (let at = first; at < past; at++) found.set(keys[at]!, found.has(keys[at]!) ? -1 : at)
    return found
  }
  const before = once(older, from, to)
  const candidates: [number, number][] = []
  for (const [key, at] of once(newer, start, end)) {
    const was = before.get(key)
    if (at >= 0 && was !== undefined && was >= 0) candidates.push([was, at])
  }
  candidates.sort((a, b) => a[1] - b[1])
  // The longest run of increasing older indices.
  const tails: number[] = []
  const previous = new Int32Array(candidates.length).fill(-1)
  for (const [at, [was]] of candidates.entries()) {
    let low = 0
    let high = tails.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (candidates[tails[middle]!]![0] < was) low = middle + 1
      else high = middle
    }
    if (low > 0) previous[at] = tails[low - 1]!
    tails[low] = at
  }
  const run: [number, number][] = []
  for (let at = tails.at(-1) ?? -1; at >= 0; at = previous[at]!) run.push(candidates[at]!)
  return run.reverse()
}

/** The pairs of a gap, in order, whose likeness is greatest in sum. */
function likeliest<Key>(
  older: readonly Key[],
  newer: readonly Key[],
  from: number,
  to: number,
  start: number,
  end: number,
  likeness: (older: number, newer: number) => number,
): [number, number][] {
  const rows = to - from
  const columns = end - start
  const width = columns + 1
  const best = new Float64Array((rows + 1) * width)
  const score = new Float64Array(rows * columns)
  for (let i = rows - 1; i >= 0; i--)
    for (let j = columns - 1; j >= 0; j--) {
      const same = older[from + i] === newer[start + j]
      // What is the same is worth a little more than what is as like as can be.
      const like = same ? 1.01 : likeness(from + i, start + j)
      score[i * columns + j] = like >= alike ? like : -1
      const paired = like >= alike ? like + best[(i + 1) * width + j + 1]! : -1
      best[i * width + j] = Math.max(paired, best[(i + 1) * width + j]!, best[i * width + j + 1]!)
    }
  const pairs: [number, number][] = []
  for (let i = 0, j = 0; i < rows && j < columns; ) {
    const here = best[i * width + j]!
    const like = score[i * columns + j]!
    if (like > 0 && here === like + best[(i + 1) * width + j + 1]!) pairs.push([from + i++, start + j++])
    else if (here === best[(i + 1) * width + j]) i++
    else j++
  }
  return pairs
}
