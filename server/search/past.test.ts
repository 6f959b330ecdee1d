// A search in history on a real database: when words came into files and went, who took them out, who may be told, and
// that nothing of a version is found once retention has removed it.
import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { decoded } from '../../core/compare/files'
import { linesOf } from '../../core/compare/text-lines'
import type { PastAnswer, Saved } from '../../core/contract'
import { writeDocx } from '../../core/formats/docx/write'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { Phrase } from '../../core/history/past-words'
import { compareHere } from '../changes/compare'
import { describeVersions } from '../changes/describe'
import { unbounded } from '../counts/quotas'
import { doc, h, p } from '../demo/papers'
import { newFolder } from '../files/folders'
import { setRetention } from '../retention/service'
import { thinVersions } from '../retention/thin'
import { openRealm } from '../rights/service'
import { keepVersion } from '../saving/keep'
import { openContents } from '../storage/content'
import { openTestOffice, type TestOffice } from '../testing'
import { searchPast } from './past'

const contents = openContents()
let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

/** A file whose versions are these, a day apart, by ida and priya in turn. */
async function history(name: string, states: readonly Uint8Array[], folderId: string | null = null): Promise<Saved[]> {
  const all: Saved[] = []
  for (const [index, bytes] of states.entries()) {
    const before = all.at(-1)
    all.push(
      await keepVersion(office.database, unbounded, {
        personId: index % 2 ? office.people.priya : office.people.ida,
        bytes: Buffer.from(bytes),
        reason: 'saved',
        key: randomUUID(),
        at: new Date(Date.UTC(2026, 0, 1 + index)),
        target: before
          ? { fileId: before.file.id, baseId: before.version.id }
          : { place: { shareId: office.share, folderId, name } },
      }),
    )
  }
  return all
}
const describeAll = () => describeVersions(office.database, compareHere, contents)
const search = (
  q: string,
  where: { fileId?: string; shareId?: string; folderId?: string },
  who = office.people.tomas,
) => searchPast(office.database.manager, who, { q, ...where })
const paper = (...lines: string[]) => writeDocx(doc(h(1, 'Gate paddles'), ...lines.map((line) => p(line))))
const ledger = (rows: (string | number)[][]) =>
  writeXlsx({ sheets: [{ name: '2026', widths: {}, rows: rows.map((row) => row.map((value) => ({ value }))) }] })

test('a sentence: when it went, with whom, and what came in its place', async () => {
  const versions = await history('sluice.docx', [
    paper('The sill is dry.'),
    paper('The sill is dry.', 'The north sluice is to be closed on Mondays.'),
    paper('The sill is dry.', 'The north sluice is to be closed on Mondays.', 'Nothing else.'),
    paper('The sill is dry.', 'The north sluice is to be closed on Fridays.', 'Nothing else.'),
  ])
  const fileId = versions[0]!.file.id
  const waiting = await search('closed on mondays', { fileId })
  expect(waiting.waiting).toBe(4)
  // What waits is not what cannot be looked through.
  expect(waiting.files[0]!.unread).toBe(0)
  await describeAll()
  const { files, waiting: none } = await search('closed on mondays', { fileId })
  expect(none).toBe(0)
  const [{ changes, stretches, now, unread, first }] = files as [PastAnswer['files'][number]]
  expect({ now, unread, first: first.number }).toEqual({ now: 0, unread: 0, first: 1 })
  expect(
    changes.map(({ version, last, before, after }) => [version.number, version.author, last?.number, before, after]),
  ).toEqual([
    [4, 'priya', 3, 1, 0],
    [2, 'priya', 1, 0, 1],
  ])
  expect(changes[0]!.lines).toEqual([
    {
      line: { text: 'The north sluice is to be closed on Mondays.', under: 'Gate paddles', row: null },
      instead: { text: 'The north sluice is to be closed on Fridays.', under: 'Gate paddles', row: null },
    },
  ])
  expect(stretches.map(({ from, until }) => [from.number, until?.number])).toEqual([[2, 4]])
  // Without a file it is found as well, by whoever may see it and by nobody else.
  expect((await search('closed on mondays', {})).files.map(({ file }) => file.id)).toEqual([fileId])
  expect((await search('closed on mondays', {}, office.people.ben)).files).toEqual([])
  await expect(search('sill', { fileId }, office.people.ben)).rejects.toMatchObject({ problem: { type: 'not-found' } })
  // What nobody took out is no loss.
  expect((await search('sill is dry', {})).files).toEqual([])
})

test('a number in a sheet, however it is written, and its row', async () => {
  const versions = await history('costs.xlsx', [
    ledger([
      ['Paddles', 1200],
      ['Grease', 40],
    ]),
    ledger([
      ['Timber', 900],
      ['Paddles', 1200],
      ['Grease', 40],
    ]),
    ledger([
      ['Timber', 900],
      ['Paddles', 1350],
      ['Grease', 40],
    ]),
  ])
  await describeAll()
  for (const typed of ['1200', '1,200', '1.200,00']) {
    const { files } = await search(typed, { shareId: office.share })
    expect(files.map(({ file }) => file.id)).toEqual([versions[0]!.file.id])
    expect(files[0]!.changes[0]).toMatchObject({
      version: { number: 3, author: 'ida' },
      lines: [{ line: { text: 'Paddles\t1200', under: '2026', row: 1 }, instead: { text: 'Paddles\t1350' } }],
    })
  }
  // Rows that only moved down are no change.
  expect((await search('grease', { fileId: versions[0]!.file.id })).files[0]!.changes).toHaveLength(1)
})

test('a place is searched with the folders in it; a closed folder is nobody else’s', async () => {
  const { manager } = office.database
  const folder = await newFolder(office.database, office.people.priya, office.share, null, 'Bids')
  const inner = await newFolder(office.database, office.people.priya, office.share, folder.id, '2026')
  await history('bid.txt', [Buffer.from('Oldbridge asks 7,400.'), Buffer.from('Withdrawn.')], inner.id)
  await history('other.txt', [Buffer.from('Oldbridge is a town.'), Buffer.from('A town.')])
  await describeAll()
  const found = async (where: Parameters<typeof search>[1], who?: string) =>
    (await search('oldbridge', where, who)).files.map(({ file }) => file.name)
  expect((await found({ shareId: office.share })).sort()).toEqual(['bid.txt', 'other.txt'])
  expect(await found({ shareId: office.share, folderId: folder.id })).toEqual(['bid.txt'])
  await openRealm(manager, folder.id, true)
  expect(await found({ shareId: office.share })).toEqual(['other.txt'])
})

test('what retention has removed is found no more, and what is left is right', async () => {
  const { database, people, share } = office
  const folder = await newFolder(database, people.priya, share, null, 'Old notes')
  const states = ['Quay walls.', 'Quay walls and a secret bollard.', 'Quay walls.', 'Quay walls and steps.']
  const versions = await history(
    'quay.txt',
    states.map((text) => Buffer.from(text)),
    folder.id,
  )
  await describeAll()
  const fileId = versions[0]!.file.id
  expect((await search('secret bollard', {})).files).toHaveLength(1)
  await setRetention(database.manager, people.priya, share, {
    folderId: folder.id,
    rule: { all: 1, hourly: 0, daily: 0, weekly: 0, monthly: 36_500 },
  })
  await thinVersions(database, new Date(Date.UTC(2026, 5, 1)))
  await describeAll()
  const left = await database.query('select number from version where file_id = $1 order by number', [fileId])
  expect(left.map(({ number }: { number: number }) => number)).not.toContain(2)
  expect((await search('secret bollard', {})).files).toEqual([])
  const [kept] = (await search('quay walls', { fileId })).files
  expect(kept!.changes.map(({ before, after }) => [before, after])).toEqual([[0, 1]])
  const rows = await database.query(
    "select count(*)::int as n from version_change where came like '%bollard%' or went like '%bollard%'",
  )
  expect(rows[0].n).toBe(0)
})

const word = fc.constantFrom('gate', 'weir', 'sluice', 'paddle', '12', '1,200')
const state = fc.array(
  fc.array(word, { minLength: 1, maxLength: 3 }).map((words) => words.join(' ')),
  { maxLength: 4 },
)

test('whatever was saved, each version says the words as often as it is told', { timeout: 300_000 }, async () => {
  let told = 0
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom('txt', 'docx', 'xlsx'),
      fc.array(state, { minLength: 2, maxLength: 5 }),
      fc.array(word, { minLength: 1, maxLength: 2 }).map((words) => words.join(' ')),
      async (type, states, q) => {
        const bytes = states.map((lines) =>
          type === 'txt'
            ? Buffer.from(lines.join('\n'))
            : type === 'docx'
              ? paper(...lines)
              : ledger([...lines.map((one) => [one]), ['end']]),
        )
        const versions = await history(`${randomUUID()}.${type}`, bytes)
        await describeAll()
        const phrase = new Phrase(q)
        const counts = bytes.map((one) =>
          linesOf(decoded({ bytes: one, type })!).reduce((sum, { text }) => sum + phrase.countIn(text), 0),
        )
        const fileId = versions[0]!.file.id
        const [{ changes, now }] = (await search(q, { fileId })).files as [PastAnswer['files'][number]]
        const expected = counts.flatMap((after, at) =>
          after === (counts[at - 1] ?? 0) ? [] : [[at + 1, counts[at - 1] ?? 0, after]],
        )
        expect(now).toBe(counts.at(-1))
        expect(changes.toReversed().map(({ version, before, after }) => [version.number, before, after])).toEqual(
          expected,
        )
        const lost = expected.some(([, before, after]) => after! < before!)
        const all = await search(q, { shareId: office.share })
        // The newest twenty are listed, and this one was saved like the others: by its name it is looked for alone.
        if (all.files.length < 20) expect(all.files.some(({ file }) => file.id === fileId)).toBe(lost)
        told += expected.length
      },
    ),
    { numRuns: 25 },
  )
  expect(told).toBeGreaterThan(3)
})
