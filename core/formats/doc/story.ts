// One story of a document, its text, an edge of its pages or a note, letter by letter: paragraphs and cells end with letters
// of their own, and what is no text has a letter that stands for it ([MS-DOC] §2.4.1, §2.8.25).
import type { Fragment, Node } from 'prosemirror-model'
import { deepestList, documentSchema, storableText } from '../../content/document'
import { fieldOf } from '../../content/fields'
import type { Kept } from '../../content/kept'
import { say } from '../../words/said'
import { Assembly } from '../docx/assemble'
import { keptField } from '../docx/fields'
import { keptNode } from '../docx/kept'
import { mostParagraphs } from '../docx/reader'
import type { Piece } from '../docx/source'
import { dataUrl } from '../docx/write'
import { addressOf, isLink, isOneThing } from '../flat/fields'
import { Flow } from '../flat/flow'
import { signOf } from '../flat/letters'
import { lookBeside, marksBeside } from '../flat/looks'
import { roleOf } from '../flat/roles'
import { DamagedFile, type Limits } from '../refusals'
import { type DocFile, Numbers } from './file'
import type { Lists } from './lists'
import { pictureAt } from './pictures'
import { type DocChar, type DocPara, type DocRow, type Property, paraWith, propertiesIn, rowWith } from './properties'
import { type DocStyle, headingOf, namedOf, type Styles } from './styles'
import { type DocText, firstBehind, type Stretch } from './text'

export interface DocParts {
  file: DocFile
  text: DocText
  styles: Styles
  lists: Lists
  limits: Limits
  sectionEnds: ReadonlySet<number>
}

const { marks, nodes } = documentSchema
type Run = { char: DocChar; link: string | null } & ({ text: string } | { node: Node })
interface Field {
  code: string
  /** What has been read of it. */
  at: 'code' | 'result'
  runs: number
  paragraph: number
  link: string | null
}
/** Numbers of lists that are of no list. */
const noList = 0xf801
const inData = [0x6645, 0x6646]

export class StoryReader {
  private readonly assembly: Assembly
  private readonly flow: Flow
  private runs: (Run | 'page')[] = []
  private readonly fields: Field[] = []
  private link: string | null = null
  private near = ''
  private paragraphs = 0
  private nested = false
  /** What stands in boxes that are anchored in the paragraph. */
  private readonly boxes: Node[] = []
  private letters = {
    index: 0,
    known: null as DocChar | null,
    of: null as Stretch | null,
    style: null as DocStyle | null,
  }

  constructor(
    private readonly parts: DocParts,
    private readonly is: 'text' | 'edge' | 'note' | 'box',
    private readonly noteAt: (at: number) => Kept | null,
    /** What stands in something drawn that is anchored at a letter. */
    private readonly boxAt: (at: number) => readonly Node[] = () => [],
  ) {
    this.assembly = new Assembly(parts.lists, () => this.note('lists numbered in a way of their own'), true)
    this.flow = new Flow((pieces) => this.assembly.nest(pieces))
  }
  private note(feature: string): void {
    this.parts.limits.add(feature, this.near)
  }

  /** @param from letters, from the first one of all */
  read(from: number, to: number): Fragment {
    const { text, sectionEnds } = this.parts
    let begin = from
    const end = Math.min(to, text.text.length)
    for (let at = from; at < end; at++) {
      const code = text.text.charCodeAt(at)
      const ends = code === 0x0d || code === 0x07 || (code === 0x0c && this.is === 'text' && sectionEnds.has(at + 1))
      if (!ends) continue
      this.paragraph(begin, at)
      begin = at + 1
    }
    if (begin < end) this.paragraph(begin, end)
    return this.flow.end()
  }

  // -- Paragraphs --------------------------------------------------------------------------------------

  private paragraph(from: number, mark: number): void {
    if (++this.paragraphs > mostParagraphs)
      throw new DamagedFile(say('formats.it-has-too-many-paragraphs', { most: mostParagraphs.toLocaleString('en') }))
    const { text, styles, lists } = this.parts
    const stretch = stretchAt(text.paragraphs, Math.min(mark, text.text.length - 1))
    const all = stretch ? [...this.propertiesOf(stretch)] : []
    const index = all.reduce((found, { code, value }) => (code === 0x4600 ? value.u16(0) : found), stretch?.style ?? 0)
    const style = styles.paragraph(index)
    // A list says where its paragraphs stand, and they may say something else.
    const uses = all.reduce(
      (para, property) => (property.code === 0x460b || property.code === 0x260a ? paraWith(para, property) : para),
      style.para,
    )
    const list = uses.list > 0 && uses.list < noList ? uses.list : 0
    const level = list ? lists.levelOf(list, uses.level) : undefined
    const base: DocPara = level ? { ...style.para, left: level.left, first: level.first } : style.para
    const para = all.reduce(paraWith, base)
    if (para.more) this.note('looks of paragraphs')

    const isMark = text.text.charCodeAt(mark)
    if (isMark === 0x07 && para.rowEnd) return this.row(all)
    if (para.innerRow) return
    this.line(from, mark, style)
    const heading = headingOf(style, para.outline)
    const listed = list > 0 && heading === 0 && lists.has(String(list))
    const piece = (runs: readonly Run[]): Piece => {
      const inline = runs.flatMap((run) => this.nodeOf(run, style.char))
      const plain = inline
        .map((node) => node.text ?? ' ')
        .join('')
        .trim()
      if (plain && (heading > 0 || !this.near)) this.near = plain.slice(0, heading > 0 ? 60 : 40)
      return {
        is: 'paragraph',
        style: roleOf(style.name),
        align: para.align,
        named: namedOf(style, listed, this.is === 'edge'),
        look: lookBeside(para, listed ? base : style.para),
        level: heading,
        inline,
        list: listed ? { number: String(list), level: Math.min(uses.level, deepestList - 1) } : null,
      }
    }
    this.put(piece, para, isMark === 0x07 || para.innerCell)
    if (isMark === 0x07) {
      this.nested = false
      this.flow.endCell()
    } else if (para.depth > 1 && !this.nested) {
      this.note('tables inside tables (their text stays)')
      this.nested = true
    }
  }

  /** Puts what was read of a paragraph in its place, with the pages that begin in it. */
  private put(piece: (runs: readonly Run[]) => Piece, para: DocPara, cell: boolean): void {
    const inTable = para.inTable || cell
    const pageBreak = (): Piece => ({ is: 'block', node: nodes.page_break.create() })
    if (para.broken && this.is === 'text') {
      if (!inTable || !this.flow.inTable) this.flow.add(pageBreak(), false)
      else this.note('page breaks inside tables')
    }
    const runs: Run[] = []
    let broken = false
    for (const run of this.runs) {
      if (run !== 'page') runs.push(run)
      else if (inTable || this.is !== 'text') this.note('page breaks inside tables')
      else {
        if (runs.length) this.flow.add(piece(runs.splice(0)), false)
        this.flow.add(pageBreak(), false)
        broken = true
      }
    }
    this.runs = []
    // A paragraph that holds only a page break is the page break.
    if (runs.length || !broken) this.flow.add(piece(runs), inTable)
    for (const node of this.boxes.splice(0))
      for (const block of inTable ? linesOf(node) : [node]) this.flow.add({ is: 'block', node: block }, inTable)
  }

  private row(all: readonly Property[]): void {
    const row = all.reduce(rowWith, { header: false, left: 0, cells: [] } as DocRow)
    this.flow.endRow({ ...row, cells: row.cells.map((cell) => ({ ...cell, auto: false })) })
  }

  private *propertiesOf(stretch: Stretch): Generator<Property> {
    const { data } = this.parts.file
    for (const list of stretch.more ? [stretch.list, stretch.more] : [stretch.list])
      for (const property of propertiesIn(list)) {
        if (!inData.includes(property.code)) {
          yield property
          continue
        }
        // A long list stands in the stream of data.
        const at = property.value.u32(0)
        const size = new Numbers(data).u16(at)
        yield* propertiesIn(data.subarray(at + 2, at + 2 + size))
      }
  }

  // -- Letters -----------------------------------------------------------------------------------------

  private charAt(at: number, style: DocStyle): DocChar {
    const { letters } = this
    const all = this.parts.text.letters
    let stretch = all[letters.index]
    if (!stretch || at < stretch.from || at >= stretch.to) {
      letters.index = firstBehind(all, at)
      stretch = all[letters.index]
      if (stretch && (at < stretch.from || at >= stretch.to)) stretch = undefined
    }
    if (letters.known && letters.of === (stretch ?? null) && letters.style === style) return letters.known
    const { styles } = this.parts
    let char = stretch ? styles.said(style.char, stretch.list, style.char) : style.char
    if (stretch?.more) char = styles.said(char, stretch.more, style.char)
    this.letters = { ...letters, known: char, of: stretch ?? null, style }
    if (char.more) this.note('looks of text')
    if (char.inserted && !char.removed) this.note('tracked insertions (their text stays)')
    return char
  }

  private line(from: number, to: number, style: DocStyle): void {
    const { text } = this.parts
    for (let at = from; at < to; at++) {
      const code = text.text.charCodeAt(at)
      const char = this.charAt(at, style)
      const note = this.is === 'text' ? this.noteAt(at) : null
      // A note's number is raised, and that is no look of its own.
      if (note) this.node(keptNode(note), { ...char, script: '' })
      if (code === 0x13) this.begin()
      else if (code === 0x14) this.middle()
      else if (code === 0x15) this.ended(char)
      else if (this.fields.at(-1)?.at === 'code') this.fields.at(-1)!.code += text.text[at]
      else if (char.removed) this.gone(at, from, 'tracked removals')
      else if (char.hidden) this.gone(at, from, 'hidden parts')
      else if (code >= 0x20 && !(char.special && char.sign)) this.letter(text.text[at]!, code, char)
      else if (code === 0x08 && char.special) this.drawn(at)
      else this.sign(code, char)
    }
  }
  private gonePlace = { at: -1, feature: '' }
  /** What is not shown is told once for what stands together. */
  private gone(at: number, from: number, feature: string): void {
    const last = this.gonePlace
    if (last.at !== at - 1 || last.feature !== feature || at === from) this.note(feature)
    this.gonePlace = { at, feature }
  }

  private letter(text: string, code: number, char: DocChar): void {
    // Signs of fonts of signs stand in a place of their own.
    if (code >= 0xf020 && code <= 0xf0ff) {
      const sign = signOf(char.font ?? '', code & 0xff)
      if (sign !== ' ') this.note('symbols of a special font')
      return this.text(sign ?? '\ufffd', char)
    }
    this.text(text, char)
  }
  private text(text: string, char: DocChar): void {
    const last = this.runs.at(-1)
    const joins = this.runs.length !== this.fields.at(-1)?.runs
    if (joins && last && last !== 'page' && 'text' in last && last.char === char && last.link === this.link)
      last.text += text
    else this.runs.push({ text, char, link: this.link })
  }
  private node(node: Node, char: DocChar): void {
    this.runs.push({ node, char, link: this.link })
  }

  /** Letters that stand for something else. */
  private sign(code: number, char: DocChar): void {
    if (char.special && char.sign) {
      const font = this.parts.styles.fonts[char.sign.font] ?? ''
      const sign = signOf(font, char.sign.code & 0xff)
      if (sign !== ' ') this.note('symbols of a special font')
      return this.text(sign ?? '\ufffd', char)
    }
    switch (code) {
      case 0x09:
        return this.text('\t', char)
      case 0x0b:
        return this.node(nodes.hard_break.create(), char)
      case 0x0c:
        this.runs.push('page')
        return
      case 0x0e:
        return this.note('column breaks')
      case 0x1e:
        return this.text('\u2011', char)
      case 0x1f:
        return this.text('\u00ad', char)
      case 0x01:
        return this.picture(char)
      case 0x05:
        if (char.special) this.note('comments')
        return
      default:
    }
  }

  /** Something drawn: the words in it follow the paragraph. */
  private drawn(at: number): void {
    const inside = this.boxAt(at)
    this.note(inside.length ? 'text boxes (their text stays)' : 'drawn shapes and text boxes')
    this.boxes.push(...inside)
  }

  private picture(char: DocChar): void {
    if (char.object) this.note('embedded objects')
    if (char.picture === null) return
    const picture = pictureAt(this.parts.file.data, char.picture)
    if (!picture) return
    if (!picture.type) {
      if (!char.object) this.note('images of a type browsers cannot show')
      return
    }
    const { type, bytes, width, height } = picture
    this.node(nodes.image.create({ src: dataUrl(type, bytes), alt: storableText(picture.alt), width, height }), char)
  }

  private nodeOf(run: Run, base: DocChar): Node[] {
    const beside = marksBeside(run.char, base)
    const set = run.link === null ? beside : marks.link.create({ href: run.link }).addToSet(beside)
    if ('node' in run) return [run.node.mark(set)]
    const text = storableText(run.text)
    return text ? [documentSchema.text(text, set)] : []
  }

  // -- Fields ------------------------------------------------------------------------------------------

  private begin(): void {
    this.fields.push({ code: '', at: 'code', runs: this.runs.length, paragraph: this.paragraphs, link: this.link })
  }
  private middle(): void {
    const field = this.fields.at(-1)
    if (!field || field.at === 'result') return
    field.at = 'result'
    field.runs = this.runs.length
    field.paragraph = this.paragraphs
    if (!isLink(field.code)) return
    const href = addressOf(field.code)
    if (href) this.link = href
  }
  private ended(char: DocChar): void {
    const field = this.fields.pop()
    if (!field) return
    this.link = field.link
    const code = storableText(field.code).trim()
    // What is in a field that only gives another its code is that one's.
    const outer = this.fields.at(-1)
    if (outer?.at === 'code') return
    if (field.at === 'code') {
      if (this.is === 'edge' && fieldOf(code)) this.node(keptNode(keptField(code, '')), char)
      return
    }
    if (isLink(code) || this.is === 'note') return
    const result = field.paragraph === this.paragraphs ? this.runs.slice(field.runs) : null
    const words = result?.map((run) => (run !== 'page' && 'text' in run ? storableText(run.text) : null))
    const said = words?.every((one) => one !== null) ? words.join('') : null
    if (!result || !isOneThing(code, said, this.is === 'edge')) {
      if (code) this.note('fields (their last result stays)')
      return
    }
    const first = result[0]
    this.runs.length = field.runs
    this.node(keptNode(keptField(code, said, this.is === 'edge')), first && first !== 'page' ? first.char : char)
  }
}

/** Blocks that a cell can hold: of a table its lines. */
function linesOf(node: Node): readonly Node[] {
  if (node.type !== nodes.table) return [node]
  const lines: Node[] = []
  node.descendants((inner) => {
    if (inner.isTextblock) lines.push(inner)
    return !inner.isTextblock
  })
  return lines
}

function stretchAt<T extends Stretch>(all: readonly T[], at: number): T | undefined {
  const found = all[firstBehind(all, at)]
  return found && found.from <= at ? found : undefined
}
