// People come, are given something, lose it while they write, and go.
import type { Page } from '@playwright/test'
import { command, enterByKeys } from './flows'
import { expect, fileAs, paper, reach, signIn, test } from './office'

test.use({ apart: 'people' })

/** Chooses somebody in the field that has the focus, by keys. */
async function choose(page: Page, part: string): Promise<void> {
  await page.keyboard.type(part)
  await expect(page.getByRole('option', { selected: true, name: new RegExp(part) })).toBeVisible()
  await page.keyboard.press('Enter')
}

test('somebody is added, enters with a code, is given a share, and loses it while writing: the work stays theirs', async ({
  page,
  office,
  browser,
}) => {
  // The administrator, by keys.
  await enterByKeys(page, office.url, 'priya')
  await command(page, 'Add people')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByLabel('Name', { exact: true })).toBeFocused()
  await page.keyboard.type('Wilma Aldous')
  await expect(dialog.getByLabel('Signs in with')).toHaveValue('wilma')
  await page.keyboard.press('Enter')
  const code = page.getByTestId('code')
  await expect(code).toBeVisible()
  const given = (await code.textContent())!
  await page.keyboard.press('Escape')
  await expect(page.getByRole('row', { name: /Wilma Aldous/ })).toContainText('Has a code, not used yet')

  // She enters with it.
  const wilma = await (await browser.newContext()).newPage()
  await wilma.goto(office.url)
  await wilma.getByRole('button', { name: 'I have a code' }).click()
  await expect(wilma.getByLabel('Sign-in name')).toBeFocused()
  await wilma.keyboard.type('wilma')
  await wilma.keyboard.press('Tab')
  await wilma.keyboard.type('AAAA-BBBB-CCCC-DDDD')
  await wilma.keyboard.press('Tab')
  await wilma.keyboard.type('reeds and towpath')
  await wilma.keyboard.press('Enter')
  await expect(wilma.getByText('This name and code do not belong together.')).toBeVisible()
  await wilma.getByLabel('Code', { exact: true }).fill(given.toLowerCase())
  await wilma.keyboard.press('Enter')
  await expect(wilma.getByRole('heading', { name: /^Good / })).toBeVisible()
  await wilma.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Files' }).click()
  await expect(wilma.getByText('You are not a member of any share')).toBeVisible()

  // She is given a share, and sees it without asking.
  await page.getByRole('link', { name: 'Files', exact: true }).click()
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /^Office/ })
    .click()
  await page.getByRole('link', { name: 'Who can reach it' }).click()
  await expect(page.getByRole('heading', { name: 'Who can reach Office?' })).toBeVisible()
  await page.getByLabel('Give somebody a right here').focus()
  await choose(page, 'Wilma')
  await page.keyboard.press('Enter')
  const everybody = page.getByRole('region', { name: /can reach it/ })
  await expect(everybody.getByRole('row', { name: /Wilma Aldous/ })).toContainText('May editGiven to the person')
  await expect(wilma.getByRole('heading', { name: 'Office' })).toBeVisible()

  // She writes, and it is taken from her in the middle of it.
  await wilma.keyboard.press('Alt+n')
  await expect(paper(wilma)).toBeFocused()
  await wilma.keyboard.type('The reeds are cut. ')
  await wilma.keyboard.press('Control+s')
  await fileAs(wilma, 'Reeds')
  await wilma.keyboard.type('The boat needs paint.')
  await expect(reach(wilma)).toContainText('Not in version 1 yet')
  await page.getByRole('button', { name: 'Take it from Wilma Aldous' }).click()
  await expect(everybody.getByRole('row', { name: /Wilma Aldous/ })).toHaveCount(0)
  // Told in the open editor, before anything is pressed; writing goes on.
  await expect(wilma.getByText('This file is not here any more, or not for you.')).toBeVisible()
  await wilma.keyboard.type(' And rope.')
  await wilma.keyboard.press('Control+s')
  await expect(paper(wilma)).toHaveText('The reeds are cut. The boat needs paint. And rope.')
  await expect(wilma.getByText('This is not here any more, or you may not see it.')).toBeVisible()

  // Nothing of it is lost: it is hers in Rescue, and goes on as a file of its own where she may write.
  await wilma.reload()
  await wilma.goto(`${office.url}/rescue`)
  await expect(wilma.getByText('The reeds are cut').first()).toBeVisible()

  // Her account is closed: she is out at once, and what she had goes to Priya.
  await page.getByRole('link', { name: 'People', exact: true }).click()
  await page.getByRole('button', { name: 'Wilma Aldous' }).click()
  // Where it is moves once it is known what she can reach.
  await page.getByRole('button', { name: 'Close the account' }).press('Enter')
  await page.getByLabel('Hand over to').selectOption({ label: 'Priya Nandakumar' })
  await page.getByRole('dialog').getByRole('button', { name: 'Close the account' }).click()
  await expect(page.getByText(/nobody signs in with this account/)).toBeVisible()
  await expect(wilma.getByText('Sign in again to go on')).toBeVisible()
  await page.getByRole('link', { name: 'Rescue', exact: true }).click()
  await expect(page.getByRole('region', { name: 'Found after an interruption' })).toContainText('Reeds.docx')
  await wilma.context().close()
})

test('a list of people: a wrong line is told and nobody is added; then all are, each with a code', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  await page.getByRole('link', { name: 'People', exact: true }).click()
  await page.getByRole('button', { name: 'Add people' }).click()
  const list = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })
  await page
    .getByLabel('From a list …')
    .setInputFiles(list('wrong.csv', 'Name;Sign-in name;Groups\nUna Farrow;una;Field\n;otto;Field\nIda Elm;ida;\n'))
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('2 lines are not right. Nobody was added.')
  await expect(dialog.getByRole('listitem')).toHaveText([
    'Line 3There is no name.',
    'Line 4Somebody signs in with ida already.',
  ])
  await dialog.getByRole('button', { name: 'Back' }).click()
  // Somebody else adds one of them while the list is looked at.
  await page
    .getByLabel('From a list …')
    .setInputFiles(list('late.csv', 'Name;Sign-in name\nAda Reed;ada\nFinn Holt;finn\n'))
  await expect(dialog.getByRole('row')).toHaveCount(2)
  const meanwhile = await page.request.post(`${office.url}/api/people`, {
    data: { people: [{ handle: 'finn', name: 'Finn Aske' }] },
    headers: { origin: office.url },
  })
  expect(meanwhile.ok()).toBe(true)
  await dialog.getByRole('button', { name: 'Add 2 people' }).click()
  await expect(dialog).toContainText('One line is not right. Nobody was added.')
  await expect(dialog.getByRole('listitem')).toHaveText(['Line 3Somebody signs in with finn already.'])
  await dialog.getByRole('button', { name: 'Back' }).click()
  await page
    .getByLabel('From a list …')
    .setInputFiles(list('right.csv', 'Name;Sign-in name;Groups\nUna Farrow;una;Field\nOtto Brand;;Field\nIda Elm;;\n'))
  await expect(dialog.getByRole('row')).toHaveText([/Una FarrowunaField/, /Otto BrandottoField/, /Ida Elmida\.elm/])
  await dialog.getByRole('button', { name: 'Add 3 people' }).click()
  await expect(dialog.getByRole('heading', { name: 'Codes for 3 people' })).toBeVisible()
  const saved = page.waitForEvent('download')
  await dialog.getByRole('button', { name: 'Save as a list' }).click()
  expect((await saved).suggestedFilename()).toBe('Codes.csv')
  await dialog.getByRole('button', { name: 'I have them' }).click()
  await expect(page.getByRole('row', { name: /Otto Brand/ })).toContainText('Field')
  await page.getByRole('tab', { name: 'Groups' }).click()
  await expect(page.getByRole('button', { name: /^Field/ })).toContainText('2 people · was given nothing yet')
})

test('a folder is only for a group, a file is opened to one more, and each sees why', async ({
  page,
  office,
  browser,
}) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  // A group of one.
  await page.getByRole('link', { name: 'People', exact: true }).click()
  await page.getByRole('tab', { name: 'Groups' }).click()
  await page.getByRole('button', { name: 'New group' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toBeFocused()
  await page.keyboard.type('Tenders')
  await page.getByLabel('Put into this group').focus()
  await choose(page, 'Ben')
  await page.getByRole('button', { name: 'Make the group' }).click()
  await expect(page.getByRole('button', { name: /^Tenders/ })).toContainText('1 person')
  // A folder of the office, for them alone.
  await page.getByRole('link', { name: 'Files', exact: true }).click()
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /^Office/ })
    .click()
  await page.getByRole('button', { name: 'New folder' }).click()
  await page.keyboard.type('Bids')
  await page.keyboard.press('Enter')
  await page.getByRole('link', { name: 'Bids', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Bids' })).toBeVisible()
  const ida = await (await browser.newContext()).newPage()
  await signIn(ida, office.url, 'Ida Thornquist')
  await ida.goto(page.url())
  await expect(ida.getByRole('heading', { name: 'Bids' })).toBeVisible()
  await page.getByRole('link', { name: 'Who can reach it' }).click()
  await page.getByLabel('Give somebody a right here').focus()
  await choose(page, 'Tenders')
  await page.getByRole('button', { name: 'Give it' }).click()
  await page.getByLabel('Only what is given here; who manages above stays').check()
  const everybody = page.getByRole('region', { name: /can reach it/ })
  await expect(everybody.getByRole('row', { name: /Ben Marlowe/ })).toContainText('Through Tenders')
  await expect(everybody.getByRole('row', { name: /Ida Thornquist/ })).toHaveCount(0)
  // What was given here does not end by a slip.
  await page.getByLabel('As in Office', { exact: true }).click()
  await expect(page.getByRole('dialog')).toContainText('1 right that was given here ends.')
  await page.keyboard.press('Escape')
  await expect(everybody.getByRole('row', { name: /Ben Marlowe/ })).toContainText('Through Tenders')
  // Who has it open sees it go, without doing anything.
  await expect(ida.getByText('This place does not exist, or you may not see it')).toBeVisible()
  await ida.context().close()
})

test('somebody asks for more in their words, a manager gives it from the Desk, and it comes to theirs', async ({
  page,
  office,
  browser,
}) => {
  await signIn(page, office.url, 'Tomas Wether')
  await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Files' }).click()
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /^Office/ })
    .click()
  await page.getByRole('link', { name: 'Who can reach it' }).click()
  await page.getByRole('button', { name: 'Ask for more' }).click()
  await expect(page.getByLabel('What for')).toBeFocused()
  await page.keyboard.type('I write the minutes now.')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Asked. The answer comes on your Desk.')).toBeVisible()
  await page.getByRole('link', { name: 'Desk', exact: true }).click()
  // The manager is there already, and hears of it without asking.
  const priya = await (await browser.newContext()).newPage()
  await signIn(priya, office.url, 'Priya Nandakumar')
  const asked = priya.getByRole('region', { name: 'Given and asked' })
  await expect(asked).toContainText('Tomas Wether asks to edit Office')
  await expect(asked).toContainText('“I write the minutes now.”')
  await priya.getByRole('button', { name: 'Give Tomas Wether what they ask for in Office', exact: true }).click()
  await expect(asked).toHaveCount(0)
  const given = page.getByRole('region', { name: 'Given and asked' })
  await expect(given).toContainText('Office: you may edit')
  await page.getByRole('button', { name: 'Seen: Office' }).click()
  await expect(given).toHaveCount(0)
  // A sentence goes along with what is given.
  await priya.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Files' }).click()
  await priya
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /^Office/ })
    .click()
  await priya.getByRole('link', { name: 'Who can reach it' }).click()
  await priya.getByLabel('Give somebody a right here').focus()
  await choose(priya, 'Tomas')
  await priya.getByLabel('A sentence for their Desk, if you wish').fill('Until the new clerk comes.')
  await priya.keyboard.press('Enter')
  await expect(given).toContainText('“Until the new clerk comes.”')
  await priya.context().close()
})

test('what is watched comes to the Desk when others save there, and leads to what differs since', async ({
  page,
  office,
  browser,
}) => {
  await signIn(page, office.url)
  await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Files' }).click()
  await page
    .getByRole('navigation', { name: 'Shares' })
    .getByRole('link', { name: /^Waterways/ })
    .click()
  await page.getByRole('link', { name: 'Who can reach it' }).click()
  await page.getByLabel('Show on my Desk what others save in Waterways').focus()
  await page.keyboard.press('Space')
  await expect(page.getByLabel('Show on my Desk what others save in Waterways')).toBeChecked()
  await page.getByRole('link', { name: 'Desk', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Used last' })).toBeVisible()
  const ben = await (await browser.newContext()).newPage()
  await signIn(ben, office.url, 'Ben Marlowe')
  await ben.keyboard.press('Alt+f')
  await expect(ben.getByRole('combobox', { name: 'Find files' })).toBeFocused()
  await ben.keyboard.type('gate-paddles')
  await ben
    .getByRole('grid', { name: 'Found files' })
    .getByRole('link', { name: /Gate-paddles/ })
    .first()
    .click()
  await paper(ben).press('Control+End')
  await ben.keyboard.type(' The paddles turn again.')
  await ben.keyboard.press('Control+s')
  await expect(reach(ben)).toContainText('Saved as version')
  const fresh = page.getByRole('region', { name: 'New where you watch' })
  await expect(fresh).toContainText('1 file saved by Ben Marlowe')
  await fresh.getByRole('link', { name: 'Waterways' }).click()
  await expect(page.getByRole('region', { name: 'What differs' })).toContainText('Gate-paddles')
  await page.goto(office.url)
  await fresh.getByRole('button', { name: 'Seen: Waterways' }).click()
  await expect(fresh).toHaveCount(0)
  await ben.context().close()
})
