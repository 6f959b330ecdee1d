// What a Rich Text Format document says once before its text: fonts, colours, styles and lists (1.9.1, "Header"). Each
// table is read with where its group ends, so that more can be said there.

import { levelNumber, type Numbering } from '../docx/numbering'
import { codePageOf, letterOf, symbolCharset } from '../flat/letters'
import { numberNames } from '../flat/roles'
import { borderedBy, type CharState, charWith, type ParaState, paraWith, plainChar, plainPara } from './properties'
import type { Scanner } from './tokens'
import { Words } from './words'

export interface Font {
  name: string
  /** The code page of its letters; null for one of signs. */
  page: number | null
}
export interface Style {
  number: number
  name: string
  para: ParaState
  char: CharState
}
export interface ListLevel {
  format: number
  start: number
  /** With its numbers as `%1` and so on. */
  text: string
  left: number
  first: number
}

const semicolon = 0x3b
/** Where the group of a table ends: before its closing brace; null where there is none. */
export type TableEnd = number | null

export class Tables {
  readonly fonts = new Map<number, Font>()
  /** In hexadecimal; null for the one that is nobody's choice. */
  readonly colors: (string | null)[] = []
  readonly styles = new Map<number, Style>()
  readonly lists = new Map<number, ListLevel[]>()
  /** What a paragraph names: a list, and how its levels begin elsewhere. */
  readonly overrides = new Map<number, { list: number; starts: Map<number, number> }>()
  readonly ends: Record<'fonts' | 'colors' | 'styles' | 'lists' | 'overrides', TableEnd> = {
    fonts: null,
    colors: null,
    styles: null,
    lists: null,
    overrides: null,
  }
  defaultFont = 0
  page = 1252

  colorOf(index: number): string | null {
    return this.colors[index] ?? null
  }
  fontOf(index: number): Font | undefined {
    return this.fonts.get(index)
  }
  get plainChar(): CharState {
    return plainChar(this.defaultFont)
  }
  styleOf(number: number): Style {
    return this.styles.get(number) ?? { number, name: '', para: plainPara, char: this.plainChar }
  }

  readFonts(scanner: Scanner): void {
    let [index, charset, page]: [number | null, number, number | null] = [null, 1, null]
    let words = new Words(scanner.bytes, this.page)
    let entryDepth = 0
    const end = () => {
      const name = words.text.split(';', 1)[0]!.trim()
      if (index !== null && name && !this.fonts.has(index))
        this.fonts.set(index, {
          name,
          page: charset === symbolCharset ? null : (page ?? codePageOf(charset, this.page)),
        })
      ;[index, charset, page] = [null, 1, null]
      words = new Words(scanner.bytes, this.page)
    }
    const to = scanner.restOfGroup((token, depth) => {
      if (token.is === 'word' && token.name === 'f' && depth <= 1) {
        index = token.value ?? 0
        entryDepth = depth
      } else if (token.is === 'word' && token.name === 'fcharset' && depth === entryDepth) charset = token.value ?? 1
      else if (token.is === 'word' && token.name === 'cpg' && depth === entryDepth && token.value) page = token.value
      else if (depth === entryDepth) {
        words.take(token)
        if (words.text.includes(';')) end()
      }
    })
    end()
    this.ends.fonts ??= to - 1
  }

  readColors(scanner: Scanner): void {
    let parts: [number, number, number] | null = null
    const to = scanner.restOfGroup((token) => {
      const part = token.is === 'word' ? ['red', 'green', 'blue'].indexOf(token.name) : -1
      if (part >= 0 && token.is === 'word') {
        parts ??= [0, 0, 0]
        parts[part as 0 | 1 | 2] = Math.min(255, Math.max(0, token.value ?? 0))
      }
      if (token.is !== 'text') return
      for (const byte of scanner.bytes.subarray(token.from, token.to)) {
        if (byte !== semicolon) continue
        this.colors.push(parts && `#${parts.map((one) => one.toString(16).padStart(2, '0')).join('')}`)
        parts = null
      }
    })
    this.ends.colors ??= to - 1
  }

  readStyles(scanner: Scanner): void {
    let style: { number: number; name: string; para: ParaState; char: CharState; isParagraph: boolean } | null = null
    let words = new Words(scanner.bytes, this.page)
    let bordered = false
    const begin = () => ({ number: 0, name: '', para: plainPara, char: this.plainChar, isParagraph: true })
    const to = scanner.restOfGroup((token, depth) => {
      if (token.is === 'open' && depth === 0) {
        style = begin()
        words = new Words(scanner.bytes, this.page)
        bordered = false
      } else if (token.is === 'close' && depth === 0) {
        if (style) style.name = words.text
        if (style?.isParagraph && !this.styles.has(style.number)) {
          const { number, para, char } = style
          // Numbers of styles are of the paragraph, and not of what the style says of it.
          this.styles.set(number, {
            number,
            name: style.name.split(';', 1)[0]!.trim(),
            para: { ...para, style: 0 },
            char,
          })
        }
        style = null
      } else if (style && depth === 1) {
        if (token.is === 'word') {
          const { name, value } = token
          if (name === 's') style.number = value ?? 0
          else if (/^(?:cs|ts|ds)$/.test(name)) style.isParagraph = false
          else if (name in borderedBy) bordered = true
          else if (!(bordered && name.startsWith('brdr'))) {
            style.para = paraWith(style.para, name, value) ?? style.para
            style.char = charWith(style.char, name, value, this.defaultFont) ?? style.char
          }
        }
        words.take(token)
      }
    })
    this.ends.styles ??= to - 1
  }

  readLists(scanner: Scanner): void {
    let levels: ListLevel[] = []
    let id = 0
    let level: ListLevel | null = null
    let [textDepth, letters]: [number, number[]] = [-1, []]
    // A letter that is given by its number is followed by one for programs that do not know that.
    let skip = 0
    const to = scanner.restOfGroup((token, depth) => {
      if (token.is === 'close') {
        if (textDepth === depth + 1 && level) {
          level.text = levelText(letters, this.page)
          textDepth = -1
        }
        if (depth === 0) {
          this.lists.set(id, levels)
          ;[levels, id, level] = [[], 0, null]
        }
        return
      }
      if (token.is === 'word') {
        const { name, value } = token
        if (name === 'listlevel') {
          level = { format: 0, start: 1, text: '', left: 0, first: 0 }
          levels.push(level)
        } else if (name === 'listid' && depth === 1) id = value ?? 0
        else if (name === 'leveltext') [textDepth, letters] = [depth, []]
        else if (level && (name === 'levelnfc' || name === 'levelnfcn')) level.format = value ?? 0
        else if (level && name === 'levelstartat') level.start = value ?? 1
        else if (level && (name === 'li' || name === 'lin')) level.left = value ?? 0
        else if (level && name === 'fi') level.first = value ?? 0
        else if (textDepth === depth && name === 'u' && value !== null) {
          letters.push(((value + 65_536) % 65_536) | 0x10000)
          skip = 1
          return
        } else if (textDepth === depth && /^[\\{}]$/.test(name)) letters.push(name.charCodeAt(0))
      }
      if (textDepth !== depth) return
      if (token.is === 'byte' && !skip) letters.push(token.byte)
      else if (token.is === 'text')
        // A count of one byte says how many of them there are.
        letters.push(...scanner.bytes.subarray(token.from + skip, Math.min(token.to, token.from + 300)))
      skip = 0
    })
    this.ends.lists ??= to - 1
  }

  readOverrides(scanner: Scanner): void {
    let one: { list: number; starts: Map<number, number>; number: number; level: number; startsAnew: boolean } | null =
      null
    const to = scanner.restOfGroup((token, depth) => {
      if (token.is === 'open' && depth === 0)
        one = { list: 0, starts: new Map(), number: 0, level: -1, startsAnew: false }
      else if (token.is === 'close' && depth === 0) {
        if (one) this.overrides.set(one.number, { list: one.list, starts: one.starts })
        one = null
      } else if (one && token.is === 'word') {
        const { name, value } = token
        if (name === 'listid') one.list = value ?? 0
        else if (name === 'ls') one.number = value ?? 0
        else if (name === 'lfolevel') {
          one.level++
          one.startsAnew = false
        } else if (name === 'listoverridestartat') one.startsAnew = true
        else if (name === 'levelstartat' && one.startsAnew) one.starts.set(one.level, value ?? 1)
      }
    })
    this.ends.overrides ??= to - 1
  }

  /** A level of a list that paragraphs name. */
  levelOf(number: number, level: number): ListLevel | undefined {
    const override = this.overrides.get(number)
    const levels = override && this.lists.get(override.list)
    return levels?.[level]
  }

  numbering(older: (name: string) => ListLevel | undefined): Numbering {
    const of = (number: string, level: number) =>
      number.startsWith('older') ? older(number) : this.levelOf(Number(number), level)
    return {
      has: (number) => !!of(number, 0),
      level: (number, level) => {
        const found = of(number, level)
        const start = this.overrides.get(Number(number))?.starts.get(level) ?? found?.start ?? 1
        const format = formatOf(found)
        const ordered = format !== null
        const formats = Array.from({ length: level + 1 }, (_, at) => formatOf(of(number, at)) ?? 'decimal')
        return {
          ordered,
          start: Math.max(0, start),
          plain: true,
          written: ordered ? levelNumber(found!.text, formats) : null,
        }
      },
    }
  }
}

const noNumber = new Set([23, 255])
const formatOf = (level: ListLevel | undefined): string | null =>
  !level || noNumber.has(level.format) ? null : (numberNames[level.format] ?? 'other')

/** Letters of a level: their count first, and the places of numbers as how deep those are. */
function levelText(letters: readonly number[], page: number): string {
  const count = letters[0] ?? 0
  let text = ''
  for (const letter of letters.slice(1, 1 + count))
    text +=
      letter < 9 ? `%${letter + 1}` : letter > 0xffff ? String.fromCharCode(letter & 0xffff) : letterOf(page, letter)
  return text
}
