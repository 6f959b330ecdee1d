// A sheet of a spreadsheet as a list of values, for those who read lists: written from the file's bytes alone, so that
// whoever keeps it in step needs no editor.
import { Calculation, keyOf } from '../calc/engine'
import type { CellValue, Workbook } from '../content/workbook'
import { dialectOf } from './csv/dialect'
import { saidIn } from './csv/said'
import { writeCsv } from './csv/write'
import type { Written } from './refusals'
import { plainType } from './types'
import { type ReadFile, readWorkbook } from './workbooks'

/** Which sheet, and how its list is written. */
export interface SideListWay {
  /** By its name. */
  sheet: string
  /** `csv` or `tsv`, with what was said of how the list is written (csv/said.ts). */
  type: string
}

/**
 * The lists of some sheets of a file.
 * @param type the file's ending
 * @returns in the order of `ways`; null for a sheet that is not in it
 * @throws DamagedFile
 */
export function sideLists(bytes: Uint8Array, type: string, ways: readonly SideListWay[]): (Written | null)[] {
  const read = readWorkbook(bytes, type)
  const { workbook } = read
  const places = ways.map(({ sheet }) => workbook.sheets.findIndex(({ name }) => name === sheet))
  const results = resultsOf(
    read,
    places.filter((place) => place >= 0),
  )
  return ways.map(({ type: as }, at) => {
    const sheet = places[at]!
    if (sheet < 0) return null
    return writeCsv({
      workbook,
      resultOf: (of, row, column) => results[of]?.get(keyOf(row, column)),
      from: null,
      dialect: { ...dialectOf(plainType(as)), ...saidIn(as) },
      sheet,
    })
  })
}

/** Results as the file has them; calculated where it has not all, as files of some programs have none. */
export function resultsOf(
  { workbook, results, source }: ReadFile,
  places: readonly number[],
): readonly ReadonlyMap<number, CellValue>[] {
  if (places.every((place) => isKnown(workbook, results, place))) return results
  const calculation = new Calculation(workbook, results, source)
  try {
    return calculation.shown()
  } finally {
    calculation.close()
  }
}
const isKnown = (workbook: Workbook, results: readonly ReadonlyMap<number, CellValue>[], place: number): boolean =>
  workbook.sheets[place]!.rows.every((row, at) =>
    (row ?? []).every((cell, column) => cell?.formula === undefined || results[place]?.has(keyOf(at, column))),
  )
