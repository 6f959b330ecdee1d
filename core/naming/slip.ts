// What the filing slip makes of what somebody typed and chose: pure, and the same wherever a name is settled.

import type { PartValues } from '../contract/naming'
import { isKnownType } from '../formats/types'
import { countedOn, freeName, nameKey, splitExtension } from './check'
import { type Composed, compose, neededByPlace, placeOf } from './compose'
import type { FileKind, ReadyConvention, ReadyPart } from './convention'
import { type Reading, readName } from './reading'
import { propose, type Suggestion } from './suggest'

/** Endings that people type because they know the file by them, not because they are a part of its name. */
const knownEnding = (ending: string): boolean => isKnownType(ending.slice(1).toLowerCase())

/**
 * The whole name of a file of one type, whose ending stands beside the field and not in it. An ending that was typed
 * all the same is not doubled, and that of another type is left out.
 * @param stem as it was typed @param ending the type's, with its dot; empty where the type has none
 * @returns the name, and the other type's ending that was left out of it
 */
export function fitEnding(stem: string, ending: string): { name: string; dropped: string | null } {
  if (!ending) return { name: stem, dropped: null }
  let rest = stem
  while (rest.toLowerCase().endsWith(ending.toLowerCase()) && rest.length > ending.length)
    rest = rest.slice(0, -ending.length).trimEnd()
  const [before, other] = splitExtension(rest)
  return other && knownEnding(other)
    ? { name: before.trimEnd() + ending, dropped: other }
    : { name: rest + ending, dropped: null }
}

export interface Free {
  /** The whole name. */
  name: string
  /** The parts' values that make it; null where it is not made of parts. */
  values: PartValues | null
}

/**
 * The next name that is free, by another subject where the convention has one, so that it follows too.
 * @param values of the parts that make `name` @param taken name keys
 */
export function freeUnder(
  ready: ReadyConvention | null,
  values: PartValues,
  name: string,
  taken: ReadonlySet<string>,
): Free {
  if (!taken.has(nameKey(name))) return { name, values }
  const [stem, extension] = splitExtension(name)
  const words = ready?.parts.find(({ part }) => part.kind === 'words')
  if (ready?.parse(stem) && words) {
    const named = (value: string) => {
      const next = { ...values, [words.part.id]: value }
      const { missing, refused, stem: made } = compose(ready, next)
      return missing.length || refused.length ? null : { name: made + extension, values: next }
    }
    const present = values[words.part.id] ?? ''
    const [base, after] = countedOn(present, (without) => taken.has(nameKey(named(without)?.name ?? '')))
    for (let number = after + 1; number < 1000; number++) {
      const candidate = named(`${base} ${number}`.trim())
      if (!candidate) break
      if (!taken.has(nameKey(candidate.name))) return candidate
    }
  }
  return { name: freeName(name, taken), values: null }
}

/** What a person did on the slip. */
export interface Entered {
  /** The name as it was typed, without its ending; null while it is made of its parts. */
  typed: string | null
  /** Values that were chosen for parts. */
  own: PartValues
}

export interface SettledParts {
  /** What the typed name says; null while the name is made of its parts. */
  reading: Reading | null
  /** Values proposed, chosen or read; the number of a counter only where it was typed. */
  values: PartValues
  counter: ReadyPart | undefined
  /** Folders below the place where the convention is attached; null where it has no rule, or the rule cannot say. */
  path: string[] | null
  /** The name follows the convention, or does as soon as its number is taken. */
  complete: boolean
  /** Without these the filing rule cannot say where it goes. */
  needed: ReadyPart[]
}

/** The parts of a name as far as they are settled, before it is known which number is next. */
export function settleParts(
  ready: ReadyConvention | null,
  suggestions: ReadonlyMap<string, Suggestion[]>,
  { typed, own }: Entered,
  kind: FileKind,
): SettledParts {
  const reading = ready && typed !== null ? readName(ready, typed, { kind }) : null
  const chosen = { ...(ready ? propose(ready, suggestions) : {}), ...own }
  const values = reading
    ? reading.values
    : Object.fromEntries(Object.entries(chosen).filter(([, value]) => value !== ''))
  const counter = ready?.parts.find(({ part }) => part.kind === 'counter')
  const filed = !!ready && ready.rules.folders.length > 0
  return {
    reading,
    values,
    counter,
    path: filed ? placeOf(ready, values) : null,
    complete: !!ready && (reading ? reading.follows : compose(ready, values).missing.every((part) => part === counter)),
    needed: filed ? neededByPlace(ready, values) : [],
  }
}

export interface SettledName {
  values: PartValues
  /** Made of its parts; null where it was typed, or no convention holds. */
  composed: Composed | null
  /** Without its ending. */
  stem: string
  name: string
  /** The ending of another type that was typed, and left out. */
  dropped: string | null
  /** Parts that the name needs and that have no value; a number is taken when it is saved. */
  missing: ReadyPart[]
}

/**
 * The name that stands on the slip.
 * @param next the counter's next number, where it is known @param proposal the name where no convention holds
 * @param taken name keys of the place where the file is to begin beside what is there; null where it may meet it
 */
export function settleName(
  ready: ReadyConvention | null,
  parts: SettledParts,
  { typed, own }: Entered,
  {
    next,
    proposal,
    ending,
    taken,
  }: {
    next: number | null
    proposal: string
    ending: string
    taken: ReadonlySet<string> | null
  },
): SettledName {
  const { reading, counter } = parts
  const numbered =
    counter && !reading && parts.values[counter.part.id] === undefined && next !== null
      ? { ...parts.values, [counter.part.id]: String(next) }
      : parts.values
  const made = ready && !reading ? compose(ready, numbered) : null
  const proposed = (made?.stem ?? proposal).trim()
  // A file of its own begins beside the one that it came of, not in its way.
  const untouched = typed === null && Object.keys(own).length === 0
  const aside =
    untouched && taken?.has(nameKey(proposed + ending)) ? freeUnder(ready, numbered, proposed + ending, taken) : null
  const values = aside?.values ?? numbered
  const composed = aside?.values && ready ? compose(ready, values) : made
  const stem = typed?.trim() ?? (aside ? splitExtension(aside.name)[0] : proposed)
  return {
    values,
    composed,
    stem,
    ...fitEnding(stem, ending),
    missing: composed ? composed.missing.filter((part) => part !== counter) : [],
  }
}

/** Whether names of folders, from a share on, end below a depth as a rule says. */
export function endsAsRuled(rule: readonly string[], path: readonly string[], depth: number): boolean {
  const below = path.slice(1 + depth)
  return below.length === rule.length && below.every((name, index) => nameKey(name) === nameKey(rule[index]!))
}
