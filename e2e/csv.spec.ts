// Files of separated values, as other programs write them: edited as a sheet, and saved as what they were.
import { encoded } from '../core/formats/text/encoding'
import { brought, cell, newest } from './brought'
import { expect, kept, reach, signIn, test } from './office'

const levels = [
  'Schleuse;Pegel;Gelesen am;Vermerk',
  '"LK07";1,50;25.11.2026;Tor schließt',
  'LK08;2,00;26.11.2026;"wartet; seit Mai"',
  '0009;0,75;27.11.2026;',
  '',
].join('\r\n')
const western = (text: string) => Buffer.from(encoded(text, 'windows-1252')!)

test('a list of values is edited as a sheet, also after a lost page, and saved as it was written but for what changed', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Pegel.csv', western(levels))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(page.getByTestId('written-as')).toHaveText(
    'Separated by semicolons, decimal comma, day before month, Windows-1252',
  )
  await expect(cell(page, 4, 1)).toHaveText('Tor schließt')
  await expect(cell(page, 2, 1)).toHaveText('1.50')
  await expect(cell(page, 1, 3)).toHaveText('0009')
  // The level of LK08 is written over, and the page is lost before it is saved.
  await page.getByTestId('grid').click({ position: { x: 220, y: 90 } })
  await page.keyboard.press('Control+Home')
  for (const key of ['ArrowDown', 'ArrowDown', 'ArrowRight']) await page.keyboard.press(key)
  await page.keyboard.type('2.25')
  await page.keyboard.press('Enter')
  await kept(page)
  await page.reload()
  await expect(cell(page, 2, 2)).toHaveText('2.25')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(await newest(page, office, saved)).toEqual(western(levels.replace('2,00', '2,25')))

  // What it cannot hold is told before it is saved, and saved by whoever says so.
  await page.getByTestId('grid').click({ position: { x: 220, y: 90 } })
  await page.keyboard.press('Control+Home')
  for (const key of ['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowRight']) await page.keyboard.press(key)
  await page.keyboard.type('=SUM(B2:B4)')
  await page.keyboard.press('Enter')
  // It shows as what it is made of.
  await expect(cell(page, 2, 4)).toHaveText('4.50')
  await page.keyboard.press('Control+s')
  await expect(page.getByText('1 formula (its result stays)')).toBeVisible()
  await expect(page.getByText('A file of this type cannot hold them.')).toBeVisible()
  await page.getByRole('button', { name: 'Save version 3 without them' }).press('Enter')
  await expect(reach(page)).toContainText('Saved as version 3')
  expect(await newest(page, office, saved)).toEqual(western(`${levels.replace('2,00', '2,25')};4,50;;\r\n`))
  // Something else that it cannot hold is asked about again.
  await page.getByTestId('grid').click({ position: { x: 420, y: 150 } })
  await page.keyboard.type('12%')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await expect(page.getByText('1 number format')).toBeVisible()
  await expect(page.getByText('1 formula')).toBeHidden()
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  // A look is refused where it is asked for.
  await page.keyboard.press('Control+b')
  await expect(page.getByText('A list of values has no looks')).toBeVisible()
  // Its versions are compared cell by cell.
  await page.getByRole('button', { name: '3 versions' }).click()
  await expect(page.getByRole('list', { name: 'Versions' })).toContainText('‹Sheet 1›')
})

test('a list that says nothing of itself is asked about; a wrong separator is put right by keys, for everybody, and stays', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url)
  // As even by its commas as by its bars; and each of its days could be a month.
  const bars = ['Lock|Read on|Level', 'LK07|03/04/2026|1,50', 'LK08|05/04/2026|2,25', ''].join('\n')
  const saved = await brought(page, office, 'Bars.csv', Buffer.from(bars))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(
    page.getByText('Nothing here says whether the day or the month comes first, as in 03/04/2026.'),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Say how it is written' }).press('Enter')
  const dialog = page.getByRole('dialog', { name: 'How this list is written' })
  const between = dialog.getByRole('combobox', { name: 'Between values' })
  const rows = dialog.getByRole('table', { name: 'First rows' }).getByRole('row')
  await expect(between).toHaveValue('|')
  await between.selectOption('Semicolon')
  await expect(rows.nth(1).getByRole('cell')).toHaveText(['LK07|03/04/2026|1,50'])
  await between.selectOption('Vertical bar')
  await expect(rows.nth(1).getByRole('cell')).toHaveText(['LK07', '3 Apr 2026', '1.50'])
  await dialog.getByRole('combobox', { name: 'In dates' }).focus()
  await page.keyboard.press('ArrowDown')
  await expect(rows.nth(1).getByRole('cell')).toHaveText(['LK07', '4 Mar 2026', '1.50'])
  await page.keyboard.press('Tab')
  await expect(dialog.getByRole('combobox', { name: 'Letters' })).toBeFocused()
  await page.keyboard.type('Windows-1250')
  await page.keyboard.press('Tab')
  await expect(dialog.getByRole('checkbox')).toBeFocused()
  await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(dialog).toHaveCount(0)
  const said = 'Separated by bars, decimal comma, month before day, Windows-1250'
  await expect(page.getByTestId('written-as')).toHaveText(said)
  await expect(page.getByText('Nothing here says')).toHaveCount(0)
  // Whoever opens it next reads it so, and what is written is written so.
  const ben = await (await browser.newContext()).newPage()
  await signIn(ben, office.url, 'Ben Marlowe')
  await ben.goto(`${office.url}/open/${saved.file.id}`)
  await expect(ben.getByTestId('written-as')).toHaveText(said)
  await ben.context().close()
  await page.getByTestId('grid').click({ position: { x: 220, y: 60 } })
  await page.keyboard.press('Control+Home')
  for (const key of ['ArrowDown', 'ArrowRight', 'ArrowRight']) await page.keyboard.press(key)
  await page.keyboard.type('1.75')
  await page.keyboard.press('Enter')
  // Changes that were made in it as it is read are not read otherwise.
  await page.getByTestId('written-as').press('Enter')
  await expect(dialog.getByRole('button', { name: 'Read it so' })).toBeDisabled()
  await expect(dialog.getByText('Save or undo them first.')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.reload()
  await expect(page.getByTestId('written-as')).toHaveText(said)
  await expect(cell(page, 3, 1)).toHaveText('1.75')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(String(await newest(page, office, saved))).toBe(bars.replace('1,50', '1,75'))
})

test('that a doubtful list is read as it should be is said once, and it is not asked again', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Days.csv', Buffer.from('Lock,Read on\nLK07,03/04/2026\n'))
  const asked = page.getByText('Nothing here says whether the day or the month comes first')
  for (const open of [true, false]) {
    await page.goto(`${office.url}/open/${saved.file.id}`)
    await expect(cell(page, 2, 1)).toHaveText('03/04/2026')
    await expect(asked).toHaveCount(open ? 1 : 0)
    if (open) await page.getByRole('button', { name: 'It is right' }).press('Enter')
    await expect(asked).toHaveCount(0)
  }
  const facts = await (await page.request.get(`${office.url}/api/files/${saved.file.id}`)).json()
  expect(facts.readAs).toBe('dates=day')
})

test('a list that is open elsewhere is read as somebody says it; who changed it as it was has it as it was', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Open.csv', Buffer.from('Lock;Read on\nLK07;03/04/2026\nLK08;05/04/2026\n'))
  const ben = await (await browser.newContext()).newPage()
  await signIn(ben, office.url, 'Ben Marlowe')
  for (const one of [page, ben]) {
    await one.goto(`${office.url}/open/${saved.file.id}`)
    await expect(one.getByTestId('written-as')).toContainText('day before month')
  }
  const dates = async (order: string) => {
    await page.getByTestId('written-as').press('Enter')
    await page.getByRole('combobox', { name: 'In dates' }).selectOption(order)
    // It can be said once the first rows are shown as they would be read.
    await expect(page.getByRole('button', { name: 'Read it so' })).toBeEnabled()
    await page.getByRole('button', { name: 'Read it so' }).press('Enter')
    await expect(page.getByTestId('written-as')).toContainText(order.toLowerCase())
  }
  await dates('Month before day')
  await expect(ben.getByTestId('written-as')).toContainText('month before day')
  // Ben writes a day into it as it is read now; meanwhile it is said to be the other way.
  const writes = async (day: string) => {
    await ben.getByTestId('grid').click({ position: { x: 220, y: 60 } })
    await ben.keyboard.press('Control+Home')
    for (const key of ['ArrowDown', 'ArrowRight']) await ben.keyboard.press(key)
    await ben.keyboard.type(day)
    await ben.keyboard.press('Enter')
    await expect(reach(ben)).toContainText(/Not in version \d yet|is on this computer/)
  }
  await writes('2026-12-24')
  await dates('Day before month')
  await ben.keyboard.press('Control+s')
  await expect(reach(ben)).toContainText('Saved as version 2')
  await expect(page.getByTestId('written-as')).toContainText('month before day')
  // He saves while his line is down, and cannot know of it: what he wrote is still what is read.
  await ben.context().setOffline(true)
  await writes('2026-11-02')
  await ben.keyboard.press('Control+s')
  await expect(reach(ben)).toContainText('is completed as soon as it can be')
  await dates('Day before month')
  await ben.context().setOffline(false)
  await expect(reach(ben)).toContainText('Saved as version 3')
  await expect(page.getByTestId('written-as')).toContainText('month before day')
  await expect(ben.getByTestId('written-as')).toContainText('month before day')
  expect((await newest(page, office, saved)).toString()).toBe('Lock;Read on\nLK07;11/02/2026\nLK08;05/04/2026\n')
  const facts = await (await page.request.get(`${office.url}/api/files/${saved.file.id}`)).json()
  expect(facts.readAs).toBe('separator=semicolon&decimal=point&dates=month&encoding=utf-8')
  await ben.context().close()
})

test('a list of very many rows says how far it is while it opens, and is let be by a key', async ({ page, office }) => {
  await signIn(page, office.url)
  const row = (at: number) => `Boat ${at % 500};LK${at % 97};${at % 900};passed at ${at}`
  const rows = Array.from({ length: 500_000 }, (_, at) => row(at)).join('\n')
  const saved = await brought(page, office, 'All passages.csv', Buffer.from(rows))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(page.getByText(/of 500,000 rows/)).toBeVisible()
  await page.getByRole('button', { name: 'Stop opening it' }).press('Enter')
  await expect(page).not.toHaveURL(/\/open\//)
  expect((await newest(page, office, saved)).equals(Buffer.from(rows))).toBe(true)
})
