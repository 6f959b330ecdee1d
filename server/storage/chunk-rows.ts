// Rows of chunks in the database: found, read with all that they are kept by, offered and inserted.

import { LRUCache } from 'lru-cache'
import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Standing } from '../../core/history/align'
import { linksFor } from '../../core/history/chain'
import { binaryRows, intArray } from '../binary'
import { execute, select } from '../sql/rows'
import type { StoredChunk } from './jobs'

export async function idsOf(manager: EntityManager, digests: readonly Buffer[]): Promise<(number | null)[]> {
  const rows = await select(
    manager,
    z.object({ id: z.number(), digest: z.instanceof(Buffer) }),
    'select id, digest from chunk where digest = any($1::bytea[])',
    [digests],
  )
  const found = new Map(rows.map(({ id, digest }) => [digest.toString('hex'), id]))
  return digests.map((digest) => found.get(digest.toString('hex')) ?? null)
}

/** Chunks with their sizes, in this order. */
export async function standing(manager: EntityManager, ids: readonly number[]): Promise<Standing[]> {
  if (!ids.length) return []
  const rows = await select(
    manager,
    z.object({ id: z.number(), size: z.number() }),
    'select id, size from chunk where id = any($1)',
    [ids],
  )
  const sizes = new Map(rows.map(({ id, size }) => [id, size]))
  return ids.map((id) => ({ id, size: sizes.get(id) ?? 0 }))
}

/** Rows of chunks with all that they are kept by, as they are stored. */
export async function chunkRows(manager: EntityManager, ids: readonly number[]): Promise<Map<number, ChunkRow>> {
  if (!ids.length) return new Map()
  const rows = await binaryRows(
    manager,
    `with recursive needed(id) as (
       select unnest('{${ids.map(Number).join()}}'::int[]) union select unnest(c.roots) from needed join chunk c on c.id = needed.id)
     select c.id, c.bytes, c.roots, c.digest, c.revision from needed join chunk c on c.id = needed.id`,
  )
  return new Map(
    rows.map(([id, bytes, roots, digest, revision]) => [
      id!.readInt32BE(),
      {
        id: id!.readInt32BE(),
        revision: revision!.readInt32BE(),
        roots: intArray(roots ?? null),
        bytes: bytes!,
        digest: digest!.toString('latin1'),
      },
    ]),
  )
}
interface ChunkRow {
  id: number
  revision: number
  roots: number[] | null
  bytes: Buffer
  digest: string
}

/** Chunks never change, and versions of a file share most of theirs: what was read lately is not asked for again. */
const readLately = new WeakMap<DataSource, LRUCache<number, ChunkRow>>()
const mostReadLately = 24 << 20

export async function knownRows(manager: EntityManager, ids: readonly number[]): Promise<Map<number, ChunkRow>> {
  let lately = readLately.get(manager.connection)
  if (!lately)
    readLately.set(
      manager.connection,
      (lately = new LRUCache({ maxSize: mostReadLately, sizeCalculation: ({ bytes }) => bytes.length + 200 })),
    )
  const rows = new Map<number, ChunkRow>()
  const wanted = new Set<number>()
  const find = (id: number) => {
    if (rows.has(id)) return
    const row = lately.get(id)
    if (!row) return void wanted.add(id)
    rows.set(id, row)
    for (const root of row.roots ?? []) find(root)
  }
  for (const id of ids) find(id)
  for (const [id, row] of await chunkRows(manager, [...wanted])) {
    rows.set(id, row)
    // A window on all that was read would keep all of it.
    lately.set(id, { ...row, bytes: Buffer.from(row.bytes) })
  }
  return rows
}
/** What was read of these is not what is stored any more. */
export function forgetRows(manager: EntityManager, ids: readonly number[]): void {
  for (const id of ids) readLately.get(manager.connection)?.delete(id)
}
/** @throws RangeError when one is missing */
export function stored(rows: ReadonlyMap<number, ChunkRow>, id: number): StoredChunk {
  const row = rows.get(id)
  if (!row) throw new RangeError(`Chunk ${id} is missing.`)
  return { digest: row.digest, bytes: row.bytes, roots: (row.roots ?? []).map((root) => stored(rows, root)) }
}

/** A chunk that a new one may be kept by, which is of this revision then. */
interface Offer {
  id: number
  revision: number
  chunk: StoredChunk
}

/** For each new chunk, the chunks near it that it may be kept by. */
export async function offersNear(
  manager: EntityManager,
  near: ReadonlyMap<number, number[]>,
): Promise<Map<number, Offer[]>> {
  const ids = [...new Set([...near.values()].flat())]
  if (ids.length === 0) return new Map()
  const rows = await chunkRows(manager, ids)
  const link = (id: number) => ({ revision: rows.get(id)?.revision ?? 0, roots: rows.get(id)?.roots ?? [] })
  return new Map(
    [...near].map(([index, candidates]) => {
      const offers = new Map<number, Offer>()
      for (const candidate of candidates)
        for (const id of linksFor(candidate, link)) {
          if (!rows.has(id)) continue
          const revision = Math.max(link(candidate).revision + 1, offers.get(id)?.revision ?? 0)
          offers.set(id, { id, revision, chunk: stored(rows, id) })
        }
      return [index, [...offers.values()]]
    }),
  )
}

interface NewChunk {
  digest: Buffer
  size: number
  revision: number
  roots: number[]
  bytes: Uint8Array
}

/** Inserts chunks, always in the order of their digests, so that two savers never wait for each other both ways. */
export async function insertChunks(manager: EntityManager, chunks: NewChunk[]): Promise<void> {
  const sorted = chunks.toSorted((a, b) => Buffer.compare(a.digest, b.digest))
  for (let at = 0; at < sorted.length; at += 500) {
    const some = sorted.slice(at, at + 500)
    const values = some.map((_, index) => `(${[1, 2, 3, 4, 5].map((column) => `$${index * 5 + column}`).join()})`)
    await execute(
      manager,
      `insert into chunk (digest, size, revision, roots, bytes) values ${values.join()} on conflict (digest) do nothing`,
      some.flatMap(({ digest, size, revision, roots, bytes }) => [
        digest,
        size,
        revision,
        roots.length ? roots : null,
        Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength),
      ]),
    )
  }
}
