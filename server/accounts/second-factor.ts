// A second factor: a code that a device of the person's makes anew every half minute (RFC 6238), and codes to be used once
// in its place. The secret is locked with a key outside the database; of the codes it has digests.
import { createHash, randomBytes } from 'node:crypto'
import { Secret, TOTP } from 'otpauth'
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { BegunSecondFactor, Person, SecondFactor } from '../../core/contract'
import { say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { absent, Refusal } from '../refusal'
import { OtherSeal, type Seal } from '../seal'
import { select } from '../sql/rows'
import { PersonRow, RecoveryCodeRow, SecondFactorRow } from './entity'

/** RFC 6238, as programs that make codes have it: SHA-1, six digits, half a minute. */
const form = { algorithm: 'SHA1', digits: 6, period: 30 } as const
/** Clocks differ: one code before and one after the present one are right, too (RFC 6238, 5.2). */
const around = 1
const codes = 10
const purpose = (personId: string) => `second factor ${personId}`
const totp = (handle: string, secret: string) =>
  new TOTP({ issuer: 'Jaula', label: handle, secret: Secret.fromBase32(secret), ...form })
const plain = (typed: string) => typed.toLowerCase().replace(/[^a-z0-9]/g, '')
const digestOf = (code: string): Buffer => createHash('sha256').update(plain(code)).digest()

export async function secondFactorOf(manager: EntityManager, personId: string): Promise<SecondFactor> {
  const row = await manager.findOneBy(SecondFactorRow, { personId })
  if (!row?.confirmedAt) return { since: null, codesLeft: 0 }
  return { since: row.confirmedAt.toISOString(), codesLeft: await manager.countBy(RecoveryCodeRow, { personId }) }
}

/** Makes a secret, which counts from when a code of it was entered. @throws Refusal invalid */
export async function beginSecondFactor(
  manager: EntityManager,
  seal: Seal | null,
  person: Person,
): Promise<BegunSecondFactor> {
  if (!seal) throw new Refusal('invalid', say('problem.jaula-has-no-key'))
  const there = await manager.findOneBy(SecondFactorRow, { personId: person.id })
  if (there?.confirmedAt) throw new Refusal('invalid', say('problem.there-is-a-second-factor'))
  // 160 bits, as RFC 4226 recommends (section 4).
  const secret = new Secret({ size: 20 }).base32
  await manager.upsert(
    SecondFactorRow,
    { personId: person.id, secret: seal.lock(secret, purpose(person.id)), confirmedAt: null, usedStep: null },
    ['personId'],
  )
  return { secret, address: totp(person.handle, secret).toString() }
}

/** Codes to be used once, in the place of those that there were. */
async function newCodes(manager: EntityManager, personId: string): Promise<string[]> {
  await manager.delete(RecoveryCodeRow, { personId })
  // 50 bits each, in the letters of Base32 (RFC 4648, section 6).
  const made = Array.from({ length: codes }, () =>
    Array.from(randomBytes(10), (byte) => 'abcdefghijklmnopqrstuvwxyz234567'[byte & 31]).join(''),
  )
  await manager.insert(
    RecoveryCodeRow,
    made.map((code) => ({ personId, codeHash: digestOf(code) })),
  )
  return made.map((code) => `${code.slice(0, 5)}-${code.slice(5)}`)
}

/** @throws Refusal wrong-password where it is none of it */
export async function confirmSecondFactor(
  manager: EntityManager,
  seal: Seal | null,
  person: Person,
  code: string,
): Promise<string[]> {
  const row = await manager.findOne(SecondFactorRow, {
    where: { personId: person.id },
    lock: { mode: 'pessimistic_write' },
  })
  if (!row || row.confirmedAt) throw absent()
  if (!(await takeStep(manager, seal, row, person.handle, code))) throw wrongCode()
  await manager.update(SecondFactorRow, { personId: person.id }, { confirmedAt: new Date() })
  await auditing(manager, { personId: person.id, what: 'second factor set' })
  return newCodes(manager, person.id)
}

/** Of somebody who has their device no more. @throws Refusal not-found */
export async function endSecondFactorOf(manager: EntityManager, by: string, personId: string): Promise<void> {
  if (!(await manager.existsBy(PersonRow, { id: personId }))) throw absent()
  await forgetSecondFactor(manager, by, personId)
}

export async function forgetSecondFactor(manager: EntityManager, by: string, personId: string): Promise<void> {
  await manager.delete(RecoveryCodeRow, { personId })
  const { affected } = await manager.delete(SecondFactorRow, { personId })
  if (affected) await auditing(manager, { personId: by, what: 'second factor ended', facts: { of: personId } })
}

/** @throws Refusal not-found where there is no second factor */
export async function renewCodes(manager: EntityManager, person: Person): Promise<string[]> {
  const row = await manager.findOneBy(SecondFactorRow, { personId: person.id })
  if (!row?.confirmedAt) throw absent()
  await auditing(manager, { personId: person.id, what: 'recovery codes made' })
  return newCodes(manager, person.id)
}

const wrongCode = () =>
  new Refusal('wrong-password', say('problem.this-code-is-not-right'), {
    fields: { second: say('problem.this-code-is-not-right') },
  })

/** Whether a code is of the secret now; each counts once (RFC 6238, 5.2). */
async function takeStep(
  manager: EntityManager,
  seal: Seal | null,
  row: SecondFactorRow,
  handle: string,
  code: string,
): Promise<boolean> {
  let secret: string
  try {
    if (!seal) return false
    secret = seal.open(row.secret, purpose(row.personId))
  } catch (error) {
    // Brought back where the key is another one: the codes to be used once still count.
    if (error instanceof OtherSeal) return false
    throw error
  }
  const token = code.replace(/\s/g, '')
  const now = Date.now()
  const delta = /^\d{6}$/.test(token) ? totp(handle, secret).validate({ token, timestamp: now, window: around }) : null
  if (delta === null) return false
  const step = Math.floor(now / 1000 / form.period) + delta
  if (row.usedStep !== null && step <= Number(row.usedStep)) return false
  await manager.update(SecondFactorRow, { personId: row.personId }, { usedStep: String(step) })
  return true
}

/**
 * Asks for the second factor where somebody has one.
 * @throws Refusal second-factor where no code was given, wrong-password where it is not right
 */
export async function requireSecond(
  manager: EntityManager,
  seal: Seal | null,
  person: Person,
  code: string | undefined,
): Promise<void> {
  const row = await manager.findOne(SecondFactorRow, {
    where: { personId: person.id },
    lock: { mode: 'pessimistic_write' },
  })
  if (!row?.confirmedAt) return
  if (!code?.trim())
    throw new Refusal('second-factor', say('problem.enter-the-second-code'), {
      fields: { second: say('problem.enter-the-second-code') },
    })
  if (await takeStep(manager, seal, row, person.handle, code)) return
  const used = await select(
    manager,
    z.object({ person_id: z.string() }),
    'delete from recovery_code where person_id = $1 and code_hash = $2 returning person_id',
    [person.id, digestOf(code)],
  )
  if (!used.length) throw wrongCode()
  await auditing(manager, { personId: person.id, what: 'recovery code used' })
}
