// What a sheet's own looks mean on the screen: how high its rows are, which cells are one, where the cursor goes past
// what is hidden, and how a cell with borders or a place in a merged area is drawn.
import type { DrawCellCallback, Item, Rectangle } from '@glideapps/glide-data-grid'
import type { BorderSide, CellLook, MergedArea, SheetFrame } from '../../../core/content/looks'
import type { SheetFilter } from '../../../core/content/sheet-filter'
import { wrapped } from './fitting'

export const usualHeight = 26
/** A row's height on screen, from the points that a file has: a usual row of 15 points is a usual one here. */
export const pixelsOf = (points: number): number => Math.max(10, Math.round((points * 4) / 3) + 6)

export interface Scene {
  /** How large the sheet is shown; a share of its usual size. */
  size: number
  rowHeight: number | ((row: number) => number)
  /** Pixels from the top of one row to the top of another; a merged area may go over all rows that a sheet can have. */
  heightBetween: (from: number, to: number) => number
  mergedAt: (row: number, column: number) => MergedArea | undefined
  isHidden: (axis: 'row' | 'column', line: number) => boolean
  /** Whether a cell is a heading that rows are filtered by, and whether they are. */
  filteredBy: (row: number, column: number) => 'all' | 'some' | undefined
}

const noneNeeded: ReadonlyMap<number, number> = new Map()
/**
 * @param open whether what is hidden is shown all the same
 * @param needs heights of rows that have none of their own, for what they show; pixels
 */
export function sceneOf(
  frame: SheetFrame,
  open: boolean,
  needs: ReadonlyMap<number, number> = noneNeeded,
  filter?: SheetFilter,
  size = 1,
): Scene {
  const { heights, merged } = frame
  const hiddenRows = open ? new Set<number>() : frame.hiddenRows
  const hiddenColumns = open ? new Set<number>() : frame.hiddenColumns
  // By row where an area has few of them; there may be thousands of areas, and each cell that is drawn asks.
  const byRow = new Map<number, MergedArea[]>()
  const tall: MergedArea[] = []
  for (const area of merged)
    if (area.bottom - area.top > 200) tall.push(area)
    else
      for (let row = area.top; row <= area.bottom; row++) {
        const there = byRow.get(row)
        if (there) there.push(area)
        else byRow.set(row, [area])
      }
  const holds = (row: number, column: number) => (area: MergedArea) =>
    row >= area.top && row <= area.bottom && column >= area.left && column <= area.right
  const usual = Math.round(usualHeight * size)
  const heightOf = (row: number) => {
    if (hiddenRows.has(row)) return 0
    const own = heights.get(row)
    return Math.round((own === undefined ? Math.max(usualHeight, needs.get(row) ?? 0) : pixelsOf(own)) * size)
  }
  const ownRows = new Set([...heights.keys(), ...hiddenRows, ...needs.keys()])
  return {
    size,
    rowHeight: ownRows.size ? heightOf : usual,
    heightBetween(from, to) {
      let pixels = (to - from) * usual
      if (to - from <= ownRows.size) for (let row = from; row < to; row++) pixels += heightOf(row) - usual
      else for (const row of ownRows) if (row >= from && row < to) pixels += heightOf(row) - usual
      return pixels
    },
    mergedAt: (row, column) => byRow.get(row)?.find(holds(row, column)) ?? tall.find(holds(row, column)),
    isHidden: (axis, line) => (axis === 'row' ? hiddenRows : hiddenColumns).has(line),
    filteredBy: (row, column) =>
      filter && row === filter.area.top && column >= filter.area.left && column <= filter.area.right
        ? filter.columns[column]
          ? 'some'
          : 'all'
        : undefined,
  }
}

/**
 * Where the cursor goes when it is sent to a cell: past what is hidden, to the first cell of a merged area, and out of
 * one on the other side.
 * @param from where it is @param size columns and rows that there are
 * @returns the cell, and the range that it stands for
 */
export function settled(
  { mergedAt, isHidden }: Scene,
  from: Item | undefined,
  [column, row]: Item,
  [columns, rows]: Item,
): { cell: Item; range: Rectangle } {
  let [x, y] = [column, row]
  const [dx, dy] = from ? [Math.sign(column - from[0]), Math.sign(row - from[1])] : [0, 0]
  const left = from && mergedAt(from[1], from[0])
  if (left && mergedAt(y, x) === left && (dx > 0 || dy > 0) && !(dx && dy)) {
    if (dx > 0) x = left.right + 1
    else y = left.bottom + 1
  }
  const pass = (line: number, way: number, most: number, axis: 'row' | 'column'): number => {
    let at = line
    while (at >= 0 && at < most && isHidden(axis, at)) at += way
    // Nothing is shown that way: back to what is.
    if (at < 0 || at >= most) {
      at = line
      while (at >= 0 && at < most && isHidden(axis, at)) at -= way
    }
    return Math.min(most - 1, Math.max(0, at))
  }
  x = pass(Math.min(x, columns - 1), dx || 1, columns, 'column')
  y = pass(Math.min(y, rows - 1), dy || 1, rows, 'row')
  const area = mergedAt(y, x)
  return area
    ? {
        cell: [area.left, area.top],
        range: {
          x: area.left,
          y: area.top,
          width: area.right - area.left + 1,
          height: area.bottom - area.top + 1,
        },
      }
    : { cell: [x, y], range: { x, y, width: 1, height: 1 } }
}

/**
 * A range that was changed by keys, with its edges past what is hidden: to the next line that is seen, the way they went.
 * @param size columns and rows that there are
 */
export function pastHidden({ isHidden }: Scene, before: Rectangle, now: Rectangle, [columns, rows]: Item): Rectangle {
  const edge = (axis: 'row' | 'column', was: number, is: number, most: number): number => {
    const way = Math.sign(is - was)
    if (!way) return is
    let at = is
    while (at >= 0 && at < most && isHidden(axis, at)) at += way
    return at >= 0 && at < most ? at : was
  }
  const left = edge('column', before.x, now.x, columns)
  const top = edge('row', before.y, now.y, rows)
  const right = edge('column', before.x + before.width - 1, now.x + now.width - 1, columns)
  const bottom = edge('row', before.y + before.height - 1, now.y + now.height - 1, rows)
  return { x: left, y: top, width: right - left + 1, height: bottom - top + 1 }
}

const stronger = (a: BorderSide | undefined, b: BorderSide | undefined): BorderSide | undefined =>
  a && b ? (b.width > a.width ? b : a) : (a ?? b)

/** How one line of text of a cell is set. */
export interface CellText {
  text: string
  align: 'left' | 'center' | 'right'
  wrap: boolean
}

/** @param lookAt how a cell looks @param widthOf a column's width in pixels @param textOf what a cell says */
export function cellDrawer(
  scene: Scene,
  lookAt: (row: number, column: number) => CellLook | undefined,
  widthOf: (column: number) => number,
  textOf: (row: number, column: number) => CellText,
): DrawCellCallback {
  const { mergedAt } = scene
  const lookOf = (row: number, column: number) => (row < 0 || column < 0 ? undefined : lookAt(row, column))
  const sum = (from: number, to: number, of: (line: number) => number) => {
    let all = 0
    for (let line = from; line < to; line++) all += of(line)
    return all
  }
  return ({ ctx, theme, rect, col, row }, drawContent) => {
    if (rect.height < 2) return
    if (col < 0) return drawContent()
    const { x, y, width, height } = rect
    const area = mergedAt(row, col)
    const look = lookOf(row, col)
    // Text stands at the foot of a row that is higher than its own line, where nothing else is said.
    const tall = (area ? scene.heightBetween(area.top, area.bottom + 1) : height) > (usualHeight + 8) * scene.size
    if (area || look?.vertical === 'top' || (tall && look?.vertical !== 'middle')) {
      const [top, left] = area ? [area.top, area.left] : [row, col]
      const box = area
        ? {
            x: x - sum(left, col, widthOf),
            y: y - scene.heightBetween(top, row),
            width: sum(left, area.right + 1, widthOf),
            height: scene.heightBetween(top, area.bottom + 1),
          }
        : { x, y, width, height }
      ctx.save()
      ctx.beginPath()
      ctx.rect(x, y, width, height)
      ctx.clip()
      setText(
        ctx,
        textOf(top, left),
        box,
        lookOf(top, left)?.vertical ?? (tall ? 'bottom' : 'middle'),
        theme,
        scene.size,
      )
      ctx.restore()
    } else drawContent()
    // The grid remembers what it set, and would write on in the colour of the sign and of the lines.
    const { fillStyle } = ctx
    const filtered = scene.filteredBy(row, col)
    if (filtered) sign(ctx, theme, rect, filtered === 'some', scene.size)
    // Lines are drawn at a cell's right and lower edge; between two cells the stronger border holds.
    const inside = (other: MergedArea | undefined) => area !== undefined && other === area
    if (!inside(mergedAt(row, col + 1)))
      edge(ctx, stronger(look?.right, lookOf(row, col + 1)?.left), theme, x + width, y, height, 'down', -1)
    if (!inside(mergedAt(row + 1, col)))
      edge(ctx, stronger(look?.bottom, lookOf(row + 1, col)?.top), theme, x, y + height, width, 'across', -1)
    if (col === 0 && look?.left) edge(ctx, look.left, theme, x, y, height, 'down', 1)
    if (row === 0 && look?.top) edge(ctx, look.top, theme, x, y, width, 'across', 1)
    ctx.fillStyle = fillStyle
  }
}

interface Colours {
  textDark: string
  borderColor: string
  accentColor: string
  accentFg: string
  bgCell: string
  baseFontFull?: string
  cellHorizontalPadding: number
}

/** As wide as what is pressed to say which rows are shown. */
export const signWidth = 24
/** Three lines, each shorter than the one above: in the accent's colour, on its ground, where they let not all rows through. */
function sign(
  ctx: CanvasRenderingContext2D,
  theme: Colours,
  { x, y, width, height }: Rectangle,
  some: boolean,
  size: number,
): void {
  if (width < (signWidth + 8) * size) return
  const [left, middle] = [x + width - signWidth * size, y + Math.min(height, usualHeight * size) / 2]
  const bar = (from: number, top: number, wide: number, high: number) =>
    ctx.fillRect(left + from * size, middle + top * size, wide * size, high * size)
  ctx.fillStyle = some ? theme.accentColor : theme.bgCell
  bar(0, -10, signWidth - 3, 20)
  ctx.fillStyle = some ? theme.accentFg : theme.textDark
  for (const [at, length] of [14, 9, 4].entries()) bar((signWidth - 3 - length) / 2, -5 + at * 4, length, 1.5)
}

/** One line along an edge, inside of it. @param way to which side of the edge it is: -1 before, 1 behind */
function edge(
  ctx: CanvasRenderingContext2D,
  side: BorderSide | undefined,
  theme: Colours,
  x: number,
  y: number,
  length: number,
  along: 'down' | 'across',
  way: 1 | -1,
): void {
  // Black is how text is; in the dark it is light.
  const color = side ? (side.color && side.color !== '#000000' ? side.color : theme.textDark) : theme.borderColor
  const stroke = (offset: number, width: number) => {
    const at = way < 0 ? -offset - width : offset
    ctx.fillStyle = color
    const dash = side?.line === 'dashed' ? 6 : side?.line === 'dotted' ? 2 : 0
    if (!dash) {
      if (along === 'down') ctx.fillRect(x + at, y, width, length)
      else ctx.fillRect(x, y + at, length, width)
      return
    }
    for (let from = 0; from < length; from += dash * 1.5) {
      const part = Math.min(dash, length - from)
      if (along === 'down') ctx.fillRect(x + at, y + from, width, part)
      else ctx.fillRect(x + from, y + at, part, width)
    }
  }
  if (side?.line === 'double') {
    stroke(0, 1)
    stroke(2, 1)
  } else stroke(0, side?.width ?? 1)
}

/** Text in a box, in the font that is set. */
function setText(
  ctx: CanvasRenderingContext2D,
  { text, align, wrap }: CellText,
  box: Rectangle,
  vertical: 'top' | 'middle' | 'bottom',
  theme: Colours,
  shown: number,
): void {
  if (!text) return
  if (theme.baseFontFull) ctx.font = theme.baseFontFull
  ctx.fillStyle = theme.textDark
  ctx.textAlign = align
  ctx.textBaseline = 'middle'
  const pad = theme.cellHorizontalPadding
  const size = Number(/([\d.]+)px/.exec(ctx.font)?.[1] ?? 14)
  const step = size * 1.35
  // Lines end where they end in the usual size, which its row has its height from.
  const asShown = ctx.font
  if (shown !== 1 && wrap) ctx.font = asShown.replace(/[\d.]+px/, `${size / shown}px`)
  const lines = wrap
    ? wrapped(text, (box.width - 2 * pad) / shown, (part) => ctx.measureText(part).width)
    : text.split('\n', 1)
  ctx.font = asShown
  const all = lines.length * step
  const first =
    (vertical === 'top'
      ? box.y + 4 * shown
      : vertical === 'bottom'
        ? box.y + box.height - 4 * shown - all
        : box.y + (box.height - all) / 2) +
    step / 2
  const at = align === 'left' ? box.x + pad : align === 'right' ? box.x + box.width - pad : box.x + box.width / 2
  for (const [index, line] of lines.entries()) ctx.fillText(line, at, first + index * step)
}
