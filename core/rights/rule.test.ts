import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { allows, everyoneIn, type Grant, makesCircle, type Rights, rightIn, roleIn, roles, subjectsOf } from './rule'

const grant = (realmId: string, subjectId: string, role: Grant['role'], until: number | null = null): Grant => ({
  id: `${realmId} ${subjectId} ${role}`,
  realmId,
  subjectId,
  role,
  until,
})
const office: Omit<Rights, 'grants'> = {
  realms: [
    { id: 'share', above: null, closed: false },
    { id: 'tenders', above: 'share', closed: true },
    { id: 'bid', above: 'tenders', closed: false },
  ],
  groups: [
    { groupId: 'surveyors', memberId: 'ida' },
    { groupId: 'field', memberId: 'surveyors' },
    { groupId: 'surveyors', memberId: 'field' },
  ],
  now: 1000,
}
const right = (realm: string, person: string, ...grants: Grant[]) => rightIn(realm, person, { ...office, grants })

describe('one rule', () => {
  test('what is granted above holds below, and most counts', () => {
    expect(right('share', 'ida', grant('share', 'ida', 'view')).role).toBe('view')
    expect(right('bid', 'ida', grant('tenders', 'ida', 'view'), grant('bid', 'ida', 'edit')).role).toBe('edit')
    expect(right('share', 'ida', grant('tenders', 'ida', 'manage')).role).toBeNull()
  })
  test('a closed folder lets in who manages above, and nobody else who was not let in there', () => {
    expect(right('bid', 'ida', grant('share', 'ida', 'edit')).role).toBeNull()
    expect(right('bid', 'ida', grant('share', 'ida', 'manage')).role).toBe('manage')
    expect(right('bid', 'ida', grant('share', 'ida', 'edit'), grant('tenders', 'ida', 'view')).role).toBe('view')
  })
  test('groups in groups count, also in a circle, and are told', () => {
    const { role, because } = right('share', 'ida', grant('share', 'field', 'edit'))
    expect(role).toBe('edit')
    expect(because).toEqual([{ grant: grant('share', 'field', 'edit'), through: ['field', 'surveyors'] }])
    expect([...subjectsOf('ida', office.groups).keys()]).toEqual(['ida', 'surveyors', 'field'])
  })
  test('a grant ends at its time', () => {
    expect(right('share', 'ida', grant('share', 'ida', 'edit', 1000)).role).toBeNull()
    expect(right('share', 'ida', grant('share', 'ida', 'edit', 1001)).role).toBe('edit')
  })
  test('only what gives the role is a reason', () => {
    const grants = [grant('share', 'ida', 'view'), grant('share', 'surveyors', 'edit')]
    expect(right('share', 'ida', ...grants).because.map(({ grant: one }) => one.subjectId)).toEqual(['surveyors'])
  })
  test('a realm that is not there, or lies in itself, is an error', () => {
    expect(() => right('elsewhere', 'ida')).toThrow(RangeError)
    const circle = [
      { id: 'a', above: 'b', closed: false },
      { id: 'b', above: 'a', closed: false },
    ]
    expect(() => rightIn('a', 'ida', { ...office, realms: circle, grants: [] })).toThrow(RangeError)
  })

  const generated = fc.record({
    closed: fc.array(fc.boolean(), { minLength: 3, maxLength: 3 }),
    grants: fc.array(
      fc.record({
        realmId: fc.constantFrom('0', '1', '2'),
        subjectId: fc.constantFrom('ida', 'g', 'h'),
        role: fc.constantFrom(...roles),
        until: fc.constantFrom(null, 1, 2000),
      }),
      { maxLength: 8 },
    ),
    groups: fc.array(fc.record({ groupId: fc.constantFrom('g', 'h'), memberId: fc.constantFrom('ida', 'g', 'h') }), {
      maxLength: 4,
    }),
  })
  const rightsOf = ({
    closed,
    grants,
    groups,
  }: typeof generated extends fc.Arbitrary<infer T> ? T : never): Rights => ({
    realms: closed.map((one, at) => ({ id: String(at), above: at ? String(at - 1) : null, closed: one && at > 0 })),
    grants: grants.map((one, at) => ({ ...one, id: String(at) })),
    groups,
    now: 1000,
  })
  test('one more grant never takes anything away, one fewer never adds', () => {
    fc.assert(
      fc.property(generated, fc.constantFrom('0', '1', '2'), (one, realm) => {
        const rights = rightsOf(one)
        const before = rightIn(realm, 'ida', rights).role
        for (const less of rights.grants.keys()) {
          const after = rightIn(realm, 'ida', { ...rights, grants: rights.grants.filter((_, at) => at !== less) }).role
          expect(after === null || allows(before, after)).toBe(true)
        }
      }),
    )
  })
  test('who manages a share manages all of it; closing a folder gives nobody anything', () => {
    fc.assert(
      fc.property(generated, fc.constantFrom('0', '1', '2'), (one, realm) => {
        const rights = rightsOf(one)
        if (rightIn('0', 'ida', rights).role === 'manage') expect(rightIn(realm, 'ida', rights).role).toBe('manage')
        const open = { ...rights, realms: rights.realms.map((each) => ({ ...each, closed: false })) }
        const wide = rightIn(realm, 'ida', open).role
        const narrow = rightIn(realm, 'ida', rights).role
        expect(narrow === null || allows(wide, narrow)).toBe(true)
      }),
    )
  })
  test('everybody who may do anything is found, with the same reasons', () => {
    fc.assert(
      fc.property(generated, fc.constantFrom('0', '1', '2'), fc.boolean(), (one, realm, archived) => {
        const rights = rightsOf(one)
        const those = {
          ...rights,
          realms: rights.realms.map((each, at) => ({ ...each, archived: archived && at === 0 })),
        }
        const all = everyoneIn(realm, those, (id) => id === 'ida')
        const { role, because } = rightIn(realm, 'ida', those)
        expect(all.get('ida')?.role ?? null).toBe(role)
        // By the same grants, each through as few groups.
        const said = (reasons: typeof because) =>
          reasons.map(({ grant: { id }, through }) => [id, through.length]).sort()
        expect(said(all.get('ida')?.because ?? [])).toEqual(said(because))
        for (const { through } of all.get('ida')?.because ?? [])
          for (const [at, group] of through.entries())
            expect(those.groups).toContainEqual({ groupId: group, memberId: through[at + 1] ?? 'ida' })
      }),
    )
  })
  test('of an archived share only who manages changes anything, and nobody has more than before', () => {
    fc.assert(
      fc.property(generated, fc.constantFrom('0', '1', '2'), (one, realm) => {
        const rights = rightsOf(one)
        const put = { ...rights, realms: rights.realms.map((each, at) => ({ ...each, archived: at === 0 })) }
        const before = rightIn(realm, 'ida', rights).role
        expect(rightIn(realm, 'ida', put).role).toBe(before && roleIn(before, true))
        expect(rightIn(realm, 'ida', put).role).not.toBe('edit')
      }),
    )
  })
  test('a group that would lie in itself is found, through however many', () => {
    const groups = [
      { groupId: 'a', memberId: 'b' },
      { groupId: 'b', memberId: 'c' },
    ]
    expect(makesCircle('c', ['a'], groups)).toBe(true)
    expect(makesCircle('c', ['c'], groups)).toBe(true)
    expect(makesCircle('a', ['c', 'ida'], groups)).toBe(false)
  })
  test('every reason gives the role, holds now and is the person’s', () => {
    fc.assert(
      fc.property(generated, fc.constantFrom('0', '1', '2'), (one, realm) => {
        const rights = rightsOf(one)
        const { role, because } = rightIn(realm, 'ida', rights)
        expect(because.length > 0).toBe(role !== null)
        const mine = subjectsOf('ida', rights.groups)
        for (const {
          grant: { role: given, until, subjectId },
        } of because) {
          expect(given).toBe(role)
          expect(until === null || until > rights.now).toBe(true)
          expect(mine.has(subjectId)).toBe(true)
        }
      }),
    )
  })
})
