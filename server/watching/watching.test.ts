// What somebody watches: told of what others save there, as long as they may see it, until they have looked.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { Entry, Saved, Watched } from '../../core/contract'
import { type Ask, done, openTestOffice, send, signInAs, type TestOffice } from '../testing'

let office: TestOffice
const asks = {} as Record<'ida' | 'priya' | 'tomas' | 'ben', Ask>
beforeAll(async () => {
  office = await openTestOffice()
  for (const handle of ['ida', 'priya', 'tomas', 'ben'] as const) asks[handle] = (await signInAs(office, handle)).ask
})
afterAll(() => office.close())

const folder = (folderId: string | null = null) =>
  done<Entry>(send(asks.priya, '/api/folders', 'POST', { shareId: office.share, folderId, name: randomUUID() }))
const file = (who: Ask, folderId: string | null) =>
  done<Saved>(
    who(
      `/api/files?shareId=${office.share}${folderId ? `&folderId=${folderId}` : ''}&name=${randomUUID()}.txt&key=${randomUUID()}`,
      {
        method: 'POST',
        body: 'x',
      },
    ),
  )
const next = (who: Ask, { file: { id }, version }: Saved) =>
  done<Saved>(
    who(`/api/files/${id}/versions?baseId=${version.id}&key=${randomUUID()}`, { method: 'POST', body: randomUUID() }),
  )
const watch = (who: Ask, id: string, on = true) => done(send(who, `/api/access/${id}/watch`, 'PUT', { on }))
const watched = (who: Ask) => done<Watched[]>(who('/api/watched'))
const of = async (who: Ask, id: string) => (await watched(who)).find((one) => one.of.id === id)

test('a folder, however deep, a file and the whole share: each by what others saved since one looked', async () => {
  const top = await folder()
  const inner = await folder(top.id)
  const before = await file(asks.priya, inner.id)
  for (const id of [top.id, before.file.id, office.share]) await watch(asks.ida, id)
  // Watched twice is watched once, from the first time on.
  await watch(asks.ida, top.id)
  expect((await watched(asks.ida)).map(({ files }) => files)).toEqual([0, 0, 0])
  await file(asks.ida, inner.id)
  expect((await of(asks.ida, top.id))!.files).toBe(0)
  const second = await next(asks.priya, before)
  await next(asks.priya, second)
  const deep = await file(asks.priya, inner.id)
  await file(asks.priya, null)
  expect(await of(asks.ida, top.id)).toMatchObject({
    of: { kind: 'folder', name: top.name },
    files: 2,
    people: ['priya'],
  })
  expect(await of(asks.ida, before.file.id)).toMatchObject({ of: { kind: 'file' }, files: 1 })
  expect(await of(asks.ida, office.share)).toMatchObject({ of: { kind: 'share', name: 'Waterways' }, files: 3 })
  // Looked at up to what was shown: what came meanwhile is still new.
  const { latest } = (await of(asks.ida, top.id))!
  await next(asks.priya, deep)
  await done(send(asks.ida, `/api/watched/${top.id}/seen`, 'POST', { at: latest }))
  expect((await of(asks.ida, top.id))!.files).toBe(1)
  expect((await of(asks.ida, office.share))!.files).toBe(3)
  // What was saved last is not new any more, however fine its time is.
  for (let round = 0; round < 5; round++) {
    await next(asks.priya, await file(asks.priya, top.id))
    const last = (await of(asks.ida, top.id))!.latest
    await done(send(asks.ida, `/api/watched/${top.id}/seen`, 'POST', { at: last }))
    expect((await of(asks.ida, top.id))!.files).toBe(0)
  }
  await watch(asks.ida, top.id, false)
  expect(await of(asks.ida, top.id)).toBeUndefined()
  expect(await watched(asks.priya)).toEqual([])
})

test('a place that one may see no more is not told of, nor what is closed in one that one may', async () => {
  const top = await folder()
  const shut = await folder(top.id)
  await watch(asks.tomas, top.id)
  await done(send(asks.priya, `/api/access/${shut.id}/rights`, 'PUT', { from: 'here' }))
  await file(asks.priya, shut.id)
  expect((await of(asks.tomas, top.id))!.files).toBe(0)
  await file(asks.priya, top.id)
  expect((await of(asks.tomas, top.id))!.files).toBe(1)
  await done(send(asks.priya, `/api/access/${top.id}/rights`, 'PUT', { from: 'here' }))
  expect(await of(asks.tomas, top.id)).toBeUndefined()
  expect((await send(asks.ben, `/api/access/${top.id}/watch`, 'PUT', { on: true })).status).toBe(404)
})

test('what was moved elsewhere is not told of where it was, and somebody watches so many places at most', async () => {
  const [from, to] = [await folder(), await folder()]
  await watch(asks.ida, from.id)
  await watch(asks.ida, to.id)
  const saved = await file(asks.priya, from.id)
  await done(
    send(asks.priya, '/api/acts', 'POST', {
      id: randomUUID(),
      what: 'move',
      changes: [{ id: saved.file.id, shareId: office.share, folderId: to.id }],
    }),
  )
  expect([(await of(asks.ida, from.id))!.files, (await of(asks.ida, to.id))!.files]).toEqual([0, 1])
  const there = (await watched(asks.ida)).length
  for (let at = there; at < 50; at++) await watch(asks.ida, (await folder()).id)
  expect((await send(asks.ida, `/api/access/${(await folder()).id}/watch`, 'PUT', { on: true })).status).toBe(400)
})
