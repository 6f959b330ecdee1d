// A share as it was at a moment: whatever people did since is told, brought back as one act, and undone as one.
import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { ActResult, Moment, PlaceChanges, Problem, Saved } from '../../core/contract'
import { grantRight } from '../rights/service'
import { openTestOffice, signInAs, type TestOffice } from '../testing'

let office: TestOffice
let priya: Awaited<ReturnType<typeof signInAs>>
beforeAll(async () => {
  office = await openTestOffice()
  priya = await signInAs(office, 'priya')
})
afterAll(() => office.close())

const json = async <T>(answer: Promise<Response>): Promise<T> => {
  const response = await answer
  if (!response.ok) throw new Error(await response.text())
  return (await response.json()) as T
}
const folder = (name: string, folderId: string | null = null) =>
  json<{ id: string }>(priya.json('/api/folders', 'POST', { shareId: office.share, folderId, name }))
const save = (name: string, body: string, folderId: string | null = null) =>
  json<Saved>(
    priya.ask(
      `/api/files?shareId=${office.share}&name=${encodeURIComponent(name)}&key=${randomUUID()}${folderId ? `&folderId=${folderId}` : ''}`,
      { method: 'POST', body },
    ),
  )
const headOf = async (fileId: string) => {
  const [row] = await office.database.query('select head_version_id as id from entry where id = $1', [fileId])
  return row.id as string
}
const saveAgain = async (fileId: string, body: string) =>
  json<Saved>(
    priya.ask(`/api/files/${fileId}/versions?baseId=${await headOf(fileId)}&key=${randomUUID()}`, {
      method: 'POST',
      body,
    }),
  )
const act = (what: string, changes: object[]) => priya.json('/api/acts', 'POST', { id: randomUUID(), what, changes })
/** The database's own clock. */
const now = async () => {
  const [{ at }] = await office.database.query('select clock_timestamp() as at')
  // What happens in the same thousandth of a second is after it.
  const moment = new Date(at.getTime() + 1)
  for (;;) {
    const [{ later }] = await office.database.query('select clock_timestamp() as later')
    if (later > moment) return moment.toISOString()
  }
}
const momentAt = (at: string, folderId?: string, who = priya) =>
  json<Moment>(who.ask(`/api/shares/${office.share}/moment?at=${at}${folderId ? `&folderId=${folderId}` : ''}`))
const bring = (at: string, entries: string[] | null = null, folderId: string | null = null, id = randomUUID()) =>
  priya.json(`/api/shares/${office.share}/moment`, 'POST', { id, at, folderId, entries })
/** All that is there, by place and name, with what it holds. */
const everything = async (): Promise<string[]> => {
  const rows: { id: string; folder_id: string | null; name: string; sha: string | null }[] =
    await office.database.query(
      `select e.id, e.folder_id, e.name, encode(v.sha256, 'hex') as sha from entry e left join version v on v.id = e.head_version_id
       where e.removed_at is null and e.share_id = $1 order by e.id`,
      [office.share],
    )
  return rows.map((row) => JSON.stringify(row))
}

test('after a script wrote over everything, the share is as it was by one act, and that is undone by one', async () => {
  const tenders = await folder('Tenders')
  const year = await folder('2026', tenders.id)
  const files = await Promise.all(
    Array.from({ length: 20 }, (_, n) => save(`Offer ${n}.txt`, `offer ${n}`, n % 2 ? year.id : tenders.id)),
  )
  const before = await everything()
  const at = await now()
  expect(await momentAt(at)).toMatchObject({ differences: [], inAll: 0 })
  for (const [n, { file }] of files.entries()) await saveAgain(file.id, `scrambled ${n}`)
  await json(
    act(
      'rename',
      files.slice(0, 5).map(({ file }, n) => ({ id: file.id, name: `${n} locked.txt` })),
    ),
  )
  await json(act('remove', [{ id: year.id }]))
  const note = await save('Pay us.txt', 'pay', tenders.id)
  const spoiled = await everything()
  const told = await momentAt(at)
  expect(told.counts).toMatchObject({ changed: 20, removed: 11, new: 1 })
  expect(told.inAll).toBe(22)
  const one = told.differences.find(({ id }) => id === files[1]!.file.id)!
  expect(one).toMatchObject({
    name: 'Offer 1.txt',
    folders: ['Tenders', '2026'],
    differs: ['removed', 'changed'],
    version: { number: 1 },
    versionNow: { number: 2 },
    gone: false,
    nearest: false,
  })
  const id = randomUUID()
  const done = await json<ActResult>(bring(at, null, null, id))
  expect(done).toMatchObject({ id, what: 'as it was', entries: 21, renamed: [] })
  const noteThere = (rows: string[]) => rows.filter((row) => !row.includes(note.file.id))
  expect(noteThere(await everything())).toEqual(before)
  // A request that is repeated finds it done; with the same id another one is refused.
  expect(await json<ActResult>(bring(at, null, null, id))).toMatchObject({ entries: 21 })
  expect((await bring(at, [note.file.id], null, id)).status).toBe(400)
  expect((await momentAt(at)).differences).toMatchObject([{ id: note.file.id, differs: ['new'] }])
  await json(priya.ask(`/api/acts/${id}/undo`, { method: 'POST' }))
  expect(await everything()).toEqual(spoiled)
  // Versions are only ever added: nothing of either state is gone.
  const [{ n }] = await office.database.query('select max(number) as n from version where file_id = $1', [
    files[0]!.file.id,
  ])
  expect(n).toBe(4)
  // What is new goes where that is wished.
  await json(
    bring(
      at,
      told.differences.map((difference) => difference.id),
    ),
  )
  expect(await everything()).toEqual(before)
})

test('whatever was done since, all that differs is brought back, and undone', async () => {
  const places: (string | null)[] = [
    null,
    (await folder(`A ${randomUUID()}`)).id,
    (await folder(`B ${randomUUID()}`)).id,
  ]
  const files = await Promise.all(Array.from({ length: 5 }, (_, n) => save(`${n} ${randomUUID()}.txt`, `${n}`)))
  const ids = [...files.map(({ file }) => file.id), places[1]!, places[2]!]
  const step = fc.record({
    what: fc.constantFrom('save', 'rename', 'move', 'move', 'remove', 'bring back', 'new', 'new folder'),
    which: fc.nat(9),
    to: fc.nat(5),
  })
  // What lies in a folder that moves out of one that goes stays.
  const nested = [
    { what: 'move' as const, which: 0, to: 1 },
    { what: 'new folder' as const, which: 0, to: 0 },
    { what: 'move' as const, which: 5, to: 3 },
  ]
  await fc.assert(
    fc.asyncProperty(
      fc.array(step, { maxLength: 3 }),
      fc.array(step, { minLength: 1, maxLength: 6 }),
      async (first, then) => {
        // What cannot be done is refused, and changes nothing.
        const doAll = async (steps: typeof first) => {
          for (const { what, which, to: place } of steps) {
            const id = ids[which % ids.length]!
            const to = place % places.length
            if (what === 'save') await saveAgain(id, randomUUID()).catch(() => {})
            else if (what === 'new') await save(`${randomUUID()}.txt`, 'new', places[to]).catch(() => {})
            else if (what === 'new folder') {
              const made = await folder(`${randomUUID()}`, places[to]).catch(() => undefined)
              if (made) ids.push(made.id)
              if (made) places.push(made.id)
            } else if (what === 'rename')
              await act('rename', [{ id, name: `${randomUUID()}${places.includes(id) ? '' : '.txt'}` }])
            else if (what === 'move') await act('move', [{ id, folderId: places[to] }])
            else await act(what, [{ id }])
          }
        }
        places.splice(3)
        ids.splice(7)
        await doAll(first)
        const before = await everything()
        const at = await now()
        await doAll(then)
        const after = await everything()
        const { differences } = await momentAt(at)
        if (!differences.length) {
          expect(after).toEqual(before)
          return
        }
        const id = randomUUID()
        await json(
          bring(
            at,
            differences.map((one) => one.id),
            null,
            id,
          ),
        )
        expect(await everything()).toEqual(before)
        expect((await momentAt(at)).differences).toEqual([])
        await json(priya.ask(`/api/acts/${id}/undo`, { method: 'POST' }))
        expect(await everything()).toEqual(after)
      },
    ),
    { numRuns: 25, examples: [[[], nested]] },
  )
})

test('one file of a folder that went comes back with the folder; a name that is taken by now gives way', async () => {
  const outer = await folder(`Locks ${randomUUID()}`)
  const inner = await folder('LK07', outer.id)
  const { file } = await save('Paddles.txt', 'worn', inner.id)
  const other = await save('Gates.txt', 'sound', inner.id)
  const at = await now()
  await json(act('remove', [{ id: outer.id }]))
  await json(bring(at, [file.id]))
  const there = await everything()
  for (const id of [outer.id, inner.id, file.id]) expect(there.some((row) => row.includes(`"id":"${id}"`))).toBe(true)
  expect(there.some((row) => row.includes(other.file.id))).toBe(false)
  await json(act('rename', [{ id: file.id, name: 'Old paddles.txt' }]))
  await save('Paddles.txt', 'new ones', inner.id)
  const { renamed } = await json<ActResult>(bring(at, [file.id]))
  expect(renamed).toEqual([{ name: 'Paddles.txt', now: 'Paddles 2.txt' }])
})

test('a folder that is new stays when something in it would go unasked, and goes when all of it is asked for', async () => {
  const { file } = await save(`Kept ${randomUUID()}.txt`, 'kept')
  const at = await now()
  const fresh = await folder(`Fresh ${randomUUID()}`)
  await json(act('move', [{ id: file.id, folderId: fresh.id }]))
  const inside = await save('Inside.txt', 'inside', fresh.id)
  const there = async (id: string) => (await everything()).some((row) => row.includes(`"id":"${id}"`))
  expect((await bring(at, [fresh.id])).status).toBe(400)
  await json(bring(at, [fresh.id, inside.file.id]))
  expect([await there(fresh.id), await there(inside.file.id), await there(file.id)]).toEqual([true, false, true])
  await json(bring(at, [fresh.id, file.id]))
  expect([await there(fresh.id), await there(file.id)]).toEqual([false, true])
})

test('it is not undone over what somebody did since, and what somebody holds or may not see stays', async () => {
  const { file } = await save(`Since ${randomUUID()}.txt`, 'one')
  const at = await now()
  await saveAgain(file.id, 'two')
  const id = randomUUID()
  await json(bring(at, [file.id], null, id))
  await saveAgain(file.id, 'three')
  const refused = await priya.ask(`/api/acts/${id}/undo`, { method: 'POST' })
  expect([refused.status, ((await refused.json()) as Problem).type]).toEqual([409, 'changed-meanwhile'])
  const held = await save(`Held ${randomUUID()}.txt`, 'held')
  await json(priya.json(`/api/entries/${held.file.id}/hold`, 'PUT', { why: 'An inquiry' })).catch(() => {})
  expect((await bring(at, [held.file.id])).status).toBe(403)
  // A viewer looks and changes nothing; of a folder with rights of its own others are told nothing.
  const tomas = await signInAs(office, 'tomas')
  const asked = { id: randomUUID(), at, folderId: null, entries: null }
  expect((await tomas.json(`/api/shares/${office.share}/moment`, 'POST', asked)).status).toBe(403)
  const secret = await folder(`Secret ${randomUUID()}`)
  await office.owner.query('insert into realm (id, share_id, entry_id, closed) values ($1, $2, $1, true)', [
    secret.id,
    office.share,
  ])
  await grantRight(office.database.manager, {
    realmId: secret.id,
    subject: { personId: office.people.priya },
    role: 'manage',
  })
  await save('Hidden.txt', 'hidden', secret.id)
  const names = async (who: typeof priya) => (await momentAt(at, undefined, who)).differences.map(({ name }) => name)
  expect(await names(priya)).toContain('Hidden.txt')
  expect(await names(tomas)).not.toContain('Hidden.txt')
})

test('stretch by stretch it is told how much was changed, and by whom', async () => {
  const place = await folder(`Busy ${randomUUID()}`)
  const { file } = await save('Busy.txt', 'one', place.id)
  for (let n = 0; n < 4; n++) await saveAgain(file.id, `${n}`)
  await json(act('rename', [{ id: file.id, name: 'Calm.txt' }]))
  const { stretches, since } = await json<PlaceChanges>(
    priya.ask(`/api/shares/${office.share}/changes?folderId=${place.id}`),
  )
  expect(Date.parse(since)).toBeLessThan(Date.now())
  expect(stretches.reduce((sum, { versions }) => sum + versions, 0)).toBe(5)
  expect(stretches.reduce((sum, { moves }) => sum + moves, 0)).toBe(1)
  expect(stretches.every(({ people }) => people.length === 1 && people[0] === 'priya')).toBe(true)
  // In one go, also where the clock comes to another ten minutes; after a pause it is another stretch, and none is longer.
  const at = (minutes: number) => `timestamptz '2026-11-25 09:29:59.9' + interval '${minutes} minutes'`
  for (const [n, minutes] of [0, 0.01, 0.02, 5, 6.5].entries())
    await office.owner.query(
      `alter table version disable trigger user; update version set at = ${at(minutes)} where file_id = '${file.id}' and number = ${n + 1}; alter table version enable trigger user`,
    )
  const later = await json<PlaceChanges>(priya.ask(`/api/shares/${office.share}/changes?folderId=${place.id}`))
  expect(later.stretches.map(({ versions, at }) => [versions, at])).toEqual([
    [3, '2026-11-25T09:29:59.899Z'],
    [2, '2026-11-25T09:34:59.899Z'],
    [0, expect.any(String)],
  ])
  // Right before it, it had nothing of it yet.
  const [first] = later.stretches
  const before = await json<Moment>(
    priya.ask(`/api/shares/${office.share}/moment?folderId=${place.id}&at=${encodeURIComponent(first!.at)}`),
  )
  expect(before.differences).toContainEqual(expect.objectContaining({ id: file.id, differs: ['new'] }))
})
