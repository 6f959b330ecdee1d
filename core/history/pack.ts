// A chunk as it is stored: packed for itself, or as what differs from one or two others (its roots). Whoever
// stores chunks sees to it that none is many steps from one that is packed for itself, so that reading any
// version costs the same, the first or the ten-thousandth.
import { chunkOfRows, rowsOfTokens, tokenRows, tokensOfRows } from './chunks'
import { deltaBetween } from './delta'
import { applyDeltaBytes, applyEarlierDeltaBytes, deltaBytes } from './delta-bytes'
import { ByteReader, ByteWriter } from './varint'

/** DEFLATE as the place provides it; what it gives is only ever read back, so that any implementation will do. */
export interface Deflate {
  /** @param codesOnly looks for no repetitions */
  pack(bytes: Uint8Array, codesOnly: boolean, dictionary?: Uint8Array): Uint8Array
  unpack(bytes: Uint8Array, dictionary?: Uint8Array): Uint8Array
}

export interface PackedChunk {
  bytes: Uint8Array
  /** Which of the offered roots it needs, in order; none for a chunk that is packed for itself. */
  roots: number[]
}

// The first byte of a packed chunk says how the rest is to be read.
const asIs = 0
const deflated = 1
const rows = 2
const afterDictionary = 3
const tokenChanges = 4
const tokenChangesDeflated = 5
const splices = 6
const splicesDeflated = 7

/** What differs is kept only where it takes less than this part of the chunk itself. */
const worthwhile = 0.5
/** What differs by no more than this is not looked at in other ways; bytes. */
const tolerable = 500
/** DEFLATE looks no further back (RFC 1951 §2). */
const window = 32_000

/** Packs a chunk for itself. */
export function packAlone(chunk: Uint8Array, { pack }: Deflate): Uint8Array {
  const parts = tokenRows(chunk)
  const out = new ByteWriter()
  if (parts) {
    // Rows have statistics of their own: names repeat, distances hardly do.
    out.number(rows)
    out.number(parts.count)
    for (const row of [parts.symbols, parts.high, parts.low]) {
      const best = shorter(pack(row, true), row === parts.symbols ? pack(row, false) : row)
      const packed = best.length < row.length
      out.number(row.length)
      out.number(packed ? best.length : 0)
      out.raw(packed ? best : row)
    }
  } else {
    const best = pack(chunk, false)
    out.number(best.length < chunk.length ? deflated : asIs)
    out.raw(shorter(best, chunk))
  }
  return out.take()
}

/**
 * Packs a chunk in the shortest way.
 * @param offered chunks like it, as they were before packing, in the order of their file
 */
export function packChunk(chunk: Uint8Array, offered: readonly Uint8Array[], deflate: Deflate): PackedChunk {
  let best: PackedChunk = { bytes: packAlone(chunk, deflate), roots: [] }
  let limit = best.bytes.length * worthwhile
  const consider = (kind: number, bytes: Uint8Array, roots: number[]) => {
    if (bytes.length + 1 >= limit) return
    const whole = new Uint8Array(bytes.length + 1)
    whole[0] = kind
    whole.set(bytes, 1)
    best = { bytes: whole, roots }
    limit = whole.length
  }
  const parts = tokenRows(chunk)
  if (!parts) {
    for (const [index, root] of offered.entries())
      consider(afterDictionary, deflate.pack(chunk, false, root.subarray(-window)), [index])
    return best
  }
  const now = tokensOfRows(parts)
  const olds = offered.map(tokenRows).map((found) => found && tokensOfRows(found))
  const considerSplices = (old: Uint32Array, roots: number[]) => {
    const delta = deltaBytes(old, deltaBetween(old, now))
    const packed = deflate.pack(delta, false)
    if (packed.length < delta.length) consider(splicesDeflated, packed, roots)
    else consider(splices, delta, roots)
  }
  // A chunk that was cut elsewhere before lies in two or three neighbours.
  for (let together = 1; together <= 3 && (together === 1 || best.bytes.length > tolerable); together++)
    for (let index = 0; index + together <= olds.length; index++) {
      const some = olds.slice(index, index + together)
      if (some.every((old) => old !== null))
        considerSplices(
          joined(some),
          some.map((_, at) => index + at),
        )
    }
  return best
}

/** A chunk that is no longer packed: tokens of one stream, as which it is made into bytes, or the chunk itself. */
export type OpenedChunk = { tokens: Uint32Array } | { chunk: Uint8Array }

function tokensIn(opened: OpenedChunk): Uint32Array {
  if ('tokens' in opened) return opened.tokens
  const rows = tokenRows(opened.chunk)
  if (!rows) throw new RangeError('A root of this chunk is none of tokens.')
  return tokensOfRows(rows)
}

/** @param roots the chunk's roots, opened, in order. @throws RangeError when it is damaged */
export function openChunk(packed: Uint8Array, roots: readonly OpenedChunk[], { unpack }: Deflate): OpenedChunk {
  const rest = packed.subarray(1)
  switch (packed[0]) {
    case asIs:
      return { chunk: rest }
    case deflated:
      return { chunk: unpack(rest) }
    case afterDictionary:
      if (!roots.length) throw new RangeError('What this chunk is kept by is missing.')
      return { chunk: unpack(rest, closed(roots[0]!).subarray(-window)) }
    case rows: {
      const reader = new ByteReader(rest)
      const count = reader.number()
      const [symbols, high, low] = [0, 0, 0].map(() => {
        const size = reader.number()
        const inPacked = reader.number()
        return inPacked ? unpack(reader.raw(inPacked)) : reader.raw(size)
      })
      return { tokens: tokensOfRows({ count, symbols: symbols!, high: high!, low: low! }) }
    }
    case tokenChanges:
    case tokenChangesDeflated:
      return {
        tokens: applyEarlierDeltaBytes(joined(roots.map(tokensIn)), packed[0] === tokenChanges ? rest : unpack(rest)),
      }
    case splices:
    case splicesDeflated:
      return { tokens: applyDeltaBytes(joined(roots.map(tokensIn)), packed[0] === splices ? rest : unpack(rest)) }
    default:
      throw new RangeError('This is no chunk that this Jaula can read.')
  }
}
/** The chunk as it was before packing. */
const closed = (opened: OpenedChunk): Uint8Array =>
  'chunk' in opened ? opened.chunk : chunkOfRows(rowsOfTokens(opened.tokens))

/** @param roots the chunk's roots before packing, in order. @throws RangeError when it is damaged */
export const unpackChunk = (packed: Uint8Array, roots: readonly Uint8Array[], deflate: Deflate): Uint8Array =>
  closed(
    openChunk(
      packed,
      roots.map((chunk) => ({ chunk })),
      deflate,
    ),
  )

const shorter = (a: Uint8Array, b: Uint8Array) => (a.length < b.length ? a : b)

function joined(parts: readonly Uint32Array[]): Uint32Array {
  if (parts.length === 1) return parts[0]!
  const all = new Uint32Array(parts.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const part of parts) {
    all.set(part, at)
    at += part.length
  }
  return all
}
