// What goes out by mail: written down with what it is about, taken to the mail server beside everything else, and tried
// again while that is away. A message whose process is killed while it is being taken there is taken there again, under the
// same Message-ID, by which its reader's mail server knows it for the same one.
import { randomUUID } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { MailNow, MailState, SentMail, Undelivered } from '../../core/contract'
import { DamagedFile } from '../../core/formats/refusals'
import { fileType } from '../../core/formats/types'
import { asKept, fromKept, type Sentence, saidBy, say } from '../../core/words/said'
import { announce } from '../events/announce'
import type { Work } from '../jobs/queue'
import { absent, Refusal } from '../refusal'
import { OtherSeal, type Seal } from '../seal'
import { execute, select, selectOne } from '../sql/rows'
import type { Contents } from '../storage/content'
import { isDamage } from '../storage/content'
import { type Convert, TakesTooLong } from './convert'
import { MailRow } from './entity'
import type { Deliver, MailWay } from './way'

/** What the server needs to send mail. */
export interface MailParts {
  way: MailWay
  seal: Seal
  /** Where people reach Jaula; null: where the request came to. */
  address: string | null
}

export interface NewMail {
  kind: Undelivered['kind']
  personId: string
  to: { personId: string | null; address: string }
  subject: string
  text: string
  sendingId?: string
  aboutId?: string
  linkId?: string
}

/** So many messages may one person send in an hour. */
export const mostInAnHour = 300
/** After so long a message is given up (RFC 5321, section 4.5.4.1, has four to five days). Milliseconds. */
const longest = 4 * 86_400_000
/** Whoever takes a message to the mail server has so long, until another may try. Milliseconds. */
const lease = 900_000
/** Between the tries; minutes. */
const pauses = [1, 2, 5, 10, 20, 30]

const purposeOf = (id: string) => `mail ${id}`

/** Writes messages down, to be taken to the mail server soon. @returns their ids @throws Refusal too-many-attempts */
export async function putMail(
  manager: EntityManager,
  { way, seal }: MailParts,
  mails: readonly NewMail[],
): Promise<string[]> {
  const [one] = mails
  if (!one) return []
  if (mails.some(({ kind }) => kind !== 'code')) {
    const { sent } = await selectOne(
      manager,
      z.object({ sent: z.number() }),
      `select count(*)::int as sent from mail where person_id = $1 and at > now() - interval '1 hour' and kind <> 'code'`,
      [one.personId],
    )
    if (sent + mails.length > mostInAnHour)
      throw new Refusal('too-many-attempts', say('problem.too-many-messages', { most: mostInAnHour }), {
        retryAfter: 600,
      })
  }
  const domain = way.from.address.slice(way.from.address.lastIndexOf('@') + 1)
  const ids: string[] = []
  for (const { to, text, ...mail } of mails) {
    const id = uuidv7()
    ids.push(id)
    await manager.insert(MailRow, {
      ...mail,
      id,
      messageId: `<${randomUUID()}@${domain}>`,
      toPerson: to.personId,
      address: to.address,
      body: seal.lock(text, purposeOf(id)),
      nextAt: () => 'now()',
    })
  }
  return ids
}

const Waiting = z.object({
  id: z.string(),
  messageId: z.string(),
  kind: z.custom<NewMail['kind']>(),
  personId: z.string(),
  sendingId: z.string().nullable(),
  toPerson: z.string().nullable(),
  address: z.string(),
  subject: z.string(),
  body: z.instanceof(Buffer),
  at: z.date(),
  tries: z.number(),
  by: z.string(),
  replyTo: z.string().nullable(),
  name: z.string().nullable(),
})
type Waiting = z.output<typeof Waiting>

export interface Posting {
  database: DataSource
  contents: Contents
  mail: MailParts
  convert: Convert
  deliver: Deliver
}

/** Takes the next message that waits, for a while. */
async function takeNext(database: DataSource): Promise<Waiting | undefined> {
  const [row] = await select(
    database,
    Waiting,
    `with taken as (
       update mail set tries = tries + 1, next_at = now() + $1 * interval '1 millisecond' where id = (
         select id from mail where state = 'waiting' and next_at <= now() order by next_at limit 1 for update skip locked)
       returning *)
     select m.id, m.message_id as "messageId", m.kind, m.person_id as "personId", m.sending_id as "sendingId",
       m.to_person as "toPerson", m.address, m.subject, m.body, m.at, m.tries, b.name as by, b.mail as "replyTo", t.name
     from taken m join person b on b.id = m.person_id left join person t on t.id = m.to_person`,
    [lease],
  )
  return row
}

/** What goes with a message is not kept any more: without it nothing goes. */
class NotKept extends Error {}

/** What goes with a message: versions, as they are or as another type. @throws DamagedFile, TakesTooLong, NotKept, RangeError for damage */
async function attachmentsOf({ database, contents, convert }: Posting, sendingId: string | null) {
  if (!sendingId) return []
  const versions = await select(
    database,
    z.object({
      name: z.string(),
      sha256: z.instanceof(Buffer).nullable(),
      type: z.string().nullable(),
      as: z.string().nullable(),
      number: z.number().nullable(),
      at: z.date().nullable(),
      file: z.string(),
      language: z.enum(['en', 'de']),
    }),
    `select s.name, v.sha256, v.type, g.type as "as", v.number, v.at, e.name as file,
       case p.settings->>'language' when 'de' then 'de' else 'en' end as language
     from sent_version s join sending g on g.id = s.sending_id join entry e on e.id = g.entry_id
     left join person_settings p on p.person_id = g.person_id left join version v on v.id = s.version_id where s.sending_id = $1 order by s.place`,
    [sendingId],
  )
  const attachments = []
  for (const { name, sha256, type, as, number, at, file, language } of versions) {
    if (sha256 === null || type === null || number === null || at === null) throw new NotKept()
    const of = { name: file, number, savedAt: at, language }
    const whole = await contents.whole(database.manager, sha256)
    const bytes = as === null || as === type ? whole : (await convert({ bytes: whole, from: type, to: as, of })).bytes
    attachments.push({ filename: name, content: Buffer.from(bytes), contentType: fileType(as ?? type).mediaType })
  }
  return attachments
}

type Settled = { state: Exclude<MailState, 'waiting'> | 'waiting'; said: Sentence | null; nextAt?: Date }

/** What becomes of a message is written down, and its sender's pages hear of it. */
async function settle(database: DataSource, { id, personId }: Waiting, { state, said, nextAt }: Settled) {
  await database.transaction(async (manager) => {
    await execute(
      manager,
      // Who withdrew it in this moment is told that it was sent, where it was.
      `update mail set state = $2, said = $3, next_at = $4, since = case when state = $2 then since else now() end,
         body = case when $2 = 'waiting' then body end
       where id = $1 and (state = 'waiting' or ($2 = 'sent' and state = 'withdrawn'))`,
      [id, state, said === null ? null : asKept(said), nextAt ?? null],
    )
    await announce(manager, { about: 'mail', personId })
  })
}

/** @returns whether the mail server could be spoken to */
async function post(posting: Posting, one: Waiting, now: number): Promise<boolean> {
  const { database, mail, deliver } = posting
  const forGood = (said: Sentence) => settle(database, one, { state: 'given up', said }).then(() => true)
  let text: string
  let attachments: Awaited<ReturnType<typeof attachmentsOf>>
  try {
    text = mail.seal.open(one.body, purposeOf(one.id))
    attachments = await attachmentsOf(posting, one.kind === 'file' ? one.sendingId : null)
  } catch (error) {
    if (error instanceof OtherSeal) return forGood(say('problem.mail-other-key'))
    if (error instanceof DamagedFile || error instanceof TakesTooLong) return forGood(saidBy(error))
    if (error instanceof NotKept) return forGood(say('problem.mail-version-not-kept'))
    if (isDamage(error)) return forGood(say('problem.this-version-is-damaged-on-the-server'))
    throw error
  }
  const outcome = await deliver({
    messageId: one.messageId,
    by: one.by,
    replyTo: one.replyTo,
    to: { name: one.name, address: one.address },
    subject: one.subject,
    text,
    attachments,
    automatic: one.kind === 'code' || one.kind === 'invitation',
  })
  if (outcome.is === 'sent') await settle(database, one, { state: 'sent', said: null })
  else if (outcome.is === 'refused') await settle(database, one, { state: 'refused', said: outcome.said })
  else if (now - one.at.getTime() > longest) await settle(database, one, { state: 'given up', said: outcome.said })
  else {
    const pause = (pauses[one.tries - 1] ?? pauses.at(-1)!) * 60_000
    await settle(database, one, { state: 'waiting', said: outcome.said, nextAt: new Date(now + pause) })
    return !outcome.away
  }
  return true
}

/** Takes what waits to the mail server, every minute and when there is something new. */
export const posting = (parts: Posting): Work => ({
  name: 'mail',
  when: '* * * * *',
  async run(stopped) {
    while (!stopped()) {
      const one = await takeNext(parts.database)
      // A mail server that is away is away for the others, too: they wait for the next minute.
      if (!one || !(await post(parts, one, Date.now()))) return
    }
  },
})

const SentMailRow = z.object({
  id: z.string(),
  name: z.string().nullable(),
  address: z.string(),
  state: z.custom<MailState>(),
  since: z.date(),
  said: z.string().nullable(),
  nextAt: z.date().nullable(),
})
/** Of `mail m` and `person t`, to whom it goes. */
export const mailColumns = `m.id, t.name, m.address, m.state, m.since, m.said, case when m.tries > 0 then m.next_at end as "nextAt"`
export { SentMailRow }
export const shownMail = ({ since, said, nextAt, ...mail }: z.output<typeof SentMailRow>): SentMail => ({
  ...mail,
  since: since.toISOString(),
  said: said === null ? null : fromKept(said),
  nextAt: nextAt?.toISOString() ?? null,
})

/** One's own message. @throws Refusal not-found */
export async function ownMail(manager: EntityManager, personId: string, id: string): Promise<MailRow> {
  const row = await manager.findOneBy(MailRow, { id, personId })
  if (!row) throw absent()
  return row
}

/** @throws Refusal not-found, invalid for one that does not wait any more */
export async function tryAgain(manager: EntityManager, personId: string, id: string): Promise<void> {
  const { state } = await ownMail(manager, personId, id)
  if (state !== 'waiting') throw new Refusal('invalid', say('problem.this-message-waits-no-more'))
  await execute(manager, `update mail set next_at = now() where id = $1 and state = 'waiting'`, [id])
}

/** @throws Refusal not-found, invalid for one that is on its way already */
export async function withdraw(manager: EntityManager, personId: string, id: string): Promise<MailRow> {
  const row = await ownMail(manager, personId, id)
  const gone = await execute(
    manager,
    `update mail set state = 'withdrawn', since = now(), next_at = null, body = null where id = $1 and state = 'waiting'`,
    [id],
  )
  if (!gone && row.state !== 'withdrawn') throw new Refusal('invalid', say('problem.this-message-waits-no-more'))
  await announce(manager, { about: 'mail', personId })
  return row
}

/** Messages of one's own that did not reach somebody and were not seen to, the latest first. */
export async function undelivered(manager: EntityManager, personId: string): Promise<Undelivered[]> {
  const rows = await select(
    manager,
    SentMailRow.extend({
      kind: z.custom<Undelivered['kind']>(),
      subject: z.string(),
      ofId: z.string().nullable(),
      ofKind: z.enum(['share', 'folder', 'file']).nullable(),
      ofName: z.string().nullable(),
      shareId: z.string().nullable(),
    }),
    `select ${mailColumns}, m.kind, m.subject, coalesce(e.id, s.id) as "ofId", coalesce(e.kind, case when s.id is not null then 'share' end) as "ofKind",
       coalesce(e.name, s.name) as "ofName", coalesce(e.share_id, s.id) as "shareId"
     from mail m left join person t on t.id = m.to_person left join sending g on g.id = m.sending_id
     left join entry e on e.id = coalesce(g.entry_id, m.about_id) and e.removed_at is null
       and exists (select from may($1) seen where seen.realm_id = e.realm_id)
     left join share s on s.id = m.about_id and exists (select from may($1) seen where seen.realm_id = s.id)
     where m.person_id = $1 and m.seen_at is null and m.state in ('came back', 'refused', 'given up')
     order by m.since desc limit 50`,
    [personId],
  )
  return rows.map(({ kind, subject, ofId, ofKind, ofName, shareId, ...mail }) => ({
    mail: shownMail(mail),
    kind,
    subject,
    of: ofId ? { id: ofId, kind: ofKind!, name: ofName!, shareId: shareId! } : null,
  }))
}

/** @throws Refusal not-found */
export async function seeUndelivered(manager: EntityManager, personId: string, id: string): Promise<void> {
  await ownMail(manager, personId, id)
  await manager.update(MailRow, { id }, { seenAt: new Date() })
}

/** How mail goes out now. */
export async function mailNow(manager: EntityManager, mail: MailParts | null): Promise<MailNow> {
  const now = await selectOne(
    manager,
    z.object({ waiting: z.number(), lastSent: z.date().nullable(), said: z.string().nullable() }),
    `select count(*) filter (where state = 'waiting')::int as waiting,
       max(since) filter (where state in ('sent', 'came back')) as "lastSent",
       (select said from mail where state = 'waiting' and said is not null order by at limit 1) as said from mail`,
  )
  return {
    from: mail?.way.from.address ?? null,
    host: mail?.way.out.host ?? null,
    returns: mail?.way.returns !== undefined && mail.way.returns !== null,
    waiting: now.waiting,
    lastSent: now.lastSent?.toISOString() ?? null,
    said: now.said === null ? null : fromKept(now.said),
  }
}
