import type { z } from 'zod'
import { type Api, api, type Endpoint, type News, Problem } from '../../core/contract'
import { Fault } from '../../core/recovery/ports'
import { say } from '../../core/words/said'

/** A refusal by the server, or its silence (`type` storage-unavailable with status 0). */
export class Refused extends Fault {}

type Params<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? { [K in Name]: string } & Params<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? { [K in Name]: string }
    : unknown
type Input<E extends Endpoint> = (keyof Params<E['path']> extends never ? unknown : { params: Params<E['path']> }) &
  (E extends { query: infer Q extends z.ZodType } ? { query: z.input<Q> } : unknown) &
  (E extends { body: 'bytes' }
    ? { bytes: Blob | Uint8Array }
    : E extends { body: infer B extends z.ZodType }
      ? { body: z.input<B> }
      : unknown)
type Output<E extends Endpoint> = E extends { answer: 'bytes' }
  ? Uint8Array
  : E extends { answer: infer A extends z.ZodType }
    ? z.output<A>
    : undefined

const listeners = new Set<() => void>()
/** Called whenever the server says that nobody is signed in. */
export const onSignedOut = (listener: () => void): (() => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

const hearing = new Set<(news: News) => void>()
/** Called with the server's news, beside what is asked again for it. @returns what ends it */
export const onHeard = (listener: (news: News) => void): (() => void) => {
  hearing.add(listener)
  return () => hearing.delete(listener)
}
export const heard = (news: News): void => {
  for (const listener of hearing) listener(news)
}

export function addressOf(
  name: keyof Api,
  input: { params?: Record<string, string>; query?: Record<string, unknown> } = {},
): string {
  const path = api[name].path.replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(input.params?.[key] ?? ''))
  const query = new URLSearchParams()
  for (const [key, value] of Object.entries(input.query ?? {}))
    if (value !== undefined && value !== null)
      query.set(key, typeof value === 'object' ? JSON.stringify(value) : String(value))
  return query.size ? `${path}?${query}` : path
}

/** A JSON body, packed for the way. */
export const packed = (body: unknown): Promise<Blob> =>
  new Response(new Blob([JSON.stringify(body)]).stream().pipeThrough(new CompressionStream('gzip'))).blob()

/** Asks the server. `packed` goes in place of the body, which it holds. @throws Refused */
export async function call<K extends keyof Api>(
  name: K,
  input: Input<Api[K]>,
  options: { timeout?: number; packed?: Blob; keepalive?: boolean; onHeaders?: (headers: Headers) => void } = {},
): Promise<Output<Api[K]>> {
  const endpoint: Endpoint = api[name]
  const given = input as {
    params?: Record<string, string>
    query?: Record<string, unknown>
    body?: unknown
    bytes?: Blob | Uint8Array
  }
  let response: Response
  try {
    response = await fetch(addressOf(name, given), {
      method: endpoint.method,
      signal: AbortSignal.timeout(options.timeout ?? 60_000),
      // Goes on when the page is gone.
      ...(options.keepalive && { keepalive: true }),
      ...(given.bytes
        ? { body: given.bytes as BodyInit, headers: { 'content-type': 'application/octet-stream' } }
        : {}),
      ...(given.body !== undefined && {
        body: options.packed ?? JSON.stringify(given.body),
        headers: {
          'content-type': 'application/json',
          ...(options.packed && { 'content-encoding': 'gzip' }),
        },
      }),
    })
    if (response.ok) {
      options.onHeaders?.(response.headers)
      if (endpoint.answer === 'bytes') return new Uint8Array(await response.arrayBuffer()) as Output<Api[K]>
      if (endpoint.answer === undefined) return undefined as Output<Api[K]>
      return (await response.json()) as Output<Api[K]>
    }
  } catch {
    throw new Refused({
      type: 'storage-unavailable',
      title: 'No answer.',
      says: say('app.the-server-does-not-answer-right-now'),
      status: 0,
    })
  }
  const problem = Problem.safeParse(await response.json().catch(() => null))
  const refused = new Refused(
    problem.data ?? {
      type: response.status >= 500 ? 'storage-unavailable' : 'unexpected',
      title: 'No answer.',
      says: say('common.something-went-wrong-on-the-server'),
      status: response.status,
    },
  )
  if (refused.problem.type === 'signed-out') for (const listener of listeners) listener()
  throw refused
}

/** Whether an error only means that the server is not there now. */
export const isAway = (error: unknown): boolean =>
  error instanceof Refused && error.problem.type === 'storage-unavailable'
