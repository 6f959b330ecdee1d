// How a sheet is to come to paper, as its file says (ECMA-376 part 1, §18.3.1.46, §18.3.1.62 to §18.3.1.64, §18.3.1.70,
// §18.3.1.73; OpenDocument 1.3 part 3, §16.9). It stays with its places when rows and columns come and go.
import type { MergedArea } from './looks'

/** What stands at one edge of a page: left, in the middle, right; as ECMA-376 writes it (§18.3.1.39). */
export type SheetEdge = string
export interface SheetEdges {
  readonly all?: SheetEdge
  readonly first?: SheetEdge
  readonly even?: SheetEdge
}

/** Lengths are points; lines and places are counted from zero. */
export interface SheetPaper {
  /** Of the paper as it lies; `landscape` turns it. */
  readonly width?: number
  readonly height?: number
  readonly landscape?: boolean
  readonly margins?: {
    readonly top: number
    readonly right: number
    readonly bottom: number
    readonly left: number
    /** From the paper's edge to what stands there. */
    readonly head: number
    readonly foot: number
  }
  /** Percent; not with `fit`. */
  readonly scale?: number
  /** As many pages beside and below each other at most; 0 is as many as it takes. */
  readonly fit?: { readonly wide: number; readonly tall: number }
  /** Pages go on to the right before they go down. */
  readonly across?: boolean
  readonly gridLines?: boolean
  /** Names of columns and numbers of rows. */
  readonly headings?: boolean
  readonly centered?: { readonly across: boolean; readonly down: boolean }
  /** What is printed of it; all that there is where nothing is said. */
  readonly areas?: readonly MergedArea[]
  /** Rows and columns that are there again on each page; both ends included. */
  readonly titleRows?: readonly [number, number]
  readonly titleColumns?: readonly [number, number]
  /** The first line of a new page. */
  readonly rowBreaks?: readonly number[]
  readonly columnBreaks?: readonly number[]
  readonly head?: SheetEdges
  readonly foot?: SheetEdges
  /** Of its first page, where it does not go on from the sheet before. */
  readonly firstNumber?: number
}
