// Mounts an endpoint of the contract on Express. In this order: who asks, the address, the query, whether they may at
// all, and only then the body, within its bounds. A handler sees nothing that was not checked against its schema;
// refusals are answered as problems.
import type { Express, Request, Response } from 'express'
import { z } from 'zod'
import type { Api, Person } from '../../core/contract'
import { api, type Endpoint, forGuests } from '../../core/contract'
import { type Sentence, say, sentenceOf } from '../../core/words/said'
import { absent, Refusal } from '../refusal'
import { pause, readJson, unkeptText, usualLargest } from './json'
import { type Received, type Spool, smallFile } from './upload'

type Params<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Record<Name, string> & Params<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Record<Name, string>
    : unknown

interface Asked<E extends Endpoint> {
  person: E extends { right: 'anybody' | 'by link' } ? Person | null : Person
  params: Params<E['path']>
  query: E extends { query: infer Q extends z.ZodType } ? z.output<Q> : undefined
  request: Request
  response: Response
}
export interface Call<E extends Endpoint> extends Asked<E> {
  body: E extends { body: 'bytes' } ? Received : E extends { body: infer B extends z.ZodType } ? z.output<B> : undefined
}
type Answer<E extends Endpoint> = E extends { answer: infer A extends z.ZodType } ? z.input<A> : undefined | void

export type Identify = (request: Request) => Promise<Person | null>
export type Mount = <K extends keyof Api>(
  name: K,
  handler: (call: Call<Api[K]>) => Promise<Answer<Api[K]> | undefined>,
  /** Asked before the body is read. @throws Refusal */
  before?: (asked: Asked<Api[K]>) => Promise<unknown>,
) => void

/** A function that mounts endpoints on `app`. A handler may write `response` itself and return undefined. */
export function mounting(app: Express, identify: Identify, spool: Spool, largestFile: number): Mount {
  return function mount(name, handler, before) {
    const endpoint: Endpoint = api[name]
    const method = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete'
    app[method](endpoint.path, async (request, response) => {
      const person = await identify(request)
      if (endpoint.right !== 'anybody' && endpoint.right !== 'by link') {
        if (!person) throw new Refusal('signed-out', say('problem.you-are-signed-out-sign-in-to'))
        if (person.guestOf && !forGuests.has(name))
          throw new Refusal('not-allowed', say('problem.this-is-not-for-guests'))
      }
      for (const value of Object.values(request.params)) if (!z.uuid().safeParse(value).success) throw absent()
      const query = endpoint.query ? checked(endpoint.query, request.query) : undefined
      const asked = { person, params: request.params, query, request, response }
      // A small file arrives while it is asked whether it may; it takes no more than its place in memory.
      const early =
        endpoint.body === 'bytes' && Number(request.headers['content-length'] ?? Number.POSITIVE_INFINITY) <= smallFile
          ? spool.receive(request, largestFile)
          : null
      early?.catch(() => {})
      await before?.(asked as never)
      if (request.method === 'HEAD' && endpoint.answer === 'events') return void response.status(200).end()
      const body =
        endpoint.body === 'bytes'
          ? await (early ?? spool.receive(request, largestFile))
          : endpoint.body
            ? await checkedBody(endpoint.body, request, endpoint)
            : undefined
      if (endpoint.largest) await pause()
      try {
        const answer = await handler({ ...asked, body } as never)
        if (answer !== undefined) response.json(answer)
        else if (!response.headersSent && endpoint.answer !== 'events') response.status(204).end()
      } finally {
        if (endpoint.body === 'bytes') await (body as Received).discard()
      }
    })
  }
}

async function checkedBody(schema: z.ZodType, request: Request, { largest, packed }: Endpoint): Promise<unknown> {
  const { value, plain } = await readJson(request, largest ?? usualLargest, packed ?? false)
  return checked(schema, value, plain)
}

/** @param plain every text in it can be kept, as is known */
function checked(schema: z.ZodType, input: unknown, plain = false): unknown {
  const result = schema.safeParse(input)
  const fields: Record<string, Sentence> = {}
  if (result.success) {
    const unkept = plain ? null : unkeptText(result.data)
    if (unkept === null) return result.data
    fields[unkept || 'body'] = say('problem.this-text-has-a-symbol-that-cannot')
  } else
    for (const issue of result.error.issues.slice(0, 50))
      fields[issue.path.join('.') || 'body'] ??= sentenceOf(issue.message)
  throw new Refusal('invalid', say('problem.something-in-this-request-is-not-as'), { fields })
}
