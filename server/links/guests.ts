// Whoever comes by a link to write is somebody of their own, by the name that they give: their versions are theirs, and
// what they may do is granted to them as to others, for as long as the link opens anything.
import type { EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import type { Person } from '../../core/contract'
import { say } from '../../core/words/said'
import { PersonRow } from '../accounts/entity'
import { auditing } from '../audit/log'
import { Refusal } from '../refusal'
import { grantRight, requireRoleAt } from '../rights/service'
import { LinkVisitRow } from './entity'
import { type Came, type FoundLink, noteUse } from './visits'

/** How a guest is told from people of the office, in every list and in every language. */
const nameOf = (given: string, link: string): string => `${given.normalize('NFC')} (Link: ${link})`

/**
 * The guest of a visit: the same one when they come again in it, with the name that they give now.
 * @throws Refusal not-allowed for a link that is for looking only, not-found where what it leads to is gone
 */
export async function guestOf(
  manager: EntityManager,
  { link, visit }: { link: FoundLink; visit: { id: string; guestId: string | null } },
  given: string,
  came: Came,
): Promise<Person> {
  if (link.role !== 'edit') throw new Refusal('not-allowed', say('links.looking-only'))
  await requireRoleAt(manager, link.personId, link.entryId, 'edit')
  const name = nameOf(given, link.name)
  const id = visit.guestId ?? uuidv7()
  // No name that anybody signs in with has a colon.
  const person = { id, handle: `guest:${id}`, name, administrator: false, mail: null }
  if (visit.guestId) await manager.update(PersonRow, { id }, { name })
  else {
    const now = new Date()
    await manager.insert(PersonRow, { ...person, passwordHash: null, createdAt: now, guestOf: link.id })
    await grantRight(manager, {
      realmId: link.entryId,
      subject: { personId: id },
      role: 'edit',
      until: link.until,
      givenBy: link.madeBy,
    })
    await manager.update(LinkVisitRow, { id: visit.id }, { guestId: id })
    await auditing(manager, {
      personId: id,
      shareId: link.shareId,
      what: 'guest came to write',
      facts: { linkId: link.id, name, address: came.address },
    })
  }
  await noteUse(manager, link.id, 'came to write', came, { guestId: id })
  return { ...person, guestOf: link.id }
}
