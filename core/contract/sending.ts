// What is sent by mail: a file, some of its versions or a link; and what became of each message.
import { z } from 'zod'
import type { Code } from '../words/en'
import { NewLink } from './links'
import { MailAddress } from './people'
import { SentenceShape } from './text'

/** How many get it at once, at most, and how many versions of a file they get. */
export const mostRecipients = 50
export const mostVersionsSent = 10

/** Somebody with an account, or an address. */
export const Recipient = z.union([z.object({ personId: z.uuid() }), z.object({ address: MailAddress })])
export type Recipient = z.infer<typeof Recipient>

const toSomebody = {
  /** Makes a repeated request harmless; what is sent is known by it. */
  key: z.uuid(),
  to: z
    .array(Recipient)
    .min(1, 'contract.enter-to-whom' satisfies Code)
    .max(mostRecipients),
  words: z.string().trim().max(4000),
}
export const SendFile = z.object({
  ...toSomebody,
  versionIds: z.array(z.uuid()).min(1).max(mostVersionsSent),
  /** The type that the receiver can open; null: each version as it is. */
  type: z.string().max(200).nullable(),
})
export type SendFile = z.infer<typeof SendFile>
/** A link for each who gets it, so that each is used, and ended, by itself. */
export const SendLink = z.object({ ...toSomebody, link: NewLink.omit({ name: true }) })
export type SendLink = z.infer<typeof SendLink>

/** What is not in a version when it is sent as another type. */
export const AsType = z.object({
  /** The name that it is sent under. */
  name: z.string(),
  /** Bytes. */
  size: z.number().int(),
  losses: z.array(z.object({ feature: z.string(), count: z.number().int(), where: z.array(z.string()) })),
})
export type AsType = z.infer<typeof AsType>

/**
 * `waiting`: the mail server did not have it yet; `sent`: it has it; `came back`: it told later that it could not be
 * delivered; `refused`: it would not have it; `given up`: it could not be reached for too long; `withdrawn`: by who sent it.
 */
export const MailState = z.enum(['waiting', 'sent', 'came back', 'refused', 'given up', 'withdrawn'])
export type MailState = z.infer<typeof MailState>

export const SentMail = z.object({
  id: z.uuid(),
  /** Of somebody with an account. */
  name: z.string().nullable(),
  address: z.string(),
  state: MailState,
  /** Since when that is so. */
  since: z.iso.datetime(),
  /** What the mail server said last, in its words, or why it could not be asked. */
  said: SentenceShape.nullable(),
  /** When it is tried again, while it waits. */
  nextAt: z.iso.datetime().nullable(),
})
export type SentMail = z.infer<typeof SentMail>

export const SentVersion = z.object({
  id: z.uuid(),
  number: z.number().int(),
  name: z.string(),
  /** Bytes, as they were sent. */
  size: z.number().int(),
  /** Whether it is still kept. */
  there: z.boolean(),
})
export type SentVersion = z.infer<typeof SentVersion>

/** Something that was sent. */
export const Sent = z.object({
  id: z.uuid(),
  /** The folder or file. */
  entryId: z.uuid(),
  at: z.iso.datetime(),
  by: z.string(),
  /** Whether whoever asks sent it. */
  own: z.boolean(),
  as: z.enum(['file', 'link']),
  /** The type that it was sent as; null: as it was. */
  type: z.string().nullable(),
  /** What was written with it, for who wrote it. */
  words: z.string().nullable(),
  versions: z.array(SentVersion),
  /** What of the versions was not in what was sent. */
  losses: AsType.shape.losses,
  mails: z.array(SentMail),
})
export type Sent = z.infer<typeof Sent>

/** A message of one's own that did not reach somebody, for the Desk. */
export const Undelivered = z.object({
  mail: SentMail,
  kind: z.enum(['file', 'link', 'invitation', 'code']),
  /** What it was about, and where it is; null for what concerns no place. */
  of: z
    .object({ id: z.uuid(), kind: z.enum(['share', 'folder', 'file']), name: z.string(), shareId: z.uuid() })
    .nullable(),
  subject: z.string(),
})
export type Undelivered = z.infer<typeof Undelivered>
/** How mail goes out, for administrators: the last message that the mail server took, and what is wrong now. */
export const MailNow = z.object({
  /** Where messages come from; null where no mail is set up. */
  from: z.string().nullable(),
  host: z.string().nullable(),
  /** Whether messages that come back are read. */
  returns: z.boolean(),
  waiting: z.number().int(),
  lastSent: z.iso.datetime().nullable(),
  /** What the message that waits longest was told. */
  said: SentenceShape.nullable(),
})
export type MailNow = z.infer<typeof MailNow>
