// A document written into the text of Rich Text Format that it came from: letters where only letters are others, blocks
// where blocks are, the edges and the size of pages, and what all that needs in the tables. The rest is the file's own.
import { Fragment, type Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { edgeKey, edgesOf, type PageEdge, storyJSON, storyOf } from '../../content/edges'
import { layItems } from '../docx/patch-diff'
import { Limits, NotPatched, type Written } from '../refusals'
import { patchLetters } from './letters-patch'
import { Made } from './made'
import { pageText } from './page'
import type { ReadRtf, RtfSource } from './read'
import { Splices } from './splices'
import { BlockWriter } from './write'

export interface PatchedRtf extends Written {
  /** What of the document is in the file. */
  expected: Node
}

const { nodes } = documentSchema

/** Blocks that are kept or written together: a page break that a paragraph says of itself goes with that one. */
interface Unit {
  blocks: Node[]
  from: number
  to: number
  /** Whether as many groups are open before it as behind it. */
  even: boolean
}

function unitsOf({ doc, source }: ReadRtf): Unit[] {
  const units: Unit[] = []
  let from = source.begin
  let depth = 1
  let waiting: Node[] = []
  doc.forEach((block) => {
    // A file without a line has one that is in no place of it.
    const end = endOf(block, source)
    if (!end && block.type === nodes.page_break) {
      waiting.push(block)
      return
    }
    if (!end) return
    units.push({ blocks: [...waiting, block], from, to: end.to, even: end.depth === depth })
    waiting = []
    from = end.to
    depth = end.depth
  })
  if (waiting.length) throw new NotPatched()
  return units
}
/** Where the last line of a block ends. */
function endOf(block: Node, { lines, ends }: RtfSource): { to: number; depth: number } | null {
  const own = ends.get(block) ?? lines.get(block)
  if (own) return own
  let last: { to: number; depth: number } | null = null
  block.descendants((node) => {
    const line = lines.get(node)
    if (line && (!last || line.to > last.to)) last = line
    return !node.isTextblock
  })
  return last
}

/**
 * @param letters whether letters are written where only letters are others
 * @throws NotPatched where what is to be another cannot be taken out of what stands around it
 */
export function patchRtf(read: ReadRtf, doc: Node, letters: boolean): PatchedRtf {
  const { source } = read
  const limits = new Limits()
  const made = new Made(source.tables)
  const writer = new BlockWriter(made, limits)
  const splices = new Splices(source.bytes)
  const expected: Node[] = []

  const units = unitsOf(read)
  const keyOf = (blocks: readonly Node[]) => JSON.stringify(blocks.map((block) => block.toJSON()))
  const places: number[] = []
  doc.forEach((_, offset) => void places.push(offset))
  const fresh = doc.children.map((block) => [block])
  // A page break that a paragraph says of itself is one unit with it, here too.
  const glued = new Set(units.filter(({ blocks }) => blocks.length > 1).map(({ blocks }) => keyOf(blocks)))
  const groups: { blocks: Node[]; at: number }[] = []
  for (let at = 0; at < fresh.length; at++) {
    const pair = doc.children.slice(at, at + 2)
    if (pair.length === 2 && pair[0]!.type === nodes.page_break && glued.has(keyOf(pair))) {
      groups.push({ blocks: pair, at })
      at++
    } else groups.push({ blocks: fresh[at]!, at })
  }
  const steps = layItems(
    units.map(({ blocks }) => keyOf(blocks)),
    groups.map(({ blocks }) => keyOf(blocks)),
    () => false,
  )
  const flush = (old: Unit[], now: { blocks: Node[]; at: number }[], next?: Node) => {
    if (!old.length && !now.length) return
    if (letters && old.length === now.length) {
      const tried = old.map((unit, at) => {
        const one = now[at]!
        return unit.blocks.length === one.blocks.length
          ? unit.blocks.map((block, index) => patchLetters(block, one.blocks[index]!, source))
          : [null]
      })
      if (tried.every((some) => some.every((one) => one !== null))) {
        for (const edits of tried.flat()) for (const edit of edits!) splices.replace(...edit)
        for (const { blocks } of now) expected.push(...blocks)
        return
      }
    }
    const held = now.flatMap(({ blocks, at }) => blocks.map((block, index) => writer.held(block, places[at + index]!)))
    const before = expected.at(-1)?.type === nodes.table
    const from = old[0]?.from ?? position
    const to = old.at(-1)?.to ?? position
    if (old.some(({ even }) => !even)) throw new NotPatched()
    for (const { feature, near, from: at } of source.noted) if (at >= from && at < to) limits.add(feature, near)
    // What comes next stays as it is, and is a table of its own.
    const last = held.at(-1) ?? expected.at(-1)
    const apart = next?.type === nodes.table && last?.type === nodes.table
    splices.replace(from, to, writer.blocks(held, {}, before) + (apart ? writer.gap() : ''))
    for (const block of held) expected.push(block)
  }
  let position = source.begin
  let [old, now]: [Unit[], { blocks: Node[]; at: number }[]] = [[], []]
  for (const [older, newer] of steps) {
    if (older >= 0 && newer >= 0) {
      flush(old, now, units[older]!.blocks[0])
      ;[old, now] = [[], []]
      expected.push(...units[older]!.blocks)
      position = units[older]!.to
    } else if (older >= 0) {
      old.push(units[older]!)
    } else now.push(groups[newer]!)
  }
  flush(old, now)

  const edges = patchEdges(read, doc, writer, splices, limits)
  const page = JSON.stringify(doc.attrs.page) === JSON.stringify(read.doc.attrs.page) ? null : doc.attrs.page
  if (page) {
    for (const { from, to } of source.page.words) splices.replace(from, to, '')
    // Behind all that is said of documents and of the first section.
    splices.insert(source.begin, `${pageText(page)}\n`)
  }
  for (const [place, text] of made.insertions(source.begin)) splices.insert(place, text)
  return {
    bytes: splices.apply(),
    lost: limits.list(),
    expected: nodes.doc.create(
      { ...doc.attrs, edges },
      Fragment.fromArray(expected.length ? expected : [nodes.paragraph.create()]),
    ),
  }
}

const edgeWords = {
  'head all': '\\header',
  'head first': '\\headerf',
  'head even': '\\headerl',
  'foot all': '\\footer',
  'foot first': '\\footerf',
  'foot even': '\\footerl',
} as const

/** @returns the edges as the file has them then */
function patchEdges(
  { doc: before, source }: ReadRtf,
  doc: Node,
  writer: BlockWriter,
  splices: Splices,
  limits: Limits,
): PageEdge[] {
  const there = new Map(edgesOf(before).map((edge) => [edgeKey(edge), edge]))
  const wanted = edgesOf(doc)
  const facing = wanted.some(({ on }) => on === 'even')
  const hadFacing = [...there.values()].some(({ on }) => on === 'even')
  const expected: PageEdge[] = []
  let fresh = ''
  const places = new Map(source.edges.map((edge) => [edgeKey(edge.name), edge]))
  for (const edge of wanted) {
    const key = edgeKey(edge)
    const known = there.get(key)
    const place = places.get(key)
    const asItIs = known && place && JSON.stringify(known.json) === JSON.stringify(edge.json)
    if (asItIs && (facing === hadFacing || edge.on !== 'all')) {
      expected.push(edge)
      continue
    }
    const story = storyOf(edge)
    const held: Node[] = []
    story.forEach(
      (block, offset) =>
        void held.push(writer.held(block, offset, { inTable: false, edge: true, quote: null, list: null })),
    )
    expected.push({ ...edge, json: storyJSON(nodes.doc.create(null, held)) })
    const word = edgeWords[key as keyof typeof edgeWords]
    const text = `{${facing && edge.on === 'all' ? `${word}r` : word}${'\n'}${writer.blocks(held, { edge: true })}}\n`
    if (!place) fresh += text
    else {
      for (const { feature, near, from } of source.noted)
        if (from >= place.from && from < place.to) limits.add(feature, near)
      splices.replace(place.from, place.to, text)
    }
  }
  const keys = new Set(wanted.map(edgeKey))
  for (const [key, place] of places) if (!keys.has(key)) splices.replace(place.from, place.to, '')
  const titled = wanted.some(({ on }) => on === 'first')
  if (titled && !source.page.titled) fresh = `\\titlepg\n${fresh}`
  if (!titled && source.page.titled) splices.replace(source.page.titled.from, source.page.titled.to, '')
  if (facing && !source.page.facing) fresh = `\\facingp\n${fresh}`
  if (fresh) splices.insert(source.begin, fresh)
  return expected
}
