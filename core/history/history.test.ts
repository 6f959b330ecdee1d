import { constants, deflateRawSync, inflateRawSync } from 'node:zlib'
import fc from 'fast-check'
import { zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { DeflateMaker, openDeflate, packPlan, unpackPlan } from '../deflate'
import { Counterparts } from './align'
import { keptBy, linksFor } from './chain'
import { Chunker, chunkOfFrame, chunkSize, frameOfChunk, putChunk } from './chunks'
import { FileMaker, openFile } from './container'
import { deltaBetween } from './delta'
import { applyDeltaBytes, applyEarlierDeltaBytes, deltaBytes } from './delta-bytes'
import { type Deflate, packChunk, unpackChunk } from './pack'

const deflate: Deflate = {
  pack: (bytes, codesOnly, dictionary) =>
    deflateRawSync(bytes, {
      ...(codesOnly && { strategy: constants.Z_HUFFMAN_ONLY }),
      ...(dictionary && { dictionary }),
    }),
  unpack: (bytes, dictionary) => inflateRawSync(bytes, dictionary && { dictionary }),
}

/** A file's frame, with the end of its body where that goes with it, and the chunks of the rest. */
function cut(bytes: Uint8Array): { frame: Uint8Array; chunks: Uint8Array[] } {
  const chunks: Uint8Array[] = []
  const chunker = new Chunker((chunk) => chunks.push(chunk))
  const opening = openFile(bytes, chunker)
  let step = opening.next()
  while (!step.done) step = opening.next()
  return { frame: chunkOfFrame(step.value, chunker.end()), chunks }
}
function join({ frame, chunks }: ReturnType<typeof cut>): Buffer {
  const pieces: Buffer[] = []
  const { frame: steps, tail } = frameOfChunk(frame)
  const maker = new FileMaker(steps, (piece) => pieces.push(Buffer.from(piece)))
  for (const chunk of chunks) putChunk(chunk, maker)
  putChunk(tail, maker)
  maker.end()
  return Buffer.concat(pieces)
}
const same = (bytes: Uint8Array): void => {
  expect(join(cut(bytes)).equals(bytes)).toBe(true)
}

/** Text that repeats as documents do, from a few words. */
const prose = (words: readonly number[], size: number) => {
  const known = ['gate', 'paddle', 'lock', 'sluice', 'Merrowdale', 'weir ', '<w:r><w:t>', '</w:t></w:r>', '\u00e9', '7']
  let text = ''
  for (let at = 0; text.length < size; at++)
    text += known[(words[at % words.length]! * (at + 7)) % known.length]! + ((at * words[0]!) % 97)
  return text
}
const words = fc.array(fc.integer({ min: 1, max: 1000 }), { minLength: 3, maxLength: 40 })
const compressor = fc.constantFrom(
  ...[0, 1, 4, 6, 9].map((level) => (bytes: Uint8Array) => deflateRawSync(bytes, { level })),
  (bytes: Uint8Array) => deflateRawSync(bytes, { strategy: constants.Z_FIXED }),
  (bytes: Uint8Array) => deflateRawSync(bytes, { memLevel: 9, strategy: constants.Z_FILTERED }),
  (bytes: Uint8Array) => deflateRawSync(bytes, { memLevel: 1, level: 3 }),
)

describe('a stream', () => {
  test('is made again bit for bit, whoever packed it', () => {
    fc.assert(
      fc.property(words, fc.integer({ min: 0, max: 300_000 }), compressor, (list, size, packed) => {
        const stream = packed(Buffer.from(prose(list, size)))
        const batches: Uint32Array[] = []
        // Something follows it, as in a file.
        const opening = openDeflate(Buffer.concat([stream, Buffer.from('PK')]), 0)
        let step = opening.next()
        for (; !step.done; step = opening.next()) batches.push(step.value.slice())
        expect(step.value!.end).toBe(stream.length)
        const pieces: Uint8Array[] = []
        const maker = new DeflateMaker(unpackPlan(packPlan(step.value!.plan)), (piece) => pieces.push(piece.slice()))
        for (const batch of batches) maker.tokens(batch, 0, batch.length)
        maker.end()
        expect(Buffer.concat(pieces).equals(stream)).toBe(true)
      }),
      { numRuns: 60 },
    )
  })
  test('by zlib and by fflate needs no head of a block kept', () => {
    const text = Buffer.from(prose([3, 17, 401], 400_000))
    for (const stream of [deflateRawSync(text), zipSync({ a: text })]) {
      const { frame, chunks } = cut(stream)
      expect(frame.length).toBeLessThan(stream[0] === 0x50 ? 400 : 20)
      expect(chunks.length).toBeGreaterThan(0)
    }
  })
})

describe('a file', () => {
  const part = fc.tuple(words, fc.integer({ min: 0, max: 60_000 }), fc.constantFrom(0, 1, 6, 9))
  const zip = fc
    .array(part, { minLength: 1, maxLength: 6 })
    .map((parts) =>
      zipSync(
        Object.fromEntries(
          parts.map(([list, size, level], index) => [
            `word/part${index}.xml`,
            [Buffer.from(prose(list, size)), { level: level as 0 | 1 | 6 | 9 }],
          ]),
        ),
      ),
    )
  test('is the same byte for byte when it is put together again', () => {
    fc.assert(fc.property(zip, same), { numRuns: 40 })
  })
  test('is the same also when it is damaged, cut off, or no container at all', () => {
    fc.assert(
      fc.property(zip, fc.nat(), fc.nat(255), fc.boolean(), (bytes, place, value, short) => {
        const harmed = Buffer.from(bytes)
        harmed[place % harmed.length] = value
        const some = short ? harmed.subarray(0, place % harmed.length) : harmed
        const before = Buffer.from(some)
        same(some)
        expect(before.equals(some)).toBe(true)
      }),
      { numRuns: 150 },
    )
    fc.assert(fc.property(fc.uint8Array({ maxLength: 2000 }), same))
  })
  test('whatever rots of what it is kept as: it is refused, or is other bytes, and takes no more time or room', () => {
    const refused = (make: () => Uint8Array): void => {
      try {
        // A count that rotted is not believed, however large it says that something is.
        expect(make().length).toBeLessThan(8e6)
      } catch (error) {
        const code = String((error as { code?: string }).code)
        expect(error instanceof RangeError || code.startsWith('Z_'), String((error as Error).stack)).toBe(true)
      }
    }
    const rot = fc.record({
      place: fc.nat(),
      value: fc.integer({ min: 1, max: 255 }),
      // Numbers stand at the beginning.
      early: fc.boolean(),
    })
    const rotten = (bytes: Uint8Array, { place, value, early }: { place: number; value: number; early: boolean }) => {
      const harmed = Uint8Array.from(bytes)
      harmed[place % (early ? Math.min(24, harmed.length) : harmed.length)]! ^= value
      return harmed
    }
    fc.assert(
      fc.property(
        words,
        fc.integer({ min: 2000, max: 90_000 }),
        fc.array(rot, { minLength: 20, maxLength: 20 }),
        (list, size, rots) => {
          const text = prose(list, size)
          const at = size >> 1
          const [before, now] = [text, `${text.slice(0, at)}Leaks.${text.slice(at)}`].map((content) =>
            cut(zipSync({ 'word/document.xml': Buffer.from(content) })),
          )
          fc.pre(now!.chunks.length > 0 && before!.chunks.length > 0)
          const last = now!.chunks.at(-1)!
          const alone = packChunk(last, [], deflate)
          const kept = packChunk(last, [before!.chunks.at(-1)!], deflate)
          const roots = kept.roots.map(() => before!.chunks.at(-1)!)
          for (const one of rots) {
            refused(() => unpackChunk(rotten(alone.bytes, one), [], deflate))
            refused(() => unpackChunk(rotten(kept.bytes, one), roots, deflate))
            refused(() =>
              unpackChunk(
                kept.bytes,
                roots.map((root) => rotten(root, one)),
                deflate,
              ),
            )
            refused(() => join({ frame: rotten(now!.frame, one), chunks: now!.chunks }))
            refused(() => join({ frame: now!.frame, chunks: [...now!.chunks.slice(0, -1), rotten(last, one)] }))
          }
        },
      ),
      { numRuns: 40 },
    )
  })
  test('with an entry of a bomb does not take more memory than the file and a few chunks', () => {
    // Fifty megabytes of zeros in fifty kilobytes: tokens are kept, not text.
    const { chunks } = cut(zipSync({ zeros: new Uint8Array(50e6) }))
    expect(chunks.reduce((sum, { length }) => sum + length, 0)).toBeLessThan(2e6)
  })
  test('that is edited shares its chunks, and what is new is kept as what differs', () => {
    const text = prose([3, 17, 401, 29, 61, 5, 811], 900_000)
    const at = 400_000
    const versions = [text, `${text.slice(0, at)} The lower gate leaks.${text.slice(at)}`].map((content) =>
      cut(zipSync({ 'word/document.xml': Buffer.from(content) })),
    )
    const key = (chunk: Uint8Array) => Buffer.from(chunk).toString('base64')
    const known = new Map(versions[0]!.chunks.map((chunk, index) => [key(chunk), index]))
    const standing = ({ chunks }: ReturnType<typeof cut>) =>
      chunks.map((chunk) => ({ id: known.get(key(chunk)) ?? null, size: chunk.length }))
    const now = standing(versions[1]!)
    const near = new Counterparts(standing(versions[0]!)).next(now, true)
    let added = 0
    for (const [index, { id }] of now.entries()) {
      if (id !== null) continue
      const offered = near.get(index)!.map((one) => versions[0]!.chunks[one]!)
      const { bytes, roots } = packChunk(versions[1]!.chunks[index]!, offered, deflate)
      const back = unpackChunk(
        bytes,
        roots.map((root) => offered[root]!),
        deflate,
      )
      expect(key(back)).toBe(key(versions[1]!.chunks[index]!))
      added += bytes.length
    }
    expect(now.filter(({ id }) => id === null).length).toBeLessThanOrEqual(3)
    expect(added).toBeLessThan(1500)
  })
})

test('the directory of a container goes with its frame, so that a version of one small change is two chunks', () => {
  const parts = (words: string) =>
    zipSync({
      ...Object.fromEntries(
        Array.from({ length: 9 }, (_, n) => [`word/part-${n}.xml`, Buffer.from(`<part n="${n}"/>`)]),
      ),
      'word/document.xml': Buffer.from(prose([3, 17, 401, 29, 61, 5, 811], 90_000) + words),
      'docProps/core.xml': Buffer.from('<modified>2026-10-12</modified>'),
    })
  // A container carries the time that it was made at.
  const first = parts('')
  const [one, other] = [cut(first), cut(parts('The lower gate leaks.'))]
  expect(frameOfChunk(one.frame).tail.length).toBeGreaterThan(400)
  const known = new Set(one.chunks.map((chunk) => Buffer.from(chunk).toString('base64')))
  expect(other.chunks.filter((chunk) => !known.has(Buffer.from(chunk).toString('base64')))).toHaveLength(1)
  const delta = packChunk(other.frame, [one.frame], deflate)
  expect(delta.roots).toEqual([0])
  expect(delta.bytes.length).toBeLessThan(130)
  same(parts('Once more.'))
  // A frame as an earlier Jaula kept it has the whole body beside it.
  const { frame, tail } = frameOfChunk(one.frame)
  const earlier = { frame: chunkOfFrame(frame, new Uint8Array()), chunks: [...one.chunks, tail] }
  expect(join(earlier).equals(first)).toBe(true)
})

test('chunks keep their bounds, and are cut where they were before when something is put before them', () => {
  const random = Buffer.from(
    Uint32Array.from({ length: 100_000 }, (_, at) => Math.imul(at + 1, 2654435761) ^ (at << 7)).buffer,
  )
  const plain = cut(random).chunks
  const moved = cut(Buffer.concat([Buffer.from('put before'), random])).chunks
  for (const chunk of plain.slice(0, -1)) {
    expect(chunk.length).toBeGreaterThanOrEqual(chunkSize.least)
    expect(chunk.length).toBeLessThanOrEqual(chunkSize.most + 16)
  }
  const known = new Set(plain.map((chunk) => Buffer.from(chunk).toString('base64')))
  const shared = moved.filter((chunk) => known.has(Buffer.from(chunk).toString('base64')))
  expect(shared.length).toBeGreaterThan(plain.length - 3)
})

describe('tokens as what differs from earlier ones', () => {
  const edits = fc.array(fc.tuple(fc.nat(), fc.nat(60), fc.string({ maxLength: 40 })), { minLength: 1, maxLength: 6 })
  const tokensOf = (text: string): Uint32Array => {
    const batches: Uint32Array[] = []
    for (const batch of openDeflate(deflateRawSync(Buffer.from(text)), 0)) batches.push(batch.slice())
    return Uint32Array.from(batches.flatMap((batch) => [...batch]))
  }
  const texts = fc
    .tuple(words, fc.integer({ min: 20_000, max: 90_000 }), edits)
    .map(([list, size, changes]): [string, string] => {
      const text = prose(list, size)
      const edited = changes.reduce(
        (now, [place, gone, put]) => now.slice(0, place % now.length) + put + now.slice((place % now.length) + gone),
        text,
      )
      return [text, edited]
    })

  test('are the same again, whatever was edited, also from a run that begins or ends elsewhere', () => {
    fc.assert(
      fc.property(texts, fc.nat(), fc.nat(), ([text, edited], begin, end) => {
        const old = tokensOf(text)
        const now = tokensOf(edited)
        const from = begin % now.length
        for (const [before, after] of [
          [old, now],
          [now, old],
          [old, now.subarray(from, from + 1 + (end % (now.length - from)))],
          [old.subarray(from % old.length), now],
        ] as const)
          expect(applyDeltaBytes(before, deltaBytes(before, deltaBetween(before, after)))).toEqual(after)
      }),
      { numRuns: 60 },
    )
  })
  test('take little where a run begins in the middle of two earlier ones', () => {
    const old = tokensOf(prose([3, 17, 401, 29, 61, 5, 811], 300_000))
    const now = old.slice(Math.floor(old.length / 3))
    expect(deltaBytes(old, deltaBetween(old, now)).length).toBeLessThan(60)
  })
  test('are read as an earlier Jaula wrote them', () => {
    const old = Uint32Array.from({ length: 60 }, (_, at) =>
      at % 5 === 3 ? ((3 + (at % 7)) << 16) | (9 + at * 2) : 97 + ((at * 7) % 23),
    )
    // All references after what was added go back across it.
    const after = old.slice(22).map((token) => (token > 255 ? token + 200 : token))
    const now = Uint32Array.of(...old.slice(0, 20), 120, 255, (200 << 16) | 33, ...after)
    expect(applyEarlierDeltaBytes(old, Buffer.from('3d00021402030578fffffe47002026000000', 'hex'))).toEqual(now)
  })
})

test('chunks of any revision are few steps from one that stands alone', () => {
  const roots: number[][] = [[]]
  const depth = [0]
  for (let revision = 1; revision <= 3000; revision++) {
    const found = linksFor(revision - 1, (id) => ({ revision: id, roots: roots[id]! }))
    expect(found).toEqual([keptBy(revision)])
    roots.push(found)
    depth.push(1 + depth[found[0]!]!)
  }
  expect(Math.max(...depth.slice(0, 1000))).toBe(27)
  expect(Math.max(...depth)).toBe(29)
})

test('new chunks are found beside those that stood there, also when they come some at a time', () => {
  const known = (...ids: number[]) => ids.map((id) => ({ id, size: 10 }))
  const fresh = (count: number) => Array.from({ length: count }, () => ({ id: null, size: 10 }))
  const found = (...batches: { id: number | null; size: number }[][]) => {
    const counterparts = new Counterparts(known(1, 2, 3, 4, 5, 6, 7, 8))
    return batches.flatMap((batch, at) => [...counterparts.next(batch, at === batches.length - 1).values()])
  }
  // The fourth is another one, between its neighbours.
  expect(found([...known(1, 2, 3), ...fresh(1), ...known(5)])[0]).toContain(4)
  // All are others: each has the one in its place.
  for (const [index, near] of found(fresh(8)).entries()) expect(near).toContain(index + 1)
  for (const [index, near] of found(fresh(3), fresh(3), fresh(2)).entries()) expect(near).toContain(index + 1)
  // What is new stands between its neighbours wherever a batch ends; a chunk met before is not met again.
  const later = found([...known(1), ...fresh(1)], [...fresh(2), ...known(5, 1)])
  for (const near of later.slice(0, 3)) expect(near.every((id) => id >= 1 && id <= 6)).toBe(true)
  expect(later[1]).toContain(3)
  // Something put in where nothing stood has the neighbours.
  expect(found([...known(1, 2, 3), ...fresh(1), ...known(4)])[0]).toEqual(expect.arrayContaining([3, 4]))
})
