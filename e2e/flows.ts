// The flows of an office's day, by keys alone: what somebody does who uses no mouse, or cannot.
import { expect, type Page } from '@playwright/test'
import { kept, paper, reach, writeNew } from './office'

/**
 * Presses a key until what has the focus is called so.
 * @param beside words that stand in the same row @throws Error when it never is
 */
export async function goTo(
  page: Page,
  name: RegExp,
  key: 'Tab' | 'Shift+Tab' | 'ArrowDown' = 'Tab',
  beside = '',
): Promise<void> {
  const seen: string[] = []
  for (let step = 0; step < 90; step++) {
    const here = await page.evaluate((words) => {
      const one = document.activeElement as HTMLElement | null
      if (words && !one?.closest('li')?.textContent?.includes(words)) return ''
      const labelled = one?.getAttribute('aria-labelledby')
      return (
        one?.getAttribute('aria-label') ??
        (labelled ? document.getElementById(labelled)?.textContent : null) ??
        (one as HTMLInputElement | null)?.labels?.[0]?.textContent ??
        (one === document.body ? '' : one?.textContent?.slice(0, 200)) ??
        ''
      ).trim()
    }, beside)
    if (name.test(here)) return
    seen.push(here.slice(0, 30))
    await page.keyboard.press(key)
  }
  throw new Error(`${key} never comes to ${name}; it came to ${[...new Set(seen)].join(', ')}`)
}

/** Has a command of the list done. */
export async function command(page: Page, typed: string): Promise<void> {
  await page.keyboard.press('Alt+k')
  await expect(page.getByPlaceholder('Where to, what to do, or how?')).toBeFocused()
  await page.keyboard.type(typed)
  // What is there only once the server has answered: nobody chooses what they do not see.
  await expect(page.getByRole('option', { selected: true }).first()).toBeVisible()
  await page.keyboard.press('Enter')
}

/** Signs in, unless the browser still knows who this is. */
export async function enterByKeys(page: Page, url: string, handle = 'ida'): Promise<void> {
  await page.goto(url)
  const known = page.getByRole('heading', { name: /^Good / })
  // A browser that was killed knows it where its cookies were on the disk in time.
  await expect(page.getByLabel('Sign-in name').or(known)).toBeVisible()
  if (await known.isVisible()) return
  await expect(page.getByLabel('Sign-in name')).toBeFocused()
  await page.keyboard.type(handle)
  await page.keyboard.press('Tab')
  await page.keyboard.type('lock-and-weir')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible()
}

/** Begins a spreadsheet by its keys, and enters what stands below each other. */
export async function beginSheet(page: Page, ...entries: string[]): Promise<void> {
  await page.keyboard.press('Alt+Shift+N')
  await expect.poll(() => page.evaluate(() => document.activeElement?.closest('canvas') !== null)).toBe(true)
  for (const entry of entries) {
    await page.keyboard.type(entry)
    await page.keyboard.press('Enter')
  }
}

/** Writes something new and files it. */
async function filed(page: Page, text: string, name: string): Promise<void> {
  await page.keyboard.press('Alt+n')
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type(text)
  await page.keyboard.press('Control+s')
  await expect(page.getByRole('textbox', { name: 'Name', exact: true })).toBeFocused()
  await page.keyboard.type(name)
  await expect(page.getByTestId('full-path')).toContainText(name)
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
}

const unique = () => Math.random().toString(36).slice(2, 8)

export const flows: Record<string, (page: Page, url: string) => Promise<void>> = {
  async 'begin a document, name it and go on saving'(page, url) {
    await enterByKeys(page, url)
    await filed(page, 'The towpath is open again.', `Keys ${unique()}`)
    await page.keyboard.type(' From Monday on.')
    await page.keyboard.press('Control+s')
    await expect(reach(page)).toContainText('Saved as version 2')
  },
  async 'begin a spreadsheet and file it'(page, url) {
    await enterByKeys(page, url)
    await beginSheet(page, '12', '30', '=A1+A2')
    await page.keyboard.press('Control+s')
    await expect(page.getByRole('textbox', { name: 'Name', exact: true })).toBeFocused()
    await page.keyboard.type(`Cells ${unique()}`)
    await page.keyboard.press('Enter')
    await expect(reach(page)).toContainText('Saved as version 1')
  },
  async 'begin from a template'(page, url) {
    await enterByKeys(page, url, 'priya')
    await command(page, 'New from Lock inspection')
    await expect(paper(page)).toBeFocused()
    await expect(paper(page)).toContainText('What was found')
  },
  async 'save a copy for another purpose'(page, url) {
    await enterByKeys(page, url)
    await filed(page, 'For the members.', `Letter ${unique()}`)
    await page.keyboard.press('Alt+c')
    await expect(page.getByRole('textbox', { name: 'Name', exact: true })).toBeFocused()
    await page.keyboard.type(`Letter to the press ${unique()}`)
    await page.keyboard.press('Enter')
    await expect(page.getByText('The copy is saved as')).toBeVisible()
    await expect(paper(page)).toBeFocused()
  },
  async 'rename and move a file'(page, url) {
    await enterByKeys(page, url)
    await filed(page, 'Draft of a plan.', `Plan ${unique()}`)
    const name = `Plan of works ${unique()}`
    await page.keyboard.press('Alt+r')
    await expect(page.getByRole('textbox', { name: 'Name', exact: true })).toBeFocused()
    await page.keyboard.type(name)
    await page.keyboard.press('Enter')
    await expect(page.locator('header')).toContainText(name)
    await expect(paper(page)).toBeFocused()
  },
  async 'find a file by half its name and open it'(page, url) {
    await enterByKeys(page, url)
    await page.keyboard.press('Alt+f')
    await expect(page.getByRole('combobox', { name: 'Find files' })).toBeFocused()
    // Without waiting for what is found: it is gone to all the same, and stays.
    await page.keyboard.type('gate-padd lk07')
    await page.keyboard.press('Enter')
    await expect(paper(page)).toBeFocused()
    await expect(page.locator('header')).toContainText('Gate-paddles')
  },
  async 'go through folders, rename a file in its place and take it back'(page, url) {
    await enterByKeys(page, url)
    await command(page, 'Files')
    const list = page.getByRole('grid', { name: 'Files and folders' })
    await expect(list).toBeVisible()
    await goTo(page, /^Waterways/)
    await page.keyboard.press('Enter')
    await goTo(page, /^Files and folders$/)
    await expect(list).toContainText('Inspections')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('heading', { level: 1 })).toContainText('Inspections')
  },
  async 'close with unsaved work, and go on with it from Rescue'(page, url) {
    await enterByKeys(page, url)
    const mark = unique()
    await page.keyboard.press('Alt+n')
    await expect(paper(page)).toBeFocused()
    await page.keyboard.type(`Unsaved ${mark}.`)
    await kept(page)
    await page.keyboard.press('Alt+w')
    await expect(page.getByRole('dialog')).toBeVisible()
    await goTo(page, /^Close, go on later$/)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('heading', { name: /^Good / })).toBeVisible()
    await command(page, 'Rescue')
    const piece = page.getByTestId('piece').filter({ hasText: mark })
    await expect(piece).toBeVisible()
    await goTo(page, /^Go on with it$/, 'Tab', mark)
    await page.keyboard.press('Enter')
    await expect(paper(page)).toContainText(mark)
  },
  async 'look at an earlier version and restore it'(page, url) {
    await enterByKeys(page, url)
    await filed(page, 'First words.', `Back ${unique()}`)
    await page.keyboard.type(' More words.')
    await page.keyboard.press('Control+s')
    await expect(reach(page)).toContainText('Saved as version 2')
    await expect(page.getByRole('button', { name: /2 versions/ })).toBeVisible()
    await page.keyboard.press('Alt+v')
    await goTo(page, /^Version 1/)
    await page.keyboard.press('Enter')
    await expect(page.getByTestId('earlier-version')).toHaveText('First words.')
    await goTo(page, /^Bring back/, 'Shift+Tab')
    await page.keyboard.press('Enter')
    await goTo(page, /^The whole file, as a new version/, 'ArrowDown')
    await page.keyboard.press('Enter')
    await goTo(page, /^Restore as version 3$/)
    await page.keyboard.press('Enter')
    await expect(paper(page)).toHaveText('First words.')
  },
  async 'see how far work has got'(page, url) {
    await enterByKeys(page, url)
    await page.keyboard.press('Alt+n')
    await expect(paper(page)).toBeFocused()
    await page.keyboard.type('Safe?')
    await kept(page)
    await page.keyboard.press('Escape')
    await goTo(page, /Everything up to|is on this computer/, 'Shift+Tab')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('dialog', { name: 'How far this work has got' })).toContainText('The server')
  },
  async 'correct the names of a share that do not follow'(page, url) {
    await enterByKeys(page, url, 'priya')
    await command(page, 'Names')
    await goTo(page, /^Waterways$/)
    await page.keyboard.press('Enter')
    await goTo(page, /^Audit$/)
    await page.keyboard.press('Enter')
    await expect(page.getByText(/names follow/)).toBeVisible()
    await goTo(page, /^Correct \d+ names?$/)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: 'Undo all of it' })).toBeVisible()
    await goTo(page, /^Undo all of it$/)
    await page.keyboard.press('Enter')
  },
  async 'set how often work is protected'(page, url) {
    await enterByKeys(page, url)
    await command(page, 'Settings')
    await goTo(page, /^15 seconds$/)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: '15 seconds' })).toHaveAttribute('aria-pressed', 'true')
    await goTo(page, /^30 seconds$/)
    await page.keyboard.press('Enter')
  },
}

/** Begins a notice with a heading and a strong word. */
export async function writeNotice(page: Page, url: string): Promise<void> {
  await writeNew(page, url, 'Towpath closed.')
  await page.keyboard.press('Alt+Shift+1')
  await page.keyboard.press('Enter')
  await page.keyboard.type('From ')
  await page.keyboard.press('Control+b')
  await page.keyboard.type('Monday')
}
/** Files new work for a receiver who needs another type, of which all is in such a file. @param called name with its ending */
export async function fileFor(page: Page, receiver: string, called: string): Promise<void> {
  await page.keyboard.press('Control+s')
  await page.getByRole('combobox', { name: 'What is it for?' }).focus()
  await page.keyboard.type(receiver)
  await expect(page.getByTestId('losses')).toHaveText('All of it is in such a file.')
  await page.getByRole('textbox', { name: 'Name', exact: true }).focus()
  await page.keyboard.press('Control+a')
  await page.keyboard.type(called.replace(/\.\w+$/, ''))
  await expect(page.getByTestId('full-path')).toContainText(called)
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('This is version 1')
}
/** Goes on with a notice whose page is lost in the middle, and saves it. */
export async function goOnAfterLoss(page: Page): Promise<void> {
  await expect(paper(page).locator('strong')).toHaveText('Monday')
  await paper(page).press('Control+End')
  await page.keyboard.type(' on')
  await kept(page)
  await page.reload()
  await expect(paper(page).locator('strong')).toHaveText('Monday on')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
}
