// Lists beside a spreadsheet, on a real PostgreSQL: made all or none, and in step with each version.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Cell, Workbook } from '../../core/content/workbook'
import type { Saved, SideLists } from '../../core/contract'
import { writeOds } from '../../core/formats/ods/write'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { unbounded } from '../counts/quotas'
import { EntryRow } from '../files/entity'
import { keepVersion } from '../saving/keep'
import { openContents } from '../storage/content'
import { openTestOffice, type TestOffice } from '../testing'
import { VersionRow } from '../versions/entity'
import { sheetsHere } from './read-sheets'
import { newSideLists, sideListsOf } from './service'

let office: TestOffice
const contents = openContents()
/** The reader of spreadsheets has a fault of its own. */
let failing = false
beforeAll(async () => {
  office = await openTestOffice({
    sheets: async (asked) => {
      if (failing) throw new TypeError('A reader that has a fault.')
      return sheetsHere(asked)
    },
  })
})
afterAll(() => office.close())

const workbook = (...sheets: [name: string, rows: Cell[][]][]): Workbook => ({
  sheets: sheets.map(([name, rows]) => ({ name, rows, widths: {} })),
})
const tolls = (level: number) =>
  workbook(
    [
      'Rates',
      [
        [{ value: 'Boat' }, { value: 'Toll' }],
        [{ value: 'Barge' }, { value: level }],
      ],
    ],
    ['Sums', [[{ formula: 'SUM(Rates!B2,1)' }, { value: '=1+1' }]]],
  )
const save = (bytes: Uint8Array, target: Saved | string, personId = office.people.ida, more: object = {}) =>
  keepVersion(office.database, unbounded, {
    personId,
    bytes: Buffer.from(bytes),
    reason: 'saved',
    key: randomUUID(),
    target:
      typeof target === 'string'
        ? { place: { shareId: office.share, folderId: null, name: target } }
        : { fileId: target.file.id, baseId: target.version.id },
    ...more,
  })
const put = (
  file: Saved,
  lists: [sheet: string, name: string][],
  { guarded = false, inStep = true, by = office.people.ida } = {},
) =>
  newSideLists({ database: office.database, contents, sheets: sheetsHere }, by, file.file.id, {
    lists: lists.map(([sheet, name]) => ({ id: randomUUID(), sheet, name })),
    guarded,
    inStep,
  })
const known = (fileId: string, by = office.people.ida): Promise<SideLists> =>
  sideListsOf(office.database.manager, by, fileId)
async function textOf(fileId: string): Promise<string> {
  const { headVersionId } = await office.database.manager.findOneByOrFail(EntryRow, { id: fileId })
  const { sha256 } = await office.database.manager.findOneByOrFail(VersionRow, { id: headVersionId! })
  return (await contents.whole(office.database.manager, sha256)).toString()
}
const versions = (fileId: string) =>
  office.database.manager.find(VersionRow, { where: { fileId }, order: { number: 'ASC' } })
const inStepWith = (fileId: string, number: number) =>
  expect.poll(async () => (await known(fileId)).lists.map((list) => list.number ?? list.fault)).toEqual([number])
const refused = (work: Promise<unknown>) =>
  work.then(
    () => 'done',
    ({ problem }) => problem?.type ?? 'an error',
  )

describe('lists beside a spreadsheet', () => {
  test('are files of its sheets, with results where the file has none, and follow each version', async () => {
    const first = await save(writeXlsx(tolls(1.5)), 'Tolls.xlsx')
    const [rates, sums] = await put(first, [
      ['Rates', 'Tolls Rates.csv'],
      ['Sums', 'Tolls Sums.tsv'],
    ])
    expect([await textOf(rates!.id), await textOf(sums!.id)]).toEqual(['Boat,Toll\r\nBarge,1.5\r\n', '2.5\t=1+1\r\n'])
    const second = await save(writeXlsx(tolls(2)), first, office.people.priya)
    await expect.poll(() => textOf(rates!.id)).toBe('Boat,Toll\r\nBarge,2\r\n')
    await expect.poll(() => textOf(sums!.id)).toBe('3\t=1+1\r\n')
    expect((await versions(rates!.id)).map(({ number, authorId, reason }) => [number, authorId, reason])).toEqual([
      [1, office.people.ida, 'in step'],
      [2, office.people.priya, 'in step'],
    ])
    await expect
      .poll(async () => (await known(first.file.id)).lists.map(({ name, number, fault }) => [name, number, fault]))
      .toEqual([
        ['Tolls Rates.csv', 2, null],
        ['Tolls Sums.tsv', 2, null],
      ])
    expect((await known(rates!.id)).of).toEqual({
      fileId: first.file.id,
      name: 'Tolls.xlsx',
      sheet: 'Rates',
      number: 2,
    })
    // What is the same makes no version, and is in step all the same.
    const same = { sheets: [...tolls(2).sheets, { name: 'More', rows: [[{ value: 1 }]], widths: {} }] }
    await save(writeXlsx(same), second)
    await expect.poll(async () => (await known(first.file.id)).lists.map(({ number }) => number)).toEqual([3, 3])
    expect(await versions(rates!.id)).toHaveLength(2)
  })

  test('are made all or none, by whoever may, of what has sheets', async () => {
    const file = await save(writeXlsx(tolls(1)), 'Levels.xlsx')
    await save(new TextEncoder().encode('x'), 'Levels Sums.csv')
    const there = () => office.database.manager.countBy(EntryRow, { shareId: office.share })
    const before = await there()
    expect(
      await refused(
        put(file, [
          ['Rates', 'Levels Rates.csv'],
          ['Sums', 'levels sums.csv'],
        ]),
      ),
    ).toBe('name-taken')
    expect(
      await refused(
        put(file, [
          ['Rates', 'A.csv'],
          ['Nowhere', 'B.csv'],
        ]),
      ),
    ).toBe('invalid')
    expect(await refused(put(file, [['Rates', 'A.xlsx']]))).toBe('invalid')
    expect(await refused(put(file, [['Rates', 'A?.csv']]))).toBe('name-refused')
    expect(await refused(put(file, [['Rates', 'A.csv']], { by: office.people.tomas }))).toBe('not-allowed')
    expect(await refused(put(file, [['Rates', 'A.csv']], { by: office.people.ben }))).toBe('not-found')
    const text = await save(new TextEncoder().encode('no sheets'), 'Note.txt')
    expect(await refused(put(text, [['Rates', 'A.csv']]))).toBe('invalid')
    const damaged = await save(new TextEncoder().encode('no package'), 'Damaged.xlsx')
    expect(await refused(put(damaged, [['Rates', 'A.csv']]))).toBe('invalid')
    expect([await there(), (await known(file.file.id)).lists]).toEqual([before + 2, []])
  })

  test('say why they are behind, and go on when that is mended', async () => {
    const first = await save(writeXlsx(tolls(1)), 'Quays.xlsx')
    const [list] = await put(first, [['Rates', 'Quays Rates.csv']])
    const [rates] = tolls(2).sheets
    const renamed = { sheets: [{ ...rates!, name: 'Fees' }] }
    const second = await save(writeXlsx(renamed), first)
    await expect
      .poll(async () => (await known(first.file.id)).lists[0])
      .toMatchObject({
        number: 1,
        fault: { say: 'problem.no-such-sheet-any-more', facts: { sheet: 'Rates' } },
      })
    expect(await textOf(list!.id)).toContain('Barge,1\r\n')
    const third = await save(new TextEncoder().encode('no package'), second)
    await expect
      .poll(async () => (await known(first.file.id)).lists[0]?.fault)
      .toMatchObject({ say: expect.stringMatching(/^formats/) })
    const fourth = await save(writeXlsx(tolls(4)), third)
    await inStepWith(first.file.id, 4)
    // Somebody wrote in it: their version is kept, and the next one is written on top of it.
    const { headVersionId } = await office.database.manager.findOneByOrFail(EntryRow, { id: list!.id })
    await keepVersion(office.database, unbounded, {
      personId: office.people.ida,
      bytes: Buffer.from('mine'),
      reason: 'saved',
      key: randomUUID(),
      target: { fileId: list!.id, baseId: headVersionId! },
    })
    expect((await known(first.file.id)).lists[0]).toMatchObject({ number: 4, changed: true })
    const fifth = await save(writeXlsx(tolls(5)), fourth)
    await inStepWith(first.file.id, 5)
    expect((await known(first.file.id)).lists[0]).toMatchObject({ number: 5, changed: false })
    expect((await versions(list!.id)).map(({ reason }) => reason)).toEqual(['in step', 'in step', 'saved', 'in step'])
    // It goes on as another type, and is read as what it is.
    const sixth = await save(
      writeOds({ workbook: tolls(6), resultOf: () => undefined }).bytes,
      fifth,
      office.people.ida,
      {
        target: { fileId: first.file.id, baseId: fifth.version.id, type: 'ods' },
      },
    )
    await inStepWith(first.file.id, 6)
    expect(await textOf(list!.id)).toContain('Barge,6\r\n')
    await office.database.manager.update(EntryRow, { id: list!.id }, { removedAt: new Date() })
    await save(writeOds({ workbook: tolls(7), resultOf: () => undefined }).bytes, sixth)
    await expect
      .poll(async () => (await known(first.file.id)).lists[0])
      .toMatchObject({
        name: null,
        number: 6,
        fault: { say: 'problem.list-is-removed' },
      })
  })

  test('guard texts that could count as formulas, and are written as it was said of them', async () => {
    const first = await save(writeXlsx(tolls(1.5)), 'Guarded.xlsx')
    const [list] = await put(first, [['Sums', 'Guarded Sums.csv']], { guarded: true })
    expect(await textOf(list!.id)).toBe("2.5,'=1+1\r\n")
    await office.database.manager.update(EntryRow, { id: list!.id }, { readAs: 'separator=semicolon&decimal=comma' })
    await save(writeXlsx(tolls(2.5)), first)
    await inStepWith(first.file.id, 2)
    expect(await textOf(list!.id)).toBe('3,5;=1+1\r\n')
  })

  test('once, and those that are kept no longer, are files like any other', async () => {
    const first = await save(writeXlsx(tolls(1)), 'Once.xlsx')
    const [once] = await put(first, [['Rates', 'Once Rates.csv']], { inStep: false })
    expect([(await known(first.file.id)).lists, (await known(once!.id)).of]).toEqual([[], null])
    // What saved itself thins out as that does.
    const [list] = await put(first, [['Rates', 'Once more Rates.csv']])
    await save(writeXlsx(tolls(2)), first, office.people.ida, { reason: 'by itself' })
    await inStepWith(first.file.id, 2)
    expect((await versions(list!.id)).map(({ reason }) => reason)).toEqual(['in step', 'by itself'])
    expect(await versions(once!.id)).toHaveLength(1)
    // A list that one may not see has no name.
    expect((await known(first.file.id, office.people.tomas)).lists[0]).toMatchObject({ name: 'Once more Rates.csv' })
  })

  test('of a file that the reader fails on wait for its next version, and hold up no other', async () => {
    const first = await save(writeXlsx(tolls(1)), 'Failing.xlsx')
    await put(first, [['Rates', 'Failing Rates.csv']])
    failing = true
    const second = await save(writeXlsx(tolls(2)), first)
    await expect
      .poll(async () => (await known(first.file.id)).lists[0])
      .toMatchObject({ number: 1, fault: { say: 'problem.list-not-read' } })
    failing = false
    const other = await save(writeXlsx(tolls(1)), 'Sound.xlsx')
    await put(other, [['Rates', 'Sound Rates.csv']])
    await save(writeXlsx(tolls(3)), other)
    await inStepWith(other.file.id, 2)
    await save(writeXlsx(tolls(3)), second)
    await inStepWith(first.file.id, 3)
  })
})
