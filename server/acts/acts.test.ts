// Acts and their undoing as random sequences, by two people at once, against what a tree of folders is.
import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { Change } from '../../core/contract'
import { unbounded } from '../counts/quotas'
import { newFolder } from '../files/folders'
import { Refusal } from '../refusal'
import { keepVersion } from '../saving/keep'
import { addMember, addShare } from '../shares/service'
import { openTestOffice, type TestOffice } from '../testing'
import { performAct, undoAct } from './acts'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

/** Where everything of a share is, as the tables say. */
async function tree(share: string): Promise<Map<string, string>> {
  const rows: { id: string; at: string }[] = await office.database.query(
    `select id, concat_ws(' ', share_id, coalesce(folder_id::text, 'top'), name, removed_at is not null) as at from entry where share_id = $1 order by id`,
    [share],
  )
  return new Map(rows.map(({ id, at }) => [id, at]))
}

/** What must be so whatever was done: names are each once in their place, folders lie in none of themselves, every file has its version. */
async function holds(share: string): Promise<void> {
  const [{ twice, circles, lost, orphans }] = await office.database.query(
    `with recursive up(start, id, folder_id, depth) as (
       select id, id, folder_id, 0 from entry where share_id = $1
       union all select up.start, e.id, e.folder_id, up.depth + 1 from up join entry e on e.id = up.folder_id where up.depth < 50)
     select (select count(*)::int from (select 1 from entry where share_id = $1 and removed_at is null
         group by coalesce(folder_id, share_id), name_key having count(*) > 1) as same) as twice,
       (select count(*)::int from up where depth >= 50) as circles,
       (select count(*)::int from entry e where e.share_id = $1 and e.kind = 'file'
         and not exists (select from version v where v.id = e.head_version_id and v.file_id = e.id)) as lost,
       (select count(*)::int from entry e join entry f on f.id = e.folder_id
         where e.share_id = $1 and e.removed_at is null and f.removed_at is not null) as orphans`,
    [share],
  )
  expect({ twice, circles, lost, orphans }).toEqual({ twice: 0, circles: 0, lost: 0, orphans: 0 })
}

type What = 'rename' | 'move' | 'remove' | 'bring back' | 'undo'
interface Step {
  what: What
  which: number[]
  into: number
  name: string
}
const step: fc.Arbitrary<Step> = fc.record({
  what: fc.constantFrom<What>('rename', 'move', 'move', 'remove', 'bring back', 'undo'),
  which: fc.uniqueArray(fc.nat(9), { minLength: 1, maxLength: 3 }),
  into: fc.nat(4),
  // Few names, so that they meet.
  name: fc.constantFrom('Gates', 'gates', 'Paddles', 'Weir', 'Weir 2'),
})

async function newShare() {
  const { manager } = office.database
  const share = await addShare(manager, randomUUID())
  for (const handle of ['ida', 'priya'] as const) await addMember(manager, share, office.people[handle], 'edit')
  const folders: string[] = []
  for (const [name, under] of [
    ['Gates', null],
    ['Older', 0],
    ['Weir', null],
    ['Levels', 2],
  ] as const)
    folders.push(
      (await newFolder(office.database, office.people.ida, share, under === null ? null : folders[under]!, name)).id,
    )
  const files: string[] = []
  for (let at = 0; at < 6; at++) {
    const { file } = await keepVersion(office.database, unbounded, {
      personId: office.people.ida,
      bytes: Buffer.from(`file ${at}`),
      reason: 'saved',
      key: randomUUID(),
      target: { place: { shareId: share, folderId: at % 2 ? folders[at % 4]! : null, name: `File ${at}.txt` } },
    })
    files.push(file.id)
  }
  return { share, folders, files, entries: [...folders, ...files], isFile: new Set(files) }
}

/** Does a step. @returns the act's id, or null when it was refused */
async function carryOut(world: Awaited<ReturnType<typeof newShare>>, one: Step, done: string[], person: string) {
  const { database } = office
  const { share, folders, entries, isFile } = world
  try {
    if (one.what === 'undo') {
      const id = done[one.into % Math.max(1, done.length)]
      return id ? (await undoAct(database, person, id)).id : null
    }
    const changes = one.which.map((index): Change => {
      const id = entries[index % entries.length]!
      if (one.what === 'rename') return { id, name: isFile.has(id) ? `${one.name}.txt` : one.name }
      if (one.what === 'move') return { id, shareId: share, folderId: one.into < 4 ? folders[one.into]! : null }
      return { id }
    })
    return (await performAct(database, person, { id: randomUUID(), what: one.what, changes })).id
  } catch (error) {
    if (error instanceof Refusal) return null
    throw error
  }
}

test('whatever is renamed, moved, removed, brought back and undone, the tree stays one, and undoing takes back all of it', async () => {
  let undone = 0
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 12 }), async (steps) => {
      const world = await newShare()
      const done: string[] = []
      const known = new Set<string>()
      for (const [at, one] of steps.entries()) {
        const before = await tree(world.share)
        const act = await carryOut(world, one, done, at % 2 ? office.people.priya : office.people.ida)
        const after = await tree(world.share)
        // What is refused changes nothing.
        if (!act) expect(after).toEqual(before)
        await holds(world.share)
        // Undone once more, an act is what its undoing made of it already.
        if (!act || known.has(act)) continue
        known.add(act)
        done.push(act)
        // What was just done can be undone as a whole, and that again.
        if (at % 3 === 0) {
          const back = await undoAct(office.database, office.people.ida, act)
          expect(await tree(world.share)).toEqual(before)
          const again = await undoAct(office.database, office.people.ida, back.id)
          expect(await tree(world.share)).toEqual(after)
          // Asked once more it is the same act, not another.
          expect((await undoAct(office.database, office.people.ida, act)).id).toBe(back.id)
          for (const { id } of [back, again]) known.add(id)
          done.push(again.id)
          undone++
        }
      }
    }),
    { numRuns: 16 },
  )
  expect(undone).toBeGreaterThan(12)
})

test('a folder and one in it, brought back together, bring what lies in both back once', async () => {
  const world = await newShare()
  const [gates, older] = world.folders
  const before = await tree(world.share)
  const act = (what: 'remove' | 'bring back', ids: string[]) =>
    performAct(office.database, office.people.ida, { id: randomUUID(), what, changes: ids.map((id) => ({ id })) })
  await act('remove', [gates!])
  await act('bring back', [gates!, older!])
  expect(await tree(world.share)).toEqual(before)
  await act('remove', [gates!])
  await act('bring back', [older!, gates!])
  await holds(world.share)
  expect((await tree(world.share)).size).toBe(before.size)
})

test('a folder that was brought back, and has something new in it, is not taken away by undoing that', async () => {
  const world = await newShare()
  const [gates, , weir] = world.folders
  const file = world.files[0]!
  const act = (what: 'remove' | 'bring back' | 'move', id: string, folderId?: string) =>
    performAct(office.database, office.people.ida, {
      id: randomUUID(),
      what,
      changes: [folderId ? { id, shareId: world.share, folderId } : { id }],
    })
  await act('remove', gates!)
  const back = await act('bring back', gates!)
  await act('move', file, gates!)
  const before = await tree(world.share)
  await expect(undoAct(office.database, office.people.priya, back.id)).rejects.toThrow(/changed again since/)
  expect(await tree(world.share)).toEqual(before)
  await holds(world.share)
  // Out of the way it can be undone.
  await act('move', file, weir!)
  await undoAct(office.database, office.people.priya, back.id)
  await holds(world.share)
})

test('two people who act at the same instant leave one tree, and each is told the truth', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(step, step), { minLength: 3, maxLength: 8 }), async (pairs) => {
      const world = await newShare()
      const done: string[] = []
      for (const [one, other] of pairs) {
        const acts = await Promise.all([
          carryOut(world, one, done, office.people.ida),
          carryOut(world, other, done, office.people.priya),
        ])
        for (const act of acts) if (act) done.push(act)
        await holds(world.share)
      }
      // Each act that was answered is on record with what it changed.
      const [{ recorded }] = await office.database.query(
        'select count(distinct act_id)::int as recorded from act_change where act_id = any($1)',
        [done],
      )
      expect(recorded).toBe(new Set(done).size)
    }),
    { numRuns: 10, endOnFailure: true },
  )
})
