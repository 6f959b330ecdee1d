// Workbooks written into the files that they came from: files as other writers make them, edits at random, and what
// is compared afterwards is the raw XML.
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { type Cell, cellAt, columnName, type Workbook } from '../../content/workbook'
import { applyOps, cellDifferences, type WorkbookOp } from '../../content/workbook-ops'
import { NotPatched } from '../refusals'
import { patchXlsx } from './patch'
import { readXlsx } from './read'

const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\r\n'
const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const content = 'application/vnd.openxmlformats-officedocument.spreadsheetml'

interface Made {
  prefix: string
  /** Rows and cells say where they are. */
  located: boolean
  rows: (string | undefined)[][]
  shared: boolean
}
/** A sheet as another writer makes it: with much that Jaula knows nothing of. */
function sheetOf({ prefix: x, located, rows, shared }: Made): string {
  const cell = (made: string | undefined, row: number, column: number) =>
    made === undefined
      ? located
        ? ''
        : `<${x}c/>`
      : made
          .replace('<c', `<${x}c${located ? ` r="${columnName(column)}${row + 1}"` : ''}`)
          .replace(/(<\/?)([fvist]+)([ >/])/g, `$1${x}$2$3`)
          .replace('</c>', `</${x}c>`)
  const lines = rows.map(
    (line, row) =>
      `<${x}row${located ? ` r="${row + 1}" spans="1:4"` : ''} ht="${15 + row}" customHeight="1">${line.map((one, column) => cell(one, row, column)).join('')}</${x}row>`,
  )
  if (shared)
    for (let row = 0; row < 3; row++)
      lines.push(
        `<${x}row r="${rows.length + row + 1}"><${x}c r="B${rows.length + row + 1}" s="1"><${x}f t="shared" si="0"${row ? '/>' : ` ref="B${rows.length + 1}:B${rows.length + 3}">A${rows.length + 1}*2</${x}f>`}<${x}v>4</${x}v></${x}c></${x}row>`,
      )
  const name = x ? `xmlns:${x.slice(0, -1)}` : 'xmlns'
  return `${head}<${x}worksheet ${name}="${main}" xmlns:r="${office}"><${x}sheetPr><${x}tabColor rgb="FF00AA00"/></${x}sheetPr><${x}dimension ref="A1:D${rows.length + (shared ? 3 : 0)}"/><${x}sheetViews><${x}sheetView workbookViewId="0"><${x}selection activeCell="B2" sqref="B2"/></${x}sheetView></${x}sheetViews><${x}cols><${x}col min="2" max="4" width="12.5" style="1" customWidth="1"/></${x}cols><${x}sheetData>${lines.join('\n')}</${x}sheetData><${x}mergeCells count="1"><${x}mergeCell ref="C1:D1"/></${x}mergeCells><${x}pageSetup orientation="landscape"/></${x}worksheet>`
}
function fileOf(made: Made): Uint8Array {
  const parts: Record<string, string> = {
    '[Content_Types].xml': `${head}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${content}.sheet.main+xml"/><Override PartName="/xl/calcChain.xml" ContentType="${content}.calcChain+xml"/></Types>`,
    '_rels/.rels': `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `${head}<workbook xmlns="${main}" xmlns:r="${office}"><sheets><sheet name="Levels" sheetId="4" r:id="rId7"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId7" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId8" Type="${office}/styles" Target="styles.xml"/><Relationship Id="rId9" Type="${office}/calcChain" Target="calcChain.xml"/><Relationship Id="rId10" Type="${office}/sharedStrings" Target="sharedStrings.xml"/></Relationships>`,
    'xl/styles.xml': `${head}<styleSheet xmlns="${main}"><fonts count="2"><font><sz val="10"/><name val="Serif"/></font><font><b/><sz val="14"/><color rgb="FFAA3311"/><name val="Serif"/></font></fonts><fills count="1"><fill><patternFill patternType="none"/></fill></fills><borders count="2"><border/><border><left style="thin"/></border></borders><cellXfs count="2"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/><xf numFmtId="2" fontId="1" fillId="0" borderId="1" applyBorder="1"><alignment vertical="top"/><protection locked="0"/></xf></cellXfs></styleSheet>`,
    'xl/calcChain.xml': `${head}<calcChain xmlns="${main}"><c r="B9" i="4"/></calcChain>`,
    'xl/sharedStrings.xml': `${head}<sst xmlns="${main}"><si><t>Lock 7</t></si><si><r><rPr><b/></rPr><t>Water </t></r><r><t>level</t></r></si></sst>`,
    'xl/worksheets/sheet1.xml': sheetOf(made),
    'docProps/custom.xml': '<custom/>',
  }
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, xml]) => [name, strToU8(xml)])))
}
const cellXml = fc.constantFrom(
  undefined,
  '<c s="1"><v>4.5</v></c>',
  '<c t="s"><v>0</v></c>',
  '<c s="1" t="s"><v>1</v></c>',
  '<c><f>SUM(A1:A2)</f><v>9</v></c>',
  '<c t="b"><v>1</v></c>',
  '<c s="1"/>',
  '<c t="inlineStr"><is><t>Gate &amp; paddle</t></is></c>',
)
const made: fc.Arbitrary<Made> = fc
  .record({
    prefix: fc.constantFrom('', 'x:'),
    located: fc.boolean(),
    rows: fc.array(fc.array(cellXml, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 4 }),
    shared: fc.boolean(),
  })
  .map((one) => ({ ...one, shared: one.shared && one.located }))
const written: fc.Arbitrary<Cell | null> = fc.oneof(
  fc.constant(null),
  fc.constantFrom('Weir', '<&>', ' a\nb ', '=A1').map((value) => ({ value })),
  fc.integer().map((value) => ({ value, style: { bold: true as const, fill: '#ffe08a' } })),
  fc.constantFrom('A1+1', 'SUM(A:B)').map((formula) => ({ formula, style: { format: '0.000' } })),
  fc.constant({ style: { italic: true as const, align: 'center' as const } }),
)
const edits = fc.array(
  fc.oneof(
    {
      weight: 4,
      arbitrary: fc
        .tuple(fc.nat(8), fc.nat(6), written)
        .map(([row, column, cell]): WorkbookOp => ({ op: 'cells', sheet: 0, cells: [{ row, column, cell }] })),
    },
    fc
      .tuple(fc.nat(6), fc.option(fc.integer({ min: 20, max: 300 })))
      .map(([column, width]): WorkbookOp => ({ op: 'width', sheet: 0, column, width })),
    fc.constantFrom<WorkbookOp>(
      { op: 'freeze', sheet: 0, frozen: { rows: 1, columns: 0 } },
      { op: 'freeze', sheet: 0, frozen: null },
    ),
  ),
  { minLength: 1, maxLength: 6 },
)
const save = (base: Uint8Array, workbook: Workbook, ops: readonly WorkbookOp[]) =>
  patchXlsx({ base, read: readXlsx(base), workbook, ops, resultOf: () => undefined, isNew: () => false })
const rawCells = (bytes: Uint8Array) => {
  const xml = strFromU8(unzipSync(bytes)['xl/worksheets/sheet1.xml']!)
  return new Map(
    [...xml.matchAll(/<(?:x:)?c r="(\w+)"(?:[^>]*\/>|.*?<\/(?:x:)?c>)/gs)].map(([whole, address]) => [address!, whole]),
  )
}

describe('edits are written into the file', () => {
  test('they read back, and what they do not touch is the same to the letter', () => {
    fc.assert(
      fc.property(made, edits, (one, ops) => {
        const base = fileOf(one)
        const { workbook: before } = readXlsx(base)
        const workbook = applyOps(before, ops)
        const after = save(base, workbook, ops)
        const read = readXlsx(after).workbook
        for (const { row, column, cell } of cellDifferences(read.sheets[0]!, workbook.sheets[0]!)) {
          // What is new and has no look of its own has its column's.
          expect(cellAt(before.sheets[0], row, column)).toBeUndefined()
          expect(cell?.style).toBeUndefined()
          expect(cellAt(read.sheets[0], row, column)).toMatchObject(cell ?? {})
        }
        expect(read.sheets[0]!.widths).toEqual(workbook.sheets[0]!.widths)
        expect(read.sheets[0]!.frozen).toEqual(workbook.sheets[0]!.frozen)
        const [old, now] = [unzipSync(base), unzipSync(after)]
        for (const name of ['xl/workbook.xml', '_rels/.rels', 'xl/sharedStrings.xml', 'docProps/custom.xml'])
          expect(now[name]).toEqual(old[name])
        const sheet = strFromU8(now['xl/worksheets/sheet1.xml']!)
        const tail = strFromU8(old['xl/worksheets/sheet1.xml']!).replace(/^[\s\S]*<\/(x:)?sheetData>/, '')
        expect(sheet.endsWith(tail)).toBe(true)
        // The chain of calculation goes when a formula came or went, and then wholly.
        const chain = 'xl/calcChain.xml' in now
        expect(strFromU8(now['[Content_Types].xml']!).includes('calcChain')).toBe(chain)
        expect(strFromU8(now['xl/_rels/workbook.xml.rels']!).includes('calcChain')).toBe(chain)
        if (!one.located) return
        const touched = new Set(
          cellDifferences(before.sheets[0]!, workbook.sheets[0]!).map(
            ({ row, column }) => `${columnName(column)}${row + 1}`,
          ),
        )
        const cells = rawCells(after)
        for (const [address, raw] of rawCells(base))
          if (!touched.has(address) && !raw.includes('shared')) expect(cells.get(address)).toBe(raw)
      }),
      { numRuns: 120 },
    )
  })
  test('nothing changed, or everything undone, gives the very bytes', () => {
    fc.assert(
      fc.property(made, edits, (one, ops) => {
        const base = fileOf(one)
        const { workbook } = readXlsx(base)
        expect(save(base, workbook, ops)).toBe(base)
      }),
    )
  })
  test('a format that is changed keeps its border, its size and its protection', () => {
    const base = fileOf({ prefix: '', located: true, rows: [['<c s="1"><v>4.5</v></c>']], shared: false })
    const { workbook } = readXlsx(base)
    const style = { ...cellAt(workbook.sheets[0], 0, 0)!.style, italic: true as const }
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 4.5, style } }] }]
    const after = unzipSync(save(base, applyOps(workbook, ops), ops))
    const styles = strFromU8(after['xl/styles.xml']!)
    expect(styles).toContain('<font><b/><i/><sz val="14"/><color rgb="FFAA3311"/><name val="Serif"/></font>')
    expect(styles).toContain(
      '<xf numFmtId="2" fontId="2" fillId="0" borderId="1" applyBorder="1" applyFont="1"><alignment vertical="top"/><protection locked="0"/></xf>',
    )
    expect(strFromU8(after['xl/worksheets/sheet1.xml']!)).toContain('<c r="A1" s="2"><v>4.5</v></c>')
  })
  test('the first of cells that share a formula is overwritten: the next one holds it', () => {
    const base = fileOf({ prefix: 'x:', located: true, rows: [[undefined]], shared: true })
    const { workbook } = readXlsx(base)
    expect([1, 2, 3].map((row) => cellAt(workbook.sheets[0], row, 1)?.formula)).toEqual(['A2*2', 'A3*2', 'A4*2'])
    const style = cellAt(workbook.sheets[0], 1, 1)!.style!
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row: 1, column: 1, cell: { value: 8, style } }] }]
    const after = save(base, applyOps(workbook, ops), ops)
    expect(rawCells(after).get('B3')).toBe(
      '<x:c r="B3" s="1"><x:f t="shared" si="0" ref="B3:B4">A3*2</x:f><x:v>4</x:v></x:c>',
    )
    expect(rawCells(after).get('B4')).toBe(rawCells(base).get('B4'))
  })
  test('results are written where they follow from an edit, and stay as they came where they do not', () => {
    const rows = [['<c><v>1</v></c>', '<c><f>A1+1</f><v>2</v></c>', '<c><f>NOW()</f><v>45000</v></c>']]
    const base = fileOf({ prefix: '', located: true, rows, shared: false })
    const read = readXlsx(base)
    const ops: WorkbookOp[] = [{ op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 5 } }] }]
    const after = patchXlsx({
      base,
      read,
      workbook: applyOps(read.workbook, ops),
      ops,
      resultOf: (_, __, column) => (column === 1 ? 6 : 46000),
      isNew: (_, __, column) => column === 1,
    })
    expect(rawCells(after).get('B1')).toBe('<c r="B1"><f>A1+1</f><v>6</v></c>')
    expect(rawCells(after).get('C1')).toBe('<c r="C1"><f>NOW()</f><v>45000</v></c>')
    expect('xl/calcChain.xml' in unzipSync(after)).toBe(true)
  })
  test('what cannot be written so is refused, and never written wrongly', () => {
    const base = fileOf({ prefix: '', located: true, rows: [['<c><v>1</v></c>']], shared: false })
    const styles = unzipSync(base)
    delete styles['xl/styles.xml']
    const without = zipSync(styles)
    const { workbook } = readXlsx(without)
    const ops: WorkbookOp[] = [
      { op: 'cells', sheet: 0, cells: [{ row: 0, column: 0, cell: { value: 1, style: { bold: true } } }] },
    ]
    expect(() => save(without, applyOps(workbook, ops), ops)).toThrow(NotPatched)
  })
})
