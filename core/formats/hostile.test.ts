// Files that are made to harm, or by programs that go their own ways: refused with a sentence, or opened in bounds.
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { cellAt } from '../content/workbook'
import { patchDocx } from './docx/patch'
import { readDocx } from './docx/read'
import { writeDocx } from './docx/write'
import { writeZip } from './opc/zip'
import { DamagedFile } from './refusals'
import { patchXlsx } from './xlsx/patch'
import { readXlsx } from './xlsx/read'

const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const packages = 'http://schemas.openxmlformats.org/package/2006'
const words = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const sheets = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'

function docx(
  body: string,
  { prefix = '', main = 'word/document.xml', named = 'word/document.xml', more = [] as [string, string][] } = {},
) {
  const p = prefix ? `${prefix}:` : ''
  const xmlns = prefix ? `xmlns:${prefix}` : 'xmlns'
  return writeZip([
    [
      '[Content_Types].xml',
      `<Types xmlns="${packages}/content-types"><Default Extension="xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/></Types>`,
    ],
    [
      '_rels/.rels',
      `<${p}Relationships ${xmlns}="${packages}/relationships"><${p}Relationship Id="r1" Type="${office}/officeDocument" Target="${named}"/></${p}Relationships>`,
    ],
    [main, `<w:document xmlns:w="${words}"><w:body>${body}</w:body></w:document>`],
    ...more,
  ])
}
function xlsx(data: string, sheetList = '<sheet name="Locks" sheetId="1" r:id="r1"/>') {
  return writeZip([
    [
      '[Content_Types].xml',
      `<Types xmlns="${packages}/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/s.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>`,
    ],
    [
      '_rels/.rels',
      `<Relationships xmlns="${packages}/relationships"><Relationship Id="r1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    ],
    ['xl/workbook.xml', `<workbook xmlns="${sheets}" xmlns:r="${office}"><sheets>${sheetList}</sheets></workbook>`],
    [
      'xl/_rels/workbook.xml.rels',
      `<Relationships xmlns="${packages}/relationships"><Relationship Id="r1" Type="${office}/worksheet" Target="s.xml"/></Relationships>`,
    ],
    ['xl/s.xml', `<worksheet xmlns="${sheets}"><sheetData>${data}</sheetData></worksheet>`],
  ])
}
const row = (cell: string, before = '') =>
  `<w:tr><w:trPr>${before}</w:trPr><w:tc><w:tcPr>${cell}</w:tcPr><w:p><w:r><w:t>Sound</w:t></w:r></w:p></w:tc></w:tr>`
const table = (...rows: string[]) => `<w:tbl>${rows.join('')}</w:tbl>`

describe('tables with columns beyond all measure', () => {
  test.each([
    ['<w:gridSpan w:val="abc"/>', ''],
    ['<w:gridSpan w:val="2.5"/>', ''],
    ['<w:gridSpan w:val="-3"/>', ''],
    ['', '<w:gridBefore w:val="abc"/>'],
  ])('%s%s is as if nothing were said', (cell, before) => {
    const { doc } = readDocx(docx(table(row(cell, before))))
    expect(doc.textContent).toBe('Sound')
    expect(doc.firstChild!.firstChild!.childCount).toBe(1)
  })
  test.each([
    ['<w:gridSpan w:val="1000000000"/>', ''],
    ['', '<w:gridBefore w:val="1000000000"/>'],
    ['', '<w:gridBefore w:val="1000000"/>'],
  ])('%s%s is refused at once', (cell, before) => {
    expect(() => readDocx(docx(table(row(cell, before))))).toThrow(DamagedFile)
  })
  test('many rows that are each as wide as can be are refused before they are filled', () => {
    const wide = row('', '<w:gridBefore w:val="900"/>')
    expect(() => readDocx(docx(table(...Array.from({ length: 1200 }, () => wide))))).toThrow(DamagedFile)
  })
})
test.each(['x', '2.5', '-1', '1e9', ''])('a list at level %j is one all the same', (level) => {
  const { nodes } = documentSchema
  const item = nodes.list_item.create(null, nodes.paragraph.create(null, documentSchema.text('Sound')))
  const parts = unzipSync(writeDocx(nodes.doc.create(null, nodes.bullet_list.create(null, item))))
  const xml = strFromU8(parts['word/document.xml']!).replace('<w:ilvl w:val="0"/>', `<w:ilvl w:val="${level}"/>`)
  const { doc } = readDocx(zipSync({ ...parts, 'word/document.xml': strToU8(xml) }))
  expect(doc.textContent).toBe('Sound')
  expect(doc.firstChild!.type.name).toMatch(/_list$/)
})
test('more paragraphs than can be held are refused', () => {
  expect(() => readDocx(docx('<w:p/>'.repeat(500_100)))).toThrow(/500,000/)
})
test('cells at the far end of many rows are refused before memory runs out', () => {
  const far = Array.from(
    { length: 20_000 },
    (_, index) => `<row r="${index + 1}"><c r="XFD${index + 1}"><v>1</v></c></row>`,
  )
  expect(() => readXlsx(xlsx(far.join('')))).toThrow(DamagedFile)
  expect(readXlsx(xlsx(far.slice(0, 500).join(''))).workbook.sheets[0]!.rows).toHaveLength(500)
})
test('a long formula that tens of thousands of cells share is refused before it stands in each', () => {
  const long = Array.from({ length: 1000 }, (_, index) => `A${index + 1}`).join('+')
  const shared = Array.from(
    { length: 60_000 },
    (_, index) =>
      `<row r="${index + 1}"><c r="B${index + 1}"><f t="shared" si="0"${index ? '/>' : ` ref="B1:B60000">${long}</f>`}<v>1</v></c></row>`,
  )
  expect(() => readXlsx(xlsx(shared.join('')))).toThrow(DamagedFile)
})

describe('what was refused by mistake', () => {
  test('relationships of the package with a prefix', () => {
    expect(readDocx(docx('<w:p><w:r><w:t>Open</w:t></w:r></w:p>', { prefix: 'ns0' })).doc.textContent).toBe('Open')
  })
  test('a part by its name in another case, also when it is saved', () => {
    const bytes = docx('<w:p><w:r><w:t>Open</w:t></w:r></w:p>', {
      main: 'word/document.xml',
      named: 'Word/Document.XML',
    })
    const { doc } = readDocx(bytes)
    expect(doc.textContent).toBe('Open')
    const changed = doc.type.create(
      doc.attrs,
      doc.type.schema.nodes.paragraph!.create(null, doc.type.schema.text('Shut')),
    )
    const saved = patchDocx(bytes, changed).bytes
    expect(readDocx(saved).doc.textContent).toBe('Shut')
  })
  test('a workbook with a sheet of macros that has no part', () => {
    const bytes = xlsx(
      '<row r="1"><c r="A1"><v>7</v></c></row>',
      '<sheet name="Locks" sheetId="1" r:id="r1"/><sheet name="Module1" sheetId="2" r:id=""/>',
    )
    const read = readXlsx(bytes)
    expect(read.workbook.sheets.map(({ name }) => name)).toEqual(['Locks'])
    const workbook = { sheets: [{ ...read.workbook.sheets[0]!, rows: [[{ value: 8 }]] }] }
    const ops = [{ op: 'cells' as const, sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 8 } }] }]
    const saved = patchXlsx({ base: bytes, read, workbook, ops, resultOf: () => undefined, isNew: () => false })
    expect(cellAt(readXlsx(saved).workbook.sheets[0], 0, 0)).toEqual({ value: 8 })
  })
  test('a header of a later section is told, unless it has no words', () => {
    const header = (text: string) =>
      docx(
        `<w:p><w:pPr><w:sectPr/></w:pPr></w:p><w:p/><w:sectPr><w:headerReference r:id="h1" xmlns:r="${office}"/></w:sectPr>`,
        {
          more: [
            [
              'word/_rels/document.xml.rels',
              `<Relationships xmlns="${packages}/relationships"><Relationship Id="h1" Type="${office}/header" Target="h.xml"/></Relationships>`,
            ],
            ['word/h.xml', `<w:hdr xmlns:w="${words}"><w:p><w:r><w:t>${text}</w:t></w:r></w:p></w:hdr>`],
          ],
        },
      )
    const told = (text: string) => readDocx(header(text)).limits.map(({ feature }) => feature)
    const section = 'sections with a page layout of their own'
    expect(told('')).toEqual([section])
    expect(told('Waterways')).toEqual([section, 'page headers'])
  })
})
