// The lines that came and went with a version as they are kept with it.
import type { CameAndWent, TextLine } from '../compare/text-lines'
import { type Lines, wordsOfLines } from './past-words'

export interface KeptLines {
  /** JSON: lines as arrays of what they are under, their row and their text. */
  came: string
  went: string
  whole: boolean
  /** Words of what went, by which it is found among all files. */
  goneWords: string[]
}

/** A version with more than this is not looked through; characters of JSON. */
const longest = 6_000_000
/** A tsvector of PostgreSQL holds 1 MB; most words that are listed, and bytes of them. */
const mostWords = 40_000
const mostBytes = 900_000

const written = (lines: readonly TextLine[]): string =>
  JSON.stringify(lines.map(({ under, row, text }) => [under, row, text]))
const read = (kept: string): TextLine[] =>
  (JSON.parse(kept) as [string, number | null, string][]).map(([under, row, text]) => ({ under, row, text }))

/** @returns null where it is too much to be looked through */
export function keptLines({ came, went, whole }: CameAndWent): KeptLines | null {
  const kept = { came: written(came), went: written(went) }
  if (kept.came.length + kept.went.length > longest) return null
  const goneWords: string[] = []
  let bytes = 0
  for (const word of wordsOfLines(went)) {
    // At most: letters beyond the first 65,536 take two of these.
    bytes += word.length * 3
    if (bytes > mostBytes || goneWords.length === mostWords) break
    goneWords.push(word)
  }
  return { ...kept, whole, goneWords }
}

/** @param may whether a text may be of interest: what is not stays unread (parsing is what takes time) */
export function linesKept(
  kept: { came: string | null; went: string | null; whole: boolean },
  may: (text: string) => boolean,
): Lines {
  if (kept.came === null || kept.went === null) return null
  // What came in the place of what went may be any of it.
  const wanted = may(kept.came) || may(kept.went)
  return {
    came: wanted ? read(kept.came) : [],
    went: wanted ? read(kept.went) : [],
    whole: kept.whole,
    same: !kept.whole && kept.came === '[]' && kept.went === '[]',
  }
}
