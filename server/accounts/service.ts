import { createHash, randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { type Person, Settings } from '../../core/contract'
import { Refusal } from '../refusal'
import { PersonRow, SessionRow, SettingsRow, SignInFailureRow } from './entity'

/** OWASP's first recommendation for Argon2id: 19 MiB, two passes, one lane. */
const argon = { algorithm: 2 /* Argon2id */, memoryCost: 19456, timeCost: 2, parallelism: 1 } as const
const sessionDays = 14
const window = '15 minutes'
const failuresPerHandle = 8
const failuresPerAddress = 50

/** Verified for a handle that does not exist, so that the time taken tells nothing. */
let decoy: Promise<string> | undefined

const digest = (token: string) => createHash('sha256').update(token).digest()
const shown = (row: PersonRow): Person => ({
  id: row.id,
  handle: row.handle,
  name: row.name,
  administrator: row.administrator,
})

export const hashPassword = (password: string): Promise<string> => hash(password, argon)

/**
 * Signs a person in.
 * @returns the session's token, which is stored nowhere else than in the cookie
 * @throws Refusal wrong-password, or too-many-attempts with the seconds to wait
 */
export async function signIn(
  database: DataSource,
  handle: string,
  password: string,
  address: string,
): Promise<{ person: Person; token: string }> {
  const known = handle.trim().toLowerCase()
  const [counted] = await database.query(
    `select count(*) filter (where handle = $1)::int as handle, count(*) filter (where address = $2)::int as address,
            extract(epoch from min(at) + $3::interval - now())::int as wait
     from sign_in_failure where at > now() - $3::interval and (handle = $1 or address = $2)`,
    [known, address, window],
  )
  if (counted.handle >= failuresPerHandle || counted.address >= failuresPerAddress)
    throw new Refusal(
      'too-many-attempts',
      `Too many attempts. Try again in ${Math.max(1, Math.ceil(counted.wait / 60))} minutes.`,
      { retryAfter: counted.wait },
    )
  const row = await database.manager.findOneBy(PersonRow, { handle: known })
  decoy ??= hashPassword(randomBytes(16).toString('hex'))
  const right = await verify(row?.passwordHash ?? (await decoy), password)
  if (!row || !right) {
    await database.manager.insert(SignInFailureRow, { id: uuidv7(), handle: known, address, at: new Date() })
    throw new Refusal('wrong-password', 'This name and password do not belong together.', {
      fields: { password: 'Check the name and the password.' },
    })
  }
  await database.query('delete from sign_in_failure where handle = $1 or at < now() - $2::interval', [known, window])
  const token = randomBytes(32).toString('base64url')
  await database.manager.insert(SessionRow, {
    tokenHash: digest(token),
    personId: row.id,
    createdAt: new Date(),
    expiresAt: new Date(Date.now() + sessionDays * 86400_000),
  })
  return { person: shown(row), token }
}

export async function signOut(database: DataSource, token: string): Promise<void> {
  await database.manager.delete(SessionRow, { tokenHash: digest(token) })
}

/** The person a session's token belongs to; null when it expired or never was. */
export async function personOfToken(database: DataSource, token: string): Promise<Person | null> {
  const [row] = await database.query(
    `select p.id, p.handle, p.name, p.administrator from session s join person p on p.id = s.person_id
     where s.token_hash = $1 and s.expires_at > now()`,
    [digest(token)],
  )
  return row ?? null
}

export async function addPerson(
  manager: EntityManager,
  facts: { handle: string; name: string; password: string; administrator: boolean },
): Promise<Person> {
  const row = manager.create(PersonRow, {
    id: uuidv7(),
    handle: facts.handle.toLowerCase(),
    name: facts.name,
    administrator: facts.administrator,
    passwordHash: await hashPassword(facts.password),
    createdAt: new Date(),
  })
  await manager.insert(PersonRow, row)
  return shown(row)
}

export const anybodyHasAnAccount = (database: DataSource): Promise<boolean> => database.manager.exists(PersonRow)

export async function settingsOf(manager: EntityManager, personId: string): Promise<Settings> {
  const row = await manager.findOneBy(SettingsRow, { personId })
  return Settings.parse(row?.settings ?? {})
}

export async function setSettings(database: DataSource, personId: string, settings: Settings): Promise<Settings> {
  await database.manager.upsert(SettingsRow, { personId, settings }, ['personId'])
  return settings
}
