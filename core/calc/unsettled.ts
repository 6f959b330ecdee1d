// What is known of a workbook's results while edits have been made that nobody has calculated: each result takes the
// way of its cell, and whatever an edit may have changed is not known. Told by what formulas name, without calculating.
import { type CellValue, largestSheet, type Workbook } from '../content/workbook'
import { applyOp, type WorkbookOp } from '../content/workbook-ops'
import { type FormulaAt, formulasOf, translateAt } from './formulas'
import { type Area, type FormulaSource, sourceAfter } from './source'
import type { Around } from './translate'

/** A workbook with its results, as they were calculated last. Cells by `row * 16384 + column`. */
export interface Settled {
  workbook: Workbook
  source: FormulaSource
  results: readonly ReadonlyMap<number, CellValue>[]
  /** Results that are not known. */
  unknown: readonly ReadonlySet<number>[]
  /** Results that follow from edits. */
  fresh: readonly ReadonlySet<number>[]
}
export interface Unsettled {
  results: Map<number, CellValue>[]
  /** Formulas whose results may be others by now, or were not known before. */
  unknown: Set<number>[]
  /** Results that follow from edits, those that are not known among them. */
  fresh: Set<number>[]
  /** Where each result is now that was at `sheet key`. */
  places: Map<string, { sheet: number; key: number }>
}

/** Stand before what is sent along with the cells; no cell that anybody wrote begins so. */
const resultMark = '\u0000'
const editMark = '\u0001'
/** May point at what it calculates, also within what cannot be calculated here. */
const pointing = /\b(?:INDIRECT|OFFSET)\s*\(/i
/** An area of more cells than this is looked for by its corners, not by its cells. */
const smallArea = 64
const keyOf = (row: number, column: number): number => row * largestSheet.columns + column

/**
 * @param ops what was done since, in order
 * @param after the workbook with it
 */
export function unsettled(settled: Settled, ops: readonly WorkbookOp[], after: Workbook): Unsettled {
  const { was, edited } = movedAlong(settled, ops)
  let source = settled.source
  let stepped = settled.workbook
  for (const op of ops) {
    source = sourceAfter(source, op, stepped)
    stepped = applyOp(stepped, op)
  }
  const around: Around = { workbook: after, source, has: () => true }
  const formulas = formulasOf(after, source)
  const readBy = new ReadBy()
  const lost = new Set<number>()
  const all = ops.some(changesSheets)
  const lines = ops.filter((op) => op.op === 'insert' || op.op === 'remove')
  for (const [index, at] of formulas.entries()) {
    const old = was.get(at.sheet)?.get(keyOf(at.row, at.column))
    if (all || !old || old.unknown || edited[at.sheet]!.has(keyOf(at.row, at.column))) {
      lost.add(index)
      continue
    }
    const { reads, moving } = translateAt(at, around)
    if (moving || pointing.test(at.formula) || lines.some((op) => shifts(op, at, reads))) lost.add(index)
    else readBy.add(index, reads)
  }
  const open: { sheet: number; row: number; column: number }[] = []
  for (const [sheet, keys] of edited.entries())
    for (const key of keys)
      open.push({ sheet, row: Math.floor(key / largestSheet.columns), column: key % largestSheet.columns })
  for (const index of lost) open.push(...cellsOf(formulas[index]!))
  for (let cell = open.pop(); cell; cell = open.pop())
    for (const index of readBy.take(cell)) {
      if (lost.has(index)) continue
      lost.add(index)
      open.push(...cellsOf(formulas[index]!))
    }
  const found: Unsettled = {
    results: after.sheets.map(() => new Map()),
    unknown: after.sheets.map(() => new Set()),
    fresh: after.sheets.map(() => new Set()),
    places: new Map(),
  }
  for (const [index, at] of formulas.entries()) {
    const key = keyOf(at.row, at.column)
    const old = was.get(at.sheet)?.get(key)
    if (old) {
      found.results[at.sheet]!.set(key, old.shown)
      found.places.set(old.place, { sheet: at.sheet, key })
    }
    if (lost.has(index)) found.unknown[at.sheet]!.add(key)
    if (lost.has(index) || old?.fresh) found.fresh[at.sheet]!.add(key)
  }
  return found
}

interface Old {
  /** `sheet key`. */
  place: string
  shown: CellValue
  unknown: boolean
  fresh: boolean
}
/** Where the results are now, and the cells that were entered. */
function movedAlong(
  { workbook, results, unknown, fresh }: Settled,
  ops: readonly WorkbookOp[],
): { was: Map<number, Map<number, Old>>; edited: Set<number>[] } {
  const olds: Old[] = []
  let places: Workbook = {
    sheets: workbook.sheets.map((sheet, index) => {
      const rows: { value: string }[][] = []
      for (const [key, shown] of results[index] ?? []) {
        const row = Math.floor(key / largestSheet.columns)
        while (rows.length <= row) rows.push([])
        const isUnknown = unknown[index]?.has(key) ?? false
        const at =
          olds.push({ place: `${index} ${key}`, shown, unknown: isUnknown, fresh: fresh[index]?.has(key) ?? false }) - 1
        rows[row]![key % largestSheet.columns] = { value: `${resultMark}${at}` }
      }
      return { ...sheet, rows: rows.map((row) => Array.from(row)) }
    }),
  }
  for (const op of ops)
    places = applyOp(
      places,
      op.op === 'cells'
        ? { ...op, cells: op.cells.map(({ row, column }) => ({ row, column, cell: { value: editMark } })) }
        : op,
    )
  const was = new Map<number, Map<number, Old>>()
  const edited = places.sheets.map(() => new Set<number>())
  for (const [index, { rows }] of places.sheets.entries()) {
    const here = new Map<number, Old>()
    was.set(index, here)
    rows.forEach((line, row) => {
      line?.forEach((cell, column) => {
        if (typeof cell?.value !== 'string') return
        if (cell.value === editMark) edited[index]!.add(keyOf(row, column))
        else if (cell.value.startsWith(resultMark)) here.set(keyOf(row, column), olds[Number(cell.value.slice(1))]!)
      })
    })
  }
  return { was, edited }
}

/** After such an edit a formula may lead anywhere: to a sheet that was not there, or between others. */
const changesSheets = (op: WorkbookOp): boolean =>
  op.op === 'add sheet' ||
  op.op === 'put sheet' ||
  op.op === 'remove sheet' ||
  op.op === 'move sheet' ||
  op.op === 'rename sheet'

/** Whether rows or columns came or went where a formula stands or reads, or before. */
function shifts(op: Extract<WorkbookOp, { op: 'insert' | 'remove' }>, at: FormulaAt, reads: readonly Area[]): boolean {
  if (at.formula.includes('#REF!')) return true
  const reaches = (sheet: number, bottom: number, right: number) =>
    sheet === op.sheet && (op.axis === 'rows' ? bottom : right) >= op.at - (op.op === 'remove' ? 1 : 0)
  return reaches(at.sheet, at.row, at.column) || reads.some(({ sheet, bottom, right }) => reaches(sheet, bottom, right))
}

/** The cells that a formula fills. */
function cellsOf({ sheet, row, column, array }: FormulaAt): { sheet: number; row: number; column: number }[] {
  if (!array) return [{ sheet, row, column }]
  const cells = []
  for (let y = array.top; y <= array.bottom; y++)
    for (let x = array.left; x <= array.right; x++) cells.push({ sheet, row: y, column: x })
  return cells
}

/** Which formulas read a cell. Each is given once. */
class ReadBy {
  private readonly small = new Map<string, number[]>()
  /** Many formulas read one column: each area stands here once. */
  private readonly large = new Map<string, { area: Area; readers: number[] }>()

  add(index: number, reads: readonly Area[]): void {
    for (const area of reads) {
      const { sheet, top, left, bottom, right } = area
      if ((bottom - top + 1) * (right - left + 1) > smallArea) {
        const name = `${sheet} ${top} ${left} ${bottom} ${right}`
        const same = this.large.get(name)
        if (same) same.readers.push(index)
        else this.large.set(name, { area, readers: [index] })
        continue
      }
      for (let row = top; row <= bottom; row++)
        for (let column = left; column <= right; column++) {
          const name = `${sheet} ${row} ${column}`
          const list = this.small.get(name)
          if (list) list.push(index)
          else this.small.set(name, [index])
        }
    }
  }
  take({ sheet, row, column }: { sheet: number; row: number; column: number }): number[] {
    const name = `${sheet} ${row} ${column}`
    const found = this.small.get(name) ?? []
    this.small.delete(name)
    for (const [large, { area, readers }] of this.large) {
      const within =
        area.sheet === sheet && row >= area.top && row <= area.bottom && column >= area.left && column <= area.right
      if (!within) continue
      found.push(...readers)
      this.large.delete(large)
    }
    return found
  }
}
