// Every screen in German: the way to it goes by what a German reads there, and no English is left on it.
import type { Page } from '@playwright/test'
import { messages as german } from '../core/words/de'
import { messages as english } from '../core/words/en'
import { speaker } from '../core/words/speak'
import { expect, test } from './office'
import { screens, type Words } from './screens'

test.use({ apart: 'languages', copied: true })

const words: Words = (code, facts) => speaker('de-DE', german).text({ say: code, facts })

/**
 * What a screen says beside names and contents, which are in the language of whoever wrote them: what stands there and
 * what is read out.
 */
const said = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const contents =
      '[contenteditable], bdi, .font-mono, canvas, [data-testid=grid], [data-testid=name-line], .marked-added'
    const out: string[] = []
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    while (walk.nextNode()) {
      const parent = walk.currentNode.parentElement!
      if (!parent.closest(`${contents}, script, style`) && parent.checkVisibility())
        out.push(walk.currentNode.textContent!.trim())
    }
    for (const one of document.querySelectorAll('[aria-label], [title], [placeholder]'))
      if (!one.closest(contents))
        for (const name of ['aria-label', 'title', 'placeholder']) out.push((one.getAttribute(name) ?? '').trim())
    return out.filter(Boolean)
  })

/** Sentences that German has otherwise, and words that only English has. */
const otherwise = new Set(
  Object.entries(english).flatMap(([code, text]) => (german[code as keyof typeof german] === text ? [] : [text])),
)
const onlyEnglish =
  /\b(?:the|and|of|with|your|this|that|from|were|not|are|has|have|to|saved|added|removed|words?|cells?|today|yesterday|never)\b/i
/** What the invented office calls its own things, and what it says of its people. */
const itsOwn =
  /^(?:Office|Letters|Water|Date|Kind|Subject|Lock|Kinds of paper|Locks and bridges|The Merrowdale Canal Trust|Lock inspector.*|Engineer.*|Volunteer.*|Records.*)$|workshop computer|Nobody here has this address|‹What is to be done›|How files are named/

test('every screen is in German for whoever reads German, and nothing of it is in English', async ({
  browser,
  office,
}) => {
  test.setTimeout(720_000)
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: 'de-DE' })
  const page = await context.newPage()
  // What the server refuses is said in the language of who reads it, too.
  await page.goto(office.url)
  await page.getByLabel(words('app.sign-in-name')).fill('ida')
  await page.keyboard.press('Tab')
  await page.keyboard.type('not her password')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Dieser Name und dieses Kennwort gehören nicht zusammen.')).toBeVisible()
  page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
  for (const who of [null, 'Ida Thornquist', 'Priya Nandakumar'] as const) {
    if (who) {
      await context.clearCookies()
      await page.goto(office.url)
      await page.getByRole('button', { name: new RegExp(who) }).click()
      await expect(page.getByRole('heading', { name: /^Guten / })).toBeVisible()
    }
    for (const screen of screens.filter((one) => one.who === who)) {
      await screen.go(page, office.url, words)
      const left = (await said(page))
        // A file is called what somebody called it, also within a sentence.
        // Words of files stand between these signs.
        .map((text) =>
          text
            .replace(/\S.*\.(?:docx|xlsx|pdf|txt|csv|ods|xls|doc)/, '')
            .replace(/‹[^›]*›/g, '')
            .trim(),
        )
        .filter((text) => !itsOwn.test(text) && (otherwise.has(text) || onlyEnglish.test(text)))
      expect.soft(left, screen.name).toEqual([])
    }
  }
  await expect(page.locator('html')).toHaveAttribute('lang', 'de')
  // The longer words of German have room in one line.
  await page.goto(office.url)
  await expect(page.getByRole('heading', { name: /^Guten / })).toBeVisible()
  expect((await page.getByRole('banner').boundingBox())!.height).toBeLessThan(64)
  await context.close()
})
