// Copies in a real folder, of a real database: valid by others' rules, finished after a kill, repaired when they rot.
import { execFileSync, spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import {
  appendFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, join } from 'node:path'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import type { FileFacts, Saved } from '../../core/contract'
import { inEnglish } from '../../core/words/in-english'
import { saidBy } from '../../core/words/said'
import { bundleServer } from '../../scripts/lib/build.mjs'
import { copiesOfFolder } from '../sql/locks'
import { type Contents, openContents } from '../storage/content'
import { openTestOffice, signInAs, type TestOffice } from '../testing'
import { checkCopy } from './check'
import { copyShare, names } from './copy'
import { CopyFolder } from './folder'
import { noteChecked, noteCopied } from './record'
import { siteAt } from './sites'

let office: TestOffice
let priya: Awaited<ReturnType<typeof signInAs>>
let scratch: string
let root: string
beforeAll(async () => {
  office = await openTestOffice()
  priya = await signInAs(office, 'priya')
  scratch = mkdtempSync(join(tmpdir(), 'jaula-copies-'))
})
afterAll(async () => {
  await office.close()
  rmSync(scratch, { recursive: true, force: true })
})
beforeEach(() => {
  root = mkdtempSync(join(scratch, 'site-'))
})

const json = async <T>(answer: Promise<Response>): Promise<T> => {
  const response = await answer
  if (!response.ok) throw new Error(await response.text())
  return (await response.json()) as T
}
const folder = (name: string, folderId: string | null = null) =>
  json<{ id: string }>(priya.json('/api/folders', 'POST', { shareId: office.share, folderId, name }))
const save = (name: string, body: string | Buffer, folderId: string | null = null) =>
  json<Saved>(
    priya.ask(
      `/api/files?shareId=${office.share}&name=${encodeURIComponent(name)}&key=${randomUUID()}${folderId ? `&folderId=${folderId}` : ''}`,
      { method: 'POST', body: body as BodyInit },
    ),
  )
const saveAgain = ({ file, version }: Saved, body: string) =>
  json<Saved>(
    priya.ask(`/api/files/${file.id}/versions?baseId=${version.id}&key=${randomUUID()}`, {
      method: 'POST',
      body,
    }),
  )
const copy = async (more: Parameters<typeof copyShare>[3] = {}) =>
  (await copyShare(
    { database: office.database, contents: openContents() },
    await CopyFolder.open(root),
    office.share,
    more,
  ))!
/** A store that is read otherwise, however it is asked. */
const reading = (read: Contents['read']): Contents => ({
  ...openContents(),
  read,
  ahead: async (manager) => (sha256) => read(manager, sha256),
})
const bag = () => join(root, 'Waterways')
const at = (path: string) => join(bag(), 'data', path)
const text = (path: string) => readFileSync(at(path), 'utf8')
/** What others say of it: the rules of the RFC, and the checksums by a program that everybody has. */
const faults = () => {
  const rules = execFileSync('/usr/bin/python3', [join(import.meta.dirname, 'rfc8493.py'), bag()], {
    encoding: 'utf8',
  }).trim()
  const sums = ['manifest-sha256.txt', 'tagmanifest-sha256.txt'].flatMap((manifest) => {
    try {
      execFileSync('sha256sum', ['-c', '--quiet', '--strict', manifest], { cwd: bag(), stdio: 'pipe' })
      return []
    } catch (error) {
      return [String((error as { stdout: Buffer }).stdout)]
    }
  })
  return [...(rules ? rules.split('\n') : []), ...sums]
}
const check = async (source = true) => {
  const contents = openContents()
  const bytesOf = (sha256: string) => contents.read(office.database.manager, Buffer.from(sha256, 'hex'))
  return checkCopy(await (await CopyFolder.open(root)).within('Waterways'), source ? bytesOf : null)
}
const refusal = (doing: Promise<unknown>) =>
  doing.then(
    () => 'done',
    (error) => inEnglish(saidBy(error)),
  )

test('a copy is files under their names, earlier versions beside them, valid for everybody, with all that is known of them', async () => {
  const tenders = await folder('Tenders')
  const year = await folder('2026', tenders.id)
  let offer = await save('Offer of Wherry.txt', 'first', year.id)
  offer = await saveAgain(offer, 'second')
  offer = await saveAgain(offer, 'third')
  await save('100 %.txt', 'per cent')
  await save('Empty.txt', '')
  const copied = await copy()
  expect(copied).toMatchObject({ files: 3, versions: 5, written: 5, moved: 0, removed: 0, unread: [], strays: [] })
  expect(faults()).toEqual([])
  expect(text('Tenders/2026/Offer of Wherry.txt')).toBe('third')
  const earlier = 'Tenders/2026/Earlier versions of Offer of Wherry.txt'
  const [one, two] = readdirSync(at(earlier)).sort()
  expect([one, two]).toEqual([
    expect.stringMatching(/^\d{4}-\d\d-\d\d \d{4} version 1 priya\.txt$/),
    expect.stringMatching(/version 2 priya\.txt$/),
  ])
  expect([text(`${earlier}/${one}`), text(`${earlier}/${two}`)]).toEqual(['first', 'second'])
  const table = readFileSync(join(bag(), names.table), 'utf8').split('\r\n')
  expect(table).toHaveLength(7)
  expect(table.find((row) => row.includes(',3,priya,'))).toMatch(
    /^Offer of Wherry\.txt,3,priya,.*,5,Tenders\/2026\/Offer of Wherry\.txt,,/,
  )
  const records = readFileSync(join(bag(), names.records), 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line))
  expect(records[0]).toMatchObject({ jaula: 1, share: office.share })
  const of = (table: string) => records.filter((one) => one.table === table).map(({ row }) => row)
  expect(of('version')).toHaveLength(5)
  expect(
    of('entry')
      .map(({ name }) => name)
      .sort(),
  ).toEqual(['100 %.txt', '2026', 'Empty.txt', 'Offer of Wherry.txt', 'Tenders'])
  // People come with their names and rights, and without what they sign in with.
  expect(
    of('person')
      .map(({ handle }) => handle)
      .sort(),
  ).toEqual(['ida', 'priya', 'tomas'])
  expect(JSON.stringify(of('person'))).not.toMatch(/password|scrypt|argon/)
  expect(
    of('access_grant')
      .map(({ role }) => role)
      .sort(),
  ).toEqual(['edit', 'manage', 'view'])

  // What is equal is not sent again; what was renamed or moved is moved there, and an earlier version goes beside.
  expect(await copy()).toMatchObject({ written: 0, moved: 0, removed: 0 })
  await json(
    priya.json('/api/acts', 'POST', { id: randomUUID(), what: 'rename', changes: [{ id: year.id, name: '2027' }] }),
  )
  await saveAgain(offer, 'fourth')
  expect(await copy()).toMatchObject({ written: 1, moved: 3, removed: 0 })
  expect(faults()).toEqual([])
  expect(text('Tenders/2027/Offer of Wherry.txt')).toBe('fourth')
  expect(existsSync(at('Tenders/2026'))).toBe(false)
  expect(await copy({ extent: 'latest' })).toMatchObject({ versions: 3, removed: 3 })
  expect(readdirSync(at('Tenders/2027'))).toEqual(['Offer of Wherry.txt'])
  expect(faults()).toEqual([])
})

test('of each file it is known which version is in which copy, and how that was found', async () => {
  const saved = await save(`Known ${randomUUID()}.txt`, 'one')
  const facts = async () => (await json<FileFacts>(priya.ask(`/api/files/${saved.file.id}`))).copies
  const before = await facts()
  const { id: siteId } = await siteAt(office.database, await CopyFolder.open(root))
  await noteCopied(office.database, siteId, await copy())
  const own = async () => (await facts()).filter(({ place }) => !before.some((one) => one.place === place))
  const place = basename(root)
  expect(await own()).toEqual([
    { place, number: 1, copiedAt: expect.any(String), checkedAt: null, faults: 0, failed: null },
  ])
  // What is saved after it is in it after the next one.
  const second = await saveAgain(saved, 'two')
  const late = await save(`Late ${randomUUID()}.txt`, 'late')
  expect(await own()).toMatchObject([{ number: 1 }])
  const lateCopies = async () => (await json<FileFacts>(priya.ask(`/api/files/${late.file.id}`))).copies
  expect((await lateCopies()).find((one) => one.place === place)).toMatchObject({ number: null })
  writeFileSync(at(saved.file.name), 'rot')
  await noteChecked(office.database, { shareId: office.share, siteId, at: new Date() }, await check(false))
  expect(await own()).toMatchObject([{ number: 1, faults: 1, checkedAt: expect.any(String) }])
  await noteCopied(office.database, siteId, await copy())
  await noteChecked(office.database, { shareId: office.share, siteId, at: new Date() }, await check())
  expect(await own()).toMatchObject([{ number: 2, faults: 0 }])
  // One that is in no copy any more is not said to be.
  await json(priya.json('/api/acts', 'POST', { id: randomUUID(), what: 'remove', changes: [{ id: second.file.id }] }))
  await noteCopied(office.database, siteId, await copy())
  const [{ n }] = await office.database.query('select count(*)::int as n from copied_file where file_id = $1', [
    second.file.id,
  ])
  expect(n).toBe(0)
})

describe('what rots', () => {
  test('is found and repaired: a bit that changed, a file that is gone; what nobody listed is left alone', async () => {
    await save(`Gates ${randomUUID()}.txt`, 'of oak')
    await copy()
    expect(await check()).toMatchObject({ findings: [], tags: [] })
    const [first, second] = readFileSync(join(bag(), names.manifest), 'utf8')
      .split('\n')
      .map((line) => line.slice(66))
    const before = readFileSync(join(bag(), second!))
    const bytes = readFileSync(join(bag(), first!))
    const rotten = Buffer.from(bytes.length ? bytes : 'x')
    rotten[0]! ^= 1
    writeFileSync(join(bag(), first!), rotten)
    rmSync(join(bag(), second!))
    writeFileSync(at('Thumbs.db'), 'of another program')
    appendFileSync(join(bag(), names.table), 'more')
    const { findings, tags } = await check()
    expect(findings).toEqual([
      { path: 'data/Thumbs.db', is: 'not listed', repaired: false },
      { path: first, is: 'wrong', repaired: true },
      { path: second, is: 'missing', repaired: true },
    ])
    expect(tags).toEqual([names.table])
    expect([readFileSync(join(bag(), first!)), readFileSync(join(bag(), second!))]).toEqual([bytes, before])
    expect(text('Thumbs.db')).toBe('of another program')
    expect((await copy()).strays).toEqual(['data/Thumbs.db'])
    rmSync(at('Thumbs.db'))
    expect(await check()).toMatchObject({ findings: [], tags: [] })
    expect(faults()).toEqual([])
  })
  test('without the store it is repaired from where the copy has the same, or told', async () => {
    const same = randomUUID()
    await save(`Twin ${same}.txt`, same)
    await save(`Twin of ${same}.txt`, same)
    const alone = (await save(`Alone ${same}.txt`, 'alone')).file.name
    await copy()
    writeFileSync(at(`Twin ${same}.txt`), 'rotten')
    writeFileSync(at(alone), 'rotten')
    const { findings } = await check(false)
    expect(findings).toContainEqual({ path: `data/Twin ${same}.txt`, is: 'wrong', repaired: true })
    expect(findings).toContainEqual({ path: `data/${alone}`, is: 'wrong', repaired: false })
    expect(text(`Twin ${same}.txt`)).toBe(same)
    // A copying believes the manifest of what it sees nothing wrong with, but never a length.
    await copy()
    expect(text(alone)).toBe('alone')
  })
})

describe('nonsense and malice', () => {
  test('a manifest that leads outside is not followed; the next copying makes a good one of what is there', async () => {
    await save(`Sluice ${randomUUID()}.txt`, 'x')
    await copy()
    const victim = join(root, 'victim.txt')
    writeFileSync(victim, 'mine')
    appendFileSync(join(bag(), names.manifest), `${'0'.repeat(64)}  data/../../victim.txt\n`)
    expect(await refusal(check())).toMatch(/^Line \d+ of the manifest leads outside the copy\.$/)
    expect(await copy()).toMatchObject({ written: 0, removed: 0 })
    expect([faults(), readFileSync(victim, 'utf8')]).toEqual([[], 'mine'])
  })
  test('a link in a copy is not followed, neither a file’s nor a folder’s', async () => {
    const inside = await folder(`Locks ${randomUUID()}`)
    const { file } = await save('Lock.txt', 'lock', inside.id)
    await copy()
    const elsewhere = mkdtempSync(join(scratch, 'elsewhere-'))
    const place = readdirSync(at('.')).find((name) => name.startsWith('Locks'))!
    rmSync(at(place), { recursive: true })
    symlinkSync(elsewhere, at(place))
    expect(await refusal(copy())).toMatch(/^data\/Locks .* is a link\. It is not followed\.$/)
    expect(await refusal(check())).toMatch(/is a link/)
    expect(readdirSync(elsewhere)).toEqual([])
    rmSync(at(place))
    mkdirSync(at(place))
    writeFileSync(join(elsewhere, 'secret'), 'secret')
    symlinkSync(join(elsewhere, 'secret'), at(`${place}/${file.name}`))
    expect(await refusal(copy())).toMatch(/is a link/)
    expect(readFileSync(join(elsewhere, 'secret'), 'utf8')).toBe('secret')
  })
  test('a folder that is not there, and one with something else in it, are refused and left as they are', async () => {
    expect(await refusal(CopyFolder.open(join(root, 'nowhere')))).toMatch(/^There is no folder .*nowhere/)
    mkdirSync(bag())
    writeFileSync(join(bag(), 'Diary.txt'), 'mine')
    expect(await refusal(copy())).toMatch(/^Waterways holds something else already\./)
    expect(readdirSync(bag())).toEqual(['Diary.txt'])
    expect(await refusal(check())).toMatch(/is no copy that Jaula made\.$/)
  })
  test('two copyings to one folder do not mix; a copy whose share was renamed goes with it', async () => {
    let release = () => {}
    const held = new Promise<void>((done) => (release = done))
    const first = copyShare(
      {
        database: office.database,
        contents: reading(async function* (manager, sha256) {
          await held
          yield* openContents().read(manager, sha256)
        }),
      },
      await CopyFolder.open(root),
      office.share,
    )
    await expect.poll(() => existsSync(join(bag(), names.underWay))).toBe(true)
    expect(await refusal(copy())).toMatch(/^Another copying to .* is under way\.$/)
    release()
    await first
    expect(faults()).toEqual([])
    renameSync(bag(), join(root, 'Old name'))
    expect(await copy()).toMatchObject({ folder: 'Waterways', written: 0 })
    expect(readdirSync(root)).toEqual(['Waterways'])
  })
  test('what the store gives damaged is told, and everything else is copied', async () => {
    const name = `Rotten ${randomUUID()}.txt`
    await save(name, randomUUID())
    const contents = openContents()
    const copied = await copyShare(
      {
        database: office.database,
        contents: reading(async function* (manager, sha256) {
          const [{ rotten }] = await office.database.query(
            'select exists(select from version v join entry e on e.id = v.file_id where v.sha256 = $1 and e.name = $2) as rotten',
            [sha256, name],
          )
          if (rotten) throw new RangeError('damaged')
          yield* contents.read(manager, sha256)
        }),
      },
      await CopyFolder.open(root),
      office.share,
    )
    expect(copied!.unread.map(({ path }) => path)).toEqual([`data/${name}`])
    expect(faults()).toEqual([])
    expect((await copy()).written).toBe(1)
  })
})

test('killed again and again while it copies: the next one finishes, and what was listed is there all the time', {
  timeout: 120_000,
}, async () => {
  const many = await folder(`Many ${randomUUID()}`)
  for (let n = 0; n < 120; n++) await save(`Level ${n}.txt`, `${n} `.repeat(8000), many.id)
  const program = join(scratch, 'copy.js')
  symlinkSync(join(import.meta.dirname, '../../node_modules'), join(scratch, 'node_modules'))
  await bundleServer('server/copy.ts', program)
  const url = (office.database.options as { url: string }).url
  let finished = false
  let cut = 0
  const held = async () => {
    const [{ n }] = await office.database.query(
      `select count(*)::int as n from pg_locks where locktype = 'advisory' and classid = $1
       and database = (select oid from pg_database where datname = current_database())`,
      [copiesOfFolder],
    )
    return n
  }
  for (const done of [0, 1, 35, 100]) {
    if (finished) break
    const child = spawn(process.execPath, [program, root], {
      env: { ...process.env, DATABASE_URL: url },
      stdio: 'ignore',
    })
    const ended = new Promise<number | null>((done) => child.once('exit', done))
    // When it has done a part, more each time; the first time when there is nothing but the folder.
    const parts = () => readdirSync(bag(), { recursive: true }).length
    const atWork = () => existsSync(bag()) && (!done || (existsSync(join(bag(), names.underWay)) && parts() > 6 + done))
    while (!atWork() && child.exitCode === null) await new Promise(setImmediate)
    child.kill('SIGKILL')
    const status = await ended
    finished = status === 0
    // What was cut off has no exit status. Its connection is given up by the database, which may take a moment.
    if (status === null) cut++
    await expect.poll(held).toBe(0)
    // What a manifest lists is so, unless the copying was about to change it.
    const manifest = existsSync(join(bag(), names.manifest)) ? readFileSync(join(bag(), names.manifest), 'utf8') : ''
    const doubted = existsSync(join(bag(), names.underWay)) ? readFileSync(join(bag(), names.underWay), 'utf8') : ''
    for (const line of manifest.split('\n').filter(Boolean))
      if (!doubted.includes(JSON.stringify(line.slice(66)))) expect(existsSync(join(bag(), line.slice(66)))).toBe(true)
  }
  expect(cut).toBeGreaterThan(2)
  const last = await copy()
  expect(last.unread).toEqual([])
  expect(faults()).toEqual([])
  expect(readdirSync(bag(), { recursive: true }).filter((name) => String(name).includes('.part'))).toEqual([])
  expect(await copy()).toMatchObject({ written: 0, moved: 0, removed: 0 })
})

test('cut off again and again while it changes: no place is said to have what it does not', async () => {
  const inside = await folder(`Cut ${randomUUID()}`)
  let level = await save('Level.txt', 'level 1', inside.id)
  const others = await Promise.all(
    Array.from({ length: 5 }, (_, n) => save(`Other ${n}.txt`, `other ${n} 1`, inside.id)),
  )
  await copy()
  // Of the same length, so that only what it holds tells one from the other.
  level = await saveAgain(level, 'level 2')
  for (const [n, other] of others.entries()) await saveAgain(other, `other ${n} 2`)
  let left = 0
  const failing = async () => {
    const contents = openContents()
    const broken = reading(async function* (manager, sha256) {
      if (left-- <= 0) throw new Error('cut off')
      yield* contents.read(manager, sha256)
    })
    await copyShare({ database: office.database, contents: broken }, await CopyFolder.open(root), office.share).then(
      () => expect('it came to its end').toBe('cut off'),
      (error) => expect(String(error)).toContain('cut off'),
    )
  }
  for (const some of [3, 0, 1, 0]) {
    left = some
    await failing()
  }
  expect(await copy()).toMatchObject({ unread: [], strays: [] })
  expect(faults()).toEqual([])
  const place = readdirSync(at('.')).find((name) => name.startsWith('Cut'))!
  expect(text(`${place}/${level.file.name}`)).toBe('level 2')
  const [earlier] = readdirSync(at(`${place}/Earlier versions of Level.txt`))
  expect(text(`${place}/Earlier versions of Level.txt/${earlier}`)).toBe('level 1')
})

test('a copying that is stopped leaves the rest to the next one, and says of nothing that it is copied', async () => {
  const many = await folder(`Stopped ${randomUUID()}`)
  for (let n = 0; n < 80; n++) await save(`Gauge ${n}.txt`, `${n}`, many.id)
  let pauses = 0
  const part = await copy({ stopped: () => pauses > 1, pause: async () => void pauses++ })
  expect(part).toMatchObject({ whole: false })
  expect(part.written).toBeLessThan(part.versions)
  expect(faults()).toEqual([])
  const rest = await copy()
  expect(rest).toMatchObject({ whole: true, written: rest.versions - part.written })
  expect(faults()).toEqual([])
})
