// What a document's lines hold beside text, as the model carries it: with its words, its XML and what that leads to
// (ECMA-376 part 1, §17.11 notes, §17.13.4 comments, §20.4 drawings, §22.1 equations).
import { Fragment, type Node } from 'prosemirror-model'
import { documentSchema, storableText } from '../../content/document'
import { mapEdges } from '../../content/edges'
import { type Kept, type KeptKind, type KeptPart, mostKeptBytes, mostKeptWords } from '../../content/kept'
import { standingAlone } from '../opc/alone'
import { contentTypeOf } from '../opc/main-type'
import { type OpcPackage, type Relationship, relationshipKind } from '../opc/package'
import { child, descendant, elements, textOf, type XmlElement } from '../opc/xml'
import { fieldElement } from './fields'
import { dataUrl } from './write'

/** Notes and comments stand in parts of their own. */
export const notesOf = {
  footnote: { reference: 'w:footnoteReference', part: 'footnotes', element: 'w:footnote' },
  endnote: { reference: 'w:endnoteReference', part: 'endnotes', element: 'w:endnote' },
  comment: { reference: 'w:commentReference', part: 'comments', element: 'w:comment' },
} as const
export type NoteKind = keyof typeof notesOf
export const isNote = (kind: KeptKind): kind is NoteKind => kind in notesOf

const kindOf: Record<string, KeptKind> = {
  'w:footnoteReference': 'footnote',
  'w:endnoteReference': 'endnote',
  'w:commentReference': 'comment',
  'w:pict': 'shape',
  'w:object': 'object',
  'w:sym': 'symbol',
  'w:ruby': 'ruby',
  'w:ptab': 'tab',
  'w:pgNum': 'field',
  'm:oMath': 'equation',
  'm:oMathPara': 'equation',
  'w:del': 'removed',
  'w:moveFrom': 'removed',
}
/** What stands beside runs, and not in one. */
const besideRuns = new Set(['m:oMath', 'm:oMathPara', 'w:del', 'w:moveFrom', fieldElement])
export const standsBesideRuns = ({ name }: { name: string }): boolean => besideRuns.has(name)

const relationshipsPrefix = 'r:'
/** Marks of a file's own editing sessions and places, which differ without meaning anything. */
export const fleeting = /^(?:w:rsid\w*|w14:(?:paraId|textId)|wp14:(?:anchorId|editId))$/
/** Names of elements whose number is unique in their file. */
const numbered = new Set([
  'wp:docPr',
  'w:footnote',
  'w:endnote',
  'w:comment',
  'w:del',
  'w:moveFrom',
  'w:ins',
  'w:moveTo',
])
export const numberOf = (name: string): string | null =>
  name === 'wp:docPr' ? 'id' : numbered.has(name) ? 'w:id' : null

const ending = (part: string) => (/\.([^./]+)$/.exec(part)?.[1] ?? 'bin').toLowerCase()
/** An attribute whatever prefix the file has for it. */
const attribute = (element: XmlElement, name: string): string | undefined =>
  Object.entries(element.attributes).find(([key]) => key === name || key.endsWith(`:${name}`))?.[1]

/** A file's things in lines, as they are met. */
export class KeptThings {
  private readonly led = new Map<string, Map<string, Relationship>>()
  private readonly notes = new Map<NoteKind, { part: string; root: XmlElement; of: Map<string, XmlElement> } | null>()

  constructor(
    private readonly opened: OpcPackage,
    private readonly main: string,
    private readonly root: XmlElement,
  ) {}

  /** @param kind of a drawing what it is, which its name does not tell @returns null for what is nothing of the sort */
  of(element: XmlElement, kind: KeptKind | undefined = kindOf[element.name]): Kept | null {
    if (!kind) return null
    if (isNote(kind)) return this.note(kind, element)
    // A field that begins in what was removed, and ends elsewhere, is no thing of its own.
    if (kind === 'removed' && !wholeFields(element)) return null
    const found = this.alone(element, this.root, this.main)
    const words = kind === 'chart' ? this.chartTitle(element) : wordsIn(element)
    if (kind === 'shape' && descendant(element, 'v:imagedata')) kind = 'picture'
    return { kind, words: line(words), ...found }
  }

  private relationships(part: string): Map<string, Relationship> {
    let found = this.led.get(part)
    if (!found) this.led.set(part, (found = this.opened.relationships(part)))
    return found
  }

  private note(kind: NoteKind, reference: XmlElement): Kept {
    const notes = this.notesPart(kind)
    const note = notes?.of.get(attribute(reference, 'id') ?? '')
    // It refers to nothing, and is kept as that.
    if (!notes || !note) return { kind, words: '', ...this.alone(reference, this.root, this.main), parts: null }
    const author = kind === 'comment' ? attribute(note, 'author') : undefined
    const words = wordsIn(note)
    return { kind, words: line(author ? `${author}: ${words}` : words), ...this.alone(note, notes.root, notes.part) }
  }
  private notesPart(kind: NoteKind) {
    const known = this.notes.get(kind)
    if (known !== undefined) return known
    let found = null
    for (const relationship of this.relationships(this.main).values()) {
      if (relationshipKind(relationship) !== notesOf[kind].part || relationship.external) continue
      const root = this.opened.xml(relationship.target)
      if (!root) continue
      const of = new Map<string, XmlElement>()
      for (const note of elements(root, notesOf[kind].element)) of.set(attribute(note, 'id') ?? '', note)
      found = { part: relationship.target, root, of }
    }
    this.notes.set(kind, found)
    return found
  }

  private alone(element: XmlElement, root: XmlElement, part: string): Pick<Kept, 'xml' | 'parts'> {
    const relationships = this.relationships(part)
    const parts: KeptPart[] = []
    const budget = { left: mostKeptBytes }
    let whole = true
    const xml = standingAlone(element, root, (name, value, { name: of }) => {
      if (fleeting.test(name)) return null
      if (name === numberOf(of)) return '0'
      const leads = name.startsWith(relationshipsPrefix) || name === 'o:relid'
      const relationship = leads ? relationships.get(value) : undefined
      if (!relationship) return value
      const carried = this.carried(relationship, String(parts.length), budget, 0)
      if (!carried) whole = false
      else parts.push(carried)
      return String(parts.length - 1)
    })
    return xml === null ? { xml: '', parts: null } : { xml, parts: whole ? parts : null }
  }
  private carried(
    { type, target, external }: Relationship,
    id: string,
    budget: { left: number },
    depth: number,
  ): KeptPart | null {
    if (external) return { id, type, target }
    const bytes = depth < 6 ? this.opened.bytes(target) : undefined
    if (!bytes || (budget.left -= bytes.length) < 0) return null
    const parts: KeptPart[] = []
    for (const inner of this.relationships(target).values()) {
      const one = this.carried(inner, inner.id, budget, depth + 1)
      if (!one) return null
      parts.push(one)
    }
    const segments = target.split('/')
    const stem = segments
      .at(-1)!
      .replace(/\.[^.]*$/, '')
      .replace(/\d+$/, '')
    return {
      id,
      type,
      name: [segments.at(-2) ?? '', stem, ending(target)],
      data: dataUrl(contentTypeOf(this.opened, target) ?? 'application/octet-stream', bytes),
      parts,
    }
  }

  private chartTitle(element: XmlElement): string {
    const chart = descendant(element, 'c:chart')
    const target = this.relationships(this.main).get(chart?.attributes['r:id'] ?? '')
    const root = target && !target.external ? this.opened.xml(target.target) : undefined
    const title = root && descendant(root, 'c:title')
    return title ? wordsIn(title) : ''
  }
}

export const line = (words: string): string => storableText(words).replace(/\s+/g, ' ').trim().slice(0, mostKeptWords)

/** What an element says: its texts, paragraphs apart. */
export function wordsIn(element: XmlElement): string {
  let words = ''
  const visit = (one: XmlElement) => {
    if (/^(?:w:t|w:delText|m:t|a:t|c:v)$/.test(one.name)) words += textOf(one)
    else if (one.name === 'w:tab' || one.name === 'w:br' || one.name === 'w:cr') words += ' '
    // Of two ways to say one thing the first is taken.
    else if (one.name === 'mc:AlternateContent')
      visit(child(one, 'mc:Choice') ?? child(one, 'mc:Fallback') ?? { ...one, children: [] })
    else if (one.name === 'v:textpath') words += ` ${one.attributes.string ?? ''} `
    else if (one.name === 'm:f') {
      for (const part of elements(one, 'm:num')) visit(part)
      words += '/'
      for (const part of elements(one, 'm:den')) visit(part)
    } else
      for (const inner of elements(one)) {
        // Of an equation in one line: raised, lowered, and the root.
        words += { 'm:sup': '^', 'm:sub': '_', 'm:rad': '√' }[inner.name] ?? ''
        visit(inner)
      }
    if (one.name === 'w:p' || one.name === 'a:p') words += ' '
  }
  visit(element)
  return words
}

function wholeFields(element: XmlElement): boolean {
  let depth = 0
  const visit = (one: XmlElement) => {
    for (const inner of elements(one)) {
      if (inner.name === 'w:fldChar') {
        const type = attribute(inner, 'fldCharType')
        if (type === 'begin') depth++
        if (type === 'end') depth--
      } else visit(inner)
    }
  }
  visit(element)
  return depth === 0
}

/**
 * A document as a file can say it: what stands beside runs has no look of its own, so that a selection that was made bold
 * with it in it is bold around it.
 */
export function withoutLooksBesideRuns(doc: Node): Node {
  const plain = (node: Node): Node => {
    if (node.type.name === 'kept' && (node.attrs.kind === 'equation' || node.attrs.kind === 'removed')) {
      const links = node.marks.filter(({ type }) => type.name === 'link')
      return links.length === node.marks.length ? node : node.mark(links)
    }
    if (!node.childCount) return node
    let changed = false
    const children = node.children.map((child) => {
      const now = plain(child)
      changed ||= now !== child
      return now
    })
    return changed ? node.copy(Fragment.fromArray(children)) : node
  }
  return mapEdges(plain(doc), plain)
}

/** The node that the model has for it. */
export const keptNode = (kept: Kept): Node => documentSchema.nodes.kept.create(kept)

/** A document without styles that its file does not have: what was pasted or merged from another one may name them. */
export function withKnownStyles(doc: Node, known: (id: string) => boolean): Node {
  const clean = (node: Node): Node => {
    if (!node.childCount && !node.attrs.style) return node
    let changed = false
    const children = node.isTextblock
      ? node.children
      : node.children.map((child) => {
          const now = clean(child)
          changed ||= now !== child
          return now
        })
    const { style } = node.attrs
    if (style && !known(style)) return node.type.create({ ...node.attrs, style: null }, children, node.marks)
    return changed ? node.copy(Fragment.fromArray([...children])) : node
  }
  return mapEdges(clean(doc), clean)
}
