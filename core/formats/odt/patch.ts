// A document written into the text that it came from: blocks, items, rows and letters that nobody changed are the file's
// own; what is new is written beside them.
import { Fragment, type Node } from 'prosemirror-model'
import { documentSchema, type Page } from '../../content/document'
import { edgesOf } from '../../content/edges'
import { type Kept, mostKeptBytes } from '../../content/kept'
import { listNumberFrom } from '../../content/list-number'
import { matchUp } from '../../content/sequence'
import { keptFeatures } from '../docx/whole'
import { dataUrlBytes, extensionOf } from '../docx/write'
import { fromPixels, fromTwips } from '../odf/lengths'
import { emptyTag, NewStyles, openTag } from '../odf/new-styles'
import type { TextProperties } from '../odf/properties'
import { Splices } from '../opc/spans'
import { child, elements, escapeAttribute, escapeText, type XmlElement } from '../opc/xml'
import { Limits, NotPatched, type Written } from '../refusals'
import { headingStyle, type Mapped, type OdtSource, quoteStyle } from './read'
import { type LineWriter, writeLine } from './write-line'

/** A block, and whether a page begins with it. */
interface Block {
  node: Node
  broken: boolean
}
export interface PatchedOdt extends Written {
  /** What of the document is in the file: without what is lost. */
  expected: Node
}

/**
 * @param bytes of the file
 * @param source what was read of it
 * @param numbered every list says the number that it begins with
 * @throws NotPatched where its parts cannot be written into
 */
export function patchOdt(source: OdtSource, doc: Node, numbered = false): PatchedOdt {
  return new Patch(source, doc, numbered).written()
}

class Patch {
  private readonly xml: string
  private readonly styles: NewStyles
  private readonly limits = new Limits()
  private readonly pictures = new Map<string, { href: string; type: string; bytes: Uint8Array }>()
  /** Common styles that the file has not and that something is written in. */
  private readonly wanted = new Set<string>()
  /** Comments that are still there. */
  private readonly notes: ReadonlySet<string>
  private readonly lines: LineWriter
  /** The rows of the table that is written in. */
  private rowsBeside: readonly Mapped[] = []
  private tables = 0

  constructor(
    private readonly source: OdtSource,
    private readonly doc: Node,
    private readonly numbered: boolean,
  ) {
    this.xml = source.opened.content.xml
    this.styles = new NewStyles(source.styles, this.xml)
    this.notes = namesOfComments(doc)
    this.lines = { styles: this.styles, leaf: (node) => this.leaf(node), stays: (point) => this.stays(point) }
  }

  written(): PatchedOdt {
    const { opened, body } = this.source
    const { encode } = opened.content
    if (!encode) throw new NotPatched()
    const expected = this.expected()
    const splices = new Splices()
    splices.replace(body.from, body.to, this.holder(body, blocksOf(expected), false))
    this.addStyles(splices)
    const content = withoutDangling(splices.apply(this.xml))
    const changes = new Map<string, Uint8Array | null>([['content.xml', encode(content)]])
    this.stylesPart(changes)
    this.addPictures(changes)
    const bytes = opened.container.patched(changes)
    if (!bytes) throw new NotPatched()
    return { bytes, lost: this.limits.list(), expected }
  }

  /** The document without what this file cannot have. */
  private expected(): Node {
    const { styles } = this.source
    const near = (node: Node) => node.textBetween(0, node.content.size, ' ').slice(0, 40)
    const visit = (node: Node, at: number): Node => {
      if (node.isLeaf) return node
      const content: Node[] = []
      node.forEach((one, offset) => {
        if (one.type.name === 'kept' && !this.has(one.attrs as Kept))
          this.limits.add(keptFeatures[(one.attrs as Kept).kind], near(node), 1, [at + offset])
        else content.push(visit(one, at + offset + 1))
      })
      const { style, number } = node.attrs
      if (number?.format === 'decimal-leading-zero') {
        this.limits.add('lists numbered in a way of their own', near(node), 1, [at - 1])
        const plain = listNumberFrom({ ...number, format: 'decimal' })
        return node.type.create({ ...node.attrs, number: plain }, content)
      }
      const known = !style || styles.commonStyle('paragraph', style)
      if (!known) this.limits.add('named styles (their text stays, in Jaula’s look)', near(node), 1, [at - 1])
      return node.type.create(known ? node.attrs : { ...node.attrs, style: null }, content, node.marks)
    }
    const places: number[] = []
    this.doc.forEach((_, offset) => void places.push(offset + 1))
    const content = this.doc.children.map((one, at) => visit(one, places[at]!))
    for (const { edge } of edgesOf(this.doc)) this.limits.add(edge === 'head' ? 'page headers' : 'page footers', '')
    const whole = this.doc.type.create({ ...this.doc.attrs, edges: [] }, content)
    // A page that begins with nothing has an empty line.
    const blocks = blocksOf(whole).flatMap(({ node, broken }) => (broken ? [pageBreak.create(), node] : [node]))
    return whole.copy(Fragment.fromArray(blocks))
  }
  /** Whether a kept thing is one of this file. */
  private has({ xml, parts }: Kept): boolean {
    return parts === null && xml.length < mostKeptBytes && this.xml.includes(xml)
  }

  /** What holds blocks, rows, items: those that stayed in their places, what is new between them. */
  private holder(mapped: Mapped, now: readonly Block[], quote: boolean): string {
    const { element, from, to, inner } = mapped
    const content = this.children(mapped.children ?? [], now, inner, quote)
    return element?.at?.kind === 'empty'
      ? `${this.xml.slice(from, to).replace(/\s*\/>$/, '>')}${content}</${element.name}>`
      : `${this.xml.slice(from, inner[0])}${content}${this.xml.slice(inner[1], to)}`
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
      const same = keys[0]![older] === keys[1]![index] && !(this.numbered && was.node.type.name === 'ordered_list')
      out += same ? this.xml.slice(was.from, was.to) : (this.changed(was, block, quote) ?? this.anew(was, block, quote))
      at = was.to
      passed = older + 1
    }
    gaps(old.length)
    return out + this.xml.slice(at, to)
  }

  private anew(was: Mapped, block: Block, quote: boolean): string {
    const add = (mapped: Mapped): void => {
      for (const { feature, count, where } of mapped.limits) this.limits.add(feature, where[0] ?? '', count)
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
    const automatic = this.source.styles.automaticStyle('paragraph', element.attributes['text:style-name'])
    const before = was.node.attrs
    const same =
      was.node.type === node.type &&
      was.broken === broken &&
      before.align === node.attrs.align &&
      before.style === node.attrs.style &&
      before.level === node.attrs.level &&
      JSON.stringify(before.look) === JSON.stringify(node.attrs.look)
    const letters = writeLine(node, was.tokens!, this.source.styles.textIn(automatic), this.lines)
    const name = node.type.name === 'heading' ? 'text:h' : 'text:p'
    if (same) {
      const open = this.xml.slice(was.from, was.inner[0]).replace(/\s*\/>$/, '>')
      return `${open}${letters}</${name}>`
    }
    const style = this.styles.paragraph(this.common(node, quote), { ...says(node), broken }, automatic)
    const { 'text:outline-level': _, ...attributes } = element.attributes
    const level: Record<string, string> =
      node.type.name === 'heading' ? { 'text:outline-level': String(node.attrs.level) } : {}
    return `${openTag(name, { ...attributes, 'text:style-name': style, ...level })}${letters}</${name}>`
  }

  private leaf(node: Node): string {
    if (node.type.name === 'hard_break') return '<text:line-break/>'
    return node.type.name === 'image' ? this.image(node) : (node.attrs as Kept).xml
  }
  /** A mark that ends a comment goes with it. */
  private stays(point: string): boolean {
    const name = point.startsWith('<office:annotation-end') ? /office:name="([^"]*)"/.exec(point)?.[1] : undefined
    return name === undefined || this.notes.has(name)
  }

  /** The name of the common style that a paragraph is of. */
  private common(node: Node, quote: boolean): string {
    const { style, level } = node.attrs
    const name = style ?? (node.type.name === 'heading' ? headingStyle(level) : quote ? quoteStyle : 'Standard')
    this.wanted.add(name)
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
        const style = this.styles.list(kindOf(node))
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
  private blocks(some: readonly Block[], quote: boolean, broken = false): string {
    return some.map((one, at) => this.block(at === 0 && broken ? { ...one, broken } : one, quote)).join('')
  }
  private newLine(node: Node, broken: boolean, quote: boolean): string {
    const style = this.styles.paragraph(this.common(node, quote), { ...says(node), broken }, undefined)
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
    if (same && !(this.numbered && goesOn)) {
      const open = this.xml.slice(was.from, was.inner[0])
      return `${open}${content}</text:list>`
    }
    const { 'text:continue-numbering': _, 'text:continue-list': __, ...kept } = attributes
    const level = this.levelOf(element)
    const style = this.source.styles.listStyle(this.styleOfList(element))
    const open = openTag('text:list', { ...kept, 'text:style-name': this.styles.listWith(style, now, level) })
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
    visit(this.source.body.element!)
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
          : this.filled(cell, now)
      at = cell.to
    }
    return out + this.xml.slice(at, was.to)
  }
  /** A cell that had nothing. */
  private filled({ element, from, to, inner }: Mapped, now: Node): string {
    const content = this.blocks(blocksOf(now), false)
    return element!.at!.kind === 'empty'
      ? `${this.xml.slice(from, to).replace(/\s*\/>$/, '>')}${content}</${element!.name}>`
      : `${this.xml.slice(from, inner[0])}${content}${this.xml.slice(inner[1], to)}`
  }

  private newTable(node: Node, broken: boolean): string {
    const places = placesIn(node)
    const width = places.width
    const widths = widthsOf(node, places)
    const total = widths?.reduce((sum, one) => sum + one, 0)
    const style = this.styles.plain('table', {
      ...(total ? { 'style:width': fromPixels(total), 'table:align': 'left' } : { 'table:align': 'margins' }),
      ...(broken && { 'fo:break-before': 'page' }),
    })
    let xml = openTag('table:table', { 'table:name': this.tableName(), 'table:style-name': style })
    for (let column = 0; column < width; column++)
      xml += emptyTag('table:table-column', {
        ...(widths && {
          'table:style-name': this.styles.plain('table-column', { 'style:column-width': fromPixels(widths[column]!) }),
        }),
      })
    const cell = this.styles.plain('table-cell', { 'fo:border': '0.5pt solid #999999', 'fo:padding': '3pt' })
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

  private image({ attrs: { src, alt, width, height } }: Node): string {
    const known = this.source.pictures.get(src) ?? this.pictures.get(src)?.href
    const href = known ?? this.newPicture(src)
    const frame = {
      'draw:name': `Image ${this.pictures.size}`,
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
  private newPicture(src: string): string {
    const [type, bytes] = dataUrlBytes(src)
    const names = new Set(this.source.opened.container.names)
    let href: string
    let number = this.pictures.size
    do href = `Pictures/image${++number}.${extensionOf[type] ?? 'png'}`
    while (names.has(href) || [...this.pictures.values()].some((one) => one.href === href))
    this.pictures.set(src, { href, type, bytes })
    return href
  }
  private addPictures(changes: Map<string, Uint8Array | null>): void {
    if (!this.pictures.size) return
    const manifest = this.source.opened.container.read('META-INF/manifest.xml')
    let entries = ''
    for (const { href, type, bytes } of this.pictures.values()) {
      changes.set(href, bytes)
      entries += ` <manifest:file-entry manifest:full-path="${escapeAttribute(href)}" manifest:media-type="${type}"/>\n`
    }
    const text = manifest ? new TextDecoder().decode(manifest) : ''
    // A list of parts under another prefix is left as it is: readers find a picture by its address.
    if (text.includes('</manifest:manifest>'))
      changes.set(
        'META-INF/manifest.xml',
        new TextEncoder().encode(text.replace('</manifest:manifest>', () => `${entries}</manifest:manifest>`)),
      )
  }

  private addStyles(splices: Splices): void {
    if (!this.styles.xml) return
    const { root } = this.source.opened.content
    const own = child(root, 'office:automatic-styles')
    const made = this.styles.xml
    if (own?.at?.kind === 'open') splices.insert(own.at.inner[1], made)
    else {
      const xml = `<office:automatic-styles>${made}</office:automatic-styles>`
      if (own) splices.replace(own.at!.start, own.at!.end, xml)
      else splices.insert(child(root, 'office:body')!.at!.start, xml)
    }
  }

  /** Styles that the work is written in and the file has not, and another page. */
  private stylesPart(changes: Map<string, Uint8Array | null>): void {
    const { styles: part } = this.source.opened
    const missing = [...this.wanted].filter(
      (name) => missingStyles[name] && !this.source.styles.commonStyle('paragraph', name),
    )
    const page = this.doc.attrs.page as Page
    const before = this.source.body.node.attrs.page as Page
    const otherPage = JSON.stringify(page) !== JSON.stringify(before)
    if (!missing.length && !otherPage) return
    const splices = new Splices()
    const common = child(part?.root, 'office:styles')
    if (missing.length && common?.at?.kind === 'open')
      splices.insert(common.at.inner[1], missing.map((name) => missingStyles[name]!).join(''))
    if (otherPage) {
      const element = this.source.page
      if (element) splices.replace(element.at!.start, element.at!.inner[0], pageTag(element, page, before))
      else this.limits.add('page set-up', '')
    }
    if (!splices.any) return
    if (!part?.encode) throw new NotPatched()
    changes.set('styles.xml', part.encode(splices.apply(part.xml)))
  }
}

const { page_break: pageBreak, paragraph } = documentSchema.nodes

/** Blocks with the pages that begin with them; a page that begins with nothing begins with an empty line. */
function blocksOf(parent: Node): Block[] {
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

/** Where each cell of a table stands: null for a place that another one reaches over. */
function placesIn(table: Node): { rows: (Node | null)[][]; width: number } {
  const taken: Set<number>[] = table.children.map(() => new Set())
  const rows: (Node | null)[][] = []
  let width = 1
  table.forEach((row, _offset, y) => {
    const places: (Node | null)[] = []
    let x = 0
    const skip = () => {
      while (taken[y]!.has(x)) {
        places[x] = null
        x++
      }
    }
    row.forEach((cell) => {
      skip()
      const { colspan, rowspan } = cell.attrs
      places[x] = cell
      for (let dx = 1; dx < colspan; dx++) places[x + dx] = null
      for (let dy = 1; dy < rowspan && y + dy < taken.length; dy++)
        for (let dx = 0; dx < colspan; dx++) taken[y + dy]!.add(x + dx)
      x += colspan
    })
    skip()
    for (let at = x; at <= Math.max(-1, ...taken[y]!); at++) places[at] = null
    width = Math.max(width, places.length)
    rows.push(Array.from(places, (place) => place ?? null))
  })
  return { rows, width }
}
/** The width of each column, where every cell says it; pixels. */
function widthsOf(table: Node, { rows, width }: { rows: (Node | null)[][]; width: number }): number[] | null {
  const found: number[] = []
  for (const row of rows)
    for (const [x, cell] of row.entries()) {
      const own = cell?.attrs.colwidth as number[] | null | undefined
      if (own) for (const [at, one] of own.entries()) found[x + at] = one
    }
  return found.length === width && Array.from(found, (one) => one > 0).every(Boolean) && table.childCount ? found : null
}

/** The page as it is now; what is not of its size and margins stays. */
function pageTag(element: XmlElement, page: Page, before: Page): string {
  const { 'fo:margin': all, ...attributes } = element.attributes
  if (all !== undefined)
    for (const side of ['top', 'right', 'bottom', 'left'] as const) attributes[`fo:margin-${side}`] ??= all
  for (const [name, key] of [
    ['fo:page-width', 'width'],
    ['fo:page-height', 'height'],
    ['fo:margin-top', 'top'],
    ['fo:margin-right', 'right'],
    ['fo:margin-bottom', 'bottom'],
    ['fo:margin-left', 'left'],
  ] as const)
    if (page[key] !== before[key]) attributes[name] = fromTwips(page[key])
  attributes['style:print-orientation'] = page.width > page.height ? 'landscape' : 'portrait'
  const tag = openTag(element.name, attributes)
  return element.at!.kind === 'empty' ? tag.replace(/>$/, '/>') : tag
}

const namesOfComments = (doc: Node): Set<string> => {
  const names = new Set<string>()
  doc.descendants((node) => {
    const name =
      node.type.name === 'kept'
        ? /^<office:annotation\b[^>]*office:name="([^"]*)"/.exec(node.attrs.xml)?.[1]
        : undefined
    if (name !== undefined) names.add(name)
  })
  return names
}

/** Marks that begin or end something whose other end went with its paragraph. */
function withoutDangling(xml: string): string {
  const marks = /<text:(bookmark|reference-mark|change)-(start|end)\b([^>]*?)\/>/g
  const found = new Map<string, number>()
  const keyOf = (kind: string, attributes: string) =>
    `${kind} ${/text:(?:name|change-id)="([^"]*)"/.exec(attributes)?.[1] ?? ''}`
  for (const [, kind, end, attributes] of xml.matchAll(marks)) {
    const key = keyOf(kind!, attributes!)
    found.set(key, (found.get(key) ?? 0) | (end === 'start' ? 1 : 2))
  }
  if ([...found.values()].every((both) => both === 3)) return xml
  return xml.replace(marks, (all, kind: string, _end, attributes: string) =>
    found.get(keyOf(kind, attributes)) === 3 ? all : '',
  )
}

const headingSizes = [16, 14, 12, 11, 11, 11]
/** Common styles that work may be written in, as files of other programs name them. */
export const missingStyles: Readonly<Record<string, string>> = {
  ...Object.fromEntries(
    headingSizes.map((size, at) => [
      headingStyle(at + 1),
      `<style:style style:name="${headingStyle(at + 1)}" style:display-name="Heading ${at + 1}" style:family="paragraph" style:parent-style-name="Standard" style:next-style-name="Standard" style:default-outline-level="${at + 1}" style:class="text">` +
        '<style:paragraph-properties fo:margin-top="12pt" fo:margin-bottom="4pt" fo:keep-with-next="always"/>' +
        `<style:text-properties fo:font-size="${size}pt" fo:font-weight="bold"/></style:style>`,
    ]),
  ),
  [quoteStyle]:
    `<style:style style:name="${quoteStyle}" style:family="paragraph" style:parent-style-name="Standard" style:class="html">` +
    '<style:paragraph-properties fo:margin-left="28pt" fo:margin-right="28pt"/></style:style>',
  Standard: '<style:style style:name="Standard" style:family="paragraph" style:class="text"/>',
}
