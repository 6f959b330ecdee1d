// PDF as a type: filed beside the work and kept in step with it, a copy for who only reads, with what is not in it; where
// pages begin, and how they are, in the work itself.
import { execFileSync } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import type { Saved } from '../core/contract'
import { readDocx } from '../core/formats/docx/read'
import { fileOf, w } from '../core/formats/docx/testing'
import { readXlsx } from '../core/formats/xlsx/read'
import { brought, newest } from './brought'
import { beginSheet, command, enterByKeys } from './flows'
import { expect, type Office, paper, reach, test, writeNew } from './office'

const whatFor = (page: Page) => page.getByRole('combobox', { name: 'What is it for?' })
const beside = (page: Page) => page.getByRole('region', { name: 'On pages' })
const now = (page: Page) => page.getByTestId('pages-now')

/** What poppler reads in a file of the office that is a PDF; nothing where there is none. */
async function wordsOf(page: Page, office: Office, folder: string, name: string): Promise<string> {
  const [row] = await office.query('select id from entry where removed_at is null and name = $1', [name])
  if (!row) return ''
  mkdirSync(folder, { recursive: true })
  const at = join(folder, 'now.pdf')
  writeFileSync(at, await newest(page, office, { file: { id: row.id } } as unknown as Saved))
  return execFileSync('pdftotext', ['-layout', at, '-'], { encoding: 'utf8' })
}
/** Settles the slip under a name. */
async function nameIt(page: Page, name: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type(name)
  await expect(page.getByTestId('full-path')).toContainText(name)
  await page.keyboard.press('Enter')
}

test('a document is filed with a PDF beside it, which follows each version and says what it is', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await writeNew(page, office.url, 'The upper paddle lifts.')
  await page.keyboard.press('Control+s')
  await whatFor(page).focus()
  await page.keyboard.type('To go on editing, with a PDF')
  await expect(page.getByText('A PDF of it comes beside it and is written anew with each version.')).toBeVisible()
  await nameIt(page, 'Paddles of May')
  await expect(page.getByText('Paddles of May.pdf is beside it.')).toBeVisible()
  const words = () => wordsOf(page, office, info.outputDir, 'Paddles of May.pdf')
  expect(await words()).toContain('The upper paddle lifts.')
  await paper(page).focus()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' The lower one leaks.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect.poll(words).toContain('The lower one leaks.')

  // It is known where the pages are looked at, opens as its pages, and says whose it is.
  await page.keyboard.press('Alt+p')
  const put = beside(page).getByRole('button', { name: 'Put a PDF beside it' })
  await put.focus()
  await page.keyboard.press('Enter')
  const dialog = page.getByRole('dialog', { name: 'A PDF beside Paddles of May.docx' })
  await expect(dialog.getByRole('listitem')).toHaveText([/Paddles of May\.pdf.*in step: version 2/])
  await dialog.getByRole('link', { name: 'Paddles of May.pdf' }).press('Enter')
  await expect(page.getByText('This PDF is written anew with each version of')).toContainText(
    'Paddles of May.docx, now version 2',
  )
  await expect(page.getByRole('img', { name: 'Page 1 of 1' })).toHaveAttribute('data-drawn', '1')
  await page.getByRole('link', { name: 'Open its file' }).press('Enter')
  await expect(paper(page)).toContainText('The lower one leaks.')
})

test('a copy for who only reads is a PDF, with what is not in it told before; comments come where that is chosen', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  const run = (words: string) => `<w:r><w:t xml:space="preserve">${words}</w:t></w:r>`
  const file = fileOf(
    `<w:p>${run('The gate of lock 7 ')}<w:commentRangeStart w:id="1"/>${run('leaks.')}<w:commentRangeEnd w:id="1"/><w:r><w:commentReference w:id="1"/></w:r></w:p>`,
    {
      comments: `<w:comments xmlns:w="${w}"><w:comment w:id="1" w:author="Ben Marlowe"><w:p>${run('Since which winter?')}</w:p></w:comment></w:comments>`,
    },
  )
  const saved = await brought(page, office, 'Gate of lock 7.docx', Buffer.from(file))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(paper(page)).toContainText('The gate of lock 7')
  const copyAsPdf = async () => {
    await command(page, 'Save a copy')
    await whatFor(page).focus()
    await page.keyboard.type('To read')
    await expect(whatFor(page)).toHaveValue('pdf')
  }
  await copyAsPdf()
  await expect(page.getByTestId('losses')).toContainText('1 comment')
  await nameIt(page, 'Gate to read')
  const words = (name: string) => wordsOf(page, office, info.outputDir, name)
  await expect.poll(() => words('Gate to read.pdf')).toContain('The gate of lock 7 leaks.')
  expect(await words('Gate to read.pdf')).not.toContain('winter')

  // With them beside the text, nothing of it is missing.
  await page.keyboard.press('Alt+p')
  await beside(page).getByRole('button', { name: 'What is printed, and how' }).focus()
  await page.keyboard.press('Enter')
  await beside(page).getByRole('combobox', { name: 'Comments and changes' }).focus()
  await page.keyboard.type('Beside')
  // Kept as it was the last time, a moment later.
  await expect
    .poll(async () => {
      const [row] = await office.query(
        "select likes->'paper'->>'remarks' as remarks from paper_likes where about = 'last'",
      )
      return row?.remarks
    })
    .toBe('margin')
  await page.keyboard.press('Escape')
  await copyAsPdf()
  await expect(page.getByTestId('losses')).not.toContainText('comment')
  await nameIt(page, 'Gate with remarks')
  await expect.poll(() => words('Gate with remarks.pdf')).toContain('Since which winter?')
})

test('where pages begin is seen in the text, and pages are as they are chosen, in the file itself', async ({
  page,
  office,
}) => {
  await enterByKeys(page, office.url)
  await writeNew(page, office.url, 'Levels')
  await expect(now(page)).toHaveText('Page 1 of 1 · 1 word')
  for (let line = 1; line <= 60; line++) {
    await page.keyboard.press('Enter')
    await page.keyboard.type(String(line))
  }
  await expect(now(page)).toHaveText('Page 2 of 2 · 61 words')
  const begins = page.locator('[data-words^="page "]')
  await expect(begins).toHaveCount(1)
  await page.keyboard.press('Control+Home')
  await expect(now(page)).toHaveText('Page 1 of 2 · 61 words')
  await page.keyboard.press('Control+a')
  await expect(now(page)).toContainText('61 of 61 words')
  await page.keyboard.press('ArrowLeft')
  await command(page, 'Hide where pages begin')
  await expect(begins).toHaveCount(0)
  await command(page, 'Show where pages begin')
  await expect(begins).toHaveCount(1)

  // Chosen for the paper, then had by the file: more pages, that many in the text, too.
  await page.keyboard.press('Alt+p')
  await beside(page).getByRole('button', { name: 'What is printed, and how' }).focus()
  await page.keyboard.press('Enter')
  await beside(page).getByRole('combobox', { name: 'Size', exact: true }).focus()
  await page.keyboard.type('A5')
  await beside(page).getByRole('button', { name: 'Have the file be so' }).focus()
  await page.keyboard.press('Enter')
  await expect(beside(page).getByRole('combobox', { name: 'Size', exact: true })).toHaveValue('as it is')
  await expect(now(page)).toContainText('of 3')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+s')
  await nameIt(page, 'Levels on small pages')
  await expect(reach(page)).toContainText('Saved as version 1')
  const [row] = await office.query("select id from entry where name = 'Levels on small pages.docx'")
  const saved = { file: { id: row!.id } } as unknown as Saved
  const size = async () => {
    const { width, height } = readDocx(await newest(page, office, saved)).doc.attrs.page
    return [width, height]
  }
  expect(await size()).toEqual([8391, 11906])
  // It is an edit like any other.
  await paper(page).focus()
  await page.keyboard.press('Control+z')
  await expect(now(page)).toContainText('of 2')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect.poll(size).toEqual([11906, 16838])
})

test('how a sheet is put on paper is in its file as it was chosen, told, and taken back', async ({ page, office }) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'Toll', '12')
  await page.keyboard.press('Control+s')
  await nameIt(page, 'Tolls lying')
  await expect(reach(page)).toContainText('Saved as version 1')
  await page.keyboard.press('Alt+p')
  await beside(page).getByRole('button', { name: 'What is printed, and how' }).focus()
  await page.keyboard.press('Enter')
  const lies = beside(page).getByRole('combobox', { name: 'It lies' })
  await lies.focus()
  await page.keyboard.type('Wide')
  await beside(page).getByRole('button', { name: 'Have the file be so' }).focus()
  await page.keyboard.press('Enter')
  await expect(lies).toHaveValue('as it is')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const [row] = await office.query("select id from entry where name = 'Tolls lying.xlsx'")
  const saved = { file: { id: row!.id } } as unknown as Saved
  const landscape = async () => readXlsx(await newest(page, office, saved)).looks[0]?.paper?.landscape ?? false
  expect(await landscape()).toBe(true)
  await expect(page.getByTestId('moment-told')).toContainText('page set-up changed in ‹Sheet 1›')
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 3')
  await expect.poll(landscape).toBe(false)
})
