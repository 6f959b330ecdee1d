// What may be entered into cells, by keys alone: said, held to, chosen from a list, in the file as a program that knows
// nothing of this one reads it (openpyxl), opened again, undone, told of and combined with what another one wrote.
import type { Page } from '@playwright/test'
import { writeOds } from '../core/formats/ods/write'
import { brought, cell, readBy } from './brought'
import { beginSheet, command, enterByKeys } from './flows'
import { expect, fileAs, reach, signIn, test } from './office'

test.use({ apart: 'rules' })

const inCells = (page: Page) =>
  expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
const panel = (page: Page) => page.getByRole('region', { name: 'What may be entered' })
const entry = (page: Page) => page.getByRole('textbox', { name: 'Cell entry' })
const reader = `
import sys, json, openpyxl
s = openpyxl.load_workbook(sys.argv[1]).worksheets[0]
print(json.dumps([[v.type, v.operator, v.formula1, v.formula2, str(v.sqref), v.errorStyle, bool(v.allowBlank), v.prompt] for v in s.data_validations.dataValidation] + [[c.value for c in s['B']]]))
`
const kinds = ['Kind', 'Gate', 'Paddle', 'Weir']

/** Says by keys that the selected cells take what is in cells A2 to A4. */
async function ruleOfList(page: Page): Promise<void> {
  await command(page, 'what may be entered')
  await expect(panel(page).getByRole('combobox', { name: 'An entry is' })).toBeFocused()
  await page.keyboard.press('Tab')
  await expect(panel(page).getByRole('combobox', { name: 'The list is' })).toBeFocused()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Tab')
  await expect(panel(page).getByRole('textbox', { name: 'Cells of the list' })).toBeFocused()
  await page.keyboard.type('A2:A4')
  for (let tabs = 0; tabs < 4; tabs++) await page.keyboard.press('Tab')
  await expect(panel(page).getByRole('textbox', { name: 'Shown at the cell' })).toBeFocused()
  await page.keyboard.type('As in column A')
  await page.keyboard.press('Enter')
  await expect(panel(page)).toContainText('Only what is listed in A2:A4 may be entered.')
}

test('a list is said, held to, chosen from, saved, read by another program, opened again and undone', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, ...kinds)
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowDown')
  for (let rows = 0; rows < 4; rows++) await page.keyboard.press('Shift+ArrowDown')
  await ruleOfList(page)
  await page.keyboard.press('Escape')
  await expect(panel(page)).toHaveCount(0)
  await inCells(page)

  // What is not in the list stays with who typed it, and the keys with it.
  await expect(page.getByText('As in column A')).toBeVisible()
  await page.keyboard.type('weirs')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toHaveText('Only one of these may be entered: Gate, Paddle, Weir.')
  await expect(entry(page)).toBeFocused()
  await expect(entry(page)).toHaveValue('weirs')
  // Nor is it lost, or put elsewhere, by who clicks on another cell and goes on typing.
  await page.locator('.dvn-scroller').click({ position: { x: 330, y: 200 } })
  await expect(entry(page)).toBeFocused()
  await expect(page.getByRole('alert')).toBeVisible()
  await page.keyboard.press('End')
  await page.keyboard.type('x')
  await expect(entry(page)).toHaveValue('weirsx')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Backspace')
  await expect(page.getByRole('alert')).toHaveCount(0)
  await page.keyboard.press('Enter')
  await expect(cell(page, 2, 1)).toHaveText('Weir')

  // The list, by its letters.
  await inCells(page)
  await page.keyboard.press('Alt+ArrowDown')
  const list = page.getByRole('dialog', { name: 'What may be entered into B3' })
  await expect(list.getByRole('option')).toHaveText(['Gate', 'Paddle', 'Weir'])
  await page.keyboard.type('add')
  await expect(list.getByRole('option')).toHaveText(['Paddle'])
  await page.keyboard.press('Enter')
  await expect(cell(page, 2, 2)).toHaveText('Paddle')
  await inCells(page)

  await page.keyboard.press('Control+s')
  await fileAs(page, 'Repairs by kind')
  expect(await readBy(reader, page, office, info, 'Repairs by kind.xlsx')).toEqual([
    ['list', null, '$A$2:$A$4', null, 'B2:B6', null, true, 'As in column A'],
    [null, 'Weir', 'Paddle', null],
  ])

  // Opened again it is held to, also where somebody writes in the line above the cells.
  await page.reload()
  await expect(cell(page, 2, 2)).toHaveText('Paddle')
  await inCells(page)
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowDown')
  const line = page.getByRole('textbox', { name: 'Entry of B2' })
  await expect(line).toHaveValue('Weir')
  await line.click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Bridge')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('Gate, Paddle, Weir')
  await expect(line).toHaveValue('Bridge')
  // Where the pointer goes meanwhile, it is said why the line still has it.
  await page.locator('.dvn-scroller').click({ position: { x: 330, y: 200 } })
  await expect(page.getByRole('alert')).toContainText('Gate, Paddle, Weir')
  await expect(line).toHaveValue('Bridge')
  await line.click()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('alert')).toHaveCount(0)
  await inCells(page)
  await expect(cell(page, 2, 1)).toHaveText('Weir')
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowDown')

  // Another rule for a part of the cells, and both are taken back one by one.
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Shift+ArrowDown')
  await command(page, 'what may be entered')
  const kind = panel(page).getByRole('combobox', { name: 'An entry is' })
  await expect(kind).toBeFocused()
  await page.keyboard.type('a whole')
  await expect(kind).toHaveValue('whole number')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await page.keyboard.type('1')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(panel(page).getByRole('alert')).toHaveText('Write a number, a date or a cell.')
  await page.keyboard.type('5')
  await page.keyboard.press('Enter')
  await expect(panel(page)).toContainText('Only a whole number from 1 to 5 may be entered.')
  await expect(panel(page)).toContainText('All entries of this sheet are what they may be.')
  await page.keyboard.press('Escape')
  await inCells(page)
  await page.keyboard.type('7')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toHaveText('Only a whole number from 1 to 5 may be entered.')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(((await readBy(reader, page, office, info, 'Repairs by kind.xlsx')) as unknown[]).slice(0, 2)).toEqual([
    ['list', null, '$A$2:$A$4', null, 'B2:B3 B6', null, true, 'As in column A'],
    ['whole', null, '1', '5', 'B4:B5', null, true, 'As in column A'],
  ])
  await inCells(page)
  await page.keyboard.press('Control+z')
  await command(page, 'what may be entered')
  await expect(panel(page)).toContainText('Only what is listed in A2:A4 may be entered.')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Alt+v')
  await expect(page.getByText(/other entries are allowed/i).first()).toBeVisible()
})

const inOpenStandard = `
import sys, json
from odf.opendocument import load
from odf.table import ContentValidation, TableCell
book = load(sys.argv[1])
rules = [[v.getAttribute('name'), v.getAttribute('condition'), v.getAttribute('basecelladdress')] for v in book.getElementsByType(ContentValidation)]
print(json.dumps([rules, [c.getAttribute('contentvalidationname') for c in book.getElementsByType(TableCell)]]))
`

test('in a spreadsheet of the open standard a rule is held to, changed for a part, and read by another program', async ({
  page,
  office,
}, info) => {
  await signIn(page, office.url)
  const rule = {
    areas: [{ top: 1, left: 0, bottom: 4, right: 0 }],
    condition: { kind: 'one of' as const, choices: ['Gate', 'Weir'], shown: true },
    empty: true,
    otherwise: 'refused' as const,
  }
  const sheet = { name: 'Kinds', rows: [[{ value: 'Kind' }], [{ value: 'Gate' }]], widths: {}, rules: [rule] }
  const { bytes } = writeOds({ workbook: { sheets: [sheet] }, resultOf: () => undefined })
  const saved = await brought(page, office, 'Kinds from elsewhere.ods', Buffer.from(bytes))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(cell(page, 1, 1)).toHaveText('Gate')
  await inCells(page)
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.type('sluice')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toHaveText('Only one of these may be entered: Gate, Weir.')
  await page.keyboard.press('Escape')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Shift+ArrowDown')
  await command(page, 'what may be entered')
  const choices = panel(page).getByRole('textbox', { name: 'Choices, one on each line' })
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await expect(choices).toBeFocused()
  await page.keyboard.press('Control+End')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Sluice')
  for (let tabs = 0; tabs < 4; tabs++) await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(panel(page)).toContainText('Only one of these may be entered: Gate, Weir, Sluice.')
  await page.keyboard.press('Escape')
  await inCells(page)
  await page.keyboard.type('sluice')
  await page.keyboard.press('Enter')
  await expect(cell(page, 1, 3)).toHaveText('Sluice')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(await readBy(inOpenStandard, page, office, info, 'Kinds from elsewhere.ods')).toEqual([
    [
      ['Rule', 'of:cell-content-is-in-list("Gate";"Weir")', "$'Kinds'.$A$2"],
      ['Rule 2', 'of:cell-content-is-in-list("Gate";"Weir";"Sluice")', "$'Kinds'.$A$4"],
    ],
    [null, 'Rule', 'Rule', 'Rule 2', 'Rule 2'],
  ])
})

test('what was entered before a rule is found, and two who change cells and rules at once have both', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url)
  await beginSheet(page, ...kinds)
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Kinds of repairs')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  await other.goto(page.url())
  await expect(cell(other, 1, 3)).toHaveText('Weir')
  await inCells(other)
  await other.keyboard.press('Control+End')
  await other.keyboard.press('ArrowDown')
  await other.keyboard.type('Bridge')
  await other.keyboard.press('Enter')
  await expect(cell(other, 1, 4)).toHaveText('Bridge')

  await inCells(page)
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Shift+ArrowDown')
  await command(page, 'what may be entered')
  const kind = panel(page).getByRole('combobox', { name: 'An entry is' })
  await expect(kind).toBeFocused()
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await expect(panel(page).getByRole('textbox', { name: 'Choices, one on each line' })).toBeFocused()
  await page.keyboard.type('Gate')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Weir')
  for (let tabs = 0; tabs < 4; tabs++) await page.keyboard.press('Tab')
  await expect(panel(page).getByRole('textbox', { name: 'Shown at the cell' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(panel(page)).toContainText('1 entry of this sheet is something else than it may be.')
  for (let tabs = 0; tabs < 7; tabs++) await page.keyboard.press('Shift+Tab')
  await expect(panel(page).getByRole('button', { name: 'To the next of them' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('address')).toHaveText('A3')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')

  await other.keyboard.press('Control+s')
  await expect(reach(other)).toContainText('Saved as version 3')
  await expect(cell(other, 1, 4)).toHaveText('Bridge')
  await inCells(other)
  await other.keyboard.press('Control+Home')
  await other.keyboard.press('ArrowDown')
  await expect(other.getByRole('button', { name: 'Choose', exact: true })).toBeVisible()
  await other.keyboard.type('Bridge')
  await other.keyboard.press('Enter')
  await expect(other.getByRole('alert')).toHaveText('Only one of these may be entered: Gate, Weir.')
  // Whoever saves meanwhile saves what may be there, and goes on with what is being typed.
  await other.keyboard.press('Control+s')
  await expect(entry(other)).toHaveValue('Bridge')
  await expect(entry(other)).toBeFocused()
  await expect(other.getByRole('alert')).toHaveText('Only one of these may be entered: Gate, Weir.')
  for (let letters = 0; letters < 6; letters++) await other.keyboard.press('Backspace')
  await other.keyboard.type('weir')
  await other.keyboard.press('Enter')
  await expect(cell(other, 1, 1)).toHaveText('Weir')
  await other.keyboard.press('Control+s')
  await expect(reach(other)).toContainText(/Saved as version [45]/)
})

test('what a column holds is offered to who types the same again; the keys enter what was typed, or what is gone to', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'Kind', 'Gate paddle', 'Gauge', 'Weir')
  const offered = page.getByRole('listbox', { name: 'What it may go on to be' })
  await page.keyboard.type('g')
  await expect(offered.getByRole('option')).toHaveText(['Gauge', 'Gate paddle'])
  await page.keyboard.type('at')
  await expect(offered.getByRole('option')).toHaveText(['Gate paddle'])
  await page.keyboard.press('ArrowDown')
  await expect(offered.getByRole('option', { selected: true })).toHaveText('Gate paddle')
  await page.keyboard.press('Enter')
  await expect(cell(page, 1, 4)).toHaveText('Gate paddle')
  await expect(offered).toHaveCount(0)
  // Who goes on typing and enters it has what was typed.
  await page.keyboard.type('We')
  await expect(offered.getByRole('option')).toHaveText(['Weir'])
  await page.keyboard.press('Enter')
  await expect(cell(page, 1, 5)).toHaveText('We')
  // Beside them there is nothing to be offered, where a list is said it is of that list.
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.type('g')
  await expect(entry(page)).toHaveValue('g')
  await expect(offered).toHaveCount(0)
  await page.keyboard.press('Escape')
  await ruleOfList(page)
  await page.keyboard.press('Escape')
  await inCells(page)
  await page.keyboard.type('g')
  await expect(offered.getByRole('option')).toHaveText(['Gate paddle', 'Gauge'])
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Tab')
  await expect(cell(page, 2, 1)).toHaveText('Gauge')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Repairs offered')
  expect((await readBy(reader, page, office, info, 'Repairs offered.xlsx')).at(-1)).toEqual([
    null,
    'Gauge',
    null,
    null,
    null,
    null,
  ])
})
