// Text as bytes: which encoding a file is in, and its letters in that one again. Sources: the Unicode Standard, §3.10 and
// §23.8 (byte order marks); the WHATWG Encoding standard (windows-1252, in which every byte is a letter, and others of one
// byte for a letter, which nothing in a text tells from it).

/** Those in which a letter is one byte. */
export const oneByte = [
  'windows-1252',
  'windows-1250',
  'windows-1251',
  'windows-1253',
  'windows-1254',
  'windows-1257',
  'iso-8859-2',
  'iso-8859-15',
  'macintosh',
  'ibm866',
] as const
export const encodings = ['utf-8', 'utf-8 with a mark', 'utf-16le', 'utf-16be', ...oneByte] as const
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

/**
 * The letters of a text's beginning, whatever it is in.
 * @param most bytes that are read @param said its encoding, where nothing in it says another one
 */
export function textOf(bytes: Uint8Array, most = bytes.length, said?: Encoding): string {
  const part = bytes.subarray(0, most)
  const found = encodingOf(part, part.length < bytes.length)
  return decoded(part, isGuessed(found) ? (said ?? found) : found)
}
/**
 * Letters that stand as UTF-8 in bytes that are not UTF-8 as a whole, as where two lists were put into one: two to four bytes
 * each (RFC 3629, section 4). As text of one byte for a letter they would be signs that nobody writes one after the other.
 */
export function lettersOfUtf8(bytes: Uint8Array): number {
  let count = 0
  const goesOn = (at: number) => (bytes[at]! & 0xc0) === 0x80
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at]!
    if (byte < 0xc2) continue
    const length = byte < 0xe0 ? 2 : byte < 0xf0 ? 3 : byte < 0xf5 ? 4 : 1
    let next = 1
    while (next < length && goesOn(at + next)) next++
    if (length === 1 || next < length) continue
    count++
    at += length - 1
  }
  return count
}
/** Whether an encoding was found by no mark. */
export const isGuessed = (found: Encoding): boolean => found === 'utf-8' || found === 'windows-1252'

/** The letters of bytes, without a mark; what is none in that encoding is U+FFFD. */
export function decoded(bytes: Uint8Array, encoding: Encoding): string {
  const mark = marks[encoding]
  const text = mark && begins(bytes, mark) ? bytes.subarray(mark.length) : bytes
  if (isOneByte(encoding)) return textOfLetters(text, tableOf(encoding).letters)
  const name = encoding === 'utf-8 with a mark' ? 'utf-8' : encoding
  return new TextDecoder(name, { ignoreBOM: true }).decode(text)
}

/** The letters of bytes 0x80 to 0x9f; what is none is the control of its number. */
const upper =
  '\u20ac\u0081\u201a\u0192\u201e\u2026\u2020\u2021\u02c6\u2030\u0160\u2039\u0152\u008d\u017d\u008f\u0090\u2018\u2019\u201c\u201d\u2022\u2013\u2014\u02dc\u2122\u0161\u203a\u0153\u009d\u017e\u0178'
type OneByte = (typeof oneByte)[number]
const isOneByte = (encoding: Encoding): encoding is OneByte => (oneByte as readonly string[]).includes(encoding)
interface Letters {
  /** By their bytes; U+FFFD where a byte is none. */
  letters: readonly string[]
  bytes: ReadonlyMap<string, number>
}
const tables = new Map<OneByte, Letters>()
function tableOf(encoding: OneByte): Letters {
  const known = tables.get(encoding)
  if (known) return known
  const all = Uint8Array.from({ length: 256 }, (_, byte) => byte)
  const letters =
    encoding === 'windows-1252'
      ? // Not every program's decoder has the letters of 0x80 to 0x9f.
        Array.from(all, (byte) => (byte >= 0x80 && byte < 0xa0 ? upper[byte - 0x80]! : String.fromCharCode(byte)))
      : [...new TextDecoder(encoding, { ignoreBOM: true }).decode(all)]
  const bytes = new Map(letters.flatMap((letter, byte) => (letter === '\ufffd' ? [] : [[letter, byte] as const])))
  tables.set(encoding, { letters, bytes })
  return { letters, bytes }
}

function textOfLetters(bytes: Uint8Array, letters: readonly string[]): string {
  const pieces: string[] = []
  for (let from = 0; from < bytes.length; from += 8192)
    pieces.push(Array.from(bytes.subarray(from, from + 8192), (byte) => letters[byte]).join(''))
  return pieces.join('')
}

/** @returns the bytes of a text, with a mark where that encoding has one; null where it has not all of its letters */
export function encoded(text: string, encoding: Encoding): Uint8Array | null {
  const mark = marks[encoding] ?? []
  if (isOneByte(encoding)) {
    const table = tableOf(encoding).bytes
    const bytes = new Uint8Array(text.length)
    for (let at = 0; at < text.length; at++) {
      const byte = table.get(text[at]!)
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

/** The letters of bytes; null where some are none in that encoding, and could not be written as they were. */
export function soundText(bytes: Uint8Array, encoding: Encoding): string | null {
  const text = decoded(bytes, encoding)
  if (!text.includes('\ufffd')) return text
  const again = encoded(text, encoding)
  return again?.length === bytes.length && again.every((byte, at) => byte === bytes[at]) ? text : null
}
