// Sending a folder's or file's link, or versions of a file, to somebody; and what was sent.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import {
  type AsType,
  mostRecipients,
  type Recipient,
  type SendFile,
  type SendLink,
  type Sent,
} from '../../core/contract'
import { fileType, nameAs, writableBeside } from '../../core/formats/types'
import { splitExtension } from '../../core/naming/check'
import type { Language } from '../../core/words/in-language'
import { say } from '../../core/words/said'
import { auditing } from '../audit/log'
import { makeLink } from '../links/service'
import type { Convert } from '../mail/convert'
import { SendingRow, SentVersionRow } from '../mail/entity'
import { type MailParts, mailColumns, putMail, SentMailRow, shownMail } from '../mail/outbox'
import type { Sender } from '../mail/sender'
import { fileText, linkText } from '../mail/texts'
import { absent, Refusal } from '../refusal'
import { thingFor } from '../rights/access'
import { requireRole, requireRoleAt } from '../rights/service'
import { locksOfSending } from '../sql/locks'
import { execute, select } from '../sql/rows'
import type { Contents } from '../storage/content'
import { type PlacedVersion, versionById } from '../versions/read'

/** Mail goes out, or this is refused. @throws Refusal invalid */
export function requireMail(mail: MailParts | null): MailParts {
  if (!mail) throw new Refusal('invalid', say('problem.no-mail-is-set-up'))
  return mail
}

/** @throws Refusal invalid for a type that this cannot be sent as */
export function requireType({ type: own }: PlacedVersion, type: string): void {
  const { kind } = fileType(own)
  if (type !== own && (kind === 'other' || (type !== 'pdf' && !writableBeside(own, kind).includes(type))))
    throw new Refusal('invalid', say('problem.cannot-be-sent-as', { type }), {
      fields: { type: say('problem.cannot-be-sent-as', { type }) },
    })
}

/**
 * A version as it would be sent.
 * @throws DamagedFile, TakesTooLong, RangeError where what is stored is damaged
 */
export async function asTypeOf(
  manager: EntityManager,
  contents: Contents,
  convert: Convert,
  version: PlacedVersion,
  type: string,
  language: Language,
): Promise<AsType> {
  const name = nameAs(version.fileName, type)
  if (type === version.type) return { name, size: version.size, losses: [] }
  const bytes = await contents.whole(manager, Buffer.from(version.sha256, 'hex'))
  const of = { name: version.fileName, number: version.number, savedAt: new Date(version.at), language }
  const { bytes: written, lost } = await convert({ bytes, from: version.type, to: type, of })
  return { name, size: written.length, losses: lost.map(({ feature, count, where }) => ({ feature, count, where })) }
}

/**
 * The addresses of whom something is sent to, each once.
 * @throws Refusal invalid for somebody whom mail does not reach, not-found for nobody
 */
async function addressesOf(
  manager: EntityManager,
  to: readonly Recipient[],
): Promise<{ personId: string | null; name: string | null; address: string }[]> {
  const people = await select(
    manager,
    z.object({ id: z.string(), name: z.string(), mail: z.string().nullable() }),
    `select id, name, mail from person where id = any($1) and closed_at is null and guest_of is null`,
    [to.flatMap((one) => ('personId' in one ? [one.personId] : []))],
  )
  const byId = new Map(people.map((one) => [one.id, one]))
  const found = new Map<string, { personId: string | null; name: string | null; address: string }>()
  for (const one of to) {
    if ('address' in one) {
      const key = one.address.toLowerCase()
      if (!found.has(key)) found.set(key, { personId: null, name: null, address: one.address })
      continue
    }
    const person = byId.get(one.personId)
    if (!person) throw absent()
    if (person.mail === null) {
      const why = say('problem.no-mail-reaches', { name: person.name })
      throw new Refusal('invalid', why, { fields: { to: why } })
    }
    found.set(person.mail.toLowerCase(), { personId: person.id, name: person.name, address: person.mail })
  }
  return [...found.values()].slice(0, mostRecipients)
}

/** What was asked for before with the same key. @throws Refusal invalid where it was something else */
async function sentBefore(manager: EntityManager, by: string, key: string, entryId: string): Promise<Sent | null> {
  // The same request twice at once: the second waits for what the first one says.
  await execute(manager, 'select pg_advisory_xact_lock($1, hashtext($2))', [locksOfSending, key])
  const row = await manager.findOneBy(SendingRow, { id: key })
  if (!row) return null
  if (row.personId !== by || row.entryId !== entryId) throw new Refusal('invalid', say('problem.this-key-is-used'))
  return (await sentOf(manager, by, entryId)).find(({ id }) => id === key) ?? null
}

/** The name under which a version goes, where several of a file do. */
function nameOfVersion(name: string, number: number): string {
  const [stem, ending] = splitExtension(name)
  return `${stem} (${number})${ending}`
}

export interface Prepared {
  versions: PlacedVersion[]
  as: AsType[]
}

/**
 * Writes down a sending of versions, and a message to each who gets it.
 * @throws Refusal invalid, not-found, not-allowed, too-large, too-many-attempts
 */
export async function sendFile(
  manager: EntityManager,
  mail: MailParts,
  sender: Sender,
  fileId: string,
  { key, to, words, type }: SendFile,
  { versions, as }: Prepared,
): Promise<Sent> {
  await requireRoleAt(manager, sender.id, fileId, 'view')
  const before = await sentBefore(manager, sender.id, key, fileId)
  if (before) return before
  const size = as.reduce((sum, one) => sum + one.size, 0)
  if (size > mail.way.largest)
    throw new Refusal('too-large', say('problem.too-large-for-mail', { size, most: mail.way.largest }))
  const recipients = await addressesOf(manager, to)
  const named = as.map(({ name }, at) => (versions.length > 1 ? nameOfVersion(name, versions[at]!.number) : name))
  const losses = new Map<string, AsType['losses'][number]>()
  for (const loss of as.flatMap((one) => one.losses)) if (!losses.has(loss.feature)) losses.set(loss.feature, loss)
  const [first] = versions
  await manager.insert(SendingRow, {
    id: key,
    entryId: fileId,
    personId: sender.id,
    as: 'file',
    type: versions.every((one) => type === null || type === one.type) ? null : type,
    words,
    losses: [...losses.values()] as object[] as never,
  })
  for (const [place, version] of versions.entries())
    await manager.insert(SentVersionRow, {
      sendingId: key,
      versionId: version.id,
      place,
      number: version.number,
      name: named[place]!,
      size: String(as[place]!.size),
    })
  const text = fileText(sender, {
    words,
    name: nameAs(first!.fileName, type ?? first!.type),
    versions: versions.map(({ number, at }, place) => ({ name: named[place]!, number, at: new Date(at) })),
  })
  await putMail(
    manager,
    mail,
    recipients.map((one) => ({ ...text, kind: 'file' as const, personId: sender.id, to: one, sendingId: key })),
  )
  await auditing(manager, {
    personId: sender.id,
    shareId: first!.shareId,
    what: 'sent by mail',
    facts: {
      fileId,
      versions: versions.map(({ number }) => number),
      type,
      to: recipients.map(({ address }) => address),
    },
  })
  return (await sentBefore(manager, sender.id, key, fileId))!
}

/** Makes a link for each who gets one, and writes down a message to each. @throws Refusal as `makeLink`, and as `sendFile` */
export async function sendLink(
  manager: EntityManager,
  mail: MailParts,
  sender: Sender,
  entryId: string,
  { key, to, words, link: wanted }: SendLink,
): Promise<Sent> {
  const { thing } = await thingFor(manager, sender.id, entryId, 'manage')
  const before = await sentBefore(manager, sender.id, key, entryId)
  if (before) return before
  const recipients = await addressesOf(manager, to)
  if (thing.kind === 'share') throw new Refusal('invalid', say('problem.a-link-leads-to-a-folder-or-file'))
  await manager.insert(SendingRow, {
    id: key,
    entryId,
    personId: sender.id,
    as: 'link',
    type: null,
    words,
    losses: [],
  })
  if (wanted.versionId !== null) {
    const version = await versionById(manager, wanted.versionId)
    const { number, size } = version
    const name = nameAs(version.fileName, version.type)
    await manager.insert(SentVersionRow, {
      sendingId: key,
      versionId: version.id,
      place: 0,
      number,
      name,
      size: String(size),
    })
  }
  for (const one of recipients) {
    const { link, token } = await makeLink(manager, sender.id, entryId, {
      ...wanted,
      name: (one.name ?? one.address).slice(0, 100),
    })
    const text = linkText(sender, {
      words,
      name: thing.name,
      address: `${sender.origin}/link#${token}`,
      role: wanted.role,
      until: wanted.until,
      uses: wanted.uses,
      password: wanted.password !== null,
    })
    await putMail(manager, mail, [
      { ...text, kind: 'link', personId: sender.id, to: one, sendingId: key, linkId: link.id },
    ])
  }
  await auditing(manager, {
    personId: sender.id,
    shareId: thing.shareId,
    what: 'sent by mail',
    facts: { entryId, link: wanted.role, to: recipients.map(({ address }) => address) },
  })
  return (await sentBefore(manager, sender.id, key, entryId))!
}

/** The versions that are to be sent, and each as what it is to be. @throws Refusal not-found, invalid */
export async function prepareVersions(
  manager: EntityManager,
  personId: string,
  fileId: string,
  { versionIds, type }: Pick<SendFile, 'versionIds' | 'type'>,
): Promise<PlacedVersion[]> {
  const versions: PlacedVersion[] = []
  for (const id of new Set(versionIds)) {
    const version = await versionById(manager, id)
    await requireRole(manager, personId, version.realmId, 'view')
    if (version.fileId !== fileId) throw absent()
    if (type !== null) requireType(version, type)
    versions.push(version)
  }
  return versions.sort((a, b) => a.number - b.number)
}

/** So many sendings of a place are told of. */
const mostTold = 100

/** What was sent of a folder or file, the latest first. @throws Refusal not-found */
export async function sentOf(manager: EntityManager, personId: string, entryId: string): Promise<Sent[]> {
  await requireRoleAt(manager, personId, entryId, 'view')
  const sendings = await select(
    manager,
    z.object({
      id: z.string(),
      at: z.date(),
      by: z.string(),
      own: z.boolean(),
      as: z.enum(['file', 'link']),
      type: z.string().nullable(),
      words: z.string().nullable(),
      losses: z.custom<AsType['losses']>(),
    }),
    `select g.id, g.at, p.name as by, g.person_id = $2 as own, g.sent_as as "as", g.type, g.losses,
       case when g.person_id = $2 then g.words end as words
     from sending g join person p on p.id = g.person_id where g.entry_id = $1 order by g.at desc, g.id limit ${mostTold}`,
    [entryId, personId],
  )
  const ids = sendings.map(({ id }) => id)
  const versions = await select(
    manager,
    z.object({
      sending: z.string(),
      id: z.string(),
      number: z.number(),
      name: z.string(),
      size: z.string(),
      there: z.boolean(),
    }),
    `select s.sending_id as sending, s.version_id as id, s.number, s.name, s.size, v.id is not null as there
     from sent_version s left join version v on v.id = s.version_id where s.sending_id = any($1) order by s.place`,
    [ids],
  )
  const mails = await select(
    manager,
    SentMailRow.extend({ sending: z.string() }),
    `select ${mailColumns}, m.sending_id as sending from mail m left join person t on t.id = m.to_person
     where m.sending_id = any($1) order by m.at, m.id`,
    [ids],
  )
  return sendings.map((one) => ({
    ...one,
    entryId,
    at: one.at.toISOString(),
    versions: versions
      .filter(({ sending }) => sending === one.id)
      .map(({ sending: _, size, ...version }) => ({ ...version, size: Number(size) })),
    mails: mails.filter(({ sending }) => sending === one.id).map(({ sending: _, ...mail }) => shownMail(mail)),
  }))
}
