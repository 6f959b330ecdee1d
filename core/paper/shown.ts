// A sheet as it is shown, for paper: what its cells say, in which looks, and nothing of how that came about.
import { displayOf, sideOf } from '../content/display'
import { type CellLook, type lookTraits, type MergedArea, type SheetLooks, withoutLook } from '../content/looks'
import type { SheetPaper } from '../content/sheet-paper'
import { paperWith } from '../content/sheet-set-up'
import { type CellStyle, type CellValue, largestSheet, type Sheet } from '../content/workbook'

/** How cells look: what can be changed here, and what their file has beyond it. */
export type ShownLook = Omit<CellStyle, 'align' | 'format' | (typeof lookTraits)[number]> & CellLook
export type Side = 'left' | 'center' | 'right'
export interface ShownCell {
  column: number
  /** Into `looks`. */
  look: number
  text: string
  side: Side
  /** It is never broken into lines. */
  number?: true
}
export interface ShownSheet {
  name: string
  /** Cells that have something to show, by rows, each in the order of its columns. */
  rows: readonly { row: number; cells: readonly ShownCell[] }[]
  /** The first is of cells that have no look. */
  looks: readonly ShownLook[]
  /** Points, of columns that have a width of their own. */
  widths: readonly (readonly [number, number])[]
  heights: readonly (readonly [number, number])[]
  hiddenRows: readonly number[]
  hiddenColumns: readonly number[]
  merged: readonly MergedArea[]
  paper: SheetPaper
  /** Of cells without one. */
  font: { name: string; size: number }
}

/** Pixels of the screen that the model has widths in, as points. */
const pointsOf = (pixels: number): number => pixels * 0.75
const usualFont = { name: 'Calibri', size: 11 }

export function shownSheet(
  sheet: Sheet,
  looks: SheetLooks,
  resultOf: (row: number, column: number) => CellValue | undefined,
  font: { name: string; size: number } = usualFont,
): ShownSheet {
  const known = new Map<string, number>([['{}', 0]])
  const all: ShownLook[] = [{}]
  /** Cells of one style and one look share objects: what they come to is made once. */
  const byObjects = new Map<CellStyle | undefined, Map<CellLook | undefined, number>>()
  const lookOf = (style: CellStyle | undefined, look: CellLook | undefined): number => {
    const inner = byObjects.get(style) ?? new Map<CellLook | undefined, number>()
    byObjects.set(style, inner)
    const there = inner.get(look)
    if (there !== undefined) return there
    const { align: _, format: __, ...own } = withoutLook(style) ?? {}
    const one: ShownLook = { ...own, ...look }
    const key = JSON.stringify(one)
    const at = known.get(key) ?? all.length
    if (at === all.length) {
      known.set(key, at)
      all.push(one)
    }
    inner.set(look, at)
    return at
  }
  const byRow = new Map<number, ShownCell[]>()
  for (const [row, line] of sheet.rows.entries()) {
    if (!line) continue
    const cells: ShownCell[] = []
    for (let column = 0; column < line.length; column++) {
      const cell = line[column]
      if (!cell) continue
      const result = cell.formula === undefined ? undefined : resultOf(row, column)
      const text = displayOf(cell, result)
      const look = lookOf(cell.style, looks.cells.get(row * largestSheet.columns + column))
      if (!text && !look) continue
      const value = cell.formula === undefined ? cell.value : result
      cells.push({
        column,
        look,
        text,
        side: sideOf(cell, result),
        ...(typeof value === 'number' && { number: true as const }),
      })
    }
    if (cells.length) byRow.set(row, cells)
  }
  // Borders stand around cells that hold nothing, too.
  for (const [key, look] of looks.cells) {
    const [row, column] = [Math.floor(key / largestSheet.columns), key % largestSheet.columns]
    if (sheet.rows[row]?.[column]) continue
    const cells = byRow.get(row) ?? []
    byRow.set(row, cells)
    cells.push({ column, look: lookOf(undefined, look), text: '', side: 'left' })
  }
  return {
    name: sheet.name,
    rows: [...byRow]
      .sort(([a], [b]) => a - b)
      .map(([row, cells]) => ({ row, cells: cells.sort((a, b) => a.column - b.column) })),
    looks: all,
    widths: Object.entries(sheet.widths).map(([column, width]) => [Number(column), pointsOf(width)] as const),
    heights: [...looks.heights],
    hiddenRows: [...looks.hiddenRows],
    hiddenColumns: [...looks.hiddenColumns],
    merged: looks.merged,
    paper: paperWith(looks.paper, sheet.setUp),
    font,
  }
}
