import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { anyDocument, documentWithEdges } from '../../content/document.arbitrary'
import { edgesOf, storyOf, wordsAtEdge } from '../../content/edges'
import { keptField } from '../docx/fields'
import { openZip } from '../opc/zip'
import { DamagedFile } from '../refusals'
import { typeOfBytes } from '../signature'
import { readOdt } from './read'
import { readOdtLooks } from './style-looks'
import { odtOf, sameButLines } from './testing'
import { writeOdt } from './write'

const { nodes } = documentSchema
const paragraph = (words: string) => nodes.paragraph.create(null, words ? documentSchema.text(words) : null)

/** Whether a text can hold a document as it is: quotes side by side are one, and numbers have no leading zeros. */
function canHold(doc: Node): boolean {
  let can = edgesOf(doc).every((edge) => canHold(storyOf(edge)))
  const visit = (parent: Node) =>
    parent.forEach((node, _offset, at) => {
      if (node.attrs.number?.format === 'decimal-leading-zero') can = false
      const before = at > 0 ? parent.child(at - 1).type.name : ''
      if (node.type.name === 'blockquote' && before === 'blockquote') can = false
      // A page that begins with nothing has an empty line.
      if (node.type.name === 'page_break' && (at === parent.childCount - 1 || before === 'page_break')) can = false
      visit(node)
    })
  visit(doc)
  return can
}

test('any document comes back, and what does not is told', () => {
  fc.assert(
    fc.property(fc.oneof({ weight: 4, arbitrary: anyDocument }, documentWithEdges), (doc) => {
      const { bytes, lost } = writeOdt(doc, null)
      const again = readOdt(bytes)
      expect(typeOfBytes(bytes)).toBe('odt')
      if (canHold(doc)) expect([lost, again.doc.toJSON()]).toEqual([[], doc.toJSON()])
      else if (!sameButLines(again.doc, doc)) expect(lost).not.toEqual([])
      // What was read is written as its very bytes.
      expect(writeOdt(again.doc, bytes).bytes).toBe(bytes)
    }),
    { numRuns: 50 },
  )
})

test('what a text has no place for is told with its place', () => {
  const doc = nodes.doc.create(null, [
    paragraph('Before.'),
    nodes.paragraph.create({ style: 'Caption' }, documentSchema.text('A caption')),
    nodes.paragraph.create(null, [documentSchema.text('Page '), nodes.kept.create(keptField('PAGE', '3', false))]),
    nodes.ordered_list.create({ number: { format: 'decimal-leading-zero', before: '', after: '.', path: false } }, [
      nodes.list_item.create(null, paragraph('One')),
    ]),
  ])
  const { bytes, lost } = writeOdt(doc, null)
  expect(lost.map(({ feature, at }) => [feature, at && doc.nodeAt(at[0]!)?.type.name])).toEqual([
    ['named styles (their text stays, in Jaula’s look)', 'paragraph'],
    ['page number fields', 'kept'],
    ['lists numbered in a way of their own', 'ordered_list'],
  ])
  expect(readOdt(bytes).doc.textBetween(0, readOdt(bytes).doc.content.size, '|')).toBe('Before.|A caption|Page |One')
})

test('spaces are read as the standard says: runs are one, none at the ends, those that are said stay', () => {
  const { doc } = readOdt(
    odtOf(
      '<text:p>  a \n  b<text:s text:c="3"/>c <text:span> d</text:span><text:tab/> e </text:p><text:p> </text:p><text:p><text:s/>x<text:line-break/> y</text:p>',
    ),
  )
  expect(doc.children.map((line) => line.textBetween(0, line.content.size, '', '\n'))).toEqual([
    'a b   c d\t e',
    '',
    ' x\n y',
  ])
})

test('styles: what single places say is their look, what people named is a style, and its look is known', () => {
  const bytes = odtOf(
    '<text:h text:style-name="Heading_20_2" text:outline-level="2">Gates</text:h><text:h text:style-name="Special" text:outline-level="9">Deep</text:h>' +
      '<text:p text:style-name="P1">Red <text:span text:style-name="T1">and</text:span> <text:span text:style-name="Strong">strong</text:span></text:p>' +
      '<text:p text:style-name="Note">A note</text:p><text:p text:style-name="P2">Quoted</text:p><text:p text:style-name="Quotations">too</text:p>',
    {
      automatic:
        '<style:style style:name="P1" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:text-align="end" fo:margin="0.5in" fo:line-height="150%" fo:border="0.5pt solid #112233" fo:padding="2pt"/><style:text-properties fo:color="#AA0000"/></style:style>' +
        '<style:style style:name="P2" style:family="paragraph" style:parent-style-name="Quotations"><style:text-properties fo:font-style="italic"/></style:style>' +
        '<style:style style:name="T1" style:family="text"><style:text-properties style:text-underline-style="wave" style:text-position="-33% 58%" fo:font-size="12.3pt" style:use-window-font-color="true"/></style:style>',
      styles:
        '<style:default-style style:family="paragraph"><style:text-properties fo:font-size="10pt" style:font-name="F"/></style:default-style>' +
        '<style:style style:name="Standard" style:family="paragraph"/><style:style style:name="Heading_20_2" style:display-name="Heading 2" style:family="paragraph" style:default-outline-level="2"/>' +
        '<style:style style:name="Base" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:margin-left="1in"/><style:text-properties fo:font-weight="bold" fo:font-size="150%"/></style:style>' +
        '<style:style style:name="Note" style:display-name="A note" style:family="paragraph" style:parent-style-name="Base"><style:text-properties fo:color="#0000ff"/></style:style>' +
        '<style:style style:name="Quotations" style:family="paragraph"/><style:style style:name="Strong" style:family="text"><style:text-properties fo:font-weight="700"/></style:style>',
    },
  )
  const { doc } = readOdt(bytes)
  expect(doc.children.map(({ type, attrs }) => [type.name, attrs.level, attrs.style])).toEqual([
    ['heading', 2, null],
    ['heading', 6, null],
    ['paragraph', undefined, null],
    ['paragraph', undefined, 'Note'],
    ['blockquote', undefined, undefined],
  ])
  const side = { kind: 'single', width: 4, space: 2, color: '#112233' }
  expect(doc.child(2).attrs).toMatchObject({
    align: 'right',
    look: { before: 720, after: 720, left: 720, right: 720, line: { share: 360 }, borders: { top: side, left: side } },
  })
  expect(
    doc
      .child(2)
      .children.map(({ text, marks }) => [
        text,
        marks.map(({ type, attrs }) => attrs.color ?? attrs.size ?? type.name),
      ]),
  ).toEqual([
    ['Red ', ['#aa0000']],
    ['and', ['underline', 'lowered', 12.5]],
    [' ', ['#aa0000']],
    ['strong', ['strong', '#aa0000']],
  ])
  expect(doc.child(4).textBetween(0, doc.child(4).content.size, '|')).toBe('Quoted|too')
  const note = readOdtLooks(bytes).find(({ id }) => id === 'Note')
  expect(note).toMatchObject({
    name: 'A note',
    named: true,
    offered: true,
    css: { 'margin-left': '72pt', 'font-weight': '700', 'font-size': '15pt', color: '#0000ff' },
    marks: [],
  })
})

test('what stands at the edges of its pages, with the fields that pages tell', () => {
  const bytes = odtOf('<text:p>Text</text:p>', {
    layout:
      '<style:style style:name="MP1" style:family="paragraph"><style:paragraph-properties fo:text-align="center"/></style:style><style:page-layout style:name="Pm"><style:page-layout-properties/></style:page-layout>',
    masters:
      '<style:master-page style:name="Standard" style:page-layout-name="Pm"><style:header><text:p text:style-name="MP1">Canal Trust</text:p></style:header><style:header-left style:display="false"><text:p>left</text:p></style:header-left>' +
      '<style:footer><text:p>Page <text:page-number text:select-page="current">4</text:page-number> of <text:page-count>9</text:page-count>, <text:chapter>Gates</text:chapter></text:p></style:footer></style:master-page>' +
      '<style:master-page style:name="Other"><style:header><text:p>Elsewhere</text:p></style:header></style:master-page>',
  })
  const { doc, limits } = readOdt(bytes)
  expect(limits).toEqual([{ feature: 'page headers', count: 1, where: ['Elsewhere'] }])
  expect(edgesOf(doc).map((edge) => [edge.edge, edge.on, wordsAtEdge(storyOf(edge))])).toEqual([
    ['head', 'all', 'Canal Trust'],
    ['foot', 'all', 'Page # of #, Gates'],
  ])
  expect(storyOf(edgesOf(doc)[0]!).firstChild!.attrs.align).toBe('center')
})

test('lists: kinds and numbers of each level, numbers that go on, headings in lists, items of several paragraphs', () => {
  const item = (words: string, more = '', attributes = '') =>
    `<text:list-item${attributes}><text:p>${words}</text:p>${more}</text:list-item>`
  const bytes = odtOf(
    `<text:list text:style-name="L">${item('a', `<text:list>${item('b')}</text:list>`)}${item('c')}</text:list><text:p>between</text:p>` +
      `<text:list text:style-name="L" text:continue-numbering="true">${item('d')}</text:list>` +
      `<text:list text:style-name="L">${item('e', '', ' text:start-value="7"')}</text:list>` +
      '<text:list text:style-name="L"><text:list-item><text:h text:outline-level="1">A heading</text:h></text:list-item></text:list>' +
      `<text:list><text:list-item><text:p>one</text:p><text:p>two</text:p></text:list-item></text:list>`,
    {
      automatic:
        '<text:list-style style:name="L"><text:list-level-style-number text:level="1" style:num-format="i" style:num-suffix=")"/><text:list-level-style-bullet text:level="2" text:bullet-char="-"/></text:list-style>',
    },
  )
  const { doc } = readOdt(bytes)
  expect(doc.children.map(({ type, attrs, textContent }) => [type.name, attrs.start ?? null, textContent])).toEqual([
    ['ordered_list', 1, 'abc'],
    ['paragraph', null, 'between'],
    ['ordered_list', 3, 'd'],
    ['ordered_list', 7, 'e'],
    ['heading', null, 'A heading'],
    ['bullet_list', null, 'onetwo'],
  ])
  expect(doc.child(0).attrs.number).toEqual({ format: 'lower-roman', before: '', after: ')', path: false })
  expect(doc.child(0).firstChild!.child(1).type.name).toBe('bullet_list')
  // Where the list before has one more, this one goes on behind it as it did before: it says so itself.
  const more = nodes.doc.create(doc.attrs, [
    nodes.ordered_list.create(doc.child(0).attrs, [
      ...doc.child(0).children,
      nodes.list_item.create(null, paragraph('more')),
    ]),
    ...doc.children.slice(1),
  ])
  const { bytes: now, lost } = writeOdt(more, bytes)
  expect(lost).toEqual([])
  expect(readOdt(now).doc.toJSON()).toEqual(more.toJSON())
})

test.each([
  ['nothing', new Uint8Array(), 'directory'],
  ['no package', new TextEncoder().encode('PK'), 'directory'],
  [
    'one with a password',
    odtOf('', { parts: [['META-INF/manifest.xml', '<m:manifest xmlns:m="urn:x"><m:encryption-data/></m:manifest>']] }),
    'password',
  ],
  ['nested without end', odtOf('<text:section>'.repeat(600) + '</text:section>'.repeat(600)), 'damaged'],
  ['tags that do not match', odtOf('<text:p>'), 'damaged'],
])('%s is not opened', (_, bytes, reason) => {
  expect(() => readOdt(bytes)).toThrow(DamagedFile)
  expect(() => readOdt(bytes)).toThrow(new RegExp(reason, 'i'))
})

test('a file with prefixes of its own is read; and written whole where it is changed', () => {
  const content =
    '<o:document-content xmlns:o="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:t="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:s="urn:oasis:names:tc:opendocument:xmlns:style:1.0" xmlns:f="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0">' +
    '<o:automatic-styles><s:style s:name="T" s:family="text"><s:text-properties f:font-weight="bold"/></s:style></o:automatic-styles>' +
    '<o:body><o:text><t:p>Sill <t:span t:style-name="T">worn t:p=</t:span></t:p></o:text></o:body></o:document-content>'
  const bytes = openZip(odtOf('')).patched(new Map([['content.xml', new TextEncoder().encode(content)]]))!
  const { doc } = readOdt(bytes)
  expect(doc.textContent).toBe('Sill worn t:p=')
  expect(doc.firstChild!.lastChild!.marks.map(({ type }) => type.name)).toEqual(['strong'])
  const more = nodes.doc.create(doc.attrs, [...doc.children, paragraph('More.')])
  expect(readOdt(writeOdt(more, bytes).bytes).doc.toJSON()).toEqual(more.toJSON())
})
