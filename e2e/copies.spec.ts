// Copies, from outside: what a person sees of them, rot that is found, and an office that burned and comes back.
import { execFileSync, spawnSync } from 'node:child_process'
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Locator } from '@playwright/test'
import { expect, fileAs, makeDatabase, type Office, paper, reach, signIn, startOffice, test, writeNew } from './office'

const server = (program: string) => join(import.meta.dirname, '../dist/server', program)
let root: string
test.beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'jaula-copies-'))
})
test.afterEach(() => rmSync(root, { recursive: true, force: true }))

test('the server copies by itself and says so; a bit that changes is repaired; a burned office is brought back', async ({
  page,
}) => {
  const site = join(root, 'network drive')
  mkdirSync(site)
  let addresses: Record<string, string> = {}
  const office = await startOffice(undefined, (env) => {
    addresses = env
    return { JAULA_COPY_FOLDERS: `${site}, ${join(root, 'drive')}` }
  })
  let again: Office | undefined
  try {
    await signIn(page, office.url)
    await writeNew(page, office.url, 'The paddles of the lower gate are worn.')
    await page.keyboard.press('Control+s')
    await fileAs(page, 'Worn paddles')
    // The next start finds it not copied, or copied a moment ago: either is told.
    await office.killServer()
    await office.query("update share_copy set copied_at = now() - interval '2 days'")
    await office.startServer()
    const copied = async () => {
      const [row] = await office.query(
        "select count(*)::int as n from copied_file c join entry e on e.id = c.file_id where e.name = 'Worn paddles.docx'",
      )
      return row!.n
    }
    await expect.poll(copied).toBe(1)
    const failing = async () => (await office.query('select from share_copy where failure is not null')).length
    await expect.poll(failing).toBeGreaterThan(0)
    await page.reload()
    await paper(page).waitFor()
    await reach(page).click()
    const steps = page.getByRole('dialog', { name: 'How far this work has got' })
    await expect(steps).toContainText(/Version 1 is in network drive, copied .*Checked /)
    await expect(steps).toContainText(/Copying to drive has not worked since .*: It is not there\./)

    const [of] = await office.query(
      "select s.name as share from share s join entry e on e.share_id = s.id where e.name = 'Worn paddles.docx'",
    )
    const bag = join(site, of!.share!)
    execFileSync('sha256sum', ['-c', '--quiet', '--strict', 'manifest-sha256.txt'], { cwd: bag })
    const listed = readFileSync(join(bag, 'manifest-sha256.txt'), 'utf8')
    const path = join(
      bag,
      listed
        .split('\n')
        .find((line) => line.endsWith('Worn paddles.docx'))!
        .slice(66),
    )
    const bytes = readFileSync(path)
    const rotten = Buffer.from(bytes)
    rotten[100]! ^= 4
    writeFileSync(path, rotten)
    const run = (program: string, ...args: string[]) =>
      execFileSync(process.execPath, [server(program), ...args], {
        env: { ...process.env, ...addresses },
        encoding: 'utf8',
      })
    expect(run('copy.js', site, '--check')).toMatch(/Worn paddles\.docx: wrong, repaired/)
    expect(readFileSync(path).equals(bytes)).toBe(true)

    // The server and its database are gone.
    await office.close()
    let told = ''
    again = await startOffice(undefined, (env) => {
      told = execFileSync(process.execPath, [server('restore.js'), site], {
        env: { ...process.env, ...env },
        encoding: 'utf8',
      })
      return { JAULA_DEMO: '0' }
    })
    const [, handle, password] = /Ida Thornquist: (\S+), (\S+)$/m.exec(told)!
    await page.goto(again.url)
    await expect(page.getByLabel('Password')).toBeVisible()
    await page.keyboard.type(handle!)
    await page.keyboard.press('Tab')
    await page.keyboard.type(password!)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible()
    await page.goto(`${again.url}/find?q=worn%20paddles`)
    await page
      .getByRole('link', { name: /Worn paddles/ })
      .first()
      .click()
    await expect(paper(page)).toContainText('The paddles of the lower gate are worn.')
    await expect(reach(page)).toContainText(`This is version 1 by Ida Thornquist`)
    await reach(page).click()
    await expect(page.getByRole('dialog', { name: 'How far this work has got' })).toContainText(
      'No copies of this share have been made.',
    )
  } finally {
    await office.close().catch(() => {})
    await again?.close()
  }
})

test('by keys alone copies are planned, made and read again; what rots is found, repaired and told; a drive comes and goes', async ({
  page,
}) => {
  const [network, drives] = [join(root, 'network'), join(root, 'drives')]
  for (const folder of [network, join(drives, 'Blue drive')]) mkdirSync(folder, { recursive: true })
  const office = await startOffice(undefined, () => ({ JAULA_COPY_FOLDERS: network, JAULA_COPY_DRIVES: drives }))
  const tabTo = async (name: string | RegExp, role: 'button' | 'radio' | 'combobox' = 'button') => {
    const wanted = page.getByRole(role, { name }).first()
    for (let steps = 0; steps < 80 && !(await wanted.evaluate((one) => one === document.activeElement)); steps++)
      await page.keyboard.press('Tab')
    await expect(wanted).toBeFocused()
  }
  try {
    await signIn(page, office.url, 'Priya')
    await page.keyboard.press('Alt+k')
    await page.keyboard.type('copies')
    await page.keyboard.press('Enter')
    const verdict = page.getByRole('heading', { level: 1 })
    await expect(verdict).toHaveText('If the server were gone now, nothing that was saved would be lost.')
    const blue = page.getByRole('region', { name: 'Blue drive' })
    await tabTo('Use for copies')
    await page.keyboard.press('Enter')
    await expect(blue.getByRole('row', { name: /Waterways/ })).toContainText(/today.*today/)

    // A plan of its own for one share: what it takes is told before it is set.
    await tabTo('More for Waterways')
    await page.keyboard.press('Enter')
    await page.getByRole('menuitem', { name: 'Plan…' }).press('Enter')
    await tabTo('All versions', 'radio')
    for (let down = 0; down < 2; down++) await page.keyboard.press('ArrowDown')
    await expect(page.getByRole('radio', { name: 'The latest version alone' })).toBeChecked()
    await expect(page.getByTestId('preview')).toContainText('Earlier versions would be lost with the server')
    await tabTo('How often', 'combobox')
    await page.keyboard.type('after')
    await page.keyboard.press('Tab')
    await page.keyboard.type('0')
    await expect(page.getByRole('alert')).toHaveText('Use a whole number, 1 or more.')
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type('3')
    await tabTo('Set the plan')
    await page.keyboard.press('Enter')
    const there = page.getByRole('region', { name: 'network' })
    await expect(there.getByRole('row', { name: /Waterways/ })).toContainText(
      'A plan of its own: The latest version of each file, after each change. All of it is read again every 3 days.',
    )

    // What is saved from now on is there soon after.
    await page.evaluate(async () => {
      const shares = (await (await fetch('/api/shares')).json()) as { id: string; name: string }[]
      const { id } = shares.find(({ name }) => name === 'Waterways')!
      const key = crypto.randomUUID()
      await fetch(`/api/files?shareId=${id}&name=Just%20now.txt&key=${key}`, { method: 'POST', body: 'just now' })
    })
    await expect.poll(() => existsSync(join(network, 'Waterways/data/Just now.txt'))).toBe(true)

    // A folder of it is not copied there, until its plan is ended.
    const folder = join(network, 'Waterways/data/Inspections/2026/LK02')
    expect(readdirSync(folder)).toHaveLength(1)
    await tabTo('More for Waterways')
    await page.keyboard.press('Enter')
    await page.getByRole('menuitem', { name: 'Plan for a folder…' }).press('Enter')
    await expect(page.getByRole('searchbox', { name: 'Which folder?' })).toBeFocused()
    await expect(page.getByRole('button', { name: 'Set the plan' })).toBeDisabled()
    await page.keyboard.type('lk02 insp')
    await expect(page.getByRole('listbox').getByRole('option')).toHaveText(['Inspections / 2026 / LK02'])
    await page.keyboard.press('ArrowDown')
    await expect(page.getByRole('listbox', { name: 'Folders' })).toBeFocused()
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(
      'What goes to network: Waterways / Inspections / 2026 / LK02',
    )
    await expect(page.getByTestId('preview')).toContainText('of 1 file')
    await page.keyboard.press('Tab')
    await expect(page.getByRole('radio', { name: 'All versions' })).toBeFocused()
    for (let down = 0; down < 3; down++) await page.keyboard.press('ArrowDown')
    await tabTo('Set the plan')
    await page.keyboard.press('Enter')
    const row = there.getByRole('row', { name: 'Inspections / 2026 / LK02' })
    await expect(row).toContainText('Nothing of it is copied.')
    await expect.poll(() => existsSync(folder) && readdirSync(folder).length).toBeFalsy()
    await tabTo('Plan for Inspections / 2026 / LK02…')
    await page.keyboard.press('Enter')
    await tabTo('End this plan')
    await page.keyboard.press('Enter')
    await expect(row).toBeHidden()
    await expect.poll(() => existsSync(folder) && readdirSync(folder).length).toBe(1)

    // A bit changes on the drive, and is found by reading all of it.
    const bag = join(drives, 'Blue drive/Waterways')
    const [line] = readFileSync(join(bag, 'manifest-sha256.txt'), 'utf8').split('\n')
    const path = join(bag, line!.slice(66))
    const bytes = readFileSync(path)
    const rotten = Buffer.from(bytes)
    rotten[rotten.length >> 1]! ^= 1
    writeFileSync(path, rotten)
    await blue.getByRole('button', { name: 'Read all of it again' }).press('Enter')
    const notWell = page.getByRole('region', { name: 'Not as it should be' })
    await expect(notWell).toContainText(/Waterways at Blue drive, today .*held something else\. It was repaired\./)
    expect(readFileSync(path).equals(bytes)).toBe(true)
    await page.reload()
    await expect(notWell).toContainText('It was repaired.')
    await notWell.getByRole('button', { name: 'Seen' }).press('Enter')
    await expect(notWell).toBeHidden()

    // The drive is pulled out, and comes back under another name.
    renameSync(join(drives, 'Blue drive'), join(root, 'pocket'))
    await page.reload()
    await expect(blue).toContainText('It is not there. Last there today')
    await expect(notWell).toBeHidden()
    renameSync(join(root, 'pocket'), join(drives, 'BLUE_1'))
    await page.reload()
    await expect(blue).toContainText(join(drives, 'BLUE_1'))

    // Nothing is mounted where the network was: nothing is written there, and the Desk tells.
    renameSync(network, join(root, 'elsewhere'))
    mkdirSync(network)
    await there.getByRole('button', { name: 'Copy now' }).press('Enter')
    await expect(notWell).toContainText('Perhaps nothing is mounted there.')
    await page.goto(office.url)
    await page.getByRole('link', { name: 'Copies to network do not work.' }).press('Enter')
    await expect(notWell).toContainText('have not been copied to network since today')
  } finally {
    await office.close()
  }
})

test('by keys alone copies go to another computer: its key is agreed to, what is wrong is said, and what is cut off goes on', async ({
  page,
}) => {
  const standIns = join(root, 'stand-ins')
  const office = await startOffice(undefined, () => ({
    JAULA_COPY_HOSTS: '127.0.0.1',
    JAULA_STAND_INS: standIns,
    JAULA_KEY_FILE: join(root, 'key'),
  }))
  const fault = (what: object) => writeFileSync(join(standIns, 'sftp/faults.json'), JSON.stringify(what))
  try {
    await signIn(page, office.url, 'Priya')
    await page.goto(`${office.url}/copies`)
    const add = page.getByRole('button', { name: 'Use another computer…' })
    await add.press('Enter')
    const dialog = page.getByRole('dialog')
    await expect(dialog.getByLabel('Address of the folder')).toBeFocused()
    await page.keyboard.type('sftp://store.tallwater.example/copies')
    await page.keyboard.press('Tab')
    await page.keyboard.type('jaula')
    await page.keyboard.press('Tab')
    await page.keyboard.type('guessed')
    await page.keyboard.press('Enter')
    await expect(dialog.getByRole('alert')).toContainText('The server may not be sent to store.tallwater.example')
    const port = readFileSync(join(standIns, 'sftp/port.txt'), 'utf8').trim()
    await page.keyboard.press('Shift+Tab')
    await page.keyboard.press('Shift+Tab')
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type(`sftp://127.0.0.1:${port}/copies`)
    await page.keyboard.press('Enter')
    await expect(dialog.getByRole('heading')).toHaveText('Is it the right computer?')
    await expect(dialog).toContainText(/SHA256:[A-Za-z0-9+/]{43}/)
    // Pressed in haste it agrees to nothing.
    await expect(dialog.getByRole('button', { name: 'Back' })).toBeFocused()
    await page.keyboard.press('Shift+Tab')
    await expect(dialog.getByRole('button', { name: 'It is the right one' })).toBeFocused()
    await page.keyboard.press('Enter')
    await expect(dialog.getByRole('alert')).toHaveText('127.0.0.1 does not let this name in with this password or key.')
    await page.keyboard.press('Tab')
    await page.keyboard.press('Enter')
    // What was typed is there still, but for what was wrong.
    await expect(dialog.getByLabel('Address of the folder')).toHaveValue(`sftp://127.0.0.1:${port}/copies`)
    await expect(dialog.getByLabel('Address of the folder')).toBeFocused()
    await page.keyboard.press('Tab')
    await page.keyboard.press('Tab')
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type('stand-in')
    // It is cut off in the middle of the first copying.
    fault({ vanishes: 150 })
    await page.keyboard.press('Enter')
    await expect(dialog.getByRole('button', { name: 'Back' })).toBeFocused()
    await page.keyboard.press('Shift+Tab')
    await page.keyboard.press('Enter')
    const there = page.getByRole('region', { name: 'copies', exact: true })
    const notWell = page.getByRole('region', { name: 'Not as it should be' })
    await expect(notWell).toContainText(/not been copied to copies since .*It does not answer as it should/)
    fault({})
    await there.getByRole('button', { name: 'Copy now' }).press('Enter')
    await expect(there.getByRole('row', { name: /Waterways/ })).toContainText(/today.*today/)
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(
      'If the server were gone now, nothing that was saved would be lost.',
    )
    await expect(notWell).toBeHidden()
    // Ordinary files over there.
    const bag = join(standIns, 'sftp/files/copies/Waterways')
    execFileSync('sha256sum', ['-c', '--quiet', '--strict', 'manifest-sha256.txt'], { cwd: bag })

    // From there everything comes back into a Jaula that has nothing: whoever brings it back agrees to the key, too.
    const empty = await makeDatabase()
    const [site] = await office.query('select host_key as key from copy_site')
    const key = String(site!.key)
    const restore = (more: Record<string, string>) =>
      spawnSync(process.execPath, [server('restore.js'), `sftp://127.0.0.1:${port}/copies`], {
        encoding: 'utf8',
        env: { ...process.env, DATABASE_URL: empty.url, JAULA_OWNER_DATABASE_URL: empty.ownerUrl, ...more },
      })
    expect(restore({}).stderr).toContain(`127.0.0.1 shows the key ${key}.`)
    const signedIn = { JAULA_PLACE_KEY: key, JAULA_PLACE_ACCOUNT: 'jaula', JAULA_PLACE_SECRET: 'stand-in' }
    expect(restore({ ...signedIn, JAULA_PLACE_SECRET: 'guessed' }).stderr).toContain('does not let this name in')
    const [all] = await office.query('select count(*)::int as n from version')
    const done = restore(signedIn)
    expect(done.stderr).toBe('')
    expect(done.stdout).toContain(`, ${all!.n} versions,`)

    await there.getByRole('button', { name: 'More for copies' }).press('Enter')
    await page.getByRole('menuitem', { name: 'Use it no more' }).press('Enter')
    await expect(dialog).toContainText('What was copied stays there as it is.')
    await dialog.getByRole('button', { name: 'Use it no more' }).press('Enter')
    await expect(there).toBeHidden()
    expect(existsSync(join(bag, 'bagit.txt'))).toBe(true)
  } finally {
    await office.close()
  }
})

test('bringing back is tried beside the Jaula that is there: what would not come back is an alarm until it would', async ({
  page,
}) => {
  const network = join(root, 'network')
  mkdirSync(network)
  const trial = await makeDatabase()
  const office = await startOffice(undefined, () => ({
    JAULA_COPY_FOLDERS: network,
    JAULA_TRIAL_DATABASE_URL: trial.url,
    JAULA_TRIAL_OWNER_DATABASE_URL: trial.ownerUrl,
  }))
  try {
    await signIn(page, office.url, 'Priya')
    await page.goto(`${office.url}/copies`)
    const there = page.getByRole('region', { name: 'network' })
    await expect(there.getByRole('row', { name: /Waterways/ })).toContainText(/today.*today/)
    const attempt = async () => {
      await there.getByRole('button', { name: 'More for network' }).press('Enter')
      await page.getByRole('menuitem', { name: 'Try bringing it back' }).press('Enter')
    }
    await attempt()
    await expect(there).toContainText('is under way.')
    await expect(there).toContainText(/On trial .* versions came back, each as it is here\./)
    const bag = join(network, 'Waterways')
    const [line] = readFileSync(join(bag, 'manifest-sha256.txt'), 'utf8').split('\n')
    const path = join(bag, line!.slice(66))
    const bytes = readFileSync(path)
    writeFileSync(path, 'not what it was')
    await attempt()
    const notWell = page.getByRole('region', { name: 'Not as it should be' })
    await expect(notWell).toContainText(/On trial .*nothing came back\. 1 version is not in the copies as saved/)
    await there.getByRole('button', { name: 'Read all of it again' }).press('Enter')
    await expect(notWell).toContainText('It was repaired.')
    expect(readFileSync(path).equals(bytes)).toBe(true)
    await attempt()
    await expect(notWell).not.toContainText('nothing came back')
    await expect(there).toContainText(/On trial .* versions came back, each as it is here\./)
  } finally {
    await office.close()
  }
})

test('by keys alone a file that a program wrote over and one that was removed are brought out of a copy', async ({
  page,
}) => {
  const network = join(root, 'network')
  mkdirSync(network)
  const office = await startOffice(undefined, () => ({ JAULA_COPY_FOLDERS: network }))
  const tabTo = async (wanted: Locator) => {
    for (let steps = 0; steps < 80 && !(await wanted.evaluate((one) => one === document.activeElement)); steps++)
      await page.keyboard.press('Tab')
    await expect(wanted).toBeFocused()
  }
  try {
    await signIn(page, office.url, 'Priya')
    await page.goto(`${office.url}/copies`)
    const there = page.getByRole('region', { name: 'network' })
    await expect(there.getByRole('row', { name: /Waterways/ })).toContainText(/today.*today/)
    const [one, two] = (await office.query(
      `select e.id, e.name, e.head_version_id as head from entry e join share s on s.id = e.share_id
       where s.name = 'Waterways' and e.kind = 'file' and e.removed_at is null order by e.name limit 2`,
    )) as unknown as { id: string; name: string; head: string }[]
    await page.evaluate(
      async ([one, two]) => {
        const key = crypto.randomUUID()
        await fetch(`/api/files/${one!.id}/versions?baseId=${one!.head}&key=${key}`, {
          method: 'POST',
          body: 'scrambled',
        })
        const body = JSON.stringify({ id: crypto.randomUUID(), what: 'remove', changes: [{ id: two!.id }] })
        await fetch('/api/acts', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body })
      },
      [one, two],
    )
    await tabTo(there.getByRole('button', { name: 'More for Waterways' }))
    await page.keyboard.press('Enter')
    await page.keyboard.press('End')
    await expect(page.getByRole('menuitem', { name: 'Look into this copy…' })).toBeFocused()
    await page.keyboard.press('Enter')
    const rows = page.getByRole('region', { name: 'Files in the copy' }).getByRole('listitem')
    await expect(rows.nth(0)).toContainText(/It was removed here\./)
    await expect(rows.nth(1)).toContainText(/Here it is another version\./)
    await expect(rows.nth(2)).toContainText(/It is here, the same\./)
    // One is looked for by a part of its name; what was ticked stays so.
    await tabTo(page.getByRole('searchbox', { name: 'Look for' }))
    await page.keyboard.type('no such name')
    await expect(page.getByText('The copy has no such file')).toBeVisible()
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type(two!.name.slice(3, 14))
    await expect(rows.nth(0)).toContainText(/It was removed here\./)
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.press('Delete')
    await expect(rows.nth(2)).toContainText(/It is here, the same\./)
    for (const { name } of [two!, one!]) {
      await tabTo(page.getByRole('checkbox', { name: `Bring ${name}` }))
      await page.keyboard.press('Space')
    }
    await tabTo(page.getByRole('button', { name: 'Bring 2 files out of the copy' }))
    await page.keyboard.press('Enter')
    await expect(page.getByText('2 files were brought out of the copy.')).toBeVisible()
    await expect(rows.nth(0)).toContainText(/It is here, the same\./)
    const [{ n }] = (await office.query(
      'select count(*)::int as n from entry e join version v on v.id = e.head_version_id join version c on c.id = any($1) and c.sha256 = v.sha256 and c.file_id = e.id where e.removed_at is null',
      [[one!.head, two!.head]],
    )) as unknown as [{ n: number }]
    expect(n).toBe(2)
  } finally {
    await office.close()
  }
})
