// What hands reach for in a document: for each the change that its tool makes, the walk that makes it by keys alone, what a
// program that knows nothing of this one reads in the file, and how compare tells it. What is asked of all of them is in
// held-documents.ts.
import { toggleMark, wrapIn } from 'prosemirror-commands'
import type { Node } from 'prosemirror-model'
import { liftListItem, sinkListItem, wrapInList } from 'prosemirror-schema-list'
import type { Command } from 'prosemirror-state'
import {
  addColumnAfter,
  addColumnBefore,
  addRowAfter,
  addRowBefore,
  deleteColumn,
  deleteRow,
  deleteTable,
} from 'prosemirror-tables'
import { DocAttrStep } from 'prosemirror-transform'
import { keyOfComment } from '../../../core/content/comment-ranges'
import { a4, documentSchema } from '../../../core/content/document'
import { storyJSON } from '../../../core/content/edges'
import { fieldCodes } from '../../../core/content/fields'
import type { Kept } from '../../../core/content/kept'
import { keptField } from '../../../core/formats/docx/fields'
import { newComment, newNote, saying } from '../../../core/formats/note-words'
import { odtRemark } from '../../../core/formats/odt/notes'
import { asKind, usualKind } from '../../views/document/kinds'
import { clearLooks, setLook, setParagraphLook } from '../../views/document/text-look'

const { nodes, marks } = documentSchema
export const text = (words: string, ...names: (keyof typeof marks)[]) =>
  documentSchema.text(
    words,
    names.map((name) => marks[name]!.create()),
  )
export const line = (...content: (Node | string)[]) =>
  nodes.paragraph.create(
    null,
    content.map((one) => (typeof one === 'string' ? text(one) : one)),
  )

/** A key; what is typed; a command by its name in the list of all; a field or a button of the look beside; a tool, or what is in its menu. */
export type Stroke =
  | string
  | { type: string }
  | { command: string }
  | { field: string; is: string }
  | { button: string }
  | { menu: string; item: string }
  | { press: string }
  /** What asks for something has the keys by then. */
  | { asked: string }
/** Of the walk that makes it: its file and how its name begins; or the keys that e2e/features.spec.ts presses. */
export type ByKeys = { walk: string } | { keys: readonly Stroke[] }

export interface DocumentFeature {
  name: string
  /** How it is made by keys alone; null where nothing shows that yet. */
  by: ByKeys | null
  /** From the beginning of the text to the beginning of the line that it is in. */
  reach?: readonly string[]
  /** Its element in ECMA-376 part 1, and in ISO/IEC 26300-1 or why it has none there. */
  element: string
  /** What the document is before; its last line is somebody else's. */
  content?: readonly Node[]
  /** The words that are selected; the caret is before them where `caret`. */
  on?: string
  caret?: boolean
  change: Command
  /** What it is in the open standard, where its tool makes another thing of it. */
  inOdt?: Command
  /** What python-docx has of it then: an expression about the document `d`, with what held-documents.ts defines. */
  docx: readonly [expression: string, value: unknown]
  /** The same of odfpy. */
  odt?: readonly [expression: string, value: unknown]
  /** In compare's words. */
  said: string
  /** Another one's edit elsewhere is merged with all features; some are of the whole document, which is one thing. */
  alone?: true
}

const look = (
  command: Command,
  rest: Pick<DocumentFeature, 'docx' | 'odt' | 'name' | 'element' | 'said'> & { by?: ByKeys },
): DocumentFeature => ({
  by: { walk: 'looks.spec.ts: font, size' },
  change: command,
  ...rest,
})
const run = "next(r for p in d.paragraphs for r in p.runs if 'lower' in r.text)"
const paragraph = "next(p for p in d.paragraphs if 'lower' in p.text)"

const looks: DocumentFeature[] = [
  look(toggleMark(marks.strong), {
    name: 'bold',
    said: 'Another look in 1 place. bold',
    element: 'w:b §17.3.2.1; fo:font-weight §20.194',
    by: { keys: ['Control+b'] },
    docx: [`${run}.bold`, true],
    odt: ["look('lower gate')['fontweight']", 'bold'],
  }),
  look(toggleMark(marks.em), {
    name: 'italic',
    said: 'Another look in 1 place. italic',
    element: 'w:i §17.3.2.16; fo:font-style §20.191',
    by: { keys: ['Control+i'] },
    docx: [`${run}.italic`, true],
    odt: ["look('lower gate')['fontstyle']", 'italic'],
  }),
  look(toggleMark(marks.underline), {
    name: 'underline',
    said: 'Another look in 1 place. underlined',
    element: 'w:u §17.3.2.40; style:text-underline-style §20.380',
    by: { keys: ['Control+u'] },
    docx: [`${run}.underline`, true],
    odt: ["look('lower gate')['textunderlinestyle']", 'solid'],
  }),
  look(toggleMark(marks.strike), {
    name: 'strike through',
    said: 'Another look in 1 place. struck through',
    element: 'w:strike §17.3.2.37; style:text-line-through-style §20.369',
    by: { keys: ['Alt+Shift+d'] },
    docx: [`${run}.font.strike`, true],
    odt: ["look('lower gate')['textlinethroughstyle']", 'solid'],
  }),
  look(toggleMark(marks.raised), {
    name: 'raised',
    said: 'Another look in 1 place. raised',
    element: 'w:vertAlign §17.3.2.42; style:text-position §20.384',
    docx: [`${run}.font.superscript`, true],
    odt: ["look('lower gate')['textposition'].split()[0]", 'super'],
  }),
  look(toggleMark(marks.lowered), {
    by: { keys: [{ button: 'Lowered' }] },
    name: 'lowered',
    said: 'Another look in 1 place. lowered',
    element: 'w:vertAlign §17.3.2.42; style:text-position §20.384',
    docx: [`${run}.font.subscript`, true],
    odt: ["look('lower gate')['textposition'].split()[0]", 'sub'],
  }),
  look(setLook({ font: 'Caladea' }), {
    name: 'font',
    said: 'Another look in 1 place. Caladea',
    element: 'w:rFonts §17.3.2.26; fo:font-family §20.190',
    docx: [`${run}.font.name`, 'Caladea'],
    odt: ["look('lower gate')['fontfamily']", "'Caladea'"],
  }),
  look(setLook({ size: 18 }), {
    name: 'size',
    said: 'Another look in 1 place. 18 pt',
    element: 'w:sz §17.3.2.38; fo:font-size §20.192',
    docx: [`${run}.font.size.pt`, 18],
    odt: ["look('lower gate')['fontsize']", '18pt'],
  }),
  look(setLook({ color: '#a3402a' }), {
    name: 'colour',
    said: 'Another look in 1 place. another colour',
    element: 'w:color §17.3.2.6; fo:color §20.182',
    docx: [`str(${run}.font.color.rgb)`, 'A3402A'],
    odt: ["look('lower gate')['color']", '#a3402a'],
  }),
  look(setLook({ fill: '#f7eccb' }), {
    by: { keys: [{ button: 'Colour #f7eccb' }] },
    name: 'what is behind',
    said: 'Another look in 1 place. highlighted',
    element: 'w:shd §17.3.2.32; fo:background-color §20.175',
    docx: [`${run}._r.rPr.find(qn('w:shd')).get(qn('w:fill'))`, 'F7ECCB'],
    odt: ["look('lower gate')['backgroundcolor']", '#f7eccb'],
  }),
  {
    ...look(clearLooks, {
      by: { keys: ['Control+\\'] },
      name: 'clear looks',
      said: 'Another look in 1 place. no longer bold, the usual size',
      element: 'no w:rPr',
      docx: [`[${run}.bold, ${run}.font.size]`, [null, null]],
      odt: ["look('The lower gate leaks.')", {}],
    }),
    content: [
      line(
        'The ',
        documentSchema.text('lower gate', [marks.strong.create(), marks.look.create({ size: 20 })]),
        ' leaks.',
      ),
    ],
  },
  look(toggleMark(marks.link, { href: 'https://midland-canals.example/' }), {
    name: 'link',
    said: 'Another look in 1 place. a link',
    element: 'w:hyperlink §17.16.22; text:a §6.1.8',
    by: { keys: ['Control+k', { asked: 'Address' }, { type: 'https://midland-canals.example/' }, 'Enter'] },
    docx: [
      "[d.part.rels[h.get(qn('r:id'))].target_ref for h in d.element.body.iter(qn('w:hyperlink'))]",
      ['https://midland-canals.example/'],
    ],
    odt: ["[a.getAttribute('href') for a in d.getElementsByType(text.A)]", ['https://midland-canals.example/']],
  }),
]

const placed = (
  name: string,
  part: Parameters<typeof setParagraphLook>[0],
  element: string,
  docx: DocumentFeature['docx'],
  odt: DocumentFeature['odt'],
  now: string,
  /** Of the look beside, and what is typed into it. */
  field = '',
  is = '',
): DocumentFeature => ({
  name,
  by: field ? { keys: [{ field, is }] } : { walk: 'looks.spec.ts: font, size' },
  element,
  change: setParagraphLook(part),
  docx,
  ...(odt && { odt }),
  said: `Another look in 1 place. paragraph → paragraph, ${now}`,
})
const paragraphs: DocumentFeature[] = [
  placed(
    'space before',
    { before: 480 },
    'w:spacing §17.3.1.33; fo:margin-top §20.202',
    [`${paragraph}.paragraph_format.space_before.pt`, 24],
    ["place('lower')['margintop']", '24pt'],
    'with 24 pt of space before',
  ),
  placed(
    'space after',
    { after: 360 },
    'w:spacing §17.3.1.33; fo:margin-bottom §20.199',
    [`${paragraph}.paragraph_format.space_after.pt`, 18],
    ["place('lower')['marginbottom']", '18pt'],
    'with 18 pt of space after',
    'Space after',
    '18',
  ),
  placed(
    'space from the left',
    { left: 720 },
    'w:ind §17.3.1.12; fo:margin-left §20.200',
    [`${paragraph}.paragraph_format.left_indent.pt`, 36],
    ["place('lower')['marginleft']", '36pt'],
    'indented 1.3 cm left',
    'From the left',
    '36',
  ),
  placed(
    'space from the right',
    { right: 480 },
    'w:ind §17.3.1.12; fo:margin-right §20.201',
    [`${paragraph}.paragraph_format.right_indent.pt`, 24],
    ["place('lower')['marginright']", '24pt'],
    'indented 0.8 cm right',
    'From the right',
    '24',
  ),
  placed(
    'first line',
    { first: 360 },
    'w:ind §17.3.1.12; fo:text-indent §20.229',
    [`${paragraph}.paragraph_format.first_line_indent.pt`, 18],
    ["place('lower')['textindent']", '18pt'],
    'indented 0.6 cm in its first line',
    'First line',
    '18',
  ),
  placed(
    'height of lines',
    { line: { share: 360 } },
    'w:spacing §17.3.1.33; fo:line-height §20.198',
    [`${paragraph}.paragraph_format.line_spacing`, 1.5],
    ["place('lower')['lineheight']", '150%'],
    'with lines of 1.5 times the usual height',
    'Lines, 1 is usual',
    '1.5',
  ),
  ...(['center', 'right', 'justify'] as const).map(
    (align): DocumentFeature => ({
      name: `aligned: ${align}`,
      by: {
        keys: [{ menu: 'Alignment: left', item: { center: 'Centre', right: 'Right', justify: 'Both sides' }[align] }],
      },
      element: 'w:jc §17.3.1.13; fo:text-align §20.227',
      change: (state, dispatch) => {
        dispatch?.(state.tr.setNodeMarkup(0, null, { ...state.doc.firstChild!.attrs, align }))
        return true
      },
      docx: [`str(${paragraph}.alignment).split()[0]`, { center: 'CENTER', right: 'RIGHT', justify: 'JUSTIFY' }[align]],
      odt: ["place('lower')['textalign']", { center: 'center', right: 'end', justify: 'justify' }[align]],
      said: `Another look in 1 place. paragraph → paragraph, ${{ center: 'centred', right: 'to the right', justify: 'justified' }[align]}`,
    }),
  ),
  {
    name: 'heading',
    by: { keys: ['Alt+Shift+2'] },
    element: 'w:pStyle §17.3.1.27; text:h §5.1.2',
    change: asKind(usualKind(2), () => []),
    docx: [`${paragraph}.style.name`, 'Heading 2'],
    odt: ["[h.getAttribute('outlinelevel') for h in d.getElementsByType(text.H)]", ['2']],
    said: 'Another look in 1 place. paragraph → heading 2',
  },
  {
    name: 'quote',
    by: { keys: [{ command: 'Quote' }] },
    element: 'w:pStyle §17.3.1.27; text:p with the style Quotations §5.1.3',
    change: wrapIn(nodes.blockquote),
    docx: [`${paragraph}.style.name`, 'Quote'],
    odt: ["[named(p) for p in d.getElementsByType(text.P) if 'lower' in str(p)]", ['Quotations']],
    said: 'Another look in 1 place. paragraph → quote',
  },
  {
    name: 'bullets',
    by: { keys: [{ command: 'Bullets' }] },
    element: 'w:numPr §17.3.1.19; text:list §5.3.1',
    change: wrapInList(nodes.bullet_list),
    docx: [`numbers('lower')`, ['bullet', 0]],
    odt: ['[len(l.getElementsByType(text.ListItem)) for l in d.getElementsByType(text.List)]', [1]],
    said: 'Another look in 1 place. paragraph → list item',
  },
  {
    name: 'numbers',
    by: { keys: [{ command: 'Numbers' }] },
    element: 'w:numPr §17.3.1.19; text:list §5.3.1',
    change: wrapInList(nodes.ordered_list),
    docx: [`numbers('lower')`, ['decimal', 0]],
    odt: ['[len(l.getElementsByType(text.ListItem)) for l in d.getElementsByType(text.List)]', [1]],
    said: 'Another look in 1 place. paragraph → numbered item',
  },
  {
    name: 'deeper in a list',
    by: { keys: ['Tab'] },
    element: 'w:ilvl §17.9.3; text:list in text:list-item §5.3.1',
    content: [
      nodes.bullet_list.create(null, [
        nodes.list_item.create(null, [line('Gates')]),
        nodes.list_item.create(null, [line('The lower gate leaks.')]),
      ]),
    ],
    reach: ['ArrowDown', 'Home'],
    change: sinkListItem(nodes.list_item),
    docx: [`numbers('lower')`, ['bullet', 1]],
    odt: ['[len(l.getElementsByType(text.ListItem)) for l in d.getElementsByType(text.List)]', [2, 1]],
    said: 'Another look in 1 place. list item → list item at level 2',
  },
  {
    name: 'out of a list',
    by: { keys: [{ command: 'Bullets' }] },
    element: 'no w:numPr §17.3.1.19; no text:list §5.3.1',
    content: [nodes.bullet_list.create(null, [nodes.list_item.create(null, [line('The lower gate leaks.')])])],
    change: liftListItem(nodes.list_item),
    docx: [`numbers('lower')`, null],
    odt: ['len(d.getElementsByType(text.List))', 0],
    said: 'Another look in 1 place. list item → paragraph',
  },
  {
    name: 'a new page',
    by: { keys: ['End', 'Control+Enter'] },
    element: 'w:br §17.3.3.1; fo:break-before §20.177',
    change: (state, dispatch) => {
      dispatch?.(state.tr.insert(state.doc.firstChild!.nodeSize, nodes.page_break.create()))
      return true
    },
    docx: ["sum(b.get(qn('w:type')) == 'page' for b in d.element.body.iter(qn('w:br')))", 1],
    odt: ["[p.get('breakbefore') for p in [place('Elsewhere')]]", ['page']],
    said: 'Only blank lines, page breaks or the page differ.',
  },
  {
    name: 'a line that ends within a paragraph',
    by: { keys: ['Shift+Enter'] },
    element: 'w:br §17.3.3.1; text:line-break §6.1.5',
    change: (state, dispatch) => {
      dispatch?.(state.tr.replaceSelectionWith(nodes.hard_break.create(), false))
      return true
    },
    caret: true,
    docx: [`${paragraph}.text`, 'The \nlower gate leaks.'],
    odt: ['len(d.getElementsByType(text.LineBreak))', 1],
    said: '1 sign changed.',
  },
  {
    name: 'a tab stop',
    by: { keys: [{ command: 'Insert a tab stop' }] },
    element: 'w:tab §17.3.3.32; text:tab §6.1.4',
    change: (state, dispatch) => {
      dispatch?.(state.tr.insertText('\t'))
      return true
    },
    caret: true,
    docx: [`${paragraph}.text`, 'The \tlower gate leaks.'],
    odt: ['len(d.getElementsByType(text.Tab))', 1],
    said: '1 sign changed.',
  },
  {
    name: 'a special character',
    by: { walk: 'signs.spec.ts: signs are found' },
    element: 'w:t §17.3.3.31; text:p §5.1.3',
    change: (state, dispatch) => {
      dispatch?.(state.tr.insertText('→ '))
      return true
    },
    caret: true,
    docx: [`${paragraph}.text`, 'The → lower gate leaks.'],
    odt: ["'→' in str(d.text)", true],
    said: '1 sign changed.',
  },
  {
    name: 'words replaced',
    by: { keys: [{ type: 'upper gate' }] },
    element: 'w:t §17.3.3.31; text:p §5.1.3',
    change: (state, dispatch) => {
      dispatch?.(state.tr.insertText('upper gate'))
      return true
    },
    docx: ['d.paragraphs[0].text', 'The upper gate leaks.'],
    odt: ['str(d.getElementsByType(text.P)[0])', 'The upper gate leaks.'],
    said: '1 word added, 1 removed.',
  },
]

const cell = (words: string) => nodes.table_cell.create(null, [line(words)])
const table = nodes.table.create(null, [
  nodes.table_row.create(null, [cell('Lock'), cell('Level')]),
  nodes.table_row.create(null, [cell('LK02'), cell('1.50')]),
])
const cells = '[[c.text for c in r.cells] for t in d.tables for r in t.rows]'
const odtCells = '[[str(c) for c in r.getElementsByType(table.TableCell)] for r in d.getElementsByType(table.TableRow)]'
const inTable = (
  name: string,
  change: Command,
  now: unknown,
  said: string,
  rest: Partial<DocumentFeature> = {},
): DocumentFeature => ({
  name,
  by: { keys: [{ command: name[0]!.toUpperCase() + name.slice(1) }] },
  reach: ['ArrowDown', 'ArrowDown', 'Home'],
  element: 'w:tbl §17.4.38; table:table §9.1.2',
  content: [line('Levels'), table],
  on: 'LK02',
  caret: true,
  change,
  docx: [cells, now],
  odt: [odtCells, now],
  said,
  ...rest,
})
const tables: DocumentFeature[] = [
  {
    ...inTable(
      'a table',
      (state, dispatch) => {
        dispatch?.(state.tr.insert(state.doc.firstChild!.nodeSize, table))
        return true
      },
      [
        ['Lock', 'Level'],
        ['LK02', '1.50'],
      ],
      '1 table added.',
    ),
    by: {
      keys: [
        'End',
        { command: 'Insert table' },
        { asked: 'Columns' },
        { type: '2' },
        'Tab',
        { type: '2' },
        'Enter',
        { type: 'Lock' },
        'Tab',
        { type: 'Level' },
        'Tab',
        { type: 'LK02' },
        'Tab',
        { type: '1.50' },
      ],
    },
    reach: [],
    content: [line('The lower gate leaks.')],
    on: 'lower',
  },
  inTable(
    'row above',
    addRowBefore,
    [
      ['Lock', 'Level'],
      ['', ''],
      ['LK02', '1.50'],
    ],
    '1 row added.',
  ),
  inTable(
    'row below',
    addRowAfter,
    [
      ['Lock', 'Level'],
      ['LK02', '1.50'],
      ['', ''],
    ],
    '1 row added.',
  ),
  inTable(
    'column to the left',
    addColumnBefore,
    [
      ['', 'Lock', 'Level'],
      ['', 'LK02', '1.50'],
    ],
    '1 column added.',
  ),
  inTable(
    'column to the right',
    addColumnAfter,
    [
      ['Lock', '', 'Level'],
      ['LK02', '', '1.50'],
    ],
    '1 column added.',
  ),
  inTable('row removed', deleteRow, [['Lock', 'Level']], '1 row removed.', {
    by: { keys: [{ command: 'Remove row' }] },
  }),
  inTable('column removed', deleteColumn, [['Level'], ['1.50']], '1 column removed.', {
    by: { keys: [{ command: 'Remove column' }] },
  }),
  inTable('table removed', deleteTable, [], '1 table removed.', { by: { keys: [{ command: 'Remove table' }] } }),
]

/** A picture of one point (PNG). */
const point =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='
const picture = nodes.image.create({ src: point, alt: 'The weir', width: 96, height: 48 })
const onPicture =
  (attrs: object): Command =>
  (state, dispatch) => {
    let at = -1
    state.doc.descendants((node, pos) => void (node.type === nodes.image && (at = pos)))
    dispatch?.(state.tr.setNodeMarkup(at, null, { ...state.doc.nodeAt(at)!.attrs, ...attrs }))
    return true
  }
const pictures: DocumentFeature[] = [
  {
    name: 'an image',
    by: { walk: 'pictures.spec.ts: what a picture shows' },
    element: 'w:drawing §17.3.3.9; draw:image §10.4.4',
    change: (state, dispatch) => {
      dispatch?.(state.tr.insert(1, picture))
      return true
    },
    docx: ['[[s.width.pt, s.height.pt] for s in d.inline_shapes]', [[72, 36]]],
    odt: ['len(d.getElementsByType(draw.Image))', 1],
    said: '1 image added.',
  },
  {
    name: 'the size of an image',
    by: { walk: 'pictures.spec.ts: what a picture shows' },
    element: 'wp:extent §20.4.2.7; svg:width §19.575',
    content: [line(picture, ' The lower gate')],
    change: onPicture({ width: 192, height: 96 }),
    docx: ['[[s.width.pt, s.height.pt] for s in d.inline_shapes]', [[144, 72]]],
    odt: [
      "[[f.getAttribute('width'), f.getAttribute('height')] for f in d.getElementsByType(draw.Frame)]",
      [['144pt', '72pt']],
    ],
    said: '1 image resized.',
  },
  {
    name: 'what an image shows',
    by: { walk: 'pictures.spec.ts: what a picture shows' },
    element: 'wp:docPr §20.4.2.5; svg:desc §10.3.18',
    content: [line(picture, ' The lower gate')],
    change: onPicture({ alt: 'The weir at LK02' }),
    docx: ["[p.get('descr') for p in d.element.body.iter(qn('wp:docPr'))]", ['The weir at LK02']],
    odt: ['[str(s) for s in d.getElementsByType(svg.Desc)]', ['The weir at LK02']],
    said: '1 image described otherwise.',
  },
]

const edge =
  (at: 'head' | 'foot', on: 'all' | 'first', ...content: Node[]): Command =>
  (state, dispatch) => {
    const json = storyJSON(nodes.doc.create(null, [nodes.paragraph.create(null, content)]))
    dispatch?.(state.tr.step(new DocAttrStep('edges', [...state.doc.attrs.edges, { edge: at, on, json }])))
    return true
  }
/** One behind the other. */
const chained =
  (...all: Command[]): Command =>
  (state, dispatch) => {
    let now = state
    for (const one of all)
      one(now, (tr) => {
        now = now.apply(tr)
        dispatch?.(tr)
      })
    return true
  }
const setAttr =
  (name: string, value: unknown): Command =>
  (state, dispatch) => {
    dispatch?.(state.tr.step(new DocAttrStep(name, value)))
    return true
  }
const about = (part: object) => setAttr('about', part)
const wide = { ...a4, width: a4.height, height: a4.width }
const ofThePage: DocumentFeature[] = [
  {
    name: 'a header',
    by: { walk: 'edges.spec.ts: a header and a footer' },
    element: 'w:headerReference §17.10.5; style:header §16.10',
    change: edge('head', 'all', text('Canal Trust')),
    docx: ['[p.text for p in d.sections[0].header.paragraphs]', ['Canal Trust']],
    odt: ['[str(h) for h in d.masterstyles.getElementsByType(style.Header)]', ['Canal Trust']],
    said: 'a header added.',
  },
  {
    name: 'page numbers in a footer',
    by: { walk: 'edges.spec.ts: a header and a footer' },
    element: 'w:fldSimple §17.16.19; text:page-number §7.3.3',
    change: edge('foot', 'all', text('Page '), nodes.kept.create(keptField(fieldCodes.page, ''))),
    docx: [
      "['PAGE' in ''.join(t.text or '' for t in f._element.iter() if t.tag in (qn('w:instrText'),)) or any('PAGE' in (x.get(qn('w:instr')) or '') for x in f._element.iter(qn('w:fldSimple'))) for f in [d.sections[0].footer]]",
      [true],
    ],
    odt: ['len(d.masterstyles.getElementsByType(text.PageNumber))', 1],
    said: 'a footer added.',
  },
  {
    name: 'a header of the first page',
    by: { walk: 'edges.spec.ts: a header and a footer' },
    element: 'w:titlePg §17.10.6; style:header-first (1.3, §16.10)',
    change: chained(edge('head', 'first', text('First')), edge('foot', 'first')),
    docx: [
      '[d.sections[0].different_first_page_header_footer, d.sections[0].first_page_header.paragraphs[0].text]',
      [true, 'First'],
    ],
    said: 'a header added; a footer added.',
  },
  {
    name: 'a page on its side',
    by: { walk: 'pdf.spec.ts: where pages begin' },
    element: 'w:pgSz §17.6.13; fo:page-width §20.208',
    change: setAttr('page', wide),
    docx: ['[round(d.sections[0].page_width.mm), round(d.sections[0].page_height.mm)]', [297, 210]],
    odt: ['pages()', ['297', '210']],
    said: 'the pages’ size or margins changed.',
    alone: true,
  },
  {
    name: 'margins',
    by: { walk: 'pdf.spec.ts: where pages begin' },
    element: 'w:pgMar §17.6.11; fo:margin-top §20.202',
    change: setAttr('page', { ...a4, top: 2880 }),
    docx: ['d.sections[0].top_margin.pt', 144],
    said: 'the pages’ size or margins changed.',
    alone: true,
  },
  {
    name: 'a title',
    by: { walk: 'about.spec.ts: title, author' },
    element: 'dc:title (part 2, §11); dc:title §4.3.2.3',
    change: about({ title: 'Gates' }),
    docx: ['d.core_properties.title', 'Gates'],
    odt: ['[str(t) for t in d.meta.getElementsByType(dc.Title)]', ['Gates']],
    said: 'title of the file changed.',
  },
  {
    name: 'an author',
    by: { walk: 'about.spec.ts: title, author' },
    element: 'dc:creator (part 2, §11); meta:initial-creator §4.3.2.6',
    change: about({ author: 'Ida Thornquist' }),
    docx: ['d.core_properties.author', 'Ida Thornquist'],
    said: 'author of the file changed.',
  },
  {
    name: 'a subject',
    by: { walk: 'about.spec.ts: title, author' },
    element: 'dc:subject (part 2, §11); dc:subject §4.3.2.5',
    change: about({ subject: 'Repairs' }),
    docx: ['d.core_properties.subject', 'Repairs'],
    odt: ['[str(t) for t in d.meta.getElementsByType(dc.Subject)]', ['Repairs']],
    said: 'subject of the file changed.',
  },
  {
    name: 'keywords',
    by: { walk: 'about.spec.ts: title, author' },
    element: 'cp:keywords (part 2, §11); meta:keyword §4.3.2.4',
    change: about({ keywords: 'gate, leak' }),
    docx: ['d.core_properties.keywords', 'gate, leak'],
    said: 'keywords of the file changed.',
  },
]

const comment = newComment('Ben Marlowe', '2026-10-19T08:30:00Z', ['Which gate?'])
const put =
  (kept: Kept): Command =>
  (state, dispatch) => {
    dispatch?.(state.tr.insert(state.selection.to, nodes.kept.create(kept)))
    return true
  }
/** Written as a tool does: as the file's type has it. */
const writes = (kept: Kept) => ({ change: put(kept), inOdt: put(odtRemark(kept, 'jnew')) })
const first = (state: { doc: Node }) => {
  let at = -1
  state.doc.descendants((node, pos) => {
    if (at < 0 && node.type === nodes.kept) at = pos
  })
  return at
}
const sayInstead =
  (words: string): Command =>
  (state, dispatch) => {
    const at = first(state)
    dispatch?.(state.tr.setNodeMarkup(at, null, saying(state.doc.nodeAt(at)!.attrs as Kept, [words])))
    return true
  }
const answer =
  (kept: Kept): Command =>
  (state, dispatch) => {
    dispatch?.(state.tr.insert(first(state) + 1, nodes.kept.create(kept)))
    return true
  }
const answers = (kept: Kept) => ({ change: answer(kept), inOdt: answer(odtRemark(kept, 'janswer')) })
const takeOut: Command = (state, dispatch) => {
  dispatch?.(state.tr.delete(first(state), first(state) + 1))
  return true
}
const withRemark = (kept: Kept) => [line('The lower gate', nodes.kept.create(kept), ' leaks.')]
const remarks: DocumentFeature[] = [
  {
    name: 'a footnote',
    by: { walk: 'remarks.spec.ts: a comment and notes' },
    element: 'w:footnote §17.11.10; text:note §6.3',
    ...writes(newNote('footnote', ['Lock diary'])),
    docx: ["notes('footnote')", ['Lock diary']],
    odt: ["notes('footnote')", ['Lock diary']],
    said: '1 note written.',
  },
  {
    name: 'an endnote',
    by: { keys: [{ command: 'Write an endnote' }, { asked: 'New: Endnote' }, { type: 'Lock diary' }, 'Escape'] },
    element: 'w:endnote §17.11.2; text:note §6.3',
    ...writes(newNote('endnote', ['Lock diary'])),
    docx: ["notes('endnote')", ['Lock diary']],
    odt: ["notes('endnote')", ['Lock diary']],
    said: '1 note written.',
  },
  {
    name: 'a note that says something else',
    by: { walk: 'remarks.spec.ts: a note of a text' },
    element: 'w:footnote §17.11.10; text:note §6.3',
    content: withRemark(newNote('footnote', ['Lock diary'])),
    change: sayInstead('Lock book'),
    docx: ["notes('footnote')", ['Lock book']],
    odt: ["notes('footnote')", ['Lock book']],
    said: '1 note says something else.',
  },
  {
    name: 'a note taken out',
    by: { keys: ['ArrowRight', 'Delete'] },
    element: 'w:footnote §17.11.10; text:note §6.3',
    content: withRemark(newNote('footnote', ['Lock diary'])),
    change: takeOut,
    docx: ["notes('footnote')", []],
    odt: ["notes('footnote')", []],
    said: '1 note taken out.',
  },
  {
    name: 'a comment',
    by: { walk: 'remarks.spec.ts: a comment and notes' },
    element: 'w:comment §17.13.4.2; office:annotation §14.1',
    ...writes(comment),
    docx: ["notes('comment')", ['Which gate?']],
    odt: ['comments()', ['Which gate?']],
    said: '1 comment written.',
  },
  {
    name: 'what a comment is about',
    by: { walk: 'remarks.spec.ts: a comment and notes' },
    element: 'w:commentRangeStart §17.13.4.4; office:annotation-end §14.2',
    change: (state, dispatch) => {
      const { from, to } = state.selection
      const tr = state.tr.insert(to, nodes.kept.create(comment))
      dispatch?.(tr.addMark(from, to, marks.about.create({ comment: keyOfComment(comment) })))
      return true
    },
    docx: ['about()', ['lower gate']],
    said: '1 comment written.',
  },
  {
    name: 'an answer to a comment',
    by: { keys: ['ArrowRight', 'ArrowRight', 'Enter', 'Tab', 'Enter', { type: 'The old one.' }, 'Escape'] },
    element: 'w:comment §17.13.4.2; office:annotation §14.1',
    content: withRemark(comment),
    ...answers(newComment('Ida Thornquist', '2026-10-19T09:00:00Z', ['The old one.'])),
    docx: ["notes('comment')", ['Which gate?', 'The old one.']],
    odt: ['comments()', ['Which gate?', 'The old one.']],
    said: '1 comment answered.',
  },
  {
    name: 'a comment that says something else',
    by: { walk: 'remarks.spec.ts: a comment and notes' },
    element: 'w:comment §17.13.4.2; office:annotation §14.1',
    content: withRemark(comment),
    change: sayInstead('Which of them?'),
    docx: ["notes('comment')", ['Which of them?']],
    odt: ['comments()', ['Which of them?']],
    said: '1 comment says something else.',
  },
  {
    name: 'a comment taken out',
    by: { walk: 'remarks.spec.ts: a comment and notes' },
    element: 'w:comment §17.13.4.2; office:annotation §14.1',
    content: withRemark(comment),
    change: takeOut,
    docx: ["notes('comment')", []],
    odt: ['comments()', []],
    said: '1 comment taken out.',
  },
]

export const documentFeatures: readonly DocumentFeature[] = [
  ...looks,
  ...paragraphs,
  ...tables,
  ...pictures,
  ...ofThePage,
  ...remarks,
]
