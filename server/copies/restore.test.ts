// After the server burned: from a copy into an empty Jaula, all that was there, as it was.
import { createHash, randomUUID } from 'node:crypto'
import { appendFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { DataSource } from 'typeorm'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import type { Copies, Saved } from '../../core/contract'
import { inEnglish } from '../../core/words/in-english'
import { saidBy } from '../../core/words/said'
import { handleOf } from '../accounts/service'
import { openDatabase, openOwned } from '../database'
import { addMember, addShare } from '../shares/service'
import { openContents } from '../storage/content'
import { makeDatabase, openTestOffice, signInAs, type TestOffice } from '../testing'
import { copyShare, names } from './copy'
import { drill, noteDrill } from './drill'
import { type Facts, factsOf } from './facts'
import { CopyFolder } from './folder'
import { restoreFrom } from './restore'
import { siteAt } from './sites'

let office: TestOffice
let root: string
let burned: { database: DataSource; owner: DataSource; name: string }
const shares: string[] = []
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())
beforeEach(async () => {
  const name = `test_${randomUUID().replaceAll('-', '')}`
  const { url, ownerUrl } = await makeDatabase(process.env.TEST_DATABASE_URL!, name)
  burned = {
    name,
    database: await openDatabase(url, ownerUrl),
    owner: await openOwned(ownerUrl),
  }
  root = mkdtempSync(join(tmpdir(), 'jaula-restore-'))
  return async () => {
    await burned.owner.destroy()
    await burned.database.destroy()
    await office.owner.query(`drop database if exists ${name} with (force)`).catch(() => {})
    rmSync(root, { recursive: true, force: true })
  }
})

const json = async <T>(answer: Promise<Response>): Promise<T> => {
  const response = await answer
  if (!response.ok) throw new Error(await response.text())
  return (await response.json()) as T
}
const refusal = (doing: Promise<unknown>) =>
  doing.then(
    () => 'done',
    (error) => inEnglish(saidBy(error)),
  )
const copyAll = async () => {
  const site = await CopyFolder.open(root)
  for (const share of shares) await copyShare({ database: office.database, contents: openContents() }, site, share)
  return site
}
const everything = (database: DataSource, share: string) => database.transaction((manager) => factsOf(manager, share))
/** Facts without their order. */
const sorted = (facts: Facts | null) => facts?.records.map((one) => JSON.stringify(one)).sort()

test('an office with folders, versions, labels, rules, counters, groups and rights comes back as it was', async () => {
  const priya = await signInAs(office, 'priya')
  const post = <T>(path: string, body: unknown) => json<T>(priya.json(path, 'POST', body))
  const { share } = office
  const folder = await post<{ id: string }>('/api/folders', { shareId: share, folderId: null, name: 'Tenders' })
  const inner = await post<{ id: string }>('/api/folders', { shareId: share, folderId: folder.id, name: '2026' })
  const save = (name: string, body: string, where = inner.id) =>
    json<Saved>(
      priya.ask(`/api/files?shareId=${share}&folderId=${where}&name=${name}&key=${randomUUID()}`, {
        method: 'POST',
        body,
      }),
    )
  const again = ({ file, version }: Saved, body: string) =>
    json<Saved>(
      priya.ask(`/api/files/${file.id}/versions?baseId=${version.id}&key=${randomUUID()}`, { method: 'POST', body }),
    )
  const first = await save('Offer.txt', 'first')
  let offer = await again(first, 'second')
  offer = await again(offer, 'third')
  await save('Same.txt', 'third', folder.id)
  const large = await save('Large.txt', randomUUID().repeat(400_000))
  const removed = await save('Removed.txt', 'gone')
  await post('/api/acts', {
    id: randomUUID(),
    what: 'rename',
    changes: [{ id: offer.file.id, name: 'Offer of Wherry.txt' }],
  })
  await post('/api/acts', { id: randomUUID(), what: 'remove', changes: [{ id: removed.file.id }] })
  const rules = {
    parts: [
      { id: 'n', kind: 'counter', label: 'Number', separator: '', optional: false, digits: 3, begin: 1, scope: 'all' },
    ],
    folders: [],
  }
  // What a manager sets, straight: its screens are tested elsewhere.
  const database = office.owner
  const [{ id: person }] = await database.query("select id from person where handle = 'priya'")
  const [convention, group] = [randomUUID(), randomUUID()]
  await database.query('insert into convention (id, share_id, folder_id, name) values ($1, $2, $3, $4)', [
    convention,
    share,
    folder.id,
    'Tenders',
  ])
  await database.query(
    'insert into convention_version (convention_id, number, rules, author_id, since) values ($1, 1, $2, $3, now())',
    [convention, rules, person],
  )
  await database.query("insert into counter (convention_id, scope, next) values ($1, '', 42)", [convention])
  await database.query("insert into counter_number (convention_id, scope, number, file_id) values ($1, '', 41, $2)", [
    convention,
    offer.file.id,
  ])
  await database.query("insert into kept_version (version_id, label, person_id) values ($1, 'Sent to Wherry', $2)", [
    first.version.id,
    person,
  ])
  await database.query(
    "insert into controlled_list (id, share_id, name, name_key, values, revision, changed_by, changed_at) values ($1, $2, 'Locks', 'locks', '[]', 1, $3, now())",
    [randomUUID(), share, person],
  )
  await database.query("insert into retention_hold (entry_id, person_id, why) values ($1, $2, 'Inquiry')", [
    inner.id,
    person,
  ])
  await database.query('insert into place_protection (id, share_id, folder_id, interval) values ($1, $2, $3, 20)', [
    randomUUID(),
    share,
    folder.id,
  ])
  await database.query(
    "insert into person_group (id, name, name_key, created_at) values ($1, 'Lock keepers', 'lock keepers', now())",
    [group],
  )
  await database.query('insert into group_member (id, group_id, person_id) values ($1, $2, $3)', [
    randomUUID(),
    group,
    office.people.ben,
  ])
  await database.query('insert into realm (id, share_id, entry_id, closed) values ($1, $2, $1, true)', [
    folder.id,
    share,
  ])
  await database.query(
    "insert into access_grant (id, realm_id, group_id, role, given_by, given_at) values ($1, $2, $3, 'view', $4, now())",
    [randomUUID(), folder.id, group, person],
  )
  shares.push(share)
  const other = await addShare(office.database.manager, 'Finance')
  shares.push(other)

  const site = await copyAll()
  const restored = await restoreFrom(burned.owner, site)
  expect(restored).toMatchObject({ shares: ['Finance', 'Waterways'], files: 3, versions: 5 })
  for (const one of shares) {
    const [before, after] = [await everything(office.database, one), await everything(burned.database, one)]
    expect(sorted(after)).toEqual(sorted(before))
    expect(before!.records.length).toBeGreaterThan(0)
  }
  // Each version's bytes are what they were, in the store of the new one.
  const contents = openContents()
  const versions = await office.database.query(
    'select v.id, v.sha256 from version v join entry e on e.id = v.file_id where e.removed_at is null',
  )
  expect(versions).toHaveLength(5)
  for (const { id, sha256 } of versions) {
    const [there] = await burned.database.query('select sha256 from version where id = $1', [id])
    const [was, is] = [
      await contents.whole(office.database.manager, sha256),
      await contents.whole(burned.database.manager, there.sha256),
    ]
    expect(is.equals(was)).toBe(true)
  }
  expect(large.version.size).toBeGreaterThan(8 << 20)
  // Rights hold as they did: the folder lets in its group, and nobody else from above but who manages.
  const may = async (database: DataSource) =>
    (
      await database.query(
        'select r.realm_id, r.subject_id, r.rank from realm_right r join realm m on m.id = r.realm_id where m.share_id = $1 order by 1, 2, 3',
        [share],
      )
    ).map((row: object) => JSON.stringify(row))
  expect(await may(burned.database)).toEqual(await may(office.database))
  // The next number is the next number, and people sign in with what they were given.
  expect(await burned.database.query('select next from counter')).toEqual([{ next: '42' }])
  expect(restored.passwords.map(({ handle }) => handleOf(handle)).sort()).toEqual(['ben', 'ida', 'priya', 'tomas'])
  // A second time there is something there already.
  expect(await refusal(restoreFrom(burned.owner, site))).toBe(
    'This Jaula has people or files already. Copies are brought back into an empty one only.',
  )
})

test('a copy that is damaged, or that somebody made nonsense of, brings back nothing at all', async () => {
  const site = await copyAll()
  const nothing = async () => {
    const [{ n }] = await burned.owner.query(
      'select (select count(*) from share) + (select count(*) from person) + (select count(*) from content) as n',
    )
    expect(Number(n)).toBe(0)
  }
  const place = (name: string) => join(root, 'Waterways', name)
  const offer = place('data/Tenders/2026/Offer of Wherry.txt')
  const [bytes, records, manifest] = [offer, place(names.records), place(names.manifest)].map((one) =>
    readFileSync(one),
  )
  writeFileSync(offer, 'thirt')
  writeFileSync(place('data/Tenders/Same.txt'), 'thirt')
  const said = await refusal(restoreFrom(burned.owner, site))
  expect(said).toMatch(/^2 versions are not in the copies as saved, so nothing was brought back\./)
  expect(said).toMatch(/Damaged or missing: data\/Tenders\/2026\/Offer of Wherry\.txt and data\/Tenders\/Same\.txt\.$/)
  await nothing()
  writeFileSync(offer, bytes!)
  for (const line of ['nonsense', '{"table":"session","row":{}}', '{"table":"person; drop table person","row":{}}']) {
    writeFileSync(place(names.records), records!)
    appendFileSync(place(names.records), `${line}\n`)
    expect(await refusal(restoreFrom(burned.owner, site))).toMatch(/is no copy that Jaula made\.$/)
    await nothing()
  }
  writeFileSync(place(names.records), records!)
  appendFileSync(place(names.manifest), `${'0'.repeat(64)}  data/../../../etc/passwd\n`)
  expect(await refusal(restoreFrom(burned.owner, site))).toMatch(/leads outside the copy/)
  await nothing()
  writeFileSync(place(names.manifest), manifest!)
  // One good place is enough for what lies in two.
  expect(await restoreFrom(burned.owner, site)).toMatchObject({ versions: 5 })
})

test('what moved to another share between two copyings comes back once, where the later copy has it', async () => {
  const [from, to] = shares
  const site = await copyAll()
  await addMember(office.database.manager, to!, office.people.priya, 'manage')
  const priya = await signInAs(office, 'priya')
  const [{ id }] = await office.database.query("select id from entry where name = '2026' and share_id = $1", [from])
  const moving = { id: randomUUID(), what: 'move', changes: [{ id, shareId: to, folderId: null }] }
  await json(priya.json('/api/acts', 'POST', moving))
  await copyShare({ database: office.database, contents: openContents() }, site, to!)
  expect(await restoreFrom(burned.owner, site)).toMatchObject({ files: 3, versions: 5 })
  const places = async (database: DataSource) =>
    (await database.query('select id, share_id, folder_id, name from entry where removed_at is null order by id')).map(
      (row: object) => JSON.stringify(row),
    )
  expect(await places(burned.database)).toEqual(await places(office.database))
})

test('of a copy that holds less than all what it holds comes back, and goes on from there', async () => {
  const site = await CopyFolder.open(root)
  for (const share of shares)
    await copyShare({ database: office.database, contents: openContents() }, site, share, { extent: 'kept' })
  const restored = await restoreFrom(burned.owner, site)
  const held = (database: DataSource) =>
    database.query(
      `select v.id, v.number, e.head_version_id = v.id as is_head, k.label from version v join entry e on e.id = v.file_id
       left join kept_version k on k.version_id = v.id where e.removed_at is null order by v.id`,
    ) as Promise<{ id: string; is_head: boolean; label: string | null }[]>
  const kept = (await held(office.database)).filter(({ is_head, label }) => is_head || label !== null)
  expect(await held(burned.database)).toEqual(kept)
  expect(restored.versions).toBe(kept.length)
  expect(kept.some(({ is_head, label }) => !is_head && label === 'Sent to Wherry')).toBe(true)
})

test('what meets another of its name by what moved between two copyings comes back beside it', async () => {
  const [from, to] = shares
  const priya = await signInAs(office, 'priya')
  const post = <T>(path: string, body: unknown) => json<T>(priya.json(path, 'POST', body))
  const act = (change: object) => post('/api/acts', { id: randomUUID(), what: 'move', changes: [change] })
  const save = (share: string, folder: string, body: string) =>
    json<Saved>(
      priya.ask(`/api/files?shareId=${share}&folderId=${folder}&name=Gauge.txt&key=${randomUUID()}`, {
        method: 'POST',
        body,
      }),
    )
  const place = await post<{ id: string }>('/api/folders', { shareId: from, folderId: null, name: 'Gauges' })
  const first = await save(from!, place.id, 'first')
  const site = await copyAll()
  await act({ id: place.id, shareId: to, folderId: null })
  await act({ id: first.file.id, shareId: from, folderId: null })
  const second = await save(to!, place.id, 'second')
  await copyShare({ database: office.database, contents: openContents() }, site, to!)
  const { settled } = await restoreFrom(burned.owner, site)
  expect(settled).toEqual([{ name: 'Gauge.txt', now: 'Gauge 2.txt' }])
  const there = await burned.database.query(
    'select id, name, folder_id, share_id from entry where id = any($1) order by name',
    [[first.file.id, second.file.id]],
  )
  expect(there).toEqual([
    { id: first.file.id, name: 'Gauge 2.txt', folder_id: place.id, share_id: to },
    { id: second.file.id, name: 'Gauge.txt', folder_id: place.id, share_id: to },
  ])
})

test('a trial brings everything back beside ours, and tells what differs, or why nothing came back', async () => {
  const site = await copyAll()
  const { id } = await siteAt(office.database, site)
  const [{ versions }] = await office.database.query(
    'select count(*)::int as versions from version v join entry e on e.id = v.file_id where e.removed_at is null',
  )
  const well = await drill(office.database, openContents(), site, burned)
  expect(well).toMatchObject({ versions, differ: 0, failure: null })
  await noteDrill(office.database, id, well)
  // Into a database that is not empty nothing is brought back, and that is a trial that went wrong.
  const again = await drill(office.database, openContents(), site, burned)
  expect(again).toMatchObject({ versions: 0, failure: { say: 'copies.not-empty' } })
  const priya = await signInAs(office, 'priya')
  const last = async () => (await json<Copies>(priya.ask('/api/copies'))).sites.find((one) => one.id === id)?.drill
  expect(await last()).toMatchObject({ versions, differ: 0, failure: null })
  await noteDrill(office.database, id, { ...again, at: new Date(Date.now() + 1000) })
  expect(await last()).toMatchObject({ versions: 0, failure: { say: 'copies.not-empty' } })
})

test('a trial finds what a copy says of itself and is not what ours has', async () => {
  const site = await copyAll()
  // Somebody wrote over a file of the copy, and made its manifest and its records fit.
  const bag = join(root, 'Waterways')
  const [manifest, records] = [names.manifest, names.records].map((name) => readFileSync(join(bag, name), 'utf8'))
  const was = manifest!.slice(0, 64)
  const is = createHash('sha256').update('forged').digest('hex')
  for (const line of manifest!.split('\n')) if (line.startsWith(was)) writeFileSync(join(bag, line.slice(66)), 'forged')
  writeFileSync(join(bag, names.manifest), manifest!.replaceAll(was, is))
  writeFileSync(join(bag, names.records), records!.replaceAll(was, is))
  const drilled = await drill(office.database, openContents(), site, burned)
  expect(drilled.failure).toBeNull()
  expect(drilled.differ).toBeGreaterThan(0)
})
