// What a text is like, in few numbers: the smallest hashes of its pieces. Two such sketches tell how much two texts share
// without either being there (A. Broder, "On the resemblance and containment of documents", 1997: one permutation,
// bottom-k).
import { skeleton } from '../naming/lookalike'

/** Hashes of a sketch at most; the estimate is then off by some 0.09 at worst. */
export const sketchSize = 128
/** Words of a piece of running text. */
const run = 3

/** A piece as a number (FNV-1a, then MurmurHash3's finalizer to spread it). */
function hashed(piece: string): number {
  let hash = 0x811c9dc5
  for (let at = 0; at < piece.length; at++) hash = Math.imul(hash ^ piece.charCodeAt(at), 0x01000193)
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return (hash ^ (hash >>> 16)) >>> 0
}

/** The pieces of running text: each three words that follow one another; of less than three, all together. */
export function piecesOfText(text: string): string[] {
  const words = skeleton(text).match(/[\p{L}\p{N}]+/gu) ?? []
  if (words.length <= run) return words.length ? [words.join(' ')] : []
  const pieces: string[] = []
  for (let at = 0; at + run <= words.length; at++) pieces.push(words.slice(at, at + run).join(' '))
  return pieces
}

/** @returns the smallest hashes, ascending, each once; none for nothing */
export function sketchOf(pieces: Iterable<string>): Uint32Array {
  const all = new Set<number>()
  for (const piece of pieces) all.add(hashed(piece))
  return Uint32Array.from(all).sort().slice(0, sketchSize)
}

/** The share of their pieces that two texts have in common, from 0 to 1; null where either has none. */
export function resemblance(one: Uint32Array, other: Uint32Array): number | null {
  if (!one.length || !other.length) return null
  let a = 0
  let b = 0
  let both = 0
  let seen = 0
  // Of the smallest hashes of both together, those that both have. A sketch that is not full is the whole text.
  const most = Math.max(Math.min(one.length, other.length), Math.min(sketchSize, one.length + other.length))
  while (seen < most && (a < one.length || b < other.length)) {
    const [left, right] = [one[a] ?? Number.POSITIVE_INFINITY, other[b] ?? Number.POSITIVE_INFINITY]
    if (left === right) both++
    if (left <= right) a++
    if (right <= left) b++
    seen++
  }
  return both / seen
}

/** A sketch as it is kept and sent: its hashes, four bytes each, little end first; and back. */
export function sketchBytes(sketch: Uint32Array): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(sketch.length * 4)
  const view = new DataView(bytes.buffer)
  for (const [at, hash] of sketch.entries()) view.setUint32(at * 4, hash, true)
  return bytes
}
export function sketchFrom(bytes: Uint8Array): Uint32Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  return Uint32Array.from({ length: bytes.byteLength >> 2 }, (_, at) => view.getUint32(at * 4, true))
}
