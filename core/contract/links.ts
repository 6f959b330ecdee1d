import { z } from 'zod'
import type { Code } from '../words/en'
import { PersonName } from './people'

/** What the bearer of a link may do. */
const LinkRole = z.enum(['view', 'edit'])

/** Lets in whoever has its address, without an account. */
export const NewLink = z.object({
  /** Whom it is for, in the words of who makes it. */
  name: z
    .string()
    .trim()
    .min(1, 'contract.enter-whom-for' satisfies Code)
    .max(100),
  role: LinkRole,
  /** The moment it ends; null: when it is ended. */
  until: z.iso.datetime().nullable(),
  /** Asked for before anything is shown; null: none. */
  password: z
    .string()
    .min(8, 'contract.link-password-short' satisfies Code)
    .max(200)
    .nullable(),
  /** How often it may be opened; null: as often as one likes. */
  uses: z.number().int().min(1).max(10_000).nullable(),
  /** Of a file: this version and no other; null: always the latest. */
  versionId: z.uuid().nullable(),
  /** Whether files may be taken along, or only looked at. */
  download: z.boolean(),
})

export const Link = z.object({
  id: z.uuid(),
  /** The folder or file that it leads to. */
  entryId: z.uuid(),
  name: z.string(),
  role: LinkRole,
  until: z.iso.datetime().nullable(),
  password: z.boolean(),
  uses: z.number().int().nullable(),
  /** How often it was opened. */
  opened: z.number().int(),
  lastOpened: z.iso.datetime().nullable(),
  /** Number of the version that it shows; null: the latest. */
  version: z.number().int().nullable(),
  download: z.boolean(),
  by: z.string(),
  at: z.iso.datetime(),
  /** Why it opens nothing any more; null while it does. `gone`: the version that it shows, or what was granted to it. */
  over: z.enum(['ended', 'day', 'uses', 'gone']).nullable(),
})
export type Link = z.infer<typeof Link>

/** A new link, with what nobody can ask for again. */
export const MadeLink = z.object({ link: Link, token: z.string() })
export type MadeLink = z.infer<typeof MadeLink>

/** Something done with a link. */
export const LinkUse = z.object({
  at: z.iso.datetime(),
  what: z.enum(['opened', 'refused', 'looked', 'took', 'came to write', 'saved']),
  /** From where. */
  address: z.string(),
  browser: z.string(),
  /** What a guest called themselves. */
  guest: z.string().nullable(),
  file: z.string().nullable(),
  version: z.number().int().nullable(),
})
export type LinkUse = z.infer<typeof LinkUse>

/** 256 bits, in base64url (RFC 4648, section 5). */
export const OpenLink = z.object({
  token: z.string().max(100),
  password: z.string().max(200).optional(),
})

/** A folder or file, as it is shown by a link. */
export const LinkedEntry = z.object({
  id: z.uuid(),
  kind: z.enum(['folder', 'file']),
  name: z.string(),
  type: z.string().nullable(),
  /** Of the version that is shown; bytes. */
  size: z.number().int().nullable(),
  savedAt: z.iso.datetime().nullable(),
  number: z.number().int().nullable(),
})
export type LinkedEntry = z.infer<typeof LinkedEntry>

export const OpenedLink = z.object({
  id: z.uuid(),
  entry: LinkedEntry,
  role: LinkRole,
  download: z.boolean(),
  until: z.iso.datetime().nullable(),
  /** Who made it, and can be asked. */
  by: z.string(),
  /** Who is signed in with an account in this browser. */
  signedInAs: z.string().nullable(),
})
export type OpenedLink = z.infer<typeof OpenedLink>

/** What whoever comes to write calls themselves. */
export const ComeToWrite = z.object({ name: PersonName })

export const LinkedFolder = z.object({
  /** From what the link leads to down to this one. */
  trail: z.array(z.object({ id: z.uuid(), name: z.string() })),
  entries: z.array(LinkedEntry),
  /** How many there are, of which the first are shown. */
  total: z.number().int(),
})
export type LinkedFolder = z.infer<typeof LinkedFolder>
