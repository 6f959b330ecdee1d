// What two works of one kind have in common, to merge them over when neither came of the other: what stands in both
// is the base, so that everything that only one of them has is taken in.
import { Fragment, type Node } from 'prosemirror-model'
import { matchSheets } from '../compare/workbook'
import { aboutOfDocument, commonAbout, workbookAbout } from '../content/about'
import { sameArea } from '../content/looks'
import { matchUp } from '../content/sequence'
import { type Row, type Sheet, sameCell, type Workbook } from '../content/workbook'

/** Blocks that stand in both, in the order that both have them. */
export function commonDocument(mine: Node, theirs: Node): Node {
  const keys = (doc: Node) => doc.content.content.map((block) => JSON.stringify(block.toJSON()))
  const [a, b] = [keys(mine), keys(theirs)]
  const { pairs } = matchUp(a, b, () => 0)
  const blocks = pairs.flatMap(([i, j]) => (a[i] === b[j] ? [mine.child(i)] : []))
  const content = blocks.length ? blocks : [mine.type.schema.nodes.paragraph!.create()]
  const about = commonAbout(aboutOfDocument(mine), aboutOfDocument(theirs))
  return mine.type.create({ ...mine.attrs, about }, Fragment.fromArray(content))
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
    sheets.push({ name: other.name, rows, ...commonFrame(sheet, other) })
  }
  return workbookAbout<Workbook>({ sheets }, commonAbout(mine.about, theirs.about))
}

/** What both say around their cells. */
function commonFrame(mine: Sheet, theirs: Sheet): Omit<Sheet, 'name' | 'rows'> {
  const equal = (a: Readonly<Record<number, number>> = {}, b: Readonly<Record<number, number>> = {}) =>
    Object.fromEntries(Object.entries(a).filter(([line, value]) => b[Number(line)] === value))
  const lines = (a: readonly number[] = [], b: readonly number[] = []) => {
    const others = new Set(b)
    return a.filter((line) => others.has(line))
  }
  const merged = (mine.merged ?? []).filter((area) => theirs.merged?.some((one) => sameArea(one, area)))
  const heights = equal(mine.heights, theirs.heights)
  const hiddenRows = lines(mine.hiddenRows, theirs.hiddenRows)
  const hiddenColumns = lines(mine.hiddenColumns, theirs.hiddenColumns)
  return {
    widths: equal(mine.widths, theirs.widths),
    ...(mine.frozen && { frozen: mine.frozen }),
    ...(merged.length && { merged }),
    ...(Object.keys(heights).length && { heights }),
    ...(hiddenRows.length && { hiddenRows }),
    ...(hiddenColumns.length && { hiddenColumns }),
    ...(mine.setUp && { setUp: mine.setUp }),
  }
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
