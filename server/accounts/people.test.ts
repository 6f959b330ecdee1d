// Accounts from beginning to end: added by a list, entered with a code, changed, closed with what is handed over.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type {
  Access,
  Account,
  Draft,
  GivenCode,
  Group,
  Person,
  Problem,
  Reach,
  Session,
  Share,
} from '../../core/contract'
import { type Ask, done, openTestOffice, password, send, signInAs, signOfLife, type TestOffice } from '../testing'
import { addPerson } from './service'

let office: TestOffice
let admin: Awaited<ReturnType<typeof signInAs>>['ask']
beforeAll(async () => {
  office = await openTestOffice()
  await addPerson(office.database.manager, { handle: 'ada', name: 'Ada', password, administrator: true })
  admin = (await signInAs(office, 'ada')).ask
})
afterAll(() => office.close())

const refused = async (answer: Promise<Response>): Promise<Problem> => {
  const response = await answer
  expect(response.status).toBeGreaterThanOrEqual(400)
  return (await response.json()) as Problem
}
const people = () => done<Account[]>(admin('/api/people'))
const accountOf = async (id: string) => (await people()).find((one) => one.id === id)!
const add = (handle: string, more: object = {}) =>
  done<GivenCode[]>(send(admin, '/api/people', 'POST', { people: [{ handle, name: handle, ...more }] })).then(
    ([one]) => one!,
  )
const enter = (handle: string, code: string, next = 'windlass and sluice', from = '10.0.0.1') =>
  fetch(`${office.url}/api/code`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-forwarded-for': from },
    body: JSON.stringify({ handle, code, password: next }),
  })
const cookieOf = (answer: Response) =>
  answer.headers
    .getSetCookie()
    .find((one) => one.startsWith('jaula_session'))!
    .split(';')[0]!
/** Somebody new who has entered with their code. */
async function newcomer(handle: string) {
  const { id, code } = await add(handle)
  const cookie = cookieOf(await enter(handle, code))
  const ask: Ask = (path, init = {}) => fetch(office.url + path, { ...init, headers: { cookie, ...init.headers } })
  return { id, ask }
}

describe('a code', () => {
  test('sets a password once, however it is typed, and signs in; before it nobody signs in', async () => {
    const given = await add('cora')
    expect(given.code).toMatch(/^([0-9A-HJKMNP-TV-Z]{4}-){3}[0-9A-HJKMNP-TV-Z]{4}$/)
    expect(await accountOf(given.id)).toMatchObject({ hasPassword: false, codeUntil: given.until, signedInAt: null })
    expect((await signInAs(office, 'cora')).answer.status).toBe(403)
    const weak = await refused(enter('cora', given.code, 'cora cora cora'))
    expect(Object.keys(weak.fields!)).toEqual(['password'])
    const typed = ` ${given.code.toLowerCase().replaceAll('-', ' ').replaceAll('0', 'o').replaceAll('1', 'l')}`
    const entered = await enter('Cora', typed)
    expect(((await entered.json()) as Session).person).toMatchObject({ id: given.id, handle: 'cora' })
    expect((await enter('cora', given.code)).status).toBe(403)
    expect(await accountOf(given.id)).toMatchObject({ hasPassword: true, codeUntil: null, sessions: 1 })
    expect((await accountOf(given.id)).signedInAt).not.toBeNull()
  })
  test('of two that were given the second counts; the password before it does until it is used, and then nowhere', async () => {
    const { id, ask } = await newcomer('dora')
    const first = await done<GivenCode>(send(admin, `/api/people/${id}/code`, 'POST', {}))
    const second = await done<GivenCode>(send(admin, `/api/people/${id}/code`, 'POST', {}))
    expect((await enter('dora', first.code)).status).toBe(403)
    expect((await ask('/api/shares')).status).toBe(200)
    expect((await enter('dora', second.code, 'paddle and towpath')).status).toBe(200)
    expect((await ask('/api/shares')).status).toBe(401)
  })
  test('ends by itself, and says so; it is in no table', async () => {
    const { id, code } = await add('edda')
    const kept = JSON.stringify(await office.owner.query('select * from person_code'))
    expect(kept).not.toContain(code)
    await office.owner.query(`update person_code set until = now() - interval '1 minute' where person_id = $1`, [id])
    expect((await refused(enter('edda', code))).title).toBe(
      'This code can no longer be used. Ask an administrator for another.',
    )
  })
  test('is guessed at as rarely as a password', async () => {
    await add('fenn')
    const answers: number[] = []
    for (let at = 0; at < 8; at++) answers.push((await enter('fenn', `0000-0000-0000-000${at}`)).status)
    expect(answers.slice(0, 4)).toEqual([403, 403, 403, 403])
    expect(answers.at(-1)).toBe(429)
  })
})

describe('a list of people', () => {
  test('is added as a whole or not at all, with groups made as they are named', async () => {
    const before = (await people()).length
    const some = [
      { handle: 'gwen', name: 'Gwen', groups: ['Field'] },
      { handle: 'hal', name: 'Hal', groups: ['field', 'Survey'] },
      { handle: 'ida', name: 'Ida' },
    ]
    const problem = await refused(send(admin, '/api/people', 'POST', { people: some }))
    expect(Object.keys(problem.fields!)).toEqual(['people.2.handle'])
    expect((await people()).length).toBe(before)
    const given = await done<GivenCode[]>(send(admin, '/api/people', 'POST', { people: some.slice(0, 2) }))
    expect(new Set(given.map(({ code }) => code)).size).toBe(2)
    const groups = await done<Group[]>(admin('/api/groups'))
    expect(groups.map(({ name, people: those }) => [name, those.map((one) => one.handle)])).toEqual([
      ['Field', ['gwen', 'hal']],
      ['Survey', ['hal']],
    ])
    expect((await accountOf(given[1]!.id)).groups).toEqual(['Field', 'Survey'])
  })
  test('two lists at once with the same person in them: one of them is refused', async () => {
    const answers = await Promise.all(
      Array.from({ length: 4 }, () => send(admin, '/api/people', 'POST', { people: [{ handle: 'ivo', name: 'Ivo' }] })),
    )
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 400, 400, 400])
  })
})

describe('closing an account', () => {
  test('signs out everywhere at once, hands over what it may do and has not saved, and is undone', async () => {
    const leaver = await newcomer('jon')
    const heir = await newcomer('kay')
    const share = await done<Share>(send(admin, '/api/shares', 'POST', { name: 'Tenders', description: 'Bids' }))
    const grant = (personId: string, role: string) =>
      done<Access>(send(admin, `/api/access/${share.id}/grants`, 'POST', { subject: { personId }, role, until: null }))
    await grant(leaver.id, 'manage')
    await grant(heir.id, 'view')
    const draft = randomUUID()
    const written = { ...signOfLife(draft), opening: 'The bid of the northern reach' }
    await done(send(leaver.ask, `/api/drafts/${draft}`, 'PUT', written))
    expect((await accountOf(leaver.id)).works).toBe(1)
    await done(send(admin, `/api/people/${leaver.id}/close`, 'POST', { handTo: heir.id }))
    expect((await leaver.ask('/api/shares')).status).toBe(401)
    expect(await done<Share[]>(heir.ask('/api/shares'))).toMatchObject([{ name: 'Tenders', role: 'manage' }])
    expect((await done<Draft[]>(heir.ask('/api/drafts'))).map(({ id }) => id)).toEqual([draft])
    expect(await accountOf(leaver.id)).toMatchObject({ works: 0, sessions: 0 })
    expect((await accountOf(leaver.id)).closedAt).not.toBeNull()
    // A code is for an open account.
    expect((await send(admin, `/api/people/${leaver.id}/code`, 'POST', {})).status).toBe(400)
    await done(send(admin, `/api/people/${leaver.id}/reopen`, 'POST'))
    const again = await fetch(`${office.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ handle: 'jon', password: 'windlass and sluice' }),
    })
    expect(again.status).toBe(200)
  })
  test('leaves no share without somebody who manages it, and Jaula not without an administrator', async () => {
    const only = await newcomer('lena')
    const share = await done<Share>(send(admin, '/api/shares', 'POST', { name: 'Levels', description: '' }))
    const give = (personId: string, role: string) =>
      send(admin, `/api/access/${share.id}/grants`, 'POST', { subject: { personId }, role, until: null })
    await done(give(only.id, 'manage'))
    const me = (await people()).find(({ handle }) => handle === 'ada')!
    await done(
      send(only.ask, `/api/access/${share.id}/leave`, 'POST').then(async (answer) => {
        // Two manage it: one may go. Given back right away.
        expect(answer.status).toBe(204)
        return give(only.id, 'manage')
      }),
    )
    await done(send(admin, `/api/access/${share.id}/leave`, 'POST'))
    expect((await refused(send(only.ask, `/api/access/${share.id}/leave`, 'POST'))).type).toBe('last-manager')
    const closing = await refused(send(admin, `/api/people/${only.id}/close`, 'POST', { handTo: null }))
    expect([closing.type, closing.title]).toEqual([
      'last-manager',
      'Nobody would manage Levels any more. Give somebody else that role first.',
    ])
    expect((await only.ask('/api/shares')).status).toBe(200)
    await done(send(admin, `/api/people/${only.id}/close`, 'POST', { handTo: me.id }))
    expect((await done<Share[]>(admin('/api/shares'))).find(({ id }) => id === share.id)?.role).toBe('manage')
    const lowered = { handle: me.handle, name: me.name, administrator: false }
    expect((await refused(send(admin, `/api/people/${me.id}`, 'PUT', lowered))).type).toBe('last-manager')
    expect((await send(admin, `/api/people/${me.id}/close`, 'POST', { handTo: null })).status).toBe(403)
  })
  test('two managers who leave at once: one of them stays', async () => {
    const [one, other] = [await newcomer('mia'), await newcomer('nils')]
    const share = await done<Share>(send(admin, '/api/shares', 'POST', { name: 'Weirs', description: '' }))
    for (const { id } of [one, other])
      await done(
        send(admin, `/api/access/${share.id}/grants`, 'POST', {
          subject: { personId: id },
          role: 'manage',
          until: null,
        }),
      )
    await done(send(admin, `/api/access/${share.id}/leave`, 'POST'))
    const answers = await Promise.all([one, other].map(({ ask }) => send(ask, `/api/access/${share.id}/leave`, 'POST')))
    expect(answers.map(({ status }) => status).sort()).toEqual([204, 409])
  })
})

describe('groups', () => {
  test('give together what each was given, and a group that would lie in itself is refused', async () => {
    const olga = await newcomer('olga')
    const make = (name: string, members: object[]) =>
      done<{ id: string }>(send(admin, '/api/groups', 'POST', { name, members }))
    const inner = await make('Inner', [{ personId: olga.id }])
    const outer = await make('Outer', [{ groupId: inner.id }])
    expect(
      (
        await refused(
          send(admin, `/api/groups/${inner.id}`, 'PUT', { name: 'Inner', members: [{ groupId: outer.id }] }),
        )
      ).title,
    ).toBe('A group cannot belong to itself, not even through another group.')
    expect((await refused(send(admin, '/api/groups', 'POST', { name: 'outer', members: [] }))).type).toBe('name-taken')
    const share = await done<Share>(send(admin, '/api/shares', 'POST', { name: 'Towpaths', description: '' }))
    await done(
      send(admin, `/api/access/${share.id}/grants`, 'POST', {
        subject: { groupId: outer.id },
        role: 'edit',
        until: null,
      }),
    )
    expect((await done<Share[]>(olga.ask('/api/shares'))).map(({ name, role }) => [name, role])).toEqual([
      ['Towpaths', 'edit'],
    ])
    const reach = await done<Reach>(admin(`/api/people/${olga.id}/reach`))
    expect(reach.realms).toMatchObject([
      { share: 'Towpaths', role: 'edit', because: [{ at: 'Towpaths', through: ['Outer', 'Inner'] }] },
    ])
    await done(send(admin, `/api/groups/${inner.id}`, 'PUT', { name: 'Inner', members: [] }))
    expect(await done<Share[]>(olga.ask('/api/shares'))).toEqual([])
    await done(send(admin, `/api/groups/${outer.id}`, 'DELETE'))
    expect((await done<Access>(admin(`/api/access/${share.id}`))).grants).toHaveLength(1)
  })
  test('that alone manage a share cannot end, nor lose their last member', async () => {
    const paul = await newcomer('paul')
    const group = await done<{ id: string }>(
      send(admin, '/api/groups', 'POST', { name: 'Records', members: [{ personId: paul.id }] }),
    )
    const share = await done<Share>(send(admin, '/api/shares', 'POST', { name: 'Records', description: '' }))
    await done(
      send(admin, `/api/access/${share.id}/grants`, 'POST', {
        subject: { groupId: group.id },
        role: 'manage',
        until: null,
      }),
    )
    await done(send(admin, `/api/access/${share.id}/leave`, 'POST'))
    for (const attempt of [
      send(admin, `/api/groups/${group.id}`, 'DELETE'),
      send(admin, `/api/groups/${group.id}`, 'PUT', { name: 'Records', members: [] }),
    ])
      expect((await refused(attempt)).type).toBe('last-manager')
    expect((await done<Share[]>(paul.ask('/api/shares'))).map(({ role }) => role)).toEqual(['manage'])
  })
})

test('what was done to accounts is in the audit log, with nothing secret', async () => {
  const { id, code } = await add('quin')
  await done(send(admin, `/api/people/${id}`, 'PUT', { handle: 'quinn', name: 'Quinn', administrator: false }))
  expect(
    (await refused(send(admin, `/api/people/${id}`, 'PUT', { handle: 'ida', name: 'Q', administrator: false }))).fields,
  ).toHaveProperty('handle')
  const log = await done<{ what: string; person: string; facts: object }[]>(admin('/api/audit-log'))
  expect(log.slice(0, 3).map(({ what, person }) => [what, person])).toEqual([
    ['account changed', 'Ada'],
    ['code given', 'Ada'],
    ['person added', 'Ada'],
  ])
  expect(JSON.stringify(log)).not.toContain(code)
  expect((await done<{ people: Person[] }>(admin('/api/directory'))).people.map(({ handle }) => handle)).toContain(
    'quinn',
  )
})

test('somebody changes their own name, which is shown with what they saved before', async () => {
  const { ask, id } = await newcomer('rhea')
  const now = await done<Session>(send(ask, '/api/me', 'PUT', { name: '  Rhea Sunderland ' }))
  expect(now.person).toMatchObject({ id, name: 'Rhea Sunderland' })
  expect((await done<Session>(ask('/api/session'))).person?.name).toBe('Rhea Sunderland')
  expect(Object.keys((await refused(send(ask, '/api/me', 'PUT', { name: ' ' }))).fields!)).toEqual(['name'])
  expect((await accountOf(id)).name).toBe('Rhea Sunderland')
})
