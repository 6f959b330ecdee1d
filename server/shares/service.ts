import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Defaults, Role, Share } from '../../core/contract'
import { nameKey } from '../../core/naming/check'
import { absent } from '../refusal'
import { grantRight, requireRole, roleOf, seenBy } from '../rights/service'
import { select } from '../sql/rows'
import { ShareRow } from './entity'

// How many files there are is what the index of words counts anyway; counting them would take as long as there are many.
// What a person may not see is not counted.
const shareColumns = (person: string) => `s.id, s.name, may_see.rank, s.defaults,
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

/** Sets where new work is filed in a share. @throws Refusal not-allowed */
export async function setShareDefaults(
  manager: EntityManager,
  personId: string,
  shareId: string,
  defaults: Defaults,
): Promise<Share> {
  await requireRole(manager, personId, shareId, 'manage')
  await manager.update(ShareRow, { id: shareId }, { defaults })
  return shareFor(manager, personId, shareId)
}
