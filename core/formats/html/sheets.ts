// The tables of a web page as sheets (the HTML standard of the WHATWG, §4.9): what programs write that put out tables, often
// under the name of an older spreadsheet.
import type { DefaultTreeAdapterTypes } from 'parse5'
import { noSource } from '../../calc/source'
import { serialOfDate } from '../../content/entry'
import type { MergedArea, SheetLooks } from '../../content/looks'
import { noLooks, withLooks } from '../../content/looks'
import { type Cell, type CellStyle, largestSheet, type Sheet, sheetNameFault } from '../../content/workbook'
import { say } from '../../words/said'
import { cellOfField } from '../csv/values'
import { DamagedFile, Limits } from '../refusals'
import { decoded } from '../text/encoding'
import { type ReadWorkbook, type Room, roomForCells, takeRoom } from '../xlsx/read'
import { colorFrom, declarationsOf, pointsFrom } from './css'
import { encodingOfPage, mostMarkup } from './read'
import { parsed } from './tree'

type Element = DefaultTreeAdapterTypes.Element
type Child = DefaultTreeAdapterTypes.ChildNode

/** Numbers as every program writes them; what is not sure stays text. */
const signs = { decimal: '.', dates: 'day' } as const
/** The most that one cell covers (§4.9.11). */
const mostColumnsOfOne = 1000
const mostRowsOfOne = 65_534
const pixelsOfPoint = 96 / 72
/** A cell is a block, and there are many of them. */
const most = { elements: 3_000_000, blocks: 3_000_000 }

/** Whether bytes are a page, whatever their file is called. */
export function isPageOfTables(bytes: Uint8Array): boolean {
  const head = decoded(bytes.subarray(0, 2048), encodingOfPage(bytes.subarray(0, 2048))).trimStart()
  return /^(?:<!--[\s\S]*?-->\s*)*<(?:!doctype\s+html|html|head|meta|table|body|div)[\s>]/i.test(head)
}

const isElement = (node: Child): node is Element => 'tagName' in node
const attributeOf = (element: Element, name: string) => element.attrs.find((one) => one.name === name)?.value
const childrenOf = (element: Element, ...names: string[]) =>
  element.childNodes.filter((node): node is Element => isElement(node) && names.includes(node.tagName))

/** @throws DamagedFile for a page without a table, and for more than is read */
export function readPageSheets(bytes: Uint8Array): ReadWorkbook {
  const markup = decoded(bytes, encodingOfPage(bytes))
  if (markup.length > mostMarkup) throw new DamagedFile(say('formats.text-too-long', { n: mostMarkup }))
  const limits = new Limits()
  const found = tablesIn(parsed(markup, most).childNodes, limits)
  if (!found.length) throw new DamagedFile(say('formats.page-without-tables'))
  const room = roomForCells()
  const sheets: Sheet[] = []
  const looks: SheetLooks[] = []
  for (const [at, { table, heading }] of found.entries()) {
    const caption = childrenOf(table, 'caption')[0]
    const name = sheetName(caption ? wordsOf(caption) : heading, at, sheets)
    const read = readTable(table, name, room, limits)
    sheets.push(withLooks(read.sheet, read.looks))
    looks.push(read.looks)
  }
  return {
    workbook: { sheets },
    results: sheets.map(() => new Map()),
    source: noSource,
    looks,
    limits: limits.list(),
  }
}

/** Tables that are in no other one, each with the last heading before it. What stands outside is told. */
function tablesIn(nodes: readonly Child[], limits: Limits): { table: Element; heading: string }[] {
  const found: { table: Element; heading: string }[] = []
  let heading = ''
  const walk = (all: readonly Child[]) => {
    for (const node of all) {
      if (node.nodeName === '#text' && /\S/.test((node as DefaultTreeAdapterTypes.TextNode).value))
        limits.add(
          'things that a page says in another way',
          (node as DefaultTreeAdapterTypes.TextNode).value.trim().slice(0, 40),
        )
      if (!isElement(node)) continue
      const { tagName } = node
      if (tagName === 'table') found.push({ table: node, heading })
      else if (/^h[1-6]$/.test(tagName)) heading = wordsOf(node)
      else if (tagName === 'script') limits.add('scripts', '')
      else if (tagName === 'style') {
        if (!node.childNodes.some((one) => 'value' in one && one.value.includes(sheetStyle)))
          limits.add('style sheets', '')
      } else if (tagName !== 'title') walk(node.childNodes)
    }
  }
  walk(nodes)
  return found
}

/** How the sheets of pages that are written here look in a browser. */
export const sheetStyle = `
body { margin: 2em; font-family: sans-serif; }
table { border-collapse: collapse; margin-block-end: 2em; }
caption { text-align: start; font-size: 1.2em; font-weight: bold; padding-block-end: 0.4em; }
td { border: 1px solid #cccccc; padding: 0.2em 0.5em; vertical-align: bottom; }
`

/** A name that a sheet can have, as near to what the page says as there is one. */
function sheetName(said: string, at: number, before: readonly Sheet[]): string {
  const taken = before.map(({ name }) => name)
  const own = said
    .replace(/[:\\/?*[\]\u0000-\u001f]/g, ' ')
    .replace(/^'+|'+$/g, '')
    .replace(/\s+/g, ' ')
    .trim()
  for (let number = 1; ; number++) {
    const after = number > 1 ? ` ${number}` : ''
    const name = own ? own.slice(0, 31 - after.length).trim() + after : `Table ${at + number}`
    if (!sheetNameFault(name, taken)) return name
  }
}

function readTable(table: Element, name: string, room: Room, limits: Limits): { sheet: Sheet; looks: SheetLooks } {
  const rows: (Cell | undefined)[][] = []
  const merged: MergedArea[] = []
  const verbatim = /^pre/.test(declarationsOf(attributeOf(table, 'style') ?? '').get('white-space') ?? '')
  /** How many further rows each column is covered in, by cells that grow downwards (§4.9.12.1). */
  const down: number[] = []
  for (const line of rowsOf(table)) {
    const row = rows.length
    if (row >= largestSheet.rows) throw new DamagedFile(say('formats.csv-too-many-rows', largestSheet))
    const cells: (Cell | undefined)[] = []
    const free = () => !((down[column] ?? 0) > 0)
    let column = 0
    const covered: [number, number][] = []
    for (const one of childrenOf(line, 'td', 'th')) {
      while (!free()) column++
      const wide = spanOf(one, 'colspan', mostColumnsOfOne)
      const high = spanOf(one, 'rowspan', mostRowsOfOne)
      if (column + wide > largestSheet.columns) throw new DamagedFile(say('formats.csv-too-many-columns', largestSheet))
      const cell = cellOf(one, verbatim, limits, name)
      takeRoom(room, name, Math.max(0, column + 1 - cells.length), undefined)
      if (cell) {
        while (cells.length < column) cells.push(undefined)
        cells[column] = cell
      }
      if (wide > 1 || high > 1)
        merged.push({ top: row, left: column, bottom: row + high - 1, right: column + wide - 1 })
      for (let at = 0; at < wide; at++) if (high > 1) covered.push([column + at, high - 1])
      column += wide
    }
    for (let at = 0; at < down.length; at++) if (down[at]! > 0) down[at]!--
    for (const [at, more] of covered) {
      while (down.length <= at) down.push(0)
      down[at] = more
    }
    rows.push(cells)
  }
  const last = rows.length - 1
  // A cell covers no rows that there are not.
  const areas = merged
    .map((area) => ({ ...area, bottom: Math.min(area.bottom, last) }))
    .filter(({ top, left, bottom, right }) => bottom > top || right > left)
  while (rows.length && !rows.at(-1)!.length) rows.pop()
  return {
    sheet: { name, rows: rows.map((row) => (row.length ? row : undefined)), widths: widthsOf(table) },
    looks: areas.length ? { ...noLooks, merged: areas } : noLooks,
  }
}

const rowsOf = (table: Element): Element[] =>
  childrenOf(table, 'thead', 'tbody', 'tfoot', 'tr').flatMap((one) =>
    one.tagName === 'tr' ? [one] : childrenOf(one, 'tr'),
  )
function spanOf(cell: Element, name: 'colspan' | 'rowspan', most: number): number {
  const said = Number.parseInt(attributeOf(cell, name) ?? '1', 10)
  return said >= 1 ? Math.min(said, most) : 1
}

/** Widths that are said in lengths, of columns; pixels. */
function widthsOf(table: Element): Record<number, number> {
  const widths: Record<number, number> = {}
  let column = 0
  for (const one of childrenOf(table, 'colgroup').flatMap((group) => childrenOf(group, 'col'))) {
    const points = pointsFrom(declarationsOf(attributeOf(one, 'style') ?? '').get('width'))
    const span = spanOf(one, 'colspan', mostColumnsOfOne)
    if (points) widths[column] = Math.round(points * pixelsOfPoint)
    column += span
  }
  return widths
}

/** What a cell says, and how it looks. */
function cellOf(element: Element, verbatim: boolean, limits: Limits, sheet: string): Cell | undefined {
  const said = declarationsOf(attributeOf(element, 'style') ?? '')
  const space = said.get('white-space') ?? ''
  const shown = contentOf(element, verbatim || /^pre/.test(space), () => limits.add('tables (their text stays)', sheet))
  const { value, format } = meaning(element, shown)
  const style = { ...styleOf(element, said), ...(format !== undefined && { format }) }
  const look = Object.keys(style).length > 0
  if (value === undefined || value === '') return look ? { style } : undefined
  return look ? { value, style } : { value }
}

function styleOf(element: Element, said: ReadonlyMap<string, string>): CellStyle {
  const weight = said.get('font-weight') ?? (element.tagName === 'th' ? 'bold' : '')
  const line = `${said.get('text-decoration') ?? ''} ${said.get('text-decoration-line') ?? ''}`
  const align = (said.get('text-align') ?? attributeOf(element, 'align') ?? '').toLowerCase()
  const color = colorFrom(said.get('color'))
  const fill = colorFrom(said.get('background-color') ?? said.get('background') ?? attributeOf(element, 'bgcolor'))
  return {
    ...((/^bold/.test(weight) || Number(weight) >= 600) && { bold: true as const }),
    ...(/^(?:italic|oblique)/.test(said.get('font-style') ?? '') && { italic: true as const }),
    ...(/underline/.test(line) && { underline: true as const }),
    ...(/line-through/.test(line) && { strike: true as const }),
    ...(fill && { fill }),
    ...(color && { color }),
    ...((align === 'left' || align === 'center' || align === 'right') && { align }),
    ...(said.get('white-space') === 'pre-wrap' && { wrap: true as const }),
  }
}

/**
 * What is meant: by the machine's words where they stand beside the shown ones (`data` and `time`, §4.5.13 and §4.5.14),
 * else by what is shown.
 */
function meaning(element: Element, shown: string): { value: Cell['value']; format?: string | undefined } {
  const one = element.childNodes.length === 1 ? element.childNodes[0]! : null
  const only = one && isElement(one) ? one : null
  const read = cellOfField(shown, signs)
  if (only?.tagName === 'data') {
    const said = attributeOf(only, 'value') ?? ''
    if (said.startsWith("'")) return { value: shown }
    const value = Number(said)
    if (said.trim() && Number.isFinite(value)) return { value }
  }
  if (only?.tagName === 'time') {
    const date = /^(\d{4})-(\d\d)-(\d\d)(?:T(\d\d):(\d\d))?$/.exec(attributeOf(only, 'datetime') ?? '')
    const serial = date && serialOfDate(Number(date[1]), Number(date[2]), Number(date[3]))
    if (date && serial !== null) {
      const minutes = date[4] === undefined ? 0 : Number(date[4]) * 60 + Number(date[5])
      const value = serial + minutes / 1440
      // In the order in which it is shown.
      if (read?.value === value && read.style?.format) return { value, format: read.style.format }
      return { value, format: date[4] === undefined ? 'yyyy-mm-dd' : 'yyyy-mm-dd hh:mm' }
    }
  }
  return { value: read?.value, format: read?.style?.format }
}

/** Words without what is between them. */
const wordsOf = (element: Element): string => contentOf(element, false, () => {})

/** @param verbatim white space is as it stands @param nested is told of tables inside */
function contentOf(element: Element, verbatim: boolean, nested: () => void): string {
  let text = ''
  const walk = (nodes: readonly Child[]) => {
    for (const node of nodes) {
      if ('value' in node) text += verbatim ? node.value : node.value.replace(/[ \t\n\r\f]+/g, ' ')
      if (!isElement(node)) continue
      if (node.tagName === 'br') text += '\n'
      else if (!/^(?:script|style|template)$/.test(node.tagName)) {
        if (node.tagName === 'table') nested()
        const block = /^(?:p|div|li|tr|table|h[1-6])$/.test(node.tagName)
        if (block && text && !text.endsWith('\n')) text += '\n'
        walk(node.childNodes)
        if (/^(?:td|th)$/.test(node.tagName)) text += ' '
      }
    }
  }
  walk(element.childNodes)
  if (verbatim) return text
  // A space that is not broken at is one (CSS Text 3, §4.1).
  return text
    .replaceAll('\u00a0', ' ')
    .replace(/ *\n */g, '\n')
    .replace(/ +/g, ' ')
    .trim()
}
