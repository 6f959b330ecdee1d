// A formula made by hands and by keys: cells are pointed at, functions chosen, what cannot be read is told; another program
// reads what is saved (openpyxl).
import { execFileSync } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import type { Saved } from '../core/contract'
import { cell, newest } from './brought'
import { beginSheet, command, enterByKeys } from './flows'
import { expect, fileAs, reach, test } from './office'

const entry = (page: Page) => page.getByRole('textbox', { name: 'Cell entry' })
const address = (page: Page) => page.getByTestId('address')
const line = (page: Page) => page.locator('[data-entry]')
const press = async (page: Page, ...keys: string[]) => {
  for (const key of keys) await page.keyboard.press(key)
}
const formulas = `
import sys, json, openpyxl
book = openpyxl.load_workbook(sys.argv[1])
print(json.dumps({sheet.title: {cell.coordinate: cell.value for row in sheet.iter_rows() for cell in row if isinstance(cell.value, str) and cell.value.startswith('=')} for sheet in book}))
`

test('by keys alone a formula is made of cells that are pointed at, filled on, added up and read elsewhere', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'Boats', '12', '7', '19')
  await press(page, 'Control+Home', 'ArrowRight')
  await expect(address(page)).toHaveText('B1')
  await page.keyboard.type('Toll')
  await press(page, 'Enter')
  await page.keyboard.type('4.5')
  await press(page, 'Enter', 'ArrowUp', 'ArrowRight')
  await expect(address(page)).toHaveText('C2')

  // A function is offered by its first letters; then the keys name cells, and one of them is kept when it is copied.
  await page.keyboard.type('=rou')
  await expect(page.getByRole('option', { name: /^ROUND / })).toBeVisible()
  await press(page, 'ArrowDown', 'Enter')
  await expect(entry(page)).toHaveValue('=ROUND(')
  await press(page, 'ArrowLeft', 'F4')
  await expect(entry(page)).toHaveValue('=ROUND($B$2')
  await page.keyboard.type('*')
  await press(page, 'ArrowLeft', 'ArrowLeft')
  await expect(entry(page)).toHaveValue('=ROUND($B$2*A2')
  await page.keyboard.type(',')
  await expect(page.getByText('Rounds to so many decimals.')).toBeVisible()
  await expect(page.locator('.font-bold', { hasText: 'decimals' })).toBeVisible()
  // What is missing is told, and where; nothing is lost by it. A bracket at the end is made up for.
  await page.keyboard.type('1+')
  await press(page, 'Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'is missing' })).toBeVisible()
  await expect(entry(page)).toHaveValue('=ROUND($B$2*A2,1+')
  await press(page, 'Backspace', 'Enter')
  await expect(entry(page)).toBeHidden()
  await expect(cell(page, 3, 1)).toHaveText('54')
  await press(page, 'ArrowUp', 'Shift+Control+ArrowDown')
  await press(page, 'Control+d')
  await expect(cell(page, 3, 3)).toHaveText('85.5')

  // Added up in one step; the edge of what is filled is one key away.
  await press(page, 'Control+Home', 'ArrowRight', 'ArrowRight', 'ArrowDown', 'Control+ArrowDown', 'ArrowDown')
  await expect(address(page)).toHaveText('C5')
  await press(page, 'Alt+a')
  await expect(cell(page, 3, 4)).toHaveText('171')
  await expect(line(page)).toHaveValue('=SUM(C2:C4)')
  await press(page, 'Control+z')
  await expect(cell(page, 3, 4)).toHaveText('')
  await press(page, 'Control+y')
  await expect(cell(page, 3, 4)).toHaveText('171')

  // An error says in words what it is, and where it comes from.
  await press(page, 'ArrowRight')
  await page.keyboard.type('=C5/A9')
  await press(page, 'Enter')
  await page.keyboard.type('=D5+1')
  await press(page, 'Enter', 'ArrowUp')
  await expect(page.getByText('From D5: Divided by zero or by an empty cell')).toBeVisible()
  await press(page, 'ArrowUp', 'Delete', 'ArrowDown', 'Delete')
  await command(page, 'calculated from')
  await expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)

  await press(page, 'Control+s')
  await fileAs(page, 'Tolls by lock')
  const [row] = await office.query("select id from entry where name = 'Tolls by lock.xlsx'")
  mkdirSync(info.outputDir, { recursive: true })
  const at = join(info.outputDir, 'tolls.xlsx')
  writeFileSync(at, await newest(page, office, { file: { id: row!.id } } as unknown as Saved))
  const [inFile] = Object.values(
    JSON.parse(execFileSync('/usr/bin/python3', ['-c', formulas, at], { encoding: 'utf8' })),
  )
  expect(inFile).toEqual({
    C2: '=ROUND($B$2*A2,1)',
    C3: '=ROUND($B$2*A3,1)',
    C4: '=ROUND($B$2*A4,1)',
    C5: '=SUM(C2:C4)',
  })

  // An entry goes on while the pointer passes the lifeline, and while its pages are looked at.
  await page.keyboard.type('=SUM(')
  await page.mouse.move(600, 200)
  await page.getByRole('slider').hover()
  await page.mouse.move(600, 200)
  await expect(entry(page)).toHaveValue('=SUM(')
  await expect(entry(page)).toBeFocused()
})

test('cells are pointed at with the pointer, on other sheets too, from the cell and from the line above', async ({
  page,
  office,
}) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, '12', '7', '19')
  await page.getByRole('button', { name: 'Add a sheet' }).click()
  await expect(page.getByRole('tab', { name: 'Sheet 2' })).toHaveAttribute('aria-selected', 'true')
  await page.keyboard.type('=SUM(')
  await page.getByRole('tab', { name: 'Sheet 1' }).click()
  await expect(page.getByRole('tab', { name: 'Sheet 1' })).toHaveAttribute('aria-selected', 'true')
  const grid = await page.getByTestId('grid').boundingBox()
  const middle = (row: number) => grid!.y + 28 + 26 * row + 13
  await page.mouse.move(grid!.x + 80, middle(0))
  await page.mouse.down()
  await page.mouse.move(grid!.x + 80, middle(2), { steps: 4 })
  await page.mouse.up()
  await expect(entry(page)).toBeFocused()
  await expect(entry(page)).toHaveValue("=SUM('Sheet 1'!A1:A3")
  await press(page, 'Enter')
  await expect(page.getByRole('tab', { name: 'Sheet 2' })).toHaveAttribute('aria-selected', 'true')
  await expect(cell(page, 1, 0)).toHaveText('38')
  await expect(address(page)).toHaveText('A2')

  await line(page).click()
  await page.keyboard.type('=A1*')
  await page.getByRole('tab', { name: 'Sheet 1' }).click()
  await expect(address(page)).toHaveText('Sheet 2 A2')
  await page.mouse.click(grid!.x + 80, middle(1))
  await expect(line(page)).toHaveValue("=A1*'Sheet 1'!A2")
  await press(page, 'Enter')
  await expect(page.getByRole('tab', { name: 'Sheet 2' })).toHaveAttribute('aria-selected', 'true')
  await expect(cell(page, 1, 1)).toHaveText('266')
  await expect(reach(page)).toContainText('this computer')
})

test('by keys alone words are found on all sheets and replaced in one step, and undone as one', async ({
  page,
  office,
}) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'Lock LK02', '12', '=A2*2', 'lock gate')
  await page.getByRole('button', { name: 'Add a sheet' }).focus()
  await press(page, 'Enter')
  await expect(page.getByRole('tab', { name: 'Sheet 2' })).toHaveAttribute('aria-selected', 'true')
  await expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
  await page.keyboard.type('Locks of 2026')
  await press(page, 'Enter', 'Control+f')
  const find = page.getByRole('textbox', { name: 'Find', exact: true })
  await expect(find).toBeFocused()
  await page.keyboard.type('lock')
  const status = page.getByRole('search').getByRole('status')
  // At once: keys do not wait for what is found.
  await press(page, 'Enter')
  // From the cell below the last one on in a round: to the first one, on another sheet.
  await expect(status).toHaveText('1 of 3')
  await expect(page.getByRole('tab', { name: 'Sheet 1' })).toHaveAttribute('aria-selected', 'true')
  await expect(address(page)).toHaveText('A1')
  await press(page, 'Enter')
  await expect(address(page)).toHaveText('A4')
  await expect(find).toBeFocused()
  await press(page, 'Shift+Enter')
  await expect(address(page)).toHaveText('A1')
  await page.getByRole('textbox', { name: 'Replace with' }).focus()
  await page.keyboard.type('Gate')
  await press(page, 'Enter')
  await expect(cell(page, 1, 0)).toHaveText('Gate LK02')
  await expect(address(page)).toHaveText('A4')
  await page.getByRole('button', { name: 'Replace all' }).focus()
  await press(page, 'Enter')
  await expect(page.getByText('2 cells changed')).toBeVisible()
  await expect(cell(page, 1, 3)).toHaveText('Gate gate')
  await expect(status).toHaveText('Not here')

  // Results are found and not written; in a formula what it reads is.
  await find.focus()
  await press(page, 'Control+a')
  await page.keyboard.type('24')
  await expect(status).toHaveText(/1 (found|of 1)/)
  await page.getByRole('button', { name: 'Replace all' }).focus()
  await press(page, 'Enter')
  await expect(page.getByText('1 cell was left')).toBeVisible()
  await page.getByRole('checkbox', { name: 'In formulas' }).focus()
  await press(page, 'Space')
  await find.focus()
  await press(page, 'Control+a')
  await page.keyboard.type('*2')
  await expect(status).toHaveText(/1 (found|of 1)/)
  await page.getByRole('textbox', { name: 'Replace with' }).focus()
  await press(page, 'Control+a')
  await page.keyboard.type('*3')
  await page.getByRole('button', { name: 'Replace all' }).focus()
  await press(page, 'Enter')
  await expect(cell(page, 1, 2)).toHaveText('36')

  // The cursor is where it was gone to, and the keys go there.
  await press(page, 'Escape', 'Control+z', 'Control+z')
  await expect(cell(page, 1, 2)).toHaveText('24')
  await expect(cell(page, 1, 3)).toHaveText('lock gate')
  await page.keyboard.type('new')
  await press(page, 'Enter')
  await expect(cell(page, 1, 3)).toHaveText('new')
})

test('money and days show as they are typed and as results; rows are sorted by two columns, values pasted alone', async ({
  page,
  office,
}) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'Lock', 'LK02', 'LK01', 'LK02')
  const column = async (letter: string, ...entries: string[]) => {
    await press(page, 'Control+Home')
    for (let at = 0; at < letter.charCodeAt(0) - 65; at++) await press(page, 'ArrowRight')
    await expect(address(page)).toHaveText(`${letter}1`)
    for (const entry of entries) {
      await page.keyboard.type(entry)
      await press(page, 'Enter')
    }
  }
  await column('B', 'Toll', '4.50 EUR', '7 EUR', '3.25 EUR')
  await column('C', 'Day', '24/11/2026', '30 Oct 2026', '2026-12-01')
  await column('D', '=B2*2', '=C2+7', '=MAX(C2:C4)', '=SUM(B2:B4)')
  for (const [row, text] of ['9.00 EUR', '01/12/2026', '01/12/2026', '14.75 EUR'].entries())
    await expect(cell(page, 4, row)).toHaveText(text)

  // Values alone: what they were made of may go.
  await press(page, 'Control+Home', 'ArrowRight', 'ArrowRight', 'ArrowRight', 'Shift+Control+ArrowDown', 'Control+c')
  await press(page, 'ArrowRight', 'Control+Shift+V')
  await expect(cell(page, 5, 3)).toHaveText('14.75 EUR')
  await expect(line(page)).toHaveValue('9')
  await press(page, 'ArrowLeft', 'Shift+Control+ArrowDown', 'Delete')
  await expect(cell(page, 4, 0)).toHaveText('')
  await expect(cell(page, 5, 0)).toHaveText('9.00 EUR')
  await press(page, 'ArrowRight', 'Shift+Control+ArrowDown', 'Delete')

  // By the lock, and where that is the same by the toll, largest first; the first row names them.
  await press(page, 'Control+Home')
  await command(page, 'several columns')
  const dialog = page.getByRole('dialog', { name: 'Sort rows 2 to 4' })
  await expect(dialog.getByRole('checkbox', { name: 'The first row names the columns' })).toBeChecked()
  await dialog.getByRole('button', { name: 'Another column' }).focus()
  await press(page, 'Enter')
  await expect(dialog.getByRole('combobox', { name: 'Then by' })).toHaveValue('1')
  await dialog.getByRole('button', { name: 'Smallest first' }).nth(1).focus()
  await press(page, 'Enter')
  await expect(dialog.getByRole('button', { name: 'Largest first' })).toHaveAttribute('aria-pressed', 'true')
  await dialog.getByRole('button', { name: 'Sort', exact: true }).focus()
  await press(page, 'Enter')
  await expect(dialog).toBeHidden()
  for (const [row, [lock, toll]] of [
    ['LK01', '7 EUR'],
    ['LK02', '4.50 EUR'],
    ['LK02', '3.25 EUR'],
  ].entries()) {
    await expect(cell(page, 1, row + 1)).toHaveText(lock!)
    await expect(cell(page, 2, row + 1)).toHaveText(toll!)
  }
  await press(page, 'Control+z')
  await expect(cell(page, 1, 1)).toHaveText('LK02')

  // The headings stay in sight when the rest goes by.
  await press(page, 'Control+Home', 'ArrowDown')
  await command(page, 'row above in sight')
  for (let at = 0; at < 45; at++) await press(page, 'ArrowDown')
  await expect(page.locator('.frozen-rows')).toHaveAttribute('data-rows', '1')
  await command(page, 'all rows scroll')
  await expect(page.locator('.frozen-rows')).toHaveCount(0)
})
