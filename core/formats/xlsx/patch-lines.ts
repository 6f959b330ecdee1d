// Heights of rows and whether they are shown (ECMA-376 part 1, §18.3.1.73), and merged cells (§18.3.1.55), written where they
// differ.
import { rowsThatDiffer, sameArea } from '../../content/looks'
import { columnName, type Sheet } from '../../content/workbook'
import { attributeOf, Splices } from '../opc/spans'
import { rowsOf, sheetSource, tagWith } from './patch-rows'
import { placeBehindRows } from './sheet-order'

/** What stands between the rows of a sheet and its merged cells (§18.3.1.99). */
const beforeMerged = new Set(
  'sheetCalcPr sheetProtection protectedRanges scenarios autoFilter sortState dataConsolidate customSheetViews'.split(
    ' ',
  ),
)

/** @param xml of the sheet's part */
export function patchLines(xml: string, before: Sheet, sheet: Sheet): string {
  const left = rowsThatDiffer(before, sheet)
  const source = left.length ? sheetSource(xml) : null
  if (!source) return xml
  const hidden = new Set(sheet.hiddenRows)
  const splices = new Splices()
  const { prefix, data } = source
  const says = (row: number): Record<string, string | null> => {
    const height = sheet.heights?.[row]
    return {
      ht: height === undefined ? null : String(height),
      customHeight: height === undefined ? null : '1',
      hidden: hidden.has(row) ? '1' : null,
    }
  }
  const fresh = (row: number): string => {
    const said = Object.entries(says(row)).flatMap(([key, value]) => (value === null ? [] : ` ${key}="${value}"`))
    return said.length ? `<${prefix}row r="${row + 1}"${said.join('')}/>` : ''
  }
  for (const row of rowsOf(source)) {
    // A row that only counts is told its number: another one may come among them.
    const numbered: Record<string, string> = row.numbered ? {} : { r: String(row.number + 1) }
    while (left.length && left[0]! < row.number) splices.insert(row.start, fresh(left.shift()!))
    if (left[0] === row.number) {
      left.shift()
      const tag = tagWith(xml, row, { ...numbered, ...says(row.number) })
      if (row.kind === 'empty') splices.replace(row.start, row.end, `${tag}/>`)
      else splices.replace(row.start, row.inner[0], `${tag}>`)
    } else if (!row.numbered) splices.insert(row.start + row.name.length + 1, ` r="${row.number + 1}"`)
  }
  const behind = left.map(fresh).join('')
  if (behind)
    if (data.kind === 'empty')
      splices.replace(data.start, data.end, `${tagWith(xml, data, {})}>${behind}</${data.name}>`)
    else splices.insert(data.inner[1], behind)
  return splices.any ? splices.apply(xml) : xml
}

/** @param xml of the sheet's part */
export function patchMerged(xml: string, prefix: string, before: Sheet, sheet: Sheet): string {
  const [was, is] = [before.merged ?? [], sheet.merged ?? []]
  if (was === is || (was.length === is.length && was.every((area, at) => sameArea(area, is[at]!)))) return xml
  const { own, at } = placeBehindRows(xml, prefix, 'mergeCells', beforeMerged)
  const each = is.map(
    ({ top, left, bottom, right }) =>
      `<${prefix}mergeCell ref="${columnName(left)}${top + 1}:${columnName(right)}${bottom + 1}"/>`,
  )
  const splices = new Splices()
  if (own) {
    const counted: Record<string, string> =
      attributeOf(xml, own, 'count') === undefined ? {} : { count: String(each.length) }
    splices.replace(
      own.start,
      own.end,
      each.length ? `${tagWith(xml, own, counted)}>${each.join('')}</${own.name}>` : '',
    )
  } else splices.insert(at, `<${prefix}mergeCells count="${each.length}">${each.join('')}</${prefix}mergeCells>`)
  return splices.apply(xml)
}
