import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { ruleKey } from '../../content/entry-rules'
import { plain, trimmed } from '../../content/looks.arbitrary'
import type { Cell, Sheet, Workbook } from '../../content/workbook'
import { anyHistory, opFor } from '../../content/workbook.arbitrary'
import { applyOps, type WorkbookOp } from '../../content/workbook-ops'
import { blankParts } from '../odf/blank'
import { openZip, writeZip } from '../opc/zip'
import { DamagedFile, NotPatched } from '../refusals'
import { typeOfBytes } from '../signature'
import { dataStylesOf } from './number-format'
import { patchOds } from './patch'
import { readOds } from './read'
import { odsOf } from './testing'
import { lostInOds, writeOds } from './write'

const contentOf = (bytes: Uint8Array) => new TextDecoder().decode(openZip(bytes).read('content.xml'))
/** A workbook as it is read where nothing is lost. */
const comparable = (workbook: Workbook) => {
  const { sheets } = trimmed(plain(workbook))
  // Two codes may say one format.
  const said = (cell: Cell | undefined) =>
    cell?.style?.format ? { ...cell, style: { ...cell.style, format: dataStylesOf(cell.style.format, 'N') } } : cell
  return sheets.map((sheet) => ({
    ...sheet,
    rows: sheet.rows.map((row) => row?.map(said)),
    rules: sheet.rules?.map(ruleKey).sort(),
  }))
}

describe('an .ods', () => {
  test('read back is the workbook that was written, with its looks and names, or what is lost is told', () => {
    let whole = 0
    fc.assert(
      fc.property(anyHistory(10), ({ end }) => {
        const names = [{ name: 'Total', sheet: null, formula: `'${end.sheets[0]!.name.replaceAll("'", "''")}'!$A$1` }]
        const { bytes, lost } = writeOds({ workbook: end, resultOf: () => 7, names })
        expect(typeOfBytes(bytes)).toBe('ods')
        const again = readOds(bytes)
        if (lost.length) return
        whole++
        expect(comparable(again.workbook)).toEqual(comparable(end))
        expect(again.source.names.map(({ name }) => name)).toEqual(['Total'])
      }),
      { numRuns: 60 },
    )
    expect(whole).toBeGreaterThan(10)
  })

  test('edits of cells, widths and frozen lines are read back as the work, and what is beside stays', () => {
    const session = anyHistory(6).chain(({ end }) => {
      const base = readOds(writeOds({ workbook: end, resultOf: () => 7 }).bytes).workbook
      return fc
        .array(
          opFor(base).filter(({ op }) => /^(?:cells|width|freeze|merge|unmerge|height|hide|filter|rules)$/.test(op)),
          { minLength: 1, maxLength: 6 },
        )
        .map((ops) => ({ end, ops }))
    })
    fc.assert(
      fc.property(session, ({ end, ops }) => {
        const base = writeOds({ workbook: end, resultOf: () => 7 }).bytes
        const read = readOds(base)
        const now = applyOps(read.workbook, ops)
        const resultOf = () => 11
        const bytes = patchOds({ base, read, ops, workbook: now, resultOf })
        const again = readOds(bytes)
        for (const { feature } of lostInOds({ workbook: now, resultOf }, bytes))
          expect(feature).toMatch(/^(formulas|values|number formats)/)
        const around = ({ widths, merged, heights, hiddenRows, hiddenColumns, filter, rules }: Sheet) => ({
          filter,
          rules: rules?.map(ruleKey).sort(),
          widths,
          merged,
          heights,
          hiddenRows,
          hiddenColumns,
        })
        expect(again.workbook.sheets.map(around)).toEqual(now.sheets.map(around))
        expect(again.workbook.sheets.map(({ frozen }) => frozen)).toEqual(
          now.sheets.map(({ frozen }) => (frozen?.rows || frozen?.columns ? frozen : undefined)),
        )
        expect(openZip(bytes).read('styles.xml')).toEqual(openZip(base).read('styles.xml'))
      }),
      { numRuns: 60 },
    )
  })

  test('edits that are none leave every byte', () => {
    const base = writeOds({
      workbook: { sheets: [{ name: 'A', rows: [[{ value: 1 }]], widths: {} }] },
      resultOf: () => undefined,
    }).bytes
    const read = readOds(base)
    expect(patchOds({ base, read, ops: [], workbook: read.workbook, resultOf: () => undefined })).toBe(base)
  })
})

/** A sheet as other programs write it: repeated rows and cells, merged ones, a comment, a chart, a filter. */
const levels = odsOf(
  '<table:content-validations><table:content-validation table:name="v"/></table:content-validations>' +
    '<table:table table:name="Levels" table:style-name="ta"><table:table-column table:style-name="co" table:number-columns-repeated="3"/><table:table-column table:number-columns-repeated="16381" table:default-cell-style-name="Bold"/>' +
    '<table:table-header-rows><table:table-row table:style-name="ro"><table:table-cell table:style-name="ce" office:value-type="string" table:number-columns-spanned="2" table:number-rows-spanned="1"><office:annotation><text:p>From the log.</text:p></office:annotation><text:p>Lock <text:span text:style-name="T">seven</text:span></text:p></table:table-cell><table:covered-table-cell/><table:table-cell office:value-type="date" office:date-value="2026-10-14"><text:p>14/10/26</text:p></table:table-cell></table:table-row></table:table-header-rows>' +
    '<table:table-row table:number-rows-repeated="4"><table:table-cell office:value-type="float" office:value="1.5" table:number-columns-repeated="3"><text:p>1.5</text:p></table:table-cell></table:table-row>' +
    '<table:table-row><table:table-cell table:formula="of:=SUM([.A2:.A5])*COM.EXAMPLE.IFS(1;2)" office:value-type="float" office:value="12"><text:p>12</text:p></table:table-cell><table:table-cell office:value-type="percentage" office:value="0.5" table:style-name="pc"><text:p>50%</text:p></table:table-cell><table:table-cell table:formula="of:=1/0" office:value-type="string" office:string-value="#DIV/0!"><text:p>#DIV/0!</text:p></table:table-cell><table:table-cell office:value-type="time" office:time-value="PT06H30M00S"><text:p>06:30</text:p></table:table-cell></table:table-row>' +
    '<table:table-row table:number-rows-repeated="1048570"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>' +
    '<table:shapes><draw:frame><draw:object xlink:href="./Object 1"/></draw:frame></table:shapes></table:table>' +
    '<table:named-expressions><table:named-range table:name="All" table:base-cell-address="$Levels.$A$1" table:cell-range-address="$Levels.$A$2:.$C$5"/></table:named-expressions>' +
    '<table:database-ranges><table:database-range table:display-filter-buttons="true" table:target-range-address="Levels.A1:Levels.C5"/></table:database-ranges>',
  '<style:style style:name="co" style:family="table-column"><style:table-column-properties style:column-width="1in"/></style:style>' +
    '<style:style style:name="ro" style:family="table-row"><style:table-row-properties style:row-height="0.5in" style:use-optimal-row-height="false"/></style:style>' +
    '<style:style style:name="ce" style:family="table-cell" style:parent-style-name="Default"><style:table-cell-properties fo:border-bottom="2pt solid #112233" fo:background-color="#ffeecc" style:rotation-angle="90"/><style:text-properties fo:font-weight="bold" fo:letter-spacing="1pt"/></style:style>' +
    '<number:percentage-style style:name="N1"><number:number number:decimal-places="1" number:min-integer-digits="1"/><number:text>%</number:text></number:percentage-style>' +
    '<style:style style:name="pc" style:family="table-cell" style:parent-style-name="Default" style:data-style-name="N1"/>',
)

test('a sheet of another program is read with what it repeats, how it looks, and what it has beside', () => {
  const { workbook, results, looks, source, limits } = readOds(levels)
  const [sheet] = workbook.sheets
  expect(sheet!.rows).toHaveLength(6)
  expect(sheet!.rows[0]).toEqual([
    { value: 'Lock seven', style: { bold: true, fill: '#ffeecc', bottom: '2 solid #112233' } },
    undefined,
    { value: 46_309, style: { format: 'yyyy-mm-dd' } },
  ])
  for (const row of [1, 2, 3, 4]) expect(sheet!.rows[row]).toEqual([{ value: 1.5 }, { value: 1.5 }, { value: 1.5 }])
  expect(sheet!.rows[5]).toEqual([
    { formula: 'SUM(A2:A5)*_xlfn.IFS(1,2)' },
    { value: 0.5, style: { format: '0.0%' } },
    { formula: '1/0' },
    { value: 6.5 / 24, style: { format: 'hh:mm:ss' } },
  ])
  expect([...results[0]!]).toEqual([
    [5 * 16_384, 12],
    [5 * 16_384 + 2, { error: '#DIV/0!' }],
  ])
  expect(sheet!.widths).toEqual({ 0: 96, 1: 96, 2: 96 })
  expect(sheet!.filter).toEqual({ area: { top: 0, left: 0, bottom: 4, right: 2 }, columns: {} })
  expect(looks[0]).toMatchObject({ merged: [{ top: 0, left: 0, bottom: 0, right: 1 }], heights: new Map([[0, 36]]) })
  expect(looks[0]!.cells.get(0)).toEqual({ bottom: { width: 2, line: 'solid', color: '#112233' } })
  expect(source.names).toEqual([{ name: 'All', sheet: null, formula: 'Levels!$A$2:$C$5' }])
  expect(limits.map(({ feature }) => feature).toSorted()).toEqual(
    [
      'cells with borders',
      'charts',
      'comments',
      'formats inside a cell’s text',
      // Turned text, which is kept and not shown.
      'looks of cells',
      'merged cells (their content stays in the first one)',
      'row heights',
    ].toSorted(),
  )
})

test('one cell that changes is all that changes, also among those that are said once for many', () => {
  const read = readOds(levels)
  const after = (
    cells: { row: number; column: number; cell: object | null }[],
    resultOf = (): number | undefined => undefined,
  ) => {
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: cells as never }]
    const workbook = applyOps(read.workbook, ops)
    const bytes = patchOds({ base: levels, read, ops, workbook, resultOf })
    expect(comparable(readOds(bytes).workbook)).toEqual(comparable(workbook))
    return contentOf(bytes)
  }
  const before = contentOf(levels)
  const run =
    '<table:table-cell office:value-type="float" office:value="1.5" table:number-columns-repeated="3"><text:p>1.5</text:p></table:table-cell>'
  const one = '<table:table-cell office:value-type="float" office:value="1.5"><text:p>1.5</text:p></table:table-cell>'
  expect(after([{ row: 2, column: 1, cell: { value: 4 } }])).toBe(
    before.replace(
      `<table:table-row table:number-rows-repeated="4">${run}</table:table-row>`,
      `<table:table-row>${run}</table:table-row><table:table-row>${one}<table:table-cell office:value-type="float" office:value="4"><text:p>4</text:p></table:table-cell>${one}</table:table-row><table:table-row table:number-rows-repeated="2">${run}</table:table-row>`,
    ),
  )
  // Its comment, its span and its look stay.
  expect(
    after([
      { row: 0, column: 0, cell: { value: 'Weir', style: { bold: true, fill: '#ffeecc', bottom: '2 solid #112233' } } },
    ]),
  ).toBe(
    before
      .replace('<text:p>Lock <text:span text:style-name="T">seven</text:span></text:p>', '<text:p>Weir</text:p>')
      .replace(
        'table:style-name="ce" office:value-type="string" table:number-columns-spanned="2" table:number-rows-spanned="1"',
        'table:style-name="ce" table:number-columns-spanned="2" table:number-rows-spanned="1" office:value-type="string"',
      ),
  )
  // Another look keeps what of it nobody changed here.
  const looked = after([
    { row: 0, column: 0, cell: { value: 'Lock seven', style: { italic: true, bottom: '2 solid #112233' } } },
  ])
  expect(looked).toMatch(
    /style:name="Jc1"[^>]*><style:table-cell-properties style:rotation-angle="90" fo:border-bottom="1.75pt solid #112233"\/><style:text-properties fo:letter-spacing="1pt" fo:font-style="italic"/,
  )
  // Far below and far to the right.
  expect(after([{ row: 20, column: 5, cell: { value: true } }])).toContain(
    '<table:table-row table:number-rows-repeated="14"><table:table-cell table:number-columns-repeated="16384"/></table:table-row><table:table-row><table:table-cell table:number-columns-repeated="5"/><table:table-cell office:value-type="boolean" office:boolean-value="true"><text:p>TRUE</text:p></table:table-cell>',
  )
  // What a formula comes to now is written where it stands.
  expect(after([{ row: 1, column: 0, cell: { value: 3 } }], () => 15)).toContain(
    'table:formula="of:=SUM([.A2:.A5])*COM.EXAMPLE.IFS(1;2)" office:value-type="float" office:value="15"><text:p>15</text:p>',
  )
})

test('what is lost where a file is written whole is told when it is opened', () => {
  const bytes = odsOf(
    '<table:table table:name="A" table:print-ranges="A.A1:A.B2"><table:table-column table:default-cell-style-name="B"/><table:table-row-group><table:table-row table:style-name="R"><table:table-cell table:style-name="C" office:value-type="float" office:value="1"/></table:table-row></table:table-row-group><table:table-row table:number-rows-repeated="5000"><table:table-cell table:style-name="B"/></table:table-row></table:table>',
    '<style:style style:name="B" style:family="table-cell"><style:text-properties fo:font-weight="bold"/></style:style><style:style style:name="C" style:family="table-cell"><style:table-cell-properties style:rotation-angle="45"/><style:map style:condition="cell-content()&gt;1" style:apply-style-name="B"/></style:style><style:style style:name="R" style:family="table-row"><style:table-row-properties fo:break-before="page"/></style:style>',
  )
  expect(readOds(bytes).limits.map(({ feature, count }) => [feature, count])).toEqual([
    ['looks of cells', 3],
    ['page breaks', 1],
    ['groups of rows and columns', 1],
    ['page set-up', 1],
    ['conditional formats', 1],
  ])
})

test('rows that come or go are no edit of cells', () => {
  const read = readOds(levels)
  const ops: WorkbookOp[] = [{ op: 'insert', sheet: 0, axis: 'rows', at: 1, count: 1 }]
  const workbook = applyOps(read.workbook, ops)
  expect(() => patchOds({ base: levels, read, ops, workbook, resultOf: () => undefined })).toThrow(NotPatched)
})

test('what else the settings of a file say stays where other rows stay in sight', () => {
  const said =
    '<office:document-settings xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:config="urn:oasis:names:tc:opendocument:xmlns:config:1.0"><office:settings><config:config-item-map-named config:name="Tables"><config:config-item-map-entry config:name="Levels"><config:config-item config:name="CursorPositionX" config:type="int">4</config:config-item><config:config-item config:name="VerticalSplitMode" config:type="short">0</config:config-item></config:config-item-map-entry></config:config-item-map-named><config:config-item config:name="Zoom" config:type="short">80</config:config-item></office:settings></office:document-settings>'
  const base = odsOf(
    '<table:table table:name="Levels"><table:table-column/><table:table-row><table:table-cell/></table:table-row></table:table>',
    '',
    [['settings.xml', said]],
  )
  const read = readOds(base)
  const freeze = (bytes: Uint8Array, frozen: { rows: number; columns: number } | null) => {
    const ops: WorkbookOp[] = [{ op: 'freeze', sheet: 0, frozen }]
    const from = readOds(bytes)
    return patchOds({ base: bytes, read: from, ops, workbook: applyOps(from.workbook, ops), resultOf: () => undefined })
  }
  const now = freeze(base, { rows: 2, columns: 0 })
  expect(readOds(now).workbook.sheets[0]!.frozen).toEqual({ rows: 2, columns: 0 })
  const settings = new TextDecoder().decode(openZip(now).read('settings.xml'))
  expect(settings).toContain('config:name="CursorPositionX" config:type="int">4<')
  expect(settings).toContain('config:name="Zoom" config:type="short">80<')
  expect(contentOf(now)).toBe(contentOf(base))
  expect(readOds(freeze(now, null)).workbook).toEqual(read.workbook)
  // A file without settings has no place for it.
  expect(() =>
    freeze(odsOf('<table:table table:name="A"><table:table-row/></table:table>'), { rows: 1, columns: 0 }),
  ).toThrow(NotPatched)
})

test('rows and columns that stay in sight are said in its settings', () => {
  const workbook: Workbook = {
    sheets: [{ name: 'A "b" & c', rows: [[{ value: 1 }]], widths: {}, frozen: { rows: 1, columns: 2 } }],
  }
  const { bytes, lost } = writeOds({ workbook, resultOf: () => undefined })
  expect([lost, readOds(bytes).workbook]).toEqual([[], workbook])
})

test.each([
  ['a text of the open standard', writeZip(blankParts('text', { body: '<office:text/>' })), 'content.xml'],
  ['one without sheets', odsOf(''), 'it-has-no'],
  [
    'more cells than a sheet has room for',
    odsOf(
      '<table:table table:name="A"><table:table-row table:number-rows-repeated="1048576"><table:table-cell table:number-columns-repeated="999" office:value-type="float" office:value="1"/></table:table-row></table:table>',
    ),
    'more-than-cells|too-far-apart',
  ],
])('%s is not opened', (_, bytes, reason) => {
  expect(() => readOds(bytes)).toThrow(DamagedFile)
  expect(() => readOds(bytes)).toThrow(new RegExp(reason))
})

test('cells are merged and divided, rows and columns hidden, where they are said once for many; the rest is its own letters', () => {
  const read = readOds(levels)
  const ops: WorkbookOp[] = [
    { op: 'unmerge', sheet: 0, areas: [{ top: 0, left: 0, bottom: 0, right: 1 }] },
    { op: 'merge', sheet: 0, areas: [{ top: 2, left: 0, bottom: 3, right: 1 }] },
    { op: 'hide', sheet: 0, axis: 'rows', spans: [[4, 4]], hidden: true },
    { op: 'hide', sheet: 0, axis: 'columns', spans: [[1, 1]], hidden: true },
    { op: 'height', sheet: 0, spans: [[0, 0]], height: null },
    { op: 'height', sheet: 0, spans: [[20, 20]], height: 40 },
  ]
  const now = applyOps(read.workbook, ops)
  const bytes = patchOds({ base: levels, read, ops, workbook: now, resultOf: () => undefined })
  const [sheet] = readOds(bytes).workbook.sheets
  const { merged, heights, hiddenRows, hiddenColumns, rows } = sheet!
  expect({ merged, heights, hiddenRows, hiddenColumns }).toEqual({
    merged: [{ top: 2, left: 0, bottom: 3, right: 1 }],
    heights: { 20: 40 },
    hiddenRows: [4],
    hiddenColumns: [1],
  })
  expect(rows).toEqual(now.sheets[0]!.rows)
  const xml = contentOf(bytes)
  // Its comment and the look inside of its text stay where it covers nothing any more.
  expect(xml).toContain(
    '<table:table-cell table:style-name="ce" office:value-type="string"><office:annotation><text:p>From the log.</text:p></office:annotation><text:p>Lock <text:span text:style-name="T">seven</text:span></text:p></table:table-cell><table:table-cell/>',
  )
  expect(xml).toContain('<table:table-column table:style-name="co" table:visibility="collapse"/>')
  // Two rows of four, each cell of the area said for itself; what is covered keeps what it held.
  expect(xml).toContain('table:number-columns-spanned="2" table:number-rows-spanned="2"')
  expect(xml.match(/<table:covered-table-cell /g)).toHaveLength(3)
  expect(xml).toContain('COM.EXAMPLE.IFS(1;2)')
})
