// One table of features drives this: what is asked of each is asked of all.
import { readdirSync, readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import { documentFeatures } from './documents'
import { heldDocuments } from './held-documents'

describe.each(['docx', 'odt'] as const)('what hands reach for in a document, in %s', (type) => {
  test.each(heldDocuments(documentFeatures, type).map((one) => [one.name, one] as const))('%s', (_name, { faults }) => {
    expect(faults).toEqual({})
  })
})
test('each is made by keys alone in a walk that is there', () => {
  const walks = readdirSync('e2e')
    .filter((name) => name.endsWith('.spec.ts'))
    .map((name) => `${name}: ${readFileSync(`e2e/${name}`, 'utf8')}`)
  const missing = [...documentFeatures].filter(({ walk }) => {
    const [file, name] = walk.split(': ', 2) as [string, string]
    const found = walks.find((one) => one.startsWith(`${file}: `))
    return !found?.includes(`test('${name}`)
  })
  expect(missing.map(({ name, walk }) => [name, walk])).toEqual([])
})
