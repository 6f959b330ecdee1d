// Codes that an administrator gives to somebody, who sets a password with it, once. The database has the digest only.
import { createHash, randomBytes, timingSafeEqual } from 'node:crypto'
import { type EntityManager, IsNull } from 'typeorm'
import type { GivenCode, Person } from '../../core/contract'
import { say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { Refusal } from '../refusal'
import { PersonCodeRow, PersonRow } from './entity'
import type { CountGuess } from './limits'
import { refusePassword, setPassword, shown } from './service'

/** How long a code can be used. */
export const codeDays = 7

/** Letters and digits that nobody takes for each other. */
const signs = '0123456789ABCDEFGHJKMNPQRSTVWXYZ'

/** 80 bits, in four groups of four. */
function newCode(): string {
  const letters = Array.from(randomBytes(16), (byte) => signs[byte & 31])
  return [0, 4, 8, 12].map((at) => letters.slice(at, at + 4).join('')).join('-')
}

/** As it was given, however it was typed. */
const plain = (typed: string) =>
  typed
    .toUpperCase()
    .replace(/O/g, '0')
    .replace(/[IL]/g, '1')
    .replace(/[^0-9A-Z]/g, '')
const digestOf = (typed: string): Buffer => createHash('sha256').update(plain(typed)).digest()

/** Gives somebody a code, in the place of an earlier one; the password that they have counts until it is used. */
export async function giveCode(
  manager: EntityManager,
  by: string | null,
  person: { id: string; handle: string; name: string },
): Promise<GivenCode> {
  const code = newCode()
  const now = new Date()
  const until = new Date(now.getTime() + codeDays * 86_400_000)
  await manager.upsert(
    PersonCodeRow,
    { personId: person.id, codeHash: digestOf(code), until, givenBy: by, givenAt: now, mailId: null },
    ['personId'],
  )
  await auditing(manager, { personId: by, what: 'code given', facts: { to: person.handle, until } })
  return { id: person.id, handle: person.handle, name: person.name, code, until: until.toISOString(), sentTo: null }
}

/**
 * Sets a password with a code, which is used up by it.
 * @throws Refusal wrong-code, invalid for a password that would soon be guessed, too-many-attempts
 */
export async function passwordByCode(
  manager: EntityManager,
  count: CountGuess,
  given: {
    handle: string
    code: string
    password: string
    address: string
    /** What is asked besides. @throws Refusal */
    besides: (person: Person) => Promise<void>
  },
): Promise<Person> {
  const counted = await count({ handle: given.handle, address: given.address, known: null })
  const row = await manager.findOneBy(PersonRow, { handle: given.handle, closedAt: IsNull() })
  const kept =
    row && (await manager.findOne(PersonCodeRow, { where: { personId: row.id }, lock: { mode: 'pessimistic_write' } }))
  const right = timingSafeEqual(digestOf(given.code), kept?.codeHash ?? createHash('sha256').digest())
  if (!row || !kept || !right) {
    await counted.wrong()
    throw new Refusal('wrong-password', say('problem.this-code-is-not-of-this-name'), {
      fields: { code: say('problem.this-code-is-not-of-this-name') },
    })
  }
  if (kept.until < new Date())
    throw new Refusal('wrong-password', say('problem.this-code-has-ended-ask-for-another'), {
      fields: { code: say('problem.this-code-has-ended-ask-for-another') },
    })
  const person = shown(row)
  refusePassword(given.password, person.handle)
  try {
    await given.besides(person)
  } catch (error) {
    if (error instanceof Refusal && error.problem.type === 'wrong-password') await counted.wrong()
    throw error
  }
  await counted.right()
  await setPassword(manager, person, given.password)
  await manager.delete(PersonCodeRow, { personId: row.id })
  await auditing(manager, { personId: row.id, what: 'code used', facts: { address: given.address } })
  return person
}
