import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { anyDocument } from '../../content/document.arbitrary'
import { DamagedFile } from '../refusals'
import { readHtml } from './read'
import { writeHtml } from './write'

const { nodes, marks } = documentSchema
const read = (html: string) => readHtml(new TextEncoder().encode(html))
const shown = (html: string) => read(html).doc.toString()
const told = (html: string) => read(html).limits.map(({ feature, count }) => [feature, count])

describe('a document as a web page', () => {
  test('read back is the document that was written, or what is lost is told', () => {
    let equal = 0
    fc.assert(
      fc.property(anyDocument, (doc) => {
        const { bytes, lost } = writeHtml(doc, null)
        const again = readHtml(bytes)
        expect(again.limits).toEqual([])
        expect(lost.map(({ feature }) => feature)).not.toContain('things that a page says in another way')
        if (!lost.length) {
          equal++
          expect(again.doc.toJSON()).toEqual(doc.toJSON())
        }
      }),
      { numRuns: 200 },
    )
    expect(equal).toBeGreaterThan(25)
  })
})

describe('a page from elsewhere', () => {
  test.each([
    [
      'white space is what a browser shows of it',
      ' <p>\n one\t two <b> three</b>  </p>\n\n<p>four',
      'paragraph("one two ", strong("three")), paragraph("four")',
    ],
    ['a line that keeps its spaces keeps them', '<pre>a  b\n c\n</pre>', 'paragraph("a  b", hard_break, " c")'],
    [
      'text without a paragraph is one',
      'loose <i>words</i><div>more</div>',
      'paragraph("loose ", em("words")), paragraph("more")',
    ],
    [
      'an empty paragraph is none, one with a break is',
      '<p></p><p><br></p><p>x<br></p><p>y<br><br></p>',
      'paragraph, paragraph("x"), paragraph("y", hard_break)',
    ],
    [
      'older elements mean what they meant',
      '<center><font color=red size=5>Lock</font></center><strike>gone</strike>',
      'paragraph(look("Lock")), paragraph(strike("gone"))',
    ],
    [
      'lists that stand in lists without an item',
      '<ul><li>a</li><ul><li>b</li></ul></ul>',
      'bullet_list(list_item(paragraph("a"), bullet_list(list_item(paragraph("b")))))',
    ],
    [
      'a heading of a table is a row of heads',
      '<table><caption>Levels</caption><tr><th>A<th>B<tr><td>1<td>2</table>',
      'paragraph("Levels"), table(table_row(table_cell(paragraph("A")), table_cell(paragraph("B"))), table_row(table_cell(paragraph("1")), table_cell(paragraph("2"))))',
    ],
    [
      'a table in a table is its text',
      '<table><tr><td>a<table><tr><td>b</td><td>c</td></tr></table></td></tr></table>',
      'table(table_row(table_cell(paragraph("a"), paragraph("b"), paragraph("c"))))',
    ],
    [
      'two lines of a text at once',
      '<p><span style="text-decoration: underline line-through">x</span></p>',
      'paragraph(underline(strike("x")))',
    ],
    [
      'a list in a quote stays',
      '<blockquote><p>a</p><ul><li>b</li></ul></blockquote><p>c',
      'blockquote(paragraph("a")), bullet_list(list_item(paragraph("b"))), paragraph("c")',
    ],
    ['what is nothing at all', '', 'paragraph'],
  ])('%s', (_, html, wanted) => {
    expect(shown(html)).toBe(`doc(${wanted})`)
  })

  test('looks are taken from attributes and handed down', () => {
    const { doc } = read(
      '<div style="text-align:center"><p>a <span style="color: rgb(255, 0, 0); font-size:16px">b <span style="font-family: \'Gill Sans\', serif; background: #ff0">c</span></span></p></div>',
    )
    expect(doc.child(0).attrs.align).toBe('center')
    const looks: unknown[] = []
    doc.child(0).forEach((part) => void looks.push(part.marks[0]?.attrs ?? null))
    expect(looks).toEqual([
      null,
      { color: '#ff0000', fill: null, size: 12, font: null },
      { color: '#ff0000', fill: '#ffff00', size: 12, font: 'Gill Sans' },
    ])
  })

  test('nothing of it runs, is fetched or asks for anything, and that is told', () => {
    const html = `<!doctype html><title>T</title><link rel=stylesheet href=//example.org/a.css><script>x()</script>
      <body onload="x()"><p onclick="x()">kept</p><img src="https://example.org/a.png"><img src="file:///etc/passwd">
      <iframe src="https://example.org"></iframe><object data="x"></object><form><input name=a><button>b</button></form>
      <a href=" java\nscript:x()">there</a><svg><script>y()</script><text>no</text></svg><style>p{}</style><hr>
      <p style="display:none">unseen</p><template><p>t</p></template><math><mi>x</mi></math>
      <a href="https://example.org/">link</a><noscript>n</noscript>`
    const { doc, limits, title } = read(html)
    expect(title).toBe('T')
    expect(doc.textContent).toBe('keptthere link')
    expect(limits.map(({ feature, count }) => [feature, count])).toEqual([
      ['style sheets', 2],
      ['scripts', 4],
      ['images from elsewhere (they are not fetched)', 2],
      ['embedded files', 2],
      ['form controls', 2],
      ['drawn shapes', 1],
      ['lines across the page', 1],
      ['hidden parts', 1],
      ['equations', 1],
    ])
    const again = new TextDecoder().decode(writeHtml(doc, null).bytes)
    expect(again).not.toMatch(/script|onclick|iframe|passwd|<input/i)
    expect(again).toContain('<a href="https://example.org/">link</a>')
  })

  test('what a look says cannot end the attribute that it is in', () => {
    const evil = '"><script>x()</script>'
    const doc = nodes.doc.create(null, [
      nodes.paragraph.create(null, [
        documentSchema.text('a', [
          marks.look.create({ color: null, fill: null, size: null, font: `x'; background: url(//e)${evil}` }),
        ]),
        documentSchema.text('b', [marks.link.create({ href: `https://example.org/${evil}` })]),
        nodes.image.create({ src: 'data:image/png;base64,AA==', alt: evil, width: 1, height: 1 }),
      ]),
    ])
    const { bytes } = writeHtml(doc, null)
    const written = new TextDecoder().decode(bytes)
    expect(written).not.toContain('<script')
    expect(read(written).doc.textContent).toBe('ab')
    expect(told(written)).toEqual([])
  })

  test('letters are read by what the page says they are in', () => {
    const page = (charset: string, bytes: number[]) =>
      readHtml(Uint8Array.from([...new TextEncoder().encode(`<meta charset="${charset}"><p>`), ...bytes])).doc
        .textContent
    expect(page('windows-1251', [0xcf, 0xf0, 0xe8])).toBe('При')
    expect(page('windows-1252', [0x80, 0xe9])).toBe('€é')
    // Sound UTF-8 is what it is.
    expect(page('windows-1252', [0xc3, 0xa9])).toBe('é')
  })

  test('its title and language stay when it is saved', () => {
    const from = read('<html lang="de"><title>Schleusen &amp; Wehre</title><p>x')
    const again = new TextDecoder().decode(writeHtml(from.doc, from).bytes)
    expect(again).toContain('<html lang="de">')
    expect(again).toContain('<title>Schleusen &#38; Wehre</title>')
  })

  test.each(['<div>', '<b>', '<ul><li>', '<table><tr><td>', '<blockquote>', '<b><p>', '<br>', '<a><p>'])(
    '%s without end is refused with a sentence',
    (tag) => {
      expect(() => read(tag.repeat(200_000))).toThrow(DamagedFile)
    },
  )

  test('has no cells of the white space between the parts of a table, however it is kept', () => {
    const { doc } = read('<table style="white-space: pre">\n<tbody>\n<tr><td> a\n</td>\n</tr>\n</tbody>\n</table>')
    const table = doc.children.find((node) => node.type.name === 'table')!
    expect([table.childCount, table.firstChild!.childCount]).toEqual([1, 1])
  })
  test('of any letters at all is read, and what is read is a document that can be written again', () => {
    const tag = fc.constantFrom(
      ...'p b i ul ol li table tr td th h1 div span br blockquote pre a img hr center font caption svg'.split(' '),
    )
    const piece = fc.oneof(
      tag.map((name) => `<${name}>`),
      tag.map((name) => `</${name}>`),
      fc.constantFrom(
        ' ',
        '\n',
        'a',
        '&amp;',
        '<',
        '&#0;',
        '\u0000',
        '\f',
        '\ud800',
        '<!-- -->',
        '<td colspan=0>',
        '<p style="color:">',
        '<ol start=-5>',
        '<td rowspan=99999>',
      ),
      fc.string({ unit: 'binary', maxLength: 4 }),
    )
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 40 }), (pieces) => {
        const { doc } = read(pieces.join(''))
        const { bytes, lost } = writeHtml(doc, null)
        expect(lost).toEqual([])
        expect(readHtml(bytes).doc.toJSON()).toEqual(doc.toJSON())
      }),
      { numRuns: 800 },
    )
  })
})
