// Puts back what is stored of a content where it is not what was saved any more, from bytes that somebody else kept: the
// content as it came, and the chunks of it that are damaged, so that whatever else shares them is well again, too.
import { createHash } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { locks } from '../sql/locks'
import { execute, selectOne } from '../sql/rows'
import { chunkRows, forgetRows, idsOf, stored } from './chunk-rows'
import { type StoredChunk, unpacked } from './jobs'
import type { Workshop } from './threads'

const Mended = z.object({ mended: z.boolean() })
const pieceSize = 1 << 20
/** A value of the database can have a gigabyte; it is there twice for a moment. */
const most = 400 << 20

const digestOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest()

/** Whether a chunk still unpacks to what it was. */
function isSound(rows: Awaited<ReturnType<typeof chunkRows>>, id: number, digest: Buffer): boolean {
  try {
    const chunk: StoredChunk = stored(rows, id)
    return digestOf(unpacked(chunk)).equals(digest)
  } catch {
    return false
  }
}

/** @param plainly as the content is opened: both ways of it have chunks of their own */
async function mendChunks(workshop: Workshop, manager: EntityManager, bytes: Buffer, plainly: boolean): Promise<void> {
  // It is given away, and wanted again.
  const job = await workshop.store(Uint8Array.from(bytes), plainly)
  try {
    for (;;) {
      const batch = await job.next()
      const digests = batch.sizes.map((_, index) => Buffer.from(batch.digests.subarray(index * 32, index * 32 + 32)))
      const ids = await idsOf(manager, digests)
      const there = ids.filter((id) => id !== null)
      const rows = await chunkRows(manager, there)
      const bad = ids.flatMap((id, index) => (id !== null && !isSound(rows, id, digests[index]!) ? [index] : []))
      if (bad.length) {
        for (const plain of await job.plain(bad))
          await selectOne(manager, Mended, 'select mend_chunk($1) as mended', [Buffer.from(plain)])
        forgetRows(
          manager,
          bad.map((index) => ids[index]!),
        )
      }
      if (batch.done) return
    }
  } finally {
    job.end()
  }
}

/**
 * In the caller's transaction.
 * @param bytes what it was
 * @returns false when they are other bytes, there is no such content, or it is too large for this
 */
export async function mendContent(
  workshop: Workshop,
  manager: EntityManager,
  sha256: Buffer,
  bytes: Buffer,
): Promise<boolean> {
  if (bytes.length > most || !digestOf(bytes).equals(sha256)) return false
  await execute(manager, 'select pg_advisory_xact_lock_shared($1)', [locks.store])
  const pieces: Buffer[] = []
  for (let at = 0; at < bytes.length; at += pieceSize) pieces.push(bytes.subarray(at, at + pieceSize))
  const { mended } = await selectOne(manager, Mended, 'select mend_content($1::bytea[]) as mended', [pieces])
  if (!mended) return false
  for (const plainly of [false, true]) await mendChunks(workshop, manager, bytes, plainly)
  return true
}
