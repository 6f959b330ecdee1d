import { z } from 'zod'
import type { Code } from '../words/en'
import { Role } from './files'
import { Handle, MailAddress, PersonName } from './people'
import { SentMail } from './sending'
import { anyName, count, longestSentence } from './text'

/** How many people are added at once, at most. */
export const mostPeopleAtOnce = 2000

/** An account as administrators see it. */
export const Account = z.object({
  id: z.uuid(),
  handle: z.string(),
  name: z.string(),
  administrator: z.boolean(),
  since: z.iso.datetime(),
  /** Since when nobody signs in with it. */
  closedAt: z.iso.datetime().nullable(),
  /** When somebody last signed in with it. */
  signedInAt: z.iso.datetime().nullable(),
  /** In how many browsers somebody is signed in. */
  sessions: count,
  /** Until when the code that it was given can be used; null where there is none. */
  codeUntil: z.iso.datetime().nullable(),
  /** Whether a password was ever set. */
  hasPassword: z.boolean(),
  secondFactor: z.boolean(),
  /** Names of the groups that it is in itself. */
  groups: z.array(z.string()),
  /** Pieces of work that are open, or were interrupted. */
  works: count,
  /** Where mail reaches them. */
  mail: z.string().nullable(),
  /** What became of the mail with their code; null where none was sent. */
  codeMail: SentMail.nullable(),
})
export type Account = z.infer<typeof Account>

export const NewAccount = z.object({
  handle: Handle,
  name: PersonName,
  administrator: z.boolean().default(false),
  mail: MailAddress.nullable().default(null),
  /** Names of groups; those that are not there yet are made. */
  groups: z.array(anyName.trim().min(1)).max(50).default([]),
})
export type NewAccount = z.infer<typeof NewAccount>

/** Whether codes go to their people by mail, as far as it reaches them. */
const byMail = z.boolean().default(false)
export const NewAccounts = z.object({ people: z.array(NewAccount).min(1).max(mostPeopleAtOnce), byMail })
export const CodeAsked = z.object({ byMail })
/** What somebody enters to set a password, once. */
export const GivenCode = z.object({
  id: z.uuid(),
  handle: z.string(),
  name: z.string(),
  code: z.string(),
  until: z.iso.datetime(),
  /** Where it is sent; null where it is not. */
  sentTo: z.string().nullable().default(null),
})
export type GivenCode = z.infer<typeof GivenCode>

export const ChangedAccount = z.object({
  handle: Handle,
  name: PersonName,
  administrator: z.boolean(),
  /** null for none; it stays where nothing is said of it. */
  mail: MailAddress.nullable().optional(),
})
/** @param handTo who gets what rights and unsaved work the person has; null for nobody */
export const CloseAccount = z.object({ handTo: z.uuid().nullable() })

export const UsedCode = z.object({
  handle: z.string().min(1).max(100),
  code: z.string().min(1).max(100),
  password: z
    .string()
    .min(10, 'contract.password-short' satisfies Code)
    .max(200),
  /** Of the second factor, of somebody who has one. */
  second: z.string().max(100).optional(),
})

/** Somebody who can be chosen. */
export const Known = z.object({
  id: z.uuid(),
  name: z.string(),
  handle: z.string(),
  /** Whether mail reaches them. */
  byMail: z.boolean().optional(),
})
export const KnownGroup = z.object({ id: z.uuid(), name: z.string(), people: count })
export const Directory = z.object({ people: z.array(Known), groups: z.array(KnownGroup) })
export type Directory = z.infer<typeof Directory>

export const Member = z.union([z.object({ personId: z.uuid() }), z.object({ groupId: z.uuid() })])
export type Member = z.infer<typeof Member>
export const GroupName = anyName.trim().min(1, 'contract.enter-a-name' satisfies Code)
export const NewGroup = z.object({ name: GroupName, members: z.array(Member).max(5000) })
export const Group = z.object({
  id: z.uuid(),
  name: z.string(),
  people: z.array(Known),
  groups: z.array(z.object({ id: z.uuid(), name: z.string() })),
  /** In how many shares, folders and files it was given something. */
  grants: count,
})
export type Group = z.infer<typeof Group>

export const NewShare = z.object({ name: GroupName, description: z.string().trim().max(longestSentence) })
export const ArchiveShare = z.object({ archived: z.boolean() })

/** A share, or a folder or file with rights of its own, on the way down to what is asked about. */
export const RealmShown = z.object({
  id: z.uuid(),
  kind: z.enum(['share', 'folder', 'file']),
  name: z.string(),
  /** Lets in nobody from above but those who manage there. */
  closed: z.boolean(),
})
export type RealmShown = z.infer<typeof RealmShown>

export const Subject = z.object({ kind: z.enum(['person', 'group']), id: z.uuid(), name: z.string() })
export type Subject = z.infer<typeof Subject>

export const GrantShown = z.object({
  id: z.uuid(),
  realmId: z.uuid(),
  subject: Subject,
  role: Role,
  until: z.iso.datetime().nullable(),
  /** null: from the beginning. */
  givenBy: z.string().nullable(),
  givenAt: z.iso.datetime(),
  /** To whoever comes by a link, or came by one to write. */
  byLink: z.boolean(),
})
export type GrantShown = z.infer<typeof GrantShown>

/** Why somebody has a role: what was given, and the groups by which it is theirs. */
export const BecauseOf = z.object({ grantId: z.uuid(), through: z.array(z.string()) })
export const Reached = z.object({
  person: Known,
  /** Not somebody with an account: whoever has a link, by its name, or a guest who came by one. */
  byLink: z.boolean(),
  role: Role,
  because: z.array(BecauseOf),
})
export type Reached = z.infer<typeof Reached>

/** Who can reach a share, folder or file, and why. */
export const Access = z.object({
  of: z.object({ id: z.uuid(), kind: z.enum(['share', 'folder', 'file']), name: z.string(), shareId: z.uuid() }),
  /** What the person who asks may do there. */
  role: Role,
  archived: z.boolean(),
  /** From the share down; the last is this one, where it has rights of its own. */
  realms: z.array(RealmShown),
  /** What was given in these, also what has ended. */
  grants: z.array(GrantShown),
  people: z.array(Reached),
})
export type Access = z.infer<typeof Access>

export const NewGrant = z.object({
  subject: Member,
  role: Role,
  /** The moment it ends; null for ever. */
  until: z.iso.datetime().nullable(),
  /** What is said to them, for their Desk. */
  words: z.string().trim().max(1000).default(''),
  /** Whether somebody is told by mail as well, where that reaches them. */
  byMail: z.boolean().default(false),
})

/** A share, folder or file. */
const Thing = z.object({ id: z.uuid(), kind: z.enum(['share', 'folder', 'file']), name: z.string(), shareId: z.uuid() })

/** What is asked for beyond what one may do. */
export const AskedFor = z.object({ role: z.enum(['edit', 'manage']), words: z.string().trim().max(1000) })
export const AnswerToAsked = z.object({ give: z.boolean() })

/** News of rights, for the Desk of one person. */
export const RightsNews = z.object({
  /** What they were given and have not looked at. */
  given: z.array(
    z.object({
      id: z.uuid(),
      of: Thing,
      role: Role,
      until: z.iso.datetime().nullable(),
      by: z.string(),
      at: z.iso.datetime(),
      words: z.string(),
      /** The group that it was given to; null: to them. */
      group: z.string().nullable(),
    }),
  ),
  /** What others ask of them, as managers. */
  asked: z.array(
    z.object({
      id: z.uuid(),
      of: Thing,
      person: z.string(),
      role: z.enum(['edit', 'manage']),
      has: Role.nullable(),
      words: z.string(),
      at: z.iso.datetime(),
    }),
  ),
  /** What they asked for and were not given. */
  refused: z.array(
    z.object({ id: z.uuid(), of: Thing, by: z.string(), role: z.enum(['edit', 'manage']), at: z.iso.datetime() }),
  ),
})
export type RightsNews = z.infer<typeof RightsNews>
/** A place that somebody watches, with what others saved there since they last looked. */
export const Watched = z.object({
  of: Thing,
  since: z.iso.datetime(),
  /** How many files. */
  files: count,
  people: z.array(z.string()),
  latest: z.iso.datetime().nullable(),
})
export type Watched = z.infer<typeof Watched>
export const WatchOrNot = z.object({ on: z.boolean() })
/** Up to when somebody has looked. */
export const LookedAt = z.object({ at: z.iso.datetime() })
export const SeenRightsNews = z.object({ given: z.array(z.uuid()).max(100), refused: z.array(z.uuid()).max(100) })

/** Whether a folder or file has rights of its own: none but those from above, more than those, or only its own. */
export const OwnRights = z.object({ from: z.enum(['above', 'above and here', 'here']) })
export type OwnRights = z.infer<typeof OwnRights>

/** What a person can reach: each share, and each folder or file with rights of its own. */
export const Reach = z.object({
  person: Known,
  realms: z.array(
    z.object({
      realm: RealmShown,
      share: z.string(),
      role: Role,
      because: z.array(z.object({ at: z.string(), through: z.array(z.string()), until: z.iso.datetime().nullable() })),
    }),
  ),
})
export type Reach = z.infer<typeof Reach>
