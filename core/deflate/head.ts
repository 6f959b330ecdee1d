// Bits of a DEFLATE stream, and the head of a dynamic block (RFC 1951 §3.2.7) as its code lengths.
import { codeLengthOrder, decodingTable, distances } from './code'

export class NotDeflate extends Error {}

/** Where reading stands in the bytes: `held` are the next `count` bits, lowest first; `at` is the byte after them. */
export class BitReader {
  held = 0
  count = 0
  constructor(
    readonly bytes: Uint8Array,
    public at: number,
  ) {}

  /** Bits beyond the end are zeros; `past` tells of them. */
  need(length: number): void {
    while (this.count < length) {
      this.held |= (this.at < this.bytes.length ? this.bytes[this.at]! : 0) << this.count
      this.at++
      this.count += 8
    }
  }
  take(length: number): number {
    this.need(length)
    const value = this.held & ((1 << length) - 1)
    this.held >>>= length
    this.count -= length
    return value
  }
  /** Passes the bits up to the next byte, which must be zeros to be made again. */
  align(): void {
    if (this.take(this.count & 7) !== 0) throw new NotDeflate()
    this.at -= this.count >> 3
    this.held = 0
    this.count = 0
  }
  get past(): boolean {
    return this.at - (this.count >> 3) > this.bytes.length
  }
}

/**
 * The code lengths that a head tells. @param take the next bits @param peek at least seven bits without taking them
 * @returns null when it is no head
 */
export function headLengths(
  take: (length: number) => number,
  peek: () => number,
): { literal: Uint8Array; distance: Uint8Array } | null {
  const literal = take(5) + 257
  const distance = take(5) + 1
  const codes = take(4) + 4
  const codeLengths = new Uint8Array(19)
  for (let index = 0; index < codes; index++) codeLengths[codeLengthOrder[index]!] = take(3)
  const read = decodingTable(codeLengths)
  if (!read || literal > 286 || distance > distances) return null
  const all = literal + distance
  const lengths = new Uint8Array(all)
  for (let index = 0; index < all; ) {
    const entry = read.table[peek() & ((1 << read.bits) - 1)]!
    if (!entry) return null
    take(entry & 15)
    const symbol = entry >> 4
    if (symbol < 16) {
      lengths[index++] = symbol
      continue
    }
    if (symbol === 16 && index === 0) return null
    const value = symbol === 16 ? lengths[index - 1]! : 0
    const times = symbol === 16 ? 3 + take(2) : symbol === 17 ? 3 + take(3) : 11 + take(7)
    if (index + times > all) return null
    lengths.fill(value, index, index + times)
    index += times
  }
  return { literal: lengths.subarray(0, literal), distance: lengths.subarray(literal) }
}
