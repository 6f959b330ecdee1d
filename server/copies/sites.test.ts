// Places for copies, as the server keeps them by itself: by plans, known by their identity files, in real folders.
import { randomUUID } from 'node:crypto'
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from 'vitest'
import type { Copies, CopyPreview, FileFacts, Saved } from '../../core/contract'
import { type CopyPlan, usualPlan } from '../../core/copies/plan'
import { addPerson } from '../accounts/service'
import { openContents } from '../storage/content'
import { openTestOffice, password, signInAs, type TestOffice } from '../testing'
import { keepCopies } from './by-itself'
import { CopyPlanRow, CopySiteRow, ShareCopyRow } from './entity'
import { CopyFolder } from './folder'
import { setPlan } from './plans'
import { addDrive, nameSites, siteAt } from './sites'

const day = 86_400_000
let office: TestOffice
let priya: Awaited<ReturnType<typeof signInAs>>
let admin: Awaited<ReturnType<typeof signInAs>>
let scratch: string
let root: string
beforeAll(async () => {
  office = await openTestOffice()
  priya = await signInAs(office, 'priya')
  await addPerson(office.database.manager, { handle: 'admin', name: 'admin', password, administrator: true })
  admin = await signInAs(office, 'admin')
  scratch = mkdtempSync(join(tmpdir(), 'jaula-sites-'))
})
afterAll(async () => {
  await office.close()
  rmSync(scratch, { recursive: true, force: true })
})
beforeEach(() => {
  root = mkdtempSync(join(scratch, 'places-'))
})
afterEach(async () => {
  await office.owner.query('delete from copy_site')
})

const json = async <T>(answer: Promise<Response>): Promise<T> => {
  const response = await answer
  if (!response.ok) throw new Error(await response.text())
  return (await response.json()) as T
}
const save = (name: string, body: string) =>
  json<Saved>(
    priya.ask(`/api/files?shareId=${office.share}&name=${encodeURIComponent(name)}&key=${randomUUID()}`, {
      method: 'POST',
      body,
    }),
  )
const saveAgain = ({ file, version }: Saved, body: string) =>
  json<Saved>(
    priya.ask(`/api/files/${file.id}/versions?baseId=${version.id}&key=${randomUUID()}`, { method: 'POST', body }),
  )
const place = (name: string) => {
  const path = join(root, name)
  mkdirSync(path, { recursive: true })
  return path
}
let faults: unknown[] = []
const keep = (folders: readonly string[], now = new Date(), drives: readonly string[] = []) => {
  faults = []
  return keepCopies(
    { database: office.database, contents: openContents() },
    { folders, drives },
    { now, onFault: (error) => faults.push(error) },
  )
}
const siteOf = (folder: string) => office.database.manager.findOneByOrFail(CopySiteRow, { folder })
const copyAt = (siteId: string) =>
  office.database.manager.findOneByOrFail(ShareCopyRow, { siteId, shareId: office.share })
const why = async (siteId: string) => {
  const { failure } = await copyAt(siteId)
  return failure && (JSON.parse(failure) as { say: string }).say
}
const copies = () => json<Copies>(admin.ask('/api/copies'))
const standingAt = async (siteId: string) => {
  const { sites } = await copies()
  return sites.find(({ id }) => id === siteId)!.shares.find(({ shareId }) => shareId === office.share)!
}
/** What never changes is changed by the owner of the database, as time and rot would. */
const unguarded = async (sql: string) => {
  const table = /(?:update|from) (\w+)/.exec(sql)![1]
  await office.owner.query(
    `alter table ${table} disable trigger user; ${sql}; alter table ${table} enable trigger user`,
  )
}
const named = (folders: readonly string[]) => nameSites(office.database, folders, { hours: 24, days: 7 })

test('copies are made and read again by themselves when it is time, and what fails is told on them until it works', async () => {
  const saved = await save(`Kept ${randomUUID()}.txt`, 'kept')
  const gone = join(root, 'drive')
  const network = join(root, 'network')
  mkdirSync(network)
  await named([network, gone])
  const begun = Date.now()
  const told: unknown[] = []
  const keepFor = async (after: number) => {
    const done = await keep([network, gone], new Date(begun + after))
    told.push(...faults)
    return done
  }
  const copiesOf = async () =>
    (await json<FileFacts>(priya.ask(`/api/files/${saved.file.id}`))).copies.filter(({ place }) =>
      /^(?:drive|network)$/.test(place),
    )
  expect(await keepFor(0)).toBe(1)
  const failed = {
    since: new Date(begun).toISOString(),
    why: { say: 'copies.not-there' },
  }
  const none = { number: null, copiedAt: null, checkedAt: null, faults: 0 }
  const moment = (after: number) => new Date(begun + after).toISOString()
  const kept = { place: 'network', number: 1, copiedAt: moment(0), checkedAt: moment(0), faults: 0, failed: null }
  expect(await copiesOf()).toEqual([kept, { place: 'drive', ...none, failed }])
  expect(told).toHaveLength(1)
  // What failed is tried each time, and told of once; what is not due is left.
  expect(await keepFor(day / 2)).toBe(0)
  expect(told).toHaveLength(1)
  await saveAgain(saved, 'kept on')
  mkdirSync(gone)
  expect(await keepFor(2 * day)).toBe(2)
  expect(await copiesOf()).toMatchObject([
    { place: expect.any(String), number: 2, copiedAt: moment(2 * day), failed: null },
    { place: expect.any(String), number: 2, copiedAt: moment(2 * day), failed: null },
  ])
  writeFileSync(join(network, 'Waterways/data', saved.file.name), 'kept oN')
  expect(await keepFor(2.5 * day)).toBe(0)
  expect(await keepFor(8 * day)).toBe(2)
  expect(told).toHaveLength(2)
  expect(String(told[1])).toContain('1 files of the copy Waterways')
  expect(readFileSync(join(network, 'Waterways/data', saved.file.name), 'utf8')).toBe('kept on')
  expect((await copiesOf()).map(({ faults }) => faults)).toEqual([0, 0])
})

test('a place is known by its identity: an empty folder where one was, or another one, is left as it is', async () => {
  const network = place('network')
  await named([network])
  await save(`Identity ${randomUUID()}.txt`, 'one')
  expect(await keep([network])).toBe(1)
  const { id } = await siteOf(network)
  expect(JSON.parse(readFileSync(join(network, 'jaula-site.json'), 'utf8'))).toEqual({ site: id })
  // As when the computer's storage is not mounted there any more.
  renameSync(network, join(root, 'away'))
  mkdirSync(network)
  expect(await keep([network], new Date(Date.now() + 2 * day))).toBe(0)
  expect([await why(id), readdirSync(network)]).toEqual(['copies.identity-gone', []])
  // Another place of that name.
  writeFileSync(join(network, 'jaula-site.json'), JSON.stringify({ site: randomUUID() }))
  await keep([network], new Date(Date.now() + 2 * day))
  expect([await why(id), readdirSync(network)]).toEqual(['copies.identity-other', ['jaula-site.json']])
  for (const nonsense of ['no json', '{"site":"../other"}', 'x'.repeat(100_000)]) {
    writeFileSync(join(network, 'jaula-site.json'), nonsense)
    await keep([network], new Date(Date.now() + 2 * day))
    expect(await why(id)).toBe('copies.identity-unreadable')
  }
  rmSync(network, { recursive: true })
  renameSync(join(root, 'away'), network)
  expect(await keep([network], new Date(Date.now() + 2 * day))).toBe(1)
  expect(await why(id)).toBeNull()
  // The server may not write there any more.
  expect(await keep([], new Date(Date.now() + 4 * day))).toBe(0)
  expect(await why(id)).toBe('copies.not-named')
})

test('a place of a Jaula that is gone stays the one it was for the next one', async () => {
  const network = place('network')
  const site = randomUUID()
  writeFileSync(join(network, 'jaula-site.json'), JSON.stringify({ site }))
  await named([network])
  await named([network])
  expect(await siteOf(network)).toMatchObject({ id: site, name: 'network' })
  expect(await office.database.manager.countBy(CopyPlanRow, { siteId: site })).toBe(1)
  // A plan that somebody ended is not made again at the next start.
  await setPlan(office.database.manager, office.people.priya, { siteId: site, shareId: null, plan: null })
  await named([network])
  expect(await office.database.manager.countBy(CopyPlanRow, { siteId: site })).toBe(0)
  expect(await siteAt(office.database, await CopyFolder.open(network))).toMatchObject({ id: site })
})

test('a drive is known under whatever name it comes back; while it is away nothing fails, and it is late in the end', async () => {
  const drives = place('drives')
  place('drives/Blue drive')
  const reachable = { folders: [], drives: [drives] }
  await expect(addDrive(office.database, office.people.priya, 'Red drive', reachable)).rejects.toThrow('not-there')
  const site = await addDrive(office.database, office.people.priya, 'Blue drive', reachable)
  await expect(addDrive(office.database, office.people.priya, 'Blue drive', reachable)).rejects.toThrow(
    'a-site-already',
  )
  const saved = await save(`Drive ${randomUUID()}.txt`, 'one')
  const now = Date.now() + 1000
  expect(await keep([], new Date(now), [drives])).toBe(1)
  renameSync(join(drives, 'Blue drive'), join(root, 'in a pocket'))
  await saveAgain(saved, 'two')
  expect(await keep([], new Date(now + 2 * day), [drives])).toBe(0)
  expect([faults, await why(site.id)]).toEqual([[], null])
  expect(await standingAt(site.id)).toMatchObject({ late: false, openSince: expect.any(String) })
  const alarms = (later: number) =>
    office.database.query(`update share_copy set copied_at = copied_at - make_interval(hours => $1)`, [later])
  await alarms(48)
  expect(await json(admin.ask('/api/copies/alarms'))).toEqual([{ siteId: site.id, site: 'Blue drive', is: 'late' }])
  renameSync(join(root, 'in a pocket'), join(drives, 'BLUE (2)'))
  expect(await keep([], new Date(now + 3 * day), [drives])).toBe(1)
  expect(readFileSync(join(drives, 'BLUE (2)/Waterways/data', saved.file.name), 'utf8')).toBe('two')
  expect(await json(admin.ask('/api/copies/alarms'))).toEqual([])
  // A drive that nobody named a place is left alone, and offered.
  place('drives/Green drive')
  expect(await keep([], new Date(now + 5 * day), [drives])).toBe(1)
  expect(readdirSync(join(drives, 'Green drive'))).toEqual([])
})

test('what a plan is said to copy is what is copied, and what is said to be there is what is there', async () => {
  const network = place('network')
  await named([network])
  const { id: siteId } = await siteOf(network)
  const now = Date.now() + 5000
  for (let n = 0; n < 4; n++) {
    let saved = await save(`Planned ${n} ${randomUUID()}.txt`, `${n} 0`)
    for (let again = 1; again < 5; again++) {
      saved = await saveAgain(saved, `${n} ${again}`)
      if (again === n)
        await json(priya.json(`/api/versions/${saved.version.id}/label`, 'PUT', { label: 'Approved' })).catch(() => {})
    }
  }
  // Versions of all ages: they never change, so the owner of the database sets the clock back.
  await unguarded(`update version set at = now() - make_interval(days => (10 * number)::int) where number < 5`)
  const plan = fc.record({
    extent: fc.constantFrom('latest' as const, 'kept' as const, 'all' as const),
    backDays: fc.option(fc.integer({ min: 1, max: 50 })),
  })
  let later = 0
  await fc.assert(
    fc.asyncProperty(plan, async (part) => {
      const whole: CopyPlan = { ...usualPlan, ...part, hours: 0 }
      const asked = { siteId, shareId: office.share, plan: whole }
      const before = await json<CopyPreview>(admin.json('/api/copies/plans/preview', 'POST', asked))
      await setPlan(office.database.manager, office.people.priya, asked)
      await office.database.query("update copy_plan set set_at = now() + interval '1 day'")
      await keep([network], new Date(now + 2 * later++))
      const payload = readFileSync(join(network, 'Waterways/manifest-sha256.txt'), 'utf8').trim().split('\n').length
      expect(payload).toBe(before.versions)
      const { covered, versions, late } = await standingAt(siteId)
      expect({ covered, versions, late }).toEqual({ covered: payload, versions: payload, late: false })
      expect(await json<CopyPreview>(admin.json('/api/copies/plans/preview', 'POST', asked))).toMatchObject({
        versions: payload,
        there: { versions: payload, bytes: before.bytes },
        seconds: 0,
      })
      const { loss } = await copies()
      expect(loss.ofVersions - loss.versions).toBe(payload)
    }),
    { numRuns: 12 },
  )
})

test('a copy after each change is made after a change, and only then; another one when the plan is another', async () => {
  const network = place('network')
  await named([network])
  const { id: siteId } = await siteOf(network)
  const plan: CopyPlan = { ...usualPlan, hours: 0 }
  const set = (next: CopyPlan | null) => priya.json('/api/copies/plans', 'PUT', { siteId, shareId: null, plan: next })
  expect((await set(plan)).status).toBe(403)
  expect((await admin.json('/api/copies/plans', 'PUT', { siteId, shareId: null, plan })).status).toBe(204)
  // What is saved while it is copied counts as changed for some minutes more.
  const at = (minutes: number) => new Date(Date.now() + minutes * 60_000)
  expect(await keep([network], at(5))).toBe(1)
  expect(await keep([network], at(10))).toBe(0)
  const saved = await save(`Each ${randomUUID()}.txt`, 'one')
  await unguarded(`update version set at = now() + interval '11 minutes' where id = '${saved.version.id}'`)
  expect(await keep([network], at(14))).toBe(1)
  expect(existsSync(join(network, 'Waterways/data', saved.file.name))).toBe(true)
  expect(await keep([network], at(20))).toBe(0)
  // A folder that is made or a name that is changed is a change, too.
  await json(
    priya.json('/api/acts', 'POST', {
      id: randomUUID(),
      what: 'rename',
      changes: [{ id: saved.file.id, name: `Renamed ${saved.file.name}` }],
    }),
  )
  await unguarded("update act set at = now() + interval '21 minutes' where at > now() - interval '1 minute'")
  expect(await keep([network], at(25))).toBe(1)
  expect(existsSync(join(network, 'Waterways/data', `Renamed ${saved.file.name}`))).toBe(true)
  // Asked for, it is made before it is due; nothing that is not planned is.
  expect((await admin.json('/api/copies/ask', 'POST', { siteId, shareId: office.share, check: true })).status).toBe(204)
  expect((await standingAt(siteId)).wanted).toBe(true)
  expect(await keep([network], at(30))).toBe(1)
  expect((await standingAt(siteId)).wanted).toBe(false)
  const nothing: CopyPlan = { ...plan, extent: 'nothing' }
  await admin.json('/api/copies/plans', 'PUT', { siteId, shareId: office.share, plan: nothing })
  expect(await keep([network], at(2000))).toBe(0)
  const refused = await admin.json('/api/copies/ask', 'POST', { siteId, shareId: office.share, check: false })
  expect(refused.status).toBe(404)
})

test('what rots in the store and at one place is had from another; what was found stays until somebody has seen it', async () => {
  const [one, two] = [place('one'), place('two')]
  await named([one, two])
  const saved = await save(`Rot ${randomUUID()}.txt`, 'whole as it was')
  await keep([one, two])
  const first = await siteOf(one)
  const path = join(one, 'Waterways/data', saved.file.name)
  writeFileSync(path, 'whole as it waS')
  await unguarded(`delete from content_block where sha256 = decode('${saved.version.sha256}', 'hex')`)
  await office.database.manager.update(ShareCopyRow, { siteId: first.id, shareId: office.share }, { checkWanted: true })
  await keep([one, two], new Date(Date.now() + 60_000))
  expect(readFileSync(path, 'utf8')).toBe('whole as it was')
  const { findings } = await copies()
  expect(findings).toMatchObject([{ site: 'one', path: `data/${saved.file.name}`, is: 'wrong', repaired: true }])
  // Nothing is left to have it from.
  for (const folder of [one, two]) writeFileSync(join(folder, 'Waterways/data', saved.file.name), 'rot')
  await office.database.query('update share_copy set check_wanted = true')
  await keep([one, two], new Date(Date.now() + 120_000))
  const found = await copies()
  expect(found.findings.filter(({ repaired }) => !repaired)).toHaveLength(2)
  // Said to be there, and damaged at each place: that is not said to be safe.
  expect(found.loss).toMatchObject({ versions: 0, doubtful: found.loss.ofVersions })
  expect(await json(admin.ask('/api/copies/alarms'))).toMatchObject([
    { site: 'one', is: 'damaged' },
    { site: 'two', is: 'damaged' },
  ])
  // Found again it is not told of again; a viewer sees none of the names.
  await office.database.query('update share_copy set check_wanted = true')
  await keep([one, two], new Date(Date.now() + 180_000))
  expect((await copies()).findingsInAll).toBe(3)
  const tomas = await signInAs(office, 'tomas')
  expect((await json<Copies>(tomas.ask('/api/copies'))).findings).toEqual([])
  const ids = found.findings.map(({ id }) => id)
  await tomas.json('/api/copies/findings/seen', 'POST', { ids })
  expect((await copies()).findingsInAll).toBe(3)
  await priya.json('/api/copies/findings/seen', 'POST', { ids })
  expect((await copies()).findingsInAll).toBe(0)
  await office.database.query('delete from version_change where false')
})

test('to others than administrators only what is theirs is told, and never where the server has it', async () => {
  const network = place('network')
  await named([network])
  await keep([network])
  const of = async (who: { ask: typeof admin.ask }) => (await json<Copies>(who.ask('/api/copies'))).sites
  expect(await of(admin)).toMatchObject([{ folder: network, shares: [{ shareId: office.share }] }])
  expect(await of(priya)).toMatchObject([{ folder: null, shares: [{ shareId: office.share }] }])
  expect(await of(await signInAs(office, 'ben'))).toMatchObject([{ folder: null, shares: [] }])
})

test('a copy that somebody took away is not said to be there: the next reading tells, and it is made again', async () => {
  const network = place('network')
  await named([network])
  await save(`Gone ${randomUUID()}.txt`, 'there')
  await keep([network])
  const { id } = await siteOf(network)
  // What an earlier test took out of the store is in no copy.
  const { versions: without, ofVersions } = (await copies()).loss
  expect(without).toBeLessThan(ofVersions)
  rmSync(join(network, 'Waterways'), { recursive: true })
  await office.database.manager.update(ShareCopyRow, { siteId: id }, { checkWanted: true })
  await keep([network], new Date(Date.now() + 60_000))
  const { loss } = await copies()
  expect([await why(id), loss.versions]).toEqual(['copies.copy-gone', loss.ofVersions])
  expect(await keep([network], new Date(Date.now() + 120_000))).toBe(1)
  expect([await why(id), (await copies()).loss.versions]).toEqual([null, without])
})
