// A file as a page that any browser shows, for whoever only looks at it: nothing in it runs, and nothing is fetched.
import { keyOf } from '../calc/engine'
import { readDocument, writeDocument } from './documents'
import { pageOfSheets } from './html/sheets-write'
import { mostRowsShown } from './shown-rows'
import { resultsOf } from './side-list'
import { fileType } from './types'
import { readWorkbook } from './workbooks'

export interface ShownPage {
  /** A whole page, in UTF-8. */
  page: string
  /** Sheets of which not all rows are in it. */
  cut: string[]
}

/**
 * Hidden sheets, rows and columns are left out.
 * @param type the file's ending
 * @returns null for a type that is no document and no spreadsheet
 * @throws DamagedFile
 */
export function shownPage(bytes: Uint8Array, type: string): ShownPage | null {
  const { kind } = fileType(type)
  if (kind === 'document') {
    // Written anew, also where it is a page: what somebody else's page would do is left behind.
    const { bytes: page } = writeDocument(readDocument(bytes, type).doc, null, 'html')
    return { page: new TextDecoder().decode(page), cut: [] }
  }
  if (kind !== 'spreadsheet') return null
  const read = readWorkbook(bytes, type)
  const hidden = new Set(read.hiddenSheets)
  const places = [...read.workbook.sheets.keys()].filter((at) => !hidden.has(at))
  const sheets = places.map((at) => read.workbook.sheets[at]!)
  const results = resultsOf(read, places)
  const page = pageOfSheets(
    {
      workbook: { ...read.workbook, sheets },
      resultOf: (at, row, column) => results[places[at]!]?.get(keyOf(row, column)),
    },
    { rows: mostRowsShown },
  )
  return { page, cut: sheets.flatMap(({ name, rows }) => (rows.length > mostRowsShown ? [name] : [])) }
}
