// Accounts, as administrators keep them: added with a code, changed, closed with what is handed over, opened again.
import { type EntityManager, In, IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Account, ChangedAccount, Directory, GivenCode, NewAccount, Person } from '../../core/contract'
import { type Sentence, say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { announce } from '../events/announce'
import { mailColumns, SentMailRow, shownMail } from '../mail/outbox'
import { absent, Refusal } from '../refusal'
import { groupCalled, joinGroup } from '../rights/groups'
import { keepingManagers } from '../rights/managers'
import { grantRight } from '../rights/service'
import { locks, takeLock } from '../sql/locks'
import { execute, select } from '../sql/rows'
import { giveCode } from './codes'
import { PersonCodeRow, PersonRow } from './entity'
import { endSessions, sessionsOf } from './sessions'

const accountRow = z.custom<
  Omit<Account, 'since' | 'closedAt' | 'signedInAt' | 'codeUntil' | 'codeMail'> & {
    since: Date
    closedAt: Date | null
    signedInAt: Date | null
    codeUntil: Date | null
  }
>()

/** Work that is open, or was interrupted, or was closed before it was saved. */
const unsaved = `(d.state = 'open' or (d.state in ('closed', 'let go') and d.journal_seq > d.saved_seq))`

export async function accounts(manager: EntityManager): Promise<Account[]> {
  const rows = await select(
    manager,
    accountRow,
    `select p.id, p.handle, p.name, p.mail, p.administrator, p.created_at as since, p.closed_at as "closedAt", p.signed_in_at as "signedInAt",
       c.until as "codeUntil", p.password_hash is not null as "hasPassword", f.confirmed_at is not null as "secondFactor",
       coalesce(s.sessions, 0)::int as sessions, coalesce(g.groups, '{}') as groups, coalesce(w.works, 0)::int as works
     from person p
     left join second_factor f on f.person_id = p.id
     left join person_code c on c.person_id = p.id and c.until > now()
     left join (select person_id, count(*) as sessions from session s
       where s.expires_at > now() and s.used_at > now() - interval '7 days' group by 1) s on s.person_id = p.id
     left join (select m.person_id, array_agg(g.name order by g.name) as groups from group_member m
       join person_group g on g.id = m.group_id where m.person_id is not null group by 1) g on g.person_id = p.id
     left join (select d.person_id, count(*) as works from draft d where ${unsaved} group by 1) w on w.person_id = p.id
     where p.guest_of is null order by p.name, p.handle`,
  )
  // What became of the mail with the code that counts.
  const mails = await select(
    manager,
    SentMailRow.extend({ toPerson: z.string() }),
    `select ${mailColumns}, t.id as "toPerson" from person_code c join mail m on m.id = c.mail_id
     join person t on t.id = c.person_id where c.until > now()`,
  )
  const mailOf = new Map(mails.map(({ toPerson, ...mail }) => [toPerson, shownMail(mail)]))
  const time = (at: Date | null) => at?.toISOString() ?? null
  return rows.map((row) => ({
    ...row,
    since: row.since.toISOString(),
    closedAt: time(row.closedAt),
    signedInAt: time(row.signedInAt),
    codeUntil: time(row.codeUntil),
    codeMail: mailOf.get(row.id) ?? null,
  }))
}

/** Who something can be given to. */
export async function directory(manager: EntityManager): Promise<Directory> {
  const people = await select(
    manager,
    z.object({ id: z.string(), name: z.string(), handle: z.string(), byMail: z.boolean() }),
    `select id, name, handle, mail is not null as "byMail" from person
     where closed_at is null and guest_of is null order by name, handle`,
  )
  const groups = await select(
    manager,
    z.object({ id: z.string(), name: z.string(), people: z.number() }),
    `with recursive they(group_id, id) as (
       select group_id, coalesce(person_id, member_group_id) from group_member
       union select they.group_id, coalesce(g.person_id, g.member_group_id) from they join group_member g on g.group_id = they.id)
     select g.id, g.name, count(p.id)::int as people from person_group g left join they on they.group_id = g.id
     left join person p on p.id = they.id and p.closed_at is null group by g.id, g.name order by g.name`,
  )
  return { people, groups }
}

/** Somebody with an account. @throws Refusal not-found */
async function personOf(manager: EntityManager, id: string): Promise<PersonRow> {
  const row = await manager.findOneBy(PersonRow, { id, guestOf: IsNull() })
  if (!row) throw absent()
  return row
}

/**
 * Adds people, each with a code to set a password with; all or none.
 * @throws Refusal invalid, with a sentence by `people.<number>.<field>`
 */
export async function addPeople(
  manager: EntityManager,
  by: string,
  people: readonly z.output<typeof NewAccount>[],
): Promise<GivenCode[]> {
  await takeLock(manager, locks.people)
  const there = new Set(
    (await manager.findBy(PersonRow, { handle: In(people.map(({ handle }) => handle)) })).map(({ handle }) => handle),
  )
  const fields: Record<string, Sentence> = {}
  for (const [at, { handle }] of people.entries()) {
    if (there.has(handle)) fields[`people.${at}.handle`] = say('problem.somebody-signs-in-with', { handle })
    there.add(handle)
  }
  const faults = Object.values(fields)
  if (faults.length) throw new Refusal('invalid', faults[0]!, { fields })
  const now = new Date()
  const given: GivenCode[] = []
  for (const { handle, name, administrator, groups, mail } of people) {
    const id = uuidv7()
    await manager.insert(PersonRow, {
      id,
      handle,
      name: name.normalize('NFC'),
      administrator,
      mail,
      passwordHash: null,
      createdAt: now,
    })
    await auditing(manager, {
      personId: by,
      what: 'person added',
      facts: { handle, name, administrator, groups, mail },
    })
    for (const group of groups) await joinGroup(manager, await groupCalled(manager, by, group), { personId: id })
    given.push(await giveCode(manager, by, { id, handle, name }))
  }
  return given
}

/** Whether anybody would still administer. @throws Refusal last-manager */
async function keepAdministrator(manager: EntityManager): Promise<void> {
  if (!(await manager.existsBy(PersonRow, { administrator: true, closedAt: IsNull() })))
    throw new Refusal('last-manager', say('problem.nobody-would-administer'))
}

/** @throws Refusal not-found, invalid where the name to sign in with is another's, last-manager */
export async function changePerson(
  manager: EntityManager,
  by: string,
  id: string,
  { handle, name, administrator, mail }: z.output<typeof ChangedAccount>,
): Promise<void> {
  await takeLock(manager, locks.people)
  const row = await personOf(manager, id)
  const other = await manager.findOneBy(PersonRow, { handle })
  if (other && other.id !== id) {
    const taken = say('problem.somebody-signs-in-with', { handle })
    throw new Refusal('invalid', taken, { fields: { handle: taken } })
  }
  await manager.update(
    PersonRow,
    { id },
    {
      handle,
      name: name.normalize('NFC'),
      administrator,
      ...(mail !== undefined && { mail }),
    },
  )
  if (row.administrator && !administrator) await keepAdministrator(manager)
  await auditing(manager, {
    personId: by,
    what: 'account changed',
    facts: {
      from: { handle: row.handle, name: row.name, administrator: row.administrator, mail: row.mail },
      to: { handle, name, administrator, mail: mail === undefined ? row.mail : mail },
    },
  })
}

/**
 * Closes an account: nobody signs in with it, and it is signed out everywhere. What its person was given, and work that
 * was not saved, goes to somebody else where one is named; else it waits for the account to be opened again.
 * @throws Refusal not-found, not-allowed for one's own, last-manager
 */
export async function closePerson(
  manager: EntityManager,
  by: string,
  id: string,
  handTo: string | null,
): Promise<void> {
  if (id === by) throw new Refusal('not-allowed', say('problem.your-own-account-is-closed-by-another'))
  const row = await personOf(manager, id)
  const heir = handTo === null ? null : await personOf(manager, handTo)
  if (heir && (heir.closedAt || heir.id === id)) throw new Refusal('invalid', say('problem.this-account-is-closed'))
  await keepingManagers(manager, async () => {
    const handed = heir ? await handOver(manager, by, id, heir.id) : null
    await manager.update(PersonRow, { id }, { closedAt: row.closedAt ?? new Date() })
    await manager.delete(PersonCodeRow, { personId: id })
    await endSessions(manager, id, null)
    await auditing(manager, {
      personId: by,
      what: 'account closed',
      facts: { handle: row.handle, ...(heir && { to: heir.handle, ...handed }) },
    })
  })
  if (row.administrator) await keepAdministrator(manager)
  await execute(manager, `select pg_notify('jaula_rights', 'people')`)
}

/** Gives to another what somebody was granted themselves, where that is more than the other has, and their unsaved work. */
async function handOver(
  manager: EntityManager,
  by: string,
  from: string,
  to: string,
): Promise<{ rights: number; works: number }> {
  const grants = await select(
    manager,
    z.object({ realm_id: z.string(), role: z.enum(['view', 'edit', 'manage']), until: z.date().nullable() }),
    `select g.realm_id, g.role, g.until from access_grant g
     where g.person_id = $1 and (g.until is null or g.until > now()) and not exists
       (select from access_grant has where has.realm_id = g.realm_id and has.person_id = $2 and has.rank >= g.rank
          and (has.until is null or has.until > now() and has.until >= g.until))`,
    [from, to],
  )
  for (const { realm_id, role, until } of grants)
    await grantRight(manager, { realmId: realm_id, subject: { personId: to }, role, until, givenBy: by })
  // Nobody writes it any more: whoever gets it need not wait until its device has been silent for a while.
  const works = await select(
    manager,
    z.object({ id: z.string() }),
    `update draft d set person_id = $2, answered_at = least(d.answered_at, now() - interval '1 hour'),
       page_answered_at = least(d.page_answered_at, now() - interval '1 hour')
     where d.person_id = $1 and ${unsaved} returning d.id`,
    [from, to],
  )
  for (const { id } of works) await announce(manager, { about: 'draft', draftId: id, personId: to })
  return { rights: grants.length, works: works.length }
}

/** @throws Refusal not-found */
export async function reopenPerson(manager: EntityManager, by: string, id: string): Promise<void> {
  const row = await personOf(manager, id)
  if (!row.closedAt) return
  await manager.update(PersonRow, { id }, { closedAt: null })
  await auditing(manager, { personId: by, what: 'account opened again', facts: { handle: row.handle } })
}

/** @throws Refusal not-found, invalid for a closed account */
export async function giveCodeTo(manager: EntityManager, by: string, id: string): Promise<GivenCode> {
  const row = await personOf(manager, id)
  if (row.closedAt) throw new Refusal('invalid', say('problem.this-account-is-closed'))
  return giveCode(manager, by, row)
}

export async function sessionsOfPerson(manager: EntityManager, asker: Person & { session: string }, id: string) {
  await personOf(manager, id)
  return sessionsOf(manager, id, asker.session)
}

/** Signs somebody out everywhere. @returns in how many browsers they were */
export async function signOutPerson(manager: EntityManager, by: string, id: string): Promise<number> {
  const row = await personOf(manager, id)
  const ended = await endSessions(manager, id, null)
  await auditing(manager, {
    personId: by,
    what: 'signed out by an administrator',
    facts: { handle: row.handle, ended },
  })
  return ended
}
