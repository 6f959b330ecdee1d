// Who can reach a share, a folder or a file, and why; and what somebody can reach. What is answered is the rule's
// (core/rights), over what was granted.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Access, GrantShown, OwnRights, Reach, RealmShown, Role } from '../../core/contract'
import { everyoneIn, type Rights, rightIn } from '../../core/rights'
import { say } from '../../core/words/said'
import { absent, Refusal } from '../refusal'
import { locks, takeLock } from '../sql/locks'
import { select, selectOne } from '../sql/rows'
import { keepingManagers } from './managers'
import { endRealm, endRight, grantRight, openRealm, ownRealm, requireRole } from './service'

const Kind = z.enum(['share', 'folder', 'file'])

/** A share, folder or file that is there, with the realm that its rights are of. */
interface Thing {
  id: string
  kind: 'share' | 'folder' | 'file'
  name: string
  shareId: string
  realmId: string
  archived: boolean
}

/** @throws Refusal not-found, or not-allowed for a role that is too low */
export async function thingFor(
  manager: EntityManager,
  personId: string,
  id: string,
  needed: Role,
): Promise<{ thing: Thing; role: Role }> {
  const [thing] = await select(
    manager,
    z.object({
      id: z.string(),
      kind: Kind,
      name: z.string(),
      shareId: z.string(),
      realmId: z.string(),
      archived: z.boolean(),
    }),
    `select s.id, 'share' as kind, s.name, s.id as "shareId", s.id as "realmId", s.archived_at is not null as archived from share s where s.id = $1
     union all select e.id, e.kind, e.name, e.share_id, e.realm_id, s.archived_at is not null from entry e join share s on s.id = e.share_id
       where e.id = $1 and e.removed_at is null`,
    [id],
  )
  if (!thing) throw absent()
  return { thing, role: await requireRole(manager, personId, thing.realmId, needed) }
}

const realmRow = z.object({
  id: z.string(),
  above: z.string().nullable(),
  kind: Kind,
  name: z.string(),
  closed: z.boolean(),
  archived: z.boolean(),
})
type RealmOf = z.output<typeof realmRow>

/** The realms from a share down to one of its realms. */
const trail = (manager: EntityManager, realmId: string): Promise<RealmOf[]> =>
  select(
    manager,
    realmRow,
    `with recursive up(id, above, depth) as (
       select r.id, case when r.entry_id is not null then coalesce(f.realm_id, r.share_id) end, 0
         from realm r left join entry e on e.id = r.entry_id left join entry f on f.id = e.folder_id where r.id = $1
       union all select r.id, case when r.entry_id is not null then coalesce(f.realm_id, r.share_id) end, up.depth + 1
         from up join realm r on r.id = up.above left join entry e on e.id = r.entry_id left join entry f on f.id = e.folder_id)
     select up.id, up.above, coalesce(e.kind, 'share') as kind, coalesce(e.name, s.name) as name, r.closed, s.archived_at is not null as archived
     from up join realm r on r.id = up.id join share s on s.id = r.share_id left join entry e on e.id = r.entry_id
     order by up.depth desc`,
    [realmId],
  )

const grantRow = z.object({
  id: z.string(),
  realmId: z.string(),
  personId: z.string().nullable(),
  groupId: z.string().nullable(),
  name: z.string(),
  role: z.enum(['view', 'edit', 'manage']),
  until: z.date().nullable(),
  givenBy: z.string().nullable(),
  givenAt: z.date(),
  byLink: z.boolean(),
})
const grantColumns = `a.id, a.realm_id as "realmId", a.person_id as "personId", a.group_id as "groupId", coalesce(p.name, g.name) as name,
  a.role, a.until, b.name as "givenBy", a.given_at as "givenAt", p.guest_of is not null as "byLink"`
const grantJoins = `access_grant a left join person p on p.id = a.person_id left join person_group g on g.id = a.group_id
  left join person b on b.id = a.given_by`

const shownGrant = ({ personId, groupId, name, until, givenAt, ...grant }: z.output<typeof grantRow>): GrantShown => ({
  ...grant,
  subject: personId ? { kind: 'person', id: personId, name } : { kind: 'group', id: groupId!, name },
  until: until?.toISOString() ?? null,
  givenAt: givenAt.toISOString(),
})
const forRule = ({ id, realmId, subject, role, until }: GrantShown) => ({
  id,
  realmId,
  subjectId: subject.id,
  role,
  until: until === null ? null : Date.parse(until),
})
const withoutWay = ({ id, kind, name, closed }: RealmOf): RealmShown => ({ id, kind, name, closed })

/** @throws Refusal not-found */
export async function accessOf(manager: EntityManager, personId: string, id: string): Promise<Access> {
  const { thing, role } = await thingFor(manager, personId, id, 'view')
  const realms = await trail(manager, thing.realmId)
  const grants = (
    await select(
      manager,
      grantRow,
      `select ${grantColumns} from ${grantJoins} where a.realm_id = any($1) order by a.given_at, a.id`,
      [realms.map((one) => one.id)],
    )
  ).map(shownGrant)
  const groupIds = grants.flatMap(({ subject }) => (subject.kind === 'group' ? [subject.id] : []))
  const members = await select(
    manager,
    z.object({
      groupId: z.string(),
      memberId: z.string(),
      group: z.string(),
      person: z.string().nullable(),
      handle: z.string().nullable(),
    }),
    `with recursive they(id) as (
       select unnest($1::uuid[]) union select m.member_group_id from they join group_member m on m.group_id = they.id where m.member_group_id is not null)
     select m.group_id as "groupId", coalesce(m.person_id, m.member_group_id) as "memberId", g.name as "group", p.name as person, p.handle
     from they join group_member m on m.group_id = they.id join person_group g on g.id = m.group_id left join person p on p.id = m.person_id
     where p.id is null or p.closed_at is null`,
    [groupIds],
  )
  const directly = await select(
    manager,
    z.object({ id: z.string(), name: z.string(), handle: z.string() }),
    `select id, name, case when guest_of is null then handle else '' end as handle from person where id = any($1) and closed_at is null`,
    [grants.map(({ subject }) => subject.id)],
  )
  const known = new Map(directly.map((one) => [one.id, one]))
  for (const { memberId, person, handle } of members)
    if (person !== null) known.set(memberId, { id: memberId, name: person, handle: handle! })
  const groups = new Map<string, string>(members.map(({ groupId, group }) => [groupId, group]))
  for (const { subject } of grants) if (subject.kind === 'group') groups.set(subject.id, subject.name)
  const rights: Rights = { realms, grants: grants.map(forRule), groups: members, now: Date.now() }
  const reached = everyoneIn(thing.realmId, rights, (one) => !groups.has(one))
  return {
    of: { id: thing.id, kind: thing.kind, name: thing.name, shareId: thing.shareId },
    role,
    archived: thing.archived,
    realms: realms.map(withoutWay),
    grants,
    people: Array.from(reached, ([one, right]) => ({ person: known.get(one), ...right }))
      .flatMap(({ person, role: theirs, because }) =>
        person && theirs
          ? [
              {
                person,
                byLink: !person.handle,
                role: theirs,
                because: because.map(({ grant, through }) => ({
                  grantId: grant.id,
                  through: through.map((group) => groups.get(group)!),
                })),
              },
            ]
          : [],
      )
      .sort((a, b) => a.person.name.localeCompare(b.person.name)),
  }
}

/** @throws Refusal not-found, not-allowed, invalid for a moment that has passed or somebody who is not there */
export async function giveRight(
  manager: EntityManager,
  by: string,
  id: string,
  {
    subject,
    role,
    until,
    words,
  }: { subject: { personId: string } | { groupId: string }; role: Role; until: string | null; words: string },
): Promise<void> {
  const { thing } = await thingFor(manager, by, id, 'manage')
  if (until !== null && Date.parse(until) <= Date.now())
    throw new Refusal('invalid', say('problem.this-day-is-over'), {
      fields: { until: say('problem.this-day-is-over') },
    })
  const { there } = await selectOne(
    manager,
    z.object({ there: z.boolean() }),
    `select exists (select from person where id = $1 and closed_at is null and guest_of is null) or exists (select from person_group where id = $1) as there`,
    ['personId' in subject ? subject.personId : subject.groupId],
  )
  if (!there) throw absent()
  // A smaller role in the place of a greater one takes something away, too.
  await keepingManagers(manager, async () => {
    if (thing.kind !== 'share') await ownRealm(manager, thing.id, by)
    await grantRight(manager, {
      realmId: thing.id,
      subject,
      role,
      until: until === null ? null : new Date(until),
      givenBy: by,
      words,
    })
  })
}

/** @throws Refusal not-found, not-allowed, last-manager */
export async function takeRight(manager: EntityManager, by: string, id: string, grantId: string): Promise<void> {
  await thingFor(manager, by, id, 'manage')
  await endOne(manager, by, 'a.id = $1 and a.realm_id = $2', [grantId, id])
}

/** Gives up what somebody was granted there themselves. @throws Refusal not-found, last-manager */
export async function leave(manager: EntityManager, personId: string, id: string): Promise<void> {
  await thingFor(manager, personId, id, 'view')
  await endOne(manager, personId, 'a.person_id = $1 and a.realm_id = $2', [personId, id])
}

async function endOne(manager: EntityManager, by: string, which: string, values: string[]): Promise<void> {
  await keepingManagers(manager, async () => {
    const [grant] = await select(manager, grantRow, `select ${grantColumns} from ${grantJoins} where ${which}`, values)
    if (!grant) throw absent()
    const { realmId, personId, groupId } = grant
    await endRight(manager, { realmId, subject: personId ? { personId } : { groupId: groupId! }, by })
  })
}

/**
 * Says whether a folder or file has rights of its own. Whoever closes one manages it from then on, by a grant of their own
 * where they would not otherwise.
 * @throws Refusal not-found, not-allowed, invalid for a share
 */
export async function setOwnRights(
  manager: EntityManager,
  by: string,
  id: string,
  from: OwnRights['from'],
): Promise<void> {
  // What is being given there just now is there first, or comes after.
  await takeLock(manager, locks.people)
  const { thing } = await thingFor(manager, by, id, 'manage')
  if (thing.kind === 'share') throw new Refusal('invalid', say('problem.a-share-has-rights-of-its-own'))
  const own = thing.realmId === thing.id
  if (from === 'above') {
    if (own) await endRealm(manager, id, by)
  } else await openRealm(manager, id, from === 'here', by)
  // Whoever manages it by a grant further down only would lose it with that.
  await requireRole(manager, by, from === 'above' ? await thingOf(manager, id) : id, 'manage')
}

const thingOf = async (manager: EntityManager, id: string): Promise<string> =>
  (await selectOne(manager, z.object({ realm_id: z.string() }), 'select realm_id from entry where id = $1', [id]))
    .realm_id

/** What somebody can reach, and why, also in what is closed to whoever asks. @throws Refusal not-found */
export async function reachOf(manager: EntityManager, personId: string): Promise<Reach> {
  const [person] = await select(
    manager,
    z.object({ id: z.string(), name: z.string(), handle: z.string() }),
    'select id, name, handle from person where id = $1 and guest_of is null',
    [personId],
  )
  if (!person) throw absent()
  const shares = await select(
    manager,
    z.object({ id: z.string(), name: z.string() }),
    `select s.id, s.name from share s where s.id in (select r.share_id from may($1) m join realm r on r.id = m.realm_id) order by s.name`,
    [personId],
  )
  const shareIds = shares.map(({ id }) => id)
  const realms = await select(
    manager,
    realmRow.extend({ shareId: z.string() }),
    `select r.id, r.share_id as "shareId", case when r.entry_id is not null then coalesce(f.realm_id, r.share_id) end as above,
       coalesce(e.kind, 'share') as kind, coalesce(e.name, s.name) as name, r.closed, s.archived_at is not null as archived
     from realm r join share s on s.id = r.share_id left join entry e on e.id = r.entry_id left join entry f on f.id = e.folder_id
     where r.share_id = any($1) and (e.id is null or e.removed_at is null) order by r.share_id, r.entry_id is not null, e.name`,
    [shareIds],
  )
  const grants = (
    await select(
      manager,
      grantRow,
      `select ${grantColumns} from ${grantJoins} join realm r on r.id = a.realm_id join subjects_of($2) s on s.subject_id = coalesce(a.person_id, a.group_id)
       where r.share_id = any($1)`,
      [shareIds, personId],
    )
  ).map(shownGrant)
  const groups = await select(
    manager,
    z.object({ groupId: z.string(), memberId: z.string(), name: z.string() }),
    `select m.group_id as "groupId", coalesce(m.person_id, m.member_group_id) as "memberId", g.name
     from subjects_of($1) s join group_member m on m.group_id = s.subject_id join person_group g on g.id = m.group_id`,
    [personId],
  )
  const names = new Map([...groups.map(({ groupId, name }) => [groupId, name] as const)])
  const nameOf = new Map(realms.map(({ id, name }) => [id, name]))
  const rights: Rights = { realms, grants: grants.map(forRule), groups, now: Date.now() }
  return {
    person,
    realms: realms.flatMap((realm) => {
      const { role, because } = rightIn(realm.id, personId, rights)
      if (!role) return []
      return [
        {
          realm: withoutWay(realm),
          share: shares.find(({ id }) => id === realm.shareId)!.name,
          role,
          because: because.map(({ grant, through }) => ({
            at: nameOf.get(grant.realmId)!,
            through: through.map((group) => names.get(group)!),
            until: grant.until === null ? null : new Date(grant.until).toISOString(),
          })),
        },
      ]
    }),
  }
}
