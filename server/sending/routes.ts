import type { AsType } from '../../core/contract'
import { DamagedFile } from '../../core/formats/refusals'
import { saidBy, say } from '../../core/words/said'
import { endLink } from '../links/service'
import { convertHere, TakesTooLong } from '../mail/convert'
import { mailNow, ownMail, seeUndelivered, tryAgain, undelivered, withdraw } from '../mail/outbox'
import { senderOf } from '../mail/sender'
import { convertWithPages, languageOf } from '../paper/file-as-pdf'
import { typesetHere } from '../paper/typeset'
import type { AppParts } from '../parts'
import { Refusal } from '../refusal'
import type { Mount } from '../requests/mount'
import { thingFor } from '../rights/access'
import { requireAdministrator, requireRole, requireRoleAt } from '../rights/service'
import { inTransaction } from '../sql/transaction'
import { isDamage } from '../storage/content'
import { versionById } from '../versions/read'
import { asTypeOf, prepareVersions, requireMail, requireType, sendFile, sendLink, sentOf } from './service'

/** What a file has about it that keeps it from being another type is the asker's to know. */
const refusing = async <T>(work: () => Promise<T>): Promise<T> => {
  try {
    return await work()
  } catch (error) {
    if (error instanceof DamagedFile || error instanceof TakesTooLong)
      throw new Refusal('invalid', say('problem.cannot-be-converted', { why: [saidBy(error)] }))
    if (isDamage(error)) throw new Refusal('checksum-differs', say('problem.this-version-is-damaged-on-the-server'))
    throw error
  }
}

export function sendingRoutes(
  mount: Mount,
  { database, contents, mail = null, convert = convertWithPages(convertHere, typesetHere), soon = () => {} }: AppParts,
): void {
  const { manager } = database
  mount('asType', async ({ person, params, query }) => {
    const version = await versionById(manager, params.versionId)
    await requireRole(manager, person.id, version.realmId, 'view')
    requireType(version, query.type)
    const language = await languageOf(manager, person.id)
    return refusing(() => asTypeOf(manager, contents, convert, version, query.type, language))
  })
  mount(
    'sendFile',
    async ({ person, params, body, request }) => {
      const parts = requireMail(mail)
      const versions = await prepareVersions(manager, person.id, params.fileId, body)
      // Written as it will be sent, so that its size and what is not in it are known before anything is promised.
      const as: AsType[] = []
      const language = await languageOf(manager, person.id)
      for (const version of versions)
        as.push(
          await refusing(() => asTypeOf(manager, contents, convert, version, body.type ?? version.type, language)),
        )
      const sender = await senderOf(manager, parts, person.id, request)
      const sent = await inTransaction(database, (one) =>
        sendFile(one, parts, sender, params.fileId, body, { versions, as }),
      )
      soon('mail')
      return sent
    },
    ({ person, params }) => requireRoleAt(manager, person.id, params.fileId, 'view'),
  )
  mount(
    'sendLink',
    async ({ person, params, body, request }) => {
      const parts = requireMail(mail)
      const sender = await senderOf(manager, parts, person.id, request)
      const sent = await inTransaction(database, (one) => sendLink(one, parts, sender, params.id, body))
      soon('mail')
      return sent
    },
    ({ person, params }) => thingFor(manager, person.id, params.id, 'manage'),
  )
  mount('sent', ({ person, params }) => sentOf(manager, person.id, params.entryId))
  mount('tryMailAgain', async ({ person, params }) => {
    await tryAgain(manager, person.id, params.mailId)
    soon('mail')
  })
  mount('withdrawMail', ({ person, params }) =>
    inTransaction(database, async (one) => {
      const { linkId } = await withdraw(one, person.id, params.mailId)
      // Nobody got its address.
      if (linkId)
        await endLink(one, person.id, linkId).catch((error) => {
          // Who does not manage the place any more cannot end it; it is in the list of those who do.
          if (!(error instanceof Refusal)) throw error
        })
    }),
  )
  mount('undelivered', ({ person }) => undelivered(manager, person.id))
  mount('seeUndelivered', async ({ person, params }) => {
    await ownMail(manager, person.id, params.mailId)
    await seeUndelivered(manager, person.id, params.mailId)
  })
  mount(
    'mailNow',
    () => mailNow(manager, mail),
    async ({ person }) => requireAdministrator(person),
  )
}
