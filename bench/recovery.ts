// The crash campaign: browsers, servers and databases killed at random moments while somebody types,
// pages that hang; what was lost, what was claimed falsely, how soon one is back at the cursor. And
// what protection costs: a keystroke, a point's bytes, three hundred drafts at once.
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as later } from 'node:timers/promises'
import type { Page } from '@playwright/test'
import pg from 'pg'
import { blankDocument } from '../core/content/document'
import { blankWorkbook, type Workbook } from '../core/content/workbook'
import type { JournalRecord } from '../core/contract'
import { writeDocx } from '../core/formats/docx/write'
import { writeXlsx } from '../core/formats/xlsx/write'
import { nothingBeyond } from '../core/recovery/beyond'
import { chainOf, genesis, recordOf, recordText } from '../core/recovery/chain'
import { readChain, type StoredRecord } from '../core/recovery/journal'
import { replayDocument, replayWorkbook } from '../core/recovery/replay'
import { openBrowser } from '../e2e/office'
import { enter } from './enter'
import { largeWorkbook, longDocument } from './papers'
import { median, report } from './report'

const suite = 'recovery'
const { BENCH_URL: url = '', BENCH_DATABASE_URL: databaseUrl = '' } = process.env
const count = (name: string, usual: number) => Number(process.env[name] ?? usual)
const kills = count('BENCH_KILLS', 100)
const serverKills = count('BENCH_SERVER_KILLS', 50)
const databaseKills = count('BENCH_DATABASE_KILLS', 50)
const hangs = count('BENCH_HANGS', 20)
const rounds = count('BENCH_ROUNDS', 6)
const loadSeconds = count('BENCH_LOAD_SECONDS', 300)
const drafts = 300
/** Keys a second. */
const rate = 10

const quantile = (values: readonly number[], q: number) =>
  values.length ? values.toSorted((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * q))]! : 0

/** Asks the parent process, which started them, to kill the server or the database. */
const killed = (what: 'server' | 'database') =>
  new Promise<void>((done) => {
    const key = randomUUID()
    const hear = (message: unknown) => {
      if ((message as { key?: string }).key !== key) return
      process.off('message', hear)
      done()
    }
    process.on('message', hear)
    process.send?.({ kill: what, key })
  })

async function signedIn(page: Page): Promise<void> {
  await page.goto(`${url}/jaula.svg`)
  await enter(page)
}
const setInterval5 = (page: Page) =>
  page.evaluate(async () => {
    const settings = await (await fetch('/api/settings')).json()
    await fetch('/api/settings', {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ ...settings, recoveryInterval: 5 }),
    })
  })
/** The rows of this browser's journal, as they are kept. */
const journalRows = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<unknown[]>((done, failed) => {
        const request = indexedDB.open('jaula-journal')
        request.onerror = () => failed(request.error)
        request.onsuccess = () => {
          const all = request.result.transaction('records').objectStore('records').getAll()
          all.onsuccess = () => {
            request.result.close()
            done(all.result)
          }
        }
      }),
  )
/** The records of one draft that began blank, as far as they can be read. */
function recordsOf(rows: readonly unknown[]): JournalRecord[] {
  const last = (rows as StoredRecord[]).toSorted((a, b) => a.seq - b.seq).at(-1)
  if (!last) return []
  return readChain(rows, null, { seq: last.seq, digest: last.digest }).links.map(({ text }) => recordOf(text))
}
/** What the page claims: the last record on the device and on shared storage. */
const claims = (page: Page) =>
  page
    .getByTestId('reach')
    .evaluate((element) => ({ device: Number(element.dataset.device), storage: Number(element.dataset.storage) }))

type Kind = 'document' | 'spreadsheet'
const marks = (text: string) => text.split('x').length - 1
function marksIn(kind: Kind, records: readonly JournalRecord[]): number {
  if (kind === 'document') return marks(replayDocument(blankDocument(), records).model.textContent)
  const { model }: { model: Workbook } = replayWorkbook(blankWorkbook(), records)
  return marks(
    model.sheets.flatMap(({ rows }) => rows.flatMap((row) => (row ?? []).map((cell) => cell?.value ?? ''))).join(' '),
  )
}
async function begin(page: Page, kind: Kind): Promise<string> {
  await page.goto(`${url}/new/${kind}`)
  if (kind === 'document') await page.getByRole('textbox', { name: 'Document', exact: true }).waitFor()
  else {
    await page.getByTestId('grid').waitFor()
    await page.getByTestId('grid').click({ position: { x: 200, y: 120 } })
  }
  await later(300)
  return page.url()
}
/** Types marks at the rate until `ms` have passed. @returns when each was typed */
async function typeMarks(page: Page, kind: Kind, ms: number): Promise<number[]> {
  const pressed: number[] = []
  const end = performance.now() + ms
  let next = performance.now()
  while (performance.now() < end) {
    if (kind === 'spreadsheet' && pressed.length % 6 === 5) await page.keyboard.press('Enter')
    pressed.push(performance.now())
    await page.keyboard.press('x')
    next += 1000 / rate
    await later(Math.max(0, Math.min(next, end) - performance.now()))
  }
  return pressed
}

// -- Killed browsers ---------------------------------------------------------------------------
const lostMs: number[] = []
const back: number[] = []
let falseClaims = 0
let lostKeys = 0
for (let kill = 0; kill < kills; kill++) {
  const kind: Kind = kill % 2 ? 'spreadsheet' : 'document'
  const profile = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
  const first = await openBrowser(profile)
  await signedIn(first.page)
  const address = await begin(first.page, kind)
  const pressed = await typeMarks(first.page, kind, 1200 + Math.random() * 1500)
  const claimed = await claims(first.page)
  const more = await typeMarks(first.page, kind, Math.random() * 300)
  const all = [...pressed, ...more]
  const killedAt = performance.now()
  await first.kill()
  const second = await openBrowser(profile)
  await signedIn(second.page)
  const records = recordsOf(await journalRows(second.page))
  const there = marksIn(kind, records)
  lostKeys += Math.max(0, all.length - there)
  lostMs.push(there >= all.length ? 0 : killedAt - all[there]!)
  if (claimed.device > records.length) falseClaims++
  const begun = performance.now()
  await second.page.goto(address)
  if (kind === 'document') await second.page.locator('.ProseMirror', { hasText: 'x' }).waitFor()
  else await second.page.getByTestId('grid').waitFor()
  back.push((performance.now() - begun) / 1000)
  await second.kill()
  rmSync(profile, { recursive: true, force: true })
}
if (kills) {
  const unit = `ms in ${kills} kills, ${lostKeys} keys in all`
  report({ suite, case: 'browser-kill-median', value: median(lostMs), unit, baseline: null, better: 'lower' })
  report({ suite, case: 'browser-kill-p99', value: quantile(lostMs, 0.99), unit, baseline: 100, better: 'lower' })
  report({ suite, case: 'browser-kill-max', value: Math.max(...lostMs), unit, baseline: null, better: 'lower' })
  report({
    suite,
    case: 'back-at-cursor',
    value: median(back),
    unit: `s, slowest ${Math.max(...back).toFixed(2)}`,
    baseline: 2,
    better: 'lower',
  })
}

// -- Killed servers and databases ----------------------------------------------------------------
const profile = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
const browser = await openBrowser(profile)
const page = browser.page
page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
await signedIn(page)
await setInterval5(page)
const draftOf = async (id: string): Promise<{ pointSeq: number; records: { seq: number }[] } | null> => {
  const answer = await page.evaluate(async (address) => {
    const response = await fetch(address).catch(() => null)
    return response?.ok ? await response.json() : null
  }, `/api/drafts/${id}`)
  return answer && { pointSeq: answer.draft.pointSeq, records: answer.lines.map((line: string) => recordOf(line)) }
}
const cookies = await page.context().cookies()
const cookie = cookies.map(({ name, value }) => `${name}=${value}`).join('; ')
const healthy = async () => {
  for (;;) {
    const answer = await fetch(`${url}/api/health`).catch(() => null)
    if (answer?.ok && (await answer.json()).ok) return
    await later(100)
  }
}
async function campaign(what: 'server' | 'database', times: number): Promise<void> {
  if (!times) return
  let lost = 0
  for (let kill = 0; kill < times; kill++) {
    if (kill % 10 === 0) await begin(page, 'document')
    const id = /draft\/([0-9a-f-]+)/.exec(page.url())![1]!
    await typeMarks(page, 'document', 300 + Math.random() * 2500)
    const before = await claims(page)
    await killed(what)
    await typeMarks(page, 'document', 300)
    await healthy()
    const after = await draftOf(id)
    const whole = (after?.records ?? []).every(({ seq }, index) => seq === index + 1)
    const present = whole ? (after?.records.length ?? 0) : 0
    lost += Math.max(0, before.storage - present)
    if (before.storage > present) falseClaims++
    const records = recordsOf((await journalRows(page)).filter((row) => (row as { draftId: string }).draftId === id))
    if (before.device > records.length) falseClaims++
  }
  report({
    suite,
    case: `${what}-kill-lost`,
    value: lost,
    unit: `acknowledged records in ${times} kills`,
    baseline: null,
    better: 'lower',
  })
}
await campaign('server', serverKills)
await campaign('database', databaseKills)
await browser.kill()
rmSync(profile, { recursive: true, force: true })

// -- Pages that hang -------------------------------------------------------------------------------
let hungLost = 0
let late = 0
for (let hang = 0; hang < hangs; hang++) {
  const place = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
  const first = await openBrowser(place)
  await signedIn(first.page)
  await setInterval5(first.page)
  const address = await begin(first.page, 'document')
  const id = /draft\/([0-9a-f-]+)/.exec(address)![1]!
  const typed = await typeMarks(first.page, 'document', 1000 + Math.random() * 1000)
  // As an endless loop in the page does: its thread never comes back, its worker's does.
  first.page
    .evaluate(() => {
      for (;;);
    })
    .catch(() => {})
  const hungAt = performance.now()
  let stored = 0
  while (stored < typed.length && performance.now() - hungAt < 15_000) {
    const answer = await fetch(`${url}/api/drafts/${id}`, { headers: { cookie } })
    stored = answer.ok ? (await answer.json()).lines.length : 0
    await later(100)
  }
  if (performance.now() - hungAt > 7000) late++
  await first.kill()
  const second = await openBrowser(place)
  await second.page.goto(`${url}/jaula.svg`)
  const there = marksIn('document', recordsOf(await journalRows(second.page)))
  hungLost += Math.max(0, typed.length - there)
  await second.kill()
  rmSync(place, { recursive: true, force: true })
}
if (hangs)
  report({
    suite,
    case: 'hang-lost',
    value: hungLost,
    unit: `acknowledged records in ${hangs} hung pages; ${late} points later than the interval and 2 s`,
    baseline: null,
    better: 'lower',
  })
const claimsLookedAt = kills + 2 * (serverKills + databaseKills)
if (claimsLookedAt)
  report({
    suite,
    case: 'false-claims',
    value: falseClaims,
    unit: `of ${claimsLookedAt} claims`,
    baseline: null,
    better: 'lower',
  })

// -- What it costs -----------------------------------------------------------------------------------
async function bringIn(at: Page, bytes: Uint8Array, type: string): Promise<string> {
  const path = await at.evaluate(
    async ({ data, name, key }) => {
      const [share] = await (await fetch('/api/shares')).json()
      const body = Uint8Array.from(atob(data), (symbol) => symbol.charCodeAt(0))
      const answer = await fetch(`/api/files?shareId=${share.id}&name=${name}&key=${key}`, { method: 'POST', body })
      return `/open/${(await answer.json()).file.id}`
    },
    { data: Buffer.from(bytes).toString('base64'), name: `${randomUUID()}.${type}`, key: randomUUID() },
  )
  return url + path
}
/** The mean ratio of values measured in turns, with its standard error. */
function pairedRatio(on: readonly number[], off: readonly number[]): { ratio: number; error: number } {
  const ratios = on.map((value, at) => value / off[at]!)
  const ratio = ratios.reduce((sum, one) => sum + one, 0) / ratios.length
  const spread = ratios.reduce((sum, one) => sum + (one - ratio) ** 2, 0) / Math.max(1, ratios.length - 1)
  return { ratio, error: Math.sqrt(spread / ratios.length) }
}
async function keystroke(kind: Kind, name: string, bytes: Uint8Array): Promise<void> {
  const place = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
  const own = await openBrowser(place)
  own.page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
  await signedIn(own.page)
  const address = await bringIn(own.page, bytes, kind === 'document' ? 'docx' : 'xlsx')
  await setInterval5(own.page)
  const cost = { on: [] as number[], off: [] as number[] }
  const long: number[] = []
  await own.page.goto(address)
  if (kind === 'document') {
    await own.page.locator('.ProseMirror').waitFor({ timeout: 90_000 })
    await own.page.locator('.ProseMirror p').nth(1).click()
  } else {
    await own.page.getByTestId('glide-cell-1-1').waitFor({ state: 'attached', timeout: 90_000 })
    await later(3000)
    await own.page.getByTestId('grid').click({ position: { x: 300, y: 160 } })
  }
  // Past the beginning of a draft, which is told to the server and costs once.
  await typeMarks(own.page, kind, 6000)
  const session = await own.page.context().newCDPSession(own.page)
  // By the thread's own clock: what other processes take meanwhile is not the keystroke's.
  await session.send('Performance.enable', { timeDomain: 'threadTicks' })
  const busy = async () =>
    (await session.send('Performance.getMetrics')).metrics.find((one) => one.name === 'TaskDuration')!.value * 1000
  await own.page.evaluate(() => {
    const seen: number[] = []
    Object.assign(window, { longTasks: seen })
    new PerformanceObserver((list) => seen.push(...list.getEntries().map(({ duration }) => duration))).observe({
      entryTypes: ['longtask'],
    })
  })
  // In one page and in turns (on, off, off, on …), because two loads of a page differ by more than is looked for.
  // With a point every five seconds each turn with protection has one, and none is left for the turn without.
  for (let round = 0; round < rounds; round++)
    for (const journal of round % 2 ? (['off', 'on'] as const) : (['on', 'off'] as const)) {
      const settled = () =>
        own.page.getByTestId('reach').evaluate(({ dataset }) => Number(dataset.storage) >= Number(dataset.device))
      while (!(await settled())) await later(200)
      await later(1000)
      await own.page.evaluate((value) => sessionStorage.setItem('jaula-bench-journal', value), journal)
      await typeMarks(own.page, kind, 1000)
      const seenBefore = await own.page.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks.length)
      const before = await busy()
      const typed = await typeMarks(own.page, kind, 8000)
      cost[journal].push(((await busy()) - before) / typed.length)
      if (journal === 'on')
        long.push(
          ...(await own.page.evaluate(
            (from) => (window as unknown as { longTasks: number[] }).longTasks.slice(from),
            seenBefore,
          )),
        )
    }
  await own.kill()
  rmSync(place, { recursive: true, force: true })
  const { ratio, error } = pairedRatio(cost.on, cost.off)
  report({
    suite,
    case: name,
    value: median(cost.on),
    unit: `ms of main thread; by pairs ${ratio.toFixed(3)} ± ${error.toFixed(3)}; ${long.length} tasks over 50 ms, longest ${Math.round(Math.max(0, ...long))}`,
    baseline: median(cost.off),
    better: 'lower',
  })
}
if (rounds) {
  await keystroke('document', 'keystroke-document', writeDocx(longDocument(200)))
  await keystroke('spreadsheet', 'keystroke-200k-cells', writeXlsx(largeWorkbook(200_000)))
  const place = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
  const own = await openBrowser(place)
  await signedIn(own.page)
  await setInterval5(own.page)
  // Letters that do not repeat, so that the file really has its size.
  const noisy = Array.from({ length: 2_200_000 }, () => String.fromCharCode(97 + Math.floor(Math.random() * 26))).join(
    '',
  )
  const large = longDocument(1)
  const file = writeDocx(
    large.type.create(null, [
      ...large.content.content,
      ...(noisy.match(/.{1,2000}/g) ?? []).map((text) =>
        large.type.schema.node('paragraph', null, [large.type.schema.text(text)]),
      ),
    ]),
  )
  await own.page.goto(await bringIn(own.page, file, 'docx'))
  await own.page.locator('.ProseMirror').waitFor({ timeout: 90_000 })
  await own.page.locator('.ProseMirror p').first().click()
  await own.page.keyboard.type('The lower gate leaks at the mitre by about a cupful a second.', { delay: 30 })
  let cost: { bytes: number; points: number } | null = null
  for (let tries = 0; tries < 200 && !cost; tries++) {
    await later(100)
    cost = await own.page.evaluate(() => JSON.parse(localStorage.getItem('jaula-point-cost') ?? 'null'))
  }
  await later(6000)
  cost = await own.page.evaluate(() => JSON.parse(localStorage.getItem('jaula-point-cost') ?? 'null'))
  report({
    suite,
    case: 'point-bytes',
    value: cost?.bytes ?? Number.NaN,
    unit: `bytes in ${cost?.points} points for a sentence`,
    baseline: file.length,
    better: 'lower',
  })
  await own.kill()
  rmSync(place, { recursive: true, force: true })
}

// -- Three hundred drafts at once ----------------------------------------------------------------------
if (loadSeconds) {
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  await client.query('create table if not exists bench_bare (id bigserial primary key, body jsonb)')
  const times: number[] = []
  const bare: number[] = []
  const sent = new Map<string, number>()
  const end = performance.now() + loadSeconds * 1000
  const ends = new Map<string, { seq: number; digest: string }>()
  const one = async (index: number) => {
    const id = randomUUID()
    const deviceId = randomUUID()
    const writerId = randomUUID()
    sent.set(id, 0)
    // Spread over the interval, as people are.
    await later((index / drafts) * 5000)
    while (performance.now() < end) {
      const began = performance.now()
      const from = sent.get(id)!
      const lines = Array.from({ length: 40 }, (_, offset) =>
        recordText({
          seq: from + offset + 1,
          at: Date.now(),
          edit: {
            steps: [
              {
                stepType: 'replace',
                from: from + offset + 1,
                to: from + offset + 1,
                slice: { content: [{ type: 'text', text: 'x' }] },
              },
            ],
          },
        }),
      )
      const heartbeat = {
        id,
        kind: 'document',
        deviceId,
        deviceName: 'Bench',
        bornAt: new Date().toISOString(),
        baseVersionId: null,
        fileId: null,
        savedSeq: 0,
        journalSeq: from + 40,
        lastEditAt: new Date().toISOString(),
        opening: 'x',
        beyond: { ...nothingBeyond, edits: from + 40 },
        sender: { epoch: 1, writerId },
      }
      const after = ends.get(id) ?? { seq: 0, digest: genesis(null) }
      const links = chainOf(lines, after)
      const body = JSON.stringify({ heartbeat, after, lines })
      const answer = await fetch(`${url}/api/drafts/${id}/points`, {
        method: 'POST',
        headers: { cookie, 'content-type': 'application/json' },
        body,
      }).catch(() => null)
      times.push(performance.now() - began)
      if (answer?.ok) {
        sent.set(id, (await answer.json()).pointSeq)
        ends.set(id, { seq: from + 40, digest: links.at(-1)!.digest })
      }
      if (index % 10 === 0) {
        const begun = performance.now()
        await client.query('insert into bench_bare (body) values ($1)', [body])
        bare.push(performance.now() - begun)
      }
      await later(Math.max(0, 5000 - (performance.now() - began)))
    }
  }
  await Promise.all(Array.from({ length: drafts }, (_, index) => one(index)))
  let missing = 0
  for (const [id, seq] of sent) {
    const { rows } = await client.query(
      'select coalesce(sum(to_seq - from_seq + 1), 0)::int as n from recovery_point where draft_id = $1',
      [id],
    )
    if (rows[0].n < seq) missing++
  }
  await client.end()
  report({
    suite,
    case: 'load-300-p99',
    value: quantile(times, 0.99),
    unit: `ms, ${times.length} points of ${drafts} drafts in ${loadSeconds} s, ${missing} drafts lack one`,
    baseline: quantile(bare, 0.99),
    better: 'lower',
  })
}
process.exit()
