// A workbook's sheet as separated values (RFC 4180): rows that nobody changed as they were written, letter by letter.
import { type CellValue, type Row, sameValue, type Workbook } from '../../content/workbook'
import { type Limit, Limits, type Written } from '../refusals'
import { encoded } from '../text/encoding'
import { type CsvDialect, usualDialect } from './dialect'
import type { ReadCsv } from './read'
import { type CsvLine, written } from './records'
import { cellInList, fieldOfCell, inList } from './values'

/** The result of a formula; undefined where it is not known. */
type ResultOf = (sheet: number, row: number, column: number) => CellValue | undefined

export interface CsvWork {
  workbook: Workbook
  resultOf: ResultOf
  /** The file that it came from, as it was read; null for one that is new. */
  from: ReadCsv | null
  /** How it is to be written; as it was where nothing is said. */
  dialect?: CsvDialect
  /** Which sheet; the first one. */
  sheet?: number
}

/** Writes one sheet. What it cannot hold is told: looks, widths, formulas (their results stay), other sheets. */
export function writeCsv({ workbook, resultOf, from, dialect: wanted, sheet: at = 0 }: CsvWork): Written {
  const dialect = wanted ?? from?.dialect ?? usualDialect
  const sheet = workbook.sheets[at]
  const rows = sheet?.rows ?? []
  const same = !!from && sameWay(from.dialect, dialect)
  // An edit copies the row it touches and shares the rest.
  const before = same ? rowsAsWritten(from) : null
  const even = same ? from.width : 0
  const width = Math.max(even, same && !even ? 0 : rows.reduce((most, row) => Math.max(most, row?.length ?? 0), 0))
  const lines: (Line | CsvLine)[] = []
  // Rows without anything are written as the file has them, one after the other; those at its end are not in the model,
  // and stay.
  const empty = same ? from.empty : []
  let emptied = 0
  const atEnd = same ? from.lines.length - (from.workbook.sheets[0]?.rows.length ?? 0) : 0
  for (let index = 0; index < rows.length + atEnd; index++) {
    const row = rows[index]
    const without = row ? undefined : (empty[emptied++] ?? empty[0])
    const known = row ? before?.(row, index) : without
    if (known) lines.push(known)
    else {
      const fields: string[] = []
      const own = Math.max(row?.length ?? 0, width)
      for (let column = 0; column < own; column++) {
        const cell = row?.[column]
        const value = cell?.formula === undefined ? cell?.value : resultOf(at, index, column)
        const field = inList(fieldOfCell(cell, value, dialect), value, dialect)
        const isText = typeof value === 'string'
        const quotes =
          dialect.quotes === 'all'
            ? field !== ''
            : isText && (dialect.quotes === 'texts' || (!same && otherSeparators.test(field)))
        fields.push(written(field, dialect.separator, quotes))
      }
      lines.push({ text: fields.join(dialect.separator), end: dialect.end })
    }
  }
  const text = joined(lines, dialect, from?.text ?? '')
  let bytes = encoded(text, dialect.encoding)
  if (!bytes) {
    // Letters that its encoding has not. Nothing is lost: the mark says to whoever reads it what it is in now.
    bytes = encoded(text.toWellFormed(), 'utf-8 with a mark')!
  }
  return { bytes, lost: lostIn(workbook, at, dialect, resultOf, same && at === 0 ? from.workbook : null) }
}

/** In a list that is new, what could be taken for its separator when it is recognised stands in quotes. */
const otherSeparators = /[,;\t|]/

interface Line {
  text: string
  /** Empty for the last one of a file that ends without. */
  end: string
}
/** Lines one after the other; stretches that stand so in the text that they came from are taken from it whole. */
function joined(lines: readonly (Line | CsvLine)[], { end, ended }: CsvDialect, before: string): string {
  const pieces: string[] = []
  let from = 0
  let to = 0
  const flush = () => {
    if (to > from) pieces.push(before.slice(from, to))
    from = to = 0
  }
  const last = lines.length - 1
  for (const [index, line] of lines.entries()) {
    const own = index < last || ended ? line.end || end : ''
    if ('text' in line) {
      flush()
      pieces.push(line.text, own)
      continue
    }
    if (line.from !== to) {
      flush()
      from = line.from
    }
    to = line.to + own.length
    if (own === line.end) continue
    to = line.to
    flush()
    pieces.push(own)
  }
  flush()
  return pieces.join('')
}

type Rows = readonly (Row | undefined)[]
/** Where each row stands; where there are several that are the same, the last one. */
function mapOf<T>(rows: Rows, by: (row: Row) => T): Map<T, number> {
  const map = new Map<T, number>()
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at]
    if (row) map.set(by(row), at)
  }
  return map
}
/** Where a row stood before: an edit copies the row it touches, moves the others and shares them all. */
function placesIn(rows: Rows): (row: Row, index: number) => number | undefined {
  let places: Map<Row, number> | undefined
  /** How far rows have moved where one was found last. */
  let moved = 0
  return (row, index) => {
    if (rows[index + moved] === row) return index + moved
    places ??= mapOf(rows, (one) => one)
    const at = places.get(row)
    if (at !== undefined) moved = at - index
    return at
  }
}

/** Rows that are looked through for one that was made anew, whatever it is; of more only for more than a few such. */
const mostLooked = 20_000
const fewOthers = 500
const isAlike = (one: Row | undefined, other: Row): boolean => !!one && JSON.stringify(one) === JSON.stringify(other)

/** What the rows of a file were written as: the same row, or one that holds and shows the same. */
function rowsAsWritten(from: ReadCsv): (row: Row, index: number) => CsvLine | undefined {
  const rows = from.workbook.sheets[0]?.rows ?? []
  const placeOf = placesIn(rows)
  const lineAt = (at: number) => (from.open.has(at) ? undefined : from.lines[at])
  // Only where many rows were made anew, as by merging: of a long list it takes seconds.
  let alike: Map<string, number> | undefined
  let others = 0
  return (row, index) => {
    const at = placeOf(row, index)
    if (at !== undefined) return lineAt(at)
    if (isAlike(rows[index], row)) return lineAt(index)
    if (rows.length > mostLooked && others++ < fewOthers) return undefined
    alike ??= mapOf(rows, (one) => JSON.stringify(one))
    const same = alike.get(JSON.stringify(row))
    return same === undefined ? undefined : lineAt(same)
  }
}

const sameWay = (a: CsvDialect, b: CsvDialect) =>
  a.separator === b.separator &&
  a.decimal === b.decimal &&
  a.dates === b.dates &&
  a.quotes === b.quotes &&
  a.guarded === b.guarded

/**
 * What separated values cannot hold of a workbook, but how it is looked at: widths, rows that stay in sight.
 * @param from what it was read from, where it is written the same way: its rows come back as they were
 */
export function lostIn(
  workbook: Workbook,
  at: number,
  dialect: CsvDialect,
  resultOf: ResultOf,
  from: Workbook | null = null,
): Limit[] {
  const limits = new Limits()
  for (const [index, { name, rows }] of workbook.sheets.entries()) {
    if (index !== at) {
      if (rows.some(Boolean)) limits.add('other sheets', name, 1, [index, 0, 0])
      continue
    }
    const placeOf = from && placesIn(from.sheets[0]?.rows ?? [])
    for (const [line, row] of rows.entries()) {
      if (row && placeOf?.(row, line) !== undefined) continue
      for (const [column, cell] of (row ?? []).entries()) {
        if (!cell) continue
        const place = [at, line, column]
        // Of a formula its result is all that is written: one that is not known leaves nothing.
        const value = cell.formula === undefined ? cell.value : resultOf(at, line, column)
        if (cell.formula !== undefined)
          limits.add(
            value === undefined ? 'formulas without a result (nothing of them stays)' : 'formulas (their results stay)',
            name,
            1,
            place,
          )
        const { format, ...look } = cell.style ?? {}
        if (Object.keys(look).length) limits.add('looks of cells', name, 1, place)
        const asText = dialect.quotes === 'texts' && typeof value === 'string'
        // An empty text is nothing, and looks like it.
        if (value !== undefined && value !== '' && !asText) {
          const again = cellInList(inList(fieldOfCell(cell, value, dialect), value, dialect), dialect)
          if (!sameValue(again?.value, value)) limits.add('values that are read as something else', name, 1, place)
          // A number without a format shows its own digits, and so does its field.
          else if (format !== undefined && again?.style?.format !== format) limits.add('number formats', name, 1, place)
        }
      }
    }
  }
  return limits.list()
}
