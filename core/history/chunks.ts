// A body cut into chunks where its content says so, not at fixed places: after an edit, what comes before
// it and, a little later, what comes after it gives the same chunks again, wherever they have moved to.
//
// The cut is where a rolling hash of what was passed last has its highest bits zero (the "gear" hash of
// Xia et al., FastCDC, USENIX ATC 2016). Tokens are hashed by literal and length alone: their distances
// change for the length of a window after an edit, and the cuts do not.
import type { BodySink, FileMaker } from './container'
import { ByteReader, ByteWriter } from './varint'

/**
 * The least and the most bytes of a chunk; most have between 10 and 20 KB. A stream's first one has more, so
 * that a short stream is a chunk: there is nothing that an edit could move across its ends.
 */
export const chunkSize = { least: 4 << 10, first: 64 << 10, most: 96 << 10, ofTail: 2 << 10 }
/** Highest bits of the hash that are zero at a cut: one place in 4096 by chance, at about two bytes a token. */
const cutMask = 0xfff00000

/** 256 numbers for literals and bytes, 256 for lengths, by xorshift32 (Marsaglia 2003) from a fixed seed. */
const gear = new Uint32Array(512)
for (let at = 0, x = 0x6a09e667; at < gear.length; at++) {
  x ^= x << 13
  x ^= x >>> 17
  x ^= x << 5
  gear[at] = x
}

// A chunk is groups: count * 2 + kind, then bytes as they are, or tokens in rows, which pack better than token
// by token: a byte for each literal or length (0 … 127 the literal, 128 … 253 a length 3 … 128, 254 and a
// byte a longer one, 255 and a byte a literal over 127), then the references' anchors, then their offsets.
const ofBytes = 0
const ofTokens = 1

/** Cuts a body; each chunk is handed on as soon as it is whole. */
export class Chunker implements BodySink {
  private readonly chunk = new ByteWriter()
  private hash = 0
  /** The group that is being collected. */
  private kind = ofBytes
  /** That of the group before. */
  private lastKind = ofBytes
  private count = 0
  private readonly symbols = new Uint8Array(chunkSize.most * 2)
  private symbolCount = 0
  private readonly far = new Uint16Array(chunkSize.most)
  private farCount = 0
  /** Whether nothing of the stream was cut off yet. */
  private first = true

  constructor(private readonly onChunk: (chunk: Uint8Array) => void) {}

  bytes(bytes: Uint8Array): void {
    this.begin(ofBytes)
    let { hash, symbolCount } = this
    for (let at = 0; at < bytes.length; at++) {
      const byte = bytes[at]!
      this.symbols[symbolCount++] = byte
      hash = (hash << 1) + gear[byte]!
      const size = this.chunk.size + symbolCount
      if (size < chunkSize.least || ((hash & cutMask) !== 0 && size < chunkSize.most)) continue
      this.count = symbolCount
      this.symbolCount = symbolCount
      this.cut()
      symbolCount = 0
    }
    this.count = symbolCount
    this.symbolCount = symbolCount
    this.hash = hash
  }

  tokens(tokens: Uint32Array, count: number): void {
    this.begin(ofTokens)
    const { symbols, far } = this
    let { hash, symbolCount, farCount } = this
    for (let at = 0; at < count; at++) {
      const token = tokens[at]!
      if (token < 256) {
        if (token > 127) symbols[symbolCount++] = 255
        symbols[symbolCount++] = token
        hash = (hash << 1) + gear[token]!
      } else {
        const length = token >>> 16
        if (length < 129) symbols[symbolCount++] = 125 + length
        else {
          symbols[symbolCount++] = 254
          symbols[symbolCount++] = length - 129
        }
        far[farCount++] = (token & 0xffff) - 1
        hash = (hash << 1) + gear[253 + length]!
      }
      this.count++
      const size = symbolCount + farCount * 2
      if (size < chunkSize.least) continue
      // A stream of some length has chunks of its own, which can be kept as what differs from earlier ones.
      if (this.chunk.size > 0) this.onChunk(this.chunk.take())
      if (((hash & cutMask) !== 0 || (this.first && size < chunkSize.first)) && size < chunkSize.most) continue
      this.symbolCount = symbolCount
      this.farCount = farCount
      this.cut()
      this.first = false
      symbolCount = 0
      farCount = 0
    }
    this.symbolCount = symbolCount
    this.farCount = farCount
    this.hash = hash
  }

  endOfPart(): void {
    this.first = true
    const own = this.kind === ofTokens && this.symbolCount + this.farCount * 2 >= chunkSize.least
    this.endGroup()
    if (own || this.chunk.size >= chunkSize.least) this.cut()
    this.hash = 0
  }

  /** What would be too long together with it stays the chunk that it is. */
  directoryComes(size: number): void {
    this.endGroup()
    if (this.chunk.size > 0 && this.chunk.size + size > chunkSize.ofTail - 8) this.cut()
  }

  /**
   * @returns what is left, in groups, where it is the file's own and short: it ends in bytes, which in a container are its
   * directory, and goes with the frame, which changes whenever it does
   */
  end(): Uint8Array {
    this.endGroup()
    if (this.lastKind === ofBytes && this.chunk.size > 0 && this.chunk.size <= chunkSize.ofTail)
      return this.chunk.take()
    if (this.chunk.size > 0) this.cut()
    return new Uint8Array()
  }

  private begin(kind: number): void {
    if (kind !== this.kind) this.endGroup()
    this.kind = kind
  }
  private endGroup(): void {
    if (this.count > 0) {
      this.lastKind = this.kind
      this.chunk.number(this.count * 2 + this.kind)
      if (this.kind === ofTokens) this.chunk.number(this.symbolCount)
      this.chunk.raw(this.symbols.subarray(0, this.symbolCount))
      const rows = new Uint8Array(this.farCount * 2)
      for (let at = 0; at < this.farCount; at++) {
        rows[at] = this.far[at]! >> 8
        rows[this.farCount + at] = this.far[at]! & 255
      }
      this.chunk.raw(rows)
    }
    this.count = 0
    this.symbolCount = 0
    this.farCount = 0
  }
  private cut(): void {
    this.endGroup()
    this.onChunk(this.chunk.take())
  }
}

/** The chunk of a frame. @param tail the last groups of the body, where they go with it */
export function chunkOfFrame(frame: Uint8Array, tail: Uint8Array): Uint8Array {
  const chunk = new ByteWriter()
  chunk.number(frame.length * 2 + ofBytes)
  chunk.raw(frame)
  chunk.raw(tail)
  return chunk.take()
}
/** @throws RangeError when it is another chunk */
export function frameOfChunk(chunk: Uint8Array): { frame: Uint8Array; tail: Uint8Array } {
  const reader = new ByteReader(chunk)
  const number = reader.number()
  if (number % 2 !== ofBytes) throw new RangeError('This chunk is no frame.')
  return { frame: reader.raw(number / 2), tail: chunk.subarray(reader.at) }
}

/** A chunk that holds tokens of one stream and nothing else. */
export interface TokenRows {
  count: number
  symbols: Uint8Array
  high: Uint8Array
  low: Uint8Array
}

/** @returns null for a chunk of another make */
export function tokenRows(chunk: Uint8Array): TokenRows | null {
  const reader = new ByteReader(chunk)
  const number = reader.number()
  if (number % 2 !== ofTokens) return null
  const symbols = reader.raw(reader.number())
  const matches = (chunk.length - reader.at) / 2
  if (matches !== matchesIn(symbols)) return null
  return { count: Math.floor(number / 2), symbols, high: reader.raw(matches), low: reader.raw(matches) }
}

export function chunkOfRows({ count, symbols, high, low }: TokenRows): Uint8Array {
  const chunk = new ByteWriter()
  chunk.number(count * 2 + ofTokens)
  chunk.number(symbols.length)
  for (const row of [symbols, high, low]) chunk.raw(row)
  return chunk.take()
}

export function rowsOfTokens(tokens: Uint32Array): TokenRows {
  const symbols = new Uint8Array(tokens.length * 2)
  const high = new Uint8Array(tokens.length)
  const low = new Uint8Array(tokens.length)
  let size = 0
  let matches = 0
  for (const token of tokens) {
    if (token < 256) {
      if (token > 127) symbols[size++] = 255
      symbols[size++] = token
      continue
    }
    const length = token >>> 16
    symbols[size++] = length < 129 ? 125 + length : 254
    if (length > 128) symbols[size++] = length - 129
    const distance = (token & 0xffff) - 1
    high[matches] = distance >> 8
    low[matches++] = distance & 255
  }
  return {
    count: tokens.length,
    symbols: symbols.slice(0, size),
    high: high.slice(0, matches),
    low: low.slice(0, matches),
  }
}

export function matchesIn(symbols: Uint8Array): number {
  let matches = 0
  for (let at = 0; at < symbols.length; at++) {
    const symbol = symbols[at]!
    if (symbol < 128) continue
    if (symbol >= 254) at++
    if (symbol < 255) matches++
  }
  return matches
}

/** @throws RangeError when these are other tokens than that many: a count that rotted is no size of anything */
export function tokensOfRows({ count, symbols, high, low }: TokenRows): Uint32Array {
  if (count > symbols.length) throw new RangeError('More tokens than there are symbols of.')
  const tokens = new Uint32Array(count)
  let match = 0
  let token = 0
  for (let at = 0; at < symbols.length; token++) {
    const symbol = symbols[at++]!
    if (symbol < 128) tokens[token] = symbol
    else if (symbol === 255) tokens[token] = symbols[at++]!
    else {
      const length = symbol === 254 ? symbols[at++]! + 129 : symbol - 125
      tokens[token] = (length << 16) | (((high[match]! << 8) | low[match]!) + 1)
      match++
    }
  }
  if (token !== count) throw new RangeError('There are symbols of other tokens.')
  return tokens
}

/** Hands a chunk's content on to the maker of its file. @throws RangeError when it is none, or not of this place */
export function putChunk(chunk: Uint8Array, maker: FileMaker): void {
  const reader = new ByteReader(chunk)
  while (!reader.done) {
    const number = reader.number()
    const count = Math.floor(number / 2)
    if (number % 2 === ofBytes) {
      maker.bytes(reader.raw(count))
      continue
    }
    const symbols = reader.raw(reader.number())
    const matches = matchesIn(symbols)
    maker.tokens(tokensOfRows({ count, symbols, high: reader.raw(matches), low: reader.raw(matches) }), count)
  }
}
