// Reads one story of a WordprocessingML file (ECMA-376 part 1, §17), its body or another one, into the document model,
// from the XML itself. In two passes: flat paragraphs and tables become pieces (what a paragraph says about itself), then
// `assemble` nests the pieces into lists and quotes. Whatever the model cannot hold is counted in the limits, with where
// it stands.
import type { Mark, Node } from 'prosemirror-model'
import { deepestList, documentSchema, storableText } from '../../content/document'
import type { KeptKind } from '../../content/kept'
import { say } from '../../words/said'
import { type OpcPackage, onOff, type Relationship, relationshipKind, valueOf } from '../opc/package'
import { child, descendant, elements, textOf, type XmlElement } from '../opc/xml'
import { DamagedFile, Limits } from '../refusals'
import { Assembly } from './assemble'
import { fieldAt, isThing, keptField, lookRunOf } from './fields'
import { type KeptThings, keptNode, standsBesideRuns } from './kept'
import { type Numbering, readNumbering } from './numbering'
import { readParagraphLook } from './paragraph-look'
import { TableReader } from './read-table'
import type { DocumentSource, Piece } from './source'
import { readStyles, type Styles } from './style-sheet'
import { limitOf, namedStyles, silent, trackedInsertions } from './unseen'
import { alignOf, imageTypes, pageOf, runMarks } from './values'
import { dataUrl, emuPerPixel } from './write'

const { nodes, marks } = documentSchema

/** The usual styles at the edges of pages. */
const ofEdges = /^(?:header|footer)$/i
/** Paragraphs at most: some thirty thousand pages. */
export const mostParagraphs = 500_000

/**
 * The form of the model that a reader gives; the first one had nothing of what is kept in its place, the second nothing of
 * headers, footers and named styles, the third nothing of what paragraphs say of their place and frame.
 */
export type DocxForm = 1 | 2 | 3 | 4
export const newestForm: DocxForm = 4

export class Reader {
  readonly limits = new Limits()
  private readonly relationships: Map<string, Relationship>
  private readonly styles: Styles
  private readonly numbering: Numbering
  private readonly assembly: Assembly
  private readonly tables: TableReader
  private near = ''
  private fieldDepth = 0
  private inInstruction = false
  private readonly foreignStyles = new Set<string>()

  constructor(
    private readonly opened: OpcPackage,
    main: string,
    private readonly things: KeptThings | null,
    private readonly source: DocumentSource | null = null,
    /** The part that leads to styles and numbering, where another one is read. */
    lead = main,
    /** That of the model that it gives. */
    private readonly form: DocxForm = newestForm,
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
    this.assembly = new Assembly(
      this.numbering,
      () => this.limits.add('lists numbered in a way of their own', this.near),
      form >= 4,
    )
    this.tables = new TableReader({
      foreign: this.styles.foreign,
      source,
      pieces: (cell) => this.pieces(cell, false),
      nest: (pieces) => this.assembly.nest(pieces),
    })
    for (const name of opened.container.names) if (/vbaProject\.bin$/.test(name)) this.limits.add('macros', '')
  }

  document(body: XmlElement): Node {
    const pieces = this.pieces(body, true)
    const section = child(body, 'w:sectPr')
    this.edgesUnseen(section)
    if (this.styles.foreign && this.foreignStyles.size > 0)
      this.limits.add(namedStyles, [...this.foreignStyles].slice(0, 5).join(', '), this.foreignStyles.size)
    if (this.source) {
      this.source.pieces = pieces
      this.source.body = body
      this.source.styles = this.styles
    }
    const blocks = this.assembly.nest(pieces)
    return nodes.doc.create({ page: pageOf(section) }, blocks.length ? blocks : [nodes.paragraph.create()])
  }

  /** Fields are things of their line. */
  private wholeFields = false
  /** Another story of the file (§17.10): a header, a footer. */
  story(root: XmlElement): Node {
    this.wholeFields = true
    const pieces = this.pieces(root, true)
    if (this.source) {
      this.source.pieces = pieces
      this.source.body = root
      this.source.styles = this.styles
    }
    const blocks = this.assembly.nest(pieces)
    return nodes.doc.create(null, blocks.length ? blocks : [nodes.paragraph.create()])
  }

  private paragraphs = 0

  private sections = 0
  /** Headers and footers of the first section are read for themselves (edges.ts); those of others are not. */
  private edgesUnseen(section: XmlElement | undefined): void {
    if (this.sections++ === 0 && this.form >= 3) return
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
          if (top) pieces.push({ is: 'block', node: this.tables.table(element), from: element })
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
      this.edgesUnseen(inner)
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
      named: this.form >= 3 && !(this.wholeFields && ofEdges.test(style.name)) ? style.named : null,
      look: this.form >= 4 ? readParagraphLook(properties) : null,
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
    const line = [...elements(parent)]
    for (let at = 0; at < line.length; at++) {
      const element = line[at]!
      const found = (this.wholeFields || this.form >= 4) && this.fieldDepth === 0 ? fieldAt(line, at) : null
      const field = found && (this.wholeFields || isThing(found)) ? found : null
      if (field) {
        const run = lookRunOf(field.element)
        const set = run
          ? runMarks(child(run, 'w:rPr'), outer, styleMarks, this.styles, (style) => this.foreignStyles.add(style))
          : outer
        const node = keptNode(keptField(field.instruction, field.result, this.wholeFields)).mark(set)
        into.push(node)
        this.source?.kept.push({ node, element: field.element })
        this.source?.parts.set(node, field.element)
        this.source?.runs.set(node, { run: field.element, inherited: styleMarks })
        at += field.length - 1
        continue
      }
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
          this.limits.add(trackedInsertions, this.near)
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
    const set = runMarks(child(element, 'w:rPr'), outer, styleMarks, this.styles, (style) =>
      this.foreignStyles.add(style),
    )
    const before = into.length
    this.runParts(element, set, into, before)
    this.source?.ranInto(element, into, before, styleMarks)
  }

  private runParts(element: XmlElement, set: readonly Mark[], into: (Node | 'page break')[], first: number): void {
    let told = first
    for (const part of elements(element)) {
      const text = (value: string) => {
        const kept = storableText(value)
        if (kept && !this.inInstruction) into.push(documentSchema.text(kept, set))
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
          } else if (type === 'separate') this.inInstruction = false
          else if (type === 'end') {
            this.fieldDepth = Math.max(0, this.fieldDepth - 1)
            this.inInstruction = false
          }
          break
        }
        case 'w:instrText':
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
}
