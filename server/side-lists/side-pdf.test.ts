// PDFs beside a file, on a real PostgreSQL with the real typesetter: in step with each version, read again by poppler.
import { execFileSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { noChoices, type PaperStandard, type Saved } from '../../core/contract'
import { writeDocument } from '../../core/formats/documents'
import { readWorkbook } from '../../core/formats/workbooks'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { unbounded } from '../counts/quotas'
import { doc, h, p } from '../demo/papers'
import { EntryRow } from '../files/entity'
import { infoOf, lettersOf, textOf } from '../paper/testing'
import { keepVersion } from '../saving/keep'
import { openContents } from '../storage/content'
import { openTestOffice, type TestOffice } from '../testing'
import { VersionRow } from '../versions/entity'
import { endSideList, newSidePdf, sideListsOf } from './service'

let office: TestOffice
let folder: string
const contents = openContents()
beforeAll(async () => {
  office = await openTestOffice()
  folder = mkdtempSync(join(tmpdir(), 'jaula-side-pdf-'))
})
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true })
  await office.close()
})

const save = (bytes: Uint8Array, target: Saved | string, personId = office.people.ida) =>
  keepVersion(office.database, unbounded, {
    personId,
    bytes: Buffer.from(bytes),
    reason: 'saved',
    key: randomUUID(),
    target:
      typeof target === 'string'
        ? { place: { shareId: office.share, folderId: null, name: target } }
        : { fileId: target.file.id, baseId: target.version.id },
  })
const put = (file: Saved, name: string, more: object = {}, by = office.people.ida) =>
  newSidePdf({ database: office.database, contents }, by, file.file.id, {
    id: randomUUID(),
    name,
    inStep: true,
    standard: 'plain' as PaperStandard,
    choices: noChoices,
    language: 'en',
    ...more,
  })
async function pdfOf(fileId: string): Promise<string> {
  const { headVersionId } = await office.database.manager.findOneByOrFail(EntryRow, { id: fileId })
  const { sha256 } = await office.database.manager.findOneByOrFail(VersionRow, { id: headVersionId! })
  const at = join(folder, `${randomUUID()}.pdf`)
  writeFileSync(at, await contents.whole(office.database.manager, sha256))
  execFileSync('qpdf', ['--check', at], { stdio: 'ignore' })
  return at
}
const lists = async (file: Saved) => (await sideListsOf(office.database.manager, office.people.ida, file.file.id)).lists
const refused = (work: Promise<unknown>) =>
  work.then(
    () => 'done',
    ({ problem }) => problem?.says?.say ?? problem?.type ?? 'an error',
  )
const inspection = (found: string) => writeDocument(doc(h(1, 'Gate paddles'), p(found)), null, 'docx').bytes

test('a PDF follows each version of its document, as its author’s, and stays as it is when it is left', async () => {
  const first = await save(inspection('The upper paddle lifts.'), 'Paddles.docx')
  const choices = { ...noChoices, corner: true, size: 'a5' as const }
  const pdf = await put(first, 'Paddles.pdf', { standard: 'archive', choices })
  const one = await pdfOf(pdf.id)
  expect(lettersOf(textOf(one))).toContain(lettersOf('The upper paddle lifts.'))
  expect(lettersOf(textOf(one))).toContain(lettersOf('Paddles.docx, version 1'))
  expect(infoOf(one)).toMatch(/Tagged:\s+yes[\s\S]*Page size:\s+419\.\d+ x 595/)
  const second = await save(inspection('The upper paddle is stuck.'), first, office.people.priya)
  await expect.poll(async () => (await lists(first)).map(({ number, fault }) => [number, fault])).toEqual([[2, null]])
  const two = await pdfOf(pdf.id)
  expect(lettersOf(textOf(two))).toContain(lettersOf('The upper paddle is stuck.'))
  expect(lettersOf(textOf(two))).toContain(lettersOf('version 2'))
  const made = await office.database.manager.find(VersionRow, { where: { fileId: pdf.id }, order: { number: 'ASC' } })
  expect(made.map(({ authorId, reason }) => [authorId, reason])).toEqual([
    [office.people.ida, 'in step'],
    [office.people.priya, 'in step'],
  ])
  expect((await sideListsOf(office.database.manager, office.people.ida, pdf.id)).of).toMatchObject({
    name: 'Paddles.docx',
    sheet: null,
    number: 2,
  })
  await endSideList(office.database.manager, office.people.ida, (await lists(first))[0]!.id)
  await save(inspection('It lifts again.'), second)
  expect(await lists(first)).toEqual([])
})

test('of a spreadsheet it has every sheet that the file shows, and no other', async () => {
  const sheets = ['Tolls', 'Wages'].map((name) => ({ name, rows: [[{ value: `${name} of May` }]], widths: {} }))
  // The second sheet is hidden where the file says so (ECMA-376 part 1, §18.2.19).
  const { unzipSync, zipSync, strFromU8, strToU8 } = await import('fflate')
  const parts = unzipSync(writeXlsx({ sheets }))
  const main = strFromU8(parts['xl/workbook.xml']!)
  parts['xl/workbook.xml'] = strToU8(main.replace(/(<sheet [^>]*name="Wages")/, '$1 state="hidden"'))
  const bytes = zipSync(parts)
  expect(readWorkbook(bytes, 'xlsx').hiddenSheets).toEqual([1])
  const file = await save(bytes, 'Tolls and wages.xlsx')
  const pdf = await put(file, 'Tolls and wages.pdf')
  const text = lettersOf(textOf(await pdfOf(pdf.id)))
  expect(text).toContain('TollsofMay')
  expect(text).not.toContain('Wages')
})

test('the same request makes one PDF, what cannot be is refused by name, and what later cannot be is told', async () => {
  const file = await save(inspection('It lifts.'), 'Lifts.docx')
  const id = randomUUID()
  const once = await put(file, 'Lifts.pdf', { id })
  expect((await put(file, 'Lifts.pdf', { id })).id).toBe(once.id)
  expect(await lists(file)).toHaveLength(1)
  expect(await refused(put(file, 'Lifts.docm'))).toBe('problem.no-pdf-by-its-name')
  expect(await refused(put(file, 'Lifts.pdf'))).toBe('problem.a-file-with-this-name-is-here')
  expect(await refused(put(file, 'No.pdf', {}, office.people.tomas))).not.toBe('done')
  const photo = await save(Buffer.from('\x89PNG'), 'Weir.png')
  expect(await refused(put(photo, 'Weir.pdf'))).toBe('problem.has-no-pages')
  const broken = await save(Buffer.from('no document'), 'Broken.docx')
  expect(await refused(put(broken, 'Broken.pdf'))).toBe('problem.cannot-be-set')
  // Once is no promise for later.
  const alone = await save(inspection('Once.'), 'Once.docx')
  await put(alone, 'Once.pdf', { inStep: false })
  expect(await lists(alone)).toEqual([])
  const next = await save(Buffer.from('no document any more'), file)
  await expect
    .poll(async () => (await lists(file)).map(({ number, fault }) => [number, Boolean(fault)]))
    .toEqual([[1, true]])
  await save(inspection('It lifts again.'), next)
  await expect.poll(async () => (await lists(file)).map(({ number, fault }) => [number, fault])).toEqual([[3, null]])
})
