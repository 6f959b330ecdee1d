// Two versions of a workbook. Sheets are matched by name, renamed ones by what is in them; within a sheet
// rows and columns are laid beside each other (axis.ts); then cells are compared where they belong.
//
// The changes are also operations of the workbook's own language: applied to the older version they give
// the newer one exactly. Rows and columns are inserted and removed first, so that formulas move as they do
// when a person does that; whatever then differs is a change of a cell.
import { type AboutField, fieldsBetween } from '../content/about'
import { type Cell, type CellValue, largestSheet, type Sheet, sameValue, type Workbook } from '../content/workbook'
import {
  applyOps,
  type CellChange,
  cellDifferences,
  frameDifferences,
  plainSheet,
  type WorkbookOp,
} from '../content/workbook-ops'
import { type Axis, alignSheets, cellKey } from './axis'

/** More changed cells are counted and not listed. */
export const mostListed = 2000
/** Sheets of other names are one sheet renamed when so much of their rows is the same. */
const renamedFrom = 0.5

export interface CellDifference {
  sheet: string
  /** Where it is in the newer version; where it was, for a cell of a sheet that is gone. */
  row: number
  column: number
  /** Where it was; null where its row or column is new. */
  was: { row: number; column: number } | null
  before: Cell | null
  now: Cell | null
}
export interface SheetChange {
  name: string
  state: 'changed' | 'added' | 'removed'
  /** Its name before, if that was another. */
  formerName?: string
  /** Cells whose value or formula is another; of an added or removed sheet, those it has. */
  cells: number
  /** Those of them that have or had a formula. */
  formulas: number
  /** Cells of which only the look is another. */
  looks: number
  rowsAdded: number
  rowsRemoved: number
  columnsAdded: number
  columnsRemoved: number
  /** Rows that stand elsewhere now; they are among the added and the removed ones, too. */
  rowsMoved: number
  /** How it is put on paper is another: 1. */
  setUps: number
  /** Columns of another width, where neither came nor went. */
  widths: number
  /** Which rows and columns stay in sight is another: 1. */
  kept: number
  /** Areas that became one cell, and those that are cells again. */
  merged: number
  parted: number
  /** Rows of another height, where they did not come. */
  heights: number
  /** Rows and columns that are not shown any more, and those that are shown again. */
  hidden: number
  shown: number
  /** What its rows are filtered by is another: 1. */
  filters: number
  /** What is to be entered into its cells is another: 1. */
  rules: number
  /** Formulas that are the same and whose results are others, because of what they refer to. */
  results: number
  /** Rows and columns that came, as the newer version counts them, and those that are gone, as the older one does. */
  lines: { rowsCame: number[]; rowsGone: number[]; columnsCame: number[]; columnsGone: number[] }
  /** Where the results that follow stand in either version, as `row * 16384 + column`. */
  following: { older: number[]; newer: number[] }
}
export interface WorkbookChanges {
  cells: number
  /** Changes on the sheets, not counting those that came of rows and columns. */
  sheets: SheetChange[]
  /** The first of them. */
  listed: CellDifference[]
  /** The order of the sheets is another. */
  reordered: boolean
  /** What the file says of itself otherwise. */
  about: AboutField[]
  /** Applied to the older version they give the newer one. */
  ops: WorkbookOp[]
  /** Part of it was too large to be laid side by side exactly: changes there are more than they need be. */
  coarse: boolean
}

/** Which sheet of the newer workbook is which of the older one. @returns for each newer sheet the older index or null */
export function matchSheets(older: Workbook, newer: Workbook): (number | null)[] {
  const named = new Map(older.sheets.map((sheet, index) => [sheet.name.toLowerCase(), index]))
  const matched = newer.sheets.map(({ name }) => named.get(name.toLowerCase()) ?? null)
  const left = older.sheets.flatMap((_, index) => (matched.includes(index) ? [] : [index]))
  const keys = (sheet: Sheet) =>
    new Set(sheet.rows.flatMap((row) => (row ? [row.map((cell) => cellKey(cell)).join('\u0001')] : [])))
  for (const [at, sheet] of newer.sheets.entries()) {
    if (matched[at] !== null || left.length === 0) continue
    const now = keys(sheet)
    const scored = left.map((index) => {
      const was = keys(older.sheets[index]!)
      const both = [...was].filter((key) => now.has(key)).length
      return { index, like: both / Math.max(1, was.size, now.size) }
    })
    const best = scored.reduce((a, b) => (b.like > a.like ? b : a))
    if (best.like < renamedFrom) continue
    matched[at] = best.index
    left.splice(left.indexOf(best.index), 1)
  }
  return matched
}

/** Operations that remove and insert what an axis tells, on a sheet. */
export function axisOps(sheet: number, axis: 'rows' | 'columns', { to, added }: Axis): WorkbookOp[] {
  const ops: WorkbookOp[] = []
  for (let at = to.length - 1; at >= 0; at--) {
    if (to[at] !== null) continue
    let first = at
    while (first > 0 && to[first - 1] === null) first--
    ops.push({ op: 'remove', sheet, axis, at: first, count: at - first + 1 })
    at = first
  }
  for (let index = 0; index < added.length; ) {
    let count = 1
    while (added[index + count] === added[index]! + count) count++
    ops.push({ op: 'insert', sheet, axis, at: added[index]!, count })
    index += count
  }
  return ops
}

/** What formulas resulted in: by sheet, `row * 16384 + column`. */
export type Results = readonly ReadonlyMap<number, CellValue>[]

/**
 * What of the newer workbook is another than in the older one.
 * @param results of both, where they are known: which of them follow from what changed is counted then
 */
export function compareWorkbooks(
  older: Workbook,
  newer: Workbook,
  results?: { older: Results; newer: Results },
): WorkbookChanges {
  const changes: WorkbookChanges = {
    cells: 0,
    sheets: [],
    listed: [],
    reordered: false,
    about: fieldsBetween(older.about, newer.about),
    ops: [],
    coarse: false,
  }
  if (older === newer) return changes
  const matched = matchSheets(older, newer)
  const { ops } = changes
  let now = older
  const act = (...some: WorkbookOp[]) => {
    if (!some.length) return
    ops.push(...some)
    now = applyOps(now, some)
  }
  // New sheets come in before old ones go, because a workbook keeps at least one.
  const order: (number | null)[] = older.sheets.map((_, index) => index)
  for (const [at, was] of matched.entries()) {
    if (was !== null) continue
    const sheet = newer.sheets[at]!
    act({
      op: 'put sheet',
      at: now.sheets.length,
      sheet: { ...plainSheet(sheet), cells: [], name: unlikeAll(sheet.name, now, newer) },
    })
    order.push(-1 - at)
  }
  for (let index = older.sheets.length - 1; index >= 0; index--)
    if (!matched.includes(index)) {
      const place = order.indexOf(index)
      act({ op: 'remove sheet', sheet: place })
      order.splice(place, 1)
    }
  const wanted = matched.map((was, at) => was ?? -1 - at)
  const kept = order.filter((one) => one !== null && one >= 0)
  changes.reordered = kept.join() !== wanted.filter((one) => one >= 0).join()
  for (const [at, one] of wanted.entries()) {
    const place = order.indexOf(one)
    if (place === at) continue
    act({ op: 'move sheet', sheet: place, to: at })
    order.splice(at, 0, order.splice(place, 1)[0]!)
  }
  // Sheets may have swapped their names: whichever has a wanted one gives it up first.
  for (const [at, sheet] of newer.sheets.entries()) {
    if (now.sheets[at]!.name === sheet.name) continue
    const holder = now.sheets.findIndex(
      ({ name }, index) => index !== at && name.toLowerCase() === sheet.name.toLowerCase(),
    )
    if (holder >= 0) act({ op: 'rename sheet', sheet: holder, name: unlikeAll(sheet.name, now, newer) })
    act({ op: 'rename sheet', sheet: at, name: sheet.name })
  }

  const axes = newer.sheets.map((sheet, at) => {
    const was = matched[at]
    if (was == null || older.sheets[was] === sheet) return null
    const aligned = alignSheets(now.sheets[at]!, sheet)
    changes.coarse ||= aligned.coarse
    return aligned
  })
  const structure: WorkbookOp[] = []
  for (const [at, axis] of axes.entries())
    if (axis) structure.push(...axisOps(at, 'columns', axis.columns), ...axisOps(at, 'rows', axis.rows))
  act(...structure)

  for (const index of older.sheets.keys())
    if (!matched.includes(index)) changes.sheets.push(wholeSheet(older.sheets[index]!, 'removed'))
  for (const [at, sheet] of newer.sheets.entries()) {
    const cells = cellDifferences(now.sheets[at]!, sheet)
    const widths = widthOps(at, now.sheets[at]!, sheet)
    const frame = frameDifferences(at, now.sheets[at]!, sheet)
    const frozen = JSON.stringify(now.sheets[at]!.frozen) !== JSON.stringify(sheet.frozen)
    const paper = JSON.stringify(now.sheets[at]!.setUp) !== JSON.stringify(sheet.setUp)
    act(
      ...(cells.length ? [{ op: 'cells' as const, sheet: at, cells }] : []),
      ...widths,
      ...frame,
      ...(frozen ? [{ op: 'freeze' as const, sheet: at, frozen: sheet.frozen ?? null }] : []),
      ...(paper
        ? [{ op: 'set up' as const, sheet: at, setUp: sheet.setUp ?? null, was: now.sheets[at]!.setUp ?? null }]
        : []),
    )
    const was = matched[at]
    if (was == null) {
      changes.sheets.push(wholeSheet(sheet, 'added'))
      continue
    }
    const change = countSheet(changes, older.sheets[was]!, sheet, axes[at] ?? null, cells)
    if (paper) change.setUps = 1
    // Those of columns that came are told with them.
    const came = new Set(change.lines.columnsCame)
    change.widths = widths.filter((op) => op.op === 'width' && !came.has(op.column)).length
    if (frozen) change.kept = 1
    countFrame(change, frame)
    if (results) {
      change.following = resultsThatFollow(results.older[was], results.newer[at], axes[at] ?? null, cells)
      change.results = change.following.newer.length
    }
    if (tells(change)) changes.sheets.push(change)
  }
  if (changes.about.length) act({ op: 'about', about: newer.about ?? null })
  changes.cells = changes.sheets.reduce((sum, { cells }) => sum + cells, 0)
  return changes
}

/** The same changes told from the newer version to the older one, without operations. */
export function reversed(changes: WorkbookChanges): WorkbookChanges {
  const states = { added: 'removed', removed: 'added', changed: 'changed' } as const
  const sheets = changes.sheets.map((sheet): SheetChange => {
    const { formerName, lines, following, ...rest } = sheet
    return {
      ...rest,
      name: formerName ?? sheet.name,
      ...(formerName && { formerName: sheet.name }),
      state: states[sheet.state],
      rowsAdded: sheet.rowsRemoved,
      rowsRemoved: sheet.rowsAdded,
      columnsAdded: sheet.columnsRemoved,
      columnsRemoved: sheet.columnsAdded,
      merged: sheet.parted,
      parted: sheet.merged,
      hidden: sheet.shown,
      shown: sheet.hidden,
      lines: {
        rowsCame: lines.rowsGone,
        rowsGone: lines.rowsCame,
        columnsCame: lines.columnsGone,
        columnsGone: lines.columnsCame,
      },
      following: { older: following.newer, newer: following.older },
    }
  })
  const listed = changes.listed.flatMap(({ sheet, row, column, was, before, now }): CellDifference[] => {
    const name = changes.sheets.find((one) => one.name === sheet)?.formerName ?? sheet
    return was ? [{ sheet: name, ...was, was: { row, column }, before: now, now: before }] : []
  })
  return { ...changes, sheets, listed, ops: [] }
}

/** A name like this one that no sheet of these has. */
export function unlikeAll(name: string, ...workbooks: readonly Workbook[]): string {
  const taken = new Set(workbooks.flatMap(({ sheets }) => sheets.map((sheet) => sheet.name.toLowerCase())))
  for (let number = 2; ; number++) {
    const candidate = `${name.slice(0, 26)} ${number}`
    if (!taken.has(candidate.toLowerCase())) return candidate
  }
}

function widthOps(sheet: number, before: Sheet, now: Sheet): WorkbookOp[] {
  const ops: WorkbookOp[] = []
  for (const key of new Set([...Object.keys(before.widths), ...Object.keys(now.widths)])) {
    const column = Number(key)
    if (before.widths[column] !== now.widths[column])
      ops.push({ op: 'width', sheet, column, width: now.widths[column] ?? null })
  }
  return ops
}

const nothing = {
  formulas: 0,
  looks: 0,
  rowsAdded: 0,
  rowsRemoved: 0,
  columnsAdded: 0,
  columnsRemoved: 0,
  rowsMoved: 0,
  setUps: 0,
  widths: 0,
  kept: 0,
  merged: 0,
  parted: 0,
  heights: 0,
  hidden: 0,
  shown: 0,
  filters: 0,
  rules: 0,
  results: 0,
  lines: { rowsCame: [], rowsGone: [], columnsCame: [], columnsGone: [] },
  following: { older: [], newer: [] },
}

function wholeSheet(sheet: Sheet, state: 'added' | 'removed'): SheetChange {
  let cells = 0
  for (const row of sheet.rows) for (const cell of row ?? []) if (cellKey(cell)) cells++
  return { name: sheet.name, state, cells, ...nothing }
}

function countSheet(
  changes: WorkbookChanges,
  before: Sheet,
  now: Sheet,
  axes: { rows: Axis; columns: Axis } | null,
  cells: readonly CellChange[],
): SheetChange {
  const addedRows = new Set(axes?.rows.added)
  const addedColumns = new Set(axes?.columns.added)
  const removedRows = axes?.rows.to.flatMap((to, at) => (to === null && before.rows[at] ? [at] : [])) ?? []
  const change: SheetChange = {
    ...nothing,
    name: now.name,
    state: 'changed',
    ...(before.name !== now.name && { formerName: before.name }),
    cells: 0,
    rowsAdded: [...addedRows].filter((row) => now.rows[row]).length,
    rowsRemoved: removedRows.length,
    columnsAdded: addedColumns.size,
    columnsRemoved: axes?.columns.to.filter((to) => to === null).length ?? 0,
    lines: {
      rowsCame: [...addedRows].filter((row) => now.rows[row]),
      rowsGone: removedRows,
      columnsCame: [...addedColumns],
      columnsGone: axes?.columns.to.flatMap((to, at) => (to === null ? [at] : [])) ?? [],
    },
  }
  const rowKey = (sheet: Sheet, row: number) => sheet.rows[row]!.map((cell) => cellKey(cell)).join('\u0001')
  const gone = new Map<string, number>()
  for (const row of removedRows) gone.set(rowKey(before, row), (gone.get(rowKey(before, row)) ?? 0) + 1)
  for (const row of addedRows) {
    const key = now.rows[row] && rowKey(now, row)
    if (!key || !gone.get(key)) continue
    gone.set(key, gone.get(key)! - 1)
    change.rowsMoved++
  }
  const rowsBack = inverse(axes?.rows.to)
  const columnsBack = inverse(axes?.columns.to)
  for (const { row, column, cell } of cells) {
    if (addedRows.has(row) || addedColumns.has(column)) continue
    const at = { row: rowsBack?.get(row) ?? row, column: columnsBack?.get(column) ?? column }
    const was = before.rows[at.row]?.[at.column]
    if (cellKey(was) === '' && cellKey(cell ?? undefined) === '') {
      change.looks++
      continue
    }
    if (was?.formula === cell?.formula && sameValue(was?.value, cell?.value)) {
      change.looks++
      continue
    }
    change.cells++
    if (was?.formula !== undefined || cell?.formula !== undefined) change.formulas++
    if (changes.listed.length < mostListed)
      changes.listed.push({ sheet: now.name, row, column, was: at, before: was ?? null, now: cell })
  }
  return change
}

/** Those of rows and columns that came are told with them. */
function countFrame(change: SheetChange, ops: readonly WorkbookOp[]): void {
  const rows = new Set(change.lines.rowsCame)
  const columns = new Set(change.lines.columnsCame)
  for (const op of ops) {
    if (op.op === 'merge') change.merged += op.areas.filter(({ top }) => !rows.has(top)).length
    else if (op.op === 'unmerge') change.parted += op.areas.length
    else if (op.op === 'filter') change.filters = 1
    else if (op.op === 'rules') change.rules = 1
    else if (op.op === 'height' || op.op === 'hide') {
      const came = op.op === 'height' || op.axis === 'rows' ? rows : columns
      const what = op.op === 'height' ? 'heights' : op.hidden ? 'hidden' : 'shown'
      for (const [from, to] of op.spans) for (let line = from; line <= to; line++) if (!came.has(line)) change[what]++
    }
  }
}

const tells = ({ name: _, state: __, lines: ___, following: ____, formerName, ...numbers }: SheetChange): boolean =>
  !!formerName || Object.values(numbers).some((number) => number > 0)

/** Where formulas stayed as they were and result in something else. @param cells those that did not stay */
function resultsThatFollow(
  before: ReadonlyMap<number, CellValue> | undefined,
  now: ReadonlyMap<number, CellValue> | undefined,
  axes: { rows: Axis; columns: Axis } | null,
  cells: readonly CellChange[],
): SheetChange['following'] {
  const follow: SheetChange['following'] = { older: [], newer: [] }
  if (!before?.size || !now?.size) return follow
  const changed = new Set(cells.map(({ row, column }) => row * largestSheet.columns + column))
  const rowsBack = inverse(axes?.rows.to)
  const columnsBack = inverse(axes?.columns.to)
  for (const [key, value] of now) {
    if (changed.has(key)) continue
    const [row, column] = [Math.floor(key / largestSheet.columns), key % largestSheet.columns]
    const [wasRow, wasColumn] = [rowsBack ? rowsBack.get(row) : row, columnsBack ? columnsBack.get(column) : column]
    if (wasRow === undefined || wasColumn === undefined) continue
    const wasKey = wasRow * largestSheet.columns + wasColumn
    const was = before.get(wasKey)
    if (was === undefined || sameValue(was, value)) continue
    follow.older.push(wasKey)
    follow.newer.push(key)
  }
  return follow
}

const inverse = (to: readonly (number | null)[] | undefined): Map<number, number> | undefined =>
  to && new Map(to.flatMap((newer, older) => (newer === null ? [] : [[newer, older] as const])))
