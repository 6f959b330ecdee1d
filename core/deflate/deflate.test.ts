// The streams of zlib itself, at every level and with every strategy, window and memory that it has: opened down to
// tokens that mean the same text, and made again bit by bit.
import { constants, deflateRawSync, inflateRawSync } from 'node:zlib'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { distanceOf, textLength } from '../history/delta'
import { DeflateMaker, openDeflate, type Plan, packPlan, resplice, unpackPlan } from '.'

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

describe('packed again after an edit', () => {
  const levels = fc.record({
    level: fc.integer({ min: 0, max: 9 }),
    memLevel: fc.integer({ min: 1, max: 9 }),
    strategy: fc.constantFrom(
      constants.Z_DEFAULT_STRATEGY,
      constants.Z_HUFFMAN_ONLY,
      constants.Z_RLE,
      constants.Z_FIXED,
      constants.Z_FILTERED,
    ),
  })
  const words = ['lock ', 'weir ', 'gate paddle ', '<w:p><w:r><w:t>', '</w:t></w:r></w:p>', 'Größe ', '0.25', '\n']
  const text = fc
    .tuple(fc.array(fc.nat(words.length - 1), { minLength: 1, maxLength: 400 }), fc.integer({ min: 1, max: 40 }))
    .map(([picks, times]) =>
      Buffer.from(
        picks
          .map((pick) => words[pick])
          .join('')
          .repeat(times),
      ),
    )
  const edit = fc.record({
    at: fc.double({ min: 0, max: 1, noNaN: true }),
    away: fc.nat(300),
    come: fc.string({ unit: 'binary', maxLength: 60 }),
  })

  test('a text is what it is now, after as many edits as there are, whatever packed it first', () => {
    fc.assert(
      fc.property(text, levels, fc.array(edit, { minLength: 1, maxLength: 8 }), (first, how, edits) => {
        let before = first
        let packed: Uint8Array = deflateRawSync(first, how)
        let again = 0
        for (const { at, away, come } of edits) {
          const from = Math.floor(at * before.length)
          const after = Buffer.concat([before.subarray(0, from), Buffer.from(come), before.subarray(from + away)])
          const made = resplice(packed, before, after)
          if (made) again++
          packed = made ?? deflateRawSync(after, how)
          expect(inflateRawSync(packed).equals(after)).toBe(true)
          before = after
        }
        if (first.length > 4000) expect(again).toBeGreaterThan(0)
      }),
      { numRuns: 300, endOnFailure: true },
    )
  })
  test('only what the edit touched is coded otherwise: of a long text nearly every token is as it was', () => {
    const lines = Array.from({ length: 20_000 }, (_, line) => `line ${line * 7919} of the lock diary, ${line % 97}\n`)
    const before = Buffer.from(lines.join(''))
    const after = Buffer.from(lines.join('').replace('line 79190 of', 'the first line 79190 of'))
    const packed = deflateRawSync(before)
    const made = resplice(packed, before, after)!
    const tokens = (stream: Uint8Array) => opened(stream)!.batches.flatMap((batch) => [...batch])
    const [was, is] = [tokens(packed), tokens(made)]
    const kept = new Map<number, number>()
    for (const token of was) kept.set(token, (kept.get(token) ?? 0) + 1)
    const others = is.filter((token) => {
      const left = kept.get(token) ?? 0
      kept.set(token, left - 1)
      return left <= 0
    })
    // References across the edit reach further, for the length of a window.
    expect(others.length).toBeLessThan(2500)
    expect(made.length).toBeLessThan(packed.length + 500)
    expect(inflateRawSync(made).equals(after)).toBe(true)
  })
  test('what is no stream, or mostly another text, is packed anew', () => {
    const before = Buffer.from('lock '.repeat(2000))
    expect(resplice(Buffer.from([7, 7, 7]), before, Buffer.from(`${before}x`))).toBeNull()
    expect(resplice(deflateRawSync(before), before, Buffer.from('weir '.repeat(2000)))).toBeNull()
    expect(resplice(deflateRawSync(Buffer.from('shorter')), before, Buffer.from(`${before}x`))).toBeNull()
  })
})
