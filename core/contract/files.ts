import { z } from 'zod'
import { roles } from '../rights'
import type { Code } from '../words/en'
import { PartValues } from './naming'
import { anyName, largestInteger, SentenceShape } from './text'

export const Role = z.enum(roles)
export type Role = z.infer<typeof Role>

/** Where new work of a kind is filed, unless somebody says otherwise. */
export const DefaultPlace = z.object({ shareId: z.uuid(), folderId: z.uuid().nullable() })
export type DefaultPlace = z.infer<typeof DefaultPlace>
const KindDefaults = z.object({
  place: DefaultPlace.nullable(),
  type: z.string().max(20),
  /** The types that a share takes, where its managers narrowed them. */
  only: z
    .array(z.string().regex(/^[a-z0-9]{1,12}$/))
    .min(1)
    .max(40)
    .optional(),
})
export const Defaults = z.object({ document: KindDefaults.optional(), spreadsheet: KindDefaults.optional() })
export type Defaults = z.infer<typeof Defaults>

export const Share = z.object({
  id: z.uuid(),
  name: z.string(),
  /** What it is for, in its managers' words. */
  description: z.string(),
  /** Only its managers change anything in it. */
  archived: z.boolean(),
  role: Role,
  files: z.number().int(),
  /** Set by its managers; a person's own come first. */
  defaults: Defaults,
})
export type Share = z.infer<typeof Share>

/** `by itself` is continuous saving: such versions are folded in the history. */
export const Reason = z.enum(['saved', 'by itself', 'restored', 'merged', 'brought in', 'copied', 'renamed', 'in step'])
export type Reason = z.infer<typeof Reason>

/** One saved state of a file: exact bytes, an author, a time. Never changes. */
export const Version = z.object({
  id: z.uuid(),
  fileId: z.uuid(),
  /** 1 for a file's first version. */
  number: z.number().int(),
  /** SHA-256 of the bytes, in hexadecimal. */
  sha256: z.string().length(64),
  size: z.number().int(),
  type: z.string(),
  author: z.object({ id: z.uuid(), name: z.string() }),
  at: z.iso.datetime(),
  baseId: z.uuid().nullable(),
  reason: Reason,
})
export type Version = z.infer<typeof Version>

/** A version as its file's history shows it. */
export const HistoryVersion = Version.extend({
  /** What it changed beside the version before it, in words; null until that is found out. */
  summary: SentenceShape.nullable(),
  /** How much that is: words, cells and the like. */
  weight: z.number().int().nullable(),
  /** It is kept under this label, and retention never removes it. */
  label: z.string().nullable(),
  /** Where it was before it was taken over, and who wrote it as it says itself; null for what was made here. */
  from: z.object({ path: z.string(), author: z.string() }).nullable(),
})
export type HistoryVersion = z.infer<typeof HistoryVersion>

/** A folder or a file in its place. */
export const Entry = z.object({
  id: z.uuid(),
  kind: z.enum(['folder', 'file']),
  shareId: z.uuid(),
  folderId: z.uuid().nullable(),
  name: z.string(),
  /** The file's type, for example `docx`; empty for a folder. */
  type: z.string(),
  head: Version.nullable(),
  /** What a folder holds directly. */
  children: z.number().int().nullable(),
})
export type Entry = z.infer<typeof Entry>

/** A file with the way to it. */
/** A copy of a file's share on other storage. */
export const FileCopy = z.object({
  /** What the folder is called that it is in. */
  place: z.string(),
  /** The newest version of the file that is in it; null for none. */
  number: z.number().int().nullable(),
  /** What was saved until then is in it; null while there is none. */
  copiedAt: z.iso.datetime().nullable(),
  /** When all of the copy was last read again; null for never since it was made. */
  checkedAt: z.iso.datetime().nullable(),
  /** What was wrong with the copy then, and could not be repaired. */
  faults: z.number().int(),
  /** Since when it cannot be made or read, and why. */
  failed: z.object({ since: z.iso.datetime(), why: SentenceShape }).nullable(),
})
export type FileCopy = z.infer<typeof FileCopy>

export const FileFacts = z.object({
  file: Entry,
  share: Share,
  /** Folders from the share down to the file. */
  trail: z.array(z.object({ id: z.uuid(), name: z.string() })),
  /** The newest ones; the others are asked for a page at a time. */
  versions: z.array(HistoryVersion),
  versionsInAll: z.number().int(),
  /** Another one when something of the older versions is told otherwise: a label, or that some went. */
  historyStamp: z.string(),
  /** The file and version that it was copied from; the name is absent where it may not be seen. */
  origin: z
    .object({
      fileId: z.uuid(),
      versionId: z.uuid(),
      number: z.number().int(),
      /** The type of that version. */
      type: z.string(),
      name: z.string().nullable(),
      /** Its newest version, where that is a later one and may be seen. */
      newer: Version.nullable(),
    })
    .nullable(),
  /** What somebody said of how its values are written, as it goes with its type (core/formats/csv/said.ts); null for nothing. */
  readAs: z.string().nullable(),
  /** Names it had before, newest first. */
  formerNames: z.array(z.string()),
  /** Versions that went by retention. */
  thinnedOut: z.number().int(),
  /** Why retention removes nothing here; null without a hold. */
  held: SentenceShape.nullable(),
  /** Copies of its share, those with its newest version first. */
  copies: z.array(FileCopy),
})
export type FileFacts = z.infer<typeof FileFacts>

export const Place = z.object({
  share: Share,
  trail: z.array(z.object({ id: z.uuid(), name: z.string() })),
  /** One stretch of what is there: folders first, then files, by name. */
  entries: z.array(Entry),
  /** Folders of the asked-for path that are not there yet. */
  missing: z.array(z.string()),
  offset: z.number().int(),
  /** How many there are in all. */
  total: z.number().int(),
})
export type Place = z.infer<typeof Place>

export const RecentFile = z.object({
  file: Entry,
  share: z.string(),
  folders: z.array(z.string()),
  usedAt: z.iso.datetime(),
})
export type RecentFile = z.infer<typeof RecentFile>

/** By what a place's files can be put in order; folders come first in any case, in the order of their names. */
export const ListOrder = z.enum(['name', 'type', 'size', 'saved', 'by'])
export type ListOrder = z.infer<typeof ListOrder>
/** Kinds of file that a place can be narrowed to; folders stay, as the way to the others. */
export const ListKind = z.enum(['document', 'spreadsheet', 'other'])
export type ListKind = z.infer<typeof ListKind>

/** A file whose newest version somebody else saved. */
export const ChangedFile = z.object({
  file: Entry,
  share: z.string(),
  folders: z.array(z.string()),
  /** What that version changed, in words; null until it is known. */
  summary: SentenceShape.nullable(),
})
export type ChangedFile = z.infer<typeof ChangedFile>

export const NewFolder = z.object({ shareId: z.uuid(), folderId: z.uuid().nullable(), name: anyName })

/**
 * Everything that adds a version carries these beside the bytes. The key makes a repeated
 * request harmless: the second one answers with what the first one made.
 */
const savingFields = {
  key: z.uuid(),
  reason: Reason.default('saved'),
  /** The draft this came from and how far of it is in the bytes. */
  draftId: z.uuid().optional(),
  draftSeq: z.coerce.number().int().min(0).max(largestInteger).optional(),
  /** Who writes the draft, as the sender believes; an older writer's save moves nothing of the draft. */
  draftEpoch: z.coerce.number().int().min(0).max(largestInteger).optional(),
  writerId: z.uuid().optional(),
  /** The digest of the draft's records up to `draftSeq`. */
  draftHead: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .optional(),
  /** SHA-256 that the sender computed; a different one here is refused. */
  sha256: z.string().length(64).optional(),
}
/** What a name was composed of, for counters and for what is proposed next time. */
export const Composition = z.object({ conventionId: z.uuid(), values: PartValues })
export type Composition = z.infer<typeof Composition>
const composition = z.preprocess((text) => {
  try {
    return typeof text === 'string' ? JSON.parse(text) : text
  } catch {
    return text
  }
}, Composition.optional())
export const NewFile = z.object({
  ...savingFields,
  shareId: z.uuid(),
  folderId: z.uuid().optional(),
  /** Folders below that place, joined by slashes; those that are missing are made. */
  path: z.string().max(1000).optional(),
  name: anyName,
  /** As JSON. A counter in it is set to its next free number when the file is saved. */
  composition,
  /** The version that this is a copy of. */
  originId: z.uuid().optional(),
})
export const NextVersion = z.object({
  ...savingFields,
  /** The version that the work is based on: it must still be the newest one. */
  baseId: z.uuid(),
  /** The file goes on as this type, under its name with that ending; absent where it stays what it is. */
  type: z
    .string()
    .regex(/^[a-z0-9]{1,12}$/)
    .optional(),
  /** How a list was written, where that is known: what is said of its file holds for it then. */
  writtenAs: z
    .string()
    .regex(/^[a-z0-9=&-]{1,200}$/)
    .optional(),
})
export const Saved = z.object({ file: Entry, version: Version })
export type Saved = z.infer<typeof Saved>

/** What becomes of one folder or file in an act; what is absent stays as it is. */
export const Change = z.object({
  id: z.uuid(),
  name: anyName.optional(),
  shareId: z.uuid().optional(),
  folderId: z.uuid().nullable().optional(),
  /** Folders below that place; those that are missing are made. */
  path: z.array(anyName).max(20).optional(),
  /** The name that the act is based on: a file renamed meanwhile is not renamed again unseen. */
  from: anyName.optional(),
})
export type Change = z.infer<typeof Change>
export const NewAct = z.object({
  id: z.uuid(),
  what: z.enum(['rename', 'move', 'remove', 'bring back', 'correct']),
  changes: z.array(Change).min(1).max(100_000),
})
export const ActResult = z.object({
  id: z.uuid(),
  what: z.string(),
  entries: z.number().int(),
  /** Present where there is one: where and under what name it is now. */
  entry: Entry.optional(),
  /** Names that were taken when something was brought back, with the ones it has instead. */
  renamed: z.array(z.object({ name: z.string(), now: z.string() })),
})
export type ActResult = z.infer<typeof ActResult>

export const RemovedEntry = z.object({
  entry: Entry,
  folders: z.array(z.string()),
  removedAt: z.iso.datetime(),
  removedBy: z.string(),
  /** Until when it can be brought back. */
  until: z.iso.datetime(),
  /** What was removed with it. */
  inside: z.number().int(),
})
export type RemovedEntry = z.infer<typeof RemovedEntry>

export const RecentPlace = z.object({
  shareId: z.uuid(),
  share: z.string(),
  folderId: z.uuid().nullable(),
  folders: z.array(z.string()),
})
export type RecentPlace = z.infer<typeof RecentPlace>

/** Everything an audit reads of a share. */
export const AuditMaterial = z.object({
  folders: z.array(z.object({ id: z.uuid(), parentId: z.uuid().nullable(), name: z.string() })),
  /** id, folder, name, kind's letter (d, s or o), first saved, title */
  files: z.array(z.tuple([z.uuid(), z.uuid().nullable(), z.string(), z.enum(['d', 's', 'o']), z.string(), z.string()])),
})
export type AuditMaterial = z.infer<typeof AuditMaterial>

export const Template = z.object({
  id: z.uuid(),
  shareId: z.uuid(),
  share: z.string(),
  name: z.string(),
  kind: z.enum(['document', 'spreadsheet']),
  type: z.string(),
  versionId: z.uuid(),
  conventionId: z.uuid().nullable(),
  presets: z.record(z.string(), z.string()),
  author: z.string(),
  at: z.iso.datetime(),
})
export type Template = z.infer<typeof Template>
export const NewTemplate = z.object({
  versionId: z.uuid(),
  name: z
    .string()
    .trim()
    .min(1, 'contract.enter-a-name' satisfies Code)
    .max(100),
  conventionId: z.uuid().nullable(),
  presets: PartValues,
})

/** Somebody else who has a file open. */
export const Present = z.object({
  id: z.uuid(),
  name: z.string(),
  /** Holds unsaved work in it. */
  writing: z.boolean(),
  /** Where in it they are: a heading, or a cell; nothing where that is not known. */
  place: z.string(),
})
export type Present = z.infer<typeof Present>
export const Presence = z.object({
  /** The page that has it open, by an id of its own. */
  pageId: z.uuid(),
  leaving: z.boolean(),
  place: z.string().max(120).default(''),
})
