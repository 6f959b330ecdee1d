// What is worth saying of a name that systems would accept: it can be saved all the same.

import { type Sentence, say } from '../words/said'
import { checkName, splitExtension } from './check'
import type { ReadyConvention } from './convention'
import { findDates, lowered } from './dates'
import { mixedWord } from './lookalike'
import type { Neighbour, Neighbours } from './neighbours'

export interface Advice {
  about: 'spaces' | 'look-alike' | 'same' | 'alike' | 'near' | 'version word' | 'date' | 'path' | 'type' | 'refused'
  /** In words. */
  reason: Sentence
  /** The whole name put right; null where a person must decide. */
  correction: string | null
  /** Such a name is refused and not only advised against. */
  refused: boolean
}

export const longestPath = 400

/**
 * Words by which people tell versions apart by hand, alone or with a number. Draft is not one of
 * them: a draft is a kind of paper.
 */
const versionWord =
  /(?<![\p{L}\p{N}])(?:copy(?:[ _-]+of)?(?:[ _-]*\(?\d{1,3}\)?)?|final(?:ly)?|newest|new|old|latest|updated|corrected|last|(?:version|vers|ver|rev|v)[ ._-]?\d{1,3}(?:\.\d{1,3})?|\(\d{1,2}\))(?![\p{L}\p{N}])/gu

/** Version words of a stem, in their order. */
export const versionWords = (stem: string): { from: number; to: number; word: string }[] =>
  Array.from(lowered(stem).matchAll(versionWord), (match) => ({
    from: match.index,
    to: match.index + match[0].length,
    word: stem.slice(match.index, match.index + match[0].length),
  }))

/** A stem with stretches taken out and the gaps that leaves closed. */
export function without(stem: string, stretches: readonly { from: number; to: number }[]): string {
  let rest = stem
  for (const { from, to } of [...stretches].sort((a, b) => b.from - a.from))
    rest = `${rest.slice(0, from)} ${rest.slice(to)}`
  return rest
    .replace(/\(\s*\)/g, ' ')
    .replace(/([_-])\s*([_-])/g, '$1')
    .replace(/\s*([_-])\s*$|^\s*[_-]\s*/g, '')
    .replace(/\s+/g, ' ')
    .replace(/ ?_ ?/g, '_')
    .trim()
}

/** What there is to say of a neighbour. */
export function sayNeighbour({ name, how }: Neighbour): Advice {
  const reason = {
    same: say('naming.is-here-already', { name }),
    alike: say('naming.looks-the-same', { name }),
    near: say('naming.is-here-already-and-differs-in-one', { name }),
  }[how]
  return { about: how, reason, correction: null, refused: how === 'same' }
}

/** What surrounds the name, as far as it is known. */
export interface Surroundings {
  /** Names in the same place. */
  neighbours?: Neighbours
  /** The file's name so far, when it is renamed. */
  present?: string
  /** Share and folders, for the length of the path. */
  path?: readonly string[]
  /** The convention that holds here: a name that follows it is not picked at for words or dates. */
  convention?: ReadyConvention | null
  /** The type that the bytes have, by their signature; null when not known. */
  bytesType?: string | null
}

/** Everything there is to say about a name with its extension, what is refused first. */
export function adviseName(name: string, around: Surroundings = {}): Advice[] {
  const advice: Advice[] = []
  const fault = checkName(name)
  if (fault) advice.push({ about: 'refused', reason: fault.reason, correction: fault.correction, refused: true })
  const [stem, extension] = splitExtension(name)
  const path = [...(around.path ?? []), name].join('/')
  if (Array.from(path).length > longestPath)
    advice.push({
      about: 'path',
      reason: say('naming.with-its-folders-this-name-has-letters', { length: Array.from(path).length, longestPath }),
      correction: null,
      refused: true,
    })
  for (const neighbour of around.neighbours?.of(name, around.present) ?? []) advice.push(sayNeighbour(neighbour))
  if (/ {2,}/.test(name))
    advice.push({
      about: 'spaces',
      reason: say('naming.two-spaces-are-next-to-each-other'),
      correction: name.replace(/ {2,}/g, ' '),
      refused: false,
    })
  const mixed = mixedWord(stem)
  if (mixed)
    advice.push({
      about: 'look-alike',
      reason: say('naming.the-word-has-letters-of-another-script', { word: mixed.word }),
      correction: name.replace(mixed.word, mixed.latin),
      refused: false,
    })
  const follows = around.convention?.parse(stem) != null
  if (!follows) {
    const words = versionWords(stem)
    if (words.length) {
      const rest = without(stem, words)
      advice.push({
        about: 'version word',
        reason: say('naming.no-need-for-every-version-is-kept', { word: words[0]!.word }),
        correction: rest ? rest + extension : null,
        refused: false,
      })
    }
    const date = findDates(stem).find((one) => !one.iso && one.value.length === 10)
    if (date)
      advice.push({
        about: 'date',
        reason: date.others.length
          ? say('naming.the-date-can-be-read-as-written', {
              stem: stem.slice(date.from, date.to),
              it: { or: [date.value, ...date.others] },
            })
          : say('naming.written-the-date-sorts-with-the-others', { dateValue: date.value }),
        correction: date.others.length ? null : stem.slice(0, date.from) + date.value + stem.slice(date.to) + extension,
        refused: false,
      })
  }
  if (around.bytesType && extension.slice(1).toLowerCase() !== around.bytesType)
    advice.push({
      about: 'type',
      reason: say('naming.the-content-is-but-the-name-ends', {
        bytesType: around.bytesType,
        it: extension || say('naming.nothing'),
      }),
      correction: `${stem}.${around.bytesType}`,
      refused: false,
    })
  return advice
}
