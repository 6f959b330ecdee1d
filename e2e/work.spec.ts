import { createHash, randomBytes } from 'node:crypto'
import { writeDocx } from '../core/formats/docx/write'
import { doc, h, p } from '../server/demo/papers'
import { expect, fileAs, kept, paper, reach, signIn, test, writeNew } from './office'

test('a document: written, filed once, saved silently after that, looked back at and restored', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Water is low at LK03.')
  await expect(page.locator('header')).toContainText(/Document begun at \d\d:\d\d/)
  await kept(page)
  await page.keyboard.press('Control+s')
  const name = page.getByRole('textbox', { name: 'Name' })
  await expect(name).toHaveValue(/^\d{4}-\d\d-\d\d_Water-is-low-at-LK03$/)
  expect(
    await name.evaluate((field: HTMLInputElement) => field.value.slice(field.selectionStart!, field.selectionEnd!)),
  ).toBe(await name.inputValue())
  await fileAs(page, '2026-11-24_LK03_Notice_Low-water')
  await expect(page).toHaveURL(/\/open\//)

  await paper(page).press('Control+End')
  await page.keyboard.type(' Boats may wait.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect(page.getByRole('form', { name: 'Filing slip' })).toBeHidden()

  await page.getByRole('button', { name: /2 versions/ }).click()
  await page.getByRole('button', { name: /^Version 1 / }).click()
  await expect(page.getByTestId('earlier-version')).toContainText('Water is low at LK03.')
  await expect(page.getByTestId('earlier-version')).not.toContainText('Boats may wait.')
  await expect(page.getByText(/Since then: 3 words added/)).toBeVisible()
  await page.keyboard.press('Control+s')
  await page.getByRole('button', { name: 'Bring back' }).click()
  await page.getByRole('menuitem', { name: 'The whole file, as a new version' }).click()
  await page.getByRole('button', { name: 'Restore as version 3' }).click()
  await expect(page.getByRole('button', { name: /3 versions/ })).toBeVisible()
  await expect(paper(page)).toHaveText('Water is low at LK03.')
})

test('the page holds headings, lists, tables, marks and page breaks, and a reload brings them back from the file', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, '# Gate paddles\n- upper\nlower\n\n')
  await page.keyboard.press('Control+b')
  await page.keyboard.type('Strong')
  await page.keyboard.press('Control+b')
  await page.getByRole('button', { name: 'Insert table' }).click()
  await expect(page.getByRole('textbox', { name: 'Columns' })).toBeFocused()
  await page.keyboard.type('4')
  await page.keyboard.press('Tab')
  await page.keyboard.type('2')
  await page.keyboard.press('Enter')
  await expect(paper(page)).toBeFocused()
  await expect(paper(page).locator('tr')).toHaveCount(2)
  await expect(paper(page).locator('td')).toHaveCount(8)
  await page.keyboard.type('Work')
  await page.keyboard.press('Tab')
  await page.keyboard.type('By')
  await page.keyboard.press('Control+Enter')
  await page.keyboard.type('> after the break')
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+y')
  const html = await paper(page).innerHTML()
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Everything on a page')
  await page.reload()
  await expect(paper(page).locator('td').first()).toHaveText('Work')
  expect((await paper(page).innerHTML()).replace(/ class="ProseMirror-[^"]*"/g, '')).toBe(
    html.replace(/ class="ProseMirror-[^"]*"/g, ''),
  )
  await page.keyboard.press('Control+f')
  await page.getByRole('textbox', { name: 'Find', exact: true }).fill('er')
  await expect(page.getByRole('search')).toContainText('3 found')
  await page.getByRole('textbox', { name: 'Replace with' }).fill('ER')
  await page.getByRole('button', { name: 'Replace all' }).click()
  await expect(paper(page)).toContainText('uppER')
})

test('a document takes links, images, alignment and nested lists by its tools, and gives them back', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Minutes')
  await page.keyboard.press('Control+a')
  await page.getByRole('button', { name: 'Link', exact: true }).click()
  const address = page.getByRole('textbox', { name: 'Address' })
  await address.fill('not an address')
  await expect(page.getByText('Use a web address')).toBeVisible()
  await address.fill('example.org/minutes')
  await page.keyboard.press('Enter')
  await expect(paper(page).locator('a')).toHaveAttribute('href', 'https://example.org/minutes')
  await page.getByRole('button', { name: /^Alignment/ }).click()
  await page.getByRole('menuitem', { name: 'Centre' }).click()
  await page.keyboard.press('End')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Numbers' }).click()
  await page.keyboard.type('first')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Tab')
  await page.keyboard.type('inside')
  await page.keyboard.press('Enter')
  // A red dot, as any drawing program would write it.
  const dot = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==',
    'base64',
  )
  await page.getByLabel('Choose an image').setInputFiles({ name: 'Gauge.png', mimeType: 'image/png', buffer: dot })
  await expect(paper(page).locator('img[src]')).toHaveAttribute('alt', 'Gauge')
  await page
    .getByLabel('Choose an image')
    .setInputFiles({ name: 'Plan.svg', mimeType: 'image/svg+xml', buffer: Buffer.from('<svg/>') })
  await expect(page.getByText('Plan.svg is not a PNG, JPEG or GIF, so it cannot be put into a document.')).toBeVisible()
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Links and images')
  await page.reload()
  await expect(paper(page).locator('p a')).toHaveText('Minutes')
  await expect(paper(page).locator('p').first()).toHaveCSS('text-align', 'center')
  await expect(paper(page).locator('ol ol li').first()).toHaveText('inside')
  await expect(paper(page).locator('img[src]')).toHaveAttribute('src', /^data:image\/png;base64,/)
})

test('a spreadsheet: entries, formulas, rows, sheets, undo; saved and opened again', async ({ page, office }) => {
  await signIn(page, office.url, 'Ben Marlowe')
  await page.goto(`${office.url}/new/spreadsheet`)
  const grid = page.getByTestId('grid')
  const entry = page.getByRole('textbox', { name: /^Entry of/ })
  const cell = (row: number, column: number) => page.getByTestId(`glide-cell-${column + 1}-${row}`)
  await expect(grid.locator('canvas').first()).toBeAttached()
  await expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
  for (const value of ['12', '30', '=SUM(A1:A2)', '=A3*2']) {
    await page.keyboard.type(value)
    await page.keyboard.press('Enter')
  }
  await expect(cell(3, 0)).toHaveText('84')
  await page.keyboard.press('Control+Home')
  await page.getByRole('button', { name: 'Rows', exact: true }).click()
  await page.getByRole('menuitem', { name: /Insert a row above/ }).click()
  await expect(cell(4, 0)).toHaveText('84')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(cell(3, 0)).toHaveText('84')
  await expect(cell(4, 0)).toHaveText('')
  await page.getByRole('button', { name: 'Add a sheet' }).click()
  await expect(page.getByRole('tab', { name: 'Sheet 2' })).toHaveAttribute('aria-selected', 'true')
  await expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
  await page.keyboard.type("='Sheet 1'!A4+1")
  await page.keyboard.press('Enter')
  await expect(cell(0, 0)).toHaveText('85')
  // An entry still in its field is saved with the rest.
  await page.keyboard.type('LK07')
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-24_Lockages')
  await page.reload()
  await page.getByRole('tab', { name: 'Sheet 2' }).click()
  await expect(cell(0, 0)).toHaveText('85')
  await expect(cell(1, 0)).toHaveText('LK07')
  await page.keyboard.press('ArrowUp')
  await expect(entry).toHaveValue("='Sheet 1'!A4+1")
})

test('a spreadsheet: sorted, filled, sheets renamed, moved and removed; an earlier version looked at in place', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Ben Marlowe')
  await page.goto(`${office.url}/new/spreadsheet`)
  const cell = (row: number, column: number) => page.getByTestId(`glide-cell-${column + 1}-${row}`)
  const inGrid = () =>
    expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
  await inGrid()
  for (const value of ['Lock', 'LK10', 'LK2', 'LK7']) {
    await page.keyboard.type(value)
    await page.keyboard.press('Enter')
  }
  await page.keyboard.press('ArrowUp')
  await page.getByRole('button', { name: 'Sort by column A, smallest first' }).click()
  await expect(cell(1, 0)).toHaveText('LK2')
  await expect(cell(3, 0)).toHaveText('LK10')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Sorted')

  await page.getByRole('button', { name: 'Add a sheet' }).click()
  // The new sheet is there, and empty, before anybody types into it.
  await expect(page.getByRole('tab', { name: 'Sheet 2' })).toHaveAttribute('aria-selected', 'true')
  await expect(cell(1, 0)).toHaveText('')
  await inGrid()
  await page.keyboard.type('7%')
  await page.keyboard.press('Enter')
  await expect(cell(0, 0)).toHaveText('7%')
  await page.getByRole('button', { name: 'More for sheet Sheet 2' }).click()
  await page.getByRole('menuitem', { name: 'Rename' }).click()
  const name = page.getByRole('textbox', { name: 'Name' })
  await name.fill('Sheet 1')
  await expect(page.getByText('Another sheet has this name.')).toBeVisible()
  await name.fill('Shares')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'More for sheet Shares' }).click()
  await page.getByRole('menuitem', { name: 'Move to the left' }).click()
  await expect(page.getByRole('tab')).toHaveText(['Shares', 'Sheet 1'])
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await page.getByRole('tab', { name: 'Shares' }).click()
  await page.getByRole('button', { name: 'More for sheet Shares' }).click()
  await page.getByRole('menuitem', { name: /Remove/ }).click()
  await expect(page.getByRole('tab')).toHaveText(['Sheet 1'])
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('tab')).toHaveText(['Shares', 'Sheet 1'])

  await page.getByRole('button', { name: /2 versions/ }).click()
  await page.getByRole('button', { name: /^Version 1 / }).click()
  await expect(page.getByRole('tab')).toHaveText(['Sheet 1'])
  await expect(page.getByRole('toolbar', { name: 'Spreadsheet tools' })).toBeHidden()
  await page.getByRole('button', { name: 'Back to now' }).click()
  await expect(page.getByRole('tab')).toHaveText(['Shares', 'Sheet 1'])
})

test('cells are copied to other programs as text and pasted back as cells', async ({ page, context, office }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await signIn(page, office.url, 'Ben Marlowe')
  await page.goto(`${office.url}/new/spreadsheet`)
  const cell = (row: number, column: number) => page.getByTestId(`glide-cell-${column + 1}-${row}`)
  await expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
  await page.evaluate(() => navigator.clipboard.writeText('1\t2\n3\t4'))
  await page.keyboard.press('Control+v')
  await expect(cell(1, 1)).toHaveText('4')
  for (const key of ['ArrowRight', 'ArrowRight']) await page.keyboard.press(key)
  await page.keyboard.type('=A1+B1')
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowUp')
  await expect(cell(0, 2)).toHaveText('3')
  await page.keyboard.press('Control+c')
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toBe('3')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Control+v')
  await expect(cell(1, 2)).toHaveText('7')
})

test('files are brought in, several at once, and come back byte for byte; a taken name is offered another', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/files`)
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /Waterways/ })
    .click()
  const bytes = [randomBytes(300_000), Buffer.from('LK07;1.43\r\n'), Buffer.alloc(21_000_000)]
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in files' }).click()
  await (await chooser).setFiles(
    [
      { name: 'Survey.tiff', mimeType: 'image/tiff', buffer: bytes[0]! },
      { name: 'Levels: autumn.csv', mimeType: 'text/csv', buffer: bytes[1]! },
      { name: 'Huge.bin', mimeType: 'application/octet-stream', buffer: bytes[2]! },
      { name: 'Plan of the weir.docx', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.7 not a document') },
    ],
    { timeout: 60_000 },
  )
  const list = page.getByRole('region', { name: 'Files being brought in' })
  await expect(list).toContainText('It is 21 MB; files up to 20 MB can be kept here.')
  await list.getByRole('button', { name: 'Use Levels- autumn.csv' }).click()
  await expect(list).toContainText('The content is pdf, but the name ends in .docx. Programs go by the ending.')
  await list.getByRole('button', { name: 'Use Plan of the weir.pdf' }).click()
  await expect(list).toContainText('3 of 4 files brought in')
  await expect(page.getByRole('link', { name: 'Levels- autumn.csv', exact: true })).toBeVisible()
  const download = page.waitForEvent('download')
  // Rows move while what was brought in is told of; whoever points at one follows it.
  await expect(async () => {
    await page.getByRole('link', { name: 'Survey.tiff', exact: true }).hover()
    await page.getByRole('link', { name: 'Download Survey.tiff' }).click({ timeout: 1000 })
  }).toPass()
  const chunks: Buffer[] = []
  for await (const chunk of await (await download).createReadStream()) chunks.push(chunk)
  const sum = (buffer: Buffer) => createHash('sha256').update(buffer).digest('hex')
  expect(sum(Buffer.concat(chunks))).toBe(sum(bytes[0]!))
  await page.getByRole('link', { name: 'Survey.tiff', exact: true }).click()
  await expect(page.getByText('does not edit them')).toBeVisible()
})

test('a damaged file is kept and not opened; one that holds more keeps it, and says what would go with what is removed', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/files`)
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /Waterways/ })
    .click()
  const good = Buffer.from(writeDocx(doc(h(1, 'Gate paddles'), p('Sound.'))))
  const broken = good.subarray(0, good.length - 100)
  // The same file with a field in it, stored anew.
  const { unzipSync, zipSync, strFromU8, strToU8 } = await import('fflate')
  const parts = unzipSync(good)
  parts['word/document.xml'] = strToU8(
    strFromU8(parts['word/document.xml']!).replace(
      'Sound.</w:t></w:r>',
      'Sound.</w:t></w:r><w:fldSimple w:instr=" DATE "/>',
    ),
  )
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in files' }).click()
  await (await chooser).setFiles([
    { name: 'Broken.docx', mimeType: 'application/octet-stream', buffer: broken },
    { name: 'Field.docx', mimeType: 'application/octet-stream', buffer: Buffer.from(zipSync(parts)) },
  ])
  await expect(page.getByText('2 of 2 files brought in')).toBeVisible()
  const folder = page.url()
  await page.getByRole('link', { name: 'Broken.docx', exact: true }).click()
  await expect(page.getByText(/This file is damaged: .* It is kept as it is; you can download it\./)).toBeVisible()
  await page.goto(folder)
  await page.getByRole('link', { name: 'Field.docx', exact: true }).click()
  // What is not shown is told, and stays in the file.
  await expect(
    page.getByText(/These stay in the file .*1 field \(its last result stays\) \(near ‹Gate paddles›\)/),
  ).toBeVisible()
  await paper(page).press('Control+End')
  await page.keyboard.type(' Repaired.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const newest = async () => {
    const [row] = await office.query(
      "select v.id from version v join entry e on e.id = v.file_id where e.name = 'Field.docx' order by v.number desc limit 1",
    )
    return unzipSync(
      new Uint8Array(await (await page.request.get(`${office.url}/api/versions/${row!.id}/bytes`)).body()),
    )
  }
  const second = await newest()
  expect(strFromU8(second['word/document.xml']!)).toContain(
    'Sound. Repaired.</w:t></w:r><w:fldSimple w:instr=" DATE "/>',
  )
  for (const name of Object.keys(parts)) if (name !== 'word/document.xml') expect(second[name]).toEqual(parts[name])
  // Removed with its paragraph it is told by name before the next version is without it.
  await page.keyboard.press('Shift+Home')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Control+s')
  await expect(page.getByRole('dialog')).toContainText('Version 3 would lose these')
  await expect(page.getByRole('dialog')).toContainText('1 field')
  await page.getByRole('button', { name: 'Save as a separate file' }).click()
  await fileAs(page, 'Without field')
  const [facts] = await office.query(
    "select count(*)::int as n from version v join entry e on e.id = v.file_id where e.name = 'Field.docx'",
  )
  expect(facts).toEqual({ n: 2 })
})

test('a name that is taken or forbidden is told while it is typed, with one click to a good one', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/files`)
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /Office/ })
    .click()
  await page.getByRole('button', { name: 'New document' }).click()
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('Names')
  await page.keyboard.press('Control+s')
  const name = page.getByRole('textbox', { name: 'Name' })
  await name.fill('Levels 10:14')
  await expect(page.getByText('This name has a colon ( : )')).toBeVisible()
  await expect(name).toHaveAttribute('aria-invalid', 'true')
  await page.getByRole('button', { name: 'Use Levels 10-14.docx' }).click()
  await expect(name).toHaveValue('Levels 10-14')
  await name.fill('how FILES are named')
  await page.getByRole('button', { name: 'Save as how FILES are named 2.docx' }).click()
  await expect(reach(page)).toContainText('Saved as version 1')
})

test('two people write at the end of one file: both are kept, and nothing is overwritten', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Base.')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Two people')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  await other.goto(page.url())
  await paper(page).press('Control+End')
  await page.keyboard.type(' From Ida.')
  await paper(other).press('Control+End')
  await other.keyboard.type(' From Ben.')
  await other.keyboard.press('Control+s')
  await expect(reach(other)).toContainText('Saved as version 2')
  // Both wrote in one place: it waits for a person.
  await expect(page.getByText('Ben Marlowe saved version 2')).toBeVisible()
  await expect(paper(page)).toHaveText('Base. From Ida.')
  await page.keyboard.press('Control+s')
  await page.getByTestId('choices').getByRole('button', { name: 'Keep both' }).click()
  await expect(paper(page)).toHaveText('Base. From Ida. From Ben.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 3')
  await page.getByRole('button', { name: /3 versions/ }).click()
  await page.getByRole('button', { name: /^Version 2 .*Ben/ }).click()
  await expect(page.getByTestId('earlier-version')).toHaveText('Base. From Ben.')
  await other.context().close()
})

test('a viewer reads and cannot write', async ({ page, office }) => {
  await signIn(page, office.url, 'Tomas Wether')
  await page.keyboard.press('Alt+f')
  await expect(page.getByRole('combobox', { name: 'Find files' })).toBeFocused()
  await page.keyboard.type('how files are named')
  // Others of this office may have brought one that is called alike.
  await page
    .getByRole('grid', { name: 'Found files' })
    .getByRole('link', { name: 'How files are named.docx', exact: true })
    .click()
  await expect(page.getByText('You may look at this file, not change it.')).toBeVisible()
  await expect(page.getByRole('textbox', { name: 'Document, read only' })).toHaveAttribute('contenteditable', 'false')
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled()
})

test('the palette lists every action and reaches every view by keyboard alone', async ({ page, office }) => {
  await signIn(page, office.url)
  for (const [typed, heading] of [
    ['rescue', 'Rescue'],
    ['settings', 'Settings'],
  ] as const) {
    await page.keyboard.press('Alt+k')
    await page.keyboard.type(typed)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('heading', { name: heading, level: 1 })).toBeVisible()
  }
  await page.keyboard.press('Alt+n')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.press('Alt+k')
  await expect(page.getByRole('option', { name: /^Save as a separate file/ })).toBeVisible()
})
