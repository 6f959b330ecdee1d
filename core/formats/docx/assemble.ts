// The second pass of reading: flat paragraphs become lists, quotes and headings.
import { Fragment, type Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import type { ListNumber } from '../../content/list-number'
import type { Numbering } from './numbering'
import type { Piece } from './source'

const { nodes } = documentSchema

/** Nests the pieces of one story, one stretch after the other: numbers go on from one to the next. */
export class Assembly {
  private readonly counters = new Map<string, number[]>()
  /** @param onUnseenNumbers a list has numbers that the model does not show */
  constructor(
    private readonly numbering: Numbering,
    private readonly onUnseenNumbers: () => void,
    /** Whether the model says how numbers are written. */
    private readonly saysNumbers: boolean,
    /** Is told of each paragraph that a piece became. */
    private readonly made: (piece: Piece, node: Node) => void = () => {},
  ) {}

  /** Nests pieces into lists and quotes. */
  nest(pieces: readonly Piece[]): Node[] {
    const blocks: Node[] = []
    let quote: Node[] = []
    let lists: OpenList[] = []
    const close = () => {
      if (quote.length) blocks.push(nodes.blockquote.create(null, quote))
      quote = []
      if (lists.length) blocks.push(lists[0]!.node())
      lists = []
    }
    for (const piece of pieces) {
      if (piece.is === 'block') {
        close()
        blocks.push(piece.node)
        continue
      }
      const { style, align, named, look, level, inline, list } = piece
      const attrs = { align, style: named, look }
      const content = Fragment.fromArray(inline)
      if (style === 'gap' && inline.length === 0 && !list) {
        close()
        if (blocks.at(-1)?.type === nodes.table) continue
      }
      const isHeading = level > 0 && !list && style !== 'quote' && style !== 'quote anew'
      const node = isHeading
        ? nodes.heading.create({ level, ...attrs }, content)
        : nodes.paragraph.create(attrs, content)
      this.made(piece, node)
      if (list) {
        if (quote.length) close()
        lists = this.addToLists(lists, list, node, (finished) => blocks.push(finished))
      } else if (style === 'quote' || style === 'quote anew') {
        if (lists.length || style === 'quote anew') close()
        quote.push(node)
      } else {
        close()
        blocks.push(node)
      }
    }
    close()
    return blocks
  }

  private addToLists(
    open: OpenList[],
    { number, level }: { number: string; level: number },
    paragraph: Node,
    finish: (list: Node) => void,
  ): OpenList[] {
    const kept = open.filter((list) => list.level <= level)
    let top = kept.at(-1)
    if (top && top.level === level && top.number !== number) {
      kept.pop()
      top = kept.at(-1)
    }
    if (kept.length === 0 && open.length > 0) finish(open[0]!.node())
    const counts = this.counters.get(number) ?? []
    this.counters.set(number, counts)
    if (!top || top.level < level) {
      const { ordered, start, plain, written } = this.numbering.level(number, level)
      if (this.saysNumbers ? written === undefined : !plain) this.onUnseenNumbers()
      const first = counts[level] === undefined ? start : counts[level] + 1
      const list = new OpenList(number, level, ordered, first, this.saysNumbers ? (written ?? null) : null)
      if (top) top.items.at(-1)!.lists.push(list)
      kept.push(list)
      top = list
      counts[level] = list.start - 1
    }
    counts[level] = (counts[level] ?? 0) + 1
    counts.length = level + 1
    top.items.push({ paragraph, lists: [] })
    return kept
  }
}

class OpenList {
  readonly items: { paragraph: Node; lists: OpenList[] }[] = []
  constructor(
    readonly number: string,
    readonly level: number,
    readonly ordered: boolean,
    readonly start: number,
    readonly written: ListNumber | null,
  ) {}
  node(): Node {
    const items = this.items.map(({ paragraph, lists }) =>
      nodes.list_item.create(null, [paragraph, ...lists.map((list) => list.node())]),
    )
    return this.ordered
      ? nodes.ordered_list.create({ start: this.start, number: this.written }, items)
      : nodes.bullet_list.create(null, items)
  }
}
