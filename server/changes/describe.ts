// What each version changed beside the one before it, in words, for the lifeline and the list of versions. It is
// found out beside everything else, soon after a version was saved; nobody waits for it.

import type { DataSource, EntityManager } from 'typeorm'
import { z } from 'zod'
import type { KeptLines } from '../../core/history/kept-lines'
import { asKept, type Sentence, say } from '../../core/words/said'
import { typeRead } from '../files/reading'
import type { Work } from '../jobs/queue'
import { quiet } from '../jobs/quiet'
import { locks, tryLock } from '../sql/locks'
import { select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import type { Contents } from '../storage/content'
import { ChangeQueueRow, VersionChangeRow } from './entity'
import type { Comparing } from './threads'

/** Larger files are told by their facts alone; bytes. */
const largestRead = 40_000_000

const Undescribed = z.object({
  id: z.string(),
  type: z.string(),
  sha256: z.instanceof(Buffer),
  size: z.string(),
  before_id: z.string().nullable(),
  before_type: z.string().nullable(),
  before_sha256: z.instanceof(Buffer).nullable(),
})

const kilobytes = (size: number) => `${Math.round(size / 1e6).toLocaleString('en')} MB`

const nothingNew: KeptLines = { came: '[]', went: '[]', whole: false, goneWords: [] }

/** Describes one version that is not described yet, newest first. @returns false when there is none */
async function describeNext(manager: EntityManager, comparing: Comparing, contents: Contents): Promise<boolean> {
  if (!(await tryLock(manager, locks.describe))) return false
  const taken = await select(
    manager,
    z.object({ version_id: z.string() }),
    'delete from change_queue where id = (select id from change_queue order by id desc limit 1) returning version_id',
  )
  if (!taken.length) return false
  const [next] = await select(
    manager,
    Undescribed,
    `select v.id, ${typeRead('v', 'e')} as type, v.sha256, v.size, b.id as before_id, ${typeRead('b', 'e')} as before_type, b.sha256 as before_sha256
     from version v join entry e on e.id = v.file_id
     left join lateral (select id, type, sha256 from version where file_id = v.file_id and number < v.number order by number desc limit 1) b on true
     where v.id = $1`,
    [taken[0]!.version_id],
  )
  if (!next) return true
  const keep = (summary: Sentence, weight: number, lines: KeptLines | null = null) =>
    manager.upsert(
      VersionChangeRow,
      {
        versionId: next.id,
        beforeId: next.before_id,
        summary: asKept(summary),
        weight: Math.min(weight, 1_000_000_000),
        came: lines?.came ?? null,
        went: lines?.went ?? null,
        whole: lines?.whole ?? false,
        goneWords: lines?.goneWords ?? [],
      },
      ['versionId'],
    )
  if (next.before_sha256?.equals(next.sha256)) await keep(say('problem.not-a-byte-differs'), 0, nothingNew)
  else if (Number(next.size) > largestRead) await keep(`${kilobytes(Number(next.size))}.`, 10)
  else
    try {
      const read = (sha256: Buffer) => contents.whole(manager, sha256)
      const { summary, weight, lines } = await comparing.describe(
        next.before_sha256 ? { bytes: await read(next.before_sha256), type: next.before_type! } : null,
        { bytes: await read(next.sha256), type: next.type },
      )
      await keep(summary, weight, lines)
    } catch (error) {
      if (!(error instanceof RangeError)) throw error
      await keep(say('problem.what-changed-is-not-known'), 10)
    }
  return true
}

/** @param whenQuiet waited for between them. @returns how many versions were described */
export async function describeVersions(
  database: DataSource,
  comparing: Comparing,
  contents: Contents,
  stopped: () => boolean = () => false,
  whenQuiet: () => Promise<void> = async () => {},
): Promise<number> {
  let described = 0
  while (!stopped() && (await database.manager.exists(ChangeQueueRow))) {
    if (!(await inTransaction(database, (manager) => describeNext(manager, comparing, contents)))) break
    described++
    await whenQuiet()
  }
  return described
}

/** Describes what was saved, soon after it was. */
export const describing = (database: DataSource, comparing: Comparing, contents: Contents): Work => ({
  name: 'describe',
  when: '* * * * *',
  async run(stopped) {
    await quiet(stopped)
    await describeVersions(database, comparing, contents, stopped, () => quiet(stopped))
  },
})
