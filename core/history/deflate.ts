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
import { BitWriter } from './bits'
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

const fixedTables = () => ({
  literal: decodingTable(fixedLiteralLengths)!,
  distance: decodingTable(fixedDistanceLengths)!,
})

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

function* open(bytes: Uint8Array, from: number): Generator<Uint32Array, { plan: Plan; end: number }> {
  let at = from
  let held = 0
  let count = 0
  // Bits beyond the end are zeros; reading them is noticed at the end of each block.
  const need = (length: number) => {
    while (count < length) {
      held |= (at < bytes.length ? bytes[at]! : 0) << count
      at++
      count += 8
    }
  }
  const take = (length: number): number => {
    need(length)
    const value = held & ((1 << length) - 1)
    held >>>= length
    count -= length
    return value
  }
  const blocks: Block[] = []
  let rules: readonly TreeRule[] = ['zlib', 'fflate']
  const batch = new Uint32Array(batchSize)
  let batched = 0
  const literalCounts = new Uint32Array(literals)
  const distanceCounts = new Uint32Array(distances)
  for (let final = 0; !final; ) {
    final = take(1)
    const type = take(2)
    if (type === 3) throw new NotDeflate()
    if (type === 0) {
      // The rest of the byte must be zeros to be made again.
      if (take(count & 7) !== 0) throw new NotDeflate()
      at -= count >> 3
      held = 0
      count = 0
      if (at + 4 > bytes.length) throw new NotDeflate()
      const size = bytes[at]! | (bytes[at + 1]! << 8)
      if ((size ^ 0xffff) !== (bytes[at + 2]! | (bytes[at + 3]! << 8))) throw new NotDeflate()
      at += 4
      if (at + size > bytes.length) throw new NotDeflate()
      for (const end = at + size; at < end; at++) {
        if (batched === batchSize) {
          yield batch.subarray(0, batched)
          batched = 0
        }
        batch[batched++] = bytes[at]!
      }
      blocks.push({ kind: 'stored', tokens: size })
      continue
    }
    let tables: ReturnType<typeof fixedTables>
    const head: { bits: number[]; count: number; held: number } = { bits: [], count: 0, held: 0 }
    const keep = (value: number, length: number): number => {
      head.held |= value << head.count
      head.count += length
      while (head.count >= 8) {
        head.bits.push(head.held & 255)
        head.held >>>= 8
        head.count -= 8
      }
      return value
    }
    const takeHead = (length: number) => keep(take(length), length)
    if (type === 1) tables = fixedTables()
    else {
      const lengths = new Uint8Array(literals + 32)
      const literal = takeHead(5) + 257
      const distance = takeHead(5) + 1
      const codes = takeHead(4) + 4
      const codeLengths = new Uint8Array(19)
      for (let index = 0; index < codes; index++) codeLengths[codeLengthOrder[index]!] = takeHead(3)
      const read = decodingTable(codeLengths)
      if (!read || literal > 286 || distance > distances) throw new NotDeflate()
      for (let index = 0; index < literal + distance; ) {
        need(7)
        const entry = read.table[held & ((1 << read.bits) - 1)]!
        if (!entry) throw new NotDeflate()
        takeHead(entry & 15)
        const symbol = entry >> 4
        if (symbol < 16) {
          lengths[index++] = symbol
          continue
        }
        if (symbol === 16 && index === 0) throw new NotDeflate()
        const value = symbol === 16 ? lengths[index - 1]! : 0
        const times = symbol === 16 ? 3 + takeHead(2) : symbol === 17 ? 3 + takeHead(3) : 11 + takeHead(7)
        if (index + times > literal + distance) throw new NotDeflate()
        lengths.fill(value, index, index + times)
        index += times
      }
      const literalTable = decodingTable(lengths.subarray(0, literal))
      const distanceTable = decodingTable(lengths.subarray(literal, literal + distance))
      if (!literalTable || !distanceTable) throw new NotDeflate()
      tables = { literal: literalTable, distance: distanceTable }
    }
    literalCounts.fill(0)
    distanceCounts.fill(0)
    const { table, bits } = tables.literal
    const mask = (1 << bits) - 1
    const { table: farTable, bits: farBits } = tables.distance
    const farMask = (1 << farBits) - 1
    let tokens = 0
    for (;;) {
      if (batched === batchSize) {
        // The zeros beyond the end may be a code, too.
        if (at - (count >> 3) > bytes.length) throw new NotDeflate()
        yield batch.subarray(0, batched)
        batched = 0
      }
      while (count < 15) {
        held |= (at < bytes.length ? bytes[at]! : 0) << count
        at++
        count += 8
      }
      const entry = table[held & mask]!
      if (!entry) throw new NotDeflate()
      held >>>= entry & 15
      count -= entry & 15
      const symbol = entry >> 4
      if (symbol < 256) {
        literalCounts[symbol]!++
        tokens++
        batch[batched++] = symbol
        continue
      }
      literalCounts[symbol]!++
      if (symbol === endOfBlock) break
      if (symbol > 285) throw new NotDeflate()
      const length = lengthBase[symbol - 257]! + take(lengthExtra[symbol - 257]!)
      // Length 258 has a symbol of its own; 284 with all extra bits would say the same otherwise.
      if (length === 258 && symbol === 284) throw new NotDeflate()
      need(15)
      const far = farTable[held & farMask]!
      if (!far) throw new NotDeflate()
      held >>>= far & 15
      count -= far & 15
      const farSymbol = far >> 4
      if (farSymbol >= distances) throw new NotDeflate()
      distanceCounts[farSymbol]!++
      tokens++
      batch[batched++] = (length << 16) | (distanceBase[farSymbol]! + take(distanceExtra[farSymbol]!))
      if (at - (count >> 3) > bytes.length) throw new NotDeflate()
    }
    if (at - (count >> 3) > bytes.length) throw new NotDeflate()
    if (type === 1) {
      blocks.push({ kind: 'fixed', tokens })
      continue
    }
    const length = head.bits.length * 8 + head.count
    if (head.count) head.bits.push(head.held)
    const own = { bits: Uint8Array.from(head.bits), length }
    const ruled = rules.find((one) => sameHead(one, literalCounts, distanceCounts, own))
    // The one that was right is tried first the next time.
    if (ruled && ruled !== rules[0]) rules = rules.toReversed()
    blocks.push(ruled ? { kind: ruled, tokens } : { kind: 'own', tokens, head: own })
  }
  if (take(count & 7) !== 0) throw new NotDeflate()
  if (batched) yield batch.subarray(0, batched)
  return { plan: blocks, end: at - (count >> 3) }
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

/** Makes a stream again from its plan and its tokens, given in order. */
export class DeflateMaker {
  private index = -1
  private left = 0
  private held = new Uint32Array(0)
  private heldCount = 0
  private codes: { literal: Uint16Array; literalBits: Uint8Array; far: Uint16Array; farBits: Uint8Array } | null = null
  private readonly out: BitWriter

  /** @param sink gets the stream's bytes in pieces */
  constructor(
    private readonly plan: Plan,
    sink: (piece: Uint8Array) => void,
  ) {
    this.out = new BitWriter(sink)
    this.next()
  }

  /** Takes in the first `count` of these tokens, from `from` on. @throws RangeError when the plan has no place for them */
  tokens(tokens: Uint32Array, from: number, count: number): void {
    for (let at = from; at < from + count; ) {
      if (this.left === 0) throw new RangeError('More tokens than the plan has.')
      const some = Math.min(this.left, from + count - at)
      const { kind } = this.plan[this.index]!
      if (isRuled(kind)) {
        this.held.set(tokens.subarray(at, at + some), this.heldCount)
        this.heldCount += some
      } else if (kind === 'stored') for (let end = at + some, i = at; i < end; i++) this.out.byte(tokens[i]!)
      else for (let end = at + some, i = at; i < end; i++) this.write(tokens[i]!)
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
    this.out.align()
    this.out.flush()
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
    const final = this.index === this.plan.length - 1 ? 1 : 0
    this.out.bits(final, 1)
    this.out.bits(block.kind === 'stored' ? 0 : block.kind === 'fixed' ? 1 : 2, 2)
    switch (block.kind) {
      case 'stored':
        this.out.align()
        for (const half of [block.tokens, block.tokens ^ 0xffff]) {
          this.out.byte(half & 255)
          this.out.byte(half >> 8)
        }
        return
      case 'fixed':
        this.takeCodes(fixedLiteralLengths, fixedDistanceLengths)
        return
      case 'own': {
        const { bits, length } = block.head!
        for (let at = 0; at < length; at += 8) this.out.bits(bits[at >> 3]!, Math.min(8, length - at))
        const lengths = readHead(bits)
        this.takeCodes(lengths.literalLengths, lengths.distanceLengths)
        return
      }
      default:
        this.held = new Uint32Array(block.tokens)
        this.heldCount = 0
    }
  }

  private endBlock(): void {
    const { kind } = this.plan[this.index]!
    if (kind === 'stored') return
    if (isRuled(kind)) {
      const literalCounts = new Uint32Array(literals)
      const distanceCounts = new Uint32Array(distances)
      const held = this.held
      for (let at = 0; at < this.heldCount; at++) {
        const token = held[at]!
        if (token < 256) literalCounts[token]!++
        else {
          literalCounts[257 + lengthSymbol[token >> 16]!]!++
          distanceCounts[distanceSymbol[token & 0xffff]!]!++
        }
      }
      literalCounts[endOfBlock] = 1
      const codes = chooseCodes(kind, literalCounts, distanceCounts)
      writeHead(kind, codes, (value, length) => this.out.bits(value, length))
      this.takeCodes(codes.literalLengths, codes.distanceLengths)
      for (let at = 0; at < this.heldCount; at++) this.write(held[at]!)
      this.held = new Uint32Array(0)
    }
    this.out.bits(this.codes!.literal[endOfBlock]!, this.codes!.literalBits[endOfBlock]!)
  }

  private takeCodes(literalBits: Uint8Array, farBits: Uint8Array): void {
    this.codes = { literal: codesOf(literalBits), literalBits, far: codesOf(farBits), farBits }
  }

  private write(token: Token): void {
    const { out } = this
    const { literal, literalBits, far, farBits } = this.codes!
    if (token < 256) return out.bits(literal[token]!, literalBits[token]!)
    const length = token >> 16
    const distance = token & 0xffff
    const symbol = lengthSymbol[length]!
    out.bits(literal[257 + symbol]!, literalBits[257 + symbol]!)
    if (lengthExtra[symbol]) out.bits(length - lengthBase[symbol]!, lengthExtra[symbol]!)
    const farSymbol = distanceSymbol[distance]!
    out.bits(far[farSymbol]!, farBits[farSymbol]!)
    if (distanceExtra[farSymbol]) out.bits(distance - distanceBase[farSymbol]!, distanceExtra[farSymbol]!)
  }
}

/** The codes of a head that was read before, so that it is known to be whole. */
function readHead(bits: Uint8Array) {
  let at = 0
  const take = (length: number): number => {
    let value = 0
    for (let bit = 0; bit < length; bit++, at++) value |= ((bits[at >> 3]! >> (at & 7)) & 1) << bit
    return value
  }
  const literal = take(5) + 257
  const distance = take(5) + 1
  const codes = take(4) + 4
  const codeLengths = new Uint8Array(19)
  for (let index = 0; index < codes; index++) codeLengths[codeLengthOrder[index]!] = take(3)
  const { table, bits: width } = decodingTable(codeLengths)!
  const lengths: number[] = []
  while (lengths.length < literal + distance) {
    let peek = 0
    for (let bit = 0; bit < width; bit++) peek |= (((bits[(at + bit) >> 3] ?? 0) >> ((at + bit) & 7)) & 1) << bit
    const entry = table[peek]!
    at += entry & 15
    const symbol = entry >> 4
    if (symbol < 16) lengths.push(symbol)
    else {
      const value = symbol === 16 ? lengths.at(-1)! : 0
      const times = symbol === 16 ? 3 + take(2) : symbol === 17 ? 3 + take(3) : 11 + take(7)
      for (let time = 0; time < times; time++) lengths.push(value)
    }
  }
  const literalLengths = new Uint8Array(literals)
  literalLengths.set(lengths.slice(0, literal))
  const distanceLengths = new Uint8Array(distances)
  distanceLengths.set(lengths.slice(literal))
  return { literalLengths, distanceLengths }
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
