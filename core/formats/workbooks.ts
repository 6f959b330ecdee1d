// Spreadsheets whatever their type: one way to read each, and to write it whole, for all that ask.
import { noSource } from '../calc/source'
import type { Workbook } from '../content/workbook'
import type { Beside } from './beside'
import { type ReadCsv, readCsv } from './csv/read'
import { Limits, type Written } from './refusals'
import { isBinary, isCsv } from './types'
import { readXls } from './xls/read'
import { writeXls } from './xls/write'
import { type ReadWorkbook, readXlsx } from './xlsx/read'
import { type ResultOf, writeXlsx } from './xlsx/write'

export type ReadFile = ReadWorkbook & {
  /** How separated values are written; absent for other types. */
  csv?: ReadCsv
}

/** @param type the file's ending @throws DamagedFile */
export function readWorkbook(bytes: Uint8Array, type: string): ReadFile {
  if (isBinary(type)) return readXls(bytes)
  if (!isCsv(type)) return readXlsx(bytes)
  const csv = readCsv(bytes, type)
  return { workbook: csv.workbook, results: [], source: noSource, looks: [], limits: csv.limits, csv }
}

/** A package of sheets, whole. @param mainType what it is of its family, where it has one */
export function writePackage(
  workbook: Workbook,
  resultOf: ResultOf,
  type: string,
  beside: Beside,
  mainType?: string,
): Written {
  if (isBinary(type)) return writeXls({ workbook, resultOf, ...beside })
  // What stands for cells of another file would point at nothing: the file's list of them is not written.
  const names = beside.names?.filter(({ formula }) => !/\[\d+\]/.test(formula)) ?? []
  const lost = new Limits()
  for (const { name } of beside.names ?? [])
    if (!names.some((one) => one.name === name)) lost.add('defined names', name)
  return { bytes: writeXlsx(workbook, resultOf, mainType, { ...beside, names }), lost: lost.list() }
}
