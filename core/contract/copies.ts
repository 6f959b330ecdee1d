import { z } from 'zod'
import { CopyPlan } from '../copies/plan'
import { SentenceShape } from './text'

export { CopyPlan, Extent, usualPlan } from '../copies/plan'

/** How the copy of a share at a site stands. */
export const CopyStanding = z.object({
  shareId: z.uuid(),
  share: z.string(),
  /** What is planned for it there, and whether for it alone. */
  plan: CopyPlan.nullable(),
  own: z.boolean(),
  /** Folders of it with a plan of their own there, that whoever asks may see. */
  folders: z.array(z.object({ folderId: z.uuid(), path: z.array(z.string()), plan: CopyPlan })),
  /** Whether anything of it goes there. */
  planned: z.boolean(),
  copiedAt: z.iso.datetime().nullable(),
  checkedAt: z.iso.datetime().nullable(),
  versions: z.number().int(),
  bytes: z.number(),
  /** Versions of the share, and those of them that the copy has. */
  ofVersions: z.number().int(),
  covered: z.number().int(),
  /** Since when something is not in it that should be. */
  openSince: z.iso.datetime().nullable(),
  late: z.boolean(),
  /** What was wrong and could not be repaired, and what the store could not give. */
  faults: z.number().int(),
  unread: z.number().int(),
  failed: z.object({ since: z.iso.datetime(), why: SentenceShape }).nullable(),
  /** What is done to it now, and how far that is. */
  doing: z.object({ is: z.enum(['copy', 'check']), done: z.number().int(), all: z.number().int() }).nullable(),
  /** It was asked for and has not begun. */
  wanted: z.boolean(),
})
export type CopyStanding = z.infer<typeof CopyStanding>

export const CopySite = z.object({
  id: z.uuid(),
  kind: z.enum(['folder', 'drive', 'sftp', 'webdav']),
  name: z.string(),
  /** Where the server has it; for administrators. */
  folder: z.string().nullable(),
  /** Who signs in on another computer, and the fingerprint of the key that it has to show; for administrators. */
  account: z.string().nullable(),
  key: z.string().nullable(),
  /** Whether it can be written to now, or why not. */
  problem: SentenceShape.nullable(),
  seenAt: z.iso.datetime().nullable(),
  /** The last trial of bringing back what it holds. */
  drill: z
    .object({
      at: z.iso.datetime(),
      versions: z.number().int(),
      differ: z.number().int(),
      failure: SentenceShape.nullable(),
    })
    .nullable(),
  /** A trial of it is under way, or was asked for. */
  trial: z.enum(['under way', 'wanted']).nullable(),
  /** For every share without a plan of its own. */
  plan: CopyPlan.nullable(),
  shares: z.array(CopyStanding),
})
export type CopySite = z.infer<typeof CopySite>

export const CopyFinding = z.object({
  id: z.uuid(),
  siteId: z.uuid(),
  shareId: z.uuid(),
  share: z.string(),
  site: z.string(),
  at: z.iso.datetime(),
  path: z.string(),
  is: z.enum(['missing', 'wrong', 'says wrong']),
  repaired: z.boolean(),
})
export type CopyFinding = z.infer<typeof CopyFinding>

export const Copies = z.object({
  sites: z.array(CopySite),
  /** Drives that are there and not used for copies; for administrators. */
  drives: z.array(z.string()),
  /** After so many days a trial of each place is made again; null where there is no database for them. */
  trialDays: z.number().int().nullable(),
  /** Other computers that copies may go to, as whoever runs the server named them; for administrators. */
  hosts: z.array(z.string()),
  /** What nobody has seen yet, newest first; not all of it where there is very much. */
  findings: z.array(CopyFinding),
  findingsInAll: z.number().int(),
  /** Our own store, which is read again over time, too. */
  store: z.object({
    contents: z.number().int(),
    /** Of these, read again, or stored, within so many days. */
    read: z.number().int(),
    days: z.number().int(),
    /** Not what was saved any more, and in no copy. */
    damaged: z.number().int(),
    /** What is damaged, and what was put back and nobody has seen yet; a content may be that of several files. */
    findings: z.array(
      z.object({
        sha256: z.string(),
        name: z.string(),
        number: z.number().int(),
        damaged: z.boolean(),
        mendedAt: z.iso.datetime().nullable(),
        mendedFrom: z.string().nullable(),
      }),
    ),
  }),
  /** What would be lost if the server were gone now. */
  loss: z.object({
    versions: z.number().int(),
    /** Versions that are only in copies of which something is damaged, or could not be read: nobody knows. */
    doubtful: z.number().int(),
    ofVersions: z.number().int(),
    files: z.number().int(),
    ofFiles: z.number().int(),
    /** Since when something is in no copy. */
    since: z.iso.datetime().nullable(),
    /** Pieces of unsaved work, which are in no copy. */
    drafts: z.number().int(),
  }),
  /** Hour by hour, for each site: parts of all versions, and for how many hours something had not been in it. */
  history: z.array(
    z.object({
      siteId: z.uuid(),
      at: z.iso.datetime(),
      covered: z.number(),
      verified: z.number(),
      age: z.number(),
    }),
  ),
})
export type Copies = z.infer<typeof Copies>

/** A file as a copy holds it: its latest version there. */
export const InCopy = z.object({
  id: z.uuid(),
  name: z.string(),
  type: z.string(),
  /** From the outermost to the one that it is in. */
  folders: z.array(z.string()),
  number: z.number().int(),
  at: z.iso.datetime(),
  author: z.string(),
  size: z.number(),
  /** How it stands here: went for good, was removed, is another version, is in another share, is the same. */
  here: z.enum(['gone', 'removed', 'other', 'elsewhere', 'same']),
})
export type InCopy = z.infer<typeof InCopy>
export const CopiedFiles = z.object({
  /** The moment that the copy shows. */
  at: z.iso.datetime(),
  files: z.array(InCopy),
  inAll: z.number().int(),
})
export type CopiedFiles = z.infer<typeof CopiedFiles>
export const BringFiles = z.object({
  siteId: z.uuid(),
  fileIds: z.array(z.uuid()).min(1).max(500),
  /** Asked for twice it is done once. */
  key: z.uuid(),
})
export const BroughtFiles = z.object({
  brought: z.number().int(),
  not: z.array(z.object({ name: z.string(), why: SentenceShape })),
})
export type BroughtFiles = z.infer<typeof BroughtFiles>

/** A place whose copies of my shares are not well; or, of no place, versions that our own store has damaged and no copy has. */
export const CopyAlarm = z.object({
  siteId: z.uuid().nullable(),
  site: z.string(),
  is: z.enum(['failing', 'damaged', 'late', 'store']),
})
export type CopyAlarm = z.infer<typeof CopyAlarm>

/** An administrator's name for a place. */
export const SiteName = z.object({ name: z.string().trim().min(1).max(100) })
/** The address of a folder on another computer. */
export const HostAddress = z.object({ address: z.string().trim().min(1).max(1000) })
/** What another computer shows before anybody signs in: the fingerprint of its key, for SFTP. */
export const HostShown = z.object({
  address: z.string(),
  kind: z.enum(['sftp', 'webdav']),
  key: z.string().nullable(),
})
export type HostShown = z.infer<typeof HostShown>
export const HostSignIn = z.object({
  account: z.string().trim().min(1).max(200),
  /** A password, or a private key as text. */
  secret: z.string().min(1).max(20_000),
  /** The fingerprint that was agreed to. */
  key: z.string().max(200).nullable(),
})
export const CopyHost = HostAddress.extend(HostSignIn.shape)
export const SeenMended = z.object({ sha256s: z.array(z.string().regex(/^[0-9a-f]{64}$/)).max(1000) })
export const AskedCopy = z.object({ siteId: z.uuid(), shareId: z.uuid().nullable(), check: z.boolean() })
/** The plan there of a folder (with its share), of a share, or of every share without one of its own; null for none. */
export const PlanFor = z.object({
  siteId: z.uuid(),
  shareId: z.uuid().nullable(),
  folderId: z.uuid().nullable().default(null),
  plan: CopyPlan.nullable(),
})
/** One that is tried out. */
export const PlannedFor = PlanFor.extend({ plan: CopyPlan })
export const CopyPreview = z.object({
  files: z.number().int(),
  versions: z.number().int(),
  bytes: z.number(),
  /** What of it is there already. */
  there: z.object({ versions: z.number().int(), bytes: z.number() }),
  /** How long the rest takes, by how fast the site was; null where that is not known. */
  seconds: z.number().nullable(),
  /** What the site's file system has left; null where it cannot be asked. */
  room: z.number().nullable(),
})
export type CopyPreview = z.infer<typeof CopyPreview>
