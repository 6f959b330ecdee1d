import { correctName, splitExtension } from './check'

/** What the content calls itself, at most so many words of it. */
const mostWords = 6
/** Words that lead on to something: a phrase does not end with one. */
const leading = new Set(
  'a an the of for from to in on at by with and or but as into onto over under until till between after before about above below around towards per is are was were will be its their our your his her this that these those which who'.split(
    ' ',
  ),
)

/** The first words of a phrase that stand for it: whole up to a number of words, and never cut after a word that leads on. */
function phrase(opening: string): string[] {
  // What stands before the first stop is said whole by itself; a bracket or a second line comes after it.
  const [first = ''] = opening.trim().split(/[;!?\n(]|[.,](?=\s|$)|\s[–—-]\s/u)
  const words = first
    .replace(/[\p{P}\p{S}]+/gu, ' ')
    .trim()
    .split(/\s+/)
    .filter(Boolean)
  if (words.length <= mostWords) return words
  const kept = words.slice(0, mostWords)
  // A number at the end belongs to what was cut off, and so does what led to it.
  while (kept.length > 1 && (leading.has(kept.at(-1)!.toLowerCase()) || /^\d+$/.test(kept.at(-1)!))) kept.pop()
  return kept
}

/**
 * A name to start from on the filing slip: the day, then what the content calls itself.
 * Nothing to go by gives the day alone; a proposal is never a number and never a time of birth.
 * @param opening the first words of the content
 * @param day ISO 8601 date
 * @param current the name so far, for work that came from a file
 */
export function proposeName(opening: string, day: string, current?: string): string {
  if (current) return splitExtension(current)[0]
  const subject = correctName(phrase(opening).join('-')) ?? ''
  return subject ? `${day}_${subject}` : day
}
