// Codes on their way to whom they are for, by mail.
import { type EntityManager, In } from 'typeorm'
import type { GivenCode } from '../../core/contract'
import { type MailParts, putMail } from '../mail/outbox'
import type { Sender } from '../mail/sender'
import { codeText } from '../mail/texts'
import { PersonCodeRow, PersonRow } from './entity'

/** Sends each code to its person, as far as mail reaches them. @returns the codes, with where each is sent */
export async function mailCodes(
  manager: EntityManager,
  mail: MailParts,
  sender: Sender,
  given: readonly GivenCode[],
): Promise<GivenCode[]> {
  const people = await manager.findBy(PersonRow, { id: In(given.map(({ id }) => id)) })
  const addresses = new Map(people.map((one) => [one.id, one.mail]))
  const sent = given.map((one) => ({ ...one, sentTo: addresses.get(one.id) ?? null }))
  for (const { id, handle, code, until, sentTo } of sent) {
    if (sentTo === null) continue
    const [mailId] = await putMail(manager, mail, [
      {
        ...codeText(sender, { handle, code, until, address: sender.origin }),
        kind: 'code',
        personId: sender.id,
        to: { personId: id, address: sentTo },
      },
    ])
    await manager.update(PersonCodeRow, { personId: id }, { mailId: mailId! })
  }
  return sent
}
