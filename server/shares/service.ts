import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Defaults, Role, Share } from '../../core/contract'
import { checkName, nameKey } from '../../core/naming/check'
import { say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { announce } from '../events/announce'
import { absent, Refusal } from '../refusal'
import { grantRight, requireRole, requireShare, roleOf, seenBy } from '../rights/service'
import { select } from '../sql/rows'
import { ShareRow } from './entity'

// How many files there are is what the index of words counts anyway; counting them would take as long as there are many.
// What a person may not see is not counted.
const shareColumns = (
  person: string,
) => `s.id, s.name, s.description, s.archived_at is not null as archived, may_see.rank, s.defaults,
  coalesce((select sum(w.files) from realm r ${seenBy(person, 'r.id', 'seen')} join search_word w on w.word = 'realm:' || r.no
    where r.share_id = s.id), 0)::int as files`
const shown = ({ rank, ...share }: Omit<Share, 'role'> & { rank: number }): Share => ({ ...share, role: roleOf(rank) })

export async function sharesOf(manager: EntityManager, personId: string): Promise<Share[]> {
  const rows = await select(
    manager,
    z.custom<Omit<Share, 'role'> & { rank: number }>(),
    `select ${shareColumns('$1')} from share s ${seenBy('$1', 's.id')} order by s.name`,
    [personId],
  )
  return rows.map(shown)
}

/**
 * A share, with the role that a person has in it or, where one is named, in a folder or file of it.
 * @throws Refusal not-found
 */
export async function shareFor(
  manager: EntityManager,
  personId: string,
  shareId: string,
  entryId: string | null = null,
): Promise<Share> {
  const [share] = await select(
    manager,
    z.custom<Omit<Share, 'role'> & { rank: number }>(),
    `select ${shareColumns('$1')} from share s ${entryId ? `join entry e on e.share_id = s.id and e.id = $3 ${seenBy('$1')}` : seenBy('$1', 's.id')}
     where s.id = $2`,
    [personId, shareId, ...(entryId ? [entryId] : [])],
  )
  if (!share) throw absent()
  return shown(share)
}

export async function addShare(manager: EntityManager, name: string): Promise<string> {
  const id = uuidv7()
  await manager.insert(ShareRow, { id, name: name.normalize('NFC'), nameKey: nameKey(name), createdAt: new Date() })
  return id
}

export async function addMember(manager: EntityManager, shareId: string, personId: string, role: Role): Promise<void> {
  await grantRight(manager, { realmId: shareId, subject: { personId }, role })
}

/** @throws Refusal name-refused, as of any name; name-taken */
async function refuseName(manager: EntityManager, name: string, id: string | null): Promise<void> {
  const fault = checkName(name.normalize('NFC'))
  if (fault) throw new Refusal('name-refused', fault.reason, { fields: { name: fault.reason } })
  const there = await manager.findOneBy(ShareRow, { nameKey: nameKey(name) })
  if (there && there.id !== id) {
    const taken = say('problem.a-share-is-called-that', { name: there.name })
    throw new Refusal('name-taken', taken, { fields: { name: taken } })
  }
}

interface Named {
  name: string
  description: string
}

/** Makes a share, managed by who makes it. @throws Refusal name-refused, name-taken */
export async function makeShare(manager: EntityManager, by: string, { name, description }: Named): Promise<Share> {
  await refuseName(manager, name, null)
  const id = await addShare(manager, name)
  await manager.update(ShareRow, { id }, { description })
  await auditing(manager, { personId: by, shareId: id, what: 'share made', facts: { name } })
  await grantRight(manager, { realmId: id, subject: { personId: by }, role: 'manage', givenBy: by })
  return shareFor(manager, by, id)
}

/** @throws Refusal not-allowed, name-refused, name-taken */
export async function changeShare(
  manager: EntityManager,
  by: string,
  id: string,
  { name, description }: Named,
): Promise<Share> {
  const share = await shareFor(manager, by, id)
  await requireRole(manager, by, id, 'manage')
  await refuseName(manager, name, id)
  await manager.update(ShareRow, { id }, { name: name.normalize('NFC'), nameKey: nameKey(name), description })
  await auditing(manager, { personId: by, shareId: id, what: 'share changed', facts: { from: share.name, name } })
  await announce(manager, { about: 'names', shareId: id })
  return shareFor(manager, by, id)
}

/** Has only its managers change anything in a share, or everybody again who may edit. @throws Refusal not-allowed */
export async function archiveShare(manager: EntityManager, by: string, id: string, archived: boolean): Promise<Share> {
  // A folder with rights of its own has a role, too, and is no share.
  await shareFor(manager, by, id)
  await requireRole(manager, by, id, 'manage')
  await manager.update(ShareRow, { id }, { archivedAt: archived ? new Date() : null })
  await auditing(manager, { personId: by, shareId: id, what: archived ? 'share archived' : 'share opened again' })
  return shareFor(manager, by, id)
}

/** Sets where new work is filed in a share. @throws Refusal not-allowed */
export async function setShareDefaults(
  manager: EntityManager,
  personId: string,
  shareId: string,
  defaults: Defaults,
): Promise<Share> {
  await requireShare(manager, personId, shareId, 'manage')
  await manager.update(ShareRow, { id: shareId }, { defaults })
  return shareFor(manager, personId, shareId)
}
