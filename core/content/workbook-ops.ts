// The edits of a workbook. One small language that everything is built of: the editor applies
// these, the journal keeps these, the calculation worker follows by these, and undo is the
// inverse of these applied like any other edit.

import { asKept, say } from '../words/said'
import { type About, workbookAbout } from './about'
import { type EntryRule, movedRules, sameRules, withRuleFormulas } from './entry-rules'
import { renameInFormula, type Shift, shiftFormula } from './formula'
import { inOrder, overlap, sameArea } from './looks'
import { movedArea, movedLines, movedPlaces, spansOf } from './moved-lines'
import { movedFilter, type SheetFilter, sameFilter } from './sheet-filter'
import type { SheetSetUp } from './sheet-set-up'
import {
  blankSheet,
  type Cell,
  largestSheet,
  type MergedArea,
  type Row,
  type Sheet,
  sameCell,
  type Workbook,
} from './workbook'

export interface CellChange {
  row: number
  column: number
  cell: Cell | null
}

export type WorkbookOp =
  | { op: 'cells'; sheet: number; cells: CellChange[] }
  | { op: 'insert'; sheet: number; axis: 'rows' | 'columns'; at: number; count: number }
  | { op: 'remove'; sheet: number; axis: 'rows' | 'columns'; at: number; count: number }
  | { op: 'width'; sheet: number; column: number; width: number | null }
  | { op: 'freeze'; sheet: number; frozen: { rows: number; columns: number } | null }
  /** Each area becomes one cell; areas that they overlap are none any more. What covered cells hold stays in them. */
  | { op: 'merge'; sheet: number; areas: MergedArea[] }
  | { op: 'unmerge'; sheet: number; areas: MergedArea[] }
  /** Of rows from one to another, both included; in points, null as is usual. */
  | { op: 'height'; sheet: number; spans: [from: number, to: number][]; height: number | null }
  | { op: 'hide'; sheet: number; axis: 'rows' | 'columns'; spans: [from: number, to: number][]; hidden: boolean }
  /** Which rows it hides is another operation: what they hold by then decides. */
  | { op: 'filter'; sheet: number; filter: SheetFilter | null }
  /** Those of the whole sheet. */
  | { op: 'rules'; sheet: number; rules: readonly EntryRule[] }
  /** `was` is how it was put on paper before, which whoever takes it back has again. */
  | { op: 'set up'; sheet: number; setUp: SheetSetUp | null; was: SheetSetUp | null }
  | { op: 'add sheet'; at: number; name: string }
  | { op: 'put sheet'; at: number; sheet: PlainSheet }
  | { op: 'remove sheet'; sheet: number }
  | { op: 'rename sheet'; sheet: number; name: string }
  | { op: 'move sheet'; sheet: number; to: number }
  /** What its file says of itself from then on. */
  | { op: 'about'; about: About | null }

/** A sheet as JSON can hold it: no holes. */
export interface PlainSheet {
  name: string
  cells: CellChange[]
  widths: Record<number, number>
  frozen?: { rows: number; columns: number }
  merged?: MergedArea[]
  heights?: Record<number, number>
  hiddenRows?: number[]
  hiddenColumns?: number[]
  filter?: SheetFilter
  rules?: readonly EntryRule[]
  setUp?: SheetSetUp
}

/** A cell with no field that says nothing; undefined for one that is empty. */
export function tidyCell(cell: Cell | null | undefined): Cell | undefined {
  if (!cell) return undefined
  const style = cell.style && Object.keys(cell.style).length > 0 ? cell.style : undefined
  if (cell.formula !== undefined) return style ? { formula: cell.formula, style } : { formula: cell.formula }
  if (cell.value !== undefined && cell.value !== '') return style ? { value: cell.value, style } : { value: cell.value }
  return style && { style }
}

function trimmed<T>(items: (T | undefined)[]): (T | undefined)[] {
  let length = items.length
  while (length > 0 && items[length - 1] === undefined) length--
  items.length = length
  return items
}

function withSheet(workbook: Workbook, index: number, change: (sheet: Sheet) => Sheet): Workbook {
  const sheet = workbook.sheets[index]
  if (!sheet) throw new RangeError(asKept(say('content.there-is-no-sheet', { index })))
  const sheets = workbook.sheets.slice()
  sheets[index] = change(sheet)
  return { ...workbook, sheets }
}

/** @throws RangeError when the operation does not fit the workbook */
export function applyOp(workbook: Workbook, op: WorkbookOp): Workbook {
  switch (op.op) {
    case 'cells':
      return withSheet(workbook, op.sheet, (sheet) => ({ ...sheet, rows: withCells(sheet.rows, op.cells) }))
    case 'insert':
    case 'remove':
      return shifted(workbook, op)
    case 'width':
      return withSheet(workbook, op.sheet, (sheet) => {
        const { [op.column]: _, ...others } = sheet.widths
        return { ...sheet, widths: op.width === null ? others : { ...others, [op.column]: op.width } }
      })
    case 'freeze':
      return withSheet(workbook, op.sheet, ({ frozen: _, ...sheet }) =>
        op.frozen ? { ...sheet, frozen: op.frozen } : sheet,
      )
    case 'merge':
      return withSheet(workbook, op.sheet, (sheet) => withMerged(sheet, merging(sheet.merged ?? [], op.areas)))
    case 'unmerge':
      return withSheet(workbook, op.sheet, (sheet) =>
        withMerged(
          sheet,
          (sheet.merged ?? []).filter((area) => !op.areas.some((one) => sameArea(one, area))),
        ),
      )
    case 'height':
      return withSheet(workbook, op.sheet, (sheet) => {
        const heights = Object.fromEntries(
          Object.entries(sheet.heights ?? {}).filter(([row]) => !isWithin(Number(row), op.spans)),
        )
        if (op.height !== null)
          for (const [from, to] of op.spans) for (let row = from; row <= to; row++) heights[row] = op.height
        return withHeights(sheet, heights)
      })
    case 'hide':
      return withSheet(workbook, op.sheet, (sheet) =>
        withHidden(sheet, op.axis, hiding(hiddenOn(sheet, op.axis), op.spans, op.hidden)),
      )
    case 'filter':
      return withSheet(workbook, op.sheet, (sheet) => withFilter(sheet, op.filter))
    case 'rules':
      return withSheet(workbook, op.sheet, (sheet) => withRules(sheet, op.rules))
    case 'set up':
      return withSheet(workbook, op.sheet, ({ setUp: _, ...sheet }) =>
        op.setUp ? { ...sheet, setUp: op.setUp } : sheet,
      )
    case 'add sheet':
      return { ...workbook, sheets: workbook.sheets.toSpliced(op.at, 0, blankSheet(op.name)) }
    case 'put sheet': {
      const { name, cells, widths, frozen, merged, heights, hiddenRows, hiddenColumns, filter, rules, setUp } = op.sheet
      return {
        ...workbook,
        sheets: workbook.sheets.toSpliced(op.at, 0, {
          name,
          rows: withCells([], cells),
          widths,
          ...(frozen && { frozen }),
          ...(merged && { merged }),
          ...(heights && { heights }),
          ...(hiddenRows && { hiddenRows }),
          ...(hiddenColumns && { hiddenColumns }),
          ...(filter && { filter }),
          ...(rules?.length && { rules }),
          ...(setUp && { setUp }),
        }),
      }
    }
    case 'remove sheet':
      if (workbook.sheets.length < 2 || !workbook.sheets[op.sheet])
        throw new RangeError(asKept(say('content.a-workbook-keeps-at-least-one-sheet')))
      return { ...workbook, sheets: workbook.sheets.toSpliced(op.sheet, 1) }
    case 'rename sheet': {
      const before = workbook.sheets[op.sheet]
      if (!before) throw new RangeError(asKept(say('content.there-is-no-sheet-2', { sheet: op.sheet })))
      const sheets = workbook.sheets.map((sheet) =>
        withFormulas(sheet, (formula) => renameInFormula(formula, before.name, op.name)),
      )
      sheets[op.sheet] = { ...sheets[op.sheet]!, name: op.name }
      return { ...workbook, sheets }
    }
    case 'move sheet': {
      const sheet = workbook.sheets[op.sheet]
      if (!sheet) throw new RangeError(asKept(say('content.there-is-no-sheet-2', { sheet: op.sheet })))
      return { ...workbook, sheets: workbook.sheets.toSpliced(op.sheet, 1).toSpliced(op.to, 0, sheet) }
    }
    case 'about':
      return workbookAbout(workbook, op.about)
  }
}

/** Fields that say nothing are not there: two sheets that look the same are the same. */
function withMerged({ merged: _, ...sheet }: Sheet, merged: readonly MergedArea[]): Sheet {
  return merged.length ? { ...sheet, merged } : sheet
}
function withHeights({ heights: _, ...sheet }: Sheet, heights: Readonly<Record<number, number>>): Sheet {
  return Object.keys(heights).length ? { ...sheet, heights } : sheet
}
function withFilter({ filter: _, ...sheet }: Sheet, filter: SheetFilter | null): Sheet {
  return filter ? { ...sheet, filter } : sheet
}
function withRules({ rules: _, ...sheet }: Sheet, rules: readonly EntryRule[]): Sheet {
  return rules.length ? { ...sheet, rules } : sheet
}
const hiddenOn = (sheet: Sheet, axis: 'rows' | 'columns'): readonly number[] =>
  (axis === 'rows' ? sheet.hiddenRows : sheet.hiddenColumns) ?? []
function withHidden(sheet: Sheet, axis: 'rows' | 'columns', lines: readonly number[]): Sheet {
  if (axis === 'rows') {
    const { hiddenRows: _, ...rest } = sheet
    return lines.length ? { ...rest, hiddenRows: lines } : rest
  }
  const { hiddenColumns: _, ...rest } = sheet
  return lines.length ? { ...rest, hiddenColumns: lines } : rest
}
const merging = (there: readonly MergedArea[], areas: readonly MergedArea[]): MergedArea[] =>
  inOrder([...there.filter((area) => !areas.some((one) => overlap(one, area))), ...areas])
const isWithin = (line: number, spans: readonly (readonly [number, number])[]): boolean =>
  spans.some(([from, to]) => line >= from && line <= to)
function hiding(
  lines: readonly number[],
  spans: readonly (readonly [number, number])[],
  hidden: boolean,
): readonly number[] {
  const rest = lines.filter((line) => !isWithin(line, spans))
  if (!hidden) return rest
  const now = new Set(rest)
  for (const [from, to] of spans) for (let line = from; line <= to; line++) now.add(line)
  return [...now].sort((a, b) => a - b)
}
function withCells(rows: Sheet['rows'], changes: readonly CellChange[]): Sheet['rows'] {
  const next = rows.slice()
  const copied = new Set<number>()
  for (const { row, column, cell } of changes) {
    if (row < 0 || column < 0 || row >= largestSheet.rows || column >= largestSheet.columns)
      throw new RangeError(asKept(say('content.this-is-past-the-end-of-the')))
    let line = next[row] as (Cell | undefined)[] | undefined
    if (!copied.has(row)) {
      line = line ? line.slice() : []
      copied.add(row)
      while (next.length < row) next.push(undefined)
      next[row] = line
    }
    while (line!.length < column) line!.push(undefined)
    line![column] = tidyCell(cell)
  }
  for (const row of copied) if (trimmed(next[row] as (Cell | undefined)[]).length === 0) next[row] = undefined
  return trimmed(next)
}

/** The sheet with each formula rewritten; rows without a changed formula stay the same objects. */
function withFormulas(sheet: Sheet, rewrite: (formula: string) => string): Sheet {
  let changedAny = false
  const rows = sheet.rows.map((row) => {
    let changed: (Cell | undefined)[] | undefined
    row?.forEach((cell, column) => {
      if (cell?.formula === undefined) return
      const formula = rewrite(cell.formula)
      if (formula === cell.formula) return
      changed ??= row.slice()
      changed[column] = { ...cell, formula }
    })
    if (changed) changedAny = true
    return changed ?? row
  })
  // Those of its rules, too.
  const rules = sheet.rules?.map((rule) => withRuleFormulas(rule, rewrite))
  const ruled = rules?.some((rule, at) => rule !== sheet.rules![at]) ? { rules } : {}
  return changedAny || 'rules' in ruled ? { ...sheet, rows: changedAny ? rows : sheet.rows, ...ruled } : sheet
}

type Reshape = Extract<WorkbookOp, { op: 'insert' | 'remove' }>

const shiftOf = (workbook: Workbook, { op, sheet, axis, at, count }: Reshape): Shift => ({
  sheet: workbook.sheets[sheet]!.name,
  axis,
  at,
  count: op === 'insert' ? count : -count,
})

function shifted(workbook: Workbook, op: Reshape): Workbook {
  return withShifts(reshaped(workbook, op), [shiftOf(workbook, op)])
}

/** Formulas after shifts, one after the other, in one pass over the cells. */
function withShifts(workbook: Workbook, shifts: readonly Shift[]): Workbook {
  const sheets = workbook.sheets.map((sheet) =>
    withFormulas(sheet, (formula) => shiftFormula(formula, sheet.name, ...shifts)),
  )
  return { ...workbook, sheets }
}

/**
 * Applies operations in order. Rows and columns that are inserted and removed in a row cost one pass over the
 * formulas together.
 * @throws RangeError when one does not fit
 */
export function applyOps(workbook: Workbook, ops: readonly WorkbookOp[]): Workbook {
  let now = workbook
  let shifts: Shift[] = []
  for (const op of ops) {
    if (op.op === 'insert' || op.op === 'remove') {
      const next = reshaped(now, op)
      shifts.push(shiftOf(now, op))
      now = next
      continue
    }
    if (shifts.length) now = withShifts(now, shifts)
    shifts = []
    now = applyOp(now, op)
  }
  return shifts.length ? withShifts(now, shifts) : now
}

/** The rows and columns of a sheet moved; formulas are as they were. */
function reshaped(workbook: Workbook, op: Reshape): Workbook {
  const target = workbook.sheets[op.sheet]
  if (!target || op.count < 1 || op.at < 0)
    throw new RangeError(asKept(say('content.these-rows-or-columns-are-not-there')))
  const limit = op.axis === 'rows' ? largestSheet.rows : largestSheet.columns
  const splice = <T>(items: readonly (T | undefined)[]): readonly (T | undefined)[] => {
    if (op.at >= items.length) return items
    if (op.op === 'remove') return trimmed(items.toSpliced(op.at, op.count))
    if (items.length + op.count > limit) throw new RangeError(asKept(say('content.the-last-cells-would-be-pushed-off')))
    return [...items.slice(0, op.at), ...new Array<undefined>(op.count).fill(undefined), ...items.slice(op.at)]
  }
  let rows: Sheet['rows'] = target.rows
  let { widths } = target
  if (op.axis === 'rows') rows = splice(rows)
  else {
    rows = trimmed(
      rows.map((row) => {
        const next = row && (splice(row) as Row)
        return next && next.length > 0 ? next : undefined
      }),
    )
    widths = Object.fromEntries(
      Object.entries(widths).flatMap(([key, width]) => {
        const column = Number(key)
        if (column < op.at) return [[column, width]]
        if (op.op === 'insert') return [[column + op.count, width]]
        return column < op.at + op.count ? [] : [[column - op.count, width]]
      }),
    )
  }
  const sheet = reframed({ ...target, rows, widths }, op)
  return { ...workbook, sheets: workbook.sheets.with(op.sheet, sheet) }
}

/** What stands around cells, where their rows or columns are now. */
function reframed(sheet: Sheet, { op, axis, at, count }: Reshape): Sheet {
  const { merged, heights, filter, rules } = sheet
  const hidden = hiddenOn(sheet, axis)
  const by = op === 'insert' ? count : -count
  let now = sheet
  if (merged) now = withMerged(now, inOrder(merged.flatMap((area) => movedArea(area, axis, at, by) ?? [])))
  if (heights && axis === 'rows')
    now = withHeights(
      now,
      Object.fromEntries(
        movedLines(
          Object.entries(heights).map(([row, height]) => [Number(row), height] as const),
          at,
          by,
        ),
      ),
    )
  if (filter) now = withFilter(now, movedFilter(filter, axis, at, by))
  if (rules) now = withRules(now, movedRules(rules, axis, at, by))
  return hidden.length ? withHidden(now, axis, movedPlaces(hidden, at, by)) : now
}

/** A sheet as an operation can carry it. */
export function plainSheet(sheet: Sheet): PlainSheet {
  const cells: CellChange[] = []
  sheet.rows.forEach((line, row) => {
    line?.forEach((cell, column) => {
      if (cell) cells.push({ row, column, cell })
    })
  })
  const { name, widths, frozen, merged, heights, hiddenRows, hiddenColumns, filter, rules, setUp } = sheet
  return {
    name,
    cells,
    widths: { ...widths },
    ...(frozen && { frozen }),
    ...(merged && { merged: [...merged] }),
    ...(heights && { heights: { ...heights } }),
    ...(hiddenRows && { hiddenRows: [...hiddenRows] }),
    ...(hiddenColumns && { hiddenColumns: [...hiddenColumns] }),
    ...(filter && { filter }),
    ...(rules && { rules }),
    ...(setUp && { setUp }),
  }
}

/** Operations that have a sheet look around its cells as another one does: merged cells, heights, a filter, rules, what is hidden. */
export function frameDifferences(index: number, from: Sheet, to: Sheet): WorkbookOp[] {
  const ops: WorkbookOp[] = []
  if (from.merged !== to.merged) {
    const has = (areas: readonly MergedArea[] | undefined, area: MergedArea) =>
      areas?.some((one) => sameArea(one, area)) ?? false
    const gone = (from.merged ?? []).filter((area) => !has(to.merged, area))
    const came = (to.merged ?? []).filter((area) => !has(from.merged, area))
    if (gone.length) ops.push({ op: 'unmerge', sheet: index, areas: gone })
    if (came.length) ops.push({ op: 'merge', sheet: index, areas: came })
  }
  if (from.heights !== to.heights) {
    const byHeight = new Map<number | null, number[]>()
    for (const key of new Set([...Object.keys(from.heights ?? {}), ...Object.keys(to.heights ?? {})])) {
      const row = Number(key)
      const height = to.heights?.[row] ?? null
      if ((from.heights?.[row] ?? null) === height) continue
      const rows = byHeight.get(height)
      if (rows) rows.push(row)
      else byHeight.set(height, [row])
    }
    for (const [height, rows] of byHeight)
      ops.push({ op: 'height', sheet: index, spans: spansOf(rows.sort((a, b) => a - b)), height })
  }
  for (const axis of ['rows', 'columns'] as const) {
    const [was, is] = [hiddenOn(from, axis), hiddenOn(to, axis)]
    if (was === is) continue
    const [before, now] = [new Set(was), new Set(is)]
    const shown = spansOf(was.filter((line) => !now.has(line)))
    const hidden = spansOf(is.filter((line) => !before.has(line)))
    if (shown.length) ops.push({ op: 'hide', sheet: index, axis, spans: shown, hidden: false })
    if (hidden.length) ops.push({ op: 'hide', sheet: index, axis, spans: hidden, hidden: true })
  }
  if (!sameFilter(from.filter, to.filter)) ops.push({ op: 'filter', sheet: index, filter: to.filter ?? null })
  if (!sameRules(from.rules, to.rules)) ops.push({ op: 'rules', sheet: index, rules: to.rules ?? [] })
  return ops
}

/** Cell changes that make sheet `from` hold what sheet `to` holds; rows that are one object are passed over. */
export function cellDifferences(from: Sheet, to: Sheet): CellChange[] {
  const changes: CellChange[] = []
  for (let row = 0; row < Math.max(from.rows.length, to.rows.length); row++) {
    const before = from.rows[row]
    const after = to.rows[row]
    if (before === after) continue
    for (let column = 0; column < Math.max(before?.length ?? 0, after?.length ?? 0); column++)
      if (!sameCell(before?.[column], after?.[column])) changes.push({ row, column, cell: after?.[column] ?? null })
  }
  return changes
}

/**
 * The operations that undo `op`, for the workbook that it is applied to.
 * @param before the workbook without the operation
 */
export function invertOp(before: Workbook, op: WorkbookOp): WorkbookOp[] {
  switch (op.op) {
    case 'cells': {
      const sheet = before.sheets[op.sheet]
      return [
        {
          op: 'cells',
          sheet: op.sheet,
          cells: op.cells.map(({ row, column }) => ({ row, column, cell: sheet?.rows[row]?.[column] ?? null })),
        },
      ]
    }
    case 'insert':
      return [{ ...op, op: 'remove' }]
    case 'remove':
      return withRepairs(before, op, { ...op, op: 'insert' })
    case 'width':
      return [{ ...op, width: before.sheets[op.sheet]?.widths[op.column] ?? null }]
    case 'freeze':
      return [{ ...op, frozen: before.sheets[op.sheet]?.frozen ?? null }]
    case 'merge':
    case 'unmerge':
    case 'height':
    case 'hide':
    case 'filter':
    case 'rules': {
      const after = applyOp(before, op)
      return frameDifferences(op.sheet, after.sheets[op.sheet]!, before.sheets[op.sheet]!)
    }
    case 'set up':
      return [{ ...op, setUp: before.sheets[op.sheet]?.setUp ?? op.was, was: op.setUp }]
    case 'add sheet':
      return [{ op: 'remove sheet', sheet: op.at }]
    case 'put sheet':
      return [{ op: 'remove sheet', sheet: op.at }]
    case 'remove sheet':
      return [{ op: 'put sheet', at: op.sheet, sheet: plainSheet(before.sheets[op.sheet]!) }]
    case 'rename sheet':
      return withRepairs(before, op, { ...op, name: before.sheets[op.sheet]!.name })
    case 'move sheet':
      return [{ op: 'move sheet', sheet: op.to, to: op.sheet }]
    case 'about':
      return [{ op: 'about', about: before.about ?? null }]
  }
}

/** An inverse that loses something, with the cells, widths and looks that make up for it. */
function withRepairs(before: Workbook, op: WorkbookOp, inverse: WorkbookOp): WorkbookOp[] {
  const back = applyOp(applyOp(before, op), inverse)
  const repairs: WorkbookOp[] = []
  before.sheets.forEach((sheet, index) => {
    const cells = cellDifferences(back.sheets[index]!, sheet)
    if (cells.length) repairs.push({ op: 'cells', sheet: index, cells })
    for (const [column, width] of Object.entries(sheet.widths))
      if (back.sheets[index]!.widths[Number(column)] !== width)
        repairs.push({ op: 'width', sheet: index, column: Number(column), width })
    repairs.push(...frameDifferences(index, back.sheets[index]!, sheet))
  })
  return [inverse, ...repairs]
}
