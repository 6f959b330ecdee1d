// Who is signed in, and where. A session is a secret in a cookie, of which the database has the digest. It ends when
// its person ends it, when it was not used for some days, and after some weeks in any case.

import { createHash, randomBytes } from 'node:crypto'
import { type DataSource, type EntityManager, LessThan, MoreThan } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Person, SignedInSession } from '../../core/contract'
import { announce } from '../events/announce'
import { absent } from '../refusal'
import { execute, select, selectPrepared } from '../sql/rows'
import { KnownBrowserRow, PersonRow, SessionRow } from './entity'

export const sessionDays = 30
/** Not used for this long, a session ends. */
const idleDays = 7
/** A browser that a person signed in with is known for this long. */
export const knownDays = 180

export const digestOf = (token: string): Buffer => createHash('sha256').update(token).digest()
const newToken = () => randomBytes(32).toString('base64url')

/** A session that was not used for some days, or is some weeks old, counts no more. */
const lives = `s.expires_at > now() and s.used_at > now() - interval '${idleDays} days'`

/**
 * Begins a session.
 * @param instead the token of one that ends with it: a browser has one session
 * @returns the token, which is stored nowhere else than in the cookie
 */
export async function beginSession(
  manager: EntityManager,
  personId: string,
  browser: { name: string; address: string },
  instead?: string,
): Promise<string> {
  if (instead) await endSession(manager, instead)
  await execute(manager, `delete from session s where s.person_id = $1 and not (${lives})`, [personId])
  const token = newToken()
  const now = new Date()
  await manager.insert(SessionRow, {
    id: uuidv7(),
    tokenHash: digestOf(token),
    personId,
    createdAt: now,
    usedAt: now,
    expiresAt: new Date(now.getTime() + sessionDays * 86_400_000),
    browser: browser.name.slice(0, 100),
    address: browser.address.slice(0, 60),
  })
  return token
}

/** The person of a session that lives; that it was used is noted once in a while. */
export async function personOfToken(
  database: DataSource,
  token: string,
): Promise<(Person & { session: string }) | null> {
  const [row] = await selectPrepared(
    database,
    z.custom<Omit<Person, 'guestOf'> & { session: string; stale: boolean; guestOf: string | null }>(),
    'person of token',
    `select p.id, p.handle, p.name, p.administrator, p.mail, p.guest_of as "guestOf", s.id as session, s.used_at < now() - interval '10 minutes' as stale
     from session s join person p on p.id = s.person_id where s.token_hash = $1 and p.closed_at is null and ${lives}`,
    [digestOf(token)],
  )
  if (!row) return null
  const { stale, guestOf, ...known } = row
  const person = guestOf === null ? known : { ...known, guestOf }
  // With the disk full, people still read.
  if (stale)
    await database.manager.update(SessionRow, { tokenHash: digestOf(token) }, { usedAt: () => 'now()' }).catch(() => {})
  return person
}

/** Which of these sessions live still. */
export async function livingSessions(database: DataSource, ids: readonly string[]): Promise<Set<string>> {
  const rows = await select(
    database,
    z.object({ id: z.string() }),
    `select s.id from session s where s.id = any($1) and ${lives}`,
    [ids],
  )
  return new Set(rows.map(({ id }) => id))
}

export async function endSession(manager: EntityManager, token: string): Promise<void> {
  const ended = await select(
    manager,
    z.object({ id: z.string(), person_id: z.string() }),
    'delete from session where token_hash = $1 returning id, person_id',
    [digestOf(token)],
  )
  for (const { id, person_id } of ended)
    await announce(manager, { about: 'session', sessionId: id, personId: person_id })
}

/** Ends a person's sessions, all of them or all but one. @returns how many there were */
export async function endSessions(manager: EntityManager, personId: string, except: string | null): Promise<number> {
  const ended = await select(
    manager,
    z.object({ id: z.string() }),
    'delete from session where person_id = $1 and id is distinct from $2 returning id',
    [personId, except],
  )
  for (const { id } of ended) await announce(manager, { about: 'session', sessionId: id, personId })
  return ended.length
}

/** Ends one of a person's sessions. @throws Refusal not-found */
export async function endOneSession(manager: EntityManager, personId: string, id: string): Promise<void> {
  const ended = await select(
    manager,
    z.object({ id: z.string() }),
    'delete from session where person_id = $1 and id = $2 returning id',
    [personId, id],
  )
  if (!ended.length) throw absent()
  await announce(manager, { about: 'session', sessionId: id, personId })
}

/** Where a person is signed in, the last used first. */
export async function sessionsOf(
  manager: EntityManager,
  personId: string,
  present: string,
): Promise<SignedInSession[]> {
  const rows = await select(
    manager,
    z.object({ id: z.string(), browser: z.string(), address: z.string(), created_at: z.date(), used_at: z.date() }),
    `select s.id, s.browser, s.address, s.created_at, s.used_at from session s where s.person_id = $1 and ${lives}
     order by s.used_at desc limit 100`,
    [personId],
  )
  return rows.map(({ id, browser, address, created_at, used_at }) => ({
    id,
    browser,
    address,
    since: created_at.toISOString(),
    usedAt: used_at.toISOString(),
    here: id === present,
  }))
}

/** Whether a browser's token is of one that this person signed in with before. */
export async function isKnownBrowser(manager: EntityManager, handle: string, token: string): Promise<boolean> {
  const person = await manager.findOneBy(PersonRow, { handle })
  return (
    person !== null &&
    (await manager.existsBy(KnownBrowserRow, {
      tokenHash: digestOf(token),
      personId: person.id,
      at: MoreThan(new Date(Date.now() - knownDays * 86_400_000)),
    }))
  )
}

/** Notes that a person signed in with a browser. @returns its token, a new one where it had none */
export async function knowBrowser(
  manager: EntityManager,
  personId: string,
  token: string | undefined,
): Promise<string> {
  const kept = token ?? newToken()
  await manager.upsert(KnownBrowserRow, { tokenHash: digestOf(kept), personId, at: new Date() }, [
    'tokenHash',
    'personId',
  ])
  await manager.delete(KnownBrowserRow, { at: LessThan(new Date(Date.now() - knownDays * 86_400_000)) })
  return kept
}
