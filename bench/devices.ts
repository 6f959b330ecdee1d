// Two devices on one piece of work: random histories of typing, going on elsewhere, frozen and killed
// browsers, cut networks and saves, through the real interface, at a tenth of the usual silences and pauses.
// Afterwards everything comes back, and every mark that was acknowledged has to be in a version that is a
// file's newest, or in a draft that is shown. Then what a kill must leave in place: the cursor, undo, kept
// saves; and the keyboard after the slip.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as later } from 'node:timers/promises'
import type { Page } from '@playwright/test'
import { blankDocument } from '../core/content/document'
import { readDocx } from '../core/formats/docx/read'
import { recordOf } from '../core/recovery/chain'
import { replayDocument } from '../core/recovery/replay'
import { type LiveBrowser, openBrowser } from '../e2e/office'
import { enter } from './enter'
import { report } from './report'

const suite = 'devices'
const url = process.env.BENCH_URL ?? ''
const histories = Number(process.env.BENCH_HISTORIES ?? 60)
const killsOfCursor = Number(process.env.BENCH_CURSOR_KILLS ?? 12)
const keptSaves = Number(process.env.BENCH_KEPT_SAVES ?? 8)
const slips = Number(process.env.BENCH_SLIPS ?? 10)
/** Random, and the same for the same seed (mulberry32). */
let seed = Number(process.env.BENCH_SEED ?? 7)
const random = () => {
  seed = (seed + 0x6d2b79f5) | 0
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed)
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296
}
const any = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]!

interface Device {
  name: string
  profile: string
  browser: LiveBrowser
  page: Page
  frozen: boolean
}
const begun = async (name: string): Promise<Device> => {
  const profile = mkdtempSync(join(tmpdir(), 'jaula-bench-'))
  return { name, profile, frozen: false, ...(await opened(profile)) }
}
async function opened(profile: string): Promise<{ browser: LiveBrowser; page: Page }> {
  const browser = await openBrowser(profile)
  const { page } = browser
  page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
  await page.goto(`${url}/jaula.svg`)
  await enter(page)
  return { browser, page }
}
async function restarted(device: Device): Promise<void> {
  device.browser.thaw()
  await device.browser.kill()
  Object.assign(device, await opened(device.profile), { frozen: false })
}
const paper = (page: Page) => page.locator('.ProseMirror').first()
const mayWrite = (page: Page) =>
  page
    .getByRole('textbox', { name: 'Document', exact: true })
    .isVisible()
    .catch(() => false)
const reach = (page: Page) =>
  page
    .getByTestId('reach')
    .evaluate((element) => ({ storage: Number(element.dataset.storage), text: element.textContent ?? '' }))
    .catch(() => null)

/** The marks that the journal of a browser has committed. */
const journaled = (page: Page): Promise<string> =>
  page
    .evaluate(
      () =>
        new Promise<string>((done) => {
          const request = indexedDB.open('jaula-journal')
          request.onsuccess = () => {
            const all = request.result.transaction('records').objectStore('records').getAll()
            all.onsuccess = () => {
              request.result.close()
              const chains = new Map<string, string>()
              for (const { draftId, text } of all.result.sort((a, b) => a.seq - b.seq)) {
                const typed = [...text.matchAll(/"text":"([^"]*)"/g)].map(([, one]) => one).join('')
                chains.set(draftId, (chains.get(draftId) ?? '') + typed)
              }
              done([...chains.values()].join('\n'))
            }
          }
        }),
    )
    .catch(() => '')

/**
 * All text in drafts that are shown and in the newest versions of files: in this order, so that what goes from a draft
 * into a file meanwhile is found there.
 */
async function found(history: number, cookie: string): Promise<string> {
  const get = async (path: string) => fetch(`${url}${path}`, { headers: { cookie } })
  const drafts = (await (await get('/api/drafts')).json()) as { id: string }[]
  const texts: string[] = []
  for (const { id } of drafts) {
    const answer = await get(`/api/drafts/${id}`)
    if (!answer.ok) continue
    const { lines } = (await answer.json()) as { lines: string[] }
    texts.push(replayDocument(blankDocument(), lines.map(recordOf)).model.textContent)
  }
  await findHeads(history, cookie)
  for (const head of heads) {
    const facts = (await (await get(`/api/files/${head}`)).json()) as { versions: { id: string }[] }
    const bytes = new Uint8Array(await (await get(`/api/versions/${facts.versions[0]!.id}/bytes`)).arrayBuffer())
    texts.push(readDocx(bytes).doc.textContent)
  }
  return texts.join('\n')
}
/** Files that were made in a history. */
let heads = new Set<string>()

async function findHeads(history: number, cookie: string): Promise<void> {
  const recent = await (await fetch(`${url}/api/recent`, { headers: { cookie } })).json()
  for (const entry of recent as { id: string; name: string; file?: { id: string; name: string } }[]) {
    const file = entry.file ?? entry
    if (file.name?.startsWith(`History ${history} `)) heads.add(file.id)
  }
}
/** Settles the filing slip with a name. */
async function fileAs(page: Page, name: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Name' }).waitFor()
  await page.keyboard.press('Control+a')
  await page.keyboard.type(name)
  await page.getByTestId('full-path').filter({ hasText: name }).waitFor()
  await page.keyboard.press('Enter')
}

/** Who looks at shared storage from outside, in a session of its own: a browser's ends when it signs in anew. */
const observer = await fetch(`${url}/api/session`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: '{"handle":"priya","password":"lock-and-weir"}',
})
const cookie = observer.headers.getSetCookie()[0]!.split(';')[0]!

let marked = 0
let lost = 0
let falseClaims = 0
let acknowledgedInAll = 0
let takeOvers = 0

const a = await begun('a')
const b = await begun('b')
const settings = await a.page.evaluate(async () => {
  const now = await (await fetch('/api/settings')).json()
  const answer = await fetch('/api/settings', {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ ...now, recoveryInterval: 30 }),
  })
  return answer.ok
})
if (!settings) throw new Error('The recovery interval could not be set.')

for (let history = 0; history < histories; history++) {
  const acknowledged = new Set<string>()
  heads = new Set()
  const id = await (async () => {
    await a.page.goto(`${url}/new/document`)
    await paper(a.page).waitFor()
    return /draft\/([0-9a-f-]+)/.exec(a.page.url())![1]!
  })()
  const types = async (device: Device) => {
    if (device.frozen || !(await mayWrite(device.page))) return
    const mark = `m${(++marked).toString(36)}z `
    await device.page.keyboard.press('Control+End').catch(() => {})
    await device.page.keyboard.type(mark).catch(() => {})
    // Acknowledged is what the disk has, whoever looks.
    for (let tries = 0; tries < 12; tries++) {
      if ((await journaled(device.page)).includes(mark.trim())) {
        acknowledged.add(mark.trim())
        return
      }
      await later(50)
    }
  }
  /** What the page says of shared storage has to be there. */
  const looks = async (device: Device) => {
    if (device.frozen) return
    // The text before the sentence: what comes between the two is not claimed by it.
    const text = await paper(device.page)
      .textContent()
      .catch(() => null)
    const said = await reach(device.page)
    if (!said || !text || !/^Everything up to .* is on the server/.test(said.text)) return
    if (!(await mayWrite(device.page))) return
    const there = await found(history, cookie)
    const absent = text.split(' ').filter((mark) => mark && !there.includes(mark))
    falseClaims += absent.length
    if (absent.length) process.stderr.write(`${history} ${device.name} claimed ${absent} by: ${said.text}\n`)
    // Whether the sentence was early, or what it says is nowhere, are two different faults.
    for (let tries = 0; tries < 10 && absent.length; tries++) {
      const now = await found(history, cookie)
      const came = absent.filter((mark) => now.includes(mark))
      if (!came.length) await later(300)
      else {
        process.stderr.write(`${history} ${device.name} found ${came} at the ${tries + 1}. look after\n`)
        break
      }
    }
  }
  const acts: Record<string, (device: Device) => Promise<void>> = {
    types,
    'types more': types,
    'goes on here': async (device) => {
      if (device.frozen) return
      takeOvers++
      await device.page.goto(`${url}/draft/${id}`).catch(() => {})
      await paper(device.page)
        .waitFor({ timeout: 4000 })
        .catch(() => {})
    },
    freezes: async (device) => {
      device.browser.freeze()
      device.frozen = true
    },
    thaws: async (device) => {
      device.browser.thaw()
      device.frozen = false
    },
    'is cut off': async (device) => {
      if (!device.frozen) await device.browser.context.setOffline(true).catch(() => {})
    },
    'is there again': async (device) => {
      if (!device.frozen) await device.browser.context.setOffline(false).catch(() => {})
    },
    'loses power': restarted,
    saves: async (device) => {
      if (device.frozen || !(await mayWrite(device.page))) return
      await device.page.keyboard.press('Control+s').catch(() => {})
      const name = device.page.getByRole('textbox', { name: 'Name' })
      if (
        await name.waitFor({ timeout: 1500 }).then(
          () => true,
          () => false,
        )
      ) {
        await device.page.keyboard.press('Control+a')
        await device.page.keyboard.type(`History ${history} ${marked}`)
        await later(400)
        await device.page.keyboard.press('Enter')
        await later(700)
      }
    },
    waits: async () => void (await later(100 + random() * 900)),
    looks,
  }
  const usual = ['types', 'types', 'types more', 'goes on here', 'waits', 'looks', 'freezes', 'thaws', 'thaws'] as const
  await types(a)
  for (let act = 0; act < 15; act++) {
    const name = random() < 0.65 ? any(usual) : any(Object.keys(acts))
    const device = any([a, b])
    if (process.env.BENCH_TELL) process.stderr.write(`${history} ${device.name} ${name}\n`)
    // A frozen browser answers nobody; nothing waits for it for ever.
    await Promise.race([acts[name]!(device), later(12_000)])
  }
  // Everybody is back, and each device starts Jaula again.
  for (const device of [a, b]) {
    device.browser.thaw()
    device.frozen = false
    await device.browser.context.setOffline(false).catch(() => {})
    await device.page.goto(url, { timeout: 15_000 }).catch(() => restarted(device))
    await later(300)
  }
  let missing: string[] = []
  for (let tries = 0; tries < 20; tries++) {
    const there = await found(history, cookie)
    missing = [...acknowledged].filter((mark) => !there.includes(mark))
    if (missing.length === 0) break
    await later(500)
  }
  if (missing.length) {
    process.stderr.write(`history ${history}: ${missing.join(' ')} of ${acknowledged.size}\n`)
    // Where each mark is after all: late on shared storage, only on a device, or nowhere.
    await later(10_000)
    const there = await found(history, cookie)
    const [onA, onB] = await Promise.all([journaled(a.page), journaled(b.page)])
    for (const mark of missing)
      process.stderr.write(
        `history ${history}: ${mark} is ${there.includes(mark) ? '' : 'not '}on the server later, ${onA.includes(mark) ? '' : 'not '}on a (${a.page.url()}), ${onB.includes(mark) ? '' : 'not '}on b (${b.page.url()})\n`,
      )
  }
  lost += missing.length
  acknowledgedInAll += acknowledged.size
  await fetch(`${url}/api/drafts`, { headers: { cookie } })
    .then(async (answer) => (await answer.json()) as { id: string; mine: boolean }[])
    .then((drafts) =>
      Promise.all(
        drafts
          .filter(({ mine }) => mine)
          .map(({ id }) =>
            fetch(`${url}/api/drafts/${id}/end`, {
              method: 'POST',
              headers: { cookie, 'content-type': 'application/json' },
              body: JSON.stringify({ state: 'finished' }),
            }),
          ),
      ),
    )
}
report({
  suite,
  case: 'two-devices-lost',
  value: lost,
  unit: `marks of ${acknowledgedInAll} acknowledged, in ${histories} histories with ${takeOvers} take-overs`,
  baseline: null,
  better: 'lower',
})
report({
  suite,
  case: 'false-claims',
  value: falseClaims,
  unit: `marks, ${histories} histories`,
  baseline: null,
  better: 'lower',
})

// -- Saves that the device kept -------------------------------------------------------------------
let savesLost = 0
for (let kept = 0; kept < keptSaves; kept++) {
  const { page } = a
  await page.goto(`${url}/new/document`)
  await paper(page).waitFor()
  await page.keyboard.type(`kept${kept}first `)
  await page.keyboard.press('Control+s')
  await fileAs(page, `Kept save ${kept}`)
  await page.getByTestId('reach').filter({ hasText: 'Saved as version 1' }).waitFor()
  const [, file] = /open\/([0-9a-f-]+)/.exec(page.url())!
  await a.browser.context.setOffline(true)
  await page.keyboard.type(`kept${kept}second `)
  await page.keyboard.press('Control+s')
  await page.getByTestId('reach').filter({ hasText: 'completed as soon as it can be' }).waitFor({ timeout: 20_000 })
  await restarted(a)
  await a.page.goto(url)
  let there = false
  for (let tries = 0; tries < 40 && !there; tries++) {
    const facts = (await (await fetch(`${url}/api/files/${file}`, { headers: { cookie } })).json()) as {
      versions: { id: string }[]
    }
    const bytes = await (
      await fetch(`${url}/api/versions/${facts.versions[0]!.id}/bytes`, { headers: { cookie } })
    ).arrayBuffer()
    there = readDocx(new Uint8Array(bytes)).doc.textContent.includes(`kept${kept}second`)
    if (!there) await later(250)
  }
  if (!there) savesLost++
}
report({
  suite,
  case: 'kept-save-lost',
  value: savesLost,
  unit: `of ${keptSaves} saves`,
  baseline: null,
  better: 'lower',
})

// -- Back where it was ------------------------------------------------------------------------------
const words = 'the upper gate leaks at the mitre, and its paddle lifts by hand. '
let cursors = 0
let undos = 0
let undosTried = 0
const selectionOf = (page: Page) =>
  page.evaluate(() => {
    const selection = getSelection()!
    const range = document.createRange()
    const root = document.querySelector('.ProseMirror')!
    const at = (node: Node | null, offset: number) => {
      if (!node) return -1
      range.setStart(root, 0)
      range.setEnd(node, offset)
      return range.toString().length
    }
    return [at(selection.anchorNode, selection.anchorOffset), at(selection.focusNode, selection.focusOffset)].join()
  })
const textOf = (page: Page) => paper(page).evaluate((element) => element.textContent ?? '')
for (let kill = 0; kill < killsOfCursor; kill++) {
  await a.page.goto(`${url}/new/document`)
  await paper(a.page).waitFor()
  await a.page.keyboard.type(words.repeat(4))
  if (kill % 3 === 1) for (let n = 0; n < 3; n++) await a.page.keyboard.press('Control+z')
  if (kill % 3 === 2) await a.page.keyboard.press('Shift+Home')
  for (let n = 0; n < random() * 20; n++) await a.page.keyboard.press(kill % 3 === 2 ? 'Shift+ArrowRight' : 'ArrowLeft')
  // What a second before the kill was there has to be there again, whatever happened last.
  await later(1000)
  const [before, address] = [await selectionOf(a.page), a.page.url()]
  const text = await textOf(a.page)
  await restarted(a)
  await a.page.goto(address)
  await paper(a.page).waitFor()
  await a.page.waitForFunction((text) => document.querySelector('.ProseMirror')?.textContent === text, text)
  await later(200)
  if ((await selectionOf(a.page)) === before) cursors++
  // The next undos, in a browser that was killed, beside one that was not: the same states.
  const states: string[] = []
  for (let n = 0; n < 50; n++) {
    await a.page.keyboard.press('Control+z')
    const now = await textOf(a.page)
    if (now === states.at(-1) || (n === 0 && now === text)) break
    states.push(now)
  }
  await b.page.goto(`${url}/new/document`)
  await paper(b.page).waitFor()
  await b.page.keyboard.type(words.repeat(4))
  if (kill % 3 === 1) for (let n = 0; n < 3; n++) await b.page.keyboard.press('Control+z')
  const wanted: string[] = []
  const whole = await textOf(b.page)
  for (let n = 0; n < 50; n++) {
    await b.page.keyboard.press('Control+z')
    const now = await textOf(b.page)
    if (now === wanted.at(-1) || (n === 0 && now === whole)) break
    wanted.push(now)
  }
  undosTried += Math.max(wanted.length, states.length)
  for (const [n, state] of wanted.entries()) if (states[n] === state) undos++
}
report({
  suite,
  case: 'cursor-kept',
  value: cursors / killsOfCursor,
  unit: `of ${killsOfCursor} kills`,
  baseline: 1,
  better: 'higher',
})
report({
  suite,
  case: 'undo-kept',
  value: undos / Math.max(1, undosTried),
  unit: `of ${undosTried} undos`,
  baseline: 1,
  better: 'higher',
})

// -- The keyboard after the slip -----------------------------------------------------------------------
let focused = 0
for (let slip = 0; slip < slips; slip++) {
  const { page } = a
  await page.goto(`${url}/new/document`)
  await paper(page).waitFor()
  await page.keyboard.type('before ')
  await page.keyboard.press('Control+s')
  await page.getByRole('textbox', { name: 'Name' }).waitFor()
  if (slip % 2) await page.keyboard.press('Escape')
  else {
    await fileAs(page, `Slip ${slip}`)
  }
  await page.getByRole('textbox', { name: 'Name' }).waitFor({ state: 'detached' })
  await page.keyboard.type('after')
  if ((await textOf(page)) === 'before after') focused++
}
report({
  suite,
  case: 'focus-after-slip',
  value: focused / slips,
  unit: `of ${slips} slips`,
  baseline: 1,
  better: 'higher',
})

for (const device of [a, b]) {
  await device.browser.kill()
  rmSync(device.profile, { recursive: true, force: true })
}
process.exit()
