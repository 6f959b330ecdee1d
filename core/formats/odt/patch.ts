// A document written into the text that it came from: its text, the edges of its pages, its styles and its pictures.

import { Fragment, type Node } from 'prosemirror-model'
import { commentRanges, keyOfComment, withoutRanges, withPoints } from '../../content/comment-ranges'
import { documentSchema } from '../../content/document'
import { edgeKey, edgesOf, type PageEdge, storyJSON, storyOf } from '../../content/edges'
import { pageFieldOf } from '../../content/fields'
import { type Kept, mostKeptBytes } from '../../content/kept'
import { listNumberFrom } from '../../content/list-number'
import { isField } from '../docx/fields'
import { isNote } from '../docx/kept'
import { keptFeatures } from '../docx/whole'
import { addStyles } from '../odf/add-styles'
import { NewStyles } from '../odf/new-styles'
import { type OdfPart, partEncoded } from '../odf/package'
import { Splices } from '../opc/spans'
import { child, escapeAttribute, type XmlElement } from '../opc/xml'
import { commentRangesLost, Limits, NotPatched, type Written } from '../refusals'
import { missingStyles } from './common-styles'
import { isPlainRemark, odtComment, odtNote, plainRemark, remarkId, withRemarkId } from './notes'
import { edgeElements, pageTag } from './page'
import { Pictures } from './pictures'
import type { OdtSource } from './read'
import { blocksOf, type Shared, Story } from './story'

export interface PatchedOdt extends Written {
  /** What of the document is in the file: without what is lost. */
  expected: Node
}

/**
 * @param source what was read of the file
 * @param numbered every list says the number that it begins with
 * @throws NotPatched where its parts cannot be written into
 */
export const patchOdt = (source: OdtSource, doc: Node, numbered = false): PatchedOdt =>
  new Patch(source, doc, numbered).written()

const { page_break: pageBreak } = documentSchema.nodes

class Patch {
  private readonly shared: Shared
  private readonly limits = new Limits()

  constructor(
    private readonly source: OdtSource,
    private readonly doc: Node,
    numbered: boolean,
  ) {
    this.shared = {
      limits: this.limits,
      pictures: new Pictures(source.opened.container, source.pictures),
      wanted: new Set(),
      comments: namesOfComments(doc),
      numbered,
      images: 0,
    }
  }

  written(): PatchedOdt {
    const { opened, body, styles } = this.source
    const full = this.expected()
    const expected = withoutRanges(full)
    const story = new Story(opened.content.xml, styles, body.element!, this.shared)
    const splices = new Splices()
    splices.replace(body.from, body.to, story.holder(body, blocksOf(withPoints(expected, this.rangeEnds(full))), false))
    addStyles(splices, opened.content, story.made.xml, 'office:body')
    const content = withoutDangling(splices.apply(opened.content.xml))
    const changes = new Map<string, Uint8Array | null>([['content.xml', partEncoded(opened.content, content)]])
    this.stylesPart(changes, expected)
    this.shared.pictures.addTo(changes)
    const bytes = opened.container.patched(changes)
    if (!bytes) throw new NotPatched()
    return { bytes, lost: this.limits.list(), expected }
  }

  /** The document without what this file cannot have. */
  private expected(): Node {
    const { opened, page } = this.source
    const places: number[] = []
    this.doc.forEach((_, offset) => void places.push(offset + 1))
    const content = this.doc.children.map((one, at) => this.held(one, opened.content.xml, places[at]!))
    const edges: PageEdge[] = []
    for (const edge of edgesOf(this.doc)) {
      if (page.master && opened.styles)
        edges.push({ ...edge, json: storyJSON(this.held(storyOf(edge), opened.styles.xml, null)) })
      else this.limits.add(edge.edge === 'head' ? 'page headers' : 'page footers', '')
    }
    const whole = this.doc.type.create({ ...this.doc.attrs, edges }, content)
    // A page that begins with nothing has an empty line.
    const blocks = blocksOf(whole).flatMap(({ node, broken }) => (broken ? [pageBreak.create(), node] : [node]))
    return whole.copy(Fragment.fromArray(blocks))
  }

  private notes = 0
  /** The names of comments that are new in the file, by who wrote them and when. */
  private readonly named = new Map<string, string>()

  /** Where the words end that new comments before them are about (§14.2); it is written, and not read. */
  private rangeEnds(doc: Node): { at: number; node: Node }[] {
    const places = new Map<string, number>()
    doc.descendants((node, at) => {
      const name = node.type.name === 'kept' ? nameOfComment(node.attrs as Kept) : undefined
      if (name !== undefined) places.set(name, at)
    })
    return commentRanges(doc, new Set(this.named.keys())).flatMap(({ comment, from, to }) => {
      const name = this.named.get(comment)!
      // An end is behind its comment.
      if ((places.get(name) ?? from) >= from) {
        this.limits.add(commentRangesLost, '')
        return []
      }
      const xml = `<office:annotation-end office:name="${escapeAttribute(name)}"/>`
      return [{ at: to, node: documentSchema.nodes.kept.create({ kind: 'comment', words: '', xml, parts: null }) }]
    })
  }
  /** One that no note and no comment of the part has. */
  private noteId(xml: string): string {
    let id: string
    do id = `jn${++this.notes}`
    while (xml.includes(`text:id="${id}"`) || xml.includes(`office:name="${id}"`))
    return id
  }

  private readonly ids = new Set<string>()
  /** Whether a note or a comment of that id was there already: what was copied stands there twice. */
  private isTwice(kept: Kept): boolean {
    const id = isNote(kept.kind) ? remarkId(kept) : undefined
    if (id === undefined) return false
    if (this.ids.has(id)) return true
    this.ids.add(id)
    return false
  }
  private again = (kept: Kept, xml: string) => ({ kept: withRemarkId(kept, this.noteId(xml)), whole: true })
  /** A note or a comment that the file has not, as it can have it; `whole` where its words are all that it says. */
  private remark(kept: Kept, xml: string): { kept: Kept; whole: boolean } | null {
    const id = this.noteId(xml)
    if (isPlainRemark(kept)) {
      const free = !xml.includes(`"${remarkId(kept)}"`) && !this.isTwice(kept)
      return free ? { kept, whole: true } : this.again(kept, xml)
    }
    const comment = odtComment(kept, id)
    if (comment) return { kept: comment, whole: true }
    const note = odtNote(kept, id)
    if (note) return note
    const plain = plainRemark(kept, id)
    return plain && { kept: plain, whole: false }
  }

  /** @param xml of the part that it stands in @param at where it stands in the text; null at the edge of a page */
  private held(node: Node, xml: string, at: number | null): Node {
    if (node.isLeaf) return node
    const near = node.textBetween(0, node.content.size, ' ').slice(0, 40)
    const lose = (feature: string, place: number) =>
      this.limits.add(feature, near, 1, at === null ? undefined : [at + place])
    const content: Node[] = []
    node.forEach((one, offset) => {
      const kept = one.type.name === 'kept' ? (one.attrs as Kept) : null
      const own = kept !== null && canHave(kept, xml, at === null)
      if (kept && (!own || this.isTwice(kept))) {
        const there = at === null ? null : own ? this.again(kept, xml) : this.remark(kept, xml)
        if (!there) lose(keptFeatures[kept.kind], offset)
        else {
          if (!there.whole) lose('looks of text', offset)
          const name = nameOfComment(there.kept)
          const key = name === undefined ? null : keyOfComment(there.kept)
          if (key && !xml.includes(`office:name="${name}"`)) this.named.set(key, name!)
          content.push(one.type.create(there.kept).mark(one.marks))
        }
      } else content.push(this.held(one, xml, at === null ? null : at + offset + 1))
    })
    const attrs = { ...node.attrs }
    if (attrs.number?.format === 'decimal-leading-zero') {
      lose('lists numbered in a way of their own', -1)
      attrs.number = listNumberFrom({ ...attrs.number, format: 'decimal' })
    }
    if (attrs.style && !this.source.styles.commonStyle('paragraph', attrs.style)) {
      lose('named styles (their text stays, in Jaula’s look)', -1)
      attrs.style = null
    }
    return node.type.create(attrs, content, node.marks)
  }

  /** Styles that the work is written in and the file has not, the page, and what stands at its edges. */
  private stylesPart(changes: Map<string, Uint8Array | null>, expected: Node): void {
    const { opened, page, styles } = this.source
    const part = opened.styles
    const splices = new Splices()
    if (part) this.edges(splices, part, edgesOf(expected))
    const missing = [...this.shared.wanted].filter(
      (name) => missingStyles[name] && !styles.commonStyle('paragraph', name),
    )
    const common = child(part?.root, 'office:styles')
    if (missing.length && common?.at?.kind === 'open')
      splices.insert(common.at.inner[1], missing.map((name) => missingStyles[name]!).join(''))
    const { page: size } = this.doc.attrs
    if (JSON.stringify(size) !== JSON.stringify(page.size)) {
      const { properties } = page
      if (properties)
        splices.replace(properties.at!.start, properties.at!.inner[0], pageTag(properties, size, page.size))
      else this.limits.add('page set-up', '')
    }
    if (part && splices.any) changes.set('styles.xml', partEncoded(part, splices.apply(part.xml)))
  }

  private edges(splices: Splices, part: OdfPart, edges: readonly PageEdge[]): void {
    const { master, layout, edges: before, styles } = this.source.page
    if (!master) return
    const made = new NewStyles(styles, part.xml)
    const now = new Map(edges.map((edge) => [edgeKey(edge), edge]))
    /** Where the page had nothing before. */
    const rooms = new Set<PageEdge['edge']>()
    /** What comes behind each element of the page. */
    let behind = ''
    let at = master.at!.inner[0]
    const put = () => {
      if (!behind) return
      if (master.at!.kind === 'open') splices.insert(at, behind)
      else
        splices.replace(
          master.at!.start,
          master.at!.end,
          `${part.xml.slice(master.at!.start, master.at!.end).replace(/\s*\/>$/, '>')}${behind}</${master.name}>`,
        )
      behind = ''
    }
    for (const [element, name] of edgeElements) {
      const [was, edge] = [before.get(edgeKey(name)), now.get(edgeKey(name))]
      // One that is not shown makes place for one that is.
      const there = was?.element ?? child(master, element)
      if (edge) {
        const content = storyOf(edge)
        if (was) {
          const story = new Story(part.xml, styles, was.element!, this.shared, made)
          splices.replace(was.from, was.to, story.holder(was, blocksOf(content), false))
        } else {
          const story = new Story(part.xml, styles, master, this.shared, made)
          behind += `<${element}>${story.blocks(blocksOf(content), false)}</${element}>`
          if (there) splices.replace(there.at!.start, there.at!.end, '')
          rooms.add(name.edge)
        }
      } else if (was) splices.replace(was.from, was.to, '')
      if (there) {
        put()
        at = there.at!.end
      }
    }
    put()
    for (const edge of rooms) makeRoom(splices, edge, layout)
    addStyles(splices, part, made.xml, 'office:master-styles')
  }
}

/** Whether a kept thing is one of this part, or a field that the edge of a page tells. */
const canHave = (kept: Kept, xml: string, edge: boolean): boolean =>
  edge && isField(kept)
    ? pageFieldOf(kept) !== null
    : kept.parts === null &&
      kept.xml.length < mostKeptBytes &&
      (xml.includes(kept.xml) || (!edge && saysAnew(kept, xml)))

/** Whether it is a note or a comment of this part that says something else by now: all but its words is the part's. */
const saysAnew = ({ kind, xml: own }: Kept, xml: string): boolean =>
  isNote(kind) &&
  /^<(?:text:note|office:annotation)\b[^>]*(?:text:id|office:name)=/.test(own) &&
  (own.match(/<[^>]*>/g) ?? []).every((tag) => tag.startsWith('</') || /^<text:s\b/.test(tag) || xml.includes(tag))

/** A page whose edges were empty has no room for them. */
function makeRoom(splices: Splices, edge: PageEdge['edge'], layout: XmlElement | undefined): void {
  const name = edge === 'head' ? 'style:header-style' : 'style:footer-style'
  const there = child(layout, name)
  if (!layout || there || layout.at!.kind === 'empty') return
  const between = edge === 'head' ? 'fo:margin-bottom' : 'fo:margin-top'
  // §16.5: the page's properties, then the head's, then the foot's.
  const before = edge === 'foot' ? child(layout, 'style:header-style') : undefined
  const last = before ?? child(layout, 'style:page-layout-properties')
  splices.insert(
    last?.at?.end ?? layout.at!.inner[0],
    `<${name}><style:header-footer-properties fo:min-height="0pt" ${between}="14pt"/></${name}>`,
  )
}

const nameOfComment = ({ xml }: Kept): string | undefined =>
  /^<office:annotation\s[^>]*office:name="([^"]*)"/.exec(xml)?.[1]
const namesOfComments = (doc: Node): Set<string> => {
  const names = new Set<string>()
  doc.descendants((node) => {
    const name = node.type.name === 'kept' ? nameOfComment(node.attrs as Kept) : undefined
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
