// The items of two states of some paragraphs, laid beside each other: letters with their marks, pictures and the ends
// of paragraphs. First what both begin and end with, then the longest common run of words (dynamic programming after
// D. S. Hirschberg's and R. A. Wagner's longest common subsequence), then the letters at the ends of each difference.

/** What happens at a place: an item stays, goes, or comes. */
export type Step = readonly [older: number, newer: number]

/** Pairs of words that are tried; past that the middle is taken as replaced. */
const mostPairs = 4_000_000

/** @param isWord whether an item is a letter that makes words with the next one @returns in order; -1 for none */
export function layItems(older: readonly string[], newer: readonly string[], isWord: (key: string) => boolean): Step[] {
  const steps: Step[] = []
  let [from, to, start, end] = [0, older.length, 0, newer.length]
  while (from < to && start < end && older[from] === newer[start]) steps.push([from++, start++])
  const tail: Step[] = []
  while (from < to && start < end && older[to - 1] === newer[end - 1]) tail.push([--to, --end])
  const words = (keys: readonly string[], first: number, last: number) => {
    const found: { key: string; from: number; to: number }[] = []
    for (let at = first; at < last; ) {
      let stop = at + 1
      if (isWord(keys[at]!)) while (stop < last && isWord(keys[stop]!)) stop++
      found.push({ key: keys.slice(at, stop).join('\u0002'), from: at, to: stop })
      at = stop
    }
    return found
  }
  const [a, b] = [words(older, from, to), words(newer, start, end)]
  const common = a.length * b.length <= mostPairs ? longestCommon(a, b) : []
  const hole = (i: number, past: number, j: number, beyond: number) => {
    // Within what is replaced, the letters that are the same at its ends stay.
    while (i < past && j < beyond && older[i] === newer[j]) steps.push([i++, j++])
    const kept: Step[] = []
    while (i < past && j < beyond && older[past - 1] === newer[beyond - 1]) kept.push([--past, --beyond])
    for (; i < past; i++) steps.push([i, -1])
    for (; j < beyond; j++) steps.push([-1, j])
    steps.push(...kept.reverse())
  }
  let [i, j] = [from, start]
  for (const [x, y] of common) {
    hole(i, a[x]!.from, j, b[y]!.from)
    for (let at = 0; at < a[x]!.to - a[x]!.from; at++) steps.push([a[x]!.from + at, b[y]!.from + at])
    ;[i, j] = [a[x]!.to, b[y]!.to]
  }
  hole(i, to, j, end)
  return [...steps, ...tail.reverse()]
}

function longestCommon(a: readonly { key: string }[], b: readonly { key: string }[]): [number, number][] {
  if (!a.length || !b.length) return []
  const width = b.length + 1
  const lengths = new Uint32Array((a.length + 1) * width)
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      lengths[i * width + j] =
        a[i]!.key === b[j]!.key
          ? lengths[(i + 1) * width + j + 1]! + 1
          : Math.max(lengths[(i + 1) * width + j]!, lengths[i * width + j + 1]!)
  const pairs: [number, number][] = []
  for (let i = 0, j = 0; i < a.length && j < b.length; )
    if (a[i]!.key === b[j]!.key) pairs.push([i++, j++])
    else if (lengths[(i + 1) * width + j]! >= lengths[i * width + j + 1]!) i++
    else j++
  return pairs
}
