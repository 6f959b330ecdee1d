// Reads SpreadsheetML (ECMA-376 part 1, §18). Sheets are read in one pass over their XML,
// because that is where the size is; the small parts become trees.
import { SaxesParser } from 'saxes'
import type { Area, FormulaSource, NamedTable } from '../../calc/source'
import { copier } from '../../content/formula'
import { type CellLook, type MergedArea, type SheetLooks, withLooks } from '../../content/looks'
import { hiddenByFilter } from '../../content/sheet-filter'
import {
  type Cell,
  type CellStyle,
  type CellValue,
  columnNumber,
  largestSheet,
  type Sheet,
  type Workbook,
} from '../../content/workbook'
import { say } from '../../words/said'
import type { UsualFont } from '../beside'
import { type OpcPackage, openPackage, type Relationship, relationshipKind } from '../opc/package'
import { readPlainXml } from '../opc/plain-xml'
import { child, decodeXml, elements, renamedName, renamedPrefixes, textOf, type XmlElement } from '../opc/xml'
import { DamagedFile, type Limit, Limits } from '../refusals'
import { days1904, isDateFormat } from './date-system'
import { rulesIn } from './entry-rules'
import { filterIn } from './filter'
import { areaIn, definedNamesOf, otherFilesOf, tablesOf } from './formula-source'
import { paperReader, printNamesOf } from './paper'
import { unescapeString } from './string'
import { earlierPalette, paletteOf, readCellStyles } from './style-sheet'
import { widthFromFile } from './write'

export interface ReadWorkbook {
  workbook: Workbook
  /** What formulas resulted in when the file was written: by sheet, `row * 16384 + column`. */
  results: Map<number, CellValue>[]
  /** What its formulas refer to beside cells. */
  source: FormulaSource
  /** How its sheets look beyond the model. */
  /** By sheet, as the model has them; and what the file says of paper. */
  looks: SheetLooks[]
  /** Sheets that the file does not show, by their numbers. */
  hiddenSheets?: readonly number[]
  /** The font of cells that have none of their own. */
  usual?: UsualFont
  limits: Limit[]
}

/** Cells read at most; a file with more is refused before memory runs out. */
const mostCells = 5_000_000
/** Places up to the last cell of each row, at most: a few cells far apart take as much memory as full rows. */
const mostPlaces = 40_000_000
/** As much of either for cells that hold nothing and only look. */
const mostLooking = 1_000_000
const mostLookingPlaces = 10_000_000
/** Letters of long formulas at most; one that is shared stands in each of its cells. */
const mostLetters = 20_000_000
const longFormula = 500
export interface Room {
  cells: number
  places: number
  letters: number
}

export type XlsxForm = 1 | 2 | 3 | 4 | 5
const newestForm = 5

/** A workbook's parts, before any of its sheets is read. */
export interface WorkbookParts {
  opened: OpcPackage
  /** The name of the part that lists the sheets. */
  main: string
  root: XmlElement
  relationships: Map<string, Relationship>
  stylesPart: string | undefined
  date1904: boolean
  /** Sheets of cells, in their order. */
  sheets: { name: string; part: string; relationship: string; state: string }[]
  /** Sheets of another kind, by name. */
  others: string[]
}

/** @throws DamagedFile */
export function openParts(bytes: Uint8Array): WorkbookParts {
  const opened = openPackage(bytes)
  const main = opened.mainPart()
  const root = opened.xml(main)
  if (root?.name !== 'workbook') throw new DamagedFile(say('formats.this-file-is-damaged-it-has-no-2'))
  const relationships = opened.relationships(main)
  const parts: WorkbookParts = {
    opened,
    main,
    root,
    relationships,
    stylesPart: partOf(relationships, 'styles'),
    date1904: ['1', 'true'].includes(child(root, 'workbookPr')?.attributes.date1904 ?? ''),
    sheets: [],
    others: [],
  }
  for (const element of elements(child(root, 'sheets'), 'sheet')) {
    const relationship = element.attributes['r:id'] ?? ''
    const name = element.attributes.name ?? `Sheet ${parts.sheets.length + 1}`
    const target = relationships.get(relationship)
    // A sheet of macros may have no part of its own.
    if (!relationship || (target && relationshipKind(target) !== 'worksheet')) parts.others.push(name)
    else if (target)
      parts.sheets.push({ name, part: target.target, relationship, state: element.attributes.state ?? 'visible' })
    else throw new DamagedFile(say('formats.this-file-is-damaged-its-sheet-is', { name }))
  }
  if (parts.sheets.length === 0) throw new DamagedFile(say('formats.this-file-is-damaged-it-has-no-3'))
  return parts
}
/** The part that a relationship of a kind leads to. */
export const partOf = (relationships: Map<string, Relationship>, kind: string): string | undefined =>
  [...relationships.values()].find((relationship) => relationshipKind(relationship) === kind)?.target

/** The cell formats of a workbook, by their numbers. @param styles their part, where it is another one than the file's */
export function cellStylesOf(
  { opened, relationships, stylesPart }: WorkbookParts,
  styles?: XmlElement,
  form: XlsxForm = newestForm,
): ReturnType<typeof readCellStyles> {
  const sheet = styles ?? (stylesPart === undefined ? undefined : opened.xml(stylesPart))
  const theme = partOf(relationships, 'theme')
  return readCellStyles(
    sheet,
    form === 1 ? earlierPalette : paletteOf(theme === undefined ? undefined : themeOf(opened, theme), sheet),
  )
}

/** The font of cells that have none of their own. */
function usualFontOf({ opened, stylesPart }: WorkbookParts): UsualFont | undefined {
  const font = child(child(stylesPart === undefined ? undefined : opened.xml(stylesPart), 'fonts'), 'font')
  const name = child(font, 'name')?.attributes.val
  const size = Number(child(font, 'sz')?.attributes.val)
  return name && size > 0 && size < 410 ? { name, size } : undefined
}

/** Reads sheets of a workbook. @param styles the part of cell formats, where it is another one than the file's */
export function sheetReader(
  parts: WorkbookParts,
  limits = new Limits(),
  styles?: XmlElement,
  form: XlsxForm = newestForm,
): { read: (content: Uint8Array, name: string) => ReadSheet; cellStyles: ReturnType<typeof readCellStyles> } {
  const { opened, relationships, date1904 } = parts
  const strings = readStrings(opened, partOf(relationships, 'sharedStrings'), limits)
  const cellStyles = cellStylesOf(parts, styles, form)
  const isDate = form === 1 ? (format: string | undefined) => /[ymdh]/i.test(format ?? '') : isDateFormat
  const from1904 = date1904 ? cellStyles.map(({ style }) => isDate(style?.format)) : null
  const room = roomForCells()
  const whole = form < 3 ? (sheet: Sheet) => sheet : looksInModel(limits)
  const inModel = (sheet: Sheet, looks: SheetLooks): Sheet => {
    const { rules: _, ...unruled } = sheet
    const { filter: __, ...bare } = unruled
    return whole(form < 4 ? bare : form < 5 ? unruled : sheet, looks)
  }
  return {
    cellStyles,
    read: (content, name) => {
      const read = readSheet(content, name, strings, cellStyles, from1904, limits, room)
      return { ...read, sheet: inModel(read.sheet, read.looks) }
    },
  }
}

/** A theme only colours: one that cannot be read is as if there were none. */
function themeOf(opened: OpcPackage, part: string): XmlElement | undefined {
  try {
    return opened.xml(part)
  } catch {
    return undefined
  }
}

/**
 * @param form of the model, for drafts that an earlier Jaula wrote (core/recovery/models.ts): 1 without the palette's
 *   and the theme's colours, and with every format that has a letter of a date in it taken for one; 2 without the looks that
 *   are beside `style` in what is read; 3 without filters; 4 without rules for entries
 * @throws DamagedFile
 */
export function readXlsx(bytes: Uint8Array, form: XlsxForm = newestForm): ReadWorkbook {
  const parts = openParts(bytes)
  const { opened, root } = parts
  const limits = new Limits()
  const reader = sheetReader(parts, limits, undefined, form)
  const names = [...elements(child(root, 'definedNames'), 'definedName')].filter(
    ({ attributes }) => !attributes.name?.startsWith('_xlnm.'),
  )
  if (names.length)
    limits.add(
      'defined names',
      names
        .slice(0, 3)
        .map(({ attributes }) => attributes.name)
        .join(', '),
      names.length,
    )
  if (child(root, 'workbookProtection')) limits.add('workbook protection', '')
  for (const name of opened.container.names) {
    if (/vbaProject\.bin$/.test(name)) limits.add('macros', '')
    if (/^xl\/externalLinks\/[^/]+\.xml$/.test(name)) limits.add('links to other files', '')
  }
  for (const name of parts.others) limits.add('sheets that are not of cells', name)

  const sheets: Sheet[] = []
  const results: Map<number, CellValue>[] = []
  const tables: NamedTable[] = []
  const arrays: Area[] = []
  const hidden: Map<number, boolean>[] = []
  const looks: SheetLooks[] = []
  const hiddenSheets: number[] = []
  const printNames = printNamesOf(parts)
  for (const [index, { name, part, state }] of parts.sheets.entries()) {
    const content = opened.bytes(part)
    if (!content) throw new DamagedFile(say('formats.this-file-is-damaged-its-sheet-is', { name }))
    if (state !== 'visible') {
      limits.add('hidden sheets (they become visible)', name)
      hiddenSheets.push(index)
    }
    const read = reader.read(content, name)
    sheets.push(read.sheet)
    results.push(read.results)
    tables.push(...tablesOf(parts, part, index))
    for (const ref of read.arrays) {
      const area = areaIn(ref, index)
      if (area) arrays.push(area)
    }
    hidden.push(read.hidden)
    const paper = { ...read.looks.paper, ...printNames.get(index) }
    looks.push(Object.keys(paper).length ? { ...read.looks, paper } : read.looks)
    for (const relationship of opened.relationships(part).values()) {
      const feature = attachedFeatures[relationshipKind(relationship)]
      if (!feature) continue
      const drawing = feature === 'drawing' ? opened.relationships(relationship.target) : null
      if (!drawing) limits.add(feature, name)
      else {
        const kinds = [...drawing.values()].map(relationshipKind)
        const count = (kind: string) => kinds.filter((one) => one === kind).length
        if (count('chart')) limits.add('charts', name, count('chart'))
        if (count('image')) limits.add('images', name, count('image'))
        if (!count('chart') && !count('image')) limits.add('drawn shapes', name)
      }
    }
  }
  const source = { names: definedNamesOf(parts), tables, arrays, hidden, others: otherFilesOf(parts) }
  const usual = usualFontOf(parts)
  return { workbook: { sheets }, results, source, looks, hiddenSheets, ...(usual && { usual }), limits: limits.list() }
}

const attachedFeatures: Record<string, string> = {
  drawing: 'drawing',
  comments: 'comments',
  threadedComment: 'comment threads',
  pivotTable: 'pivot tables',
  table: 'tables with a name of their own',
  oleObject: 'embedded objects',
  control: 'form controls',
}

/** Elements of a sheet beside its cells that the model cannot hold. */
const sheetFeatures: Record<string, string> = {
  hyperlink: 'links in cells',
  sheetProtection: 'sheet protection',
  mergeCell: 'merged cells (their content stays in the first one)',
  rowBreaks: 'page breaks',
  colBreaks: 'page breaks',
  headerFooter: 'page headers and footers',
}

function readStrings(opened: OpcPackage, part: string | undefined, limits: Limits): string[] {
  if (part === undefined) return []
  let rich = 0
  const strings = [...elements(opened.xml(part), 'si')].map((item) => {
    const runs = [...elements(item, 'r')]
    if (runs.length > 1 && runs.some((run) => child(run, 'rPr'))) rich++
    return stringOf(item)
  })
  if (rich) limits.add('formats inside a cell’s text', '', rich)
  return strings
}
/** The text of a string item: its runs without their phonetic readings (§18.4.8). */
function stringOf(item: XmlElement): string {
  let text = ''
  for (const part of elements(item)) {
    if (part.name === 't') text += textOf(part)
    else if (part.name === 'r') for (const run of elements(part, 't')) text += textOf(run)
  }
  return unescapeString(text)
}

/** Room for the cells of one workbook. */
export const roomForCells = (): Room => ({ cells: mostCells, places: mostPlaces, letters: mostLetters })
/** @throws DamagedFile where a workbook takes more than there is room for. @param places that its row grew by */
export function takeRoom(room: Room, name: string, places: number, formula: string | undefined): void {
  if (--room.cells < 0)
    throw new DamagedFile(
      say('formats.this-file-has-more-than-cells-which', { mostCells: mostCells.toLocaleString('en') }),
    )
  room.places -= places
  if (formula && formula.length > longFormula) room.letters -= formula.length
  if (room.places < 0) throw new DamagedFile(say('formats.its-cells-are-too-far-apart', { name }))
  if (room.letters < 0) throw new DamagedFile(say('formats.its-formulas-are-too-long', { name }))
}

/** Cells that only look, of which there may be as many as there is room for: those beyond it stay in the file alone. */
export function looksInModel(limits: Limits): (sheet: Sheet, looks: SheetLooks) => Sheet {
  const room = { cells: mostLooking, places: mostLookingPlaces }
  return (sheet, looks) =>
    withLooks(sheet, looks, (_, places) => {
      if (room.cells > 0 && room.places >= places) {
        room.cells--
        room.places -= places
        return true
      }
      limits.add('looks of cells', sheet.name)
      return false
    })
}

interface SharedFormula {
  copy: (byRows: number, byColumns: number) => string
  row: number
  column: number
}

export interface ReadSheet {
  sheet: Sheet
  results: Map<number, CellValue>
  /** The areas that array formulas fill. */
  arrays: string[]
  /** Rows that are not shown; true for those that a filter hides. */
  hidden: Map<number, boolean>
  looks: SheetLooks
}
type SheetArguments = Parameters<typeof readSheetBy> extends [string, boolean, ...infer Rest] ? Rest : never

/** Reads a sheet the quick way and, where its XML is not plain, by the full parser. */
function readSheet(
  bytes: Uint8Array,
  ...[name, strings, cellStyles, from1904, limits, room]: SheetArguments
): ReadSheet {
  const xml = decodeXml(bytes)
  const tried = { limits: new Limits(), room: { ...room } }
  const quick = readSheetBy(xml, true, name, strings, cellStyles, from1904, tried.limits, tried.room)
  if (!quick) return readSheetBy(xml, false, name, strings, cellStyles, from1904, limits, room)!
  limits.include(tried.limits)
  Object.assign(room, tried.room)
  return quick
}

/** @returns null when the quick way does not do for this sheet */
function readSheetBy(
  xml: string,
  quick: boolean,
  name: string,
  strings: readonly string[],
  cellStyles: readonly { style: CellStyle | undefined; lost: string | null; look: CellLook | undefined }[],
  from1904: readonly boolean[] | null,
  limits: Limits,
  room: Room,
): ReadSheet | null {
  const rows: (Cell | undefined)[][] = []
  const results = new Map<number, CellValue>()
  const arrays: string[] = []
  const hidden = new Set<number>()
  const merged: MergedArea[] = []
  const heights = new Map<number, number>()
  const hiddenColumns = new Set<number>()
  const looks = new Map<number, CellLook>()
  const widths: Record<number, number> = {}
  const shared = new Map<string, SharedFormula>()
  const lostLooks = new Map<string, number>()
  const onPaper = paperReader()
  let frozen: Sheet['frozen']
  let row = -1
  let column = -1
  let type = 'n'
  let style = 0
  let value: string | null = null
  let formula: { text: string; type: string; group: string } | null = null
  let inlineText = ''
  let collecting: 'value' | 'formula' | 'text' | null = null
  let phonetic = 0
  let text = ''
  let renamed: Map<string, string> | null = null
  let root = true

  const parser = new SaxesParser<{ position: false; xmlns: false }>({ position: false, xmlns: false })
  parser.on('error', (error) => {
    throw new DamagedFile(
      say('formats.this-file-is-damaged-its-sheet-is-2', {
        name,
        message: error.message.replace(/^\d+:\d+: /, '').trim(),
      }),
    )
  })
  parser.on('opentag', (tag) => {
    const attributes = tag.attributes as Record<string, string>
    if (root) {
      renamed = renamedPrefixes(attributes)
      root = false
    }
    openTag(renamed ? renamedName(tag.name, renamed) : tag.name, attributes)
  })
  parser.on('text', addText)
  parser.on('cdata', addText)
  parser.on('closetag', (tag) => closeTag(renamed ? renamedName(tag.name, renamed) : tag.name))

  function openTag(tagName: string, attributes: Record<string, string>): void {
    switch (tagName) {
      case 'c': {
        if (attributes.r === undefined) column++
        else [row, column] = cellAddress(attributes.r, row)
        if (row < 0 || column < 0 || row >= largestSheet.rows || column >= largestSheet.columns)
          throw new DamagedFile(say('formats.this-file-is-damaged-its-sheet-has', { name, r: attributes.r }))
        type = attributes.t ?? 'n'
        style = Number(attributes.s ?? 0)
        value = null
        formula = null
        inlineText = ''
        break
      }
      case 'v':
        collecting = 'value'
        text = ''
        break
      case 'f':
        collecting = 'formula'
        text = ''
        formula = { text: '', type: attributes.t ?? 'normal', group: attributes.si ?? '' }
        if (formula.type === 'array' && attributes.ref) arrays.push(attributes.ref)
        break
      case 't':
        if (!phonetic) {
          collecting = 'text'
          text = ''
        }
        break
      case 'rPh':
        phonetic++
        break
      case 'row':
        row = attributes.r === undefined ? row + 1 : Number(attributes.r) - 1
        column = -1
        if (attributes.hidden === '1' || attributes.hidden === 'true') hidden.add(row)
        if (attributes.hidden === '1' || attributes.hidden === 'true')
          limits.add('hidden rows and columns (they become visible)', name)
        if (attributes.customHeight === '1' || attributes.customHeight === 'true') limits.add('row heights', name)
        if (attributes.ht !== undefined && Number(attributes.ht) > 0) heights.set(row, Number(attributes.ht))
        break
      case 'col': {
        if (attributes.hidden === '1' || attributes.hidden === 'true')
          limits.add('hidden rows and columns (they become visible)', name)
        const first = Number(attributes.min) - 1
        const last = Math.min(Number(attributes.max) - 1, first + 1000)
        if (attributes.hidden === '1' || attributes.hidden === 'true')
          for (let x = first; x <= last; x++) hiddenColumns.add(x)
        if (attributes.width !== undefined && attributes.customWidth !== '0')
          for (let x = first; x <= last; x++) widths[x] = widthFromFile(Number(attributes.width))
        break
      }
      case 'pane':
        if (attributes.state === 'frozen' || attributes.state === 'frozenSplit')
          frozen = { rows: Number(attributes.ySplit ?? 0), columns: Number(attributes.xSplit ?? 0) }
        break
      default: {
        const feature =
          sheetFeatures[tagName] ?? (tagName.startsWith('conditional') ? 'conditional formats' : undefined)
        if (feature) limits.add(feature, name)
        if (onPaper.open(tagName, attributes)) return
        if (tagName === 'mergeCell') {
          const area = areaIn(attributes.ref, 0)
          if (area && (area.top !== area.bottom || area.left !== area.right)) merged.push(area)
        }
      }
    }
  }
  function addText(chunk: string): void {
    if (collecting) text += chunk
    else onPaper.text(chunk)
  }
  function closeTag(tagName: string): void {
    switch (tagName) {
      case 'v':
        value = text
        collecting = null
        break
      case 'f':
        if (formula) formula.text = text
        collecting = null
        break
      case 't':
        if (collecting === 'text') {
          inlineText += text
          collecting = null
        }
        break
      case 'rPh':
        phonetic--
        break
      case 'c':
        finishCell()
        break
      default:
        onPaper.close(tagName)
    }
  }

  function finishCell(): void {
    const look = cellStyles[style]
    if (look?.lost) lostLooks.set(look.lost, (lostLooks.get(look.lost) ?? 0) + 1)
    if (look?.look) looks.set(row * largestSheet.columns + column, look.look)
    const cellValue = valueOf()
    const expression = formula ? formulaOf(formula) : undefined
    if (expression !== undefined && cellValue !== undefined) results.set(row * largestSheet.columns + column, cellValue)
    const kept = expression === undefined ? (cellValue === '' ? undefined : cellValue) : undefined
    if (expression === undefined && kept === undefined && !look?.style) return
    takeRoom(room, name, Math.max(0, column + 1 - (rows[row]?.length ?? 0)), expression)
    let line = rows[row]
    if (!line) {
      while (rows.length < row) rows.push(undefined as never)
      line = []
      rows[row] = line
    }
    while (line.length < column) line.push(undefined)
    line[column] =
      expression !== undefined
        ? look?.style
          ? { formula: expression, style: look.style }
          : { formula: expression }
        : kept !== undefined
          ? look?.style
            ? { value: kept, style: look.style }
            : { value: kept }
          : { style: look!.style! }
  }
  function valueOf(): CellValue | undefined {
    if (type === 'inlineStr') return unescapeString(inlineText)
    // A text of no letters may be written without its element.
    if (value === null) return type === 'str' && formula ? '' : undefined
    switch (type) {
      case 's': {
        const string = strings[Number(value)]
        if (string === undefined) throw new DamagedFile(say('formats.this-file-is-damaged-its-sheet-uses', { name }))
        return string
      }
      case 'str':
        return unescapeString(value)
      case 'b':
        return value.trim() === '1' || value.trim() === 'true'
      case 'e':
        return { error: value }
      case 'd': {
        const at = Date.parse(
          /[zZ]|[+-]\d\d:\d\d$/.test(value) ? value : `${value}${value.includes('T') ? 'Z' : 'T00:00:00Z'}`,
        )
        return Number.isNaN(at) ? value : at / 86400_000 + 25569
      }
      default: {
        if (value.trim() === '') return undefined
        const number = Number(value)
        if (!Number.isFinite(number))
          throw new DamagedFile(
            say('formats.this-file-is-damaged-its-sheet-has-2', { name, value: value.slice(0, 20) }),
          )
        return from1904?.[style] ? number + days1904 : number
      }
    }
  }
  function formulaOf(one: NonNullable<typeof formula>): string | undefined {
    if (one.type === 'shared') {
      if (one.text) shared.set(one.group, { copy: copier(one.text), row, column })
      const first = shared.get(one.group)
      return first?.copy(row - first.row, column - first.column)
    }
    if (one.type === 'array') limits.add('array formulas', name)
    if (one.type === 'dataTable') {
      limits.add('data tables', name)
      return undefined
    }
    return one.text === '' ? undefined : one.text
  }

  const start = quick ? xml.indexOf('<sheetData>') : -1
  const end = quick ? xml.lastIndexOf('</sheetData>') : -1
  if (quick) {
    if (start < 0 || end < start) return null
    parser.write(`${xml.slice(0, start)}<sheetData/>${xml.slice(end + '</sheetData>'.length)}`).close()
    const handlers = { open: openTag, text: addText, close: closeTag }
    if (renamed || !readPlainXml(xml, start + '<sheetData>'.length, end, handlers)) return null
  } else parser.write(xml).close()
  const paper = onPaper.paper()
  for (const [look, cells] of lostLooks) limits.add(look, name, cells)
  for (const line of rows) if (line) while (line.length && line.at(-1) === undefined) line.pop()
  const filter = filterIn(xml)
  if (filter && Object.values(filter.columns).some(({ by }) => by === 'other')) limits.add('filters', name)
  const { rules, others } = rulesIn(xml)
  if (others) limits.add('input rules', name, others)
  return {
    sheet: {
      name,
      rows,
      widths,
      ...(frozen && (frozen.rows || frozen.columns) ? { frozen } : {}),
      ...(filter && { filter }),
      ...(rules.length && { rules }),
    },
    results,
    arrays,
    hidden: hiddenByFilter({ ...(filter && { filter }), hiddenRows: [...hidden] }),
    looks: {
      merged: merged.map(({ top, left, bottom, right }) => ({ top, left, bottom, right })),
      heights,
      hiddenRows: hidden,
      hiddenColumns,
      cells: looks,
      ...(paper && { paper }),
    },
  }
}

/** Row and column of an address like `AB12`. */
function cellAddress(address: string, currentRow: number): [row: number, column: number] {
  let column = 0
  let at = 0
  for (; at < address.length; at++) {
    const code = address.charCodeAt(at) | 32
    if (code < 97 || code > 122) break
    column = column * 26 + code - 96
  }
  if (at === 0) return [currentRow, columnNumber(address)]
  return [Number(address.slice(at)) - 1, column - 1]
}
