// Plain text as a document of its lines: each is a paragraph, and how it ended is kept beside it.
import type { Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { say } from '../../words/said'
import { DamagedFile, type Limit } from '../refusals'
import { type Encoding, encodingOf, soundText } from './encoding'

export type LineEnd = '\r\n' | '\n' | '\r'
export interface Line {
  text: string
  /** Empty for the last one of a text that ends without. */
  end: LineEnd | ''
}
export interface ReadText {
  doc: Node
  limits: Limit[]
  encoding: Encoding
  /** What most of its lines end with. */
  end: LineEnd
  lines: readonly Line[]
}

/** More lines than this are kept as they are and not edited: a page that holds them all is slow to write in. */
export const mostLines = 20_000
/** Nor is a longer text: a thousand pages have some three million letters. */
export const mostLetters = 4_000_000

/** The lines of a text; none for an empty one. */
export function linesOf(text: string): Line[] {
  const lines: Line[] = []
  let from = 0
  for (const match of text.matchAll(/\r\n|\n|\r/g)) {
    lines.push({ text: text.slice(from, match.index), end: match[0] as LineEnd })
    from = match.index + match[0].length
  }
  if (from < text.length) lines.push({ text: text.slice(from), end: '' })
  return lines
}

/** @throws DamagedFile for what is no text, and for more than is edited */
export function readText(bytes: Uint8Array): ReadText {
  const encoding = encodingOf(bytes)
  const text = soundText(bytes, encoding)
  if (text === null || text.includes('\0')) throw new DamagedFile(say('formats.no-text'))
  if (text.length > mostLetters) throw new DamagedFile(say('formats.text-too-long', { n: mostLetters }))
  const lines = linesOf(text)
  if (lines.length > mostLines) throw new DamagedFile(say('formats.too-many-lines', { n: mostLines }))
  const { nodes } = documentSchema
  const doc = nodes.doc.create(
    null,
    (lines.length ? lines : [{ text: '' }]).map(({ text }) =>
      nodes.paragraph.create(null, text ? documentSchema.text(text) : null),
    ),
  )
  return { doc, limits: [], encoding, end: usualEnd(lines), lines }
}

/** How a text is written: its letters, and what most of its lines end with. @throws DamagedFile */
export function textWayOf(bytes: Uint8Array): Pick<ReadText, 'encoding' | 'end'> {
  const { encoding, end } = readText(bytes)
  return { encoding, end }
}

function usualEnd(lines: readonly Line[]): LineEnd {
  const counts = new Map<LineEnd, number>()
  for (const { end } of lines) if (end) counts.set(end, (counts.get(end) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '\n'
}
