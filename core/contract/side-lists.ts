import { z } from 'zod'
import { PaperChoices, PaperStandard } from './paper'
import { anyName, SentenceShape } from './text'

/** A list of one sheet's values, as a file beside its spreadsheet; or a PDF beside its file. */
export const SideList = z.object({
  id: z.uuid(),
  /** The list itself. */
  fileId: z.uuid(),
  /** Null for who may not see it, and where it was removed. */
  name: z.string().nullable(),
  /** Null for the whole file as a PDF. */
  sheet: z.string().nullable(),
  /** The number of the spreadsheet's version that it says; null where it could not be written yet. */
  number: z.number().int().nullable(),
  /** Somebody has changed the list since it was written. */
  changed: z.boolean(),
  /** Why the newest version is not in it. */
  fault: SentenceShape.nullable(),
  /** Who asked for it. */
  by: z.string(),
})
export type SideList = z.infer<typeof SideList>

export const SideLists = z.object({
  lists: z.array(SideList),
  /** The spreadsheet that this file is a list of; null for other files, and for who may not see that. */
  of: z
    .object({ fileId: z.uuid(), name: z.string(), sheet: z.string().nullable(), number: z.number().int().nullable() })
    .nullable(),
})
export type SideLists = z.infer<typeof SideLists>

/** The most at once: a workbook has seldom more sheets. */
const most = 200
export const NewSideLists = z.object({
  lists: z
    .array(
      z.object({
        /** Makes a repeated request harmless; the list is known by it. */
        id: z.uuid(),
        sheet: z.string().min(1).max(255),
        /** With its ending, csv or tsv. */
        name: anyName,
      }),
    )
    .min(1)
    .max(most),
  /** Texts that a program could take for formulas stand behind an apostrophe. */
  guarded: z.boolean(),
  /** Written anew with each version; otherwise once. */
  inStep: z.boolean(),
})
export type NewSideLists = z.infer<typeof NewSideLists>

/** How a PDF is made of a file. */
export const PdfWay = z.object({
  standard: PaperStandard,
  choices: PaperChoices,
  /** What it says of itself, for whoever has it read out; and of its dates. */
  language: z.enum(['en', 'de']),
})
export type PdfWay = z.infer<typeof PdfWay>
export const NewSidePdf = PdfWay.extend({
  /** Makes a repeated request harmless; the PDF is known by it. */
  id: z.uuid(),
  name: anyName,
  /** Written anew with each version; otherwise once. */
  inStep: z.boolean(),
})
export type NewSidePdf = z.infer<typeof NewSidePdf>
