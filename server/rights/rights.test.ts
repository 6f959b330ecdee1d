// The rule of rights and its twin in the database say the same of every generated office; and what they say is what
// every entrance does.
import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Draft, Entry, Hit, Place, Saved } from '../../core/contract'
import { writeDocx } from '../../core/formats/docx/write'
import { nameKey } from '../../core/naming/check'
import { type Grant, type GroupMember, type Realm, type Rights, rankOf, rightIn, roles } from '../../core/rights'
import { doc, p } from '../demo/papers'
import { openTestOffice, signInAs, signOfLife, type TestOffice } from '../testing'
import { accessOf } from './access'
import { addGroup, joinGroup, leaveGroup } from './groups'
import { endRealm, endRight, grantRight, openRealm } from './service'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

const people = ['ida', 'priya', 'tomas', 'ben'] as const

describe('core/rights and may() in the database', () => {
  const shape = fc.record({
    // Each folder lies in one that came before it, or in a share (-1 and -2 are two shares).
    folders: fc.array(fc.record({ in: fc.integer({ min: -2, max: 6 }), realm: fc.boolean(), closed: fc.boolean() }), {
      maxLength: 7,
    }),
    groups: fc.array(
      fc.record({ group: fc.nat({ max: 2 }), member: fc.oneof(fc.constantFrom(...people), fc.nat({ max: 2 })) }),
      { maxLength: 6 },
    ),
    grants: fc.array(
      fc.record({
        at: fc.integer({ min: -2, max: 6 }),
        subject: fc.oneof(fc.constantFrom(...people), fc.nat({ max: 2 })),
        role: fc.constantFrom(...roles),
        until: fc.constantFrom(null, 'yesterday', 'tomorrow'),
      }),
      { maxLength: 10 },
    ),
    // Afterwards folders are moved, realms ended and grants taken away.
    moves: fc.array(fc.record({ folder: fc.nat({ max: 6 }), into: fc.integer({ min: -2, max: 6 }) }), { maxLength: 4 }),
    ends: fc.array(fc.nat({ max: 6 }), { maxLength: 2 }),
    revoked: fc.array(fc.nat({ max: 9 }), { maxLength: 2 }),
    // One of the shares is archived, before or after.
    archived: fc.constantFrom(null, 'before', 'after'),
  })
  const day = 86_400_000

  test('say the same of every person and place, after every change', { timeout: 240_000 }, async () => {
    const { manager } = office.database
    await fc.assert(
      fc.asyncProperty(shape, async ({ folders, groups, grants, moves, ends, revoked, archived }) => {
        // Two shares of this history's own.
        const shares = [randomUUID(), randomUUID()]
        for (const id of shares)
          await manager.query('insert into share (id, name, name_key) values ($1, $2, $2)', [id, id])
        const put = new Set<string>()
        const archive = async (when: typeof archived) => {
          if (archived !== when || archived === null) return
          await manager.query('update share set archived_at = now() where id = $1', [shares[0]])
          put.add(shares[0]!)
        }
        await archive('before')
        const ids: string[] = []
        const parents: (string | null)[] = []
        const inShare: string[] = []
        const placeOf = (at: number): { shareId: string; folderId: string | null } =>
          at < 0 || at >= ids.length
            ? { shareId: shares[at === -2 ? 1 : 0]!, folderId: null }
            : { shareId: inShare[at]!, folderId: ids[at]! }
        for (const folder of folders) {
          const { shareId, folderId } = placeOf(folder.in)
          const id = randomUUID()
          await manager.query(
            `insert into entry (id, kind, share_id, folder_id, name, name_key, created_by) values ($1, 'folder', $2, $3, $4::text, $4::text, $5)`,
            [id, shareId, folderId, nameKey(id), office.people.ida],
          )
          ids.push(id)
          parents.push(folderId)
          inShare.push(shareId)
        }
        const realms = new Map<string, boolean>()
        for (const [at, { realm, closed }] of folders.entries())
          if (realm) {
            await openRealm(manager, ids[at]!, closed)
            realms.set(ids[at]!, closed)
          }
        const groupIds = [
          await addGroup(manager, randomUUID()),
          await addGroup(manager, randomUUID()),
          await addGroup(manager, randomUUID()),
        ]
        const members: GroupMember[] = []
        for (const { group, member } of groups) {
          const memberId = typeof member === 'number' ? groupIds[member]! : office.people[member]
          if (members.some((one) => one.groupId === groupIds[group] && one.memberId === memberId)) continue
          members.push({ groupId: groupIds[group]!, memberId })
          await joinGroup(
            manager,
            groupIds[group]!,
            typeof member === 'number' ? { memberGroupId: memberId } : { personId: memberId },
          )
        }
        let given: Grant[] = []
        for (const { at, subject, role, until } of grants) {
          const { shareId, folderId } = placeOf(at)
          const realmId = folderId && realms.has(folderId) ? folderId : shareId
          const subjectId = typeof subject === 'number' ? groupIds[subject]! : office.people[subject]
          const time = until && Date.now() + (until === 'tomorrow' ? day : -day)
          await grantRight(manager, {
            realmId,
            subject: typeof subject === 'number' ? { groupId: subjectId } : { personId: subjectId },
            role,
            until: time ? new Date(time) : null,
          })
          given = given.filter((one) => one.realmId !== realmId || one.subjectId !== subjectId)
          given.push({ id: randomUUID(), realmId, subjectId, role, until: time || null })
        }
        const realmOf = (at: number): string => {
          if (realms.has(ids[at]!)) return ids[at]!
          return parents[at] === null ? inShare[at]! : realmOf(ids.indexOf(parents[at]!))
        }
        const agree = async () => {
          const known: Realm[] = shares.map((id) => ({ id, above: null, closed: false, archived: put.has(id) }))
          for (const [at, id] of ids.entries())
            if (realms.has(id))
              known.push({
                id,
                above: parents[at] === null ? inShare[at]! : realmOf(ids.indexOf(parents[at]!)),
                closed: realms.get(id)!,
              })
          const rights: Rights = { realms: known, grants: given, groups: members, now: Date.now() }
          const rows: { id: string; realm_id: string; share_id: string }[] = await manager.query(
            'select id, realm_id, share_id from entry where id = any($1)',
            [ids],
          )
          for (const [at, id] of ids.entries()) {
            const row = rows.find((one) => one.id === id)!
            expect([row.realm_id, row.share_id]).toEqual([realmOf(at), inShare[at]])
          }
          for (const handle of people) {
            const person = office.people[handle]
            const said = new Map<string, number>(
              (await manager.query('select realm_id, rank from may($1)', [person])).map(
                (row: { realm_id: string; rank: number }) => [row.realm_id, row.rank],
              ),
            )
            for (const { id } of known) {
              const { role } = rightIn(id, person, rights)
              expect([handle, said.get(id) ?? 0]).toEqual([handle, role ? rankOf[role] : 0])
              const [back] = await manager.query('select rank from who_may($1) where person_id = $2', [id, person])
              expect(back?.rank ?? 0).toBe(role ? rankOf[role] : 0)
            }
          }
          // What is shown of a place is the same, with the same reasons.
          for (const { id } of known) {
            const seer = people.find((handle) => rightIn(id, office.people[handle], rights).role)
            if (!seer) continue
            const access = await accessOf(manager, office.people[seer], id)
            for (const handle of people) {
              const shown = access.people.find(({ person }) => person.id === office.people[handle])
              const { role, because } = rightIn(id, office.people[handle], rights)
              expect([handle, shown?.role ?? null, shown?.because.length ?? 0]).toEqual([handle, role, because.length])
            }
          }
        }
        await agree()
        await archive('after')
        if (archived === 'after') await agree()
        for (const { folder, into } of moves) {
          if (folder >= ids.length || into >= ids.length) continue
          const { shareId, folderId } = placeOf(into)
          // Not into itself: that is refused elsewhere.
          let above: string | null = folderId
          while (above && above !== ids[folder]) above = parents[ids.indexOf(above)]!
          if (above) continue
          await office.database.transaction(async (inside) => {
            await inside.query('update entry set folder_id = $2, share_id = $3 where id = $1', [
              ids[folder],
              folderId,
              shareId,
            ])
            await inside.query(
              `with recursive down(id) as (select id from entry where folder_id = $1 union select e.id from entry e join down on e.folder_id = down.id)
               update entry e set share_id = $2 from down where e.id = down.id and e.share_id <> $2`,
              [ids[folder], shareId],
            )
          })
          parents[folder] = folderId
          const below = (at: number): void => {
            inShare[at] = shareId
            for (const [child, parent] of parents.entries()) if (parent === ids[at]) below(child)
          }
          below(folder)
          await agree()
        }
        for (const at of ends)
          if (ids[at] && realms.delete(ids[at])) {
            await endRealm(manager, ids[at])
            given = given.filter(({ realmId }) => realmId !== ids[at])
            await agree()
          }
        const left = members.shift()
        if (left) {
          const member = groupIds.includes(left.memberId)
            ? { memberGroupId: left.memberId }
            : { personId: left.memberId }
          await leaveGroup(manager, left.groupId, member)
          await agree()
        }
        for (const at of revoked) {
          const one = given[at]
          if (!one) continue
          await endRight(manager, {
            realmId: one.realmId,
            subject: groupIds.some((id) => id === one.subjectId)
              ? { groupId: one.subjectId }
              : { personId: one.subjectId },
          })
          given = given.filter((each) => each !== one)
          await agree()
        }
      }),
      { numRuns: Number(process.env.RIGHTS_RUNS ?? 22) },
    )
  })
})

describe('a folder that few may see', () => {
  const json = async <T>(answer: Promise<Response>): Promise<T> => (await answer).json() as Promise<T>
  let ida: Awaited<ReturnType<typeof signInAs>>
  let priya: typeof ida
  let tomas: typeof ida
  let ben: typeof ida
  let tenders: Entry
  let bid: Saved
  beforeAll(async () => {
    ;[ida, priya, tomas, ben] = (await Promise.all(people.map((handle) => signInAs(office, handle)))) as [
      typeof ida,
      typeof ida,
      typeof ida,
      typeof ida,
    ]
    const { share } = office
    tenders = await json(ida.json('/api/folders', 'POST', { shareId: share, folderId: null, name: 'Tenders' }))
    bid = await json(
      ida.ask(`/api/files?shareId=${share}&folderId=${tenders.id}&name=Bid for Oldbridge.docx&key=${randomUUID()}`, {
        method: 'POST',
        body: writeDocx(doc(p('The weirkeeper undercuts'))) as BodyInit,
      }),
    )
    // Ben comes in from outside, Tomás stays out, Ida may look.
    const { manager } = office.database
    await openRealm(manager, tenders.id, true)
    await grantRight(manager, { realmId: tenders.id, subject: { personId: office.people.ben }, role: 'edit' })
    await grantRight(manager, { realmId: tenders.id, subject: { personId: office.people.ida }, role: 'view' })
  })
  const listed = async (who: typeof ida, folderId?: string) =>
    json<Place>(who.ask(`/api/shares/${office.share}/entries${folderId ? `?folderId=${folderId}` : ''}`))

  test('is listed, opened and read by them, and is not there for others', async () => {
    expect((await listed(ida)).entries.map(({ name }) => name)).toContain('Tenders')
    expect((await listed(tomas)).entries.map(({ name }) => name)).not.toContain('Tenders')
    expect((await listed(tomas)).total).toBe((await listed(ida)).total - 1)
    for (const path of [
      `/api/files/${bid.file.id}`,
      `/api/files/${bid.file.id}/versions`,
      `/api/versions/${bid.version.id}/bytes`,
      `/api/shares/${office.share}/entries?folderId=${tenders.id}`,
      `/api/shares/${office.share}/names?folderId=${tenders.id}`,
    ]) {
      expect([path, (await tomas.ask(path)).status]).toEqual([path, 404])
      expect([path, (await ben.ask(path)).status]).toEqual([path, 200])
      expect([path, (await ida.ask(path)).status]).toEqual([path, 200])
      expect([path, (await priya.ask(path)).status]).toEqual([path, 200])
    }
  })
  test('that is removed is neither listed nor counted, for whoever could not see it either', async () => {
    const before = (await listed(tomas)).total
    const gone = await json<Entry>(
      ida.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'Gone' }),
    )
    await openRealm(office.database.manager, gone.id, true)
    expect((await listed(tomas)).total).toBe(before)
    const id = randomUUID()
    const act = { id, what: 'remove', changes: [{ id: gone.id }] }
    expect((await priya.json('/api/acts', 'POST', act)).status).toBe(200)
    expect((await listed(tomas)).total).toBe(before)
    expect((await listed(tomas)).entries.length).toBe(before)
    // A folder does not count what lies in it under rights of its own.
    const { entries } = await listed(priya)
    expect(entries.find((entry) => entry.id === tenders.id)?.children).toBe(1)
  })
  test('tells each who is there what they may do there', async () => {
    expect((await listed(ida, tenders.id)).share.role).toBe('view')
    expect((await listed(ben, tenders.id)).share.role).toBe('edit')
    expect((await listed(priya, tenders.id)).share.role).toBe('manage')
    const save = (who: typeof ida) =>
      who.ask(`/api/files/${bid.file.id}/versions?baseId=${bid.version.id}&key=${randomUUID()}`, {
        method: 'POST',
        body: 'x',
      })
    expect((await save(tomas)).status).toBe(404)
    expect((await save(ida)).status).toBe(403)
    // Somebody from outside the share may do there what was granted, and nothing beside it.
    expect((await save(ben)).status).toBe(200)
    expect((await ben.ask(`/api/shares/${office.share}/entries`)).status).toBe(404)
  })
  test('keeps its words and what is in it out of others’ search', async () => {
    await expect
      .poll(async () => (await office.database.query('select count(*)::int as n from search_queue'))[0].n)
      .toBe(0)
    const found = async (who: typeof ida, q: string) =>
      (await json<{ hits: Hit[] }>(who.ask(`/api/search?q=${q}`))).hits
    expect((await found(ben, 'oldbridge')).map(({ file }) => file.id)).toEqual([bid.file.id])
    expect(await found(tomas, 'oldbridge')).toEqual([])
    // A slip of one letter is not corrected by a word that only others may see.
    expect(await found(tomas, 'oldbrigde')).toEqual([])
  })
  test('does not let its files out by those who only edit them', async () => {
    const move = (who: typeof ida) =>
      who.json('/api/acts', 'POST', {
        id: randomUUID(),
        what: 'move',
        changes: [{ id: bid.file.id, folderId: null }],
      })
    expect((await move(tomas)).status).toBe(404)
    expect((await move(ida)).status).toBe(403)
    await grantRight(office.database.manager, {
      realmId: office.share,
      subject: { personId: office.people.ben },
      role: 'edit',
    })
    expect((await move(ben)).status).toBe(403)
    await endRight(office.database.manager, { realmId: office.share, subject: { personId: office.people.ben } })
    expect((await move(priya)).status).toBe(200)
    expect((await tomas.ask(`/api/files/${bid.file.id}`)).status).toBe(200)
    const back = await priya.json('/api/acts', 'POST', {
      id: randomUUID(),
      what: 'move',
      changes: [{ id: bid.file.id, folderId: tenders.id }],
    })
    expect(back.status).toBe(200)
    expect((await tomas.ask(`/api/files/${bid.file.id}`)).status).toBe(404)
  })
  test('shows unsaved work in it to who manages there and is told to nobody else', async () => {
    const id = randomUUID()
    const facts = await json<{ file: { head: { id: string } } }>(ben.ask(`/api/files/${bid.file.id}`))
    const beat = signOfLife(id, { fileId: bid.file.id, baseVersionId: facts.file.head.id })
    expect((await ben.json(`/api/drafts/${id}`, 'PUT', beat)).status).toBe(200)
    const seen = async (who: typeof ida) =>
      (await json<Draft[]>(who.ask('/api/drafts'))).some((draft) => draft.id === id)
    expect([await seen(ben), await seen(priya), await seen(ida), await seen(tomas)]).toEqual([true, true, false, false])
    const planted = signOfLife(randomUUID(), { fileId: bid.file.id })
    expect((await tomas.json(`/api/drafts/${planted.id}`, 'PUT', planted)).status).toBe(404)
  })
  test('sends its news to those who may see it', async () => {
    const heard = async (who: typeof ida) => {
      const answer = await who.ask('/api/events')
      const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader()
      let all = ''
      void (async () => {
        for (;;) {
          const { value, done } = await reader.read().catch(() => ({ value: '', done: true }))
          if (done) return
          all += value
        }
      })()
      return { text: () => all, end: () => reader.cancel() }
    }
    const [tomasHears, benHears] = [await heard(tomas), await heard(ben)]
    await ben.json('/api/folders', 'POST', { shareId: office.share, folderId: tenders.id, name: 'Drawings' })
    await expect.poll(() => benHears.text()).toContain(tenders.id)
    // What is told to all comes after it, so that what was not told by then is not told at all.
    await priya.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'For all' })
    await expect.poll(() => tomasHears.text()).toContain('"folderId":null')
    expect(tomasHears.text()).not.toContain(tenders.id)
    // Who is let in hears of it from then on, and who is let out no more, though it was known who may hear.
    const { manager } = office.database
    const subject = { personId: office.people.tomas }
    await grantRight(manager, { realmId: tenders.id, subject, role: 'view' })
    await ben.json('/api/folders', 'POST', { shareId: office.share, folderId: tenders.id, name: 'Letters' })
    await expect.poll(() => tomasHears.text()).toContain(tenders.id)
    await endRight(manager, { realmId: tenders.id, subject })
    const heardOf = (text: string) => text.split(tenders.id).length - 1
    const before = [heardOf(tomasHears.text()), heardOf(benHears.text())] as const
    await ben.json('/api/folders', 'POST', { shareId: office.share, folderId: tenders.id, name: 'Prices' })
    await expect.poll(() => heardOf(benHears.text())).toBeGreaterThan(before[1])
    await priya.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'For all, again' })
    const all = () => tomasHears.text().split('"folderId":null').length - 1
    const seen = all()
    await expect.poll(all).toBeGreaterThanOrEqual(Math.max(2, seen))
    expect(heardOf(tomasHears.text())).toBe(before[0])
    await Promise.all([tomasHears.end(), benHears.end()])
  })
  test('a name that is taken there by what one may not see is refused without showing it', async () => {
    const answer = await ida.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'Tenders' })
    expect(answer.status).toBe(409)
    expect(((await answer.json()) as { entry?: Entry }).entry?.id).toBe(tenders.id)
    await grantRight(office.database.manager, {
      realmId: office.share,
      subject: { personId: office.people.tomas },
      role: 'edit',
    })
    const blind = await tomas.json('/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'Tenders' })
    expect(blind.status).toBe(409)
    expect((await blind.json()) as { entry?: Entry }).not.toHaveProperty('entry')
  })
  test('is for a while, where the grant says so', async () => {
    const { manager } = office.database
    const until = (milliseconds: number) =>
      grantRight(manager, {
        realmId: tenders.id,
        subject: { personId: office.people.tomas },
        role: 'view',
        until: new Date(Date.now() + milliseconds),
      })
    await until(60_000)
    expect((await tomas.ask(`/api/files/${bid.file.id}`)).status).toBe(200)
    await until(-1)
    expect((await tomas.ask(`/api/files/${bid.file.id}`)).status).toBe(404)
  })
})
