// DEFLATE streams (RFC 1951) opened down to their tokens, and made again from them bit for bit.
//
// A stream is literals and references back (length, distance), cut into blocks, each with codes of its
// own. Opening keeps the tokens and, apart from them, how they are cut and coded. When a file is edited and
// packed again the tokens beyond the edit's window are the same as before, but every later block begins
// elsewhere and has other codes, so that no byte is the same; tokens can be shared between versions, bytes
// cannot. How tokens are cut and coded follows from the tokens by the rules of the compressor in nearly all
// streams (trees.ts); then the plan of a stream is a few bytes. What does not follow is in the plan as it
// stands. Making a stream again is counting and writing codes: no search for matches, which is the slow
// part of packing, and no dependence on any compressor's search staying as it is.
import {
  codeLengthOrder,
  codesOf,
  decodingTable,
  distanceBase,
  distanceExtra,
  distanceSymbol,
  distances,
  endOfBlock,
  fixedDistanceLengths,
  fixedLiteralLengths,
  lengthBase,
  lengthExtra,
  lengthSymbol,
  literals,
} from './deflate-code'
import { chooseCodes, type TreeRule, writeHead } from './trees'

/** Below 256 a literal; otherwise length << 16 | distance. */
export type Token = number

/** stored: bytes as they are. fixed: the standard's codes. zlib, fflate: codes by that rule. own: codes in `head`. */
export type BlockKind = 'stored' | 'fixed' | 'own' | TreeRule
const kinds: readonly BlockKind[] = ['stored', 'fixed', 'own', 'zlib', 'fflate']

export interface Block {
  kind: BlockKind
  tokens: number
  /** The head of an `own` block as bits, lowest first, from HLIT on. */
  head?: { bits: Uint8Array; length: number }
}

/** How a stream's tokens are cut and coded. */
export type Plan = readonly Block[]

const batchSize = 8192

const isRuled = (kind: BlockKind): kind is TreeRule => kind === 'zlib' || kind === 'fflate'

class NotDeflate extends Error {}

/**
 * Opens a stream, some tokens at a time; they are the caller's only until the next are asked for.
 * @param from the byte it begins at
 * @returns its plan and the byte after it; null when it is not a stream that can be made again
 */
export function* openDeflate(
  bytes: Uint8Array,
  from: number,
): Generator<Uint32Array, { plan: Plan; end: number } | null> {
  try {
    return yield* open(bytes, from)
  } catch (error) {
    if (error instanceof NotDeflate) return null
    throw error
  }
}

/** Where reading stands in the bytes: `held` are the next `count` bits, lowest first; `at` is the byte after them. */
class BitReader {
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

interface Tables {
  literal: { table: Uint16Array; bits: number }
  distance: { table: Uint16Array; bits: number }
}

/** Tokens of a block, some at a time, and how often each symbol was there. */
class TokenReader {
  readonly batch = new Uint32Array(batchSize)
  size = 0
  readonly literalCounts = new Uint32Array(literals)
  readonly distanceCounts = new Uint32Array(distances)

  /** Reads until the block ends or the batch is full. @returns whether the block ended */
  read(reader: BitReader, { literal, distance }: Tables): boolean {
    // Everything in the loop is local: it runs for each token of each file that is saved.
    const { bytes } = reader
    const { batch, literalCounts, distanceCounts } = this
    const { table, bits } = literal
    const { table: farTable, bits: farBits } = distance
    const mask = (1 << bits) - 1
    const farMask = (1 << farBits) - 1
    const length = bytes.length
    let { at, held, count } = reader
    let { size } = this
    let ended = false
    while (size < batchSize) {
      while (count < 15) {
        held |= (at < length ? bytes[at]! : 0) << count
        at++
        count += 8
      }
      const entry = table[held & mask]!
      held >>>= entry & 15
      count -= entry & 15
      const symbol = entry >> 4
      literalCounts[symbol]!++
      if (symbol < 256) {
        if (entry === 0) throw new NotDeflate()
        batch[size++] = symbol
        continue
      }
      if (symbol === endOfBlock) {
        ended = true
        break
      }
      if (symbol > 285) throw new NotDeflate()
      const lengthBits = lengthExtra[symbol - 257]!
      while (count < 20) {
        held |= (at < length ? bytes[at]! : 0) << count
        at++
        count += 8
      }
      const long = lengthBase[symbol - 257]! + (held & ((1 << lengthBits) - 1))
      held >>>= lengthBits
      count -= lengthBits
      // Length 258 has a symbol of its own; 284 with all extra bits would say the same otherwise.
      if (long === 258 && symbol === 284) throw new NotDeflate()
      const far = farTable[held & farMask]!
      if (far === 0) throw new NotDeflate()
      held >>>= far & 15
      count -= far & 15
      const farSymbol = far >> 4
      distanceCounts[farSymbol]!++
      const farExtra = distanceExtra[farSymbol]!
      while (count < farExtra) {
        held |= (at < length ? bytes[at]! : 0) << count
        at++
        count += 8
      }
      batch[size++] = (long << 16) | (distanceBase[farSymbol]! + (held & ((1 << farExtra) - 1)))
      held >>>= farExtra
      count -= farExtra
    }
    reader.at = at
    reader.held = held
    reader.count = count
    this.size = size
    if (reader.past) throw new NotDeflate()
    return ended
  }
}

function* open(bytes: Uint8Array, from: number): Generator<Uint32Array, { plan: Plan; end: number }> {
  const reader = new BitReader(bytes, from)
  const tokens = new TokenReader()
  const plan: Block[] = []
  let rules: readonly TreeRule[] = ['zlib', 'fflate']
  for (let final = 0; !final; ) {
    final = reader.take(1)
    const type = reader.take(2)
    if (type === 3) throw new NotDeflate()
    let count = 0
    if (type === 0) {
      reader.align()
      const { at } = reader
      if (at + 4 > bytes.length) throw new NotDeflate()
      count = bytes[at]! | (bytes[at + 1]! << 8)
      if ((count ^ 0xffff) !== (bytes[at + 2]! | (bytes[at + 3]! << 8)) || at + 4 + count > bytes.length)
        throw new NotDeflate()
      for (let one = 0; one < count; one++) {
        if (tokens.size === batchSize) {
          yield tokens.batch
          tokens.size = 0
        }
        tokens.batch[tokens.size++] = bytes[at + 4 + one]!
      }
      reader.at = at + 4 + count
      plan.push({ kind: 'stored', tokens: count })
      continue
    }
    const head = type === 2 ? openHead(reader) : null
    const tables: Tables = head?.tables ?? {
      literal: decodingTable(fixedLiteralLengths)!,
      distance: decodingTable(fixedDistanceLengths)!,
    }
    tokens.literalCounts.fill(0)
    tokens.distanceCounts.fill(0)
    for (let ended = false; !ended; ) {
      const before = tokens.size
      ended = tokens.read(reader, tables)
      count += tokens.size - before
      if (tokens.size < batchSize) continue
      yield tokens.batch
      tokens.size = 0
    }
    if (!head) {
      plan.push({ kind: 'fixed', tokens: count })
      continue
    }
    const ruled = rules.find((one) => sameHead(one, tokens.literalCounts, tokens.distanceCounts, head.own))
    // The one that was right is tried first the next time.
    if (ruled && ruled !== rules[0]) rules = rules.toReversed()
    plan.push(ruled ? { kind: ruled, tokens: count } : { kind: 'own', tokens: count, head: head.own })
  }
  reader.align()
  if (reader.past) throw new NotDeflate()
  if (tokens.size) yield tokens.batch.subarray(0, tokens.size)
  return { plan, end: reader.at }
}

/** Reads the head of a dynamic block (RFC 1951 §3.2.7), and keeps its bits. */
function openHead(reader: BitReader): { tables: Tables; own: NonNullable<Block['head']> } {
  const bits: number[] = []
  let held = 0
  let count = 0
  const take = (length: number): number => {
    const value = reader.take(length)
    held |= value << count
    count += length
    while (count >= 8) {
      bits.push(held & 255)
      held >>>= 8
      count -= 8
    }
    return value
  }
  const lengths = headLengths(take, () => {
    reader.need(7)
    return reader.held
  })
  const literal = lengths && decodingTable(lengths.literal)
  const distance = lengths && decodingTable(lengths.distance)
  if (!literal || !distance) throw new NotDeflate()
  const length = bits.length * 8 + count
  if (count) bits.push(held)
  return { tables: { literal, distance }, own: { bits: Uint8Array.from(bits), length } }
}

/**
 * The code lengths that a head tells. @param take the next bits @param peek at least seven bits without taking them
 * @returns null when it is no head
 */
function headLengths(
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

function sameHead(
  rule: TreeRule,
  literalCounts: Uint32Array,
  distanceCounts: Uint32Array,
  { bits, length }: { bits: Uint8Array; length: number },
): boolean {
  let at = 0
  let same = true
  writeHead(rule, chooseCodes(rule, literalCounts, distanceCounts), (value, size) => {
    for (let bit = 0; bit < size && same; bit++, at++)
      same = at < length && ((bits[at >> 3]! >> (at & 7)) & 1) === ((value >> bit) & 1)
  })
  return same && at === length
}

/** Codes with their extra bits put on, for each length and each distance symbol. */
interface WritingCodes {
  literal: Uint16Array
  literalBits: Uint8Array
  /** By length: its code and extra bits, and how many these are. */
  length: Uint32Array
  lengthBits: Uint8Array
  far: Uint16Array
  farBits: Uint8Array
}

/** Makes a stream again from its plan and its tokens, given in order. */
export class DeflateMaker {
  private index = -1
  private left = 0
  /** Tokens of a block whose codes follow from all of them. */
  private waiting = new Uint32Array(0)
  private waitingCount = 0
  private codes: WritingCodes | null = null
  private readonly out = new Uint8Array(1 << 16)
  private readonly view = new DataView(this.out.buffer)
  private size = 0
  private held = 0
  private count = 0

  /** @param sink gets the stream's bytes in pieces, which are only its own until it returns */
  constructor(
    private readonly plan: Plan,
    private readonly sink: (piece: Uint8Array) => void,
  ) {
    this.next()
  }

  /** Takes in `count` of these tokens, from `from` on. @throws RangeError when the plan has no place for them */
  tokens(tokens: Uint32Array, from: number, count: number): void {
    for (let at = from; at < from + count; ) {
      if (this.left === 0) throw new RangeError('More tokens than the plan has.')
      const some = Math.min(this.left, from + count - at)
      const { kind } = this.plan[this.index]!
      if (isRuled(kind)) {
        this.waiting.set(tokens.subarray(at, at + some), this.waitingCount)
        this.waitingCount += some
      } else if (kind === 'stored') for (let one = at; one < at + some; one++) this.bits(tokens[one]!, 8)
      else this.write(tokens, at, at + some)
      at += some
      this.left -= some
      if (this.left === 0) this.next()
    }
  }

  /** Whether every token of the plan came. */
  get complete(): boolean {
    return this.index === this.plan.length
  }
  /** @throws RangeError when tokens are missing */
  end(): void {
    if (!this.complete) throw new RangeError('Fewer tokens than the plan has.')
    this.align()
    this.flush()
  }

  /** Ends the block that is full and begins the next one; blocks without tokens are written at once. */
  private next(): void {
    for (;;) {
      if (this.index >= 0) this.endBlock()
      const block = this.plan[++this.index]
      if (!block) return
      this.beginBlock(block)
      this.left = block.tokens
      if (this.left > 0) return
    }
  }

  private beginBlock(block: Block): void {
    this.bits(this.index === this.plan.length - 1 ? 1 : 0, 1)
    this.bits(block.kind === 'stored' ? 0 : block.kind === 'fixed' ? 1 : 2, 2)
    switch (block.kind) {
      case 'stored':
        this.align()
        this.bits(block.tokens, 16)
        this.bits(block.tokens ^ 0xffff, 16)
        return
      case 'fixed':
        this.codes = writingCodes(fixedLiteralLengths, fixedDistanceLengths)
        return
      case 'own': {
        const { bits, length } = block.head!
        for (let at = 0; at < length; at += 8) this.bits(bits[at >> 3]!, Math.min(8, length - at))
        const reader = new BitReader(bits, 0)
        const lengths = headLengths(
          (size) => reader.take(size),
          () => {
            reader.need(7)
            return reader.held
          },
        )
        if (!lengths) throw new RangeError('The plan has a head that is none.')
        this.codes = writingCodes(lengths.literal, lengths.distance)
        return
      }
      default:
        this.waiting = new Uint32Array(block.tokens)
        this.waitingCount = 0
    }
  }

  private endBlock(): void {
    const { kind } = this.plan[this.index]!
    if (kind === 'stored') return
    if (isRuled(kind)) {
      const literalCounts = new Uint32Array(literals)
      const distanceCounts = new Uint32Array(distances)
      const { waiting } = this
      for (let at = 0; at < this.waitingCount; at++) {
        const token = waiting[at]!
        if (token < 256) literalCounts[token]!++
        else {
          literalCounts[257 + lengthSymbol[token >>> 16]!]!++
          distanceCounts[distanceSymbol[token & 0xffff]!]!++
        }
      }
      literalCounts[endOfBlock] = 1
      const codes = chooseCodes(kind, literalCounts, distanceCounts)
      writeHead(kind, codes, (value, length) => this.bits(value, length))
      this.codes = writingCodes(codes.literalLengths, codes.distanceLengths)
      this.write(waiting, 0, this.waitingCount)
      this.waiting = new Uint32Array(0)
    }
    this.bits(this.codes!.literal[endOfBlock]!, this.codes!.literalBits[endOfBlock]!)
  }

  /** @param length 0 … 16 */
  private bits(value: number, length: number): void {
    this.held |= value << this.count
    this.count += length
    while (this.count >= 8) {
      if (this.size === this.out.length) this.flush()
      this.out[this.size++] = this.held & 255
      this.held >>>= 8
      this.count -= 8
    }
  }
  private align(): void {
    if (this.count) this.bits(0, 8 - this.count)
  }
  private flush(): void {
    if (this.size) this.sink(this.out.subarray(0, this.size))
    this.size = 0
  }

  private write(tokens: Uint32Array, from: number, to: number): void {
    // Everything in the loop is local: it runs for each token of each file that is saved or read.
    const { literal, literalBits, length, lengthBits, far, farBits } = this.codes!
    const { out, view } = this
    const limit = out.length - 16
    let { held, count, size } = this
    for (let at = from; at < to; at++) {
      if (size >= limit) {
        this.size = size
        this.flush()
        size = 0
      }
      const token = tokens[at]!
      // Whole bytes go out without a branch, which nothing could foretell: four are written, those that are whole stay.
      let bytes: number
      if (token < 256) {
        held |= literal[token]! << count
        count += literalBits[token]!
      } else {
        const long = token >>> 16
        const distance = token & 0xffff
        held |= length[long]! << count
        count += lengthBits[long]!
        view.setUint32(size, held, true)
        bytes = count >>> 3
        size += bytes
        held = (held >>> (bytes << 3)) | 0
        count &= 7
        const symbol = distanceSymbol[distance]!
        held |= far[symbol]! << count
        count += farBits[symbol]!
        view.setUint32(size, held, true)
        bytes = count >>> 3
        size += bytes
        held = (held >>> (bytes << 3)) | 0
        count &= 7
        held |= (distance - distanceBase[symbol]!) << count
        count += distanceExtra[symbol]!
      }
      view.setUint32(size, held, true)
      bytes = count >>> 3
      size += bytes
      held = (held >>> (bytes << 3)) | 0
      count &= 7
    }
    this.held = held
    this.count = count
    this.size = size
  }
}

function writingCodes(literalLengths: Uint8Array, distanceLengths: Uint8Array): WritingCodes {
  const literal = codesOf(literalLengths)
  const length = new Uint32Array(259)
  const lengthBits = new Uint8Array(259)
  for (let long = 3; long < 259; long++) {
    const symbol = lengthSymbol[long]!
    const bits = literalLengths[257 + symbol] ?? 0
    length[long] = (literal[257 + symbol] ?? 0) | ((long - lengthBase[symbol]!) << bits)
    lengthBits[long] = bits + lengthExtra[symbol]!
  }
  return {
    literal,
    literalBits: literalLengths,
    length,
    lengthBits,
    far: codesOf(distanceLengths),
    farBits: distanceLengths,
  }
}

// -- The plan as bytes ------------------------------------------------------------------------

/** A plan as numbers; runs of blocks that are alike are one entry. */
export function packPlan(plan: Plan): number[] {
  const numbers: number[] = []
  for (let at = 0; at < plan.length; ) {
    const { kind, tokens, head } = plan[at]!
    let times = 1
    if (!head) while (plan[at + times]?.kind === kind && plan[at + times]!.tokens === tokens) times++
    numbers.push(times * kinds.length + kinds.indexOf(kind), tokens)
    if (head) numbers.push(head.length, ...head.bits)
    at += times
  }
  return numbers
}

export function unpackPlan(numbers: readonly number[]): Plan {
  const plan: Block[] = []
  for (let at = 0; at < numbers.length; ) {
    const kind = kinds[numbers[at]! % kinds.length]!
    const times = Math.floor(numbers[at]! / kinds.length)
    const tokens = numbers[at + 1]!
    at += 2
    if (kind === 'own') {
      const length = numbers[at]!
      const bits = Uint8Array.from(numbers.slice(at + 1, at + 1 + Math.ceil(length / 8)))
      at += 1 + bits.length
      plan.push({ kind, tokens, head: { bits, length } })
    } else for (let time = 0; time < times; time++) plan.push({ kind, tokens })
  }
  return plan
}
