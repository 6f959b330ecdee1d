// A document's blocks as rows of items: letters with their marks, pictures, page breaks and the ends of paragraphs. Of
// the document as it was read each item knows its span in the main part.
import type { Mark, Node } from 'prosemirror-model'
import { storableText } from '../../content/document'
import type { ListNumber } from '../../content/list-number'
import { elements, type XmlElement } from '../opc/xml'
import { standsBesideRuns } from './kept'
import { type Context, contextKey } from './patch-look'
import type { DocumentSource, Piece } from './source'

export interface Item {
  key: string
  kind: 'letter' | 'atom' | 'end' | 'break'
  text?: string
  node?: Node
  marks: readonly Mark[]
  context?: Context
}
export interface SourceItem extends Item {
  from: number
  to: number
  /** The run it stands in, what in it, and what there is between that run and its paragraph, the outermost first. */
  run?: XmlElement
  part?: XmlElement
  path?: readonly XmlElement[]
  inherited?: readonly Mark[]
  /** The end of what is a paragraph in the model only: a page break follows in the same one of the file. */
  inner?: boolean
  /** The page break that a paragraph's properties ask for. */
  asked?: boolean
}

/** A block that has text of its own, a table or a page break, with how deep it stands in what. */
export type Unit =
  | { is: 'paragraph'; node: Node; context: Context; key: string }
  | { is: 'table'; node: Node; key: string }
  | { is: 'break'; key: string }

const lookOf = ({ attrs: { align, style, look } }: Node): Pick<Context, 'align' | 'style' | 'look'> => ({
  align,
  style,
  look,
})
const keyOfNode = (node: Node) => JSON.stringify(node.content.toJSON())

/** Blocks without the lists and quotes that hold them. */
export function unitsOf(parent: Node): Unit[] {
  const units: Unit[] = []
  const paragraph = (node: Node, context: Context) =>
    units.push({ is: 'paragraph', node, context, key: `${contextKey(context)}\u0001${keyOfNode(node)}` })
  const list = (node: Node, depth: number, of: Node) => {
    const ordered = node.type.name === 'ordered_list'
    const number: ListNumber | null = node.attrs.number ?? null
    node.forEach((item) => {
      item.forEach((part) => {
        if (part.type.name !== 'paragraph') list(part, depth + 1, of)
        else
          paragraph(part, { kind: 'plain', level: 0, ...lookOf(part), list: { ordered, depth, number, of, own: node } })
      })
    })
  }
  parent.forEach((node) => {
    switch (node.type.name) {
      case 'heading':
        paragraph(node, { kind: 'heading', level: node.attrs.level, ...lookOf(node), list: null })
        break
      case 'paragraph':
        paragraph(node, { kind: 'plain', level: 0, ...lookOf(node), list: null })
        break
      case 'blockquote':
        node.forEach((inside) => paragraph(inside, { kind: 'quote', level: 0, ...lookOf(inside), list: null }))
        break
      case 'table':
        units.push({ is: 'table', node, key: `table\u0001${keyOfNode(node)}` })
        break
      case 'page_break':
        units.push({ is: 'break', key: 'page break' })
        break
      default:
        list(node, 0, node)
    }
  })
  return units
}

const marksKey = (marks: readonly Mark[]) => (marks.length ? JSON.stringify(marks.map((mark) => mark.toJSON())) : '')

/** The items of a unit that is no table. */
export function itemsOf(unit: Exclude<Unit, { is: 'table' }>): Item[] {
  if (unit.is === 'break') return [{ key: '\u0003break', kind: 'break', marks: [] }]
  const items: Item[] = []
  unit.node.forEach((node) => {
    const { marks } = node
    if (!node.isText) items.push({ key: `\u0003${JSON.stringify(node.toJSON())}`, kind: 'atom', node, marks })
    else for (const text of node.text!) items.push({ key: text + marksKey(marks), kind: 'letter', text, marks })
  })
  items.push({ key: `\u0003end ${contextKey(unit.context)}`, kind: 'end', marks: [], context: unit.context })
  return items
}
/** What an item says, whatever it looks like. */
export const saidBy = (item: Item): string =>
  item.kind === 'letter' ? item.text! : item.kind === 'atom' ? JSON.stringify(item.node!.mark([])) : item.key

export const isWordKey = (key: string): boolean => /^[\p{L}\p{N}]/u.test(key)

export interface SourceParagraph {
  element: XmlElement
  /** In order; the last one is the end of the paragraph, or a page break that nothing follows in it. */
  items: SourceItem[]
  /** The units of the model that it is, from this one on. */
  first: number
  count: number
  /** The span of its properties, and where what it holds begins. */
  properties: readonly [from: number, to: number]
  content: number
  context: Context | null
}
export interface SourceBlocks {
  units: Unit[]
  /** Of each unit what it was read from. */
  paragraphs: (SourceParagraph | undefined)[]
  tables: (XmlElement | undefined)[]
}

/** Letters of an element's text, each with its span. */
function lettersIn(
  xml: string,
  [from, to]: readonly [number, number],
): { text: string; from: number; to: number }[] | null {
  const raw = xml.slice(from, to)
  // Comments and CDATA inside a text are rare; what has them is not patched.
  if (raw.includes('<')) return null
  const letters: { text: string; from: number; to: number }[] = []
  for (const { 0: whole, index } of raw.matchAll(/\r\n?|\n|&[^;]{1,10};|[\s\S]/gu)) {
    const text = storableText(whole.startsWith('&') ? decodeReference(whole) : whole)
    const previous = letters.at(-1)
    // Line ends in a row are one space.
    if (/[\r\n]/.test(whole) && previous && /[\r\n]$/.test(raw.slice(0, index)))
      previous.to = from + index + whole.length
    else if (text) letters.push({ text, from: from + index, to: from + index + whole.length })
  }
  return letters
}
const named: Record<string, string> = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&quot;': '"', '&apos;': "'" }
const decodeReference = (text: string): string => {
  if (named[text]) return named[text]
  const code = /^&#x([0-9a-f]+);$/i.exec(text)?.[1]
  const number = code ? Number.parseInt(code, 16) : Number(/^&#(\d+);$/.exec(text)?.[1])
  return Number.isFinite(number) && number <= 0x10ffff ? String.fromCodePoint(number) : text
}

/**
 * The blocks of a parent with their sources.
 * @param pieces what the reader made of the parent's paragraphs and tables
 * @returns null where the two do not go together
 */
export function sourceBlocks(
  xml: string,
  parent: Node,
  pieces: readonly Piece[],
  source: DocumentSource,
): SourceBlocks | null {
  const units = unitsOf(parent)
  let behindTable = false
  const own = pieces.filter((piece) => {
    const gap = piece.is === 'paragraph' && piece.style === 'gap' && !piece.inline.length && !piece.list
    if (gap && behindTable) return false
    behindTable = piece.is === 'block' && piece.node.type.name === 'table'
    return true
  })
  // A parent without anything in it is one empty paragraph in the model.
  if (own.length !== units.length) return null
  const blocks: SourceBlocks = { units, paragraphs: [], tables: [] }
  for (let index = 0; index < own.length; index++) {
    const piece = own[index]!
    const unit = units[index]!
    if (!piece.from?.at) return null
    if (piece.is === 'block' && unit.is === 'table') {
      blocks.tables[index] = piece.from
      continue
    }
    let count = 1
    while (own[index + count]?.from === piece.from) count++
    const paragraph = paragraphFrom(
      xml,
      own.slice(index, index + count),
      units.slice(index, index + count),
      index,
      source,
    )
    if (!paragraph) return null
    for (let at = 0; at < count; at++) blocks.paragraphs[index + at] = paragraph
    index += count - 1
  }
  return blocks
}

function paragraphFrom(
  xml: string,
  pieces: readonly Piece[],
  units: readonly Unit[],
  first: number,
  source: DocumentSource,
): SourceParagraph | null {
  const element = pieces[0]!.from!
  const { at } = element
  const properties = [...elements(element, 'w:pPr')][0]?.at
  const content = properties?.end ?? at!.inner[0]
  const paths = new Map<XmlElement, XmlElement[]>()
  /** What stands beside runs and is one item of the line. */
  const known = new Set<XmlElement>()
  /** Of runs that are a field the whole of it. */
  const within = new Map<XmlElement, XmlElement>()
  for (const piece of pieces)
    if (piece.is === 'paragraph')
      for (const node of piece.inline) {
        const ran = source.runs.get(node)?.run
        if (!ran || !standsBesideRuns(ran)) continue
        known.add(ran)
        for (const run of elements(ran, 'w:r')) within.set(run, ran)
      }
  const breaks: { run: XmlElement; part: XmlElement }[] = []
  const walk = (parent: XmlElement, path: XmlElement[]) => {
    for (const one of elements(parent)) {
      const whole = within.get(one)
      if (whole) {
        paths.set(whole, path)
      } else if (one.name === 'w:r') {
        paths.set(one, path)
        for (const part of elements(one, 'w:br'))
          if (part.attributes['w:type'] === 'page') breaks.push({ run: one, part })
      } else if (known.has(one)) paths.set(one, path)
      else if (one.name !== 'w:pPr') walk(one, [...path, one])
    }
  }
  walk(element, [])
  const items: SourceItem[] = []
  const inBreaks = pieces.filter(({ is }) => is === 'block').length
  // What more breaks there are than elements for them was asked for by the properties.
  let asked = inBreaks - breaks.length
  if (asked < 0 || asked > 1) return null
  for (const [index, piece] of pieces.entries()) {
    const unit = units[index]!
    const last = index === pieces.length - 1
    if (piece.is === 'block') {
      if (unit.is !== 'break') return null
      const [made] = itemsOf(unit)
      if (asked) {
        asked = 0
        items.push({ ...made!, from: content, to: content, asked: true })
        continue
      }
      const there = breaks.shift()!
      items.push({
        ...made!,
        from: there.part.at!.start,
        to: there.part.at!.end,
        run: there.run,
        part: there.part,
        path: paths.get(there.run) ?? [],
      })
      continue
    }
    if (unit.is !== 'paragraph') return null
    const wanted = itemsOf(unit)
    for (const node of piece.inline) {
      const part = source.parts.get(node)
      const ran = source.runs.get(node)
      const path = ran && paths.get(ran.run)
      if (!part?.at || !ran || !path) return null
      const place = { run: ran.run, part, path, inherited: ran.inherited }
      const { marks } = node
      if (node.isText && part.name === 'w:t') {
        const letters = lettersIn(xml, part.at.inner)
        if (!letters || letters.map(({ text }) => text).join('') !== node.text) return null
        for (const { text, from, to } of letters)
          items.push({ key: text + marksKey(marks), kind: 'letter', text, marks, from, to, ...place })
      } else if (node.isText)
        items.push({
          key: node.text + marksKey(marks),
          kind: 'letter',
          text: node.text!,
          marks,
          from: part.at.start,
          to: part.at.end,
          ...place,
        })
      else
        items.push({
          key: `\u0003${JSON.stringify(node.toJSON())}`,
          kind: 'atom',
          node,
          marks,
          from: part.at.start,
          to: part.at.end,
          ...place,
        })
    }
    const end = at!.inner[1]
    const inner = !last
    const next = inner && breaks[0]?.part.at?.start
    items.push({ ...wanted.at(-1)!, from: next || end, to: next || end, ...(inner && { inner: true }) })
  }
  // What the model holds of it is what was found.
  const model = units.flatMap((unit) => (unit.is === 'table' ? [] : itemsOf(unit)))
  if (model.length !== items.length || model.some(({ key }, index) => key !== items[index]!.key)) return null
  const context = units.find((unit) => unit.is === 'paragraph')
  return {
    element,
    items,
    first,
    count: pieces.length,
    properties: properties ? [properties.start, properties.end] : [content, content],
    content,
    context: context?.is === 'paragraph' ? context.context : null,
  }
}
