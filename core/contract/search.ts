import { z } from 'zod'
import { Entry } from './files'

/** A facet by its key: `kind:document`, `year:2026`, `code:LK07`, `person:Ida Thornquist`. */
export const Facet = z.object({ key: z.string(), label: z.string(), files: z.number().int() })
export type Facet = z.infer<typeof Facet>

export const Hit = z.object({
  file: Entry,
  share: z.string(),
  folders: z.array(z.string()),
  /** Where the words were found: in the name unless something else is said. */
  found: z.array(z.enum(['name', 'former name', 'value', 'person', 'content'])),
  /** The former name that it was found by. */
  formerName: z.string().nullable(),
})
export type Hit = z.infer<typeof Hit>

export const SearchAnswer = z.object({
  hits: z.array(Hit),
  /** More match than are listed. */
  more: z.boolean(),
  /** Of the files listed. */
  facets: z.array(Facet),
  /** Words that were taken for what was typed: typed and taken. */
  taken: z.array(z.object({ typed: z.string(), taken: z.array(z.string()) })),
})
export type SearchAnswer = z.infer<typeof SearchAnswer>

/** Words in what versions said: of one file, of a share or a folder in it, or of all that one may see. */
export const PastQuery = z.object({
  q: z.string().max(300).default(''),
  fileId: z.uuid().optional(),
  shareId: z.uuid().optional(),
  folderId: z.uuid().optional(),
})

const PastVersion = z.object({
  id: z.uuid(),
  number: z.number().int(),
  at: z.iso.datetime(),
  author: z.string(),
})
const PastLine = z.object({
  /** Cells of a row are parted by tabs. */
  text: z.string(),
  /** The heading that it is under, or the sheet that it is on. */
  under: z.string(),
  /** Which row of a sheet it is, from 0; null in a document. */
  row: z.number().int().nullable(),
})
export type PastLine = z.infer<typeof PastLine>

/** A version that says the words more often, or less often, than the one before it. */
const PastChange = z.object({
  version: PastVersion,
  /** The one before it that is there; null for the first one. */
  last: PastVersion.nullable(),
  before: z.number().int(),
  after: z.number().int(),
  lines: z.array(z.object({ line: PastLine, instead: PastLine.nullable() })),
})
export type PastChange = z.infer<typeof PastChange>

export const PastFile = z.object({
  file: Entry,
  share: z.string(),
  folders: z.array(z.string()),
  first: PastVersion,
  /** From the first version with the words to the first one without; null where they are there still. */
  stretches: z.array(z.object({ from: PastVersion, until: PastVersion.nullable() })),
  /** Newest first. */
  changes: z.array(PastChange),
  /** How often the newest version says them. */
  now: z.number().int(),
  /** Versions that cannot be looked through: of other types, too large, or damaged. */
  unread: z.number().int(),
})
export type PastFile = z.infer<typeof PastFile>

export const PastAnswer = z.object({
  files: z.array(PastFile),
  /** There are more files. */
  more: z.boolean(),
  /** Versions that wait to be looked through. */
  waiting: z.number().int(),
})
export type PastAnswer = z.infer<typeof PastAnswer>
