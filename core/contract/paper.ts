// What is asked for on pages: a document as it is written now, or sheets as they are shown.
import { z } from 'zod'
import { longestAbout } from '../content/about'

/** A PDF as it is, one for keeping (ISO 19005-2, PDF/A-2a), or one that is read out well (ISO 14289-1, PDF/UA-1). */
export const PaperStandard = z.enum(['plain', 'archive', 'accessible'])
export type PaperStandard = z.infer<typeof PaperStandard>

const points = z.number().min(0).max(15_000)
const rowNumber = z.number().int().min(0).max(1_048_575)
const columnNumber = z.number().int().min(0).max(16_383)
const color = z.string().max(20)
const area = z.object({ top: rowNumber, left: columnNumber, bottom: rowNumber, right: columnNumber })
const border = z.object({
  width: z.union([z.literal(1), z.literal(2), z.literal(3)]),
  line: z.enum(['solid', 'dashed', 'dotted', 'double']),
  color: color.nullable(),
})
const edges = z.object({
  all: z.string().max(2000).optional(),
  first: z.string().max(2000).optional(),
  even: z.string().max(2000).optional(),
})
/** How a sheet comes to paper (core/content/sheet-paper.ts). */
const sheetPaper = z.object({
  width: points.min(20).optional(),
  height: points.min(20).optional(),
  landscape: z.boolean().optional(),
  margins: z
    .object({ top: points, right: points, bottom: points, left: points, head: points, foot: points })
    .optional(),
  scale: z.number().min(10).max(400).optional(),
  fit: z.object({ wide: z.number().int().min(0).max(32_767), tall: z.number().int().min(0).max(32_767) }).optional(),
  across: z.boolean().optional(),
  gridLines: z.boolean().optional(),
  headings: z.boolean().optional(),
  centered: z.object({ across: z.boolean(), down: z.boolean() }).optional(),
  areas: z.array(area).max(200).optional(),
  titleRows: z.tuple([rowNumber, rowNumber]).optional(),
  titleColumns: z.tuple([columnNumber, columnNumber]).optional(),
  rowBreaks: z.array(rowNumber).max(10_000).optional(),
  columnBreaks: z.array(rowNumber).max(10_000).optional(),
  head: edges.optional(),
  foot: edges.optional(),
  firstNumber: z.number().int().min(1).max(100_000).optional(),
})
/** A sheet as it is shown (core/paper/shown.ts). */
const shownSheet = z
  .object({
    name: z.string().max(1000),
    rows: z.array(
      z.object({
        row: rowNumber,
        cells: z.array(
          z.object({
            column: columnNumber,
            look: z.number().int().min(0),
            text: z.string().max(40_000),
            side: z.enum(['left', 'center', 'right']),
            number: z.literal(true).optional(),
          }),
        ),
      }),
    ),
    looks: z
      .array(
        z.object({
          bold: z.literal(true).optional(),
          italic: z.literal(true).optional(),
          underline: z.literal(true).optional(),
          strike: z.literal(true).optional(),
          wrap: z.literal(true).optional(),
          fill: color.optional(),
          color: color.optional(),
          font: z.string().max(200).optional(),
          size: z.number().min(1).max(410).optional(),
          vertical: z.enum(['top', 'middle', 'bottom']).optional(),
          top: border.optional(),
          right: border.optional(),
          bottom: border.optional(),
          left: border.optional(),
        }),
      )
      .min(1),
    widths: z.array(z.tuple([columnNumber, points])),
    heights: z.array(z.tuple([rowNumber, points])),
    hiddenRows: z.array(rowNumber),
    hiddenColumns: z.array(columnNumber),
    merged: z.array(area),
    paper: sheetPaper,
    font: z.object({ name: z.string().max(200), size: z.number().min(1).max(410) }),
  })
  .refine(({ rows, looks }) => rows.every(({ cells }) => cells.every(({ look }) => look < looks.length)))
export const ShownSheets = z.array(shownSheet).max(1000)

/** What somebody chooses beside what the file says; null is as the file has it. */
export const PaperChoices = z.object({
  size: z.enum(['a3', 'a4', 'a5', 'a6', 'b4', 'b5', 'letter', 'legal', 'tabloid']).nullable(),
  landscape: z.boolean().nullable(),
  margins: z.enum(['narrow', 'usual', 'wide']).nullable(),
  /** Fills and coloured text. */
  colours: z.boolean(),
  /** Comments and tracked changes of a document: not there, in a column beside its pages, or as notes in the PDF. */
  remarks: z.enum(['none', 'margin', 'notes']).default('none'),
  /** The name of the file and its version, in a corner of each page. */
  corner: z.boolean(),
  /** The title, in the PDF's own properties. */
  properties: z.boolean(),
  /** Of sheets: as large as they are, as wide as a page, or all of each on one page. */
  fit: z.enum(['full', 'width', 'page']).nullable(),
  gridLines: z.boolean().nullable(),
  headings: z.boolean().nullable(),
  across: z.boolean().nullable(),
})
export type PaperChoices = z.infer<typeof PaperChoices>
/** As the file has it. */
export const noChoices: PaperChoices = {
  size: null,
  landscape: null,
  margins: null,
  colours: true,
  remarks: 'none',
  corner: false,
  properties: true,
  fit: null,
  gridLines: null,
  headings: null,
  across: null,
}

const DocumentOnPaper = z.object({
  kind: z.literal('document'),
  json: z.unknown(),
  /** The version whose file says how its styles look; null where there is none. */
  versionId: z.uuid().nullable(),
})
const said = z.string().max(longestAbout).optional()
const SheetsOnPaper = z.object({
  kind: z.literal('sheets'),
  sheets: z.unknown(),
  /** What their file says of itself. */
  about: z.object({ title: said, author: said, subject: said, keywords: said }).optional(),
})
export const OnPaper = z.object({
  /** A document as its JSON, or sheets as they are shown (ShownSheets): each is checked where it is set. */
  what: z.discriminatedUnion('kind', [DocumentOnPaper, SheetsOnPaper]),
  /** What fields of its pages say. */
  name: z.string().max(1000),
  number: z.number().int().min(1).max(1_000_000_000).nullable(),
  day: z.string().max(100),
  time: z.string().max(100),
  /** Of its text; a BCP 47 tag. */
  language: z.string().regex(/^[a-z]{2,3}$/),
  standard: PaperStandard,
  choices: PaperChoices,
  /** What stands in a corner where that is chosen. */
  corner: z.string().max(1100),
})
export type OnPaper = z.infer<typeof OnPaper>

/** What is asked of a document's pages without the pages; its pictures may be without their bytes. */
export const AskBreaks = OnPaper.pick({ name: true, number: true, day: true, language: true }).extend({
  what: DocumentOnPaper,
})
export type AskBreaks = z.infer<typeof AskBreaks>
export const PageBreaks = z.object({
  pages: z.number().int(),
  /** Where in the document pages after the first begin; one on which nothing begins is not among them. */
  breaks: z.array(z.object({ page: z.number().int(), at: z.number().int() })),
})
export type PageBreaks = z.infer<typeof PageBreaks>

/** What goes with the pages, in the header `jaula-paper` as JSON in percent-encoding. */
export const PaperFacts = z.object({
  pages: z.number().int(),
  substituted: z.array(z.object({ font: z.string(), by: z.string(), sameWidths: z.boolean() })),
  undrawn: z.number().int(),
  /** Its first page lies. */
  landscape: z.boolean(),
  /** That page's size by our name for it; null for another one. */
  size: z.string().nullable(),
})
export type PaperFacts = z.infer<typeof PaperFacts>
