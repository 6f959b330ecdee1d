// Rights are asked for here and nowhere else: what a person may do in a share, a folder or a file, by the rule that
// core/rights has and the database answers (server/sql/rights.ts).

import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import { allows, type Role, rankOf, roles } from '../../core/rights'
import { type Said, say } from '../../core/words/said'
import { type Audited, auditing } from '../audit/log'
import { absent, Refusal } from '../refusal'
import { execute, select, selectOne } from '../sql/rows'
import { GrantRow, RealmRow } from './entity'

const act: Record<Role, Said> = {
  view: say('problem.see-this-share'),
  edit: say('problem.change-files-in-this-share'),
  manage: say('problem.manage-this-share'),
}

/**
 * SQL that leaves only what a person may see: a join whose rows have `rank`, as a number.
 * @param realm the column of the realm @param person the parameter of the person
 */
export const seenBy = (person: string, realm = 'e.realm_id', name = 'may_see'): string =>
  `join may(${person}) ${name} on ${name}.realm_id = ${realm}`
/** The same as a condition. */
export const maySee = (person: string, realm = 'e.realm_id', needed: Role = 'view'): string =>
  `exists (select from may(${person}) seen_one where seen_one.realm_id = ${realm} and seen_one.rank >= ${rankOf[needed]})`

export const roleOf = (rank: number): Role => roles[rank - 1]!

/** @throws Refusal not-found for who may not even see it, not-allowed for others whose role is too low */
function judge(rank: number | null | undefined, needed: Role): Role {
  if (!rank) throw absent()
  const role = roleOf(rank)
  if (!allows(role, needed))
    throw new Refusal('not-allowed', say('problem.you-may-not-ask-one-of-its', { it: act[needed] }))
  return role
}

/** @throws Refusal not-allowed */
export function requireAdministrator({ administrator }: { administrator: boolean }): void {
  if (!administrator) throw new Refusal('not-allowed', say('problem.only-administrators-may-do-this'))
}

/**
 * The person's role in a realm: a share's id, or what an entry or a version says its realm is.
 * @throws Refusal not-found for people who may not see it (it does not tell them that it exists),
 *   not-allowed for those whose role is too low
 */
export async function requireRole(
  manager: EntityManager,
  personId: string,
  realmId: string,
  needed: Role,
): Promise<Role> {
  const [row] = await select(manager, z.object({ rank: z.number() }), 'select rank from may($1) where realm_id = $2', [
    personId,
    realmId,
  ])
  return judge(row?.rank, needed)
}

/** The person's role where a file or a folder is, in one question. @param removed also of what was removed @throws Refusal as `requireRole` */
export async function requireRoleAt(
  manager: EntityManager,
  personId: string,
  entryId: string,
  needed: Role,
  removed = false,
): Promise<Role> {
  const [row] = await select(
    manager,
    z.object({ rank: z.number() }),
    `select may_see.rank from entry e ${seenBy('$2')} where e.id = $1 ${removed ? '' : 'and e.removed_at is null'}`,
    [entryId, personId],
  )
  return judge(row?.rank, needed)
}

/** The person's role in a share, and in nothing else that has rights of its own. @throws Refusal as `requireRole` */
export const requireShare = (manager: EntityManager, personId: string, shareId: string, needed: Role): Promise<Role> =>
  requireRoleIn(manager, personId, { shareId, folderId: null }, needed)

/** The person's role in a place: a folder of a share, or the share itself. @throws Refusal as `requireRole` */
export async function requireRoleIn(
  manager: EntityManager,
  personId: string,
  { shareId, folderId }: { shareId: string; folderId: string | null },
  needed: Role,
): Promise<Role> {
  // A folder or file with rights of its own has a role, too, and is no share.
  const [row] = folderId
    ? await select(
        manager,
        z.object({ rank: z.number() }),
        `select may_see.rank from entry e ${seenBy('$2')}
         where e.id = $1 and e.share_id = $3 and e.kind = 'folder' and e.removed_at is null`,
        [folderId, personId, shareId],
      )
    : await select(
        manager,
        z.object({ rank: z.number() }),
        `select may_see.rank from share s ${seenBy('$2', 's.id')} where s.id = $1`,
        [shareId, personId],
      )
  return judge(row?.rank, needed)
}

/** The person's role in each of these realms. @throws Refusal as `requireRole`, for the first that is too low */
export async function requireRoles(
  manager: EntityManager,
  personId: string,
  realmIds: Iterable<string>,
  needed: Role,
): Promise<void> {
  const ids = [...new Set(realmIds)]
  const rows = await select(
    manager,
    z.object({ realm_id: z.string(), rank: z.number() }),
    'select realm_id, rank from may($1) where realm_id = any($2)',
    [personId, ids],
  )
  const ranks = new Map(rows.map(({ realm_id, rank }) => [realm_id, rank]))
  // What may not be seen is told of first: a refusal of anything else would say that it is there.
  if (ranks.size < ids.length) throw absent()
  for (const id of ids) judge(ranks.get(id), needed)
}

export interface NewGrant {
  /** A share's id, or that of a folder or file which was made a realm. */
  realmId: string
  subject: { personId: string } | { groupId: string }
  role: Role
  until?: Date | null
  givenBy?: string | null
  /** What is said to them. */
  words?: string
}

/** Grants a role, in the place of one that the same subject had there. */
export async function grantRight(
  manager: EntityManager,
  { realmId, subject, role, until = null, givenBy = null, words = '' }: NewGrant,
): Promise<void> {
  const personId = 'personId' in subject ? subject.personId : null
  const groupId = 'groupId' in subject ? subject.groupId : null
  await manager
    .createQueryBuilder()
    .insert()
    .into(GrantRow)
    .values({ id: uuidv7(), realmId, personId, groupId, role, until, givenBy, givenAt: new Date(), words })
    .orUpdate(['role', 'until', 'given_by', 'given_at', 'words'], ['realm_id', 'person_id', 'group_id'])
    .execute()
  await noteChange(manager, realmId, givenBy, 'right granted', { ...subject, role, until })
}

/** Takes away what a subject was granted in a realm. */
export async function endRight(
  manager: EntityManager,
  { realmId, subject, by = null }: { realmId: string; subject: NewGrant['subject']; by?: string | null },
): Promise<void> {
  await manager.delete(GrantRow, { realmId, ...subject })
  await noteChange(manager, realmId, by, 'right ended', subject)
}

/**
 * Gives a folder or file grants of its own where it has none; one that is closed stays closed, also if it is closed just
 * now. Nobody changes or ends what it has until the transaction is over.
 */
export async function ownRealm(manager: EntityManager, entryId: string, by: string | null): Promise<void> {
  const { made } = await selectOne(
    manager,
    z.object({ made: z.boolean() }),
    // A row that was there before has a transaction that updated it: this one.
    `insert into realm (id, share_id, entry_id, closed) select id, share_id, id, false from entry where id = $1
     on conflict (id) do update set share_id = realm.share_id returning xmax = 0 as made`,
    [entryId],
  )
  if (made) await noteChange(manager, entryId, by, 'opened', { entryId })
}

/** Gives a folder or file grants of its own, or says anew whether it lets in others from above. */
export async function openRealm(
  manager: EntityManager,
  entryId: string,
  closed: boolean,
  by: string | null = null,
): Promise<void> {
  await execute(
    manager,
    `insert into realm (id, share_id, entry_id, closed) select id, share_id, id, $2 from entry where id = $1
     on conflict (id) do update set closed = excluded.closed`,
    [entryId, closed],
  )
  await noteChange(manager, entryId, by, closed ? 'closed to others' : 'opened', { entryId })
}

/** A folder or file has the rights of what is above it again. */
export async function endRealm(manager: EntityManager, entryId: string, by: string | null = null): Promise<void> {
  await noteChange(manager, entryId, by, 'rights from above', { entryId })
  await manager.delete(RealmRow, { id: entryId, entryId })
}

/** Changes of rights are in the log of the share; the demo's and the first ones are nobody's. */
async function noteChange(
  manager: EntityManager,
  realmId: string,
  personId: string | null,
  what: Audited['what'],
  facts: object,
): Promise<void> {
  const realm = await manager.findOneByOrFail(RealmRow, { id: realmId })
  await auditing(manager, { personId, shareId: realm.shareId, what, facts: { realmId, ...facts } })
}
