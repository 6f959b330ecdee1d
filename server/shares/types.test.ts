// A share that takes some types only: whatever comes into it is one of them, and what is there stays.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { Defaults, Problem, Saved } from '../../core/contract'
import { unbounded } from '../counts/quotas'
import { keepVersion } from '../saving/keep'
import { openTestOffice, signInAs, type TestOffice } from '../testing'
import { addMember, addShare } from './service'

let office: TestOffice
let ask: Awaited<ReturnType<typeof signInAs>>['ask']
let other: string
beforeAll(async () => {
  office = await openTestOffice()
  ask = (await signInAs(office, 'priya')).ask
  other = await addShare(office.database.manager, 'Elsewhere')
  await addMember(office.database.manager, other, office.people.priya, 'manage')
})
afterAll(() => office.close())

const json = (body: unknown, method = 'POST') => ({
  method,
  body: JSON.stringify(body),
  headers: { 'content-type': 'application/json' },
})
const narrow = (defaults: Defaults) => ask(`/api/shares/${office.share}/defaults`, json(defaults, 'PUT'))
const save = (name: string, shareId = office.share, folderId?: string) =>
  ask(`/api/files?${new URLSearchParams({ shareId, name, key: randomUUID(), ...(folderId && { folderId }) })}`, {
    method: 'POST',
    body: 'x',
  })
const statusOf = async (answer: Promise<Response>) => {
  const response = await answer
  return response.ok ? 'done' : ((await response.json()) as Problem).type
}
const move = (id: string) =>
  statusOf(
    ask(
      '/api/acts',
      json({ id: randomUUID(), what: 'move', changes: [{ id, shareId: office.share, folderId: null }] }),
    ),
  )

test('refuses other types, however they come, and says which it takes; what is there stays and goes on', async () => {
  const there = (await (await save('Old plan.rtf')).json()) as Saved
  const outside = (await (await save('Plan from elsewhere.rtf', other)).json()) as Saved
  const folder = (await (
    await ask('/api/folders', json({ shareId: other, folderId: null, name: 'Plans' }))
  ).json()) as {
    id: string
  }
  await save('Plan within.rtf', other, folder.id)
  const only = { place: null, type: 'odt', only: ['odt', 'docx'] }
  expect((await narrow({ document: only })).status).toBe(200)

  const refused = await save('New plan.rtf')
  expect(await refused.json()).toMatchObject({
    type: 'name-refused',
    title: 'Waterways takes documents as .odt, .docx only, so New plan.rtf is not saved there.',
  })
  // Packages of one family are of its type; other kinds of file are not meant.
  for (const name of ['New plan.docm', 'New plan.odt', 'Levels.csv', 'Photo.jpg', 'Notes'])
    expect([name, await statusOf(save(name))]).toEqual([name, 'done'])
  expect([await move(outside.file.id), await move(folder.id)]).toEqual(['name-refused', 'name-refused'])
  // What is there is saved on as what it is, and does not become a type that is not taken.
  const next = (type?: string, baseId = there.version.id) =>
    ask(
      `/api/files/${there.file.id}/versions?${new URLSearchParams({ baseId, key: randomUUID(), ...(type && { type }) })}`,
      { method: 'POST', body: 'y' },
    )
  const second = (await (await next()).json()) as Saved
  expect(second.version.number).toBe(2)
  expect(await statusOf(next('html', second.version.id))).toBe('name-refused')
  const third = (await (await next('odt', second.version.id)).json()) as Saved
  expect(third.file.name).toBe('Old plan.odt')
  // It is what it was then again, whatever is taken by now.
  const restored = await ask(
    `/api/versions/${there.version.id}/restore`,
    json({ key: randomUUID(), baseId: third.version.id }),
  )
  expect(((await restored.json()) as Saved).file.name).toBe('Old plan.rtf')
  // What an office has is taken over as it is.
  const taken = await keepVersion(office.database, unbounded, {
    personId: office.people.priya,
    bytes: Buffer.from('z'),
    reason: 'brought in',
    key: randomUUID(),
    anyType: true,
    target: { place: { shareId: office.share, folderId: null, name: 'From the drive.rtf' } },
  })
  expect(taken.version.number).toBe(1)

  expect(await statusOf(narrow({ document: { ...only, only: [] } }))).toBe('invalid')
  await narrow({})
  expect([await move(outside.file.id), await move(folder.id), await statusOf(save('New plan.rtf'))]).toEqual([
    'done',
    'done',
    'done',
  ])
})
