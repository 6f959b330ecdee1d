// How a sheet is put on paper where that was chosen here: it goes before what its file says, all of it.
import type { SheetPaper } from './sheet-paper'

/** Lengths are points. Plain data: it stands in journals. */
export interface SheetSetUp {
  /** Of the paper as it stands upright; null where nothing is said of it. */
  readonly size: readonly [width: number, height: number] | null
  readonly landscape: boolean
  readonly margins: NonNullable<SheetPaper['margins']> | null
  /** Percent; null with `fit`. */
  readonly scale: number | null
  readonly fit: NonNullable<SheetPaper['fit']> | null
  readonly gridLines: boolean
  readonly headings: boolean
  readonly across: boolean
}

/** What a sheet's paper is, whether it was said or not. */
export const setUpOf = (paper: SheetPaper | undefined): SheetSetUp => ({
  size:
    paper?.width !== undefined && paper.height !== undefined
      ? [Math.min(paper.width, paper.height), Math.max(paper.width, paper.height)]
      : null,
  landscape: paper?.landscape ?? false,
  margins: paper?.margins ?? null,
  scale: paper?.fit ? null : (paper?.scale ?? 100),
  fit: paper?.fit ?? null,
  gridLines: paper?.gridLines ?? false,
  headings: paper?.headings ?? false,
  across: paper?.across ?? false,
})

/** A sheet's paper with what was chosen in place of what its file says. */
export function paperWith(paper: SheetPaper | undefined, chosen: SheetSetUp | undefined): SheetPaper {
  if (!chosen) return paper ?? {}
  const { width: _, height: __, landscape: ___, margins: ____, scale: _____, fit: ______, ...rest } = paper ?? {}
  const { gridLines: _g, headings: _h, across: _a, ...kept } = rest
  const { size, landscape, margins, scale, fit, gridLines, headings, across } = chosen
  return {
    ...kept,
    ...(size && { width: size[0], height: size[1] }),
    landscape,
    ...(margins && { margins }),
    ...(scale !== null && scale !== 100 && { scale }),
    ...(fit && { fit }),
    ...(gridLines && { gridLines }),
    ...(headings && { headings }),
    ...(across && { across }),
  }
}

/** Whether two come to the same on paper; lengths to a tenth of a point, as files have them. */
export function sameSetUp(a: SheetSetUp, b: SheetSetUp): boolean {
  const rounded = (one: SheetSetUp) =>
    JSON.stringify(setUpOf(paperWith({}, one)), (_, value) =>
      typeof value === 'number' ? Math.round(value * 10) : value,
    )
  return rounded(a) === rounded(b)
}

/** A workbook with nothing chosen of its paper: what a file has of that is beside its model. */
export const withoutSetUps = <T extends { readonly setUp?: SheetSetUp }>(sheets: readonly T[]): Omit<T, 'setUp'>[] =>
  sheets.map(({ setUp: _, ...sheet }) => sheet)
