// Reads workbooks of the binary format that spreadsheet programs wrote from 1997 to 2003 ([MS-XLS], its version 8).
import type { Area, FormulaSource } from '../../calc/source'
import type { CellLook, MergedArea, SheetLooks } from '../../content/looks'
import type { SheetPaper } from '../../content/sheet-paper'
import { type Cell, type CellValue, largestSheet, type Sheet } from '../../content/workbook'
import { say } from '../../words/said'
import { type CompoundStorage, readCompound, streamOf } from '../compound/compound'
import { DamagedFile, Limits } from '../refusals'
import { days1904, isDateFormat } from '../xlsx/date-system'
import { looksInModel, type ReadWorkbook, type Room, roomForCells, takeRoom } from '../xlsx/read'
import { widthFromFile } from '../xlsx/write'
import { formulaText, NotRead } from './formula-text'
import { type Globals, readGlobals } from './globals'
import { xlsPaperReader } from './paper'
import { type BiffRecord, record, recordsOf, viewOf } from './records'
import { longText, textAt } from './strings'
import { errorOf, shortNumber } from './values'

export interface XlsParts {
  root: CompoundStorage
  stream: Uint8Array
  globals: Globals
}

/** A file's parts, before any of its sheets is read. @throws DamagedFile */
export function openXls(bytes: Uint8Array, limits = new Limits()): XlsParts {
  return wellFormed(() => {
    const root = readCompound(bytes)
    const stream = streamOf(root, 'Workbook')?.bytes
    if (!stream) {
      const older = streamOf(root, 'Book')
      throw new DamagedFile(say(older ? 'formats.older-than-can-be-read' : 'formats.this-file-is-damaged-it-has-no-2'))
    }
    return { root, stream, globals: readGlobals(stream, limits) }
  })
}

/** @throws DamagedFile */
export function readXls(bytes: Uint8Array): ReadWorkbook {
  const limits = new Limits()
  const { root, stream, globals } = openXls(bytes, limits)
  for (const one of root.children) {
    if (one.is !== 'storage') continue
    if (/^_VBA_PROJECT/i.test(one.name)) limits.add('macros', '')
    else if (/^MBD/i.test(one.name)) limits.add('embedded objects', '')
    else if (/^_SX_DB/i.test(one.name)) limits.add('pivot tables', '')
  }
  const sheets: Sheet[] = []
  const results: Map<number, CellValue>[] = []
  const looks: SheetLooks[] = []
  const arrays: Area[] = []
  const hidden: Map<number, boolean>[] = []
  const hiddenSheets: number[] = []
  const room = roomForCells()
  const inModel = looksInModel(limits)
  for (const { name, from, cells, visible } of globals.sheets) {
    if (!cells) {
      limits.add('sheets that are not of cells', name)
      continue
    }
    if (!visible) {
      limits.add('hidden sheets (they become visible)', name)
      hiddenSheets.push(sheets.length)
    }
    const read = wellFormed(() => readSheet(stream, from, name, globals, limits, room))
    for (const { top, left, bottom, right } of read.arrays)
      arrays.push({ sheet: sheets.length, top, left, bottom, right })
    sheets.push(inModel(read.sheet, read.looks))
    results.push(read.results)
    const paper = { ...read.paper, ...globals.printNames.get(from) }
    looks.push(Object.keys(paper).length ? { ...read.looks, paper } : read.looks)
    hidden.push(new Map([...read.looks.hiddenRows].map((row) => [row, read.filtered])))
  }
  if (!sheets.length) throw new DamagedFile(say('formats.this-file-is-damaged-it-has-no-3'))
  const source: FormulaSource = { names: globals.names, tables: [], arrays, hidden, others: [] }
  const [font] = globals.fonts
  const usual = font && { name: font.name, size: font.height / 20 }
  return { workbook: { sheets }, results, source, looks, hiddenSheets, ...(usual && { usual }), limits: limits.list() }
}

/** What ends before it says so is damaged. */
function wellFormed<T>(read: () => T): T {
  try {
    return read()
  } catch (error) {
    if (error instanceof RangeError) throw new DamagedFile(say('formats.this-file-is-damaged-its-records'))
    throw error
  }
}

/** Things beside cells that the model cannot hold, by their records. */
const features: Readonly<Record<number, string>> = {
  [record.rule]: 'input rules',
  [record.link]: 'links in cells',
  [record.conditions]: 'conditional formats',
  [record.table]: 'pivot tables',
  [record.feature]: 'tables with a name of their own',
  [record.feature12]: 'tables with a name of their own',
  [record.dataTable]: 'data tables',
}
/** Drawn objects by their kinds (§2.5.143). */
const objects: Readonly<Record<number, string | null>> = {
  5: 'charts',
  8: 'images',
  25: null,
  7: 'form controls',
  11: 'form controls',
  12: 'form controls',
  13: 'form controls',
  14: 'form controls',
  16: 'form controls',
  17: 'form controls',
  18: 'form controls',
  19: 'form controls',
  // What opens a list below a cell belongs to its filter or its rule.
  20: null,
}

/** What an object is; null for one that belongs to a comment, a filter or a rule. */
export function drawnFeature(data: Uint8Array): string | null {
  const view = viewOf(data)
  const kind = data.length >= 6 && view.getUint16(0, true) === 0x15 ? view.getUint16(4, true) : 0
  const feature = objects[kind]
  return feature === undefined ? 'drawn shapes' : feature
}

interface FormulaRead {
  tokens: Uint8Array
  more: Uint8Array
}
const isCell: ReadonlySet<number> = new Set([
  record.blank,
  record.blanks,
  record.number,
  record.shortNumber,
  record.shortNumbers,
  record.text,
  record.label,
  record.truthOrError,
  record.formula,
])
/** What a formula resulted in: a number, or by two bytes that no number has what else it is (§2.5.133). */
function resultIn(view: DataView): CellValue | 'text' | undefined {
  if (view.getUint16(12, true) !== 0xffff) return view.getFloat64(6, true)
  switch (view.getUint8(6)) {
    case 0:
      return 'text'
    case 1:
      return view.getUint8(8) !== 0
    case 2:
      return { error: errorOf(view.getUint8(8)) }
    default:
      return ''
  }
}

interface ReadSheet {
  sheet: Sheet
  results: Map<number, CellValue>
  looks: SheetLooks
  paper: SheetPaper
  arrays: MergedArea[]
  filtered: boolean
}

function readSheet(
  stream: Uint8Array,
  start: number,
  name: string,
  globals: Globals,
  limits: Limits,
  room: Room,
): ReadSheet {
  const { formats, texts, links, date1904 } = globals
  const isDate = date1904 ? formats.map(({ style }) => isDateFormat(style?.format)) : null
  const rows: (Cell | undefined)[][] = []
  const results = new Map<number, CellValue>()
  const cellLooks = new Map<number, CellLook>()
  const lost = new Map<string, number>()
  const widths: Record<number, number> = {}
  const heights = new Map<number, number>()
  const hiddenRows = new Set<number>()
  const hiddenColumns = new Set<number>()
  const merged: MergedArea[] = []
  const arrays: MergedArea[] = []
  const shared = new Map<number, FormulaRead>()
  const arrayFormulas = new Map<number, FormulaRead>()
  let filtered = false
  let frozenPanes = false
  let frozen: Sheet['frozen']
  let depth = 0
  /** The formula whose result is a text that comes next. */
  let waiting = null as { row: number; column: number } | null
  let texted = null as Uint8Array[] | null
  let last = null as { row: number; column: number; key: number } | null

  const placed = (row: number, column: number) => row * largestSheet.columns + column
  function put(row: number, column: number, format: number, value?: CellValue, formula?: string): void {
    const of = formats[format]
    if (of?.lost) lost.set(of.lost, (lost.get(of.lost) ?? 0) + 1)
    if (of?.look) cellLooks.set(placed(row, column), of.look)
    const held = value === '' || formula !== undefined ? undefined : value
    if (held === undefined && formula === undefined && !of?.style) return
    takeRoom(room, name, Math.max(0, column + 1 - (rows[row]?.length ?? 0)), formula)
    while (rows.length <= row) rows.push(undefined as never)
    rows[row] ??= []
    const line = rows[row]!
    while (line.length < column) line.push(undefined)
    line[column] = {
      ...(held !== undefined && { value: held }),
      ...(formula !== undefined && { formula }),
      ...(of?.style && { style: of.style }),
    }
  }
  const counted = (value: number, format: number) => (isDate?.[format] ? value + days1904 : value)
  const formulaOf = (one: FormulaRead, at: { row: number; column: number } | null): string | undefined => {
    try {
      return formulaText(one.tokens, one.more, links, at)
    } catch (error) {
      if (!(error instanceof NotRead)) throw error
      limits.add('formulas that cannot be read here (their results stay)', name)
      return undefined
    }
  }
  function putFormula(row: number, column: number, format: number, formula: string | undefined): void {
    const result = results.get(placed(row, column))
    if (formula === undefined) results.delete(placed(row, column))
    put(row, column, format, result, formula)
  }
  /** Formulas are put in at the end: what they share, and their texts, come behind them. */
  const formulas: { row: number; column: number; format: number; own: FormulaRead | null; group: number }[] = []

  function cellRecord({ type, data }: BiffRecord): void {
    const view = viewOf(data)
    const row = view.getUint16(0, true)
    const column = view.getUint16(2, true)
    if (column > 255) return
    const format = data.length >= 6 ? view.getUint16(4, true) : 0
    switch (type) {
      case record.blank:
        return put(row, column, format)
      case record.blanks:
        for (let at = 4; at + 4 <= data.length; at += 2) put(row, column + (at - 4) / 2, view.getUint16(at, true))
        return
      case record.number:
        return put(row, column, format, counted(view.getFloat64(6, true), format))
      case record.shortNumber:
        return put(row, column, format, counted(shortNumber(view.getInt32(6, true)), format))
      case record.shortNumbers:
        for (let at = 4; at + 8 <= data.length; at += 6) {
          const of = view.getUint16(at, true)
          put(row, column + (at - 4) / 6, of, counted(shortNumber(view.getInt32(at + 2, true)), of))
        }
        return
      case record.text: {
        const text = texts[view.getUint32(6, true)]
        if (text === undefined) throw new DamagedFile(say('formats.this-file-is-damaged-its-sheet-uses', { name }))
        return put(row, column, format, text)
      }
      case record.label:
        return put(row, column, format, textAt(data, 6, 2).text)
      case record.truthOrError:
        return put(
          row,
          column,
          format,
          view.getUint8(7) ? { error: errorOf(view.getUint8(6)) } : view.getUint8(6) !== 0,
        )
      case record.formula: {
        const length = view.getUint16(20, true)
        const tokens = data.subarray(22, 22 + length)
        const result = resultIn(view)
        const key = placed(row, column)
        if (result === 'text') waiting = { row, column }
        // Programs that calculate nothing write an empty text for what is to come of it.
        else if (result !== undefined && (result !== '' || globals.calculated))
          results.set(key, typeof result === 'number' ? counted(result, format) : result)
        last = { row, column, key }
        // One that is shared, or fills an area, is said by the cell that it stands behind; so is a table of trials.
        const elsewhere = (tokens[0] === 0x01 || tokens[0] === 0x02) && tokens.length >= 5
        const group = elsewhere ? placed(tokens[1]! | (tokens[2]! << 8), tokens[3]! | (tokens[4]! << 8)) : -1
        formulas.push({
          row,
          column,
          format,
          own: elsewhere ? null : { tokens, more: data.subarray(22 + length) },
          group,
        })
      }
    }
  }

  const onPaper = xlsPaperReader()
  let began = false
  for (const one of recordsOf(stream, start)) {
    const { data } = one
    // Some programs write formulas under the numbers that earlier versions had for them.
    const type = one.type === 0x206 || one.type === 0x406 ? record.formula : one.type
    if (!began && type !== record.begin)
      throw new DamagedFile(say('formats.this-file-is-damaged-its-sheet-is', { name }))
    began = true
    if (type === record.begin) {
      depth++
      continue
    }
    if (type === record.endOfPart) {
      if (--depth === 0) break
      continue
    }
    // A chart in the sheet is a part of its own.
    if (depth > 1) continue
    if (texted && type !== record.goesOn) {
      endText()
    }
    onPaper.take({ type, data })
    const view = viewOf(data)
    switch (type) {
      case record.goesOn:
        texted?.push(data)
        break
      case record.string:
        texted = [data]
        break
      case record.shared:
        if (last && data.length >= 10) {
          const length = view.getUint16(8, true)
          shared.set(last.key, { tokens: data.subarray(10, 10 + length), more: data.subarray(10 + length) })
        }
        break
      case record.array:
        if (last && data.length >= 14) {
          const length = view.getUint16(12, true)
          limits.add('array formulas', name)
          arrays.push({
            top: view.getUint16(0, true),
            bottom: view.getUint16(2, true),
            left: view.getUint8(4),
            right: view.getUint8(5),
          })
          arrayFormulas.set(last.key, { tokens: data.subarray(14, 14 + length), more: data.subarray(14 + length) })
        }
        break
      case record.row: {
        const row = view.getUint16(0, true)
        const height = view.getUint16(6, true)
        const flags = view.getUint16(12, true)
        if (flags & 0x20) {
          hiddenRows.add(row)
          limits.add('hidden rows and columns (they become visible)', name)
        }
        if (flags & 0x40) {
          limits.add('row heights', name)
          if (height & 0x7fff) heights.set(row, (height & 0x7fff) / 20)
        }
        break
      }
      case record.columns: {
        const [first, until] = [view.getUint16(0, true), Math.min(255, view.getUint16(2, true))]
        const isHidden = view.getUint16(8, true) & 1
        if (isHidden) limits.add('hidden rows and columns (they become visible)', name)
        for (let column = first; column <= until; column++) {
          if (isHidden) hiddenColumns.add(column)
          const width = view.getUint16(4, true)
          // One that is out of sight, and that nobody gave a width, is as wide as usual.
          const given = !isHidden || view.getUint16(8, true) & 2
          if (width && given) widths[column] = widthFromFile(width / 256)
        }
        break
      }
      case record.merged:
        for (let at = 2; at + 8 <= data.length; at += 8) {
          const area = {
            top: view.getUint16(at, true),
            bottom: view.getUint16(at + 2, true),
            left: view.getUint16(at + 4, true),
            right: view.getUint16(at + 6, true),
          }
          limits.add('merged cells (their content stays in the first one)', name)
          if (
            (area.top !== area.bottom || area.left !== area.right) &&
            area.top <= area.bottom &&
            area.left <= area.right
          )
            merged.push(area)
        }
        break
      case record.window:
        frozenPanes = !!(view.getUint16(0, true) & 8)
        break
      case record.pane:
        if (frozenPanes) frozen = { columns: view.getUint16(0, true), rows: view.getUint16(2, true) }
        break
      case record.rowBreaks:
      case record.columnBreaks:
        if (view.getUint16(0, true)) limits.add('page breaks', name, view.getUint16(0, true))
        break
      case record.note:
        limits.add('comments', name)
        break
      case record.filter:
        filtered = true
        limits.add('filters', name)
        break
      case record.sheetProtection:
        if (view.getUint16(0, true)) limits.add('sheet protection', name)
        break
      case record.header:
      case record.footer:
        if (data.length) limits.add('page headers and footers', name)
        break
      case record.object: {
        const feature = drawnFeature(data)
        if (feature) limits.add(feature, name)
        break
      }
      default:
        if (features[type]) limits.add(features[type], name)
        else if (isCell.has(type)) cellRecord({ ...one, type })
    }
  }
  endText()
  function endText(): void {
    if (texted && waiting) results.set(placed(waiting.row, waiting.column), longText(texted))
    texted = null
    waiting = null
  }
  for (const { row, column, format, own, group } of formulas) {
    const common = shared.get(group)
    const filling = arrayFormulas.get(group)
    // Of one that fills an area, the cells behind its first one hold what it resulted in.
    if (own) putFormula(row, column, format, formulaOf(own, null))
    else if (common) putFormula(row, column, format, formulaOf(common, { row, column }))
    else
      putFormula(row, column, format, filling && group === placed(row, column) ? formulaOf(filling, null) : undefined)
  }
  for (const [feature, count] of lost) limits.add(feature, name, count)
  return {
    sheet: { name, rows, widths, ...(frozen && (frozen.rows || frozen.columns) ? { frozen } : {}) },
    results,
    looks: { merged, heights, hiddenRows, hiddenColumns, cells: cellLooks },
    paper: onPaper.paper(),
    arrays,
    filtered,
  }
}
