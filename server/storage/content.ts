// Content by its SHA-256. It is stored as it came, in blocks of a megabyte, in the transaction of the version
// that needs it, so that a save waits for nothing else. Soon afterwards it is moved into chunks that versions
// and files share (core/history); the blocks go when the chunks have been proved to give the same bytes.

import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { deflateRaw, inflateRaw } from 'node:zlib'
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { Counterparts } from '../../core/history/align'
import { binaryRows, byteaLiteral } from '../binary'
import type { Received } from '../requests/upload'
import { locks } from '../sql/locks'
import { execute, select, selectOne } from '../sql/rows'
import { ContentBlockRow, ContentRow } from '../versions/entity'
import { chunkRows, idsOf, insertChunks, knownRows, offersNear, standing, stored } from './chunk-rows'
import { mendContent } from './mend'
import { type Storing, type Workshop, workHere } from './threads'
import { letGoOf } from './tidy'

const deflated = promisify(deflateRaw)
const inflated = promisify(inflateRaw)

/** Contents as they are read, and moved into the history store. */
export interface Contents {
  /** A content's bytes, in order, some at a time. @throws RangeError when something of it is damaged or missing */
  read(manager: EntityManager, sha256: Buffer): AsyncGenerator<Uint8Array>
  /**
   * Reads small contents ahead, with few questions to the database: what is asked for one is nearly as much as for many.
   * @returns reads one of them, as `read` does; larger ones are read when they are wanted
   */
  ahead(manager: EntityManager, sha256s: readonly Buffer[]): Promise<(sha256: Buffer) => AsyncGenerator<Uint8Array>>
  /** A content as a whole, in memory of its own. */
  whole(manager: EntityManager, sha256: Buffer): Promise<Buffer>
  /**
   * Moves a content from blocks into chunks, in the caller's transaction.
   * @returns false when its blocks are not what they should be; it stays as it is then
   */
  move(manager: EntityManager, sha256: Buffer): Promise<boolean>
  /**
   * As read, and what comes is what was saved.
   * @param fresh from where it is stored, whatever was read lately
   * @throws RangeError at the end of what is not
   */
  sound(manager: EntityManager, sha256: Buffer, fresh?: boolean): AsyncGenerator<Uint8Array>
  /** Puts a content back that is damaged here, in the caller's transaction. @returns false when these are other bytes */
  mend(manager: EntityManager, sha256: Buffer, bytes: Buffer): Promise<boolean>
}

/** @param workshop where the heavy part of it is done */
export const openContents = (workshop: Workshop = workHere): Contents => ({
  read: (manager, sha256) => readContent(workshop, manager, sha256),
  ahead: (manager, sha256s) => readAhead(workshop, manager, sha256s),
  whole: (manager, sha256) => wholeContent(workshop, manager, sha256),
  move: (manager, sha256) => moveContent(workshop, manager, sha256),
  sound: (manager, sha256, fresh = false) => soundContent(workshop, manager, sha256, fresh),
  mend: (manager, sha256, bytes) => mendContent(workshop, manager, sha256, bytes),
})

const blockSize = 1 << 20
/** Files of more chunks are worth looking for garbage while they pass. */
const manyChunks = 256

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
 * Stores what was received under its SHA-256, in the caller's transaction; does nothing when it is there.
 */
export async function storeContent(manager: EntityManager, received: Received): Promise<void> {
  const { digest, size } = received
  await execute(manager, 'select pg_advisory_xact_lock_shared($1)', [locks.store])
  const added = await select(
    manager,
    z.object({ size: z.string() }),
    'insert into content (sha256, size) values ($1, $2) on conflict do nothing returning size',
    [digest, size],
  )
  if (added.length === 0) return
  let index = 0
  for await (const plain of received.pieces(blockSize)) {
    const block = await packBlock(plain)
    await manager.insert(ContentBlockRow, { sha256: digest, index: index++, packed: block.packed, bytes: block.bytes })
    if (size > 8 * blockSize) letGoOf(2 * plain.length)
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

// -- Chunks -----------------------------------------------------------------------------------

/** A file on its way into the store. */
interface Opened {
  job: Storing
  first: Awaited<ReturnType<Storing['next']>>
}

/** @param bytes given away: they may be in another thread afterwards, and not here */
async function openContent(workshop: Workshop, bytes: Buffer, plainly = false): Promise<Opened> {
  const job = await workshop.store(bytes, plainly)
  return { job, first: await job.next() }
}

/** A file that its opened form does not give again is kept as it came. */
async function storePlainly(workshop: Workshop, manager: EntityManager, sha256: Buffer): Promise<number[]> {
  const opened = await openContent(workshop, await wholeContent(workshop, manager, sha256), true)
  try {
    const ids = await storeChunks(manager, opened, [])
    if (!(await digestOf(readChunks(workshop, manager, ids, true))).equals(sha256))
      throw new Error('What was stored does not read back as it came.')
    return ids
  } finally {
    opened.job.end()
  }
}

async function digestOf(pieces: AsyncIterable<Uint8Array>): Promise<Buffer> {
  const hash = createHash('sha256')
  for await (const piece of pieces) hash.update(piece)
  return hash.digest()
}

/** Stores the chunks that are not there. @param like the chunks of a content that it resembles */
async function storeChunks(manager: EntityManager, { job, first }: Opened, like: readonly number[]): Promise<number[]> {
  const body: number[] = []
  const counterparts = new Counterparts(await standing(manager, like.slice(1)))
  for (let batch = first; ; batch = await job.next()) {
    const digests = batch.sizes.map((_, index) => Buffer.from(batch.digests.subarray(index * 32, index * 32 + 32)))
    const ids = await idsOf(manager, digests)
    // The same new chunk may stand twice in a file.
    const fresh = new Map<string, number>()
    for (const [index, id] of ids.entries())
      if (id === null && !fresh.has(digests[index]!.toString('hex'))) fresh.set(digests[index]!.toString('hex'), index)
    const now = ids.map((id, index) => ({ id, size: batch.sizes[index]! }))
    const near = counterparts.next(batch.done ? now.slice(0, -1) : now, batch.done)
    if (fresh.size > 0) {
      if (batch.done && like.length && ids.at(-1) === null) near.set(ids.length - 1, [like[0]!])
      const offered = await offersNear(manager, near)
      const wanted = [...fresh.values()].map((index) => ({ index, offers: offered.get(index) ?? [] }))
      const packed = await job.pack(
        wanted.map(({ index, offers }) => ({ index, offered: offers.map(({ chunk }) => chunk) })),
      )
      await insertChunks(
        manager,
        wanted.map(({ index, offers }, at) => ({
          digest: digests[index]!,
          size: batch.sizes[index]!,
          revision: Math.max(0, ...packed[at]!.roots.map((root) => offers[root]!.revision)),
          roots: packed[at]!.roots.map((root) => offers[root]!.id),
          bytes: packed[at]!.bytes,
        })),
      )
      const missing = ids.flatMap((id, index) => (id === null ? [index] : []))
      const stored = await idsOf(
        manager,
        missing.map((index) => digests[index]!),
      )
      for (const [at, index] of missing.entries()) ids[index] = stored[at]!
    }
    body.push(...(ids as number[]))
    if (body.length > manyChunks) letGoOf(3 * batch.sizes.reduce((sum, size) => sum + size, 0))
    if (batch.done) return [body.at(-1)!, ...body.slice(0, -1)]
  }
}

/** Chunks that are read at once: a megabyte of a file or two. */
const readAtOnce = 24

/** @param fresh from where they are stored, whatever was read lately */
async function* readChunks(
  workshop: Workshop,
  manager: EntityManager,
  ids: readonly number[],
  fresh = false,
): AsyncGenerator<Uint8Array> {
  let making: Awaited<ReturnType<Workshop['make']>> | null = null
  // A large file would push everything else out.
  const lately = !fresh && ids.length <= manyChunks
  const batch = (at: number) => {
    const rows = (lately ? knownRows : chunkRows)(manager, ids.slice(at, at + readAtOnce))
    // Whoever waits for it hears of a failure; nobody may wait any more.
    rows.catch(() => {})
    return rows
  }
  try {
    let coming = batch(0)
    for (let at = 0; at < ids.length; at += readAtOnce) {
      const rows = await coming
      // While one batch is made into bytes the next one comes from the database.
      if (at + readAtOnce < ids.length) coming = batch(at + readAtOnce)
      const chunks = ids.slice(at, at + readAtOnce).map((id) => stored(rows, id))
      if (!making) making = await workshop.make(chunks.shift()!, lately)
      const piece = await making.feed(chunks, at + readAtOnce >= ids.length)
      if (piece.length) yield piece
      if (ids.length > manyChunks) letGoOf(3 * piece.length)
    }
  } finally {
    making?.end()
  }
}

/** Whether an error tells that something stored is missing, or is not what it was (zlib's codes begin so). */
export const isDamage = (error: unknown): boolean =>
  error instanceof RangeError || String((error as { code?: string }).code).startsWith('Z_')

async function* readContent(
  workshop: Workshop,
  manager: EntityManager,
  sha256: Buffer,
  fresh = false,
): AsyncGenerator<Uint8Array> {
  const find = async () => {
    const content = await manager.findOneBy(ContentRow, { sha256 })
    if (!content) throw new RangeError('This content is missing.')
    return content
  }
  let { size, chunks } = await find()
  let done = 0
  if (!chunks) {
    for await (const block of readBlocks(manager, sha256)) {
      done += block.length
      yield block
    }
    if (done >= Number(size)) return // It was moved into chunks meanwhile, or a block is missing.
    ;({ chunks } = await find())
    if (!chunks) throw new RangeError('A block of this content is missing.')
  }
  let before = done
  for await (const piece of readChunks(workshop, manager, chunks, fresh)) {
    const skipped = Math.min(before, piece.length)
    before -= skipped
    if (skipped < piece.length) yield piece.subarray(skipped)
  }
}

/** Bytes that are read ahead at once, and of one content. */
const mostAhead = 8 << 20
const largestAhead = 256 << 10

async function readAhead(
  workshop: Workshop,
  manager: EntityManager,
  sha256s: readonly Buffer[],
): Promise<(sha256: Buffer) => AsyncGenerator<Uint8Array>> {
  const found = await select(
    manager,
    z.object({ key: z.string(), size: z.string(), chunks: z.array(z.number()) }),
    `select encode(sha256, 'hex') as key, size, chunks from content
     where sha256 = any($1::bytea[]) and chunks is not null and size <= ${largestAhead}`,
    [sha256s],
  )
  const chunksOf = new Map<string, number[]>()
  let bytes = 0
  for (const { key, size, chunks } of found)
    if (chunks.length > 0 && chunks.length <= readAtOnce && (bytes += Number(size)) <= mostAhead)
      chunksOf.set(key, chunks)
  const rows = await chunkRows(manager, [...new Set([...chunksOf.values()].flat())])
  return async function* (sha256) {
    const ids = chunksOf.get(sha256.toString('hex'))
    if (!ids) return yield* readContent(workshop, manager, sha256)
    const [frame, ...body] = ids.map((id) => stored(rows, id))
    const making = await workshop.make(frame!, false)
    try {
      const piece = await making.feed(body, true)
      if (piece.length) yield piece
    } finally {
      making.end()
    }
  }
}

async function* soundContent(
  workshop: Workshop,
  manager: EntityManager,
  sha256: Buffer,
  fresh: boolean,
): AsyncGenerator<Uint8Array> {
  const hash = createHash('sha256')
  try {
    for await (const piece of readContent(workshop, manager, sha256, fresh)) {
      hash.update(piece)
      yield piece
    }
  } catch (error) {
    throw isDamage(error) ? new RangeError(String((error as Error).message)) : error
  }
  if (!hash.digest().equals(sha256)) throw new RangeError('What is stored is not what was saved.')
}

async function* readBlocks(manager: EntityManager, sha256: Buffer): AsyncGenerator<Uint8Array> {
  for (let index = 0; ; index++) {
    const [block] = await binaryRows(
      manager,
      `select packed, bytes from content_block where sha256 = ${byteaLiteral(sha256)} and index = ${index}`,
    )
    if (!block) return
    const [packed, bytes] = block as [Buffer, Buffer]
    yield packed[0] ? await inflated(bytes) : bytes
    if (index > 8) letGoOf(3 * bytes.length)
  }
}

async function wholeContent(workshop: Workshop, manager: EntityManager, sha256: Buffer): Promise<Buffer> {
  const content = await manager.findOneBy(ContentRow, { sha256 })
  const whole = Buffer.allocUnsafeSlow(Number(content?.size ?? 0))
  let at = 0
  for await (const piece of readContent(workshop, manager, sha256)) {
    whole.set(piece, at)
    at += piece.length
  }
  return at === whole.length ? whole : whole.subarray(0, at)
}

async function moveContent(workshop: Workshop, manager: EntityManager, sha256: Buffer): Promise<boolean> {
  const bytes = await wholeContent(workshop, manager, sha256).catch((error) => {
    if (isDamage(error)) return null
    throw error
  })
  if (!bytes || !createHash('sha256').update(bytes).digest().equals(sha256)) return false
  const { like } = await selectOne(
    manager,
    z.object({ like: z.array(z.number()).nullable() }),
    // The version before or after it in its file is what it resembles most.
    `select (select c.chunks from version v join version n on n.file_id = v.file_id and abs(n.number - v.number) = 1
       join content c on c.sha256 = n.sha256 where v.sha256 = $1 and c.chunks is not null limit 1) as like,
       pg_advisory_xact_lock_shared($2)`,
    [sha256, locks.store],
  )
  const opened = await openContent(workshop, bytes)
  try {
    let ids = await storeChunks(manager, opened, like ?? [])
    // Read back from where they are stored, as any later reader will.
    if (!(await digestOf(readChunks(workshop, manager, ids, true))).equals(sha256))
      ids = await storePlainly(workshop, manager, sha256)
    await execute(manager, 'update content set chunks = $2 where sha256 = $1 and chunks is null', [sha256, ids])
    await execute(manager, 'select drop_blocks($1)', [sha256])
    return true
  } finally {
    opened.job.end()
  }
}
