// What the editor of a kind gives to the session of the work that it shows.

import type { CellRange } from '../../core/compare/bring-back-cells'
import type { Part } from '../../core/compare/replacements'
import type { About } from '../../core/content/about'
import type { FileWords } from '../../core/content/words'
import type { CellValue } from '../../core/content/workbook'
import type { WorkbookOp } from '../../core/content/workbook-ops'
import type { DraftModel, JournalRecord, PaperChoices } from '../../core/contract'
import type { CsvDialect } from '../../core/formats/csv/dialect'
import type { Limit, Written } from '../../core/formats/refusals'
import type { ReadText } from '../../core/formats/text/read'
import type { TextEncoding, TextWay } from '../../core/formats/text/write'
import type { Sentence } from '../../core/words/said'

/** Work as it is put on pages; a document's looks are those of the version that it is based on. */
export type PutOnPaper =
  | { kind: 'document'; json: unknown }
  | { kind: 'sheets'; sheets: unknown; others: number; about?: About | undefined }

/** What is selected in an earlier moment. */
export type Selected =
  | { kind: 'text'; from: number; to: number }
  | { kind: 'cells'; sheet: number; sheetName: string; range: CellRange; row: number; column: number }

/** Work as it is decoded: a version's bytes with the records of a draft on top. */
export interface Work {
  bytes: Uint8Array | null
  records?: readonly JournalRecord[]
  /** What they were written on, as their draft says. */
  model?: DraftModel | null
  /** The type of the bytes; that of the work that they are laid beside where it is not said. */
  type?: string
}

/** What work is written as. */
export interface WrittenType {
  type: string
  /** The sheet, where the type holds one; the first where it is not said. */
  sheet?: number
  /** How plain text is written, where that is another way than it was. */
  text?: TextWay
  /** How a list is written, where that is another way than usual. */
  list?: ListWay
  /** Formulas are written as their results. */
  values?: true
  /** Lists of this type of all its sheets, or a PDF of it, are put beside it, too. */
  beside?: 'csv' | 'tsv' | 'pdf'
}

/** How a list that is new is written. */
export type ListWay = Partial<Pick<CsvDialect, 'separator' | 'decimal' | 'guarded'>> & { encoding?: TextEncoding }
/** Whether that is anything else than the work as it is. @param own the type of the work */
export const isOtherwise = (as: WrittenType, own: string): boolean =>
  as.type !== own || Object.values(as).filter((part) => part !== undefined).length > 1

export interface Content {
  /** Takes in what is still being entered, so that a save holds it. */
  settle?(): void
  /** The work as it is now, written into the file that it came from, or as a file of another type. */
  encode(as?: WrittenType): Promise<Written>
  /** How a list of values is written, said whole; null where it is none. */
  listAs?(): string | null
  /** How its file writes plain text; null where it is none, or there is no file yet. */
  textWay?(): Promise<Pick<ReadText, 'encoding' | 'end'> | null>
  /** Shows a place, as what it loses says it. */
  show?(at: readonly number[]): void
  /** Where the cursor is, in words, for the others who have it open. */
  place?(): string
  /** Something is being entered whose place in the work is to stay what it is. */
  entering?(): boolean
  /** Nobody asks for anything any more. */
  release?(): void
  /** Its first words. */
  opening(): string
  /** Where the cursor is, as numbers that the same editor understands again. */
  resting?(): number[] | null
  /** Brings the focus to the work, where the cursor is. */
  focus?(): void
  /** Takes in an edit that another tab made in the same draft. */
  follow?(edit: unknown): void
  /** Its title, headings, sheets and text, for proposals. */
  clues(): FileWords
  /**
   * Takes in what other work has beyond the one that this work is based on, as an edit that leaves the
   * cursor and what can be undone where they are.
   * @param adopted the next save comes after `theirs`, so that the work is written into that file from now on
   * @param apply carries out what was found; it is carried out in any case where nobody says
   */
  takeIn?(base: Work | null, theirs: Work, part: TakenPart | null, adopted: boolean, apply?: Apply): Promise<TakenIn>
  /** The work as it is now, as plain data, and what its formulas result in; the same object while nothing changed. */
  present?(): {
    state: unknown
    results: ReadonlyMap<number, CellValue>[]
    token: unknown
  } | null
  /**
   * The work as it is put on pages.
   * @param only the sheet that is shown, of several
   * @param selected what is selected alone, where something is
   */
  onPaper?(only: boolean, selected: boolean): Promise<PutOnPaper>
  /** What of the work, and of its file, is not on its pages. @param remarks comments and tracked changes are on them */
  notOnPaper?(remarks: boolean): Promise<Limit[]>
  /** Makes pages of the work's own as they are chosen, as an edit; absent where its type has no place for that. */
  setPages?(choices: PaperChoices): void
  /** What the work's file says of itself; undefined until the work is read. */
  about?(): About | null | undefined
  /** Has it say something else, as an edit. @param begins another step of undo; it goes on with the one before otherwise */
  setAbout?(about: About | null, begins: boolean): void
  /** Makes a change that brings something back, as one edit that can be undone, and shows where. */
  bringBack?(change: BroughtBack): void
  /** What is selected. */
  selected?(): Selected | null
}
/** What brings a part of an earlier moment back. */
export type BroughtBack = { steps: unknown[]; at: number } | { ops: WorkbookOp[] }

/** A place where this work and a version that was taken in both have something else. */
export interface Choice {
  id: string
  /** Where it is, in words. */
  where: string
  /** What each has there, as text; empty for nothing. */
  mine: string
  theirs: string
  /** Both can stand beside each other. */
  mayKeepBoth: boolean
  choose(which: 'mine' | 'theirs' | 'both'): void
  show(): void
}
/** Which of another version's changes are taken in. */
export interface TakenPart {
  /** In a document: stretches of the base, and of the other version. */
  stretches?: Part
  /** In a workbook: sheets, by their names in the other version. */
  sheets?: readonly string[]
}
/** What has to be known of a change before it is carried out by itself. */
export interface Found {
  /** Places where somebody has to choose. */
  choices: number
  /** Rows, columns or sheets come, go or move, so that what could be undone would undo something else. */
  moves: boolean
}
/** Carries a change out, or leaves it: in one go, with no edit between what was found and what is done. @returns whether it was */
export type Apply = (found: Found, change: () => void) => boolean

export type TakenIn =
  /** What the other version changed, in words. */
  | { summary: Sentence; choices: Choice[] }
  /** It holds something that the editor would lose; nothing was taken in. */
  | { refused: Sentence }
  /** Nothing was taken in: it waits for a person. */
  | { left: true }
