// Where in a file words are that were looked for in its history.
import type { Node } from 'prosemirror-model'
import { displayOf } from '../content/display'
import { type CellValue, largestSheet, type Workbook } from '../content/workbook'
import type { Phrase } from './past-words'

/** Places of a document, as positions of its model, from and to, in their order. */
export function placesInDocument(doc: Node, phrase: Phrase): [number, number][] {
  const places: [number, number][] = []
  doc.descendants((block, pos) => {
    if (!block.isTextblock) return true
    // One letter for each position, so that places in the text are places in the block.
    let text = ''
    block.forEach((inline) => {
      text += inline.isText ? inline.text! : ' '.repeat(inline.nodeSize)
    })
    // A tab parts cells there, and words here.
    for (const [from, to] of phrase.placesIn(text.replaceAll('\t', ' '))) places.push([pos + 1 + from, pos + 1 + to])
    return false
  })
  return places
}

/** Cells of a workbook that say it: sheet, row, column, in their order. */
export function cellsThatSay(
  workbook: Workbook,
  results: readonly ReadonlyMap<number, CellValue>[],
  phrase: Phrase,
): [number, number, number][] {
  const found: [number, number, number][] = []
  for (const [sheet, { rows }] of workbook.sheets.entries())
    for (const [row, cells] of rows.entries())
      for (const [column, cell] of (cells ?? []).entries())
        if (cell && phrase.countIn(displayOf(cell, results[sheet]?.get(row * largestSheet.columns + column))))
          found.push([sheet, row, column])
  return found
}
