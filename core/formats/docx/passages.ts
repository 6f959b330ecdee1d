// What a file says of stretches of its text: tracked insertions (ECMA-376 part 1, §17.13.5.18), what comments are about
// (§17.13.4.4), and where tabs stop (§17.3.1.37).
import { Fragment, type Node } from 'prosemirror-model'
import type { Passage, TabStop } from '../../content/passages'
import { type OpcPackage, openPackage, relationshipKind, valueOf } from '../opc/package'
import { spannedTree } from '../opc/spanned-xml'
import { textOfPart } from '../opc/spans'
import { child, elements, type XmlElement } from '../opc/xml'
import { line, wordsIn } from './kept'
import { readDocxSource } from './read'
import type { DocumentSource, Piece } from './source'
import { pageOf } from './values'

export interface ReadPassages {
  /** What they are positions in. */
  doc: Node
  passages: Passage[]
}

const twipsPerPoint = 20
const says =
  /<(?:\w+:)?(?:ins|moveTo|commentRangeStart|tabs)[\s>]|<(?:\w+:)?cols\s[^>]*num=|<(?:\w+:)?sectPr[\s>][\s\S]*<(?:\w+:)?sectPr[\s>]/

/**
 * @param bytes a .docx
 * @returns null where the file says nothing of the sort, or nothing that can be told where
 * @throws DamagedFile
 */
export function readPassages(bytes: Uint8Array): ReadPassages | null {
  try {
    return read(bytes)
  } catch (error) {
    // What stands where is known of well-formed parts only.
    if (error instanceof RangeError) return null
    throw error
  }
}

function read(bytes: Uint8Array): ReadPassages | null {
  const opened = openPackage(bytes)
  const main = opened.mainPart()
  const part = (kind: string) => {
    const found = [...opened.relationships(main).values()].find((one) => relationshipKind(one) === kind)
    return found && !found.external ? found.target : undefined
  }
  const text = textOfPart(opened.bytes(main)!)
  const styles = textOfPart(opened.bytes(part('styles') ?? '') ?? new Uint8Array())
  if (!text || !(says.test(text.xml) || says.test(styles?.xml ?? ''))) return null
  const root = spannedTree(text.xml)
  const { doc, source } = readDocxSource(opened, main, root)
  const comments = readComments(opened, part('comments'))
  const tabs = new TabStops(opened.xml(part('styles') ?? ''))
  const said = saidOfRuns(source.body!)
  const passages: Passage[] = []
  const last = new Map<string, number>()
  const add = (one: Passage) => {
    const what = JSON.stringify({ ...one, from: 0, to: 0 })
    const at = last.get(what) ?? -1
    // Runs beside each other are one passage.
    if (passages[at]?.to === one.from) passages[at] = { ...one, from: passages[at].from }
    else last.set(what, passages.push(one) - 1)
  }
  for (const { piece, at, node } of paragraphsIn(doc, source)) {
    const stops = node.textContent.includes('\t') && piece.from ? tabs.of(piece.from) : []
    const every = stops[0]?.kind === 'left' ? stops[0].at : null
    if (stops.length) passages.push({ kind: 'tabs', from: at, to: at + node.nodeSize, every, stops })
    let from = at + 1
    for (const inline of piece.inline) {
      const to = from + inline.nodeSize
      const { run } = source.runs.get(inline) ?? {}
      const what = run && (said.get(run) ?? said.get([...elements(run)][0] ?? run))
      const by = what?.inserted?.attributes
      if (by) add({ kind: 'inserted', from, to, who: line(by['w:author'] ?? ''), when: moment(by['w:date']) })
      for (const id of what?.comments ?? []) {
        const about = comments.get(id)
        if (about) add({ kind: 'comment', from, to, ...about })
      }
      from = to
    }
  }
  passages.push(...sectionsIn(doc, source))
  return passages.length ? { doc, passages } : null
}

/** Sections, where there are several, or columns (§17.6.17, §17.6.4, §17.6.22). */
function sectionsIn(doc: Node, source: DocumentSource): Passage[] {
  const body = source.body!
  const ends: { from: number; to: number; section: XmlElement | undefined }[] = []
  for (const { piece, at, node } of paragraphsIn(doc, source)) {
    const section = piece.from && child(child(piece.from, 'w:pPr'), 'w:sectPr')
    // Of what a table or a list holds, all that it is in ends there.
    const place = doc.resolve(at)
    if (section)
      ends.push({
        from: place.depth ? place.before(1) : at,
        to: place.depth ? place.after(1) : at + node.nodeSize,
        section,
      })
  }
  const last = doc.lastChild
  if (last)
    ends.push({ from: doc.content.size - last.nodeSize, to: doc.content.size, section: child(body, 'w:sectPr') })
  const sections = ends.map(({ from, to, section }): Passage => {
    const columns = child(section, 'w:cols')?.attributes
    return {
      kind: 'section',
      from,
      to,
      page: pageOf(section),
      columns: Math.min(20, Math.max(1, Math.trunc(Number(columns?.['w:num'] ?? 1)) || 1)),
      gap: (Number(columns?.['w:space'] ?? 720) || 0) / twipsPerPoint,
      flows: valueOf(section, 'w:type') === 'continuous',
    }
  })
  return sections.length > 1 || sections.some((one) => one.kind === 'section' && one.columns > 1) ? sections : []
}

/** A moment as a file writes it; null for what is none. @returns ISO 8601 */
export const moment = (date: string | undefined): string | null => {
  const found = date === undefined ? Number.NaN : Date.parse(date)
  return Number.isNaN(found) ? null : new Date(found).toISOString()
}

/** Of each run, and of what stands beside runs, the insertion that it is part of and the comments about it. */
function saidOfRuns(body: XmlElement) {
  const said = new Map<XmlElement, { inserted: XmlElement | null; comments: readonly string[] }>()
  let comments: readonly string[] = []
  const visit = (parent: XmlElement, inserted: XmlElement | null) => {
    for (const one of elements(parent)) {
      const id = one.attributes['w:id'] ?? ''
      if (one.name === 'w:commentRangeStart') comments = [...comments, id]
      else if (one.name === 'w:commentRangeEnd') comments = comments.filter((known) => known !== id)
      else {
        if (inserted || comments.length) said.set(one, { inserted, comments })
        const into = one.name === 'w:ins' || one.name === 'w:moveTo'
        visit(one, into ? one : inserted)
      }
    }
  }
  visit(body, null)
  return said
}

function readComments(opened: OpcPackage, part: string | undefined): Map<string, { who: string; words: string }> {
  const comments = new Map<string, { who: string; words: string }>()
  const root = part === undefined ? undefined : opened.xml(part)
  for (const one of elements(root, 'w:comment'))
    comments.set(one.attributes['w:id'] ?? '', {
      who: line(one.attributes['w:author'] ?? ''),
      words: line(wordsIn(one)),
    })
  return comments
}

/** The paragraphs of a document with what each was read from; those that do not go together are left out. */
function* paragraphsIn(doc: Node, source: DocumentSource) {
  const pieces = [...paragraphPieces(source.pieces, source)]
  const found: { piece: Extract<Piece, { is: 'paragraph' }>; at: number; node: Node }[] = []
  let next = 0
  doc.descendants((node, at) => {
    if (!node.isTextblock) return true
    // Gaps between tables, and cells that only fill a row, have none on the other side.
    for (let index = next; index < Math.min(pieces.length, next + 8); index++)
      if (Fragment.fromArray(pieces[index]!.inline).eq(node.content)) {
        found.push({ piece: pieces[index]!, at, node })
        next = index + 1
        break
      }
    return false
  })
  yield* found
}
function* paragraphPieces(
  pieces: readonly Piece[],
  source: DocumentSource,
): Generator<Extract<Piece, { is: 'paragraph' }>> {
  for (const piece of pieces) {
    if (piece.is === 'paragraph') yield piece
    else
      for (const { cells } of source.tables.get(piece.from ?? source.body!) ?? [])
        for (const cell of cells) yield* paragraphPieces(cell.pieces, source)
  }
}

/** Where the text of paragraphs goes on behind a tab, by what they and their styles say. */
class TabStops {
  private readonly styles = new Map<string, XmlElement>()
  private usual = ''
  constructor(root: XmlElement | undefined) {
    for (const style of elements(root, 'w:style')) {
      const { 'w:styleId': id = '', 'w:type': type, 'w:default': usual } = style.attributes
      if (type !== 'paragraph') continue
      this.styles.set(id, style)
      if (usual === '1' || usual === 'true') this.usual = id
    }
  }

  /** Where its text stops, in order; none for what a page draws as it does without. */
  of(paragraph: XmlElement): TabStop[] {
    const own = child(paragraph, 'w:pPr')
    const said = [own, ...this.based(valueOf(own, 'w:pStyle') ?? this.usual)]
    const indent = said.map((properties) => child(properties, 'w:ind')?.attributes).find((ind) => ind)
    const left = Number(indent?.['w:left'] ?? indent?.['w:start'] ?? 0) || 0
    const stops = new Map<number, Record<string, string>>()
    for (const properties of [...said].reverse())
      for (const { attributes } of elements(child(properties, 'w:tabs'), 'w:tab')) {
        const at = Number(attributes['w:pos'])
        if (attributes['w:val'] === 'clear') stops.delete(at)
        else if (Number.isFinite(at) && attributes['w:val'] !== 'bar') stops.set(at, attributes)
      }
    return [...stops]
      .filter(([at]) => at > left && at - left <= 31_680)
      .sort(([a], [b]) => a - b)
      .slice(0, 60)
      .map(([at, said]) => ({
        at: (at - left) / twipsPerPoint,
        kind:
          ({ center: 'center', right: 'right', end: 'right', decimal: 'right' } as const)[said['w:val'] as 'end'] ??
          'left',
        dots: /^(?:dot|middleDot|hyphen|underscore|heavy)$/.test(said['w:leader'] ?? ''),
      }))
  }
  private based(id: string): (XmlElement | undefined)[] {
    const chain: (XmlElement | undefined)[] = []
    for (let style = this.styles.get(id); style && chain.length < 20; ) {
      chain.push(child(style, 'w:pPr'))
      style = this.styles.get(valueOf(style, 'w:basedOn') ?? '')
    }
    return chain
  }
}
