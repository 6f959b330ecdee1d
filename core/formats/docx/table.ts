import type { Node } from 'prosemirror-model'

export interface Slot {
  cell: Node
  row: number
  column: number
}

/**
 * The grid that a table's cells cover: for each row and column the cell that is there, with the
 * row and column where it begins. Widths in pixels, 0 where none was set.
 */
export function layTable(table: Node): { width: number; rows: Slot[][]; columnWidths: number[] } {
  const rows: Slot[][] = Array.from({ length: table.childCount }, () => [])
  const columnWidths: number[] = []
  table.forEach((row, _offset, rowIndex) => {
    let column = 0
    row.forEach((cell) => {
      while (rows[rowIndex]![column]) column++
      const { colspan, rowspan, colwidth } = cell.attrs
      for (let y = rowIndex; y < Math.min(rowIndex + rowspan, rows.length); y++)
        for (let x = column; x < column + colspan; x++) rows[y]![x] = { cell, row: rowIndex, column }
      for (let x = 0; x < colspan; x++) columnWidths[column + x] ||= colwidth?.[x] ?? 0
      column += colspan
    })
  })
  return { width: columnWidths.length, rows, columnWidths }
}
