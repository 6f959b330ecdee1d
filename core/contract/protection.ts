import { z } from 'zod'
import type { Code } from '../words/en'

/** Seconds between recovery points where nobody has set anything else. */
export const standardInterval = 30

/** Seconds between recovery points. */
export const Interval = z
  .number()
  .int()
  .min(5, 'contract.interval-short' satisfies Code)
  .max(3600, 'contract.interval-long' satisfies Code)
/** The same; 0 for no recovery points. */
export const IntervalOrOff = z
  .number()
  .int()
  .max(3600, 'contract.interval-long' satisfies Code)
  .refine((seconds) => seconds === 0 || seconds >= 5, 'contract.interval-short-or-none' satisfies Code)

/** One place where protection can be set, from the widest to the narrowest. What is null is not set there. */
export const ProtectionLayer = z.object({
  level: z.enum(['person', 'kind', 'share', 'folder', 'file']),
  /** The share's, folder's or file's name; the kind's; empty for the person. */
  name: z.string(),
  /** Set by the share's managers for everyone, or by the person for themselves. */
  by: z.enum(['me', 'managers']),
  interval: IntervalOrOff.nullable(),
  /** Whether the work becomes a version by itself every few quiet seconds. */
  continuous: z.boolean().nullable(),
  /** What the managers allow below this place. */
  least: Interval.nullable(),
  most: Interval.nullable(),
})
export type ProtectionLayer = z.infer<typeof ProtectionLayer>

export const OwnProtection = z.object({
  /** Exactly one of these says where it holds. */
  kind: z.enum(['document', 'spreadsheet']).optional(),
  shareId: z.uuid().optional(),
  /** A folder or a file. */
  entryId: z.uuid().optional(),
  interval: IntervalOrOff.nullable(),
  continuous: z.boolean().nullable(),
})
export type OwnProtection = z.infer<typeof OwnProtection>

export const PlaceProtection = z.object({
  shareId: z.uuid(),
  folderId: z.uuid().nullable(),
  interval: IntervalOrOff.nullable(),
  continuous: z.boolean().nullable(),
  least: Interval.nullable(),
  most: Interval.nullable(),
})
export type PlaceProtection = z.infer<typeof PlaceProtection>
