// Reads WordprocessingML (ECMA-376 part 1, §17) into the document model, from the XML itself.
// In two passes: the body's flat paragraphs and tables become pieces (what a paragraph says
// about itself), then `assemble` nests the pieces into lists and quotes. Whatever the model
// cannot hold is counted in the limits, with where it stands.
import { Fragment, type Mark, type Node } from 'prosemirror-model'
import { type Align, a4, deepestList, documentSchema, type Look, type Page, storableText } from '../../content/document'
import type { KeptKind } from '../../content/kept'
import { say } from '../../words/said'
import { type OpcPackage, onOff, openPackage, type Relationship, relationshipKind, valueOf } from '../opc/package'
import { child, descendant, elements, textOf, type XmlElement } from '../opc/xml'
import { DamagedFile, type Limit, Limits } from '../refusals'
import { KeptThings, keptNode, standsBesideRuns } from './kept'
import { type Numbering, readNumbering } from './numbering'
import { readStyles, type Styles } from './style-sheet'
import { dataUrl, emuPerPixel, twipsPerPixel } from './write'

const { nodes, marks } = documentSchema

/** Columns of a table at most; programs stop at 63. */
const mostColumns = 1000
/** Cells of all tables at most. */
const mostTableCells = 1_000_000
/** Paragraphs at most: some thirty thousand pages. */
const mostParagraphs = 500_000
const tooManyColumns = () => new DamagedFile(say('formats.its-table-has-too-many-columns'))

export interface ReadDocument {
  doc: Node
  limits: Limit[]
}

/** The form of the model that this reader gives; the first one had nothing of what is kept in its place. */
export type DocxForm = 1 | 2

/** @param form of the model; earlier ones are for drafts that were written on them @throws DamagedFile */
export function readDocx(bytes: Uint8Array, form: DocxForm = 2): ReadDocument {
  const opened = openPackage(bytes)
  const main = opened.mainPart()
  return readBody(opened, main, opened.xml(main), form)
}

/**
 * The document as it is read, and from the same walk where each part of it stands.
 * @param root the main part, read with its spans
 * @throws DamagedFile
 */
export function readDocxSource(
  opened: OpcPackage,
  main: string,
  root: XmlElement,
): ReadDocument & { source: DocumentSource } {
  const source = new DocumentSource()
  return { ...readBody(opened, main, root, 2, source), source }
}

function readBody(
  opened: OpcPackage,
  main: string,
  root: XmlElement | undefined,
  form: DocxForm,
  source: DocumentSource | null = null,
): ReadDocument {
  const body = root && child(root, 'w:body')
  if (!body) throw new DamagedFile(say('formats.this-file-is-damaged-it-has-no'))
  const reader = new Reader(opened, main, form === 1 ? null : new KeptThings(opened, main, root), source)
  const doc = reader.document(body)
  doc.check()
  return { doc, limits: reader.limits.list() }
}

/**
 * Another story of a file (§17.2: a header, a footer), to be shown.
 * @returns undefined when the part is not there @throws DamagedFile
 */
export function readStory(opened: OpcPackage, part: string): Node | undefined {
  const root = opened.xml(part)
  return root && new Reader(opened, part, new KeptThings(opened, part, root), null, opened.mainPart()).story(root)
}

export type Piece =
  | {
      is: 'paragraph'
      /** What it was read from. */
      from?: XmlElement
      style: 'plain' | 'quote' | 'quote anew' | 'gap'
      align: Align
      level: number
      inline: Node[]
      list: { number: string; level: number } | null
    }
  | { is: 'block'; node: Node; from?: XmlElement }

const imageTypes: Record<string, string> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  bmp: 'image/bmp',
  svg: 'image/svg+xml',
  webp: 'image/webp',
}

/** Elements that say nothing the model would lose. */
const silent = new Set([
  'w:pPr',
  'w:rPr',
  'w:proofErr',
  'w:bookmarkStart',
  'w:bookmarkEnd',
  'w:lastRenderedPageBreak',
  'w:sectPr',
  'w:permStart',
  'w:permEnd',
  'w:commentRangeStart',
  'w:commentRangeEnd',
  'w:annotationRef',
  'w:footnoteRef',
  'w:endnoteRef',
  'w:separator',
  'w:continuationSeparator',
  'w:moveFromRangeStart',
  'w:moveFromRangeEnd',
  'w:moveToRangeStart',
  'w:moveToRangeEnd',
  'w:sdtPr',
  'w:sdtEndPr',
  'w:tblPr',
  'w:tblGrid',
  'w:trPr',
  'w:tcPr',
  'w:fldData',
])

const limitOf: Record<string, string> = {
  'w:footnoteReference': 'footnotes',
  'w:endnoteReference': 'endnotes',
  'w:commentReference': 'comments',
  'w:pict': 'drawn shapes',
  'w:object': 'embedded objects',
  'm:oMath': 'formulas',
  'm:oMathPara': 'formulas',
  'w:sym': 'symbols of a special font',
  'w:ruby': 'ruby text',
  'w:altChunk': 'embedded files',
  'w:ptab': 'positioned tabs',
  'w:pgNum': 'page number fields',
  'w:subDoc': 'linked files',
}

/** Where each part of a document stands in its main part. */
export class DocumentSource {
  pieces: Piece[] = []
  body: XmlElement | null = null
  styles: Styles | null = null
  /** The element inside a run that gave an inline node. */
  readonly parts = new Map<Node, XmlElement>()
  /** The run that gave it, and the marks that its style gives it. */
  readonly runs = new Map<Node, { run: XmlElement; inherited: readonly Mark[] }>()
  /** What is kept in its place, in the order of the file. */
  readonly kept: { node: Node; element: XmlElement }[] = []
  readonly breaks: { run: XmlElement; part: XmlElement }[] = []
  readonly tables = new Map<
    XmlElement,
    { from: XmlElement; cells: { from: XmlElement | undefined; pieces: Piece[] }[] }[]
  >()
  last: XmlElement | null = null

  ranInto(run: XmlElement, into: readonly (Node | 'page break')[], from: number, inherited: readonly Mark[]): void {
    for (const one of into.slice(from)) if (typeof one !== 'string') this.runs.set(one, { run, inherited })
  }
}

class Reader {
  readonly limits = new Limits()
  private readonly relationships: Map<string, Relationship>
  private readonly styles: Styles
  private readonly numbering: Numbering
  private readonly counters = new Map<string, number[]>()
  private near = ''
  private fieldDepth = 0
  private inInstruction = false
  private instruction = ''
  /** Texts so far, and how many there were when a field's result began. */
  private said = 0
  private saidAt = 0
  private readonly foreignStyles = new Set<string>()

  constructor(
    private readonly opened: OpcPackage,
    main: string,
    private readonly things: KeptThings | null,
    private readonly source: DocumentSource | null = null,
    /** The part that leads to styles and numbering, where another one is read. */
    lead = main,
  ) {
    this.relationships = opened.relationships(main)
    const part = (kind: string) =>
      [...(lead === main ? this.relationships : opened.relationships(lead)).values()].find(
        (relationship) => relationshipKind(relationship) === kind,
      )
    const xml = (kind: string) => {
      const target = part(kind)?.target
      return target === undefined ? undefined : opened.xml(target)
    }
    this.styles = readStyles(xml('styles'))
    this.numbering = readNumbering(xml('numbering'))
    for (const name of opened.container.names) if (/vbaProject\.bin$/.test(name)) this.limits.add('macros', '')
  }

  document(body: XmlElement): Node {
    const pieces = this.pieces(body, true)
    const section = child(body, 'w:sectPr')
    this.headersAndFooters(section)
    if (this.styles.foreign && this.foreignStyles.size > 0)
      this.limits.add(
        'named styles (their text stays, in Jaula’s look)',
        [...this.foreignStyles].slice(0, 5).join(', '),
        this.foreignStyles.size,
      )
    if (this.source) {
      this.source.pieces = pieces
      this.source.body = body
      this.source.styles = this.styles
    }
    const blocks = this.assemble(pieces)
    return nodes.doc.create({ page: pageOf(section) }, blocks.length ? blocks : [nodes.paragraph.create()])
  }

  /** What is shown of a field that has no result: of a page's number the first. */
  private pageNumber = false
  story(root: XmlElement): Node {
    this.pageNumber = true
    const blocks = this.assemble(this.pieces(root, true))
    return nodes.doc.create(null, blocks.length ? blocks : [nodes.paragraph.create()])
  }

  /** Cells of all tables so far, also those that only fill rows up. */
  private tableCells = 0
  private paragraphs = 0

  private headersAndFooters(section: XmlElement | undefined): void {
    for (const element of elements(section)) {
      if (element.name !== 'w:headerReference' && element.name !== 'w:footerReference') continue
      const target = this.relationships.get(element.attributes['r:id'] ?? '')?.target
      const content = target && this.opened.xml(target)
      if (content && (textOf(content).trim() || descendant(content, 'w:drawing')))
        this.limits.add(element.name === 'w:headerReference' ? 'page headers' : 'page footers', '')
    }
  }

  private pieces(parent: XmlElement, top: boolean): Piece[] {
    const pieces: Piece[] = []
    for (const element of elements(parent)) {
      switch (element.name) {
        case 'w:p':
          if (++this.paragraphs > mostParagraphs)
            throw new DamagedFile(
              say('formats.it-has-too-many-paragraphs', { most: mostParagraphs.toLocaleString('en') }),
            )
          pieces.push(...this.paragraph(element, top))
          break
        case 'w:tbl':
          if (top) pieces.push({ is: 'block', node: this.table(element), from: element })
          else {
            this.limits.add('tables inside tables (their text stays)', this.near)
            for (const row of elements(element, 'w:tr'))
              for (const cell of elements(row, 'w:tc')) pieces.push(...this.pieces(cell, false))
          }
          break
        case 'w:sdt':
          pieces.push(...this.pieces(child(element, 'w:sdtContent') ?? element, top))
          break
        case 'w:ins':
        case 'w:moveTo':
        case 'w:customXml':
        case 'w:smartTag':
          pieces.push(...this.pieces(element, top))
          break
        case 'mc:AlternateContent':
          pieces.push(...this.pieces(child(element, 'mc:Fallback') ?? element, top))
          break
        default:
          this.leftOut(element)
      }
    }
    return pieces
  }

  private leftOut(element: XmlElement): void {
    const feature = limitOf[element.name]
    if (feature) this.limits.add(feature, this.near)
    else if (element.name === 'w:del' || element.name === 'w:moveFrom') this.limits.add('tracked removals', this.near)
    else if (!silent.has(element.name)) this.limits.add(`${element.name} elements`, this.near)
  }

  private paragraph(element: XmlElement, top: boolean): Piece[] {
    const properties = child(element, 'w:pPr')
    const styleId = valueOf(properties, 'w:pStyle') ?? ''
    const style = this.styles.paragraph(styleId)
    if (!style.known && style.name) this.foreignStyles.add(style.name)
    const numbering = child(properties, 'w:numPr')
    const number = valueOf(numbering, 'w:numId') ?? style.number
    // What is no number is the first level.
    const level = Math.trunc(Number(valueOf(numbering, 'w:ilvl') ?? style.numberLevel ?? 0)) || 0
    const listed = number !== undefined && number !== '0' && style.heading === 0 && this.numbering.has(number)
    const inner = child(properties, 'w:sectPr')
    if (inner) {
      this.limits.add('sections with a page layout of their own', this.near)
      this.headersAndFooters(inner)
    }
    const runs: (Node | 'page break')[] = []
    if (onOff(child(properties, 'w:pageBreakBefore'))) runs.push('page break')
    this.inline(element, [], runs, style.marks)
    const plain = runs
      .map((part) => (typeof part === 'string' ? ' ' : part.textContent))
      .join('')
      .trim()
    if (style.heading > 0 && plain) this.near = plain.slice(0, 60)
    else if (!this.near && plain) this.near = plain.slice(0, 40)

    const align = alignOf(valueOf(properties, 'w:jc') ?? style.align)
    const piece = (inline: Node[]): Piece => ({
      is: 'paragraph',
      from: element,
      style: style.role,
      align,
      level: style.heading,
      inline,
      list: listed ? { number, level: Math.min(Math.max(level, 0), deepestList - 1) } : null,
    })
    const pieces: Piece[] = []
    let inline: Node[] = []
    let broken = false
    for (const part of runs) {
      if (part !== 'page break') inline.push(part)
      else if (!top) this.limits.add('page breaks inside tables', this.near)
      else {
        if (inline.length) pieces.push(piece(inline))
        pieces.push({ is: 'block', node: nodes.page_break.create(), from: element })
        inline = []
        broken = true
      }
    }
    // A paragraph that holds only a page break is the page break.
    if (inline.length || !broken) pieces.push(piece(inline))
    return pieces
  }

  private inline(
    parent: XmlElement,
    outer: readonly Mark[],
    into: (Node | 'page break')[],
    styleMarks: readonly Mark[],
  ): void {
    for (const element of elements(parent)) {
      switch (element.name) {
        case 'w:r':
          this.run(element, outer, into, styleMarks)
          break
        case 'w:hyperlink': {
          const target = this.relationships.get(element.attributes['r:id'] ?? '')?.target
          const anchor = element.attributes['w:anchor']
          const href =
            target !== undefined
              ? target + (anchor ? `#${anchor}` : '')
              : anchor !== undefined
                ? `#${anchor}`
                : undefined
          this.inline(
            element,
            href === undefined ? outer : marks.link.create({ href }).addToSet(outer),
            into,
            styleMarks,
          )
          break
        }
        case 'w:ins':
        case 'w:moveTo':
          this.limits.add('tracked insertions (their text stays)', this.near)
          this.inline(element, outer, into, styleMarks)
          break
        case 'w:fldSimple':
          this.limits.add('fields (their last result stays)', this.near)
          this.inline(element, outer, into, styleMarks)
          break
        case 'w:smartTag':
        case 'w:customXml':
        case 'w:dir':
        case 'w:bdo':
          this.inline(element, outer, into, styleMarks)
          break
        case 'w:sdt':
          this.inline(child(element, 'w:sdtContent') ?? element, outer, into, styleMarks)
          break
        case 'mc:AlternateContent':
          this.inline(child(element, 'mc:Fallback') ?? element, outer, into, styleMarks)
          break
        default: {
          const kept = standsBesideRuns(element) && this.kept(element, outer)
          if (!kept) {
            this.leftOut(element)
            break
          }
          into.push(kept)
          this.source?.parts.set(kept, element)
          this.source?.runs.set(kept, { run: element, inherited: styleMarks })
        }
      }
    }
  }

  /** What is kept in its place, as the model has it; null for what is not. */
  private kept(element: XmlElement, set: readonly Mark[], kind?: KeptKind): Node | null {
    const kept = this.inInstruction ? null : this.things?.of(element, kind)
    if (!kept) return null
    const node = keptNode(kept).mark(set)
    this.source?.kept.push({ node, element })
    return node
  }

  private run(
    element: XmlElement,
    outer: readonly Mark[],
    into: (Node | 'page break')[],
    styleMarks: readonly Mark[],
  ): void {
    const set = this.runMarks(child(element, 'w:rPr'), outer, styleMarks)
    const before = into.length
    this.runParts(element, set, into, before)
    this.source?.ranInto(element, into, before, styleMarks)
  }

  private runParts(element: XmlElement, set: readonly Mark[], into: (Node | 'page break')[], first: number): void {
    let told = first
    for (const part of elements(element)) {
      const text = (value: string) => {
        const kept = storableText(value)
        if (kept && !this.inInstruction) {
          this.said++
          into.push(documentSchema.text(kept, set))
        }
      }
      if (this.source) {
        for (; told < into.length; told++) this.source.parts.set(into[told] as Node, this.source.last!)
        this.source.last = part
      }
      switch (part.name) {
        case 'w:t':
          text(part.children.filter((piece) => typeof piece === 'string').join(''))
          break
        case 'w:tab':
          text('\t')
          break
        case 'w:noBreakHyphen':
          text('\u2011')
          break
        case 'w:softHyphen':
          text('\u00ad')
          break
        case 'w:cr':
          into.push(nodes.hard_break.create(null, null, set))
          break
        case 'w:br':
          if (part.attributes['w:type'] === 'page') into.push('page break')
          else if (part.attributes['w:type'] === 'column') this.limits.add('column breaks', this.near)
          else into.push(nodes.hard_break.create(null, null, set))
          break
        case 'w:drawing':
          this.drawing(part, part, set, into)
          break
        case 'mc:AlternateContent': {
          const drawing = descendant(part, 'w:drawing')
          if (drawing) {
            this.drawing(drawing, part, set, into)
            break
          }
          const kept = this.kept(part, set, 'shape')
          if (kept) into.push(kept)
          else this.limits.add('drawn shapes', this.near)
          break
        }
        case 'w:fldChar': {
          const type = part.attributes['w:fldCharType']
          if (type === 'begin') {
            if (this.fieldDepth++ === 0) this.limits.add('fields (their last result stays)', this.near)
            this.inInstruction = true
            this.instruction = ''
          } else if (type === 'separate') {
            this.inInstruction = false
            this.saidAt = this.said
          } else if (type === 'end') {
            const none = this.inInstruction || this.said === this.saidAt
            if (this.pageNumber && none && /^\s*PAGE\b/i.test(this.instruction))
              into.push(documentSchema.text('1', set))
            this.fieldDepth = Math.max(0, this.fieldDepth - 1)
            this.inInstruction = false
          }
          break
        }
        case 'w:instrText':
          this.instruction += textOf(part)
          break
        case 'w:delText':
        case 'w:delInstrText':
        case 'w:rPr':
          break
        default: {
          const kept = this.kept(part, set)
          if (kept) into.push(kept)
          else this.leftOut(part)
        }
      }
    }
    if (this.source) for (; told < into.length; told++) this.source.parts.set(into[told] as Node, this.source.last!)
  }

  private runMarks(
    properties: XmlElement | undefined,
    outer: readonly Mark[],
    styleMarks: readonly Mark[],
  ): readonly Mark[] {
    let set: readonly Mark[] = outer
    const styled = this.styles.character(valueOf(properties, 'w:rStyle'))
    if (styled.foreign) this.foreignStyles.add(styled.foreign)
    const inherited = [...styleMarks, ...styled.marks]
    const toggle = (name: string, type: 'strong' | 'em' | 'strike') => {
      const direct = onOff(child(properties, name))
      if (direct ?? inherited.some((mark) => mark.type === marks[type])) set = marks[type].create().addToSet(set)
    }
    toggle('w:b', 'strong')
    toggle('w:i', 'em')
    toggle('w:strike', 'strike')
    const underline = valueOf(properties, 'w:u')
    if (underline !== undefined ? underline !== 'none' : inherited.some((mark) => mark.type === marks.underline))
      set = marks.underline.create().addToSet(set)
    if (!properties) return set
    const vertical = valueOf(properties, 'w:vertAlign')
    if (vertical === 'superscript') set = marks.raised.create().addToSet(set)
    if (vertical === 'subscript') set = marks.lowered.create().addToSet(set)
    const color = hexColor(valueOf(properties, 'w:color'))
    const fill =
      hexColor(child(properties, 'w:shd')?.attributes['w:fill']) ??
      highlightColors[valueOf(properties, 'w:highlight') ?? ''] ??
      null
    const half = Number(valueOf(properties, 'w:sz'))
    const size = Number.isFinite(half) && half > 0 ? half / 2 : null
    const fonts = child(properties, 'w:rFonts')?.attributes
    const font = fonts?.['w:ascii'] ?? fonts?.['w:hAnsi'] ?? null
    if (color || fill || size || font) set = marks.look.create({ color, fill, size, font } satisfies Look).addToSet(set)
    return set
  }

  /** @param whole what stands in the run, with other ways to show the drawing */
  private drawing(element: XmlElement, whole: XmlElement, set: readonly Mark[], into: (Node | 'page break')[]): void {
    const blip = descendant(element, 'a:blip')
    const target = blip && this.relationships.get(blip.attributes['r:embed'] ?? '')
    const extension = target?.target.split('.').pop()?.toLowerCase() ?? ''
    const type = imageTypes[extension]
    const bytes = target && !target.external && type ? this.opened.bytes(target.target) : undefined
    if (!bytes || !type) {
      const uri = descendant(element, 'a:graphicData')?.attributes.uri ?? ''
      const [kind, feature]: [KeptKind, string] = /chart/.test(uri)
        ? ['chart', 'charts']
        : /diagram/.test(uri)
          ? ['diagram', 'diagrams']
          : /wordprocessing(Shape|Group|Canvas)/.test(uri)
            ? ['shape', 'drawn shapes and text boxes']
            : ['picture', 'images of a type browsers cannot show']
      const kept = this.kept(whole, set, kind)
      if (kept) into.push(kept)
      else this.limits.add(feature, this.near)
      return
    }
    if (descendant(element, 'wp:anchor') || child(element, 'wp:anchor'))
      this.limits.add('images with a position of their own (they stay in the line)', this.near)
    const extent = descendant(element, 'wp:extent')?.attributes
    const pixels = (emu: string | undefined) => Math.max(1, Math.round(Number(emu ?? 0) / emuPerPixel))
    into.push(
      nodes.image.create(
        {
          src: dataUrl(type, bytes),
          alt: storableText(descendant(element, 'wp:docPr')?.attributes.descr ?? ''),
          width: pixels(extent?.cx),
          height: pixels(extent?.cy),
        },
        null,
        set,
      ),
    )
  }

  /** So many columns of a table's grid; what is no number is as usual. @throws DamagedFile for more than tables have */
  private columns(value: string | undefined, usual: number): number {
    const number = Number(value ?? usual)
    if (!Number.isInteger(number) || number < 0) return usual
    if (number > mostColumns) throw tooManyColumns()
    return number
  }

  private table(element: XmlElement): Node {
    // In a file of Jaula's own only a fixed layout means that somebody set the widths.
    const layout = child(child(element, 'w:tblPr'), 'w:tblLayout')?.attributes['w:type']
    const meant = this.styles.foreign || layout === 'fixed'
    const widths = [...elements(child(element, 'w:tblGrid'), 'w:gridCol')].map((column) =>
      meant ? Math.round(Number(column.attributes['w:w'] ?? 0) / twipsPerPixel) : 0,
    )
    interface Read {
      from?: XmlElement
      pieces?: Piece[]
      row: number
      column: number
      colspan: number
      rowspan: number
      content: Node[]
    }
    const rows: { from: XmlElement; header: boolean; cells: Read[] }[] = []
    let open: (Read | undefined)[] = []
    let width = widths.length
    for (const row of tableRows(element)) {
      const properties = child(row, 'w:trPr')
      const cells: Read[] = []
      const nextOpen: (Read | undefined)[] = []
      let column = this.columns(valueOf(properties, 'w:gridBefore'), 0)
      for (let x = 0; x < column; x++) cells.push({ row: rows.length, column: x, colspan: 1, rowspan: 1, content: [] })
      for (const cell of rowCells(row)) {
        const facts = child(cell, 'w:tcPr')
        const colspan = Math.max(1, this.columns(valueOf(facts, 'w:gridSpan'), 1))
        const merge = child(facts, 'w:vMerge')
        const above = merge && merge.attributes['w:val'] !== 'restart' ? open[column] : undefined
        if (above && above.column === column && above.colspan === colspan) {
          above.rowspan++
          nextOpen[column] = above
        } else {
          const pieces = this.pieces(cell, false)
          const read: Read = {
            from: cell,
            pieces,
            row: rows.length,
            column,
            colspan,
            rowspan: 1,
            content: this.assemble(pieces),
          }
          cells.push(read)
          if (merge) nextOpen[column] = read
        }
        column += colspan
      }
      width = Math.max(width, column)
      open = nextOpen
      rows.push({ from: row, header: onOff(child(properties, 'w:tblHeader')) ?? false, cells })
    }
    this.tableCells += width * rows.length
    if (this.tableCells > mostTableCells) throw tooManyColumns()
    // Rows may be of different lengths here; in the model they are not.
    const covered = rows.map(() => new Array<boolean>(width).fill(false))
    for (const { cells } of rows)
      for (const cell of cells)
        for (let y = cell.row; y < cell.row + cell.rowspan; y++)
          covered[y]!.fill(true, cell.column, cell.column + cell.colspan)
    const built = rows.map(({ header, cells }, y) => {
      for (let x = 0; x < width; x++)
        if (!covered[y]![x]) cells.push({ row: y, column: x, colspan: 1, rowspan: 1, content: [] })
      cells.sort((a, b) => a.column - b.column)
      return nodes.table_row.create(
        { header },
        cells.map(({ column, colspan, rowspan, content }) => {
          const own = Array.from({ length: colspan }, (_, x) => widths[column + x] ?? 0)
          return nodes.table_cell.create(
            { colspan, rowspan, colwidth: own.some((pixels) => pixels > 0) ? own : null },
            content.length ? content : [nodes.paragraph.create()],
          )
        }),
      )
    })
    this.source?.tables.set(
      element,
      rows.map(({ from, cells }) => ({
        from,
        cells: cells.map((cell) => ({ from: cell.from, pieces: cell.pieces ?? [] })),
      })),
    )
    return nodes.table.create(
      null,
      built.length
        ? built
        : [nodes.table_row.create(null, [nodes.table_cell.create(null, [nodes.paragraph.create()])])],
    )
  }

  /** Nests pieces into lists and quotes. */
  private assemble(pieces: readonly Piece[]): Node[] {
    const blocks: Node[] = []
    let quote: Node[] = []
    let lists: OpenList[] = []
    const close = () => {
      if (quote.length) blocks.push(nodes.blockquote.create(null, quote))
      quote = []
      if (lists.length) blocks.push(lists[0]!.node())
      lists = []
    }
    for (const piece of pieces) {
      if (piece.is === 'block') {
        close()
        blocks.push(piece.node)
        continue
      }
      const { style, align, level, inline, list } = piece
      const content = Fragment.fromArray(inline)
      if (style === 'gap' && inline.length === 0 && !list) {
        close()
        if (blocks.at(-1)?.type === nodes.table) continue
      }
      if (list) {
        if (quote.length) close()
        lists = this.addToLists(lists, list, nodes.paragraph.create({ align }, content), (finished) =>
          blocks.push(finished),
        )
      } else if (style === 'quote' || style === 'quote anew') {
        if (lists.length || style === 'quote anew') close()
        quote.push(nodes.paragraph.create({ align }, content))
      } else {
        close()
        blocks.push(
          level > 0 ? nodes.heading.create({ level, align }, content) : nodes.paragraph.create({ align }, content),
        )
      }
    }
    close()
    return blocks
  }

  private addToLists(
    open: OpenList[],
    { number, level }: { number: string; level: number },
    paragraph: Node,
    finish: (list: Node) => void,
  ): OpenList[] {
    const kept = open.filter((list) => list.level <= level)
    let top = kept.at(-1)
    if (top && top.level === level && top.number !== number) {
      kept.pop()
      top = kept.at(-1)
    }
    if (kept.length === 0 && open.length > 0) finish(open[0]!.node())
    const counts = this.counters.get(number) ?? []
    this.counters.set(number, counts)
    if (!top || top.level < level) {
      const { ordered, start, plain } = this.numbering.level(number, level)
      if (!plain) this.limits.add('list numbering in letters, roman numerals or with prefixes', this.near)
      const list = new OpenList(number, level, ordered, counts[level] === undefined ? start : counts[level] + 1)
      if (top) top.items.at(-1)!.lists.push(list)
      kept.push(list)
      top = list
      counts[level] = list.start - 1
    }
    counts[level] = (counts[level] ?? 0) + 1
    counts.length = level + 1
    top.items.push({ paragraph, lists: [] })
    return kept
  }
}

class OpenList {
  readonly items: { paragraph: Node; lists: OpenList[] }[] = []
  constructor(
    readonly number: string,
    readonly level: number,
    readonly ordered: boolean,
    readonly start: number,
  ) {}
  node(): Node {
    const items = this.items.map(({ paragraph, lists }) =>
      nodes.list_item.create(null, [paragraph, ...lists.map((list) => list.node())]),
    )
    return this.ordered
      ? nodes.ordered_list.create({ start: this.start }, items)
      : nodes.bullet_list.create(null, items)
  }
}

function* tableRows(table: XmlElement): Generator<XmlElement> {
  for (const element of elements(table)) {
    if (element.name === 'w:tr') yield element
    else if (element.name === 'w:sdt') yield* tableRows(child(element, 'w:sdtContent') ?? element)
    else if (element.name === 'w:ins' || element.name === 'w:customXml') yield* tableRows(element)
  }
}
function* rowCells(row: XmlElement): Generator<XmlElement> {
  for (const element of elements(row)) {
    if (element.name === 'w:tc') yield element
    else if (element.name === 'w:sdt') yield* rowCells(child(element, 'w:sdtContent') ?? element)
    else if (element.name === 'w:customXml') yield* rowCells(element)
  }
}

/** A paragraph's alignment, as its style or itself writes it (§17.18.44). */
export function alignOf(value: string | undefined): Align {
  if (value === 'center') return 'center'
  if (value === 'right' || value === 'end') return 'right'
  return value === 'both' || value === 'distribute' ? 'justify' : null
}

const hexColor = (value: string | undefined): string | null =>
  value && /^[0-9a-f]{6}$/i.test(value) ? `#${value.toLowerCase()}` : null

/** ST_HighlightColor (§17.18.40). */
const highlightColors: Record<string, string> = {
  yellow: '#ffff00',
  green: '#00ff00',
  cyan: '#00ffff',
  magenta: '#ff00ff',
  blue: '#0000ff',
  red: '#ff0000',
  darkBlue: '#000080',
  darkCyan: '#008080',
  darkGreen: '#008000',
  darkMagenta: '#800080',
  darkRed: '#800000',
  darkYellow: '#808000',
  darkGray: '#808080',
  lightGray: '#c0c0c0',
  black: '#000000',
}

function pageOf(section: XmlElement | undefined): Page {
  const size = child(section, 'w:pgSz')?.attributes ?? {}
  const margin = child(section, 'w:pgMar')?.attributes ?? {}
  const twips = (value: string | undefined, standard: number) => {
    const number = Math.round(Number(value))
    return value !== undefined && Number.isFinite(number) && number >= 0 && number <= 31680 ? number : standard
  }
  return {
    width: twips(size['w:w'], a4.width),
    height: twips(size['w:h'], a4.height),
    top: twips(margin['w:top'], a4.top),
    right: twips(margin['w:right'] ?? margin['w:end'], a4.right),
    bottom: twips(margin['w:bottom'], a4.bottom),
    left: twips(margin['w:left'] ?? margin['w:start'], a4.left),
  }
}
