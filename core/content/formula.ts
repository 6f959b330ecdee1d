// References inside formulas (OpenFormula 1.2 §5.8 in the A1 notation of ECMA-376 part 1,
// §18.17.2.3): found without understanding the rest, and moved when cells move. Text in
// quotes is never touched.
import { columnName, columnNumber, largestSheet } from './workbook'

const quotedText = /"(?:[^"]|"")*"/y
/** A sheet, two with all between them, or one of another file by that file's number. */
const sheetPrefix = /(?:'((?:[^']|'')+)'|((?:\[\d+\])?[\p{L}_][\p{L}\p{N}_.]*(?::[\p{L}_][\p{L}\p{N}_.]*)?))!/uy
const cellOrRange = /(\$?)([A-Za-z]{1,3})(\$?)(\d{1,7})(?::(\$?)([A-Za-z]{1,3})(\$?)(\d{1,7}))?(?![\p{L}\p{N}_.(!])/uy
const columns = /(\$?)([A-Za-z]{1,3}):(\$?)([A-Za-z]{1,3})(?![\p{L}\p{N}_.(!])/uy
const rows = /(\$?)(\d{1,7}):(\$?)(\d{1,7})(?![\p{L}\p{N}_.(!])/uy
const word = /[\p{L}_\\][\p{L}\p{N}_.]*/uy
const number = /\d+(?:\.\d*)?(?:[eE][+-]?\d+)?/y

interface End {
  row: number | null
  column: number | null
  fixedRow: boolean
  fixedColumn: boolean
}
interface Reference {
  from: End
  to: End | null
}
/** @returns the reference as it is now, or null when what it pointed at is gone */
type Rewrite = (reference: Reference, sheet: string | null) => Reference | null

const end = (
  fixedColumn: string | undefined,
  column: string | undefined,
  fixedRow: string | undefined,
  row: string | undefined,
): End => ({
  row: row === undefined ? null : Number(row) - 1,
  column: column === undefined ? null : columnNumber(column),
  fixedRow: fixedRow === '$',
  fixedColumn: fixedColumn === '$',
})
const written = (one: End): string =>
  `${one.column === null ? '' : `${one.fixedColumn ? '$' : ''}${columnName(one.column)}`}${one.row === null ? '' : `${one.fixedRow ? '$' : ''}${one.row + 1}`}`
const inside = (one: End): boolean =>
  (one.row === null || (one.row >= 0 && one.row < largestSheet.rows)) &&
  (one.column === null || (one.column >= 0 && one.column < largestSheet.columns))

/** Behind the bracket that closes what names a table's columns, or another file; the columns' names are no references. */
function bracketsEnd(formula: string, from: number): number {
  let depth = 0
  for (let at = from; at < formula.length; at++) {
    const symbol = formula[at]
    // In a column's name an apostrophe stands before a bracket that is a part of it.
    if (symbol === "'") at++
    else if (symbol === '[') depth++
    else if (symbol === ']' && --depth === 0) return at + 1
  }
  return formula.length
}

/** A piece of a formula: text that stays, a sheet's name before something, or a reference to cells. */
export type Part =
  | { is: 'text'; text: string }
  | { is: 'sheet'; text: string; sheet: string }
  | { is: 'reference'; text: string; sheet: string | null; reference: Reference }

/** A formula in its pieces; put together again they are the formula. */
export function partsOf(formula: string): Part[] {
  const parts: Part[] = []
  let plain = ''
  const stay = (text: string) => {
    plain += text
  }
  const put = (part: Part) => {
    if (plain) parts.push({ is: 'text', text: plain })
    plain = ''
    parts.push(part)
  }
  let at = 0
  const match = (pattern: RegExp): RegExpExecArray | null => {
    pattern.lastIndex = at
    return pattern.exec(formula)
  }
  while (at < formula.length) {
    const text = match(quotedText)
    if (text) {
      stay(text[0])
      at += text[0].length
      continue
    }
    if (formula.charCodeAt(at) === 91 && !match(sheetPrefix)) {
      const end = bracketsEnd(formula, at)
      stay(formula.slice(at, end))
      at = end
      continue
    }
    const prefix = match(sheetPrefix)
    let sheet: string | null = null
    if (prefix) {
      sheet = prefix[1]?.replaceAll("''", "'") ?? prefix[2]!
      put({ is: 'sheet', text: prefix[0], sheet })
      at += prefix[0].length
    }
    let reference: Reference | null = null
    let length = 0
    const cells = match(cellOrRange)
    if (cells) {
      reference = {
        from: end(cells[1], cells[2], cells[3], cells[4]),
        to: cells[6] === undefined ? null : end(cells[5], cells[6], cells[7], cells[8]),
      }
      length = cells[0].length
    } else {
      const wholeColumns = match(columns)
      const wholeRows = wholeColumns ? null : match(rows)
      if (wholeColumns)
        reference = {
          from: end(wholeColumns[1], wholeColumns[2], undefined, undefined),
          to: end(wholeColumns[3], wholeColumns[4], undefined, undefined),
        }
      if (wholeRows)
        reference = {
          from: end(undefined, undefined, wholeRows[1], wholeRows[2]),
          to: end(undefined, undefined, wholeRows[3], wholeRows[4]),
        }
      length = (wholeColumns ?? wholeRows)?.[0].length ?? 0
    }
    if (reference && inside(reference.from) && (!reference.to || inside(reference.to))) {
      put({ is: 'reference', text: formula.slice(at, at + length), sheet, reference })
      at += length
      continue
    }
    if (prefix) continue
    const skipped = match(word) ?? match(number)
    const step = skipped ? skipped[0].length : 1
    stay(formula.slice(at, at + step))
    at += step
  }
  if (plain) parts.push({ is: 'text', text: plain })
  return parts
}

function rewrite(formula: string, change: Rewrite, renameSheet: (name: string) => string = (name) => name): string {
  return rewritten(partsOf(formula), change, renameSheet)
}
function rewritten(parts: readonly Part[], change: Rewrite, renameSheet: (name: string) => string): string {
  let out = ''
  for (const part of parts)
    if (part.is === 'text') out += part.text
    else if (part.is === 'sheet') {
      const { sheet } = part
      const renamed = sheet.includes(':') ? sheet.split(':').map(renameSheet).join(':') : renameSheet(sheet)
      out += renamed === sheet ? part.text : `${quotedSheet(renamed)}!`
    } else {
      const changed = change(part.reference, part.sheet)
      out += !changed
        ? '#REF!'
        : sameReference(changed, part.reference)
          ? part.text
          : written(changed.from) + (changed.to ? `:${written(changed.to)}` : '')
    }
  return out
}

const sameEnd = (a: End, b: End) => a.row === b.row && a.column === b.column
const sameReference = (a: Reference, b: Reference) =>
  sameEnd(a.from, b.from) && (a.to === null) === (b.to === null) && (a.to === null || sameEnd(a.to, b.to!))

/** A sheet's name as formulas write it. */
export const quotedSheet = (name: string): string =>
  /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) && !/^[A-Za-z]{1,3}\d+$/.test(name) ? name : `'${name.replaceAll("'", "''")}'`

/** A formula copied by so many rows and columns: what is not fixed with $ moves along. */
export const copyFormula = (formula: string, byRows: number, byColumns: number): string =>
  copier(formula)(byRows, byColumns)
/** Copies one formula to many places; it is taken apart once. */
export function copier(formula: string): (byRows: number, byColumns: number) => string {
  let parts: Part[] | null = null
  return (byRows, byColumns) => {
    if (byRows === 0 && byColumns === 0) return formula
    parts ??= partsOf(formula)
    const move = (one: End): End => ({
      ...one,
      row: one.row === null || one.fixedRow ? one.row : one.row + byRows,
      column: one.column === null || one.fixedColumn ? one.column : one.column + byColumns,
    })
    return rewritten(
      parts,
      ({ from, to }) => {
        const moved = { from: move(from), to: to && move(to) }
        return inside(moved.from) && (!moved.to || inside(moved.to)) ? moved : null
      },
      (name) => name,
    )
  }
}

export interface Shift {
  /** The sheet whose rows or columns change. */
  sheet: string
  axis: 'rows' | 'columns'
  at: number
  /** Positive: so many are inserted before `at`. Negative: so many are removed from `at` on. */
  count: number
}

/** A formula on sheet `home` after rows or columns were inserted or removed somewhere, one shift after the other. */
export function shiftFormula(formula: string, home: string, ...shifts: readonly Shift[]): string {
  return rewrite(formula, (reference, named) => {
    const sheet = (named ?? home).toLowerCase()
    let now: Reference | null = reference
    for (const shift of shifts) {
      // What was pushed off the sheet is no reference any more, and stays as it is written.
      if (!now || !inside(now.from) || (now.to && !inside(now.to))) break
      if (shift.sheet.toLowerCase() === sheet) now = shiftReference(now, shift)
    }
    return now
  })
}

function shiftReference(reference: Reference, { axis, at, count }: Shift): Reference | null {
  const key = axis === 'rows' ? 'row' : 'column'
  const { from, to } = reference
  const first = from[key]
  const last = (to ?? from)[key]
  if (first === null || last === null) return reference
  // A range to the end of the sheet goes to its end, wherever that is.
  const end = (axis === 'rows' ? largestSheet.rows : largestSheet.columns) - 1
  const moved = (index: number) =>
    to && index === end && first !== last
      ? end
      : index < at
        ? index
        : count > 0
          ? index + count
          : Math.max(at, index + count)
  if (count > 0) return { from: { ...from, [key]: moved(first) }, to: to && { ...to, [key]: moved(last) } }
  const gone = at - count
  const low = Math.min(first, last)
  const high = Math.max(first, last)
  if (low >= at && high < gone) return null
  // What is left of a range: its removed ends move to the nearest cells that stay.
  const newLow = low >= at && low < gone ? at : moved(low)
  const newHigh = high >= at && high < gone ? at - 1 : moved(high)
  const [newFirst, newLast] = first <= last ? [newLow, newHigh] : [newHigh, newLow]
  return { from: { ...from, [key]: newFirst }, to: to && { ...to, [key]: newLast } }
}

/** A formula after a sheet got another name. */
export function renameInFormula(formula: string, from: string, to: string): string {
  return rewrite(
    formula,
    (reference) => reference,
    (name) => (name.toLowerCase() === from.toLowerCase() ? to : name),
  )
}

/**
 * A formula read in another arrangement of rows, columns and sheets.
 * @param placed where a row or column of a sheet is now, and what the sheet is called; null for one that is gone
 */
export function relocateFormula(
  formula: string,
  home: string,
  placed: (sheet: string, axis: 'rows' | 'columns', index: number) => { name: string; index: number | null },
): string {
  return rewrite(
    formula,
    ({ from, to }, named) => {
      const sheet = named ?? home
      const move = (first: number | null, last: number | null, axis: 'rows' | 'columns') => {
        if (first === null || last === null) return [first, last]
        const [low, high] = first <= last ? [first, last] : [last, first]
        // What is left of a range: its ends move to the nearest lines inside it that stay.
        let start: number | null = null
        for (let index = low; index <= high && start === null; index++) start = placed(sheet, axis, index).index
        if (start === null) return null
        let end: number | null = null
        for (let index = high; end === null; index--) end = placed(sheet, axis, index).index
        return first <= last ? [start, end] : [end, start]
      }
      const rows = move(from.row, (to ?? from).row, 'rows')
      const columns = move(from.column, (to ?? from).column, 'columns')
      if (!rows || !columns) return null
      const [firstRow, lastRow] = rows
      const [firstColumn, lastColumn] = columns
      return {
        from: { ...from, row: firstRow!, column: firstColumn! },
        to: to && { ...to, row: lastRow!, column: lastColumn! },
      }
    },
    (name) => placed(name, 'rows', 0).name,
  )
}
