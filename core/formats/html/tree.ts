// A web page as a tree of what a document can have (the HTML standard of the WHATWG, §13): read by a parser that follows
// the standard, without anything that runs, is fetched or belongs to a form; its white space as a browser shows it
// (CSS Text 3, §4.1).
import { type DefaultTreeAdapterTypes, defaultTreeAdapter, parse, type TreeAdapter } from 'parse5'
import { deepestList, type Look } from '../../content/document'
import { say } from '../../words/said'
import { DamagedFile, type Limits } from '../refusals'
import { colorFrom, declarationsOf, fontFrom, pointsFrom } from './css'

/** A node as the parser of documents walks it. */
export class Piece {
  parentNode: Piece | null = null
  firstChild: Piece | null = null
  lastChild: Piece | null = null
  nextSibling: Piece | null = null
  previousSibling: Piece | null = null
  nodeValue = ''
  readonly nodeType: 1 | 3
  readonly declarations: ReadonlyMap<string, string>
  constructor(
    readonly nodeName: string,
    readonly attributes: ReadonlyMap<string, string> = new Map(),
  ) {
    this.nodeType = nodeName === '#text' ? 3 : 1
    this.declarations = declarationsOf(attributes.get('style') ?? '')
  }
  get tagName(): string {
    return this.nodeName
  }
  get parentElement(): Piece | null {
    return this.parentNode
  }
  getAttribute(name: string): string | null {
    return this.attributes.get(name) ?? null
  }
  hasAttribute(name: string): boolean {
    return this.attributes.has(name)
  }
  get style() {
    const { declarations } = this
    return {
      length: declarations.size,
      getPropertyValue: (name: string) => declarations.get(name) ?? '',
      textAlign: this.align,
      fontWeight: declarations.get('font-weight') ?? '',
      whiteSpace: '',
    }
  }
  /** How its lines are aligned is handed down. */
  private get align(): string {
    const own = this.declarations.get('text-align') ?? this.attributes.get('align')
    if (own) return own.toLowerCase()
    if (this.nodeName === 'CENTER') return 'center'
    return this.parentNode?.align ?? ''
  }
  /** A name, with or without an attribute that it has or begins with. */
  matches(selector: string): boolean {
    const [, name, attribute, begins] = /^([a-z0-9]+)(?:\[([a-z-]+)(?:\^="([^"]*)")?\])?$/.exec(selector) ?? []
    if (name?.toUpperCase() !== this.nodeName) return false
    if (!attribute) return true
    const value = this.attributes.get(attribute)
    return value?.startsWith(begins ?? '') ?? false
  }
  appendChild(child: Piece): void {
    child.remove()
    child.parentNode = this
    child.previousSibling = this.lastChild
    if (this.lastChild) this.lastChild.nextSibling = child
    else this.firstChild = child
    this.lastChild = child
  }
  remove(): void {
    const { parentNode: parent, previousSibling: before, nextSibling: after } = this
    if (before) before.nextSibling = after
    else if (parent) parent.firstChild = after
    if (after) after.previousSibling = before
    else if (parent) parent.lastChild = before
    this.parentNode = null
    this.previousSibling = null
    this.nextSibling = null
  }
}
const textPiece = (text: string): Piece => {
  const piece = new Piece('#text')
  piece.nodeValue = text
  return piece
}

type Element = DefaultTreeAdapterTypes.Element
type Child = DefaultTreeAdapterTypes.ChildNode

/** Deeper than any page of a person; a page that harms is. */
const mostDeep = 600
const mostElements = 400_000
/** Blocks, and breaks of lines: a page that holds more is slow to write in. */
const mostBlocks = 40_000

const tooMuch = () => new DamagedFile(say('formats.page-too-deep'))
/** @param most elements, and blocks among them @throws DamagedFile for what is nested too deep, and for more than is read */
export function parsed(
  markup: string,
  most = { elements: mostElements, blocks: mostBlocks },
): DefaultTreeAdapterTypes.Document {
  let depth = 0
  let elements = 0
  let lines = 0
  const adapter: TreeAdapter<DefaultTreeAdapterTypes.DefaultTreeAdapterMap> = {
    ...defaultTreeAdapter,
    onItemPush() {
      if (++depth > mostDeep) throw tooMuch()
    },
    onItemPop() {
      depth--
    },
    createElement(name, namespace, attributes) {
      if (name === 'br' || blocks.has(name.toUpperCase())) lines++
      if (++elements > most.elements || lines > most.blocks) throw tooMuch()
      return defaultTreeAdapter.createElement(name, namespace, attributes)
    },
  }
  return parse(markup, { treeAdapter: adapter })
}

export interface PageTree {
  body: Piece
  title: string
  /** The language that it says it is in. */
  lang: string
}

/** What is left out with all that is in it, by what it is told as; null is told as nothing. */
const leftOut: Readonly<Record<string, string | null>> = {
  script: 'scripts',
  style: 'style sheets',
  template: null,
  noscript: null,
  head: null,
  title: null,
  iframe: 'embedded files',
  object: 'embedded files',
  embed: 'embedded files',
  applet: 'embedded files',
  frameset: 'embedded files',
  video: 'embedded files',
  audio: 'embedded files',
  canvas: 'drawn shapes',
  svg: 'drawn shapes',
  math: 'equations',
  input: 'form controls',
  select: 'form controls',
  textarea: 'form controls',
  button: 'form controls',
  meter: 'form controls',
  progress: 'form controls',
  map: null,
  param: null,
  source: null,
  track: null,
  link: null,
  meta: null,
  base: null,
  wbr: null,
}
/** What lines end before and behind (§15.3). */
const blocks = new Set(
  `ADDRESS ARTICLE ASIDE BLOCKQUOTE BODY CAPTION CENTER DD DETAILS DIV DL DT FIELDSET FIGCAPTION FIGURE FOOTER FORM H1 H2 H3
  H4 H5 H6 HEADER HGROUP HR LEGEND LI MAIN NAV OL OUTPUT P PRE SECTION SEARCH SUMMARY TABLE TBODY TD TFOOT TH THEAD TR UL`.split(
    /\s+/,
  ),
)
const tableParts = new Set(['TABLE', 'TBODY', 'THEAD', 'TFOOT', 'TR', 'COLGROUP'])
/** Names that documents know, for others that mean the same to them. */
const knownAs: Readonly<Record<string, string>> = {
  dt: 'div',
  dd: 'div',
  caption: 'div',
  legend: 'div',
  details: 'div',
  summary: 'div',
  main: 'div',
  nav: 'div',
  search: 'div',
  center: 'div',
  menu: 'ul',
  dir: 'ul',
  strike: 's',
  ins: 'u',
  cite: 'em',
  dfn: 'em',
  var: 'em',
}
const ofTables = /^(?:table|thead|tbody|tfoot|tr|td|th)$/

interface Around {
  list: number
  cell: boolean
  look: Look | null
}

/** @param own the style sheet of pages that are written here, which is told of nobody */
export function pageTree(markup: string, limits: Limits, own: string): PageTree {
  const document = parsed(markup)
  const html = document.childNodes.find((node): node is Element => node.nodeName === 'html')
  const parts = (html?.childNodes ?? []).filter((node): node is Element => 'tagName' in node)
  const head = parts.find(({ tagName }) => tagName === 'head')
  const page = parts.find(({ tagName }) => tagName === 'body')
  const title = head?.childNodes.find((node) => node.nodeName === 'title')
  for (const node of head?.childNodes ?? []) {
    if (node.nodeName === 'script') limits.add('scripts', '')
    const isSheet =
      (node.nodeName === 'style' && wordsIn(node).trim() !== own.trim()) ||
      (node.nodeName === 'link' && /stylesheet/i.test(attributesOf(node as Element).get('rel') ?? ''))
    if (isSheet) limits.add('style sheets', '')
  }
  const body = new Piece('BODY')
  if (page) {
    if ([...attributesOf(page).keys()].some((name) => name.startsWith('on'))) limits.add('scripts', '')
    for (const child of page.childNodes) grow(child, body, { list: 0, cell: false, look: null }, limits)
  }
  new Spaces().through(body)
  return {
    body,
    title: title ? wordsIn(title).replace(/\s+/g, ' ').trim() : '',
    lang: html ? (attributesOf(html).get('lang') ?? '') : '',
  }
}

const attributesOf = (element: Element): Map<string, string> =>
  new Map((element.attrs ?? []).map(({ name, value }) => [name, value]))
function wordsIn(node: Child): string {
  if ('value' in node) return node.value
  return 'childNodes' in node ? node.childNodes.map(wordsIn).join(' ') : ''
}

function grow(node: Child, into: Piece, around: Around, limits: Limits): void {
  if ('value' in node) return void into.appendChild(textPiece(node.value))
  if (!('tagName' in node)) return
  const element = node
  const { tagName } = element
  if (tagName in leftOut) {
    const feature = leftOut[tagName]
    const attributes = attributesOf(element)
    if (feature && !(tagName === 'input' && attributes.get('type') === 'hidden')) limits.add(feature, near(into))
    // What a button or an embedded thing says instead is no text of the page.
    return
  }
  const attributes = attributesOf(element)
  if ([...attributes.keys()].some((name) => name.startsWith('on'))) limits.add('scripts', near(into))
  const declarations = declarationsOf(attributes.get('style') ?? '')
  if (declarations.get('display') === 'none' || attributes.has('hidden')) {
    limits.add('hidden parts', near(into))
    return
  }
  let name = knownAs[tagName] ?? tagName
  const inner: Around = { ...around }
  if (name === 'ul' || name === 'ol') {
    inner.list++
    if (inner.list > deepestList) name = 'div'
  }
  if (name === 'li' && (around.list === 0 || around.list > deepestList)) name = 'div'
  if (name === 'td' || name === 'th') inner.cell = true
  if (ofTables.test(name) && around.cell) {
    if (name === 'table') limits.add('tables inside tables (their text stays)', near(into))
    name = 'div'
  }
  if (name === 'hr') {
    const breaks = /^(?:page|always|left|right)$/
    const isBreak =
      attributes.has('data-page-break') ||
      breaks.test(declarations.get('break-after') ?? '') ||
      breaks.test(declarations.get('page-break-after') ?? '')
    if (!isBreak) return void limits.add('lines across the page', near(into))
    attributes.set('data-page-break', '')
  }
  if (name === 'img' && !/^data:image\/(?:png|jpeg|gif|webp);base64,/i.test(attributes.get('src') ?? '')) {
    limits.add('images from elsewhere (they are not fetched)', near(into))
    return
  }
  if (
    name === 'a' &&
    /^\s*(?:javascript|vbscript|data|file):/i.test((attributes.get('href') ?? '').replace(/[\u0000-\u0020]/g, ''))
  ) {
    limits.add('scripts', near(into))
    attributes.delete('href')
  }
  if (name === 'tr') {
    const cells = element.childNodes.filter((one) => one.nodeName === 'td' || one.nodeName === 'th')
    if (cells.length && cells.every((one) => one.nodeName === 'th')) attributes.set('data-header', '')
  }
  const piece = new Piece(name.toUpperCase(), attributes)
  // A table's name stands before it.
  const to = tagName === 'caption' && into.nodeName === 'TABLE' && into.parentNode ? into.parentNode : into
  if (to === into) into.appendChild(piece)
  else {
    into.parentNode!.appendChild(piece)
    into.parentNode!.appendChild(into)
  }
  const inside = decorated(piece, name, declarations, attributes, inner)
  for (const child of element.childNodes) grow(child, inside, inner, limits)
}

/** Lines through and under a text at once, and its look, as elements of their own. */
function decorated(
  piece: Piece,
  name: string,
  declarations: ReadonlyMap<string, string>,
  attributes: ReadonlyMap<string, string>,
  around: Around,
): Piece {
  let inside = piece
  const wrap = (tag: string, given = new Map<string, string>()) => {
    const wrapper = new Piece(tag, given)
    inside.appendChild(wrapper)
    inside = wrapper
  }
  const decoration = `${declarations.get('text-decoration') ?? ''} ${declarations.get('text-decoration-line') ?? ''}`
  const isBlock = blocks.has(piece.nodeName)
  const holds = !/^(?:IMG|BR|HR|UL|OL|TABLE|TBODY|THEAD|TFOOT|TR)$/.test(piece.nodeName)
  if (holds && !isBlock) {
    if (/underline/.test(decoration) && name !== 'u' && name !== 'a') wrap('U')
    if (/line-through/.test(decoration) && name !== 's') wrap('S')
    if (/super/.test(declarations.get('vertical-align') ?? '') && name !== 'sup') wrap('SUP')
    if (/\bsub/.test(declarations.get('vertical-align') ?? '') && name !== 'sub') wrap('SUB')
  }
  if (!holds) return inside
  const fontSize = { 1: 7.5, 2: 10, 3: 12, 4: 13.5, 5: 18, 6: 24, 7: 36 }[attributes.get('size') ?? '']
  const points = pointsFrom(declarations.get('font-size')) ?? (name === 'font' ? (fontSize ?? null) : null)
  const own: Look = {
    color: colorFrom(declarations.get('color') ?? (name === 'font' ? attributes.get('color') : undefined)),
    fill: isBlock
      ? null
      : (colorFrom(declarations.get('background-color') ?? declarations.get('background')) ??
        (name === 'mark' ? '#ffff00' : null)),
    size: points === null ? null : Math.min(1638, Math.max(1, Math.round(points * 2) / 2)),
    font: fontFrom(declarations.get('font-family') ?? (name === 'font' ? attributes.get('face') : undefined)),
  }
  if (Object.values(own).every((value) => value === null)) return inside
  const before = around.look
  around.look = {
    color: own.color ?? before?.color ?? null,
    fill: own.fill ?? before?.fill ?? null,
    size: own.size ?? before?.size ?? null,
    font: own.font ?? before?.font ?? null,
  }
  wrap('SPAN', new Map([['data-text-look', JSON.stringify(around.look)]]))
  return inside
}
function near(piece: Piece): string {
  let from: Piece | null = piece
  while (from && !blocks.has(from.nodeName)) from = from.parentNode
  let text = ''
  const gather = (one: Piece): void => {
    if (text.length > 60) return
    if (one.nodeType === 3) text += one.nodeValue
    for (let child = one.firstChild; child; child = child.nextSibling) gather(child)
  }
  if (from && from.nodeName !== 'BODY') gather(from)
  return text.replace(/\s+/g, ' ').trim().slice(0, 40)
}

/** White space as it is shown: runs of it are one space, and none stands at the ends of a line. */
class Spaces {
  /** The last text of the line, where it ends with a space that may go. */
  private loose: Piece | null = null
  /** Whether the line has nothing yet, or ends with a space. */
  private atStart = true
  /** The last break of the line, where nothing came behind it. */
  private lastBreak: Piece | null = null

  through(piece: Piece, pre = false): void {
    const isBlock = blocks.has(piece.nodeName)
    if (isBlock) this.endLine()
    const space = piece.declarations.get('white-space')
    const kept = space ? /^(?:pre|break-spaces)/.test(space) : pre || piece.nodeName === 'PRE'
    for (let child = piece.firstChild; child; ) {
      const next: Piece | null = child.nextSibling
      if (child.nodeType === 3) this.text(child, kept)
      else if (child.nodeName === 'BR') this.break(child)
      else {
        if (child.nodeName === 'IMG') this.something()
        this.through(child, kept)
      }
      child = next
    }
    if (!isBlock) return
    this.endLine()
    // A line without anything is none: nobody sees it.
    if (/^(?:P|H[1-6])$/.test(piece.nodeName) && !piece.firstChild && !piece.hasAttribute('data-empty')) piece.remove()
  }

  private something(): void {
    this.loose = null
    this.atStart = false
    this.lastBreak = null
  }
  private text(piece: Piece, kept: boolean): void {
    // Between the parts of a table white space is nothing, however it is kept (CSS 2.2, §17.2.1).
    if (tableParts.has(piece.parentNode?.nodeName ?? '') && !/[^ \t\n\r\f]/.test(piece.nodeValue)) return piece.remove()
    const sound = piece.nodeValue.replace(/[^\t\n\r\f\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, '')
    if (kept) {
      // A form feed is white space that no other type can hold.
      const lines = sound.replace(/\r\n?/g, '\n').replaceAll('\f', ' ').split('\n')
      if (sound) this.something()
      if (lines.length > 1) {
        // Lines of a text that keeps them.
        const parent = piece.parentNode!
        const rest: Piece[] = []
        for (let after = piece.nextSibling; after; after = after.nextSibling) rest.push(after)
        for (const one of rest) one.remove()
        piece.nodeValue = lines[0]!
        for (const line of lines.slice(1)) {
          const broken = new Piece('BR')
          parent.appendChild(broken)
          if (line) parent.appendChild(textPiece(line))
          this.lastBreak = line ? null : broken
        }
        for (const one of rest) parent.appendChild(one)
      } else piece.nodeValue = lines[0]!
      if (!piece.nodeValue) piece.remove()
      return
    }
    let text = sound.replace(/[ \t\n\r\f]+/g, ' ')
    if (this.atStart && text.startsWith(' ')) text = text.slice(1)
    if (!text) return piece.remove()
    piece.nodeValue = text
    this.lastBreak = null
    this.atStart = text.endsWith(' ')
    this.loose = this.atStart ? piece : null
  }
  private trim(): void {
    if (!this.loose) return
    this.loose.nodeValue = this.loose.nodeValue.slice(0, -1)
    if (!this.loose.nodeValue) this.loose.remove()
    this.loose = null
  }
  private break(piece: Piece): void {
    this.trim()
    this.atStart = true
    this.lastBreak = piece
  }
  private endLine(): void {
    this.trim()
    // A break at the end of a block begins no line.
    if (this.lastBreak) {
      let block = this.lastBreak.parentNode
      while (block && !blocks.has(block.nodeName)) block = block.parentNode
      if (block && /^(?:P|H[1-6])$/.test(block.nodeName) && !block.hasAttribute('data-empty')) markEmpty(block)
      this.lastBreak.remove()
    }
    this.lastBreak = null
    this.atStart = true
  }
}
/** A block with nothing but a break in it is an empty line, and stays. */
const markEmpty = (block: Piece) => (block.attributes as Map<string, string>).set('data-empty', '')
