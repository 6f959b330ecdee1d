// What the filing slip makes of what somebody typed and chose: pure, and the same wherever a name is settled.

import type { PartValues } from '../contract/naming'
import { fileType } from '../formats/types'
import { countedOn, freeName, nameKey, splitExtension } from './check'
import { compose } from './compose'
import type { ReadyConvention } from './convention'

/** Endings that people type because they know the file by them, not because they are a part of its name. */
const knownEnding = (ending: string): boolean =>
  fileType(ending.slice(1).toLowerCase()).mediaType !== 'application/octet-stream'

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
