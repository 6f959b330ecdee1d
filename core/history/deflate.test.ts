// The streams of zlib itself, at every level and with every strategy, window and memory that it has: opened down to
// tokens that mean the same text, and made again bit by bit.
import { constants, deflateRawSync, inflateRawSync } from 'node:zlib'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { DeflateMaker, openDeflate, type Plan, packPlan, unpackPlan } from './deflate'
import { distanceOf, textLength } from './delta'

interface Opened {
  batches: Uint32Array[]
  plan: Plan
  end: number
}

function opened(stream: Uint8Array, from = 0): Opened | null {
  const batches: Uint32Array[] = []
  const opening = openDeflate(stream, from)
  for (;;) {
    const { value, done } = opening.next()
    if (done) return value && { batches, plan: value.plan, end: value.end }
    batches.push(value.slice())
  }
}

/** The text of tokens, by nothing but what RFC 1951 says of them. */
function textOf(batches: readonly Uint32Array[]): Buffer {
  const out: number[] = []
  for (const batch of batches)
    for (const token of batch) {
      if (token < 256) out.push(token)
      else
        for (let left = textLength(token), at = out.length - distanceOf(token); left > 0; left--) out.push(out[at++]!)
    }
  return Buffer.from(out)
}

function madeAgain({ batches, plan }: Opened): Buffer {
  const pieces: Buffer[] = []
  const maker = new DeflateMaker(unpackPlan(packPlan(plan)), (piece) => pieces.push(Buffer.from(piece)))
  for (const batch of batches) maker.tokens(batch, 0, batch.length)
  maker.end()
  return Buffer.concat(pieces)
}

/** What compresses well, badly, and not at all; with repeats near and as far as a window goes. */
const bytes = fc
  .array(
    fc.oneof(
      fc.uint8Array({ minLength: 1, maxLength: 300 }),
      fc
        .tuple(fc.stringMatching(/^[a-e ]{1,40}$/), fc.integer({ min: 1, max: 400 }))
        .map(([text, times]) => Buffer.from(text.repeat(times))),
      fc.tuple(fc.nat(255), fc.integer({ min: 1, max: 40_000 })).map(([byte, times]) => Buffer.alloc(times, byte)),
    ),
    { maxLength: 8 },
  )
  .map((parts) => Buffer.concat(parts))
const options = fc.record({
  level: fc.integer({ min: 0, max: 9 }),
  strategy: fc.constantFrom(
    constants.Z_DEFAULT_STRATEGY,
    constants.Z_FILTERED,
    constants.Z_HUFFMAN_ONLY,
    constants.Z_RLE,
    constants.Z_FIXED,
  ),
  memLevel: fc.integer({ min: 1, max: 9 }),
  windowBits: fc.integer({ min: 9, max: 15 }),
})

describe('a stream of zlib', () => {
  test('opens to the text that zlib reads in it, and is made again to the bit', () => {
    fc.assert(
      fc.property(bytes, options, fc.uint8Array({ maxLength: 9 }), (text, how, before) => {
        const stream = deflateRawSync(text, how)
        // It begins and ends anywhere in a file, with something else before it and after it.
        const inFile = Buffer.concat([before, stream, Buffer.from([7, 7, 7, 7, 7, 7, 7, 7])])
        const found = opened(inFile, before.length)
        expect(found).not.toBeNull()
        expect(found!.end).toBe(before.length + stream.length)
        expect(textOf(found!.batches).equals(text)).toBe(true)
        expect(textOf(found!.batches).equals(inflateRawSync(stream))).toBe(true)
        expect(madeAgain(found!).equals(stream)).toBe(true)
      }),
      { numRuns: 300 },
    )
  })

  test('written in pieces, flushed in between, is no other', () => {
    fc.assert(
      fc.property(fc.array(bytes, { minLength: 1, maxLength: 3 }), options, (parts, how) => {
        const stream = flushed(parts, how)
        const found = opened(stream)
        expect(found && textOf(found.batches).equals(Buffer.concat(parts))).toBe(true)
        expect(madeAgain(found!).equals(stream)).toBe(true)
      }),
      { numRuns: 60 },
    )
  })

  test('with a bit changed is kept to the bit all the same, or refused; where zlib reads it, it means the same', () => {
    fc.assert(
      fc.property(bytes, options, fc.nat(), (plain, how, where) => {
        const stream = deflateRawSync(plain, how)
        stream[Math.floor(where / 8) % stream.length]! ^= 1 << (where % 8)
        const found = opened(stream)
        if (!found) return
        const whole = stream.subarray(0, found.end)
        expect(madeAgain(found).equals(whole)).toBe(true)
        let text: Buffer
        try {
          text = inflateRawSync(whole)
        } catch {
          // A match that reaches before the beginning, for one: such a file is kept as it is.
          return
        }
        expect(textOf(found.batches).equals(text)).toBe(true)
      }),
      { numRuns: 300 },
    )
  })
})

/** Several streams of zlib one after the other in one, as a writer that flushes leaves them. */
function flushed(parts: readonly Buffer[], how: object): Buffer {
  const pieces = parts.map((part, at) =>
    deflateRawSync(part, {
      ...how,
      finishFlush: at === parts.length - 1 ? constants.Z_FINISH : constants.Z_FULL_FLUSH,
    }),
  )
  return Buffer.concat(pieces)
}
