// What the cells of a workbook share in the binary format: fonts, colours, formats, texts, and what formulas name.
import type { DefinedName } from '../../calc/source'
import type { BorderSide, CellLook } from '../../content/looks'
import type { CellStyle, Workbook } from '../../content/workbook'
import { kindOfLine, usualIndexed } from '../xlsx/style-sheet'
import { formulaTokens, type LinkNumbers, NotWritten } from './formula-tokens'
import { isOfAddIn } from './functions'
import { type BinaryFont, lineKinds } from './looks'
import { long, record, short, written } from './records'
import { textBytes, textsAsRecords } from './strings'

export const usualFont: BinaryFont = {
  name: 'Atkinson Hyperlegible Next',
  height: 220,
  bold: false,
  italic: false,
  underline: false,
  strike: false,
  color: 0x7fff,
}
const automatic = { text: 0x7fff, line: 0x40 }
/** Formats of cells begin behind those of styles. */
const usualFormat = 15
/** The most formats that a file can have (§2.4.353). */
const mostFormats = 4000

/** Fonts, number formats, colours and the formats of cells. */
export class FormatTable {
  private readonly fonts: string[] = []
  private readonly fontRecords: Uint8Array[] = []
  private readonly numberFormats: string[] = []
  private readonly formats: Uint8Array[] = []
  private readonly known = new Map<string, number>()
  private readonly seen = new Map<CellStyle | undefined, Map<CellLook | undefined, number>>()
  private readonly colors = [...usualIndexed]
  private readonly numbers = new Map<string, number>()

  /** @param used colours, the most used ones first */
  constructor(
    private readonly usual: BinaryFont,
    used: readonly string[],
  ) {
    // The eight first ones are fixed, and stand among the others as well.
    const taken = new Set<number>()
    const left: string[] = []
    for (const color of used) {
      const at = this.colors.indexOf(color, 8)
      if (at >= 0) {
        this.numbers.set(color, at)
        taken.add(at)
      } else left.push(color)
    }
    const free = Array.from({ length: 56 }, (_, index) => 63 - index).filter((at) => !taken.has(at))
    for (const color of left) {
      const at = free.shift()
      if (at === undefined) break
      this.colors[at] = color
      this.numbers.set(color, at)
    }
    // A font may stand under four numbers, because there is none of number 4.
    for (let count = 0; count < 4; count++) this.fontRecords.push(this.fontRecord(usual))
    this.fonts.push(JSON.stringify(usual))
  }

  private color(color: string): number {
    const known = this.numbers.get(color)
    if (known !== undefined) return known
    const nearest = nearestColor(this.colors, color)
    this.numbers.set(color, nearest)
    return nearest
  }
  private fontRecord(font: BinaryFont): Uint8Array {
    return written(record.font, [
      ...short(font.height),
      ...short((font.bold ? 1 : 0) | (font.italic ? 2 : 0) | (font.underline ? 4 : 0) | (font.strike ? 8 : 0)),
      ...short(font.color),
      ...short(font.bold ? 700 : 400),
      0,
      0,
      font.underline ? 1 : 0,
      0,
      0,
      0,
      ...textBytes(font.name.slice(0, 31), 1),
    ])
  }
  private font(style: CellStyle, look: CellLook): number {
    const font: BinaryFont = {
      name: look.font ?? this.usual.name,
      height: look.size === undefined ? this.usual.height : Math.round(look.size * 20),
      bold: !!style.bold,
      italic: !!style.italic,
      underline: !!style.underline,
      strike: !!style.strike,
      color: style.color ? this.color(style.color) : automatic.text,
    }
    const key = JSON.stringify({ ...font, ...(font.color === automatic.text && { color: this.usual.color }) })
    let at = this.fonts.indexOf(key)
    if (at < 0) {
      at = this.fonts.push(key) - 1
      this.fontRecords.push(this.fontRecord(font))
    }
    return at === 0 ? 0 : at + 4
  }

  /** The number of a format; the usual one where there is no room for another. */
  indexOf(style: CellStyle | undefined, look: CellLook | undefined): number {
    if (!style && !look) return usualFormat
    // Cells of one look share their objects.
    const ofStyle = this.seen.get(style) ?? new Map<CellLook | undefined, number>()
    this.seen.set(style, ofStyle)
    const seen = ofStyle.get(look)
    if (seen !== undefined) return seen
    const index = this.made(style, look)
    ofStyle.set(look, index)
    return index
  }
  private made(style: CellStyle | undefined, look: CellLook | undefined): number {
    const key = JSON.stringify([style, look])
    const known = this.known.get(key)
    if (known !== undefined) return known
    if (this.formats.length >= mostFormats - 20) return usualFormat
    const of = style ?? {}
    const seen = look ?? {}
    let number = 0
    if (of.format !== undefined) {
      let at = this.numberFormats.indexOf(of.format)
      if (at < 0) at = this.numberFormats.push(of.format) - 1
      number = 164 + at
    }
    this.formats.push(
      written(record.format, [
        ...short(this.font(of, seen)),
        ...short(number),
        ...short(1),
        ({ left: 1, center: 2, right: 3 }[of.align as string] ?? 0) |
          (of.wrap ? 8 : 0) |
          ({ top: 0, middle: 0x10, bottom: 0x20 }[seen.vertical as string] ?? 0x20),
        0,
        0,
        0xf8,
        ...this.frame(seen, of.fill),
      ]),
    )
    const index = usualFormat + this.formats.length
    this.known.set(key, index)
    return index
  }
  private frame({ left, right, top, bottom }: CellLook, fill: string | undefined): number[] {
    const kind = (side: BorderSide | undefined) => (side ? lineKinds.indexOf(kindOfLine(side)) : 0)
    const color = (side: BorderSide | undefined) =>
      side ? (side.color === null ? automatic.line : this.color(side.color)) : 0
    const lines =
      kind(left) |
      (kind(right) << 4) |
      (kind(top) << 8) |
      (kind(bottom) << 12) |
      (color(left) << 16) |
      (color(right) << 23)
    const more = color(top) | (color(bottom) << 7) | ((fill ? 1 : 0) << 26)
    return [...long(lines >>> 0), ...long(more >>> 0), ...short((fill ? this.color(fill) : 0x40) | (0x41 << 7))]
  }

  records(): Uint8Array[] {
    const plain = [0x20, 0, 0, 0xf4, ...long(0), ...long(0), ...short(0x20c0)]
    return [
      ...this.fontRecords,
      ...this.numberFormats.map((code, at) =>
        written(record.numberFormat, [...short(164 + at), ...textBytes(code.slice(0, 255), 2)]),
      ),
      ...Array.from({ length: usualFormat }, () =>
        written(record.format, [...short(0), ...short(0), ...short(0xfff5), ...plain]),
      ),
      written(record.format, [...short(0), ...short(0), ...short(1), ...plain]),
      ...this.formats,
      // The usual style.
      written(0x293, [0, 0x80, 0, 0xff]),
      written(record.palette, [
        ...short(56),
        ...this.colors
          .slice(8)
          .flatMap((color) => [...[1, 3, 5].map((at) => Number.parseInt(color.slice(at, at + 2), 16)), 0]),
      ]),
    ]
  }
}

/** The number of the colour that is most like one. */
export function nearestColor(colors: readonly string[], color: string): number {
  const parts = (one: string) => [1, 3, 5].map((at) => Number.parseInt(one.slice(at, at + 2), 16))
  const wanted = parts(color)
  const distance = (one: string) => parts(one).reduce((sum, part, at) => sum + (part - wanted[at]!) ** 2, 0)
  let best = 8
  for (let at = 9; at < 64; at++) if (distance(colors[at]!) < distance(colors[best]!)) best = at
  return best
}

/** The colours that a workbook uses, the most used ones first. */
export function colorsUsed(workbook: Workbook, looks: readonly { cells: ReadonlyMap<number, CellLook> }[]): string[] {
  const counts = new Map<string, number>()
  const count = (color: string | null | undefined) => {
    if (color) counts.set(color, (counts.get(color) ?? 0) + 1)
  }
  for (const { rows } of workbook.sheets)
    for (const row of rows)
      for (const cell of row ?? []) {
        count(cell?.style?.color)
        count(cell?.style?.fill)
      }
  for (const { cells } of looks)
    for (const { left, right, top, bottom } of cells.values())
      for (const side of [left, right, top, bottom]) count(side?.color)
  return [...counts].sort(([, a], [, b]) => b - a).map(([color]) => color)
}

/** The texts of all cells, each once. */
export class TextTable {
  private readonly numbers = new Map<string, number>()
  private uses = 0
  indexOf(text: string): number {
    this.uses++
    let number = this.numbers.get(text)
    if (number === undefined) {
      number = this.numbers.size
      this.numbers.set(text, number)
    }
    return number
  }
  records(): Uint8Array[] {
    const [first, ...others] = textsAsRecords([...this.numbers.keys()], 8224 - 8)
    const counts = [...long(this.uses), ...long(this.numbers.size)]
    return [written(record.strings, [...counts, ...first!]), ...others.map((data) => written(record.goesOn, data))]
  }
}

/** What formulas name: sheets, names, and functions that have no number. */
export class LinkTable implements LinkNumbers {
  private readonly named: { first: number; last: number }[] = []
  private readonly names: { name: string; sheet: number; data: Uint8Array | null }[] = []
  private readonly addIn: string[] = []
  /** Names that the format has no tokens for. */
  readonly left: string[] = []

  constructor(
    private readonly sheetNames: readonly string[],
    names: readonly DefinedName[],
  ) {
    // Before any of them is written, because one may stand for another.
    for (const { name, sheet } of names) this.names.push({ name, sheet: sheet === null ? 0 : sheet + 1, data: null })
    for (const [index, { name, formula, sheet }] of names.entries()) {
      try {
        const { tokens, more } = formulaTokens(formula, sheet === null ? '' : (sheetNames[sheet] ?? ''), this, 'R')
        this.names[index]!.data = nameData(name, sheet === null ? 0 : sheet + 1, 0, tokens, more)
      } catch (error) {
        if (!(error instanceof NotWritten)) throw error
        this.left.push(name)
        this.names[index]!.data = nameData(name, sheet === null ? 0 : sheet + 1, 0, Uint8Array.of(0x1c, 0x17), none)
      }
    }
  }
  private number(first: number, last: number): number {
    const at = this.named.findIndex((one) => one.first === first && one.last === last)
    return at >= 0 ? at : this.named.push({ first, last }) - 1
  }
  sheets(first: string, last: string): number | undefined {
    const index = (name: string) => this.sheetNames.findIndex((one) => one.toLowerCase() === name.toLowerCase())
    const [from, to] = [index(first), index(last)]
    return from < 0 || to < 0 ? undefined : this.number(from, to)
  }
  name(name: string, sheet: string | null): number | undefined {
    const wanted = name.toLowerCase()
    const home = this.sheetNames.findIndex((one) => one.toLowerCase() === sheet?.toLowerCase()) + 1
    const own = this.names.findIndex((one) => one.name.toLowerCase() === wanted && one.sheet === home && home > 0)
    const common = this.names.findIndex((one) => one.name.toLowerCase() === wanted && one.sheet === 0)
    const found = own >= 0 ? own : common
    return found < 0 ? undefined : found + 1
  }
  functionName(name: string): { sheets: number; name: number } | { name: number } {
    if (isOfAddIn(name)) {
      let at = this.addIn.indexOf(name)
      if (at < 0) at = this.addIn.push(name) - 1
      return { sheets: this.number(-2, -2), name: at + 1 }
    }
    const at = this.names.findIndex((one) => one.name.toLowerCase() === name.toLowerCase() && one.sheet === 0)
    if (at >= 0) return { name: at + 1 }
    // A name that stands for nothing: whoever knows the function knows it by that.
    return {
      name: this.names.push({ name, sheet: 0, data: nameData(name, 0, 0x0b, Uint8Array.of(0x1c, 0x1d), none) }),
    }
  }

  records(): Uint8Array[] {
    if (!this.named.length && !this.names.length) return []
    const own = written(record.supBook, [...short(this.sheetNames.length), 0x01, 0x04])
    const functions = this.addIn.length
      ? [
          written(record.supBook, [1, 0, 0x01, 0x3a]),
          ...this.addIn.map((name) =>
            written(record.externName, [0, 0, 0, 0, 0, 0, ...textBytes(name, 1), 2, 0, 0x1c, 0x17]),
          ),
        ]
      : []
    return [
      own,
      ...functions,
      written(record.externSheet, [
        ...short(this.named.length),
        ...this.named.flatMap(({ first, last }) => [...short(first === -2 ? 1 : 0), ...short(first), ...short(last)]),
      ]),
      ...this.names.map(({ data }) => written(record.name, data!)),
    ]
  }
}
const none = new Uint8Array(0)
export function nameData(name: string, sheet: number, flags: number, tokens: Uint8Array, more: Uint8Array): Uint8Array {
  const [count, ...letters] = textBytes(name.slice(0, 255), 1) as [number, ...number[]]
  return Uint8Array.from([
    ...short(flags),
    0,
    count,
    ...short(tokens.length),
    ...short(0),
    ...short(sheet),
    0,
    0,
    0,
    0,
    ...letters,
    ...tokens,
    ...more,
  ])
}
