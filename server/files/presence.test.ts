// Who else has a file open, and where in it they are.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { Present, Saved } from '../../core/contract'
import { type Ask, done, openTestOffice, send, signInAs, type TestOffice } from '../testing'

let office: TestOffice
let [ida, priya, ben]: Ask[] = [] as unknown as [Ask, Ask, Ask]
beforeAll(async () => {
  office = await openTestOffice()
  ;[ida, priya, ben] = await Promise.all(
    (['ida', 'priya', 'ben'] as const).map(async (handle) => (await signInAs(office, handle)).ask),
  )
})
afterAll(() => office.close())

test('others are told where somebody is, of several pages where they were last, and nothing once they left', async () => {
  const { file } = await done<Saved>(
    ida!(`/api/files?shareId=${office.share}&name=${randomUUID()}.txt&key=${randomUUID()}`, {
      method: 'POST',
      body: 'x',
    }),
  )
  const [one, two, hers] = [randomUUID(), randomUUID(), randomUUID()]
  const at = (who: Ask, pageId: string, more: object = {}) =>
    send(who, `/api/files/${file.id}/presence`, 'PUT', { pageId, leaving: false, ...more })
  const seen = async () => (await done<Present[]>(at(priya!, hers))).map(({ name, place }) => [name, place])
  expect(await seen()).toEqual([])
  await done(at(ida!, one, { place: 'What was found' }))
  expect(await seen()).toEqual([['ida', 'What was found']])
  await done(at(ida!, two))
  expect(await seen()).toEqual([['ida', '']])
  await done(at(ida!, one, { place: 'What is to be done' }))
  expect(await seen()).toEqual([['ida', 'What is to be done']])
  // Nobody speaks for another's page, and who may not see the file is told nothing.
  await done(at(priya!, one, { place: 'Elsewhere' }))
  expect((await done<Present[]>(at(ida!, one, { place: 'What is to be done' }))).map(({ name }) => name)).toEqual([
    'priya',
  ])
  expect(await seen()).toEqual([['ida', 'What is to be done']])
  expect((await at(ben!, randomUUID())).status).toBe(404)
  expect((await at(ida!, one, { place: 'x'.repeat(121) })).status).toBe(400)
  for (const page of [one, two]) await done(at(ida!, page, { leaving: true }))
  expect(await seen()).toEqual([])
})
