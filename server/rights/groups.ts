// Groups: people, and other groups, who are granted something together.
import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Group, Member as Named } from '../../core/contract'
import { nameKey } from '../../core/naming/check'
import { makesCircle } from '../../core/rights'
import { say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { absent, Refusal } from '../refusal'
import { select } from '../sql/rows'
import { GrantRow, GroupMemberRow, GroupRow } from './entity'
import { keepingManagers } from './managers'
import { endRight } from './service'

export type Member = { personId: string } | { memberGroupId: string }

/** @returns its id */
export async function addGroup(manager: EntityManager, name: string): Promise<string> {
  const id = uuidv7()
  await manager.insert(GroupRow, { id, name: name.normalize('NFC'), nameKey: nameKey(name), createdAt: new Date() })
  return id
}

/** The group of a name, made where there is none. @returns its id */
export async function groupCalled(manager: EntityManager, by: string, name: string): Promise<string> {
  const there = await manager.findOneBy(GroupRow, { nameKey: nameKey(name) })
  if (there) return there.id
  await auditing(manager, { personId: by, what: 'group made', facts: { name } })
  return addGroup(manager, name)
}

/** Puts somebody, or another group, into a group, once. */
export async function joinGroup(manager: EntityManager, groupId: string, member: Member): Promise<void> {
  await manager
    .createQueryBuilder()
    .insert()
    .into(GroupMemberRow)
    .values({ id: uuidv7(), groupId, personId: null, memberGroupId: null, ...member })
    .orIgnore()
    .execute()
}

export async function leaveGroup(manager: EntityManager, groupId: string, member: Member): Promise<void> {
  await manager.delete(GroupMemberRow, { groupId, ...member })
}

export async function allGroups(manager: EntityManager): Promise<Group[]> {
  return select(
    manager,
    z.custom<Group>(),
    `select g.id, g.name,
       coalesce((select jsonb_agg(jsonb_build_object('id', p.id, 'name', p.name, 'handle', p.handle) order by p.name)
         from group_member m join person p on p.id = m.person_id where m.group_id = g.id), '[]') as people,
       coalesce((select jsonb_agg(jsonb_build_object('id', o.id, 'name', o.name) order by o.name)
         from group_member m join person_group o on o.id = m.member_group_id where m.group_id = g.id), '[]') as groups,
       (select count(*)::int from access_grant a where a.group_id = g.id) as grants
     from person_group g order by g.name`,
  )
}

interface Wanted {
  name: string
  members: readonly Named[]
}

/** @throws Refusal name-taken */
async function refuseTaken(manager: EntityManager, name: string, id: string | null): Promise<void> {
  const there = await manager.findOneBy(GroupRow, { nameKey: nameKey(name) })
  if (there && there.id !== id) {
    const taken = say('problem.a-group-is-called-that', { name: there.name })
    throw new Refusal('name-taken', taken, { fields: { name: taken } })
  }
}

/** Has exactly these in a group. @throws Refusal invalid for a circle, or somebody who is not there */
async function setMembers(manager: EntityManager, groupId: string, members: readonly Named[]): Promise<void> {
  const people = [...new Set(members.flatMap((one) => ('personId' in one ? [one.personId] : [])))]
  const groups = [...new Set(members.flatMap((one) => ('groupId' in one ? [one.groupId] : [])))]
  const memberships = await select(
    manager,
    z.object({ groupId: z.string(), memberId: z.string() }),
    'select group_id as "groupId", member_group_id as "memberId" from group_member where member_group_id is not null and group_id <> $1',
    [groupId],
  )
  if (makesCircle(groupId, groups, memberships))
    throw new Refusal('invalid', say('problem.a-group-cannot-lie-in-itself'))
  const [known] = await select(
    manager,
    z.object({ people: z.number(), groups: z.number() }),
    `select (select count(*)::int from person where id = any($1) and guest_of is null) as people,
       (select count(*)::int from person_group where id = any($2)) as groups`,
    [people, groups],
  )
  if (known!.people < people.length || known!.groups < groups.length) throw absent()
  await select(
    manager,
    z.object({}),
    `delete from group_member where group_id = $1 and not (coalesce(person_id, member_group_id) = any($2)) returning id`,
    [groupId, [...people, ...groups]],
  )
  await select(
    manager,
    z.object({}),
    `insert into group_member (group_id, person_id, member_group_id)
     select $1::uuid, p, null::uuid from unnest($2::uuid[]) p union all select $1::uuid, null::uuid, g from unnest($3::uuid[]) g
     on conflict do nothing returning id`,
    [groupId, people, groups],
  )
}

/** @throws Refusal name-taken, invalid for a circle */
export async function makeGroup(manager: EntityManager, by: string, { name, members }: Wanted): Promise<string> {
  return keepingManagers(manager, async () => {
    await refuseTaken(manager, name, null)
    const id = await addGroup(manager, name)
    await setMembers(manager, id, members)
    await auditing(manager, { personId: by, what: 'group made', facts: { name, members } })
    return id
  })
}

/** @throws Refusal not-found, name-taken, invalid for a circle, last-manager */
export async function changeGroup(
  manager: EntityManager,
  by: string,
  id: string,
  { name, members }: Wanted,
): Promise<void> {
  await keepingManagers(manager, async () => {
    const there = await manager.findOneBy(GroupRow, { id })
    if (!there) throw absent()
    await refuseTaken(manager, name, id)
    await manager.update(GroupRow, { id }, { name: name.normalize('NFC'), nameKey: nameKey(name) })
    await setMembers(manager, id, members)
    await auditing(manager, { personId: by, what: 'group changed', facts: { name, from: there.name, members } })
  })
}

/** Ends a group, with everything that it was given. @throws Refusal not-found, last-manager */
export async function endGroup(manager: EntityManager, by: string, id: string): Promise<void> {
  await keepingManagers(manager, async () => {
    const there = await manager.findOneBy(GroupRow, { id })
    if (!there) throw absent()
    for (const { realmId } of await manager.findBy(GrantRow, { groupId: id }))
      await endRight(manager, { realmId, subject: { groupId: id }, by })
    await manager.delete(GroupMemberRow, { groupId: id })
    await manager.delete(GroupMemberRow, { memberGroupId: id })
    await manager.delete(GroupRow, { id })
    await auditing(manager, { personId: by, what: 'group ended', facts: { name: there.name } })
  })
}
