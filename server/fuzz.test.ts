import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { z } from 'zod'
import { api, type Endpoint, type Saved } from '../core/contract'
import { anyRequest } from './requests.arbitrary'
import { openTestOffice, signInAs, type TestOffice } from './testing'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

test('whatever is asked, valid or broken, is answered or refused, and never with a failure', {
  timeout: 300_000,
}, async () => {
  const priya = await signInAs(office, 'priya')
  const ids = [office.share]
  for (const name of ['Levels.docx', 'Ledger.xlsx', 'Notes.txt']) {
    const answer = await priya.ask(`/api/files?shareId=${office.share}&name=${name}&key=${randomUUID()}`, {
      method: 'POST',
      body: 'x',
    })
    const { file, version } = (await answer.json()) as Saved
    ids.push(file.id, version.id)
  }
  for (const name of ['Inner', 'Outer']) {
    const answer = await priya.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name })
    ids.push(((await answer.json()) as { id: string }).id)
  }
  ids.push(randomUUID(), randomUUID())
  await fc.assert(
    fc.asyncProperty(anyRequest(ids), async ({ method, path, body, type }) => {
      const answer = await priya.ask(path, {
        method,
        headers: type && body !== undefined ? { 'content-type': type } : {},
        ...(body !== undefined && { body }),
      })
      const text = await answer.text()
      expect([answer.status, text]).not.toEqual([expect.toSatisfy((status) => status >= 500), text])
      if (!answer.ok && answer.status !== 304)
        expect(answer.headers.get('content-type')).toContain('application/problem+json')
    }),
    // Twenty thousand others are asked by npm run bench doors.
    { numRuns: Number(process.env.FUZZ_RUNS ?? 600), seed: Number(process.env.FUZZ_SEED ?? 12) },
  )
})

test('every text and every number that a request may carry has its bound', () => {
  const unbound: string[] = []
  const look = (schema: z.core.JSONSchema.BaseSchema, path: string) => {
    const one = schema as z.core.JSONSchema.BaseSchema
    if (one.type === 'string' && !one.enum && one.const === undefined && !one.format && !one.pattern && !one.maxLength)
      unbound.push(`${path}: text`)
    if (one.type === 'integer' && (one.maximum ?? Number.POSITIVE_INFINITY) > 2_147_483_647)
      unbound.push(`${path}: number`)
    if (one.type === 'array' && !one.maxItems && !one.prefixItems) unbound.push(`${path}: list`)
    for (const [key, each] of Object.entries(one.properties ?? {})) look(each as typeof one, `${path}.${key}`)
    for (const each of [...(one.anyOf ?? []), ...(one.oneOf ?? []), ...(one.allOf ?? [])])
      look(each as typeof one, path)
    if (one.items && !Array.isArray(one.items)) look(one.items as typeof one, `${path}[]`)
    if (one.additionalProperties && typeof one.additionalProperties === 'object')
      look(one.additionalProperties as typeof one, `${path}.*`)
    if (one.propertyNames) look(one.propertyNames as typeof one, `${path} keys`)
  }
  for (const [name, endpoint] of Object.entries(api) as [string, Endpoint][])
    for (const part of [endpoint.query, endpoint.body])
      if (part && part !== 'bytes')
        look(z.toJSONSchema(part, { io: 'input', unrepresentable: 'any' }) as z.core.JSONSchema.BaseSchema, name)
  expect(unbound).toEqual([])
})
