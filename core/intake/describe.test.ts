// What files say of themselves: those of our own writers, of other programs, and those that are not what they say.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { writeDocx } from '../formats/docx/write'
import { writeZip } from '../formats/opc/zip'
import { writeXlsx } from '../formats/xlsx/write'
import { describeFile } from './describe'
import { piecesOfText, resemblance, sketchOf } from './sketch'

const folder = mkdtempSync(join(tmpdir(), 'jaula-describe-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
/** A file that another program makes. */
function made(name: string, program: string): Uint8Array {
  const path = join(folder, name)
  execFileSync('/usr/bin/python3', ['-c', `import sys, datetime\npath = sys.argv[1]\n${program}`, path])
  return new Uint8Array(readFileSync(path))
}
const paper = (...paragraphs: string[]) =>
  writeDocx(
    documentSchema.nodes.doc.create(
      null,
      paragraphs.map((words) => documentSchema.nodes.paragraph.create(null, words ? documentSchema.text(words) : null)),
    ),
  )

test('a document of another program says who wrote it and when, and is like the same words of ours', () => {
  const words = ['The paddles of the lower gate are worn & loose.', 'Two rungs were repainted in May.']
  const theirs = describeFile(
    made(
      'Report.docx',
      `import docx
d = docx.Document()
for words in ${JSON.stringify(words)}: d.add_paragraph(words)
d.core_properties.last_modified_by = 'Jo Reed'
d.core_properties.title = 'Paddles <worn>'
d.core_properties.modified = datetime.datetime(2021, 4, 3, 10, 5)
d.save(path)`,
    ),
    'Report.docx',
  )
  expect(theirs).toMatchObject({
    fault: null,
    author: 'Jo Reed',
    title: 'Paddles <worn>',
    at: '2021-04-03T10:05:00.000Z',
  })
  expect(resemblance(theirs.sketch, describeFile(paper(...words), 'Ours.docx').sketch)).toBe(1)
  expect(resemblance(theirs.sketch, sketchOf(piecesOfText(words.join('\n'))))).toBe(1)
})

test('a workbook of another program is like its cells, whatever their order', () => {
  const theirs = describeFile(
    made(
      'Levels.xlsx',
      `import openpyxl
w = openpyxl.Workbook()
for row in [['Lock', 'Level'], ['LK01', 1.25], ['LK02', 1.5]]: w.active.append(row)
w.properties.lastModifiedBy = 'Sam Hart'
w.save(path)`,
    ),
    'Levels.xlsx',
  )
  expect(theirs).toMatchObject({ fault: null, author: 'Sam Hart' })
  const rows = [
    ['LK02', 1.5],
    ['Lock', 'Level'],
    ['LK01', 1.25],
  ]
  const ours = writeXlsx({
    sheets: [{ name: 'Levels', rows: rows.map((row) => row.map((value) => ({ value }))), widths: {} }],
  })
  expect(resemblance(theirs.sketch, describeFile(ours, 'Ours.xlsx').sketch)).toBe(1)
})

test('what is not what its name says is told apart: empty, damaged, another type, of no type that is known', () => {
  const whole = paper('Sound.')
  expect(describeFile(new Uint8Array(), 'a.docx').fault).toBe('empty')
  expect(describeFile(whole, 'a.docx').fault).toBeNull()
  expect(describeFile(whole, 'a.xlsx').fault).toBe('damaged')
  expect(describeFile(whole.slice(0, whole.length >> 1), 'a.docx').fault).toBe('damaged')
  expect(describeFile(new TextEncoder().encode('%PDF-1.7'), 'a.pdf').fault).toBeNull()
  expect(describeFile(new TextEncoder().encode('not one'), 'a.pdf').fault).toBe('damaged')
  expect(describeFile(new Uint8Array(3), 'a.dwg').fault).toBeNull()
})

test('whatever bytes there are, an answer comes, and of torn files no error', () => {
  const whole = writeZip([
    ['word/document.xml', '<w:document><w:p><w:t>words</w:t></w:p>&#x110000;&#0;&nothing;</w:document>'],
    ['docProps/core.xml', '<dcterms:modified>2021-13-45T99:99:99Z</dcterms:modified><dc:title></dc:title>'],
  ])
  expect(describeFile(whole, 'a.docx')).toMatchObject({ fault: null, at: null, title: '' })
  const type = fc.constantFrom('docx', 'xlsx', 'odt', 'ods', 'csv', 'txt', 'pdf', 'png', 'xyz')
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 400 }), type, fc.nat(), fc.nat(255), (bytes, ending, at, value) => {
      const torn = whole.slice()
      torn[at % torn.length] = value
      for (const one of [bytes, torn]) {
        const { fault, sketch } = describeFile(one, `a.${ending}`)
        expect([null, 'empty', 'damaged', 'protected']).toContain(fault)
        expect([...sketch]).toEqual([...new Set(sketch)].sort((a, b) => a - b))
      }
    }),
    { numRuns: 400 },
  )
})
