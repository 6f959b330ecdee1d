import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, type LiveBrowser, openBrowser, paper, reach, signIn, test, untilJournaled } from './office'

test('with the server gone Jaula starts, opens files used lately, and after a killed browser goes on with the work', async ({
  office,
}) => {
  let down = false
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  let browser: LiveBrowser | undefined
  try {
    browser = await openBrowser(profile)
    let page = browser.page
    await signIn(page, office.url)
    await page.evaluate(async () => {
      await navigator.serviceWorker.ready
      if (!navigator.serviceWorker.controller)
        await new Promise((done) => navigator.serviceWorker.addEventListener('controllerchange', done, { once: true }))
    })
    await page.reload()
    // Whatever else was used lately, this file is by now.
    const [file] = await office.query(
      "select id from entry where name like '%LK07%Gate-paddles.docx' order by id limit 1",
    )
    const address = `${office.url}/open/${file!.id}`
    await page.goto(address)
    await expect(paper(page)).toContainText('Gate paddles at LK07')
    await page.goto(office.url)
    await expect(page.getByRole('link', { name: /Gate-paddles/ }).first()).toBeVisible()

    await office.killServer()
    down = true
    await page.goto(office.url)
    await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible({ timeout: 30_000 })
    await page
      .getByRole('link', { name: /Gate-paddles/ })
      .first()
      .click()
    await expect(paper(page)).toContainText('Gate paddles at LK07')
    await paper(page).press('Control+End')
    await page.keyboard.type(' Written without the server.')
    await untilJournaled(page, 'without the server.')
    await expect(reach(page)).toContainText('The server does not answer.')
    await expect(reach(page)).toHaveAttribute('data-alarm', 'true')
    await browser.kill()

    browser = await openBrowser(profile)
    page = browser.page
    await page.goto(address)
    await expect(paper(page)).toContainText('Written without the server.')
    await paper(page).press('Control+End')
    await page.keyboard.type(' And on.')
    await untilJournaled(page, 'And on.')
    await office.startServer()
    down = false
    await expect(reach(page)).not.toContainText('does not answer')
  } finally {
    await browser?.kill()
    if (down) await office.startServer()
    rmSync(profile, { recursive: true, force: true })
  }
})
