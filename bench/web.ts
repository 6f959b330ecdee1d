// What the pages cost before they can be used, and who can use them: bytes until the sign-in page and until the Desk,
// times to the first key, what axe-core finds on every screen, the flows of a day by keys alone, and how much of the
// code is tests.
import { execFileSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { type Browser, type BrowserContext, chromium, type Page } from '@playwright/test'
import { writeDocx } from '../core/formats/docx/write'
import { writeXlsx } from '../core/formats/xlsx/write'
import { findings } from '../e2e/axe'
import { flows } from '../e2e/flows'
import { screens } from '../e2e/screens'
import { largeWorkbook, longDocument } from './papers'
import { median, report } from './report'

const url = process.env.BENCH_URL ?? ''
const rounds = Number(process.env.BENCH_ROUNDS ?? 5)
const suite = 'web'
const args = ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-sync']
const browser: Browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args })
const viewport = { width: 1280, height: 800 }

/** Counts what comes over the wire, packed as it comes. @returns bytes so far */
async function counting(page: Page): Promise<() => number> {
  const session = await page.context().newCDPSession(page)
  await session.send('Network.enable')
  let bytes = 0
  session.on('Network.loadingFinished', ({ encodedDataLength }) => {
    bytes += encodedDataLength
  })
  return () => bytes
}

/** Until nothing was asked for in half a second. */
const settled = (page: Page) => page.waitForLoadState('networkidle')

async function signedIn(context: BrowserContext, name = 'Priya Nandakumar'): Promise<Page> {
  const page = await context.newPage()
  page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
  await page.goto(url)
  await page.getByRole('button', { name: new RegExp(name) }).click()
  await page.getByRole('heading', { name: /^Good / }).waitFor()
  return page
}

// -- The first load ------------------------------------------------------------------------
const first: number[] = []
const desk: number[] = []
const entering: number[] = []
const empty: number[] = []
for (let round = 0; round < rounds; round++) {
  const context = await browser.newContext({ viewport })
  const page = await context.newPage()
  const bytes = await counting(page)
  await page.goto(url)
  await page.getByLabel('Sign-in name').waitFor()
  await settled(page)
  first.push(bytes() / 1000)
  const begun = performance.now()
  await page.getByRole('button', { name: /Ida Thornquist/ }).click()
  await page.getByText('was interrupted').waitFor()
  entering.push(performance.now() - begun)
  // What is fetched ahead for later is not waited for: the Desk is there.
  desk.push(bytes() / 1000)
  await context.close()
  // An empty page of the same server, in a browser as new.
  const other = await browser.newContext({ viewport })
  const plain = await other.newPage()
  const start = performance.now()
  await plain.goto(`${url}/jaula.svg`)
  empty.push(performance.now() - start)
  await other.close()
}
report({ suite, case: 'first-load-kb', value: median(first), unit: 'kB', baseline: null, better: 'lower' })
report({ suite, case: 'desk-kb', value: median(desk), unit: 'kB', baseline: null, better: 'lower' })
report({
  suite,
  case: 'sign-in-to-desk',
  value: median(entering),
  unit: 'ms',
  baseline: median(empty),
  better: 'lower',
})

// -- To the first key ----------------------------------------------------------------------
const keys = await browser.newContext({ viewport })
const worker = await signedIn(keys)
async function bringIn(bytes: Uint8Array, ending: string): Promise<string> {
  const shares = (await (await worker.request.get(`${url}/api/shares`)).json()) as { id: string }[]
  const address = `/api/files?shareId=${shares[0]!.id}&name=${randomUUID()}.${ending}&key=${randomUUID()}`
  const answer = await worker.request.post(url + address, { data: Buffer.from(bytes) })
  return `${url}/open/${((await answer.json()) as { file: { id: string } }).file.id}`
}
async function toFirstKey(address: string, ready: (page: Page) => Promise<unknown>): Promise<number> {
  const times: number[] = []
  for (let round = 0; round < rounds; round++) {
    await worker.goto(`${url}/jaula.svg`)
    const begun = performance.now()
    await worker.goto(address, { waitUntil: 'commit' })
    await ready(worker)
    times.push(performance.now() - begun)
  }
  return median(times)
}
report({
  suite,
  case: 'open-document',
  value: await toFirstKey(await bringIn(writeDocx(longDocument(100)), 'docx'), async (page) => {
    await page.locator('.ProseMirror[contenteditable=true]').waitFor()
    await page.waitForFunction(() => document.activeElement?.classList.contains('ProseMirror'))
    await page.keyboard.press('q')
    await page.waitForFunction(() => document.querySelector('.ProseMirror')?.textContent?.startsWith('q'))
    await page.keyboard.press('Control+z')
  }),
  unit: 'ms',
  baseline: median(empty),
  better: 'lower',
})
report({
  suite,
  case: 'open-200k-cells',
  value: await toFirstKey(
    await bringIn(
      writeXlsx(largeWorkbook(200_000), () => 1),
      'xlsx',
    ),
    async (page) => {
      await page.getByTestId('grid').waitFor()
      await page.waitForFunction(() => document.activeElement?.closest('canvas') !== null)
      await page.keyboard.press('7')
      await page.locator('[data-testid=cell-editor], .gdg-input, textarea').first().waitFor()
      await page.keyboard.press('Escape')
    },
  ),
  unit: 'ms',
  baseline: median(empty),
  better: 'lower',
})
await keys.close()

// -- Any hands and eyes --------------------------------------------------------------------
let nodes = 0
let seen = 0
for (const who of [null, 'Ida Thornquist', 'Priya Nandakumar'] as const) {
  const context = await browser.newContext({ viewport, bypassCSP: true })
  const page = who ? await signedIn(context, who) : await context.newPage()
  for (const screen of screens.filter((one) => one.who === who && !one.copied)) {
    await page.emulateMedia({ colorScheme: 'light' })
    await screen.go(page, url)
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme })
      await page.evaluate(() => Promise.all(document.getAnimations().map(({ finished }) => finished.catch(() => {}))))
      const found = await findings(page)
      for (const { rule, html } of found) process.stderr.write(`${screen.name}: ${rule} ${html.slice(0, 120)}\n`)
      nodes += found.length
      seen++
    }
  }
  await context.close()
}
report({ suite, case: 'axe-nodes', value: nodes, unit: `elements on ${seen} screens`, baseline: null, better: 'lower' })

let done = 0
for (const [name, flow] of Object.entries(flows)) {
  const context = await browser.newContext({ viewport })
  const page = await context.newPage()
  page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
  try {
    await flow(page, url)
    done++
  } catch (error) {
    process.stderr.write(`${name}: ${(error as Error).message.split('\n')[0]}\n`)
  }
  await context.close()
}
report({
  suite,
  case: 'keyboard-flows',
  value: done / Object.keys(flows).length,
  unit: `of ${Object.keys(flows).length} flows`,
  baseline: null,
  better: 'higher',
})
await browser.close()

// -- Tests ---------------------------------------------------------------------------------
const files = execFileSync('git', ['ls-files', '*.ts', '*.tsx', '*.mjs'], { encoding: 'utf8' }).trim().split('\n')
const count = { all: 0, tests: 0 }
for (const file of files) {
  if (file.startsWith('bench/')) continue
  const lines = readFileSync(file, 'utf8').split('\n').length
  count.all += lines
  if (file.startsWith('e2e/') || /\.(test|spec|arbitrary)\.tsx?$/.test(file)) count.tests += lines
}
report({
  suite,
  case: 'test-share',
  value: count.tests / count.all,
  unit: 'of the lines',
  baseline: null,
  better: 'higher',
})
