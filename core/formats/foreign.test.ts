// Against independent readers and writers of the open formats: Debian's python3-docx,
// python3-openpyxl and pandoc. What they write is read here; what is written here they read.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { readDocx } from './docx/read'
import { writeDocx } from './docx/write'
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
