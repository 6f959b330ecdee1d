// Spreadsheets whatever their type: one way to read each, and to write it, for all that ask. A new type is one entry here.
import { noSource } from '../calc/source'
import { workbookAbout } from '../content/about'
import type { Workbook } from '../content/workbook'
import type { WorkbookOp } from '../content/workbook-ops'
import { aboutOf, withAbout } from './about/about'
import type { Beside } from './beside'
import { type ReadCsv, readCsv } from './csv/read'
import { isPageOfTables, readPageSheets } from './html/sheets'
import { writePageSheets } from './html/sheets-write'
import type { SheetsWork } from './lost-in-sheets'
import { asTemplate } from './odf/template'
import { patchOds } from './ods/patch'
import { readOds } from './ods/read'
import { lostInOds, writeOds } from './ods/write'
import { Limits, NotPatched, type Written } from './refusals'
import { familyOf, isCsv } from './types'
import { patchXls } from './xls/patch'
import { readXls } from './xls/read'
import { lostInXls, writeXls } from './xls/write'
import { patchXlsx } from './xlsx/patch'
import { type ReadWorkbook, readXlsx } from './xlsx/read'
import { type ResultOf, writeXlsx } from './xlsx/write'

export type ReadFile = ReadWorkbook & {
  /** How separated values are written; absent for other types. */
  csv?: ReadCsv
}

interface WorkbookFormat {
  /** @throws DamagedFile */
  read(bytes: Uint8Array): ReadWorkbook
  /** A workbook as a new file. */
  write(work: SheetsWork): Written
  /** What is written beside it is read again: what the type cannot hold is told. */
  patch(work: Patched): Written
}
/** Work that is written into its file. */
export interface Patched extends SheetsWork {
  base: Uint8Array
  read: Pick<ReadWorkbook, 'workbook' | 'results' | 'source'>
  /** Everything that was done since, in order. */
  ops: readonly WorkbookOp[]
  /** Whether a result is one of what was done since. */
  isNew(sheet: number, row: number, column: number): boolean
  /** Whether whoever opens the file is to calculate it. */
  recalculate: boolean
}

/** What was written is read again: what of the work is not in it is told. */
const readAgain =
  (patch: (work: Patched) => Uint8Array, lostIn: (work: SheetsWork, bytes: Uint8Array) => Written['lost']) =>
  (work: Patched): Written => {
    const bytes = patch(work)
    return { bytes, lost: lostIn(work, bytes) }
  }

/** By family (core/formats/types.ts); lists of values are read as they say. */
const formats: Readonly<Record<string, WorkbookFormat>> = {
  xlsx: {
    read: (bytes) => readXlsx(bytes),
    write: (work) => writePackageOfSheets(work),
    patch: (work) => ({ bytes: patchXlsx(work), lost: [] }),
  },
  xls: {
    // What programs put out as a page of tables is often called so.
    read: (bytes) => (isPageOfTables(bytes) ? readPageSheets(bytes) : readXls(bytes)),
    write: writeXls,
    patch(work) {
      if (isPageOfTables(work.base)) throw new NotPatched()
      return readAgain(patchXls, lostInXls)(work)
    },
  },
  html: {
    read: readPageSheets,
    write: writePageSheets,
    patch: writePageSheets,
  },
  ods: {
    read: readOds,
    write: writeOds,
    patch: readAgain(patchOds, lostInOds),
  },
}
const formatOf = (type: string): WorkbookFormat => formats[familyOf(type)] ?? formats.xlsx!

/** @param type the file's ending @throws DamagedFile */
export function readWorkbook(bytes: Uint8Array, type: string): ReadFile {
  if (!isCsv(type)) {
    const read = formatOf(type).read(bytes)
    return { ...read, workbook: workbookAbout(read.workbook, aboutOf(bytes, type)) }
  }
  const csv = readCsv(bytes, type)
  return { workbook: csv.workbook, results: [], source: noSource, looks: [], limits: csv.limits, csv }
}

/** The work written into the file that it came from. @throws NotPatched where it can only be written whole */
export function patchWorkbook(work: Patched, type: string): Written {
  const ops = work.ops.filter(({ op }) => op !== 'about')
  return withAbout(formatOf(type).patch({ ...work, ops }), type, work.workbook.about ?? null)
}

/** A package of sheets, whole. @param mainType what it is of its family, where it has one */
export const writePackage = (
  workbook: Workbook,
  resultOf: ResultOf,
  type: string,
  beside: Beside,
  mainType?: string,
): Written => withAbout(writeSheets(workbook, resultOf, type, beside, mainType), type, workbook.about ?? null)

function writeSheets(
  workbook: Workbook,
  resultOf: ResultOf,
  type: string,
  beside: Beside,
  mainType: string | undefined,
): Written {
  if (familyOf(type) === 'xlsx') return writePackageOfSheets({ workbook, resultOf, ...beside }, mainType)
  const written = formatOf(type).write({ workbook, resultOf, ...beside })
  return type === 'ots' ? { bytes: asTemplate(written.bytes), lost: written.lost } : written
}

function writePackageOfSheets({ workbook, resultOf, ...beside }: SheetsWork, mainType?: string): Written {
  // What stands for cells of another file would point at nothing: the file's list of them is not written.
  const names = beside.names?.filter(({ formula }) => !/\[\d+\]/.test(formula)) ?? []
  const lost = new Limits()
  for (const { name } of beside.names ?? [])
    if (!names.some((one) => one.name === name)) lost.add('defined names', name)
  return { bytes: writeXlsx(workbook, resultOf, mainType, { ...beside, names }), lost: lost.list() }
}
