// What formulas refer to beside cells: names, tables, arrays, hidden rows and what was known of other files. It
// comes with a file, and moves along when rows, columns and sheets do.

import { renameInFormula, type Shift, shiftFormula } from '../content/formula'
import { hiddenByFilter } from '../content/sheet-filter'
import { type CellValue, columnName, columnNumber, type Workbook } from '../content/workbook'
import { applyOp, type WorkbookOp } from '../content/workbook-ops'

/** Cells of a sheet, both ends included; zero-based. */
export interface Area {
  sheet: number
  top: number
  left: number
  bottom: number
  right: number
}
export interface DefinedName {
  name: string
  /** The sheet that it holds on; null for all of them. */
  sheet: number | null
  /** What stands for it, its relative references seen from the first cell of a sheet. */
  formula: string
}
export interface NamedTable extends Area {
  name: string
  /** Rows of headings, none or one. */
  headings: number
  /** Rows of totals, none or one. */
  totals: number
  columns: string[]
}
/** What a file kept of another one: sheets by name in small letters, cells by `row * 16384 + column`. */
export type OtherFile = ReadonlyMap<string, ReadonlyMap<number, CellValue>>
export interface FormulaSource {
  names: readonly DefinedName[]
  tables: readonly NamedTable[]
  /** Formulas that fill an area with one array; the formula stands in its first cell. */
  arrays: readonly Area[]
  /** Rows that are not shown, by sheet; true for those that a filter hides. */
  hidden: readonly ReadonlyMap<number, boolean>[]
  others: readonly OtherFile[]
}
export const noSource: FormulaSource = { names: [], tables: [], arrays: [], hidden: [], others: [] }

const addressOf = ({ top, left, bottom, right }: Area): string =>
  `${columnName(left)}${top + 1}:${columnName(right)}${bottom + 1}`

/** An area after rows or columns came or went; null when nothing is left of it. */
function shifted<T extends Area>(area: T, home: string, shift: Shift): T | null {
  const moved = /^([A-Z]+)(\d+):([A-Z]+)(\d+)$/.exec(shiftFormula(addressOf(area), home, shift))
  if (!moved) return null
  const [, left, top, right, bottom] = moved as unknown as [string, string, string, string, string]
  return {
    ...area,
    top: Number(top) - 1,
    left: columnNumber(left),
    bottom: Number(bottom) - 1,
    right: columnNumber(right),
  }
}
const present = <T>(items: readonly (T | null)[]): T[] => items.filter((item) => item !== null)

/**
 * What formulas refer to after an edit.
 * @param before the workbook without it
 */
export function sourceAfter(source: FormulaSource, op: WorkbookOp, before: Workbook): FormulaSource {
  switch (op.op) {
    case 'insert':
    case 'remove': {
      const home = before.sheets[op.sheet]!.name
      const shift: Shift = { sheet: home, axis: op.axis, at: op.at, count: op.op === 'insert' ? op.count : -op.count }
      const move = <T extends Area>(area: T): T | null => (area.sheet === op.sheet ? shifted(area, home, shift) : area)
      return {
        ...source,
        names: source.names.map((one) => ({ ...one, formula: shiftFormula(one.formula, '', shift) })),
        tables: present(
          source.tables.map((table) => {
            const now = move(table)
            if (!now || op.axis === 'rows' || table.sheet !== op.sheet) return now
            const columns = table.columns.flatMap((column, index) => {
              const at = table.left + index
              return op.op === 'remove' && at >= op.at && at < op.at + op.count ? [] : [column]
            })
            if (op.op === 'insert' && op.at > table.left && op.at <= table.right)
              columns.splice(op.at - table.left, 0, ...Array.from({ length: op.count }, () => ''))
            return { ...now, columns }
          }),
        ),
        arrays: present(source.arrays.map(move)),
        hidden: source.hidden.map((rows, sheet) =>
          sheet === op.sheet && op.axis === 'rows' ? shiftedRows(rows, op.at, shift.count) : rows,
        ),
      }
    }
    case 'cells': {
      if (!source.arrays.length) return source
      const touched = ({ sheet, top, left, bottom, right }: Area) =>
        sheet === op.sheet &&
        op.cells.some(({ row, column }) => row >= top && row <= bottom && column >= left && column <= right)
      return source.arrays.some(touched) ? { ...source, arrays: source.arrays.filter((one) => !touched(one)) } : source
    }
    case 'rename sheet': {
      const { name } = before.sheets[op.sheet]!
      return {
        ...source,
        names: source.names.map((one) => ({ ...one, formula: renameInFormula(one.formula, name, op.name) })),
      }
    }
    case 'add sheet':
    case 'put sheet':
      return renumbered(source, (sheet) => (sheet < op.at ? sheet : sheet + 1), before.sheets.length + 1)
    case 'remove sheet':
      return renumbered(
        source,
        (sheet) => (sheet === op.sheet ? null : sheet < op.sheet ? sheet : sheet - 1),
        before.sheets.length - 1,
      )
    case 'move sheet': {
      const order = before.sheets.map((_, index) => index)
      const moved = order.toSpliced(op.sheet, 1).toSpliced(op.to, 0, op.sheet)
      return renumbered(source, (sheet) => moved.indexOf(sheet), moved.length)
    }
    case 'hide':
      if (op.axis === 'columns') return source
      return {
        ...source,
        hidden: before.sheets.map((_, at) =>
          at === op.sheet ? hiddenAfter(before, op) : (source.hidden[at] ?? new Map()),
        ),
      }
    case 'filter':
      return {
        ...source,
        hidden: before.sheets.map((_, at) =>
          at === op.sheet ? hiddenAfter(before, op) : (source.hidden[at] ?? new Map()),
        ),
      }
    case 'width':
    case 'freeze':
    case 'merge':
    case 'unmerge':
    case 'height':
    case 'rules':
    case 'set up':
    case 'about':
      return source
  }
}

/** The rows of a sheet that are hidden after an edit of what is shown of it. */
const hiddenAfter = (before: Workbook, op: Extract<WorkbookOp, { op: 'hide' | 'filter' }>): Map<number, boolean> =>
  hiddenByFilter(applyOp(before, op).sheets[op.sheet]!)

function shiftedRows(rows: ReadonlyMap<number, boolean>, at: number, count: number): Map<number, boolean> {
  const now = new Map<number, boolean>()
  for (const [row, filtered] of rows)
    if (row < at) now.set(row, filtered)
    else if (count > 0 || row >= at - count) now.set(row + count, filtered)
  return now
}

function renumbered(source: FormulaSource, place: (sheet: number) => number | null, sheets: number): FormulaSource {
  const move = <T extends { sheet: number | null }>(one: T): T | null => {
    if (one.sheet === null) return one
    const sheet = place(one.sheet)
    return sheet === null ? null : { ...one, sheet }
  }
  const hidden = Array.from({ length: sheets }, () => new Map() as ReadonlyMap<number, boolean>)
  for (const [sheet, rows] of source.hidden.entries()) {
    const at = place(sheet)
    if (at !== null) hidden[at] = rows
  }
  return {
    ...source,
    names: present(source.names.map(move)),
    tables: present(source.tables.map(move)),
    arrays: present(source.arrays.map(move)),
    hidden,
  }
}

/** A table that an area has cells of; undefined for none. */
export const tableMeeting = ({ tables }: FormulaSource, area: Area): NamedTable | undefined =>
  tables.find((table) => intersection(table, area) !== null)
/** The rows of a table's data. */
export const dataOf = (table: NamedTable): Area => ({
  sheet: table.sheet,
  top: table.top + table.headings,
  left: table.left,
  bottom: table.bottom - table.totals,
  right: table.right,
})
/** The smallest area around two. */
export const around = (a: Area, b: Area): Area => ({
  sheet: a.sheet,
  top: Math.min(a.top, b.top),
  left: Math.min(a.left, b.left),
  bottom: Math.max(a.bottom, b.bottom),
  right: Math.max(a.right, b.right),
})
/** What two areas have in common; null for nothing. */
export function intersection(a: Area, b: Area): Area | null {
  const both = {
    sheet: a.sheet,
    top: Math.max(a.top, b.top),
    left: Math.max(a.left, b.left),
    bottom: Math.min(a.bottom, b.bottom),
    right: Math.min(a.right, b.right),
  }
  return a.sheet === b.sheet && both.top <= both.bottom && both.left <= both.right ? both : null
}
