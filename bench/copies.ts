// Copies beside what everybody has for it: how fast they are made, checked and brought back, and whether what rots is found.
import { execFileSync } from 'node:child_process'
import { createHash, randomBytes, randomInt, randomUUID } from 'node:crypto'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import 'reflect-metadata'
import type { Saved } from '../core/contract'
import { addPerson } from '../server/accounts/service'
import { checkCopy } from '../server/copies/check'
import { copyShare } from '../server/copies/copy'
import { CopyFolder } from '../server/copies/folder'
import { restoreFrom } from '../server/copies/restore'
import { unbounded } from '../server/counts/quotas'
import { openDatabase, openOwned } from '../server/database'
import { keepVersion } from '../server/saving/keep'
import { addMember, addShare } from '../server/shares/service'
import { openContents } from '../server/storage/content'
import { moveContents } from '../server/storage/move'
import { makeDatabase } from '../server/testing'
import { campaign } from './copy-faults'
import { report } from './report'
import { takeOver } from './take-over'

const suite = 'copies'
const count = (name: string, usual: number) => Number(process.env[name] ?? usual)
const [large, small] = [count('BENCH_LARGE', 150), count('BENCH_SMALL', 2000)]
const [files, perFile] = [count('BENCH_FILES', 1000), 4]
const flips = count('BENCH_FLIPS', 300)
const strikes = count('BENCH_FAULTS', 500)
const database = await openDatabase(process.env.BENCH_DATABASE_URL!)
const contents = openContents()
const scratch = mkdtempSync(join(tmpdir(), 'jaula-copies-bench-'))
const [{ id: person }] = await database.query("select id from person where handle = 'priya'")

async function newShare(name: string): Promise<string> {
  const share = await addShare(database.manager, name)
  await addMember(database.manager, share, person, 'manage')
  return share
}
const save = (share: string, name: string, bytes: Buffer, earlier: Saved | null = null): Promise<Saved> =>
  keepVersion(database, unbounded, {
    personId: person,
    bytes,
    reason: 'saved',
    key: randomUUID(),
    target: earlier
      ? { fileId: earlier.file.id, baseId: earlier.version.id }
      : { place: { shareId: share, folderId: null, name } },
  })
const seconds = async (doing: () => unknown): Promise<number> => {
  const begun = performance.now()
  await doing()
  return (performance.now() - begun) / 1000
}
const folder = (name: string) => {
  const path = join(scratch, name)
  mkdirSync(path)
  return path
}
const copy = async (share: string, root: string) =>
  (await copyShare({ database, contents }, await CopyFolder.open(root), share, { extent: 'all' }))!
const sums = (path: string) =>
  execFileSync('sha256sum', ['-c', '--quiet', '--strict', join(path, 'sums')], { cwd: join(path, 'data') })

/** Files of one size: copied, a hundredth of them changed and copied again, and checked; beside rsync and sha256sum. */
async function rates(kind: string, number: number, size: number): Promise<string> {
  const share = await newShare(`Copies of ${kind}`)
  const plain = folder(`${kind}-plain`)
  const listed: string[] = []
  const saved: Saved[] = []
  for (let n = 0; n < number; n++) {
    const bytes = randomBytes(size)
    saved.push(await save(share, `Level ${n}.bin`, bytes))
    writeFileSync(join(plain, `Level ${n}.bin`), bytes)
    listed.push(`${createHash('sha256').update(bytes).digest('hex')}  Level ${n}.bin\n`)
  }
  // As they lie in the store after a while.
  await moveContents(database, contents)
  const there = folder(`${kind}-rsync`)
  const own = folder(`${kind}-own`)
  writeFileSync(join(there, 'sums'), listed.join(''))
  const baseline = await seconds(() => {
    execFileSync('rsync', ['-a', '--fsync', `${plain}/`, join(there, 'data')])
    sums(there)
  })
  const whole = await seconds(() => copy(share, own))
  const megabytes = (number * size) / 1e6
  const large = size >= 1e6
  report({
    suite,
    case: `copy-rate-${kind}`,
    value: (large ? megabytes : number) / whole,
    unit: large ? 'MB/s' : 'files/s',
    baseline: (large ? megabytes : number) / baseline,
    better: 'higher',
  })
  for (const one of saved.slice(0, Math.max(1, Math.round(number / 100)))) await save(share, '', randomBytes(size), one)
  const again = await seconds(() => copy(share, own))
  report({ suite, case: `changed-1-percent-${kind}`, value: again, unit: 's', baseline: whole, better: 'lower' })
  const bag = await (await CopyFolder.open(own)).within(readdirSync(own)[0]!)
  const checked = await seconds(() => checkCopy(bag))
  const summed = await seconds(() => sums(there))
  report({
    suite,
    case: `fixity-rate-${kind}`,
    value: megabytes / checked,
    unit: 'MB/s',
    baseline: megabytes / summed,
    better: 'higher',
  })
  return own
}

/** Bits of a copy change: each file that has one is found, and is made good again. */
async function rot(own: string): Promise<void> {
  const bag = await (await CopyFolder.open(own)).within(readdirSync(own)[0]!)
  const data = join(bag.root, 'data')
  const all = readdirSync(data, { recursive: true, encoding: 'utf8' }).filter((name) =>
    statSync(join(data, name)).isFile(),
  )
  const before = new Map<string, string>()
  for (let n = 0; n < flips; n++) {
    const path = join(data, all[randomInt(all.length)]!)
    const bytes = readFileSync(path)
    if (!before.has(path)) before.set(path, createHash('sha256').update(bytes).digest('hex'))
    bytes[randomInt(bytes.length)]! ^= 1 << randomInt(8)
    writeFileSync(path, bytes)
  }
  const wrong = [...before].filter(
    ([path, sum]) => createHash('sha256').update(readFileSync(path)).digest('hex') !== sum,
  )
  const { findings } = await checkCopy(bag, (sha256) => contents.read(database.manager, Buffer.from(sha256, 'hex')))
  const found = wrong.filter(([path]) => findings.some((one) => join(bag.root, one.path) === path))
  const good = wrong.filter(([path, sum]) => createHash('sha256').update(readFileSync(path)).digest('hex') === sum)
  const share = (some: unknown[]) => some.length / Math.max(1, wrong.length)
  const unit = `of ${wrong.length} files`
  report({ suite, case: 'bit-flips-found', value: share(found), unit, baseline: null, better: 'higher' })
  report({ suite, case: 'bit-flips-repaired', value: share(good), unit, baseline: null, better: 'higher' })
}

/** An office that burned comes back into an empty database, and every version is compared. */
async function restore(): Promise<void> {
  const share = await newShare('An office')
  const shape = randomBytes(6000)
  for (let n = 0; n < files; n++) {
    let saved: Saved | null = null
    for (let version = 0; version < perFile; version++) {
      const bytes = Buffer.concat([shape, Buffer.from(`${n} ${version} `.repeat(200))])
      saved = await save(share, `Inspection ${n}.bin`, bytes, saved)
    }
  }
  const root = folder('office')
  await copy(share, root)
  const name = `bench_${randomUUID().replaceAll('-', '')}`
  const { url, ownerUrl } = await makeDatabase(process.env.BENCH_DATABASE_URL!, name)
  const empty = await openDatabase(url, ownerUrl)
  const owner = await openOwned(ownerUrl)
  const taken = await seconds(async () => restoreFrom(owner, await CopyFolder.open(root)))
  report({
    suite,
    case: 'restore-office',
    value: taken / 60,
    unit: `minutes for ${files} files, ${files * perFile} versions`,
    baseline: null,
    better: 'lower',
  })
  const versions = await database.query(
    'select v.id, v.sha256 from version v join entry e on e.id = v.file_id where e.share_id = $1',
    [share],
  )
  let differ = 0
  for (const { id, sha256 } of versions) {
    const [there] = await empty.query('select sha256 from version where id = $1', [id])
    const bytes = there && (await contents.whole(empty.manager, there.sha256))
    if (!bytes || !createHash('sha256').update(bytes).digest().equals(sha256)) differ++
  }
  report({
    suite,
    case: 'versions-that-differ',
    value: differ,
    unit: `of ${versions.length}`,
    baseline: null,
    better: 'lower',
  })
  await owner.destroy()
  await empty.destroy()
}

/** A place that fails in every way, again and again, on a disk of its own where that can be had. */
async function faults(): Promise<void> {
  const mount = folder('faults')
  execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=128m', 'jaula-faults', mount])
  const { url, ownerUrl } = await makeDatabase(
    process.env.BENCH_DATABASE_URL!,
    `bench_${randomUUID().replaceAll('-', '')}`,
  )
  const own = await openDatabase(url, ownerUrl)
  try {
    const someone = await addPerson(own.manager, {
      handle: 'priya',
      name: 'Priya',
      password: randomUUID(),
      administrator: true,
    })
    const share = await addShare(own.manager, 'Waterways')
    await addMember(own.manager, share, someone.id, 'manage')
    const given = { database: own, url, share, person: someone.id }
    const { lost, faults: struck, copies } = await campaign(given, mount, strikes)
    const which = Object.entries(struck)
      .map(([kind, n]) => `${n} ${kind}`)
      .join(', ')
    const unit = `of what ${copies} copies acknowledged, after ${strikes} faults (${which})`
    report({ suite, case: 'faults-lost', value: lost, unit, baseline: null, better: 'lower' })
  } finally {
    await own.destroy()
    execFileSync('umount', ['-l', mount])
  }
}

try {
  const drive = async () =>
    takeOver({ database, contents, share: await newShare('A drive'), person }, folder('take-over'))
  if (process.env.BENCH_ONLY === 'rates') {
    await rates('1-mb', large, 1_000_000)
    await rates('20-kb', small, 20_000)
  } else if (process.env.BENCH_ONLY === 'faults') await faults()
  else if (process.env.BENCH_ONLY === 'take-over') await drive()
  else if (process.env.BENCH_ONLY === 'restore') await restore()
  else {
    await rates('1-mb', large, 1_000_000)
    await rot(await rates('20-kb', small, 20_000))
    await drive()
    await restore()
    await faults()
  }
} finally {
  rmSync(scratch, { recursive: true, force: true })
  await database.destroy()
}
