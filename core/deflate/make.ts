// Makes a DEFLATE stream again from its plan and its tokens (see index.ts).
import {
  codesOf,
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
} from './code'
import { BitReader, headLengths } from './head'
import { type Block, isRuled, type Plan } from './plan'
import { chooseCodes, writeHead } from './trees'

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
