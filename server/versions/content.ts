// Content-addressed bytes in blocks of a megabyte. A block is kept deflated only where that
// saves at least a tenth: office files are packed already.

import { promisify } from 'node:util'
import { deflateRaw, inflateRaw } from 'node:zlib'
import type { EntityManager } from 'typeorm'

const blockSize = 1 << 20
const deflated = promisify(deflateRaw)
const inflated = promisify(inflateRaw)

/** Bytes that are a single block, as they are to be stored; null for more. */
export async function singleBlock(bytes: Buffer): Promise<{ packed: boolean; bytes: Buffer } | null> {
  return bytes.length > 0 && bytes.length <= blockSize ? packBlock(bytes) : null
}

async function packBlock(plain: Buffer): Promise<{ packed: boolean; bytes: Buffer }> {
  const packed = worthPacking(plain) ? await deflated(plain, { level: 6 }) : plain
  const smaller = packed.length < plain.length * 0.9
  return { packed: smaller, bytes: smaller ? packed : plain }
}

/**
 * Stores bytes under their SHA-256, in the caller's transaction; does nothing when they are there.
 */
export async function storeContent(manager: EntityManager, sha256: Buffer, bytes: Buffer): Promise<void> {
  const added = await manager.query(
    'insert into content (sha256, size) values ($1, $2) on conflict do nothing returning size',
    [sha256, bytes.length],
  )
  if (added.length === 0) return
  for (let index = 0; index * blockSize < bytes.length; index++) {
    const plain = bytes.subarray(index * blockSize, (index + 1) * blockSize)
    const block = await packBlock(plain)
    await manager.query('insert into content_block (sha256, index, packed, bytes) values ($1, $2, $3, $4)', [
      sha256,
      index,
      block.packed,
      block.bytes,
    ])
  }
}

/** Byte frequencies of a sample: what is packed already has an entropy near eight bits (Shannon 1948). */
function worthPacking(bytes: Buffer): boolean {
  const counts = new Uint32Array(256)
  const step = Math.max(1, Math.floor(bytes.length / 8192))
  let total = 0
  for (let i = 0; i < bytes.length; i += step, total++) counts[bytes[i]!]!++
  let bits = 0
  for (const count of counts) if (count > 0) bits -= (count / total) * Math.log2(count / total)
  return bits < 7.3
}

/** The blocks of a content, in order, one at a time. */
export async function* readContent(manager: EntityManager, sha256: Buffer): AsyncGenerator<Buffer> {
  for (let index = 0; ; index++) {
    const [block] = await manager.query('select packed, bytes from content_block where sha256 = $1 and index = $2', [
      sha256,
      index,
    ])
    if (!block) return
    yield block.packed ? await inflated(block.bytes) : block.bytes
  }
}
