// What an edit adds to the first part of a workbook's stream: formats, fonts, texts, and what formulas name. Everything
// that is there keeps its number.
import { lineOf, sides, withLook } from '../../content/looks'
import type { CellStyle } from '../../content/workbook'
import { builtInFormats } from '../xlsx/number-formats'
import { kindOfLine } from '../xlsx/style-sheet'
import type { LinkNumbers } from './formula-tokens'
import { isOfAddIn } from './functions'
import type { Globals } from './globals'
import { lineKinds } from './looks'
import { type BiffRecord, mostInRecord, record, short, viewOf, written } from './records'
import { countsOf, textBytes, textsAsRecords } from './strings'
import { nameData, nearestColor } from './tables'

/** Records to be put behind others, and instead of them; null where one goes. */
export class Changes {
  readonly behind = new Map<number, Uint8Array[]>()
  readonly instead = new Map<number, Uint8Array | null>()
  /** @param index of a record; those put behind the same one stand in the order in which they came */
  putBehind(index: number, ...records: Uint8Array[]): void {
    const there = this.behind.get(index)
    if (there) there.push(...records)
    else this.behind.set(index, records)
  }
}

export class PatchTables implements LinkNumbers {
  readonly changes = new Changes()
  private readonly records: readonly BiffRecord[]
  private readonly fonts: Uint8Array[]
  private readonly formats: Uint8Array[]
  private readonly newFonts: Uint8Array[] = []
  private readonly newFormats: Uint8Array[] = []
  private readonly knownFormats = new Map<string, number>()
  private readonly numberFormats: Map<number, string>
  private readonly newNumberFormats: Uint8Array[] = []
  private readonly newTexts = new Map<string, number>()
  private readonly numbersOfTexts: Map<string, number>
  private uses = 0
  private readonly newSheets: number[] = []
  private readonly newNames: { name: string; data: Uint8Array }[] = []
  private readonly newFunctions: string[] = []
  private readonly colors: string[]
  private readonly freeColors: number[]
  private changedColors = false

  /** @param drawn whether something beside cells may use the colours of the file */
  constructor(
    private readonly globals: Globals,
    drawn: boolean,
  ) {
    this.records = globals.records
    this.fonts = this.dataOf(record.font)
    this.formats = this.dataOf(record.format)
    this.numberFormats = new Map(globals.numberFormats)
    this.numbersOfTexts = new Map(globals.texts.map((text, at) => [text, at]))
    this.colors = [...globals.colors]
    this.freeColors = drawn ? [] : this.unusedColors()
  }
  private dataOf(type: number): Uint8Array[] {
    return this.records.filter((one) => one.type === type).map(({ data }) => data)
  }
  private lastOf(...types: number[]): number {
    return this.records.findLastIndex(({ type }) => types.includes(type))
  }
  private unusedColors(): number[] {
    const used = new Set(this.globals.fonts.map(({ color }) => color))
    for (const data of this.formats) {
      const view = viewOf(data)
      const [lines, more, fill] = [view.getUint32(10, true), view.getUint32(14, true), view.getUint16(18, true)]
      for (const color of [lines >>> 16, lines >>> 23, more, more >>> 7, more >>> 14, fill, fill >>> 7])
        used.add(color & 0x7f)
    }
    return Array.from({ length: 56 }, (_, at) => 63 - at).filter((at) => !used.has(at))
  }
  private color(color: string): number {
    const at = this.colors.indexOf(color, 8)
    if (at >= 0 && at < 64) return at
    const free = this.freeColors.shift()
    if (free === undefined) return nearestColor(this.colors, color)
    this.colors[free] = color
    this.changedColors = true
    return free
  }

  styleOf(format: number): CellStyle | undefined {
    const read = this.globals.formats[format]
    return read && withLook(read.style, read.look)
  }
  /** The number of a format that looks as one of the file does, but for what is changed. */
  formatFor(own: number, before: CellStyle | undefined, after: CellStyle | undefined): number {
    const key = JSON.stringify([own, after])
    const known = this.knownFormats.get(key)
    if (known !== undefined) return known
    const from = this.formats[own] ?? this.formats[15] ?? this.formats.at(-1)!
    const data = from.slice()
    const view = viewOf(data)
    let touched = 0
    const differs = (...traits: (keyof CellStyle)[]) => traits.some((trait) => before?.[trait] !== after?.[trait])
    if (differs('bold', 'italic', 'underline', 'strike', 'color', 'font', 'size')) {
      view.setUint16(0, this.fontFor(view.getUint16(0, true), before, after), true)
      touched |= 0x08
    }
    if (differs('format')) {
      view.setUint16(2, this.numberFormat(after?.format), true)
      touched |= 0x04
    }
    if (differs('align', 'wrap')) {
      const align = differs('align') ? ({ left: 1, center: 2, right: 3 }[after?.align as string] ?? 0) : data[6]! & 7
      data[6] = (data[6]! & 0xf0) | align | (after?.wrap ? 8 : 0)
      touched |= 0x10
    }
    if (differs('vertical')) {
      const upright = { top: 0, middle: 1, bottom: 2 }[after?.vertical ?? 'bottom']
      data[6] = (data[6]! & 0x8f) | (upright << 4)
      touched |= 0x10
    }
    if (differs(...sides)) {
      this.setBorders(view, before, after)
      touched |= 0x20
    }
    if (differs('fill')) {
      const more = view.getUint32(14, true)
      view.setUint32(14, ((more & 0x03ffffff) | (after?.fill ? 1 << 26 : 0)) >>> 0, true)
      view.setUint16(18, (after?.fill ? this.color(after.fill) : 0x40) | (0x41 << 7), true)
      touched |= 0x40
    }
    data[9] = data[9]! | touched
    const same = [...this.formats, ...this.newFormats].findIndex((one) => sameBytes(one, data))
    const index = same >= 0 ? same : this.formats.length + this.newFormats.push(data) - 1
    this.knownFormats.set(key, index)
    return index
  }
  /** The lines that differ (§2.5.249): their kinds, and the numbers of their colours. */
  private setBorders(view: DataView, before: CellStyle | undefined, after: CellStyle | undefined): void {
    let [lines, more] = [view.getUint32(10, true), view.getUint32(14, true)]
    for (const [side, kindAt, colorAt] of [
      ['left', 0, 16],
      ['right', 4, 23],
      ['top', 8, 0],
      ['bottom', 12, 7],
    ] as const) {
      if (before?.[side] === after?.[side]) continue
      const line = lineOf(after?.[side])
      const kind = line ? lineKinds.indexOf(kindOfLine(line)) : 0
      const color = line ? (line.color === null ? 0x40 : this.color(line.color)) : 0
      lines = (lines & ~(15 << kindAt)) | (kind << kindAt)
      const withColor = (of: number) => (of & ~(0x7f << colorAt)) | (color << colorAt)
      if (side === 'left' || side === 'right') lines = withColor(lines)
      else more = withColor(more)
    }
    view.setUint32(10, lines >>> 0, true)
    view.setUint32(14, more >>> 0, true)
  }
  private fontFor(own: number, before: CellStyle | undefined, after: CellStyle | undefined): number {
    const from = this.fonts[own > 4 ? own - 1 : own] ?? this.fonts[0]!
    const [usual] = this.globals.fonts
    const named = before?.font !== after?.font ? (after?.font ?? usual?.name) : undefined
    // A name stands at the end, with how many letters it has and how wide they are before it.
    const data = named === undefined ? from.slice() : Uint8Array.from([...from.slice(0, 14), ...textBytes(named, 1)])
    const view = viewOf(data)
    if (before?.size !== after?.size)
      view.setUint16(0, after?.size === undefined ? (usual?.height ?? 220) : Math.round(after.size * 20), true)
    const set = (trait: 'bold' | 'italic' | 'underline' | 'strike', bit: number) => {
      if (before?.[trait] === after?.[trait]) return
      const flags = view.getUint16(2, true)
      view.setUint16(2, after?.[trait] ? flags | bit : flags & ~bit, true)
      if (trait === 'bold') view.setUint16(6, after?.bold ? 700 : 400, true)
      if (trait === 'underline') data[10] = after?.underline ? 1 : 0
    }
    set('bold', 1)
    set('italic', 2)
    set('underline', 4)
    set('strike', 8)
    if (before?.color !== after?.color) view.setUint16(4, after?.color ? this.color(after.color) : 0x7fff, true)
    const all = [...this.fonts, ...this.newFonts]
    let at = all.findIndex((one) => sameBytes(one, data))
    if (at < 0) at = this.fonts.length + this.newFonts.push(data) - 1
    return at >= 4 ? at + 1 : at
  }
  private numberFormat(code: string | undefined): number {
    if (code === undefined) return 0
    for (const [number, one] of this.numberFormats) if (one === code) return number
    for (const [number, one] of Object.entries(builtInFormats))
      if (one === code && !this.numberFormats.has(Number(number))) return Number(number)
    const number = Math.max(163, ...this.numberFormats.keys()) + 1
    this.numberFormats.set(number, code)
    this.newNumberFormats.push(written(record.numberFormat, [...short(number), ...textBytes(code.slice(0, 255), 2)]))
    return number
  }

  textNumber(text: string): number {
    this.uses++
    const known = this.numbersOfTexts.get(text)
    if (known !== undefined) return known
    let number = this.newTexts.get(text)
    if (number === undefined) {
      number = this.globals.texts.length + this.newTexts.size
      this.newTexts.set(text, number)
    }
    return number
  }

  private get sheetCount(): number {
    return this.globals.sheetsNamed.length
  }
  private ownBook(): number {
    const at = this.globals.books.findIndex(({ is }) => is === 'own')
    // One that is missing comes behind those that are there.
    return at >= 0 ? at : this.globals.books.length
  }
  private addInBook(): number {
    const at = this.globals.books.findIndex(({ is }) => is === 'add-in')
    if (at >= 0) return at
    return this.globals.books.length + (this.globals.books.some(({ is }) => is === 'own') ? 0 : 1)
  }
  private numberOf(book: number, first: number, last: number): number {
    const there = this.globals.sheetsNamed.findIndex(
      (one) => one.book === book && one.first === first && one.last === last,
    )
    if (there >= 0) return there
    for (let at = 0; at < this.newSheets.length; at += 3)
      if (this.newSheets[at] === book && this.newSheets[at + 1] === first && this.newSheets[at + 2] === last)
        return this.sheetCount + at / 3
    this.newSheets.push(book, first, last)
    return this.sheetCount + this.newSheets.length / 3 - 1
  }
  /** The names of sheets as they are now, by their places among all of them. */
  sheetNames: readonly string[] = []
  sheets(first: string, last: string): number | undefined {
    const index = (name: string) => this.sheetNames.findIndex((one) => one.toLowerCase() === name.toLowerCase())
    const [from, to] = [index(first), index(last)]
    return from < 0 || to < 0 ? undefined : this.numberOf(this.ownBook(), from, to)
  }
  name(name: string, sheet: string | null): number | undefined {
    const wanted = name.toLowerCase()
    const home = this.sheetNames.findIndex((one) => one.toLowerCase() === sheet?.toLowerCase()) + 1
    const all = this.globals.namesNumbered
    const own = all.findIndex((one) => one.name.toLowerCase() === wanted && one.sheet === home && home > 0)
    const common = all.findIndex((one) => one.name.toLowerCase() === wanted && one.sheet === 0)
    const found = own >= 0 ? own : common
    return found < 0 ? undefined : found + 1
  }
  functionName(name: string): { sheets: number; name: number } | { name: number } {
    if (isOfAddIn(name)) {
      const book = this.globals.books.find(({ is }) => is === 'add-in')
      const there = book?.names.findIndex((one) => one.toUpperCase() === name) ?? -1
      let at = there
      if (at < 0) {
        at = this.newFunctions.indexOf(name)
        if (at < 0) at = this.newFunctions.push(name) - 1
        at += book?.names.length ?? 0
      }
      return { sheets: this.numberOf(this.addInBook(), -2, -2), name: at + 1 }
    }
    const there = this.name(name, null)
    if (there !== undefined) return { name: there }
    let at = this.newNames.findIndex((one) => one.name.toLowerCase() === name.toLowerCase())
    if (at < 0)
      at = this.newNames.push({ name, data: nameData(name, 0, 0x0b, Uint8Array.of(0x1c, 0x1d), new Uint8Array(0)) }) - 1
    return { name: this.globals.namesNumbered.length + at + 1 }
  }

  /** The changes, when every cell has been written. @returns false where there is no room for them */
  finish(): boolean {
    const { changes } = this
    const fonts = this.lastOf(record.font)
    const formats = this.lastOf(record.format)
    changes.putBehind(fonts, ...this.newFonts.map((data) => written(record.font, data)))
    const numbered = this.lastOf(record.numberFormat)
    changes.putBehind(numbered < 0 ? fonts : numbered, ...this.newNumberFormats)
    changes.putBehind(formats, ...this.newFormats.map((data) => written(record.format, data)))
    if (this.formats.length + this.newFormats.length > 4000 || this.fonts.length + this.newFonts.length > 500)
      return false
    this.checked()
    if (this.changedColors) this.paint(formats)
    return this.link() && this.finishTexts()
  }
  private paint(formats: number): void {
    const data = [
      ...short(56),
      ...this.colors
        .slice(8, 64)
        .flatMap((color) => [...[1, 3, 5].map((at) => Number.parseInt(color.slice(at, at + 2), 16)), 0]),
    ]
    const there = this.lastOf(record.palette)
    if (there >= 0) this.changes.instead.set(there, written(record.palette, data))
    else this.changes.putBehind(Math.max(formats, this.lastOf(0x293)), written(record.palette, data))
  }
  /** A sum over all formats says whether what stands beside them still belongs to them (§2.4.354). */
  private checked(): void {
    const at = this.lastOf(0x87c)
    if (at < 0 || !this.newFormats.length) return
    const data = this.records[at]!.data.slice()
    const view = viewOf(data)
    view.setUint16(14, this.formats.length + this.newFormats.length, true)
    view.setUint32(16, sumOf([...this.formats, ...this.newFormats]), true)
    this.changes.instead.set(at, written(0x87c, data))
  }
  private link(): boolean {
    const { changes, globals } = this
    if (this.newNames.length) {
      const last = this.lastOf(record.name)
      const behind = last >= 0 ? last : this.lastOf(record.externSheet)
      const place = behind >= 0 ? behind : this.beforeTexts()
      // Behind what tells of a name in the same breath.
      changes.putBehind(this.endOf(place), ...this.newNames.map(({ data }) => written(record.name, data)))
    }
    if (!this.newSheets.length && !this.newFunctions.length) return true
    const before: Uint8Array[] = []
    if (!globals.books.some(({ is }) => is === 'own'))
      before.push(written(record.supBook, [...short(globals.sheets.length), 0x01, 0x04]))
    const functions = this.newFunctions.map((name) =>
      written(record.externName, [0, 0, 0, 0, 0, 0, ...textBytes(name, 1), 2, 0, 0x1c, 0x17]),
    )
    const there = globals.books.findIndex(({ is }) => is === 'add-in')
    if (functions.length && there < 0) before.push(written(record.supBook, [1, 0, 0x01, 0x3a]), ...functions)
    else if (functions.length) {
      let number = -1
      const at = this.records.findIndex(({ type }) => type === record.supBook && ++number === there)
      let last = at
      while (this.records[last + 1]?.type === record.externName) last++
      changes.putBehind(last, ...functions)
    }
    const list = this.lastOf(record.externSheet)
    const added = this.newSheets.flatMap(short)
    if (list < 0) {
      changes.behind.set(this.beforeTexts(), [
        ...before,
        written(record.externSheet, [...short(this.newSheets.length / 3), ...added]),
        ...(changes.behind.get(this.beforeTexts()) ?? []),
      ])
      return true
    }
    const { data } = this.records[list]!
    if (this.records[list + 1]?.type === record.goesOn || data.length + added.length > mostInRecord) return false
    changes.putBehind(list - 1, ...before)
    changes.instead.set(
      list,
      written(record.externSheet, [
        ...short(this.sheetCount + this.newSheets.length / 3),
        ...data.subarray(2),
        ...added,
      ]),
    )
    return true
  }
  /** The last record before the texts, or before the end. */
  private beforeTexts(): number {
    const texts = this.records.findIndex(({ type }) => type === record.strings)
    return (texts >= 0 ? texts : this.records.length - 1) - 1
  }
  /** The last record that belongs to one: what it goes on in, and what says more of it. */
  private endOf(at: number): number {
    let last = at
    while ([record.goesOn, 0x894, 0x898].includes((this.records[last + 1]?.type ?? 0) as 0x3c)) last++
    return last
  }
  private finishTexts(): boolean {
    const { changes } = this
    const at = this.records.findIndex(({ type }) => type === record.strings)
    const texts = [...this.newTexts.keys()]
    // How texts are found by their places is not said again: programs find them without.
    const index = this.lastOf(record.stringIndex)
    if (at < 0) {
      if (!texts.length) return true
      const [first, ...others] = textsAsRecords(texts, mostInRecord - 8)
      const counts = [...short(this.uses), 0, 0, ...short(texts.length), ...short(texts.length >>> 16)]
      changes.putBehind(
        this.beforeTexts(),
        written(record.strings, [...counts, ...first!]),
        ...others.map((data) => written(record.goesOn, data)),
      )
      return true
    }
    if (!texts.length) return true
    const data = this.records[at]!.data.slice()
    const view = viewOf(data)
    const counts = countsOf(data)
    view.setUint32(0, counts.uses + this.uses, true)
    view.setUint32(4, counts.texts + texts.length, true)
    // What is counted and what is there may differ; numbers go by what is there.
    if (counts.texts !== this.globals.texts.length) return false
    let last = at
    while (this.records[last + 1]?.type === record.goesOn) last++
    // Where there is none, the first one stands in the record itself.
    const alone = counts.texts === 0
    const pieces = textsAsRecords(texts, alone ? mostInRecord - 8 : mostInRecord)
    const first = alone ? pieces.shift()! : data.subarray(8)
    changes.instead.set(at, written(record.strings, [...data.subarray(0, 8), ...first]))
    changes.putBehind(last, ...pieces.map((more) => written(record.goesOn, more)))
    for (let one = index; one >= 0; one = this.records[one + 1]?.type === record.goesOn ? one + 1 : -1)
      changes.instead.set(one, null)
    return true
  }
}

const sameBytes = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((byte, at) => byte === b[at])

/** [MS-OSHARED] §2.4.3. */
export function sumOf(pieces: readonly Uint8Array[]): number {
  const table = Array.from({ length: 256 }, (_, index) => {
    let value = index << 24
    for (let bit = 0; bit < 8; bit++) value = value & 0x80000000 ? (value << 1) ^ 0xaf : value << 1
    return value & 0xffff
  })
  let sum = 0
  for (const piece of pieces) for (const byte of piece) sum = (sum << 8) ^ table[((sum >>> 24) ^ byte) & 0xff]!
  return sum >>> 0
}
