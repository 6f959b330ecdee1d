// Conventions and controlled lists of a share. A change is taken whole or refused with its reason:
// rules that could give a name with two readings never get in, whichever side would bring them
// about, the convention or a list that it uses.

import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { ControlledList, Convention, ListValue, PartValues, Role, Rules, ShareNaming } from '../../core/contract'
import { nameKey } from '../../core/naming/check'
import { checkListValues, checkRules } from '../../core/naming/rules'
import { say } from '../../core/words/said'
import { announce } from '../events/announce'
import { requireFolder } from '../files/folders'
import { acceptName } from '../files/names'
import { absent, Refusal, sqlState } from '../refusal'
import { requireRole, requireShare } from '../rights/service'
import { conventionsOfShare } from '../sql/locks'
import { execute, select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { ControlledListRow, ConventionRow, ConventionVersionRow, NameUseRow } from './entity'

const shownList = ({ id, shareId, name, values, revision }: ControlledListRow): ControlledList => ({
  id,
  shareId,
  name,
  values,
  revision,
})

async function listsOf(manager: EntityManager, shareId: string): Promise<ControlledList[]> {
  return (await manager.find(ControlledListRow, { where: { shareId }, order: { nameKey: 'ASC' } })).map(shownList)
}

/** What holds now in a share, without asking who wants to know. */
export async function namingOf(manager: EntityManager, shareId: string): Promise<ShareNaming> {
  const rows = await select(
    manager,
    z.object({
      id: z.string(),
      folder_id: z.string().nullable(),
      name: z.string(),
      number: z.number(),
      rules: z.custom<Rules>(),
      since: z.date(),
      author: z.string(),
    }),
    `select c.id, c.folder_id, c.name, v.number, v.rules, v.since, p.name as author
     from convention c join convention_version v on v.convention_id = c.id join person p on p.id = v.author_id
     left join entry f on f.id = c.folder_id
     where c.share_id = $1 and c.ended_at is null and (c.folder_id is null or f.removed_at is null) order by c.name, c.id, v.number desc`,
    [shareId],
  )
  const conventions: Convention[] = []
  for (const { id, folder_id, name, number, rules, since, author } of rows) {
    const newest = conventions.at(-1)
    const version = { number, rules, since: since.toISOString() }
    if (newest?.id === id) newest.earlier.push(version)
    else conventions.push({ id, shareId, folderId: folder_id, name, author, ...version, earlier: [] })
  }
  return { conventions, lists: await listsOf(manager, shareId) }
}

export async function shareNaming(manager: EntityManager, personId: string, shareId: string): Promise<ShareNaming> {
  await requireShare(manager, personId, shareId, 'view')
  return namingOf(manager, shareId)
}

function refuseRules(rules: Rules, lists: ControlledList[]): void {
  const faults = checkRules(rules, lists)
  if (faults.length)
    throw new Refusal('convention-refused', faults[0]!.reason, {
      fields: Object.fromEntries(faults.map(({ partId, reason }) => [partId ?? 'rules', reason])),
    })
}

function acceptValues(values: ListValue[]): ListValue[] {
  const normal = values.map(({ code, label, retired }) => ({
    code: code.normalize('NFC'),
    label: label.normalize('NFC'),
    retired,
  }))
  const faults = checkListValues(normal)
  if (faults.length)
    throw new Refusal(
      'convention-refused',
      say('problem.line', { it: faults[0]!.row + 1, reason: faults[0]!.reason }),
      {
        fields: Object.fromEntries(faults.slice(0, 50).map(({ row, reason }) => [`line ${row + 1}`, reason])),
      },
    )
  return normal
}

const listTaken = (error: unknown, name: string): unknown =>
  sqlState(error) === '23505'
    ? new Refusal('name-taken', say('problem.there-is-a-list-named-here-already', { name }), {
        fields: { name: say('problem.this-name-is-used-already') },
      })
    : error

/** @throws Refusal not-allowed, convention-refused with the line and the reason, name-taken */
export async function newList(
  database: DataSource,
  personId: string,
  { shareId, name: wanted, values }: { shareId: string; name: string; values: ListValue[] },
): Promise<ControlledList> {
  await requireShare(database.manager, personId, shareId, 'manage')
  const name = acceptName(wanted)
  const row = {
    id: uuidv7(),
    shareId,
    name,
    nameKey: nameKey(name),
    values: acceptValues(values),
    revision: 1,
    changedBy: personId,
    changedAt: new Date(),
  }
  await inTransaction(database, async (manager) => {
    await manager.insert(ControlledListRow, row)
    await announce(manager, { about: 'names', shareId })
  }).catch((error) => {
    throw listTaken(error, name)
  })
  return shownList(row)
}

/** A list that this person may see or change. @throws Refusal not-found, not-allowed */
export async function requireList(
  manager: EntityManager,
  personId: string,
  listId: string,
  needed: Role,
): Promise<ControlledListRow> {
  const list = await manager.findOneBy(ControlledListRow, { id: listId })
  if (!list) throw absent()
  await requireRole(manager, personId, list.shareId, needed)
  return list
}

/** @throws Refusal changed-meanwhile when somebody changed the list since `revision`; else as `newList` */
export async function changeList(
  database: DataSource,
  personId: string,
  listId: string,
  { name: wanted, values, revision }: { name: string; values: ListValue[]; revision: number },
): Promise<ControlledList> {
  const known = await requireList(database.manager, personId, listId, 'manage')
  const name = acceptName(wanted)
  const accepted = acceptValues(values)
  return inTransaction(database, async (manager) => {
    // Conventions and lists of a share change one after the other, so that they are checked against each other.
    await execute(manager, 'select pg_advisory_xact_lock($1, hashtext($2))', [conventionsOfShare, known.shareId])
    const naming = await namingOf(manager, known.shareId)
    const lists = naming.lists.map((list) => (list.id === listId ? { ...list, values: accepted } : list))
    for (const convention of naming.conventions)
      if (convention.rules.parts.some((part) => part.kind === 'list' && part.listId === listId)) {
        const [fault] = checkRules(convention.rules, lists)
        if (fault)
          throw new Refusal(
            'convention-refused',
            say('problem.the-convention-uses-this-list', { conventionName: convention.name, reason: fault.reason }),
            {
              fields: { values: fault.reason },
            },
          )
      }
    const { affected } = await manager.update(
      ControlledListRow,
      { id: listId, revision },
      {
        name,
        nameKey: nameKey(name),
        values: accepted,
        revision: revision + 1,
        changedBy: personId,
        changedAt: new Date(),
      },
    )
    if (!affected) throw new Refusal('changed-meanwhile', say('problem.somebody-changed-this-list-meanwhile-look-at'))
    await announce(manager, { about: 'names', shareId: known.shareId })
    return { id: listId, shareId: known.shareId, name, values: accepted, revision: revision + 1 }
  }).catch((error) => {
    throw listTaken(error, name)
  })
}

/** @throws Refusal not-allowed, convention-refused, name-taken when the place has a convention of its own */
export async function newConvention(
  database: DataSource,
  personId: string,
  { shareId, folderId, name, rules }: { shareId: string; folderId: string | null; name: string; rules: Rules },
): Promise<Convention> {
  await requireShare(database.manager, personId, shareId, 'manage')
  await requireFolder(database.manager, shareId, folderId)
  const id = uuidv7()
  await inTransaction(database, async (manager) => {
    await execute(manager, 'select pg_advisory_xact_lock($1, hashtext($2))', [conventionsOfShare, shareId])
    refuseRules(rules, await listsOf(manager, shareId))
    await manager.insert(ConventionRow, { id, shareId, folderId, name, endedAt: null })
    await manager.insert(ConventionVersionRow, {
      conventionId: id,
      number: 1,
      rules,
      authorId: personId,
      since: new Date(),
    })
    await announce(manager, { about: 'names', shareId })
  }).catch((error) => {
    if (sqlState(error) === '23505') throw new Refusal('name-taken', say('problem.this-place-has-a-convention-of-its'))
    throw error
  })
  return conventionById(database.manager, shareId, id)
}

async function conventionById(manager: EntityManager, shareId: string, id: string): Promise<Convention> {
  const found = (await namingOf(manager, shareId)).conventions.find((one) => one.id === id)
  if (!found) throw absent()
  return found
}

/** A convention that holds, and that this person may see or change. @throws Refusal not-found, not-allowed */
export async function requireConvention(
  manager: EntityManager,
  personId: string,
  conventionId: string,
  needed: Role,
): Promise<ConventionRow> {
  const row = await manager.findOneBy(ConventionRow, { id: conventionId })
  if (!row || row.endedAt) throw absent()
  await requireRole(manager, personId, row.shareId, needed)
  return row
}

/** Adds a version; names that followed the one before are not wrong by it. @throws Refusal changed-meanwhile, convention-refused */
export async function changeConvention(
  database: DataSource,
  personId: string,
  conventionId: string,
  { name, rules, number }: { name: string; rules: Rules; number: number },
): Promise<Convention> {
  const { shareId } = await requireConvention(database.manager, personId, conventionId, 'manage')
  await inTransaction(database, async (manager) => {
    await execute(manager, 'select pg_advisory_xact_lock($1, hashtext($2))', [conventionsOfShare, shareId])
    const present = await conventionById(manager, shareId, conventionId)
    if (present.number !== number)
      throw new Refusal(
        'changed-meanwhile',
        say('problem.changed-this-convention-meanwhile-look-at-it', { author: present.author }),
      )
    refuseRules(rules, await listsOf(manager, shareId))
    await manager.update(ConventionRow, { id: conventionId }, { name })
    if (JSON.stringify(rules) !== JSON.stringify(present.rules))
      await manager.insert(ConventionVersionRow, {
        conventionId,
        number: number + 1,
        rules,
        authorId: personId,
        since: new Date(),
      })
    await announce(manager, { about: 'names', shareId })
  })
  return conventionById(database.manager, shareId, conventionId)
}

export async function endConvention(database: DataSource, personId: string, conventionId: string): Promise<void> {
  const { shareId } = await requireConvention(database.manager, personId, conventionId, 'manage')
  await database.manager.update(ConventionRow, { id: conventionId }, { endedAt: new Date() })
  await announce(database.manager, { about: 'names', shareId })
}

/** Values this person used last under a convention, newest first. */
export async function usedValues(
  manager: EntityManager,
  personId: string,
  conventionId: string,
): Promise<PartValues[]> {
  await requireConvention(manager, personId, conventionId, 'view')
  const used = await manager.find(NameUseRow, { where: { personId, conventionId }, order: { at: 'DESC' }, take: 12 })
  return used.map(({ partValues }) => partValues)
}
