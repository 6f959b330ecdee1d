// Groups: people, and other groups, who are granted something together.
import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { nameKey } from '../../core/naming/check'
import { GroupMemberRow, GroupRow } from './entity'

export type Member = { personId: string } | { memberGroupId: string }

/** @returns its id */
export async function addGroup(manager: EntityManager, name: string): Promise<string> {
  const id = uuidv7()
  await manager.insert(GroupRow, { id, name: name.normalize('NFC'), nameKey: nameKey(name), createdAt: new Date() })
  return id
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
