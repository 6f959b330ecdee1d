import { strToU8 } from 'fflate'
import type { Node } from 'prosemirror-model'
import { describe, expect, test } from 'vitest'
import { edgesOf, storyOf } from '../../content/edges'
import { DamagedFile } from '../refusals'
import { readRtfLooks } from './file'
import { readRtf } from './read'

/** A text by its latin letters, as old programs write them. */
const rtf = (body: string, head = '') =>
  Uint8Array.from(
    Buffer.from(`{\\rtf1\\ansi\\ansicpg1252\\deff0{\\fonttbl{\\f0\\froman Times;}${head}\n${body}}`, 'latin1'),
  )
const read = (body: string, head = '}') => readRtf(rtf(body, head))
const lines = (doc: Node): string[] => {
  const all: string[] = []
  doc.descendants((node) => {
    if (node.isTextblock) all.push(node.textBetween(0, node.content.size, '', (leaf) => leaf.attrs.words ?? '\n'))
    return !node.isTextblock
  })
  return all
}
const kinds = (doc: Node) => doc.children.map(({ type }) => type.name)
const marksIn = (doc: Node): [string, string[]][] => {
  const all: [string, string[]][] = []
  doc.descendants((node) => {
    if (node.isText) all.push([node.text!, node.marks.map(({ type }) => type.name)])
  })
  return all
}

describe('letters', () => {
  test('by their numbers, by the page of the file or of their font, in two bytes, and by words', () => {
    const fonts =
      '{\\f1\\fcharset238 East;}{\\f2\\fcharset128 Two;}{\\f3\\fcharset2 Symbol;}{\\f4\\fcharset204\\cpg1251 North \\u1096 ?;}}'
    const { doc, limits } = readRtf(
      rtf(
        "\\pard\\plain caf\\'e9 \\u8217\\'92s \\uc2 \\u960 ??\\uc0\\u8364 x{\\f1 \\'b9}{\\f2 \\'8e\\'a9}{\\f3 \\'b7a\\'02}{\\f4 \\'c6}\\~\\-\\_\\emdash\\tab\\{\\}\\\\\\par",
        fonts,
      ),
    )
    expect(lines(doc)).toEqual(['café ’s π€xą自•α\ufffdЖ\u00a0\u00ad\u2011—\t{}\\'])
    expect(limits.map(({ feature, count }) => [feature, count])).toEqual([['symbols of a special font', 3]])
    expect(doc.firstChild!.children.map(({ marks }) => marks[0]?.attrs.font ?? '')).toContain('North ш')
  })
  test('line ends of the file are none, hidden and removed ones are not shown', () => {
    const { doc, limits } = read('\\pard one\r\n two{\\v  hidden}{\\deleted  gone} three\\par')
    expect(lines(doc)).toEqual(['one two three'])
    expect(limits.map(({ feature }) => feature)).toEqual(['hidden parts', 'tracked removals'])
  })
})

test('styles are what people named, what is beside them is a look, and both have theirs', () => {
  const bytes = rtf(
    '\\pard\\plain\\s1\\b\\fs36 Levels\\par\\pard\\plain\\s3\\li500\\cf1 A note {\\cf2\\b red}\\par\\pard\\plain\\s3\\li900\\cf1 moved\\par' +
      '\\pard\\plain\\sb120\\sl-300\\slmult0\\brdrt\\brdrs\\brdrw10\\brsp40\\brdrcf2\\cbpat1 Framed\\par\\pard\\plain\\s5 Said\\par\\pard\\plain\\outlinelevel2 Third\\par',
    '}{\\colortbl;\\red0\\green0\\blue255;\\red170\\green0\\blue0;}{\\stylesheet{Normal;}{\\s1\\outlinelevel0\\b\\fs36 heading 1;}{\\s3\\li500\\cf1 A note;}{\\s5\\i Quote;}{\\*\\cs9 Strong;}}',
  )
  const { doc } = readRtf(bytes)
  expect(doc.children.map(({ type, attrs }) => [type.name, attrs.level, attrs.style])).toEqual([
    ['heading', 1, null],
    ['paragraph', undefined, 'A note'],
    ['paragraph', undefined, 'A note'],
    ['paragraph', undefined, null],
    ['blockquote', undefined, undefined],
    ['heading', 3, null],
  ])
  expect(doc.children.map(({ attrs }) => attrs.look ?? null)).toEqual([
    null,
    null,
    { left: 900 },
    {
      before: 120,
      line: { exact: 300 },
      fill: '#0000ff',
      borders: { top: { kind: 'single', width: 4, space: 2, color: '#aa0000' } },
    },
    null,
    null,
  ])
  expect(marksIn(doc).slice(0, 3)).toEqual([
    ['Levels', []],
    ['A note ', []],
    ['red', ['strong', 'look']],
  ])
  expect(
    readRtfLooks(bytes).map(({ name, heading, quote, named, usual }) => [name, heading, quote, named, usual]),
  ).toEqual([
    ['Normal', 0, false, false, true],
    ['heading 1', 1, false, false, false],
    ['A note', 0, false, true, false],
    ['Quote', 0, true, false, false],
  ])
  expect(readRtfLooks(bytes)[2]!.css).toMatchObject({ 'margin-left': '25pt', color: '#0000ff', 'font-size': '12pt' })
  expect(readRtfLooks(strToU8('{'))).toEqual([])
})

test('lists by their tables, by what is said of a level elsewhere, and in the way before tables', () => {
  const level = (nfc: number, start: number, text: string) =>
    `{\\listlevel\\levelnfc${nfc}\\levelstartat${start}{\\leveltext${text};}{\\levelnumbers;}\\fi-360\\li720}`
  const { doc } = read(
    '{\\*\\listtable{\\list' +
      level(0, 3, "\\'02\\'00)") +
      level(4, 1, "\\'03(\\'01)") +
      '\\listid7}{\\list' +
      level(23, 1, "\\'01\\u8226 ?") +
      '\\listid8}}{\\*\\listoverridetable{\\listoverride\\listid7\\ls1}{\\listoverride\\listid8\\ls2}{\\listoverride\\listid7\\listoverridecount1{\\lfolevel\\listoverridestartat\\levelstartat9}\\ls3}}' +
      '\\pard\\ls1\\li720\\fi-360{\\listtext 3)\\tab}three\\par\\pard\\ls1\\ilvl1\\li720\\fi-360 deep\\par\\pard\\ls1\\li720\\fi-360 four\\par\\pard between\\par\\pard\\ls1\\li720\\fi-360 five\\par' +
      '\\pard\\ls2\\li720\\fi-360 point\\par\\pard\\ls3\\li720\\fi-360 nine\\par' +
      "\\pard{\\*\\pn\\pnlvlbody\\pnlcrm\\pnstart4{\\pntxta .}}{\\pntext iv.\\tab}old\\par{\\pntext v.\\tab}older\\par\\pard{\\*\\pn\\pnlvlblt{\\pntxtb\\'b7}}dot\\par",
  )
  expect(doc.toString()).toBe(
    'doc(ordered_list(list_item(paragraph("three"), ordered_list(list_item(paragraph("deep")))), list_item(paragraph("four"))), paragraph("between"), ordered_list(list_item(paragraph("five"))), bullet_list(list_item(paragraph("point"))), ordered_list(list_item(paragraph("nine"))), ordered_list(list_item(paragraph("old")), list_item(paragraph("older"))), bullet_list(list_item(paragraph("dot"))))',
  )
  const numbers: unknown[] = []
  doc.descendants(
    (node) =>
      void (
        node.type.name === 'ordered_list' &&
        numbers.push([node.attrs.start, node.attrs.number?.format, node.attrs.number?.after])
      ),
  )
  expect(numbers).toEqual([
    [3, 'decimal', ')'],
    [1, 'lower-alpha', ')'],
    [5, 'decimal', ')'],
    [9, 'decimal', ')'],
    [4, 'lower-roman', '.'],
  ])
})

test('tables by the edges of their cells, merged ones and those in cells', () => {
  const { doc, limits } = read(
    '\\pard Before\\par\\trowd\\trhdr\\trleft-100\\clmgf\\cellx1400\\clmrg\\cellx2900\\cellx4400\\pard\\intbl Wide\\cell\\cell Third\\cell\\row' +
      '\\trowd\\trleft-100\\clvmgf\\cellx1400\\cellx2900\\cellx4400\\pard\\intbl Tall\\cell a\\par b\\cell c\\cell\\row' +
      '\\trowd\\trleft-100\\clvmrg\\cellx1400\\cellx4400\\pard\\intbl\\cell\\itap2 in\\nestcell{\\*\\nesttableprops\\trowd\\cellx1\\nestrow}\\pard\\intbl both\\cell\\row\\pard After\\par',
  )
  expect(kinds(doc)).toEqual(['paragraph', 'table', 'paragraph'])
  expect(
    doc
      .child(1)
      .children.map(({ attrs, children }) => [
        attrs.header,
        ...children.map((cell) => [lines(cell).join('/'), cell.attrs.colspan, cell.attrs.rowspan, cell.attrs.colwidth]),
      ]),
  ).toEqual([
    [true, ['Wide', 2, 1, [100, 100]], ['Third', 1, 1, [100]]],
    [false, ['Tall', 1, 2, [100]], ['a/b', 1, 1, [100]], ['c', 1, 1, [100]]],
    [false, ['in/both', 2, 1, [100, 100]]],
  ])
  expect(limits.map(({ feature }) => feature)).toEqual(['tables inside tables (their text stays)'])
})

test('links, fields, notes, pictures and edges of pages', () => {
  const { doc, limits } = read(
    '\\titlepg{\\header\\pard Trust {\\field{\\*\\fldinst PAGE}{\\fldrslt 4}} of {\\field{\\*\\fldinst NUMPAGES}{\\fldrslt 9}}\\par}{\\footerf\\pard First\\par}{\\headerl\\pard Left\\par}' +
      '\\pard See {\\field{\\*\\fldinst{HYPERLINK "https://example.org/a?b" \\\\l "c"}}{\\fldrslt{\\ul here}}}, {\\field{\\*\\fldinst REF x}{\\fldrslt page 3}}{\\field{\\*\\fldinst TOC \\\\o}{\\fldrslt listed}}' +
      '{\\super\\chftn{\\footnote\\pard\\plain{\\super\\chftn} Seen in {\\b June}.\\par And twice.}}{\\chftn{\\footnote\\ftnalt \\pard End.}}\\par' +
      '\\pard{\\*\\shppict{\\pict{\\*\\picprop{\\sp{\\sn wzDescription}{\\sv A gate}}}\\picscalex50\\picwgoal300\\pichgoal150\\pngblip 8950\n4e47}}{\\nonshppict{\\pict\\wmetafile8 00}}{\\pict\\emfblip 00}\\par',
  )
  expect(edgesOf(doc).map((edge) => [edge.edge, edge.on, storyOf(edge).textContent])).toEqual([
    ['head', 'all', 'Trust  of '],
    ['foot', 'first', 'First'],
  ])
  const kept: unknown[] = []
  doc.descendants(
    (node) => void (node.type.name === 'kept' && kept.push([node.attrs.kind, node.attrs.words, node.marks.length])),
  )
  expect(kept).toEqual([
    ['field', 'page 3', 0],
    ['footnote', 'Seen in June. And twice.', 0],
    ['endnote', 'End.', 0],
  ])
  expect(marksIn(doc)).toContainEqual(['here', ['link', 'underline']])
  expect(doc.firstChild!.child(1).marks[0]!.attrs.href).toBe('https://example.org/a?b#c')
  expect(doc.child(1).firstChild!.attrs).toMatchObject({
    src: 'data:image/png;base64,iVBORw==',
    alt: 'A gate',
    width: 10,
    height: 10,
  })
  expect(limits.map(({ feature }) => feature)).toEqual([
    'fields (their last result stays)',
    'images of a type browsers cannot show',
  ])
})

test('pages: their size, and where they begin', () => {
  const { doc } = read(
    '\\paperw11906\\paperh16838\\margl1000\\margr1000\\margt720\\margb720\\sectd\\pgwsxn16838\\pghsxn11906\\pard One\\page two\\par\\pard\\pagebb Three\\par\\pard\\page\\par\\pard Four\\par',
  )
  expect(kinds(doc)).toEqual([
    'paragraph',
    'page_break',
    'paragraph',
    'page_break',
    'paragraph',
    'page_break',
    'paragraph',
  ])
  expect(doc.attrs.page).toEqual({ width: 16838, height: 11906, left: 1000, right: 1000, top: 720, bottom: 720 })
})

describe('files that are made to harm, or are cut off', () => {
  test.each([
    ['', 'its-parts'],
    ['{\\rtf1 no end', 'its-parts'],
    ['plain text', 'its-parts'],
    [`{\\rtf1 ${'{'.repeat(100_000)}`, 'its-parts'],
    [`{\\rtf1 ${'{\\b '.repeat(1000)}x${'}'.repeat(1000)}}`, 'its-parts'],
    ['{\\rtf1{\\field{\\*\\fldinst PAGE}', 'its-parts'],
  ])('%#', (text, reason) => {
    const open = () => readRtf(strToU8(text))
    expect(open).toThrow(DamagedFile)
    expect(open).toThrow(expect.objectContaining({ message: expect.stringContaining(reason) }))
  })
  test('numbers and shapes beyond all measure are as near as can be', () => {
    const { doc } = read(
      '\\pard\\li99999999999\\fs-5\\ilvl99\\ls77\\cf88\\f99\\uc999999 a\\par\\trowd\\cellx-5\\cellx99999999\\clmrg\\cellx1\\pard\\intbl x\\cell y\\cell z\\cell w\\cell\\row\\row\\cell\\par{\\pict\\pngblip 8}',
    )
    expect(lines(doc).join('')).toContain('xyzw')
  })
  test('more paragraphs than can be handed to a function, and letters, are read one after the other', () => {
    const { doc } = read('\\pard\\plain a\\par'.repeat(140_000))
    expect(doc.childCount).toBe(140_000)
    const long = read(`\\pard ${'letters '.repeat(40_000)}\\par`).doc
    expect(long.textContent).toHaveLength(320_000)
  })
  test('a table of more columns than there are is refused', () => {
    const row = `\\trowd${Array.from({ length: 2000 }, (_, at) => `\\cellx${at * 20}`).join('')}\\pard\\intbl a\\cell\\row`
    expect(() => read(row)).toThrow(DamagedFile)
  })
  test('what leads elsewhere is not fetched, and what runs is told of', () => {
    const { doc, limits } = read(
      '\\pard a{\\object\\objocx{\\*\\objdata 0105}{\\result\\pard shown}}{\\field{\\*\\fldinst INCLUDEPICTURE "https://example.org/x.png"}{\\fldrslt}}\\par',
    )
    expect(lines(doc)).toEqual(['ashown'])
    expect(limits.map(({ feature }) => feature)).toEqual(['embedded objects', 'fields (their last result stays)'])
  })
})
