// Rows filtered by keys alone; what is in the file is read by a program that knows nothing of this one (openpyxl), opened
// again, and undone.
import type { Page } from '@playwright/test'
import { cell, readBy } from './brought'
import { beginSheet, command, enterByKeys } from './flows'
import { expect, fileAs, test } from './office'

const rows = [
  'Lock\tLevel\tRead by',
  'LK07\t1.25\tIda',
  'LK12\t3.5\tBen',
  'LK07\t2\t',
  'Weir\t4\tIda',
  'LK03\tdry\tTom',
  'LK03\t2.4\tida',
]
const inCells = (page: Page) =>
  expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
const list = (page: Page, heading: string) => page.getByRole('dialog', { name: `Rows by ‹${heading}›` })
const shown = (page: Page) => page.getByText(/\d+ of \d+ rows shown/)
/** The texts of a column's cells that have a height. */
const seen = (page: Page, column: number) =>
  page.evaluate(
    (x) =>
      Array.from({ length: 9 }, (_, y) => document.querySelector(`[data-testid="glide-cell-${x}-${y}"]`)?.textContent),
    column,
  )
const enterRows = async (page: Page) => {
  for (const row of rows) {
    const texts = row.split('\t')
    for (const [at, text] of texts.entries()) {
      if (at) await page.keyboard.press('Tab')
      if (text) await page.keyboard.type(text)
    }
    await page.keyboard.press(texts.at(-1) ? 'Enter' : 'ArrowDown')
    for (let n = 1; n < texts.length; n++) await page.keyboard.press('ArrowLeft')
  }
}
const reader = `
import sys, json, openpyxl
s = openpyxl.load_workbook(sys.argv[1]).worksheets[0]
f = s.auto_filter
print(json.dumps({'ref': f.ref, 'columns': [[c.colId, c.filters.filter if c.filters else None, [[t.operator, t.val] for t in c.customFilters.customFilter] if c.customFilters else None] for c in f.filterColumn], 'rows': [k for k, v in s.row_dimensions.items() if v.hidden]}))
`

test('rows are filtered by letters, by a choice and by a test, by keys; it is in the file, and is undone', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await beginSheet(page)
  await enterRows(page)
  await expect(cell(page, 1, 6)).toHaveText('LK03')
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await command(page, 'Show only some rows')
  await expect(list(page, 'Read by').getByRole('textbox', { name: 'Look for an entry' })).toBeFocused()
  await expect(list(page, 'Read by').getByRole('option')).toHaveText([
    'All 4 entries',
    'Ben1',
    'Ida3',
    'Tom1',
    'empty cells1',
  ])
  // What is looked for is what is shown, in whatever letters it is written.
  await page.keyboard.type('id')
  await expect(list(page, 'Read by').getByRole('button', { name: 'Show 3 rows' })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(shown(page)).toHaveText(/^3 of 6 rows shown/)
  await inCells(page)
  // Down from the heading is the next row that is seen, and what is typed there goes into it.
  await page.keyboard.press('ArrowDown')
  await expect(page.getByTestId('address')).toHaveText('C2')
  await page.keyboard.press('ArrowDown')
  await expect(page.getByTestId('address')).toHaveText('C5')

  // Another column is narrowed by a test, from the cells themselves.
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Alt+ArrowDown')
  await expect(list(page, 'Level').getByRole('option')).toHaveText(['All 3 entries', '1.251', '2.41', '41'])
  await page.keyboard.press('Shift+Tab')
  await page.keyboard.press('ArrowRight')
  await expect(list(page, 'Level').getByRole('textbox', { name: 'Compared with' })).toBeFocused()
  await page.keyboard.type('2')
  await page.keyboard.press('Shift+Tab')
  await page.keyboard.type('is above')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(shown(page)).toHaveText(/^2 of 6 rows shown/)
  await inCells(page)

  await page.keyboard.press('Control+s')
  await fileAs(page, 'Levels that are filtered')
  expect(await readBy(reader, page, office, info, 'Levels that are filtered.xlsx')).toEqual({
    ref: 'A1:C7',
    columns: [
      [1, null, [['greaterThan', '2']]],
      [2, ['Ida'], null],
    ],
    rows: [2, 3, 4, 6],
  })

  // Opened again it is as it was; all rows come back by one command, and go by undoing that.
  await page.reload()
  await expect(shown(page)).toHaveText(/^2 of 6 rows shown/)
  await inCells(page)
  await command(page, 'Show all rows')
  await expect(shown(page)).toBeHidden()
  await inCells(page)
  await page.keyboard.press('Control+z')
  await expect(shown(page)).toHaveText(/^2 of 6 rows shown/)
  await command(page, 'Take the filter away')
  await expect(shown(page)).toBeHidden()
  await inCells(page)
  await expect.poll(() => seen(page, 1)).toEqual(['Lock', 'LK07', 'LK12', 'LK07', 'Weir', 'LK03', 'LK03', '', ''])
})

test('what is deleted, copied and removed is what is seen; rows that a filter hides stay', async ({ page, office }) => {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await enterByKeys(page, office.url)
  await beginSheet(page)
  await enterRows(page)
  await page.keyboard.press('Control+Home')
  await command(page, 'Show only some rows')
  await expect(list(page, 'Lock').getByRole('option')).toHaveCount(5)
  await page.keyboard.type('LK0')
  await page.keyboard.press('Enter')
  await expect(shown(page)).toHaveText(/^4 of 6 rows shown/)
  await inCells(page)
  // From LK07 to the last row: between them two are hidden.
  await page.keyboard.press('ArrowDown')
  for (let n = 0; n < 3; n++) await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Control+c')
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toBe('LK07\nLK07\nLK03\nLK03')
  await page.keyboard.press('Delete')
  await expect
    .poll(() => seen(page, 1))
    .toEqual(['Lock, some rows hidden by it', '', 'LK12', '', 'Weir', '', '', '', ''])
  await page.keyboard.press('Control+z')
  // Pasted one row further it goes into rows that are seen.
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Control+v')
  await expect.poll(() => seen(page, 2)).toEqual(['Level', 'LK07', '3.5', 'LK07', '4', 'LK03', 'LK03', '', ''])
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowDown')
  for (let n = 0; n < 3; n++) await page.keyboard.press('Shift+ArrowDown')
  await page.getByRole('button', { name: 'Rows', exact: true }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Remove')
  await expect(page.getByRole('menuitem', { name: 'Remove the 4 rows that are shown' })).toBeFocused()
  await page.keyboard.press('Enter')
  await inCells(page)
  await command(page, 'Take the filter away')
  await expect.poll(() => seen(page, 1)).toEqual(['Lock', 'LK12', 'Weir', '', '', '', '', '', ''])
})

test('by the pointer: a heading’s sign opens the list, which keeps the keyboard; also while the heading stays in sight', async ({
  page,
  office,
}) => {
  await enterByKeys(page, office.url)
  await beginSheet(page)
  await enterRows(page)
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowDown')
  await command(page, 'Keep the row above in sight')
  await inCells(page)
  await page.keyboard.press('Control+Home')
  await command(page, 'Show only some rows')
  await expect(list(page, 'Lock').getByRole('option')).toHaveCount(5)
  await page.keyboard.press('Escape')
  await inCells(page)
  const box = (await page.getByTestId('grid').boundingBox())!
  // At the right end of the first cell; the second time the heading is a row that stays while others went by.
  const sign = [box.x + 36 + 96 - 12, box.y + 28 + 13] as const
  await page.mouse.click(...sign)
  await expect(list(page, 'Lock').getByRole('textbox', { name: 'Look for an entry' })).toBeFocused()
  await page.keyboard.type('LK')
  await expect(list(page, 'Lock').getByRole('option')).toHaveCount(4)
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press(' ')
  // Enter shows the rows from wherever it is pressed in the list.
  await page.keyboard.press('Enter')
  await expect(list(page, 'Lock')).toBeHidden()
  await expect(shown(page)).toHaveText(/^3 of 6 rows shown/)
  await inCells(page)
  for (let n = 0; n < 60; n++) await page.keyboard.press('ArrowDown')
  await page.mouse.click(...sign)
  await expect(list(page, 'Lock').getByRole('textbox', { name: 'Look for an entry' })).toBeFocused()
  await page.keyboard.press('Escape')
  await expect(list(page, 'Lock')).toBeHidden()
  await inCells(page)
})
