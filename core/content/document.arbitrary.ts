// Documents that the editor can make, for property tests.
import fc from 'fast-check'
import { Fragment, type Mark, type Node } from 'prosemirror-model'
import { keptField } from '../formats/docx/fields'
import { dataUrl } from '../formats/docx/write'
import { a4, documentSchema, storableText } from './document'
import { type PageEdge, storyJSON, withEdges } from './edges'
import { fieldCodes, pageFields } from './fields'
import { listNumberFrom, numberFormats } from './list-number'
import { borderKinds, type LineHeight, lookFrom, type ParagraphLook } from './paragraph-look'

const { nodes, marks } = documentSchema
/** Without neighbours that the model joins, as the editor's own transactions leave it. */
const words = fc
  .oneof(
    fc.constantFrom(
      'Lock',
      ' gate',
      'paddles ',
      '\tLK07',
      'Ünïcode',
      'שלום',
      '🛶',
      'a  b',
      ' ',
      '<&>"\'',
      ']]>',
      '_x0041_',
    ),
    fc.string({ unit: 'binary', maxLength: 12 }),
  )
  .map(storableText)
  .filter((text) => text.length > 0)

const href = fc.oneof(
  fc.constantFrom('https://example.org/?a=1&b=2', 'mailto:ida@example.org', '#gate', 'https://example.org/a b\tc'),
  fc.webUrl(),
)
const look = fc
  .record({
    color: fc.constantFrom(null, '#aa3311', '#000000'),
    fill: fc.constantFrom(null, '#ffff00'),
    size: fc.constantFrom(null, 8, 10.5, 24),
    font: fc.constantFrom(null, 'Courier', 'A & B'),
  })
  .filter((one) => Object.values(one).some((value) => value !== null))
const markSet: fc.Arbitrary<readonly Mark[]> = fc
  .tuple(
    fc.subarray(['strong', 'em', 'underline', 'strike'] as const),
    fc.constantFrom(null, 'raised' as const, 'lowered' as const),
    fc.option(href, { freq: 6 }),
    fc.option(look, { freq: 6 }),
  )
  .map(([plain, script, link, looks]) => {
    let set: readonly Mark[] = []
    for (const name of plain) set = marks[name].create().addToSet(set)
    if (script) set = marks[script].create().addToSet(set)
    if (link) set = marks.link.create({ href: link }).addToSet(set)
    if (looks) set = marks.look.create(looks).addToSet(set)
    return set
  })
const image = fc
  .record({
    bytes: fc.uint8Array({ minLength: 1, maxLength: 40 }),
    type: fc.constantFrom('image/png', 'image/jpeg', 'image/gif'),
    alt: words,
    width: fc.integer({ min: 1, max: 900 }),
    height: fc.integer({ min: 1, max: 900 }),
  })
  .map(({ bytes, type, ...rest }) => ({ src: dataUrl(type, bytes), ...rest }))

const inline = fc
  .array(
    fc.tuple(
      fc.oneof(
        { weight: 8, arbitrary: words },
        { weight: 1, arbitrary: fc.constant(null) },
        { weight: 1, arbitrary: image },
      ),
      markSet,
    ),
    { maxLength: 6 },
  )
  .map((parts) =>
    Fragment.fromArray(
      parts.map(([part, set]) =>
        part === null
          ? nodes.hard_break.create(null, null, set)
          : typeof part === 'string'
            ? documentSchema.text(part, set)
            : nodes.image.create(part, null, set),
      ),
    ),
  )
const align = fc.constantFrom(null, null, 'center', 'right', 'justify')
const twips = fc.integer({ min: 0, max: 2000 })
const indent = fc.integer({ min: -500, max: 2000 })
const hexColour = fc.nat(0xffffff).map((value) => `#${value.toString(16).padStart(6, '0')}`)
const border = fc.record({
  kind: fc.constantFrom(...borderKinds),
  width: fc.integer({ min: 2, max: 96 }),
  space: fc.integer({ min: 0, max: 31 }),
  color: fc.option(hexColour),
})
/** What a paragraph says of its place and frame. */
export const anyParagraphLook: fc.Arbitrary<ParagraphLook> = fc
  .record(
    {
      before: twips,
      after: twips,
      line: fc.oneof(
        ...(['share', 'exact', 'least'] as const).map((by) =>
          fc.integer({ min: 1, max: 720 }).map((height) => ({ [by]: height }) as unknown as LineHeight),
        ),
      ),
      left: indent,
      right: indent,
      first: indent,
      fill: hexColour,
      borders: fc.record({ top: border, left: border, bottom: border, right: border }, { requiredKeys: [] }),
    },
    { requiredKeys: [] },
  )
  .map((given) => lookFrom(given))
  .filter((look) => look !== null)
const paragraphLook = fc.oneof({ weight: 3, arbitrary: fc.constant(null) }, { weight: 1, arbitrary: anyParagraphLook })
const paragraph = fc
  .tuple(align, paragraphLook, inline)
  .map(([where, look, content]) => nodes.paragraph.create({ align: where, look }, content))
const heading = fc
  .tuple(fc.integer({ min: 1, max: 6 }), align, paragraphLook, inline)
  .map(([level, where, look, content]) => nodes.heading.create({ level, align: where, look }, content))
const quote = fc
  .array(paragraph, { minLength: 1, maxLength: 3 })
  .map((content) => nodes.blockquote.create(null, content))

const listNumber = fc.oneof(
  { weight: 3, arbitrary: fc.constant(null) },
  {
    weight: 1,
    arbitrary: fc
      .record({
        format: fc.constantFrom(...numberFormats),
        before: fc.constantFrom('', '(', 'Part ', '"'),
        after: fc.constantFrom('', '.', ')', ':', '\\'),
        path: fc.constant(false),
      })
      .map((given) => listNumberFrom(given)),
  },
)
const { list } = fc.letrec<{ list: Node; item: Node }>((tie) => ({
  item: fc
    .tuple(paragraph, fc.oneof({ maxDepth: 3 }, fc.constant([]), fc.array(tie('list'), { maxLength: 2 })))
    .map(([first, lists]) => nodes.list_item.create(null, [first, ...lists])),
  list: fc
    .tuple(
      fc.boolean(),
      fc.integer({ min: 0, max: 9 }),
      listNumber,
      fc.array(tie('item'), { minLength: 1, maxLength: 3 }),
    )
    .map(([ordered, start, number, items]) =>
      ordered ? nodes.ordered_list.create({ start, number }, items) : nodes.bullet_list.create(null, items),
    ),
}))
const flow = fc.oneof({ weight: 4, arbitrary: paragraph }, heading, quote, list)

export const anyTable = fc
  .tuple(
    fc.integer({ min: 1, max: 4 }),
    fc.integer({ min: 1, max: 4 }),
    fc.array(fc.nat(99), { minLength: 16, maxLength: 16 }),
    fc.array(fc.array(flow, { minLength: 1, maxLength: 2 }), { minLength: 16, maxLength: 16 }),
    fc.option(fc.array(fc.integer({ min: 20, max: 400 }), { minLength: 4, maxLength: 4 })),
    fc.array(fc.boolean(), { minLength: 4, maxLength: 4 }),
  )
  .map(([height, width, dice, contents, widths, headers]) => {
    const taken = Array.from({ length: height }, () => new Array<boolean>(width).fill(false))
    const rows: Node[] = []
    for (let y = 0; y < height; y++) {
      const cells: Node[] = []
      for (let x = 0; x < width; x++) {
        if (taken[y]![x]) continue
        let colspan = 1
        let rowspan = 1
        const roll = dice[y * width + x]!
        while (x + colspan < width && !taken[y]![x + colspan] && roll % 5 === 0 && colspan < 3) colspan++
        while (y + rowspan < height && roll % 7 === 0) rowspan++
        for (let dy = 0; dy < rowspan; dy++) taken[y + dy]!.fill(true, x, x + colspan)
        cells.push(
          nodes.table_cell.create(
            { colspan, rowspan, colwidth: widths ? widths.slice(x, x + colspan) : null },
            contents[y * width + x]!,
          ),
        )
      }
      rows.push(nodes.table_row.create({ header: headers[y]! }, cells))
    }
    return nodes.table.create(null, rows)
  })
const block = fc.oneof(
  { weight: 5, arbitrary: paragraph },
  { weight: 2, arbitrary: heading },
  quote,
  { weight: 2, arbitrary: list },
  { weight: 2, arbitrary: anyTable },
  fc.constant(nodes.page_break.create()),
)
const page = fc.constantFrom(a4, { width: 16838, height: 11906, top: 720, right: 900, bottom: 720, left: 900 })

/** Any document that the editor can make. */
export const anyDocument: fc.Arbitrary<Node> = fc
  .tuple(page, fc.array(block, { minLength: 1, maxLength: 8 }))
  .map(([paper, content]) => nodes.doc.create({ page: paper }, content))

const field = fc
  .tuple(fc.constantFrom(...pageFields), markSet)
  .map(([name, set]) => nodes.kept.create(keptField(fieldCodes[name], '')).mark(set))
const edgeLine = fc
  .tuple(align, inline, fc.option(field), inline)
  .map(([where, before, one, behind]) =>
    nodes.paragraph.create({ align: where }, (one ? before.addToEnd(one) : before).append(behind)),
  )
const story = fc
  .array(fc.oneof({ weight: 5, arbitrary: edgeLine }, heading, list, anyTable), { minLength: 1, maxLength: 3 })
  .map((content) => storyJSON(nodes.doc.create(null, content)))
/** Edges as they are on pages: those of a first page go together. */
export const anyEdges: fc.Arbitrary<PageEdge[]> = fc
  .tuple(fc.subarray(['head', 'foot'] as const), fc.boolean(), fc.array(story, { minLength: 4, maxLength: 4 }))
  .map(([on, first, stories]) => [
    ...on.map((edge, at): PageEdge => ({ edge, on: 'all', json: stories[at]! })),
    ...(first
      ? (['head', 'foot'] as const).map((edge, at): PageEdge => ({ edge, on: 'first', json: stories[2 + at]! }))
      : []),
  ])
/** Any document with edges. */
export const documentWithEdges: fc.Arbitrary<Node> = fc
  .tuple(anyDocument, anyEdges)
  .map(([doc, edges]) => withEdges(doc, edges))
