// Work on two devices, and what must never be thrown away. A device is a browser with a journal of its own.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { BrowserContext, Page } from '@playwright/test'
import {
  expect,
  fileAs,
  fillableDisk,
  journaled,
  kept,
  openBrowser,
  paper,
  reach,
  signIn,
  test,
  untilJournaled,
  writeNew,
} from './office'

const draftOf = (page: Page) => /draft\/([0-9a-f-]+)/.exec(page.url())![1]!
const taken = (page: Page) => page.getByTestId('taken')
const parted = (page: Page) => page.getByTestId('parted')

/** The shortest recovery interval, so that nobody waits for a point. */
async function pointsEvery5(page: Page): Promise<void> {
  await page.evaluate(async () => {
    const settings = await (await fetch('/api/settings')).json()
    await fetch('/api/settings', {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ ...settings, recoveryInterval: 5 }),
    })
  })
  await page.reload()
}
/** Waits until everything that was typed is on the server, as the page says. */
const onStorage = (page: Page, letters: number) => expect(reach(page)).toHaveAttribute('data-storage', String(letters))

test('a lid is closed with a tail that is in no point: the other device goes on, and the tail is offered there when the lid opens', async ({
  browser,
  office,
}) => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  const a = await openBrowser(profile)
  try {
    await signIn(a.page, office.url)
    await pointsEvery5(a.page)
    await writeNew(a.page, office.url, 'Common ground. ')
    await onStorage(a.page, 15)
    const id = draftOf(a.page)
    // The network goes before the lid does: no point can take the tail along.
    await a.context.setOffline(true)
    await a.page.keyboard.type('Only on the first.')
    await untilJournaled(a.page, 'Only on the first.')
    a.freeze()

    const b = await (await browser.newContext()).newPage()
    await signIn(b, office.url)
    await b.goto(`${office.url}/draft/${id}`)
    await expect(paper(b)).toHaveText(/^Common ground\.\s*$/)
    await b.keyboard.press('Control+End')
    await b.keyboard.type('From the second.')
    await onStorage(b, 31)
    a.thaw()
    await a.context.setOffline(false)
    // It is told at once, and stops: what it had is a piece of its own.
    await expect(taken(a.page)).toContainText('You went on with this work on Chromium on Linux')
    await expect(taken(a.page)).toContainText('What only this page had')
    await expect(a.page.getByRole('textbox', { name: 'Document, read only' })).toBeVisible()
    // Neither is a splice of both.
    await expect(paper(b)).toHaveText('Common ground. From the second.')
    // Here it is offered, and taken in: both are there, and undo still undoes one's own.
    await expect(parted(b)).toContainText('What only Chromium on Linux had (18 letters written)', {
      timeout: 30_000,
    })
    await b.getByRole('button', { name: 'Combine it with this' }).click()
    await expect(parted(b)).toHaveCount(0)
    // Both went on from the same place, so it is asked which of them is meant.
    await b.getByTestId('choices').getByRole('button', { name: 'Keep both' }).click()
    await expect(paper(b)).toContainText('Only on the first.')
    await expect(paper(b)).toContainText('From the second.')
    await b.context().close()
  } finally {
    a.thaw()
    await a.kill()
    rmSync(profile, { recursive: true, force: true })
  }
})

test('one address opened on a second device takes the work over: the first is told, and goes on there when it is wished', async ({
  browser,
  office,
}) => {
  const first = await (await browser.newContext()).newPage()
  await signIn(first, office.url)
  await pointsEvery5(first)
  await writeNew(first, office.url, 'Both are online.')
  await onStorage(first, 16)
  const second = await (await browser.newContext()).newPage()
  await signIn(second, office.url)
  // Also by the address under which it was begun: that is no blank page for whoever comes later.
  await second.goto(`${office.url}/draft/${draftOf(first)}?new=document`)
  await expect(paper(second)).toHaveText('Both are online.')
  await expect(taken(first)).toContainText('You went on with this work on Chromium on Linux', { timeout: 5_000 })
  await expect(first.getByRole('textbox', { name: 'Document, read only' })).toBeVisible()
  await second.keyboard.press('Control+End')
  await second.keyboard.type(' Written here.')
  await onStorage(second, 30)
  await first.getByRole('button', { name: 'Write here instead' }).click()
  await expect(paper(first)).toHaveText('Both are online. Written here.')
  await expect(taken(second)).toBeVisible()
  await first.keyboard.press('Control+End')
  await first.keyboard.type(' And back.')
  await first.keyboard.press('Control+s')
  await fileAs(first, 'Two devices')
  await first.context().close()
  await second.context().close()
})

test('a power cut before the next point: whatever the other device writes, saves and closes, the tail comes back and is taken in', async ({
  browser,
  office,
}) => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  let a = await openBrowser(profile)
  try {
    await signIn(a.page, office.url)
    await pointsEvery5(a.page)
    await writeNew(a.page, office.url, 'Shared beginning.')
    await onStorage(a.page, 17)
    const id = draftOf(a.page)
    await a.context.setOffline(true)
    await a.page.keyboard.press('Enter')
    await a.page.keyboard.type('Eleven words that only the first device has, and nobody else.')
    await untilJournaled(a.page, 'and nobody else.')
    await a.kill()

    const b = await (await browser.newContext()).newPage()
    await signIn(b, office.url)
    await b.goto(`${office.url}/rescue`)
    const piece = b.getByTestId('piece').filter({ hasText: 'Shared beginning.' })
    await expect(piece).toBeVisible({ timeout: 40_000 })
    await piece.getByRole('button', { name: 'Go on with it' }).click()
    await expect(paper(b)).toHaveText('Shared beginning.')
    await b.keyboard.press('Control+Home')
    await b.keyboard.type('More than the tail was long, so that every number of it is used by another record by now. ')
    await b.keyboard.press('Control+s')
    await fileAs(b, 'Power cut')
    await b.keyboard.press('Alt+w')
    await expect(b.getByRole('heading', { name: /^Good / })).toBeVisible()
    await expect
      .poll(async () => (await office.query('select state from draft where id = $1', [id]))[0]?.state)
      .toBe('finished')

    a = await openBrowser(profile)
    await signIn(a.page, office.url)
    await a.page.goto(`${office.url}/rescue`)
    const tail = a.page
      .getByTestId('piece')
      .filter({ hasText: 'Power cut.docx' })
      .or(a.page.getByTestId('piece').filter({ hasText: 'only that computer had' }))
    await expect(tail.first()).toContainText('It is what only that computer had of work that went on elsewhere.', {
      timeout: 40_000,
    })
    // Another start throws nothing away.
    await a.page.reload()
    await expect(tail.first()).toBeVisible({ timeout: 60_000 })
    await expect
      .poll(async () => (await office.query('select count(*)::int as n from draft where forked_from = $1', [id]))[0]?.n)
      .toBe(1)
    await a.page.goto(`${office.url}/files`)
    const [file] = await office.query("select id from entry where name = 'Power cut.docx'")
    await a.page.goto(`${office.url}/open/${file!.id}`)
    await expect(parted(a.page)).toBeVisible({ timeout: 60_000 })
    await a.page.getByRole('button', { name: 'Combine it with this' }).click()
    await expect(paper(a.page)).toContainText('Eleven words that only the first device has, and nobody else.')
    await expect(paper(a.page)).toContainText('More than the tail was long')
    await b.context().close()
  } finally {
    await a.kill()
    rmSync(profile, { recursive: true, force: true })
  }
})

test('Rescue tells what is known to be missing, and on which device it is', async ({ browser, office }) => {
  const first = await (await browser.newContext()).newPage()
  await signIn(first, office.url, 'Priya Nandakumar')
  await first.goto(`${office.url}/settings`)
  await first.getByRole('button', { name: '5 minutes', exact: true }).click()
  await writeNew(first, office.url, 'Nothing of this is in a point.')
  await untilJournaled(first, 'in a point.')
  const id = draftOf(first)
  await expect
    .poll(async () => (await office.query('select journal_seq as n from draft where id = $1', [id]))[0]?.n, {
      timeout: 15_000,
    })
    .toBe(30)
  // On the device itself it is counted from the journal, to the last letter.
  await first.goto(`${office.url}/rescue`)
  await first.context().close()
  const second = await (await browser.newContext()).newPage()
  await signIn(second, office.url, 'Priya Nandakumar')
  await second.goto(`${office.url}/rescue`)
  const piece = second.getByTestId('piece').filter({ hasText: 'Nothing of this' })
  await expect(piece.getByTestId('missing')).toHaveText(/^30 changes are on Chromium on Linux only/, {
    timeout: 40_000,
  })
  await expect(piece).toContainText('none of it on the server')
  await expect(piece.getByRole('button', { name: 'Go on with it' })).toHaveCount(0)
  await second.context().close()
})

/** Types a mark and says where it went. */
async function typesInto(page: Page, mark: string): Promise<string> {
  await page.keyboard.type(mark)
  return (await paper(page).textContent()) ?? ''
}

test('the keyboard is in the work after the slip, after every dialog, and on every screen', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  const away = () => page.evaluate(() => document.activeElement === document.body)
  expect(await away()).toBe(false)
  for (const name of ['Files', 'Rescue', 'Names', 'Settings', 'Desk']) {
    await page.keyboard.press('Alt+k')
    await page.keyboard.type(name)
    await page.keyboard.press('Enter')
    await expect(page).toHaveURL(name === 'Desk' ? `${office.url}/` : new RegExp(name.toLowerCase()))
    await expect.poll(away).toBe(false)
  }
  await page.keyboard.press('Alt+n')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('One ')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Focus kept')
  expect(await typesInto(page, 'two ')).toContain('One two ')
  // Escape from the slip, from a question, from the palette, from a dialog of the tools.
  await page.keyboard.press('Alt+c')
  await expect(page.getByRole('textbox', { name: 'Name' })).toBeFocused()
  await page.keyboard.press('Escape')
  expect(await typesInto(page, 'three ')).toContain('two three ')
  await page.keyboard.press('Alt+w')
  await expect(page.getByRole('dialog')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  expect(await typesInto(page, 'four ')).toContain('three four ')
  await page.keyboard.press('Alt+k')
  await expect(page.getByPlaceholder('Where to, what to do, or how?')).toBeFocused()
  await page.keyboard.press('Escape')
  await expect(page.getByPlaceholder('Where to, what to do, or how?')).toHaveCount(0)
  expect(await typesInto(page, 'five ')).toContain('four five ')
  await page.keyboard.press('Alt+s')
  await expect(page.getByRole('dialog')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  expect(await typesInto(page, 'six')).toContain('five six')

  await page.goto(`${office.url}/new/spreadsheet`)
  const inGrid = () => page.evaluate(() => document.activeElement?.closest('canvas') !== null)
  await expect.poll(inGrid).toBe(true)
  await page.keyboard.type('21')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Focus kept in cells')
  await expect.poll(inGrid).toBe(true)
  await page.keyboard.type('22')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('glide-cell-1-1')).toHaveText('22')
  await page.keyboard.press('Alt+c')
  await expect(page.getByRole('textbox', { name: 'Name' })).toBeFocused()
  await page.keyboard.press('Escape')
  await expect.poll(inGrid).toBe(true)
})

test('a journal that is full: recovery points go on from memory, and the reach says which level holds', async ({
  browser,
  office,
}) => {
  const context = await browser.newContext({ serviceWorkers: 'block' })
  const page = await context.newPage()
  const fill = await fillableDisk(context, page)
  await signIn(page, office.url)
  await pointsEvery5(page)
  await writeNew(page, office.url, 'Kept. ')
  await untilJournaled(page, 'Kept. ')
  await fill(true)
  await page.keyboard.type('Not on this device.')
  await expect(reach(page)).toContainText('This computer has no room left for unsaved work. Everything up to', {
    timeout: 60_000,
  })
  await expect(reach(page)).toContainText('is on the server.')
  await expect(reach(page)).toHaveAttribute('data-alarm', 'true')
  expect(await journaled(page)).not.toContain('this device')
  const lines = async () =>
    JSON.stringify(
      await office.query(
        "select convert_from(lines, 'UTF8') as lines from recovery_point where draft_id = $1 order by from_seq",
        [draftOf(page)],
      ),
    )
      .match(/text\\\\?":\\\\?"(.)/g)
      ?.map((found) => found.at(-1))
      .join('')
  await expect.poll(lines).toContain('Not on this device.')
  await fill(false)
  await untilJournaled(page, 'Not on this device.')
  await expect(reach(page)).not.toContainText('no room')
  await context.close()
})

test('set-aside work goes by the server’s days, never by a page’s clock', async ({ page, context, office }) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Set aside, and nowhere else.')
  await untilJournaled(page, 'nowhere else.')
  await page.keyboard.press('Alt+w')
  await page.getByRole('button', { name: 'Close, go on later' }).click()
  await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible()
  const later = await context.newPage()
  await later.clock.setFixedTime(Date.now() + 20 * 86_400_000)
  await later.goto(`${office.url}/rescue`)
  const aside = later
    .getByRole('region', { name: 'Closed without saving' })
    .getByTestId('piece')
    .filter({ hasText: 'Set aside, and' })
  await expect(aside).toBeVisible()
  await later.reload()
  await expect(aside).toBeVisible()
  expect(await journaled(later)).toContain('nowhere else.')
})

test('a tab makes way when the journal’s form changes, and goes on keeping', async ({ page, context, office }) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Before. ')
  await untilJournaled(page, 'Before. ')
  const other = await context.newPage()
  await other.goto(`${office.url}/jaula.svg`)
  const upgraded = await other.evaluate(
    () =>
      new Promise<string>((done) => {
        const request = indexedDB.open('jaula-journal', 2)
        request.onsuccess = () => {
          request.result.close()
          done('upgraded')
        }
        request.onerror = () => done(String(request.error))
        setTimeout(() => done('blocked'), 8000)
      }),
  )
  expect(upgraded).toBe('upgraded')
})

test('everything open is saved once; a copy made without the server is kept and completed by itself', async ({
  page,
  context,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Once. ')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Saved once')
  await page.keyboard.type('And again.')
  await page.keyboard.press('Alt+s')
  await page.getByRole('button', { name: /^Save (it|all)/ }).click()
  await expect(page.getByRole('dialog')).toContainText('Saved as version 2')
  await page.keyboard.press('Escape')
  const versions = async () =>
    (
      await office.query(
        "select count(*)::int as n from version v join entry e on e.id = v.file_id where e.name = 'Saved once.docx'",
      )
    )[0]!.n
  expect(await versions()).toBe(2)

  await page.keyboard.press('Alt+c')
  const field = page.getByRole('textbox', { name: 'Name' })
  await expect(field).toBeFocused()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('A copy without the server')
  await expect(page.getByTestId('full-path')).toContainText('A copy without the server')
  await context.setOffline(true)
  await expect(reach(page)).toContainText('Saved as version 2')
  await page.keyboard.press('Enter')
  await expect(
    page.getByText('The copy waits on this computer and is saved as soon as the server answers.'),
  ).toBeVisible({
    timeout: 60_000,
  })
  await page.close()
  await context.setOffline(false)
  const again = await context.newPage()
  await again.goto(office.url)
  await expect
    .poll(
      async () =>
        (await office.query("select count(*)::int as n from entry where name like 'A copy without the server%'"))[0]!.n,
      { timeout: 30_000 },
    )
    .toBe(1)
})

/** Where the journal says that the cursor rests, after which record. */
const restsAt = (page: Page, kind: string) =>
  page.evaluate(
    (kind) =>
      new Promise<number[]>((done) => {
        const request = indexedDB.open('jaula-journal')
        request.onsuccess = () => {
          const all = request.result.transaction('drafts').objectStore('drafts').getAll()
          all.onsuccess = () => {
            request.result.close()
            const { resting } = all.result.find((draft) => draft.kind === kind) ?? {}
            done(resting ? [resting.seq, ...resting.at] : [])
          }
        }
      }),
    kind,
  )

async function killedAndBack(profile: string, url: string, address: string, name: string) {
  const again = await openBrowser(profile)
  await signIn(again.page, url, name)
  await again.page.goto(address)
  return again
}

test('after a killed browser the cursor is where it was, undo takes back phrases, and a sheet opens at its cell', async ({
  office,
}) => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  let browser = await openBrowser(profile)
  try {
    await signIn(browser.page, office.url)
    await writeNew(browser.page, office.url, 'The first sentence. The second one, with a clause. ')
    await browser.page.keyboard.type('The third.')
    for (let n = 0; n < 6; n++) await browser.page.keyboard.press('ArrowLeft')
    await untilJournaled(browser.page, 'The third.')
    // Where only the cursor went is kept a moment later.
    await expect.poll(() => restsAt(browser.page, 'document')).toEqual([61, 56, 56, 0])
    const address = browser.page.url()
    await browser.kill()
    browser = await killedAndBack(profile, office.url, address, 'Ida Thornquist')
    const { page } = browser
    await expect(paper(page)).toHaveText('The first sentence. The second one, with a clause. The third.')
    await expect(paper(page)).toBeFocused()
    await page.keyboard.type('very ')
    await expect(paper(page)).toHaveText('The first sentence. The second one, with a clause. The very third.')
    // Each step takes back a phrase, not everything that was typed without a pause.
    await page.keyboard.press('Control+z')
    await expect(paper(page)).toHaveText('The first sentence. The second one, with a clause. The third.')
    await page.keyboard.press('Control+z')
    await expect(paper(page)).toHaveText('The first sentence. The second one, with a clause. ')
    await page.keyboard.press('Control+z')
    await expect(paper(page)).toHaveText('The first sentence. The second one, ')
    await page.keyboard.press('Control+z')
    await expect(paper(page)).toHaveText('The first sentence. ')
    await page.keyboard.press('Control+y')
    await expect(paper(page)).toHaveText('The first sentence. The second one, ')

    await page.goto(`${office.url}/new/spreadsheet`)
    await expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
    for (const value of ['1', '2', '3']) {
      await page.keyboard.type(value)
      await page.keyboard.press('Enter')
    }
    await page.keyboard.press('ArrowRight')
    await page.keyboard.type('=A1+A2')
    await page.keyboard.press('Enter')
    await expect(page.getByTestId('glide-cell-2-3')).toHaveText('3')
    await kept(page)
    const sheet = page.url()
    await expect.poll(async () => (await restsAt(page, 'spreadsheet')).slice(1)).toEqual([0, 1, 4, 1, 1])
    await browser.kill()
    browser = await killedAndBack(profile, office.url, sheet, 'Ida Thornquist')
    await expect(browser.page.getByTestId('glide-cell-2-3')).toHaveText('3')
    await expect.poll(() => browser.page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
    await browser.page.keyboard.type('here')
    await browser.page.keyboard.press('Enter')
    await expect(browser.page.getByTestId('glide-cell-2-4')).toHaveText('here')
    await browser.page.keyboard.press('Control+z')
    await browser.page.keyboard.press('Control+z')
    await expect(browser.page.getByTestId('glide-cell-2-3')).toHaveText('')
    await browser.page.keyboard.press('Control+z')
    await expect(browser.page.getByTestId('glide-cell-1-2')).toHaveText('')
  } finally {
    await browser.kill()
    rmSync(profile, { recursive: true, force: true })
  }
})

/** What a Jaula before this one left in a browser: a database of its own, form 2. */
async function leaveEarlierJournal(context: BrowserContext, url: string, person: string, id: string): Promise<void> {
  const page = await context.newPage()
  await page.goto(`${url}/jaula.svg`)
  await page.evaluate(
    ([personId, draftId]) =>
      new Promise<void>((done) => {
        const request = indexedDB.open('jaula', 1)
        request.onupgradeneeded = () => {
          const { result } = request
          result.createObjectStore('drafts', { keyPath: 'id' })
          result.createObjectStore('bases', { keyPath: 'draftId' })
          result.createObjectStore('records', { keyPath: ['draftId', 'seq'] })
          result.createObjectStore('device')
          result.createObjectStore('saves', { keyPath: 'key' }).createIndex('draftId', 'draftId')
        }
        request.onsuccess = () => {
          const change = request.result.transaction(['drafts', 'records', 'device'], 'readwrite')
          const step = (text: string, at: number) => ({
            steps: [{ stepType: 'replace', from: at, to: at, slice: { content: [{ type: 'text', text }] } }],
          })
          change.objectStore('records').put({ draftId, seq: 1, at: 1, edit: step('Written before the update.', 1) })
          change.objectStore('drafts').put({
            id: draftId,
            personId,
            kind: 'document',
            bornAt: new Date().toISOString(),
            baseVersionId: null,
            fileId: null,
            fileName: null,
            headVersionId: null,
            savedSeq: 0,
            journalSeq: 1,
            pointSeq: 0,
            lastEditAt: new Date().toISOString(),
            opening: 'Written before',
            beyond: { edits: 1, charactersAdded: 26, charactersRemoved: 0, cells: 0 },
            state: 'open',
            keptUntil: null,
          })
          change.oncomplete = () => done()
          // This tab of the earlier Jaula stays open and makes no way.
        }
      }),
    [person, id] as const,
  )
}

test('work that a Jaula before this one left in the browser is found, with a tab of it still open', async ({
  page,
  context,
  office,
}) => {
  await signIn(page, office.url)
  const person = await page.evaluate(async () => (await (await fetch('/api/session')).json()).person.id)
  const id = crypto.randomUUID()
  await leaveEarlierJournal(context, office.url, person, id)
  await page.reload()
  await page.goto(`${office.url}/rescue`)
  const piece = page.getByTestId('piece').filter({ hasText: 'Written before' })
  await expect(piece).toBeVisible({ timeout: 60_000 })
  await piece.getByRole('button', { name: 'Go on with it' }).click()
  await expect(paper(page)).toHaveText('Written before the update.')
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' And after it.')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Across an update')
})

test('recovery points that are switched off are said to be, for as long as they are', async ({ page, office }) => {
  await signIn(page, office.url, 'Tomas Wether')
  await page.goto(`${office.url}/settings`)
  await page.getByRole('button', { name: 'Off', exact: true }).first().click()
  await expect(page.getByText('everything since the last save would be lost with it')).toBeVisible()
  await writeNew(page, office.url, 'On this device alone.')
  await untilJournaled(page, 'alone.')
  await expect(reach(page)).toContainText('is on this computer only. Unsaved work does not go to the server.')
})

test('where shared storage has only the version, the version is gone on with, and what is missing is said', async ({
  browser,
  office,
}) => {
  const first = await (await browser.newContext()).newPage()
  await signIn(first, office.url, 'Ben Marlowe')
  await first.goto(`${office.url}/settings`)
  await first.getByRole('button', { name: 'Off', exact: true }).first().click()
  await expect(first.getByText('everything since the last save would be lost with it')).toBeVisible()
  await writeNew(first, office.url, 'In version one. ')
  const id = draftOf(first)
  await first.keyboard.press('Control+s')
  await fileAs(first, 'Behind the version')
  await first.keyboard.type('Not in it.')
  await untilJournaled(first, 'Not in it.')
  await expect
    .poll(async () => (await office.query('select journal_seq as n from draft where id = $1', [id]))[0]?.n, {
      timeout: 15_000,
    })
    .toBe(26)
  const second = await (await browser.newContext()).newPage()
  await signIn(second, office.url, 'Ben Marlowe')
  await second.goto(`${office.url}/draft/${id}`)
  await expect(paper(second)).toHaveText('In version one. ')
  await expect(second.getByTestId('missing')).toContainText('10 changes are on Chromium on Linux only')
  await first.goto(`${office.url}/settings`)
  await first.getByRole('button', { name: '30 seconds', exact: true }).click()
  await first.context().close()
  await second.context().close()
})
