// What is asked for on pages: a document as it is written now, or as it was.
import { z } from 'zod'

/** A PDF as it is, one for keeping (ISO 19005-2, PDF/A-2a), or one that is read out well (ISO 14289-1, PDF/UA-1). */
export const PaperStandard = z.enum(['plain', 'archive', 'accessible'])
export type PaperStandard = z.infer<typeof PaperStandard>

export const OnPaper = z.object({
  /** The document, as its JSON. */
  json: z.unknown(),
  /** The version whose file says how its styles look; null where there is none. */
  versionId: z.uuid().nullable(),
  /** What fields of its pages say. */
  name: z.string().max(1000),
  number: z.number().int().min(1).max(1_000_000_000).nullable(),
  day: z.string().max(100),
  /** Of its text; a BCP 47 tag. */
  language: z.string().regex(/^[a-z]{2,3}$/),
  standard: PaperStandard,
})
export type OnPaper = z.infer<typeof OnPaper>

/** What goes with the pages, in the header `jaula-paper` as JSON in percent-encoding. */
export const PaperFacts = z.object({
  pages: z.number().int(),
  substituted: z.array(z.object({ font: z.string(), by: z.string(), sameWidths: z.boolean() })),
  undrawn: z.number().int(),
})
export type PaperFacts = z.infer<typeof PaperFacts>
