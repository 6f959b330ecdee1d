// What goes over the wire with the pages, and what each part of them is held to.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { brotliCompressSync } from 'node:zlib'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openTestOffice, type TestOffice } from './testing'

let office: TestOffice
const pages = mkdtempSync(join(tmpdir(), 'jaula-pages-'))
const script = `export const words = '${'lock and weir '.repeat(200)}'`
beforeAll(async () => {
  mkdirSync(join(pages, 'assets'))
  writeFileSync(join(pages, 'index.html'), '<!doctype html><title>Jaula</title>')
  writeFileSync(join(pages, 'jaula.svg'), '<svg xmlns="http://www.w3.org/2000/svg"/>')
  for (const name of ['desk-A1.js', 'journal.worker-B2.js']) {
    writeFileSync(join(pages, 'assets', name), script)
    writeFileSync(join(pages, 'assets', `${name}.br`), brotliCompressSync(script))
  }
  office = await openTestOffice({ pages })
})
afterAll(async () => {
  await office.close()
  rmSync(pages, { recursive: true, force: true })
})
const headers = async (path: string) => (await fetch(office.url + path)).headers

test('a part of a page comes packed, is kept for good, and carries nothing that means nothing to it', async () => {
  const answer = await fetch(`${office.url}/assets/desk-A1.js`, { headers: { 'accept-encoding': 'br' } })
  expect(await answer.text()).toBe(script)
  expect(answer.headers.get('content-encoding')).toBe('br')
  expect(answer.headers.get('cache-control')).toContain('immutable')
  expect(answer.headers.get('content-security-policy')).toBeNull()
  expect(answer.headers.get('x-frame-options')).toBeNull()
  // These hold for parts: what is no script is run as none, and no other site may have it.
  expect(answer.headers.get('x-content-type-options')).toBe('nosniff')
  expect(answer.headers.get('cross-origin-resource-policy')).toBe('same-origin')
  const all = [...answer.headers].reduce((sum, [name, value]) => sum + name.length + value.length + 4, 0)
  expect(all).toBeLessThan(600)
})
test('what is opened by itself, and a worker, is held to the whole policy', async () => {
  for (const path of ['/', '/rescue', '/jaula.svg', '/assets/journal.worker-B2.js']) {
    const policy = (await headers(path)).get('content-security-policy')
    expect([path, policy]).toEqual([path, expect.stringContaining("script-src 'self'")])
  }
  for (const path of ['/', '/rescue']) expect((await headers(path)).get('cache-control')).toBe('no-cache')
})
