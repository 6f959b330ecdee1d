// Two people on one file: nothing is overwritten, what does not touch combines, and where both wrote one chooses.
import type { Browser, Page } from '@playwright/test'
import { readXlsx } from '../core/formats/xlsx/read'
import { expect, fileAs, type Office, paper, reach, signIn, test, untilJournaled, writeNew } from './office'

/** A document of Ida's that Ben has open, too. */
async function shared(page: Page, browser: Browser, office: Office, name: string): Promise<Page> {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The gate leaks at the mitre.')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Caulk it before June.')
  await page.keyboard.press('Control+s')
  await fileAs(page, name)
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  await other.goto(page.url())
  await expect(paper(other)).toContainText('Caulk it before June.')
  return other
}
const lines = (page: Page) => paper(page).locator('p')

test('two save one document at once: both changes are in it, the cursor stays, and undo undoes one’s own', async ({
  page,
  browser,
  office,
}) => {
  const other = await shared(page, browser, office, '2026-11-25_LK09_Letter_Merged')
  // Each sees who else has it open.
  await expect(other.getByTestId('others')).toContainText('Ida Thornquist has it open')
  await expect(page.getByTestId('others')).toContainText('Ben Marlowe has it open')
  await lines(page).first().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Badly.')
  await lines(other).last().click()
  await other.keyboard.press('End')
  await other.keyboard.type(' Ask the workshop.')
  // What Ida saves flows into Ben's open work, beside what he has not saved.
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect(other.getByText('Ida Thornquist saved version 2; it is in your work.')).toContainText('1 word added')
  await expect(lines(other)).toHaveText([
    'The gate leaks at the mitre. Badly.',
    'Caulk it before June. Ask the workshop.',
  ])
  await other.keyboard.press('Control+s')
  await expect(reach(other)).toContainText('Saved as version 3')
  // The cursor is where it was, and undo takes back what was typed here.
  await other.keyboard.type('!')
  await expect(lines(other).last()).toHaveText('Caulk it before June. Ask the workshop.!')
  await other.keyboard.press('Control+z')
  await expect(lines(other)).toHaveText(['The gate leaks at the mitre. Badly.', /^Caulk it before June\./])
  await expect(lines(other).last()).not.toHaveText(/!/)
  // So it does into Ida's, who had saved everything: that is no work of hers, and no version.
  await expect(lines(page).last()).toHaveText('Caulk it before June. Ask the workshop.')
  await expect(reach(page)).toContainText('Saved as version 3')
  await expect(page.getByRole('button', { name: 'Combine now' })).toHaveCount(0)
  await page.keyboard.type(' Very.')
  await expect(lines(page).first()).toHaveText('The gate leaks at the mitre. Badly. Very.')
  const versions = await office.query(
    `select v.reason from version v join entry e on e.id = v.file_id where e.name like '%Merged%' order by v.number`,
  )
  expect(versions.map((row) => (row as unknown as { reason: string }).reason)).toEqual(['saved', 'saved', 'saved'])
  await other.context().close()
  await expect(page.getByTestId('others')).toBeHidden({ timeout: 60_000 })
})

test('where both wrote in one place, both stand there until one is chosen; nothing is saved before', async ({
  page,
  browser,
  office,
}) => {
  const other = await shared(page, browser, office, '2026-11-25_LK09_Letter_Conflict')
  for (const [who, word] of [
    [page, 'July'],
    [other, 'August'],
  ] as const) {
    await lines(who).last().click()
    await who.keyboard.press('End')
    for (let letter = 0; letter < 'June.'.length; letter++) await who.keyboard.press('Backspace')
    await who.keyboard.type(`${word}.`)
    await untilJournaled(who, word.at(-1)!)
  }
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await other.keyboard.press('Control+s')
  const choices = other.getByTestId('choices')
  await expect(choices).toContainText('One place where both wrote')
  await expect(choices).toContainText('August')
  await expect(choices).toContainText('July')
  await expect(lines(other).last()).toHaveText('Caulk it before August July.')
  await expect(reach(other)).not.toContainText('Saved as version 3')
  // Nothing is blocked meanwhile.
  await lines(other).first().click()
  await other.keyboard.press('End')
  await other.keyboard.type(' On.')
  await choices.getByRole('button', { name: 'Keep theirs' }).click()
  await expect(lines(other)).toHaveText(['The gate leaks at the mitre. On.', 'Caulk it before July.'])
  await expect(choices).toBeHidden()
  await other.keyboard.press('Control+s')
  await expect(reach(other)).toContainText('Saved as version 3')
})

test('a sheet that two filled in without each other: rows and cells of both, and a cell to choose', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/new/spreadsheet`)
  const enter = async (who: Page, cells: readonly string[]) => {
    for (const text of cells) {
      await who.keyboard.type(text)
      await who.keyboard.press('Enter')
    }
  }
  const begin = async (who: Page) => {
    await who.getByTestId('grid').click({ position: { x: 120, y: 60 } })
  }
  await begin(page)
  await enter(page, ['10', '20', '30', '=SUM(A2:A4)'])
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-25_LK09_Ledger_Sheet')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  await other.goto(page.url())
  await expect(other.getByTestId('glide-cell-1-1')).toBeAttached()
  await begin(page)
  await enter(page, ['11', '21'])
  await begin(other)
  await enter(other, ['12'])
  await other.keyboard.press('ArrowDown')
  await enter(other, ['33'])
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await other.keyboard.press('Control+s')
  const choices = other.getByTestId('choices')
  await expect(choices).toContainText('A2')
  await choices.getByRole('button', { name: 'Keep theirs' }).click()
  await other.keyboard.press('Control+s')
  await expect(reach(other)).toContainText('Saved as version 3')
  const facts = await (await other.request.get(other.url().replace('/open/', '/api/files/'))).json()
  const bytes = await (await other.request.get(`${office.url}/api/versions/${facts.versions[0].id}/bytes`)).body()
  const { rows } = readXlsx(bytes).workbook.sheets[0]!
  expect([1, 2, 3, 4].map((row) => rows[row]?.[0])).toEqual([
    { value: 11 },
    { value: 21 },
    { value: 33 },
    { formula: 'SUM(A2:A4)' },
  ])
})

test('work that comes back from being without the server is merged with what was saved meanwhile', async ({
  page,
  browser,
  office,
}) => {
  const other = await shared(page, browser, office, '2026-11-25_LK09_Letter_Offline')
  await other.context().setOffline(true)
  await lines(other).last().click()
  await other.keyboard.press('End')
  await other.keyboard.type(' Written in the cutting.')
  await other.keyboard.press('Control+s')
  await lines(page).first().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Badly.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await other.context().setOffline(false)
  await expect(reach(other)).toContainText('Saved as version 3')
  await expect(lines(other)).toHaveText([
    'The gate leaks at the mitre. Badly.',
    'Caulk it before June. Written in the cutting.',
  ])
})

test('work that saves itself takes in what others saved, and saves what it has; where both wrote in one place it waits', async ({
  page,
  browser,
  office,
}) => {
  const other = await shared(page, browser, office, '2026-11-25_LK09_Letter_By-itself')
  await reach(other).click()
  await other.getByTestId('protection').getByRole('checkbox').click()
  await other.keyboard.press('Escape')
  await lines(page).first().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Badly.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect(lines(other).first()).toHaveText('The gate leaks at the mitre. Badly.')
  await lines(other).last().click()
  await other.keyboard.press('End')
  await other.keyboard.type(' Ask the workshop.')
  await expect(reach(other)).toContainText('Saved as version 3')
  await expect(lines(page)).toHaveText([
    'The gate leaks at the mitre. Badly.',
    'Caulk it before June. Ask the workshop.',
  ])
  // Both write in one place: nothing flows until somebody chooses.
  await page.context().setOffline(true)
  await lines(page).last().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Today.')
  await lines(other).last().click()
  await other.keyboard.press('End')
  await other.keyboard.type(' Tomorrow.')
  await expect(reach(other)).toContainText('Saved as version 4')
  await page.context().setOffline(false)
  await expect(page.getByRole('button', { name: 'Combine now' })).toBeVisible({ timeout: 60_000 })
  await expect(lines(page).last()).toHaveText('Caulk it before June. Ask the workshop. Today.')
  await page.getByRole('button', { name: 'Combine now' }).click()
  await page.getByTestId('choices').getByRole('button', { name: 'Keep both' }).click()
  await expect(lines(page).last()).toHaveText(/Today\. Tomorrow\.$|Tomorrow\. Today\.$/)
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 5')
  await expect(lines(other).last()).toHaveText(/Today\. Tomorrow\.$|Tomorrow\. Today\.$/)
})

test('two fill in one sheet: each cell is seen by the other as soon as nothing is being typed, and undo takes back one’s own', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/new/spreadsheet`)
  const begin = (who: Page) => who.getByTestId('grid').click({ position: { x: 120, y: 60 } })
  const enter = async (who: Page, cells: readonly string[]) => {
    for (const text of cells) {
      await who.keyboard.type(text)
      await who.keyboard.press('Enter')
    }
  }
  await begin(page)
  await enter(page, ['10', '20', '30', '=SUM(A2:A4)'])
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-25_LK09_Ledger_Together')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  await other.goto(page.url())
  const cell = (who: Page, row: number) => who.getByTestId(`glide-cell-1-${row}`)
  await expect(cell(other, 1)).toHaveText('10')
  // Ben is in the middle of an entry, further down, while Ida saves.
  await begin(other)
  await enter(other, ['12'])
  await other.keyboard.press('ArrowDown')
  await other.keyboard.type('3')
  // Each sees where the other is.
  await expect(page.getByTestId('others')).toContainText(/Ben Marlowe has it open.* · \S.* A4/)
  // Tomas may only look.
  const looking = await (await browser.newContext()).newPage()
  await signIn(looking, office.url, 'Tomas Wether')
  await looking.goto(page.url())
  await expect(cell(looking, 1)).toHaveText('10')
  await begin(page)
  await page.keyboard.press('ArrowDown')
  await enter(page, ['21'])
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await other.keyboard.type('3')
  await other.keyboard.press('Enter')
  await expect(cell(other, 2)).toHaveText('21')
  await expect(cell(other, 3)).toHaveText('33')
  await expect(cell(other, 4)).toHaveText('66')
  await expect(cell(looking, 2)).toHaveText('21')
  await other.keyboard.press('Control+s')
  await expect(reach(other)).toContainText('Saved as version 3')
  await expect(cell(page, 4)).toHaveText('66')
  await expect(cell(looking, 4)).toHaveText('66')
  await expect(looking.getByText('You may look at this file')).toBeVisible()
  await expect(reach(page)).toContainText('Saved as version 3')
  // Ben takes back his own last cell, not what Ida did in between.
  await other.keyboard.press('Control+z')
  await expect(cell(other, 3)).toHaveText('30')
  await expect(cell(other, 2)).toHaveText('21')
  await other.context().close()
})
