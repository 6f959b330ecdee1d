// What search knows of a text: its words without case and accents, numbers apart from letters, and
// for slips the word with each single letter left out: two words that differ by one letter, or by
// two exchanged, share such a form (the symmetric deletion idea of W. Garbe, 2012).
import { skeleton } from './lookalike'

export const shortestSlip = 4
const shortestTail = 3
const longestWord = 40

/** Words of a text in their order, with repetitions. `LK07` gives `lk07`, `lk` and `07`; a date its parts. */
export function wordsOf(text: string): string[] {
  const words: string[] = []
  for (const [run] of text.matchAll(/[\p{L}\p{M}\p{N}]+/gu)) {
    const word = skeleton(run).slice(0, longestWord)
    if (!word) continue
    words.push(word)
    const pieces = word.match(/\p{N}+|[^\p{N}]+/gu)
    if (pieces && pieces.length > 1 && pieces.length <= 6) words.push(...pieces)
  }
  return words
}

/** Words that somebody typed to find something: as they stand, without their pieces. */
export const typedWords = (text: string): string[] =>
  Array.from(text.matchAll(/[\p{L}\p{M}\p{N}]+/gu), ([run]) => skeleton(run).slice(0, longestWord)).filter(Boolean)

/** Endings of a word, itself among them: any part of it begins one of these. Numbers have only themselves. */
export function tailsOf(word: string): string[] {
  if (/^\p{N}+$/u.test(word)) return [word]
  const tails = [word]
  for (let from = 1; from <= word.length - shortestTail; from++) tails.push(word.slice(from))
  return tails
}

/** The forms by which a word with one slip in it is found; none for short words and numbers. */
export function slipForms(word: string): string[] {
  if (word.length < shortestSlip || /\p{N}/u.test(word)) return []
  const forms = new Set([word])
  for (let at = 0; at < word.length; at++) forms.add(word.slice(0, at) + word.slice(at + 1))
  return [...forms]
}
