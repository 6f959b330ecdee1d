// The same of spreadsheets: a file with one thing alone, in each type, and what readers that know nothing of this one see of
// it. It is to be told exactly where they do not see it.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { DefinedName } from '../core/calc/source'
import { type CellLook, noLooks, type SheetLooks, withLooks } from '../core/content/looks'
import type { Cell, CellStyle, Workbook } from '../core/content/workbook'
import { notBeside } from '../core/formats/beside'
import { usualDialect } from '../core/formats/csv/dialect'
import { writeCsv } from '../core/formats/csv/write'
import { allOf, type Written } from '../core/formats/refusals'
import { readWorkbook, writePackage } from '../core/formats/workbooks'

/** What a reader sees of the first cells, A1 and B1, and of the file. */
interface Seen {
  a: SeenCell
  b: SeenCell
  sheets: string[]
  merged: boolean
  hiddenRow: boolean
  hiddenColumn: boolean
  names: string[]
}
interface SeenCell {
  value: unknown
  formula: boolean
  /** A code, or what it shows. */
  format: string
  bold: boolean
  italic: boolean
  underline: boolean
  strike: boolean
  color: boolean
  fill: boolean
  align: string
  wrap: boolean
  font: string
  size: number
  border: boolean
}

interface Feature {
  name: string
  cell?: Cell
  second?: Cell
  look?: CellLook
  looks?: Partial<SheetLooks>
  more?: Workbook['sheets']
  names?: DefinedName[]
  is: (seen: Seen) => boolean
}
const styled = (name: string, style: CellStyle, is: (cell: SeenCell) => boolean): Feature => ({
  name,
  cell: { value: 'Lock', style },
  is: ({ a }) => is(a),
})
const number = (name: string, value: number, format: string, shown: RegExp): Feature => ({
  name,
  cell: { value, style: { format } },
  is: ({ a }) => shown.test(a.format),
})
const solid = { width: 1, line: 'solid', color: null } as const

const features: Feature[] = [
  { name: 'text', cell: { value: 'Schleuse 閘 <&>' }, is: ({ a }) => a.value === 'Schleuse 閘 <&>' },
  { name: 'text of lines', cell: { value: 'a\nb' }, is: ({ a }) => a.value === 'a\nb' },
  { name: 'text of digits', cell: { value: '007' }, is: ({ a }) => a.value === '007' },
  { name: 'number', cell: { value: 12.5 }, is: ({ a }) => Number(a.value) === 12.5 },
  { name: 'small number', cell: { value: 1.25e-9 }, is: ({ a }) => Number(a.value) === 1.25e-9 },
  { name: 'truth', cell: { value: true }, is: ({ a }) => /^(?:true|1)$/i.test(String(a.value)) },
  { name: 'error', cell: { value: { error: '#N/A' } }, is: ({ a }) => String(a.value) === '#N/A' },
  { name: 'formula', cell: { value: 2 }, second: { formula: 'A1*2' }, is: ({ b }) => b.formula },
  number('two decimals', 1.5, '0.00', /0\.00|^1\.50$/),
  number('thousands', 12345, '#,##0', /#,##0|grouping/),
  number('percent', 0.25, '0%', /0%|percentage/),
  number('date', 46351, 'yyyy-mm-dd', /yy+-mm-dd|date|^2026-11-25$/i),
  number('date in another order', 46351, 'dd.mm.yyyy', /dd\.mm\.yy+|date-dmy|^25\.11\.2026$/i),
  number('time', 0.5, 'hh:mm', /hh?:mm|time/i),
  styled('bold', { bold: true }, ({ bold }) => bold),
  styled('italic', { italic: true }, ({ italic }) => italic),
  styled('underline', { underline: true }, ({ underline }) => underline),
  styled('strike', { strike: true }, ({ strike }) => strike),
  styled('colour', { color: '#aa3311' }, ({ color }) => color),
  styled('fill', { fill: '#fffbe6' }, ({ fill }) => fill),
  styled('right', { align: 'right' }, ({ align }) => align === 'right'),
  styled('centre', { align: 'center' }, ({ align }) => align === 'center'),
  styled('wrapped', { wrap: true }, ({ wrap }) => wrap),
  { name: 'font', cell: { value: 'Lock' }, look: { font: 'Courier New' }, is: ({ a }) => a.font === 'Courier New' },
  { name: 'size', cell: { value: 'Lock' }, look: { size: 18 }, is: ({ a }) => a.size === 18 },
  { name: 'border', cell: { value: 'Lock' }, look: { bottom: solid }, is: ({ a }) => a.border },
  {
    name: 'merged',
    cell: { value: 'Lock' },
    looks: { merged: [{ top: 0, left: 0, bottom: 1, right: 1 }] },
    is: ({ merged }) => merged,
  },
  { name: 'hidden row', cell: { value: 1 }, looks: { hiddenRows: new Set([0]) }, is: ({ hiddenRow }) => hiddenRow },
  {
    name: 'hidden column',
    cell: { value: 1 },
    looks: { hiddenColumns: new Set([0]) },
    is: ({ hiddenColumn }) => hiddenColumn,
  },
  {
    name: 'sheets',
    cell: { value: 1 },
    more: [{ name: 'Boats', rows: [[{ value: 2 }]], widths: {} }],
    is: ({ sheets }) => sheets.includes('Boats'),
  },
  {
    name: 'defined name',
    cell: { value: 1 },
    names: [{ name: 'Rate', sheet: null, formula: 'Tolls!$A$1' }],
    is: ({ names }) => names.includes('Rate'),
  },
]

const reader = String.raw`
import csv, io, json, sys
from html.parser import HTMLParser

def blank(value=None):
    return dict(value=value, formula=False, format='', bold=False, italic=False, underline=False, strike=False, color=False,
                fill=False, align='', wrap=False, font='', size=0, border=False)

def seen(a, b, sheets, **more):
    return dict(dict(a=a, b=b, sheets=sheets, merged=False, hiddenRow=False, hiddenColumn=False, names=[]), **more)

def xlsx(path):
    import openpyxl
    book = openpyxl.load_workbook(path)
    values = openpyxl.load_workbook(path, data_only=True)
    sheet = book.worksheets[0]
    def cell(name):
        c = sheet[name]
        formula = c.data_type == 'f'
        v = values.worksheets[0][name].value
        side = c.border
        return dict(value=v if not hasattr(v, 'isoformat') else str(v), formula=formula, format=c.number_format, bold=bool(c.font.b),
                    italic=bool(c.font.i), underline=bool(c.font.u), strike=bool(c.font.strike), color=bool(c.font.color and c.font.color.rgb == 'FFAA3311'),
                    fill=c.fill.fill_type == 'solid', align=c.alignment.horizontal or '', wrap=bool(c.alignment.wrap_text),
                    font=c.font.name, size=c.font.sz, border=bool(side.bottom and side.bottom.style))
    return seen(cell('A1'), cell('B1'), book.sheetnames, merged=bool(sheet.merged_cells.ranges),
                hiddenRow=bool(sheet.row_dimensions[1].hidden), hiddenColumn=bool(sheet.column_dimensions['A'].hidden),
                names=[n.name for n in getattr(book.defined_names, 'definedName', [])] or list(book.defined_names))

def xls(path):
    import xlrd
    book = xlrd.open_workbook(path, formatting_info=True)
    sheet = book.sheet_by_index(0)
    raw = open(path, 'rb').read()
    def cell(col):
        if sheet.nrows < 1 or col >= sheet.row_len(0): return blank()
        c = sheet.cell(0, col)
        xf = book.xf_list[c.xf_index]
        font = book.font_list[xf.font_index]
        value = c.value
        if c.ctype == 5: value = xlrd.error_text_from_code[value]
        # A formula's record: xlrd gives its result alone.
        return dict(value=value, formula=(0x06 in records(raw)) and c.ctype != 0 and col == 1, format=book.format_map[xf.format_key].format_str,
                    bold=font.weight >= 600, italic=bool(font.italic), underline=bool(font.underline_type), strike=bool(font.struck_out),
                    color=book.colour_map.get(font.colour_index) == (0xaa, 0x33, 0x11), fill=xf.background.fill_pattern == 1,
                    align={1: 'left', 2: 'center', 3: 'right'}.get(xf.alignment.hor_align, ''), wrap=bool(xf.alignment.text_wrapped),
                    font=font.name, size=font.height / 20, border=xf.border.bottom_line_style > 0)
    row = sheet.rowinfo_map.get(0)
    column = sheet.colinfo_map.get(0)
    return seen(cell(0), cell(1), book.sheet_names(), merged=bool(sheet.merged_cells), hiddenRow=bool(row and row.hidden),
                hiddenColumn=bool(column and column.hidden), names=[n.name for n in book.name_obj_list])

def records(raw):
    import struct
    # The stream of the workbook stands in one piece in files that are written whole.
    at = raw.find(b'\x09\x08\x10\x00')
    kinds = set()
    while 0 <= at < len(raw) - 4:
        kind, size = struct.unpack('<HH', raw[at:at + 4])
        if kind == 0 and size == 0: break
        kinds.add(kind)
        at += 4 + size
    return kinds

def ods(path):
    from odf.opendocument import load
    from odf import table, text, style, number
    doc = load(path)
    styles = {s.getAttribute('name'): s for s in doc.getElementsByType(style.Style)}
    formats = {}
    for kind in (number.NumberStyle, number.PercentageStyle, number.DateStyle, number.TimeStyle, number.CurrencyStyle):
        for s in doc.getElementsByType(kind): formats[s.getAttribute('name')] = s
    sheets = doc.getElementsByType(table.Table)
    def words(node):
        return '\n'.join(''.join(str(n) for n in p.childNodes) for p in node.getElementsByType(text.P))
    def props(s, kind, name):
        for p in s.getElementsByType(kind) if s is not None else []:
            v = p.attributes.get(name)
            if v: return v
        return ''
    FO = 'urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0'
    ST = 'urn:oasis:names:tc:opendocument:xmlns:style:1.0'
    def cell(c):
        if c is None: return blank()
        s = styles.get(c.getAttribute('stylename'))
        kind = c.getAttribute('valuetype')
        value = c.getAttribute('value') if kind in ('float', 'percentage', 'currency') else c.getAttribute('booleanvalue') if kind == 'boolean' else words(c)
        data = formats.get(s.getAttribute('datastylename')) if s is not None else None
        said = ''
        if data is not None:
            said = data.qname[1].replace('-style', '')
            parts = [n.qname[1] for n in data.childNodes if hasattr(n, 'qname')]
            if said == 'date': said = 'date-' + ''.join({'day': 'd', 'month': 'm', 'year': 'y'}.get(p, '') for p in parts)
            for n in data.getElementsByType(number.Number):
                if n.getAttribute('decimalplaces') == '2': said += ' 0.00'
                if n.getAttribute('grouping') == 'true': said += ' grouping'
        T, C, P = style.TextProperties, style.TableCellProperties, style.ParagraphProperties
        align = props(s, P, (FO, 'text-align'))
        size = props(s, T, (FO, 'font-size'))
        return dict(value=value, formula=bool(c.getAttribute('formula')), format=said, bold=props(s, T, (FO, 'font-weight')) == 'bold',
                    italic=props(s, T, (FO, 'font-style')) == 'italic', underline=props(s, T, (ST, 'text-underline-style')) not in ('', 'none'),
                    strike=props(s, T, (ST, 'text-line-through-style')) not in ('', 'none'), color=props(s, T, (FO, 'color')) == '#aa3311',
                    fill=props(s, C, (FO, 'background-color')) == '#fffbe6', align={'end': 'right', 'start': 'left'}.get(align, align),
                    wrap=props(s, C, (FO, 'wrap-option')) == 'wrap', font=props(s, T, (ST, 'font-name')) or props(s, T, (FO, 'font-family')).strip("'"),
                    size=float(size[:-2]) if size.endswith('pt') else 0, border=props(s, C, (FO, 'border-bottom')) not in ('', 'none'))
    rows = sheets[0].getElementsByType(table.TableRow)
    cells = rows[0].getElementsByType(table.TableCell) if rows else []
    columns = sheets[0].getElementsByType(table.TableColumn)
    names = [n.getAttribute('name') for n in doc.getElementsByType(table.NamedRange)] + [n.getAttribute('name') for n in doc.getElementsByType(table.NamedExpression)]
    merged = any(c.getAttribute('numbercolumnsspanned') or c.getAttribute('numberrowsspanned') for c in cells)
    return seen(cell(cells[0] if cells else None), cell(cells[1] if len(cells) > 1 else None), [s.getAttribute('name') for s in sheets], merged=merged,
                hiddenRow=bool(rows) and rows[0].getAttribute('visibility') == 'collapse',
                hiddenColumn=bool(columns) and columns[0].getAttribute('visibility') == 'collapse', names=names)

def csv_(path):
    rows = list(csv.reader(io.StringIO(open(path, encoding='utf-8', newline='').read(), newline='')))
    row = rows[0] if rows else []
    def cell(at):
        c = blank(row[at] if at < len(row) else None)
        c['format'] = c['value'] or ''
        return c
    return seen(cell(0), cell(1), [])

def html(path):
    class Page(HTMLParser):
        def __init__(s):
            super().__init__(); s.cells = []; s.on = False; s.captions = []; s.caption = False; s.merged = False
        def handle_starttag(s, tag, attrs):
            a = dict(attrs)
            if tag == 'td': s.cells.append([a.get('style', ''), '']); s.on = True; s.merged |= 'colspan' in a or 'rowspan' in a
            if tag == 'caption': s.captions.append(''); s.caption = True
        def handle_endtag(s, tag):
            if tag == 'td': s.on = False
            if tag == 'caption': s.caption = False
        def handle_data(s, data):
            if s.on: s.cells[-1][1] += data
            if s.caption: s.captions[-1] += data
    page = Page(); page.feed(open(path, encoding='utf-8').read())
    def cell(at):
        if at >= len(page.cells): return blank()
        look, words = page.cells[at]
        c = blank(words)
        align = look.split('text-align: ')[1].split(';')[0] if 'text-align: ' in look else ''
        c.update(format=words, bold='bold' in look, italic='italic' in look, underline='underline' in look, strike='line-through' in look,
                 color=' color: #aa3311' in ' ' + look, fill='background-color: #fffbe6' in look, align=align, wrap='pre-wrap' in look)
        return c
    return seen(cell(0), cell(1), page.captions, merged=page.merged)

read = dict(xlsx=xlsx, xls=xls, ods=ods, csv=csv_, html=html)
print(json.dumps([read[p.rsplit('.', 1)[1]](p) for p in json.load(sys.stdin)], default=str))
`

const types = ['xlsx', 'xls', 'ods', 'csv', 'html'] as const

function written(one: Feature, type: (typeof types)[number]): Written {
  const row = one.second ? [one.cell, one.second] : [one.cell]
  const looks = { ...noLooks, ...(one.look && { cells: new Map([[0, one.look]]) }), ...one.looks }
  const workbook: Workbook = {
    sheets: [withLooks({ name: 'Tolls', rows: [row], widths: {} }, looks), ...(one.more ?? [])],
  }
  const resultOf = () => 4
  // As work of a file of today, which is where all of it comes from.
  const file = writePackage(workbook, resultOf, 'xlsx', { names: one.names ?? [] }).bytes
  if (type === 'xlsx') return { bytes: file, lost: [] }
  const read = readWorkbook(file, 'xlsx')
  const { bytes, lost } =
    type === 'csv'
      ? writeCsv({ workbook, resultOf, from: null, dialect: usualDialect })
      : writePackage(workbook, resultOf, type, { names: read.source.names, usual: read.usual })
  return { bytes, lost: allOf(lost, type === 'csv' ? read.limits : notBeside(read.limits)) }
}

/** @returns how many were looked at, and how many of them are told right */
export function toldLossesInSheets(say: (line: string) => void): { all: number; agree: number } {
  const scratch = mkdtempSync(join(tmpdir(), 'jaula-losses-'))
  try {
    const asked = types.flatMap((type) =>
      features.map((one, at) => ({ one, type, path: join(scratch, `${at}.${type}`) })),
    )
    const told = asked.map(({ one, type, path }) => {
      const { bytes, lost } = written(one, type)
      writeFileSync(path, bytes)
      return lost.map(({ feature }) => feature)
    })
    const seen: Seen[] = JSON.parse(
      execFileSync('/usr/bin/python3', ['-c', reader], {
        input: JSON.stringify(asked.map(({ path }) => path)),
        maxBuffer: 1 << 26,
      }).toString(),
    )
    let agree = 0
    for (const [at, { one, type }] of asked.entries()) {
      const there = one.is(seen[at]!)
      if (there === (told[at]!.length === 0)) agree++
      else say(`${type}, ${one.name}: ${there ? 'there' : 'gone'}, told: ${told[at]!.join(', ') || 'nothing'}`)
    }
    return { all: asked.length, agree }
  } finally {
    rmSync(scratch, { recursive: true })
  }
}
