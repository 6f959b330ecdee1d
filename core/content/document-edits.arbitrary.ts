// Edits that a person makes in a document, for property tests.
import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { documentSchema } from './document'

const { nodes, marks } = documentSchema

/** An edit at a place given as a number. */
export interface Edit {
  at: number
  kind: 'type' | 'erase' | 'split' | 'join' | 'drop' | 'move' | 'bold' | 'restyle' | 'add row' | 'drop row'
  text: string
}
export const anyEdit: fc.Arbitrary<Edit> = fc.record({
  at: fc.nat(),
  kind: fc.constantFrom('type', 'erase', 'split', 'join', 'drop', 'move', 'bold', 'restyle', 'add row', 'drop row'),
  text: fc.constantFrom('gate', ' weir ', 'LK07', 'x', 'two words'),
})

function act(change: Transform, now: Node, { at, kind, text }: Edit): void {
  const blocks: { node: Node; pos: number }[] = []
  const rows: { node: Node; pos: number; siblings: number }[] = []
  now.descendants((node, pos, parent) => {
    if (node.isTextblock) blocks.push({ node, pos })
    if (node.type === nodes.table_row) rows.push({ node, pos, siblings: parent!.childCount })
  })
  if (kind === 'add row' || kind === 'drop row') {
    const row = rows[at % Math.max(1, rows.length)]
    if (!row) return
    if (kind === 'drop row') {
      if (row.siblings > 1) change.delete(row.pos, row.pos + row.node.nodeSize)
      return
    }
    const cells = Array.from({ length: row.node.childCount }, (_, index) =>
      nodes.table_cell.create(null, nodes.paragraph.create(null, documentSchema.text(`${text} ${index}`))),
    )
    if (cells.length) change.insert(row.pos, nodes.table_row.create(null, cells))
    return
  }
  const block = blocks[at % Math.max(1, blocks.length)]
  if (!block) return
  const from = block.pos + 1 + (at % (block.node.content.size + 1))
  const to = Math.min(block.pos + 1 + block.node.content.size, from + (at % 9))
  const end = block.pos + block.node.nodeSize
  if (kind === 'type') change.insert(from, documentSchema.text(text))
  else if (kind === 'erase') change.delete(from, to)
  else if (kind === 'split') change.split(from)
  else if (kind === 'join') change.join(end)
  else if (kind === 'bold') change.addMark(from, to, marks.strong.create())
  else if (kind === 'restyle') change.setBlockType(from, from, nodes.heading, { level: 1 + (at % 3) })
  else if (now.childCount > 1) {
    change.delete(block.pos, end)
    if (kind === 'move') {
      let place = 0
      for (let child = 0; child < at % (change.doc.childCount + 1); child++) place += change.doc.child(child).nodeSize
      change.insert(place, block.node)
    }
  }
}

/** The document after these edits; one that does not fit where it should be is not made. */
export function edited(base: Node, edits: readonly Edit[]): Node {
  let now = base
  for (const edit of edits) {
    const change = new Transform(now)
    try {
      act(change, now, edit)
      change.doc.check()
      now = change.doc
    } catch {
      // It does not fit here.
    }
  }
  return now
}
