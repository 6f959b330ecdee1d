// Words that disappeared: found by keys alone in what all versions said, and seen where they were last.
import { command, goTo } from './flows'
import { expect, fileAs, paper, reach, signIn, test, writeNew } from './office'

test.use({ apart: 'history search' })

test('a sentence that was taken out is found with whoever did it, and seen where it was last', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The culvert is sound.')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Its grating is renewed in May.')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Culvert at Fenny Dale')
  // The sentence is taken out again, and something else comes.
  await paper(page).press('Control+End')
  await page.keyboard.press('Shift+Home')
  await page.keyboard.type('Its grating waits.')
  await page.keyboard.press('Control+s')
  await expect(page.getByText('Saved as version 2')).toBeVisible()

  await command(page, 'search in its history')
  const typed = page.getByRole('textbox', { name: 'Words or a number that were there once' })
  await expect(typed).toBeFocused()
  await expect(page.getByText('In Culvert at Fenny Dale.docx')).toBeVisible()
  await page.keyboard.type('grating is renewed')
  const gone = page.getByRole('link', { name: /Ida Thornquist took it out/ })
  // What was saved just now is looked through soon.
  await expect(gone).toBeVisible({ timeout: 60_000 })
  await expect(gone).toContainText('Its grating waits.')
  await expect(gone.locator('mark').first()).toHaveText('grating is renewed')
  await expect(
    page.getByRole('status').filter({ hasText: 'The newest version does not say it any more.' }),
  ).toBeVisible()
  await expect(page.getByRole('img', { name: /^It was there from/ })).toBeVisible()
  await page.keyboard.press('ArrowDown')
  await expect(gone).toBeFocused()
  await page.keyboard.press('Enter')

  const then = page.getByTestId('earlier-version')
  // Other marks may begin within it.
  await expect
    .poll(async () => (await then.locator('.marked-sought').allTextContents()).join(''))
    .toBe('grating is renewed')
  await expect(page.getByTestId('looking-bar')).toContainText('Version 1')
  await expect(page.getByTestId('since')).toContainText('Since then')
  await expect(page).toHaveURL(/\/open\/[0-9a-f-]+$/)
  await page.keyboard.press('Escape')
  await expect(then).toBeHidden()
  await expect(paper(page)).toContainText('Its grating waits.')
  // Whoever opens it again sees the work as it is.
  await page.reload()
  await expect(paper(page)).toContainText('Its grating waits.')
  await expect(page.getByTestId('looking-bar')).toBeHidden()
  await expect(reach(page)).toContainText(/version 2/i)
})

test('a number is found in a sheet however it is written, in a folder or a file, and by nobody who may not see it', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya')
  await page.keyboard.press('Alt+f')
  await expect(page.getByRole('combobox', { name: 'Find files' })).toBeFocused()
  await page.keyboard.type('maintenance budget')
  await expect(page.getByRole('link', { name: /2026_Maintenance_Budget/ }).first()).toBeVisible()
  await page.keyboard.press('Shift+Enter')
  const here = page.getByRole('link', { name: 'Search in history' })
  await expect(here).toBeVisible()
  await goTo(page, /^Search in history$/)
  await page.keyboard.press('Enter')
  await expect(page.getByText('In Finance / Budgets / 2026')).toBeVisible()
  await expect(page.getByRole('textbox', { name: 'Words or a number that were there once' })).toBeFocused()
  await page.keyboard.type('2.300,00')
  const gone = page.getByRole('link', { name: /Priya Nandakumar took it out/ })
  await expect(gone).toBeVisible({ timeout: 60_000 })
  await expect(gone).toContainText('‹2026›, row 8')
  await expect(page.getByRole('status').filter({ hasText: '1 file has lost these words.' })).toBeVisible()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  // The cell is the one that is chosen, in the version that said it last.
  await expect(page.getByTestId('looking-bar')).toContainText('Version 9')
  await expect(page.getByTestId('earlier-version').getByText('B8', { exact: true })).toBeVisible()
  await expect(page.getByTestId('since')).not.toContainText('The sheet')

  const other = await page.context().browser()!.newContext()
  const tomas = await other.newPage()
  await signIn(tomas, office.url, 'Tomas')
  await tomas.goto(`${office.url}/history?q=2300`)
  await expect(tomas.getByText('No file here has lost these words')).toBeVisible()
  // Words that are there still are found where files are.
  await tomas.getByRole('textbox', { name: 'Words or a number that were there once' }).fill('windlass')
  await tomas.getByRole('link', { name: 'find the files that have them now' }).press('Enter')
  await expect(tomas.getByRole('grid', { name: 'Found files' })).toBeVisible()
  await other.close()
})
