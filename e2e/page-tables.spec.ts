// Tables of pages: under the name of an older spreadsheet they are opened as sheets and saved as a true one; a spreadsheet is
// handed out as a page.
import { readWorkbook } from '../core/formats/workbooks'
import { brought, cell, newest } from './brought'
import { beginSheet } from './flows'
import { expect, reach, signIn, test } from './office'

test('a page of tables that is called an older spreadsheet is opened as its sheets, and saved as one', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const put =
    '<html><head><title>Tolls</title></head><body><table border=1><caption>Tolls</caption><tr><th>Boat<th>Toll<tr><td>Heron<td>12.50<tr><td colspan=2>closed</table></body></html>'
  const saved = await brought(page, office, 'Tolls put out.xls', Buffer.from(put))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(cell(page, 2, 1)).toHaveText('12.50')
  await expect(page.getByRole('tab', { name: 'Tolls' })).toBeVisible()
  await page.getByTestId('grid').click({ position: { x: 220, y: 80 } })
  await page.keyboard.press('Control+Home')
  for (const key of ['ArrowDown', 'ArrowRight']) await page.keyboard.press(key)
  await page.keyboard.type('13.25')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const bytes = await newest(page, office, saved)
  // The beginning of a file system in a file ([MS-CFB] 2.2).
  expect(bytes.subarray(0, 4).toString('hex')).toBe('d0cf11e0')
  const { workbook, looks } = readWorkbook(bytes, 'xls')
  expect(workbook.sheets[0]!.rows.map((row) => row?.map((one) => one?.value))).toEqual([
    ['Boat', 'Toll'],
    ['Heron', 13.25],
    ['closed'],
  ])
  expect(looks[0]!.merged).toEqual([{ top: 2, left: 0, bottom: 2, right: 1 }])
})

test('a spreadsheet is handed out as a page with what it shows; what a page cannot hold is told', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await beginSheet(page, 'Boat', '1.5', '=A2*2')
  await page.keyboard.press('Control+s')
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Boats and dues')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  await page.keyboard.press('Alt+c')
  await page.getByRole('combobox', { name: 'What is it for?' }).focus()
  await page.keyboard.type('For a web page')
  await expect(page.getByTestId('losses').getByRole('listitem')).toHaveText([/1 formula \(its result stays\)/])
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Boats to look at')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The copy is saved as')).toBeVisible()
  await expect(reach(page)).toContainText('Saved as version 1')
  // In its own editor here, a page is a document with a table.
  const [{ id }] = (await office.query("select id from entry where name = 'Boats to look at.html'")) as unknown as [
    { id: string },
  ]
  await page.goto(`${office.url}/open/${id}`)
  await expect(page.getByRole('textbox', { name: 'Document', exact: true }).locator('td')).toHaveText([
    'Boat',
    '1.5',
    '3',
  ])
})
