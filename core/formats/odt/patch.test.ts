import fc from 'fast-check'
import { Fragment, type Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { documentWithEdges } from '../../content/document.arbitrary'
import { anyEdit, edited } from '../../content/document-edits.arbitrary'
import { storyJSON, withEdges } from '../../content/edges'
import { fieldCodes } from '../../content/fields'
import { keptField } from '../docx/fields'
import { readOdt } from './read'
import { bodyXml, odtOf, pageXml, sameButLines, styleXml } from './testing'
import { writeOdt } from './write'

const { nodes, marks } = documentSchema

test('whatever is edited in any text, the file says all of it', () => {
  fc.assert(
    fc.property(documentWithEdges, fc.array(anyEdit, { minLength: 1, maxLength: 5 }), (doc, edits) => {
      const { bytes } = writeOdt(doc, null)
      const now = edited(readOdt(bytes).doc, edits)
      const { bytes: written, lost } = writeOdt(now, bytes)
      const again = readOdt(written).doc
      // A page that begins with nothing has an empty line; anything else that is another is told.
      if (!sameButLines(again, now)) expect(lost).not.toEqual([])
    }),
    { numRuns: 50 },
  )
})

/** A text with what other programs put between letters. */
const letter = odtOf(
  '<text:sequence-decls><text:sequence-decl text:name="Table"/></text:sequence-decls><text:section text:name="S" text:style-name="Sect">' +
    '<text:p text:style-name="P1">The <text:bookmark-start text:name="b"/>sill<text:bookmark-end text:name="b"/> of <text:span text:style-name="T1">lock seven</text:span> is worn<text:note text:id="n1" text:note-class="footnote"><text:note-citation>1</text:note-citation><text:note-body><text:p>Seen in June.</text:p></text:note-body></text:note>.</text:p></text:section>' +
    '<text:p text:style-name="P1">On <text:date text:fixed="true">14 October</text:date> <office:annotation office:name="c1"><text:p>Which year?</text:p></office:annotation>water was low<office:annotation-end office:name="c1"/>.<text:soft-page-break/></text:p>' +
    '<table:table table:name="Levels" table:style-name="Ta"><table:table-column table:style-name="Co" table:number-columns-repeated="2"/><table:table-header-rows><table:table-row><table:table-cell table:style-name="Ce" office:value-type="string"><text:p>Lock</text:p></table:table-cell><table:table-cell><text:p>Level</text:p></table:table-cell></table:table-row></table:table-header-rows><table:table-row table:style-name="Ro"><table:table-cell table:style-name="Ce"><text:p>LK07</text:p></table:table-cell><table:table-cell table:style-name="Ce2"><text:p>1.43</text:p></table:table-cell></table:table-row></table:table>',
  {
    automatic:
      '<style:style style:name="P1" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:text-align="justify"><style:tab-stops><style:tab-stop style:position="3cm"/></style:tab-stops></style:paragraph-properties></style:style>' +
      '<style:style style:name="T1" style:family="text"><style:text-properties fo:letter-spacing="2pt" fo:font-size="14pt" fo:language="en"/></style:style>',
    styles: '<style:style style:name="Standard" style:family="paragraph"/>',
    layout:
      '<style:page-layout style:name="Pm1"><style:page-layout-properties fo:page-width="21cm" fo:page-height="29.7cm" fo:margin="2cm" style:footnote-max-height="0cm"><style:columns fo:column-count="1"/></style:page-layout-properties></style:page-layout>',
    masters:
      '<style:master-page style:name="Standard" style:page-layout-name="Pm1"><style:header><text:p>Canal Trust</text:p></style:header></style:master-page>',
  },
)
const read = () => readOdt(letter).doc
/** Where words stand. */
function at(doc: Node, words: string): number {
  let found = -1
  doc.descendants((node, pos) => {
    if (found < 0 && node.isText && node.text!.includes(words)) found = pos + node.text!.indexOf(words)
    return found < 0
  })
  return found
}
/** Other words in the look of some that are there. */
const like = (doc: Node, words: string, other: string) => documentSchema.text(other, doc.nodeAt(at(doc, words))!.marks)
function after(change: (tr: Transform, doc: Node) => void) {
  const doc = read()
  const tr = new Transform(doc)
  change(tr, doc)
  const written = writeOdt(tr.doc, letter)
  expect(readOdt(written.bytes).doc.toJSON()).toEqual(tr.doc.toJSON())
  return { ...written, body: bodyXml(written.bytes) }
}
const before = bodyXml(letter)

test('what stands in a text is shown as what it is', () => {
  const { doc, limits } = readOdt(letter)
  const kept: string[] = []
  doc.descendants((node) => void (node.type.name === 'kept' && kept.push(`${node.attrs.kind}: ${node.attrs.words}`)))
  expect(kept).toEqual(['footnote: Seen in June.', 'field: 14 October', 'comment: Which year?'])
  expect(limits).toEqual([])
  expect(doc.attrs.page).toMatchObject({ width: 11906, height: 16838, top: 1134, left: 1134 })
})

test('a changed word is all that changes', () => {
  const { body, lost } = after((tr, doc) =>
    tr.replaceWith(at(doc, 'sill'), at(doc, 'sill') + 4, like(doc, 'sill', 'gate')),
  )
  expect(lost).toEqual([])
  expect(body).toBe(before.replace('>sill<', '>gate<'))
  // Also where nothing of the paragraph is as it was.
  expect(
    after((tr, doc) => tr.replaceWith(at(doc, 'Lock'), at(doc, 'Lock') + 4, documentSchema.text('Gate and pound')))
      .body,
  ).toBe(before.replace('>Lock<', '>Gate and pound<'))
  // A letter written beside others is in what they stand in.
  expect(after((tr, doc) => tr.insert(at(doc, 'seven') + 5, like(doc, 'seven', 'teen'))).body).toBe(
    before.replace('lock seven', 'lock seventeen'),
  )
  expect(after((tr, doc) => tr.insert(at(doc, 'of') + 2, like(doc, 'of', ' old'))).body).toBe(
    before.replace(' of ', ' of old '),
  )
})

test('another look is added to what letters stand in, or taken out of it', () => {
  const { body, bytes } = after((tr, doc) => tr.addMark(at(doc, 'seven'), at(doc, 'seven') + 5, marks.strong.create()))
  const own = /lock <text:span text:style-name="(J\d+)">seven<\/text:span><\/text:span>/.exec(body)![1]!
  expect(styleXml(bytes, own)).toContain('<style:text-properties fo:font-weight="bold"/>')
  const plain = after((tr, doc) => tr.removeMark(at(doc, 'lock'), at(doc, 'lock') + 10, marks.look))
  const rest = /<text:span text:style-name="(J\d+)">lock seven<\/text:span>/.exec(plain.body)![1]!
  expect(styleXml(plain.bytes, rest)).toContain('<style:text-properties fo:letter-spacing="2pt" fo:language="en"/>')
  const linked = after((tr, doc) => tr.addMark(at(doc, 'sill'), at(doc, 'sill') + 4, marks.link.create({ href: '#b' })))
  expect(linked.body).toContain(
    '<text:bookmark-start text:name="b"/><text:a xlink:type="simple" xlink:href="#b">sill<text:bookmark-end text:name="b"/></text:a>',
  )
})

test('a paragraph that is something else keeps the rest of what it said', () => {
  const { body, bytes } = after((tr, doc) =>
    tr.setBlockType(at(doc, 'water'), at(doc, 'water'), nodes.heading, { level: 3, align: 'center' }),
  )
  const own = /<text:h text:style-name="(J\d+)" text:outline-level="3">On/.exec(body)![1]!
  expect(styleXml(bytes, own)).toMatch(
    /parent-style-name="Heading_20_3".*fo:text-align="center".*tab-stop style:position="3cm"/,
  )
  // A style that the file has not comes along.
  expect(pageXml(bytes)).toContain('style:name="Heading_20_3"')
})

test('things move with their letters, and what ends with them goes with them', () => {
  const moved = after((tr, doc) => {
    const first = doc.firstChild!
    tr.delete(0, first.nodeSize)
    tr.insert(tr.doc.child(0).nodeSize, first)
  })
  expect(moved.body).toContain('Seen in June.')
  const gone = after((tr, doc) => tr.delete(at(doc, 'water') - 1, at(doc, 'water') + 5))
  expect(gone.body).not.toContain('annotation')
  expect(gone.lost).toEqual([])
  // Half of a bookmark is none.
  const whole = after((tr, doc) => tr.delete(0, doc.firstChild!.nodeSize))
  expect(whole.body).not.toContain('bookmark')
  expect(whole.body).toContain('<text:section text:name="S" text:style-name="Sect"></text:section>')
})

test('rows come and go below the head, and are like their neighbours', () => {
  const row = (header: boolean, ...words: string[]) =>
    nodes.table_row.create(
      { header },
      words.map((one) => nodes.table_cell.create(null, nodes.paragraph.create(null, documentSchema.text(one)))),
    )
  const tableAt = (doc: Node) => doc.content.size - doc.lastChild!.nodeSize
  const { body, lost } = after((tr, doc) =>
    tr.insert(tableAt(doc) + 1 + doc.lastChild!.firstChild!.nodeSize, row(false, 'LK06', '1.40')),
  )
  expect(lost).toEqual([])
  expect(body).toContain(
    '</table:table-header-rows><table:table-row><table:table-cell table:style-name="Ce"><text:p text:style-name="Standard">LK06</text:p></table:table-cell><table:table-cell table:style-name="Ce2">',
  )
  expect(body).toContain('<table:table-row table:style-name="Ro">')
  // Another column makes it another table, which is asked about.
  const wider = after((tr, doc) =>
    tr.replaceWith(tableAt(doc), doc.content.size, nodes.table.create(null, [row(true, 'Lock', 'Level', 'Day')])),
  )
  expect(wider.lost.map(({ feature }) => feature)).toEqual(['looks of cells'])
})

test('a number of a table whose words change is no number any more', () => {
  const bytes = odtOf(
    '<text:p>Levels</text:p><table:table><table:table-column table:number-columns-repeated="2"/><table:table-row><table:table-cell table:style-name="Ce" table:formula="of:=1+1" office:value-type="float" office:value="2"><text:p>2</text:p></table:table-cell><table:table-cell office:value-type="float" office:value="3"><text:p>3</text:p></table:table-cell></table:table-row></table:table>',
  )
  const { doc } = readOdt(bytes)
  const { bytes: now } = writeOdt(
    new Transform(doc).replaceWith(at(doc, '2'), at(doc, '2') + 1, documentSchema.text('dry')).doc,
    bytes,
  )
  expect(bodyXml(now)).toBe(
    bodyXml(bytes).replace(
      ' table:formula="of:=1+1" office:value-type="float" office:value="2"><text:p>2<',
      '><text:p>dry<',
    ),
  )
})

test('another page is said where the page is said', () => {
  const doc = read()
  const turned = doc.type.create(
    { ...doc.attrs, page: { ...doc.attrs.page, width: 16838, height: 11906 } },
    doc.content,
  )
  const { bytes, lost } = writeOdt(turned, letter)
  expect(lost).toEqual([])
  expect(readOdt(bytes).doc.attrs.page).toEqual(turned.attrs.page)
  expect(pageXml(bytes)).toContain('style:footnote-max-height="0cm"')
  expect(pageXml(bytes)).toContain('<text:p>Canal Trust</text:p>')
  expect(bodyXml(bytes)).toBe(before)
})

test('edges of pages are written where they stand, come and go, and what is between them stays', () => {
  const doc = read()
  const story = (...words: string[]) =>
    storyJSON(
      nodes.doc.create(
        null,
        words.map((one) => nodes.paragraph.create(null, documentSchema.text(one))),
      ),
    )
  const withFoot = withEdges(doc, [
    { edge: 'head', on: 'all', json: story('Merrowdale Canal Trust') },
    {
      edge: 'foot',
      on: 'all',
      json: storyJSON(
        nodes.doc.create(null, nodes.paragraph.create(null, nodes.kept.create(keptField(fieldCodes.page, '')))),
      ),
    },
  ])
  const { bytes, lost } = writeOdt(withFoot, letter)
  expect([lost, readOdt(bytes).doc.toJSON()]).toEqual([[], withFoot.toJSON()])
  expect(pageXml(bytes)).toContain(
    '<style:header><text:p>Merrowdale Canal Trust</text:p></style:header><style:footer><text:p text:style-name="Standard"><text:page-number text:select-page="current">1</text:page-number></text:p></style:footer></style:master-page>',
  )
  expect(pageXml(bytes)).toContain('</style:page-layout-properties><style:footer-style>')
  expect(bodyXml(bytes)).toBe(before)
  const none = withEdges(withFoot, [])
  const without = writeOdt(none, bytes)
  expect([without.lost, readOdt(without.bytes).doc.toJSON()]).toEqual([[], none.toJSON()])
  expect(pageXml(without.bytes)).toContain('style:page-layout-name="Pm1"></style:master-page>')
})

test('columns of a table come, go and get wider, and every cell that stays looks as it did', () => {
  const row = (words: string[]) =>
    `<table:table-row table:style-name="Ro">${words.map((text, at) => `<table:table-cell table:style-name="Ce${at}"><text:p text:style-name="P1">${text}</text:p></table:table-cell>`).join('')}</table:table-row>`
  const bytes = odtOf(
    `<text:p>Levels</text:p><table:table table:name="Levels" table:style-name="Ta"><table:table-column table:style-name="Co" table:number-columns-repeated="2"/><table:table-column/><table:table-header-rows>${row(['Lock', 'Level', 'Day'])}</table:table-header-rows>${row(['LK06', '1.40', 'Monday'])}${row(['LK07', '1.43', 'Monday'])}</table:table>`,
    {
      automatic:
        '<style:style style:name="Co" style:family="table-column"><style:table-column-properties style:column-width="3cm"/></style:style><style:style style:name="P1" style:family="paragraph"><style:paragraph-properties fo:text-align="center"/></style:style>',
      styles: '<style:style style:name="Standard" style:family="paragraph"/>',
    },
  )
  const edit = fc.record({
    what: fc.constantFrom('insert' as const, 'remove' as const, 'wider' as const, 'word' as const),
    at: fc.nat(),
    width: fc.integer({ min: 30, max: 300 }),
  })
  fc.assert(
    fc.property(fc.array(edit, { minLength: 1, maxLength: 4 }), (edits) => {
      const doc = readOdt(bytes).doc
      let rows = doc.lastChild!.children.map((one) => one.children.map((cell) => ({ cell, was: cell as Node | null })))
      for (const { what, at: place, width } of edits) {
        const column = place % rows[0]!.length
        if (what === 'remove' && rows[0]!.length === 1) continue
        rows = rows.map((cells, y) => {
          if (what === 'remove') return cells.toSpliced(column, 1)
          if (what === 'insert')
            return cells.toSpliced(column, 0, {
              cell: nodes.table_cell.create(null, nodes.paragraph.create(null, documentSchema.text(`new ${y}`))),
              was: null,
            })
          const { cell } = cells[column]!
          if (what === 'wider')
            return cells.with(column, {
              ...cells[column]!,
              cell: cell.type.create({ ...cell.attrs, colwidth: [width] }, cell.content),
            })
          return y === 1
            ? cells.with(column, {
                cell: cell.copy(
                  cell.content.replaceChild(
                    0,
                    nodes.paragraph.create(cell.firstChild!.attrs, documentSchema.text('other')),
                  ),
                ),
                was: null,
              })
            : cells
        })
      }
      const table = doc.lastChild!.copy(
        Fragment.from(
          rows.map((cells, y) => doc.lastChild!.child(y).copy(Fragment.from(cells.map(({ cell }) => cell)))),
        ),
      )
      const now = doc.copy(Fragment.from([doc.firstChild!, table]))
      const written = writeOdt(now, bytes)
      expect(written.lost).toEqual([])
      expect(readOdt(written.bytes).doc.eq(now)).toBe(true)
      const body = bodyXml(written.bytes)
      const before = bodyXml(bytes)
      for (const { was } of rows.flat()) {
        if (!was) continue
        const own = new RegExp(
          `<table:table-cell table:style-name="Ce\\d"><text:p text:style-name="P1">${was.textContent}<`,
        )
        expect(own.exec(body)?.[0]).toBe(own.exec(before)?.[0])
      }
    }),
    { numRuns: 150 },
  )
})
