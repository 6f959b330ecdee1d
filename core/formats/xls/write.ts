// Writes a workbook in the binary format ([MS-XLS], its version 8), whole.
import { looksOfAll, type MergedArea, type SheetLooks } from '../../content/looks'
import type { Sheet } from '../../content/workbook'
import { rowsBeside } from '../beside'
import { blankRoot, joined, writeCompound } from '../compound/compound'
import { lostInSheets, type SheetsWork } from '../lost-in-sheets'
import type { Limit, Written } from '../refusals'
import type { ResultOf } from '../xlsx/write'
import { widthToFile } from '../xlsx/write'
import { type CellTables, cellRecords } from './cells'
import { largestOfFormat } from './formula-tokens'
import { readXls } from './read'
import { long, record, short, written } from './records'
import { textsAsRecords } from './strings'
import { colorsUsed, FormatTable, LinkTable, TextTable, usualFont } from './tables'

/** What is not in a file of the format. */
export const lostInXls = (work: SheetsWork, bytes: Uint8Array): Limit[] =>
  lostInSheets(work, readXls(bytes), largestOfFormat)

interface Tables extends CellTables {
  formats: FormatTable
  links: LinkTable
  texts: TextTable
}

/** What the format cannot hold is told: it is read again, and laid beside the work. */
export function writeXls(work: SheetsWork): Written {
  const bytes = xlsBytes(work)
  return { bytes, lost: lostInXls(work, bytes) }
}

function xlsBytes({ workbook, resultOf, papers = [], names = [], usual }: SheetsWork): Uint8Array {
  const looks = looksOfAll(workbook, papers)
  const texts = new TextTable()
  const tables: Tables = {
    formats: new FormatTable(
      usual ? { ...usualFont, name: usual.name, height: Math.round(usual.size * 20) } : usualFont,
      colorsUsed(workbook, looks),
    ),
    texts,
    textNumber: (text) => texts.indexOf(text),
    links: new LinkTable(
      workbook.sheets.map(({ name }) => name),
      names,
    ),
  }
  const sheets = workbook.sheets.map((sheet, index) =>
    joined(sheetRecords(sheet, index, looks[index]!, tables, resultOf)),
  )
  const before = [
    written(record.begin, [0x00, 0x06, 0x05, 0x00, 0xbb, 0x0d, 0xcc, 0x07, ...long(0), ...long(0x0600)]),
    written(record.codePage, short(1200)),
    // How large its window is, and which sheet is in front.
    written(0x3d, [
      ...short(0),
      ...short(0),
      ...short(0x4000),
      ...short(0x2800),
      ...short(0x38),
      0,
      0,
      0,
      0,
      ...short(1),
      ...short(600),
    ]),
    written(record.date1904, short(0)),
    ...tables.formats.records(),
  ]
  const behind = [...tables.links.records(), ...tables.texts.records(), written(record.endOfPart)]
  // Sheets are found by where they begin, behind all of this.
  const bound = (places: readonly number[]) =>
    workbook.sheets.map(({ name }, index) => written(record.bound, [...long(places[index]!), 0, 0, ...nameBytes(name)]))
  const length = joined([...before, ...bound(sheets.map(() => 0)), ...behind]).length
  let at = length
  const places = sheets.map((sheet) => {
    at += sheet.length
    return at - sheet.length
  })
  return writeCompound(
    blankRoot([{ is: 'stream', name: 'Workbook', bytes: joined([...before, ...bound(places), ...behind, ...sheets]) }]),
  )
}
function nameBytes(name: string): number[] {
  const [text] = textsAsRecords([name.slice(0, 31)], 200)
  return [text![0]!, ...text!.subarray(2)]
}

function sheetRecords(
  sheet: Sheet,
  index: number,
  looks: SheetLooks,
  tables: Tables,
  resultOf: ResultOf,
): Uint8Array[] {
  const order = rowsBeside(sheet, looks, largestOfFormat)
  const width = order.reduce((most, [, line]) => Math.max(most, (line.at(-1)?.column ?? -1) + 1), 0)
  const { frozen } = sheet
  const cells: Uint8Array[] = []
  // Rows stand in blocks of 32, each before its cells.
  for (let from = 0; from < order.length; ) {
    const block = order[from]![0] >> 5
    let to = from
    while (to < order.length && order[to]![0] >> 5 === block) to++
    for (const [row, line] of order.slice(from, to)) cells.push(rowRecord(row, line, looks))
    for (const [row, line] of order.slice(from, to))
      for (const { column, cell, look } of line) {
        const at = [...short(row), ...short(column), ...short(tables.formats.indexOf(cell?.style, look))]
        cells.push(...cellRecords(cell, at, sheet.name, tables, () => resultOf(index, row, column)))
      }
    from = to
  }
  return [
    written(record.begin, [0x00, 0x06, 0x10, 0x00, 0xbb, 0x0d, 0xcc, 0x07, ...long(0), ...long(0x0600)]),
    ...columnRecords(sheet, looks),
    written(record.size, [
      ...long(order[0]?.[0] ?? 0),
      ...long((order.at(-1)?.[0] ?? -1) + 1),
      ...short(0),
      ...short(width),
      0,
      0,
    ]),
    ...cells,
    written(record.window, [
      ...short(0xb6 | (frozen ? 0x108 : 0) | (index === 0 ? 0x600 : 0)),
      ...short(0),
      ...short(0),
      ...long(0x40),
      ...short(0),
      ...short(0),
      ...long(0),
    ]),
    ...(frozen
      ? [
          written(record.pane, [
            ...short(frozen.columns),
            ...short(frozen.rows),
            ...short(frozen.rows),
            ...short(frozen.columns),
            frozen.rows && frozen.columns ? 0 : frozen.rows ? 2 : 1,
            0,
          ]),
        ]
      : []),
    ...mergedRecords(looks.merged),
    written(record.endOfPart),
  ]
}

function columnRecords({ widths }: Sheet, { hiddenColumns }: SheetLooks): Uint8Array[] {
  const columns = new Set([...Object.keys(widths).map(Number), ...hiddenColumns])
  return [...columns]
    .filter((column) => column < largestOfFormat.columns)
    .sort((a, b) => a - b)
    .map((column) => {
      const width = widths[column] === undefined ? 9.14 : widthToFile(widths[column])
      return written(record.columns, [
        ...short(column),
        ...short(column),
        ...short(Math.min(65_280, Math.round(width * 256))),
        ...short(15),
        ...short((hiddenColumns.has(column) ? 1 : 0) | (widths[column] === undefined ? 0 : 2)),
        ...short(0),
      ])
    })
}

function rowRecord(row: number, line: readonly { column: number }[], looks: SheetLooks): Uint8Array {
  const height = looks.heights.get(row)
  const flags = 0x100 | (height === undefined ? 0 : 0x40) | (looks.hiddenRows.has(row) ? 0x20 : 0)
  return written(record.row, [
    ...short(row),
    ...short(line[0]?.column ?? 0),
    ...short((line.at(-1)?.column ?? -1) + 1),
    ...short(height === undefined ? 0x80ff : Math.min(0x7fff, Math.round(height * 20))),
    ...short(0),
    ...short(0),
    ...short(flags),
    ...short(15),
  ])
}

/** Merged cells, those that the type can hold. */
export function mergedRecords(merged: readonly MergedArea[]): Uint8Array[] {
  const { rows, columns } = largestOfFormat
  const held = merged.filter(({ bottom, right }) => bottom < rows && right < columns)
  const records: Uint8Array[] = []
  for (let from = 0; from < held.length; from += 1026) {
    const some = held.slice(from, from + 1026)
    records.push(
      written(record.merged, [
        ...short(some.length),
        ...some.flatMap(({ top, left, bottom, right }) => [top, bottom, left, right].flatMap(short)),
      ]),
    )
  }
  return records
}
