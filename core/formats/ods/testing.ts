// Small spreadsheets of other programs, written by hand for tests.
import { blankParts } from '../odf/blank'
import { writeZip } from '../opc/zip'

/** @param body what is in the spreadsheet @param automatic the looks of single places */
export const odsOf = (body: string, automatic = '', more: [string, string][] = []): Uint8Array =>
  writeZip(blankParts('spreadsheet', { body: `<office:spreadsheet>${body}</office:spreadsheet>`, automatic, more }))
