// The letters of a paragraph and what stands between them (ISO/IEC 26300-1 §6), each with where it stands.
import { Fragment, Mark, type Node } from 'prosemirror-model'
import { documentSchema, storableText } from '../../content/document'
import { fieldCodes } from '../../content/fields'
import { type KeptKind, mostKeptWords } from '../../content/kept'
import { keptField } from '../docx/fields'
import { pixelsOf } from '../odf/lengths'
import { marksOf, type TextProperties } from '../odf/properties'
import type { OdfStyles } from '../odf/styles'
import { child, descendant, elements, textOf, type XmlElement } from '../opc/xml'
import type { Limits } from '../refusals'
import { fieldIn } from './fields'

/** An element that letters stand in, within its paragraph: a span or a link. */
export interface Around {
  parent: Around | null
  open: string
  name: string
  /** What letters in it have. */
  properties: TextProperties
  link: string | null
  /** The style that it names. */
  style: string | undefined
}
export type Token =
  /** `said` are spaces that an element says, which are never put together. */
  | { is: 'letters'; text: string; around: Around | null; marks: readonly Mark[]; said: boolean }
  | { is: 'leaf'; node: Node; xml: string; around: Around | null }
  /** What has no place in the model: it stays where it stands. */
  | { is: 'point'; xml: string }

export interface LineContext {
  xml: string
  styles: OdfStyles
  limits: Limits
  /** It stands at the edge of a page, which tells some fields by itself. */
  edge: boolean
  /** A picture of the package, as a data URL; null for one that no browser shows, and for none. */
  picture(href: string): string | null
}

const { nodes } = documentSchema

/** Fields, whose result is text that nobody writes in (§7). */
const fields =
  /^text:(?:page-number|page-count|page-continuation|paragraph-count|word-count|character-count|table-count|image-count|object-count|date|time|file-name|template-name|sheet-name|title|subject|description|keywords|user-defined|author-name|author-initials|initial-creator|creator|creation-date|creation-time|modification-date|modification-time|print-date|print-time|printed-by|editing-cycles|editing-duration|chapter|sequence|sequence-ref|reference-ref|bookmark-ref|note-ref|variable-set|variable-get|variable-input|user-field-get|user-field-input|expression|text-input|placeholder|conditional-text|hidden-text|hidden-paragraph|database-display|database-name|database-row-number|bibliography-mark|dde-connection|measure|page-variable-get|sender-[a-z-]+)$/
/** Elements without words of their own that letters stand in. */
const wrappers = /^text:(?:span|a|meta|meta-field|toc-mark|alphabetical-index-mark|user-index-mark)$/

/** Letters of XML as they are read (§6.1.2): runs of white space are one space, and none stands at the ends. */
class Reader {
  readonly tokens: Token[] = []
  private afterSpace = true

  constructor(
    private readonly context: LineContext,
    private readonly base: TextProperties,
    private readonly near: () => string,
  ) {}

  through(element: XmlElement, around: Around | null): void {
    for (const part of element.children) {
      if (typeof part === 'string') this.letters(part.replace(/[ \t\r\n]+/g, ' '), around, true)
      else this.element(part, around)
    }
  }

  private letters(text: string, around: Around | null, collapses: boolean): void {
    let kept = text
    if (collapses && this.afterSpace && kept.startsWith(' ')) kept = kept.slice(1)
    kept = collapses ? storableText(kept) : kept
    if (!kept) return
    this.afterSpace = collapses && kept.endsWith(' ')
    const marks = marksOf(around?.properties ?? this.base, linkOf(around))
    const last = this.tokens.at(-1)
    if (last?.is === 'letters' && last.around === around && last.said !== collapses) last.text += kept
    else this.tokens.push({ is: 'letters', text: kept, around, marks, said: !collapses })
  }

  private element(element: XmlElement, around: Around | null): void {
    const { name, attributes } = element
    if (name === 'text:s') {
      const count = Math.min(10_000, Math.max(1, Number(attributes['text:c'] ?? 1) || 1))
      return this.letters(' '.repeat(count), around, false)
    }
    if (name === 'text:tab') return this.letters('\t', around, false)
    if (name === 'text:line-break') return this.leaf(nodes.hard_break.create(), element, around)
    if (name === 'draw:frame' || name === 'draw:a') return this.frame(element, around)
    if (wrappers.test(name) && element.at!.kind === 'open') return this.through(element, this.within(element, around))
    if (name === 'text:note') {
      const kind = attributes['text:note-class'] === 'endnote' ? 'endnote' : 'footnote'
      return this.kept(kind, wordsIn(child(element, 'text:note-body')), element, around)
    }
    if (name === 'office:annotation') return this.kept('comment', commentIn(element), element, around)
    if (name === 'text:ruby') return this.kept('ruby', wordsIn(child(element, 'text:ruby-base')), element, around)
    const told = this.context.edge ? fieldIn(element) : null
    if (told) return this.leaf(nodes.kept.create(keptField(fieldCodes[told], '')), element, around)
    if (fields.test(name)) {
      const words = storableText(textOf(element))
      // A field that shows nothing is a mark.
      if (words) return this.kept('field', words, element, around)
    } else if (name.startsWith('draw:') || name.startsWith('dr3d:'))
      return this.kept(name === 'draw:control' ? 'object' : 'shape', wordsIn(element), element, around)
    if (name === 'text:change') this.limit('tracked removals')
    if (name === 'text:change-start') this.limit('tracked insertions (their text stays)')
    if (name === 'text:script') this.limit('scripts')
    this.tokens.push({ is: 'point', xml: this.source(element) })
  }

  private frame(element: XmlElement, around: Around | null): void {
    const frame = element.name === 'draw:frame' ? element : (child(element, 'draw:frame') ?? element)
    const image = child(frame, 'draw:image')
    const holds = child(frame, 'draw:object') ?? child(frame, 'draw:object-ole')
    if (holds || !image) {
      const kind: KeptKind = holds ? (descendant(frame, 'math:math') ? 'equation' : 'object') : 'shape'
      return this.kept(kind, wordsIn(child(frame, 'draw:text-box')), element, around)
    }
    const src = this.context.picture(image.attributes['xlink:href'] ?? '')
    if (src === null) return this.kept('picture', altOf(frame), element, around)
    if (frame.attributes['text:anchor-type'] !== 'as-char')
      this.limit('images with a position of their own (they stay in the line)')
    const size = (side: 'width' | 'height') => Math.max(1, pixelsOf(frame.attributes[`svg:${side}`]) ?? 240)
    this.leaf(
      nodes.image.create({ src, alt: altOf(frame), width: size('width'), height: size('height') }),
      element,
      around,
    )
  }

  private kept(kind: KeptKind, words: string, element: XmlElement, around: Around | null): void {
    const said = words.slice(0, mostKeptWords)
    // What it leads to is in its own package; it stays there.
    this.leaf(nodes.kept.create({ kind, words: said, xml: this.source(element), parts: null }), element, around)
  }
  private leaf(node: Node, element: XmlElement, around: Around | null): void {
    this.afterSpace = false
    const marks = marksOf(around?.properties ?? this.base, linkOf(around))
    this.tokens.push({ is: 'leaf', node: node.mark(marks), xml: this.source(element), around })
  }

  private within(element: XmlElement, parent: Around | null): Around {
    const { xml, styles } = this.context
    const { at, name, attributes } = element
    const style = attributes['text:style-name']
    const before = parent?.properties ?? this.base
    return {
      parent,
      open: xml.slice(at!.start, at!.inner[0]),
      name,
      properties: name === 'text:span' && style ? { ...before, ...styles.textOf(style) } : before,
      link: name === 'text:a' ? (attributes['xlink:href'] ?? '') : null,
      style,
    }
  }

  private source({ at }: XmlElement): string {
    return this.context.xml.slice(at!.start, at!.end)
  }
  private limit(feature: string): void {
    this.context.limits.add(feature, this.near())
  }

  /** A space before the end of a paragraph is none. */
  end(): Token[] {
    const last = this.tokens.findLast(({ is }) => is !== 'point')
    if (this.afterSpace && last?.is === 'letters' && last.text.endsWith(' ')) {
      last.text = last.text.slice(0, -1)
      if (!last.text) this.tokens.splice(this.tokens.indexOf(last), 1)
    }
    return this.tokens
  }
}

/** @param base what the letters of the paragraph have by its own style */
export function readLine(element: XmlElement, base: TextProperties, context: LineContext): Token[] {
  const reader = new Reader(context, base, () => nearby(element))
  reader.through(element, null)
  return reader.end()
}

export const linkOf = (around: Around | null): string | null => {
  for (let at = around; at; at = at.parent) if (at.link !== null) return at.link
  return null
}

/** What a paragraph holds of them. */
export function inlineOf(tokens: readonly Token[]): Fragment {
  const parts: Node[] = []
  let text = ''
  let marks: readonly Mark[] = []
  const flush = () => {
    if (text) parts.push(documentSchema.text(text, marks))
    text = ''
  }
  for (const token of tokens) {
    if (token.is === 'leaf') {
      flush()
      parts.push(token.node)
    } else if (token.is === 'letters') {
      if (!Mark.sameSet(token.marks, marks)) flush()
      text += token.text
      marks = token.marks
    }
  }
  flush()
  return Fragment.fromArray(parts)
}

const inOneLine = (text: string): string => storableText(text.replace(/\s+/g, ' ')).trim()
/** What the lines of something say, in one. */
export const wordsIn = (element: XmlElement | undefined): string => {
  if (!element) return ''
  const said: string[] = []
  const visit = (one: XmlElement) => {
    if (one.name === 'text:p' || one.name === 'text:h') said.push(textOf(one))
    else for (const inner of elements(one)) visit(inner)
  }
  visit(element)
  return inOneLine(said.length ? said.join(' ') : textOf(element))
}
export const commentIn = (element: XmlElement): string =>
  inOneLine(Array.from(elements(element, 'text:p'), (one) => textOf(one)).join(' '))
/** What a frame says that its picture shows. */
export const altOf = (frame: XmlElement): string => {
  const said = child(frame, 'svg:desc') ?? child(frame, 'svg:title')
  return said ? storableText(textOf(said)) : ''
}
const nearby = (element: XmlElement): string => inOneLine(textOf(element)).slice(0, 40)
