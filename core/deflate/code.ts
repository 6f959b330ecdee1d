// The constants of DEFLATE (RFC 1951) and its canonical codes (§3.2.2), with codes bit-reversed as they
// stand in the stream, where the first bit of a code is the lowest one.

/** Base lengths and extra bits of the length symbols 257 … 285 (§3.2.5). */
export const lengthBase = Uint16Array.of(
  3,
  4,
  5,
  6,
  7,
  8,
  9,
  10,
  11,
  13,
  15,
  17,
  19,
  23,
  27,
  31,
  35,
  43,
  51,
  59,
  67,
  83,
  99,
  115,
  131,
  163,
  195,
  227,
  258,
)
export const lengthExtra = Uint8Array.of(
  0,
  0,
  0,
  0,
  0,
  0,
  0,
  0,
  1,
  1,
  1,
  1,
  2,
  2,
  2,
  2,
  3,
  3,
  3,
  3,
  4,
  4,
  4,
  4,
  5,
  5,
  5,
  5,
  0,
)
export const distanceBase = Uint16Array.of(
  1,
  2,
  3,
  4,
  5,
  7,
  9,
  13,
  17,
  25,
  33,
  49,
  65,
  97,
  129,
  193,
  257,
  385,
  513,
  769,
  1025,
  1537,
  2049,
  3073,
  4097,
  6145,
  8193,
  12289,
  16385,
  24577,
)
export const distanceExtra = Uint8Array.of(
  0,
  0,
  0,
  0,
  1,
  1,
  2,
  2,
  3,
  3,
  4,
  4,
  5,
  5,
  6,
  6,
  7,
  7,
  8,
  8,
  9,
  9,
  10,
  10,
  11,
  11,
  12,
  12,
  13,
  13,
)
/** The order in which the lengths of the code length codes stand (§3.2.7). */
export const codeLengthOrder = Uint8Array.of(16, 17, 18, 0, 8, 7, 9, 6, 10, 5, 11, 4, 12, 3, 13, 2, 14, 1, 15)

export const literals = 288
export const distances = 30
export const endOfBlock = 256

/** The length symbol, less 257, of a length 3 … 258. */
export const lengthSymbol = new Uint8Array(259)
for (let symbol = 0; symbol < 28; symbol++)
  for (let extra = 0; extra < 1 << lengthExtra[symbol]!; extra++) lengthSymbol[lengthBase[symbol]! + extra] = symbol
lengthSymbol[258] = 28

/** The distance symbol of a distance 1 … 32768. */
export const distanceSymbol = new Uint8Array(32769)
for (let symbol = 0; symbol < distances; symbol++)
  for (let extra = 0; extra < 1 << distanceExtra[symbol]!; extra++)
    distanceSymbol[distanceBase[symbol]! + extra] = symbol

/** The code lengths of a fixed block (§3.2.6). */
export const fixedLiteralLengths = new Uint8Array(literals).fill(8).fill(9, 144, 256).fill(7, 256, 280)
export const fixedDistanceLengths = new Uint8Array(distances).fill(5)

export const longestCode = 15

export function reversed(code: number, length: number): number {
  let result = 0
  for (let bit = 0; bit < length; bit++) result |= ((code >> bit) & 1) << (length - 1 - bit)
  return result
}

/** The canonical codes of code lengths, reversed. */
export function codesOf(lengths: Uint8Array): Uint16Array {
  const next = new Uint16Array(longestCode + 2)
  const counts = new Uint16Array(longestCode + 1)
  for (const length of lengths) counts[length]!++
  counts[0] = 0
  for (let length = 1; length <= longestCode; length++) next[length + 1] = (next[length]! + counts[length]!) << 1
  const codes = new Uint16Array(lengths.length)
  for (let symbol = 0; symbol < lengths.length; symbol++) {
    const length = lengths[symbol]!
    if (length) codes[symbol] = reversed(next[length]!++, length)
  }
  return codes
}

/**
 * A table to decode with: the next `bits` bits give symbol << 4 | length; 0 where no code begins so.
 * @returns null when the lengths are no complete or single-symbol code
 */
export function decodingTable(lengths: Uint8Array): { table: Uint16Array; bits: number } | null {
  let bits = 0
  let left = 1 << longestCode
  for (const length of lengths)
    if (length) {
      bits = Math.max(bits, length)
      left -= 1 << (longestCode - length)
    }
  if (left < 0) return null
  const table = new Uint16Array(1 << Math.max(bits, 1))
  const codes = codesOf(lengths)
  for (let symbol = 0; symbol < lengths.length; symbol++) {
    const length = lengths[symbol]!
    if (!length) continue
    const step = 1 << length
    const entry = (symbol << 4) | length
    for (let at = codes[symbol]!; at < table.length; at += step) table[at] = entry
  }
  return { table, bits: Math.max(bits, 1) }
}
