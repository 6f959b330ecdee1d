// Single files out of a copy, into the Jaula that is there, over its HTTP, from a real folder.
import { randomUUID } from 'node:crypto'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { BroughtFiles, CopiedFiles, InCopy, Place, Saved } from '../../core/contract'
import { keepCopies } from '../copies/by-itself'
import { CopySiteRow } from '../copies/entity'
import { nameSites } from '../copies/sites'
import { openContents } from '../storage/content'
import { openTestOffice, signInAs, type TestOffice } from '../testing'

let office: TestOffice
let priya: Awaited<ReturnType<typeof signInAs>>
let root: string
let siteId: string
beforeAll(async () => {
  root = mkdtempSync(join(tmpdir(), 'jaula-bring-'))
  mkdirSync(join(root, 'network'))
  office = await openTestOffice({ reachable: { folders: [join(root, 'network')], drives: [] } })
  priya = await signInAs(office, 'priya')
  await nameSites(office.database, [join(root, 'network')], { hours: 24, days: 7 })
  siteId = (await office.database.manager.findOneByOrFail(CopySiteRow, {})).id
})
afterAll(async () => {
  await office.close()
  rmSync(root, { recursive: true, force: true })
})

const json = async <T>(answer: Promise<Response>): Promise<T> => {
  const response = await answer
  if (!response.ok) throw new Error(await response.text())
  return (await response.json()) as T
}
const save = (name: string, body: string, folderId: string | null = null) =>
  json<Saved>(
    priya.ask(
      `/api/files?shareId=${office.share}&name=${encodeURIComponent(name)}&key=${randomUUID()}${folderId ? `&folderId=${folderId}` : ''}`,
      { method: 'POST', body },
    ),
  )
const again = ({ file, version }: Saved, body: string) =>
  json<Saved>(
    priya.ask(`/api/files/${file.id}/versions?baseId=${version.id}&key=${randomUUID()}`, { method: 'POST', body }),
  )
const folder = (name: string) =>
  json<{ id: string }>(priya.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name }))
const act = (what: string, ids: string[]) =>
  json(priya.json('/api/acts', 'POST', { id: randomUUID(), what, changes: ids.map((id) => ({ id })) }))
const inCopy = (words = '') =>
  json<CopiedFiles>(priya.ask(`/api/shares/${office.share}/copies/${siteId}/files?words=${encodeURIComponent(words)}`))
const bring = (fileIds: string[], key = randomUUID()) =>
  json<BroughtFiles>(priya.json(`/api/shares/${office.share}/copies/bring`, 'POST', { siteId, fileIds, key }))
const headOf = async (fileId: string) => {
  const [row] = await office.owner.query(
    'select v.id, v.number, v.reason from entry e join version v on v.id = e.head_version_id where e.id = $1 and e.removed_at is null',
    [fileId],
  )
  return (
    row && {
      number: row.number,
      reason: row.reason,
      text: await (await priya.ask(`/api/versions/${row.id}/bytes`)).text(),
    }
  )
}
/** As if it had never been here: by the superuser, whom nothing holds. */
async function forget(fileId: string): Promise<void> {
  const [{ name }] = await office.owner.query('select current_database() as name')
  const client = new pg.Client({ connectionString: process.env.TEST_DATABASE_URL!.replace(/\/[^/]*$/, `/${name}`) })
  await client.connect()
  await client.query('set session_replication_role = replica')
  await client.query('delete from version where file_id = $1', [fileId])
  await client.query('delete from entry where id = $1', [fileId])
  await client.end()
}
const here = (files: readonly InCopy[]) => Object.fromEntries(files.map(({ name, here }) => [name, here]))

test('what went, was removed or is other here is brought out of a copy; nothing of what is here is lost', async () => {
  const notices = await folder('Notices')
  const same = await save('Same.txt', 'the same')
  const other = await save('Other.txt', 'as it was copied', notices.id)
  const removed = await save('Removed.txt', 'removed later')
  const both = await save('Removed and other.txt', 'removed, and written before')
  const gone = await save('Gone.txt', 'gone for good', notices.id)
  await keepCopies(
    { database: office.database, contents: openContents() },
    { folders: [join(root, 'network')], drives: [] },
  )
  expect(here((await inCopy()).files)).toEqual({
    'Same.txt': 'same',
    'Other.txt': 'same',
    'Removed.txt': 'same',
    'Removed and other.txt': 'same',
    'Gone.txt': 'same',
  })
  const written = await again(other, 'written over by a program')
  await again(both, 'written over, and then removed')
  await act('remove', [removed.file.id, both.file.id])
  await forget(gone.file.id)
  // Its name is somebody else's by now.
  await save('Gone.txt', 'another one of that name', notices.id)

  const { files, inAll } = await inCopy()
  expect(inAll).toBe(5)
  expect(files.map(({ name, here }) => [name, here])).toEqual([
    ['Gone.txt', 'gone'],
    ['Removed and other.txt', 'removed'],
    ['Removed.txt', 'removed'],
    ['Other.txt', 'other'],
    ['Same.txt', 'same'],
  ])
  expect(files[0]).toMatchObject({ folders: ['Notices'], number: 1, author: 'priya', size: 13, type: 'txt' })
  expect(here((await inCopy('notices oth')).files)).toEqual({ 'Other.txt': 'other' })

  const key = randomUUID()
  const all = files.map(({ id }) => id)
  expect(await bring(all, key)).toEqual({ brought: 4, not: [] })
  expect(await headOf(other.file.id)).toEqual({ number: 3, reason: 'restored', text: 'as it was copied' })
  expect(await headOf(removed.file.id)).toEqual({ number: 1, reason: 'saved', text: 'removed later' })
  expect(await headOf(both.file.id)).toEqual({ number: 3, reason: 'restored', text: 'removed, and written before' })
  expect(await headOf(same.file.id)).toMatchObject({ number: 1 })
  // What was here meanwhile is a version still.
  expect(await (await priya.ask(`/api/versions/${written.version.id}/bytes`)).text()).toBe('written over by a program')
  const place = await json<Place>(priya.ask(`/api/shares/${office.share}/entries?folderId=${notices.id}`))
  const names = place.entries.map(({ name }) => name)
  expect(names.sort()).toEqual(['Gone 2.txt', 'Gone.txt', 'Other.txt'])
  const back = place.entries.find(({ name }) => name === 'Gone 2.txt')!
  expect(await headOf(back.id)).toEqual({ number: 1, reason: 'brought in', text: 'gone for good' })

  // Asked for twice it is done once.
  expect(await bring(all, key)).toEqual({ brought: 1, not: [] })
  expect(await headOf(other.file.id)).toMatchObject({ number: 3 })
  const after = await json<Place>(priya.ask(`/api/shares/${office.share}/entries?folderId=${notices.id}`))
  expect(after.entries).toHaveLength(3)
})

test('what is damaged in the copy is told, and never brought; everything else comes', async () => {
  const [well, ill] = [await save('Well.txt', 'well'), await save('Ill.txt', 'ill')]
  await keepCopies(
    { database: office.database, contents: openContents() },
    { folders: [join(root, 'network')], drives: [] },
    { now: new Date(Date.now() + 25 * 3_600_000) },
  )
  await again(well, 'other')
  await again(ill, 'other, too')
  writeFileSync(join(root, 'network/Waterways/data/Ill.txt'), 'i11')
  expect(await bring([ill.file.id, well.file.id])).toEqual({
    brought: 1,
    not: [{ name: 'Ill.txt', why: { say: 'copies.damaged-there' } }],
  })
  expect(await headOf(well.file.id)).toMatchObject({ number: 3, text: 'well' })
  expect(await headOf(ill.file.id)).toMatchObject({ number: 2, text: 'other, too' })
  rmSync(join(root, 'network/Waterways/manifest-sha256.txt'))
  rmSync(join(root, 'network/Waterways'), { recursive: true })
  const answer = await priya.ask(`/api/shares/${office.share}/copies/${siteId}/files`)
  expect(answer.status).toBe(404)
})
