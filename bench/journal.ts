// What the journal costs a keystroke, and what it lacks when the browser is killed.
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { writeDocx } from '../core/formats/docx/write'
import { openBrowser } from '../e2e/office'
import { enter } from './enter'
import { longDocument } from './papers'
import { median, report } from './report'

const url = process.env.BENCH_URL ?? ''
const kills = Number(process.env.BENCH_KILLS ?? 20)
const rounds = Number(process.env.BENCH_ROUNDS ?? 10)
const rate = 10
const suite = 'journal'

async function bringIn(page: Page): Promise<string> {
  const bytes = Buffer.from(writeDocx(longDocument(100))).toString('base64')
  const path = await page.evaluate(
    async ({ bytes, name, key }) => {
      const [share] = await (await fetch('/api/shares')).json()
      const body = Uint8Array.from(atob(bytes), (symbol) => symbol.charCodeAt(0))
      const saved = await (
        await fetch(`/api/files?shareId=${share.id}&name=${name}.docx&key=${key}`, { method: 'POST', body })
      ).json()
      return `/open/${saved.file.id}`
    },
    { bytes, name: randomUUID(), key: randomUUID() },
  )
  return url + path
}

async function openDocument(page: Page, address: string): Promise<void> {
  await page.goto(address)
  await page.locator('.ProseMirror').waitFor({ timeout: 60_000 })
  await page.locator('.ProseMirror p').nth(1).click()
}

/** Types at the rate. @returns main-thread milliseconds a keystroke, layout and painting included */
async function typing(page: Page, keys: number): Promise<number> {
  const session = await page.context().newCDPSession(page)
  await session.send('Performance.enable')
  const busy = async () =>
    (await session.send('Performance.getMetrics')).metrics.find(({ name }) => name === 'TaskDuration')!.value * 1000
  const before = await busy()
  const start = performance.now()
  for (let i = 0; i < keys; i++) {
    await page.keyboard.press('abcdefgh '[i % 9]!)
    const wait = start + ((i + 1) * 1000) / rate - performance.now()
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait))
  }
  return ((await busy()) - before) / keys
}

// -- Cost ------------------------------------------------------------------------------------
const args = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args })
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
const page = await context.newPage()
// Each round leaves unsaved typing behind.
page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
await page.goto(`${url}/jaula.svg`)
await enter(page)
const address = await bringIn(page)
const cost = { on: [] as number[], off: [] as number[] }
for (let round = 0; round < rounds; round++)
  for (const journal of round % 2 ? (['off', 'on'] as const) : (['on', 'off'] as const)) {
    await page.evaluate((value) => sessionStorage.setItem('jaula-bench-journal', value), journal)
    await openDocument(page, address)
    await typing(page, 20)
    cost[journal].push(await typing(page, 60))
  }
await browser.close()
report({
  suite,
  case: 'keystroke-cost',
  value: median(cost.on),
  unit: 'ms of main thread',
  baseline: median(cost.off),
  better: 'lower',
})

// -- Kills -----------------------------------------------------------------------------------
const missing: number[] = []
let missingKeys = 0
for (let kill = 0; kill < kills; kill++) {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
  const first = await openBrowser(profile)
  await first.page.goto(`${url}/jaula.svg`)
  await enter(first.page)
  await openDocument(first.page, address)
  const pressed: number[] = []
  const end = performance.now() + 1500 + Math.random() * 1500
  let next = performance.now()
  while (performance.now() < end) {
    // The moment counts when the page has the key, before it has done anything with it.
    pressed.push(performance.now())
    await first.page.keyboard.press('x')
    next += 1000 / rate
    await new Promise((resolve) =>
      setTimeout(resolve, Math.min(Math.max(0, next - performance.now()), Math.max(0, end - performance.now()))),
    )
  }
  const killedAt = performance.now()
  await first.kill()
  const second = await openBrowser(profile)
  await second.page.goto(`${url}/jaula.svg`)
  const journaled = await second.page.evaluate(
    () =>
      new Promise<number>((done, failed) => {
        const request = indexedDB.open('jaula-journal')
        request.onerror = () => failed(request.error)
        request.onsuccess = () => {
          const all = request.result.transaction('records').objectStore('records').getAll()
          all.onsuccess = () =>
            done(
              all.result
                .map((record) => record.text)
                .join('\n')
                .match(/"text":"x+"/g)
                ?.join('')
                .replace(/[^x]|(?<=te)x/g, '').length ?? 0,
            )
        }
      }),
  )
  await second.kill()
  rmSync(profile, { recursive: true, force: true })
  missingKeys += pressed.length - journaled
  missing.push(journaled >= pressed.length ? 0 : killedAt - pressed[journaled]!)
}
report({ suite, case: 'missing-after-kill-median', value: median(missing), unit: 'ms', baseline: 100, better: 'lower' })
report({
  suite,
  case: 'missing-after-kill-max',
  value: Math.max(...missing),
  unit: 'ms',
  baseline: 200,
  better: 'lower',
})
report({
  suite,
  case: 'missing-after-kill-keys',
  value: missingKeys,
  unit: `keys in ${kills} kills`,
  baseline: null,
  better: 'lower',
})
