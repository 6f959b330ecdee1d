// What is said in the tables of a Rich Text Format document for what is written into it: fonts, colours, styles and lists
// that it does not have yet (1.9.1, "Header").
import type { ListNumber } from '../../content/list-number'
import type { LineHeight } from '../../content/paragraph-look'
import { formatNames } from '../docx/numbering'
import { ownStylesMark } from '../docx/styles'
import { numberNames } from '../flat/roles'
import { plainWords } from './letters-out'
import { type CharState, type ParaState, plainPara } from './properties'
import type { Style, Tables } from './tables'

/** How a list of the model is written, level by level. */
export interface MadeLevel {
  ordered: boolean
  start: number
  number: ListNumber | null
}
export interface MadeList {
  /** What its paragraphs name. */
  ls: number
  levels: (MadeLevel | undefined)[]
}
export const sameLevel = (a: MadeLevel, b: MadeLevel): boolean => JSON.stringify(a) === JSON.stringify(b)

const headingSizes = [36, 30, 26, 24, 22, 22]
export const listLeft = (level: number): number => 720 * (level + 1)
export const listFirst = -360
/** Styles that this writes where a document has none of that name. */
export type Role = 'normal' | `heading ${1 | 2 | 3 | 4 | 5 | 6}` | 'Quote' | 'Quote anew' | typeof ownStylesMark

export class Made {
  private readonly fontNames: string[] = []
  private readonly colorNames: string[] = []
  private readonly styles = new Map<string, Style>()
  private readonly newStyles: Style[] = []
  private readonly lists: MadeList[] = []

  constructor(readonly tables: Tables) {}

  font(name: string): number {
    for (const [index, font] of this.tables.fonts) if (font.name === name && font.page !== null) return index
    const known = this.fontNames.indexOf(name)
    return this.firstFont + (known >= 0 ? known : this.fontNames.push(name) - 1)
  }
  private get firstFont(): number {
    return Math.max(-1, ...this.tables.fonts.keys()) + 1
  }
  color(hex: string): number {
    const there = this.tables.colors.indexOf(hex)
    if (there >= 0) return there
    const known = this.colorNames.indexOf(hex)
    return this.firstColor + (known >= 0 ? known : this.colorNames.push(hex) - 1)
  }
  private get firstColor(): number {
    // Without a table, the first colour of one is nobody's choice.
    return Math.max(1, this.tables.colors.length)
  }

  /** A style by its name, as the document has it; null for one that it does not have. */
  named(name: string): Style | null {
    for (const style of this.tables.styles.values()) if (style.name === name) return style
    return null
  }
  style(role: Role): Style {
    if (role === 'normal') return this.tables.styleOf(0)
    const known = this.styles.get(role)
    if (known) return known
    for (const style of this.tables.styles.values())
      if (style.name.toLowerCase() === role.toLowerCase()) {
        this.styles.set(role, style)
        return style
      }
    const made = this.newStyle(role)
    this.styles.set(role, made)
    this.newStyles.push(made)
    return made
  }
  private newStyle(role: Role): Style {
    const usual = this.tables.styleOf(0)
    const number = Math.max(0, ...this.tables.styles.keys()) + 1 + this.newStyles.length
    const level = /^heading (\d)$/.exec(role)?.[1]
    if (level) {
      const at = Number(level) - 1
      return {
        number,
        name: role,
        para: { ...usual.para, before: at < 2 ? 320 : 240, after: 100, outline: at },
        char: { ...usual.char, bold: true, size: headingSizes[at]! },
      }
    }
    if (role === ownStylesMark)
      return { number, name: role, para: { ...plainPara, line: { exact: 120 } }, char: usual.char }
    return {
      number,
      name: role,
      para: { ...usual.para, left: 567, right: 567 },
      char: usual.char,
    }
  }

  newList(): MadeList {
    const list: MadeList = { ls: Math.max(0, ...this.tables.overrides.keys()) + 1 + this.lists.length, levels: [] }
    this.lists.push(list)
    return list
  }

  /** What is to be put where into a document. @returns [place, text] */
  insertions(begin: number): [number, string][] {
    const { ends } = this.tables
    const found: [number, string][] = []
    // A table that is not there yet comes behind the last one.
    const behind = Math.max(...[ends.fonts, ends.colors, ends.styles].map((end) => (end === null ? -1 : end + 1)))
    const fresh = behind > 0 ? behind : begin
    const put = (end: number | null, word: string, text: string, first = '') => {
      if (text) found.push(end === null ? [fresh, `{${word}${first}${text}}\n`] : [end, text])
    }
    put(
      ends.fonts,
      '\\fonttbl',
      this.fontNames
        .map((name, at) => `{\\f${this.firstFont + at}\\fnil\\fcharset0 ${plainWords(name.replaceAll(';', ' '))};}`)
        .join(''),
    )
    put(ends.colors, '\\colortbl', this.colorNames.map(colorText).join(''), ';')
    put(ends.styles, '\\stylesheet', this.newStyles.map((style) => this.styleText(style)).join('\n'))
    const id = (list: MadeList) => 1_000_000 + list.ls
    put(ends.lists, '\\*\\listtable', this.lists.map((list) => listText(list, id(list))).join('\n'))
    put(
      ends.overrides,
      '\\*\\listoverridetable',
      this.lists.map((list) => `{\\listoverride\\listid${id(list)}\\listoverridecount0\\ls${list.ls}}`).join('\n'),
    )
    return found
  }
  private styleText(style: Style): string {
    return `{\\s${style.number}${paraWords(style.para)}${charWords(style.char, this.tables.plainChar)}\\sbasedon0 ${plainWords(style.name)};}`
  }
}

function colorText(hex: string): string {
  const part = (at: number) => Number.parseInt(hex.slice(at, at + 2), 16)
  return `\\red${part(1)}\\green${part(3)}\\blue${part(5)};`
}

export function lineWords(line: LineHeight): string {
  if ('share' in line) return line.share === 240 ? '' : `\\sl${line.share}\\slmult1`
  return 'exact' in line ? `\\sl-${line.exact}\\slmult0` : `\\sl${line.least}\\slmult0`
}
const alignWords = { center: '\\qc', right: '\\qr', justify: '\\qj' } as const
const borderWords = { single: '\\brdrs', double: '\\brdrdb', dotted: '\\brdrdot', dashed: '\\brdrdash' } as const
const sideWords = { top: '\\brdrt', left: '\\brdrl', bottom: '\\brdrb', right: '\\brdrr' } as const

/** What a paragraph is, beside one that nothing is said of, its style and its list. */
export function paraWords(para: ParaState): string {
  let words = para.align ? alignWords[para.align] : ''
  const length = (word: string, value: number) => {
    if (value) words += `\\${word}${value}`
  }
  length('sb', para.before)
  length('sa', para.after)
  words += lineWords(para.line)
  length('li', para.left)
  length('ri', para.right)
  length('fi', para.first)
  if (para.outline !== null) words += `\\outlinelevel${para.outline}`
  if (para.broken) words += '\\pagebb'
  for (const [side, border] of Object.entries(para.borders))
    words += `${sideWords[side as keyof typeof sideWords]}${borderWords[border.kind]}\\brdrw${Math.round(border.width * 2.5)}\\brsp${border.space * 20}${border.color ? `\\brdrcf${border.color}` : ''}`
  if (para.fill) words += `\\cbpat${para.fill}`
  return words
}

/** How letters look beside others. */
export function charWords(char: CharState, beside: CharState): string {
  let words = ''
  const toggle = (name: 'bold' | 'italic' | 'underline' | 'strike', on: string, off: string) => {
    if (char[name] !== beside[name]) words += char[name] ? on : off
  }
  toggle('bold', '\\b', '\\b0')
  toggle('italic', '\\i', '\\i0')
  toggle('underline', '\\ul', '\\ulnone')
  toggle('strike', '\\strike', '\\strike0')
  if (char.script !== beside.script)
    words += char.script === 'raised' ? '\\super' : char.script === 'lowered' ? '\\sub' : '\\nosupersub'
  if (char.font !== beside.font) words += `\\f${char.font}`
  if (char.size !== beside.size) words += `\\fs${char.size}`
  if (char.color !== beside.color) words += `\\cf${char.color}`
  if (char.fill !== beside.fill) words += `\\chshdng0\\chcbpat${char.fill}\\cb${char.fill}`
  return words
}

const formatNumbers = new Map(Object.entries(numberNames).map(([number, name]) => [formatNames[name], Number(number)]))
const byte = (value: number) => `\\'${value.toString(16).padStart(2, '0')}`

function listText(list: MadeList, id: number): string {
  const levels = Array.from({ length: 9 }, (_, level) => levelText(list.levels[level], level))
  return `{\\list\\listtemplateid${id}\n${levels.join('\n')}{\\listname ;}\\listid${id}}`
}
function levelText(given: MadeLevel | undefined, level: number): string {
  const { ordered, start, number } = given ?? { ordered: false, start: 1, number: null }
  const format = ordered ? (formatNumbers.get(number?.format ?? 'decimal') ?? 0) : 23
  let text = ''
  let length = 0
  const places: number[] = []
  const put = (words: string) => {
    for (const letter of words.split('')) {
      length++
      text += plainWords(letter)
    }
  }
  const place = (of: number) => {
    places.push(++length)
    text += byte(of)
  }
  if (!ordered) put('•')
  else {
    put(number?.before ?? '')
    for (let of = number?.path ? 0 : level; of <= level; of++) {
      place(of)
      if (of < level) put('.')
    }
    put(number?.after ?? '.')
  }
  return `{\\listlevel\\levelnfc${format}\\levelnfcn${format}\\leveljc0\\levelfollow0\\levelstartat${start}{\\leveltext${byte(length)}${text};}{\\levelnumbers${places.map(byte).join('')};}\\fi${listFirst}\\li${listLeft(level)}}`
}
