// Sending by mail from the work itself: what arrives, what became of it, and what changed since.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { type ParsedMail, simpleParser } from 'mailparser'
import { readDocument } from '../core/formats/documents'
import { command, enterByKeys } from './flows'
import { expect, fileAs, type Office, paper, reach, signIn, test, writeNew } from './office'

test.use({ apart: 'sending' })

/** The message that somebody has got, the latest. */
async function messageTo(office: Office, to: string): Promise<ParsedMail> {
  const folder = join(office.standIns, 'mail/messages')
  const find = () =>
    readdirSync(folder)
      .filter((name) => name.endsWith('.eml') && !name.startsWith('.'))
      .sort()
      .reverse()
      .find((name) => readFileSync(join(folder, name), 'latin1').includes(to))
  await expect.poll(find).toBeTruthy()
  return simpleParser(readFileSync(join(folder, find()!)))
}
const fault = (office: Office, faults: object) =>
  writeFileSync(join(office.standIns, 'mail/faults.json'), JSON.stringify(faults))
const dialog = (page: Page) => page.getByRole('dialog')

test('by keys alone a document goes to somebody outside and somebody here, in the type that they can open; later it is seen what changed since', async ({
  page,
  office,
}) => {
  await enterByKeys(page, office.url)
  await writeNew(page, office.url, 'The weir at LK07 was passed on Monday.')
  // Nothing that was never saved is sent.
  await page.keyboard.press('Alt+m')
  await expect(dialog(page)).toBeHidden()
  await page.keyboard.press('ControlOrMeta+s')
  await fileAs(page, '2026-11-27_LK07_Inspection_Sending')
  await page.keyboard.press('Alt+m')
  await expect(dialog(page).getByRole('combobox', { name: 'To' })).toBeFocused()
  await page.keyboard.type('nell.harker@assessors.example, ')
  await page.keyboard.type('marlowe')
  await expect(dialog(page).getByRole('option', { name: /Ben Marlowe/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Tab')
  await page.keyboard.type('Please have a look.')
  await page.keyboard.press('Tab')
  await expect(dialog(page).getByRole('combobox', { name: 'What do they need?' })).toBeFocused()
  // The first letters of what is chosen.
  await page.keyboard.type('Plain text')
  await expect(dialog(page).getByTestId('losses')).not.toContainText('Looking')
  await page.keyboard.press('Tab')
  await expect(dialog(page).getByRole('button', { name: 'Send to 2' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByText('On its way to 2 people.')).toBeVisible()
  await expect(dialog(page)).toBeHidden()
  await expect(paper(page)).toBeFocused()
  for (const to of ['nell.harker@assessors.example', 'ben@merrowdale.example']) {
    const mail = await messageTo(office, to)
    expect(mail.text).toContain('Please have a look.')
    expect(mail.replyTo?.value[0]?.address).toBe('ida@merrowdale.example')
    const [part] = mail.attachments
    expect(part!.filename).toBe('2026-11-27_LK07_Inspection_Sending.txt')
    expect(part!.content.toString('utf8').trim()).toBe('The weir at LK07 was passed on Monday.')
  }
  // It goes on, and what they have is another one.
  await page.keyboard.press('ControlOrMeta+End')
  await page.keyboard.type(' The sill is worn.')
  await page.keyboard.press('ControlOrMeta+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await page.keyboard.press('Alt+v')
  const versions = page.getByRole('region', { name: 'Versions' })
  await expect(versions).toContainText('sent to nell.harker@assessors.example and Ben Marlowe')
  await command(page, 'what was sent')
  await expect(dialog(page)).toContainText('Version 1 as .txt')
  await expect(dialog(page)).toContainText('“Please have a look.”')
  await expect(dialog(page).getByText(/^nell\.harker@assessors\.example sent /)).toBeVisible()
  await dialog(page).getByRole('button', { name: 'What changed since version 1?' }).press('Enter')
  await expect(dialog(page)).toBeHidden()
  await expect(page.getByText('The sill is worn.').first()).toBeVisible()
  await expect(page.getByRole('main')).toContainText('Version 1')
  await page.keyboard.press('Escape')
  await expect(paper(page)).toBeFocused()
})

test('what was written since is named, and saved on the way; what comes back is told where it was sent from, and sent to another address', async ({
  page,
  office,
}) => {
  fault(office, { bounces: 'gone@' })
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Levels at LK03')
  await page.keyboard.press('ControlOrMeta+s')
  await fileAs(page, '2026-11-27_LK03_Inspection_Bounced')
  await page.keyboard.type(' and LK04')
  await page.keyboard.press('Alt+m')
  // What it is about may come a moment later: nobody writes to whom before they are asked.
  await expect(dialog(page).getByRole('combobox', { name: 'To' })).toBeFocused()
  await page.keyboard.type('gone@assessors.example')
  await page.keyboard.press('Tab')
  await page.keyboard.type('The levels, as you asked.')
  await expect(dialog(page)).toContainText('What was written since version 1 is not in it.')
  await dialog(page).getByRole('button', { name: 'Save it first' }).press('Enter')
  await expect(dialog(page)).toContainText('Version 2, the latest')
  await expect(dialog(page)).not.toContainText('is not in it')
  // Whoever looks something up meanwhile finds it again as it was.
  await page.keyboard.press('Escape')
  await page.keyboard.press('Alt+m')
  await expect(dialog(page).getByLabel('What to say with it, if wished')).toHaveValue('The levels, as you asked.')
  await dialog(page).getByRole('button', { name: 'Send to 1' }).press('Enter')
  const back = page.getByRole('alert').filter({ hasText: 'did not reach gone@assessors.example' })
  await expect(back).toContainText('Nobody here has this address')
  fault(office, {})

  // On the Desk, too, wherever it was sent from.
  await page.goto(office.url)
  const onDesk = page.getByRole('region', { name: 'Mail that did not arrive' })
  await expect(onDesk).toContainText('Nobody here has this address')
  await onDesk.getByRole('link', { name: /Bounced/ }).press('Enter')
  await expect(back).toBeVisible()
  await back.getByRole('button', { name: 'What was sent' }).press('Enter')
  await dialog(page)
    .getByRole('button', { name: /to another address/ })
    .press('Enter')
  await expect(dialog(page).getByRole('heading')).toHaveText(/^Send 2026-11-27_LK03/)
  await expect(dialog(page).getByLabel('What to say with it, if wished')).toHaveValue('The levels, as you asked.')
  await dialog(page).getByRole('combobox', { name: 'To' }).press('Control+a')
  await page.keyboard.type('nell.levels@assessors.example')
  await page.keyboard.press('Enter')
  await dialog(page).getByRole('button', { name: 'Send to 1' }).press('Enter')
  await expect(back).toBeHidden()
  const mail = await messageTo(office, 'nell.levels@assessors.example')
  expect(mail.attachments[0]!.filename).toBe('2026-11-27_LK03_Inspection_Bounced.docx')
  expect(readDocument(mail.attachments[0]!.content, 'docx').doc.textContent).toBe('Levels at LK03 and LK04')
})

test('somebody is added by a code that comes by mail, is told by mail of what they may reach, and a link comes to somebody outside', async ({
  page,
  office,
  browser,
}) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  await page.goto(`${office.url}/people`)
  await page.getByRole('button', { name: 'Add people' }).press('Enter')
  await expect(dialog(page).getByLabel('Name', { exact: true })).toBeFocused()
  await page.keyboard.type('Marta Lind')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await page.keyboard.type('marta at merrowdale')
  await page.keyboard.press('Enter')
  await expect(dialog(page).getByRole('alert')).toHaveText('This is no mail address.')
  await page.keyboard.press('ControlOrMeta+a')
  await page.keyboard.type('marta@merrowdale.example')
  await page.keyboard.press('Enter')
  await expect(dialog(page)).toContainText('It is on its way to marta@merrowdale.example.')
  const given = await dialog(page).getByTestId('code').textContent()
  await page.keyboard.press('Escape')
  const code = /Code: (\S+)/.exec((await messageTo(office, 'marta@merrowdale.example')).text ?? '')![1]!
  expect(code).toBe(given)

  // In her own browser, with nothing but the message.
  const marta = await (await browser.newContext()).newPage()
  await marta.goto(office.url)
  await marta.getByRole('button', { name: /code/i }).press('Enter')
  await marta.getByLabel('Sign-in name').fill('marta')
  await marta.getByLabel('Code', { exact: true }).fill(code)
  await marta
    .getByLabel(/password/i)
    .first()
    .fill('windlass and sluice')
  await marta.keyboard.press('Enter')
  await expect(marta.getByRole('heading', { name: /^Good / })).toBeVisible()

  // She is given a folder, and told so by mail.
  await page.goto(`${office.url}/files`)
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /^Waterways/ })
    .click()
  for (const step of ['Water', '2026']) await page.getByRole('link', { name: step, exact: true }).first().click()
  await page.getByRole('link', { name: 'Who can reach it' }).click()
  await page.getByLabel('Give somebody a right here').fill('marta')
  await expect(page.getByRole('option', { name: /Marta Lind/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await page.getByLabel(/sentence/i).fill('The levels are here.')
  await expect(page.getByLabel('Tell Marta Lind by mail, too')).toBeChecked()
  await page.keyboard.press('Enter')
  const invitation = await (async () => {
    let mail = await messageTo(office, 'marta@merrowdale.example')
    await expect
      .poll(async () => {
        mail = await messageTo(office, 'marta@merrowdale.example')
        return mail.subject
      })
      .toBe('Priya Nandakumar shares 2026 with you')
    return mail.text ?? ''
  })()
  expect(invitation).toContain('The levels are here.')
  await marta.goto(/https?:\/\/\S+/.exec(invitation)![0])
  await expect(marta.getByRole('grid')).toContainText('2026-10-31_Levels_Autumn.ods')

  // A link to the same folder, to somebody outside.
  await page.getByRole('button', { name: 'Send a link by mail …' }).press('Enter')
  await expect(dialog(page).getByRole('combobox', { name: 'To' })).toBeFocused()
  await page.keyboard.type('nell.harker@dale-council.example')
  await page.keyboard.press('Enter')
  await dialog(page).getByRole('button', { name: 'Send to 1' }).press('Enter')
  await expect(dialog(page)).toBeHidden()
  const link = /http\S+\/link#\S+/.exec((await messageTo(office, 'nell.harker@dale-council.example')).text ?? '')![0]
  const nell = await (await browser.newContext()).newPage()
  await nell.goto(link)
  await expect(nell.getByRole('list').first()).toContainText('2026-10-31_Levels_Autumn.ods')
  await expect(page.getByRole('list', { name: 'Links' })).toContainText('nell.harker@dale-council.example')
  await expect(page.getByRole('list', { name: 'What was sent' })).toContainText('A link, to the latest version')
})

test('beside the work it is seen who can reach it and why, a right is given by keys, and the keys go back to the work', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  await writeNew(page, office.url, 'Levels at LK05')
  await page.keyboard.press('ControlOrMeta+s')
  await fileAs(page, '2026-11-28_LK05_Inspection_Shared')
  await page.keyboard.press('Alt+g')
  const beside = page.getByRole('region', { name: 'Who can reach it' })
  await expect(beside).toBeFocused()
  const everybody = beside.getByRole('list', { name: 'Who can reach it' })
  await expect(everybody.getByRole('listitem').filter({ hasText: 'Ben Marlowe' })).toHaveText(/May edit\s*Finance$/)
  await expect(everybody).not.toContainText('Tomas Wether')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await expect(beside.getByLabel('Give somebody a right here')).toBeFocused()
  await page.keyboard.type('wether')
  await expect(beside.getByRole('option', { name: /Tomas Wether/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(beside.getByRole('button', { name: 'Give it' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(everybody.getByRole('listitem').filter({ hasText: 'Tomas Wether' })).toHaveText(/May edit\s*here$/)
  expect((await messageTo(office, 'tomas@merrowdale.example')).subject).toBe(
    'Priya Nandakumar shares 2026-11-28_LK05_Inspection_Shared.docx with you',
  )
  await beside.getByRole('link', { name: 'All that was given, and why' }).focus()
  await page.keyboard.press('Escape')
  await expect(beside).toBeHidden()
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('.')
  await expect(paper(page)).toHaveText('Levels at LK05.')
})
