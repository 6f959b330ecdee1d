import { findings } from './axe'
import { expect, signIn, test } from './office'
import { inEnglish, screens } from './screens'

test.use({ apart: 'accessible', copied: true })

// Held against every screen and state: WCAG 2.2 AA and axe-core's own good practice, light and dark.
test('every screen can be used by everybody, light and dark', async ({ browser, office }) => {
  test.setTimeout(720_000)
  for (const who of [null, 'Ida Thornquist', 'Priya Nandakumar'] as const) {
    // The page's own policy keeps axe out; what it looks at stays as it is.
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, bypassCSP: true })
    const page = await context.newPage()
    page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
    if (who) await signIn(page, office.url, who)
    for (const screen of screens.filter((one) => one.who === who)) {
      await page.emulateMedia({ colorScheme: 'light' })
      await screen.go(page, office.url)
      for (const colorScheme of ['light', 'dark'] as const) {
        await page.emulateMedia({ colorScheme })
        await expect(page.locator('html')).toHaveClass(colorScheme === 'dark' ? /dark/ : /^$/)
        // What comes in softly is looked at when it is there.
        await page.evaluate(() => Promise.all(document.getAnimations().map(({ finished }) => finished.catch(() => {}))))
        expect.soft(await findings(page), `${screen.name}, ${colorScheme}`).toEqual([])
      }
    }
    await context.close()
  }
})

// A list that waits is a state of its own, and on a quick machine nobody meets it.
test('every screen can be used while the server takes its time', async ({ browser, office }) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, bypassCSP: true })
  const page = await context.newPage()
  await signIn(page, office.url, 'Priya Nandakumar')
  const file = await page
    .getByRole('main')
    .getByRole('link', { name: /\.(?:docx|xlsx)$/ })
    .first()
    .getAttribute('href')
  const frame = /^\/api\/(session|settings|shares(\/[^/]+\/naming)?)$/
  let held = 0
  await page.route(
    ({ pathname }) => pathname.startsWith('/api/') && !frame.test(pathname),
    () => {
      held++
    },
  )
  const waits = async (state: string) => {
    await expect.poll(() => held, state).toBeGreaterThan(0)
    await expect(page.getByRole('main').first()).toBeVisible()
    await page.evaluate(() => Promise.all(document.getAnimations().map(({ finished }) => finished.catch(() => {}))))
    // Between two screens there is a moment without one; what waits stays as it is until it is looked at.
    await expect.poll(() => findings(page), state).toEqual([])
    held = 0
  }
  for (const path of ['/', '/files', '/find?q=lock', '/rescue', '/copies', '/copies/retention', '/settings', file!]) {
    await page.goto(`${office.url}${path}`, { waitUntil: 'commit' })
    await waits(path)
  }
  await page.goto(`${office.url}/names`, { waitUntil: 'commit' })
  await page
    .getByRole('navigation', { name: inEnglish('files.shares') })
    .getByRole('link', { name: 'Waterways' })
    .click()
  for (const tab of ['names.bench', 'names.audit-2'] as const) {
    held = 0
    await page.getByRole('tab', { name: inEnglish(tab) }).click()
    await waits(inEnglish(tab))
  }
  await context.close()
})
