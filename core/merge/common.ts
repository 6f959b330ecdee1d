// What two works of one kind have in common, to merge them over when neither came of the other: what stands in both
// is the base, so that everything that only one of them has is taken in.
import { Fragment, type Node } from 'prosemirror-model'
import { matchSheets } from '../compare/workbook'
import { matchUp } from '../content/sequence'
import { type Row, type Sheet, sameCell, type Workbook } from '../content/workbook'

/** Blocks that stand in both, in the order that both have them. */
export function commonDocument(mine: Node, theirs: Node): Node {
  const keys = (doc: Node) => doc.content.content.map((block) => JSON.stringify(block.toJSON()))
  const [a, b] = [keys(mine), keys(theirs)]
  const { pairs } = matchUp(a, b, () => 0)
  const blocks = pairs.flatMap(([i, j]) => (a[i] === b[j] ? [mine.child(i)] : []))
  const content = blocks.length ? blocks : [mine.type.schema.nodes.paragraph!.create()]
  return mine.type.create(mine.attrs, Fragment.fromArray(content))
}

/** Sheets of the same name, with the cells that are the same in both. */
export function commonWorkbook(mine: Workbook, theirs: Workbook): Workbook {
  const sheets: Sheet[] = []
  for (const sheet of mine.sheets) {
    const other = theirs.sheets.find(({ name }) => name.toLowerCase() === sheet.name.toLowerCase())
    if (!other) continue
    const rows: (Row | undefined)[] = sheet.rows.map((row, y) => {
      const kept = row?.map((cell, x) => (cell && sameCell(cell, other.rows[y]?.[x]) ? cell : undefined)) ?? []
      while (kept.length && kept.at(-1) === undefined) kept.pop()
      return kept.length ? kept : undefined
    })
    while (rows.length && rows.at(-1) === undefined) rows.pop()
    sheets.push({ ...sheet, name: other.name, rows })
  }
  return { sheets }
}

/** The base with what `theirs` changed on some sheets, by their names in `theirs`, and on no other. */
export function partOfWorkbook(base: Workbook, theirs: Workbook, names: readonly string[]): Workbook {
  const matched = matchSheets(base, theirs)
  const sheets = base.sheets.slice()
  for (const [at, sheet] of theirs.sheets.entries()) {
    if (!names.includes(sheet.name)) continue
    const was = matched[at]
    if (was == null) sheets.push(sheet)
    else sheets[was] = sheet
  }
  return { ...base, sheets }
}
