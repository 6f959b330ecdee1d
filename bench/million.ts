// An office of up to a million files with its index of words, made as the server would have it, for the suites that search
// in it: a third of them lie in folders that have rights of their own.
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import type { DataSource } from 'typeorm'
import { nameKey } from '../core/naming/check'
import { wordsOf } from '../core/naming/search-words'
import { openDatabase } from '../server/database'
import { fieldBits, realmWord } from '../server/search/index-files'
import { bitmapOf, blockOf, blockSize, sparsest, wordIds } from '../server/search/postings'

export const locks = Array.from({ length: 40 }, (_, index) => `LK${String(index + 1).padStart(2, '0')}`)
export const kinds = ['Inspection', 'Notice', 'Tender', 'Minutes', 'Levels', 'Budget', 'Letter', 'Survey']
export const things = [
  'Gate',
  'Paddles',
  'Beam',
  'Chamber',
  'Quoin',
  'Bollard',
  'Culvert',
  'Weir',
  'Sluice',
  'Coping',
  'Towpath',
  'Ladder',
  'Fender',
  'Silt',
  'Spillway',
  'Footbridge',
]
let state = 12345
export const random = (below: number) => {
  // xorshift32 (Marsaglia 2003): the same names in every run.
  state ^= state << 13
  state ^= state >>> 17
  state ^= state << 5
  return (state >>> 0) % below
}
export const one = <T>(of: readonly T[]): T => of[random(of.length)]!
export const day = () =>
  `20${15 + random(12)}-${String(1 + random(12)).padStart(2, '0')}-${String(1 + random(28)).padStart(2, '0')}`
export const good = (index: number) =>
  `${day()}_${one(locks)}_${one(kinds)}_${one(things)}-${one(things).toLowerCase()}-${index}`
/** A database of its own with so many files in four shares, all of one person, and their index. */
export async function filled(
  server: string,
  files: number,
  { name = `bench_naming_${files}`, narrowed = 0 }: { name?: string; narrowed?: number } = {},
): Promise<{
  database: DataSource
  person: string
  /** Folders with rights of their own, shut to all but those whom they let in and who manage their share. */
  closed: string[]
  shares: string[]
  keys: { share: string; folder: string; key: string }[]
}> {
  const admin = new pg.Client({ connectionString: server })
  await admin.connect()
  await admin.query(`create database ${name}`)
  await admin.end()
  const database = await openDatabase(server.replace(/\/[^/]*$/, `/${name}`))
  const person = randomUUID()
  await database.query(
    `insert into person (id, handle, name, password_hash) values ($1, 'ida', 'Ida Thornquist', '-')`,
    [person],
  )
  const shares: { id: string; no: number }[] = []
  for (const share of ['Waterways', 'Finance', 'Office', 'Archive']) {
    const id = randomUUID()
    await database.query('insert into share (id, name, name_key) values ($1, $2, $3)', [id, share, nameKey(share)])
    await database.query(`insert into access_grant (realm_id, person_id, role) values ($1, $2, 'manage')`, [id, person])
    const [row] = await database.query('select no from realm where id = $1', [id])
    shares.push({ id, no: row.no })
  }
  // Loading has no triggers and no keys to check; the index is built the way the server reads it.
  await database.query(`insert into content (sha256, size) values (sha256('x'), 1)`)
  const keys: { share: string; folder: string; key: string }[] = []
  const folderIds = shares.map(() => Array.from({ length: Math.max(1, files / 4000) }, () => randomUUID()))
  const closed: string[] = []
  const realmOf = new Map<string, number>()
  // A small office has fewer folders.
  narrowed = Math.min(narrowed, 4 * folderIds[0]!.length)
  for (let n = 0; n < narrowed; n++) {
    const share = n % shares.length
    const folder = folderIds[share]![Math.floor(n / shares.length)]!
    await database.query(
      `insert into entry (id, kind, share_id, name, name_key, created_by) values ($1, 'folder', $2, $3::text, $3::text, $4)`,
      [folder, shares[share]!.id, `narrowed ${n}`, person],
    )
    const [{ no }] = await database.query(
      'insert into realm (id, share_id, entry_id, closed) values ($1, $2, $1, true) returning no',
      [folder, shares[share]!.id],
    )
    closed.push(folder)
    realmOf.set(folder, no)
  }
  const ids = new Map<string, number>()
  // Whole blocks at a time, so that each block is made once.
  const perFile = blockSize * 3
  for (let done = 0; done < files; done += perFile) {
    const batch = Array.from({ length: Math.min(perFile, files - done) }, (_, offset) => {
      const index = done + offset
      const share = index % 4
      return {
        id: randomUUID(),
        version: randomUUID(),
        share,
        folder:
          narrowed && index % 3 === 0
            ? closed.filter((_, at) => at % 4 === share)[random(Math.floor(narrowed / 4))]!
            : one(folderIds[share]!),
        name: `${good(index)}.docx`,
        no: index,
      }
    })
    const words = batch.map(({ name: file, share, folder }) => {
      const fields = new Map<string, number>()
      for (const word of wordsOf(file)) fields.set(word, fieldBits.name)
      for (const word of ['ida', 'thornquist']) fields.set(word, fieldBits.person)
      const [date, lock, kind] = file.split('_')
      for (const facet of [`year:${date!.slice(0, 4)}`, `kind:${kind}`, `lock:${lock}`, 'type:document'])
        fields.set(facet, fieldBits.facet)
      fields.set(realmWord(realmOf.get(folder) ?? shares[share]!.no), fieldBits.facet)
      return fields
    })
    const fresh = [...new Set(words.flatMap((fields) => [...fields.keys()]))].filter((word) => !ids.has(word))
    for (const [word, id] of await wordIds(database.manager, fresh)) ids.set(word, id)
    await database.transaction(async (manager) => {
      await manager.query(`set local session_replication_role = replica`)
      await manager.query(
        `insert into version (id, file_id, number, sha256, size, type, author_id, reason, request_key)
         select v, f, 1, sha256('x'), 1, 'docx', $3, 'saved', v from unnest($1::uuid[], $2::uuid[]) as t(v, f)`,
        [batch.map(({ version }) => version), batch.map(({ id }) => id), person],
      )
      await manager.query(
        `insert into entry (id, kind, share_id, realm_id, folder_id, name, name_key, type, head_version_id, created_by)
         select f, 'file', s, case when d = any($7) then d else s end, d, n, lower(n), 'docx', v, $6 from unnest($1::uuid[], $2::uuid[], $3::uuid[], $4::text[], $5::uuid[]) as t(f, s, d, n, v)`,
        [
          batch.map(({ id }) => id),
          batch.map(({ share }) => shares[share]!.id),
          batch.map(({ folder }) => folder),
          batch.map(({ name: file }) => file),
          batch.map(({ version }) => version),
          person,
          closed,
        ],
      )
      await manager.query(
        `insert into search_file (file_id, no, version_id, facets, words, fields, realm_no) overriding system value
         select f, n, f, string_to_array(x, ' '), w::int[], b::smallint[], r from unnest($1::uuid[], $2::int[], $3::text[], $4::text[], $5::text[], $6::int[]) as t(f, n, x, w, b, r)`,
        [
          batch.map(({ id }) => id),
          batch.map(({ no }) => no),
          words.map((fields) => [...fields.keys()].filter((word) => /^[a-z]+:/.test(word)).join(' ')),
          words.map((fields) => `{${[...fields.keys()].map((word) => ids.get(word)).join(',')}}`),
          words.map((fields) => `{${[...fields.values()].join(',')}}`),
          batch.map(({ share, folder }) => realmOf.get(folder) ?? shares[share]!.no),
        ],
      )
      const byWord = new Map<string, number[]>()
      for (const [index, { no }] of batch.entries())
        for (const word of words[index]!.keys()) {
          const key = `${ids.get(word)} ${blockOf(no)}`
          const nos = byWord.get(key)
          if (nos) nos.push(no)
          else byWord.set(key, [no])
        }
      const dense = [...byWord].filter(([, nos]) => nos.length > sparsest)
      const sparse = [...byWord]
        .filter(([, nos]) => nos.length <= sparsest)
        .flatMap(([key, nos]) => nos.map((no) => [Number(key.split(' ')[0]), no]))
      await manager.query('insert into search_block select * from unnest($1::int[], $2::int[], $3::bytea[])', [
        dense.map(([key]) => Number(key.split(' ')[0])),
        dense.map(([key]) => Number(key.split(' ')[1])),
        dense.map(([, nos]) => bitmapOf(nos)),
      ])
      await manager.query('insert into search_posting select * from unnest($1::int[], $2::int[])', [
        sparse.map(([word]) => word),
        sparse.map(([, no]) => no),
      ])
      const counted = new Map<string, number>()
      for (const [at, fields] of words.entries()) {
        const realm = realmOf.get(batch[at]!.folder) ?? shares[batch[at]!.share]!.no
        for (const word of fields.keys()) {
          const key = `${ids.get(word)} ${realm}`
          counted.set(key, (counted.get(key) ?? 0) + 1)
        }
      }
      await manager.query(
        `insert into search_realm_word (word_id, realm_no, files) select * from unnest($1::int[], $2::int[], $3::int[])
         on conflict (word_id, realm_no) do update set files = search_realm_word.files + excluded.files`,
        [
          [...counted.keys()].map((key) => Number(key.split(' ')[0])),
          [...counted.keys()].map((key) => Number(key.split(' ')[1])),
          [...counted.values()],
        ],
      )
      await manager.query(
        'update search_word set files = files + n from unnest($1::int[], $2::int[]) as t(w, n) where id = w',
        perWord(byWord),
      )
    })
    for (const { share, folder, name: file } of batch.slice(0, 20))
      keys.push({ share: shares[share]!.id, folder, key: nameKey(file) })
  }
  for (const table of [
    'search_posting',
    'search_block',
    'search_word',
    'search_form',
    'search_file',
    'search_realm_word',
    'entry',
    'version',
  ])
    await database.query(`vacuum analyze ${table}`)
  return { database, person, closed, shares: shares.map(({ id }) => id), keys }
}

/** How many files of a batch have each word: two columns. */
function perWord(byWord: ReadonlyMap<string, readonly number[]>): [number[], number[]] {
  const files = new Map<number, number>()
  for (const [key, nos] of byWord) {
    const word = Number(key.split(' ')[0])
    files.set(word, (files.get(word) ?? 0) + nos.length)
  }
  return [[...files.keys()], [...files.values()]]
}

export const slipped = (word: string) => word.slice(0, 3) + word.slice(4)
/** What people type: one word, several in any order, beginnings, middles, slips, dates, with a facet. */
export const queries = Array.from({ length: 400 }, (): { q: string; facets: string[] } => {
  const plain = { facets: [] as string[] }
  return one([
    () => ({ ...plain, q: one(kinds) }),
    () => ({ ...plain, q: `${one(things)} ${one(locks)}` }),
    () => ({ ...plain, q: `${one(locks)} ${one(kinds)} 20${15 + random(12)}` }),
    () => ({ ...plain, q: `${one(things)} ${one(things)} ${one(kinds).toLowerCase()}` }),
    () => ({ ...plain, q: one(kinds).slice(0, 4).toLowerCase() }),
    () => ({ ...plain, q: one(things).slice(1).toLowerCase() }),
    () => ({ ...plain, q: `${slipped(one(things)).toLowerCase()} ${one(locks)}` }),
    () => ({ ...plain, q: day() }),
    () => ({ ...plain, q: String(random(10_000)) }),
    () => ({ q: one(things), facets: [`year:20${15 + random(12)}`, `kind:${one(kinds)}`] }),
  ])()
})
export const p95 = (times: number[]) => times.toSorted((a, b) => a - b)[Math.floor(times.length * 0.95)]!
export const timed = async (run: () => Promise<unknown>) => {
  const begun = performance.now()
  await run()
  return performance.now() - begun
}
