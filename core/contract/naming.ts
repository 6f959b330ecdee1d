import { z } from 'zod'
import type { Code } from '../words/en'
import { count } from './text'

/** How a date is written in a name. W is the ISO 8601 week, Q the quarter. */
export const DateForm = z.enum([
  'YYYY-MM-DD',
  'YYYYMMDD',
  'YYYY-MM',
  'YYYY',
  'DD.MM.YYYY',
  'MM-DD-YYYY',
  'YYYY-Www',
  'YYYY-Qq',
])
export type DateForm = z.infer<typeof DateForm>

const partFacts = {
  /** Unique in its convention and never changed, so that values keep their meaning from version to version. */
  id: z.string().regex(/^[a-z0-9-]{1,40}$/),
  label: z
    .string()
    .trim()
    .min(1, 'contract.part-needs-label' satisfies Code)
    .max(60),
  /** Stands before the part when another part is before it. */
  separator: z.string().max(5),
  optional: z.boolean(),
}
export const NamePart = z.discriminatedUnion('kind', [
  z.object({
    ...partFacts,
    kind: z.literal('text'),
    text: z
      .string()
      .min(1, 'contract.enter-the-text' satisfies Code)
      .max(40),
  }),
  z.object({
    ...partFacts,
    kind: z.literal('date'),
    form: DateForm,
    /** Which date is proposed. */
    source: z.enum(['today', 'content', 'chosen']),
  }),
  z.object({ ...partFacts, kind: z.literal('list'), listId: z.uuid(), shows: z.enum(['code', 'label']) }),
  z.object({
    ...partFacts,
    kind: z.literal('words'),
    letters: z.enum(['as typed', 'small', 'capitals', 'first capital']),
    /** In Unicode code points. */
    longest: z.number().int().min(1).max(80),
    symbols: z.enum(['letters and digits', 'any']),
    /** What spaces become. */
    spaces: z.enum(['-', '_', ' ', '.', '']),
  }),
  z.object({
    ...partFacts,
    kind: z.literal('counter'),
    width: z.number().int().min(1).max(9),
    start: z.number().int().min(0).max(999_999_999),
    /** Counted for each folder, or for each combination of values of these parts. */
    per: z.union([z.literal('folder'), z.array(z.string().max(40)).max(8)]),
  }),
  z.object({ ...partFacts, kind: z.literal('initials') }),
  z.object({
    ...partFacts,
    kind: z.literal('file kind'),
    words: z.object({
      document: z.string().min(1).max(30),
      spreadsheet: z.string().min(1).max(30),
      other: z.string().min(1).max(30),
    }),
  }),
])
export type NamePart = z.infer<typeof NamePart>
export type PartKind = NamePart['kind']

/** One piece of a folder's name: fixed text, or a part's value in one of its forms. */
export const FolderPiece = z.union([
  z.object({ text: z.string().min(1).max(60) }),
  z.object({ part: z.string().max(40), as: z.enum(['name', 'year', 'month', 'label']) }),
])
export type FolderPiece = z.infer<typeof FolderPiece>

/** What a convention says, without who made it and when. */
export const Rules = z.object({
  parts: z
    .array(NamePart)
    .min(1, 'contract.convention-needs-part' satisfies Code)
    .max(12),
  /**
   * The filing rule: folders from where the convention is attached. A level with a part that has
   * no value is left out.
   */
  folders: z.array(z.array(FolderPiece).min(1).max(6)).max(8),
})
export type Rules = z.infer<typeof Rules>

export const ListValue = z.object({
  code: z
    .string()
    .trim()
    .min(1, 'contract.value-needs-code' satisfies Code)
    .max(40),
  label: z.string().trim().max(80),
  /** Kept for names that have it, not offered for new ones. */
  retired: z.boolean(),
})
export type ListValue = z.infer<typeof ListValue>

export const ControlledList = z.object({
  id: z.uuid(),
  shareId: z.uuid(),
  name: z.string(),
  values: z.array(ListValue),
  /** Raised by each change; a change based on an older one is refused. */
  revision: z.number().int(),
})
export type ControlledList = z.infer<typeof ControlledList>

export const Convention = z.object({
  id: z.uuid(),
  shareId: z.uuid(),
  /** Where it is attached: a folder, or the share itself. */
  folderId: z.uuid().nullable(),
  name: z.string(),
  /** 1 for its first version. */
  number: z.number().int(),
  rules: Rules,
  /** Since when this version holds. */
  since: z.iso.datetime(),
  author: z.string(),
  /** Versions that held before, newest first. */
  earlier: z.array(z.object({ number: z.number().int(), rules: Rules, since: z.iso.datetime() })),
})
export type Convention = z.infer<typeof Convention>

/** Everything a share says about names. */
export const ShareNaming = z.object({ conventions: z.array(Convention), lists: z.array(ControlledList) })
export type ShareNaming = z.infer<typeof ShareNaming>

/** What the audit of a share's names found: how many a convention holds for, and how many of them do not follow it. */
export const AuditFindings = z.object({ names: count, astray: count })
export type AuditFindings = z.infer<typeof AuditFindings>
/** A share whose names somebody has to look after, and its last audit; null where there was none. */
export const AuditStanding = z.object({
  share: z.object({ id: z.uuid(), name: z.string() }),
  last: AuditFindings.extend({ at: z.iso.datetime(), by: z.string() }).nullable(),
})
export type AuditStanding = z.infer<typeof AuditStanding>

/** Values of name parts by part id: an ISO 8601 date (possibly reduced), a code, words, a number. */
export const PartValues = z.record(z.string().max(40), z.string().max(500))
export type PartValues = z.infer<typeof PartValues>

export const NewList = z.object({
  shareId: z.uuid(),
  name: z
    .string()
    .trim()
    .min(1, 'contract.enter-a-name' satisfies Code)
    .max(60),
  values: z.array(ListValue).max(20_000),
})
export const ListChange = z.object({
  name: z
    .string()
    .trim()
    .min(1, 'contract.enter-a-name' satisfies Code)
    .max(60),
  values: z.array(ListValue).max(20_000),
  revision: count,
})
export const NewConvention = z.object({
  shareId: z.uuid(),
  folderId: z.uuid().nullable(),
  name: z
    .string()
    .trim()
    .min(1, 'contract.enter-a-name' satisfies Code)
    .max(60),
  rules: Rules,
})
export const ConventionChange = z.object({
  name: z
    .string()
    .trim()
    .min(1, 'contract.enter-a-name' satisfies Code)
    .max(60),
  rules: Rules,
  /** The version that the change is based on. */
  number: count,
})
