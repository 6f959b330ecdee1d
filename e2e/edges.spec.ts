// Headers and footers: written by keys, kept like the text, and in the file.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { strFromU8, unzipSync } from 'fflate'
import { expect, fileAs, openBrowser, paper, reach, signIn, test, untilJournaled, writeNew } from './office'

const edge = (page: Page, name: 'header' | 'footer') => page.getByRole('textbox', { name: `Page ${name}` })

/** Into the header or the footer, by what can be done. */
async function goTo(page: Page, name: 'header' | 'footer'): Promise<void> {
  await page.keyboard.press('Alt+k')
  await page.keyboard.type(`page ${name}`)
  await expect(page.getByRole('option', { name: `Write in the page ${name}` })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(edge(page, name)).toBeFocused()
}

test('a header and a footer are written by keys, outlive a killed browser, and are in the file', async ({ office }) => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-profile-'))
  const first = await openBrowser(profile)
  await signIn(first.page, office.url)
  await writeNew(first.page, office.url, 'Minutes of the lock committee')
  await goTo(first.page, 'header')
  await first.page.keyboard.type('Merrowdale Canal Trust')
  await first.page.keyboard.press('Escape')
  await expect(paper(first.page)).toBeFocused()
  await goTo(first.page, 'footer')
  await first.page.keyboard.type('Page ')
  await first.page.keyboard.press('Tab')
  await first.page.keyboard.press('Enter')
  await expect(first.page.getByRole('menuitem', { name: 'Page number' })).toBeFocused()
  await first.page.keyboard.press('Enter')
  await expect(edge(first.page, 'footer')).toBeFocused()
  await first.page.keyboard.type(', with all present.')
  await expect(edge(first.page, 'footer')).toHaveText('Page 1, with all present.')
  await untilJournaled(first.page, 'with all present.')
  const address = first.page.url()
  await first.kill()

  const { page, kill } = await openBrowser(profile)
  await signIn(page, office.url)
  await page.goto(address)
  await expect(paper(page)).toHaveText('Minutes of the lock committee')
  await expect(edge(page, 'header')).toHaveText('Merrowdale Canal Trust')
  await expect(edge(page, 'footer')).toHaveText('Page 1, with all present.')
  // Undone and done again where it is, also after the crash.
  await goTo(page, 'footer')
  await page.keyboard.press('Control+z')
  await expect(edge(page, 'footer')).toHaveText('Page 1, ')
  await page.keyboard.press('Control+y')
  await expect(edge(page, 'footer')).toHaveText('Page 1, with all present.')
  await expect(edge(page, 'footer')).toBeFocused()
  await page.keyboard.press('Control+s')
  await fileAs(page, 'Minutes with edges')
  const [version] = await office.query(
    "select v.id from version v join entry e on e.id = v.file_id where e.name = 'Minutes with edges.docx'",
    [],
  )
  const answer = await page.request.get(`${office.url}/api/versions/${version!.id}/bytes`)
  const parts = unzipSync(new Uint8Array(await answer.body()))
  const said = Object.entries(parts).flatMap(([name, part]) =>
    /word\/(?:header|footer)\d+\.xml$/.test(name) ? [strFromU8(part)] : [],
  )
  expect(said.map((xml) => xml.replace(/<[^>]*>/g, '').trim())).toEqual([
    'Merrowdale Canal Trust',
    'Page 1, with all present.',
  ])
  expect(said[1]).toContain('w:instr="PAGE"')

  // The first page has its own: what the others have stays as it is, and the comparison tells it.
  await goTo(page, 'header')
  await page.getByRole('checkbox', { name: 'Different on the first page' }).press('Space')
  await expect(edge(page, 'header')).toBeFocused()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(', committees')
  await expect(edge(page, 'header')).toHaveText('Merrowdale Canal Trust, committees')
  await page.getByRole('button', { name: 'Other pages' }).press('Enter')
  await expect(edge(page, 'header')).toHaveText('Merrowdale Canal Trust')
  await page.keyboard.press('Control+s')
  await expect(reach(page)).toContainText('Saved as version 2')
  await expect(page.getByText(/a header added; a footer added/)).toBeVisible()
  await kill()
  rmSync(profile, { recursive: true, force: true })
})
