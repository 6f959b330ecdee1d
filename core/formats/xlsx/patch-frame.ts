// What stands around a sheet's rows, changed where it stands: the widths of columns and whether they are shown (ECMA-376
// part 1, §18.3.1.13), the rows and columns that stay in sight (§18.3.1.66), and the range that is used (§18.3.1.35).
import { columnsThatDiffer } from '../../content/looks'
import { columnName, type Sheet, usedSize } from '../../content/workbook'
import { attributeOf, attributeSpan, childrenIn, rootOf, type Spanned, Splices } from '../opc/spans'
import { patchRules } from './entry-rules'
import { patchFilter } from './filter'
import { patchLines, patchMerged } from './patch-lines'
import { tagWith } from './patch-rows'
import { patchSetUp } from './patch-set-up'
import { widthToFile } from './write'

/** Writes what differs between two states of a sheet, its cells aside. */
export function patchFrame(xml: string, prefix: string, before: Sheet, sheet: Sheet): string {
  const splices = new Splices()
  const parts = new Map<string, Spanned>()
  for (const element of childrenIn(xml, rootOf(xml).inner)) {
    const name = element.name.slice(prefix.length)
    parts.set(name, element)
    if (name === 'sheetData') break
  }
  const changed = columnsThatDiffer(before, sheet)
  if (changed.length) patchColumns(xml, prefix, parts, changed, sheet, splices)
  if (JSON.stringify(before.frozen) !== JSON.stringify(sheet.frozen)) patchPane(xml, prefix, parts, sheet, splices)
  const used = parts.get('dimension')
  if (used) patchDimension(xml, used, sheet, splices)
  const framed = splices.any ? splices.apply(xml) : xml
  const filtered = patchFilter(patchLines(framed, before, sheet), prefix, before, sheet)
  const now = patchRules(patchMerged(filtered, prefix, before, sheet), prefix, before, sheet)
  return sheet.setUp && sheet.setUp !== before.setUp ? patchSetUp(now, prefix, sheet.setUp) : now
}

function patchColumns(
  xml: string,
  prefix: string,
  parts: ReadonlyMap<string, Spanned>,
  changed: readonly number[],
  sheet: Sheet,
  splices: Splices,
): void {
  const cols = parts.get('cols')
  const hidden = new Set(sheet.hiddenColumns)
  const width = (column: number): Record<string, string | null> => {
    const pixels = sheet.widths[column]
    const own =
      pixels === undefined
        ? { width: null, customWidth: null, bestFit: null }
        : { width: String(widthToFile(pixels)), customWidth: '1', bestFit: null }
    return { ...own, hidden: hidden.has(column) ? '1' : null }
  }
  const fresh = (column: number) => {
    const attributes = Object.entries(width(column)).flatMap(([key, value]) =>
      value === null ? [] : ` ${key}="${value}"`,
    )
    return attributes.length ? `<${prefix}col min="${column + 1}" max="${column + 1}"${attributes.join('')}/>` : ''
  }
  if (!cols) {
    splices.insert(parts.get('sheetData')!.start, `<${prefix}cols>${changed.map(fresh).join('')}</${prefix}cols>`)
    return
  }
  const left = [...changed]
  for (const col of childrenIn(xml, cols.inner)) {
    const min = Number(attributeOf(xml, col, 'min')) - 1
    const max = Number(attributeOf(xml, col, 'max')) - 1
    while (left.length && left[0]! < min) splices.insert(col.start, fresh(left.shift()!))
    const own = left.filter((column) => column <= max)
    if (!own.length) continue
    left.splice(0, own.length)
    const pieces: string[] = []
    const piece = (from: number, to: number, set: Record<string, string | null>) => {
      if (from <= to) pieces.push(`${tagWith(xml, col, { min: String(from + 1), max: String(to + 1), ...set })}/>`)
    }
    let from = min
    for (const column of own) {
      piece(from, column - 1, {})
      piece(column, column, width(column))
      from = column + 1
    }
    piece(from, max, {})
    splices.replace(col.start, col.end, pieces.join(''))
  }
  splices.insert(cols.inner[1], left.map(fresh).join(''))
}

function patchPane(
  xml: string,
  prefix: string,
  parts: ReadonlyMap<string, Spanned>,
  sheet: Sheet,
  splices: Splices,
): void {
  const { frozen } = sheet
  const pane = frozen
    ? `<${prefix}pane${frozen.columns ? ` xSplit="${frozen.columns}"` : ''}${frozen.rows ? ` ySplit="${frozen.rows}"` : ''} topLeftCell="${columnName(frozen.columns)}${frozen.rows + 1}" activePane="${frozen.rows && frozen.columns ? 'bottomRight' : frozen.rows ? 'bottomLeft' : 'topRight'}" state="frozen"/>`
    : ''
  const views = parts.get('sheetViews')
  const view = views && [...childrenIn(xml, views.inner)][0]
  if (!views || !view) {
    const at = (parts.get('sheetFormatPr') ?? parts.get('cols') ?? parts.get('sheetData'))!.start
    if (views) splices.replace(views.start, views.end, '')
    if (pane)
      splices.insert(
        at,
        `<${prefix}sheetViews><${prefix}sheetView workbookViewId="0">${pane}</${prefix}sheetView></${prefix}sheetViews>`,
      )
    return
  }
  if (view.kind === 'empty') {
    if (pane) splices.replace(view.start, view.end, `${tagWith(xml, view, {})}>${pane}</${view.name}>`)
    return
  }
  splices.insert(view.inner[0], pane)
  for (const one of childrenIn(xml, view.inner)) {
    if (one.name === `${prefix}pane`) splices.replace(one.start, one.end, '')
    // A selection is of one pane; those of panes that are not there any more are no selections (§18.3.1.78).
    else if (one.name === `${prefix}selection` && attributeOf(xml, one, 'pane')) splices.replace(one.start, one.end, '')
  }
}

/** The range in use grows with what is written beyond it. */
function patchDimension(xml: string, element: Spanned, sheet: Sheet, splices: Splices): void {
  const span = attributeSpan(xml, element, 'ref')
  const said = span && /^\$?([A-Z]+)\$?(\d+)(?::\$?([A-Z]+)\$?(\d+))?$/.exec(xml.slice(...span))
  if (!said) return
  const { rows, columns } = usedSize(sheet)
  const number = (name: string) => [...name].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0)
  const right = number(said[3] ?? said[1]!)
  const bottom = Number(said[4] ?? said[2])
  if (rows <= bottom && columns <= right) return
  const end = `${columnName(Math.max(right, columns) - 1)}${Math.max(bottom, rows)}`
  splices.replace(span[0], span[1], `${said[1]}${said[2]}:${end}`)
}
