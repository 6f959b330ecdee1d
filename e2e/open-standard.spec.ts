// Texts of the open standard: one from another program is opened, changed and saved as what it was; work becomes one.

import { odtOf } from '../core/formats/odt/testing'
import { openZip } from '../core/formats/opc/zip'
import { brought, newest } from './brought'
import { fileFor, writeNotice } from './flows'
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
  await expect(paper(page).locator('strong')).toHaveText('Monday')
  await paper(page).press('Control+End')
  await page.keyboard.type(' on')
  await expect(reach(page)).toContainText('is on this computer')
  await page.reload()
  await expect(paper(page).locator('strong')).toHaveText('Monday on')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const [{ id }] = (await office.query(
    "select head_version_id as id from entry where name = 'Towpath by the standard.odt'",
  )) as unknown as [{ id: string }]
  const bytes = await (await page.request.get(`${office.url}/api/versions/${id}/bytes`)).body()
  expect(contentOf(bytes)).toMatch(/>From <text:span text:style-name="J\d+">Monday on<\/text:span><\/text:p>/)
  expect(openZip(bytes).names[0]).toBe('mimetype')
})
