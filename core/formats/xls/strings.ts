// Texts of the binary format ([MS-XLS] §2.5.293–§2.5.296): letters of one or two bytes, with looks and readings behind.
import { say } from '../../words/said'
import { DamagedFile } from '../refusals'
import { mostInRecord, viewOf } from './records'

/** Reads what goes on over several records. */
class Pieces {
  private piece = 0
  private at = 0
  constructor(private readonly pieces: readonly Uint8Array[]) {}
  get ended(): boolean {
    return this.piece >= this.pieces.length || (this.piece === this.pieces.length - 1 && this.left === 0)
  }
  /** Bytes left in this record. */
  private get left(): number {
    return (this.pieces[this.piece]?.length ?? 0) - this.at
  }
  byte(): number {
    while (this.left <= 0) {
      if (this.piece >= this.pieces.length - 1) throw damaged()
      this.piece++
      this.at = 0
    }
    return this.pieces[this.piece]![this.at++]!
  }
  short(): number {
    return this.byte() | (this.byte() << 8)
  }
  long(): number {
    return (this.short() | (this.short() << 16)) >>> 0
  }
  skip(count: number): void {
    for (let left = count; left > 0; ) {
      if (this.left <= 0) {
        if (this.piece >= this.pieces.length - 1) throw damaged()
        this.piece++
        this.at = 0
      }
      const step = Math.min(left, this.left)
      this.at += step
      left -= step
    }
  }
  /** Letters; a record that goes on begins with how wide they are from there on. */
  letters(count: number, wide: boolean): string {
    const parts: string[] = []
    let width = wide ? 2 : 1
    let left = count
    while (left > 0) {
      if (this.left < width) {
        if (this.piece >= this.pieces.length - 1) throw damaged()
        this.piece++
        this.at = 0
        width = (this.byte() & 1) + 1
        continue
      }
      const here = Math.min(left, Math.floor(this.left / width))
      parts.push(lettersOf(this.pieces[this.piece]!, this.at, here, width === 2))
      this.at += here * width
      left -= here
    }
    return parts.join('')
  }
}
const damaged = () => new DamagedFile(say('formats.this-file-is-damaged-its-texts'))

/** Letters one after the other in one record. */
export function lettersOf(bytes: Uint8Array, from: number, count: number, wide: boolean): string {
  const to = from + count * (wide ? 2 : 1)
  if (to > bytes.length) throw damaged()
  const parts: string[] = []
  // Not all at once: each letter is an argument.
  for (let at = from; at < to; at += 8192) {
    const end = Math.min(to, at + 8192)
    const codes: number[] = []
    if (wide) for (let one = at; one < end; one += 2) codes.push(bytes[one]! | (bytes[one + 1]! << 8))
    else for (let one = at; one < end; one++) codes.push(bytes[one]!)
    parts.push(String.fromCharCode(...codes))
  }
  return parts.join('')
}

/** A text with the number of its letters before it, in one byte or two. @returns the text, and where it ends */
export function textAt(data: Uint8Array, at: number, countBytes: 1 | 2): { text: string; end: number } {
  if (at + countBytes + 1 > data.length) throw damaged()
  const count = countBytes === 1 ? data[at]! : data[at]! | (data[at + 1]! << 8)
  const flags = data[at + countBytes]!
  const from = at + countBytes + 1
  return { text: lettersOf(data, from, count, !!(flags & 1)), end: from + count * (flags & 1 ? 2 : 1) }
}

/** A text that may go on in further records, as behind a formula. */
export const longText = (pieces: readonly Uint8Array[]): string => {
  const from = new Pieces(pieces)
  const count = from.short()
  return from.letters(count, !!(from.byte() & 1))
}

/**
 * The shared texts (§2.4.265).
 * @param pieces the record and those that it goes on in
 * @returns them, and how many have looks of their own in them
 */
export function sharedTexts(pieces: readonly Uint8Array[]): { texts: string[]; rich: number } {
  const texts: string[] = []
  let rich = 0
  const from = new Pieces(pieces)
  from.long()
  const count = from.long()
  while (texts.length < count && !from.ended) {
    const letters = from.short()
    const flags = from.byte()
    const runs = flags & 8 ? from.short() : 0
    const readings = flags & 4 ? from.long() : 0
    texts.push(from.letters(letters, !!(flags & 1)))
    if (runs) rich++
    from.skip(runs * 4 + readings)
  }
  return { texts, rich }
}

const isWide = (text: string) => /[^\u0000-\u00ff]/.test(text)
/** A text with the number of its letters before it. */
export function textBytes(text: string, countBytes: 1 | 2): number[] {
  const wide = isWide(text)
  const bytes = countBytes === 1 ? [text.length] : [text.length & 0xff, text.length >> 8]
  bytes.push(wide ? 1 : 0)
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    bytes.push(code & 0xff)
    if (wide) bytes.push(code >> 8)
  }
  return bytes
}

/**
 * Texts as the data of records: of the first one, and of those that go on.
 * @param room bytes that the first one has
 */
export function textsAsRecords(texts: readonly string[], room: number): Uint8Array[] {
  const records: Uint8Array[] = []
  let bytes = new Uint8Array(room)
  let at = 0
  const end = () => {
    records.push(bytes.subarray(0, at))
    bytes = new Uint8Array(mostInRecord)
    at = 0
  }
  for (const text of texts) {
    const wide = isWide(text)
    const width = wide ? 2 : 1
    // The head of a text is in one record.
    if (at + 3 + width > bytes.length) end()
    bytes[at++] = text.length & 0xff
    bytes[at++] = text.length >> 8
    bytes[at++] = wide ? 1 : 0
    for (let letter = 0; letter < text.length; letter++) {
      if (at + width > bytes.length) {
        end()
        bytes[at++] = wide ? 1 : 0
      }
      const code = text.charCodeAt(letter)
      bytes[at++] = code & 0xff
      if (wide) bytes[at++] = code >> 8
    }
  }
  end()
  return records
}

export const countsOf = (data: Uint8Array): { uses: number; texts: number } => ({
  uses: viewOf(data).getUint32(0, true),
  texts: viewOf(data).getUint32(4, true),
})
