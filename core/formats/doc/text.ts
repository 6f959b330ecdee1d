// The letters of a document in the order in which they are read, and which properties hold where ([MS-DOC] §2.4, §2.8, §2.9).
import { say } from '../../words/said'
import { letterOf } from '../flat/letters'
import { DamagedFile } from '../refusals'
import { mostLetters } from '../text/read'
import { type DocFile, Numbers, parts, plc } from './file'

interface Piece {
  /** Letters from the first one of all. */
  from: number
  to: number
  /** Where it stands in the main stream, and in how many bytes each letter. */
  at: number
  bytes: 1 | 2
  /** Properties of all of it, beside those of its letters and paragraphs. */
  more: Uint8Array | null
}
/** Properties from one letter to another. */
export interface Stretch {
  from: number
  to: number
  list: Uint8Array
  more: Uint8Array | null
}
export interface DocText {
  text: string
  letters: Stretch[]
  /** By their first letters: style and properties of paragraphs. */
  paragraphs: (Stretch & { style: number })[]
}

const none = new Uint8Array()
const pageSize = 512

/** @throws DamagedFile */
export function readDocText(file: DocFile): DocText {
  const pieces = piecesOf(file)
  const main = new Numbers(file.main)
  let text = ''
  for (const { from, to, at, bytes } of pieces) {
    const letters: string[] = []
    for (let one = 0; one < to - from; one++)
      letters.push(bytes === 2 ? String.fromCharCode(main.u16(at + one * 2)) : letterOf(1252, main.u8(at + one)))
    text += letters.join('')
  }
  const letters = stretches(pieces, runs(file, parts.letters, 1)).map(({ from, to, bytes, more }) => {
    const size = bytes ? bytes.u8(0) : 0
    return { from, to, more, list: bytes ? bytes.bytes.subarray(1, 1 + size) : none }
  })
  const paragraphs = stretches(pieces, runs(file, parts.paragraphs, 13)).map(({ from, to, bytes, more }) => {
    if (!bytes) return { from, to, more, style: 0, list: none }
    // Its size is said in words of two bytes, in the next byte where that is longer.
    const own = bytes.u8(0)
    const begin = own ? 1 : 2
    const size = own ? own * 2 - 1 : bytes.u8(1) * 2
    return {
      from,
      to,
      more,
      style: bytes.u16(begin),
      list: bytes.bytes.subarray(begin + 2, begin + Math.max(2, size)),
    }
  })
  return { text, letters, paragraphs }
}

/** The table of pieces (§2.9.38, Clx). */
function piecesOf(file: DocFile): Piece[] {
  const clx = file.part(parts.pieces)
  const of = new Numbers(clx)
  const lists: Uint8Array[] = []
  let at = 0
  while (of.u8(at) === 1 && at + 3 <= clx.length) {
    const size = of.u16(at + 1)
    lists.push(clx.subarray(at + 3, at + 3 + size))
    at += 3 + size
  }
  if (of.u8(at) !== 2) throw new DamagedFile(say('formats.this-file-is-damaged-its-parts'))
  const { places, at: pieceAt } = plc(clx.subarray(at + 5, at + 5 + of.u32(at + 1)), 8)
  const found: Piece[] = []
  let letters = 0
  for (let index = 0; index + 1 < places.length; index++) {
    const piece = pieceAt(index)
    const place = piece.u32(2)
    const compressed = (place & 0x40000000) !== 0
    const bytes = compressed ? 1 : 2
    const begin = compressed ? (place & 0x3fffffff) / 2 : place & 0x3fffffff
    const from = places[index]!
    const to = places[index + 1]!
    if (to < from || from !== letters || begin + (to - from) * bytes > file.main.length)
      throw new DamagedFile(say('formats.this-file-is-damaged-its-parts'))
    letters = to
    if (letters > mostLetters) throw new DamagedFile(say('formats.text-too-long', { n: mostLetters }))
    const said = piece.u16(6)
    found.push({ from, to, at: begin, bytes, more: said & 1 ? (lists[said >> 1] ?? null) : null })
  }
  return found
}

interface Run {
  /** Bytes of the main stream. */
  from: number
  to: number
  bytes: Numbers | null
}
/** Pages that say for each stretch of bytes which properties hold (§2.9.33, §2.9.181). @param entry bytes for each */
function runs(file: DocFile, part: number, entry: number): Run[] {
  const { places, at } = plc(file.part(part), 4)
  const found: Run[] = []
  for (let index = 0; index + 1 < places.length; index++) {
    const number = at(index).u32(0) & 0x3fffff
    const page = new Numbers(file.main.subarray(number * pageSize, (number + 1) * pageSize))
    if (page.length < pageSize) continue
    const count = Math.min(page.u8(pageSize - 1), Math.floor((pageSize - 5) / (4 + entry)))
    for (let one = 0; one < count; one++) {
      const place = page.u8((count + 1) * 4 + one * entry) * 2
      found.push({
        from: page.u32(one * 4),
        to: page.u32(one * 4 + 4),
        bytes: place ? new Numbers(page.bytes.subarray(place, pageSize - 1)) : null,
      })
    }
  }
  return found.sort((a, b) => a.from - b.from)
}

/** Stretches of bytes as stretches of letters, piece by piece. */
function stretches(pieces: readonly Piece[], all: readonly Run[]) {
  const found: { from: number; to: number; bytes: Numbers | null; more: Uint8Array | null }[] = []
  for (const { from, to, at, bytes, more } of pieces) {
    const end = at + (to - from) * bytes
    let index = firstBehind(all, at)
    for (let run = all[index]; run && run.from < end; run = all[++index]) {
      const begins = Math.max(run.from, at)
      const ends = Math.min(run.to, end)
      if (begins >= ends) continue
      found.push({
        from: from + Math.floor((begins - at) / bytes),
        to: from + Math.ceil((ends - at) / bytes),
        bytes: run.bytes,
        more,
      })
    }
  }
  return found
}
/** The first stretch, of those in order, that reaches behind a place. */
export function firstBehind(all: readonly { to: number }[], place: number): number {
  let low = 0
  let high = all.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (all[middle]!.to > place) high = middle
    else low = middle + 1
  }
  return low
}
