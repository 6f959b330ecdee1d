// How text looks, changed by keys alone; read by a program that knows nothing of this one (python-docx), opened again, undone.
import type { Page } from '@playwright/test'
import { fileOf, w } from '../core/formats/docx/testing'
import { brought, readBy } from './brought'
import { enterByKeys } from './flows'
import { expect, fileAs, paper, reach, signIn, test, writeNew } from './office'

const panel = (page: Page) => page.getByRole('region', { name: 'Look of the text' })
/** Font, size, colour and what is behind of each run, and the paragraph's space, as python-docx has them. */
const reader = `
import sys, json, docx
out = []
for paragraph in docx.Document(sys.argv[1]).paragraphs:
    before = paragraph.paragraph_format.space_before
    runs = [[run.text, run.font.name, run.font.size and run.font.size.pt, str(run.font.color.rgb) if run.font.color and run.font.color.rgb else None, bool(run.font.superscript)] for run in paragraph.runs]
    out.append([before and before.pt, runs])
print(json.dumps(out))
`

test('font, size, colour and space are chosen by keys, are in the file, and go again', async ({
  page,
  office,
}, info) => {
  await enterByKeys(page, office.url)
  await writeNew(page, office.url, 'Level of LK02')
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('Control+Shift+ArrowRight')
  await page.keyboard.press('Alt+l')
  await expect(panel(page).getByLabel('Font', { exact: true })).toBeFocused()
  await page.keyboard.type('Caladea')
  await page.keyboard.press('Tab')
  await page.keyboard.type('18')
  await page.keyboard.press('Enter')
  // What is selected is seen while the keys are elsewhere.
  await expect(page.locator('.selection-kept')).toHaveText(/^Level ?$/)
  await panel(page).getByRole('button', { name: 'Larger text' }).focus()
  await page.keyboard.press('Enter')
  await expect(panel(page).getByLabel('Size', { exact: true })).toHaveValue('19')
  await panel(page).getByRole('button', { name: 'Colour #a3402a' }).focus()
  await page.keyboard.press('Space')
  await expect(panel(page).getByRole('button', { name: 'Colour #a3402a' })).toHaveAttribute('aria-pressed', 'true')
  await panel(page).getByLabel('Space before', { exact: true }).focus()
  await page.keyboard.type('24')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(panel(page)).toBeHidden()
  await expect(paper(page)).toBeFocused()
  // What is written next has what is chosen for it.
  await page.keyboard.press('Control+End')
  await page.keyboard.press('Alt+l')
  await panel(page).getByRole('button', { name: 'Raised' }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await page.keyboard.type('2')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Looks of LK02')
  const read = () => readBy(reader, page, office, info, 'Looks of LK02.docx')
  const [[before, runs]] = await read()
  expect(before).toBe(24)
  expect(runs[0]).toEqual([expect.stringMatching(/^Level ?$/), 'Caladea', 19, 'A3402A', false])
  expect(runs.at(-1)).toEqual(['2', null, null, null, true])
  expect(runs.map(([text]: [string]) => text).join('')).toBe('Level of LK022')

  // Opened again it looks so; cleared by its key it is plain, and undone it looks so again.
  await page.reload()
  const level = paper(page).locator('span[style*="Caladea"]')
  await expect(level).toHaveText(/^Level ?$/)
  await paper(page).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Control+\\')
  await expect(level).toHaveCount(0)
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const [[space, plain]] = await read()
  expect(space).toBeNull()
  expect(plain.map(([text]: [string]) => text).join('')).toBe('Level of LK022')
  for (const [, ...traits] of plain) expect(traits).toEqual([null, null, null, false])
  await page.keyboard.press('Control+z')
  await expect(level).toHaveText(/^Level ?$/)
})

test('an address becomes a link as it is typed, and is text again when that is undone', async ({ page, office }) => {
  await enterByKeys(page, office.url)
  await writeNew(page, office.url, 'See www.tolls.example/lk02. Write to ida@tolls.example, or (http://weir.example) ')
  const links = paper(page).locator('a')
  await expect(links).toHaveText(['www.tolls.example/lk02', 'ida@tolls.example', 'http://weir.example'])
  const hrefs = await links.evaluateAll((all) => all.map((one) => one.getAttribute('href')))
  expect(hrefs).toEqual(['https://www.tolls.example/lk02', 'mailto:ida@tolls.example', 'http://weir.example'])
  await page.keyboard.press('Control+z')
  await expect(links).toHaveText(['www.tolls.example/lk02', 'ida@tolls.example'])
  await expect(paper(page)).toContainText('(http://weir.example)')
  await page.keyboard.type('and on')
  await expect(links).toHaveCount(2)
  await expect(paper(page)).toContainText('(http://weir.example) and on')
})

test('the page says the language that its file is written in, so that the browser spells in it', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const styles = `<w:styles xmlns:w="${w}"><w:docDefaults><w:rPrDefault><w:rPr><w:lang w:val="de-DE"/></w:rPr></w:rPrDefault></w:docDefaults></w:styles>`
  const bytes = fileOf('<w:p><w:r><w:t>Das Wehr ist dicht.</w:t></w:r></w:p>', { styles })
  const { file } = await brought(page, office, 'Brief ans Wehramt.docx', Buffer.from(bytes))
  await page.goto(`${office.url}/open/${file.id}`)
  await expect(paper(page)).toContainText('Das Wehr ist dicht.')
  await expect(paper(page)).toHaveAttribute('lang', 'de-DE')
  await expect(paper(page)).toHaveAttribute('spellcheck', 'true')
})
