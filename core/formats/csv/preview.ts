// The first rows of a list as they would be read, before it is.
import type { Cell } from '../../content/workbook'
import { soundText } from '../text/encoding'
import { type CsvDialect, lookAt } from './dialect'
import { recordsOf } from './records'
import type { SaidOfList } from './said'
import { cellInList } from './values'

export interface CsvPreview {
  dialect: CsvDialect
  /** Each field as it is written, and as the cell that it becomes. */
  rows: { text: string; cell: Cell | undefined }[][]
  /** How many fields the widest of the rows has. */
  columns: number
}

/** @param type the file's ending @param most rows @returns null where it is no text in the encoding that was said */
export function previewCsv(bytes: Uint8Array, type: string, said: SaidOfList, most = 8): CsvPreview | null {
  const { dialect } = lookAt(bytes, type, said)
  const text = soundText(bytes, dialect.encoding)
  if (text === null || text.includes('\0')) return null
  const records = recordsOf(text, dialect.separator, most)
  return {
    dialect,
    rows: records.map(({ fields }) => fields.map(({ text }) => ({ text, cell: cellInList(text, dialect) }))),
    columns: records.reduce((widest, { fields }) => Math.max(widest, fields.length), 0),
  }
}
