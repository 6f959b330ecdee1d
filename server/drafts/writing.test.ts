// The real keeper against the real server and its PostgreSQL: two processes, two devices, everything that fails
// between them; and what the server does for whoever comes late, twice, or from a Jaula before epochs.
import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { type PointTaken, Problem, type Saved, type Standing } from '../../core/contract'
import { chainOf, contentText, type Digest, genesis, recordText } from '../../core/recovery/chain'
import { anyHistory, happen, marksOf, textOf, World } from '../../core/recovery/keeper.world'
import { Fault, type SharedStorage } from '../../core/recovery/ports'
import { openTestOffice, signInAs, type TestOffice } from '../testing'

let office: TestOffice
let urls: string[] = []
beforeAll(async () => {
  office = await openTestOffice()
  urls = [office.url, await office.another()]
})
afterAll(() => office.close())

type Ask = Awaited<ReturnType<typeof signInAs>>['ask']
async function answered<T>(asking: Promise<Response>): Promise<T> {
  const response = await asking.catch(() => {
    throw new Fault({ type: 'storage-unavailable', title: 'away', status: 0 })
  })
  const body = response.status === 204 ? undefined : await response.json()
  if (!response.ok) throw new Fault(Problem.parse(body))
  return body as T
}
const json = (ask: Ask, path: string, method: string, body: unknown) =>
  ask(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })

/** Shared storage as a device asks for it, over HTTP. */
function storageOver(ask: Ask): SharedStorage {
  return {
    point: async (id, body) => ({
      ...(await answered<PointTaken>(json(ask, `/api/drafts/${id}/points`, 'POST', body))),
      sent: 1,
    }),
    heartbeat: (id, body) => answered(json(ask, `/api/drafts/${id}`, 'PUT', body)),
    takeOver: (id, body) => answered(json(ask, `/api/drafts/${id}/writer`, 'POST', body)),
    content: (id) => answered(ask(`/api/drafts/${id}`)),
    end: (id, body) => answered(json(ask, `/api/drafts/${id}/end`, 'POST', body)),
    save: ({ target, base, bytes, ...save }) => {
      const query = new URLSearchParams({
        key: save.key,
        reason: save.reason,
        ...(save.draftId && { draftId: save.draftId, draftSeq: String(save.seq), draftEpoch: String(save.epoch) }),
        ...(save.writerId && { writerId: save.writerId }),
        ...(save.head && { draftHead: save.head }),
        ...('shareId' in target ? { shareId: target.shareId, name: target.name } : {}),
        ...(base && 'version' in base && { baseId: base.version }),
      })
      const path = 'shareId' in target ? '/api/files' : `/api/files/${target.fileId}/versions`
      return answered<Saved>(
        ask(`${path}?${query}`, {
          method: 'POST',
          headers: { 'content-type': 'application/octet-stream' },
          body: bytes as BodyInit,
        }),
      )
    },
  }
}

/** Marks in any draft of a person's, or in the newest version of any file. */
async function marksOnStorage(ask: Ask): Promise<Set<string>> {
  const marks = new Set<string>()
  const drafts: { id: string }[] = await office.database.query('select id from draft')
  for (const { id } of drafts) {
    const { lines } = await answered<{ lines: string[] }>(ask(`/api/drafts/${id}`))
    for (const mark of marksOf(lines)) marks.add(mark)
  }
  const heads: { id: string }[] = await office.database.query(
    `select head_version_id as id from entry where kind = 'file' and type = 'bin'`,
  )
  for (const { id } of heads) {
    const bytes = new Uint8Array(await (await ask(`/api/versions/${id}/bytes`)).arrayBuffer())
    for (const mark of textOf(bytes)) marks.add(mark)
  }
  return marks
}

test('whatever happens between two devices, two servers and PostgreSQL: nothing acknowledged is missing', async () => {
  const asks = await Promise.all(urls.map(async (url) => (await signInAs({ url }, 'ida')).ask))
  await fc.assert(
    fc.asyncProperty(anyHistory(40), async (history) => {
      const world = new World(asks.map(storageOver), 2, null, () => randomUUID())
      world.shareId = office.share
      world.blank.add(world.draftId)
      const tab = world.newTab(world.devices[0]!)
      await tab.open(world.draftId)
      await world.still()
      world.blank.clear()
      for (const [name, n] of history) await happen(world, name, n)
      await world.calm()
      const there = new Set([
        ...(await marksOnStorage(asks[0]!)),
        ...world.devices.flatMap(({ disk }) => [...disk.marks()]),
      ])
      const missing = [...world.acknowledged.keys(), ...world.onStorage].filter(
        (mark) => !there.has(mark) && !(world.lost.has(mark) && !world.onStorage.has(mark)),
      )
      expect(missing).toEqual([])
      await office.database.query('delete from draft')
    }),
    { numRuns: Number(process.env.KEEPER_SERVER_RUNS ?? 7) },
  )
}, 300_000)

// -- The server's half by itself ------------------------------------------------------------------------

const sender = () => ({ epoch: 1, writerId: randomUUID() })
const beat = (id: string, more: object = {}) => ({
  id,
  kind: 'document',
  deviceId: randomUUID(),
  deviceName: 'a device',
  bornAt: new Date().toISOString(),
  baseVersionId: null,
  fileId: null,
  savedSeq: 0,
  journalSeq: 0,
  lastEditAt: null,
  opening: '',
  beyond: { edits: 0, charactersAdded: 0, charactersRemoved: 0, cells: 0 },
  ...more,
})
const lines = (from: number, to: number, mark = 'x') =>
  Array.from({ length: to - from + 1 }, (_, n) =>
    recordText({ seq: from + n, at: 1, edit: { mark: `${mark}${from + n}` } }),
  )
const start = { seq: 0, digest: genesis(null) }
const endOf = (texts: string[], after = start): { seq: number; digest: Digest } => chainOf(texts, after).at(-1)!

describe('a draft on shared storage', () => {
  test('takes records byte for byte, whatever they hold, and refuses none for its content', async () => {
    const { json: ask, ask: get } = await signInAs(office, 'ida')
    const odd = ['\u0000', '\ud800', '\ud83d\ude00', '1e400', '__proto__'].map((text, n) =>
      recordText({ seq: n + 1, at: 1, edit: { [text]: text, n: n / 3 } }),
    )
    const id = randomUUID()
    const answer = await ask(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: beat(id, { sender: sender() }),
      after: start,
      lines: odd,
    })
    expect(await answer.json()).toMatchObject({
      verdict: 'taken',
      pointSeq: odd.length,
      standing: { pointHead: endOf(odd).digest },
    })
    expect(await answered<{ lines: string[] }>(get(`/api/drafts/${id}`))).toMatchObject({ lines: odd })
  })

  test('answers an older writer with what is there, changes nothing for it, and gives one epoch for one take-over', async () => {
    const { json: ask } = await signInAs(office, 'ida')
    const id = randomUUID()
    const first = sender()
    const firstDevice = randomUUID()
    const mine = lines(1, 3)
    await ask(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: beat(id, { sender: first, journalSeq: 9, deviceName: 'the first', deviceId: firstDevice }),
      after: start,
      lines: mine,
    })
    const asked = { from: 1, writerId: randomUUID(), deviceId: randomUUID(), deviceName: 'the second' }
    const overs = await Promise.all(Array.from({ length: 5 }, () => ask(`/api/drafts/${id}/writer`, 'POST', asked)))
    for (const over of overs)
      expect(await over.json()).toMatchObject({
        taken: true,
        standing: { epoch: 2, deviceName: 'the second', pointSeq: 3 },
      })
    const other = await ask(`/api/drafts/${id}/writer`, 'POST', { ...asked, writerId: randomUUID() })
    expect(await other.json()).toMatchObject({ taken: false, standing: { epoch: 2 } })
    // What the first one still had is known to be missing.
    const draft = await answered<{ draft: object }>((await signInAs(office, 'ida')).ask(`/api/drafts/${id}`))
    expect(draft.draft).toMatchObject({ leftBehind: { edits: 6, deviceName: 'the first' } })
    // When that device writes again it is no longer missing.
    const back = await ask(`/api/drafts/${id}/writer`, 'POST', {
      from: 2,
      writerId: randomUUID(),
      deviceId: firstDevice,
      deviceName: 'the first',
    })
    expect(await back.json()).toMatchObject({ taken: true, standing: { epoch: 3 } })
    const again = await answered<{ draft: object }>((await signInAs(office, 'ida')).ask(`/api/drafts/${id}`))
    expect(again.draft).toMatchObject({ leftBehind: null })
    await ask(`/api/drafts/${id}/writer`, 'POST', { ...asked, from: 3, writerId: randomUUID() })
    const late = await ask(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: beat(id, { sender: first, deviceName: 'the first' }),
      after: endOf(mine),
      lines: lines(4, 6),
    })
    expect(await late.json()).toMatchObject({
      verdict: 'superseded',
      pointSeq: 3,
      standing: { deviceName: 'the second' },
    })
    const silent = await ask(
      `/api/drafts/${id}`,
      'PUT',
      beat(id, { sender: first, deviceName: 'the first', savedSeq: 3 }),
    )
    expect(await silent.json()).toMatchObject({
      verdict: 'superseded',
      standing: { savedSeq: 0, deviceName: 'the second' },
    })
  })

  test('does not take a number for its content: what is there under it stays', async () => {
    const { json: ask } = await signInAs(office, 'ida')
    const id = randomUUID()
    const own = sender()
    await ask(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: beat(id, { sender: own }),
      after: start,
      lines: lines(1, 4),
    })
    const differs = await ask(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: beat(id, { sender: own }),
      after: start,
      lines: lines(1, 6, 'another '),
    })
    expect(await differs.json()).toMatchObject({ verdict: 'differs', pointSeq: 4 })
    const gap = await ask(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: beat(id, { sender: own }),
      after: endOf(lines(1, 6)),
      lines: lines(7, 8),
    })
    expect(await gap.json()).toMatchObject({ verdict: 'gap', pointSeq: 4 })
  })

  test('that is finished stays so, whatever sign of life comes late; a closing waits for none', async () => {
    const { json: ask } = await signInAs(office, 'ida')
    for (const legacy of [false, true])
      for (const state of ['finished', 'closed']) {
        const id = randomUUID()
        const own = legacy ? {} : { sender: sender() }
        const alive = beat(id, { ...own, journalSeq: 1 })
        await ask(`/api/drafts/${id}`, 'PUT', alive)
        const raced = await Promise.all([
          ask(`/api/drafts/${id}/end`, 'POST', { state, heartbeat: alive }),
          ...Array.from({ length: 6 }, () => ask(`/api/drafts/${id}`, 'PUT', alive)),
        ])
        expect(raced.map(({ status }) => status)).toEqual(raced.map(() => 200))
        await ask(`/api/drafts/${id}`, 'PUT', alive)
        const [row] = await office.database.query('select state from draft where id = $1', [id])
        expect([legacy, state, row.state]).toEqual([legacy, state, state])
      }
  })

  test('whose points an earlier Jaula took, without digests, goes on from them by their content', async () => {
    const { json: ask, ask: get } = await signInAs(office, 'ida')
    const id = randomUUID()
    await ask(`/api/drafts/${id}`, 'PUT', beat(id, { journalSeq: 2 }))
    // As its rows were: key order and all else as the database's JSON has it.
    const records = [1, 2].map((seq) => ({ seq, at: 1, edit: { b: { y: 1, x: [1.5, null] }, a: `é${seq}` } }))
    await office.database.query(
      'insert into recovery_point (draft_id, from_seq, to_seq, records) values ($1, 1, 2, $2)',
      [id, JSON.stringify(records)],
    )
    await office.database.query('update draft set point_seq = 2, point_head = null where id = $1', [id])
    const asked = { from: 0, writerId: randomUUID(), deviceId: randomUUID(), deviceName: 'new' }
    const { standing } = await answered<{ standing: Standing }>(ask(`/api/drafts/${id}/writer`, 'POST', asked))
    const known = chainOf(records.map(contentText), start)
    expect(standing).toMatchObject({ epoch: 1, pointSeq: 2, pointHead: known.at(-1)!.digest })
    const more = await ask(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: beat(id, { sender: { epoch: 1, writerId: asked.writerId } }),
      after: { seq: 2, digest: known.at(-1)!.digest },
      lines: lines(3, 3),
    })
    expect(await more.json()).toMatchObject({ verdict: 'taken', pointSeq: 3 })
    const content = await answered<{ lines: string[] }>(get(`/api/drafts/${id}`))
    expect(content.lines.slice(0, 2).map((line) => JSON.parse(line))).toEqual(records)
  })

  test('of a tab of a Jaula before epochs is taken, never refused: into a draft of its own when it is gone on with', async () => {
    const { json: ask, ask: get } = await signInAs(office, 'ida')
    const id = randomUUID()
    const records = (from: number, to: number, mark = 'x') =>
      Array.from({ length: to - from + 1 }, (_, n) => ({ seq: from + n, at: 1, edit: { mark: `${mark}${from + n}` } }))
    const deviceId = randomUUID()
    const old = (journalSeq: number) => beat(id, { deviceId, journalSeq, deviceName: 'the old tab' })
    const point = async (list: object[]) =>
      answered<PointTaken>(ask(`/api/drafts/${id}/points`, 'POST', { heartbeat: old(9), records: list }))
    expect(await point(records(1, 3))).toMatchObject({ pointSeq: 3 })
    // Somebody goes on with it: by content, the chain is the same.
    const asked = { from: 0, writerId: randomUUID(), deviceId: randomUUID(), deviceName: 'new' }
    const over = await answered<{ standing: Standing }>(ask(`/api/drafts/${id}/writer`, 'POST', asked))
    const known = chainOf(records(1, 3).map(contentText), start)
    expect(over.standing).toMatchObject({ epoch: 1, pointHead: known.at(-1)!.digest })
    await ask(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: beat(id, { sender: { epoch: 1, writerId: asked.writerId } }),
      after: endOf(records(1, 3).map(contentText)),
      lines: lines(4, 5, 'new '),
    })
    // The old tab goes on as if nothing had been, also with what it sends twice.
    expect(await answered<PointTaken>(ask(`/api/drafts/${id}`, 'PUT', old(5)))).toMatchObject({ pointSeq: 3 })
    expect(await point(records(4, 5, 'old '))).toMatchObject({ pointSeq: 5 })
    expect(await point(records(4, 7, 'old '))).toMatchObject({ pointSeq: 7 })
    expect(await answered<PointTaken>(ask(`/api/drafts/${id}`, 'PUT', old(7)))).toMatchObject({ pointSeq: 7 })
    const main = await answered<{ lines: string[] }>(get(`/api/drafts/${id}`))
    expect(marksOf(main.lines)).toEqual(['x1', 'x2', 'x3', 'new 4', 'new 5'])
    const forks: { id: string }[] = await office.database.query('select id from draft where forked_from = $1', [id])
    expect(forks).toHaveLength(1)
    const fork = await answered<{ lines: string[]; draft: object }>(get(`/api/drafts/${forks[0]!.id}`))
    expect(marksOf(fork.lines)).toEqual(['x1', 'x2', 'x3', 'old 4', 'old 5', 'old 6', 'old 7'])
    expect(fork.draft).toMatchObject({ forkOf: { draftId: id, seq: 3 }, deviceName: 'the old tab' })
  })
})

test('hundreds of saves and points at once: none fails, and each save makes one version', async () => {
  const asks = await Promise.all(urls.map(async (url) => (await signInAs({ url }, 'ida')).ask))
  const storages = asks.map(storageOver)
  const place = { shareId: office.share, folderId: null }
  // A thousand, with KEEPER_PAIRS=1000, have shown nothing else.
  const pairs = Number(process.env.KEEPER_PAIRS ?? 400)
  const files = await Promise.all(
    Array.from({ length: 8 }, async (_, n) => {
      const id = randomUUID()
      const own = sender()
      const made = await storages[0]!.save({
        key: randomUUID(),
        draftId: id,
        personId: '',
        order: 1,
        seq: 0,
        head: null,
        ...own,
        base: null,
        at: 0,
        reason: 'saved',
        bytes: new TextEncoder().encode(`[]${n}`),
        target: { ...place, name: `Pairs ${id}.txt` },
        tries: 0,
        refused: null,
      })
      return { id, own, fileId: made.file.id, head: made.version.id, end: start, versions: 1 }
    }),
  )
  const failures: unknown[] = []
  await Promise.all(
    files.map(async (file, n) => {
      for (let pair = 0; pair < pairs / files.length; pair++) {
        const more = lines(file.end.seq + 1, file.end.seq + 1)
        const results = await Promise.allSettled([
          storages[pair % 2]!.save({
            key: randomUUID(),
            draftId: file.id,
            personId: '',
            order: 1,
            seq: file.end.seq,
            head: file.end.digest,
            ...file.own,
            base: { version: file.head },
            at: 0,
            reason: 'saved',
            bytes: new TextEncoder().encode(`[]${n} ${pair}`),
            target: { fileId: file.fileId, name: null },
            tries: 0,
            refused: null,
          }),
          storages[(pair + 1) % 2]!.point(file.id, {
            heartbeat: {
              ...beat(file.id, { fileId: file.fileId, journalSeq: file.end.seq + 1 }),
              sender: file.own,
            } as never,
            after: file.end,
            lines: more,
          }),
        ])
        const [saved, taken] = results
        for (const one of results) if (one.status === 'rejected') failures.push(one.reason)
        if (saved.status === 'fulfilled') {
          file.head = saved.value.version.id
          file.versions++
        }
        if (taken.status === 'fulfilled' && taken.value.verdict === 'taken') file.end = endOf(more, file.end)
        else failures.push(taken)
      }
    }),
  )
  expect(failures).toEqual([])
  for (const { fileId, versions } of files) {
    const [{ n }] = await office.database.query('select count(*)::int as n from version where file_id = $1', [fileId])
    expect(n).toBe(versions)
  }
}, 200_000)
