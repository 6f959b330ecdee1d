// A drive that is taken over: what is found on it, what becomes of it, and what must not be lost or come twice.
import { createHash, randomUUID } from 'node:crypto'
import { mkdir, mkdtemp, rm, symlink, utimes, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type {
  DriveFile,
  Intake,
  Intakes,
  PlannedSeries,
  Problem,
  SearchAnswer,
  SeriesPage,
  ServerFolders,
} from '../../core/contract'
import { writeZip } from '../../core/formats/opc/zip'
import { describeFile } from '../../core/intake/describe'
import { makeDrive } from '../../core/intake/made-drive'
import { sketchBytes } from '../../core/intake/sketch'
import { openTestOffice, signInAs, type TestOffice } from '../testing'

let office: TestOffice
let priya: Awaited<ReturnType<typeof signInAs>>
let drives: string
beforeAll(async () => {
  drives = await mkdtemp(join(tmpdir(), 'jaula-drives-'))
  office = await openTestOffice({ intakeFolders: [drives] })
  priya = await signInAs(office, 'priya')
})
afterAll(async () => {
  await office.close()
  await rm(drives, { recursive: true, force: true })
})

const json = async <T>(answer: Promise<Response>): Promise<T> => {
  const response = await answer
  if (!response.ok) throw new Error(await response.text())
  return (response.status === 204 ? undefined : await response.json()) as T
}
const letter = (text: string, by: string, at: string) =>
  writeZip([
    ['[Content_Types].xml', '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>'],
    [
      'docProps/core.xml',
      `<cp:coreProperties xmlns:cp="a" xmlns:dc="b" xmlns:dcterms="c"><dc:title>Offer</dc:title><cp:lastModifiedBy>${by}</cp:lastModifiedBy><dcterms:modified>${at}</dcterms:modified></cp:coreProperties>`,
    ],
    ['word/document.xml', `<w:document><w:body><w:p><w:r><w:t>${text}</w:t></w:r></w:p></w:body></w:document>`],
  ])
type Content = string | Uint8Array
/** A drive of its own, with files that were changed on one day after the other. */
async function drive(files: Readonly<Record<string, Content>>): Promise<string> {
  const root = join(drives, randomUUID())
  for (const [at, [path, content]] of Object.entries(files).entries()) {
    const file = join(root, path)
    await mkdir(dirname(file), { recursive: true })
    await writeFile(file, content)
    const day = new Date(Date.UTC(2023, 2, 1 + at))
    await utimes(file, day, day)
  }
  return root
}
const at = (id: string) => `/api/shares/${office.share}/intakes/${id}`
const now = (id: string) => json<Intake>(priya.ask(at(id)))
const reaches = async (id: string, state: Intake['state']) => {
  await expect.poll(async () => (await now(id)).state, { timeout: 30_000 }).toBe(state)
  return now(id)
}
async function begin(root: string, more: object = {}): Promise<Intake> {
  const id = randomUUID()
  await json(
    priya.json(`/api/shares/${office.share}/intakes`, 'POST', { id, folderId: null, source: 'server', root, ...more }),
  )
  return now(id)
}
const looked = async (root: string, more: object = {}) => reaches((await begin(root, more)).id, 'ready')
const seriesOf = async (id: string, query = '') =>
  (await json<SeriesPage>(priya.ask(`${at(id)}/series${query}`))).series
const decide = (id: string, body: object) => priya.json(`${at(id)}/series`, 'PUT', { series: [], ...body })
const take = (id: string) => json(priya.ask(`${at(id)}/take`, { method: 'POST' }))
/** Everything below the share: path, versions oldest first as their bytes' digest. */
async function there(): Promise<Map<string, string[]>> {
  const rows: { path: string; versions: string[] }[] = await office.database.query(
    `with recursive down(id, path) as (
       select id, name from entry where share_id = $1 and folder_id is null and removed_at is null
       union all select e.id, down.path || '/' || e.name from entry e join down on e.folder_id = down.id where e.removed_at is null)
     select down.path, array_agg(encode(v.sha256, 'hex') order by v.number) as versions from down join version v on v.file_id = down.id group by 1`,
    [office.share],
  )
  return new Map(rows.map(({ path, versions }) => [path, versions]))
}
const sum = (content: Content) => createHash('sha256').update(content).digest('hex')
const text = (n: number) =>
  Array.from({ length: 120 }, (_, at) => `word${(at * 31 + (at > 100 ? n * 17 : 0)) % 997}`).join(' ')

test('a series becomes versions of one file, written when and by whom the files say, and all is found by where it was', async () => {
  const files = {
    'Tenders/Offer LK07.docx': letter(text(0), 'Jo Reed', '2021-04-01T10:00:00Z'),
    'Tenders/Offer LK07 v2.docx': letter(text(1), 'Sam Hart', '2021-04-03T10:00:00Z'),
    'Tenders/Copy of Offer LK07 v2.docx': letter(text(1), 'Sam Hart', '2021-04-03T10:00:00Z'),
    'Tenders/Offer LK07 final.docx': letter(text(2), 'Jo Reed', '2021-04-09T10:00:00Z'),
    'Notes.txt': 'What the divers said.',
    'Thumbs.db': 'x',
    'Empty.docx': '',
    'Torn.docx': letter(text(3), 'Jo Reed', '2021-05-01T10:00:00Z').slice(0, 300),
  }
  const root = await drive(files)
  const { id, faults, planned } = await looked(root)
  expect(faults).toEqual({ litter: 1, empty: 1, damaged: 1 })
  expect(planned).toMatchObject({ files: 3, series: 1, versions: 5, doubles: 1 })
  const [torn] = await seriesOf(id, '?show=faults')
  expect(torn!.files[0]).toMatchObject({ path: 'Torn.docx', fault: 'damaged' })
  const [series] = await seriesOf(id, '?show=series')
  expect(series).toMatchObject({ name: 'Offer LK07.docx', folders: ['Tenders'], wanted: true })
  expect(series!.files.map(({ path, double, author }) => [path, double, author])).toEqual([
    ['Tenders/Offer LK07.docx', false, 'Jo Reed'],
    ['Tenders/Offer LK07 v2.docx', false, 'Sam Hart'],
    ['Tenders/Copy of Offer LK07 v2.docx', true, 'Sam Hart'],
    ['Tenders/Offer LK07 final.docx', false, 'Jo Reed'],
  ])
  await take(id)
  expect(await reaches(id, 'done')).toMatchObject({ coming: 6, taken: 6, refused: 0 })
  const all = await there()
  expect(all.get('Tenders/Offer LK07.docx')).toEqual(
    ['Tenders/Offer LK07.docx', 'Tenders/Offer LK07 v2.docx', 'Tenders/Offer LK07 final.docx'].map((path) =>
      sum(files[path as keyof typeof files]),
    ),
  )
  // What is damaged is damaged here, too, and not lost.
  expect(all.get('Torn.docx')).toEqual([sum(files['Torn.docx'])])
  expect([...all.keys()].sort()).toEqual(['Notes.txt', 'Tenders/Offer LK07.docx', 'Torn.docx'])
  const [{ fileId }] = (await seriesOf(id, '?show=series')) as [PlannedSeries]
  const { versions } = await json<{ versions: { at: string; label: string; from: object }[] }>(
    priya.ask(`/api/files/${fileId}`),
  )
  expect(versions.map((version) => [version.at, version.label, version.from])).toEqual([
    [
      '2021-04-09T10:00:00.000Z',
      'Offer LK07 final.docx',
      { path: expect.stringMatching(/\/Tenders\/Offer LK07 final\.docx$/), author: 'Jo Reed' },
    ],
    [
      '2021-04-03T10:00:00.000Z',
      'Offer LK07 v2.docx',
      { path: expect.stringMatching(/v2\.docx$/), author: 'Sam Hart' },
    ],
    ['2021-04-01T10:00:00.000Z', 'Offer LK07.docx', { path: expect.stringMatching(/LK07\.docx$/), author: 'Jo Reed' }],
  ])
  // Also by the name of the double, which is no file any more.
  await expect
    .poll(
      async () => {
        const { hits } = await json<SearchAnswer>(priya.ask('/api/search?q=copy%20tenders%20v2'))
        return hits.map(({ file, formerName }) => [file.id, formerName?.slice(formerName.indexOf('/'))])
      },
      { timeout: 20_000 },
    )
    .toEqual([[fileId, '/Tenders/Copy of Offer LK07 v2.docx']])
})

test('of a made drive no file is lost, whatever is cut off, stopped and begun again in the middle', async () => {
  const made = makeDrive(5, 12)
  const files: Record<string, string> = {}
  for (const { path, text: holds } of made.files) files[path] = holds || `drawn ${path}`
  const root = await drive(files)
  const { id } = await begin(root)
  // Cut off in the middle: whatever was noted stays, and it goes on from there.
  expect(await office.cut()).toBeGreaterThan(0)
  const { planned } = await reaches(id, 'ready')
  expect(planned.versions + planned.doubles).toBe(made.files.length)
  await take(id)
  await expect.poll(async () => (await now(id)).taken, { timeout: 20_000, interval: 20 }).toBeGreaterThan(3)
  expect(await office.cut()).toBeGreaterThan(0)
  await expect
    .poll(async () => (await priya.ask(`${at(id)}/stop`, { method: 'POST' })).status, { timeout: 20_000 })
    .toBeLessThan(500)
  await expect
    .poll(
      async () => {
        const { state } = await now(id)
        if (state === 'ready') await take(id)
        return (await now(id)).state
      },
      { timeout: 60_000 },
    )
    .toBe('done')
  expect(await now(id)).toMatchObject({ taken: made.files.length, refused: 0 })
  const digests = new Set([...(await there()).values()].flat())
  expect(Object.values(files).filter((holds) => !digests.has(sum(holds)))).toEqual([])
  // Nothing came twice: as many versions as the plan said, each with what it was made of.
  const [{ n }] = await office.database.query(
    'select count(*)::int as n from version v where v.file_id in (select file_id from intake_series where intake_id = $1)',
    [id],
  )
  expect(n).toBe(planned.versions)
}, 300_000)

test('what came in when its process ended before it was noted is noted, and does not come twice', async () => {
  const root = await drive({
    'Weir.txt': text(1),
    'Weir v2.txt': text(2),
    'Weir v3.txt': text(3),
    'Sluice.txt': 'sluice',
  })
  const { id } = await looked(root, { folderId: null })
  await take(id)
  await reaches(id, 'done')
  const versions = async () =>
    (
      await office.database.query(
        'select v.id, v.number from version v where v.file_id in (select file_id from intake_series where intake_id = $1) order by 1',
        [id],
      )
    ).map((row: object) => JSON.stringify(row))
  const before = await versions()
  expect(before).toHaveLength(4)
  for (const unnoted of [
    ['Weir v2.txt', 'Weir v3.txt', 'Sluice.txt'],
    ['Weir.txt'],
    Object.keys({ 'Weir v3.txt': 1 }),
  ]) {
    await office.database.query('update intake_file set version_id = null where intake_id = $1 and path = any($2)', [
      id,
      unnoted,
    ])
    await take(id)
    expect(await reaches(id, 'done')).toMatchObject({ coming: 4, taken: 4, refused: 0 })
    expect(await versions()).toEqual(before)
  }
})

test('what somebody decides holds: left out, called otherwise, put elsewhere, parted, and refused names', async () => {
  const root = await drive({
    'a/Plan.txt': text(1),
    'a/Plan v2.txt': text(2),
    'a/Plan v3.txt': text(3),
    'b/Budget.txt': 'budget',
    'b/Toll.txt': 'toll',
  })
  const { id } = await looked(root)
  const by = async (name: string) => (await seriesOf(id)).find((one) => one.name === name)!
  const plan = await by('Plan.txt')
  expect((await decide(id, { series: [{ no: plan.no, name: 'a:b.txt' }] })).status).toBe(422)
  expect((await decide(id, { series: [{ no: plan.no, folders: ['up', '..'] }] })).status).toBe(422)
  await json(
    decide(id, {
      series: [
        { no: plan.no, apart: [plan.files[1]!.no], name: 'Works plan.txt' },
        { no: (await by('Budget.txt')).no, wanted: false },
        { no: (await by('Toll.txt')).no, folders: ['Tolls', 'Taken'] },
      ],
    }),
  )
  await take(id)
  const { coming, taken } = await reaches(id, 'done')
  expect([coming, taken]).toEqual([4, 4])
  const all = await there()
  expect(all.get('a/Works plan.txt')).toEqual([sum(text(1)), sum(text(3))])
  expect(all.get('a/Plan v2.txt')).toEqual([sum(text(2))])
  expect(all.get('Tolls/Taken/Toll.txt')).toEqual([sum('toll')])
  expect(all.has('b/Budget.txt')).toBe(false)
  // What was left out can come later, and what has come does not come again.
  expect((await decide(id, { all: { show: 'all', wanted: true } })).status).toBe(400)
  expect((await decide(id, { series: [{ no: plan.no, wanted: false }] })).status).toBe(400)
})

test('however files are parted from a series, each is in one, in order, with what it is a double of; all of it comes', async () => {
  const files = Object.fromEntries(
    ['Sill.txt', 'Sill v2.txt', 'Copy of Sill v2.txt', 'Sill v3.txt', 'Sill v3 (2).txt', 'Sill final.txt'].map(
      (path, n) => [path, text([1, 2, 2, 3, 3, 4][n]!)],
    ),
  )
  const root = await drive(files)
  const Row = 'no, series, position, double_of, modified, encode(sha256, $$hex$$) as sha'
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.uniqueArray(fc.nat(5), { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 4 }),
      async (partings) => {
        const { id, planned } = await looked(root)
        expect(planned).toMatchObject({ files: 1, versions: 4, doubles: 2 })
        for (const chosen of partings)
          for (const { no, files: those } of await seriesOf(id)) {
            const going = those.filter(({ no: file }) => chosen.includes(file)).map(({ no: file }) => file)
            if (!going.length) continue
            const answer = await decide(id, { series: [{ no, apart: going }] })
            // Somebody has to stay.
            expect(answer.status).toBe(going.length === those.length ? 400 : 204)
          }
        const rows: {
          no: number
          series: number
          position: number
          double_of: number | null
          modified: Date
          sha: string
        }[] = await office.database.query(`select ${Row} from intake_file where intake_id = $1 order by no`, [id])
        expect(rows).toHaveLength(6)
        const byNo = new Map(rows.map((row) => [row.no, row]))
        for (const { series, double_of, sha } of rows)
          if (double_of !== null) expect(byNo.get(double_of)).toMatchObject({ series, double_of: null, sha })
        for (const series of new Set(rows.map((row) => row.series))) {
          const own = rows.filter((row) => row.series === series && row.double_of === null)
          const inOrder = own.toSorted((a, b) => a.position - b.position)
          expect(inOrder.map(({ position }) => position)).toEqual(inOrder.map((_, at) => at))
          const days = inOrder.map(({ modified }) => modified.getTime())
          expect(days).toEqual(days.toSorted((a, b) => a - b))
        }
        await take(id)
        expect(await reaches(id, 'done')).toMatchObject({ taken: 6, refused: 0 })
        const [{ n }] = await office.database.query(
          'select count(distinct v.sha256)::int as n from version v join intake_file f on f.version_id = v.id where f.intake_id = $1',
          [id],
        )
        expect(n).toBe(4)
        await json(priya.ask(at(id), { method: 'DELETE' }))
      },
    ),
    { numRuns: 12 },
  )
}, 300_000)

test('somebody else’s file of that name stays; a file that changed, went or cannot be read is told, and the others come', async () => {
  await json(
    priya.ask(`/api/files?shareId=${office.share}&name=Levels.txt&key=${randomUUID()}`, {
      method: 'POST',
      body: 'ours',
    }),
  )
  const root = await drive({ 'Levels.txt': 'theirs', 'Gone.txt': 'gone', 'Other.txt': 'other', 'Fine.txt': 'fine' })
  const { id } = await looked(root)
  await rm(join(root, 'Gone.txt'))
  await writeFile(join(root, 'Other.txt'), 'written since')
  await take(id)
  expect(await reaches(id, 'done')).toMatchObject({ coming: 4, taken: 2, refused: 2 })
  const all = await there()
  expect([all.get('Levels.txt'), all.get('Levels 2.txt'), all.get('Fine.txt')]).toEqual(
    ['ours', 'theirs', 'fine'].map((holds) => [sum(holds)]),
  )
  const refused = await seriesOf(id, '?show=refused')
  expect(refused.map(({ name, files }) => [name, files[0]!.refused])).toEqual([
    ['Gone.txt', { say: 'intake.gone-since' }],
    ['Other.txt', { say: 'intake.changed-since' }],
  ])
  // When it is as it was, it comes with the next trial.
  await writeFile(join(root, 'Other.txt'), 'other')
  await take(id)
  await expect.poll(async () => (await now(id)).taken, { timeout: 20_000 }).toBe(3)
  expect(await reaches(id, 'done')).toMatchObject({ refused: 1 })
})

test('no folder but those that were named is looked at, no link is followed, and only managers ask', async () => {
  const root = await drive({ 'Inside.txt': 'inside', 'deep/er/File.txt': 'deep' })
  const outside = await mkdtemp(join(tmpdir(), 'jaula-outside-'))
  await writeFile(join(outside, 'Secret.txt'), 'secret')
  await symlink(outside, join(root, 'way out'))
  await symlink(join(outside, 'Secret.txt'), join(root, 'Secret.txt'))
  await symlink('/', join(drives, 'root'))
  const refused = async (path: string) => {
    const response = await priya.json(`/api/shares/${office.share}/intakes`, 'POST', {
      id: randomUUID(),
      folderId: null,
      source: 'server',
      root: path,
    })
    return [response.status, ((await response.json()) as Problem).says?.say]
  }
  expect(await refused(outside)).toEqual([404, 'intake.not-named'])
  expect(await refused(join(outside, 'nothing'))).toEqual([404, 'intake.not-named'])
  expect(await refused(join(drives, 'root', 'etc'))).toEqual([404, 'intake.not-named'])
  expect(await refused(`${root}/../../`)).toEqual([404, 'intake.not-named'])
  expect(await refused(join(root, 'none'))).toEqual([404, 'intake.no-such-folder'])
  const folders = await json<ServerFolders>(
    priya.ask(`/api/shares/${office.share}/intakes/folders?path=${encodeURIComponent(root)}`),
  )
  expect(folders.folders).toEqual(['deep'])
  const { id, faults, files } = await looked(root)
  expect([files, faults]).toEqual([4, { unreadable: 2 }])
  // A folder that becomes a link between the look and the taking leads nowhere.
  await rm(join(root, 'deep/er'), { recursive: true })
  await symlink(outside, join(root, 'deep/er'))
  await writeFile(join(outside, 'File.txt'), 'deep')
  await take(id)
  expect(await reaches(id, 'done')).toMatchObject({ taken: 1, refused: 1 })
  expect((await there()).has('Inside.txt')).toBe(true)
  const ida = await signInAs(office, 'ida')
  expect((await ida.ask(`/api/shares/${office.share}/intakes`)).status).toBe(403)
  expect((await ida.ask(at(id))).status).toBe(403)
  await rm(outside, { recursive: true })
})

test('where there is no room it waits and says so; nothing is refused for it, from the server or from a page', async () => {
  const full = await openTestOffice({ intakeFolders: [drives], quotas: { share: 4000, person: null } })
  try {
    // Those that come at the same moment may all find room.
    const root = await drive(
      Object.fromEntries(Array.from('abcdefgh', (letter) => [`${letter}.txt`, letter.repeat(3000)])),
    )
    const someone = await signInAs(full, 'priya')
    const of = `/api/shares/${full.share}/intakes`
    const id = randomUUID()
    await json(someone.json(of, 'POST', { id, folderId: null, source: 'server', root }))
    const here = () => json<Intake>(someone.ask(`${of}/${id}`))
    await expect.poll(async () => (await here()).state, { timeout: 20_000 }).toBe('ready')
    await json(someone.ask(`${of}/${id}/take`, { method: 'POST' }))
    await expect.poll(async () => (await here()).problem, { timeout: 20_000 }).not.toBeNull()
    const stuck = await here()
    expect(stuck).toMatchObject({
      state: 'taking',
      refused: 0,
      problem: { say: 'problem.the-versions-in-use-the-that-a' },
    })
    expect(stuck.taken).toBeLessThan(8)
    await json(someone.ask(`${of}/${id}/stop`, { method: 'POST' }))
    expect(await here()).toMatchObject({ state: 'ready', problem: null })
    const own = randomUUID()
    await json(someone.json(of, 'POST', { id: own, folderId: null, source: 'browser', root: 'Papers' }))
    const bytes = new TextEncoder().encode('d'.repeat(3000))
    const file: DriveFile = {
      path: 'd.txt',
      size: bytes.length,
      modified: '2023-01-01T00:00:00.000Z',
      sha256: sum(bytes),
      ownAt: null,
      author: '',
      title: '',
      sketch: '',
      fault: null,
    }
    await json(someone.json(`${of}/${own}/files`, 'POST', { files: [file], last: true }))
    await expect
      .poll(async () => (await json<Intake>(someone.ask(`${of}/${own}`))).state, { timeout: 20_000 })
      .toBe('ready')
    await json(someone.ask(`${of}/${own}/take`, { method: 'POST' }))
    const answer = await someone.ask(`${of}/${own}/take/file?no=0`, { method: 'POST', body: bytes })
    expect([answer.status, ((await answer.json()) as Problem).says?.say]).toEqual([
      404,
      'problem.the-versions-in-use-the-that-a',
    ])
    expect(await json<Intake>(someone.ask(`${of}/${own}`))).toMatchObject({ taken: 0, refused: 0 })
  } finally {
    await full.close()
  }
})

test('a page that has the drive describes it, and sends what is wanted, each version in its turn', async () => {
  const contents: Record<string, Uint8Array> = {
    'Letters/Reply.docx': letter(text(4), 'Jo Reed', '2022-01-05T09:00:00Z'),
    'Letters/Reply final.docx': letter(text(5), 'Jo Reed', '2022-01-07T09:00:00Z'),
    'Letters/~$Reply.docx': new Uint8Array(3),
  }
  const described = Object.entries(contents).map(([path, bytes]): DriveFile => {
    const { at: ownAt, author, title, sketch, fault } = describeFile(bytes, path)
    return {
      path,
      size: bytes.length,
      modified: '2023-01-01T00:00:00.000Z',
      sha256: sum(bytes),
      ownAt,
      author,
      title,
      sketch: Buffer.from(sketchBytes(sketch)).toString('base64'),
      fault,
    }
  })
  const { id } = await begin('Old papers', { source: 'browser' })
  const send = (files: DriveFile[], last: boolean) => priya.json(`${at(id)}/files`, 'POST', { files, last })
  await json(send(described.slice(0, 1), false))
  // As many as a page sends at once, from deep down.
  const many = Array.from(
    { length: 100 },
    (_, n): DriveFile => ({
      ...described[2]!,
      path: `${'deep/'.repeat(300)}${n}.txt`,
      sketch: Buffer.alloc(512, n).toString('base64'),
      sha256: sum(`${n}`),
    }),
  )
  expect(await json(send(many, false))).toEqual({ unread: [] })
  // Sent twice it is there once.
  await json(send(described.slice(0, 2), false))
  await json(send(described.slice(2), true))
  expect((await reaches(id, 'ready')).files).toBe(103)
  const [series] = await seriesOf(id, '?show=series')
  expect(series!.files.map(({ path }) => path)).toEqual(['Letters/Reply.docx', 'Letters/Reply final.docx'])
  const put = (n: number, body: Uint8Array) =>
    priya.ask(`${at(id)}/take/file?no=${series!.files[n]!.no}`, { method: 'POST', body: body as BodyInit })
  expect((await put(0, contents['Letters/Reply.docx']!)).status).toBe(400)
  await decide(id, { all: { show: 'all', wanted: true } })
  await take(id)
  expect((await put(1, contents['Letters/Reply final.docx']!)).status).toBe(400)
  for (const [n, path] of ['Letters/Reply.docx', 'Letters/Reply final.docx'].entries()) {
    await json(put(n, contents[path]!))
    await json(put(n, contents[path]!))
  }
  const all = await there()
  expect(all.get('Letters/Reply.docx')).toEqual(Object.values(contents).slice(0, 2).map(sum))
  expect(await now(id)).toMatchObject({ taken: 2 })
  await json(priya.ask(at(id), { method: 'DELETE' }))
  const { intakes } = await json<Intakes>(priya.ask(`/api/shares/${office.share}/intakes`))
  expect(intakes.some((one) => one.id === id)).toBe(false)
  expect((await there()).get('Letters/Reply.docx')).toHaveLength(2)
})
