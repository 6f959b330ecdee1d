// News travels through PostgreSQL's NOTIFY, so that a page hears of what happened in any
// server process. Each process holds one listening connection and forgets nothing it needs:
// a page that was away asks again for what it shows.

import type { Response } from 'express'
import { LRUCache } from 'lru-cache'
import pLimit from 'p-limit'
import pg from 'pg'
import type { DataSource } from 'typeorm'
import { z } from 'zod'
import { News } from '../../core/contract'
import { select } from '../sql/rows'
import { channel } from './announce'

/** Told whenever somebody may see more, or less, than before (server/sql/rights.ts). */
const rightsChannel = 'jaula_rights'
/** Grants end by themselves, too: after this long it is asked again who may see a thing. Milliseconds. */
const remembered = 5000
/** So many news that wait to be told are told as one. */
const mostWaiting = 300
/** Changes of rights that come within this time are told as one; milliseconds. */
const settling = 250
/** Has pages ask anew for what they show. */
const askAnew = 'event: again\ndata: {}\n\n'
/** Has a page ask at once whether anybody is signed in: by itself it would try for a while to listen again. */
const over = 'event: ended\ndata: {}\n\n'
/** Bytes that a page may leave unread. */
const mostUnread = 1 << 20

export interface Newsroom {
  /** Streams to `response` what this person may know, until it is closed or the session ends. */
  subscribe(personId: string, sessionId: string, response: Response): void
  /** Tells of each news that comes in, whoever may know it. */
  onNews(tell: (news: News) => void): void
  close(): Promise<void>
}

/**
 * Listens on a connection of its own, and again whenever that one is lost.
 * @param living which of these sessions have not ended
 */
export function openNewsroom(
  url: string,
  database: DataSource,
  living: (database: DataSource, sessionIds: readonly string[]) => Promise<Set<string>>,
): Newsroom {
  const readers = new Set<{ personId: string; sessionId: string; response: Response }>()
  const told: ((news: News) => void)[] = []
  /** News whose readers are asked for: few at a time, so that requests are not kept waiting for a connection. */
  const asking = pLimit(3)
  let waiting = 0
  let flooded = false
  let closed = false
  let client: pg.Client | undefined
  let retry: NodeJS.Timeout | undefined

  async function listen(): Promise<void> {
    if (closed) return
    client = new pg.Client({ connectionString: url })
    let lost = false
    const again = () => {
      if (lost || closed) return
      lost = true
      client?.removeAllListeners()
      client?.on('error', () => {})
      retry = setTimeout(listen, 1000)
    }
    client.on('error', again)
    client.on('end', again)
    client.on('notification', (message) => {
      if (message.channel === rightsChannel) {
        forget()
        // Empty where something was only moved, of which pages hear by itself.
        if (message.payload) tellOfRights()
      } else void deliver(message.payload ?? '')
    })
    try {
      await client.connect()
      await client.query(`listen ${channel}`)
      await client.query(`listen ${rightsChannel}`)
      forget()
      // Whatever was announced while nobody listened is made up for by asking anew.
      for (const reader of readers) reader.response.write(askAnew)
    } catch {
      again()
    }
  }

  let telling: NodeJS.Timeout | undefined
  /** Whoever looks at something asks anew whether they still may, and what else there is now; many changes at once are one. */
  function tellOfRights(): void {
    telling ??= setTimeout(() => {
      telling = undefined
      for (const reader of readers) send(reader, askAnew)
    }, settling)
  }

  async function deliver(payload: string): Promise<void> {
    const news = News.parse(JSON.parse(payload))
    for (const tell of told) tell(news)
    if (news.about === 'session') {
      for (const reader of readers) if (reader.sessionId === news.sessionId) drop(reader)
      return
    }
    if (news.about === 'draft' || news.about === 'mail' || news.about === 'printing')
      return spread(new Set([news.personId]), payload)
    // Thousands at once (an act of a whole share) are told as one: whoever listens asks anew.
    if (waiting >= mostWaiting) flooded = true
    if (flooded) return
    waiting++
    const people = await asking(() => whoMaySee(news))
    if (!flooded) spread(new Set(people), payload)
    if (--waiting || !flooded) return
    flooded = false
    for (const reader of readers) send(reader, askAnew)
  }
  function spread(people: ReadonlySet<string>, payload: string): void {
    for (const reader of readers) if (people.has(reader.personId)) send(reader, `data: ${payload}\n\n`)
  }

  type Reader = typeof readers extends Set<infer R> ? R : never
  function drop(reader: Reader): void {
    readers.delete(reader)
    reader.response.end(over)
  }
  /** A page that does not read what it is sent is let go of; it asks anew when it comes back. */
  function send(reader: Reader, text: string): void {
    if (reader.response.writableLength > mostUnread) {
      readers.delete(reader)
      reader.response.destroy()
    } else reader.response.write(text)
  }
  /** Sessions end by themselves, too. */
  async function dropEnded(): Promise<void> {
    if (!readers.size) return
    const those = await living(database, [...new Set([...readers].map(({ sessionId }) => sessionId))])
    for (const reader of readers) if (!those.has(reader.sessionId)) drop(reader)
  }

  // Who may see what the news is of: a file or a folder with its own rights is not told of to all of its share.
  let known = new LRUCache<string, Promise<string[]>>({ max: 2000, ttl: remembered })
  function forget(): void {
    known = new LRUCache({ max: 2000, ttl: remembered })
  }
  function whoMaySee(news: Exclude<News, { about: 'draft' | 'mail' | 'printing' | 'session' }>): Promise<string[]> {
    const entryId = 'fileId' in news ? news.fileId : news.about === 'place' ? news.folderId : null
    const key = entryId ?? news.shareId
    let people = known.get(key)
    if (!people) {
      const asked = known
      people = select(
        database,
        z.object({ person_id: z.string() }),
        'select person_id from who_may(coalesce((select realm_id from entry where id = $2), $1))',
        [news.shareId, entryId],
      ).then(
        (rows) => rows.map(({ person_id }) => person_id),
        () => {
          asked.delete(key)
          return []
        },
      )
      known.set(key, people)
    }
    return people
  }

  const pulse = setInterval(() => {
    for (const reader of readers) send(reader, ': still here\n\n')
    void dropEnded().catch(() => {})
  }, 15_000)
  void listen()
  return {
    subscribe(personId, sessionId, response) {
      const reader = { personId, sessionId, response }
      readers.add(reader)
      response.writeHead(200, {
        'content-type': 'text/event-stream',
        'cache-control': 'no-store',
        'x-accel-buffering': 'no',
      })
      response.write(askAnew)
      response.on('close', () => readers.delete(reader))
    },
    onNews: (tell) => void told.push(tell),
    async close() {
      closed = true
      clearInterval(pulse)
      clearTimeout(retry)
      clearTimeout(telling)
      for (const { response } of readers) response.end()
      await client?.end().catch(() => {})
    },
  }
}
