import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { zipSync } from 'fflate'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { ChangedFile, Saved } from '../core/contract'
import { writeDocx } from '../core/formats/docx/write'
import { compareHere } from './changes/compare'
import { describeVersions } from './changes/describe'
import { unbounded } from './counts/quotas'
import { doc, h, p } from './demo/papers'
import { thinVersions } from './retention/thin'
import { keepVersion } from './saving/keep'
import { openContents } from './storage/content'
import { freeUnneeded } from './storage/free'
import { moveContents } from './storage/move'
import { openTestOffice, signInAs, type TestOffice } from './testing'

const contents = openContents()

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

const save = (bytes: Uint8Array, earlier: Saved | null, name = `${randomUUID()}.docx`) =>
  keepVersion(office.database, unbounded, {
    personId: office.people.ida,
    bytes: Buffer.from(bytes),
    reason: 'saved',
    key: randomUUID(),
    target: earlier
      ? { fileId: earlier.file.id, baseId: earlier.version.id }
      : { place: { shareId: office.share, folderId: null, name } },
  })
const digestOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest()
const paper = (edits: number) =>
  writeDocx(
    doc(
      h(1, 'Lock LK07'),
      ...Array.from({ length: 400 }, (_, at) =>
        p(
          `${(at * 7919) % 1000} The windlass spindle at ${(at * 104729) % 977} was greased${at < edits ? ' twice' : ''}.`,
        ),
      ),
    ),
  )
const count = async (table: string) => (await office.database.query(`select count(*)::int as n from ${table}`))[0].n

test('versions move into chunks that they share, and each reads back byte for byte', async () => {
  const versions: Uint8Array[] = [randomBytes(3_000_000), new Uint8Array(0), Buffer.from('PK\x03\x04 no container')]
  for (const bytes of versions) await save(bytes, null)
  let saved: Saved | null = null
  for (let edits = 0; edits < 30; edits++) {
    const bytes = paper(edits)
    versions.push(bytes)
    saved = await save(bytes, saved)
  }
  expect(await moveContents(office.database, contents)).toBe(33)
  expect(await count('content_block')).toBe(0)
  for (const bytes of versions)
    expect((await contents.whole(office.database.manager, digestOf(bytes))).equals(bytes)).toBe(true)
  // Read ahead, with one that is still in blocks, one that is nowhere, and more than is read ahead: no other bytes.
  const fresh = randomBytes(5000)
  await save(fresh, null)
  versions.push(fresh)
  const read = await contents.ahead(office.database.manager, [...versions.map(digestOf), randomBytes(32)])
  for (const bytes of versions) {
    const pieces: Uint8Array[] = []
    for await (const piece of read(digestOf(bytes))) pieces.push(piece)
    expect(Buffer.concat(pieces).equals(bytes)).toBe(true)
  }
  await expect(read(randomBytes(32)).next()).rejects.toThrow(RangeError)
  const [{ stored }] = await office.database.query(
    'select sum(octet_length(bytes))::int as stored from chunk where id = any((select array_agg(c) from content, unnest(chunks) c where size between 1000 and 1000000)::int[])',
  )
  // Thirty versions take little more than one.
  expect(stored).toBeLessThan(paper(0).length * 3)
  const [{ deepest }] = await office.database.query(
    `with recursive step(id, depth) as (select id, 0 from chunk where roots is null
       union select c.id, step.depth + 1 from step join chunk c on step.id = any(c.roots))
     select max(depth)::int as deepest from step`,
  )
  expect(deepest).toBeGreaterThan(3)
  expect(deepest).toBeLessThanOrEqual(12)
  await expect(office.owner.query('update chunk set size = 1')).rejects.toThrow('never changes')
  await expect(office.owner.query('update content set chunks = null')).rejects.toThrow('never changes')
})

test('a file is whole for whoever reads it while it is moved, and two may move at once', async () => {
  const bytes = Buffer.from(zipSync({ 'a.bin': [randomBytes(4_500_000), { level: 0 }], 'b.xml': paper(3) }))
  await save(bytes, null)
  const pieces: Uint8Array[] = []
  for await (const piece of contents.read(office.database.manager, digestOf(bytes))) {
    // The first block was read: now the others go.
    if (pieces.length === 0)
      await Promise.all([moveContents(office.database, contents), moveContents(office.database, contents)])
    pieces.push(piece)
  }
  expect(await count('content_block')).toBe(0)
  expect(Buffer.concat(pieces).equals(bytes)).toBe(true)
})

test('what is damaged is not moved over, and is left for people to see', async () => {
  const bytes = paper(200)
  await save(bytes, null)
  await office.owner.query('alter table content_block disable trigger content_block_never_changes')
  await office.owner.query('update content_block set bytes = set_byte(bytes, 500, get_byte(bytes, 500) # 1)')
  await office.owner.query('alter table content_block enable trigger content_block_never_changes')
  const damaged = new Set<string>()
  expect(await moveContents(office.database, contents, () => false, damaged)).toBe(0)
  expect([...damaged]).toEqual([digestOf(bytes).toString('hex')])
  expect(await count('content_block')).toBe(1)
})

test('versions saved by themselves thin out, and what nothing needs any more is freed, exactly, while others save', async () => {
  const { database } = office
  // Whatever the tests before left that no version has.
  await moveContents(database, contents)
  await freeUnneeded(database)
  const at = (minutes: number) => new Date(Date.UTC(2026, 9, 14) + minutes * 60_000)
  const texts = ['bollard', 'quoin', 'mitre', 'paddle', 'windlass', 'sluice']
  let saved: Saved | null = null
  const kept: Buffer[] = []
  for (let number = 0; number < 24; number++) {
    const bytes = Buffer.from(
      writeDocx(doc(...Array.from({ length: 60 }, (_, line) => p(`${texts[(line * number) % 6]} ${line * number}`)))),
    )
    kept.push(bytes)
    saved = await keepVersion(database, unbounded, {
      personId: office.people.ida,
      bytes,
      reason: number === 0 || number === 12 ? 'saved' : 'by itself',
      key: randomUUID(),
      at: at(number * 10),
      target: saved
        ? { fileId: saved.file.id, baseId: saved.version.id }
        : { place: { shareId: office.share, folderId: null, name: 'thins.docx' } },
    })
  }
  await moveContents(database, contents)
  const fileId = saved!.file.id
  const numbers = async () =>
    (await database.query('select number from version where file_id = $1 order by number', [fileId])).map(
      ({ number }: { number: number }) => number,
    )
  await expect(office.owner.query('delete from version where file_id = $1', [fileId])).rejects.toThrow(
    'but by retention',
  )
  // After two days one an hour is left of each run, after eight only its last one.
  await thinVersions(database, at(2 * 24 * 60 + 240))
  expect(await numbers()).toEqual([1, 6, 12, 13, 18, 24])
  await thinVersions(database, at(9 * 24 * 60))
  expect(await numbers()).toEqual([1, 12, 13, 24])
  expect(await count('removed_version')).toBe(20)
  // Freeing and saving at once: both come to their end, and everything reads back.
  const others = Array.from({ length: 6 }, (_, index) => paper(40 + index))
  await Promise.all([freeUnneeded(database), ...others.map((bytes) => save(bytes, null))])
  await freeUnneeded(database)
  await moveContents(database, contents)
  for (const bytes of [...others, ...[0, 11, 12, 23].map((index) => kept[index]!)])
    expect((await contents.whole(database.manager, digestOf(bytes))).equals(bytes)).toBe(true)
  await freeUnneeded(database)
  const chunks = await count('chunk')
  const needed = (
    await database.query(
      `with recursive needed(id) as (select unnest(chunks) from content where chunks is not null
         union select unnest(roots) from needed join chunk using (id)) select count(*)::int as n from needed`,
    )
  )[0].n
  expect(chunks).toBe(needed)
})

test('a version that was damaged in the store is refused with a sentence, and never sent; the others are', async () => {
  const { database } = office
  const [good, bad, large] = [paper(201), randomBytes(7_000_000), randomBytes(20_000_000)]
  // What has so many chunks is read from where it is stored, whatever was read lately, such as for the index.
  const saved = []
  for (const bytes of [good, bad, large]) saved.push(await save(bytes, null))
  await moveContents(database, contents)
  await office.owner.query('alter table chunk disable trigger chunk_never_changes')
  for (const { version } of saved.slice(1))
    await office.owner.query(
      `update chunk set bytes = set_byte(bytes, octet_length(bytes) - 9, get_byte(bytes, octet_length(bytes) - 9) # 64)
       where id = (select chunks[array_length(chunks, 1)] from content where sha256 = decode($1, 'hex'))`,
      [version.sha256],
    )
  await office.owner.query('alter table chunk enable trigger chunk_never_changes')
  const ida = await signInAs(office, 'ida')
  const [whole, refused, cut] = await Promise.all(
    saved.map(({ version }) => ida.ask(`/api/versions/${version.id}/bytes`)),
  )
  expect(Buffer.from(await whole!.arrayBuffer()).equals(good)).toBe(true)
  expect(refused!.status).toBe(422)
  expect(await refused!.json()).toMatchObject({
    type: 'checksum-differs',
    title: expect.stringContaining('is damaged'),
  })
  expect(refused!.headers.get('cache-control') ?? '').not.toContain('immutable')
  // A long one is on its way when the damage is met: it does not end as a whole file does.
  await expect(cut!.arrayBuffer()).rejects.toThrow()
})

test('what others changed is told as a sentence, and not as it is kept', async () => {
  const first = await save(paper(1), null)
  const second = await save(paper(2), first)
  await describeVersions(office.database, compareHere, contents)
  const priya = await signInAs(office, 'priya')
  const changed = (await (await priya.ask('/api/changed-by-others')).json()) as ChangedFile[]
  const own = changed.find(({ file }) => file.id === second.file.id)
  expect(own?.summary).toMatchObject({ say: expect.stringMatching(/^changes\./) })
})
