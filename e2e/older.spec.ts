// A spreadsheet of an older program is opened, changed, and saved as what it was and as what it could be.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { brought, newest } from './brought'
import { expect, reach, signIn, test } from './office'

/** Debian's Python, whose modules know nothing of this program. */
function python(
  code: string,
  ...files: [name: string, bytes: Buffer][]
): { out: string; file: (name: string) => Buffer; end: () => void } {
  const folder = mkdtempSync(join(tmpdir(), 'jaula-older-'))
  for (const [name, bytes] of files) writeFileSync(join(folder, name), bytes)
  const out = execFileSync('/usr/bin/python3', ['-c', code], { cwd: folder, encoding: 'utf8' })
  return {
    out,
    file: (name) => readFileSync(join(folder, name)),
    end: () => rmSync(folder, { recursive: true, force: true }),
  }
}
/** What a program of the type's own time reads of cells. */
function readOld(bytes: Buffer, code: string): unknown {
  const run = python(
    `import xlrd, json
w = xlrd.open_workbook('f.xls', formatting_info=True); s = w.sheet_by_index(0)
print(json.dumps(${code}))`,
    ['f.xls', bytes],
  )
  run.end()
  return JSON.parse(run.out)
}
function tolls(): Buffer {
  const made = python(`
import xlwt
w = xlwt.Workbook(); s = w.add_sheet('Tolls'); t = w.add_sheet('Notes')
head = xlwt.easyxf('font: bold on; borders: bottom medium; align: horiz center')
s.write_merge(0, 0, 0, 2, 'Tolls of the canal', head)
for n, (lock, toll) in enumerate([('LK01', 120.5), ('LK02', 80), ('LK03', 95.25)], 1):
    s.write(n, 0, lock); s.write(n, 1, toll, xlwt.easyxf(num_format_str='#,##0.00')); s.write(n, 2, xlwt.Formula('B%d*2' % (n + 1)))
s.write(4, 1, xlwt.Formula('SUM(B2:B4)'))
s.col(0).width = 256 * 18
t.write(0, 0, 'Kept by hand since 1999')
w.save('tolls.xls')`)
  const bytes = made.file('tolls.xls')
  made.end()
  return bytes
}
const whatFor = (page: Page) => page.getByRole('combobox', { name: 'What is it for?' })
const losses = (page: Page) => page.getByTestId('losses')

test('an old spreadsheet is changed and stays what it is; as one of today it keeps its looks', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Tolls from before.xls', tolls())
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(page.getByTestId('glide-cell-1-0')).toHaveText('Tolls of the canal')
  await expect(page.getByTestId('glide-cell-2-4')).toHaveText('295.75')
  await page.getByTestId('grid').click({ position: { x: 120, y: 60 } })
  await page.keyboard.press('Control+Home')
  for (const key of ['ArrowDown', 'ArrowRight']) await page.keyboard.press(key)
  await page.keyboard.type('200')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('glide-cell-2-4')).toHaveText('375.25')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const bytes = await newest(page, office, saved)
  expect(
    readOld(
      bytes,
      '[s.cell_value(1, 1), s.cell_value(1, 2), s.cell_value(4, 1), s.merged_cells, w.xf_list[s.cell_xf_index(0, 0)].border.bottom_line_style, w.sheet_by_index(1).cell_value(0, 0)]',
    ),
  ).toEqual([200, 400, 375.25, [[0, 1, 0, 3]], 2, 'Kept by hand since 1999'])

  // As one of today, in a file of its own.
  await page.keyboard.press('Control+Shift+S')
  await whatFor(page).focus()
  await page.keyboard.type('To go on')
  await expect(losses(page).getByRole('listitem')).toHaveText([/^4 page headers and footers/])
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Tolls of today')
  await expect(page.getByTestId('full-path')).toContainText('Tolls of today.xlsx')
  await page.keyboard.press('Enter')
  await expect(page.locator('header')).toContainText('Tolls of today.xlsx')
  const [{ id }] = (await office.query(
    "select head_version_id as id from entry where name = 'Tolls of today.xlsx'",
  )) as unknown as [{ id: string }]
  const today = Buffer.from(await (await page.request.get(`${office.url}/api/versions/${id}/bytes`)).body())
  const run = python(
    `import openpyxl, json
w = openpyxl.load_workbook('f.xlsx'); s = w['Tolls']
print(json.dumps([s['B2'].value, s['C2'].value, str(list(s.merged_cells.ranges)[0]), s['A1'].border.bottom.style, s['A1'].font.b, s['B2'].number_format]))`,
    ['f.xlsx', today],
  )
  run.end()
  expect(JSON.parse(run.out)).toEqual([200, '=B2*2', 'A1:C1', 'medium', true, '#,##0.00'])
})

test('new cells are filed for an older program; what it cannot hold is told while they are', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/new/spreadsheet`)
  await page.getByTestId('grid').click({ position: { x: 120, y: 60 } })
  await page.keyboard.press('Control+Home')
  await page.keyboard.type('12')
  await page.keyboard.press('Enter')
  await page.keyboard.type('=A1+XFD1')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await whatFor(page).focus()
  await page.keyboard.type('For an older')
  await expect(losses(page).getByRole('listitem')).toHaveText([/^1 formula \(its result stays\)/])
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Sum for the old machine')
  await expect(page.getByTestId('full-path')).toContainText('Sum for the old machine.xls')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('This is version 1')
  await expect(page.locator('header')).toContainText('Sum for the old machine.xls')
  const [{ id }] = (await office.query(
    "select head_version_id as id from entry where name = 'Sum for the old machine.xls'",
  )) as unknown as [{ id: string }]
  const bytes = Buffer.from(await (await page.request.get(`${office.url}/api/versions/${id}/bytes`)).body())
  expect(readOld(bytes, '[s.cell_value(0, 0), s.cell_value(1, 0)]')).toEqual([12, 12])
})
