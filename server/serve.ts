// Mounts an endpoint of the contract on Express: input checked against its schema before
// the handler sees it, the answer checked by its type, refusals answered as problems.
import type { Express, Request, Response } from 'express'
import { z } from 'zod'
import type { Api, Person } from '../core/contract'
import { api, type Endpoint } from '../core/contract'
import { type ReceivedBytes, receiveBytes } from './bytes'
import { Refusal } from './refusal'

type Params<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Record<Name, string> & Params<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Record<Name, string>
    : unknown

export interface Call<E extends Endpoint> {
  person: E extends { open: true } ? Person | null : Person
  params: Params<E['path']>
  query: E extends { query: infer Q extends z.ZodType } ? z.output<Q> : undefined
  body: E extends { body: 'bytes' }
    ? ReceivedBytes
    : E extends { body: infer B extends z.ZodType }
      ? z.output<B>
      : undefined
  request: Request
  response: Response
}
type Answer<E extends Endpoint> = E extends { answer: infer A extends z.ZodType } ? z.input<A> : undefined | void

export type Identify = (request: Request) => Promise<Person | null>

/** A function that mounts endpoints on `app`. A handler may write `response` itself and return undefined. */
export function mounting(app: Express, identify: Identify, largestFile: number) {
  return function mount<K extends keyof Api>(
    name: K,
    handler: (call: Call<Api[K]>) => Promise<Answer<Api[K]> | undefined>,
  ) {
    const endpoint: Endpoint = api[name]
    const method = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete'
    app[method](endpoint.path, async (request, response) => {
      // A file comes in while it is found out who sends it.
      const receiving = endpoint.body === 'bytes' ? receiveBytes(request, largestFile) : null
      receiving?.catch(() => {})
      const person = await identify(request)
      if (!person && !endpoint.open)
        throw new Refusal('signed-out', 'You are signed out. Sign in to go on; your work is untouched.')
      for (const value of Object.values(request.params))
        if (!z.uuid().safeParse(value).success) throw new Refusal('not-found', 'There is nothing at this address.')
      const query = endpoint.query ? checked(endpoint.query, request.query) : undefined
      const body =
        endpoint.body === 'bytes' ? await receiving : endpoint.body ? checked(endpoint.body, request.body) : undefined
      const answer = await handler({ person, params: request.params, query, body, request, response } as never)
      if (answer !== undefined) response.json(answer)
      else if (!response.headersSent && endpoint.answer !== 'events') response.status(204).end()
    })
  }
}

function checked(schema: z.ZodType, input: unknown): unknown {
  const result = schema.safeParse(input)
  if (result.success) return result.data
  const fields: Record<string, string> = {}
  for (const issue of result.error.issues) fields[issue.path.join('.') || 'body'] ??= issue.message
  throw new Refusal('invalid', 'Something in this request is not as it should be.', { fields })
}
