import { chownSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { postgresPrograms } from '../scripts/lib/packages.mjs'
import { databaseAccount } from '../scripts/lib/places.mjs'
import { startPostgres } from '../scripts/lib/postgres.mjs'
import {
  expect,
  fileAs,
  kept,
  openBrowser,
  paper,
  reach,
  signIn,
  startOffice,
  test,
  untilJournaled,
  writeNew,
} from './office'

test('the browser is killed while typing: started again it lists the work, and goes on with every acknowledged letter', async ({
  office,
}) => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  const first = await openBrowser(profile)
  await signIn(first.page, office.url)
  await writeNew(first.page, office.url, 'The upper paddle lifts freely. ')
  await kept(first.page)
  await first.page.keyboard.type('Never named, never saved.')
  await untilJournaled(first.page, 'Never named, never saved.')
  await kept(first.page)
  await first.kill()

  const second = await openBrowser(profile)
  await signIn(second.page, office.url)
  const interrupted = second.page.getByRole('region', { name: 'Interrupted work' })
  await expect(interrupted).toContainText(/Document begun at/)
  await expect(interrupted).toContainText('never saved: 56 letters written')
  await second.page.getByRole('link', { name: 'In Rescue' }).last().click()
  const piece = second.page.getByTestId('piece').filter({ hasText: 'Document begun at' })
  await expect(piece).toContainText('“The upper paddle lifts freely.')
  await piece.getByRole('button', { name: 'Go on with it' }).click()
  await expect(paper(second.page)).toHaveText('The upper paddle lifts freely. Never named, never saved.')
  await paper(second.page).press('Control+End')
  await second.page.keyboard.type(' And on.')
  await second.page.keyboard.press('Control+s')
  await fileAs(second.page, 'Rescued')
  await second.page.goto(`${office.url}/rescue`)
  await expect(second.page.getByRole('heading', { name: 'Rescue' })).toBeVisible()
  await expect(second.page.getByTestId('piece').filter({ hasText: 'Document begun at' })).toHaveCount(0)
  await second.kill()
  rmSync(profile, { recursive: true, force: true })
})

test('a spreadsheet is rescued with the entry that was still being typed', async ({ office }) => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  const first = await openBrowser(profile)
  await signIn(first.page, office.url, 'Ben Marlowe')
  await first.page.goto(`${office.url}/new/spreadsheet`)
  await expect.poll(() => first.page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
  await first.page.keyboard.type('21')
  await first.page.keyboard.press('Enter')
  await first.page.keyboard.type('=A1*2')
  await untilJournaled(first.page, '=A1*2')
  await kept(first.page)
  const address = first.page.url()
  await first.kill()
  const second = await openBrowser(profile)
  await signIn(second.page, office.url, 'Ben Marlowe')
  await second.page.goto(address)
  await expect(second.page.getByTestId('glide-cell-1-1')).toHaveText('42')
  await second.kill()
  rmSync(profile, { recursive: true, force: true })
})

test('the machine is gone: another one goes on from the recovery point', async ({ browser, office }) => {
  const one = await (await browser.newContext()).newPage()
  await signIn(one, office.url, 'Priya Nandakumar')
  await one.goto(`${office.url}/settings`)
  await one.getByRole('button', { name: '5 seconds', exact: true }).click()
  await expect(one.getByText('at most the last 7 seconds')).toBeVisible()
  await writeNew(one, office.url, 'Decided: the gate is renewed.')
  await expect(reach(one)).toContainText(/is on the server/)
  await one.context().close()

  const two = await (await browser.newContext()).newPage()
  await signIn(two, office.url, 'Priya Nandakumar')
  await two.goto(`${office.url}/rescue`)
  // It counts as open there until that device was silent for twenty seconds.
  const piece = two.getByRole('region', { name: 'Found after an interruption' }).getByTestId('piece')
  await expect(piece).toContainText('recovery point')
  await piece.getByRole('button', { name: 'Save as a separate file' }).click()
  await expect(paper(two)).toHaveText('Decided: the gate is renewed.')
  await fileAs(two, 'From the other machine')
  await two.context().close()
})

test('the server is killed during a save: editing goes on, the reach says so, and the save is completed once', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Before. ')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Server killed')
  await paper(page).press('Control+End')
  for (let round = 1; round <= 3; round++) {
    await page.keyboard.type(`Round ${round}. `)
    await Promise.all([page.keyboard.press('Control+s'), office.killServer()])
    await page.keyboard.type('Typed while away. ')
    await expect(reach(page)).toContainText(/The server does not answer|is on this computer|Saved as/)
    await office.startServer()
    await expect(reach(page)).not.toContainText('does not answer')
    await expect
      .poll(
        async () =>
          (
            await office.query(
              "select count(*)::int as n from version v join entry e on e.id = v.file_id where e.name = 'Server killed.docx'",
            )
          )[0],
      )
      .toEqual({ n: round + 1 })
  }
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 5')
  await page.reload()
  await expect(paper(page)).toHaveText(
    'Before. Round 1. Typed while away. Round 2. Typed while away. Round 3. Typed while away.',
  )
})

test('a save that is asked for while another one waits comes after it, with what was written meanwhile', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'One. ')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Saved twice while away')
  await office.killServer()
  await paper(page).press('Control+End')
  for (const text of ['Two. ', 'Three.']) {
    await page.keyboard.type(text)
    await page.keyboard.press('Control+s')
    await expect(reach(page)).toContainText('Your save of')
  }
  await office.startServer()
  await expect(reach(page)).toContainText('Saved as version 3')
  const saved = await office.query(
    "select v.number from version v join entry e on e.id = v.file_id where e.name = 'Saved twice while away.docx' order by v.number",
  )
  expect(saved.map(({ number }) => Number(number))).toEqual([1, 2, 3])
})

test('a save made while the server is away is completed by itself, also when the tab is closed meanwhile', async ({
  office,
}) => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  const first = await openBrowser(profile)
  await signIn(first.page, office.url)
  await writeNew(first.page, office.url, 'One. ')
  await first.page.keyboard.press('Control+s')
  await fileAs(first.page, 'Saved while away')
  await office.killServer()
  await paper(first.page).press('Control+End')
  await first.page.keyboard.type('Two.')
  await first.page.keyboard.press('Control+s')
  await expect(reach(first.page)).toContainText('Your save of')
  await first.kill()
  await office.startServer()
  const second = await openBrowser(profile)
  await signIn(second.page, office.url)
  await expect
    .poll(
      async () =>
        (
          await office.query(
            "select max(v.number)::int as n, count(*)::int as all from version v join entry e on e.id = v.file_id where e.name = 'Saved while away.docx'",
          )
        )[0],
    )
    .toEqual({ n: 2, all: 2 })
  await second.kill()
  rmSync(profile, { recursive: true, force: true })
})

test('PostgreSQL is killed during a save: what was acknowledged is there, the rest is completed once', async ({
  browser,
}) => {
  const data = mkdtempSync(join(tmpdir(), 'jaula-killed-'))
  const account = databaseAccount()
  if (account) chownSync(data, account.uid, account.gid)
  const postgres = await startPostgres(postgresPrograms()!, data, account)
  const office = await startOffice(postgres.superuserUrl)
  const page = await (await browser.newContext()).newPage()
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Acknowledged. ')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Database killed')
  await paper(page).press('Control+End')
  await page.keyboard.type('In the middle. ')
  await page.keyboard.press('Control+s')
  process.kill(postgres.pid, 'SIGKILL')
  await page.keyboard.type('Afterwards.')
  await expect(reach(page)).toContainText(/Not in version 2 yet|is on this computer/)
  const versions = async () =>
    (
      await office
        .query(
          "select count(*)::int as n from version v join entry e on e.id = v.file_id where e.name = 'Database killed.docx'",
        )
        .catch(() => [null])
    )[0]
  await expect.poll(versions).toEqual({ n: 2 })
  await expect(reach(page)).not.toContainText('does not answer')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 3')
  await page.reload()
  await expect(paper(page)).toHaveText('Acknowledged. In the middle. Afterwards.')
  await page.context().close()
  await office.close()
  await postgres.stop()
  rmSync(data, { recursive: true, force: true })
})

test('leaving with unsaved work asks, and every answer keeps it', async ({ page, office }) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Left behind on purpose.')
  await page.keyboard.press('Alt+w')
  const question = page.getByRole('dialog')
  await expect(question).toContainText('was never saved')
  await question.getByRole('button', { name: 'Cancel' }).click()
  await expect(paper(page)).toHaveText('Left behind on purpose.')
  await page.keyboard.press('Alt+w')
  await question.getByRole('button', { name: 'Close without saving' }).click()
  await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible()
  await page.goto(`${office.url}/rescue`)
  const aside = page
    .getByRole('region', { name: 'Closed without saving' })
    .getByTestId('piece')
    .filter({ hasText: 'Left behind' })
  await expect(aside).toContainText('Closed without saving.')
  await aside.getByRole('button', { name: 'Get it back' }).click()
  await expect(aside).toHaveCount(0)
  await page
    .getByRole('region', { name: 'Found after an interruption' })
    .getByTestId('piece')
    .filter({ hasText: 'Left behind' })
    .getByRole('button', { name: 'Go on with it' })
    .click()
  await expect(paper(page)).toHaveText('Left behind on purpose.')
})

/** A promise, and what fulfils it. */
function held(): { promise: Promise<void>; resolve: () => void } {
  let resolve = () => {}
  const promise = new Promise<void>((done) => {
    resolve = done
  })
  return { promise, resolve }
}

test('the session ends in the middle of editing: signed in again in place, nothing is lost', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'First half, ')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Session ended')
  await office.query('delete from session')
  await paper(page).press('Control+End')
  await page.keyboard.type('second half.')
  await page.keyboard.press('Control+s')
  const again = page.getByRole('dialog', { name: 'Sign in again' })
  await expect(again).toContainText('Your work stays open as it is')
  // What is asked before somebody signs in again, and refused, may come back after it.
  const refused = held()
  let refusal: { status: number; body: Buffer; contentType: string } | undefined
  const signedIn = held()
  let asked = false
  await page.route('**/api/protection?*', async (route) => {
    asked = true
    const answer = await route.fetch()
    refusal ??= { status: answer.status(), body: await answer.body(), contentType: 'application/problem+json' }
    refused.resolve()
    await signedIn.promise
    await route.fulfill({ response: answer })
  })
  const late = page.waitForResponse(
    (response) => response.url().includes('/api/protection?') && response.status() === 401,
    { timeout: 150_000 },
  )
  // What was asked a moment ago is not asked again; somebody looks once more.
  const steps = page.getByRole('dialog', { name: 'How far this work has got' })
  const lookedAgain = async () => {
    await reach(page).click()
    await expect(steps).toBeVisible()
    if (asked) return true
    await page.keyboard.press('Escape')
    await expect(steps).toBeHidden()
    return false
  }
  await expect.poll(lookedAgain).toBe(true)
  await refused.promise
  expect(refusal).toMatchObject({ status: 401 })
  // So may one of what the journal asked: it goes on all the same.
  await page.route(
    '**/api/files/*/versions?*',
    (route) => (route.request().method() === 'POST' ? route.fulfill(refusal!) : route.continue()),
    { times: 1 },
  )
  await page.keyboard.press('Escape')
  await again.getByLabel('Password').fill('lock-and-weir')
  await again.getByRole('button', { name: 'Sign in' }).click()
  await expect(again).toBeHidden()
  signedIn.resolve()
  await late
  await page.evaluate(() => fetch('/api/session').then((answer) => answer.text()))
  await expect(again).toBeHidden()
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect(paper(page)).toHaveText('First half, second half.')
})
