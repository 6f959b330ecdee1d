// Keeps the search index in step with the files. A trigger puts every file whose name, place or
// content changed into a queue, in the transaction of the change; one process at a time empties it.
// A file's old postings are taken out by what was put in, so the index never grows stale entries.

import pLimit from 'p-limit'
import type { DataSource, EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { z } from 'zod'
import type { FileWords } from '../../core/content/words'
import type { ShareNaming } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { hasWords } from '../../core/formats/words'
import { Auditor } from '../../core/naming/audit'
import { splitExtension } from '../../core/naming/check'
import { wordsOf } from '../../core/naming/search-words'
import { announce } from '../events/announce'
import { EntryRow } from '../files/entity'
import { typeRead } from '../files/reading'
import type { Work } from '../jobs/queue'
import { quiet } from '../jobs/quiet'
import { namingOf } from '../naming/service'
import { locks, tryLock } from '../sql/locks'
import { select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import type { Contents } from '../storage/content'
import { SearchQueueRow } from './entity'
import { type Indexed, putPostings } from './postings'

/** Where a word was found, as bits of a posting's fields. */
export const fieldBits = { name: 1, 'former name': 2, value: 4, person: 8, content: 16, facet: 32 } as const
/** The word that stands for a realm of rights in the index. */
export const realmWord = (no: number): string => `realm:${no}`
const mostContentWords = 4000
const largestRead = 40_000_000
const readAtOnce = 3

/** Reads the words of a file's bytes; in the running server, in a thread of its own. */
export type ReadWords = (bytes: Uint8Array, type: string) => Promise<FileWords>

const Queued = z.object({
  file_id: z.string(),
  share_id: z.string(),
  realm_no: z.number(),
  folder_id: z.string().nullable(),
  name: z.string(),
  type: z.string(),
  removed: z.boolean(),
  head_version_id: z.string(),
  sha256: z.instanceof(Buffer),
  size: z.string(),
  indexed_version: z.string().nullable(),
  content_words: z.array(z.string()).nullable(),
  title: z.string().nullable(),
  former: z.array(z.string()),
  people: z.array(z.string()),
})
type Queued = z.output<typeof Queued>

/**
 * Indexes up to `most` queued files. @returns how many were taken from the queue; -1 when another
 * process is at it
 */
export async function indexQueued(
  database: DataSource,
  contents: Contents,
  read: ReadWords,
  most = 200,
): Promise<number> {
  return inTransaction(database, async (manager) => {
    if (!(await tryLock(manager, locks.index))) return -1
    const taken = await select(
      manager,
      z.object({ file_id: z.string() }),
      // Taken out first: a plan that looked for them anew at each row would take minutes for a long queue.
      `with taken as materialized (select id from search_queue order by id limit $1 for update skip locked)
       delete from search_queue q using taken where q.id = taken.id returning q.file_id`,
      [most],
    )
    if (!taken.length) return 0
    const rows = await select(
      manager,
      Queued,
      `select e.id as file_id, e.share_id, r.no as realm_no, e.folder_id, e.name, ${typeRead('e', 'e')} as type, e.removed_at is not null as removed, e.head_version_id, v.sha256, v.size,
         f.version_id as indexed_version, f.content_words, f.title,
         array(select distinct n.name from former_name n where n.entry_id = e.id and n.name <> e.name) as former,
         array(select distinct p.name from version w join person p on p.id = w.author_id where w.file_id = e.id) as people
       from entry e join realm r on r.id = e.realm_id join version v on v.id = e.head_version_id left join search_file f on f.file_id = e.id
       where e.id = any($1)`,
      [[...new Set(taken.map(({ file_id }) => file_id))]],
    )
    const namings = new Map<string, Auditor>()
    for (const { share_id } of rows)
      if (!namings.has(share_id)) namings.set(share_id, await auditorOf(manager, share_id))
    // Several are read at once, each on a connection of its own: what they hold never changes. All are put in together.
    const limit = pLimit(readAtOnce)
    const indexed = await Promise.all(
      rows.map((row) => limit(() => wordsOfRow(database, row, namings.get(row.share_id)!, contents, read))),
    )
    await putPostings(manager, indexed)
    for (const shareId of namings.keys()) await announce(manager, { about: 'words', shareId })
    return taken.length
  })
}

async function auditorOf(manager: EntityManager, shareId: string): Promise<Auditor> {
  const naming: ShareNaming = await namingOf(manager, shareId)
  const folders = await manager.find(EntryRow, {
    select: { id: true, folderId: true, name: true },
    where: { shareId, kind: 'folder', removedAt: IsNull() },
  })
  return new Auditor(
    naming,
    folders.map(({ id, folderId, name }) => ({ id, parentId: folderId, name })),
  )
}

/** What the index is to hold of a file. */
async function wordsOfRow(
  { manager }: DataSource,
  row: Queued,
  auditor: Auditor,
  contents: Contents,
  read: ReadWords,
): Promise<Indexed> {
  let contentWords = row.content_words ?? []
  let title = row.title ?? ''
  if (!row.removed && row.indexed_version !== row.head_version_id) {
    contentWords = []
    title = ''
    if (Number(row.size) <= largestRead && hasWords(row.type)) {
      const words = await read(await contents.whole(manager, row.sha256), row.type)
      title = words.title.slice(0, 200)
      contentWords = [...new Set([...words.headings, ...words.sheets, words.text].flatMap(wordsOf))].slice(
        0,
        mostContentWords,
      )
    }
  }
  const fields = new Map<string, number>()
  const facets: string[] = []
  const add = (words: Iterable<string>, bit: number) => {
    for (const word of words) fields.set(word, (fields.get(word) ?? 0) | bit)
  }
  if (!row.removed) {
    add(wordsOf(row.name), fieldBits.name)
    for (const name of row.former) add(wordsOf(name), fieldBits['former name'])
    for (const name of row.people) {
      add(wordsOf(name), fieldBits.person)
      facets.push(`person:${name}`)
    }
    facets.push(`type:${fileType(row.type).kind}`)
    const governing = auditor.conventionAt(row.folder_id)
    if (governing) {
      const stem = splitExtension(row.name)[0]
      const version = governing.versions.find(({ ready }) => ready.parse(stem))
      const values = version?.ready.parse(stem) ?? {}
      for (const ready of version?.ready.parts ?? []) {
        const value = values[ready.part.id]
        if (value === undefined) continue
        if (ready.part.kind === 'date') facets.push(`year:${value.slice(0, 4)}`)
        if (ready.part.kind === 'list') {
          const label = ready.values.find(({ code }) => code === value)?.label
          facets.push(`${ready.part.label.toLowerCase()}:${value}`)
          if (label) add(wordsOf(label), fieldBits.value)
        }
      }
    }
    add(facets, fieldBits.facet)
    add([realmWord(row.realm_no)], fieldBits.facet)
    add(contentWords, fieldBits.content)
  }
  return {
    fileId: row.file_id,
    versionId: row.head_version_id,
    realmNo: row.realm_no,
    title,
    facets,
    contentWords,
    fields,
    removed: row.removed,
  }
}

/** Empties the queue of files. */
export const indexing = (database: DataSource, contents: Contents, read: ReadWords): Work => ({
  name: 'index',
  when: '* * * * *',
  async run(stopped) {
    while (!stopped()) {
      if (!(await database.manager.exists(SearchQueueRow))) return
      // People look for what they saved just now.
      await quiet(stopped, 2000)
      if ((await indexQueued(database, contents, read)) < 0) return
    }
  },
})
