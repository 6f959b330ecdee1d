// What pages cost: from a key to the painted page of a hundred, a PDF of a hundred beside the bare typesetter on ready
// input, a sheet of ten thousand rows, a thousand pages laid onto sides; and whether all words are on the pages, in order.
import { spawn } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { NodeCompiler } from '@myriaddreamin/typst-ts-node-compiler'
import { type Browser, chromium, type Page } from '@playwright/test'
import { PDFDocument } from 'pdf-lib'
import { noLooks } from '../core/content/looks'
import { readDocument, styleLooksOf } from '../core/formats/documents'
import { writeDocx } from '../core/formats/docx/write'
import { readWorkbook } from '../core/formats/workbooks'
import { arrangedPdf } from '../core/paper/arranged'
import { paperOf } from '../core/paper/from-document'
import { plainArrangement } from '../core/paper/imposition'
import { type ShownSheet, shownSheet } from '../core/paper/shown'
import { dataPath, template } from '../core/paper/template'
import { doc, p } from '../server/demo/papers'
import { fontFolders } from '../server/paper/measure'
import { lettersOf, textOf, usualAsk } from '../server/paper/testing'
import { type ToTypeset, typesetHere } from '../server/paper/typeset'
import { median, report } from './report'

const suite = 'paper'
const only = process.env.BENCH_ONLY ?? ''
const wants = (name: string) => !only || name.startsWith(only)
const folder = mkdtempSync(join(tmpdir(), 'jaula-bench-paper-'))
process.on('exit', () => rmSync(folder, { recursive: true, force: true }))

// A process of its own for a sheet, so that what it takes at most is known.
if (process.argv[2] === 'sheet') {
  const sheet: ShownSheet = {
    ...shownSheet({ name: 'Levels', rows: [], widths: {} }, noLooks, () => undefined),
    rows: Array.from({ length: 10_000 }, (_, row) => ({
      row,
      cells: Array.from({ length: 8 }, (_, column) => ({
        column,
        look: 0,
        text: column === 0 ? `LK${row}` : column === 7 ? 'tight, no leak' : (row * column * 0.37).toFixed(2),
        side: column === 0 || column === 7 ? ('left' as const) : ('right' as const),
        ...(column > 0 && column < 7 && { number: true as const }),
      })),
    })),
    paper: { fit: { wide: 1, tall: 0 }, titleRows: [0, 0], gridLines: true },
  }
  const begun = performance.now()
  const set = await typesetHere({ ...usualAsk, what: { kind: 'sheets', sheets: [sheet] } })
  if ('fault' in set) throw new Error(JSON.stringify(set.fault))
  const memory = Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))![1]) / 1e6
  process.stdout.write(JSON.stringify({ seconds: (performance.now() - begun) / 1000, memory, pages: set.facts.pages }))
  process.exit(0)
}

const words =
  'the upper paddle of the gate lifts freely below the weir and the lower one leaks at its mitre by a cupful'.split(' ')
const sentence = (seed: number, length = 120) =>
  Array.from({ length }, (_, at) => words[(seed * 7 + at * (1 + (seed % 5))) % words.length]).join(' ')
/** A document of some hundred pages. */
const hundred = doc(...Array.from({ length: 640 }, (_, at) => p(`${at} ${sentence(at)}.`)))

// -- A PDF of a hundred pages, beside the bare typesetter on ready input -----------------------------------
if (wants('pdf')) {
  const ask: ToTypeset = { ...usualAsk, what: { kind: 'document', json: hundred.toJSON(), styles: null } }
  const { paper } = paperOf(hundred, { looks: [], name: 'Levels', version: 3, day: 'today', language: 'en' })
  const written = JSON.stringify({ ...paper, corner: '', properties: true })
  const bare = NodeCompiler.create({ workspace: folder, fontArgs: [{ fontPaths: fontFolders }] })
  const times: [number[], number[]] = [[], []]
  let pages = 0
  for (let round = -1; round < 5; round++) {
    // Each time a little other, so that nothing of before does.
    const other = { ...ask, name: `Levels ${round}` }
    let begun = performance.now()
    const set = await typesetHere(other)
    if ('fault' in set) throw new Error(JSON.stringify(set.fault))
    pages = set.facts.pages
    if (round >= 0) times[0].push(performance.now() - begun)
    bare.resetShadow()
    begun = performance.now()
    bare.mapShadow(join(folder, dataPath), Buffer.from(written.replace('"Levels"', `"Levels ${round}"`)))
    const result = bare.compile({ mainFileContent: template }).result!
    bare.pdf(result, { creationTimestamp: 1 })
    if (round >= 0) times[1].push(performance.now() - begun)
    bare.evictCache(10)
  }
  report({
    suite,
    case: `pdf-100-pages (${pages})`,
    value: median(times[0]),
    unit: 'ms',
    baseline: median(times[1]),
    better: 'lower',
  })
}

// -- A sheet of ten thousand rows ---------------------------------------------------------------------------
if (wants('sheet')) {
  const answer = await new Promise<string>((done, failed) => {
    const child = spawn(process.execPath, [fileURLToPath(import.meta.url), 'sheet'], {
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    let said = ''
    child.stdout.on('data', (part) => {
      said += part
    })
    child.on('exit', (code) => (code ? failed(new Error('no sheet')) : done(said)))
  })
  const { seconds, memory, pages } = JSON.parse(answer) as { seconds: number; memory: number; pages: number }
  report({
    suite,
    case: `sheet-10k-rows-pdf (${pages} pages)`,
    value: seconds,
    unit: 's',
    baseline: null,
    better: 'lower',
  })
  report({ suite, case: 'sheet-10k-rows-memory', value: memory, unit: 'GB', baseline: null, better: 'lower' })
}

// -- A thousand pages laid onto sides ----------------------------------------------------------------------
if (wants('imposition')) {
  const made = await PDFDocument.create()
  for (let page = 0; page < 1000; page++)
    made.addPage([595.28, 841.89]).drawText(`page ${page} ${sentence(page, 20)}`, { x: 60, y: 700, size: 9 })
  const pdf = await made.save()
  const all = Array.from({ length: 1000 }, (_, at) => at + 1)
  const times: [number[], number[]] = [[], []]
  for (let round = -1; round < 3; round++) {
    let begun = performance.now()
    await arrangedPdf(pdf, all, { ...plainArrangement, fold: { leaves: 8, margin: 8 }, sides: 'short' }, null)
    if (round >= 0) times[0].push(performance.now() - begun)
    begun = performance.now()
    await (await PDFDocument.load(pdf)).save()
    if (round >= 0) times[1].push(performance.now() - begun)
  }
  report({
    suite,
    case: 'imposition-1000-pages',
    value: median(times[0]),
    unit: 'ms',
    baseline: median(times[1]),
    better: 'lower',
  })
}

// -- Words of real files, on their pages and in their order ------------------------------------------------
const files = process.env.JAULA_FILES
if (files && wants('text')) {
  let [all, inOrder, cut, set] = [0, 0, 0, 0]
  const file = join(folder, 'one.pdf')
  for (const name of readdirSync(files, { recursive: true }).map(String)) {
    const type = /\.(docx|xlsx|ods|odt)$/i.exec(name)?.[1]?.toLowerCase()
    if (!type) continue
    const bytes = readFileSync(join(files, name))
    let ask: ToTypeset
    const said: string[] = []
    try {
      if (type === 'docx' || type === 'odt') {
        const { doc: node } = readDocument(bytes, type)
        styleLooksOf(bytes, type)
        ask = { ...usualAsk, what: { kind: 'document', json: node.toJSON(), styles: { bytes, type } } }
        node.descendants((one) => {
          if (one.isText) said.push(one.text!)
        })
      } else {
        const read = readWorkbook(bytes, type)
        const sheets = read.workbook.sheets.map((sheet, at) => {
          const one = shownSheet(
            sheet,
            read.looks[at] ?? noLooks,
            (row, column) => read.results[at]?.get(row * 16_384 + column),
            read.usual,
          )
          // All of it: what a file has printed of itself is a part.
          const { areas: _, ...paper } = one.paper
          return { ...one, paper }
        })
        ask = { ...usualAsk, what: { kind: 'sheets', sheets } }
        for (const sheet of sheets) {
          const hidden = { rows: new Set(sheet.hiddenRows), columns: new Set(sheet.hiddenColumns) }
          for (const { row, cells } of sheet.rows)
            for (const { column, text } of cells) {
              const covered = sheet.merged.some(
                ({ top, left, bottom, right }) =>
                  row >= top && row <= bottom && column >= left && column <= right && (row !== top || column !== left),
              )
              if (!hidden.rows.has(row) && !hidden.columns.has(column) && !covered) said.push(text)
            }
        }
      }
    } catch {
      continue
    }
    const answer = await typesetHere(ask)
    if ('fault' in answer) continue
    set++
    writeFileSync(file, answer.pdf)
    const found = lettersOf(textOf(file, '-raw'))
    let at = 0
    let missing = 0
    for (const text of said)
      for (const word of text.match(/[A-Za-z0-9]{2,}/g) ?? []) {
        all++
        const next = found.indexOf(word, at)
        if (next >= 0 && next - at < 4000) {
          inOrder++
          at = next + word.length
        } else if (!found.includes(word)) missing++
        else if (type === 'xlsx' || type === 'ods') inOrder++
      }
    if (missing) cut++
  }
  report({
    suite,
    case: `text-in-order (${set} files)`,
    value: inOrder / all,
    unit: 'share',
    baseline: null,
    better: 'higher',
  })
  report({ suite, case: 'files-with-cut-text', value: cut, unit: 'files', baseline: null, better: 'lower' })
}

// -- From the key to the painted page -----------------------------------------------------------------------
const url = process.env.BENCH_URL ?? ''
if (wants('preview')) {
  const browser: Browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  process.on('exit', () => void browser.close())
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const page: Page = await context.newPage()
  page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
  await page.request.post(`${url}/api/session`, { data: { handle: 'ida', password: 'lock-and-weir' } })
  const shares = (await (await page.request.get(`${url}/api/shares`)).json()) as { id: string; name: string }[]
  const share = shares.find(({ name }) => name === 'Waterways')!
  const saved = await page.request.post(
    `${url}/api/files?shareId=${share.id}&name=2026-11-29_Pages.docx&key=${crypto.randomUUID()}`,
    { data: Buffer.from(writeDocx(hundred)), headers: { 'content-type': 'application/octet-stream' } },
  )
  const { file } = (await saved.json()) as { file: { id: string } }
  await page.goto(`${url}/open/${file.id}`)
  const paper = page.locator('.ProseMirror').first()
  await paper.waitFor()
  await page.keyboard.press('Alt+p')
  const canvases = page.locator('canvas[data-drawn]')
  await canvases.first().waitFor({ timeout: 60_000 })
  const times: number[] = []
  let seed = 11
  for (let round = 0; round < 21; round++) {
    seed = (seed * 1103515245 + 12345) % 2 ** 31
    const at = seed % 640
    const paragraph = paper.locator('p').nth(at)
    await paragraph.scrollIntoViewIfNeeded()
    await paragraph.click()
    // The page that it is on is looked at.
    await page.evaluate((share) => {
      const own = document.querySelector('[aria-label="Its pages"]')!
      own.scrollTop = share * (own.scrollHeight - own.clientHeight)
    }, at / 640)
    const painted = () => {
      const own = document.querySelector<HTMLElement>('[aria-label="Its pages"] [data-of]')
      const busy = document.querySelector('[aria-label="On pages"]')?.getAttribute('aria-busy')
      const seen = [...(own?.querySelectorAll('canvas') ?? [])].filter((one) => {
        const { top, bottom } = one.getBoundingClientRect()
        return bottom > 200 && top < 700
      })
      return own && busy === 'false' && seen.length && seen.every((one) => one.dataset.of === own.dataset.of)
        ? own.dataset.of!
        : ''
    }
    await page.waitForFunction(painted, undefined, { timeout: 20_000 })
    const before = await page.evaluate(painted)
    // It listens before the key comes.
    await page.evaluate(
      ([source, before]) => {
        const now = new Function(`return (${source})()`) as () => string
        const kept = window as unknown as { taken: number | null }
        kept.taken = null
        let pressed = 0
        document.addEventListener(
          'keydown',
          () => {
            pressed = performance.now()
          },
          { capture: true, once: true },
        )
        const look = () => {
          const of = now()
          if (pressed && of && of !== before) kept.taken = performance.now() - pressed
          else requestAnimationFrame(look)
        }
        look()
      },
      [painted.toString(), before] as const,
    )
    await page.keyboard.type('x')
    const taken = await page
      .waitForFunction(() => (window as unknown as { taken: number | null }).taken, undefined, { timeout: 20_000 })
      .then(
        (handle) => handle.jsonValue(),
        () => null,
      )
    if (taken === null) {
      const stands = await page.evaluate(() => ({
        panel: document.querySelector('[aria-label="On pages"]')?.outerHTML.slice(0, 600),
        alert: document.querySelector('[aria-label="Its pages"] [role="alert"]')?.textContent,
        of: document.querySelector<HTMLElement>('[aria-label="Its pages"] [data-of]')?.dataset.of,
        seen: [...document.querySelectorAll<HTMLElement>('[aria-label="Its pages"] canvas')]
          .filter((one) => one.getBoundingClientRect().bottom > 200 && one.getBoundingClientRect().top < 700)
          .map((one) => [one.ariaLabel, one.dataset.of, one.dataset.drawn]),
        focus: document.activeElement?.className,
      }))
      throw new Error(`Not painted in round ${round}, at ${at}, before ${before}: ${JSON.stringify(stands)}`)
    }
    if (round > 0) times.push(taken)
  }
  times.sort((a, b) => a - b)
  report({
    suite,
    case: 'preview-100-pages-after-edit',
    value: median(times),
    unit: 'ms',
    baseline: null,
    better: 'lower',
  })
  report({
    suite,
    case: 'preview-100-pages-p95',
    value: times[Math.floor(times.length * 0.95)]!,
    unit: 'ms',
    baseline: null,
    better: 'lower',
  })
}
process.exit(0)
