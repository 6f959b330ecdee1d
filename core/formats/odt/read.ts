// Texts of the OpenDocument format (ISO/IEC 26300-1) as documents, each block with where it stands, so that what nobody
// changes stays as it is.
import type { Fragment, Node } from 'prosemirror-model'
import { deepestList, documentSchema } from '../../content/document'
import { edgeKey, inOrder, type PageEdge, storyJSON } from '../../content/edges'
import { say } from '../../words/said'
import { mostParagraphs } from '../docx/reader'
import { dataUrl, typeOfPicture } from '../docx/write'
import { pixelsOf } from '../odf/lengths'
import { bodyOf, type OdfPackage, openOdf } from '../odf/package'
import { alignOf, breaksBefore, paragraphLookOf, propertiesIn } from '../odf/properties'
import { OdfStyles, startOf } from '../odf/styles'
import { elements, textOf, type XmlElement } from '../opc/xml'
import { DamagedFile, type Limit, Limits } from '../refusals'
import { mostLetters } from '../text/read'
import { headingStyle, quoteStyle } from './common-styles'
import { inlineOf, type LineContext, readLine, type Token } from './line'
import { type PageSource, pageOf } from './page'

/** A node of the document and where in its part it stands. */
export interface Mapped {
  node: Node
  /** A page begins with it. */
  broken: boolean
  from: number
  to: number
  /** null for a quote, which is its paragraphs, and for one paragraph that is several in the file. */
  element: XmlElement | null
  /** Of what holds others: those in order, and the span that they stand in; null where it can only be written anew. */
  children: Mapped[] | null
  inner: readonly [from: number, to: number]
  /** Of a paragraph: what stands in it. */
  tokens: Token[] | null
  /** What of it goes when it is written anew. */
  limits: readonly Limit[]
}
export interface OdtSource {
  opened: OdfPackage
  styles: OdfStyles
  body: Mapped
  pictures: ReadonlyMap<string, string>
  page: PageSource
}
export interface ReadOdt {
  doc: Node
  limits: Limit[]
  source: OdtSource
}

/** What a block stands in beside the text. */
interface Where {
  cell: 'table' | 'item' | 'edge' | null
}

const { nodes } = documentSchema
/** Elements whose blocks stand in the text as if they were not there: sections and indexes (§5.4, §8). */
const transparent =
  /^(?:text:section|text:(?:table-of-content|illustration-index|table-index|object-index|user-index|alphabetical-index|bibliography)|text:index-body|text:index-title|text:numbered-paragraph|text:list|text:list-item|text:list-header)$/
/** Cells of a table of a text: more are kept and not opened. */
const mostRepeated = 2000

/** @throws DamagedFile */
export function readOdt(bytes: Uint8Array): ReadOdt {
  const opened = openOdf(bytes)
  const limits = new Limits()
  const pictures = new Map<string, string | null>()
  const found: Found = { limits, pictures, paragraphs: 0, letters: 0 }
  const styles = new OdfStyles(opened)
  const body = bodyOf(opened.content.root, 'office:text')
  const reader = new StoryReader(opened, opened.content.xml, styles, body, found, false)
  const story = reader.story()
  const blocks = story.children!
  for (const one of elements(body)) {
    if (one.name.startsWith('draw:')) limits.add('drawn shapes', '')
    else if (one.name === 'office:forms' && one.children.length) limits.add('form controls', '')
  }
  const page = pageOf(opened, styles, blocks[0], limits)
  const edges: PageEdge[] = []
  const own = new OdfStyles(opened, 'styles')
  for (const [name, element] of page.elements) {
    const edge = new StoryReader(opened, opened.styles!.xml, own, element, found, true).story()
    page.edges.set(edgeKey(name), edge)
    const content = edge.children!.map(({ node }) => node)
    edges.push({
      ...name,
      json: storyJSON(nodes.doc.create(null, content.length ? content : nodes.paragraph.create())),
    })
  }
  const content = blocks.flatMap(({ node, broken }) => (broken ? [nodes.page_break.create(), node] : [node]))
  const doc = nodes.doc.create(
    { page: page.size, edges: inOrder(edges) },
    content.length ? content : [nodes.paragraph.create()],
  )
  doc.check()
  const shown = new Map<string, string>()
  for (const [href, src] of pictures) if (src !== null) shown.set(src, href)
  const source = { opened, styles, body: { ...story, node: doc }, pictures: shown, page: { ...page, styles: own } }
  return { doc, limits: limits.list(), source }
}

interface Found {
  limits: Limits
  pictures: Map<string, string | null>
  /** How much was read. */
  paragraphs: number
  letters: number
}

class StoryReader {
  private readonly limits: Limits
  private readonly pictures: Map<string, string | null>
  private readonly line: LineContext
  /** The last number of each list that others may go on from: by its style and by its own name. */
  private readonly lastOf = new Map<string, number>()

  /** @param xml of the part @param root what the blocks stand in @param edge of a page */
  constructor(
    private readonly opened: OdfPackage,
    private readonly xml: string,
    private readonly styles: OdfStyles,
    private readonly root: XmlElement,
    private readonly found: Found,
    edge: boolean,
  ) {
    const { limits, pictures } = found
    this.limits = limits
    this.pictures = pictures
    this.line = { xml, styles, limits, edge, picture: (href) => this.picture(href) }
  }

  story(): Mapped {
    return {
      ...spanOf(this.root),
      node: documentSchema.topNodeType.create(),
      broken: false,
      element: this.root,
      children: this.blocks(elements(this.root), { cell: this.line.edge ? 'edge' : null }),
      inner: this.root.at!.inner,
      tokens: null,
      limits: [],
    }
  }

  private picture(href: string): string | null {
    const known = this.pictures.get(href)
    if (known !== undefined) return known
    const type = typeOfPicture(href)
    const bytes = type ? this.opened.container.read(href.replace(/^\.\//, '')) : undefined
    const src = type && bytes ? dataUrl(type, bytes) : null
    this.pictures.set(href, src)
    return src
  }

  private blocks(some: Iterable<XmlElement>, where: Where): Mapped[] {
    const found: Mapped[] = []
    for (const element of some) this.block(element, where, found)
    return quoted(found, this.styles)
  }

  private block(element: XmlElement, where: Where, found: Mapped[]): void {
    const { name } = element
    if (name === 'text:p' || name === 'text:h') found.push(this.paragraph(element, where))
    else if (name === 'table:table') {
      if (where.cell === null || where.cell === 'edge') found.push(this.table(element))
      else {
        this.limits.add('tables inside tables (their text stays)', nearIn(element))
        for (const row of rowsIn(element))
          for (const cell of elements(row.element, 'table:table-cell'))
            for (const inner of elements(cell)) this.block(inner, where, found)
      }
    } else if (name === 'text:list' && isPlainList(element)) {
      const list = this.list(element, undefined, 1, '')
      if (list) found.push(list)
    } else if (transparent.test(name)) for (const inner of elements(element)) this.block(inner, where, found)
  }

  /** A paragraph that is said once may stand in many cells. */
  private count(paragraphs: number, letters: number): void {
    this.found.paragraphs += paragraphs
    this.found.letters += letters
    if (this.found.paragraphs > mostParagraphs)
      throw new DamagedFile(say('formats.it-has-too-many-paragraphs', { most: mostParagraphs.toLocaleString('en') }))
    if (this.found.letters > mostLetters) throw new DamagedFile(say('formats.text-too-long', { n: mostLetters }))
  }

  private paragraph(element: XmlElement, { cell }: Where): Mapped {
    const { attributes, name } = element
    const styleName = attributes['text:style-name']
    const automatic = this.styles.automaticStyle('paragraph', styleName)
    const says = propertiesIn(automatic, 'paragraph')
    const tokens = readLine(element, this.styles.textIn(automatic), this.line)
    this.count(
      1,
      tokens.reduce((sum, token) => sum + (token.is === 'letters' ? token.text.length : 1), 0),
    )
    const common = this.styles.commonName('paragraph', styleName)
    const level = Math.min(6, Math.max(1, Number(attributes['text:outline-level'] ?? 1) || 1))
    const usual = name === 'text:h' ? headingStyle(level) : 'Standard'
    const isUsual = common === usual || !this.styles.commonStyle('paragraph', common)
    const attrs = { align: alignOf(says), look: paragraphLookOf(says), style: isUsual || !common ? null : common }
    const type = name === 'text:h' ? nodes.heading : nodes.paragraph
    const broken = this.breaks(element)
    if (broken && cell === 'table') this.limits.add('page breaks inside tables', nearIn(element))
    return {
      ...spanOf(element),
      node: type.create(name === 'text:h' ? { ...attrs, level } : attrs, inlineOf(tokens)),
      broken: broken && cell === null,
      element,
      children: null,
      inner: element.at!.inner,
      tokens,
      limits: [],
    }
  }
  private breaks(element: XmlElement): boolean {
    const styleName = element.attributes['text:style-name']
    const automatic = this.styles.automaticStyle('paragraph', styleName)
    const common = this.styles.chain('paragraph', this.styles.commonName('paragraph', styleName)).at(-1)
    if (breaksBefore(propertiesIn(automatic, 'paragraph')) || breaksBefore(propertiesIn(common, 'paragraph')))
      return true
    // A text does not begin with another page for naming the one that it is on.
    return !!automatic?.attributes['style:master-page-name'] && !this.isFirst(element)
  }
  private isFirst(element: XmlElement): boolean {
    const before = this.xml.slice(this.root.at!.inner[0], element.at!.start)
    return !/<(?:text:[ph]|table:table)\b/.test(before)
  }

  /** @param style of the list that it stands in @param path of the numbers that it goes on from */
  private list(element: XmlElement, style: string | undefined, level: number, path: string): Mapped | null {
    const { attributes } = element
    const own = attributes['text:style-name'] ?? style
    const { ordered, start: usual, number } = this.styles.listLevel(own, level)
    const items: Mapped[] = []
    const goesOn =
      level === 1
        ? this.lastOf.get(
            attributes['text:continue-list'] ??
              (attributes['text:continue-numbering'] === 'true' ? `style ${own}` : 'none'),
          )
        : undefined
    let start = goesOn === undefined ? usual : goesOn + 1
    for (const [at, item] of [...elements(element)].entries()) {
      if (item.name !== 'text:list-item' && item.name !== 'text:list-header') continue
      const said = startOf(item.attributes['text:start-value'])
      if (said !== undefined && !items.length) start = said
      else if (said !== undefined && ordered) this.limits.add('lists numbered in a way of their own', nearIn(item))
      items.push(this.item(item, own, level, `${path}${at}.`))
    }
    if (!items.length) return null
    if (level === 1) {
      const last = start + items.length - 1
      this.lastOf.set(`style ${own}`, last)
      if (attributes['xml:id']) this.lastOf.set(attributes['xml:id'], last)
    }
    const content = items.map(({ node }) => node)
    const first = level === 1 ? firstParagraph(element) : undefined
    return {
      ...spanOf(element),
      node: ordered ? nodes.ordered_list.create({ start, number }, content) : nodes.bullet_list.create(null, content),
      broken: !!first && this.breaks(first),
      element,
      children: items,
      inner: element.at!.inner,
      tokens: null,
      limits: [],
    }
  }

  private item(element: XmlElement, style: string | undefined, level: number, path: string): Mapped {
    const lines: Mapped[] = []
    const lists: Mapped[] = []
    const limits = new Limits()
    for (const one of elements(element)) {
      if (one.name === 'text:p') {
        // What comes behind a list is of the item's own words.
        lines.push(this.paragraph(one, { cell: 'item' }))
        if (lists.length) limits.add('breaks inside paragraphs (they become lines)', nearIn(element))
      } else if (one.name === 'text:list') {
        const list = level < deepestList ? this.list(one, style, level + 1, path) : null
        if (list) lists.push(list)
      }
    }
    const inOrder = lines.length === 1 && (!lists.length || lines[0]!.to <= lists[0]!.from)
    const first: Mapped | undefined = lines.length > 1 ? severalAsOne(lines) : lines[0]
    if (lines.length > 1) limits.add('paragraphs of list items (they become lines)', nearIn(element), lines.length)
    const words = first?.node ?? nodes.paragraph.create()
    return {
      ...spanOf(element),
      node: nodes.list_item.create(null, [words, ...lists.map(({ node }) => node)]),
      broken: false,
      element,
      children: inOrder ? [first!, ...lists] : null,
      inner: element.at!.inner,
      tokens: null,
      limits: limits.list(),
    }
  }

  private table(element: XmlElement): Mapped {
    const widths = this.columnWidths(element)
    const rows: Mapped[] = []
    let asItIs = true
    for (const { element: row, header } of rowsIn(element)) {
      const cells: Mapped[] = []
      let column = 0
      for (const cell of elements(row)) {
        const times = repeated(cell, 'table:number-columns-repeated')
        if (cell.name === 'table:covered-table-cell') column += times
        if (cell.name !== 'table:table-cell') continue
        if (times > 1) asItIs = false
        for (let n = 0; n < times; n++) {
          this.count(1, 0)
          cells.push(this.cell(cell, widths, column))
          column++
        }
      }
      const times = repeated(row, 'table:number-rows-repeated')
      if (times > 1) asItIs = false
      const node = nodes.table_row.create(
        { header },
        cells.map((cell) => cell.node),
      )
      this.count((times - 1) * cells.length, 0)
      for (let n = 0; n < times; n++)
        rows.push({
          ...spanOf(row),
          node,
          broken: false,
          element: row,
          children: cells,
          inner: row.at!.inner,
          tokens: null,
          limits: [],
        })
    }
    const style = this.styles.automaticStyle('table', element.attributes['table:style-name'])
    const limits = new Limits()
    limits.add('looks of cells', nearIn(element))
    return {
      ...spanOf(element),
      node: nodes.table.create(null, rows.length ? rows.map((row) => row.node) : nodes.table_row.create()),
      broken: breaksBefore(propertiesIn(style, 'table')),
      element,
      children: asItIs && rows.length ? rows : null,
      inner: element.at!.inner,
      tokens: null,
      limits: limits.list(),
    }
  }
  private cell(element: XmlElement, widths: (number | undefined)[], column: number): Mapped {
    const { attributes } = element
    const span = (name: string) => Math.max(1, Math.min(1000, startOf(attributes[`table:number-${name}-spanned`]) ?? 1))
    const colspan = span('columns')
    const own = widths.slice(column, column + colspan)
    const blocks = this.blocks(elements(element), { cell: 'table' })
    return {
      ...spanOf(element),
      node: nodes.table_cell.create(
        {
          colspan,
          rowspan: span('rows'),
          colwidth: own.length === colspan && own.every((width) => width !== undefined) ? own : null,
        },
        blocks.length ? blocks.map(({ node }) => node) : nodes.paragraph.create(),
      ),
      broken: false,
      element,
      children: blocks.length ? blocks : null,
      inner: element.at!.inner,
      tokens: null,
      limits: [],
    }
  }
  private columnWidths(table: XmlElement): (number | undefined)[] {
    const found: (number | undefined)[] = []
    const visit = (parent: XmlElement): void => {
      for (const one of elements(parent)) {
        if (/^table:table-(?:columns|header-columns|column-group)$/.test(one.name)) visit(one)
        if (one.name !== 'table:table-column') continue
        const style = this.styles.automaticStyle('table-column', one.attributes['table:style-name'])
        const width = pixelsOf(propertiesIn(style, 'table-column')['style:column-width'])
        for (let n = repeated(one, 'table:number-columns-repeated'); n > 0; n--) found.push(width || undefined)
      }
    }
    visit(table)
    return found
  }
}

const spanOf = ({ at }: XmlElement) => ({ from: at!.start, to: at!.end })
const repeated = (element: XmlElement, name: string): number =>
  Math.max(1, Math.min(mostRepeated, startOf(element.attributes[name]) ?? 1))
const nearIn = (element: XmlElement): string => textOf(element).replace(/\s+/g, ' ').trim().slice(0, 40)

/** The rows of a table, in whatever groups they stand. */
function rowsIn(table: XmlElement, header = false): { element: XmlElement; header: boolean }[] {
  const found: { element: XmlElement; header: boolean }[] = []
  for (const one of elements(table)) {
    if (one.name === 'table:table-row') found.push({ element: one, header })
    else if (one.name === 'table:table-header-rows') found.push(...rowsIn(one, true))
    else if (one.name === 'table:table-rows' || one.name === 'table:table-row-group') found.push(...rowsIn(one, header))
  }
  return found
}

function firstParagraph(list: XmlElement): XmlElement | undefined {
  for (const item of elements(list))
    for (const one of elements(item)) return one.name === 'text:p' ? one : firstParagraph(one)
  return undefined
}

/** A list whose items are paragraphs and lists; one of numbered headings is its headings. */
function isPlainList(list: XmlElement): boolean {
  for (const item of elements(list))
    for (const one of elements(item)) {
      if (one.name === 'text:list' ? !isPlainList(one) : one.name !== 'text:p' && one.name !== 'text:soft-page-break')
        return false
    }
  return true
}

/** Paragraphs of one item as lines of one, which is written anew where somebody changes it. */
function severalAsOne(lines: readonly Mapped[]): Mapped {
  const [first] = lines
  let content: Fragment = first!.node.content
  for (const { node } of lines.slice(1)) content = content.addToEnd(nodes.hard_break.create()).append(node.content)
  return {
    ...first!,
    node: first!.node.copy(content),
    to: lines.at(-1)!.to,
    element: null,
    tokens: null,
  }
}

/** Neighbours in the style of quotes are one quote. */
function quoted(blocks: readonly Mapped[], styles: OdfStyles): Mapped[] {
  const found: Mapped[] = []
  let quote: Mapped | null = null
  for (const block of blocks) {
    const isQuote =
      block.node.type === nodes.paragraph &&
      styles.commonName('paragraph', block.element?.attributes['text:style-name']) === quoteStyle
    if (!isQuote) {
      quote = null
      found.push(block)
      continue
    }
    const line: Mapped = {
      ...block,
      broken: false,
      node: block.node.type.create({ ...block.node.attrs, style: null }, block.node.content),
    }
    if (quote && !block.broken) {
      quote.children!.push(line)
      quote.to = line.to
      quote.inner = [quote.from, line.to]
      quote.node = nodes.blockquote.create(
        null,
        quote.children!.map(({ node }) => node),
      )
      continue
    }
    quote = {
      ...line,
      broken: block.broken,
      node: nodes.blockquote.create(null, line.node),
      element: null,
      children: [line],
      inner: [line.from, line.to],
      tokens: null,
    }
    found.push(quote)
  }
  return found
}
