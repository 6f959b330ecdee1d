// Every screen and state that somebody meets, and the way to it by what a person does. What is held against all of
// them (accessibility, narrow windows) goes through this list.
import { expect, type Page } from '@playwright/test'
import { paper } from './office'

export interface Screen {
  name: string
  /** Who is there: a worker, a records keeper, or nobody yet. */
  who: 'Ida Thornquist' | 'Priya Nandakumar' | null
  /** From anywhere in Jaula to this screen. */
  go(page: Page, url: string): Promise<void>
}

async function inFolder(page: Page, url: string, ...folders: string[]): Promise<void> {
  await page.goto(`${url}/files`)
  await page
    .getByRole('link', { name: /Waterways/ })
    .first()
    .click()
  for (const folder of folders) {
    await page.getByRole('link', { name: folder, exact: true }).first().click()
    await page.getByRole('heading', { level: 1 }).filter({ hasText: folder }).waitFor()
  }
}

async function found(page: Page, url: string, words: string): Promise<void> {
  await page.goto(`${url}/find?q=${encodeURIComponent(words)}`)
  await page.getByRole('link', { name: /\w/ }).first().waitFor()
}

async function openFirst(page: Page, url: string, words: string): Promise<void> {
  await found(page, url, words)
  await page
    .getByRole('main')
    .getByRole('link', { name: /2026|20\d\d-|Ledger|ledger/ })
    .first()
    .click()
}

/** To the first version of a document, in its place. */
async function lookBack(page: Page, url: string): Promise<void> {
  await openFirst(page, url, 'lk07 gate-paddles')
  await paper(page).waitFor()
  await page.getByRole('slider', { name: 'Lifeline' }).focus()
  await page.keyboard.press('Home')
  await page.getByText('Since then').waitFor()
}

async function ofShare(page: Page, url: string, tab: string): Promise<void> {
  await page.goto(`${url}/names`)
  await page.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Waterways' }).click()
  await page.getByRole('heading', { level: 1, name: 'Names in Waterways' }).waitFor()
  if (tab !== 'Conventions') await page.getByRole('tab', { name: tab }).click()
}

export const screens: Screen[] = [
  {
    name: 'sign-in',
    who: null,
    async go(page, url) {
      await page.goto(url)
      await page.getByLabel('Sign-in name').waitFor()
    },
  },
  {
    name: 'Desk',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(url)
      await page.getByRole('heading', { name: 'Used last' }).waitFor()
    },
  },
  {
    name: 'all commands',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(url)
      await page.getByRole('button', { name: /Go to, or do/ }).click()
      await page.getByRole('dialog').waitFor()
    },
  },
  { name: 'Files', who: 'Ida Thornquist', go: (page, url) => inFolder(page, url, 'Inspections', 'Older') },
  {
    name: 'a file’s menu',
    who: 'Ida Thornquist',
    async go(page, url) {
      await inFolder(page, url, 'Notices', '2026')
      await page.getByRole('row').nth(1).click({ button: 'right' })
      await page.getByRole('menu').waitFor()
    },
  },
  { name: 'Find', who: 'Ida Thornquist', go: (page, url) => found(page, url, 'notice lk03') },
  {
    name: 'Rescue',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(`${url}/rescue`)
      await page.getByTestId('piece').first().waitFor()
    },
  },
  {
    name: 'inside a piece',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(`${url}/rescue`)
      await page.getByRole('button', { name: 'Look inside' }).first().click()
      await page.locator('.marked-added').first().waitFor()
    },
  },
  {
    name: 'Settings',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(`${url}/settings`)
      await page.getByRole('heading', { name: 'Settings' }).waitFor()
    },
  },
  { name: 'Conventions', who: 'Priya Nandakumar', go: (page, url) => ofShare(page, url, 'Conventions') },
  {
    name: 'a convention is changed',
    who: 'Priya Nandakumar',
    async go(page, url) {
      await ofShare(page, url, 'Conventions')
      await page.getByRole('button', { name: 'Change' }).first().click()
      await page.getByText('can be read back in one way only').waitFor()
    },
  },
  { name: 'Lists', who: 'Priya Nandakumar', go: (page, url) => ofShare(page, url, 'Lists') },
  { name: 'Bench', who: 'Priya Nandakumar', go: (page, url) => ofShare(page, url, 'Bench') },
  { name: 'Audit', who: 'Priya Nandakumar', go: (page, url) => ofShare(page, url, 'Audit') },
  {
    name: 'Retention',
    who: 'Priya Nandakumar',
    async go(page, url) {
      await page.goto(`${url}/retention`)
      await page.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Waterways' }).click()
    },
  },
  {
    name: 'a document',
    who: 'Ida Thornquist',
    async go(page, url) {
      await openFirst(page, url, 'lk07 gate-paddles')
      await paper(page).waitFor()
    },
  },
  {
    name: 'an earlier version',
    who: 'Ida Thornquist',
    go: lookBack,
  },
  {
    name: 'a comparison',
    who: 'Ida Thornquist',
    async go(page, url) {
      await lookBack(page, url)
      await page.getByRole('button', { name: 'Compare with now' }).click()
      await page.getByTestId('comparison').getByRole('listitem').first().waitFor()
    },
  },
  {
    name: 'a spreadsheet',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(`${url}/new/spreadsheet`)
      await page.getByTestId('grid').waitFor()
    },
  },
  {
    name: 'the filing slip',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(`${url}/new/document`)
      await expect(paper(page)).toBeFocused()
      await page.keyboard.type('# Stoppage at LK03\nThe lock closes from 7 to 11 December.')
      await page.keyboard.press('Control+s')
      await page.getByRole('form', { name: 'Filing slip' }).waitFor()
    },
  },
  {
    name: 'how far work has got',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(`${url}/new/document`)
      await expect(paper(page)).toBeFocused()
      await page.keyboard.type('The towpath stays open.')
      await page.getByTestId('reach').click()
    },
  },
]
