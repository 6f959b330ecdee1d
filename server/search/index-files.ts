// Keeps the search index in step with the files. A trigger puts every file whose name, place or
// content changed into a queue, in the transaction of the change; one process at a time empties it.
// A file's old postings are taken out by what was put in, so the index never grows stale entries.

import type { DataSource, EntityManager } from 'typeorm'
import { In, IsNull } from 'typeorm'
import { z } from 'zod'
import type { FileWords } from '../../core/content/words'
import type { ShareNaming } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { hasWords } from '../../core/formats/words'
import { Auditor } from '../../core/naming/audit'
import { splitExtension } from '../../core/naming/check'
import { slipForms, tailsOf, wordsOf } from '../../core/naming/search-words'
import { announce } from '../events/announce'
import { EntryRow } from '../files/entity'
import type { Work } from '../jobs/queue'
import { quiet } from '../jobs/quiet'
import { namingOf } from '../naming/service'
import { locks, tryLock } from '../sql/locks'
import { execute, select, selectOne } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import type { Contents } from '../storage/content'
import { SearchBlockRow, SearchFileRow, SearchPostingRow, SearchQueueRow, SearchWordRow } from './entity'

/** Where a word was found, as bits of a posting's fields. */
export const fieldBits = { name: 1, 'former name': 2, value: 4, person: 8, content: 16, facet: 32 } as const
/** Files of a block, and how many of a word's files in it are kept as single rows. */
export const blockSize = 8192
export const sparsest = 128
export const blockOf = (no: number): number => Math.floor(no / blockSize)
export const bitOf = (no: number): number => no % blockSize

/** A block's bitmap, in the order of PostgreSQL's get_bit: from the lowest bit of each byte. */
export function bitmapOf(nos: Iterable<number>): Buffer {
  const bitmap = Buffer.alloc(blockSize / 8)
  for (const no of nos) bitmap[bitOf(no) >> 3]! |= 1 << (bitOf(no) & 7)
  return bitmap
}

/** The word that stands for a realm of rights in the index. */
export const realmWord = (no: number): string => `realm:${no}`
const mostContentWords = 4000
const largestRead = 40_000_000

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
      `select e.id as file_id, e.share_id, r.no as realm_no, e.folder_id, e.name, e.type, e.removed_at is not null as removed, e.head_version_id, v.sha256, v.size,
         f.version_id as indexed_version, f.content_words, f.title,
         array(select distinct n.name from former_name n where n.entry_id = e.id and n.name <> e.name) as former,
         array(select distinct p.name from version w join person p on p.id = w.author_id where w.file_id = e.id) as people
       from entry e join realm r on r.id = e.realm_id join version v on v.id = e.head_version_id left join search_file f on f.file_id = e.id
       where e.id = any($1)`,
      [[...new Set(taken.map(({ file_id }) => file_id))]],
    )
    const namings = new Map<string, Auditor>()
    for (const row of rows) {
      if (!namings.has(row.share_id)) namings.set(row.share_id, await auditorOf(manager, row.share_id))
      await indexFile(manager, row, namings.get(row.share_id)!, contents, read)
    }
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

async function indexFile(
  manager: EntityManager,
  row: Queued,
  auditor: Auditor,
  contents: Contents,
  read: ReadWords,
): Promise<void> {
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
  await putPostings(manager, row, fields, { facets, contentWords, title })
}

async function putPostings(
  manager: EntityManager,
  row: Queued,
  fields: ReadonlyMap<string, number>,
  { facets, contentWords, title }: { facets: string[]; contentWords: string[]; title: string },
): Promise<void> {
  const old = await manager.findOne(SearchFileRow, {
    select: { fileId: true, no: true, words: true, realmNo: true },
    where: { fileId: row.file_id },
  })
  if (row.removed && !old) return
  const ids = await wordIds(manager, [...fields.keys()])
  const words = [...fields.keys()].map((word) => ids.get(word)!)
  const { no } = await selectOne(
    manager,
    z.object({ no: z.number() }),
    `insert into search_file (file_id, version_id, title, facets, words, fields, content_words, realm_no) values ($1, $2, $3, $4, $5, $6, $7, $8)
     on conflict (file_id) do update set version_id = excluded.version_id, title = excluded.title,
       facets = excluded.facets, words = excluded.words, fields = excluded.fields, content_words = excluded.content_words, realm_no = excluded.realm_no returning no`,
    [row.file_id, row.head_version_id, title, facets, words, [...fields.values()], contentWords, row.realm_no],
  )
  const present = new Set(words)
  const before = new Set(old?.words ?? [])
  await takeOut(
    manager,
    no,
    [...before].filter((word) => !present.has(word)),
  )
  await putIn(
    manager,
    no,
    [...present].filter((word) => !before.has(word)),
  )
  // Which words a realm has is known apart from the others: whoever searches is told of no others' words.
  const stays = old?.realmNo === row.realm_no
  if (old?.realmNo)
    await countInRealm(
      manager,
      old.realmNo,
      [...before].filter((word) => !stays || !present.has(word)),
      -1,
    )
  await countInRealm(
    manager,
    row.realm_no,
    [...present].filter((word) => !stays || !before.has(word)),
    1,
  )
}

async function countInRealm(
  manager: EntityManager,
  realmNo: number,
  words: readonly number[],
  by: 1 | -1,
): Promise<void> {
  if (!words.length) return
  await execute(
    manager,
    `insert into search_realm_word (word_id, realm_no, files) select w, $2, $3 from unnest($1::int[]) as t(w) order by w
     on conflict (word_id, realm_no) do update set files = search_realm_word.files + excluded.files`,
    [words, realmNo, by],
  )
}

async function takeOut(manager: EntityManager, no: number, words: readonly number[]): Promise<void> {
  if (!words.length) return
  await execute(
    manager,
    'update search_block set files = set_bit(files, $3, 0) where word_id = any($1) and block = $2',
    [words, blockOf(no), bitOf(no)],
  )
  await manager.delete(SearchPostingRow, { wordId: In(words), no })
  await execute(manager, 'update search_word set files = files - 1 where id = any($1)', [words])
}

async function putIn(manager: EntityManager, no: number, words: readonly number[]): Promise<void> {
  if (!words.length) return
  const dense = await select(
    manager,
    z.object({ word_id: z.number() }),
    'update search_block set files = set_bit(files, $3, 1) where word_id = any($1) and block = $2 returning word_id',
    [words, blockOf(no), bitOf(no)],
  )
  const filled = new Set(dense.map((row) => row.word_id))
  const sparse = words.filter((word) => !filled.has(word))
  await execute(
    manager,
    'insert into search_posting (word_id, no) select unnest($1::int[]), $2 on conflict do nothing',
    [sparse, no],
  )
  await execute(manager, 'update search_word set files = files + 1 where id = any($1)', [words])
  // A block that has filled up becomes a bitmap.
  const full = await select(
    manager,
    z.object({ word_id: z.number(), nos: z.array(z.number()) }),
    `select word_id, array_agg(no) as nos from search_posting where word_id = any($1) and no between $2 and $3 group by word_id having count(*) > ${sparsest}`,
    [sparse, blockOf(no) * blockSize, (blockOf(no) + 1) * blockSize - 1],
  )
  for (const { word_id, nos } of full) {
    await manager.insert(SearchBlockRow, { wordId: word_id, block: blockOf(no), files: bitmapOf(nos) })
    await manager.delete(SearchPostingRow, { wordId: word_id, no: In(nos) })
  }
}

/** Ids of words, new ones with the forms they are found by. */
export async function wordIds(manager: EntityManager, words: readonly string[]): Promise<Map<string, number>> {
  const find = async () =>
    new Map(
      (await manager.find(SearchWordRow, { select: { id: true, word: true }, where: { word: In(words) } })).map(
        (row): [string, number] => [row.word, row.id],
      ),
    )
  let known = await find()
  const fresh = words.filter((word) => !known.has(word))
  if (fresh.length) {
    await execute(manager, 'insert into search_word (word) select unnest($1::text[]) on conflict do nothing', [fresh])
    known = await find()
    const forms = fresh.flatMap((word) =>
      word.includes(':')
        ? []
        : [
            ...tailsOf(word).map((form) => ({ kind: 't', form, id: known.get(word)! })),
            ...slipForms(word).map((form) => ({ kind: 's', form, id: known.get(word)! })),
          ],
    )
    await execute(
      manager,
      'insert into search_form (kind, form, word_id) select k::"char", f, w from unnest($1::text[], $2::text[], $3::int[]) as t(k, f, w) on conflict do nothing',
      [forms.map(({ kind }) => kind), forms.map(({ form }) => form), forms.map(({ id }) => id)],
    )
  }
  return known
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
