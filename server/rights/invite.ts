// Who was given something is told by mail, beside their Desk.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Role } from '../../core/contract'
import { type MailParts, putMail } from '../mail/outbox'
import type { Sender } from '../mail/sender'
import { invitationText } from '../mail/texts'
import { select } from '../sql/rows'
import { thingFor } from './access'

/** @param given to a person; groups are told by their Desk alone */
export async function invite(
  manager: EntityManager,
  mail: MailParts,
  sender: Sender,
  id: string,
  given: { subject: { personId: string } | { groupId: string }; role: Role; until: string | null; words: string },
): Promise<void> {
  const { subject, role, until, words } = given
  if (!('personId' in subject) || subject.personId === sender.id) return
  const [person] = await select(
    manager,
    z.object({ id: z.string(), mail: z.string() }),
    'select id, mail from person where id = $1 and mail is not null and closed_at is null',
    [subject.personId],
  )
  if (!person) return
  const { thing } = await thingFor(manager, sender.id, id, 'manage')
  const way =
    thing.kind === 'share'
      ? `files/${thing.id}`
      : thing.kind === 'folder'
        ? `files/${thing.shareId}/${thing.id}`
        : `open/${thing.id}`
  await putMail(manager, mail, [
    {
      ...invitationText(sender, { words, name: thing.name, address: `${sender.origin}/${way}`, role, until }),
      kind: 'invitation',
      personId: sender.id,
      to: { personId: person.id, address: person.mail },
      aboutId: thing.id,
    },
  ])
}
