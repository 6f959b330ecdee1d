// Named styles of another program's files: read, kept with whatever is edited, given to other paragraphs, and shown.
import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { Fragment, type Node } from 'prosemirror-model'
import { expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { withKnownStyles } from './kept'
import { patchDocx } from './patch'
import { readDocx } from './read'
import { readStyleLooks } from './style-looks'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const a = 'http://schemas.openxmlformats.org/drawingml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const { nodes, marks } = documentSchema

const style = (id: string, name: string, inside = '', more = '') =>
  `<w:style w:type="paragraph" w:styleId="${id}"${more}><w:name w:val="${name}"/>${inside}</w:style>`
const usualStyles = [
  '<w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:asciiTheme="minorHAnsi"/><w:sz w:val="22"/></w:rPr></w:rPrDefault><w:pPrDefault><w:pPr><w:spacing w:after="160" w:line="259" w:lineRule="auto"/></w:pPr></w:pPrDefault></w:docDefaults>',
  style('N', 'Normal', '<w:qFormat/>', ' w:default="1"'),
  style(
    'H1',
    'heading 1',
    '<w:basedOn w:val="N"/><w:rPr><w:color w:val="auto" w:themeColor="accent1" w:themeShade="80"/></w:rPr>',
  ),
  style('T', 'Title', '<w:basedOn w:val="N"/><w:qFormat/><w:rPr><w:sz w:val="56"/></w:rPr>'),
  style('Lp', 'List Paragraph', '<w:basedOn w:val="N"/>'),
  style(
    'Clause',
    'Clause',
    '<w:basedOn w:val="N"/><w:pPr><w:ind w:left="567" w:hanging="283"/><w:pBdr><w:left w:val="single" w:sz="12" w:space="4" w:color="224466"/></w:pBdr></w:pPr><w:rPr><w:b/></w:rPr>',
    ' w:customStyle="1"',
  ),
  style(
    'Sub',
    'Sub Clause',
    '<w:basedOn w:val="Clause"/><w:pPr><w:spacing w:before="120"/></w:pPr><w:rPr><w:b w:val="0"/><w:i/><w:rFonts w:ascii="Georgia"/></w:rPr>',
    ' w:customStyle="1"',
  ),
].join('')
const theme = `<a:theme xmlns:a="${a}"><a:themeElements><a:clrScheme name="x"><a:accent1><a:srgbClr val="4080C0"/></a:accent1></a:clrScheme><a:fontScheme name="x"><a:majorFont><a:latin typeface="Calibri Light"/></a:majorFont><a:minorFont><a:latin typeface="Calibri"/></a:minorFont></a:fontScheme></a:themeElements></a:theme>`

function fileOf(body: string, styles = usualStyles): Uint8Array {
  const parts: Record<string, string> = {
    '[Content_Types].xml':
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>',
    '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="word/document.xml"/></Relationships>`,
    'word/_rels/document.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/styles" Target="styles.xml"/><Relationship Id="rId2" Type="${office}/theme" Target="theme/theme1.xml"/></Relationships>`,
    'word/document.xml': `<w:document xmlns:w="${w}" xmlns:r="${office}"><w:body>${body}<w:sectPr/></w:body></w:document>`,
    'word/styles.xml': `<w:styles xmlns:w="${w}">${styles}</w:styles>`,
    'word/theme/theme1.xml': theme,
  }
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, xml]) => [name, strToU8(xml)])))
}
const paragraph = (id: string, text: string, more = '') =>
  `<w:p w:rsidR="00AA">${id || more ? `<w:pPr>${id && `<w:pStyle w:val="${id}"/>`}${more}</w:pPr>` : ''}<w:r w:rsidRPr="00BB"><w:t xml:space="preserve">${text}</w:t></w:r></w:p>`
const bodyOf = (bytes: Uint8Array) => strFromU8(unzipSync(bytes)['word/document.xml']!)

test('a paragraph names its style where that is not the usual one of its kind', () => {
  const bytes = fileOf(
    ['', 'N', 'H1', 'T', 'Lp', 'Clause', 'Sub', 'Unknown'].map((id) => paragraph(id, id || 'none')).join(''),
  )
  const told = (doc: Node) => doc.children.map(({ type, attrs }) => [type.name, attrs.style])
  expect(told(readDocx(bytes).doc)).toEqual([
    ['paragraph', null],
    ['paragraph', null],
    ['heading', null],
    ['heading', 'T'],
    ['paragraph', null],
    ['paragraph', 'Clause'],
    ['paragraph', 'Sub'],
    ['paragraph', null],
  ])
  expect(told(readDocx(bytes, 2).doc).every(([, name]) => name === null)).toBe(true)
})

test('whatever is edited, each paragraph keeps its style; those that were not touched are the file’s own', () => {
  const ids = ['', 'H1', 'T', 'Clause', 'Sub', 'Lp'] as const
  const kinds = [
    { heading: 0, style: null, marks: [] },
    { heading: 1, style: null, marks: [] },
    { heading: 1, style: 'T', marks: [] },
    { heading: 0, style: 'Clause', marks: ['strong'] },
    { heading: 0, style: 'Sub', marks: ['em'] },
  ] as const
  const edit = fc.record({
    at: fc.nat(),
    does: fc.constantFrom('kind' as const, 'split' as const, 'write' as const, 'insert' as const, 'remove' as const),
    kind: fc.constantFrom(...kinds),
    word: fc.constantFrom('weir', ' gate', 'Größe'),
  })
  const made = ({ heading, style: name, marks: own }: (typeof kinds)[number], content: Fragment, align: unknown) => {
    const text = Fragment.fromArray(content.content.map((one) => one.mark(own.map((mark) => marks[mark].create()))))
    return heading
      ? nodes.heading.create({ level: heading, align, style: name }, text)
      : nodes.paragraph.create({ align, style: name }, text)
  }
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.constantFrom(...ids), fc.constantFrom('lock', 'sluice keeper', 'a &amp; b')), {
        minLength: 1,
        maxLength: 6,
      }),
      fc.array(edit, { minLength: 1, maxLength: 4 }),
      (lines, edits) => {
        const xml = lines.map(([id, text], index) => paragraph(id, `${text} ${index}`))
        const bytes = fileOf(xml.join(''))
        const { doc } = readDocx(bytes)
        let blocks = [...doc.children]
        const touched = new Set<Node>()
        for (const { at, does, kind, word } of edits) {
          const index = at % blocks.length
          const block = blocks[index]!
          touched.add(block)
          const put = (...now: Node[]) => {
            blocks = [...blocks.slice(0, index), ...now, ...blocks.slice(index + 1)]
          }
          const look = block.firstChild?.marks ?? []
          if (does === 'kind') put(made(kind, block.content, block.attrs.align))
          else if (does === 'write')
            put(block.copy(block.content.append(Fragment.from(documentSchema.text(word, look)))))
          else if (does === 'insert') put(block, made(kind, Fragment.from(documentSchema.text(word)), null))
          else if (does === 'split') {
            const middle = block.content.size >> 1
            put(block.copy(block.content.cut(0, middle)), block.copy(block.content.cut(middle)))
          } else if (blocks.length > 1) put()
        }
        const target = doc.copy(Fragment.fromArray(blocks))
        const after = patchDocx(bytes, target).bytes
        expect(readDocx(after).doc.eq(target)).toBe(true)
        for (const [index, block] of doc.children.entries())
          if (!touched.has(block)) expect(bodyOf(after)).toContain(xml[index])
      },
    ),
    { numRuns: 200, endOnFailure: true },
  )
})

test('a style that the file does not have is none in it', () => {
  const bytes = fileOf(paragraph('', 'lock'))
  const { doc } = readDocx(bytes)
  const target = doc.copy(
    Fragment.from([doc.child(0), nodes.paragraph.create({ style: 'Elsewhere' }, documentSchema.text('weir'))]),
  )
  const after = readDocx(patchDocx(bytes, target).bytes).doc
  expect(after.eq(withKnownStyles(target, () => false))).toBe(true)
  expect(after.child(1).attrs.style).toBeNull()
})

test('a style looks like what it is based on, the defaults and the theme say, and itself last', () => {
  const looks = readStyleLooks(fileOf(paragraph('', 'x')))
  const of = (id: string) => looks.find((one) => one.id === id)!
  expect(of('N')).toMatchObject({
    usual: true,
    named: false,
    offered: false,
    css: { 'font-size': '11pt', 'margin-bottom': '8pt' },
  })
  expect(of('N').css['font-family']).toBe('"Calibri", "Carlito", var(--font-sans)')
  expect(of('H1').css.color).toBe('#204060')
  expect(of('T')).toMatchObject({ named: true, heading: 1, offered: true, css: { 'font-size': '28pt' } })
  expect(of('Clause').css).toMatchObject({
    'margin-left': '28.4pt',
    'text-indent': '-14.1pt',
    'font-weight': '700',
    'border-left': '1.5pt solid #224466',
    'padding-left': '4pt',
  })
  expect(of('Clause').marks).toEqual(['strong'])
  expect(of('Sub').css).toMatchObject({
    'margin-left': '28.4pt',
    'margin-top': '6pt',
    'font-weight': '400',
    'font-style': 'italic',
    'font-family': '"Georgia", var(--font-serif)',
  })
})

test('whatever a file says of a style, nothing of its own text gets into a page’s rules', () => {
  const hostile = fc.oneof(
    fc.constantFrom(
      'red;background:url(x)',
      '"}*{display:none}',
      '</style><script>',
      'a\\22',
      '-1e9',
      'NaN',
      'Infinity',
      '0x10',
    ),
    fc.string({ unit: 'grapheme', maxLength: 12 }),
  )
  const escape = (text: string) =>
    text.replace(/[&<"]/g, (sign) => `&#${sign.charCodeAt(0)};`).replace(/[^\t\n\r\x20-\ufffd]/g, '')
  fc.assert(
    fc.property(fc.array(hostile.map(escape), { minLength: 8, maxLength: 8 }), (said) => {
      const [font, size, ink, shade, line, left, fill, border] = said
      const looks = readStyleLooks(
        fileOf(
          paragraph('Bad', 'x'),
          style(
            'Bad',
            'Bad',
            `<w:pPr><w:pBdr><w:top w:val="${border}" w:sz="${size}" w:color="${ink}" w:space="${left}"/></w:pBdr><w:shd w:fill="${fill}"/><w:spacing w:before="${left}" w:after="${size}" w:line="${line}" w:lineRule="${font}"/><w:ind w:left="${left}" w:firstLine="${line}"/></w:pPr><w:rPr><w:rFonts w:ascii="${font}" w:asciiTheme="${shade}"/><w:color w:val="${ink}" w:themeColor="accent1" w:themeShade="${shade}"/><w:sz w:val="${size}"/><w:spacing w:val="${line}"/></w:rPr>`,
          ),
        ),
      )
      for (const value of Object.values(looks[0]!.css))
        expect(value).toMatch(/^(?:[#\w. %-]|"[\p{L}\p{N} .-]*"|, |var\(--font-(?:sans|serif)\))+$/u)
    }),
    { numRuns: 200 },
  )
})

test('a heading that comes new into a file whose headings are all of other looks gets a usual style, and its own alignment', () => {
  const bytes = fileOf(
    paragraph('Ht', 'The file’s own'),
    style('N', 'Normal', '', ' w:default="1"') +
      style('Ht', 'Heading of tenders', '<w:pPr><w:outlineLvl w:val="0"/></w:pPr>') +
      style('Q', 'Block Text', '<w:basedOn w:val="N"/>') +
      style('H2', 'heading 2', '<w:pPr><w:jc w:val="center"/></w:pPr>'),
  )
  const { doc } = readDocx(bytes)
  expect(doc.child(0).attrs).toMatchObject({ level: 1, style: 'Ht' })
  const text = (words: string) => documentSchema.text(words)
  const wanted = doc.copy(
    doc.content.append(
      Fragment.from([
        nodes.heading.create({ level: 1 }, text('New')),
        nodes.heading.create({ level: 2 }, text('To the left, though its style is in the middle')),
        nodes.blockquote.create(null, nodes.paragraph.create(null, text('Said'))),
      ]),
    ),
  )
  const { bytes: saved, lost } = patchDocx(bytes, wanted)
  expect(lost).toEqual([])
  expect(readDocx(saved).doc.eq(wanted)).toBe(true)
  expect(strFromU8(unzipSync(saved)['word/styles.xml']!)).toContain('<w:name w:val="heading 1"/>')
  expect(bodyOf(saved)).toContain(paragraph('Ht', 'The file’s own'))
})
