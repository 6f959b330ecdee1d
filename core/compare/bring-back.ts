// A part of an earlier document brought back into the present one: its content, or its look alone.
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { layBeside } from './document'
import type { Stretch } from './findings'
import { bringOver } from './replacements'
import { extent, type TextBlock, unitsOf } from './text-blocks'
import { differences, tokensOf } from './tokens'

/** The stretch widened to the paragraphs, and to the tables, that it touches. @returns null when it touches none */
export function widened(doc: Node, { from, to }: Stretch): Stretch | null {
  let found: Stretch | null = null
  doc.nodesBetween(
    Math.max(0, Math.min(from, doc.content.size)),
    Math.min(Math.max(to, from), doc.content.size),
    (node, pos) => {
      if (!node.isTextblock && node.type.name !== 'page_break') return true
      const [start, end] = [pos, pos + node.nodeSize]
      found = found ? { from: Math.min(found.from, start), to: Math.max(found.to, end) } : { from: start, to: end }
      return false
    },
  )
  return found
}

/**
 * The paragraphs that `selected` touches, as `then` has them, in `now`.
 * @param selected positions in `then`
 * @throws RangeError when they cannot stand where they belong
 */
export const bringBack = (now: Node, then: Node, selected: Stretch): Transform =>
  bringOver(now, then, { here: [selected] })

/**
 * The look alone: styles of paragraphs, and marks of the words that are still there.
 * @param selected positions in `then`
 */
export function bringBackLook(now: Node, then: Node, selected: Stretch): Transform {
  const transform = new Transform(now)
  const [before, after] = [unitsOf(then), unitsOf(now)]
  const blocks: [TextBlock, TextBlock][] = []
  for (const [i, j] of layBeside(before, after)) {
    const [was, is] = [before[i]!, after[j]!]
    if (was.kind === 'text' && is.kind === 'text') blocks.push([was, is])
    else if (was.kind === 'table' && is.kind === 'table')
      for (const [row, one] of was.rows.entries())
        for (const [column, cell] of one.cells.entries()) {
          const other = is.rows[row]?.cells[column]
          if (cell.blocks.length === 1 && other?.blocks.length === 1) blocks.push([cell.blocks[0]!, other.blocks[0]!])
        }
  }
  for (const [was, is] of blocks) {
    const { from, to } = extent(was)
    if (to < selected.from || selected.to < from) continue
    const pos = is.at - 1
    const $pos = now.resolve(pos)
    if (was.node.type !== is.node.type || JSON.stringify(was.node.attrs) !== JSON.stringify(is.node.attrs)) {
      const index = $pos.index()
      if ($pos.parent.canReplaceWith(index, index + 1, was.node.type))
        transform.setNodeMarkup(pos, was.node.type, was.node.attrs)
    }
    const [a, b] = [tokensOf(was.node, was.at), tokensOf(is.node, is.at)]
    const gaps = differences(a, b)
    if (!gaps) continue
    let [i, j] = [0, 0]
    for (const gap of [...gaps, { from: a.length, start: b.length, to: 0, end: 0 }]) {
      for (; i < gap.from; i++, j++) {
        const [token, other] = [a[i]!, b[j]!]
        if (token.marks.length === other.marks.length && token.marks.every((mark, at) => mark.eq(other.marks[at]!)))
          continue
        transform.removeMark(other.from, other.to)
        for (const mark of token.marks) transform.addMark(other.from, other.to, mark)
      }
      i = gap.to
      j = gap.end
    }
  }
  return transform
}
