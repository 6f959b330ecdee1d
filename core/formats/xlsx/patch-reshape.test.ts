// Rows, columns and names that change, in everything that refers to them.
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import type { Workbook } from '../../content/workbook'
import { applyOps, invertOp, type WorkbookOp } from '../../content/workbook-ops'
import { NotPatched } from '../refusals'
import { patchXlsx } from './patch'
import { readXlsx } from './read'

const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'
const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const relations = (...all: [id: string, kind: string, target: string][]) =>
  `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${all.map(([id, kind, target]) => `<Relationship Id="${id}" Type="${office}/${kind}" Target="${target}"/>`).join('')}</Relationships>`

/** The standard's element for looks that depend on a rule (§18.3.1.18). */
const looks = `conditional${'For'}${'matting'}`
const around = {
  before:
    '<sheetPr/><dimension ref="A1:F9"/><sheetViews><sheetView workbookViewId="0" topLeftCell="A5"><selection activeCell="B6" sqref="B6:B7 D2"/></sheetView></sheetViews><cols><col min="2" max="3" width="9" style="0" customWidth="1"/></cols>',
  after: `<sheetProtection sheet="1"/><protectedRanges><protectedRange sqref="A5:A6" name="p"/></protectedRanges><autoFilter ref="A1:C9"><filterColumn colId="0"/></autoFilter><mergeCells count="2"><mergeCell ref="A2:B3"/><mergeCell ref="D6:E7"/></mergeCells><${looks} sqref="B2:B9"><cfRule type="expression" priority="1"><formula>$B5&gt;Other!$A$6</formula></cfRule></${looks}><dataValidations count="1"><dataValidation type="list" sqref="C2:C9"><formula1>$E$5:$E$8</formula1></dataValidation></dataValidations><hyperlinks><hyperlink ref="A7" location="Levels!B7"/></hyperlinks><rowBreaks count="1" manualBreakCount="1"><brk id="6" max="16383" man="1"/></rowBreaks><drawing r:id="rId1"/><legacyDrawing r:id="rId3"/><tableParts count="1"><tablePart r:id="rId4"/></tableParts><extLst><ext xmlns:x14="x14" xmlns:xm="xm"><x14:sparklineGroups><x14:sparklineGroup><x14:sparklines><x14:sparkline><xm:f>Levels!B2:B8</xm:f><xm:sqref>F5</xm:sqref></x14:sparkline></x14:sparklines></x14:sparklineGroup></x14:sparklineGroups></ext></extLst>`,
}
const row = (number: number, ...cells: string[]) => `<row r="${number}" ht="20">${cells.join('')}</row>`
const cell = (address: string, inner: string) => `<c r="${address}">${inner}</c>`
const rows = [
  row(1, cell('A1', '<v>1</v>'), cell('B1', '<f>SUM(A1:A9)</f><v>45</v>')),
  row(4, cell('A4', '<v>4</v>'), cell('B4', '<f t="shared" ref="B4:B6" si="0">A4*2</f><v>8</v>')),
  row(5, cell('A5', '<v>5</v>'), cell('B5', '<f t="shared" si="0"/><v>10</v>')),
  row(6, cell('A6', '<v>6</v>'), cell('B6', '<f t="shared" si="0"/><v>12</v>')),
  row(9, cell('A9', '<v>9</v>'), cell('C9', '<f t="array" ref="C9">SUM(A1:A9*1)</f><v>45</v>')),
]
const parts: Record<string, string> = {
  '_rels/.rels': relations(['rId1', 'officeDocument', 'xl/workbook.xml']),
  '[Content_Types].xml': `${head}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`,
  'xl/workbook.xml': `${head}<workbook xmlns="${main}" xmlns:r="${office}"><sheets><sheet name="Levels" sheetId="1" r:id="rId1"/><sheet name="Other" sheetId="2" r:id="rId2"/></sheets><definedNames><definedName name="_xlnm.Print_Area" localSheetId="0">Levels!$A$1:$F$9</definedName><definedName name="rate">Levels!$A$6</definedName><definedName name="elsewhere">Other!$A$6</definedName></definedNames></workbook>`,
  'xl/_rels/workbook.xml.rels': relations(
    ['rId1', 'worksheet', 'worksheets/sheet1.xml'],
    ['rId2', 'worksheet', 'worksheets/sheet2.xml'],
  ),
  'xl/worksheets/sheet1.xml': `${head}<worksheet xmlns="${main}" xmlns:r="${office}">${around.before}<sheetData>${rows.join('')}</sheetData>${around.after}</worksheet>`,
  'xl/worksheets/_rels/sheet1.xml.rels': relations(
    ['rId1', 'drawing', '../drawings/drawing1.xml'],
    ['rId2', 'comments', '../comments1.xml'],
    ['rId3', 'vmlDrawing', '../drawings/vml1.vml'],
    ['rId4', 'table', '../tables/table1.xml'],
  ),
  'xl/worksheets/sheet2.xml': `${head}<worksheet xmlns="${main}"><sheetData>${row(6, cell('A6', '<f>Levels!A6+A6</f><v>6</v>'))}</sheetData></worksheet>`,
  'xl/drawings/drawing1.xml':
    '<xdr:wsDr xmlns:xdr="d"><xdr:twoCellAnchor><xdr:from><xdr:col>3</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>5</xdr:row></xdr:from><xdr:to><xdr:col>5</xdr:col><xdr:row>8</xdr:row></xdr:to></xdr:twoCellAnchor></xdr:wsDr>',
  'xl/drawings/vml1.vml':
    '<xml xmlns:x="x"><x:ClientData><x:Anchor>1, 15, 5, 2, 3, 15, 8, 4</x:Anchor><x:Row>5</x:Row><x:Column>0</x:Column></x:ClientData></xml>',
  'xl/charts/chart1.xml':
    '<c:chart xmlns:c="c"><c:f>Levels!$B$4:$B$9</c:f><c:f>Other!$B$4:$B$9</c:f><c:v>B4</c:v></c:chart>',
  'xl/comments1.xml': `<comments xmlns="${main}"><commentList><comment ref="A6" authorId="0"/><comment ref="A1" authorId="0"/></commentList></comments>`,
  'xl/tables/table1.xml': `<table xmlns="${main}" ref="A3:B9"><autoFilter ref="A3:B9"/><tableColumns count="2"><tableColumn id="1" name="A5"><calculatedColumnFormula>Levels!$A$6*2</calculatedColumnFormula></tableColumn></tableColumns></table>`,
  'xl/pivotCache/pivotCacheDefinition1.xml': `<pivotCacheDefinition xmlns="${main}"><cacheSource type="worksheet"><worksheetSource ref="A4:B9" sheet="Levels"/></cacheSource></pivotCacheDefinition>`,
}
const base = zipSync(Object.fromEntries(Object.entries(parts).map(([name, xml]) => [name, strToU8(xml)])))
function saved(...ops: WorkbookOp[]): (part: string) => string {
  const read = readXlsx(base)
  const workbook = applyOps(read.workbook, ops)
  const bytes = patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })
  expect(readXlsx(bytes).workbook).toEqual(workbook)
  const all = unzipSync(bytes)
  return (part) => strFromU8(all[part]!)
}
const insertRows: WorkbookOp = { op: 'insert', sheet: 0, axis: 'rows', at: 4, count: 2 }

describe('two rows before the fifth', () => {
  const partNow = saved(insertRows)
  test.each([
    ['xl/worksheets/sheet1.xml', 'dimension ref="A1:F11"', 'topLeftCell="A7"', 'activeCell="B8" sqref="B8:B9 D2"'],
    [
      'xl/worksheets/sheet1.xml',
      'protectedRange sqref="A7:A8"',
      'autoFilter ref="A1:C11"',
      'mergeCells count="2"',
      'mergeCell ref="A2:B3"',
      'mergeCell ref="D8:E9"',
    ],
    [
      'xl/worksheets/sheet1.xml',
      'sqref="B2:B11"',
      '<formula>$B7&gt;Other!$A$6</formula>',
      'sqref="C2:C11"',
      '<formula1>$E$7:$E$10</formula1>',
    ],
    [
      'xl/worksheets/sheet1.xml',
      'hyperlink ref="A9" location="Levels!B9"',
      'brk id="8" max="16383"',
      '<xm:f>Levels!B2:B10</xm:f><xm:sqref>F7</xm:sqref>',
    ],
    [
      'xl/worksheets/sheet1.xml',
      row(4, cell('A4', '<v>4</v>')).slice(0, -6),
      '<row r="7" ht="20"><c r="A7"><v>5</v></c>',
      '<f>SUM(A1:A11)</f>',
      '<f t="array" ref="C11">SUM(A1:A11*1)</f>',
    ],
    ['xl/worksheets/sheet2.xml', '<row r="6" ht="20"><c r="A6"><f>Levels!A8+A6</f>'],
    ['xl/workbook.xml', 'Levels!$A$1:$F$11', '>Levels!$A$8<', '>Other!$A$6<'],
    ['xl/drawings/drawing1.xml', '<xdr:row>7</xdr:row>', '<xdr:row>10</xdr:row>', '<xdr:col>3</xdr:col>'],
    ['xl/drawings/vml1.vml', '1, 15, 7, 2, 3, 15, 10, 4', '<x:Row>7</x:Row><x:Column>0</x:Column>'],
    ['xl/charts/chart1.xml', 'Levels!$B$4:$B$11', 'Other!$B$4:$B$9', '<c:v>B4</c:v>'],
    ['xl/comments1.xml', 'comment ref="A8"', 'comment ref="A1"'],
    ['xl/tables/table1.xml', 'table xmlns', 'ref="A3:B11"><autoFilter ref="A3:B11"', 'name="A5"', 'Levels!$A$8*2'],
    ['xl/pivotCache/pivotCacheDefinition1.xml', 'ref="A4:B11" sheet="Levels"'],
  ])('%s', (part, ...expected) => {
    for (const one of expected) expect(partNow(part)).toContain(one)
  })
  test('taken back, they leave the very bytes', () => {
    const read = readXlsx(base)
    const { sheet } = insertRows
    const { name } = read.workbook.sheets[sheet]!
    const ops: WorkbookOp[] = [
      insertRows,
      { op: 'rename sheet', sheet, name: 'Called otherwise' },
      { op: 'rename sheet', sheet, name: 'Called yet otherwise' },
      { op: 'rename sheet', sheet, name: 'Called otherwise' },
      { op: 'rename sheet', sheet, name },
      { ...insertRows, op: 'remove' },
    ]
    const workbook = applyOps(read.workbook, ops)
    expect(patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })).toBe(base)
  })
})
test('rows that go take what stands on them along, and what is left of ranges stays', () => {
  const partNow = saved({ op: 'remove', sheet: 0, axis: 'rows', at: 5, count: 2 })
  const sheet = partNow('xl/worksheets/sheet1.xml')
  expect(sheet).toContain('mergeCells count="1"><mergeCell ref="A2:B3"/></mergeCells>')
  expect(sheet).not.toContain('<hyperlink')
  expect(sheet).toContain('protectedRange sqref="A5:A5"')
  expect(sheet).toContain('brk id="5"')
  expect(partNow('xl/comments1.xml')).not.toContain('ref="A6"')
  expect(partNow('xl/workbook.xml')).toContain('name="rate">Levels!#REF!<')
  expect(partNow('xl/tables/table1.xml')).toContain('ref="A3:B7"')
})
test('columns go and come with their widths', () => {
  const more = saved({ op: 'insert', sheet: 0, axis: 'columns', at: 2, count: 1 })('xl/worksheets/sheet1.xml')
  expect(more).toContain('<col min="2" max="2" width="9" style="0" customWidth="1"/><col min="4" max="4" width="9"')
  expect(more).toContain('mergeCell ref="E6:F7"')
  expect(more).toContain('<c r="D9"><f t="array" ref="D9">')
  const fewer = saved({ op: 'remove', sheet: 0, axis: 'columns', at: 2, count: 1 })('xl/worksheets/sheet1.xml')
  expect(fewer).toContain('<cols><col min="2" max="2" width="9"')
  expect(fewer).toContain('mergeCell ref="C6:D7"')
  expect(fewer).not.toContain('dataValidation ')
})
test('what a table is made of is not taken from it: that is told before', () => {
  const read = readXlsx(base)
  for (const op of [
    { op: 'remove', sheet: 0, axis: 'rows', at: 2, count: 1 },
    { op: 'remove', sheet: 0, axis: 'columns', at: 1, count: 1 },
    { op: 'insert', sheet: 0, axis: 'columns', at: 1, count: 1 },
  ] satisfies WorkbookOp[])
    expect(() =>
      patchXlsx({
        base,
        read,
        workbook: applyOps(read.workbook, [op]),
        ops: [op],
        resultOf: () => undefined,
        isNew: () => false,
      }),
    ).toThrow(NotPatched)
})
test('a sheet that gets another name is called so wherever it is meant', () => {
  const partNow = saved({ op: 'rename sheet', sheet: 0, name: "Ida's levels" })
  expect(partNow('xl/workbook.xml')).toContain('<sheet name="Ida\'s levels" sheetId="1"')
  expect(partNow('xl/workbook.xml')).toContain("'Ida''s levels'!$A$1:$F$9")
  expect(partNow('xl/charts/chart1.xml')).toContain("'Ida''s levels'!$B$4:$B$9")
  expect(partNow('xl/worksheets/sheet2.xml')).toContain("<f>'Ida''s levels'!A6+A6</f>")
  expect(partNow('xl/worksheets/sheet1.xml')).toContain("location=\"'Ida''s levels'!B7\"")
  expect(partNow('xl/pivotCache/pivotCacheDefinition1.xml')).toContain('sheet="Ida\'s levels"')
})
describe('the list of sheets', () => {
  const put = (sheet: number, value: number | string): WorkbookOp => ({
    op: 'cells',
    sheet,
    cells: [{ row: 1, column: 1, cell: { value } }],
  })
  test('a new one has a part, an id and a type of its own, and names of one sheet stay with theirs', () => {
    const partNow = saved({ op: 'add sheet', at: 0, name: 'Dues & more' }, put(0, 5), {
      op: 'width',
      sheet: 0,
      column: 1,
      width: 120,
    })
    expect(partNow('xl/workbook.xml')).toContain(
      '<sheets><sheet name="Dues &amp; more" sheetId="3" r:id="rId3"/><sheet name="Levels" sheetId="1" r:id="rId1"/>',
    )
    expect(partNow('xl/workbook.xml')).toContain('name="_xlnm.Print_Area" localSheetId="1"')
    expect(partNow('xl/_rels/workbook.xml.rels')).toContain('Id="rId3"')
    expect(partNow('xl/worksheets/sheet3.xml')).toContain('<c r="B2"')
    expect(partNow('[Content_Types].xml')).toContain('PartName="/xl/worksheets/sheet3.xml"')
    expect(partNow('xl/worksheets/sheet1.xml')).toBe(parts['xl/worksheets/sheet1.xml'])
  })
  test('moved, they keep all that they have', () => {
    const partNow = saved({ op: 'move sheet', sheet: 0, to: 1 })
    expect(partNow('xl/workbook.xml')).toMatch(/<sheet name="Other"[^>]*><sheet name="Levels"/)
    expect(partNow('xl/workbook.xml')).toContain('localSheetId="1"')
    for (const name of Object.keys(parts)) if (name !== 'xl/workbook.xml') expect(partNow(name)).toBe(parts[name])
  })
  test('one that goes takes along what it alone led to, and what named it names nothing', () => {
    const read = readXlsx(base)
    const ops: WorkbookOp[] = [{ op: 'remove sheet', sheet: 0 }]
    const workbook = applyOps(read.workbook, ops)
    const bytes = patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })
    const all = unzipSync(bytes)
    for (const name of [
      'xl/worksheets/sheet1.xml',
      'xl/worksheets/_rels/sheet1.xml.rels',
      'xl/comments1.xml',
      'xl/tables/table1.xml',
      'xl/drawings/drawing1.xml',
    ])
      expect(all[name]).toBeUndefined()
    expect(strFromU8(all['xl/worksheets/sheet2.xml']!)).toBe(parts['xl/worksheets/sheet2.xml'])
    const main = strFromU8(all['xl/workbook.xml']!)
    expect(main).toContain('<sheets><sheet name="Other"')
    expect(main).not.toContain('Print_Area')
    expect(main).toContain('name="rate">#REF!<')
    expect(main).toContain('name="elsewhere">Other!$A$6<')
  })
  test('one that is put back is the file’s own again', () => {
    const read = readXlsx(base)
    const away: WorkbookOp = { op: 'remove sheet', sheet: 0 }
    const ops: WorkbookOp[] = [away, ...invertOp(read.workbook, away)]
    const workbook = applyOps(read.workbook, ops)
    expect(patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })).toBe(base)
  })
})
test('whatever is inserted, removed, renamed and written, one after the other, it reads back or is refused', () => {
  const op: fc.Arbitrary<WorkbookOp> = fc.oneof(
    fc
      .tuple(
        fc.constantFrom('insert' as const, 'remove' as const),
        fc.nat(1),
        fc.constantFrom('rows' as const, 'columns' as const),
        fc.nat(10),
        fc.integer({ min: 1, max: 3 }),
      )
      .map(([what, sheet, axis, at, count]) => ({ op: what, sheet, axis, at, count })),
    fc.tuple(fc.nat(1), fc.nat(8), fc.nat(5)).map(([sheet, row, column]) => ({
      op: 'cells' as const,
      sheet,
      cells: [{ row, column, cell: { value: 'new' } }],
    })),
    fc.constantFrom('Dues', 'A b').map((name) => ({ op: 'rename sheet' as const, sheet: 1, name })),
    fc.constantFrom<WorkbookOp>(
      { op: 'add sheet', at: 1, name: 'Fresh' },
      { op: 'move sheet', sheet: 0, to: 1 },
      { op: 'remove sheet', sheet: 1 },
    ),
  )
  let patched = 0
  let all = 0
  fc.assert(
    fc.property(fc.array(op, { minLength: 1, maxLength: 4 }), (ops) => {
      const read = readXlsx(base)
      let workbook: Workbook
      try {
        workbook = applyOps(read.workbook, ops)
      } catch {
        return
      }
      all++
      try {
        const bytes = patchXlsx({ base, read, workbook, ops, resultOf: () => undefined, isNew: () => false })
        expect(readXlsx(bytes).workbook.sheets.map(({ rows: all }) => all)).toEqual(
          workbook.sheets.map(({ rows: all }) => all),
        )
        patched++
      } catch (error) {
        expect(error).toBeInstanceOf(NotPatched)
      }
    }),
    { numRuns: 120 },
  )
  // The table in the middle of the sheet refuses much of what is done to its columns.
  expect(patched / all).toBeGreaterThan(0.4)
})
