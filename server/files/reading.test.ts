// What somebody says of how a list is written holds for everybody who reads the file: its page, its history, the search.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { FileFacts, Saved, SearchAnswer } from '../../core/contract'
import { encoded } from '../../core/formats/text/encoding'
import { compareHere } from '../changes/compare'
import { describeVersions } from '../changes/describe'
import { openContents } from '../storage/content'
import { openTestOffice, signInAs, type TestOffice } from '../testing'

let office: TestOffice
let ida: Awaited<ReturnType<typeof signInAs>>
beforeAll(async () => {
  office = await openTestOffice()
  ida = await signInAs(office, 'ida')
})
afterAll(() => office.close())

const bytesOf = (text: string) => Buffer.from(encoded(text, 'windows-1250')!)
const post = async (path: string, body: Buffer) => {
  const answer = await ida.ask(path, {
    method: 'POST',
    body: body as BodyInit,
    headers: { 'content-type': 'application/octet-stream' },
  })
  expect(answer.status).toBeLessThan(300)
  return (await answer.json()) as Saved
}
const add = (text: string, more = '', name = `${randomUUID()}.csv`) =>
  post(`/api/files?shareId=${office.share}&name=${name}&key=${randomUUID()}${more}`, bytesOf(text))
const facts = async ({ file }: Saved) => (await (await ida.ask(`/api/files/${file.id}`)).json()) as FileFacts
const say = ({ file }: Saved, said: object) => ida.json(`/api/files/${file.id}/reading`, 'PUT', said)
const found = async (q: string) => {
  const answer = (await (await ida.ask(`/api/search?q=${encodeURIComponent(q)}`)).json()) as SearchAnswer
  return answer.hits.map(({ file }) => file.id)
}

test('it is kept with the file, goes with its copies, and is recognised again when nothing is said', async () => {
  const saved = await add('Lock|Level\nŁódź|1,50\n')
  expect((await facts(saved)).readAs).toBe(null)
  expect((await say(saved, { separator: '|', decimal: ',', encoding: 'windows-1250' })).status).toBe(204)
  expect((await facts(saved)).readAs).toBe('separator=bar&decimal=comma&encoding=windows-1250')
  const copy = await add('Lock|Level\nŁódź|1,50\n', `&originId=${saved.version.id}&reason=copied`)
  expect((await facts(copy)).readAs).toBe('separator=bar&decimal=comma&encoding=windows-1250')
  const paper = await add('Lock|Level\n', `&originId=${saved.version.id}&reason=copied`, `${randomUUID()}.txt`)
  expect((await facts(paper)).readAs).toBe(null)
  expect((await say(saved, {})).status).toBe(204)
  expect((await facts(saved)).readAs).toBe(null)
  // Of what is no list, and of what cannot be, nothing is said.
  expect((await say(paper, { separator: '|' })).status).toBe(400)
  expect((await say(saved, { separator: '#' })).status).toBe(400)
})

test('a version that was written in another way than is said meanwhile is read as it was written', async () => {
  const saved = await add('Lock;Read on\nLK07;03/04/2026\n')
  const writes = async (base: Saved, writtenAs: string) =>
    post(
      `/api/files/${saved.file.id}/versions?baseId=${base.version.id}&key=${randomUUID()}&writtenAs=${encodeURIComponent(writtenAs)}`,
      bytesOf('Lock;Read on\nLK07;04/04/2026\n'),
    )
  const whole = 'separator=semicolon&decimal=point&dates=month'
  // Where nobody said anything it is recognised, as it was.
  const second = await writes(saved, whole)
  expect((await facts(saved)).readAs).toBe(null)
  await say(saved, { dates: 'month' })
  const third = await writes(second, whole)
  expect((await facts(saved)).readAs).toBe('dates=month')
  await say(saved, { dates: 'day', separator: ';' })
  // A save that is not taken says nothing either.
  const late = await ida.ask(
    `/api/files/${saved.file.id}/versions?baseId=${second.version.id}&key=${randomUUID()}&writtenAs=${encodeURIComponent(whole)}`,
    { method: 'POST', body: 'x', headers: { 'content-type': 'application/octet-stream' } },
  )
  expect(late.status).toBe(409)
  expect((await facts(saved)).readAs).toBe('separator=semicolon&dates=day')
  const fourth = await writes(third, whole)
  expect((await facts(saved)).readAs).toBe(whole)
  // Of what is no list nothing is said.
  const paper = await add('Lock\n', '', `${randomUUID()}.txt`)
  await post(
    `/api/files/${paper.file.id}/versions?baseId=${paper.version.id}&key=${randomUUID()}&writtenAs=${encodeURIComponent(whole)}`,
    bytesOf('Lock LK09\n'),
  )
  expect((await facts(paper)).readAs).toBe(null)
  expect(fourth.version.number).toBe(4)
})

test('its words are found in the encoding that was said, and its changes are told value by value', async () => {
  const saved = await add('Lock;Place\nLK07;Łódź\n')
  await expect.poll(() => found('LK07')).toContain(saved.file.id)
  expect(await found('Łódź')).not.toContain(saved.file.id)
  await say(saved, { encoding: 'windows-1250', separator: '|' })
  await expect.poll(() => found('Łódź')).toContain(saved.file.id)
  const next = await post(
    `/api/files/${saved.file.id}/versions?baseId=${saved.version.id}&key=${randomUUID()}`,
    bytesOf('Lock;Place\nLK09;Żagań\n'),
  )
  // Between bars it is one value that changed; between semicolons it would be two.
  await describeVersions(office.database, compareHere, openContents())
  await expect
    .poll(async () => JSON.stringify((await facts(saved)).versions.find(({ id }) => id === next.version.id)?.summary))
    .toContain('{"say":"changes.cells","facts":{"n":1}}')
})
