import { randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import { dictionary } from '@zxcvbn-ts/language-common'
import { type DataSource, type EntityManager, IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { type Person, Settings } from '../../core/contract'
import { say } from '../../core/words/said'
import { Refusal } from '../refusal'
import { PersonRow, SettingsRow } from './entity'
import type { CountGuess } from './limits'

/** OWASP's first recommendation for Argon2id: 19 MiB, two passes, one lane. */
const argon = { algorithm: 2 /* Argon2id */, memoryCost: 19456, timeCost: 2, parallelism: 1 } as const

/** Verified for a handle that does not exist, so that the time taken tells nothing. */
let decoy: Promise<string> | undefined

export const shown = (row: PersonRow): Person => ({
  id: row.id,
  handle: row.handle,
  name: row.name,
  administrator: row.administrator,
  mail: row.mail,
})

export const hashPassword = (password: string): Promise<string> => hash(password, argon)

export const handleOf = (typed: string): string => typed.trim().toLowerCase()

/**
 * The person of a name and a password.
 * @throws Refusal wrong-password, or too-many-attempts with the seconds to wait
 */
export async function personWith(
  database: DataSource,
  count: CountGuess,
  { handle, password, address, known }: { handle: string; password: string; address: string; known: string | null },
  /** What is asked besides. @throws Refusal, of which wrong-password counts as a wrong guess */
  besides: (person: Person) => Promise<void> = async () => {},
): Promise<Person> {
  const counted = await count({ handle, address, known })
  const row = await database.manager.findOneBy(PersonRow, { handle })
  decoy ??= hashPassword(randomBytes(16).toString('hex'))
  const right = await verify(row?.passwordHash ?? (await decoy), password)
  if (!row?.passwordHash || !right || row.closedAt) {
    await counted.wrong()
    throw new Refusal('wrong-password', say('problem.this-name-and-password-do-not-belong'), {
      fields: { password: say('problem.check-the-name-and-the-password') },
    })
  }
  try {
    await besides(shown(row))
  } catch (error) {
    // Who knows the password and guesses at the rest is counted. Nothing of it is forgotten for the password alone: whoever
    // came without a code between two guesses would have as many as they like.
    if (error instanceof Refusal && error.problem.type === 'wrong-password') await counted.wrong()
    throw error
  }
  await counted.right()
  return shown(row)
}

/** Passwords that whoever guesses tries first. */
const common = new Set(dictionary['passwords-common'] as readonly string[])

/** @throws Refusal invalid for a password that would soon be guessed */
export function refusePassword(password: string, handle: string): void {
  const small = password.toLowerCase()
  const plain = small.replace(/[^a-z]+$/, '')
  const reason =
    common.has(small) || (plain.length >= 4 && common.has(plain))
      ? say('problem.this-is-one-of-the-passwords-that')
      : small.includes(handle)
        ? say('problem.a-password-with-your-own-name-in')
        : new Set(small).size < 5
          ? say('problem.use-more-different-letters')
          : null
  if (reason) throw new Refusal('invalid', reason, { fields: { password: reason } })
}

export async function addPerson(
  manager: EntityManager,
  facts: { handle: string; name: string; password: string; administrator: boolean },
): Promise<Person> {
  const handle = facts.handle.toLowerCase()
  refusePassword(facts.password, handle)
  const row = manager.create(PersonRow, {
    id: uuidv7(),
    handle,
    name: facts.name,
    administrator: facts.administrator,
    passwordHash: await hashPassword(facts.password),
    createdAt: new Date(),
    closedAt: null,
    signedInAt: null,
    mail: null,
  })
  await manager.insert(PersonRow, row)
  return shown(row)
}

/** Sets another password. @throws Refusal invalid */
export async function setPassword(manager: EntityManager, person: Person, password: string): Promise<void> {
  refusePassword(password, person.handle)
  await manager.update(PersonRow, { id: person.id }, { passwordHash: await hashPassword(password) })
}

export const anybodyHasAnAccount = (manager: EntityManager): Promise<boolean> =>
  manager.existsBy(PersonRow, { closedAt: IsNull(), guestOf: IsNull() })

export async function settingsOf(manager: EntityManager, personId: string): Promise<Settings> {
  const row = await manager.findOneBy(SettingsRow, { personId })
  return Settings.parse(row?.settings ?? {})
}

export async function setSettings(database: DataSource, personId: string, settings: Settings): Promise<Settings> {
  await database.manager.upsert(SettingsRow, { personId, settings }, ['personId'])
  return settings
}
