// npm run screenshots: one picture of each main view, from fresh demo data.
import { chownSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buildAll } from './lib/build.mjs'
import { installDebian, installNpm, paperFonts, postgresPrograms } from './lib/packages.mjs'
import { databaseAccount, freePort, root } from './lib/places.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { run } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'

await run(async () => {
  installDebian(['postgresql', 'chromium', ...paperFonts], 'npm run screenshots')
  installNpm()
  await buildAll()
  const folder = join(root, 'docs/screenshots')
  mkdirSync(folder, { recursive: true })
  const scratch = mkdtempSync(join(tmpdir(), 'jaula-pictures-'))
  const account = databaseAccount()
  if (account) chownSync(scratch, account.uid, account.gid)
  const postgres = await startPostgres(postgresPrograms(), scratch, account)
  const port = await freePort()
  // Under a name that says nothing of the machine: administrators see where places are.
  const places = join(tmpdir(), 'Jaula')
  rmSync(places, { recursive: true, force: true })
  for (const folder of ['Network share', 'drives/Blue drive']) mkdirSync(join(places, folder), { recursive: true })
  const server = await startServer({
    DATABASE_URL: postgres.url,
    JAULA_OWNER_DATABASE_URL: postgres.ownerUrl,
    JAULA_PORT: String(port),
    JAULA_COPY_FOLDERS: join(places, 'Network share'),
    JAULA_COPY_DRIVES: join(places, 'drives'),
    JAULA_STAND_INS: join(places, 'stand-ins'),
    JAULA_KEY_FILE: join(places, 'key'),
    JAULA_DEMO_DRIVE: join(places, 'Old office drive'),
  })
  const { chromium } = await import('@playwright/test')
  const { default: pg } = await import('pg')
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  })
  try {
    const url = `http://127.0.0.1:${port}`
    const open = async (name, options = {}) => {
      const page = await (
        await browser.newContext({ viewport: { width: 1280, height: 800 }, timezoneId: 'UTC', ...options })
      ).newPage()
      await page.goto(url)
      await page.getByRole('button', { name: new RegExp(name) }).click()
      await page.getByRole('heading', { name: /^Good / }).waitFor()
      return page
    }
    const shoot = async (page, name) => {
      await page.evaluate(() => document.fonts.ready)
      await page.mouse.move(640, 799)
      await page.screenshot({ path: join(folder, `${name}.png`), animations: 'disabled' })
    }
    const at = (page, name) => page.getByRole('link', { name, exact: true }).click()

    const ida = await open('Ida Thornquist')
    await ida.getByText('was interrupted').waitFor()
    await ida.getByRole('region', { name: 'Changed by others' }).waitFor()
    await ida.getByRole('button', { name: 'From a template' }).waitFor()
    await shoot(ida, 'desk')
    // A page that hangs, on what would be another computer.
    const hung = await open('Ida Thornquist')
    await hung.goto(`${url}/find?q=notice+lk03+beam`)
    await hung.getByRole('row').first().getByRole('link').first().click()
    const notice = hung.getByRole('textbox', { name: 'Document', exact: true })
    await notice.press('Control+End')
    await hung.keyboard.type(' The towpath is open again from Monday.')
    await hung.getByText('is on this computer').first().waitFor()
    hung
      .evaluate(() => {
        for (;;);
      })
      .catch(() => {})
    await ida.goto(`${url}/rescue`)
    await ida.getByText('28 words added').waitFor()
    await ida.getByText('does not answer any more').waitFor({ timeout: 60_000 })
    await shoot(ida, 'rescue')
    await ida.getByTestId('piece').first().getByRole('button', { name: 'Look inside' }).click()
    await ida.locator('.marked-added').first().waitFor()
    await ida.goto(`${url}/settings`)
    await ida.getByRole('button', { name: '5 seconds', exact: true }).click()
    await ida.goto(`${url}/rescue`)
    await ida.goto(`${url}/files`)
    await ida
      .getByRole('link', { name: /Waterways/ })
      .first()
      .click()
    await at(ida, 'Inspections')
    await at(ida, 'Older')
    await ida.getByText('Copy of inspection').waitFor()
    await shoot(ida, 'files')
    await ida.goto(url)
    await ida
      .getByRole('link', { name: /Gate-paddles/ })
      .first()
      .click()
    await ida.getByRole('textbox', { name: 'Document' }).waitFor()
    await shoot(ida, 'document')
    await ida.goto(`${url}/files`)
    await ida
      .getByRole('link', { name: /Waterways/ })
      .first()
      .click()
    await at(ida, 'Notices')
    await at(ida, '2026')
    await ida.getByRole('button', { name: 'New document' }).click()
    await ida.getByRole('textbox', { name: 'Document' }).waitFor()
    await ida.keyboard.type(
      '# Stoppage at LK03\nThe lock closes from 7 to 11 December for the renewal of its upper gate.\n- Boats wait above BR03.\nThe towpath stays open.',
    )
    await ida.keyboard.press('Control+s')
    await ida.getByRole('form', { name: 'Filing slip' }).getByText('Balance-beam').waitFor()
    await shoot(ida, 'filing-slip')
    const priya = await open('Priya Nandakumar')
    await priya.goto(`${url}/history?q=greenheart`)
    await priya.locator('mark').first().waitFor()
    await shoot(priya, 'history')
    // What somebody outside sees who was given a link.
    await priya.goto(`${url}/files`)
    await priya.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Waterways' }).click()
    await at(priya, 'Inspections')
    await priya.getByRole('heading', { name: 'Inspections' }).waitFor()
    await at(priya, 'Who can reach it')
    await priya.getByRole('button', { name: 'Make a link …' }).click()
    await priya.getByLabel('For whom').fill('Assessors of the county')
    await priya.getByLabel('Until the end of').fill('2026-12-18')
    await priya.getByRole('combobox', { name: 'May' }).selectOption('edit')
    await priya.getByRole('button', { name: 'Make the link' }).click()
    const outside = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
    await outside.goto(await priya.getByTestId('link-address').textContent())
    for (const folder of ['2026', 'LK07']) await outside.getByRole('button', { name: folder }).click()
    await outside.getByRole('button', { name: /Gate-paddles/ }).click()
    await outside.locator('iframe').waitFor()
    await shoot(outside, 'link')
    await priya.goto(`${url}/names`)
    await priya.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Waterways' }).click()
    await priya.getByRole('tab', { name: 'Audit' }).click()
    await priya.locator('.js-plotly-plot').nth(1).waitFor()
    await shoot(priya, 'audit')
    await priya.goto(`${url}/files`)
    await priya.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Waterways' }).click()
    await at(priya, 'Take a drive over')
    await priya.getByRole('button', { name: 'Choose a folder of the server' }).click()
    await priya.getByRole('button', { name: 'Look at Old office drive' }).click()
    await priya.getByRole('button', { name: /^Made of several files/ }).click()
    await priya
      .getByRole('button', { name: /^Made of 3 files/ })
      .first()
      .click()
    await shoot(priya, 'take-over')

    const ben = await open('Ben Marlowe')
    await ben
      .getByRole('link', { name: /Maintenance_Budget/ })
      .first()
      .click()
    await ben.getByTestId('glide-cell-1-11').waitFor({ state: 'attached' })
    // A line below the headings, of those that are beside the cells.
    await ben.keyboard.press('Control+Home')
    await ben.keyboard.press('Shift+Control+ArrowRight')
    await ben.keyboard.press('Alt+l')
    const looks = ben.getByRole('region', { name: 'Look of the cells' })
    await looks.getByLabel('Kind of line').selectOption('2 solid')
    await looks.getByRole('button', { name: 'Below', exact: true }).click()
    await ben.getByTestId('data-grid-canvas').focus()
    // A formula that is made by pointing: far below what is there, of cells that are in sight.
    await ben.keyboard.press('Control+Home')
    await ben.keyboard.press('Control+ArrowDown')
    for (const key of ['ArrowDown', 'ArrowDown', 'ArrowRight', 'ArrowRight']) await ben.keyboard.press(key)
    await ben.keyboard.type('=SUM(')
    for (const key of ['ArrowUp', 'ArrowUp', 'Shift+Control+ArrowUp']) await ben.keyboard.press(key)
    await shoot(ben, 'spreadsheet')
    await ben.keyboard.press('Escape')
    await ben.keyboard.press('Control+z')
    await looks.getByRole('button', { name: 'Close', exact: true }).click()
    // A booklet on its way, with a jam.
    const printing = await open('Ben Marlowe')
    await printing.goto(`${url}/find?q=offer+wherry`)
    await printing.getByRole('row').first().getByRole('link').first().click()
    await printing.getByRole('textbox', { name: 'Document', exact: true }).waitFor()
    writeFileSync(join(places, 'stand-ins/printer/faults.json'), JSON.stringify({ jam: 1 }))
    await printing.keyboard.press('Control+p')
    await printing.getByRole('button', { name: 'What is printed, and how' }).click()
    await printing.getByLabel('Pages on a side').selectOption('booklet')
    await printing.getByRole('button', { name: 'As wide as the window' }).click()
    await printing.locator('canvas[data-drawn]').first().waitFor()
    await printing.getByRole('button', { name: 'Print', exact: true }).click()
    await printing.getByText('Front office has stopped').waitFor({ timeout: 30_000 })
    await printing.getByRole('region', { name: 'Its pages' }).locator('canvas[data-drawn]').first().waitFor()
    await shoot(printing, 'pages')
    await ben.keyboard.press('Alt+m')
    await ben.getByRole('combobox', { name: 'To' }).fill('nell.harker@assessors.example')
    await ben.keyboard.press('Enter')
    await ben.getByRole('combobox', { name: 'To' }).fill('Priya')
    await ben.getByRole('option', { name: /Priya/ }).click()
    await ben.getByLabel('What to say with it, if wished').fill('The rows for your ledger, Nell.')
    await ben.getByRole('combobox', { name: 'What do they need?' }).selectOption('csv')
    await ben.getByText('Not in what they get:').waitFor()
    await shoot(ben, 'sending')
    await ben.getByRole('button', { name: 'Cancel' }).click()
    // Whatever was saved is described soon after.
    await ben.getByTestId('moment-told').getByText('changed').waitFor({ timeout: 30_000 })
    const lifeline = ben.getByRole('slider', { name: 'Lifeline' })
    await lifeline.focus()
    for (let step = 0; step < 12; step++) await ben.keyboard.press('ArrowLeft')
    await ben.getByTestId('looking-bar').getByText('Version 30').waitFor()
    await ben.getByText('Since then').waitFor()
    await ben.getByTestId('moment-told').getByText('changed').waitFor({ timeout: 60_000 })
    await shoot(ben, 'lifeline')
    await ben.getByRole('button', { name: 'Compare with now' }).click()
    await ben.getByTestId('comparison').getByText('changes').waitFor()
    await ben.keyboard.press('n')
    await ben.getByText('1 of').waitFor()
    await priya.goto(`${url}/copies/retention`)
    await priya.getByRole('link', { name: 'Finance' }).click()
    await priya.getByRole('button', { name: 'Set a rule' }).click()
    await priya.getByLabel('then one a day').fill('90')
    await priya.getByLabel('then one a week').fill('150')
    await priya.getByTestId('preview').getByText('14 versions').waitFor()
    await priya.locator('.js-plotly-plot').waitFor()
    await shoot(priya, 'retention')

    // Copies at two places, of which one has rotted in one bit, and what the chart shows after some weeks.
    await priya.goto(`${url}/copies`)
    await priya.getByRole('button', { name: 'Use for copies' }).click()
    const blue = priya.getByRole('region', { name: 'Blue drive' })
    await blue.getByText('44 of 44').waitFor({ timeout: 60_000 })
    await blue.getByText('never').first().waitFor({ state: 'detached', timeout: 60_000 })
    const rotten = join(places, 'drives/Blue drive/Office/data/Letters/2026-002_IT_Volunteers-at-LK07.docx')
    const bytes = readFileSync(rotten)
    bytes[100] ^= 1
    writeFileSync(rotten, bytes)
    await blue.getByRole('button', { name: 'Read all of it again' }).click()
    await priya.getByText('It was repaired').waitFor({ timeout: 60_000 })
    const database = new pg.Client({ connectionString: postgres.url })
    await database.connect()
    await database.query(`insert into copy_sample
      select copy_id, at - make_interval(hours => 12 * n), versions, greatest(0, versions - n % 9 % 4), case when n between 20 and 27 then 0 else versions - n % 9 % 4 end,
        n % 9 % 4 * 21600 from copy_sample, generate_series(1, 80) n`)
    await database.end()
    await priya.reload()
    await priya.locator('.js-plotly-plot').nth(2).waitFor()
    await priya.setViewportSize({ width: 1280, height: 1010 })
    await shoot(priya, 'copies')
    await priya.setViewportSize({ width: 1280, height: 800 })

    // Two people at one document: where both wrote, one chooses.
    const [one, two] = [await open('Ida Thornquist'), await open('Ben Marlowe')]
    await one
      .getByRole('link', { name: /Gate-paddles/ })
      .first()
      .click()
    await one.getByRole('textbox', { name: 'Document' }).waitFor()
    await two.goto(one.url())
    for (const [page, month] of [
      [one, 'July'],
      [two, 'August'],
    ]) {
      await page.locator('.ProseMirror p').nth(2).click()
      await page.keyboard.press('End')
      await page.keyboard.type(` To be caulked by ${month}.`)
      await page
        .getByText(/is on (this computer|the server)/)
        .first()
        .waitFor()
    }
    await one.keyboard.press('Control+s')
    await one
      .getByText(/This is version|Saved as version/)
      .first()
      .waitFor()
    await two.keyboard.press('Control+s')
    await two.getByTestId('choices').waitFor()
    await shoot(two, 'merge')

    // What a firm sent, with its notes and a comment that is chosen.
    const dark = await open('Ben Marlowe', { colorScheme: 'dark' })
    await dark.goto(`${url}/find?q=offer+wherry`)
    await dark.getByRole('row').first().getByRole('link').first().click()
    const letter = dark.getByRole('textbox', { name: 'Document', exact: true })
    await letter.getByRole('img', { name: /^Comment/ }).click()
    await dark.getByText('Does this hold for both hands?').waitFor()
    await shoot(dark, 'dark')

    // What a program does that writes over what it finds.
    await priya.evaluate(async () => {
      const read = async (path) => (await fetch(path)).json()
      const send = (path, body) =>
        fetch(path, { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } })
      const share = (await read('/api/shares')).find(({ name }) => name === 'Waterways')
      const { files } = await read(`/api/shares/${share.id}/audit`)
      for (const [id] of files.slice(0, 14)) {
        const { file } = await read(`/api/files/${id}`)
        await fetch(`/api/files/${id}/versions?baseId=${file.head.id}&key=${crypto.randomUUID()}`, {
          method: 'POST',
          body: `scrambled ${id}`,
        })
      }
      const renamed = files
        .slice(0, 2)
        .map(([id, , name]) => ({ id, name: `locked.${id.slice(0, 4)}.${name.split('.').pop()}` }))
      await send('/api/acts', { id: crypto.randomUUID(), what: 'rename', changes: renamed })
      const removed = files.slice(2, 5).map(([id]) => ({ id }))
      await send('/api/acts', { id: crypto.randomUUID(), what: 'remove', changes: removed })
    })
    await priya.goto(`${url}/files`)
    await priya
      .getByRole('link', { name: /Waterways/ })
      .first()
      .click()
    await priya.getByRole('link', { name: 'As it was at a moment' }).click()
    await priya.getByRole('region', { name: 'What differs' }).waitFor()
    await shoot(priya, 'moment')

    // People, their groups, and a folder that is for one of these alone.
    await priya.evaluate(async () => {
      const read = async (path) => (await fetch(path)).json()
      const send = async (path, method, body) => {
        const headers = { 'content-type': 'application/json' }
        return (await fetch(path, { method, body: JSON.stringify(body), headers })).text()
      }
      const named = [
        ['Wilma Aldous', 'wilma', ['Field']],
        ['Otto Brand', 'otto', ['Field', 'Tenders']],
        ['Una Farrow', 'una', ['Volunteers']],
      ]
      await send('/api/people', 'POST', { people: named.map(([name, handle, groups]) => ({ name, handle, groups })) })
      const { people, groups } = await read('/api/directory')
      const id = (handle) => people.find((one) => one.handle === handle).id
      const group = (name) => groups.find((one) => one.name === name)
      const inGroup = (name, ...handles) =>
        send(`/api/groups/${group(name).id}`, 'PUT', { name, members: handles.map((one) => ({ personId: id(one) })) })
      await inGroup('Field', 'ida', 'wilma', 'otto')
      await inGroup('Tenders', 'ben', 'otto')
      await inGroup('Volunteers', 'tomas', 'una')
      const share = (await read('/api/shares')).find(({ name }) => name === 'Waterways')
      const { entries } = await read(`/api/shares/${share.id}/entries`)
      const folder = entries.find(({ name }) => name === 'Inspections').id
      const give = (at, subject, role, until = null) =>
        send(`/api/access/${at}/grants`, 'POST', { subject, role, until })
      await give(share.id, { groupId: group('Volunteers').id }, 'view')
      await give(folder, { groupId: group('Field').id }, 'edit')
      await give(folder, { personId: id('ben') }, 'view', new Date(Date.now() + 30 * 86_400_000).toISOString())
      await send(`/api/access/${folder}/rights`, 'PUT', { from: 'here' })
    })
    await priya.goto(`${url}/files`)
    await priya.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Waterways' }).click()
    await at(priya, 'Inspections')
    await priya.getByRole('heading', { name: 'Inspections' }).waitFor()
    await at(priya, 'Who can reach it')
    await priya.getByRole('row', { name: /Wilma/ }).waitFor()
    await priya.goto(`${url}/people`)
    await priya.getByRole('button', { name: 'Ida Thornquist' }).click()
    await priya.getByText('Through Field').first().waitFor()
    await shoot(priya, 'people')
  } finally {
    await browser.close()
    await server.stop()
    await postgres.stop()
    for (const folder of [scratch, places]) rmSync(folder, { recursive: true, force: true })
  }
})
