// A document as what is to be set on pages: its paragraphs in the looks that their styles give them, its lists, tables,
// notes and pictures, what stands at the edges of its pages.
import type { Node } from 'prosemirror-model'
import { aboutOfDocument, tidyAbout } from '../content/about'
import { type Align, hasMark, type Look, type Page } from '../content/document'
import { edgesOf, storyOf } from '../content/edges'
import { pageFieldOf } from '../content/fields'
import type { Kept } from '../content/kept'
import type { ListNumber } from '../content/list-number'
import type { ParagraphLook } from '../content/paragraph-look'
import type { Passage, TabStop } from '../content/passages'
import type { StyleLook } from '../formats/docx/style-looks'
import { fontFor, serif } from './fonts'
import {
  type Paper,
  type PaperBlock,
  type PaperBorder,
  type PaperCell,
  type PaperEdge,
  type PaperImage,
  type PaperInline,
  type PaperNotes,
  type PaperPage,
  type PaperParagraph,
  type PaperRemark,
  type PaperRun,
  type PaperText,
  paperSays,
} from './paper'
import { type Remark, remarkOf } from './remarks'

export interface PaperOf {
  /** How the styles of its file look; none where it has none. */
  looks: readonly StyleLook[]
  /** For fields: what it is called, which version it is, and the day. */
  name: string
  version: number | null
  day: string
  language: string
  /**
   * Where paragraphs begin and end in the document is said with them, and of those that begin at one of these places
   * where each of their words does (page-breaks.ts).
   */
  places?: ReadonlySet<number> | null
  /** What its file says of stretches of it: positions in the document. */
  passages?: readonly Passage[]
  /** A page as it is chosen. */
  turned?: (page: Page) => Page
  /** What is said about the text, and how it is shown. */
  remarks?: {
    shown: 'margin' | 'notes'
    /** What is written above one. */
    head: (remark: Remark) => string
  } | null
}

/** Marks that a paragraph's text has by its style. */
type TextLook = Omit<PaperText, 't'>
interface BaseLook {
  paragraph: Omit<PaperParagraph, 'runs' | 'text' | 'level'>
  text: TextLook
}

const points = (css: string | undefined): number | undefined => {
  const found = /^(-?\d+(?:\.\d+)?)pt$/.exec(css ?? '')
  return found ? Number(found[1]) : undefined
}
const hex = (css: string | undefined): string | undefined => (css && /^#[0-9a-f]{6}$/i.test(css) ? css : undefined)
const twips = (length: number): number => length / 20

/** Where nothing else is said: as the page of the editor has it. */
const usualSize = 11
const usualLine = 1.45
const headingSizes = [20, 16, 13.5, 12, 11, 11] as const

/**
 * Of a page, what a table's head may take that is there again on each page, and what a picture in a table may: together they
 * leave room for a line. A head that fills its page would be set for ever.
 */
const mostOfHead = 0.25
const mostInTable = 0.6
/** How high a cell is at most, as far as that is known before it is set; what cannot be told is as high as any page. */
function heightOf({ blocks }: PaperCell, width: number): number {
  const perLine = Math.max(1, Math.floor((width - 10) / 7))
  let height = 8
  for (const block of blocks) {
    if (!('p' in block)) return Number.POSITIVE_INFINITY
    const { p } = block
    const size = Math.max(p.text.size ?? 11, ...p.runs.map((run) => ('t' in run ? (run.size ?? 0) : 0)))
    if (p.runs.some((run) => 'image' in run || 'note' in run) || size > 20) return Number.POSITIVE_INFINITY
    const letters = p.runs.reduce((sum, run) => sum + ('t' in run ? run.t.length : perLine), 0)
    const line = size * Math.max(1, p.line)
    height += (Math.ceil(letters / perLine) + 1) * line + p.before + p.after
    if ((p.left ?? 0) + (p.right ?? 0) > width / 2) return Number.POSITIVE_INFINITY
  }
  return height
}

const borderOf = (css: string | undefined): PaperBorder | undefined => {
  const [, width, kind, color] = /^([\d.]+)pt (solid|double|dotted|dashed) (\S+)$/.exec(css ?? '') ?? []
  if (width === undefined) return undefined
  return {
    width: Number(width),
    dash: kind === 'dotted' || kind === 'dashed' ? kind : 'solid',
    color: hex(color) ?? null,
  }
}

/** Declarations that were made from checked numbers, as lengths of paper. */
function lookOfCss(css: Readonly<Record<string, string>>, base: BaseLook, font: (name: string) => string[]): BaseLook {
  const text: TextLook = { ...base.text }
  const family = /^"([^"]+)"/.exec(css['font-family'] ?? '')?.[1]
  if (family) text.font = font(family)
  const size = points(css['font-size'])
  if (size) text.size = size
  if (css['font-weight']) {
    if (Number(css['font-weight']) >= 600) text.bold = true
    else delete text.bold
  }
  if (css['font-style'] === 'italic') text.italic = true
  else if (css['font-style']) delete text.italic
  if (/underline/.test(css['text-decoration'] ?? css['text-decoration-line'] ?? '')) text.underline = true
  const color = hex(css.color)
  if (color) text.color = color
  const paragraph = { ...base.paragraph }
  const set = (name: 'before' | 'after' | 'left' | 'right' | 'first', from: string) => {
    const length = points(css[from])
    if (length !== undefined) paragraph[name] = length
  }
  set('before', 'margin-top')
  set('after', 'margin-bottom')
  set('left', 'margin-left')
  set('right', 'margin-right')
  set('first', 'text-indent')
  const line = css['line-height']
  if (line && /^[\d.]+$/.test(line)) paragraph.line = Number(line)
  else if (line) paragraph.line = (points(line) ?? usualLine * usualSize) / (text.size ?? usualSize)
  const align = css['text-align']
  if (align === 'center' || align === 'right' || align === 'justify' || align === 'left') paragraph.align = align
  const fill = hex(css['background-color'])
  if (fill) paragraph.fill = fill
  for (const side of ['top', 'left', 'bottom', 'right'] as const) {
    const border = borderOf(css[`border-${side}`])
    if (border) paragraph.borders = { ...paragraph.borders, [side]: border }
  }
  return { paragraph, text }
}

function withLook({ paragraph, text }: BaseLook, align: Align, look: ParagraphLook | null): BaseLook {
  const own = { ...paragraph }
  if (align) own.align = align
  if (look) {
    if (look.before !== undefined) own.before = twips(look.before)
    if (look.after !== undefined) own.after = twips(look.after)
    if (look.left !== undefined) own.left = twips(look.left)
    if (look.right !== undefined) own.right = twips(look.right)
    if (look.first !== undefined) own.first = twips(look.first)
    if (look.fill) own.fill = look.fill
    if (look.line)
      own.line =
        'share' in look.line
          ? (look.line.share / 240) * 1.2
          : twips('exact' in look.line ? look.line.exact : look.line.least) / (text.size ?? usualSize)
    for (const [side, { kind, width, color }] of Object.entries(look.borders ?? {}))
      own.borders = {
        ...own.borders,
        [side]: {
          width: Math.min(6, Math.max(0.5, width / 8)),
          color,
          dash: kind === 'dotted' || kind === 'dashed' ? kind : 'solid',
        },
      }
  }
  return { paragraph: own, text }
}

const patterns: Readonly<Record<ListNumber['format'], string>> = {
  decimal: '1',
  'decimal-leading-zero': '01',
  'lower-alpha': 'a',
  'upper-alpha': 'A',
  'lower-roman': 'i',
  'upper-roman': 'I',
}

const inPoints = ({ width, height, top, right, bottom, left }: Page): PaperPage => ({
  width: twips(width),
  height: twips(height),
  top: twips(top),
  right: twips(right),
  bottom: twips(bottom),
  left: twips(left),
})

/** Of what was put in, what was taken out, and what is talked about. */
const colours = { inserted: '#0b6b5b', removed: '#a3402a', about: '#f7eccb' } as const
/** For what is said about the pages; points. */
const column = 168

const within = (start: number | null, more: number): number | null => (start === null ? null : start + more)

/** A place that nobody asks for. */
const nowhere = -1

/** A run as its words, each with where it begins, and the spaces between them. */
function wordsOf({ t, ...look }: PaperText, start: number): PaperText[] {
  const words: PaperText[] = []
  for (const { 0: word, index } of t.matchAll(/\S+|\s+/g))
    words.push({ ...look, t: word, ...(word.trim() && { at: start + index }) })
  return words
}

/** @returns the pages' content, the pictures in it, and what could not be as it is */
export function paperOf(
  doc: Node,
  {
    looks,
    name,
    version,
    day,
    language,
    places = null,
    remarks = null,
    passages = [],
    turned = (page) => page,
  }: PaperOf,
): { paper: Paper; images: PaperImage[]; notes: PaperNotes } {
  const { width, height, top, right, bottom, left } = doc.attrs.page as Page
  /** For what stands in a line, some of it is left to the line. */
  let room = {
    width: Math.max(10, twips(width - left - right) - 4),
    height: Math.max(10, twips(height - top - bottom) * 0.94),
  }
  /** In a table it leaves room for the table's head, which is there again on each page. */
  let share = 1
  const images = new Map<string, PaperImage>()
  const substituted = new Map<string, PaperNotes['substituted'][number]>()
  let undrawn = 0
  const font = (named: string): string[] => {
    const { family, same, sameWidths } = fontFor(named)
    if (!same) substituted.set(named, { font: named, by: family, sameWidths })
    return [family]
  }

  const plainBase: BaseLook = {
    paragraph: { before: 0, after: 8, line: usualLine },
    text: { size: usualSize, font: [serif] },
  }
  const usual = looks.find((look) => look.usual)
  const base = usual ? lookOfCss(usual.css, plainBase, font) : plainBase
  /** What text has without a paragraph's own place. */
  const bare: BaseLook = {
    paragraph: { before: 0, after: base.paragraph.after, line: base.paragraph.line },
    text: base.text,
  }
  const named = new Map(looks.filter((look) => look.named).map((look) => [look.id, lookOfCss(look.css, bare, font)]))
  const headings = headingSizes.map((size, at) => {
    const look = looks.find(({ heading, named: isNamed }) => heading === at + 1 && !isNamed)
    const own: BaseLook = {
      paragraph: { before: at < 2 ? 18 : 12, after: 6, line: 1.25 },
      text: { ...base.text, size, bold: true },
    }
    return look ? lookOfCss(look.css, own, font) : own
  })
  const quote = looks.find((look) => look.quote && !look.named)
  const quoted = quote ? lookOfCss(quote.css, bare, font) : { ...bare, text: { ...bare.text, italic: true as const } }

  const textOf = (node: Node): PaperText => {
    const run: PaperText = { t: node.text ?? '' }
    for (const mark of ['strong', 'em', 'underline', 'strike', 'raised', 'lowered'] as const)
      if (hasMark(node.marks, mark))
        run[({ strong: 'bold', em: 'italic' } as const)[mark as 'em'] ?? (mark as 'underline')] = true
    const look = hasMark(node.marks, 'look')?.attrs as Look | undefined
    if (look?.size) run.size = look.size
    if (hex(look?.color ?? undefined)) run.color = look!.color!
    if (hex(look?.fill ?? undefined)) run.fill = look!.fill!
    if (look?.font) run.font = font(look.font)
    const href = hasMark(node.marks, 'link')?.attrs.href as string | undefined
    if (href && /^(?:https?:|mailto:|tel:)/i.test(href)) run.href = href
    return run
  }
  const imageOf = (node: Node): PaperInline => {
    const { src, alt, width, height } = node.attrs as { src: string; alt: string; width: number; height: number }
    // One that is larger than its page is shown as large as that is, as it would be on the screen.
    const part = Math.min(1, room.width / (width * 0.75), (room.height * share) / (height * 0.75))
    const size = { width: width * 0.75 * part, height: height * 0.75 * part }
    const [, type, data] = /^data:image\/(png|jpe?g|gif|svg\+xml|webp);base64,(.*)$/s.exec(src) ?? []
    if (!data) {
      undrawn++
      return { image: '', ...size, alt }
    }
    const known = images.get(src)
    if (known) return { image: known.name, ...size, alt }
    const ending = { jpeg: 'jpg', 'svg+xml': 'svg' }[type as 'jpeg'] ?? type
    const image = { name: `/image-${images.size + 1}.${ending}`, bytes: bytesOf(data) }
    images.set(src, image)
    return { image: image.name, ...size, alt }
  }
  const keptOf = (kept: Kept): PaperInline[] => {
    const field = pageFieldOf(kept)
    if (field === 'page' || field === 'pages') return [{ field }]
    if (field === 'date') return [{ t: day }]
    if (field === 'name') return [{ t: name }]
    if (field === 'version') return version === null ? [] : [{ t: String(version) }]
    if (kept.kind === 'footnote' || kept.kind === 'endnote') return [{ note: kept.words }]
    // What somebody said about the text, and what was taken away, is not on the paper.
    if (kept.kind === 'comment' || kept.kind === 'removed') return []
    if (kept.kind === 'tab') return [{ t: '\t' }]
    return kept.words ? [{ t: kept.words }] : []
  }
  const said: PaperRemark[] = []
  const remarked = (remark: Remark): PaperInline[] => {
    said.push({ ...remark, head: remarks!.head(remark) })
    const mark = { remark: said.length }
    // What was taken out is there to be seen; that it is out is said beside it.
    return remark.kind === 'removed' && remarks!.shown === 'margin'
      ? [{ t: remark.words, strike: true, color: colours.removed }, mark]
      : [mark]
  }
  const inserted = passages.filter((one) => one.kind === 'inserted')
  const commented = passages.filter((one) => one.kind === 'comment')
  const sections = passages.filter((one) => one.kind === 'section').sort((a, b) => a.to - b.to)
  const stopsAt = new Map(passages.flatMap((one) => (one.kind === 'tabs' ? [[one.from, one.stops] as const] : [])))
  /** At the edges of pages text is on the left, in the middle and on the right, where nothing else is said. */
  const ofEdges: readonly TabStop[] = [
    { at: twips(width - left - right) / 2, kind: 'center', dots: false },
    { at: twips(width - left - right), kind: 'right', dots: false },
  ]
  const wordsAt = (from: number, to: number): string =>
    doc.textBetween(from, Math.min(to, doc.content.size), ' ').trim().slice(0, 1000)
  /** A run in pieces, as different things are said of it, each with what is said at its end. */
  const aboutOf = ({ t, ...look }: PaperText, at: number): PaperInline[] => {
    const end = at + t.length
    const here = [...inserted, ...commented].filter(({ from, to }) => from < end && to > at)
    if (!here.length) return [{ ...look, t }]
    const cuts = [...new Set([at, end, ...here.flatMap(({ from, to }) => [from, to])])]
      .filter((cut) => cut >= at && cut <= end)
      .sort((a, b) => a - b)
    const runs: PaperInline[] = []
    for (const [n, from] of cuts.slice(0, -1).entries()) {
      const to = cuts[n + 1]!
      const run: PaperText = { ...look, t: t.slice(from - at, to - at) }
      const within = (one: Passage) => one.from <= from && one.to >= to
      const put = inserted.find(within)
      if (remarks!.shown === 'margin') {
        if (put) Object.assign(run, { underline: true, color: colours.inserted })
        if (commented.some(within)) run.fill ??= colours.about
      }
      runs.push(run)
      if (put && put.to === to)
        runs.push(...remarked({ kind: 'inserted', who: put.who, when: put.when, words: wordsAt(put.from, put.to) }))
    }
    return runs
  }

  /** @param start where its content begins; null for what stands at the edges of pages */
  const runsOf = (node: Node, start: number | null): PaperInline[] => {
    const runs: PaperInline[] = []
    const told = start !== null && places !== null
    const isBreak = (child: Node | null) => child?.type.name === 'hard_break'
    // A line that has nothing in it may stand alone on a page; one that only has a place in it may not. So that pages break
    // alike with places and without, the first and the last line of a paragraph always have one where nothing else is there.
    if (told || isBreak(node.firstChild)) runs.push({ t: '', at: told ? start : nowhere })
    node.forEach((child, offset) => {
      if (child.isText && remarks && start !== null) runs.push(...aboutOf(textOf(child), start + offset))
      else if (child.isText)
        runs.push(...(told && places.has(start) ? wordsOf(textOf(child), start + offset) : [textOf(child)]))
      else if (child.type.name === 'hard_break') runs.push({ br: true })
      else if (child.type.name === 'image') runs.push(imageOf(child))
      else if (child.type.name === 'kept') {
        const kept = child.attrs as unknown as Kept
        const remark = remarks && start !== null ? remarkOf(kept) : null
        runs.push(...(remark ? remarked(remark) : keptOf(kept)))
      }
    })
    // An empty line is as high as one, behind a line's end too.
    if ((told && node.content.size === 0) || isBreak(node.lastChild)) runs.push({ t: '\u200b' })
    if (told || isBreak(node.lastChild)) runs.push({ t: '', at: told ? start + node.content.size : nowhere })
    return runs
  }
  const paragraphOf = (node: Node, otherwise: BaseLook, start: number | null): PaperBlock => {
    const {
      style,
      align,
      look,
      level = 0,
    } = node.attrs as {
      style: string | null
      align: Align
      look: ParagraphLook | null
      level?: number
    }
    const own = (style !== null && named.get(style)) || (level ? headings[level - 1]! : otherwise)
    const { paragraph, text } = withLook(own, align, look)
    const tabs = start === null ? ofEdges : stopsAt.get(start - 1)
    return { p: { ...paragraph, level, text, ...(tabs && { tabs }), runs: runsOf(node, start) } }
  }
  const itemOf = (node: Node, start: number | null): PaperBlock[] => {
    // What lies in a list has the list's indent, and no space between its lines but what it says itself.
    const inside: BaseLook = { paragraph: { ...base.paragraph, after: 3, before: 0 }, text: base.text }
    delete inside.paragraph.left
    delete inside.paragraph.first
    return blocksOf(node, inside, start)
  }
  const tableOf = (node: Node, start: number | null): PaperBlock => {
    const outside = share
    share = mostInTable
    let headRows = 0
    while (headRows < node.childCount - 1 && node.child(headRows).attrs.header) headRows++
    /** Places that a cell above goes into, by their row. */
    const taken: Set<number>[] = Array.from({ length: node.childCount }, () => new Set())
    const cells: PaperCell[] = []
    const widths: number[] = []
    let columns = 1
    node.forEach((row, rowAt, y) => {
      let x = 0
      row.forEach((cell, cellAt) => {
        const { colspan, rowspan, colwidth } = cell.attrs as {
          colspan: number
          rowspan: number
          colwidth: number[] | null
        }
        while (taken[y]!.has(x)) x++
        // What would lie over another cell, or over the end of the head, goes as far as there is room.
        const last = y < headRows ? headRows : node.childCount
        let wide = 1
        while (wide < colspan && !taken[y]!.has(x + wide)) wide++
        const high = Math.max(1, Math.min(rowspan, last - y))
        for (let down = 0; down < high; down++) for (let over = 0; over < wide; over++) taken[y + down]!.add(x + over)
        if (colwidth) for (const [n, width] of colwidth.slice(0, wide).entries()) widths[x + n] ??= width * 0.75
        columns = Math.max(columns, x + wide)
        const inside = { ...bare, paragraph: { ...bare.paragraph, after: 0 } }
        cells.push({
          x,
          y,
          colspan: wide,
          rowspan: high,
          blocks: blocksOf(cell, inside, within(start, rowAt + 1 + cellAt + 1)),
        })
        x += wide
      })
    })
    share = outside
    const known = Array.from({ length: columns }, (_, at) => widths[at] ?? 0).every((width) => width > 0)
    const head = cells.filter(({ y }) => y < headRows)
    const widthOf = ({ x, colspan }: PaperCell) =>
      Array.from({ length: colspan }, (_, n) => (known ? widths[x + n]! : room.width / columns)).reduce((a, b) => a + b)
    const tall = head.reduce((sum, cell) => sum + heightOf(cell, widthOf(cell)), 0)
    return {
      table: {
        head,
        cells: cells.filter(({ y }) => y >= headRows),
        again: tall <= twips(height - top - bottom) * mostOfHead,
      },
      columns,
      widths: known ? widths.slice(0, columns) : null,
    }
  }
  const blocksOf = (
    node: Node,
    otherwise: BaseLook,
    start: number | null,
    from = 0,
    to = Number.POSITIVE_INFINITY,
  ): PaperBlock[] => {
    const blocks: PaperBlock[] = []
    node.forEach((child, offset) => {
      // It belongs to what it ends in.
      if (offset + child.nodeSize <= from || offset + child.nodeSize > to) return
      const inner = within(start, offset + 1)
      switch (child.type.name) {
        case 'paragraph':
        case 'heading':
          blocks.push(paragraphOf(child, otherwise, inner))
          break
        case 'blockquote':
          blocks.push({ quote: blocksOf(child, quoted, inner) })
          break
        case 'bullet_list':
        case 'ordered_list': {
          const items: PaperBlock[][] = []
          child.forEach((item, at) => void items.push(itemOf(item, within(inner, at + 1))))
          const { start, number } = child.attrs as { start: number; number: ListNumber | null }
          blocks.push({
            list: items,
            ordered:
              child.type.name === 'bullet_list'
                ? null
                : {
                    start,
                    pattern: patterns[number?.format ?? 'decimal'],
                    before: number?.before ?? '',
                    after: number?.after ?? '.',
                    full: number?.path ?? false,
                  },
          })
          break
        }
        case 'table':
          blocks.push(tableOf(child, inner))
          break
        case 'page_break':
          blocks.push({ pageBreak: true })
      }
    })
    return blocks
  }
  const head: PaperEdge = {}
  const foot: PaperEdge = {}
  for (const edge of edgesOf(doc)) (edge.edge === 'head' ? head : foot)[edge.on] = blocksOf(storyOf(edge), bare, null)
  /** What is on pages of one kind after the other. */
  const runs: PaperRun[] = []
  let from = 0
  for (const [n, section] of sections.entries()) {
    const own = turned(section.page)
    const last = n === sections.length - 1
    const across = (twips(own.width - own.left - own.right) - section.gap * (section.columns - 1)) / section.columns
    room = { width: Math.max(10, across - 4), height: Math.max(10, twips(own.height - own.top - own.bottom) * 0.94) }
    const page = inPoints(own)
    const part = {
      columns: section.columns,
      gap: section.gap,
      blocks: blocksOf(doc, base, 0, from, last ? undefined : section.to),
    }
    from = section.to
    const before = runs.at(-1)
    if (before && section.flows && JSON.stringify(before.page) === JSON.stringify(page)) before.parts.push(part)
    else runs.push({ page, parts: [part] })
  }
  const blocks = sections.length ? [] : blocksOf(doc, base, 0)
  return {
    paper: {
      page: inPoints(doc.attrs.page),
      says: paperSays(tidyAbout(aboutOfDocument(doc)), name),
      language,
      head,
      foot,
      blocks,
      runs,
      remarks: said,
      column: remarks?.shown === 'margin' && said.length ? column : 0,
    },
    images: [...images.values()],
    notes: { substituted: [...substituted.values()], undrawn },
  }
}

function bytesOf(base64: string): Uint8Array {
  const text = atob(base64.replace(/\s+/g, ''))
  return Uint8Array.from(text, (letter) => letter.charCodeAt(0))
}
