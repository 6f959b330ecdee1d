// A workbook's sheet as separated values (RFC 4180): rows that nobody changed as they were written, letter by letter.
import { type CellValue, isError, type Row, type Workbook } from '../../content/workbook'
import { type Limit, Limits, type Written } from '../refusals'
import { encoded } from '../text/encoding'
import { type CsvDialect, usualDialect } from './dialect'
import { evenWidth, type ReadCsv } from './read'
import { written } from './records'
import { cellOfField, fieldOfCell } from './values'

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
  const before = new Map<Row, string>()
  if (same)
    for (const [index, row] of (from.workbook.sheets[0]?.rows ?? []).entries()) {
      const record = from.records[index]
      if (row && record) before.set(row, from.text.slice(record.from, record.to))
    }
  const even = same ? evenWidth(from.records) : 0
  const width = Math.max(even, same && !even ? 0 : rows.reduce((most, row) => Math.max(most, row?.length ?? 0), 0))
  const lines: string[] = []
  // A row without anything is written as the file has one; those at its end are not in the model, and stay.
  const empty = same ? from.records.find(({ fields }) => fields.every(({ text }) => text === '')) : undefined
  const emptyLine = empty && from?.text.slice(empty.from, empty.to)
  const atEnd = same ? from.records.length - (from.workbook.sheets[0]?.rows.length ?? 0) : 0
  for (let index = 0; index < rows.length + atEnd; index++) {
    const row = rows[index]
    const known = row ? before.get(row) : emptyLine
    if (known !== undefined) lines.push(known)
    else {
      const fields: string[] = []
      const own = Math.max(row?.length ?? 0, width)
      for (let column = 0; column < own; column++) {
        const cell = row?.[column]
        const value = cell?.formula === undefined ? cell?.value : resultOf(at, index, column)
        const field = fieldOfCell(cell, value, dialect)
        const quotes = dialect.quotes === 'all' ? field !== '' : dialect.quotes === 'texts' && typeof value === 'string'
        fields.push(written(field, dialect.separator, quotes))
      }
      lines.push(fields.join(dialect.separator))
    }
  }
  const text = lines.join(dialect.end) + (lines.length && dialect.ended ? dialect.end : '')
  let bytes = encoded(text, dialect.encoding)
  if (!bytes) {
    // Letters that its encoding has not. Nothing is lost: the mark says to whoever reads it what it is in now.
    bytes = encoded(text.toWellFormed(), 'utf-8 with a mark')!
  }
  return { bytes, lost: lostIn(workbook, at, dialect) }
}

const sameWay = (a: CsvDialect, b: CsvDialect) =>
  a.separator === b.separator && a.decimal === b.decimal && a.dates === b.dates && a.quotes === b.quotes

/** What separated values cannot hold of a workbook, but how it is looked at: widths, rows that stay in sight. */
export function lostIn(workbook: Workbook, at: number, dialect: CsvDialect): Limit[] {
  const limits = new Limits()
  for (const [index, { name, rows }] of workbook.sheets.entries()) {
    if (index !== at) {
      if (rows.some(Boolean)) limits.add('other sheets', name)
      continue
    }
    for (const row of rows)
      for (const cell of row ?? []) {
        if (!cell) continue
        if (cell.formula !== undefined) limits.add('formulas (their results stay)', name)
        const { format, ...look } = cell.style ?? {}
        if (Object.keys(look).length) limits.add('looks of cells', name)
        const asText = dialect.quotes === 'texts' && typeof cell.value === 'string'
        if (cell.formula === undefined && cell.value !== undefined && !isError(cell.value) && !asText) {
          const again = cellOfField(fieldOfCell(cell, cell.value, dialect), dialect)
          if (again?.value !== cell.value) limits.add('values that are read as something else', name)
          else if (again.style?.format !== format) limits.add('number formats', name)
        }
      }
  }
  return limits.list()
}
