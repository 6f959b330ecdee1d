// What differs between two runs of tokens as bytes. Numbers of one meaning stand together, which packs better.
// A reference that replaces another one often goes to the same text: what is added is kept as how far its
// distance is from that of what it replaces.
import { matchesIn, rowsOfTokens, tokensOfRows } from './chunks'
import { applyDelta, type Delta, distanceOf, furthest, originOf, placesOf, Shifts, textLength } from './delta'
import type { Splice } from './splices'
import { ByteReader, ByteWriter } from './varint'

/** @param old the tokens that the delta was made from */
export function deltaBytes(old: Uint32Array, delta: Delta): Uint8Array {
  const { length, splices, before, exceptions } = delta
  const out = new ByteWriter()
  for (const number of [length, before.length, splices.length, exceptions.length]) out.number(number)
  let last = 0
  for (const [place] of before) {
    out.number(last - place)
    last = place
  }
  for (const [, shift] of before) out.number(zigzag(shift))
  for (const { copied } of splices) out.number(copied)
  for (const { skipped } of splices) out.number(skipped)
  for (const { added } of splices) out.number(added.length)
  const added = splices.reduce((sum, splice) => sum + splice.added.length, 0)
  const relative = new Uint32Array(added)
  let at = 0
  eachAdded(old, splices, new Shifts(old, delta), (token, expected) => {
    relative[at++] = token < 256 ? token : (token & 0xffff0000) | (zigzag(distanceOf(token) - expected) + 1)
    return token
  })
  const { symbols, high, low } = rowsOfTokens(relative)
  out.number(symbols.length)
  for (const row of [symbols, high, low]) out.raw(row)
  last = 0
  for (const [index] of exceptions) {
    out.number(index - last)
    last = index
  }
  for (const [, distance] of exceptions) out.number(distance)
  return out.take()
}

/** @throws RangeError when these are no such bytes */
export function applyDeltaBytes(old: Uint32Array, bytes: Uint8Array): Uint32Array {
  const reader = new ByteReader(bytes)
  const numbers = (count: number) => {
    if (count > bytes.length) throw new RangeError('The bytes end too early.')
    return Array.from({ length: count }, () => reader.number())
  }
  const [length, beforeCount, spliceCount, exceptionCount] = numbers(4) as [number, number, number, number]
  let last = 0
  const places = numbers(beforeCount).map((gap) => (last -= gap))
  const before = numbers(beforeCount).map((shift, at): [number, number] => [places[at]!, unzigzag(shift)])
  const [copied, skipped, counts] = [numbers(spliceCount), numbers(spliceCount), numbers(spliceCount)]
  const symbols = reader.raw(reader.number())
  const matches = matchesIn(symbols)
  const count = counts.reduce((sum, one) => sum + one, 0)
  const relative = tokensOfRows({ count, symbols, high: reader.raw(matches), low: reader.raw(matches) })
  let at = 0
  const splices = counts.map((size, index): Splice => {
    at += size
    return { copied: copied[index]!, skipped: skipped[index]!, added: relative.subarray(at - size, at) }
  })
  fitting(old, splices, length)
  last = 0
  const indexes = numbers(exceptionCount).map((gap) => (last += gap))
  const exceptions = numbers(exceptionCount).map((distance, index): [number, number] => [indexes[index]!, distance])
  const origin = originOf(old, splices)
  const shifts = new Shifts(old, { splices, origin, before })
  eachAdded(old, splices, shifts, (token, expected) =>
    token < 256 ? token : (token & 0xffff0000) | (unzigzag(distanceOf(token) - 1) + expected),
  )
  return applyDelta(old, { length, splices, origin, before, exceptions }, shifts)
}

/** @throws RangeError when they are no splices of these tokens into that many: a number that rotted may be any */
function fitting(old: Uint32Array, splices: readonly Splice[], length: number): void {
  let oldAt = 0
  let at = 0
  for (const { copied, skipped, added } of splices) {
    oldAt += copied + skipped
    at += copied + added.length
  }
  if (oldAt > old.length || at !== length) throw new RangeError('What differs is from other tokens.')
}

/**
 * Goes through all that is added, with the distance that what it replaces lets one expect; 1 where nothing does.
 * @param put gives what is to stand there
 */
function eachAdded(
  old: Uint32Array,
  splices: readonly Splice[],
  shifts: Shifts,
  put: (token: number, expected: number) => number,
): void {
  for (const { splice, adds } of placesOf(old, splices)) {
    let replacedAt = adds.oldAt
    const end = adds.oldAt + splice.skipped
    let { text } = adds
    const moved = adds.text - adds.oldText
    for (let at = 0; at < splice.added.length; at++) {
      const token = splice.added[at]!
      let expected = 1
      if (token > 255) {
        // The next reference that is replaced.
        while (replacedAt < end && old[replacedAt]! < 256) replacedAt++
        if (replacedAt < end) {
          const source = text - moved - distanceOf(old[replacedAt++]!)
          const distance = text - source - shifts.at(source)
          if (distance >= 1 && distance <= furthest) expected = distance
        }
      }
      splice.added[at] = put(token, expected)
      text += textLength(token)
    }
  }
}

/** The same as an earlier Jaula wrote it. @throws RangeError when these are no such bytes */
export function applyEarlierDeltaBytes(old: Uint32Array, bytes: Uint8Array): Uint32Array {
  const reader = new ByteReader(bytes)
  const length = reader.number()
  const before: [number, number][] = []
  let lastPlace = 0
  for (let left = reader.number(); left > 0; left--) {
    lastPlace -= reader.number()
    before.push([lastPlace, unzigzag(reader.number())])
  }
  const splices: Splice[] = []
  for (let left = reader.number(); left > 0; left--) {
    const [copied, skipped, count] = [reader.number(), reader.number(), reader.number()]
    const symbols = count ? reader.raw(reader.number()) : new Uint8Array(0)
    const matches = matchesIn(symbols)
    const added = tokensOfRows({ count, symbols, high: reader.raw(matches), low: reader.raw(matches) })
    splices.push({ copied, skipped, added })
  }
  fitting(old, splices, length)
  const exceptions: [index: number, distance: number][] = []
  let index = 0
  for (let left = reader.number(); left > 0; left--) {
    index += reader.number()
    exceptions.push([index, reader.number()])
  }
  return applyDelta(old, { length, splices, origin: 0, before, exceptions })
}

const zigzag = (value: number) => (value < 0 ? -2 * value - 1 : 2 * value)
const unzigzag = (value: number) => (value % 2 ? -(value + 1) / 2 : value / 2)
