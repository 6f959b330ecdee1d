// How a sheet looks: the lines around cells, fonts, merged cells, heights, what is hidden (ECMA-376 part 1, §18.3.1.55,
// §18.3.1.73, §18.8.4). In the model they are traits of cells and of their sheet; here is how they are read from it, by whoever
// draws or writes a sheet.
import type { Papers } from './papers'
import type { SheetPaper } from './sheet-paper'
import {
  type Cell,
  type CellStyle,
  largestSheet,
  type MergedArea,
  type Row,
  type Sheet,
  type Workbook,
} from './workbook'

export type { MergedArea } from './workbook'

export interface BorderSide {
  readonly width: 1 | 2 | 3
  readonly line: 'solid' | 'dashed' | 'dotted' | 'double'
  /** `#rrggbb`; null as text is. */
  readonly color: string | null
}
export const sides = ['top', 'right', 'bottom', 'left'] as const
/** Traits of a cell's style beyond what a list of values could have, too. Cells of one look share one object. */
export interface CellLook {
  readonly top?: BorderSide
  readonly right?: BorderSide
  readonly bottom?: BorderSide
  readonly left?: BorderSide
  readonly font?: string
  /** In points. */
  readonly size?: number
  readonly vertical?: 'top' | 'middle' | 'bottom'
}
export const lookTraits = [...sides, 'font', 'size', 'vertical'] as const
/** What stands around the cells of a sheet. */
export interface SheetFrame {
  readonly merged: readonly MergedArea[]
  /** In points, of rows that have a height of their own. */
  readonly heights: ReadonlyMap<number, number>
  readonly hiddenRows: ReadonlySet<number>
  readonly hiddenColumns: ReadonlySet<number>
}
export interface SheetLooks extends SheetFrame {
  /** By `row * 16384 + column`. */
  readonly cells: ReadonlyMap<number, CellLook>
  /** How it comes to paper; absent where its file says nothing of it. */
  readonly paper?: SheetPaper
}
export const noLooks: SheetLooks = {
  merged: [],
  heights: new Map(),
  hiddenRows: new Set(),
  hiddenColumns: new Set(),
  cells: new Map(),
}
export const isPlainFrame = ({ merged, heights, hiddenRows, hiddenColumns }: SheetFrame): boolean =>
  !merged.length && !heights.size && !hiddenRows.size && !hiddenColumns.size

/** A line as a trait of a cell: its width, its kind and its colour, where it has one. */
export const lineText = ({ width, line, color }: BorderSide): string => `${width} ${line}${color ? ` ${color}` : ''}`
const knownLines = new Map<string, BorderSide | undefined>()
/** @returns undefined for what is no line */
export function lineOf(text: string | undefined): BorderSide | undefined {
  if (!text) return undefined
  if (knownLines.has(text)) return knownLines.get(text)
  const said = /^([123]) (solid|dashed|dotted|double)(?: (#[0-9a-f]{6}))?$/.exec(text)
  const side = said
    ? {
        width: Number(said[1]) as BorderSide['width'],
        line: said[2] as BorderSide['line'],
        color: said[3] ?? null,
      }
    : undefined
  knownLines.set(text, side)
  return side
}

const looksOfStyles = new WeakMap<CellStyle, CellLook | null>()
/** What of a style is a look; one object for one style. */
export function lookOf(style: CellStyle | undefined): CellLook | undefined {
  if (!style) return undefined
  const there = looksOfStyles.get(style)
  if (there !== undefined) return there ?? undefined
  const look: Record<string, unknown> = {}
  for (const side of sides) {
    const line = lineOf(style[side])
    if (line) look[side] = line
  }
  if (style.font !== undefined) look.font = style.font
  if (style.size !== undefined) look.size = style.size
  if (style.vertical !== undefined) look.vertical = style.vertical
  const own = Object.keys(look).length ? (look as CellLook) : null
  looksOfStyles.set(style, own)
  return own ?? undefined
}
/** A style with a look's traits in it; undefined where both say nothing. */
export function withLook(style: CellStyle | undefined, look: CellLook | undefined): CellStyle | undefined {
  if (!look) return style
  const { top, right, bottom, left, ...rest } = look
  return {
    ...style,
    ...rest,
    ...(top && { top: lineText(top) }),
    ...(right && { right: lineText(right) }),
    ...(bottom && { bottom: lineText(bottom) }),
    ...(left && { left: lineText(left) }),
  }
}
export type StyleWithoutLook = Omit<CellStyle, (typeof lookTraits)[number]>
/** A style without them. */
export function withoutLook(style: CellStyle | undefined): StyleWithoutLook | undefined {
  if (!style || !lookOf(style)) return style
  const rest: Record<string, unknown> = { ...style }
  for (const trait of lookTraits) delete rest[trait]
  return Object.keys(rest).length ? (rest as StyleWithoutLook) : undefined
}

export const frameOf = ({ merged, heights, hiddenRows, hiddenColumns }: Sheet): SheetFrame => ({
  merged: merged ?? [],
  heights: new Map(Object.entries(heights ?? {}).map(([row, height]) => [Number(row), height])),
  hiddenRows: new Set(hiddenRows),
  hiddenColumns: new Set(hiddenColumns),
})
/** How a sheet looks, all of it. @param paper what its file says of paper */
export function looksOf(sheet: Sheet, paper?: SheetPaper): SheetLooks {
  const cells = new Map<number, CellLook>()
  for (const [row, line] of sheet.rows.entries())
    for (const [column, cell] of line?.entries() ?? []) {
      const look = lookOf(cell?.style)
      if (look) cells.set(row * largestSheet.columns + column, look)
    }
  return { ...frameOf(sheet), cells, ...(paper && { paper }) }
}
export const looksOfAll = ({ sheets }: Workbook, papers: Papers): SheetLooks[] =>
  sheets.map((sheet, at) => looksOf(sheet, papers[at]))

/** Areas in the order that the model has them in, each once, without those of one cell. */
export const inOrder = (areas: readonly MergedArea[]): MergedArea[] =>
  areas
    .filter(({ top, left, bottom, right }) => top !== bottom || left !== right)
    .toSorted((a, b) => a.top - b.top || a.left - b.left)
    .filter((area, at, all) => at === 0 || !overlap(area, all[at - 1]!))
export const overlap = (a: MergedArea, b: MergedArea): boolean =>
  a.top <= b.bottom && b.top <= a.bottom && a.left <= b.right && b.left <= a.right
export const sameArea = (a: MergedArea, b: MergedArea): boolean =>
  a.top === b.top && a.left === b.left && a.bottom === b.bottom && a.right === b.right

/**
 * A sheet as it was read, with its looks in it. Its rows are changed where they are, so they are to be nobody else's yet.
 * @param room for cells that only look, by `take`: whether one more at a place has room
 */
export function withLooks(
  sheet: Sheet,
  { merged, heights, hiddenRows, hiddenColumns, cells }: SheetLooks,
  take: (row: number, places: number) => boolean = () => true,
): Sheet {
  const rows = sheet.rows as (Row | undefined)[]
  const known = new Map<CellStyle | undefined, Map<CellLook, CellStyle>>()
  const styleFor = (style: CellStyle | undefined, look: CellLook): CellStyle => {
    const own = known.get(style) ?? new Map<CellLook, CellStyle>()
    known.set(style, own)
    let made = own.get(look)
    if (!made) own.set(look, (made = withLook(style, look)!))
    return made
  }
  for (const [key, look] of cells) {
    const [row, column] = [Math.floor(key / largestSheet.columns), key % largestSheet.columns]
    const line = rows[row] as (Cell | undefined)[] | undefined
    const cell = line?.[column]
    if (cell) {
      line[column] = { ...cell, style: styleFor(cell.style, look) }
      continue
    }
    if (!take(row, Math.max(0, column + 1 - (line?.length ?? 0)))) continue
    const into = line ?? []
    while (rows.length < row) rows.push(undefined)
    while (into.length < column) into.push(undefined)
    into[column] = { style: styleFor(undefined, look) }
    rows[row] = into
  }
  const areas = inOrder(merged)
  const rowsHidden = [...hiddenRows].sort((a, b) => a - b)
  const columnsHidden = [...hiddenColumns].sort((a, b) => a - b)
  return {
    ...sheet,
    ...(areas.length && { merged: areas }),
    ...(heights.size && { heights: Object.fromEntries([...heights].sort(([a], [b]) => a - b)) }),
    ...(rowsHidden.length && { hiddenRows: rowsHidden }),
    ...(columnsHidden.length && { hiddenColumns: columnsHidden }),
  }
}

/** Lines of another length, and those that are hidden now or shown again, in order. */
function linesThatDiffer(
  [was, wasHidden]: readonly [Readonly<Record<number, number>> | undefined, readonly number[] | undefined],
  [is, isHidden]: readonly [Readonly<Record<number, number>> | undefined, readonly number[] | undefined],
): number[] {
  if (was === is && wasHidden === isHidden) return []
  const [before, now] = [new Set(wasHidden), new Set(isHidden)]
  const sized = [...Object.keys(was ?? {}), ...Object.keys(is ?? {})].map(Number)
  return [...new Set([...sized, ...before, ...now])]
    .filter((line) => was?.[line] !== is?.[line] || before.has(line) !== now.has(line))
    .sort((a, b) => a - b)
}
export const rowsThatDiffer = (before: Sheet, now: Sheet): number[] =>
  linesThatDiffer([before.heights, before.hiddenRows], [now.heights, now.hiddenRows])
export const columnsThatDiffer = (before: Sheet, now: Sheet): number[] =>
  linesThatDiffer([before.widths, before.hiddenColumns], [now.widths, now.hiddenColumns])

/** Rows and columns up to the last one that is a part of a merged area. */
export function extentOf(merged: readonly MergedArea[]): { rows: number; columns: number } {
  let [rows, columns] = [0, 0]
  for (const { bottom, right } of merged) {
    rows = Math.max(rows, bottom + 1)
    columns = Math.max(columns, right + 1)
  }
  return { rows, columns }
}

/** Features of files that are a part of the model, or shown here (formats/refusals.ts has their names). */
export const shownLooks: ReadonlySet<string> = new Set([
  'merged cells (their content stays in the first one)',
  'row heights',
  'hidden rows and columns (they become visible)',
  'cells with borders',
  'cells with a font or text size of their own',
])

/** The merged area that a cell is in. */
export const mergedAt = (
  { merged }: { merged: readonly MergedArea[] },
  row: number,
  column: number,
): MergedArea | undefined =>
  merged.find(({ top, left, bottom, right }) => row >= top && row <= bottom && column >= left && column <= right)

/** A workbook without its looks, as it was before they were a part of the model. */
export const withoutLooks = ({ sheets }: Workbook): Workbook => ({
  sheets: sheets.map(({ name, rows, widths, frozen, setUp }) => {
    const bare = rows.map((line) => {
      if (!line?.some((cell) => lookOf(cell?.style))) return line
      const cells = line.map((cell) => {
        if (!cell || !lookOf(cell.style)) return cell
        const { style, ...content } = cell
        const rest = withoutLook(style)
        return rest ? { ...content, style: rest } : Object.keys(content).length ? content : undefined
      })
      while (cells.length && cells.at(-1) === undefined) cells.pop()
      return cells.length ? cells : undefined
    })
    while (bare.length && bare.at(-1) === undefined) bare.pop()
    return { name, rows: bare, widths, ...(frozen && { frozen }), ...(setUp && { setUp }) }
  }),
})
