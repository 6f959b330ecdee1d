// A document as plain text: a line for each paragraph. Lines that nobody changed end as they did.
import type { Node } from 'prosemirror-model'
import type { Kept } from '../../content/kept'
import { matchUp } from '../../content/sequence'
import { keptFeatures } from '../docx/whole'
import { loseFrame } from '../frame'
import { type Limit, Limits, type Written } from '../refusals'
import { decoded, encoded, encodingOf } from './encoding'
import type { Line, LineEnd, ReadText } from './read'

/** How a text is written; both are recognised when it is read again. */
export interface TextWay {
  encoding?: TextEncoding
  end?: LineEnd
}
/** Encodings that a text can be asked to be in: those that are recognised. */
export const textEncodings = ['utf-8', 'utf-8 with a mark', 'utf-16le', 'windows-1252'] as const
export type TextEncoding = (typeof textEncodings)[number]

/**
 * @param from the text that it was read from; null for one that is new, which is UTF-8 with plain ends of lines
 * @param way how it is written from now on, where that was said
 */
export function writeText(doc: Node, from: ReadText | null, way: TextWay = {}): Written {
  const before = from?.lines ?? []
  const encoding = way.encoding ?? from?.encoding ?? 'utf-8'
  const end = way.end ?? from?.end ?? '\n'
  const texts = linesOfDocument(doc)
  const ends = way.end ? [] : endsOf(texts, before)
  // A text that ended without an end of line does so again; one without any line is new.
  const ended = before.length === 0 || before.at(-1)!.end !== ''
  const lines: Line[] = texts.map((text, at) => ({ text, end: ends[at] || end }))
  // Two ends side by side must not be read as one. From the end on: what is mended may meet the one before it.
  for (const [at, line] of [...lines.entries()].reverse()) {
    const next = lines[at + 1]
    if (line.end === '\r' && next?.text === '' && next.end === '\n') line.end = '\n'
  }
  const isEmpty = before.length === 0 && texts.length === 1 && texts[0] === ''
  if (!ended) lines.at(-1)!.end = ''
  const text = isEmpty ? '' : lines.map((line) => line.text + line.end).join('')
  const bytes = encoded(text, encoding)
  // Letters that its encoding has not, or bytes that would be read as others: the mark says to whoever reads it what it is
  // in now.
  const isSound = bytes && decoded(bytes, encodingOf(bytes)) === text
  const lost = lostAsText(doc)
  return {
    bytes: isSound ? bytes : encoded(text.toWellFormed(), 'utf-8 with a mark')!,
    // Whoever asked for it is told that it could not be had.
    lost:
      isSound || !way.encoding
        ? lost
        : [...lost, { feature: 'letters that the encoding has not', count: 1, where: [] }],
  }
}

/** A line for each paragraph, and for each part of one that breaks; the cells of a table's row stand in one, parted by tabs. */
export function linesOfDocument(doc: Node): string[] {
  const lines: string[] = []
  const textOf = (node: Node) =>
    node.textBetween(0, node.content.size, '\n', (leaf) =>
      leaf.type.name === 'hard_break'
        ? '\n'
        : leaf.type.name === 'kept' && leaf.attrs.kind !== 'comment'
          ? leaf.attrs.words
          : '',
    )
  doc.descendants((node) => {
    if (node.type.name === 'table_row') {
      const cells: string[] = []
      node.forEach((cell) => void cells.push(textOf(cell).replace(/\s*\n\s*/g, ' ')))
      lines.push(cells.join('\t'))
      return false
    }
    if (node.type.name === 'page_break') lines.push('')
    if (!node.isTextblock) return true
    lines.push(...textOf(node).split('\n'))
    return false
  })
  return lines
}

/** What each line ends with, as the one that it was; undefined for lines that are new. */
function endsOf(texts: readonly string[], before: readonly Line[]): (Line['end'] | undefined)[] {
  const ends: (Line['end'] | undefined)[] = texts.map(() => undefined)
  // What a mixture is mixed of is kept with its lines.
  if (new Set(before.map(({ end }) => end).filter(Boolean)).size < 2) return ends
  const { pairs } = matchUp(
    before.map(({ text }) => text),
    texts,
    (older, newer) => likeness(before[older]!.text, texts[newer]!),
  )
  for (const [older, newer] of pairs) ends[newer] = before[older]!.end
  return ends
}

/** How much of two lines is the same at their beginnings and ends; 0 … 1. */
function likeness(one: string, other: string): number {
  const least = Math.min(one.length, other.length)
  let head = 0
  while (head < least && one[head] === other[head]) head++
  let tail = 0
  while (tail < least - head && one.at(-1 - tail) === other.at(-1 - tail)) tail++
  return (head + tail) / Math.max(one.length, other.length, 1)
}

/** What plain text cannot hold of a document; its words stay, but for what is none. */
export function lostAsText(doc: Node): Limit[] {
  const limits = new Limits()
  const near = (node: Node) => node.textBetween(0, node.content.size, ' ').slice(0, 40)
  doc.descendants((node, at, parent) => {
    const { name } = node.type
    const lose = (feature: string, where: Node | null = node) => limits.add(feature, where ? near(where) : '', 1, [at])
    if (node.isText) {
      for (const { type } of node.marks)
        lose(type.name === 'link' ? 'links (their text stays)' : 'looks of text', parent)
      return false
    }
    if (name === 'heading') lose('headings (their text stays)')
    else if (/_list$/.test(name)) lose('lists (their text stays)')
    else if (name === 'blockquote') lose('quotes (their text stays)')
    else if (name === 'table') lose('tables (their text stays)')
    else if (name === 'image') lose('images', parent)
    else if (name === 'hard_break') lose('breaks inside paragraphs (they become lines)', parent)
    else if (name === 'page_break') lose('page breaks', null)
    else if (name === 'kept') lose(keptFeatures[(node.attrs as Kept).kind], parent)
    if (name === 'paragraph' && (node.attrs.align || node.attrs.style || node.attrs.look)) lose('looks of paragraphs')
    return true
  })
  loseFrame(doc, limits)
  return limits.list()
}
