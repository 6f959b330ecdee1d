// Pages that listen for news, and how long it takes until the last of them has heard.
import { setTimeout as later } from 'node:timers/promises'
import type pg from 'pg'

export interface Listeners {
  /** How often each kind of news was heard, by all of them together. */
  told: ReadonlyMap<string, number>
  /** From the news until the last of them has it. */
  untilAllHeard(news: object, about: string): Promise<void>
  close(): void
}

/** @param ask as somebody who is signed in */
export async function openListeners(
  ask: (path: string, init?: RequestInit) => Promise<Response>,
  client: pg.Client,
  count: number,
): Promise<Listeners> {
  const streams: AbortController[] = []
  const told = new Map<string, number>()
  for (let n = 0; n < count; n++) {
    const stop = new AbortController()
    streams.push(stop)
    const { body } = await ask('/api/events', { signal: stop.signal })
    void (async () => {
      for await (const piece of body as unknown as AsyncIterable<Uint8Array>)
        for (const [, about] of Buffer.from(piece)
          .toString()
          .matchAll(/"about" ?: ?"(\w+)"/g))
          told.set(about!, (told.get(about!) ?? 0) + 1)
    })().catch(() => {})
  }
  return {
    told,
    async untilAllHeard(news, about) {
      const due = (told.get(about) ?? 0) + count
      await client.query('select pg_notify($1, $2)', ['jaula_news', JSON.stringify(news)])
      while ((told.get(about) ?? 0) < due) await later(1)
    },
    close() {
      for (const stop of streams) stop.abort()
    },
  }
}
