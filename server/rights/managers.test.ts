// Whatever is given, taken, left, grouped and closed, in whatever order: a share that somebody managed is managed still, what
// was refused changed nothing, and Jaula has an administrator.
import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { changePerson, closePerson, reopenPerson } from '../accounts/people'
import { addPerson } from '../accounts/service'
import { Refusal } from '../refusal'
import { makeShare } from '../shares/service'
import { openTestOffice, type TestOffice } from '../testing'
import { giveRight, leave, takeRight } from './access'
import { changeGroup, endGroup, makeGroup } from './groups'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice()
})
afterAll(() => office.close())

const person = fc.nat({ max: 3 })
const act = fc.oneof(
  fc.record({
    do: fc.constant('give' as const),
    to: person,
    role: fc.constantFrom('view', 'edit', 'manage'),
    grouped: fc.boolean(),
  }),
  fc.record({ do: fc.constant('take' as const), which: fc.nat({ max: 5 }) }),
  fc.record({ do: fc.constant('leave' as const), who: person }),
  fc.record({ do: fc.constant('close' as const), who: person, to: fc.option(person) }),
  fc.record({ do: fc.constant('reopen' as const), who: person }),
  fc.record({ do: fc.constant('group' as const), who: fc.array(person, { maxLength: 3 }) }),
  fc.record({ do: fc.constant('end group' as const) }),
  fc.record({ do: fc.constant('lower' as const), who: person }),
)

test('a share that was managed is managed still, and there is an administrator', { timeout: 240_000 }, async () => {
  const { database } = office
  await fc.assert(
    fc.asyncProperty(fc.array(act, { minLength: 3, maxLength: 14 }), async (acts) => {
      const ids: string[] = []
      for (let n = 0; n < 4; n++) {
        const handle = `p-${randomUUID()}`
        const facts = { handle, name: `Person ${n}`, password: 'windlass and sluice', administrator: n < 2 }
        ids.push((await addPerson(database.manager, facts)).id)
      }
      // Those of earlier runs administer nothing.
      await database.query('update person set administrator = false where not (id = any($1))', [ids])
      const by = ids[0]!
      const share = (
        await database.transaction((inside) => makeShare(inside, by, { name: randomUUID(), description: '' }))
      ).id
      const group = await database.transaction((inside) => makeGroup(inside, by, { name: randomUUID(), members: [] }))
      const state = async () =>
        JSON.stringify([
          await database.query(
            'select person_id, group_id, role, until from access_grant where realm_id = $1 order by person_id, group_id',
            [share],
          ),
          await database.query('select person_id from group_member where group_id = $1 order by person_id', [group]),
          await database.query(
            'select id, closed_at is null, administrator from person where id = any($1) order by id',
            [ids],
          ),
        ])
      for (const one of acts) {
        const before = await state()
        const [{ manager: somebody }] = await database.query(
          'select person_id as manager from who_may($1) w join person p on p.id = w.person_id where rank = 3 and p.closed_at is null limit 1',
          [share],
        )
        const grants: { id: string }[] = await database.query(
          'select id from access_grant where realm_id = $1 order by id',
          [share],
        )
        const done = database.transaction(async (inside) => {
          if (one.do === 'give')
            await giveRight(inside, somebody, share, {
              subject: one.grouped ? { groupId: group } : { personId: ids[one.to]! },
              role: one.role as 'view',
              until: null,
              words: '',
            })
          if (one.do === 'take') await takeRight(inside, somebody, share, grants[one.which]?.id ?? randomUUID())
          if (one.do === 'leave') await leave(inside, ids[one.who]!, share)
          if (one.do === 'close') {
            const other = ids.find((id) => id !== ids[one.who])!
            await closePerson(inside, other, ids[one.who]!, one.to === null ? null : ids[one.to]!)
          }
          if (one.do === 'reopen') await reopenPerson(inside, by, ids[one.who]!)
          if (one.do === 'group')
            await changeGroup(inside, by, group, { name: group, members: one.who.map((n) => ({ personId: ids[n]! })) })
          if (one.do === 'end group') await endGroup(inside, by, group)
          if (one.do === 'lower')
            await changePerson(inside, by, ids[one.who]!, {
              handle: `p-${randomUUID()}`,
              name: 'Lowered',
              administrator: false,
            })
        })
        await done.catch(async (error: unknown) => {
          if (!(error instanceof Refusal)) throw error
          expect(await state()).toBe(before)
        })
        const [{ managers }] = await database.query(
          'select count(*)::int as managers from who_may($1) w join person p on p.id = w.person_id where rank = 3 and p.closed_at is null',
          [share],
        )
        expect(managers).toBeGreaterThan(0)
        const [{ administrators }] = await database.query(
          'select count(*)::int as administrators from person where administrator and closed_at is null',
        )
        expect(administrators).toBeGreaterThan(0)
      }
    }),
    { numRuns: 40 },
  )
})
