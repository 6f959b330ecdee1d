// The pages of a document beside the work: drawn, set anew while it is written, and saved as they are seen.
import { execFileSync } from 'node:child_process'
import { enterByKeys } from './flows'
import { expect, fileAs, paper, test, writeNew } from './office'

test('by keys alone the pages are looked at while they are written, and saved as a PDF', async ({ page, office }) => {
  test.setTimeout(120_000)
  await enterByKeys(page, office.url)
  await writeNew(page, office.url, 'The weir at LK02')
  await page.keyboard.press('ControlOrMeta+s')
  await fileAs(page, '2026-11-29_LK02_Inspection_Pages')
  await page.keyboard.press('Alt+p')
  const beside = page.getByRole('region', { name: 'On pages' })
  await expect(beside).toBeFocused()
  await expect(beside.getByRole('img', { name: 'Page 1 of 1' })).toHaveAttribute('data-drawn', '1')
  await expect(beside.getByText('1 page', { exact: true })).toBeVisible()
  const drawn = () =>
    beside.getByRole('img', { name: 'Page 1 of' }).evaluate((canvas) => (canvas as HTMLCanvasElement).toDataURL())
  const before = await drawn()
  await page.keyboard.press('Escape')
  await expect(beside).toBeHidden()
  await expect(paper(page)).toBeFocused()

  // Written on while they are open.
  await page.keyboard.press('Alt+p')
  await expect(beside.getByRole('img', { name: 'Page 1 of 1' })).toHaveAttribute('data-drawn', '1')
  await paper(page).focus()
  await page.keyboard.press('ControlOrMeta+End')
  await page.keyboard.type(' was passed on Monday.')
  for (let line = 0; line < 60; line++) {
    await page.keyboard.press('Enter')
    await page.keyboard.type(String(line))
  }
  await expect(beside.getByText('2 pages', { exact: true })).toBeVisible()
  await expect(beside).toHaveAttribute('aria-busy', 'false')
  await expect.poll(drawn).not.toBe(before)
  const save = beside.getByRole('button', { name: 'Save as PDF' })
  await save.focus()
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')])
  expect(download.suggestedFilename()).toBe('2026-11-29_LK02_Inspection_Pages.pdf')
  const text = execFileSync('pdftotext', ['-layout', await download.path(), '-'], { encoding: 'utf8' })
  expect(text).toMatch(/The weir at LK02 was passed on Monday\.[\s\S]*\f[\s\S]*59/)
})
