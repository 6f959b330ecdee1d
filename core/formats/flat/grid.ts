// Tables as formats have them that write a text line by line: rows whose cells are known by where they end, so that what
// stands over several columns shows in the edges of other rows.
import type { Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { say } from '../../words/said'
import { twipsPerPixel } from '../docx/write'
import { DamagedFile } from '../refusals'

/** What is merged: the first of such cells has the content, the others are covered by it. */
export type Merge = 'no' | 'first' | 'over'
export interface CellShape {
  /** Twips from the same side as those of the other rows. */
  right: number
  down: Merge
  along: Merge
  /** Nobody set its width. */
  auto: boolean
}
export interface RowShape {
  header: boolean
  left: number
  cells: readonly CellShape[]
}
export interface FlatRow {
  shape: RowShape
  /** What stands in each cell, also in those that are covered. */
  cells: readonly (readonly Node[])[]
}

const { nodes } = documentSchema
const mostColumns = 1000
const mostTableCells = 1_000_000
/** Edges that are nearer to each other are one; twips. */
const near = 7
const narrowest = 15
const mostTwips = 100_000

const tooManyColumns = () => new DamagedFile(say('formats.its-table-has-too-many-columns'))

/** The edges of all cells, each once, from left to right. */
function edgesOf(rows: readonly FlatRow[]): number[] {
  const all = rows.flatMap(({ shape }) => [shape.left, ...shape.cells.map(({ right }) => right)])
  const edges: number[] = []
  for (const edge of all.toSorted((a, b) => a - b)) {
    const last = edges.at(-1)
    if (last === undefined || edge - last > near) edges.push(edge)
  }
  if (edges.length > mostColumns) throw tooManyColumns()
  return edges
}

interface Cell {
  row: number
  column: number
  colspan: number
  rowspan: number
  auto: boolean
  content: Node[]
}

/** A row whose cells each have some width: what is said to be narrower than nothing is as narrow as can be. */
function widened(row: FlatRow): FlatRow {
  let at = Math.max(-mostTwips, Math.min(mostTwips, row.shape.left))
  const left = at
  const cells = row.shape.cells.map((cell) => {
    at = Math.max(at + narrowest, Math.min(mostTwips, cell.right))
    return { ...cell, right: at }
  })
  return { ...row, shape: { ...row.shape, left, cells } }
}
/** What is in a covered cell is in the one that covers it, where it says anything. */
const saying = (content: readonly Node[]): readonly Node[] =>
  content.some((block) => block.content.size > 0 && (block.textContent !== '' || !block.isTextblock)) ? content : []

/** The cells of a row, with those that are one beside each other as one. */
function alongRow(
  { shape, cells }: FlatRow,
  row: number,
  width: number,
  columnAt: (edge: number, from: number) => number,
): (Cell & { down: Merge })[] {
  const found: (Cell & { down: Merge })[] = []
  let column = columnAt(shape.left, 0)
  let along: Cell | undefined
  shape.cells.forEach(({ right, down, along: merge, auto }, at) => {
    const content = [...(cells[at] ?? [])]
    const last = found.at(-1)
    if (column >= width) {
      // There is no room for it: what it says is in the last one.
      last?.content.push(...saying(content))
      return
    }
    const end = Math.min(width, Math.max(column + 1, columnAt(right, column)))
    if (merge === 'over' && along) {
      along.colspan += end - column
      along.content.push(...saying(content))
    } else {
      const cell = { row, column, colspan: end - column, rowspan: 1, auto, content, down }
      found.push(cell)
      along = merge === 'first' ? cell : undefined
    }
    column = end
  })
  return found
}

/** @throws DamagedFile for more cells or columns than tables have */
export function gridTable(given: readonly FlatRow[]): Node {
  const rows = given.map(widened)
  const edges = edgesOf(rows)
  const width = Math.max(1, edges.length - 1)
  if (width * rows.length > mostTableCells) throw tooManyColumns()
  const columnAt = (edge: number, from: number): number => {
    let column = from
    while (column < width && edges[column]! + near < edge) column++
    return column
  }
  const covered = rows.map(() => new Array<boolean>(width).fill(false))
  let above: (Cell | undefined)[] = []
  const built: Cell[][] = []
  rows.forEach((flat, row) => {
    const own: Cell[] = []
    const below: (Cell | undefined)[] = []
    for (const { down, ...cell } of alongRow(flat, row, width, columnAt)) {
      // It goes on downwards only where it is as wide as what it goes on from.
      const over = down === 'over' ? above[cell.column] : undefined
      const goesOn = over?.colspan === cell.colspan ? over : undefined
      if (goesOn) {
        goesOn.rowspan++
        goesOn.content.push(...saying(cell.content))
      } else own.push(cell)
      if (down !== 'no') below[cell.column] = goesOn ?? cell
    }
    above = below
    built.push(own)
  })
  for (const cells of built)
    for (const cell of cells)
      for (let y = cell.row; y < cell.row + cell.rowspan; y++)
        covered[y]!.fill(true, cell.column, Math.min(width, cell.column + cell.colspan))
  return nodes.table.create(
    null,
    rows.map(({ shape }, y) => {
      const cells = built[y]!
      for (let x = 0; x < width; x++)
        if (!covered[y]![x]) cells.push({ row: y, column: x, colspan: 1, rowspan: 1, auto: true, content: [] })
      cells.sort((a, b) => a.column - b.column)
      return nodes.table_row.create(
        { header: shape.header },
        cells.map(({ column, colspan, rowspan, auto, content }) =>
          nodes.table_cell.create(
            {
              colspan,
              rowspan,
              colwidth: auto
                ? null
                : Array.from({ length: colspan }, (_, x) =>
                    Math.round((edges[column + x + 1]! - edges[column + x]!) / twipsPerPixel),
                  ),
            },
            content.length ? content : nodes.paragraph.create(),
          ),
        ),
      )
    }),
  )
}
