// How cells look, changed by keys alone; read by a program that knows nothing of this one (openpyxl), opened again, undone,
// and told in words.
import type { Page } from '@playwright/test'
import { readBy } from './brought'
import { beginSheet, command, enterByKeys } from './flows'
import { expect, fileAs, reach, test } from './office'

const panel = (page: Page) => page.getByRole('region', { name: 'Look of the cells' })
const inCells = (page: Page) =>
  expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
const press = async (page: Page, name: string) => {
  await panel(page).getByRole('button', { name, exact: true }).focus()
  await page.keyboard.press('Enter')
}
/** What openpyxl has of the looks of the first sheet. */
const reader = `
import sys, json, openpyxl
s = openpyxl.load_workbook(sys.argv[1]).worksheets[0]
side = lambda one: [one.style, one.color.rgb if one and one.color and one.color.type == 'rgb' else None] if one and one.style else None
cells = {c.coordinate: [c.value, c.font.name, c.font.sz, c.alignment.vertical, bool(c.alignment.wrap_text), side(c.border.top), side(c.border.bottom)] for row in s.iter_rows() for c in row if c.value is not None}
print(json.dumps({'merged': sorted(str(r) for r in s.merged_cells.ranges), 'heights': {str(k): v.height for k, v in s.row_dimensions.items() if v.height}, 'rows': [k for k, v in s.row_dimensions.items() if v.hidden], 'columns': [k for k, v in s.column_dimensions.items() if v.hidden], 'cells': cells}))
`

test('cells are merged, lined, set in a font, hidden and broken into lines by keys; it is in the file, and goes again', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'Tolls', 'LK05', 'LK06', 'LK07')
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.press('Alt+l')
  await expect(panel(page).getByLabel('Font', { exact: true })).toBeFocused()
  await page.keyboard.type('Caladea')
  await page.keyboard.press('Tab')
  await page.keyboard.type('18')
  await page.keyboard.press('Enter')
  await press(page, 'Merge into one cell')
  await expect(panel(page).getByRole('button', { name: 'Divide into cells again' })).toBeVisible()
  await panel(page).getByLabel('Row height', { exact: true }).focus()
  await page.keyboard.type('30')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(panel(page)).toBeHidden()
  await inCells(page)
  // Out of the merged cell, and three cells down.
  await page.keyboard.press('ArrowDown')
  await expect(page.getByTestId('address')).toHaveText('A2')
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Alt+l')
  await panel(page).getByRole('combobox', { name: 'Kind of line' }).focus()
  await page.keyboard.type('Thick')
  await press(page, 'Around all of them')
  await press(page, 'At the top')
  await page.keyboard.press('Escape')
  await inCells(page)
  await page.keyboard.press('ArrowDown')
  await command(page, 'Hide this row')
  await inCells(page)
  await expect(page.getByText('1 row hidden')).toBeVisible()
  // Past the row that is hidden.
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await expect(page.getByTestId('address')).toHaveText('A4')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.type('first')
  await page.keyboard.press('Alt+Enter')
  await page.keyboard.type('second')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Looks of tolls')
  const read = () => readBy(reader, page, office, info, 'Looks of tolls.xlsx')
  const first = await read()
  expect(first).toMatchObject({ merged: ['A1:B1'], heights: { 1: 30 }, rows: [3], columns: [] })
  expect(first.cells.A1.slice(0, 3)).toEqual(['Tolls', 'Caladea', 18])
  expect(first.cells.A2.slice(3)).toEqual(['top', false, ['thick', null], null])
  expect(first.cells.A4.slice(3)).toEqual(['top', false, null, ['thick', null]])
  expect(first.cells.B4[0]).toBe('first\nsecond')
  expect(first.cells.B4[4]).toBe(true)

  // Opened again it is so; another version has it otherwise, and says what is.
  await page.reload()
  await inCells(page)
  await expect(page.getByTestId('glide-cell-1-0')).toHaveText('Tolls')
  await expect(page.getByText('1 row hidden')).toBeVisible()
  await page.keyboard.press('Control+Home')
  await command(page, 'Divide into cells again')
  await page.keyboard.press('ArrowDown')
  await command(page, 'Show the hidden rows here')
  await expect(page.getByText('1 row hidden')).toBeHidden()
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  expect(await read()).toMatchObject({ merged: [], heights: { 1: 30 }, rows: [] })
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect(page.getByText('1 row hidden')).toBeVisible()
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 3')
  expect(await read()).toEqual(first)
  await page.keyboard.press('Alt+v')
  await expect(page.getByText(/a merged cell divided again/).first()).toBeVisible()
})

test('the edge behind a column’s name: clicked it stays, clicked twice the column is as wide as what it shows', async ({
  page,
  office,
}) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'The upper gate at Kettleford, as it was measured')
  const box = (await page.getByTestId('grid').boundingBox())!
  const [head, edge] = [{ y: box.y + 14 }, { x: box.x + 36 + 96 }]
  const at = async (x: number) => {
    await page.mouse.click(box.x + x, box.y + 28 + 60)
    return page.getByTestId('address').textContent()
  }
  await page.mouse.click(edge.x, head.y)
  expect([await at(36 + 80), await at(36 + 110)]).toEqual(['A3', 'B3'])
  // Two places one soon after the other are not one place twice.
  await expect(page.getByLabel('Cell entry')).toBeHidden()
  await page.mouse.dblclick(edge.x, head.y)
  await expect.poll(() => at(36 + 250)).toBe('A3')
  await inCells(page)
  await page.keyboard.press('Control+z')
  await expect.poll(() => at(36 + 110)).toBe('B3')
})
