// One table of features drives this: what is asked of each is asked of all.
import { readdirSync, readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import { documentFeatures } from './documents'
import type { Held } from './held'
import { heldDocuments } from './held-documents'
import { heldSheets } from './held-sheets'
import { sheetFeatures } from './sheets'

const each = (all: Held[]) => all.map((one) => [one.name, one] as const)
describe.each(['docx', 'odt'] as const)('what hands reach for in a document, in %s', (type) => {
  test.each(each(heldDocuments(documentFeatures, type)))('%s', (_name, { faults }) => expect(faults).toEqual({}))
})
describe.each(['xlsx', 'ods'] as const)('what hands reach for in a spreadsheet, in %s', (type) => {
  test.each(each(heldSheets(sheetFeatures, type)))('%s', (_name, { faults }) => expect(faults).toEqual({}))
})
test('each is there once, and made by keys alone in a walk that is there', () => {
  const all = [...documentFeatures, ...sheetFeatures]
  expect(all.length).toBeGreaterThanOrEqual(80)
  expect(new Set(all.map(({ name }) => name)).size).toBe(all.length)
  const walks = readdirSync('e2e')
    .filter((name) => name.endsWith('.spec.ts'))
    .map((name) => `${name}: ${readFileSync(`e2e/${name}`, 'utf8')}`)
  const missing = all.flatMap(({ name, by }) => {
    if (!by || 'keys' in by) return []
    const [file, begins] = by.walk.split(': ', 2) as [string, string]
    const there = begins && walks.find((one) => one.startsWith(`${file}: `))?.includes(`test('${begins}`)
    return there ? [] : [[name, by.walk]]
  })
  expect(missing).toEqual([])
})
