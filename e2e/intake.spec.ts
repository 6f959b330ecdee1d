// A drive is taken over, from outside: a folder of the server while that is killed, and a folder of one's own computer
// that its page has to be given again.
import { createHash } from 'node:crypto'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import type { Page } from '@playwright/test'
import { makeDrive } from '../core/intake/made-drive'
import { expect, type Office, signIn, startOffice, test } from './office'

let root: string
test.beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'jaula-drive-'))
})
test.afterEach(() => rmSync(root, { recursive: true, force: true }))

/** A made drive on the disk. @returns how many files it has, and how many of them are versions */
function write(folder: string, seed: number, series: number): { files: number; things: number } {
  const { files, truth } = makeDrive(seed, series)
  for (const { path, text, at } of files) {
    const file = join(folder, path)
    mkdirSync(dirname(file), { recursive: true })
    // Of the made texts nothing but the words is real: types that are read as packages get another ending.
    writeFileSync(file.replace(/\.(docx|xlsx|pdf)$/, '.$1.txt'), text || `drawn ${path}`)
    utimesSync(file.replace(/\.(docx|xlsx|pdf)$/, '.$1.txt'), new Date(at), new Date(at))
  }
  return { files: files.length, things: truth.length }
}
const digestsIn = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .map((path) => join(folder, path))
    .filter((path) => statSync(path).isFile())
    .map((path) => createHash('sha256').update(readFileSync(path)).digest('hex'))
const kept = async (office: Office): Promise<Set<string>> =>
  new Set(
    (await office.query("select encode(sha256, 'hex') as digest from version")).map(({ digest }) => String(digest)),
  )

async function toDrives(page: Page, url: string): Promise<void> {
  await page.goto(`${url}/files`)
  await page.getByRole('navigation', { name: 'Shares' }).getByRole('link', { name: 'Office' }).click()
  await page.getByRole('link', { name: 'Take a drive over' }).click()
  await page.getByRole('heading', { name: 'Take a drive over into Office' }).waitFor()
}

test('a drive of the server is taken over by keys; the server is killed in the middle, and nothing is lost or comes twice', async ({
  page,
}) => {
  const drive = join(root, 'Old drive')
  const { files } = write(drive, 3, 60)
  const office = await startOffice(undefined, () => ({ JAULA_TAKE_OVER_FOLDERS: root }))
  try {
    await signIn(page, office.url, 'Priya Nandakumar')
    await toDrives(page, office.url)
    await page.getByRole('button', { name: 'Choose a folder of the server' }).focus()
    await page.keyboard.press('Enter')
    await page.getByRole('dialog').getByRole('button', { name: 'Old drive' }).focus()
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Look at Old drive' }).focus()
    await page.keyboard.press('Enter')
    const take = page.getByRole('button', { name: /^Take over \d+ files$/ })
    await take.waitFor()
    // One series is not what it seems: its files go their own ways.
    const rows = page.getByRole('region', { name: 'What becomes of the files' }).getByRole('listitem')
    await page.getByRole('button', { name: /^Made of several files/ }).click()
    const before = await office.query('select count(*)::int as n from intake_series')
    await rows
      .first()
      .getByRole('button', { name: /^What else can become of/ })
      .focus()
    await page.keyboard.press('Enter')
    await page.getByRole('menuitem', { name: 'These are different files' }).waitFor()
    await page.keyboard.press('ArrowDown')
    await expect(page.getByRole('menuitem', { name: 'These are different files' })).toBeFocused()
    await page.keyboard.press('Enter')
    await expect
      .poll(async () => (await office.query('select count(*)::int as n from intake_series'))[0]!.n)
      .toBeGreaterThan(Number(before[0]!.n))
    // The page knows of it a moment later than the database.
    await expect(take).toBeEnabled()
    await take.focus()
    await expect(take).toBeFocused()
    await page.keyboard.press('Enter')
    const taken = async () => Number((await office.query('select count(version_id)::int as n from intake_file'))[0]!.n)
    await expect.poll(taken).toBeGreaterThan(5)
    await office.killServer()
    const then = await taken()
    expect(then).toBeLessThan(files)
    await office.startServer()
    await page.reload()
    await page.getByRole('link', { name: 'See them in Files' }).waitFor({ timeout: 120_000 })
    await expect(page.getByText(`${files} files of the drive are in.`)).toBeVisible()
    const all = await kept(office)
    expect(digestsIn(drive).filter((digest) => !all.has(digest))).toEqual([])
    const [twice] = await office.query(
      `select count(*)::int as n from (select v.file_id, v.sha256 from taken_from t join version v on v.id = t.version_id
         group by 1, 2 having count(*) > 1) w`,
    )
    expect(twice!.n).toBe(0)
    // What was on the drive is found by where it was.
    const [one] = await office.query("select path from taken_from where path like '%/old/%' order by path limit 1")
    await page.goto(`${office.url}/find?q=${encodeURIComponent(String(one!.path).replace(/[/.]/g, ' '))}`)
    await expect(page.getByRole('main')).toContainText(String(one!.path))
  } finally {
    await office.close()
  }
})

test('a folder of one’s own computer: looked at in the page, gone on with after a reload, its versions in order', async ({
  page,
}) => {
  const drive = join(root, 'My papers')
  // So many that the page is closed long before they are all there.
  const { files } = write(drive, 8, 60)
  writeFileSync(join(drive, '.DS_Store'), 'x')
  const office = await startOffice()
  try {
    await signIn(page, office.url, 'Priya Nandakumar')
    await toDrives(page, office.url)
    const chooser = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Choose a folder of this computer' }).focus()
    await page.keyboard.press('Enter')
    await (await chooser).setFiles(drive)
    const take = page.getByRole('button', { name: /^Take over \d+ files$/ })
    await take.waitFor()
    await expect(page.getByText('1 is empty or was left by a program and stays behind.')).toBeVisible()
    await take.focus()
    await page.keyboard.press('Enter')
    const taken = async () => Number((await office.query('select count(version_id)::int as n from intake_file'))[0]!.n)
    await expect.poll(taken).toBeGreaterThan(0)
    // The page is gone, and with it the folder: it is chosen again, and it goes on where it was.
    await page.reload()
    await expect(page.getByText('The browser gives the folder My papers to one page')).toBeVisible()
    expect(await taken()).toBeLessThan(files)
    const again = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Choose the folder again' }).focus()
    await page.keyboard.press('Enter')
    await (await again).setFiles(drive)
    await expect(page.getByText(`${files} files of the drive are in.`)).toBeVisible({ timeout: 120_000 })
    const all = await kept(office)
    expect(
      digestsIn(drive).filter(
        (digest) => !all.has(digest) && digest !== createHash('sha256').update('x').digest('hex'),
      ),
    ).toEqual([])
    const [wrong] = await office.query(
      'select count(*)::int as n from version v join version w on w.file_id = v.file_id and w.number = v.number + 1 where w.at < v.at and v.reason = $$brought in$$',
    )
    expect(wrong!.n).toBe(0)
  } finally {
    await office.close()
  }
})
