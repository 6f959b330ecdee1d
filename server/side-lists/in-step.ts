// Lists of values follow their spreadsheet: whenever it has a version that they were not looked at for, they are written
// anew, as versions of their own by whoever saved it. What cannot be written is told where the lists are listed.
import { createHash } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import { isCsv } from '../../core/formats/types'
import { type Sentence, say } from '../../core/words/said'
import type { Quotas } from '../counts/quotas'
import { announce } from '../events/announce'
import { typeRead } from '../files/reading'
import type { Work } from '../jobs/queue'
import { quiet } from '../jobs/quiet'
import { databaseIsAway, Refusal } from '../refusal'
import { keepVersion } from '../saving/keep'
import { select } from '../sql/rows'
import type { Contents } from '../storage/content'
import { SideListRow } from './entity'
import type { ReadSheets } from './read-sheets'

/** Larger files are not read for their lists; bytes. */
const largestRead = 100_000_000

const Behind = z.object({
  id: z.string(),
  sheet: z.string(),
  list_id: z.string(),
  list_type: z.string(),
  list_head: z.string(),
  list_sha256: z.instanceof(Buffer),
  list_removed: z.boolean(),
  share_id: z.string(),
  folder_id: z.string().nullable(),
  head: z.string(),
  number: z.number(),
  type: z.string(),
  sha256: z.instanceof(Buffer),
  size: z.string(),
  author_id: z.string(),
  reason: z.string(),
})
type Behind = z.output<typeof Behind>

export interface InStep {
  database: DataSource
  contents: Contents
  sheets: ReadSheets
  quotas: Quotas
  /** Is told of what is nobody's fault but ours: such a list waits for the next version, and holds up no other. */
  onFault(error: unknown): void
}

type Outcome = { as: string } | { fault: Sentence }

/** Why a list cannot be written, whatever its spreadsheet says. */
const hindrance = ({ list_removed, list_type, size }: Behind): Sentence | null =>
  list_removed
    ? say('problem.list-is-removed')
    : !isCsv(list_type)
      ? say('problem.list-is-none-any-more')
      : Number(size) > largestRead
        ? say('problem.list-takes-too-long')
        : null

/** @returns the list's version that says this one, why there is none, or null where it is to be tried again */
async function keep({ database, quotas }: InStep, list: Behind, bytes: Buffer): Promise<Outcome | null> {
  // What did not change makes no version.
  if (createHash('sha256').update(bytes).digest().equals(list.list_sha256)) return { as: list.list_head }
  try {
    const { version } = await keepVersion(database, quotas, {
      personId: list.author_id,
      bytes,
      // What saved itself thins out as that does.
      reason: list.reason === 'by itself' ? 'by itself' : 'in step',
      key: uuidv7(),
      target: { fileId: list.list_id, baseId: list.list_head },
    })
    return { as: version.id }
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    // Somebody saved it in the same moment: what they saved stays in its history.
    if (error.problem.type === 'newer-version') return null
    return { fault: error.problem.says ?? error.problem.title }
  }
}

/** The lists of one spreadsheet that are behind it. */
const nextBehind = (database: DataSource): Promise<Behind[]> =>
  select(
    database,
    Behind,
    `select s.id, s.sheet, s.list_id, ${typeRead('lv', 'l')} as list_type, l.head_version_id as list_head,
       lv.sha256 as list_sha256, l.removed_at is not null as list_removed, e.share_id, e.folder_id,
       v.id as head, v.number, ${typeRead('v', 'e')} as type, v.sha256, v.size, v.author_id, v.reason
     from (
       select b.source_id from side_list b join entry f on f.id = b.source_id
       where b.seen_version_id is distinct from f.head_version_id and f.removed_at is null limit 1
     ) next
     join side_list s on s.source_id = next.source_id
     join entry e on e.id = s.source_id join version v on v.id = e.head_version_id
     join entry l on l.id = s.list_id join version lv on lv.id = l.head_version_id
     where s.seen_version_id is distinct from e.head_version_id`,
  )

async function readFor({ database, contents, sheets, onFault }: InStep, { sha256, type }: Behind, lists: Behind[]) {
  try {
    return await sheets({
      bytes: await contents.whole(database.manager, sha256),
      type,
      ways: lists.map(({ sheet, list_type: as }) => ({ sheet, type: as })),
    })
  } catch (error) {
    // It is the same version when the database is back.
    if (databaseIsAway(error)) throw error
    onFault(error)
    return { fault: say('problem.list-not-read') }
  }
}

/** Brings lists to the newest versions of their spreadsheets. @returns how many were looked at */
export async function bringInStep(parts: InStep, stopped: () => boolean = () => false): Promise<number> {
  const { database } = parts
  let looked = 0
  for (;;) {
    const behind = stopped() ? [] : await nextBehind(database)
    const [first] = behind
    if (!first) return looked
    const written = behind.filter((list) => !hindrance(list))
    const read = written.length ? await readFor(parts, first, written) : { lists: [] }
    for (const list of behind) {
      const one = 'lists' in read ? read.lists[written.indexOf(list)] : undefined
      const hindered = hindrance(list) ?? ('fault' in read ? read.fault : null)
      const outcome = hindered
        ? { fault: hindered }
        : one
          ? await keep(parts, list, Buffer.from(one.bytes))
          : { fault: say('problem.no-such-sheet-any-more', { sheet: list.sheet }) }
      looked++
      if (!outcome) continue
      const found =
        'as' in outcome ? { fault: null, writtenAs: outcome.as, writtenNumber: list.number } : { fault: outcome.fault }
      await database.transaction(async (manager) => {
        await manager.update(SideListRow, { id: list.id }, { seenVersionId: list.head, ...found })
        await announce(manager, { about: 'place', shareId: list.share_id, folderId: list.folder_id })
      })
    }
    await quiet(stopped)
  }
}

export const keepingInStep = (parts: InStep): Work => ({
  name: 'side-lists',
  when: '* * * * *',
  run: (stopped) => bringInStep(parts, stopped).catch(parts.onFault),
})
