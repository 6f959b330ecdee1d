// Cells changed inside a sheet's XML (ECMA-376 part 1, §18.3.1.73 and §18.3.1.4): a row that holds none of them stays
// as it is to the letter, and so does every cell of a touched row but the changed ones.
import { copyFormula } from '../../content/formula'
import { type Cell, type CellValue, columnName, columnNumber, isError, largestSheet } from '../../content/workbook'
import {
  attributeOf,
  attributeSpan,
  attributesIn,
  childrenIn,
  elementOf,
  nextTag,
  type Spanned,
  Splices,
  type Tag,
  textIn,
} from '../opc/spans'
import { escapeAttribute, escapeText } from '../opc/xml'
import { escapeString } from './string'

/** What is written into a cell. */
export interface CellWrite {
  row: number
  column: number
  /** The cell as it is to be; null for one that is emptied, undefined where only its result is another one. */
  cell?: Cell | null
  /** The format's number; undefined to leave the one that is there. */
  style?: number
  /** What its formula results in; undefined for none. */
  result?: CellValue
}

/** Where a sheet's rows stand, and how its elements are prefixed. */
export interface SheetSource {
  xml: string
  prefix: string
  data: Spanned
}

export interface RowsPatched {
  xml: string
  /** A formula appeared or went, so that the list of the order of calculation does not hold any more (§18.6.1). */
  formulasChanged: boolean
}

export const localName = (name: string): string => name.slice(name.indexOf(':') + 1)

/** @returns null where the part is no sheet of cells */
export function sheetSource(xml: string): SheetSource | null {
  const root = nextTag(xml, 0)
  if (root?.kind !== 'open' || localName(root.name) !== 'worksheet') return null
  const prefix = root.name.slice(0, root.name.length - 'worksheet'.length)
  for (const element of childrenIn(xml, [root.end, xml.length]))
    if (element.name === `${prefix}sheetData`) return { xml, prefix, data: element }
  return null
}

export interface RowSpan extends Tag {
  number: number
  inner: readonly [number, number]
  /** Its number is written in it. */
  numbered: boolean
}

/** The rows of a sheet, in their order; numbers count from 0. */
export function* rowsOf({ xml, prefix, data }: SheetSource): Generator<RowSpan> {
  const name = `${prefix}row`
  // Without comments and CDATA a row's end is found without looking at its cells.
  const plain = !xml.slice(...data.inner).includes('<!')
  let number = -1
  for (let at = data.inner[0]; ; ) {
    const tag = nextTag(xml, at)
    if (!tag || tag.start >= data.inner[1] || tag.kind === 'close') return
    const close = plain && tag.kind === 'open' && tag.name === name ? xml.indexOf(`</${name}`, tag.end) : -1
    const element: Spanned =
      close >= 0 ? { ...tag, end: xml.indexOf('>', close) + 1, inner: [tag.end, close] } : elementOf(xml, tag)
    at = element.end
    if (tag.name !== name) continue
    const written = attributeOf(xml, tag, 'r')
    number = written === undefined ? number + 1 : Number(written) - 1
    yield { ...element, number, numbered: written !== undefined }
  }
}

export interface CellSpan extends Spanned {
  column: number
  located: boolean
}
/** The cells of a row, in their order. */
export function* cellsOf(xml: string, prefix: string, row: RowSpan): Generator<CellSpan> {
  let column = -1
  for (const element of childrenIn(xml, row.inner)) {
    if (element.name !== `${prefix}c`) continue
    const address = attributeOf(xml, element, 'r')
    column = address === undefined ? column + 1 : columnNumber(address.replace(/\d+$/, ''))
    yield { ...element, column, located: address !== undefined }
  }
}

const child = (xml: string, element: Spanned, name: string): Spanned | undefined => {
  for (const one of childrenIn(xml, element.inner)) if (one.name === name) return one
  return undefined
}

/** What a cell holds, as its attribute `t` and its children (§18.3.1.4). */
function contentOf(prefix: string, write: CellWrite): { type: string; xml: string } {
  const { cell, result } = write
  const v = (text: string) => `<${prefix}v>${text}</${prefix}v>`
  const value = cell?.formula === undefined ? cell?.value : result
  const formula = cell?.formula === undefined ? '' : `<${prefix}f>${escapeText(cell.formula)}</${prefix}f>`
  if (value === undefined) return { type: '', xml: formula }
  if (typeof value === 'string')
    return formula
      ? { type: 'str', xml: formula + v(escapeString(value)) }
      : {
          type: 'inlineStr',
          xml: `<${prefix}is><${prefix}t xml:space="preserve">${escapeString(value)}</${prefix}t></${prefix}is>`,
        }
  if (typeof value === 'boolean') return { type: 'b', xml: formula + v(value ? '1' : '0') }
  if (isError(value)) return { type: 'e', xml: formula + v(escapeText(value.error)) }
  return { type: '', xml: formula + v(String(Object.is(value, -0) ? 0 : value)) }
}

/** A tag's attributes with some of them set (null: left out), in their order; new ones at the end. */
export function tagWith(xml: string, tag: Tag, set: Readonly<Record<string, string | null>>): string {
  const rest = { ...set }
  let out = `<${tag.name}`
  for (const { key, whole } of attributesIn(xml, tag)) {
    if (!(key in rest)) out += xml.slice(...whole)
    else if (rest[key] !== null) out += ` ${key}="${escapeAttribute(rest[key]!)}"`
    delete rest[key]
  }
  for (const [key, value] of Object.entries(rest)) if (value !== null) out += ` ${key}="${escapeAttribute(value)}"`
  return out
}

function newCell(prefix: string, write: CellWrite): string {
  const { type, xml } = contentOf(prefix, write)
  const start = `<${prefix}c r="${columnName(write.column)}${write.row + 1}"${write.style ? ` s="${write.style}"` : ''}${type ? ` t="${type}"` : ''}`
  return xml ? `${start}>${xml}</${prefix}c>` : `${start}/>`
}

/** A cell that is there, with its result alone, its format alone, or all of it changed. */
function changedCell(
  source: SheetSource,
  cell: CellSpan,
  write: CellWrite,
  address: string | null,
  keep: boolean,
): string {
  const { xml, prefix } = source
  const style: Record<string, string | null> =
    write.style === undefined ? {} : { s: write.style ? String(write.style) : null }
  const located: Record<string, string | null> = address === null ? {} : { r: address }
  const close = (start: string, inner: string) => (inner ? `${start}>${inner}</${prefix}c>` : `${start}/>`)
  if (keep) return close(tagWith(xml, cell, { ...located, ...style }), xml.slice(...cell.inner))
  const rest = [...childrenIn(xml, cell.inner)]
    .filter(({ name }) => !['f', 'v', 'is'].includes(name.slice(prefix.length)))
    .map(({ start, end }) => xml.slice(start, end))
    .join('')
  if (write.cell === undefined) {
    const formula = child(xml, cell, `${prefix}f`)
    const { type, xml: value } = contentOf(prefix, { ...write, cell: { formula: '' } })
    const inner =
      (formula ? xml.slice(formula.start, formula.end) : '') + value.replace(/^<[^>]*f><\/[^>]*f>/, '') + rest
    return close(tagWith(xml, cell, { ...located, t: type || null }), inner)
  }
  // What metadata says of a cell (§18.9) is said of what was in it.
  const { type, xml: content } = contentOf(prefix, write)
  return close(tagWith(xml, cell, { ...located, ...style, t: type || null, cm: null, vm: null }), content + rest)
}

/**
 * Writes cells into a sheet's rows.
 * @param writes each cell once @param keepsContent whether a cell that is there has this content already
 */
export function patchRows(
  source: SheetSource,
  writes: readonly CellWrite[],
  keepsContent: (write: CellWrite) => boolean,
): RowsPatched {
  const { xml, prefix, data } = source
  const splices = new Splices()
  const byRow = new Map<number, CellWrite[]>()
  for (const write of writes) {
    const own = byRow.get(write.row)
    if (own) own.push(write)
    else byRow.set(write.row, [write])
  }
  const overwritten = new Set<string>()
  let formulasChanged = false
  let unnumbered = false
  let inserted = false
  const unwritten: RowSpan[] = []
  const missing = [...byRow.keys()].toSorted((a, b) => a - b)
  const written: string[] = []

  const rowFor = (number: number): string => {
    const cells = byRow
      .get(number)!
      .filter(({ cell, style }) => cell || style)
      .toSorted((a, b) => a.column - b.column)
    if (!cells.length) return ''
    if (cells.some(({ cell }) => cell?.formula !== undefined)) formulasChanged = true
    return `<${prefix}row r="${number + 1}">${cells.map((write) => newCell(prefix, write)).join('')}</${prefix}row>`
  }
  for (const row of rowsOf(source)) {
    if (!row.numbered) {
      unnumbered = true
      unwritten.push(row)
    }
    while (missing.length && missing[0]! < row.number) {
      const made = rowFor(missing.shift()!)
      if (made) {
        splices.insert(row.start, made)
        inserted = true
      }
    }
    if (missing[0] !== row.number) continue
    missing.shift()
    patchRow(row)
  }
  for (const number of missing) {
    const made = rowFor(number)
    if (made) written.push(made)
  }
  if (written.length) {
    inserted = true
    if (data.kind === 'empty')
      splices.replace(data.start, data.end, `${tagWith(xml, data, {})}>${written.join('')}</${data.name}>`)
    else splices.insert(data.inner[1], written.join(''))
  }
  // Rows that only count are told their numbers before another one comes among them.
  if (unnumbered && inserted)
    for (const row of unwritten) splices.insert(row.start + row.name.length + 1, ` r="${row.number + 1}"`)
  if (overwritten.size) promoteFollowers()
  return { xml: splices.apply(xml), formulasChanged }

  function patchRow(row: RowSpan): void {
    const own = byRow.get(row.number)!.toSorted((a, b) => a.column - b.column)
    const cells = [...cellsOf(xml, prefix, row)]
    // Cells that only count are told their columns before another one comes among them.
    const there = new Set(cells.map(({ column }) => column))
    const numberCells = own.some(({ cell, style, column }) => (cell || style) && !there.has(column))
    let added = ''
    const flush = (at: number) => {
      if (added) splices.insert(at, added)
      added = ''
    }
    let next = 0
    for (const cell of cells) {
      while (next < own.length && own[next]!.column < cell.column) added += addedCell(own[next++]!)
      flush(cell.start)
      const address = cell.located || numberCells ? `${columnName(cell.column)}${row.number + 1}` : null
      if (next < own.length && own[next]!.column === cell.column) {
        const write = own[next++]!
        const keep = keepsContent(write)
        const formula = child(xml, cell, `${prefix}f`)
        if (!keep && write.cell !== undefined) {
          if (!!formula !== (write.cell?.formula !== undefined)) formulasChanged = true
          if (formula && attributeOf(xml, formula, 't') === 'shared' && attributeOf(xml, formula, 'ref'))
            overwritten.add(attributeOf(xml, formula, 'si') ?? '')
        }
        splices.replace(cell.start, cell.end, changedCell(source, cell, write, address, keep))
      } else if (address && !cell.located) splices.insert(cell.start + cell.name.length + 1, ` r="${address}"`)
    }
    while (next < own.length) added += addedCell(own[next++]!)
    if (row.kind === 'empty') {
      if (added) splices.replace(row.start, row.end, `${tagWith(xml, row, spans(row, own))}>${added}</${row.name}>`)
      return
    }
    flush(row.inner[1])
    const span = spans(row, own)
    if (span.spans) {
      const at = attributeSpan(xml, row, 'spans')!
      splices.replace(at[0], at[1], span.spans)
    }
  }
  function addedCell(write: CellWrite): string {
    if (!write.cell && !write.style) return ''
    if (write.cell?.formula !== undefined) formulasChanged = true
    return newCell(prefix, write)
  }
  /** The columns that a row says it uses (§18.3.1.73), with those of new cells. */
  function spans(row: RowSpan, own: readonly CellWrite[]): Record<string, string> {
    const said = /^(\d+):(\d+)$/.exec(attributeOf(xml, row, 'spans') ?? '')
    if (!said) return {}
    const columns = own.filter(({ cell, style }) => cell || style).map(({ column }) => column + 1)
    const low = Math.min(Number(said[1]), ...columns)
    const high = Math.max(Number(said[2]), ...columns)
    return low === Number(said[1]) && high === Number(said[2]) ? {} : { spans: `${low}:${high}` }
  }
  /** The first cell that shares an overwritten formula, and is not overwritten itself, holds it from now on (§18.3.1.40). */
  function promoteFollowers(): void {
    const groups = new Map<string, { text: string; row: number; column: number; promoted: boolean }>()
    for (const row of rowsOf(source)) {
      if (!xml.slice(...row.inner).includes('shared')) continue
      for (const cell of cellsOf(xml, prefix, row)) {
        const formula = child(xml, cell, `${prefix}f`)
        if (!formula || attributeOf(xml, formula, 't') !== 'shared') continue
        const group = attributeOf(xml, formula, 'si') ?? ''
        if (!overwritten.has(group)) continue
        const text = textIn(xml, formula.inner)
        if (text) groups.set(group, { text, row: row.number, column: cell.column, promoted: false })
        const master = groups.get(group)
        if (!master || text || master.promoted) continue
        const write = byRow.get(row.number)?.find(({ column }) => column === cell.column)
        if (write && write.cell !== undefined && !keepsContent(write)) continue
        master.promoted = true
        const own = copyFormula(master.text, row.number - master.row, cell.column - master.column)
        const last = lastOf(group, row.number, cell.column)
        const promoted = `${tagWith(xml, formula, { ref: last })}>${escapeText(own)}</${formula.name}>`
        if (!write) splices.replace(formula.start, formula.end, promoted)
        else {
          // Its result or its format is written anew beside it.
          const address = cell.located ? `${columnName(cell.column)}${row.number + 1}` : null
          const made = changedCell(source, cell, write, address, keepsContent(write))
          const inside = nextFormula(made)
          const whole = inside ? made.slice(0, inside.start) + promoted + made.slice(inside.end) : made
          splices.replaceAgain(cell.start, whole)
        }
      }
    }
  }
  function nextFormula(made: string): Spanned | undefined {
    const tag = nextTag(made, 0)
    return tag ? child(made, elementOf(made, tag), `${prefix}f`) : undefined
  }
  /** The range of the cells that share a formula, from one of them on. */
  function lastOf(group: string, row: number, column: number): string {
    let [low, high, left, right] = [row, row, column, column]
    for (const one of rowsOf(source)) {
      if (one.number < row || !xml.slice(...one.inner).includes('shared')) continue
      for (const cell of cellsOf(xml, prefix, one)) {
        const formula = child(xml, cell, `${prefix}f`)
        if (!formula || attributeOf(xml, formula, 'si') !== group) continue
        if (attributeOf(xml, formula, 't') !== 'shared' || textIn(xml, formula.inner)) continue
        low = Math.min(low, one.number)
        high = Math.max(high, one.number)
        left = Math.min(left, cell.column)
        right = Math.max(right, cell.column)
      }
    }
    const first = `${columnName(left)}${low + 1}`
    const end = `${columnName(Math.min(right, largestSheet.columns - 1))}${high + 1}`
    return first === end ? first : `${first}:${end}`
  }
}
