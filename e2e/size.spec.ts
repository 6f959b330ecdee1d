// How large work is shown on the screen, by keys and by the pointer: what is meant by a place on it stays what is there,
// and the file knows nothing of it.
import { cell, newest } from './brought'
import { beginSheet, command, enterByKeys } from './flows'
import { expect, fileAs, paper, reach, signIn, test, writeNew } from './office'

test('a sheet is larger by keys: what is clicked, typed and dragged is where it is seen; its file has the widths', async ({
  page,
  browser,
  office,
}) => {
  await enterByKeys(page, office.url)
  await beginSheet(page)
  for (const text of ['Lock', 'LK07', 'LK09', 'Weir']) {
    await page.keyboard.type(text)
    await page.keyboard.press('Enter')
  }
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Sizes')
  await expect(reach(page)).toContainText('Saved as version 1')
  const size = (share: string) => page.getByRole('button', { name: `Size on screen: ${share}` })
  await expect(size('100%')).toBeVisible()
  await page.keyboard.press('Control+Home')
  for (const share of ['110%', '125%', '150%']) {
    await page.keyboard.press('Alt++')
    await expect(size(share)).toBeVisible()
  }
  const grid = page.getByTestId('grid')
  // A head of 42 pixels, rows of 39, numbers of 54 and columns of 144: in the middle of B3, and of A4.
  await grid.click({ position: { x: 54 + 144 + 72, y: 42 + 2.5 * 39 } })
  await page.keyboard.type('1.5')
  const field = page.getByRole('textbox', { name: 'Cell entry' })
  const box = (await field.boundingBox())!
  const at = (await grid.boundingBox())!
  expect(Math.abs(box.x - at.x - 54 - 144)).toBeLessThan(3)
  expect(Math.abs(box.y - at.y - 42 - 2 * 39)).toBeLessThan(3)
  await expect(field).toHaveCSS('font-size', '21px')
  await page.keyboard.press('Enter')
  await expect(cell(page, 2, 2)).toHaveText('1.5')
  await grid.click({ position: { x: 54 + 72, y: 42 + 3.5 * 39 } })
  await page.keyboard.type('Weir gauge')
  await page.keyboard.press('Enter')
  await expect(cell(page, 1, 3)).toHaveText('Weir gauge')
  // The edge behind A is drawn 75 pixels to the right, which are 50 of the file's.
  const edge = { x: at.x + 54 + 144 - 1, y: at.y + 20 }
  await page.mouse.move(edge.x, edge.y)
  await page.mouse.down()
  for (const x of [10, 40, 75]) await page.mouse.move(edge.x + x, edge.y)
  await page.mouse.up()
  await grid.click({ position: { x: 54 + 144 + 75 + 72, y: 42 + 1.5 * 39 } })
  await page.keyboard.type('2')
  await page.keyboard.press('Enter')
  await expect(cell(page, 2, 1)).toHaveText('2')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  // Opened again it is as large as it was left; for somebody else it is as wide as it was made.
  await page.reload()
  await expect(size('150%')).toBeVisible()
  await command(page, 'Show it in its usual size')
  await expect(size('100%')).toBeVisible()
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  await other.goto(page.url())
  await expect(other.getByRole('button', { name: 'Size on screen: 100%' })).toBeVisible()
  await other.getByTestId('grid').click({ position: { x: 36 + 146 + 48, y: 28 + 3.5 * 26 } })
  await other.keyboard.type('3')
  await other.keyboard.press('Enter')
  await expect(cell(other, 2, 3)).toHaveText('3')
  await other.context().close()
})

test('a text is larger by the menu; a click goes to the letter that is seen, lines stay in the window, its file is the same', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The lower gate of LK07 leaks at the mitre.')
  await page.keyboard.press('Enter')
  await page.keyboard.type(`Paddles ${'are stiff and '.repeat(12)}dry.`)
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-23_LK07_Letter_Sizes')
  const fileId = /[0-9a-f-]{36}$/.exec(page.url())![0]
  const before = await newest(page, office, { file: { id: fileId } } as never)
  const words = async () => (await page.getByTestId('pages-now').textContent())!
  await expect.poll(words).toContain('Page 1 of 1')
  const said = await words()
  await page.getByRole('button', { name: 'Size on screen: 100%' }).click()
  await page.getByRole('menuitem', { name: '200%' }).click()
  await expect(page.getByRole('button', { name: 'Size on screen: 200%' })).toBeVisible()
  // The keys are in the text again.
  await expect(paper(page)).toBeFocused()
  const first = paper(page).locator('p').first()
  await expect.poll(async () => (await first.boundingBox())!.height).toBeGreaterThan(40)
  const [window, room] = await page
    .getByTestId('page-scroller')
    .evaluate((scroller) => [scroller.clientWidth, scroller.scrollWidth])
  expect(room).toBeLessThanOrEqual(window!)
  expect(await words()).toBe(said)
  // In front of the word that is seen there.
  const word = await first.evaluate((p) => {
    const range = document.createRange()
    range.setStart(p.firstChild!, 'The lower gate of '.length)
    range.setEnd(p.firstChild!, 'The lower gate of LK07'.length)
    const { x, y, height } = range.getBoundingClientRect()
    return { x, y: y + height / 2 }
  })
  await page.mouse.click(word.x + 1, word.y)
  await page.keyboard.type('lock ')
  await expect(first).toHaveText('The lower gate of lock LK07 leaks at the mitre.')
  await page.keyboard.press('Control+z')
  await expect(first).toHaveText('The lower gate of LK07 leaks at the mitre.')
  await page.keyboard.press('Alt+0')
  await expect(page.getByRole('button', { name: 'Size on screen: 100%' })).toBeVisible()
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version')
  const after = await newest(page, office, { file: { id: fileId } } as never)
  expect(after.equals(before)).toBe(true)
})
