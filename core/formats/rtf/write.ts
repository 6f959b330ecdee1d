// Blocks of a document as Rich Text Format 1.9.1 writes them, each in a group of its own, so that nothing of it reaches
// what stands around it; and what of them it has no place for.
import { Fragment, type Mark, type Node } from 'prosemirror-model'
import { documentSchema, type Look } from '../../content/document'
import type { Kept } from '../../content/kept'
import type { ParagraphLook } from '../../content/paragraph-look'
import { isField } from '../docx/fields'
import { ownStylesMark } from '../docx/styles'
import { layTable } from '../docx/table'
import { keptFeatures } from '../docx/whole'
import { dataUrlBytes, twipsPerPixel } from '../docx/write'
import { flatNote, linesOfNote } from '../flat/notes'
import type { Limits } from '../refusals'
import { plainWords } from './letters-out'
import { charWords, listFirst, listLeft, type Made, type MadeList, paraWords, type Role, sameLevel } from './made'
import { hexText } from './pictures'
import type { CharState, FlatBorder, ParaState } from './properties'
import type { Style } from './tables'

const { nodes, marks } = documentSchema
/** The width of a text where nobody set that of its columns; twips. */
const textWidth = 9026
const codeOf = ({ xml }: Kept): string =>
  (/\bw:instr="([^"]*)"/.exec(xml)?.[1] ?? '')
    .replaceAll('&quot;', '"')
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&amp;', '&')
const pictureWords: Readonly<Record<string, string>> = { 'image/png': '\\pngblip', 'image/jpeg': '\\jpegblip' }

/** Where a paragraph stands. */
interface Where {
  inTable: boolean
  edge: boolean
  quote: 'Quote' | 'Quote anew' | null
  list: { list: MadeList; level: number } | null
}
const inText: Where = { inTable: false, edge: false, quote: null, list: null }

export class BlockWriter {
  constructor(
    private readonly made: Made,
    private readonly limits: Limits,
  ) {}

  // -- What can be held --------------------------------------------------------------------------------

  /** A block without what has no place; that is told. @param at its place in the document */
  held(node: Node, at: number, where: Where = inText): Node {
    if (node.isTextblock) return this.heldLine(node, at, where)
    if (!node.childCount) return node
    const inner: Where = {
      ...where,
      inTable: where.inTable || node.type === nodes.table,
      ...(node.type === nodes.blockquote && { quote: 'Quote' as const }),
      ...(/_list$/.test(node.type.name) && {
        list: { list: { ls: 0, levels: [] }, level: where.list ? where.list.level + 1 : 0 },
      }),
    }
    const children: Node[] = []
    node.forEach((child, offset) => void children.push(this.held(child, at + 1 + offset, inner)))
    return node.copy(Fragment.fromArray(children))
  }

  private heldLine(node: Node, at: number, where: Where): Node {
    const near = node.textContent.slice(0, 40)
    const attrs = { ...node.attrs }
    if (attrs.style && !this.made.named(attrs.style)) {
      this.limits.add('named styles (their text stays, in Jaula’s look)', near, 1, [at])
      attrs.style = null
    }
    const style = this.styleOf(node.type.create(attrs), where)
    attrs.look = this.lookBeside(attrs.look, style, where)
    const children: Node[] = []
    node.forEach((child, offset) => {
      const one = this.heldInline(child, style.char, at + 1 + offset, near)
      if (one) children.push(one)
    })
    return node.type.create(attrs, Fragment.fromArray(children))
  }

  private heldInline(child: Node, base: CharState, at: number, near: string): Node | null {
    let node = child
    let set = heldMarks(child.marks, base, this.made)
    if (child.type === nodes.image && !pictureWords[dataUrlBytes(child.attrs.src)[0]]) {
      this.limits.add('images', near, 1, [at])
      return null
    }
    if (child.type === nodes.kept) {
      const kept = child.attrs as Kept
      const note = flatNote(kept)
      if (note) {
        if (!note.whole) this.limits.add('looks of text', note.kept.words.slice(0, 40), 1, [at])
        node = nodes.kept.create(note.kept)
        set = set.filter(({ type }) => type !== marks.raised && type !== marks.lowered && type !== marks.link)
      } else if (!isField(kept)) {
        this.limits.add(keptFeatures[kept.kind], near, 1, [at])
        return null
      }
    }
    return node.mark(set)
  }

  private lookBeside(look: ParagraphLook | null, style: Style, where: Where): ParagraphLook | null {
    if (!look) return null
    const { para } = style
    const left = where.list ? listLeft(where.list.level) : para.left
    const first = where.list ? listFirst : para.first
    const usual: Record<string, unknown> = { ...para, left, first }
    const kept = Object.entries(look).filter(([name, value]) => {
      if (name === 'fill') return value !== this.made.tables.colorOf(para.fill)
      if (name === 'borders') return true
      return JSON.stringify(usual[name]) !== JSON.stringify(value)
    })
    return kept.length ? (Object.fromEntries(kept) as ParagraphLook) : null
  }

  // -- Styles ------------------------------------------------------------------------------------------

  private styleOf(node: Node, where: Where): Style {
    const named = node.attrs.style && this.made.named(node.attrs.style)
    if (named) return named
    if (node.type === nodes.heading) return this.made.style(`heading ${node.attrs.level}` as Role)
    return this.made.style(where.quote ?? 'normal')
  }

  private paraOf(node: Node, style: Style, where: Where): ParaState {
    const look = (node.attrs.look ?? {}) as ParagraphLook
    const color = (hex: string | null | undefined) => (hex ? this.made.color(hex) : 0)
    const borders: Record<string, FlatBorder> = {}
    for (const [side, border] of Object.entries(look.borders ?? {}))
      borders[side] = { ...border, color: color(border.color) }
    const { para } = style
    return {
      ...para,
      align: node.attrs.align,
      before: look.before ?? para.before,
      after: look.after ?? para.after,
      line: look.line ?? para.line,
      left: look.left ?? (where.list ? listLeft(where.list.level) : para.left),
      right: look.right ?? para.right,
      first: look.first ?? (where.list ? listFirst : para.first),
      fill: look.fill ? color(look.fill) : para.fill,
      borders: look.borders ? borders : para.borders,
      outline: node.type === nodes.heading ? node.attrs.level - 1 : para.outline,
    }
  }

  // -- Blocks ------------------------------------------------------------------------------------------

  /** Blocks one after the other. @param behindTable a table stands before them */
  blocks(some: readonly Node[], where: Partial<Where> = {}, behindTable = false): string {
    let out = ''
    let before: Node | null = behindTable ? nodes.table.create(null, nodes.table_row.create()) : null
    for (const node of some) {
      if (node.type === nodes.table && before?.type === nodes.table) out += this.gap()
      out += this.block(node, { ...inText, ...where }, before, 'par')
      before = node
    }
    return out
  }
  /** What stands between two tables so that they are two. */
  gap(): string {
    const style = this.made.style(ownStylesMark)
    return `{\\pard\\plain\\s${style.number}${paraWords(style.para)}${charWords(style.char, this.made.tables.plainChar)}\\par}\n`
  }

  private block(node: Node, where: Where, before: Node | null, end: 'par' | 'cell'): string {
    switch (node.type) {
      case nodes.table:
        return this.table(node, where)
      case nodes.page_break:
        return '{\\pard\\plain\\page\\par}\n'
      case nodes.blockquote:
        return this.inner(node, { ...where, quote: 'Quote' }, end, before?.type === nodes.blockquote)
      case nodes.bullet_list:
      case nodes.ordered_list:
        return this.list(node, this.made.newList(), 0, where, end)
      default:
        return this.line(node, where, end)
    }
  }
  private inner(node: Node, where: Where, end: 'par' | 'cell', anew: boolean): string {
    let out = ''
    node.forEach((child, _offset, at) => {
      const quote = anew && at === 0 ? ('Quote anew' as const) : where.quote
      out += this.line(child, { ...where, quote }, at === node.childCount - 1 ? end : 'par')
    })
    return out
  }

  private list(node: Node, list: MadeList, level: number, where: Where, end: 'par' | 'cell'): string {
    list.levels[level] ??= levelOf(node)
    let out = ''
    node.forEach((item, _offset, at) => {
      const lastItem = at === node.childCount - 1
      item.forEach((child, _inner, place) => {
        const last = lastItem && place === item.childCount - 1 ? end : 'par'
        if (child.isTextblock) out += this.line(child, { ...where, list: { list, level } }, last)
        else {
          const known = list.levels[level + 1]
          const goesOn = place === 1 && (!known || sameLevel(known, levelOf(child)))
          out += this.list(child, goesOn ? list : this.made.newList(), level + 1, where, last)
        }
      })
    })
    return out
  }

  private line(node: Node, where: Where, end: 'par' | 'cell'): string {
    const style = this.styleOf(node, where)
    const para = this.paraOf(node, style, where)
    const list = where.list ? `\\ls${where.list.list.ls}\\ilvl${where.list.level}` : ''
    const words = `\\pard\\plain\\uc1\\s${style.number}${where.inTable ? '\\intbl' : ''}${list}${paraWords(para)}${charWords(style.char, this.made.tables.plainChar)}`
    return `{${words} ${this.inline(node, style.char)}\\${end}}\n`
  }

  private table(table: Node, where: Where): string {
    const { width, rows, columnWidths } = layTable(table)
    const usual = Math.floor(textWidth / Math.max(1, width))
    const edges: number[] = []
    let edge = 0
    for (let x = 0; x < width; x++) edges.push((edge += columnWidths[x] ? columnWidths[x]! * twipsPerPixel : usual))
    const color = this.made.color('#8a8577')
    const frame = ['t', 'l', 'b', 'r'].map((side) => `\\clbrdr${side}\\brdrs\\brdrw10\\brdrcf${color}`).join('')
    let out = ''
    table.forEach((row, _offset, y) => {
      let shapes = ''
      let cells = ''
      for (let x = 0; x < width; x++) {
        const slot = rows[y]![x]
        if (slot) {
          const { colspan, rowspan, colwidth } = slot.cell.attrs
          if (rowspan > 1) shapes += slot.row === y ? '\\clvmgf' : '\\clvmrg'
          if (colspan > 1) shapes += slot.column === x ? '\\clmgf' : '\\clmrg'
          shapes += `${frame}${colwidth ? `\\clftsWidth3\\clwWidth${edges[x]! - (edges[x - 1] ?? 0)}` : '\\clftsWidth1'}`
        }
        shapes += `\\cellx${edges[x]}`
        if (slot && slot.row === y && slot.column === x) {
          const inner = slot.cell.children
          let before: Node | null = null
          for (const [at, block] of inner.entries()) {
            cells += this.block(block, { ...where, inTable: true }, before, at === inner.length - 1 ? 'cell' : 'par')
            before = block
          }
        } else cells += this.line(nodes.paragraph.create(), { ...where, inTable: true }, 'cell')
      }
      out += `{\\trowd\\trgaph108\\trleft0${row.attrs.header ? '\\trhdr' : ''}${shapes}\n${cells}\\row}\n`
    })
    return out
  }

  // -- Lines -------------------------------------------------------------------------------------------

  private inline(node: Node, base: CharState): string {
    let out = ''
    let open: string | null = null
    node.forEach((child) => {
      const href: string | null = child.marks.find(({ type }) => type === marks.link)?.attrs.href ?? null
      if (href !== open) {
        if (open !== null) out += '}}'
        if (href !== null) out += `{\\field{\\*\\fldinst{${plainWords(linkCode(href))}}}{\\fldrslt `
        open = href
      }
      const words = charWords(this.charOf(child.marks, base), base)
      const text = this.leaf(child, base)
      out += words ? `{${words} ${text}}` : text
    })
    return open === null ? out : `${out}}}`
  }
  private charOf(set: readonly Mark[], base: CharState): CharState {
    let char: CharState = base
    for (const { type, attrs } of set) {
      if (type === marks.strong) char = { ...char, bold: true }
      else if (type === marks.em) char = { ...char, italic: true }
      else if (type === marks.underline) char = { ...char, underline: true }
      else if (type === marks.strike) char = { ...char, strike: true }
      else if (type === marks.raised || type === marks.lowered)
        char = { ...char, script: type === marks.raised ? 'raised' : 'lowered' }
      else if (type === marks.look) {
        const { color, fill, size, font } = attrs as Look
        char = {
          ...char,
          ...(color && { color: this.made.color(color) }),
          ...(fill && { fill: this.made.color(fill) }),
          ...(size && { size: Math.round(size * 2) }),
          ...(font && { font: this.made.font(font) }),
        }
      }
    }
    return char
  }

  private leaf(child: Node, base: CharState): string {
    if (child.isText) return plainWords(child.text!)
    if (child.type === nodes.hard_break) return '\\line '
    if (child.type === nodes.image) return picture(child)
    const kept = child.attrs as Kept
    if (isField(kept))
      return `{\\field{\\*\\fldinst{${plainWords(codeOf(kept))}}}{\\fldrslt{${plainWords(kept.words || '1')}}}}`
    const lines = linesOfNote(kept) ?? []
    const normal = this.made.style('normal')
    const words = `\\pard\\plain\\uc1\\s0${paraWords(normal.para)}${charWords(normal.char, this.made.tables.plainChar)}`
    const text = lines.map((runs, at) => {
      const inner = runs.map(({ text, strong, em }) => {
        const look = charWords(
          { ...normal.char, bold: strong || normal.char.bold, italic: em || normal.char.italic },
          normal.char,
        )
        return look ? `{${look} ${plainWords(text)}}` : plainWords(text)
      })
      return `${words} ${at ? '' : '{\\super\\chftn} '}${inner.join('')}${at < lines.length - 1 ? '\\par' : ''}`
    })
    return `${base.script === 'raised' ? '' : '{\\super'}\\chftn{\\footnote${kept.kind === 'endnote' ? '\\ftnalt' : ''}${text.join('')}}${base.script === 'raised' ? '' : '}'}`
  }
}

const levelOf = (list: Node) => ({
  ordered: list.type === nodes.ordered_list,
  start: list.attrs.start ?? 1,
  number: list.attrs.number ?? null,
})

/** The marks that say something beside what a style gives letters. */
function heldMarks(set: readonly Mark[], base: CharState, made: Made): readonly Mark[] {
  return set.flatMap((mark) => {
    const { type } = mark
    if (type === marks.strong) return base.bold ? [] : [mark]
    if (type === marks.em) return base.italic ? [] : [mark]
    if (type === marks.underline) return base.underline ? [] : [mark]
    if (type === marks.strike) return base.strike ? [] : [mark]
    if (type !== marks.look) return [mark]
    const { color, fill, size, font } = mark.attrs as Look
    const { tables } = made
    const half = size && Math.round(size * 2) / 2
    const look: Look = {
      color: color === tables.colorOf(base.color) ? null : color,
      fill: fill === tables.colorOf(base.fill) ? null : fill,
      size: half && half * 2 === base.size ? null : half,
      font: font === (tables.fontOf(base.font)?.name ?? null) ? null : font,
    }
    return Object.values(look).some((one) => one !== null) ? [type.create(look)] : []
  })
}

/** A link as a field's code: a place of the text itself, or an address (ECMA-376 part 1, §17.16.5.25). */
function linkCode(href: string): string {
  const code = (text: string) => `"${text.replaceAll('\\', '\\\\').replaceAll('"', '%22')}"`
  return href.startsWith('#') ? `HYPERLINK \\l ${code(href.slice(1))}` : `HYPERLINK ${code(href)}`
}

function picture(image: Node): string {
  const { src, alt, width, height } = image.attrs
  const [type, bytes] = dataUrlBytes(src)
  const property = alt ? `{\\*\\picprop{\\sp{\\sn wzDescription}{\\sv ${plainWords(alt)}}}}` : ''
  return `{\\pict${property}\\picw${width}\\pich${height}\\picwgoal${width * twipsPerPixel}\\pichgoal${height * twipsPerPixel}${pictureWords[type] ?? ''}\n${hexText(bytes)}}`
}
