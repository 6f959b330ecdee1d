// A type is chosen by what its receiver needs; what it cannot hold is told while it is chosen, and is all that is not there.
import type { Page } from '@playwright/test'
import { readXlsx } from '../core/formats/xlsx/read'
import { contentOf } from './brought'
import { beginSheet } from './flows'
import { expect, fileAs, paper, reach, signIn, test, writeNew } from './office'

const losses = (page: Page) => page.getByTestId('losses')
const whatFor = (page: Page) => page.getByRole('combobox', { name: 'What is it for?' })
/** Settles the slip with a name; work that becomes another type is opened anew when it is saved. */
async function fileAnew(page: Page, name: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type(name)
  await expect(page.getByTestId('full-path')).toContainText(name)
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('This is version 1')
}

test('a copy of a document as plain text: what it cannot hold is told as it is written, and the document stays what it is', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The sill is worn.')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Sill by hand')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+b')
  await page.keyboard.type('Ask the crane.')
  await page.keyboard.press('Alt+c')
  await whatFor(page).focus()
  await page.keyboard.type('Plain')
  await expect(losses(page).getByRole('listitem')).toHaveText(['1 look of text (near ‹Ask the crane.›)'])
  await expect(page.getByTestId('full-path')).toContainText('.txt')
  // What is written meanwhile is told as well.
  await paper(page).focus()
  await page.keyboard.press('Control+Home')
  // Where the caret is shows in the tools: its line is not bold.
  await expect(page.getByRole('button', { name: 'Bold' })).toHaveAttribute('aria-pressed', 'false')
  await page.keyboard.press('Alt+Shift+1')
  await expect(losses(page).getByRole('listitem')).toHaveText([
    '1 heading (its text stays) (near ‹The sill is worn.›)',
    '1 look of text (near ‹Ask the crane.›)',
  ])
  // What is lost is gone to.
  await losses(page).getByRole('button', { name: '1 look of text' }).press('Enter')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('Now: ')
  await expect(paper(page).locator('p')).toHaveText(['Now: Ask the crane.'])
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Sill for the crane')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The copy is saved', { exact: false })).toBeVisible()
  expect(await contentOf(page, office, 'Sill for the crane.txt')).toBe('The sill is worn.\nNow: Ask the crane.\n')
  // Gone on in is the document, with all that it has.
  await expect(paper(page).locator('h1')).toHaveText('The sill is worn.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect((await contentOf(page, office, 'Sill by hand')).slice(0, 2)).toBe('PK')
})

test('new cells are filed as rows for a list: the sheet is chosen, and they are gone on in as what they are then', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/new/spreadsheet`)
  await page.getByTestId('grid').click({ position: { x: 120, y: 60 } })
  await page.keyboard.press('Control+Home')
  for (const row of [
    ['Lock', 'Level'],
    ['0007', '1.5'],
    ['Twice', '=B2*2'],
  ]) {
    await page.keyboard.type(row[0]!)
    await page.keyboard.press('Tab')
    await page.keyboard.type(row[1]!)
    await page.keyboard.press('Enter')
    await page.keyboard.press('Home')
  }
  await page.keyboard.press('Control+s')
  await whatFor(page).focus()
  await page.keyboard.type('Rows for')
  await expect(losses(page).getByRole('listitem')).toHaveText([/^1 formula \(its result stays\)/])
  await fileAnew(page, 'Levels for the list')
  await expect(page.getByTestId('written-as')).toHaveText('Separated by commas, decimal point, day before month, UTF-8')
  await expect(page).toHaveURL(/\/open\//)
  expect(await contentOf(page, office, 'Levels for the list.csv')).toMatch(/^Lock,Level\r\n7,1\.5\r\nTwice,3\r\n$/)
  // As what it is now it goes on, and comes back to all that a spreadsheet can hold.
  await page.getByTestId('grid').click({ position: { x: 120, y: 60 } })
  await page.keyboard.press('Control+Home')
  await page.keyboard.type('Lock no.')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(await contentOf(page, office, 'Levels for the list.csv')).toMatch(/^Lock no\.,Level\r\n7,1\.5\r\nTwice,3\r\n$/)
  await page.keyboard.press('Alt+c')
  await whatFor(page).focus()
  await page.keyboard.type('To go on')
  await expect(losses(page)).toHaveText('All of it is in such a file.')
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Levels to go on with')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The copy is saved', { exact: false })).toBeVisible()
  expect((await contentOf(page, office, 'Levels to go on with.xlsx')).slice(0, 2)).toBe('PK')
})

test('what new work begins as is set by keys, and holds until it is set otherwise', async ({ page, office }) => {
  await signIn(page, office.url, 'Ben Marlowe')
  await page.goto(`${office.url}/settings`)
  const mine = page.getByRole('button', { name: 'You: place for new documents' })
  await mine.press('Enter')
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('combobox', { name: 'What is it for?' }).focus()
  await page.keyboard.type('Plain')
  await expect(dialog.getByRole('combobox', { name: 'What is it for?' })).toHaveValue('txt')
  await dialog.getByRole('button', { name: 'No fixed place' }).press('Enter')
  await expect(mine).toContainText('.txt')
  await writeNew(page, office.url, 'Level at six: 1.20')
  await page.keyboard.press('Control+s')
  await expect(whatFor(page)).toHaveValue('txt')
  await expect(losses(page)).toHaveText('All of it is in such a file.')
  await fileAnew(page, 'Level by the keeper')
  await expect(page.getByRole('button', { name: 'Bold' })).toHaveCount(0)
  expect(await contentOf(page, office, 'Level by the keeper.txt')).toBe('Level at six: 1.20\n')
  await page.goto(`${office.url}/settings`)
  await mine.press('Enter')
  await dialog.getByRole('combobox', { name: 'What is it for?' }).selectOption('docx')
  await dialog.getByRole('button', { name: 'No fixed place' }).press('Enter')
  await expect(mine).not.toContainText('.txt')
})

test('what is written while it is filed as another type stays, is found after a reload, and is saved as what its file is', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Level one')
  await page.keyboard.press('Control+s')
  await whatFor(page).focus()
  await page.keyboard.type('Plain')
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Level on the way')
  await expect(page.getByTestId('full-path')).toContainText('Level on the way.txt')
  await office.killServer()
  try {
    await page.keyboard.press('Enter')
    await expect(page.getByRole('form', { name: 'Filing slip' })).toHaveCount(0)
    await paper(page).focus()
    await page.keyboard.press('Control+End')
    await page.keyboard.type(' and two')
  } finally {
    await office.startServer()
  }
  await expect
    .poll(() => office.query("select id from entry where name = 'Level on the way.txt'"), { timeout: 90_000 })
    .toHaveLength(1)
  await expect(reach(page)).toContainText(/Not in version 1 yet|is on this computer/)
  expect(await contentOf(page, office, 'Level on the way.txt')).toBe('Level one\n')
  await page.reload()
  await expect(paper(page)).toHaveText('Level one and two')
  await paper(page).focus()
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(await contentOf(page, office, 'Level on the way.txt')).toBe('Level one and two\n')
})

test('a text is written in the letters and with the ends of lines that its receiver needs, and goes on so', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Weir größer')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Ask the crane')
  await page.keyboard.press('Control+s')
  await whatFor(page).focus()
  await page.keyboard.type('Plain')
  await page.keyboard.press('Tab')
  await expect(page.getByRole('combobox', { name: 'Letters' })).toBeFocused()
  await page.keyboard.type('Windows-1252')
  await page.keyboard.press('Tab')
  await page.keyboard.type('Return')
  await fileAnew(page, 'Weir in letters of old')
  const bytes = async () => {
    const rows = await office.query("select head_version_id as id from entry where name = 'Weir in letters of old.txt'")
    return (await page.request.get(`${office.url}/api/versions/${rows[0]!.id}/bytes`)).body()
  }
  expect((await bytes()).toString('latin1')).toBe('Weir größer\r\nAsk the crane\r\n')
  await paper(page).press('Control+End')
  await page.keyboard.type(' at noon')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect((await bytes()).toString('latin1')).toBe('Weir größer\r\nAsk the crane at noon\r\n')
  // The same file goes on in other letters, with the next version.
  await page.keyboard.press('Alt+r')
  const letters = page.getByRole('combobox', { name: 'Letters' })
  await expect(letters.getByRole('option').first()).toHaveText('As in the file: Windows-1252')
  await expect(page.getByRole('combobox', { name: 'Ends of lines' }).getByRole('option').first()).toHaveText(
    'As in the file: return and line feed',
  )
  await letters.focus()
  await page.keyboard.type('UTF-8')
  await page.getByRole('textbox', { name: 'Name', exact: true }).press('Enter')
  await expect(reach(page)).toContainText('This is version 3')
  expect((await bytes()).toString()).toBe('Weir größer\r\nAsk the crane at noon\r\n')
})

test('a list is written with semicolons and decimal commas; a copy has results in place of formulas, the work keeps them', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await beginSheet(page, '1.5', '=A1*2')
  await page.keyboard.press('Control+s')
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Weir sums')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  // A copy with numbers alone.
  await page.keyboard.press('Alt+c')
  await page.getByRole('checkbox', { name: 'Results in place of formulas' }).press('Space')
  await expect(losses(page).getByRole('listitem')).toHaveText([/1 formula \(its result stays\)/])
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Weir numbers')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The copy is saved as')).toBeVisible()
  const [copy] = await office.query("select head_version_id as id from entry where name = 'Weir numbers.xlsx'")
  const held = async (id: unknown) =>
    readXlsx(await (await page.request.get(`${office.url}/api/versions/${id}/bytes`)).body()).workbook.sheets[0]!.rows
  expect((await held(copy!.id)).map((row) => row?.[0])).toEqual([{ value: 1.5 }, { value: 3 }])
  // The work goes on as a list for a program that reads commas as decimal signs.
  await page.keyboard.press('Alt+c')
  await whatFor(page).focus()
  await page.keyboard.type('Rows for')
  await page.getByRole('combobox', { name: 'Between values' }).focus()
  await page.keyboard.type('Semicolon')
  await expect(page.getByRole('combobox', { name: 'Decimal sign' })).toHaveValue(',')
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Weir rows')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The copy is saved as').filter({ hasText: 'Weir rows.csv' })).toBeVisible()
  expect(await contentOf(page, office, 'Weir rows.csv')).toBe('1,5\r\n3\r\n')
  const [work] = await office.query("select head_version_id as id from entry where name = 'Weir sums.xlsx'")
  expect((await held(work!.id))[1]?.[0]).toEqual({ formula: 'A1*2' })
})
