// Finds when words came into files and when they went, over all their versions: from the lines that each version has
// more and less than the one before it (server/changes). Among many files those are found that lost the words some time,
// by an index of the words of the lines that went.
import { setImmediate as otherWork } from 'node:timers/promises'
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { PastAnswer, PastChange, PastFile } from '../../core/contract'
import { linesKept } from '../../core/history/kept-lines'
import { PastReader, Phrase } from '../../core/history/past-words'
import { type EntryColumns, entryColumns, entryJoins, shownEntry } from '../files/entries'
import { trailTo } from '../files/folders'
import { requireRoleAt, requireRoleIn, seenBy } from '../rights/service'
import { select, selectOne } from '../sql/rows'

export interface PastSearch {
  q: string
  fileId?: string | undefined
  shareId?: string | undefined
  folderId?: string | undefined
}

/** Files that are listed, and those that are looked through for them at most. */
const mostFiles = 20
const mostTried = 200
/** No further file is begun after this; milliseconds. */
const longest = 2000
/** Versions that are read at a time. */
const atOnce = 250
/** Changes of one file that are listed, the newest; letters of a line that are told. */
const mostChanges = 60
const longestLine = 600

const nothing: PastAnswer = { files: [], more: false, waiting: 0 }

/**
 * Of one file whatever came and went; of a place the files that say the words less often than they did, whichever lost them
 * last first.
 * @throws Refusal not-found, not-allowed
 */
export async function searchPast(
  manager: EntityManager,
  personId: string,
  { q, fileId, shareId, folderId }: PastSearch,
): Promise<PastAnswer> {
  if (fileId) await requireRoleAt(manager, personId, fileId, 'view')
  else if (shareId) await requireRoleIn(manager, personId, { shareId, folderId: folderId ?? null }, 'view')
  const phrase = new Phrase(q)
  if (phrase.isEmpty) return nothing
  if (fileId) {
    const files = await pastOf(manager, personId, [fileId], phrase)
    return { files, more: false, waiting: await waitingIn(manager, fileId) }
  }
  const begun = Date.now()
  const candidates = await thoseThatLost(manager, personId, phrase, shareId ?? null, folderId ?? null)
  const files: PastFile[] = []
  let tried = 0
  for (; tried < candidates.length && files.length < mostFiles && Date.now() - begun < longest; tried++)
    for (const one of await pastOf(manager, personId, [candidates[tried]!], phrase))
      if (one.changes.some(({ before, after }) => after < before)) files.push(one)
  files.sort((a, b) => lossOf(b).localeCompare(lossOf(a)))
  return { files, more: tried < candidates.length || tried === mostTried, waiting: await waitingIn(manager, null) }
}

/** When a file lost the words last; ISO 8601. */
const lossOf = ({ changes }: PastFile): string => changes.find(({ before, after }) => after < before)!.version.at

async function waitingIn(manager: EntityManager, fileId: string | null): Promise<number> {
  const { waiting } = await selectOne(
    manager,
    z.object({ waiting: z.number() }),
    fileId
      ? 'select count(distinct v.id)::int as waiting from change_queue q join version v on v.id = q.version_id where v.file_id = $1'
      : 'select count(*)::int as waiting from change_queue where $1::uuid is null',
    [fileId],
  )
  return waiting
}

/** A word of a query of PostgreSQL's full text search. */
const quoted = (word: string, begins: boolean) => `'${word.replaceAll(/['\\]/g, '$&$&')}'${begins ? ':*' : ''}`

/** Files with a version that lines with all of the words went with, whichever was saved last first. */
async function thoseThatLost(
  manager: EntityManager,
  personId: string,
  phrase: Phrase,
  shareId: string | null,
  folderId: string | null,
): Promise<string[]> {
  const wanted = phrase.tokens.map(
    (token, index) => `(${token.map((word) => quoted(word, phrase.begins(index))).join(' | ')})`,
  )
  const rows = await select(
    manager,
    z.object({ id: z.string() }),
    `with recursive inside(id) as (
       select $4::uuid where $4::uuid is not null
       union all select e.id from inside i join entry e on e.folder_id = i.id and e.kind = 'folder' and e.removed_at is null)
     select e.id from version_change c join version v on v.id = c.version_id join entry e on e.id = v.file_id ${seenBy('$1')}
     where array_to_tsvector(c.gone_words) @@ $2::tsquery and e.removed_at is null and ($3::uuid is null or e.share_id = $3)
       and ($4::uuid is null or e.folder_id in (select id from inside))
     group by e.id order by max(v.at) desc, e.id limit ${mostTried}`,
    [personId, wanted.join(' & '), shareId, folderId],
  )
  return rows.map(({ id }) => id)
}

const Row = z.object({
  id: z.string(),
  number: z.number(),
  at: z.date(),
  author: z.string(),
  came: z.string().nullable(),
  went: z.string().nullable(),
  whole: z.boolean().nullable(),
  waits: z.boolean(),
})
interface Known {
  id: string
  number: number
  at: string
  author: string
}

async function pastOf(
  manager: EntityManager,
  personId: string,
  fileIds: readonly string[],
  phrase: Phrase,
): Promise<PastFile[]> {
  const entries = await select(
    manager,
    z.custom<EntryColumns & { share_name: string }>(),
    `select ${entryColumns}, s.name as share_name ${entryJoins} join share s on s.id = e.share_id ${seenBy('$2')}
     where e.id = any($1) and e.kind = 'file' and e.removed_at is null`,
    [fileIds, personId],
  )
  const found: PastFile[] = []
  for (const row of entries) {
    const reader = new PastReader<Known>(phrase)
    let first: Known | null = null
    let waiting = 0
    for (let after = 0; ; ) {
      const versions = await select(
        manager,
        Row,
        `select v.id, v.number, v.at, coalesce(nullif(t.author, ''), p.name) as author, c.came, c.went, c.whole,
           exists (select from change_queue q where q.version_id = v.id) as waits
         from version v join person p on p.id = v.author_id left join version_change c on c.version_id = v.id
           left join taken_from t on t.version_id = v.id
         where v.file_id = $1 and v.number > $2 order by v.number limit ${atOnce}`,
        [row.id, after],
      )
      for (const { came, went, whole, waits, ...one } of versions) {
        if (came === null && waits) waiting++
        const version = { ...one, at: one.at.toISOString() }
        first ??= version
        reader.add(
          version,
          linesKept({ came, went, whole: whole ?? false }, (text) => phrase.may(text)),
        )
      }
      if (versions.length < atOnce) break
      after = versions.at(-1)!.number
      // Whoever else asks something meanwhile does not wait for all of it.
      await otherWork()
    }
    if (!first) continue
    const { stretches, changes, now, unread } = reader.past
    const line = <L extends { text: string }>(one: L): L => ({ ...one, text: phrase.around(one.text, longestLine) })
    found.push({
      file: shownEntry(row),
      share: row.share_name,
      folders: (await trailTo(manager, row.folder_id)).map(({ name }) => name),
      first,
      stretches,
      changes: changes
        .slice(-mostChanges)
        .reverse()
        .map(
          (change): PastChange => ({
            ...change,
            lines: change.lines.map(({ line: one, instead }) => ({
              line: line(one),
              instead: instead && line(instead),
            })),
          }),
        ),
      now,
      // What waits will be.
      unread: unread - waiting,
    })
  }
  return found
}
