// Whether two different combinations of values can give one name.
//
// The convention becomes a nondeterministic automaton over letters, each transition marked with the
// part it belongs to. Two automata walk one word together; if they can reach the end having marked
// some letter differently, that word is a name with two readings (the squaring construction of
// Book, Even, Greibach and Ott, Ambiguity in graphs and expressions, 1971). The search is breadth
// first, so the example is a shortest one. Letters that no part tells apart are stood for by one.
//
// Cost: steps of the automaton, and steps that two of them take together, each bounded; a convention past
// either is refused as too intricate. Typical ones have some thousand steps, and the pairs that part ways are few.

import type { PartValues } from '../contract/naming'
import type { ReadyConvention, ReadyPart } from './convention'
import { formLetters } from './dates'
import { wordTests } from './words'

/** Steps of the automaton, and steps that are compared; either takes a fraction of a second. */
const mostSteps = 200_000
const mostCompared = 1_500_000

class TooIntricate extends Error {}

export interface Ambiguity {
  name: string
  readings: [PartValues, PartValues]
}

interface Step {
  to: number
  /** The part's index; separators have marks of their own. */
  mark: number
}

class Automaton {
  /** For each state, the steps by letter. */
  readonly steps: Map<string, Step[]>[] = []
  readonly accepting = new Set<number>()
  private size = 0
  constructor(readonly alphabet: readonly string[]) {}
  state(): number {
    this.steps.push(new Map())
    return this.steps.length - 1
  }
  on(from: number, letter: string, to: number, mark: number): void {
    if (++this.size > mostSteps) throw new TooIntricate()
    const map = this.steps[from]!
    const steps = map.get(letter)
    if (!steps) map.set(letter, [{ to, mark }])
    else if (!steps.some((step) => step.to === to && step.mark === mark)) steps.push({ to, mark })
  }
  onAny(from: number, accepts: (letter: string) => boolean, to: number, mark: number): void {
    for (const letter of this.alphabet) if (accepts(letter)) this.on(from, letter, to, mark)
  }
  /** A chain of fixed letters; returns its end. */
  text(from: number, text: string, mark: number, to?: number): number {
    const letters = Array.from(text)
    let at = from
    for (const [index, letter] of letters.entries()) {
      const last = index === letters.length - 1
      const next = last && to !== undefined ? to : this.state()
      this.on(at, letter, next, mark)
      at = next
    }
    return at
  }
}

/** Letters that stand for all the others: a small one, a capital, one without case, a mark, a digit, symbols. */
const standIns = [
  'b',
  'B',
  'ʘ',
  'א',
  '漢',
  '\u0301',
  '5',
  '1',
  '3',
  '0',
  '-',
  '_',
  '.',
  ' ',
  '+',
  '§',
  '٣',
  'W',
  'Q',
  'ß',
]

function alphabetOf(convention: ReadyConvention): string[] {
  const letters = new Set(standIns)
  const add = (text: string) => {
    for (const letter of Array.from(text)) letters.add(letter)
  }
  for (const { part, texts } of convention.parts) {
    add(part.separator)
    for (const text of texts?.values() ?? []) add(text)
    if (part.kind === 'words') add(part.spaces)
  }
  return [...letters]
}

/** Adds a part between `from` and new ends, which are returned. */
function addPart(automaton: Automaton, ready: ReadyPart, from: number): number[] {
  const { part, index } = ready
  if (ready.texts) {
    // A tree of the texts, so that a long list costs its letters once.
    const ends = new Set<number>()
    const children = new Map<string, number>()
    for (const text of ready.texts.values()) {
      let at = from
      let path = ''
      for (const letter of Array.from(text)) {
        path += letter
        let next = children.get(path)
        if (next === undefined) {
          next = automaton.state()
          children.set(path, next)
          automaton.on(at, letter, next, index)
        }
        at = next
      }
      ends.add(at)
    }
    return [...ends]
  }
  const digit = (letter: string) => letter >= '0' && letter <= '9'
  switch (part.kind) {
    case 'date': {
      let at = from
      for (const sign of formLetters[part.form]) {
        const next = automaton.state()
        if (sign === 'd') automaton.onAny(at, digit, next, index)
        else if (sign === 'D') automaton.onAny(at, (letter) => digit(letter) && letter !== '0', next, index)
        else if (sign === 'q') automaton.onAny(at, (letter) => letter >= '1' && letter <= '4', next, index)
        else automaton.on(at, sign, next, index)
        at = next
      }
      return [at]
    }
    case 'counter': {
      const ends: number[] = []
      const chain = (length: number, openEnded: boolean) => {
        let at = from
        for (let place = 0; place < length; place++) {
          const next = automaton.state()
          automaton.onAny(at, (letter) => digit(letter) && !(openEnded && place === 0 && letter === '0'), next, index)
          at = next
        }
        if (openEnded) automaton.onAny(at, digit, at, index)
        ends.push(at)
      }
      chain(part.width, false)
      chain(part.width + 1, true)
      return ends
    }
    case 'initials': {
      const ends: number[] = []
      let at = from
      for (let place = 0; place < 4; place++) {
        const next = automaton.state()
        automaton.onAny(at, (letter) => ready.read(letter) !== null, next, index)
        ends.push(next)
        at = next
      }
      return ends
    }
    case 'words': {
      const { first, edge, middle } = wordTests(part)
      const ends: number[] = []
      // By length: the last letter may end it, may not, or was a space's replacement.
      let [ending, inner, space] = [[from], [] as number[], [] as number[]]
      for (let length = 1; length <= part.longest; length++) {
        const [nextEnding, nextInner, nextSpace] = [automaton.state(), automaton.state(), automaton.state()]
        if (length === 1) automaton.onAny(from, (letter) => first.test(letter), nextEnding, index)
        else {
          for (const at of [...ending, ...inner]) {
            automaton.onAny(at, (letter) => edge.test(letter), nextEnding, index)
            automaton.onAny(at, (letter) => middle.test(letter) && !edge.test(letter), nextInner, index)
          }
          for (const at of space) automaton.onAny(at, (letter) => edge.test(letter), nextEnding, index)
          if (part.spaces) for (const at of ending) automaton.on(at, part.spaces, nextSpace, index)
        }
        ending = [nextEnding]
        inner = length === 1 ? [] : [nextInner]
        space = length === 1 ? [] : [nextSpace]
        ends.push(nextEnding)
      }
      return ends
    }
  }
  throw new Error(`A ${part.kind} part has fixed texts.`)
}

function build(convention: ReadyConvention): { automaton: Automaton; starts: number[] } {
  const automaton = new Automaton(alphabetOf(convention))
  const { parts } = convention
  const start = automaton.state()
  /** States that stand before a part, without and with another part before it. */
  let fresh = [start]
  let begun: number[] = []
  for (const ready of parts) {
    const joint = automaton.state()
    const join = (ends: readonly number[]) => {
      // What enters an end may enter the joint as well: the automaton has no empty steps.
      const wanted = new Set(ends)
      for (const map of automaton.steps)
        for (const steps of map.values())
          for (const step of [...steps])
            if (wanted.has(step.to) && !steps.some((other) => other.to === joint && other.mark === step.mark))
              steps.push({ to: joint, mark: step.mark })
    }
    const ends: number[] = []
    for (const from of fresh) ends.push(...addPart(automaton, ready, from))
    if (begun.length) {
      if (ready.part.separator) {
        const after = automaton.state()
        for (const from of begun) automaton.text(from, ready.part.separator, -1 - ready.index, after)
        ends.push(...addPart(automaton, ready, after))
      } else for (const from of begun) ends.push(...addPart(automaton, ready, from))
    }
    join(ends)
    begun = ready.part.optional ? [...begun, joint] : [joint]
    if (!ready.part.optional) fresh = []
  }
  for (const state of begun) automaton.accepting.add(state)
  return { automaton, starts: [start] }
}

/** The shortest name with two readings, null when there is none, 'too intricate' past the bound. */
export function findAmbiguity(convention: ReadyConvention): Ambiguity | null | 'too intricate' {
  try {
    return search(convention)
  } catch (error) {
    if (error instanceof TooIntricate) return 'too intricate'
    throw error
  }
}

/** @throws TooIntricate */
function search(convention: ReadyConvention): Ambiguity | null {
  const { automaton, starts } = build(convention)
  const size = automaton.steps.length
  interface Pair {
    a: number
    b: number
    apart: boolean
    letter: string
    marks: [number, number]
    before: Pair | null
  }
  const seen = new Set<number>()
  let compared = 0
  let wave: Pair[] = starts.map((start) => ({
    a: start,
    b: start,
    apart: false,
    letter: '',
    marks: [0, 0],
    before: null,
  }))
  while (wave.length) {
    const next: Pair[] = []
    for (const pair of wave) {
      if (pair.apart && automaton.accepting.has(pair.a) && automaton.accepting.has(pair.b))
        return example(convention, pair)
      for (const [letter, steps] of automaton.steps[pair.a]!) {
        if (++compared > mostCompared) throw new TooIntricate()
        const others = automaton.steps[pair.b]!.get(letter)
        if (!others) continue
        compared += steps.length * others.length
        for (const one of steps)
          for (const other of others) {
            const apart = pair.apart || one.mark !== other.mark
            // Before they part ways the two are interchangeable.
            if (!apart && one.to > other.to) continue
            const key = (one.to * size + other.to) * 2 + (apart ? 1 : 0)
            if (seen.has(key)) continue
            seen.add(key)
            next.push({ a: one.to, b: other.to, apart, letter, marks: [one.mark, other.mark], before: pair })
          }
      }
    }
    wave = next
  }
  return null

  function example(ready: ReadyConvention, end: Pair): Ambiguity {
    const letters: Pair[] = []
    for (let pair: Pair | null = end; pair?.before; pair = pair.before) letters.unshift(pair)
    const reading = (side: 0 | 1): PartValues => {
      const texts = new Map<number, string>()
      for (const { letter, marks } of letters)
        if (marks[side] >= 0) texts.set(marks[side], (texts.get(marks[side]) ?? '') + letter)
      const values: PartValues = {}
      for (const [index, text] of texts) {
        const { part, read } = ready.parts[index]!
        if (part.kind !== 'text') values[part.id] = read(text) ?? text
      }
      return values
    }
    return { name: letters.map(({ letter }) => letter).join(''), readings: [reading(0), reading(1)] }
  }
}
