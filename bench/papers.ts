import type { Node } from 'prosemirror-model'
import type { Workbook } from '../core/content/workbook'
import { doc, h, list, p, table } from '../server/demo/papers'

const sentence =
  'The windlass spindle was greased and turned through a full lift, and the lower gate leaks at the mitre by about a cupful a second. '

/** A document of about so many pages: some 480 words each, with headings, lists and a table. */
export function longDocument(pages: number): Node {
  const blocks: Node[] = []
  for (let page = 1; page <= pages; page++) {
    blocks.push(h(2, `Lock LK${String(page % 99).padStart(2, '0')}`))
    for (let i = 0; i < 5; i++) blocks.push(p(`${i}. ${sentence.repeat(3)}`))
    blocks.push(
      list('Upper paddle', 'Lower gate', 'Quoin stones'),
      table(['Work', 'By'], ['Caulk the mitre', 'Workshop']),
    )
  }
  return doc(...blocks)
}

/** A sheet of so many cells in twenty columns: numbers, texts and a formula column. */
export function largeWorkbook(cells: number): Workbook {
  const rows = Array.from({ length: cells / 20 }, (_, y) =>
    Array.from({ length: 20 }, (_, x) =>
      x === 19
        ? { formula: `A${y + 1}+B${y + 1}` }
        : x % 4 === 2
          ? { value: `LK${String((x * y) % 999).padStart(3, '0')}` }
          : { value: Math.round(Math.sin(x + y * 20) * 1e6) / 1e3 },
    ),
  )
  return { sheets: [{ name: 'Ledger', rows, widths: {} }] }
}
