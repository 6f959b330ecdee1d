// Text as bytes: which encoding a file is in, and its letters in that one again. Sources: the Unicode Standard, §3.10 and
// §23.8 (byte order marks); the WHATWG Encoding standard (windows-1252, in which every byte is a letter).

export const encodings = ['utf-8', 'utf-8 with a mark', 'utf-16le', 'utf-16be', 'windows-1252'] as const
export type Encoding = (typeof encodings)[number]

const marks: Partial<Record<Encoding, readonly number[]>> = {
  'utf-8 with a mark': [0xef, 0xbb, 0xbf],
  'utf-16le': [0xff, 0xfe],
  'utf-16be': [0xfe, 0xff],
}
const begins = (bytes: Uint8Array, mark: readonly number[]) => mark.every((byte, at) => bytes[at] === byte)

/**
 * The encoding that a text is in: by its mark, by being sound UTF-8, or the one in which any bytes are letters.
 * @param goesOn it is a beginning, whose last letter may be cut through
 */
export function encodingOf(bytes: Uint8Array, goesOn = false): Encoding {
  for (const encoding of ['utf-8 with a mark', 'utf-16le', 'utf-16be'] as const)
    if (begins(bytes, marks[encoding]!)) return encoding
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: goesOn })
    return 'utf-8'
  } catch {
    return 'windows-1252'
  }
}

/** The letters of a text's beginning, whatever it is in. @param most bytes that are read */
export function textOf(bytes: Uint8Array, most = bytes.length): string {
  const part = bytes.subarray(0, most)
  return decoded(part, encodingOf(part, part.length < bytes.length))
}

/** The letters of bytes, without a mark; what is none in that encoding is U+FFFD. */
export function decoded(bytes: Uint8Array, encoding: Encoding): string {
  const mark = marks[encoding]
  const text = mark && begins(bytes, mark) ? bytes.subarray(mark.length) : bytes
  // Not every program's decoder has the letters of 0x80 to 0x9f.
  if (encoding === 'windows-1252') return westernText(text)
  const name = encoding === 'utf-8 with a mark' ? 'utf-8' : encoding
  return new TextDecoder(name, { ignoreBOM: true }).decode(text)
}

/** The letters of bytes 0x80 to 0x9f; what is none is the control of its number. */
const upper =
  '\u20ac\u0081\u201a\u0192\u201e\u2026\u2020\u2021\u02c6\u2030\u0160\u2039\u0152\u008d\u017d\u008f\u0090\u2018\u2019\u201c\u201d\u2022\u2013\u2014\u02dc\u2122\u0161\u203a\u0153\u009d\u017e\u0178'
const western = Array.from({ length: 256 }, (_, byte) =>
  byte >= 0x80 && byte < 0xa0 ? upper[byte - 0x80]! : String.fromCharCode(byte),
)
const westernBytes = new Map(western.map((letter, byte) => [letter, byte]))

function westernText(bytes: Uint8Array): string {
  const pieces: string[] = []
  for (let from = 0; from < bytes.length; from += 8192)
    pieces.push(Array.from(bytes.subarray(from, from + 8192), (byte) => western[byte]).join(''))
  return pieces.join('')
}

/** @returns the bytes of a text, with a mark where that encoding has one; null where it has not all of its letters */
export function encoded(text: string, encoding: Encoding): Uint8Array | null {
  const mark = marks[encoding] ?? []
  if (encoding === 'windows-1252') {
    const bytes = new Uint8Array(text.length)
    for (let at = 0; at < text.length; at++) {
      const byte = westernBytes.get(text[at]!)
      if (byte === undefined) return null
      bytes[at] = byte
    }
    return bytes
  }
  if (!text.isWellFormed()) return null
  if (encoding === 'utf-16le' || encoding === 'utf-16be') {
    const bytes = new Uint8Array(mark.length + text.length * 2)
    const view = new DataView(bytes.buffer)
    bytes.set(mark)
    for (let at = 0; at < text.length; at++)
      view.setUint16(mark.length + at * 2, text.charCodeAt(at), encoding === 'utf-16le')
    return bytes
  }
  const plain = new TextEncoder().encode(text)
  if (!mark.length) return plain
  const bytes = new Uint8Array(mark.length + plain.length)
  bytes.set(mark)
  bytes.set(plain, mark.length)
  return bytes
}
