// The pages of the work beside it: drawn, set anew while it is written, saved as they are seen, and printed.
import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { beginSheet, enterByKeys } from './flows'
import { expect, fileAs, paper, test, writeNew } from './office'

const textOf = (file: string) => execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' })
const sizeOf = (file: string) => /Page size:\s+(.*)/.exec(execFileSync('pdfinfo', [file], { encoding: 'utf8' }))![1]
const beside = (page: Page) => page.getByRole('region', { name: 'On pages' })
const drawn = (page: Page) =>
  expect(beside(page).getByRole('img', { name: 'Page 1 of' })).toHaveAttribute('data-drawn', '1')
const settled = (page: Page) => expect(beside(page)).toHaveAttribute('aria-busy', 'false')
async function savedPdf(page: Page): Promise<string> {
  await settled(page)
  const save = beside(page).getByRole('button', { name: 'Save as PDF' })
  await expect(save).toBeEnabled()
  await save.focus()
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')])
  return download.path()
}
/**
 * Chooses by the keys: the first letters of what is wished for. Letters that come slowly are each a word of their own
 * to the browser, so what was chosen is looked at, as somebody would, and typed again where it is something else.
 */
async function choose(page: Page, label: string, words: string): Promise<void> {
  const field = beside(page).getByRole('combobox', { name: label, exact: true })
  await field.focus()
  await expect(async () => {
    await page.keyboard.type(words)
    const chosen = await field.evaluate((one) => (one as HTMLSelectElement).selectedOptions[0]?.label)
    expect(chosen?.slice(0, words.length)).toBe(words)
  }).toPass({ intervals: [1500] })
}

test('by keys alone the pages are looked at while they are written, and saved as a PDF', async ({ page, office }) => {
  await enterByKeys(page, office.url)
  await writeNew(page, office.url, 'The weir at LK02')
  await page.keyboard.press('ControlOrMeta+s')
  await fileAs(page, '2026-11-29_LK02_Inspection_Pages')
  await page.keyboard.press('Alt+p')
  await expect(beside(page)).toBeFocused()
  await drawn(page)
  await expect(beside(page).getByText('1 page on 1 leaf', { exact: true })).toBeVisible()
  const picture = () =>
    beside(page)
      .getByRole('img', { name: 'Page 1 of' })
      .evaluate((canvas) => (canvas as HTMLCanvasElement).toDataURL())
  const before = await picture()
  await page.keyboard.press('Escape')
  await expect(beside(page)).toBeHidden()
  await expect(paper(page)).toBeFocused()

  // Written on while they are open.
  await page.keyboard.press('Alt+p')
  await drawn(page)
  await paper(page).focus()
  await page.keyboard.press('ControlOrMeta+End')
  await page.keyboard.type(' was passed on Monday.')
  for (let line = 0; line < 60; line++) {
    await page.keyboard.press('Enter')
    await page.keyboard.type(String(line))
  }
  await expect(beside(page).getByText('2 pages on 2 leaves', { exact: true })).toBeVisible()
  await settled(page)
  await expect.poll(picture).not.toBe(before)
  expect(textOf(await savedPdf(page))).toMatch(/The weir at LK02 was passed on Monday\.[\s\S]*\f[\s\S]*59/)

  // What is looked for is found where it is, and gone to.
  await beside(page).getByRole('button', { name: 'Find on the pages' }).focus()
  await page.keyboard.press('Enter')
  await expect(beside(page).getByLabel('Find on the pages', { exact: true }).last()).toBeFocused()
  await page.keyboard.type('5')
  await expect(beside(page).getByText('1 of 16')).toBeVisible()
  await page.keyboard.press('Shift+Enter')
  await expect(beside(page).getByText('16 of 16')).toBeVisible()
  await expect(beside(page).locator('[data-page="2"] [data-hit="now"]')).toBeInViewport()
  await page.keyboard.press('Escape')
  await expect(beside(page).locator('[data-hit]')).toHaveCount(0)

  // An earlier version that is looked at is what is on the pages.
  await page.keyboard.press('ControlOrMeta+s')
  await expect(page.getByText(/Saved as version 2|This is version 2/).first()).toBeVisible()
  await page.getByRole('slider', { name: 'Lifeline' }).focus()
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByTestId('looking-bar').getByText('Version 1', { exact: true })).toBeVisible()
  await expect(beside(page).getByText('Version 1. 1 page on 1 leaf', { exact: true })).toBeVisible()
  expect(textOf(await savedPdf(page))).not.toContain('passed')
})

test('a sheet comes to paper as it is shown, and as somebody chooses', async ({ page, office }) => {
  await enterByKeys(page, office.url)
  await beginSheet(page, 'Lock')
  await page.keyboard.type('Gate')
  await page.keyboard.press('Tab')
  await page.keyboard.type('Level')
  await page.keyboard.press('Enter')
  await page.keyboard.type('LK07')
  await page.keyboard.press('Tab')
  await page.keyboard.type('=1.2+0.3')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Alt+p')
  await drawn(page)
  expect(textOf(await savedPdf(page))).toMatch(/Gate\s+Level\s+LK07\s+1\.5/)
  await beside(page).getByRole('button', { name: 'What is printed, and how' }).focus()
  await page.keyboard.press('Enter')
  await choose(page, 'Names of rows and columns', 'Wit')
  await choose(page, 'It lies', 'Wi')
  await choose(page, 'Size', 'A5')
  const file = await savedPdf(page)
  expect(textOf(file)).toMatch(/A\s+B\s+C\s+1\s+Lock\s+2\s+Gate\s+Level\s+3\s+LK07\s+1\.5/)
  expect(sizeOf(file)).toMatch(/595\.\d+ x 419\.\d+/)
  // What is selected alone.
  await beside(page).getByRole('checkbox', { name: 'Only what is selected' }).focus()
  await page.keyboard.press('Space')
  await expect.poll(async () => textOf(await savedPdf(page))).not.toContain('Lock')
  await beside(page).getByRole('checkbox', { name: 'Only what is selected' }).focus()
  await page.keyboard.press('Space')
  // What was chosen is kept for the next time, and a range that is none says so.
  await beside(page).getByLabel('Pages', { exact: true }).focus()
  await page.keyboard.type('4-5')
  await expect(beside(page).getByRole('alert')).toHaveText('There is no page 4-5: it has 1 page.')
  await expect(beside(page).getByRole('button', { name: 'Print', exact: true })).toBeDisabled()
})

// What it prints on is its own.
test.use({ apart: 'paper' })

test.describe('on the office’s printers', () => {
  test('two on a side, a booklet, both sides by hand, with a jam in between; and what was printed is known', async ({
    page,
    office,
  }) => {
    const printer = join(office.standIns, 'printer')
    const goesWrong = (faults: object) => writeFileSync(join(printer, 'faults.json'), JSON.stringify(faults))
    const out = (of = printer) =>
      readdirSync(join(of, 'printed'))
        .filter((name) => name.endsWith('.pdf'))
        .sort()
        .map((name) => join(of, 'printed', name))
    await enterByKeys(page, office.url)
    await writeNew(page, office.url, 'Gate 1')
    for (let at = 2; at <= 5; at++) {
      await page.keyboard.press('ControlOrMeta+Enter')
      await page.keyboard.type(`Gate ${at}`)
    }
    await page.keyboard.press('ControlOrMeta+s')
    await fileAs(page, '2026-11-29_LK05_Inspection_Printed')
    // Whoever prints has the keys on it.
    await page.keyboard.press('ControlOrMeta+p')
    const print = beside(page).getByRole('button', { name: 'Print', exact: true })
    await expect(print).toBeFocused()
    await expect(beside(page).getByText('5 pages on 5 leaves')).toBeVisible()
    await expect(beside(page).getByRole('combobox', { name: 'Printer', exact: true })).toHaveText(/Front office/)

    await beside(page).getByRole('button', { name: 'What is printed, and how' }).focus()
    await page.keyboard.press('Enter')
    await choose(page, 'Pages on a side', '2')
    await choose(page, 'Both sides', 'Both, turned at the s')
    await expect(beside(page).getByText('5 pages on 2 leaves')).toBeVisible()
    goesWrong({ jam: 1 })
    await print.focus()
    await page.keyboard.press('Enter')
    const jobs = beside(page).getByRole('list', { name: 'What is printed' })
    await expect(jobs.getByText(/Front office has stopped: 1 of 4 are printed\. Paper is jammed in it\./)).toBeVisible({
      timeout: 20_000,
    })
    goesWrong({})
    await expect(jobs.getByText(/Printed on Front office/)).toBeVisible({ timeout: 20_000 })
    const [two] = out()
    const sides = textOf(two!)
      .split('\f')
      .map((side) => (side.match(/Gate \d/g) ?? []).join())
    expect(sides.slice(0, 4)).toEqual(['Gate 1,Gate 2', 'Gate 3,Gate 4', 'Gate 5', ''])
    expect(JSON.parse(readFileSync(two!.replace('.pdf', '.json'), 'utf8'))).toMatchObject({
      sides: 'two-sided-short-edge',
      by: 'Ida Thornquist',
    })

    await choose(page, 'Pages on a side', 'Booklet')
    await expect(beside(page).getByText('5 pages on 2 leaves')).toBeVisible()
    // On the one that turns nothing: by hand.
    await choose(page, 'Printer', 'Store')
    await expect(print).toBeEnabled()
    await print.focus()
    await page.keyboard.press('Enter')
    const backs = jobs.getByRole('button', { name: 'Print the backs' })
    await expect(backs).toBeVisible({ timeout: 20_000 })
    await expect(jobs.getByText(/Put the stack back as it lies/)).toBeVisible()
    await backs.focus()
    await page.keyboard.press('Enter')
    await expect(backs).toBeHidden({ timeout: 20_000 })
    const small = join(office.standIns, 'small-printer')
    await expect.poll(() => out(small).length, { timeout: 20_000 }).toBe(2)
    const [fronts, turned] = out(small).map((file) =>
      textOf(file)
        .split('\f')
        .slice(0, 2)
        .map((side) => (side.match(/Gate \d/g) ?? []).join()),
    )
    // Two leaves of four: the last one lies on top.
    expect([fronts, turned]).toEqual([
      ['Gate 1', 'Gate 3'],
      ['Gate 4,Gate 5', 'Gate 2'],
    ])
    await page.keyboard.press('Escape')
    await page.keyboard.press('Alt+v')
    await page.getByRole('button', { name: 'What was printed' }).click()
    const known = page.getByRole('dialog', { name: 'What was printed' })
    await expect(known.getByRole('listitem')).toHaveCount(3)
    await expect(known.getByText(/version 1, 5 pages/).first()).toBeVisible()
  })
})
