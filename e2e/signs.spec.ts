// Signs that no key has, put into a document by keys alone, and read by another program.
import { cell, readBy } from './brought'
import { beginSheet, command, enterByKeys } from './flows'
import { expect, fileAs, paper, signIn, test, writeNew } from './office'

test.use({ apart: 'signs' })

const reader = `
import sys, json, docx
print(json.dumps([p.text for p in docx.Document(sys.argv[1]).paragraphs]))
`

test('signs are found by their names and gone through by arrows; what is selected gives way', async ({
  page,
  office,
}, info) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Open 8')
  await command(page, 'special characters')
  const beside = page.getByRole('region', { name: 'Special characters' })
  await expect(beside.getByRole('combobox', { name: 'What it is called' })).toBeFocused()
  await page.keyboard.type('short')
  await expect(beside.getByRole('status')).toHaveText('Short dash')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('keeps tog')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowRight')
  await expect(beside.getByRole('status')).toHaveText('Narrow space that keeps together')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(beside).toBeHidden()
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('18, toll 5 ')
  // What was put in last is at hand, and comes in place of what is selected.
  await page.keyboard.type('x')
  await page.keyboard.press('Shift+ArrowLeft')
  await command(page, 'special characters')
  await expect(beside.getByRole('option').first()).toHaveAccessibleName('Narrow space that keeps together')
  await page.keyboard.type('u+20ac')
  await page.keyboard.press('Enter')
  await expect(beside.getByRole('status')).toHaveText('Put in: Euro')
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Delete')
  await expect(beside.getByRole('option').first()).toHaveAccessibleName('Euro')
  await page.keyboard.type('no such sign')
  await expect(beside.getByRole('status')).toHaveText('No sign is called so.')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(paper(page)).toHaveText('Open 8–\u202f18, toll 5 €')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Opening hours')
  expect(await readBy(reader, page, office, info, 'Opening hours.docx')).toEqual(['Open 8–\u202f18, toll 5 €'])
  await page.keyboard.press('Control+z')
  await expect(paper(page)).toContainText('toll 5 x')
})

test('signs are put into cells: into what is being entered, where its caret is, or into an entry that begins with them', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'Opening', '8')
  const beside = page.getByRole('region', { name: 'Special characters' })
  const entry = page.getByRole('textbox', { name: 'Cell entry' })
  await page.keyboard.press('ArrowUp')
  await command(page, 'special characters')
  await expect(beside.getByRole('combobox', { name: 'What it is called' })).toBeFocused()
  await page.keyboard.type('half')
  await expect(beside.getByRole('status')).toHaveText('Half')
  await page.keyboard.press('Enter')
  await expect(entry).toHaveValue('8½')
  // The keys stay with the signs, for more of them.
  await expect(beside.getByRole('combobox')).toBeFocused()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('short')
  await expect(beside.getByRole('status')).toHaveText('Short dash')
  await page.keyboard.press('Enter')
  await expect(entry).toHaveValue('8½–')
  // Escape leads back to the entry, which goes on.
  await page.keyboard.press('Escape')
  await expect(beside).toHaveCount(0)
  await expect(entry).toBeFocused()
  await page.keyboard.type('9')
  await page.keyboard.press('Enter')
  await expect(cell(page, 1, 1)).toHaveText('8½–9')
  // By the pointer: another cell that is pressed takes it in.
  await page.getByRole('button', { name: 'Special characters' }).click()
  await beside.getByRole('option', { name: 'Euro' }).click()
  await expect(entry).toHaveValue('€')
  await page.locator('.dvn-scroller').click({ position: { x: 330, y: 200 } })
  await expect(entry).toHaveCount(0)
  await expect(cell(page, 1, 2)).toHaveText('€')
  await page.keyboard.press('Control+z')
  await expect(cell(page, 1, 2)).toHaveText('')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Signs in cells')
  const cells = `
import sys, json, openpyxl
print(json.dumps([c.value for c in openpyxl.load_workbook(sys.argv[1]).worksheets[0]['A']]))
`
  expect(await readBy(cells, page, office, info, 'Signs in cells.xlsx')).toEqual(['Opening', '8½–9'])
})
