// What a file says of itself, and what is known of it, in one place: written by keys, protected and undone like any other
// edit, read by other programs.

import { readBy } from './brought'
import { beginSheet, command, goTo } from './flows'
import { expect, fileAs, kept, paper, signIn, test, writeNew } from './office'

test.use({ apart: 'about' })

const beside = (page: import('@playwright/test').Page) => page.getByRole('region', { name: 'About this file' })
const field = (page: import('@playwright/test').Page, name: string) =>
  beside(page).getByRole('textbox', { name, exact: true })

const inDocument = `
import sys, json, docx
said = docx.Document(sys.argv[1]).core_properties
print(json.dumps([said.title, said.author, said.subject, said.keywords]))
`
const inWorkbook = `
import sys, json, openpyxl
said = openpyxl.load_workbook(sys.argv[1]).properties
print(json.dumps([said.title, said.creator, said.subject, said.keywords]))
`

test('title, author and keywords of a document, by keys alone: kept unsaved, undone, saved, told of', async ({
  page,
  office,
}, info) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Boats wait below the lower gate.')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Rules of the lock')
  await page.keyboard.press('Alt+i')
  await expect(beside(page)).toBeFocused()
  await expect(beside(page).getByTestId('facts')).toContainText('1 version')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await expect(field(page, 'Title')).toBeFocused()
  await page.keyboard.type('Rules for boats')
  await page.keyboard.press('Tab')
  await page.keyboard.type('Ida Thornquist')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await page.keyboard.type('locks; boats')
  await kept(page)

  // Nothing of it is saved as a version, and nothing is lost.
  await page.reload()
  await expect(paper(page)).toContainText('Boats wait')
  await page.keyboard.press('Alt+i')
  await expect(field(page, 'Title')).toHaveValue('Rules for boats')
  await expect(field(page, 'Keywords')).toHaveValue('locks, boats')
  await page.keyboard.press('Escape')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Alt+i')
  await expect(field(page, 'Keywords')).toHaveValue('')
  await expect(field(page, 'Author')).toHaveValue('Ida Thornquist')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+y')

  // Whoever saves while typing saves what is typed.
  await page.keyboard.press('Alt+i')
  for (let tabs = 0; tabs < 4; tabs++) await page.keyboard.press('Tab')
  await expect(field(page, 'Subject')).toBeFocused()
  await page.keyboard.type('Order at the gates')
  await page.keyboard.press('Control+s')
  await expect(page.getByText('Saved as version 2')).toBeVisible()
  await expect(beside(page).getByTestId('facts')).toContainText('2 versions')
  expect(await readBy(inDocument, page, office, info, 'Rules of the lock.docx')).toEqual([
    'Rules for boats',
    'Ida Thornquist',
    'Order at the gates',
    'locks, boats',
  ])
  await expect(
    page.getByText(/title of the file changed; author of the file changed; subject of the file changed/),
  ).toBeVisible({ timeout: 60_000 })
  const [row] = await office.query(
    "select encode(sha256, 'hex') as sum from version where number = 2 and file_id in (select id from entry where name = 'Rules of the lock.docx')",
  )
  await expect(beside(page).getByTestId('checksum')).toHaveText(String(row!.sum))
})

test('of a spreadsheet, and from the list of files; who can reach it is a step further', async ({
  page,
  office,
}, info) => {
  await signIn(page, office.url)
  await beginSheet(page, 'Level')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Levels of the week')
  await command(page, 'about this file')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await expect(field(page, 'Title')).toBeFocused()
  await page.keyboard.type('Levels, week 47')
  await page.keyboard.press('Control+s')
  await expect(page.getByText('Saved as version 2')).toBeVisible()
  expect(await readBy(inWorkbook, page, office, info, 'Levels of the week.xlsx')).toEqual([
    'Levels, week 47',
    // That program's own word for none.
    'openpyxl',
    null,
    null,
  ])
  await page.keyboard.press('Escape')
  await expect(beside(page)).toBeHidden()
  // Taken back in the sheet, where the keys are again.
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Alt+i')
  await expect(field(page, 'Title')).toHaveValue('')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+y')
  await page.keyboard.press('Control+s')
  await expect(page.getByTestId('reach')).toContainText('Everything is on the server')

  await page.goto(`${office.url}/find?q=${encodeURIComponent('levels of the week')}`)
  await expect(page.getByRole('link', { name: /Levels of the week/ }).first()).toBeVisible()
  await page.getByRole('combobox', { name: 'Find files' }).press('Shift+Enter')
  await expect(page).toHaveURL(/\/files\//)
  const listed = page.getByRole('row', { name: /Levels of the week/ })
  await expect(listed).toBeVisible()
  await listed.click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'About this file' }).press('Enter')
  await expect(field(page, 'Title')).toHaveValue('Levels, week 47')
  await expect(page).not.toHaveURL(/about/)
  await goTo(page, /^\d+ (person|people)$/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('region', { name: 'Who can reach it' })).toBeFocused()
})
