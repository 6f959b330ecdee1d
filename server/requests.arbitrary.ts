// Requests made from the contract: valid ones, and ones that are broken somewhere. For tests and measurements.
import fc from 'fast-check'
import { z } from 'zod'
import { api, type Endpoint } from '../core/contract'

export interface AnyRequest {
  name: keyof typeof api
  method: string
  path: string
  body: string | undefined
  type: string | undefined
}
type Schema = z.core.JSONSchema.BaseSchema

/** Values that broke something once, or might. */
const nasty: fc.Arbitrary<unknown> = fc.constantFrom<unknown>(
  '\0',
  'a\0b',
  '\ud800',
  'x\udc00',
  '',
  ' ',
  '..',
  'a/b',
  '\u202egpj.docx',
  'x'.repeat(1001),
  'x'.repeat(20_000),
  2_147_483_648,
  -1,
  -2_147_483_649,
  1e308,
  0.5,
  null,
  true,
  [],
  {},
  [[[[[[]]]]]],
  { __proto__: null, constructor: 1 },
  '0000-01-01T00:00:00Z',
  '9999-12-31T23:59:59Z',
  '275760-09-13T00:00:00Z',
  'not-a-uuid',
  '00000000-0000-0000-0000-000000000000',
  '%ff',
  "'; drop table version; --",
)

/** @param ids of things that are there */
function valueOf(schema: Schema, ids: readonly string[], depth = 0): fc.Arbitrary<unknown> {
  const one = schema as Schema & { const?: unknown }
  if (one.const !== undefined) return fc.constant(one.const)
  if (one.enum) return fc.constantFrom(...(one.enum as unknown[]))
  const choice = one.anyOf ?? one.oneOf
  if (choice) return fc.oneof(...(choice as Schema[]).map((each) => valueOf(each, ids, depth)))
  switch (one.type) {
    case 'string':
      if (one.format === 'uuid') return fc.oneof({ weight: 4, arbitrary: fc.constantFrom(...ids) }, fc.uuid())
      if (one.format === 'date-time')
        return fc
          .date({ min: new Date('1971-01-01'), max: new Date('2040-01-01'), noInvalidDate: true })
          .map((date) => date.toISOString())
      if (one.pattern?.includes('[0-9a-f]{64}')) return fc.stringMatching(/^[0-9a-f]{64}$/)
      return fc.string({
        minLength: one.minLength ?? 0,
        maxLength: Math.max(one.minLength ?? 0, Math.min(one.maxLength ?? 20, 20)),
        unit: 'grapheme',
      })
    case 'integer':
    case 'number':
      return fc.integer({ min: Math.max(-1000, one.minimum ?? -1000), max: Math.min(1000, one.maximum ?? 1000) })
    case 'boolean':
      return fc.boolean()
    case 'null':
      return fc.constant(null)
    case 'array':
      return fc.array(valueOf((Array.isArray(one.items) ? {} : (one.items ?? {})) as Schema, ids, depth + 1), {
        minLength: Math.min(one.minItems ?? 0, 2),
        maxLength: Math.min(one.maxItems ?? 3, 3),
      })
    case 'object': {
      const properties = Object.entries(one.properties ?? {}) as [string, Schema][]
      const required = new Set(one.required ?? [])
      if (!properties.length)
        return fc.dictionary(fc.string({ maxLength: 8 }), fc.string({ maxLength: 8 }), { maxKeys: 3 })
      return fc.record(Object.fromEntries(properties.map(([key, each]) => [key, valueOf(each, ids, depth + 1)])), {
        requiredKeys: properties.map(([key]) => key).filter((key) => required.has(key)),
      })
    }
  }
  return depth > 3 ? fc.constant(null) : fc.jsonValue({ maxDepth: 2 })
}

/** Replaces something inside a value, wherever that is. */
const broken = (value: unknown): fc.Arbitrary<unknown> => {
  const places: (readonly (string | number)[])[] = []
  const look = (one: unknown, path: readonly (string | number)[]) => {
    places.push(path)
    if (typeof one === 'object' && one !== null && path.length < 6)
      for (const key of Object.keys(one)) look((one as Record<string, unknown>)[key], [...path, key])
  }
  look(value, [])
  return fc.tuple(fc.constantFrom(...places), nasty).map(([path, worse]) => {
    if (!path.length) return worse
    const copy = structuredClone(value) as Record<string, unknown>
    let at = copy
    for (const key of path.slice(0, -1)) at = at[key] as Record<string, unknown>
    at[path.at(-1)!] = worse
    return copy
  })
}
const sometimesBroken = (value: fc.Arbitrary<unknown>): fc.Arbitrary<unknown> =>
  fc.oneof(
    value,
    { weight: 2, arbitrary: value.chain(broken) },
    { weight: 1, arbitrary: value.chain(broken).chain(broken) },
  )

const jsonSchema = (schema: z.ZodType) => z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as Schema

/** What would end whoever asks, or wait for ever. */
const leftOut = new Set([
  'signIn',
  'signOut',
  'endOtherSessions',
  'endSession',
  'changePassword',
  'events',
  'firstAdministrator',
])

export function anyRequest(ids: readonly string[]): fc.Arbitrary<AnyRequest> {
  const each = (Object.entries(api) as [keyof typeof api, Endpoint][])
    .filter(([name]) => !leftOut.has(name))
    .map(([name, endpoint]) => {
      const params = [...endpoint.path.matchAll(/:\w+/g)].length
      const query = endpoint.query ? sometimesBroken(valueOf(jsonSchema(endpoint.query), ids)) : fc.constant({})
      const body =
        endpoint.body === 'bytes'
          ? fc.string({ maxLength: 50 })
          : endpoint.body
            ? sometimesBroken(valueOf(jsonSchema(endpoint.body), ids)).map((value) => JSON.stringify(value))
            : fc.constant(undefined)
      return fc
        .tuple(fc.array(fc.constantFrom(...ids), { minLength: params, maxLength: params }), query, body)
        .map(([filled, asked, sent]): AnyRequest => {
          let at = 0
          const address = endpoint.path.replace(/:\w+/g, () => filled[at++]!)
          const search = new URLSearchParams()
          if (typeof asked === 'object' && asked !== null)
            // A longer address is refused by Node before anybody sees it.
            for (const [key, value] of Object.entries(asked))
              search.set(key, (typeof value === 'string' ? value.toWellFormed() : JSON.stringify(value)).slice(0, 2000))
          return {
            name,
            method: endpoint.method,
            path: search.size ? `${address}?${search}` : address,
            body: endpoint.method === 'GET' ? undefined : sent,
            type: endpoint.body === 'bytes' ? undefined : 'application/json',
          }
        })
    })
  return fc.oneof(...each)
}
