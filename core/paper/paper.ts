// What is to be set on pages, as data: a tree that the typesetter's template (template.ts) goes through. Nothing in it is
// ever read as the typesetter's own language. Lengths are points.

import { type About, keywordsIn } from '../content/about'
import type { TabStop } from '../content/passages'
import type { Remark } from './remarks'

/** Text in one look. */
export interface PaperText {
  t: string
  /** Where in the document it begins, of what is asked for. */
  at?: number
  bold?: true
  italic?: true
  underline?: true
  strike?: true
  raised?: true
  lowered?: true
  size?: number
  /** `#rrggbb`. */
  color?: string
  fill?: string
  /** Families to try, in their order. */
  font?: string[]
  href?: string
}
export type PaperInline =
  | PaperText
  | { br: true }
  | { image: string; width: number; height: number; alt: string }
  | { note: string }
  /** What each page tells by itself. */
  | { field: 'page' | 'pages' }
  /** Which of the remarks is about this place; from 1. */
  | { remark: number }

export interface PaperBorder {
  width: number
  color: string | null
  dash: 'solid' | 'dotted' | 'dashed'
}
export interface PaperParagraph {
  /** 0: no heading. */
  level: number
  align?: 'left' | 'center' | 'right' | 'justify'
  before: number
  after: number
  /** From line to line, as a share of the size. */
  line: number
  left?: number
  right?: number
  /** Of the first line beside the others; below 0 it hangs. */
  first?: number
  fill?: string
  borders?: Partial<Record<'top' | 'left' | 'bottom' | 'right', PaperBorder>>
  /** Where its text goes on behind tabs; points from its left side. */
  tabs?: readonly TabStop[]
  /** Of its text, where that has none of its own. */
  text: Omit<PaperText, 't'>
  runs: PaperInline[]
}
/** Where it lies, from 0, and how far it goes. */
export interface PaperCell {
  x: number
  y: number
  colspan: number
  rowspan: number
  blocks: PaperBlock[]
}
export type PaperBlock =
  | { p: PaperParagraph }
  | { quote: PaperBlock[] }
  | {
      list: PaperBlock[][]
      ordered: null | { start: number; pattern: string; before: string; after: string; full: boolean }
    }
  /** The cells of its head stand again on each page where they leave room for the rest. */
  | { table: { head: PaperCell[]; cells: PaperCell[]; again: boolean }; columns: number; widths: number[] | null }
  | { pageBreak: true }

export interface PaperEdge {
  all?: PaperBlock[]
  first?: PaperBlock[]
  even?: PaperBlock[]
}
export interface PaperPage {
  width: number
  height: number
  top: number
  right: number
  bottom: number
  left: number
}
/** Pages of one kind, with parts that have columns of their own. */
export interface PaperRun {
  page: PaperPage
  parts: { columns: number; gap: number; blocks: PaperBlock[] }[]
}
/** What a PDF says of itself (ISO 32000-2, §14.3.3). */
export interface PaperSays {
  title: string
  /** Empty where nothing is said of it. */
  author: string
  subject: string
  keywords: string[]
}
/** @param name stands for a title where there is none */
export const paperSays = (about: About | null | undefined, name: string): PaperSays => ({
  title: about?.title ?? name,
  author: about?.author ?? '',
  subject: about?.subject ?? '',
  keywords: keywordsIn(about?.keywords),
})
/** The same for the typesetter (Typst 0.14, `document`). */
export const setsWhatItSays = `#set document(
  title: if paper.properties { paper.says.title },
  author: if paper.properties and paper.says.author != "" { paper.says.author } else { () },
  description: if paper.properties and paper.says.subject != "" { paper.says.subject },
  keywords: if paper.properties { paper.says.keywords } else { () },
)`
export interface Paper {
  page: PaperPage
  says: PaperSays
  /** A BCP 47 tag. */
  language: string
  head: PaperEdge
  foot: PaperEdge
  /** All of it, where it is on pages of one kind. */
  blocks: PaperBlock[]
  /** Otherwise what is on each kind of pages, one after the other. */
  runs: PaperRun[]
  /** What is said about the text; not with its pages where there is no column for it. */
  remarks: PaperRemark[]
  /** Beside the pages, for what is said about them; 0 for none. */
  column: number
}
export interface PaperRemark extends Remark {
  /** Who said it, and when, in words. */
  head: string
}
/** A picture, by the name that it has in the tree. */
export interface PaperImage {
  name: string
  bytes: Uint8Array
}
/** What could not be set as it is, for whoever looks at it. */
export interface PaperNotes {
  /** Fonts that others of the same widths, or of the same kind, stand in for. */
  substituted: { font: string; by: string; sameWidths: boolean }[]
  /** Pictures that cannot be drawn; their places stay. */
  undrawn: number
}
