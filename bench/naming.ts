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
import { readyConvention } from '../core/naming/convention'
import { Neighbours } from '../core/naming/neighbours'
import { findFiles } from '../server/search/find'
import { day, filled, good, kinds, locks, one, p95, queries, random, things, timed } from './million'
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
  const { database, person, keys } = await filled(server, files)
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
   insert into entry (id, kind, share_id, realm_id, folder_id, name, name_key, type, head_version_id, created_by)
   select file_id, 'file', $1, $1, $2, n, lower(n), 'docx', id, (select id from person limit 1) from (select id, file_id, '2026_File-' || row_number() over () || '.docx' as n from made) t`,
  [share!.id, folder.id],
)
await client.query('insert into place_change (place_id, entries) values ($1, 100000)', [folder.id])
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
