// A table that is new in a file (ECMA-376 part 1, §17.4): with lines of its own, because the file may have no style for it.
import type { Node } from 'prosemirror-model'
import { layTable } from './table'
import { twipsPerPixel } from './write'

/** @param inside what a cell holds, as XML */
export function newTableXml(prefix: string, table: Node, inside: (cell: Node) => string): string {
  const { width, rows, columnWidths } = layTable(table)
  const x = prefix
  const lines = ['top', 'left', 'bottom', 'right', 'insideH', 'insideV']
    .map((side) => `<${x}${side} ${x}val="single" ${x}sz="4" ${x}space="0" ${x}color="auto"/>`)
    .join('')
  const fixed = columnWidths.some((pixels) => pixels > 0)
  let xml = `<${x}tbl><${x}tblPr><${x}tblW ${x}w="0" ${x}type="auto"/><${x}tblBorders>${lines}</${x}tblBorders>${fixed ? `<${x}tblLayout ${x}type="fixed"/>` : ''}</${x}tblPr><${x}tblGrid>`
  for (let column = 0; column < width; column++) {
    const pixels = columnWidths[column] ?? 0
    xml += pixels > 0 ? `<${x}gridCol ${x}w="${pixels * twipsPerPixel}"/>` : `<${x}gridCol/>`
  }
  xml += `</${x}tblGrid>`
  rows.forEach((slots, row) => {
    xml += `<${x}tr>${table.child(row).attrs.header ? `<${x}trPr><${x}tblHeader/></${x}trPr>` : ''}`
    for (let column = 0; column < width; ) {
      const slot = slots[column]!
      const { colspan, rowspan } = slot.cell.attrs
      const merge = rowspan > 1 ? (slot.row === row ? `<${x}vMerge ${x}val="restart"/>` : `<${x}vMerge/>`) : ''
      const span = colspan > 1 ? `<${x}gridSpan ${x}val="${colspan}"/>` : ''
      xml += `<${x}tc><${x}tcPr><${x}tcW ${x}w="0" ${x}type="auto"/>${span}${merge}</${x}tcPr>${slot.row === row ? inside(slot.cell) : `<${x}p/>`}</${x}tc>`
      column += colspan
    }
    xml += `</${x}tr>`
  })
  return `${xml}</${x}tbl>`
}
