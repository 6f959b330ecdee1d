// Spreadsheets whatever their type: one way to read each, for all that ask.
import { noSource } from '../calc/source'
import { type ReadCsv, readCsv } from './csv/read'
import { isCsv } from './types'
import { type ReadWorkbook, readXlsx } from './xlsx/read'

export type ReadFile = ReadWorkbook & {
  /** How separated values are written; absent for other types. */
  csv?: ReadCsv
}

/** @param type the file's ending @throws DamagedFile */
export function readWorkbook(bytes: Uint8Array, type: string): ReadFile {
  if (!isCsv(type)) return readXlsx(bytes)
  const csv = readCsv(bytes, type)
  return { workbook: csv.workbook, results: [], source: noSource, looks: [], limits: csv.limits, csv }
}
