// A document as a row of what a reader takes for one thing: paragraphs and headings, wherever they stand, and
// tables. What holds them (lists, quotations) is part of their look.
import type { Node } from 'prosemirror-model'
import { type Said, type Sentence, say } from '../words/said'
import { placeInWords } from './places-in-words'
import { keyOfLeaf } from './tokens'

export interface TextBlock {
  kind: 'text'
  node: Node
  /** Position of its first letter. */
  at: number
  text: string
  /** Blocks of the same key say the same. */
  key: string
  /** Its style and what it stands in, in words: "heading 2", "list item". */
  look: Sentence
  /** The heading it stands under; empty before the first one. */
  section: string
}
export interface TableCell {
  node: Node
  /** Position before it. */
  at: number
  key: string
  blocks: TextBlock[]
}
export interface TableRow {
  node: Node
  at: number
  cells: TableCell[]
}
export interface Table {
  kind: 'table'
  node: Node
  /** Position before it. */
  at: number
  key: string
  rows: TableRow[]
  section: string
}
export type Unit = TextBlock | Table

const aligned: Record<string, Said> = {
  center: say('changes.centred'),
  right: say('changes.to-the-right'),
  justify: say('changes.justified'),
}

function textBlock(node: Node, pos: number, around: Said | null, section: string): TextBlock {
  const text = node.textBetween(0, node.content.size, undefined, '\ufffc')
  let key = text
  if (text.includes('\ufffc'))
    node.forEach((child) => {
      if (child.isLeaf && !child.isText) key += `\u0001${child.attrs.src ?? keyOfLeaf(child)}`
    })
  const style: Sentence =
    node.attrs.style ??
    (node.type.name === 'heading'
      ? say('changes.heading', { level: node.attrs.level as number })
      : (around ?? say('changes.paragraph')))
  const look = say('changes.look-of-block', {
    style,
    align: aligned[node.attrs.align] ?? '',
    place: node.attrs.look ? placeInWords(node.attrs.look) : '',
  })
  return { kind: 'text', node, at: pos + 1, text, key, look, section }
}

const itemOf = (numbered: boolean, depth: number): Said =>
  say(numbered ? 'changes.numbered-item' : 'changes.list-item', { depth })

/** Documents never change, and one is compared with many. */
const known = new WeakMap<Node, Unit[]>()

/** Everything in a document that says something, in order; empty paragraphs and page breaks are left out. */
export function unitsOf(doc: Node): readonly Unit[] {
  const there = known.get(doc)
  if (there) return there
  const units: Unit[] = []
  let section = ''
  const visit = (parent: Node, at: number, around: Said | null, depth: number) => {
    parent.forEach((node, offset) => {
      const pos = at + offset
      if (node.isTextblock) {
        const block = textBlock(node, pos, around, section)
        if (node.type.name === 'heading' && block.text.trim()) {
          section = block.text.trim()
          block.section = section
        }
        if (block.text) units.push(block)
      } else if (node.type.name === 'table') units.push(tableOf(node, pos, section))
      else if (node.type.name === 'blockquote') visit(node, pos + 1, say('changes.quote'), depth)
      else if (node.type.spec.group?.includes('list'))
        visit(node, pos + 1, itemOf(node.type.name === 'ordered_list', depth + 1), depth + 1)
      else if (node.type.name === 'list_item') visit(node, pos + 1, around, depth)
    })
  }
  visit(doc, 0, null, 0)
  known.set(doc, units)
  return units
}

function tableOf(table: Node, at: number, section: string): Table {
  const rows: TableRow[] = []
  table.forEach((row, rowOffset) => {
    const rowAt = at + 1 + rowOffset
    const cells: TableCell[] = []
    row.forEach((cell, cellOffset) => {
      const cellAt = rowAt + 1 + cellOffset
      const blocks: TextBlock[] = []
      cell.descendants((node, pos) => {
        if (!node.isTextblock) return true
        const block = textBlock(node, cellAt + 1 + pos, null, section)
        if (block.text) blocks.push(block)
        return false
      })
      cells.push({ node: cell, at: cellAt, key: blocks.map(({ key }) => key).join('\n'), blocks })
    })
    rows.push({ node: row, at: rowAt, cells })
  })
  const key = rows.map(({ cells }) => cells.map((cell) => cell.key).join('\u0002')).join('\u0003')
  return { kind: 'table', node: table, at, key: `\u0003${key}`, rows, section }
}

/** How many times each word of a text occurs. */
export function bagOf(text: string): Map<string, number> {
  const bag = new Map<string, number>()
  for (const word of text.match(/[\p{L}\p{N}]+/gu) ?? []) bag.set(word, (bag.get(word) ?? 0) + 1)
  return bag
}
/** How many words two texts share, and how many they have. */
export function shared(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>) {
  let both = 0
  let all = 0
  for (const [word, count] of a) {
    both += Math.min(count, b.get(word) ?? 0)
    all += count
  }
  for (const count of b.values()) all += count
  return { both, all }
}
/** 0 … 1: the share of words that two texts have in common. */
export function likeness(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): number {
  const { both, all } = shared(a, b)
  return all ? (2 * both) / all : 1
}

export const wordsIn = (text: string): number => text.match(/[\p{L}\p{N}][\p{L}\p{N}\p{M}'’-]*/gu)?.length ?? 0

/** Where its words, or the whole of a table, stand. */
export const extent = (unit: Unit): { from: number; to: number } =>
  unit.kind === 'table'
    ? { from: unit.at, to: unit.at + unit.node.nodeSize }
    : { from: unit.at, to: unit.at + unit.text.length }

/** The first words of a unit, to know it by. */
export function opening(unit: Unit, longest = 60): string {
  const text =
    unit.kind === 'text'
      ? unit.text.replaceAll('\ufffc', '').trim()
      : unit.rows
          .slice(0, 3)
          .flatMap(({ cells }) => cells.map(({ key }) => withoutImages(key).trim()))
          .filter(Boolean)
          .join(' · ')
  return text.length > longest ? `${text.slice(0, longest - 1)}…` : text
}

/** What stands in a key without what its images show. */
export const withoutImages = (key: string): string => key.replace(/\u0001[^\s\u0001-\u0003]*/g, ' ')
