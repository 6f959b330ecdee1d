// What is known of copies: which version of each file is in which, and whether it was found well.
import { type DataSource, type EntityManager, In, IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { FileCopy } from '../../core/contract'
import { asKept, fromKept, type Sentence } from '../../core/words/said'
import { announce } from '../events/announce'
import { select, selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import type { Checked } from './check'
import type { Copied, Held } from './copy'
import { CopiedFileRow, CopyFindingRow, CopySiteRow, ShareCopyRow } from './entity'

/** What has to be sent before its speed says something; bytes. */
const tellingSize = 4 << 20

/** Rows that are written at once. */
function* inParts<T>(all: readonly T[], size = 2000): Generator<T[]> {
  for (let from = 0; from < all.length; from += size) yield all.slice(from, from + size)
}

/** Notes what a copying left at a site: all of it was written, flushed and read back. */
export async function noteCopied(database: DataSource, siteId: string, copied: Copied): Promise<void> {
  const { shareId, at, versions, bytes, latest, unread, sent, took } = copied
  await inTransaction(database, async (manager) => {
    const { id } = await selectOne(
      manager,
      z.object({ id: z.string() }),
      `insert into share_copy (id, share_id, site_id, copied_at, versions, bytes, unread) values ($1, $2, $3, $4, $5, $6, $7)
       on conflict (share_id, site_id) do update set copied_at = excluded.copied_at, versions = excluded.versions,
         bytes = excluded.bytes, unread = excluded.unread, copy_wanted = false
       returning id`,
      [uuidv7(), shareId, siteId, at, versions - unread.length, bytes, unread.length],
    )
    // Little says nothing of how fast a place is.
    if (sent > tellingSize && took > 0)
      await manager.update(CopySiteRow, { id: siteId }, { rate: (sent / took) * 1000 })
    const before = new Map((await manager.findBy(CopiedFileRow, { copyId: id })).map((row) => [row.fileId, row]))
    const isAsBefore = (fileId: string, { number, extent, backDays }: Held) => {
      const was = before.get(fileId)
      return was?.number === number && was.extent === extent && was.backDays === backDays
    }
    const gone = [...before.keys()].filter((fileId) => !latest.has(fileId))
    for (const some of inParts(gone)) await manager.delete(CopiedFileRow, { copyId: id, fileId: In(some) })
    const now = [...latest].filter(([fileId, held]) => !isAsBefore(fileId, held))
    for (const some of inParts(now))
      await manager.upsert(
        CopiedFileRow,
        some.map(([fileId, held]) => ({ copyId: id, fileId, ...held })),
        ['copyId', 'fileId'],
      )
    await announce(manager, { about: 'copies', shareId })
  })
}

/** Notes what a check found, of a copy that is known. */
export async function noteChecked(
  database: DataSource,
  { shareId, siteId, at }: { shareId: string; siteId: string; at: Date },
  { findings, tags }: Checked,
): Promise<void> {
  const wrong = [
    ...findings.flatMap(({ path, is, repaired }) => (is === 'not listed' ? [] : [{ path, is, repaired }])),
    ...tags.map((path) => ({ path, is: 'says wrong' as const, repaired: false })),
  ]
  await inTransaction(database, async (manager) => {
    const copy = await manager.findOneBy(ShareCopyRow, { shareId, siteId })
    if (!copy) return
    const faults = wrong.filter(({ repaired }) => !repaired).length
    await manager.update(ShareCopyRow, { id: copy.id }, { checkedAt: at, faults, checkWanted: false })
    // What is found again each time is told of once.
    const told = await manager.findBy(CopyFindingRow, { copyId: copy.id, seenAt: IsNull(), repaired: false })
    const known = new Set(told.map(({ path, is }) => `${is} ${path}`))
    const rows = wrong
      .filter(({ path, is, repaired }) => repaired || !known.has(`${is} ${path}`))
      .map((one) => ({ id: uuidv7(), copyId: copy.id, at, ...one }))
    for (const some of inParts(rows)) await manager.insert(CopyFindingRow, some)
    await announce(manager, { about: 'copies', shareId })
  })
}

/**
 * Notes that a copy could not be made or read, since when and why.
 * @returns whether that is new
 */
export async function noteFailure(
  database: DataSource,
  { shareId, siteId, at }: { shareId: string; siteId: string; at: Date },
  why: Sentence,
): Promise<boolean> {
  const changed = await select(
    database,
    z.object({ id: z.string() }),
    `insert into share_copy (id, share_id, site_id, failed_since, failure) values ($1, $2, $3, $4, $5)
     on conflict (share_id, site_id) do update set failed_since = coalesce(share_copy.failed_since, excluded.failed_since), failure = excluded.failure
     where share_copy.failure is distinct from excluded.failure returning id`,
    [uuidv7(), shareId, siteId, at, asKept(why)],
  )
  if (changed.length) await announce(database.manager, { about: 'copies', shareId })
  return changed.length > 0
}

/** Notes that a copy is not there any more: no version is in it. */
export async function noteGone(
  database: DataSource,
  { shareId, siteId }: { shareId: string; siteId: string },
): Promise<void> {
  await inTransaction(database, async (manager) => {
    const copy = await manager.findOneBy(ShareCopyRow, { shareId, siteId })
    if (!copy) return
    await manager.delete(CopiedFileRow, { copyId: copy.id })
    await manager.update(ShareCopyRow, { id: copy.id }, { copiedAt: null, checkedAt: null, versions: 0, bytes: '0' })
  })
}

/** Notes that everything that was due worked to its end. */
export async function noteWell(
  database: DataSource,
  { shareId, siteId }: { shareId: string; siteId: string },
): Promise<void> {
  await database.manager.update(ShareCopyRow, { shareId, siteId }, { failedSince: null, failure: null })
  await announce(database.manager, { about: 'copies', shareId })
}

const Row = z.object({
  place: z.string(),
  number: z.number().nullable(),
  copied_at: z.date().nullable(),
  checked_at: z.date().nullable(),
  faults: z.number().nullable(),
  failed_since: z.date().nullable(),
  failure: z.string().nullable(),
})

/** The copies of the share that a file is in, the newest version of it in each. */
export async function copiesOfFile(manager: EntityManager, fileId: string): Promise<FileCopy[]> {
  const rows = await select(
    manager,
    Row,
    `select t.name as place, f.number, c.copied_at, c.checked_at, c.faults, c.failed_since, c.failure
     from entry e join share_copy c on c.share_id = e.share_id join copy_site t on t.id = c.site_id left join copied_file f on f.copy_id = c.id and f.file_id = e.id
     where e.id = $1 order by f.number desc nulls last, c.copied_at desc nulls last`,
    [fileId],
  )
  return rows.map(({ place, number, copied_at, checked_at, faults, failed_since, failure }) => ({
    place,
    number,
    copiedAt: copied_at?.toISOString() ?? null,
    checkedAt: checked_at?.toISOString() ?? null,
    faults: faults ?? 0,
    failed: failed_since && failure !== null ? { since: failed_since.toISOString(), why: fromKept(failure) } : null,
  }))
}
