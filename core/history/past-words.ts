// When words came into a file and when they went, and with whom: from what each of its versions has more and less than
// the one before it.
import type { CameAndWent, TextLine } from '../compare/text-lines'
import { skeleton } from '../naming/lookalike'

/** A word, or a number by each number that it can be read as: 1,200 is 1200 to one office and 1.2 to another. */
type Token = readonly string[]

const tokenOf = /(?<![\p{L}\p{M}\p{N}])\p{Nd}+(?:[.,'’\u00a0\u202f]\p{Nd}+)+(?![\p{L}\p{M}\p{N}])|[\p{L}\p{M}\p{N}]+/gu
const longestWord = 60

/** Without the noughts that end it. */
const plain = (whole: string, part: string): string => {
  const rest = part.replace(/0+$/, '')
  return rest ? `${whole}.${rest}` : whole
}

/** The numbers that digits with separators can be; none where they are no number, as in a date. */
function readings(text: string): string[] {
  const separators = text.match(/[^\p{Nd}]/gu)!
  const pieces = text.split(/[^\p{Nd}]/u)
  const last = separators.at(-1)!
  const grouped = (groups: readonly string[]) =>
    groups[0]!.length <= 3 && groups.slice(1).every((one) => one.length === 3)
  const found: string[] = []
  if (new Set(separators).size === 1 && grouped(pieces)) found.push(pieces.join(''))
  const before = separators.slice(0, -1)
  const isPoint = last === '.' || last === ','
  if (
    isPoint &&
    !before.includes(last) &&
    new Set(before).size <= 1 &&
    (!before.length || grouped(pieces.slice(0, -1)))
  )
    found.push(plain(pieces.slice(0, -1).join(''), pieces.at(-1)!))
  return found
}

interface Placed {
  token: Token
  /** Where it is in the text. */
  from: number
  to: number
}

function* tokensOf(text: string): Generator<Placed> {
  for (const { 0: run, index: from } of text.matchAll(tokenOf)) {
    const to = from + run.length
    if (!/[^\p{L}\p{M}\p{N}]/u.test(run)) {
      const word = skeleton(run).slice(0, longestWord)
      if (word) yield { token: [word], from, to }
    } else {
      const numbers = readings(run)
      if (numbers.length) yield { token: numbers, from, to }
      else
        for (const piece of run.matchAll(/\p{Nd}+/gu))
          yield { token: [piece[0]], from: from + piece.index, to: from + piece.index + piece[0].length }
    }
  }
}

/** Words in their order, as somebody looks for them: without case, accents and signs between them; the last may go on. */
export class Phrase {
  readonly tokens: readonly Token[]
  /** The last word may be the beginning of one; a number is whole. */
  private readonly open: boolean
  /** The longest word that must be there as it is; empty where all are numbers. */
  private readonly surely: string
  private readonly asTyped: RegExp

  constructor(typed: string) {
    this.tokens = Array.from(tokensOf(typed), ({ token }) => token)
    const last = this.tokens.at(-1)
    this.open = last !== undefined && !/\s$/u.test(typed) && /^[\p{L}\p{M}]/u.test(last[0]!)
    this.surely = this.tokens
      .filter((token) => token.length === 1 && /\p{L}/u.test(token[0]!))
      .reduce((longest, [word]) => (word!.length > longest.length ? word! : longest), '')
    this.asTyped = new RegExp(this.surely, 'i')
  }

  /** There is nothing to look for. */
  get isEmpty(): boolean {
    return this.tokens.length === 0
  }

  /** Whether the word at this place may go on. */
  begins(index: number): boolean {
    return this.open && index === this.tokens.length - 1
  }

  /** Whether a text may have it; one that has it always may. Cheap. */
  may(text: string): boolean {
    if (!this.surely || this.asTyped.test(text)) return true
    // As other letters it can only be in words that have such.
    for (const [run] of text.matchAll(/\S*[^\x00-\x7f]\S*/gu)) if (skeleton(run).includes(this.surely)) return true
    return false
  }

  /** Where a line says it, one place after the other, each within one cell: from and to. */
  placesIn(line: string): [number, number][] {
    if (this.isEmpty || !this.may(line)) return []
    const places: [number, number][] = []
    let begin = 0
    for (const cell of line.split('\t')) {
      const there = [...tokensOf(cell)]
      for (let at = 0; at + this.tokens.length <= there.length; ) {
        const found = this.tokens.every((token, index) => this.same(token, there[at + index]!.token, index))
        if (found) places.push([begin + there[at]!.from, begin + there[at + this.tokens.length - 1]!.to])
        at += found ? this.tokens.length : 1
      }
      begin += cell.length + 1
    }
    return places
  }

  /** How often a line says it. */
  countIn(line: string): number {
    return this.placesIn(line).length
  }

  /** A line, or of a long one what is around the first place that says it. */
  around(line: string, longest: number): string {
    if (line.length <= longest) return line
    const from = Math.max(0, (this.placesIn(line)[0]?.[0] ?? 0) - Math.floor(longest / 3))
    return `${from ? '…' : ''}${line.slice(from, from + longest).toWellFormed()}${from + longest < line.length ? '…' : ''}`
  }

  private same(wanted: Token, there: Token, index: number): boolean {
    const begins = this.begins(index)
    return wanted.some((one) => there.some((word) => (begins ? word.startsWith(one) : word === one)))
  }
}

/** Each word and number of lines once, by which what went can be listed. */
export function wordsOfLines(lines: readonly TextLine[]): Set<string> {
  const words = new Set<string>()
  for (const { text } of lines) for (const { token } of tokensOf(text)) for (const word of token) words.add(word)
  return words
}

/** What is known of a version's lines; null where they could not be read. */
export type Lines = (CameAndWent & { /** It is what the version before it is. */ same: boolean }) | null

export interface WordsChange<V> {
  version: V
  /** The version before it; null for the first one. */
  last: V | null
  /** How often the file said it before and after. */
  before: number
  after: number
  /** What said it and is gone, or says it since, and for what is gone what came in its place. */
  lines: { line: TextLine; instead: TextLine | null }[]
}

export interface PastWords<V> {
  /** From the first version with it to the first one without; null where it is there still. */
  stretches: { from: V; until: V | null }[]
  /** Oldest first. */
  changes: WordsChange<V>[]
  /** How often the newest version says it. */
  now: number
  /** Versions whose lines could not be read. */
  unread: number
}

/** Lines of one change that are told. */
const mostLines = 5
/** Lines that are looked through for what came in place of another. */
const mostBeside = 400

/** How alike two lines are, by the words they share (Dice, 1945), from 0 to 1. */
function likeness(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  let both = 0
  for (const word of a) if (b.has(word)) both++
  return (2 * both) / Math.max(1, a.size + b.size)
}

/** What came in a line's place: the same row, or the line under the same heading that says most of the same. */
export function insteadOf(gone: TextLine, came: readonly TextLine[]): TextLine | null {
  const words = wordsOfLines([gone])
  let best: TextLine | null = null
  let most = 0.3
  for (const line of came.slice(0, mostBeside)) {
    if (line.under !== gone.under && gone.row !== null) continue
    const nearer = line.row !== null && line.row === gone.row ? 0.25 : line.under === gone.under ? 0.05 : 0
    const alike = likeness(words, wordsOfLines([line])) + nearer
    if (alike > most) [best, most] = [line, alike]
  }
  return best
}

/** Follows words from a file's first version on, one version after the other. */
export class PastReader<V> {
  readonly past: PastWords<V> = { stretches: [], changes: [], now: 0, unread: 0 }
  private last: V | null = null
  private blind = false

  constructor(private readonly phrase: Phrase) {}

  /** @param lines what the version has more and less than the one before it */
  add(version: V, lines: Lines): void {
    const { past, last } = this
    this.last = version
    // What is the same as something that was not read was not read either.
    this.blind = !lines || (lines.same && this.blind)
    if (!lines || this.blind) {
      past.unread++
      return
    }
    const came = this.saying(lines.came)
    const went = this.saying(lines.went)
    const less = lines.whole ? 0 : sum(went) - sum(came)
    // What goes was there: it came with a version that was not read, or is not there any more.
    const before = Math.max(past.now, less)
    const after = lines.whole ? sum(came) : before - less
    if (before && !past.now) past.stretches.push({ from: last ?? version, until: null })
    past.now = before
    if (after === before) return
    const told = (after < before ? went : came).slice(0, mostLines)
    past.changes.push({
      version,
      last,
      before,
      after,
      lines: told.map(({ line }) => ({ line, instead: after < before ? insteadOf(line, lines.came) : null })),
    })
    if (!before) past.stretches.push({ from: version, until: null })
    if (!after) past.stretches.at(-1)!.until = version
    past.now = after
  }

  private saying(lines: readonly TextLine[]): { line: TextLine; times: number }[] {
    return lines.flatMap((line) => {
      const times = this.phrase.countIn(line.text)
      return times ? [{ line, times }] : []
    })
  }
}

const sum = (those: readonly { times: number }[]) => those.reduce((all, { times }) => all + times, 0)
