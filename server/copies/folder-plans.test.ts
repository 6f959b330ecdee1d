// Plans for single folders: what each says is copied is what is copied, nearest folder first, and no more of the others.
import { randomUUID } from 'node:crypto'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { Copies, CopyPreview, CopyStanding, Entry, Saved } from '../../core/contract'
import { type CopyPlan, usualPlan } from '../../core/copies/plan'
import { addPerson } from '../accounts/service'
import { openDatabase, openOwned } from '../database'
import { openRealm } from '../rights/service'
import { addMember, addShare } from '../shares/service'
import { openContents } from '../storage/content'
import { makeDatabase, openTestOffice, password, signInAs, type TestOffice } from '../testing'
import { keepCopies } from './by-itself'
import { CopySiteRow } from './entity'
import { CopyFolder } from './folder'
import { restoreFrom } from './restore'
import { nameSites } from './sites'

let office: TestOffice
let priya: Awaited<ReturnType<typeof signInAs>>
let admin: Awaited<ReturnType<typeof signInAs>>
let network: string
let siteId: string
/** Folders by what they are called: Tenders, 2026 and Drafts in it, Letters in Drafts. */
const folders: Record<string, string> = {}
beforeAll(async () => {
  office = await openTestOffice()
  priya = await signInAs(office, 'priya')
  await addPerson(office.database.manager, { handle: 'admin', name: 'admin', password, administrator: true })
  admin = await signInAs(office, 'admin')
  network = join(mkdtempSync(join(tmpdir(), 'jaula-folder-plans-')), 'network')
  mkdirSync(network)
  await nameSites(office.database, [network], { hours: 24, days: 7 })
  siteId = (await office.database.manager.findOneByOrFail(CopySiteRow, { folder: network })).id
  for (const [name, parentId] of [
    ['Tenders', null],
    ['2026', 'Tenders'],
    ['Drafts', 'Tenders'],
    ['Letters', 'Drafts'],
  ] as const) {
    const { id } = await json<Entry>(
      priya.json('/api/folders', 'POST', {
        shareId: office.share,
        folderId: parentId && folders[parentId],
        name,
      }),
    )
    folders[name] = id
  }
  for (const where of [null, 'Tenders', '2026', 'Drafts', 'Letters']) {
    let saved = await save(`In ${where}.txt`, `${where} 1`, where && folders[where]!)
    for (const n of [2, 3])
      saved = await json<Saved>(
        priya.ask(`/api/files/${saved.file.id}/versions?baseId=${saved.version.id}&key=${randomUUID()}`, {
          method: 'POST',
          body: `${where} ${n}`,
        }),
      )
  }
})
afterAll(async () => {
  await office.close()
  rmSync(join(network, '..'), { recursive: true, force: true })
})

const json = async <T>(answer: Promise<Response>): Promise<T> => {
  const response = await answer
  if (!response.ok) throw new Error(await response.text())
  return (response.status === 204 ? undefined : await response.json()) as T
}
const save = (name: string, body: string, folderId: string | null) =>
  json<Saved>(
    priya.ask(
      `/api/files?shareId=${office.share}&name=${encodeURIComponent(name)}&key=${randomUUID()}${folderId ? `&folderId=${folderId}` : ''}`,
      { method: 'POST', body },
    ),
  )
const put = (folder: string | null, plan: CopyPlan | null, by = admin) =>
  by.json('/api/copies/plans', 'PUT', {
    siteId,
    shareId: office.share,
    folderId: folder && folders[folder],
    plan,
  })
const preview = (folder: string | null, plan: CopyPlan) =>
  json<CopyPreview>(
    admin.json('/api/copies/plans/preview', 'POST', {
      siteId,
      shareId: office.share,
      folderId: folder && folders[folder],
      plan,
    }),
  )
const keep = () =>
  keepCopies(
    { database: office.database, contents: openContents() },
    { folders: [network], drives: [] },
    { now: new Date(), onFault: (error) => expect(error).toBeNull() },
  )
const standing = async (by = admin): Promise<CopyStanding> => {
  const { sites } = await json<Copies>(by.ask('/api/copies'))
  return sites.find(({ id }) => id === siteId)!.shares.find(({ shareId }) => shareId === office.share)!
}
const manifest = () =>
  readFileSync(join(network, 'Waterways/manifest-sha256.txt'), 'utf8')
    .split('\n')
    .filter(Boolean)
    .map((line) => line.replace(/^\w+ +data\//, ''))

test('whatever is planned: each plan copies what it said, what lies nearer to another goes by that one, and all of it comes back', {
  timeout: 120_000,
}, async () => {
  const extent = fc.constantFrom('nothing' as const, 'latest' as const, 'all' as const)
  const places = [null, 'Tenders', '2026', 'Drafts', 'Letters'] as const
  const above: Record<string, string | null> = { Tenders: null, 2026: 'Tenders', Drafts: 'Tenders', Letters: 'Drafts' }
  await fc.assert(
    fc.asyncProperty(fc.tuple(extent, ...places.slice(1).map(() => fc.option(extent))), async (extents) => {
      const plans = new Map(
        places.flatMap((one, at) => {
          const what = extents[at]
          return what ? [[one, { ...usualPlan, extent: what }] as [string | null, CopyPlan]] : []
        }),
      )
      for (const place of places) expect((await put(place, plans.get(place) ?? null)).status).toBe(204)
      const holding = (place: string | null): CopyPlan => plans.get(place) ?? holding(above[place!]!)
      const expected = new Map(
        places.map((place) => [place, { nothing: 0, latest: 1, kept: 1, all: 3 }[holding(place).extent]]),
      )
      const all = [...expected.values()].reduce((sum, one) => sum + one, 0)
      for (const [place, plan] of plans) {
        const said = await preview(place, plan)
        const own = places.filter((one) => {
          let at: string | null = one
          while (!plans.has(at)) at = above[at!]!
          return at === place
        })
        expect(said.versions).toBe(own.reduce((sum, one) => sum + expected.get(one)!, 0))
      }
      await keep()
      if ([...plans.values()].every((plan) => plan.extent === 'nothing')) {
        expect((await standing()).planned).toBe(false)
        return
      }
      const there = manifest()
      for (const [place, versions] of expected)
        expect([place, there.filter((path) => path.includes(`In ${place}.txt`)).length]).toEqual([place, versions])
      expect(await standing()).toMatchObject({
        covered: all,
        versions: all,
        ofVersions: 15,
        openSince: null,
        late: false,
        planned: true,
        folders: [...plans.keys()].filter((one) => one !== null).map(() => ({})),
      })
      const records = readFileSync(join(network, 'Waterways/records.jsonl'), 'utf8')
      for (const [place, versions] of expected) expect(records.includes(`"In ${place}.txt"`)).toBe(versions > 0)
      // Nothing is left to do, and what is there is known to be.
      expect(await keep()).toBe(0)
      for (const [place, plan] of plans) {
        const { versions, there: has } = await preview(place, plan)
        expect(has.versions).toBe(versions)
      }
      expect((await json<Copies>(admin.ask('/api/copies'))).loss.versions).toBe(15 - all)
    }),
    {
      numRuns: 12,
      examples: [[['nothing', 'all', null, 'nothing', 'latest']], [['all', null, null, 'nothing', null]]],
    },
  )
  await put(null, { ...usualPlan, extent: 'nothing' })
  for (const place of ['Tenders', '2026', 'Letters']) await put(place, null)
  await put('Drafts', { ...usualPlan, extent: 'latest' })
  await keep()
  const name = `test_${randomUUID().replaceAll('-', '')}`
  const made = await makeDatabase(process.env.TEST_DATABASE_URL!, name)
  const empty = await openDatabase(made.url, made.ownerUrl)
  const owner = await openOwned(made.ownerUrl)
  try {
    expect(await restoreFrom(owner, await CopyFolder.open(network))).toMatchObject({ files: 2, versions: 2 })
    // The folders, and what is ruled for them, are there; of files that were not copied nothing is.
    const names = await empty.query("select name from entry order by kind = 'file', name")
    expect(names.map((row: { name: string }) => row.name)).toEqual([
      '2026',
      'Drafts',
      'Letters',
      'Tenders',
      'In Drafts.txt',
      'In Letters.txt',
    ])
  } finally {
    await owner.destroy()
    await empty.destroy()
    // Its last connection may still be on its way out; the database goes with the test's own PostgreSQL then.
    await office.owner.query(`drop database if exists ${name} with (force)`).catch(() => {})
  }
})

test('the most eager plan says how often; a plan goes with its folder, ends with it, and is set by administrators alone', async () => {
  await put(null, { ...usualPlan, extent: 'nothing' })
  for (const place of ['Tenders', '2026', 'Letters']) await put(place, null)
  await put('Drafts', { ...usualPlan, extent: 'all', hours: 1 })
  expect((await put('Drafts', usualPlan, priya)).status).toBe(403)
  expect((await put('Drafts', usualPlan)).status).toBe(204)
  await put('Drafts', { ...usualPlan, extent: 'all', hours: 1 })
  expect(await keep()).toBe(1)
  const at = (hours: number) =>
    keepCopies(
      { database: office.database, contents: openContents() },
      { folders: [network], drives: [] },
      { now: new Date(Date.now() + hours * 3_600_000) },
    )
  expect(await at(0.5)).toBe(0)
  expect(await at(2)).toBe(1)
  expect(existsSync(join(network, 'Waterways/data/Tenders/Drafts/In Drafts.txt'))).toBe(true)
  expect(existsSync(join(network, 'Waterways/data/Tenders/In Tenders.txt'))).toBe(false)
  // A file that comes to another folder goes by its plan from then on.
  const paths = async () => (await standing()).folders.map(({ path }) => path.join('/'))
  expect(await paths()).toEqual(['Tenders/Drafts'])
  const act = (what: string, change: object) =>
    json(priya.json('/api/acts', 'POST', { id: randomUUID(), what, changes: [change] }))
  await act('move', { id: folders.Drafts, shareId: office.share, folderId: null })
  expect(await paths()).toEqual(['Drafts'])
  const other = await addShare(office.database.manager, 'Tolls')
  await addMember(office.database.manager, other, office.people.priya, 'manage')
  await act('move', { id: folders.Drafts, shareId: other, folderId: null })
  expect(await paths()).toEqual([])
  expect((await put('Drafts', usualPlan)).status).toBe(404)
  const { sites } = await json<Copies>(admin.ask('/api/copies'))
  const tolls = sites[0]!.shares.find(({ share }) => share === 'Tolls')!
  expect(tolls.folders).toMatchObject([{ path: ['Drafts'], plan: { hours: 1 } }])
  await act('move', { id: folders.Drafts, shareId: office.share, folderId: null })
  await act('remove', { id: folders.Drafts })
  expect(await standing()).toMatchObject({ folders: [], planned: false })
})

test('a plan of a folder is told to nobody who may not see the folder', async () => {
  const { id } = await json<Entry>(
    priya.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'Wages' }),
  )
  folders.Wages = id
  await put('Wages', { ...usualPlan, extent: 'latest' })
  const told = async (by: typeof admin) => (await standing(by)).folders.map(({ path }) => path.join('/'))
  const tomas = await signInAs(office, 'tomas')
  expect(await told(tomas)).toEqual(['Wages'])
  await openRealm(office.database.manager, id, true)
  expect(await told(tomas)).toEqual([])
  expect(await told(admin)).toEqual(['Wages'])
  expect(await json(admin.ask(`/api/copies/shares/${office.share}/folders`))).toContainEqual({ id, path: ['Wages'] })
  expect((await tomas.ask(`/api/copies/shares/${office.share}/folders`)).status).toBe(403)
})
