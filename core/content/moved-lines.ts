// Where rows and columns are once others came or went before them, and lines as spans.
import type { MergedArea } from './workbook'

export type AxisName = 'rows' | 'columns'

/** Where a line is after lines came (`count` above 0) or went at a place; null when it went. */
export const placeAfter = (line: number, at: number, count: number): number | null =>
  line < at ? line : count < 0 && line < at - count ? null : line + count

/** Lines with what is said of each of them. */
export function movedLines<T>(lines: Iterable<readonly [number, T]>, at: number, count: number): [number, T][] {
  const now: [number, T][] = []
  for (const [line, value] of lines) {
    const place = placeAfter(line, at, count)
    if (place !== null) now.push([place, value])
  }
  return now
}
export const movedPlaces = (lines: readonly number[], at: number, count: number): number[] =>
  lines.flatMap((line) => placeAfter(line, at, count) ?? [])

/** What comes of an area: it grows with what comes into it, and shrinks; null when all of it went. */
export function movedArea(area: MergedArea, axis: AxisName, at: number, count: number): MergedArea | null {
  const [from, to] = axis === 'rows' ? [area.top, area.bottom] : [area.left, area.right]
  let first = from
  let last = to
  if (count > 0) {
    if (at <= from) first += count
    if (at <= to) last += count
  } else {
    const gone = (line: number) => Math.min(-count, Math.max(0, line - at))
    first -= gone(first)
    last -= gone(last + 1)
    if (last < first) return null
  }
  return axis === 'rows' ? { ...area, top: first, bottom: last } : { ...area, left: first, right: last }
}

/** Lines, in order, as spans of those that follow one another. */
export function spansOf(lines: readonly number[]): [number, number][] {
  const spans: [number, number][] = []
  for (const line of lines) {
    const last = spans.at(-1)
    if (last && last[1] === line - 1) last[1] = line
    else spans.push([line, line])
  }
  return spans
}
