import { expect, fileAs, journaled, paper, reach, signIn, test, untilJournaled, writeNew } from './office'

// Others switch recovery points off for people who are met here as they are on the first day.
test.use({ apart: 'protection' })

test('the interval of a file: the narrowest setting wins, managers’ bounds hold, and the reason is said', async ({
  page,
  browser,
  office,
}) => {
  const priya = await (await browser.newContext()).newPage()
  await signIn(priya, office.url, 'Priya Nandakumar')
  await priya.goto(`${office.url}/settings`)
  await priya.getByRole('combobox', { name: 'Finance: longest allowed' }).selectOption('15')
  await expect(priya.getByRole('combobox', { name: 'Finance: longest allowed' })).toHaveValue('15')
  await priya.context().close()

  await signIn(page, office.url, 'Ben Marlowe')
  await page
    .getByRole('link', { name: /Maintenance_Budget/ })
    .first()
    .click()
  await expect(page.getByTestId('grid')).toBeVisible()
  await reach(page).click()
  const setting = page.getByTestId('protection')
  await expect(setting).toContainText(
    'Unsaved work goes to the server every 15 seconds: your own setting as 30 seconds, but the managers of ‹Finance› allow at most 15 seconds.',
  )
  await setting.getByRole('button', { name: 'Change it' }).click()
  await setting.getByRole('combobox', { name: 'Recovery interval' }).selectOption('5')
  await setting.getByRole('button', { name: 'Set', exact: true }).click()
  await expect(setting).toContainText('Unsaved work goes to the server every 5 seconds: you set it for this file.')
  await page.keyboard.press('Escape')
  // Remembered with the file, and what the journal goes by.
  await page.reload()
  await expect(page.getByTestId('grid')).toBeVisible()
  await page.getByTestId('grid').click({ position: { x: 300, y: 200 } })
  await page.keyboard.type('612')
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('on the server. Not in version', { timeout: 12_000 })
  // One more letter, and the sentence says no more of it than is so, by the next picture that the screen shows.
  await page.keyboard.press('x')
  const said = await reach(page).evaluate(
    (element) =>
      new Promise<string>((tell) =>
        requestAnimationFrame(() => requestAnimationFrame(() => tell(element.textContent ?? ''))),
      ),
  )
  expect(said).not.toMatch(/^Everything up to .* is on the server/)
})

test('a file that saves itself: each pause makes a version, and they are folded in the history', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Log of the day.')
  await page.keyboard.press('Control+s')
  await fileAs(page, '2026-11-24_LK02_Survey_Log')
  await reach(page).click()
  await page.getByTestId('protection').getByRole('checkbox').click()
  await expect(page.getByTestId('protection')).toContainText('On: you set it for this file.')
  await page.keyboard.press('Escape')
  // The focus comes back to where the panel was opened; only then does anybody's hand move on.
  await expect(reach(page)).toBeFocused()
  await paper(page).press('Control+End')
  await page.keyboard.type(' Morning.')
  await expect(reach(page)).toContainText('Saved as version 2')
  await page.keyboard.type(' Noon.')
  await expect(reach(page)).toContainText('Saved as version 3')
  await page.getByRole('button', { name: /3 versions/ }).click()
  await expect(page.getByRole('button', { name: /^Version 3 .*saved by itself/ })).toBeVisible()
  await expect(page.getByRole('button', { name: /^Version 2 / })).toBeHidden()
  await page.getByRole('button', { name: '1 more by itself' }).click()
  await expect(page.getByRole('button', { name: /^Version 2 .*saved by itself/ })).toBeVisible()
  // Leaving asks nothing: there is nothing unsaved.
  await page.getByRole('link', { name: 'Back' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
})

test('a recovery drill crashes a page for real and reports both levels; the Desk tells how the last one went', async ({
  page,
  office,
}) => {
  await signIn(page, office.url)
  await expect(page.getByRole('region', { name: 'Due' })).toContainText('Getting work back was never tried here.')
  await page.goto(`${office.url}/settings`)
  await page.getByRole('button', { name: '5 seconds', exact: true }).click()
  await page.goto(`${office.url}/rescue`)
  const report = page.getByTestId('drill-report')
  for (const kind of ['spreadsheet', 'document']) {
    await page.getByLabel('With a').selectOption(kind)
    await page.getByRole('button', { name: 'Run a drill now' }).click()
    await expect(page.getByText(/It writes: \d+ letters/)).toBeVisible({ timeout: 40_000 })
    await expect(report).toContainText(`in a ${kind} on`)
    await expect(report).toContainText(/\d+ letters typed in/)
    await expect(report).toContainText('with a point every 5 seconds')
    const [{ report: kept }] = (await office.query('select report from drill order by at desc limit 1')) as unknown as [
      {
        report: { charactersTyped: number; sharedStorage: { charactersLost: number; lostMs: number }; faults: string[] }
      },
    ]
    expect(kept.charactersTyped).toBeGreaterThan(30)
    expect(kept.sharedStorage.charactersLost).toBeLessThan(kept.charactersTyped)
    expect(kept.sharedStorage.lostMs).toBeLessThan(7000)
    expect(kept.faults.join()).not.toContain('is not what was typed')
  }
  // Nothing of it stays behind.
  await page.reload()
  await expect(page.getByRole('region', { name: 'Open right now' })).toContainText('No unsaved work is open anywhere.')
  await page.goto(office.url)
  await expect(page.getByTestId('drill-line')).toContainText(/The last recovery drill (passed|failed)/)
})

test('a journal that the browser clears is an alarm that stays; the work comes back from shared storage', async ({
  page,
  browser,
  office,
}) => {
  await signIn(page, office.url)
  await writeNew(page, office.url, 'Sluice closed at noon.')
  await untilJournaled(page, 'at noon.')
  await page.evaluate(
    () =>
      new Promise<void>((done) => {
        const request = indexedDB.open('jaula-journal')
        request.onsuccess = () => {
          const change = request.result.transaction(['records', 'drafts', 'bases'], 'readwrite')
          for (const store of ['records', 'drafts', 'bases']) change.objectStore(store).clear()
          change.oncomplete = () => done()
        }
      }),
  )
  // What had been there is had back from this tab and from shared storage, and put there anew.
  await expect.poll(() => journaled(page)).toContain('at noon.')
  await page.keyboard.type(' Opened at one.')
  await untilJournaled(page, 'Opened at one.')
  await expect(reach(page)).toContainText('is on the server')
  const draft = page.url().match(/draft\/([0-9a-f-]+)/)![1]!
  await expect
    .poll(
      async () =>
        JSON.stringify(
          await office.query("select convert_from(lines, 'UTF8') as lines from recovery_point where draft_id = $1", [
            draft,
          ]),
        ),
      {
        timeout: 60_000,
      },
    )
    .toContain('text')
  await page.context().close()
  const other = await (await browser.newContext()).newPage()
  await signIn(other, office.url)
  await other.goto(`${office.url}/draft/${draft}`)
  await expect(paper(other)).toContainText('Sluice closed at noon.')
  await other.context().close()
})
