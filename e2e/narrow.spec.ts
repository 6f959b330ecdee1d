import type { Page } from '@playwright/test'
import { expect, fileAs, kept, paper, reach, signIn, test } from './office'
import { screens } from './screens'

test.use({ apart: 'narrow', copied: true })

/** What a finger or a pointer could not get at, because it lies beside the window or under something else. */
const outOfReach = (page: Page) =>
  page.evaluate(() => {
    const scrolls = (element: Element | null): boolean => {
      for (let at = element; at; at = at.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(at)
        if (/auto|scroll/.test(overflowX + overflowY)) return true
      }
      return false
    }
    const lost = [...document.querySelectorAll('button, a[href], input, select, [role=slider], [role=tab]')].filter(
      (one) => {
        const { left, right, top, bottom, width } = one.getBoundingClientRect()
        const hidden =
          !(one as HTMLElement).checkVisibility() || width <= 1 || one.closest('.sr-only, [aria-hidden=true]')
        const beside = left >= innerWidth || right <= 0 || top >= innerHeight || bottom <= 0
        return !hidden && beside && !scrolls(one.parentElement) && !/Skip to/.test(one.textContent ?? '')
      },
    )
    return [
      ...lost.map((one) => one.getAttribute('aria-label') ?? one.textContent),
      ...(document.documentElement.scrollWidth > innerWidth ? ['the page scrolls sideways'] : []),
      ...(document.documentElement.scrollHeight > innerHeight ? ['the page scrolls as a whole'] : []),
    ]
  })

for (const [width, height] of [
  [400, 760],
  [640, 400],
] as const)
  test(`every screen works at ${width} by ${height}`, async ({ browser, office }) => {
    for (const who of [null, 'Ida Thornquist', 'Priya Nandakumar'] as const) {
      const context = await browser.newContext({ viewport: { width, height } })
      const page = await context.newPage()
      page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
      if (who) await signIn(page, office.url, who)
      for (const screen of screens.filter((one) => one.who === who)) {
        await screen.go(page, office.url)
        expect.soft(await outOfReach(page), screen.name).toEqual([])
      }
      await context.close()
    }
  })

test('first save, restore and rescue at 400 px, with keys alone', async ({ browser, office }) => {
  const context = await browser.newContext({ viewport: { width: 400, height: 760 } })
  const page = await context.newPage()
  page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
  await signIn(page, office.url)
  await page.keyboard.press('Alt+n')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type('Narrow water.')
  await page.keyboard.press('Control+s')
  await fileAs(page, 'On a narrow screen')
  await page.keyboard.type(' More of it.')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await page.keyboard.press('Alt+k')
  await page.keyboard.type('versions')
  await page.keyboard.press('Enter')
  const rows = page.getByRole('list', { name: 'Versions' })
  await expect(rows).toBeVisible()
  await rows.getByRole('button', { name: /^Version 1 / }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('earlier-version')).toHaveText('Narrow water.')
  await page.getByRole('button', { name: 'Bring back' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('menuitem', { name: 'The whole file, as a new version' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Restore as version 3' }).focus()
  await page.keyboard.press('Enter')
  await expect(paper(page)).toHaveText('Narrow water.')
  // The list of versions stays as it was.
  await expect(rows).toBeVisible()
  await paper(page).focus()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' Unsaved.')
  await kept(page)
  await page.goto(`${office.url}/rescue`)
  const piece = page.getByTestId('piece').filter({ hasText: 'On a narrow screen' })
  await piece
    .getByRole('link', { name: 'Go on with it' })
    .or(piece.getByRole('button', { name: 'Go on with it' }))
    .focus()
  await page.keyboard.press('Enter')
  await expect(paper(page)).toHaveText('Narrow water. Unsaved.')
  await context.close()
})
