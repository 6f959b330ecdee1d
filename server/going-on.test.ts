// A file that goes on as another type: one history, one name but for its ending.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { documentSchema } from '../core/content/document'
import type { Saved } from '../core/contract'
import { writeDocument } from '../core/formats/documents'
import { findFiles } from './search/find'
import { openTestOffice, signInAs, type TestOffice } from './testing'

let office: TestOffice
let ask: Awaited<ReturnType<typeof signInAs>>['ask']
beforeAll(async () => {
  office = await openTestOffice()
  ask = (await signInAs(office, 'ida')).ask
})
afterAll(() => office.close())

const { nodes } = documentSchema
const written = (type: string, words: string) =>
  Buffer.from(
    writeDocument(nodes.doc.create(null, nodes.paragraph.create(null, documentSchema.text(words))), null, type).bytes,
  )
const unique = (stem: string) => `${stem} ${randomUUID().slice(0, 8)}`
const newFile = async (name: string, bytes: Buffer): Promise<Saved> => {
  const query = new URLSearchParams({ shareId: office.share, name, key: randomUUID() })
  return (await ask(`/api/files?${query}`, { method: 'POST', body: bytes as BodyInit })).json()
}
const next = (of: Saved, type: string | null, bytes: Buffer, key = randomUUID(), baseId = of.version.id) => {
  const query = new URLSearchParams({ baseId, key, ...(type && { type }) })
  return ask(`/api/files/${of.file.id}/versions?${query}`, { method: 'POST', body: bytes as BodyInit })
}
const factsOf = async (id: string) => (await ask(`/api/files/${id}`)).json()
const versionsOf = async (id: string) => (await ask(`/api/files/${id}/versions`)).json()

test('keeps its versions, each as what it was, under its name with the other ending', async () => {
  const stem = unique('Report')
  const first = await newFile(`${stem}.docx`, written('docx', 'As a package.'))
  const answer = await next(first, 'odt', written('odt', 'In the open standard.'))
  expect(answer.status).toBe(200)
  const saved = (await answer.json()) as Saved
  expect([saved.file.name, saved.file.type, saved.version.number, saved.version.type]).toEqual([
    `${stem}.odt`,
    'odt',
    2,
    'odt',
  ])
  expect((await factsOf(first.file.id)).file).toMatchObject({ name: `${stem}.odt`, type: 'odt' })
  const versions = await versionsOf(first.file.id)
  expect(versions.map(({ number, type }: { number: number; type: string }) => [number, type])).toEqual([
    [2, 'odt'],
    [1, 'docx'],
  ])
  // The next one is of the same type, and the first one is restored as what it was.
  const third = (await (await next(saved, null, written('odt', 'Goes on.'))).json()) as Saved
  expect(third.version.type).toBe('odt')
  const back = await ask(`/api/versions/${first.version.id}/restore`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ key: randomUUID(), baseId: third.version.id }),
  })
  expect(((await back.json()) as Saved).file).toMatchObject({ name: `${stem}.docx`, type: 'docx' })
})

test('one request repeated makes one version', async () => {
  const first = await newFile(`${unique('Twice')}.docx`, written('docx', 'One.'))
  const key = randomUUID()
  const bytes = written('rtf', 'Two.')
  const answers = await Promise.all([next(first, 'rtf', bytes, key), next(first, 'rtf', bytes, key)])
  const ids = await Promise.all(answers.map(async (one) => ((await one.json()) as Saved).version.id))
  expect(new Set(ids).size).toBe(1)
  expect(await versionsOf(first.file.id)).toHaveLength(2)
})

describe('nothing is half made', () => {
  test('where the name is taken', async () => {
    const stem = unique('Taken')
    const first = await newFile(`${stem}.docx`, written('docx', 'One.'))
    await newFile(`${stem}.odt`, written('odt', 'Another.'))
    const answer = await next(first, 'odt', written('odt', 'Two.'))
    expect(await answer.json()).toMatchObject({ type: 'name-taken', freeName: expect.stringMatching(/\.odt$/) })
    expect((await factsOf(first.file.id)).file).toMatchObject({ name: `${stem}.docx`, head: { number: 1 } })
  })
  test('where somebody else saved meanwhile', async () => {
    const stem = unique('Newer')
    const first = await newFile(`${stem}.docx`, written('docx', 'One.'))
    await next(first, null, written('docx', 'Two.'))
    expect(await (await next(first, 'odt', written('odt', 'Late.'))).json()).toMatchObject({ type: 'newer-version' })
    expect((await factsOf(first.file.id)).file).toMatchObject({ name: `${stem}.docx`, head: { number: 2 } })
  })
  test.each(['xlsx', 'doc', 'exe', 'pdf'])('where it cannot be: .%s', async (type) => {
    const first = await newFile(`${unique('Not')}.docx`, written('docx', 'One.'))
    const answer = await next(first, type, written('docx', 'Two.'))
    expect([answer.status, (await answer.json()).type]).toEqual([400, 'invalid'])
    expect(await versionsOf(first.file.id)).toHaveLength(1)
  })
  test('by somebody who may only look', async () => {
    const first = await newFile(`${unique('Looked')}.docx`, written('docx', 'One.'))
    const { ask: viewer } = await signInAs(office, 'tomas')
    const query = new URLSearchParams({ baseId: first.version.id, key: randomUUID(), type: 'odt' })
    const answer = await viewer(`/api/files/${first.file.id}/versions?${query}`, { method: 'POST', body: 'x' })
    expect([403, 404]).toContain(answer.status)
    expect((await factsOf(first.file.id)).file.type).toBe('docx')
  })
})

test('what is handed out has the ending of what it is', async () => {
  const stem = unique('Handed')
  const first = await newFile(`${stem}.DOCX`, written('docx', 'One.'))
  await next(first, 'rtf', written('rtf', 'Two.'))
  const nameOf = async (id: string) =>
    decodeURIComponent((await ask(`/api/versions/${id}/bytes`)).headers.get('content-disposition') ?? '')
  expect(await nameOf(first.version.id)).toContain(`${stem}.docx`)
  expect(await nameOf((await factsOf(first.file.id)).file.head.id)).toContain(`${stem}.rtf`)
})

test('a share that is brought to a moment has it as what it was then, also where it was renamed; undone it is what it was', async () => {
  const { json } = await signInAs(office, 'ida')
  const plain = await newFile(`${unique('Plain')}.docx`, written('docx', 'One.'))
  const renamed = await newFile(`${unique('Renamed')}.docx`, written('docx', 'One.'))
  const [{ at }] = await office.database.query('select clock_timestamp() as at')
  const moment = new Date(at.getTime() + 1).toISOString()
  await expect
    .poll(async () => (await office.database.query('select clock_timestamp() as at'))[0].at.toISOString() > moment)
    .toBe(true)
  for (const one of [plain, renamed]) await next(one, 'odt', written('odt', 'Two.'))
  const called = `${unique('Called otherwise')}.odt`
  await json('/api/acts', 'POST', {
    id: randomUUID(),
    what: 'rename',
    changes: [{ id: renamed.file.id, name: called }],
  })
  const id = randomUUID()
  const brought = await json(`/api/shares/${office.share}/moment`, 'POST', {
    id,
    at: moment,
    folderId: null,
    entries: [plain.file.id, renamed.file.id],
  })
  expect(brought.status).toBe(200)
  const states = async () =>
    Promise.all(
      [plain, renamed].map(async ({ file }) => {
        const { name, type, head } = (await factsOf(file.id)).file
        return [name, type, head.type]
      }),
    )
  expect(await states()).toEqual([
    [plain.file.name, 'docx', 'docx'],
    [renamed.file.name, 'docx', 'docx'],
  ])
  expect((await json(`/api/acts/${id}/undo`, 'POST', {})).status).toBe(200)
  expect(await states()).toEqual([
    [plain.file.name.replace('.docx', '.odt'), 'odt', 'odt'],
    [called, 'odt', 'odt'],
  ])
})

test('its words are those of the type that it is', async () => {
  const word = `weir${randomUUID().slice(0, 6)}`
  const first = await newFile(`${unique('Found')}.docx`, written('docx', 'Nothing yet.'))
  await next(first, 'rtf', written('rtf', `Now the ${word} is in it.`))
  await expect
    .poll(async () => {
      const { hits } = await findFiles(office.database.manager, office.people.ida, { q: word, facets: [] })
      return hits.some(({ file }) => file.id === first.file.id)
    })
    .toBe(true)
})
