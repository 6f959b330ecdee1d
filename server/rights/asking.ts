// What was given to somebody and they have not looked at, what people ask for more, and what they were answered: for the Desk.
import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { AskedFor, RightsNews, Role } from '../../core/contract'
import { rankOf } from '../../core/rights'
import { say } from '../../core/words/said'
import { absent, Refusal } from '../refusal'
import { execute, select } from '../sql/rows'
import { giveRight, thingFor } from './access'
import { GrantSeenRow, RightRequestRow } from './entity'
import { roleOf } from './service'

/** What was given longer ago is no news any more. */
const newsFor = '60 days'

/** Pages ask anew: nobody's rights changed, but what is asked of somebody did. */
const tell = (manager: EntityManager) => execute(manager, `select pg_notify('jaula_rights', 'asked')`)

/** What a realm, or a share, folder or file, is called. */
const thing = (entry: string, share: string) =>
  `coalesce(${entry}.id, ${share}.id) as "thingId", coalesce(${entry}.kind, 'share') as kind, coalesce(${entry}.name, ${share}.name) as name, ${share}.id as "shareId"`
const thingRow = z.object({
  thingId: z.string(),
  kind: z.enum(['share', 'folder', 'file']),
  name: z.string(),
  shareId: z.string(),
})
const ofThing = ({ thingId, kind, name, shareId }: z.output<typeof thingRow>) => ({ id: thingId, kind, name, shareId })

/** What is news of rights for somebody: given to them, asked of them, answered to them. */
export async function rightsNews(manager: EntityManager, personId: string): Promise<RightsNews> {
  const given = await select(
    manager,
    thingRow.extend({
      id: z.string(),
      role: z.enum(['view', 'edit', 'manage']),
      until: z.date().nullable(),
      by: z.string(),
      at: z.date(),
      words: z.string(),
      group: z.string().nullable(),
    }),
    `select a.id, ${thing('e', 's')}, a.role, a.until, b.name as by, a.given_at as at, a.words, g.name as "group"
     from access_grant a join subjects_of($1) mine on mine.subject_id = coalesce(a.person_id, a.group_id)
     join person b on b.id = a.given_by join realm r on r.id = a.realm_id join share s on s.id = r.share_id
     left join entry e on e.id = r.entry_id left join person_group g on g.id = a.group_id
     where a.given_by <> $1 and a.given_at > now() - interval '${newsFor}' and (a.until is null or a.until > now())
       and (e.id is null or e.removed_at is null)
       and not exists (select from grant_seen n where n.person_id = $1 and n.grant_id = a.id and n.at >= a.given_at)
     order by a.given_at desc limit 20`,
    [personId],
  )
  const asked = await select(
    manager,
    thingRow.extend({
      id: z.string(),
      person: z.string(),
      role: z.enum(['edit', 'manage']),
      words: z.string(),
      at: z.date(),
      has: z.number().nullable(),
    }),
    `select q.id, ${thing('e', 's')}, p.name as person, q.role, q.words, q.at,
       (select rank from may(q.person_id) theirs where theirs.realm_id = coalesce(e.realm_id, s.id)) as has
     from right_request q join share s on s.id = q.share_id left join entry e on e.id = q.entry_id
     join may($1) m on m.realm_id = coalesce(e.realm_id, s.id) and m.rank = 3
     join person p on p.id = q.person_id
     where q.answered_at is null and p.closed_at is null and (e.id is null or e.removed_at is null) and q.person_id <> $1
     order by q.at limit 50`,
    [personId],
  )
  const answered = await select(
    manager,
    thingRow.extend({
      id: z.string(),
      by: z.string(),
      given: z.boolean(),
      role: z.enum(['edit', 'manage']),
      at: z.date(),
    }),
    `select q.id, ${thing('e', 's')}, b.name as by, q.given, q.role, q.answered_at as at
     from right_request q join share s on s.id = q.share_id left join entry e on e.id = q.entry_id join person b on b.id = q.answered_by
     where q.person_id = $1 and q.answered_at is not null and q.seen_at is null and not q.given order by q.answered_at desc limit 20`,
    [personId],
  )
  return {
    given: given.map(({ id, role, until, by, at, words, group, ...of }) => ({
      id,
      of: ofThing(of),
      role,
      until: until?.toISOString() ?? null,
      by,
      at: at.toISOString(),
      words,
      group,
    })),
    asked: asked
      // Who has it meanwhile asks for nothing.
      .filter(({ role, has }) => has === null || has < rankOf[role])
      .map(({ id, person, role, words, at, has, ...of }) => ({
        id,
        of: ofThing(of),
        person,
        role,
        has: has === null ? null : roleOf(has),
        words,
        at: at.toISOString(),
      })),
    refused: answered.map(({ id, by, role, at, given: _, ...of }) => ({
      id,
      of: ofThing(of),
      by,
      role,
      at: at.toISOString(),
    })),
  }
}

/** Notes that somebody has looked at these; others' are left alone. */
export async function seeRightsNews(
  manager: EntityManager,
  personId: string,
  { given, refused }: { given: readonly string[]; refused: readonly string[] },
): Promise<void> {
  const theirs = await select(
    manager,
    z.object({ id: z.string() }),
    `select a.id from access_grant a join subjects_of($1) mine on mine.subject_id = coalesce(a.person_id, a.group_id)
     where a.id = any($2)`,
    [personId, given],
  )
  if (theirs.length)
    await manager
      .createQueryBuilder()
      .insert()
      .into(GrantSeenRow)
      .values(theirs.map(({ id }) => ({ personId, grantId: id, at: new Date() })))
      // Given anew, it is looked at anew.
      .orUpdate(['at'], ['person_id', 'grant_id'])
      .execute()
  await execute(
    manager,
    'update right_request set seen_at = now() where person_id = $1 and id = any($2) and answered_at is not null',
    [personId, refused],
  )
}

/**
 * Asks who manages a place for more than one may do there; asked again it says the latest.
 * @throws Refusal not-found, invalid for what one may do anyway
 */
export async function askForMore(
  manager: EntityManager,
  personId: string,
  id: string,
  { role, words }: z.output<typeof AskedFor>,
): Promise<void> {
  const { thing: of, role: has } = await thingFor(manager, personId, id, 'view')
  if (rankOf[has] >= rankOf[role as Role]) throw new Refusal('invalid', say('problem.you-may-do-that-already'))
  await execute(
    manager,
    `insert into right_request (id, share_id, entry_id, person_id, role, words) values ($1, $2, $3, $4, $5, $6)
     on conflict (person_id, coalesce(entry_id, share_id)) where answered_at is null
     do update set role = excluded.role, words = excluded.words, at = now()`,
    [uuidv7(), of.shareId, of.kind === 'share' ? null : of.id, personId, role, words],
  )
  await tell(manager)
}

/** Where something was asked for. @throws Refusal not-found */
export async function placeOfRequest(manager: EntityManager, id: string): Promise<string> {
  const row = await manager.findOneBy(RightRequestRow, { id })
  if (!row) throw absent()
  return row.entryId ?? row.shareId
}

/**
 * Gives what somebody asked for, or does not.
 * @throws Refusal not-found, also for what was answered meanwhile; not-allowed
 */
export async function answerRequest(manager: EntityManager, by: string, id: string, give: boolean): Promise<void> {
  const row = await manager.findOne(RightRequestRow, { where: { id }, lock: { mode: 'pessimistic_write' } })
  if (!row || row.answeredAt) throw absent()
  const at = row.entryId ?? row.shareId
  await thingFor(manager, by, at, 'manage')
  if (give)
    await giveRight(manager, by, at, { subject: { personId: row.personId }, role: row.role, until: null, words: '' })
  await manager.update(RightRequestRow, { id }, { answeredAt: new Date(), answeredBy: by, given: give })
  await tell(manager)
}
