// Spreadsheets of the open standard (ISO/IEC 26300-1 §9) as workbooks, each cell with where it stands, so that what nobody
// changes stays as it is.

import { type DefinedName, type FormulaSource, noSource } from '../../calc/source'
import { storableText } from '../../content/document'
import { errors } from '../../content/entry'
import type { CellLook, MergedArea, SheetLooks } from '../../content/looks'
import { type Cell, type CellStyle, type CellValue, largestSheet, type Sheet } from '../../content/workbook'
import { say } from '../../words/said'
import { pixelsOf, pointsOf } from '../odf/lengths'
import { bodyOf, type OdfPackage, openOdf } from '../odf/package'
import { propertiesIn } from '../odf/properties'
import { countOf, OdfStyles } from '../odf/styles'
import { child, elements, type XmlElement } from '../opc/xml'
import { DamagedFile, Limits } from '../refusals'
import { looksInModel, type ReadWorkbook, type Room, roomForCells, takeRoom } from '../xlsx/read'
import { CellStyles } from './cell-styles'
import { RuleCells, rulesNamed } from './entry-rules'
import { filtersIn } from './filter'
import { formulaRead, NoCounterpart } from './formula'
import { sheetPaperOf } from './paper'
import { frozenIn } from './settings'
import { valueOf } from './values'

/** Letters of a cell, of which spaces that are said by their number are no more. */
const longestText = 32_767
/** Empty cells that only look: longer runs are looks of whole rows and columns, which stay in the file. */
const longestRun = 1000

export interface OdsParts {
  opened: OdfPackage
  styles: OdfStyles
  cellStyles: CellStyles
  tables: XmlElement[]
}
/** A file's parts. @throws DamagedFile */
export function openOds(bytes: Uint8Array): OdsParts {
  const opened = openOdf(bytes)
  const body = bodyOf(opened.content.root, 'office:spreadsheet')
  const styles = new OdfStyles(opened)
  return {
    opened,
    styles,
    cellStyles: new CellStyles(opened, styles),
    tables: [...elements(body, 'table:table')],
  }
}

/** @throws DamagedFile */
export function readOds(bytes: Uint8Array): ReadWorkbook {
  const parts = openOds(bytes)
  const limits = new Limits()
  const room = roomForCells()
  const sheets: Sheet[] = []
  const results: Map<number, CellValue>[] = []
  const looks: SheetLooks[] = []
  const hidden: Map<number, boolean>[] = []
  const hiddenSheets: number[] = []
  const frozen = frozenIn(parts.opened)
  const inModel = looksInModel(limits)
  const body = bodyOf(parts.opened.content.root, 'office:spreadsheet')
  const named = rulesNamed(body)
  const filters = filtersIn(body, parts.tables, parts.opened.content.xml)
  for (let n = 0; n < filters.others; n++) limits.add('filters', '')
  for (const table of parts.tables) {
    const read = new TableReader(table, parts, limits, room).read()
    const panes = frozen.get(read.sheet.name)
    const sheet = inModel(read.sheet, read.looks)
    const filter = filters.bySheet.get(sheets.length)?.filter
    if (filter && Object.values(filter.columns).some(({ by }) => by === 'other')) limits.add('filters', sheet.name)
    const rules = read.ruled.rules(named)
    const unknown = rules.filter(({ condition }) => condition.kind === 'other').length
    if (unknown) limits.add('input rules', sheet.name, unknown)
    sheets.push({
      ...sheet,
      ...(panes && { frozen: panes }),
      ...(filter && { filter }),
      ...(rules.length && { rules }),
    })
    results.push(read.results)
    const paper = sheetPaperOf(table, parts, read.breaks)
    looks.push(paper ? { ...read.looks, paper } : read.looks)
    hidden.push(read.hidden)
    if (isHidden(table, parts)) hiddenSheets.push(sheets.length - 1)
  }
  if (!sheets.length) throw new DamagedFile(say('formats.this-file-is-damaged-it-has-no-3'))
  besideTables(body, parts.opened, limits)
  const source: FormulaSource = { ...noSource, names: namesIn(body, parts.tables, limits), hidden }
  const { usual } = parts.cellStyles
  for (const _ of parts.cellStyles.unsaid) limits.add('number formats', '')
  for (const _ of parts.cellStyles.unseen) limits.add('looks of cells', '')
  for (const _ of parts.cellStyles.conditional) limits.add('conditional formats', '')
  return { workbook: { sheets }, results, source, looks, hiddenSheets, ...(usual && { usual }), limits: limits.list() }
}

/** Whether a file does not show a sheet (OpenDocument 1.3, 20.247). */
const isHidden = (table: XmlElement, { styles }: OdsParts): boolean =>
  propertiesIn(styles.automaticStyle('table', table.attributes['table:style-name']), 'table')['table:display'] ===
  'false'

/** What a file has beside its sheets. */
function besideTables(body: XmlElement, { container, content, styles }: OdfPackage, limits: Limits): void {
  for (const page of elements(child(styles?.root, 'office:master-styles'), 'style:master-page'))
    for (const edge of elements(page))
      if (
        /^style:(?:header|footer)/.test(edge.name) &&
        edge.attributes['style:display'] !== 'false' &&
        edge.children.length
      )
        limits.add('page headers and footers', '')
  for (const _ of elements(child(body, 'table:data-pilot-tables'))) limits.add('pivot tables', '')
  if (body.attributes['table:structure-protected'] === 'true') limits.add('workbook protection', '')
  const scripts = child(content.root, 'office:scripts')
  if (
    container.names.some((name) => name.startsWith('Basic/') || name.startsWith('Scripts/')) ||
    child(scripts, 'office:script')
  )
    limits.add('macros', '')
}

function namesIn(body: XmlElement, tables: readonly XmlElement[], limits: Limits): DefinedName[] {
  const found: DefinedName[] = []
  const take = (parent: XmlElement | undefined, sheet: number | null) => {
    for (const one of elements(parent)) {
      const name = one.attributes['table:name'] ?? ''
      const text =
        one.name === 'table:named-range'
          ? `of:=[${one.attributes['table:cell-range-address'] ?? ''}]`
          : `${one.attributes['table:expression'] ?? ''}`
      try {
        found.push({ name, sheet, formula: formulaRead(text) })
      } catch (error) {
        if (!(error instanceof NoCounterpart)) throw error
        limits.add('defined names', name)
      }
    }
  }
  take(child(body, 'table:named-expressions'), null)
  for (const [at, table] of tables.entries()) take(child(table, 'table:named-expressions'), at)
  return found
}

/** A row of a table as it stands there: as many as it says, from a number on. */
export interface RowPlace {
  element: XmlElement
  from: number
  count: number
}
/** The rows of a table, in whatever groups they stand. */
export function* rowsOf(table: XmlElement): Generator<RowPlace> {
  let row = 0
  const visit = function* (parent: XmlElement): Generator<RowPlace> {
    for (const one of elements(parent)) {
      if (one.name === 'table:table-row') {
        const count = countOf(one.attributes['table:number-rows-repeated'])
        yield { element: one, from: row, count }
        row += count
      } else if (/^table:table-(?:header-rows|row-group|rows)$/.test(one.name)) yield* visit(one)
    }
  }
  yield* visit(table)
}
export interface CellPlace {
  element: XmlElement
  from: number
  count: number
}
export function* cellsOf(row: XmlElement): Generator<CellPlace> {
  let column = 0
  for (const one of elements(row)) {
    if (one.name !== 'table:table-cell' && one.name !== 'table:covered-table-cell') continue
    const count = countOf(one.attributes['table:number-columns-repeated'])
    yield { element: one, from: column, count }
    column += count
  }
}
/** The columns of a table, in whatever groups they stand. */
export function* columnsOf(table: XmlElement): Generator<CellPlace> {
  let column = 0
  const visit = function* (parent: XmlElement): Generator<CellPlace> {
    for (const one of elements(parent)) {
      if (one.name === 'table:table-column') {
        const count = countOf(one.attributes['table:number-columns-repeated'])
        yield { element: one, from: column, count }
        column += count
      } else if (/^table:table-(?:columns|header-columns|column-group)$/.test(one.name)) yield* visit(one)
    }
  }
  yield* visit(table)
}

/** What a cell says, in lines. */
export function cellText(cell: XmlElement): string {
  let text: string | null = null
  for (const one of elements(cell, 'text:p')) text = text === null ? lineText(one) : `${text}\n${lineText(one)}`
  return text ?? ''
}
function lineText(line: XmlElement): string {
  const [only, more] = line.children
  if (only === undefined) return ''
  if (more === undefined && typeof only === 'string' && !/^\s|\s\s|[\t\n\r]|\s$/.test(only)) return storableText(only)
  let out = ''
  let afterSpace = true
  const visit = (part: XmlElement | string): void => {
    if (typeof part === 'string') {
      let text = part.replace(/[ \t\r\n]+/g, ' ')
      if (afterSpace && text.startsWith(' ')) text = text.slice(1)
      if (text) afterSpace = text.endsWith(' ')
      out += text
      return
    }
    const said =
      part.name === 'text:s'
        ? ' '.repeat(Math.min(Math.max(0, longestText - out.length), countOf(part.attributes['text:c'])))
        : part.name === 'text:tab'
          ? '\t'
          : part.name === 'text:line-break'
            ? '\n'
            : null
    if (said !== null) {
      out += said
      afterSpace = false
    } else if (part.name !== 'office:annotation' && part.name !== 'text:note')
      for (const inner of part.children) visit(inner)
  }
  for (const part of line.children) visit(part)
  return afterSpace && out.endsWith(' ') ? out.slice(0, -1) : out
}

class TableReader {
  private readonly name: string
  private readonly rows: (Cell | undefined)[][] = []
  private readonly results = new Map<number, CellValue>()
  private readonly cells = new Map<number, CellLook>()
  private readonly merged: MergedArea[] = []
  private readonly heights = new Map<number, number>()
  private readonly hidden = new Map<number, boolean>()
  private readonly hiddenColumns = new Set<number>()
  private readonly widths: Record<number, number> = {}
  /** The style of a column's cells that name none. */
  private readonly columnStyles: (readonly [past: number, style: string | undefined])[] = []
  private readonly rowBreaks: number[] = []
  private readonly columnBreaks: number[] = []
  private readonly ruled = new RuleCells()
  private withBorders = false
  private withFonts = false

  constructor(
    private readonly table: XmlElement,
    private readonly parts: OdsParts,
    private readonly limits: Limits,
    private readonly room: Room,
  ) {
    this.name = table.attributes['table:name'] ?? ''
  }

  read(): {
    sheet: Sheet
    results: Map<number, CellValue>
    looks: SheetLooks
    hidden: Map<number, boolean>
    breaks: { rows: number[]; columns: number[] }
    ruled: RuleCells
  } {
    const { limits, name } = this
    this.columns()
    for (const { element, from, count } of rowsOf(this.table)) this.row(element, from, count)
    this.besideCells()
    while (this.rows.length && !this.rows.at(-1)?.length) this.rows.pop()
    if (this.merged.length) limits.add('merged cells (their content stays in the first one)', name, this.merged.length)
    if (this.heights.size) limits.add('row heights', name)
    if (this.hidden.size || this.hiddenColumns.size) limits.add('hidden rows and columns (they become visible)', name)
    if (this.withBorders) limits.add('cells with borders', name)
    if (this.withFonts) limits.add('cells with a font or text size of their own', name)
    const rows = Array.from(this.rows, (row) => (row?.length ? row : undefined))
    return {
      sheet: { name, rows, widths: this.widths },
      results: this.results,
      hidden: this.hidden,
      breaks: { rows: this.rowBreaks, columns: this.columnBreaks },
      ruled: this.ruled,
      looks: {
        merged: this.merged,
        heights: this.heights,
        hiddenRows: new Set(this.hidden.keys()),
        hiddenColumns: this.hiddenColumns,
        cells: this.cells,
      },
    }
  }

  private columns(): void {
    for (const { element, from, count } of columnsOf(this.table)) {
      const style = this.parts.styles.automaticStyle('table-column', element.attributes['table:style-name'])
      const width = pixelsOf(propertiesIn(style, 'table-column')['style:column-width'])
      const hidden = /^(?:collapse|filter)$/.test(element.attributes['table:visibility'] ?? '')
      // What holds for all columns to the last one is how the sheet is usually.
      for (let at = from; at < Math.min(from + count, from + longestRun, largestSheet.columns); at++) {
        if (width && !(count > longestRun)) this.widths[at] = Math.max(8, width)
        if (hidden) this.hiddenColumns.add(at)
      }
      const usual = element.attributes['table:default-cell-style-name']
      this.columnStyles.push([from + count, usual])
      this.looksOfEmpty(usual)
      if ('fo:break-before' in propertiesIn(style, 'table-column')) this.limits.add('page breaks', this.name)
      if (propertiesIn(style, 'table-column')['fo:break-before'] === 'page' && from > 0) this.columnBreaks.push(from)
    }
  }
  /** How cells that hold nothing look by their row or column, or in long runs: it stays in the file. */
  private looksOfEmpty(named: string | undefined): void {
    if (named === undefined) return
    const { style, look } = this.parts.cellStyles.of(named)
    if (style || look) this.limits.add('looks of cells', this.name)
  }
  private columnStyle(column: number): string | undefined {
    return this.columnStyles.find(([past]) => column < past)?.[1]
  }

  private row(element: XmlElement, from: number, count: number): void {
    if (from >= largestSheet.rows) return
    const { attributes } = element
    const visibility = attributes['table:visibility']
    const style = this.parts.styles.automaticStyle('table-row', attributes['table:style-name'])
    const says = propertiesIn(style, 'table-row')
    const height = says['style:use-optimal-row-height'] === 'true' ? undefined : pointsOf(says['style:row-height'])
    this.looksOfEmpty(attributes['table:default-cell-style-name'])
    if ('fo:break-before' in says) this.limits.add('page breaks', this.name)
    if (says['fo:break-before'] === 'page' && from > 0) this.rowBreaks.push(from)
    const isLong = count > longestRun
    for (let row = from; row < from + (isLong ? 0 : count); row++) {
      if (height !== undefined) this.heights.set(row, Math.round(height * 100) / 100)
      if (visibility === 'collapse' || visibility === 'filter') this.hidden.set(row, visibility === 'filter')
    }
    for (const place of cellsOf(element)) {
      const rule = place.element.attributes['table:content-validation-name']
      const cells = Math.min(place.count, largestSheet.columns - place.from)
      if (rule !== undefined && cells > 0) this.ruled.add(rule, place.from, cells)
      this.cell(place, from, count, attributes['table:default-cell-style-name'])
    }
    this.ruled.endRows(from, Math.min(count, largestSheet.rows - from))
  }

  private cell({ element, from, count }: CellPlace, row: number, rows: number, rowStyle: string | undefined): void {
    const { attributes } = element
    const hasContent = element.children.length > 0 || 'office:value-type' in attributes || 'table:formula' in attributes
    const named = attributes['table:style-name']
    this.besideText(element, row, from)
    if (!hasContent && named === undefined) return
    // Looks of whole rows and columns stay in the file.
    if (!hasContent && (count > longestRun || rows > longestRun)) return this.looksOfEmpty(named)
    if (from >= largestSheet.columns) return
    const { style, look } = this.parts.cellStyles.of(named ?? rowStyle ?? this.columnStyle(from))
    const { cell, result } = this.content(element, style)
    if (!cell && !look) return
    for (let y = row; y < Math.min(row + rows, largestSheet.rows); y++) {
      const line = (this.rows[y] ??= [])
      for (let x = from; x < Math.min(from + count, largestSheet.columns); x++) {
        const key = y * largestSheet.columns + x
        if (cell) {
          takeRoom(this.room, this.name, Math.max(0, x + 1 - line.length), cell.formula)
          line[x] = cell
          if (result !== undefined) this.results.set(key, result)
        } else takeRoom(this.room, this.name, 0, undefined)
        if (look) this.looks(key, look)
      }
    }
  }
  private looks(key: number, look: CellLook): void {
    this.cells.set(key, look)
    if (look.top || look.right || look.bottom || look.left) this.withBorders = true
    if (look.font || look.size) this.withFonts = true
  }

  private content(
    element: XmlElement,
    style: CellStyle | undefined,
  ): { cell: Cell | undefined; result?: CellValue | undefined } {
    let text: string | undefined
    const value = valueOf(element, () => (text ??= cellText(element)))
    const formula = element.attributes['table:formula']
    // A number of days is shown as one only by a format.
    const dated = dateTypes[element.attributes['office:value-type'] ?? '']
    const own = dated && typeof value === 'number' && !style?.format ? { ...style, format: dated } : style
    const styled = own ? { style: own } : {}
    if (formula !== undefined) {
      try {
        const read = formulaRead(formula)
        // An error that somebody wrote is a value, which the standard has as a formula.
        if (errors.has(read)) return { cell: { value: { error: read }, ...styled } }
        return { cell: { formula: read, ...styled }, result: value }
      } catch (error) {
        if (!(error instanceof NoCounterpart)) throw error
        this.limits.add('formulas that cannot be read here (their results stay)', this.name)
      }
    }
    if (value !== undefined && value !== '') return { cell: { value, ...styled } }
    return { cell: own ? styled : undefined }
  }

  /** Merged cells, and what a cell has beside its text. */
  private besideText(element: XmlElement, row: number, column: number): void {
    const { attributes } = element
    const [down, across] = [
      countOf(attributes['table:number-rows-spanned']),
      countOf(attributes['table:number-columns-spanned']),
    ]
    if (down > 1 || across > 1)
      this.merged.push({ top: row, left: column, bottom: row + down - 1, right: column + across - 1 })
    if (attributes['table:number-matrix-rows-spanned'] !== undefined) this.limits.add('array formulas', this.name)
    for (const one of elements(element)) {
      if (one.name === 'office:annotation') this.limits.add('comments', this.name)
      else if (one.name === 'text:p') {
        for (const part of elements(one)) {
          if (part.name === 'text:a') this.limits.add('links in cells', this.name)
          else if (part.name === 'text:span') this.limits.add('formats inside a cell’s text', this.name)
        }
      } else if (one.name.startsWith('draw:')) this.drawn(one)
    }
  }
  private drawn(one: XmlElement): void {
    const object = child(one, 'draw:object')
    const feature = object ? 'charts' : child(one, 'draw:image') ? 'images' : 'drawn shapes'
    this.limits.add(one.name === 'draw:control' ? 'form controls' : feature, this.name)
  }
  private besideCells(): void {
    const { limits, name, table } = this
    for (const one of elements(child(table, 'table:shapes'))) this.drawn(one)
    for (const one of elements(table))
      if (/conditional-formats$/.test(one.name)) limits.add('conditional formats', name, [...elements(one)].length || 1)
    for (const one of elements(table))
      if (/^table:table-(?:row|column)-group$/.test(one.name)) limits.add('groups of rows and columns', name)
    if (table.attributes['table:print-ranges']) limits.add('page set-up', name)
    if (child(child(table, 'office:forms'), 'form:form')) limits.add('form controls', name)
    if (table.attributes['table:protected'] === 'true') limits.add('sheet protection', name)
    if (isHidden(table, this.parts)) limits.add('hidden sheets (they become visible)', name)
  }
}
const dateTypes: Readonly<Record<string, string>> = { date: 'yyyy-mm-dd', time: 'hh:mm:ss' }
