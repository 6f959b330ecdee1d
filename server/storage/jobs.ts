// The heavy work of the history store on one file: opening it into chunks, packing those that are new, and
// putting a file together again. It asks no database; whoever drives it does. Runs in a thread of its own
// (threads.ts), or where it is called.
import { createHash } from 'node:crypto'
import { constants, crc32, deflateRawSync, inflateRawSync } from 'node:zlib'
import { LRUCache } from 'lru-cache'
import { Chunker, chunkOfFrame, frameOfChunk, putChunk } from '../../core/history/chunks'
import { FileMaker, openFile } from '../../core/history/container'
import {
  type Deflate,
  type OpenedChunk,
  openChunk,
  type PackedChunk,
  packChunk,
  unpackChunk,
} from '../../core/history/pack'
import { letGoOf } from './tidy'

/** A chunk of a file is far smaller; the frame of one with very many parts has some megabytes. */
const mostOfChunk = 256 << 20

const deflate: Deflate = {
  pack: (bytes, codesOnly, dictionary) =>
    deflateRawSync(bytes, {
      memLevel: 9,
      ...(codesOnly && { strategy: constants.Z_HUFFMAN_ONLY }),
      ...(dictionary && { dictionary }),
    }),
  // What rotted may unpack to a thousand times of what it was.
  unpack: (bytes, dictionary) =>
    inflateRawSync(bytes, { maxOutputLength: mostOfChunk, ...(dictionary && { dictionary }) }),
}

/** A chunk as a row has it, with the chunks that it is kept by, as they are stored. */
export interface StoredChunk {
  /** SHA-256 of the chunk before it was packed, as bytes. */
  digest: string
  bytes: Uint8Array
  roots: StoredChunk[]
}

export const unpacked = ({ bytes, roots }: StoredChunk): Uint8Array => unpackChunk(bytes, roots.map(unpacked), deflate)
const opened = ({ bytes, roots }: StoredChunk): OpenedChunk => openChunk(bytes, roots.map(opened), deflate)

/** Chunks that were opened lately, by their digest and what was stored of them: versions of a file share most of theirs. */
const openedLately = new LRUCache<string, OpenedChunk>({
  maxSize: 32 << 20,
  sizeCalculation: (one) => ('tokens' in one ? one.tokens.byteLength : one.chunk.length) + 100,
})
function openedOrKnown(stored: StoredChunk): OpenedChunk {
  // One that was damaged and is mended is not what it was opened as before.
  const key = `${stored.digest}${crc32(stored.bytes)}`
  const known = openedLately.get(key)
  if (known) return known
  const one = openChunk(stored.bytes, stored.roots.map(openedOrKnown), deflate)
  openedLately.set(key, 'chunk' in one ? { chunk: one.chunk.slice() } : one)
  return one
}

export interface Batch {
  /** SHA-256 of each chunk, 32 bytes a chunk. */
  digests: Uint8Array
  /** Bytes of each chunk before packing. */
  sizes: number[]
  /** The last batch; its last chunk is the frame. */
  done: boolean
}

export interface Wanted {
  /** Which chunk of the batch. */
  index: number
  /** Chunks that it may be kept by. */
  offered: StoredChunk[]
}

/** Files that are worth looking for garbage while they pass; bytes. */
const large = 8 << 20
/** More than this of chunks is not held at once; bytes. */
const batchSize = 2 << 20

/** Opens one file and packs its chunks, batch by batch. */
export class StoreJob {
  private chunks: Uint8Array[] = []
  private held = 0
  /** null once the whole file is opened: its bytes are let go of then. */
  private opening: Generator<void, Uint8Array> | null
  private readonly size: number
  private readonly chunker: Chunker

  /** @param plainly as bytes without a container, for a file that could not be made again otherwise */
  constructor(bytes: Uint8Array, plainly: boolean) {
    this.chunker = new Chunker((chunk) => {
      this.chunks.push(chunk)
      this.held += chunk.length
    })
    this.opening = openFile(bytes, this.chunker, plainly)
    this.size = bytes.length
  }

  next(): Batch {
    if (this.size > large) letGoOf(2 * this.held)
    this.chunks = []
    this.held = 0
    let done = false
    while (this.held < batchSize) {
      const step = this.opening!.next()
      if (!step.done) continue
      const tail = this.chunker.end()
      this.chunks.push(chunkOfFrame(step.value, tail))
      done = true
      this.opening = null
      letGoOf(0, this.size)
      break
    }
    const digests = new Uint8Array(this.chunks.length * 32)
    for (const [index, chunk] of this.chunks.entries())
      digests.set(createHash('sha256').update(chunk).digest(), index * 32)
    return { digests, sizes: this.chunks.map(({ length }) => length), done }
  }

  /** Chunks of this batch as they are before packing. */
  plain(indexes: readonly number[]): Uint8Array[] {
    return indexes.map((index) => this.chunks[index]!.slice())
  }

  /** @throws RangeError when what was packed is not what it was before */
  pack(wanted: readonly Wanted[]): PackedChunk[] {
    return wanted.map(({ index, offered }) => {
      const chunk = this.chunks[index]!
      const packed = packChunk(chunk, offered.map(unpacked), deflate)
      const again = unpacked({ digest: '', bytes: packed.bytes, roots: packed.roots.map((root) => offered[root]!) })
      if (Buffer.compare(again, chunk) !== 0) throw new RangeError('A chunk does not unpack to what it was.')
      return packed
    })
  }
}

/** Puts one file together again. */
export class MakeJob {
  private pieces: Uint8Array[] = []
  private made = 0
  private readonly maker: FileMaker
  /** The end of the body. */
  private readonly tail: Uint8Array

  /** @param lately chunks that were opened lately need not be opened again */
  constructor(
    frame: StoredChunk,
    private readonly lately: boolean,
  ) {
    const { frame: steps, tail } = frameOfChunk(unpacked(frame))
    this.tail = tail
    this.maker = new FileMaker(steps, (piece) => this.pieces.push(piece.slice()))
  }

  /** @returns the next bytes of the file. @throws RangeError when a chunk is damaged or not of this place */
  feed(chunks: readonly StoredChunk[], last: boolean): Uint8Array {
    try {
      return this.fed(chunks, last)
    } catch (error) {
      // Whatever bytes that rotted lead to: it asks for nothing but them.
      if (error instanceof TypeError) throw new RangeError(error.message)
      throw error
    }
  }
  private fed(chunks: readonly StoredChunk[], last: boolean): Uint8Array {
    for (const stored of chunks) {
      const one = this.lately ? openedOrKnown(stored) : opened(stored)
      if ('tokens' in one) this.maker.tokens(one.tokens, one.tokens.length)
      else putChunk(one.chunk, this.maker)
    }
    if (last) {
      putChunk(this.tail, this.maker)
      this.maker.end()
    }
    const whole = Buffer.concat(this.pieces)
    this.pieces = []
    this.made += whole.length
    if (this.made > large) letGoOf(3 * whole.length)
    return whole
  }
}
