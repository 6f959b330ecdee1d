// Texts and spreadsheets of the open standard: one from another program is opened, changed and saved as what it was; work
// becomes one.

import { odsOf } from '../core/formats/ods/testing'
import { odtOf } from '../core/formats/odt/testing'
import { openZip } from '../core/formats/opc/zip'
import { brought, newest } from './brought'
import { fileFor, goOnAfterLoss, writeNotice } from './flows'
import { expect, paper, reach, signIn, test } from './office'

const contentOf = (bytes: Uint8Array) => new TextDecoder().decode(openZip(bytes).read('content.xml'))
const stylesOf = (bytes: Uint8Array) => new TextDecoder().decode(openZip(bytes).read('styles.xml'))

/** A notice as another program writes it: a style of its own, a note, a bookmark, a head and a foot. */
const notice = Buffer.from(
  odtOf(
    '<text:h text:style-name="Heading_20_1" text:outline-level="1">Stoppage at Lock 5</text:h>' +
      '<text:p text:style-name="Notice">Boats <text:bookmark text:name="b"/>may pass on <text:span text:style-name="T1">Sundays</text:span><text:note text:note-class="footnote"><text:note-citation>1</text:note-citation><text:note-body><text:p>From eight to noon.</text:p></text:note-body></text:note>.</text:p>' +
      '<table:table table:name="Levels"><table:table-column table:number-columns-repeated="2"/><table:table-row><table:table-cell><text:p>LK05</text:p></table:table-cell><table:table-cell><text:p>1.38</text:p></table:table-cell></table:table-row></table:table>',
    {
      automatic:
        '<style:style style:name="T1" style:family="text"><style:text-properties fo:font-weight="bold" fo:letter-spacing="1pt"/></style:style>',
      styles:
        '<style:style style:name="Standard" style:family="paragraph"/><style:style style:name="Heading_20_1" style:family="paragraph" style:default-outline-level="1"/>' +
        '<style:style style:name="Notice" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:margin-left="40pt"/><style:text-properties fo:color="#884400"/></style:style>',
      layout:
        '<style:page-layout style:name="Pm"><style:page-layout-properties fo:page-width="21cm"/></style:page-layout>',
      masters:
        '<style:master-page style:name="Standard" style:page-layout-name="Pm"><style:footer><text:p>Page <text:page-number text:select-page="current">9</text:page-number></text:p></style:footer></style:master-page>',
    },
  ),
)

test('a text of another program is opened with all that it shows, and saved with nothing else touched', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Stoppage from elsewhere.odt', notice)
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(paper(page).locator('h1')).toHaveText('Stoppage at Lock 5')
  await expect(paper(page).locator('[data-style="Notice"]')).toHaveCSS('color', 'rgb(136, 68, 0)')
  await expect(paper(page).locator('td')).toHaveText(['LK05', '1.38'])
  await expect(page.getByRole('region', { name: 'Page footer' })).toContainText('Page 1')
  // All of it is shown: nothing is said to stay behind.
  await expect(page.getByText('These stay in the file when you save it')).toHaveCount(0)
  await paper(page).press('Control+Home')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('End')
  await page.keyboard.type(' Moor above the weir.')
  await expect(paper(page).locator('[data-style="Notice"]')).toContainText('. Moor above the weir.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const now = await newest(page, office, saved)
  expect(contentOf(now)).toBe(contentOf(notice).replace('.</text:p><table', '. Moor above the weir.</text:p><table'))
  expect(stylesOf(now)).toBe(stylesOf(notice))
  // The foot of its pages is written in where it is seen, by keys.
  await page.keyboard.press('Alt+k')
  await page.keyboard.type('footer')
  await page.keyboard.press('Enter')
  const foot = page.getByRole('textbox', { name: 'Page footer' })
  await expect(foot).toBeFocused()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(', Canal Trust')
  await expect(foot).toContainText(', Canal Trust')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 3')
  expect(stylesOf(await newest(page, office, saved))).toBe(
    stylesOf(notice).replace('</text:page-number></text:p>', '</text:page-number>, Canal Trust</text:p>'),
  )
})

test('work is filed as a text of the open standard, survives a lost page as one, and keeps its looks', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNotice(page, office.url)
  await fileFor(page, 'For other office', 'Towpath by the standard.odt')
  await goOnAfterLoss(page)
  const [{ id }] = (await office.query(
    "select head_version_id as id from entry where name = 'Towpath by the standard.odt'",
  )) as unknown as [{ id: string }]
  const bytes = await (await page.request.get(`${office.url}/api/versions/${id}/bytes`)).body()
  expect(contentOf(bytes)).toMatch(/>From <text:span text:style-name="J\d+">Monday on<\/text:span><\/text:p>/)
  expect(openZip(bytes).names[0]).toBe('mimetype')
})

/** Levels as another program writes them: a run of cells that is said once, a comment, a chart, a formula. */
const levels = Buffer.from(
  odsOf(
    '<table:table table:name="Levels"><table:table-column table:style-name="co" table:number-columns-repeated="3"/>' +
      '<table:table-row><table:table-cell table:style-name="ce" office:value-type="string"><office:annotation><text:p>From the log.</text:p></office:annotation><text:p>Lock</text:p></table:table-cell><table:table-cell office:value-type="string"><text:p>Level</text:p></table:table-cell></table:table-row>' +
      '<table:table-row table:number-rows-repeated="3"><table:table-cell office:value-type="float" office:value="1.5" table:number-columns-repeated="2"><text:p>1.5</text:p></table:table-cell></table:table-row>' +
      '<table:table-row><table:table-cell/><table:table-cell table:formula="of:=SUM([.B2:.B4])" office:value-type="float" office:value="4.5"><text:p>4.5</text:p></table:table-cell></table:table-row>' +
      '<table:shapes><draw:frame><draw:object xlink:href="./Object 1"/></draw:frame></table:shapes></table:table>',
    '<style:style style:name="co" style:family="table-column"><style:table-column-properties style:column-width="1in"/></style:style><style:style style:name="ce" style:family="table-cell" style:parent-style-name="Default"><style:text-properties fo:font-weight="bold"/></style:style>',
  ),
)

test('a spreadsheet of another program is calculated on, and saved with nothing else touched', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const saved = await brought(page, office, 'Levels from elsewhere.ods', levels)
  await page.goto(`${office.url}/open/${saved.file.id}`)
  const cell = (column: number, row: number) => page.getByTestId(`glide-cell-${column}-${row}`)
  await expect(cell(2, 4)).toHaveText('4.5')
  await expect(page.getByText('These stay in the file when you save it')).toContainText('1 chart')
  await page.getByTestId('grid').click({ position: { x: 120, y: 60 } })
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.type('4')
  await page.keyboard.press('Enter')
  await expect(cell(2, 4)).toHaveText('7')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const run =
    '<table:table-cell office:value-type="float" office:value="1.5" table:number-columns-repeated="2"><text:p>1.5</text:p></table:table-cell>'
  const value = (one: string) =>
    `<table:table-cell office:value-type="float" office:value="${one}"><text:p>${one}</text:p></table:table-cell>`
  const sum = (one: string) =>
    `office:value-type="float" office:value="${one}"><text:p>${one}</text:p></table:table-cell></table:table-row><table:shapes>`
  expect(contentOf(await newest(page, office, saved))).toBe(
    contentOf(levels)
      .replace(
        `<table:table-row table:number-rows-repeated="3">${run}</table:table-row>`,
        `<table:table-row>${run}</table:table-row><table:table-row>${value('1.5')}${value('4')}</table:table-row><table:table-row>${run}</table:table-row>`,
      )
      .replace(sum('4.5'), sum('7')),
  )
  // Its versions are told by what changed of its cells.
  await page.getByRole('button', { name: '2 versions' }).click()
  await expect(page.getByRole('list', { name: 'Versions' })).toContainText('1 cell changed')
})

test('a spreadsheet is filed as one of the open standard, and keeps its formulas', async ({ page, office }) => {
  await signIn(page, office.url)
  await page.goto(`${office.url}/new/spreadsheet`)
  await page.getByTestId('grid').click({ position: { x: 120, y: 60 } })
  await page.keyboard.press('Control+Home')
  for (const entry of ['3', '=A1*2']) {
    await page.keyboard.type(entry)
    await page.keyboard.press('Enter')
  }
  await expect(page.getByTestId('glide-cell-1-1')).toHaveText('6')
  await fileFor(page, 'For other office', 'Levels by the standard.ods')
  await expect(page.getByTestId('glide-cell-1-1')).toHaveText('6')
  const [{ id }] = (await office.query(
    "select head_version_id as id from entry where name = 'Levels by the standard.ods'",
  )) as unknown as [{ id: string }]
  const bytes = await (await page.request.get(`${office.url}/api/versions/${id}/bytes`)).body()
  expect(contentOf(bytes)).toContain(
    '<table:table-cell table:formula="of:=[.A1]*2" office:value-type="float" office:value="6"><text:p>6</text:p></table:table-cell>',
  )
})
