// A spreadsheet of another program: changed and saved here, the rest of it stays as it was.

import type { Page } from '@playwright/test'
import ExcelJS from 'exceljs'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { offer } from '../server/demo/foreign'
import { expect, fileAs, paper, reach, signIn, test } from './office'

test.use({ apart: 'foreign' })
const macros = 'application/x-workbook-with-macros.main+xml'

/** Tolls by lock, as an office has them: a heading over several columns, borders, a name, a rule for what may be entered. */
async function ledger(): Promise<Buffer> {
  const workbook = new ExcelJS.Workbook()
  const sheet = workbook.addWorksheet('Tolls')
  sheet.mergeCells('A1:C1')
  sheet.getCell('A1').value = 'Tolls by lock'
  sheet.getCell('A1').font = { name: 'Georgia', size: 16, bold: true }
  for (const [index, [lock, boats, toll]] of [
    ['LK03', 12, 4.5],
    ['LK07', 30, 4.5],
    ['LK09', 7, 6],
  ].entries()) {
    const row = index + 2
    sheet.getCell(`A${row}`).value = lock!
    sheet.getCell(`B${row}`).value = boats!
    sheet.getCell(`C${row}`).value = toll!
    sheet.getCell(`D${row}`).value = { formula: `B${row}*C${row}`, result: Number(boats) * Number(toll) }
    sheet.getCell(`D${row}`).border = { bottom: { style: 'thin' } }
  }
  sheet.getCell('D5').value = { formula: 'SUM(takings)', result: 231 }
  sheet.getCell('D6').value = { formula: 'OFFICE.ROUNDING(D5)', result: 230 }
  sheet.getCell('D7').value = { formula: 'D6+1', result: 231 }
  sheet.getCell('A9').value = 'checked'
  sheet.getRow(9).hidden = true
  workbook.definedNames.add('Tolls!$D$2:$D$4', 'takings')
  sheet.getCell('B2').dataValidation = { type: 'whole', operator: 'between', formulae: [0, 500] }
  return Buffer.from(await workbook.xlsx.writeBuffer())
}

/** Brings a file into the share and opens it. */
async function bringIn(page: Page, url: string, name: string, buffer: Buffer): Promise<void> {
  await page.goto(`${url}/files`)
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /Waterways/ })
    .click()
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in files' }).click()
  await (await chooser).setFiles([{ name, mimeType: 'application/octet-stream', buffer }])
  await page.getByRole('link', { name, exact: true }).click()
}

test('a spreadsheet of another program is reckoned, marked where it is not, and keeps the rest when it is saved', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const original = await ledger()
  await bringIn(page, office.url, 'Tolls.xlsx', original)
  const cell = (column: number, row: number) => page.getByTestId(`glide-cell-${column}-${row}`)
  await expect(cell(4, 4)).toHaveText('231')
  await expect(cell(4, 5)).toHaveText('230')
  // To the cell that is not calculated here, by keys.
  await page.getByTestId('grid').click({ position: { x: 180, y: 40 } })
  const address = page.getByTestId('address')
  await expect(address).toHaveText('A1')
  // The heading over three columns is one cell to the cursor, whichever of them is meant; a row out of sight is passed.
  await page.keyboard.press('ArrowRight')
  await expect(address).toHaveText('D1')
  await page.keyboard.press('ArrowLeft')
  await expect(address).toHaveText('A1')
  await page.keyboard.press('ArrowRight')
  for (let row = 0; row < 5; row++) await page.keyboard.press('ArrowDown')
  for (let row = 0; row < 3; row++) await page.keyboard.press('ArrowDown')
  await expect(address).toHaveText('D10')
  await expect(page.getByText('1 row hidden')).toBeVisible()
  await page.getByRole('button', { name: 'Show', exact: true }).press('Enter')
  await expect(page.getByRole('button', { name: 'Hide again', exact: true })).toBeFocused()
  for (let stop = 0; stop < 12; stop++) {
    await page.keyboard.press('Shift+Tab')
    if (await page.getByTestId('data-grid-canvas').evaluate((own) => own === document.activeElement)) break
  }
  await expect(page.getByTestId('data-grid-canvas')).toBeFocused()
  await expect(address).toHaveText('D10')
  for (let row = 0; row < 4; row++) await page.keyboard.press('ArrowUp')
  await expect(page.getByTestId('address')).toHaveText('D6')
  await expect(page.getByText('Kept as it came with the file: OFFICE.ROUNDING is not calculated here')).toBeVisible()
  // What it reads changes: it is not known any more, nor what follows from it; the sum by its name is.
  for (let row = 0; row < 4; row++) await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByTestId('address')).toHaveText('B2')
  await page.keyboard.type('20')
  await page.keyboard.press('Enter')
  await expect(cell(4, 4)).toHaveText('267')
  await expect(cell(4, 5)).toHaveText('230 ?')
  await expect(cell(4, 6)).toHaveText('231 ?')
  // A later function is typed by its name.
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.type('=XLOOKUP("LK07",A2:A4,B2:B4)')
  await page.keyboard.press('Enter')
  await expect(cell(5, 2)).toHaveText('30')
  await page.keyboard.press('ArrowUp')
  await expect(page.getByRole('textbox', { name: 'Entry of E3' })).toHaveValue('=XLOOKUP("LK07",A2:A4,B2:B4)')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')

  const [version] = await office.query(
    "select v.id from version v join entry e on e.id = v.file_id where e.name = 'Tolls.xlsx' order by v.number desc limit 1",
  )
  const saved = new Uint8Array(await (await page.request.get(`${office.url}/api/versions/${version!.id}/bytes`)).body())
  const [before, after] = [unzipSync(new Uint8Array(original)), unzipSync(saved)]
  const sheet = strFromU8(after['xl/worksheets/sheet1.xml']!)
  expect(sheet).toContain('_xlfn.XLOOKUP(')
  expect(sheet).toContain('<mergeCell ref="A1:C1"/>')
  expect(sheet).toMatch(/<f>SUM\(takings\)<\/f><v>267<\/v>/)
  // No result is written that is not known.
  expect(sheet).toMatch(/<f>OFFICE\.ROUNDING\(D5\)<\/f><\/c>/)
  expect(sheet).toMatch(/<f>D6\+1<\/f><\/c>/)
  expect(strFromU8(after['xl/workbook.xml']!)).toContain('fullCalcOnLoad="1"')
  for (const name of Object.keys(before))
    if (!['xl/worksheets/sheet1.xml', 'xl/workbook.xml', 'docProps/core.xml', 'xl/calcChain.xml'].includes(name))
      expect(after[name], name).toEqual(before[name])
  // Another reader has all of it.
  const read = new ExcelJS.Workbook()
  await read.xlsx.load(Buffer.from(saved) as never)
  expect(read.worksheets[0]!.getCell('A1').font.name).toBe('Georgia')
  expect(read.worksheets[0]!.getCell('B2').value).toBe(20)
  if (process.env.SHOT) await page.screenshot({ path: process.env.SHOT })
})

test('a spreadsheet with macros is opened and saved as what it is, its macros untouched', async ({ page, office }) => {
  const parts = unzipSync(new Uint8Array(await ledger()))
  const types = strFromU8(parts['[Content_Types].xml']!)
  parts['[Content_Types].xml'] = strToU8(
    types
      .replace(/application\/vnd\.openxmlformats-officedocument\.spreadsheetml\.sheet\.main\+xml/, macros)
      .replace('<Override', '<Default Extension="bin" ContentType="application/vnd.ms-office.vbaProject"/><Override'),
  )
  parts['xl/vbaProject.bin'] = Uint8Array.from({ length: 3000 }, (_, index) => (index * 7) % 251)
  await signIn(page, office.url)
  await bringIn(page, office.url, 'Tolls.xlsm', Buffer.from(zipSync(parts)))
  await expect(page.getByText(/These stay in the file .*macro/)).toBeVisible()
  await page.getByTestId('grid').click({ position: { x: 120, y: 66 } })
  await page.keyboard.type('LK04')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const [version] = await office.query(
    "select v.id from version v join entry e on e.id = v.file_id where e.name = 'Tolls.xlsm' order by v.number desc limit 1",
  )
  const answer = await page.request.get(`${office.url}/api/versions/${version!.id}/bytes`)
  const saved = unzipSync(new Uint8Array(await answer.body()))
  expect(saved['xl/vbaProject.bin']).toEqual(parts['xl/vbaProject.bin'])
  expect(saved['[Content_Types].xml']).toEqual(parts['[Content_Types].xml'])
  expect(strFromU8(saved['xl/worksheets/sheet1.xml']!)).toContain('LK04')
})

test('a letter of another program shows its notes and comments, moves and removes them, and hands them on', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const original = Buffer.from(await offer())
  await bringIn(page, office.url, 'Offer.docx', original)
  const signs = paper(page).getByRole('img')
  await expect(signs).toHaveCount(5)
  await expect(
    paper(page).getByRole('img', { name: 'Comment: Ben Marlowe: Does this hold for both hands?' }),
  ).toBeVisible()
  await expect(paper(page).getByRole('img', { name: 'Equation: q = V/t' })).toHaveText('q = V/t')
  // What it tells by marks in its text, too, is seen: nothing of it stays unseen.
  await expect(paper(page).getByRole('insertion')).toHaveText('six')
  await expect(paper(page).getByTitle(/^Tracked insertion by Ben Marlowe/)).toHaveText('six')
  await expect(paper(page).getByTitle('Comment by Ben Marlowe: Does this hold for both hands?')).toHaveText(
    'The culvert mouths are dressed first.',
  )
  await expect(page.getByText(/These stay in the file/)).toHaveCount(0)

  await expect(page.getByRole('region', { name: 'Page header' })).toHaveText('Wherry and Sons, Millwrights')
  await expect(page.getByRole('region', { name: 'Page footer' })).toHaveText('Page 1')
  // Lines end elsewhere until the page has its own letters.
  await page.evaluate(() => document.fonts.ready)
  // To the comment, by keys: it says all of it; removed it is named; undone it is back.
  await page.keyboard.press('Control+Home')
  for (let line = 0; line < 3; line++) await page.keyboard.press('ArrowDown')
  await page.keyboard.press('End')
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByRole('status').filter({ hasText: 'Does this hold for both hands?' })).toBeVisible()
  await page.keyboard.press('Delete')
  await expect(page.getByText('Comment removed: “Ben Marlowe: Does this hold for both hands?”')).toBeVisible()
  await expect(signs).toHaveCount(4)
  await page.keyboard.press('Control+z')
  await expect(signs).toHaveCount(5)

  // Cut, and pasted at the end of the heading.
  await page.keyboard.press('Control+x')
  await expect(signs).toHaveCount(4)
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('End')
  await page.keyboard.press('Control+v')
  await expect(paper(page).locator('h1').getByRole('img')).toHaveText('BM')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const bytesOf = async (name: string) => {
    const [version] = await office.query(
      'select v.id from version v join entry e on e.id = v.file_id where e.name = $1 order by v.number desc limit 1',
      [name],
    )
    const answer = await page.request.get(`${office.url}/api/versions/${version!.id}/bytes`)
    return unzipSync(new Uint8Array(await answer.body()))
  }
  const [before, after] = [unzipSync(new Uint8Array(original)), await bytesOf('Offer.docx')]
  for (const name of Object.keys(before))
    if (name !== 'word/document.xml' && name !== 'docProps/core.xml') expect(after[name], name).toEqual(before[name])
  const heading = /<w:p>(?:(?!<\/w:p>)[\s\S])*gate paddles at LK07[\s\S]*?<\/w:p>/.exec(
    strFromU8(after['word/document.xml']!),
  )![0]
  expect(heading).toContain('<w:commentReference w:id="0"/>')

  // All of it into a new document, in another page of the same browser.
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Control+c')
  await page.goto(`${office.url}/new/document`)
  await paper(page).waitFor()
  await page.keyboard.press('Control+v')
  await expect(signs).toHaveCount(5)
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Handed on')
  const handed = await bytesOf('Handed on.docx')
  expect(strFromU8(handed['word/footnotes.xml']!)).toContain('Measured at the sill on 14 October')
  expect(strFromU8(handed['word/comments.xml']!)).toMatch(/w:author="Ben Marlowe"[\s\S]*both hands/)
  expect(strFromU8(handed['word/document.xml']!)).toMatch(/<m:oMath[\s>]/)
})

test('a file’s own styles are shown, given to another paragraph by keys, and stay its own when it is saved', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await bringIn(page, office.url, 'Terms.docx', Buffer.from(await offer()))
  const terms = paper(page).locator('p', { hasText: 'Prices hold for sixty days' })
  await expect(terms).toHaveCSS('color', 'rgb(107, 74, 31)')
  await expect(terms).toHaveCSS('border-left-width', '2px')
  const line = paper(page).locator('p', { hasText: 'To the Merrowdale Canal Trust' })
  await expect(line).toHaveCSS('margin-left', '0px')
  await page.evaluate(() => document.fonts.ready)
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowDown')
  await expect(page.getByRole('button', { name: 'Paragraph: Text' })).toBeVisible()
  // Before the page are its header and the tools, which are one stop; behind it is its footer.
  await page.keyboard.press('Escape')
  await page.keyboard.press('Tab')
  await expect(page.getByRole('textbox', { name: 'Page footer' })).toBeFocused()
  await page.keyboard.press('Shift+Tab')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.press('Escape')
  await page.keyboard.press('Shift+Tab')
  await expect(page.getByRole('textbox', { name: 'Page header' })).toBeFocused()
  await page.keyboard.press('Shift+Tab')
  await expect(page.getByRole('toolbar', { name: 'Document tools' }).locator(':focus')).toHaveCount(1)
  for (let tool = 0; tool < 20; tool++) {
    if (await page.getByRole('button', { name: 'Paragraph: Text' }).evaluate((own) => own === document.activeElement))
      break
    await page.keyboard.press('ArrowDown')
  }
  await page.keyboard.press('Enter')
  await expect(page.getByRole('menuitem', { name: /^Text/ })).toBeFocused()
  // Its first letter goes from one name to the next, as soon as the one before has the focus.
  const chosen = page.locator('[role="menuitem"]:focus')
  const nameOf = async () => (await chosen.textContent()) ?? ''
  for (let name = await nameOf(); !name.includes('Terms of sale'); name = await nameOf()) {
    await page.keyboard.press('T')
    await expect(chosen).not.toHaveText(name)
    await expect(chosen).toHaveText(/^T/)
  }
  await page.keyboard.press('Enter')
  await expect(line).toHaveCSS('color', 'rgb(107, 74, 31)')
  await expect(paper(page)).toBeFocused()
  // What comes after it goes on in it.
  await page.keyboard.press('End')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Basin Road')
  await expect(paper(page).locator('p', { hasText: 'Basin Road' })).toHaveCSS('color', 'rgb(107, 74, 31)')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const [version] = await office.query(
    "select v.id from version v join entry e on e.id = v.file_id where e.name = 'Terms.docx' and v.number = 2",
  )
  const answer = await page.request.get(`${office.url}/api/versions/${version!.id}/bytes`)
  const xml = strFromU8(unzipSync(new Uint8Array(await answer.body()))['word/document.xml']!)
  const named = [...xml.matchAll(/<w:p>(?:(?!<\/w:p>).)*w:val="Terms"(?:(?!<\/w:p>).)*<\/w:p>/gs)].map(([one]) =>
    one.replace(/<[^>]*>/g, ''),
  )
  expect(named).toEqual([
    'To the Merrowdale Canal Trust',
    'Basin Road',
    'Prices hold for sixty days from the date of this offer.',
  ])
})
