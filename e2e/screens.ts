// Every screen and state that somebody meets, and the way to it by what a person does. What is held against all of
// them (accessibility, narrow windows) goes through this list.
import { expect, type Page } from '@playwright/test'
import { documentSchema } from '../core/content/document'
import { writeWholeDocx } from '../core/formats/docx/whole'
import { newComment, newNote } from '../core/formats/note-words'
import { writeXls } from '../core/formats/xls/write'
import { writeXlsx } from '../core/formats/xlsx/write'
import { type Code, messages as english } from '../core/words/en'
import { speaker } from '../core/words/speak'

/** What a person reads, by its code. */
export type Words = (code: Code, facts?: Record<string, string>) => string
export const inEnglish: Words = (code, facts) => speaker('en-GB', english).text({ say: code, facts })

export interface Screen {
  name: string
  /** Who is there: a worker, a records keeper, or nobody yet. */
  who: 'Ida Thornquist' | 'Priya Nandakumar' | null
  /** It needs an office that has places for copies, and a drive to be taken over. */
  copied?: true
  /** From anywhere in Jaula to this screen, by what stands on the way in the language of who goes. */
  go(page: Page, url: string, words?: Words): Promise<void>
}

const paperIn = (page: Page, words: Words) => page.getByRole('textbox', { name: words('common.document'), exact: true })

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

/** Asks for a new link to a folder of the share. */
async function newLink(
  page: Page,
  url: string,
  folders: string[],
  words: Words = inEnglish,
  whose = 'Merrow Bank',
): Promise<void> {
  await inFolder(page, url, ...folders)
  await page.getByRole('link', { name: words('files.who-can-reach-it') }).click()
  // What is above it has come: nothing moves under the hand.
  await page.getByRole('row').nth(1).waitFor()
  await page.getByRole('button', { name: words('people.make-a-link') }).click()
  await page.getByLabel(words('people.link-for-whom')).fill(whose)
}
/** Makes the link that was asked for. @returns its address */
async function addressOf(page: Page, words: Words): Promise<string> {
  await page.getByRole('button', { name: words('people.make-the-link') }).click()
  return (await page.getByTestId('link-address').textContent())!
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

/** A file as older programs write it; the same one however often it is brought. @returns its id */
async function oldSpreadsheet(page: Page, url: string): Promise<string> {
  const { bytes } = writeXls({
    workbook: {
      sheets: [
        {
          name: 'Tolls 2003',
          widths: { 0: 160 },
          rows: [
            [{ value: 'Tolls of 2003', style: { bold: true, fill: '#ffffcc', size: 14, bottom: '2 solid #1f4e79' } }],
            ...['LK01', 'LK02', 'LK03'].map((lock, at) => [
              { value: lock },
              { value: 80 + at * 15 },
              { formula: `B${at + 2}*1.5`, style: { format: '#,##0.00' } },
            ]),
          ],
        },
      ],
    },
    resultOf: (_sheet, row) => (65 + row * 15) * 1.5,
  })
  return filed(page, url, 'Tolls 2003.xls', 2003, bytes)
}

/** A file of the office's, which is there once however often it is asked for. @returns its id */
async function filed(page: Page, url: string, name: string, number: number, bytes: Uint8Array): Promise<string> {
  const shares = (await (await page.request.get(`${url}/api/shares`)).json()) as { id: string; name: string }[]
  const office = shares.find((one) => one.name === 'Office')!
  const answer = await page.request.post(
    `${url}/api/files?shareId=${office.id}&name=${encodeURIComponent(name)}&key=01a22300-0000-7000-8000-00000000${number}`,
    { headers: { 'content-type': 'application/octet-stream', origin: url }, data: Buffer.from(bytes) },
  )
  expect(answer.ok()).toBe(true)
  return ((await answer.json()) as { file: { id: string } }).file.id
}

/** A sheet whose cells take one of a list, and one that holds something else. */
const ruledBook = (): Uint8Array => {
  const rows = ['Kind', 'Gate', 'Bridge', 'Weir'].map((value) => [{ value }])
  const rule = {
    areas: [{ top: 1, left: 0, bottom: 40, right: 0 }],
    condition: { kind: 'one of' as const, choices: ['Gate', 'Paddle', 'Weir'], shown: true },
    empty: true,
    otherwise: 'refused' as const,
    hint: { text: 'What is repaired, as the engineers name it' },
  }
  return writeXlsx({ sheets: [{ name: 'Kinds', rows, widths: {}, rules: [rule] }] })
}

/** To the first version of a document, in its place. */
async function lookBack(page: Page, url: string, words = inEnglish): Promise<void> {
  await openFirst(page, url, 'lk07 gate-paddles')
  await paperIn(page, words).waitFor()
  await page.getByRole('slider', { name: words('lifeline.lifeline') }).focus()
  await page.keyboard.press('Home')
  await page.getByTestId('since').waitFor()
}

async function ofShare(page: Page, url: string, tab: Code, words = inEnglish): Promise<void> {
  await page.goto(`${url}/names`)
  await page
    .getByRole('navigation', { name: words('files.shares') })
    .getByRole('link', { name: 'Waterways' })
    .click()
  await page.getByRole('heading', { level: 1, name: words('names.names-in-2', { shareName: 'Waterways' }) }).waitFor()
  if (tab !== 'names.conventions') await page.getByRole('tab', { name: words(tab) }).click()
}

async function toDrives(page: Page, url: string, words: Words): Promise<void> {
  await page.goto(`${url}/files`)
  await page
    .getByRole('navigation', { name: words('files.shares') })
    .getByRole('link', { name: 'Waterways' })
    .click()
  await page.getByRole('link', { name: words('files.take-over') }).click()
  await page.getByRole('heading', { name: words('drives.title', { share: 'Waterways' }) }).waitFor()
}

/** Two pieces of unsaved work in one tab, the second of them in sight. */
async function twoOpen(page: Page, url: string, words = inEnglish): Promise<void> {
  await page.goto(`${url}/new/document`)
  for (const text of ['Left open.', 'In sight.']) {
    await expect(paperIn(page, words)).toHaveText('')
    await expect(paperIn(page, words)).toBeFocused()
    await page.keyboard.type(text)
    if (text === 'Left open.') await page.keyboard.press('Alt+n')
  }
}

export const screens: Screen[] = [
  {
    name: 'sign-in',
    who: null,
    async go(page, url, words = inEnglish) {
      await page.goto(url)
      await page.getByLabel(words('app.sign-in-name')).waitFor()
    },
  },
  {
    name: 'entering with a code',
    who: null,
    async go(page, url, words = inEnglish) {
      await page.goto(url)
      await page.getByRole('button', { name: words('app.i-have-a-code') }).click()
      await page.getByLabel(words('app.code'), { exact: true }).waitFor()
    },
  },
  {
    name: 'Desk',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await page.goto(url)
      await page.getByRole('heading', { name: words('desk.used-last') }).waitFor()
    },
  },
  {
    name: 'all commands',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await page.goto(url)
      await page.getByRole('button', { name: words('app.go-to-or-do') }).click()
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
    name: 'Search in history',
    who: 'Priya Nandakumar',
    async go(page, url) {
      await page.goto(`${url}/history?q=greenheart`)
      await page.locator('mark').first().waitFor()
    },
  },
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
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/rescue`)
      await page
        .getByRole('button', { name: words('common.look-inside') })
        .first()
        .click()
      await page.locator('.marked-added').first().waitFor()
    },
  },
  {
    name: 'Settings',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/settings`)
      await page.getByRole('heading', { name: words('common.settings') }).waitFor()
    },
  },
  {
    name: 'People',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/people`)
      await page.getByRole('button', { name: words('people.add-people') }).click()
      await page.getByRole('dialog').waitFor()
    },
  },
  {
    name: 'an account',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/people`)
      await page.getByRole('button', { name: 'Ida Thornquist' }).last().click()
      await page.getByRole('list', { name: words('people.signed-in-at') }).waitFor()
      await page
        .getByText(words('people.role', { role: 'edit' }))
        .first()
        .waitFor()
    },
  },
  {
    name: 'a new group',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/people/groups`)
      await page.getByRole('button', { name: words('people.new-group') }).click()
      await page.getByLabel(words('people.put-into-it')).fill('Ida')
      await page.getByRole('option').first().waitFor()
    },
  },
  {
    name: 'who can reach a share',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await inFolder(page, url)
      await page.getByRole('link', { name: words('files.who-can-reach-it') }).click()
      await page.getByLabel(words('people.give-to')).fill('Tomas')
      await page.getByRole('option', { name: /Tomas Wether/ }).click()
      await page.getByRole('button', { name: words('people.give'), exact: true }).waitFor()
    },
  },
  {
    name: 'who can reach a folder',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await inFolder(page, url, 'Inspections')
      await page.getByRole('link', { name: words('files.who-can-reach-it') }).click()
      await page.getByRole('radio').first().waitFor()
    },
  },
  {
    name: 'who can reach a share, for who does not manage it',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await inFolder(page, url)
      await page.getByRole('link', { name: words('files.who-can-reach-it') }).click()
      await page.getByRole('row').nth(1).waitFor()
    },
  },
  {
    name: 'a link is made',
    who: 'Priya Nandakumar',
    go: (page, url, words) => newLink(page, url, ['Inspections'], words),
  },
  {
    name: 'the address of a new link, and what was done with one',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      // Its own: those that others made before may have been opened.
      const whose = `Merrow Bank ${Date.now() % 10_000}`
      await newLink(page, url, ['Inspections'], words, whose)
      await addressOf(page, words)
      await page.keyboard.press('Escape')
      await page.getByRole('button', { name: words('people.link-uses-which', { name: whose }) }).click()
      await page.getByText(words('people.link-never-used')).waitFor()
    },
  },
  {
    name: 'the page of a link to a folder',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await newLink(page, url, ['Inspections', '2026', 'LK07'], words)
      await page.goto(await addressOf(page, words))
      await page.getByRole('heading', { name: 'LK07', level: 1 }).waitFor()
    },
  },
  {
    name: 'the page of a link to a file',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await newLink(page, url, ['Inspections', '2026', 'LK07'], words)
      await page.goto(await addressOf(page, words))
      await page.getByRole('button', { name: /\.docx/ }).click()
      await page.locator('iframe').waitFor()
    },
  },
  {
    name: 'the page of a link asks for its password',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await newLink(page, url, ['Inspections'], words)
      await page.getByLabel(words('people.link-password')).fill('sluice and gate')
      await page.goto(await addressOf(page, words))
      await page.getByLabel(words('links.password')).fill('not it')
      await page.keyboard.press('Enter')
      await page.getByRole('alert').waitFor()
    },
  },
  {
    name: 'the look of cells',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/new/spreadsheet`)
      await page.getByRole('button', { name: words('sheet.look-of-cells') }).click()
      await page.getByRole('region', { name: words('sheet.look-of-cells') }).waitFor()
    },
  },
  {
    name: 'which rows are shown by a column',
    who: 'Ida Thornquist',
    async go(page, url) {
      // In a file: work that nobody saved would be what Rescue shows first.
      const rows = ['Lock', 'LK05', 'LK06'].map((value) => [{ value }])
      const filter = { area: { top: 0, left: 0, bottom: 2, right: 0 }, columns: {} }
      const bytes = writeXlsx({ sheets: [{ name: 'Locks', rows, widths: {}, filter }] })
      await page.goto(`${url}/open/${await filed(page, url, 'Locks that are filtered.xlsx', 2004, bytes)}`)
      await page.waitForFunction(() => document.activeElement?.closest('canvas'))
      await page.keyboard.press('Alt+ArrowDown')
      await page.getByRole('option', { name: 'LK06' }).waitFor()
    },
  },
  {
    name: 'what may be entered into a cell, and its list',
    who: 'Ida Thornquist',
    async go(page, url) {
      await page.goto(`${url}/open/${await filed(page, url, 'Kinds of repairs.xlsx', 2006, ruledBook())}`)
      await page.waitForFunction(() => document.activeElement?.closest('canvas'))
      await page.keyboard.press('Control+Home')
      await page.keyboard.press('ArrowDown')
      await page.keyboard.press('Alt+ArrowDown')
      await page.getByRole('option', { name: 'Paddle' }).waitFor()
    },
  },
  {
    name: 'what may be entered is said',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/open/${await filed(page, url, 'Kinds of repairs.xlsx', 2006, ruledBook())}`)
      await page.waitForFunction(() => document.activeElement?.closest('canvas'))
      await page.keyboard.press('Control+Home')
      await page.keyboard.press('ArrowDown')
      await page.getByRole('button', { name: words('sheet.what-may-be-entered') }).click()
      await page.getByRole('button', { name: words('sheet.next-against-rules') }).waitFor()
    },
  },
  {
    name: 'a spreadsheet is sent in another type',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'Maintenance Budget')
      await page.getByRole('button', { name: words('editor.more-for-this-file') }).click()
      await page.getByRole('menuitem', { name: words('sending.send') }).click()
      await page.getByRole('combobox', { name: words('sending.to') }).fill('nell.harker@assessors.example,')
      await page.keyboard.press('Enter')
      await page.getByRole('combobox', { name: words('sending.to') }).fill('Ida')
      await page.getByRole('option', { name: /Ida/ }).waitFor()
      await page.getByRole('combobox', { name: words('sending.needs') }).selectOption('csv')
      await page.getByText(words('sending.not-in-it')).waitFor()
    },
  },
  {
    name: 'the pages of a document, beside the work',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'lk07 gate-paddles')
      await page.getByRole('button', { name: words('editor.more-for-this-file') }).click()
      await page.getByRole('menuitem', { name: words('paper.look-at-its-pages') }).click()
      await page.locator('canvas[data-drawn="1"]').waitFor()
    },
  },
  {
    name: 'a PDF beside its file',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'lk07 gate-paddles')
      await page.getByRole('button', { name: words('editor.more-for-this-file') }).click()
      await page.getByRole('menuitem', { name: words('paper.look-at-its-pages') }).click()
      await page.locator('canvas[data-drawn="1"]').waitFor()
      await page.getByRole('button', { name: words('paper.put-pdf-beside') }).click()
      await page.getByRole('dialog').getByLabel(words('paper.with-each-version')).waitFor()
    },
  },
  {
    name: 'the look of the text, beside the work',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'lk07 gate-paddles')
      await paperIn(page, words).waitFor()
      await page.getByRole('button', { name: words('document.look-of-text') }).click()
      await page.getByRole('region', { name: words('document.look-of-text') }).waitFor()
    },
  },
  {
    name: 'notes and comments, beside the work',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      const { nodes } = documentSchema
      const bytes = writeWholeDocx(
        nodes.doc.create(null, [
          nodes.paragraph.create(null, [
            documentSchema.text('The lower gate'),
            nodes.kept.create(newComment('Ben Marlowe', '2026-10-19T08:30:00Z', ['Which gate is meant?'])),
            nodes.kept.create(newComment('Ida Thornquist', '2026-10-19T09:10:00Z', ['The one below LK07.'])),
            documentSchema.text(' leaks.'),
            nodes.kept.create(newNote('footnote', ['Lock diary, p. 4'])),
          ]),
        ]),
      ).bytes
      await page.goto(`${url}/open/${await filed(page, url, 'Gates that leak.docx', 2007, bytes)}`)
      await paperIn(page, words).waitFor()
      await page.getByRole('button', { name: words('document.remarks') }).click()
      const panel = page.getByRole('region', { name: words('document.remarks') })
      await panel.getByRole('button', { name: /^Ben Marlowe/ }).press('Enter')
      await panel.getByRole('textbox').waitFor()
    },
  },
  {
    name: 'what is printed, and how',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'lk07 gate-paddles')
      await page.getByRole('button', { name: words('editor.more-for-this-file') }).click()
      await page.getByRole('menuitem', { name: words('paper.look-at-its-pages') }).click()
      await page.getByRole('button', { name: words('paper.how-printed') }).click()
      await page.getByLabel(words('paper.layout')).selectOption('booklet')
      await page.getByLabel(words('paper.range'), { exact: true }).fill('9')
      await page.getByRole('alert').first().waitFor()
    },
  },
  {
    name: 'who can reach it, beside the work',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'Maintenance Budget')
      await page.getByRole('button', { name: words('editor.more-for-this-file') }).click()
      await page.getByRole('menuitem', { name: words('people.who-can-reach-it') }).click()
      await page.getByLabel(words('people.give-to')).fill('Tomas')
      await page.getByRole('option', { name: /Tomas/ }).waitFor()
      await page.keyboard.press('Enter')
      await page.getByRole('button', { name: words('people.give'), exact: true }).waitFor()
    },
  },
  {
    name: 'a link is sent',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await inFolder(page, url, 'Inspections')
      await page.getByRole('link', { name: words('files.who-can-reach-it') }).click()
      await page.getByRole('button', { name: words('people.send-links') }).click()
      await page.getByText(words('sending.link-each')).waitFor()
    },
  },
  {
    name: 'what was sent, and what came back',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'Maintenance Budget')
      await page.getByRole('button', { name: words('editor.more-for-this-file') }).click()
      await page.getByRole('menuitem', { name: words('sending.what-was-sent') }).click()
      await page.getByText(/clerk@dale-council/).waitFor()
    },
  },
  {
    name: 'a link that is not known',
    who: null,
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/link#nothing`)
      await page.getByRole('heading', { name: words('links.not-known') }).waitFor()
    },
  },
  {
    name: 'Conventions',
    who: 'Priya Nandakumar',
    go: (page, url, words) => ofShare(page, url, 'names.conventions', words),
  },
  {
    name: 'a convention is changed',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await ofShare(page, url, 'names.conventions', words)
      await page
        .getByRole('button', { name: words('common.change') })
        .first()
        .click()
      await page.getByText(words('names.every-name-it-gives-can-be-read')).waitFor()
    },
  },
  { name: 'Lists', who: 'Priya Nandakumar', go: (page, url, words) => ofShare(page, url, 'names.lists', words) },
  { name: 'Bench', who: 'Priya Nandakumar', go: (page, url, words) => ofShare(page, url, 'names.bench', words) },
  { name: 'Audit', who: 'Priya Nandakumar', go: (page, url, words) => ofShare(page, url, 'names.audit-2', words) },
  {
    name: 'a share as it was',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await inFolder(page, url)
      await page.getByRole('link', { name: words('files.as-it-was') }).click()
      await page.getByRole('region', { name: words('moment.what-differs') }).waitFor()
    },
  },
  {
    name: 'Copies',
    who: 'Priya Nandakumar',
    copied: true,
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/copies`)
      await page.getByRole('region', { name: words('sites.not-well') }).waitFor()
      await page.getByRole('region', { name: words('sites.over-time') }).waitFor()
    },
  },
  {
    name: 'a plan for copies',
    who: 'Priya Nandakumar',
    copied: true,
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/copies`)
      await page
        .getByRole('button', { name: words('sites.plan') })
        .first()
        .click()
      await page.getByTestId('preview').waitFor()
    },
  },
  {
    name: 'a plan for the copies of a folder',
    who: 'Priya Nandakumar',
    copied: true,
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/copies`)
      await page
        .getByRole('button', { name: words('sites.more-of', { share: 'Waterways' }) })
        .first()
        .click()
      await page.getByRole('menuitem', { name: words('sites.plan-of-folder') }).click()
      await page.getByRole('listbox', { name: words('sites.folders-found') }).selectOption({ index: 1 })
      await page.getByTestId('preview').waitFor()
    },
  },
  {
    name: 'files in a copy',
    who: 'Priya Nandakumar',
    copied: true,
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/copies`)
      await page
        .getByRole('button', { name: words('sites.more-of', { share: 'Waterways' }) })
        .first()
        .click()
      await page.getByRole('menuitem', { name: words('sites.look-into') }).click()
      await page.getByRole('region', { name: words('sites.files-in-it') }).waitFor()
    },
  },
  {
    name: 'copies on another computer',
    who: 'Priya Nandakumar',
    copied: true,
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/copies`)
      await page.getByRole('button', { name: words('sites.use-another') }).click()
      await page.getByLabel(words('sites.address'), { exact: true }).waitFor()
    },
  },
  {
    name: 'copies in folders of this computer',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/files`)
      await page
        .getByRole('navigation', { name: words('files.shares') })
        .getByRole('link', { name: 'Waterways' })
        .click()
      await page.getByRole('row').filter({ hasText: 'Inspections' }).first().waitFor()
      // The window of the computer in which a folder is chosen is none that a test can press.
      await page.evaluate(() => {
        const pick = async () => (await navigator.storage.getDirectory()).getDirectoryHandle('Stick', { create: true })
        Object.assign(window, { showDirectoryPicker: pick })
      })
      await page.getByRole('grid').focus()
      await page.keyboard.press('Home')
      await page.keyboard.press('Space')
      await page.getByRole('button', { name: words('files.keep-own') }).click()
      await page.getByText(words('files.own-kept', { folder: 'Stick' })).waitFor()
      await page.getByRole('link', { name: words('app.copies'), exact: true }).click()
      await page.getByRole('region', { name: words('own.on-this-computer') }).waitFor()
    },
  },
  {
    name: 'drives to take over',
    who: 'Priya Nandakumar',
    copied: true,
    async go(page, url, words = inEnglish) {
      await toDrives(page, url, words)
      await page.getByRole('button', { name: words('drives.choose-on-server') }).click()
      await page.getByRole('button', { name: words('drives.look-into', { folder: 'Old drive' }) }).waitFor()
    },
  },
  {
    name: 'a drive that is taken over',
    who: 'Priya Nandakumar',
    copied: true,
    async go(page, url, words = inEnglish) {
      await toDrives(page, url, words)
      await page.getByRole('button', { name: words('drives.choose-on-server') }).click()
      await page.getByRole('button', { name: words('drives.look-into', { folder: 'Old drive' }) }).click()
      await page
        .getByRole('region', { name: words('drives.what-becomes') })
        .getByRole('button', { name: words('drives.of-files', { n: '2' }) })
        .click()
    },
  },
  {
    name: 'Retention',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/copies/retention`)
      await page
        .getByRole('navigation', { name: words('files.shares') })
        .getByRole('link', { name: 'Waterways' })
        .click()
    },
  },
  {
    name: 'a document',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'lk07 gate-paddles')
      await paperIn(page, words).waitFor()
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
    async go(page, url, words = inEnglish) {
      await lookBack(page, url, words)
      await page.getByRole('button', { name: words('common.compare-with-now') }).click()
      await page.getByTestId('comparison').getByRole('listitem').first().waitFor()
    },
  },
  {
    name: 'what a type cannot hold',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'lk07 gate-paddles')
      await paperIn(page, words).waitFor()
      await page.keyboard.press('Alt+c')
      await page.getByRole('combobox', { name: words('slip.what-for') }).selectOption('txt')
      await page.getByTestId('losses').getByRole('listitem').first().waitFor()
    },
  },
  {
    name: 'an old spreadsheet, for a program of today',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/open/${await oldSpreadsheet(page, url)}`)
      await page.getByTestId('glide-cell-1-0').waitFor({ state: 'attached' })
      await page.keyboard.press('Control+Shift+S')
      await page.getByRole('combobox', { name: words('slip.what-for') }).selectOption('xlsx')
      await page.getByText(words('slip.nothing-is-lost')).waitFor()
    },
  },
  {
    name: 'a list of values',
    who: 'Priya Nandakumar',
    async go(page, url) {
      await openFirst(page, url, 'levels autumn')
      await page.getByTestId('written-as').waitFor()
    },
  },
  {
    name: 'how a list is written',
    who: 'Priya Nandakumar',
    async go(page, url, words = inEnglish) {
      await openFirst(page, url, 'levels autumn')
      await page.getByTestId('written-as').click()
      await page.getByRole('table', { name: words('list.first-rows') }).waitFor()
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
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/new/document`)
      await expect(paperIn(page, words)).toBeFocused()
      await page.keyboard.type('# Stoppage at LK03\nThe lock closes from 7 to 11 December.')
      await page.keyboard.press('Control+s')
      await page.getByRole('form', { name: words('slip.filing-slip') }).waitFor()
    },
  },
  {
    name: 'what is open',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await twoOpen(page, url, words)
      await page.keyboard.press('Alt+o')
      await page.getByRole('menuitem').nth(3).waitFor()
    },
  },
  {
    name: 'everything open is closed',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await twoOpen(page, url, words)
      await page.keyboard.press('Alt+Shift+w')
      await page.getByRole('dialog').getByRole('listitem').nth(1).waitFor()
    },
  },
  {
    name: 'the columns of a list',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await inFolder(page, url, 'Inspections', 'Older')
      await page.getByRole('button', { name: words('files.columns-that-are-shown') }).click()
      await page.getByRole('menuitemcheckbox').first().waitFor()
    },
  },
  {
    name: 'how far work has got',
    who: 'Ida Thornquist',
    async go(page, url, words = inEnglish) {
      await page.goto(`${url}/new/document`)
      await expect(paperIn(page, words)).toBeFocused()
      await page.keyboard.type('The towpath stays open.')
      await page.getByTestId('reach').click()
    },
  },
]
