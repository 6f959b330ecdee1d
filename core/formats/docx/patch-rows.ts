// The rows and cells of a file's table that are other ones now (ECMA-376 part 1, §17.4).
import type { Node } from 'prosemirror-model'
import type { Splices } from '../opc/spans'
import { elements, type XmlElement } from '../opc/xml'
import { NotPatched } from '../refusals'
import { layItems } from './patch-diff'
import { type SourceBlocks, sourceBlocks, type Unit, unitsOf } from './patch-items'
import type { StoryOffers } from './patch-offers'
import type { Story } from './story'

interface SourceRow {
  from: XmlElement
  cells: { from: XmlElement | undefined; pieces: Parameters<typeof sourceBlocks>[2] }[]
}

export class TablePatcher {
  constructor(
    private readonly story: Story,
    private readonly splices: Splices,
    private readonly offers: StoryOffers,
    /** Writes the blocks of a cell. */
    private readonly blocks: (source: SourceBlocks, units: readonly Unit[]) => void,
  ) {}

  /** A table whose cells hold something else, or that has other rows. */
  table(element: XmlElement, before: Node, now: Node): void {
    const rows = this.story.source.tables.get(element)
    if (!rows || rows.length !== before.childCount) throw new NotPatched('table')
    const keys = (table: Node) => {
      const all: string[] = []
      table.forEach((row) => void all.push(JSON.stringify(row.toJSON())))
      return all
    }
    const shape = (row: Node) => {
      const all: unknown[] = [row.attrs.header]
      row.forEach(({ attrs }) => void all.push(attrs.colspan, attrs.rowspan, attrs.colwidth))
      return JSON.stringify(all)
    }
    const steps = layItems(keys(before), keys(now), () => false)
    // What goes and what comes at one place are one row that changed, in their order, where they have one shape.
    let pendingRows: number[] = []
    const settle = (fresh: number[]) => {
      const gone = pendingRows
      pendingRows = []
      while (gone.length && fresh.length && shape(before.child(gone[0]!)) === shape(now.child(fresh[0]!))) {
        const [a, b] = [gone.shift()!, fresh.shift()!]
        this.row(rows[a]!, before.child(a), now.child(b))
      }
      for (const a of gone) {
        if (spansRows(before)) throw new NotPatched('merged rows')
        const { at } = rows[a]!.from
        this.splices.replace(at!.start, at!.end, '')
      }
      for (const b of fresh) {
        if (spansRows(before) || spansRows(now)) throw new NotPatched('merged rows')
        const like = Math.max(lastKept, 0)
        const text = this.freshRow(rows[like]!, before.child(like), now.child(b))
        this.splices.insert(lastKept >= 0 ? rows[lastKept]!.from.at!.end : rows[0]!.from.at!.start, text)
      }
    }
    let lastKept = -1
    let fresh: number[] = []
    for (const [a, b] of steps) {
      if (a >= 0 && b >= 0) {
        settle(fresh)
        fresh = []
        lastKept = a
      } else if (a >= 0) pendingRows.push(a)
      else fresh.push(b)
    }
    settle(fresh)
  }
  private row(source: Pick<SourceRow, 'cells'>, before: Node, now: Node): void {
    if (source.cells.length !== before.childCount) throw new NotPatched('row')
    before.forEach((cell, _offset, index) => {
      const other = now.child(index)
      if (cell.eq(other)) return
      if (JSON.stringify(cell.attrs) !== JSON.stringify(other.attrs)) throw new NotPatched('cell')
      const { from, pieces } = source.cells[index]!
      const blocks = from && sourceBlocks(this.story.xml, cell, pieces, this.story.source)
      if (!blocks) throw new NotPatched('cell')
      this.offers.everything.push(...new Set(blocks.paragraphs.filter((one) => one !== undefined)))
      this.blocks(blocks, unitsOf(other))
    })
  }
  /** A row made like another one. */
  private freshRow(like: SourceRow, before: Node, row: Node): string {
    if (row.childCount !== before.childCount || like.cells.some(({ from }) => !from)) throw new NotPatched('row')
    const { xml, prefix } = this.story
    const raw = (element: XmlElement | undefined) => (element ? xml.slice(element.at!.start, element.at!.end) : '')
    const [properties] = elements(like.from, 'w:trPr')
    const header = raw(properties).replace(/<(?:\w+:)?tblHeader(?:\s[^>]*)?\/>/, '')
    if (row.attrs.header && !before.attrs.header) throw new NotPatched('heading row')
    const cells = like.cells.map(({ from, pieces }, index) => {
      const cell = row.child(index)
      const old = before.child(index)
      if (cell.attrs.colspan !== old.attrs.colspan) throw new NotPatched('row')
      const blocks = sourceBlocks(xml, old, pieces, this.story.source)
      const near = blocks?.paragraphs.find((one) => one !== undefined) ?? null
      if (near) this.offers.everything.push(near)
      const [own] = elements(from!, 'w:tcPr')
      const inside = unitsOf(cell)
        .map((unit) => {
          if (unit.is === 'table') throw new NotPatched('table in a cell')
          return this.offers.freshParagraph(unit, near)
        })
        .join('')
      return `<${prefix}tc>${raw(own)}${inside}</${prefix}tc>`
    })
    return `<${prefix}tr>${row.attrs.header ? raw(properties) : header}${cells.join('')}</${prefix}tr>`
  }
}

function spansRows(table: Node): boolean {
  let spans = false
  table.forEach((row) => {
    row.forEach((cell) => {
      if (cell.attrs.rowspan > 1) spans = true
    })
  })
  return spans
}
