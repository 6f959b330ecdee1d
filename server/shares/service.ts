import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import type { Defaults, Role, Share } from '../../core/contract'
import { nameKey } from '../../core/naming/check'
import { absent, Refusal } from '../refusal'
import { MembershipRow, ShareRow } from './entity'

const rank: Record<Role, number> = { view: 1, edit: 2, manage: 3 }
const act: Record<Role, string> = {
  view: 'see this share',
  edit: 'change files in this share',
  manage: 'manage this share',
}

/**
 * The person's role in a share.
 * @throws Refusal not-found for people who are not members (it does not tell them that it exists),
 *   not-allowed for members whose role is too low
 */
export async function requireRole(
  manager: EntityManager,
  personId: string,
  shareId: string,
  needed: Role,
): Promise<Role> {
  const row = await manager.findOneBy(MembershipRow, { shareId, personId })
  if (!row) throw absent()
  refuseLower(row.role, needed)
  return row.role
}

function refuseLower(role: Role, needed: Role): void {
  if (rank[role] < rank[needed])
    throw new Refusal('not-allowed', `You may not ${act[needed]}. Ask one of its managers.`)
}

/** The person's role where a file or a folder is, in one question. @throws Refusal as `requireRole` */
export async function requireRoleAt(
  manager: EntityManager,
  personId: string,
  entryId: string,
  needed: Role,
): Promise<Role> {
  const [row]: { role: Role }[] = await manager.query(
    `select m.role from entry e join membership m on m.share_id = e.share_id and m.person_id = $2
     where e.id = $1 and e.removed_at is null`,
    [entryId, personId],
  )
  if (!row) throw absent()
  refuseLower(row.role, needed)
  return row.role
}

// How many files there are is what the index of words counts anyway; counting them would take as long as there are many.
const shareColumns = `s.id, s.name, m.role, s.defaults,
  coalesce((select w.files from search_word w where w.word = 'share:' || s.no), 0) as files`

export function sharesOf(manager: EntityManager, personId: string): Promise<Share[]> {
  return manager.query(
    `select ${shareColumns} from share s join membership m on m.share_id = s.id where m.person_id = $1 order by s.name`,
    [personId],
  )
}

export async function shareFor(manager: EntityManager, personId: string, shareId: string): Promise<Share> {
  const [share] = await manager.query(
    `select ${shareColumns} from share s join membership m on m.share_id = s.id where m.person_id = $1 and s.id = $2`,
    [personId, shareId],
  )
  if (!share) throw absent()
  return share
}

export async function addShare(manager: EntityManager, name: string): Promise<string> {
  const id = uuidv7()
  await manager.insert(ShareRow, { id, name: name.normalize('NFC'), nameKey: nameKey(name), createdAt: new Date() })
  return id
}

export async function addMember(manager: EntityManager, shareId: string, personId: string, role: Role): Promise<void> {
  await manager.upsert(MembershipRow, { shareId, personId, role }, ['shareId', 'personId'])
}

/** Sets where new work is filed in a share. @throws Refusal not-allowed */
export async function setShareDefaults(
  manager: EntityManager,
  personId: string,
  shareId: string,
  defaults: Defaults,
): Promise<Share> {
  await requireRole(manager, personId, shareId, 'manage')
  await manager.query('update share set defaults = $2 where id = $1', [shareId, JSON.stringify(defaults)])
  return shareFor(manager, personId, shareId)
}
