// Documents of the binary format of 1997 to 2003 ([MS-DOC]) as documents: read for what they say and how they look. What
// they hold beyond that is told; they are not written.
import { Fragment, type Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { type EdgeName, inOrder, type PageEdge, storyJSON } from '../../content/edges'
import type { ReadDocument } from '../docx/read'
import type { StyleLook } from '../docx/style-looks'
import { type FlatNote, keptNote, linesRead } from '../flat/notes'
import { roleOf } from '../flat/roles'
import { flatStyleLook } from '../flat/style-look'
import { DamagedFile, Limits } from '../refusals'
import { pageBlank } from './blank'
import { type DocFile, Numbers, openDoc, parts, plc } from './file'
import { Lists } from './lists'
import { pagesOf } from './page'
import { StoryReader } from './story'
import { headingOf, namedOf, Styles } from './styles'
import { readDocText } from './text'

const { nodes } = documentSchema

/** @throws DamagedFile */
export function readDoc(bytes: Uint8Array): ReadDocument {
  const file = openDoc(bytes)
  const text = readDocText(file)
  const styles = new Styles(file)
  const lists = new Lists(file)
  const pages = pagesOf(file)
  const limits = new Limits()
  const { lengths } = file
  const all = { file, text, styles, lists, limits, sectionEnds: new Set(pages.ends) }
  const behindNotes = lengths.text + lengths.footnotes
  const notes = notesOf(file)

  /** A note's lines, as the model keeps them. */
  const noteAt = (at: number) => {
    const note = notes.get(at)
    if (!note) return null
    const before = note.kind === 'footnote' ? lengths.text : behindNotes + lengths.headers + lengths.comments
    const reader = new StoryReader(all, 'note', () => null)
    const lines = linesRead(reader.read(before + note.from, before + note.to))
    return keptNote(note.kind, lines)
  }
  const boxes = boxesOf(file)
  const beforeBoxes = behindNotes + lengths.headers + lengths.comments + lengths.endnotes
  const inBox = ({ from, to }: Box): Node[] => {
    const inside = new StoryReader(all, 'box', () => null).read(beforeBoxes + from, beforeBoxes + to)
    return inside.content.filter((block) => block.textContent.trim() !== '')
  }
  const reader = new StoryReader(all, 'text', noteAt, (at) => {
    const box = boxes.at(at)
    return box ? inBox(box) : []
  })
  // What is in boxes of boxes stands in no line: it follows the text.
  const content = reader.read(0, lengths.text).append(Fragment.fromArray(boxes.left().flatMap(inBox)))
  const edges: PageEdge[] = []
  for (const [name, from, to] of edgesOf(file)) {
    if ((name.on === 'first' && !pages.titled) || (name.on === 'even' && !pages.facing)) continue
    const story = new StoryReader(all, 'edge', () => null).read(behindNotes + from, behindNotes + to)
    edges.push({ ...name, json: storyJSON(nodes.doc.create(null, story)) })
  }
  if (pages.ends.length > 1) limits.add('sections with a page layout of their own', '', pages.ends.length - 1)
  if (lengths.headerBoxes > 0) limits.add('drawn shapes and text boxes', '')
  const marked = bookmarksIn(file)
  if (marked) limits.add('bookmarks', '', marked)
  if (file.root.children.some(({ name }) => name === 'Macros')) limits.add('macros', '')
  const doc = nodes.doc.create({ page: pages.page, edges: inOrder(edges) }, content)
  doc.check()
  return { doc, limits: limits.list() }
}

/** Where notes are referred to, and where in their story each stands. */
function notesOf(file: DocFile): Map<number, { kind: FlatNote; from: number; to: number }> {
  const found = new Map<number, { kind: FlatNote; from: number; to: number }>()
  for (const [kind, references, texts] of [
    ['footnote', parts.footnoteReferences, parts.footnoteTexts],
    ['endnote', parts.endnoteReferences, parts.endnoteTexts],
  ] as const) {
    const { places } = plc(file.part(references), 2)
    const stories = plc(file.part(texts), 0).places
    for (let at = 0; at + 1 < places.length && at + 1 < stories.length; at++)
      found.set(places[at]!, { kind, from: stories[at]!, to: stories[at + 1]! })
  }
  return found
}

interface Box {
  from: number
  to: number
}
/** Where what is written in something drawn stands in the story of boxes, by the letter that it is anchored at. */
function boxesOf(file: DocFile): { at: (letter: number) => Box | undefined; left: () => Box[] } {
  const { places, at: boxAt } = plc(file.part(parts.boxes), 22)
  const byShape = new Map<number, Box>()
  // The last one closes the story.
  for (let at = 0; at + 2 < places.length; at++)
    byShape.set(boxAt(at).i32(14), { from: places[at]!, to: places[at + 1]! })
  const anchors = plc(file.part(parts.shapes), 26)
  const shapes = new Map(anchors.places.slice(0, -1).map((letter, at) => [letter, anchors.at(at).i32(0)]))
  return {
    at(letter) {
      const shape = shapes.get(letter)
      const box = shape === undefined ? undefined : byShape.get(shape)
      if (box) byShape.delete(shape!)
      return box
    },
    left: () => [...byShape.values()],
  }
}

const edgeNames: readonly EdgeName[] = [
  { edge: 'head', on: 'even' },
  { edge: 'head', on: 'all' },
  { edge: 'foot', on: 'even' },
  { edge: 'foot', on: 'all' },
  { edge: 'head', on: 'first' },
  { edge: 'foot', on: 'first' },
]
/** Stories of separators stand before those of sections (§2.8.20). */
const separators = 6
/** The edges of the first section's pages, as far as there are any. */
function edgesOf(file: DocFile): [EdgeName, number, number][] {
  const { places } = plc(file.part(parts.headers), 0)
  return edgeNames.flatMap((name, at): [EdgeName, number, number][] => {
    const from = places[separators + at]
    const to = places[separators + at + 1]
    return from !== undefined && to !== undefined && to > from ? [[name, from, to]] : []
  })
}

/** How many bookmarks there are that people made. */
function bookmarksIn(file: DocFile): number {
  const of = new Numbers(file.part(21))
  if (of.u16(0) !== 0xffff) return 0
  let count = 0
  let at = 6
  for (let index = 0; index < of.u16(2) && at < of.length; index++) {
    const letters = of.u16(at)
    if (of.text(at + 2, 1) !== '_') count++
    at += 2 + letters * 2 + of.u16(4)
  }
  return count
}

/** How the styles of a document look, as declarations of CSS made from numbers, colours and names that were checked. */
export function readDocLooks(bytes: Uint8Array): StyleLook[] {
  let styles: Styles
  try {
    styles = new Styles(openDoc(bytes))
  } catch (error) {
    if (error instanceof DamagedFile) return []
    throw error
  }
  return styles.ofParagraphs().map((style) => {
    const { para, char, name } = style
    return flatStyleLook(
      {
        id: name,
        name,
        heading: headingOf(style, null),
        quote: roleOf(name) === 'quote',
        named: namedOf(style, false, false) !== null,
        usual: style.known === 0,
      },
      para,
      char,
      pageBlank.para,
    )
  })
}
