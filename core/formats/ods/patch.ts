// Writes edits into the spreadsheet that they were made in: rows and cells that nobody changed are the file's own letters.
import { columnsThatDiffer, lookOf, rowsThatDiffer } from '../../content/looks'
import { hiddenByFilter } from '../../content/sheet-filter'
import {
  type Cell,
  type CellValue,
  cellAt,
  largestSheet,
  type MergedArea,
  type Sheet,
  sameCell,
  sameStyle,
  sameValue,
  type Workbook,
} from '../../content/workbook'
import { cellDifferences, frameDifferences, type WorkbookOp } from '../../content/workbook-ops'
import { addStyles } from '../odf/add-styles'
import { fromPixels } from '../odf/lengths'
import { emptyTag, openTag } from '../odf/new-styles'
import { bodyOf, partEncoded } from '../odf/package'
import { Splices, textOfPart } from '../opc/spans'
import type { XmlElement } from '../opc/xml'
import { elements } from '../opc/xml'
import type { Container } from '../opc/zip'
import { NotPatched } from '../refusals'
import type { ResultOf } from '../xlsx/write'
import { NewCellStyles } from './cell-styles'
import { PlacedRules, patchNamedRules, RuleNames, rulesNamed } from './entry-rules'
import { patchFilters } from './filter'
import { type CellPlace, cellsOf, columnsOf, type OdsParts, openOds, rowsOf } from './read'
import { type Panes, settingsWith } from './settings'
import { valueAttributes } from './values'
import { type Covered, contentXml, coveredBy, emptyCells } from './write'

export interface OdsPatch {
  base: Uint8Array
  /** What the base holds. */
  read: { workbook: Workbook; results: readonly ReadonlyMap<number, CellValue>[] }
  /** Everything that was done since, in order. */
  ops: readonly WorkbookOp[]
  workbook: Workbook
  resultOf: ResultOf
}

/** What can be done to a sheet where it stands; rows, columns and sheets that come and go cannot. */
const inPlace = new Set(['cells', 'width', 'freeze', 'merge', 'unmerge', 'height', 'hide', 'filter', 'rules'])
/** Of an area that is larger, each of whose cells is said. */
const mostMerged = 100_000

/** What is done to cells, their looks and frozen lines goes into the file. @throws NotPatched for all else */
export function patchOds({ base, read, ops, workbook, resultOf }: OdsPatch): Uint8Array {
  for (const { op } of ops) if (!inPlace.has(op)) throw new NotPatched(op)
  const parts = openOds(base)
  const { content, container } = parts.opened
  if (parts.tables.length !== workbook.sheets.length) throw new NotPatched('sheets')
  const splices = new Splices()
  const made = new NewCellStyles(parts.styles.names, content.xml)
  const body = bodyOf(content.root, 'office:spreadsheet')
  const ruleNames = new RuleNames(rulesNamed(body))
  const [rulesBefore, rulesNow] = [read.workbook, workbook].map(({ sheets }) =>
    sheets.map((sheet) => new PlacedRules(sheet, ruleNames)),
  ) as [PlacedRules[], PlacedRules[]]
  for (const [at, table] of parts.tables.entries())
    new TablePatch(table, parts, made, splices, {
      before: read.workbook.sheets[at]!,
      now: workbook.sheets[at]!,
      results: read.results[at] ?? new Map(),
      resultOf: (row, column) => resultOf(at, row, column),
      rules: rulesNow[at]!,
      ruled: [...rulesBefore[at]!.notIn(rulesNow[at]!), ...rulesNow[at]!.notIn(rulesBefore[at]!)],
    }).patch()
  const used = (all: readonly PlacedRules[]) => new Set(all.flatMap((one) => one.names))
  patchNamedRules(body, splices, ruleNames, used(rulesBefore), used(rulesNow))
  patchFilters(body, parts.tables, content.xml, splices, read.workbook.sheets, workbook.sheets)
  const changes = new Map<string, Uint8Array>()
  if (splices.any) {
    addStyles(splices, content, made.xml, 'office:body')
    changes.set('content.xml', partEncoded(content, splices.apply(content.xml)))
  }
  const panes = new Map<string, Panes | undefined>()
  for (const [at, { name, frozen }] of workbook.sheets.entries())
    if (!samePanes(frozen, read.workbook.sheets[at]!.frozen)) panes.set(name, frozen)
  if (panes.size) changes.set('settings.xml', settingsPart(container, panes))
  if (!changes.size) return base
  const bytes = container.patched(changes)
  if (!bytes) throw new NotPatched('container')
  return bytes
}

const samePanes = (a: Panes | undefined, b: Panes | undefined): boolean =>
  (a?.rows ?? 0) === (b?.rows ?? 0) && (a?.columns ?? 0) === (b?.columns ?? 0)
/** @throws NotPatched where a file has no settings, or none for sheets */
function settingsPart(container: Container, panes: ReadonlyMap<string, Panes | undefined>): Uint8Array {
  const part = textOfPart(container.read('settings.xml') ?? new Uint8Array())
  if (!part?.xml) throw new NotPatched('settings')
  return part.encode(settingsWith(part.xml, panes))
}

interface SheetWork {
  before: Sheet
  now: Sheet
  results: ReadonlyMap<number, CellValue>
  resultOf: (row: number, column: number) => CellValue | undefined
  rules: PlacedRules
  /** Cells that have another rule now. */
  ruled: readonly MergedArea[]
}

class TablePatch {
  private readonly xml: string
  private readonly merged: Covered
  /** Whether a filter hides them. */
  private readonly hidden: ReadonlyMap<number, boolean>

  constructor(
    private readonly table: XmlElement,
    private readonly parts: OdsParts,
    private readonly made: NewCellStyles,
    private readonly splices: Splices,
    private readonly work: SheetWork,
  ) {
    this.xml = parts.opened.content.xml
    this.merged = coveredBy(work.now.merged ?? [])
    this.hidden = hiddenByFilter(work.now)
  }

  patch(): void {
    this.rows(this.changes())
    this.columns()
  }

  /** The columns that change in each row: cells that are others, and formulas that came to something else. */
  private changes(): Map<number, Set<number>> {
    const { before, now, results, resultOf } = this.work
    const found = new Map<number, Set<number>>()
    const add = (row: number, column: number) => {
      const columns = found.get(row)
      if (columns) columns.add(column)
      else found.set(row, new Set([column]))
    }
    for (const { row, column } of cellDifferences(before, now)) add(row, column)
    const areas = frameDifferences(0, before, now).flatMap((op) =>
      op.op === 'merge' || op.op === 'unmerge' ? op.areas : [],
    )
    for (const { top, left, bottom, right } of [...areas, ...this.work.ruled]) {
      if ((bottom - top + 1) * (right - left + 1) > mostMerged) throw new NotPatched('merge')
      for (let row = top; row <= bottom; row++) for (let column = left; column <= right; column++) add(row, column)
    }
    for (const [row, line] of now.rows.entries())
      for (const [column, cell] of (line ?? []).entries()) {
        if (cell?.formula === undefined) continue
        const result = resultOf(row, column)
        if (result !== undefined && !sameValue(result, results.get(row * largestSheet.columns + column)))
          add(row, column)
      }
    for (const row of this.framed()) if (!found.has(row)) found.set(row, new Set())
    return found
  }
  /** Rows of another height, and those that are hidden now or shown again. */
  private framed(): ReadonlySet<number> {
    if (this.differing) return this.differing
    const { before, now } = this.work
    this.differing = new Set(rowsThatDiffer(before, now))
    // What hides them is said, too.
    if (before.filter !== now.filter) {
      const was = hiddenByFilter(before)
      for (const [row, filtered] of this.hidden) if (was.has(row) && was.get(row) !== filtered) this.differing.add(row)
    }
    return this.differing
  }
  private differing: Set<number> | null = null
  /** What a row says of its height, and whether it is shown, where that is another. */
  private rowAttributes(element: XmlElement | undefined, row: number): Record<string, string> {
    const { before, now } = this.work
    const { 'table:number-rows-repeated': _, 'table:visibility': __, ...rest } = element?.attributes ?? {}
    const height = now.heights?.[row]
    const named = rest['table:style-name']
    const says: Record<string, string> =
      height === undefined
        ? { 'style:use-optimal-row-height': 'true' }
        : { 'style:row-height': `${height}pt`, 'style:use-optimal-row-height': 'false' }
    return {
      ...rest,
      ...(height !== before.heights?.[row] && {
        'table:style-name': this.made.plain('table-row', says, this.parts.styles.automaticStyle('table-row', named)),
      }),
      ...(this.hidden.has(row) && { 'table:visibility': this.hidden.get(row) ? 'filter' : 'collapse' }),
    }
  }

  private rows(changes: ReadonlyMap<number, ReadonlySet<number>>): void {
    if (!changes.size) return
    const wanted = [...changes.keys()].sort((a, b) => a - b)
    const { left, last, end } = this.parted(rowsOf(this.table), wanted, 'table:number-rows-repeated', (element, row) =>
      this.row(element, row, changes.get(row)!),
    )
    if (!left.length) return
    if (!last) throw new NotPatched('rows')
    let xml = ''
    let past = end
    for (const row of left) {
      if (row > past) {
        const count = row - past
        xml += `${openTag('table:table-row', count > 1 ? { 'table:number-rows-repeated': String(count) } : {})}<table:table-cell/></table:table-row>`
      }
      const attributes = this.framed().has(row) ? this.rowAttributes(undefined, row) : {}
      xml += `${openTag('table:table-row', attributes)}${this.behind(row, 0, changes.get(row)!) || '<table:table-cell/>'}</table:table-row>`
      past = row + 1
    }
    this.splices.insert(last.at!.end, xml)
  }

  /**
   * Elements that are said once for many, parted around those that change.
   * @returns what stands behind the last one
   */
  private parted(
    places: Iterable<CellPlace>,
    wanted: readonly number[],
    repeat: string,
    changed: (element: XmlElement, at: number) => string,
  ): { left: number[]; last: XmlElement | undefined; end: number } {
    let next = 0
    let last: XmlElement | undefined
    let end = 0
    for (const place of places) {
      last = place.element
      end = place.from + place.count
      const from = next
      while (next < wanted.length && wanted[next]! < end) next++
      if (next === from) continue
      const xml = this.around(place, wanted.slice(from, next), repeat, changed)
      this.splices.replace(last.at!.start, last.at!.end, xml)
    }
    return { left: wanted.slice(next), last, end }
  }
  private around(
    { element, from, count }: CellPlace,
    inside: readonly number[],
    repeat: string,
    changed: (element: XmlElement, at: number) => string,
  ): string {
    let xml = ''
    let at = from
    const copies = (to: number) => {
      if (to > at) xml += this.repeated(element, repeat, to - at)
    }
    for (const one of inside) {
      copies(one)
      xml += changed(element, one)
      at = one + 1
    }
    copies(from + count)
    return xml
  }

  /** An element as often as it is said to stand there. */
  private repeated(element: XmlElement, attribute: string, count: number): string {
    const source = this.xml.slice(element.at!.start, element.at!.end)
    const was = element.attributes[attribute] ?? '1'
    return was === String(count) ? source : source.replace(/^<[^>]*>/, (tag) => retagged(tag, attribute, count))
  }

  private row(element: XmlElement, row: number, columns: ReadonlySet<number>): string {
    const places = [...cellsOf(element)]
    const wanted = [...columns].sort((a, b) => a - b)
    const tag = this.xml.slice(element.at!.start, element.at!.inner[0])
    let xml = this.framed().has(row)
      ? openTag('table:table-row', this.rowAttributes(element, row))
      : retagged(tag, 'table:number-rows-repeated', 1).replace(/\s*\/>$/, '>')
    let at = element.at!.inner[0]
    for (const place of places) {
      xml += this.xml.slice(at, place.element.at!.start)
      at = place.element.at!.end
      const inside = wanted.filter((column) => column >= place.from && column < place.from + place.count)
      xml += this.around(place, inside, 'table:number-columns-repeated', (_, column) => this.cell(place, row, column))
    }
    const end = places.at(-1)
    xml += this.behind(
      row,
      end ? end.from + end.count : 0,
      new Set(wanted.filter((column) => !end || column >= end.from + end.count)),
    )
    return `${xml}${this.xml.slice(at, element.at!.inner[1])}</${element.name}>`
  }

  /** Cells behind the last one of a row. */
  private behind(row: number, from: number, columns: ReadonlySet<number>): string {
    let xml = ''
    let past = from
    for (const column of [...columns].sort((a, b) => a - b)) {
      if (column > past) xml += emptyCells(column - past)
      xml += this.cell(null, row, column)
      past = column + 1
    }
    return xml
  }

  private cell(place: CellPlace | null, row: number, column: number): string {
    const { before, now, resultOf } = this.work
    const [was, is] = [cellAt(before, row, column), cellAt(now, row, column)]
    const element = place?.element
    const { 'table:number-columns-repeated': _, ...said } = element?.attributes ?? {}
    const ruled = this.ruled(said, row, column)
    const [name, all] =
      before.merged === now.merged
        ? [element?.name ?? 'table:table-cell', ruled]
        : [
            this.merged.has(row, column) ? 'table:covered-table-cell' : 'table:table-cell',
            this.spanned(ruled, row, column),
          ]
    const result = is?.formula === undefined ? undefined : resultOf(row, column)
    const fresh = result !== undefined && !sameValue(result, this.work.results.get(row * largestSheet.columns + column))
    // It is another cell only by what it covers, or is covered by.
    if (element && sameCell(was, is) && !fresh) {
      const own = this.xml.slice(...element.at!.inner)
      return own ? `${openTag(name, all)}${own}</${name}>` : emptyTag(name, all)
    }
    if ('table:number-matrix-columns-spanned' in all && !sameCell(was, is)) throw new NotPatched('arrays')
    const attributes = Object.fromEntries(Object.entries(all).filter(([key]) => !valueAttributes.has(key)))
    if (!sameStyle(was?.style, is?.style)) {
      const style = this.style(attributes['table:style-name'], is)
      attributes['table:style-name'] = style
    }
    const content = contentXml(is, () => resultOf(row, column))
    let inner = content.text
    // Comments and what is drawn in it stay.
    for (const one of elements(element))
      if (one.name !== 'text:p') inner = this.xml.slice(one.at!.start, one.at!.end) + inner
    // A formula that nobody changed is said as the file said it, also where that is in another program's way.
    const formula = is?.formula !== undefined && is.formula === was?.formula ? all['table:formula'] : undefined
    const tags = {
      ...attributes,
      ...(formula !== undefined && { 'table:formula': formula }),
      ...content.attributes,
      ...(formula !== undefined && { 'table:formula': formula }),
    }
    return inner ? `${openTag(name, tags)}${inner}</${name}>` : emptyTag(name, tags)
  }
  /** What a cell says, with the rule that it has now. */
  private ruled(said: Readonly<Record<string, string>>, row: number, column: number): Record<string, string> {
    const { rules, ruled } = this.work
    if (!ruled.length) return { ...said }
    const { 'table:content-validation-name': _, ...rest } = said
    const name = rules.at(row, column)
    return name === undefined ? rest : { ...rest, 'table:content-validation-name': name }
  }
  /** What a cell says, with the cells that it covers now. */
  private spanned(said: Readonly<Record<string, string>>, row: number, column: number): Record<string, string> {
    const { 'table:number-columns-spanned': _, 'table:number-rows-spanned': __, ...rest } = said
    const span = this.merged.first.get(`${row} ${column}`)
    return {
      ...rest,
      ...(span && {
        'table:number-columns-spanned': String(span.columns),
        'table:number-rows-spanned': String(span.rows),
      }),
    }
  }
  private style(before: string | undefined, cell: Cell | undefined): string {
    const { styles } = this.parts
    const look = lookOf(cell?.style)
    const parent = styles.commonName('table-cell', before) || 'Default'
    return this.made.cell({ style: cell?.style, look }, styles.automaticStyle('table-cell', before), parent)
  }

  private columns(): void {
    const { before, now } = this.work
    const hidden = new Set(now.hiddenColumns)
    const wanted = columnsThatDiffer(before, now)
    if (!wanted.length) return
    const wide = (element: XmlElement | undefined, column: number): string => {
      const width = now.widths[column]
      const {
        'table:number-columns-repeated': _,
        'table:style-name': style,
        'table:visibility': shown,
        ...rest
      } = element?.attributes ?? {}
      const own = this.parts.styles.automaticStyle('table-column', style)
      return emptyTag('table:table-column', {
        ...rest,
        ...(width === before.widths[column]
          ? style !== undefined && { 'table:style-name': style }
          : width !== undefined && {
              'table:style-name': this.made.plain('table-column', { 'style:column-width': fromPixels(width) }, own),
            }),
        ...(hidden.has(column) && { 'table:visibility': shown === 'filter' ? shown : 'collapse' }),
      })
    }
    const { left, last, end } = this.parted(columnsOf(this.table), wanted, 'table:number-columns-repeated', wide)
    if (!left.length) return
    if (!last) throw new NotPatched('columns')
    let xml = ''
    let past = end
    for (const column of left) {
      if (column > past)
        xml += emptyTag(
          'table:table-column',
          column - past > 1 ? { 'table:number-columns-repeated': String(column - past) } : {},
        )
      xml += wide(undefined, column)
      past = column + 1
    }
    this.splices.insert(last.at!.end, xml)
  }
}

/** A tag that stands for so many. */
function retagged(tag: string, attribute: string, count: number): string {
  const plain = tag.replace(new RegExp(`\\s+${attribute}\\s*=\\s*(?:"[^"]*"|'[^']*')`), '')
  return count > 1 ? plain.replace(/^<[^\s/>]+/, (name) => `${name} ${attribute}="${count}"`) : plain
}
