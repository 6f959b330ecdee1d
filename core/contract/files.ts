import { z } from 'zod'

export const Role = z.enum(['view', 'edit', 'manage'])
export type Role = z.infer<typeof Role>

export const Share = z.object({ id: z.uuid(), name: z.string(), role: Role, files: z.number().int() })
export type Share = z.infer<typeof Share>

export const Reason = z.enum(['saved', 'restored', 'merged', 'brought in', 'copied', 'renamed'])
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
export const FileFacts = z.object({
  file: Entry,
  share: Share,
  /** Folders from the share down to the file. */
  trail: z.array(z.object({ id: z.uuid(), name: z.string() })),
  versions: z.array(Version),
})
export type FileFacts = z.infer<typeof FileFacts>

export const Place = z.object({
  share: Share,
  trail: z.array(z.object({ id: z.uuid(), name: z.string() })),
  entries: z.array(Entry),
})
export type Place = z.infer<typeof Place>

export const RecentFile = z.object({
  file: Entry,
  share: z.string(),
  folders: z.array(z.string()),
  usedAt: z.iso.datetime(),
})
export type RecentFile = z.infer<typeof RecentFile>

export const NewFolder = z.object({ shareId: z.uuid(), folderId: z.uuid().nullable(), name: z.string() })

/**
 * Everything that adds a version carries these beside the bytes. The key makes a repeated
 * request harmless: the second one answers with what the first one made.
 */
const savingFields = {
  key: z.uuid(),
  reason: Reason.default('saved'),
  /** The draft this came from and how far of it is in the bytes. */
  draftId: z.uuid().optional(),
  draftSeq: z.coerce.number().int().optional(),
  /** SHA-256 that the sender computed; a different one here is refused. */
  sha256: z.string().length(64).optional(),
}
export const NewFile = z.object({ ...savingFields, shareId: z.uuid(), folderId: z.uuid().optional(), name: z.string() })
export const NextVersion = z.object({
  ...savingFields,
  /** The version that the work is based on: it must still be the newest one. */
  baseId: z.uuid(),
})
export const Saved = z.object({ file: Entry, version: Version })
export type Saved = z.infer<typeof Saved>
