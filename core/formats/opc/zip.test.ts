// Containers patched in place: what is not changed keeps its very bytes.
import fc from 'fast-check'
import { strToU8, zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { openZip } from './zip'

const name = fc.stringMatching(/^[a-z]{1,8}(\/[a-z]{1,8})?\.(xml|bin|png)$/)
const content = fc.oneof(fc.uint8Array({ maxLength: 400 }), fc.string({ maxLength: 400 }).map(strToU8))
const parts = fc.uniqueArray(fc.tuple(name, content, fc.constantFrom(0, 6, 9)), {
  minLength: 1,
  maxLength: 8,
  selector: ([key]) => key,
})
const zipped = (all: readonly (readonly [string, Uint8Array, number])[]) => {
  const plain: Parameters<typeof zipSync>[0] = {}
  for (const [key, bytes, level] of all) plain[key] = [new Uint8Array(bytes), { level: level as 0 | 6 | 9 }]
  return zipSync(plain)
}

/** An entry as it stands: from its local header on. */
function raw(zip: Uint8Array, key: string): Uint8Array {
  const view = new DataView(zip.buffer, zip.byteOffset)
  for (let at = 0; at + 30 < zip.length; at++) {
    if (view.getUint32(at, true) !== 0x04034b50) continue
    const length = view.getUint16(at + 26, true)
    if (new TextDecoder().decode(zip.subarray(at + 30, at + 30 + length)) !== key) continue
    return zip.subarray(at, at + 30 + length + view.getUint16(at + 28, true) + view.getUint32(at + 18, true))
  }
  throw new Error(key)
}

test('nothing changed gives the same bytes', () => {
  fc.assert(
    fc.property(parts, (all) => {
      const zip = zipped(all)
      expect(openZip(zip).patched(new Map())).toEqual(zip)
    }),
  )
})

test('bytes that lie within others are patched alike, and stay what they were', () => {
  const zip = zipped([
    ['a.xml', strToU8('one'), 6],
    ['b.xml', strToU8('two'), 0],
  ])
  const around = Buffer.alloc(zip.length + 64, 7)
  around.set(zip, 32)
  const before = Buffer.from(around)
  const within = around.subarray(32, 32 + zip.length)
  const changes = new Map([['a.xml', strToU8('another one, and longer')]])
  expect(openZip(within).patched(changes)).toEqual(openZip(zip).patched(changes))
  expect(around.equals(before)).toBe(true)
})

test('what is changed, removed or added is, and everything else stays as it was, to the byte', () => {
  fc.assert(
    fc.property(
      parts,
      fc.infiniteStream(fc.tuple(fc.constantFrom('stay', 'change', 'remove'), content)),
      fc.array(fc.tuple(name, content), { maxLength: 2 }),
      (all, acts, more) => {
        const zip = zipped(all)
        const changes = new Map<string, Uint8Array | null>()
        for (const [key] of all) {
          const [act, bytes] = acts.next().value
          if (act !== 'stay') changes.set(key, act === 'remove' ? null : bytes)
        }
        for (const [key, bytes] of more) if (!all.some(([known]) => known === key)) changes.set(key, bytes)
        const result = openZip(zip).patched(changes)!
        const after = openZip(result)
        const expected = new Map<string, Uint8Array>(all.map(([key, bytes]) => [key, bytes] as const))
        for (const [key, bytes] of changes) bytes ? expected.set(key, bytes) : expected.delete(key)
        expect([...after.names].toSorted()).toEqual([...expected.keys()].toSorted())
        for (const [key, bytes] of expected) expect(after.read(key)).toEqual(bytes)
        for (const [key] of all) if (!changes.has(key)) expect(raw(result, key)).toEqual(raw(zip, key))
        // And again, from what came of it.
        expect(after.patched(new Map())).toEqual(result)
      },
    ),
  )
})

/** A container as a writer makes one that does not know sizes beforehand, and one that writes 64-bit numbers. */
function by(hand: Hand): Uint8Array {
  const body = strToU8('<a>some text</a>')
  const crc = new DataView(zipSync({ 'a.xml': [body, { level: 0 }] }).buffer).getUint32(14, true)
  const bytes: number[] = [...strToU8(hand.prefix ?? '')]
  const u16 = (n: number) => bytes.push(n & 255, n >> 8)
  const u32 = (n: number) => bytes.push(n & 255, (n >>> 8) & 255, (n >>> 16) & 255, n >>> 24)
  const u64 = (n: number) => {
    u32(n)
    u32(0)
  }
  const records: [string, number][] = []
  for (const key of ['a.xml', 'folder\\b.xml']) {
    records.push([key, bytes.length])
    u32(0x04034b50)
    u16(20)
    u16(hand.descriptor ? 8 : 0)
    u16(0)
    u32(0x21 << 16)
    for (const n of hand.descriptor ? [0, 0, 0] : [crc, body.length, body.length]) u32(n)
    u16(key.length)
    u16(0)
    bytes.push(...strToU8(key), ...body)
    if (hand.descriptor) for (const n of [0x08074b50, crc, body.length, body.length]) u32(n)
  }
  const start = bytes.length
  for (const [key, offset] of records) {
    u32(0x02014b50)
    u16(45)
    u16(20)
    u16(hand.descriptor ? 8 : 0)
    u16(0)
    u32(0x21 << 16)
    u32(crc)
    u32(hand.wide ? 0xffffffff : body.length)
    u32(hand.wide ? 0xffffffff : body.length)
    u16(key.length)
    u16(hand.wide ? 28 : 0)
    u16(0)
    u16(0)
    u16(0)
    u32(0)
    u32(hand.wide ? 0xffffffff : offset)
    bytes.push(...strToU8(key))
    if (!hand.wide) continue
    u16(1)
    u16(24)
    for (const n of [body.length, body.length, offset]) u64(n)
  }
  const size = bytes.length - start
  if (hand.wide) {
    const record = bytes.length
    u32(0x06064b50)
    u64(44)
    u16(45)
    u16(45)
    u32(0)
    u32(0)
    for (const n of [2, 2, size, start]) u64(n)
    u32(0x07064b50)
    u32(0)
    u64(record)
    u32(1)
  }
  u32(0x06054b50)
  u32(0)
  u16(hand.wide ? 0xffff : 2)
  u16(hand.wide ? 0xffff : 2)
  u32(size)
  u32(hand.wide ? 0xffffffff : start)
  u16(hand.comment?.length ?? 0)
  bytes.push(...strToU8(hand.comment ?? ''))
  return new Uint8Array(bytes)
}
interface Hand {
  descriptor?: boolean
  wide?: boolean
  prefix?: string
  comment?: string
}
describe.each<[string, Hand]>([
  ['sizes behind the bytes', { descriptor: true }],
  ['64-bit numbers', { wide: true }],
  ['something before the first entry, and a comment', { prefix: 'MZ-', comment: 'made by hand' }],
])('%s', (_, hand) => {
  const zip = by(hand)
  test('is read', () => {
    const opened = openZip(zip)
    expect(opened.names).toEqual(['a.xml', 'folder/b.xml'])
    expect(new TextDecoder().decode(opened.read('folder/b.xml'))).toBe('<a>some text</a>')
  })
  test('is patched: the other entry keeps its bytes and its name as it is written', () => {
    const result = openZip(zip).patched(new Map([['a.xml', strToU8('<a>other</a>')]]))!
    const after = openZip(result)
    expect(new TextDecoder().decode(after.read('a.xml'))).toBe('<a>other</a>')
    expect(new TextDecoder().decode(after.read('folder/b.xml'))).toBe('<a>some text</a>')
    expect(raw(result, 'folder\\b.xml')).toEqual(raw(zip, 'folder\\b.xml'))
    if (hand.comment) expect(new TextDecoder().decode(result.subarray(-hand.comment.length))).toBe(hand.comment)
    if (hand.prefix) expect(new TextDecoder().decode(result.subarray(0, hand.prefix.length))).toBe(hand.prefix)
  })
})
