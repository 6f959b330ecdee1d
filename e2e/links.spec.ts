// Links for people outside: made by who manages, opened without an account, ended.
import { readFileSync } from 'node:fs'
import type { Browser, Page } from '@playwright/test'
import { findings } from './axe'
import { expect, paper, reach, signIn, test } from './office'

test.use({ apart: 'links' })

/** Somebody outside, in a browser of their own. */
const outside = async (browser: Browser, bypassCSP = false): Promise<Page> =>
  (await browser.newContext({ bypassCSP })).newPage()

/** To who can reach a place of the share Waterways, by its folders, as the records keeper. */
async function toAccess(page: Page, url: string, ...steps: string[]): Promise<void> {
  await signIn(page, url, 'Priya Nandakumar')
  await page.goto(`${url}/files`)
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /^Waterways/ })
    .click()
  for (const step of steps) await page.getByRole('link', { name: step, exact: true }).first().click()
  await page.getByRole('link', { name: 'Who can reach it' }).click()
  await page.getByRole('button', { name: 'Make a link …' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('For whom')).toBeFocused()
}

test('a link with a password: opened outside, what was done with it is known, and ended it shows nothing more', async ({
  page,
  office,
  browser,
}) => {
  await toAccess(page, office.url, 'Inspections', '2026', 'LK07')
  await page.keyboard.type('Merrow Bank')
  await page.getByLabel('Password, if you wish').focus()
  await page.keyboard.type('short')
  await page.keyboard.press('Enter')
  await expect(page.getByText('A password of a link has at least 8 letters.')).toBeVisible()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('sluice and gate')
  await page.keyboard.press('Enter')
  const address = (await page.getByTestId('link-address').textContent())!
  await page.keyboard.press('Escape')
  const token = address.split('#')[1]!

  const bank = await outside(browser)
  const asked: { url: string; type: string; size: Promise<number>; referrer: string | undefined }[] = []
  bank.on('response', (response) =>
    asked.push({
      url: response.url(),
      type: response.request().resourceType(),
      size: response
        .request()
        .sizes()
        .then(({ responseBodySize }) => responseBodySize),
      referrer: response.request().headers().referer,
    }),
  )
  await bank.goto(address)
  await expect(bank.getByLabel('Password of this link')).toBeFocused()
  await bank.keyboard.type('not it at all')
  await bank.keyboard.press('Enter')
  await expect(bank.getByRole('alert')).toHaveText('This is not the password of this link.')
  await bank.keyboard.press('Control+a')
  await bank.keyboard.type('sluice and gate')
  await bank.keyboard.press('Enter')
  await expect(bank.getByRole('heading', { name: 'LK07', level: 1 })).toBeVisible()
  await expect(bank.getByText('From Priya Nandakumar')).toBeVisible()
  await bank.getByRole('button', { name: /Gate-paddles\.docx/ }).focus()
  await bank.keyboard.press('Enter')
  await expect(
    bank
      .frameLocator('iframe')
      .getByText(/paddle/i)
      .first(),
  ).toBeVisible()
  const taking = bank.waitForEvent('download')
  await bank.getByRole('link', { name: 'Download' }).focus()
  await bank.keyboard.press('Enter')
  const taken = await taking
  expect(taken.suggestedFilename()).toMatch(/Gate-paddles\.docx$/)
  expect(
    readFileSync(await taken.path())
      .subarray(0, 2)
      .toString(),
  ).toBe('PK')
  await bank.goBack()
  await expect(bank.getByRole('heading', { name: 'LK07', level: 1 })).toBeVisible()
  // It is a page of its own, small, and its secret is in nothing that is asked for.
  for (const { url, referrer } of asked) {
    expect(`${url} ${referrer}`).not.toContain(token)
    expect(url).not.toMatch(/office|shell|workspace|offline/)
  }
  const parts = asked.filter(({ type }) => ['document', 'script', 'stylesheet'].includes(type))
  expect((await Promise.all(parts.map(({ size }) => size))).reduce((all, one) => all + one, 0)).toBeLessThan(150_000)

  const links = page.getByRole('list', { name: 'Links for people outside' })
  await expect(links.getByRole('listitem')).toContainText('Look, with a password')
  await page.reload()
  await expect(links.getByRole('listitem')).toContainText('opened once')
  await page.getByRole('button', { name: 'What was done with it: Merrow Bank' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('dialog').getByRole('row')).toContainText([
    'When',
    'Downloaded',
    'Looked at',
    'Opened',
    'Wrong password',
  ])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'End it: Merrow Bank' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('dialog').getByRole('button', { name: 'End it' }).press('Enter')
  await expect(links.getByRole('listitem')).toHaveCount(0)
  await bank.getByRole('button', { name: /Gate-paddles\.docx/ }).press('Enter')
  await expect(bank.getByText('This link was ended. Ask Priya Nandakumar for another.')).toBeVisible()
  await bank.reload()
  await expect(
    bank.getByRole('heading', { name: 'This link was ended. Ask Priya Nandakumar for another.' }),
  ).toBeVisible()
  await page.getByRole('button', { name: '1 link that opens nothing any more' }).press('Enter')
  await expect(links.getByRole('listitem')).toContainText('ended')
  await bank.context().close()
})

test('a guest edits by a link, under the name they give; ended while they write, nothing of it goes, and nothing more is saved', async ({
  page,
  office,
  browser,
}) => {
  await toAccess(page, office.url, 'Inspections', '2026', 'LK07')
  await page.keyboard.press('Escape')
  await page.getByRole('link', { name: 'Back to LK07' }).click()
  await page
    .getByRole('link', { name: /Gate-paddles\.docx/ })
    .first()
    .click()
  await expect(paper(page)).toBeFocused()
  const fileId = page.url().split('/').at(-1)
  // Somebody of the office has it open while the guest writes.
  const ida = await (await browser.newContext()).newPage()
  await signIn(ida, office.url)
  await ida.goto(`${office.url}/open/${fileId}`)
  await expect(paper(ida)).toBeFocused()
  await page.goto(`${office.url}/access/${fileId}`)
  await page.getByRole('button', { name: 'Make a link …' }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Assessors')
  await page.getByRole('combobox', { name: 'May' }).focus()
  await page.keyboard.press('ArrowDown')
  await expect(page.getByRole('combobox', { name: 'Shows' })).toHaveCount(0)
  await page.getByLabel('For whom').press('Enter')
  const address = (await page.getByTestId('link-address').textContent())!
  await page.keyboard.press('Escape')

  // The page's own policy keeps axe out.
  const nell = await outside(browser, true)
  const refused: string[] = []
  nell.on('response', (response) => {
    if (response.status() >= 400) refused.push(`${response.status()} ${new URL(response.url()).pathname}`)
  })
  await nell.goto(address)
  await nell.getByRole('button', { name: 'Edit' }).focus()
  await nell.keyboard.press('Enter')
  await expect(nell.getByLabel('Your name')).toBeFocused()
  await expect(nell.locator('iframe')).toBeVisible()
  expect(await findings(nell)).toEqual([])
  await nell.keyboard.type('Nell Harker')
  await nell.keyboard.press('Enter')
  await expect(paper(nell)).toBeFocused()
  await nell.keyboard.press('Control+End')
  await nell.keyboard.type(' The assessors have seen it.')
  await nell.keyboard.press('Control+s')
  await expect(reach(nell)).toContainText('Saved as version')
  await expect(ida.getByText(/Nell Harker \(Link: Assessors\) saved version/)).toBeVisible()
  await nell.keyboard.type(' And this.')
  // Nothing of the office is a guest's: neither its views nor what a file's menu does elsewhere.
  await expect(nell.getByRole('navigation', { name: 'Views' })).toHaveCount(0)
  await nell.getByRole('button', { name: 'More for this file' }).press('Enter')
  await expect(nell.getByRole('menuitem')).toHaveText([/^Save/, /^Versions/, /^Download version/, /^Close/])
  await nell.keyboard.press('Escape')
  await nell.keyboard.press('Alt+f')
  await nell.keyboard.press('Alt+k')
  await expect(nell.getByRole('dialog')).toHaveCount(0)
  await expect(nell).toHaveURL(new RegExp(`/open/${fileId}$`))

  await expect(
    page.getByRole('region', { name: /can reach it/ }).getByRole('row', { name: /Nell Harker/ }),
  ).toContainText('By the link')
  await page.getByRole('button', { name: 'End it: Assessors' }).press('Enter')
  await page.getByRole('dialog').getByRole('button', { name: 'End it' }).press('Enter')
  await expect(nell.getByText(/lets you write here no longer/)).toBeVisible()
  await expect(paper(nell)).toContainText('The assessors have seen it. And this.')
  await page.getByRole('button', { name: 'What was done with it: Assessors' }).waitFor({ state: 'hidden' })
  await page.getByRole('button', { name: /opens? nothing any more/ }).press('Enter')
  await page.getByRole('button', { name: 'What was done with it: Assessors' }).press('Enter')
  await expect(page.getByRole('dialog').getByRole('row', { name: /Saved · Nell Harker/ })).toContainText('127.0.0.1')
  expect(refused.filter((one) => !one.startsWith('404'))).toEqual([])
  await nell.context().close()
  await ida.context().close()
})
