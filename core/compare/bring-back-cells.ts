// A part of an earlier workbook brought back into the present one, as operations of its own language: a range
// lands on the rows and columns that it was on, wherever they are now, and those that are gone come in again.
import { type Cell, cellAt, type Workbook } from '../content/workbook'
import { applyOps, type CellChange, plainSheet, tidyCell, type WorkbookOp } from '../content/workbook-ops'
import { SaidError, say } from '../words/said'
import { type Axis, alignSheets } from './axis'
import { axisOps, compareWorkbooks, matchSheets, unlikeAll } from './workbook'

/** Cells of a sheet, both ends included. */
export interface CellRange {
  top: number
  left: number
  bottom: number
  right: number
}

/** Which sheet of `now` is sheet `index` of `then`; null when it is gone. */
export function sheetNow(now: Workbook, then: Workbook, index: number): number | null {
  const at = matchSheets(then, now).indexOf(index)
  return at < 0 ? null : at
}

/** Operations that make the sheet in `now` what it was in `then`, or put it in again. */
export function bringBackSheet(now: Workbook, then: Workbook, index: number): WorkbookOp[] {
  const sheet = then.sheets[index]!
  const at = sheetNow(now, then, index)
  if (at === null) {
    const taken = now.sheets.some(({ name }) => name.toLowerCase() === sheet.name.toLowerCase())
    const plain = plainSheet(sheet)
    return [
      {
        op: 'put sheet',
        at: Math.min(index, now.sheets.length),
        sheet: taken ? { ...plain, name: unlikeAll(sheet.name, now) } : plain,
      },
    ]
  }
  return compareWorkbooks(now, { ...now, sheets: now.sheets.with(at, sheet) }).ops
}

/**
 * Operations that bring back a range.
 * @param what `look` brings back only how the cells look
 * @throws SaidError when the sheet is gone: it comes back as a whole
 */
export function bringBackRange(
  now: Workbook,
  then: Workbook,
  index: number,
  { top, left, bottom, right }: CellRange,
  what: 'content' | 'look',
): WorkbookOp[] {
  const at = sheetNow(now, then, index)
  if (at === null) throw new SaidError(say('changes.this-sheet-is-not-there-any-more'))
  const axes = alignSheets(then.sheets[index]!, now.sheets[at]!)
  const ops: WorkbookOp[] = []
  const returned = (axis: 'rows' | 'columns', from: number, to: number): Axis => {
    const { to: places, added } = axes[axis]
    const next: Axis = { to: [...places], added: [...added] }
    if (what === 'look') return next
    for (let line = from; line <= Math.min(to, places.length - 1); line++) {
      if (next.to[line] !== null) continue
      let near = line - 1
      while (near >= 0 && next.to[near] == null) near--
      const place = near < 0 ? 0 : next.to[near]! + 1
      ops.push({ op: 'insert', sheet: at, axis, at: place, count: 1 })
      next.to = next.to.map((one) => (one !== null && one >= place ? one + 1 : one))
      next.to[line] = place
      next.added = next.added.map((one) => (one >= place ? one + 1 : one))
    }
    return next
  }
  const rows = returned('rows', top, bottom)
  const columns = returned('columns', left, right)
  // The earlier sheet with its rows and columns where they are now, so that its formulas read right.
  const name = now.sheets[at]!.name
  const free = then.sheets.every((sheet, other) => other === index || sheet.name.toLowerCase() !== name.toLowerCase())
  const moved = applyOps(then, [
    ...(free && then.sheets[index]!.name !== name ? [{ op: 'rename sheet' as const, sheet: index, name }] : []),
    ...axisOps(index, 'columns', columns),
    ...axisOps(index, 'rows', rows),
  ]).sheets[index]!
  const here = applyOps(now, ops).sheets[at]!
  const cells: CellChange[] = []
  for (let y = top; y <= bottom; y++)
    for (let x = left; x <= right; x++) {
      // Past its last cell a sheet goes on as it is.
      const row = y < rows.to.length ? rows.to[y] : y
      const column = x < columns.to.length ? columns.to[x] : x
      if (row == null || column == null) continue
      const [was, is] = [cellAt(moved, row, column), cellAt(here, row, column)]
      const cell = what === 'content' ? was : withLook(is, was)
      if (JSON.stringify(cell) !== JSON.stringify(is)) cells.push({ row, column, cell: cell ?? null })
    }
  if (cells.length) ops.push({ op: 'cells', sheet: at, cells })
  return ops
}

const withLook = (is: Cell | undefined, was: Cell | undefined): Cell | undefined => {
  const { style: _, ...content } = is ?? {}
  return tidyCell(was?.style ? { ...content, style: was.style } : content)
}
