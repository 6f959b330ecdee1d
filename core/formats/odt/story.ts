// Blocks written into a part: those that nobody changed are its own, what is new is written beside them.
import type { Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { pageFieldOf } from '../../content/fields'
import type { Kept } from '../../content/kept'
import { matchUp } from '../../content/sequence'
import { isField } from '../docx/fields'
import { fromPixels } from '../odf/lengths'
import { emptyTag, NewStyles, openTag } from '../odf/new-styles'
import type { TextProperties } from '../odf/properties'
import type { OdfStyles } from '../odf/styles'
import { elements, escapeText, type XmlElement } from '../opc/xml'
import type { Limits } from '../refusals'
import { headingStyle, quoteStyle } from './common-styles'
import { fieldXml } from './fields'
import { placesIn, widthsOf } from './grid'
import { framesIn, knownFrame } from './patch-picture'
import type { Pictures } from './pictures'
import type { Mapped } from './read'
import { columnsLaid } from './table-columns'
import { type LineWriter, writeLine } from './write-line'

/** A cell whose words changed says no number, date or formula that they were (§19.374, §19.642). */
function withoutValue(tag: string, { attributes }: XmlElement): string {
  const type = attributes['office:value-type']
  const isText =
    (type === undefined || type === 'string') &&
    !('table:formula' in attributes) &&
    !('office:string-value' in attributes)
  return isText
    ? tag
    : tag.replace(
        /\s+(?:office:(?:[a-z]+-)?value(?:-type)?|office:currency|calcext:value-type|table:formula)="[^"]*"/g,
        '',
      )
}

/** A block, and whether a page begins with it. */
export interface Block {
  node: Node
  broken: boolean
}
/** What all that is written of one document has in common. */
export interface Shared {
  limits: Limits
  pictures: Pictures
  /** Common styles that something is written in. */
  wanted: Set<string>
  /** Names of the comments that are still there. */
  comments: ReadonlySet<string>
  /** Every list says the number that it begins with. */
  numbered: boolean
  images: number
}

export class Story {
  readonly made: NewStyles
  private readonly lines: LineWriter
  /** The rows of the table that is written in. */
  private rowsBeside: readonly Mapped[] = []
  private tables = 0

  /**
   * @param xml of the part @param styles those of its places
   * @param root what the blocks stand in
   */
  constructor(
    private readonly xml: string,
    private readonly styles: OdfStyles,
    private readonly root: XmlElement,
    private readonly shared: Shared,
    made?: NewStyles,
  ) {
    this.made = made ?? new NewStyles(styles, xml)
    this.lines = { styles: this.made, leaf: (node) => this.leaf(node), stays: (point) => this.stays(point) }
  }

  /** The pictures that it has already; found when one is written. */
  private frames: ReturnType<typeof framesIn> | null = null

  /** What holds blocks, rows, items: those that stayed in their places, what is new between them. */
  holder(mapped: Mapped, now: readonly Block[], quote: boolean): string {
    const { inner } = mapped
    return this.filled(mapped, this.children(mapped.children ?? [], now, inner, quote))
  }

  private children(
    old: readonly Mapped[],
    now: readonly Block[],
    [from, to]: readonly [number, number],
    quote: boolean,
  ): string {
    const keys = [old, now].map((side) => side.map(({ node, broken }) => `${broken} ${JSON.stringify(node.toJSON())}`))
    const { pairs } = matchUp(keys[0]!, keys[1]!, (a, b) => likeness(old[a]!.node, now[b]!.node))
    const olderOf = new Map(pairs.map(([a, b]) => [b, a]))
    for (const [a, b] of inPlace(pairs, old.length, now.length))
      if (old[a]!.node.isTextblock === now[b]!.node.isTextblock) olderOf.set(b, a)
    let out = ''
    /** Of the old ones, up to which everything is written. */
    let passed = 0
    let at = from
    /** What stands before an old one: of others only what is not theirs. */
    const gaps = (index: number) => {
      for (; passed < index; passed++) {
        out += this.xml.slice(at, old[passed]!.from)
        at = old[passed]!.to
      }
      if (index < old.length) {
        out += this.xml.slice(at, old[index]!.from)
        at = old[index]!.from
      }
    }
    for (const [index, block] of now.entries()) {
      const older = olderOf.get(index)
      if (older === undefined) {
        // Before the first of the file stands what belongs at the beginning.
        if (!passed && at === from && old.length) gaps(0)
        else if (!old.length && at === from) {
          // Declarations come first in a text; its words come behind them.
          out += this.xml.slice(from, to)
          at = to
        }
        // The first row below the head stands behind what ends the head.
        else if (passed < old.length && block.node.attrs.header === false && old[passed - 1]?.node.attrs.header)
          gaps(passed)
        out += this.block(block, quote)
        continue
      }
      gaps(older)
      const was = old[older]!
      const same =
        keys[0]![older] === keys[1]![index] && !(this.shared.numbered && was.node.type.name === 'ordered_list')
      out += same ? this.xml.slice(was.from, was.to) : (this.changed(was, block, quote) ?? this.anew(was, block, quote))
      at = was.to
      passed = older + 1
    }
    gaps(old.length)
    return out + this.xml.slice(at, to)
  }

  private anew(was: Mapped, block: Block, quote: boolean): string {
    const add = (mapped: Mapped): void => {
      for (const { feature, count, where } of mapped.limits) this.shared.limits.add(feature, where[0] ?? '', count)
      for (const one of mapped.children ?? []) add(one)
    }
    add(was)
    return this.block(block, quote)
  }

  /** One that was changed, written into what it was; null where it can only be written anew. */
  private changed(was: Mapped, { node, broken }: Block, quote: boolean): string | null {
    if (node.isTextblock) return was.tokens ? this.line(was, node, broken, quote) : null
    if (was.node.type !== node.type && !(isList(was.node) && isList(node))) return null
    switch (node.type.name) {
      case 'blockquote':
        return was.broken === broken ? this.holder(was, blocksOf(node), true) : null
      case 'list_item':
        return was.children ? this.holder(was, blocksOf(node), false) : null
      case 'table':
        return was.broken === broken ? this.table(was, node) : null
      case 'table_row':
        return this.row(was, node)
      case 'table_cell':
        return was.children ? this.holder(was, blocksOf(node), false) : null
      default:
        return was.broken === broken ? this.list(was, node) : null
    }
  }

  private line(was: Mapped, node: Node, broken: boolean, quote: boolean): string {
    const element = was.element!
    const automatic = this.styles.automaticStyle('paragraph', element.attributes['text:style-name'])
    const before = was.node.attrs
    const same =
      was.node.type === node.type &&
      was.broken === broken &&
      before.align === node.attrs.align &&
      before.style === node.attrs.style &&
      before.level === node.attrs.level &&
      JSON.stringify(before.look) === JSON.stringify(node.attrs.look)
    const letters = writeLine(node, was.tokens!, this.styles.textIn(automatic), this.lines)
    const name = node.type.name === 'heading' ? 'text:h' : 'text:p'
    if (same) {
      const open = this.xml.slice(was.from, was.inner[0]).replace(/\s*\/>$/, '>')
      return `${open}${letters}</${name}>`
    }
    const style = this.made.paragraph(this.common(node, quote), { ...says(node), broken }, automatic)
    const { 'text:outline-level': _, ...attributes } = element.attributes
    const level: Record<string, string> =
      node.type.name === 'heading' ? { 'text:outline-level': String(node.attrs.level) } : {}
    return `${openTag(name, { ...attributes, 'text:style-name': style, ...level })}${letters}</${name}>`
  }

  private leaf(node: Node): string {
    if (node.type.name === 'hard_break') return '<text:line-break/>'
    if (node.type.name === 'image') return this.image(node)
    const kept = node.attrs as Kept
    const field = isField(kept) ? pageFieldOf(kept) : null
    return field ? fieldXml(field) : kept.xml
  }
  /** A mark that ends a comment goes with it. */
  private stays(point: string): boolean {
    const name = point.startsWith('<office:annotation-end') ? /office:name="([^"]*)"/.exec(point)?.[1] : undefined
    return name === undefined || this.shared.comments.has(name)
  }

  /** The name of the common style that a paragraph is of. */
  private common(node: Node, quote: boolean): string {
    const { style, level } = node.attrs
    const name = style ?? (node.type.name === 'heading' ? headingStyle(level) : quote ? quoteStyle : 'Standard')
    this.shared.wanted.add(name)
    return name
  }

  private block({ node, broken }: Block, quote: boolean): string {
    switch (node.type.name) {
      case 'blockquote':
        return this.blocks(blocksOf(node), true, broken)
      case 'table':
        return this.newTable(node, broken)
      case 'table_row':
        return this.newRow(node)
      case 'list_item':
        return `<text:list-item>${this.blocks(blocksOf(node), false, broken)}</text:list-item>`
      case 'bullet_list':
      case 'ordered_list': {
        const style = this.made.list(kindOf(node))
        const items = blocksOf(node)
        if (items[0]) items[0].broken = broken
        return `${openTag('text:list', { 'text:style-name': style })}${this.blocks(items, false)}</text:list>`
      }
      case 'paragraph':
      case 'heading':
        return this.newLine(node, broken, quote)
      default:
        return ''
    }
  }
  blocks(some: readonly Block[], quote: boolean, broken = false): string {
    return some.map((one, at) => this.block(at === 0 && broken ? { ...one, broken } : one, quote)).join('')
  }
  private newLine(node: Node, broken: boolean, quote: boolean): string {
    const style = this.made.paragraph(this.common(node, quote), { ...says(node), broken }, undefined)
    const name = node.type.name === 'heading' ? 'text:h' : 'text:p'
    const attributes: Record<string, string> = { 'text:style-name': style }
    if (name === 'text:h') attributes['text:outline-level'] = String(node.attrs.level)
    const base: TextProperties = {}
    return `${openTag(name, attributes)}${writeLine(node, [], base, this.lines)}</${name}>`
  }

  private list(was: Mapped, node: Node): string {
    const element = was.element!
    const { attributes } = element
    const content = this.children(was.children!, blocksOf(node), was.inner, false)
    const goesOn = 'text:continue-numbering' in attributes || 'text:continue-list' in attributes
    const [before, now] = [kindOf(was.node), kindOf(node)]
    const same = JSON.stringify(before) === JSON.stringify(now) && was.node.type === node.type
    if (same && !(this.shared.numbered && goesOn)) {
      const open = this.xml.slice(was.from, was.inner[0])
      return `${open}${content}</text:list>`
    }
    const { 'text:continue-numbering': _, 'text:continue-list': __, ...kept } = attributes
    const level = this.levelOf(element)
    const style = this.styles.listStyle(this.styleOfList(element))
    const open = openTag('text:list', { ...kept, 'text:style-name': this.made.listWith(style, now, level) })
    // What the first item said of its number is said by the list.
    return `${open}${content.replace(/^(\s*<text:list-item\b[^>]*?)\s+text:start-value="\d+"/, '$1')}</text:list>`
  }
  private levelOf(list: XmlElement): number {
    return this.listsAround(list).length
  }
  private styleOfList(list: XmlElement): string | undefined {
    return this.listsAround(list).findLast((one) => one.attributes['text:style-name'])?.attributes['text:style-name']
  }
  /** The lists that one stands in, the outermost first, and itself. */
  private listsAround(list: XmlElement): XmlElement[] {
    const found: XmlElement[] = []
    const visit = (one: XmlElement): boolean => {
      const [from, to] = [one.at!.start, one.at!.end]
      if (from > list.at!.start || to < list.at!.end) return false
      if (one.name === 'text:list') found.push(one)
      if (one === list) return true
      // A cell begins a text of its own.
      if (one.name === 'table:table-cell') found.length = 0
      for (const inner of elements(one)) if (visit(inner)) return true
      return false
    }
    visit(this.root)
    return found
  }

  /** A table whose rows came, went or changed; null where its columns or heads did. */
  private table(was: Mapped, node: Node): string | null {
    if (!was.children) return null
    const before = was.children.map((row) => row.node)
    const now = node.children
    const stays = before.length === now.length && before.every((row, at) => row.attrs.header === now[at]!.attrs.header)
    const heads = headsOf(before)
    // Rows come and go below the head, or in it.
    if (!stays && (heads === null || heads !== headsOf(now) || (heads === before.length && heads < now.length)))
      return null
    const shapes = new Set([...before, ...now].map(shapeOf))
    const isEven = shapes.size === 1 && [...before, ...now].every(hasPlainCells)
    this.rowsBeside = was.children
    const other = isEven ? null : this.otherColumns(was, node)
    if (other !== null) return other
    if (isEven) return this.holder(was, blocksOf(node), false)
    if (before.length !== now.length || before.some((row, at) => shapeOf(row) !== shapeOf(now[at]!))) return null
    // Rows whose cells reach into each other stay in their places.
    let out = this.xml.slice(was.from, was.children[0]!.from)
    for (const [at, row] of was.children.entries()) {
      out += this.row(row, now[at]!)!
      out += this.xml.slice(row.to, was.children[at + 1]?.from ?? was.to)
    }
    return out
  }
  /** A table whose columns came, went or are of another width, while its rows stayed; null where they reach into each other. */
  private otherColumns(was: Mapped, node: Node): string | null {
    const rows = was.children!
    const laid = columnsLaid(was, node)
    const first = laid && elements(was.element!, 'table:table-column').next().value
    if (!laid || !first) return null
    let last = first
    for (const one of elements(was.element!, 'table:table-column')) last = one
    const styled = (width: number) =>
      emptyTag('table:table-column', {
        'table:style-name': this.made.plain('table-column', { 'style:column-width': fromPixels(width) }),
      })
    const columns = laid.map(({ own, width, same }) => {
      if (!own || !same) return width === null ? '<table:table-column/>' : styled(width)
      const tag = this.xml.slice(own.at!.start, own.at!.end)
      return tag.replace(/\s+table:number-columns-repeated="[^"]*"/, '')
    })
    let out = this.xml.slice(was.from, first.at!.start) + columns.join('')
    out += this.xml.slice(last.at!.end, rows[0]!.from)
    for (const [at, row] of rows.entries()) {
      const cells = row.children!
      out += this.xml.slice(row.from, cells[0]!.from)
      for (const [x, { from, beside }] of laid.entries()) {
        const now = node.child(at).child(x)
        const cell = from === null ? null : cells[from]!
        const style = cells[beside]!.element!.attributes['table:style-name']
        if (!cell) out += this.newCell(now, style ? { 'table:style-name': style } : {})
        else if (cell.node.content.eq(now.content)) out += this.xml.slice(cell.from, cell.to)
        else
          out += cell.children
            ? this.holder(cell, blocksOf(now), false)
            : this.filled(cell, this.blocks(blocksOf(now), false))
      }
      out += this.xml.slice(cells.at(-1)!.to, row.to) + this.xml.slice(row.to, rows[at + 1]?.from ?? was.to)
    }
    return out
  }
  private row(was: Mapped, node: Node): string | null {
    if (was.children!.length !== node.childCount) return null
    let out = ''
    let at = was.from
    for (const [index, cell] of was.children!.entries()) {
      const now = node.child(index)
      out += this.xml.slice(at, cell.from)
      out += cell.node.eq(now)
        ? this.xml.slice(cell.from, cell.to)
        : cell.children
          ? this.holder(cell, blocksOf(now), false)
          : this.filled(cell, this.blocks(blocksOf(now), false))
      at = cell.to
    }
    return out + this.xml.slice(at, was.to)
  }
  /** An element with other content. */
  private filled({ element, from, to, inner }: Mapped, content: string): string {
    const isEmpty = element?.at?.kind === 'empty'
    const open = this.xml.slice(from, isEmpty ? to : inner[0]).replace(/\s*\/>$/, '>')
    const tag = element?.name === 'table:table-cell' ? withoutValue(open, element) : open
    return `${tag}${content}${isEmpty ? `</${element!.name}>` : this.xml.slice(inner[1], to)}`
  }

  private newTable(node: Node, broken: boolean): string {
    const places = placesIn(node)
    const width = places.width
    const widths = widthsOf(node, places)
    const total = widths?.reduce((sum, one) => sum + one, 0)
    const style = this.made.plain('table', {
      ...(total ? { 'style:width': fromPixels(total), 'table:align': 'left' } : { 'table:align': 'margins' }),
      ...(broken && { 'fo:break-before': 'page' }),
    })
    let xml = openTag('table:table', { 'table:name': this.tableName(), 'table:style-name': style })
    for (let column = 0; column < width; column++)
      xml += emptyTag('table:table-column', {
        ...(widths && {
          'table:style-name': this.made.plain('table-column', { 'style:column-width': fromPixels(widths[column]!) }),
        }),
      })
    const cell = this.made.plain('table-cell', { 'fo:border': '0.5pt solid #999999', 'fo:padding': '3pt' })
    let head = false
    node.forEach((row, _offset, at) => {
      if (row.attrs.header !== head)
        xml += row.attrs.header ? '<table:table-header-rows>' : '</table:table-header-rows>'
      head = row.attrs.header
      xml += '<table:table-row>'
      for (const place of places.rows[at]!) {
        if (place === null) xml += '<table:covered-table-cell/>'
        else xml += this.newCell(place, { 'table:style-name': cell })
      }
      xml += '</table:table-row>'
    })
    return `${xml}${head ? '</table:table-header-rows>' : ''}</table:table>`
  }
  private newCell(cell: Node, attributes: Record<string, string>): string {
    const { colspan, rowspan } = cell.attrs
    const spans = {
      ...(colspan > 1 || rowspan > 1 ? { 'table:number-columns-spanned': String(colspan) } : {}),
      ...(colspan > 1 || rowspan > 1 ? { 'table:number-rows-spanned': String(rowspan) } : {}),
    }
    return `${openTag('table:table-cell', { ...attributes, ...spans })}${this.blocks(blocksOf(cell), false)}</table:table-cell>`
  }
  /** A row beside others is one like them. */
  private newRow(row: Node): string {
    const like = this.rowsBeside.findLast((one) => one.children!.length === row.childCount)
    const cells = row.children.map((cell, at) => {
      const style = like && like.children![at]!.element!.attributes['table:style-name']
      return this.newCell(cell, style ? { 'table:style-name': style } : {})
    })
    return `<table:table-row>${cells.join('')}</table:table-row>`
  }
  private tableName(): string {
    let name: string
    do name = `Table ${++this.tables}`
    while (this.xml.includes(`table:name="${name}"`))
    return name
  }

  private image(node: Node): string {
    const { src, alt, width, height } = node.attrs
    const href = this.shared.pictures.hrefOf(src)
    this.frames ??= framesIn(this.root, this.xml)
    const known = knownFrame(this.frames, href, node)
    if (known) return known
    const frame = {
      'draw:name': `Image ${++this.shared.images}`,
      'text:anchor-type': 'as-char',
      'svg:width': fromPixels(width),
      'svg:height': fromPixels(height),
    }
    const image = emptyTag('draw:image', {
      'xlink:href': href,
      'xlink:type': 'simple',
      'xlink:show': 'embed',
      'xlink:actuate': 'onLoad',
    })
    return `${openTag('draw:frame', frame)}${image}${alt ? `<svg:desc>${escapeText(alt)}</svg:desc>` : ''}</draw:frame>`
  }
}

const { paragraph } = documentSchema.nodes

/** Blocks with the pages that begin with them; a page that begins with nothing begins with an empty line. */
export function blocksOf(parent: Node): Block[] {
  const blocks: Block[] = []
  let broken = false
  parent.forEach((node, _offset, at) => {
    if (node.type.name !== 'page_break') {
      blocks.push({ node, broken })
      broken = false
      return
    }
    if (broken) blocks.push({ node: paragraph.create(), broken })
    broken = true
    if (at === parent.childCount - 1) blocks.push({ node: paragraph.create(), broken })
  })
  return blocks
}
/** Between pairs, as many that are alike nothing as there were stand in their places: they were written over. */
function* inPlace(pairs: readonly [number, number][], older: number, newer: number): Generator<[number, number]> {
  let [i, j] = [0, 0]
  for (const [a, b] of [...pairs, [older, newer] as const]) {
    if (a - i === b - j) for (let at = 0; i + at < a; at++) yield [i + at, j + at]
    i = a + 1
    j = b + 1
  }
}
const says = ({ attrs: { align, look } }: Node) => ({ align, look })
const isList = ({ type }: Node): boolean => type.name === 'bullet_list' || type.name === 'ordered_list'
const kindOf = ({ type, attrs }: Node) =>
  type.name === 'ordered_list'
    ? { ordered: true, start: attrs.start as number, number: attrs.number }
    : { ordered: false, start: 1, number: null }
/** How many rows are the head of a table; null where heads stand between other rows. */
function headsOf(rows: readonly Node[]): number | null {
  const body = rows.findIndex(({ attrs }) => !attrs.header)
  const heads = body < 0 ? rows.length : body
  return rows.slice(heads).some(({ attrs }) => attrs.header) ? null : heads
}
const hasPlainCells = (row: Node): boolean =>
  row.children.every(({ attrs }) => attrs.colspan === 1 && attrs.rowspan === 1)
/** What cells a row has: how far each reaches. */
const shapeOf = (row: Node): string =>
  row.children.map(({ attrs }) => `${attrs.colspan}x${attrs.rowspan}:${attrs.colwidth ?? ''}`).join(' ')

function likeness(older: Node, newer: Node): number {
  if (older.isTextblock !== newer.isTextblock) return 0
  if (!older.isTextblock && older.type !== newer.type && !(isList(older) && isList(newer))) return 0
  const [a, b] = [older.textContent, newer.textContent]
  const longest = Math.max(a.length, b.length)
  const least = older.isTextblock ? 0 : 0.31
  if (!longest) return older.isTextblock ? 0.9 : 0.31
  let head = 0
  while (head < a.length && head < b.length && a[head] === b[head]) head++
  let tail = 0
  while (tail < a.length - head && tail < b.length - head && a[a.length - 1 - tail] === b[b.length - 1 - tail]) tail++
  return Math.max(least, (head + tail) / longest)
}
