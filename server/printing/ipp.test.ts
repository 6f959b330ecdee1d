import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type Attributes, decodeIpp, encodeIpp, type IppMessage, type IppValue, NoMessage, name, text } from './ipp'

const words = fc.string({ unit: 'grapheme', maxLength: 30 })
const whole = fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 })
const { value: anyValue } = fc.letrec<{ value: IppValue; collection: IppValue; attributes: Attributes }>((tie) => ({
  value: fc.oneof(
    { depthSize: 'small' },
    fc.record({ kind: fc.constantFrom('integer' as const, 'enum' as const), value: whole }),
    fc.record({ kind: fc.constant('boolean' as const), value: fc.boolean() }),
    fc.record({ kind: fc.constant('range' as const), value: fc.tuple(whole, whole) }),
    fc.record({
      kind: fc.constantFrom(
        'text' as const,
        'name' as const,
        'keyword' as const,
        'uri' as const,
        'mime' as const,
        'charset' as const,
        'language' as const,
      ),
      value: words,
    }),
    fc.record({
      kind: fc.constantFrom('octets' as const, 'date' as const, 'resolution' as const),
      value: fc.uint8Array({ maxLength: 12 }),
    }),
    fc.record({
      kind: fc.constantFrom('no-value' as const, 'unknown' as const, 'unsupported' as const),
      value: fc.constant(null),
    }),
    tie('collection'),
  ),
  collection: fc.record({ kind: fc.constant('collection' as const), value: tie('attributes') }),
  attributes: fc
    .array(
      fc.tuple(fc.string({ minLength: 1, maxLength: 8 }), fc.array(tie('value'), { minLength: 1, maxLength: 3 })),
      { maxLength: 3 },
    )
    .map((all) => new Map(all)),
}))
const attributes = fc
  .array(fc.tuple(fc.string({ minLength: 1, maxLength: 20 }), fc.array(anyValue, { minLength: 1, maxLength: 4 })), {
    maxLength: 5,
  })
  .map((all) => new Map(all) as Attributes)
const message: fc.Arbitrary<IppMessage> = fc.record({
  version: fc.constantFrom<[number, number]>([1, 1], [2, 0]),
  code: fc.nat(0xffff),
  id: whole,
  groups: fc.array(fc.record({ group: fc.constantFrom(1, 2, 4, 5), attributes }), { maxLength: 4 }),
  data: fc.uint8Array({ maxLength: 40 }),
})

describe('messages to printers', () => {
  test('are read as they were written', () => {
    fc.assert(fc.property(message, (one) => void expect(decodeIpp(encodeIpp(one))).toEqual(one)))
  })
  test('of any bytes, and of any that are cut or changed, are a message or none', () => {
    const changed = fc.tuple(message, fc.nat(), fc.nat(255), fc.nat()).map(([one, at, byte, end]) => {
      const bytes = encodeIpp(one)
      bytes[at % bytes.length] = byte
      return bytes.subarray(0, end % 3 ? bytes.length : end % bytes.length)
    })
    fc.assert(
      fc.property(fc.oneof(fc.uint8Array({ maxLength: 60 }), changed), (bytes) => {
        try {
          decodeIpp(bytes)
        } catch (error) {
          expect(error).toBeInstanceOf(NoMessage)
        }
      }),
      { numRuns: 1000 },
    )
  })
  test('collections in each other end, however deep', () => {
    const deep = Buffer.concat([
      Buffer.from([1, 1, 0, 0, 0, 0, 0, 1, 4]),
      Buffer.from([0x34, 0, 1, 97, 0, 0]),
      ...Array.from({ length: 50_000 }, () => Buffer.from([0x4a, 0, 0, 0, 1, 97, 0x34, 0, 0, 0, 0])),
    ])
    expect(() => decodeIpp(deep)).toThrow(NoMessage)
  })
  test('a name is as long as it may be, and no letter is parted', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('a', 'ß', '閘', '🛶'), maxLength: 2000 }), (long) => {
        for (const [made, most] of [
          [name(long), 255],
          [text(long), 1023],
        ] as const) {
          expect(Buffer.byteLength(made.value as string)).toBeLessThanOrEqual(most)
          expect(long.startsWith(made.value as string)).toBe(true)
        }
      }),
      { numRuns: 30 },
    )
  })
})
