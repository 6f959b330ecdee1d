// Tables (§17.4): rows of any length, cells over several columns and rows, to the model's even grid.
import type { Node } from 'prosemirror-model'
import { documentSchema } from '../../content/document'
import { say } from '../../words/said'
import { onOff, valueOf } from '../opc/package'
import { child, elements, type XmlElement } from '../opc/xml'
import { DamagedFile } from '../refusals'
import type { DocumentSource, Piece } from './source'
import { twipsPerPixel } from './write'

const { nodes } = documentSchema

/** Columns of a table at most; programs stop at 63. */
const mostColumns = 1000
/** Cells of all tables at most. */
const mostTableCells = 1_000_000
const tooManyColumns = () => new DamagedFile(say('formats.its-table-has-too-many-columns'))

/** What a table is read with. */
export interface AroundTable {
  /** Another program's file: its columns have the widths that it says. */
  foreign: boolean
  source: DocumentSource | null
  /** What stands in a cell. */
  pieces(cell: XmlElement): Piece[]
  nest(pieces: readonly Piece[]): Node[]
}

export class TableReader {
  /** Cells of all tables so far, also those that only fill rows up. */
  private cells = 0
  constructor(private readonly story: AroundTable) {}

  /** So many columns of a table's grid; what is no number is as usual. @throws DamagedFile for more than tables have */
  private columns(value: string | undefined, usual: number): number {
    const number = Number(value ?? usual)
    if (!Number.isInteger(number) || number < 0) return usual
    if (number > mostColumns) throw tooManyColumns()
    return number
  }

  /** @throws DamagedFile for more cells or columns than tables have */
  table(element: XmlElement): Node {
    // In a file of Jaula's own only a fixed layout means that somebody set the widths.
    const layout = child(child(element, 'w:tblPr'), 'w:tblLayout')?.attributes['w:type']
    const meant = this.story.foreign || layout === 'fixed'
    const widths = [...elements(child(element, 'w:tblGrid'), 'w:gridCol')].map((column) =>
      meant ? Math.round(Number(column.attributes['w:w'] ?? 0) / twipsPerPixel) : 0,
    )
    interface Read {
      from?: XmlElement
      pieces?: Piece[]
      row: number
      column: number
      colspan: number
      rowspan: number
      content: Node[]
    }
    const rows: { from: XmlElement; header: boolean; cells: Read[] }[] = []
    let open: (Read | undefined)[] = []
    let width = widths.length
    for (const row of tableRows(element)) {
      const properties = child(row, 'w:trPr')
      const cells: Read[] = []
      const nextOpen: (Read | undefined)[] = []
      let column = this.columns(valueOf(properties, 'w:gridBefore'), 0)
      for (let x = 0; x < column; x++) cells.push({ row: rows.length, column: x, colspan: 1, rowspan: 1, content: [] })
      for (const cell of rowCells(row)) {
        const facts = child(cell, 'w:tcPr')
        const colspan = Math.max(1, this.columns(valueOf(facts, 'w:gridSpan'), 1))
        const merge = child(facts, 'w:vMerge')
        const above = merge && merge.attributes['w:val'] !== 'restart' ? open[column] : undefined
        if (above && above.column === column && above.colspan === colspan) {
          above.rowspan++
          nextOpen[column] = above
        } else {
          const pieces = this.story.pieces(cell)
          const read: Read = {
            from: cell,
            pieces,
            row: rows.length,
            column,
            colspan,
            rowspan: 1,
            content: this.story.nest(pieces),
          }
          cells.push(read)
          if (merge) nextOpen[column] = read
        }
        column += colspan
      }
      width = Math.max(width, column)
      open = nextOpen
      rows.push({ from: row, header: onOff(child(properties, 'w:tblHeader')) ?? false, cells })
    }
    this.cells += width * rows.length
    if (this.cells > mostTableCells) throw tooManyColumns()
    // Rows may be of different lengths here; in the model they are not.
    const covered = rows.map(() => new Array<boolean>(width).fill(false))
    for (const { cells } of rows)
      for (const cell of cells)
        for (let y = cell.row; y < cell.row + cell.rowspan; y++)
          covered[y]!.fill(true, cell.column, cell.column + cell.colspan)
    const built = rows.map(({ header, cells }, y) => {
      for (let x = 0; x < width; x++)
        if (!covered[y]![x]) cells.push({ row: y, column: x, colspan: 1, rowspan: 1, content: [] })
      cells.sort((a, b) => a.column - b.column)
      return nodes.table_row.create(
        { header },
        cells.map(({ column, colspan, rowspan, content }) => {
          const own = Array.from({ length: colspan }, (_, x) => widths[column + x] ?? 0)
          return nodes.table_cell.create(
            { colspan, rowspan, colwidth: own.some((pixels) => pixels > 0) ? own : null },
            content.length ? content : [nodes.paragraph.create()],
          )
        }),
      )
    })
    this.story.source?.tables.set(
      element,
      rows.map(({ from, cells }) => ({
        from,
        cells: cells.map((cell) => ({ from: cell.from, pieces: cell.pieces ?? [] })),
      })),
    )
    return nodes.table.create(
      null,
      built.length
        ? built
        : [nodes.table_row.create(null, [nodes.table_cell.create(null, [nodes.paragraph.create()])])],
    )
  }
}

function* tableRows(table: XmlElement): Generator<XmlElement> {
  for (const element of elements(table)) {
    if (element.name === 'w:tr') yield element
    else if (element.name === 'w:sdt') yield* tableRows(child(element, 'w:sdtContent') ?? element)
    else if (element.name === 'w:ins' || element.name === 'w:customXml') yield* tableRows(element)
  }
}
function* rowCells(row: XmlElement): Generator<XmlElement> {
  for (const element of elements(row)) {
    if (element.name === 'w:tc') yield element
    else if (element.name === 'w:sdt') yield* rowCells(child(element, 'w:sdtContent') ?? element)
    else if (element.name === 'w:customXml') yield* rowCells(element)
  }
}
