import { expect, paper, reach, signIn, test, writeNew } from './office'

test.use({ apart: 'slip' })

test('an ending that was typed is not doubled, every forbidden sign is told, and a taken name is answered by keys', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The lock closes from 7 to 11 December for the renewal of its gate.')
  await page.keyboard.press('Control+s')
  const name = page.getByRole('textbox', { name: 'Name', exact: true })
  const slip = page.getByRole('form', { name: 'Filing slip' })
  const path = page.getByTestId('full-path')
  await expect(name).toHaveValue(/_The-lock-closes$/)
  await page.keyboard.type('Closure of LK03.docx')
  await expect(path).toContainText('Closure of LK03.docx')
  await expect(path).not.toContainText('.docx.docx')
  await name.selectText()
  await page.keyboard.type('Closure of LK03.pdf')
  await expect(path).toContainText('Closure of LK03.docx')
  await expect(slip).toContainText('the ending .pdf is left out')
  // A long name is seen whole.
  await name.selectText()
  await page.keyboard.type(
    'Closure of LK03 from 7 to 11 December for the renewal of its gate paddles and of the balance beam',
  )
  expect(
    await name.evaluate((field) => [field.scrollWidth > field.clientWidth, field.scrollHeight > field.clientHeight]),
  ).toEqual([false, false])
  await name.selectText()
  await page.keyboard.type('Closure: LK03/LK04?')
  await expect(slip.getByRole('alert')).toContainText('a colon ( : ), a slash ( / ) and a question mark ( ? )')
  await page.keyboard.press('Enter')
  await expect(name).toBeFocused()
  await name.selectText()
  await page.keyboard.type('Closure of LK03')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')

  // Another work under the same name: the answers have the keyboard, the free name first.
  await writeNew(page, office.url, 'Another closure.')
  await page.keyboard.press('Control+s')
  await expect(name).toBeFocused()
  await page.keyboard.type('Closure of LK03')
  await expect(slip.getByRole('button', { name: 'Save as Closure of LK03 2.docx' })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(slip.getByRole('button', { name: 'Save as Closure of LK03 2.docx' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  await expect(page.locator('header')).toContainText('Closure of LK03 2')

  // A copy begins beside its origin, and one key saves it.
  await page.keyboard.press('Alt+c')
  await expect(name).toHaveValue('Closure of LK03 3')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The copy is saved as Closure of LK03 3.docx')).toBeVisible()
  await expect(paper(page)).toBeFocused()
})

test('while a part that the filing rule needs is not known, it says which one, and files nowhere by itself', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/files`)
  await page
    .getByRole('link', { name: /Waterways/ })
    .first()
    .click()
  await page.getByRole('button', { name: 'New document' }).click()
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('Something about LK07.')
  await page.keyboard.press('Control+s')
  const slip = page.getByRole('form', { name: 'Filing slip' })
  const kind = page.getByRole('combobox', { name: 'Kind' })
  await kind.focus()
  await kind.selectText()
  await page.keyboard.press('Delete')
  await expect(slip).toContainText('Choose a Kind, then Jaula can suggest the folder.')
  await page.keyboard.type('Noti')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('full-path')).toContainText(/Waterways \/ Notices \/ \d{4} \/ LK07/)
  await expect(slip).not.toContainText('then Jaula can suggest')
})

test('the keyboard leaves the document both ways; a row of tools is one stop', async ({ page, office }) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, '- one\nTwo')
  const inPaper = () => page.evaluate(() => document.activeElement?.classList.contains('ProseMirror') ?? false)
  const inTools = () => page.evaluate(() => document.activeElement?.closest('[role=toolbar]') !== null)
  // What comes next by Tab is there: how many pages it has is said when the hands rest.
  await expect(page.getByTestId('pages-now')).toBeVisible()
  // In a list Tab goes deeper; after Escape it leaves.
  await page.keyboard.press('Tab')
  expect(await inPaper()).toBe(true)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Tab')
  await expect.poll(inPaper).toBe(false)
  await page.keyboard.press('Shift+Tab')
  await expect.poll(inPaper).toBe(true)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Shift+Tab')
  await expect.poll(inTools).toBe(true)
  const label = () => page.evaluate(() => document.activeElement?.getAttribute('aria-label'))
  const first = await label()
  await page.keyboard.press('ArrowDown')
  await expect.poll(label).not.toBe(first)
  expect(await inTools()).toBe(true)
  await page.keyboard.press('Tab')
  await expect.poll(inPaper).toBe(true)
})

test('the keys of headings, struck text and links do what the list of all keys says', async ({ page, office }) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Water levels')
  await page.keyboard.press('Alt+Shift+Digit2')
  await expect(paper(page).locator('h2')).toHaveText('Water levels')
  await page.keyboard.press('Alt+Shift+Digit0')
  await expect(paper(page).locator('h2')).toHaveCount(0)
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Alt+Shift+KeyD')
  await expect(paper(page).locator('s')).toHaveText('Water levels')
  await page.keyboard.press('Control+k')
  await expect(page.getByRole('dialog', { name: 'Where does the link lead?' })).toBeVisible()
  await page.keyboard.press('Escape')
  await page.keyboard.press('Alt+k')
  await page.keyboard.type('all keys')
  await page.keyboard.press('Enter')
  const keys = page.getByRole('dialog', { name: 'All keys' })
  for (const said of ['Alt+Shift+1 … 4', 'Alt+Shift+D', 'Ctrl+K', 'Alt+K']) await expect(keys).toContainText(said)
})
