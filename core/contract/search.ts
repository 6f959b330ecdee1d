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
