// Texts of Rich Text Format 1.9.1 as documents, each letter with where it stands, so that what nobody changes stays.
import type { Node } from 'prosemirror-model'
import { deepestList, documentSchema } from '../../content/document'
import { type EdgeName, edgeKey, inOrder, type PageEdge, storyJSON } from '../../content/edges'
import { fieldOf } from '../../content/fields'
import { say } from '../../words/said'
import { Assembly } from '../docx/assemble'
import { keptField } from '../docx/fields'
import { keptNode } from '../docx/kept'
import { mostParagraphs } from '../docx/reader'
import type { Piece } from '../docx/source'
import { dataUrl } from '../docx/write'
import { addressOf, isLink, isOneThing } from '../flat/fields'
import { Flow } from '../flat/flow'
import { isDoubled, leadsTwo, letterOf, letterOfTwo, signOf } from '../flat/letters'
import { lookBeside } from '../flat/looks'
import { keptNote, linesRead } from '../flat/notes'
import { roleOf } from '../flat/roles'
import { DamagedFile, type Limit, Limits } from '../refusals'
import { mostLetters } from '../text/read'
import { type PageWords, pageOf, pageWord } from './page'
import { readPicture } from './pictures'
import {
  type Bordered,
  borderedBy,
  borderWith,
  type CharState,
  charWith,
  looksOfParagraphs,
  looksOfText,
  newBorder,
  type ParaState,
  paraWith,
  plainPara,
} from './properties'
import {
  baseOf,
  flatPara,
  headingOf,
  inlineOf,
  type LineSource,
  Looks,
  namedStyle,
  newRow,
  pageBreak,
  type Run,
  type Story,
  shapeOf,
} from './story'
import { type ListLevel, Tables } from './tables'
import { Scanner, type Token } from './tokens'
import { letterWords, Words } from './words'

/** What a reader finds in a place that the model has no place for. */
export interface Noted {
  feature: string
  near: string
  from: number
}
export interface EdgeSource {
  name: EdgeName
  from: number
  to: number
}
export interface RtfSource {
  bytes: Uint8Array
  tables: Tables
  /** By the nodes of the document: paragraphs, and the ends of tables and page breaks that stand for themselves. */
  lines: ReadonlyMap<Node, LineSource>
  ends: ReadonlyMap<Node, { to: number; depth: number }>
  edges: readonly EdgeSource[]
  page: PageWords
  /** Where its text begins. */
  begin: number
  noted: readonly Noted[]
}
export interface ReadRtf {
  doc: Node
  limits: Limit[]
  source: RtfSource
}

interface State {
  char: CharState
  para: ParaState
  /** So many letters follow a letter that is given by its number, for programs that do not know that. */
  unicode: number
  link: string | null
  story: Story | null
}
type Group = 'read' | 'skipped'

const { nodes } = documentSchema
/** Groups in groups, more than any program writes. */
const deepest = 400
const damaged = () => new DamagedFile(say('formats.this-file-is-damaged-its-parts'))

/** @throws DamagedFile */
export const readRtf = (bytes: Uint8Array): ReadRtf => new Reader(bytes).read()

const edgeNames: Readonly<Record<string, EdgeName>> = {
  header: { edge: 'head', on: 'all' },
  headerr: { edge: 'head', on: 'all' },
  headerl: { edge: 'head', on: 'even' },
  headerf: { edge: 'head', on: 'first' },
  footer: { edge: 'foot', on: 'all' },
  footerr: { edge: 'foot', on: 'all' },
  footerl: { edge: 'foot', on: 'even' },
  footerf: { edge: 'foot', on: 'first' },
}
/** Groups that say nothing that is shown, or say it a second time. */
const passedOver =
  /^(?:info|generator|listtext|pntext|pnseclvl|nonshppict|nonesttables|filetbl|revtbl|rsidtbl|themedata|colorschememapping|latentstyles|datastore|xmlnstbl|mmathPr|userprops|template|fldtype|datafield|objdata|objclass|objname|blipuid|picprop|bkmkend|atrfstart|atrfend|atnid|atnauthor|atntime|atndate|atnref|atnparent|atnicn|ftnsep|ftnsepc|ftncn|aftnsep|aftnsepc|aftncn|xe|tc|rxe|txe|shprslt|nesttableprops|panose|falt|fontemb|wgrffmtfilter|protusertbl|upr|ud|docvar|pgptbl|background)$/
/** Groups that are something that the model has no place for. */
const unread: Readonly<Record<string, string>> = {
  annotation: 'comments',
  bkmkstart: 'bookmarks',
  do: 'drawn shapes and text boxes',
  mmath: 'equations',
}

class Reader {
  private readonly scanner: Scanner
  private readonly tables = new Tables()
  private readonly noted: Noted[] = []
  private readonly looks = new Looks(this.tables)
  private readonly assembly: Assembly
  private readonly sourceOf = new Map<Piece, LineSource>()
  private readonly lines = new Map<Node, LineSource>()
  private readonly ends = new Map<Node, { to: number; depth: number }>()
  private readonly older = new Map<string, ListLevel>()
  private readonly edges: (EdgeSource & { json: unknown })[] = []
  private readonly page: PageWords = { words: [], titled: null, facing: null, section: null }
  private depth = 0
  private sections = 0
  private near = ''
  private begin = -1
  /** Where the group begins that is open in that of the whole. */
  private topGroup = 0
  private bordered: Bordered | undefined
  private paragraphs = 0
  private total = 0
  /** A letter whose second byte is still to come. */
  private lead: { byte: number; from: number } | null = null

  constructor(private readonly bytes: Uint8Array) {
    this.scanner = new Scanner(bytes)
    const numbering = this.tables.numbering((name) => this.older.get(name))
    this.assembly = new Assembly(
      numbering,
      () => this.note('lists numbered in a way of their own', this.scanner.at),
      true,
      (piece, node) => {
        const source = this.sourceOf.get(piece)
        if (source) this.lines.set(node, source)
      },
    )
  }

  private note(feature: string, from: number): void {
    this.noted.push({ feature, near: this.near, from })
  }

  read(): ReadRtf {
    const { scanner } = this
    const open = scanner.next()
    const first = scanner.next()
    const story = this.newStory('text')
    const state: State = { char: this.tables.plainChar, para: plainPara, unicode: 1, link: null, story }
    const whole = first.is === 'word' && first.name === 'rtf'
    // Some programs hand out paragraphs without what should stand around them.
    if (open.is !== 'open' || first.is !== 'word' || !/^(?:rtf|pard)$/.test(first.name)) throw damaged()
    if (whole) this.depth = 1
    else scanner.at = open.from
    if ((this.content(state) === 'end') === whole) throw damaged()
    if (story.runs.length) this.endLine(state, story, this.scanner.at - 1)
    const content = story.flow.end()
    if (this.begin < 0) this.begin = this.scanner.at - 1
    const edges = this.shownEdges()
    const doc = nodes.doc.create(
      {
        page: pageOf(this.page),
        edges: inOrder(edges.map(({ name, json }): PageEdge => ({ ...name, json }))),
      },
      content,
    )
    doc.check()
    const limits = new Limits()
    for (const { feature, near } of this.noted) limits.add(feature, near)
    return {
      doc,
      limits: limits.list(),
      source: {
        bytes: this.bytes,
        tables: this.tables,
        lines: this.lines,
        ends: this.ends,
        edges,
        page: this.page,
        begin: this.begin,
        noted: this.noted,
      },
    }
  }

  /** Those that a page has: of a first page only where it is one of its own. */
  private shownEdges() {
    const last = new Map<string, EdgeSource & { json: unknown }>()
    for (const edge of this.edges) {
      if (edge.name.on === 'first' && !this.page.titled) continue
      if (edge.name.on === 'even' && !this.page.facing) continue
      last.set(edgeKey(edge.name), edge)
    }
    return [...last.values()]
  }

  private newStory(is: Story['is']): Story {
    const story: Story = {
      is,
      flow: new Flow(
        (pieces) => this.assembly.nest(pieces),
        (table) => this.ends.set(table, { to: story.rowEnd, depth: this.depth }),
      ),
      runs: [],
      row: newRow(),
      rowEnd: 0,
      paragraphs: 0,
      lineDepth: 0,
      nested: false,
    }
    return story
  }

  // -- Groups ------------------------------------------------------------------------------------------

  /** Reads what is in an open group, up to its end. */
  private content(state: State, firstToken?: Token): 'close' | 'end' {
    let token = firstToken ?? this.scanner.next()
    let skip = 0
    for (;;) {
      switch (token.is) {
        case 'end':
          return 'end'
        case 'close':
          this.depth--
          return 'close'
        case 'open':
          skip = 0
          if (this.group(state) === 'end') return 'end'
          break
        case 'byte':
          if (skip > 0) {
            skip--
            this.extend(state, token.to)
          } else this.byte(state, token.byte, token.from, token.to)
          break
        case 'text': {
          const passed = Math.min(skip, token.to - token.from)
          skip -= passed
          if (passed) this.extend(state, token.from + passed)
          this.letters(state, token.from + passed, token.to)
          break
        }
        case 'word':
          if (skip > 0) {
            skip--
            this.extend(state, token.to)
          } else if (token.name === 'u' && token.value !== null) {
            this.put(state, String.fromCharCode((token.value + 65_536) % 65_536), token.from, token.to)
            skip = state.unicode
          } else this.word(state, token)
      }
      token = this.scanner.next()
    }
  }

  private group(parent: State): 'close' | 'end' {
    if (++this.depth > deepest) throw damaged()
    if (this.depth === 2) this.topGroup = this.scanner.at - 1
    const state = { ...parent }
    let token = this.scanner.next()
    const from = token.from
    const starred = token.is === 'word' && token.name === '*'
    if (starred) token = this.scanner.next()
    if (token.is !== 'word') return this.content(state, token)
    const handled = this.destination(state, parent, token.name, token, from)
    if (handled === 'read') {
      this.depth--
      return 'close'
    }
    if (handled === 'skipped' || (starred && !this.known(token.name))) {
      this.scanner.restOfGroup()
      this.depth--
      return 'close'
    }
    return this.content(state, token)
  }
  /** Groups that may be passed over, and whose content is of the text all the same. */
  private known(name: string): boolean {
    return /^(?:shppict|cs|ts|ulc)$/.test(name)
  }

  /** @returns 'read' when the group has been read to its end, null when it is like the text around it */
  private destination(state: State, parent: State, name: string, token: Token, from: number): Group | null {
    const { scanner, tables } = this
    switch (name) {
      case 'fonttbl':
        tables.readFonts(scanner)
        return 'read'
      case 'colortbl':
        tables.readColors(scanner)
        return 'read'
      case 'stylesheet':
        tables.readStyles(scanner)
        return 'read'
      case 'listtable':
        tables.readLists(scanner)
        return 'read'
      case 'listoverridetable':
        tables.readOverrides(scanner)
        return 'read'
      case 'pn':
        this.olderList(parent)
        return 'read'
      case 'field':
        this.field(state, token.from)
        return 'read'
      case 'footnote':
        this.noteGroup(state, parent)
        return 'read'
      case 'pict':
        this.picture(parent, from - 1)
        return 'read'
      case 'shp':
      case 'shpgrp':
        this.shape(parent, from - 1)
        return 'read'
      case 'object':
        this.note('embedded objects', from)
        return null
      case 'result':
        return null
      default:
    }
    const edge = edgeNames[name]
    if (edge) {
      this.edge(edge, from - 1)
      return 'read'
    }
    const feature = unread[name]
    if (feature) {
      // Marks that programs make for themselves are nobody's.
      if (name !== 'bkmkstart' || !/^_/.test(this.peek())) this.note(feature, from)
      return 'skipped'
    }
    return passedOver.test(name) || name.startsWith('pnseclvl') ? 'skipped' : null
  }
  private peek(): string {
    const at = this.scanner.at
    return String.fromCharCode(...this.bytes.subarray(at, at + 8)).trim()
  }

  // -- Letters -----------------------------------------------------------------------------------------

  private put(state: State, text: string, from: number, to: number): void {
    const { story, char } = state
    if (!story) return
    if (char.hidden) return this.note('hidden parts', from)
    if (char.removed) return this.note('tracked removals', from)
    if (story.is === 'text') this.starts(from)
    this.count(text.length)
    const spans: number[] = []
    for (let unit = 0; unit < text.length; unit++) spans.push(from, to)
    const last = story.runs.at(-1)
    if (last && 'text' in last && last.char === char && last.link === state.link) {
      last.text += text
      last.spans.push(...spans)
    } else story.runs.push({ text, char, link: state.link, spans })
  }
  private putNode(state: State, node: Node, from: number, to: number): void {
    if (!state.story || state.char.hidden || state.char.removed) return
    if (state.story.is === 'text') this.starts(from)
    state.story.runs.push({ node, char: state.char, link: state.link, spans: [from, to] })
  }
  /** What follows a letter for programs that do not know it is of the letter. */
  private extend(state: State, to: number): void {
    const last = state.story?.runs.at(-1)
    if (last && 'text' in last) last.spans[last.spans.length - 1] = to
  }
  /** Something of the text is there; the text begins before the groups that it stands in. */
  private starts(from: number): void {
    if (this.begin < 0) this.begin = this.depth > 1 ? this.topGroup : from
  }

  /** Letters as they stand, each of which is one byte. */
  private letters(state: State, from: number, to: number): void {
    const font = this.tables.fontOf(state.char.font)
    const page = font ? font.page : this.tables.page
    const { char, story } = state
    const asTheyAre = page !== null && !this.lead && !isDoubled(page) && story && !char.hidden && !char.removed
    if (!asTheyAre) {
      for (let at = from; at < to; at++) this.byte(state, this.bytes[at]!, at, at + 1)
      return
    }
    if (from === to) return
    if (story.is === 'text') this.starts(from)
    this.count(to - from)
    const last = story.runs.at(-1)
    const goesOn = last && 'text' in last && last.char === char && last.link === state.link
    const run = goesOn ? last : { text: '', char, link: state.link, spans: [] as number[] }
    if (!goesOn) story.runs.push(run)
    let text = ''
    for (let at = from; at < to; at++) {
      text += letterOf(page, this.bytes[at]!)
      run.spans.push(at, at + 1)
    }
    run.text += text
  }
  private count(letters: number): void {
    if ((this.total += letters) > mostLetters) throw new DamagedFile(say('formats.text-too-long', { n: mostLetters }))
  }

  private byte(state: State, byte: number, from: number, to: number): void {
    const font = this.tables.fontOf(state.char.font)
    if (font && font.page === null) {
      const sign = signOf(font.name, byte)
      if (sign !== ' ') this.note('symbols of a special font', from)
      return this.put(state, sign ?? '\ufffd', from, to)
    }
    const page = font?.page ?? this.tables.page
    if (this.lead) {
      const { byte: lead, from: began } = this.lead
      this.lead = null
      return this.put(state, letterOfTwo(page, lead, byte), began, to)
    }
    if (leadsTwo(page, byte)) this.lead = { byte, from }
    else this.put(state, letterOf(page, byte), from, to)
  }

  // -- Words -------------------------------------------------------------------------------------------

  private word(state: State, token: Token & { is: 'word' }): void {
    const { name, value, from, to } = token
    const letter = letterWords[name]
    if (letter !== undefined) return this.put(state, letter, from, to)
    if (this.ofBorder(state, name, value)) return
    const para = paraWith(state.para, name, value)
    if (para) {
      if (name === 'pard') this.bordered = undefined
      if (state.story?.is === 'text') this.starts(from)
      state.para = para
      return
    }
    const char = charWith(state.char, name, value, this.tables.defaultFont)
    if (char) {
      state.char = char
      return
    }
    if (this.ofRow(state, name, value, to)) return
    if (pageWord(this.page, token, this.sections)) return
    switch (name) {
      case 'uc':
        state.unicode = Math.min(40, Math.max(0, value ?? 1))
        return
      case 'ansicpg':
        this.tables.page = value ?? 1252
        return
      case 'mac':
        this.tables.page = 10000
        return
      case 'pc':
        this.tables.page = 437
        return
      case 'pca':
        this.tables.page = 850
        return
      case 'deff':
        this.tables.defaultFont = value ?? 0
        state.char = this.tables.plainChar
        return
      case 'par':
        return this.endLine(state, state.story, to)
      case 'sect':
        if (state.story?.runs.length) this.endLine(state, state.story, to)
        if (this.sections++ === 0) this.note('sections with a page layout of their own', from)
        return
      case 'line':
      case 'lbr':
        return this.putNode(state, nodes.hard_break.create(), from, to)
      case 'page':
        if (state.story?.is === 'text') this.starts(from)
        state.story?.runs.push({ page: to })
        return
      case 'column':
        return this.note('column breaks', from)
      case 'cell':
      case 'nestcell':
        return this.endCell(state, to, name === 'nestcell')
      case 'row':
        return this.endRow(state, to)
      case 'chpgn':
        return this.putField(state, 'PAGE', '', from, to)
      case 'chdate':
        return this.putField(state, 'DATE', '', from, to)
      case 'revised':
        return this.note('tracked insertions (their text stays)', from)
      default:
        if (looksOfText.test(name) && value !== 0) this.note('looks of text', from)
        else if (looksOfParagraphs.test(name) && value !== 0) this.note('looks of paragraphs', from)
    }
  }

  private ofBorder(state: State, name: string, value: number | null): boolean {
    if (name in borderedBy) {
      this.bordered = borderedBy[name]!
      if (name === 'chbrdr') this.note('looks of text', this.scanner.at)
      if (this.bordered) {
        const borders = { ...state.para.borders }
        for (const side of this.bordered) borders[side] = newBorder
        state.para = { ...state.para, borders }
      }
      return true
    }
    if (this.bordered === undefined || !name.startsWith('br')) return false
    const sides = this.bordered ?? []
    const borders = { ...state.para.borders }
    let known = this.bordered === null && name.startsWith('brdr')
    for (const side of sides) {
      const border = borderWith(borders[side] ?? newBorder, name, value)
      if (border === undefined) return false
      known = true
      if (border) borders[side] = border
      else delete borders[side]
    }
    if (sides.length) state.para = { ...state.para, borders }
    return known
  }

  private ofRow({ story }: State, name: string, value: number | null, to: number): boolean {
    if (!story) return false
    const { row } = story
    switch (name) {
      case 'trowd':
        if (story.is === 'text') this.starts(to - 6)
        story.row = newRow()
        return true
      case 'trleft':
        row.left = value ?? 0
        return true
      case 'trhdr':
        row.header = true
        return true
      case 'clvmgf':
        row.next.down = 'first'
        return true
      case 'clvmrg':
        row.next.down = 'over'
        return true
      case 'clmgf':
        row.next.along = 'first'
        return true
      case 'clmrg':
        row.next.along = 'over'
        return true
      case 'clftsWidth':
        row.next.auto = (value ?? 0) === 1
        return true
      case 'cellx':
        row.cells.push({ right: value ?? 0, ...row.next })
        row.next = { down: 'no', along: 'no', auto: false }
        return true
      default:
        return false
    }
  }

  // -- Lines -------------------------------------------------------------------------------------------

  private endLine(state: State, story: Story | null, to: number, cell = false): void {
    if (!story) return
    if (story.is === 'text') this.starts(to)
    if (++this.paragraphs > mostParagraphs)
      throw new DamagedFile(say('formats.it-has-too-many-paragraphs', { most: mostParagraphs.toLocaleString('en') }))
    story.paragraphs++
    story.lineDepth = this.depth
    const { para } = state
    const inTable = para.inTable || cell || (story.flow.inTable && story.nested)
    const style = this.tables.styleOf(para.style)
    const heading = headingOf(style, para)
    const number = para.older ? `older ${para.older}` : para.list ? String(para.list) : ''
    const listed = number !== '' && heading === 0 && this.numbered(number)
    const base = para.older ? { ...style.para, left: para.left, first: para.first } : baseOf(style, para, this.tables)
    const paragraph = (runs: readonly Run[], end: number): Piece => {
      const { inline, spans, words } = inlineOf(runs, style.char, this.looks)
      const plain = words.trim()
      if (plain && (heading > 0 || !this.near)) this.near = plain.slice(0, heading > 0 ? 60 : 40)
      const piece: Piece = {
        is: 'paragraph',
        style: roleOf(style.name),
        align: para.align,
        named: namedStyle(style, heading, listed, story.is === 'edge'),
        look: lookBeside(flatPara(para, this.tables), flatPara(listed ? base : style.para, this.tables)),
        level: heading,
        inline,
        list: listed ? { number, level: Math.min(para.level, deepestList - 1) } : null,
      }
      this.sourceOf.set(piece, { to: end, depth: this.depth, spans, para, style })
      return piece
    }
    const runs: Run[] = []
    const top = !inTable && story.is === 'text'
    let broken: Node | null = null
    if (para.broken && story.is === 'text') {
      if (!inTable || !story.flow.inTable) story.flow.add(pageBreak(), false)
      else this.note('page breaks inside tables', to)
    }
    for (const run of story.runs) {
      if (!('page' in run)) runs.push(run)
      else if (!top) this.note('page breaks inside tables', run.page)
      else {
        if (runs.length) story.flow.add(paragraph(runs.splice(0), run.page), false)
        const piece = pageBreak() as Piece & { is: 'block' }
        this.ends.set(piece.node, { to: run.page, depth: this.depth })
        story.flow.add(piece, false)
        broken = piece.node
      }
    }
    story.runs = []
    // A paragraph that holds only a page break is the page break.
    if (broken && !runs.length) this.ends.set(broken, { to, depth: this.depth })
    else story.flow.add(paragraph(runs, to), inTable)
  }
  private numbered(number: string): boolean {
    return number.startsWith('older') ? this.older.has(number) : !!this.tables.levelOf(Number(number), 0)
  }

  private endCell(state: State, to: number, nested: boolean): void {
    const { story } = state
    if (!story) return
    if (nested && !story.nested) this.note('tables inside tables (their text stays)', to)
    if (nested) {
      story.nested = true
      return this.endLine(state, story, to, true)
    }
    // Behind a paragraph that ended in a group of its own nothing is left for the cell.
    const isLeft = story.runs.length > 0 || this.depth >= story.lineDepth
    if (isLeft || !story.flow.cellHasContent) this.endLine(state, story, to, true)
    story.nested = false
    story.flow.endCell()
    story.rowEnd = to
  }
  private endRow({ story }: State, to: number): void {
    if (!story) return
    story.rowEnd = to
    story.flow.endRow(shapeOf(story.row))
  }

  // -- What stands in lines ------------------------------------------------------------------------------

  private putField(state: State, code: string, result: string, from: number, to: number): void {
    if (state.story?.is === 'edge') this.putNode(state, keptNode(keptField(code, result)), from, to)
    else if (result) this.put(state, result, from, to)
  }

  private field(outer: State, from: number): void {
    const { scanner } = this
    const state = { ...outer }
    let instruction = ''
    let result = false
    for (;;) {
      const token = scanner.next()
      if (token.is === 'end') throw damaged()
      if (token.is === 'close') break
      if (token.is !== 'open') {
        if (token.is === 'word') {
          const char = charWith(state.char, token.name, token.value, this.tables.defaultFont)
          if (char) state.char = char
        }
        continue
      }
      this.depth++
      let first = scanner.next()
      const inner = { ...state }
      while (first.is === 'word' && first.name === '*') first = scanner.next()
      if (first.is === 'word' && first.name === 'fldinst') {
        instruction = this.words().trim()
        this.depth--
      } else if (first.is === 'word' && first.name === 'fldrslt') {
        result = true
        this.fieldResult(inner, instruction, from)
      } else if (this.content({ ...inner, story: null }, first) === 'end') throw damaged()
    }
    if (!result && fieldOf(instruction)) this.putField(state, instruction, '', from, scanner.at)
  }

  private fieldResult(state: State, instruction: string, from: number): void {
    const { story } = state
    const before = story?.runs.length ?? 0
    const linked = isLink(instruction)
    if (linked) {
      const href = addressOf(instruction)
      if (href) state.link = href
    }
    const lines = this.paragraphs
    // Its letters are no run with those before it.
    state.char = { ...state.char }
    if (this.content(state) === 'end') throw damaged()
    if (linked || !story || story.is === 'note') return
    const read = story.runs.slice(before)
    const words = read.map((run) => ('text' in run ? run.text : null))
    const plain = this.paragraphs === lines && words.every((one) => one !== null)
    const said = plain ? words.join('') : null
    if (!isOneThing(instruction, said, story.is === 'edge')) {
      if (instruction) this.note('fields (their last result stays)', from)
      return
    }
    const first = read[0]
    story.runs.length = before
    const char = first && 'char' in first ? first.char : state.char
    story.runs.push({
      node: keptNode(keptField(instruction, said, story.is === 'edge')),
      char,
      link: state.link,
      spans: [-1, -1],
    })
  }

  /** All letters of the open group, with those of the groups in it. */
  private words(): string {
    const words = new Words(this.bytes, this.tables.page)
    this.scanner.restOfGroup((token) => words.take(token))
    return words.text
  }

  private noteGroup(state: State, parent: State): void {
    const story = this.newStory('note')
    let isEnd = false
    const inner: State = { ...state, story, link: null }
    const { near } = this
    // What a note is made of is read as a line of its own, and has no place in the text.
    const first = this.scanner.next()
    if (first.is === 'word' && first.name === 'ftnalt') isEnd = true
    if (this.content(inner, first.is === 'word' && first.name === 'ftnalt' ? undefined : first) === 'end')
      throw damaged()
    this.depth++
    if (story.runs.length) this.endLine(inner, story, this.scanner.at)
    const lines = linesRead(story.flow.end())
    this.near = near
    if (parent.story && parent.story.is !== 'note')
      parent.story.runs.push({
        node: keptNode(keptNote(isEnd ? 'endnote' : 'footnote', lines)),
        // A note's number is raised, and that is no look of its own.
        char: parent.char.script ? { ...parent.char, script: '' } : parent.char,
        link: null,
        spans: [-1, -1],
      })
  }

  private picture(state: State, from: number): void {
    const picture = readPicture(this.scanner, this.tables.page)
    if (!picture.type) {
      this.note('images of a type browsers cannot show', from)
      return
    }
    const { src, alt, width, height } = { src: dataUrl(picture.type, picture.bytes), ...picture }
    this.putNode(state, nodes.image.create({ src, alt, width, height }), from, this.scanner.at)
  }

  /** Something drawn: its picture where it is one, and otherwise what is told of. */
  private shape(state: State, from: number): void {
    let pictureAt = -1
    let words = false
    const end = this.scanner.restOfGroup((token) => {
      if (token.is !== 'word') return
      if (token.name === 'pict' && pictureAt < 0) pictureAt = token.to
      if (token.name === 'shptxt') words = true
    })
    this.note(
      pictureAt >= 0 && !words
        ? 'images with a position of their own (they stay in the line)'
        : 'drawn shapes and text boxes',
      from,
    )
    if (pictureAt < 0 || words) return
    this.scanner.at = pictureAt
    const picture = readPicture(this.scanner, this.tables.page)
    this.scanner.at = end
    if (picture.type)
      state.story?.runs.push({
        node: nodes.image.create({
          src: dataUrl(picture.type, picture.bytes),
          alt: picture.alt,
          width: picture.width,
          height: picture.height,
        }),
        char: state.char,
        link: state.link,
        spans: [-1, -1],
      })
  }

  private edge(name: EdgeName, from: number): void {
    if (this.sections > 0) {
      this.note(name.edge === 'head' ? 'page headers' : 'page footers', from)
      this.scanner.restOfGroup()
      return
    }
    const story = this.newStory('edge')
    const state: State = { char: this.tables.plainChar, para: plainPara, unicode: 1, link: null, story }
    const { near } = this
    if (this.content(state) === 'end') throw damaged()
    this.depth++
    if (story.runs.length || !story.paragraphs) this.endLine(state, story, this.scanner.at)
    this.near = near
    this.edges.push({ name, from, to: this.scanner.at, json: storyJSON(nodes.doc.create(null, story.flow.end())) })
  }

  /** A list as it was said before there were tables of them ("Bullets and Numbering", \pn). */
  private olderList(state: State): void {
    let level: ListLevel | null = null
    let [format, start, before, after]: [number, number, string, string] = [23, 1, '', '']
    let depth = 0
    let into: 'before' | 'after' | '' = ''
    this.scanner.restOfGroup((token, at) => {
      if (token.is === 'word') {
        const { name, value } = token
        if (name === 'pnlvlblt') level = { format: 23, start: 1, text: '', left: 0, first: 0 }
        else if (name === 'pnlvlbody' || name === 'pnlvl') {
          level = { format: 0, start: 1, text: '', left: 0, first: 0 }
          format = format === 23 ? 0 : format
          depth = name === 'pnlvl' ? Math.min(8, Math.max(0, (value ?? 1) - 1)) : 0
        } else if (name === 'pndec') format = 0
        else if (name === 'pnucrm') format = 1
        else if (name === 'pnlcrm') format = 2
        else if (name === 'pnucltr') format = 3
        else if (name === 'pnlcltr') format = 4
        else if (name === 'pnstart') start = value ?? 1
        else if (name === 'pntxtb') into = 'before'
        else if (name === 'pntxta') into = 'after'
      } else if (token.is === 'close') into = ''
      if (!into || at < 1) return
      const letters =
        token.is === 'byte'
          ? letterOf(this.tables.page, token.byte)
          : token.is === 'text'
            ? String.fromCharCode(...this.bytes.subarray(token.from, token.to))
            : ''
      if (into === 'before') before += letters
      else after += letters
    })
    if (!level) return
    const { format: found } = level as ListLevel
    const numbers = found === 23 ? 23 : format
    const name = `${numbers} ${depth} ${before}|${after}`
    this.older.set(`older ${name}`, {
      format: numbers,
      start,
      text: `${before}%${depth + 1}${after}`,
      left: 0,
      first: 0,
    })
    state.para = { ...state.para, older: name, level: depth }
  }
}
