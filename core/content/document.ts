// The document model: a ProseMirror schema that holds exactly what the editor can make and
// what a .docx keeps of it. Where two shapes could mean one thing in a file, the schema
// allows only one of them, so that a document read back is the document that was written.
import { type Attrs, type DOMOutputSpec, type Mark, Node, type NodeSpec, Schema } from 'prosemirror-model'
import { listNumberFrom, markerOf } from './list-number'
import { lookFrom, lookStyle } from './paragraph-look'

export type Align = 'center' | 'right' | 'justify' | null

/** Page size and margins in twips (twentieths of a point, ISO/IEC 29500-1 §17.18.105). */
export interface Page {
  width: number
  height: number
  top: number
  right: number
  bottom: number
  left: number
}
export const a4: Page = { width: 11906, height: 16838, top: 1440, right: 1440, bottom: 1440, left: 1440 }

/** Direct formatting beyond the four plain marks; each field null when the style decides. */
export interface Look {
  color: string | null
  fill: string | null
  size: number | null
  font: string | null
}

/** Lists nest this deep in a .docx (levels 0 to 8). */
export const deepestList = 9

const aligned = (dom: HTMLElement): { align: Align } => {
  const align = dom.style?.textAlign
  return {
    align: align === 'center' || align === 'right' || align === 'justify' ? align : align === 'end' ? 'right' : null,
  }
}
const paragraphAttributes = ({ align, style, look }: Attrs) => {
  const own = [align && `text-align: ${align}`, look && lookStyle(look)].filter(Boolean).join('; ')
  return {
    ...(own && { style: own }),
    ...(style && { 'data-style': style }),
    ...(look && { 'data-look': JSON.stringify(look), ...(look.fill && { class: 'filled' }) }),
  }
}
/** JSON that an element carries; another page may have written anything there. */
function written(dom: HTMLElement, attribute: string): unknown {
  try {
    return JSON.parse(dom.getAttribute(attribute) ?? 'null')
  } catch {
    return null
  }
}
const styledAs = (dom: HTMLElement) => ({
  ...aligned(dom),
  style: dom.getAttribute('data-style'),
  look: lookFrom(written(dom, 'data-look')),
})
/** What a paragraph is beside its text: `style` is a named one of its file, by its id; null for the usual one of its kind. */
const ofParagraph = { align: { default: null }, style: { default: null }, look: { default: null } }

const cellAttributes = (dom: HTMLElement) => {
  const widths = dom.getAttribute('data-colwidth')
  const colspan = Math.max(1, Number(dom.getAttribute('colspan') ?? 1))
  const colwidth = widths && /^\d+(,\d+)*$/.test(widths) ? widths.split(',').map(Number) : null
  return {
    colspan,
    rowspan: Math.max(1, Number(dom.getAttribute('rowspan') ?? 1)),
    colwidth: colwidth?.length === colspan ? colwidth : null,
  }
}

const nodes = {
  doc: { content: 'block+', attrs: { page: { default: a4 }, edges: { default: [] }, about: { default: null } } },
  paragraph: {
    content: 'inline*',
    group: 'block flow',
    attrs: ofParagraph,
    parseDOM: [{ tag: 'p', getAttrs: styledAs }],
    toDOM: (node): DOMOutputSpec => ['p', paragraphAttributes(node.attrs), 0],
  },
  heading: {
    content: 'inline*',
    group: 'block flow',
    defining: true,
    attrs: { level: { default: 1 }, ...ofParagraph },
    parseDOM: [1, 2, 3, 4, 5, 6].map((level) => ({
      tag: `h${level}`,
      getAttrs: (dom: HTMLElement) => ({ level, ...styledAs(dom) }),
    })),
    toDOM: (node): DOMOutputSpec => [`h${node.attrs.level}`, paragraphAttributes(node.attrs), 0],
  },
  blockquote: {
    content: 'paragraph+',
    group: 'block flow',
    defining: true,
    parseDOM: [{ tag: 'blockquote' }],
    toDOM: (): DOMOutputSpec => ['blockquote', 0],
  },
  bullet_list: {
    content: 'list_item+',
    group: 'block flow list',
    parseDOM: [{ tag: 'ul' }],
    toDOM: (): DOMOutputSpec => ['ul', 0],
  },
  ordered_list: {
    content: 'list_item+',
    group: 'block flow list',
    // `number` is how its numbers are written; null for plain ones with a dot.
    attrs: { start: { default: 1 }, number: { default: null } },
    parseDOM: [
      {
        tag: 'ol',
        getAttrs: (dom: HTMLElement) => ({
          start: Math.max(0, Math.trunc(Number(dom.getAttribute('start') ?? 1)) || 0),
          number: listNumberFrom(written(dom, 'data-number')),
        }),
      },
    ],
    toDOM: ({ attrs: { start, number } }): DOMOutputSpec => [
      'ol',
      {
        ...(start !== 1 && { start }),
        ...(number && { 'data-number': JSON.stringify(number), style: `--marker: ${markerOf(number)}` }),
      },
      0,
    ],
  },
  list_item: {
    content: 'paragraph list*',
    defining: true,
    parseDOM: [{ tag: 'li' }],
    toDOM: (): DOMOutputSpec => ['li', 0],
  },
  table: {
    content: 'table_row+',
    group: 'block',
    tableRole: 'table',
    isolating: true,
    parseDOM: [{ tag: 'table' }],
    toDOM: (): DOMOutputSpec => ['table', ['tbody', 0]],
  },
  table_row: {
    content: 'table_cell*',
    tableRole: 'row',
    attrs: { header: { default: false } },
    parseDOM: [
      {
        tag: 'tr',
        getAttrs: (dom: HTMLElement) => ({
          header: dom.hasAttribute('data-header') || dom.parentElement?.tagName === 'THEAD',
        }),
      },
    ],
    toDOM: (node): DOMOutputSpec => ['tr', node.attrs.header ? { 'data-header': '' } : {}, 0],
  },
  table_cell: {
    content: 'flow+',
    tableRole: 'cell',
    isolating: true,
    attrs: { colspan: { default: 1 }, rowspan: { default: 1 }, colwidth: { default: null } },
    parseDOM: [
      { tag: 'td', getAttrs: cellAttributes },
      { tag: 'th', getAttrs: cellAttributes },
    ],
    toDOM: (node): DOMOutputSpec => {
      const { colspan, rowspan, colwidth } = node.attrs
      return [
        'td',
        {
          ...(colspan !== 1 && { colspan }),
          ...(rowspan !== 1 && { rowspan }),
          ...(colwidth && { 'data-colwidth': colwidth.join(',') }),
        },
        0,
      ]
    },
  },
  page_break: {
    group: 'block',
    parseDOM: [{ tag: 'hr[data-page-break]' }],
    toDOM: (): DOMOutputSpec => ['hr', { 'data-page-break': '', class: 'page-break' }],
  },
  text: { group: 'inline' },
  hard_break: {
    inline: true,
    group: 'inline',
    selectable: false,
    parseDOM: [{ tag: 'br' }],
    toDOM: (): DOMOutputSpec => ['br'],
  },
  image: {
    inline: true,
    group: 'inline',
    draggable: true,
    // `src` is a data URL: the journal of a draft then holds its images too.
    attrs: { src: {}, alt: { default: '' }, width: {}, height: {} },
    parseDOM: [
      {
        tag: 'img[src^="data:image/"]',
        getAttrs: (dom: HTMLElement) => {
          const size = (name: 'width' | 'height') =>
            Math.max(1, Math.round(Number(dom.getAttribute(name)) || (dom as HTMLImageElement)[name] || 240))
          return {
            src: dom.getAttribute('src'),
            alt: dom.getAttribute('alt') ?? '',
            width: size('width'),
            height: size('height'),
          }
        },
      },
    ],
    toDOM: ({ attrs }): DOMOutputSpec => ['img', { ...attrs, style: `aspect-ratio: ${attrs.width} / ${attrs.height}` }],
  },
  /** What can be kept, moved and removed as one, and not written: see kept.ts. To other programs it is its words. */
  kept: {
    inline: true,
    group: 'inline',
    atom: true,
    draggable: true,
    attrs: { kind: {}, words: {}, xml: {}, parts: {} },
    toDOM: (node): DOMOutputSpec => ['span', { class: 'kept', 'data-kept': node.attrs.kind }, node.attrs.words],
  },
} satisfies Record<string, NodeSpec>

export const documentSchema = new Schema({
  nodes: nodes as Record<keyof typeof nodes, NodeSpec>,
  marks: {
    link: {
      attrs: { href: {} },
      inclusive: false,
      parseDOM: [{ tag: 'a[href]', getAttrs: (dom: HTMLElement) => ({ href: dom.getAttribute('href') }) }],
      toDOM: (mark): DOMOutputSpec => [
        'a',
        { href: /^(https?:|mailto:|tel:|#)/i.test(mark.attrs.href) ? mark.attrs.href : '', rel: 'noopener noreferrer' },
        0,
      ],
    },
    strong: {
      parseDOM: [
        { tag: 'strong' },
        { tag: 'b', getAttrs: (dom: HTMLElement) => dom.style.fontWeight !== 'normal' && null },
        { style: 'font-weight', getAttrs: (value: string) => /^(bold|[6-9]00)$/.test(value) && null },
      ],
      toDOM: (): DOMOutputSpec => ['strong', 0],
    },
    em: {
      parseDOM: [{ tag: 'em' }, { tag: 'i' }, { style: 'font-style=italic' }],
      toDOM: (): DOMOutputSpec => ['em', 0],
    },
    underline: {
      parseDOM: [{ tag: 'u' }, { style: 'text-decoration=underline' }],
      toDOM: (): DOMOutputSpec => ['u', 0],
    },
    strike: {
      parseDOM: [{ tag: 's' }, { tag: 'del' }, { style: 'text-decoration=line-through' }],
      toDOM: (): DOMOutputSpec => ['s', 0],
    },
    raised: { excludes: 'lowered', parseDOM: [{ tag: 'sup' }], toDOM: (): DOMOutputSpec => ['sup', 0] },
    lowered: { excludes: 'raised', parseDOM: [{ tag: 'sub' }], toDOM: (): DOMOutputSpec => ['sub', 0] },
    /** Words that a comment is about (comment-ranges.ts). What is written behind them is not. */
    about: {
      attrs: { comment: {} },
      inclusive: false,
      excludes: '',
      toDOM: (): DOMOutputSpec => ['mark', { class: 'passage-comment' }, 0],
    },
    look: {
      attrs: { color: { default: null }, fill: { default: null }, size: { default: null }, font: { default: null } },
      toDOM: (mark): DOMOutputSpec => {
        const { color, fill, size, font } = mark.attrs as Look
        const classes = [color && 'coloured', fill && 'filled'].filter(Boolean).join(' ')
        return [
          'span',
          {
            ...(classes && { class: classes }),
            // The page draws its colours, so that they can be read on a dark sheet too.
            style: [
              color && `--colour:${color}`,
              fill && `--fill:${fill}`,
              size && `font-size:${size}pt`,
              font && `font-family:"${font.replace(/["\\;]/g, '')}"`,
            ]
              .filter(Boolean)
              .join(';'),
          },
          0,
        ]
      },
    },
  },
})
export type DocumentSchema = typeof documentSchema

/** A document with nothing in it. */
export const blankDocument = (): Node => documentSchema.node('doc', null, [documentSchema.node('paragraph')])

/** A document from its JSON. @throws RangeError when the JSON is not of this schema */
export function documentFromJSON(json: unknown): Node {
  const doc = Node.fromJSON(documentSchema, json)
  doc.check()
  return doc
}

/** Text with what XML 1.0 §2.2 cannot hold taken out, and line ends as spaces: what a text node may have in it. */
export function storableText(text: string): string {
  return text.replace(/[\r\n]+/g, ' ').replace(/[^\t\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, '')
}

/** What something of a line that is no text says to a reader: a field its result, the rest nothing of the line itself. */
export const wordsOfLeaf = (leaf: Node): string =>
  leaf.type.name === 'kept' && leaf.attrs.kind === 'field' ? leaf.attrs.words : ' '

/** Blocks looked at for an opening: it is asked for at every keystroke. */
const openingBlocks = 24

/** The first words of a document, to know it by; a heading near the beginning wins. */
export function openingOf(doc: Node, longest = 80): string {
  let first = ''
  for (let index = 0; index < Math.min(doc.childCount, openingBlocks); index++) {
    const block = doc.child(index)
    const text = block
      .textBetween(0, Math.min(block.content.size, 4 * longest), ' ', wordsOfLeaf)
      .trim()
      .replace(/\s+/g, ' ')
    if (!text) continue
    if (block.type.name === 'heading') return text.slice(0, longest)
    first ||= text.slice(0, longest)
  }
  return first
}

/** How many words a text has. */
export const wordsIn = (text: string): number => text.match(/[\p{L}\p{N}][\p{L}\p{N}\p{M}'’-]*/gu)?.length ?? 0

/** How many words a document has. */
export function wordCount(doc: Node): number {
  let words = 0
  doc.descendants((node) => {
    if (!node.isTextblock) return true
    words += wordsIn(node.textBetween(0, node.content.size, ' ', wordsOfLeaf))
    return false
  })
  return words
}

export const hasMark = (marks: readonly Mark[], name: string): Mark | undefined =>
  marks.find((mark) => mark.type.name === name)
