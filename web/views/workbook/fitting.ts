// How much room what cells show needs: rows that are as high as their wrapped or large text, and columns as wide as their
// longest. Files say the heights that somebody chose; of other rows every program finds them by itself (ECMA-376 part 1,
// §18.3.1.73, `customHeight`).
import type { CellStyle, Row, Sheet } from '../../../core/content/workbook'

/** Width of a text in pixels, in the font of a style. */
export type Measure = (text: string, style: CellStyle | undefined) => number

/** Points as pixels on screen, where a usual text of 11 points has 14. */
export const sizeOf = (points: number): number => Math.min(96, Math.max(8, Math.round((points * 14) / 11)))
const usualSize = 14
const lineShare = 1.4
const padding = 8
/** Beside the text of a cell. */
const besideText = 16
/** Of a column, its longest texts by their letters are measured. */
const mostMeasured = 60

/** A text in lines that are no wider than there is room for; a word that is wider has a line of its own. */
export function wrapped(text: string, width: number, measure: (text: string) => number, most = 200): string[] {
  const lines: string[] = []
  for (const paragraph of text.split('\n')) {
    let line = ''
    for (const word of paragraph.split(/(?<=\s)/)) {
      if (line && measure(line + word.trimEnd()) > width) {
        lines.push(line.trimEnd())
        line = ''
      }
      line += word
    }
    lines.push(line)
    if (lines.length > most) break
  }
  return lines
}

/** What rows need beyond what is usual, by row; pixels. */
export interface Needs {
  rows: Sheet['rows']
  widths: Sheet['widths']
  merged: Sheet['merged']
  needs: ReadonlyMap<number, number>
}
export const noNeeds: Needs = { rows: [], widths: {}, merged: undefined, needs: new Map() }

/**
 * @param before what was found of the sheet before: of rows that are the same it holds
 * @param textOf what a cell shows
 * @returns the same needs, where they are
 */
export function rowNeeds(
  before: Needs,
  { rows, widths, merged }: Sheet,
  textOf: (row: number, column: number) => string,
  widthOf: (column: number) => number,
  measure: Measure,
): Needs {
  if (before.rows === rows && before.widths === widths && before.merged === merged) return before
  const anew = before.widths !== widths || before.merged !== merged
  let needs: Map<number, number> | null = anew ? new Map() : null
  const own = () => (needs ??= new Map(before.needs))
  for (let row = 0; row < Math.max(rows.length, before.rows.length); row++) {
    const line = rows[row]
    if (!anew && line === before.rows[row]) continue
    const height = line ? heightOf(line, row) : 0
    if (height) own().set(row, height)
    else if (before.needs.has(row) && !anew) own().delete(row)
  }
  const same =
    needs && needs.size === before.needs.size && [...needs].every(([row, height]) => before.needs.get(row) === height)
  return { rows, widths, merged, needs: needs && !same ? needs : before.needs }

  function heightOf(line: Row, row: number): number {
    let most = 0
    for (const [column, cell] of line.entries()) {
      const style = cell?.style
      if (!style || (!style.wrap && !style.size)) continue
      const area = merged?.find(
        ({ top, left, bottom, right }) => row >= top && row <= bottom && column >= left && column <= right,
      )
      // What lies over several rows says nothing of one of them.
      if (area && (area.bottom > area.top || column > area.left)) continue
      let width = widthOf(column)
      if (area) for (let other = column + 1; other <= area.right; other++) width += widthOf(other)
      const size = style.size ? sizeOf(style.size) : usualSize
      const text = textOf(row, column)
      const lines = style.wrap && text ? wrapped(text, width - besideText, (part) => measure(part, style)).length : 1
      if (lines > 1 || size > usualSize + 3) most = Math.max(most, Math.ceil(lines * size * lineShare) + padding)
    }
    return most
  }
}

/** The width that a column needs for what its cells show; null where they show nothing. */
export function neededWidth(
  { rows, merged }: Sheet,
  column: number,
  textOf: (row: number, column: number) => string,
  measure: Measure,
): number | null {
  const texts: { text: string; style: CellStyle | undefined }[] = []
  const over = merged?.filter(({ left, right }) => left <= column && right >= column && left < right) ?? []
  for (const [row, line] of rows.entries()) {
    const cell = line?.[column]
    if (!cell || over.some(({ top, bottom }) => row >= top && row <= bottom)) continue
    for (const text of textOf(row, column).split('\n')) if (text) texts.push({ text, style: cell.style })
  }
  if (!texts.length) return null
  const longest = texts.sort((a, b) => b.text.length * (b.style?.size ?? 11) - a.text.length * (a.style?.size ?? 11))
  const widest = Math.max(...longest.slice(0, mostMeasured).map(({ text, style }) => measure(text, style)))
  return Math.min(900, Math.max(24, Math.ceil(widest) + besideText))
}

/** The font of cells that have none of their own. */
export const gridFont = '"Atkinson Hyperlegible Next Variable"'
/** Measures as the grid sets text. */
export function canvasMeasure(family: string): Measure {
  const context = document.createElement('canvas').getContext('2d')!
  return (text, style) => {
    const font = style?.font ? `"${style.font.replace(/["\\;]/g, '')}", ${family}` : family
    context.font = `${style?.italic ? 'italic ' : ''}${style?.bold ? '700 ' : ''}${style?.size ? sizeOf(style.size) : usualSize}px ${font}`
    return context.measureText(text).width
  }
}
