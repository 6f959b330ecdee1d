import type { Page } from '@playwright/test'
import { expect, fileAs, kept, paper, reach, signIn, test, writeNew } from './office'

const slip = (page: Page) => page.getByRole('form', { name: 'Filing slip' })
const wholeName = (page: Page) => page.getByRole('textbox', { name: 'Name', exact: true })
const part = (page: Page, label: string) => page.getByRole('combobox', { name: label })
const list = (page: Page) => page.getByRole('grid', { name: 'Files and folders' })
const row = (page: Page, name: string | RegExp) => list(page).getByRole('row').filter({ hasText: name })

/** Goes to a folder in Files by walking there. */
async function walk(page: Page, url: string, share: string, ...folders: string[]): Promise<void> {
  await page.goto(`${url}/files`)
  await page.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: share }).click()
  for (const folder of folders) {
    await list(page).getByRole('link', { name: folder, exact: true }).click()
    await expect(page.getByRole('heading', { level: 1 })).toContainText(folder)
  }
}

/** Makes a file of text where the list is, without the editor. */
async function bring(page: Page, name: string, text = name): Promise<void> {
  await page
    .getByLabel('Choose files to bring in')
    .setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) })
  await expect(row(page, name)).toBeVisible()
}

async function makeFolder(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'New folder' }).click()
  await page.getByRole('textbox', { name: 'Name' }).fill(name)
  await page.keyboard.press('Enter')
  await expect(row(page, name)).toBeVisible()
}

/** Undoes what a message tells of. */
const undo = (page: Page, told: string) =>
  page.getByRole('listitem').filter({ hasText: told }).getByRole('button', { name: 'Undo' }).click()

test('the filing slip proposes parts and a place from the content; three keystrokes save', async ({ page, office }) => {
  await signIn(page, office.url)
  await walk(page, office.url, 'Waterways', 'Notices')
  await page.getByRole('button', { name: 'New document' }).click()
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('# Stoppage at LK05\nThe lock closes for a week.')
  await page.keyboard.press('Control+s')
  await expect(part(page, 'Code')).toHaveValue('LK05')
  await expect(part(page, 'Kind')).toHaveValue('Notice')
  await expect(part(page, 'Subject')).toHaveValue('Stoppage')
  await expect(page.getByTestId('full-path')).toContainText(/Waterways \/ Notices \/ \d{4} \/ LK05 \/ /)

  // A part by its label, and the place follows by the rule.
  await part(page, 'Kind').fill('Surveys')
  await page.keyboard.press('Tab')
  await expect(page.getByTestId('full-path')).toContainText(
    /Waterways \/ Surveys \/ \d{4} \/ LK05 \/ .*_LK05_Survey_Stoppage\.docx/,
  )
  // The whole name, parsed back into parts; one that does not follow says which part is wrong.
  await wholeName(page).fill('2026-12-01_BR03_Letter_To-the-boat-club')
  await expect(part(page, 'Code')).toHaveValue('BR03')
  await expect(part(page, 'Date')).toHaveValue('2026-12-01')
  await wholeName(page).fill('2026-12-01_LK77_Letter_To-the-boat-club final')
  await expect(slip(page)).toContainText('This name does not follow ‹Waterways files›')
  await expect(slip(page)).toContainText('No need for ‹final›')
  await expect(part(page, 'Code')).toHaveAttribute('aria-invalid', 'true')
  await page.keyboard.press('Escape')

  await page.keyboard.press('Control+s')
  await expect(wholeName(page)).toHaveValue(/_LK05_Notice_Stoppage$/)
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  const [{ folders }] = (await office.query(
    `select array(select f.name from entry f where f.id in (e.folder_id, (select folder_id from entry where id = e.folder_id))) as folders
     from entry e where e.name like '%_LK05_Notice_Stoppage.docx'`,
  )) as unknown as [{ folders: string[] }]
  expect(folders).toContain('LK05')
})

test('a file that is pointed at lends its name; a same name is a next version or a free one, never a bare yes', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await walk(page, office.url, 'Waterways', 'Notices', '2026', 'LK03')
  await page.getByRole('button', { name: 'New document' }).click()
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('The beam is in place again.')
  await page.keyboard.press('Control+s')
  await page.getByRole('button', { name: /2026-09-21_LK03_Notice_Balance-beam/ }).click()
  await expect(wholeName(page)).toHaveValue('2026-09-21_LK03_Notice_Balance-beam')
  await expect(slip(page)).toContainText('A file with this name is here already: version 1, saved 21 Sep')
  await expect(slip(page)).toContainText('by Ida Thornquist')
  await expect(page.getByRole('button', { name: 'Save as 2026-09-21_LK03_Notice_Balance-beam-2.docx' })).toBeVisible()
  await expect(slip(page).getByRole('button', { name: 'Save here' })).toBeHidden()
  await page.getByRole('button', { name: 'Save as its version 2' }).click()
  await expect(reach(page)).toContainText('Saved as version 2')
  await page.getByRole('button', { name: /2 versions/ }).click()
  await page.getByRole('button', { name: /^Version 1 / }).click()
  await expect(page.getByTestId('earlier-version')).toContainText('A balance beam is replaced.')
})

test('save as and save a copy say what will exist; a copy keeps its origin', async ({ page, context, office }) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  await walk(page, office.url, 'Office')
  await page.getByRole('button', { name: 'New document' }).click()
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('Moorings in winter.')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Moorings')
  await page.keyboard.press('Alt+c')
  await wholeName(page).fill('Moorings for the club')
  await expect(slip(page)).toContainText(
    'Afterwards there are two files: Moorings for the club.docx with the work as it is now, and Moorings.docx. You go on in Moorings.docx.',
  )
  await page.keyboard.press('Enter')
  await expect(page.getByText('The copy is saved as Moorings for the club.docx')).toBeVisible()
  const opened = context.waitForEvent('page')
  await page.getByRole('button', { name: 'Open the copy' }).click()
  const copy = await opened
  await expect(paper(copy)).toHaveText('Moorings in winter.')
  await copy.getByRole('button', { name: /1 version/ }).click()
  await expect(copy.getByTestId('origin')).toContainText('Copied from Moorings.docx, version 1.')

  await paper(page).press('Control+End')
  await page.keyboard.type(' And in spring.')
  await page.keyboard.press('Control+Shift+S')
  await wholeName(page).fill('Moorings in spring')
  await expect(slip(page)).toContainText('You go on in Moorings in spring.docx')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  await expect(page.locator('header')).toContainText('Moorings in spring.docx')
  const [{ n }] = (await office.query(
    "select count(*)::int as n from version v join entry e on e.id = v.file_id where e.name = 'Moorings.docx'",
  )) as unknown as [{ n: number }]
  expect(n).toBe(1)
})

test('everything open is saved at once, in every tab, with a result for each', async ({ page, context, office }) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'First of two.')
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-01_LK01_Letter_First')
  await paper(page).press('Control+End')
  await page.keyboard.type(' More.')
  const other = await context.newPage()
  await writeNew(other, office.url, 'Never named.')
  await kept(other)
  await other.keyboard.press('Alt+s')
  const all = other.getByRole('dialog')
  await expect(all).toContainText('Has unsaved changes')
  await expect(all).toContainText('Has no name yet')
  await all.getByRole('button', { name: 'Save all 2' }).click()
  await expect(all).toContainText('Saved as version 2')
  await expect(all.getByRole('status')).toContainText('1 of 2 saved')
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect(all).toContainText(/needs a name/i)
})

test('two who take one new name at the same moment: one gets it, the other is given a choice', async ({
  page,
  browser,
  office,
}) => {
  const second = await (await browser.newContext()).newPage()
  await signIn(page, office.url)
  await signIn(second, office.url, 'Ben Marlowe')
  for (const one of [page, second]) {
    await walk(one, office.url, 'Office', 'Letters')
    await one.getByRole('button', { name: 'New document' }).click()
    await expect(paper(one)).toBeFocused()
    await one.keyboard.type('# Race\nBoth at once.')
    await one.keyboard.press('Control+s')
    await expect(wholeName(one)).toBeFocused()
    await wholeName(one).fill('Both at once')
    await expect(slip(one).getByRole('button', { name: 'Save here' })).toBeEnabled()
  }
  await Promise.all([page.keyboard.press('Enter'), second.keyboard.press('Enter')])
  const won = async (one: Page) => (await reach(one).textContent())?.includes('Saved as version 1') ?? false
  await expect.poll(async () => (await won(page)) || (await won(second))).toBe(true)
  const loser = (await won(page)) ? second : page
  await expect(slip(loser)).toContainText(/is here already|has this name|taken/i)
  await loser.getByRole('button', { name: 'Save as its version 2' }).click()
  await expect(reach(loser)).toContainText('Saved as version 2')
  await second.context().close()
})

test('names change in the name line, in the list, by drag and in bulk; open work follows, old names still find', async ({
  page,
  context,
  office,
}) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  await walk(page, office.url, 'Office')
  await makeFolder(page, 'Boathouse')
  await list(page).getByRole('link', { name: 'Boathouse' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Boathouse')
  await makeFolder(page, 'Attic')
  await bring(page, 'Towpath plan.txt')
  await bring(page, 'Towpath list.txt')

  // In the list: the ending is not in the field, so it cannot be broken.
  await row(page, 'Towpath plan.txt').click({ position: { x: 500, y: 20 } })
  await page.keyboard.press('F2')
  const field = page.getByRole('textbox', { name: 'New name of Towpath plan.txt' })
  await expect(field).toHaveValue('Towpath plan')
  await field.fill('Towpath: map')
  await expect(list(page)).toContainText('This name has a colon')
  await field.fill('Towpath map')
  await field.press('Enter')
  await expect(row(page, 'Towpath map.txt')).toBeVisible()

  // By drag into a folder; undone from the same screen.
  await row(page, 'Towpath map.txt').hover({ position: { x: 400, y: 20 } })
  await page.mouse.down()
  const to = (await row(page, 'Attic').boundingBox())!
  await page.mouse.move(to.x + 200, to.y + 30, { steps: 4 })
  await page.mouse.move(to.x + 200, to.y + 20, { steps: 4 })
  await page.mouse.up()
  await expect(page.getByText('Towpath map.txt to Attic: moved.')).toBeVisible()
  await expect(row(page, 'Towpath map.txt')).toBeHidden()
  await undo(page, 'Towpath map.txt to Attic: moved.')
  await expect(row(page, 'Towpath map.txt')).toBeVisible()

  // Several at once, old beside new.
  await list(page).focus()
  await row(page, 'Towpath list.txt').click({ position: { x: 500, y: 20 } })
  await row(page, 'Towpath map.txt').click({ position: { x: 500, y: 20 }, modifiers: ['Control'] })
  await row(page, 'Towpath list.txt').click({ position: { x: 500, y: 20 }, modifiers: ['Control'] })
  await page.getByRole('group', { name: 'What is chosen' }).getByRole('button', { name: 'Rename …' }).click()
  await page.getByRole('textbox', { name: 'Replace' }).fill('Towpath')
  await page.getByRole('textbox', { name: 'With' }).fill('Bankside')
  await page.getByRole('button', { name: 'Rename 2' }).click()
  await expect(row(page, 'Bankside map.txt')).toBeVisible()
  await expect(row(page, 'Bankside list.txt')).toBeVisible()

  // In the name line, by its part; another page that has it open follows.
  await page.goto(`${office.url}/find?q=LK04+gate+beam+inspection`)
  await walk(page, office.url, 'Waterways', 'Inspections', '2026', 'LK04')
  await list(page).getByRole('link').first().click()
  await expect(page.getByTestId('name-line')).toBeVisible()
  const other = await context.newPage()
  await other.goto(page.url())
  await expect(other.getByTestId('name-line')).toBeVisible()
  await page.getByRole('button', { name: /^Subject: / }).click()
  await expect(part(page, 'Subject')).toBeFocused()
  await part(page, 'Subject').fill('Sill')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('full-path')).toContainText('Inspection_Sill')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('name-line')).toContainText('Inspection_Sill')
  await expect(other.getByTestId('name-line')).toContainText('Inspection_Sill')
  await page.goto(`${office.url}/find?q=tail+silt`)
  await expect(page.getByRole('grid', { name: 'Found files' })).toContainText('before:')
})

test('half a name in any order finds a file, with a slip too; it opens, or shows its folder', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await page.keyboard.press('Alt+f')
  const field = page.getByRole('combobox', { name: 'Find files' })
  await expect(field).toBeFocused()
  const found = page.getByRole('grid', { name: 'Found files' })
  // What was saved a moment ago may not be in the index yet.
  await expect(async () => {
    await field.fill('')
    await field.fill('padles lk07 insp')
    await expect(found.getByRole('row').first()).toContainText('2026-10-14_LK07_Inspection_Gate-paddles.docx', {
      timeout: 2000,
    })
  }).toPass({ timeout: 30_000 })
  await expect(page.getByRole('status')).toContainText('‹padles› was read as paddles')
  await expect(found.getByRole('row').first()).toContainText('Waterways / Inspections / 2026 / LK07')
  await field.fill('gate')
  await page
    .getByRole('complementary')
    .getByRole('button', { name: /^Notice/ })
    .click()
  await expect(found.getByRole('row')).toHaveCount(1)
  await page.getByRole('button', { name: /Notice/ }).click()
  await field.fill('windlass spindle')
  await expect(found.getByRole('row').first()).toContainText('found in its content')
  await field.fill('LK07 inspection paddles')
  await expect(found.getByRole('row').first()).toContainText('Gate-paddles')
  await page.keyboard.press('Shift+Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('LK07')
  await page.goBack()
  await page.keyboard.press('Enter')
  await expect(paper(page)).toContainText('Gate paddles at LK07')
})

test('a default place is chosen by browsing, and the slip begins there', async ({ page, office }) => {
  await signIn(page, office.url, 'Ben Marlowe')
  await page.goto(`${office.url}/settings`)
  await page.getByRole('button', { name: 'You: place for new documents' }).click()
  const place = page.getByRole('dialog').getByRole('region', { name: 'Place' })
  await place.getByRole('button', { name: 'Finance' }).click()
  await place.getByRole('button', { name: 'Tenders' }).click()
  await place.getByRole('button', { name: '2026' }).click()
  await page.getByRole('button', { name: 'Use this place' }).click()
  await expect(page.getByRole('button', { name: 'You: place for new documents' })).toContainText(
    'Finance / Tenders / 2026',
  )
  await writeNew(page, office.url, 'Offer for the quoin stones')
  await page.keyboard.press('Control+s')
  await expect(page.getByTestId('full-path')).toContainText('Finance / Tenders / 2026 /')
})

test('a template carries its values and is never overwritten by what begins from it', async ({ page, office }) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  await page.keyboard.press('Alt+k')
  await page.keyboard.type('New from Lock inspection')
  await expect(page.getByRole('option', { name: 'New from ‹Lock inspection›' })).toBeVisible()
  await page.keyboard.press('Enter')
  // The form, and nothing that an earlier inspection found.
  await expect(paper(page)).toContainText('What was found')
  await expect(paper(page)).not.toContainText('LK08')
  await paper(page).press('Control+Home')
  await page.keyboard.type('Upper gate at LK02: ')
  await page.keyboard.press('Control+s')
  await expect(part(page, 'Kind')).toHaveValue('Inspection')
  await expect(slip(page)).toContainText('from the template')
  await wholeName(page).fill('2026-11-20_LK02_Inspection_Upper-gate')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
  const rows = (await office.query(
    "select count(*)::int as versions from version v join entry e on e.id = v.file_id where e.name = '2025-01-08_Inspection_Form.docx'",
  )) as unknown[]
  expect(rows).toEqual([{ versions: 1 }])

  await page.getByRole('button', { name: 'More for this file' }).click()
  await page.getByRole('menuitem', { name: 'Make a template of it' }).click()
  await page.getByRole('textbox', { name: 'Name of the template' }).fill('Upper gate at LK02')
  await page.getByRole('button', { name: 'Make the template' }).click()
  await expect(page.getByText('The template Upper gate at LK02 is version 1')).toBeVisible()
  await page.goto(`${office.url}/names`)
  await page.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Waterways' }).click()
  await page.getByRole('tab', { name: 'Templates' }).click()
  const made = page.getByRole('listitem').filter({ hasText: 'Upper gate at LK02' })
  await expect(made).toContainText('Named by ‹Waterways files›')
  await made.getByRole('button', { name: 'Remove it' }).click()
  await expect(made).toBeHidden()
})

test('a convention is built by its parts: an ambiguous one is refused with a name that reads in two ways', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  await page.goto(`${office.url}/names`)
  await page.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Office' }).click()
  await page.getByRole('tab', { name: 'Lists' }).click()
  await page.getByRole('button', { name: 'New list' }).click()
  await page.getByRole('textbox', { name: 'What it lists' }).fill('Rooms')
  await page.keyboard.press('Enter')
  const csv = (text: string) =>
    page
      .getByLabel('CSV file of values')
      .setInputFiles({ name: 'rooms.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await expect(page.getByRole('region', { name: 'Rooms' })).toBeVisible()
  await csv('code,label\nHALL,The hall\nHA/LL,Another\nhall,Twice\n')
  await expect(page.getByRole('dialog')).toContainText('rooms.csv cannot be brought in')
  await expect(page.getByRole('dialog')).toContainText(/Line 3: .*symbol \//)
  await expect(page.getByRole('dialog')).toContainText(/Line 4: .*already/)
  await page.getByRole('button', { name: 'OK' }).click()
  await expect(page.getByText('No values yet.')).toBeVisible()
  await csv('code,label\nHALL,The hall\nYARD,The yard\n')
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await expect(page.getByRole('textbox', { name: 'Label of YARD' })).toHaveValue('The yard')

  await page.getByRole('tab', { name: 'Conventions' }).click()
  await page.getByRole('button', { name: 'Another convention' }).click()
  await page.getByRole('textbox', { name: 'What it is called' }).fill('Bookings')
  await page.getByRole('dialog').getByRole('button', { name: 'Make it here' }).click()
  await expect(page.getByRole('heading', { name: 'What it gives' })).toBeVisible()
  await page.getByRole('button', { name: 'Add a part' }).click()
  await page.getByRole('menuitem', { name: 'Free words' }).click()
  const before = page.getByRole('textbox', { name: 'Before it' })
  await before.last().fill('-')
  const faults = page.getByTestId('rule-faults')
  await expect(faults).toContainText(/The name .* could be read as .*, or as .*/)
  const keep = page.getByRole('button', { name: /Use it from now on, as version/ })
  await expect(keep).toBeDisabled()
  await before.last().fill('_')
  await expect(faults).toContainText('Every name it gives can be read back in one way only.')
  await page.getByRole('button', { name: 'Remove Free words' }).click()
  await page.getByRole('button', { name: 'Add a part' }).click()
  await page.getByRole('menuitem', { name: 'From a list' }).click()
  await expect(page.getByRole('complementary', { name: 'What it gives' })).toContainText(/_HALL/)
  await keep.click()
  await expect(page.getByText(/‹Bookings› applies as version 2/)).toBeVisible()

  await page.getByRole('tab', { name: 'Bench' }).click()
  await page.getByRole('combobox', { name: 'Read by' }).selectOption({ label: 'Bookings' })
  await page.getByRole('textbox', { name: 'A name to try' }).fill('3 May 2026 Spring fair yard')
  const typed = page.getByRole('list', { name: 'Names, part by part' }).getByRole('listitem').first()
  await expect(typed).toContainText('2026-05-03')
  await expect(typed).toContainText('2026-05-03_Spring-fair_YARD')
})

test('the audit shows what is wrong, corrects it as one act and undoes it as one', async ({ page, office }) => {
  await signIn(page, office.url, 'Priya Nandakumar')
  const names = async () =>
    (
      (await office.query(
        `select e.id, e.name, e.folder_id, (select count(*) from version v where v.file_id = e.id)::int as versions from entry e
         join share s on s.id = e.share_id where s.name = 'Waterways' and e.kind = 'file' and e.removed_at is null order by e.id`,
      )) as unknown as object[]
    ).map((entry) => JSON.stringify(entry))
  const before = await names()
  await page.goto(`${office.url}/names`)
  await page.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Waterways' }).click()
  await page.getByRole('tab', { name: 'Audit' }).click()
  const plan = page.getByRole('region', { name: 'Correction plan' })
  await expect(plan).toContainText(/\d+ sure, \d+ to check, 2 that clash/)
  await expect(
    plan.getByRole('textbox', { name: 'New name of 2025.04.22 LK06 Inspection Balance beam.docx' }),
  ).toHaveValue('2025-04-22_LK06_Inspection_Balance-beam')
  await expect(plan.getByRole('checkbox', { name: 'Correct Copy of inspection lock 8.docx' })).not.toBeChecked()
  await plan.getByRole('checkbox', { name: 'Correct Copy of inspection lock 8.docx' }).check()
  const button = plan.getByRole('button', { name: /^Correct \d+ names$/ })
  const going = Number((await button.textContent())!.match(/\d+/)![0])
  await button.click()
  await expect(page.getByRole('status')).toContainText(`${going} files corrected at once`)
  const after = await names()
  expect(after.filter((entry, index) => entry !== before[index])).toHaveLength(going)
  expect(after.join()).toContain('2025-07-11_LK08_Inspection_Chamber.docx')
  await page.getByRole('button', { name: 'Undo all of it' }).click()
  await expect(page.getByText('Undone: every name and place is as it was.')).toBeVisible()
  expect(await names()).toEqual(before)
  // The Desk knows what the last audit found, and leads back to it.
  await page.getByRole('link', { name: 'Desk', exact: true }).click()
  await page
    .getByRole('region', { name: 'Due' })
    .getByRole('link', { name: /^\d+ names in Waterways do not follow their convention\.$/ })
    .click()
  await expect(page.getByText(/of .* names follow/)).toBeVisible()
})

test('a removed file comes back at once, and later from the list of removed files, with its place', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Ben Marlowe')
  await walk(page, office.url, 'Office', 'Letters')
  await bring(page, 'Draining.txt')
  await row(page, 'Draining.txt').click({ position: { x: 500, y: 20 } })
  await page.keyboard.press('Delete')
  await expect(page.getByText('Draining.txt removed. You can get it back for 30 days.')).toBeVisible()
  await expect(row(page, 'Draining.txt')).toBeHidden()
  await undo(page, 'Draining.txt removed.')
  await expect(row(page, 'Draining.txt')).toBeVisible()
  await row(page, 'Draining.txt').click({ position: { x: 500, y: 20 } })
  await page.keyboard.press('Delete')
  await expect(row(page, 'Draining.txt')).toBeHidden()
  await page.getByRole('link', { name: 'Removed files' }).click()
  const removed = page
    .getByRole('list', { name: 'Removed files' })
    .getByRole('listitem')
    .filter({ hasText: 'Draining.txt' })
  await expect(removed).toContainText('Office / Letters')
  await removed.getByRole('button', { name: 'Bring back' }).click()
  await expect(removed).toBeHidden()
  await walk(page, office.url, 'Office', 'Letters')
  await expect(row(page, 'Draining.txt')).toBeVisible()
})

test('a list of files is put in order by its headings and narrowed to a kind, and says what it hides', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await walk(page, office.url, 'Waterways', 'Water', '2026')
  const names = () => list(page).getByRole('row').getByRole('link').allInnerTexts()
  const byName = await names()
  expect(byName.length).toBeGreaterThan(2)
  const heading = (name: string) => list(page).getByRole('columnheader', { name })
  await heading('Saved').getByRole('button').press('Enter')
  await expect(heading('Saved')).toHaveAttribute('aria-sort', 'ascending')
  await expect.poll(names).not.toEqual(byName)
  await heading('Saved').getByRole('button').press('Enter')
  await expect(heading('Saved')).toHaveAttribute('aria-sort', 'descending')
  // It stands in the address: a reload comes to the same list.
  const turned = await names()
  await page.reload()
  await expect.poll(names).toEqual(turned)
  await page.getByRole('button', { name: 'Types that are shown' }).press('Enter')
  await page.getByRole('menuitem', { name: 'Only spreadsheets' }).press('Enter')
  await expect(page.getByText(/Only folders and spreadsheets are shown/)).toBeVisible()
  await expect.poll(async () => (await names()).every((name) => !/\.(docx|odt|txt|pdf)$/.test(name))).toBe(true)
  await page.getByRole('button', { name: 'Show all' }).press('Enter')
  await expect.poll(async () => (await names()).length).toBe(byName.length)
})
