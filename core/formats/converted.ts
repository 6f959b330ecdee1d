// A file as it would be in another type, from its bytes alone: for whoever gets it in a type that they can open.
import { keyOf } from '../calc/engine'
import { papersIn } from '../content/papers'
import { notBeside } from './beside'
import { dialectOf } from './csv/dialect'
import { writeCsv } from './csv/write'
import { readDocument, writeDocument } from './documents'
import { allOf, type Written } from './refusals'
import { resultsOf } from './side-list'
import { fileType, isCsv } from './types'
import { readWorkbook, writePackage } from './workbooks'

/**
 * @param from the file's ending @param to of the same kind (`writableBeside`); of lists, they are the first sheet that is seen
 * @returns what was written, with what of the file is not in it
 * @throws DamagedFile
 */
export function converted(bytes: Uint8Array, from: string, to: string): Written {
  if (fileType(from).kind === 'document') return writeDocument(readDocument(bytes, from).doc, bytes, to, from)
  const read = readWorkbook(bytes, from)
  const { workbook, looks, source, usual, hiddenSheets } = read
  const results = resultsOf(read, [...workbook.sheets.keys()])
  const resultOf = (at: number, row: number, column: number) => results[at]?.get(keyOf(row, column))
  const hidden = new Set(hiddenSheets)
  const sheet = Math.max(
    0,
    workbook.sheets.findIndex((_, at) => !hidden.has(at)),
  )
  const { bytes: written, lost } = isCsv(to)
    ? writeCsv({ workbook, resultOf, from: read.csv ?? null, dialect: dialectOf(to), sheet })
    : writePackage(workbook, resultOf, to, { papers: papersIn(looks), names: source.names, usual })
  return { bytes: written, lost: allOf(lost, isCsv(to) ? read.limits : notBeside(read.limits)) }
}
