// Reads a name that does not follow its convention as well as it can be read.
//
// Dates, list values, counters and initials are looked for anywhere in the name, in any form: every
// stretch that could be a part's value is a candidate with a cost, from nothing for the exact text
// to much for a guess. The cheapest set of candidates that do not overlap is taken (branch and
// bound; at most `mostTried` sets, then the best so far). What is left between them is free text, or,
// where the pieces between two read parts are as many as the parts there, the failed text of the
// part in that position. So the reading says for each part what was read, and what is wrong with it.

import type { NamePart, PartValues } from '../contract/naming'
import { type Sentence, say } from '../words/said'
import { versionWords } from './advice'
import { compose } from './compose'
import type { FileKind, ReadyConvention, ReadyPart } from './convention'
import { findDates, valueInForm } from './dates'
import { skeleton } from './lookalike'
import { nearlySame } from './neighbours'

export type ReadFault = 'version word' | 'date form' | 'not in list' | 'missing' | 'spelling' | 'order' | 'left over'

export interface PartReading {
  part: NamePart
  /** good: as the convention writes it. corrected: plainly meant. guessed: likely meant. */
  state: 'good' | 'corrected' | 'guessed' | 'failed' | 'missing' | 'absent'
  value: string | null
  /** The stretch of the name that it was read from. */
  text: string
  /** In words; empty where nothing is to be said. */
  reason: Sentence
}

export interface Reading {
  follows: boolean
  parts: PartReading[]
  values: PartValues
  /** What is wrong, each once. */
  faults: { about: ReadFault; reason: Sentence }[]
  /** Why a person should look at the proposal; empty when it is sure. */
  doubts: Sentence[]
  /** The stem that the values compose to; null when a required part has none. */
  stem: string | null
}

/** What else is known of the file. */
export interface Known {
  kind?: FileKind
  /** Values to fall back on, each with where it is from, in words. */
  fallback?: ReadonlyMap<string, { value: string; from: Sentence }>
}

interface Candidate {
  part: number
  value: string
  from: number
  to: number
  cost: number
  doubt: Sentence
}

const mostTried = 3000
/** Leaving out a part that could be read costs more than any reading of it. */
const leftOut = 6

interface Token {
  from: number
  to: number
  key: string
}
const tokenKey = (text: string) => (/^\p{N}+$/u.test(text) ? text.replace(/^0+(?=.)/, '') : skeleton(text))
const tokensOf = (text: string): Token[] =>
  Array.from(text.matchAll(/[\p{L}\p{M}]+|\p{N}+/gu), (match) => ({
    from: match.index,
    to: match.index + match[0].length,
    key: tokenKey(match[0]),
  }))

interface ListIndex {
  byKey: Map<string, { part: number; code: string; cost: number }[]>
  /** Single words, for slips and beginnings, by their first letter. */
  words: Map<string, { part: number; code: string; word: string }[]>
  longest: number
}
const indexes = new WeakMap<ReadyConvention, ListIndex>()

function listIndex(convention: ReadyConvention): ListIndex {
  const known = indexes.get(convention)
  if (known) return known
  const index: ListIndex = { byKey: new Map(), words: new Map(), longest: 1 }
  const add = (text: string, part: number, code: string, cost: number) => {
    const tokens = tokensOf(text)
    if (!tokens.length) return
    const key = tokens.map((token) => token.key).join(' ')
    const there = index.byKey.get(key) ?? []
    if (there.some((one) => one.part === part && one.code === code)) return
    index.byKey.set(key, [...there, { part, code, cost }])
    index.longest = Math.max(index.longest, tokens.length)
    if (tokens.length === 1 && key.length >= 5) {
      const first = key[0]!
      const words = index.words.get(first) ?? []
      words.push({ part, code, word: key })
      index.words.set(first, words)
    }
  }
  for (const ready of convention.parts) {
    for (const value of ready.values) {
      add(ready.write(value.code), ready.index, value.code, 0.5)
      add(value.code, ready.index, value.code, 1)
      if (value.label) {
        add(value.label, ready.index, value.code, 1)
        if (/[^s]s$/.test(value.label)) add(value.label.slice(0, -1), ready.index, value.code, 1.2)
      }
    }
    if (ready.part.kind === 'file kind')
      for (const [kind, word] of Object.entries(ready.part.words)) add(word, ready.index, kind, 0.5)
  }
  indexes.set(convention, index)
  return index
}

function candidatesIn(
  convention: ReadyConvention,
  stem: string,
  noise: readonly { from: number; to: number }[],
): Candidate[] {
  const found: Candidate[] = []
  const index = listIndex(convention)
  const tokens = tokensOf(stem)
  for (let start = 0; start < tokens.length; start++)
    for (let size = 1; size <= index.longest && start + size <= tokens.length; size++) {
      const from = tokens[start]!.from
      const to = tokens[start + size - 1]!.to
      let key = tokens[start]!.key
      for (let next = start + 1; next < start + size; next++) key += ` ${tokens[next]!.key}`
      const hits = index.byKey.get(key)
      if (hits)
        for (const hit of hits) {
          const ready = convention.parts[hit.part]!
          const exact = stem.slice(from, to) === ready.write(hit.code)
          const rivals = hits.filter(({ part }) => part === hit.part)
          found.push({
            part: hit.part,
            value: hit.code,
            from,
            to,
            // A longer stretch that is known says more than a shorter one.
            cost: (exact ? 0 : hit.cost) + (rivals.length > 1 && !exact ? 2 : 0) - size * 0.01,
            doubt:
              rivals.length > 1 && !exact
                ? say('naming.can-be', {
                    stem: stem.slice(from, to),
                    rivals: { or: rivals.map(({ code }) => code) },
                  })
                : '',
          })
        }
      else if (size === 1 && key.length >= 4 && /^\p{L}/u.test(key)) {
        const near = (index.words.get(key[0]!) ?? []).filter(
          ({ word }) => (key.length >= 5 && nearlySame(word, key)) || word.startsWith(key),
        )
        const codes = new Set(near.map(({ code }) => code))
        for (const { part, code } of near)
          if (codes.size === 1)
            found.push({
              part,
              value: code,
              from,
              to,
              cost: 3,
              doubt: say('naming.is-read-as', { stem: stem.slice(from, to), code }),
            })
      }
    }
  let dates: ReturnType<typeof findDates> | null = null
  for (const ready of convention.parts) {
    const { part } = ready
    if (part.kind === 'date') {
      dates ??= findDates(stem)
      for (const date of dates) {
        const value = valueInForm(date.value, part.form)
        if (value === null) continue
        const text = stem.slice(date.from, date.to)
        const others = date.others.filter(
          (other) => valueInForm(other, part.form) !== value && ready.read(text) === null,
        )
        found.push({
          part: ready.index,
          value,
          from: date.from,
          to: date.to,
          cost: (ready.read(text) !== null ? 0 : 1) + others.length * 0.5,
          doubt: others.length ? say('naming.can-be-2', { text, it: { or: [date.value, ...others] } }) : '',
        })
      }
    } else if (part.kind === 'counter' || part.kind === 'initials') {
      for (const token of tokens) {
        const text = stem.slice(token.from, token.to)
        const value = ready.read(text)
        if (value === null || noise.some(({ from, to }) => from <= token.from && token.to <= to)) continue
        if (part.kind === 'initials' && text.length < 2) continue
        found.push({ part: ready.index, value, from: token.from, to: token.to, cost: 1.5, doubt: '' })
      }
    }
  }
  return found
}

/** The cheapest candidates that do not overlap, at most one for each part. */
function choose(convention: ReadyConvention, candidates: readonly Candidate[]): Candidate[] {
  const byPart = new Map<number, Candidate[]>()
  for (const candidate of candidates) {
    const those = byPart.get(candidate.part)
    if (those) those.push(candidate)
    else byPart.set(candidate.part, [candidate])
  }
  const order = [...byPart.keys()]
  for (const those of byPart.values()) those.sort((a, b) => a.cost - b.cost || a.from - b.from)
  let best: Candidate[] = []
  let bestCost = Number.POSITIVE_INFINITY
  let tried = 0
  const go = (at: number, chosen: Candidate[], cost: number) => {
    if (cost >= bestCost || tried > mostTried) return
    if (at === order.length) {
      tried++
      // Parts that stand in their order are likelier than the same ones crosswise.
      const inPlace = [...chosen].sort((a, b) => a.part - b.part)
      let crossed = 0
      for (let i = 1; i < inPlace.length; i++) if (inPlace[i]!.from < inPlace[i - 1]!.from) crossed += 0.3
      if (cost + crossed < bestCost) {
        best = chosen
        bestCost = cost + crossed
      }
      return
    }
    for (const candidate of byPart.get(order[at]!)!.slice(0, 6))
      if (!chosen.some((one) => candidate.from < one.to && one.from < candidate.to))
        go(at + 1, [...chosen, candidate], cost + candidate.cost)
    go(at + 1, chosen, cost + (convention.parts[order[at]!]!.part.optional ? leftOut - 1 : leftOut))
  }
  go(0, [], 0)
  return best
}

const cleanRest = (text: string) => text.replace(/^[\s._\-,()]+|[\s._\-,()]+$/gu, '')

/** Reads a stem against a convention. */
export function readName(convention: ReadyConvention, stem: string, known: Known = {}): Reading {
  const exact = convention.parse(stem)
  if (exact) {
    return {
      follows: true,
      values: exact,
      faults: [],
      doubts: [],
      stem,
      parts: convention.parts.map(({ part, write }) => ({
        part,
        state: part.kind === 'text' || exact[part.id] !== undefined ? 'good' : 'absent',
        value: exact[part.id] ?? null,
        text: part.kind === 'text' ? part.text : exact[part.id] === undefined ? '' : write(exact[part.id]!),
        reason: '',
      })),
    }
  }
  const noise = versionWords(stem)
  const chosen = choose(convention, candidatesIn(convention, stem, noise)).sort((a, b) => a.from - b.from)
  const taken: { from: number; to: number; part: number }[] = chosen.map(({ from, to, part }) => ({ from, to, part }))
  for (const { from, to } of noise)
    if (!taken.some((one) => from < one.to && one.from < to)) taken.push({ from, to, part: -1 })
  // Fixed text is nobody's value, wherever it stands.
  for (const { part, index } of convention.parts)
    if (part.kind === 'text') {
      const at = stem.indexOf(part.text)
      if (at >= 0 && !taken.some((one) => at < one.to && one.from < at + part.text.length))
        taken.push({ from: at, to: at + part.text.length, part: index })
    }
  taken.sort((a, b) => a.from - b.from)

  const faults: Reading['faults'] = []
  const doubts: Sentence[] = []
  const fault = (about: ReadFault, reason: Sentence) => {
    if (!faults.some((one) => one.reason === reason)) faults.push({ about, reason })
  }
  for (const { word } of noise) fault('version word', say('naming.no-need-for-every-version-is-kept-2', { word }))

  // What stands between the stretches that were read.
  interface Rest {
    text: string
    /** Indexes of the parts read before and after it. */
    after: number
    before: number
  }
  const rests: Rest[] = []
  let at = 0
  let after = -1
  for (const stretch of [...taken, { from: stem.length, to: stem.length, part: convention.parts.length }]) {
    const text = cleanRest(stem.slice(at, stretch.from))
    if (text) rests.push({ text, after, before: stretch.part < 0 ? -1 : stretch.part })
    at = stretch.to
    if (stretch.part >= 0) after = stretch.part
  }
  for (const [index, rest] of rests.entries())
    if (rest.before < 0) rest.before = rests[index + 1]?.before ?? convention.parts.length

  const texts = new Map<number, string[]>()
  const failed = new Map<number, string>()
  const read = new Set(chosen.map(({ part }) => part))
  const words = convention.parts.filter(({ part }) => part.kind === 'words')
  const leftOver: string[] = []
  for (const rest of rests) {
    const between = convention.parts.filter(
      ({ index, part }) => index > rest.after && index < rest.before && !read.has(index) && part.kind !== 'text',
    )
    const separators = new Set(between.map(({ part }) => part.separator).filter((one) => one.trim() !== ''))
    const pieces = separators.size ? splitBy(rest.text, [...separators]) : [rest.text]
    // As many pieces as parts: each piece is the part in its position.
    const positional =
      between.length > 0 &&
      (pieces.length === between.length || (pieces.length > between.length && between.at(-1)!.part.kind === 'words'))
    const plausible = between.every((ready, place) => couldBe(ready, pieces[place] ?? ''))
    if (positional && plausible && rest.before > rest.after)
      for (const [place, ready] of between.entries()) {
        const text = place === between.length - 1 ? pieces.slice(place).join(' ') : pieces[place]!
        if (ready.part.kind === 'words') texts.set(ready.index, [...(texts.get(ready.index) ?? []), text])
        else failed.set(ready.index, text)
      }
    else {
      const home = between.find(({ part }) => part.kind === 'words') ?? nearest(words, rest.after)
      if (home) texts.set(home.index, [...(texts.get(home.index) ?? []), rest.text])
      else leftOver.push(rest.text)
    }
  }
  for (const text of leftOver) {
    fault('left over', say('naming.belongs-to-no-part', { text }))
    doubts.push(say('naming.would-be-left-out-of-the-name', { text }))
  }

  const values: PartValues = {}
  const parts = convention.parts.map((ready): PartReading => {
    const { part, index } = ready
    const none = { part, value: null, text: '', reason: '' }
    if (part.kind === 'text')
      return stem.includes(part.text)
        ? { ...none, state: 'good', text: part.text }
        : { ...none, state: 'corrected', reason: say('naming.is-missing', { text: part.text }) }
    const candidate = chosen.find((one) => one.part === index)
    if (candidate) {
      values[part.id] = candidate.value
      const text = stem.slice(candidate.from, candidate.to)
      const right = ready.write(candidate.value)
      if (candidate.doubt) doubts.push(candidate.doubt)
      if (text === right) return { part, value: candidate.value, text, state: 'good', reason: '' }
      const reason = say('naming.is-written-here', { text, right })
      fault(part.kind === 'date' ? 'date form' : 'spelling', reason)
      return {
        part,
        value: candidate.value,
        text,
        state: candidate.doubt ? 'guessed' : 'corrected',
        reason: candidate.doubt || reason,
      }
    }
    if (part.kind === 'words') {
      const text = (texts.get(index) ?? []).join(' ')
      const value = text ? ready.fit(text) : null
      if (value) {
        values[part.id] = value
        return {
          part,
          value,
          text,
          state: value === text ? 'good' : 'corrected',
          reason: value === text ? '' : say('naming.written-here', { value }),
        }
      }
    }
    if (part.kind === 'file kind' && known.kind) {
      values[part.id] = known.kind
      fault('missing', say('naming.is-missing-2', { partLabel: part.label }))
      return { ...none, value: known.kind, state: 'corrected', reason: say('naming.added-from-the-files-type') }
    }
    const wrong = failed.get(index)
    const back = known.fallback?.get(part.id)
    const fitted = back ? ready.fit(back.value) : null
    if (wrong !== undefined) {
      const reason = whyFailed(ready, wrong)
      fault('not in list', reason)
      if (!part.optional || !fitted) {
        doubts.push(reason)
        return { part, value: null, text: wrong, state: 'failed', reason }
      }
    }
    if (part.optional) return { ...none, state: 'absent' }
    fault('missing', say('naming.is-missing-2', { partLabel: part.label }))
    if (fitted && back) {
      values[part.id] = fitted
      doubts.push(say('naming.is-taken', { partLabel: part.label, from: back.from }))
      return { ...none, value: fitted, state: 'guessed', reason: say('naming.taken', { from: back.from }) }
    }
    return {
      ...none,
      state: 'missing',
      reason: say('naming.there-is-no-in-this-name', { partLabel: part.label.toLowerCase() }),
    }
  })
  const composed = compose(convention, values)
  const whole = composed.missing.length === 0 && !parts.some(({ state }) => state === 'failed') && composed.stem !== ''
  if (faults.length === 0) fault('order', say('naming.the-parts-are-in-another-order-or'))
  return { follows: false, parts, values, faults, doubts: [...new Set(doubts)], stem: whole ? composed.stem : null }
}

function splitBy(text: string, separators: readonly string[]): string[] {
  let pieces = [text]
  for (const separator of separators) pieces = pieces.flatMap((piece) => piece.split(separator))
  return pieces.map(cleanRest).filter(Boolean)
}

/** Whether a text in a part's position may have been meant for it. */
function couldBe({ part }: ReadyPart, text: string): boolean {
  if (part.kind === 'date' || part.kind === 'counter') return /\p{N}/u.test(text)
  return part.kind !== 'initials' || text.length <= 4
}

const nearest = (words: readonly ReadyPart[], after: number): ReadyPart | undefined =>
  words.find(({ index }) => index > after) ?? words.at(-1)

function whyFailed({ part }: ReadyPart, text: string): Sentence {
  switch (part.kind) {
    case 'list':
      return say('naming.is-not-in-the-list-for', { text, partLabel: part.label })
    case 'date':
      return say('naming.is-not-a-date-that-can-be', { text, partLabel: part.label, form: part.form })
    case 'counter':
      return say('naming.is-not-a-number-of-at-least', { text, width: part.width })
    case 'initials':
      return say('naming.are-not-initials', { text })
    default:
      return say('naming.does-not-fit', { text, partLabel: part.label })
  }
}

/** Reads against the newest version of a convention that the name follows, else against the newest. @returns which version, from 0 for the newest */
export function readByVersions(
  versions: readonly ReadyConvention[],
  stem: string,
  known?: Known,
): { reading: Reading; version: number } {
  for (const [version, convention] of versions.entries())
    if (convention.parse(stem)) return { reading: readName(convention, stem, known), version }
  return { reading: readName(versions[0]!, stem, known), version: 0 }
}

/** Values of dates and lists that occur in a text, the most certain and earliest first, each once. */
export function valuesIn(
  convention: ReadyConvention,
  text: string,
): { partId: string; value: string; text: string; count: number }[] {
  const sure = candidatesIn(convention, text, []).filter(
    ({ part, cost, doubt }) => cost <= 1.5 && !doubt && ['date', 'list'].includes(convention.parts[part]!.part.kind),
  )
  sure.sort((a, b) => a.from - b.from || b.to - a.to)
  const found = new Map<string, { partId: string; value: string; text: string; count: number }>()
  let end = 0
  for (const { part, value, from, to } of sure) {
    const { id } = convention.parts[part]!.part
    const key = `${id} ${value}`
    const there = found.get(key)
    if (there) there.count += from >= end ? 1 : 0
    else found.set(key, { partId: id, value, text: text.slice(from, to), count: 1 })
    end = Math.max(end, to)
  }
  return [...found.values()]
}
