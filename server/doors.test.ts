// What a request may do, over HTTP against the real database: nothing one person sends stops the others, and nothing
// crosses from one share to another. Each of these was possible once.

import { randomBytes, randomUUID } from 'node:crypto'
import { connect } from 'node:net'
import { gzipSync } from 'node:zlib'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Draft, Entry, Problem, Saved, SearchAnswer } from '../core/contract'
import { checkName, correctName } from '../core/naming/check'
import type { Sentence } from '../core/words/said'
import { english } from '../core/words/testing'
import { closePerson, reopenPerson } from './accounts/people'
import { addPerson, setPassword } from './accounts/service'
import { type Audited, audited } from './audit/log'
import { openDemoAccounts } from './demo/accounts'
import { demoAccounts } from './demo/people'
import { databaseIsAway } from './refusal'
import { addMember, addShare } from './shares/service'
import { openTestOffice, password, signInAs, signOfLife, type TestOffice } from './testing'

let office: TestOffice
/** A share that ben manages, and that nobody else knows of. */
let secret: string
let ida: Awaited<ReturnType<typeof signInAs>>
let priya: Awaited<ReturnType<typeof signInAs>>
let tomas: Awaited<ReturnType<typeof signInAs>>
let ben: Awaited<ReturnType<typeof signInAs>>
beforeAll(async () => {
  office = await openTestOffice()
  secret = await addShare(office.database.manager, 'Salaries')
  await addMember(office.database.manager, secret, office.people.ben, 'manage')
  ;[ida, priya, tomas, ben] = (await Promise.all(
    (['ida', 'priya', 'tomas', 'ben'] as const).map((handle) => signInAs(office, handle)),
  )) as [typeof ida, typeof ida, typeof ida, typeof ida]
})
afterAll(() => office.close())

type Who = typeof ida
const newFile = (shareId: string, name: string, more = '') =>
  `/api/files?shareId=${shareId}&name=${encodeURIComponent(name)}&key=${randomUUID()}${more}`
const file = async (
  who: Who,
  shareId: string,
  name: string,
  more = '',
  body = `content of ${name}`,
): Promise<Saved> => {
  const answer = await who.ask(newFile(shareId, name, more), { method: 'POST', body })
  expect([answer.status, name]).toEqual([200, name])
  return (await answer.json()) as Saved
}
const folder = async (who: Who, shareId: string, name: string, folderId: string | null = null): Promise<Entry> =>
  (await (await who.json('/api/folders', 'POST', { shareId, folderId, name })).json()) as Entry
const act = (who: Who, what: string, changes: object[], id: string = randomUUID()) =>
  who.json('/api/acts', 'POST', { id, what, changes })
const problem = async (answer: Promise<Response> | Response): Promise<Problem> =>
  (await (await answer).json()) as Problem
/** What an answer says, without what it is about: two that must not be told apart are equal by this. */
const told = async (answer: Promise<Response>) => {
  const response = await answer
  return { status: response.status, body: await response.text() }
}

describe('folders are a tree', () => {
  test('two that would be moved into each other are refused, whole, also through what lies in them', async () => {
    const [a, b] = [await folder(ida, office.share, 'Ring A'), await folder(ida, office.share, 'Ring B')]
    const inB = await folder(ida, office.share, 'Ring in B', b.id)
    for (const into of [b.id, inB.id]) {
      const answer = await act(ida, 'move', [
        { id: a.id, folderId: into },
        { id: b.id, folderId: a.id },
      ])
      expect(await problem(answer)).toMatchObject({ type: 'invalid', title: expect.stringContaining('into itself') })
    }
    expect((await ida.ask(`/api/shares/${office.share}/entries?folderId=${inB.id}`)).status).toBe(200)
  })

  test('of opposite moves at one instant one is done, and the other told why not; none fails', async () => {
    for (let round = 0; round < 8; round++) {
      const [a, b] = [await folder(ida, office.share, `To ${round}`), await folder(ida, office.share, `Fro ${round}`)]
      const [inA, inB] = [await folder(ida, office.share, 'In', a.id), await folder(ida, office.share, 'In', b.id)]
      const answers = await Promise.all([
        act(ida, 'move', [{ id: a.id, folderId: inB.id }]),
        act(priya, 'move', [{ id: b.id, folderId: inA.id }]),
      ])
      expect(answers.map(({ status }) => status).sort()).toEqual([200, 400])
    }
  })

  test('the database itself takes no circle, no folder of another share and none that lies too deep', async () => {
    const [a, b] = [await folder(ida, office.share, 'Held A'), await folder(ida, office.share, 'Held B')]
    const { database } = office
    const into = (id: string, folderId: string) =>
      database.query('update entry set folder_id = $2 where id = $1', [id, folderId])
    await into(a.id, b.id)
    await expect(into(b.id, a.id)).rejects.toThrow('a folder lies in itself')
    const foreign = await folder(ben, secret, 'Foreign')
    await expect(into(b.id, foreign.id)).rejects.toThrow('entry_folder_in_share')
    let at = a.id
    let answer = new Response()
    for (let depth = 0; depth < 120 && (answer.ok || depth === 0); depth++) {
      answer = await ida.json('/api/folders', 'POST', { shareId: office.share, folderId: at, name: 'Down' })
      if (answer.ok) at = ((await answer.json()) as Entry).id
    }
    expect(answer.status).toBe(400)
  })
})

describe('bodies', () => {
  const anonymous = (path: string, init: RequestInit) => fetch(office.url + path, { method: 'POST', ...init })
  const json = { 'content-type': 'application/json' }

  test('are not read of people who are not signed in, nor beyond their bound, nor unpacked where nothing comes packed', async () => {
    const bomb = gzipSync(Buffer.alloc(50_000_000, 0x20))
    const first = await anonymous('/api/acts', { body: bomb, headers: { ...json, 'content-encoding': 'gzip' } })
    expect(first.status).toBe(401)
    expect(
      await problem(
        ida.ask('/api/acts', { method: 'POST', body: bomb, headers: { ...json, 'content-encoding': 'gzip' } }),
      ),
    ).toMatchObject({ status: 400 })
    const point = `/api/drafts/${randomUUID()}/points`
    const large = gzipSync(Buffer.alloc(80_000_000, 0x20))
    expect(
      (await ida.ask(point, { method: 'POST', body: large, headers: { ...json, 'content-encoding': 'gzip' } })).status,
    ).toBe(413)
    expect((await ida.json('/api/folders', 'POST', { shareId: office.share, name: 'x'.repeat(70_000) })).status).toBe(
      413,
    )
    const deep = `${'['.repeat(20_000)}${']'.repeat(20_000)}`
    expect(await problem(ida.ask('/api/folders', { method: 'POST', body: deep, headers: json }))).toMatchObject({
      title: 'This request is nested too deeply.',
    })
  })

  test.each([
    ['bad percent-encoding', 'GET', '/api/files/%ff', undefined, {}, 400],
    ['an unknown content encoding', 'POST', '/api/folders', '{}', { ...json, 'content-encoding': 'br' }, 400],
    ['another charset', 'POST', '/api/folders', '{}', { 'content-type': 'application/json; charset=utf-16' }, 400],
    ['bad gzip', 'POST', `/api/drafts/${randomUUID()}/points`, 'nope', { ...json, 'content-encoding': 'gzip' }, 400],
    ['no JSON', 'POST', '/api/folders', '{"a":', json, 400],
    ['an origin that is none', 'POST', '/api/folders', '{}', { ...json, origin: 'null' }, 403],
    ['another site', 'POST', '/api/folders', '{}', { ...json, 'sec-fetch-site': 'cross-site' }, 403],
    ['nothing at this address', 'POST', '/', '', {}, 404],
    ['an address with a slash more', 'POST', '/api/files/', '{}', json, 400],
    [
      'letters that no text has',
      'POST',
      '/api/folders',
      JSON.stringify({ shareId: randomUUID(), folderId: null, name: 'a\0b' }),
      json,
      400,
    ],
    [
      'half a letter',
      'POST',
      '/api/folders',
      '{"shareId":"01a21671-8f0a-7026-844d-087e125895fa","folderId":null,"name":"\\ud800"}',
      json,
      400,
    ],
  ] as const)('%s is answered in our own form', async (_, method, path, body, headers, status) => {
    const answer = await ida.ask(path, {
      method,
      headers: headers as Record<string, string>,
      ...(body !== undefined && { body }),
    })
    expect(answer.status).toBe(status)
    expect(answer.headers.get('content-type')).toContain('application/problem+json')
  })

  test('what turns out too large on its way is refused with a sentence, not with a broken connection', async () => {
    const endless = (pieces: number) =>
      new ReadableStream({
        pull(controller) {
          if (pieces-- > 0) controller.enqueue(new Uint8Array(100_000).fill(0x20))
          else controller.close()
        },
      })
    for (const [path, pieces] of [
      ['/api/folders', 5],
      [newFile(office.share, 'Unannounced.bin'), 250],
    ] as const) {
      const answer = await ida.ask(path, {
        method: 'POST',
        body: endless(pieces),
        headers: path === '/api/folders' ? json : {},
        duplex: 'half',
      } as RequestInit)
      expect(await problem(answer)).toMatchObject({ type: 'too-large' })
    }
  })

  test('a request for the head of the news is answered, and a file may say that it is JSON', async () => {
    expect((await ida.ask('/api/events', { method: 'HEAD' })).status).toBe(200)
    const answer = await ida.ask(newFile(office.share, 'Levels.json'), { method: 'POST', headers: json, body: '[1]' })
    expect(answer.status).toBe(200)
  })

  test('what arrives slowly holds up nobody, and comes whole; what is cut off leaves nothing', async () => {
    const name = 'Slow.bin'
    const bytes = randomBytes(3_000_000)
    const { hostname, port } = new URL(office.url)
    const cookie = ida.cookie.split(';')[0]
    const open = (what: string) =>
      new Promise<{ socket: ReturnType<typeof connect>; answer: Promise<string> }>((done) => {
        const socket = connect(Number(port), hostname, () => {
          socket.write(
            `POST ${newFile(office.share, what)} HTTP/1.1\r\nhost: ${hostname}:${port}\r\ncookie: ${cookie}\r\ncontent-length: ${bytes.length}\r\nconnection: close\r\n\r\n`,
          )
          let heard = ''
          const answer = new Promise<string>((end) => {
            socket.on('data', (piece) => {
              heard += piece
            })
            socket.on('close', () => end(heard))
            socket.on('error', () => end(heard))
          })
          done({ socket, answer })
        })
      })
    const slow = await Promise.all(Array.from({ length: 50 }, (_, at) => open(at ? `Slow ${at}.bin` : name)))
    for (const { socket } of slow) socket.write(bytes.subarray(0, 1_500_000))
    // While fifty wait for the rest, as many people as the pool has connections read and save.
    const others = await Promise.all(
      Array.from({ length: 24 }, (_, at) =>
        at % 2
          ? ida.ask(`/api/shares/${office.share}/entries`)
          : ida.ask(newFile(office.share, `Quick ${at}.txt`), { method: 'POST', body: 'quick' }),
      ),
    )
    expect(others.every(({ status }) => status === 200)).toBe(true)
    // What was saved meanwhile is being indexed; the fifty would have theirs open for as long as they wait.
    await expect
      .poll(async () => {
        const [{ busy }] = await office.database.query(
          `select count(*)::int as busy from pg_stat_activity where datname = current_database() and state like 'idle in transaction%'`,
        )
        return busy
      })
      .toBe(0)
    for (const { socket } of slow.slice(1)) socket.destroy()
    slow[0]!.socket.write(bytes.subarray(1_500_000))
    const answer = await slow[0]!.answer
    expect(answer).toMatch(/^HTTP\/1\.1 200/)
    const saved = JSON.parse(answer.slice(answer.indexOf('{'), answer.lastIndexOf('}') + 1)) as Saved
    const back = Buffer.from(await (await ida.ask(`/api/versions/${saved.version.id}/bytes`)).arrayBuffer())
    expect(back.equals(bytes)).toBe(true)
    const [{ slowOnes }] = await office.database.query(
      `select count(*)::int as "slowOnes" from entry where name like 'Slow %'`,
    )
    expect(slowOnes).toBe(0)
  })

  test('saves that wait for a locked file leave reading, and other files, what they need', async () => {
    const { file: one, version } = await file(ida, office.share, 'Locked.txt')
    const locker = office.database.createQueryRunner()
    await locker.startTransaction()
    await locker.query('select from entry where id = $1 for update', [one.id])
    const waiting = Array.from({ length: 16 }, () =>
      ida.ask(`/api/files/${one.id}/versions?baseId=${version.id}&key=${randomUUID()}`, {
        method: 'POST',
        body: 'next',
      }),
    )
    await expect
      .poll(
        async () =>
          (
            await office.database.query(
              `select count(*)::int as n from pg_stat_activity where wait_event_type = 'Lock'`,
            )
          )[0].n,
      )
      .toBeGreaterThan(0)
    const others = await Promise.all([
      ...Array.from({ length: 12 }, () => ida.ask(`/api/shares/${office.share}/entries`)),
      ...Array.from({ length: 4 }, (_, n) =>
        ida.ask(newFile(office.share, `Beside ${n}.txt`), { method: 'POST', body: 'x' }),
      ),
      fetch(`${office.url}/api/health`),
    ])
    expect(others.map(({ status }) => status)).toEqual(others.map(() => 200))
    await locker.commitTransaction()
    await locker.release()
    const answers = (await Promise.all(waiting)).map(({ status }) => status)
    expect(answers.filter((status) => status === 200)).toHaveLength(1)
    expect(answers.filter((status) => status === 409)).toHaveLength(15)
  })

  test('a statement that takes too long is ended, and said to be no answer', async () => {
    const [{ statement_timeout: longest }] = await office.database.query('show statement_timeout')
    const [{ idle_in_transaction_session_timeout: idle }] = await office.database.query(
      'show idle_in_transaction_session_timeout',
    )
    expect([longest, idle]).toEqual(['1min', '10min'])
    const own = office.database.createQueryRunner()
    await own.query(`set statement_timeout = '50ms'`)
    const error = await own.query('select pg_sleep(5)').catch((failure: unknown) => failure)
    await own.query('reset statement_timeout')
    await own.release()
    expect(databaseIsAway(error)).toBe(true)
    // A connection that PostgreSQL does not make is no fault of what was asked.
    const none = new pg.Client({ connectionString: process.env.TEST_DATABASE_URL!.replace(/[^/]*$/, 'not_there') })
    expect(databaseIsAway(await none.connect().catch((failure: unknown) => failure))).toBe(true)
  })

  test('a name of any length is shortened in time that grows with it', () => {
    const long = `${'é'.repeat(100_000)}.docx`
    // Letter by letter it took minutes, which is more than a test is given.
    expect(checkName(long)?.fault).toBe('long')
    expect(correctName(long)!.length).toBeLessThan(256)
  })
})

describe('what is not theirs', () => {
  test('is told apart from what is not there by nothing, word for word', async () => {
    const there = await file(ben, secret, 'Salary review.docx')
    const inside = await folder(ben, secret, 'Board')
    const pairs: [string, (id: string) => Promise<Response>, string][] = [
      ['file', (id) => ida.ask(`/api/files/${id}`), there.file.id],
      ['bytes', (id) => ida.ask(`/api/versions/${id}/bytes`), there.version.id],
      [
        'save',
        (id) =>
          ida.ask(`/api/files/${id}/versions?baseId=${there.version.id}&key=${randomUUID()}`, {
            method: 'POST',
            body: 'x',
          }),
        there.file.id,
      ],
      ['share', (id) => ida.ask(`/api/shares/${id}/entries`), secret],
      ['rename', (id) => act(ida, 'rename', [{ id, name: 'Mine.docx', from: 'Wrong.docx' }]), there.file.id],
      ['bring back', (id) => act(ida, 'bring back', [{ id }]), there.file.id],
      ['another ending', (id) => act(ida, 'rename', [{ id, name: 'Mine.pdf' }]), there.file.id],
      ['move into', (id) => act(ida, 'move', [{ id: there.file.id, folderId: id, path: ['New'] }]), inside.id],
      ['hold', (id) => ida.json(`/api/entries/${id}/hold`, 'PUT', { why: 'x' }), there.file.id],
      ['label', (id) => ida.json(`/api/versions/${id}/label`, 'PUT', { label: 'x' }), there.version.id],
      [
        'presence',
        (id) => ida.json(`/api/files/${id}/presence`, 'PUT', { pageId: randomUUID(), leaving: false }),
        there.file.id,
      ],
      ['protection', (id) => ida.ask(`/api/protection?kind=document&fileId=${id}`), there.file.id],
      [
        'protection of a folder',
        (id) => ida.ask(`/api/protection?kind=document&shareId=${office.share}&folderId=${id}`),
        inside.id,
      ],
      [
        'save into a folder',
        (id) => ida.ask(newFile(office.share, 'Planted.txt', `&folderId=${id}`), { method: 'POST', body: 'x' }),
        inside.id,
      ],
      [
        'save below a folder',
        (id) =>
          ida.ask(newFile(office.share, 'Planted.txt', `&folderId=${id}&path=Deeper`), { method: 'POST', body: 'x' }),
        inside.id,
      ],
      [
        'folder in a folder',
        (id) => ida.json('/api/folders', 'POST', { shareId: office.share, folderId: id, name: 'Planted' }),
        inside.id,
      ],
      [
        'draft of a file',
        (id) => ida.json(`/api/drafts/${id}`, 'PUT', signOfLife(id, { fileId: there.file.id })),
        randomUUID(),
      ],
    ]
    for (const [what, ask, id] of pairs)
      expect([what, await told(ask(id))]).toEqual([
        what,
        await told(
          what === 'draft of a file'
            ? ida.json(`/api/drafts/${id}`, 'PUT', signOfLife(id, { fileId: randomUUID() }))
            : ask(randomUUID()),
        ),
      ])
    const planted = await office.database.query(`select 1 from entry where name like 'Planted%' or name = 'Deeper'`)
    expect(planted).toEqual([])
  })

  test('a draft never takes on a file that its person may not see, nor shows the name of one that they may see no more', async () => {
    const foreign = await file(ben, secret, 'Bonus plan.docx')
    const id = randomUUID()
    expect((await ida.json(`/api/drafts/${id}`, 'PUT', signOfLife(id))).status).toBe(200)
    // Its device may say what it will: nothing of it is refused, and nothing foreign is taken on.
    expect(
      (
        await ida.json(
          `/api/drafts/${id}`,
          'PUT',
          signOfLife(id, {
            fileId: foreign.file.id,
            headVersionId: foreign.version.id,
            opening: 'half \ud83d',
            lastEditAt: '0000-01-01T00:00:00Z',
          }),
        )
      ).status,
    ).toBe(200)
    const mine = (await (await ida.ask(`/api/drafts/${id}`)).json()) as { draft: Draft }
    expect(mine.draft).toMatchObject({ fileId: null, file: null, opening: 'half ' })
    expect(((await (await ben.ask('/api/drafts')).json()) as Draft[]).map((draft) => draft.id)).not.toContain(id)
    await addMember(office.database.manager, secret, office.people.ida, 'edit')
    await ida.json(`/api/drafts/${id}`, 'PUT', signOfLife(id, { fileId: foreign.file.id }))
    const names = async () =>
      ((await (await ida.ask('/api/drafts')).json()) as Draft[]).find((draft) => draft.id === id)?.file?.name ?? null
    expect(await names()).toBe('Bonus plan.docx')
    await office.database.query('delete from access_grant where realm_id = $1 and person_id = $2', [
      secret,
      office.people.ida,
    ])
    expect(await names()).toBe(null)
    expect(
      (await ida.json(`/api/drafts/${id}`, 'PUT', signOfLife(id, { journalSeq: 3, fileId: foreign.file.id }))).status,
    ).toBe(200)
  })

  test('a manager sees open work of the share’s people, and none that was closed or let go', async () => {
    const { file: own, version } = await file(ida, office.share, 'Managed.docx')
    const id = randomUUID()
    await ida.json(`/api/drafts/${id}`, 'PUT', signOfLife(id, { fileId: own.id, baseVersionId: version.id }))
    expect((await priya.ask(`/api/drafts/${id}`)).status).toBe(200)
    expect((await priya.json(`/api/drafts/${id}/end`, 'POST', { state: 'let go' })).status).toBe(404)
    await ida.json(`/api/drafts/${id}/end`, 'POST', { state: 'closed' })
    expect((await priya.ask(`/api/drafts/${id}`)).status).toBe(404)
    expect((await priya.json(`/api/drafts/${id}/safe-copy`, 'POST', {})).status).toBe(404)
  })

  test('answers to repeated requests are given to members only, and the same key with something else is refused', async () => {
    const key = randomUUID()
    const address = `/api/files?shareId=${office.share}&name=Keyed.txt&key=${key}`
    const first = (await (await ida.ask(address, { method: 'POST', body: 'one' })).json()) as Saved
    expect(((await (await ida.ask(address, { method: 'POST', body: 'one' })).json()) as Saved).version.id).toBe(
      first.version.id,
    )
    expect(await problem(ida.ask(address, { method: 'POST', body: 'two' }))).toMatchObject({ type: 'invalid' })
    expect(await problem(priya.ask(address, { method: 'POST', body: 'one' }))).toMatchObject({ type: 'invalid' })
    expect((await ben.ask(address, { method: 'POST', body: 'one' })).status).toBe(404)
    const next = `/api/files/${first.file.id}/versions?baseId=${first.version.id}&key=${randomUUID()}`
    expect((await ida.ask(next, { method: 'POST', body: 'three' })).status).toBe(200)
    expect((await ida.ask(next, { method: 'POST', body: 'three' })).status).toBe(200)
    expect(await problem(ida.ask(next, { method: 'POST', body: 'four' }))).toMatchObject({ type: 'invalid' })
    const id = randomUUID()
    expect((await act(ida, 'rename', [{ id: first.file.id, name: 'Keyed twice.txt' }], id)).status).toBe(200)
    expect((await act(ida, 'rename', [{ id: first.file.id, name: 'Keyed twice.txt' }], id)).status).toBe(200)
    expect((await act(ida, 'rename', [{ id: first.file.id, name: 'Otherwise.txt' }], id)).status).toBe(400)
    expect((await act(ben, 'rename', [{ id: first.file.id, name: 'Keyed twice.txt' }], id)).status).toBe(404)
    expect((await ben.ask(`/api/acts/${id}/undo`, { method: 'POST' })).status).toBe(404)
  })

  test('words of other shares are neither corrected to nor in the way, and a file that was moved away is found no more', async () => {
    const search = async (who: Who, q: string) =>
      (await (await who.ask(`/api/search?q=${encodeURIComponent(q)}`)).json()) as SearchAnswer
    for (let n = 0; n < 60; n++) await file(ben, secret, `zephyr${String.fromCharCode(97 + (n % 26))}${n}.txt`)
    await file(ben, secret, 'windfall.txt')
    await file(ida, office.share, 'zephyrzz windlass.txt')
    const settled = () =>
      expect
        .poll(async () => (await office.database.query('select count(*)::int as n from search_queue'))[0].n, {
          timeout: 20_000,
        })
        .toBe(0)
    await settled()
    expect((await search(ida, 'wimdfall')).taken).toEqual([])
    expect((await search(ben, 'wimdfall')).taken).toEqual([{ typed: 'wimdfall', taken: ['windfall'] }])
    expect((await search(ida, 'zephyr')).hits.map((hit) => hit.file.name)).toEqual(['zephyrzz windlass.txt'])
    const gone = await file(priya, office.share, 'quoinline.txt')
    await settled()
    expect((await search(tomas, 'quoinline')).hits).toHaveLength(1)
    const vault = await addShare(office.database.manager, 'Vault')
    await addMember(office.database.manager, vault, office.people.priya, 'edit')
    expect((await act(ida, 'move', [{ id: gone.file.id, shareId: vault, folderId: null }])).status).toBe(404)
    expect((await act(priya, 'move', [{ id: gone.file.id, shareId: vault, folderId: null }])).status).toBe(200)
    expect((await search(tomas, 'quoinline')).hits).toEqual([])
    const log = await office.database.query(
      `select what, share_id from audit_log where facts ->> 'entryId' = $1 order by what`,
      [gone.file.id],
    )
    expect(log).toEqual([
      { what: 'brought in from another share', share_id: vault },
      { what: 'taken to another share', share_id: office.share },
    ])
  })

  test('a copy of something in a share that one is no member of any more says nothing of where it came from', async () => {
    const origin = await file(ben, secret, 'Origin.docx')
    await addMember(office.database.manager, secret, office.people.ida, 'view')
    const copy = await file(ida, office.share, 'Copy.docx', `&originId=${origin.version.id}&reason=copied`)
    const facts = async () =>
      ((await (await ida.ask(`/api/files/${copy.file.id}`)).json()) as { origin: object | null }).origin
    expect(await facts()).toMatchObject({ fileId: origin.file.id })
    await office.database.query('delete from access_grant where realm_id = $1 and person_id = $2', [
      secret,
      office.people.ida,
    ])
    expect(await facts()).toBe(null)
  })
})

describe('holds and removal', () => {
  test('what is held is not removed, takes its hold along, and is let go of by whoever holds it', async () => {
    const kept = await folder(priya, office.share, 'Evidence')
    const { file: inside } = await file(priya, office.share, 'Photo list.txt', `&folderId=${kept.id}`)
    expect((await priya.json(`/api/entries/${kept.id}/hold`, 'PUT', { why: 'An inquiry' })).status).toBe(204)
    for (const id of [kept.id, inside.id])
      expect(await problem(act(priya, 'remove', [{ id }]))).toMatchObject({
        type: 'not-allowed',
        title: expect.stringContaining('on hold'),
      })
    expect((await act(priya, 'move', [{ id: inside.id, folderId: null }])).status).toBe(200)
    expect(await problem(act(priya, 'remove', [{ id: inside.id }]))).toMatchObject({ type: 'not-allowed' })
    await addMember(office.database.manager, office.share, office.people.ben, 'manage')
    expect(await problem(ben.json(`/api/entries/${kept.id}/hold`, 'PUT', { why: null }))).toMatchObject({
      type: 'not-allowed',
      title: expect.stringContaining('priya'),
    })
    await office.database.query('delete from access_grant where realm_id = $1 and person_id = $2', [
      office.share,
      office.people.ben,
    ])
    const seen = async (who: Who) =>
      ((await (await who.ask(`/api/files/${inside.id}`)).json()) as { held: Sentence | null }).held
    expect(await seen(ida)).toBe('An inquiry')
    expect(JSON.stringify(await seen(tomas))).not.toContain('inquiry')
    expect((await priya.json(`/api/entries/${inside.id}/hold`, 'PUT', { why: null })).status).toBe(204)
    expect((await act(priya, 'remove', [{ id: inside.id }])).status).toBe(200)
    await expect(office.owner.query('delete from audit_log')).rejects.toThrow('never changes')
  })

  test('a folder that is removed while others save into it loses nothing that was acknowledged', async () => {
    for (let round = 0; round < 6; round++) {
      const outer = await folder(ida, office.share, `Busy ${round}`)
      const inner = await folder(ida, office.share, 'Inner', outer.id)
      const saves = Array.from({ length: 12 }, (_, n) =>
        (n % 2 ? ida : priya).ask(newFile(office.share, `Save ${n}.txt`, `&folderId=${n % 3 ? inner.id : outer.id}`), {
          method: 'POST',
          body: 'x',
        }),
      )
      const [removed, ...answers] = await Promise.all([act(priya, 'remove', [{ id: outer.id }]), ...saves])
      expect(removed!.status).toBe(200)
      expect(new Set(answers.map(({ status }) => status)).size).toBeLessThanOrEqual(2)
      for (const answer of answers) expect([200, 404]).toContain(answer.status)
    }
    const [{ astray }] = await office.database.query(
      `select count(*)::int as astray from entry e join entry f on f.id = e.folder_id where e.removed_at is null and f.removed_at is not null`,
    )
    expect(astray).toBe(0)
  })
})

describe('signing in', () => {
  const attempt = (handle: string, secretWord: string, headers: Record<string, string> = {}) =>
    fetch(`${office.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...headers },
      body: JSON.stringify({ handle, password: secretWord }),
    })
  const cookies = (answer: Response) => answer.headers.getSetCookie().map((one) => one.split(';')[0]!)

  test('any number of guesses at once are counted as one after the other, and keep nobody out of a browser they know', async () => {
    await addPerson(office.database.manager, { handle: 'marta', name: 'Marta', password, administrator: false })
    const known = cookies(await attempt('marta', password)).find((one) => one.startsWith('jaula_browser'))!
    const heard: string[] = []
    const hear = (entry: unknown) => heard.push((entry as Audited).what)
    audited.subscribe(hear)
    const answers = await Promise.all(Array.from({ length: 60 }, () => attempt('marta', 'wrong')))
    const evaluated = answers.filter(({ status }) => status === 403).length
    expect(evaluated).toBeLessThanOrEqual(5)
    expect(answers.filter(({ status }) => status === 429)).toHaveLength(60 - evaluated)
    const late = await attempt('marta', password)
    expect(late.status).toBe(429)
    expect(Number(late.headers.get('retry-after'))).toBeGreaterThan(0)
    expect((await attempt('marta', password, { cookie: known })).status).toBe(200)
    expect((await attempt('ida', password)).status).toBe(200)
    audited.unsubscribe(hear)
    expect(heard.filter((what) => what === 'sign-in refused')).toHaveLength(evaluated)
    const log = await office.database.query(
      `select what, count(*)::int as n from audit_log where facts ->> 'handle' = 'marta' group by what order by what`,
    )
    expect(log).toEqual([
      { what: 'kept from signing in', n: 61 - evaluated },
      { what: 'sign-in refused', n: evaluated },
    ])
  })

  test('a new session takes the old one’s place, others can be ended, and their news with them', async () => {
    const first = await attempt('tomas', password)
    const second = await attempt('tomas', password, { cookie: cookies(first).join('; ') })
    const by =
      (answer: Response) =>
      (path: string, init: RequestInit = {}) =>
        fetch(office.url + path, { ...init, headers: { cookie: cookies(answer).join('; '), ...init.headers } })
    expect((await by(first)('/api/shares')).status).toBe(401)
    const third = await attempt('tomas', password)
    const news = (await by(third)('/api/events')).body!.getReader()
    await news.read()
    const list = (await (await by(second)('/api/sessions')).json()) as { id: string; here: boolean }[]
    expect(list.filter(({ here }) => here)).toHaveLength(1)
    expect(await (await by(second)('/api/sessions/end-others', { method: 'POST' })).json()).toMatchObject({
      ended: list.length - 1,
    })
    for (let end = false; !end; ) end = (await news.read()).done
    expect((await by(third)('/api/shares')).status).toBe(401)
    expect((await by(second)('/api/shares')).status).toBe(200)
  })

  test('a session that was not used for days ends, and is gone with the next one', async () => {
    const answer = await attempt('ida', password)
    const ask = () => fetch(`${office.url}/api/shares`, { headers: { cookie: cookies(answer).join('; ') } })
    expect((await ask()).status).toBe(200)
    await office.database.query(`update session set used_at = now() - interval '8 days' where person_id = $1`, [
      office.people.ida,
    ])
    expect((await ask()).status).toBe(401)
    ida = await signInAs(office, 'ida')
    const [{ n }] = await office.database.query('select count(*)::int as n from session where person_id = $1', [
      office.people.ida,
    ])
    expect(n).toBe(1)
  })

  test('a password is changed with the present one, not to one that is soon guessed, and ends the other sessions', async () => {
    await addPerson(office.database.manager, { handle: 'oskar', name: 'Oskar', password, administrator: false })
    const [one, two] = [await attempt('oskar', password), await attempt('oskar', password)]
    const change = (present: string, next: string) =>
      fetch(`${office.url}/api/password`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', cookie: cookies(one).join('; ') },
        body: JSON.stringify({ present, next }),
      })
    expect(await problem(change('wrong', 'windlass and sluice'))).toMatchObject({ type: 'wrong-password' })
    for (const weak of ['password12', 'basketball1234', 'oskar oskar oskar', 'aaaaaaaaaaaa'])
      expect([weak, english((await problem(change(password, weak))).fields?.password)]).toEqual([
        weak,
        expect.stringMatching(/^(This is one of|A password with|Use more)/),
      ])
    expect((await change(password, 'windlass and sluice')).status).toBe(204)
    expect((await fetch(`${office.url}/api/shares`, { headers: { cookie: cookies(two).join('; ') } })).status).toBe(401)
    expect((await attempt('oskar', 'windlass and sluice')).status).toBe(200)
  })

  test('the demo’s accounts are closed without the demo, unless their passwords are their own', async () => {
    const { manager } = office.database
    const demo = demoAccounts.find(({ handle }) => handle === 'ben')!
    await setPassword(
      manager,
      { id: office.people.ben, handle: 'ben', name: 'ben', administrator: false, mail: null },
      demo.password,
    )
    const inside = await attempt('ben', demo.password)
    expect(inside.status).toBe(200)
    await openDemoAccounts(office.database, false)
    expect((await attempt('ben', demo.password)).status).toBe(403)
    expect((await fetch(`${office.url}/api/shares`, { headers: { cookie: cookies(inside).join('; ') } })).status).toBe(
      401,
    )
    expect((await attempt('priya', password)).status).toBe(200)
    await openDemoAccounts(office.database, true)
    expect((await attempt('ben', demo.password)).status).toBe(200)
    // What an administrator closed is not opened by starting the demo.
    await manager.transaction((inside) =>
      closePerson(inside, office.people.priya, office.people.ben, office.people.priya),
    )
    await openDemoAccounts(office.database, true)
    expect((await attempt('ben', demo.password)).status).toBe(403)
    await manager.transaction((inside) => reopenPerson(inside, office.people.priya, office.people.ben))
    expect((await attempt('ben', demo.password)).status).toBe(200)
  })

  test('answers stay in no cache, and bytes are shown again only after asking', async () => {
    const { version } = await file(ida, office.share, 'Cached.txt')
    const bytes = await ida.ask(`/api/versions/${version.id}/bytes`)
    expect(bytes.headers.get('cache-control')).toBe('private, no-cache')
    const again = await ida.ask(`/api/versions/${version.id}/bytes`, {
      headers: { 'if-none-match': bytes.headers.get('etag')! },
    })
    expect(again.status).toBe(304)
    expect((await ida.ask('/api/shares')).headers.get('cache-control')).toBe('no-store')
    const list = await ida.ask(`/api/shares/${office.share}/entries`, { headers: { 'accept-encoding': 'gzip' } })
    expect(list.headers.get('content-encoding')).toBe('gzip')
    expect(bytes.headers.get('content-encoding')).toBe(null)
  })
})
