// A convention made ready for work: its parts with the values of their lists, how each part is
// written and read back, and one expression for whole names.
//
// A value is what people mean (2026-10-14, LK07, Gate-paddles, 12); its text is how the convention
// writes it (14.10.2026, Lock-7, GATE_PADDLES, 0012). Each part turns a canonical value into one
// text and back. A whole name is the texts of the parts that have a value, each after the first
// behind its separator. Whether two combinations of values can give the same name is decided
// when a convention is built (ambiguity.ts), so that reading needs no choice.
import type { ControlledList, ListValue, NamePart, PartValues, Rules } from '../contract/naming'
import { formSource, readDate, valueInForm, writeDate } from './dates'
import { fitWords, literal, wordsSource } from './words'

/** What `kind` a part's file kind has; the words of a convention are by these. */
export type FileKind = 'document' | 'spreadsheet' | 'other'

export interface ReadyPart {
  readonly part: NamePart
  readonly index: number
  /** The value as this part can hold it, from anything like it; null when it cannot. */
  fit(value: string): string | null
  /** The text of a canonical value. */
  write(value: string): string
  /** The value of a text that `write` gave; null for any other text. */
  read(text: string): string | null
  /** An expression that its texts match, for the v flag; some that are no texts may match too. */
  readonly source: string
  /** Its texts, where they are a fixed set. */
  readonly texts: ReadonlyMap<string, string> | null
  /** The list's values in the list's order, retired ones too; empty for other parts. */
  readonly values: readonly ListValue[]
}

export interface ReadyConvention {
  readonly rules: Rules
  readonly parts: readonly ReadyPart[]
  readonly byId: ReadonlyMap<string, ReadyPart>
  /** Values of a name's stem that follows exactly; null otherwise. */
  parse(stem: string): PartValues | null
}

/** How a list's value is written where its label is shown: as words joined by dashes. */
export const labelText = (value: ListValue): string =>
  fitWords(value.label || value.code, {
    id: 'label',
    label: 'label',
    kind: 'words',
    separator: '',
    optional: false,
    letters: 'as typed',
    longest: 80,
    symbols: 'letters and digits',
    spaces: '-',
  }) || value.code

/** Initials of a person's name: its words' first letters as capitals, at most four. */
export const initialsOf = (name: string): string =>
  Array.from(name.normalize('NFC').matchAll(/(?<![\p{L}\p{M}])\p{L}/gu), ([letter]) => letter.toUpperCase())
    .filter((letter) => /^[\p{L}--\p{Changes_When_Uppercased}]$/v.test(letter))
    .slice(0, 4)
    .join('')

function fixedSet(
  part: NamePart,
  index: number,
  texts: Map<string, string>,
  values: readonly ListValue[] = [],
): ReadyPart {
  const byText = new Map(Array.from(texts, ([value, text]) => [text, value]))
  const sorted = [...byText.keys()].sort((a, b) => b.length - a.length)
  return {
    part,
    index,
    fit: (value) => (texts.has(value) ? value : null),
    write: (value) => texts.get(value)!,
    read: (text) => byText.get(text) ?? null,
    source: sorted.length ? alternatives(sorted) : '[]',
    texts,
    values,
  }
}

/** One expression for many texts; texts of one shape (LK01, LK02 …) first by their common beginning. */
function alternatives(texts: readonly string[]): string {
  return `(?:${texts.map(literal).join('|')})`
}

export function readyPart(part: NamePart, index: number, lists: readonly ControlledList[]): ReadyPart {
  const nothing = { texts: null, values: [] }
  switch (part.kind) {
    case 'text':
      return fixedSet(part, index, new Map([[part.text, part.text]]))
    case 'date':
      return {
        part,
        index,
        ...nothing,
        fit: (value) => valueInForm(value, part.form),
        write: (value) => writeDate(value, part.form),
        read: (text) => readDate(text, part.form),
        source: formSource[part.form],
      }
    case 'list': {
      const values = lists.find(({ id }) => id === part.listId)?.values ?? []
      return fixedSet(
        part,
        index,
        new Map(values.map((value) => [value.code, part.shows === 'code' ? value.code : labelText(value)])),
        values,
      )
    }
    case 'words': {
      const whole = new RegExp(`^${wordsSource(part)}$`, 'v')
      return {
        part,
        index,
        ...nothing,
        fit: (value) => fitWords(value, part) || null,
        write: (value) => value,
        read: (text) => (whole.test(text) && Array.from(text).length <= part.longest ? text : null),
        source: wordsSource(part),
      }
    }
    case 'counter': {
      const { width } = part
      const source = width > 1 ? `(?:\\d{${width}}|[1-9]\\d{${width},11})` : '(?:\\d|[1-9]\\d{1,11})'
      const whole = new RegExp(`^${source}$`)
      return {
        part,
        index,
        ...nothing,
        fit: (value) => (/^\d{1,12}$/.test(value) ? String(Number(value)) : null),
        write: (value) => value.padStart(width, '0'),
        read: (text) => (whole.test(text) ? String(Number(text)) : null),
        source,
      }
    }
    case 'initials': {
      const source = '[\\p{L}--\\p{Changes_When_Uppercased}]{1,4}'
      const whole = new RegExp(`^${source}$`, 'v')
      return {
        part,
        index,
        ...nothing,
        fit: (value) => (whole.test(value) ? value : initialsOf(value) || null),
        write: (value) => value,
        read: (text) => (whole.test(text) ? text : null),
        source,
      }
    }
    case 'file kind':
      return fixedSet(part, index, new Map(Object.entries(part.words)))
  }
}

/**
 * Makes a convention ready. A list that is not among `lists` counts as empty.
 */
export function readyConvention(rules: Rules, lists: readonly ControlledList[]): ReadyConvention {
  const parts = rules.parts.map((part, index) => readyPart(part, index, lists))
  const byId = new Map(parts.map((ready) => [ready.part.id, ready]))
  const groups: number[] = []
  const expression = new RegExp(`^${sourceFrom(parts, 0, false, groups)}$`, 'v')
  function parse(stem: string): PartValues | null {
    const match = expression.exec(stem)
    if (!match) return null
    const values: PartValues = {}
    for (let group = 0; group < groups.length; group++) {
      const text = match[group + 1]
      if (text === undefined) continue
      const ready = parts[groups[group]!]!
      if (ready.part.kind === 'text') continue
      const value = ready.read(text)
      // The expression knows neither the calendar nor limits of length: where it took a text that is none, look for the reading.
      if (value === null) return search(parts, stem)
      values[ready.part.id] = value
    }
    return values
  }
  return { rules, parts, byId, parse }
}

/** The expression for the parts from `index` on. @param groups receives the part of each group, in order */
function sourceFrom(parts: readonly ReadyPart[], index: number, begun: boolean, groups: number[]): string {
  const ready = parts[index]
  if (!ready) return begun ? '' : '[]'
  if (begun) {
    groups.push(index)
    const piece = `${literal(ready.part.separator)}(${ready.source})`
    return (ready.part.optional ? `(?:${piece})?` : piece) + sourceFrom(parts, index + 1, true, groups)
  }
  groups.push(index)
  const present = `(${ready.source})${sourceFrom(parts, index + 1, true, groups)}`
  return ready.part.optional ? `(?:${present}|${sourceFrom(parts, index + 1, false, groups)})` : present
}

/** Finds the reading of a stem by trying each end of each part: at most parts times length squared steps. */
function search(parts: readonly ReadyPart[], stem: string): PartValues | null {
  const dead = new Set<number>()
  const from = (index: number, at: number, begun: boolean): PartValues | null => {
    const key = (index * 1024 + at) * 2 + (begun ? 1 : 0)
    if (dead.has(key)) return null
    const ready = parts[index]
    if (!ready) return begun && at === stem.length ? {} : null
    const { part } = ready
    const start = begun ? (stem.startsWith(part.separator, at) ? at + part.separator.length : -1) : at
    if (start >= 0)
      for (let end = stem.length; end > start; end--) {
        const value = ready.read(stem.slice(start, end))
        if (value === null) continue
        const rest = from(index + 1, end, true)
        if (rest) return part.kind === 'text' ? rest : { [part.id]: value, ...rest }
      }
    const without = part.optional ? from(index + 1, at, begun) : null
    if (!without) dead.add(key)
    return without
  }
  return stem.length <= 1000 ? from(0, 0, false) : null
}
