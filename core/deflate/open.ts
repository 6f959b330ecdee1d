// Opens a DEFLATE stream down to its tokens (see index.ts).
import {
  decodingTable,
  distanceBase,
  distanceExtra,
  distances,
  endOfBlock,
  fixedDistanceLengths,
  fixedLiteralLengths,
  lengthBase,
  lengthExtra,
  literals,
} from './code'
import { BitReader, headLengths, NotDeflate } from './head'
import type { Block, Plan } from './plan'
import { chooseCodes, type TreeRule, writeHead } from './trees'

const batchSize = 8192

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
