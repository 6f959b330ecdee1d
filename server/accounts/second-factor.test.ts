// The second factor, with codes as a device of the person's makes them.
import { randomBytes } from 'node:crypto'
import { URI } from 'otpauth'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { BegunSecondFactor, Problem, SecondFactor } from '../../core/contract'
import { Seal } from '../seal'
import { type Ask, done, openTestOffice, password, send, signInAs, type TestOffice } from '../testing'
import { addPerson } from './service'

let office: TestOffice
const key = randomBytes(32)
beforeAll(async () => {
  office = await openTestOffice({ seal: new Seal(key) })
  await addPerson(office.database.manager, { handle: 'ada', name: 'Ada', password, administrator: true })
})
afterAll(() => office.close())

const enter = (handle: string, second?: string, secret = password) =>
  fetch(`${office.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ handle, password: secret, second }),
  })
const refusal = async (answer: Promise<Response>) => {
  const response = await answer
  const { type, fields } = (await response.json()) as Problem
  return [response.status, type, Object.keys(fields ?? {})]
}
/** A device that makes codes: it knows the address alone. @param from the present half minute, in half minutes */
const device = (address: string) => {
  const made = URI.parse(address)
  return (from = 0) => ('period' in made ? made.generate({ timestamp: Date.now() + from * 30_000 }) : '')
}
const begin = (ask: Ask) => done<BegunSecondFactor>(send(ask, '/api/second-factor', 'POST', { password }))
const confirm = async (ask: Ask, second: string) =>
  (await done<{ codes: string[] }>(send(ask, '/api/second-factor', 'PUT', { second }))).codes

describe('a second factor', () => {
  test('counts when a code of it was entered, is asked for then, and each code counts once', async () => {
    const { ask } = await signInAs(office, 'ida')
    expect(await refusal(send(ask, '/api/second-factor', 'POST', { password: 'not it' }))).toEqual([
      403,
      'wrong-password',
      ['password'],
    ])
    const { address, secret } = await begin(ask)
    expect(address).toMatch(/^otpauth:\/\/totp\/Jaula:ida\?/)
    expect(new URL(address).searchParams.get('secret')).toBe(secret)
    // Begun only, it is asked for by nobody.
    expect((await enter('ida')).status).toBe(200)
    const code = device(address)
    expect(await refusal(send(ask, '/api/second-factor', 'PUT', { second: '12345' }))).toEqual([
      403,
      'wrong-password',
      ['second'],
    ])
    const codes = await confirm(ask, code(-1))
    expect(new Set(codes).size).toBe(10)
    expect(await done<SecondFactor>(ask('/api/second-factor'))).toMatchObject({ codesLeft: 10 })
    expect(await refusal(enter('ida'))).toEqual([403, 'second-factor', ['second']])
    // The password is asked for first: nobody learns from a code whether there is a second factor.
    expect(await refusal(enter('ida', code(), 'not the password'))).toEqual([403, 'wrong-password', ['password']])
    const now = code(1)
    expect((await enter('ida', `${now.slice(0, 3)} ${now.slice(3)}`)).status).toBe(200)
    expect(await refusal(enter('ida', now))).toEqual([403, 'wrong-password', ['second']])
    expect((await send(ask, '/api/second-factor', 'POST', { password })).status).toBe(400)
  })
  test('is stood in for by each recovery code once; new ones end the earlier', async () => {
    const { ask } = await signInAs(office, 'priya')
    const { address } = await begin(ask)
    const codes = await confirm(ask, device(address)())
    expect((await enter('priya', codes[0]!.toUpperCase().replace('-', ' '))).status).toBe(200)
    expect(await refusal(enter('priya', codes[0]))).toEqual([403, 'wrong-password', ['second']])
    const { codes: renewed } = await done<{ codes: string[] }>(
      send(ask, '/api/second-factor/codes', 'POST', { password }),
    )
    expect(await refusal(enter('priya', codes[1]))).toEqual([403, 'wrong-password', ['second']])
    const answers = await Promise.all(Array.from({ length: 3 }, () => enter('priya', renewed[0])))
    expect(answers.filter(({ status }) => status === 200)).toHaveLength(1)
    const kept = JSON.stringify(await office.owner.query('select * from recovery_code'))
    for (const code of renewed) expect(kept).not.toContain(code)
  })
  test('is guessed at as rarely as a password, by whoever knows that', async () => {
    const { ask } = await signInAs(office, 'tomas')
    await confirm(ask, device((await begin(ask)).address)())
    const answers: number[] = []
    for (let at = 0; at < 8; at++) answers.push((await enter('tomas', String(100_000 + at))).status)
    expect(answers.slice(0, 4)).toEqual([403, 403, 403, 403])
    expect(answers.at(-1)).toBe(429)
  })
  test('is not guessed at more often by coming without a code in between, nor with a code for a password', async () => {
    const { manager } = office.database
    const { id } = await addPerson(manager, { handle: 'edda', name: 'Edda', password, administrator: false })
    const { ask } = await signInAs(office, 'edda')
    await confirm(ask, device((await begin(ask)).address)())
    const answers: number[] = []
    for (let at = 0; at < 8; at++)
      answers.push((await enter('edda', String(200_000 + at))).status, (await enter('edda')).status)
    expect(answers.slice(-4)).toEqual([429, 429, 429, 429])
    await office.owner.query('delete from guess_limit')
    const admin = (await signInAs(office, 'ada')).ask
    const { code } = await done<{ code: string }>(send(admin, `/api/people/${id}/code`, 'POST', {}))
    const set = async (second: string) =>
      (
        await fetch(`${office.url}/api/code`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ handle: 'edda', code, password: 'windlass and sluice', second }),
        })
      ).status
    const tried: number[] = []
    for (let at = 0; at < 8; at++) tried.push(await set(String(300_000 + at)))
    expect([tried[0], tried.at(-1)]).toEqual([403, 429])
  })
  test('is ended by who has it, with the password, and by an administrator for who lost their device', async () => {
    const { ask } = await signInAs(office, 'ben')
    await confirm(ask, device((await begin(ask)).address)())
    expect((await send(ask, '/api/second-factor/end', 'POST', { password: 'not it' })).status).toBe(403)
    expect((await send(ask, '/api/second-factor/end', 'POST', { password })).status).toBe(204)
    expect((await enter('ben')).status).toBe(200)
    await confirm(ask, device((await begin(ask)).address)(1))
    expect((await enter('ben')).status).toBe(403)
    const admin = (await signInAs(office, 'ada')).ask
    expect((await send(admin, `/api/people/${office.people.ben}/second-factor`, 'DELETE')).status).toBe(204)
    expect((await enter('ben')).status).toBe(200)
    const { what } = (await done<{ what: string }[]>(admin('/api/audit-log'))).find((one) =>
      one.what.startsWith('second'),
    )!
    expect(what).toBe('second factor ended')
  })
  test('is asked for, too, of who sets a password with a code; the code is not used up by that', async () => {
    const { manager } = office.database
    const { id } = await addPerson(manager, { handle: 'cora', name: 'Cora', password, administrator: false })
    const { ask } = await signInAs(office, 'cora')
    const codes = await confirm(ask, device((await begin(ask)).address)())
    const admin = (await signInAs(office, 'ada')).ask
    const { code } = await done<{ code: string }>(send(admin, `/api/people/${id}/code`, 'POST', {}))
    const set = (second?: string) =>
      fetch(`${office.url}/api/code`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ handle: 'cora', code, password: 'windlass and sluice', second }),
      })
    expect(await refusal(set())).toEqual([403, 'second-factor', ['second']])
    expect(await refusal(set('nonsense'))).toEqual([403, 'wrong-password', ['second']])
    expect((await enter('cora', codes[1])).status).toBe(200)
    expect((await set(codes[0])).status).toBe(200)
  })
  test('is locked in the database; where the key is another one, recovery codes still count', async () => {
    const { manager } = office.database
    await addPerson(manager, { handle: 'dora', name: 'Dora', password, administrator: false })
    const { ask } = await signInAs(office, 'dora')
    const { address, secret } = await begin(ask)
    const codes = await confirm(ask, device(address)())
    const [row] = await office.owner.query(
      `select s.secret from second_factor s join person p on p.id = s.person_id where p.handle = 'dora'`,
    )
    expect(row.secret.toString('latin1')).not.toContain(secret)
    await office.owner.query(
      `update second_factor s set secret = $1 from person p where p.id = s.person_id and p.handle = 'dora'`,
      [new Seal(randomBytes(32)).lock(secret, 'other')],
    )
    expect((await enter('dora', device(address)(1))).status).toBe(403)
    expect((await enter('dora', codes[3])).status).toBe(200)
  })
})

test('a Jaula that has no key to lock a secret with says so', async () => {
  const bare = await openTestOffice()
  const { ask } = await signInAs(bare, 'ida')
  const answer = await send(ask, '/api/second-factor', 'POST', { password })
  expect([answer.status, ((await answer.json()) as Problem).title]).toEqual([
    400,
    'This Jaula has no key to lock a secret with. Whoever runs it sets JAULA_KEY_FILE.',
  ])
  await bare.close()
})
