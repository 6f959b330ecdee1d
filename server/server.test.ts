import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { api, type Saved } from '../core/contract'
import { english } from '../core/words/testing'
import { unbounded } from './counts/quotas'
import { keepVersion } from './saving/keep'
import { openTestOffice, password, signInAs, signOfLife, type TestOffice } from './testing'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

const as = (handle: string) => signInAs(office, handle)
const newFile = (name: string, key: string = randomUUID()) =>
  `/api/files?shareId=${office.share}&name=${encodeURIComponent(name)}&key=${key}`
const kept = (bytes: Buffer, name: string, extra: object = {}) =>
  keepVersion(office.database, unbounded, {
    personId: office.people.ida,
    bytes,
    reason: 'saved',
    key: randomUUID(),
    target: { place: { shareId: office.share, folderId: null, name } },
    ...extra,
  })

describe('accounts', () => {
  test('the session cookie cannot be read by a page nor sent by another site, and ends with signing out', async () => {
    const ida = await as('ida')
    expect(ida.cookie).toMatch(/HttpOnly/)
    expect(ida.cookie).toMatch(/SameSite=Lax/)
    expect((await ida.ask('/api/shares')).status).toBe(200)
    await ida.ask('/api/session', { method: 'DELETE' })
    expect(await (await ida.ask('/api/shares')).json()).toMatchObject({ type: 'signed-out', status: 401 })
  })
  test('passwords are kept as Argon2id', async () => {
    const [row] = await office.database.query("select password_hash from person where handle = 'ida'")
    expect(row.password_hash).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/)
  })
  test('after some failures a name must wait, also with the right password, and others need not', async () => {
    const attempt = async (handle: string, secret: string) =>
      (
        await fetch(`${office.url}/api/session`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ handle, password: secret }),
        })
      ).status
    for (let i = 0; i < 5; i++) expect(await attempt('ben', 'wrong')).toBe(403)
    expect(await attempt('ben', password)).toBe(429)
    expect(await attempt('ida', password)).toBe(200)
  })
  test('a change asked for by another site is refused', async () => {
    const ida = await as('ida')
    expect(
      (await ida.ask('/api/session', { method: 'DELETE', headers: { origin: 'https://elsewhere.example' } })).status,
    ).toBe(403)
  })
})

describe('every route', () => {
  const filled = (path: string) => path.replace(/:\w+/g, randomUUID())
  test('that is not open refuses people who are not signed in', async () => {
    for (const endpoint of Object.values(api)) {
      if (endpoint.right === 'anybody') continue
      const answer = await fetch(office.url + filled(endpoint.path), { method: endpoint.method })
      // What is behind a link is not there for who did not open it.
      expect([endpoint.path, answer.status]).toEqual([endpoint.path, endpoint.right === 'by link' ? 404 : 401])
      expect(answer.headers.get('content-type')).toContain('application/problem+json')
    }
  })
  test('checks the role: viewers see and do not change, others do not learn that it exists', async () => {
    const { file, version } = await kept(Buffer.from('minutes'), 'Roles.txt')
    const tomas = await as('tomas')
    expect(await (await tomas.ask(`/api/versions/${version.id}/bytes`)).text()).toBe('minutes')
    expect((await tomas.ask(newFile('Mine.txt'), { method: 'POST', body: 'x' })).status).toBe(403)
    expect(
      (
        await tomas.ask(`/api/files/${file.id}/versions?baseId=${version.id}&key=${randomUUID()}`, {
          method: 'POST',
          body: 'x',
        })
      ).status,
    ).toBe(403)
    expect(
      (await tomas.json(`/api/versions/${version.id}/restore`, 'POST', { key: randomUUID(), baseId: version.id }))
        .status,
    ).toBe(403)
    expect(
      (await tomas.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'Mine' })).status,
    ).toBe(403)
    await office.database.query('delete from guess_limit')
    const ben = await as('ben')
    for (const path of [
      `/api/files/${file.id}`,
      `/api/versions/${version.id}/bytes`,
      `/api/shares/${office.share}/entries`,
    ])
      expect((await ben.ask(path)).status).toBe(404)
    expect((await ben.ask(newFile('Ben.txt'), { method: 'POST', body: 'x' })).status).toBe(404)
  })
  test('is in the OpenAPI description', async () => {
    const { paths } = (await (await fetch(`${office.url}/api/openapi.json`)).json()) as {
      paths: Record<string, object>
    }
    for (const { path, method } of Object.values(api))
      expect(paths[path.replace(/:(\w+)/g, '{$1}')]).toHaveProperty(method.toLowerCase())
  })
})

describe('bytes', () => {
  test.each([0, 1, 1_048_576, 3_500_001])('%i of them come back identical, whatever the type', async (length) => {
    const bytes = length % 2 ? randomBytes(length) : Buffer.alloc(length, 'level ')
    const ida = await as('ida')
    const answer = await ida.ask(newFile(`Bytes ${length}.bin`), { method: 'POST', body: bytes })
    const { version } = (await answer.json()) as Saved
    expect(version).toMatchObject({ number: 1, size: length, sha256: createHash('sha256').update(bytes).digest('hex') })
    const back = Buffer.from(await (await ida.ask(`/api/versions/${version.id}/bytes`)).arrayBuffer())
    expect(back.equals(bytes)).toBe(true)
  })
  test('over the limit are refused with a sentence', async () => {
    const ida = await as('ida')
    const answer = await ida.ask(newFile('Huge.bin'), { method: 'POST', body: Buffer.alloc(20_000_001) })
    expect(await answer.json()).toMatchObject({ type: 'too-large', title: 'Files up to 20 MB can be kept here.' })
  })
  test('that changed on the way are refused', async () => {
    await expect(kept(Buffer.from('changed'), 'Sum.txt', { sha256: '0'.repeat(64) })).rejects.toThrow(
      'changed on its way',
    )
  })
})

describe('names', () => {
  test('one name in one folder, also in another case or form, also for a folder, and the next free one is offered', async () => {
    await kept(Buffer.from('a'), 'Übersicht.docx')
    await kept(Buffer.from('b'), 'Übersicht 2.docx')
    const ida = await as('ida')
    const answer = await (await ida.ask(newFile('u\u0308BERSICHT.docx'), { method: 'POST', body: 'c' })).json()
    expect(english(answer)).toMatchObject({
      type: 'name-taken',
      freeName: 'üBERSICHT 3.docx',
      entry: { name: 'Übersicht.docx' },
      says: 'A file with this name is here already.',
      fields: { name: 'A file with this name is here already.' },
    })
    expect(
      await (
        await ida.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'übersicht.docx' })
      ).json(),
    ).toMatchObject({ type: 'name-taken' })
  })
  test('a name with no room for a number is offered shorter, and each that is taken leads on', async () => {
    const name = `${'Lang'.repeat(62)}er.txt`
    await kept(Buffer.from('1'), name)
    const ida = await as('ida')
    const bring = async (called: string) =>
      (await ida.ask(newFile(called), { method: 'POST', body: called })).json() as Promise<{ freeName?: string }>
    const offered = (await bring(name)).freeName!
    expect(offered).toMatch(/^(?:Lang){62}e 2\.txt$/)
    expect(await bring(offered)).toMatchObject({ file: { name: offered } })
    expect((await bring(name)).freeName).toBe(offered.replace('2.', '3.'))
  })
  test('a forbidden symbol is refused with a correction', async () => {
    const ida = await as('ida')
    expect(await (await ida.ask(newFile('Levels: 10/14.csv'), { method: 'POST', body: 'x' })).json()).toMatchObject({
      type: 'name-refused',
      freeName: 'Levels- 10-14.csv',
    })
  })
  test('of twenty who take one name at the same moment one gets it, and nothing is half made', async () => {
    const results = await Promise.allSettled(
      Array.from({ length: 20 }, (_, i) => kept(Buffer.from(`racer ${i}`), 'Race.txt')),
    )
    expect(results.filter(({ status }) => status === 'fulfilled')).toHaveLength(1)
    const [{ astray }] = await office.database.query(
      'select count(*)::int as astray from version v left join entry e on e.id = v.file_id where e.id is null',
    )
    expect(astray).toBe(0)
  })
})

describe('versions', () => {
  test('saving on a version that is not the newest is refused and tells what is there', async () => {
    const { file, version } = await kept(Buffer.from('one'), 'Heads.txt')
    const next = await kept(Buffer.from('two'), '', { target: { fileId: file.id, baseId: version.id } })
    await expect(
      kept(Buffer.from('three'), '', { target: { fileId: file.id, baseId: version.id } }),
    ).rejects.toMatchObject({ problem: { type: 'newer-version', head: { id: next.version.id, number: 2 } } })
  })
  test('of twenty who save the next version at the same moment one does; the others are told', async () => {
    const { file, version } = await kept(Buffer.from('base'), 'Crowd.txt')
    const results = await Promise.allSettled(
      Array.from({ length: 20 }, (_, i) =>
        kept(Buffer.from(`saver ${i}`), '', { target: { fileId: file.id, baseId: version.id } }),
      ),
    )
    expect(results.filter(({ status }) => status === 'fulfilled')).toHaveLength(1)
    for (const result of results)
      if (result.status === 'rejected') expect(result.reason.problem.type).toBe('newer-version')
  })
  test('one request repeated at the same moment and later makes one version', async () => {
    const key = randomUUID()
    const once = () => kept(Buffer.from('once'), 'Once.txt', { key })
    const all = await Promise.all([once(), once(), once(), once()])
    all.push(await once())
    expect(new Set(all.map((saved) => saved.version.id)).size).toBe(1)
    expect(
      (await office.database.query('select count(*)::int as n from version where file_id = $1', [all[0]!.file.id]))[0]
        .n,
    ).toBe(1)
  })
  test('restoring makes a new version with the old bytes; the database refuses to change or remove any', async () => {
    const { file, version } = await kept(Buffer.from('first'), 'Restore.txt')
    const second = await kept(Buffer.from('second'), '', { target: { fileId: file.id, baseId: version.id } })
    const ida = await as('ida')
    const restored = (await (
      await ida.json(`/api/versions/${version.id}/restore`, 'POST', { key: randomUUID(), baseId: second.version.id })
    ).json()) as Saved
    expect(restored.version).toMatchObject({ number: 3, reason: 'restored', sha256: version.sha256 })
    await expect(office.owner.query("update version set reason = 'saved' where id = $1", [version.id])).rejects.toThrow(
      'never changes',
    )
    await expect(office.owner.query('delete from version where id = $1', [version.id])).rejects.toThrow(
      'never goes but by retention',
    )
  })
})

describe('drafts', () => {
  const beat = (id: string, journalSeq: number) =>
    signOfLife(id, { journalSeq, beyond: { edits: journalSeq, charactersAdded: 1, charactersRemoved: 0, cells: 0 } })
  const records = (from: number, to: number) =>
    Array.from({ length: to - from + 1 }, (_, i) => ({
      seq: from + i,
      at: from + i,
      edit: { steps: [{ n: from + i }] },
    }))

  test('points add up without gaps or repetition, whatever is sent twice', async () => {
    const ida = await as('ida')
    const id = randomUUID()
    const point = (to: number, list: object[]) =>
      ida.json(`/api/drafts/${id}/points`, 'POST', { heartbeat: beat(id, to), records: list })
    expect(await (await point(3, records(1, 3))).json()).toMatchObject({ pointSeq: 3 })
    expect(await (await point(5, records(2, 5))).json()).toMatchObject({ pointSeq: 5 })
    expect((await point(9, records(8, 9))).status).toBe(400)
    const content = (await (await ida.ask(`/api/drafts/${id}`)).json()) as { draft: object; lines: string[] }
    expect(content.lines.map((line) => JSON.parse(line))).toEqual(records(1, 5))
    expect(content.draft).toMatchObject({ state: 'open', heardFrom: true, pointSeq: 5 })
  })
  test('belong to their person', async () => {
    const id = randomUUID()
    await (await as('ida')).json(`/api/drafts/${id}`, 'PUT', beat(id, 1))
    const priya = await as('priya')
    expect((await priya.ask(`/api/drafts/${id}`)).status).toBe(404)
    expect((await priya.json(`/api/drafts/${id}`, 'PUT', beat(id, 2))).status).toBe(404)
    expect((await priya.json(`/api/drafts/${id}/end`, 'POST', { state: 'let go' })).status).toBe(404)
  })
  test('are kept for some days when let go, and called back', async () => {
    const ida = await as('ida')
    const id = randomUUID()
    await ida.json(`/api/drafts/${id}/points`, 'POST', { heartbeat: beat(id, 2), records: records(1, 2) })
    const gone = (await (await ida.json(`/api/drafts/${id}/end`, 'POST', { state: 'let go' })).json()) as {
      keptUntil: string
    }
    expect(Date.parse(gone.keptUntil) - Date.now()).toBeGreaterThan(13 * 86400_000)
    expect(await (await ida.json(`/api/drafts/${id}/end`, 'POST', { state: 'closed' })).json()).toMatchObject({
      state: 'closed',
    })
    expect(((await (await ida.ask('/api/drafts')).json()) as { id: string }[]).map((draft) => draft.id)).toContain(id)
  })
})

test('news of a save reaches members and nobody else', async () => {
  const listen = async (handle: string) => {
    const { ask } = await as(handle)
    const reader = (await ask('/api/events')).body!.getReader()
    let heard = ''
    void (async () => {
      for (;;) {
        const { value, done } = await reader.read()
        if (done) return
        heard += new TextDecoder().decode(value)
      }
    })().catch(() => {})
    return { heard: () => heard, stop: () => reader.cancel() }
  }
  const [tomas, ben] = [await listen('tomas'), await listen('ben')]
  const { file } = await kept(Buffer.from('news'), 'News.txt')
  await expect.poll(() => tomas.heard()).toContain(file.id)
  expect(ben.heard()).not.toContain(file.id)
  await Promise.all([tomas.stop(), ben.stop()])
})

test('news of thousands of files at once are told as one, and the next one is told again', async () => {
  const { ask } = await as('tomas')
  const { file } = await kept(Buffer.from('flood'), 'Flood.txt')
  const reader = (await ask('/api/events')).body!.getReader()
  let heard = ''
  void (async () => {
    for (;;) {
      const { value, done } = await reader.read()
      if (done) return
      heard += new TextDecoder().decode(value)
    }
  })().catch(() => {})
  const asked = () => heard.split('event: again').length - 1
  await expect.poll(asked).toBe(1)
  await office.database.query(
    `select pg_notify('jaula_news', json_build_object('about', 'file', 'shareId', $1::uuid, 'fileId', gen_random_uuid(), 'versionId', gen_random_uuid(), 'authorId', gen_random_uuid())::text)
     from generate_series(1, 5000)`,
    [office.share],
  )
  await expect.poll(asked).toBeGreaterThan(1)
  expect(heard.split('data: {"about"').length).toBeLessThan(2500)
  const next = await (await as('priya')).ask(
    `/api/files/${file.id}/versions?baseId=${file.head!.id}&key=${randomUUID()}`,
    { method: 'POST', body: 'after it' },
  )
  expect(next.status).toBe(200)
  await expect.poll(() => heard).toContain(file.id)
  await reader.cancel()
})
