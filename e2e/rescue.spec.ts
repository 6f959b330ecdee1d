import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { expect, fileAs, kept, openBrowser, paper, reach, signIn, test, untilJournaled, writeNew } from './office'

const live = (page: Page, name: string) => page.getByTestId('live').filter({ hasText: name })

test('a frozen page is told apart, looked into and rescued from a second browser; a manager may, and that is seen', async ({
  page,
  browser,
  office,
}) => {
  test.setTimeout(480_000)
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Levels at the weir.')
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-24_LK03_Survey_Frozen')
  await paper(page).press('Control+End')
  await page.keyboard.type(' Eleven centimetres below the mark.')
  await kept(page)

  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url)
  await other.goto(`${office.url}/rescue`)
  await expect(live(other, 'Frozen')).toContainText('The page answers')
  // How much, depends on whether a point was taken since.
  await expect(live(other, 'Frozen')).toContainText(/Only its computer has|Everything that its computer had at/)
  // The page never comes back from this; its journal worker goes on.
  page
    .evaluate(() => {
      for (;;);
    })
    .catch(() => {})
  await expect(live(other, 'Frozen')).toContainText(
    'The page does not answer any more; what it wrote is still being kept.',
    {
      timeout: 30_000,
    },
  )
  await live(other, 'Frozen').getByRole('button', { name: 'Look inside' }).click()
  await expect(other.getByTestId('inside-summary')).toContainText('Its page does not answer')
  await other.getByRole('button', { name: 'Take a recovery point now' }).click()
  const work = other.getByRole('textbox', { name: 'This work' })
  await expect(work.locator('ins')).toHaveText(/Eleven centimetres below the mark\./)
  await expect(other.getByTestId('inside-summary')).toContainText('5 words added')
  await other.getByRole('button', { name: 'Save a safe copy' }).click()
  await other.getByRole('textbox', { name: 'Name', exact: true }).fill('2026-11-24_LK03_Survey_Rescued')
  await expect(other.getByTestId('safe-copy-path')).toContainText(/Office \/ 2026-11-24_LK03_Survey_Rescued\.docx/)
  await other.getByRole('button', { name: 'Save the safe copy' }).click()
  await expect(other.getByText(/The safe copy is Office \/ .*Survey_Rescued\.docx/)).toBeVisible()
  const found = other.getByRole('row').filter({ hasText: 'Survey_Rescued' }).getByRole('link').first()
  // The page that hangs takes a processor for itself: whoever does not find it at once looks again.
  await expect(async () => {
    await other.goto(`${office.url}/find?q=rescued`)
    await expect(found).toBeVisible({ timeout: 20_000 })
  }).toPass({ timeout: 120_000 })
  await found.click()
  await expect(paper(other)).toHaveText('Levels at the weir. Eleven centimetres below the mark.')

  // Ben may edit in this share and not manage it: others' work is not his to see. Priya manages it.
  const ben = await (await browser.newContext()).newPage()
  await signIn(ben, office.url, 'Ben Marlowe')
  await ben.goto(`${office.url}/rescue`)
  await expect(ben.getByRole('region', { name: 'Open right now' })).toBeVisible()
  await expect(live(ben, 'Frozen')).toBeHidden()
  const priya = await (await browser.newContext()).newPage()
  await signIn(priya, office.url, 'Priya Nandakumar')
  await priya.goto(`${office.url}/rescue`)
  await expect(live(priya, 'Frozen')).toContainText('Ida Thornquist, on')
  await live(priya, 'Frozen').getByRole('button', { name: 'Look inside' }).click()
  await expect(priya.getByRole('textbox', { name: 'This work' })).toContainText('Eleven centimetres')
  await other.goto(`${office.url}/rescue`)
  await expect(other.getByRole('region', { name: 'Who looked into whose work' })).toContainText(
    'Priya Nandakumar looked inside Ida Thornquist’s work on 2026-11-24_LK03_Survey_Frozen.docx',
  )
  for (const one of [other, ben, priya]) await one.context().close()
})

test('interrupted work is compared with its last version, recovery point by recovery point, and saved as the next one', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url, 'Ben Marlowe')
  await page.goto(`${office.url}/settings`)
  await page.getByRole('button', { name: '5 seconds', exact: true }).click()
  await writeNew(page, office.url, '# Weir\nHeld by three boards.')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Boards at the weir')
  await paper(page).press('Control+End')
  await page.keyboard.type(' The first is cracked.')
  await expect(reach(page)).toContainText('on the server. Not in version 1 yet.')
  await page.keyboard.type(' The second is gone.')
  await untilJournaled(page, ' The second is gone.')
  const stored = async () => {
    const points = (await office.query(
      "select convert_from(p.lines, 'UTF8') as lines from recovery_point p join draft d on d.id = p.draft_id join entry e on e.id = d.file_id where e.name = 'Boards at the weir.docx' order by p.from_seq",
    )) as unknown as { lines: string }[]
    return points.flatMap(({ lines }) => [...lines.matchAll(/"text":"([^"]*)"/g)].map(([, text]) => text)).join('')
  }
  await expect.poll(stored).toContain(' The second is gone.')
  await page.context().close()

  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url, 'Ben Marlowe')
  await other.goto(`${office.url}/rescue`)
  const piece = other
    .getByRole('region', { name: 'Found after an interruption' })
    .getByTestId('piece')
    .filter({ hasText: 'Boards at the weir' })
  await expect(piece).toContainText('8 words added in ‹Weir›.')
  await piece.getByRole('button', { name: 'Look inside' }).click()
  const work = other.getByRole('textbox', { name: 'This work' })
  await expect(work.locator('ins')).toHaveText('The first is cracked. The second is gone.')
  await expect(other.getByRole('textbox', { name: 'The last version' })).toHaveText('WeirHeld by three boards.')
  await other.keyboard.press('ArrowLeft')
  await expect(work).not.toContainText('The second is gone.')
  await other.keyboard.press('ArrowRight')
  await expect(work).toContainText('The second is gone.')
  await other.getByRole('button', { name: 'Save as the next version' }).click()
  await expect(other.getByText('Saved as version 2.')).toBeVisible()
  await expect(paper(other)).toHaveText('WeirHeld by three boards. The first is cracked. The second is gone.')
  await other.goto(`${office.url}/rescue`)
  await expect(other.getByRole('region', { name: 'Closed without saving' })).toBeVisible()
  await expect(piece).toBeHidden()
  await other.context().close()
})

test('a damaged record in the journal: everything before it is recovered, and the gap is told', async ({
  page,
  context,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Before the harm ')
  await untilJournaled(page, 'harm ')
  await page.keyboard.type('AFTER')
  await untilJournaled(page, 'AFTER')
  const address = page.url().replace(/\?.*/, '')
  await page.close()
  const again = await context.newPage()
  await again.goto(`${office.url}/rescue`)
  await again.evaluate(
    () =>
      new Promise<void>((done) => {
        const request = indexedDB.open('jaula-journal')
        request.onsuccess = () => {
          const store = request.result.transaction('records', 'readwrite').objectStore('records')
          const all = store.getAll()
          all.onsuccess = () => {
            const harmed = all.result.find((record) => record.text.includes('"A"'))
            store.put({ ...harmed, text: harmed.text.replace('"A"', '"Z"') }).onsuccess = () => done()
          }
        }
      }),
  )
  // Neither a look from Rescue nor a save from there passes over what is missing.
  await again.goto(address.replace('/draft/', '/rescue/'))
  await expect(again.getByTestId('inside-summary')).toContainText(/on this computer is damaged after change \d+/)
  await expect(again.getByRole('textbox', { name: 'This work' })).toHaveText('Before the harm ')
  await again.goto(address)
  await expect(paper(again)).toHaveText('Before the harm ')
  await expect(again.getByText(/on this computer is damaged after change \d+/)).toBeVisible()
  await paper(again).press('Control+End')
  await again.keyboard.type('and on.')
  await untilJournaled(again, 'and on.')
  await again.reload()
  await expect(paper(again)).toHaveText('Before the harm and on.')
})

test('a second tab follows the work live, and goes on with it when the first one dies', async ({
  page,
  context,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Seen twice.')
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-24_LK06_Letter_Seen-twice')
  await paper(page).press('Control+End')
  await page.keyboard.type(' Now.')
  await untilJournaled(page, ' Now.')
  const second = await context.newPage()
  await second.goto(page.url())
  const shown = second.getByRole('textbox', { name: 'Document, read only' })
  await expect(shown).toHaveText('Seen twice. Now.')
  await expect(second.getByText('This work is open in another tab of this browser')).toBeVisible()
  await page.keyboard.type(' And live.')
  await expect(shown).toHaveText('Seen twice. Now. And live.')
  // It ends without a word: no handler of the page runs.
  const session = await context.newCDPSession(page)
  void session.send('Page.crash').catch(() => {})
  await expect(paper(second)).toHaveText('Seen twice. Now. And live.')
  await paper(second).press('Control+End')
  await second.keyboard.type(' On.')
  await second.keyboard.press('Control+s')
  await expect(reach(second)).toContainText('Saved as version 2')
})

test('all interrupted work at once: closed without saving and got back, then each saved as a separate file', async ({
  page,
  context,
  office,
}) => {
  await signIn(page, office.url)
  for (const text of ['First piece cut off.', 'Second piece cut off.']) {
    await writeNew(page, office.url, text)
    await untilJournaled(page, text)
    // The page is gone without being left.
    await page.goto('about:blank')
  }
  const rescue = await context.newPage()
  await rescue.goto(`${office.url}/rescue`)
  const found = rescue.getByRole('region', { name: 'Found after an interruption' })
  const pieces = found.getByTestId('piece')
  await expect(pieces.filter({ hasText: 'piece cut off' })).toHaveCount(2)
  await found.getByRole('button', { name: /All \d+ at once/ }).click()
  await rescue.getByRole('menuitem', { name: 'Close all of them without saving' }).click()
  // What other pages left is told of when it was silent for its time; it is not this test's.
  await expect(pieces.filter({ hasText: 'piece cut off' })).toHaveCount(0)
  const aside = rescue.getByRole('region', { name: 'Closed without saving' }).getByTestId('piece')
  await expect(aside.filter({ hasText: 'piece cut off' })).toHaveCount(2)
  await rescue
    .getByRole('listitem')
    .filter({ hasText: 'closed without saving. You can get them back' })
    .getByRole('button', { name: 'Get it back' })
    .click()
  await expect(aside.filter({ hasText: 'piece cut off' })).toHaveCount(0)
  await expect(pieces.filter({ hasText: 'piece cut off' })).toHaveCount(2)
  for (const text of ['First piece', 'Second piece']) {
    await rescue.goto(`${office.url}/rescue`)
    await pieces.filter({ hasText: text }).getByRole('button', { name: 'Go on with it' }).click()
    await paper(rescue).press('Control+End')
    await rescue.keyboard.type(' Gone on.')
    await untilJournaled(rescue, `${text} cut off. Gone on.`)
    await rescue.goto('about:blank')
  }
  await rescue.goto(`${office.url}/rescue`)
  await expect(pieces.filter({ hasText: 'piece cut off' })).toHaveCount(2)
  await found.getByRole('button', { name: /All \d+ at once/ }).click()
  await rescue.getByRole('menuitem', { name: 'Save each as a separate file' }).click()
  const dialog = rescue.getByRole('dialog')
  await dialog.getByRole('button', { name: 'Waterways', exact: true }).click()
  await expect(dialog.getByRole('list', { name: 'What they will be called' })).toContainText('First-piece-cut-off')
  await dialog.getByRole('button', { name: 'Save them here' }).click()
  await expect(pieces.filter({ hasText: 'piece cut off' })).toHaveCount(0)
  const rows = await office.query(`select name from entry where name like '%piece-cut-off%' order by name`)
  expect(rows).toHaveLength(2)
})

test('a browser that brings its journal back after it was closed has shown that it keeps it', async ({ office }) => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-e2e-'))
  const first = await openBrowser(profile)
  await signIn(first.page, office.url)
  await expect(first.page.getByTestId('keeping')).toContainText('Whether unsaved work outlives this browser')
  await first.page.reload()
  await expect(first.page.getByTestId('keeping')).toContainText('Whether unsaved work outlives this browser')
  await first.kill()
  const second = await openBrowser(profile)
  await signIn(second.page, office.url)
  await expect(second.page.getByTestId('keeping')).toContainText('may clear the unsaved work')
  await expect(second.page.getByTestId('keeping')).not.toContainText('Whether unsaved work outlives')
  await second.kill()
  rmSync(profile, { recursive: true, force: true })
})
