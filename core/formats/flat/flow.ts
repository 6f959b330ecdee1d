// A text that its format writes line by line, paragraph after paragraph, with marks for where a cell and a row end: its
// blocks in the order in which they are read.
import { Fragment, type Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import type { Piece } from '../docx/source'
import { type FlatRow, gridTable, type RowShape } from './grid'

export class Flow {
  /** What is read so far. */
  readonly blocks: Node[] = []
  private pieces: Piece[] = []
  private rows: FlatRow[] = []
  private cells: Node[][] = []
  private cell: Piece[] = []

  /** @param nest pieces as blocks @param madeTable is told of each table */
  constructor(
    private readonly nest: (pieces: readonly Piece[]) => Node[],
    private readonly madeTable: (table: Node) => void = () => {},
  ) {}

  get inTable(): boolean {
    return this.rows.length + this.cells.length + this.cell.length > 0
  }
  /** Whether the cell that is being read has anything in it so far. */
  get cellHasContent(): boolean {
    return this.cell.length > 0
  }

  add(piece: Piece, inTable: boolean): void {
    if (inTable) {
      if (!this.inTable) this.flush()
      this.cell.push(piece)
      return
    }
    this.endTable()
    const isGap = piece.is === 'paragraph' && piece.style === 'gap' && !piece.inline.length && !piece.list
    // What stands between two tables so that they are two.
    if (isGap && !this.pieces.length && this.blocks.at(-1)?.type.name === 'table') return
    this.pieces.push(piece)
  }
  endCell(): void {
    if (!this.inTable) this.flush()
    this.cells.push(this.nest(this.cell))
    this.cell = []
  }
  /** A row ends; what is in no cell of it stands in the last one. */
  endRow(shape: RowShape): void {
    if (!this.inTable) this.flush()
    if (this.cell.length) this.endCell()
    const { cells } = this
    const known = shape.cells.length
    // More cells than were said to be are behind the others.
    const width = known ? Math.max(300, (shape.cells.at(-1)!.right - shape.left) / known) : 2000
    const more = cells.slice(known).map((_, at) => ({
      right: (shape.cells.at(-1)?.right ?? shape.left) + width * (at + 1),
      down: 'no' as const,
      along: 'no' as const,
      auto: true,
    }))
    if (known + more.length) this.rows.push({ shape: { ...shape, cells: [...shape.cells, ...more] }, cells })
    this.cells = []
  }
  private endTable(): void {
    if (this.cells.length || this.cell.length) this.endRow({ header: false, left: 0, cells: [] })
    if (!this.rows.length) return
    const table = gridTable(this.rows)
    this.rows = []
    this.blocks.push(table)
    this.madeTable(table)
  }
  private flush(): void {
    // One after the other: there may be more than can be handed to a function.
    for (const block of this.nest(this.pieces)) this.blocks.push(block)
    this.pieces = []
  }
  /** @returns all of it; a paragraph where there is nothing */
  end(): Fragment {
    this.endTable()
    this.flush()
    return Fragment.fromArray(this.blocks.length ? this.blocks : [documentSchema.node('paragraph')])
  }
}
