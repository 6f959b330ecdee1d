// Two people with one file open: how long it takes until the one sees what the other saved, and whether two open editors
// that are left alone make versions.
import { randomUUID } from 'node:crypto'
import { setTimeout as later } from 'node:timers/promises'
import { chromium, type Page } from '@playwright/test'
import { documentSchema } from '../core/content/document'
import { writeDocx } from '../core/formats/docx/write'
import { median, report } from './report'

const suite = 'together'
const url = process.env.BENCH_URL ?? ''
const rounds = Number(process.env.BENCH_ROUNDS ?? 12)
/** So long they are left alone; seconds. */
const idle = Number(process.env.BENCH_IDLE ?? 600)

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] })
const asked = async (page: Page, path: string, init: { method?: string; body?: string } = {}) =>
  page.evaluate(
    async ([where, how]) => {
      const answer = await fetch(where, { ...how, headers: { 'content-type': 'application/json' } })
      if (!answer.ok) throw new Error(await answer.text())
      return answer.status === 204 ? null : answer.json()
    },
    [path, init] as const,
  )
const entered = async (handle: string): Promise<Page> => {
  const page = await (await browser.newContext()).newPage()
  await page.goto(`${url}/jaula.svg`)
  await asked(page, '/api/session', { method: 'POST', body: JSON.stringify({ handle, password: 'lock-and-weir' }) })
  return page
}
const [writer, reader] = [await entered('priya'), await entered('ida')]
const p = (text: string) => documentSchema.node('paragraph', null, [documentSchema.text(text)])
const paper = Array.from({ length: 40 }, (_, n) =>
  p(`Paragraph ${n}: the lower gate leaks at the mitre, about a cupful a second.`),
)
const [share] = ((await asked(writer, '/api/shares')) as { id: string; name: string }[]).filter(
  ({ name }) => name === 'Waterways',
)
const saved = await writer.request.post(
  `${url}/api/files?shareId=${share!.id}&name=${randomUUID()}.docx&key=${randomUUID()}`,
  { data: Buffer.from(writeDocx(documentSchema.node('doc', null, paper))), headers: { origin: url } },
)
const { file } = (await saved.json()) as { file: { id: string } }
const document = (page: Page) => page.getByRole('textbox', { name: 'Document', exact: true })
for (const page of [writer, reader]) {
  await page.goto(`${url}/open/${file.id}`)
  await document(page).locator('p').nth(39).waitFor()
}
const versions = async (): Promise<number> =>
  ((await asked(writer, `/api/files/${file.id}`)) as { versionsInAll: number }).versionsInAll

// -- What the one saves, the other sees -----------------------------------------------------------------
/** @returns seconds from the key that saves until it stands in the other's open work */
async function seen(round: number): Promise<number> {
  const word = `Seen${round}.`
  await document(writer).locator('p').first().click()
  await writer.keyboard.press('End')
  await writer.keyboard.type(` ${word}`)
  const shown = document(reader).getByText(word).waitFor({ timeout: 60_000 })
  const begun = performance.now()
  await writer.keyboard.press('Control+s')
  await shown
  return (performance.now() - begun) / 1000
}
const [still, writing]: [number[], number[]] = [[], []]
for (let round = 0; round < rounds; round++) {
  // In every second round the other has something unsaved further down.
  if (round % 2) {
    await document(reader).locator('p').last().click()
    await reader.keyboard.press('End')
    await reader.keyboard.type(` Round ${round}.`)
  }
  ;(round % 2 ? writing : still).push(await seen(round))
}
report({
  suite,
  case: 'flow-to-other',
  value: median([...still, ...writing]),
  unit: `s from the key that saves to its words in the other's open editor, median of ${rounds}; slowest ${Math.max(...still, ...writing).toFixed(2)}`,
  baseline: 2,
  better: 'lower',
})

// -- Left alone -------------------------------------------------------------------------------------------
await reader.keyboard.press('Control+s')
for (const page of [writer, reader]) {
  await asked(page, '/api/protection', {
    method: 'PUT',
    body: JSON.stringify({ entryId: file.id, interval: null, continuous: true }),
  })
  await page.reload()
  await document(page).locator('p').nth(39).waitFor()
}
// One last change goes through the file that saves itself, and flows to the other.
const before = await versions()
await document(writer).locator('p').first().click()
await writer.keyboard.press('End')
await writer.keyboard.type(' Last.')
await document(reader).getByText('Last.').waitFor({ timeout: 60_000 })
const saves = (await versions()) - before
const after = await versions()
await later(idle * 1000)
report({
  suite,
  case: 'idle-versions',
  value: (await versions()) - after,
  unit: `versions that two open editors made, left alone for ${idle} s with saving by itself on (${saves} for the change before)`,
  baseline: null,
  better: 'lower',
})
await browser.close()
