// A picture by keys: put in, described, made smaller; saved and read by another program; compared in words.

import { readBy } from './brought'
import { command } from './flows'
import { expect, fileAs, kept, paper, signIn, test, writeNew } from './office'

test.use({ apart: 'pictures' })

/** A PNG of 200 × 100 pixels. */
const picture = (page: import('@playwright/test').Page) =>
  page.evaluate(async () => {
    const canvas = document.createElement('canvas')
    canvas.width = 200
    canvas.height = 100
    const context = canvas.getContext('2d')!
    context.fillStyle = '#1d5c8f'
    context.fillRect(20, 20, 160, 60)
    const blob = await new Promise<Blob>((done) => canvas.toBlob((one) => done(one!)))
    return [...new Uint8Array(await blob.arrayBuffer())]
  })

const reader = `
import sys, json, docx
shapes = docx.Document(sys.argv[1]).inline_shapes
print(json.dumps([[s.width.cm, s.height.cm, s._inline.docPr.get('descr')] for s in shapes]))
`

test('what a picture shows is asked for, and its size is set, by keys alone', async ({ page, office }, info) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The weir: ')
  const buffer = Buffer.from(await picture(page))
  const chooser = page.waitForEvent('filechooser')
  await command(page, 'insert image')
  await (await chooser).setFiles({ name: 'weir-2026.png', mimeType: 'image/png', buffer })

  const beside = page.getByRole('region', { name: 'The picture' })
  const shows = beside.getByRole('textbox', { name: 'What it shows' })
  await expect(shows).toBeFocused()
  await expect(shows).toHaveValue('weir-2026')
  await page.keyboard.type('The weir in spring')
  await page.keyboard.press('Tab')
  await expect(beside.getByRole('textbox', { name: 'Width, cm' })).toBeFocused()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('4')
  await page.keyboard.press('Tab')
  await expect(beside.getByRole('textbox', { name: 'Height, cm' })).toHaveValue('2')
  await page.keyboard.press('Escape')
  await expect(paper(page)).toBeFocused()
  const img = paper(page).locator('.picture img')
  await expect(img).toHaveAttribute('alt', 'The weir in spring')
  await expect.poll(async () => Math.round((await img.boundingBox())!.width)).toBe(151)
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Weir in spring')
  expect(await readBy(reader, page, office, info, 'Weir in spring.docx')).toEqual([
    [expect.closeTo(4, 1), expect.closeTo(2, 1), 'The weir in spring'],
  ])

  // Larger by its corner, in proportion; undone by one step, and done again.
  await img.click()
  const corner = paper(page).locator('.picture-corner')
  await expect(corner).toBeVisible()
  const at = (await corner.boundingBox())!
  await page.mouse.move(at.x + 7, at.y + 7)
  await page.mouse.down()
  await page.mouse.move(at.x + 107, at.y + 7, { steps: 4 })
  await page.mouse.up()
  await expect.poll(async () => Math.round((await img.boundingBox())!.width)).toBe(251)
  await page.keyboard.press('Control+z')
  await expect.poll(async () => Math.round((await img.boundingBox())!.width)).toBe(151)
  await page.keyboard.press('Control+y')
  await expect.poll(async () => Math.round((await img.boundingBox())!.width)).toBe(251)
  // Described otherwise, from the list of commands.
  await command(page, 'picture: what')
  await expect(shows).toBeFocused()
  await page.keyboard.type('The weir in autumn')
  await page.keyboard.press('Escape')
  await kept(page)
  await page.keyboard.press('Control+s')
  await expect(page.getByText('Saved as version 2')).toBeVisible()
  const [[width, height, alt]] = await readBy(reader, page, office, info, 'Weir in spring.docx')
  expect(alt).toBe('The weir in autumn')
  expect(width / height).toBeCloseTo(2, 1)
  // Compare says it in words, and it is opened as it was saved.
  await page.keyboard.press('Alt+v')
  await expect(page.getByText('1 image resized; 1 image described otherwise.').first()).toBeVisible({ timeout: 60_000 })
  await page.reload()
  await expect(img).toHaveAttribute('alt', 'The weir in autumn')
  await expect.poll(async () => Math.round((await img.boundingBox())!.width)).toBe(251)
})
