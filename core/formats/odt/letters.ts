// Which letters of a paragraph are which of the file's: words are laid beside words, and letters where words differ.
import { matchUp } from '../../content/sequence'

/** Runs of letters and digits, and everything else one by one. */
const word = /[\p{L}\p{N}\p{M}]/u

function wordsOf(keys: readonly string[]): { from: number; to: number; key: string }[] {
  const words: { from: number; to: number; key: string }[] = []
  for (let at = 0; at < keys.length; ) {
    const from = at++
    // A thing that is no letter has a longer key.
    if (word.test(keys[from]!) && isLetter(keys[from]!))
      while (at < keys.length && isLetter(keys[at]!) && word.test(keys[at]!)) at++
    words.push({ from, to: at, key: keys.slice(from, at).join('') })
  }
  return words
}
const isLetter = (key: string): boolean => key.length <= 2

/** @param older keys: a letter each, or what stands for a thing @returns the older index of each newer one; -1 for none */
export function lettersBeside(older: readonly string[], newer: readonly string[]): Int32Array {
  const found = new Int32Array(newer.length).fill(-1)
  let head = 0
  while (head < older.length && head < newer.length && older[head] === newer[head]) found[head] = head++
  let tail = 0
  const both = Math.min(older.length, newer.length) - head
  while (tail < both && older.at(-1 - tail) === newer.at(-1 - tail)) {
    tail++
    found[newer.length - tail] = older.length - tail
  }
  const inner = changedLetters(older.slice(head, older.length - tail), newer.slice(head, newer.length - tail))
  for (const [at, was] of inner.entries()) found[head + at] = was < 0 ? -1 : head + was
  return found
}

/** Where both begin and end with other letters. */
function changedLetters(older: readonly string[], newer: readonly string[]): Int32Array {
  const found = new Int32Array(newer.length).fill(-1)
  const [before, now] = [wordsOf(older), wordsOf(newer)]
  const { pairs } = matchUp(
    before.map(({ key }) => key),
    now.map(({ key }) => key),
    () => 0,
  )
  let [i, j] = [0, 0]
  const between = (a: number, b: number) => {
    const same = matchUp(older.slice(i, a), newer.slice(j, b), () => 0)
    for (const [x, y] of same.pairs) if (older[i + x] === newer[j + y]) found[j + y] = i + x
  }
  for (const [a, b] of pairs) {
    const [was, is] = [before[a]!, now[b]!]
    if (was.key !== is.key) continue
    between(was.from, is.from)
    for (let at = 0; at < is.to - is.from; at++) found[is.from + at] = was.from + at
    i = was.to
    j = is.to
  }
  between(older.length, newer.length)
  return found
}
