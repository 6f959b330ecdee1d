// What happens to the machine, on a PostgreSQL of its own: its disk fills up, its connections run out, it is killed. Nothing
// that was acknowledged is lost, whoever asks is answered in our own form, and it comes back by itself.
import { execFileSync, spawnSync } from 'node:child_process'
import { createHash, randomBytes, randomUUID } from 'node:crypto'
import {
  chownSync,
  closeSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  renameSync,
  rmSync,
  statfsSync,
  writeSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { Saved } from '../core/contract'
import { postgresPrograms } from '../scripts/lib/packages.mjs'
import { databaseAccount } from '../scripts/lib/places.mjs'
import { startPostgres } from '../scripts/lib/postgres.mjs'
import { openTestOffice, signInAs, type TestOffice } from './testing'

const folder = mkdtempSync(join(tmpdir(), 'jaula-faults-'))
const account = databaseAccount()
// A disk as small as this wants a file system of its own, which only the system's administrator may mount.
const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=400m', 'tmpfs', folder]).status === 0
let postgres: Awaited<ReturnType<typeof startPostgres>>
let office: TestOffice
let ida: Awaited<ReturnType<typeof signInAs>>
const usual = process.env.TEST_DATABASE_URL
beforeAll(async () => {
  const data = join(folder, 'data')
  mkdirSync(data)
  if (account) chownSync(data, account.uid, account.gid)
  postgres = await startPostgres(postgresPrograms()!, data, account)
  process.env.TEST_DATABASE_URL = postgres.superuserUrl
  office = await openTestOffice()
  ida = await signInAs(office, 'ida')
})
afterAll(async () => {
  process.env.TEST_DATABASE_URL = usual
  try {
    await office?.close()
    await postgres?.stop()
  } finally {
    if (mounted) execFileSync('umount', ['-l', folder])
  }
  rmSync(folder, { recursive: true, force: true })
})

const bring = (size: number) =>
  ida.ask(`/api/files?shareId=${office.share}&name=${randomUUID()}.bin&key=${randomUUID()}`, {
    method: 'POST',
    body: randomBytes(size) as BodyInit,
  })
/** Every version that was acknowledged gives its bytes, to the last one. */
async function allThere(acknowledged: readonly Saved[]): Promise<void> {
  for (const { version } of acknowledged) {
    const answer = await ida.ask(`/api/versions/${version.id}/bytes`)
    expect(answer.status).toBe(200)
    const bytes = Buffer.from(await answer.arrayBuffer())
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(version.sha256)
  }
}
const worksAgain = async () => (await bring(10).catch(() => null))?.status === 200
/** An answer of ours: done, or a refusal in the form of every other. */
async function answered(response: Response): Promise<Saved | null> {
  if (response.status === 200) return (await response.json()) as Saved
  expect([503, 507]).toContain(response.status)
  expect(response.headers.get('content-type')).toContain('application/problem+json')
  return null
}

test.runIf(mounted)(
  'a full disk refuses what comes in, keeps what is there, and takes more when there is room',
  { timeout: 300_000 },
  async () => {
    const acknowledged: Saved[] = []
    for (let n = 0; n < 5; n++) acknowledged.push((await (await bring(200_000)).json()) as Saved)
    // All but some megabytes of the disk are taken by something else.
    const ballast = join(folder, 'ballast')
    const file = openSync(ballast, 'w')
    const room = () => statfsSync(folder).bavail * statfsSync(folder).bsize
    while (room() > 12_000_000) writeSync(file, Buffer.alloc(1_000_000, 1))
    closeSync(file)
    let refused = 0
    for (let n = 0; n < 60 && refused < 5; n++) {
      const saved = await answered(await bring(2_000_000))
      if (saved) acknowledged.push(saved)
      else refused++
    }
    expect(refused).toBeGreaterThan(0)
    rmSync(ballast)
    await expect.poll(worksAgain, { timeout: 90_000 }).toBe(true)
    await allThere(acknowledged)
  },
)

test('a database that cannot start for a while comes back where it was, once, when it can', {
  timeout: 300_000,
}, async () => {
  const acknowledged = [(await (await bring(200_000)).json()) as Saved]
  const { url } = postgres
  // Without this file no PostgreSQL takes the folder for one of its own.
  const version = join(folder, 'data/postgres/PG_VERSION')
  renameSync(version, `${version}-away`)
  const tried = new Set<number>()
  const tries = () => tried.add(postgres.pid!).size
  tries()
  process.kill(postgres.pid!, 'SIGKILL')
  // It is tried, and tried again.
  await expect.poll(tries, { timeout: 90_000, interval: 5 }).toBeGreaterThan(4)
  renameSync(`${version}-away`, version)
  await expect.poll(worksAgain, { timeout: 90_000 }).toBe(true)
  // Nobody tries any more: who is said to run it does run it, at the old address.
  for (let n = 0; n < 60; n++) {
    acknowledged.push((await (await bring(100)).json()) as Saved)
    expect(postgres.url).toBe(url)
    expect(() => process.kill(postgres.pid!, 0)).not.toThrow()
  }
  await allThere(acknowledged)
})

test('when there are no connections left, who asks is told so or served, and all is well afterwards', {
  timeout: 300_000,
}, async () => {
  const acknowledged: Saved[] = []
  const others: pg.Client[] = []
  // Everybody else takes what the database has, down to what it keeps for its administrators.
  const takeAll = async () => {
    for (;;) {
      const client = new pg.Client({ connectionString: postgres.url })
      client.on('error', () => {})
      try {
        await client.connect()
        others.push(client)
      } catch (error) {
        return others.length > 50 ? 'all are taken' : `${others.length} were given, then: ${error}`
      }
    }
  }
  // A database that came back a moment ago may let nobody in yet.
  await expect.poll(takeAll, { timeout: 90_000 }).toBe('all are taken')
  // Those that the server has itself are cut, so that it has to ask for others, and gets none.
  await office.owner.destroy()
  const admin = new pg.Client({ connectionString: postgres.superuserUrl })
  await admin.connect()
  const mine = others.map((client) => (client as unknown as { processID: number }).processID)
  await admin.query('select pg_terminate_backend(pid) from pg_stat_activity where usename = $1 and not pid = any($2)', [
    'jaula_app',
    mine,
  ])
  const late: pg.Client[] = []
  for (let n = 0; n < 20; n++) {
    const client = new pg.Client({ connectionString: postgres.url })
    client.on('error', () => {})
    await client.connect().then(
      () => late.push(client),
      () => {},
    )
  }
  for (const answer of await Promise.all(Array.from({ length: 30 }, () => bring(1000)))) {
    const saved = await answered(answer)
    if (saved) acknowledged.push(saved)
  }
  expect([200, 503]).toContain((await ida.ask('/api/shares')).status)
  for (const client of [...others, ...late]) await client.end().catch(() => {})
  await admin.end()
  await expect.poll(worksAgain, { timeout: 90_000 }).toBe(true)
  await allThere(acknowledged)
  office.owner = await office.owner.initialize()
})

test('a database that is killed in the middle of many saves comes back, with all that it acknowledged', {
  timeout: 300_000,
}, async () => {
  const acknowledged: Saved[] = []
  let answers = 0
  const saving = Array.from({ length: 8 }, async () => {
    for (let n = 0; n < 25; n++) {
      const saved = await answered(await bring(20_000))
      answers++
      if (saved) acknowledged.push(saved)
    }
  })
  await expect.poll(() => answers, { timeout: 90_000 }).toBeGreaterThan(20)
  process.kill(postgres.pid, 'SIGKILL')
  await Promise.all(saving)
  expect(acknowledged.length).toBeLessThan(answers)
  await expect.poll(worksAgain, { timeout: 90_000 }).toBe(true)
  await allThere(acknowledged)
})
