// A fresh database on the test's PostgreSQL, for the tests of the server.
import { checkRows } from './sql/rows'
import 'reflect-metadata'
import { randomUUID } from 'node:crypto'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import pino from 'pino'
import { DataSource } from 'typeorm'
import { wordsOfFile } from '../core/formats/words'
import { applicationRole, makeRoles, roleUrls } from '../scripts/lib/roles.mjs'
import { addPerson } from './accounts/service'
import { livingSessions } from './accounts/sessions'
import { makeApp } from './app'
import { compareHere } from './changes/compare'
import { unbounded } from './counts/quotas'
import { openDatabase } from './database'
import { openNewsroom } from './events/service'
import { tasksHere } from './intake/tasks'
import { takingOver } from './intake/work'
import { openQueue } from './jobs/queue'
import { showHere } from './links/shown'
import { convertHere } from './mail/convert'
import { posting } from './mail/outbox'
import { readingReturns } from './mail/returns'
import { deliverBy } from './mail/way'
import { convertWithPages } from './paper/file-as-pdf'
import { typesetHere } from './paper/typeset'
import type { AppParts } from './parts'
import { printing } from './printing/service'
import { openSpool } from './requests/upload'
import { indexing } from './search/index-files'
import { addMember, addShare } from './shares/service'
import { keepingInStep } from './side-lists/in-step'
import { sheetsHere } from './side-lists/read-sheets'
import { openContents } from './storage/content'

checkRows()

export interface TestOffice {
  /** As the application's own role. */
  database: DataSource
  /** As the role that owns the database, for what nobody may do. */
  owner: DataSource
  /** A share that ida edits, priya manages and tomas views; ben is no member. */
  share: string
  people: Record<'ida' | 'priya' | 'tomas' | 'ben', string>
  url: string
  /** Another process on the same database, as far as HTTP and the database can tell. @returns its address */
  another(): Promise<string>
  /** Has work of this kind looked at soon. */
  soon(work: string): void
  /** Ends every connection of the application to the database, as when that is started anew. @returns how many there were */
  cut(): Promise<number>
  close(): Promise<void>
}

/** A database with its two roles. @param like one that it is made after @returns their addresses */
export async function makeDatabase(
  address: string,
  name: string,
  like?: string,
): Promise<{ url: string; ownerUrl: string }> {
  const superuserUrl = address.replace(/\/[^/]*$/, `/${name}`)
  const admin = new pg.Client({ connectionString: address })
  // A test may kill its database.
  admin.on('error', () => {})
  await admin.connect()
  await admin.query(`create database ${name}${like ? ` template ${like}` : ''}`)
  await admin.end()
  const inside = new pg.Client({ connectionString: superuserUrl })
  await inside.connect()
  await inside.query(makeRoles(superuserUrl))
  await inside.end()
  return roleUrls(superuserUrl)
}

export const password = 'a long password'
const handles = ['ida', 'priya', 'tomas', 'ben'] as const
/** Whoever makes the pattern of the databases holds it. */
const patternLock = 4_170_900

/**
 * A database with its people and their share, of which others are made: what it takes to bring one up to date is done once
 * in a run, whose processes are children of one.
 */
async function makePattern(address: string, admin: pg.Client): Promise<string> {
  const name = `test_pattern_${process.ppid}`
  await admin.query('select pg_advisory_lock($1)', [patternLock])
  try {
    const there = await admin.query('select from pg_database where datname = $1 and datistemplate', [name])
    if (there.rowCount) return name
    await admin.query(`drop database if exists ${name}`)
    const { url, ownerUrl } = await makeDatabase(address, name)
    const database = await openDatabase(url, ownerUrl)
    const people: Record<string, string> = {}
    for (const handle of handles)
      people[handle] = (await addPerson(database.manager, { handle, name: handle, password, administrator: false })).id
    const share = await addShare(database.manager, 'Waterways')
    await addMember(database.manager, share, people.ida!, 'edit')
    await addMember(database.manager, share, people.priya!, 'manage')
    await addMember(database.manager, share, people.tomas!, 'view')
    await database.destroy()
    await admin.query(`alter database ${name} is_template true`)
    return name
  } finally {
    await admin.query('select pg_advisory_unlock($1)', [patternLock])
  }
}
/** By the address of their cluster. */
const patterns = new Map<string, Promise<string>>()

/** The server's application on a database of its own. @param more what is otherwise than usual */
export async function openTestOffice(more: Partial<AppParts> = {}): Promise<TestOffice> {
  const address = process.env.TEST_DATABASE_URL
  if (!address) throw new Error('TEST_DATABASE_URL is not set; run these tests with npm test.')
  const name = `test_${randomUUID().replaceAll('-', '')}`
  const admin = new pg.Client({ connectionString: address })
  admin.on('error', () => {})
  await admin.connect()
  const pattern = patterns.get(address) ?? makePattern(address, admin)
  patterns.set(address, pattern)
  const { url, ownerUrl } = await makeDatabase(address, name, await pattern)
  const database = await openDatabase(url, ownerUrl)
  const owner = await new DataSource({
    type: 'postgres',
    url: ownerUrl,
    poolSize: 2,
    poolErrorHandler: () => {},
  }).initialize()
  const people = {} as TestOffice['people']
  for (const { handle, id } of await database.query('select handle, id from person'))
    people[handle as (typeof handles)[number]] = id
  const [{ id: share }] = await database.query("select id from share where name = 'Waterways'")
  const newsroom = openNewsroom(url, database, livingSessions)
  const contents = openContents()
  const queue = await openQueue(
    database,
    [
      indexing(database, contents, async (bytes, type) => wordsOfFile(bytes, type)),
      keepingInStep({
        database,
        contents,
        sheets: more.sheets ?? sheetsHere,
        typeset: typesetHere,
        quotas: more.quotas ?? unbounded,
        onFault(error) {
          // Who brings readers of their own may have them fail.
          if (!more.sheets) throw error
        },
      }),
      takingOver(
        {
          database,
          tasks: tasksHere,
          quotas: more.quotas ?? unbounded,
          largestFile: more.largestFile ?? 20_000_000,
          folders: more.intakeFolders ?? [],
        },
        (error) => {
          throw error
        },
      ),
      printing(database),
      ...(more.mail
        ? [
            posting({
              database,
              contents,
              mail: more.mail,
              convert: more.convert ?? convertWithPages(convertHere, typesetHere),
              deliver: deliverBy(more.mail.way),
            }),
            ...(more.mail.way.returns ? [readingReturns(database, more.mail.way.returns)] : []),
          ]
        : []),
    ],
    (error) => {
      throw error
    },
  )
  newsroom.onNews(({ about }) => {
    if (about === 'file' || about === 'place' || about === 'names') queue.soon('index')
    if (about === 'file') queue.soon('side-lists')
  })
  const ends: (() => Promise<unknown>)[] = []
  const serve = async (own: DataSource): Promise<string> => {
    const server = createServer(
      makeApp({
        database: own,
        newsroom,
        comparing: compareHere,
        contents,
        sheets: sheetsHere,
        show: showHere,
        spool: openSpool(join(tmpdir(), `jaula-test-spool-${process.pid}`)),
        log: pino({ level: 'silent' }),
        demo: false,
        largestFile: 20_000_000,
        pages: 'nowhere',
        version: 'test',
        soon: (work) => queue.soon(work),
        ...more,
      }),
    )
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
    ends.push(async () => {
      server.closeAllConnections()
      await new Promise((done) => server.close(done))
      await own.destroy()
    })
    return `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  }
  return {
    database,
    owner,
    share,
    people,
    url: await serve(database),
    soon: (work) => queue.soon(work),
    another: async () => serve(await openDatabase(url, ownerUrl)),
    async cut() {
      const { rowCount } = await admin.query(
        'select pg_terminate_backend(pid) from pg_stat_activity where datname = $1 and usename = $2',
        [name, applicationRole],
      )
      return rowCount ?? 0
    },
    async close() {
      await newsroom.close()
      await queue.close()
      for (const end of ends) await end()
      await owner.destroy()
      // One that was cut with its database drops nothing any more; its cluster goes as a whole.
      await admin.query(`drop database ${name} with (force)`).catch(() => {})
      await admin.end()
    },
  }
}

/** Signs in and answers with a fetch that carries the cookie. */
export async function signInAs(office: Pick<TestOffice, 'url'>, handle: string) {
  const answer = await fetch(`${office.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ handle, password }),
  })
  const cookie = answer.headers.getSetCookie().find((one) => one.startsWith('jaula_session')) ?? ''
  const ask = (path: string, init: RequestInit = {}) =>
    fetch(office.url + path, { ...init, headers: { cookie: cookie.split(';')[0]!, ...init.headers } })
  return {
    answer,
    cookie,
    ask,
    json: (path: string, method: string, body: unknown) =>
      ask(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  }
}

/** Asks as a browser in which nobody is signed in: with the cookies that it was given. */
export function withCookies(url: string): Ask {
  const jar = new Map<string, string>()
  return async (path, init = {}) => {
    const cookie = Array.from(jar, ([name, value]) => `${name}=${value}`).join('; ')
    const answer = await fetch(url + path, { ...init, headers: { cookie, ...init.headers } })
    for (const one of answer.headers.getSetCookie()) {
      const [name, value] = one.split(';', 1)[0]!.split('=') as [string, string]
      jar.set(name, value)
    }
    return answer
  }
}

/** What a device says of a draft that it has open. */
export const signOfLife = (id: string, more: object = {}) => ({
  id,
  kind: 'document',
  deviceId: randomUUID(),
  deviceName: 'test',
  bornAt: new Date().toISOString(),
  baseVersionId: null,
  fileId: null,
  savedSeq: 0,
  journalSeq: 2,
  lastEditAt: new Date().toISOString(),
  opening: 'Gate',
  beyond: { edits: 2, charactersAdded: 1, charactersRemoved: 0, cells: 0 },
  ...more,
})

export type Ask = Awaited<ReturnType<typeof signInAs>>['ask']

/** Asks with a body in JSON, or with none. */
export const send = (ask: Ask, path: string, method: string, body?: unknown): Promise<Response> =>
  ask(path, {
    method,
    ...(body !== undefined && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  })

/** What was answered. @throws Error with it, where it is no yes */
export async function done<T>(answer: Promise<Response>): Promise<T> {
  const response = await answer
  const text = await response.text()
  if (!response.ok) throw new Error(`${response.status} ${text}`)
  return (text ? JSON.parse(text) : undefined) as T
}
