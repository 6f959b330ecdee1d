// Printers, what is printed on them, and how somebody likes it.
import { z } from 'zod'
import { PaperChoices, PaperStandard } from './paper'
import { SentenceShape } from './text'

export const Turn = z.enum(['one', 'long', 'short'])
export type Turn = z.infer<typeof Turn>

export const Printer = z.object({
  id: z.uuid(),
  name: z.string(),
  /** For administrators; null for others. */
  address: z.string().nullable(),
  /** What it says of itself; null where it does not answer. */
  now: z
    .object({
      model: z.string(),
      state: z.enum(['idle', 'busy', 'stopped']),
      /** It takes nothing now. */
      refuses: z.boolean(),
      /** What is wrong, as printers say it (RFC 8011, section 5.4.12). */
      reasons: z.array(z.string()),
      waiting: z.number().int(),
      sides: z.array(Turn),
      /** Sizes of paper that lie in it, by our names (core/content/paper-sizes.ts). */
      sizes: z.array(z.string()),
      colour: z.boolean(),
      mostCopies: z.number().int(),
      /** Percent; null where it does not know. */
      supplies: z.array(z.object({ name: z.string(), level: z.number().int().nullable() })),
    })
    .nullable(),
  /** Why it does not answer. */
  fault: SentenceShape.nullable(),
})
export type Printer = z.infer<typeof Printer>

export const NewPrinter = z.object({
  name: z.string().trim().min(1).max(100),
  address: z.string().trim().max(500),
})
export type NewPrinter = z.infer<typeof NewPrinter>

const count = z.number().int().min(1).max(100_000)
/** A PDF is at most so large; bytes. */
export const largestPrint = 60_000_000

export const NewPrintJob = z.object({
  /** Asked for again under it, it is printed once. */
  key: z.uuid(),
  printerId: z.uuid(),
  /** The file that it is of, and its version; null for what has not been saved. */
  fileId: z.uuid().nullable(),
  versionId: z.uuid().nullable(),
  /** What is not in the version is on it. */
  unsaved: z.boolean(),
  name: z.string().min(1).max(1000),
  /** In base64. */
  pdf: z.base64().max(Math.ceil(largestPrint / 3) * 4),
  /** Printed when the stack was put back. */
  backs: z
    .base64()
    .max(Math.ceil(largestPrint / 3) * 4)
    .nullable(),
  /** Of the work, that are on it. */
  pages: count,
  /** Of the PDF. */
  faces: count,
  /** Those that the printer makes; the others are in the PDF. */
  copies: z.number().int().min(1).max(999),
  /** All that come out. */
  allCopies: z.number().int().min(1).max(999),
  collate: z.boolean(),
  turn: Turn,
  size: z.string().max(20).nullable(),
  landscape: z.boolean(),
  colour: z.boolean(),
})
export type NewPrintJob = z.infer<typeof NewPrintJob>

export const PrintState = z.enum(['waiting', 'printing', 'stopped', 'done', 'cancelled', 'failed', 'lost'])
export type PrintState = z.infer<typeof PrintState>
export const PrintJob = z.object({
  id: z.uuid(),
  printer: z.string(),
  printerId: z.uuid(),
  name: z.string(),
  fileId: z.uuid().nullable(),
  at: z.iso.datetime(),
  since: z.iso.datetime(),
  state: PrintState,
  reasons: z.array(z.string()),
  said: SentenceShape.nullable(),
  /** Faces that are printed, and all of them. */
  done: z.number().int(),
  faces: z.number().int(),
  pages: z.number().int(),
  copies: z.number().int(),
  /** Its backs wait for the stack. */
  hasBacks: z.boolean(),
  /** It can be printed again. */
  again: z.boolean(),
})
export type PrintJob = z.infer<typeof PrintJob>

/** What was printed of a file. */
export const Printed = z.object({
  id: z.uuid(),
  at: z.iso.datetime(),
  by: z.string(),
  printer: z.string(),
  number: z.number().int().nullable(),
  unsaved: z.boolean(),
  pages: z.number().int(),
  copies: z.number().int(),
  state: PrintState,
})
export type Printed = z.infer<typeof Printed>

/** How somebody likes pages. */
export const PaperLikes = z.object({
  paper: PaperChoices,
  standard: PaperStandard,
  range: z.string().max(500),
  which: z.enum(['all', 'odd', 'even']),
  reverse: z.boolean(),
  copies: z.number().int().min(1).max(999),
  collate: z.boolean(),
  fold: z.object({ leaves: z.number().int().min(0).max(100), margin: z.number().min(0).max(100) }).nullable(),
  perSide: z.union([z.literal(1), z.literal(2), z.literal(4), z.literal(6), z.literal(8), z.literal(9), z.literal(16)]),
  order: z.enum(['rows', 'columns', 'rows-from-right', 'columns-from-right']),
  frames: z.boolean(),
  sides: z.enum(['one', 'long', 'short', 'hand']),
  colour: z.boolean(),
  printerId: z.uuid().nullable(),
  /** All sheets of a workbook. */
  allSheets: z.boolean(),
})
export type PaperLikes = z.infer<typeof PaperLikes>
/** What is kept: how it was the last time, how it was on a printer, or under a name. */
export const KeptLikes = z.object({
  about: z
    .string()
    .min(1)
    .max(120)
    .regex(/^(?:last|printer .+|named .+)$/s),
  likes: PaperLikes,
})
export type KeptLikes = z.infer<typeof KeptLikes>
