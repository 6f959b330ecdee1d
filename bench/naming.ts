// Names: reading and checking against one hand-written expression for the same convention, the
// audit of 100,000 names, neighbours among 100,000, a folder of 100,000 files over HTTP, and search
// among ten thousand and a million files against a bare indexed lookup.
import 'reflect-metadata'
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import type { DataSource } from 'typeorm'
import type { ControlledList, Convention, Rules } from '../core/contract'
import { adviseName } from '../core/naming/advice'
import { Auditor, planCorrections, summarise } from '../core/naming/audit'
import { nameKey } from '../core/naming/check'
import { readyConvention } from '../core/naming/convention'
import { Neighbours } from '../core/naming/neighbours'
import { wordsOf } from '../core/naming/search-words'
import { openDatabase } from '../server/database'
import { findFiles } from '../server/search/find'
import { bitmapOf, blockOf, blockSize, fieldBits, realmWord, sparsest, wordIds } from '../server/search/index-files'
import { inTurn, median, report } from './report'

const suite = 'naming'
const { BENCH_URL: url = '', BENCH_DATABASE_URL: server = '' } = process.env

// -- The core ------------------------------------------------------------------------------

const shareId = '00000000-0000-4000-8000-0000000000ff'
const list = (name: string, values: string[]): ControlledList => ({
  id: randomUUID(),
  shareId,
  name,
  revision: 1,
  values: values.map((code) => ({ code, label: '', retired: false })),
})
const locks = Array.from({ length: 40 }, (_, index) => `LK${String(index + 1).padStart(2, '0')}`)
const kinds = ['Inspection', 'Notice', 'Tender', 'Minutes', 'Levels', 'Budget', 'Letter', 'Survey']
const lists = [list('Locks', locks), list('Kinds', kinds)]
const rules: Rules = {
  parts: [
    { id: 'date', label: 'Date', separator: '', optional: false, kind: 'date', form: 'YYYY-MM-DD', source: 'today' },
    { id: 'lock', label: 'Lock', separator: '_', optional: true, kind: 'list', listId: lists[0]!.id, shows: 'code' },
    { id: 'kind', label: 'Kind', separator: '_', optional: false, kind: 'list', listId: lists[1]!.id, shows: 'code' },
    {
      id: 'subject',
      label: 'Subject',
      separator: '_',
      optional: false,
      kind: 'words',
      letters: 'as typed',
      longest: 60,
      symbols: 'letters and digits',
      spaces: '-',
    },
  ],
  folders: [[{ part: 'kind', as: 'name' }], [{ part: 'date', as: 'year' }], [{ part: 'lock', as: 'name' }]],
}
const things = [
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
const random = (below: number) => {
  // xorshift32 (Marsaglia 2003): the same names in every run.
  state ^= state << 13
  state ^= state >>> 17
  state ^= state << 5
  return (state >>> 0) % below
}
const one = <T>(of: readonly T[]): T => of[random(of.length)]!
const day = () =>
  `20${15 + random(12)}-${String(1 + random(12)).padStart(2, '0')}-${String(1 + random(28)).padStart(2, '0')}`
const good = (index: number) =>
  `${day()}_${one(locks)}_${one(kinds)}_${one(things)}-${one(things).toLowerCase()}-${index}`
const bad = (index: number): string =>
  one([
    () =>
      `${one(kinds).toLowerCase()} ${one(locks)} ${1 + random(28)}.${1 + random(12)}.20${15 + random(12)} ${one(things)} ${index}`,
    () => `${good(index)} final`,
    () => `${day()}_${one(locks)}_${one(kinds)}_${one(things)}  ${one(things)} ${index}`,
    () => `Copy of ${one(things)} ${one(kinds)} ${index}`,
    () => `${day()}_LK99_${one(kinds)}_${one(things)}-${index}`,
  ])()
const names = Array.from({ length: 100_000 }, (_, index) => (random(10) < 7 ? good(index) : bad(index)))

const ready = readyConvention(rules, lists)
const byHand = new RegExp(
  `^(\\d{4}-\\d{2}-\\d{2})(?:_(${locks.join('|')}))?_(${kinds.join('|')})_([\\p{L}\\p{N}\\p{M}]+(?:-[\\p{L}\\p{N}\\p{M}]+)*)$`,
  'u',
)
const sample = names.slice(0, 20_000)
const perName = (ms: number) => (ms * 1000) / sample.length
const parsing = await inTurn(
  9,
  () => sample.reduce((follow, name) => follow + (ready.parse(name) ? 1 : 0), 0),
  () => sample.reduce((follow, name) => follow + (byHand.exec(name) ? 1 : 0), 0),
)
report({
  suite,
  case: 'parse',
  value: perName(parsing.ours),
  unit: 'us',
  baseline: perName(parsing.baseline),
  better: 'lower',
})
const checking = await inTurn(
  5,
  () => sample.reduce((said, name) => said + adviseName(`${name}.docx`, { convention: ready }).length, 0),
  () => sample.reduce((follow, name) => follow + (byHand.exec(name) ? 1 : 0), 0),
)
report({
  suite,
  case: 'check',
  value: perName(checking.ours),
  unit: 'us',
  baseline: perName(checking.baseline),
  better: 'lower',
})

const convention: Convention = {
  id: randomUUID(),
  shareId,
  folderId: null,
  name: 'Files',
  number: 1,
  rules,
  since: '2015-01-01T00:00:00Z',
  author: '',
  earlier: [],
}
const folders = Array.from({ length: 400 }, (_, index) => ({
  id: `f${index}`,
  parentId: index > 20 ? `f${index % 20}` : null,
  name: `Folder ${index}`,
}))
const auditing = await inTurn(
  3,
  () => {
    const auditor = new Auditor({ conventions: [convention], lists }, folders)
    const findings = names.map((name, index) =>
      auditor.audit({
        id: String(index),
        folderId: `f${index % 400}`,
        name: `${name}.docx`,
        kind: 'document',
        at: '2026-01-01T00:00:00Z',
      }),
    )
    summarise(findings)
    planCorrections(findings)
  },
  () => names.reduce((follow, name) => follow + (byHand.exec(name) ? 1 : 0), 0),
)
report({ suite, case: 'audit-100k', value: auditing.ours, unit: 'ms', baseline: auditing.baseline, better: 'lower' })

const there = new Neighbours(names.map((name) => `${name}.docx`))
const typing = names.slice(500, 540).map((name) => `${name.slice(0, -1)}x.docx`)
const near = await inTurn(
  9,
  () => typing.reduce((said, name) => said + there.of(name).length, 0),
  () => typing.reduce((said, name) => said + (names.includes(name) ? 1 : 0), 0),
)
report({
  suite,
  case: 'check-neighbours-100k',
  value: near.ours / typing.length,
  unit: 'ms',
  baseline: near.baseline / typing.length,
  better: 'lower',
})

if (process.env.BENCH_FILES === '0') process.exit()

// -- The server ----------------------------------------------------------------------------

/** A database of its own with so many files in four shares, all of one person, and their index. */
async function filled(
  files: number,
): Promise<{ database: DataSource; person: string; keys: { share: string; folder: string; key: string }[] }> {
  const admin = new pg.Client({ connectionString: server })
  await admin.connect()
  const name = `bench_naming_${files}`
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
    const [row] = await database.query('insert into share (id, name, name_key) values ($1, $2, $3) returning no', [
      id,
      share,
      nameKey(share),
    ])
    await database.query(`insert into access_grant (realm_id, person_id, role) values ($1, $2, 'edit')`, [id, person])
    shares.push({ id, no: row.no })
  }
  // Loading has no triggers and no keys to check; the index is built the way the server reads it.
  await database.query(`insert into content (sha256, size) values (sha256('x'), 1)`)
  const keys: { share: string; folder: string; key: string }[] = []
  const folderIds = shares.map(() => Array.from({ length: Math.max(1, files / 4000) }, () => randomUUID()))
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
        folder: one(folderIds[share]!),
        name: `${good(index)}.docx`,
        no: index,
      }
    })
    const words = batch.map(({ name: file, share }) => {
      const fields = new Map<string, number>()
      for (const word of wordsOf(file)) fields.set(word, fieldBits.name)
      for (const word of ['ida', 'thornquist']) fields.set(word, fieldBits.person)
      const [date, lock, kind] = file.split('_')
      for (const facet of [`year:${date!.slice(0, 4)}`, `kind:${kind}`, `lock:${lock}`, 'type:document'])
        fields.set(facet, fieldBits.facet)
      fields.set(realmWord(shares[share]!.no), fieldBits.facet)
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
        `insert into entry (id, kind, share_id, folder_id, name, name_key, type, head_version_id, created_by)
         select f, 'file', s, d, n, lower(n), 'docx', v, $6 from unnest($1::uuid[], $2::uuid[], $3::uuid[], $4::text[], $5::uuid[]) as t(f, s, d, n, v)`,
        [
          batch.map(({ id }) => id),
          batch.map(({ share }) => shares[share]!.id),
          batch.map(({ folder }) => folder),
          batch.map(({ name: file }) => file),
          batch.map(({ version }) => version),
          person,
        ],
      )
      await manager.query(
        `insert into search_file (file_id, no, version_id, facets, words, fields) overriding system value
         select f, n, f, string_to_array(x, ' '), w::int[], b::smallint[] from unnest($1::uuid[], $2::int[], $3::text[], $4::text[], $5::text[]) as t(f, n, x, w, b)`,
        [
          batch.map(({ id }) => id),
          batch.map(({ no }) => no),
          words.map((fields) => [...fields.keys()].filter((word) => /^[a-z]+:/.test(word)).join(' ')),
          words.map((fields) => `{${[...fields.keys()].map((word) => ids.get(word)).join(',')}}`),
          words.map((fields) => `{${[...fields.values()].join(',')}}`),
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
    'entry',
    'version',
  ])
    await database.query(`vacuum analyze ${table}`)
  return { database, person, keys }
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

const slipped = (word: string) => word.slice(0, 3) + word.slice(4)
/** What people type: one word, several in any order, beginnings, middles, slips, dates, with a facet. */
const queries = Array.from({ length: 400 }, (): { q: string; facets: string[] } => {
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
const p95 = (times: number[]) => times.toSorted((a, b) => a - b)[Math.floor(times.length * 0.95)]!
const timed = async (run: () => Promise<unknown>) => {
  const begun = performance.now()
  await run()
  return performance.now() - begun
}

/** Writes the plans of one search, as PostgreSQL carried them out, for docs/naming.md. */
async function showPlans(database: DataSource, person: string): Promise<void> {
  const runner = database.createQueryRunner()
  const connection: pg.ClientBase = await runner.connect()
  connection.on('notice', ({ message }) => process.stderr.write(`${message?.replace(/\[[^\]]{200,}\]/g, '[…]')}\n`))
  await runner.query(`load 'auto_explain'`)
  for (const setting of ['log_min_duration = 0', 'log_analyze = on', 'log_buffers = on'])
    await runner.query(`set auto_explain.${setting}`)
  await runner.query('set client_min_messages = log')
  await findFiles(runner.manager, person, { q: 'paddels lk07 inspection', facets: ['year:2024'] })
  await runner.query('set client_min_messages = warning')
  await runner.release()
}

async function searching(files: number, label: string): Promise<number> {
  const { database, person, keys } = await filled(files)
  const times: number[] = []
  const bare: number[] = []
  let found = 0
  for (let round = 0; round < 2; round++)
    for (const [index, query] of queries.entries()) {
      const ours = await timed(async () => {
        found += (await findFiles(database.manager, person, query)).hits.length > 0 ? 1 : 0
      })
      const { share, folder, key } = keys[index % keys.length]!
      const base = await timed(() =>
        database.query(
          'select * from entry where share_id = $1 and folder_id = $2 and name_key = $3 and removed_at is null',
          [share, folder, key],
        ),
      )
      if (round === 1) {
        times.push(ours)
        bare.push(base)
      }
    }
  if (found < queries.length) throw new Error('Hardly anything was found, so the times say nothing.')
  report({ suite, case: `search-${label}-p95`, value: p95(times), unit: 'ms', baseline: p95(bare), better: 'lower' })
  if (process.env.BENCH_PLANS) {
    process.stderr.write(`median ${median(times).toFixed(1)} ms\n`)
    for (const [index, time] of times.entries())
      if (time > p95(times)) process.stderr.write(`${time.toFixed(1)} ms ${JSON.stringify(queries[index])}\n`)
    await showPlans(database, person)
  }
  await database.destroy()
  return p95(times)
}
const small = await searching(10_000, '10k')
const large = await searching(Number(process.env.BENCH_FILES ?? 1_000_000), '1m')
report({ suite, case: 'search-growth', value: large, unit: 'ms', baseline: small, better: 'lower' })

// -- A folder of 100,000 files, over HTTP ----------------------------------------------------

const client = new pg.Client({ connectionString: server })
await client.connect()
const signedIn = await fetch(`${url}/api/session`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ handle: 'priya', password: 'lock-and-weir' }),
})
const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!
const [share] = (await (await fetch(`${url}/api/shares`, { headers: { cookie } })).json()) as { id: string }[]
const folder = (await (
  await fetch(`${url}/api/folders`, {
    method: 'POST',
    headers: { cookie, 'content-type': 'application/json' },
    body: JSON.stringify({ shareId: share!.id, folderId: null, name: `Large ${randomUUID()}` }),
  })
).json()) as { id: string }
await client.query('begin')
await client.query(`set local session_replication_role = replica`)
await client.query(
  `with made as (insert into version (id, file_id, number, sha256, size, type, author_id, reason, request_key)
     select gen_random_uuid(), gen_random_uuid(), 1, (select sha256 from content limit 1), 1, 'docx', (select id from person limit 1), 'saved', gen_random_uuid() from generate_series(1, 100000) returning id, file_id)
   insert into entry (id, kind, share_id, folder_id, name, name_key, type, head_version_id, created_by)
   select file_id, 'file', $1, $2, n, lower(n), 'docx', id, (select id from person limit 1) from (select id, file_id, '2026_File-' || row_number() over () || '.docx' as n from made) t`,
  [share!.id, folder.id],
)
await client.query('commit')
await client.query('analyze entry')
const rows = await inTurn(
  15,
  async () => {
    const place = (await (
      await fetch(`${url}/api/shares/${share!.id}/entries?folderId=${folder.id}&limit=200`, { headers: { cookie } })
    ).json()) as { total: number }
    if (place.total !== 100_000) throw new Error(`The folder shows ${place.total} files.`)
  },
  () =>
    client.query('select * from entry where share_id = $1 and folder_id = $2 order by name_key limit 200', [
      share!.id,
      folder.id,
    ]),
)
report({
  suite,
  case: 'folder-100k-first-rows',
  value: rows.ours,
  unit: 'ms',
  baseline: rows.baseline,
  better: 'lower',
})
await client.end()
