// Several pieces of work open in one tab: begun beside each other, gone to and fro by keys, saved and closed together.
import { expect, type Page } from '@playwright/test'
import { goTo } from './flows'
import { fileAs, fillableDisk, paper, reach, signIn, test, untilJournaled } from './office'

const inGrid = (page: Page) =>
  expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
const openList = (page: Page) => page.getByRole('button', { name: /\d+ open/ })
async function begin(page: Page, text: string): Promise<void> {
  await page.keyboard.press('Alt+n')
  await expect(paper(page)).toHaveText('')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type(text)
  await expect(paper(page)).toHaveText(text)
}

/** Presses a key, step by step, until the page says what it is pressed for. */
async function pressUntil(page: Page, key: string, text: string): Promise<void> {
  for (let left = 20; left > 0 && (await paper(page).textContent()) !== text; left--) {
    const before = await paper(page).textContent()
    await page.keyboard.press(key)
    await expect(paper(page)).not.toHaveText(before!)
  }
  await expect(paper(page)).toHaveText(text)
}

/** A file with something in it that is not saved. */
async function unsavedFile(page: Page, name: string, saved: string, more: string): Promise<void> {
  await begin(page, saved)
  await page.keyboard.press('Control+s')
  await fileAs(page, name)
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type(more)
}

test('new work is begun beside unsaved work, and each is come back to where it was left', async ({ page, office }) => {
  await signIn(page, office.url)
  await begin(page, 'The first page.')
  await page.keyboard.press('Control+ArrowLeft')
  await page.keyboard.press('Control+ArrowLeft')
  await begin(page, 'The second.')
  await expect(openList(page)).toContainText('2 open')
  await page.keyboard.press('Alt+Shift+n')
  await inGrid(page)
  await page.keyboard.type('31')
  await page.keyboard.press('Enter')
  // What is still being typed into a cell is part of the work.
  await page.keyboard.type('42')
  await page.keyboard.press('Alt+PageDown')
  await expect(paper(page)).toHaveText('The first page.')
  await expect(paper(page)).toBeFocused()
  // Nothing is said of getting it back: it was never away.
  await expect(page.getByText('The work is back')).toHaveCount(0)
  await expect(reach(page)).toHaveAttribute('data-device', '15')
  await page.keyboard.type('very ')
  await expect(paper(page)).toHaveText('The first very page.')
  // A pause between two letters makes two steps of them, and a machine that is busy makes pauses.
  await pressUntil(page, 'Control+z', '')
  await pressUntil(page, 'Control+y', 'The first very page.')

  await page.keyboard.press('Alt+o')
  const list = page.getByRole('menu')
  await expect(list.getByRole('menuitem').filter({ hasText: 'Not saved' })).toHaveCount(3)
  await expect(list.getByRole('menuitem').filter({ hasText: 'Shown now' })).toHaveCount(1)
  await page.keyboard.press('End')
  // The menu moves its focus a moment after the key; the next one follows what is seen, as a person's does.
  for (const item of ['Close everything', 'Save everything', 'Spreadsheet begun']) {
    if (item !== 'Close everything') await page.keyboard.press('ArrowUp')
    await expect(list.locator(':focus')).toContainText(item)
  }
  await page.keyboard.press('Enter')
  await inGrid(page)
  await expect(page.getByTestId('glide-cell-1-0')).toHaveText('31')
  await expect(page.getByTestId('glide-cell-1-1')).toHaveText('42')

  // From any screen; and Rescue knows that they are open, and not interrupted.
  await page.keyboard.press('Alt+f')
  await expect(page.getByRole('combobox', { name: 'Find files' })).toBeFocused()
  await expect(openList(page)).toContainText('3 open')
  await page.keyboard.press('Alt+PageUp')
  await inGrid(page)
  await page.goBack()
  await page.getByRole('link', { name: 'Rescue' }).click()
  await expect(page.getByRole('region', { name: 'Open right now' }).getByTestId('live')).toHaveCount(3)
  await goTo(page, /^Go to it$/, 'Tab', 'The second.')
  await page.keyboard.press('Enter')
  await expect(paper(page)).toHaveText('The second.')
})

test('one question closes everything, and says of each what becomes of it', async ({ page, office }) => {
  await signIn(page, office.url)
  await unsavedFile(page, 'Closing all at once', 'Closing of the lock.', ' More of it.')
  await begin(page, 'Without a name.')
  await page.keyboard.press('Alt+Shift+w')
  const question = page.getByRole('dialog')
  await expect(question).toContainText('2 files are open, 2 with unsaved changes.')
  await expect(question.getByRole('listitem').filter({ hasText: 'Closing all at once' })).toContainText('unsaved')
  await expect(question.getByRole('listitem').filter({ hasText: 'Without a name' })).toHaveCount(0)
  await goTo(page, /^Save and close the one with a name$/)
  await page.keyboard.press('Enter')
  // What has no name stays, and is said to.
  await expect(question.getByRole('listitem')).toHaveCount(1)
  await expect(question.getByRole('listitem')).toContainText('no name yet')
  await goTo(page, /^Close, go on later$/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible()
  await expect(openList(page)).toHaveCount(0)
  const [saved] = await office.query(
    `select v.number::int from version v join entry e on e.id = v.file_id
     where e.name = 'Closing all at once.docx' order by v.number desc limit 1`,
  )
  expect(saved).toEqual({ number: 2 })
  await page.goto(`${office.url}/rescue`)
  await expect(page.getByTestId('piece').filter({ hasText: 'Without a name' })).toContainText('Closed')
})

test('work that was left open is saved with everything else, and found when the tab dies', async ({
  page,
  context,
  office,
}) => {
  await signIn(page, office.url)
  await unsavedFile(page, 'Left open beside another', 'Left open.', ' And longer.')
  await page.keyboard.press('Alt+Shift+n')
  await inGrid(page)
  await page.keyboard.type('31')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Levels left open')
  await inGrid(page)
  await page.keyboard.type('42')
  await page.keyboard.press('Enter')
  await begin(page, 'The other one.')
  await untilJournaled(page, 'The other one.')
  await page.keyboard.press('Alt+s')
  await expect(page.getByRole('dialog').getByRole('listitem')).toHaveCount(3)
  await expect(page.getByRole('button', { name: /^Save all/ })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('dialog').getByRole('listitem').filter({ hasText: 'Left open beside' })).toContainText(
    'Saved as version 2',
  )
  await expect(page.getByRole('dialog').getByRole('listitem').filter({ hasText: 'Levels left' })).toContainText(
    'Saved as version 2',
  )
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Alt+PageUp')
  await expect(page.getByTestId('glide-cell-1-1')).toHaveText('42')
  await page.keyboard.press('Alt+PageUp')
  await expect(paper(page)).toHaveText('Left open. And longer.')
  await expect(reach(page)).toContainText('This is version 2')
  await page.keyboard.type(' Not saved.')
  await untilJournaled(page, ' Not saved.')
  await page.keyboard.press('Alt+PageDown')
  await inGrid(page)
  await page.keyboard.press('Alt+PageDown')
  await expect(paper(page)).toHaveText('The other one.')
  // The tab is gone without a word.
  const cdp = await context.newCDPSession(page)
  const gone = page.waitForEvent('crash')
  void cdp.send('Page.crash').catch(() => {})
  await gone
  const later = await context.newPage()
  await later.goto(`${office.url}/rescue`)
  const found = later.getByRole('region', { name: 'Found after an interruption' }).getByTestId('piece')
  await expect(found.filter({ hasText: 'Left open beside another' })).toHaveCount(1)
  await expect(found.filter({ hasText: 'The other one.' })).toHaveCount(1)
})

test('what only the page has is asked about before it is left, and left when something else has it', async ({
  browser,
  office,
}) => {
  const context = await browser.newContext()
  const page = await context.newPage()
  const fill = await fillableDisk(context, page)
  await signIn(page, office.url)
  await begin(page, 'Kept.')
  await untilJournaled(page, 'Kept.')
  await fill(true)
  await context.setOffline(true)
  await page.keyboard.type(' Nowhere else.')
  await expect(reach(page)).toContainText('no room left for unsaved work')
  await page.keyboard.press('Alt+n')
  await expect(page.getByRole('dialog')).toContainText('was never saved')
  await page.keyboard.press('Escape')
  await expect(paper(page)).toHaveText('Kept. Nowhere else.')
  await expect(paper(page)).toBeFocused()
  await fill(false)
  await context.setOffline(false)
  await untilJournaled(page, ' Nowhere else.')
  await expect(reach(page)).not.toContainText('no room left')
  await begin(page, 'Beside it.')
  await page.keyboard.press('Alt+PageUp')
  await expect(paper(page)).toHaveText('Kept. Nowhere else.')
  await context.close()
})
