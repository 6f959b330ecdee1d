import { z } from 'zod'
import type { Code } from '../words/en'
import { RetentionRule } from './retention'
import { anyName, count, SentenceShape } from './text'

export const Label = z.object({
  /** null takes the label away: retention may remove the version then. */
  label: z
    .string()
    .trim()
    .min(1, 'contract.enter-a-label' satisfies Code)
    .max(100, 'contract.label-too-long' satisfies Code)
    .nullable(),
})

/** Where a paragraph or a cell is in a version. */
export const TracedPlace = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('paragraph'), at: count }),
  z.object({
    kind: z.literal('cell'),
    sheet: anyName,
    row: count,
    column: count,
  }),
])
/** The versions in which it became something else, newest first. */
export const Trace = z.object({
  changes: z.array(
    z.object({
      versionId: z.uuid(),
      number: z.number().int(),
      at: z.iso.datetime(),
      author: z.string(),
      /** null where it was not there. */
      before: z.string().nullable(),
      now: z.string().nullable(),
    }),
  ),
  /** How far back it was followed; null to the first version. */
  until: z.number().int().nullable(),
})
export type Trace = z.infer<typeof Trace>

export const Retention = z.object({
  rules: z.array(
    z.object({
      folderId: z.uuid().nullable(),
      /** From the share's name down. */
      path: z.array(z.string()),
      rule: RetentionRule,
      by: z.string(),
      at: z.iso.datetime(),
    }),
  ),
  holds: z.array(
    z.object({ entryId: z.uuid(), path: z.array(z.string()), why: z.string(), by: z.string(), at: z.iso.datetime() }),
  ),
  /** What went in all, and the last of it. */
  gone: z.object({ versions: z.number().int(), bytes: z.number() }),
  log: z.array(
    z.object({
      name: z.string(),
      number: z.number().int(),
      at: z.iso.datetime(),
      author: z.string(),
      removedAt: z.iso.datetime(),
      why: SentenceShape,
    }),
  ),
})
export type Retention = z.infer<typeof Retention>

export const PlaceRule = z.object({ folderId: z.uuid().nullable(), rule: RetentionRule.nullable() })
export const RetentionPreview = z.object({
  files: z.number().int(),
  versions: z.number().int(),
  gone: z.number().int(),
  /** Bytes on the server that nothing else would need. */
  frees: z.number(),
  /** Bytes that the versions that go have as files. */
  asFiles: z.number(),
  held: z.number().int(),
  months: z.array(z.object({ month: z.string(), stay: z.number().int(), gone: z.number().int() })),
  /** The files that most would go of. */
  most: z.array(z.object({ fileId: z.uuid(), name: z.string(), versions: z.number().int(), gone: z.number().int() })),
})
export type RetentionPreview = z.infer<typeof RetentionPreview>
export const Hold = z.object({
  why: z
    .string()
    .trim()
    .min(1, 'contract.say-why' satisfies Code)
    .max(300)
    .nullable(),
})
