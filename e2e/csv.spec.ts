// Files of separated values, as other programs write them: edited as a sheet, and saved as what they were.
import type { Page } from '@playwright/test'
import type { Saved } from '../core/contract'
import { encoded } from '../core/formats/text/encoding'
import { expect, type Office, reach, signIn, test } from './office'

const levels = [
  'Schleuse;Pegel;Gelesen am;Vermerk',
  '"LK07";1,50;25.11.2026;Tor schließt',
  'LK08;2,00;26.11.2026;"wartet; seit Mai"',
  '0009;0,75;27.11.2026;',
  '',
].join('\r\n')
const western = (text: string) => Buffer.from(encoded(text, 'windows-1252')!)

/** A file of Ida's, as a program that knows nothing of this one wrote it. */
async function brought(page: Page, office: Office, name: string, bytes: Buffer): Promise<Saved> {
  const [{ id }] = (await office.query("select id from share where name = 'Office'")) as unknown as [{ id: string }]
  const answer = await page.request.post(
    `${office.url}/api/files?shareId=${id}&name=${encodeURIComponent(name)}&key=${crypto.randomUUID()}`,
    { headers: { 'content-type': 'application/octet-stream', origin: office.url }, data: bytes },
  )
  expect(answer.ok()).toBe(true)
  return (await answer.json()) as Saved
}
const cell = (page: Page, column: number, row: number) => page.getByTestId(`glide-cell-${column}-${row}`)
const newest = async (page: Page, office: Office, { file }: Saved) => {
  const facts = await (await page.request.get(`${office.url}/api/files/${file.id}`)).json()
  return Buffer.from(await (await page.request.get(`${office.url}/api/versions/${facts.file.head.id}/bytes`)).body())
}

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
  await expect(reach(page)).toContainText('is on this computer')
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
  await expect(cell(page, 2, 4)).toHaveText('4.5')
  await page.keyboard.press('Control+s')
  await expect(page.getByText('1 formula (its result stays)')).toBeVisible()
  await expect(page.getByText('A file of this type cannot hold them.')).toBeVisible()
  await page.getByRole('button', { name: 'Save version 3 without them' }).press('Enter')
  await expect(reach(page)).toContainText('Saved as version 3')
  expect(await newest(page, office, saved)).toEqual(western(`${levels.replace('2,00', '2,25')};4,5;;\r\n`))
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
