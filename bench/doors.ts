// What the doors hold, and what it costs: hostile requests beside people's, a large share, many listeners.
import { randomBytes, randomUUID } from 'node:crypto'
import { setTimeout as later } from 'node:timers/promises'
import { gzipSync } from 'node:zlib'
import fc from 'fast-check'
import pg from 'pg'
import 'reflect-metadata'
import { tryMatrix } from '../server/matrix.cells'
import { type AnyRequest, anyRequest } from '../server/requests.arbitrary'
import { openTestOffice } from '../server/testing'
import { openListeners } from './listeners'
import { median, report } from './report'

const { BENCH_URL: url = '', BENCH_DATABASE_URL: database = '' } = process.env
const suite = 'doors'
const count = (name: string, usual: number) => Number(process.env[name] ?? usual)
const fuzzed = count('BENCH_FUZZED', 20_000)
const entries = count('BENCH_ENTRIES', 400_000)
const listeners = count('BENCH_LISTENERS', 300)
const client = new pg.Client({ connectionString: database })
await client.connect()

const signIn = async (handle: string) => {
  const answer = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ handle, password: 'lock-and-weir' }),
  })
  const cookie = answer.headers
    .getSetCookie()
    .map((one) => one.split(';')[0])
    .join('; ')
  return (path: string, init: RequestInit = {}) => fetch(url + path, { ...init, headers: { cookie, ...init.headers } })
}
const ask = await signIn('priya')
const json = (body: unknown, method = 'POST'): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
})
const [share] = (await (await ask('/api/shares')).json()) as { id: string }[]
interface Saved {
  file: { id: string }
  version: { id: string }
}
const newFile = async (body: Buffer, folderId?: string) =>
  (await (
    await ask(
      `/api/files?shareId=${share!.id}&name=${randomUUID()}.bin&key=${randomUUID()}${folderId ? `&folderId=${folderId}` : ''}`,
      { method: 'POST', body: body as BodyInit },
    )
  ).json()) as Saved

/** How long the server answered nobody while something was asked of it; milliseconds. */
async function stallDuring(work: () => Promise<unknown>): Promise<number> {
  let longest = 0
  let over = false
  const looking = (async () => {
    while (!over) {
      const begun = performance.now()
      await fetch(`${url}/jaula.svg`, { method: 'HEAD' }).catch(() => {})
      longest = Math.max(longest, performance.now() - begun)
      await later(5)
    }
  })()
  await work().catch(() => {})
  over = true
  await looking
  return longest
}
const times = async (rounds: number, work: () => Promise<unknown>): Promise<number> => {
  const taken: number[] = []
  for (let round = -2; round < rounds; round++) {
    const begun = performance.now()
    await work()
    if (round >= 0) taken.push(performance.now() - begun)
  }
  return median(taken)
}

// -- One request ---------------------------------------------------------------------------------------
const idle = await stallDuring(() => later(1500))
const letters = Array.from({ length: 2000 }, (_, at) => ({
  code: String.fromCodePoint(0x4e00 + at),
  label: '',
  retired: false,
}))
const list = (await (
  await ask('/api/lists', json({ shareId: share!.id, name: randomUUID(), values: letters }))
).json()) as { id: string }
const words = (id: string) => ({
  id,
  kind: 'words',
  label: id,
  separator: '',
  optional: true,
  letters: 'as typed',
  longest: 80,
  symbols: 'any',
  spaces: '',
})
const intricate = {
  shareId: share!.id,
  folderId: null,
  name: 'Intricate',
  rules: {
    parts: [
      ...Array.from({ length: 11 }, (_, at) => words(`w${at}`)),
      { id: 'l', kind: 'list', label: 'l', separator: '', optional: false, listId: list.id, shows: 'code' },
    ],
    folders: [],
  },
}
const bomb = gzipSync(Buffer.alloc(140_000_000, 0x20))
const packed = { 'content-type': 'application/json', 'content-encoding': 'gzip' }
// Made before: what this process does meanwhile would be taken for the server's.
const largeAct = json({
  id: randomUUID(),
  what: 'remove',
  changes: Array.from({ length: 60_000 }, () => ({ id: randomUUID() })),
})
const largeFile = randomBytes(8_000_000)
const hostile: [string, () => Promise<unknown>][] = [
  ['a long name', () => ask('/api/folders', json({ shareId: share!.id, folderId: null, name: 'é'.repeat(1000) }))],
  [
    'a packed body of somebody unknown',
    () => fetch(`${url}/api/acts`, { method: 'POST', body: bomb, headers: packed }),
  ],
  ['a packed body', () => ask(`/api/drafts/${randomUUID()}/points`, { method: 'POST', body: bomb, headers: packed })],
  [
    'deep lists',
    () =>
      ask('/api/acts', {
        method: 'POST',
        body: '['.repeat(1_000_000),
        headers: { 'content-type': 'application/json' },
      }),
  ],
  ['an intricate convention', () => ask('/api/conventions', json(intricate))],
  ['a large act', () => ask('/api/acts', largeAct)],
  ['large files at once', () => Promise.all(Array.from({ length: 6 }, () => newFile(largeFile)))],
]
let worst: [string, number] = ['', 0]
for (const [name, work] of hostile) {
  const stall = await stallDuring(work)
  if (stall > worst[1]) worst = [name, stall]
}
report({
  suite,
  case: 'largest-stall',
  value: worst[1],
  unit: `ms, by ${worst[0]}; ${idle.toFixed(0)} ms idle`,
  baseline: 200,
  better: 'lower',
})

// -- Anything -------------------------------------------------------------------------------------------
const ids = [share!.id, randomUUID(), list.id]
for (let n = 0; n < 3; n++) {
  const saved = await newFile(Buffer.from('x'))
  ids.push(saved.file.id, saved.version.id)
}
const answers = new Map<number, number>()
const failed: AnyRequest[] = []
const requests = fc.sample(anyRequest(ids), { numRuns: fuzzed, seed: 11 })
for (let at = 0; at < requests.length; at += 8)
  await Promise.all(
    requests.slice(at, at + 8).map(async (request) => {
      const answer = await ask(request.path, {
        method: request.method,
        ...(request.body !== undefined && {
          body: request.body,
          ...(request.type && { headers: { 'content-type': request.type } }),
        }),
      })
      await answer.arrayBuffer()
      answers.set(Math.floor(answer.status / 100), (answers.get(Math.floor(answer.status / 100)) ?? 0) + 1)
      if (answer.status >= 500) failed.push(request)
    }),
  )
for (const one of failed.slice(0, 5)) process.stderr.write(`${JSON.stringify(one).slice(0, 500)}\n`)
report({
  suite,
  case: 'requests-fuzzed',
  value: requests.length,
  unit: `requests, ${answers.get(2) ?? 0} done, ${answers.get(4) ?? 0} refused`,
  baseline: null,
  better: 'higher',
})
report({ suite, case: 'answers-500', value: failed.length, unit: 'answers', baseline: null, better: 'lower' })

// -- Listeners --------------------------------------------------------------------------------------------
const { told, close: endListening } = await openListeners(ask, client, listeners)
const before = told.get('file') ?? 0
const saves = 20
const beside: number[] = []
for (let n = 0; n < saves; n++) {
  const begun = performance.now()
  await newFile(Buffer.from(`news ${n}`))
  beside.push(performance.now() - begun)
}
for (let waits = 0; waits < 200 && (told.get('file') ?? 0) - before < saves * listeners; waits++) await later(50)
report({
  suite,
  case: 'soak-listeners-lost',
  value: saves * listeners - ((told.get('file') ?? 0) - before),
  unit: `of ${saves * listeners} deliveries, ${listeners} listeners, median save ${median(beside).toFixed(1)} ms`,
  baseline: null,
  better: 'lower',
})
endListening()

// -- A large share ----------------------------------------------------------------------------------------
const folder = (await (
  await ask('/api/folders', json({ shareId: share!.id, folderId: null, name: `Large ${randomUUID()}` }))
).json()) as { id: string }
const one = await newFile(Buffer.from('one'), folder.id)
const small = await times(20, () =>
  ask(`/api/shares/${share!.id}/entries?folderId=${folder.id}&limit=200`).then((r) => r.arrayBuffer()),
)
await client.query(`alter table entry disable trigger user`)
await client.query(
  `insert into entry (id, kind, share_id, realm_id, folder_id, name, name_key, type, head_version_id, created_by)
   select gen_random_uuid(), 'file', e.share_id, e.realm_id, e.folder_id, 'made ' || n || '.bin', 'made ' || n || '.bin', 'bin', e.head_version_id, e.created_by
   from entry e, generate_series(1, $2::int) n where e.id = $1`,
  [one.file.id, entries],
)
await client.query(`alter table entry enable trigger user`)
await client.query('insert into place_change (place_id, entries) values ($1, $2)', [folder.id, entries])
await client.query('vacuum analyze entry')
const large = await times(20, () =>
  ask(`/api/shares/${share!.id}/entries?folderId=${folder.id}&limit=200`).then((r) => r.arrayBuffer()),
)
report({
  suite,
  case: 'listing-400k',
  value: large,
  unit: `ms, 200 of ${entries}; ${small.toFixed(1)} ms with one`,
  baseline: 50,
  better: 'lower',
})
const facts = () => ask(`/api/files/${one.file.id}`).then((r) => r.arrayBuffer())
report({
  suite,
  case: 'file-facts-400k',
  value: await times(20, facts),
  unit: `ms, in a share of ${entries} files`,
  baseline: 50,
  better: 'lower',
})

await client.query(
  `insert into version (id, file_id, number, sha256, size, type, author_id, at, reason, request_key)
   select gen_random_uuid(), v.file_id, n, v.sha256, v.size, v.type, v.author_id, now() - interval '100 days', 'by itself', gen_random_uuid()
   from version v, generate_series(2, 10000) n where v.id = $1`,
  [one.version.id],
)
await client.query(
  'update entry set head_version_id = (select id from version where file_id = $1 order by number desc limit 1) where id = $1',
  [one.file.id],
)
await client.query('analyze version')
report({
  suite,
  case: 'file-facts-10k-versions',
  value: await times(10, facts),
  unit: 'ms',
  baseline: 50,
  better: 'lower',
})
const begun = performance.now()
await client.query('begin')
await client.query(`set local jaula.retention = 'on'`)
await client.query(
  `delete from version where id in (select id from version where file_id = $1 and number between 5000 and 5099)`,
  [one.file.id],
)
await client.query('commit')
report({
  suite,
  case: 'retention-100-of-400k',
  value: performance.now() - begun,
  unit: 'ms',
  baseline: 500,
  better: 'lower',
})

// -- Saving while files are read for the search ------------------------------------------------------------
const saving = async () => {
  const taken: number[] = []
  for (let n = 0; n < 40; n++) {
    const begun = performance.now()
    await newFile(randomBytes(20_000))
    taken.push(performance.now() - begun)
    await later(100)
  }
  return median(taken)
}
const queued = async () => (await client.query('select count(*)::int as n from search_queue')).rows[0].n as number
while (await queued()) await later(200)
const alone = await saving()
await client.query('insert into search_queue (file_id) select id from entry where folder_id = $1 limit 20000', [
  folder.id,
])
await client.query('select pg_notify($1, $2)', ['jaula_news', JSON.stringify({ about: 'names', shareId: share!.id })])
while ((await queued()) > 19_900) await later(20)
const besideIndexing = await saving()
if (!(await queued())) throw new Error('The index was done before it could be measured.')
report({
  suite,
  case: 'save-beside-indexing',
  value: besideIndexing,
  unit: 'ms, 20 KB',
  baseline: alone,
  better: 'lower',
})
await client.end()

// -- Everybody at every door ------------------------------------------------------------------------------
process.env.TEST_DATABASE_URL = database
const tried = await openTestOffice()
const matrix = await tryMatrix(tried)
for (const cell of matrix.wrong) process.stderr.write(`${cell}\n`)
report({
  suite,
  case: 'matrix-wrong-cells',
  value: matrix.wrong.length,
  unit: `of ${matrix.cells}`,
  baseline: null,
  better: 'lower',
})
await tried.close()
process.exit(0)
