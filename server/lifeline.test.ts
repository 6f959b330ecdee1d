import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { RetentionRule, Saved } from '../core/contract'
import { writeDocx } from '../core/formats/docx/write'
import { writeXlsx } from '../core/formats/xlsx/write'
import { english } from '../core/words/testing'
import { compareHere } from './changes/compare'
import { describeVersions } from './changes/describe'
import { traceBack } from './changes/trace'
import { unbounded } from './counts/quotas'
import { doc, h, p } from './demo/papers'
import { fileFacts } from './files/facts'
import { newFolder } from './files/folders'
import { previewRetention, retentionOf, setHold, setRetention } from './retention/service'
import { thinVersions } from './retention/thin'
import { keepVersion } from './saving/keep'
import { openContents } from './storage/content'
import { freeUnneeded } from './storage/free'
import { moveContents } from './storage/move'
import { openTestOffice, type TestOffice } from './testing'
import { labelVersion } from './versions/labels'

const contents = openContents()

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

async function history(name: string, states: readonly Uint8Array[], folderId: string | null = null, days = 1) {
  let saved: Saved | null = null
  const all: Saved[] = []
  for (const [index, bytes] of states.entries()) {
    saved = await keepVersion(office.database, unbounded, {
      personId: office.people.ida,
      bytes: Buffer.from(bytes),
      reason: 'saved',
      key: randomUUID(),
      at: new Date(Date.UTC(2026, 0, 1) + index * days * 86_400_000),
      target: saved
        ? { fileId: saved.file.id, baseId: saved.version.id }
        : { place: { shareId: office.share, folderId, name } },
    })
    all.push(saved)
  }
  return all
}
const paper = (...lines: string[]) => writeDocx(doc(h(1, 'Gate paddles'), ...lines.map((line) => p(line))))
const ledger = (rows: (string | number)[][]) =>
  writeXlsx({ sheets: [{ name: '2026', widths: {}, rows: rows.map((row) => row.map((value) => ({ value }))) }] })
const facts = (saved: Saved) => fileFacts(office.database.manager, office.people.ida, saved.file.id)

test('each version is told by what it changed; a paragraph and a cell are followed back to where they began', async () => {
  const { database, people } = office
  const sill = 'The sill was dry at both ends.'
  const versions = await history('paddles.docx', [
    paper('The paddle turns freely on both sides.'),
    paper('The paddle turns freely on both sides.', sill),
    paper(sill, 'The paddle turns stiffly on both sides of the lock.'),
    paper('A new opening for the report.', sill, 'The paddle turns stiffly on both sides of the lock.'),
  ])
  const book = await history('levels.xlsx', [
    ledger([
      ['LK01', 2.1],
      ['LK02', 1.9],
    ]),
    ledger([
      ['LK00', 3],
      ['LK01', 2.1],
      ['LK02', 1.9],
    ]),
    ledger([
      ['LK00', 3],
      ['LK01', 2.4],
      ['LK02', 1.9],
    ]),
  ])
  await history('notes.txt', [Buffer.from('weir\nsluice\n'), Buffer.from('weir\nlower sluice\n')])
  await history('plan.bin', [Buffer.from([0, 1, 2]), Buffer.from([0, 1, 2, 3])])
  expect(await describeVersions(database, compareHere, contents)).toBe(11)
  const summaries = async (saved: Saved) =>
    (await facts(saved)).versions.map(({ summary }) => english(summary)).reverse()
  expect(await summaries(versions[0]!)).toEqual([
    '9 words added in ‹Gate paddles›.',
    '7 words added in ‹Gate paddles›.',
    '4 words added, 1 removed in ‹Gate paddles›; 1 part moved.',
    '6 words added in ‹Gate paddles›.',
  ])
  expect((await summaries(book[0]!)).slice(1)).toEqual(['1 row added in ‹2026›.', '1 cell changed in ‹2026›.'])
  // The first paragraph after the heading, as the newest version has it third.
  const last = versions[3]!.version
  const text = (await import('../core/formats/docx/read')).readDocx(
    paper('A new opening for the report.', sill, 'The paddle turns stiffly on both sides of the lock.'),
  ).doc
  let at = 0
  text.descendants(
    (node, pos) => void (node.textContent.startsWith('The paddle') && node.isTextblock && (at = pos + 3)),
  )
  const trace = await traceBack(database, { comparing: compareHere, contents }, people.tomas, last.id, {
    kind: 'paragraph',
    at,
  })
  expect(trace.changes.map(({ number, before }) => [number, before])).toEqual([
    [3, 'The paddle turns freely on both sides.'],
    [1, null],
  ])
  const cell = await traceBack(database, { comparing: compareHere, contents }, people.ida, book[2]!.version.id, {
    kind: 'cell',
    sheet: '2026',
    row: 1,
    column: 1,
  })
  expect(cell.changes.map(({ number, before, now }) => [number, before, now])).toEqual([
    [3, '2.1', '2.4'],
    [1, null, '2.1'],
  ])
  await expect(
    traceBack(database, { comparing: compareHere, contents }, people.ben, last.id, { kind: 'paragraph', at }),
  ).rejects.toMatchObject({
    problem: { type: 'not-found' },
  })
})

test('retention takes what its preview told, keeps labels and holds, frees what nothing needs, and logs it', async () => {
  const { database, people, share } = office
  const { manager } = database
  const folder = await newFolder(database, people.priya, share, null, 'Minutes')
  const inner = await newFolder(database, people.priya, share, folder.id, '2026')
  const states = Array.from({ length: 60 }, (_, at) => paper(`Minutes of day ${at}.`, `${at * 7919} boats passed.`))
  const minutes = await history('minutes.docx', states, inner.id)
  const held = await history('held.docx', states.slice(0, 20), folder.id)
  const other = await history('elsewhere.docx', states.slice(0, 20))
  await moveContents(database, contents)
  const label = minutes[4]!.version
  await labelVersion(manager, people.ida, label.id, 'As sent to the council')
  await expect(labelVersion(manager, people.tomas, label.id, 'x')).rejects.toMatchObject({
    problem: { type: 'not-allowed' },
  })
  await setHold(manager, people.priya, held[0]!.file.id, 'The dispute about LK07')
  const rule: RetentionRule = { all: 10, hourly: 10, daily: 20, weekly: 60, monthly: null }
  await expect(setRetention(manager, people.ida, share, { folderId: folder.id, rule })).rejects.toMatchObject({
    problem: { type: 'not-allowed' },
  })
  const now = new Date(Date.UTC(2026, 3, 1))
  // What is held stays, however it was saved.
  let own: Saved = held.at(-1)!
  for (let at = 0; at < 3; at++)
    own = await keepVersion(database, unbounded, {
      personId: people.ida,
      bytes: Buffer.from(paper(`By itself ${at}.`)),
      reason: 'by itself',
      key: randomUUID(),
      at: new Date(Date.UTC(2026, 0, 21) + at * 60_000),
      target: { fileId: own.file.id, baseId: own.version.id },
    })
  const preview = await previewRetention(manager, people.priya, share, { folderId: folder.id, rule }, now.getTime())
  expect(preview).toMatchObject({ files: 2, versions: 83, held: 1 })
  expect(preview.months.reduce((sum, { gone }) => sum + gone, 0)).toBe(preview.gone)
  expect(preview.gone).toBeGreaterThan(40)
  expect(await thinVersions(database, now)).toBe(0)
  await setRetention(manager, people.priya, share, { folderId: folder.id, rule })
  const bytes = async () =>
    (await database.query('select coalesce(sum(octet_length(bytes)), 0)::float8 as n from chunk'))[0].n as number
  await freeUnneeded(database)
  const before = await bytes()
  expect(await thinVersions(database, now)).toBe(preview.gone)
  await freeUnneeded(database)
  const freed = before - (await bytes())
  expect(freed).toBeGreaterThan(0)
  expect(preview.frees).toBe(freed)
  const left = (await facts(minutes[0]!)).versions
  expect(left).toHaveLength(60 - preview.gone)
  expect(left[0]!.number).toBe(60)
  expect(left.at(-1)!.number).toBe(1)
  expect(left.find(({ id }) => id === label.id)?.label).toBe('As sent to the council')
  expect((await facts(held[0]!)).versions).toHaveLength(23)
  expect((await facts(held[0]!)).held).toBe('The dispute about LK07')
  expect((await facts(other[0]!)).versions).toHaveLength(20)
  const told = await retentionOf(manager, people.tomas, share)
  expect(told.gone.versions).toBe(preview.gone)
  expect(english(told.log[0])).toMatchObject({
    name: 'minutes.docx',
    why: expect.stringContaining('All versions for 10 days'),
  })
  expect(told.rules.map(({ path }) => path)).toEqual([['Waterways', 'Minutes']])
  expect(told.holds[0]).toMatchObject({ path: ['Waterways', 'Minutes', 'held.docx'] })
  // What came after one that went is told anew, beside what is before it now.
  expect(await describeVersions(database, compareHere, contents)).toBeGreaterThan(0)
  await setRetention(manager, people.priya, share, { folderId: folder.id, rule: null })
  expect((await retentionOf(manager, people.priya, share)).rules).toEqual([])
})
