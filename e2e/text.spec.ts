// Plain text from other programs: written in as lines, and saved as it was but for what changed.
import { encoded } from '../core/formats/text/encoding'
import { brought, newest } from './brought'
import { expect, kept, paper, reach, signIn, test } from './office'

const western = (text: string) => Buffer.from(encoded(text, 'windows-1252')!)

test('a text is edited as lines by keys, also after a lost page, and keeps its letters and its ends of lines', async ({
  page,
  context,
  office,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await signIn(page, office.url)
  const before = 'Größe der Tore\r\n  LK07\t4.20\r\n\r\nEnde'
  const saved = await brought(page, office, 'Tore.txt', western(before))
  await page.goto(`${office.url}/open/${saved.file.id}`)
  await expect(paper(page).locator('p')).toHaveText(['Größe der Tore', '  LK07\t4.20', '', 'Ende'])
  await expect(page.getByRole('button', { name: 'Bold' })).toHaveCount(0)
  // Letters stay as they are typed: no list comes of a number, no other quotes of quotes.
  await paper(page).focus()
  await page.keyboard.press('Control+Home')
  await page.keyboard.press('End')
  await page.keyboard.press('Enter')
  await page.keyboard.type('1. "LK08" is new')
  await page.keyboard.press('Control+b')
  await expect(page.getByText('A plain text holds letters and lines, and nothing else.')).toBeVisible()
  await page.keyboard.type('er')
  await expect(paper(page).locator('p').nth(1)).toHaveText('1. "LK08" is newer')
  await kept(page)
  await page.reload()
  await expect(paper(page).locator('p').nth(1)).toHaveText('1. "LK08" is newer')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  const next = before.replace('Tore\r\n', 'Tore\r\n1. "LK08" is newer\r\n')
  expect(await newest(page, office, saved)).toEqual(western(next))

  // What another page copied comes as its text; what is copied here goes as lines.
  await page.evaluate(() =>
    navigator.clipboard.write([
      new ClipboardItem({
        'text/html': new Blob(['<h1>Sill</h1><p><b>worn</b></p>'], { type: 'text/html' }),
        'text/plain': new Blob(['Sill\n\nworn'], { type: 'text/plain' }),
      }),
    ]),
  )
  await paper(page).focus()
  await page.keyboard.press('Control+End')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+v')
  await expect(paper(page).locator('p')).toHaveText([
    'Größe der Tore',
    '1. "LK08" is newer',
    '  LK07\t4.20',
    '',
    'Ende',
    'Sill',
    '',
    'worn',
  ])
  await expect(paper(page).locator('h1, b, strong')).toHaveCount(0)
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Control+c')
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(
    `${next.replaceAll('\r\n', '\n')}\nSill\n\nworn`,
  )
  // Keys that follow each other at once are undone as one.
  for (let presses = 0; presses < 2 && (await paper(page).locator('p').count()) > 5; presses++)
    await page.keyboard.press('Control+z')
  await expect(paper(page).locator('p')).toHaveCount(5)
  // Its versions are told by what changed of its words.
  await page.getByRole('button', { name: '2 versions' }).click()
  await expect(page.getByRole('list', { name: 'Versions' })).toContainText('4 words added')
})

test('two write in one text: both changes are in it, each line ends as it did', async ({ page, browser, office }) => {
  await signIn(page, office.url)
  const before = 'one\r\ntwo\nthree\r\nfour\n'
  const saved = await brought(page, office, 'Both.txt', Buffer.from(before))
  const ben = await (await browser.newContext()).newPage()
  await signIn(ben, office.url, 'Ben Marlowe')
  for (const one of [page, ben]) {
    await one.goto(`${office.url}/open/${saved.file.id}`)
    await expect(paper(one).locator('p')).toHaveCount(4)
    await paper(one).focus()
  }
  await page.keyboard.press('Control+Home')
  await page.keyboard.type('Number ')
  await ben.keyboard.press('Control+End')
  await ben.keyboard.type(' and last')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await ben.keyboard.press('Control+s')
  await expect(reach(ben)).toContainText('Saved as version 3')
  expect(String(await newest(page, office, saved))).toBe('Number one\r\ntwo\nthree\r\nfour and last\n')
  await ben.context().close()
})
