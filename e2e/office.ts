// The running application for end-to-end tests: a server with the demo data on a database of its
// own, people who sign in, and processes that can be killed.
import { type ChildProcess, spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Browser, type BrowserContext, test as base, chromium, expect, type Page } from '@playwright/test'
import pg from 'pg'
import { makeRoles, roleUrls } from '../scripts/lib/roles.mjs'

const root = join(import.meta.dirname, '..')

export interface Office {
  url: string
  /** Where its stand-ins keep what they have, mail among it. */
  standIns: string
  databaseUrl: string
  /** Stops the server as a machine that dies does. */
  killServer(): Promise<void>
  startServer(): Promise<void>
  query(sql: string, values?: unknown[]): Promise<Record<string, never>[]>
  /** The last that its server said of what went wrong. */
  said(): string
  close(): Promise<void>
}

function freePort(): Promise<number> {
  return new Promise((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => done(port))
    })
  })
}

/** A database with its roles. @returns its addresses, also as the superuser: what a test does to it itself it does so */
export async function makeDatabase(
  address = process.env.TEST_DATABASE_URL!,
): Promise<{ databaseUrl: string; url: string; ownerUrl: string }> {
  const name = `e2e_${randomUUID().replaceAll('-', '')}`
  const admin = new pg.Client({ connectionString: address })
  admin.on('error', () => {})
  await admin.connect()
  await admin.query(`create database ${name}`)
  await admin.end()
  const databaseUrl = address.replace(/\/[^/]*$/, `/${name}`)
  const inside = new pg.Client({ connectionString: databaseUrl })
  await inside.connect()
  await inside.query(makeRoles(databaseUrl))
  await inside.end()
  return { databaseUrl, ...roleUrls(databaseUrl) }
}

/**
 * @param address a PostgreSQL to make a database on
 * @param before is done to the database before the server has it; what it answers with is the server's environment, too
 */
export async function startOffice(
  address = process.env.TEST_DATABASE_URL,
  before: (env: Record<string, string>) => Record<string, string> = () => ({}),
): Promise<Office> {
  if (!address) throw new Error('TEST_DATABASE_URL is not set; run these tests with npm test.')
  const { databaseUrl, url: applicationUrl, ownerUrl } = await makeDatabase(address)
  const port = await freePort()
  const standIns = mkdtempSync(join(process.env.TEST_SCRATCH ?? tmpdir(), 'jaula-stand-ins-'))
  const addresses = { DATABASE_URL: applicationUrl, JAULA_OWNER_DATABASE_URL: ownerUrl }
  const more = before(addresses)
  let child: ChildProcess | undefined
  let said = ''
  const startServer = () =>
    new Promise<void>((done, failed) => {
      const started = spawn(process.execPath, [join(root, 'dist/server/main.js')], {
        env: {
          ...process.env,
          ...addresses,
          JAULA_PORT: String(port),
          JAULA_LARGEST_FILE: '20000000',
          JAULA_LOG: 'error',
          JAULA_KEY_FILE: join(process.env.TEST_SCRATCH ?? tmpdir(), `key-${process.pid}`),
          JAULA_STAND_INS: standIns,
          ...more,
        },
        stdio: ['ignore', 'pipe', 'pipe'],
      })
      child = started
      for (const stream of [started.stdout, started.stderr])
        stream.on('data', (chunk) => {
          said = (said + chunk).slice(-3000)
          if (String(chunk).includes('listening')) done()
        })
      started.once('exit', (code) => failed(new Error(`The server ended with ${code}. ${said}`)))
    })
  const killServer = async () => {
    if (!child || child.exitCode !== null || child.signalCode !== null) return
    const gone = new Promise((done) => child!.once('exit', done))
    child.kill('SIGKILL')
    await gone
  }
  await startServer()
  return {
    url: `http://127.0.0.1:${port}`,
    standIns: more.JAULA_STAND_INS ?? standIns,
    databaseUrl,
    killServer,
    startServer,
    async query(sql, values) {
      const client = new pg.Client({ connectionString: databaseUrl })
      await client.connect()
      try {
        return (await client.query(sql, values)).rows
      } finally {
        await client.end()
      }
    },
    said: () => said,
    async close() {
      await killServer()
      rmSync(standIns, { recursive: true, force: true })
    },
  }
}

/** A place for copies that is there, one that is not, and a drive that nobody uses yet. */
function placesForCopies(root: string): Record<string, string> {
  for (const folder of ['Network', 'drives/Blue', 'Old drive/old']) mkdirSync(join(root, folder), { recursive: true })
  // One that was kept by hand: two versions, something to look at, something torn.
  for (const [path, holds] of [
    ['Toll v1.txt', 'one two three four five six seven eight'],
    ['Toll v2.txt', 'one two three four five six seven eight nine'],
    ['Torn.docx', 'PK'],
    ['old/Locks: all.txt', 'locks'],
  ] as const)
    writeFileSync(join(root, 'Old drive', path), holds)
  return {
    JAULA_TAKE_OVER_FOLDERS: join(root, 'Old drive'),
    JAULA_COPY_FOLDERS: `${join(root, 'Network')}, ${join(root, 'Tresor')}`,
    JAULA_COPY_DRIVES: join(root, 'drives'),
    JAULA_COPY_HOSTS: 'store.tallwater.example',
  }
}

/** What the open pages of a browser show; of one that does not answer, that. */
async function shownBy(browser: Browser): Promise<string> {
  const pages = browser.contexts().flatMap((context) => context.pages())
  const shown = await Promise.all(
    pages.map(async (page) => {
      const words = await page
        .locator('body')
        .ariaSnapshot({ timeout: 3000 })
        .catch(() => 'does not answer')
      return `${page.url().replace(/^.*?:\/\/[^/]*/, '')}: ${words
        .replace(/\n *- \/url:.*/g, '')
        .replace(/\s+/g, ' ')
        .slice(0, 2500)}`
    }),
  )
  return shown.join('\n')
}

/** What its server has not come to, and what its database is at. */
async function waitingIn(office: Office): Promise<string> {
  const of = (sql: string) => office.query(sql).catch((error) => [{ error: String(error) }])
  return JSON.stringify([
    await of(
      'select (select count(*) from search_queue) as to_index, (select count(*) from change_queue) as to_describe',
    ),
    await of(
      "select name, state, count(*), max(created_on) as last from pgboss.job where state < 'completed' group by 1, 2",
    ),
    await of(
      "select pid, state, wait_event, now() - xact_start as since, left(query, 80) as query from pg_stat_activity where datname = current_database() and state <> 'idle' and pid <> pg_backend_pid()",
    ),
  ])
}

export const test = base.extend<{ told: undefined }, { office: Office; apart: string; copied: boolean }>({
  /** Whether there are places for copies. */
  copied: [false, { scope: 'worker', option: true }],
  /** Files that name themselves here have an office of their own, as it is on its first day. */
  apart: ['', { scope: 'worker', option: true }],
  office: [
    async ({ apart: _, copied }, use) => {
      const places = copied ? mkdtempSync(join(tmpdir(), 'jaula-places-')) : null
      const office = await startOffice(undefined, () => (places ? placesForCopies(places) : {}))
      await use(office)
      await office.close()
      if (places) rmSync(places, { recursive: true, force: true })
    },
    { scope: 'worker' },
  ],
  /** Of a test that failed, what was to be seen then; the report hands it on to where nobody can look. */
  told: [
    // After the context, and so before it is closed.
    async ({ browser, context: _, office }, use, info) => {
      await use(undefined)
      if (info.status !== info.expectedStatus)
        await info.attach('seen', {
          body: `${await waitingIn(office)}\n${await shownBy(browser)}\n${office.said()}`,
          contentType: 'text/plain',
        })
    },
    { auto: true },
  ],
})
export { expect }

export async function signIn(page: Page, url: string, name = 'Ida Thornquist'): Promise<void> {
  await page.goto(url)
  const desk = page.getByRole('heading', { name: /^Good / })
  const away = page.getByRole('alert').filter({ hasText: 'Try again in a moment' })
  // A machine that stood still for a minute is asked again, as the page says.
  await expect(async () => {
    await page.getByRole('button', { name: new RegExp(name) }).click()
    await expect(desk.or(away)).toBeVisible()
    await expect(desk).toBeVisible({ timeout: 1 })
  }).toPass({ timeout: 240_000 })
}

export const reach = (page: Page) => page.getByTestId('reach')
/** All of the work is kept: on this computer, and a moment later on the server too, which is all that is said then. */
export const kept = (page: Page) =>
  expect(reach(page)).toContainText(/Everything up to .* is on (this computer|the server)/)
export const paper = (page: Page) => page.getByRole('textbox', { name: 'Document', exact: true })

/** Begins a document and types into it. */
export async function writeNew(page: Page, url: string, text: string): Promise<void> {
  await page.goto(`${url}/new/document`)
  await expect(paper(page)).toBeFocused()
  await page.keyboard.type(text)
}

/** Settles the filing slip with a name, in the place it proposes. */
export async function fileAs(page: Page, name: string): Promise<void> {
  const field = page.getByRole('textbox', { name: 'Name' })
  await expect(field).toBeFocused()
  await page.keyboard.type(name)
  await expect(page.getByTestId('full-path')).toContainText(name)
  await page.keyboard.press('Enter')
  await expect(reach(page)).toContainText('Saved as version 1')
}

export interface LiveBrowser {
  context: BrowserContext
  page: Page
  /** Ends every process of it at once, without a word. */
  kill(): Promise<void>
  /** Stops every process of it where it stands, as a closed lid does, and lets them go on. */
  freeze(): void
  thaw(): void
}

/** Browsers of this process: none outlives it, however it ends. */
const browsers = new Set<number>()
process.on('exit', () => {
  for (const pid of browsers)
    try {
      process.kill(-pid, 'SIGKILL')
    } catch {
      // It ended by itself.
    }
})

/**
 * A browser with a profile that stays, in a process group of its own. (A killed Chromium may not have written its
 * newest cookies yet, so that people sign in again afterwards.)
 */
export async function openBrowser(profile: string): Promise<LiveBrowser> {
  const child = spawn(
    '/usr/bin/chromium',
    [
      '--headless=new',
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--window-size=1280,800',
      '--remote-debugging-port=0',
      `--user-data-dir=${profile}`,
      'about:blank',
    ],
    { detached: true, stdio: ['ignore', 'ignore', 'pipe'] },
  )
  browsers.add(child.pid!)
  child.once('exit', () => browsers.delete(child.pid!))
  const endpoint = await new Promise<string>((done, failed) => {
    let said = ''
    child.stderr!.on('data', (chunk) => {
      said += chunk
      const found = /DevTools listening on (ws:\S+)/.exec(said)
      if (found) done(found[1]!)
    })
    child.once('exit', () => failed(new Error(`Chromium did not start: ${said.slice(-500)}`)))
  })
  const browser = await chromium.connectOverCDP(endpoint)
  const context = browser.contexts()[0]!
  return {
    context,
    page: context.pages()[0] ?? (await context.newPage()),
    freeze: () => void process.kill(-child.pid!, 'SIGSTOP'),
    thaw: () => void process.kill(-child.pid!, 'SIGCONT'),
    async kill() {
      if (child.exitCode !== null || child.signalCode !== null) return
      const gone = new Promise((done) => child.once('exit', done))
      process.kill(-child.pid!, 'SIGKILL')
      await gone
      await browser.close().catch(() => {})
    },
  }
}

/** The text of all edits that this browser's journal has committed, draft by draft, along each one's chain. */
export const journaled = (page: Page): Promise<string> =>
  page.evaluate(
    () =>
      new Promise<string>((done) => {
        const request = indexedDB.open('jaula-journal')
        request.onsuccess = () => {
          const reading = request.result.transaction(['records', 'drafts'])
          const records = reading.objectStore('records').getAll()
          const drafts = reading.objectStore('drafts').getAll()
          reading.oncomplete = () => {
            request.result.close()
            const rows = new Map(records.result.map((row) => [`${row.draftId} ${row.digest}`, row]))
            const texts = drafts.result.flatMap(({ id, head }) => {
              const chain: string[] = []
              for (let row = rows.get(`${id} ${head}`); row; row = rows.get(`${id} ${row.before}`))
                chain.unshift(row.text)
              return chain
            })
            done(
              texts
                .flatMap((text) => text.match(/"(?:text|entry)":"([^"]*)"/g) ?? [])
                .map((found) => found.replace(/^"\w+":"|"$/g, ''))
                .join(''),
            )
          }
        }
      }),
  )

/** Waits until this browser's journal has committed an edit with this text in it. */
export async function untilJournaled(page: Page, text: string): Promise<void> {
  await expect.poll(() => journaled(page)).toContain(text)
}

/** The disk behind the journal's worker fills up when it is told to. Before the page's first address. */
export async function fillableDisk(context: BrowserContext, page: Page): Promise<(full: boolean) => Promise<void>> {
  await context.route(/journal\.worker[^/]*\.js/, async (route) => {
    const answer = await route.fetch()
    const disk = `{
      let full = false
      new BroadcastChannel('disk').onmessage = ({ data }) => { full = data }
      const begin = IDBDatabase.prototype.transaction
      IDBDatabase.prototype.transaction = function (...given) {
        if (full && given[1] === 'readwrite') throw new DOMException('full', 'QuotaExceededError')
        return begin.apply(this, given)
      }
    }\n`
    await route.fulfill({ response: answer, body: disk + (await answer.text()) })
  })
  return (full) => page.evaluate((now) => new BroadcastChannel('disk').postMessage(now), full)
}
