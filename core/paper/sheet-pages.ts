// A sheet parted into pages: which rows and columns are on which, where each cell lies, and the lines of its text. Nothing
// is cut: text that neither fits its cell nor may lie over empty ones beside it is broken into lines, its row as high as
// they need; a number that is too wide is set smaller. Lengths are points, as they are before the sheet is scaled.
import type { MergedArea } from '../content/looks'
import type { SheetPaper } from '../content/sheet-paper'
import { columnName, largestSheet } from '../content/workbook'
import { linesOf, type Measure } from './lines'
import type { ShownCell, ShownLook, ShownSheet, Side } from './shown'

/** Where the file says nothing. */
export const usualWidth = 72
export const usualHeight = 15
const usualMargins = { top: 54, right: 50.4, bottom: 54, left: 50.4, head: 21.6, foot: 21.6 } as const
const a4: readonly [number, number] = [595.28, 841.89]
/** Left and right of the text in a cell, and above and below all its lines. */
const beside = 2.5
const above = 0.5
/** From line to line, as a share of the size. */
export const lineShare = 1.22
/** What is measured may be so much wider where it is set: letters move closer or apart by their pairs. */
const wider = 1.02
const smallestScale = 0.1

export interface PlacedCell {
  /** On its page, from 0. */
  x: number
  y: number
  columns: number
  rows: number
  /** Into the looks of its sheet. */
  look: number
  side: Side
  lines: readonly string[]
  /** Of its text beside the size of its look. */
  smaller?: number
  /** A name of a column, or a number of a row. */
  heading?: true
}
export interface SheetPage {
  columns: readonly number[]
  rows: readonly number[]
  cells: readonly PlacedCell[]
  /** So many rows at its top are there on each page. */
  titles: number
}
export interface PagedSheet {
  /** Of the paper as it lies. */
  width: number
  height: number
  margins: NonNullable<SheetPaper['margins']>
  /** 1 as it is. */
  scale: number
  pages: readonly SheetPage[]
}
/** How wide text is in a look, with the font of cells that have none. */
export type MeasureIn = (look: ShownLook) => Measure

interface Line {
  /** Of the sheet. */
  at: number
  size: number
}
/** A row, or a part of one that is higher than a page. */
interface Strip {
  row: number
  height: number
  /** Lines of text that are in it: those before are in the part before. */
  from: number
  to: number
}
interface Set {
  columns: number
  /** Columns of the band that its text goes over to the left. */
  before: number
  lines: readonly string[]
  smaller?: number
  height: number
}

const sizeIn = (look: ShownLook, sheet: ShownSheet): number => look.size ?? sheet.font.size
const bare = ({ fill, top, right, bottom, left }: ShownLook): boolean => !fill && !top && !right && !bottom && !left

/** @param most pages; with more of them nothing is made @returns how many there would be, where they are too many */
export function pagesOf(
  sheet: ShownSheet,
  measureIn: MeasureIn,
  most = Number.POSITIVE_INFINITY,
): PagedSheet | { tooMany: number } {
  const { paper } = sheet
  const upright = [paper.width ?? a4[0], paper.height ?? a4[1]]
  const [width, height] = paper.landscape ? [upright[1]!, upright[0]!] : [upright[0]!, upright[1]!]
  const margins = paper.margins ?? usualMargins
  const room = {
    width: Math.max(30, width - margins.left - margins.right),
    height: Math.max(30, height - margins.top - margins.bottom),
  }
  const paging = new Paging(sheet, measureIn)
  const areas = paging.areas()
  const pagesAt = (scale: number) =>
    areas.map((area) => paging.parts(area, room.width / scale, room.height / scale, !paper.fit))
  let scale = Math.min(4, Math.max(smallestScale, (paper.scale ?? 100) / 100))
  if (paper.fit) {
    const { wide, tall } = paper.fit
    const fits = (scale: number) =>
      pagesAt(scale).every(({ bands, runs }) => (!wide || bands.length <= wide) && (!tall || runs.length <= tall))
    scale = 1
    if (!fits(1)) {
      let [low, high] = [smallestScale, 1]
      for (let step = 0; step < 12; step++) {
        const middle = (low + high) / 2
        if (fits(middle)) low = middle
        else high = middle
      }
      scale = Math.floor(low * 1000) / 1000
    }
  }
  const parts = pagesAt(scale)
  const count = parts.reduce((sum, { bands, runs }) => sum + bands.length * runs.length, 0)
  if (count > most) return { tooMany: count }
  const pages: SheetPage[] = []
  for (const part of parts) {
    const { bands, runs } = part
    if (paper.across) for (const run of runs) for (const band of bands) pages.push(paging.page(part, band, run))
    else for (const band of bands) for (const run of runs) pages.push(paging.page(part, band, run))
  }
  return { width, height, margins, scale, pages }
}

interface Part {
  area: MergedArea
  /** Columns of each page beside each other, titles first. */
  bands: Line[][]
  /** Rows of each page below each other, titles first. */
  runs: { strips: Strip[]; titles: number }[]
  /** By band, of its cells that have text. */
  set: Map<number, Set>[]
}

class Paging {
  private readonly widths: ReadonlyMap<number, number>
  private readonly heights: ReadonlyMap<number, number>
  private readonly hiddenRows: ReadonlySet<number>
  private readonly hiddenColumns: ReadonlySet<number>
  private readonly byRow: ReadonlyMap<number, ReadonlyMap<number, ShownCell>>
  /** The merged area that a cell is in. */
  private readonly mergedAt = new Map<number, MergedArea>()
  private readonly large: MergedArea[] = []
  private readonly measures = new Map<number, Measure>()
  /** What was set of a band's columns is so again while they are the same. */
  private readonly setBefore = new Map<string, Map<number, Set>>()

  constructor(
    private readonly sheet: ShownSheet,
    private readonly measureIn: MeasureIn,
  ) {
    this.widths = new Map(sheet.widths)
    this.heights = new Map(sheet.heights)
    this.hiddenRows = new Set(sheet.hiddenRows)
    this.hiddenColumns = new Set(sheet.hiddenColumns)
    this.byRow = new Map(sheet.rows.map(({ row, cells }) => [row, new Map(cells.map((cell) => [cell.column, cell]))]))
    for (const area of sheet.merged) {
      if ((area.bottom - area.top + 1) * (area.right - area.left + 1) > 10_000) this.large.push(area)
      else
        for (let row = area.top; row <= area.bottom; row++)
          for (let column = area.left; column <= area.right; column++)
            this.mergedAt.set(row * largestSheet.columns + column, area)
    }
  }

  /** What is printed: what the file says, as far as there is anything. */
  areas(): MergedArea[] {
    const { sheet } = this
    let [bottom, right] = [-1, -1]
    for (const { row, cells } of sheet.rows) {
      bottom = Math.max(bottom, row)
      for (const { column } of cells) right = Math.max(right, column)
    }
    for (const area of sheet.merged)
      if (area.bottom - area.top < 1000 && area.right - area.left < 200) {
        bottom = Math.max(bottom, area.bottom)
        right = Math.max(right, area.right)
      }
    const all = { top: 0, left: 0, bottom, right }
    if (!sheet.paper.areas?.length) return bottom < 0 ? [] : [all]
    // What is said by whole lines ends where there is nothing any more.
    return sheet.paper.areas.flatMap((area) => {
      const one = {
        ...area,
        bottom: area.bottom === largestSheet.rows - 1 ? Math.min(area.bottom, bottom) : area.bottom,
        right: area.right === largestSheet.columns - 1 ? Math.min(area.right, right) : area.right,
      }
      return one.bottom >= one.top && one.right >= one.left ? [one] : []
    })
  }

  private merged(row: number, column: number): MergedArea | undefined {
    return (
      this.mergedAt.get(row * largestSheet.columns + column) ??
      this.large.find(
        ({ top, left, bottom, right }) => row >= top && row <= bottom && column >= left && column <= right,
      )
    )
  }
  private measure(look: number): Measure {
    const there = this.measures.get(look)
    if (there) return there
    const own = this.measureIn(this.sheet.looks[look] ?? {})
    const measure = (text: string) => own(text) * wider
    this.measures.set(look, measure)
    return measure
  }

  /** @param widest a column that is wider than its page is as wide as that */
  private columnsIn([from, to]: readonly [number, number], widest: number): Line[] {
    const lines: Line[] = []
    for (let at = from; at <= to; at++)
      if (!this.hiddenColumns.has(at)) lines.push({ at, size: Math.min(widest, this.widths.get(at) ?? usualWidth) })
    return lines
  }
  /** Whether a column and the next one of a band are neighbours in the sheet, but for what is hidden: titles need not be. */
  private adjacent(band: readonly Line[], place: number): boolean {
    const [one, other] = [band[place], band[place + 1]]
    if (!one || !other || other.at <= one.at) return false
    for (let at = one.at + 1; at < other.at; at++) if (!this.hiddenColumns.has(at)) return false
    return true
  }

  /** @param breaks whether those that the file has count */
  parts(area: MergedArea, wide: number, tall: number, breaks: boolean): Part {
    const { paper } = this.sheet
    // Names at the edge take room as well.
    const gutter = paper.headings
      ? { width: this.numbersWidth(area.bottom), height: usualHeight }
      : { width: 0, height: 0 }
    const across = Math.max(20, wide - gutter.width)
    const bands = parted(
      this.columnsIn([area.left, area.right], across),
      paper.titleColumns ? this.columnsIn(paper.titleColumns, across) : [],
      across,
      new Set(breaks ? paper.columnBreaks : []),
    ).map(({ lines }) => lines)
    if (!paper.areas) this.extend(bands.at(-1), across)
    const set = bands.map((band) => this.setBand(area, band))
    const heightOf = this.rowHeights(area, bands, set)
    const room = Math.max(20, tall - gutter.height)
    const rows: Line[] = []
    for (let at = area.top; at <= area.bottom; at++) if (!this.hiddenRows.has(at)) rows.push({ at, size: heightOf(at) })
    const titles: Line[] = []
    if (paper.titleRows)
      for (let at = paper.titleRows[0]; at <= paper.titleRows[1]; at++)
        if (!this.hiddenRows.has(at)) titles.push({ at, size: heightOf(at) })
    const runs = parted(rows, titles, room, new Set(breaks ? paper.rowBreaks : [])).flatMap(({ lines, titles }) =>
      this.stripped(lines, titles, room),
    )
    return { area, bands, runs, set }
  }
  /** Text at the end of a row may go on over empty columns, as far as its page does. */
  private extend(band: Line[] | undefined, room: number): void {
    if (!band?.length) return
    const last = band.at(-1)!.at
    const first = band[0]!.at
    let size = band.reduce((sum, line) => sum + line.size, 0)
    const starts = new Map<number, number>()
    let start = 0
    for (const line of band) {
      starts.set(line.at, start)
      start += line.size
    }
    let needed = size
    for (const { row, cells } of this.sheet.rows) {
      const end = cells.at(-1)!
      if (end.column < first || end.column > last || !end.text || end.number || end.side === 'right') continue
      if (this.sheet.looks[end.look]?.wrap || this.hiddenRows.has(row) || this.merged(row, end.column)) continue
      const from = starts.get(end.column)
      if (from === undefined) continue
      const widest = Math.max(...end.text.split(/\r\n|\r|\n/).map(this.measure(end.look)))
      needed = Math.max(needed, from + widest + 2 * beside)
    }
    for (let at = last + 1; size < needed && at < largestSheet.columns; at++) {
      if (this.hiddenColumns.has(at)) continue
      const line = { at, size: Math.min(room, this.widths.get(at) ?? usualWidth) }
      // The rest of the page, where a whole column has no place on it.
      if (size + line.size > room) line.size = room - size
      if (line.size < 1) break
      band.push(line)
      size += line.size
    }
  }
  private numbersWidth(last: number): number {
    return this.measure(0)(String(last + 1)) + 2 * beside + 4
  }

  /** A run of rows as strips; where one row is higher than the page it goes on over as many as it needs. */
  private stripped(lines: readonly Line[], titles: number, room: number): Part['runs'] {
    const whole = ({ at, size }: Line): Strip => ({ row: at, height: size, from: 0, to: Number.POSITIVE_INFINITY })
    const [first] = lines.slice(titles)
    if (lines.length !== titles + 1 || !first || first.size <= room) return [{ strips: lines.map(whole), titles }]
    const head = lines.slice(0, titles)
    const left = room - head.reduce((sum, { size }) => sum + size, 0)
    // By the highest line of text that it has, so that none is parted; one that has none is parted anywhere.
    let line = 0
    for (const { look } of this.byRow.get(first.at)?.values() ?? [])
      line = Math.max(line, sizeIn(this.sheet.looks[look] ?? {}, this.sheet) * lineShare)
    const again = left > Math.max(line * 2, room / 2)
    const height = again ? left : room
    const perPage = Math.max(1, Math.floor((height - 2 * above) / (line || height)))
    const step = line ? perPage * line : height
    const runs: Part['runs'] = []
    for (let [from, size] = [0, 0]; size < first.size; from += perPage, size += step)
      runs.push({
        strips: [
          ...(again ? head : []).map(whole),
          { row: first.at, height: Math.min(height, first.size - size), from, to: from + perPage },
        ],
        titles: again ? titles : 0,
      })
    runs.at(-1)!.strips.at(-1)!.to = Number.POSITIVE_INFINITY
    return runs
  }

  /** The text of a band's cells in lines. */
  private setBand(area: MergedArea, band: readonly Line[]): Map<number, Set> {
    const key = `${area.top}:${area.bottom}:${band.map(({ at, size }) => `${at} ${size}`).join()}`
    const there = this.setBefore.get(key)
    if (there) return there
    const placeOf = new Map(band.map(({ at }, place) => [at, place]))
    const set = new Map<number, Set>()
    for (const { row, cells } of this.sheet.rows) {
      if (this.hiddenRows.has(row)) continue
      const inTitles = this.sheet.paper.titleRows
      const isTitle = inTitles && row >= inTitles[0] && row <= inTitles[1]
      if ((row < area.top || row > area.bottom) && !isTitle) continue
      for (const cell of cells) {
        const place = placeOf.get(cell.column)
        const merged = this.merged(row, cell.column)
        // Of a merged area its first cell speaks, on the first page that the area is on.
        if (merged ? merged.top !== row || merged.left !== cell.column : place === undefined) continue
        if (!cell.text) continue
        if (place === undefined) continue
        set.set(row * largestSheet.columns + cell.column, this.setCell(row, cell, band, place, merged))
      }
    }
    this.setBefore.set(key, set)
    return set
  }

  private setCell(
    row: number,
    { text, look, side, number }: ShownCell,
    band: readonly Line[],
    place: number,
    merged: MergedArea | undefined,
  ): Set {
    const own = this.sheet.looks[look] ?? {}
    const measure = this.measure(look)
    const lineHeight = sizeIn(own, this.sheet) * lineShare
    let columns = 1
    let before = 0
    let width = band[place]!.size
    if (merged)
      while (place + columns < band.length && band[place + columns]!.at <= merged.right)
        width += band[place + columns++]!.size
    const heightOf = (lines: readonly string[]) => lines.length * lineHeight + 2 * above
    const inner = () => Math.max(1, width - 2 * beside)
    const widest = Math.max(...text.split(/\r\n|\r|\n/).map(measure))
    if (widest > inner() && !merged && !own.wrap && !(own.fill && number)) {
      // Over empty cells beside it, as far as it needs them.
      const free = (at: number) => at >= 0 && at < band.length && this.isFree(row, band[at]!.at)
      const [toRight, toLeft] = [side !== 'right', side !== 'left']
      for (let grown = true; grown && widest > inner(); ) {
        grown = false
        if (toRight && free(place + columns) && this.adjacent(band, place + columns - 1)) {
          width += band[place + columns++]!.size
          grown = true
        }
        if (widest > inner() && toLeft && free(place - before - 1) && this.adjacent(band, place - before - 1)) {
          width += band[place - ++before]!.size
          grown = true
        }
      }
    }
    if (widest <= inner()) {
      const lines = text.split(/\r\n|\r|\n/)
      return { columns: columns + before, before, lines, height: heightOf(lines) }
    }
    if (number) {
      const smaller = Math.max(0.02, inner() / widest)
      return { columns: columns + before, before, lines: [text], smaller, height: heightOf([text]) }
    }
    const lines = linesOf(text, inner(), measure)
    return { columns: columns + before, before, lines, height: heightOf(lines) }
  }
  private isFree(row: number, column: number): boolean {
    if (this.merged(row, column)) return false
    const cell = this.byRow.get(row)?.get(column)
    return !cell || (!cell.text && bare(this.sheet.looks[cell.look] ?? {}))
  }

  /** As high as the file says, and at least as high as the text of each of its cells. */
  private rowHeights(
    area: MergedArea,
    bands: readonly Line[][],
    sets: readonly Map<number, Set>[],
  ): (row: number) => number {
    const needed = new Map<number, number>()
    const tall: { area: MergedArea; height: number }[] = []
    for (const set of sets)
      for (const [key, { height }] of set) {
        const [row, column] = [Math.floor(key / largestSheet.columns), key % largestSheet.columns]
        const merged = this.merged(row, column)
        if (merged && merged.bottom > merged.top) tall.push({ area: merged, height })
        else needed.set(row, Math.max(needed.get(row) ?? 0, height))
      }
    const heightOf = (row: number) =>
      Math.max(this.heights.get(row) ?? usualHeight, needed.get(row) ?? 0, bands.length ? 1 : 0)
    for (const { area: merged, height } of tall) {
      let there = 0
      let last = merged.top
      for (let row = merged.top; row <= Math.min(merged.bottom, area.bottom); row++)
        if (!this.hiddenRows.has(row)) {
          there += heightOf(row)
          last = row
        }
      if (there < height) needed.set(last, heightOf(last) + height - there)
    }
    return heightOf
  }

  /** Of a merged area that goes over several pages, which of its lines of text are on each. */
  private linesOn(
    { runs }: Part,
    merged: MergedArea,
    count: number,
    lineHeight: number,
  ): Map<Part['runs'][number], [number, number]> {
    const shares = new Map<Part['runs'][number], [number, number]>()
    let from = 0
    const on = runs.filter(({ strips }) => strips.some(({ row }) => row >= merged.top && row <= merged.bottom))
    for (const [at, run] of on.entries()) {
      const there = run.strips
        .filter(({ row }) => row >= merged.top && row <= merged.bottom)
        .reduce((sum, { height }) => sum + height, 0)
      const to =
        at === on.length - 1 ? count : Math.min(count, from + Math.floor((there - 2 * above) / lineHeight + 0.01))
      shares.set(run, [from, Math.max(from, to)])
      from = Math.max(from, to)
    }
    return shares
  }

  page(part: Part, band: readonly Line[], run: Part['runs'][number]): SheetPage {
    const { area, set, bands } = part
    const { strips, titles } = run
    const headings = Boolean(this.sheet.paper.headings)
    const own = set[bands.indexOf(band as Line[])]!
    const shift = headings ? 1 : 0
    const cells: PlacedCell[] = []
    const placeOf = new Map(band.map(({ at }, place) => [at, place]))
    if (headings) {
      cells.push({ x: 0, y: 0, columns: 1, rows: 1, look: 0, side: 'center', lines: [], heading: true })
      for (const [x, { at }] of band.entries())
        cells.push({
          x: x + 1,
          y: 0,
          columns: 1,
          rows: 1,
          look: 0,
          side: 'center',
          lines: [columnName(at)],
          heading: true,
        })
      for (const [y, { row, from }] of strips.entries())
        cells.push({
          x: 0,
          y: y + 1,
          columns: 1,
          rows: 1,
          look: 0,
          side: 'center',
          lines: from ? [] : [String(row + 1)],
          heading: true,
        })
    }
    const taken = new Set<number>()
    const take = (x: number, y: number, columns: number, rows: number) => {
      for (let down = 0; down < rows; down++)
        for (let over = 0; over < columns; over++) taken.add((y + down) * largestSheet.columns + x + over)
    }
    // Areas that begin on a page before go on here, without their text.
    const areas = new Set<MergedArea>()
    for (const { row } of strips)
      for (const { at } of this.sheet.merged.length ? band : []) {
        const merged = this.merged(row, at)
        if (merged) areas.add(merged)
      }
    for (const merged of areas) {
      const xs = band.flatMap(({ at }, x) => (at >= merged.left && at <= merged.right ? [x] : []))
      const ys = strips.flatMap(({ row }, y) => (row >= merged.top && row <= merged.bottom ? [y] : []))
      // Titles and what goes on after them are no rectangle: each stands for itself.
      for (const [x, columns] of together(xs))
        for (const [y, rows] of together(ys)) {
          const first = this.byRow.get(merged.top)?.get(merged.left)
          const text =
            band[x]!.at === merged.left ? own.get(merged.top * largestSheet.columns + merged.left) : undefined
          const lineHeight = sizeIn(this.sheet.looks[first?.look ?? 0] ?? {}, this.sheet) * lineShare
          const [from, to] = (text && this.linesOn(part, merged, text.lines.length, lineHeight).get(run)) ?? [0, 0]
          take(x, y, columns, rows)
          cells.push({
            x: x + shift,
            y: y + shift,
            columns,
            rows,
            look: first?.look ?? 0,
            side: first?.side ?? 'left',
            lines: text?.lines.slice(from, to) ?? [],
            ...(text?.smaller && { smaller: text.smaller }),
          })
        }
    }
    for (const [y, { row, from, to }] of strips.entries()) {
      // Text that lies over other cells comes first: they are its places then.
      const here = [...(this.byRow.get(row)?.values() ?? [])].flatMap((cell) => {
        const place = placeOf.get(cell.column)
        return place === undefined || this.merged(row, cell.column) ? [] : [{ cell, place }]
      })
      const spoken = here.flatMap(({ cell, place }) => {
        const text = own.get(row * largestSheet.columns + cell.column)
        return text ? [{ cell, place: place - text.before, text }] : []
      })
      for (const { cell, place, text } of spoken) {
        take(place, y, text.columns, 1)
        cells.push({
          x: place + shift,
          y: y + shift,
          columns: text.columns,
          rows: 1,
          look: cell.look,
          side: cell.side,
          lines: text.lines.slice(from, to),
          ...(text.smaller && { smaller: text.smaller }),
        })
      }
      for (const { cell, place } of here)
        if (!taken.has(y * largestSheet.columns + place))
          cells.push({
            x: place + shift,
            y: y + shift,
            columns: 1,
            rows: 1,
            look: cell.look,
            side: cell.side,
            lines: [],
          })
    }
    return {
      columns: [...(headings ? [this.numbersWidth(area.bottom)] : []), ...band.map(({ size }) => size)],
      rows: [...(headings ? [usualHeight] : []), ...strips.map(({ height }) => height)],
      cells,
      titles: titles + shift,
    }
  }
}

/** Numbers in their order, as runs without gaps: where each begins and how long it is. */
function together(numbers: readonly number[]): [number, number][] {
  const runs: [number, number][] = []
  for (const number of numbers) {
    const last = runs.at(-1)
    if (last && last[0] + last[1] === number) last[1]++
    else runs.push([number, 1])
  }
  return runs
}

/**
 * Lines parted into pages.
 * @param titles lines that are there again on each page after the one that they are on, as long as they leave half of it
 */
function parted(
  lines: readonly Line[],
  titles: readonly Line[],
  room: number,
  breaks: ReadonlySet<number>,
): { lines: Line[]; titles: number }[] {
  const titleSize = titles.reduce((sum, { size }) => sum + size, 0)
  const repeated = titleSize <= room / 2 ? titles : []
  const lastTitle = repeated.at(-1)?.at ?? -1
  const pages: { lines: Line[]; titles: number }[] = []
  let page: { lines: Line[]; titles: number } | null = null
  let size = 0
  for (const line of lines) {
    const over = page && size + line.size > room && page.lines.length > page.titles
    if (!page || over || (breaks.has(line.at) && page.lines.length > page.titles)) {
      // A page of the titles themselves, or of what is before them, has them where they are.
      const again = line.at > lastTitle ? repeated : []
      page = { lines: [...again], titles: again.length }
      size = again.length ? titleSize : 0
      // Room for at least the line itself.
      if (again.length && size + line.size > room && line.size <= room) {
        page = { lines: [], titles: 0 }
        size = 0
      }
      pages.push(page)
    }
    page.lines.push(line)
    size += line.size
  }
  return pages
}
