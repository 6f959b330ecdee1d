// The sheets of a workbook as tables of a web page, to be looked at in any browser: what is shown, with what it is beside it.
import { format as formatNumber } from 'numfmt'
import { isDateFormat } from '../../content/entry'
import { frameOf } from '../../content/looks'
import { type Cell, type CellValue, isError, largestSheet, type Sheet } from '../../content/workbook'
import { cellOfField } from '../csv/values'
import { lostInSheets, type SheetsWork } from '../lost-in-sheets'
import { type Limit, Limits, type Written } from '../refusals'
import { readPageSheets, sheetStyle } from './sheets'
import { attribute, text } from './write'

/** What a page cannot hold is told: it is read again, and laid beside the work. */
export function writePageSheets(work: SheetsWork): Written {
  const page = pageOfSheets(work)
  const bytes = new TextEncoder().encode(page)
  return { bytes, lost: [...lostInSheets(work, readPageSheets(bytes)), ...lostLooks(work)] }
}

/** The page itself. @param only leave out what is hidden, and rows after so many of each sheet */
export function pageOfSheets({ workbook, resultOf }: SheetsWork, only?: { rows: number }): string {
  const tables = workbook.sheets.map((sheet, at) => tableOf(sheet, (row, column) => resultOf(at, row, column), only))
  return `<!DOCTYPE html>
<html>
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>${text(workbook.sheets[0]?.name ?? '')}</title>
<style>${sheetStyle}</style>
</head>
<body>
${tables.join('\n')}
</body>
</html>
`
}

/** What is not laid beside each other there. */
function lostLooks({ workbook }: SheetsWork): Limit[] {
  const limits = new Limits()
  for (const [at, { name, hiddenRows = [], hiddenColumns = [] }] of workbook.sheets.entries()) {
    const hidden = hiddenRows.length + hiddenColumns.length
    if (hidden) limits.add('hidden rows and columns (they become visible)', name, hidden, [at, 0, 0])
  }
  return limits.list()
}

function tableOf(
  sheet: Sheet,
  resultOf: (row: number, column: number) => CellValue | undefined,
  only?: { rows: number },
): string {
  const { name, rows, widths } = sheet
  const { merged, hiddenRows, hiddenColumns } = frameOf(sheet)
  const first = new Map<number, { wide: number; high: number; cell: Cell | undefined; value: CellValue | undefined }>()
  const covered = new Set<number>()
  const shownAt = (row: number, column: number): CellValue | undefined => {
    const cell = rows[row]?.[column]
    return cell?.formula === undefined ? cell?.value : resultOf(row, column)
  }
  /** Of the lines from one to another, those that are shown. */
  const shownIn = (from: number, to: number, hidden: ReadonlySet<number>): number[] =>
    Array.from({ length: to - from + 1 }, (_, at) => from + at).filter((line) => !only || !hidden.has(line))
  let width = rows.reduce((most, row) => Math.max(most, row?.length ?? 0), 0)
  let height = rows.findLastIndex((row) => row?.some((cell) => cell)) + 1
  for (const { top, left, bottom, right } of merged) {
    // What would cover half of a sheet that is empty covers what there is.
    if ((bottom - top + 1) * (right - left + 1) > mostCovered) continue
    width = Math.max(width, right + 1)
    height = Math.max(height, bottom + 1)
    const high = shownIn(top, bottom, hiddenRows)
    const wide = shownIn(left, right, hiddenColumns)
    // What lies over several cells is seen as long as one of them is.
    if (high.length && wide.length)
      first.set(high[0]! * largestSheet.columns + wide[0]!, {
        wide: wide.length,
        high: high.length,
        cell: rows[top]?.[left],
        value: shownAt(top, left),
      })
    for (let row = top; row <= bottom; row++)
      for (let column = left; column <= right; column++)
        if (row !== high[0] || column !== wide[0]) covered.add(row * largestSheet.columns + column)
  }
  const lines: string[] = []
  for (let row = 0; row < Math.min(height, only?.rows ?? height); row++) {
    if (only && hiddenRows.has(row)) continue
    let cells = ''
    for (let column = 0; column < width; column++) {
      const key = row * largestSheet.columns + column
      if (covered.has(key) || (only && hiddenColumns.has(column))) continue
      const span = first.get(key)
      const spans =
        (span && span.wide > 1 ? ` colspan="${span.wide}"` : '') +
        (span && span.high > 1 ? ` rowspan="${span.high}"` : '')
      const { cell, value } = span ?? { cell: rows[row]?.[column], value: shownAt(row, column) }
      cells += `<td${spans}${styleOf(cell, value)}>${contentOf(cell, value)}</td>`
    }
    lines.push(`<tr>${cells}</tr>`)
  }
  const cols = Object.keys(widths).length
    ? `<colgroup>${Array.from(
        { length: Math.max(width, ...Object.keys(widths).map((one) => Number(one) + 1)) },
        (_, at) => (only && hiddenColumns.has(at) ? '' : widths[at] ? `<col style="width: ${widths[at]}px">` : '<col>'),
      ).join('')}</colgroup>`
    : ''
  return `<table style="white-space: pre">\n<caption>${text(name)}</caption>${cols}\n<tbody>\n${lines.join('\n')}\n</tbody>\n</table>`
}
const mostCovered = 100_000

function styleOf(cell: Cell | undefined, value: CellValue | undefined): string {
  const { bold, italic, underline, strike, fill, color, align, wrap } = cell?.style ?? {}
  const lines = [underline && 'underline', strike && 'line-through'].filter(Boolean).join(' ')
  const said = [
    bold && 'font-weight: bold',
    italic && 'font-style: italic',
    lines && `text-decoration: ${lines}`,
    fill && `background-color: ${fill}`,
    color && `color: ${color}`,
    align ? `text-align: ${align}` : typeof value === 'number' && 'text-align: end',
    wrap && 'white-space: pre-wrap',
  ].filter(Boolean)
  return said.length ? ` style="${said.join('; ')}"` : ''
}

/** What is shown, with what it is where that is not the same. */
function contentOf(cell: Cell | undefined, value: CellValue | undefined): string {
  if (value === undefined) return ''
  if (isError(value)) return text(value.error)
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE'
  if (typeof value === 'string') {
    const shown = text(value).replaceAll('\r', '&#13;')
    // A text that would be read as a number or a date says that it is none.
    return cellOfField(value, { decimal: '.', dates: 'day' })?.value === value
      ? shown
      : `<data value="'">${shown}</data>`
  }
  const format = cell?.style?.format
  const shown = numberShown(value, format)
  if (format && isDateFormat(format)) {
    const minutes = Math.round((value - Math.floor(value)) * 1440)
    if (
      value >= 61 &&
      value < 2_958_466 &&
      Math.abs(Math.floor(value) + minutes / 1440 - value) < 1e-9 &&
      minutes < 1440
    ) {
      const date = new Date((Math.floor(value) - 25_569) * 86_400_000).toISOString().slice(0, 10)
      const pad = (number: number) => String(number).padStart(2, '0')
      const time = minutes || /h/i.test(format) ? `T${pad(Math.floor(minutes / 60))}:${pad(minutes % 60)}` : ''
      return `<time datetime="${date}${time}">${text(shown)}</time>`
    }
  }
  const plain = cellOfField(shown, { decimal: '.', dates: 'day' })
  return plain?.value === value && plain.style?.format === format
    ? text(shown)
    : `<data value="${attribute(String(value))}">${text(shown)}</data>`
}

function numberShown(value: number, format: string | undefined): string {
  if (!format) return String(value)
  try {
    return formatNumber(format, value, { dateSpanLarge: false, throws: true })
  } catch {
    return String(value)
  }
}
