// Writes the workbook model as SpreadsheetML (ECMA-376 part 1, §18).

import type { DefinedName } from '../../calc/source'
import { type CellLook, looksOf, type SheetLooks } from '../../content/looks'
import { paperWith, sameSetUp, setUpOf } from '../../content/sheet-set-up'
import {
  type Cell,
  type CellStyle,
  type CellValue,
  columnName,
  isError,
  type Sheet,
  type Workbook,
} from '../../content/workbook'
import { type Beside, rowsBeside, type UsualFont } from '../beside'
import { contentTypesXml, relationshipsXml } from '../opc/package'
import { escapeAttribute, escapeText, xmlHead } from '../opc/xml'
import { writeZip } from '../opc/zip'
import { patchRules } from './entry-rules'
import { patchFilter } from './filter'
import { patchSetUp } from './patch-set-up'
import { encodeString, escapeString } from './string'
import { kindOfLine } from './style-sheet'

const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'
const kind = 'application/vnd.openxmlformats-officedocument.spreadsheetml'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'

/** The result of a formula, by sheet index, row and column; undefined while it is not computed. */
export type ResultOf = (sheet: number, row: number, column: number) => CellValue | undefined

/**
 * @param mainType what it is of its family: with macros, a template
 * @param beside what it holds beside the model
 * @returns the bytes of an .xlsx; the same model and results always give the same bytes
 */
export function writeXlsx(
  workbook: Workbook,
  resultOf: ResultOf = () => undefined,
  mainType = `${kind}.sheet.main+xml`,
  { papers = [], names = [], usual = usualFont }: Beside = {},
): Uint8Array {
  const strings = new Map<string, number>()
  const styles = new StyleTable(usual)
  const sheets = workbook.sheets.map((sheet, index) =>
    sheetXml(sheet, index, looksOf(sheet, papers[index]), resultOf, strings, styles),
  )
  return writeZip([
    [
      '[Content_Types].xml',
      contentTypesXml([
        ['/xl/workbook.xml', mainType],
        ['/xl/styles.xml', `${kind}.styles+xml`],
        ['/xl/sharedStrings.xml', `${kind}.sharedStrings+xml`],
        ...sheets.map((_, index) => [`/xl/worksheets/sheet${index + 1}.xml`, `${kind}.worksheet+xml`] as const),
      ]),
    ],
    ['_rels/.rels', relationshipsXml([['rId1', 'officeDocument', 'xl/workbook.xml']])],
    [
      'xl/workbook.xml',
      `${xmlHead}<workbook xmlns="${main}" xmlns:r="${office}"><sheets>${workbook.sheets
        .map(
          ({ name }, index) => `<sheet name="${escapeAttribute(name)}" sheetId="${index + 1}" r:id="rId${index + 3}"/>`,
        )
        .join('')}</sheets>${namesXml(names)}<calcPr fullCalcOnLoad="1"/></workbook>`,
    ],
    [
      'xl/_rels/workbook.xml.rels',
      relationshipsXml([
        ['rId1', 'styles', 'styles.xml'],
        ['rId2', 'sharedStrings', 'sharedStrings.xml'],
        ...sheets.map((_, index) => [`rId${index + 3}`, 'worksheet', `worksheets/sheet${index + 1}.xml`] as const),
      ]),
    ],
    ['xl/styles.xml', styles.xml()],
    [
      'xl/sharedStrings.xml',
      `${xmlHead}<sst xmlns="${main}" uniqueCount="${strings.size}">${[...strings.keys()].map((text) => `<si><t xml:space="preserve">${escapeString(text)}</t></si>`).join('')}</sst>`,
    ],
    ...sheets.map((xml, index) => [`xl/worksheets/sheet${index + 1}.xml`, xml] as const),
  ])
}

/** Pixels of a column against the characters that files count (§18.3.1.13, with seven pixels a digit). */
export const widthToFile = (pixels: number): number => (pixels - 5) / 7
export const widthFromFile = (characters: number): number => Math.max(8, Math.round(characters * 7 + 5))

function namesXml(names: readonly DefinedName[]): string {
  if (!names.length) return ''
  const each = names.map(
    ({ name, sheet, formula }) =>
      `<definedName name="${escapeAttribute(name)}"${sheet === null ? '' : ` localSheetId="${sheet}"`}>${escapeText(formula)}</definedName>`,
  )
  return `<definedNames>${each.join('')}</definedNames>`
}

function sheetXml(
  sheet: Sheet,
  index: number,
  looks: SheetLooks,
  resultOf: ResultOf,
  strings: Map<string, number>,
  styles: StyleTable,
): string {
  const rows: string[] = []
  for (const [y, line] of rowsBeside(sheet, looks)) {
    const height = looks.heights.get(y)
    const own = `${height === undefined ? '' : ` ht="${height}" customHeight="1"`}${looks.hiddenRows.has(y) ? ' hidden="1"' : ''}`
    let xml = `<row r="${y + 1}"${own}>`
    for (const { column, cell, look } of line)
      xml += cellXml(
        cell ?? {},
        `${columnName(column)}${y + 1}`,
        styles.indexOf(cell?.style, look),
        strings,
        cell?.formula === undefined ? undefined : resultOf(index, y, column),
      )
    rows.push(`${xml}</row>`)
  }
  const { frozen } = sheet
  const pane = frozen
    ? `<sheetViews><sheetView workbookViewId="0"><pane${frozen.columns ? ` xSplit="${frozen.columns}"` : ''}${frozen.rows ? ` ySplit="${frozen.rows}"` : ''} topLeftCell="${columnName(frozen.columns)}${frozen.rows + 1}" state="frozen"/></sheetView></sheetViews>`
    : ''
  const widths = [...new Set([...Object.keys(sheet.widths).map(Number), ...looks.hiddenColumns])]
    .sort((a, b) => a - b)
    .map((column) => {
      const pixels = sheet.widths[column]
      const width = pixels === undefined ? '' : ` width="${widthToFile(pixels)}" customWidth="1"`
      const hidden = looks.hiddenColumns.has(column) ? ' hidden="1"' : ''
      return `<col min="${column + 1}" max="${column + 1}"${width}${hidden}/>`
    })
    .join('')
  const merged = looks.merged.map(
    ({ top, left, bottom, right }) =>
      `<mergeCell ref="${columnName(left)}${top + 1}:${columnName(right)}${bottom + 1}"/>`,
  )
  const merges = merged.length ? `<mergeCells count="${merged.length}">${merged.join('')}</mergeCells>` : ''
  const xml = `${xmlHead}<worksheet xmlns="${main}">${pane}${widths && `<cols>${widths}</cols>`}<sheetData>${rows.join('')}</sheetData>${merges}</worksheet>`
  const filtered = sheet.filter ? patchFilter(xml, '', { ...sheet, filter: undefined }, sheet) : xml
  const ruled = sheet.rules ? patchRules(filtered, '', { ...sheet, rules: undefined }, sheet) : filtered
  // Also what its file said of its paper comes along.
  const setUp = setUpOf(paperWith(looks.paper, sheet.setUp))
  return sameSetUp(setUp, setUpOf(undefined)) ? ruled : patchSetUp(ruled, '', setUp)
}

function cellXml(
  cell: Cell,
  at: string,
  style: number,
  strings: Map<string, number>,
  result: CellValue | undefined,
): string {
  const start = `<c r="${at}"${style ? ` s="${style}"` : ''}`
  if (cell.formula !== undefined) {
    const formula = `<f>${escapeText(cell.formula)}</f>`
    if (result === undefined) return `${start}>${formula}</c>`
    if (typeof result === 'string') return `${start} t="str">${formula}<v>${escapeString(result)}</v></c>`
    if (typeof result === 'boolean') return `${start} t="b">${formula}<v>${result ? 1 : 0}</v></c>`
    return isError(result)
      ? `${start} t="e">${formula}<v>${escapeText(result.error)}</v></c>`
      : `${start}>${formula}<v>${result}</v></c>`
  }
  const { value } = cell
  if (value === undefined) return `${start}/>`
  if (typeof value === 'string') {
    let number = strings.get(value)
    if (number === undefined) {
      number = strings.size
      strings.set(value, number)
    }
    return `${start} t="s"><v>${number}</v></c>`
  }
  if (typeof value === 'boolean') return `${start} t="b"><v>${value ? 1 : 0}</v></c>`
  return isError(value)
    ? `${start} t="e"><v>${escapeText(value.error)}</v></c>`
    : `${start}><v>${Object.is(value, -0) ? 0 : value}</v></c>`
}

const usualFont: UsualFont = { name: 'Atkinson Hyperlegible Next', size: 11 }
const fontXml = (traits: string, { name, size }: UsualFont, color: string) =>
  `<font>${traits}<sz val="${size}"/>${color}<name val="${escapeAttribute(name)}"/></font>`
function bordersXml(look: CellLook, argb: (hex: string) => string): string {
  const sides = (['left', 'right', 'top', 'bottom'] as const).map((side) => {
    const line = look[side]
    if (!line) return `<${side}/>`
    const color = line.color === null ? '<color auto="1"/>' : `<color rgb="${argb(line.color)}"/>`
    return `<${side} style="${kindOfLine(line)}">${color}</${side}>`
  })
  return `<border>${sides.join('')}<diagonal/></border>`
}

/** Cell formats as styles.xml numbers them (§18.8.10); number 0 is the usual one. */
class StyleTable {
  private readonly fonts: string[]
  private readonly fills = [
    '<fill><patternFill patternType="none"/></fill>',
    '<fill><patternFill patternType="gray125"/></fill>',
  ]
  private readonly formats: string[] = []
  private readonly xfs = ['<xf numFmtId="0" fontId="0" fillId="0" borderId="0" xfId="0"/>']
  private readonly known = new Map<string, number>()
  private readonly borders = ['<border><left/><right/><top/><bottom/><diagonal/></border>']
  private readonly seen = new Map<CellStyle | undefined, Map<CellLook | undefined, number>>()

  constructor(private readonly usual: UsualFont) {
    this.fonts = [fontXml('', usual, '')]
  }

  indexOf(style: CellStyle | undefined, look?: CellLook): number {
    if (!style && !look) return 0
    const quick = this.seen.get(style)?.get(look)
    if (quick !== undefined) return quick
    const { vertical } = look ?? {}
    const { bold, italic, underline, strike, color, fill, align, wrap, format } = style ?? {}
    const number = (list: string[], xml: string) => {
      const at = list.indexOf(xml)
      return at >= 0 ? at : list.push(xml) - 1
    }
    const argb = (hex: string) => `FF${hex.slice(1).toUpperCase()}`
    const font = number(
      this.fonts,
      fontXml(
        `${bold ? '<b/>' : ''}${italic ? '<i/>' : ''}${strike ? '<strike/>' : ''}${underline ? '<u/>' : ''}`,
        { name: look?.font ?? this.usual.name, size: look?.size ?? this.usual.size },
        color ? `<color rgb="${argb(color)}"/>` : '',
      ),
    )
    const filled = fill
      ? number(
          this.fills,
          `<fill><patternFill patternType="solid"><fgColor rgb="${argb(fill)}"/><bgColor indexed="64"/></patternFill></fill>`,
        )
      : 0
    const formatted = format === undefined ? 0 : 164 + number(this.formats, format)
    const bordered = look && number(this.borders, bordersXml(look, argb))
    const upright = vertical ? ` vertical="${vertical === 'middle' ? 'center' : vertical}"` : ''
    const alignment =
      align || wrap || vertical
        ? `<alignment${align ? ` horizontal="${align}"` : ''}${upright}${wrap ? ' wrapText="1"' : ''}/>`
        : ''
    const xf = `<xf numFmtId="${formatted}" fontId="${font}" fillId="${filled}" borderId="${bordered ?? 0}" xfId="0" applyNumberFormat="1" applyFont="1" applyFill="1"${bordered ? ' applyBorder="1"' : ''}${alignment ? ` applyAlignment="1">${alignment}</xf>` : '/>'}`
    let index = this.known.get(xf)
    if (index === undefined) {
      index = this.xfs.push(xf) - 1
      this.known.set(xf, index)
    }
    const ofStyle = this.seen.get(style) ?? new Map()
    this.seen.set(style, ofStyle.set(look, index))
    return index
  }

  xml(): string {
    const list = (name: string, items: string[]) => `<${name} count="${items.length}">${items.join('')}</${name}>`
    return (
      `${xmlHead}<styleSheet xmlns="${main}">` +
      (this.formats.length
        ? list(
            'numFmts',
            this.formats.map(
              (code, index) =>
                `<numFmt numFmtId="${164 + index}" formatCode="${escapeAttribute(encodeString(code))}"/>`,
            ),
          )
        : '') +
      list('fonts', this.fonts) +
      list('fills', this.fills) +
      list('borders', this.borders) +
      '<cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs>' +
      list('cellXfs', this.xfs) +
      '<cellStyles count="1"><cellStyle name="Normal" xfId="0" builtinId="0"/></cellStyles></styleSheet>'
    )
  }
}
