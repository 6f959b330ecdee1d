// Lists of a spreadsheet's values beside it: filed with it, in step with each version, guarded against formulas.
import type { Page } from '@playwright/test'
import { brought, cell, contentOf, newest } from './brought'
import { beginSheet, command } from './flows'
import { expect, reach, signIn, test, writeNew } from './office'

const whatFor = (page: Page) => page.getByRole('combobox', { name: 'What is it for?' })

test('a spreadsheet is filed with a list of its rows beside it, which follows each version and says what it is', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await beginSheet(page, '12', '30', '=A1+A2', "'=1+1")
  await page.keyboard.press('Control+s')
  await whatFor(page).focus()
  await page.keyboard.type('To go on editing, with')
  await expect(page.getByText('A list of its rows is put beside it, and written anew with each version.')).toBeVisible()
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Crane hours')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  await expect(page.getByText('Crane hours.csv is beside it.')).toBeVisible()
  expect(await contentOf(page, office, 'Crane hours.csv')).toBe('12\r\n30\r\n42\r\n=1+1\r\n')
  // Gone on in is the spreadsheet, and its next version is in the list, too.
  await page.keyboard.press('Control+Home')
  await page.keyboard.type('13')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect.poll(() => contentOf(page, office, 'Crane hours.csv')).toBe('13\r\n30\r\n43\r\n=1+1\r\n')
  await command(page, 'Lists of its values')
  const dialog = page.getByRole('dialog', { name: 'Lists beside Crane hours.xlsx' })
  await expect(dialog.getByRole('listitem')).toHaveText([/Sheet 1.*Crane hours.csv.*in step: version 2/])
  // The list itself says where it comes from.
  await dialog.getByRole('link', { name: 'Crane hours.csv' }).press('Enter')
  await expect(page.getByText('This list is written anew with each version of')).toContainText('Crane hours.xlsx')
  await expect(page.getByTestId('moment-told')).toContainText('in step with its file')
  await page.getByRole('link', { name: 'Open the spreadsheet' }).press('Enter')
  await expect(cell(page, 1, 0)).toHaveText('13')
  // It is kept in step no longer, and stays.
  await command(page, 'Lists of its values')
  await page.getByRole('button', { name: 'Keep Crane hours.csv in step no longer' }).press('Enter')
  await expect(dialog.getByRole('button', { name: 'Put the list beside it' })).toBeVisible()
  await expect(dialog.getByRole('listitem')).toHaveCount(0)
  expect(await contentOf(page, office, 'Crane hours.csv')).toBe('13\r\n30\r\n43\r\n=1+1\r\n')
})

test('each sheet goes into a list of its own, guarded against formulas, for once; a name that is taken gets another', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await beginSheet(page, "'=1+1")
  await page.getByRole('button', { name: 'Add a sheet' }).press('Enter')
  await expect(page.getByRole('tab')).toHaveCount(2)
  await page.getByRole('button', { name: 'Save …' }).press('Enter')
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Quay works')
  // A type that holds one sheet asks which; each can be had in a list.
  await whatFor(page).focus()
  await page.keyboard.type('Rows for')
  await page.getByRole('combobox', { name: 'Which sheet?' }).focus()
  await page.keyboard.press('End')
  await expect(whatFor(page)).toBeFocused()
  await expect(page.getByText('A list of the rows of each of its 2 sheets')).toBeVisible()
  await page.keyboard.press('Home')
  await page.getByRole('textbox', { name: 'Name', exact: true }).press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  await brought(page, office, 'Quay works Sheet 1.csv', Buffer.from('mine'))
  await command(page, 'Lists of its values')
  const dialog = page.getByRole('dialog', { name: 'Lists beside Quay works.xlsx' })
  await dialog.getByRole('checkbox', { name: 'No text in it may count as a formula' }).press('Space')
  await dialog.getByRole('checkbox', { name: 'Write them anew with each version' }).press('Space')
  await dialog.getByRole('button', { name: 'Put 2 lists beside it' }).press('Enter')
  await expect(page.getByText('2 lists are beside it, the first is')).toBeVisible()
  expect(await contentOf(page, office, 'Quay works Sheet 1 2.csv')).toBe("'=1+1\r\n")
  expect(await contentOf(page, office, 'Quay works Sheet 1.csv')).toBe('mine')
  expect(await contentOf(page, office, 'Quay works Sheet 2.csv')).toBe('')
  expect(
    await office.query('select from side_list s join entry e on e.id = s.source_id where e.name = $1', [
      'Quay works.xlsx',
    ]),
  ).toHaveLength(0)
})

test('a list is said to be guarded, and is with the next save', async ({ page, office }) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Requests.csv', Buffer.from('Boat,Wish\r\nHeron,=1+1\r\n'))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(cell(page, 2, 1)).toHaveText('=1+1')
  await page.getByTestId('written-as').press('Enter')
  await page.getByRole('checkbox', { name: 'No text in it may count as a formula' }).press('Space')
  await expect(page.getByText('It is written so from the next save on.')).toBeVisible()
  await page.getByRole('button', { name: 'Read it so' }).press('Enter')
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(cell(page, 2, 1)).toHaveText('=1+1')
  await page.getByTestId('grid').click({ position: { x: 120, y: 50 } })
  await page.keyboard.press('Control+Home')
  await page.keyboard.type('Boats')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect((await newest(page, office, saved)).toString()).toBe("Boats,Wish\r\nHeron,'=1+1\r\n")
  await page.reload()
  await expect(cell(page, 2, 1)).toHaveText('=1+1')
})

test('a manager has a share take some types only: the slip offers those, and says so', async ({
  page,
  browser,
  office,
}) => {
  const manager = await (await browser.newContext({ baseURL: office.url })).newPage()
  await signIn(manager, office.url, 'Priya')
  await manager.goto(`${office.url}/settings`)
  const place = manager.getByRole('button', { name: 'Everyone in Office: place for new documents' })
  await place.press('Enter')
  for (const type of ['.rtf', '.html', '.md', '.txt'])
    await manager.getByRole('checkbox', { name: type, exact: true }).press('Space')
  await manager.getByRole('button', { name: 'Use this place' }).press('Enter')
  await expect(manager.getByRole('dialog')).toBeHidden()
  try {
    await signIn(page, office.url)
    await writeNew(page, office.url, 'The winter stoppage begins on Monday.')
    await page.keyboard.press('Control+s')
    await expect(page.getByText('Office takes .docx, .odt only.')).toBeVisible()
    await expect(whatFor(page).getByRole('option')).toHaveCount(2)
    await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Stoppage in winter')
    await page.keyboard.press('Enter')
    await expect(reach(page)).toContainText('Saved as version 1')
    // What does not ask is refused all the same.
    const [{ id }] = (await office.query("select id from share where name = 'Office'")) as unknown as [{ id: string }]
    const answer = await page.request.post(
      `${office.url}/api/files?shareId=${id}&name=Stoppage.rtf&key=${crypto.randomUUID()}`,
      { headers: { 'content-type': 'application/octet-stream', origin: office.url }, data: Buffer.from('x') },
    )
    expect([answer.status(), (await answer.json()).title]).toEqual([
      422,
      'Office takes documents as .docx, .odt only, so Stoppage.rtf is not saved there.',
    ])
  } finally {
    await place.press('Enter')
    for (const type of ['.rtf', '.html', '.md', '.txt'])
      await manager.getByRole('checkbox', { name: type, exact: true }).press('Space')
    await manager.getByRole('button', { name: 'No fixed place' }).press('Enter')
    await expect(manager.getByRole('dialog')).toBeHidden()
    await manager.context().close()
  }
})
