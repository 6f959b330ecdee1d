// Rights as they are given and taken by request: at once, everywhere, and never so that nobody could give them back.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Access, Entry, Problem, Saved, Share } from '../../core/contract'
import { type Ask, done, openTestOffice, send, signInAs, type TestOffice } from '../testing'

let office: TestOffice
let ida: Ask
let priya: Ask
let ben: Ask
beforeAll(async () => {
  office = await openTestOffice()
  ida = (await signInAs(office, 'ida')).ask
  priya = (await signInAs(office, 'priya')).ask
  ben = (await signInAs(office, 'ben')).ask
})
afterAll(() => office.close())

const newFile = (ask: Ask, folderId?: string) =>
  ask(
    `/api/files?shareId=${office.share}${folderId ? `&folderId=${folderId}` : ''}&name=${randomUUID()}.txt&key=${randomUUID()}`,
    { method: 'POST', body: 'The level is 1.50 m.' },
  )
const aFolder = () =>
  done<Entry>(send(priya, '/api/folders', 'POST', { shareId: office.share, folderId: null, name: randomUUID() }))
const grant = (id: string, personId: string, role: string, until: string | null = null) =>
  send(priya, `/api/access/${id}/grants`, 'POST', { subject: { personId }, role, until })

describe('a folder', () => {
  test('is closed to the others of its share at once, and opened again as it was', async () => {
    const { id } = await aFolder()
    const { file } = await done<Saved>(newFile(ida, id))
    await done(send(priya, `/api/access/${id}/rights`, 'PUT', { from: 'here' }))
    expect((await ida(`/api/files/${file.id}`)).status).toBe(404)
    expect((await newFile(ida, id)).status).toBe(404)
    const closed = await done<Access>(priya(`/api/access/${file.id}`))
    expect(closed.people.map(({ person, role }) => [person.handle, role])).toEqual([['priya', 'manage']])
    await done(grant(id, office.people.ben, 'edit'))
    expect((await ben(`/api/files/${file.id}`)).status).toBe(200)
    await done(send(priya, `/api/access/${id}/rights`, 'PUT', { from: 'above' }))
    expect((await ben(`/api/files/${file.id}`)).status).toBe(404)
    expect((await ida(`/api/files/${file.id}`)).status).toBe(200)
  })
  test('stays closed where it is given to somebody in the same moment, or a link to it is made', async () => {
    for (let again = 0; again < 8; again++) {
      const { id } = await aFolder()
      const { file } = await done<Saved>(newFile(ida, id))
      const link = { name: 'For the bid', role: 'view', until: null, password: null, uses: null, versionId: null }
      await Promise.all([
        done(grant(id, office.people.ben, 'edit')),
        done(send(priya, `/api/access/${id}/rights`, 'PUT', { from: 'here' })),
        done(send(priya, `/api/access/${id}/links`, 'POST', { ...link, download: true })),
        done(grant(file.id, office.people.ben, 'view')),
      ])
      expect((await ida(`/api/files/${file.id}`)).status).toBe(404)
      expect((await ben(`/api/files/${file.id}`)).status).toBe(200)
    }
  })
  test('is not closed by somebody who would not manage it any more', async () => {
    const { id } = await aFolder()
    const { file } = await done<Saved>(newFile(priya, id))
    await done(grant(id, office.people.ida, 'manage'))
    await done(grant(file.id, office.people.ben, 'edit'))
    // Ida manages the folder, by what was given there; without it she would not.
    const refused = await send(ida, `/api/access/${id}/rights`, 'PUT', { from: 'above' })
    expect(refused.status).toBe(403)
    expect((await done<Access>(ida(`/api/access/${id}`))).role).toBe('manage')
    expect((await send(ida, `/api/access/${file.id}/rights`, 'PUT', { from: 'here' })).status).toBe(200)
    expect((await done<Access>(ida(`/api/access/${file.id}`))).people.map(({ person }) => person.handle)).toEqual([
      'ben',
      'ida',
      'priya',
    ])
  })
})

describe('a file', () => {
  test('is opened to one more until a day, and to nobody who is not there', async () => {
    const { file } = await done<Saved>(newFile(ida))
    expect((await ben(`/api/files/${file.id}`)).status).toBe(404)
    const past = await grant(file.id, office.people.ben, 'view', new Date(Date.now() - 1000).toISOString())
    expect(Object.keys(((await past.json()) as Problem).fields!)).toEqual(['until'])
    expect((await grant(file.id, randomUUID(), 'view')).status).toBe(404)
    await done(grant(file.id, office.people.ben, 'view', new Date(Date.now() + 86_400_000).toISOString()))
    expect((await ben(`/api/files/${file.id}`)).status).toBe(200)
    // Nothing else of the share.
    expect((await ben(`/api/shares/${office.share}/entries`)).status).toBe(404)
    await office.owner.query(
      `update access_grant set until = now() - interval '1 second' where person_id = $1 and realm_id = $2`,
      [office.people.ben, file.id],
    )
    expect((await ben(`/api/files/${file.id}`)).status).toBe(404)
    // That it was given, and has ended, is still shown.
    const access = await done<Access>(priya(`/api/access/${file.id}`))
    expect(
      access.grants.some(({ subject, until }) => subject.id === office.people.ben && Date.parse(until!) < Date.now()),
    ).toBe(true)
    expect(access.people.some(({ person }) => person.id === office.people.ben)).toBe(false)
  })
  test('of whom it was given to is given up by themselves, and by nobody without it', async () => {
    const { file } = await done<Saved>(newFile(ida))
    const { grants } = await done<Access>(grant(file.id, office.people.ben, 'edit'))
    expect((await send(ida, `/api/access/${file.id}/leave`, 'POST')).status).toBe(404)
    expect((await send(ben, `/api/access/${file.id}/grants/${grants.at(-1)!.id}`, 'DELETE')).status).toBe(403)
    expect((await send(ben, `/api/access/${file.id}/leave`, 'POST')).status).toBe(204)
    expect((await ben(`/api/files/${file.id}`)).status).toBe(404)
  })
})

describe('an archived share', () => {
  test('is read by everybody and changed by its managers alone, until it is opened again', async () => {
    const { file, version } = await done<Saved>(newFile(ida))
    const share = await done<Share>(send(priya, `/api/shares/${office.share}/archived`, 'PUT', { archived: true }))
    expect(share).toMatchObject({ archived: true, role: 'manage' })
    const shown = (await done<Share[]>(ida('/api/shares'))).find(({ id }) => id === office.share)!
    expect([shown.role, shown.archived]).toEqual(['view', true])
    const save = (ask: Ask) =>
      ask(`/api/files/${file.id}/versions?baseId=${version.id}&key=${randomUUID()}`, { method: 'POST', body: 'x' })
    expect((await save(ida)).status).toBe(403)
    expect((await newFile(ida)).status).toBe(403)
    expect((await ida(`/api/files/${file.id}`)).status).toBe(200)
    expect((await save(priya)).status).toBe(200)
    await done(send(priya, `/api/shares/${office.share}/archived`, 'PUT', { archived: false }))
    expect((await newFile(ida)).status).toBe(200)
  })
  test('is a share: a folder with rights of its own is none', async () => {
    const { id } = await aFolder()
    await done(grant(id, office.people.ben, 'view'))
    const inside = { shareId: id, folderId: null, name: 'Nowhere' }
    expect((await send(priya, '/api/folders', 'POST', inside)).status).toBe(404)
    expect(
      (await priya(`/api/files?shareId=${id}&name=x.txt&key=${randomUUID()}`, { method: 'POST', body: 'x' })).status,
    ).toBe(404)
    expect((await send(priya, `/api/shares/${id}/archived`, 'PUT', { archived: true })).status).toBe(404)
    expect((await send(priya, `/api/shares/${id}`, 'PUT', { name: 'Other', description: '' })).status).toBe(404)
  })
  test('has a name like any other, and none that is taken', async () => {
    const named = (name: string) =>
      send(priya, `/api/shares/${office.share}`, 'PUT', { name, description: 'Locks and weirs' })
    expect((await named('Water/ways')).status).toBe(422)
    await office.owner.query(`insert into share (id, name, name_key) values ($1, 'Tolls', 'tolls')`, [randomUUID()])
    expect((await named('TOLLS')).status).toBe(409)
    expect(await done<Share>(named('Waterways'))).toMatchObject({ name: 'Waterways', description: 'Locks and weirs' })
  })
})

test('who listens hears of it within a moment, as one for many changes', async () => {
  const { file } = await done<Saved>(newFile(ida))
  const stop = new AbortController()
  const response = await ben('/api/events', { signal: stop.signal })
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader()
  let heard = ''
  const until = async (count: number) => {
    while (heard.split('event: again').length - 1 < count) heard += (await reader.read()).value ?? ''
  }
  // Once for having come.
  await until(1)
  for (const role of ['view', 'edit', 'view'] as const) await done(grant(file.id, office.people.ben, role))
  await until(2)
  expect((await ben(`/api/files/${file.id}`)).status).toBe(200)
  stop.abort()
})
