// Separated values as a workbook of one sheet, and that sheet as separated values again (RFC 4180).
import { type Cell, largestSheet, type Row, type Workbook } from '../../content/workbook'
import { say } from '../../words/said'
import { DamagedFile, type Limit } from '../refusals'
import { decoded, encoded } from '../text/encoding'
import { type CsvDialect, recogniseDialect } from './dialect'
import { type CsvRecord, recordsOf } from './records'
import { cellOfField } from './values'

export interface ReadCsv {
  workbook: Workbook
  dialect: CsvDialect
  limits: Limit[]
  /** The text, and its records: row by row, what each was written as. */
  text: string
  records: readonly CsvRecord[]
}

/**
 * @param type the file's ending, `csv` or `tsv`
 * @param dialect how it is written; recognised where it is not said
 * @throws DamagedFile for what is no text, and for more than a sheet can hold
 */
export function readCsv(bytes: Uint8Array, type = 'csv', dialect = recogniseDialect(bytes, type)): ReadCsv {
  const text = decoded(bytes, dialect.encoding)
  // Letters that are none in the encoding that its mark says could not be written as they were.
  const unsound = text.includes('\ufffd') && !sameBytes(encoded(text, dialect.encoding), bytes)
  if (unsound || text.includes('\0')) throw new DamagedFile(say('formats.csv-no-text'))
  const records = recordsOf(text, dialect.separator, largestSheet.rows + 1)
  if (records.length > largestSheet.rows) throw new DamagedFile(say('formats.csv-too-many-rows', largestSheet))
  const rows: (Row | undefined)[] = []
  for (const { fields } of records) {
    if (fields.length > largestSheet.columns) throw new DamagedFile(say('formats.csv-too-many-columns', largestSheet))
    const row: (Cell | undefined)[] = []
    for (const [column, { text, quoted }] of fields.entries()) {
      // Where texts stand in quotes and numbers do not, what stands in them is one.
      const cell = quoted && dialect.quotes === 'texts' ? { value: text } : cellOfField(text, dialect)
      if (cell) row[column] = cell
    }
    rows.push(row.length ? Array.from(row) : undefined)
  }
  while (rows.length && rows.at(-1) === undefined) rows.pop()
  return { workbook: { sheets: [{ name: 'Sheet 1', rows, widths: {} }] }, dialect, limits: [], text, records }
}

const sameBytes = (a: Uint8Array | null, b: Uint8Array) =>
  a?.length === b.length && a.every((byte, at) => byte === b[at])

/** How many fields each record has, where they are all as wide; 0 where they are not. */
export const evenWidth = (records: readonly CsvRecord[]): number => {
  const width = records[0]?.fields.length ?? 0
  return records.every(({ fields, from, to }) => fields.length === width || from === to) ? width : 0
}
