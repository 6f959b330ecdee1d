// What is given comes to the Desk of who gets it; what is asked to the Desks of who may give it.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Entry, RightsNews, Saved } from '../../core/contract'
import { type Ask, done, openTestOffice, send, signInAs, type TestOffice } from '../testing'
import { addGroup, joinGroup } from './groups'

let office: TestOffice
const asks = {} as Record<'ida' | 'priya' | 'tomas' | 'ben', Ask>
beforeAll(async () => {
  office = await openTestOffice()
  for (const handle of ['ida', 'priya', 'tomas', 'ben'] as const) asks[handle] = (await signInAs(office, handle)).ask
})
afterAll(() => office.close())

const newsOf = (who: keyof typeof asks) => done<RightsNews>(asks[who]('/api/rights-news'))
const aFolder = () =>
  done<Entry>(send(asks.priya, '/api/folders', 'POST', { shareId: office.share, folderId: null, name: randomUUID() }))
const aFile = (folderId: string) =>
  done<Saved>(
    asks.priya(`/api/files?shareId=${office.share}&folderId=${folderId}&name=${randomUUID()}.txt&key=${randomUUID()}`, {
      method: 'POST',
      body: 'x',
    }),
  )
const give = (id: string, subject: object, role: string, words = '') =>
  done(send(asks.priya, `/api/access/${id}/grants`, 'POST', { subject, role, until: null, words }))

describe('what was given', () => {
  test('is news until it was looked at, by each of a group apart, and never for who gave it', async () => {
    const { manager } = office.database
    const group = await addGroup(manager, 'Field')
    for (const handle of ['ben', 'ida', 'priya'] as const)
      await joinGroup(manager, group, { personId: office.people[handle] })
    const folder = await aFolder()
    await give(folder.id, { groupId: group }, 'edit', 'For the survey of May.')
    const [news] = (await newsOf('ben')).given
    expect(news).toMatchObject({
      of: { id: folder.id, kind: 'folder', name: folder.name },
      role: 'edit',
      by: 'priya',
      words: 'For the survey of May.',
      group: 'Field',
    })
    expect((await newsOf('priya')).given).toEqual([])
    // Somebody whose it is not notes nothing.
    await done(send(asks.tomas, '/api/rights-news/seen', 'POST', { given: [news!.id], refused: [] }))
    await done(send(asks.ben, '/api/rights-news/seen', 'POST', { given: [news!.id, randomUUID()], refused: [] }))
    expect((await newsOf('ben')).given).toEqual([])
    expect((await newsOf('ida')).given).toHaveLength(1)
    await give(folder.id, { groupId: group }, 'view', 'Only until June.')
    expect((await newsOf('ben')).given).toMatchObject([{ role: 'view', words: 'Only until June.' }])
    await done(send(asks.ben, '/api/rights-news/seen', 'POST', { given: [news!.id], refused: [] }))
    expect((await newsOf('ben')).given).toEqual([])
    expect(await office.owner.query('select person_id from grant_seen')).toEqual([{ person_id: office.people.ben }])
  })
  test('is no news when it ended, was taken away, or lies in what was removed', async () => {
    const folder = await aFolder()
    const { file } = await aFile(folder.id)
    await give(folder.id, { personId: office.people.tomas }, 'edit')
    await give(file.id, { personId: office.people.tomas }, 'manage')
    expect((await newsOf('tomas')).given.map(({ of }) => of.id).sort()).toEqual([folder.id, file.id].sort())
    await office.owner.query(`update access_grant set until = now() - interval '1 minute' where realm_id = $1`, [
      file.id,
    ])
    await done(
      send(asks.priya, '/api/acts', 'POST', { id: randomUUID(), what: 'remove', changes: [{ id: folder.id }] }),
    )
    expect((await newsOf('tomas')).given).toEqual([])
  })
})

describe('what is asked', () => {
  test('comes to who manages it, once, with the latest words, and is given by one of them', async () => {
    const folder = await aFolder()
    const ask = (words: string, role = 'edit') =>
      send(asks.tomas, `/api/access/${folder.id}/requests`, 'POST', { role, words })
    await done(ask('Please.'))
    await done(ask('For the minutes.'))
    const { asked } = await newsOf('priya')
    expect(asked).toMatchObject([
      { of: { id: folder.id }, person: 'tomas', role: 'edit', has: 'view', words: 'For the minutes.' },
    ])
    expect((await newsOf('ida')).asked).toEqual([])
    const answer = (who: keyof typeof asks, yes: boolean) =>
      send(asks[who], `/api/access/requests/${asked[0]!.id}`, 'POST', { give: yes })
    // Who may not give it is refused; to who may not even see it it is not there.
    expect((await answer('ida', true)).status).toBe(403)
    expect((await answer('ben', true)).status).toBe(404)
    const both = await Promise.all([answer('priya', true), answer('priya', true)])
    expect(both.map(({ status }) => status).sort()).toEqual([204, 404])
    expect((await newsOf('tomas')).given).toMatchObject([{ of: { id: folder.id }, role: 'edit', by: 'priya' }])
    expect((await newsOf('priya')).asked).toEqual([])
    expect((await ask('Again')).status).toBe(400)
  })
  test('and not given is told to who asked, who may ask again; had meanwhile, it is asked no more', async () => {
    const folder = await aFolder()
    const ask = () => done(send(asks.ida, `/api/access/${folder.id}/requests`, 'POST', { role: 'manage', words: '' }))
    await ask()
    const [first] = (await newsOf('priya')).asked
    await done(send(asks.priya, `/api/access/requests/${first!.id}`, 'POST', { give: false }))
    const { refused } = await newsOf('ida')
    expect(refused).toMatchObject([{ id: first!.id, of: { id: folder.id }, by: 'priya', role: 'manage' }])
    // Somebody else's answer is not theirs to put away.
    await done(send(asks.tomas, '/api/rights-news/seen', 'POST', { given: [], refused: [first!.id] }))
    expect((await newsOf('ida')).refused).toHaveLength(1)
    await done(send(asks.ida, '/api/rights-news/seen', 'POST', { given: [], refused: [first!.id] }))
    expect((await newsOf('ida')).refused).toEqual([])
    await ask()
    await give(folder.id, { personId: office.people.ida }, 'manage')
    expect((await newsOf('priya')).asked).toEqual([])
  })
  test('is asked of nobody for what one may not see', async () => {
    const folder = await aFolder()
    expect(
      (await send(asks.ben, `/api/access/${folder.id}/requests`, 'POST', { role: 'edit', words: '' })).status,
    ).toBe(404)
  })
})
