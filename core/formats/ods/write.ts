// Writes a workbook as a spreadsheet of the open standard (ISO/IEC 26300-1 §9), whole.

import type { DefinedName } from '../../calc/source'
import { displayOf } from '../../content/display'
import { errors } from '../../content/entry'
import { type CellLook, looksOf, type MergedArea, type SheetLooks } from '../../content/looks'
import { hiddenByFilter } from '../../content/sheet-filter'
import { type Cell, type CellValue, isError, type Sheet } from '../../content/workbook'
import { type PlacedCell, rowsBeside, type UsualFont } from '../beside'
import { lostInSheets, type SheetsWork } from '../lost-in-sheets'
import { blankParts } from '../odf/blank'
import { fromPixels } from '../odf/lengths'
import { emptyTag, openTag } from '../odf/new-styles'
import { textAttributesOf } from '../odf/properties'
import { escapeText } from '../opc/xml'
import { writeZip } from '../opc/zip'
import type { Limit, Written } from '../refusals'
import { NewCellStyles } from './cell-styles'
import { PlacedRules, RuleNames, type RuleSpan, rulesXml } from './entry-rules'
import { filtersXml } from './filter'
import { formulaWritten, NoCounterpart } from './formula'
import { sameFormat } from './number-format'
import { readOds } from './read'
import { settingsXml } from './settings'
import { attributesOf } from './values'

/** What the format cannot hold is told: it is read again, and laid beside the work. */
export function writeOds(work: SheetsWork): Written {
  const bytes = odsBytes(work)
  return { bytes, lost: lostInOds(work, bytes) }
}
export const lostInOds = (work: SheetsWork, bytes: Uint8Array): Limit[] =>
  lostInSheets(work, readOds(bytes), undefined, sameFormat)

function odsBytes({ workbook, resultOf, papers = [], names = [], usual }: SheetsWork): Uint8Array {
  const styles = new NewCellStyles(new Set(['Default']))
  const ruleNames = new RuleNames()
  const tables = workbook.sheets.map((sheet, at) => {
    const own = names.filter((name) => name.sheet === at)
    return tableXml(
      sheet,
      looksOf(sheet, papers[at]),
      hiddenByFilter(sheet),
      styles,
      (row, column) => resultOf(at, row, column),
      namesXml(own, workbook.sheets),
      new PlacedRules(sheet, ruleNames),
    )
  })
  const all = names.filter(({ sheet }) => sheet === null)
  const body = `<office:spreadsheet>${rulesXml(ruleNames.fresh)}${tables.join('')}${namesXml(all, workbook.sheets)}${filtersXml(workbook.sheets)}</office:spreadsheet>`
  const settings = settingsXml(workbook.sheets)
  return writeZip(
    blankParts('spreadsheet', {
      automatic: styles.xml,
      body,
      styles: usualXml(usual),
      more: [['settings.xml', settings]],
    }),
  )
}

const usualXml = (usual: UsualFont = { name: 'Carlito', size: 11 }): string =>
  `<style:default-style style:family="table-cell">${emptyTag('style:text-properties', textAttributesOf({ font: usual.name, size: usual.size }))}</style:default-style>` +
  '<style:style style:name="Default" style:family="table-cell"/>'

/** Names that something stands for; of those that cannot be said nothing. */
export function namesXml(names: readonly DefinedName[], sheets: readonly Sheet[]): string {
  let xml = ''
  for (const { name, sheet, formula } of names) {
    try {
      const written = formulaWritten(formula).slice('of:='.length)
      const base = `$'${(sheets[sheet ?? 0]?.name ?? '').replaceAll("'", "''")}'.$A$1`
      const range = /^\[([^\]]*)\]$/.exec(written)?.[1]
      xml += range?.startsWith('$')
        ? emptyTag('table:named-range', {
            'table:name': name,
            'table:base-cell-address': base,
            'table:cell-range-address': range,
          })
        : emptyTag('table:named-expression', {
            'table:name': name,
            'table:base-cell-address': base,
            'table:expression': written,
          })
    } catch (error) {
      if (!(error instanceof NoCounterpart)) throw error
    }
  }
  return xml && `<table:named-expressions>${xml}</table:named-expressions>`
}

function tableXml(
  sheet: Sheet,
  looks: SheetLooks,
  hidden: ReadonlyMap<number, boolean>,
  styles: NewCellStyles,
  resultOf: (row: number, column: number) => CellValue | undefined,
  names: string,
  rules: PlacedRules,
): string {
  const style = styles.plain('table', { 'table:display': 'true' })
  let xml = openTag('table:table', { 'table:name': sheet.name, 'table:style-name': style })
  const width = Math.max(
    0,
    ...Object.keys(sheet.widths).map((column) => Number(column) + 1),
    ...[...looks.hiddenColumns].map((column) => column + 1),
  )
  for (let column = 0; column < width; column++)
    xml += columnXml(sheet.widths[column], looks.hiddenColumns.has(column), styles)
  if (!width) xml += '<table:table-column/>'
  const merged = coveredBy(looks.merged)
  const byRow = new Map(rowsBeside(sheet, looks))
  for (const row of merged.rows) if (!byRow.has(row)) byRow.set(row, [])
  let next = 0
  for (const [row, line] of [...byRow].sort(([a], [b]) => a - b)) {
    xml += blankRows(next, row, rules)
    xml += rowXml(row, line, looks, hidden, merged, styles, resultOf, rules.in(row))
    next = row + 1
  }
  const end = Math.max(next, rules.breaks.at(-1) ?? 0)
  xml += blankRows(next, end || 1, rules)
  return `${xml}${names}</table:table>`
}
/** Rows that hold nothing, each as often as it is the same; what may be entered into them is said. */
function blankRows(from: number, to: number, rules: PlacedRules): string {
  let xml = ''
  for (const [at, row] of [from, ...rules.breaks.filter((one) => one > from && one < to)].entries()) {
    const next = rules.breaks.filter((one) => one > from && one < to)[at] ?? to
    if (next <= row) continue
    const count = next - row
    xml += `${openTag('table:table-row', count > 1 ? { 'table:number-rows-repeated': String(count) } : {})}${blankCells(0, Number.POSITIVE_INFINITY, rules.in(row)) || '<table:table-cell/>'}</table:table-row>`
  }
  return xml
}
/** Cells that hold nothing, from one to before another; behind the last that a rule is of there are none. */
function blankCells(from: number, to: number, spans: readonly RuleSpan[]): string {
  let xml = ''
  let at = from
  for (const { left, right, name } of spans) {
    const [first, past] = [Math.max(left, from), Math.min(right + 1, to)]
    if (past <= first) continue
    if (first > at) xml += emptyCells(first - at)
    xml += emptyCells(past - first, { 'table:content-validation-name': name })
    at = past
  }
  return to > at && to !== Number.POSITIVE_INFINITY ? xml + emptyCells(to - at) : xml
}

function columnXml(width: number | undefined, hidden: boolean, styles: NewCellStyles): string {
  return emptyTag('table:table-column', {
    ...(width !== undefined && {
      'table:style-name': styles.plain('table-column', { 'style:column-width': fromPixels(width) }),
    }),
    ...(hidden && { 'table:visibility': 'collapse' }),
  })
}

/** Which cells merged ones cover. */
export interface Covered {
  rows: Set<number>
  /** The span of the first cell of each area, by `row column`. */
  first: Map<string, { rows: number; columns: number }>
  has(row: number, column: number): boolean
  /** Columns of a row that are covered. */
  in(row: number): number[]
}
export function coveredBy(merged: readonly MergedArea[]): Covered {
  const rows = new Set<number>()
  const first = new Map<string, { rows: number; columns: number }>()
  const places = new Map<number, Set<number>>()
  for (const { top, left, bottom, right } of merged) {
    first.set(`${top} ${left}`, { rows: bottom - top + 1, columns: right - left + 1 })
    for (let row = top; row <= bottom; row++) {
      rows.add(row)
      let line = places.get(row)
      if (!line) places.set(row, (line = new Set()))
      for (let column = left; column <= right; column++) if (row !== top || column !== left) line.add(column)
    }
  }
  return {
    rows,
    first,
    has: (row, column) => places.get(row)?.has(column) ?? false,
    in: (row) => [...(places.get(row) ?? [])],
  }
}

function rowXml(
  row: number,
  line: readonly PlacedCell[],
  { heights }: SheetLooks,
  hidden: ReadonlyMap<number, boolean>,
  merged: Covered,
  styles: NewCellStyles,
  resultOf: (row: number, column: number) => CellValue | undefined,
  rules: readonly RuleSpan[],
): string {
  const height = heights.get(row)
  const attributes: Record<string, string> = {
    ...(height !== undefined && {
      'table:style-name': styles.plain('table-row', {
        'style:row-height': `${height}pt`,
        'style:use-optimal-row-height': 'false',
      }),
    }),
    ...(hidden.has(row) && { 'table:visibility': hidden.get(row) ? 'filter' : 'collapse' }),
  }
  const placed = new Map(line.map((one) => [one.column, one]))
  for (const column of merged.in(row))
    if (!placed.has(column)) placed.set(column, { column, cell: undefined, look: undefined })
  for (const key of merged.first.keys()) {
    const [top, left] = key.split(' ').map(Number) as [number, number]
    if (top === row && !placed.has(left)) placed.set(left, { column: left, cell: undefined, look: undefined })
  }
  let xml = openTag('table:table-row', attributes)
  let next = 0
  for (const { column, cell, look } of [...placed.values()].sort((a, b) => a.column - b.column)) {
    xml += blankCells(next, column, rules)
    const span = merged.first.get(`${row} ${column}`)
    const rule = rules.find(({ left, right }) => column >= left && column <= right)
    xml += cellXml(cell, look, styles, () => resultOf(row, column), {
      covered: merged.has(row, column),
      attributes: {
        ...(rule && { 'table:content-validation-name': rule.name }),
        ...(span && {
          'table:number-columns-spanned': String(span.columns),
          'table:number-rows-spanned': String(span.rows),
        }),
      },
    })
    next = column + 1
  }
  const rest = blankCells(next, Number.POSITIVE_INFINITY, rules)
  xml += rest || (next ? '' : '<table:table-cell/>')
  return `${xml}</table:table-row>`
}
export const emptyCells = (count: number, attributes: Record<string, string> = {}): string =>
  emptyTag('table:table-cell', {
    ...attributes,
    ...(count > 1 && { 'table:number-columns-repeated': String(count) }),
  })

/** A cell's value as attributes and text; a formula that cannot be said is its result. */
export function contentXml(
  cell: Cell | undefined,
  resultOf: () => CellValue | undefined,
): { attributes: Record<string, string>; text: string } {
  let value = cell?.value
  let formula: string | undefined
  if (cell?.formula !== undefined) {
    value = resultOf()
    try {
      formula = formulaWritten(cell.formula)
    } catch (error) {
      if (!(error instanceof NoCounterpart)) throw error
    }
  }
  // The standard has errors in formulas alone (ISO/IEC 26300-2 §5.7).
  else if (isError(value) && errors.has(value.error)) formula = `of:=${value.error}`
  if (value === '') value = undefined
  const attributes = {
    ...(formula !== undefined && { 'table:formula': formula }),
    ...attributesOf(value, cell?.style?.format),
  }
  return { attributes, text: value === undefined ? '' : textXml(value, cell) }
}
/** What a cell shows (ISO/IEC 26300-1 §9.1.4): programs that do not know its format read that. */
function textXml(value: CellValue, cell: Cell | undefined): string {
  const shown = typeof value === 'number' && cell?.style?.format !== undefined ? displayOf(cell, value) : String(value)
  const text = isError(value) ? value.error : typeof value === 'boolean' ? String(value).toUpperCase() : shown
  return text
    .split('\n')
    .map((line) => `<text:p>${lineXml(line)}</text:p>`)
    .join('')
}
const lineXml = (line: string): string =>
  escapeText(line)
    .replaceAll('\t', '<text:tab/>')
    .replace(/^ +| {2,}| +$/g, (spaces) => `<text:s text:c="${spaces.length}"/>`)

function cellXml(
  cell: Cell | undefined,
  look: CellLook | undefined,
  styles: NewCellStyles,
  resultOf: () => CellValue | undefined,
  { covered, attributes: spans = {} }: { covered: boolean; attributes?: Record<string, string> },
): string {
  const { attributes, text } = contentXml(cell, resultOf)
  const style = cell?.style || look ? styles.cell({ style: cell?.style, look }) : undefined
  const name = covered ? 'table:covered-table-cell' : 'table:table-cell'
  const all = { ...(style && { 'table:style-name': style }), ...spans, ...attributes }
  return text ? `${openTag(name, all)}${text}</${name}>` : emptyTag(name, all)
}
