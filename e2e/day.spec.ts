// A worked day of one person, from the first key to the last, with a crash in the middle: every flow in its order, on one
// profile of one browser.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { command, enterByKeys, goTo } from './flows'
import { expect, openBrowser, paper, reach, signIn, test, untilJournaled } from './office'

test.use({ apart: 'day' })

test('a worked day: begun, filed, copied, crashed, rescued, found, merged, restored, put right and closed', async ({
  office,
  browser,
}) => {
  test.setTimeout(480_000)
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  let own = await openBrowser(profile)
  let { page } = own
  const { url } = office
  const name = () => page.getByRole('textbox', { name: 'Name', exact: true })
  const fileIt = async (called: string) => {
    await expect(name()).toBeFocused()
    await page.keyboard.type(called)
    await expect(page.getByTestId('full-path')).toContainText(called)
    await page.keyboard.press('Enter')
    await expect(reach(page)).toContainText('Saved as version 1')
  }

  // Morning: a notice is begun from nothing, named once, saved without thinking.
  await enterByKeys(page, url)
  await page.keyboard.press('Alt+n')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('# Stoppage at LK09\nThe lock closes on Monday.\nBoats wait above the weir.')
  await page.keyboard.press('Control+s')
  await fileIt('2026-11-26_LK09_Notice_Stoppage')
  await page.keyboard.type(' Please follow the signs.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')

  // A copy of it for the press, while the notice stays open.
  await page.keyboard.press('Alt+c')
  await expect(name()).toBeFocused()
  await page.keyboard.type('For the press')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The copy is saved as For the press.docx')).toBeVisible()
  await expect(paper(page)).toBeFocused()

  // Levels of the week, in cells.
  await page.keyboard.press('Alt+Shift+N')
  await expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
  for (const entry of ['12', '15', '=A1+A2']) {
    await page.keyboard.type(entry)
    await page.keyboard.press('Enter')
  }
  await page.keyboard.press('Control+s')
  await fileIt('2026-11-26_LK09_Levels_Week')

  // Noon: minutes that nobody named yet, and the browser dies in the middle of a word.
  await page.keyboard.press('Alt+n')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('Minutes of the works meeting. The paddles are ordered')
  await untilJournaled(page, 'The paddles are ordered')
  await own.kill()
  own = await openBrowser(profile)
  page = own.page
  page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
  await enterByKeys(page, url)
  await expect(page.getByRole('region', { name: 'Interrupted work' })).toContainText('Minutes of the works meeting')
  await command(page, 'Rescue')
  await expect(page.getByRole('heading', { name: 'Rescue', exact: true })).toBeVisible()
  await goTo(page, /^Go on with it$/, 'Tab', 'Minutes of the works meeting')
  await page.keyboard.press('Enter')
  await expect(paper(page)).toHaveText('Minutes of the works meeting. The paddles are ordered')
  // The keyboard is where it was: the sentence goes on.
  await page.keyboard.type(', and come in March.')
  await page.keyboard.press('Control+s')
  await fileIt('2026-11-26_Minutes_Works')
  await expect(paper(page)).toHaveText('Minutes of the works meeting. The paddles are ordered, and come in March.')

  // Afternoon: found again by half its name, while a colleague writes in it, too.
  const other = await (await browser.newContext()).newPage()
  await signIn(other, url, 'Priya Nandakumar')
  await page.keyboard.press('Alt+f')
  await expect(page.getByRole('combobox', { name: 'Find files' })).toBeFocused()
  await page.keyboard.type('lk09 stopp')
  await expect(page.getByRole('grid', { name: 'Found files' }).getByRole('row').first()).toContainText('Stoppage')
  await page.keyboard.press('Enter')
  await expect(paper(page)).toContainText('Boats wait above the weir.')
  await other.goto(page.url())
  await paper(other).press('Control+Home')
  await other.keyboard.press('End')
  await other.keyboard.type(', again')
  await other.keyboard.press('Control+s')
  await expect(reach(other)).toContainText('Saved as version 3')
  await other.context().close()
  await paper(page).press('Control+End')
  await page.keyboard.type(' Thank you.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 4')
  await expect(paper(page)).toContainText('Stoppage at LK09, again')
  await expect(paper(page)).toContainText('Please follow the signs. Thank you.')

  // It was better yesterday, so to say: the first version comes back, and nothing of the others is gone.
  await expect(page.getByRole('button', { name: /4 versions/ })).toBeVisible()
  await page.keyboard.press('Alt+v')
  await goTo(page, /^Version 1/)
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('earlier-version')).not.toContainText('Please follow the signs.')
  await goTo(page, /^Bring back/, 'Shift+Tab')
  await page.keyboard.press('Enter')
  await goTo(page, /^The whole file, as a new version/, 'ArrowDown')
  await page.keyboard.press('Enter')
  await goTo(page, /^Restore as version 5$/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /5 versions/ })).toBeVisible()
  await expect(paper(page)).not.toContainText('Please follow the signs.')

  // Its name follows the work, and the old one still finds it.
  await page.keyboard.press('Alt+r')
  await expect(name()).toBeFocused()
  await page.keyboard.type('2026-11-26_LK09_Notice_Closure')
  await page.keyboard.press('Enter')
  await expect(page.locator('header')).toContainText('Closure')
  await expect(paper(page)).toBeFocused()

  // Evening: one more sentence, closed without saving, and called back the same minute.
  await paper(page).press('Control+End')
  await page.keyboard.type(' Until further notice.')
  await untilJournaled(page, 'Until further notice.')
  await page.keyboard.press('Alt+w')
  await expect(page.getByRole('dialog')).toBeVisible()
  await goTo(page, /^Close, go on later$/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible()
  await command(page, 'Rescue')
  await expect(page.getByRole('heading', { name: 'Rescue', exact: true })).toBeVisible()
  await goTo(page, /^Go on with it$/, 'Tab', 'Closure')
  await page.keyboard.press('Enter')
  await expect(paper(page)).toContainText('Until further notice.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 6')

  // Nothing is left waiting, and every file of the day is where it was put.
  await page.keyboard.press('Alt+w')
  await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible()
  for (const called of ['LK09_Notice_Closure', 'For the press', 'LK09_Levels_Week', 'Minutes_Works'])
    await expect(page.getByRole('region', { name: 'Used last' })).toContainText(called)
  const versions: { files: number; versions: number }[] = (await office.query(
    `select count(distinct e.id)::int as files, count(*)::int as versions from version v join entry e on e.id = v.file_id
     where e.name = any(array['2026-11-26_LK09_Notice_Closure.docx', 'For the press.docx', '2026-11-26_LK09_Levels_Week.xlsx',
       '2026-11-26_Minutes_Works.docx'])`,
  )) as never
  expect(versions).toEqual([{ files: 4, versions: 9 }])
  await own.kill()
  rmSync(profile, { recursive: true, force: true })
})
