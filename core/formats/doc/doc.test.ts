import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../../content/document'
import { edgesOf, storyOf } from '../../content/edges'
import { openDocumentModel } from '../../recovery/models'
import { readDocument, writeDocument } from '../documents'
import { keptNote } from '../flat/notes'
import { DamagedFile } from '../refusals'
import { typeOfBytes } from '../signature'
import { wordsOfFile } from '../words'
import { readDoc, readDocLooks } from './read'
import { type DocGiven, type DocLine, docOf, u16, u32 } from './testing'

const line = (...runs: DocLine['runs'][number][]): DocLine => ({ runs })
const read = (given: DocGiven) => readDoc(docOf(given))
const lines = (doc: Node): string[] => {
  const all: string[] = []
  doc.descendants((node) => {
    if (node.isTextblock) all.push(node.textBetween(0, node.content.size, '', (leaf) => leaf.attrs.words ?? '\n'))
    return !node.isTextblock
  })
  return all
}
const marksIn = (doc: Node): unknown[] => {
  const all: unknown[] = []
  doc.descendants((node) => {
    if (node.isText) all.push([node.text, ...node.marks.map(({ type, attrs }) => attrs.href ?? type.name)])
  })
  return all
}
const features = (limits: readonly { feature: string }[]) => limits.map(({ feature }) => feature)

describe('letters', () => {
  test.each([0, 7, 1000])('in pieces of one byte and of two, the first of which ends at %i', (wideFrom) => {
    const text = wideFrom === 1000 ? 'Caf\u00e9 and gates'.padEnd(60, '.') : 'Lock \u00e9\u00fc \u0416 \u2013 \u6c34'
    const { doc } = read({ lines: [line(text), line('More')], wideFrom: Math.min(wideFrom, text.length + 6) })
    expect(lines(doc)).toEqual([text, 'More'])
  })
  test('that stand for something else', () => {
    const { doc, limits } = read({
      lines: [
        line(
          'a\tb\u000bc\u001ed\u001fe',
          {
            text: '(',
            says: [
              [0x6a09, ...u16(1), ...u16(0xf0b7)],
              [0x0855, 1],
            ],
          },
          '\u000e',
        ),
        line({ text: 'gone', says: [[0x0800, 1]] }, { text: 'hidden', says: [[0x083c, 1]] }, 'seen'),
        line({ text: '\u0005', says: [[0x0855, 1]] }, { text: 'new', says: [[0x0801, 1]] }),
      ],
      fonts: ['Times', 'Symbol'],
    })
    expect(lines(doc)).toEqual(['a\tb\nc\u2011d\u00ade•', 'seen', 'new'])
    expect(features(limits)).toEqual([
      'symbols of a special font',
      'column breaks',
      'tracked removals',
      'hidden parts',
      'comments',
      'tracked insertions (their text stays)',
    ])
  })
})

test('styles are what people named, what is beside them is a look, and both have theirs', () => {
  const given: DocGiven = {
    styles: [
      { name: 'Standard', char: [[0x4a43, ...u16(24)]] },
      {
        name: 'Überschrift 2',
        known: 2,
        base: 0,
        char: [
          [0x0835, 1],
          [0x4a43, ...u16(32)],
        ],
      },
      { name: 'Remark', base: 0, para: [[0x845e, ...u16(300)]], char: [[0x6870, 255, 0, 0, 0]] },
      { name: 'Quote', base: 0, char: [[0x0836, 1]] },
    ],
    fonts: ['Times New Roman', 'Courier'],
    lines: [
      { ...line('Gates'), style: 1 },
      {
        ...line(
          'A note ',
          { text: 'bold', says: [[0x0835, 0x81]] },
          {
            text: ' plain',
            says: [
              [0x6870, 0, 0, 0, 255],
              [0x4a4f, ...u16(1)],
            ],
          },
        ),
        style: 2,
      },
      { ...line('Said'), style: 3 },
      {
        ...line('Framed', {
          text: 'fill',
          says: [
            [0x2a0c, 7],
            [0x2a3e, 1],
            [0x0837, 1],
            [0x2a48, 1],
          ],
        }),
        says: [
          [0x2461, 1],
          [0xa413, ...u16(120)],
          [0x6412, ...u16(360), ...u16(1)],
          [0x6424, 4, 1, 6, 2],
          [0xc64d, 0, 0, 0, 255, 0, 255, 0, 0, 0, 0],
        ],
      },
      { ...line('Outlined'), says: [[0x2640, 2]] },
    ],
  }
  const { doc, limits } = read(given)
  expect(doc.children.map(({ type, attrs }) => [type.name, attrs.level, attrs.style, attrs.align, attrs.look])).toEqual(
    [
      ['heading', 2, null, null, null],
      ['paragraph', undefined, 'Remark', null, null],
      ['blockquote', undefined, undefined, undefined, undefined],
      [
        'paragraph',
        undefined,
        null,
        'center',
        {
          before: 120,
          line: { share: 360 },
          fill: '#00ff00',
          borders: { top: { kind: 'single', width: 4, space: 2, color: '#ff0000' } },
        },
      ],
      ['heading', 3, null, null, null],
    ],
  )
  expect(marksIn(doc)).toEqual([
    ['Gates'],
    ['A note '],
    ['bold', 'strong'],
    [' plain', 'look'],
    ['Said'],
    ['Framed'],
    ['fill', 'underline', 'strike', 'raised', 'look'],
    ['Outlined'],
  ])
  expect(limits).toEqual([])
  expect(
    readDocLooks(docOf(given)).map(({ name, heading, quote, named, usual }) => [name, heading, quote, named, usual]),
  ).toEqual([
    ['Standard', 0, false, false, true],
    ['Überschrift 2', 2, false, false, false],
    ['Remark', 0, false, true, false],
    ['Quote', 0, true, false, false],
  ])
  expect(readDocLooks(docOf(given))[2]!.css).toMatchObject({
    'margin-left': '15pt',
    color: '#ff0000',
    'font-size': '12pt',
  })
  expect(readDocLooks(new Uint8Array(9))).toEqual([])
})

test('lists, with their numbers and how deep they are', () => {
  const item = (text: string, level = 0): DocLine => ({
    ...line(text),
    says: [
      [0x260a, level],
      [0x460b, ...u16(1)],
    ],
  })
  const { doc } = read({
    list: [
      {
        format: 0,
        start: 3,
        text: '\u0000)',
        says: [
          [0x845e, ...u16(720)],
          [0x8460, ...u16(0x10000 - 360)],
        ],
      },
      { format: 23, start: 1, text: '\uf0b7', says: [[0x845e, ...u16(1440)]] },
    ],
    lines: [item('three'), item('deep', 1), item('four'), line('between'), item('five')],
  })
  expect(doc.toString()).toBe(
    'doc(ordered_list(list_item(paragraph("three"), bullet_list(list_item(paragraph("deep")))), list_item(paragraph("four"))), paragraph("between"), ordered_list(list_item(paragraph("five"))))',
  )
  expect([doc.child(0).attrs.start, doc.child(0).attrs.number.after, doc.child(2).attrs.start]).toEqual([3, ')', 5])
  // Where a list stands is no look of its paragraphs.
  expect(doc.child(0).firstChild!.firstChild!.attrs.look).toBeNull()
})

test('tables with cells over several columns and rows, and those in cells', () => {
  const cell = (text: string): DocLine => ({ ...line(text), says: [[0x2416, 1]], mark: '\u0007' })
  const row = (edges: number[], flags: number[], more: NonNullable<DocLine['says']> = []): DocLine => ({
    runs: [],
    mark: '\u0007',
    says: [
      [0x2416, 1],
      [0x2417, 1],
      [
        0xd608,
        flags.length,
        ...edges.flatMap(u16),
        ...flags.flatMap((flag) => [...u16(flag), ...new Array(18).fill(0)]),
      ],
      ...more,
    ],
  })
  const { doc, limits } = read({
    lines: [
      line('Before'),
      cell('Wide'),
      cell(''),
      cell('Third'),
      row([0, 1500, 3000, 4500], [1, 2, 0], [[0x3404, 1]]),
      { ...line('Tall'), says: [[0x2416, 1]] },
      cell('two lines'),
      cell('b'),
      cell('c'),
      row([0, 1500, 3000, 4500], [0x60, 0, 0]),
      cell(''),
      {
        ...line('inner'),
        says: [
          [0x2416, 1],
          [0x6649, ...u32(2)],
          [0x244b, 1],
        ],
      },
      {
        runs: [],
        says: [
          [0x2416, 1],
          [0x6649, ...u32(2)],
          [0x244c, 1],
        ],
      },
      cell('both'),
      row([0, 1500, 4500], [0x20, 0]),
      line('After'),
    ],
  })
  expect(
    doc
      .child(1)
      .children.map(({ attrs, children }) => [
        attrs.header,
        ...children.map((one) => [lines(one).join('/'), one.attrs.colspan, one.attrs.rowspan, one.attrs.colwidth]),
      ]),
  ).toEqual([
    [true, ['Wide', 2, 1, [100, 100]], ['Third', 1, 1, [100]]],
    [false, ['Tall/two lines', 1, 2, [100]], ['b', 1, 1, [100]], ['c', 1, 1, [100]]],
    [false, ['inner/both', 2, 1, [100, 100]]],
  ])
  expect(doc.lastChild!.textContent).toBe('After')
  expect(features(limits)).toEqual(['tables inside tables (their text stays)'])
})

test('links, fields, notes, edges of pages and what is written in boxes', () => {
  const { doc, limits } = read({
    lines: [
      line(
        'See \u0013HYPERLINK "https://example.org/a" \\l "b"\u0014here\u0015, \u0013REF x\u0014page 3\u0015\u0013TOC\u0014listed\u0015',
      ),
      line(
        'Worn',
        {
          text: '\u0002',
          says: [
            [0x0855, 1],
            [0x2a48, 1],
          ],
        },
        { text: '\u0008', says: [[0x0855, 1]] },
        '.',
      ),
    ],
    notes: [[line('\u0002 Seen in ', { text: 'June', says: [[0x0835, 1]] }), line('Twice.')]],
    edges: [[], [line('Trust \u0013PAGE\u00144\u0015')], [], [line('Foot')], [line('First')], []],
    section: [
      [0xb01f, ...u16(16838)],
      [0xb020, ...u16(11906)],
      [0xb021, ...u16(900)],
    ],
    boxes: [{ shape: 1025, lines: [line('In a box')] }],
    storages: ['Macros'],
  })
  expect(marksIn(doc).slice(0, 2)).toEqual([['See '], ['here', 'https://example.org/a#b']])
  expect(lines(doc)).toEqual(['See here, page 3listed', 'WornSeen in June Twice..', 'In a box'])
  const note = keptNote('footnote', [
    [
      { text: 'Seen in ', strong: false, em: false },
      { text: 'June', strong: true, em: false },
    ],
    [{ text: 'Twice.', strong: false, em: false }],
  ])
  let found: Node | null = null
  doc.descendants((node) => void (node.attrs.kind === 'footnote' && (found = node)))
  expect([found!.attrs, found!.marks]).toEqual([note, []])
  expect(
    edgesOf(doc).map((edge) => [edge.edge, edge.on, storyOf(edge).textContent, storyOf(edge).firstChild!.childCount]),
  ).toEqual([
    ['head', 'all', 'Trust ', 2],
    ['foot', 'all', 'Foot', 1],
  ])
  expect(doc.attrs.page).toMatchObject({ width: 16838, height: 11906, left: 900 })
  expect(features(limits)).toEqual(['fields (their last result stays)', 'text boxes (their text stays)', 'macros'])
})

test('pictures in their lines, and what browsers do not show', () => {
  const record = (kind: number, instance: number, body: number[]) => [
    ...u16(instance << 4),
    ...u16(kind),
    ...u32(body.length),
    ...body,
  ]
  const picture = (blip: number[]) => {
    const alt = [...'A gate\u0000'].flatMap((letter) => u16(letter.charCodeAt(0)))
    const shape = record(0xf004, 0, record(0xf00b, 1, [...u16(0xc381), ...u32(alt.length), ...alt]))
    const header = [
      ...u16(68),
      ...u16(100),
      ...new Array(20).fill(0),
      ...u16(300),
      ...u16(150),
      ...u16(500),
      ...u16(2000),
    ]
    const body = [...header, ...new Array(64 - header.length).fill(0), ...shape, ...blip]
    return [...u32(body.length + 4), ...body]
  }
  const png = picture(
    record(0xf007, 0, [...new Array(36).fill(0), ...record(0xf01e, 0x6e0, [...new Array(17).fill(0), 0x89, 0x50])]),
  )
  const drawn = picture(record(0xf01a, 0, [1, 2, 3]))
  const at = (place: number) => ({
    text: '\u0001',
    says: [
      [0x6a03, ...u32(place)],
      [0x0855, 1],
    ] as const,
  })
  const { doc, limits } = read({
    lines: [line('x', at(0), at(png.length), { text: '\u0001', says: [[0x0855, 1]] })],
    data: Uint8Array.from([...png, ...drawn]),
  })
  expect(doc.firstChild!.child(1).attrs).toEqual({
    src: 'data:image/png;base64,iVA=',
    alt: 'A gate',
    width: 10,
    height: 20,
  })
  expect([doc.firstChild!.childCount, features(limits)]).toEqual([2, ['images of a type browsers cannot show']])
})

test('pages and sections', () => {
  const { doc } = read({
    lines: [line('One\u000ctwo'), { ...line('Three'), says: [[0x2407, 1]] }, line('\u000c'), line('Four')],
  })
  expect(doc.children.map(({ type }) => type.name)).toEqual([
    'paragraph',
    'page_break',
    'paragraph',
    'page_break',
    'paragraph',
    'page_break',
    'paragraph',
  ])
})

describe('files that are older, have a password, or are damaged', () => {
  test.each([
    ['older', docOf({ lines: [line('x')], version: 0x65 }), 'older-than'],
    ['much older', Uint8Array.of(0xdb, 0xa5, 0x2d, 0), 'older-than'],
    ['with a password', docOf({ lines: [line('x')], flags: 0x0300 }), 'password'],
    ['without its table', docOf({ lines: [line('x')], flags: 0 }), 'its-parts'],
    ['empty', new Uint8Array(), 'its-parts'],
  ])('%s', (_, bytes, reason) => {
    expect(() => readDoc(bytes)).toThrow(DamagedFile)
    expect(() => readDoc(bytes)).toThrow(expect.objectContaining({ message: expect.stringContaining(reason) }))
  })
  test('whatever byte is another, it opens or is refused with a sentence', () => {
    const whole = docOf({
      lines: [
        line('Gates and paddles', { text: '\u0002', says: [[0x0855, 1]] }),
        { ...line('x'), says: [[0x460b, 1, 0]] },
      ],
      notes: [[line('A note')]],
      list: [{ format: 0, start: 1, text: '\u0000.' }],
    })
    for (let at = 0; at < whole.length; at += 7) {
      const bytes = whole.slice()
      bytes[at] = (bytes[at]! + 101 + at) & 255
      try {
        readDoc(bytes).doc.check()
      } catch (error) {
        expect(error).toBeInstanceOf(DamagedFile)
      }
    }
  })
})

test('a draft of it goes on after a crash, on the very document that it was written on', () => {
  const bytes = docOf({ lines: [line('First.'), line('Second.')] })
  const { base, stands } = openDocumentModel(bytes, [], null, 'doc')
  const change = new Transform(base.model).insert(base.model.content.size - 1, documentSchema.text('!'))
  const record = { seq: 1, at: 0, edit: { steps: change.steps.map((step) => step.toJSON()) } }
  // The file may have gone on as another type by then: the draft knows what it was written on.
  const { replayed, carried } = openDocumentModel(bytes, [record], stands(), 'docx')
  expect([carried, replayed.model.textContent, stands().type]).toEqual([false, 'First.Second.!', 'doc'])
})

test('it is a type that is read and goes on as another one', () => {
  const bytes = docOf({ lines: [line('The sill is worn.')], storages: ['Macros'] })
  expect(typeOfBytes(bytes)).toBe('doc')
  expect(wordsOfFile(bytes, 'doc').text).toContain('sill')
  const { doc } = readDocument(bytes, 'doc')
  const { bytes: written, lost } = writeDocument(doc, bytes, 'docx', 'doc')
  expect(readDocument(written, 'docx').doc.textContent).toBe('The sill is worn.')
  expect(features(lost)).toEqual(['macros'])
})
