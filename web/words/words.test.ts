import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { build } from 'esbuild'
import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { later } from '../../core/words/en/later'
import { say } from '../../core/words/said'
import { T, t, told, toldFields } from '.'
import { clock, dateGroup, dayOf, digits, listed, moment, size, span, tenths } from './formats'
import { unnamed } from './unnamed'

describe('times, sizes and spans', () => {
  beforeEach(() => {
    vi.useFakeTimers({ now: new Date(2026, 9, 14, 12) })
  })
  afterEach(() => {
    vi.useRealTimers()
  })
  test.each([
    [new Date(2026, 9, 14, 9, 5, 7), 'today 09:05', '09:05:07', 'Today', 'Today'],
    [new Date(2026, 9, 13, 23, 59), 'yesterday 23:59', 'yesterday 23:59', 'Yesterday', 'Yesterday'],
    [new Date(2026, 9, 9, 8), '9 Oct, 08:00', '9 Oct, 08:00', '9 Oct 2026', 'Friday 9 October'],
    [new Date(2026, 2, 3, 0, 0), '3 Mar, 00:00', '3 Mar, 00:00', '3 Mar 2026', 'March 2026'],
    [new Date(2024, 11, 31, 18), '31 Dec 2024', '31 Dec 2024', '31 Dec 2024', 'December 2024'],
  ])('%s', (at, asMoment, asClock, day, group) => {
    expect([moment(at), clock(at), dayOf(at)]).toEqual([asMoment, asClock, day])
    expect(dateGroup(at)).toBe(group)
  })
  test('what has no name yet is told apart by its first words', () => {
    expect(unnamed('document', new Date(2026, 9, 14, 9, 5))).toBe('Document begun at 09:05')
    expect(unnamed('spreadsheet', new Date(2026, 9, 14, 9, 5), 'Lock  levels of\nNovember')).toBe(
      'Spreadsheet begun at 09:05: Lock levels of November',
    )
  })
})

test.each([
  [0, '0 B'],
  [999, '999 B'],
  [1000, '1.0 KB'],
  [9949, '9.9 KB'],
  [25_400, '25 KB'],
  [1_500_000, '1.5 MB'],
  [2_400_000_000, '2.4 GB'],
  [1_234_000_000_000, '1,234 GB'],
])('%d bytes are %s', (bytes, text) => expect(size(bytes)).toBe(text))

test.each([
  [0, '1 second'],
  [9_000, '9 seconds'],
  [59_000, '59 seconds'],
  [90_000, '2 minutes'],
  [5_400_000, '2 hours'],
  [86_400_000 * 3, '3 days'],
])('%d milliseconds are felt as %s', (milliseconds, text) => expect(span(milliseconds)).toBe(text))

test('numbers and lists are written as English writes them', () => {
  expect(digits(1234567)).toBe('1,234,567')
  expect(tenths(12.04)).toBe('12.0')
  expect(listed(['its name', 'its values', 'its people'])).toBe('its name, its values and its people')
})

describe('sentences', () => {
  test('take their facts, also sentences, and are said of refusals in the reader’s language where it is known', () => {
    expect(t('common.of', { at: 3, all: 12 })).toBe('3 of 12')
    expect(t('drill.with-a-point-every', { sayInterval: say('reach.interval', { seconds: 30 }) })).toBe(
      ', with a point every 30 seconds',
    )
    expect(told('in words already')).toBe('in words already')
    expect(told({ title: 'English', says: say('problem.this-request-is-not-json') })).toBe('This request is not JSON.')
    expect(told({ title: 'From a server of tomorrow' })).toBe('From a server of tomorrow')
    const refused = { type: 'invalid' as const, title: 'No', status: 400 }
    expect(toldFields({ ...refused, fields: { name: say('contract.enter-a-name'), more: 'as it is' } })).toEqual({
      name: 'Enter a name.',
      more: 'as it is',
    })
    expect(toldFields(refused)).toEqual({ password: 'No' })
  })
  test('have elements in them, and nothing in them is markup but what is put there', () => {
    const shown = renderToStaticMarkup(
      createElement(T, {
        k: 'find.before',
        v: { formerName: '<script>alert(1)</script>', bdi: (c) => createElement('bdi', { className: 'name' }, c) },
      }),
    )
    expect(shown).toBe('· before: <bdi class="name">&lt;script&gt;alert(1)&lt;/script&gt;</bdi>')
  })
})

test('no worker waits for a language: none of them has the sentences in it', async () => {
  const root = join(import.meta.dirname, '../..')
  const workers = [
    'web/work/journal.worker.ts',
    'web/workers/calc.worker.ts',
    'web/workers/codec.worker.ts',
    'web/workers/compare.worker.ts',
    'web/workers/naming.worker.ts',
    'web/offline/service-worker.ts',
  ]
  const { metafile } = await build({
    entryPoints: workers.map((worker) => join(root, worker)),
    absWorkingDir: root,
    bundle: true,
    write: false,
    metafile: true,
    format: 'esm',
    outdir: 'nowhere',
    logLevel: 'silent',
  })
  const read = Object.keys(metafile.inputs)
  expect(read).toContain('core/words/said.ts')
  expect(read.filter((file) => /^web\/words\/|^core\/words\/(en|de|speak)/.test(file))).toEqual([])
})

test('whoever says a sentence of the later screens waits for those, and nobody else does', () => {
  const root = join(__dirname, '../..')
  const inLater = new Set(Object.keys(later))
  const astray: string[] = []
  let waiting = 0
  for (const floor of ['web', 'core', 'server'])
    for (const name of readdirSync(join(root, floor), { recursive: true, encoding: 'utf8' })) {
      const file = join(floor, name)
      if (!/\.tsx?$/.test(file) || /\.test\.|core\/words\//.test(file)) continue
      const text = readFileSync(join(root, file), 'utf8')
      const says = [...text.matchAll(/'([a-z0-9]+\.[a-z0-9.-]+)'/g)].some(([, code]) => inLater.has(code!))
      const waits = /from '[./]*words\/all'/.test(text)
      if (waits) waiting++
      // A page's side of a worker says nothing itself: its screen does.
      // The page of a link has its own and no others.
      // What is said of a drive, of copies and of a list of people comes to their own screens alone, which wait.
      const elsewhere =
        /^(web\/(workers|link)|(core|server)\/(intake|copies|people|paper)|server\/(bringing|links))\//.test(file)
      if (says && !waits && !elsewhere) astray.push(file)
      if (waits && /^web\/(app|api|design|work|desk|files|find|rescue|drill|places)\//.test(file))
        astray.push(`${file} waits`)
    }
  expect(astray).toEqual([])
  expect(waiting).toBeGreaterThan(40)
  expect(inLater.size).toBeGreaterThan(400)
})
