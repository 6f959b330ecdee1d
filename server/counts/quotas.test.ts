// What shares and people may take: exact to the byte, whatever is saved, moved, removed and summed meanwhile.
import { randomBytes, randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Problem, Saved } from '../../core/contract'
import { addMember, addShare } from '../shares/service'
import { openTestOffice, signInAs, signOfLife, type TestOffice } from '../testing'
import { foldCounts } from './fold'

let office: TestOffice
let other: string
let ida: Awaited<ReturnType<typeof signInAs>>
let priya: typeof ida
beforeAll(async () => {
  office = await openTestOffice({ quotas: { share: 100_000, person: 150_000 } })
  const { manager } = office.database
  other = await addShare(manager, 'Archive')
  await addMember(manager, other, office.people.ida, 'manage')
  await addMember(manager, other, office.people.priya, 'manage')
  ida = await signInAs(office, 'ida')
  priya = await signInAs(office, 'priya')
})
afterAll(() => office.close())

const bring = (who: typeof ida, shareId: string, size: number, key = randomUUID()) =>
  who.ask(`/api/files?shareId=${shareId}&name=${randomUUID()}.bin&key=${key}`, {
    method: 'POST',
    body: randomBytes(size) as BodyInit,
  })
const save = (who: typeof ida, { file, version }: Saved, size: number, key = randomUUID()) =>
  who.ask(`/api/files/${file.id}/versions?baseId=${version.id}&key=${key}`, {
    method: 'POST',
    body: randomBytes(size) as BodyInit,
  })
const refused = async (answer: Response): Promise<string> => {
  expect(answer.status).toBe(507)
  const problem = (await answer.json()) as Problem
  expect(problem.type).toBe('no-room')
  return problem.title
}
/** What the tables say beside what there is. */
async function agrees(): Promise<void> {
  const rows = await office.database.query(
    `select o.id, coalesce((select sum(v.size) from version v join entry e on e.id = v.file_id where e.share_id = o.id or v.author_id = o.id), 0)::int as there,
       (coalesce((select bytes from storage_use u where u.owner_id = o.id), 0)
         + coalesce((select sum(c.bytes) from storage_change c where c.share_id = o.id or c.person_id = o.id), 0))::int as counted
     from (select id from share union all select id from person) o`,
  )
  for (const { id, there, counted } of rows) expect([id, counted]).toEqual([id, there])
  const places = await office.database.query(
    `select p.id, entries_in(p.id) as counted, (select count(*)::int from entry e where coalesce(e.folder_id, e.share_id) = p.id and e.removed_at is null) as there
     from (select id from share union all select id from entry where kind = 'folder') p`,
  )
  for (const { id, there, counted } of places) expect([id, counted]).toEqual([id, there])
}

describe('quotas', () => {
  test('a share that is full takes no further version, says so, and takes recovery points all the same', async () => {
    const key = randomUUID()
    const made = (await (await bring(ida, office.share, 60_000, key)).json()) as Saved
    expect(await refused(await bring(ida, office.share, 50_000))).toContain('‹Waterways›')
    expect(await refused(await save(ida, made, 50_000))).toContain('Unsaved work still goes')
    // Up to the last byte, and not one more.
    const next = await save(ida, made, 40_000)
    expect(next.status).toBe(200)
    await refused(await save(ida, (await next.json()) as Saved, 1))
    // A repeated request is told what it made, not that there is no room for it.
    const again = await ida.ask(`/api/files/${made.file.id}/versions?baseId=${made.version.id}&key=${key}`, {
      method: 'POST',
      body: 'x',
    })
    expect(again.status).not.toBe(507)
    const id = randomUUID()
    const point = await ida.json(`/api/drafts/${id}/points`, 'POST', {
      heartbeat: signOfLife(id),
      records: [{ seq: 1, at: 1, edit: { text: 'x'.repeat(60_000) } }],
    })
    expect(point.status).toBe(200)
  })
  test('a person’s versions are bounded over all shares, and another person may go on', async () => {
    expect((await bring(ida, other, 50_000)).status).toBe(200)
    expect(await refused(await bring(ida, other, 1))).toContain('Your versions')
    expect((await bring(priya, other, 10_000)).status).toBe(200)
  })
  test('who may not save there is told that, and nothing of how full it is', async () => {
    const tomas = await signInAs(office, 'tomas')
    const ben = await signInAs(office, 'ben')
    expect((await bring(tomas, office.share, 90_000)).status).toBe(403)
    expect((await bring(ben, office.share, 90_000)).status).toBe(404)
  })
  test('places are counted whatever is made, moved, removed, brought back and undone', async () => {
    const folder = async (folderId: string | null) =>
      (await (await ida.json('/api/folders', 'POST', { shareId: other, folderId, name: randomUUID() })).json()) as {
        id: string
      }
    const act = async (what: string, changes: object[]) => {
      const id = randomUUID()
      expect((await ida.json('/api/acts', 'POST', { id, what, changes })).status).toBe(200)
      await agrees()
      return id
    }
    const [a, b] = [await folder(null), await folder(null)]
    const inner = await folder(a.id)
    const deep = await folder(inner.id)
    await agrees()
    await act('move', [{ id: inner.id, folderId: b.id }])
    const removal = await act('remove', [{ id: b.id }])
    expect((await ida.ask(`/api/acts/${removal}/undo`, { method: 'POST' })).status).toBe(200)
    await agrees()
    await act('remove', [{ id: deep.id }])
    await act('bring back', [{ id: deep.id }])
    await foldCounts(office.database)
    await act('move', [
      { id: a.id, folderId: b.id },
      { id: deep.id, folderId: null },
    ])
    const { entries } = (await (await ida.ask(`/api/shares/${other}/entries?folderId=${b.id}`)).json()) as {
      entries: { id: string; children: number }[]
    }
    expect(new Map(entries.map(({ id, children }) => [id, children]))).toEqual(
      new Map([
        [inner.id, 0],
        [a.id, 0],
      ]),
    )
  })
  test('counts agree with what there is after any saves, moves, removals and sums, some at once', async () => {
    await agrees()
    const { database, owner } = office
    const acts = fc.array(fc.constantFrom('save', 'move', 'remove', 'sum', 'sum twice'), { minLength: 3, maxLength: 8 })
    await fc.assert(
      fc.asyncProperty(acts, async (names) => {
        // Written as the services write it, without a bound in the way.
        const file = randomUUID()
        let number = 0
        const addVersion = async () => {
          const [id, sha256] = [randomUUID(), randomBytes(32)]
          const size = 1 + Math.floor(Math.random() * 5000)
          await database.transaction(async (manager) => {
            await manager.query('insert into content (sha256, size) values ($1, $2)', [sha256, size])
            // The file comes first, as everywhere else: a version is counted with the file that it is of.
            if (number === 0)
              await manager.query(
                `insert into entry (id, kind, share_id, name, name_key, type, head_version_id, created_by) values ($1, 'file', $2, $3::text, $3::text, 'bin', $4, $5)`,
                [file, other, file, id, office.people.priya],
              )
            await manager.query(
              `insert into version (id, file_id, number, sha256, size, type, author_id, reason, request_key) values ($1, $2, $3, $4, $5, 'bin', $6, 'saved', $1)`,
              [id, file, ++number, sha256, size, office.people.priya],
            )
            if (number > 1) await manager.query('update entry set head_version_id = $2 where id = $1', [file, id])
          })
        }
        await addVersion()
        const each: Record<string, () => Promise<unknown>> = {
          save: addVersion,
          move: () =>
            database.query(
              'update entry set share_id = case when share_id = $2 then $3::uuid else $2::uuid end where id = $1',
              [file, other, office.share],
            ),
          remove: async () => {
            const rows = await owner.query('select id from version where file_id = $1', [file])
            await database.query(`select remove_versions($1, 'a test')`, [rows.map(({ id }: { id: string }) => id)])
          },
          sum: () => foldCounts(database),
          'sum twice': () => Promise.all([foldCounts(database), foldCounts(database)]),
        }
        for (const name of names) await each[name]!()
        await Promise.all([foldCounts(database), each.save!()])
        await agrees()
      }),
      { numRuns: 25 },
    )
  })
})
