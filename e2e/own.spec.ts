// Copies in a folder of one's own computer. The browser's folders are its own private ones here: what chooses one is a
// window of the computer, which no test can press.
import { createHash } from 'node:crypto'
import type { Page } from '@playwright/test'
import { expect, fileAs, paper, signIn, test, writeNew } from './office'

/** Whatever is chosen is this folder. */
async function withFolder(page: Page, name: string): Promise<void> {
  await page.addInitScript((folder) => {
    const pick = async () => (await navigator.storage.getDirectory()).getDirectoryHandle(folder, { create: true })
    Object.assign(window, { showDirectoryPicker: pick })
  }, name)
}
/** What lies in it, by path, as text. */
const inFolder = (page: Page, name: string): Promise<Record<string, string>> =>
  page.evaluate(async (folder) => {
    const found: Record<string, string> = {}
    const walk = async (at: FileSystemDirectoryHandle, inside: string): Promise<void> => {
      const entries = (at as unknown as { values(): AsyncIterable<FileSystemHandle> }).values()
      for await (const entry of entries)
        if (entry.kind === 'directory') await walk(entry as FileSystemDirectoryHandle, `${inside}${entry.name}/`)
        else {
          const bytes = await (entry as FileSystemFileHandle)
            .getFile()
            .then((file) => file.arrayBuffer())
            .catch((error: DOMException) => {
              // It got another name, or was written anew, while the folder was gone through.
              if (/^Not(Found|Readable)Error$/.test(error.name)) return null
              throw error
            })
          if (!bytes) continue
          const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))
          found[inside + entry.name] = Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('')
        }
    }
    await walk(await (await navigator.storage.getDirectory()).getDirectoryHandle(folder, { create: true }), '')
    return found
  }, name)
/** What another program does there. */
const changeThere = (page: Page, name: string, path: string, text: string | null): Promise<void> =>
  page.evaluate(
    async ([folder, way, words]) => {
      let at = await (await navigator.storage.getDirectory()).getDirectoryHandle(folder!)
      const steps = way!.split('/')
      for (const step of steps.slice(0, -1)) at = await at.getDirectoryHandle(step)
      if (words === null) return at.removeEntry(steps.at(-1)!)
      const stream = await (await at.getFileHandle(steps.at(-1)!)).createWritable()
      await stream.write(words!)
      await stream.close()
    },
    [name, path, text] as const,
  )

test('the slip puts a copy into a folder of one’s own; it follows each save and each name, and what is changed there stays', async ({
  page,
  browser,
  office,
}) => {
  await withFolder(page, 'Stick')
  await signIn(page, office.url)
  await writeNew(page, office.url, 'The sill of the upper gate is sound.')
  await page.keyboard.press('Control+s')
  const slip = page.getByRole('form', { name: 'Filing slip' })
  await slip.getByRole('button', { name: 'Also keep a copy in a folder of mine' }).focus()
  await page.keyboard.press('Enter')
  await expect(slip.getByText('A copy goes into the folder Stick, under this name.')).toBeVisible()
  await slip.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await fileAs(page, 'Sill of the upper gate')
  await expect(page.getByText('It is in Stick, and is kept in step while Jaula is open.')).toBeVisible()
  const heads = async () =>
    (
      await office.query(
        "select e.name, encode(v.sha256, 'hex') as digest from entry e join version v on v.id = e.head_version_id where e.name like '%ill of the upper gate%'",
      )
    ).map(({ name, digest }) => [String(name), String(digest)])
  const [[name, first]] = (await heads()) as [[string, string]]
  expect(await inFolder(page, 'Stick')).toEqual({ [name]: first })
  await paper(page).focus()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' So is the lower one.')
  await page.keyboard.press('Control+s')
  await expect.poll(async () => (await heads())[0]![1]).not.toBe(first)
  await expect.poll(() => inFolder(page, 'Stick')).toEqual(Object.fromEntries(await heads()))
  // A colleague calls it otherwise.
  const ben = await (await browser.newContext()).newPage()
  await signIn(ben, office.url, 'Ben Marlowe')
  const [{ id }] = (await office.query('select id from entry where name = $1', [name])) as unknown as [{ id: string }]
  await ben.evaluate(
    ([entry, called]) =>
      fetch('/api/acts', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ id: crypto.randomUUID(), what: 'rename', changes: [{ id: entry, name: called }] }),
      }).then((answer) => {
        if (!answer.ok) throw new Error(answer.statusText)
      }),
    [id, 'Sill of the upper gates.docx'] as const,
  )
  await expect.poll(() => inFolder(page, 'Stick')).toEqual(Object.fromEntries(await heads()))
  // Another program writes over the copy: it is left alone and told, and written over only when somebody says so.
  await changeThere(page, 'Stick', 'Sill of the upper gates.docx', 'mine')
  const mine = createHash('sha256').update('mine').digest('hex')
  await page.goto(`${office.url}/copies`)
  const own = page.getByRole('region', { name: 'In folders of this computer' })
  await own.getByRole('button', { name: 'More for the copy of' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('menuitem', { name: 'Read all of it again' }).press('Enter')
  await expect(own.getByRole('alert')).toContainText('1 file was changed there by somebody else')
  expect(Object.values(await inFolder(page, 'Stick'))).toEqual([mine])
  await own.getByRole('button', { name: 'Write over it' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('dialog').getByRole('button', { name: 'Write over it' }).press('Enter')
  await expect.poll(() => inFolder(page, 'Stick')).toEqual(Object.fromEntries(await heads()))
  await expect(own.getByRole('alert')).toHaveCount(0)
  await ben.context().close()
})

test('a folder is copied with all that is in it; what is lost there comes back, and it can be ended', async ({
  page,
  office,
}) => {
  await withFolder(page, 'Second disk')
  await signIn(page, office.url)
  await page.goto(`${office.url}/files`)
  await page
    .getByRole('link', { name: /Waterways/ })
    .first()
    .click()
  const row = page.getByRole('row').filter({ hasText: 'Inspections' }).first()
  await row.waitFor()
  await page.getByRole('grid').focus()
  await page.keyboard.press('Home')
  for (let presses = 0; presses < 40; presses++) {
    if ((await row.getAttribute('aria-selected')) === 'true') break
    await page.keyboard.press('ArrowDown')
  }
  await page.keyboard.press('Space')
  await page.getByRole('button', { name: 'Keep a copy in a folder of mine' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText('It is in Second disk, and is kept in step while Jaula is open.')).toBeVisible()
  const wanted = Object.fromEntries(
    (
      await office.query(
        `with recursive down(id, path) as (
           select id, name from entry where name = 'Inspections' and folder_id is null and removed_at is null
           union all select e.id, down.path || '/' || e.name from entry e join down on e.folder_id = down.id where e.removed_at is null)
         select down.path, encode(v.sha256, 'hex') as digest from down join entry e on e.id = down.id join version v on v.id = e.head_version_id`,
      )
    ).map(({ path, digest }) => [String(path), String(digest)]),
  )
  expect(Object.keys(wanted).length).toBeGreaterThan(5)
  expect(await inFolder(page, 'Second disk')).toEqual(wanted)
  const [lost] = Object.keys(wanted)
  await changeThere(page, 'Second disk', lost!, null)
  await page.goto(`${office.url}/copies`)
  const own = page.getByRole('region', { name: 'In folders of this computer' })
  await expect.poll(() => inFolder(page, 'Second disk')).toEqual(wanted)
  await own.getByRole('button', { name: 'More for the copy of Inspections' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('menuitem', { name: 'Keep it in step no more' }).press('Enter')
  await page.getByRole('dialog').getByRole('button', { name: 'Keep it in step no more' }).press('Enter')
  await expect(own).toHaveCount(0)
  expect(await inFolder(page, 'Second disk')).toEqual(wanted)
})
