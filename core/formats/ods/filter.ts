// Filters of sheets in the open standard (ISO/IEC 26300-1 §9.4.15 and §9.5): a range of cells that shows buttons at its
// headings, with the conditions that its rows are shown by.
import {
  type ColumnFilter,
  columnsOf,
  type FilterTest,
  type SheetFilter,
  sameFilter,
  withColumn,
} from '../../content/sheet-filter'
import { columnName, type Sheet } from '../../content/workbook'
import { emptyTag, openTag } from '../odf/new-styles'
import type { Splices } from '../opc/spans'
import { child, elements, type XmlElement } from '../opc/xml'
import { NotPatched } from '../refusals'
import { areaIn } from '../xlsx/formula-source'
import { formulaRead, NoCounterpart } from './formula'

export interface FoundFilter {
  filter: SheetFilter
  element: XmlElement
}
export interface FoundFilters {
  /** By the number of a sheet. */
  bySheet: Map<number, FoundFilter>
  /** Ranges with a filter that is not in the model: the second of a sheet, and those of no cells. */
  others: number
  names: ReadonlySet<string>
}

/** @param xml the part that the body is of */
export function filtersIn(body: XmlElement, tables: readonly XmlElement[], xml: string): FoundFilters {
  const numbers = new Map(tables.map((table, at) => [table.attributes['table:name'] ?? '', at]))
  const found: FoundFilters = { bySheet: new Map(), others: 0, names: new Set() }
  const names = new Set<string>()
  for (const element of elements(child(body, 'table:database-ranges'), 'table:database-range')) {
    const { attributes } = element
    names.add(attributes['table:name'] ?? '')
    const filter = child(element, 'table:filter')
    if (attributes['table:display-filter-buttons'] !== 'true' && !filter) continue
    const place = placeOf(attributes['table:target-range-address'] ?? '')
    const sheet = place ? numbers.get(place.name) : undefined
    // Columns as records, and conditions that stand elsewhere.
    const known =
      (attributes['table:orientation'] ?? 'row') === 'row' &&
      attributes['table:contains-header'] !== 'false' &&
      filter?.attributes['table:target-range-address'] === undefined &&
      filter?.attributes['table:condition-source'] !== 'cell-range'
    if (!place || sheet === undefined || !known || found.bySheet.has(sheet)) {
      found.others++
      continue
    }
    const { area } = place
    found.bySheet.set(sheet, { filter: { area, columns: columnsIn(filter, area.left, xml) }, element })
  }
  return { ...found, names }
}

function placeOf(address: string): { name: string; area: SheetFilter['area'] } | null {
  try {
    const parts = /^(?:'((?:[^']|'')*)'|([^'!]+))!(.+)$/.exec(formulaRead(`of:=[${address}]`))
    const found = areaIn(parts?.[3], 0)
    if (!parts || !found) return null
    const { sheet: _, ...area } = found
    return { name: (parts[1] ?? parts[2] ?? '').replaceAll("''", "'"), area }
  } catch (error) {
    if (error instanceof NoCounterpart) return null
    throw error
  }
}

/** What each column's cells are to be. */
function columnsIn(filter: XmlElement | undefined, left: number, xml: string): Record<number, ColumnFilter> {
  let all: SheetFilter = { area: { top: 0, left, bottom: 0, right: left }, columns: {} }
  const [top] = elements(filter)
  if (!top) return {}
  for (const piece of top.name === 'table:filter-and' ? elements(top) : [top]) {
    const conditions = piece.name === 'table:filter-condition' ? [piece] : [...elements(piece)]
    const fields = new Set(conditions.map((one) => Number(one.attributes['table:field-number'])))
    const column = left + Math.min(...fields)
    if (!Number.isFinite(column)) continue
    const known = fields.size === 1 ? pieceFilter(piece, conditions) : null
    const before = all.columns[column]
    const one: ColumnFilter = known ?? { by: 'other', kept: xml.slice(piece.at!.start, piece.at!.end) }
    all = withColumn(all, column, before ? both(before, one, () => xml.slice(top.at!.start, top.at!.end)) : one)
  }
  return all.columns
}
/** Several that are all to hold are tests; what is no test is kept as the file says it. */
function both(a: ColumnFilter, b: ColumnFilter, whole: () => string): ColumnFilter {
  const test = (one: ColumnFilter) => one.by === 'tested' && (one.all || one.tests.length === 1)
  return a.by === 'tested' && b.by === 'tested' && test(a) && test(b)
    ? { by: 'tested', tests: [...a.tests, ...b.tests], all: true }
    : { by: 'other', kept: whole() }
}

function pieceFilter(piece: XmlElement, conditions: readonly XmlElement[]): ColumnFilter | null {
  if (piece.name === 'table:filter-condition') {
    const items = [...elements(piece, 'table:filter-set-item')].map((one) => one.attributes['table:value'] ?? '')
    if (items.length && piece.attributes['table:operator'] === '=')
      return { by: 'one of', texts: items.filter((text) => text !== ''), empty: items.includes('') }
    const test = items.length ? null : testOf(piece)
    return test && { by: 'tested', tests: [test], all: true }
  }
  const tests = conditions.map((one) =>
    one.name === 'table:filter-condition' && !child(one, 'table:filter-set-item') ? testOf(one) : null,
  )
  const known = tests.filter((test) => test !== null)
  return piece.name === 'table:filter-or' && known.length && known.length === tests.length
    ? { by: 'tested', tests: known, all: false }
    : null
}

/** How one is held against another, here and in rules for entries. */
export const comparisons = {
  '=': 'is',
  '!=': 'is not',
  '>': 'above',
  '>=': 'at least',
  '<': 'below',
  '<=': 'at most',
} as const
const operators: Readonly<Record<string, FilterTest['test']>> = {
  ...comparisons,
  contains: 'contains',
  '!contains': 'lacks',
  'begins-with': 'begins',
  'ends-with': 'ends',
}
function testOf({ attributes }: XmlElement): FilterTest | null {
  const operator = attributes['table:operator'] ?? ''
  const value = attributes['table:value'] ?? ''
  if (attributes['table:case-sensitive'] === 'true') return null
  if (operator === 'empty') return { test: 'is', with: '' }
  if (operator === '!empty') return { test: 'is not', with: '' }
  if (operator === 'match' || operator === '!match') return patternOf(operator, value)
  const test = operators[operator]
  if (!test) return null
  const isNumber = attributes['table:data-type'] === 'number' && value.trim() !== '' && Number.isFinite(Number(value))
  return { test, with: isNumber ? Number(value) : value }
}

/** Patterns that only say that a text is within, at the beginning or at the end. */
function patternOf(operator: 'match' | '!match', pattern: string): FilterTest | null {
  const [, from, within, to] = /^(\^|\.\*|)((?:[^\\.*+?^$|()[\]{}]|\\[^\p{L}\p{N}])+)(\$|\.\*|)$/u.exec(pattern) ?? []
  if (within === undefined) return null
  const text = within.replace(/\\(.)/gu, '$1')
  const [open, close] = [from !== '^', to !== '$']
  if (operator === '!match') return open && close ? { test: 'lacks', with: text } : null
  if (!open && !close) return { test: 'is', with: text }
  return { test: open && close ? 'contains' : open ? 'ends' : 'begins', with: text }
}
const plainPattern = (text: string) => text.replace(/[\\.*+?^$|()[\]{}]/g, '\\$&')

function conditionXml(field: number, { test, with: limit }: FilterTest): string {
  const number = { 'table:field-number': String(field) }
  const said = (operator: string, value: string, type = 'text') =>
    emptyTag('table:filter-condition', {
      ...number,
      'table:operator': operator,
      'table:value': value,
      ...(type !== 'text' && { 'table:data-type': type }),
    })
  if (limit === '' && test === 'is') return said('empty', '')
  if (limit === '' && test === 'is not') return said('!empty', '')
  const pattern = plainPattern(String(limit))
  if (test === 'contains' || test === 'lacks') return said(test === 'lacks' ? '!match' : 'match', `.*${pattern}.*`)
  if (test === 'begins') return said('match', `^${pattern}.*`)
  if (test === 'ends') return said('match', `.*${pattern}$`)
  const operator = Object.keys(operators).find((one) => operators[one] === test)!
  return said(operator, String(limit), typeof limit === 'number' ? 'number' : 'text')
}

/** What XML cannot hold is in no cell of these files. */
const unstorable = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])/

/** The pieces that all are to hold for a column; null for what only files of another type say. */
function piecesXml(field: number, one: ColumnFilter): string[] | null {
  if (one.by === 'other') return one.kept.startsWith('<table:filter-') ? [one.kept] : null
  if (unstorable.test(JSON.stringify(one))) return null
  if (one.by === 'one of') {
    const items = [...one.texts, ...(one.empty ? [''] : [])]
    const set = items.map((text) => emptyTag('table:filter-set-item', { 'table:value': text })).join('')
    const tag = openTag('table:filter-condition', {
      'table:field-number': String(field),
      'table:operator': '=',
      'table:value': items[0] ?? '',
    })
    return [`${tag}${set}</table:filter-condition>`]
  }
  const each = one.tests.map((test) => conditionXml(field, test))
  return one.all || each.length === 1 ? each : [`<table:filter-or>${each.join('')}</table:filter-or>`]
}

function filterXml(filter: SheetFilter): string {
  const pieces = columnsOf(filter).flatMap(([column, one]) => piecesXml(column - filter.area.left, one) ?? [])
  const [first] = pieces
  if (first === undefined) return ''
  // All of it as a file says it is the whole of it.
  if (pieces.some((piece) => piece.startsWith('<table:filter-and')) && pieces.length > 1) throw new NotPatched('filter')
  return `<table:filter>${pieces.length > 1 ? `<table:filter-and>${pieces.join('')}</table:filter-and>` : first}</table:filter>`
}

function addressOf(name: string, { top, left, bottom, right }: SheetFilter['area']): string {
  const sheet = `'${name.replaceAll("'", "''")}'`
  return `${sheet}.${columnName(left)}${top + 1}:${sheet}.${columnName(right)}${bottom + 1}`
}

function rangeXml(sheet: Sheet, filter: SheetFilter, names: Set<string>): string {
  let name = 'Filter'
  for (let number = 2; names.has(name); number++) name = `Filter ${number}`
  names.add(name)
  const attributes = {
    'table:name': name,
    'table:target-range-address': addressOf(sheet.name, filter.area),
    'table:display-filter-buttons': 'true',
  }
  const inner = filterXml(filter)
  return inner
    ? `${openTag('table:database-range', attributes)}${inner}</table:database-range>`
    : emptyTag('table:database-range', attributes)
}

/** The filters of a workbook that is written whole. */
export function filtersXml(sheets: readonly Sheet[]): string {
  const names = new Set<string>()
  const each = sheets.flatMap((sheet) => (sheet.filter ? [rangeXml(sheet, sheet.filter, names)] : []))
  return each.length ? `<table:database-ranges>${each.join('')}</table:database-ranges>` : ''
}

/** What stands behind the ranges in a body (§9.1.1). */
const behindRanges = /^table:(?:data-pilot-tables|consolidation|dde-links)$/

/** Writes the filters that are others now where they stand. @throws NotPatched */
export function patchFilters(
  body: XmlElement,
  tables: readonly XmlElement[],
  xml: string,
  splices: Splices,
  before: readonly Sheet[],
  now: readonly Sheet[],
): void {
  const changed = now.flatMap((sheet, at) => (sameFilter(before[at]?.filter, sheet.filter) ? [] : [at]))
  if (!changed.length) return
  const { bySheet, names } = filtersIn(body, tables, xml)
  const taken = new Set(names)
  let fresh = ''
  for (const at of changed) {
    const sheet = now[at]!
    const { filter } = sheet
    const found = bySheet.get(at)
    if (!found) {
      if (filter) fresh += rangeXml(sheet, filter, taken)
      continue
    }
    const { element } = found
    const rest = [...elements(element)].filter(({ name }) => name !== 'table:filter')
    const source = rest.filter(({ name }) => name.startsWith('table:database-source'))
    const said = (some: readonly XmlElement[]) => some.map((one) => xml.slice(one.at!.start, one.at!.end)).join('')
    const attributes = { ...element.attributes }
    delete attributes['table:display-filter-buttons']
    if (filter) {
      attributes['table:display-filter-buttons'] = 'true'
      attributes['table:target-range-address'] = addressOf(sheet.name, filter.area)
    }
    const others = rest.filter((one) => !source.includes(one))
    const inner = said(source) + (filter ? filterXml(filter) : '') + said(others)
    splices.replace(
      element.at!.start,
      element.at!.end,
      inner
        ? `${openTag('table:database-range', attributes)}${inner}</table:database-range>`
        : emptyTag('table:database-range', attributes),
    )
  }
  if (!fresh) return
  const ranges = child(body, 'table:database-ranges')
  if (ranges && ranges.at!.inner[1] > ranges.at!.inner[0]) splices.insert(ranges.at!.inner[1], fresh)
  else if (ranges)
    splices.replace(ranges.at!.start, ranges.at!.end, `<table:database-ranges>${fresh}</table:database-ranges>`)
  else {
    const next = [...elements(body)].find(({ name }) => behindRanges.test(name))
    splices.insert(next ? next.at!.start : body.at!.inner[1], `<table:database-ranges>${fresh}</table:database-ranges>`)
  }
}
