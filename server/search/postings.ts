// The index as it lies in the database: which files have a word, as rows where they are few and as bitmaps where they are
// many. It is changed by one process at a time, for many files in a few statements: what a statement costs is mostly that
// it is one.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { slipForms, tailsOf } from '../../core/naming/search-words'
import { execute, select } from '../sql/rows'

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

/** What the index is to hold of a file. */
export interface Indexed {
  fileId: string
  versionId: string
  realmNo: number
  title: string
  facets: readonly string[]
  contentWords: readonly string[]
  /** Where each word was found, as bits; none of a file that was removed. */
  fields: ReadonlyMap<string, number>
  removed: boolean
}

const Held = z.object({
  file_id: z.string(),
  no: z.number(),
  words: z.array(z.number()),
  realm_no: z.number().nullable(),
})
type Held = z.output<typeof Held>

/** Files of one statement: each has some thousand words. */
const perStatement = 50

/** Puts files into the index, in place of what it had of them. */
export async function putPostings(manager: EntityManager, all: readonly Indexed[]): Promise<void> {
  const held = new Map(
    (
      await select(manager, Held, 'select file_id, no, words, realm_no from search_file where file_id = any($1)', [
        all.map(({ fileId }) => fileId),
      ])
    ).map((row): [string, Held] => [row.file_id, row]),
  )
  const files = all.filter(({ removed, fileId }) => !removed || held.has(fileId))
  if (!files.length) return
  const ids = await wordIds(manager, [...new Set(files.flatMap(({ fields }) => [...fields.keys()]))])
  const nos = new Map<string, number>()
  for (let from = 0; from < files.length; from += perStatement)
    for (const { file_id, no } of await putFiles(manager, files.slice(from, from + perStatement), ids))
      nos.set(file_id, no)
  const out = new Pairs()
  const into = new Pairs()
  /** By realm: how many files more or less have a word. */
  const counted = new Map<number, Map<number, number>>()
  const count = (realm: number, word: number, by: number) => {
    const words = counted.get(realm) ?? new Map<number, number>()
    counted.set(realm, words)
    words.set(word, (words.get(word) ?? 0) + by)
  }
  for (const { fileId, fields, realmNo } of files) {
    const no = nos.get(fileId)!
    const old = held.get(fileId)
    const before = new Set(old?.words ?? [])
    const now = new Set([...fields.keys()].map((word) => ids.get(word)!))
    for (const word of before) if (!now.has(word)) out.add(word, no)
    for (const word of now) if (!before.has(word)) into.add(word, no)
    // Which words a realm has is known apart from the others: whoever searches is told of no others' words.
    if (old?.realm_no != null) for (const word of before) count(old.realm_no, word, -1)
    for (const word of now) count(realmNo, word, 1)
  }
  await changePostings(manager, out, into)
  await countWords(manager, out, into)
  await countInRealms(manager, counted)
}

async function putFiles(
  manager: EntityManager,
  files: readonly Indexed[],
  ids: ReadonlyMap<string, number>,
): Promise<{ file_id: string; no: number }[]> {
  return select(
    manager,
    z.object({ file_id: z.string(), no: z.number() }),
    `insert into search_file (file_id, version_id, title, facets, words, fields, content_words, realm_no)
     select file_id, version_id, title, facets, words, fields, content_words, realm_no from jsonb_to_recordset($1::jsonb)
       as t(file_id uuid, version_id uuid, title text, facets text[], words int[], fields smallint[], content_words text[], realm_no int)
     on conflict (file_id) do update set version_id = excluded.version_id, title = excluded.title,
       facets = excluded.facets, words = excluded.words, fields = excluded.fields, content_words = excluded.content_words, realm_no = excluded.realm_no
     returning file_id, no`,
    [
      JSON.stringify(
        files.map(({ fileId, versionId, title, facets, fields, contentWords, realmNo }) => ({
          file_id: fileId,
          version_id: versionId,
          title,
          facets,
          words: [...fields.keys()].map((word) => ids.get(word)!),
          fields: [...fields.values()],
          content_words: contentWords,
          realm_no: realmNo,
        })),
      ),
    ],
  )
}

/** Words, each with files. */
class Pairs {
  readonly words: number[] = []
  readonly nos: number[] = []
  add(word: number, no: number): void {
    this.words.push(word)
    this.nos.push(no)
  }
}

const keyOf = (word: number, block: number) => `${word} ${block}`
const Block = z.object({ word_id: z.number(), block: z.number(), files: z.instanceof(Buffer) })

async function changePostings(manager: EntityManager, out: Pairs, into: Pairs): Promise<void> {
  if (!out.words.length && !into.words.length) return
  const blocks = [...new Set([...out.nos, ...into.nos].map(blockOf))]
  const rows = await select(
    manager,
    Block,
    'select word_id, block, files from search_block where word_id = any($1) and block = any($2)',
    [[...new Set([...out.words, ...into.words])], blocks],
  )
  const dense = new Map(rows.map((row) => [keyOf(row.word_id, row.block), { ...row, files: Buffer.from(row.files) }]))
  const changed = new Set<string>()
  /** Sets or clears the bits of those that a bitmap holds. @returns the others */
  const set = ({ words, nos }: Pairs, on: boolean): Pairs => {
    const others = new Pairs()
    for (const [at, word] of words.entries()) {
      const no = nos[at]!
      const key = keyOf(word, blockOf(no))
      const files = dense.get(key)?.files
      if (!files) {
        others.add(word, no)
        continue
      }
      const bit = 1 << (bitOf(no) & 7)
      const byte = bitOf(no) >> 3
      files[byte] = on ? files[byte]! | bit : files[byte]! & ~bit
      changed.add(key)
    }
    return others
  }
  const lost = set(out, false)
  const found = set(into, true)
  if (changed.size) {
    const those = [...changed].map((key) => dense.get(key)!)
    await execute(
      manager,
      `update search_block b set files = t.files from unnest($1::int[], $2::int[], $3::bytea[]) as t(word_id, block, files)
       where b.word_id = t.word_id and b.block = t.block`,
      [those.map(({ word_id }) => word_id), those.map(({ block }) => block), those.map(({ files }) => files)],
    )
  }
  if (lost.words.length)
    await execute(
      manager,
      'delete from search_posting p using unnest($1::int[], $2::int[]) as t(word_id, no) where p.word_id = t.word_id and p.no = t.no',
      [lost.words, lost.nos],
    )
  if (!found.words.length) return
  await execute(
    manager,
    'insert into search_posting (word_id, no) select * from unnest($1::int[], $2::int[]) on conflict do nothing',
    [found.words, found.nos],
  )
  await fillBlocks(manager, [...new Set(found.words)], blocks)
}

/** Blocks that have filled up become bitmaps. */
async function fillBlocks(manager: EntityManager, words: readonly number[], blocks: readonly number[]): Promise<void> {
  const full = await select(
    manager,
    z.object({ word_id: z.number(), block: z.number(), nos: z.array(z.number()) }),
    `select word_id, b.block, array_agg(no) as nos from unnest($2::int[]) as b(block)
       join search_posting on no between b.block * ${blockSize} and (b.block + 1) * ${blockSize} - 1 where word_id = any($1)
     group by word_id, b.block having count(*) > ${sparsest}`,
    [words, blocks],
  )
  if (!full.length) return
  await execute(
    manager,
    'insert into search_block (word_id, block, files) select * from unnest($1::int[], $2::int[], $3::bytea[])',
    [full.map(({ word_id }) => word_id), full.map(({ block }) => block), full.map(({ nos }) => bitmapOf(nos))],
  )
  const rows = full.flatMap(({ word_id, nos }) => nos.map((no) => [word_id, no] as const))
  await execute(
    manager,
    'delete from search_posting p using unnest($1::int[], $2::int[]) as t(word_id, no) where p.word_id = t.word_id and p.no = t.no',
    [rows.map(([word]) => word), rows.map(([, no]) => no)],
  )
}

async function countWords(manager: EntityManager, out: Pairs, into: Pairs): Promise<void> {
  const by = new Map<number, number>()
  for (const word of out.words) by.set(word, (by.get(word) ?? 0) - 1)
  for (const word of into.words) by.set(word, (by.get(word) ?? 0) + 1)
  if (!by.size) return
  await execute(
    manager,
    'update search_word w set files = w.files + t.by from unnest($1::int[], $2::int[]) as t(id, by) where w.id = t.id and t.by <> 0',
    [[...by.keys()], [...by.values()]],
  )
}

async function countInRealms(manager: EntityManager, counted: ReadonlyMap<number, Map<number, number>>): Promise<void> {
  const rows = [...counted].flatMap(([realm, words]) =>
    [...words].flatMap(([word, by]) => (by ? [{ realm, word, by }] : [])),
  )
  if (!rows.length) return
  await execute(
    manager,
    `insert into search_realm_word (word_id, realm_no, files) select * from unnest($1::int[], $2::int[], $3::int[])
     on conflict (word_id, realm_no) do update set files = search_realm_word.files + excluded.files`,
    [rows.map(({ word }) => word), rows.map(({ realm }) => realm), rows.map(({ by }) => by)],
  )
}

/** Ids of words, new ones with the forms they are found by. */
export async function wordIds(manager: EntityManager, words: readonly string[]): Promise<Map<string, number>> {
  const find = async () =>
    new Map(
      (
        await select(
          manager,
          z.object({ id: z.number(), word: z.string() }),
          'select id, word from search_word where word = any($1)',
          [words],
        )
      ).map(({ id, word }): [string, number] => [word, id]),
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
