// A file along time: looking at it as it was, bringing parts back, comparing, following a place, keeping.
import type { Page } from '@playwright/test'
import type { Saved } from '../core/contract'
import { expect, fileAs, type Office, paper, reach, signIn, test, writeNew } from './office'

const lifeline = (page: Page) => page.getByRole('slider', { name: 'Lifeline' })
const then = (page: Page) => page.getByTestId('earlier-version')
const lines = (page: Page) => paper(page).locator('p')

/** Opens a file by what its name holds. */
async function openNamed(page: Page, office: Office, name: string): Promise<void> {
  const [row] = await office.query('select id from entry where name like $1', [`%${name}%`])
  await page.goto(`${office.url}/open/${row!.id}`)
}
/** Looks at a version by the list, which may not know of it at once. */
async function lookAt(page: Page, number: number): Promise<void> {
  await page.keyboard.press('Alt+v')
  await page.getByRole('button', { name: new RegExp(`^Version ${number} `) }).click()
  await page.keyboard.press('Alt+v')
  await expect(page.getByTestId('looking-bar')).toContainText(`Version ${number} of`)
  await expect(then(page)).toBeVisible()
}
/** A document of three versions. */
async function threeVersions(page: Page, office: Office, name: string): Promise<void> {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The gate leaks at the mitre.')
  await page.keyboard.press('Enter')
  await page.keyboard.type('The sill is dry and sound.')
  await page.keyboard.press('Control+s')
  await fileAs(page, name)
  await lines(page).first().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Badly.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('version 2')
  // The second paragraph goes, and another one comes.
  await lines(page).last().click({ clickCount: 3 })
  await page.keyboard.type('Caulk it before June.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('version 3')
}

test('the file is shown as it was, step by step with the keyboard, by zoom, by drag and by a typed date', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya')
  await openNamed(page, office, 'Maintenance_Budget')
  await expect(page.getByTestId('grid')).toBeVisible()
  await expect(lifeline(page)).toHaveAttribute('aria-valuemax', '42')
  await lifeline(page).focus()
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByTestId('looking-bar')).toContainText('Version 40')
  await expect(page.getByTestId('since')).toContainText(/Since then: \d cells? changed/)
  await expect(then(page)).toBeVisible()
  await expect(lifeline(page)).toBeFocused()
  await expect(lifeline(page)).toHaveAttribute(
    'aria-valuetext',
    /^Version 40, .* Priya Nandakumar\. .*cells? changed in ‹2026›/,
  )
  await page.keyboard.press('Home')
  await expect(page.getByTestId('looking-bar')).toContainText('Version 1 of')
  // Zoom from a year to days and back; the chosen moment stays in sight.
  const span = async () =>
    Number(await lifeline(page).getAttribute('data-to')) - Number(await lifeline(page).getAttribute('data-from'))
  const whole = await span()
  for (let times = 0; times < 7; times++) await page.keyboard.press('+')
  expect(await span()).toBeLessThan(whole / 100)
  await page.keyboard.press('0')
  // Now goes on meanwhile.
  expect(Math.abs((await span()) - whole)).toBeLessThan(whole / 1000)
  const box = (await lifeline(page).boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + 20)
  await page.mouse.wheel(0, -800)
  await expect.poll(span).toBeLessThan(whole / 2)
  await page.keyboard.press('0')
  // Drag along it.
  await page.mouse.move(box.x + box.width * 0.3, box.y + 20)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.5, box.y + 20, { steps: 8 })
  await page.mouse.up()
  await expect(page.getByTestId('looking-bar')).toContainText(/Version (19|20|21|22) of/)
  // A date as people say it: the file as it was at the end of that day.
  const go = page.getByRole('textbox', { name: 'Go to a time' })
  await go.fill('1 Mar 2026')
  await go.press('Enter')
  await expect(page.getByTestId('looking-bar')).toContainText('of 25 Feb')
  await go.fill('whenever')
  await go.press('Enter')
  await expect(page.getByText('Jaula does not understand this time.')).toBeVisible()
  // Nothing is written there, and Escape comes back.
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled()
  await lifeline(page).focus()
  await page.keyboard.press('Escape')
  await expect(then(page)).toBeHidden()
  await expect(lifeline(page)).toHaveAttribute('aria-valuetext', 'Now: your work as it is.')
})

test('a paragraph, and a look alone, come back into the work and can be undone; nothing else is touched', async ({
  page,
  office,
}) => {
  await threeVersions(page, office, '2026-11-25_LK09_Letter_Back')
  await page.keyboard.type(' And tell the volunteers.')
  await lookAt(page, 2)
  await expect(page.getByTestId('looking-bar')).toContainText('Version 2')
  await expect(then(page).locator('.marked-removed').first()).toHaveText('The sill is dry and sound.')
  // Without a place nothing is brought back.
  await page.getByRole('button', { name: 'Bring back' }).click()
  await page.getByRole('menuitem', { name: 'The selected paragraphs or table' }).click()
  await expect(page.getByText('Select what you want back')).toBeVisible()
  await then(page).getByText('The sill is dry').click()
  // It is for looking: typing changes nothing.
  await page.keyboard.type('x')
  await expect(then(page).locator('p').last()).toHaveText('The sill is dry and sound.')
  await page.getByRole('button', { name: 'Bring back' }).click()
  await page.getByRole('menuitem', { name: 'The selected paragraphs or table' }).click()
  await expect(lines(page)).toHaveText([
    'The gate leaks at the mitre. Badly.',
    'The sill is dry and sound.',
    'Caulk it before June. And tell the volunteers.',
  ])
  await page.keyboard.press('Control+z')
  await expect(lines(page)).toHaveCount(2)
  await page.keyboard.press('Control+y')
  await expect(lines(page)).toHaveCount(3)
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('version 4')
  // A look alone: the words of now, looking as they did.
  await lines(page).first().click({ clickCount: 3 })
  await page.keyboard.press('Control+b')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('version 5')
  await lines(page).first().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Now.')
  await lookAt(page, 4)
  await expect(page.getByTestId('since')).toContainText('another look in 1 place')
  await then(page).getByText('The gate leaks').click()
  await page.getByRole('button', { name: 'Bring back' }).click()
  await page.getByRole('menuitem', { name: 'Only how the selected part looks' }).click()
  await expect(lines(page).first()).toHaveText('The gate leaks at the mitre. Badly. Now.')
  await expect(lines(page).first().locator('strong')).toHaveText(/^( Now\.)?$/)
})

test('cells and a sheet come back on the rows where they are now', async ({ page, office }) => {
  await signIn(page, office.url, 'Priya')
  await openNamed(page, office, 'Maintenance_Budget')
  await expect(page.getByTestId('grid')).toBeVisible()
  // The list opens from within the grid, which has the keyboard, too.
  await expect.poll(() => page.evaluate(() => !!document.activeElement?.closest('[data-testid=grid]'))).toBe(true)
  await page.keyboard.press('Alt+v')
  await expect(page.getByRole('list', { name: 'Versions' })).toBeVisible()
  await page.keyboard.press('Alt+v')
  await expect(page.getByRole('list', { name: 'Versions' })).toBeHidden()
  await lifeline(page).focus()
  await page.keyboard.press('Home')
  await expect(page.getByTestId('looking-bar')).toContainText('Version 1 of')
  await expect(then(page)).toBeVisible()
  // The first cell is chosen; the heading is the same, so nothing has to be brought back.
  await page.getByRole('button', { name: 'Bring back' }).click()
  await page.getByRole('menuitem', { name: 'The selected cells' }).click()
  await expect(page.getByText('Nothing to bring back')).toBeVisible()
  await page.getByRole('button', { name: 'Bring back' }).click()
  await page.getByRole('menuitem', { name: 'This whole sheet' }).click()
  await expect(then(page)).toBeHidden()
  await expect(reach(page)).not.toContainText('This is version 41')
  await expect(page.getByTestId('grid')).toHaveAttribute('data-rows', '10')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByTestId('grid')).toHaveAttribute('data-rows', '12')
})

test('two versions are picked and compared; a place is followed back; a version is kept, copied and restored', async ({
  page,
  office,
}) => {
  await threeVersions(page, office, '2026-11-25_LK09_Letter_Followed')
  await page.keyboard.press('Alt+v')
  const list = page.getByRole('list', { name: 'Versions' })
  await expect(list.getByRole('listitem')).toHaveCount(3)
  await expect(list.getByRole('heading', { name: 'Today' })).toBeVisible()
  await expect(list.getByRole('listitem').nth(1)).toContainText('1 word added')
  await page.getByRole('checkbox', { name: 'Pick version 1' }).check()
  await page.getByRole('checkbox', { name: 'Pick version 3' }).check()
  await page.getByRole('button', { name: 'Compare 1 with 3' }).click()
  const comparison = page.getByTestId('comparison')
  await expect(page.getByTestId('comparison-summary')).toHaveText('5 words added, 6 removed.')
  await expect(comparison.getByRole('list', { name: 'What differs' }).getByRole('listitem')).toHaveCount(3)
  await page.keyboard.press('n')
  await expect(comparison.getByText('1 of 3')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(comparison).toBeHidden()
  // Where the first paragraph changed, from the work that has moved on since.
  await lines(page).first().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Today.')
  await page.getByRole('button', { name: 'Where what is selected changed' }).click()
  await expect(page.getByText('It changed in 2 versions')).toBeVisible()
  await expect(list.getByRole('listitem')).toHaveCount(2)
  await expect(list.getByRole('listitem').first()).toContainText(
    'The gate leaks at the mitre. → The gate leaks at the mitre. Badly.',
  )
  await page.getByRole('button', { name: 'Show all versions again' }).click()
  await page.getByLabel('Who').selectOption('Ida Thornquist')
  await expect(list.getByRole('listitem')).toHaveCount(3)
  // A label keeps it.
  await page.getByRole('button', { name: 'More for version 2' }).click()
  await page.getByRole('menuitem', { name: 'Keep it under a label' }).click()
  await page.getByRole('textbox', { name: 'Label' }).fill('As sent')
  await page.keyboard.press('Enter')
  await expect(list.getByRole('listitem').nth(1)).toContainText('As sent')
  await page.getByLabel('Why').selectOption('kept under a label')
  await expect(list.getByRole('listitem')).toHaveCount(1)
  // From there a copy, and its exact bytes.
  await page.getByRole('button', { name: 'More for version 2' }).click()
  await page.getByRole('menuitem', { name: 'Save it as a copy' }).click()
  await expect(page.getByRole('heading', { name: 'Save version 2 as a copy' })).toBeVisible()
  await page.keyboard.type('2026-11-25_LK09_Letter_Copied')
  await page.getByRole('button', { name: 'Save the copy' }).click()
  await expect(page.getByText('The copy is saved as 2026-11-25_LK09_Letter_Copied.docx.')).toBeVisible()
  const rows = await office.query(
    `select e.name, v.sha256 = o.sha256 as same from entry e join version v on v.id = e.head_version_id
     join version o on o.id = e.origin_version_id where e.name like '%Letter_Copied%' and o.number = 2`,
  )
  expect(rows).toEqual([{ name: '2026-11-25_LK09_Letter_Copied.docx', same: true }])
})

test('a copy shows what its origin changed since, and takes in a part of it, then the rest', async ({
  page,
  office,
}) => {
  await threeVersions(page, office, '2026-11-25_LK09_Letter_Origin')
  const origin = page.url()
  await page.keyboard.press('Alt+c')
  await expect(page.getByRole('heading', { name: 'Save a copy' })).toBeVisible()
  await page.keyboard.type('2026-11-25_LK09_Letter_Pulls')
  await page.getByRole('button', { name: 'Save the copy' }).click()
  await expect(page.getByText('The copy is saved as')).toBeVisible()
  // The origin moves on in two places.
  await lines(page).first().click()
  await page.keyboard.press('Home')
  await page.keyboard.type('Today: ')
  await lines(page).last().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Or July.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('version 4')
  // The copy has a change of its own.
  await openNamed(page, office, 'Letter_Pulls')
  await expect(lines(page).last()).toHaveText('Caulk it before June.')
  await expect(page.getByText('has changed since: Ida Thornquist saved its version 4')).toBeVisible()
  await lines(page).first().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Own.')
  await page.getByRole('button', { name: 'See what changed' }).click()
  await expect(page.getByTestId('origin-summary')).toContainText('3 words added')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByRole('listitem')).toHaveCount(2)
  await dialog.getByRole('checkbox').last().uncheck()
  await dialog.getByRole('button', { name: 'Bring in 1 change' }).click()
  await expect(lines(page)).toHaveText(['Today: The gate leaks at the mitre. Badly. Own.', 'Caulk it before June.'])
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('version 2')
  await page.reload()
  await page.getByRole('button', { name: 'See what changed' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in all of it' }).click()
  await expect(lines(page)).toHaveText([
    'Today: The gate leaks at the mitre. Badly. Own.',
    'Caulk it before June. Or July.',
  ])
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('version 3')
  // Once it is saved there is nothing left to take in.
  await expect
    .poll(() =>
      office.query(
        `select o.number from entry e join version o on o.id = e.origin_version_id where e.name like '%Letter_Pulls%'`,
      ),
    )
    .toEqual([{ number: 4 }])
  await page.reload()
  await expect(lines(page)).toHaveCount(2)
  await expect(page.getByRole('button', { name: 'See what changed' })).toBeHidden()
  expect(origin).not.toBe(page.url())
})

test('in the filing slip, work is combined with the file that is there', async ({ page, office }) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The gate leaks at the mitre.')
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-25_LK09_Letter_Combined')
  await writeNew(page, office.url, 'The sill is dry and sound.')
  await page.keyboard.press('Control+s')
  const field = page.getByRole('textbox', { name: 'Name' })
  await expect(field).toBeFocused()
  await page.keyboard.type('2026-11-25_LK09_Letter_Combined')
  await page.getByRole('button', { name: 'Combine with what is there' }).click()
  // Both stand there, and what both wrote in one place is to be chosen.
  await expect(paper(page)).toContainText('The gate leaks at the mitre.')
  await expect(paper(page)).toContainText('The sill is dry and sound.')
  await page.getByRole('button', { name: 'Keep both' }).click()
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('version 2')
  await page.reload()
  await expect(lines(page)).toHaveCount(2)
})

test('a file of another type has its lifeline too: text is compared by its lines, a version restored', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya')
  const [{ id: share }] = (await office.query("select id from share where name = 'Waterways'")) as unknown as [
    { id: string },
  ]
  const send = async (path: string, text: string) => {
    const answer = await page.request.post(`${office.url}/api/files${path}&key=${crypto.randomUUID()}`, {
      headers: { 'content-type': 'application/octet-stream', origin: office.url },
      data: Buffer.from(text),
    })
    expect(answer.ok()).toBe(true)
    return (await answer.json()) as Saved
  }
  const before = 'Day, level\nMonday, 1.2\n'
  const saved = await send(`?shareId=${share}&name=Levels-as-noted.log`, before)
  const { id } = saved.file
  await send(`/${id}/versions?baseId=${saved.version.id}`, before.replace('Day,', 'Date,'))
  await page.goto(`${office.url}/open/${id}`)
  await expect(page.getByText('does not edit them. 2 versions.')).toBeVisible()
  await expect(page.getByTestId('earlier-version')).toContainText('Date,')
  await expect(page.getByRole('list', { name: 'Versions' }).getByRole('listitem').first()).toContainText(
    '1 word added, 1 removed',
    { timeout: 60_000 },
  )
  await lifeline(page).focus()
  await page.keyboard.press('Home')
  await expect(page.getByTestId('earlier-version')).toContainText('Day,')
  await page.getByRole('button', { name: 'Compare with now' }).click()
  await expect(page.getByTestId('comparison-summary')).toHaveText('1 word added, 1 removed.')
  await page.getByRole('button', { name: 'Done' }).click()
  await page.getByRole('button', { name: 'Restore version 1' }).click()
  await page.getByRole('button', { name: 'Restore as version 3' }).click()
  await expect(page.getByText('3 versions.', { exact: false }).first()).toBeVisible()
  await expect(page.getByTestId('earlier-version')).toContainText('Day,')
})

test('recovery points stand on the lifeline: one is looked at, and a sentence comes back from it', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya')
  await page.goto(`${office.url}/settings`)
  await page.getByRole('button', { name: '5 seconds', exact: true }).click()
  await writeNew(page, office.url, 'The gate leaks at the mitre.')
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-25_LK09_Letter_Points')
  await lines(page).first().click()
  await page.keyboard.press('End')
  await page.keyboard.type(' The sill is dry.')
  await expect(reach(page)).toContainText('on the server. Not in version 1 yet.')
  // What was there at the point goes again, before it was ever saved.
  for (let letter = 0; letter < ' The sill is dry.'.length; letter++) await page.keyboard.press('Backspace')
  await page.keyboard.type(' Badly.')
  await lifeline(page).focus()
  await expect
    .poll(
      async () => {
        const shown = await then(page)
          .textContent({ timeout: 500 })
          .catch(() => '')
        if (shown?.includes('The sill is dry.')) return shown
        // Point by point back from now, and again when none held it yet.
        const bar = await page
          .getByTestId('looking-bar')
          .textContent({ timeout: 500 })
          .catch(() => '')
        await page.keyboard.press(bar?.startsWith('Version 1') ? 'End' : 'ArrowLeft')
        return shown ?? ''
      },
      { intervals: [700], timeout: 30_000 },
    )
    .toContain('The sill is dry.')
  await expect(page.getByTestId('looking-bar')).toContainText('Recovery point of')
  await expect(lifeline(page)).toHaveAttribute('aria-valuetext', /^Recovery point/)
  await then(page).getByText('The sill is dry.').click()
  await page.getByRole('button', { name: 'Bring back' }).click()
  await page.getByRole('menuitem').first().click()
  await expect(lines(page)).toHaveText(['The gate leaks at the mitre. The sill is dry.'])
  await page.keyboard.press('Control+z')
  await expect(lines(page)).toHaveText(['The gate leaks at the mitre. Badly.'])
})

test('two versions of an image are compared by eye: side by side, one over the other, and where they differ', async ({
  page,
  office,
}) => {
  await signIn(page, office.url, 'Priya')
  // A gate beam, and one that has shortened.
  const drawn = (width: number) =>
    page.evaluate((wide) => {
      const canvas = document.createElement('canvas')
      ;[canvas.width, canvas.height] = [320, 120]
      const pen = canvas.getContext('2d')!
      pen.fillStyle = '#b8862b'
      pen.fillRect(20, 40, wide, 40)
      return canvas.toDataURL('image/png').split(',')[1]!
    }, width)
  const [share] = await office.query("select id from share where name = 'Waterways'")
  let head = ''
  let file = ''
  for (const width of [280, 200]) {
    const where = file
      ? `files/${file}/versions?key=${crypto.randomUUID()}&baseId=${head}`
      : `files?key=${crypto.randomUUID()}&shareId=${share!.id}&name=Beam.png`
    const answer = await page.request.post(`${office.url}/api/${where}`, {
      headers: { 'content-type': 'application/octet-stream', origin: office.url },
      data: Buffer.from(await drawn(width), 'base64'),
    })
    expect(answer.ok()).toBe(true)
    const saved = await answer.json()
    ;[file, head] = [saved.file.id, saved.version.id]
  }
  await page.goto(`${office.url}/open/${file}`)
  await lifeline(page).focus()
  await page.keyboard.press('Home')
  await page.getByRole('button', { name: 'Compare with now' }).click()
  const comparison = page.getByTestId('comparison')
  await expect(comparison.getByRole('img')).toHaveCount(2)
  /** The colour in the middle of what the shorter beam no longer covers, on screen. */
  const there = async () => {
    const newer = comparison.getByRole('img').last()
    const box = (await newer.boundingBox())!
    const shot = await page.screenshot({
      clip: { x: box.x + (box.width * 250) / 320, y: box.y + box.height / 2, width: 2, height: 2 },
    })
    return page.evaluate(async (png) => {
      const bytes = Uint8Array.from(atob(png), (letter) => letter.charCodeAt(0))
      const image = await createImageBitmap(new Blob([bytes]))
      const canvas = document.createElement('canvas')
      const pen = canvas.getContext('2d')!
      pen.drawImage(image, 0, 0)
      return [...pen.getImageData(0, 0, 1, 1).data.slice(0, 3)]
    }, shot.toString('base64'))
  }
  await page.getByRole('radio', { name: 'One over the other' }).check()
  await page.getByRole('slider', { name: 'How much of the newer one' }).fill('100')
  const beam = [0xb8, 0x86, 0x2b]
  // The older one shines through where the newer one is empty.
  expect(await there()).toEqual(beam)
  await page.getByRole('radio', { name: 'Where they differ' }).check()
  expect(await there()).toEqual(beam)
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(page.getByRole('button', { name: 'Restore version 1' })).toBeVisible()
})

test('in a file of thousands of versions the list opens at the moment on show; with the server away a moment comes later', async ({
  page,
  office,
}) => {
  await threeVersions(page, office, '2026-11-25_LK09_Letter_Thousands')
  await office.query(
    `insert into version (id, file_id, number, sha256, size, type, author_id, at, reason, request_key)
     select gen_random_uuid(), v.file_id, 3 + n, o.sha256, o.size, v.type, v.author_id,
       v.at + n * interval '1 minute', 'saved', gen_random_uuid()
     from version v join entry e on e.id = v.file_id cross join generate_series(1, 3000) n
       join version o on o.file_id = v.file_id and o.number = 1 + 2 * (n % 2)
     where e.name like '%Letter_Thousands%' and v.number = 3`,
  )
  await office.query(
    `update entry set head_version_id = (select id from version where file_id = entry.id and number = 3003)
     where name like '%Letter_Thousands%'`,
  )
  await page.reload()
  await expect(page.getByRole('button', { name: '3,003 versions' })).toBeVisible()
  // The page takes the focus once, when it is there.
  await expect(async () => {
    await lifeline(page).focus()
    await page.keyboard.press('Home')
    await expect(page.getByTestId('looking-bar')).toContainText('Version 1 of', { timeout: 2000 })
  }).toPass()
  await page.keyboard.press('Alt+v')
  const row = (number: number) => page.getByRole('button', { name: new RegExp(`^Version ${number} `) })
  await expect(row(1)).toBeFocused()
  await page.keyboard.press('Home')
  await expect(row(3003)).toBeFocused()
  for (let times = 0; times < 40; times++) await page.keyboard.press('ArrowDown')
  await expect(row(2963)).toBeFocused()
  const list = page.getByRole('list', { name: 'Versions' })
  expect(await list.getByRole('listitem').count()).toBeLessThan(100)
  // Who looks further down with the wheel goes on from the row that the keys are at.
  await list.hover()
  await page.mouse.wheel(0, 40_000)
  await expect(row(2963)).not.toBeInViewport()
  await page.keyboard.press('ArrowUp')
  await expect(row(2964)).toBeFocused()
  await page.keyboard.press('ArrowDown')
  await expect(row(2963)).toBeFocused()
  // Escape closes a row's menu, and not the list with it.
  await page.getByRole('button', { name: 'More for version 2963' }).click()
  await expect(page.getByRole('menu')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('menu')).toBeHidden()
  await expect(row(2963)).toBeVisible()
  await office.killServer()
  await row(2962).click()
  await expect(page.getByTestId('earlier-version')).toContainText('The server does not answer right now.')
  await office.startServer()
  await expect(then(page)).toContainText('The gate leaks at the mitre.')
})
