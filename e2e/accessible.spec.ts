import { findings } from './axe'
import { expect, signIn, test } from './office'
import { screens } from './screens'

test.use({ apart: 'accessible' })

// Held against every screen and state: WCAG 2.2 AA and axe-core's own good practice, light and dark.
test('every screen can be used by everybody, light and dark', async ({ browser, office }) => {
  test.setTimeout(240_000)
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
