// Separated values as a workbook of one sheet, and that sheet as separated values again (RFC 4180).
import { type Cell, largestSheet, type Row, type Workbook } from '../../content/workbook'
import { say } from '../../words/said'
import { DamagedFile, type Limit } from '../refusals'
import { soundText } from '../text/encoding'
import { plainType } from '../types'
import { type CsvDialect, type Doubts, isEnded, lookAt } from './dialect'
import { type CsvLine, eachRecord } from './records'
import { saidIn } from './said'
import { behindGuard, cellReader, needsGuard } from './values'

export interface ReadCsv {
  workbook: Workbook
  dialect: CsvDialect
  /** What nothing in it says of how it is written, and nobody said. */
  doubts: Doubts
  limits: Limit[]
  /** The text, and where the record of each row stands in it. */
  text: string
  lines: readonly CsvLine[]
  /** Those that hold nothing. */
  empty: readonly CsvLine[]
  /** Rows with a text that is to be guarded and is not yet. */
  open: ReadonlySet<number>
  /** How many fields each record has, where they are all as wide; 0 where they are not. */
  width: number
}

/**
 * @param type the file's ending, `csv` or `tsv`, with what was said of how it is written (said.ts); the rest is recognised
 * @throws DamagedFile for what is no text, and for more than a sheet can hold
 */
export function readCsv(bytes: Uint8Array, type = 'csv'): ReadCsv {
  const { encoding, ...said } = saidIn(type)
  let looked = lookAt(bytes, plainType(type), { ...said, ...(encoding && { encoding }) })
  let text = soundText(bytes, looked.dialect.encoding)
  // What was said of an earlier version of the file may not be so of this one.
  if (text === null && encoding) {
    looked = lookAt(bytes, plainType(type), said)
    text = soundText(bytes, looked.dialect.encoding)
  }
  if (text === null || text.includes('\0')) throw new DamagedFile(say('formats.csv-no-text'))
  const { doubts } = looked
  const rows: (Row | undefined)[] = []
  const lines: CsvLine[] = []
  const empty: CsvLine[] = []
  let width: number | null = null
  const texts = looked.dialect.quotes === 'texts'
  const cellOf = cellReader(looked.dialect)
  const { guarded } = looked.dialect
  const open = new Set<number>()
  eachRecord(text, looked.dialect.separator, largestSheet.rows + 1, (fields, quoted, line) => {
    if (lines.length === largestSheet.rows) throw new DamagedFile(say('formats.csv-too-many-rows', largestSheet))
    if (fields.length > largestSheet.columns) throw new DamagedFile(say('formats.csv-too-many-columns', largestSheet))
    const row: (Cell | undefined)[] = []
    let filled = 0
    for (let column = 0; column < fields.length; column++) {
      const field = fields[column]!
      if (field === '') continue
      while (filled < column) row[filled++] = undefined
      // Where texts stand in quotes and numbers do not, what stands in them is one.
      const behind = guarded ? behindGuard(field, looked.dialect) : null
      const cell =
        texts && quoted[column] ? { value: behind ?? field } : behind === null ? cellOf(field) : { value: behind }
      row[filled++] = cell
      if (guarded && behind === null && typeof cell?.value === 'string' && needsGuard(field)) open.add(rows.length)
    }
    if (!filled) empty.push(line)
    // Lines with nothing at all are as wide as any.
    if (line.from !== line.to) width = width === null || width === fields.length ? fields.length : 0
    lines.push(line)
    rows.push(filled ? row : undefined)
  })
  const dialect = { ...looked.dialect, ended: isEnded(lines) }
  while (rows.length && rows.at(-1) === undefined) rows.pop()
  return {
    workbook: { sheets: [{ name: 'Sheet 1', rows, widths: {} }] },
    dialect,
    doubts,
    limits: [],
    text,
    lines,
    empty,
    open,
    width: width ?? 0,
  }
}
