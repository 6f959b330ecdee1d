// Against independent readers and writers of the open formats: Debian's python3-docx,
// python3-openpyxl, python3-xlrd, python3-xlwt, python3-odf, pandoc and antiword. What they write is read here; what is written here they read.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { blankStory, type PageEdge, storyJSON, withEdges } from '../content/edges'
import { fieldCodes } from '../content/fields'
import type { Workbook } from '../content/workbook'
import { applyOps, type WorkbookOp } from '../content/workbook-ops'
import { type DocLine, docOf, u16 } from './doc/testing'
import { readDocument, writeDocument } from './documents'
import { keptField } from './docx/fields'
import { patchDocx } from './docx/patch'
import { readDocx } from './docx/read'
import { writeWholeDocx } from './docx/whole'
import { writeDocx } from './docx/write'
import { keptNote } from './flat/notes'
import { patchWorkbook, readWorkbook, writePackage } from './workbooks'
import { readXls } from './xls/read'
import { writeXls } from './xls/write'
import { patchXlsx } from './xlsx/patch'
import { readXlsx } from './xlsx/read'
import { writeXlsx } from './xlsx/write'

const { nodes, marks } = documentSchema
let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'jaula-foreign-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))
/** Debian's Python, which has Debian's modules. */
const python = (code: string) => execFileSync('/usr/bin/python3', ['-c', code], { cwd: folder, encoding: 'utf8' })
const pandoc = (...args: string[]) => execFileSync('pandoc', args, { cwd: folder, encoding: 'utf8' })
const p = (text: string, ...names: (keyof typeof marks)[]) =>
  nodes.paragraph.create(
    null,
    text
      ? documentSchema.text(
          text,
          names.map((name) => marks[name]!.create()),
        )
      : null,
  )
const item = (text: string, ...inner: ReturnType<typeof p>[]) => nodes.list_item.create(null, [p(text), ...inner])

describe('documents', () => {
  const doc = nodes.doc.create(null, [
    nodes.heading.create({ level: 2 }, documentSchema.text('Gate paddles')),
    nodes.paragraph.create({ align: 'center' }, [
      documentSchema.text('Plain, '),
      documentSchema.text('strong', [marks.strong.create()]),
      documentSchema.text(' & '),
      documentSchema.text('linked', [marks.link.create({ href: 'https://example.org/' })]),
    ]),
    nodes.ordered_list.create({ start: 3 }, [
      item('three', nodes.bullet_list.create(null, [item('deep')])),
      item('four'),
    ]),
    nodes.blockquote.create(null, [p('Quoted.')]),
    nodes.table.create(null, [
      nodes.table_row.create({ header: true }, [nodes.table_cell.create({ colspan: 2 }, [p('Both')])]),
      nodes.table_row.create(null, [nodes.table_cell.create(null, [p('a')]), nodes.table_cell.create(null, [p('b')])]),
    ]),
  ])

  test('what is written here, pandoc reads', () => {
    writeFileSync(join(folder, 'ours.docx'), writeDocx(doc))
    const read = JSON.parse(pandoc('ours.docx', '-t', 'json')) as { blocks: { t: string; c: never }[] }
    expect(read.blocks.map(({ t }) => t)).toEqual(['Header', 'Para', 'OrderedList', 'BlockQuote', 'Table'])
    const html = pandoc('ours.docx', '-t', 'html')
    expect(html).toContain('<strong>strong</strong> &amp; <a')
    expect(html).toMatch(/<ol start="3"[\s\S]*<ul>[\s\S]*deep/)
    expect(html).toContain('colspan="2"')
  })
  test('headers and footers written here, whole or into a file of python-docx, python-docx reads', () => {
    const story = (...content: Node[]) => storyJSON(nodes.doc.create(null, content))
    const page = nodes.kept.create(keptField(fieldCodes.page, ''))
    const edges: PageEdge[] = [
      { edge: 'head', on: 'all', json: story(p('Merrowdale Canal Trust', 'strong')) },
      { edge: 'head', on: 'first', json: story(p('First of all')) },
      { edge: 'foot', on: 'all', json: story(nodes.paragraph.create(null, [documentSchema.text('Page '), page])) },
      { edge: 'foot', on: 'first', json: blankStory() },
    ]
    const told = (name: string) =>
      JSON.parse(
        python(`
import docx, json
s = docx.Document('${name}').sections[0]
said = lambda e: [p.text for p in e.paragraphs]
print(json.dumps([s.different_first_page_header_footer, said(s.header), said(s.first_page_header), said(s.footer), said(s.first_page_footer), s.header.paragraphs[0].runs[0].bold]))`),
      )
    const expected = [true, ['Merrowdale Canal Trust'], ['First of all'], ['Page '], [''], true]
    writeFileSync(join(folder, 'ours.docx'), writeDocx(withEdges(doc, edges)))
    expect(told('ours.docx')).toEqual(expected)
    python("import docx; d = docx.Document(); d.add_paragraph('Theirs'); d.save('theirs.docx')")
    const theirs = new Uint8Array(readFileSync(join(folder, 'theirs.docx')))
    writeFileSync(join(folder, 'patched.docx'), patchDocx(theirs, withEdges(readDocx(theirs).doc, edges)).bytes)
    expect(told('patched.docx')).toEqual(expected)
    expect(pandoc('patched.docx', '-t', 'plain').trim()).toBe('Theirs')
  })
  test('what is written here, python-docx reads', () => {
    writeFileSync(join(folder, 'ours.docx'), writeDocx(doc))
    expect(
      JSON.parse(
        python(`
import docx, json
d = docx.Document('ours.docx')
print(json.dumps([[p.style.name, p.text, str(p.alignment)] for p in d.paragraphs] + [[c.text for c in r.cells] for t in d.tables for r in t.rows]))`),
      ),
    ).toEqual([
      ['Heading 2', 'Gate paddles', 'None'],
      ['Normal', 'Plain, strong & ', 'CENTER (1)'],
      ['List Paragraph', 'three', 'None'],
      ['List Paragraph', 'deep', 'None'],
      ['List Paragraph', 'four', 'None'],
      ['Quote', 'Quoted.', 'None'],
      ['Jaula table gap', '', 'None'],
      ['Both', 'Both'],
      ['a', 'b'],
    ])
  })
  test('what pandoc writes is read here', () => {
    writeFileSync(
      join(folder, 'in.md'),
      '# One\n\nSome **strong** *slanted* ~~struck~~ [link](https://example.org/).\n\n- a\n    - b\n\n1. x\n2. y\n\n> quoted\n\n| h | i |\n|---|---|\n| 1 | 2 |\n',
    )
    pandoc('in.md', '-o', 'pandoc.docx')
    const { doc: read } = readDocx(readFileSync(join(folder, 'pandoc.docx')))
    const html: string[] = []
    read.forEach((node) => html.push(node.type.name))
    expect(html).toEqual(['heading', 'paragraph', 'bullet_list', 'ordered_list', 'blockquote', 'table'])
    expect(read.child(1).toString()).toBe(
      'paragraph("Some ", strong("strong"), " ", em("slanted"), " ", strike("struck"), " ", link("link"), ".")',
    )
    expect(read.child(2).toString()).toBe(
      'bullet_list(list_item(paragraph("a"), bullet_list(list_item(paragraph("b")))))',
    )
  })
  test('what python-docx writes is read here', () => {
    python(`
import docx
from docx.enum.text import WD_ALIGN_PARAGRAPH, WD_BREAK
d = docx.Document()
d.add_heading('Levels', 1)
q = d.add_paragraph('Right ')
q.alignment = WD_ALIGN_PARAGRAPH.RIGHT
q.add_run('under').underline = True
d.add_paragraph('dot', style='List Bullet')
d.add_paragraph('one', style='List Number')
d.add_paragraph('before').add_run().add_break(WD_BREAK.PAGE)
t = d.add_table(rows=2, cols=2)
t.cell(0, 0).merge(t.cell(1, 0)).text = 'tall'
t.cell(0, 1).text = 'x'
d.save('python.docx')`)
    const { doc: read } = readDocx(readFileSync(join(folder, 'python.docx')))
    expect(read.toString()).toBe(
      'doc(heading("Levels"), paragraph("Right ", underline("under")), bullet_list(list_item(paragraph("dot"))), ordered_list(list_item(paragraph("one"))), paragraph("before"), page_break, table(table_row(table_cell(paragraph("tall")), table_cell(paragraph("x"))), table_row(table_cell(paragraph))))',
    )
    expect(read.child(1).attrs.align).toBe('right')
    expect(read.child(6).child(0).child(0).attrs.rowspan).toBe(2)
  })
})

describe('spreadsheets', () => {
  test('what is written here, openpyxl reads', () => {
    writeFileSync(
      join(folder, 'ours.xlsx'),
      writeXlsx(
        {
          sheets: [
            {
              name: 'Ledger',
              rows: [
                [
                  { value: 'Lock', style: { bold: true, fill: '#efe6cf' } },
                  { value: 46350, style: { format: 'yyyy-mm-dd' } },
                ],
                undefined,
                [{ value: -1.5 }, { value: true }, { formula: 'A3*2' }, { value: { error: '#N/A' } }],
              ],
              widths: { 0: 120 },
            },
            { name: "It's", rows: [[{ value: ' two\nlines ' }]], widths: {} },
          ],
        },
        () => -3,
      ),
    )
    expect(
      JSON.parse(
        python(`
import openpyxl, json
w = openpyxl.load_workbook('ours.xlsx'); v = openpyxl.load_workbook('ours.xlsx', data_only=True)
s = w['Ledger']
print(json.dumps([w.sheetnames, s['A1'].value, s['A1'].font.b, s['A1'].fill.fgColor.rgb, str(s['B1'].value), s['A3'].value, s['B3'].value, s['C3'].value, v['Ledger']['C3'].value, s['D3'].value, round(s.column_dimensions['A'].width * 7 + 5), w["It's"]['A1'].value]))`),
      ),
    ).toEqual([
      ['Ledger', "It's"],
      'Lock',
      true,
      'FFEFE6CF',
      '2026-11-24 00:00:00',
      -1.5,
      true,
      '=A3*2',
      -3,
      '#N/A',
      120,
      ' two\nlines ',
    ])
  })
  test('what openpyxl writes is read here, and what cannot be kept is named', () => {
    python(`
import openpyxl, datetime
from openpyxl.styles import Font, PatternFill
from openpyxl.chart import BarChart, Reference
from openpyxl.comments import Comment
w = openpyxl.Workbook(); s = w.active; s.title = 'Levels'
s['A1'] = 'Day'; s['A1'].font = Font(bold=True); s['A2'] = datetime.date(2026, 11, 24); s['B2'] = 1.43; s['C2'] = '=B2*2'; s['D2'] = True
s['A1'].fill = PatternFill('solid', fgColor='FFEFE6CF'); s['B2'].number_format = '0.0'
s['B2'].comment = Comment('checked', 'Ida'); s.merge_cells('A5:B5'); s.freeze_panes = 'A2'; s.column_dimensions['B'].width = 20
c = BarChart(); c.add_data(Reference(s, min_col=2, min_row=1, max_row=2)); s.add_chart(c, 'F1')
w.create_sheet('Second'); w.save('python.xlsx')`)
    const { workbook, limits } = readXlsx(readFileSync(join(folder, 'python.xlsx')))
    const [levels, second] = workbook.sheets
    expect(second).toEqual({ name: 'Second', rows: [], widths: {} })
    expect(levels).toMatchObject({ name: 'Levels', frozen: { rows: 1, columns: 0 }, widths: { 1: 145 } })
    expect(levels!.rows[0]![0]).toEqual({ value: 'Day', style: { bold: true, fill: '#efe6cf' } })
    expect(levels!.rows[1]).toEqual([
      { value: 46350, style: { format: 'yyyy-mm-dd' } },
      { value: 1.43, style: { format: '0.0' } },
      { formula: 'B2*2' },
      { value: true },
    ])
    expect(limits.map(({ feature, count, where }) => [feature, count, where])).toEqual(
      expect.arrayContaining([
        ['charts', 1, ['Levels']],
        ['comments', 1, ['Levels']],
        ['merged cells (their content stays in the first one)', 1, ['Levels']],
      ]),
    )
  })
})

describe('files of other writers, edited and saved here', () => {
  test('python-openpyxl finds everything in its workbook again, and the new value', () => {
    python(`
from openpyxl import Workbook
from openpyxl.chart import BarChart, Reference
from openpyxl.comments import Comment
from openpyxl.styles import Border, Side, Font
from openpyxl.worksheet.datavalidation import DataValidation
w = Workbook()
s = w.active
s.title = 'Levels'
for row in [['Lock', 'Water'], ['LK07', 1.25], ['LK08', 1.5], ['Sum', '=SUM(B2:B3)']]:
    s.append(row)
s.merge_cells('D1:E2')
s['D1'] = 'Merged'
s['A2'].comment = Comment('Measured by Ida', 'Ida')
s['B2'].border = Border(left=Side(style='thick'))
s['B2'].font = Font(name='Serif', size=14, bold=True)
s.print_area = 'A1:B4'
s.auto_filter.ref = 'A1:B3'
s.column_dimensions['C'].hidden = True
v = DataValidation(type='decimal', operator='greaterThan', formula1='0')
s.add_data_validation(v)
v.add('B2:B3')
c = BarChart()
c.add_data(Reference(s, min_col=2, min_row=1, max_row=3), titles_from_data=True)
s.add_chart(c, 'G2')
w.save('theirs.xlsx')`)
    const base = new Uint8Array(readFileSync(join(folder, 'theirs.xlsx')))
    const read = readXlsx(base)
    const style = read.workbook.sheets[0]!.rows[1]![1]!.style!
    const ops = [{ op: 'cells' as const, sheet: 0, cells: [{ row: 1, column: 1, cell: { value: 7, style } }] }]
    const workbook = applyOps(read.workbook, ops)
    const saved = patchXlsx({ base, read, workbook, ops, resultOf: () => 8.5, isNew: (_, row) => row === 3 })
    writeFileSync(join(folder, 'saved.xlsx'), saved)
    const said = JSON.parse(
      python(`
import openpyxl, json
def told(name, values):
    s = openpyxl.load_workbook(name, data_only=values)['Levels']
    return [[[c.value for c in r] for r in s['A1:B4']], str(s.merged_cells), s['A2'].comment.text, s['B2'].border.left.style, s['B2'].font.name, s['B2'].font.sz, s.print_area, s.auto_filter.ref, s.column_dimensions['C'].hidden, [str(d.sqref) for d in s.data_validations.dataValidation], len(s._charts)]
print(json.dumps([told('theirs.xlsx', False), told('saved.xlsx', False), told('saved.xlsx', True)[0]]))`),
    )
    const [theirs, now, values] = said as [unknown[][], unknown[][], unknown[][]]
    expect(now.slice(1)).toEqual(theirs.slice(1))
    expect(now[0]).toEqual([
      ['Lock', 'Water'],
      ['LK07', 7],
      ['LK08', 1.5],
      ['Sum', '=SUM(B2:B3)'],
    ])
    expect(values[3]).toEqual(['Sum', 8.5])
  })
  test('pandoc finds the notes and the equation of its document again in one that is written here', () => {
    writeFileSync(join(folder, 'noted.md'), 'The sill[^1] loses $q=V/t$ a day.\n\n[^1]: Measured *drained*.\n')
    pandoc('noted.md', '-o', 'noted.docx')
    const { doc, limits } = readDocx(readFileSync(join(folder, 'noted.docx')))
    expect(limits.map(({ feature }) => feature)).not.toContain('footnotes')
    const kinds: string[] = []
    doc.descendants(({ attrs }) => void (attrs.kind && kinds.push(`${attrs.kind}: ${attrs.words}`)))
    expect(kinds).toEqual(['footnote: Measured drained.', 'equation: q=V/t'])
    const { bytes, lost } = writeWholeDocx(doc)
    expect(lost).toEqual([])
    writeFileSync(join(folder, 'ours-noted.docx'), bytes)
    const said = pandoc('ours-noted.docx', '-t', 'markdown')
    expect(said).toMatch(/The sill\[\^1\] loses \$q = V\/t\$ a day\./)
    expect(said).toMatch(/\[\^1\]: Measured \*drained\*\./)
    python(`
import docx
d = docx.Document('ours-noted.docx')
assert d.paragraphs[0].text.startswith('The sill')`)
  })
  test('python-docx finds header, footer, styles and spacing in its document again, and the new word', () => {
    python(`
import docx
from docx.shared import Pt
d = docx.Document()
d.sections[0].header.paragraphs[0].text = 'Midland Canal Trust'
d.sections[0].footer.paragraphs[0].text = 'Page'
d.add_heading('Gate paddles', 1)
p = d.add_paragraph('The paddle of lock seven ', style='Intense Quote')
p.add_run('is worn').bold = True
p.paragraph_format.space_after = Pt(30)
d.add_table(rows=2, cols=2, style='Light Grid Accent 1').cell(0, 0).text = 'Lock'
d.save('theirs.docx')`)
    const base = new Uint8Array(readFileSync(join(folder, 'theirs.docx')))
    const { doc } = readDocx(base)
    let at = -1
    doc.descendants((node, place) => {
      const found = node.isText ? node.text!.indexOf('seven') : -1
      if (found >= 0) at = place + found
    })
    const { bytes, lost } = patchDocx(
      base,
      new Transform(doc).replaceWith(at, at + 5, documentSchema.text('eight')).doc,
    )
    expect(lost).toEqual([])
    writeFileSync(join(folder, 'saved.docx'), bytes)
    const said = JSON.parse(
      python(`
import docx, json
def told(name):
    d = docx.Document(name)
    s = d.sections[0]
    return [s.header.paragraphs[0].text, s.footer.paragraphs[0].text, [[p.style.name, p.text, str(p.paragraph_format.space_after), [bool(r.bold) for r in p.runs]] for p in d.paragraphs], [[t.style.name, t.cell(0, 0).text] for t in d.tables]]
print(json.dumps([told('theirs.docx'), told('saved.docx')]))`),
    )
    expect(said[1]).toEqual(JSON.parse(JSON.stringify(said[0]).replace('lock seven', 'lock eight')))
    expect(pandoc('saved.docx', '-t', 'plain')).toContain('lock eight')
  })
})

describe('spreadsheets of older programs', () => {
  test('what is written here, xlrd reads', () => {
    const { bytes, lost } = writeXls({
      workbook: {
        sheets: [
          {
            name: 'Ledger',
            rows: [
              [
                {
                  value: 'Lock',
                  style: {
                    bold: true,
                    fill: '#efe6cf',
                    color: '#123456',
                    top: '2 solid #aa3311',
                    font: 'Georgia',
                    size: 16,
                  },
                },
                { value: 46350, style: { format: 'yyyy-mm-dd' } },
              ],
              undefined,
              [{ value: -1.5 }, { value: true }, { formula: "SUM('It''s'!B1:B3)*2" }, { value: { error: '#N/A' } }],
              [{ value: 70_000 }, { formula: 'A1&"s"' }, { value: 'x'.repeat(20_000) }],
            ],
            widths: { 0: 120 },
            merged: [{ top: 5, left: 0, bottom: 6, right: 2 }],
            heights: { 0: 30 },
            hiddenRows: [8],
            hiddenColumns: [4],
          },
          { name: "It's", rows: [[{ value: ' two\nlines ' }], [{ value: 'שלום' }]], widths: {} },
        ],
      },
      resultOf: (_sheet, row) => (row === 2 ? -3 : 'Locks'),
      names: [{ name: 'Locks', sheet: null, formula: 'Ledger!$A$1:$A$4' }],
    })
    expect(lost).toEqual([])
    writeFileSync(join(folder, 'ours.xls'), bytes)
    expect(
      JSON.parse(
        python(`
import xlrd, json
w = xlrd.open_workbook('ours.xls', formatting_info=True)
s = w.sheet_by_name('Ledger'); t = w.sheet_by_name("It's")
x = w.xf_list[s.cell_xf_index(0, 0)]; f = w.font_list[x.font_index]
print(json.dumps([w.sheet_names(), s.cell_value(0, 0), f.name, f.height, f.bold, w.colour_map[f.colour_index], w.colour_map[x.background.pattern_colour_index], x.border.top_line_style, w.colour_map[x.border.top_colour_index],
  s.cell_type(0, 1), w.format_map[w.xf_list[s.cell_xf_index(0, 1)].format_key].format_str, s.row_values(2, 0, 4), [c.ctype for c in s.row(2)[:4]], s.cell_value(3, 0), s.cell_value(3, 1), len(s.cell_value(3, 2)),
  s.colinfo_map[0].width, s.rowinfo_map[0].height, s.rowinfo_map[8].hidden, s.colinfo_map[4].hidden, s.merged_cells, t.cell_value(0, 0), t.cell_value(1, 0), [n.name for n in w.name_obj_list], w.name_obj_list[0].result.text]))`),
      ),
    ).toEqual([
      ['Ledger', "It's"],
      'Lock',
      'Georgia',
      320,
      1,
      [0x12, 0x34, 0x56],
      [0xef, 0xe6, 0xcf],
      2,
      [0xaa, 0x33, 0x11],
      3,
      'yyyy-mm-dd',
      [-1.5, 1, -3, 42],
      [2, 4, 2, 5],
      70_000,
      'Locks',
      20_000,
      4206,
      600,
      1,
      1,
      [[5, 7, 0, 3]],
      ' two\nlines ',
      'שלום',
      ['Locks'],
      'Ledger!$A$1:$A$4',
    ])
  })

  test('what xlwt writes is read here', () => {
    python(`
import xlwt, datetime
w = xlwt.Workbook(); s = w.add_sheet('Levels'); w.add_sheet('Second')
b = xlwt.easyxf('font: bold on, name Georgia, height 320; pattern: pattern solid, fore_colour yellow; borders: top thick; align: wrap on, horiz center')
s.write(0, 0, 'Day', b)
s.write(1, 0, datetime.date(2026, 11, 24), xlwt.easyxf(num_format_str='yyyy-mm-dd'))
s.write(1, 1, 1.43); s.write(1, 2, xlwt.Formula('B2*2+SUM(B1:B9)')); s.write(1, 3, True); s.write(1, 4, 70000)
s.write(2, 0, xlwt.Formula('IF(Second!A1>1;"yes";ROUND(B2;1))'))
s.write_merge(4, 5, 0, 1, u'\\u05e9\\u05dc'); s.col(1).width = 256 * 20; s.row(0).height_mismatch = True; s.row(0).height = 600
s.set_panes_frozen(True); s.set_horz_split_pos(1)
w.save('python.xls')`)
    const { workbook, looks, limits } = readXls(readFileSync(join(folder, 'python.xls')))
    const [levels, second] = workbook.sheets
    expect(second).toEqual({ name: 'Second', rows: [], widths: {} })
    expect(levels).toMatchObject({ name: 'Levels', frozen: { rows: 1, columns: 0 }, widths: { 1: 145 } })
    expect(levels!.rows[0]![0]).toEqual({
      value: 'Day',
      style: {
        bold: true,
        fill: '#ffff00',
        align: 'center',
        wrap: true,
        top: '3 solid',
        font: 'Georgia',
        size: 16,
      },
    })
    expect(levels!.rows[1]).toEqual([
      { value: 46350, style: { format: 'yyyy-mm-dd' } },
      { value: 1.43 },
      { formula: 'B2*2+SUM(B1:B9)' },
      { value: true },
      { value: 70_000 },
    ])
    expect(levels!.rows[2]).toEqual([{ formula: 'IF(Second!A1>1,"yes",ROUND(B2,1))' }])
    expect(levels!.rows[4]![0]).toEqual({ value: 'של' })
    expect(looks[0]).toMatchObject({
      merged: [{ top: 4, left: 0, bottom: 5, right: 1 }],
      heights: new Map([[0, 30]]),
    })
    expect(looks[0]!.cells.get(0)).toMatchObject({ top: { width: 3, line: 'solid' }, font: 'Georgia', size: 16 })
    expect(limits.map(({ feature }) => feature)).toEqual([
      'page headers and footers',
      'row heights',
      'merged cells (their content stays in the first one)',
      'cells with borders',
    ])
  })
})

describe('web pages and texts in Markdown', () => {
  const doc = nodes.doc.create(null, [
    nodes.heading.create({ level: 2 }, documentSchema.text('Gate paddles')),
    nodes.paragraph.create(null, [
      documentSchema.text('Plain, '),
      documentSchema.text('strong', [marks.strong.create()]),
      documentSchema.text(' & '),
      documentSchema.text('linked', [marks.link.create({ href: 'https://example.org/' })]),
    ]),
    nodes.ordered_list.create({ start: 3 }, [
      item('three', nodes.bullet_list.create(null, [item('deep')])),
      item('four'),
    ]),
    nodes.blockquote.create(null, [p('Quoted.')]),
    nodes.table.create(null, [
      nodes.table_row.create({ header: true }, [
        nodes.table_cell.create(null, [p('Lock')]),
        nodes.table_cell.create(null, [p('Level')]),
      ]),
      nodes.table_row.create(null, [
        nodes.table_cell.create(null, [p('LK01')]),
        nodes.table_cell.create(null, [p('1.43 | 1.5')]),
      ]),
    ]),
    p('1. no list, *no* emphasis, <b>no</b> tag'),
  ])
  test.each([
    ['html', 'html'],
    ['md', 'commonmark+pipe_tables+strikeout'],
  ])('what is written here as %s, pandoc reads, and what it writes of that is read here', (type, format) => {
    const { bytes, lost } = writeDocument(doc, null, type)
    expect(lost).toEqual([])
    writeFileSync(join(folder, `ours.${type}`), bytes)
    // By way of another type, so that all of it went through that program's own model.
    pandoc(`ours.${type}`, '-f', format, '-t', 'docx', '-o', 'through.docx')
    const through = readDocx(readFileSync(join(folder, 'through.docx'))).doc
    const words = (of: Node) => of.textBetween(0, of.content.size, ' ').replace(/\s+/g, ' ').trim()
    // A page's title comes before it there.
    expect(words(through).endsWith(words(doc))).toBe(true)
    const strong: string[] = []
    const links: string[] = []
    through.descendants((node) => {
      if (node.marks.some(({ type: { name } }) => name === 'strong') && node.text === 'strong') strong.push(node.text)
      for (const mark of node.marks) if (mark.type.name === 'link') links.push(mark.attrs.href)
    })
    expect([strong, links]).toEqual([['strong'], ['https://example.org/']])
    pandoc(`ours.${type}`, '-f', format, '-t', format, '-s', '-M', 'title=T', '-o', `theirs.${type}`)
    const theirs = readDocument(readFileSync(join(folder, `theirs.${type}`)), type).doc
    expect(words(theirs)).toContain(words(doc))
    const kinds: string[] = []
    theirs.forEach((block) => void kinds.push(block.type.name))
    for (const kind of ['heading', 'ordered_list', 'blockquote', 'table']) expect(kinds).toContain(kind)
  })
})

describe('texts of the open standard', () => {
  const p = (text: string) => nodes.paragraph.create(null, documentSchema.text(text))
  const item = (text: string, ...inside: Node[]) => nodes.list_item.create(null, [p(text), ...inside])
  const row = (header: boolean, ...words: string[]) =>
    nodes.table_row.create(
      { header },
      words.map((one) => nodes.table_cell.create(null, p(one))),
    )
  const doc = nodes.doc.create(null, [
    nodes.heading.create({ level: 2 }, documentSchema.text('Gate paddles')),
    nodes.paragraph.create({ align: 'center' }, [
      documentSchema.text('Two  spaces, '),
      documentSchema.text('strong', [marks.strong.create()]),
      documentSchema.text(' & '),
      documentSchema.text('linked', [marks.link.create({ href: 'https://example.org/' })]),
      documentSchema.text('.'),
    ]),
    nodes.ordered_list.create({ start: 3 }, [
      item('three', nodes.bullet_list.create(null, [item('deep')])),
      item('four'),
    ]),
    nodes.blockquote.create(null, [p('Quoted.')]),
    nodes.table.create(null, [row(true, 'Lock', 'Level'), row(false, 'LK01', '1.43 | 1.5')]),
    p('The end.'),
  ])
  const words = (of: Node) => of.textBetween(0, of.content.size, ' ').replace(/\s+/g, ' ').trim()

  test('what is written here is read by odfpy, with its styles, and by pandoc', () => {
    const { bytes, lost } = writeDocument(doc, null, 'odt')
    expect(lost).toEqual([])
    writeFileSync(join(folder, 'ours.odt'), bytes)
    const said = JSON.parse(
      python(`
import json
from odf.opendocument import load
from odf import text, table, teletype, style
d = load('ours.odt')
styles = {s.getAttribute('name'): s for s in d.getElementsByType(style.Style)}
strong = [teletype.extractText(s) for s in d.getElementsByType(text.Span)
  if any(p.getAttribute('fontweight') == 'bold' for p in styles[s.getAttribute('stylename')].getElementsByType(style.TextProperties))]
centred = [teletype.extractText(p) for p in d.getElementsByType(text.P)
  if any(q.getAttribute('textalign') == 'center' for q in styles[p.getAttribute('stylename')].getElementsByType(style.ParagraphProperties))]
print(json.dumps({
  'headings': [(teletype.extractText(h), h.getAttribute('outlinelevel')) for h in d.getElementsByType(text.H)],
  'strong': strong, 'centred': centred,
  'links': [a.getAttribute('href') for a in d.getElementsByType(text.A)],
  'items': [teletype.extractText(i) for i in d.getElementsByType(text.ListItem)],
  'cells': [teletype.extractText(c) for c in d.getElementsByType(table.TableCell)],
  'heads': [teletype.extractText(c) for c in d.getElementsByType(table.TableHeaderRows)],
}))`),
    )
    expect(said).toEqual({
      headings: [['Gate paddles', '2']],
      strong: ['strong'],
      centred: ['Two  spaces, strong & linked.'],
      links: ['https://example.org/'],
      items: ['threedeep', 'deep', 'four'],
      cells: ['Lock', 'Level', 'LK01', '1.43 | 1.5'],
      heads: ['LockLevel'],
    })
    // By way of another type, so that all of it went through that program's own model. It leaves the heads of tables out.
    pandoc('ours.odt', '-t', 'docx', '-o', 'through-odt.docx')
    const through = readDocx(readFileSync(join(folder, 'through-odt.docx'))).doc
    expect(words(through)).toBe(words(doc).replace('Lock Level ', ''))
    pandoc('ours.odt', '-t', 'odt', '-o', 'theirs.odt')
    const theirs = readDocument(readFileSync(join(folder, 'theirs.odt')), 'odt').doc
    expect(words(theirs)).toBe(words(through))
    expect(theirs.children.map(({ type }) => type.name)).toEqual(
      expect.arrayContaining(['heading', 'ordered_list', 'blockquote', 'table']),
    )
  })

  test('what odfpy writes is read here, and a word changed in it is all that odfpy finds changed', () => {
    python(`
from odf.opendocument import OpenDocumentText
from odf.style import Style, TextProperties, ParagraphProperties, TableColumnProperties
from odf.text import H, P, Span, List, ListItem, Note, NoteCitation, NoteBody, Bookmark, Tab, S
from odf.table import Table, TableColumn, TableRow, TableCell
d = OpenDocumentText()
b = Style(name='Fat', family='text'); b.addElement(TextProperties(fontweight='bold', color='#aa0000', letterspacing='1pt')); d.automaticstyles.addElement(b)
w = Style(name='W', family='table-column'); w.addElement(TableColumnProperties(columnwidth='2in')); d.automaticstyles.addElement(w)
d.text.addElement(H(outlinelevel=1, text='Levels'))
p = P(text='Measured '); p.addElement(Span(stylename=b, text='twice')); p.addElement(Tab()); p.addElement(Bookmark(name='here')); p.addText('a day'); p.addElement(S(c=2))
n = Note(noteclass='footnote'); n.addElement(NoteCitation(text='1')); nb = NoteBody(); nb.addElement(P(text='At noon.')); n.addElement(nb); p.addElement(n); d.text.addElement(p)
l = List(); i = ListItem(); i.addElement(P(text='LK07')); l.addElement(i); d.text.addElement(l)
t = Table(name='T'); t.addElement(TableColumn(stylename=w, numbercolumnsrepeated=2)); r = TableRow()
for v in ['upper', 'lower']:
  c = TableCell(); c.addElement(P(text=v)); r.addElement(c)
t.addElement(r); d.text.addElement(t)
d.save('python.odt')`)
    const bytes = readFileSync(join(folder, 'python.odt'))
    const read = readDocument(bytes, 'odt').doc
    expect(read.children.map(({ type, textContent }) => [type.name, textContent])).toEqual([
      ['heading', 'Levels'],
      ['paragraph', 'Measured twice\ta day  '],
      ['bullet_list', 'LK07'],
      ['table', 'upperlower'],
    ])
    expect(read.child(3).firstChild!.firstChild!.attrs.colwidth).toEqual([192])
    const note = read.child(1).lastChild!
    expect([note.attrs.kind, note.attrs.words]).toEqual(['footnote', 'At noon.'])
    let twice = -1
    read.descendants((node, pos) => void (node.text === 'twice' && (twice = pos)))
    const change = new Transform(read).replaceWith(
      twice,
      twice + 5,
      documentSchema.text('thrice', read.nodeAt(twice)!.marks),
    )
    const { bytes: now, lost } = writeDocument(change.doc, bytes, 'odt')
    expect(lost).toEqual([])
    writeFileSync(join(folder, 'changed.odt'), now)
    const both = JSON.parse(
      python(`
import json
from odf.opendocument import load
print(json.dumps([load(n).contentxml().decode().partition('<office:automatic-styles')[2] for n in ('python.odt', 'changed.odt')]))`),
    )
    expect(both[0]).toContain('twice')
    expect(both[1]).toBe(both[0].replace('twice', 'thrice'))
  })
})

describe('rich text', () => {
  const text = (line: string) => nodes.paragraph.create(null, documentSchema.text(line))
  const doc = nodes.doc.create(null, [
    nodes.heading.create({ level: 2 }, documentSchema.text('Gate paddles')),
    nodes.paragraph.create(null, [
      documentSchema.text('Worn – '),
      documentSchema.text('twice', [documentSchema.marks.strong.create()]),
      documentSchema.text(' a year: schön, Ж.', [documentSchema.marks.em.create()]),
      nodes.kept.create(keptNote('footnote', [[{ text: 'Seen in June.', strong: false, em: false }]])),
      documentSchema.text('here', [documentSchema.marks.link.create({ href: 'https://example.org/?a=1' })]),
    ]),
    nodes.table.create(null, [
      nodes.table_row.create(null, [
        nodes.table_cell.create(null, text('Lock')),
        nodes.table_cell.create(null, text('Level')),
      ]),
    ]),
    text('The end.'),
  ])

  test('what is written here is read by pandoc, with its looks, its notes and its links', () => {
    const { bytes, lost } = writeDocument(doc, null, 'rtf')
    expect(lost).toEqual([])
    writeFileSync(join(folder, 'ours.rtf'), bytes)
    pandoc('ours.rtf', '-t', 'docx', '-o', 'through-rtf.docx')
    const through = readDocx(readFileSync(join(folder, 'through-rtf.docx'))).doc
    expect(through.textContent).toBe(doc.textContent)
    const seen: unknown[] = []
    through.descendants(({ type, text, attrs, marks }) => {
      if (type.name === 'kept') seen.push([attrs.kind, attrs.words])
      else if (text && marks.some(({ type }) => type.name !== 'look'))
        seen.push([text, marks[0]!.attrs.href ?? marks[0]!.type.name])
    })
    expect(seen).toEqual(
      expect.arrayContaining([
        ['twice', 'strong'],
        [' a year: schön, Ж.', 'em'],
        ['footnote', 'Seen in June.'],
        ['here', 'https://example.org/?a=1'],
      ]),
    )
    expect(through.children.map(({ type }) => type.name)).toContain('table')
  })

  test('what pandoc writes is read here, and goes back to its very bytes but for a word', () => {
    writeFileSync(join(folder, 'theirs.docx'), writeDocument(doc, null, 'docx').bytes)
    pandoc('theirs.docx', '-s', '-t', 'rtf', '-o', 'theirs.rtf')
    const bytes = readFileSync(join(folder, 'theirs.rtf'))
    const read = readDocument(bytes, 'rtf').doc
    expect(read.textContent.replace(/\s+/g, ' ').trim()).toBe(doc.textContent.replace(/\s+/g, ' '))
    expect(read.children.map(({ type }) => type.name)).toEqual(expect.arrayContaining(['heading', 'table']))
    let twice = -1
    read.descendants((node, pos) => void (node.text === 'twice' && (twice = pos)))
    const change = new Transform(read).replaceWith(
      twice,
      twice + 5,
      documentSchema.text('thrice', read.nodeAt(twice)!.marks),
    )
    const { bytes: now, lost } = writeDocument(change.doc, bytes, 'rtf')
    expect(lost).toEqual([])
    expect(Buffer.from(now).toString('latin1')).toBe(bytes.toString('latin1').replace('twice', 'thrice'))
  })
})

test('a document of the binary format as the tests make it is one to an independent reader, and says the same here', () => {
  const cell = (text: string): DocLine => ({ runs: [text], says: [[0x2416, 1]], mark: '\u0007' })
  const bytes = docOf({
    lines: [
      { runs: ['Gate paddles'], style: 1 },
      { runs: ['Worn twice a year, caf\u00e9, ', { text: 'bold', says: [[0x0835, 1]] }, ' \u2013 \u0416.'] },
      cell('Lock'),
      cell('Level'),
      {
        runs: [],
        mark: '\u0007',
        says: [
          [0x2416, 1],
          [0x2417, 1],
          [0xd608, 2, ...[0, 2000, 4000].flatMap(u16), ...new Array(40).fill(0)],
        ],
      },
      { runs: ['The end.'] },
    ],
    styles: [{ name: 'Normal' }, { name: 'heading 1', known: 1, base: 0 }],
  })
  writeFileSync(join(folder, 'ours.doc'), bytes)
  const theirs = execFileSync('antiword', ['-m', 'UTF-8.txt', '-w', '0', 'ours.doc'], { cwd: folder, encoding: 'utf8' })
  const wordsOf = (text: string) => text.match(/[\p{L}\p{N}]+/gu)
  const { doc } = readDocument(bytes, 'doc')
  expect(wordsOf(theirs)).toEqual(wordsOf(doc.textBetween(0, doc.content.size, ' ')))
  expect(theirs).toMatch(/\|\s*Lock\s*\|\s*Level\s*\|/)
})

describe('spreadsheets of the open standard', () => {
  const cells = `
import json
from odf.opendocument import load
from odf import table, teletype, style
def rows(name):
  d = load(name)
  found = []
  for t in d.getElementsByType(table.Table):
    lines = []
    for r in t.getElementsByType(table.TableRow):
      line = []
      for c in r.childNodes:
        n = int(c.getAttribute('numbercolumnsrepeated') or 1)
        line += [[c.getAttribute('valuetype'), c.getAttribute('value') or c.getAttribute('datevalue') or c.getAttribute('booleanvalue') or teletype.extractText(c), c.getAttribute('formula')]] * min(n, 20)
      lines += [line] * min(int(r.getAttribute('numberrowsrepeated') or 1), 20)
    found.append([t.getAttribute('name'), lines])
  return found
`
  test('what is written here is read by odfpy: values, formulas, spans and looks', () => {
    const workbook: Workbook = {
      sheets: [
        {
          name: 'Levels',
          widths: { 0: 120 },
          rows: [
            [
              { value: 'Lock', style: { bold: true } },
              { value: 46_309, style: { format: 'yyyy-mm-dd' } },
              { value: true },
            ],
            undefined,
            [{ value: 1.43 }, { formula: 'SUM(A3,A1:B1)*2' }, { value: 0.5, style: { format: '0%' } }],
          ],
        },
        { name: 'Other one', widths: {}, rows: [[{ formula: 'Levels!A3' }]] },
      ],
    }
    const { bytes, lost } = writePackage(workbook, (sheet) => 4 + sheet, 'ods', {})
    expect(lost).toEqual([])
    writeFileSync(join(folder, 'ours.ods'), bytes)
    expect(JSON.parse(python(`${cells}print(json.dumps(rows('ours.ods')))`))).toEqual([
      [
        'Levels',
        [
          [
            ['string', 'Lock', null],
            ['date', '2026-10-14', null],
            ['boolean', 'true', null],
          ],
          [[null, '', null]],
          [
            ['float', '1.43', null],
            ['float', '4', 'of:=SUM([.A3];[.A1:.B1])*2'],
            ['percentage', '0.5', null],
          ],
        ],
      ],
      ['Other one', [[['float', '5', 'of:=[$Levels.A3]']]]],
    ])
  })

  test('what odfpy writes is read here, and one cell that changes is all that odfpy finds changed', () => {
    python(`
from odf.opendocument import OpenDocumentSpreadsheet
from odf.style import Style, TextProperties, TableCellProperties
from odf.text import P
from odf.table import Table, TableColumn, TableRow, TableCell, CoveredTableCell
from odf.office import Annotation
d = OpenDocumentSpreadsheet()
b = Style(name='Fat', family='table-cell'); b.addElement(TableCellProperties(backgroundcolor='#ffee00', border='0.74pt solid #112233')); b.addElement(TextProperties(fontweight='bold')); d.automaticstyles.addElement(b)
t = Table(name='Levels'); t.addElement(TableColumn(numbercolumnsrepeated=4))
r = TableRow(); c = TableCell(stylename=b, valuetype='string', numbercolumnsspanned=2); c.addElement(P(text='Lock')); a = Annotation(); a.addElement(P(text='Seen')); c.addElement(a); r.addElement(c); r.addElement(CoveredTableCell()); t.addElement(r)
r = TableRow(numberrowsrepeated=3); c = TableCell(valuetype='float', value=1.5, numbercolumnsrepeated=3); c.addElement(P(text='1.5')); r.addElement(c); t.addElement(r)
r = TableRow(); c = TableCell(valuetype='float', value=4.5, formula='of:=SUM([.A2:.A4])'); c.addElement(P(text='4.5')); r.addElement(c); t.addElement(r)
d.spreadsheet.addElement(t); d.save('python.ods')`)
    const bytes = readFileSync(join(folder, 'python.ods'))
    const read = readWorkbook(bytes, 'ods')
    expect(read.workbook.sheets[0]!.rows.map((row) => row?.map((cell) => cell?.formula ?? cell?.value))).toEqual([
      ['Lock'],
      [1.5, 1.5, 1.5],
      [1.5, 1.5, 1.5],
      [1.5, 1.5, 1.5],
      ['SUM(A2:A4)'],
    ])
    expect(read.looks[0]!.merged).toEqual([{ top: 0, left: 0, bottom: 0, right: 1 }])
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row: 2, column: 1, cell: { value: 'dry' } }] }]
    const { bytes: now, lost } = patchWorkbook(
      {
        base: bytes,
        read,
        ops,
        workbook: applyOps(read.workbook, ops),
        resultOf: () => 4.5,
        isNew: () => false,
        recalculate: false,
      },
      'ods',
    )
    expect(lost).toEqual([])
    writeFileSync(join(folder, 'changed.ods'), now)
    const [before, after] = JSON.parse(
      python(`${cells}print(json.dumps([rows('python.ods'), rows('changed.ods')]))`),
    ) as unknown[][][][][]
    expect(before![0]![1]).toHaveLength(5)
    const wanted = structuredClone(before!)
    ;(wanted[0]![1]![2] as unknown[])[1] = ['string', 'dry', null]
    expect(after).toEqual(wanted)
  })
})
