import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { DamagedFile } from '../refusals'
import { blankRoot, type CompoundEntry, type CompoundStorage, readCompound, streamOf, writeCompound } from './compound'

const name = fc.string({ unit: fc.constantFrom(...'abCDé0_'), minLength: 1, maxLength: 12 })
const bytes = fc.oneof(
  fc.uint8Array({ maxLength: 200 }),
  // Around where streams share sectors and where they have their own.
  fc.integer({ min: 4000, max: 4200 }).map((length) => new Uint8Array(length).map((_, at) => at * 7)),
  fc.constantFrom(0, 64, 512, 20_000).map((length) => new Uint8Array(length).fill(5)),
)
const { tree } = fc.letrec<{ tree: CompoundEntry[]; entry: CompoundEntry }>((tie) => ({
  entry: fc.oneof(
    { depthSize: 'small' },
    fc.record({ is: fc.constant('stream' as const), name, bytes }),
    fc
      .record({ name, state: fc.nat(), children: tie('tree') })
      .map((one): CompoundStorage => ({ ...blankRoot(one.children), name: one.name, state: one.state })),
  ),
  tree: fc.uniqueArray(tie('entry'), { maxLength: 12, selector: (one) => one.name.toUpperCase() }),
}))
/** In one order: siblings are a tree, and have none. */
const ordered = (entry: CompoundEntry): unknown =>
  entry.is === 'stream'
    ? { ...entry, bytes: Buffer.from(entry.bytes).toString('base64') }
    : {
        ...entry,
        children: entry.children
          .map(ordered)
          .sort((a, b) => ((a as CompoundEntry).name < (b as CompoundEntry).name ? -1 : 1)),
      }

describe('a compound file', () => {
  test('read back holds the streams and storages that were written', () => {
    fc.assert(
      fc.property(tree, (children) => {
        const root = blankRoot(children)
        expect(ordered(readCompound(writeCompound(root)))).toEqual(ordered(root))
      }),
      { numRuns: 200 },
    )
  })

  test('of many megabytes lists its table of sectors in sectors of their own', () => {
    const large = new Uint8Array(9_000_000).map((_, at) => at % 251)
    const root = blankRoot([
      { is: 'stream', name: 'Large', bytes: large },
      ...Array.from(
        { length: 300 },
        (_, at): CompoundEntry => ({ is: 'stream', name: `S${at}`, bytes: new Uint8Array(at) }),
      ),
    ])
    const again = readCompound(writeCompound(root))
    expect(again.children).toHaveLength(301)
    expect(Buffer.from(streamOf(again, 'large')!.bytes).equals(Buffer.from(large))).toBe(true)
    expect(streamOf(again, 'S299')!.bytes).toHaveLength(299)
  })

  test('siblings are found by whoever walks their tree, and red ones have no red ones below them', () => {
    for (let count = 1; count < 40; count++) {
      const names = Array.from({ length: count }, (_, at) => `stream ${at}`)
      const file = writeCompound(blankRoot(names.map((one) => ({ is: 'stream', name: one, bytes: new Uint8Array(1) }))))
      const view = new DataView(file.buffer)
      const directory = (view.getUint32(48, true) + 1) * 512
      const at = (index: number) => directory + index * 128
      const blacks = (index: number, above: 'red' | 'black'): number => {
        if (index === 0xffffffff) return 1
        const red = view.getUint8(at(index) + 67) === 0
        expect(red && above === 'red').toBe(false)
        const [left, right] = [68, 72].map((link) =>
          blacks(view.getUint32(at(index) + link, true), red ? 'red' : 'black'),
        ) as [number, number]
        expect(left).toBe(right)
        return left + (red ? 0 : 1)
      }
      blacks(view.getUint32(at(0) + 76, true), 'red')
    }
  })

  test('that is cut off, altered or goes in circles is refused with a sentence, or read', () => {
    const file = writeCompound(
      blankRoot([
        { is: 'stream', name: 'Small', bytes: new Uint8Array(100) },
        { is: 'stream', name: 'Large', bytes: new Uint8Array(6000) },
      ]),
    )
    const opened = (bytes: Uint8Array) => {
      try {
        return readCompound(bytes)
      } catch (error) {
        expect(error).toBeInstanceOf(DamagedFile)
        return null
      }
    }
    fc.assert(
      fc.property(fc.nat(file.length), fc.nat(file.length - 1), fc.nat(255), (end, at, value) => {
        opened(file.subarray(0, end))
        const altered = file.slice()
        altered[at] = value
        opened(altered)
      }),
      { numRuns: 1500 },
    )
    // The table's first sector leads to itself.
    const circle = file.slice()
    const view = new DataView(circle.buffer)
    const table = (view.getUint32(76, true) + 1) * 512
    for (let at = 0; at < 20; at++) view.setUint32(table + at * 4, at, true)
    expect(opened(circle)).toBeNull()
  })
})
