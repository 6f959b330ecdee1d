// Tables of pages as sheets, and sheets as tables of pages.
import { execFileSync } from 'node:child_process'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { withoutLook } from '../../content/looks'
import type { Workbook } from '../../content/workbook'
import { anyHistory } from '../../content/workbook.arbitrary'
import { readWorkbook } from '../workbooks'
import { writeXls } from '../xls/write'
import { isPageOfTables, readPageSheets } from './sheets'
import { writePageSheets } from './sheets-write'

const bytesOf = (text: string) => new TextEncoder().encode(text)
const read = (page: string) => readPageSheets(bytesOf(page))
const values = ({ workbook }: { workbook: Workbook }) =>
  workbook.sheets.map(({ name, rows }) => [name, rows.map((row) => row?.map((cell) => cell?.value))])
const none = () => undefined

describe('a page', () => {
  test('has its tables as sheets, by their captions or the headings before them', () => {
    const page = `<html><body><h2>Tolls &amp; dues</h2>
      <table><thead><tr><th>Boat<th>Toll</tr></thead><tbody><tr><td>Heron<td>12.50<tr><td>007<td> 3&nbsp;tons
       gross </tbody></table>
      <table><caption>Tolls/dues</caption><tr><td bgcolor=yellow align=right>1<td style="font-weight:700;color:#f00">-4</tr></table>
      <table><tr><td>a<br>b</table></body></html>`
    const { workbook, limits } = read(page)
    expect(values({ workbook })).toEqual([
      [
        'Tolls & dues',
        [
          ['Boat', 'Toll'],
          ['Heron', 12.5],
          ['007', '3 tons gross'],
        ],
      ],
      ['Tolls dues', [[1, -4]]],
      ['Tolls & dues 2', [['a\nb']]],
    ])
    expect([workbook.sheets[0]!.rows[0]![0]!.style, workbook.sheets[0]!.rows[1]![1]!.style]).toEqual([
      { bold: true },
      { format: '0.00' },
    ])
    expect(workbook.sheets[1]!.rows[0]!.map((cell) => cell!.style)).toEqual([
      { fill: '#ffff00', align: 'right' },
      { bold: true, color: '#ff0000' },
    ])
    expect(limits).toEqual([])
  })
  test('keeps each cell in its column where others cover columns and rows', () => {
    const { workbook, looks } = read(
      '<table><tr><td rowspan=2>a<td colspan=2>b<td>c<tr><td>d<td rowspan=9>e<td>f<tr><td>g<td>h<td>i</table>',
    )
    expect(values({ workbook })[0]![1]).toEqual([
      ['a', 'b', undefined, 'c'],
      [undefined, 'd', 'e', 'f'],
      ['g', 'h', undefined, 'i'],
    ])
    expect(looks[0]!.merged).toEqual([
      { top: 0, left: 0, bottom: 1, right: 0 },
      { top: 0, left: 1, bottom: 0, right: 2 },
      { top: 1, left: 2, bottom: 2, right: 2 },
    ])
  })
  test('that is hostile runs nothing, is bounded, and what is left out is told', () => {
    const { workbook, limits } = read(
      '<p>Before</p><script>alert(1)</script><style>td{}</style><table><tr><td><script>x</script><b>1</b><table><tr><td>in<td>side</table></table>',
    )
    expect(values({ workbook })).toEqual([['Table 1', [['1\nin side']]]])
    expect(limits.map(({ feature }) => feature)).toEqual([
      'things that a page says in another way',
      'scripts',
      'style sheets',
      'tables (their text stays)',
    ])
    expect(() => read('<p>No table</p>')).toThrow('page-without-tables')
    expect(() => read('<div>'.repeat(5000))).toThrow()
    expect(() => read(`<table><tr>${'<td colspan=1000>'.repeat(20)}</table>`)).toThrow()
    expect(read('<table><tr><td colspan=99999999 rowspan=-3>a</table>').looks[0]!.merged).toEqual([
      { top: 0, left: 0, bottom: 0, right: 999 },
    ])
  })
  test('under the name of an older spreadsheet is read as what it is; a true one is not taken for a page', () => {
    const page = bytesOf('\ufeff  <!-- made elsewhere --><html><table><tr><td>Lock<td>1.5</table>')
    expect(values(readWorkbook(page, 'xls'))).toEqual([['Table 1', [['Lock', 1.5]]]])
    const { bytes } = writeXls({
      workbook: { sheets: [{ name: 'A', rows: [[{ value: '<table>' }]], widths: {} }] },
      resultOf: none,
    })
    expect([isPageOfTables(bytes), values(readWorkbook(bytes, 'xls'))]).toEqual([false, [['A', [['<table>']]]]])
    expect(isPageOfTables(bytesOf('Boat,<table>\n'))).toBe(false)
  })
})

describe('sheets as a page', () => {
  test('are read again as what they hold, and what they are not is told', () => {
    fc.assert(
      fc.property(anyHistory(6), ({ end: made }) => {
        const end = {
          sheets: made.sheets.map(({ hiddenRows: _, hiddenColumns: __, ...sheet }) => sheet),
        }
        const { bytes, lost } = writePageSheets({ workbook: end, resultOf: () => 7 })
        const again = readPageSheets(bytes)
        expect(again.limits).toEqual([])
        expect(again.workbook.sheets.map(({ name }) => name)).toEqual(end.sheets.map(({ name }) => name))
        const told = new Set(lost.map(({ feature }) => feature))
        const plain = (sheet: Workbook['sheets'][number] | undefined, formats: boolean) =>
          sheet?.rows.map((row) =>
            row?.map((cell) => {
              const { format, ...look } = (cell?.style && withoutLook(cell.style)) ?? {}
              const value = cell?.formula === undefined ? cell?.value : 7
              return [value === '' ? undefined : value, look, formats ? format : null]
            }),
          )
        // Where nothing of it is told, every cell is what it was.
        if (
          ![
            'values that are read as something else',
            'looks of cells',
            'formulas without a result (nothing of them stays)',
          ].some((one) => told.has(one)) &&
          !told.has('merged cells (their content stays in the first one)')
        )
          for (const [at, sheet] of end.sheets.entries()) {
            const [before, after] = [plain(sheet, false)!, plain(again.workbook.sheets[at], false)!]
            for (const [row, line] of before.entries())
              for (const [column, cell] of (line ?? []).entries())
                expect(after[row]?.[column] ?? [undefined, {}, null]).toEqual(cell)
          }
      }),
      { numRuns: 150 },
    )
  })
  test('hold numbers, dates and texts as they are, and show them as they are formatted', () => {
    const workbook: Workbook = {
      sheets: [
        {
          name: 'Tolls',
          widths: { 1: 120 },
          rows: [
            [
              { value: '007' },
              { value: 1234.5, style: { format: '#,##0.00' } },
              { value: 46351, style: { format: 'dd.mm.yyyy' } },
            ],
            [
              { value: '  two\nlines' },
              { value: 0.125, style: { format: '0%' } },
              { value: 46351.5, style: { format: 'yyyy-mm-dd hh:mm' } },
            ],
            [{ value: '<b>&amp;' }, { value: 1.5, style: { format: '0.00', bold: true } }, { value: true }],
          ],
        },
      ],
    }
    const { bytes, lost } = writePageSheets({ workbook, resultOf: none })
    const again = readPageSheets(bytes)
    expect(values(again)).toEqual(values({ workbook }))
    expect(again.workbook.sheets[0]!.widths).toEqual({ 1: 120 })
    expect(lost.map(({ feature, count }) => [feature, count])).toEqual([['number formats', 2]])
    // A reader that knows nothing of this one sees what is shown.
    const shown = execFileSync(
      '/usr/bin/python3',
      [
        '-c',
        `import sys, json
from html.parser import HTMLParser
class P(HTMLParser):
  def __init__(s): super().__init__(); s.cells=[]; s.on=False
  def handle_starttag(s, tag, attrs):
    if tag=='td': s.cells.append(''); s.on=True
  def handle_endtag(s, tag):
    if tag=='td': s.on=False
  def handle_data(s, data):
    if s.on: s.cells[-1]+=data
p=P(); p.feed(sys.stdin.buffer.read().decode()); print(json.dumps(p.cells))`,
      ],
      { input: Buffer.from(bytes) },
    )
    expect(JSON.parse(shown.toString())).toEqual([
      '007',
      '1,234.50',
      '25.11.2026',
      '  two\nlines',
      '13%',
      '2026-11-25 12:00',
      '<b>&amp;',
      '1.50',
      'TRUE',
    ])
  })
})
