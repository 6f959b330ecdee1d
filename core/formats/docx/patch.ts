// Writes a document into the file that it came from (ECMA-376 part 1, §17): its body and the edges of its pages, each into
// its part; every other part stays as it is, and the result is read again.
import type { Node } from 'prosemirror-model'
import { type CommentRange, commentRanges, keyOfComment, withoutRanges, withPoints } from '../../content/comment-ranges'
import { edgeKey, edgeOf, edgesOf, type PageEdge, storyOf } from '../../content/edges'
import type { Kept } from '../../content/kept'
import type { Changes } from '../opc/add-part'
import { type OpcPackage, openPackage } from '../opc/package'
import { spannedTree } from '../opc/spanned-xml'
import { textOfPart } from '../opc/spans'
import type { XmlElement } from '../opc/xml'
import { commentRangesLost, DamagedFile, type Limit, Limits, NotPatched, type Written } from '../refusals'
import { type EdgePart, edgeParts, readStory } from './edges'
import { withKnownStyles, withoutLooksBesideRuns } from './kept'
import { type EdgeReference, newEdgePart, withEdgeReferences } from './patch-edges'
import { rangePoint } from './patch-kept'
import { regroupedLists } from './patch-lists'
import { withPage } from './patch-page'
import { CannotPatch } from './patch-region'
import { StoryPatcher } from './patch-story'
import { readDocx, readDocxSource } from './read'
import { DocumentSource } from './source'
import type { Story, Way } from './story'

/**
 * @returns the base's own bytes where nothing changed; and what the model does not show of the file and went with
 *   what was removed
 * @throws NotPatched where an edit cannot be written so, or does not read back as it was meant
 */
export function patchDocx(base: Uint8Array, wanted: Node): Written {
  const target = withoutLooksBesideRuns(withoutRanges(wanted))
  const ranges = commentRanges(wanted)
  let why = ''
  // What reads back as it was meant is right. A list goes on with the numbers of one that is there, or else begins one
  // of its own; what an empty line holds unseen goes on beside it, or else goes with it and is told.
  // An edge of the pages that cannot be written into its part gets a new one.
  for (const edgesAnew of [false, true])
    for (const keepsUnseen of [true, false])
      for (const ownLists of [false, true])
        try {
          const patcher = new Patcher(base, target, { ownLists, keepsUnseen, edgesAnew })
          if (!edgesAnew || patcher.edgesDiffer) return withRanges(patcher.patched(), target, ranges)
        } catch (error) {
          if (!isRefusal(error)) throw error
          why ||= error.message
        }
  throw new NotPatched(why)
}

/** Says which words new comments are about. Where that cannot be said in its file, each is at its place, and that is told. */
function withRanges(written: Written, doc: Node, ranges: readonly CommentRange[]): Written {
  if (!ranges.length) return written
  const opened = openPackage(written.bytes)
  const main = opened.mainPart()
  const { xml } = textOfPart(opened.bytes(main)!)!
  const { source } = readDocxSource(opened, main, spannedTree(xml))
  const points: { at: number; node: Node }[] = []
  for (const { comment, from, to } of ranges) {
    const own = source.kept.find(({ node }) => keyOfComment(node.attrs as Kept) === comment)
    const id = own?.element.attributes['w:id']
    if (id === undefined || new RegExp(`commentRangeStart\\s[^>]*\\bid="${id}"`).test(xml)) continue
    points.push({ at: from, node: rangePoint('Start', id) }, { at: to, node: rangePoint('End', id) })
  }
  if (!points.length) return written
  const way = { ownLists: false, keepsUnseen: true, edgesAnew: false }
  try {
    const { bytes } = new Patcher(written.bytes, withPoints(doc, points), way, doc).patched()
    return { ...written, bytes }
  } catch (error) {
    if (!isRefusal(error)) throw error
    const limits = new Limits()
    limits.add(commentRangesLost, '', points.length / 2)
    return { ...written, lost: [...written.lost, ...limits.list()] }
  }
}

const isRefusal = (error: unknown): error is Error =>
  error instanceof NotPatched ||
  error instanceof DamagedFile ||
  error instanceof RangeError ||
  error instanceof CannotPatch

class Patcher {
  private readonly opened: OpcPackage
  private readonly main: string
  private readonly changes: Changes = new Map()

  constructor(
    private readonly base: Uint8Array,
    private readonly wanted: Node,
    private readonly way: Way,
    /** What is to be read then, where points of the text are written that are not read. */
    private readonly reads: Node | null = null,
  ) {
    this.opened = openPackage(base)
    this.main = this.opened.mainPart()
  }

  get edgesDiffer(): boolean {
    return JSON.stringify(edgesOf(readDocx(this.base).doc)) !== JSON.stringify(edgesOf(this.wanted))
  }

  patched(): Written {
    const { opened, main, changes } = this
    const text = textOfPart(opened.bytes(main)!)
    if (!text) throw new NotPatched('main part')
    const root = spannedTree(text.xml)
    const { doc, limits, source } = readDocxSource(opened, main, root)
    const target = withKnownStyles(this.wanted, (id) => source.styles!.paragraph(id).named === id)
    if (doc.eq(target)) return { bytes: this.base, lost: [] }
    let body = text.xml
    if (!doc.content.eq(target.content))
      body = new StoryPatcher(this.story(main, text.xml, root, source)).written(doc, target)
    if (JSON.stringify(doc.attrs.page) !== JSON.stringify(target.attrs.page))
      body = withPage(body, doc.attrs.page, target.attrs.page)
    body = this.edges(edgeParts(opened, main, root), edgesOf(doc), edgesOf(target), body)
    if (body !== text.xml) changes.set(main, text.encode(body))
    let result = this.packed()
    let read = readDocx(result)
    const meant = this.reads ?? target
    // Each list of them that counts on from the one before.
    for (let pass = 0; pass < 8 && !read.doc.eq(meant) && this.regroup(result, meant); pass++) {
      result = this.packed()
      read = readDocx(result)
    }
    if (!read.doc.eq(meant)) throw new NotPatched('reads otherwise')
    return { bytes: result, lost: fewer(limits, read.limits) }
  }

  private packed(): Uint8Array {
    const result = this.opened.container.patched(this.changes)
    if (!result) throw new NotPatched('container')
    return result
  }

  /** Gives lists of a result other numbers, where that is what it differs in. */
  private regroup(result: Uint8Array, target: Node): boolean {
    const { main, changes } = this
    const opened = openPackage(result)
    const text = textOfPart(opened.bytes(main)!)
    if (!text) return false
    const root = spannedTree(text.xml)
    const read = readDocxSource(opened, main, root)
    const { prefix } = this.story(main, text.xml, root, read.source)
    const body = regroupedLists({ opened, changes, main, prefix }, text.xml, read, target)
    if (body !== null) changes.set(main, text.encode(body))
    return body !== null
  }

  private story(part: string, xml: string, root: XmlElement, source: DocumentSource): Story {
    const { opened, changes, main: lead, way } = this
    const { name } = root.at!
    const prefix = name.includes(':') ? name.slice(0, name.indexOf(':') + 1) : ''
    return { opened, changes, part, lead, xml, prefix, source, way }
  }

  /** Writes the edges of pages that are others now. @returns the main part's XML, which names them */
  private edges(
    parts: readonly EdgePart[],
    before: readonly PageEdge[],
    now: readonly PageEdge[],
    body: string,
  ): string {
    const refers: EdgeReference[] = []
    for (const one of now) {
      const was = edgeOf(before, one)
      if (was && JSON.stringify(was.json) === JSON.stringify(one.json)) continue
      const part = parts.find((known) => edgeKey(known) === edgeKey(one))?.part
      const shared = parts.filter((known) => known.part === part).length > 1
      const patched = part && was && !shared ? this.patchedEdge(part, one) : null
      if (part && patched) this.changes.set(part, patched)
      else {
        const made = newEdgePart(this.opened, this.changes, this.main, one)
        this.changes.set(made.part, new TextEncoder().encode(this.edge(made.part, made.xml, one)))
        refers.push({ ...one, id: made.id })
      }
    }
    const gone = before.filter((one) => !edgeOf(now, one))
    const first = (edges: readonly PageEdge[]) => edges.some(({ on }) => on === 'first')
    return withEdgeReferences(this.opened, this.changes, this.main, body, {
      refers,
      gone,
      ownFirst: first(now) === first(before) ? null : first(now),
    })
  }

  /** @returns null where it is to be written anew */
  private patchedEdge(part: string, wanted: PageEdge): Uint8Array | null {
    const text = textOfPart(this.opened.bytes(part)!)
    const root = text && spannedTree(text.xml)
    if (!root) return null
    if (!this.way.edgesAnew) return text.encode(this.edge(part, text.xml, wanted))
    const before = new Map(this.changes)
    try {
      const bytes = text.encode(this.edge(part, text.xml, wanted))
      const trial = this.opened.container.patched(new Map(this.changes).set(part, bytes))
      const opened = trial && openPackage(trial)
      if (opened && readStory(opened, part, opened.xml(part)!, this.main).story.eq(storyOf(wanted))) return bytes
    } catch (error) {
      if (!isRefusal(error)) throw error
    }
    this.changes.clear()
    for (const [name, bytes] of before) this.changes.set(name, bytes)
    return null
  }

  private edge(part: string, xml: string, wanted: PageEdge): string {
    const root = spannedTree(xml)
    const source = new DocumentSource()
    const { story } = readStory(this.opened, part, root, this.main, source)
    return new StoryPatcher(this.story(part, xml, root, source)).written(story, storyOf(wanted))
  }
}

/** What there is less of now. */
const fewer = (before: readonly Limit[], now: readonly Limit[]): Limit[] =>
  before.flatMap(({ feature, count, where }) => {
    const left = now.find((one) => one.feature === feature)
    const gone = count - (left?.count ?? 0)
    return gone > 0 ? [{ feature, count: gone, where: where.filter((one) => !left?.where.includes(one)) }] : []
  })
