// Separated values as a workbook of one sheet, and that sheet as separated values again (RFC 4180).
import { type Cell, largestSheet, type Row, type Workbook } from '../../content/workbook'
import { say } from '../../words/said'
import { DamagedFile, type Limit } from '../refusals'
import { decoded, encoded } from '../text/encoding'
import { plainType } from '../types'
import { type CsvDialect, type Doubts, isEnded, lookAt } from './dialect'
import { type CsvRecord, recordsOf } from './records'
import { saidIn } from './said'
import { cellOfField } from './values'

export interface ReadCsv {
  workbook: Workbook
  dialect: CsvDialect
  /** What nothing in it says of how it is written, and nobody said. */
  doubts: Doubts
  limits: Limit[]
  /** The text, and its records: row by row, what each was written as. */
  text: string
  records: readonly CsvRecord[]
}

/**
 * @param type the file's ending, `csv` or `tsv`, with what was said of how it is written (said.ts); the rest is recognised
 * @throws DamagedFile for what is no text, and for more than a sheet can hold
 */
export function readCsv(bytes: Uint8Array, type = 'csv'): ReadCsv {
  const { encoding, ...said } = saidIn(type)
  let looked = lookAt(bytes, plainType(type), { ...said, ...(encoding && { encoding }) })
  let text = soundText(bytes, looked.dialect)
  // What was said of an earlier version of the file may not be so of this one.
  if (text === null && encoding) {
    looked = lookAt(bytes, plainType(type), said)
    text = soundText(bytes, looked.dialect)
  }
  if (text === null || text.includes('\0')) throw new DamagedFile(say('formats.csv-no-text'))
  const { doubts } = looked
  const records = recordsOf(text, looked.dialect.separator, largestSheet.rows + 1)
  const dialect = { ...looked.dialect, ended: isEnded(records) }
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
  return { workbook: { sheets: [{ name: 'Sheet 1', rows, widths: {} }] }, dialect, doubts, limits: [], text, records }
}

/** The text; null where letters are none in its encoding, and could not be written as they were. */
export function soundText(bytes: Uint8Array, { encoding }: CsvDialect): string | null {
  const text = decoded(bytes, encoding)
  return text.includes('\ufffd') && !sameBytes(encoded(text, encoding), bytes) ? null : text
}

const sameBytes = (a: Uint8Array | null, b: Uint8Array) =>
  a?.length === b.length && a.every((byte, at) => byte === b[at])

/** How many fields each record has, where they are all as wide; 0 where they are not. */
export const evenWidth = (records: readonly CsvRecord[]): number => {
  const width = records[0]?.fields.length ?? 0
  return records.every(({ fields, from, to }) => fields.length === width || from === to) ? width : 0
}
