// Free text in a name: which letters it may hold, and what typed text becomes.
import type { NamePart } from '../contract/naming'

export type WordsPart = Extract<NamePart, { kind: 'words' }>

/** Letters that join the one before them (marks, and Hangul vowels and finals): they begin nothing. */
const joins = '\\p{M}\\u1160-\\u11ff'
/** What names may never hold, for an expression with the v flag. */
const never = '\\p{C}\\p{Z}\\\\\\/:*?"<>\\|'

const cased = {
  'as typed': '',
  'first capital': '',
  small: '--\\p{Changes_When_Lowercased}',
  capitals: '--\\p{Changes_When_Uppercased}',
} as const
/** A set of letters less some others; the v flag allows one kind of operation in a set, so they nest. */
const less = (set: string, ...others: string[]) => others.filter(Boolean).reduce((all, one) => `[${all}${one}]`, set)

/** The sets of a words part, as sources for expressions with the v flag. */
export interface WordSets {
  /** What it may begin with. */
  first: string
  /** What may follow a space's replacement, or end it. */
  edge: string
  /** What may stand in the middle, the replacement of spaces apart. */
  middle: string
  /** What spaces become, escaped; empty where they vanish. */
  space: string
}

/** Text as it stands in an expression with the v flag, outside a set. */
export const literal = (text: string) => text.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&')

export function wordSets(part: WordsPart): WordSets {
  const base = part.symbols === 'any' ? `[[\\p{Any}]--[${never}]]` : '[\\p{L}\\p{N}\\p{M}]'
  const space = part.spaces ? `--[${part.spaces.replace(/[-.]/, '\\$&')}]` : ''
  const middle = less(base, cased[part.letters], space)
  // Dots at an end are refused in names, dashes there are slips.
  const edge = less(middle, '--[._\\-]')
  let first = less(edge, `--[${joins}]`)
  if (part.letters === 'first capital') first = less(first, '--\\p{Changes_When_Uppercased}')
  return { first, edge, middle, space: literal(part.spaces) }
}

/** The expression of a words part's text, without its limit of length. */
export function wordsSource(part: WordsPart): string {
  const { first, edge, middle, space } = wordSets(part)
  const word = (start: string) => `${start}(?:${middle}*${edge})?`
  return space ? `${word(first)}(?:${space}${word(edge)})*` : word(first)
}

const compiled = new Map<string, { first: RegExp; edge: RegExp; middle: RegExp }>()
const tests = (part: WordsPart) => {
  const key = `${part.letters} ${part.symbols} ${part.spaces}`
  let sets = compiled.get(key)
  if (!sets) {
    const { first, edge, middle } = wordSets(part)
    sets = {
      first: new RegExp(`^${first}$`, 'v'),
      edge: new RegExp(`^${edge}$`, 'v'),
      middle: new RegExp(`^${middle}$`, 'v'),
    }
    compiled.set(key, sets)
  }
  return sets
}

const ascii = /^[\x20-\x7e]*$/
/** The same for the plain letters that most names are made of, at a tenth of the time. */
function fitAscii(typed: string, part: WordsPart): string {
  let text = (typed.match(/[A-Za-z0-9]+/g) ?? []).join(part.spaces)
  if (part.letters === 'small') text = text.toLowerCase()
  if (part.letters === 'capitals') text = text.toUpperCase()
  if (part.letters === 'first capital') text = text.slice(0, 1).toUpperCase() + text.slice(1)
  return text.length <= part.longest ? text : text.slice(0, part.longest).replace(/[^A-Za-z0-9]+$/, '')
}

/** What typed text becomes in this part; empty when nothing of it can be kept. */
export function fitWords(typed: string, part: WordsPart): string {
  if (part.symbols === 'letters and digits' && ascii.test(typed)) return fitAscii(typed, part)
  let text = typed.normalize('NFC')
  if (part.letters === 'small') text = text.toLowerCase()
  if (part.letters === 'capitals') text = text.toUpperCase()
  const { first, edge, middle } = tests(part)
  const words: string[] = []
  for (const piece of text.normalize('NFC').split(part.symbols === 'any' ? /\s+/u : /[^\p{L}\p{N}\p{M}]+/u)) {
    // In a part that keeps symbols, the space's replacement still parts words.
    for (const word of part.spaces ? piece.split(part.spaces) : [piece]) {
      const letters = Array.from(word).filter((letter) => middle.test(letter))
      while (letters.length && !edge.test(letters[0]!)) letters.shift()
      while (letters.length && !edge.test(letters.at(-1)!)) letters.pop()
      if (letters.length) words.push(letters.join(''))
    }
  }
  let letters = Array.from(words.join(part.spaces))
  if (part.letters === 'first capital' && letters[0])
    letters = [...Array.from(letters[0].toUpperCase().normalize('NFC')), ...letters.slice(1)]
  while (letters.length && !first.test(letters[0]!)) letters.shift()
  letters = letters.slice(0, part.longest)
  while (letters.length && !edge.test(letters.at(-1)!)) letters.pop()
  return letters.join('').normalize('NFC')
}

/** Whether a letter may stand where the automaton says. */
export const wordTests = tests
